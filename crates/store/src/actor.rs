//! Who does something, and where: the only way to a kitchen's records.

use hold_steady_core::book::{Change, ChangeRecord};
use hold_steady_core::who::{By, Role};
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use crate::time::At;
use crate::who::{COLUMNS, told, who};
use crate::{Store, StoreError, new_id, to_json};

/// Who acts, and in which kitchen.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Actor {
    /// The kitchen: no other's records are reached.
    pub kitchen: Uuid,
    /// Who, as far as is known.
    pub by: By,
    /// In what role.
    pub role: Role,
}

impl Actor {
    /// Under which identifier it is written down who acts.
    pub(crate) fn who(&self, c: &Connection) -> Result<Uuid, StoreError> {
        who(c, self.kitchen, &self.by)
    }
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
    /// The same kitchen, in the name of somebody who proved who they are meanwhile.
    #[must_use]
    pub fn in_the_name_of(&self, by: By, role: Role) -> Self {
        self.store.in_kitchen(Actor { kitchen: self.actor.kitchen, by, role })
    }

    /// A copy of the whole database to read from, as [`Store::copied`] makes it.
    ///
    /// # Errors
    /// As there.
    pub async fn copied(&self) -> Result<std::fs::File, StoreError> {
        self.store.copied().await
    }

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
        let reports = &self.store.connections.reports;
        self.store.in_turn(reports, move |c| at_once(c, |c| work(c, &actor))).await
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
        "INSERT INTO change (id, kitchen_id, at, who_id, role, body) VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
        (new_id(now), actor.kitchen, At(now), actor.who(c)?, actor.role.id(), to_json(change, "change")?),
    )?;
    Ok(())
}

/// Hands on what was changed in a kitchen, in order; what cannot be read stays where it is.
pub(crate) fn each_change(
    c: &Connection,
    kitchen: Uuid,
    mut take: impl FnMut(ChangeRecord) -> Result<(), StoreError>,
) -> Result<(), StoreError> {
    let mut rows = c.prepare_cached(&format!(
        "SELECT c.id, c.at, c.body, {COLUMNS} FROM change c JOIN who w ON w.id = c.who_id WHERE c.kitchen_id = ?1 ORDER BY c.seq"
    ))?;
    let mut found = rows.query([kitchen])?;
    while let Some(r) = found.next()? {
        let (at, body): (At, String) = (r.get(1)?, r.get(2)?);
        let change = crate::parse_json(&body, "change")?;
        take(ChangeRecord { id: r.get(0)?, at: at.0, by: told(r, 3)?, change })?;
    }
    Ok(())
}
