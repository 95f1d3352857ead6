//! Kitchens to write into: a database file of its own, somebody in it, a cook, an export.

use std::io::Cursor;
use std::path::PathBuf;

use hold_steady_core::book::{CookRecord, Export, read_export};
use hold_steady_core::cook::{EventKind, Rating, Refusal};
use hold_steady_core::food::{OwnFood, OwnForm, catalogue};
use hold_steady_core::plan::{PlanForm, Reading, Setting, plan};
use hold_steady_core::units::Units;
use hold_steady_store::{Actor, InKitchen, Kitchen, NewCook, NewEvent, Role, Store, new_id};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

pub(crate) fn t(min: i64) -> Timestamp {
    let base: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    base.checked_add(SignedDuration::from_mins(min)).expect("in range")
}

pub(crate) struct Place {
    _folder: tempfile::TempDir,
    pub(crate) file: PathBuf,
}

pub(crate) fn place() -> Place {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("kitchen").join("hold-steady.db");
    Place { _folder: folder, file }
}

pub(crate) async fn open(place: &Place) -> (InKitchen, Kitchen) {
    let store = Store::open(&place.file).await.expect("opens");
    let kitchen = store.kitchen(t(0), Some("Test kitchen".into()), None).await.expect("a kitchen");
    (here(&store, &kitchen, "test"), kitchen)
}

/// Somebody in a kitchen.
pub(crate) fn here(store: &Store, kitchen: &Kitchen, person: &str) -> InKitchen {
    store.in_kitchen(Actor { kitchen: kitchen.id, by: person.into(), role: Role::Cook })
}

/// A connection of our own once the pool's are gone: they close in the background after the store is
/// dropped, and only the last one may leave WAL mode. Leaves the file whole, without a WAL beside it.
pub(crate) fn alone(place: &Place) -> rusqlite::Connection {
    let c = rusqlite::Connection::open(&place.file).expect("a database");
    let until = std::time::Instant::now() + std::time::Duration::from_secs(30);
    while let Err(e) = c.execute_batch("PRAGMA journal_mode = DELETE") {
        assert!(std::time::Instant::now() < until, "the pool never lets go: {e}");
        std::thread::yield_now();
    }
    c
}

/// A cook as it is begun from what was read.
pub(crate) fn new_cook(title: &str, reading: Reading) -> NewCook {
    let request = reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors));
    let plan = plan(&request, t(0)).expect("simulates");
    NewCook {
        id: new_id(t(0)),
        title: title.into(),
        typed: reading.form,
        request,
        plan,
        together: None,
        letter: String::new(),
    }
}

pub(crate) async fn a_cook(store: &InKitchen, kitchen: &Kitchen) -> Uuid {
    let typed = PlanForm { intact: "whole".into(), thickness: "1 1/4 in".into(), ..PlanForm::default() };
    let reading = typed.read(&Setting::new(Units::default(), t(0), &kitchen.zone, &kitchen.rules));
    store.start_cook(new_cook("A steak", reading), t(0)).await.expect("starts")
}

pub(crate) fn event(min: i64, kind: EventKind) -> NewEvent {
    NewEvent { id: new_id(t(min)), happened_at: t(min), kind }
}

pub(crate) async fn tap(store: &InKitchen, cook: Uuid, min: i64, kind: EventKind) -> Result<(), Refusal> {
    store.add_event(cook, event(min, kind), t(min), CookRecord::with).await.expect("the database works")
}

pub(crate) async fn a_finished_cook(store: &InKitchen, kitchen: &Kitchen) -> Uuid {
    let cook = a_cook(store, kitchen).await;
    for (min, kind) in [
        (40, EventKind::Dropped),
        (170, EventKind::Pulled),
        (180, EventKind::Seared { faces_s: vec![45.0, 50.0], covered: None }),
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

/// What a kitchen writes of itself, read back as it stands.
pub(crate) async fn exported(store: &InKitchen, kitchen: &Kitchen, now: Timestamp) -> Export {
    read_export(&export_text(store, kitchen, now).await, t(100_000)).expect("its own shape").export
}

pub(crate) async fn export_text(store: &InKitchen, kitchen: &Kitchen, now: Timestamp) -> String {
    let file = tempfile::NamedTempFile::new().expect("a place to write");
    store.export(kitchen, now, file.reopen().expect("open")).await.expect("written");
    std::io::read_to_string(file.reopen().expect("open")).expect("text")
}

/// An export as it is read from its file.
pub(crate) fn incoming(export: &Export) -> Cursor<String> {
    Cursor::new(serde_json::to_string(export).expect("plain data"))
}

/// What an import takes over: not when it was written, nor who changed what there.
pub(crate) fn without_time(mut export: Export) -> Export {
    export.exported_at = t(0);
    export.kitchen.history.clear();
    export
}

pub(crate) fn own(id: &str, name: &str) -> OwnFood {
    let base = catalogue().food("pork-chop").expect("in the catalogue");
    let form = OwnForm { name: name.into(), ..OwnForm::of(base, Units::default()) };
    form.read(id, base, Units::default()).expect("sound")
}
