//! The database as a file: nobody else's, never two servers', copied whole, put back whole.

mod apart;
mod copy;
mod restore;
mod schema;

use std::fs::{File, OpenOptions, TryLockError};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use rusqlite::{Connection, OpenFlags};

use crate::migrate::SCHEMA_VERSION;
use crate::{StoreError, read_error};

pub(crate) use apart::is_apart;
pub use copy::COPIES_KEPT;
pub(crate) use restore::is_pending;
pub use restore::restore;

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
            Ok(()) => {
                // What was killed half-way is ended first, by whoever has the folder.
                restore::finish(database)?;
                copy::sweep(database).map_err(unreachable)?;
                Ok(Self { _file: file })
            }
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

/// A database in use is these files together: their ends.
const PARTS: [&str; 3] = ["", "-wal", "-shm"];

/// The name of a file with something after it.
pub(crate) fn with_end(path: &Path, end: &str) -> PathBuf {
    let mut name = path.as_os_str().to_owned();
    name.push(end);
    PathBuf::from(name)
}

/// Takes a file away where it is there.
pub(crate) fn remove(path: &Path) -> std::io::Result<()> {
    match std::fs::remove_file(path) {
        Err(e) if e.kind() != std::io::ErrorKind::NotFound => Err(e),
        _ => Ok(()),
    }
}

/// Makes sure that names in a file's folder are what they are said to be, also after the power fails.
fn sync_folder(of: &Path) -> std::io::Result<()> {
    let folder = of.parent().filter(|f| !f.as_os_str().is_empty()).unwrap_or_else(|| Path::new("."));
    // Elsewhere a folder cannot be opened, and its names are written at once.
    if cfg!(unix) { File::open(folder)?.sync_all() } else { Ok(()) }
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
    for end in PARTS {
        use std::os::unix::fs::PermissionsExt;
        let file = with_end(path, end);
        if file.exists() {
            std::fs::set_permissions(&file, std::fs::Permissions::from_mode(0o600)).map_err(unreachable)?;
        }
    }
    Ok(())
}

/// How closely a database is looked through.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Look {
    /// At the start: for two seconds at most, however long it is; the copy of the night is looked through whole.
    AtStart,
    /// Every page and every index of it.
    Whole,
}

/// How long is looked at the start.
const AT_START: Duration = Duration::from_secs(2);

/// Looks at an existing file without writing to it: whether SQLite finds it whole, and whether it is one of ours and not
/// of a later version. Hands on what it looked with.
pub(crate) fn examine(path: &Path, look: Look) -> Result<Connection, StoreError> {
    let corrupt = |reason: String| StoreError::Corrupt { path: path.into(), reason };
    let looked = || -> rusqlite::Result<(Connection, String, i64)> {
        let c = Connection::open_with_flags(path, OpenFlags::SQLITE_OPEN_READ_ONLY)?;
        c.busy_timeout(Duration::from_millis(1500))?;
        let version = c.pragma_query_value(None, "user_version", |r| r.get(0))?;
        let found = match look {
            Look::Whole => c.query_row("PRAGMA integrity_check(1)", [], |r| r.get(0))?,
            Look::AtStart => {
                let begun = Instant::now();
                c.progress_handler(10_000, Some(move || begun.elapsed() > AT_START))?;
                let found = c.query_row("PRAGMA quick_check(1)", [], |r| r.get(0));
                c.progress_handler(0, None::<fn() -> bool>)?;
                match found {
                    Err(e) if e.sqlite_error_code() == Some(rusqlite::ErrorCode::OperationInterrupted) => {
                        "ok".to_owned()
                    }
                    found => found?,
                }
            }
        };
        Ok((c, found, version))
    };
    let (c, found, version) = looked().map_err(|e| read_error(path, &e))?;
    match version {
        _ if found != "ok" => Err(corrupt(found)),
        version if version > SCHEMA_VERSION => Err(StoreError::TooNew(path.into())),
        0 => Err(corrupt("it has tables that are not ours".into())),
        _ => Ok(c),
    }
}

/// Whether a file is a whole database of this program: every page and every reference of it, and all its tables, indexes
/// and triggers, no more and no less.
///
/// # Errors
/// With what is wrong.
pub fn verify(path: &Path) -> Result<(), StoreError> {
    let corrupt = |reason: String| StoreError::Corrupt { path: path.into(), reason };
    if std::fs::metadata(path).map_or(0, |m| m.len()) == 0 {
        return Err(corrupt("it is empty or not there".into()));
    }
    let c = examine(path, Look::Whole)?;
    if let Some(reason) = schema::differs(&c).map_err(|e| read_error(path, &e))? {
        return Err(corrupt(reason));
    }
    let mut dangling = c.prepare("PRAGMA foreign_key_check")?;
    let dangling = dangling.query_map([], |r| r.get::<_, String>(0))?.next().transpose();
    match dangling.map_err(|e| read_error(path, &e))? {
        Some(table) => Err(corrupt(format!("a record of “{table}” points to one that is not there"))),
        None => Ok(()),
    }
}
