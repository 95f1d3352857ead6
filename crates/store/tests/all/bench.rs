//! Vessels, thermometers and running baths against a real database file.

use crate::common::run;
use crate::kitchens::{exported, new_cook, t};
use hold_steady_core::bath::{Against, Check, Cover, Learned, Report, Reported, WaterEventKind, shapes};
use hold_steady_core::book::{BathRecord, CookRecord, KeptVessel};
use hold_steady_core::cook::EventKind;
use hold_steady_core::plan::{PlanForm, Setting};
use hold_steady_core::units::{Celsius, Units};
use hold_steady_store::{
    Actor, InKitchen, Kitchen, Lies, NewBath, NewEvent, NewWaterEvent, Put, Role, Store, StoreError, new_id,
};
use uuid::Uuid;

async fn open(folder: &tempfile::TempDir) -> (InKitchen, Kitchen) {
    let store = Store::open(&folder.path().join("hold-steady.db")).await.expect("opens");
    let kitchen = store.kitchen(t(0), Some("Test kitchen".into()), None).await.expect("a kitchen");
    (store.in_kitchen(Actor { kitchen: kitchen.id, by: "test".into(), role: Role::Cook }), kitchen)
}

fn kept(shape: &str) -> KeptVessel {
    let vessel = shapes().iter().find(|s| s.0 == shape).expect("shipped").1.clone();
    KeptVessel { id: new_id(t(0)), vessel }
}

fn filled(vessel: &KeptVessel) -> NewBath {
    NewBath { id: new_id(t(0)), vessel: vessel.clone(), litres: 15.0, celsius: Celsius::new(57.0) }
}

fn water(min: i64, kind: WaterEventKind) -> NewWaterEvent {
    NewWaterEvent { id: new_id(t(min)), happened_at: t(min), kind }
}

async fn thermometer(store: &InKitchen, name: &str) -> Uuid {
    let id = new_id(t(0));
    store.keep_thermometer(id, name.into(), t(0)).await.expect("kept");
    id
}

async fn cook_in(store: &InKitchen, kitchen: &Kitchen, vessel: &KeptVessel) -> Uuid {
    let equipment = store.equipment().await.expect("reads");
    let typed = PlanForm { intact: "whole".into(), vessel: vessel.id.to_string(), ..PlanForm::default() };
    let setting =
        Setting::new(Units::default(), t(0), &kitchen.zone, &kitchen.rules).with_equipment(&equipment);
    let reading = typed.read(&setting);
    store.start_cook(new_cook("A steak", reading), t(0)).await.expect("starts")
}

#[test]
fn vessels_and_thermometers_are_kept_once_changed_removed_and_put_back() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let (store, kitchen) = open(&folder).await;
        let mut cooler = kept("cooler-20");
        for _ in 0..2 {
            store.keep_vessel(cooler.clone(), t(1)).await.expect("kept");
        }
        cooler.vessel.name = "The blue one".into();
        store.keep_vessel(cooler.clone(), t(2)).await.expect("changed");
        let learned =
            Learned { loss_w_k: Some(1.2), residual_k: 0.1, from_c: 52.0, to_c: 60.0, ..Learned::default() };
        store.learn(cooler.id, Some(learned), t(3)).await.expect("there");
        let probe = thermometer(&store, "thin probe").await;
        let taken = store.keep_thermometer(new_id(t(4)), "thin probe".into(), t(4)).await;
        assert!(matches!(taken, Err(StoreError::Conflict(_))), "{taken:?}");
        let check = Check {
            id: new_id(t(5)),
            at: t(5),
            against: Against::Ice,
            read_c: Celsius::new(0.3),
            true_c: Celsius::new(0.0),
        };
        for _ in 0..2 {
            store.check_thermometer(probe, check, t(5)).await.expect("written");
        }
        let here = store.equipment().await.expect("reads");
        assert_eq!((here.vessels.len(), here.vessels[0].vessel.learned), (1, Some(learned)));
        assert_eq!(
            (here.vessels[0].vessel.name.as_str(), here.thermometers[0].checks.as_slice()),
            ("The blue one", &[check][..])
        );
        store.remove_vessel(cooler.id, Put::Off, t(6)).await.expect("there");
        store.remove_thermometer(probe, Put::Off, t(6)).await.expect("there");
        let gone = store.equipment().await.expect("reads");
        assert!(gone.vessels.is_empty() && gone.thermometers.is_empty());
        store.remove_vessel(cooler.id, Put::Back, t(7)).await.expect("put back");
        assert_eq!(store.equipment().await.expect("reads").vessels.len(), 1);
        assert!(matches!(store.remove_vessel(new_id(t(8)), Put::Off, t(8)).await, Err(StoreError::NotFound)));
        // Each change is a record: kept, renamed, learned, thermometer, check, two removed, one back.
        let kinds = exported(&store, &kitchen, t(300)).await.kitchen.history;
        assert_eq!(
            kinds.iter().filter(|c| !format!("{:?}", c.change).starts_with("Named")).count(),
            8,
            "{kinds:?}"
        );
    });
}

#[test]
fn a_bath_runs_from_filling_to_emptying_and_loses_nothing() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let (store, kitchen) = open(&folder).await;
        let cooler = kept("cooler-20");
        store.keep_vessel(cooler.clone(), t(0)).await.expect("kept");
        let probe = thermometer(&store, "thin probe").await;
        let bath = store.fill(filled(&cooler), t(0)).await.expect("filled");
        // A second time, or by another page: the same bath.
        assert_eq!(store.fill(filled(&cooler), t(1)).await.expect("filled"), bath);
        store
            .read_bath(bath, Some(probe), (Celsius::new(57.4), t(2)), (new_id(t(2)), t(2)))
            .await
            .expect("written");
        let added = water(3, WaterEventKind::Added { litres: 0.4, celsius: Celsius::new(95.0) });
        for _ in 0..2 {
            store
                .add_water(bath, added.clone(), t(3), BathRecord::with_water)
                .await
                .expect("written")
                .expect("can be");
        }
        let cook = cook_in(&store, &kitchen, &cooler).await;
        let tap = |kind| NewEvent { id: new_id(t(4)), happened_at: t(4), kind };
        store
            .add_event(cook, tap(EventKind::Dropped), t(4), CookRecord::with)
            .await
            .expect("works")
            .expect("in order");
        assert_eq!(store.in_bath(bath).await.expect("reads"), [cook]);
        let early =
            store.add_water(bath, water(5, WaterEventKind::Emptied), t(5), BathRecord::with_water).await;
        assert!(matches!(&early, Err(StoreError::Conflict(e)) if e.contains("Pull it first")), "{early:?}");
        let record = store.cook(cook).await.expect("there");
        assert_eq!(record.baths.len(), 1);
        assert_eq!(record.baths[0], store.bath(bath).await.expect("there"));
        let state = record.baths[0].state();
        assert!(
            (state.litres - 15.4).abs() < 1e-9
                && state.aim == Some(Celsius::new(57.0))
                && state.cover == Cover::Lid
        );
        // Unchecked, the thermometer may read half a degree too high.
        assert_eq!(record.baths[0].at_least(), [(t(2), Celsius::new(56.9))]);
        store
            .add_event(cook, tap(EventKind::Discarded), t(6), CookRecord::with)
            .await
            .expect("works")
            .expect("in order");
        store
            .add_water(bath, water(7, WaterEventKind::Emptied), t(7), BathRecord::with_water)
            .await
            .expect("nothing lies in it")
            .expect("can be");
        assert!(store.running_baths().await.expect("reads").is_empty());
        let late = store.read_bath(bath, Some(probe), (Celsius::new(50.0), t(8)), (new_id(t(8)), t(8))).await;
        assert!(matches!(late, Err(StoreError::Conflict(_))), "{late:?}");
        assert_ne!(store.fill(filled(&cooler), t(9)).await.expect("filled anew"), bath);

        // It travels whole: cook, bath, readings, checks, vessel and thermometer.
        let there = tempfile::tempdir().expect("a folder");
        let (other, _) = open(&there).await;
        let text = serde_json::to_string(&exported(&store, &kitchen, t(300)).await).expect("plain");
        let done = other.import(std::io::Cursor::new(text), t(400)).await.expect("imports");
        assert_eq!(done.left_out, []);
        assert_eq!((done.cooks_added, done.pantry_added), (1, 2));
        assert_eq!(other.cook(cook).await.expect("there"), store.cook(cook).await.expect("there"));
        assert_eq!(other.equipment().await.expect("reads"), store.equipment().await.expect("reads"));
    });
}

#[test]
fn checks_and_what_was_done_to_water_are_append_only() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let (store, _) = open(&folder).await;
        let cooler = kept("cooler-20");
        store.keep_vessel(cooler.clone(), t(0)).await.expect("kept");
        store.fill(filled(&cooler), t(0)).await.expect("filled");
        let probe = thermometer(&store, "thin probe").await;
        let (read_c, true_c) = (Celsius::new(0.1), Celsius::new(0.0));
        let check = Check { id: new_id(t(5)), at: t(5), against: Against::Ice, read_c, true_c };
        store.check_thermometer(probe, check, t(5)).await.expect("written");
        let c = rusqlite::Connection::open(folder.path().join("hold-steady.db")).expect("a database");
        for sql in [
            "UPDATE water_event SET body = '{}'",
            "DELETE FROM water_event",
            "UPDATE thermometer_check SET read_c = 0",
            "DELETE FROM thermometer_check",
        ] {
            let refused = c.execute(sql, []).expect_err(sql).to_string();
            assert!(refused.contains("append-only"), "{sql}: {refused}");
        }
    });
}

/// The kitchen of a file that an earlier program wrote.
async fn carried_on(folder: &tempfile::TempDir, file: &[u8]) -> hold_steady_store::InKitchen {
    let path = folder.path().join("hold-steady.db");
    std::fs::write(&path, file).expect("written");
    let store = Store::open(&path).await.expect("opens");
    let kitchen = store.kitchen(t(900), None, None).await.expect("there");
    store.in_kitchen(Actor { kitchen: kitchen.id, by: "test".into(), role: Role::Cook })
}

/// A regression check against our own file: `golden/schema-7.db` was written by the first program with a bath bench. It
/// is never changed.
#[test]
fn a_bath_of_the_first_bench_is_carried_on() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let store = carried_on(&folder, include_bytes!("../golden/schema-7.db")).await;
        let here = store.equipment().await.expect("reads");
        assert_eq!(
            (here.vessels[0].vessel.name.as_str(), here.thermometers[0].checks.len()),
            ("the harbour cooler", 1)
        );
        let baths = store.running_baths().await.expect("reads");
        let [bath] = baths.as_slice() else { panic!("{baths:?}") };
        assert_eq!((bath.at_least().len(), bath.water.len()), (2, 2));
        let [cook] = store.in_bath(bath.id).await.expect("reads")[..] else { panic!("one lies in it") };
        assert_eq!(store.cook(cook).await.expect("there").baths, std::slice::from_ref(bath));
        let probe = here.thermometers[0].id;
        store
            .read_bath(bath.id, Some(probe), (Celsius::new(57.0), t(400)), (new_id(t(400)), t(400)))
            .await
            .expect("and it goes on");
    });
}

/// A regression check against our own files: `golden/schema-8.db` was written by the first program with devices, and
/// `schema-9.db` is the same as its successor left it, which stored nothing differently. They are never changed.
#[test]
fn a_device_of_the_first_board_is_carried_on() {
    for file in [&include_bytes!("../golden/schema-8.db")[..], include_bytes!("../golden/schema-9.db")] {
        let folder = tempfile::tempdir().expect("a folder");
        run(async {
            let store = carried_on(&folder, file).await;
            let baths = store.running_baths().await.expect("reads");
            let devices = store.devices().await.expect("reads");
            let [device] = devices.as_slice() else { panic!("{devices:?}") };
            assert_eq!(device.name, "circulator one");
            assert_eq!(device.lies_in, Some(Lies::water(baths[0].id)));
        });
    }
}

/// A regression check against our own file: `golden/schema-10.db` was written by the last program without minutes. It is
/// never changed.
#[test]
fn readings_of_seconds_are_told_by_the_minute_and_say_the_same() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let store = carried_on(&folder, include_bytes!("../golden/schema-10.db")).await;
        let baths = store.running_baths().await.expect("reads");
        let [bath] = baths.as_slice() else { panic!("{baths:?}") };
        let [device] = bath.instruments.as_slice() else { panic!("{:?}", bath.instruments) };
        // Three minutes of seconds and one more of them, the others with one each: forty minutes, the last as it came.
        assert_eq!(device.readings.len(), 40);
        let c = rusqlite::Connection::open(folder.path().join("hold-steady.db")).expect("a database");
        let (count, mean, raw): (i64, f64, f64) = c
            .query_row(
                "SELECT m.count, m.mean_c, (SELECT avg(r.celsius) FROM reading r WHERE r.at / 60000000 = m.minute)
                 FROM reading_minute m ORDER BY m.minute LIMIT 1",
                [],
                |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)),
            )
            .expect("told");
        assert_eq!(count, 60);
        assert!((mean - raw).abs() < 1e-9 && (device.readings[0].celsius.value() - mean).abs() < 1e-12);
        // A minute ending in the sixtieth second has no gap to speak of.
        let gap: f64 = c
            .query_row("SELECT gap_s FROM reading_minute ORDER BY minute LIMIT 1", [], |r| r.get(0))
            .expect("told");
        assert_eq!(gap, 1.0);
    });
}

#[test]
fn two_readings_of_one_instant_are_both_kept_the_lower_counts_and_the_same_again_is_known() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let store = carried_on(&folder, include_bytes!("../golden/schema-10.db")).await;
        let bath = store.running_baths().await.expect("reads")[0].id;
        let device = store.devices().await.expect("reads")[0].id;
        // After it was laid in, five days on.
        let at = t(7230);
        let report = |celsius: &[f64]| Report {
            readings: celsius
                .iter()
                .map(|c| Reported { line: 1, at: Some(at), celsius: Celsius::new(*c) })
                .collect(),
            ..Report::default()
        };
        let sent = store.report(device, report(&[57.0, 55.0]), t(7231)).await.expect("written");
        assert_eq!((sent.taken, sent.known), (2, 0));
        let again = store.report(device, report(&[57.0, 55.0, 56.0]), t(7231)).await.expect("written");
        assert_eq!((again.taken, again.known), (1, 2));
        let c = rusqlite::Connection::open(folder.path().join("hold-steady.db")).expect("a database");
        let (mean, count): (f64, i64) = c
            .query_row("SELECT mean_c, count FROM reading_minute ORDER BY minute DESC LIMIT 1", [], |r| {
                Ok((r.get(0)?, r.get(1)?))
            })
            .expect("told");
        assert_eq!((mean, count), (55.0, 3));
        let whole = store.bath(bath).await.expect("reads");
        assert_eq!(whole.reads_by_minute().last().map(|r| r.celsius.value()), Some(55.0));
    });
}

#[test]
fn a_reading_sent_twice_is_one_reading() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let store = carried_on(&folder, include_bytes!("../golden/schema-7.db")).await;
        let bath = store.running_baths().await.expect("reads")[0].id;
        let probe = store.equipment().await.expect("reads").thermometers[0].id;
        let count = async || {
            let bath = store.bath(bath).await.expect("reads");
            bath.instruments.iter().map(|i| i.readings.len()).sum::<usize>()
        };
        let (before, tap) = (count().await, new_id(t(900)));
        // The answer was lost; the second is counted back to another moment by the device’s own clock.
        for late in [0, 1] {
            let read = (Celsius::new(57.0), t(900 + late));
            store.read_bath(bath, Some(probe), read, (tap, t(901))).await.expect("written");
        }
        assert_eq!(count().await, before + 1);
    });
}

#[test]
fn a_revoked_device_s_name_is_free_and_its_thermometer_goes_on() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let store = carried_on(&folder, include_bytes!("../golden/schema-10.db")).await;
        let first = store.devices().await.expect("reads").remove(0);
        let taken = store.make_device(new_id(t(901)), first.name.clone(), None, t(901)).await;
        assert!(matches!(taken, Err(StoreError::Conflict(_))), "{taken:?}");
        store.revoke_device(first.id, t(902)).await.expect("revoked");
        let second = new_id(t(903));
        store.make_device(second, first.name.clone(), None, t(903)).await.expect("made");
        let devices = store.devices().await.expect("reads");
        let second = devices.iter().find(|d| d.id == second).expect("there");
        assert_eq!(second.thermometer, first.thermometer, "with its checks");
    });
}
