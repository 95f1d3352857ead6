//! One line that is written again and again: proof that the database can be written, and a mark of the clock.

use jiff::Timestamp;
use rusqlite::OptionalExtension;

use crate::time::At;
use crate::{Store, StoreError};

/// A mark of the clock: what the wall clock and the clock that is never set showed together.
#[derive(Debug, Clone, PartialEq)]
pub struct Beat {
    /// The wall clock.
    pub at: Timestamp,
    /// Seconds of the clock that is never set.
    pub steady_s: f64,
    /// The start of the machine it counts from.
    pub boot: String,
}

impl Store {
    /// Writes a line down. Whoever asks whether the database works asks this.
    ///
    /// # Errors
    /// With what stands in the way: no room, no permission, another program.
    pub async fn pulse(&self, now: Timestamp) -> Result<(), StoreError> {
        self.tapped(move |c| {
            c.execute(
                "INSERT INTO pulse (only_one, beats, at) VALUES (1, 1, ?1) ON CONFLICT (only_one) DO UPDATE SET beats = beats + 1",
                [At(now)],
            )?;
            Ok(())
        })
        .await
    }

    /// Marks the clock.
    ///
    /// # Errors
    /// As [`Self::pulse`].
    pub async fn mark(&self, beat: Beat) -> Result<(), StoreError> {
        self.tapped(move |c| {
            c.execute(
                "INSERT INTO pulse (only_one, beats, at, steady_s, boot) VALUES (1, 1, ?1, ?2, ?3)
                 ON CONFLICT (only_one) DO UPDATE SET at = ?1, steady_s = ?2, boot = ?3",
                (At(beat.at), beat.steady_s, beat.boot),
            )?;
            Ok(())
        })
        .await
    }

    /// The last mark, if there is one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn last_mark(&self) -> Result<Option<Beat>, StoreError> {
        self.with(|c| {
            let row: Option<(At, Option<f64>, Option<String>)> = c
                .query_row("SELECT at, steady_s, boot FROM pulse", [], |r| {
                    Ok((r.get(0)?, r.get(1)?, r.get(2)?))
                })
                .optional()?;
            let Some((at, Some(steady_s), Some(boot))) = row else { return Ok(None) };
            Ok(Some(Beat { at: at.0, steady_s, boot }))
        })
        .await
    }

    /// When the last thing was written down: a mark of the clock, or an event.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn last_written(&self) -> Result<Option<Timestamp>, StoreError> {
        self.with(|c| {
            let last: Option<At> = c.query_row(
                "SELECT max(at) FROM (
                    SELECT max(at) AS at FROM pulse
                    UNION ALL SELECT recorded_at FROM (SELECT recorded_at FROM event ORDER BY seq DESC LIMIT 1))",
                [],
                |r| r.get(0),
            )?;
            Ok(last.map(|t| t.0))
        })
        .await
    }
}
