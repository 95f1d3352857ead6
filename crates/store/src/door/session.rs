//! Sessions: what a browser holds is kept hashed, listed by screen, ended by whoever may.

use hold_steady_core::who::{By, Deed, Role, SESSION_DAYS, SESSION_IDLE_HOURS};
use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

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
    /// Who comes with the identifier of a session; nobody where it counts no more, or they left.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn signed(&self, token: &str, now: Timestamp) -> Result<Option<Signed>, StoreError> {
        let hash = secret::hashed(token);
        let found = self.with(move |c| {
            let (made, used) = since(now);
            let mut q = c.prepare_cached(
                "SELECT s.id, s.kitchen_id, p.id, p.name, p.role, s.seen_at FROM session s JOIN person p ON p.id = s.person_id
                 WHERE s.hash = ?1 AND s.ended_at IS NULL AND s.made_at > ?2 AND s.seen_at > ?3 AND p.left_at IS NULL",
            )?;
            let row = q.query_row((hash, made, used), |r| {
                let signed = (r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get::<_, String>(4)?);
                Ok((signed, r.get::<_, At>(5)?.0))
            });
            let Some(((session, kitchen, person, name, role), seen)) = row.optional()? else { return Ok(None) };
            Ok(Some((Signed { session, person, name, role: role_of(&role)?, kitchen }, seen)))
        });
        let Some((signed, seen)) = found.await? else { return Ok(None) };
        if now.duration_since(seen) >= SignedDuration::from_mins(1) {
            self.seen(signed.session, now).await?;
        }
        Ok(Some(signed))
    }

    /// Marks that a session was used.
    async fn seen(&self, session: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.tapped(move |c| {
            c.execute("UPDATE session SET seen_at = max(seen_at, ?2) WHERE id = ?1", (session, At(now)))?;
            Ok(())
        })
        .await
    }
}

impl InKitchen {
    /// Begins a session of somebody who proved who they are: what their browser is to hold, and which session it is.
    ///
    /// # Errors
    /// When they do not work here, or the database fails.
    pub async fn begin_session(
        &self,
        person: Uuid,
        agent: String,
        now: Timestamp,
    ) -> Result<(String, Uuid), StoreError> {
        let token = secret::new();
        let hash = secret::hashed(&token);
        let id = self.writing(move |c, actor| {
            let member = member(c, actor.kitchen, person)?;
            let id = new_id(now);
            c.execute(
                "INSERT INTO session (hash, id, kitchen_id, person_id, screen, agent, made_at, seen_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?7)",
                (hash, id, actor.kitchen, person, actor.by.screen, agent, At(now)),
            )?;
            // What nobody can use any more is not kept for ever.
            c.execute("DELETE FROM session WHERE kitchen_id = ?1 AND made_at < ?2", (actor.kitchen, since(now).0))?;
            let by = By { screen: actor.by.screen, ..By::person(person, &member.person.name) };
            done(c, &Actor { by, role: member.role, ..actor.clone() }, &Deed::SignedIn, now)?;
            Ok(id)
        });
        Ok((token, id.await?))
    }

    /// The sessions that count, the one used last first.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn sessions(&self, now: Timestamp) -> Result<Vec<Session>, StoreError> {
        self.with(move |c, actor| {
            let (made, used) = since(now);
            let mut rows = c.prepare_cached(
                "SELECT s.id, p.id, p.name, s.screen, s.agent, s.made_at, s.seen_at FROM session s JOIN person p ON p.id = s.person_id
                 WHERE s.kitchen_id = ?1 AND s.ended_at IS NULL AND s.made_at > ?2 AND s.seen_at > ?3 AND p.left_at IS NULL
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
