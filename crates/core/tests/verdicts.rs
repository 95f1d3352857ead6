//! The worked verdict cases for beef, and as many again.
//!
//! Source: the project's verdict table (rows 5 to 10), after the FDA Food Code 2022, 3-401.11 and
//! 3-501.19, and USDA FSIS Appendix A (2021), from memory. The worked cases come with that table; the
//! further ones follow from its rows.

use hold_steady_core::calc;
use serde_json::{Value, json};

fn judged(food: &str, mm: f64, bath_c: f64, hours: f64, more: Value) -> (String, u64) {
    let mut request = json!({"food": food, "thickness_mm": mm, "start_c": 5, "bath_c": bath_c,
                             "until_min": hours * 60.0, "intact": true});
    for (k, v) in more.as_object().expect("an object") {
        request[k] = v.clone();
    }
    let answer = calc::run("heat", &request).unwrap_or_else(|e| panic!("{e:?}"));
    let verdict = &answer["verdict"];
    assert!(!verdict["reasons"].as_array().expect("a list").is_empty());
    // A refusal always has a way out.
    let level = verdict["level"].as_str().expect("a word").to_owned();
    assert_eq!(level == "pasteurized", verdict["way_out"].is_null(), "{verdict}");
    (level, verdict["row"].as_u64().expect("a number"))
}

#[track_caller]
fn expect(got: (String, u64), level: &str, row: u64) {
    assert_eq!((got.0.as_str(), got.1), (level, row));
}

#[test]
fn worked_cases() {
    let none = || json!({});
    expect(judged("beef-strip", 25.0, 54.5, 1.5, none()), "serve-now", 10);
    expect(judged("beef-strip", 25.0, 54.5, 3.25, none()), "pasteurized", 6);
    expect(judged("beef-strip", 25.0, 54.5, 1.5, json!({"intact": false})), "refused", 9);
    expect(judged("beef-strip", 25.0, 54.5, 1.5, json!({"at_risk": true})), "refused", 7);
    expect(judged("beef-strip", 30.0, 51.5, 110.0 / 60.0, none()), "serve-now", 10);
    expect(judged("beef-strip", 30.0, 51.5, 6.0, none()), "refused", 8);
    expect(judged("beef-flank", 25.0, 54.5, 24.0, none()), "pasteurized", 6);
    expect(judged("beef-flank", 25.0, 53.9, 24.0, none()), "refused", 8);
}

#[test]
fn further_cases() {
    let none = || json!({});
    // Saying nothing of blades counts as bladed.
    let mut silent =
        json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 54.5, "until_min": 90});
    let answer = calc::run("heat", &silent).expect("complete");
    assert_eq!(answer["verdict"]["row"], 9);
    silent["intact"] = Value::Null;
    assert_eq!(calc::run("heat", &silent).expect("complete")["verdict"]["row"], 9);
    // A guest at risk outranks the blade; both outrank nothing once it is pasteurised.
    let both = json!({"intact": false, "at_risk": true});
    expect(judged("beef-strip", 25.0, 54.5, 1.5, both.clone()), "refused", 7);
    expect(judged("beef-strip", 25.0, 54.5, 3.25, both), "pasteurized", 6);
    // From frozen the same time is not enough.
    expect(judged("beef-strip", 25.0, 54.5, 3.25, json!({"start_c": -18})), "serve-now", 10);
    // An instrument that reads 0.2 too high takes the bath under the first row: never pasteurised.
    expect(judged("beef-strip", 25.0, 54.5, 24.0, json!({"bath_error_c": 0.2})), "refused", 8);
    // Anything under 54.4 is on the clock to the end.
    expect(judged("beef-flank", 25.0, 54.3, 24.0, none()), "refused", 8);
    // The rounded value of the first row, 54.4, is hot enough and yet under the table's 130 °F.
    expect(judged("beef-flank", 25.0, 54.4, 24.0, none()), "serve-now", 10);
    expect(judged("beef-flank", 25.0, 54.4, 30.0, json!({"profile": "kinetics-only"})), "pasteurized", 6);
    // A roast so thick that it warms for more than six hours.
    expect(judged("beef-roast", 120.0, 56.0, 24.0, none()), "refused", 8);
    // Reheating what was pasteurised and chilled.
    let chilled = json!({"state": "pasteurized-chilled", "at_risk": true});
    expect(judged("beef-strip", 25.0, 55.0, 1.2, chilled.clone()), "pasteurized", 5);
    expect(judged("beef-strip", 25.0, 52.0, 3.0, chilled), "refused", 7);
    // 6.5 log and 5 log of Appendix A: kinetics decide first, the table must be met too.
    expect(judged("beef-strip", 25.0, 57.0, 1.75, json!({"profile": "fsis-appendix-a-5"})), "pasteurized", 6);
}

#[test]
fn the_come_up_limit_is_named_with_its_way_out() {
    let request = json!({"food": "beef-roast", "thickness_mm": 115, "start_c": 5, "bath_c": 56, "until_min": 1440, "intact": true});
    let answer = calc::run("heat", &request).expect("complete");
    let reasons = answer["verdict"]["reasons"].to_string();
    assert!(reasons.contains("Warmed too slowly"), "{reasons}");
    let thin = answer["verdict"]["way_out"]["thickness_mm"].as_f64().expect("a thinner piece warms in time");
    assert!((80.0..115.0).contains(&thin), "{thin}");
}
