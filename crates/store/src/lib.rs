//! What Hold Steady remembers.
//!
//! One SQLite file in WAL mode. Pages, taps, reports of devices and what takes long have connections of their own, so that
//! none waits for another. The folders are the parts of the cook's work, as in the core; the core
//! decides what may be written down, this crate writes it down and loses none of it.
//!
//! # From the simplest use to the rarest
//!
//! **A kitchen and its book.** [`Store::open`] looks at the file before it writes anything: a locked, damaged or later
//! one is left as it was. A kitchen's records are reached through one door, with whoever acts ([`Store::in_kitchen`]);
//! what is written carries their name.
//!
//! ```
//! use hold_steady_store::{Actor, CookPhase, Role, Store};
//! # tokio::runtime::Builder::new_current_thread().enable_all().build()?.block_on(async {
//! let folder = tempfile::tempdir()?;
//! let now = "2026-11-25T16:00:00Z".parse()?;
//! let store = Store::open(&folder.path().join("book.db")).await?;
//! let kitchen = store.kitchen(now, Some("Harbour galley".into()), None).await?;
//! let ida = store.in_kitchen(Actor { kitchen: kitchen.id, by: "Ida".into(), role: Role::Cook });
//! let (cooks, all, _) = ida.cooks_that(CookPhase::UnderWay, (0, 10)).await?;
//! assert!(cooks.is_empty() && all == 0);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! # })?;
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! **A plan is taken up, and things happen.** [`InKitchen::start_cook`] writes the plan's snapshot with its bag and bath;
//! [`InKitchen::add_event`] loads what has happened, asks the core whether this can have happened too, and writes it, in
//! one transaction, under an identifier the page chose: sent twice, it happened once.
//!
//! **What a kitchen settles and keeps.** [`InKitchen::settle`], [`InKitchen::keep_habits`], [`InKitchen::keep_person`],
//! [`InKitchen::keep_food`] and their like write what is so now, and beside it who changed what and when.
//!
//! **Taken out and brought in.** [`InKitchen::export`] and [`InKitchen::export_csv`] write record by record to anything
//! that can be written to; [`InKitchen::import`] takes what the core's reading lets through, puts it together beside the
//! database, and adds it in one transaction, marked; never to what is under way here.
//!
//! **The file itself.** [`Store::backup`], [`Store::copy_to`], [`restore`]; [`FolderLock`] for one server a folder; a
//! database of any older schema is carried on (`migrate`), a later one is refused untouched.

mod actor;
mod bath;
mod book;
mod cook;
mod door;
mod file;
mod food;
mod keep;
mod kitchen;
mod listed;
mod migrate;
mod pulse;
mod rows;
mod secret;
mod time;
mod who;

use std::path::{Path, PathBuf};
use std::sync::{Arc, LazyLock, Mutex, PoisonError};
use std::time::Duration;

use deadpool_sqlite::{Config, Hook, HookError, Object, Pool, PoolError, Runtime};
use hold_steady_core::book::ImportError;
use jiff::Timestamp;
use migrate::MIGRATIONS;
use rusqlite::{Connection, ErrorCode};
use uuid::{ContextV7, Uuid};

pub use actor::{Actor, InKitchen};
pub use bath::{Device, Lies, NewBath, NewWaterEvent, Received, Reporter, WHOLE_DAYS};
pub use book::{Found, Imported, Origin, Search};
pub use cook::phase::{CookPhase, Unreadable};
pub use cook::{NewCook, NewEvent, NewPlan};
pub use door::{AtDoor, Mark, Member, OnScreen, Period, PinTry, Screen, Session, Signed, Welcome, WithPin};
pub use file::{COPIES_KEPT, FolderLock, restore, verify};
pub use hold_steady_core::who::Role;
pub use kitchen::Kitchen;
pub use listed::Put;
pub use pulse::Beat;

/// Why the store cannot do what it was asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// Another program holds the file.
    #[error("the database {} is locked by another program. Close it (another copy of hold-steady, a backup, a database browser) and try again; nothing was changed.", .0.display())]
    Locked(PathBuf),
    /// The file is damaged or is something else.
    #[error("the database {} is damaged or is not a database of hold-steady ({reason}). It was left as it is. Move it away and restore a copy, or start with another folder (--data).", .path.display())]
    Corrupt {
        /// The file.
        path: PathBuf,
        /// What was found.
        reason: String,
    },
    /// Written by a later version.
    #[error("the database {} was written by a later version of hold-steady. Update this program; nothing was changed.", .0.display())]
    TooNew(PathBuf),
    /// The folder or file cannot be reached.
    #[error("the database {} cannot be opened: {reason}. Check the folder and its permissions.", .path.display())]
    Unreachable {
        /// The file.
        path: PathBuf,
        /// What was found.
        reason: String,
    },
    /// The record asked for is not there.
    #[error("there is no such record")]
    NotFound,
    /// A record cannot be read.
    #[error("a record cannot be read: {0}")]
    Record(String),
    /// A file cannot be brought in.
    #[error("nothing was imported: {0}")]
    Import(#[from] ImportError),
    /// An identifier is taken by something else.
    #[error("{0}")]
    Conflict(String),
    /// Another server has the folder.
    #[error("{} is being served already. Two servers on one folder would not see each other’s changes: stop the other one, or give another folder with --data.", .0.display())]
    Served(PathBuf),
    /// There is no room left.
    #[error("the disk is full: it could not be written down. Make room and try again.")]
    Full,
    /// Another program holds the database for longer than is waited for.
    #[error("the database is busy: it could not be written down. Try again in a moment.")]
    Busy,
    /// All connections are taken for longer than is waited for.
    #[error("the database is busy with others. Try again in a moment.")]
    Crowded,
    /// The file can be read and not written.
    #[error(
        "the database cannot be written ({0}): it could not be written down. Check the disk and the permissions of its folder."
    )]
    Unwritable(String),
    /// What was taken out could not be written where it was to go.
    #[error("it could not be written: {0}")]
    Out(#[from] std::io::Error),
    /// The database itself failed.
    #[error("the database failed: {0}")]
    Database(rusqlite::Error),
    /// No connection could be had.
    #[error("no connection to the database: {0}")]
    Pool(String),
}

impl From<rusqlite::Error> for StoreError {
    fn from(e: rusqlite::Error) -> Self {
        match e.sqlite_error_code() {
            Some(ErrorCode::DiskFull) => Self::Full,
            Some(ErrorCode::DatabaseBusy | ErrorCode::DatabaseLocked) => Self::Busy,
            Some(ErrorCode::ReadOnly | ErrorCode::SystemIoFailure | ErrorCode::CannotOpen) => {
                Self::Unwritable(e.to_string())
            }
            _ => Self::Database(e),
        }
    }
}

/// What every connection is set to.
const PRAGMAS: &str = "PRAGMA journal_mode = WAL; PRAGMA foreign_keys = ON; \
                       PRAGMA synchronous = FULL; PRAGMA busy_timeout = 5000;";

/// Where somebody waits for what is written: what is written ahead is taken over into the file by [`Store::check_in`], not by
/// whoever writes next. Should nobody, by this many pages (80 MB).
const LATER: &str = "PRAGMA wal_autocheckpoint = 20000;";

/// How long is waited for a connection, or for the turn to write.
const PATIENCE: Duration = Duration::from_secs(2);

/// Who gets a connection: none waits for another.
#[derive(Clone)]
struct Connections {
    /// What is read for pages.
    pages: Pool,
    /// What is written down by hand.
    taps: Pool,
    /// What devices report.
    reports: Pool,
    /// What takes long: the whole book out or in, copies.
    aside: Pool,
}

/// The store: cheap to clone, the same connections behind all clones.
#[derive(Clone)]
pub struct Store {
    connections: Connections,
    /// Held by whoever writes: others come in the order they asked, where SQLite lets each try again by chance.
    turn: Arc<tokio::sync::Mutex<()>>,
    file: Arc<Path>,
    /// Held while a book is brought in: one at a time.
    importing: Arc<Mutex<()>>,
}

/// A pool of so many connections, set to something more.
fn pool(path: &Path, size: usize, more: &'static str) -> Result<Pool, StoreError> {
    let unreachable = |reason: String| StoreError::Unreachable { path: path.into(), reason };
    Config::new(path)
        .builder(Runtime::Tokio1)
        .map_err(|e| unreachable(e.to_string()))?
        .max_size(size)
        .wait_timeout(Some(PATIENCE))
        .runtime(Runtime::Tokio1)
        .post_create(Hook::async_fn(move |connection, _| {
            Box::pin(async move {
                let set = connection.interact(move |c| c.execute_batch(&format!("{PRAGMAS}{more}"))).await;
                match set {
                    Ok(Ok(())) => Ok(()),
                    Ok(Err(e)) => Err(HookError::message(e.to_string())),
                    Err(e) => Err(HookError::message(e.to_string())),
                }
            })
        }))
        .build()
        .map_err(|e| unreachable(e.to_string()))
}

/// Runs work on a connection of a pool, off the async threads.
async fn on<T: Send + 'static>(
    pool: &Pool,
    work: impl FnOnce(&mut Connection) -> Result<T, StoreError> + Send + 'static,
) -> Result<T, StoreError> {
    through(&connection(pool).await?, work).await
}

async fn through<T: Send + 'static>(
    connection: &Object,
    work: impl FnOnce(&mut Connection) -> Result<T, StoreError> + Send + 'static,
) -> Result<T, StoreError> {
    connection.interact(work).await.map_err(|e| StoreError::Pool(e.to_string()))?
}

async fn connection(pool: &Pool) -> Result<Object, StoreError> {
    pool.get().await.map_err(|e| match e {
        PoolError::Timeout(_) => StoreError::Crowded,
        other => StoreError::Pool(other.to_string()),
    })
}

impl Store {
    /// Opens (or makes) the database file and brings its schema up to date.
    ///
    /// # Errors
    /// When the file is locked, damaged, too new or out of reach. In each case it is untouched.
    pub async fn open(path: &Path) -> Result<Self, StoreError> {
        if file::is_pending(path) {
            // Ends it; or says who has the folder.
            drop(FolderLock::take(path)?);
        }
        if std::fs::metadata(path).is_ok_and(|m| m.len() > 0) {
            file::examine(path, file::Look::AtStart)?;
        }
        file::prepare(path)?;
        let connections = Connections {
            pages: pool(path, 4, "")?,
            taps: pool(path, 2, LATER)?,
            reports: pool(path, 1, LATER)?,
            aside: pool(path, 2, "")?,
        };
        let store = Self { connections, turn: Arc::default(), file: path.into(), importing: Arc::default() };
        let file = path.to_owned();
        store
            .with(move |c| {
                migrate::functions(c)?;
                MIGRATIONS.to_latest(c).map_err(|e| match e {
                    rusqlite_migration::Error::RusqliteError { err, .. } => read_error(&file, &err),
                    other => StoreError::Corrupt { path: file.clone(), reason: other.to_string() },
                })?;
                if file::is_apart(c)? {
                    let reason =
                        "it is a copy of a night, whose readings lie beside it: put it back with “restore”";
                    return Err(StoreError::Corrupt { path: file, reason: reason.into() });
                }
                Ok(())
            })
            .await?;
        Ok(store)
    }

    /// Reads for a page.
    async fn with<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Connection) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        on(&self.connections.pages, work).await
    }

    /// Writes down what somebody does.
    async fn tapped<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Connection) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        self.in_turn(&self.connections.taps, work).await
    }

    /// Writes when it is its turn, and keeps that to the end, whether somebody still waits for it or not. With one connection
    /// for all that devices report, no tap waits for more than two of them, however many come at once.
    async fn in_turn<T: Send + 'static>(
        &self,
        pool: &Pool,
        work: impl FnOnce(&mut Connection) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        let connection = connection(pool).await?;
        let turn = tokio::time::timeout(PATIENCE, self.turn.clone().lock_owned());
        let turn = turn.await.map_err(|_| StoreError::Crowded)?;
        let to_the_end = move |c: &mut Connection| {
            let _turn = turn;
            work(c)
        };
        through(&connection, to_the_end).await
    }

    /// Takes what was written ahead over into the file, as far as nobody reads what was before it. Called every few seconds,
    /// so that none who waits for what is written does it.
    ///
    /// # Errors
    /// When the database fails, or [`StoreError::Crowded`] while other long work is under way.
    pub async fn check_in(&self) -> Result<(), StoreError> {
        self.aside(|c| Ok(c.query_row("PRAGMA wal_checkpoint(PASSIVE)", [], |_| Ok(()))?)).await
    }

    /// Does what takes long, where nobody waits for it.
    async fn aside<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Connection) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        on(&self.connections.aside, work).await
    }
}

fn read_error(path: &Path, e: &rusqlite::Error) -> StoreError {
    let path = path.to_owned();
    match e.sqlite_error_code() {
        Some(ErrorCode::DatabaseBusy | ErrorCode::DatabaseLocked) => StoreError::Locked(path),
        Some(ErrorCode::NotADatabase | ErrorCode::DatabaseCorrupt) => {
            StoreError::Corrupt { path, reason: e.to_string() }
        }
        _ => StoreError::Unreachable { path, reason: e.to_string() },
    }
}

/// A fresh time-ordered identifier for the given instant; rising even within a millisecond.
#[must_use]
pub fn new_id(now: Timestamp) -> Uuid {
    static CONTEXT: LazyLock<Mutex<ContextV7>> = LazyLock::new(|| Mutex::new(ContextV7::new()));
    let context = CONTEXT.lock().unwrap_or_else(PoisonError::into_inner);
    let seconds = u64::try_from(now.as_second()).unwrap_or(0);
    let nanos = u32::try_from(now.subsec_nanosecond()).unwrap_or(0);
    Uuid::new_v7(uuid::Timestamp::from_unix(&*context, seconds, nanos))
}

fn parse_json<T: serde::de::DeserializeOwned>(text: &str, what: &str) -> Result<T, StoreError> {
    serde_json::from_str(text).map_err(|e| StoreError::Record(format!("{what}: {e}")))
}

fn to_json<T: serde::Serialize>(value: &T, what: &str) -> Result<String, StoreError> {
    serde_json::to_string(value).map_err(|e| StoreError::Record(format!("{what}: {e}")))
}
