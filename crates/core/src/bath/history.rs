//! What is known of a bath's water over a cook: what it was set to, and what was read in it. The one door from
//! records to a trace, and so to a verdict.

use crate::figures::cooling;
use jiff::Timestamp;

use super::{BathPoint, BathTrace, from_log};
use crate::units::{Celsius, Minutes};

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

    /// What was known at an instant.
    #[must_use]
    pub(crate) fn until(&self, now: Timestamp) -> Self {
        let known = |list: &[(Timestamp, Celsius)]| list.iter().copied().filter(|r| r.0 <= now).collect();
        let moved = self.moved.iter().filter(|m| m.0 <= now).map(|(at, next)| (*at, next.until(now)));
        Self { settings: known(&self.settings), readings: known(&self.readings), moved: moved.collect() }
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
        set.extend(read);
        // What came before the drop is what it was at the drop.
        let mut points: Vec<BathPoint> = Vec::with_capacity(set.len());
        for point in rising(set) {
            match points.last_mut() {
                Some(last) if point.min <= 0.0 => *last = point,
                _ => points.push(point),
            }
        }
        BathTrace::new(points).ok()
    }
}

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
}
