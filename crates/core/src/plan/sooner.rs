//! Ready when it is wanted, where as asked it cannot be: thinner, in a bath that is hot already, or pulled before its time.

use jiff::Timestamp;

use super::{Plan, PlanRequest, Window, plan};
use crate::heat::HeatError;
use crate::units::{Kelvin, Length, Minutes};

/// A way to be ready when it is wanted.
#[derive(Debug, Clone, PartialEq)]
pub struct SoonerWay {
    /// What is done otherwise.
    pub way: Sooner,
    /// The bath is hot when it is wanted.
    pub hot: bool,
    /// What it is then.
    pub plan: Plan,
}

/// What is done otherwise.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Sooner {
    /// The bath is hot when it is wanted.
    HotBath,
    /// The piece is no thicker than that.
    Thinner(Length),
    /// It is pulled after so long, whatever it is then.
    PulledEarly(Minutes),
}

/// Thinner than that no piece is offered.
const THINNEST: Length = Length::from_mm(5.0);
/// Pulled early it is a little less done, and not raw: its centre is within so much of its bath, and it is tender already.
const NEARLY: Kelvin = Kelvin::new(5.0);

/// Up to three ways to be ready when it is wanted, each with its plan; none where it is ready in time as asked. No way is
/// refused. `step` is what a thickness is given in. It costs a dozen simulations.
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, Sooner, plan, sooner};
/// use hold_steady_core::units::{Length, Units};
/// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let typed = PlanForm { intact: "whole".into(), ready: "18:15".into(), ..PlanForm::default() };
/// let request = typed.read(&Setting::new(Units::default(), now, &zone, &rules)).request.expect("complete");
/// let late = plan(&request, now)?;
/// assert!(!late.in_time);
/// let ways = sooner(&request, &late, now, Length::from_mm(1.0))?;
/// assert!(ways.iter().any(|w| matches!(w.way, Sooner::Thinner(mm) if mm < request.thickness_mm)));
/// assert!(ways.iter().all(|w| w.plan.in_time && !w.plan.is_refused()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
pub fn sooner(
    request: &PlanRequest,
    late: &Plan,
    now: Timestamp,
    step: Length,
) -> Result<Vec<SoonerWay>, HeatError> {
    let Some(asked) = request.ready_at.filter(|_| !late.in_time && request.in_since.is_none()) else {
        return Ok(Vec::new());
    };
    let hot = PlanRequest { hot: true, ..request.clone() };
    let in_hot = if request.hot { None } else { Some(plan(&hot, now)?) };
    // Where that gains nothing (what is salted ahead waits for its salt) it is no way.
    let gains = in_hot.as_ref().is_some_and(|p| p.earliest_ready < late.earliest_ready);
    // What fits to the minute is too late when it is opened a moment after.
    const READING: Minutes = Minutes::new(1.0);
    let spare = |late: &Plan| late.bath_min - Minutes::between(asked, late.earliest_ready) - READING;
    // As it stands, else in a bath that is hot too.
    let (base, left) = match &in_hot {
        Some(p) if gains && spare(late) < Minutes::new(1.0) => (&hot, spare(p)),
        _ => (request, spare(late)),
    };
    let mut ways = Vec::new();
    let mut offer = |way: Sooner, hot: bool, plan: Plan| {
        let fits = Minutes::between(plan.earliest_ready, asked) >= READING;
        if plan.in_time && fits && !plan.is_refused() {
            ways.push(SoonerWay { way, hot, plan });
        }
    };
    if left >= Minutes::new(1.0)
        && let Some(thin) = thinner(base, left, step)?
    {
        offer(Sooner::Thinner(thin), base.hot, plan(&with_thickness(base, thin), now)?);
    }
    if let Some(p) = in_hot.as_ref().filter(|_| gains).cloned() {
        offer(Sooner::HotBath, true, p);
    }
    let early = left.floor();
    if early >= late.best_from.max(Minutes::new(1.0)) {
        let pulled = plan(&PlanRequest { time_min: Some(early), ..base.clone() }, now)?;
        let nearly = pulled.centre_at_pull().is_some_and(|c| base.bath_c - c <= NEARLY);
        if nearly {
            offer(Sooner::PulledEarly(early), base.hot, pulled);
        }
    }
    Ok(ways)
}

fn with_thickness(request: &PlanRequest, thickness_mm: Length) -> PlanRequest {
    PlanRequest { thickness_mm, thin_mm: None, unsure: false, ..request.clone() }
}

/// The thickest that needs no more than so long, where its thickness is the cook's to choose.
fn thinner(request: &PlanRequest, within: Minutes, step: Length) -> Result<Option<Length>, HeatError> {
    let food = request.food();
    if !food.sizes.is_empty() || food.jar.is_some() || request.time_min.is_some() {
        return Ok(None);
    }
    let at = |n: u32| Length::from_mm(step.mm() * f64::from(n));
    let steps = |l: Length| (l.mm() / step.mm()).floor() as u32;
    let fits = |n: u32| -> Result<bool, HeatError> {
        Ok(Window::of(&with_thickness(request, at(n)))?.needed_min <= within)
    };
    let (mut low, mut high) = (steps(THINNEST).max(1), steps(request.thickness_mm));
    if low >= high || !fits(low)? {
        return Ok(None);
    }
    while high - low > 1 {
        let middle = low.midpoint(high);
        if fits(middle)? { low = middle } else { high = middle }
    }
    Ok(Some(at(low)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::catalogue;
    use crate::plan::From;
    use crate::safety::Level;

    fn asked(food: &str, in_min: i64) -> (PlanRequest, Plan, Timestamp) {
        let now: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
        let food = catalogue().food(food).expect("in the catalogue");
        let request = crate::evidence::usual_request(food, From::Refrigerator);
        let ready_at = Some(now + jiff::SignedDuration::from_mins(in_min));
        let request = PlanRequest { ready_at, intact: Some(true), ..request };
        let late = plan(&request, now).expect("plans");
        (request, late, now)
    }

    #[test]
    fn each_way_is_ready_when_it_is_wanted_and_the_next_thicker_is_not() {
        let (request, late, now) = asked("beef-strip", 120);
        assert!(!late.in_time);
        let step = Length::from_mm(1.0);
        let ways = sooner(&request, &late, now, step).expect("plans");
        let thin = ways.iter().find_map(|w| match w.way {
            Sooner::Thinner(l) => Some(l),
            _ => None,
        });
        let thin = thin.expect("one that is thinner");
        let thicker = plan(&with_thickness(&request, Length::from_mm(thin.mm() + 1.0)), now).expect("plans");
        assert!(!thicker.in_time, "{thin:?}");
        for w in &ways {
            assert!(w.plan.in_time && w.plan.times.serve == request.ready_at.expect("asked"), "{:?}", w.way);
        }
    }

    #[test]
    fn poultry_is_never_pulled_early() {
        let (request, late, now) = asked("chicken-breast", 75);
        let ways = sooner(&request, &late, now, Length::from_mm(1.0)).expect("plans");
        assert!(ways.iter().all(|w| w.plan.verdict.level == Level::Pasteurized));
        assert!(!ways.iter().any(|w| matches!(w.way, Sooner::PulledEarly(_))));
    }

    #[test]
    fn nothing_is_pulled_raw_or_tough() {
        let now: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
        for id in ["beef-strip", "beef-roast", "beef-cheek", "pork-loin", "beef-tenderloin"] {
            for in_min in (40..200).step_by(20) {
                let (request, late, _) = asked(id, in_min);
                for w in sooner(&request, &late, now, Length::from_mm(1.0)).expect("plans") {
                    let Sooner::PulledEarly(min) = w.way else { continue };
                    let centre = w.plan.centre_at_pull().expect("it is drawn");
                    assert!(
                        min >= late.best_from && request.bath_c - centre <= NEARLY,
                        "{id} in {in_min} min"
                    );
                }
            }
        }
    }

    #[test]
    fn what_is_in_time_or_wanted_at_no_time_has_no_ways() {
        let (request, late, now) = asked("beef-strip", 600);
        assert!(
            late.in_time && sooner(&request, &late, now, Length::from_mm(1.0)).expect("plans").is_empty()
        );
        // Five minutes are too few for anything.
        let (request, late, now) = asked("beef-strip", 5);
        assert!(sooner(&request, &late, now, Length::from_mm(1.0)).expect("plans").is_empty());
    }
}
