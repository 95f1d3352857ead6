//! From each schema to the next. None is ever changed: databases of every one of them are about.

use std::sync::LazyLock;

use hold_steady_core::book::{derived_id, letter};
use hold_steady_core::cook::{CookState, Event};
use hold_steady_core::who::By;
use jiff::Timestamp;
use rusqlite::functions::{Context, FunctionFlags};
use rusqlite::{Connection, Transaction};
use rusqlite_migration::{HookResult, M, Migrations};
use uuid::Uuid;

use crate::bath::keep_all_minutes;
use crate::cook::phase;
use crate::time::At;
use crate::{CookPhase, StoreError, parse_json};

/// Migrations there are.
pub(crate) const SCHEMA_VERSION: i64 = 15;

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
        M::up_with_hook(include_str!("../migrations/0012_who.sql"), part).foreign_key_check(),
        M::up_with_hook(include_str!("../migrations/0013_kept.sql"), keep).foreign_key_check(),
        M::up(include_str!("../migrations/0014_door.sql")),
        M::up(include_str!("../migrations/0015_screens.sql")),
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
        let events = events_then(tx, id).map_err(failed)?;
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
        let phase = match events_then(tx, id) {
            Ok(events) => CookPhase::of(&CookState::of(&events)).id(),
            Err(StoreError::Record(_)) => "unreadable",
            Err(e) => return Err(rusqlite_migration::HookError::Hook(e.to_string())),
        };
        tx.execute("UPDATE cook SET standing = ?2 WHERE id = ?1", (id, phase))?;
    }
    Ok(())
}

/// The events of a cook as they stood before version 12: by whom was a name.
fn events_then(tx: &Transaction<'_>, cook: Uuid) -> Result<Vec<Event>, StoreError> {
    let mut rows = tx.prepare(
        "SELECT id, happened_at, recorded_at, recorded_by, body FROM event WHERE cook_id = ?1 ORDER BY seq",
    )?;
    type Row = (Uuid, At, At, String, String);
    let rows: Vec<Row> = rows
        .query_map([cook], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?)))?
        .collect::<Result<_, _>>()?;
    let event = |(id, happened_at, recorded_at, by, body): Row| {
        let kind = parse_json(&body, "event")?;
        Ok(Event { id, happened_at: happened_at.0, recorded_at: recorded_at.0, by: By::nobody(&by), kind })
    };
    rows.into_iter().map(event).collect()
}

/// Which cooks are kept cold, read off their events.
fn keep(tx: &Transaction<'_>) -> HookResult {
    keep_all(tx).map_err(|e| rusqlite_migration::HookError::Hook(e.to_string()))
}

fn keep_all(tx: &Transaction<'_>) -> Result<(), StoreError> {
    // Few ever were chilled: only those are looked at.
    let mut ids = tx.prepare(
        "SELECT id FROM cook WHERE standing = 'finished'
         AND EXISTS (SELECT 1 FROM event WHERE cook_id = cook.id AND body ->> 'kind' = 'chilled')",
    )?;
    let ids: Vec<Uuid> = ids.query_map([], |r| r.get(0))?.collect::<Result<_, _>>()?;
    for id in ids {
        let events = crate::cook::load_events(tx, id)?;
        let state = CookState::of(&events.into_iter().map(|e| e.event).collect::<Vec<_>>());
        if CookPhase::of(&state) == CookPhase::Kept {
            tx.execute("UPDATE cook SET standing = ?2 WHERE id = ?1", (id, CookPhase::Kept.id()))?;
        }
    }
    Ok(())
}

/// Makes each piece of a cook that has several a cook of its own. (No version of the program made such; a file may have.)
fn part(tx: &Transaction<'_>) -> HookResult {
    part_all(tx).map_err(|e| rusqlite_migration::HookError::Hook(e.to_string()))
}

fn part_all(tx: &Transaction<'_>) -> Result<(), StoreError> {
    let several: Vec<Uuid> = tx
        .prepare("SELECT cook_id FROM piece GROUP BY cook_id HAVING count(*) > 1")?
        .query_map([], |r| r.get(0))?
        .collect::<Result<_, _>>()?;
    if several.is_empty() {
        return Ok(());
    }
    let kept: Vec<(String, String)> = tx
        .prepare("SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name = 'event'")?
        .query_map([], |r| Ok((r.get(0)?, r.get(1)?)))?
        .collect::<Result<_, _>>()?;
    for (name, _) in &kept {
        tx.execute_batch(&format!("DROP TRIGGER {name}"))?;
    }
    for cook in several {
        part_one(tx, cook)?;
    }
    for (_, sql) in &kept {
        tx.execute_batch(sql)?;
    }
    Ok(())
}

fn part_one(tx: &Transaction<'_>, cook: Uuid) -> Result<(), StoreError> {
    let pieces: Vec<Uuid> = tx
        .prepare("SELECT id FROM piece WHERE cook_id = ?1 ORDER BY position")?
        .query_map([cook], |r| r.get(0))?
        .collect::<Result<_, _>>()?;
    tx.execute("UPDATE cook SET together = ?1 WHERE id = ?1", [cook])?;
    for (place, piece) in pieces.into_iter().enumerate() {
        let own = |id: Uuid| if place == 0 { id } else { derived_id(id, &format!("of piece {place}")) };
        let (bag, alone): (Uuid, bool) = tx.query_row(
            "SELECT bag_id, (SELECT piece_id FROM bag_piece o JOIN piece p ON p.id = o.piece_id WHERE o.bag_id = b.bag_id
                             ORDER BY p.position, p.id LIMIT 1) = ?1
             FROM bag_piece b WHERE piece_id = ?1",
            [piece],
            |r| Ok((r.get(0)?, r.get(1)?)),
        )?;
        let (new_cook, new_bag) = (own(cook), if alone { bag } else { own(bag) });
        tx.execute(
            "INSERT INTO cook (id, kitchen_id, title, created_at, import_id, food, ended_at, centre, standing, level, together, who_id)
             SELECT ?2, kitchen_id, title, created_at, import_id, food, ended_at, centre, standing, level, together, who_id
             FROM cook WHERE id = ?1 ON CONFLICT DO NOTHING",
            (cook, new_cook),
        )?;
        tx.execute(
            "INSERT INTO bag (id, kitchen_id, cook_id, position, bath_id, letter)
             SELECT ?2, kitchen_id, ?3, 1000 + ?4, bath_id, '' FROM bag WHERE id = ?1 ON CONFLICT DO NOTHING",
            (bag, new_bag, new_cook, i64::try_from(place).unwrap_or(i64::MAX)),
        )?;
        if place > 0 {
            part_events(tx, (cook, bag), (new_cook, piece, new_bag), &own)?;
        }
        tx.execute(
            "UPDATE bag SET cook_id = ?2, position = 0, letter = ?3 WHERE id = ?1",
            (new_bag, new_cook, letter(place)),
        )?;
        tx.execute("DELETE FROM bag_piece WHERE piece_id = ?1", [piece])?;
        tx.execute("INSERT INTO bag_piece (bag_id, piece_id) VALUES (?1, ?2)", (new_bag, piece))?;
        tx.execute("UPDATE piece SET cook_id = ?2, position = 0 WHERE id = ?1", (piece, new_cook))?;
    }
    Ok(())
}

/// The events of one piece of a cook, for the cook it becomes: what is of all of them stands in each, what is of one moves
/// with it. `own` is what something of the old cook is called in the new one.
fn part_events(
    tx: &Transaction<'_>,
    (cook, bag): (Uuid, Uuid),
    (new_cook, piece, new_bag): (Uuid, Uuid, Uuid),
    own: &dyn Fn(Uuid) -> Uuid,
) -> Result<(), StoreError> {
    let mut rows = tx.prepare(
        "SELECT id, body FROM event WHERE cook_id = ?1
         AND (subject IN ('cook', 'bath') OR subject_id = ?2 OR subject_id = ?3) ORDER BY seq",
    )?;
    let rows: Vec<(Uuid, String)> =
        rows.query_map((cook, piece, bag), |r| Ok((r.get(0)?, r.get(1)?)))?.collect::<Result<_, _>>()?;
    for (id, body) in &rows {
        let own_one: bool = tx.query_row(
            "SELECT subject_id IN (?2, ?3) FROM event WHERE id = ?1",
            (id, piece, new_bag),
            |r| r.get::<_, Option<bool>>(0).map(Option::unwrap_or_default),
        )?;
        if own_one {
            tx.execute("UPDATE event SET cook_id = ?2 WHERE id = ?1", (id, new_cook))?;
            continue;
        }
        let mut kind: serde_json::Value = parse_json(body, "event")?;
        let named = kind["event"].as_str().and_then(|named| named.parse::<Uuid>().ok());
        if let Some(named) = named.filter(|named| rows.iter().any(|(id, _)| id == named)) {
            kind["event"] = serde_json::json!(own(named));
        }
        tx.execute(
            "INSERT INTO event (id, kitchen_id, cook_id, subject, subject_id, happened_at, recorded_at, who_id, body, import_id)
             SELECT ?2, kitchen_id, ?3, subject, CASE WHEN subject_id = ?4 THEN ?5 ELSE subject_id END, happened_at,
                 recorded_at, who_id, ?6, import_id FROM event WHERE id = ?1",
            (id, own(*id), new_cook, bag, new_bag, kind.to_string()),
        )?;
    }
    Ok(())
}
