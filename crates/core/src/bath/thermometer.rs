//! Thermometers, how they were checked, and what of a reading may be believed.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::figures::bench;
use crate::units::{Celsius, Kelvin};

/// What a thermometer was held in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Against {
    /// Crushed ice and water.
    Ice,
    /// Boiling water, at the kitchen's altitude.
    Boiling,
    /// Water beside a better thermometer.
    Reference,
}

impl Against {
    /// All of them, as they are chosen.
    pub const ALL: [Self; 3] = [Self::Ice, Self::Boiling, Self::Reference];

    /// The word in forms and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::bath::Against::Ice.id(), "ice");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Ice => "ice",
            Self::Boiling => "boiling",
            Self::Reference => "reference",
        }
    }
}

/// A check: what it read where the temperature was known.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Check {
    /// Which.
    pub id: Uuid,
    /// When.
    pub at: Timestamp,
    /// In what.
    pub against: Against,
    /// What it read, °C.
    pub read_c: Celsius,
    /// What it was, °C.
    pub true_c: Celsius,
}

impl Check {
    /// How much it reads too high there, K.
    ///
    /// Source: common practice, a check in ice and one in boiling water; the straight line between them is an assumption.
    ///
    /// ```
    /// # use hold_steady_core::{bath::{Against, Check}, units::*};
    /// let check = Check { id: uuid::Uuid::nil(), at: "2026-11-25T16:00:00Z".parse()?, against: Against::Ice,
    ///                     read_c: Celsius::new(0.4), true_c: Celsius::new(0.0) };
    /// assert_eq!(check.offset(), Kelvin::new(0.4));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn offset(&self) -> Kelvin {
        self.read_c - self.true_c
    }
}

/// A thermometer of a kitchen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Thermometer {
    /// Which.
    pub id: Uuid,
    /// What the kitchen calls it.
    pub name: String,
    /// Its checks, by time.
    #[serde(default)]
    pub checks: Vec<Check>,
}

/// How far a reading is believed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Trust {
    /// How much it reads too high, K: taken off.
    pub offset: Kelvin,
    /// How much too high it may still read after that, K.
    pub error: Kelvin,
    /// The check that says so.
    pub by: Option<Check>,
}

impl Trust {
    /// A reading without the offset.
    ///
    /// Source: common practice, a check in ice and one in boiling water; the straight line between them is an assumption.
    ///
    /// ```
    /// # use hold_steady_core::{bath::trust, units::*};
    /// let now = "2026-11-25T16:00:00Z".parse()?;
    /// assert_eq!(trust(&[], Celsius::new(55.0), now).corrected(Celsius::new(55.0)).value(), 55.0);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn corrected(&self, read: Celsius) -> Celsius {
        read - self.offset
    }

    /// How much is taken off a reading of what is to be cold: far from a check nothing that would make it colder.
    #[must_use]
    pub(crate) fn offset_of_cold(&self) -> Kelvin {
        let near = self.error <= Kelvin::ZERO;
        match self.by {
            Some(check) if !near => {
                if check.offset() < Kelvin::ZERO {
                    check.offset()
                } else {
                    Kelvin::ZERO
                }
            }
            _ => self.offset,
        }
    }

    /// The least the water was, for the rules.
    ///
    /// Source: common practice, a check in ice and one in boiling water; the straight line between them is an assumption.
    ///
    /// ```
    /// # use hold_steady_core::{bath::trust, units::*};
    /// let now = "2026-11-25T16:00:00Z".parse()?;
    /// // Never checked: half a degree less.
    /// assert_eq!(trust(&[], Celsius::new(55.0), now).at_least(Celsius::new(55.0)).value(), 54.5);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn at_least(&self, read: Celsius) -> Celsius {
        self.corrected(read) - self.error
    }
}

/// What its checks say of a reading of `read` at an instant: the check nearest in temperature counts (of two as near
/// the later), made before, and not too long ago. One far from the bath says little of the bath: its offset is taken,
/// and the error stays that of an unchecked thermometer. An offset that would warm a reading counts only then.
///
/// Source: common practice, a check in ice and one in boiling water; the straight line between them is an assumption.
///
/// ```
/// # use hold_steady_core::{bath::{Against, Check, trust}, units::*};
/// let now = "2026-11-25T16:00:00Z".parse()?;
/// let check = Check { id: uuid::Uuid::nil(), at: now, against: Against::Reference, read_c: Celsius::new(57.4), true_c: Celsius::new(57.0) };
/// let t = trust(&[check], Celsius::new(55.4), now);
/// assert!((t.at_least(Celsius::new(55.4)).value() - 55.0).abs() < 1e-9 && t.error == Kelvin::ZERO);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn trust(checks: &[Check], read: Celsius, at: Timestamp) -> Trust {
    let b = bench();
    let lasts = SignedDuration::from_secs((b.check_lasts_days.value * 86_400.0) as i64);
    let counts = |c: &&Check| c.at <= at && at.duration_since(c.at) <= lasts;
    let by = checks.iter().filter(counts).min_by(|x, y| {
        let far = |c: &Check| (read - c.read_c).abs();
        far(x).total_cmp(&far(y)).then(y.at.cmp(&x.at))
    });
    let near = by.is_some_and(|c| (read - c.read_c).abs() <= b.checked_within_k.kelvin());
    let offset = by.map_or(Kelvin::ZERO, Check::offset);
    Trust {
        offset: if near { offset } else { offset.max(Kelvin::ZERO) },
        error: if near { Kelvin::ZERO } else { b.unchecked_k.kelvin() },
        by: by.copied(),
    }
}

/// A bath that is neither hot nor cold: for what a thermometer is worth in most.
pub const USUAL_BATH: Celsius = Celsius::new(57.5);

/// Whether a check can be taken: what it read must be near enough to what it was.
///
/// # Errors
/// How far it is off, and the most that is taken, K.
///
/// ```
/// use hold_steady_core::{bath::taken, units::Celsius};
/// assert!(taken(Celsius::new(0.6), Celsius::new(0.0)).is_ok());
/// assert!(taken(Celsius::new(9.0), Celsius::new(0.0)).is_err());
/// ```
pub fn taken(read: Celsius, is: Celsius) -> Result<(), (Kelvin, Kelvin)> {
    let (off, most) = (read - is, bench().most_offset_k.kelvin());
    if off.abs() <= most { Ok(()) } else { Err((off, most)) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(day: i64) -> Timestamp {
        Timestamp::from_second(1_790_000_000 + day * 86_400).expect("in range")
    }

    fn check(day: i64, against: Against, read: f64, is: f64) -> Check {
        Check { id: Uuid::nil(), at: at(day), against, read_c: Celsius::new(read), true_c: Celsius::new(is) }
    }

    #[test]
    fn a_check_in_ice_takes_its_offset_off_and_proves_little_at_the_bath() {
        let ice = check(0, Against::Ice, 0.3, 0.0);
        let t = trust(&[ice], Celsius::new(55.0), at(1));
        assert_eq!((t.offset, t.error), (Kelvin::new(0.3), Kelvin::new(0.5)));
        // One that would warm the reading is not believed from so far away.
        let low = check(0, Against::Ice, -0.8, 0.0);
        assert_eq!(trust(&[low], Celsius::new(55.0), at(1)).offset, Kelvin::ZERO);
    }

    #[test]
    fn the_nearest_check_counts_then_the_later_and_none_that_is_old_or_to_come() {
        let all = [
            check(0, Against::Ice, 0.1, 0.0),
            check(1, Against::Reference, 56.2, 56.0),
            check(2, Against::Reference, 56.2, 55.9),
        ];
        let t = trust(&all, Celsius::new(55.0), at(3));
        assert!((t.offset.value() - 0.3).abs() < 1e-9 && t.error == Kelvin::ZERO, "{t:?}");
        assert_eq!(trust(&all, Celsius::new(55.0), at(400)).by, None);
        assert_eq!(trust(&all, Celsius::new(55.0), at(-1)).error, Kelvin::new(0.5));
        // Near the bath is within 10 K.
        assert_eq!(trust(&all[1..], Celsius::new(66.1), at(3)).error, Kelvin::ZERO);
        assert_eq!(trust(&all[1..], Celsius::new(66.3), at(3)).error, Kelvin::new(0.5));
    }
}
