//! What is known of a bath's water over a cook: what it was set to, and what was read in it. What is taken of that, for
//! each question asked of it, is [`Waters`](super::Waters).

use jiff::Timestamp;

use super::{Dip, Falls, ProbeLog, Trust};
use crate::figures::bench;
use crate::units::{Celsius, Kelvin, Minutes};

/// One reading of water.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WaterRead {
    /// When.
    pub at: Timestamp,
    /// What, the thermometer's offset taken off.
    pub celsius: Celsius,
    /// How much lower the water may have been, as its own thermometer was checked (or not).
    pub reads_high: Kelvin,
    /// A device reported it by itself: that it falls silent means something.
    pub reported: bool,
}

impl WaterRead {
    /// By a thermometer nobody checked near there, written down by hand.
    ///
    /// ```
    /// use hold_steady_core::{bath::WaterRead, units::{Celsius, Kelvin}};
    /// let read = WaterRead::typed("2026-11-25T16:00:00Z".parse()?, Celsius::new(55.0));
    /// assert_eq!((read.reads_high, read.reported), (Kelvin::new(0.5), false));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn typed(at: Timestamp, celsius: Celsius) -> Self {
        Self { at, celsius, reads_high: bench().unchecked_k.kelvin(), reported: false }
    }

    /// The same, reported by a device.
    ///
    /// ```
    /// use hold_steady_core::{bath::WaterRead, units::Celsius};
    /// assert!(WaterRead::reported("2026-11-25T16:00:00Z".parse()?, Celsius::new(55.0)).reported);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn reported(at: Timestamp, celsius: Celsius) -> Self {
        Self { reported: true, ..Self::typed(at, celsius) }
    }

    /// By a thermometer that was checked near there.
    ///
    /// ```
    /// use hold_steady_core::{bath::WaterRead, units::{Celsius, Kelvin}};
    /// let read = WaterRead::typed("2026-11-25T16:00:00Z".parse()?, Celsius::new(55.0)).checked();
    /// assert_eq!(read.reads_high, Kelvin::ZERO);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn checked(self) -> Self {
        Self { reads_high: Kelvin::ZERO, ..self }
    }

    /// Read by an instrument whose checks say so.
    #[must_use]
    pub(crate) fn of(at: Timestamp, read: Celsius, trust: &Trust, reported: bool) -> Self {
        let celsius = trust.corrected(read);
        Self { at, celsius, reads_high: (celsius - trust.at_least(read)).max(Kelvin::ZERO), reported }
    }

    /// The least the water was.
    pub(crate) fn at_least(&self) -> Celsius {
        self.celsius - self.reads_high
    }
}

/// What is known of a bath's water.
///
/// ```
/// use hold_steady_core::bath::{BathHistory, WaterRead};
/// use hold_steady_core::units::Celsius;
/// let at = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
/// // Set to 55 °C and never read: taken to be as it was set.
/// let set = BathHistory { settings: vec![(at(0), Celsius::new(55.0))], ..BathHistory::default() };
/// assert_eq!(set.trace(at(10)).expect("known").at(3600.0), 55.0);
/// // Read twice, an hour apart, and as it was set: as it was read, between the two as well.
/// let read = |min, c| WaterRead::typed(at(min), Celsius::new(c));
/// let agrees = BathHistory { readings: vec![read(20, 54.8), read(80, 55.1)], ..set.clone() };
/// assert!((agrees.trace(at(10)).expect("known").at(40.0 * 60.0) - 54.95).abs() < 1e-6);
/// // Read a degree too cold: between the two it may have been off.
/// let disagrees = BathHistory { readings: vec![read(20, 54.0), read(80, 54.5)], ..set };
/// assert!(disagrees.trace(at(10)).expect("known").at(60.0 * 60.0) < 45.0);
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
pub struct BathHistory {
    /// What it was set to, and from when on, by time.
    pub settings: Vec<(Timestamp, Celsius)>,
    /// What was read in it, by time.
    pub readings: Vec<WaterRead>,
    /// What its own instrument reads too high, as the kitchen says: taken off what it was set to, and off readings that
    /// agree with that.
    pub error: Kelvin,
    /// The baths it was moved into after, and when, by time. What one bath was read to be says nothing of another.
    pub moved: Vec<(Timestamp, BathHistory)>,
    /// Food that went in, and how far it is foreseen to draw the water down.
    pub dips: Vec<Dip>,
    /// From when until when the piece was not in the water, or nobody knows where it was: counted as the worst.
    pub away: Vec<(Timestamp, Timestamp)>,
    /// When its heater was off, by the cook's word or because nobody knows: from and until, by time.
    pub off: Vec<(Timestamp, Timestamp)>,
    /// When this machine was away and nobody said what the water did: from and until, by time.
    pub unwatched: Vec<(Timestamp, Timestamp)>,
    /// What a probe read in the piece itself.
    pub probe: Option<ProbeLog>,
    /// Nothing moves its water: the piece takes up heat more slowly there.
    pub still: bool,
    /// How its water falls where nobody looks; as any open pot where nothing is known of the vessel.
    pub falls: Option<Falls>,
    /// Up to when it is known; what comes later is reckoned, not known.
    pub known_until: Option<Timestamp>,
}

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

    /// The bath the piece lies in at the end of what is known.
    ///
    /// ```
    /// use hold_steady_core::bath::BathHistory;
    /// let (first, second) = (BathHistory::default(), BathHistory::default());
    /// assert!(first.then("2026-11-25T16:00:00Z".parse()?, second).last().moved.is_empty());
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn last(&self) -> &Self {
        self.moved.last().map_or(self, |(_, next)| next)
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
            readings: self.readings.iter().copied().filter(|r| r.at <= now).collect(),
            moved: moved.collect(),
            probe: self.probe.clone().map(|p| ProbeLog { readings: known(&p.readings), ..p }),
            dips: self.dips.iter().copied().filter(|d| d.at <= now).collect(),
            away: self.away.iter().filter(|a| a.0 < now).map(|(a, b)| (*a, (*b).min(now))).collect(),
            off: self.off.iter().filter(|o| o.0 < now).map(|(a, b)| (*a, (*b).min(now))).collect(),
            unwatched: self.unwatched.iter().filter(|o| o.1 <= now).copied().collect(),
            known_until: Some(now),
            ..self.clone()
        }
    }

    /// When this machine was away last, where nobody said since what the water did, or read it.
    #[must_use]
    pub(crate) fn unseen(&self) -> Option<(Timestamp, Timestamp)> {
        let last = self.readings.last().map(|r| r.at);
        self.unwatched.last().copied().filter(|u| last.is_none_or(|last| last < u.1))
    }

    /// The same water by an instrument that reads so much too high, as the kitchen says.
    #[must_use]
    pub(crate) fn less(&self, reads_high: Kelvin) -> Self {
        Self {
            error: reads_high,
            moved: self.moved.iter().map(|(t, next)| (*t, next.less(reads_high))).collect(),
            ..self.clone()
        }
    }

    /// Whether a heater holds it, as far as is known.
    #[must_use]
    pub(crate) fn is_heated(&self) -> bool {
        self.falls.as_ref().is_none_or(|f| f.heat == super::Heat::Heater)
    }

    /// Whether its heater holds it and nobody has read what it does while the food draws it down: its water is then as the
    /// plan says it takes the food.
    #[must_use]
    pub(crate) fn takes_food_unseen(&self, dropped: Timestamp) -> bool {
        const SOON: Minutes = Minutes::new(30.0);
        let seen = |r: &WaterRead| (Minutes::ZERO..=SOON).contains(&Minutes::between(dropped, r.at));
        self.is_heated() && self.moved.is_empty() && !self.readings.iter().any(seen)
    }

    /// What it was set to at an instant.
    pub(crate) fn setting_at(&self, at: Timestamp) -> Option<Celsius> {
        let first = self.settings.first().map(|s| s.1);
        self.settings.iter().rev().find(|s| s.0 <= at).map(|s| s.1).or(first)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    #[test]
    fn only_what_was_known_at_an_instant_is_looked_at() {
        let read = |min| WaterRead::typed(t(min), Celsius::new(55.0));
        let h = BathHistory {
            readings: vec![read(5), read(30)],
            away: vec![(t(10), t(40)), (t(50), t(60))],
            ..BathHistory::set(t(0), Celsius::new(55.0))
        };
        let known = h.until(t(20));
        assert_eq!((known.readings.len(), known.away.clone()), (1, vec![(t(10), t(20))]));
    }
}
