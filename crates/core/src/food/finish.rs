//! What is done to a piece after the bath.

use crate::figures::Basis;
use crate::units::Minutes;
use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::Deserialize;

/// One step after the pull.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FinishStep {
    /// Short identifier.
    pub id: String,
    /// How long it usually takes, minutes; of a step that chills, where nothing is known of the piece.
    pub min: Minutes,
    /// It is chilled in this step, for as long as the piece needs.
    #[serde(default)]
    pub chills: bool,
    /// What to do, in the imperative.
    #[serde(rename = "do")]
    pub what: String,
    /// Why, or what to expect.
    pub why: String,
}

/// How a food is finished.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Finish {
    /// In a few words.
    pub name: String,
    /// Whether it is seared.
    pub sears: bool,
    /// Whether it is dried first.
    pub dries: bool,
    /// Seconds on a face that a sear starts with.
    #[serde(default)]
    pub face_s: Option<f64>,
    /// Its steps from the pull to the plate, in order.
    pub steps: Vec<FinishStep>,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl Finish {
    /// From the pull to the plate, minutes.
    #[must_use]
    pub(crate) fn minutes(&self) -> Minutes {
        self.steps.iter().map(|s| s.min).sum()
    }

    /// The step that chills, and the minutes before it; `None` where it is eaten warm.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("beef-strip").finish().chill().is_none(), "it is seared and eaten");
    /// ```
    #[must_use]
    pub fn chill(&self) -> Option<(&FinishStep, Minutes)> {
        let i = self.steps.iter().position(|s| s.chills)?;
        Some((&self.steps[i], self.steps[..i].iter().map(|s| s.min).sum()))
    }

    /// The step with this identifier.
    #[must_use]
    pub(crate) fn step(&self, id: &str) -> Option<&FinishStep> {
        self.steps.iter().find(|s| s.id == id)
    }

    /// The last step: onto the plate.
    #[must_use]
    pub(crate) fn last(&self) -> &FinishStep {
        self.steps.last().expect("the finishes are checked: each has steps")
    }
}

static FINISHES: LazyLock<BTreeMap<String, Finish>> = LazyLock::new(|| {
    let all: BTreeMap<String, Finish> =
        serde_json::from_str(include_str!("../../data/finishes.json")).expect("shipped and tested");
    for (id, f) in &all {
        let dried = f.step("dry").is_some();
        assert!(!f.steps.is_empty() && f.sears == f.step("sear").is_some() && f.dries == dried, "{id}");
        assert_eq!(f.sears, f.face_s.is_some(), "{id}");
    }
    all
});

/// The finishes by key.
///
/// ```
/// assert!(hold_steady_core::food::finishes().values().all(|f| !f.steps.is_empty()));
/// ```
#[must_use]
pub fn finishes() -> &'static BTreeMap<String, Finish> {
    &FINISHES
}
