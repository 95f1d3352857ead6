//! Whom a kitchen cooks for.

use hold_steady_core::book::{Change, KitchenRecord};
use hold_steady_core::limits::MOST_GUESTS;
use hold_steady_core::plan::Guest;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::actor::changed;
use crate::listed::Which;
use crate::time::At;
use crate::{Actor, InKitchen, StoreError, parse_json, to_json};

/// The guests of a kitchen, by number; those that were removed too, where asked.
pub(crate) fn guests(c: &Connection, kitchen: Uuid, which: Which) -> Result<Vec<Guest>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT body FROM guest WHERE kitchen_id = ?1 AND (removed_at IS NULL OR ?2) ORDER BY number",
    )?;
    let rows: Vec<String> = rows.query_map((kitchen, which), |r| r.get(0))?.collect::<Result<_, _>>()?;
    rows.iter().map(|body| parse_json(body, "guest")).collect()
}

fn next_number(c: &Connection, kitchen: Uuid) -> Result<u32, StoreError> {
    Ok(c.query_row("SELECT coalesce(max(number), 0) + 1 FROM guest WHERE kitchen_id = ?1", [kitchen], |r| {
        r.get(0)
    })?)
}

/// Brings in the guests of a file who are new here; how many. They get a number of here where theirs is taken.
pub(crate) fn merge_guests(
    c: &Connection,
    actor: &Actor,
    from: &KitchenRecord,
    now: Timestamp,
) -> Result<usize, StoreError> {
    let mut added = 0;
    for guest in &from.guests {
        let taken: bool = c.query_row(
            "SELECT EXISTS (SELECT 1 FROM guest WHERE kitchen_id = ?1 AND number = ?2)",
            (actor.kitchen, guest.number),
            |r| r.get(0),
        )?;
        let number = if taken { next_number(c, actor.kitchen)? } else { guest.number };
        let guest = Guest { number, ..guest.clone() };
        let gone = guest.name.is_empty().then_some(At(now));
        let new = c.execute(
            "INSERT INTO guest (id, kitchen_id, number, body, created_at, removed_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6)
             ON CONFLICT (id) DO NOTHING",
            (guest.id, actor.kitchen, number, to_json(&guest, "guest")?, At(now), gone),
        )?;
        if new > 0 {
            added += 1;
            changed(c, actor, &Change::GuestKept { id: guest.id, number }, now)?;
        }
    }
    Ok(added)
}

impl InKitchen {
    /// Whom the kitchen cooks for, by number.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn guests(&self) -> Result<Vec<Guest>, StoreError> {
        self.with(|c, actor| guests(c, actor.kitchen, Which::Listed)).await
    }

    /// A guest that a record names; those that were removed by what is left of them.
    ///
    /// # Errors
    /// When the database fails or the record cannot be read.
    pub async fn guest(&self, id: Uuid) -> Result<Option<Guest>, StoreError> {
        self.with(move |c, actor| {
            let sql = "SELECT body FROM guest WHERE id = ?1 AND kitchen_id = ?2";
            let body: Option<String> = c.query_row(sql, (id, actor.kitchen), |r| r.get(0)).optional()?;
            body.map(|body| parse_json(&body, "guest")).transpose()
        })
        .await
    }

    /// Keeps a guest: a new one, who gets the next number, or what is said otherwise of one there is.
    ///
    /// # Errors
    /// When there are too many, it is another kitchen's, or the database fails.
    pub async fn keep_guest(&self, guest: Guest, now: Timestamp) -> Result<Guest, StoreError> {
        self.writing(move |c, actor| {
            let here = guests(c, actor.kitchen, Which::Ever)?;
            let known = here.iter().find(|g| g.id == guest.id);
            let work = here.iter().filter(|g| !g.name.is_empty()).count();
            if known.is_none() && work >= MOST_GUESTS {
                let text =
                    format!("{MOST_GUESTS} guests are on the list, the most there can be. Remove one first.");
                return Err(StoreError::Conflict(text));
            }
            if here.iter().any(|g| g.id != guest.id && !g.name.is_empty() && g.name == guest.name) {
                let text =
                    format!("“{}” is on the list already. Give a name that tells the two apart.", guest.name);
                return Err(StoreError::Conflict(text));
            }
            let number = match known {
                Some(known) => known.number,
                None => next_number(c, actor.kitchen)?,
            };
            let guest = Guest { number, ..guest };
            if known == Some(&guest) {
                return Ok(guest);
            }
            let written = c.execute(
                "INSERT INTO guest (id, kitchen_id, number, body, created_at) VALUES (?1, ?2, ?3, ?4, ?5)
                 ON CONFLICT (id) DO UPDATE SET body = ?4, removed_at = NULL WHERE kitchen_id = ?2",
                (guest.id, actor.kitchen, number, to_json(&guest, "guest")?, At(now)),
            )?;
            if written == 0 {
                return Err(StoreError::NotFound);
            }
            // What is said of them stands in their record alone, where it can be removed.
            changed(c, actor, &Change::GuestKept { id: guest.id, number }, now)?;
            Ok(guest)
        })
        .await
    }

    /// Removes a guest for good: what is left is a number, whether at risk, and what they must not eat.
    ///
    /// # Errors
    /// When they are not there or the database fails.
    pub async fn remove_guest(&self, id: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let here = guests(c, actor.kitchen, Which::Ever)?;
            let guest = here.iter().find(|g| g.id == id).ok_or(StoreError::NotFound)?;
            if guest.name.is_empty() {
                return Ok(());
            }
            c.execute(
                "UPDATE guest SET body = ?3, removed_at = ?4 WHERE id = ?1 AND kitchen_id = ?2",
                (id, actor.kitchen, to_json(&guest.removed(), "guest")?, At(now)),
            )?;
            changed(c, actor, &Change::GuestRemoved { id, number: guest.number }, now)
        })
        .await
    }
}
