//! What the water around a piece is taken to have been, and to become: one answer for each question asked of it.
//!
//! - *Shown* and asked whether a piece is heated through: between two readings it lies between them.
//! - *Proved*, which a kill is earned in: in a stretch nobody saw never warmer than the colder reading beside it nor than
//!   what the cooling model leaves, and no kill at all once that has lasted long.
//! - *The worst*, for each growth clock by itself: fallen by the cooling model to one level or another and held there.
//!
//! In a bath with a heater and a setting, readings *agree* while they lie near the setting or in the dip a load is
//! foreseen to make. Then reading harms nothing: the water is as read, the gates are asked of the mean of the last hour,
//! and what is taken off is the one error this bath would have unread. A reading that disagrees counts at its instant, less
//! its own thermometer's error.

use jiff::Timestamp;

use super::unseen::{LONGEST_GAP_MIN, no_kill_c, unheated_c};
use super::{BathHistory, BathPoint, BathTrace, Falls, Heat, WaterHeat, WaterRead, heat_by_readings};
use crate::figures::{bench, cooling};
use crate::units::{Celsius, Kelvin, Minutes, moved};

/// Water, and the same as the gates of the rules are asked of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Path {
    /// What heats the piece.
    pub water: BathTrace,
    /// What the gates are asked of.
    pub gate: BathTrace,
}

/// What the water of a cook is taken to be, for each question; minutes from the drop.
#[derive(Debug, Clone, PartialEq)]
pub struct Waters {
    /// As it is shown.
    pub shown: BathTrace,
    /// The same, the mean of the last hour where it swings about its setting: what a piece is warm by.
    pub mean: BathTrace,
    /// As read, its instrument's error not taken off: no warmer can it have been.
    pub as_read: Path,
    /// What a kill is earned in.
    pub proved: Path,
    /// What each growth clock takes the worst of, besides what is proved; nothing where it was seen all the time.
    pub worst: Vec<Path>,
}

/// What is to come, after what is known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Ahead {
    /// As it is going: held where it is held, falling where it falls, unknown where nobody knows.
    AsItGoes,
    /// The same, until somebody brings it to a temperature and keeps it there.
    Mended {
        /// When.
        at: Timestamp,
        /// To what, °C as counted.
        celsius: Celsius,
    },
}

/// A change at once takes so long, minutes: a trace has no two temperatures at one instant.
const JUMP_MIN: f64 = 0.01;

/// How a stretch that nobody saw is filled in.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Fill {
    Shown,
    Proved,
    /// Fallen to a level, °C, and held there.
    Level(f64),
}

impl Fill {
    /// For growth: each level, and the model itself.
    fn worst() -> Vec<Self> {
        let b = bench();
        let levels = [
            b.level_1_c.value,
            b.level_2_c.value,
            b.level_3_c.value,
            b.level_4_c.value,
            b.level_5_c.value,
            b.level_6_c.value,
            f64::NEG_INFINITY,
        ];
        levels.map(Self::Level).to_vec()
    }
}

/// A point of a strand.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Mark {
    min: f64,
    c: f64,
    /// What was taken off it as its instrument's error, K.
    off: f64,
    /// In which run of readings that agree with one setting; none where they do not.
    run: Option<Run>,
}

/// A run of readings that agree with one setting.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Run {
    number: usize,
    /// The setting, °C; none where the water itself is asked and no more.
    set_c: Option<f64>,
}

/// What is known at an instant, and how it goes on from there to the next.
#[derive(Debug, Clone, Copy)]
struct Knot {
    mark: Mark,
    on: On,
    /// Nobody had read it yet: it can have been anything, for a growth clock its worst.
    unread: bool,
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum On {
    /// Straight to the next.
    Straight,
    /// As it was, until the next.
    Held,
    /// Nobody saw.
    Unseen,
}

impl BathHistory {
    /// The bath's trace in minutes from `dropped`, as a kill is earned in it; `None` when nothing is known.
    ///
    /// ```
    /// use hold_steady_core::{bath::BathHistory, units::Celsius};
    /// let now: jiff::Timestamp = "2026-11-25T16:00:00Z".parse()?;
    /// assert!(BathHistory::default().trace(now).is_none(), "nothing is known");
    /// let trace = BathHistory::set(now, Celsius::new(55.0)).trace(now).expect("set");
    /// assert_eq!(trace.at(7200.0), 55.0);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn trace(&self, dropped: Timestamp) -> Option<BathTrace> {
        self.waters(dropped, Ahead::AsItGoes).map(|w| w.proved.water)
    }

    /// What the water is taken to be, for each question; `None` when nothing is known of it.
    ///
    /// ```
    /// use hold_steady_core::bath::{Ahead, BathHistory, WaterRead};
    /// use hold_steady_core::units::Celsius;
    /// let at = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
    /// // A device that says 54.2 and 54.8 in turn in a bath set to 54.5: the gates are asked of the mean.
    /// let read = |min: i64| WaterRead::reported(at(min), Celsius::new(if min % 2 == 0 { 54.2 } else { 54.8 }));
    /// let set = BathHistory::set(at(0), Celsius::new(54.5));
    /// let waters = BathHistory { readings: (0..=90).map(read).collect(), ..set }.waters(at(0), Ahead::AsItGoes);
    /// let waters = waters.expect("known");
    /// assert!((waters.proved.gate.at(80.0 * 60.0) - 54.5).abs() < 0.01 && waters.worst.is_empty());
    /// ```
    #[must_use]
    pub fn waters(&self, dropped: Timestamp, ahead: Ahead) -> Option<Waters> {
        if self.settings.is_empty() && self.readings.is_empty() && self.moved.is_empty() && self.is_heated() {
            return None;
        }
        let strands = Strands { whole: self, dropped, ahead };
        let shown = strands.of(Fill::Shown);
        let proved = strands.of(Fill::Proved);
        let path = |marks: &[Mark]| Path { water: trace(marks, |m| m.c), gate: gate(marks, |m| m.c) };
        let mut worst: Vec<Path> = Vec::new();
        if strands.is_unseen() {
            for fill in Fill::worst() {
                let one = path(&strands.of(fill));
                if !worst.contains(&one) {
                    worst.push(one);
                }
            }
        }
        let capped = |t: BathTrace| self.set_lower(dropped).map_or(t.clone(), |cap| t.lower_of(&cap));
        let lower = |p: Path| Path { water: capped(p.water), gate: capped(p.gate) };
        let proved = lower(path(&proved));
        worst.iter_mut().for_each(|w| *w = lower(w.clone()));
        worst.retain(|w| *w != proved);
        let read = |m: &Mark| m.c + m.off;
        let as_read = lower(Path { water: trace(&shown, read), gate: gate(&shown, read) });
        let mean = capped(gate(&shown, |m| m.c));
        Some(Waters { shown: capped(trace(&shown, |m| m.c)), mean, as_read, proved, worst })
    }

    /// How its heat stands, by what was read in it.
    #[must_use]
    pub(crate) fn heat(&self) -> WaterHeat {
        if self.is_heated() {
            heat_by_readings(&self.readings, &self.settings, &self.dips)
        } else {
            WaterHeat::On
        }
    }

    /// Since when a device that reports it is silent, where it is by `now`.
    #[must_use]
    pub(crate) fn silent_since(&self, now: Timestamp) -> Option<Timestamp> {
        let last = self.readings.last().filter(|r| r.reported)?;
        (Minutes::between(last.at, now).value() > self.silence_min()).then_some(last.at)
    }

    /// A reported bath is lost after so many minutes of silence.
    fn silence_min(&self) -> f64 {
        const TIMES: f64 = 3.0;
        const OVER: usize = 60;
        let longest = cooling().log_gap_min.value;
        let reported: Vec<&WaterRead> =
            self.readings.iter().filter(|r| r.reported).rev().take(OVER).collect();
        let mut between: Vec<f64> =
            reported.windows(2).map(|w| Minutes::between(w[1].at, w[0].at).value()).collect();
        if between.is_empty() {
            return longest;
        }
        between.sort_by(f64::total_cmp);
        (between[between.len() / 2] * TIMES).clamp(longest, bench().silent_most_min.value)
    }

    /// Whether a reading agrees with what the bath was set to.
    #[must_use]
    pub(crate) fn agrees(&self, r: &WaterRead) -> bool {
        let Some(set) = self.setting_at(r.at).filter(|_| self.is_heated()) else { return false };
        let under = set - r.celsius;
        under <= bench().agrees_k.kelvin() || self.dips.iter().any(|d| d.explains(r.at, under))
    }

    /// No warmer than this: from a setting on that was lowered after a reading, as it was set, until it is read again.
    /// `None` where none was.
    fn set_lower(&self, dropped: Timestamp) -> Option<BathTrace> {
        const ANY_C: f64 = 1000.0;
        let first = self.readings.first().filter(|_| self.is_heated() && self.moved.is_empty())?.at;
        let error = self.error.value();
        let set = self.settings.iter().filter(|(at, _)| *at >= first).map(|(at, c)| (*at, c.value() - error));
        let read = self.readings.iter().map(|r| (r.at, ANY_C));
        let mut caps: Vec<(Timestamp, f64)> = read.chain(set).collect();
        caps.sort_by_key(|(at, _)| *at);
        let (mut points, mut cap): (Vec<BathPoint>, f64) = (Vec::new(), ANY_C);
        for (at, next) in caps {
            if next.total_cmp(&cap).is_ne() {
                let min = Minutes::between(dropped, at).value();
                points.push(BathPoint { min: min - JUMP_MIN, c: cap });
                points.push(BathPoint { min, c: next });
                cap = next;
            }
        }
        let marks: Vec<Mark> =
            points.into_iter().map(|p| Mark { min: p.min, c: p.c, off: 0.0, run: None }).collect();
        let marks = from_drop(marks);
        (!marks.is_empty()).then(|| trace(&marks, |m| m.c))
    }
}

/// The strands of a cook's water: one bath after another, each filled in in the same way.
struct Strands<'a> {
    whole: &'a BathHistory,
    dropped: Timestamp,
    ahead: Ahead,
}

impl Strands<'_> {
    fn minute(&self, at: Timestamp) -> f64 {
        Minutes::between(self.dropped, at).value()
    }

    /// Whether there is any stretch that nobody saw.
    fn is_unseen(&self) -> bool {
        !self.whole.away.is_empty()
            || self.baths().iter().any(|b| b.knots.iter().any(|k| k.unread || k.on == On::Unseen))
    }

    fn baths(&self) -> Vec<OneBath<'_>> {
        let mut from = self.dropped;
        let mut all = Vec::with_capacity(1 + self.whole.moved.len());
        let mut baths = vec![(from, self.whole)];
        baths.extend(self.whole.moved.iter().map(|(at, b)| (*at, b)));
        for (i, (at, bath)) in baths.iter().enumerate() {
            from = if i == 0 { self.dropped } else { *at };
            let until = baths.get(i + 1).map(|b| b.0);
            all.push(OneBath::new(bath, self.dropped, from, until));
        }
        all
    }

    fn of(&self, fill: Fill) -> Vec<Mark> {
        let mut marks: Vec<Mark> = Vec::new();
        let mut runs = 0;
        for bath in self.baths() {
            let mut own = bath.marks(fill, self.ahead);
            for m in &mut own {
                m.run = m.run.map(|r| Run { number: r.number + runs, ..r });
            }
            runs += bath.runs + 1;
            let from = self.minute(bath.from);
            let before = at(&own, from);
            marks.retain(|m| m.min < from - JUMP_MIN);
            if let Some(last) = marks.last().copied().filter(|_| from > JUMP_MIN) {
                marks.push(Mark { min: from - JUMP_MIN, ..last });
            }
            marks.extend(before.map(|m| Mark { min: from, ..m }));
            marks.extend(own.into_iter().filter(|m| m.min > from));
        }
        for (from, until) in &self.whole.away {
            marks = away(marks, (self.minute(*from), self.minute(*until)), fill);
        }
        from_drop(marks)
    }
}

/// The mark a strand has at a minute.
fn at(marks: &[Mark], min: f64) -> Option<Mark> {
    let i = marks.partition_point(|m| m.min <= min);
    match (i.checked_sub(1).map(|k| marks[k]), marks.get(i)) {
        (Some(a), Some(b)) => {
            let c = a.c + (b.c - a.c) * (min - a.min) / (b.min - a.min);
            Some(Mark { min, c, ..a })
        }
        (Some(a), None) => Some(Mark { min, ..a }),
        (None, b) => b.map(|b| Mark { min, ..*b }),
    }
}

/// A piece that was not in the water, or nobody knows where: no kill, and on every clock the worst.
fn away(marks: Vec<Mark>, (from, until): (f64, f64), fill: Fill) -> Vec<Mark> {
    let (before, after) = (at(&marks, from), at(&marks, until));
    let room = cooling().room_c.value;
    let c = match fill {
        Fill::Shown | Fill::Proved => room,
        Fill::Level(level) => level.max(room),
    };
    let out = |min| Mark { min, c, off: 0.0, run: None };
    let mut all: Vec<Mark> = marks.iter().copied().filter(|m| m.min < from).collect();
    all.extend(before.map(|m| Mark { min: from, ..m }));
    all.extend([out(from + JUMP_MIN), out((until - JUMP_MIN).max(from + 2.0 * JUMP_MIN))]);
    all.extend(after.map(|m| Mark { min: until.max(from + 3.0 * JUMP_MIN), ..m }));
    all.extend(marks.into_iter().filter(|m| m.min > until.max(from + 3.0 * JUMP_MIN)));
    all
}

/// One bath of a cook, from the drop or a move into it to the move out of it, or to what is known.
struct OneBath<'a> {
    bath: &'a BathHistory,
    dropped: Timestamp,
    from: Timestamp,
    /// When it was left, where it was.
    left: Option<Timestamp>,
    heat: WaterHeat,
    knots: Vec<Knot>,
    runs: usize,
}

impl<'a> OneBath<'a> {
    fn new(bath: &'a BathHistory, dropped: Timestamp, from: Timestamp, left: Option<Timestamp>) -> Self {
        let heat = bath.heat();
        let mut one = Self { bath, dropped, from, left, heat, knots: Vec::new(), runs: 0 };
        (one.knots, one.runs) = match &bath.falls {
            Some(falls) if falls.heat != Heat::Heater => (one.by_hand(falls), 0),
            _ => one.heated(),
        };
        one
    }

    fn minute(&self, at: Timestamp) -> f64 {
        Minutes::between(self.dropped, at).value()
    }

    fn instant(&self, min: f64) -> Timestamp {
        moved(self.dropped, Minutes::new(min))
    }

    /// Up to when it is known, minutes; for ever where nobody said.
    fn known(&self) -> Option<f64> {
        let known = self.bath.known_until.map(|t| self.minute(t));
        match (known, self.left.map(|t| self.minute(t))) {
            (Some(a), Some(b)) => Some(a.min(b)),
            (a, b) => a.or(b),
        }
    }

    /// Of water that a heater holds: as set until it is read, then as read.
    fn heated(&self) -> (Vec<Knot>, usize) {
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
    fn off_unread(&self) -> bool {
        let last = self.bath.readings.last().map(|r| r.at);
        self.bath.off.iter().any(|(from, until)| last.is_none_or(|r| r < *until && r <= *from))
    }

    /// Of water that no heater holds: only what was read is known.
    fn by_hand(&self, falls: &Falls) -> Vec<Knot> {
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
    fn marks(&self, fill: Fill, ahead: Ahead) -> Vec<Mark> {
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
    fn unseen(&self, a: Mark, b: Option<Mark>, until: f64, fill: Fill) -> Vec<Mark> {
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
    fn fell(&self, a: Mark, b: Option<Mark>, from: Timestamp, to: Timestamp) -> (bool, bool) {
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
    fn cooling(&self, a: Mark, min: f64, from: Timestamp, to: Timestamp) -> BathTrace {
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

    /// What is to come, after what is known.
    fn to_come(&self, marks: &mut Vec<Mark>, ahead: Ahead) {
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
    fn going(&self, marks: &[Mark], known: f64) -> Vec<Mark> {
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
    fn rising(&self) -> Option<f64> {
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

/// Minutes at which an exponential fall is told well enough: seldomer and seldomer.
fn minutes_of_a_fall(until: f64) -> Vec<f64> {
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
fn by_minute(readings: &[WaterRead]) -> Vec<WaterRead> {
    steady_together(minutes_of(readings))
}

/// A steady stretch of five minutes is one point in its middle: a simulation takes as many steps as there are corners.
fn steady_together(minutes: Vec<WaterRead>) -> Vec<WaterRead> {
    const BLOCK_S: i64 = 300;
    const STEADY_K: f64 = 0.3;
    const FEWEST: usize = 3;
    let block = |r: &WaterRead| (r.reported, r.at.as_second().div_euclid(BLOCK_S));
    let last = minutes.last().map(|r| block(r).1);
    let mut all = Vec::with_capacity(minutes.len());
    for some in minutes.chunk_by(|a, b| block(a) == block(b)) {
        let c = || some.iter().map(|r| r.celsius.value());
        let (low, high) = c().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), c| (l.min(c), h.max(c)));
        let open = Some(block(&some[0]).1) == last;
        if open || !some[0].reported || some.len() < FEWEST || high - low > STEADY_K {
            all.extend_from_slice(some);
            continue;
        }
        let reads_high = some.iter().map(|r| r.reads_high).fold(Kelvin::ZERO, Kelvin::max);
        let celsius = Celsius::new(c().sum::<f64>() / some.len() as f64);
        all.push(WaterRead { celsius, reads_high, ..some[some.len() / 2] });
    }
    all
}

fn minutes_of(readings: &[WaterRead]) -> Vec<WaterRead> {
    let mut all: Vec<WaterRead> = Vec::with_capacity(readings.len().min(8192));
    let mut bin: Option<(i64, f64, f64)> = None;
    for r in readings {
        let minute = r.at.as_second().div_euclid(60);
        if let (Some((m, sum, n)), Some(last)) = (bin, all.last_mut())
            && r.reported
            && last.reported
            && m == minute
        {
            let (sum, n) = (sum + r.celsius.value(), n + 1.0);
            bin = Some((m, sum, n));
            *last = WaterRead {
                celsius: Celsius::new(sum / n),
                reads_high: last.reads_high.max(r.reads_high),
                ..*r
            };
            continue;
        }
        bin = r.reported.then_some((minute, r.celsius.value(), 1.0));
        match all.last_mut() {
            // Two at one instant: the lower counts.
            Some(last) if last.at >= r.at => {
                if r.at_least() < last.at_least() {
                    *last = WaterRead { at: last.at, ..*r };
                }
            }
            _ => all.push(*r),
        }
    }
    all
}

/// From the drop on: what came before is what it was then.
fn from_drop(all: Vec<Mark>) -> Vec<Mark> {
    let begun = at(&all, 0.0);
    let mut marks: Vec<Mark> = begun.into_iter().map(|m| Mark { min: 0.0, ..m }).collect();
    for m in all.into_iter().filter(|m| m.min > 0.0) {
        if marks.last().is_none_or(|last| m.min > last.min) {
            marks.push(m);
        }
    }
    marks
}

fn trace(marks: &[Mark], of: impl Fn(&Mark) -> f64) -> BathTrace {
    let points = marks.iter().map(|m| BathPoint { min: m.min, c: of(m) }).collect();
    BathTrace::new(points).expect("made in order of time")
}

/// What the gates are asked of in water that was read so in a bath with a heater set to `set_c`, both less the
/// instrument's error.
#[must_use]
pub(crate) fn gate_of(water: &BathTrace, set_c: f64) -> BathTrace {
    let agrees = bench().agrees_k.value;
    let mut runs = 0;
    let mut good = false;
    let marks = water.points().iter().map(|p| {
        let agreed = std::mem::replace(&mut good, set_c - p.c <= agrees);
        runs += usize::from(good && !agreed);
        Mark { min: p.min, c: p.c, off: 0.0, run: good.then_some(Run { number: runs, set_c: None }) }
    });
    gate(&marks.collect::<Vec<_>>(), |m| m.c)
}

/// What the gates are asked of: in a run of readings that agree the mean of the last hour, else the water at that instant.
fn gate(marks: &[Mark], of: impl Fn(&Mark) -> f64) -> BathTrace {
    let mut points: Vec<BathPoint> = Vec::with_capacity(marks.len());
    let mut i = 0;
    while i < marks.len() {
        let of_run = |m: &Mark| m.run.map(|r| r.number);
        let run = of_run(&marks[i]);
        let end = marks[i..].iter().position(|m| of_run(m) != run).map_or(marks.len(), |n| i + n);
        if run.is_some() {
            means(&marks[i..end], end == marks.len(), &of, &mut points);
        } else {
            points.extend(marks[i..end].iter().map(|m| BathPoint { min: m.min, c: of(m) }));
        }
        i = end;
    }
    points.dedup_by(|b, a| b.min <= a.min);
    BathTrace::new(points).expect("made in order of time")
}

/// A mean that lies no further under its setting is the setting: thermometers say tenths.
const SAME_K: f64 = 0.05;

/// The mean of the last hour over one run, at its own points and some between.
fn means(run: &[Mark], goes_on: bool, of: &impl Fn(&Mark) -> f64, into: &mut Vec<BathPoint>) {
    const OVER_MIN: f64 = 60.0;
    const BETWEEN_MIN: [f64; 6] = [5.0, 15.0, 30.0, 45.0, OVER_MIN, OVER_MIN + 5.0];
    let (first, last) = (run[0].min, run[run.len() - 1].min);
    // What it was set to, with as much taken off as of the readings.
    let taken = run[0].c + run[0].off - of(&run[0]);
    let set = run[0].run.and_then(|r| r.set_c).map(|set| set - taken);
    // Nearer to it than a thermometer tells, they are one.
    let told = |c: f64| set.filter(|set| (*set - SAME_K..*set).contains(&c)).unwrap_or(c);
    let steady = run.iter().all(|m| of(m).total_cmp(&of(&run[0])).is_eq());
    if steady {
        let c = told(of(&run[0]));
        into.extend([BathPoint { min: first, c }, BathPoint { min: last, c }]);
        return;
    }
    // The integral so far, at each point; flat after the last.
    let mut area = vec![0.0];
    for w in run.windows(2) {
        let so_far = area[area.len() - 1];
        area.push(so_far + (w[1].min - w[0].min) * f64::midpoint(of(&w[0]), of(&w[1])));
    }
    let integral = |min: f64| {
        let i = run.partition_point(|m| m.min <= min).max(1) - 1;
        let (a, past) = (&run[i], min - run[i].min);
        let here = match run.get(i + 1) {
            Some(b) => of(a) + (of(b) - of(a)) * past / (b.min - a.min),
            None => of(a),
        };
        area[i] + past * f64::midpoint(of(a), here)
    };
    let mean = |min: f64| {
        let from = (min - OVER_MIN).max(first);
        if min - from < 1e-6 { of(&run[0]) } else { (integral(min) - integral(from)) / (min - from) }
    };
    // At the very end it goes on changing for an hour; on the way to a reading that does not agree the water counts.
    let until = if goes_on { last + OVER_MIN + 5.0 } else { last };
    let mut minutes: Vec<f64> = Vec::with_capacity(run.len() * 2);
    for (i, m) in run.iter().enumerate() {
        let next = run.get(i + 1).map_or(until, |n| n.min);
        minutes.push(m.min);
        minutes.extend(BETWEEN_MIN.iter().map(|b| m.min + b).filter(|t| *t < next));
    }
    minutes.push(until.max(last));
    minutes.sort_by(f64::total_cmp);
    minutes.dedup_by(|b, a| *b - *a < 1e-6);
    into.extend(minutes.into_iter().map(|min| BathPoint { min, c: told(mean(min)) }));
}
