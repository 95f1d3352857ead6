//! What goes wrong with a bath, read off its readings.

use jiff::Timestamp;

use super::SILENT;
use crate::bath::{BathNow, Dip, WaterHeat, WaterRead, heat_by_readings};
use crate::units::{Celsius, Kelvin, Minutes};

/// What goes wrong with a bath.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Trouble {
    /// The device has stopped reporting.
    Silent {
        /// Since its last reading.
        since: Timestamp,
    },
    /// Nobody has read water that no heater holds for as long as a reading proves anything.
    Unread,
    /// This machine was away, and nobody said since what the water did.
    Unwatched {
        /// From when.
        from: Timestamp,
        /// Until when.
        until: Timestamp,
    },
    /// The last reading jumped further than water can: the probe is out of it, or broken.
    Jumped {
        /// When.
        at: Timestamp,
        /// From.
        from: Celsius,
        /// To.
        to: Celsius,
    },
    /// It falls under the lowest of its last swings: is its lid off, is it on?
    Falling {
        /// Since it began to.
        since: Timestamp,
        /// What it was then.
        from: Celsius,
        /// What it is.
        to: Celsius,
    },
    /// It has fallen on for a quarter of an hour: nothing heats it.
    NoHeat {
        /// Since it was as set.
        since: Timestamp,
        /// What it was then.
        from: Celsius,
        /// What it is.
        to: Celsius,
    },
    /// It stays colder than it is set.
    Below {
        /// Since it was last as set, or was first read.
        since: Timestamp,
        /// By so much.
        by: Kelvin,
    },
    /// It is hotter than it is set.
    Over {
        /// By so much.
        by: Kelvin,
    },
    /// Evaporation brings it down to its lowest line.
    LowWater {
        /// When.
        at: Timestamp,
    },
}

impl Trouble {
    /// The word in addresses and acknowledgements.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::board::Trouble::Unread.id(), "unread");
    /// ```
    #[must_use]
    pub const fn id(&self) -> &'static str {
        match self {
            Self::Silent { .. } => "silent",
            Self::Unread => "unread",
            Self::Unwatched { .. } => "unwatched",
            Self::Jumped { .. } => "jumped",
            Self::Falling { .. } => "falling",
            Self::NoHeat { .. } => "no-heat",
            Self::Below { .. } => "below",
            Self::Over { .. } => "over",
            Self::LowWater { .. } => "low-water",
        }
    }

    /// Whether what lies in it may not be safe for it, if nobody acts: worth a loud alarm.
    ///
    /// ```
    /// use hold_steady_core::{board::Trouble, units::Kelvin};
    /// assert!(Trouble::Unread.is_grave() && !Trouble::Over { by: Kelvin::new(1.0) }.is_grave());
    /// ```
    #[must_use]
    pub const fn is_grave(&self) -> bool {
        !matches!(self, Self::Over { .. } | Self::Falling { .. })
    }
}

/// Water does not change faster than this by itself, K in a minute: a full kettle into eight litres does.
const JUMP_K_MIN: f64 = 5.0;
const OVER: Kelvin = Kelvin::new(0.7);
/// Off its setting by less is nothing.
const SHORT: Kelvin = Kelvin::new(0.5);
/// A rise is looked for over so long.
const OVER_A_WHILE: Minutes = Minutes::new(5.0);
/// Rising or cooling by less is none.
const MOVES: Kelvin = Kelvin::new(0.1);
/// Food that went in, a lid that was off: it may be below its setting for so long.
const COMES_BACK: Minutes = Minutes::new(20.0);
/// The lowest line is said so long before.
const LOW_BEFORE: Minutes = Minutes::new(30.0);

/// What goes wrong with a bath that stands so, by its readings up to now, what it was set to when, and the food that went
/// in; the worst first.
///
/// ```
/// # use hold_steady_core::{bath::{bath_now, usual_taps}, board::{Trouble, troubles}, book::{usual_air, BathRecord}, units::Celsius};
/// # let at = "2026-11-25T16:00:00Z".parse()?;
/// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: at,
/// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
/// let stands = bath_now(&bath, usual_air(0.0), usual_taps(), at);
/// let later = "2026-11-25T16:10:00Z".parse()?;
/// let read = [hold_steady_core::bath::WaterRead::reported(at, Celsius::new(56.0))];
/// let told = troubles(&stands, &read, (&[], &[]), None, later);
/// assert_eq!(told, [Trouble::Silent { since: at }]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn troubles(
    stands: &BathNow,
    readings: &[WaterRead],
    (settings, dips): (&[(Timestamp, Celsius)], &[Dip]),
    low_at: Option<Timestamp>,
    now: Timestamp,
) -> Vec<Trouble> {
    let mut all = Vec::new();
    if stands.state.emptied.is_some() {
        return all;
    }
    if stands.unproved {
        all.push(Trouble::Unread);
    }
    all.extend(stands.unwatched.map(|u| Trouble::Unwatched { from: u.from, until: u.until }));
    if let Some(&WaterRead { at, celsius: last, reported, .. }) = readings.last() {
        let silent = reported && now.duration_since(at) > SILENT;
        if silent {
            all.push(Trouble::Silent { since: at });
        }
        let before = readings.iter().rev().nth(1).filter(|b| Minutes::between(b.at, at) <= Minutes::new(2.0));
        let jumped = before.filter(|b| {
            let min = Minutes::between(b.at, at).value().max(0.25);
            (last - b.celsius).abs().value() / min.min(1.0) > JUMP_K_MIN
        });
        if let Some(b) = jumped {
            all.push(Trouble::Jumped { at, from: b.celsius, to: last });
        } else if let Some(set) = stands.wanted.filter(|_| stands.state.aim.is_none()) {
            all.extend(match heat_by_readings(readings, settings, dips) {
                WaterHeat::Gone { since, from, .. } => Some(Trouble::NoHeat { since, from, to: last }),
                WaterHeat::Falls { since, from } => Some(Trouble::Falling { since, from, to: last }),
                WaterHeat::On => against_setting(readings, set, dips, now),
            });
        }
    }
    all.extend(
        low_at.filter(|at| Minutes::between(now, *at) <= LOW_BEFORE).map(|at| Trouble::LowWater { at }),
    );
    all
}

/// Readings of a heated bath that does not fall against what it is set to.
fn against_setting(readings: &[WaterRead], set: Celsius, dips: &[Dip], now: Timestamp) -> Option<Trouble> {
    let WaterRead { at, celsius: last, .. } = *readings.last()?;
    if last > set + OVER {
        // One that was set lower cools by itself.
        let cooling = before(readings, at).is_some_and(|was| was - last >= MOVES);
        return (!cooling).then(|| Trouble::Over { by: last - set });
    }
    if last >= set - SHORT || dips.iter().any(|d| d.explains(at, set - last)) {
        return None;
    }
    // It may be warming up to it, which a rise shows, or coming back.
    let rises = before(readings, at).is_some_and(|was| last - was >= MOVES);
    let as_set = readings.iter().rev().find(|r| r.celsius >= set - SHORT).map(|r| r.at);
    let since = as_set.or(readings.first().map(|r| r.at)).unwrap_or(at);
    let long = Minutes::between(since, now) > COMES_BACK;
    (long && !rises).then(|| Trouble::Below { since, by: set - last })
}

/// What was read a while before.
fn before(readings: &[WaterRead], at: Timestamp) -> Option<Celsius> {
    readings.iter().rev().find(|r| Minutes::between(r.at, at) >= OVER_A_WHILE).map(|r| r.celsius)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::{bath_now, usual_taps};
    use crate::book::{BathRecord, SettingRecord, usual_air};

    fn t(s: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + s).expect("in range")
    }

    /// A bath set to 60 °C that reported `c` by seconds.
    fn told(c: &[(i64, f64)], now: i64) -> Vec<Trouble> {
        let settings = vec![SettingRecord {
            id: uuid::Uuid::nil(),
            at: t(0),
            celsius: Celsius::new(60.0),
            by: "cook".into(),
        }];
        let bath = BathRecord {
            id: uuid::Uuid::nil(),
            name: "box".into(),
            began_at: t(0),
            settings,
            vessel: None,
            water: Vec::new(),
            instruments: Vec::new(),
        };
        let readings: Vec<_> = c.iter().map(|(s, c)| WaterRead::reported(t(*s), Celsius::new(*c))).collect();
        let set = [(t(0), Celsius::new(60.0))];
        let stands = bath_now(&bath, usual_air(0.0), usual_taps(), t(now));
        troubles(&stands, &readings, (&set, &[]), None, t(now))
    }

    fn every_minute(c: impl Fn(f64) -> f64, min: i64) -> Vec<(i64, f64)> {
        (0..=min).map(|m| (m * 60, c(m as f64))).collect()
    }

    #[test]
    fn a_steady_bath_and_one_that_warms_or_takes_its_load_are_no_trouble() {
        for steady in [
            every_minute(|m| 60.0 + 0.1 * (m % 3.0), 60),
            every_minute(|m| (20.0 + m).min(60.0), 35),
            // Cold food went in twenty-five minutes ago.
            every_minute(|m| 60.0 - if m > 5.0 { 1.5 * (-(m - 5.0) / 10.0).exp() } else { 0.0 }, 20),
        ] {
            let last = steady.last().expect("some").0;
            assert_eq!(told(&steady, last + 10), [], "{:?}", steady.last());
        }
    }

    #[test]
    fn a_power_cut_is_told_from_when_it_began() {
        let falling = |min| every_minute(|m| 60.0 - (m - 30.0).max(0.0) * 0.15, min);
        // First it is asked, then it is said.
        let [Trouble::Falling { since, from, .. }] = told(&falling(40), 2410)[..] else {
            panic!("one trouble")
        };
        assert!((t(1500)..=t(1900)).contains(&since) && from.value() > 59.8, "{since} {from:?}");
        let [Trouble::NoHeat { since, to, .. }] = told(&falling(56), 56 * 60 + 10)[..] else {
            panic!("one trouble")
        };
        assert!((t(1500)..=t(1900)).contains(&since) && to.value() < 57.0, "{since}");
        // A heater too weak for it.
        let weak = every_minute(|_| 58.0, 60);
        assert!(
            matches!(told(&weak, 3610)[..], [Trouble::Below { since, by }] if by.value() > 1.9 && since == t(0))
        );
        let hot = every_minute(|_| 61.5, 60);
        assert!(matches!(told(&hot, 3610)[..], [Trouble::Over { by }] if by.value() > 1.4));
    }

    #[test]
    fn a_probe_out_of_the_water_and_a_silent_device_are_told_apart() {
        let mut out = every_minute(|_| 60.0, 30);
        out.push((1830, 41.0));
        let [Trouble::Jumped { from, to, .. }] = told(&out, 1840)[..] else {
            panic!("{:?}", told(&out, 1840))
        };
        assert_eq!((from.value(), to.value()), (60.0, 41.0));
        let steady = every_minute(|_| 60.0, 30);
        assert_eq!(told(&steady, 1800 + 140), []);
        assert_eq!(told(&steady, 1800 + 160), [Trouble::Silent { since: t(1800) }]);
    }
}
