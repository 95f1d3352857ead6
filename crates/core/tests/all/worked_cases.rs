//! The verdict table's worked cases, each with a case of our own beside it.
//!
//! Source of the first half: the project's verdict table, after the FDA Food Code 2022 (3-401.11, 3-402.11,
//! 3-403.11, 3-501.16, 3-501.19), USDA FSIS Appendix A (2021), the FDA Bad Bug Book and Regulation (EC)
//! 853/2004, all from memory; limits marked as policy there are this application's. The second half follows
//! from the table's rows.

use hold_steady_core::calc;
use serde_json::{Value, json};

/// Food, thickness (mm), bath (°C), minutes, what else, level.
type Case = (&'static str, f64, f64, f64, Value, &'static str);

fn asked(case: &Case) -> Value {
    let (food, mm, bath, min, more, _) = case;
    let mut request = json!({"food": food, "thickness_mm": mm, "start_c": 5, "bath_c": bath, "until_min": min, "intact": true});
    for (k, v) in more.as_object().expect("an object") {
        request[k] = v.clone();
    }
    // A trace in place of a constant bath.
    if request.get("bath").is_some() {
        request.as_object_mut().expect("an object").remove("bath_c");
    }
    request
}

#[track_caller]
fn all_judged(cases: &[Case]) {
    for case in cases {
        let answer = calc::run("heat", &asked(case)).unwrap_or_else(|e| panic!("{case:?}: {e:?}"));
        let level = answer["verdict"]["level"].as_str().expect("a word");
        assert_eq!(level, case.5, "{case:?}: {}", answer["verdict"]);
        let way_out = &answer["verdict"]["way_out"];
        assert_eq!(level == "refused", level == "refused" && way_out["text"].is_string(), "{case:?}");
    }
}

fn none() -> Value {
    json!({})
}

#[test]
fn the_table_s_cases() {
    let block = json!({"shape": "block", "width_mm": 120, "length_mm": 180});
    let slab = || json!({"shape": "slab"});
    let egg = || json!({"surface_w_m2k": 400});
    all_judged(&[
        ("beef-strip", 25.0, 54.5, 90.0, none(), "serve-now"),
        ("beef-strip", 25.0, 54.5, 195.0, none(), "pasteurized"),
        ("beef-strip", 25.0, 54.5, 90.0, json!({"intact": false}), "refused"),
        ("beef-strip", 25.0, 54.5, 90.0, json!({"at_risk": true}), "refused"),
        ("beef-strip", 30.0, 51.5, 110.0, none(), "serve-now"),
        ("beef-strip", 30.0, 51.5, 360.0, none(), "refused"),
        ("beef-flank", 25.0, 54.5, 1440.0, none(), "pasteurized"),
        ("beef-flank", 25.0, 53.9, 1440.0, none(), "refused"),
        ("burger", 25.0, 57.0, 120.0, none(), "pasteurized"),
        ("burger", 25.0, 57.0, 60.0, none(), "refused"),
        ("pork-chop", 30.0, 58.0, 120.0, none(), "pasteurized"),
        ("pork-chop", 30.0, 58.0, 60.0, none(), "refused"),
        ("pork-shoulder", 80.0, 68.0, 1440.0, block, "pasteurized"),
        ("chicken-breast", 30.0, 60.0, 180.0, none(), "pasteurized"),
        ("chicken-breast", 30.0, 60.0, 60.0, none(), "refused"),
        ("chicken-breast", 30.0, 60.0, 90.0, json!({"start_c": -18}), "refused"),
        ("chicken-thigh", 30.0, 74.0, 180.0, none(), "pasteurized"),
        ("duck-breast", 22.0, 57.0, 90.0, none(), "serve-now"),
        ("duck-breast", 22.0, 57.0, 210.0, none(), "pasteurized"),
        ("turkey-breast", 120.0, 60.0, 720.0, slab(), "refused"),
        ("turkey-breast", 100.0, 60.0, 540.0, slab(), "pasteurized"),
        ("salmon-fillet", 25.0, 50.0, 30.0, json!({"parasites": "frozen"}), "serve-now"),
        ("salmon-fillet", 25.0, 50.0, 30.0, none(), "refused"),
        ("prawn", 18.0, 58.0, 30.0, json!({"shape": "cylinder"}), "serve-now"),
        ("prawn", 18.0, 58.0, 5.0, json!({"shape": "cylinder"}), "refused"),
        ("shell-egg-large", 46.6, 60.0, 4.0, egg(), "refused"),
        ("shell-egg-large", 46.6, 57.2, 85.0, egg(), "pasteurized"),
        ("shell-egg-large", 46.6, 63.0, 60.0, egg(), "pasteurized"),
        ("yogurt", 80.0, 43.0, 480.0, json!({"prepared": true}), "exempt"),
        ("carrot", 20.0, 84.0, 60.0, none(), "pasteurized"),
        ("egg-custard", 60.0, 85.0, 60.0, none(), "pasteurized"),
        ("mussel", 15.0, 60.0, 60.0, none(), "refused"),
        ("kidney-bean", 10.0, 90.0, 480.0, none(), "refused"),
    ]);
}

#[test]
fn the_table_s_cases_against_a_false_safe() {
    let sagging = json!({"bath": [{"min": 0, "c": 85}, {"min": 120, "c": 85}, {"min": 1440, "c": 35}]});
    let turned_down = json!({"bath": [{"min": 0, "c": 60}, {"min": 120, "c": 60}, {"min": 121, "c": 43},
        {"min": 420, "c": 43}, {"min": 421, "c": 60}]});
    let hot_later = json!({"intact": false, "bath": [{"min": 0, "c": 53.95}, {"min": 346, "c": 53.95}, {"min": 347, "c": 60}]});
    let half_warm = json!({"state": "pasteurized-chilled",
        "bath": [{"min": 0, "c": 60}, {"min": 100, "c": 60}, {"min": 101, "c": 38}]});
    let late_heat = json!({"bath": [{"min": 0, "c": 43}, {"min": 350, "c": 43}, {"min": 351, "c": 60}]});
    let yogurt = |more: Value| {
        let mut all = json!({"prepared": true});
        for (k, v) in more.as_object().expect("an object") {
            all[k] = v.clone();
        }
        all
    };
    all_judged(&[
        ("white-bean", 11.0, 75.0, 480.0, none(), "refused"),
        ("potato", 45.0, 45.0, 2880.0, none(), "refused"),
        ("carrot", 20.0, 0.0, 1440.0, sagging, "refused"),
        ("burger", 20.0, 0.0, 540.0, turned_down, "refused"),
        ("beef-strip", 25.0, 0.0, 345.0, hot_later, "refused"),
        ("cod-fillet", 25.0, 53.0, 360.0, none(), "refused"),
        ("beef-ribeye", 60.0, 50.0, 330.0, json!({"start_c": -20}), "refused"),
        ("chicken-breast", 30.0, 60.0, 240.0, json!({"after_min": 960}), "refused"),
        ("beef-strip", 25.0, 55.0, 300.0, json!({"waited_min": 600}), "refused"),
        ("chicken-breast", 30.0, 0.0, 1440.0, half_warm, "refused"),
        ("yogurt", 80.0, 43.0, 5.0, yogurt(none()), "refused"),
        ("yogurt", 80.0, 43.0, 5760.0, yogurt(none()), "refused"),
        ("yogurt", 80.0, 25.0, 1380.0, yogurt(none()), "refused"),
        ("yogurt", 80.0, 43.0, 480.0, none(), "refused"),
        ("cod-fillet", 25.0, 43.0, 60.0, json!({"parasites": "exempt"}), "refused"),
        ("beef-strip", 25.0, 43.0, 239.0, none(), "refused"),
        ("beef-flank", 25.0, 54.4, 1440.0, json!({"bath_error_c": 0.1}), "refused"),
        ("beef-flank", 25.0, 54.0, 1440.0, none(), "refused"),
        ("beef-strip", 25.0, 0.0, 530.0, late_heat, "refused"),
    ]);
    // And what the same rules let pass.
    all_judged(&[
        ("beef-flank", 25.0, 54.4, 1440.0, none(), "pasteurized"),
        ("prawn", 20.0, 70.0, 12.0, json!({"shape": "cylinder"}), "serve-now"),
        ("beef-strip", 38.0, 49.5, 95.0, json!({"after_min": 18}), "serve-now"),
    ]);
}

#[test]
fn raw_chicken_s_two_hours_out_count_when_nobody_says() {
    let warm = |more: Value| asked(&("chicken-breast", 30.0, 60.0, 120.0, more, ""));
    let unsaid = calc::run("heat", &warm(json!({"start_c": 30}))).expect("complete");
    let soon = calc::run("heat", &warm(json!({"start_c": 30, "out_min": 0}))).expect("complete");
    let minutes = |a: &Value, what: &str| a[what].as_f64().expect("a number");
    // At 30 °C they count as the warmest growth too.
    for clock in ["danger_zone_min", "warm_growth_min"] {
        assert!((minutes(&unsaid, clock) - minutes(&soon, clock) - 120.0).abs() < 1e-9, "{clock}");
    }
    let reasons = unsaid["verdict"]["reasons"].to_string();
    assert!(reasons.contains("nobody said for how long it was out"), "{reasons}");
}

#[test]
fn water_does_not_get_hotter_than_it_boils() {
    // Published, from memory: water boils at about 87 °C at 4,000 m.
    let request = asked(&("mussel", 15.0, 95.0, 60.0, json!({"altitude_m": 4000}), ""));
    let e = calc::run("heat", &request).expect_err("above the boil");
    assert_eq!(e.fields[0].field, "bath_c");
    assert!(e.fields[0].message.contains("86.") || e.fields[0].message.contains("87."), "{e:?}");
    let trace = json!({"altitude_m": 3000, "bath": [{"min": 0, "c": 80}, {"min": 10, "c": 95}]});
    let e = calc::run("heat", &asked(&("carrot", 20.0, 0.0, 60.0, trace, ""))).expect_err("above the boil");
    assert_eq!(e.fields[0].field, "bath");
    // A way out offered up there can be done there.
    let low = asked(&("mussel", 15.0, 80.0, 60.0, json!({"altitude_m": 4000}), ""));
    let text = calc::run("heat", &low).expect("complete")["verdict"]["way_out"]["text"].to_string();
    assert!(text.contains("under pressure"), "{text}");
}

#[test]
fn as_many_cases_of_our_own() {
    let p = |min: f64, c: f64| json!({"min": min, "c": c});
    let bath = |points: Vec<Value>| json!({"bath": points});
    all_judged(&[
        // A power cut of half an hour after the kill: still good; of five hours: not, and heat does not mend it.
        (
            "chicken-breast",
            20.0,
            0.0,
            260.0,
            bath(vec![p(0.0, 60.0), p(180.0, 60.0), p(200.0, 45.0), p(240.0, 60.0)]),
            "pasteurized",
        ),
        (
            "chicken-breast",
            20.0,
            0.0,
            700.0,
            bath(vec![p(0.0, 60.0), p(180.0, 60.0), p(200.0, 45.0), p(600.0, 45.0), p(620.0, 60.0)]),
            "refused",
        ),
        // Two to four hours after the kill: at once, and not for guests at risk.
        ("chicken-breast", 30.0, 60.0, 180.0, json!({"after_min": 119}), "pasteurized"),
        ("chicken-breast", 30.0, 60.0, 180.0, json!({"after_min": 180}), "serve-now"),
        ("chicken-breast", 30.0, 60.0, 180.0, json!({"after_min": 180, "at_risk": true}), "refused"),
        ("chicken-breast", 30.0, 60.0, 180.0, json!({"after_min": 241}), "refused"),
        // Never pasteurised in a bath that only passes the gate for a moment.
        (
            "beef-flank",
            25.0,
            0.0,
            1440.0,
            bath(vec![p(0.0, 53.0), p(700.0, 53.0), p(705.0, 55.0), p(710.0, 53.0)]),
            "refused",
        ),
        // Under every profile.
        ("beef-flank", 25.0, 54.3, 2880.0, json!({"profile": "kinetics-only"}), "refused"),
        ("chicken-breast", 25.0, 54.0, 600.0, json!({"profile": "fsis-poultry"}), "refused"),
        // Minutes out, waited or afloat use the six hours of warming up.
        ("turkey-breast", 90.0, 60.0, 540.0, json!({"shape": "slab"}), "pasteurized"),
        ("turkey-breast", 90.0, 60.0, 540.0, json!({"shape": "slab", "waited_min": 200}), "refused"),
        // Toxins of the warmest range outlive the heat.
        ("beef-roast", 30.0, 0.0, 600.0, bath(vec![p(0.0, 40.0), p(230.0, 40.0), p(231.0, 60.0)]), "refused"),
        // Reheating: back in time, kept hot; at once within two hours; a whole roast at 54.4 °C.
        (
            "chicken-breast",
            25.0,
            60.0,
            600.0,
            json!({"state": "pasteurized-chilled", "at_risk": true}),
            "pasteurized",
        ),
        (
            "chicken-breast",
            25.0,
            50.0,
            100.0,
            json!({"state": "pasteurized-chilled", "at_risk": true}),
            "pasteurized",
        ),
        ("chicken-breast", 25.0, 50.0, 125.0, json!({"state": "pasteurized-chilled"}), "refused"),
        (
            "chicken-breast",
            25.0,
            60.0,
            100.0,
            json!({"state": "pasteurized-chilled", "start_c": 15}),
            "pasteurized",
        ),
        (
            "chicken-breast",
            25.0,
            50.0,
            60.0,
            json!({"state": "pasteurized-chilled", "start_c": 15}),
            "refused",
        ),
        (
            "beef-roast",
            40.0,
            55.5,
            600.0,
            json!({"state": "pasteurized-chilled", "profile": "kinetics-only"}),
            "pasteurized",
        ),
        // Cooked to its code's temperature: no advisory, not for storage; not poultry, not wild game.
        ("salmon-fillet", 20.0, 64.5, 35.0, none(), "serve-now"),
        ("salmon-fillet", 20.0, 64.5, 35.0, json!({"intact": false}), "refused"),
        ("pork-chop", 8.0, 63.5, 19.0, none(), "serve-now"),
        ("venison", 30.0, 56.0, 60.0, none(), "refused"),
        ("rabbit", 8.0, 63.5, 19.0, none(), "refused"),
        // Histamine: two hours, and heat does not help.
        ("mackerel-fillet", 15.0, 48.0, 60.0, json!({"parasites": "frozen"}), "serve-now"),
        ("mackerel-fillet", 15.0, 48.0, 60.0, json!({"parasites": "frozen", "waited_min": 90}), "refused"),
        ("tuna-steak", 25.0, 66.0, 300.0, json!({"waited_min": 100}), "refused"),
        // Bonito is no Thunnus; mackerel stands for it.
        ("mackerel-fillet", 15.0, 45.0, 40.0, json!({"parasites": "exempt"}), "refused"),
        ("tuna-steak", 25.0, 45.0, 60.0, json!({"parasites": "exempt"}), "serve-now"),
        // Scallop from 50 °C; other shellfish not.
        ("scallop", 20.0, 50.0, 45.0, none(), "serve-now"),
        ("scallop", 20.0, 49.0, 60.0, none(), "refused"),
        ("lobster-tail", 30.0, 50.0, 60.0, none(), "refused"),
        // Soft eggs by the core, not by nearness to a cold bath.
        ("shell-egg-large", 46.6, 60.0, 35.0, json!({"use": "soft"}), "serve-now"),
        ("shell-egg-large", 46.6, 59.0, 25.0, json!({"use": "soft"}), "refused"),
        // Plants are on the clock too, and pulses are told apart.
        ("carrot", 20.0, 84.0, 60.0, json!({"after_min": 300}), "refused"),
        ("white-bean", 11.0, 90.0, 300.0, json!({"prepared": true}), "pasteurized"),
        ("chickpea", 11.0, 90.0, 300.0, none(), "pasteurized"),
        ("lentil", 25.0, 88.0, 120.0, none(), "pasteurized"),
        // The shelf comes first, whatever else is true.
        ("mussel", 15.0, 60.0, 60.0, json!({"for_shelf": true}), "refused"),
        ("yogurt", 80.0, 43.0, 480.0, json!({"prepared": true, "for_shelf": true}), "refused"),
        // A culture in a bath that sagged for a while is no culture's bath.
        (
            "yogurt",
            80.0,
            0.0,
            480.0,
            json!({"prepared": true, "bath": [p(0.0, 43.0), p(120.0, 43.0), p(125.0, 35.0), p(140.0, 43.0)]}),
            "refused",
        ),
        // Still water takes longer.
        ("chicken-breast", 30.0, 60.0, 112.0, none(), "pasteurized"),
        ("chicken-breast", 30.0, 60.0, 112.0, json!({"water": "still"}), "refused"),
        // Ground, cured and mixed: the centre, whatever is said of blades.
        ("corned-beef", 30.0, 60.0, 40.0, json!({"intact": true}), "refused"),
        ("liver-pate", 70.0, 65.0, 60.0, none(), "refused"),
    ]);
}

#[test]
fn the_clocks_read_as_the_table_says() {
    let minutes = |food: &str, mm: f64, bath: f64, min: f64, more: Value, what: &str| {
        let a =
            calc::run("heat", &asked(&(Box::leak(food.into()), mm, bath, min, more, ""))).expect("complete");
        a[what].as_f64().expect("a number")
    };
    let meat = || json!({"properties": {"diffusivity_m2_s": 1.35e-7, "conductivity_w_mk": 0.48}, "surface_w_m2k": 95});
    // Ordinary heating stays under the three hours of the warmest range: 161 and 137 min are stated, of the cells; the
    // face, which counts too, has some six minutes more in the thick one.
    let thick = minutes("beef-roast", 100.0, 60.0, 600.0, meat(), "warm_growth_min");
    assert!((158.0..172.0).contains(&thick), "{thick}");
    let frozen = minutes("beef-strip", 60.0, 54.5, 600.0, json!({"start_c": -18}), "warm_growth_min");
    assert!((frozen - 137.0).abs() < 8.0, "{frozen}");
    // A thick rare steak meets its two hours after about 125 min: 50 mm at 51 °C.
    let rare = minutes("beef-strip", 50.0, 51.0, 125.0, none(), "warm_growth_min");
    assert!((100.0..125.0).contains(&rare), "{rare}");
    // The worked example of the calculation interface. Its minutes between 30 and 50 °C are those of the
    // exact series for a slab (200 terms): 23.07 at the centre, which is the worst layer there; from 29.95 to 50.05,
    // which is counted so that no rounding decides, 23.23.
    let example =
        json!({"properties": {"diffusivity_m2_s": 1.4e-7, "conductivity_w_mk": 0.48}, "surface_w_m2k": 95});
    let zone = minutes("beef-strip", 25.0, 55.0, 240.0, example.clone(), "danger_zone_min");
    let warm = minutes("beef-strip", 25.0, 55.0, 240.0, example.clone(), "warm_growth_min");
    assert!((zone - 66.0).abs() < 0.5 && (warm - 23.23).abs() < 0.05, "{zone} {warm}");
    assert_eq!(minutes("beef-strip", 25.0, 55.0, 240.0, example, "after_kill_min"), 0.0);
}

#[test]
fn heated_through_means_staying_near_the_bath() {
    // A bath that falls past the centre is not one that has heated it through.
    let falling = json!({"bath": [{"min": 0, "c": 70}, {"min": 40, "c": 40}, {"min": 60, "c": 40}]});
    let a = calc::run("heat", &asked(&("beef-strip", 40.0, 0.0, 50.0, falling, ""))).expect("complete");
    assert_eq!(a["heated_through_min"], Value::Null);
    let steady = calc::run("heat", &asked(&("beef-strip", 25.0, 55.0, 240.0, none(), ""))).expect("complete");
    assert!(steady["heated_through_min"].as_f64().is_some_and(|m| (60.0..80.0).contains(&m)));
}

#[test]
fn a_key_given_twice_is_refused() {
    let text = r#"{"food":"beef-strip","thickness_mm":250,"start_c":5,"bath_c":55,"thickness_mm":20}"#;
    let e = calc::run_text("heat", text).expect_err("doubled");
    assert!(e.fields[0].message.contains("“thickness_mm” is given twice"), "{e:?}");
}
