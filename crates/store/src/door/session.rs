//! Sessions: what a browser holds is kept hashed, listed by screen, ended by whoever may.

use hold_steady_core::who::{
    By, Deed, PIN_MINUTES, Proof, Role, SESSION_DAYS, SESSION_IDLE_HOURS, SHARED_IDLE_MINUTES,
};
use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::screen::{OnScreen, on_screen};
use super::{done, member, role_of};
use crate::time::At;
use crate::{Actor, InKitchen, Store, StoreError, new_id, secret};

/// A session, as the pages list it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Session {
    /// What it is called.
    pub id: Uuid,
    /// Whose.
    pub person: Uuid,
    /// What they are called.
    pub name: String,
    /// On which screen.
    pub screen: Option<Uuid>,
    /// What the browser says it is.
    pub agent: String,
    /// When it was begun.
    pub made_at: Timestamp,
    /// When it was last used, to the minute.
    pub seen_at: Timestamp,
}

/// Who came with a session that counts.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Signed {
    /// Which session.
    pub session: Uuid,
    /// Who.
    pub person: Uuid,
    /// What they are called now.
    pub name: String,
    /// In what role they act now.
    pub role: Role,
    /// In which kitchen.
    pub kitchen: Uuid,
    /// How far it was proved that it is them.
    pub proof: Proof,
    /// On which screen it was begun.
    pub screen: Option<Uuid>,
}

/// What a browser comes with, and what counts of it.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct AtDoor {
    /// Who is signed in.
    pub signed: Option<Signed>,
    /// The enrolled screen it is.
    pub screen: Option<OnScreen>,
}

/// Ends all sessions of somebody.
pub(super) fn end_all(c: &Connection, person: Uuid, now: Timestamp) -> Result<(), StoreError> {
    c.execute(
        "UPDATE session SET ended_at = ?2 WHERE person_id = ?1 AND ended_at IS NULL",
        (person, At(now)),
    )?;
    Ok(())
}

/// From when on a session counts that was begun, or used, at some time.
fn since(now: Timestamp) -> (At, At) {
    let back = |hours| At(now - SignedDuration::from_hours(hours));
    (back(SESSION_DAYS * 24), back(SESSION_IDLE_HOURS))
}

impl Store {
    /// Who comes with what a browser holds of a session and of a screen; nobody where it counts no more, or they left. A name that
    /// was tapped counts on the screen it was tapped on.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn at_door(
        &self,
        session: Option<&str>,
        screen: Option<&str>,
        now: Timestamp,
    ) -> Result<AtDoor, StoreError> {
        let (session, screen) = (session.map(secret::hashed), screen.map(secret::hashed));
        let found = self.with(move |c| {
            let screen = screen.map(|hash| on_screen(c, hash)).transpose()?.flatten();
            let signed = session.map(|hash| signed(c, hash, screen.as_ref(), now)).transpose()?.flatten();
            Ok((signed, screen))
        });
        let (signed, screen) = found.await?;
        let late = |seen: Timestamp| now.duration_since(seen) >= SignedDuration::from_mins(1);
        let session = signed.as_ref().filter(|(_, seen)| late(*seen)).map(|(s, _)| s.session);
        let enrolled = screen.as_ref().filter(|s| late(s.seen_at)).map(|s| s.id);
        if session.is_some() || enrolled.is_some() {
            self.seen(session, enrolled, now).await?;
        }
        Ok(AtDoor { signed: signed.map(|(signed, _)| signed), screen })
    }

    /// Marks that a session and a screen were used.
    async fn seen(
        &self,
        session: Option<Uuid>,
        enrolled: Option<Uuid>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.tapped(move |c| {
            c.execute("UPDATE session SET seen_at = max(seen_at, ?2) WHERE id = ?1", (session, At(now)))?;
            c.execute("UPDATE enrolled SET seen_at = max(seen_at, ?2) WHERE id = ?1", (enrolled, At(now)))?;
            Ok(())
        })
        .await
    }
}

/// Who has a session, and when it was last used.
fn signed(
    c: &Connection,
    hash: [u8; 32],
    screen: Option<&OnScreen>,
    now: Timestamp,
) -> Result<Option<(Signed, Timestamp)>, StoreError> {
    struct Row {
        signed: Signed,
        role: String,
        seen: Timestamp,
        enrolled: Option<Uuid>,
        touched: Option<Timestamp>,
        pin: Option<Timestamp>,
    }
    let (made, used) = since(now);
    let mut q = c.prepare_cached(
        "SELECT s.id, s.kitchen_id, p.id, p.name, p.role, s.seen_at, s.screen, s.enrolled_id, s.touched_at, s.pin_at
         FROM session s JOIN person p ON p.id = s.person_id
         WHERE s.hash = ?1 AND s.ended_at IS NULL AND s.made_at > ?2 AND s.seen_at > ?3 AND p.left_at IS NULL",
    )?;
    let row = q.query_row((hash, made, used), |r| {
        let at = |i: usize| Ok::<_, rusqlite::Error>(r.get::<_, Option<At>>(i)?.map(|t| t.0));
        Ok(Row {
            signed: Signed {
                session: r.get(0)?,
                kitchen: r.get(1)?,
                person: r.get(2)?,
                name: r.get(3)?,
                role: Role::Nobody,
                proof: Proof::Enough,
                screen: r.get(6)?,
            },
            role: r.get(4)?,
            seen: r.get::<_, At>(5)?.0,
            enrolled: r.get(7)?,
            touched: at(8)?,
            pin: at(9)?,
        })
    });
    let Some(row) = row.optional()? else { return Ok(None) };
    let within = |t: Option<Timestamp>, minutes| {
        // A clock that was set back makes nothing last longer.
        t.is_some_and(|t| t <= now && now.duration_since(t) < SignedDuration::from_mins(minutes))
    };
    let proof = match (row.enrolled, screen.map(|s| s.id)) {
        // A password was given on a screen of one's own; where that was enrolled since, it is one no more.
        (None, None) => Proof::Enough,
        (Some(its), Some(this)) if its == this && within(row.touched, SHARED_IDLE_MINUTES) => {
            if within(row.pin, PIN_MINUTES) { Proof::Pin } else { Proof::Named }
        }
        _ => return Ok(None),
    };
    let signed = Signed { role: role_of(&row.role)?, proof, ..row.signed };
    Ok(Some((signed, row.seen)))
}

impl InKitchen {
    /// Begins a session of somebody who proved who they are: what their browser is to hold. The one it had before counts
    /// no more. It stands in the trail as the deed given; not at all where another record tells it.
    ///
    /// # Errors
    /// When they do not work here, or the database fails.
    pub async fn begin_session(
        &self,
        person: Uuid,
        agent: String,
        (before, deed): (Option<Uuid>, Option<Deed>),
        now: Timestamp,
    ) -> Result<String, StoreError> {
        let token = secret::new();
        let hash = secret::hashed(&token);
        self.writing(move |c, actor| {
            let member = member(c, actor.kitchen, person)?;
            c.execute("UPDATE session SET ended_at = ?2 WHERE id = ?1 AND ended_at IS NULL", (before, At(now)))?;
            c.execute(
                "INSERT INTO session (hash, id, kitchen_id, person_id, screen, agent, made_at, seen_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?7)",
                (hash, new_id(now), actor.kitchen, person, actor.by.screen, agent, At(now)),
            )?;
            // What nobody can use any more is not kept for ever.
            c.execute("DELETE FROM session WHERE kitchen_id = ?1 AND made_at < ?2", (actor.kitchen, since(now).0))?;
            let Some(deed) = deed else { return Ok(()) };
            let by = By { screen: actor.by.screen, ..By::person(person, &member.person.name) };
            done(c, &Actor { by, role: member.role, ..actor.clone() }, &deed, now)
        })
        .await?;
        Ok(token)
    }

    /// The sessions that count, begun with a password, the one used last first.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn sessions(&self, now: Timestamp) -> Result<Vec<Session>, StoreError> {
        self.with(move |c, actor| {
            let (made, used) = since(now);
            let mut rows = c.prepare_cached(
                "SELECT s.id, p.id, p.name, s.screen, s.agent, s.made_at, s.seen_at FROM session s JOIN person p ON p.id = s.person_id
                 WHERE s.kitchen_id = ?1 AND s.ended_at IS NULL AND s.made_at > ?2 AND s.seen_at > ?3 AND p.left_at IS NULL
                    AND s.enrolled_id IS NULL
                 ORDER BY s.seen_at DESC, s.id",
            )?;
            let session = |r: &rusqlite::Row<'_>| {
                Ok(Session {
                    id: r.get(0)?,
                    person: r.get(1)?,
                    name: r.get(2)?,
                    screen: r.get(3)?,
                    agent: r.get(4)?,
                    made_at: r.get::<_, At>(5)?.0,
                    seen_at: r.get::<_, At>(6)?.0,
                })
            };
            Ok(rows.query_map((actor.kitchen, made, used), session)?.collect::<Result<_, _>>()?)
        })
        .await
    }

    /// Ends a session: its own, or somebody's.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn end_session(&self, id: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let whose = c
                .query_row(
                    "SELECT p.id, p.name FROM session s JOIN person p ON p.id = s.person_id
                     WHERE s.id = ?1 AND s.kitchen_id = ?2 AND s.ended_at IS NULL",
                    (id, actor.kitchen),
                    |r| Ok((r.get::<_, Uuid>(0)?, r.get::<_, String>(1)?)),
                )
                .optional()?;
            // Sent twice, it was ended once.
            let Some((person, name)) = whose else { return Ok(()) };
            c.execute("UPDATE session SET ended_at = ?2 WHERE id = ?1", (id, At(now)))?;
            let own = actor.by.person == Some(person);
            done(c, actor, &if own { Deed::SignedOut } else { Deed::SessionEnded { name } }, now)
        })
        .await
    }

    /// Ends all sessions of somebody.
    ///
    /// # Errors
    /// When they are not here or the database fails.
    pub async fn end_sessions_of(&self, person: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let name = member(c, actor.kitchen, person)?.person.name;
            end_all(c, person, now)?;
            done(c, actor, &Deed::SignedOutEverywhere { name }, now)
        })
        .await
    }
}
