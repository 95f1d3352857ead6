//! Alarms that were silenced: on one screen, and on no other.

use std::collections::HashMap;

use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use crate::time::At;
use crate::{InKitchen, StoreError};

/// So long an acknowledgement is of use.
const KEPT: SignedDuration = SignedDuration::from_hours(24 * 7);

impl InKitchen {
    /// Writes down that alarms were heard on this screen: the last time counts.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn hear(&self, alarms: Vec<String>, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            for alarm in &alarms {
                let here = format!("{}{alarm}", screen(actor.by.screen));
                c.execute(
                    "INSERT INTO heard (kitchen_id, alarm, at, who_id) VALUES (?1, ?2, ?3, ?4)
                     ON CONFLICT (kitchen_id, alarm) DO UPDATE SET at = ?3, who_id = ?4",
                    (actor.kitchen, here, At(now), actor.who(c)?),
                )?;
            }
            let old = now.checked_sub(KEPT).unwrap_or(now);
            c.execute("DELETE FROM heard WHERE kitchen_id = ?1 AND at < ?2", (actor.kitchen, At(old)))?;
            Ok(())
        })
        .await
    }

    /// The alarms that were silenced on this screen of late, and when.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn heard(&self) -> Result<HashMap<String, Timestamp>, StoreError> {
        self.with(|c, actor| {
            let here = screen(actor.by.screen);
            let mut rows = c.prepare_cached(
                "SELECT substr(alarm, length(?2) + 1), at FROM heard WHERE kitchen_id = ?1 AND substr(alarm, 1, length(?2)) = ?2",
            )?;
            let all = rows.query_map((actor.kitchen, &here), |r| Ok((r.get(0)?, r.get::<_, At>(1)?.0)))?;
            Ok(all.collect::<Result<_, _>>()?)
        })
        .await
    }
}

/// Which screen, before the alarm's own name; a machine that names none is one.
fn screen(screen: Option<Uuid>) -> String {
    format!("{}@", screen.map_or_else(|| "none".to_owned(), |s| s.simple().to_string()))
}
