//! What happened at the door and what left the house: append-only, one row each.

use hold_steady_core::who::{Deed, DeedRecord};
use jiff::Timestamp;
use rusqlite::Connection;

use super::role_of;
use crate::time::At;
use crate::who::{COLUMNS, told};
use crate::{Actor, InKitchen, StoreError, new_id, parse_json, to_json};

/// Writes down what was done; in the transaction that does it.
pub(super) fn done(c: &Connection, actor: &Actor, deed: &Deed, now: Timestamp) -> Result<(), StoreError> {
    c.execute(
        "INSERT INTO trail (id, kitchen_id, at, who_id, role, body) VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
        (new_id(now), actor.kitchen, At(now), actor.who(c)?, actor.role.id(), to_json(deed, "deed")?),
    )?;
    Ok(())
}

impl InKitchen {
    /// Writes down something that was done, or refused.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn done(&self, deed: Deed, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| done(c, actor, &deed, now)).await
    }

    /// What happened last, the newest first; of one kind (its word) where one is given.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn trail(&self, kind: Option<String>, most: usize) -> Result<Vec<DeedRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut rows = c.prepare_cached(&format!(
                "SELECT t.id, t.at, t.role, t.body, {COLUMNS} FROM trail t JOIN who w ON w.id = t.who_id
                 WHERE t.kitchen_id = ?1 AND (?2 IS NULL OR t.body ->> 'kind' = ?2) ORDER BY t.seq DESC LIMIT ?3"
            ))?;
            let mut found = rows.query((actor.kitchen, kind, crate::rows::most(most)))?;
            let mut all = Vec::new();
            while let Some(r) = found.next()? {
                let (at, role, body): (At, String, String) = (r.get(1)?, r.get(2)?, r.get(3)?);
                let (by, role) = (told(r, 4)?, role_of(&role)?);
                all.push(DeedRecord { id: r.get(0)?, at: at.0, by, role, deed: parse_json(&body, "deed")? });
            }
            Ok(all)
        })
        .await
    }
}
