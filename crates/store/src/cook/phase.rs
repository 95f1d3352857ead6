//! Where the cooks stand, as far as lists ask: kept beside each cook in the transaction of its events, so that
//! lists stay quick with thousands of cooks, and one record that cannot be read takes no other with it.

use std::collections::HashMap;

use hold_steady_core::book::CookRecord;
use hold_steady_core::cook::{CookState, Stage};
use rusqlite::Connection;
use uuid::Uuid;

use crate::rows::most;
use crate::time::At;
use crate::{InKitchen, StoreError, cook};

/// Where a cook stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CookPhase {
    /// Neither ended nor rated.
    UnderWay,
    /// Chilled, and neither eaten nor thrown away.
    Kept,
    /// Ended or rated.
    Finished,
    /// Taken off the lists.
    Deleted,
}

impl CookPhase {
    /// What the events of a cook say.
    #[must_use]
    pub fn of(state: &CookState) -> Self {
        if state.deleted {
            Self::Deleted
        } else if state.stage() == Stage::Chilled {
            Self::Kept
        } else if state.ended().is_some() || state.rating().is_some() {
            Self::Finished
        } else {
            Self::UnderWay
        }
    }

    /// The word in records.
    pub(crate) const fn id(self) -> &'static str {
        match self {
            Self::UnderWay => "under-way",
            Self::Kept => "kept",
            Self::Finished => "finished",
            Self::Deleted => "deleted",
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

impl InKitchen {
    /// The cooks that stand so, newest first: those from `skip` on, at most `take` of them, how many there are in
    /// all, and what cannot be read.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn cooks_that(
        &self,
        phase: CookPhase,
        (skip, take): (usize, usize),
    ) -> Result<(Vec<CookRecord>, usize, Vec<Unreadable>), StoreError> {
        self.with(move |c, actor| {
            let all = count(c, actor.kitchen, phase)?;
            let mut rows = c.prepare_cached(
                "SELECT id FROM cook WHERE kitchen_id = ?1 AND standing = ?2 ORDER BY created_at DESC, id DESC LIMIT ?4 OFFSET ?3",
            )?;
            let ids: Vec<Uuid> = rows
                .query_map((actor.kitchen, phase.id(), most(skip), most(take)), |r| r.get(0))?
                .collect::<Result<_, _>>()?;
            let (cooks, unreadable) = load_each(c, actor.kitchen, &ids)?;
            Ok((cooks, all, unreadable))
        })
        .await
    }
}

/// The cooks of a list, and which of them cannot be read: one that cannot takes no other with it.
pub(crate) fn load_each(
    c: &Connection,
    kitchen: Uuid,
    ids: &[Uuid],
) -> Result<(Vec<CookRecord>, Vec<Unreadable>), StoreError> {
    let (mut cooks, mut unreadable) = (Vec::with_capacity(ids.len()), Vec::new());
    let mut baths = HashMap::new();
    for id in ids {
        match cook::load_among(c, kitchen, *id, &mut baths) {
            Ok(found) => cooks.extend(found),
            Err(StoreError::Record(reason)) => unreadable.push(Unreadable { id: id.to_string(), reason }),
            Err(e) => return Err(e),
        }
    }
    Ok((cooks, unreadable))
}

/// How many cooks stand so.
pub(crate) fn count(c: &Connection, kitchen: Uuid, phase: CookPhase) -> Result<usize, StoreError> {
    let mut q = c.prepare_cached("SELECT count(*) FROM cook WHERE kitchen_id = ?1 AND standing = ?2")?;
    let count: i64 = q.query_row((kitchen, phase.id()), |r| r.get(0))?;
    Ok(usize::try_from(count).unwrap_or(0))
}

/// Keeps beside a cook what its events say now; in their transaction.
pub(crate) fn keep(c: &Connection, cook: Uuid, state: &CookState) -> Result<(), StoreError> {
    c.execute(
        "UPDATE cook SET standing = ?2, ended_at = ?3, centre = ?4, level = NULL WHERE id = ?1",
        (
            cook,
            CookPhase::of(state).id(),
            state.ended().map(At),
            state.rating().and_then(|rating| rating.centre),
        ),
    )?;
    Ok(())
}
