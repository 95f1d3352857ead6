//! The database as a file: nobody else's, never two servers', copied whole.

use std::fs::{File, OpenOptions, TryLockError};
use std::io::Write;
use std::path::{Path, PathBuf};
use std::time::Duration;

use jiff::Timestamp;
use jiff::civil::Date;
use rusqlite::backup::Backup;
use rusqlite::{Connection, OpenFlags};
use uuid::Uuid;

use crate::migrate::SCHEMA_VERSION;
use crate::{Store, StoreError, read_error};

/// Nightly copies kept.
pub const COPIES_KEPT: usize = 14;

/// Held by the one server of a folder, for as long as it runs.
#[derive(Debug)]
pub struct FolderLock {
    _file: File,
}

impl FolderLock {
    /// Takes the folder of a database file.
    ///
    /// # Errors
    /// When another server has it, or it cannot be reached.
    pub fn take(database: &Path) -> Result<Self, StoreError> {
        let path = database.with_extension("lock");
        let unreachable =
            |e: std::io::Error| StoreError::Unreachable { path: path.clone(), reason: e.to_string() };
        prepare_folder(database)?;
        let file = private(OpenOptions::new().create(true).truncate(false).write(true))
            .open(&path)
            .map_err(unreachable)?;
        match file.try_lock() {
            Ok(()) => Ok(Self { _file: file }),
            Err(TryLockError::WouldBlock) => Err(StoreError::Served(database.into())),
            Err(TryLockError::Error(e)) => Err(unreachable(e)),
        }
    }
}

/// Files that only their owner reads: what is in them is about guests' health.
#[cfg(unix)]
fn private(options: &mut OpenOptions) -> &mut OpenOptions {
    std::os::unix::fs::OpenOptionsExt::mode(options, 0o600)
}

#[cfg(not(unix))]
fn private(options: &mut OpenOptions) -> &mut OpenOptions {
    options
}

/// Makes the folder where it is missing, for its owner only.
fn prepare_folder(database: &Path) -> Result<(), StoreError> {
    let Some(folder) = database.parent().filter(|f| !f.as_os_str().is_empty() && !f.exists()) else {
        return Ok(());
    };
    let mut builder = std::fs::DirBuilder::new();
    builder.recursive(true);
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
    builder
        .create(folder)
        .map_err(|e| StoreError::Unreachable { path: database.into(), reason: e.to_string() })
}

/// Makes the file where it is missing, and keeps others from reading it: SQLite gives the files it puts beside
/// it the same permissions.
pub(crate) fn prepare(path: &Path) -> Result<(), StoreError> {
    let unreachable =
        |e: std::io::Error| StoreError::Unreachable { path: path.into(), reason: e.to_string() };
    prepare_folder(path)?;
    private(OpenOptions::new().create(true).truncate(false).append(true)).open(path).map_err(unreachable)?;
    // One that an earlier version made.
    #[cfg(unix)]
    for end in ["", "-wal", "-shm"] {
        use std::os::unix::fs::PermissionsExt;
        let mut name = path.as_os_str().to_owned();
        name.push(end);
        let file = PathBuf::from(name);
        if file.exists() {
            std::fs::set_permissions(&file, std::fs::Permissions::from_mode(0o600)).map_err(unreachable)?;
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
        self.with(move |c| copy(c, &to)).await
    }

    /// Copies the whole database to `out`, by way of a file beside it.
    ///
    /// # Errors
    /// As [`Self::backup`]; or when `out` cannot be written.
    pub async fn copy_to(&self, mut out: impl Write + Send + 'static) -> Result<(), StoreError> {
        self.with(move |c| {
            let beside = c.path().map(PathBuf::from).unwrap_or_default();
            let to = beside.with_file_name(format!("copy-{}.tmp", Uuid::now_v7()));
            copy(c, &to)?;
            let sent = std::fs::File::open(&to)
                .and_then(|mut file| std::io::copy(&mut file, &mut out))
                .and_then(|_| out.flush());
            std::fs::remove_file(&to)?;
            Ok(sent?)
        })
        .await
    }

    /// The copy of the night: one a day in `folder`, the oldest beyond [`COPIES_KEPT`] taken away. Returns the
    /// one made, if today's was not there.
    ///
    /// # Errors
    /// As [`Self::backup`].
    pub async fn nightly(&self, folder: &Path, today: Date) -> Result<Option<PathBuf>, StoreError> {
        let to = folder.join(format!("hold-steady-{today}.db"));
        if to.exists() {
            return Ok(None);
        }
        prepare_folder(&to)?;
        self.backup(&to).await?;
        let unreachable =
            |e: std::io::Error| StoreError::Unreachable { path: folder.into(), reason: e.to_string() };
        let mut copies: Vec<PathBuf> = std::fs::read_dir(folder)
            .map_err(unreachable)?
            .filter_map(|entry| entry.ok().map(|e| e.path()))
            .filter(|path| is_a_copy(path))
            .collect();
        // Their names are their dates.
        copies.sort();
        for old in copies.iter().rev().skip(COPIES_KEPT) {
            std::fs::remove_file(old).map_err(unreachable)?;
        }
        Ok(Some(to))
    }
}

fn is_a_copy(path: &Path) -> bool {
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or_default();
    let date = name.strip_prefix("hold-steady-").and_then(|n| n.strip_suffix(".db"));
    date.is_some_and(|d| d.parse::<Date>().is_ok())
}

fn copy(from: &Connection, to: &Path) -> Result<(), StoreError> {
    const PAGES: i32 = 512;
    if to.exists() {
        return Err(StoreError::Conflict(format!(
            "{} is there already. Give another name; nothing is overwritten",
            to.display()
        )));
    }
    let mut part = to.as_os_str().to_owned();
    part.push(".part");
    let part = PathBuf::from(part);
    let whole = || -> Result<(), StoreError> {
        match std::fs::remove_file(&part) {
            Err(e) if e.kind() != std::io::ErrorKind::NotFound => {
                return Err(StoreError::Unreachable { path: part.clone(), reason: e.to_string() });
            }
            _ => {}
        }
        prepare(&part)?;
        let mut there = Connection::open(&part)?;
        Backup::new(from, &mut there)?.run_to_completion(PAGES, Duration::ZERO, None)?;
        // One file, without a log beside it.
        there.execute_batch("PRAGMA journal_mode = DELETE")?;
        drop(there);
        verify(&part)?;
        let done = File::open(&part).and_then(|f| f.sync_all()).and_then(|()| std::fs::rename(&part, to));
        done.map_err(|e| StoreError::Unreachable { path: to.into(), reason: e.to_string() })
    };
    let copied = whole();
    if copied.is_err() {
        // Half a copy is no copy; that it cannot be removed either changes nothing about the error.
        let _ = std::fs::remove_file(&part);
    }
    copied
}

/// Looks at an existing file without writing to it: whether SQLite finds it whole (by `quick_check` or
/// `integrity_check`), and whether it is one of ours and not of a later version. Hands on what it looked with.
pub(crate) fn examine(path: &Path, check: &str) -> Result<Connection, StoreError> {
    let corrupt = |reason: String| StoreError::Corrupt { path: path.into(), reason };
    let look = || -> rusqlite::Result<(Connection, String, i64)> {
        let c = Connection::open_with_flags(path, OpenFlags::SQLITE_OPEN_READ_ONLY)?;
        c.busy_timeout(Duration::from_millis(1500))?;
        let version = c.pragma_query_value(None, "user_version", |r| r.get(0))?;
        let found = c.query_row(&format!("PRAGMA {check}(1)"), [], |r| r.get(0))?;
        Ok((c, found, version))
    };
    let (c, found, version) = look().map_err(|e| read_error(path, &e))?;
    match version {
        _ if found != "ok" => Err(corrupt(found)),
        version if version > SCHEMA_VERSION => Err(StoreError::TooNew(path.into())),
        0 => Err(corrupt("it has tables that are not ours".into())),
        _ => Ok(c),
    }
}

/// Whether a file is a whole database of this program, every page and every reference of it.
///
/// # Errors
/// With what is wrong.
pub fn verify(path: &Path) -> Result<(), StoreError> {
    let corrupt = |reason: String| StoreError::Corrupt { path: path.into(), reason };
    if std::fs::metadata(path).map_or(0, |m| m.len()) == 0 {
        return Err(corrupt("it is empty or not there".into()));
    }
    let c = examine(path, "integrity_check")?;
    let look = || -> rusqlite::Result<(Option<String>, i64)> {
        let mut dangling = c.prepare("PRAGMA foreign_key_check")?;
        let dangling = dangling.query_map([], |r| r.get::<_, String>(0))?.next().transpose()?;
        let ours = c.query_row(
            "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('kitchen', 'cook', 'event', 'plan')",
            [],
            |r| r.get(0),
        )?;
        Ok((dangling, ours))
    };
    match look().map_err(|e| read_error(path, &e))? {
        (_, ours) if ours != 4 => Err(corrupt("it has tables that are not ours".into())),
        (Some(table), _) => Err(corrupt(format!("a record of “{table}” points to one that is not there"))),
        (None, _) => Ok(()),
    }
}

/// Puts a copy in the place of the database, once it has been looked through. What was there is kept beside it,
/// under a name that says when. Returns that name, if there was one.
///
/// # Errors
/// When a server runs in the folder, the copy is not whole, or a file cannot be written. Nothing is changed then.
pub fn restore(copy: &Path, database: &Path, now: Timestamp) -> Result<Option<PathBuf>, StoreError> {
    verify(copy)?;
    let _alone = FolderLock::take(database)?;
    let failed = |e: std::io::Error| StoreError::Unreachable { path: database.into(), reason: e.to_string() };
    let fresh = database.with_extension("restoring");
    std::fs::copy(copy, &fresh).map_err(failed)?;
    prepare(&fresh)?;
    File::open(&fresh).and_then(|f| f.sync_all()).map_err(failed)?;
    verify(&fresh)?;
    let mut kept = None;
    if database.exists() {
        // Its log goes into it first, so that what is kept is one whole file.
        Connection::open(database)
            .and_then(|c| c.execute_batch("PRAGMA busy_timeout = 1500; PRAGMA journal_mode = DELETE"))
            .map_err(|e| read_error(database, &e))?;
        let stamp = now.strftime("%Y-%m-%dT%H%M%SZ");
        let before = database.with_extension(format!("before-restore-{stamp}.db"));
        std::fs::rename(database, &before).map_err(failed)?;
        kept = Some(before);
    }
    std::fs::rename(&fresh, database).map_err(failed)?;
    Ok(kept)
}
