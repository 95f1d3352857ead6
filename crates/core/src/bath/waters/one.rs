//! One bath’s water while a piece lies in it.

use jiff::Timestamp;

use super::{Ahead, Fill, JUMP_MIN, Knot, Mark, On, Run};
use crate::bath::unseen::{LONGEST_GAP_MIN, no_kill_c, unheated_c};
use crate::bath::waters::at;
use crate::bath::waters::strand::{minutes_of, steady_together};
use crate::bath::{BathHistory, BathPoint, BathTrace, Falls, Heat, WaterHeat, WaterRead};
use crate::figures::{bench, cooling};
use crate::units::{Celsius, Minutes, moved};

/// One bath of a cook, from the drop or a move into it to the move out of it, or to what is known.
pub(super) struct OneBath<'a> {
    pub(super) bath: &'a BathHistory,
    pub(super) dropped: Timestamp,
    pub(super) from: Timestamp,
    /// When it was left, where it was.
    pub(super) left: Option<Timestamp>,
    pub(super) heat: WaterHeat,
    pub(super) knots: Vec<Knot>,
    pub(super) runs: usize,
}

impl<'a> OneBath<'a> {
    pub(super) fn new(
        bath: &'a BathHistory,
        dropped: Timestamp,
        from: Timestamp,
        left: Option<Timestamp>,
    ) -> Self {
        let heat = bath.heat();
        let mut one = Self { bath, dropped, from, left, heat, knots: Vec::new(), runs: 0 };
        (one.knots, one.runs) = match &bath.falls {
            Some(falls) if falls.heat != Heat::Heater => (one.by_hand(falls), 0),
            _ => one.heated(),
        };
        one
    }

    pub(super) fn minute(&self, at: Timestamp) -> f64 {
        Minutes::between(self.dropped, at).value()
    }

    pub(super) fn instant(&self, min: f64) -> Timestamp {
        moved(self.dropped, Minutes::new(min))
    }

    /// Up to when it is known, minutes; for ever where nobody said.
    pub(super) fn known(&self) -> Option<f64> {
        let known = self.bath.known_until.map(|t| self.minute(t));
        match (known, self.left.map(|t| self.minute(t))) {
            (Some(a), Some(b)) => Some(a.min(b)),
            (a, b) => a.or(b),
        }
    }

    /// Of water that a heater holds: as set until it is read, then as read.
    pub(super) fn heated(&self) -> (Vec<Knot>, usize) {
        let error = self.bath.error.value();
        let reads = by_minute(&self.bath.readings);
        let gone = match self.heat {
            WaterHeat::Gone { since, .. } => Some(since),
            _ => None,
        };
        let agrees = |r: &WaterRead| self.bath.agrees(r) && gone.is_none_or(|since| r.at < since);
        let first = reads.first();
        let first_min = first.map_or(f64::INFINITY, |r| self.minute(r.at));
        // A first reading that is lower than it was set says what it was at most until then: that only a load drew it down is
        // foreseen, not seen.
        let lower = |r: &&WaterRead| {
            let set = self.bath.setting_at(r.at);
            !agrees(r) || set.is_some_and(|set| set - r.celsius > bench().agrees_k.kelvin())
        };
        // It is known why: it was off, and fell only then.
        let told = |r: &&WaterRead| !self.bath.off.iter().any(|off| off.0 < r.at);
        let most = first.filter(lower).filter(told).map_or(f64::INFINITY, |r| r.at_least().value());
        let (mut knots, mut runs) = self.as_set(first_min, most);
        let silence = self.bath.silence_min();
        let mut before: Option<(&WaterRead, bool)> = None;
        for r in &reads {
            let good = agrees(r);
            // Readings of one setting run together.
            if let Some((b, was_good)) = before {
                let apart = Minutes::between(b.at, r.at).value();
                let lost = (b.reported || r.reported) && apart > silence;
                let long = apart > cooling().log_gap_min.value;
                let unseen = if good && was_good { lost } else { long };
                let last = knots.len() - 1;
                knots[last].on = if unseen { On::Unseen } else { On::Straight };
                if unseen || !(good && was_good) || self.bath.setting_at(b.at) != self.bath.setting_at(r.at) {
                    runs += 1;
                }
            } else if knots.is_empty() || !good {
                runs += 1;
            }
            let off = if good { error } else { r.reads_high.value() };
            let set_c = self.bath.setting_at(r.at).map(Celsius::value);
            let run = good.then_some(Run { number: runs, set_c });
            let mark = Mark { min: self.minute(r.at), c: r.celsius.value() - off, off, run };
            knots.push(Knot { mark, on: On::Held, unread: false });
            before = Some((r, good));
        }
        if let (Some((r, good)), Some(known)) = (before, self.known()) {
            let apart = known - self.minute(r.at);
            let limit = if good { silence } else { cooling().log_gap_min.value };
            if apart > limit && (r.reported || !good) {
                let last = knots.len() - 1;
                knots[last].on = On::Unseen;
            }
        }
        let read: Vec<f64> = reads.iter().map(|r| self.minute(r.at)).collect();
        for off in &self.bath.off {
            knots = self.with_off(knots, &read, self.minute(off.0));
        }
        (knots, runs)
    }

    /// What it was set to before it was first read, no warmer than that reading allows; and how many runs that is.
    fn as_set(&self, first_min: f64, most: f64) -> (Vec<Knot>, usize) {
        let error = self.bath.error.value();
        let (mut knots, mut runs): (Vec<Knot>, usize) = (Vec::new(), 0);
        for (at, c) in self.bath.settings.iter().filter(|s| self.minute(s.0) < first_min) {
            let (min, c) = (self.minute(*at), (c.value() - error).min(most));
            let mark = |min, number| {
                let run = Run { number, set_c: Some(c + error) };
                Mark { min, c, off: error, run: Some(run) }
            };
            match knots.last().map(|k| k.mark) {
                // Before it went in only the last setting counts.
                Some(last) if min <= self.minute(self.from) || last.min >= min => {
                    knots.clear();
                    knots.push(Knot { mark: mark(min, runs), on: On::Held, unread: false });
                }
                // One that was raised earns nothing before a reading shows it; one that was lowered counts at once.
                Some(last) if c < last.c => {
                    runs += 1;
                    knots.push(Knot { mark: mark(min, runs), on: On::Held, unread: false });
                }
                Some(_) => {}
                None => knots.push(Knot { mark: mark(min, runs), on: On::Held, unread: false }),
            }
        }
        if most.is_finite()
            && let Some(last) = knots.last_mut()
        {
            let begun = last.mark.min.max(self.minute(self.from));
            if first_min - begun > cooling().log_gap_min.value {
                last.on = On::Unseen;
            }
        }
        (knots, runs)
    }

    /// The same where its heater was off for a while: from then on nobody saw it, until it was read again; one that is read all
    /// along says more than any word. Where it was found colder than so short a time allows, it was off for longer: from the
    /// latest instant the cooling model allows of water that loses as this is likely to. Off before anything is known of it,
    /// it is unseen from then on.
    fn with_off(&self, knots: Vec<Knot>, read: &[f64], off: f64) -> Vec<Knot> {
        let Some(first) = knots.first() else { return knots };
        let from = off.max(first.mark.min);
        let next = read.partition_point(|min| *min <= from);
        let (before, after) = (next.checked_sub(1).map(|i| read[i]), read.get(next).copied());
        if before.zip(after).is_some_and(|(b, a)| a - b <= cooling().log_gap_min.value) {
            return knots;
        }
        let Some(i) = knots.iter().rposition(|k| k.mark.min <= from) else { return knots };
        let after = after.and_then(|min| knots.iter().find(|k| k.mark.min >= min)).copied();
        let here = match (knots[i].on, knots.get(i + 1)) {
            (On::Unseen, _) => return knots,
            (On::Straight, Some(next)) => at(&[knots[i].mark, next.mark], from).unwrap_or(knots[i].mark),
            _ => knots[i].mark,
        };
        let begun = after.map_or(from, |after| {
            let end = self.instant(after.mark.min);
            let fall = match &self.bath.falls {
                // As it is likely to lose: had it fallen as fast as it may, it would have been off for less.
                Some(falls) => {
                    BathTrace::new(falls.usual.run(here.c, None, &[], LONGEST_GAP_MIN)).expect("minutes rise")
                }
                None => self.cooling(here, LONGEST_GAP_MIN, self.instant(from), end),
            };
            let takes = fall.points().iter().find(|p| p.c <= after.mark.c).map_or(LONGEST_GAP_MIN, |p| p.min);
            let earliest = before.unwrap_or(self.minute(self.from));
            from.min(after.mark.min - takes).max(earliest)
        });
        let end = after.map_or(f64::INFINITY, |k| k.mark.min);
        let mut all: Vec<Knot> = knots.iter().filter(|k| k.mark.min <= begun).copied().collect();
        match all.last_mut().filter(|k| (k.mark.min - begun).abs() < 1e-6) {
            Some(last) => last.on = On::Unseen,
            None => all.push(Knot { mark: Mark { min: begun, ..here }, on: On::Unseen, unread: false }),
        }
        all.extend(knots.into_iter().filter(|k| k.mark.min >= end));
        all
    }

    /// Whether its heater was off and nobody read it since.
    pub(super) fn off_unread(&self) -> bool {
        let last = self.bath.readings.last().map(|r| r.at);
        self.bath.off.iter().any(|(from, until)| last.is_none_or(|r| r < *until && r <= *from))
    }

    /// Of water that no heater holds: only what was read is known.
    pub(super) fn by_hand(&self, falls: &Falls) -> Vec<Knot> {
        let room = falls.pool.air.room_c;
        let reads = by_minute(&self.bath.readings);
        let gap = cooling().log_gap_min.value;
        let plain = |min, c, off| Mark { min, c, off, run: None };
        let begun = self.minute(self.from);
        let mut knots: Vec<Knot> = Vec::new();
        let Some(first) = reads.first() else {
            // Nobody has looked at all.
            return vec![Knot { mark: plain(begun, room, 0.0), on: On::Unseen, unread: true }];
        };
        let first_min = self.minute(first.at);
        if first_min > begun {
            let c = first.at_least().value();
            if falls.only_falls(self.from, first.at) {
                // It can only have fallen to that; long before, nothing is earned all the same.
                let since = first_min - bench().gap_credit_min.value;
                if since > begun {
                    knots.push(Knot {
                        mark: plain(begun, c.min(no_kill_c()), 0.0),
                        on: On::Held,
                        unread: true,
                    });
                }
                knots.push(Knot { mark: plain(since.max(begun), c, 0.0), on: On::Held, unread: true });
            } else {
                // It can have been warmed since.
                knots.push(Knot {
                    mark: plain(begun, c.min(no_kill_c()), 0.0),
                    on: On::Unseen,
                    unread: true,
                });
            }
        }
        for (i, r) in reads.iter().enumerate() {
            let min = self.minute(r.at);
            let off = r.reads_high.value();
            let next = reads.get(i + 1).map(|n| self.minute(n.at)).or(self.known());
            let on = match next {
                Some(next) if next - min > gap => On::Unseen,
                Some(_) => On::Straight,
                None => On::Held,
            };
            knots.push(Knot { mark: plain(min, r.celsius.value() - off, off), on, unread: false });
        }
        knots
    }

    /// The strand, filled in in one way, with what is to come.
    pub(super) fn marks(&self, fill: Fill, ahead: Ahead) -> Vec<Mark> {
        let mut marks: Vec<Mark> = Vec::new();
        let known = self.known();
        for (i, knot) in self.knots.iter().enumerate() {
            let mut knot = *knot;
            if let Fill::Level(level) = fill
                && knot.unread
            {
                knot.mark.c = knot.mark.c.max(level);
                knot.on = On::Held;
            }
            marks.push(knot.mark);
            let next = self.knots.get(i + 1).map(|k| k.mark);
            // Where nobody says up to when it is known, a stretch nobody saw lasts as long as any does.
            let forever = (knot.on == On::Unseen).then_some(knot.mark.min + LONGEST_GAP_MIN);
            let until = next.map(|n| n.min).or(known).or(forever);
            let Some(until) = until.filter(|u| *u > knot.mark.min + 2.0 * JUMP_MIN) else { continue };
            match knot.on {
                On::Straight if next.is_some() => {}
                On::Straight | On::Held => marks.push(Mark { min: until - JUMP_MIN, ..knot.mark }),
                On::Unseen => marks.extend(self.unseen(knot.mark, next, until, fill)),
            }
        }
        if self.left.is_none() {
            self.to_come(&mut marks, ahead);
        }
        marks
    }

    /// A stretch that nobody saw: from a reading to the next, or to what is known.
    pub(super) fn unseen(&self, a: Mark, b: Option<Mark>, until: f64, fill: Fill) -> Vec<Mark> {
        let credit = bench().gap_credit_min.value;
        let (from, to) = (self.instant(a.min), self.instant(until));
        let model = self.cooling(a, until - a.min, from, to);
        // Water that can only have fallen, and fell about as this vessel's loss foresees, was never colder than it was found.
        let (only_fell, as_foreseen) = self.fell(a, b, from, to);
        let floor = b.filter(|_| only_fell).map(|b| b.c);
        let credit = if only_fell && as_foreseen { bench().fall_credit_min.value } else { credit };
        let least = b.map_or(a.c, |b| b.c.min(a.c));
        let at = |min: f64| {
            let fallen = model.at((min - a.min) * 60.0).min(a.c);
            match fill {
                Fill::Shown => match b {
                    Some(b) => a.c + (b.c - a.c) * (min - a.min) / (b.min - a.min),
                    None if self.bath.is_heated() => a.c,
                    None => fallen,
                },
                Fill::Proved => {
                    let c = floor.unwrap_or(fallen).min(least);
                    if min - a.min > credit { c.min(no_kill_c()) } else { c }
                }
                Fill::Level(level) => fallen.max(level.min(a.c)).max(floor.unwrap_or(f64::NEG_INFINITY)),
            }
        };
        let end = until - JUMP_MIN;
        let mut minutes = vec![a.min + JUMP_MIN];
        let mut step = 2.0;
        while minutes[minutes.len() - 1] + step < end {
            let min = minutes[minutes.len() - 1] + step;
            if min - a.min > LONGEST_GAP_MIN {
                break;
            }
            minutes.push(min);
            if min - a.min > 120.0 {
                step = 15.0;
            }
        }
        minutes.push(end);
        minutes
            .into_iter()
            .filter(|m| *m > a.min)
            .map(|min| Mark { min, c: at(min), off: a.off, run: None })
            .collect()
    }

    /// Whether nothing can have warmed it between two readings, and whether it fell as the vessel's loss foresees.
    pub(super) fn fell(&self, a: Mark, b: Option<Mark>, from: Timestamp, to: Timestamp) -> (bool, bool) {
        const STEADY_K: f64 = 0.2;
        let Some((falls, b)) = self.bath.falls.as_ref().zip(b) else { return (false, false) };
        if !falls.only_falls(from, to) || b.c > a.c + STEADY_K {
            return (false, false);
        }
        let usual = falls.usual.run(a.c, None, &[], (b.min - a.min).min(LONGEST_GAP_MIN));
        let foreseen = a.c - usual[usual.len() - 1].c;
        let fell = a.c - b.c;
        // Had it fallen less than half of that, somebody may have warmed it and not said so.
        (
            fell >= foreseen / 2.0 - STEADY_K,
            (foreseen / 2.0 - STEADY_K..=foreseen * 2.0 + STEADY_K).contains(&fell),
        )
    }

    /// How it falls from a mark on where nothing heats it, minutes from there.
    pub(super) fn cooling(&self, a: Mark, min: f64, from: Timestamp, to: Timestamp) -> BathTrace {
        let min = min.clamp(1.0, LONGEST_GAP_MIN);
        if let Some(falls) = &self.bath.falls {
            let run = falls.between(from, to).run(a.c, None, &[], min);
            return BathTrace::new(run).expect("minutes rise");
        }
        let room = cooling().room_c.value;
        let from = BathPoint { min: 0.0, c: a.c };
        let points =
            minutes_of_a_fall(min).into_iter().map(|min| BathPoint { min, c: unheated_c(from, room, min) });
        BathTrace::new(points.collect()).expect("minutes rise")
    }
}

/// Minutes at which an exponential fall is told well enough: seldomer and seldomer.
pub(super) fn minutes_of_a_fall(until: f64) -> Vec<f64> {
    let mut all = vec![0.0];
    let mut step = 2.0;
    loop {
        let next = all[all.len() - 1] + step;
        if next >= until {
            break;
        }
        all.push(next);
        step = (next / 20.0).clamp(2.0, 30.0);
    }
    all.push(until);
    all
}

/// Of a device that reports often, the mean of each minute: no water changes faster, and the lowest of many says more of
/// the noise than of the water. What was typed stands as it is.
pub(super) fn by_minute(readings: &[WaterRead]) -> Vec<WaterRead> {
    steady_together(minutes_of(readings))
}
