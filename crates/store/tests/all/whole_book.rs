//! Whatever is taken out comes back: a long book with seconds of readings, out of one kitchen, into an empty one, and out again.

use std::io::{BufRead, Cursor, Write};

use crate::common::{a_vessel, run};
use hold_steady_core::bath::{Report, Reported, WaterEventKind};
use hold_steady_core::book::{
    BagRecord, BathRecord, CookRecord, EventRecord, ExportWriter, HourRecord, InstrumentRecord,
    KitchenRecord, PieceRecord, PlanRecord, REPORTED, ReadingRecord, SettingRecord, Subject,
};
use hold_steady_core::cook::{Event, EventKind};
use hold_steady_core::plan::{Person, PlanForm, Setting, plan};
use hold_steady_core::units::{Celsius, Units};
use hold_steady_store::{
    Actor, CookPhase, InKitchen, Kitchen, Lies, NewBath, NewCook, NewWaterEvent, Role, Search, Store,
    StoreError, new_id,
};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

const HOUR_S: i64 = 3600;

fn s(seconds: i64) -> Timestamp {
    let base: Timestamp = "2026-11-20T16:00:00Z".parse().expect("an instant");
    base + SignedDuration::from_secs(seconds)
}

async fn open(folder: &tempfile::TempDir) -> (InKitchen, Kitchen) {
    let store = Store::open(&folder.path().join("hold-steady.db")).await.expect("opens");
    let kitchen = store.kitchen(s(0), Some("Test kitchen".into()), None).await.expect("a kitchen");
    (store.in_kitchen(Actor { kitchen: kitchen.id, by: "test".into(), role: Role::Cook }), kitchen)
}

async fn exported(store: &InKitchen, kitchen: &Kitchen, now: Timestamp) -> std::fs::File {
    let out = tempfile::tempfile().expect("a file");
    store
        .export(kitchen, now, std::io::BufWriter::new(out.try_clone().expect("shared")))
        .await
        .expect("written");
    out
}

/// The lines of a file: one a record. What tells of the file itself, of who changed what where, and of devices, whose tokens
/// are in no file, is left out.
fn lines(file: &std::fs::File) -> Vec<String> {
    use std::io::Seek;
    let mut file = std::io::BufReader::new(file.try_clone().expect("shared"));
    file.rewind().expect("seeks");
    let lines = file.lines().map(|l| l.expect("text").trim_end_matches(',').to_owned());
    let told = |line: String| match line.strip_prefix("\"kitchen\":") {
        Some(kitchen) => {
            let mut kitchen: serde_json::Value = serde_json::from_str(kitchen).expect("JSON");
            kitchen.as_object_mut().expect("an object").remove("devices");
            kitchen.to_string()
        }
        None => line,
    };
    lines.filter(|l| !l.contains("\"exported_at\"") && !l.contains(",\"change\":{")).map(told).collect()
}

/// A plan for any cook of this test.
fn planned(kitchen: &Kitchen, at: Timestamp) -> PlanRecord {
    let typed = PlanForm { intact: "whole".into(), thickness: "30 mm".into(), ..PlanForm::default() };
    let reading = typed.read(&Setting::new(Units::default(), at, &kitchen.zone, &kitchen.rules));
    let request = reading.request.expect("complete");
    let plan = plan(&request, at).expect("simulates");
    PlanRecord {
        id: new_id(at),
        created_at: at,
        engine: plan.engine.clone(),
        data: plan.data.clone(),
        typed: reading.form,
        request,
        result: serde_json::to_value(&plan).expect("plain"),
    }
}

fn happened(n: &mut u128, at: Timestamp, kind: EventKind) -> Event {
    *n += 1;
    Event { id: Uuid::from_u128(0xe000_0000 + *n), happened_at: at, recorded_at: at, by: "Ana".into(), kind }
}

/// A file of three baths, in one of which a device read each second for so many hours, with forty cooks, and three hundred people
/// who ever worked there.
fn long_file(kitchen: &Kitchen, hours: i64) -> Cursor<Vec<u8>> {
    let (mut n, plan) = (0, planned(kitchen, s(0)));
    let people: Vec<Person> = (0..300)
        .map(|n| Person::named(Uuid::from_u128(0x900 + n), &format!("Cook {n}"), "").expect("a name"))
        .collect();
    let record = KitchenRecord {
        name: "Quay kitchen".into(),
        time_zone: "UTC".into(),
        left: people[12..].iter().map(|p| p.id).collect(),
        people,
        ..KitchenRecord::default()
    };
    let mut out = ExportWriter::begin(Vec::new(), &record, s(98 * HOUR_S)).expect("in memory");
    let baths: Vec<BathRecord> = (0..3)
        .map(|b| {
            let filled = happened(&mut n, s(0), EventKind::Started);
            let water = |kind| hold_steady_core::bath::WaterEvent {
                id: filled.id,
                happened_at: s(0),
                recorded_at: s(0),
                by: "Ana".into(),
                kind,
            };
            BathRecord {
                id: Uuid::from_u128(0xba0 + b),
                name: format!("bath {b}"),
                began_at: s(0),
                settings: vec![SettingRecord {
                    id: Uuid::from_u128(0x5e0 + b),
                    at: s(0),
                    celsius: Celsius::new(57.0),
                    by: "Ana".into(),
                }],
                vessel: Some(a_vessel(0x7e0 + b)),
                water: vec![water(WaterEventKind::Filled { litres: 12.0 })],
                instruments: vec![InstrumentRecord {
                    id: Uuid::from_u128(0x100 + b),
                    name: format!("device {b}"),
                    piece: None,
                    centred: false,
                    thermometer: None,
                    checks: Vec::new(),
                    readings: Vec::new(),
                    thinned: None,
                }],
            }
        })
        .collect();
    baths.iter().try_for_each(|b| out.bath(b)).expect("in memory");
    for c in 0..40_u128 {
        let at = s(i64::try_from(c).expect("few") * 2 * HOUR_S);
        let id = |what: u128| Uuid::from_u128(0x00c0_0000 + c * 16 + what);
        let mut happen = |after_min: i64, kind| {
            let at = at + SignedDuration::from_mins(after_min);
            let subject = match kind {
                EventKind::Dropped | EventKind::Pulled => Subject::Bag(id(2)),
                EventKind::Eaten => Subject::Piece(id(1)),
                _ => Subject::Cook,
            };
            EventRecord { subject, event: happened(&mut n, at, kind) }
        };
        let events = vec![
            happen(0, EventKind::Started),
            happen(10, EventKind::Dropped),
            happen(100, EventKind::Pulled),
            happen(110, EventKind::Eaten),
        ];
        let cook = CookRecord {
            id: id(0),
            created_at: at,
            title: format!("Strip {c}"),
            together: None,
            piece: PieceRecord {
                id: id(1),
                created_at: at,
                plans: vec![PlanRecord { id: id(3), created_at: at, ..plan.clone() }],
            },
            bag: BagRecord { id: id(2), bath: baths[(c % 3) as usize].id, letter: String::new() },
            baths: Vec::new(),
            events,
        };
        out.cook(&cook).expect("in memory");
    }
    // Each second of all hours; the two others each minute, one with fractions of a second.
    for (bath, step_ms) in [(0, 1000), (1, 60_000), (2, 60_250)] {
        let read = |k: i64| ReadingRecord {
            at: s(0) + SignedDuration::from_millis(k * step_ms),
            celsius: Celsius::new(57.0 + (k * 7919 % 41 - 20) as f64 / 100.0),
            quality: REPORTED.into(),
        };
        let readings: Vec<ReadingRecord> = (0..hours * HOUR_S * 1000 / step_ms).map(read).collect();
        for hour in HourRecord::of(Uuid::from_u128(0x100 + bath), &readings) {
            out.hour(&hour).expect("in memory");
        }
    }
    Cursor::new(out.end().expect("in memory"))
}

#[test]
fn four_days_of_seconds_in_three_baths_of_forty_cooks_come_back_record_by_record() {
    run(async {
        let folders = [(); 2].map(|()| tempfile::tempdir().expect("a folder"));
        let (store, kitchen) = open(&folders[0]).await;
        let now = s(98 * HOUR_S);
        let done = store.import(long_file(&kitchen, 96), now).await.expect("imports");
        assert_eq!((done.left_out.as_slice(), done.cooks_added, done.pantry_added), (&[][..], 40, 300));
        assert_eq!(store.people().await.expect("reads").len(), 12, "who left stays away");
        let every = store.every_reading(Uuid::from_u128(0xba0)).await.expect("reads");
        assert_eq!(every.len(), 345_600);
        // And what is written down here besides, not packed yet.
        a_bath_of_our_own(&store, &kitchen, now).await;
        let now = now + SignedDuration::from_secs(HOUR_S);
        let first = exported(&store, &kitchen, now).await;
        let (other, theirs) = open(&folders[1]).await;
        let done = other.import(first.try_clone().expect("shared"), now).await.expect("its own export");
        assert_eq!(done.left_out, []);
        assert_eq!((done.cooks_added, done.baths_added), (41, 1), "one bath in which no cook lay");
        let second = exported(&other, &theirs, now).await;
        let (before, after) = (lines(&first), lines(&second));
        assert_eq!(before.len(), after.len());
        for (a, b) in before.iter().zip(&after) {
            assert_eq!(a, b);
        }
        // Brought in once more, nothing changes.
        let done = other.import(second, now).await.expect("imports");
        assert_eq!(
            (done.cooks_unchanged, done.cooks_added, done.cooks_extended, done.baths_added),
            (41, 0, 0, 0)
        );
        let third = exported(&other, &theirs, now).await;
        assert_eq!(lines(&third), after);
    });
}

/// A box with a device in it, and a cook in another.
async fn a_bath_of_our_own(store: &InKitchen, kitchen: &Kitchen, now: Timestamp) {
    let vessel = a_vessel(0x7ff);
    let (bath, device) = (Uuid::from_u128(0xbff), Uuid::from_u128(0xdff));
    store
        .fill(NewBath { id: bath, vessel, litres: 12.0, celsius: Celsius::new(57.0) }, now)
        .await
        .expect("filled");
    store.make_device(device, "pen".into(), None, now).await.expect("made");
    store.place_device(device, Some(Lies::water(bath)), now).await.expect("laid");
    let readings = (0..300).map(|k| Reported {
        line: 1,
        at: Some(now + SignedDuration::from_secs(k)),
        celsius: Celsius::new(56.9 + (k % 3) as f64 / 10.0),
    });
    let report = Report { readings: readings.collect(), ..Report::default() };
    store.report(device, report, now + SignedDuration::from_secs(301)).await.expect("written");
    let at = now + SignedDuration::from_secs(302);
    let emptied = NewWaterEvent { id: new_id(at), happened_at: at, kind: WaterEventKind::Emptied };
    store.add_water(bath, emptied, at, BathRecord::with_water).await.expect("emptied").expect("can be");
    started(store, kitchen, now).await;
}

async fn started(store: &InKitchen, kitchen: &Kitchen, now: Timestamp) -> Uuid {
    let PlanRecord { typed, request, result, .. } = planned(kitchen, now);
    let plan = serde_json::from_value(result).expect("a plan");
    let new = NewCook {
        id: new_id(now),
        title: "Our own".into(),
        typed,
        request,
        plan,
        together: None,
        letter: String::new(),
    };
    store.start_cook(new, now).await.expect("starts")
}

#[test]
fn while_a_book_is_brought_in_taps_are_taken_and_nothing_of_it_is_seen_before_its_end() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, kitchen) = open(&folder).await;
        let now = s(98 * HOUR_S);
        started(&store, &kitchen, now).await;
        let file = long_file(&kitchen, 2);
        // Which of the two comes first is nobody's to say; the other is refused.
        let ended = std::cell::Cell::new(false);
        let (one, other) = (store.import(file.clone(), now), store.import(file, now));
        let two = async {
            let both = futures_util::future::join(one, other).await;
            ended.set(true);
            both
        };
        let here = async {
            let mut seen = Vec::new();
            loop {
                let last = ended.get();
                seen.push(store.finished(Search::default(), (0, 1)).await.expect("reads").all);
                let dialled = Celsius::new(50.0 + (seen.len() % 100) as f64 / 10.0);
                store.dial("beef-strip".into(), Some(dialled), now).await.expect("taken");
                if last {
                    return seen;
                }
            }
        };
        let ((one, other), seen) = futures_util::future::join(two, here).await;
        let (refused, done): (Vec<_>, Vec<_>) =
            [one, other].into_iter().partition(|of| matches!(of, Err(StoreError::Conflict(_))));
        assert_eq!(refused.len(), 1, "one book at a time: {refused:?}, {done:?}");
        let done = done.into_iter().next().expect("the other").expect("imports");
        assert_eq!(done.cooks_added, 40);
        assert!(seen.iter().all(|n| [0, 40].contains(n)) && seen.is_sorted(), "{seen:?}");
        assert_eq!(seen.last(), Some(&40), "{seen:?}");
        assert!(seen.iter().filter(|n| **n == 0).count() > 2, "taps pass meanwhile: {seen:?}");
        let (_, under_way, _) = store.cooks_that(CookPhase::UnderWay, (0, 9)).await.expect("reads");
        assert_eq!(under_way, 1);
    });
}

#[test]
fn a_file_that_breaks_off_leaves_nothing_behind() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, kitchen) = open(&folder).await;
        let mut file = long_file(&kitchen, 2).into_inner();
        file.truncate(file.len() - 100);
        let refused = store.import(Cursor::new(file), s(98 * HOUR_S)).await;
        assert!(matches!(refused, Err(StoreError::Import(_))), "{refused:?}");
        assert_eq!(store.finished(Search::default(), (0, 1)).await.expect("reads").all, 0);
        let names = std::fs::read_dir(folder.path()).expect("lists").map(|e| e.expect("one").file_name());
        let left: Vec<_> = names.filter(|n| n.to_string_lossy().contains("tmp")).collect();
        assert!(left.is_empty(), "{left:?}");
    });
}

#[test]
fn what_clashes_with_a_record_here_is_named_and_takes_no_other_with_it() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, kitchen) = open(&folder).await;
        let now = s(98 * HOUR_S);
        store.import(long_file(&kitchen, 2), now).await.expect("imports");
        // Another file, in which a new cook claims a bag of one that is here, and another lies in a bath that is nowhere.
        let text = String::from_utf8(long_file(&kitchen, 2).into_inner()).expect("text");
        let id = |n: u128| Uuid::from_u128(0x00c0_0000 + n).to_string();
        let claimed =
            text.replace(&id(0), &id(0xfff0)).replace(&id(1), &id(0xfff1)).replace(&id(3), &id(0xfff3));
        let mut events = claimed;
        for n in 3..8_u128 {
            events = events.replace(
                &Uuid::from_u128(0xe000_0000 + n).to_string(),
                &Uuid::from_u128(0xe100_0000 + n).to_string(),
            );
        }
        let done = store.import(Cursor::new(events), now).await.expect("imports");
        assert_eq!((done.cooks_added, done.cooks_unchanged), (0, 39), "{done:?}");
        assert!(
            done.left_out.iter().any(|l| l.what.contains(&id(0xfff0)) && l.reason.contains("clashes")),
            "{done:?}"
        );
    });
}

#[test]
fn a_reading_of_an_instrument_that_is_nowhere_is_named() {
    run(async {
        let folder = tempfile::tempdir().expect("a folder");
        let (store, kitchen) = open(&folder).await;
        let mut text = String::from_utf8(long_file(&kitchen, 2).into_inner()).expect("text");
        let nowhere = HourRecord::of(
            Uuid::from_u128(0x1ff),
            &[ReadingRecord { at: s(0), celsius: Celsius::new(57.0), quality: REPORTED.into() }],
        );
        let line = serde_json::to_string(&nowhere[0]).expect("plain");
        text = text.replace("\"readings\":[\n", &format!("\"readings\":[\n{line},\n"));
        // Of a minute that says what no minute can.
        let wrong = line.replace(
            "\"readings\":[[0,57.0]]",
            "\"thinned\":{\"readings\":9,\"minutes\":[[59,57,57,57,57,0,1]]}",
        );
        text = text.replace("\"readings\":[\n", &format!("\"readings\":[\n{wrong},\n"));
        let mut out = Vec::new();
        out.write_all(text.as_bytes()).expect("in memory");
        let done = store.import(Cursor::new(out), s(98 * HOUR_S)).await.expect("imports");
        assert_eq!(done.cooks_added, 40);
        let named: Vec<&str> = done.left_out.iter().map(|l| l.what.as_str()).collect();
        assert_eq!(named, ["readings 1", "readings 2"], "{:?}", done.left_out);
    });
}
