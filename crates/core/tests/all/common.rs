//! What several of these tests begin with.

use hold_steady_core::plan::PlanForm;

/// The sentence of a whole piece, as typed.
pub(crate) fn form(food: &str, thickness: &str, bath: &str) -> PlanForm {
    PlanForm {
        food: food.into(),
        thickness: thickness.into(),
        bath: bath.into(),
        intact: "whole".into(),
        ..PlanForm::default()
    }
}
