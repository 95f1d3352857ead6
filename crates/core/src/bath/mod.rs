//! The bath's temperature over time, and how heat passes from it.

mod bench;
mod event;
mod falling;
mod form;
mod history;
mod learn;
mod minutes;
mod mix;
mod now;
mod pool;
mod programme;
mod record;
mod reported;
mod run;
mod thermometer;
mod unseen;
mod vapour;
mod vessel;
mod waters;

pub use crate::heat::{BathPoint, BathTrace, TraceError};
pub use bench::{Bench, BenchAnswer, Dries, Food, Level, Line, Unheated, usual_taps};
pub use event::{WaterEvent, WaterEventKind, WaterRefusal, as_it_stands, can_be_done};
pub use falling::{Dip, Heat as WaterHeat, heat_by_readings};
pub(crate) use falling::{STILL_FALLING, dip};
pub use form::{BenchAsked, BenchForm};
pub use history::{BathHistory, WaterRead};
pub(crate) use learn::LEAST_APART;
pub use learn::{LearnError, Learned, Sought, learn_heater, learn_loss};
pub use minutes::{Minute, Worse, by_minute, comes_often, minute_of, minutes};
pub use mix::{Mix, MixError, Split, Taps, mix, split};
pub use now::{BathNow, LastRead, Taught, bath_now, taught};
pub use pool::{Load, Pool};
pub use programme::{Programme, Stay};
pub use record::{
    BathRecord, IMPORTED, InstrumentRecord, KeptVessel, ProbeLog, REPORTED, ReadingRecord, SettingRecord,
    Thinned, usual_air,
};
pub use reported::{
    ClockTrouble, Columns, NotTaken, Report, Reported, clock_trouble, report_from_csv, report_from_json,
};
pub use run::{Care, Falls, Unwatched, WaterState, care};
pub use thermometer::{Against, Check, Thermometer, Trust, USUAL_BATH, taken, trust};
pub use vapour::{Air, Cover, boiling_c, evaporation, saturation_pa};
pub(crate) use vapour::{air_pa, latent_j_kg, stefan, transfer_m_s, vapour_kg_m3};
pub use vessel::{Heat, Vessel, VesselForm, Wall, WallData, shapes, too_hot};
pub(crate) use waters::gate_of;
pub use waters::{Ahead, Path, Waters};

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::figures::{Basis, cooling};

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
/// Source: resistances in series, that of still air by `data/cooling.json`.
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
/// Source: `data/surfaces.json` (Baldwin 2012, from memory of it).
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
