//! Where the water is going, after the last that is known of it.

use super::one::{OneBath, minutes_of_a_fall};
use super::{Ahead, Fill, JUMP_MIN, Knot, Mark, On, Run, at};
use crate::bath::unseen::LONGEST_GAP_MIN;
use crate::bath::{BathTrace, Falls, Heat, WaterHeat, WaterRead};
use crate::figures::{bench, cooling};
use crate::units::{Kelvin, Minutes};

impl OneBath<'_> {
    /// What is to come, after what is known.
    pub(super) fn to_come(&self, marks: &mut Vec<Mark>, ahead: Ahead) {
        let Some(known) = self.known() else { return };
        let going = self.going(marks, known);
        marks.retain(|m| m.min < known);
        let now = at(marks, known).unwrap_or(Mark {
            min: known,
            c: self.bath.falls.as_ref().map_or(cooling().room_c.value, |f| f.pool.air.room_c),
            off: 0.0,
            run: None,
        });
        marks.push(Mark { min: known, ..now });
        let from = known + JUMP_MIN;
        match ahead {
            Ahead::AsItGoes => marks.extend(going.into_iter().map(|m| Mark { min: m.min + from, ..m })),
            Ahead::Mended { at: when, celsius } => {
                let when = self.minute(when).max(from + JUMP_MIN);
                let mut until: Vec<Mark> = going
                    .iter()
                    .map(|m| Mark { min: m.min + from, ..*m })
                    .filter(|m| m.min < when - JUMP_MIN)
                    .collect();
                let last = at(&going, when - JUMP_MIN - from).unwrap_or(now);
                until.push(Mark { min: when - JUMP_MIN, ..last });
                marks.extend(until);
                let off = if self.bath.is_heated() { self.bath.error.value() } else { now.off };
                let run = Some(Run { number: self.runs + 1, set_c: Some(celsius.value() + off) });
                marks.push(Mark { min: when, c: celsius.value(), off, run });
            }
        }
        marks.dedup_by(|b, a| b.min <= a.min);
    }

    /// As it is going: minutes from now.
    pub(super) fn going(&self, marks: &[Mark], known: f64) -> Vec<Mark> {
        let flat = |m: Mark| vec![Mark { min: 0.0, ..m }];
        let Some(last) = self.knots.last() else { return Vec::new() };
        if let Some(falls) = self.bath.falls.as_ref().filter(|f| f.heat != Heat::Heater) {
            return self.going_by_hand(falls, last, marks, known);
        }
        let error = self.bath.error.value();
        let set = self.bath.settings.last().map(|s| s.1.value() - error);
        let held = self.held_c(set);
        let as_held = |c: f64| {
            let run = Run { number: self.runs, set_c: Some(c + error) };
            Mark { min: 0.0, c, off: error, run: Some(run) }
        };
        match self.heat {
            WaterHeat::Gone { per_min, .. } => return self.falls_on(last.mark, per_min, known),
            // It may come back at once: it is asked, and moves nothing.
            WaterHeat::Falls { .. } => return flat(as_held(held.unwrap_or(last.mark.c))),
            WaterHeat::On => {}
        }
        let silent = self.bath.silent_since(self.instant(known)).is_some();
        if last.on == On::Unseen && (silent || self.off_unread()) {
            // Nobody knows: as in any gap, to the end.
            let end = known + LONGEST_GAP_MIN;
            let c = self.unseen(last.mark, None, end, Fill::Proved);
            return c
                .into_iter()
                .filter(|m| m.min >= known)
                .map(|m| Mark { min: m.min - known, ..m })
                .collect();
        }
        let Some(read) = self.bath.readings.last() else { return flat(last.mark) };
        // What dips may be coming back: food that went in and nobody said so, a lid that was off.
        let soon = bench().usual_dip_min.minutes();
        let good = self.bath.readings.iter().rev().find(|r| self.bath.agrees(r));
        if good.is_some_and(|r| r.at == read.at || Minutes::between(r.at, self.instant(known)) <= soon) {
            return flat(as_held(held.unwrap_or(last.mark.c)));
        }
        match (self.rising(), set) {
            (Some(per_min), Some(set)) if last.mark.c < set => {
                // Half as fast as it came up: the last degrees take longest.
                let takes = (set - last.mark.c) / (per_min / 2.0);
                vec![Mark { min: 0.0, ..last.mark }, Mark { min: takes, c: set, off: error, run: None }]
            }
            _ => flat(last.mark),
        }
    }

    /// What it is held at: the mean of its last hour of readings that agree, before it began to fall, and outside of dips; as
    /// it was set where there are none.
    fn held_c(&self, set: Option<f64>) -> Option<f64> {
        const OVER_MIN: f64 = 60.0;
        let error = self.bath.error.value();
        let until = match self.heat {
            WaterHeat::Falls { since, .. } | WaterHeat::Gone { since, .. } => Some(since),
            WaterHeat::On => None,
        };
        let setting = self.bath.settings.last().map(|s| s.0);
        let good: Vec<&WaterRead> = self
            .bath
            .readings
            .iter()
            .filter(|r| until.is_none_or(|t| r.at < t) && setting.is_none_or(|s| r.at >= s))
            .filter(|r| {
                let under = self.bath.setting_at(r.at).map(|s| s - r.celsius);
                under.is_some_and(|u| u <= bench().agrees_k.kelvin())
            })
            .collect();
        let Some(last) = good.last() else {
            // One that was raised earns nothing before a reading shows it.
            let now = self.knots.last().filter(|_| !self.bath.readings.is_empty());
            return set.map(|set| now.map_or(set, |k| set.min(k.mark.c)));
        };
        // Straight between them, over the last hour of them.
        let hour = good.iter().rev().take_while(|r| Minutes::between(r.at, last.at).value() <= OVER_MIN);
        let c: Vec<f64> = hour.map(|r| r.celsius.value()).collect();
        Some(c.iter().sum::<f64>() / c.len() as f64 - error)
    }

    /// How fast its last readings rise, K a minute, where they do.
    pub(super) fn rising(&self) -> Option<f64> {
        const OVER: f64 = 5.0;
        const LEAST: f64 = 0.05;
        let reads = &self.bath.readings;
        let last = reads.last()?;
        let before = reads.iter().rev().find(|r| Minutes::between(r.at, last.at).value() >= OVER)?;
        let per_min = (last.celsius - before.celsius).value() / Minutes::between(before.at, last.at).value();
        (per_min >= LEAST).then_some(per_min)
    }

    /// Water that has lost its heat: on as it fell, toward the room.
    fn falls_on(&self, last: Mark, per_min: Kelvin, known: f64) -> Vec<Mark> {
        const FASTER: f64 = 1.1;
        let room = self.bath.falls.as_ref().map_or(cooling().room_c.value, |f| f.pool.air.room_c);
        let rate = (per_min.value() * FASTER).max(1e-3);
        let constant = ((last.c - room).max(1.0) / rate).clamp(30.0, 10_000.0);
        let fallen = |min: f64| {
            room + (last.c - room).max(0.0) * (-(min + known - last.min).max(0.0) / constant).exp()
        };
        let minutes = minutes_of_a_fall(LONGEST_GAP_MIN * 2.0);
        minutes
            .into_iter()
            .map(|min| Mark { min, c: fallen(min).min(last.c), off: last.off, run: None })
            .collect()
    }

    /// Water that is kept by hand: on a burner as it is to be kept; else as its vessel loses.
    fn going_by_hand(&self, falls: &Falls, last: &Knot, marks: &[Mark], known: f64) -> Vec<Mark> {
        if self.bath.readings.is_empty() {
            return vec![Mark { min: 0.0, ..last.mark }];
        }
        if falls.heat == Heat::Burner
            && let Some(aim) = falls.aim
        {
            // Somebody stands by it: as it is to be kept, once it was there.
            let near = last.mark.c >= aim.value() - 1.0;
            let c = if near { aim.value() } else { last.mark.c };
            return vec![Mark { min: 0.0, c, off: last.mark.off, run: None }];
        }
        // From what was last read on, by its own loss.
        let _ = marks;
        let since = known - last.mark.min;
        let (from, to) = (self.instant(last.mark.min), self.instant(known));
        let fall = falls.between(from, to).run(last.mark.c, None, &[], LONGEST_GAP_MIN);
        let fall = BathTrace::new(fall).expect("minutes rise");
        let minutes = minutes_of_a_fall(LONGEST_GAP_MIN);
        let c = |min: f64| fall.at((min + since) * 60.0);
        minutes.into_iter().map(|min| Mark { min, c: c(min), off: last.mark.off, run: None }).collect()
    }
}
