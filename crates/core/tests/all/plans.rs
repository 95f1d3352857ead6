//! Plans as a whole: what the page promises, for many sentences. (The project's own rules.)

use crate::common::form;
use hold_steady_core::food::FoodClass;
use hold_steady_core::plan::{
    Advice, Caution, KitchenRules, Plan, PlanForm, PlanRequest, Setting, StretchKind, plan,
};
use hold_steady_core::prep::PrepForm;
use hold_steady_core::safety::{EggUse, Level};
use hold_steady_core::units::{Celsius, Kelvin, Length, LengthUnit, Minutes, TemperatureUnit, Units};
use hold_steady_core::words;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use proptest::prelude::*;

fn now() -> Timestamp {
    "2026-11-25T12:00:00Z".parse().expect("an instant")
}

fn understood(form: &PlanForm, rules: &KitchenRules) -> PlanRequest {
    let reading = form.read(&Setting::new(Units::default(), now(), &TimeZone::UTC, rules));
    reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors))
}

fn understood_errors(form: &PlanForm) -> String {
    let rules = KitchenRules::default();
    let reading = form.read(&Setting::new(Units::default(), now(), &TimeZone::UTC, &rules));
    format!("{:?}", reading.errors)
}

fn planned(form: &PlanForm) -> Plan {
    plan(&understood(form, &KitchenRules::default()), now()).expect("simulates")
}

fn minutes(a: Timestamp, b: Timestamp) -> f64 {
    b.duration_since(a).as_secs_f64() / 60.0
}

#[test]
fn times_stand_in_the_order_of_the_work() {
    for food in ["beef-strip", "beef-ribeye", "beef-tenderloin", "beef-flank", "beef-roast"] {
        for from in ["refrigerator", "counter", "freezer"] {
            let p = planned(&PlanForm { from: from.into(), ..form(food, "30 mm", "56 °C") });
            let t = &p.times;
            let order = [
                t.preheat_by,
                t.drop_by,
                t.through.from,
                t.through.until,
                t.pull,
                t.sear.expect("seared"),
                t.serve,
            ];
            assert!(order.windows(2).all(|w| w[0] <= w[1]), "{food} {from}: {order:?}");
            assert!(t.preheat_by >= now(), "{food} {from}: nobody can start yesterday");
            assert!(t.drop_from <= t.drop_by && t.drop_from >= now(), "{food} {from}");
            assert!((minutes(t.drop_by, t.pull) - p.bath_min.value()).abs() < 0.02);
        }
    }
}

#[test]
fn a_plan_for_a_guest_at_risk_waits_until_it_is_pasteurised() {
    let well = planned(&form("beef-strip", "32 mm", "55 °C"));
    let risk = planned(&PlanForm { guests: "at-risk".into(), ..form("beef-strip", "32 mm", "55 °C") });
    let bladed = planned(&PlanForm { intact: "bladed".into(), ..form("beef-strip", "32 mm", "55 °C") });
    assert_eq!((well.verdict.level, risk.verdict.level), (Level::ServeNow, Level::Pasteurized));
    assert_eq!(bladed.verdict.level, Level::Pasteurized);
    assert!(risk.bath_min > well.bath_min + Minutes::new(60.0) && risk.bath_min == bladed.bath_min);
    assert!(matches!(well.advice, Some(Advice::LeaveLonger { .. })));
}

#[test]
fn a_time_that_cannot_be_kept_gives_the_earliest_and_a_later_one_is_kept() {
    let soon = planned(&PlanForm { ready: "12:30".into(), ..form("beef-strip", "32 mm", "55 °C") });
    assert!(!soon.in_time);
    assert_eq!(soon.times.serve, soon.earliest_ready);
    let soonest = planned(&form("beef-strip", "32 mm", "55 °C"));
    assert!(soonest.in_time && soonest.times.serve == soon.earliest_ready);
    let later = planned(&PlanForm { ready: "23:45".into(), ..form("beef-strip", "32 mm", "55 °C") });
    assert_eq!(later.times.serve.to_string(), "2026-11-25T23:45:00Z");
    // Across midnight, the drop is tonight.
    let night =
        planned(&PlanForm { ready: "tomorrow 00:30".into(), ..form("beef-strip", "32 mm", "55 °C") });
    assert!(night.times.drop_by < "2026-11-26T00:00:00Z".parse().expect("an instant"));
}

#[test]
fn minutes_on_the_counter_count_before_the_drop_and_it_starts_cold_for_safety() {
    let cold = planned(&form("beef-strip", "25 mm", "52 °C"));
    let counter = |out: &str| PlanForm {
        from: "counter".into(),
        out: out.into(),
        ..form("beef-strip", "25 mm", "52 °C")
    };
    let hour = planned(&counter("60 min"));
    // Safe times from cold, texture times from a warmer start.
    assert!((hour.through.slow - cold.through.slow).value().abs() < 4.0);
    assert!(hour.through.fast < cold.through.fast);
    let out = |p: &Plan| p.bands.iter().find(|b| b.kind == StretchKind::Refused).map(|b| b.from_min);
    let (a, b) = (out(&cold).expect("runs out"), out(&hour).expect("runs out sooner"));
    assert!((a - b - Minutes::new(60.0)).value().abs() < 4.0, "{a:?} {b:?}");
    // Nobody said for how long: two hours are counted, and it is said so.
    let unsaid = planned(&counter(""));
    let c = out(&unsaid).expect("runs out sooner still");
    assert!((b - c - Minutes::new(60.0)).value().abs() < 0.5, "{b:?} {c:?}");
    assert!(
        words::told(&unsaid.verdict, Units::default())
            .reasons
            .iter()
            .any(|r| r.text.contains("2 h are counted")),
        "{:?}",
        unsaid.verdict
    );
    let wrong = understood_errors(&counter("a while"));
    assert!(wrong.contains("out"), "{wrong}");
}

#[test]
fn the_instrument_s_error_and_the_kitchen_s_spreads_are_used() {
    let f = form("beef-strip", "32 mm", "54.5 °C");
    let of = |rules: KitchenRules| plan(&understood(&f, &rules), now()).expect("simulates");
    let base = of(KitchenRules::default());
    assert!(base.pasteurised.is_some());
    // Reads two tenths high: the real bath is under the first row of every table.
    let wrong = of(KitchenRules { bath_error_c: Kelvin::new(0.2), ..KitchenRules::default() });
    assert!(wrong.pasteurised.is_none());
    let careful = of(KitchenRules { thickness_spread_mm: Length::from_mm(4.0), ..KitchenRules::default() });
    assert!(careful.through.slow > base.through.slow && careful.through.fast < base.through.fast);
    assert_eq!(careful.through.middle, base.through.middle);
    // Spreads move times, never gates: a wide bath spread leaves 54.5 °C on the table.
    let wide = of(KitchenRules { bath_spread_k: Kelvin::new(0.4), ..KitchenRules::default() });
    assert!(wide.pasteurised.is_some_and(|p| p.slow > base.pasteurised.expect("reached").slow));
}

#[test]
fn a_roast_too_thick_to_warm_in_time_is_refused_with_a_way_out() {
    let joint = |width: &str, length: &str| PlanForm {
        guests: "at-risk".into(),
        width: width.into(),
        length: length.into(),
        ..form("beef-roast", "115 mm", "56 °C")
    };
    // A small joint warms through its sides too; a wide one is nearly the slab.
    assert!(!planned(&joint("115 mm", "150 mm")).is_refused());
    let p = planned(&joint("220 mm", "350 mm"));
    assert!(p.is_refused(), "{:?}", p.verdict);
    assert!(
        p.verdict.way_out.as_ref().and_then(|w| w.thickness_mm).is_some_and(|mm| mm < Length::from_mm(115.0))
    );
    assert_eq!(p.caution, None, "a refusal needs no caution beside it");
}

#[test]
fn what_an_egg_is_for_and_how_it_is_done_follow_each_other() {
    let read = |form: &PlanForm| {
        let rules = KitchenRules::default();
        let reading = form.read(&Setting::new(Units::default(), now(), &TimeZone::UTC, &rules));
        let r = reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors));
        (reading.form, r)
    };
    let link = |use_for: &str, bath: &str| PlanForm {
        egg_use: use_for.into(),
        bath: bath.into(),
        ..form("shell-egg-large", "", "")
    };
    let (soft, r) = read(&link("", ""));
    assert_eq!((soft.egg_use.as_str(), soft.done.as_str(), r.bath_c.value()), ("soft", "soft", 63.0));
    // To use raw, chosen on the page: the bath becomes one that leaves it raw.
    let (raw, r) = read(&PlanForm { egg_use: "raw".into(), ..soft });
    assert_eq!((raw.done.as_str(), r.bath_c.value(), r.egg_use), ("raw", 57.0, Some(EggUse::Raw)));
    assert_eq!(read(&link("raw", "")).1.bath_c, Celsius::new(57.0));
    // A doneness chosen afterwards says what it is for.
    let (set, r) = read(&PlanForm { done: "set".into(), ..raw.clone() });
    assert_eq!((set.egg_use.as_str(), r.bath_c.value()), ("soft", 70.0));
    let (back, r) = read(&PlanForm { done: "raw".into(), ..set });
    assert_eq!((back.egg_use.as_str(), r.bath_c.value()), ("raw", 57.0));
    assert_eq!(read(&PlanForm { egg_use: "soft".into(), ..back }).1.bath_c, Celsius::new(63.0));
    // A temperature of the cook's own stays, and is remarked on when it would not leave the egg raw.
    let warm = PlanForm { bath: "63 °C".into(), ..link("raw", "63 °C") };
    assert_eq!(read(&warm).1.bath_c, Celsius::new(63.0));
    assert!(
        planned(&warm).caution
            == Some(Caution::WhiteSets { bath_c: Celsius::new(63.0), raw_c: Celsius::new(57.0) })
    );
    assert_eq!(planned(&link("raw", "57.5 °C")).caution, None);
}

#[test]
fn sound_plans_are_not_nagged() {
    for (food, mm, bath) in [
        ("beef-strip", "28 mm", "56 °C"),
        ("beef-ribeye", "32 mm", "57 °C"),
        ("beef-flank", "22 mm", "56 °C"),
    ] {
        let p = planned(&PlanForm { guests: "at-risk".into(), ..form(food, mm, bath) });
        assert_eq!((p.verdict.level, p.caution), (Level::Pasteurized, None), "{food}");
    }
}

#[test]
fn every_number_is_explained_in_the_reader_s_units() {
    let request = understood(&form("beef-ribeye", "1 1/2 in", "135 f"), &KitchenRules::default());
    let units = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    let p = plan(&request, now()).expect("simulates");
    let all = words::explain(&request, &p, units);
    for id in ["preheat", "drop", "through", "pasteurised", "best", "pull", "sear", "serve"] {
        let e = all.iter().find(|e| e.id == id).unwrap_or_else(|| panic!("{id} is not explained"));
        assert!(!e.method.is_empty() && !e.source.is_empty() && !e.inputs.is_empty(), "{id}");
    }
    let through = &all.iter().find(|e| e.id == "through").expect("explained").inputs;
    assert!(
        through.iter().any(|(_, v)| v.contains("1 1/2 in"))
            && through.iter().any(|(_, v)| v.contains("135 °F"))
    );
    assert!(!p.stops.iter().any(|s| words::stop(s, request.food(), units).1.contains("°C")));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn ribbons_are_whole_and_their_words_agree_with_the_verdicts(
        food in prop::sample::select(vec!["beef-strip", "beef-tenderloin", "beef-flank", "beef-roast"]),
        mm in 20.0_f64..50.0,
        bath in 50.0_f64..62.0,
        guests in prop::sample::select(vec!["well", "at-risk"]),
        intact in prop::sample::select(vec!["whole", "bladed", ""]),
    ) {
        let sentence = PlanForm {
            guests: guests.into(),
            intact: intact.into(),
            ..form(food, &format!("{mm:.1} mm"), &format!("{bath:.1} °C"))
        };
        let p = planned(&sentence);
        prop_assert_eq!(p.bands[0].from_min, Minutes::ZERO);
        prop_assert!(p.bands.windows(2).all(|w| w[0].until_min == w[1].from_min && w[0].kind != w[1].kind));
        prop_assert_eq!(p.bands[p.bands.len() - 1].until_min, p.horizon_min);
        prop_assert!(p.stops.windows(2).all(|w| w[0].min < w[1].min));
        for stop in &p.stops {
            let band = p.bands.iter().rev().find(|b| b.from_min <= stop.min).expect("covered");
            match band.kind {
                StretchKind::Safe => prop_assert_eq!(stop.verdict.level, Level::Pasteurized, "{:?}", stop),
                StretchKind::Refused => prop_assert_eq!(stop.verdict.level, Level::Refused, "{:?}", stop),
                StretchKind::NotYet if stop.min < band.until_min - Minutes::new(1.0) => prop_assert_eq!(stop.verdict.level, Level::Refused, "{:?}", stop),
                _ => {}
            }
            // Nothing is ever called fit for every guest and unfit at once.
            let fit = words::headline(&stop.verdict, FoodClass::Beef).starts_with("Pasteurised");
            prop_assert_eq!(fit, stop.verdict.level == Level::Pasteurized);
        }
        if guests == "at-risk" || intact != "whole" {
            prop_assert!(p.stops.iter().all(|s| s.verdict.level != Level::ServeNow));
            prop_assert!(p.is_refused() || p.verdict.level == Level::Pasteurized);
        }
        prop_assert!(p.frames.iter().all(|f| f.celsius.len() == f.colours.len()));
    }
}

#[test]
fn a_length_shown_in_other_units_means_the_same_until_another_is_typed() {
    let (zone, rules) = (TimeZone::UTC, KitchenRules::default());
    let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    let read = |form: &PlanForm, units| form.read(&Setting::new(units, now(), &zone, &rules));
    let typed = PlanForm { thickness: "1 1/4 in".into(), intact: "whole".into(), ..PlanForm::default() };
    // In millimetres it is shown whole, and stays an inch and a quarter.
    let metric = read(&PlanForm { typed_in: "f-in".into(), ..typed }, Units::default());
    let (form, request) = (metric.form, metric.request.expect("understood"));
    assert_eq!((form.thickness.as_str(), request.thickness_mm.mm()), ("32 mm", 31.75));
    let back = read(&form, american);
    assert_eq!(
        (back.form.thickness.as_str(), back.request.expect("understood").thickness_mm.mm()),
        ("1 1/4 in", 31.75)
    );
    // Another that is typed is what counts, also where it looks the same in other units.
    let other = read(&PlanForm { thickness: "33 mm".into(), ..form.clone() }, Units::default());
    assert_eq!(other.request.expect("understood").thickness_mm.mm(), 33.0);
    // An exact thickness that is not what stands in the sentence, from a link or a file, counts for nothing.
    for (shown, exact, mm) in
        [("60 mm", "20 mm", 60.0), ("about 32 mm", "31.75 mm", 32.0), ("20 to 32 mm", "25 to 32 mm", 32.0)]
    {
        let typed = PlanForm { thickness: shown.into(), thickness_exact: exact.into(), ..form.clone() };
        let request = read(&typed, Units::default()).request.expect("understood");
        assert_eq!(request.thickness_mm.mm(), mm, "{shown}, {exact}");
        assert_eq!(request.unsure, shown.starts_with("about"), "{shown}, {exact}");
        assert_eq!(
            request.thin_mm.map(Length::mm),
            shown.contains("to ").then_some(20.0),
            "{shown}, {exact}"
        );
    }
    // What is offered to who reads Fahrenheit is whole degrees, and means them.
    let f = read(
        &PlanForm { food: "beef-ribeye".into(), intact: "whole".into(), ..PlanForm::default() },
        american,
    );
    assert_eq!(f.form.bath, "135 °F");
    assert!((f.request.expect("understood").bath_c.fahrenheit() - 135.0).abs() < 1e-9);
}

#[test]
fn a_hot_bath_saves_the_heating_and_several_pieces_are_named() {
    let steak = |heated: &str, pieces: &str| PlanForm {
        heated: heated.into(),
        prep: PrepForm { pieces: pieces.into(), ..PrepForm::default() },
        ..form("beef-ribeye", "32 mm", "57 °C")
    };
    let (cold, hot) = (planned(&steak("", "")), planned(&steak("hot", "2")));
    assert_eq!(Minutes::between(hot.earliest_ready, cold.earliest_ready), Minutes::new(30.0));
    let (zone, rules) = (TimeZone::UTC, KitchenRules::default());
    let request = steak("hot", "2").read(&Setting::new(Units::default(), now(), &zone, &rules)).request;
    assert_eq!(request.expect("understood").title(Units::default()), "2 ribeyes, 32 mm, 57 °C");
}
