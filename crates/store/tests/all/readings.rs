//! What becomes of readings: packed hours are read as they were, late ones find their place, and what is thinned says the
//! same as before.

use crate::common::{a_vessel, run};
use hold_steady_core::bath::{Report, Reported, WaterEventKind};
use hold_steady_core::book::{BathRecord, read_export};
use hold_steady_core::units::Celsius;
use hold_steady_store::{
    Actor, InKitchen, Kitchen, Lies, NewBath, NewWaterEvent, Role, Store, StoreError, new_id, restore,
};
use jiff::civil::date;
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

fn s(seconds: i64) -> Timestamp {
    let base: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    base + SignedDuration::from_secs(seconds)
}

const BATH: Uuid = Uuid::from_u128(0xba);
const DAY_S: i64 = 86_400;

struct Here {
    _folder: tempfile::TempDir,
    file: std::path::PathBuf,
    opened: Store,
    store: InKitchen,
    kitchen: Kitchen,
    devices: Vec<Uuid>,
}

/// A box in which so many devices lie.
async fn here(devices: usize) -> Here {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("hold-steady.db");
    let opened = Store::open(&file).await.expect("opens");
    let kitchen = opened.kitchen(s(0), Some("Test kitchen".into()), None).await.expect("a kitchen");
    let store = opened.in_kitchen(Actor { kitchen: kitchen.id, by: "test".into(), role: Role::Cook });
    let vessel = a_vessel(0xe1);
    let fill = NewBath { id: BATH, vessel, litres: 12.0, celsius: Celsius::new(57.0) };
    store.fill(fill, s(0)).await.expect("filled");
    let mut all = Vec::new();
    for n in 0..devices {
        let id = Uuid::from_u128(0xd0 + n as u128);
        store.make_device(id, format!("device {n}"), None, s(0)).await.expect("made");
        let lies = Lies::water(BATH);
        store.place_device(id, Some(lies), s(0)).await.expect("laid");
        all.push(id);
    }
    Here { _folder: folder, file, opened, store, kitchen, devices: all }
}

/// What a device reads: near 57 °C, to a hundredth, never twice the same for long.
fn reading(device: usize, second: i64) -> Reported {
    let noise = ((second * 7919 + device as i64 * 104_729) % 41 - 20) as f64 / 100.0;
    Reported { line: 1, at: Some(s(second)), celsius: Celsius::new(((57.0 + noise) * 100.0).round() / 100.0) }
}

impl Here {
    async fn report(&self, seconds: std::ops::Range<i64>) {
        let now = s(seconds.end);
        for (n, id) in self.devices.iter().enumerate() {
            let readings = seconds.clone().map(|at| reading(n, at)).collect();
            let report = Report { readings, ..Report::default() };
            let received = self.store.report(*id, report, now).await.expect("written");
            assert_eq!(received.not_taken, []);
        }
    }

    async fn pack(&self, now: Timestamp) -> usize {
        let mut hours = 0;
        while self.store.pack_an_hour(now).await.expect("packs") {
            hours += 1;
        }
        hours
    }

    /// The bath as it goes into a file. (Cooks bring their baths: this one has none, so it is read as judged and counted.)
    async fn judged(&self) -> BathRecord {
        self.store.bath(BATH).await.expect("reads")
    }

    fn count(&self, sql: &str) -> i64 {
        let c = rusqlite::Connection::open(&self.file).expect("a database");
        c.query_row(sql, [], |r| r.get(0)).expect("counted")
    }

    async fn exported(&self) -> serde_json::Value {
        let out = self.file.with_file_name("out.json");
        let file = std::fs::File::create(&out).expect("made");
        self.store.export(&self.kitchen, s(0), file).await.expect("written");
        let text = std::fs::read_to_string(out).expect("text");
        read_export(&text, s(400 * DAY_S)).expect("it reads what it writes");
        serde_json::from_str(&text).expect("JSON")
    }

    async fn empty(&self, at: Timestamp) {
        let event = NewWaterEvent { id: new_id(at), happened_at: at, kind: WaterEventKind::Emptied };
        self.store
            .add_water(BATH, event, at, BathRecord::with_water)
            .await
            .expect("emptied")
            .expect("can be");
    }
}

/// All readings, packed or not, as the store reads them for a file.
async fn whole(here: &Here) -> Vec<(Timestamp, f64)> {
    let mut all = here.store.every_reading(BATH).await.expect("reads");
    all.sort_by_key(|r| r.0);
    all
}

#[test]
fn what_is_packed_is_every_reading_as_it_was_and_says_the_same() {
    run(async {
        let here = here(2).await;
        here.report(0..3 * 3600 + 600).await;
        let (before, judged) = (whole(&here).await, here.judged().await);
        assert_eq!(before.len(), 2 * (3 * 3600 + 600));
        assert_eq!(here.pack(s(3 * 3600)).await, 2, "one hour of each is past for two hours");
        assert_eq!(
            here.pack(s(10 * 3600)).await,
            6,
            "the two that are left, and what is begun of the fourth"
        );
        assert_eq!(here.count("SELECT count(*) FROM reading"), 0);
        let bytes = here.count("SELECT sum(length(body)) FROM reading_pack");
        let each = bytes as f64 / before.len() as f64;
        assert!(each < 5.0, "{each} bytes a reading");
        assert_eq!(whole(&here).await, before);
        let after = here.judged().await;
        assert_eq!(after.reads(), judged.reads());
        assert_eq!(after.reads_by_minute(), judged.reads_by_minute());
        // Nothing is removed but into a pack.
        let c = rusqlite::Connection::open(&here.file).expect("a database");
        here.report(11 * 3600..11 * 3600 + 5).await;
        let refused = c.execute("DELETE FROM reading", []).expect_err("append-only");
        assert!(refused.to_string().contains("append-only"));
    });
}

#[test]
fn what_comes_late_finds_its_place_in_a_packed_hour_and_what_is_sent_again_is_known() {
    run(async {
        let here = here(1).await;
        here.report(0..1800).await;
        here.report(2400..3600).await;
        assert_eq!(here.pack(s(4 * 3600)).await, 1);
        // What the device kept while its line was down, with some that had come before.
        let readings: Vec<Reported> = (1700..2500).map(|at| reading(0, at)).collect();
        let late = Report { readings, ..Report::default() };
        let received = here.store.report(here.devices[0], late, s(4 * 3600)).await.expect("written");
        assert_eq!((received.taken, received.known), (600, 200));
        assert_eq!(here.pack(s(4 * 3600)).await, 1, "and is packed again");
        let all = whole(&here).await;
        let expected: Vec<_> = (0..3600).map(|at| (s(at), reading(0, at).celsius.value())).collect();
        assert_eq!(all, expected);
        // Every minute says what its readings say.
        let told = here.judged().await;
        assert_eq!(told.reads_by_minute().len(), 60);
        assert_eq!(
            told.instruments[0].readings.len(),
            58 + 120,
            "each minute once, the last two as they came"
        );
    });
}

/// An hour is packed while others write: what comes between the reading of it and its place in the pack is not lost.
#[test]
fn what_comes_while_its_hour_is_packed_is_there_after_it() {
    run(async {
        let here = here(1).await;
        let mut expected = Vec::new();
        for hour in 0..24 {
            let from = hour * 3600;
            here.report(from..from + 900).await;
            let late: Vec<Reported> = (0..5).map(|n| reading(0, from + 1000 + n)).collect();
            expected.extend((from..from + 900).chain(from + 1000..from + 1005).map(s));
            let now = s(from + 4 * 3600);
            let store = here.store.clone();
            let packing = tokio::spawn(async move { store.pack_an_hour(now).await });
            // At one moment of it or another.
            tokio::time::sleep(std::time::Duration::from_micros(200 * hour.unsigned_abs())).await;
            let report = Report { readings: late, ..Report::default() };
            let received = here.store.report(here.devices[0], report, now).await.expect("written");
            assert_eq!(received.taken, 5);
            packing.await.expect("ends").expect("packs");
        }
        here.pack(s(40 * 3600)).await;
        assert_eq!(here.count("SELECT count(*) FROM reading"), 0);
        assert_eq!(whole(&here).await.into_iter().map(|r| r.0).collect::<Vec<_>>(), expected);
    });
}

/// Who taps never takes over into the file what was written ahead; what is taken over is in the file itself.
#[test]
fn what_is_written_ahead_is_taken_over_into_the_file_by_nobody_who_waits_for_it() {
    run(async {
        let here = here(4).await;
        let ahead = here.file.with_extension("db-wal");
        let size = |file: &std::path::Path| std::fs::metadata(file).expect("there").len();
        let in_file = size(&here.file);
        here.report(0..8000).await;
        assert_eq!(size(&here.file), in_file);
        assert!(size(&ahead) > 4_200_000, "more than SQLite itself would leave: {}", size(&ahead));
        here.opened.check_in().await.expect("taken over");
        assert!(size(&here.file) > in_file + 500_000, "{} {in_file}", size(&here.file));
        // Read without what was written ahead, it is whole.
        let alone = here.file.with_file_name("alone.db");
        std::fs::copy(&here.file, &alone).expect("copied");
        let c = rusqlite::Connection::open(&alone).expect("a database");
        let count: i64 = c.query_row("SELECT count(*) FROM reading", [], |r| r.get(0)).expect("counted");
        assert_eq!(count, 32_000);
    });
}

#[test]
fn what_is_thinned_changes_nothing_that_is_worked_out_and_says_how_much_there_was() {
    run(async {
        let here = here(2).await;
        here.report(0..2 * 3600).await;
        // One that somebody struck out.
        let bath = here.judged().await;
        let (instrument, at) = (bath.instruments[0].id, s(1234));
        let strike = WaterEventKind::Struck { instrument, at };
        let event = NewWaterEvent { id: new_id(s(7300)), happened_at: s(7300), kind: strike };
        here.store
            .add_water(BATH, event, s(7300), BathRecord::with_water)
            .await
            .expect("struck")
            .expect("can be");
        let end = s(2 * 3600 + 200);
        here.empty(end).await;
        here.pack(s(6 * 3600)).await;
        let (reads, were) = (here.judged().await.reads_by_minute(), whole(&here).await.len());
        assert!(!here.store.thin_a_bath(s(13 * DAY_S)).await.expect("looked"), "not yet");
        here.store.keep_whole(30, s(13 * DAY_S)).await.expect("kept");
        assert!(
            !here.store.thin_a_bath(s(20 * DAY_S)).await.expect("looked"),
            "the kitchen keeps them longer"
        );
        assert!(here.store.keep_whole(3, s(13 * DAY_S)).await.is_err());
        assert!(here.store.thin_a_bath(s(31 * DAY_S)).await.expect("thinned"));
        assert!(!here.store.thin_a_bath(s(31 * DAY_S)).await.expect("looked"), "once");
        assert_eq!(here.judged().await.reads_by_minute(), reads);
        assert_eq!(here.count("SELECT stays_whole FROM bath"), 0);
        assert_eq!(
            here.count("SELECT count(*) FROM reading") + here.count("SELECT count(*) FROM reading_minute"),
            0
        );
        assert_eq!(here.count("SELECT sum(count) FROM reading_pack"), were as i64, "what there was is said");
        let bytes = here.count("SELECT sum(length(body)) FROM reading_pack");
        assert!(bytes < 240 * 30, "{bytes} bytes for 240 minutes");
        // Who did what, and when.
        let history = here.exported().await["changes"].to_string();
        assert!(history.contains("readings-thinned") && history.contains(&were.to_string()), "{history}");
        // What a device kept for a month comes too late, and is told so.
        let late = Report { readings: vec![reading(0, 60)], ..Report::default() };
        let received = here.store.report(here.devices[0], late, s(32 * DAY_S)).await.expect("answered");
        assert!(received.taken == 0 && received.not_taken[0].why.contains("too late"), "{received:?}");
    });
}

/// Files in a folder whose names begin so, and how long they are together.
fn of_folder(folder: &std::path::Path, prefix: &str) -> (usize, u64) {
    let all = std::fs::read_dir(folder).expect("lists").map(|e| e.expect("one"));
    let own = all.filter(|e| e.file_name().to_string_lossy().starts_with(prefix));
    own.fold((0, 0), |(n, bytes), e| (n + 1, bytes + e.metadata().expect("a file").len()))
}

#[test]
fn hours_of_readings_lie_once_beside_all_copies_and_each_copy_is_put_back_whole() {
    const READINGS: &str = "hold-steady-readings-";
    run(async {
        let mut here = here(2).await;
        let folder = here.file.with_file_name("copies");
        let store = Store::open(&here.file).await.expect("opens");
        let mut told = Vec::new();
        // Four nights, two hours of readings a day; a fortnight after its end it is thinned, and copied once more.
        for day in 0..4 {
            here.report(day * DAY_S..day * DAY_S + 7200).await;
            here.pack(s(day * DAY_S + DAY_S / 2)).await;
            if day == 3 {
                here.empty(s(3 * DAY_S + 7200)).await;
            }
            let made =
                store.nightly(&folder, date(2026, 11, 26 + day as i8)).await.expect("copied").expect("new");
            told.push((made, here.exported().await));
        }
        assert!(here.store.thin_a_bath(s(40 * DAY_S)).await.expect("thinned"));
        let made = store.nightly(&folder, date(2027, 1, 5)).await.expect("copied").expect("new");
        told.push((made, here.exported().await));
        let (files, bytes) = of_folder(&folder, READINGS);
        assert_eq!(files, 5, "one a night");
        // Sixteen hours of readings once, and once more what their minutes said: not ten, eight, six and four times.
        let packed = here.count("SELECT sum(count) FROM reading_pack");
        assert_eq!(packed, 4 * 2 * 7200);
        assert!(bytes < 16 * 3600 * 5, "{bytes}");
        let copies = of_folder(&folder, "hold-steady-20").1;
        assert!(copies / 5 < 450_000, "{copies}");
        // A copy is not served as it is.
        let served = Store::open(&told[0].0).await.map(drop);
        assert!(
            matches!(&served, Err(StoreError::Corrupt { reason, .. }) if reason.contains("restore")),
            "{served:?}"
        );
        // Each is put back whole, also from another place, with the files of readings beside it.
        let elsewhere = tempfile::tempdir().expect("a folder");
        for (copy, was) in &told {
            let to =
                elsewhere.path().join(format!("{}.db", copy.file_stem().expect("a name").to_string_lossy()));
            restore(copy, &to, s(50 * DAY_S)).expect("put back");
            here.store = Store::open(&to).await.expect("opens").in_kitchen(here.store.actor().clone());
            assert_eq!(here.exported().await, *was, "{}", copy.display());
        }
        // Without one of them it is said which are missing, and nothing is put in place.
        let first = folder.join(format!("{READINGS}00001.db"));
        std::fs::rename(&first, folder.join("elsewhere")).expect("moved");
        let to = elsewhere.path().join("none.db");
        let refused = restore(&told[1].0, &to, s(50 * DAY_S));
        assert!(
            matches!(&refused, Err(StoreError::Corrupt { reason, .. }) if reason.contains("4 hours of its readings")),
            "{refused:?}"
        );
        assert!(!to.exists());
        std::fs::rename(folder.join("elsewhere"), &first).expect("moved back");
        // Those that no copy needs any more go with the last that did.
        for day in 6..20 {
            store.nightly(&folder, date(2027, 1, day)).await.expect("copied").expect("new");
        }
        assert_eq!(of_folder(&folder, READINGS).0, 1, "what the minutes said");
    });
}
