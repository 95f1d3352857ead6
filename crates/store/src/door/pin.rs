//! PINs: six digits that count on an enrolled screen alone. So many wrong ones in a row lock the name and the screen, also over a
//! restart, until an owner unlocks them; an owner waits, and is never locked.

use hold_steady_core::who::{Deed, FREE_TRIES, Role, WRONG_PINS, wait_after};
use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::{done, failures, left_of, member};
use crate::time::At;
use crate::{InKitchen, StoreError};

/// Whether a PIN may be tried.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PinTry {
    /// It may.
    Open,
    /// Not before so long.
    Wait(SignedDuration),
    /// Their name takes none until an owner unlocks it.
    NameLocked,
    /// The screen takes none until an owner unlocks it.
    ScreenLocked,
}

/// What counts wrong PINs of a person.
fn of_person(id: Uuid) -> String {
    format!("pin {id}")
}

/// What counts wrong PINs on a screen.
fn of_screen(id: Uuid) -> String {
    format!("pin at {id}")
}

fn locked(c: &Connection, kitchen: Uuid, subject: &str) -> Result<bool, StoreError> {
    Ok(failures(c, kitchen, subject)?.0 >= WRONG_PINS)
}

fn forget(c: &Connection, kitchen: Uuid, subject: &str) -> Result<usize, StoreError> {
    Ok(c.execute("DELETE FROM failed WHERE kitchen_id = ?1 AND subject = ?2", (kitchen, subject))?)
}

/// Counts one more, for ever: neither a quiet hour nor a restart makes it fewer.
fn count(c: &Connection, kitchen: Uuid, subject: &str, now: Timestamp) -> Result<u32, StoreError> {
    let times = failures(c, kitchen, subject)?.0.saturating_add(1);
    c.execute(
        "INSERT INTO failed (kitchen_id, subject, times, last_at) VALUES (?1, ?2, ?3, ?4)
         ON CONFLICT (kitchen_id, subject) DO UPDATE SET times = excluded.times, last_at = excluded.last_at",
        (kitchen, subject, times, At(now)),
    )?;
    Ok(times)
}

impl InKitchen {
    /// Whoever acts chose a PIN; hashed.
    ///
    /// # Errors
    /// When nobody is signed in, or the database fails.
    pub async fn choose_pin(&self, hash: String, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let person = actor.by.person.ok_or(StoreError::NotFound)?;
            c.execute(
                "INSERT INTO secret (person_id, kind, hash, set_at) VALUES (?1, 'pin', ?2, ?3)
                 ON CONFLICT (person_id, kind) DO UPDATE SET hash = excluded.hash, set_at = excluded.set_at",
                (person, hash, At(now)),
            )?;
            forget(c, actor.kitchen, &of_person(person))?;
            done(c, actor, &Deed::PinChosen, now)
        })
        .await
    }

    /// What somebody's PIN is compared with, where they chose one.
    ///
    /// # Errors
    /// When they do not work here, or the database fails.
    pub async fn pin_of(&self, person: Uuid) -> Result<Option<String>, StoreError> {
        self.with(move |c, actor| {
            member(c, actor.kitchen, person)?;
            let hash = "SELECT hash FROM secret WHERE person_id = ?1 AND kind = 'pin'";
            Ok(c.query_row(hash, [person], |r| r.get(0)).optional()?)
        })
        .await
    }

    /// Whether somebody's PIN may be tried on a screen.
    ///
    /// # Errors
    /// When they do not work here, or the database fails.
    pub async fn pin_try(&self, person: Uuid, screen: Uuid, now: Timestamp) -> Result<PinTry, StoreError> {
        self.with(move |c, actor| {
            if member(c, actor.kitchen, person)?.role == Role::Owner {
                let (times, last) = failures(c, actor.kitchen, &of_person(person))?;
                let left = left_of(wait_after(times, FREE_TRIES), last, now);
                return Ok(if left.is_positive() { PinTry::Wait(left) } else { PinTry::Open });
            }
            if locked(c, actor.kitchen, &of_person(person))? {
                return Ok(PinTry::NameLocked);
            }
            let screen = locked(c, actor.kitchen, &of_screen(screen))?;
            Ok(if screen { PinTry::ScreenLocked } else { PinTry::Open })
        })
        .await
    }

    /// A PIN was wrong: it counts for the name and for the screen.
    ///
    /// # Errors
    /// When they do not work here, or the database fails.
    pub async fn pin_wrong(&self, person: Uuid, screen: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let member = member(c, actor.kitchen, person)?;
            let name = count(c, actor.kitchen, &of_person(person), now)?;
            let at = count(c, actor.kitchen, &of_screen(screen), now)?;
            let owner = member.role == Role::Owner;
            let locked = (name >= WRONG_PINS && !owner) || at >= WRONG_PINS;
            done(c, actor, &Deed::PinWrong { name: member.person.name, locked }, now)
        })
        .await
    }

    /// A PIN was right: the session goes on with it, and what was wrong before counts no more.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn pin_right(
        &self,
        person: Uuid,
        screen: Uuid,
        session: Option<Uuid>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            forget(c, actor.kitchen, &of_person(person))?;
            forget(c, actor.kitchen, &of_screen(screen))?;
            let Some(session) = session else { return Ok(()) };
            c.execute("UPDATE session SET pin_at = ?2, touched_at = ?2 WHERE id = ?1", (session, At(now)))?;
            done(c, actor, &Deed::PinGiven, now)
        })
        .await
    }

    /// Which people and which screens take no PIN until an owner unlocks them.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn locked(&self) -> Result<Vec<Uuid>, StoreError> {
        self.with(|c, actor| {
            let mut rows = c.prepare_cached(
                "SELECT subject FROM failed WHERE kitchen_id = ?1 AND subject LIKE 'pin %' AND times >= ?2",
            )?;
            let subjects: Vec<String> =
                rows.query_map((actor.kitchen, WRONG_PINS), |r| r.get(0))?.collect::<Result<_, _>>()?;
            Ok(subjects.iter().filter_map(|s| s.rsplit(' ').next()?.parse().ok()).collect())
        })
        .await
    }

    /// A person, or a screen, takes PINs again.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn unlock(&self, id: Uuid, name: String, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let gone = forget(c, actor.kitchen, &of_person(id))? + forget(c, actor.kitchen, &of_screen(id))?;
            if gone == 0 { Ok(()) } else { done(c, actor, &Deed::Unlocked { name }, now) }
        })
        .await
    }
}
