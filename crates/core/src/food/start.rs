//! Where a piece comes from, and what is assumed of it then.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::figures::Basis;
use crate::units::Celsius;

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
    ///
    /// ```
    /// assert_eq!(hold_steady_core::food::From::Freezer.id(), "freezer");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Refrigerator => "refrigerator",
            Self::Counter => "counter",
            Self::Freezer => "freezer",
        }
    }

    /// What is assumed of a piece from there.
    ///
    /// ```
    /// use hold_steady_core::{food::From, units::Celsius};
    /// assert!(From::Freezer.start().nominal_c < Celsius::new(-10.0));
    /// ```
    #[must_use]
    pub fn start(self) -> &'static StartState {
        &starts()[self.id()]
    }
}

/// What is assumed of a piece's temperature when it goes in.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct StartState {
    /// Most likely, °C.
    pub nominal_c: Celsius,
    /// Coldest, for safe times, °C.
    pub slow_c: Celsius,
    /// Warmest, for texture times, °C.
    pub fast_c: Celsius,
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

static STARTS: LazyLock<BTreeMap<String, StartState>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/starts.json")).expect("shipped and tested")
});

/// The start states by identifier.
///
/// ```
/// assert_eq!(hold_steady_core::food::starts().len(), 3);
/// ```
#[must_use]
pub fn starts() -> &'static BTreeMap<String, StartState> {
    &STARTS
}
