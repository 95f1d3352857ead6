//! No small request is computed for long. The requests known to be the worst, counted in cells times steps: a
//! count is the same on every machine, and what it takes in seconds stands in docs/reliability.md.
//! (The project's own rule; there is no outside figure for it.)

use hold_steady_core::calc::{self, MOST_EFFORT};
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::Effort;
use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, envelope, plan};
use hold_steady_core::units::{Minutes, Units};
use serde_json::{Value, json};

/// What an answer costs, and what it says when it is too much.
fn asked(kind: &str, request: &Value) -> (u64, Result<Value, String>) {
    let effort = Effort::of(MOST_EFFORT);
    let answer = effort.within(|| calc::run(kind, request));
    let said = answer.map_err(|e| e.fields.iter().map(|f| f.message.clone()).collect::<Vec<_>>().join(" "));
    (effort.spent(), said)
}

/// A bath that goes up and down at every point.
fn zigzag(points: u32, every_min: f64) -> Value {
    let point =
        |i: u32| json!({"min": f64::from(i) * every_min, "c": if i.is_multiple_of(2) { 60 } else { 50 }});
    (0..points).map(point).collect()
}

fn large_block(extra: &Value) -> Value {
    let mut request = json!({"food": "pork-shoulder", "shape": "block", "thickness_mm": 30, "width_mm": 600,
                             "length_mm": 600, "start_c": 5});
    request.as_object_mut().expect("fields").extend(extra.as_object().expect("fields").clone());
    request
}

#[test]
fn the_worst_known_requests_are_refused_after_so_many_steps_and_no_more() {
    // One step of the finest block over the limit, no more: 12³ cells.
    const OVER: u64 = 12 * 12 * 12;
    for (request, minutes) in [
        // 52 kB that were computed for 997 seconds.
        (large_block(&json!({"bath": zigzag(2000, 0.5), "until_min": 1000})), 1000),
        (large_block(&json!({"bath": zigzag(20_000, 0.2), "until_min": 4000})), 4000),
        (large_block(&json!({"bath": zigzag(300, 10.0), "until_min": 3000, "start_c": -18})), 3000),
    ] {
        let (spent, said) = asked("heat", &request);
        let why = said.expect_err("more than is computed");
        assert!(why.contains("4 million") && why.contains("fewer points"), "{minutes} min: {why}");
        assert!((MOST_EFFORT..=MOST_EFFORT + OVER).contains(&spent), "{minutes} min: {spent}");
    }
}

#[test]
fn what_a_cook_asks_costs_a_fraction() {
    for (kind, request, most) in [
        (
            "heat",
            json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55, "until_min": 240}),
            30_000,
        ),
        (
            "heat",
            json!({"food": "beef-strip", "thickness_mm": 300, "start_c": -18, "bath_c": 50, "until_min": 5760}),
            300_000,
        ),
        (
            "heat",
            large_block(&json!({"thickness_mm": 300, "start_c": -18, "bath_c": 57, "until_min": 5000})),
            5_000_000,
        ),
        // A log of three days, a point a minute, in still water.
        (
            "heat",
            json!({"food": "beef-chuck", "shape": "slab", "thickness_mm": 60, "start_c": 5, "until_min": 4320,
            "bath": (0..4320_u32).map(|m| json!({"min": m, "c": 57.0 + 0.1 * f64::from(m % 3)})).collect::<Vec<_>>()}),
            3_000_000,
        ),
        (
            "chill",
            json!({"food": "pork-shoulder", "shape": "block", "thickness_mm": 80, "width_mm": 120, "length_mm": 180, "start_c": 68, "method": "ice-bath"}),
            1_500_000,
        ),
    ] {
        let (spent, said) = asked(kind, &request);
        let faults = said.err();
        assert_eq!(faults, None, "{request}");
        assert!(spent < most, "{kind}: {spent} of {most}");
    }
}

#[test]
fn every_food_is_planned_and_drawn_within_it() {
    let now = "2026-11-25T12:00:00Z".parse().expect("an instant");
    let rules = KitchenRules::default();
    for food in &catalogue().foods {
        // Frozen costs most, where it may be.
        let form =
            |from: &str| PlanForm { food: food.name.clone(), from: from.into(), ..PlanForm::default() };
        let read = |form: PlanForm| {
            form.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules)).request
        };
        let Some(request) = read(form("freezer")).or_else(|| read(form(""))) else { continue };
        let (planning, drawing) = (Effort::of(MOST_EFFORT), Effort::of(MOST_EFFORT));
        let planned = planning.within(|| plan(&request, now).map(|_| ()));
        assert_eq!(planned, Ok(()), "{}", food.id);
        let drawn = drawing.within(|| envelope(&request, Minutes::new(600.0)).map(|_| ()));
        assert_eq!(drawn, Ok(()), "{}", food.id);
        assert!(planning.spent() > 1000 && drawing.spent() > 1000, "the threads that help count too");
    }
}
