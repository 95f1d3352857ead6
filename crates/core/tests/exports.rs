//! Every version of the export that was ever written is read for ever. A regression check against our
//! own earlier output: `golden/export-v1.json` was written by version 0.1.0, `golden/export-v2.json` by the
//! first that kept foods of a kitchen's own; they are never changed.

use hold_steady_core::book::{BookEntry, ImportError, Instrument, csv, read_export};
use hold_steady_core::cook::Stage;
use hold_steady_core::food::{Basis, FoodClass};
use hold_steady_core::safety::Level;
use hold_steady_core::units::Units;
use jiff::tz::TimeZone;

const V1: &str = include_str!("golden/export-v1.json");
const V2: &str = include_str!("golden/export-v2.json");

#[test]
fn version_1_is_read_whole() {
    let export = read_export(V1).expect("written by us");
    assert_eq!((export.version, export.cooks.len()), (1, 2));
    let eaten = &export.cooks[0];
    assert_eq!(eaten.state().stage(), Stage::Eaten);
    let record = eaten.plan_record().expect("a plan");
    let plan = record.plan().expect("stored whole");
    assert_eq!(plan.engine, record.engine, "the stored answer, not a new one");
    assert_eq!(plan.verdict.level.id(), record.result["verdict"]["level"].as_str().expect("a word"));
    let entry = BookEntry::of(eaten, Units::default()).expect("simulates").expect("eaten");
    assert!(entry.rating.is_some() && entry.bath_min_done().is_some_and(|m| m > 30.0));
    let running = &export.cooks[1];
    assert_eq!(running.state().stage(), Stage::InBath);
    assert!(running.readings.iter().any(|r| r.instrument == Instrument::Probe && r.celsius == 41.25));
    assert_eq!(BookEntry::of(running, Units::default()), Ok(None));
}

#[test]
fn version_2_is_read_with_what_the_kitchen_keeps_of_its_own() {
    let export = read_export(V2).expect("written by us");
    assert_eq!((export.version, export.cooks.len()), (2, 2));
    let pantry = &export.kitchen.pantry;
    assert_eq!(pantry.dialled.get("beef-strip"), Some(&56.5));
    let own = pantry.foods[0].food().expect("computes");
    assert_eq!((own.class, own.composition.basis), (FoodClass::Poultry, Basis::Kitchen));
    // The plan holds its own copy: it is planned the same when the pantry has lost the food.
    let record = export.cooks[0].plan_record().expect("a plan");
    assert_eq!(record.request.food().name, "Brined house breast");
    assert_eq!(record.plan().expect("stored whole").verdict.level, Level::Pasteurized);
    let egg = export.cooks[1].plan_record().expect("a plan");
    assert_eq!(egg.request.food().class, FoodClass::ShellEgg);
}

#[test]
fn a_food_of_the_kitchen_s_own_is_checked_before_it_is_taken() {
    let edit = |pointer: &str, value: serde_json::Value| {
        let mut v: serde_json::Value = serde_json::from_str(V2).expect("JSON");
        *v.pointer_mut(&format!("/kitchen/pantry{pointer}")).expect("there") = value;
        read_export(&v.to_string())
    };
    for (pointer, value) in [
        ("/foods/0/base", "nectar".into()),
        ("/foods/0/id", "chicken-breast".into()),
        ("/foods/0/name", "Chicken breast".into()),
        ("/foods/0/thickness_mm", 4000.into()),
        ("/foods/0/composition/water", 7.2.into()),
        ("/foods/0/levels", serde_json::json!([])),
        ("/foods/0/windows/0/until_min", serde_json::json!(-1)),
    ] {
        let read = edit(pointer, value);
        assert!(matches!(read, Err(ImportError::OwnFood { .. })), "{pointer}: {read:?}");
    }
    let unknown = edit("/foods/0/composition", serde_json::json!({"water": 1, "gold": 0}));
    assert!(matches!(unknown, Err(ImportError::Unreadable { .. })), "{unknown:?}");
    // The copy in a plan is no way round the check either.
    let mut v: serde_json::Value = serde_json::from_str(V2).expect("JSON");
    let own = v.pointer_mut("/cooks/0/pieces/0/plans/0/request/own/base").expect("the plan's own copy");
    *own = "beef-strip".into();
    assert!(read_export(&v.to_string()).is_ok(), "another base is another food, and sound");
    *v.pointer_mut("/cooks/0/pieces/0/plans/0/request/own/base").expect("there") = "nectar".into();
    assert!(read_export(&v.to_string()).is_err());
}

#[test]
fn what_is_read_is_written_the_same() {
    for text in [V1, V2] {
        let export = read_export(text).expect("written by us");
        let again = serde_json::to_value(&export).expect("plain data");
        let before: serde_json::Value = serde_json::from_str(text).expect("JSON");
        assert_eq!(again, before);
    }
}

#[test]
fn a_result_of_an_unknown_shape_is_computed_anew() {
    let mut export = read_export(V1).expect("written by us");
    let record = &mut export.cooks[0].pieces[0].plans[0];
    let stored = record.plan().expect("stored whole");
    record.result = serde_json::json!({"written by": "an engine to come"});
    let anew = record.plan().expect("computed");
    assert_eq!(anew.times.serve, stored.times.serve);
    assert_ne!(anew.verdict.level, Level::Refused);
}

#[test]
fn contradictions_are_found_by_cook() {
    let edit = |f: &dyn Fn(&mut serde_json::Value)| {
        let mut v: serde_json::Value = serde_json::from_str(V1).expect("JSON");
        f(&mut v);
        read_export(&v.to_string())
    };
    let twice = edit(&|v| v["cooks"][1]["id"] = v["cooks"][0]["id"].clone());
    assert!(matches!(twice, Err(ImportError::Inconsistent { .. })), "{twice:?}");
    let pieceless = edit(&|v| v["cooks"][0]["pieces"] = serde_json::json!([]));
    assert!(matches!(pieceless, Err(ImportError::Inconsistent { .. })));
    let absurd = edit(&|v| v["cooks"][0]["pieces"][0]["plans"][0]["request"]["thickness_mm"] = 1e9.into());
    assert!(matches!(absurd, Err(ImportError::Inconsistent { .. })));
    let odd = edit(&|v| v["cooks"][0]["events"][0]["kind"] = "exploded".into());
    assert!(matches!(odd, Err(ImportError::Unreadable { .. })), "{odd:?}");
    let hot = edit(&|v| v["cooks"][0]["readings"][0]["celsius"] = 4000.into());
    assert!(matches!(hot, Err(ImportError::Inconsistent { .. })));
}

#[test]
fn the_table_has_one_row_an_entry() {
    let export = read_export(V1).expect("written by us");
    let entries: Vec<BookEntry> =
        export.cooks.iter().filter_map(|c| BookEntry::of(c, Units::default()).expect("simulates")).collect();
    let text = csv(&entries, &TimeZone::UTC).expect("in memory");
    assert_eq!(text.lines().count(), 2);
}
