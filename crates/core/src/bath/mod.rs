//! The bath's temperature over time, and how heat passes from it.

mod bench;
mod falling;
mod form;
mod history;
mod learn;
mod mix;
mod now;
mod pool;
mod reported;
mod run;
mod thermometer;
mod unseen;
mod vapour;
mod vessel;
mod waters;

pub use bench::{Bench, BenchAnswer, Dries, Food, Level, Line, Unheated, usual_taps};
pub(crate) use falling::dip;
pub use falling::{Dip, Heat as WaterHeat, heat_by_readings};
pub use form::{BenchAsked, BenchForm};
pub use history::{BathHistory, WaterRead};
pub use learn::{LearnError, Learned, learn_heater, learn_loss};
pub use mix::{Mix, MixError, Split, Taps, mix, split};
pub use now::{BathNow, LastRead, bath_now, learned};
pub use pool::{Load, Pool};
pub use reported::{
    ClockTrouble, Columns, NotTaken, Report, Reported, clock_trouble, report_from_csv, report_from_json,
};
pub use run::{Care, Falls, WaterEvent, WaterEventKind, WaterState, care};
pub use thermometer::{Against, Check, Thermometer, Trust, USUAL_BATH, taken, trust};
pub use vapour::{Air, Cover, boiling_c, evaporation, saturation_pa};
pub(crate) use vapour::{air_pa, latent_j_kg, transfer_m_s, vapour_kg_m3};
pub use vessel::{Heat, Vessel, VesselForm, Wall, WallData, shapes};
pub(crate) use waters::gate_of;
pub use waters::{Ahead, Path, Waters};

use crate::figures::{Basis, cooling};
use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

/// How well heat passes from a kind of surroundings into a piece.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Surroundings {
    /// Coefficient of heat transfer, W/m²K.
    pub w_m2k: f64,
    /// The least it may be, for safe times; as stated where it is absent.
    #[serde(default)]
    slow_w_m2k: Option<f64>,
    /// The most it may be, for texture times; as stated where it is absent.
    #[serde(default)]
    fast_w_m2k: Option<f64>,
    /// What it describes.
    pub what: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl Surroundings {
    /// The least and the most the coefficient may be, W/m²K.
    #[must_use]
    pub(crate) fn ends_w_m2k(&self) -> (f64, f64) {
        (self.slow_w_m2k.unwrap_or(self.w_m2k), self.fast_w_m2k.unwrap_or(self.w_m2k))
    }
}

/// Whether the water of a bath is moved.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Water {
    /// By a pump.
    #[default]
    Circulated,
    /// Left alone: a pot, a cooler.
    Still,
}

impl Water {
    /// The word in requests and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::bath::Water::Still.id(), "still");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Circulated => "circulated",
            Self::Still => "still",
        }
    }

    /// Whether it is what is assumed where nothing is said. (By reference, as serde asks for it.)
    #[must_use]
    #[allow(clippy::trivially_copy_pass_by_ref)]
    pub(crate) const fn is_usual(&self) -> bool {
        matches!(self, Self::Circulated)
    }

    /// The kind of water with this word.
    ///
    /// ```
    /// use hold_steady_core::bath::Water;
    /// assert_eq!(Water::from_id("still"), Some(Water::Still));
    /// assert_eq!(Water::from_id("boiling"), None);
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        [Self::Circulated, Self::Still].into_iter().find(|w| w.id() == id)
    }
}

static SURROUNDINGS: LazyLock<BTreeMap<String, Surroundings>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/surfaces.json")).expect("shipped and tested")
});

/// All surroundings by identifier.
///
/// ```
/// let all = hold_steady_core::bath::surroundings();
/// assert!(all["still-bath"].w_m2k < all["circulated-bath"].w_m2k);
/// ```
#[must_use]
pub fn surroundings() -> &'static BTreeMap<String, Surroundings> {
    &SURROUNDINGS
}

/// The coefficient under a pocket of air `gap_mm` thick: the air's own resistance in series with the
/// water's, W/m²K. Taken for both faces it is the slow, safe side, for a pocket covers part of one.
///
/// ```
/// // Two millimetres of air leave a seventh of a circulated bath's 95 W/m²K.
/// let h = hold_steady_core::bath::under_air_pocket(95.0, 2.0);
/// assert!((h - 11.4).abs() < 0.1);
/// ```
#[must_use]
pub fn under_air_pocket(w_m2k: f64, gap_mm: f64) -> f64 {
    1.0 / (1.0 / w_m2k + gap_mm / 1000.0 / cooling().air_w_mk.value)
}

/// A sealed bag in a circulated bath.
///
/// ```
/// assert_eq!(hold_steady_core::bath::circulated().w_m2k, 95.0);
/// ```
#[must_use]
pub fn circulated() -> &'static Surroundings {
    &SURROUNDINGS["circulated-bath"]
}

/// A sealed bag, or anything else, in still water.
#[must_use]
pub(crate) fn still() -> &'static Surroundings {
    &SURROUNDINGS["still-bath"]
}

/// Where water boils at an altitude, °C, if `c` is hotter than that: no bath is.
#[must_use]
pub(crate) fn above_boil_c(c: f64, altitude_m: f64) -> Option<f64> {
    const ROUNDING_K: f64 = 0.05;
    Some(boiling_c(altitude_m)).filter(|boils| c > boils + ROUNDING_K)
}

/// One point of a bath's temperature over time.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct BathPoint {
    /// Minutes from the drop.
    pub min: f64,
    /// °C.
    pub c: f64,
}

/// The bath's temperature over time, straight between its points and flat after the last (and
/// before the first). A constant bath is a trace of one point.
///
/// ```
/// use hold_steady_core::bath::{BathPoint, BathTrace};
/// let cooler = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 30.0, c: 56.5 }])?;
/// assert_eq!(cooler.at(15.0 * 60.0), 57.25);
/// assert_eq!(cooler.set_point(), 56.5);
/// # Ok::<(), hold_steady_core::bath::TraceError>(())
/// ```
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "Vec<BathPoint>", into = "Vec<BathPoint>")]
pub struct BathTrace(Vec<BathPoint>);

/// Why a series of points is no trace.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TraceError {
    /// There are no points.
    #[error("a bath needs at least one point")]
    Empty,
    /// Time stands still or runs backward.
    #[error("point {index}: minute {min} does not come after minute {before}")]
    Order {
        /// Which point, from 0.
        index: usize,
        /// Its minute.
        min: f64,
        /// The minute of the point before.
        before: f64,
    },
    /// A value is not a finite number.
    #[error("point {index} is not a finite number")]
    NotFinite {
        /// Which point, from 0.
        index: usize,
    },
}

impl BathTrace {
    /// A trace through the given points.
    ///
    /// # Errors
    /// When there is none, one is not finite, or their minutes do not rise.
    ///
    /// ```
    /// use hold_steady_core::bath::{BathPoint, BathTrace, TraceError};
    /// let twice = vec![BathPoint { min: 5.0, c: 55.0 }, BathPoint { min: 5.0, c: 60.0 }];
    /// assert!(matches!(BathTrace::new(twice), Err(TraceError::Order { index: 1, .. })));
    /// ```
    pub fn new(points: Vec<BathPoint>) -> Result<Self, TraceError> {
        if points.is_empty() {
            return Err(TraceError::Empty);
        }
        for (index, p) in points.iter().enumerate() {
            if !(p.min.is_finite() && p.c.is_finite()) {
                return Err(TraceError::NotFinite { index });
            }
            if index > 0 && p.min <= points[index - 1].min {
                return Err(TraceError::Order { index, min: p.min, before: points[index - 1].min });
            }
        }
        Ok(Self(points))
    }

    /// A bath that keeps its temperature.
    ///
    /// ```
    /// use hold_steady_core::bath::BathTrace;
    /// assert_eq!(BathTrace::constant(55.0).at(3600.0), 55.0);
    /// ```
    #[must_use]
    pub fn constant(celsius: f64) -> Self {
        Self(vec![BathPoint { min: 0.0, c: celsius }])
    }

    /// The points.
    ///
    /// ```
    /// use hold_steady_core::bath::BathTrace;
    /// assert_eq!(BathTrace::constant(55.0).points().len(), 1);
    /// ```
    #[must_use]
    pub fn points(&self) -> &[BathPoint] {
        &self.0
    }

    /// The set point: the trace's last temperature.
    ///
    /// ```
    /// use hold_steady_core::bath::BathTrace;
    /// assert_eq!(BathTrace::constant(55.0).set_point(), 55.0);
    /// ```
    #[must_use]
    pub fn set_point(&self) -> f64 {
        self.0[self.0.len() - 1].c
    }

    /// The same trace, all of it warmer by `kelvin`.
    #[must_use]
    pub(crate) fn shifted(&self, kelvin: f64) -> Self {
        Self(self.0.iter().map(|p| BathPoint { min: p.min, c: p.c + kelvin }).collect())
    }

    /// The same trace as far as `until_min` and no further: what comes later is not known yet, and it keeps
    /// the temperature it had then.
    #[must_use]
    pub(crate) fn until(&self, until_min: f64) -> Self {
        if self.0.len() == 1 {
            return self.clone();
        }
        let mut points: Vec<BathPoint> = self.0.iter().copied().filter(|p| p.min < until_min).collect();
        points.push(BathPoint { min: until_min, c: self.at(until_min * 60.0) });
        Self(points)
    }

    /// This trace up to a minute, and from then on another whose minutes count from there.
    #[must_use]
    pub(crate) fn then(&self, min: f64, next: &Self) -> Self {
        const JUMP_MIN: f64 = 0.01;
        let mut points: Vec<BathPoint> = self.0.iter().copied().filter(|p| p.min < min - JUMP_MIN).collect();
        if min > JUMP_MIN {
            points.push(BathPoint { min: min - JUMP_MIN, c: self.at(min * 60.0 - JUMP_MIN * 60.0) });
        }
        points.push(BathPoint { min, c: next.at(0.0) });
        let after = next.0.iter().filter(|p| p.min > 0.0);
        points.extend(after.map(|p| BathPoint { min: p.min + min, c: p.c }));
        Self(points)
    }

    /// The same trace with a point wherever it passes one of these temperatures, so that every stretch lies
    /// on one side of each.
    ///
    /// ```
    /// use hold_steady_core::bath::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 55.0 }, BathPoint { min: 10.0, c: 53.0 }])?;
    /// let points = falling.with_passings(&[54.4]).points().to_vec();
    /// assert!((points[1].min - 3.0).abs() < 1e-9 && points.len() == 3);
    /// # Ok::<(), hold_steady_core::bath::TraceError>(())
    /// ```
    #[must_use]
    pub fn with_passings(&self, celsius: &[f64]) -> Self {
        let mut points = vec![self.0[0]];
        for pair in self.0.windows(2) {
            let (a, b) = (pair[0], pair[1]);
            let mut passed: Vec<f64> = celsius.iter().copied().filter(|c| (a.c < *c) != (b.c < *c)).collect();
            passed.sort_by(f64::total_cmp);
            if b.c < a.c {
                passed.reverse();
            }
            for c in passed {
                let min = a.min + (b.min - a.min) * (c - a.c) / (b.c - a.c);
                if min > points[points.len() - 1].min && min < b.min {
                    points.push(BathPoint { min, c });
                }
            }
            points.push(b);
        }
        Self(points)
    }

    /// The same trace with a point at each of these minutes too.
    #[must_use]
    pub(crate) fn with_minutes(&self, minutes: impl Iterator<Item = f64>) -> Self {
        const SAME_MIN: f64 = 1e-6;
        let (first, last) = (self.0[0].min, self.0[self.0.len() - 1].min);
        let more = minutes
            .filter(|m| (first..last).contains(m))
            .map(|min| BathPoint { min, c: self.at(min * 60.0) });
        let mut points: Vec<BathPoint> = self.0.iter().copied().chain(more).collect();
        points.sort_by(|a, b| a.min.total_cmp(&b.min));
        points.dedup_by(|b, a| b.min - a.min < SAME_MIN);
        Self(points)
    }

    /// The same trace with a stretch taken out of it: what was from then on comes so much sooner.
    ///
    /// ```
    /// use hold_steady_core::bath::{BathPoint, BathTrace};
    /// let warming = BathTrace::new(vec![BathPoint { min: 0.0, c: 20.0 }, BathPoint { min: 60.0, c: 60.0 }])?;
    /// let floated = warming.without(15.0, 30.0);
    /// assert_eq!((floated.at(14.0 * 60.0).round(), floated.at(16.0 * 60.0).round()), (29.0, 51.0));
    /// # Ok::<(), hold_steady_core::bath::TraceError>(())
    /// ```
    #[must_use]
    pub fn without(&self, from_min: f64, minutes: f64) -> Self {
        if minutes <= 0.0 {
            return self.clone();
        }
        let until = from_min + minutes;
        let after = self.0.iter().filter(|p| p.min > until);
        let mut points = vec![BathPoint { min: 0.0, c: self.at(until * 60.0) }];
        points.extend(after.map(|p| BathPoint { min: p.min - until, c: p.c }));
        self.then(from_min, &Self(points))
    }

    /// The colder of this and another at every instant.
    #[must_use]
    pub(crate) fn lower_of(&self, other: &Self) -> Self {
        let mut minutes: Vec<f64> = self.0.iter().chain(&other.0).map(|p| p.min).collect();
        minutes.sort_by(f64::total_cmp);
        minutes.dedup();
        let mut points: Vec<BathPoint> = Vec::with_capacity(minutes.len());
        let both = |min: f64| (self.at(min * 60.0), other.at(min * 60.0));
        for pair in minutes.windows(2) {
            let ((a, b), (c, d)) = (both(pair[0]), both(pair[1]));
            points.push(BathPoint { min: pair[0], c: a.min(b) });
            // Where one passes the other in between, both are straight.
            if (a < b) != (c < d) && a != b && c != d {
                let share = (a - b) / ((a - b) - (c - d));
                let min = pair[0] + share * (pair[1] - pair[0]);
                if min > pair[0] && min < pair[1] {
                    points.push(BathPoint { min, c: a + share * (c - a) });
                }
            }
        }
        let last = minutes[minutes.len() - 1];
        let (a, b) = both(last);
        points.push(BathPoint { min: last, c: a.min(b) });
        Self(points)
    }

    /// The same with as few points as keep it within `within` K, and by so much colder: never warmer than it was, and
    /// each point less spares a solver steps.
    #[must_use]
    pub(crate) fn thinned(&self, within: f64) -> Self {
        fn keep(points: &[BathPoint], within: f64, kept: &mut Vec<BathPoint>) {
            let (Some(a), Some(b)) = (points.first(), points.last()) else { return };
            let off = |p: &BathPoint| (p.c - (a.c + (b.c - a.c) * (p.min - a.min) / (b.min - a.min))).abs();
            let farthest = (1..points.len().saturating_sub(1))
                .max_by(|i, j| off(&points[*i]).total_cmp(&off(&points[*j])));
            match farthest.filter(|i| off(&points[*i]) > within) {
                Some(i) => {
                    keep(&points[..=i], within, kept);
                    keep(&points[i..], within, kept);
                }
                None => kept.push(*b),
            }
        }
        let mut kept = vec![self.0[0]];
        keep(&self.0, within, &mut kept);
        Self(kept).shifted(-within)
    }

    /// The same with another last temperature.
    #[must_use]
    pub(crate) fn ending_at(mut self, c: f64) -> Self {
        if let Some(last) = self.0.last_mut() {
            last.c = c;
        }
        self
    }

    /// Lowest and highest temperature from 0 to `until_min`.
    #[must_use]
    pub(crate) fn range(&self, until_min: f64) -> (f64, f64) {
        let ends = [self.at(0.0), self.at(until_min * 60.0)];
        let within = self.0.iter().filter(|p| (0.0..=until_min).contains(&p.min)).map(|p| p.c);
        let all = || ends.into_iter().chain(within.clone());
        (all().fold(f64::INFINITY, f64::min), all().fold(f64::NEG_INFINITY, f64::max))
    }

    /// Temperature at `t_s` seconds.
    ///
    /// ```
    /// use hold_steady_core::bath::{BathPoint, BathTrace};
    /// let rising = BathTrace::new(vec![BathPoint { min: 0.0, c: 40.0 }, BathPoint { min: 10.0, c: 60.0 }])?;
    /// assert_eq!((rising.at(300.0), rising.at(6000.0)), (50.0, 60.0));
    /// # Ok::<(), hold_steady_core::bath::TraceError>(())
    /// ```
    #[must_use]
    pub fn at(&self, t_s: f64) -> f64 {
        let min = t_s / 60.0;
        let i = self.0.partition_point(|p| p.min <= min);
        match (i, self.0.len()) {
            (0, _) => self.0[0].c,
            (i, n) if i == n => self.0[n - 1].c,
            (i, _) => {
                let (a, b) = (self.0[i - 1], self.0[i]);
                a.c + (b.c - a.c) * (min - a.min) / (b.min - a.min)
            }
        }
    }

    /// The straight stretches from 0 to `until_s`: each with its end (s) and its slope (K/s).
    pub(crate) fn segments(&self, until_s: f64) -> impl Iterator<Item = (f64, f64)> + '_ {
        let ends = self
            .0
            .iter()
            .map(|p| p.min * 60.0)
            .filter(move |t| *t > 0.0 && *t < until_s)
            .chain(std::iter::once(until_s));
        ends.scan(0.0, move |start, end| {
            let (a, b) = (*start, end);
            *start = end;
            let slope = if b > a { (self.at(b) - self.at(a)) / (b - a) } else { 0.0 };
            Some((end, slope))
        })
    }
}

impl TryFrom<Vec<BathPoint>> for BathTrace {
    type Error = TraceError;
    fn try_from(points: Vec<BathPoint>) -> Result<Self, TraceError> {
        Self::new(points)
    }
}

impl From<BathTrace> for Vec<BathPoint> {
    fn from(trace: BathTrace) -> Self {
        trace.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn p(min: f64, c: f64) -> BathPoint {
        BathPoint { min, c }
    }

    #[test]
    fn stretches_meet_at_the_points_and_end_at_the_end() -> Result<(), TraceError> {
        let t = BathTrace::new(vec![p(0.0, 58.0), p(10.0, 52.0), p(20.0, 52.0)])?;
        let got: Vec<_> = t.segments(3600.0).collect();
        assert_eq!(got, vec![(600.0, -0.01), (1200.0, 0.0), (3600.0, 0.0)]);
        assert_eq!(t.segments(300.0).collect::<Vec<_>>(), vec![(300.0, -0.01)]);
        Ok(())
    }

    #[test]
    fn the_colder_of_two_is_taken_at_every_instant() -> Result<(), TraceError> {
        let warming = BathTrace::new(vec![p(0.0, 40.0), p(30.0, 60.0)])?;
        let dropping = BathTrace::new(vec![p(0.0, 58.0), p(10.0, 50.0), p(40.0, 58.0)])?;
        let low = warming.lower_of(&dropping);
        for i in 0..=500 {
            let s = f64::from(i) * 6.0;
            assert!((low.at(s) - warming.at(s).min(dropping.at(s))).abs() < 1e-9, "{s}");
        }
        assert_eq!(low.set_point(), 58.0);
        Ok(())
    }

    #[test]
    fn disorder_is_refused_by_place() {
        assert_eq!(BathTrace::new(vec![]), Err(TraceError::Empty));
        let back = BathTrace::new(vec![p(0.0, 55.0), p(5.0, 55.0), p(5.0, 56.0)]);
        assert!(matches!(back, Err(TraceError::Order { index: 2, .. })));
        let nan = BathTrace::new(vec![p(0.0, f64::NAN)]);
        assert_eq!(nan, Err(TraceError::NotFinite { index: 0 }));
    }
}
