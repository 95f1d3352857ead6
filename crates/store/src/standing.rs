//! Where the cooks stand, as far as lists ask: under way, finished, taken off. Read off each cook's events once
//! and again only when there are more: lists stay quick with thousands of cooks, and one record that cannot be
//! read takes no other with it.

use std::collections::HashMap;
use std::sync::{Mutex, PoisonError};

use hold_steady_core::book::CookRecord;
use hold_steady_core::cook::{CookState, Event};
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use crate::{Store, StoreError, cook, parse_id, parse_time};

/// Where a cook stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Standing {
    /// Neither ended nor rated.
    UnderWay,
    /// Ended or rated.
    Finished,
    /// Taken off the lists.
    Deleted,
}

impl Standing {
    /// What the events of a cook say.
    #[must_use]
    pub fn of(state: &CookState) -> Self {
        if state.deleted {
            Self::Deleted
        } else if state.ended().is_some() || state.rating().is_some() {
            Self::Finished
        } else {
            Self::UnderWay
        }
    }
}

/// A record that cannot be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unreadable {
    /// Which.
    pub id: String,
    /// Why.
    pub reason: String,
}

/// By cook: how many events were looked at, and what they say.
pub(crate) type Standings = Mutex<HashMap<Uuid, (i64, Standing)>>;

struct Row {
    id: String,
    created_at: String,
    events: i64,
}

impl Store {
    /// The cooks of a kitchen that stand so, newest first: those from `skip` on, at most `take` of them, how
    /// many there are in all, and what cannot be read.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn cooks_that(
        &self,
        kitchen: Uuid,
        standing: Standing,
        (skip, take): (usize, usize),
    ) -> Result<(Vec<CookRecord>, usize, Vec<Unreadable>), StoreError> {
        let standings = self.standings.clone();
        self.with(move |c| {
            let (ids, mut unreadable) = ids(c, kitchen, standing, &standings)?;
            let mut cooks = Vec::new();
            for id in ids.iter().skip(skip).take(take) {
                match cook::load(c, *id) {
                    Ok(found) => cooks.extend(found),
                    Err(StoreError::Record(reason)) => {
                        unreadable.push(Unreadable { id: id.to_string(), reason });
                    }
                    Err(e) => return Err(e),
                }
            }
            Ok((cooks, ids.len(), unreadable))
        })
        .await
    }
}

/// The cooks that stand so, newest first, and those that cannot be read.
pub(crate) fn ids(
    c: &Connection,
    kitchen: Uuid,
    wanted: Standing,
    standings: &Standings,
) -> Result<(Vec<Uuid>, Vec<Unreadable>), StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, created_at, (SELECT count(*) FROM event WHERE event.cook_id = cook.id) FROM cook WHERE kitchen_id = ?1",
    )?;
    let rows: Vec<Row> = rows
        .query_map([kitchen.to_string()], |r| {
            Ok(Row { id: r.get(0)?, created_at: r.get(1)?, events: r.get(2)? })
        })?
        .collect::<Result<_, _>>()?;
    let mut known = standings.lock().unwrap_or_else(PoisonError::into_inner);
    let (mut found, mut unreadable) = (Vec::<(Timestamp, Uuid)>::new(), Vec::new());
    for row in rows {
        let mut read = || -> Result<(Timestamp, Uuid, Standing), StoreError> {
            let (id, created_at) = (parse_id(&row.id)?, parse_time(&row.created_at)?);
            if let Some((_, standing)) = known.get(&id).filter(|(events, _)| *events == row.events) {
                return Ok((created_at, id, *standing));
            }
            let events: Vec<Event> = cook::load_events(c, id)?.into_iter().map(|e| e.event).collect();
            let standing = Standing::of(&CookState::of(&events));
            known.insert(id, (row.events, standing));
            Ok((created_at, id, standing))
        };
        match read() {
            Ok((at, id, standing)) if standing == wanted => found.push((at, id)),
            Ok(_) => {}
            Err(StoreError::Record(reason)) => unreadable.push(Unreadable { id: row.id.clone(), reason }),
            Err(e) => return Err(e),
        }
    }
    // Instants are texts of varying length in the file: sorted here, as instants.
    found.sort_by_key(|entry| std::cmp::Reverse(*entry));
    Ok((found.into_iter().map(|(_, id)| id).collect(), unreadable))
}
