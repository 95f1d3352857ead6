//! The worked verdict cases, and as many again.
//!
//! Source: the project's verdict table, after the FDA Food Code 2022, 3-401.11 and
//! 3-501.19, and USDA FSIS Appendix A (2021), from memory. The worked cases come with that table; the
//! further ones follow from its rows.

use hold_steady_core::calc;
use serde_json::{Value, json};

fn judged(food: &str, mm: f64, bath_c: f64, hours: f64, more: Value) -> (String, String) {
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
    if level == "refused" {
        assert!(verdict["way_out"]["text"].as_str().is_some_and(|t| !t.is_empty()), "{verdict}");
    }
    assert_eq!(matches!(level.as_str(), "pasteurized" | "exempt"), verdict["way_out"].is_null(), "{verdict}");
    (level, verdict["row"].to_string().replace('"', ""))
}

#[track_caller]
fn expect(got: (String, String), level: &str, row: impl ToString) {
    assert_eq!((got.0.as_str(), got.1), (level, row.to_string()));
}

#[test]
fn worked_cases_for_beef() {
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
fn further_cases_for_beef() {
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
    // 54.4 °C stands for 130 °F: the gate and the table's first row are one. A tenth less is under both.
    expect(judged("beef-flank", 25.0, 54.4, 24.0, none()), "pasteurized", 6);
    expect(judged("beef-flank", 25.0, 54.4, 24.0, json!({"bath_error_c": 0.1})), "refused", 8);
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

#[test]
fn worked_cases_for_the_rest() {
    let none = || json!({});
    expect(judged("burger", 25.0, 57.0, 2.0, none()), "pasteurized", 6);
    expect(judged("burger", 25.0, 57.0, 1.0, none()), "refused", 9);
    expect(judged("pork-chop", 30.0, 58.0, 2.0, none()), "pasteurized", 6);
    expect(judged("pork-chop", 30.0, 58.0, 1.0, none()), "refused", 11);
    let block = json!({"shape": "block", "width_mm": 120, "length_mm": 180});
    expect(judged("pork-shoulder", 80.0, 68.0, 24.0, block), "pasteurized", 6);
    expect(judged("chicken-breast", 30.0, 60.0, 3.0, none()), "pasteurized", 6);
    expect(judged("chicken-breast", 30.0, 60.0, 1.0, none()), "refused", 13);
    expect(judged("chicken-breast", 30.0, 60.0, 1.5, json!({"start_c": -18})), "refused", 13);
    expect(judged("chicken-thigh", 30.0, 74.0, 3.0, none()), "pasteurized", 6);
    expect(judged("duck-breast", 22.0, 57.0, 1.5, none()), "serve-now", 12);
    expect(judged("duck-breast", 22.0, 57.0, 3.5, none()), "pasteurized", 6);
    let slab = || json!({"shape": "slab"});
    expect(judged("turkey-breast", 120.0, 60.0, 12.0, slab()), "refused", 8);
    expect(judged("turkey-breast", 100.0, 60.0, 9.0, slab()), "pasteurized", 6);
    expect(judged("salmon-fillet", 25.0, 50.0, 0.5, json!({"parasites": "frozen"})), "serve-now", 14);
    expect(judged("salmon-fillet", 25.0, 50.0, 0.5, none()), "refused", 14);
    expect(judged("prawn", 18.0, 58.0, 0.5, none()), "serve-now", 15);
    expect(judged("prawn", 18.0, 58.0, 5.0 / 60.0, none()), "refused", 15);
    let egg = || json!({"surface_w_m2k": 400});
    expect(judged("shell-egg-large", 46.6, 60.0, 4.0 / 60.0, egg()), "refused", 16);
    expect(judged("shell-egg-large", 46.6, 57.2, 85.0 / 60.0, egg()), "pasteurized", 6);
    expect(judged("shell-egg-large", 46.6, 63.0, 1.0, egg()), "pasteurized", 6);
    expect(judged("yogurt", 80.0, 43.0, 8.0, json!({"prepared": true})), "exempt", 4);
    expect(judged("carrot", 20.0, 84.0, 1.0, none()), "pasteurized", 6);
    expect(judged("egg-custard", 60.0, 85.0, 1.0, none()), "pasteurized", 6);
    expect(judged("mussel", 15.0, 60.0, 1.0, none()), "refused", 3);
    expect(judged("kidney-bean", 10.0, 90.0, 8.0, none()), "refused", 2);
}

#[test]
fn further_cases_for_the_rest() {
    let none = || json!({});
    // Slow warming is named for the turkey, and its real block is no better a way out than thinner.
    let request = json!({"food": "turkey-breast", "shape": "slab", "thickness_mm": 120, "start_c": 5, "bath_c": 60, "until_min": 720, "intact": true});
    let answer = calc::run("heat", &request).expect("complete");
    assert!(answer["verdict"]["reasons"].to_string().contains("Warmed too slowly"));
    assert!(
        answer["verdict"]["way_out"]["thickness_mm"].as_f64().is_some_and(|mm| (90.0..120.0).contains(&mm))
    );
    let real = json!({"shape": "block", "width_mm": 130, "length_mm": 200});
    expect(judged("turkey-breast", 120.0, 60.0, 12.0, real), "pasteurized", 6);
    // At-risk guests: seven logs for eggs, refusal for everything animal short of pasteurised.
    let egg = |at_risk: bool| json!({"surface_w_m2k": 400, "at_risk": at_risk});
    expect(judged("shell-egg-large", 46.6, 57.2, 1.1, egg(false)), "pasteurized", 6);
    expect(judged("shell-egg-large", 46.6, 57.2, 1.1, egg(true)), "refused", 7);
    expect(
        judged("salmon-fillet", 25.0, 50.0, 0.5, json!({"parasites": "frozen", "at_risk": true})),
        "refused",
        7,
    );
    // A plant is no animal food: guests at risk and the clock do not refuse it.
    expect(judged("carrot", 20.0, 60.0, 1.0, json!({"at_risk": true})), "serve-now", 17);
    // Soft eggs to order, and the same egg raw.
    expect(
        judged("shell-egg-large", 46.6, 60.0, 0.58, json!({"surface_w_m2k": 400, "use": "soft"})),
        "serve-now",
        16,
    );
    expect(judged("shell-egg-large", 46.6, 60.0, 0.58, egg(false)), "refused", 16);
    // Fish: exempt kinds, and a core that has had a minute at 60.
    expect(judged("salmon-fillet", 25.0, 45.0, 0.5, json!({"parasites": "exempt"})), "serve-now", 14);
    expect(judged("cod-fillet", 20.0, 62.0, 0.7, none()), "serve-now", 14);
    expect(judged("salmon-fillet", 25.0, 45.0, 5.0, json!({"parasites": "frozen"})), "refused", 8);
    // Pork that has had 63 °C for 15 s, not yet pasteurised by a slower table: cooked.
    expect(judged("pork-chop", 8.0, 63.5, 19.0 / 60.0, none()), "serve-now", "8a");
    // Bladed poultry and duck.
    expect(judged("duck-breast", 22.0, 57.0, 1.5, json!({"intact": false})), "refused", 9);
    expect(judged("chicken-breast", 30.0, 60.0, 1.0, json!({"intact": false})), "refused", 9);
    // A ferment outside its range is no ferment.
    expect(judged("yogurt", 80.0, 50.0, 3.0, none()), "refused", 4);
    expect(judged("egg-custard", 60.0, 70.0, 0.5, none()), "refused", 9);
    // Lobster and octopus; a bath too cold for them.
    expect(judged("lobster-tail", 40.0, 58.0, 1.25, none()), "serve-now", 15);
    expect(judged("octopus", 35.0, 77.0, 5.0, none()), "pasteurized", 6);
    expect(judged("squid", 6.0, 53.0, 0.5, none()), "refused", 15);
    // Bivalves hot enough, and lamb judged like beef.
    expect(judged("mussel", 15.0, 92.0, 1.0, none()), "pasteurized", 6);
    expect(judged("lamb-rack", 45.0, 56.0, 2.5, none()), "serve-now", 10);
    // The poultry table asks for more than kinetics alone.
    let by = |profile: &str| {
        let request = json!({"food": "chicken-breast", "thickness_mm": 30, "start_c": 5, "bath_c": 60, "intact": true, "profile": profile});
        let a = calc::run("heat", &request).expect("complete");
        (a["pasteurized_min"].as_f64(), a["code_min"].as_f64())
    };
    assert_eq!(by("food-code-2022").1, None);
    assert!(by("fsis-poultry").1.is_some_and(|c| c > 60.0));
}

#[test]
fn nothing_is_fit_for_the_shelf() {
    expect(judged("egg-custard", 60.0, 85.0, 3.0, json!({"for_shelf": true})), "refused", 1);
    expect(judged("carrot", 20.0, 90.0, 3.0, json!({"for_shelf": true})), "refused", 1);
    // What decides is named as unverified.
    let request = json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55});
    let reasons = calc::run("heat", &request).expect("complete")["verdict"]["reasons"].clone();
    assert_eq!(reasons[0]["basis"], "published (memory)");
}

#[test]
fn ways_out_fit_what_is_wrong() {
    let way = |request: Value| calc::run("heat", &request).expect("complete")["verdict"]["way_out"].clone();
    let beans = way(json!({"food": "kidney-bean", "thickness_mm": 10, "start_c": 15, "bath_c": 90}));
    assert!(
        beans["text"].as_str().is_some_and(|t| t.contains("boil them hard for 30 min"))
            && beans["until_min"].is_null()
    );
    let mussels =
        way(json!({"food": "mussel", "thickness_mm": 15, "start_c": 5, "bath_c": 60, "until_min": 30}));
    let (bath, until) =
        (mussels["bath_c"].as_f64().expect("a bath"), mussels["until_min"].as_f64().expect("a time"));
    let request =
        json!({"food": "mussel", "thickness_mm": 15, "start_c": 5, "bath_c": bath, "until_min": until});
    assert_eq!(calc::run("heat", &request).expect("complete")["verdict"]["level"], "pasteurized");
    let salmon = way(
        json!({"food": "salmon-fillet", "thickness_mm": 25, "start_c": 5, "bath_c": 50, "until_min": 30}),
    );
    assert!(salmon["text"].as_str().is_some_and(|t| t.contains("frozen for parasites")));
    let turkey = way(
        json!({"food": "turkey-breast", "shape": "slab", "thickness_mm": 120, "start_c": 5, "bath_c": 60, "until_min": 720, "intact": true}),
    );
    assert!(turkey["text"].as_str().is_some_and(|t| t.contains("real block")));
}
