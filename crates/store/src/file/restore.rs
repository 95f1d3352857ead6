//! Putting a copy in the place of the database. What was there is put aside unread, all its files together; killed between
//! any two steps, whoever has the folder next ends it.

use std::fs::File;
use std::io::Write;
use std::path::{Path, PathBuf};

use jiff::Timestamp;
use rusqlite::Connection;
use serde::{Deserialize, Serialize};

use super::{FolderLock, PARTS, apart, prepare, private, remove, sync_folder, verify, with_end};
use crate::{StoreError, read_error};

/// The end of what is not written whole yet.
const PART: &str = ".part";

/// What is to be done, written down before the first file is moved.
#[derive(Debug, Serialize, Deserialize)]
struct Intent {
    /// The name under which what was there is kept.
    aside: PathBuf,
}

/// The copy, whole and looked through, before it gets its place. While it is there, what stands in its place is old.
fn fresh(database: &Path) -> PathBuf {
    database.with_extension("restoring")
}

fn intent(database: &Path) -> PathBuf {
    database.with_extension("restore")
}

/// Whether a copy was being put in the place of a database when it was killed.
pub(crate) fn is_pending(database: &Path) -> bool {
    intent(database).exists()
}

/// Puts a copy in the place of the database, once it has been looked through, with what stands in a log beside it. What
/// was there is kept beside it under a name that says when, whatever it is. Returns that name, if there was anything.
///
/// # Errors
/// When a server runs in the folder, the copy is not whole, or a file cannot be written. Nothing is changed then.
pub fn restore(copy: &Path, database: &Path, now: Timestamp) -> Result<Option<PathBuf>, StoreError> {
    let _alone = FolderLock::take(database)?;
    let failed = |e: std::io::Error| StoreError::Unreachable { path: database.into(), reason: e.to_string() };
    let (fresh, intent) = (fresh(database), intent(database));
    let ready = take_in(copy, &fresh).and_then(|()| {
        let aside = name_for(database, now);
        write_down(&intent, &Intent { aside: aside.clone() }).map_err(failed)?;
        Ok(aside)
    });
    let aside = match ready {
        Ok(aside) => aside,
        Err(e) => {
            // Nothing was moved yet; nothing stays.
            for left in PARTS.map(|end| with_end(&fresh, end)).iter().chain([&intent]) {
                let _ = remove(left);
            }
            return Err(e);
        }
    };
    finish(database)?;
    Ok(PARTS.iter().map(|end| with_end(&aside, end)).any(|p| p.exists()).then_some(aside))
}

/// Ends what was begun: files that are still in the copy's place go aside, the copy into its place. What was not begun in
/// earnest (nothing was written down) is taken away.
pub(super) fn finish(database: &Path) -> Result<(), StoreError> {
    let failed = |e: std::io::Error| StoreError::Unreachable { path: database.into(), reason: e.to_string() };
    let (fresh, intent) = (fresh(database), intent(database));
    let begun: Option<Intent> =
        std::fs::read(&intent).ok().and_then(|text| serde_json::from_slice(&text).ok());
    match begun {
        Some(Intent { aside }) if fresh.exists() => {
            for end in PARTS {
                let (from, to) = (with_end(database, end), with_end(&aside, end));
                match std::fs::rename(from, to) {
                    Err(e) if e.kind() != std::io::ErrorKind::NotFound => return Err(failed(e)),
                    _ => {}
                }
            }
            sync_folder(database).map_err(failed)?;
            std::fs::rename(&fresh, database).map_err(failed)?;
            sync_folder(database).map_err(failed)?;
        }
        // It had got its place.
        Some(_) => {}
        None => {
            for end in PARTS {
                remove(&with_end(&fresh, end)).map_err(failed)?;
            }
        }
    }
    remove(&with_end(&intent, PART)).map_err(failed)?;
    remove(&intent).map_err(failed)
}

/// A name that nothing has yet.
fn name_for(database: &Path, now: Timestamp) -> PathBuf {
    let stamp = now.strftime("%Y-%m-%dT%H%M%SZ");
    let name = |n: u32| {
        let more = if n == 0 { String::new() } else { format!("-{n}") };
        database.with_extension(format!("before-restore-{stamp}{more}.db"))
    };
    let free = |path: &PathBuf| PARTS.iter().all(|end| !with_end(path, end).exists());
    (0..).map(name).find(free).unwrap_or_else(|| name(0))
}

/// Copies a copy to `fresh` with its log, brings the log into it, and looks it through. What it is taken from is only read.
fn take_in(copy: &Path, fresh: &Path) -> Result<(), StoreError> {
    let failed = |e: std::io::Error| StoreError::Unreachable { path: copy.into(), reason: e.to_string() };
    for end in PARTS {
        remove(&with_end(fresh, end)).map_err(failed)?;
    }
    if std::fs::metadata(copy).map_or(0, |m| m.len()) == 0 {
        return Err(StoreError::Corrupt { path: copy.into(), reason: "it is empty or not there".into() });
    }
    // Before anything is in them, so that nobody else ever reads them.
    prepare(fresh)?;
    std::fs::copy(copy, fresh).map_err(failed)?;
    let log = with_end(copy, "-wal");
    if log.exists() {
        let beside = with_end(fresh, "-wal");
        private(File::options().create(true).truncate(true).write(true)).open(&beside).map_err(failed)?;
        std::fs::copy(log, &beside).map_err(failed)?;
    }
    prepare(fresh)?;
    let named = |e: StoreError| match e {
        StoreError::Corrupt { path, reason } if path == fresh => {
            StoreError::Corrupt { path: copy.into(), reason }
        }
        StoreError::TooNew(_) => StoreError::TooNew(copy.into()),
        other => other,
    };
    Connection::open(fresh)
        .and_then(|c| c.execute_batch("PRAGMA journal_mode = DELETE"))
        .map_err(|e| named(read_error(fresh, &e)))?;
    // A copy of a night: its readings lie beside it.
    let folder = copy.parent().filter(|f| !f.as_os_str().is_empty()).unwrap_or_else(|| Path::new("."));
    apart::fill_in(fresh, folder).map_err(named)?;
    verify(fresh).map_err(named)?;
    for end in ["-wal", "-shm"] {
        remove(&with_end(fresh, end)).map_err(failed)?;
    }
    File::open(fresh).and_then(|f| f.sync_all()).map_err(failed)
}

/// Written whole or not at all.
fn write_down(path: &Path, intent: &Intent) -> std::io::Result<()> {
    let part = with_end(path, PART);
    let mut file = private(File::options().create(true).truncate(true).write(true)).open(&part)?;
    file.write_all(&serde_json::to_vec(intent)?)?;
    file.sync_all()?;
    std::fs::rename(&part, path)?;
    sync_folder(path)
}
