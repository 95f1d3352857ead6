//! Where a running cook stands now: centre temperature, what to do next and when, the verdict.

use jiff::{SignedDuration, Timestamp};

use super::{CookState, Stage};
use crate::bath::{BathPoint, BathTrace};
use crate::food::{Finish, FinishStep};
use crate::heat::HeatError;
use crate::piece::Piece;
use crate::plan::{Plan, PlanRequest};
use crate::safety::{Level, Verdict, minutes};
use crate::units::{Units, minutes_between};

/// A cook, now.
#[derive(Debug, Clone, PartialEq)]
pub struct Live {
    /// How far it has come.
    pub stage: Stage,
    /// Estimated centre, °C: the slow end and the middle of the spreads. `None` before the drop;
    /// after the pull, the values at the pull.
    pub centre_c: Option<(f64, f64)>,
    /// What to do next, in the imperative.
    pub next: String,
    /// When, if there is a when.
    pub next_at: Option<Timestamp>,
    /// Why, or what to expect, in a sentence.
    pub expect: String,
    /// Heated through at (slow end), by the actual drop.
    pub through_at: Option<Timestamp>,
    /// Pasteurised at (slow end), by the actual drop.
    pub pasteurised_at: Option<Timestamp>,
    /// At its best until (fast end), by the actual drop.
    pub best_until: Option<Timestamp>,
    /// The growth clock runs out, by the actual drop.
    pub clock_out: Option<Timestamp>,
    /// The verdict for now (in the bath) or for the pull, to the moment of eating.
    pub verdict: Option<Verdict>,
    /// Where the ribbon's needle stands, minutes from the drop.
    pub bath_min: Option<f64>,
}

fn later(t: Timestamp, min: f64) -> Option<Timestamp> {
    t.checked_add(SignedDuration::from_secs((min * 60.0).ceil() as i64)).ok()
}

/// The bath's trace from readings `(instant, °C)`, in minutes from the drop; readings before the drop
/// give the temperature it started at.
#[must_use]
pub fn trace_from_drop(readings: &[(Timestamp, f64)], dropped: Timestamp) -> Option<BathTrace> {
    let mut points: Vec<BathPoint> = Vec::with_capacity(readings.len());
    for &(at, c) in readings {
        let point = BathPoint { min: minutes_between(dropped, at), c };
        match points.last_mut() {
            Some(last) if point.min <= 0.0 || point.min <= last.min => *last = point,
            _ => points.push(point),
        }
    }
    BathTrace::new(points).ok()
}

/// Says where a cook stands at `now`, from what was planned, what happened, and the bath's readings
/// (rising order). Simulates with the actual drop and bath.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
pub fn live(
    request: &PlanRequest,
    plan: &Plan,
    state: &CookState,
    readings: &[(Timestamp, f64)],
    now: Timestamp,
    units: Units,
) -> Result<Live, HeatError> {
    let stage = state.stage();
    let Some(dropped) = state.when("dropped") else {
        let late = minutes_between(plan.times.drop_by, now);
        let expect = if late >= 1.0 {
            format!(
                "{} late: drop it now and everything after moves by as much. Tap when it is in and the bath is back at temperature.",
                minutes(late)
            )
        } else {
            "Tap when it is in and the bath is back at temperature: the clock starts then.".into()
        };
        return Ok(Live {
            stage,
            centre_c: None,
            next: "Drop it in".into(),
            next_at: Some(plan.times.drop_by),
            expect,
            through_at: None,
            pasteurised_at: None,
            best_until: None,
            clock_out: None,
            verdict: None,
            bath_min: None,
        });
    };
    let pulled = state.when("pulled");
    let eaten = state.when("eaten");
    let finish = request.food().finish();
    // From the pull to the plate: as planned until it has happened or takes longer than planned.
    let finish_min = match (pulled, eaten) {
        (Some(p), Some(e)) => minutes_between(p, e),
        (Some(p), None) => minutes_between(p, now).max(plan.finish_min),
        _ => plan.finish_min,
    };
    // What floats is not cooking: on the safe side, the minutes afloat count as waiting before the drop, and
    // on the growth clock.
    let (afloat, really_dropped) = (state.afloat_min(), dropped);
    let dropped = later(dropped, afloat).unwrap_or(dropped);
    let bath = trace_from_drop(readings, dropped);
    let error = request.rules.bath_error_c;
    let piece_in_bath = |piece, spread_k| waited(with_bath(piece, bath.as_ref(), spread_k, error), afloat);
    let slow_piece = piece_in_bath(request.slow_piece(finish_min), -request.rules.bath_spread_k);
    let middle_piece = piece_in_bath(request.nominal_piece(finish_min), 0.0);
    let (slow, middle) = (slow_piece.run(&[])?, middle_piece.run(&[])?);

    let bath_min = minutes_between(dropped, pulled.unwrap_or(now)).max(0.0);
    let verdict = slow.quick_verdict_at(bath_min, units);
    let through = slow.done_min();
    let pasteurised = slow.safe_from_min();
    let clock_out = slow.clock_runs_out_min();
    let from_drop = |min: Option<f64>| min.and_then(|m| later(dropped, m));
    let (next, next_at, expect) = match stage {
        Stage::Waiting | Stage::InBath => in_bath(plan, &verdict, bath_min, through, pasteurised, clock_out),
        Stage::Pulled | Stage::Dried | Stage::Seared => {
            let (next, after_pull, why) = finishing(finish, stage, plan);
            (next, pulled.map(|p| (after_pull, p)), why)
        }
        Stage::Eaten => {
            ("Write down how it came out".to_owned(), None, "Two words now save the next one.".to_owned())
        }
    };
    // While it is in the bath, minutes count from the drop.
    let next_at =
        next_at.and_then(|(min, from)| later(if stage <= Stage::InBath { dropped } else { from }, min));
    Ok(Live {
        stage,
        centre_c: Some((slow.core_c(bath_min), middle.core_c(bath_min))),
        next,
        next_at,
        expect,
        through_at: from_drop(through),
        pasteurised_at: from_drop(pasteurised),
        best_until: later(really_dropped, plan.best_until.fast),
        clock_out: from_drop(clock_out.filter(|c| pasteurised.is_none_or(|p| p > *c))),
        verdict: Some(verdict),
        bath_min: Some(bath_min),
    })
}

/// The piece in the bath as it was read, where there are readings.
fn with_bath<'a>(piece: Piece<'a>, bath: Option<&BathTrace>, spread_k: f64, error_c: f64) -> Piece<'a> {
    match bath {
        Some(trace) => {
            Piece { bath: trace.shifted(spread_k - error_c), set_c: trace.set_point() - error_c, ..piece }
        }
        None => piece,
    }
}

/// The piece after minutes of waiting before it went in.
fn waited(piece: Piece<'_>, min: f64) -> Piece<'_> {
    Piece { clock_before_min: piece.clock_before_min + min, ..piece }
}

/// What to do after the pull: what, how many minutes after it, and why.
fn finishing(finish: &Finish, stage: Stage, plan: &Plan) -> (String, f64, String) {
    let first = &finish.steps[0];
    let of = |step: &FinishStep, after: f64| (step.what.clone(), after, step.why.clone());
    let sear = finish.step("sear").zip(finish.until_sear_min());
    match (stage, sear) {
        (Stage::Pulled, _) if finish.dries => of(first, 0.0),
        (Stage::Pulled | Stage::Dried, Some((step, after))) => {
            let (what, after, why) = of(step, after);
            (what, after, format!("{why} What the sear does to the inside is not predicted yet."))
        }
        (Stage::Pulled, None) => of(first, 0.0),
        _ => of(finish.last(), plan.finish_min),
    }
}

/// What to do with a piece in the bath: what, at which minute from the drop, and why.
fn in_bath(
    plan: &Plan,
    verdict: &Verdict,
    bath_min: f64,
    through: Option<f64>,
    pasteurised: Option<f64>,
    clock_out: Option<f64>,
) -> (String, Option<(f64, Timestamp)>, String) {
    let pull = plan.times.pull;
    let ready = if plan.must_pasteurise { pasteurised } else { through };
    let clock_comes = clock_out.filter(|c| pasteurised.is_none_or(|p| p > *c));
    if clock_out.is_some_and(|c| bath_min > c) && verdict.level == Level::Refused {
        let (next, expect) = match pasteurised.filter(|p| *p > bath_min) {
            Some(p) => (
                "Leave it in: not safe to serve yet",
                format!("It needs {} more until it is pasteurised.", minutes((p - bath_min).ceil())),
            ),
            None => (
                "Do not serve it",
                "It has been too long where bacteria grow, and this bath cannot pasteurise it.".to_owned(),
            ),
        };
        return (next.into(), pasteurised.filter(|p| *p > bath_min).map(|p| (p, pull)), expect);
    }
    match ready {
        Some(r) if bath_min < r => (
            "Pull it".into(),
            Some((r.max(plan.bath_min), pull)),
            if plan.must_pasteurise {
                format!("Pasteurised in {}; not before that.", minutes((r - bath_min).ceil()))
            } else {
                format!("Heated through in {}.", minutes((r - bath_min).ceil()))
            },
        ),
        Some(_) if bath_min < plan.bath_min => {
            ("Pull it".into(), Some((plan.bath_min, pull)), "Heated through; it waits in the bath.".into())
        }
        Some(_) => {
            let best_left = plan.best_until.fast - bath_min;
            let expect = match clock_comes {
                Some(c) => format!(
                    "Pull it within {}: this bath does not pasteurise it, and the growth clock runs.",
                    minutes((c - bath_min).max(0.0).floor())
                ),
                None if best_left > 0.0 => format!("It may wait another {} at its best.", minutes(best_left)),
                None => "It is past its best; it is as safe as before.".into(),
            };
            ("Pull it when you are ready".into(), None, expect)
        }
        None => (
            "Pull it".into(),
            Some((plan.bath_min, pull)),
            "It has not heated through by the simulation.".into(),
        ),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cook::{Event, EventKind};
    use crate::plan::{KitchenRules, PlanForm, Setting, plan};
    use uuid::Uuid;

    fn setup(bath: &str, guests: &str) -> (PlanRequest, Plan, Timestamp) {
        let now: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
        let form = PlanForm {
            intact: "whole".into(),
            bath: bath.into(),
            guests: guests.into(),
            ..PlanForm::default()
        };
        let rules = KitchenRules::default();
        let r = form.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules));
        let request = r.request.expect("complete");
        let p = plan(&request, now, Units::default()).expect("a plain piece");
        (request, p, now)
    }

    fn at(base: Timestamp, min: f64) -> Timestamp {
        later(base, min).expect("in range")
    }

    fn state(base: Timestamp, events: &[(f64, EventKind)]) -> CookState {
        let events: Vec<Event> = events
            .iter()
            .enumerate()
            .map(|(n, (min, kind))| Event {
                id: Uuid::from_u128(n as u128 + 1),
                happened_at: at(base, *min),
                recorded_at: at(base, *min),
                by: "cook".into(),
                kind: kind.clone(),
            })
            .collect();
        CookState::of(&events)
    }

    #[test]
    fn the_clock_starts_with_the_drop_and_not_with_the_plan() {
        let (request, p, now) = setup("55 °C", "well");
        let u = Units::default();
        let before = live(&request, &p, &state(now, &[]), &[], at(now, 5.0), u).expect("simulates");
        assert_eq!((before.stage, before.centre_c), (Stage::Waiting, None));
        // Dropped an hour after the plan said.
        let late = state(p.times.drop_by, &[(60.0, EventKind::Dropped)]);
        let reading = [(p.times.drop_by, 55.0)];
        let l = live(&request, &p, &late, &reading, at(p.times.drop_by, 100.0), u).expect("simulates");
        assert_eq!(l.next_at, Some(at(p.times.drop_by, 60.0 + p.bath_min)));
        let (slow, middle) = l.centre_c.expect("in the bath");
        assert!(5.0 < slow && slow < middle && middle < 50.0, "{slow} {middle}");
    }

    #[test]
    fn a_colder_reading_delays_and_never_hastens() {
        let (request, p, now) = setup("55 °C", "at-risk");
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let u = Units::default();
        let steady = [(now, 55.0)];
        let sagging = [(now, 55.0), (at(now, 60.0), 54.5), (at(now, 90.0), 55.0)];
        let a = live(&request, &p, &s, &steady, at(now, 30.0), u).expect("simulates");
        let b = live(&request, &p, &s, &sagging, at(now, 30.0), u).expect("simulates");
        assert!(b.pasteurised_at > a.pasteurised_at, "{:?} {:?}", a.pasteurised_at, b.pasteurised_at);
        assert_eq!(a.verdict.map(|v| v.level), Some(Level::Refused));
    }

    #[test]
    fn a_cold_bath_runs_out_and_then_says_so() {
        let (request, p, now) = setup("51.5 °C", "well");
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let u = Units::default();
        let in_time = live(&request, &p, &s, &[], at(now, 120.0), u).expect("simulates");
        assert_eq!(in_time.verdict.as_ref().map(|v| v.level), Some(Level::ServeNow));
        assert!(in_time.clock_out.is_some());
        let late = live(&request, &p, &s, &[], at(now, 300.0), u).expect("simulates");
        assert_eq!(late.next, "Do not serve it");
    }

    #[test]
    fn minutes_afloat_count_as_waiting_and_not_as_cooking() {
        let (request, p, now) = setup("55 °C", "at-risk");
        let u = Units::default();
        let good = state(now, &[(0.0, EventKind::Dropped)]);
        let afloat =
            state(now, &[(0.0, EventKind::Dropped), (50.0, EventKind::Floated { afloat_min: 40.0 })]);
        let (a, b) = (
            live(&request, &p, &good, &[], at(now, 60.0), u),
            live(&request, &p, &afloat, &[], at(now, 60.0), u),
        );
        let (a, b) = (a.expect("simulates"), b.expect("simulates"));
        let later_by =
            minutes_between(a.pasteurised_at.expect("reached"), b.pasteurised_at.expect("reached"));
        assert!((later_by - 40.0).abs() < 1.0, "{later_by}");
        assert!(b.centre_c.expect("in").0 < a.centre_c.expect("in").0);
        // The growth clock is not set back by it.
        let (cold, plan_cold, _) = setup("51.5 °C", "well");
        let of =
            |s: &CookState| live(&cold, &plan_cold, s, &[], at(now, 60.0), u).expect("simulates").clock_out;
        let (a, b) = (of(&good).expect("runs out"), of(&afloat).expect("runs out"));
        assert!(minutes_between(a, b).abs() < 1.0, "{a} {b}");
    }

    #[test]
    fn eating_late_counts_on_the_growth_clock() {
        let (request, p, now) = setup("51.5 °C", "well");
        let s = state(now, &[(0.0, EventKind::Dropped), (120.0, EventKind::Pulled)]);
        let u = Units::default();
        let soon = live(&request, &p, &s, &[], at(now, 130.0), u).expect("simulates");
        let late = live(&request, &p, &s, &[], at(now, 300.0), u).expect("simulates");
        assert_eq!(soon.verdict.map(|v| v.level), Some(Level::ServeNow));
        assert_eq!(late.verdict.map(|v| v.level), Some(Level::Refused));
    }
}
