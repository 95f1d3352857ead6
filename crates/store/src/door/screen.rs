//! Screens that an owner enrolled: those that several share, where a name is tapped, and those on the wall.

use hold_steady_core::who::{By, Deed, ScreenKind};
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::{done, member};
use crate::time::At;
use crate::{Actor, InKitchen, StoreError, new_id, secret};

/// An enrolled screen, as the pages list it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Screen {
    /// Which.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// What it is.
    pub kind: ScreenKind,
    /// By what records call it.
    pub screen: Uuid,
    /// When it was enrolled.
    pub made_at: Timestamp,
    /// When it was last used, to the minute.
    pub seen_at: Timestamp,
}

/// The enrolled screen somebody stands at.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OnScreen {
    /// Which.
    pub id: Uuid,
    /// In which kitchen.
    pub kitchen: Uuid,
    /// What it is called.
    pub name: String,
    /// What it is.
    pub kind: ScreenKind,
    /// By what records call it.
    pub screen: Uuid,
    /// When it was last used, to the minute.
    pub(super) seen_at: Timestamp,
}

fn kind_of(word: &str) -> Result<ScreenKind, StoreError> {
    ScreenKind::of(word).ok_or_else(|| StoreError::Record(format!("there is no screen of the kind “{word}”")))
}

/// The screen that holds a secret, where it counts.
pub(super) fn on_screen(c: &Connection, hash: [u8; 32]) -> Result<Option<OnScreen>, StoreError> {
    let mut q = c.prepare_cached(
        "SELECT id, kitchen_id, name, kind, screen, seen_at FROM enrolled WHERE hash = ?1 AND ended_at IS NULL",
    )?;
    let row = q.query_row([hash], |r| {
        let seen: At = r.get(5)?;
        Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get::<_, String>(3)?, r.get(4)?, seen.0))
    });
    let Some((id, kitchen, name, kind, screen, seen_at)) = row.optional()? else { return Ok(None) };
    Ok(Some(OnScreen { id, kitchen, name, kind: kind_of(&kind)?, screen, seen_at }))
}

/// The screens of a kitchen that count, in the order they were enrolled.
fn screens(c: &Connection, kitchen: Uuid) -> Result<Vec<Screen>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, kind, screen, made_at, seen_at FROM enrolled WHERE kitchen_id = ?1 AND ended_at IS NULL ORDER BY made_at, id",
    )?;
    let mut found = rows.query([kitchen])?;
    let mut all = Vec::new();
    while let Some(r) = found.next()? {
        let (made, seen): (At, At) = (r.get(4)?, r.get(5)?);
        all.push(Screen {
            id: r.get(0)?,
            name: r.get(1)?,
            kind: kind_of(&r.get::<_, String>(2)?)?,
            screen: r.get(3)?,
            made_at: made.0,
            seen_at: seen.0,
        });
    }
    Ok(all)
}

/// More than these are in no kitchen.
const MOST_SCREENS: usize = 40;

impl InKitchen {
    /// Enrols the screen this is done at: what it is to hold. Whoever is signed in there is so no more.
    ///
    /// # Errors
    /// When another has that name, there are too many, or the database fails.
    pub async fn enrol(
        &self,
        name: String,
        kind: ScreenKind,
        session: Option<Uuid>,
        now: Timestamp,
    ) -> Result<String, StoreError> {
        let token = secret::new();
        let hash = secret::hashed(&token);
        self.writing(move |c, actor| {
            let here = screens(c, actor.kitchen)?;
            if here.iter().any(|s| super::same(&s.name, &name)) {
                let text = format!("A screen is called “{name}” already. Give a name that tells the two apart.");
                return Err(StoreError::Conflict(text));
            }
            if here.len() >= MOST_SCREENS {
                let text = format!("{MOST_SCREENS} screens are enrolled, the most there can be. End one first.");
                return Err(StoreError::Conflict(text));
            }
            let screen = actor.by.screen.unwrap_or_else(|| new_id(now));
            c.execute(
                "INSERT INTO enrolled (hash, id, kitchen_id, name, kind, screen, made_at, seen_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?7)",
                (hash, new_id(now), actor.kitchen, &name, kind.id(), screen, At(now)),
            )?;
            c.execute("UPDATE session SET ended_at = ?2 WHERE id = ?1 AND ended_at IS NULL", (session, At(now)))?;
            done(c, actor, &Deed::ScreenEnrolled { name, screen: kind }, now)
        })
        .await?;
        Ok(token)
    }

    /// The enrolled screens.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn screens(&self) -> Result<Vec<Screen>, StoreError> {
        self.with(|c, actor| screens(c, actor.kitchen)).await
    }

    /// A screen is enrolled no more, nor does a name count that was tapped there.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn end_screen(&self, id: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let found = screens(c, actor.kitchen)?.into_iter().find(|s| s.id == id);
            // Sent twice, it was ended once.
            let Some(screen) = found else { return Ok(()) };
            c.execute("UPDATE enrolled SET ended_at = ?2 WHERE id = ?1", (id, At(now)))?;
            c.execute(
                "UPDATE session SET ended_at = ?2 WHERE enrolled_id = ?1 AND ended_at IS NULL",
                (id, At(now)),
            )?;
            done(c, actor, &Deed::ScreenEnded { name: screen.name }, now)
        })
        .await
    }

    /// Somebody tapped their name on a shared screen, and gave their PIN where it asked for one: what its browser is to hold. Who
    /// was there before is there no more.
    ///
    /// # Errors
    /// When they do not work here, or the database fails.
    pub async fn begin_named(
        &self,
        person: Uuid,
        enrolled: Uuid,
        with_pin: WithPin,
        now: Timestamp,
    ) -> Result<String, StoreError> {
        let token = secret::new();
        let hash = secret::hashed(&token);
        self.writing(move |c, actor| {
            let member = member(c, actor.kitchen, person)?;
            let end = "UPDATE session SET ended_at = ?2 WHERE enrolled_id = ?1 AND ended_at IS NULL";
            c.execute(end, (enrolled, At(now)))?;
            let pin = (with_pin == WithPin::Given).then_some(At(now));
            c.execute(
                "INSERT INTO session (hash, id, kitchen_id, person_id, screen, agent, made_at, seen_at, enrolled_id, touched_at, pin_at)
                 VALUES (?1, ?2, ?3, ?4, ?5, '', ?6, ?6, ?7, ?6, ?8)",
                (hash, new_id(now), actor.kitchen, person, actor.by.screen, At(now), enrolled, pin),
            )?;
            let by = By { screen: actor.by.screen, ..By::person(person, &member.person.name) };
            let deed = if with_pin == WithPin::Given { Deed::PinGiven } else { Deed::NameTapped };
            done(c, &Actor { by, role: member.role, ..actor.clone() }, &deed, now)
        })
        .await?;
        Ok(token)
    }

    /// Whoever tapped their name touched the screen: it goes on being them.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn touched(&self, session: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, _| {
            c.execute(
                "UPDATE session SET touched_at = max(touched_at, ?2) WHERE id = ?1",
                (session, At(now)),
            )?;
            Ok(())
        })
        .await
    }

    /// Whoever tapped their name is there no more.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn left_screen(&self, session: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, _| {
            c.execute(
                "UPDATE session SET ended_at = ?2 WHERE id = ?1 AND ended_at IS NULL",
                (session, At(now)),
            )?;
            Ok(())
        })
        .await
    }

    /// Whether every name takes a PIN on shared screens; else what is corrected and settled does.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn pins_always(&self) -> Result<bool, StoreError> {
        self.with(|c, actor| {
            Ok(c.query_row("SELECT pins_always FROM kitchen WHERE id = ?1", [actor.kitchen], |r| r.get(0))?)
        })
        .await
    }

    /// Settles when shared screens ask for a PIN.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn ask_pins(&self, always: bool, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let set = "UPDATE kitchen SET pins_always = ?2 WHERE id = ?1 AND pins_always <> ?2";
            match c.execute(set, (actor.kitchen, always))? {
                0 => Ok(()),
                _ => done(c, actor, &Deed::PinsAsked { always }, now),
            }
        })
        .await
    }
}

/// Whether a PIN came with a name.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum WithPin {
    /// It did, and was right.
    Given,
    /// The name alone.
    NotAsked,
}
