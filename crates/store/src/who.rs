//! Who did something: written once, named by what it says.

use hold_steady_core::book::derived_id;
use hold_steady_core::who::{By, Proof};
use rusqlite::{Connection, Row};
use uuid::Uuid;

use crate::StoreError;

/// The columns that [`told`] reads, of `who` joined as `w`.
pub(crate) const COLUMNS: &str = "w.person_id, w.name, w.screen, w.proof";

/// What a record says of somebody whose name was tapped and no more.
const NAMED: &str = "named";

/// Writes down who it was, where that was never written down before, and says under which identifier.
pub(crate) fn who(c: &Connection, kitchen: Uuid, by: &By) -> Result<Uuid, StoreError> {
    let hex = |id: Option<Uuid>| id.map_or_else(String::new, |id| format!("{:X}", id.simple()));
    let proof = if by.proof.is_enough() { "" } else { NAMED };
    // As migrations/0012_who.sql makes it; what was proved enough is what it was then.
    let mut of = format!("who\u{1f}{}\u{1f}{}\u{1f}{}", hex(by.person), by.name, hex(by.screen));
    if !proof.is_empty() {
        of.push('\u{1f}');
        of.push_str(proof);
    }
    let id = derived_id(kitchen, &of);
    let mut insert = c.prepare_cached(
        "INSERT INTO who (id, kitchen_id, person_id, name, screen, proof) VALUES (?1, ?2, ?3, ?4, ?5, ?6) ON CONFLICT (id) DO NOTHING",
    )?;
    insert.execute((id, kitchen, by.person, &by.name, by.screen, proof))?;
    Ok(id)
}

/// Who it was, of four columns from `first` on.
pub(crate) fn told(r: &Row<'_>, first: usize) -> rusqlite::Result<By> {
    let named = r.get_ref(first + 3)?.as_str()? == NAMED;
    let proof = if named { Proof::Named } else { Proof::Enough };
    Ok(By { person: r.get(first)?, name: r.get(first + 1)?, screen: r.get(first + 2)?, proof })
}
