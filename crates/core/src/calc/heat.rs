//! `heat`: one piece in one bath, judged at `until_min`.

use crate::figures::{Basis, limits};
use std::sync::Arc;

use serde::Serialize;
use serde_json::Value;

use super::fields::{CalcError, Fields};
use crate::bath::{BathPoint, BathTrace, Water, above_boil_c, boiling_c, gate_of};
use crate::food::{Food, FoodClass, catalogue};
use crate::heat::{Material, Shape, Solution};
use crate::piece::{Around, LONGEST_MIN, Piece, Run, Spreads, slow_and_fast};
use crate::plan::From;
use crate::safety::{
    Case, CodeProfile, EggUse, FoodState, Level, Parasites, Rule, known_profile, organisms, profiles,
};
use crate::units::{Celsius, Kelvin, Length, Minutes, Units, shortened};
use crate::words::{Told, told};

/// Ranges of the requests' numbers. Outside them the equations or the data do not hold.
pub(crate) mod range {
    pub const THICKNESS_MM: (f64, f64) = (1.0, 300.0);
    pub(crate) const SIDE_MM: (f64, f64) = (1.0, 600.0);
    pub(crate) const START_C: (f64, f64) = (-40.0, 60.0);
    pub use crate::limits::BATH_C;
    /// Points of a bath: three days at four a minute.
    pub(crate) const MOST_POINTS: usize = 20_000;
    pub(crate) const SURFACE_W_M2K: (f64, f64) = (1.0, 5000.0);
    pub(crate) const DIFFUSIVITY_M2_S: (f64, f64) = (2e-8, 1e-6);
    pub(crate) const CONDUCTIVITY_W_MK: (f64, f64) = (0.05, 5.0);
    pub(crate) const BATH_ERROR_C: (f64, f64) = (0.0, 5.0);
    pub(crate) const ALTITUDE_M: (f64, f64) = (0.0, 6000.0);
    pub(crate) const MASS_KG: (f64, f64) = (0.01, 500.0);
    pub(crate) const COOL_FROM_C: (f64, f64) = (0.0, 100.0);
    pub(crate) const COOL_UNTIL_MIN: (f64, f64) = (1.0, 1440.0);
    pub(crate) const UNTIL_MIN: (f64, f64) = (1.0, super::LONGEST_MIN.value());
    pub(crate) const AROUND_MIN: (f64, f64) = (0.0, super::LONGEST_MIN.value());
}

/// What happened to one organism.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Kill {
    /// Its name.
    pub organism: String,
    /// Reduction by `until_min`.
    pub log10: f64,
    /// Reduction asked for.
    pub target_log10: f64,
    /// When it was reached.
    pub reached_min: Option<f64>,
}

/// The texture window at this bath temperature.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Texture {
    /// At its best from.
    pub best_from_min: f64,
    /// And until.
    pub best_until_min: f64,
    /// How sure that is.
    pub basis: Basis,
}

/// One whole minute of the curve.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct CurvePoint {
    /// Minute.
    pub min: u32,
    /// Thermal centre.
    pub centre_c: f64,
    /// Surface.
    pub surface_c: f64,
    /// Mean over the volume.
    pub mean_c: f64,
}

/// The answer of `heat`. Times are minutes from the drop; a time not reached within `until_min` is
/// null.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct HeatAnswer {
    /// When everything is judged.
    pub until_min: f64,
    /// From when on the centre stays within 0.5 °C of the bath's own temperature, to the end.
    pub heated_through_min: Option<f64>,
    /// Every organism's target reached.
    pub pasteurized_min: Option<f64>,
    /// The profile's time table met; null also where it has none for this food.
    pub code_min: Option<f64>,
    /// Each organism, the slowest first.
    pub kill: Vec<Kill>,
    /// Minutes on the raw clock of the worst layer, out of the refrigerator and after the pull too.
    pub danger_zone_min: f64,
    /// Minutes of the worst layer between 30 and 50 °C.
    pub warm_growth_min: f64,
    /// Minutes of the worst layer under the growth limit since the kill.
    pub after_kill_min: f64,
    /// When it is at its best.
    pub texture: Texture,
    /// The verdict at `until_min`.
    pub verdict: Told,
    /// The curve at whole minutes.
    pub curve: Vec<CurvePoint>,
}

/// Simulates and judges one piece.
///
/// The request's fields are those of the calculation interface: `food`, `thickness_mm`, `start_c`
/// and `bath_c` (or `bath`) are needed, the rest has defaults.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// use hold_steady_core::calc::heat;
/// let answer = heat(&serde_json::json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55}))?;
/// assert!(answer.pasteurized_min > answer.heated_through_min);
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn heat(request: &Value) -> Result<HeatAnswer, CalcError> {
    let Asked { mut piece, until, set_c, slow_end } = read(request)?;
    let failed = |e: crate::heat::HeatError| CalcError::one("No answer", "", e.to_string());
    let until_min = match until {
        Some(until) => Minutes::new(until),
        None => default_until(&piece.run(&[]).map_err(failed)?),
    };
    // What the bath does later is not looked at.
    judge_until(&mut piece, set_c, until_min);
    let ends = ends(&piece, slow_end).map_err(failed)?;
    let run = run_of(&ends, until_min).map_err(failed)?;
    let within = |m: Option<f64>| m.filter(|m| *m <= until_min.value()).map(|m| rounded(m, 2));
    let (progress, facts) = (run.progress(until_min), run.facts(until_min));
    let mut kill: Vec<Kill> = organisms(&piece.food.kill)
        .iter()
        .enumerate()
        .map(|(i, o)| Kill {
            organism: o.name.clone(),
            log10: rounded(progress.log10[i], 3),
            target_log10: o.target(piece.case.at_risk),
            reached_min: within(run.timeline.organism_reached_s(i).map(|s| s / 60.0)),
        })
        .collect();
    kill.sort_by(|a, b| (a.log10 / a.target_log10).total_cmp(&(b.log10 / b.target_log10)));
    let mut verdict = run.quick_verdict_at(until_min);
    if !matches!(verdict.level, Level::Pasteurized | Level::Exempt) {
        // The way out may be to leave it in: the bath stays as it was at that minute.
        let onward = run_of(&ends, LONGEST_MIN).map_err(failed)?;
        verdict.way_out = onward.verdict_at(until_min).map_err(failed)?.way_out;
    }
    let (best_from_min, best_until_min) = piece.food.best_min(piece.set_c());
    Ok(HeatAnswer {
        until_min: until_min.value(),
        heated_through_min: within(run.heated_through_min().map(Minutes::value)),
        pasteurized_min: within(run.kinetics_min().map(Minutes::value)),
        code_min: within(run.code_min().map(Minutes::value)),
        kill,
        danger_zone_min: rounded(facts.raw_min.value(), 2),
        warm_growth_min: rounded(facts.warm_min.value(), 2),
        after_kill_min: rounded(facts.after_kill_min.value(), 2),
        texture: Texture {
            best_from_min: rounded(best_from_min.value(), 1),
            best_until_min: rounded(best_until_min.value(), 1),
            basis: piece.food.texture.basis,
        },
        verdict: told(&verdict, Units::default()),
        curve: curve_points(&run.solution, until_min.value()),
    })
}

/// How a request of `heat` is judged, and nothing else: no curve, no way out, so that many can be asked.
///
/// # Errors
/// As [`heat`]; `until_min` is needed here.
///
/// ```
/// use hold_steady_core::calc::judged;
/// use hold_steady_core::safety::{Level, Rule};
/// let request = serde_json::json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55,
///                                  "until_min": 90, "intact": true});
/// assert_eq!(judged(&request)?, (Level::ServeNow, Rule::WholeRedMeat));
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn judged(request: &Value) -> Result<(Level, Rule), CalcError> {
    let Asked { mut piece, until, set_c, slow_end } = read(request)?;
    let until = until.ok_or_else(|| CalcError::one("No answer", "until_min", "is missing".into()))?;
    let failed = |e: crate::heat::HeatError| CalcError::one("No answer", "", e.to_string());
    judge_until(&mut piece, set_c, Minutes::new(until));
    let ends = ends(&piece, slow_end).map_err(failed)?;
    let run = run_of(&ends, Minutes::new(until)).map_err(failed)?;
    let verdict = run.quick_verdict_at(Minutes::new(until));
    Ok((verdict.level, verdict.row))
}

/// The curve at whole minutes.
pub(super) fn curve_points(solution: &Solution, until_min: f64) -> Vec<CurvePoint> {
    (0..=until_min as u32)
        .map(|min| {
            let t = f64::from(min) * 60.0;
            CurvePoint {
                min,
                centre_c: rounded(solution.core.at(t), 4),
                surface_c: rounded(solution.surface.at(t), 4),
                mean_c: rounded(solution.mean.at(t), 4),
            }
        })
        .collect()
}

/// The later of kinetics and table, rounded up; 240 when either is never reached.
fn default_until(run: &Run<'_>) -> Minutes {
    const NEVER_REACHED: Minutes = Minutes::from_hours(4.0);
    let code = if run.has_table() { run.code_min() } else { Some(Minutes::ZERO) };
    match (run.kinetics_min(), code) {
        (Some(kinetics), Some(code)) => kinetics.max(code).ceil().max(Minutes::new(1.0)).min(LONGEST_MIN),
        _ => NEVER_REACHED,
    }
}

/// What was asked for.
struct Asked {
    piece: Piece<'static>,
    until: Option<f64>,
    /// What the bath was set to, where the trace is what was read in it; its error taken off.
    set_c: Option<f64>,
    /// Times from the slow end of what is usually uncertain.
    slow_end: bool,
}

/// The trace up to a minute, and what the gates are asked of.
fn judge_until(piece: &mut Piece<'_>, set_c: Option<f64>, until: Minutes) {
    piece.bath = piece.bath.until(until.value());
    piece.gate = set_c.map(|set| gate_of(&piece.bath, set));
}

/// The piece itself; or, from the slow end, the slow end first and with it the two others, for the clocks.
fn ends<'a>(piece: &Piece<'a>, slow_end: bool) -> Result<Vec<Piece<'a>>, crate::heat::HeatError> {
    if !slow_end {
        return Ok(vec![piece.clone()]);
    }
    let usual = piece.food.surface();
    let (least, most) = usual.ends_w_m2k();
    let share = piece.coefficient / usual.w_m2k;
    // As far from what was said as a refrigerator's or a freezer's ends are from their middle.
    let start = if piece.start_c < Celsius::new(0.0) { From::Freezer } else { From::Refrigerator }.start();
    let off = piece.start_c - start.nominal_c;
    let start_c = if piece.start_c > limits().out_above_c.celsius() {
        (piece.start_c, piece.start_c)
    } else {
        (start.slow_c + off, start.fast_c + off)
    };
    let spreads = Spreads {
        thickness_mm: piece.food.thickness_mm.spread.unwrap_or(Spreads::default().thickness_mm),
        start_c,
        coefficient: (least * share, most * share),
        ..Spreads::default()
    };
    let (slow, fast) = slow_and_fast(piece, &spreads)?;
    Ok(vec![slow, piece.clone(), fast])
}

/// The first of them, with every clock at the worst of all.
fn run_of<'a>(ends: &'a [Piece<'a>], until: Minutes) -> Result<Run<'a>, crate::heat::HeatError> {
    let others = ends[1..].iter().map(|p| p.run_until(until, &[])).collect::<Result<Vec<_>, _>>()?;
    let first = ends[0].run_until(until, &[])?;
    Ok(if others.is_empty() { first } else { first.with_clocks_of(&others) })
}

fn read(request: &Value) -> Result<Asked, CalcError> {
    let mut f = Fields::of(request)?;
    let food = read_food(&mut f);
    let thickness = f.needed_number("thickness_mm", range::THICKNESS_MM.0, range::THICKNESS_MM.1);
    let start_c = f.needed_number("start_c", range::START_C.0, range::START_C.1);
    let shape = read_shape(&mut f, food, thickness.map(Length::from_mm));
    let bath = read_bath(&mut f);
    let constants = f.object("properties", |p| {
        let (a, k) = (range::DIFFUSIVITY_M2_S, range::CONDUCTIVITY_W_MK);
        let diffusivity = p.needed_number("diffusivity_m2_s", a.0, a.1);
        let conductivity = p.needed_number("conductivity_w_mk", k.0, k.1);
        Some(Material::constant(diffusivity?, conductivity?))
    });
    if f.has("properties") && start_c.is_some_and(|c| c < 0.0) {
        f.fault(
            "start_c",
            "is below freezing, which constant properties cannot follow; leave properties out".into(),
        );
    }
    let coefficient = f.number("surface_w_m2k", range::SURFACE_W_M2K.0, range::SURFACE_W_M2K.1);
    let water = read_words(&mut f, "water", &[("circulated", Water::Circulated), ("still", Water::Still)]);
    let case = read_case(&mut f, food);
    let profile = read_profile(&mut f);
    let bath_error = f.number("bath_error_c", range::BATH_ERROR_C.0, range::BATH_ERROR_C.1).unwrap_or(0.0);
    let altitude = f.number("altitude_m", range::ALTITUDE_M.0, range::ALTITUDE_M.1).unwrap_or(0.0);
    check_boiling(&mut f, bath.as_ref(), altitude);
    let (out_unsaid, around) = read_around(&mut f, start_c);
    let until = f.number("until_min", range::UNTIL_MIN.0, range::UNTIL_MIN.1);
    let set_c = f.number("set_c", range::BATH_C.0, range::BATH_C.1);
    if set_c.is_some() && !f.has("bath") {
        f.fault(
            "set_c",
            "belongs beside bath, which is then what was read in a bath set so; leave it out".into(),
        );
    }
    let slow_end = f.flag("slow_end").unwrap_or(false);
    f.finish()?;
    let missing = || CalcError::one("Some fields cannot be taken", "", "the request is incomplete".into());
    let (food, bath) = (food.ok_or_else(missing)?, bath.ok_or_else(missing)?);
    let bath = bath.shifted(-bath_error);
    let shape = shape.ok_or_else(missing)?;
    let plain = Piece::new(food, shape, Celsius::new(start_c.ok_or_else(missing)?), bath);
    let piece = Piece {
        material: constants.map_or_else(|| Arc::clone(&plain.material), Arc::new),
        coefficient: coefficient.unwrap_or(food.surface_in(water).w_m2k),
        case: Case { out_unsaid, ..case.ok_or_else(missing)? },
        around,
        profile: profile.ok_or_else(missing)?,
        reads_high_k: Kelvin::new(bath_error),
        boils_c: Celsius::new(boiling_c(altitude)),
        ..plain
    };
    Ok(Asked { piece, until, set_c: set_c.map(|c| c - bath_error), slow_end })
}

/// What is said of the piece and the guests.
fn read_case(f: &mut Fields<'_>, food: Option<&Food>) -> Option<Case> {
    let intact = f.flag("intact");
    let at_risk = f.flag("at_risk").unwrap_or(false);
    let for_shelf = f.flag("for_shelf").unwrap_or(false);
    let prepared = f.flag("prepared").unwrap_or(false);
    let asks = food.is_none_or(|f| matches!(f.class, FoodClass::KidneyBean | FoodClass::Ferment));
    if prepared && !asks {
        f.fault(
            "prepared",
            "is for beans that are boiled first and milk that is scalded; leave it out".into(),
        );
    }
    let state = read_words(
        f,
        "state",
        &[("raw", FoodState::Raw), ("pasteurized-chilled", FoodState::PasteurizedChilled)],
    );
    let parasites = read_choice(
        f,
        food,
        ("parasites", FoodClass::Fish),
        &[("none", Parasites::None), ("frozen", Parasites::Frozen), ("exempt", Parasites::Exempt)],
    );
    let egg_use =
        read_choice(f, food, ("use", FoodClass::ShellEgg), &[("raw", EggUse::Raw), ("soft", EggUse::Soft)]);
    let food = food?;
    let plain = Case::of(food).with_parasites(parasites, food.traits.exempt);
    let intact = intact.unwrap_or(plain.intact);
    Some(Case { intact, at_risk, for_shelf, prepared, state, egg_use, ..plain })
}

/// Minutes before and after the bath, and whether those out of the refrigerator are assumed.
fn read_around(f: &mut Fields<'_>, start_c: Option<f64>) -> (bool, Around) {
    let (low, high) = range::AROUND_MIN;
    let l = limits();
    let told = f.number("out_min", low, high);
    let warm = start_c.is_some_and(|c| c > l.out_above_c.value);
    let unsaid = told.is_none() && warm;
    let around = Around {
        out_min: Minutes::new(told.unwrap_or(if warm { l.out_unsaid_min.value } else { 0.0 })),
        out_c: Celsius::new(start_c.unwrap_or_default()),
        waited_min: Minutes::new(f.number("waited_min", low, high).unwrap_or(0.0)),
        after_min: Minutes::new(f.number("after_min", low, high).unwrap_or(0.0)),
        afloat: None,
    };
    (unsaid, around)
}

fn read_profile(f: &mut Fields<'_>) -> Option<&'static CodeProfile> {
    let Some(id) = f.text("profile") else { return profiles().first() };
    known_profile(id).map_err(|e| f.fault("profile", e.into())).ok()
}

/// No water is hotter than where it boils.
fn check_boiling(f: &mut Fields<'_>, bath: Option<&BathTrace>, altitude_m: f64) {
    let points = bath.map_or(&[][..], BathTrace::points);
    if let Some((c, boils)) = points.iter().find_map(|p| Some((p.c, above_boil_c(p.c, altitude_m)?))) {
        let field = if f.has("bath_c") { "bath_c" } else { "bath" };
        f.fault(field, format!("{c} °C is above the boil: at {altitude_m} m water boils at {boils:.1} °C"));
    }
}

/// One of some words, for foods of one class only.
fn read_choice<T: Copy + Default>(
    f: &mut Fields<'_>,
    food: Option<&Food>,
    (name, class): (&'static str, FoodClass),
    words: &[(&str, T)],
) -> T {
    if let Some(food) = food.filter(|food| f.value(name).is_some() && food.class != class) {
        f.fault(name, format!("does not apply to {}; leave it out", food.id));
        return T::default();
    }
    read_words(f, name, words)
}

/// One of some words; the default where there is none.
fn read_words<T: Copy + Default>(f: &mut Fields<'_>, name: &'static str, words: &[(&str, T)]) -> T {
    let Some(text) = f.text(name) else { return T::default() };
    let found = words.iter().find(|w| w.0 == text).map(|w| w.1);
    found.unwrap_or_else(|| {
        let known: Vec<&str> = words.iter().map(|w| w.0).collect();
        f.fault(name, format!("“{}” is none of: {}", shortened(text), known.join(", ")));
        T::default()
    })
}

pub(super) fn read_food(f: &mut Fields<'_>) -> Option<&'static Food> {
    let ids = || {
        let ids: Vec<&str> = catalogue().foods.iter().map(|f| f.id.as_str()).collect();
        ids.join(", ")
    };
    if !f.has("food") {
        f.value("food");
        f.fault("food", format!("is missing; there is: {}", ids()));
        return None;
    }
    let id = f.text("food")?;
    let food = catalogue().food(id);
    if food.is_none() {
        f.fault("food", format!("“{}” is not in the catalogue; there is: {}", shortened(id), ids()));
    }
    food
}

pub(super) fn read_shape(
    f: &mut Fields<'_>,
    food: Option<&Food>,
    thickness: Option<Length>,
) -> Option<Shape> {
    // A food that is usually a block is one when its sides are given, and else the slow, safe slab.
    let sides_given = f.has("width_mm") || f.has("length_mm");
    let usual = food.map(|f| if f.shape == "block" && !sides_given { "slab" } else { f.shape.as_str() });
    let name = f.text("shape").or(usual);
    // The other two sides are a block's, whatever order they are given in.
    let (low, high) = range::SIDE_MM;
    let sides = if name == Some("block") {
        (f.needed_number("width_mm", low, high), f.needed_number("length_mm", low, high))
    } else {
        for side in ["width_mm", "length_mm"] {
            if f.value(side).is_some() {
                f.fault(side, "belongs to a block; leave it out, or give shape block".into());
            }
        }
        (None, None)
    };
    match name? {
        "slab" => thickness.map(Shape::Slab),
        "cylinder" => thickness.map(Shape::Cylinder),
        "sphere" => thickness.map(Shape::Sphere),
        "block" => {
            let (thickness, width, length) = (thickness?, sides.0?, sides.1?);
            if thickness.mm() > width || thickness.mm() > length {
                f.fault("thickness_mm", "must be the smallest of a block's three sides".into());
                return None;
            }
            Some(Shape::Block { thickness, width: Length::from_mm(width), length: Length::from_mm(length) })
        }
        other => {
            let other = shortened(other);
            f.fault("shape", format!("“{other}” is none of: slab, cylinder, sphere, block"));
            None
        }
    }
}

fn read_bath(f: &mut Fields<'_>) -> Option<BathTrace> {
    let (low, high) = range::BATH_C;
    match (f.has("bath_c"), f.has("bath")) {
        (true, true) => {
            f.value("bath_c");
            f.value("bath");
            f.fault("bath", "contradicts bath_c; give one of the two".into());
            None
        }
        (false, false) => {
            f.value("bath");
            f.needed_number("bath_c", low, high);
            None
        }
        (true, false) => {
            f.value("bath");
            f.number("bath_c", low, high).map(BathTrace::constant)
        }
        (false, true) => {
            f.value("bath_c");
            let points = f.list("bath", (1, range::MOST_POINTS), |p| {
                let min = p.needed_number("min", 0.0, LONGEST_MIN.value());
                let c = p.needed_number("c", low, high);
                Some(BathPoint { min: min?, c: c? })
            })?;
            match BathTrace::new(points) {
                Ok(trace) => Some(trace),
                Err(e) => {
                    f.fault("bath", e.to_string());
                    None
                }
            }
        }
    }
}

pub(super) fn rounded(value: f64, places: i32) -> f64 {
    let scale = 10_f64.powi(places);
    (value * scale).round() / scale
}
