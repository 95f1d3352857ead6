//! Ten thousand random plans, traces and event lists beside an independent reading of the verdict table.
//!
//! Source: `scripts/reference/verdicts.py`, written from the project's specification and not from this code,
//! with a solver, clocks and rows of its own. What this program answers must never be milder than what is
//! read there with every limit a little wider than stated.

use std::collections::BTreeMap;

use crate::common::{badness, reference_lines};
use hold_steady_core::bath::BathHistory;
use hold_steady_core::calc;
use hold_steady_core::cook::{CookState, Event, EventKind, live};
use hold_steady_core::plan::{KitchenRules, Plan, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::units::{Minutes, Units};
use jiff::Timestamp;
use serde_json::Value;
use uuid::Uuid;

fn lines(count: usize, seed: u32) -> Vec<Value> {
    reference_lines(
        "verdicts.py",
        &["--count", &count.to_string(), "--seed", &seed.to_string()].map(String::from),
    )
}

/// An instant of the reference, in whole minutes.
fn t(min: i64) -> Timestamp {
    crate::common::reference_instant(min as f64)
}

fn event(line: &Value, now: i64) -> Event {
    let id = |v: &Value| Uuid::from_u128(u128::from(v.as_u64().expect("a number")));
    let kind = match line["kind"].as_str().expect("a word") {
        "dropped" => EventKind::Dropped,
        "pulled" => EventKind::Pulled,
        "dried" => EventKind::Dried,
        "eaten" => EventKind::Eaten,
        "floated" => {
            EventKind::Floated { afloat_min: Minutes::new(line["afloat_min"].as_f64().expect("minutes")) }
        }
        "undone" => EventKind::Undone { event: id(&line["event"]) },
        "corrected" => EventKind::Corrected { event: id(&line["event"]) },
        other => panic!("{other}"),
    };
    let happened_at = t(line["min"].as_i64().expect("a minute"));
    Event { id: id(&line["n"]), happened_at, recorded_at: t(now), by: "reference".into(), kind }
}

/// Plans made already, by bath, guests and blades.
type Plans = BTreeMap<String, (PlanRequest, Plan)>;

fn planned(line: &Value) -> (PlanRequest, Plan) {
    let form = PlanForm {
        intact: if line["intact"] == true { "whole" } else { "bladed" }.into(),
        guests: if line["at_risk"] == true { "at-risk" } else { "well" }.into(),
        bath: format!("{} °C", line["bath_c"]),
        thickness: "32 mm".into(),
        ..PlanForm::default()
    };
    let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    let request = form.read(&Setting::new(Units::default(), t(0), &zone, &rules)).request.expect("complete");
    let p = plan(&request, t(0)).expect("simulates");
    (request, p)
}

/// Folds a list of events, line by line, and judges what stands.
fn check_events(line: &Value, plans: &mut Plans) {
    let now = line["now"].as_i64().expect("a minute");
    let taken: Vec<u64> =
        line["taken"].as_array().expect("a list").iter().filter_map(Value::as_u64).collect();
    let mut state = CookState::default();
    for e in line["events"].as_array().expect("a list") {
        let n = e["n"].as_u64().expect("a number");
        let next = state.apply(&event(e, now));
        // What the reference says cannot have happened is never taken.
        assert!(next.is_err() || taken.contains(&n), "{e} was taken: {line}");
        assert!(next.is_ok() || !taken.contains(&n), "{e} was refused: {line}");
        state = next.unwrap_or(state);
    }
    let Some(mildest) = line["mildest"].as_str() else { return };
    let key = format!("{} {} {}", line["bath_c"], line["at_risk"], line["intact"]);
    let (request, p) = plans.entry(key).or_insert_with(|| planned(line));
    let l = live(request, p, &state, &BathHistory::default(), t(now)).expect("simulates");
    let level = l.verdict.expect("it was dropped").level.id();
    assert!(badness(level) >= badness(mildest), "{level} where the reference says {mildest}: {line}");
}

#[test]
fn no_answer_is_milder_or_harder_than_an_independent_reading() {
    let count = std::env::var("HOLD_STEADY_REFERENCE").ok().and_then(|n| n.parse().ok()).unwrap_or(10_000);
    let all = lines(count, 1);
    assert!(all.len() >= count, "{}", all.len());
    let (mut same, mut judged) = (0, 0);
    let mut plans = Plans::new();
    for line in &all {
        if line.get("events").is_some() {
            check_events(line, &mut plans);
            continue;
        }
        let (level, row) = calc::judged(&line["request"]).unwrap_or_else(|e| panic!("{e:?}: {line}"));
        let level = level.id();
        let mildest = line["mildest"].as_str().expect("a word");
        assert!(
            badness(level) >= badness(mildest),
            "{level} by row {} where the reference says {mildest}: {line}",
            row.number()
        );
        // Nor harder than it is at its strictest: sound practice is not frightened off.
        let strictest = line["strictest"].as_str().expect("a word");
        assert!(
            badness(level) <= badness(strictest),
            "{level} by row {} where the reference says {strictest} at the most: {line}",
            row.number()
        );
        judged += 1;
        same += usize::from(line["level"] == level);
    }
    // And it is no oracle that refuses everything: the two readings agree but for the strictness that is meant.
    assert!(same * 100 > judged * 95, "{same} of {judged} the same");
}
