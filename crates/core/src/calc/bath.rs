//! `mix`, `warmup`, `load`, `evaporation`: the water of a bath.

use serde::Serialize;
use serde_json::Value;

use super::fields::{CalcError, Fields};
use super::heat::range as of_heat;
use super::heat::rounded;
use crate::bath::{Air, Cover, Load, Mix, MixError, Pool, boiling_c, circulated, evaporation, mix as mixed};
use crate::figures::{bench, cooling};

/// Allowed ranges of the bath's requests.
pub(super) mod range {
    pub const LITRES: (f64, f64) = (0.1, 2000.0);
    pub(crate) const WATER_C: (f64, f64) = (0.0, 100.0);
    pub(crate) const HEATER_W: (f64, f64) = (0.0, 50_000.0);
    pub const ROOM_C: (f64, f64) = (-10.0, 50.0);
    pub(crate) const HUMIDITY: (f64, f64) = (0.0, 1.0);
    pub(crate) const SURFACE_M2: (f64, f64) = (0.0, 10.0);
    pub(crate) const LOSS_W_K: (f64, f64) = (0.0, 500.0);
    pub(crate) const FOOD_C: (f64, f64) = (-40.0, 60.0);
}

/// Names of the covers.
pub(super) fn covers() -> Vec<&'static str> {
    Cover::ALL.into_iter().map(Cover::id).collect()
}

fn cover(f: &mut Fields<'_>) -> Option<Cover> {
    match f.text("cover") {
        None => Some(Cover::None),
        Some(id) => Cover::from_id(id).or_else(|| {
            let shown = crate::units::shortened(id);
            f.fault("cover", format!("“{shown}” is none of: {}", covers().join(", ")));
            None
        }),
    }
}

fn air(f: &mut Fields<'_>) -> Air {
    let room_c = f.number("room_c", range::ROOM_C.0, range::ROOM_C.1);
    let humidity = f.number("humidity", range::HUMIDITY.0, range::HUMIDITY.1);
    let altitude_m = f.number("altitude_m", of_heat::ALTITUDE_M.0, of_heat::ALTITUDE_M.1);
    Air {
        room_c: room_c.unwrap_or(cooling().room_c.value),
        humidity: humidity.unwrap_or(bench().humidity.value),
        altitude_m: altitude_m.unwrap_or(0.0),
    }
}

/// No water is hotter than boiling.
fn no_hotter_than_boiling(f: &mut Fields<'_>, name: &str, c: Option<f64>, air: Air) {
    const ROUNDING_K: f64 = 0.05;
    let boils = boiling_c(air.altitude_m);
    if let Some(c) = c.filter(|c| *c > boils + ROUNDING_K) {
        f.fault(name, format!("{c} is above {boils:.1}, where water boils at {} m", air.altitude_m));
    }
}

fn incomplete() -> CalcError {
    CalcError::one("Some fields cannot be taken", "", "the request is incomplete".into())
}

/// What brings a bath to a temperature.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// let request = serde_json::json!({"litres": 12, "now_c": 53.5, "want_c": 54.5, "add_c": 95, "capacity_l": 14});
/// let answer = hold_steady_core::calc::run("mix", &request)?;
/// assert_eq!(answer["add_l"], 0.2963);
/// let anywhere = serde_json::json!({"litres": 12, "now_c": 53.5, "want_c": 54.5, "add_c": 95});
/// assert_eq!(hold_steady_core::calc::run("mix", &anywhere)?["remove_l"], 0.0);
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn mix(request: &Value) -> Result<Mix, CalcError> {
    let mut f = Fields::of(request)?;
    let litres = f.needed_number("litres", range::LITRES.0, range::LITRES.1);
    let mut water = |name| f.needed_number(name, range::WATER_C.0, range::WATER_C.1);
    let (now, want, add) = (water("now_c"), water("want_c"), water("add_c"));
    // Where nobody says what the vessel holds, it holds all of it.
    let capacity = f.number("capacity_l", range::LITRES.0, range::LITRES.1);
    if let (Some(litres), Some(capacity)) = (litres, capacity)
        && capacity < litres
    {
        f.fault(
            "capacity_l",
            format!(
                "{capacity} is less than the {litres} l in it; allowed from {litres} to {}",
                range::LITRES.1
            ),
        );
    }
    let answer = match (litres, now, want, add) {
        (Some(l), Some(now), Some(want), Some(add)) => {
            match mixed(l, capacity.unwrap_or(f64::INFINITY), (now, want, add)) {
                Ok(m) => Some(m),
                Err(MixError::WrongSide(side)) => {
                    let allowed =
                        if side == "warmer" { format!("above {want}") } else { format!("below {want}") };
                    f.fault("add_c", format!("{add} cannot bring {now} to {want}; allowed is {allowed}"));
                    None
                }
            }
        }
        _ => None,
    };
    f.finish()?;
    let m = answer.ok_or_else(incomplete)?;
    Ok(Mix { add_l: rounded(m.add_l, 4), remove_l: rounded(m.remove_l, 4) })
}

/// The answer of `warmup`.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct WarmupAnswer {
    /// Minutes; none where it is never reached.
    pub min: Option<f64>,
    /// Whether it is reached at all.
    pub reachable: bool,
}

/// How long a heater takes.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// let request = serde_json::json!({"litres": 12, "now_c": 45, "target_c": 54.5, "heater_w": 1000, "room_c": 22,
///                                  "cover": "lid", "surface_m2": 0.12, "loss_w_k": 0});
/// let answer = hold_steady_core::calc::run("warmup", &request)?;
/// assert!((answer["min"].as_f64().expect("reached") - 7.99).abs() < 0.05);
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn warmup(request: &Value) -> Result<WarmupAnswer, CalcError> {
    let mut f = Fields::of(request)?;
    let litres = f.needed_number("litres", range::LITRES.0, range::LITRES.1);
    let now = f.needed_number("now_c", range::WATER_C.0, range::WATER_C.1);
    let target = f.needed_number("target_c", range::WATER_C.0, range::WATER_C.1);
    let heater = f.needed_number("heater_w", range::HEATER_W.0, range::HEATER_W.1);
    let surface = f.number("surface_m2", range::SURFACE_M2.0, range::SURFACE_M2.1);
    let loss = f.number("loss_w_k", range::LOSS_W_K.0, range::LOSS_W_K.1);
    let (air, cover) = (air(&mut f), cover(&mut f));
    no_hotter_than_boiling(&mut f, "target_c", target, air);
    no_hotter_than_boiling(&mut f, "now_c", now, air);
    f.finish()?;
    let pool = Pool {
        litres: litres.ok_or_else(incomplete)?,
        vessel_kj_k: 0.0,
        surface_m2: surface.unwrap_or(0.0),
        cover: cover.ok_or_else(incomplete)?,
        loss_w_k: loss.unwrap_or(bench().loss_w_k.value),
        heater_w: heater.ok_or_else(incomplete)?,
        vapour: 1.0,
        air,
    };
    let min = pool.warmup_min(now.ok_or_else(incomplete)?, target.ok_or_else(incomplete)?);
    Ok(WarmupAnswer { min: min.map(|m| rounded(m, 2)), reachable: min.is_some() })
}

/// The answer of `load`.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct LoadAnswer {
    /// Water and food at one temperature at once: the most it can drop, K.
    pub drop_c: f64,
    /// The lowest the water comes to, °C.
    pub lowest_c: f64,
    /// Minutes until it is back; none where it never is.
    pub recovery_min: Option<f64>,
    /// How much the food makes the water rise, as litres.
    pub level_rise_l: f64,
}

/// How a bath takes cold food.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// let request = serde_json::json!({"litres": 12, "bath_c": 54.5, "food_kg": 1.2, "food_c": 5, "heater_w": 1000});
/// let answer = hold_steady_core::calc::run("load", &request)?;
/// assert_eq!(answer["drop_c"], 3.82);
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn load(request: &Value) -> Result<LoadAnswer, CalcError> {
    let mut f = Fields::of(request)?;
    let litres = f.needed_number("litres", range::LITRES.0, range::LITRES.1);
    let bath = f.needed_number("bath_c", range::WATER_C.0, range::WATER_C.1);
    let kg = f.needed_number("food_kg", of_heat::MASS_KG.0, of_heat::MASS_KG.1);
    let food_c = f.needed_number("food_c", range::FOOD_C.0, range::FOOD_C.1);
    let heater = f.needed_number("heater_w", range::HEATER_W.0, range::HEATER_W.1);
    let thickness = f.number("thickness_mm", of_heat::THICKNESS_MM.0, of_heat::THICKNESS_MM.1);
    let coefficient = f.number("surface_w_m2k", of_heat::SURFACE_W_M2K.0, of_heat::SURFACE_W_M2K.1);
    let surface = f.number("surface_m2", range::SURFACE_M2.0, range::SURFACE_M2.1);
    let loss = f.number("loss_w_k", range::LOSS_W_K.0, range::LOSS_W_K.1);
    let (air, cover) = (air(&mut f), cover(&mut f));
    no_hotter_than_boiling(&mut f, "bath_c", bath, air);
    if let (Some(food), Some(bath)) = (food_c, bath)
        && food > bath
    {
        f.fault("food_c", format!("{food} is warmer than the bath, {bath}; allowed up to {bath}"));
    }
    f.finish()?;
    let pool = Pool {
        litres: litres.ok_or_else(incomplete)?,
        vessel_kj_k: 0.0,
        surface_m2: surface.unwrap_or(0.0),
        cover: cover.ok_or_else(incomplete)?,
        // What holds it was there before: without more said, the heater has all its power for the food.
        loss_w_k: loss.unwrap_or(0.0),
        heater_w: heater.ok_or_else(incomplete)?,
        vapour: 1.0,
        air,
    };
    let food = Load {
        kg: kg.ok_or_else(incomplete)?,
        c: food_c.ok_or_else(incomplete)?,
        thickness_m: thickness.unwrap_or(bench().load_mm.value) / 1000.0,
        w_m2k: coefficient.unwrap_or(circulated().w_m2k),
    };
    let rise = food.litres();
    let taken = pool.take(bath.ok_or_else(incomplete)?, &[food]);
    Ok(LoadAnswer {
        drop_c: rounded(taken.drop_k, 2),
        lowest_c: rounded(taken.lowest_c, 2),
        recovery_min: taken.recovery_min.map(|m| rounded(m, 1)),
        level_rise_l: rounded(rise, 3),
    })
}

/// The answer of `evaporation`.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct EvaporationAnswer {
    /// Water that leaves into still air, kg/h.
    pub kg_per_h: f64,
    /// and in a draught or under a hood: what topping up counts, kg/h.
    pub high_kg_per_h: f64,
    /// Heat it takes in still air, W.
    pub heat_w: f64,
}

/// What leaves a surface of water.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// let request = serde_json::json!({"water_c": 54, "room_c": 22, "humidity": 0.5, "surface_m2": 0.12, "cover": "none"});
/// let answer = hold_steady_core::calc::run("evaporation", &request)?;
/// assert!((answer["kg_per_h"].as_f64().expect("a number") - 0.24).abs() < 0.01);
/// assert!((answer["high_kg_per_h"].as_f64().expect("a number") - 0.41).abs() < 0.01);
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn evaporates(request: &Value) -> Result<EvaporationAnswer, CalcError> {
    let mut f = Fields::of(request)?;
    let water = f.needed_number("water_c", range::WATER_C.0, range::WATER_C.1);
    let surface = f.needed_number("surface_m2", range::SURFACE_M2.0, range::SURFACE_M2.1);
    let (air, cover) = (air(&mut f), cover(&mut f));
    no_hotter_than_boiling(&mut f, "water_c", water, air);
    f.finish()?;
    let (kg_m2s, w_m2) = evaporation(water.ok_or_else(incomplete)?, air, cover.ok_or_else(incomplete)?);
    let surface = surface.ok_or_else(incomplete)?;
    let kg_per_h = kg_m2s * surface * 3600.0;
    Ok(EvaporationAnswer {
        kg_per_h: rounded(kg_per_h, 4),
        high_kg_per_h: rounded(kg_per_h * bench().draught.value, 4),
        heat_w: rounded(w_m2 * surface, 1),
    })
}
