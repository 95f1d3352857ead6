//! Copies: of one moment, made while it is written to, looked through before they get their name.

use std::fs::File;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;

use jiff::civil::Date;
use rusqlite::Connection;
use uuid::Uuid;

use super::{apart, prepare, prepare_folder, private, remove, sync_folder, verify, with_end};
use crate::{Store, StoreError};

/// Nightly copies kept.
pub const COPIES_KEPT: usize = 14;

/// What is taken away where it was left by a program that was killed.
const SCRATCH: &str = ".hold-steady-tmp";

/// Takes away what was left of copies and imports that were not finished. For whoever has the folder alone.
pub(super) fn sweep(database: &Path) -> std::io::Result<()> {
    let folder = database.parent().filter(|f| !f.as_os_str().is_empty()).unwrap_or_else(|| Path::new("."));
    for entry in std::fs::read_dir(folder)? {
        let entry = entry?;
        let name = entry.file_name().to_string_lossy().into_owned();
        let of = name.strip_suffix(".part").or_else(|| name.strip_suffix("-journal")).unwrap_or(&name);
        if of.ends_with(SCRATCH) {
            remove(&entry.path())?;
        }
    }
    Ok(())
}

impl Store {
    /// Copies the whole database into a new file, while it is served or not. The copy is looked through before
    /// it gets its name, and replaces none.
    ///
    /// # Errors
    /// When the file is there already, cannot be written, or the copy is not whole.
    pub async fn backup(&self, to: &Path) -> Result<(), StoreError> {
        let to = to.to_owned();
        self.aside(move |c| copy(c, &to, |_| Ok(()))).await
    }

    /// Where the database is.
    #[must_use]
    pub fn path(&self) -> &Path {
        &self.file
    }

    /// A copy of the whole database to read from: it has no name, and is gone once it is closed.
    ///
    /// # Errors
    /// As [`Self::backup`].
    pub async fn copied(&self) -> Result<File, StoreError> {
        let to = self.file.with_file_name(format!("copy-{}{SCRATCH}", Uuid::now_v7()));
        self.aside(move |c| {
            copy(c, &to, |_| Ok(()))?;
            let file = File::open(&to);
            remove(&to)?;
            Ok(file?)
        })
        .await
    }

    /// A file beside the database to write something into and read it from again; it has no name, and is gone once it is
    /// closed.
    ///
    /// # Errors
    /// When it cannot be made.
    pub fn scratch(&self) -> Result<File, StoreError> {
        let path = self.file.with_file_name(format!("out-{}{SCRATCH}", Uuid::now_v7()));
        let file = private(File::options().read(true).write(true).create_new(true)).open(&path)?;
        remove(&path)?;
        Ok(file)
    }

    /// A name beside the database that nothing has; what is left of it is swept up at the next start.
    pub(crate) fn scratch_path(&self) -> PathBuf {
        self.file.with_file_name(format!("in-{}{SCRATCH}", Uuid::now_v7()))
    }

    /// The copy of the night: one a day in `folder`, those made first beyond [`COPIES_KEPT`] taken away. Readings of past hours
    /// lie there once for all of them. Returns the one made, if today's was not there.
    ///
    /// # Errors
    /// As [`Self::backup`].
    pub async fn nightly(&self, folder: &Path, today: Date) -> Result<Option<PathBuf>, StoreError> {
        let unreachable =
            |e: std::io::Error| StoreError::Unreachable { path: folder.into(), reason: e.to_string() };
        prepare_folder(&folder.join("copy"))?;
        let mut copies: Vec<(Made, PathBuf)> = std::fs::read_dir(folder)
            .map_err(unreachable)?
            .filter_map(|entry| entry.ok().map(|e| e.path()))
            .filter_map(|path| Some((Made::of(&path)?, path)))
            .collect();
        if copies.iter().any(|(made, _)| made.day == today) {
            return Ok(None);
        }
        let turn = copies.iter().map(|(made, _)| made.turn).max().unwrap_or(0) + 1;
        let to = folder.join(Made { turn, day: today }.name());
        let (made, apart) = (to.clone(), folder.to_owned());
        self.aside(move |c| copy(c, &made, |part| apart::take_out(part, &apart))).await?;
        // In the order they were made, whatever the clock showed then: the one just made is the last.
        copies.sort();
        let stay = COPIES_KEPT.saturating_sub(1);
        for (_, old) in copies.iter().rev().skip(stay) {
            std::fs::remove_file(old).map_err(unreachable)?;
        }
        let mut here: Vec<PathBuf> = copies.into_iter().rev().take(stay).map(|(_, path)| path).collect();
        here.push(to.clone());
        let folder = folder.to_owned();
        self.aside(move |_| apart::prune(&folder, &here)).await?;
        Ok(Some(to))
    }
}

/// What a copy's name says: the how manieth it is, and the day it was made. Those of before 0.2 have no number and come
/// first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Made {
    turn: u64,
    day: Date,
}

impl Made {
    fn name(&self) -> String {
        format!("hold-steady-{}-{:05}.db", self.day, self.turn)
    }

    fn of(path: &Path) -> Option<Self> {
        let name = path.file_name()?.to_str()?.strip_prefix("hold-steady-")?.strip_suffix(".db")?;
        const DAY: usize = "2026-11-25".len();
        let (day, rest) = name.split_at_checked(DAY)?;
        let turn = if rest.is_empty() { 0 } else { rest.strip_prefix('-')?.parse().ok()? };
        Some(Self { turn, day: day.parse().ok()? })
    }
}

/// Copies a database as it is at one moment, in one transaction that reads: what is written meanwhile neither waits nor is
/// in it. What is done with it before it gets its name is done once it was looked through.
fn copy(
    from: &Connection,
    to: &Path,
    then: impl FnOnce(&Path) -> Result<(), StoreError>,
) -> Result<(), StoreError> {
    if to.exists() {
        return Err(StoreError::Conflict(format!(
            "{} is there already. Give another name; nothing is overwritten",
            to.display()
        )));
    }
    let part = with_end(to, ".part");
    let whole = || -> Result<(), StoreError> {
        remove(&part).map_err(|e| StoreError::Unreachable { path: part.clone(), reason: e.to_string() })?;
        // An empty file is taken; so it is nobody else's from its beginning.
        prepare(&part)?;
        as_it_goes(&part, || from.execute("VACUUM INTO ?1", [part.to_string_lossy()]))?;
        // One file, without a log beside it.
        Connection::open(&part)?.execute_batch("PRAGMA journal_mode = DELETE")?;
        verify(&part)?;
        then(&part)?;
        let done = File::open(&part)
            .and_then(|f| f.sync_all())
            .and_then(|()| std::fs::rename(&part, to))
            .and_then(|()| sync_folder(to));
        done.map_err(|e| StoreError::Unreachable { path: to.into(), reason: e.to_string() })
    };
    let copied = whole();
    if copied.is_err() {
        // Half a copy is no copy; that it cannot be removed either changes nothing about the error.
        let _ = remove(&part);
    }
    copied
}

/// Does what writes a large file, and has what it wrote taken to the disk as it goes: all at once at its end, whoever waits for
/// a tap to be on the disk would wait for all of it.
fn as_it_goes<T>(file: &Path, work: impl FnOnce() -> T) -> T {
    const EACH: Duration = Duration::from_millis(20);
    struct Ended<'a>(&'a AtomicBool);
    impl Drop for Ended<'_> {
        fn drop(&mut self) {
            self.0.store(true, Ordering::Relaxed);
        }
    }
    let ended = AtomicBool::new(false);
    std::thread::scope(|threads| {
        let _ended = Ended(&ended);
        threads.spawn(|| {
            while !ended.load(Ordering::Relaxed) {
                std::thread::sleep(EACH);
                // That it is on the disk is asked at the end; here it only goes.
                let _ = File::open(file).and_then(|f| f.sync_data());
            }
        });
        work()
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn copies_stand_in_the_order_they_were_made_whatever_the_clock_showed() {
        let made = |name: &str| Made::of(Path::new(name));
        let (old, ahead, later) = (
            made("hold-steady-2026-11-25.db").expect("one of before"),
            made("hold-steady-2031-01-01-00007.db").expect("made while the clock was ahead"),
            made("hold-steady-2026-11-30-00008.db").expect("made after"),
        );
        assert!(old < ahead && ahead < later);
        assert_eq!(later.name(), "hold-steady-2026-11-30-00008.db");
        for other in
            ["hold-steady.db", "hold-steady-2026-13-01.db", "hold-steady-2026-11-30-x.db", "notes.txt"]
        {
            assert_eq!(made(other), None, "{other}");
        }
    }
}
