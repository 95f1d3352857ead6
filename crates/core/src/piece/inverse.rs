//! The inverse questions: how long, how hot or how thin for pasteurised; and what this piece must have
//! been, given what a probe in it read. All answered by simulating.

use super::{LONGEST_MIN, Piece, Run};
use crate::food::{FishKind, FoodClass};
use crate::heat::{HeatError, Shape};
use crate::safety::{FROZEN_FOR_PARASITES, Level, Rule, Verdict, WayOut, limits, minutes};
use crate::units::{Celsius, Length, Units};

/// Hottest bath proposed, °C: above it nobody calls the result a steak.
const HOTTEST_C: f64 = 85.0;
/// Thinnest piece proposed, mm.
const THINNEST_MM: f64 = 5.0;
/// Baths are proposed to this step, rounded up, °C.
const BATH_STEP_C: f64 = 0.1;
/// What cooks set a bath by, K.
const HALF_K: f64 = 0.5;
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
    // Poison, viruses, the shelf and a culture have ways out of their own: no kill of bacteria helps.
    match verdict.row {
        Rule::RawBeans => {
            return Ok(Some(only(&format!(
                "Soak the beans, boil them hard for {}, and throw the water away; then they may go into the bath.",
                minutes(limits().beans_boil_min.value)
            ))));
        }
        Rule::Bivalve => return bivalves(piece, units).map(Some),
        Rule::Shelf => return Ok(Some(only("Chill it in an ice bath and refrigerate it, or freeze it."))),
        Rule::Ferment => return Ok(Some(ferment(units))),
        _ => {}
    }
    let after_kill_min = run.facts(min).after_kill_min;
    if after_kill_min > limits().after_kill_most_min.value {
        return Ok(Some(only(
            "Throw it away. Next time eat it, hold it hot or chill it within two hours of the pull.",
        )));
    }
    if after_kill_min > limits().after_kill_every_min.value {
        return Ok(Some(only(
            "What grew after it was pasteurised no heat makes good. Next time eat it, hold it hot or chill it within two hours.",
        )));
    }
    let until_min = run.pasteurised_from_min().filter(|m| *m > min).map(f64::ceil);
    let bath_c = lowest_bath_c(piece, min)?.filter(|c| *c > piece.shown_c());
    // Eggs and jars are what they are.
    let may_be_cut = piece.food.sizes.is_empty() && piece.food.jar.is_none();
    let thickness_mm = if may_be_cut { greatest_thickness_mm(piece, min)? } else { None };
    let thickness_mm = thickness_mm.filter(|mm| *mm < piece.shape.thickness().mm());
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
        let degrees = units.temperature(Celsius::new(c));
        ways.push(format!("set the bath to {degrees} and pull it after {} as now", minutes(min)));
    }
    if let Some(mm) = thickness_mm {
        ways.push(format!("take a piece no thicker than {}", units.length(Length::from_mm(mm))));
    }
    let mut text = match ways.as_slice() {
        [] if spoiled_before(piece) => {
            "It was too long where bacteria grow before it went in: throw it away.".into()
        }
        [] => "No longer, hotter or thinner bath of this kind pasteurises it: cook it another way.".into(),
        _ => format!("For pasteurised, {}.", ways.join("; or ")),
    };
    let undercooked = undercooked(piece, run, verdict, min, units)?;
    text.push_str(&undercooked.text);
    if verdict.row == Rule::Fish && verdict.level == Level::Refused {
        let kind = match piece.food.traits.exempt {
            Some(FishKind::Tuna) => ", or is one of the tunas the code exempts",
            Some(FishKind::Farmed) => ", or was farmed and fed on pellets",
            None => "",
        };
        text.push_str(&format!(
            " To serve it undercooked, to guests not at risk, take fish that was frozen for parasites ({}){kind}.",
            units.sentence(FROZEN_FOR_PARASITES)
        ));
    }
    let slow = run.facts(min).come_up_min > limits().come_up_limit_min.value;
    if slow && piece.food.sides_mm.is_some() && matches!(piece.shape, Shape::Slab(_)) {
        text.push_str(
            " A slab is taken as endless sideways: give its width and length too, for a real block warms sooner.",
        );
    }
    let no_later_than_min = undercooked.no_later_than_min;
    Ok(Some(WayOut { text, until_min, bath_c, thickness_mm, no_later_than_min }))
}

/// Whether the minutes before the bath alone are too many: then no bath and no pan makes it good.
fn spoiled_before(piece: &Piece<'_>) -> bool {
    let (l, (raw, _, warm)) = (limits(), piece.before_min());
    raw > piece.case.clock_limit(l).value || warm > l.warm_limit_min.value
}

/// How a piece that may be served undercooked can be, where the growth clocks forbid it as it is: out of the
/// bath in time, or a bath or thickness that is heated through in time.
fn undercooked(
    piece: &Piece<'_>,
    run: &Run<'_>,
    verdict: &Verdict,
    min: f64,
    units: Units,
) -> Result<WayOut, HeatError> {
    let may = verdict.row == Rule::Growth
        && !piece.case.is_pierced()
        && !piece.case.at_risk
        && may_be_undercooked(piece.food.class);
    let Some(latest) = run.clock_runs_out_min().filter(|_| may).map(f64::floor) else {
        return Ok(WayOut::default());
    };
    let in_time = run.done_min().is_some_and(|m| m <= latest);
    if in_time && latest > 0.0 && latest < min {
        let text = format!(
            " To serve it undercooked, to guests not at risk, take it out no later than {} after the drop.",
            minutes(latest)
        );
        return Ok(WayOut { text, no_later_than_min: Some(latest), ..WayOut::default() });
    }
    // It is not heated through by the time it must be out: thinner, or hotter.
    let warms_in_time = |p: &Piece<'_>| -> Result<Option<f64>, HeatError> {
        let run = p.run_until(LONGEST_MIN, &[])?;
        let done = run.done_min();
        Ok(done.filter(|m| run.quick_verdict_at(*m, Units::default()).level != Level::Refused))
    };
    let mut ways = Vec::new();
    if piece.food.sizes.is_empty() {
        let mm = piece.shape.thickness().mm();
        let top = (mm / THICKNESS_STEP_MM).floor();
        let steps = top - (THINNEST_MM / THICKNESS_STEP_MM).floor();
        let at = |step: f64| (top - step) * THICKNESS_STEP_MM;
        if let Some(step) = first_step(steps, |s| Ok(warms_in_time(&piece.cut_to(at(s)))?.is_some()))? {
            ways.push(format!("take a piece no thicker than {}", units.length(Length::from_mm(at(step)))));
        }
    }
    let steps = ((limits().lowest_hold_c.value - piece.set_c()) / HALF_K).ceil();
    let at = |step: f64| ((piece.shown_c() + step * HALF_K) / HALF_K).floor() * HALF_K;
    let hotter = |s: f64| Ok(warms_in_time(&piece.set_to(at(s)))?.is_some());
    if let Some(step) = first_step(steps, hotter)?.filter(|s| *s > 0.0) {
        ways.push(format!("set the bath to {}", units.temperature(Celsius::new(at(step)))));
    }
    let text = match ways.as_slice() {
        [] => String::new(),
        _ => format!(
            " To serve it undercooked, to guests not at risk, it must be heated through in time: {}.",
            ways.join("; or ")
        ),
    };
    Ok(WayOut { text, ..WayOut::default() })
}

/// The first step from 0 to `steps` that is good, given that all after it are too; by bisection.
fn first_step(
    steps: f64,
    mut good: impl FnMut(f64) -> Result<bool, HeatError>,
) -> Result<Option<f64>, HeatError> {
    if steps < 1.0 || !good(steps)? {
        return Ok(None);
    }
    let (mut bad, mut found) = (-1.0, steps);
    while found - bad > 1.0 {
        let middle = ((bad + found) / 2.0).floor();
        if good(middle)? { found = middle } else { bad = middle }
    }
    Ok(Some(found))
}

/// What a culture needs.
fn ferment(units: Units) -> WayOut {
    let l = limits();
    let degrees = |limit: &crate::safety::Limit| units.temperature(Celsius::new(limit.value));
    only(&format!(
        "Heat the milk to {}, let it cool, stir in a live starter, and keep it between {} and {} for {} to {}; then chill it.",
        degrees(&l.ferment_scald_c),
        degrees(&l.ferment_low_c),
        degrees(&l.ferment_high_c),
        minutes(l.ferment_from_min.value),
        minutes(l.ferment_until_min.value)
    ))
}

/// A way out in words alone.
fn only(text: &str) -> WayOut {
    WayOut { text: text.into(), ..WayOut::default() }
}

/// How long bivalves need in a bath hot enough for them.
fn bivalves(piece: &Piece<'_>, units: Units) -> Result<WayOut, HeatError> {
    const HOTTER_K: f64 = 2.0;
    let l = limits();
    let bath = piece.shown_c().max(l.bivalve_c.value + HOTTER_K + piece.reads_high_k);
    if bath > piece.boils_c {
        return Ok(only("Water does not get that hot at this altitude: cook them under pressure."));
    }
    let hot = piece.set_to(bath);
    let run = hot.run(&[])?;
    let reached = run.solution.core.first(0.0, |c| c >= l.bivalve_c.value).map(|s| s + l.bivalve_s.value);
    let degrees = units.temperature(Celsius::new(bath));
    Ok(match reached.map(|s| (s / 60.0).ceil()) {
        Some(m) => WayOut {
            text: format!(
                "Set the bath to {degrees} and leave them in for {}; or steam or boil them.",
                minutes(m)
            ),
            until_min: Some(m),
            bath_c: Some(bath),
            ..WayOut::default()
        },
        None => only("Steam or boil them instead."),
    })
}

/// Whether a class may be served undercooked at all, given time in hand.
const fn may_be_undercooked(class: FoodClass) -> bool {
    matches!(class, FoodClass::Beef | FoodClass::Lamb | FoodClass::Duck)
}

/// When a piece is pasteurised, looked for a few times as far as `min`.
fn pasteurised_min(piece: &Piece<'_>, min: f64) -> Result<Option<f64>, HeatError> {
    const FURTHER: f64 = 4.0;
    let until = (min * FURTHER).clamp(60.0, LONGEST_MIN);
    Ok(piece.run_until(until, &[])?.pasteurised_from_min())
}

/// The coldest bath, of at least this piece's and in steps of 0.1 °C, that pasteurises it by `min`: what its
/// instrument is to show, and all the while.
///
/// # Errors
/// When a simulation fails.
pub fn lowest_bath_c(piece: &Piece<'_>, min: f64) -> Result<Option<f64>, HeatError> {
    let shown = piece.shown_c();
    let hottest = HOTTEST_C.min(piece.food.bath_c.high).min(piece.boils_c).max(shown);
    let steps = ((hottest - shown) / BATH_STEP_C).floor();
    let at = |step: f64| rounded(shown + step * BATH_STEP_C);
    let takes = |step: f64| pasteurised_min(&piece.set_to(at(step)), min);
    Ok(least_step(steps, min, takes)?.map(at))
}

/// The greatest thickness, up to this piece's and in steps of 0.5 mm, that is pasteurised by `min`.
///
/// # Errors
/// When a simulation fails.
pub fn greatest_thickness_mm(piece: &Piece<'_>, min: f64) -> Result<Option<f64>, HeatError> {
    let mm = piece.shape.thickness().mm();
    let top = (mm / THICKNESS_STEP_MM).floor() * THICKNESS_STEP_MM;
    let steps = ((top - THINNEST_MM) / THICKNESS_STEP_MM).floor();
    let at = |step: f64| top - step * THICKNESS_STEP_MM;
    let takes = |step: f64| pasteurised_min(&piece.cut_to(at(step)), min);
    Ok(least_step(steps, min, takes)?.map(at))
}

/// The coldest bath on the tables, and the minutes it takes there.
fn first_row(piece: &Piece<'_>) -> Result<Option<(f64, f64)>, HeatError> {
    let least = piece
        .profile
        .table(piece.food)
        .map_or(0.0, |table| table.first_row_c())
        .max(limits().lowest_hold_c.value);
    // Half a degree is what cooks set.
    let c = ((least + piece.reads_high_k) / HALF_K).ceil() * HALF_K;
    if c <= piece.shown_c() {
        return Ok(None);
    }
    let minutes = piece.set_to(c).run(&[])?.pasteurised_from_min();
    Ok(minutes.map(|m| (c, m.ceil())))
}

/// The smallest whole step from 0 to `steps` that takes no longer than `min`, given that no step takes
/// longer than the one before it (`None` is for ever).
///
/// Two steps are kept, one too slow and one fast enough. The next is guessed between them from the times
/// they take, and halves what is left at least every other time.
fn least_step(
    steps: f64,
    min: f64,
    takes: impl Fn(f64) -> Result<Option<f64>, HeatError>,
) -> Result<Option<f64>, HeatError> {
    if steps < 0.0 {
        return Ok(None);
    }
    let Some(last) = takes(steps)?.filter(|m| *m <= min) else { return Ok(None) };
    let (mut slow, mut slow_takes) = (-1.0, None::<f64>);
    let (mut fast, mut fast_takes) = (steps, last);
    let mut guess_by_time = false;
    while fast - slow > 1.0 {
        let middle = ((slow + fast) / 2.0).floor();
        let guess = match slow_takes {
            Some(t) if guess_by_time && t > fast_takes => {
                let share = (t.ln() - min.max(1e-3).ln()) / (t.ln() - fast_takes.max(1e-3).ln());
                (slow + (fast - slow) * share).ceil()
            }
            _ => middle,
        };
        let next = if guess.is_finite() { guess.clamp(slow + 1.0, fast - 1.0) } else { middle };
        guess_by_time = !guess_by_time;
        match takes(next)? {
            Some(m) if m <= min => (fast, fast_takes) = (next, m),
            other => (slow, slow_takes) = (next, other),
        }
    }
    Ok(Some(fast))
}

fn rounded(c: f64) -> f64 {
    (c / BATH_STEP_C).round() * BATH_STEP_C
}

/// What a probe's readings are to tell.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unknown {
    /// The thickness (or diameter), mm.
    Thickness,
    /// The coefficient of heat transfer, W/m²K.
    Coefficient,
}

/// What a probe's readings told.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fit {
    /// What was sought.
    pub unknown: Unknown,
    /// Its value: mm or W/m²K.
    pub value: f64,
    /// Root of the mean square of what is left between readings and simulation, K.
    pub rms_k: f64,
    /// The value stands at the end of what was searched: the readings do not fit this piece.
    pub at_the_end: bool,
}

/// Finds the thickness or coefficient that explains a probe's readings `(minutes, °C)` at the thermal
/// centre best, by least squares (golden section over the logarithm, a factor of four either way).
///
/// # Errors
/// When a simulation fails.
pub fn fit(piece: &Piece<'_>, readings: &[(f64, f64)], unknown: Unknown) -> Result<Fit, HeatError> {
    const FACTOR: f64 = 4.0;
    const ROUNDS: usize = 28;
    let stated = match unknown {
        Unknown::Thickness => piece.shape.thickness().mm(),
        Unknown::Coefficient => piece.coefficient,
    };
    let until = readings.iter().map(|r| r.0).fold(1.0, f64::max);
    let misfit = |value: f64| -> Result<f64, HeatError> {
        let tried = with(piece, unknown, value);
        let run = tried.run_until(until, &[])?;
        let squares: f64 = readings.iter().map(|(m, c)| (run.core_c(*m) - c).powi(2)).sum();
        Ok((squares / readings.len().max(1) as f64).sqrt())
    };
    let golden = (5.0_f64.sqrt() - 1.0) / 2.0;
    let (mut low, mut high) = ((stated / FACTOR).ln(), (stated * FACTOR).ln());
    let (first, last) = (low, high);
    let (mut a, mut b) = (high - golden * (high - low), low + golden * (high - low));
    let (mut at_a, mut at_b) = (misfit(a.exp())?, misfit(b.exp())?);
    for _ in 0..ROUNDS {
        if at_a <= at_b {
            (high, b, at_b) = (b, a, at_a);
            a = high - golden * (high - low);
            at_a = misfit(a.exp())?;
        } else {
            (low, a, at_a) = (a, b, at_b);
            b = low + golden * (high - low);
            at_b = misfit(b.exp())?;
        }
    }
    let best = 0.5 * (low + high);
    Ok(Fit {
        unknown,
        value: best.exp(),
        rms_k: misfit(best.exp())?,
        at_the_end: (best - first).min(last - best) < 0.01,
    })
}

impl Fit {
    /// The piece to judge safety by. A fit may delay a safe time; it brings one forward only when the
    /// instrument is calibrated.
    #[must_use]
    pub fn applied<'a>(&self, piece: &Piece<'a>, calibrated: bool) -> Piece<'a> {
        let stated = match self.unknown {
            Unknown::Thickness => piece.shape.thickness().mm(),
            Unknown::Coefficient => piece.coefficient,
        };
        let value = match (calibrated, self.unknown) {
            (true, _) => self.value,
            (false, Unknown::Thickness) => self.value.max(stated),
            (false, Unknown::Coefficient) => self.value.min(stated),
        };
        with(piece, self.unknown, value)
    }
}

fn with<'a>(piece: &Piece<'a>, unknown: Unknown, value: f64) -> Piece<'a> {
    match unknown {
        Unknown::Thickness => piece.cut_to(value),
        Unknown::Coefficient => Piece { coefficient: value, ..piece.clone() },
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::tests::piece;

    #[test]
    fn inverse_answers_are_the_direct_ones_turned_round() {
        let p = piece("beef-strip", 25.0, 55.0);
        let at = |p: &Piece<'_>| p.run(&[]).expect("simulates").pasteurised_from_min();
        let c = lowest_bath_c(&p, 100.0).expect("simulates").expect("there is one");
        assert!(at(&p.set_to(c)).is_some_and(|m| m <= 100.0));
        assert!(at(&p.set_to(c - 0.1)).is_some_and(|m| m > 100.0));
        let mm = greatest_thickness_mm(&p, 140.0).expect("simulates").expect("there is one");
        assert!(at(&p.cut_to(mm)).is_some_and(|m| m <= 140.0));
        assert!(at(&p.cut_to(mm + 0.5)).is_some_and(|m| m > 140.0));
        // What is fast enough already is its own answer.
        assert_eq!(lowest_bath_c(&p, 600.0).expect("simulates"), Some(55.0));
    }

    #[test]
    fn a_fit_finds_the_piece_that_was_there() {
        let real = piece("beef-strip", 34.0, 56.0);
        let run = real.run(&[]).expect("simulates");
        // Readings every four minutes, each off by up to a tenth of a degree.
        let readings: Vec<(f64, f64)> = (0..20)
            .map(|i| (4.0 * f64::from(i), run.core_c(4.0 * f64::from(i)) + 0.1 * f64::from(i % 3 - 1)))
            .collect();
        let stated = piece("beef-strip", 28.0, 56.0);
        let found = fit(&stated, &readings, Unknown::Thickness).expect("simulates");
        assert!((found.value - 34.0).abs() < 0.3 && found.rms_k < 0.12 && !found.at_the_end, "{found:?}");
        let weak = Piece { coefficient: 40.0, ..real };
        let run = weak.run(&[]).expect("simulates");
        let readings: Vec<(f64, f64)> =
            (1..20).map(|i| (4.0 * f64::from(i), run.core_c(4.0 * f64::from(i)))).collect();
        let found =
            fit(&piece("beef-strip", 34.0, 56.0), &readings, Unknown::Coefficient).expect("simulates");
        assert!((found.value - 40.0).abs() < 1.0, "{found:?}");
    }

    #[test]
    fn a_fit_delays_a_safe_time_and_only_a_calibrated_one_hastens_it() {
        let stated = piece("beef-strip", 30.0, 56.0);
        let safe = |p: &Piece<'_>| p.run(&[]).expect("simulates").pasteurised_from_min().expect("reached");
        for (value, unknown) in [(25.0, Unknown::Thickness), (140.0, Unknown::Coefficient)] {
            let fit = Fit { unknown, value, rms_k: 0.1, at_the_end: false };
            assert_eq!(safe(&fit.applied(&stated, false)), safe(&stated));
            assert!(safe(&fit.applied(&stated, true)) < safe(&stated));
        }
        for (value, unknown) in [(35.0, Unknown::Thickness), (50.0, Unknown::Coefficient)] {
            let fit = Fit { unknown, value, rms_k: 0.1, at_the_end: false };
            assert!(safe(&fit.applied(&stated, false)) > safe(&stated));
        }
    }
}
