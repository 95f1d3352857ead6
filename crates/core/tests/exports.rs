//! Every version of the export that was ever written is read for ever. A regression check against our
//! own earlier output: `golden/export-v1.json` was written by version 0.1.0 and is never changed.

use hold_steady_core::book::{BookEntry, ImportError, Instrument, csv, read_export};
use hold_steady_core::cook::Stage;
use hold_steady_core::safety::Level;
use hold_steady_core::units::Units;
use jiff::tz::TimeZone;

const V1: &str = include_str!("golden/export-v1.json");

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
fn what_is_read_is_written_the_same() {
    let export = read_export(V1).expect("written by us");
    let again = serde_json::to_value(&export).expect("plain data");
    let before: serde_json::Value = serde_json::from_str(V1).expect("JSON");
    assert_eq!(again, before);
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
