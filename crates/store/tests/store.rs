//! The store against a real database file.

use std::path::PathBuf;

use hold_steady_core::book::{Export, Incoming, read_export};
use hold_steady_core::cook::{Event, EventKind, Rating, Refusal};
use hold_steady_core::food::{OwnFood, OwnForm, Pantry, Preset, catalogue};
use hold_steady_core::plan::{PlanForm, Setting, plan};
use hold_steady_core::units::Units;
use hold_steady_store::{Imported, Kitchen, NewCook, Standing, Store, StoreError, new_id};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

fn run<T>(work: impl Future<Output = T>) -> T {
    tokio::runtime::Builder::new_current_thread().enable_all().build().expect("a runtime").block_on(work)
}

fn t(min: i64) -> Timestamp {
    let base: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    base.checked_add(SignedDuration::from_mins(min)).expect("in range")
}

struct Place {
    _folder: tempfile::TempDir,
    file: PathBuf,
}

fn place() -> Place {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("kitchen").join("hold-steady.db");
    Place { _folder: folder, file }
}

async fn open(place: &Place) -> (Store, Kitchen) {
    let store = Store::open(&place.file).await.expect("opens");
    let kitchen = store.kitchen(t(0), Some("Test kitchen".into()), None).await.expect("a kitchen");
    (store, kitchen)
}

/// A connection of our own once the pool's are gone: they close in the background after the store is
/// dropped, and only the last one may leave WAL mode. Leaves the file whole, without a WAL beside it.
fn alone(place: &Place) -> rusqlite::Connection {
    let c = rusqlite::Connection::open(&place.file).expect("a database");
    let until = std::time::Instant::now() + std::time::Duration::from_secs(30);
    while let Err(e) = c.execute_batch("PRAGMA journal_mode = DELETE") {
        assert!(std::time::Instant::now() < until, "the pool never lets go: {e}");
        std::thread::yield_now();
    }
    c
}

async fn a_cook(store: &Store, kitchen: &Kitchen) -> Uuid {
    let typed = PlanForm { intact: "whole".into(), thickness: "1 1/4 in".into(), ..PlanForm::default() };
    let reading = typed.read(&Setting::new(Units::default(), t(0), &kitchen.zone, &kitchen.rules));
    let request = reading.request.expect("complete");
    let plan = plan(&request, t(0), Units::default()).expect("simulates");
    let new = NewCook { id: new_id(t(0)), title: "A steak".into(), typed: reading.form, request, plan };
    store.start_cook(kitchen.id, new, t(0)).await.expect("starts")
}

fn event(min: i64, kind: EventKind) -> Event {
    Event { id: new_id(t(min)), happened_at: t(min), recorded_at: t(min), by: "test".into(), kind }
}

async fn tap(store: &Store, cook: Uuid, min: i64, kind: EventKind) -> Result<(), Refusal> {
    let e = event(min, kind);
    let candidate = e.clone();
    store
        .add_event(cook, e, move |c| c.state().apply(&candidate).map(|_| ()))
        .await
        .expect("the database works")
}

async fn a_finished_cook(store: &Store, kitchen: &Kitchen) -> Uuid {
    let cook = a_cook(store, kitchen).await;
    for (min, kind) in [
        (40, EventKind::Dropped),
        (170, EventKind::Pulled),
        (180, EventKind::Seared { faces_s: vec![45.0, 50.0] }),
        (185, EventKind::Eaten),
        (
            240,
            EventKind::Rated(Rating {
                crust: Some(4),
                note: "“fine”,\nwith a comma".into(),
                ..Rating::default()
            }),
        ),
    ] {
        tap(store, cook, min, kind).await.expect("in order");
    }
    cook
}

#[test]
fn what_is_written_is_there_after_opening_again() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let cook = a_finished_cook(&store, &kitchen).await;
        let before = store.cook(cook).await.expect("there");
        drop(store);
        let (store, kitchen) = open(&place).await;
        assert_eq!(kitchen.name, "Test kitchen");
        let after = store.cook(cook).await.expect("still there");
        assert_eq!(after, before);
        assert_eq!(after.events.len(), 6);
        assert_eq!(after.readings.len(), 1);
        let record = after.plan_record().expect("a plan");
        assert_eq!(record.typed.thickness, "1 1/4 in");
        assert_eq!(record.request.thickness_mm, 31.75);
        assert!(record.engine.contains("engine 3"));
    });
}

#[test]
fn starting_the_same_cook_twice_starts_one() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let typed = PlanForm::default();
        let reading = typed.read(&Setting::new(Units::default(), t(0), &kitchen.zone, &kitchen.rules));
        let request = reading.request.expect("complete");
        let plan = plan(&request, t(0), Units::default()).expect("simulates");
        let new = NewCook { id: new_id(t(0)), title: "Once".into(), typed, request, plan };
        store.start_cook(kitchen.id, new.clone(), t(0)).await.expect("starts");
        store.start_cook(kitchen.id, new, t(1)).await.expect("is there already");
        let cooks = store.cooks(kitchen.id).await.expect("a list");
        assert_eq!((cooks.len(), cooks[0].events.len()), (1, 1));
    });
}

#[test]
fn events_cannot_be_changed_or_removed_even_by_hand() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        a_finished_cook(&store, &kitchen).await;
        drop(store);
        let c = rusqlite::Connection::open(&place.file).expect("a database");
        for sql in [
            "UPDATE event SET happened_at = '2020-01-01T00:00:00Z'",
            "DELETE FROM event",
            "DELETE FROM plan",
            "UPDATE plan SET result = '{}'",
        ] {
            let refused = c.execute(sql, []).expect_err(sql);
            assert!(
                refused.to_string().contains("append-only") || refused.to_string().contains("snapshots"),
                "{refused}"
            );
        }
        assert_eq!(c.query_row("PRAGMA journal_mode", [], |r| r.get::<_, String>(0)).as_deref(), Ok("wal"));
    });
}

#[test]
fn two_taps_at_once_cannot_both_pass() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let cook = a_cook(&store, &kitchen).await;
        let taps = (0..6).map(|_| tap(&store, cook, 40, EventKind::Dropped));
        let done = futures_util::future::join_all(taps).await;
        assert_eq!(done.iter().filter(|d| d.is_ok()).count(), 1, "{done:?}");
    });
}

/// An export as it is read from its file.
fn incoming(export: &Export) -> Incoming {
    read_export(&serde_json::to_string(export).expect("plain data"), t(500)).expect("its own export")
}

fn without_time(mut export: Export) -> Export {
    export.exported_at = t(0);
    export
}

#[test]
fn an_export_gives_the_same_book_in_an_empty_kitchen_and_twice_changes_nothing() {
    run(async {
        let (from, to) = (place(), place());
        let (store, kitchen) = open(&from).await;
        let finished = a_finished_cook(&store, &kitchen).await;
        let unfinished = a_cook(&store, &kitchen).await;
        let first = store.export(&kitchen, t(300)).await.expect("exports");
        let text = serde_json::to_string(&first).expect("plain data");
        let (other, its_kitchen) = open(&to).await;
        let read = || read_export(&text, t(500)).expect("its own export");
        let done = other.import(&its_kitchen, read(), "test", t(500)).await.expect("imports");
        assert_eq!(done, Imported { cooks_added: 2, ..Imported::default() });
        let second = other.export(&its_kitchen, t(400)).await.expect("exports");
        assert_eq!(without_time(second), without_time(first));
        let done = other.import(&its_kitchen, read(), "test", t(501)).await.expect("imports again");
        assert_eq!(done, Imported { cooks_unchanged: 2, ..Imported::default() });
        // To what is under way, nothing is added; what ended gets what was written about it since.
        tap(&store, unfinished, 310, EventKind::Dropped).await.expect("in order");
        let rating = Rating { crust: Some(2), ..Rating::default() };
        tap(&store, finished, 311, EventKind::Rated(rating)).await.expect("in order");
        let later = store.export(&kitchen, t(320)).await.expect("exports");
        let done = other.import(&its_kitchen, incoming(&later), "Ida", t(502)).await.expect("imports");
        assert_eq!((done.cooks_unchanged, done.cooks_extended, done.left_out.len()), (0, 1, 1), "{done:?}");
        assert_eq!(done.left_out[0].what, format!("cook {unfinished}"));
        assert!(done.left_out[0].reason.contains("under way"), "{done:?}");
        assert!(other.cook(unfinished).await.expect("there").state().standing.len() == 1);
        // And what came says where from.
        let origins = other.origins(finished).await.expect("there");
        assert_eq!(origins.len(), 7, "six with the first file, one with the second");
        assert!(origins.values().any(|o| o.by == "Ida" && o.at == t(502) && o.sha256.len() == 64));
        assert!(
            store.origins(finished).await.expect("there").is_empty(),
            "what was tapped here came from nowhere"
        );
    });
}

#[test]
fn a_damaged_or_foreign_file_is_named_and_left_alone() {
    run(async {
        for content in [b"this is a shopping list, not a database ...".to_vec(), vec![0; 8192]] {
            let place = place();
            std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
            std::fs::write(&place.file, &content).expect("written");
            let refused = Store::open(&place.file).await.err().expect("refused");
            assert!(matches!(refused, StoreError::Corrupt { .. }), "{refused:?}");
            assert!(refused.to_string().contains("restore a copy"));
            assert_eq!(std::fs::read(&place.file).expect("readable"), content);
        }
    });
}

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
fn a_cook_that_is_not_there_is_said_to_be_so() {
    run(async {
        let place = place();
        let (store, _) = open(&place).await;
        assert!(matches!(store.cook(new_id(t(0))).await, Err(StoreError::NotFound)));
    });
}

#[test]
fn identifiers_rise_within_a_millisecond() {
    let ids: Vec<Uuid> = (0..1000).map(|_| new_id(t(0))).collect();
    assert!(ids.windows(2).all(|w| w[0] < w[1]));
    assert_eq!(ids[0].get_version_num(), 7);
}

fn own(id: &str, name: &str) -> OwnFood {
    let base = catalogue().food("pork-chop").expect("in the catalogue");
    let form = OwnForm { name: name.into(), ..OwnForm::of(base, Units::default()) };
    form.read(id, base, Units::default()).expect("sound")
}

#[test]
fn a_kitchen_keeps_changes_and_removes_foods_of_its_own() {
    let place = place();
    run(async {
        let (store, kitchen) = open(&place).await;
        assert!(store.pantry(kitchen.id).await.expect("reads").is_empty());
        store.keep_food(kitchen.id, own("own-a", "House chop"), t(0)).await.expect("kept");
        store.keep_food(kitchen.id, own("own-b", "Other chop"), t(1)).await.expect("kept");
        // Sent twice, it is one food; sent changed, it is changed and keeps its place.
        store.keep_food(kitchen.id, own("own-a", "House chop"), t(2)).await.expect("kept");
        store.keep_food(kitchen.id, own("own-a", "House chop, thicker"), t(3)).await.expect("kept");
        store.dial(kitchen.id, "own-a".into(), Some(57.0), t(4)).await.expect("kept");
        store.dial(kitchen.id, "own-a".into(), Some(58.0), t(5)).await.expect("kept");
        drop(store);
        let (store, kitchen) = open(&place).await;
        let pantry = store.pantry(kitchen.id).await.expect("reads");
        let names: Vec<&str> = pantry.foods.iter().map(|f| f.name.as_str()).collect();
        assert_eq!(names, ["House chop, thicker", "Other chop"]);
        assert_eq!(pantry.dialled.get("own-a"), Some(&58.0));
        let gone = store.remove_food(kitchen.id, "own-a".into(), true, t(6)).await.expect("there");
        assert_eq!(gone.name, "House chop, thicker");
        assert_eq!(store.pantry(kitchen.id).await.expect("reads").foods.len(), 1);
        store.remove_food(kitchen.id, "own-a".into(), false, t(7)).await.expect("put back");
        assert_eq!(store.pantry(kitchen.id).await.expect("reads"), pantry);
        store.dial(kitchen.id, "own-a".into(), None, t(8)).await.expect("forgotten");
        assert!(store.pantry(kitchen.id).await.expect("reads").dialled.is_empty());
        let missing = store.remove_food(kitchen.id, "own-z".into(), true, t(9)).await;
        assert!(matches!(missing, Err(StoreError::NotFound)), "{missing:?}");
    });
}

#[test]
fn the_pantry_travels_with_the_book_and_what_is_here_stays() {
    let (here, there) = (place(), place());
    run(async {
        let (store, kitchen) = open(&here).await;
        store.keep_food(kitchen.id, own("own-a", "House chop"), t(0)).await.expect("kept");
        store.dial(kitchen.id, "pork-chop".into(), Some(60.0), t(0)).await.expect("kept");
        let export = store.export(&kitchen, t(1)).await.expect("written");
        let (other, their) = open(&there).await;
        other.dial(their.id, "pork-chop".into(), Some(62.0), t(0)).await.expect("kept");
        let done = other.import(&their, incoming(&export), "test", t(2)).await.expect("taken");
        assert_eq!(done.pantry_added, 1, "the food; their own temperature stays");
        let pantry = other.pantry(their.id).await.expect("reads");
        assert_eq!((pantry.foods.len(), pantry.dialled.get("pork-chop")), (1, Some(&62.0)));
        let again = other.import(&their, incoming(&export), "test", t(3)).await.expect("taken");
        assert_eq!(again, Imported::default());
    });
}

/// The schema as version 0.1.0 left it, without the tables that came later.
const FIRST_SCHEMA: &str = include_str!("../migrations/0001_first.sql");

#[test]
fn every_database_that_was_ever_written_is_carried_on() {
    // A regression check against our own files: `golden/schema-2.db` was written by version 0.1.0 on 25 November
    // 2026, `schema-3.db` by the first that marked imports. They are never changed.
    for (name, bytes) in [
        ("schema-2.db", &include_bytes!("golden/schema-2.db")[..]),
        ("schema-3.db", &include_bytes!("golden/schema-3.db")[..]),
    ] {
        let place = place();
        std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
        std::fs::write(&place.file, bytes).expect("written");
        run(async {
            let store = Store::open(&place.file).await.expect("opens");
            let kitchen = store.kitchen(t(300), None, None).await.expect("there");
            assert_eq!(
                (kitchen.name.as_str(), kitchen.rules.altitude_m),
                ("Harbour galley", 300.0),
                "{name}"
            );
            let export = store.export(&kitchen, t(300)).await.expect("written");
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
            tap(&store, export.cooks[1].id, 310, EventKind::Pulled).await.expect("and it goes on");
            let (under_way, all, unreadable) =
                store.cooks_that(kitchen.id, Standing::UnderWay, (0, 9)).await.expect("reads");
            assert_eq!((under_way.len(), all, unreadable.len()), (1, 1, 0), "{name}");
        });
    }
}

#[test]
fn a_database_of_the_first_version_is_carried_on() {
    let (old, place) = (place(), place());
    run(async {
        // A cook written today, put back into a file of the first version.
        let (store, kitchen) = open(&old).await;
        let cook = a_finished_cook(&store, &kitchen).await;
        let export = store.export(&kitchen, t(600)).await.expect("written");
        drop(store);
        drop(alone(&old));
        std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
        let c = rusqlite::Connection::open(&place.file).expect("a database");
        c.execute_batch(FIRST_SCHEMA).expect("the first schema");
        c.execute("ATTACH ?1 AS now", [old.file.to_str().expect("text")]).expect("attached");
        let tables: Vec<String> = {
            let mut q =
                c.prepare("SELECT name FROM main.sqlite_schema WHERE type = 'table'").expect("schema");
            q.query_map([], |r| r.get(0)).expect("names").collect::<Result<_, _>>().expect("text")
        };
        c.execute_batch("PRAGMA foreign_keys = OFF").expect("off");
        for table in &tables {
            let columns: String = c
                .query_row("SELECT group_concat(name) FROM pragma_table_info(?1, 'main')", [table], |r| {
                    r.get(0)
                })
                .expect("its columns");
            let copy = format!("INSERT INTO main.{table} ({columns}) SELECT {columns} FROM now.{table}");
            c.execute_batch(&copy).expect("copied");
        }
        c.execute_batch("DETACH now; PRAGMA user_version = 1").expect("as it was");
        drop(c);
        let (store, kitchen) = open(&place).await;
        assert_eq!(store.cook(cook).await.expect("still there").events.len(), 6);
        assert_eq!(store.export(&kitchen, t(600)).await.expect("written").cooks, export.cooks);
        store.keep_food(kitchen.id, own("own-a", "House chop"), t(0)).await.expect("the new table is there");
    });
}

#[test]
fn presets_and_salted_batches_are_kept_once_and_travel() {
    let (here, there) = (place(), place());
    run(async {
        let (store, kitchen) = open(&here).await;
        let typed = PlanForm { thickness: "40 mm".into(), intact: "whole".into(), ..PlanForm::default() };
        let preset = Preset::of(new_id(t(0)), "Friday", &typed);
        for _ in 0..2 {
            store.keep_preset(kitchen.id, preset.clone(), t(0)).await.expect("kept");
            store.remember_salted(kitchen.id, "Chops 12 Nov".into(), t(0)).await.expect("remembered");
        }
        drop(store);
        let (store, kitchen) = open(&here).await;
        let pantry = store.pantry(kitchen.id).await.expect("reads");
        assert_eq!(
            (pantry.presets.as_slice(), pantry.salted.as_slice()),
            (&[preset.clone()][..], &["chops 12 nov".to_owned()][..])
        );
        store.remove_preset(kitchen.id, preset.id, true, t(1)).await.expect("there");
        assert!(store.pantry(kitchen.id).await.expect("reads").presets.is_empty());
        store.remove_preset(kitchen.id, preset.id, false, t(2)).await.expect("put back");
        assert!(matches!(
            store.remove_preset(kitchen.id, new_id(t(3)), true, t(3)).await,
            Err(StoreError::NotFound)
        ));
        let export = store.export(&kitchen, t(4)).await.expect("written");
        let text = serde_json::to_string(&export).expect("plain data");
        let (other, their) = open(&there).await;
        let done = other
            .import(&their, read_export(&text, t(5)).expect("reads"), "test", t(5))
            .await
            .expect("taken");
        assert_eq!(done.pantry_added, 2);
        assert_eq!(other.pantry(their.id).await.expect("reads"), pantry);
        let known = Pantry { presets: vec![preset], ..Pantry::default() };
        assert_eq!(other.add_to_pantry(their.id, known, t(5)).await.expect("known"), 0);
    });
}
