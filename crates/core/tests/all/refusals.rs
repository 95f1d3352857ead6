//! What cooks believe or do that goes wrong, and what a plan says instead. Each case refuses or corrects and
//! gives the way out; the way out, taken, is sound. (The project's own rules; the figures they rest on are
//! checked in `verdicts.rs`, `published_times.rs` and `eggs.rs`.)

use hold_steady_core::calc;
use hold_steady_core::food::catalogue;
use hold_steady_core::plan::{KitchenRules, Plan, PlanForm, Setting, StopTexture, StretchKind, plan};
use hold_steady_core::safety::Level;
use hold_steady_core::units::{Celsius, Kelvin, Length, Minutes, Units};
use hold_steady_core::words;
use jiff::tz::TimeZone;

fn planned(form: &PlanForm) -> Plan {
    let now = "2026-11-25T12:00:00Z".parse().expect("an instant");
    let (zone, rules) = (TimeZone::UTC, KitchenRules::default());
    let reading = form.read(&Setting::new(Units::default(), now, &zone, &rules));
    let request = reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors));
    plan(&request, now).expect("simulates")
}

fn form(food: &str, bath: &str) -> PlanForm {
    PlanForm { food: food.into(), bath: bath.into(), intact: "whole".into(), ..PlanForm::default() }
}

fn says(plan: &Plan) -> String {
    let told = words::told(&plan.verdict, Units::default());
    told.reasons.iter().map(|r| r.text.as_str()).collect::<Vec<_>>().join(" ")
}

/// Refused; and the longer stay and the hotter bath it offers are taken and found sound.
fn refused_with_a_sound_way_out(form: &PlanForm) -> Plan {
    let p = planned(form);
    assert_eq!(p.verdict.level, Level::Refused, "{form:?}");
    let way = p.verdict.way_out.clone().unwrap_or_else(|| panic!("no way out: {form:?}"));
    let text = words::way_out(&way, Units::default());
    assert!(!text.is_empty());
    if let Some(min) = way.until_min {
        let longer = planned(&PlanForm { time: format!("{} min", min.value()), ..form.clone() });
        assert_eq!(longer.verdict.level, Level::Pasteurized, "{text}");
    }
    if let Some(c) = way.bath_c {
        let time = format!("{} min", p.bath_min.value());
        let hotter = planned(&PlanForm { bath: format!("{} °C", c.value()), time, ..form.clone() });
        assert_eq!(hotter.verdict.level, Level::Pasteurized, "{text}");
    }
    p
}

#[test]
fn one_time_does_not_suit_every_thickness() {
    let of = |mm: &str| planned(&PlanForm { thickness: mm.into(), ..form("beef-strip", "56 °C") }).bath_min;
    let (thin, thick) = (of("25 mm"), of("50 mm"));
    assert!(thick > Minutes::new(2.5 * thin.value()), "{thin:?} {thick:?}");
}

#[test]
fn an_hour_for_a_thick_steak_is_said_to_be_short_and_by_how_much() {
    let hour = PlanForm { thickness: "38 mm".into(), time: "1 h".into(), ..form("beef-strip", "55 °C") };
    let p = planned(&hour);
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    let caution = words::caution(&p.caution.expect("said"), strip, Units::default());
    assert!(caution.contains("Not heated through") && caution.contains("short of the bath"), "{caution}");
    assert!(caution.contains("Give it 2 h"), "{caution}");
    // As long as it needs, nothing is to be said.
    assert_eq!(planned(&PlanForm { time: String::new(), ..hour }).caution, None);
}

#[test]
fn an_egg_is_not_pasteurised_in_minutes() {
    for (use_for, minutes) in [("raw", "3 min"), ("raw", "5 min"), ("soft", "4 min")] {
        let egg =
            PlanForm { egg_use: use_for.into(), time: minutes.into(), ..form("shell-egg-large", "60 °C") };
        let p = refused_with_a_sound_way_out(&egg);
        assert!(says(&p).contains("yolk is still cold"), "{}", says(&p));
        let real = p.verdict.way_out.and_then(|w| w.until_min).expect("the real time");
        assert!((30.0..90.0).contains(&real.value()), "{real:?} min");
        // The yolk's own curve: still cold when the minutes are over.
        let at = p.curve.iter().rfind(|(min, _)| *min <= p.bath_min).expect("drawn");
        assert!(at.1 < Celsius::new(20.0), "{at:?}");
    }
}

#[test]
fn chicken_for_an_hour_is_enough_when_thin_and_refused_when_thick() {
    let breast = |mm: &str, time: &str| PlanForm {
        thickness: mm.into(),
        time: time.into(),
        ..form("chicken-breast", "60 °C")
    };
    let p = refused_with_a_sound_way_out(&breast("45 mm", "1 h"));
    assert!(says(&p).contains("not served"), "{}", says(&p));
    assert!(p.verdict.way_out.and_then(|w| w.thickness_mm).is_some_and(|mm| mm < Length::from_mm(25.0)));
    assert_eq!(planned(&breast("8 mm", "1 h")).verdict.level, Level::Pasteurized);
}

#[test]
fn nothing_cooks_for_ever_without_harm() {
    for food in ["beef-strip", "salmon-fillet", "chicken-breast", "prawn", "carrot", "egg-custard"] {
        let sentence = PlanForm {
            parasites: "frozen".into(),
            prepared: "yes".into(),
            food: food.into(),
            ..PlanForm::default()
        };
        let p = planned(&sentence);
        let last = p.stops.last().expect("stops");
        assert!(
            matches!(last.texture, StopTexture::Past { .. }) || last.verdict.level == Level::Refused,
            "{food}: {last:?}"
        );
        let long = planned(&PlanForm { time: format!("{} min", p.horizon_min.value().floor()), ..sentence });
        assert!(long.caution.is_some() || long.is_refused(), "{food}");
    }
}

#[test]
fn no_temperature_kills_at_once() {
    let p = planned(&PlanForm { intact: "bladed".into(), ..form("beef-strip", "56 °C") });
    let yet = p.bands.iter().find(|b| b.kind == StretchKind::NotYet).expect("hot, and not safe yet");
    assert!(yet.until_min - yet.from_min > Minutes::new(20.0), "{yet:?}");
    let between = p.stops.iter().find(|s| s.min > yet.from_min + Minutes::new(1.0)).expect("a stop");
    assert!(
        between.verdict.level == Level::Refused && between.kill.is_some_and(|k| k.share > 0.01),
        "{between:?}"
    );
}

#[test]
fn long_holds_in_a_cold_bath_are_refused_whatever_the_doneness() {
    for (bath, hours) in [("50 °C", "5 h"), ("52 °C", "6 h"), ("53.9 °C", "24 h")] {
        let thin = PlanForm { thickness: "25 mm".into(), ..form("beef-strip", bath) };
        let long = PlanForm { time: hours.into(), ..thin };
        let p = refused_with_a_sound_way_out(&long);
        assert!(says(&p).contains("4 h is the most"), "{}", says(&p));
        assert!(says(&p).contains("A vacuum does not change that"), "{}", says(&p));
        let way = p.verdict.way_out.expect("a way out");
        assert!(way.bath_c.is_some_and(|c| c >= Celsius::new(54.4)), "{way:?}");
        let latest = way.no_later_than_min.expect("or out in time");
        let sooner = planned(&PlanForm { time: format!("{} min", latest.value().floor()), ..long });
        assert_eq!(sooner.verdict.level, Level::ServeNow);
    }
    // So thick that it is not heated through before the warmest growth has run out: hotter, or thinner.
    let thick =
        PlanForm { thickness: "50 mm".into(), time: "150 min".into(), ..form("beef-strip", "51 °C") };
    let p = planned(&thick);
    assert_eq!(p.verdict.level, Level::Refused);
    assert!(says(&p).contains("grows fastest") && says(&p).contains("2 h is the most"), "{}", says(&p));
    let way = words::way_out(&p.verdict.way_out.expect("a way out"), Units::default());
    assert!(way.contains("heated through in time"), "{way}");
    // A tough cut for a day just under the line, and just over it.
    let day = |bath: &str| PlanForm { time: "24 h".into(), ..form("beef-flank", bath) };
    let p = refused_with_a_sound_way_out(&day("53.9 °C"));
    assert!(says(&p).contains("0.5 °C more, 54.4 °C"), "{}", says(&p));
    assert_eq!(planned(&day("54.6 °C")).verdict.level, Level::Pasteurized);
    // With an instrument that reads high, the same setting is under the line.
    let rules = KitchenRules { bath_error_c: Kelvin::new(0.3), ..KitchenRules::default() };
    let now = "2026-11-25T12:00:00Z".parse().expect("an instant");
    let request = day("54.6 °C").read(&Setting::new(Units::default(), now, &TimeZone::UTC, &rules)).request;
    let p = plan(&request.expect("complete"), now).expect("simulates");
    assert_eq!(p.verdict.level, Level::Refused);
}

#[test]
fn pierced_meat_is_not_treated_as_whole() {
    for food in ["beef-strip", "lamb-leg", "pork-loin", "duck-breast"] {
        let time = "50 min";
        let bladed = PlanForm { intact: "bladed".into(), time: time.into(), ..form(food, "55 °C") };
        let p = refused_with_a_sound_way_out(&bladed);
        assert!(says(&p).contains("carry what was outside to the inside"), "{food}: {}", says(&p));
        // Saying nothing counts as pierced.
        let silent = planned(&PlanForm { intact: String::new(), ..bladed });
        assert_eq!(silent.verdict.level, Level::Refused, "{food}");
    }
    for (food, bath) in
        [("burger", "57 °C"), ("meatball", "57 °C"), ("sausage", "60 °C"), ("terrine", "62 °C")]
    {
        refused_with_a_sound_way_out(&PlanForm { time: "30 min".into(), ..form(food, bath) });
    }
}

#[test]
fn a_guest_at_risk_gets_pasteurised_only() {
    let guests = |food: &str, bath: &str, who: &str| PlanForm {
        guests: who.into(),
        time: "1 h".into(),
        parasites: "frozen".into(),
        ..form(food, bath)
    };
    for (food, bath) in
        [("beef-strip", "56 °C"), ("salmon-fillet", "50 °C"), ("scallop", "50 °C"), ("duck-breast", "57 °C")]
    {
        let p = refused_with_a_sound_way_out(&guests(food, bath, "at-risk"));
        assert!(says(&p).contains("old, pregnant or ill"), "{food}: {}", says(&p));
        assert!(p.stops.iter().all(|s| s.verdict.level != Level::ServeNow), "{food}");
    }
    assert_eq!(planned(&guests("salmon-fillet", "50 °C", "well")).verdict.level, Level::ServeNow);
}

#[test]
fn fish_barely_warm_must_have_been_frozen() {
    for (food, exempt) in [
        ("salmon-fillet", "farmed"),
        ("tuna-steak", "one of the tunas"),
        ("cod-fillet", ""),
        ("mackerel-fillet", ""),
    ] {
        let fish = |parasites: &str| PlanForm { parasites: parasites.into(), ..form(food, "48 °C") };
        for unsaid in ["", "none"] {
            let p = planned(&fish(unsaid));
            assert_eq!(p.verdict.level, Level::Refused, "{food}");
            let way = words::way_out(&p.verdict.way_out.expect("a way out"), Units::default());
            assert!(way.contains("−20 °C for 7 days") && way.contains(exempt), "{way}");
            assert_eq!(way.contains("code exempts") || way.contains("farmed"), !exempt.is_empty(), "{way}");
        }
        assert_eq!(planned(&fish("frozen")).verdict.level, Level::ServeNow, "{food}");
        // Exempt is a matter of the kind of fish, not of saying so.
        let level = if exempt.is_empty() { Level::Refused } else { Level::ServeNow };
        assert_eq!(planned(&fish("exempt")).verdict.level, level, "{food}");
    }
}

#[test]
fn what_no_bath_makes_good_is_refused_before_it_goes_in() {
    let beans = |prepared: &str| PlanForm {
        prepared: prepared.into(),
        food: "kidney-bean".into(),
        ..PlanForm::default()
    };
    for unsaid in ["", "no"] {
        let p = planned(&beans(unsaid));
        assert_eq!(p.verdict.level, Level::Refused);
        assert!(
            words::way_out(&p.verdict.way_out.expect("a way out"), Units::default())
                .contains("boil them hard for 30 min")
        );
    }
    assert_ne!(planned(&beans("yes")).verdict.level, Level::Refused);
    let mussels = planned(&form("mussel", "65 °C"));
    assert_eq!(mussels.verdict.level, Level::Refused);
    assert!(words::way_out(&mussels.verdict.way_out.expect("a way out"), Units::default()).contains("92 °C"));
}

/// What the calculation interface offers for a request, and the level of that answer.
fn offered(request: &serde_json::Value) -> (String, serde_json::Value) {
    let answer = calc::run("heat", request).unwrap_or_else(|e| panic!("{request}: {e:?}"));
    (answer["verdict"]["level"].as_str().unwrap_or_default().to_owned(), answer["verdict"]["way_out"].clone())
}

#[test]
fn a_bath_that_is_offered_is_what_its_instrument_is_to_show() {
    for (food, mm) in [("beef-strip", 25), ("chicken-breast", 30), ("pork-loin", 40)] {
        for error in [0.0, 0.3, 1.0] {
            let mut asked = serde_json::json!({"food": food, "thickness_mm": mm, "start_c": 5, "bath_c": 55,
                                               "until_min": 100, "bath_error_c": error, "intact": true});
            let (level, way) = offered(&asked);
            assert_ne!(level, "pasteurized");
            asked["bath_c"] = way["bath_c"].clone();
            assert_eq!(offered(&asked).0, "pasteurized", "{food}, {error} K too high: {way}");
        }
    }
    // In a kitchen whose thermometer reads a degree too high too.
    let now = "2026-11-25T12:00:00Z".parse().expect("an instant");
    let rules = KitchenRules { bath_error_c: Kelvin::new(1.0), ..KitchenRules::default() };
    let there = |form: &PlanForm| {
        let reading = form.read(&Setting::new(Units::default(), now, &TimeZone::UTC, &rules));
        plan(&reading.request.expect("understood"), now).expect("simulates")
    };
    let breast =
        PlanForm { time: "1 h".into(), thickness: "30 mm".into(), ..form("chicken-breast", "58 °C") };
    let p = there(&breast);
    assert_eq!(p.verdict.level, Level::Refused);
    let c = p.verdict.way_out.and_then(|w| w.bath_c).expect("a hotter bath");
    let hotter = there(&PlanForm { bath: format!("{} °C", c.value()), ..breast });
    assert_eq!(hotter.verdict.level, Level::Pasteurized, "{c:?} °C");
}

#[test]
fn a_bath_that_is_offered_is_held_and_not_the_old_one_moved() {
    // Hot for a while and far too cold since: moved up by what is missing at the end it would have boiled.
    let p = |min, c| serde_json::json!({"min": min, "c": c});
    let asked = serde_json::json!({"food": "chicken-breast", "thickness_mm": 40, "start_c": 5, "until_min": 100,
                                   "bath": [p(0, 58), p(20, 58), p(21, 30)]});
    let (_, way) = offered(&asked);
    let c = way["bath_c"].as_f64().expect("a hotter bath");
    let at = |c: f64| {
        offered(&serde_json::json!({"food": "chicken-breast", "thickness_mm": 40, "start_c": 5,
                                    "until_min": 100, "bath_c": c}))
        .0
    };
    assert_eq!(at(c), "pasteurized", "{way}");
    assert_ne!(at(c - 0.2), "pasteurized", "{way}");
}

#[test]
fn what_no_heat_makes_good_is_not_sent_back_to_the_stove() {
    let text = |extra: serde_json::Value| {
        let mut asked = serde_json::json!({"food": "chicken-breast", "thickness_mm": 25, "start_c": 5,
                                           "bath_c": 61, "until_min": 120});
        asked.as_object_mut().expect("a request").extend(extra.as_object().expect("fields").clone());
        offered(&asked).1["text"].as_str().unwrap_or_default().to_owned()
    };
    for extra in [serde_json::json!({"waited_min": 250}), serde_json::json!({"after_min": 300})] {
        let text = text(extra);
        assert!(text.contains("hrow it away") && !text.contains("cook it"), "{text}");
    }
    let waited_after = text(serde_json::json!({"after_min": 180}));
    assert!(waited_after.contains("no heat makes good"), "{waited_after}");
}
