//! What a kitchen has settled, and what is assumed of a piece before it goes in.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

use crate::bath::Water;
use crate::food::{Basis, Pantry};
use crate::piece::Spreads;
use crate::safety::{Profile, profile, profiles};
use crate::units::Units;

/// Where the piece comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum From {
    /// Kept cold.
    #[default]
    Refrigerator,
    /// Out for a while.
    Counter,
    /// Frozen through.
    Freezer,
}

impl From {
    /// All of them, in the order they are offered.
    pub const ALL: [Self; 3] = [Self::Refrigerator, Self::Counter, Self::Freezer];

    /// The word in records and forms.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Refrigerator => "refrigerator",
            Self::Counter => "counter",
            Self::Freezer => "freezer",
        }
    }

    /// What is assumed of a piece from there.
    #[must_use]
    pub fn start(self) -> &'static Start {
        &starts()[self.id()]
    }
}

/// What is assumed of a piece's temperature when it goes in.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Start {
    /// Most likely, °C.
    pub nominal_c: f64,
    /// Coldest, for safe times, °C.
    pub slow_c: f64,
    /// Warmest, for texture times, °C.
    pub fast_c: f64,
    /// It was out of the refrigerator: for how long is asked.
    #[serde(default)]
    pub out: bool,
    /// As in “from the …”.
    pub label: String,
    /// Why these.
    pub note: String,
    /// Where they come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

static STARTS: LazyLock<BTreeMap<String, Start>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/starts.json")).expect("shipped and tested")
});

/// The start states by identifier.
#[must_use]
pub fn starts() -> &'static BTreeMap<String, Start> {
    &STARTS
}

/// What a kitchen has settled for all its plans.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct KitchenRules {
    /// The code it works by; its identifier in records, where an unknown one is refused.
    #[serde(with = "profile_by_id")]
    pub profile: &'static Profile,
    /// What its instrument reads too high, °C; taken off the set point everywhere.
    pub bath_error_c: f64,
    /// How far its bath may be off, K.
    pub bath_spread_k: f64,
    /// How far a measured thickness may be off, mm.
    pub thickness_spread_mm: f64,
    /// Whether its bath's water is moved by a pump.
    #[serde(default, skip_serializing_if = "Water::is_usual")]
    pub water: Water,
    /// How high it lies, m: water boils colder there.
    #[serde(default, skip_serializing_if = "is_sea_level")]
    pub altitude_m: f64,
}

// As serde asks for it.
#[allow(clippy::trivially_copy_pass_by_ref)]
fn is_sea_level(altitude_m: &f64) -> bool {
    *altitude_m == 0.0
}

/// Ranges of a kitchen's figures: what is wrong, the field first.
const RULE_RANGES: [(&str, (f64, f64)); 4] = [
    ("bath_error_c", (0.0, 5.0)),
    ("bath_spread_k", (0.0, 5.0)),
    ("thickness_spread_mm", (0.0, 20.0)),
    ("altitude_m", (0.0, 6000.0)),
];

impl KitchenRules {
    /// Whether every figure can be.
    ///
    /// # Errors
    /// The field, its value and the range.
    pub fn check(&self) -> Result<(), (&'static str, String)> {
        let values = [self.bath_error_c, self.bath_spread_k, self.thickness_spread_mm, self.altitude_m];
        for ((field, (low, high)), value) in RULE_RANGES.into_iter().zip(values) {
            if !(low..=high).contains(&value) {
                return Err((field, format!("{value} is outside {low} to {high}")));
            }
        }
        Ok(())
    }
}

/// A profile as its identifier.
mod profile_by_id {
    use super::{Profile, profile, profiles};
    use serde::{Deserialize, Deserializer, Serializer};

    pub fn serialize<S: Serializer>(p: &&'static Profile, s: S) -> Result<S::Ok, S::Error> {
        s.serialize_str(&p.id)
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(d: D) -> Result<&'static Profile, D::Error> {
        let id = String::deserialize(d)?;
        profile(&id).ok_or_else(|| {
            let known: Vec<&str> = profiles().iter().map(|p| p.id.as_str()).collect();
            let id: String = id.chars().take(40).collect();
            serde::de::Error::custom(format!("“{id}” is not a profile; there is: {}", known.join(", ")))
        })
    }
}

impl Default for KitchenRules {
    fn default() -> Self {
        let spreads = Spreads::default();
        Self {
            profile: &profiles()[0],
            bath_error_c: 0.0,
            bath_spread_k: spreads.bath_k,
            thickness_spread_mm: spreads.thickness_mm,
            water: Water::default(),
            altitude_m: 0.0,
        }
    }
}

/// Everything a sentence is read by, besides what was typed.
#[derive(Debug, Clone, Copy)]
pub struct Setting<'a> {
    /// The reader's units.
    pub units: Units,
    /// The time now.
    pub now: Timestamp,
    /// The kitchen's time zone.
    pub zone: &'a TimeZone,
    /// What the kitchen has settled.
    pub rules: &'a KitchenRules,
    /// What the kitchen keeps of its own.
    pub pantry: &'a Pantry,
}

static NOTHING: LazyLock<Pantry> = LazyLock::new(Pantry::default);

impl<'a> Setting<'a> {
    /// A kitchen without anything of its own.
    #[must_use]
    pub fn new(units: Units, now: Timestamp, zone: &'a TimeZone, rules: &'a KitchenRules) -> Self {
        Self { units, now, zone, rules, pantry: &NOTHING }
    }

    /// The same with what it keeps of its own.
    #[must_use]
    pub const fn with_pantry(self, pantry: &'a Pantry) -> Self {
        Self { pantry, ..self }
    }
}
