//! The sentence a cook fills in, read: every fault beside its field, nothing typed lost.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::PlanRequest;
use crate::prep::PrepForm;

/// The sentence exactly as typed. Every field is text, so that nothing typed is ever lost. Fields that a
/// food does not ask for are empty.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct PlanForm {
    /// Food identifier, or any part of a name that leaves no doubt.
    pub food: String,
    /// Thickness with or without unit; `about` and two ends are understood.
    pub thickness: String,
    /// Across, of a block.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub width: String,
    /// Along, of a block.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub length: String,
    /// Identifier of a size.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub size: String,
    /// What an egg is for: `raw` or `soft`.
    #[serde(rename = "use", skip_serializing_if = "String::is_empty")]
    pub egg_use: String,
    /// About fish: `none`, `frozen` or `exempt`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub parasites: String,
    /// Filling of a jar.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub fill: String,
    /// Temperature of a jar's glass.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub glass: String,
    /// Whether it was cooked before: `yes` or `no`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub prepared: String,
    /// `refrigerator`, `counter` or `freezer`.
    pub from: String,
    /// For how long it was out of the refrigerator; empty while nobody has said.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub out: String,
    /// `circulated` or `still`, where the bath is not the kitchen's usual one.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub water: String,
    /// Doneness identifier, `ours` for the kitchen's own, or `own` for another temperature.
    pub done: String,
    /// The doneness the temperature field was last filled from: tells which of the two was changed.
    pub done_was: String,
    /// Food the fields were last filled for.
    pub food_was: String,
    /// Bath temperature with or without unit.
    pub bath: String,
    /// Time in the bath; empty for as long as it needs.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub time: String,
    /// `whole`, `bladed`, or empty while the question is open.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub intact: String,
    /// `well`, `at-risk`, or the identifier of a guest of the kitchen's.
    pub guests: String,
    /// When it should be ready.
    pub ready: String,
    /// Identifier of the vessel it goes into; empty where none is named.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub vessel: String,
    /// `hot` where the bath is hot already, `warming` where it goes in while the water still warms.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub heated: String,
    /// The thickness exactly, in millimetres: shown in other units it is rounded, and means the same until somebody
    /// types another. Counts only where it is written as what stands in `thickness`, so that no link can show one
    /// thickness and plan another.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub thickness_exact: String,
    /// [`Units::code`] of the units bare numbers were typed in; empty for the reader's own.
    pub typed_in: String,
    /// The work before the bath.
    #[serde(flatten)]
    pub prep: PrepForm,
}

/// A sentence read: the form with its fields filled in, and the request or the faults.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// The form with defaults in place of what was left out, and everything typed kept.
    pub form: PlanForm,
    /// What was understood, when all of it was.
    pub request: Option<PlanRequest>,
    /// By field name, what is wrong with it.
    pub errors: BTreeMap<&'static str, String>,
    /// Foods the name could mean, by identifier, when it leaves a doubt.
    pub could_be: Vec<String>,
    /// By field name, what may have been meant by what cannot be: a number in the other unit.
    pub meant: BTreeMap<&'static str, String>,
}

/// The value of [`PlanForm::done`] for a temperature of no level.
pub const OWN_TEMPERATURE: &str = "own";
/// The value of [`PlanForm::done`] for the temperature the kitchen has dialled in.
pub const DIALLED: &str = "ours";
/// The doneness of an egg that is pasteurised and stays raw.
pub(super) const RAW: &str = "raw";

impl PlanForm {
    /// The same plan for another piece and other guests: what was said of this one is left open, and is asked
    /// anew.
    ///
    /// ```
    /// use hold_steady_core::plan::PlanForm;
    /// let typed = PlanForm { bath: "56 °C".into(), intact: "whole".into(), ..PlanForm::default() };
    /// let again = typed.for_another_piece();
    /// assert_eq!((again.bath.as_str(), again.intact.as_str()), ("56 °C", ""));
    /// ```
    #[must_use]
    pub fn for_another_piece(&self) -> Self {
        let open = String::new;
        Self {
            thickness: open(),
            thickness_exact: open(),
            width: open(),
            length: open(),
            size: open(),
            parasites: open(),
            prepared: open(),
            from: open(),
            out: open(),
            intact: open(),
            guests: open(),
            ready: open(),
            prep: PrepForm { batch: open(), salted: open(), weight: open(), ..self.prep.clone() },
            ..self.clone()
        }
    }
}
