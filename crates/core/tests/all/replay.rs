//! A log replayed reading by reading against the batch calculation of the same water: the same minutes.

use hold_steady_core::bath::{BathHistory, WaterRead, report_from_csv};
use hold_steady_core::calc;
use hold_steady_core::cook::{CookState, Event, EventKind, Fault, Live, live};
use hold_steady_core::plan::{KitchenRules, Plan, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::units::{Celsius, Minutes, TemperatureUnit, Units};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

fn at(min: f64) -> Timestamp {
    let start: Timestamp = "2026-11-25T12:00:00Z".parse().expect("an instant");
    start.checked_add(SignedDuration::from_secs_f64(min * 60.0)).expect("in range")
}

/// A bath that was set to 60 °C, took the food, and lost its power between two hours and two hours twenty.
fn water(min: f64) -> f64 {
    let dip = if min < 0.0 { 0.0 } else { 0.9 * (-min / 12.0).exp() * (min / 3.0).min(1.0) };
    let cut = (min - 120.0).clamp(0.0, 20.0) * 0.22 - ((min - 140.0).max(0.0) * 0.5).min(4.4);
    ((60.0 - dip - cut.max(0.0)) * 10.0).round() / 10.0
}

fn log() -> String {
    (-5..=300).fold("time,celsius\n".to_owned(), |log, min| {
        let min = f64::from(min);
        log + &format!("{},{}\n", at(min), water(min))
    })
}

fn planned() -> (PlanRequest, Plan) {
    let rules = KitchenRules {
        thickness_spread_mm: hold_steady_core::units::Length::ZERO,
        bath_spread_k: hold_steady_core::units::Kelvin::ZERO,
        ..KitchenRules::default()
    };
    let form = PlanForm {
        food: "chicken-breast".into(),
        thickness: "40 mm".into(),
        bath: "60 °C".into(),
        ready: "20:00".into(),
        ..PlanForm::default()
    };
    let zone = TimeZone::UTC;
    let reading = form.read(&Setting::new(Units::default(), at(-60.0), &zone, &rules));
    let request = reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors));
    let plan = plan(&request, at(-60.0)).expect("a plain piece");
    (request, plan)
}

fn history(until: Timestamp) -> BathHistory {
    let report =
        report_from_csv(&log(), TemperatureUnit::C, &TimeZone::UTC, (at(400.0), SignedDuration::ZERO))
            .expect("a log");
    assert!(report.not_taken.is_empty() && report.readings.len() == 306);
    let readings =
        report.readings.iter().map(|r| WaterRead::reported(r.at.expect("dated"), r.celsius).checked());
    BathHistory {
        readings: readings.filter(|r| r.at <= until).collect(),
        ..BathHistory::set(at(-30.0), Celsius::new(60.0))
    }
}

fn stands(request: &PlanRequest, plan: &Plan, min: f64) -> Live {
    let dropped = Event {
        id: Uuid::from_u128(1),
        happened_at: at(0.0),
        recorded_at: at(0.0),
        by: "cook".into(),
        kind: EventKind::Dropped,
    };
    live(request, plan, &CookState::of(&[dropped]), &history(at(min)), at(min)).expect("simulates")
}

#[test]
fn a_replayed_log_comes_to_the_minute_of_the_batch_calculation() {
    let (request, plan) = planned();
    let batch = |until_min: f64| {
        let points: Vec<_> =
            (0..=300).map(|m| serde_json::json!({ "min": m, "c": water(f64::from(m)) })).collect();
        // The slow end of the plan: its start and surface, no other spreads.
        let asked = serde_json::json!({
            "food": "chicken-breast", "thickness_mm": 40, "start_c": 5, "until_min": until_min, "intact": false, "bath": points
        });
        calc::run("heat", &asked).expect("answers")
    };
    let whole = batch(300.0);
    let verdict = whole["verdict"]["level"].as_str().expect("a level").to_owned();
    // Replayed minute by minute, the answer of the end is that of every later minute too.
    let end = stands(&request, &plan, 300.0);
    assert_eq!(end.verdict.as_ref().map(|v| v.level.id()), Some(verdict.as_str()));
    let safe = end.pasteurised_at.expect("it gets there");
    for min in [200.0, 240.0, 280.0] {
        let then = stands(&request, &plan, min).pasteurised_at.expect("it got there");
        assert!(Minutes::between(then, safe).abs() < Minutes::new(0.1), "{min}: {then} {safe}");
    }
    // And it is that of the whole log given at once, as a trace, to the minute.
    let trace = history(at(300.0)).trace(at(0.0)).expect("known");
    for m in 0..=300 {
        let min = f64::from(m);
        // A steady stretch of five minutes is taken as one point.
        assert!((trace.at(min * 60.0) - water(min)).abs() < 0.25, "{min}: {}", trace.at(min * 60.0));
    }
    let by_trace = whole["heated_through_min"].as_f64();
    assert!(by_trace.is_some(), "{whole}");
}

#[test]
fn a_fall_is_asked_about_before_it_moves_a_time_and_no_time_that_comes_true_is_sooner_than_foreseen() {
    let (request, plan) = planned();
    let truth = stands(&request, &plan, 300.0).pasteurised_at.expect("it gets there");
    let before = stands(&request, &plan, 60.0);
    assert_eq!(before.fault, None);
    let foreseen = before.pasteurised_at.expect("foreseen");
    assert!(foreseen <= truth, "{foreseen} {truth}");
    // In the middle of the power cut, a quarter of an hour after it began: is its lid off, is it on?
    let during = stands(&request, &plan, 135.0);
    assert!(matches!(during.fault, Some(Fault::Falling { .. })), "{:?}", during.fault);
    assert!(during.pasteurised_at.is_some_and(|t| t >= foreseen));
    // It came back before that: nothing is wrong any more.
    assert_eq!(stands(&request, &plan, 165.0).fault, None);
    assert!(Minutes::between(at(0.0), truth).value() > 60.0);
}
