//! `chill`: one cooked piece on its way down, judged by the two-stage cooling rule.

use serde::Serialize;
use serde_json::Value;

use super::fields::{CalcError, Fields};
use super::heat::{CurvePoint, curve_points, range, read_food, read_shape, rounded};
use crate::bath::surroundings;
use crate::chill::{Chilled, Cooling, LONGEST_COOLING_MIN, around};
use crate::units::{Celsius, Length, Minutes, shortened};

/// Names of the ways to cool.
pub(super) fn methods() -> Vec<&'static str> {
    crate::chill::methods().collect()
}

/// The answer of `chill`. Times are minutes from when it goes in.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ChillAnswer {
    /// How it is cooled.
    pub method: String,
    /// Temperature of what cools it.
    pub around_c: f64,
    /// Coefficient used.
    pub surface_w_m2k: f64,
    /// Times and verdict.
    #[serde(flatten)]
    pub chilled: Chilled,
    /// The curve at whole minutes.
    pub curve: Vec<CurvePoint>,
}

/// Simulates and judges the cooling of one piece.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// let request = serde_json::json!({"food": "chicken-breast", "thickness_mm": 30, "start_c": 60,
///                                  "method": "ice-bath-stirred", "mass_kg": 2.0});
/// let answer = hold_steady_core::calc::run("chill", &request)?;
/// assert_eq!(answer["in_time"], true);
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn chill(request: &Value) -> Result<ChillAnswer, CalcError> {
    const USUAL_MIN: f64 = 360.0;
    let mut f = Fields::of(request)?;
    let food = read_food(&mut f);
    let thickness = f.needed_number("thickness_mm", range::THICKNESS_MM.0, range::THICKNESS_MM.1);
    let shape = read_shape(&mut f, food, thickness.map(Length::from_mm));
    let start_c = f.needed_number("start_c", range::COOL_FROM_C.0, range::COOL_FROM_C.1);
    let method = match f.text("method") {
        None => {
            if !f.has("method") {
                f.fault("method", format!("is missing; there is: {}", methods().join(", ")));
            }
            None
        }
        Some(name) if around(name).is_some() => Some(name),
        Some(other) => {
            let other = shortened(other);
            f.fault("method", format!("“{other}” is none of: {}", methods().join(", ")));
            None
        }
    };
    let around_c = f.number("around_c", range::START_C.0, range::COOL_FROM_C.1);
    let coefficient = f.number("surface_w_m2k", range::SURFACE_W_M2K.0, range::SURFACE_W_M2K.1);
    let mass_kg = f.number("mass_kg", range::MASS_KG.0, range::MASS_KG.1);
    let until = f.number("until_min", range::COOL_UNTIL_MIN.0, range::COOL_UNTIL_MIN.1);
    f.finish()?;
    let missing = || CalcError::one("Some fields cannot be taken", "", "the request is incomplete".into());
    let method = method.ok_or_else(missing)?;
    let food = food.ok_or_else(missing)?;
    let cooling = Cooling {
        food,
        material: food.material(),
        shape: shape.ok_or_else(missing)?,
        start_c: Celsius::new(start_c.ok_or_else(missing)?),
        around_c: Celsius::new(around_c.or(around(method).map(|l| l.value)).ok_or_else(missing)?),
        coefficient: coefficient.unwrap_or(surroundings()[method].w_m2k),
        mass_kg,
    };
    let solution =
        cooling.run(LONGEST_COOLING_MIN).map_err(|e| CalcError::one("No answer", "", e.to_string()))?;
    let mut chilled = cooling.judge(&solution);
    for time in [&mut chilled.to_21_min, &mut chilled.to_5_min] {
        *time = time.map(|min| Minutes::new(rounded(min.value(), 2)));
    }
    chilled.ice_kg = chilled.ice_kg.map(|kg| rounded(kg, 2));
    Ok(ChillAnswer {
        method: method.into(),
        around_c: cooling.around_c.value(),
        surface_w_m2k: cooling.coefficient,
        curve: curve_points(&solution, until.unwrap_or(USUAL_MIN)),
        chilled,
    })
}
