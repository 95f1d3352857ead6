//! The inverse questions: how long, how hot or how thin for pasteurised; and what this piece must have
//! been, given what a probe in it read. All answered by simulating.

use super::{LONGEST_MIN, Piece, Run};
use crate::figures::{limits, offers};
use crate::food::FoodClass;
use crate::heat::{Effort, HeatError, Shape};
use crate::safety::{Exit, Level, Remedy, Rule, Verdict, Way, WayOut};
use crate::units::{Celsius, Kelvin, Length, Minutes};

/// What would make `run`, pulled at `min`, pasteurised; `None` when it is, or needs not be.
pub(super) fn find(
    piece: &Piece<'_>,
    run: &Run<'_>,
    verdict: &Verdict,
    min: Minutes,
) -> Result<Option<WayOut>, HeatError> {
    if matches!(verdict.level, Level::Pasteurized | Level::Exempt) {
        return Ok(None);
    }
    // Poison, viruses, the shelf and a culture have ways out of their own: no kill of bacteria helps.
    Ok(Some(match verdict.row.row().exit {
        Exit::Boil => only(Way::Boil),
        Exit::Chill => only(Way::Chill),
        Exit::Culture => only(Way::Culture),
        Exit::Bivalves => bivalves(piece)?,
        Exit::Kill => kill(piece, run, verdict, min)?,
    }))
}

/// How the kill can be had, or what else may serve it.
fn kill(piece: &Piece<'_>, run: &Run<'_>, verdict: &Verdict, min: Minutes) -> Result<WayOut, HeatError> {
    let after_kill_min = run.facts(min).after_kill_min;
    if after_kill_min > limits().after_kill_most_min.minutes() {
        return Ok(only(Way::ThrowAway));
    }
    if after_kill_min > limits().after_kill_every_min.minutes() {
        return Ok(only(Way::GrewAfterKill));
    }
    let until_min = run.pasteurised_from_min().filter(|m| *m > min).map(Minutes::ceil);
    // Eggs and jars are what they are.
    let may_be_cut = piece.food.sizes.is_empty() && piece.food.jar.is_none();
    // A hotter bath and a thinner piece are looked for side by side.
    let thinner = || if may_be_cut { greatest_thickness_mm(piece, min) } else { Ok(None) };
    let (bath_c, thickness_mm) = Effort::beside(|| lowest_bath_c(piece, min), thinner);
    let (bath_c, thickness_mm) = (bath_c?.filter(|c| *c > piece.shown_c()), thickness_mm?);
    let thickness_mm = thickness_mm.filter(|mm| *mm < piece.shape.thickness());
    // Even without hurry: the coldest bath the tables reach, and what it takes there.
    let slow_bath = if until_min.is_none() { first_row(piece)? } else { None };
    let by: Vec<Remedy> = [
        until_min.map(|min| Remedy::Longer { min }),
        slow_bath.map(|(c, min)| Remedy::BathFor { c, min }),
        bath_c.map(|c| Remedy::BathAsNow { c, min }),
        thickness_mm.map(|mm| Remedy::Thinner { mm }),
    ]
    .into_iter()
    .flatten()
    .collect();
    let mut ways = vec![match by.as_slice() {
        [] if spoiled_before(piece) => Way::SpoiledBefore,
        [] => Way::CookAnotherWay,
        _ => Way::Pasteurise { by },
    }];
    let (undercooked, no_later_than_min) = undercooked(piece, run, verdict, min)?;
    ways.extend(undercooked);
    if verdict.row == Rule::Fish && verdict.level == Level::Refused {
        ways.push(Way::FrozenFish { exempt: piece.food.traits.exempt });
    }
    let slow = run.facts(min).come_up_min > limits().come_up_limit_min.minutes();
    if slow && piece.food.sides_mm.is_some() && matches!(piece.shape, Shape::Slab(_)) {
        ways.push(Way::GiveSides);
    }
    Ok(WayOut { ways, until_min, bath_c, thickness_mm, no_later_than_min, written: None })
}

/// Whether the minutes before the bath alone are too many: then no bath and no pan makes it good.
fn spoiled_before(piece: &Piece<'_>) -> bool {
    let (l, (raw, _, warm)) = (limits(), piece.before_min());
    raw > piece.case.clock_limit(l).minutes() || warm > l.warm_limit_min.minutes()
}

/// How a piece that may be served undercooked can be, where the growth clocks forbid it as it is: out of the
/// bath in time (and by which minute), or a bath or thickness that is heated through in time.
fn undercooked(
    piece: &Piece<'_>,
    run: &Run<'_>,
    verdict: &Verdict,
    min: Minutes,
) -> Result<(Option<Way>, Option<Minutes>), HeatError> {
    let may = verdict.row == Rule::Growth
        && !piece.case.is_pierced()
        && !piece.case.at_risk
        && may_be_undercooked(piece.food.class);
    let Some(latest) = run.clock_runs_out_min().filter(|_| may).map(Minutes::whole_before) else {
        return Ok((None, None));
    };
    let in_time = run.done_min().is_some_and(|m| m <= latest);
    if in_time && latest > Minutes::ZERO && latest < min {
        return Ok((Some(Way::TakeOut { min: latest }), Some(latest)));
    }
    // It is not heated through by the time it must be out: thinner, or hotter.
    let warms_in_time = |p: &Piece<'_>| -> Result<bool, HeatError> {
        let run = p.run_until(LONGEST_MIN, &[])?;
        Ok(run.done_min().is_some_and(|m| run.quick_verdict_at(m).level != Level::Refused))
    };
    let mut by = Vec::new();
    if piece.food.sizes.is_empty() {
        let grid = offers().thickness_step_mm.length();
        let top = piece.shape.thickness().floor(grid);
        let steps = ((top - offers().thinnest_mm.length().floor(grid)) / grid).round();
        let at = |step: f64| top - grid * step;
        if let Some(step) = first_step(steps, |s| warms_in_time(&piece.cut_to(at(s))))? {
            by.push(Remedy::Thinner { mm: at(step) });
        }
    }
    let grid = offers().undercooked_step_k.kelvin();
    let steps = ((limits().lowest_hold_c.celsius() - piece.set_c()) / grid).ceil();
    let at = |step: f64| (piece.shown_c() + grid * step).floor(grid);
    let hotter = |s: f64| warms_in_time(&piece.set_to(at(s)));
    if let Some(step) = first_step(steps, hotter)?.filter(|s| *s > 0.0) {
        by.push(Remedy::Bath { c: at(step) });
    }
    Ok(((!by.is_empty()).then_some(Way::WarmInTime { by }), None))
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

/// One way, and no numbers.
fn only(way: Way) -> WayOut {
    WayOut { ways: vec![way], ..WayOut::default() }
}

/// How long bivalves need in a bath hot enough for them.
fn bivalves(piece: &Piece<'_>) -> Result<WayOut, HeatError> {
    let l = limits();
    let hot_enough = l.bivalve_c.celsius() + offers().bivalves_hotter_k.kelvin() + piece.reads_high_k;
    let bath_c = piece.shown_c().max(hot_enough);
    if bath_c > piece.boils_c {
        return Ok(only(Way::UnderPressure));
    }
    let hot = piece.set_to(bath_c);
    let run = hot.run(&[])?;
    let reached = run.solution.core.first(0.0, |c| c >= l.bivalve_c.value).map(|s| s + l.bivalve_s.value);
    let Some(min) = reached.map(|s| Minutes::from_seconds(s).ceil()) else { return Ok(only(Way::Steam)) };
    let way = only(Way::HeatBivalves { bath_c, min });
    Ok(WayOut { until_min: Some(min), bath_c: Some(bath_c), ..way })
}

/// Whether a class may be served undercooked at all, given time in hand.
const fn may_be_undercooked(class: FoodClass) -> bool {
    matches!(class, FoodClass::Beef | FoodClass::Lamb | FoodClass::Duck)
}

/// When a piece is pasteurised, looked for a few times as far as `min`.
fn pasteurised_min(piece: &Piece<'_>, min: Minutes) -> Result<Option<Minutes>, HeatError> {
    const FURTHER: f64 = 4.0;
    let until = (min * FURTHER).max(Minutes::from_hours(1.0)).min(LONGEST_MIN);
    Ok(piece.run_until(until, &[])?.pasteurised_from_min())
}

/// The coldest bath, of at least this piece's and in steps of 0.1 °C, that pasteurises it by `min`: what its
/// instrument is to show, and all the while.
///
/// Source: the model itself, run again and again until it agrees.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let c = lowest_bath_c(&piece, Minutes::new(100.0))?.expect("a hotter bath does it");
/// assert!(c > Celsius::new(55.0));
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn lowest_bath_c(piece: &Piece<'_>, min: Minutes) -> Result<Option<Celsius>, HeatError> {
    let shown = piece.shown_c();
    let grid = offers().bath_step_k.kelvin();
    let hottest = offers().hottest_c.celsius().min(piece.food.bath_c.high).min(piece.boils_c).max(shown);
    let steps = ((hottest - shown) / grid).floor();
    let at = |step: f64| (shown + grid * step).nearest(grid);
    let takes = |step: f64| pasteurised_min(&piece.set_to(at(step)), min);
    Ok(least_step(steps, min, takes)?.map(at))
}

/// The greatest thickness, up to this piece's and in steps of 0.5 mm, that is pasteurised by `min`.
///
/// Source: the model itself, run again and again until it agrees.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let thin = greatest_thickness_mm(&piece, Minutes::new(140.0))?.expect("a thinner one does it");
/// assert!(thin < Length::from_mm(25.0));
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn greatest_thickness_mm(piece: &Piece<'_>, min: Minutes) -> Result<Option<Length>, HeatError> {
    let grid = offers().thickness_step_mm.length();
    let top = piece.shape.thickness().floor(grid);
    let steps = ((top - offers().thinnest_mm.length()) / grid).floor();
    let at = |step: f64| top - grid * step;
    let takes = |step: f64| pasteurised_min(&piece.cut_to(at(step)), min);
    Ok(least_step(steps, min, takes)?.map(at))
}

/// The coldest bath on the tables, and the minutes it takes there.
fn first_row(piece: &Piece<'_>) -> Result<Option<(Celsius, Minutes)>, HeatError> {
    let lowest = limits().lowest_hold_c.celsius();
    let first = piece.profile.table(piece.food).map(|table| Celsius::new(table.first_row_c()));
    let least = first.map_or(lowest, |c| c.max(lowest));
    // Half a degree is what cooks set.
    let c = (least + piece.reads_high_k).ceil(offers().undercooked_step_k.kelvin());
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
    min: Minutes,
    takes: impl Fn(f64) -> Result<Option<Minutes>, HeatError>,
) -> Result<Option<f64>, HeatError> {
    if steps < 0.0 {
        return Ok(None);
    }
    let Some(last) = takes(steps)?.filter(|m| *m <= min) else { return Ok(None) };
    let (mut slow, mut slow_takes) = (-1.0, None::<Minutes>);
    let (mut fast, mut fast_takes) = (steps, last);
    let mut guess_by_time = false;
    while fast - slow > 1.0 {
        let middle = ((slow + fast) / 2.0).floor();
        let guess = match slow_takes {
            Some(t) if guess_by_time && t > fast_takes => {
                let ln = |m: Minutes| m.value().max(1e-3).ln();
                let share = (ln(t) - ln(min)) / (ln(t) - ln(fast_takes));
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
    pub rms_k: Kelvin,
    /// The value stands at the end of what was searched: the readings do not fit this piece.
    pub at_the_end: bool,
}

/// Finds the thickness or coefficient that explains a probe's readings at the thermal
/// centre best, by least squares (golden section over the logarithm, a factor of four either way).
///
/// Source: the model itself, run again and again until it agrees.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let run = piece.run(&[])?;
/// let read: Vec<_> = (1..15).map(|i| f64::from(i) * 5.0).map(|m| (Minutes::new(m), Celsius::new(run.solution.core.at(m * 60.0)))).collect();
/// // It was said to be 20 mm thick; the probe knows better.
/// let stated = Piece { shape: slab(20.0), ..piece.clone() };
/// let found = fit(&stated, &read, Unknown::Thickness)?;
/// assert!((found.value - 25.0).abs() < 0.2 && !found.at_the_end);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn fit(piece: &Piece<'_>, readings: &[(Minutes, Celsius)], unknown: Unknown) -> Result<Fit, HeatError> {
    const FACTOR: f64 = 4.0;
    const ROUNDS: usize = 28;
    let stated = match unknown {
        Unknown::Thickness => piece.shape.thickness().mm(),
        Unknown::Coefficient => piece.coefficient,
    };
    let until = readings.iter().map(|r| r.0).fold(Minutes::new(1.0), Minutes::max);
    let misfit = |value: f64| -> Result<f64, HeatError> {
        let tried = with(piece, unknown, value);
        let run = tried.run_until(until, &[])?;
        let squares: f64 = readings.iter().map(|(m, c)| (run.core_c(*m) - *c).value().powi(2)).sum();
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
        rms_k: Kelvin::new(misfit(best.exp())?),
        at_the_end: (best - first).min(last - best) < 0.01,
    })
}

/// How much thicker than stated a piece must be to have been no warmer than a probe last read, where it read colder.
/// For shapes of which a whole [`fit`] costs too much (a block takes some thirty runs): this may delay a safe time,
/// and as no fit to all the readings it says it is at the end of what was searched, so that it hastens none.
///
/// Source: the model itself, run again and again until it agrees.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let roast = catalogue().food("beef-roast").expect("in the catalogue");
/// let block = Shape::Block { thickness: Length::from_mm(60.0), width: Length::from_mm(90.0), length: Length::from_mm(140.0) };
/// let piece = Piece::new(roast, block, Celsius::new(5.0), BathTrace::constant(57.0));
/// let at = Minutes::new(90.0);
/// let estimate = Celsius::new(piece.run_until(at, &[])?.solution.core.at(90.0 * 60.0));
/// assert_eq!(slower(&piece, (at, estimate + Kelvin::new(1.0)), estimate)?.value, 60.0);
/// assert!(slower(&piece, (at, estimate - Kelvin::new(5.0)), estimate)?.value > 61.0);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn slower(
    piece: &Piece<'_>,
    (at, read): (Minutes, Celsius),
    estimate: Celsius,
) -> Result<Fit, HeatError> {
    const AS_READ: Kelvin = Kelvin::new(0.3);
    const ROUNDS: usize = 5;
    let stated = piece.shape.thickness().mm();
    let told = |value: f64| Fit {
        unknown: Unknown::Thickness,
        value,
        rms_k: (read - estimate).abs(),
        at_the_end: true,
    };
    if estimate - read < AS_READ {
        return Ok(told(stated));
    }
    let (mut warm, mut cold) = (stated, stated * 2.0);
    for _ in 0..ROUNDS {
        let tried = f64::midpoint(warm, cold);
        let thicker = with(piece, Unknown::Thickness, tried);
        let run = thicker.run_until(at, &[])?;
        if run.core_c(at) > read { warm = tried } else { cold = tried }
    }
    Ok(told(cold))
}

impl Fit {
    /// The piece to judge safety by where the instrument is not calibrated: the fit may delay a safe time, and brings none
    /// forward.
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// let found = Fit { unknown: Unknown::Thickness, value: 20.0, rms_k: Kelvin::ZERO, at_the_end: false };
    /// // Thinner than stated would be sooner safe: only a calibrated instrument is believed.
    /// assert_eq!(found.delaying(&piece).shape, slab(25.0));
    /// assert_eq!(found.applied(&piece).shape, slab(20.0));
    /// ```
    #[must_use]
    pub fn delaying<'a>(&self, piece: &Piece<'a>) -> Piece<'a> {
        let value = match self.unknown {
            Unknown::Thickness => self.value.max(piece.shape.thickness().mm()),
            Unknown::Coefficient => self.value.min(piece.coefficient),
        };
        with(piece, self.unknown, value)
    }

    /// The same where the instrument is calibrated: the piece as it was found, sooner too.
    ///
    /// Source: the model itself, run again and again until it agrees.
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// let found = Fit { unknown: Unknown::Thickness, value: 20.0, rms_k: Kelvin::ZERO, at_the_end: false };
    /// assert_eq!(found.applied(&piece).shape, slab(20.0));
    /// ```
    #[must_use]
    pub fn applied<'a>(&self, piece: &Piece<'a>) -> Piece<'a> {
        with(piece, self.unknown, self.value)
    }
}

fn with<'a>(piece: &Piece<'a>, unknown: Unknown, value: f64) -> Piece<'a> {
    match unknown {
        Unknown::Thickness => piece.cut_to(Length::from_mm(value)),
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
        let c = lowest_bath_c(&p, Minutes::new(100.0)).expect("simulates").expect("there is one");
        assert!(at(&p.set_to(c)).is_some_and(|m| m <= Minutes::new(100.0)));
        assert!(at(&p.set_to(c - Kelvin::new(0.1))).is_some_and(|m| m > Minutes::new(100.0)));
        let mm = greatest_thickness_mm(&p, Minutes::new(140.0)).expect("simulates").expect("there is one");
        assert!(at(&p.cut_to(mm)).is_some_and(|m| m <= Minutes::new(140.0)));
        assert!(at(&p.cut_to(mm + Length::from_mm(0.5))).is_some_and(|m| m > Minutes::new(140.0)));
        // What is fast enough already is its own answer.
        assert_eq!(lowest_bath_c(&p, Minutes::new(600.0)).expect("simulates"), Some(Celsius::new(55.0)));
    }

    #[test]
    fn a_fit_finds_the_piece_that_was_there() {
        let real = piece("beef-strip", 34.0, 56.0);
        let run = real.run(&[]).expect("simulates");
        // Readings every four minutes, each off by up to a tenth of a degree.
        let every_four = |i: i32| Minutes::new(4.0 * f64::from(i));
        let readings: Vec<_> = (0..20)
            .map(|i| (every_four(i), run.core_c(every_four(i)) + Kelvin::new(0.1 * f64::from(i % 3 - 1))))
            .collect();
        let stated = piece("beef-strip", 28.0, 56.0);
        let found = fit(&stated, &readings, Unknown::Thickness).expect("simulates");
        assert!(
            (found.value - 34.0).abs() < 0.3 && found.rms_k < Kelvin::new(0.12) && !found.at_the_end,
            "{found:?}"
        );
        let weak = Piece { coefficient: 40.0, ..real };
        let run = weak.run(&[]).expect("simulates");
        let readings: Vec<_> = (1..20).map(|i| (every_four(i), run.core_c(every_four(i)))).collect();
        let found =
            fit(&piece("beef-strip", 34.0, 56.0), &readings, Unknown::Coefficient).expect("simulates");
        assert!((found.value - 40.0).abs() < 1.0, "{found:?}");
    }

    #[test]
    fn a_fit_delays_a_safe_time_and_only_a_calibrated_one_hastens_it() {
        let stated = piece("beef-strip", 30.0, 56.0);
        let safe = |p: &Piece<'_>| p.run(&[]).expect("simulates").pasteurised_from_min().expect("reached");
        for (value, unknown) in [(25.0, Unknown::Thickness), (140.0, Unknown::Coefficient)] {
            let fit = Fit { unknown, value, rms_k: Kelvin::new(0.1), at_the_end: false };
            assert_eq!(safe(&fit.delaying(&stated)), safe(&stated));
            assert!(safe(&fit.applied(&stated)) < safe(&stated));
        }
        for (value, unknown) in [(35.0, Unknown::Thickness), (50.0, Unknown::Coefficient)] {
            let fit = Fit { unknown, value, rms_k: Kelvin::new(0.1), at_the_end: false };
            assert!(safe(&fit.delaying(&stated)) > safe(&stated));
        }
    }
}
