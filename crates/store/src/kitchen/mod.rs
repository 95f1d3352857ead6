//! The kitchen: its name, its time zone, what it has settled. One for now.

use hold_steady_core::plan::KitchenRules;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use rusqlite::OptionalExtension;
use uuid::Uuid;

use crate::{Store, StoreError, new_id, parse_id, parse_json, to_json};

/// A kitchen.
#[derive(Debug, Clone, PartialEq)]
pub struct Kitchen {
    /// Its identifier.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// Its time zone.
    pub zone: TimeZone,
    /// What it has settled for all its plans.
    pub rules: KitchenRules,
}

/// What a kitchen has settled.
pub(crate) fn rules(c: &rusqlite::Connection, kitchen: Uuid) -> Result<KitchenRules, StoreError> {
    let text: Option<String> = c
        .query_row("SELECT rules FROM kitchen WHERE id = ?1", [kitchen.to_string()], |r| r.get(0))
        .optional()?;
    parse_json(&text.ok_or(StoreError::NotFound)?, "rules")
}

impl Store {
    /// Writes down what a kitchen has settled.
    ///
    /// # Errors
    /// When the kitchen is not there or the database fails.
    pub async fn settle(&self, kitchen: Uuid, rules: KitchenRules) -> Result<(), StoreError> {
        self.with(move |c| {
            let rules = to_json(&rules, "rules")?;
            let written =
                c.execute("UPDATE kitchen SET rules = ?2 WHERE id = ?1", (kitchen.to_string(), rules))?;
            if written == 1 { Ok(()) } else { Err(StoreError::NotFound) }
        })
        .await
    }

    /// The kitchen, made at the first call. A name or zone given replaces the stored one.
    ///
    /// # Errors
    /// When the database fails or the stored zone is unknown.
    pub async fn kitchen(
        &self,
        now: Timestamp,
        name: Option<String>,
        zone: Option<TimeZone>,
    ) -> Result<Kitchen, StoreError> {
        self.with(move |c| {
            let tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
            let zone_name = zone.and_then(|z| z.iana_name().map(str::to_owned));
            let found: Option<String> =
                tx.query_row("SELECT id FROM kitchen LIMIT 1", [], |r| r.get(0)).optional()?;
            match found {
                None => {
                    let rules = to_json(&KitchenRules::default(), "rules")?;
                    tx.execute(
                        "INSERT INTO kitchen (id, name, time_zone, rules, created_at) VALUES (?1, ?2, ?3, ?4, ?5)",
                        (
                            new_id(now).to_string(),
                            name.unwrap_or_else(|| "My kitchen".into()),
                            zone_name.unwrap_or_else(|| "UTC".into()),
                            rules,
                            now.to_string(),
                        ),
                    )?;
                }
                Some(id) => {
                    tx.execute(
                        "UPDATE kitchen SET name = coalesce(?2, name), time_zone = coalesce(?3, time_zone) WHERE id = ?1",
                        (id, name, zone_name),
                    )?;
                }
            }
            let (id, name, zone, rules): (String, String, String, String) = tx.query_row(
                "SELECT id, name, time_zone, rules FROM kitchen LIMIT 1",
                [],
                |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?)),
            )?;
            tx.commit()?;
            Ok(Kitchen {
                id: parse_id(&id)?,
                name,
                zone: TimeZone::get(&zone)
                    .map_err(|e| StoreError::Record(format!("time zone “{zone}”: {e}")))?,
                rules: parse_json(&rules, "rules")?,
            })
        })
        .await
    }
}
