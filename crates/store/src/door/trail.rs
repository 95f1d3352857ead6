//! What happened at the door, to what the kitchen settled and keeps, and to its files: append-only, one row each.

use hold_steady_core::book::{Happened, LaidIn, TrailRecord};
use hold_steady_core::who::Deed;
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use super::period::periods;
use super::role_of;
use crate::time::At;
use crate::who::{COLUMNS, told};
use crate::{Actor, InKitchen, Role, StoreError, new_id, parse_json, to_json};

/// Writes down what was done; in the transaction that does it.
pub(crate) fn done(c: &Connection, actor: &Actor, deed: &Deed, now: Timestamp) -> Result<(), StoreError> {
    c.execute(
        "INSERT INTO trail (id, kitchen_id, at, who_id, role, body) VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
        (new_id(now), actor.kitchen, At(now), actor.who(c)?, actor.role.id(), to_json(deed, "deed")?),
    )?;
    Ok(())
}

/// Its own rows and those of three tables that are append-only too, of one kind where one is asked for, between two instants; the
/// newest first. Each table is read from its end, and no further than asked.
fn trail(
    c: &Connection,
    (kitchen, kind): (Uuid, Option<&str>),
    (from, until): (Timestamp, Timestamp),
    most: usize,
) -> Result<Vec<TrailRecord>, StoreError> {
    let mut rows = c.prepare_cached(&format!(
        "WITH told AS (
            SELECT * FROM (SELECT id, at, role, body, 'deed' AS of, who_id FROM trail
                WHERE kitchen_id = ?1 AND (?2 IS NULL OR body ->> 'kind' = ?2) AND at >= ?3 AND at < ?4 ORDER BY seq DESC LIMIT ?5)
            UNION ALL SELECT * FROM (SELECT id, at, role, body, 'change', who_id FROM change
                WHERE kitchen_id = ?1 AND (?2 IS NULL OR body ->> 'kind' = ?2) AND at >= ?3 AND at < ?4 ORDER BY seq DESC LIMIT ?5)
            UNION ALL SELECT * FROM (SELECT unhex(printf('%032x', p.seq)), p.at, '', d.name, iif(p.piece_id IS NOT NULL, 'piece',
                    iif(p.bath_id IS NOT NULL, 'water', iif(p.storage_id IS NOT NULL, 'storage', 'nothing'))), p.who_id
                FROM device_place p JOIN device d ON d.id = p.device_id
                WHERE p.kitchen_id = ?1 AND (?2 IS NULL OR ?2 = 'laid') AND p.at >= ?3 AND p.at < ?4 ORDER BY p.seq DESC LIMIT ?5)
            UNION ALL SELECT * FROM (SELECT id, at, '', kitchen, 'import', who_id FROM import
                WHERE kitchen_id = ?1 AND (?2 IS NULL OR ?2 = 'brought-in') AND at >= ?3 AND at < ?4 ORDER BY at DESC LIMIT ?5)
         )
         SELECT t.id, t.at, t.role, t.body, t.of, {COLUMNS} FROM told t JOIN who w ON w.id = t.who_id ORDER BY t.at DESC, t.id DESC LIMIT ?5"
    ))?;
    let mut found = rows.query((kitchen, kind, At(from), At(until), crate::rows::most(most)))?;
    let mut all = Vec::new();
    while let Some(r) = found.next()? {
        let (at, role, body, of): (At, String, String, String) = (r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?);
        let laid = |place| Happened::Laid { device: body.clone(), place };
        let what = match of.as_str() {
            "deed" => Happened::Deed(parse_json(&body, "deed")?),
            "change" => Happened::Changed(Box::new(parse_json(&body, "change")?)),
            "import" => Happened::BroughtIn { kitchen: body },
            "piece" => laid(LaidIn::Piece),
            "water" => laid(LaidIn::Water),
            "storage" => laid(LaidIn::Storage),
            _ => laid(LaidIn::Nothing),
        };
        let role = if role.is_empty() { None } else { Some(role_of(&role)?) };
        all.push(TrailRecord { id: r.get(0)?, at: at.0, by: told(r, 5)?, role, what });
    }
    Ok(all)
}

impl InKitchen {
    /// Writes down something that was done, or refused.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn done(&self, deed: Deed, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| done(c, actor, &deed, now)).await
    }

    /// What happened last, the newest first; of one kind (its word) where one is given. To an inspector, what happened in the periods
    /// that are open to them.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn trail(&self, kind: Option<String>, most: usize) -> Result<Vec<TrailRecord>, StoreError> {
        self.with(move |c, actor| {
            let of = (actor.kitchen, kind.as_deref());
            if actor.role != Role::Inspector {
                return trail(c, of, (Timestamp::MIN, Timestamp::MAX), most);
            }
            let mut all: Vec<TrailRecord> = Vec::new();
            for period in periods(c, actor.kitchen)? {
                all.extend(trail(c, of, (period.from, period.until), most)?);
            }
            // Of periods that lie in one another each line is told once.
            all.sort_by_key(|r| std::cmp::Reverse((r.at, r.id)));
            all.dedup_by_key(|r| r.id);
            all.truncate(most);
            Ok(all)
        })
        .await
    }
}
