//! Of when inspectors see what happened: periods that the owner opened.

use hold_steady_core::who::Deed;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::done;
use crate::time::At;
use crate::{InKitchen, StoreError, new_id};

/// A period that is open to inspectors.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Period {
    /// Which.
    pub id: Uuid,
    /// From when.
    pub from: Timestamp,
    /// Until when; not it.
    pub until: Timestamp,
}

/// The periods that are open, the latest first.
pub(super) fn periods(c: &Connection, kitchen: Uuid) -> Result<Vec<Period>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, from_at, until_at FROM opened WHERE kitchen_id = ?1 AND closed_at IS NULL ORDER BY from_at DESC, id",
    )?;
    let period = |r: &rusqlite::Row<'_>| {
        let (from, until): (At, At) = (r.get(1)?, r.get(2)?);
        Ok(Period { id: r.get(0)?, from: from.0, until: until.0 })
    };
    Ok(rows.query_map([kitchen], period)?.collect::<Result<_, _>>()?)
}

impl InKitchen {
    /// The periods that are open to inspectors.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn periods(&self) -> Result<Vec<Period>, StoreError> {
        self.with(|c, actor| periods(c, actor.kitchen)).await
    }

    /// Opens a period to inspectors.
    ///
    /// # Errors
    /// When it ends before it begins, or the database fails.
    pub async fn open_period(
        &self,
        from: Timestamp,
        until: Timestamp,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        if until <= from {
            return Err(StoreError::Conflict("The period ends before it begins.".into()));
        }
        self.writing(move |c, actor| {
            if periods(c, actor.kitchen)?.iter().any(|p| (p.from, p.until) == (from, until)) {
                return Ok(());
            }
            c.execute(
                "INSERT INTO opened (id, kitchen_id, from_at, until_at) VALUES (?1, ?2, ?3, ?4)",
                (new_id(now), actor.kitchen, At(from), At(until)),
            )?;
            done(c, actor, &Deed::PeriodOpened { from, until }, now)
        })
        .await
    }

    /// Closes a period to inspectors.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn close_period(&self, id: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let open = "SELECT from_at, until_at FROM opened WHERE id = ?1 AND kitchen_id = ?2 AND closed_at IS NULL";
            let found: Option<(At, At)> =
                c.query_row(open, (id, actor.kitchen), |r| Ok((r.get(0)?, r.get(1)?))).optional()?;
            let Some((from, until)) = found else { return Ok(()) };
            c.execute("UPDATE opened SET closed_at = ?2 WHERE id = ?1", (id, At(now)))?;
            done(c, actor, &Deed::PeriodClosed { from: from.0, until: until.0 }, now)
        })
        .await
    }
}
