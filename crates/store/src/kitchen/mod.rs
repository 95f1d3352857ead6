//! The kitchen: its name, its time zone, what it has settled, how it likes to work, who works there.

mod guests;

pub(crate) use guests::{guests, merge_guests};

use hold_steady_core::book::{Change, KitchenRecord};
use hold_steady_core::limits::MOST_PEOPLE;
use hold_steady_core::plan::{Habits, KitchenRules, Person};
use hold_steady_core::units::WallClock;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::actor::changed;
use crate::listed::{Put, Which};
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

/// Who works in a kitchen, in the order they came; those who left too, where asked.
pub(crate) fn people(c: &Connection, kitchen: Uuid, which: Which) -> Result<Vec<Person>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, initials FROM person WHERE kitchen_id = ?1 AND (left_at IS NULL OR ?2) ORDER BY created_at, id",
    )?;
    let person = |r: &rusqlite::Row<'_>| Ok(Person { id: r.get(0)?, name: r.get(1)?, initials: r.get(2)? });
    Ok(rows.query_map((kitchen, which), person)?.collect::<Result<_, _>>()?)
}

/// Writes down somebody who works here, or their new name; in the transaction that looked whether there is room.
pub(crate) fn add_person(
    c: &Connection,
    actor: &Actor,
    person: Person,
    now: Timestamp,
) -> Result<(), StoreError> {
    let here = people(c, actor.kitchen, Which::Listed)?;
    if here.len() >= MOST_PEOPLE {
        return Err(StoreError::Conflict(format!(
            "There are {MOST_PEOPLE} people here, the most there can be."
        )));
    }
    c.execute(
        "INSERT INTO person (id, kitchen_id, name, initials, created_at) VALUES (?1, ?2, ?3, ?4, ?5)
         ON CONFLICT (id) DO UPDATE SET name = excluded.name, initials = excluded.initials, left_at = NULL
         WHERE kitchen_id = excluded.kitchen_id",
        (person.id, actor.kitchen, &person.name, &person.initials, At(now)),
    )?;
    changed(c, actor, &Change::PersonKept { person }, now)
}

/// Brings in the people of a file who are new here; how many. Where nobody ever worked they come as they were there; where
/// somebody did, as people who left: whoever does something here is said by this kitchen.
pub(crate) fn merge_people(
    c: &Connection,
    actor: &Actor,
    from: &KitchenRecord,
    now: Timestamp,
) -> Result<usize, StoreError> {
    let here = people(c, actor.kitchen, Which::Ever)?;
    let mut insert = c.prepare_cached(
        "INSERT INTO person (id, kitchen_id, name, initials, created_at, left_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6)
         ON CONFLICT (id) DO NOTHING",
    )?;
    let (mut added, mut work) = (0, 0);
    for person in from.people.iter().filter(|p| here.iter().all(|h| h.id != p.id)) {
        let left = !here.is_empty() || from.left.contains(&person.id) || work >= MOST_PEOPLE;
        let row =
            (person.id, actor.kitchen, &person.name, &person.initials, At(now), left.then_some(At(now)));
        if insert.execute(row)? > 0 {
            (added, work) = (added + 1, work + usize::from(!left));
            changed(c, actor, &Change::PersonKept { person: person.clone() }, now)?;
            if left {
                changed(c, actor, &Change::PersonLeft { id: person.id, left }, now)?;
            }
        }
    }
    Ok(added)
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

    /// Who works here now.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn people(&self) -> Result<Vec<Person>, StoreError> {
        self.with(|c, actor| people(c, actor.kitchen, Which::Listed)).await
    }

    /// Writes down somebody who works here, or their new name. Sent twice, they are there once.
    ///
    /// # Errors
    /// When there are too many, the name is taken by somebody else, or the database fails.
    pub async fn keep_person(&self, person: Person, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let here = people(c, actor.kitchen, Which::Listed)?;
            if here.contains(&person) {
                return Ok(());
            }
            if here.iter().any(|p| p.id != person.id && p.name == person.name) {
                let text =
                    format!("“{}” is here already. Give a name that tells the two apart.", person.name);
                return Err(StoreError::Conflict(text));
            }
            add_person(c, actor, person, now)
        })
        .await
    }

    /// Somebody left, or came back. What they did keeps their name.
    ///
    /// # Errors
    /// When they are not known here or the database fails.
    pub async fn let_go(&self, id: Uuid, put: Put, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let left = put.is_off();
            let at = left.then_some(At(now));
            if left && crate::door::last_owner(c, actor.kitchen, id)? {
                let text = "They are the last owner who can sign in. Make somebody else an owner first.";
                return Err(StoreError::Conflict(text.into()));
            }
            let written = c.execute(
                "UPDATE person SET left_at = ?3 WHERE id = ?1 AND kitchen_id = ?2 AND (left_at IS NULL) = ?4",
                (id, actor.kitchen, at, left),
            )?;
            let known = "SELECT count(*) FROM person WHERE id = ?1 AND kitchen_id = ?2";
            let known: i64 = c.query_row(known, (id, actor.kitchen), |r| r.get(0))?;
            match (known, written) {
                (0, _) => Err(StoreError::NotFound),
                (_, 0) => Ok(()),
                _ => changed(c, actor, &Change::PersonLeft { id, left }, now),
            }
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
