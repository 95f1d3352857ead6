//! The kitchen: its name, its time zone, what it has settled, how it likes to work.

mod guests;

pub(crate) use guests::{guests, merge_guests};

use hold_steady_core::book::Change;
use hold_steady_core::plan::{Habits, KitchenRules};
use hold_steady_core::units::WallClock;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::actor::changed;
use crate::time::At;
use crate::{Actor, InKitchen, Role, Store, StoreError, new_id, parse_json, to_json};

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
    /// How it likes to work.
    pub habits: Habits,
}

impl Kitchen {
    /// The clock on its wall.
    #[must_use]
    pub fn wall(&self) -> WallClock {
        WallClock::new(self.zone.clone(), self.habits.hours)
    }
}

/// What a kitchen has settled.
pub(crate) fn rules(c: &Connection, kitchen: Uuid) -> Result<KitchenRules, StoreError> {
    let text: Option<String> =
        c.query_row("SELECT rules FROM kitchen WHERE id = ?1", [kitchen], |r| r.get(0)).optional()?;
    parse_json(&text.ok_or(StoreError::NotFound)?, "rules")
}

/// Whether the kitchen that was written to is there.
const fn there(written: usize) -> Result<(), StoreError> {
    if written == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// How a kitchen likes to work.
pub(crate) fn habits(c: &Connection, kitchen: Uuid) -> Result<Habits, StoreError> {
    let text: Option<String> =
        c.query_row("SELECT habits FROM kitchen WHERE id = ?1", [kitchen], |r| r.get(0)).optional()?;
    parse_json(&text.ok_or(StoreError::NotFound)?, "habits")
}

impl InKitchen {
    /// Gives the kitchen another name or time zone.
    ///
    /// # Errors
    /// When the kitchen is not there or the database fails.
    pub async fn rename(&self, name: String, zone: &TimeZone, now: Timestamp) -> Result<(), StoreError> {
        let time_zone = zone.iana_name().unwrap_or("UTC").to_owned();
        self.writing(move |c, actor| {
            let written = c.execute(
                "UPDATE kitchen SET name = ?2, time_zone = ?3 WHERE id = ?1",
                (actor.kitchen, &name, &time_zone),
            )?;
            there(written)?;
            changed(c, actor, &Change::Named { name, time_zone }, now)
        })
        .await
    }

    /// Writes down how a kitchen likes to work.
    ///
    /// # Errors
    /// When the kitchen is not there or the database fails.
    pub async fn keep_habits(&self, habits: Habits, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let text = to_json(&habits, "habits")?;
            let written = c.execute("UPDATE kitchen SET habits = ?2 WHERE id = ?1", (actor.kitchen, text))?;
            there(written)?;
            changed(c, actor, &Change::Habits { habits }, now)
        })
        .await
    }

    /// Writes down what a kitchen has settled.
    ///
    /// # Errors
    /// When the kitchen is not there or the database fails.
    pub async fn settle(&self, rules: KitchenRules, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let text = to_json(&rules, "rules")?;
            let written = c.execute("UPDATE kitchen SET rules = ?2 WHERE id = ?1", (actor.kitchen, text))?;
            there(written)?;
            changed(c, actor, &Change::Settled { rules }, now)
        })
        .await
    }
}

impl Store {
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
            let find = "SELECT id, name, time_zone, rules, habits FROM kitchen ORDER BY created_at LIMIT 1";
            let read = |tx: &Connection| {
                tx.query_row(find, [], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?))).optional()
            };
            let before: Option<(Uuid, String, String, String, String)> = read(&tx)?;
            match &before {
                None => {
                    let rules = to_json(&KitchenRules::default(), "rules")?;
                    tx.execute(
                        "INSERT INTO kitchen (id, name, time_zone, rules, created_at) VALUES (?1, ?2, ?3, ?4, ?5)",
                        (
                            new_id(now),
                            name.unwrap_or_else(|| "My kitchen".into()),
                            zone_name.unwrap_or_else(|| "UTC".into()),
                            rules,
                            At(now),
                        ),
                    )?;
                }
                Some((id, ..)) => {
                    tx.execute(
                        "UPDATE kitchen SET name = coalesce(?2, name), time_zone = coalesce(?3, time_zone) WHERE id = ?1",
                        (id, name, zone_name),
                    )?;
                }
            }
            let after = read(&tx)?.ok_or(StoreError::NotFound)?;
            if before.as_ref().is_none_or(|b| (&b.1, &b.2) != (&after.1, &after.2)) {
                let actor = Actor { kitchen: after.0, by: "command line".into(), role: Role::Cook };
                let named = Change::Named { name: after.1.clone(), time_zone: after.2.clone() };
                changed(&tx, &actor, &named, now)?;
            }
            tx.commit()?;
            let (id, name, zone, rules, habits) = after;
            Ok(Kitchen {
                id,
                name,
                zone: TimeZone::get(&zone)
                    .map_err(|e| StoreError::Record(format!("time zone “{zone}”: {e}")))?,
                rules: parse_json(&rules, "rules")?,
                habits: parse_json(&habits, "habits")?,
            })
        })
        .await
    }
}
