//! Copies made while it is written to, and put back from every state a folder can be in.

use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

use crate::common::run;
use hold_steady_store::{COPIES_KEPT, FolderLock, Store, StoreError, restore, verify};
use jiff::Timestamp;
use jiff::civil::date;

fn now() -> Timestamp {
    "2026-11-25T16:00:00Z".parse().expect("an instant")
}

/// A kitchen of a name, as one whole file.
fn kitchen(file: &Path, name: &str) {
    let folder = tempfile::tempdir().expect("a folder");
    let lively = folder.path().join("lively.db");
    run(async {
        let store = Store::open(&lively).await.expect("opens");
        store.kitchen(now(), Some(name.into()), None).await.expect("a kitchen");
        store.backup(file).await.expect("copied");
    });
}

fn name_in(file: &Path) -> String {
    run(async {
        let store = Store::open(file).await.expect("opens");
        store.kitchen(now(), None, None).await.expect("there").name
    })
}

fn end(path: &Path, end: &str) -> PathBuf {
    PathBuf::from(format!("{}{end}", path.display()))
}

/// The files of a database in use, its last change still in the log: bytes of the file, the log and its index.
fn in_use(name: &str) -> [Vec<u8>; 3] {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("hold-steady.db");
    kitchen(&file, "before");
    let c = rusqlite::Connection::open(&file).expect("a database");
    c.execute_batch("PRAGMA journal_mode = WAL; PRAGMA wal_autocheckpoint = 0").expect("set");
    c.execute("UPDATE kitchen SET name = ?1", [name]).expect("written");
    ["", "-wal", "-shm"].map(|e| std::fs::read(end(&file, e)).expect("there while it is open"))
}

#[test]
fn a_copy_is_put_back_from_every_state_of_what_was_there() {
    let folder = tempfile::tempdir().expect("a folder");
    let copy = folder.path().join("copy.db");
    kitchen(&copy, "the copy");
    let (present, stale) = (in_use("present"), in_use("stale"));
    let damaged = [b"supper".to_vec(), vec![0x5a; 40_000], vec![0xff; 32_768]];
    // The file cut off in its middle is damaged as well as one that never was a database.
    let cut = present[0][..present[0].len() / 2].to_vec();
    let states = |part: usize| {
        let mut all = vec![None, Some(&present[part]), Some(&stale[part]), Some(&damaged[part])];
        if part == 0 {
            all.push(Some(&cut));
        }
        all
    };
    let mut tried = 0;
    for db in states(0) {
        for wal in states(1) {
            for shm in states(2) {
                let place = tempfile::tempdir().expect("a folder");
                let file = place.path().join("hold-steady.db");
                let parts = [("", db), ("-wal", wal), ("-shm", shm)];
                for (e, bytes) in parts {
                    if let Some(bytes) = bytes {
                        std::fs::write(end(&file, e), bytes).expect("written");
                    }
                }
                let kept = restore(&copy, &file, now()).expect("put back");
                assert_eq!(name_in(&file), "the copy");
                assert_eq!(kept.is_some(), parts.iter().any(|p| p.1.is_some()));
                // What was there is there still, byte for byte and together.
                for (e, bytes) in parts {
                    let found = kept.as_ref().and_then(|k| std::fs::read(end(k, e)).ok());
                    assert_eq!(found.as_ref(), bytes, "{e}");
                }
                tried += 1;
            }
        }
    }
    assert_eq!(tried, 80);
}

/// What stands in a folder, by name.
fn names(folder: &Path) -> Vec<String> {
    let mut all: Vec<String> = std::fs::read_dir(folder)
        .expect("there")
        .map(|e| e.expect("an entry").file_name().to_string_lossy().into_owned())
        .filter(|n| !n.ends_with(".lock"))
        .collect();
    all.sort();
    all
}

#[test]
fn killed_between_any_two_steps_it_is_ended_by_whoever_comes_next() {
    let old = in_use("the old one");
    let ends = ["", "-wal", "-shm"];
    // How many of the old files were moved, whether the copy has its place, whether the intent is still there.
    let mut steps: Vec<(Option<usize>, bool)> = (0..=3).map(|moved| (Some(moved), false)).collect();
    steps.push((Some(3), true));
    steps.push((None, false));
    for (moved, placed) in steps {
        let folder = tempfile::tempdir().expect("a folder");
        let file = folder.path().join("hold-steady.db");
        let aside = folder.path().join("hold-steady.before-restore-2026-11-25T160000Z.db");
        for (i, (e, bytes)) in ends.iter().zip(&old).enumerate() {
            let at = if moved.is_some_and(|m| i < m) { &aside } else { &file };
            std::fs::write(end(at, e), bytes).expect("written");
        }
        kitchen(
            &folder.path().join(if placed { "hold-steady.db" } else { "hold-steady.restoring" }),
            "the copy",
        );
        if moved.is_some() {
            let intent = serde_json::json!({ "aside": aside });
            std::fs::write(folder.path().join("hold-steady.restore"), intent.to_string()).expect("written");
        }
        drop(FolderLock::take(&file).expect("nobody else has it"));
        let left = names(folder.path());
        assert!(!left.iter().any(|n| n.ends_with(".restoring") || n.ends_with(".restore")), "{left:?}");
        // Nothing had been begun in earnest: it is as it was. Else it is done.
        let (now, before) = match moved {
            None => ("the old one", None),
            Some(_) => ("the copy", Some("the old one")),
        };
        assert_eq!(name_in(&file), now, "{moved:?} {placed}");
        if let Some(before) = before {
            assert_eq!(name_in(&aside), before, "{moved:?} {placed}: all its files are together");
        }
    }
}

#[test]
fn a_restore_that_fails_leaves_nothing_behind_and_changes_nothing() {
    let folder = tempfile::tempdir().expect("a folder");
    let (file, copies) = (folder.path().join("hold-steady.db"), tempfile::tempdir().expect("a folder"));
    kitchen(&file, "as it was");
    let whole = std::fs::read(&file).expect("there");
    let foreign = |sql: &str| {
        let copy = copies.path().join(format!("{}.db", uuid::Uuid::now_v7()));
        kitchen(&copy, "tampered with");
        let c = rusqlite::Connection::open(&copy).expect("a database");
        c.execute_batch(&format!("PRAGMA foreign_keys = OFF; {sql}")).expect("done");
        copy
    };
    let written = |bytes: &[u8]| {
        let copy = copies.path().join(format!("{}.db", uuid::Uuid::now_v7()));
        std::fs::write(&copy, bytes).expect("written");
        copy
    };
    let refused = [
        (foreign("CREATE TRIGGER robs AFTER INSERT ON event BEGIN DELETE FROM reading; END"), "robs"),
        (foreign("DROP TRIGGER event_is_never_removed"), "event_is_never_removed"),
        (foreign("DROP TABLE heard"), "heard"),
        (foreign("CREATE TABLE more (x)"), "more"),
        (foreign("ALTER TABLE person ADD COLUMN x TEXT"), "person"),
        (foreign("PRAGMA user_version = 99"), "later version"),
        (written(b"supper"), "damaged"),
        (written(b""), "empty"),
        (written(&whole[..whole.len() / 2]), "damaged"),
        (copies.path().join("nowhere.db"), "not there"),
    ];
    for (copy, why) in refused {
        let said = restore(&copy, &file, now()).expect_err(why).to_string();
        assert!(said.contains(why) && said.contains(&copy.display().to_string()), "{why}: {said}");
        assert_eq!(names(folder.path()), ["hold-steady.db"], "{why}");
        assert_eq!(std::fs::read(&file).expect("there"), whole, "{why}");
    }
}

#[test]
fn what_stands_in_the_log_beside_a_copy_is_in_it_and_the_copy_is_only_read() {
    let folder = tempfile::tempdir().expect("a folder");
    let copy = folder.path().join("taken.db");
    let parts = in_use("in the log");
    for (e, bytes) in ["", "-wal"].iter().zip(&parts) {
        std::fs::write(end(&copy, e), bytes).expect("written");
    }
    let file = folder.path().join("kitchen").join("hold-steady.db");
    assert_eq!(restore(&copy, &file, now()).expect("put back"), None);
    assert_eq!(name_in(&file), "in the log");
    assert_eq!(names(folder.path()), ["kitchen", "taken.db", "taken.db-wal"]);
    for (e, bytes) in ["", "-wal"].iter().zip(&parts) {
        assert_eq!(&std::fs::read(end(&copy, e)).expect("there"), bytes, "{e}");
    }
}

#[test]
fn a_copy_is_finished_and_of_one_moment_while_it_is_written_to_all_the_time() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("hold-steady.db");
    let (stop, written) = (Arc::new(AtomicBool::new(false)), Arc::new(AtomicU64::new(0)));
    run(async {
        let store = Store::open(&file).await.expect("opens");
        store.kitchen(now(), Some("busy".into()), None).await.expect("a kitchen");
        let writing = {
            let (file, stop, written) = (file.clone(), stop.clone(), written.clone());
            std::thread::spawn(move || {
                let c = rusqlite::Connection::open(&file).expect("a database");
                c.busy_timeout(std::time::Duration::from_secs(5)).expect("set");
                // Both change in one transaction: a copy of two moments would have them apart.
                while !stop.load(Ordering::Acquire) {
                    c.execute_batch(
                        "BEGIN IMMEDIATE;
                         INSERT INTO pulse (only_one, beats, at) VALUES (1, 1, 0) ON CONFLICT (only_one) DO UPDATE SET beats = beats + 1;
                         UPDATE kitchen SET name = (SELECT beats FROM pulse);
                         COMMIT",
                    )
                    .expect("written");
                    written.fetch_add(1, Ordering::AcqRel);
                }
            })
        };
        while written.load(Ordering::Acquire) < 10 {
            tokio::time::sleep(std::time::Duration::from_millis(2)).await;
        }
        for n in 0..5 {
            let before = written.load(Ordering::Acquire);
            let copy = folder.path().join(format!("copy-{n}.db"));
            store.backup(&copy).await.expect("copied");
            verify(&copy).expect("whole");
            let c = rusqlite::Connection::open(&copy).expect("a database");
            let (name, beats): (String, i64) = c
                .query_row("SELECT name, beats FROM kitchen, pulse", [], |r| Ok((r.get(0)?, r.get(1)?)))
                .expect("there");
            assert_eq!(name, beats.to_string());
            assert!(beats + 1 >= i64::try_from(before).expect("few"), "{beats} {before}");
        }
        stop.store(true, Ordering::Release);
        writing.join().expect("no panic");
    });
}

#[test]
fn the_copies_made_first_go_first_and_the_newest_never_whatever_the_clock_showed() {
    let folder = tempfile::tempdir().expect("a folder");
    let copies = folder.path().join("copies");
    run(async {
        let store = Store::open(&folder.path().join("hold-steady.db")).await.expect("opens");
        store.kitchen(now(), Some("by its clock".into()), None).await.expect("a kitchen");
        // Its clock was years ahead for a fortnight, then it was set right.
        let (ahead, right) = (date(2031, 1, 1), date(2026, 11, 25));
        for (from, days) in [(ahead, COPIES_KEPT), (right, 3)] {
            let mut day = from;
            for _ in 0..days {
                let made = store.nightly(&copies, day).await.expect("copied").expect("a new one");
                assert!(made.exists(), "the one just made is there");
                assert_eq!(store.nightly(&copies, day).await.expect("looked"), None, "one a day");
                day = day.tomorrow().expect("a day");
            }
        }
        let left = names(&copies);
        assert_eq!(left.len(), COPIES_KEPT);
        for day in ["2026-11-25", "2026-11-26", "2026-11-27"] {
            assert!(left.iter().any(|n| n.contains(day)), "{day}: {left:?}");
        }
        assert!(!left.iter().any(|n| n.contains("2031-01-03")), "made first: {left:?}");
        // Nothing else that lies there is taken away.
        std::fs::write(copies.join("notes.txt"), "mine").expect("written");
        store.nightly(&copies, date(2026, 11, 28)).await.expect("copied");
        assert!(copies.join("notes.txt").exists());
    });
}

#[test]
fn a_file_taken_out_has_no_name_and_needs_no_connection_once_it_is_made() {
    let folder = tempfile::tempdir().expect("a folder");
    run(async {
        let store = Store::open(&folder.path().join("hold-steady.db")).await.expect("opens");
        store.kitchen(now(), None, None).await.expect("a kitchen");
        let held: Vec<_> = [store.copied().await, store.copied().await, store.copied().await].into();
        let left = names(folder.path());
        assert!(left.iter().all(|n| n.starts_with("hold-steady.db")), "{left:?}");
        let length = |f: &Result<std::fs::File, StoreError>| {
            f.as_ref().expect("copied").metadata().expect("a file").len()
        };
        assert!(held.iter().all(|f| length(f) > 50_000));
        store.backup(&folder.path().join("one.db")).await.expect("connections are left");
    });
    // Left by a program that was killed: taken away by the next.
    for name in ["copy-x.hold-steady-tmp", "copy-x.hold-steady-tmp.part", "out-x.hold-steady-tmp"] {
        std::fs::write(folder.path().join(name), "half").expect("written");
    }
    drop(FolderLock::take(&folder.path().join("hold-steady.db")).expect("nobody has it"));
    assert!(!names(folder.path()).iter().any(|n| n.contains("tmp")));
}
