//! Alarms somebody has heard: acknowledged once, on any device.

use std::collections::HashSet;

use jiff::{SignedDuration, Timestamp};

use crate::time::At;
use crate::{InKitchen, StoreError};

/// So long an acknowledgement is of use.
const KEPT: SignedDuration = SignedDuration::from_hours(24 * 7);

impl InKitchen {
    /// Writes down that alarms were heard. Twice is as once.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn hear(&self, alarms: Vec<String>, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            for alarm in &alarms {
                c.execute(
                    "INSERT INTO heard (kitchen_id, alarm, at, by) VALUES (?1, ?2, ?3, ?4) ON CONFLICT DO NOTHING",
                    (actor.kitchen, alarm, At(now), &actor.person),
                )?;
            }
            let old = now.checked_sub(KEPT).unwrap_or(now);
            c.execute("DELETE FROM heard WHERE kitchen_id = ?1 AND at < ?2", (actor.kitchen, At(old)))?;
            Ok(())
        })
        .await
    }

    /// The alarms that were heard of late.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn heard(&self) -> Result<HashSet<String>, StoreError> {
        self.with(|c, actor| {
            let mut rows = c.prepare_cached("SELECT alarm FROM heard WHERE kitchen_id = ?1")?;
            Ok(rows.query_map([actor.kitchen], |r| r.get(0))?.collect::<Result<_, _>>()?)
        })
        .await
    }
}
