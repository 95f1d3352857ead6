//! Who does something, and where: the only way to a kitchen's records.

use hold_steady_core::book::{Change, ChangeRecord};
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use crate::time::At;
use crate::{Store, StoreError, new_id, on, to_json};

/// In what role somebody acts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    /// Somebody at the pages, or at the command line: there are no logins yet.
    Cook,
    /// The program itself: the clock, a demonstration.
    Program,
}

impl Role {
    /// The word in records.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Cook => "cook",
            Self::Program => "program",
        }
    }
}

/// Who acts, and in which kitchen.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Actor {
    /// The kitchen: no other's records are reached.
    pub kitchen: Uuid,
    /// Who, as far as is known.
    pub person: String,
    /// In what role.
    pub role: Role,
}

/// The store as one actor reaches it. Every record of a kitchen is read and written through here.
#[derive(Clone)]
pub struct InKitchen {
    pub(crate) store: Store,
    pub(crate) actor: Actor,
}

impl Store {
    /// The door to a kitchen's records.
    #[must_use]
    pub fn in_kitchen(&self, actor: Actor) -> InKitchen {
        InKitchen { store: self.clone(), actor }
    }
}

impl InKitchen {
    /// Who acts.
    #[must_use]
    pub const fn actor(&self) -> &Actor {
        &self.actor
    }

    /// Runs work on a connection, with the actor.
    pub(crate) async fn with<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Connection, &Actor) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        let actor = self.actor.clone();
        self.store.with(move |c| work(c, &actor)).await
    }

    /// Runs work on a connection of those that take long, with the actor.
    pub(crate) async fn aside<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Connection, &Actor) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        let actor = self.actor.clone();
        self.store.aside(move |c| work(c, &actor)).await
    }

    /// Runs work in one transaction that writes; nothing of it stays when it fails.
    pub(crate) async fn writing<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Connection, &Actor) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        let actor = self.actor.clone();
        self.store.tapped(move |c| at_once(c, |c| work(c, &actor))).await
    }

    /// The same for what devices report.
    pub(crate) async fn reporting<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Connection, &Actor) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, StoreError> {
        let actor = self.actor.clone();
        on(&self.store.connections.reports, move |c| at_once(c, |c| work(c, &actor))).await
    }
}

/// In one transaction that has the right to write from its beginning.
fn at_once<T>(
    c: &mut Connection,
    work: impl FnOnce(&Connection) -> Result<T, StoreError>,
) -> Result<T, StoreError> {
    let tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
    let done = work(&tx)?;
    tx.commit()?;
    Ok(done)
}

/// Writes down who changed what of a kitchen; in the transaction that changes it.
pub(crate) fn changed(
    c: &Connection,
    actor: &Actor,
    change: &Change,
    now: Timestamp,
) -> Result<(), StoreError> {
    c.execute(
        "INSERT INTO change (id, kitchen_id, at, by, role, body) VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
        (new_id(now), actor.kitchen, At(now), &actor.person, actor.role.id(), to_json(change, "change")?),
    )?;
    Ok(())
}

/// Everything that was changed in a kitchen, in order.
pub(crate) fn changes(c: &Connection, kitchen: Uuid) -> Result<Vec<ChangeRecord>, StoreError> {
    let mut rows =
        c.prepare_cached("SELECT id, at, by, body FROM change WHERE kitchen_id = ?1 ORDER BY seq")?;
    let rows: Vec<(Uuid, At, String, String)> = rows
        .query_map([kitchen], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, at, by, body)| {
            Ok(ChangeRecord { id, at: at.0, by, change: crate::parse_json(&body, "change")? })
        })
        .collect()
}
