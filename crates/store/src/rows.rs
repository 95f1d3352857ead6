//! What several parts ask of rows, whatever they hold.

use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::StoreError;

/// Whether a table has a row of an identifier.
pub(crate) fn exists(c: &Connection, table: &str, id: Uuid) -> Result<bool, StoreError> {
    let sql = format!("SELECT 1 FROM {table} WHERE id = ?1");
    Ok(c.query_row(&sql, [id], |_| Ok(())).optional()?.is_some())
}

/// Refuses a refrigerator, a freezer or a room that is not this kitchen's.
pub(crate) fn storage_is_ours(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<(), StoreError> {
    let sql = "SELECT 1 FROM storage WHERE id = ?1 AND kitchen_id = ?2";
    c.query_row(sql, (id, kitchen), |_| Ok(())).optional()?.ok_or(StoreError::NotFound)
}

/// Whether a piece of a cook that is under way here lies in a bath, or was moved into it.
pub(crate) fn in_use(c: &Connection, kitchen: Uuid, bath: Uuid) -> Result<bool, StoreError> {
    // From the few cooks under way: a long book costs no more than a short one.
    let lies = "WITH under_way AS MATERIALIZED
                    (SELECT id FROM cook WHERE kitchen_id = ?1 AND standing = 'under-way')
                SELECT EXISTS (SELECT 1 FROM under_way CROSS JOIN bag ON cook_id = under_way.id WHERE bath_id = ?2)
                    OR EXISTS (SELECT 1 FROM under_way CROSS JOIN event ON cook_id = under_way.id
                               WHERE body ->> 'kind' = 'moved' AND body ->> 'bath' = ?3)";
    Ok(c.query_row(lies, (kitchen, bath, bath.to_string()), |r| r.get(0))?)
}

/// A number of rows as SQLite counts them.
pub(crate) fn most(n: usize) -> i64 {
    i64::try_from(n).unwrap_or(i64::MAX)
}
