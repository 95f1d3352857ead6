//! What must never happen, whatever is asked: thicker, colder or a worse bath never make a piece pasteurised that is not
//! otherwise, nor a safe time earlier; a guest at risk or a blade never make any verdict milder. (The project's own
//! invariants.)

use hold_steady_core::calc;
use proptest::prelude::*;
use serde_json::{Value, json};

/// How bad a level is.
fn badness(answer: &Value) -> u8 {
    match answer["verdict"]["level"].as_str() {
        Some("pasteurized" | "exempt") => 0,
        Some("serve-now") => 1,
        _ => 2,
    }
}

fn ask(request: &Value) -> Value {
    calc::run("heat", request).unwrap_or_else(|e| panic!("{e:?} for {request}"))
}

/// A safe time, or for ever.
fn safe_min(answer: &Value, which: &str) -> f64 {
    answer[which].as_f64().unwrap_or(f64::INFINITY)
}

prop_compose! {
    fn requests()(
        food in prop::sample::select(vec!["beef-strip", "beef-ribeye", "beef-tenderloin", "beef-flank", "beef-roast"]),
        mm in 8.0_f64..70.0,
        start in prop::sample::select(vec![-18.0, 2.0, 5.0, 15.0]),
        bath in 50.0_f64..66.0,
        until in 30.0_f64..900.0,
        intact: bool,
        at_risk: bool,
    ) -> Value {
        json!({"food": food, "thickness_mm": mm, "start_c": start, "bath_c": bath, "until_min": until,
               "intact": intact, "at_risk": at_risk, "out_min": 0})
    }
}

/// The solver's own error, as a time: twice its tolerance at the slope of a centre nearly there.
const SLACK_MIN: f64 = 0.3;

/// Of what is served without a kill more is not asked: the growth clocks are not monotone in temperature. A strip from
/// −7 °C is shorter in the warm range by the second hour than one from 2 °C, and rightly milder judged.
fn not_milder(harder: &Value, than: &Value) -> Result<(), TestCaseError> {
    prop_assert!(badness(harder) > 0 || badness(than) == 0, "{harder}\n{than}");
    for which in ["pasteurized_min", "code_min"] {
        let (h, t) = (safe_min(harder, which), safe_min(than, which));
        prop_assert!(h >= t - SLACK_MIN, "{which}: {h} before {t}");
    }
    Ok(())
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn thicker_is_never_milder(request in requests(), more in 0.5_f64..20.0) {
        let mut thicker = request.clone();
        thicker["thickness_mm"] = json!(request["thickness_mm"].as_f64().expect("set") + more);
        not_milder(&ask(&thicker), &ask(&request))?;
    }

    #[test]
    fn a_colder_start_is_never_milder(request in requests(), less in 0.5_f64..15.0) {
        let mut colder = request.clone();
        colder["start_c"] = json!(request["start_c"].as_f64().expect("set") - less);
        not_milder(&ask(&colder), &ask(&request))?;
    }

    #[test]
    fn an_instrument_s_error_is_never_milder(request in requests(), error in 0.1_f64..2.0) {
        let mut wrong = request.clone();
        wrong["bath_error_c"] = json!(error);
        not_milder(&ask(&wrong), &ask(&request))?;
    }

    #[test]
    fn a_bath_that_sags_is_never_milder(request in requests(), by in 0.1_f64..4.0, at in 5.0_f64..200.0) {
        let bath = request["bath_c"].clone();
        let c = bath.as_f64().expect("set");
        let mut sagging = request.clone();
        sagging.as_object_mut().expect("an object").remove("bath_c");
        sagging["bath"] = json!([{"min": 0, "c": c}, {"min": at, "c": c}, {"min": at + 10.0, "c": c - by}, {"min": at + 30.0, "c": c}]);
        not_milder(&ask(&sagging), &ask(&request))?;
    }

    #[test]
    fn blades_and_guests_at_risk_are_never_milder(request in requests()) {
        let mut safest = request.clone();
        safest["intact"] = json!(true);
        safest["at_risk"] = json!(false);
        let mut hardest = request.clone();
        hardest["at_risk"] = json!(true);
        hardest["intact"] = json!(false);
        let (s, m, h) = (badness(&ask(&safest)), badness(&ask(&request)), badness(&ask(&hardest)));
        prop_assert!(s <= m && m <= h, "{s} {m} {h}");
    }

    #[test]
    fn temperatures_stay_between_start_and_bath(request in requests()) {
        let answer = ask(&request);
        let (a, b) = (request["start_c"].as_f64().expect("set"), request["bath_c"].as_f64().expect("set"));
        for p in answer["curve"].as_array().expect("a list") {
            for at in ["centre_c", "surface_c", "mean_c"] {
                let c = p[at].as_f64().expect("a number");
                prop_assert!(c >= a - 0.01 && c <= b + 0.01, "{at} {p}");
            }
        }
    }
}

#[test]
fn an_hour_at_55_for_a_thick_steak_is_short_by_degrees() {
    let answer = ask(
        &json!({"food": "beef-strip", "thickness_mm": 38, "start_c": 5, "bath_c": 55, "until_min": 60, "intact": true}),
    );
    assert_eq!(answer["heated_through_min"], Value::Null);
    let centre = answer["curve"][60]["centre_c"].as_f64().expect("a number");
    assert!((40.0..50.0).contains(&centre), "{centre}");
}
