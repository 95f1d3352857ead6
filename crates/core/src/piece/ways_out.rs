//! How long, how hot or how thin: what would make a piece pasteurised, found by simulating it.

use super::{Piece, Run};
use crate::food::FoodClass;
use crate::heat::HeatError;
use crate::safety::{Level, Verdict, WayOut, limits, minutes};
use crate::units::{Celsius, Length, Units};

/// Hottest bath proposed, °C: above it nobody calls the result a steak.
const HOTTEST_C: f64 = 85.0;
/// Thinnest piece proposed, mm.
const THINNEST_MM: f64 = 5.0;
/// Baths are proposed to this step, rounded up, °C.
const BATH_STEP_C: f64 = 0.1;
/// Thicknesses are proposed to this step, rounded down, mm.
const THICKNESS_STEP_MM: f64 = 0.5;

/// What would make `run`, pulled at `min`, pasteurised; `None` when it is, or needs not be.
pub(super) fn find(
    piece: &Piece<'_>,
    run: &Run<'_>,
    verdict: &Verdict,
    min: f64,
    units: Units,
) -> Result<Option<WayOut>, HeatError> {
    if matches!(verdict.level, Level::Pasteurized | Level::Exempt) {
        return Ok(None);
    }
    let until_min = run.pasteurised_from_min().filter(|m| *m > min).map(f64::ceil);
    let bath_c = hotter(piece, min)?;
    let thickness_mm = thinner(piece, min)?;
    let no_later_than_min =
        (verdict.row == 8 && piece.intact && !piece.at_risk && may_be_undercooked(piece.food.class))
            .then(|| run.clock_runs_out_min().map(f64::floor))
            .flatten()
            .filter(|m| *m > 0.0);
    // Even without hurry: the coldest bath the tables reach, and what it takes there.
    let slow_bath = if until_min.is_none() { first_row(piece)? } else { None };

    let mut ways = Vec::new();
    if let Some(m) = until_min {
        ways.push(format!("leave it in this bath for {} in all", minutes(m)));
    }
    if let Some((c, m)) = slow_bath {
        ways.push(format!(
            "set the bath to {} and leave it in for {}",
            units.temperature(Celsius::new(c)),
            minutes(m)
        ));
    }
    if let Some(c) = bath_c {
        ways.push(format!("set the bath to {} for the same time", units.temperature(Celsius::new(c))));
    }
    if let Some(mm) = thickness_mm {
        ways.push(format!("take a piece no thicker than {}", units.length(Length::from_mm(mm))));
    }
    let mut text = match ways.as_slice() {
        [] => "No longer, hotter or thinner bath of this kind pasteurises it: cook it another way.".into(),
        _ => format!("For pasteurised, {}.", ways.join("; or ")),
    };
    if let Some(m) = no_later_than_min {
        text.push_str(&format!(
            " To serve it undercooked, to guests not at risk, take it out no later than {} after the drop.",
            minutes(m)
        ));
    }
    Ok(Some(WayOut { text, until_min, bath_c, thickness_mm, no_later_than_min }))
}

/// Whether a class may be served undercooked at all, given time in hand.
const fn may_be_undercooked(class: FoodClass) -> bool {
    matches!(class, FoodClass::Beef | FoodClass::Lamb | FoodClass::Duck)
}

fn pasteurised_by(piece: &Piece<'_>, min: f64) -> Result<bool, HeatError> {
    Ok(piece.run(&[])?.pasteurised_from_min().is_some_and(|m| m <= min))
}

/// The coldest bath (of at least this one) that pasteurises by `min`.
fn hotter(piece: &Piece<'_>, min: f64) -> Result<Option<f64>, HeatError> {
    let steps = ((HOTTEST_C - piece.set_c) / BATH_STEP_C).floor();
    let at = |step: f64| rounded(piece.set_c + step * BATH_STEP_C);
    let works = |step: f64| pasteurised_by(&piece.hotter(at(step) - piece.set_c), min);
    Ok(least_step(steps, works)?.filter(|s| *s > 0.0).map(at))
}

/// The thickest piece, thinner than this one, that is pasteurised by `min`.
fn thinner(piece: &Piece<'_>, min: f64) -> Result<Option<f64>, HeatError> {
    let mm = piece.shape.half_thickness_m() * 2000.0;
    let top = (mm / THICKNESS_STEP_MM).floor() * THICKNESS_STEP_MM;
    let steps = ((top - THINNEST_MM) / THICKNESS_STEP_MM).floor();
    let at = |step: f64| top - step * THICKNESS_STEP_MM;
    let works = |step: f64| pasteurised_by(&piece.cut_to(at(step)), min);
    Ok(least_step(steps, works)?.map(at).filter(|m| *m < mm))
}

/// The coldest bath on the tables, and the minutes it takes there.
fn first_row(piece: &Piece<'_>) -> Result<Option<(f64, f64)>, HeatError> {
    let least = piece
        .profile
        .table(piece.food)
        .map_or(0.0, |table| table.first_row_c())
        .max(limits().lowest_hold_c.value);
    // Half a degree is what cooks set.
    let c = (least * 2.0).ceil() / 2.0;
    if c <= piece.set_c {
        return Ok(None);
    }
    let minutes = piece.hotter(c - piece.set_c).run(&[])?.pasteurised_from_min();
    Ok(minutes.map(|m| (c, m.ceil())))
}

/// The smallest whole step from 0 to `steps` that works, given that all after it do.
fn least_step(steps: f64, works: impl Fn(f64) -> Result<bool, HeatError>) -> Result<Option<f64>, HeatError> {
    if steps < 0.0 || !works(steps)? {
        return Ok(None);
    }
    let (mut low, mut high) = (-1.0, steps);
    while high - low > 1.0 {
        let middle = ((low + high) / 2.0).floor();
        if works(middle)? { high = middle } else { low = middle }
    }
    Ok(Some(high))
}

fn rounded(c: f64) -> f64 {
    (c / BATH_STEP_C).round() * BATH_STEP_C
}
