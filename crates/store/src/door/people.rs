//! Who works in a kitchen.

use hold_steady_core::book::{Change, KitchenRecord};
use hold_steady_core::limits::MOST_PEOPLE;
use hold_steady_core::plan::Person;
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use super::last_owner;
use crate::actor::changed;
use crate::listed::{Put, Which};
use crate::time::At;
use crate::{Actor, InKitchen, StoreError};

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
            if left && last_owner(c, actor.kitchen, id)? {
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
}
