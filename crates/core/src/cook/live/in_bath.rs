//! A piece in the bath.

use jiff::Timestamp;

use super::mend::Mending;
use super::next::{Choice, choose};
use super::simulated::{Around, Ran};
use super::{Fault, Live, LiveRibbon, Next, Probed, Pull};
use crate::bath::{Heat, WaterHeat};
use crate::cook::Stage;
use crate::figures::{bench, cooling};
use crate::heat::HeatError;
use crate::plan::{Finishing, Pieces, Plan, Stretch, StretchKind, bands, horizon};
use crate::safety::{Level, Verdict};
use crate::units::{Kelvin, Minutes};

/// A piece in the bath.
pub(super) struct InBath<'a> {
    pub(super) plan: &'a Plan,
    pub(super) planned_min: Minutes,
    pub(super) sim: &'a Ran<'a>,
    pub(super) bath_min: Minutes,
    pub(super) around: &'a Around<'a>,
}

impl InBath<'_> {
    /// When it is to be pulled, of all minutes the verdict allows from now on.
    pub(super) fn choice(&self) -> Choice {
        let allowed = self.sim.allowed(self.bath_min);
        choose(&allowed, self.sim.through_min(), self.planned_min, self.bath_min)
    }

    /// Since when it is to be pulled, of a choice that says now: the minute that would have been chosen from the beginning.
    fn due_since(&self, choice: Choice) -> Option<Minutes> {
        let Choice::Pull { at, .. } = choice else { return None };
        let allowed = self.sim.allowed(Minutes::ZERO);
        match choose(&allowed, self.sim.through_min(), self.planned_min, Minutes::ZERO) {
            _ if at > self.bath_min => None,
            Choice::Pull { at: first, .. } => Some(first.min(self.bath_min)),
            Choice::Never => Some(self.bath_min),
        }
    }

    /// At its best until, in the piece's own minutes.
    fn best_until(&self) -> Minutes {
        self.around.clock.minute(
            super::later(self.around.dropped, self.plan.best_until.fast).unwrap_or(self.around.dropped),
        )
    }

    pub(super) fn live(
        &self,
        (pieces, finishing): (&Pieces<'_>, &Finishing),
        probed: Option<&Probed>,
        now: Timestamp,
    ) -> Result<Live, HeatError> {
        let verdict = self.sim.run.quick_verdict_at(self.bath_min);
        let choice = self.choice();
        let fault = self.fault(choice, now);
        let mending = Mending { bath: self, pieces, finishing, probed, now };
        let wants_mending = fault.is_some_and(|f| !matches!(f, Fault::Falling { .. }));
        let mend = if wants_mending { mending.mend(choice)? } else { None };
        let (next, next_min) = self.next(&verdict, choice);
        let (mut next, mut next_at) = (next, next_min.map(|m| self.around.clock.instant(m)));
        let mut pull_at = match choice {
            Choice::Pull { at, .. } => self.around.clock.instant(at),
            Choice::Never => self.around.clock.instant(self.planned_min.max(self.bath_min)),
        };
        let spoiled = self.sim.is_past_mending(self.bath_min) && verdict.level == Level::Refused;
        if matches!(fault, Some(Fault::Unwatched { .. })) && choice == Choice::Never {
            // What nobody knows is found out before anything is thrown away for it.
            (next, next_at) = (Next::Mend, None);
        } else if let Some(mend) = mend.as_ref().filter(|_| !spoiled && self.is_better_mended(choice)) {
            next = Next::Mend;
            // At once where every minute costs dinner another: a time further off would read as time to spare.
            next_at = mend.keeps_dinner_by;
            pull_at = mend.pull_at;
        } else if choice == Choice::Never {
            next_at = None;
            next = if spoiled {
                Next::ThrowAway(Box::new(verdict.clone()))
            } else {
                Next::NotHere { raise_to: mending.raise_to()? }
            };
        }
        let at = |min: Option<Minutes>| min.map(|m| self.around.clock.instant(m));
        let pulls = matches!(next, Next::Pull(_));
        // Pulled later than that as it is, it is past its best whenever it comes out: no time to go by.
        let best = super::later(self.around.dropped, self.plan.best_until.fast);
        let best_until = best.filter(|best| pull_at <= now || pull_at < *best);
        Ok(Live {
            next_at,
            due_since: at(self.due_since(choice).filter(|_| pulls)),
            through_at: at(self.sim.through_min()),
            pasteurised_at: at(self.sim.pasteurised_min()),
            best_until,
            clock_out: at(self.sim.refused_min()),
            verdict: Some(verdict),
            fault,
            mend,
            ..Live::blank(Stage::InBath, pull_at, next)
        })
    }

    /// Whether the water is to be mended rather than the piece pulled: it never becomes safe as it is, or not as wanted.
    fn is_better_mended(&self, choice: Choice) -> bool {
        let through = self.sim.through_min();
        match choice {
            Choice::Never => true,
            // What is warm enough now is pulled; what is not yet is better mended.
            Choice::Pull { at, .. } => through.is_none_or(|t| t > at),
        }
    }

    /// What is wrong with its water.
    fn fault(&self, choice: Choice, now: Timestamp) -> Option<Fault> {
        let water = self.around.water.last();
        let by_hand = water.falls.as_ref().is_some_and(|f| f.heat != Heat::Heater);
        let read = water.readings.last();
        if by_hand {
            let credit = bench().gap_credit_min.minutes();
            let unread = read.is_none_or(|r| Minutes::between(r.at, now) > credit);
            if unread {
                return Some(Fault::Unread { since: read.map(|r| r.at) });
            }
            // It falls, as it must; that is a fault once the piece does not get there on what is left.
            let short = self.is_better_mended(choice);
            return read.filter(|_| short).map(|r| Fault::Cools { read: r.celsius, at: r.at });
        }
        match water.heat() {
            WaterHeat::Gone { since, from, .. } => return Some(Fault::NoHeat { since, from }),
            _ if water.silent_since(now).is_some() => {
                return water.silent_since(now).map(|since| Fault::Silent { since });
            }
            WaterHeat::Falls { since, from } => return Some(Fault::Falling { since, from }),
            WaterHeat::On => {}
        }
        if let Some((since, until)) = water.unseen() {
            return Some(Fault::Unwatched { since, until });
        }
        let read = read?;
        let soon = Minutes::between(read.at, now) <= cooling().log_gap_min.minutes() * 3.0;
        let set = water.setting_at(read.at)?;
        let by = set - read.celsius;
        // Food that went in, a lid that was off: it may be coming back.
        let coming_back = water
            .readings
            .iter()
            .rev()
            .find(|r| water.agrees(r))
            .is_some_and(|r| Minutes::between(r.at, read.at) <= bench().usual_dip_min.minutes());
        let rises = read.reported
            && water
                .readings
                .iter()
                .rev()
                .nth(5)
                .is_some_and(|b| read.celsius - b.celsius > Kelvin::new(0.2));
        let colder = !water.agrees(read) && !coming_back && !rises && (soon || read.reported);
        colder.then_some(Fault::Colder { at: read.at, read: read.celsius, by })
    }

    /// What to do next, and at which of the piece's minutes.
    fn next(&self, verdict: &Verdict, choice: Choice) -> (Next, Option<Minutes>) {
        let now = self.bath_min;
        let Choice::Pull { at, until, by_limit } = choice else {
            return (Next::NotHere { raise_to: None }, None);
        };
        let through = self.sim.through_min();
        let is_through = |at: Minutes| through.is_some_and(|t| t <= at);
        let limit = |until: Minutes| {
            let whole = until.whole_before();
            if whole > now { whole } else { now }
        };
        if at > now && !by_limit {
            let served_now = verdict.level != Level::Refused;
            let level = self.sim.run.quick_verdict_at(at).level;
            let pasteurised = matches!(level, Level::Pasteurized | Level::Exempt);
            // The first minute it is allowed from, in the stretch it is pulled in.
            let from =
                self.sim.allowed(now).into_iter().find(|(a, b)| *a <= at && at < *b).map_or(at, |w| w.0);
            let pull = match through {
                _ if !served_now && from > through.unwrap_or(Minutes::ZERO) => {
                    Pull::SafeIn { more: from - now, spare: at - from, pasteurised }
                }
                Some(t) if t > now => Pull::ThroughIn { more: t - now, spare: at - t },
                Some(_) => Pull::Waits,
                None => Pull::NeverThrough,
            };
            return (Next::Pull(pull), Some(at));
        }
        match until {
            Some(until) => {
                let by = limit(until);
                let left = (until - now).max(Minutes::ZERO);
                (Next::Pull(Pull::By { left, through: is_through(by) }), Some(by))
            }
            None => {
                let best_left = self.best_until() - now;
                let pull = match through {
                    Some(t) if t <= now && best_left > Minutes::ZERO => Pull::BestFor(best_left),
                    Some(t) if t <= now => Pull::PastBest,
                    _ => Pull::NeverThrough,
                };
                (Next::Pull(pull), None)
            }
        }
    }

    /// The ribbon from the real drop: what was afloat is still warming. It ends at the pull. From the last word of a device
    /// that fell silent on it is unknown, but for what is refused however the water was.
    pub(super) fn ribbon(&self, pulled: bool, fault: Option<Fault>) -> LiveRibbon {
        let slow = &self.sim.run;
        let best = self.best_until();
        let pull = match self.choice() {
            Choice::Pull { at, .. } if !pulled => at,
            _ => self.planned_min,
        };
        let usual = horizon(pull, best, self.sim.pasteurised_min(), self.sim.refused_min());
        let ends = if pulled { self.bath_min } else { usual.max(self.bath_min) };
        let through = self.sim.through_min().unwrap_or(Minutes::NEVER);
        let mut bands = bands(slow, through, best, ends);
        let drop = self.around.dropped;
        let on_the_wall = |m: Minutes| Minutes::between(drop, self.around.clock.instant(m));
        for band in &mut bands {
            band.from_min = on_the_wall(band.from_min);
            band.until_min = on_the_wall(band.until_min);
        }
        if let Some(
            Fault::Silent { since } | Fault::Unread { since: Some(since) } | Fault::Unwatched { since, .. },
        ) = fault
        {
            bands = unknown_from(Minutes::between(drop, since).max(Minutes::ZERO), bands);
        }
        LiveRibbon { drop, bands, horizon_min: on_the_wall(ends) }
    }
}

/// The same stretches, unknown from then on but where they are refused.
fn unknown_from(seen: Minutes, bands: Vec<Stretch>) -> Vec<Stretch> {
    let mut all: Vec<Stretch> = Vec::new();
    for band in bands {
        let known = band.kind == StretchKind::Refused || band.until_min <= seen;
        if known {
            all.push(band);
            continue;
        }
        if band.from_min < seen {
            all.push(Stretch { until_min: seen, ..band.clone() });
        }
        let from_min = band.from_min.max(seen);
        match all.last_mut().filter(|last| last.kind == StretchKind::Unknown) {
            Some(last) => last.until_min = band.until_min,
            None => all.push(Stretch { from_min, until_min: band.until_min, kind: StretchKind::Unknown }),
        }
    }
    all
}
