//! Who did something: written once, named by what it says.

use hold_steady_core::book::derived_id;
use hold_steady_core::who::By;
use rusqlite::{Connection, Row};
use uuid::Uuid;

use crate::StoreError;

/// The columns that [`told`] reads, of `who` joined as `w`.
pub(crate) const COLUMNS: &str = "w.person_id, w.name, w.screen";

/// Writes down who it was, where that was never written down before, and says under which identifier.
pub(crate) fn who(c: &Connection, kitchen: Uuid, by: &By) -> Result<Uuid, StoreError> {
    let hex = |id: Option<Uuid>| id.map_or_else(String::new, |id| format!("{:X}", id.simple()));
    // As migrations/0012_who.sql makes it.
    let id =
        derived_id(kitchen, &format!("who\u{1f}{}\u{1f}{}\u{1f}{}", hex(by.person), by.name, hex(by.screen)));
    let mut insert = c.prepare_cached(
        "INSERT INTO who (id, kitchen_id, person_id, name, screen) VALUES (?1, ?2, ?3, ?4, ?5) ON CONFLICT (id) DO NOTHING",
    )?;
    insert.execute((id, kitchen, by.person, &by.name, by.screen))?;
    Ok(id)
}

/// Who it was, of three columns from `first` on.
pub(crate) fn told(r: &Row<'_>, first: usize) -> rusqlite::Result<By> {
    Ok(By { person: r.get(first)?, name: r.get(first + 1)?, screen: r.get(first + 2)? })
}
