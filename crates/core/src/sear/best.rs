//! The finish that does least to the inside: an optimiser over the model.

use std::cell::RefCell;

use super::pattern::{After, Pattern, Pause};
use super::setup::Setup;
use super::{Face, Grid, May, Seared};
use crate::figures::searing;
use crate::heat::HeatError;
use crate::units::Celsius;

/// What a finish is to reach.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Wanted {
    /// The middle at its warmest, °C.
    pub centre_c: f64,
    /// Browning index of the paler face, at least.
    pub browning: f64,
    /// Hottest a face may be, °C.
    pub face_c: f64,
    /// From the pull to the plate, at most, seconds; none where no clock runs.
    pub within_s: Option<f64>,
    /// Its edges, and its rest.
    pub after: After,
}

impl Wanted {
    /// What is ever hotter than this is the band, °C: what is grey, and of what is wanted as hot as that, somewhat more.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Wanted};
    /// let wanted = |centre_c| Wanted { centre_c, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
    /// assert_eq!((wanted(54.0).band_above_c(), wanted(70.0).band_above_c()), (70.0, 75.0));
    /// ```
    #[must_use]
    pub fn band_above_c(&self) -> f64 {
        band_above_c(self.centre_c)
    }
}

/// What is ever hotter than this is the band of a piece whose middle is wanted at so much.
pub(super) fn band_above_c(centre_c: f64) -> f64 {
    searing().overcooked_c.value.max(centre_c + searing().band_over_k.value)
}

/// What a proposal is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Aim {
    /// The middle where it is wanted, then browned as wanted, then the thinnest band, then the fewest minutes.
    Best,
    /// The least time.
    Fast,
    /// Hung to cool, and no hurry.
    Relaxed,
}

/// A finish that was looked for.
#[derive(Debug, Clone, PartialEq)]
pub struct Proposal {
    /// What for.
    pub aim: Aim,
    /// How.
    pub pattern: Pattern,
    /// How hot the hearth is; none of what has no temperature.
    pub hearth_c: Option<Celsius>,
    /// What comes of it.
    pub done: Seared,
    /// Thicker of the bands, mm.
    pub band_mm: f64,
    /// From the pull to the plate, seconds.
    pub all_s: f64,
    /// How far the middle ends from what is wanted, K.
    pub off_k: f64,
    /// It browns as much as is wanted.
    pub brown: bool,
    /// No face gets hotter than wanted, nor darker.
    pub unburnt: bool,
}

impl Proposal {
    fn of(setup: &Setup, search: &Search<'_>, aim: Aim, pattern: Pattern) -> Result<Self, HeatError> {
        let (done, wanted) = (setup.finish(&pattern)?, search.wanted);
        let band_mm = done.thicker_band_mm(wanted.band_above_c());
        let off_k = done.peak_c - wanted.centre_c;
        let most = |of: fn(&Face) -> f64| done.faces.iter().map(of).fold(0.0, f64::max);
        let brown = done.paler().browning >= wanted.browning;
        let unburnt = most(|f| f.peak_c) <= wanted.face_c && most(|f| f.browning) <= search.may.browning_most;
        let all_s = pattern.all_s(setup.hearth.heats);
        let hearth_c = setup.heated_c();
        Ok(Self { aim, pattern, hearth_c, done, band_mm, all_s, off_k, brown, unburnt })
    }

    /// How much farther than it should the middle ends from what is wanted, K.
    fn astray_k(&self) -> f64 {
        (self.off_k.abs() - searing().lands_within_k.value).max(0.0)
    }

    /// That in tenths of a kelvin, as it is compared.
    fn tenths_astray(&self) -> f64 {
        (self.astray_k() * 10.0).round()
    }

    /// How many of what is asked of its faces it keeps: browned, and not burnt.
    fn kept(&self) -> u8 {
        u8::from(self.brown) + u8::from(self.unburnt)
    }

    /// No farther from what is asked than another but, it may be, for the band.
    fn same_but_for_the_band(&self, other: &Self, kept: u8) -> bool {
        self.tenths_astray() <= other.tenths_astray() && self.kept() >= kept
    }

    /// The middle lands where it is wanted.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let pan = Hearth::named("iron-pan").expect("shipped");
    /// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(55.0), pan);
    /// let wanted = Wanted { centre_c: 55.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(120.0) };
    /// assert!(proposals(&setup, &wanted)?.iter().any(Proposal::lands));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn lands(&self) -> bool {
        self.astray_k() <= 0.0
    }

    /// It is this pattern on this hearth.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let answer = FinishForm::default().read(strip, &Given::default(), Units::default()).1.expect("usual").answer()?;
    /// assert!(answer.proposals[0].is(&answer.pattern, &answer.setup));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn is(&self, pattern: &Pattern, setup: &Setup) -> bool {
        self.pattern == *pattern && self.hearth_c == setup.heated_c()
    }
}

/// Longest on the heat a face, seconds.
const LONGEST_FACE_S: f64 = 420.0;
const MINUTE_S: f64 = 60.0;
/// To this a pause in air is said.
const AIR_STEP_S: f64 = 15.0;
/// Of what a band's worth is, what a coarse look may be wrong by: what is as much over the line may be under it.
const COARSELY: f64 = 0.33;
/// Of it, what is taken for as thin: to a third of a millimetre, as it is said.
const NEARLY: f64 = 1.03;
/// So many are looked at finely.
const SETTLED: usize = 3;
/// What was taken a little too lightly is done for so much longer.
const LIGHTLY: f64 = 1.04;

/// Where many are compared.
pub(super) const COARSE: Grid = Grid::SKETCH;

/// Something tried, and how far over what is aimed at it is.
pub(super) type Tried = (f64, f64);

/// Two or three ways to finish a piece at its hearth's temperature: the best, the fastest, and hung to cool. Those that would
/// be the same are left out.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(55.0), pan);
/// let wanted = Wanted { centre_c: 55.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(120.0) };
/// let all = proposals(&setup, &wanted)?;
/// let best = &all[0];
/// assert!(best.lands() && best.brown);
/// assert!(all.iter().all(|p| p.aim != Aim::Fast || p.all_s + 30.0 <= best.all_s));
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn proposals(setup: &Setup, wanted: &Wanted) -> Result<Vec<Proposal>, HeatError> {
    proposals_within(setup, wanted, &May::anything(setup.hearth, setup.hearth_c))
}

/// The same over all that may be changed: how hot, how long, how often turned, how long a pause. First of all the middle
/// ends within half a kelvin of what is wanted; then it browns as wanted; then its band is the thinnest, to a third of a
/// millimetre; then it takes the fewest minutes (`tests/proposals.rs` holds it against every one of a grid).
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// let setup = Setup::new(strip, Length::from_mm(12.0), Celsius::new(54.0), pan);
/// let wanted = Wanted { centre_c: 54.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
/// let may = May::of(strip, pan, (None, &fats()[0]), Pans::Unsaid);
/// let best = &proposals_within(&setup, &wanted, &may)?[0];
/// // A thin steak: a hotter pan, and for less long.
/// assert!(best.lands() && best.hearth_c > pan.c && best.pattern.face_s < 45.0);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn proposals_within(setup: &Setup, wanted: &Wanted, may: &May) -> Result<Vec<Proposal>, HeatError> {
    beside(&best_within(setup, wanted, may)?, setup, wanted, may)
}

/// The best, and what else is offered beside it.
pub(super) fn beside(
    found: &Proposal,
    setup: &Setup,
    wanted: &Wanted,
    may: &May,
) -> Result<Vec<Proposal>, HeatError> {
    let search = Search::new(setup, wanted, may);
    let mut all = vec![found.clone()];
    // What saves no half a minute is no other offer.
    const WORTH_S: f64 = 30.0;
    all.extend(search.fast(found)?.filter(|fast| fast.all_s + WORTH_S <= found.all_s));
    all.extend(search.relaxed(found)?);
    let mut kept: Vec<Proposal> = Vec::new();
    for p in all {
        if !kept.iter().any(|k| k.pattern == p.pattern && k.hearth_c == p.hearth_c) {
            kept.push(p);
        }
    }
    Ok(kept)
}

/// The first of [`proposals_within`] alone.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// # let setup = Setup::new(strip, Length::from_mm(25.0), Celsius::new(54.0), pan);
/// # let wanted = Wanted { centre_c: 54.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
/// let may = May::anything(pan, None);
/// assert_eq!(best_within(&setup, &wanted, &may)?, proposals_within(&setup, &wanted, &may)?[0]);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn best_within(setup: &Setup, wanted: &Wanted, may: &May) -> Result<Proposal, HeatError> {
    Search::new(setup, wanted, may).best()
}

/// The thinnest band of those that end nearest to what is wanted and keep most of what is asked of the faces.
fn thinnest(all: &[Proposal]) -> &Proposal {
    let key = |p: &Proposal| (p.tenths_astray() as i64, u8::MAX - p.kept());
    let order = |a: &&Proposal, b: &&Proposal| key(a).cmp(&key(b)).then(a.band_mm.total_cmp(&b.band_mm));
    all.iter().min_by(order).expect("one at least")
}

/// How many of what is asked of the faces the nearest of them keep, at most: browned, and not burnt.
fn most_kept(all: &[Proposal]) -> u8 {
    let nearest = all.iter().map(Proposal::tenths_astray).fold(f64::INFINITY, f64::min);
    all.iter().filter(|p| p.tenths_astray() <= nearest).map(Proposal::kept).max().unwrap_or_default()
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

/// Which end of the half kelvin the pause brings the middle to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum End {
    /// The warm one: the pause is as short as will do.
    Soon,
    /// The cold one: it is as long as will do, and a drier face browns in less time.
    Late,
}

impl End {
    /// How far the middle is to end from what is wanted, K.
    fn aim_k(self) -> f64 {
        searing().lands_within_k.value * if self == Self::Soon { 0.95 } else { -0.98 }
    }
}

struct Search<'a> {
    setup: &'a Setup,
    wanted: &'a Wanted,
    may: &'a May,
    /// What was looked at finely: nothing is simulated twice.
    looked: RefCell<Vec<Proposal>>,
}

impl<'a> Search<'a> {
    const fn new(setup: &'a Setup, wanted: &'a Wanted, may: &'a May) -> Self {
        Self { setup, wanted, may, looked: RefCell::new(Vec::new()) }
    }

    /// A pattern on its hearth, looked at finely.
    fn fine(&self, fine: &Setup, (aim, pattern): (Aim, Pattern)) -> Result<Proposal, HeatError> {
        let there = self.looked.borrow().iter().find(|p| p.is(&pattern, fine)).cloned();
        if let Some(there) = there {
            return Ok(Proposal { aim, ..there });
        }
        let found = Proposal::of(fine, self, aim, pattern)?;
        self.looked.borrow_mut().push(found.clone());
        Ok(found)
    }

    /// The piece on its hearth at a temperature.
    fn at(&self, hearth_c: Option<Celsius>) -> Setup {
        Setup { hearth_c, ..self.setup.clone() }
    }

    /// The same, solved less finely.
    fn quick(&self, hearth_c: Option<Celsius>) -> Setup {
        Setup { grid: COARSE, ..self.at(hearth_c) }
    }

    /// Over every temperature turned once, then turned twice where the band came out thinnest, each with the pause as short
    /// and, where that makes it thinner, as long as will do.
    fn best(&self) -> Result<Proposal, HeatError> {
        let ways = self.ways()?;
        let worth_mm = searing().band_worth_mm.value;
        let ends: Vec<Proposal> = ways.iter().map(|w| w.thin().clone()).collect();
        let (thinnest, kept) = (thinnest(&ends), most_kept(&ends));
        let close = |w: &&Way| {
            let end = w.thin();
            end.same_but_for_the_band(thinnest, kept)
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
        let mut set = self.paused(&quick, late.pattern, Some(late.pattern.pause_s), (off_k, End::Late))?;
        // A step more than the coarse look says, and back from there.
        set.pause_s = (set.pause_s + AIR_STEP_S).min(self.may.pause_most_s);
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

    /// A pattern looked at finely, seared for as long as it takes to brown and no longer.
    fn finely(&self, fine: &Setup, (aim, pattern): (Aim, Pattern)) -> Result<Proposal, HeatError> {
        let of = |pattern| self.fine(fine, (aim, pattern));
        let mut now = of(pattern)?;
        for _ in 0..3 {
            if now.brown {
                break;
            }
            // What the search took a little too lightly.
            now = of(self.in_time(self.facing(now.pattern, now.pattern.face_s * LIGHTLY)))?;
        }
        // What it took a little too heavily.
        for _ in 0..3 {
            let shorter = self.facing(now.pattern, now.pattern.face_s / LIGHTLY - 0.5);
            if shorter.face_s >= now.pattern.face_s {
                break;
            }
            let tried = of(shorter)?;
            if !tried.brown || (now.lands() && !tried.lands()) {
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

    /// Each face once, at once, for as long as is near.
    fn plain(&self, near: Option<Pattern>) -> Pattern {
        let face_s = near.map_or(45.0_f64, |p| p.face_s).max(self.may.least_s);
        self.facing(
            Pattern { pause: Pause::Air, pause_s: 0.0, face_s, times: 1, after: self.wanted.after },
            face_s,
        )
    }

    /// So long on a face; its edges with it, where they are done as long.
    fn facing(&self, pattern: Pattern, face_s: f64) -> Pattern {
        let face_s = face_s.max(self.may.least_s).ceil();
        let edge_s = if self.may.edges_as_faces { face_s } else { pattern.after.edge_s };
        Pattern { face_s, after: After { edge_s, ..pattern.after }, ..pattern }
    }

    /// The browning index of a pattern: only the heat matters to its faces.
    fn index(&self, setup: &Setup, pattern: &Pattern, face_s: f64) -> Result<f64, HeatError> {
        let after = After { rest_s: 0.0, edge_s: 0.0, ..pattern.after };
        let tried = Pattern { face_s, after, ..*pattern };
        let sear = setup.sear(&tried, setup.hot());
        Ok(crate::sear::Sear { plate_s: 0.0, ..sear }.run()?.paler().browning)
    }

    /// The shortest time on the heat that browns it as wanted, to a second; looked for near a guess, where there is one.
    fn browned(&self, quick: &Setup, pattern: &Pattern, near_s: Option<f64>) -> Result<Pattern, HeatError> {
        const ROUNDS: usize = 6;
        const NEXT_TO_NONE: f64 = 1e-6;
        // How far over what is wanted it is, in powers: nearly a straight line of the seconds.
        let over = |s: f64| -> Result<f64, HeatError> {
            Ok(((self.index(quick, pattern, s)? + NEXT_TO_NONE) / (self.wanted.browning + NEXT_TO_NONE)).ln())
        };
        let least = self.may.least_s;
        let (mut low, mut high) = near_s.map_or((least, LONGEST_FACE_S), |s| (0.8 * s, 1.25 * s));
        low = low.max(least);
        high = high.max(low + 1.0);
        let (mut under, mut above) = (over(low)?, over(high)?);
        // A guess that does not hold.
        if under >= 0.0 && low > least {
            (low, under) = (least, over(least)?);
        }
        if above < 0.0 && high < LONGEST_FACE_S {
            (high, above) = (LONGEST_FACE_S, over(LONGEST_FACE_S)?);
        }
        if under >= 0.0 {
            return Ok(self.facing(*pattern, low));
        }
        for _ in 0..ROUNDS {
            if high - low <= 1.0 || above < 0.0 {
                break;
            }
            // Far apart it is no straight line: there the ratio is halved.
            let along = -under / (above - under);
            let tried = if high > 2.0 * low { (low * high).sqrt() } else { low + along * (high - low) };
            let tried = tried.clamp(low + 0.5, high - 0.5);
            let at = over(tried)?;
            if at >= 0.0 { (high, above) = (tried, at) } else { (low, under) = (tried, at) }
        }
        Ok(self.facing(*pattern, high))
    }

    /// The pause that brings the middle to an end of what is near enough; `off_k` is what is added to what the coarse search
    /// finds.
    fn paused(
        &self,
        quick: &Setup,
        pattern: Pattern,
        near_s: Option<f64>,
        (off_k, end): (f64, End),
    ) -> Result<Pattern, HeatError> {
        let longest = match pattern.pause {
            Pause::Air => self.may.pause_most_s,
            Pause::Ice => self.may.ice_most_s,
        };
        let heats = self.setup.hearth.heats;
        let spare = self.wanted.within_s.map(|s| s - Pattern { pause_s: 0.0, ..pattern }.all_s(heats));
        let longest = spare.map_or(longest, |s| longest.min(s.max(0.0)));
        let aimed = self.wanted.centre_c + end.aim_k();
        let over = |pause_s: f64| -> Result<f64, HeatError> {
            Ok(quick.finish(&Pattern { pause_s, ..pattern })?.peak_c + off_k - aimed)
        };
        let step = if pattern.pause == Pause::Ice { 10.0 } else { AIR_STEP_S };
        let (mut low, mut high) = self.bounds(near_s, (longest, step), &over)?;
        let pause_s = if low.1 <= 0.0 {
            0.0
        } else if high.1 > 0.0 {
            longest
        } else {
            // The peak falls nearly in a straight line, but where it begins to: what is known there is halved every other time.
            let (rounds, near) = if end == End::Soon { (4, step) } else { (8, step / 4.0) };
            for round in 0..rounds {
                if high.0 - low.0 < near {
                    break;
                }
                let along = low.1 / (low.1 - high.1);
                let along = if end == End::Late && round % 2 == 1 { along.max(0.5) } else { along };
                let between = low.0 + (high.0 - low.0) * along;
                let tried = between.clamp(low.0 + 0.1 * (high.0 - low.0), high.0 - 0.1 * (high.0 - low.0));
                let at = over(tried)?;
                if at > 0.0 { low = (tried, at) } else { high = (tried, at) }
            }
            match end {
                End::Soon => low.0 + (high.0 - low.0) * low.1 / (low.1 - high.1),
                // It falls faster and faster: beyond what is known it would be too cold.
                End::Late => low.0,
            }
        };
        let steps = if end == End::Soon { (pause_s / step).ceil() } else { (pause_s / step).floor() };
        let pause_s = (steps * step).min(longest);
        // None at all is none in ice water either.
        let pause = if pause_s > 0.0 { pattern.pause } else { Pause::Air };
        Ok(Pattern { pause, pause_s, ..pattern })
    }

    /// A pause that is too short and one that is too long, with how far the middle is over what is aimed at: around a guess,
    /// where there is one that holds.
    fn bounds(
        &self,
        near_s: Option<f64>,
        (longest, step): (f64, f64),
        over: &dyn Fn(f64) -> Result<f64, HeatError>,
    ) -> Result<(Tried, Tried), HeatError> {
        if let Some(near) = near_s.filter(|near| *near > 2.0 * step && near + 2.0 * step < longest) {
            let (low, high) = (near - 2.0 * step, near + 2.0 * step);
            let around = ((low, over(low)?), (high, over(high)?));
            if around.0.1 > 0.0 && around.1.1 <= 0.0 {
                return Ok(around);
            }
        }
        Ok(((0.0, over(0.0)?), (longest, over(longest)?)))
    }

    /// With a pause that brings the middle to where it is wanted, browned as wanted; looked at coarsely.
    fn landing(
        &self,
        hearth_c: Option<Celsius>,
        pattern: Pattern,
        near: Option<Pattern>,
        end: End,
    ) -> Result<Proposal, HeatError> {
        let quick = self.quick(hearth_c);
        let near_pause = near.filter(|n| n.pause == pattern.pause).map(|n| n.pause_s);
        // A face that hung is dry and browns sooner; one out of ice water browns later.
        let hung = Pattern { pause_s: near_pause.unwrap_or_default(), ..pattern };
        let once = self.browned(&quick, &hung, near.map(|n| n.face_s))?;
        let first = self.paused(&quick, once, near_pause, (0.0, end))?;
        let mut pattern = self.browned(&quick, &first, Some(first.face_s))?;
        let mut found = None;
        for _ in 0..6 {
            pattern = self.paused(&quick, pattern, Some(pattern.pause_s), (0.0, end))?;
            let tried = Proposal::of(&quick, self, Aim::Best, pattern)?;
            let brown = tried.brown;
            found = Some(tried);
            if brown {
                break;
            }
            pattern = self.facing(pattern, pattern.face_s * LIGHTLY);
        }
        let found = found.expect("tried at least once");
        self.warmed(&quick, found)
    }

    /// Colder than wanted without any pause: a longer sear has to do it.
    fn warmed(&self, setup: &Setup, found: Proposal) -> Result<Proposal, HeatError> {
        if found.off_k >= 0.0 || found.lands() || found.pattern.pause_s > 0.0 {
            return Ok(found);
        }
        let each = if self.setup.hearth.heats.all_round() || self.wanted.after.other_s.is_some() {
            1.0
        } else {
            2.0
        };
        let spare_s = self.wanted.within_s.map_or(f64::INFINITY, |s| (s - found.all_s).max(0.0));
        let longest = found.pattern.face_s + spare_s / each;
        self.lengthened(setup, found, longest)
    }

    /// The same worked out finely, with its pause and its seconds set right by that.
    fn refined(&self, found: &Proposal) -> Result<Proposal, HeatError> {
        let fine = self.at(found.hearth_c);
        let of = |pattern| self.fine(&fine, (found.aim, pattern));
        let mut now = self.finely(&fine, (found.aim, found.pattern))?;
        let waits = now.pattern.pause_s;
        if !now.lands() && (now.off_k > 0.0 || waits > 0.0) {
            let quick = self.quick(found.hearth_c);
            let off_k = now.done.peak_c - quick.finish(&now.pattern)?.peak_c;
            let end = if now.off_k > 0.0 { End::Soon } else { End::Late };
            let set = self.paused(&quick, now.pattern, Some(waits), (off_k, end))?;
            let set = of(set)?;
            if set.off_k.abs() < now.off_k.abs() {
                now = set;
            }
        }
        self.warmed(&fine, now)
    }

    /// The same with as much less of a pause as the clock asks.
    fn in_time(&self, pattern: Pattern) -> Pattern {
        let over = self.wanted.within_s.map_or(0.0, |s| pattern.all_s(self.setup.hearth.heats) - s);
        Pattern { pause_s: (pattern.pause_s - over.max(0.0)).max(0.0), ..pattern }
    }

    /// Seared for longer, at most for `longest_s` a face, until the middle is where it is wanted: not burnt for that.
    fn lengthened(&self, setup: &Setup, from: Proposal, longest_s: f64) -> Result<Proposal, HeatError> {
        const ROUNDS: usize = 6;
        let (mut low, mut high) = (from.pattern.face_s, longest_s.min(LONGEST_FACE_S / 2.0));
        // Looked for coarsely, and worked out as finely as it came where that lands.
        let (aim, quick) = (from.aim, self.quick(from.hearth_c));
        let mut best = Proposal::of(&quick, self, aim, from.pattern)?;
        let start = best.pattern;
        for _ in 0..ROUNDS {
            if best.lands() || high - low < 2.0 {
                break;
            }
            let face_s = f64::midpoint(low, high).round();
            let tried = Proposal::of(&quick, self, aim, self.facing(best.pattern, face_s))?;
            if tried.off_k > 0.0 || (best.unburnt && !tried.unburnt) {
                high = face_s;
            } else {
                low = face_s;
            }
            if (tried.unburnt || !best.unburnt) && tried.off_k.abs() < best.off_k.abs() {
                best = tried;
            }
        }
        if best.pattern == start {
            return Ok(from);
        }
        let fine = Proposal::of(setup, self, aim, best.pattern)?;
        // What is burnt when looked at closely is not taken for it.
        Ok(if fine.unburnt || !from.unburnt { fine } else { from })
    }

    /// As little time as it takes: no pause, or as long in ice water as it needs.
    fn fast(&self, found: &Proposal) -> Result<Option<Proposal>, HeatError> {
        let (quick, near) = (self.quick(found.hearth_c), found.pattern);
        let once = self.browned(&quick, &Pattern { pause_s: 0.0, ..near }, Some(near.face_s))?;
        let at_once =
            Proposal { aim: Aim::Fast, ..Proposal::of(&self.at(found.hearth_c), self, Aim::Fast, once)? };
        if at_once.off_k <= searing().lands_within_k.value {
            return Ok(Some(at_once));
        }
        if self.may.ice_most_s <= 0.0 {
            return Ok(None);
        }
        let iced =
            self.landing(found.hearth_c, Pattern { pause: Pause::Ice, ..once }, Some(once), End::Soon)?;
        Ok(Some(Proposal { aim: Aim::Fast, ..self.refined(&iced)? }))
    }

    /// Hung for twenty minutes or more, then seared until the middle is back.
    fn relaxed(&self, found: &Proposal) -> Result<Option<Proposal>, HeatError> {
        let pause_s = searing().hang_from_min.value * MINUTE_S;
        let (fine, quick, heats) =
            (self.at(found.hearth_c), self.quick(found.hearth_c), self.setup.hearth.heats);
        let hung = Pattern { pause: Pause::Air, pause_s, ..found.pattern };
        let late = |p: &Pattern| self.wanted.within_s.is_some_and(|s| p.all_s(heats) > s);
        if self.may.pause_most_s < pause_s || late(&hung) {
            return Ok(None);
        }
        let browned = self.browned(&quick, &hung, Some(hung.face_s))?;
        if late(&browned) {
            return Ok(None);
        }
        let spare_s = self.wanted.within_s.map_or(f64::INFINITY, |s| s - browned.all_s(heats));
        let longest = browned.face_s + spare_s / if heats.all_round() { 1.0 } else { 2.0 };
        let hung = Proposal::of(&fine, self, Aim::Relaxed, browned)?;
        Ok(Some(self.lengthened(&fine, hung, longest.floor())?))
    }
}
