//! The calculation interface: one JSON object in, one out, for scripts and other programs.
//!
//! Everything is checked before anything is computed, and every bad field is named at once.

mod bath;
mod chill;
mod fields;
mod heat;
mod openapi;
mod sear;

pub use bath::{EvaporationAnswer, LoadAnswer, WarmupAnswer, evaporates, load, mix, warmup};
pub use chill::{ChillAnswer, chill};
pub use fields::{CalcError, FieldError};
pub use heat::{HeatAnswer, heat, judged};
pub use openapi::openapi;
pub use sear::{SearAnswer, SearLayer, sear};

pub use crate::heat::MOST_EFFORT;
use serde_json::Value;

use crate::units::shortened;

/// The kinds of calculation there are.
pub const KINDS: [&str; 7] = ["heat", "chill", "sear", "mix", "warmup", "load", "evaporation"];

/// Runs a calculation of the given kind.
///
/// # Errors
/// When the kind is unknown or the request cannot be taken; see [`CalcError`].
///
/// ```
/// use hold_steady_core::calc;
/// let request = serde_json::json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55, "intact": true});
/// let answer = calc::run("heat", &request)?;
/// assert_eq!(answer["verdict"]["level"], "pasteurized");
/// # Ok::<(), calc::CalcError>(())
/// ```
pub fn run(kind: &str, request: &Value) -> Result<Value, CalcError> {
    const PLAIN: &str = "an answer holds numbers and text only";
    match kind {
        "heat" => Ok(serde_json::to_value(heat(request)?).expect(PLAIN)),
        "chill" => Ok(serde_json::to_value(chill(request)?).expect(PLAIN)),
        "sear" => Ok(serde_json::to_value(sear(request)?).expect(PLAIN)),
        "mix" => Ok(serde_json::to_value(mix(request)?).expect(PLAIN)),
        "warmup" => Ok(serde_json::to_value(warmup(request)?).expect(PLAIN)),
        "load" => Ok(serde_json::to_value(load(request)?).expect(PLAIN)),
        "evaporation" => Ok(serde_json::to_value(evaporates(request)?).expect(PLAIN)),
        other => Err(CalcError::one(
            "Unknown calculation",
            "kind",
            format!("“{}” is not computed here; there is: {}", shortened(other), KINDS.join(", ")),
        )),
    }
}

/// Runs a calculation on the text of a request.
///
/// # Errors
/// As [`run`], and when the text is not one JSON object or gives a field twice.
///
/// ```
/// use hold_steady_core::calc::run_text;
/// assert!(run_text("heat", "not JSON").is_err());
/// ```
pub fn run_text(kind: &str, text: &str) -> Result<Value, CalcError> {
    let not_json = |e: serde_json::Error| {
        CalcError::one("The request is not JSON", "", format!("{e}. Send one JSON object."))
    };
    crate::strict::check(text).map_err(not_json)?;
    let request = serde_json::from_str(text).map_err(not_json)?;
    run(kind, &request)
}
