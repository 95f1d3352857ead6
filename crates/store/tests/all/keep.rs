//! Refrigerators and freezers: what is read there is kept, packed, thinned, taken out and brought in like what is read in a bath;
//! and of what must be cold the warmer of two readings counts.

use crate::common::{a_vessel, run};
use hold_steady_core::bath::{Report, Reported};
use hold_steady_core::book::read_export;
use hold_steady_core::keep::{Storage, StorageKind};
use hold_steady_core::units::Celsius;
use hold_steady_store::{Actor, InKitchen, Kitchen, Lies, NewBath, Put, Role, Store, StoreError};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

const WALK_IN: Uuid = Uuid::from_u128(0x5a);
const DEVICE: Uuid = Uuid::from_u128(0xd5);

fn s(seconds: i64) -> Timestamp {
    let base: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    base + SignedDuration::from_secs(seconds)
}

fn walk_in() -> Storage {
    Storage { id: WALK_IN, name: "walk-in".into(), kind: StorageKind::Refrigerator }
}

async fn kitchen_in(folder: &tempfile::TempDir) -> (InKitchen, Kitchen) {
    let opened = Store::open(&folder.path().join("hold-steady.db")).await.expect("opens");
    let kitchen = opened.kitchen(s(0), Some("Test kitchen".into()), None).await.expect("a kitchen");
    let store = opened.in_kitchen(Actor { kitchen: kitchen.id, by: "test".into(), role: Role::Cook });
    (store, kitchen)
}

async fn with_a_probe(store: &InKitchen) {
    store.keep_storage(walk_in(), s(0)).await.expect("kept");
    store.make_device(DEVICE, "walk-in probe".into(), None, s(0)).await.expect("made");
    store.place_device(DEVICE, Some(Lies::Storage(WALK_IN)), s(0)).await.expect("laid");
}

async fn report(store: &InKitchen, all: &[(i64, f64)]) {
    let reading = |(n, (at, c)): (usize, &(i64, f64))| Reported {
        line: n + 1,
        at: Some(s(*at)),
        celsius: Celsius::new(*c),
    };
    let readings: Vec<Reported> = all.iter().enumerate().map(reading).collect();
    let now = s(all.last().map_or(0, |l| l.0) + 1);
    let received =
        store.report(DEVICE, Report { readings, ..Report::default() }, now).await.expect("written");
    assert_eq!(received.not_taken, []);
}

async fn read(store: &InKitchen) -> Vec<f64> {
    let record = store.storage(WALK_IN, s(0)).await.expect("there");
    record.reads().iter().map(|r| r.celsius.value()).collect()
}

#[test]
fn of_two_readings_of_a_cold_place_at_one_instant_the_warmer_counts() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, kitchen) = kitchen_in(&folder).await;
        with_a_probe(&store).await;
        report(&store, &[(60, 3.0), (60, 7.0), (180, 4.0)]).await;
        assert_eq!(read(&store).await, [7.0, 4.0], "kept by the minute");
        // Two thermometers at once, by hand: the warmer too.
        let tap = |n| (Uuid::from_u128(n), s(300));
        store.read_storage(WALK_IN, None, (Celsius::new(2.0), s(240)), tap(1)).await.expect("written");
        let probe = store.equipment().await.expect("lists").thermometers[0].id;
        store.read_storage(WALK_IN, Some(probe), (Celsius::new(6.5), s(240)), tap(2)).await.expect("written");
        assert_eq!(read(&store).await, [7.0, 4.0, 6.5]);
        // Sent again, it is one reading; and all of them are in a file, each as it was.
        store.read_storage(WALK_IN, None, (Celsius::new(2.0), s(240)), tap(1)).await.expect("known");
        let out = folder.path().join("out.json");
        let file = std::fs::File::create(&out).expect("made");
        store.export(&kitchen, s(400), file).await.expect("written");
        let text = std::fs::read_to_string(&out).expect("text");
        let file: serde_json::Value = serde_json::from_str(&text).expect("JSON");
        let readings = file["readings"].as_array().expect("a list").iter();
        assert_eq!(readings.map(|h| h["readings"].as_array().map_or(0, Vec::len)).sum::<usize>(), 5);
        read_export(&text, s(500)).expect("it reads what it writes");
    });
}

#[test]
fn what_was_read_long_ago_is_thinned_and_says_the_same() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, _) = kitchen_in(&folder).await;
        with_a_probe(&store).await;
        let second = |k: i64| (k, 3.0 + ((k * 7919) % 41) as f64 / 100.0);
        report(&store, &(0..2 * 3600).map(second).collect::<Vec<_>>()).await;
        let before = read(&store).await;
        assert_eq!(before.len(), 120);
        let later = s(30 * 86_400);
        while store.pack_an_hour(later).await.expect("packs") {}
        assert_eq!(read(&store).await, before, "packed");
        while store.thin_a_bath(later).await.expect("thins") {}
        let c = rusqlite::Connection::open(folder.path().join("hold-steady.db")).expect("a database");
        let (packs, thinned): (i64, i64) = c
            .query_row("SELECT count(*), sum(thinned) FROM reading_pack", [], |r| Ok((r.get(0)?, r.get(1)?)))
            .expect("counted");
        assert_eq!((packs, thinned), (2, 2));
    });
}

#[test]
fn it_goes_out_and_comes_into_an_empty_kitchen_with_all_that_was_read() {
    run(async {
        let (folder, elsewhere) = (tempfile::tempdir().expect("one"), tempfile::tempdir().expect("another"));
        let (store, kitchen) = kitchen_in(&folder).await;
        with_a_probe(&store).await;
        report(&store, &(0..600).map(|k| (k, 4.0)).collect::<Vec<_>>()).await;
        let out = folder.path().join("out.json");
        store.export(&kitchen, s(700), std::fs::File::create(&out).expect("made")).await.expect("written");
        let (other, _) = kitchen_in(&elsewhere).await;
        let file = || std::fs::File::open(&out).expect("there");
        let done = other.import(file(), s(800)).await.expect("imports");
        assert_eq!(done.left_out, []);
        assert_eq!(other.storages(s(0)).await.expect("lists")[0].storage, walk_in());
        assert_eq!(read(&other).await, read(&store).await);
        // What is read here after that, and what the file has more of, stand beside each other.
        let tap = (Uuid::from_u128(9), s(900));
        other.read_storage(WALK_IN, None, (Celsius::new(5.5), s(900)), tap).await.expect("written");
        report(&store, &[(1000, 6.0)]).await;
        store.export(&kitchen, s(1100), std::fs::File::create(&out).expect("made")).await.expect("written");
        other.import(file(), s(1200)).await.expect("imports");
        assert_eq!(read(&other).await.iter().rev().take(2).copied().collect::<Vec<_>>(), [6.0, 5.5]);
    });
}

#[test]
fn a_name_is_given_once_and_another_kitchen_s_is_not_there() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, _) = kitchen_in(&folder).await;
        store.keep_storage(walk_in(), s(0)).await.expect("kept");
        store.keep_storage(walk_in(), s(1)).await.expect("known");
        let again = Storage { id: Uuid::from_u128(0x5b), ..walk_in() };
        assert!(matches!(store.keep_storage(again, s(1)).await, Err(StoreError::Conflict(_))));
        let nowhere = store.read_storage(
            Uuid::from_u128(1),
            None,
            (Celsius::new(4.0), s(2)),
            (Uuid::from_u128(3), s(2)),
        );
        assert!(matches!(nowhere.await, Err(StoreError::NotFound)));
        store.remove_storage(WALK_IN, Put::Off, s(3)).await.expect("off the list");
        assert!(store.storages(s(0)).await.expect("lists").is_empty());
        store.remove_storage(WALK_IN, Put::Back, s(4)).await.expect("back");
        assert_eq!(store.storages(s(0)).await.expect("lists").len(), 1);
    });
}

#[test]
fn no_file_says_anything_of_a_bath_under_the_name_of_a_refrigerator() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, kitchen) = kitchen_in(&folder).await;
        with_a_probe(&store).await;
        let bath = Uuid::from_u128(0xba);
        let fill = NewBath { id: bath, vessel: a_vessel(0xe1), litres: 12.0, celsius: Celsius::new(57.0) };
        store.fill(fill, s(0)).await.expect("filled");
        store
            .read_bath(bath, None, (Celsius::new(50.0), s(60)), (Uuid::from_u128(7), s(60)))
            .await
            .expect("read");
        let tap = (Uuid::from_u128(8), s(90));
        store.read_storage(WALK_IN, None, (Celsius::new(4.0), s(60)), tap).await.expect("read");
        let out = folder.path().join("out.json");
        store.export(&kitchen, s(100), std::fs::File::create(&out).expect("made")).await.expect("written");
        // A file that says of its refrigerator that it was read with the bath's own display, and how warm that was.
        let text = std::fs::read_to_string(&out).expect("text");
        let mut file: serde_json::Value = serde_json::from_str(&text).expect("JSON");
        let display = file["baths"][0]["instruments"][0]["id"].clone();
        file["kitchen"]["storages"][0]["instruments"][0]["id"] = display.clone();
        file["baths"] = serde_json::json!([]);
        file["readings"] = serde_json::json!([{"instrument": display, "hour": "2026-11-25T16:00:00Z",
            "quality": "typed", "readings": [[300, 57.0]]}]);
        let before = store.every_reading(bath).await.expect("reads");
        store.import(std::io::Cursor::new(file.to_string().into_bytes()), s(200)).await.expect("imports");
        assert_eq!(store.every_reading(bath).await.expect("reads"), before);
        assert_eq!(before.len(), 1);
    });
}
