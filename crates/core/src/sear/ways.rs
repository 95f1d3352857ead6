//! The ways among which the best finish is found: each temperature and number of turns, from both ends of the pause.

use super::Proposal;
use super::best::{AIR_STEP_S, Aim, End, Search};
use super::pattern::Pattern;
use crate::figures::searing;
use crate::heat::HeatError;

/// Of what a band's worth is, what a coarse look may be wrong by: what is as much over the line may be under it.
const COARSELY: f64 = 0.33;
/// Of it, what is taken for as thin: to a third of a millimetre, as it is said.
const NEARLY: f64 = 1.03;
/// So many are looked at finely.
const SETTLED: usize = 3;

/// The thinnest band of those that end nearest to what is wanted and keep most of what is asked of the faces.
fn thinnest(all: &[Proposal]) -> &Proposal {
    let key = |p: &Proposal| (p.tenths_astray() as i64, u8::MAX - p.kept());
    let order = |a: &&Proposal, b: &&Proposal| key(a).cmp(&key(b)).then(a.band_mm.total_cmp(&b.band_mm));
    all.iter().min_by(order).expect("one at least")
}

/// The soonest; of two alike the one on the gentler hearth.
fn soonest(all: &[Proposal]) -> &Proposal {
    const SAME_S: f64 = 30.0;
    const SAME: f64 = 0.05;
    let soonest = all.iter().map(|p| p.all_s).fold(f64::INFINITY, f64::min);
    let soon = all.iter().filter(|p| p.all_s <= soonest + SAME_S.min(SAME * soonest));
    soon.min_by_key(|p| (p.hearth_c.map(|c| c.value() as i64), p.pattern.times)).unwrap_or(&all[0])
}

/// One temperature and so many turns: with the pause as short as will do, and as long, where that is thinner.
struct Way {
    soon: Proposal,
    late: Option<Proposal>,
}

impl Way {
    /// The end with the thinner band.
    fn thin(&self) -> &Proposal {
        self.late.as_ref().filter(|late| late.band_mm < self.soon.band_mm).unwrap_or(&self.soon)
    }
}

impl Search<'_> {
    /// Over every temperature turned once, then turned twice where the band came out thinnest, each with the pause as short
    /// and, where that makes it thinner, as long as will do.
    pub(super) fn best(&self) -> Result<Proposal, HeatError> {
        let ways = self.ways()?;
        let worth_mm = searing().band_worth_mm.value;
        let ends: Vec<Proposal> = ways.iter().map(|w| w.thin().clone()).collect();
        let thinnest = thinnest(&ends);
        // As near to what is asked as that one, but for the band.
        let close = |w: &&Way| {
            let end = w.thin();
            end.tenths_astray() <= thinnest.tenths_astray()
                && end.kept() >= thinnest.kept()
                && end.band_mm <= thinnest.band_mm + (1.0 + COARSELY) * worth_mm
        };
        let mut near: Vec<&Way> = ways.iter().filter(close).collect();
        near.sort_by(|a, b| a.thin().band_mm.total_cmp(&b.thin().band_mm));
        let (mut line_mm, mut settled) = (f64::INFINITY, Vec::new());
        for way in near.into_iter().take(SETTLED) {
            // What takes longer even with the least pause is not sooner.
            let soonest_s = settled.iter().map(|p: &Proposal| p.all_s).fold(f64::INFINITY, f64::min);
            let later = way.soon.all_s >= soonest_s;
            if later && way.thin().band_mm > thinnest.band_mm + 0.5 * worth_mm {
                continue;
            }
            let end = self.thin_end(way)?;
            line_mm = line_mm.min(end.band_mm + NEARLY * worth_mm);
            settled.extend(self.settled(way, end, line_mm)?);
            settled.retain(|p| p.band_mm <= line_mm);
        }
        Ok(soonest(&settled).clone())
    }

    /// What is looked at, coarsely.
    fn ways(&self) -> Result<Vec<Way>, HeatError> {
        let mut soon: Vec<Proposal> = Vec::new();
        let over_mm = (1.0 + COARSELY) * searing().band_worth_mm.value;
        for c in &self.may.hearths_c {
            let near = soon.last().map(|p| p.pattern);
            soon.push(self.landing(*c, self.plain(near), near, End::Soon)?);
            // A colder hearth takes longer, and its heat goes deeper: beyond the line the next is farther beyond it.
            let (best, last) = (thinnest(&soon), &soon[soon.len() - 1]);
            if best.lands()
                && last.lands()
                && last.kept() >= best.kept()
                && last.band_mm > best.band_mm + over_mm
            {
                break;
            }
        }
        // A thick piece gives off little while it hangs, and its face dries: there a longer pause is worth looking at.
        let of = thinnest(&soon);
        let late = |soon: &Proposal, near: Pattern| -> Result<Option<Proposal>, HeatError> {
            let found = self.landing(soon.hearth_c, near, Some(near), End::Late)?;
            let better = found.lands() && found.brown && found.pattern.pause_s > soon.pattern.pause_s;
            Ok(Some(found).filter(|_| better))
        };
        let first = late(of, of.pattern)?.filter(|p| p.band_mm < of.band_mm);
        let near = first.as_ref().map(|p| p.pattern);
        let (of, within_mm) = ((of.hearth_c, of.pattern), of.band_mm + 0.5 * searing().band_worth_mm.value);
        let both = |soon: Proposal| -> Result<Way, HeatError> {
            if (soon.hearth_c, soon.pattern) == of {
                return Ok(Way { soon, late: first.clone() });
            }
            // Only what may come out as thin is worth it.
            let near = near.filter(|_| soon.band_mm <= within_mm || soon.pattern.times > 1);
            let near = near.map(|near| Pattern { times: soon.pattern.times, ..near });
            let late = near.map(|near| late(&soon, near)).transpose()?.flatten();
            Ok(Way { soon, late })
        };
        let mut ways: Vec<Way> = soon.into_iter().map(both).collect::<Result<_, _>>()?;
        if self.may.turns > 1 {
            ways.push(both(self.landing(of.0, Pattern { times: 2, ..of.1 }, Some(of.1), End::Soon)?)?);
        }
        Ok(ways)
    }

    /// The end of a way at which its band is thinnest, looked at finely.
    fn thin_end(&self, way: &Way) -> Result<Proposal, HeatError> {
        let Some(late) = &way.late else { return self.refined(&way.soon) };
        let (quick, fine) = (self.quick(late.hearth_c), self.at(late.hearth_c));
        let mut now = self.finely(&fine, (Aim::Best, late.pattern))?;
        // A tenth of a kelvin is minutes here: as long as will do by what the fine look says.
        let off_k = now.off_k - late.off_k;
        let set = self.paused(&quick, late.pattern, Some(late.pattern.pause_s), (off_k, End::Late))?;
        // A step more than the coarse look says, as far as its clock allows, and back from there.
        let pause_s = (set.pause_s + AIR_STEP_S).min(self.may.pause_most_s);
        let mut set = self.in_time(Pattern { pause_s, ..set });
        for _ in 0..3 {
            if set.pause_s == now.pattern.pause_s {
                break;
            }
            let tried = self.finely(&fine, (Aim::Best, self.browned(&quick, &set, Some(set.face_s))?))?;
            if tried.lands() && tried.brown && (tried.band_mm < now.band_mm || !now.lands()) {
                now = tried;
                break;
            }
            set.pause_s = (set.pause_s - AIR_STEP_S).max(0.0);
        }
        // Where fewer seconds would leave it too cold, with a little less of a pause as well.
        for _ in 0..2 {
            let pause_s = (now.pattern.pause_s - AIR_STEP_S).max(0.0);
            let less = self.facing(Pattern { pause_s, ..now.pattern }, now.pattern.face_s - 1.0);
            let tried = self.fine(&fine, (Aim::Best, less))?;
            if !(tried.lands() && tried.brown && tried.band_mm < now.band_mm) {
                break;
            }
            now = tried;
        }
        Ok(now)
    }

    /// The soonest of a way whose band is within the line, between its ends; `thin` is the thinner of them.
    fn settled(&self, way: &Way, thin: Proposal, line_mm: f64) -> Result<Option<Proposal>, HeatError> {
        if thin.band_mm > line_mm {
            return Ok(None);
        }
        let will_do = |p: &Proposal| p.lands() && p.brown && p.band_mm <= line_mm;
        // What is far over the line when looked at coarsely is over it.
        let far = way.soon.band_mm > line_mm + searing().band_worth_mm.value;
        if way.late.is_none() || !far {
            let soon = self.refined(&way.soon)?;
            if way.late.is_none() || will_do(&soon) {
                return Ok(Some(soon));
            }
        }
        let (quick, fine) = (self.quick(thin.hearth_c), self.at(thin.hearth_c));
        let mut short = (way.soon.pattern.pause_s, way.soon.band_mm);
        let mut now = thin;
        for round in 0..6 {
            // The band falls nearly in a straight line of the pause, where it is short; else the ways between are halved.
            let long_s = now.pattern.pause_s;
            let along = ((short.1 - line_mm) / (short.1 - now.band_mm)).clamp(0.0, 1.0);
            let along = if round % 2 == 1 { 0.5 } else { along };
            let pause_s = ((short.0 + along * (long_s - short.0)) / AIR_STEP_S).ceil() * AIR_STEP_S;
            let pause_s = pause_s.min(long_s - AIR_STEP_S).max(short.0 + AIR_STEP_S);
            if pause_s <= short.0 || pause_s >= long_s {
                break;
            }
            let near = now.pattern;
            let hung = self.browned(&quick, &Pattern { pause_s, ..near }, Some(near.face_s))?;
            let tried = self.finely(&fine, (Aim::Best, hung))?;
            if will_do(&tried) {
                now = tried;
            } else {
                short = (pause_s, tried.band_mm.max(line_mm));
            }
        }
        Ok(Some(now))
    }
}
