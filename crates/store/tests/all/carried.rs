//! Databases of every version before are carried on; what cannot be is named and left alone.

use std::io::Cursor;

use crate::common::run;
use hold_steady_core::cook::EventKind;
use hold_steady_core::plan::KitchenRules;
use hold_steady_core::who::By;
use hold_steady_store::{CookPhase, Search, Store, StoreError};

use crate::kitchens::*;

/// The schema as version 0.1.0 left it, without the tables that came later, and what it exported.
const FIRST_SCHEMA: &str = include_str!("../../migrations/0001_first.sql");
const FIRST_EXPORT: &str = include_str!("../../../core/tests/golden/export-v1.json");

#[test]
fn a_truncated_database_is_found_out() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        for _ in 0..4 {
            a_finished_cook(&store, &kitchen).await;
        }
        drop(store);
        drop(alone(&place));
        let whole = std::fs::read(&place.file).expect("readable");
        let half = &whole[..whole.len() / 2];
        std::fs::write(&place.file, half).expect("written");
        let refused = Store::open(&place.file).await.err().expect("refused");
        assert!(matches!(refused, StoreError::Corrupt { .. }), "{refused:?}");
        assert_eq!(std::fs::read(&place.file).expect("readable"), half);
    });
}

#[test]
fn a_locked_or_newer_database_is_named() {
    run(async {
        let place = place();
        drop(open(&place).await);
        let c = alone(&place);
        c.execute_batch("BEGIN EXCLUSIVE").expect("locked");
        let refused = Store::open(&place.file).await.err().expect("refused");
        assert!(matches!(refused, StoreError::Locked(_)), "{refused:?}");
        c.execute_batch("COMMIT; PRAGMA user_version = 99").expect("unlocked");
        drop(c);
        let refused = Store::open(&place.file).await.err().expect("refused");
        assert!(matches!(refused, StoreError::TooNew(_)), "{refused:?}");
    });
}

#[test]
fn every_database_that_was_ever_written_is_carried_on() {
    // A regression check against our own files: `golden/schema-2.db` was written by version 0.1.0 on 25 November
    // 2026, `schema-3.db` by the first that marked imports, `schema-4.db` by the
    // first with bags and baths, `schema-5.db` by the first with people, `schema-6.db` by the first
    // whose book is looked through. They are never changed.
    for (name, bytes) in [
        ("schema-2.db", &include_bytes!("../golden/schema-2.db")[..]),
        ("schema-3.db", &include_bytes!("../golden/schema-3.db")[..]),
        ("schema-4.db", &include_bytes!("../golden/schema-4.db")[..]),
        ("schema-5.db", &include_bytes!("../golden/schema-5.db")[..]),
        ("schema-6.db", &include_bytes!("../golden/schema-6.db")[..]),
    ] {
        let place = place();
        std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
        std::fs::write(&place.file, bytes).expect("written");
        run(async {
            let store = Store::open(&place.file).await.expect("opens");
            let kitchen = store.kitchen(t(300), None, None).await.expect("there");
            let store = here(&store, &kitchen, "test");
            assert_eq!(
                (kitchen.name.as_str(), kitchen.rules.altitude_m),
                ("Harbour galley", 300.0),
                "{name}"
            );
            let export = exported(&store, &kitchen, t(300)).await;
            assert!(export.cooks.iter().all(|c| c.baths[0].settings.len() == 1), "{name}");
            let kinds: Vec<Vec<&str>> =
                export.cooks.iter().map(|c| c.events.iter().map(|e| e.event.kind.id()).collect()).collect();
            assert_eq!(
                kinds,
                [
                    vec!["started", "dropped", "floated", "pulled", "seared", "eaten", "rated"],
                    vec!["started", "dropped"]
                ],
                "{name}"
            );
            assert_eq!(export.kitchen.removed.presets.len(), 1, "what was removed is exported too");
            // It is looked through, whichever version wrote it.
            let search = |text: &str| Search { text: text.into(), ..Search::default() };
            let found = store.finished(search("strip"), (0, 9)).await.expect("reads");
            assert_eq!((found.all, found.cooks[0].id), (1, export.cooks[0].id), "{name}");
            assert_eq!(store.finished(search("str_p"), (0, 9)).await.expect("reads").all, 0, "{name}");
            let last = store.last_of("beef-strip".into()).await.expect("reads");
            assert_eq!(last.map(|c| c.id), Some(export.cooks[0].id), "{name}");
            tap(&store, export.cooks[1].id, 310, EventKind::Pulled).await.expect("and it goes on");
            let (under_way, all, unreadable) =
                store.cooks_that(CookPhase::UnderWay, (0, 9)).await.expect("reads");
            assert_eq!((under_way.len(), all, unreadable.len()), (1, 1, 0), "{name}");
        });
    }
}

/// A database as version 0.1.0 wrote it, with the records of its export.
fn first_database(place: &Place) {
    std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
    let c = rusqlite::Connection::open(&place.file).expect("a database");
    c.execute_batch(FIRST_SCHEMA).expect("the first schema");
    let export: serde_json::Value = serde_json::from_str(FIRST_EXPORT).expect("JSON");
    let text = |v: &serde_json::Value| v.as_str().map_or_else(|| v.to_string(), str::to_owned);
    let some = |v: &serde_json::Value| v.as_str().map(str::to_owned);
    let k = "019ac000-0000-7000-8000-00000000000f";
    c.execute(
        "INSERT INTO kitchen VALUES (?1, 'Test kitchen', 'Europe/Vienna', ?2, '2026-11-01T10:00:00Z')",
        (k, serde_json::to_string(&KitchenRules::default()).expect("plain")),
    )
    .expect("a kitchen");
    for cook in export["cooks"].as_array().expect("a list") {
        let id = text(&cook["id"]);
        c.execute(
            "INSERT INTO cook VALUES (?1, ?2, ?3, ?4)",
            (&id, k, text(&cook["title"]), text(&cook["created_at"])),
        )
        .expect("a cook");
        for piece in cook["pieces"].as_array().expect("a list") {
            let p = text(&piece["id"]);
            c.execute(
                "INSERT INTO piece VALUES (?1, ?2, ?3, 0, ?4)",
                (&p, k, &id, text(&piece["created_at"])),
            )
            .expect("a piece");
            for plan in piece["plans"].as_array().expect("a list") {
                let [pid, at, engine, data, typed, request, result] =
                    ["id", "created_at", "engine", "data", "typed", "request", "result"]
                        .map(|f| text(&plan[f]));
                c.execute("INSERT INTO plan (id, kitchen_id, piece_id, created_at, engine, data, typed, request, result) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9)",
                    (pid, k, &p, at, engine, data, typed, request, result)).expect("a plan");
            }
        }
        for event in cook["events"].as_array().expect("a list") {
            let mut body = event.clone();
            for outside in ["id", "piece", "happened_at", "recorded_at", "by"] {
                body.as_object_mut().expect("fields").remove(outside);
            }
            let [eid, happened, recorded, by] =
                ["id", "happened_at", "recorded_at", "by"].map(|f| text(&event[f]));
            c.execute("INSERT INTO event (id, kitchen_id, cook_id, piece_id, happened_at, recorded_at, recorded_by, body) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
                (eid, k, &id, some(&event["piece"]), happened, recorded, by, body.to_string())).expect("an event");
        }
        for r in cook["readings"].as_array().expect("a list") {
            let [rid, instrument, origin, at] = ["id", "instrument", "origin", "at"].map(|f| text(&r[f]));
            c.execute("INSERT INTO reading (id, kitchen_id, cook_id, piece_id, instrument, origin, at, celsius) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
                (rid, k, &id, some(&r["piece"]), instrument, origin, at, r["celsius"].as_f64())).expect("a reading");
        }
    }
    c.execute_batch("PRAGMA user_version = 1").expect("as it was");
}

#[test]
fn a_database_of_the_first_version_is_carried_on_and_meets_its_own_export() {
    let (old, new) = (place(), place());
    first_database(&old);
    run(async {
        let (store, kitchen) = open(&old).await;
        let carried = exported(&store, &kitchen, t(60_000)).await.cooks;
        // The same cooks, brought in from the file of that time: the same records, by the same identifiers.
        let (other, theirs) = open(&new).await;
        let done = other.import(Cursor::new(FIRST_EXPORT), t(60_000)).await.expect("taken");
        assert_eq!(done.left_out, []);
        let brought = exported(&other, &theirs, t(60_000)).await.cooks;
        // But for the answers of those under way, which are not believed of a file.
        let mut believed = carried.clone();
        for (cook, theirs) in believed.iter_mut().zip(&brought).filter(|(c, _)| c.state().ended().is_none()) {
            let plans = &mut cook.piece.plans;
            for (plan, theirs) in plans.iter_mut().zip(&theirs.piece.plans) {
                plan.engine.clone_from(&theirs.engine);
                plan.data.clone_from(&theirs.data);
                plan.result.clone_from(&theirs.result);
            }
        }
        assert_eq!(believed, brought);
        assert_eq!(carried.len(), 2);
        // And the one brought into the other changes nothing.
        let done = store.import(Cursor::new(FIRST_EXPORT), t(60_001)).await.expect("taken");
        assert_eq!((done.cooks_added, done.cooks_extended, done.cooks_unchanged), (0, 0, 2), "{done:?}");
        store.keep_food(own("own-a", "House chop"), t(0)).await.expect("the new table is there");
    });
}

#[test]
fn who_it_was_is_carried_on_as_a_person() {
    // `golden/schema-11.db` was written by the last program that knew people by their names, by one called “cook”.
    let place = place();
    std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
    std::fs::write(&place.file, include_bytes!("../golden/schema-11.db")).expect("written");
    run(async {
        let store = Store::open(&place.file).await.expect("opens");
        let kitchen = store.kitchen(t(300), None, None).await.expect("there");
        let store = here(&store, &kitchen, "test");
        let person = store.people().await.expect("reads")[0].clone();
        assert_eq!(person.name, "cook");
        let cook = exported(&store, &kitchen, t(9_000)).await.cooks.remove(0);
        let by: Vec<_> = cook.events.iter().map(|e| &e.event.by).collect();
        assert_eq!(by.len(), 3);
        assert!(by.iter().all(|by| **by == By::person(person.id, "cook") && by.is_somebody()), "{by:?}");
        assert_eq!(store.devices().await.expect("reads")[0].created_by, By::person(person.id, "cook"));
        // Settled before anybody was known.
        let history = exported(&store, &kitchen, t(9_000)).await.kitchen.history;
        assert!(history.iter().any(|c| c.by == "command line".into() && !c.by.is_somebody()));
    });
}
