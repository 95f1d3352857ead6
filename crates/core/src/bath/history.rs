//! What is known of a bath's water over a cook: what it was set to, and what was read in it. The one door from
//! records to a trace, and so to a verdict.

use crate::figures::{bench, cooling};
use jiff::Timestamp;

use super::log::{InGap, LONGEST_GAP_MIN, filled, no_kill_c, unheated_c, unseen_c};
use super::{BathPoint, BathTrace, Falls, Heat, from_log};
use crate::book::ProbeLog;
use crate::units::{Celsius, Kelvin, Minutes, moved};

/// What is known of a bath's water.
///
/// ```
/// use hold_steady_core::bath::BathHistory;
/// use hold_steady_core::units::Celsius;
/// let at = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
/// // Set to 55 °C and never read: taken to be as it was set.
/// let set = BathHistory { settings: vec![(at(0), Celsius::new(55.0))], ..BathHistory::default() };
/// assert_eq!(set.trace(at(10)).expect("known").at(3600.0), 55.0);
/// // Read at 54 °C, and not for an hour after: between the two readings it may have been off.
/// let read = BathHistory { settings: vec![(at(0), Celsius::new(55.0))], readings: vec![(at(20), Celsius::new(54.0)), (at(80), Celsius::new(54.5))], ..BathHistory::default() };
/// assert!(read.trace(at(10)).expect("known").at(60.0 * 60.0) < 45.0);
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
pub struct BathHistory {
    /// What it was set to, and from when on, by time.
    pub settings: Vec<(Timestamp, Celsius)>,
    /// What its instrument read, and when, by time, as read.
    pub readings: Vec<(Timestamp, Celsius)>,
    /// The baths it was moved into after, and when, by time. What one bath was read to be says nothing of another.
    pub moved: Vec<(Timestamp, BathHistory)>,
    /// The readings are what the water was at least: what their thermometers may read too high is off already.
    pub checked: bool,
    /// A device reports it: that it is silent means that nobody knows.
    pub reports: bool,
    /// What a probe read in the piece itself.
    pub probe: Option<ProbeLog>,
    /// Nothing moves its water: the piece takes up heat more slowly there.
    pub still: bool,
    /// How its water falls where nobody looks; as any open pot where nothing is known of the vessel.
    pub falls: Option<Falls>,
    /// Up to when it is known; what comes later is reckoned, not known.
    pub known_until: Option<Timestamp>,
}

/// A change at once takes so long, minutes: a trace has no two temperatures at one instant.
const JUMP_MIN: Minutes = Minutes::new(0.01);

impl BathHistory {
    /// A bath that was set once.
    ///
    /// ```
    /// use hold_steady_core::{bath::BathHistory, units::Celsius};
    /// let now: jiff::Timestamp = "2026-11-25T16:00:00Z".parse()?;
    /// assert_eq!(BathHistory::set(now, Celsius::new(55.0)).settings.len(), 1);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn set(at: Timestamp, celsius: Celsius) -> Self {
        Self { settings: vec![(at, celsius)], ..Self::default() }
    }

    /// Goes on in another bath from `at` on.
    ///
    /// ```
    /// use hold_steady_core::bath::BathHistory;
    /// use hold_steady_core::units::Celsius;
    /// let at = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
    /// let water = BathHistory::set(at(0), Celsius::new(56.0)).then(at(60), BathHistory::set(at(30), Celsius::new(1.0)));
    /// let trace = water.trace(at(0)).expect("known");
    /// assert_eq!((trace.at(59.0 * 60.0), trace.at(61.0 * 60.0)), (56.0, 1.0));
    /// ```
    #[must_use]
    pub fn then(mut self, at: Timestamp, next: Self) -> Self {
        self.moved.push((at, next));
        self
    }

    /// The least and the usual coefficient of heat transfer of all the water it lay in, W/m²K, where some of it stood
    /// still; reckoned for the whole time, on the safe side.
    pub(crate) fn slowed_w_m2k(&self) -> Option<(f64, f64)> {
        let still = super::still();
        let any = self.still || self.moved.iter().any(|(_, next)| next.slowed_w_m2k().is_some());
        any.then(|| (still.ends_w_m2k().0, still.w_m2k))
    }

    /// What was known at an instant.
    #[must_use]
    pub(crate) fn until(&self, now: Timestamp) -> Self {
        let known = |list: &[(Timestamp, Celsius)]| list.iter().copied().filter(|r| r.0 <= now).collect();
        let moved = self.moved.iter().filter(|m| m.0 <= now).map(|(at, next)| (*at, next.until(now)));
        Self {
            settings: known(&self.settings),
            readings: known(&self.readings),
            moved: moved.collect(),
            checked: self.checked,
            reports: self.reports,
            still: self.still,
            probe: self.probe.clone().map(|p| ProbeLog { readings: known(&p.readings), ..p }),
            falls: self.falls.clone(),
            known_until: Some(now),
        }
    }

    /// The same water, less what the kitchen's thermometers read too high: settings always, readings where their own
    /// thermometers do not say.
    #[must_use]
    pub(crate) fn less(&self, reads_high: Kelvin) -> Self {
        let lower =
            |list: &[(Timestamp, Celsius)], by: Kelvin| list.iter().map(|(t, c)| (*t, *c - by)).collect();
        Self {
            settings: lower(&self.settings, reads_high),
            readings: lower(&self.readings, if self.checked { Kelvin::ZERO } else { reads_high }),
            moved: self.moved.iter().map(|(t, next)| (*t, next.less(reads_high))).collect(),
            ..self.clone()
        }
    }

    /// Whether a heater holds it and nobody has read what it does: its water is as set, and as the plan says it takes the
    /// food.
    #[must_use]
    pub(crate) fn only_set(&self) -> bool {
        let by_hand = self.falls.as_ref().is_some_and(|f| f.heat != Heat::Heater);
        !by_hand && self.readings.is_empty() && self.moved.is_empty()
    }

    /// The bath's trace in minutes from `dropped`: as it was read, gaps taken the safe way
    /// ([`from_log`]); before the first reading as it was set, but no warmer than that reading; where nothing was
    /// read, as it was set. A setting that was raised earns nothing before a reading shows it; one that was lowered counts at once. `None` when nothing
    /// is known.
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
        let mut trace = self.first_trace(dropped)?;
        for (at, next) in &self.moved {
            // Of a bath that nothing is known of, nothing is credited: it is as warm as the room.
            let next = next.first_trace(*at).unwrap_or_else(|| BathTrace::constant(cooling().room_c.value));
            let min = Minutes::between(dropped, *at).max(Minutes::ZERO);
            trace = trace.then(min.value(), &next);
        }
        Some(trace)
    }

    /// The trace of the first bath, as if it had stayed there.
    fn first_trace(&self, dropped: Timestamp) -> Option<BathTrace> {
        match &self.falls {
            Some(falls) if falls.heat != Heat::Heater => Some(self.by_hand(falls, dropped)),
            _ => self.held(dropped),
        }
    }

    /// The trace of water that no heater holds: only what was read is known. Between two readings it has fallen from the
    /// first, and where nothing can have warmed it never below the second; before the first and after the last it earns
    /// nothing once that is long ago; what is to come is reckoned at what it is kept at.
    fn by_hand(&self, falls: &Falls, dropped: Timestamp) -> BathTrace {
        const STEP_MIN: f64 = 2.0;
        let room_c = falls.pool.air.room_c;
        let credit = bench().gap_credit_min.value;
        let minute = |t: Timestamp| Minutes::between(dropped, t).value();
        let instant = |min: f64| moved(dropped, Minutes::new(min));
        let readings: Vec<BathPoint> =
            rising(self.readings.iter().map(|(t, c)| BathPoint { min: minute(*t), c: c.value() }).collect());
        let known = self.known_until.map(minute);
        let mut points: Vec<BathPoint> = Vec::new();
        match (readings.first(), readings.last()) {
            (Some(first), Some(last)) => {
                if first.min > 0.0 {
                    // Unseen until then: no warmer than it was found, and nothing earned long before; nothing at all
                    // where it can have been warmed since.
                    let since = (first.min - credit).max(0.0);
                    let fell = falls.only_falls(instant(since), instant(first.min));
                    let since = if fell { since } else { first.min - JUMP_MIN.value() };
                    if since > 0.0 {
                        points.push(BathPoint { min: 0.0, c: first.c.min(no_kill_c()) });
                        points.push(BathPoint { min: since, c: first.c.min(no_kill_c()) });
                    }
                    points.push(BathPoint { min: since + JUMP_MIN.value(), c: first.c });
                }
                let fill = |a: BathPoint, b: BathPoint| -> InGap<'static> {
                    let (from, to) = (instant(a.min), instant(b.min));
                    let least = a.c.min(b.c);
                    if falls.only_falls(from, to) && b.c <= a.c + STEADY_K {
                        return Box::new(move |_| least);
                    }
                    let run =
                        falls.between(from, to).run(a.c, None, &[], (b.min - a.min).min(LONGEST_GAP_MIN));
                    let run = BathTrace::new(run).expect("minutes rise");
                    Box::new(move |min| run.at((min - a.min) * 60.0).min(least))
                };
                let read =
                    filled(&readings, &fill).map_or_else(|_| readings.clone(), |(t, _)| t.points().to_vec());
                points.extend(read);
                // Nobody has looked since.
                let seen_for = known.map(|k| k.min(last.min + LONGEST_GAP_MIN));
                if let Some(known) = seen_for.filter(|k| *k > last.min + STEP_MIN) {
                    let pool = falls.between(instant(last.min), instant(known));
                    let run =
                        BathTrace::new(pool.run(last.c, None, &[], known - last.min)).expect("minutes rise");
                    let mut min = last.min + STEP_MIN;
                    while min < known {
                        let c = run.at((min - last.min) * 60.0);
                        points.push(BathPoint { min, c: unseen_c(c, min - last.min) });
                        min += STEP_MIN;
                    }
                }
            }
            // Nobody has looked at all.
            _ => points.push(BathPoint { min: 0.0, c: room_c }),
        }
        if let (Some(aim), Some(known)) = (falls.aim, known) {
            let last = points[points.len() - 1];
            points.push(BathPoint { min: known.max(last.min + JUMP_MIN.value()), c: last.c });
            points.push(BathPoint {
                min: known.max(last.min + JUMP_MIN.value()) + JUMP_MIN.value(),
                c: aim.value(),
            });
        }
        from_drop(points).unwrap_or_else(|| BathTrace::constant(room_c))
    }

    /// The trace of water that a heater holds, or whose vessel nobody named.
    fn held(&self, dropped: Timestamp) -> Option<BathTrace> {
        let read = self.read_or_set(dropped)?;
        Some(self.set_lower(dropped).map_or(read.clone(), |cap| read.lower_of(&cap)))
    }

    /// No warmer than this: from a setting on that was lowered after a reading, as it was set, until it is read again.
    /// `None` where none was.
    fn set_lower(&self, dropped: Timestamp) -> Option<BathTrace> {
        let first = self.readings.first()?.0;
        let set = self.settings.iter().filter(|(at, _)| *at >= first).map(|(at, c)| (*at, c.value()));
        let read = self.readings.iter().map(|(at, _)| (*at, ANY_C));
        let mut caps: Vec<(Timestamp, f64)> = read.chain(set).collect();
        caps.sort_by_key(|(at, _)| *at);
        let (mut points, mut cap): (Vec<BathPoint>, f64) = (Vec::new(), ANY_C);
        for (at, next) in caps {
            if next.total_cmp(&cap).is_ne() {
                let min = Minutes::between(dropped, at).value();
                points.push(BathPoint { min: min - JUMP_MIN.value(), c: cap });
                points.push(BathPoint { min, c: next });
                cap = next;
            }
        }
        from_drop(points)
    }

    fn read_or_set(&self, dropped: Timestamp) -> Option<BathTrace> {
        let at = |&(t, c): &(Timestamp, Celsius)| BathPoint {
            min: Minutes::between(dropped, t).value(),
            c: c.value(),
        };
        let readings: Vec<BathPoint> = self.readings.iter().map(at).collect();
        let first = readings.first().map_or(BathPoint { min: f64::INFINITY, c: f64::INFINITY }, |r| *r);
        // As it was set, up to the first reading, and no warmer than that shows.
        let mut set: Vec<BathPoint> = Vec::new();
        let settings = self.settings.iter().map(at).filter(|s| s.min < first.min);
        for point in settings.map(|s| BathPoint { c: s.c.min(first.c), ..s }) {
            match set.last().copied() {
                Some(last) if point.min <= 0.0 || last.min >= point.min => {
                    // Before it went in only the last setting counts.
                    set.clear();
                    set.push(point);
                }
                Some(last) if point.c < last.c => {
                    set.push(BathPoint { min: (point.min - JUMP_MIN.value()).max(last.min), c: last.c });
                    set.push(point);
                }
                Some(_) => {}
                None => set.push(point),
            }
        }
        let room_c = cooling().room_c.value;
        let read = if readings.is_empty() {
            Vec::new()
        } else {
            from_log(&rising(readings), room_c).ok()?.0.points().to_vec()
        };
        if let (Some(last), Some(read)) = (set.last().copied(), read.first()) {
            set.push(BathPoint { min: (read.min - JUMP_MIN.value()).max(last.min), c: last.c });
        }
        let since = if self.reports { self.since_reported(dropped, &read) } else { Vec::new() };
        set.extend(read);
        set.extend(since);
        from_drop(set)
    }

    /// What is taken of water a device reports, after what it reported last: fallen as in any gap where it is silent, and
    /// nothing earned after half an hour; where it was falling it goes on to fall; else as it was read.
    fn since_reported(&self, dropped: Timestamp, read: &[BathPoint]) -> Vec<BathPoint> {
        const STEP_MIN: f64 = 2.0;
        let Some((last, known)) = read.last().zip(self.known_until) else { return Vec::new() };
        let known = Minutes::between(dropped, known).value();
        let silent = known - last.min > cooling().log_gap_min.value;
        let falling = self.falling(dropped, read);
        if !silent && !falling {
            return Vec::new();
        }
        let until =
            last.min + if falling { LONGEST_GAP_MIN } else { (known - last.min).min(LONGEST_GAP_MIN) };
        let steps = ((until - last.min) / STEP_MIN).ceil() as usize;
        let fallen = (1..=steps).map(|i| (last.min + STEP_MIN * i as f64).min(until)).map(|min| {
            let c = unheated_c(*last, cooling().room_c.value, min);
            let counts = if silent && min <= known { unseen_c(c, min - last.min) } else { c };
            BathPoint { min, c: counts.min(last.c) }
        });
        let mut points: Vec<BathPoint> = fallen.collect();
        if !falling {
            // What is to come is reckoned as it was, and judged when it is read.
            points.push(BathPoint { min: known.max(until) + JUMP_MIN.value(), c: last.c });
        }
        points
    }

    /// Whether its readings fall.
    fn falling(&self, dropped: Timestamp, read: &[BathPoint]) -> bool {
        let Some(last) = read.last() else { return false };
        let at = moved(dropped, Minutes::new(last.min));
        let set = self.settings.iter().rev().find(|(t, _)| *t <= at);
        set.is_some_and(|(_, set)| falls(read.iter().rev().map(|p| (p.min, p.c)), set.value()))
    }
}

/// Off its setting by less is nothing.
pub(crate) const SHORT: Kelvin = Kelvin::new(0.5);
/// A fall is looked for over so long.
pub(crate) const FALL_OVER: Minutes = Minutes::new(5.0);

/// Whether heated water falls, by its readings (minutes, °C), the last first: it is short of what it was held at, and
/// lower than a few minutes before. What it was held at is its highest of the last hour, not what it is set to: a
/// thermometer that reads low, or is taken to, would make every swing of a thermostat a power cut.
pub(crate) fn falls(mut back: impl Iterator<Item = (f64, f64)>, set_c: f64) -> bool {
    const HELD_OVER_MIN: f64 = 60.0;
    const FALL_K: f64 = 0.3;
    let (over, short) = (FALL_OVER.value(), SHORT.value());
    let Some((at, last)) = back.next() else { return false };
    let (mut held, mut before) = (last, None);
    for (min, c) in back.take_while(|(min, _)| at - min <= HELD_OVER_MIN) {
        held = held.max(c);
        if at - min >= over && before.is_none() {
            before = Some((min, c));
        }
    }
    let longest = cooling().log_gap_min.value + over;
    let fell = before.is_some_and(|(min, c)| at - min <= longest && c - last >= FALL_K);
    fell && last <= held.min(set_c) - short
}

/// From the drop on: what came before is what it was then.
fn from_drop(all: Vec<BathPoint>) -> Option<BathTrace> {
    let mut points: Vec<BathPoint> = Vec::with_capacity(all.len());
    for point in rising(all) {
        match points.last_mut() {
            Some(last) if point.min <= 0.0 => *last = point,
            _ => points.push(point),
        }
    }
    BathTrace::new(points).ok()
}

/// Warmer than any bath, °C.
const ANY_C: f64 = 1000.0;

/// Two readings of still water further apart than this were not of one fall, K.
const STEADY_K: f64 = 0.2;

/// Without two points at one instant: the later counts.
fn rising(points: Vec<BathPoint>) -> Vec<BathPoint> {
    let mut all: Vec<BathPoint> = Vec::with_capacity(points.len());
    for point in points {
        match all.last_mut() {
            Some(last) if point.min <= last.min => *last = BathPoint { min: last.min, c: point.c },
            _ => all.push(point),
        }
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    fn c_at(h: &BathHistory, min: Minutes) -> f64 {
        h.trace(t(0)).expect("known").at((min * 60.0).value())
    }

    #[test]
    fn what_is_only_set_is_taken_as_set_from_before_the_drop_on() {
        let h = BathHistory {
            settings: vec![(t(-90), Celsius::new(50.0)), (t(-30), Celsius::new(56.0))],
            ..BathHistory::default()
        };
        assert_eq!((c_at(&h, Minutes::new(0.0)), c_at(&h, Minutes::new(300.0))), (56.0, 56.0));
        assert_eq!(BathHistory::default().trace(t(0)), None);
    }

    #[test]
    fn a_setting_lowered_counts_at_once_and_one_raised_only_when_it_is_read() {
        let lowered = BathHistory {
            settings: vec![(t(-5), Celsius::new(60.0)), (t(30), Celsius::new(54.0))],
            ..BathHistory::default()
        };
        assert_eq!((c_at(&lowered, Minutes::new(29.0)), c_at(&lowered, Minutes::new(31.0))), (60.0, 54.0));
        let mut raised = BathHistory {
            settings: vec![(t(-5), Celsius::new(54.0)), (t(30), Celsius::new(60.0))],
            ..BathHistory::default()
        };
        assert_eq!(c_at(&raised, Minutes::new(100.0)), 54.0);
        raised.readings = vec![(t(50), Celsius::new(59.9)), (t(55), Celsius::new(60.0))];
        assert_eq!(c_at(&raised, Minutes::new(49.0)), 54.0);
        assert!((c_at(&raised, Minutes::new(55.0)) - 60.0).abs() < 1e-9);
    }

    #[test]
    fn readings_beat_the_setting_and_gaps_are_taken_the_safe_way() {
        let h = BathHistory {
            settings: vec![(t(-5), Celsius::new(56.0))],
            readings: vec![
                (t(10), Celsius::new(51.0)),
                (t(15), Celsius::new(51.0)),
                (t(90), Celsius::new(56.0)),
            ],
            ..BathHistory::default()
        };
        // Before the first reading: no warmer than that shows.
        assert_eq!(
            (c_at(&h, Minutes::new(0.0)), c_at(&h, Minutes::new(9.0)), c_at(&h, Minutes::new(12.0))),
            (51.0, 51.0, 51.0)
        );
        // Seventy-five minutes that nobody saw.
        assert!(c_at(&h, Minutes::new(85.0)) < 45.0, "{}", c_at(&h, Minutes::new(85.0)));
        // Read before the drop: the last of those is where it starts.
        let before = BathHistory {
            settings: vec![(t(-60), Celsius::new(56.0))],
            readings: vec![
                (t(-20), Celsius::new(50.0)),
                (t(-12), Celsius::new(52.0)),
                (t(-3), Celsius::new(55.5)),
            ],
            ..BathHistory::default()
        };
        assert_eq!(c_at(&before, Minutes::new(30.0)), 55.5);
        // Nothing known later is looked at.
        assert_eq!(h.until(t(12)).readings.len(), 1);
    }

    fn cooler() -> Falls {
        use super::super::{Air, Cover, WaterState, shapes};
        let (_, vessel) = shapes().iter().find(|(id, _)| id == "cooler-20").expect("shipped");
        let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
        Falls { aim: Some(Celsius::new(55.0)), ..Falls::of(vessel, &WaterState::of(Cover::Lid, &[]), air) }
    }

    fn by_hand(falls: Falls, readings: &[(i64, f64)], known: i64) -> BathHistory {
        let readings = readings.iter().map(|(min, c)| (t(*min), Celsius::new(*c))).collect();
        let h = BathHistory { readings, falls: Some(falls), checked: true, ..BathHistory::default() };
        h.until(t(known))
    }

    #[test]
    fn water_nothing_heats_is_proved_by_readings_alone() {
        // Nobody looked: nothing is known, whatever it was meant to be.
        let unseen = by_hand(cooler(), &[], 120);
        assert_eq!(c_at(&unseen, Minutes::new(60.0)), 21.0);
        // Read every twenty-five minutes: between two readings never below the second.
        let read = by_hand(cooler(), &[(-2, 58.0), (23, 57.0), (48, 56.2)], 50);
        for min in 0..=48 {
            let c = c_at(&read, Minutes::new(f64::from(min)));
            let least = if min < 23 { 57.0 } else { 56.2 };
            assert!((least - 1e-9..=58.0).contains(&c), "{min}: {c}");
        }
        // After the last it falls, earns nothing half an hour later, and what is to come is reckoned.
        let late = by_hand(cooler(), &[(-2, 58.0), (23, 57.0)], 90);
        assert!(c_at(&late, Minutes::new(40.0)) < 57.0 && c_at(&late, Minutes::new(40.0)) > 55.0);
        assert!(c_at(&late, Minutes::new(60.0)) < 52.0);
        assert_eq!(c_at(&late, Minutes::new(100.0)), 55.0);
    }

    #[test]
    fn water_that_was_added_hides_how_low_it_was() {
        let falls = Falls { added: vec![t(28)], ..cooler() };
        let topped = by_hand(falls.clone(), &[(0, 57.0), (30, 57.0)], 31);
        let least = c_at(&topped, Minutes::new(27.0));
        assert!(least < 56.5 && least > 53.0, "{least}");
        // A pot on a burner can have been off it all the time.
        let pot = by_hand(Falls { heat: Heat::Burner, ..cooler() }, &[(0, 57.0), (30, 57.0)], 31);
        assert!(c_at(&pot, Minutes::new(27.0)) < 56.5);
        // Left open it is taken to have lost more.
        let open = by_hand(Falls { open: vec![(t(5), t(10))], ..falls }, &[(0, 57.0), (30, 57.0)], 31);
        assert!(c_at(&open, Minutes::new(27.0)) < least);
    }

    #[test]
    fn what_was_warmed_before_it_was_first_read_earned_nothing_till_then() {
        // Read twenty minutes after the drop: it can only have fallen to that.
        let fell = by_hand(cooler(), &[(20, 57.0)], 21);
        assert_eq!(c_at(&fell, Minutes::new(5.0)), 57.0);
        // Hot water went in a little before; or it stands on a burner: it may have been cold till then.
        for falls in [Falls { added: vec![t(15)], ..cooler() }, Falls { heat: Heat::Burner, ..cooler() }] {
            let warmed = by_hand(falls, &[(20, 57.0)], 21);
            assert!(c_at(&warmed, Minutes::new(19.0)) < 52.0 && c_at(&warmed, Minutes::new(20.0)) == 57.0);
        }
    }

    #[test]
    fn a_setting_lowered_after_a_reading_counts_until_it_is_read_again() {
        let settings =
            vec![(t(-5), Celsius::new(60.0)), (t(30), Celsius::new(50.0)), (t(40), Celsius::new(52.0))];
        let readings = vec![(t(20), Celsius::new(59.8)), (t(25), Celsius::new(59.8))];
        let mut h = BathHistory { settings, readings, ..BathHistory::default() };
        let at = |h: &BathHistory, min: f64| c_at(h, Minutes::new(min));
        assert_eq!((at(&h, 29.0), at(&h, 31.0), at(&h, 41.0), at(&h, 600.0)), (59.8, 50.0, 52.0, 52.0));
        // One that was raised earns nothing.
        h.settings.push((t(50), Celsius::new(65.0)));
        assert_eq!(at(&h, 600.0), 59.8);
        // Read again it is as it was read.
        h.readings.extend([(t(32), Celsius::new(58.0)), (t(34), Celsius::new(57.0))]);
        assert!(at(&h, 31.9) <= 50.0 && (at(&h, 32.0) - 58.0).abs() < 1e-9, "{}", at(&h, 31.9));
        // A setting at the instant of a reading counts after it.
        let both = BathHistory {
            settings: vec![(t(-5), Celsius::new(60.0)), (t(20), Celsius::new(50.0))],
            readings: vec![(t(20), Celsius::new(59.8))],
            ..BathHistory::default()
        };
        assert_eq!(at(&both, 21.0), 50.0);
    }

    fn reported(readings: &[(i64, f64)], known: i64) -> BathHistory {
        let readings = readings.iter().map(|(min, c)| (t(*min), Celsius::new(*c))).collect();
        BathHistory { readings, reports: true, ..BathHistory::set(t(-5), Celsius::new(60.0)) }.until(t(known))
    }

    #[test]
    fn a_device_that_falls_silent_proves_nothing_half_an_hour_later() {
        let steady: Vec<(i64, f64)> = (0..=60).map(|min| (min, 60.0)).collect();
        let at = |h: &BathHistory, min: f64| c_at(h, Minutes::new(min));
        let soon = reported(&steady, 65);
        assert_eq!((at(&soon, 64.0), at(&soon, 500.0)), (60.0, 60.0));
        let late = reported(&steady, 120);
        assert!(at(&late, 75.0) < 56.5 && at(&late, 89.0) > 50.0, "{} {}", at(&late, 75.0), at(&late, 89.0));
        assert!(at(&late, 95.0) < 52.0 && at(&late, 119.0) < 52.0);
        assert_eq!(at(&late, 130.0), 60.0, "what is to come is reckoned");
        // Somebody who typed a reading and goes away does not lose a bath its heater holds.
        let typed = BathHistory { reports: false, ..late };
        assert_eq!(at(&typed, 119.0), 60.0);
    }

    #[test]
    fn water_that_falls_is_taken_to_fall_on() {
        let falling: Vec<(i64, f64)> =
            (0..=60).map(|min| (min, 60.0 - (min - 40).max(0) as f64 * 0.2)).collect();
        let h = reported(&falling, 60);
        assert!((c_at(&h, Minutes::new(60.0)) - 56.0).abs() < 1e-9);
        assert!(c_at(&h, Minutes::new(90.0)) < 49.0 && c_at(&h, Minutes::new(180.0)) < 35.0);
        // Warming up, or dipped by cold food and coming back, it is not.
        let warming: Vec<(i64, f64)> = (0..=60).map(|min| (min, 50.0 + min as f64 * 0.1)).collect();
        assert_eq!(c_at(&reported(&warming, 60), Minutes::new(180.0)), 56.0);
    }

    #[test]
    fn a_thermostat_that_swings_is_no_power_cut() {
        // Held a tenth or two about 56 °C, read by a thermometer that nobody checked and that is taken to read half a
        // degree high.
        let swings: Vec<(i64, f64)> =
            (0..=60).map(|min| (min, 55.5 + 0.2 * (min as f64 * 0.6).sin())).collect();
        for until in 30..=60 {
            let h = reported(&swings[..=until], until as i64);
            let then = c_at(&h, Minutes::new(240.0));
            assert!((55.2..=55.8).contains(&then), "{until} min: {then} °C foreseen");
        }
        // A cut is seen before ten minutes of it have gone, whatever the thermometer is off by.
        let cut: Vec<(i64, f64)> = (0..=60).map(|min| (min, 55.5 - (min - 40).max(0) as f64 * 0.1)).collect();
        let seen = (41..=60)
            .find(|until| c_at(&reported(&cut[..=*until], *until as i64), Minutes::new(240.0)) < 40.0);
        assert!(seen.is_some_and(|min| min <= 46), "{seen:?}");
    }

    #[test]
    fn a_gap_of_years_is_followed_for_a_day() {
        let years = 5 * 525_600;
        let heated = BathHistory {
            readings: vec![(t(0), Celsius::new(58.0)), (t(years), Celsius::new(58.0))],
            ..BathHistory::set(t(-5), Celsius::new(58.0))
        };
        let cooler = by_hand(cooler(), &[(0, 58.0), (years, 57.0)], 2 * years);
        for h in [heated, cooler] {
            let trace = h.trace(t(0)).expect("known");
            assert!(trace.points().len() < 3000 && trace.at(3600.0 * 24.0 * 30.0) < 52.0);
        }
    }

    #[test]
    fn no_gap_earns_a_kill_after_half_an_hour() {
        let far = by_hand(cooler(), &[(0, 60.0), (90, 58.0)], 90);
        assert!(c_at(&far, Minutes::new(25.0)) >= 58.0 && c_at(&far, Minutes::new(35.0)) < 52.0);
        let first_late = by_hand(cooler(), &[(120, 58.0)], 121);
        assert!(
            c_at(&first_late, Minutes::new(60.0)) < 52.0 && c_at(&first_late, Minutes::new(100.0)) == 58.0
        );
    }

    #[test]
    fn what_thermometers_read_too_high_comes_off_settings_and_unchecked_readings() {
        let h = BathHistory {
            readings: vec![(t(5), Celsius::new(55.0))],
            ..BathHistory::set(t(0), Celsius::new(55.0))
        };
        let less = h.less(Kelvin::new(0.4));
        assert_eq!((less.settings[0].1.value(), less.readings[0].1.value()), (54.6, 54.6));
        let checked = BathHistory { checked: true, ..h }.less(Kelvin::new(0.4));
        assert_eq!((checked.settings[0].1.value(), checked.readings[0].1.value()), (54.6, 55.0));
    }
}
