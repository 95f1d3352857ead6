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

use super::{BathHistory, BathPoint, BathTrace, WaterHeat, WaterRead, heat_by_readings};
use crate::bath::waters::one::OneBath;
use crate::bath::waters::strand::{from_drop, gate, trace};
use crate::figures::{bench, cooling};
use crate::units::{Celsius, Minutes};
mod ahead;
mod one;
mod strand;

pub(crate) use strand::gate_of;

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
    /// Source: the project's own rules (docs/safety-case.md), each on the side of colder water.
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
