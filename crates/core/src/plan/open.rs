//! What a sentence leaves open while its answer hangs on it.

use super::{Plan, PlanForm, PlanRequest};
use crate::food::FoodClass;
use crate::safety::Rule;

/// A question whose answer a refusal hangs on: it is asked before anything else is said.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OpenQuestion {
    /// Whether fish was frozen against parasites.
    Parasites,
    /// Whether the piece is whole.
    Whole,
    /// Whether beans were soaked and boiled hard.
    Boiled,
    /// Whether milk was heated, and a live starter stirred in.
    Starter,
}

impl OpenQuestion {
    /// What a plan that is refused asks first; `None` where it is not refused, or nobody's answer would help.
    ///
    /// ```
    /// use hold_steady_core::{plan::{KitchenRules, OpenQuestion, PlanForm, Setting, plan}, units::Units};
    /// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let here = Setting::new(Units::default(), now, &zone, &rules);
    /// let asked = |form: PlanForm| -> Result<_, Box<dyn std::error::Error>> {
    ///     let reading = form.read(&here);
    ///     Ok(OpenQuestion::of(&plan(&reading.request.expect("complete"), now)?, &reading.form))
    /// };
    /// let salmon = PlanForm { food: "salmon-fillet".into(), bath: "50".into(), ..PlanForm::default() };
    /// assert_eq!(asked(salmon.clone())?, Some(OpenQuestion::Parasites));
    /// let mut said = salmon;
    /// OpenQuestion::Parasites.answer(&mut said, "frozen");
    /// assert_eq!(asked(said)?, None);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn of(plan: &Plan, form: &PlanForm) -> Option<Self> {
        if !plan.is_refused() {
            return None;
        }
        match plan.verdict.row {
            Rule::Fish if form.parasites.is_empty() => Some(Self::Parasites),
            Rule::MixedThrough | Rule::Pork if form.intact.is_empty() => Some(Self::Whole),
            Rule::RawBeans if form.prepared.is_empty() => Some(Self::Boiled),
            Rule::Ferment if form.prepared.is_empty() => Some(Self::Starter),
            _ => None,
        }
    }

    /// Puts an answer, one of those `words::answers_to` says, into the sentence.
    ///
    /// ```
    /// use hold_steady_core::{plan::{OpenQuestion, PlanForm}, words};
    /// let mut form = PlanForm::default();
    /// OpenQuestion::Whole.answer(&mut form, words::answers_to(OpenQuestion::Whole)[0].0);
    /// assert_eq!(form.intact, "whole");
    /// ```
    pub fn answer(self, form: &mut PlanForm, id: &str) {
        let field = match self {
            Self::Parasites => &mut form.parasites,
            Self::Whole => &mut form.intact,
            Self::Boiled | Self::Starter => &mut form.prepared,
        };
        *field = id.to_owned();
    }
}

/// What counts while nobody has said otherwise.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Assumed {
    /// Pierced, so that what was outside may be inside.
    Pierced,
    /// Not frozen against parasites.
    NotFrozen,
    /// Raw.
    Raw,
}

impl Assumed {
    /// What a sentence is taken to mean; `None` where it says everything, or its refusal asks first.
    ///
    /// ```
    /// use hold_steady_core::{plan::{Assumed, KitchenRules, PlanForm, Setting, plan}, units::Units};
    /// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let reading = PlanForm::default().read(&Setting::new(Units::default(), now, &zone, &rules));
    /// let request = reading.request.expect("a steak, of which nobody said whether it is whole");
    /// assert_eq!(Assumed::of(&plan(&request, now)?, &request, &reading.form), Some(Assumed::Pierced));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn of(plan: &Plan, request: &PlanRequest, form: &PlanForm) -> Option<Self> {
        let food = request.food();
        if OpenQuestion::of(plan, form).is_some() {
            None
        } else if food.class.asks_if_intact() && request.intact.is_none() {
            Some(Self::Pierced)
        } else if food.class == FoodClass::Fish && form.parasites.is_empty() {
            Some(Self::NotFrozen)
        } else {
            (food.prepared.is_some() && form.prepared.is_empty()).then_some(Self::Raw)
        }
    }
}
