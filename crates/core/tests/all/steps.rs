//! The plan as a checklist, and as a file. (The project's own rules.)

use hold_steady_core::book::{ImportError, PlanFile, check_preset, read_plan_file, read_presets_file};
use hold_steady_core::cook::{CookState, Event, EventKind, live};
use hold_steady_core::food::{Pantry, Preset, catalogue};
use hold_steady_core::plan::{KitchenRules, Plan, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::prep::PrepForm;
use hold_steady_core::prep::salt::When;
use hold_steady_core::steps::steps;
use hold_steady_core::units::{LengthUnit, Minutes, TemperatureUnit, Units};
use hold_steady_core::words::{self, ToldStep, before};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

fn now() -> Timestamp {
    "2026-11-25T12:00:00Z".parse().expect("an instant")
}

fn form(food: &str, prep: PrepForm) -> PlanForm {
    PlanForm {
        food: food.into(),
        intact: "whole".into(),
        parasites: "frozen".into(),
        prepared: "yes".into(),
        prep,
        ..PlanForm::default()
    }
}

fn read(form: &PlanForm, pantry: &Pantry) -> (PlanRequest, Plan) {
    let (zone, rules) = (TimeZone::UTC, KitchenRules::default());
    let reading = form.read(&Setting::new(Units::default(), now(), &zone, &rules).with_pantry(pantry));
    let request = reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors));
    let p = plan(&request, now()).expect("simulates");
    (request, p)
}

fn listed(form: &PlanForm) -> Vec<ToldStep> {
    let (request, p) = read(form, &Pantry::default());
    listed_at(&request, &p, &CookState::default(), now())
}

fn listed_at(request: &PlanRequest, p: &Plan, state: &CookState, seen: Timestamp) -> Vec<ToldStep> {
    let units = Units::default();
    let l =
        live(request, p, state, &hold_steady_core::bath::BathHistory::default(), seen).expect("simulates");
    words::steps((request, p), &l, &steps(request, p, state, &l), units, &|t| t.to_string())
}

fn at<'a>(all: &'a [ToldStep], id: &str) -> &'a ToldStep {
    all.iter()
        .find(|s| s.id == id)
        .unwrap_or_else(|| panic!("no {id} in {:?}", all.iter().map(|s| &s.id).collect::<Vec<_>>()))
}

#[test]
fn every_food_has_its_steps_in_the_order_of_the_work() {
    for food in catalogue().listed() {
        let f = form(&food.id, PrepForm::default());
        let (_, p) = read(&f, &Pantry::default());
        let all = listed(&f);
        let mut ids: Vec<&str> = all.iter().map(|s| s.id.as_str()).collect();
        assert!(all.windows(2).all(|w| w[0].at <= w[1].at), "{}", food.id);
        assert!(all.iter().all(|s| !s.what.is_empty() && !s.why.is_empty()), "{}", food.id);
        assert_eq!(at(&all, "drop").at, p.times.drop_by, "{}", food.id);
        assert_eq!(at(&all, "pull").at, p.times.pull, "{}", food.id);
        if let (Some(sear), true) = (p.times.sear, food.finish().sears) {
            assert_eq!(at(&all, "sear").at, sear, "{}", food.id);
        }
        assert_eq!(
            all.iter().any(|s| s.id == "float"),
            food.sizes.is_empty() && food.jar.is_none(),
            "{}",
            food.id
        );
        ids.sort_unstable();
        ids.dedup();
        assert_eq!(ids.len(), all.len(), "{}: an identifier twice", food.id);
    }
}

/// A piece that is planned for tomorrow and dropped tonight: its pull comes before the hour its drop was planned for.
#[test]
fn what_is_dropped_a_day_early_is_still_pulled_after_it() {
    let f = PlanForm { ready: "tomorrow 19:30".into(), ..form("beef-strip", PrepForm::default()) };
    let (request, p) = read(&f, &Pantry::default());
    let dropped = Event {
        id: Uuid::nil(),
        kind: EventKind::Dropped,
        happened_at: now(),
        recorded_at: now(),
        by: hold_steady_core::who::By::nobody("cook"),
    };
    let state = CookState::default().apply(&dropped).expect("it may be dropped");
    let all = listed_at(&request, &p, &state, now() + SignedDuration::from_mins(2));
    let of = |id: &str| at(&all, id);
    assert!(of("pull").at < p.times.drop_by, "the early drop pulls it before its planned drop");
    for id in ["float", "pull", "dry", "sear"] {
        assert!(!of(id).passed && of(id).done.is_none(), "{id} is still to do");
    }
    assert!(of("bag").passed && of("drop").done == Some(now()));
    assert!(all.windows(2).all(|w| w[0].at <= w[1].at));
}

#[test]
fn salt_stands_where_it_belongs() {
    let salted = |food: &str, prep: PrepForm| {
        let all = listed(&form(food, prep));
        all.iter()
            .position(|s| s.id == "salt")
            .map(|i| (i, all.iter().position(|s| s.id == "drop").expect("a drop"), all[i].clone()))
    };
    let (salt, drop, _) = salted("beef-strip", PrepForm::default()).expect("salted");
    assert!(salt < drop);
    let (salt, drop, _) = salted("beef-cheek", PrepForm::default()).expect("salted");
    assert!(salt > drop, "after a long bath");
    let (_, _, ahead) =
        salted("beef-strip", PrepForm { salting: "24".into(), ..PrepForm::default() }).expect("salted");
    let all = listed(&form("beef-strip", PrepForm::default()));
    let tomorrow = listed(&form("beef-strip", PrepForm { salting: "24".into(), ..PrepForm::default() }));
    assert_eq!(at(&tomorrow, "drop").at.duration_since(ahead.at).as_hours(), 24);
    // It cannot have been salted yesterday: the soonest it can be ready is a day later.
    assert!(ahead.at >= now(), "{}", ahead.at);
    assert!(at(&tomorrow, "drop").at.duration_since(at(&all, "drop").at).as_hours() >= 23);
    assert_eq!(salted("beef-strip", PrepForm { salted: "piece".into(), ..PrepForm::default() }), None);
    // What was seasoned when it was made, fruit, mussels, eggs and jars.
    for food in ["sausage", "meat-in-sauce", "pear", "mussel", "shell-egg-large", "egg-custard"] {
        assert_eq!(salted(food, PrepForm::default()), None, "{food}");
    }
    assert_eq!(salted("beef-strip", PrepForm { salting: "never".into(), ..PrepForm::default() }), None);
}

#[test]
fn a_batch_that_was_salted_is_remembered() {
    let pantry = Pantry { salted: vec!["chops of 12 november".into()], ..Pantry::default() };
    let prep =
        PrepForm { batch: "Chops of 12 November".into(), weight: "300 g".into(), ..PrepForm::default() };
    let (request, p) = read(&form("pork-chop", prep.clone()), &pantry);
    let said = before(&request, p.bath_min, p.through.slow, Units::default());
    assert_eq!(said.salt.when, When::Done);
    assert!(said.salt.reason.contains("12 November"), "{}", said.salt.reason);
    let (other, p) = read(&form("pork-chop", PrepForm { batch: "others".into(), ..prep }), &pantry);
    assert_ne!(before(&other, p.bath_min, p.through.slow, Units::default()).salt.when, When::Done);
}

#[test]
fn pieces_that_touch_heat_as_a_slab_and_stacked_as_one_twice_as_thick() {
    let bath = |food: &str, lie: &str, pieces: &str| {
        let prep = PrepForm { lie: lie.into(), pieces: pieces.into(), ..PrepForm::default() };
        let (request, p) = read(&form(food, prep), &Pantry::default());
        (
            p.through.slow,
            before(&request, p.bath_min, p.through.slow, Units::default())
                .bag
                .and_then(|b| b.arrangement_words),
        )
    };
    let (apart, _) = bath("carrot", "", "6");
    let (touching, said) = bath("carrot", "touching", "6");
    let (stacked, warned) = bath("carrot", "stacked", "6");
    assert!(
        touching > Minutes::new(1.3 * apart.value()) && stacked > Minutes::new(2.5 * touching.value()),
        "{apart:?} {touching:?} {stacked:?}"
    );
    assert!(
        said.is_some_and(|s| s.contains("slab")) && warned.is_some_and(|s| s.contains("Better: one layer"))
    );
    // One piece touches nothing.
    assert_eq!(bath("carrot", "touching", "1").0, apart);
    // A slab side by side with others is a slab.
    assert_eq!(bath("beef-strip", "touching", "2").0, bath("beef-strip", "", "2").0);
}

#[test]
fn what_happened_moves_and_ticks_the_list() {
    let (request, p) = read(&form("beef-strip", PrepForm::default()), &Pantry::default());
    let event = |n: u128, min: i64, kind: EventKind| {
        let t = p.times.drop_by.checked_add(SignedDuration::from_mins(min)).expect("in range");
        Event { id: Uuid::from_u128(n), happened_at: t, recorded_at: t, by: "test".into(), kind }
    };
    let late = CookState::of(&[
        event(1, -20, EventKind::Salted { percent: 1.0 }),
        event(2, 30, EventKind::Dropped),
        event(3, 60, EventKind::Floated { afloat_min: Minutes::new(12.0) }),
    ]);
    let t = |min: i64| p.times.drop_by.checked_add(SignedDuration::from_mins(min)).expect("in range");
    let all = listed_at(&request, &p, &late, t(70));
    assert!(
        at(&all, "salt").done.is_some() && at(&all, "drop").done.is_some() && at(&all, "pull").done.is_none()
    );
    assert_eq!(
        at(&all, "pull").at.duration_since(p.times.pull).as_mins(),
        42,
        "late by thirty, afloat for twelve"
    );
    // What is done stands where it happened.
    assert_eq!((at(&all, "salt").at, at(&all, "drop").at), (t(-20), t(30)));
    let state = late;
    let tried = |kind: EventKind, happened_at: Timestamp| {
        let id = Uuid::from_u128(77);
        state.apply(&Event { id, happened_at, recorded_at: t(70), by: "test".into(), kind })
    };
    assert!(tried(EventKind::Salted { percent: 1.0 }, t(61)).is_err(), "not salted twice");
    assert!(
        tried(EventKind::Floated { afloat_min: Minutes::new(90.0) }, t(61)).is_err(),
        "longer than it was in"
    );
    assert!(tried(EventKind::Floated { afloat_min: Minutes::new(f64::NAN) }, t(61)).is_err());
    assert!(tried(EventKind::Leaked, t(10)).is_err(), "before the drop");
    assert!(tried(EventKind::Leaked, t(61)).is_ok());
}

#[test]
fn what_is_typed_wrong_is_said_by_field_and_kept() {
    let prep =
        PrepForm { weight: "a lot".into(), salt: "30 %".into(), pieces: "0".into(), ..PrepForm::default() };
    let reading = form("beef-strip", prep.clone()).read(&Setting::new(
        Units::default(),
        now(),
        &TimeZone::UTC,
        &KitchenRules::default(),
    ));
    assert_eq!(reading.errors.keys().copied().collect::<Vec<_>>(), ["pieces", "salt", "weight"]);
    assert_eq!(reading.form.prep, prep);
    let f = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    let ounces = form("beef-strip", PrepForm { weight: "12 oz".into(), ..PrepForm::default() });
    let (request, p) = read(&ounces, &Pantry::default());
    let said = before(&request, p.bath_min, p.through.slow, f);
    assert!(said.salt.words.contains("0.12 oz") && said.salt.depth_words.is_some_and(|d| d.contains(" in ")));
}

#[test]
fn a_plan_goes_out_as_a_file_and_comes_back_the_same() {
    let typed = form(
        "salmon-fillet",
        PrepForm { weight: "320 g".into(), in_bag: "dill, butter".into(), ..PrepForm::default() },
    );
    let (request, p) = read(&typed, &Pantry::default());
    let file = PlanFile::new(&typed, &request, &p);
    let text = serde_json::to_string_pretty(&file).expect("plain data");
    let back = read_plan_file(&text).expect("reads");
    assert_eq!(back, file);
    assert_eq!(read(&back.typed, &Pantry::default()).0, request);
}

#[test]
fn hostile_files_are_refused_with_line_and_reason() {
    let good = r#"{"format":"hold-steady/plan","version":1,"typed":{"food":"beef-strip"}}"#;
    assert!(read_plan_file(good).is_ok());
    let refused = |text: &str| read_plan_file(text).expect_err(text).to_string();
    assert!(refused("").contains("line 1"));
    assert!(
        refused("{\n \"format\": \"hold-steady/plan\",\n \"version\": one}").starts_with("line 3, column")
    );
    assert!(refused(&good.replace("hold-steady/plan", "someone/else")).contains("someone/else"));
    assert!(refused(&good.replace(":1,", ":7,")).contains("version 7"));
    assert!(refused(&good.replace("\"typed\"", "\"typed\":{},\"more\"")).contains("line 1"));
    assert!(refused(&good.replace("\"beef-strip\"", "[[[[]]]]")).contains("line 1"));
    let long = "x".repeat(5000);
    assert!(matches!(
        read_plan_file(&good.replace("beef-strip", &long)),
        Err(ImportError::Field { field, .. }) if field == "food"
    ));
    let deep = format!("{}{}", "[".repeat(5000), "]".repeat(5000));
    assert!(read_plan_file(&deep).is_err());
    let own = good.replace("}}", r#"},"own":{"id":"beef-strip","base":"chicken-breast","name":"x","thickness_mm":30,"composition":{"water":1,"protein":0,"fat":0,"carbohydrate":0,"fibre":0,"ash":0},"levels":[],"windows":[]}}"#);
    assert!(matches!(read_plan_file(&own), Err(ImportError::OwnFood { .. })), "{:?}", read_plan_file(&own));
}

fn preset_of(text: &str) -> Preset {
    read_presets_file(text).expect("reads").presets.remove(0)
}

#[test]
fn a_preset_keeps_the_way_and_asks_for_the_piece() {
    let typed = form(
        "beef-ribeye",
        PrepForm { weight: "500 g".into(), salted: "piece".into(), batch: "b".into(), ..PrepForm::default() },
    );
    let typed = PlanForm { thickness: "40 mm".into(), bath: "57 °C".into(), ready: "19:30".into(), ..typed };
    let preset = Preset::of(Uuid::from_u128(1), "  Friday  ", &typed);
    assert_eq!(check_preset(&preset), Ok(()));
    assert_eq!(preset.name, "Friday");
    let anew = preset.form("35 mm", "");
    assert_eq!((anew.thickness.as_str(), anew.bath.as_str(), anew.ready.as_str()), ("35 mm", "57 °C", ""));
    assert_eq!(
        (anew.prep.weight.as_str(), anew.prep.salted.as_str(), anew.prep.batch.as_str()),
        ("", "", "")
    );
    // What is about that piece and those guests is open, on the form and when it is read.
    let open = [&anew.intact, &anew.guests, &anew.from, &anew.parasites, &anew.prepared, &anew.out];
    assert!(open.iter().all(|f| f.is_empty()), "{open:?}");
    let shown = PlanForm { done_was: "medium-rare".into(), food_was: "beef-ribeye".into(), ..anew };
    let rules = KitchenRules::default();
    let reading = shown.read(&Setting::new(Units::default(), now(), &TimeZone::UTC, &rules));
    assert_eq!(reading.errors.keys().copied().collect::<Vec<_>>(), ["from", "guests"]);
    // One kept by an older version, which held the last piece's answers, is opened the same.
    let mut older = preset.clone();
    older.typed.insert("intact".into(), "whole".into());
    older.typed.insert("thickness".into(), "40 mm".into());
    let old = older.form("", "");
    assert_eq!((old.intact.as_str(), old.thickness.as_str()), ("", ""));
    assert!(check_preset(&Preset { name: " ".into(), ..preset.clone() }).is_err());
    let text =
        serde_json::json!({"format": "hold-steady/presets", "version": 1, "presets": [preset]}).to_string();
    assert_eq!(read_presets_file(&text).expect("reads").presets, [preset]);
    let mut stuffed = preset_of(&text);
    stuffed.typed.insert("more".into(), "x".repeat(9000).into());
    assert!(matches!(check_preset(&stuffed), Err(ImportError::Field { field, .. }) if field == "typed"));
    let odd = text.replace("\"beef-ribeye\"", "17");
    assert!(read_presets_file(&odd).is_err());
}

/// A piece that was dropped before anybody ticked its bag: what comes before the drop stays before it, and is passed.
#[test]
fn what_a_later_step_implies_is_passed_and_stays_in_the_order_of_the_work() {
    let (request, p) = read(&form("beef-strip", PrepForm::default()), &Pantry::default());
    let event = |id: u128, min: i64, kind| {
        let at = now() + SignedDuration::from_mins(min);
        Event { id: Uuid::from_u128(id), happened_at: at, recorded_at: at, by: "cook".into(), kind }
    };
    let early = |events: &[Event], min: i64| {
        listed_at(&request, &p, &CookState::of(events), now() + SignedDuration::from_mins(min))
    };
    // Planned to go in in an hour and more: it goes in at once.
    let dropped = [event(1, -60, EventKind::Dropped)];
    let all = early(&dropped, 1);
    let place = |all: &[ToldStep], id: &str| all.iter().position(|s| s.id == id).expect("listed");
    assert!(place(&all, "bag") < place(&all, "drop"), "{:?}", all.iter().map(|s| &s.id).collect::<Vec<_>>());
    assert!(at(&all, "bag").passed && at(&all, "preheat").passed && !at(&all, "pull").passed);
    assert!(all.windows(2).all(|w| w[0].at <= w[1].at));
    // Ticked late, it is done, not passed; after the pull the look at whether it floats is passed too.
    let ticked = [dropped[0].clone(), event(2, 5, EventKind::Bagged), event(3, 90, EventKind::Pulled)];
    let all = early(&ticked, 91);
    assert!(at(&all, "bag").done.is_some() && !at(&all, "bag").passed);
    assert!(at(&all, "float").passed && !at(&all, "dry").passed);
}
