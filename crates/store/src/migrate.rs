//! From each schema to the next. None is ever changed: databases of every one of them are about.

use std::sync::LazyLock;

use hold_steady_core::book::derived_id;
use hold_steady_core::cook::{CookState, Event};
use jiff::Timestamp;
use rusqlite::functions::{Context, FunctionFlags};
use rusqlite::{Connection, Transaction};
use rusqlite_migration::{HookResult, M, Migrations};
use uuid::Uuid;

use crate::bath::keep_all_minutes;
use crate::cook::load_events;
use crate::{CookPhase, StoreError, phase};

/// Migrations there are.
pub(crate) const SCHEMA_VERSION: i64 = 11;

pub(crate) static MIGRATIONS: LazyLock<Migrations<'static>> = LazyLock::new(|| {
    Migrations::new(vec![
        M::up(include_str!("../migrations/0001_first.sql")),
        M::up(include_str!("../migrations/0002_pantry.sql")),
        M::up(include_str!("../migrations/0003_imports.sql")),
        M::up_with_hook(include_str!("../migrations/0004_whole_kitchen.sql"), stand).foreign_key_check(),
        M::up(include_str!("../migrations/0005_people.sql")),
        M::up_with_hook(include_str!("../migrations/0006_book.sql"), look_through),
        M::up(include_str!("../migrations/0007_bench.sql")),
        M::up(include_str!("../migrations/0008_devices.sql")),
        M::up(include_str!("../migrations/0009_finish.sql")),
        M::up(include_str!("../migrations/0010_water.sql")),
        M::up_with_hook(include_str!("../migrations/0011_readings.sql"), tell_minutes),
    ])
});

/// What the migrations ask of a connection that SQL has not.
pub(crate) fn functions(c: &Connection) -> rusqlite::Result<()> {
    let flags = FunctionFlags::SQLITE_UTF8 | FunctionFlags::SQLITE_DETERMINISTIC;
    let failed = |e: &dyn std::fmt::Display| rusqlite::Error::UserFunctionError(e.to_string().into());
    let text = |c: &Context<'_>| c.get::<Option<String>>(0);
    c.create_scalar_function("id", 1, flags, move |c| {
        text(c)?.map(|t| t.parse::<Uuid>().map_err(|e| failed(&e))).transpose()
    })?;
    c.create_scalar_function("micros", 1, flags, move |c| {
        text(c)?
            .map(|t| t.parse::<Timestamp>().map(Timestamp::as_microsecond).map_err(|e| failed(&e)))
            .transpose()
    })?;
    c.create_scalar_function("derived", 2, flags, |c| Ok(derived_id(c.get::<Uuid>(0)?, &c.get::<String>(1)?)))
}

/// When each cook ended and how it came out, read off its events.
fn look_through(tx: &Transaction<'_>) -> HookResult {
    let ids: Vec<Uuid> = tx
        .prepare("SELECT id FROM cook WHERE standing = 'finished'")?
        .query_map([], |r| r.get(0))?
        .collect::<Result<_, _>>()?;
    let failed = |e: StoreError| rusqlite_migration::HookError::Hook(e.to_string());
    for id in ids {
        let events = load_events(tx, id).map_err(failed)?;
        let events: Vec<Event> = events.into_iter().map(|e| e.event).collect();
        phase::keep(tx, id, &CookState::of(&events)).map_err(failed)?;
    }
    Ok(())
}

/// What each minute says, read off its readings.
fn tell_minutes(tx: &Transaction<'_>) -> HookResult {
    keep_all_minutes(tx).map_err(|e| rusqlite_migration::HookError::Hook(e.to_string()))
}

/// Where each cook stands, read off its events.
fn stand(tx: &Transaction<'_>) -> HookResult {
    let ids: Vec<Uuid> =
        tx.prepare("SELECT id FROM cook")?.query_map([], |r| r.get(0))?.collect::<Result<_, _>>()?;
    for id in ids {
        let phase = match load_events(tx, id) {
            Ok(events) => {
                let events: Vec<Event> = events.into_iter().map(|e| e.event).collect();
                CookPhase::of(&CookState::of(&events)).id()
            }
            Err(StoreError::Record(_)) => "unreadable",
            Err(e) => return Err(rusqlite_migration::HookError::Hook(e.to_string())),
        };
        tx.execute("UPDATE cook SET standing = ?2 WHERE id = ?1", (id, phase))?;
    }
    Ok(())
}
