//! Taking the whole kitchen out, and bringing one in.

use hold_steady_core::book::{CookRecord, Export, FORMAT, KitchenRecord, VERSION};
use jiff::Timestamp;

use crate::cook::{exists, insert, load, load_all};
use crate::{Kitchen, Store, StoreError, food};

/// What an import did.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Imported {
    /// Cooks that were new.
    pub cooks_added: usize,
    /// Cooks that were there and got further records.
    pub cooks_extended: usize,
    /// Cooks that were there with everything.
    pub cooks_unchanged: usize,
    /// Foods and temperatures of the kitchen's own that were new.
    pub pantry_added: usize,
}

impl Store {
    /// Everything a kitchen has, oldest cook first.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn export(&self, kitchen: &Kitchen, now: Timestamp) -> Result<Export, StoreError> {
        let id = kitchen.id;
        let (mut cooks, pantry) = self.with(move |c| Ok((load_all(c, id)?, food::load(c, id)?))).await?;
        cooks.reverse();
        Ok(Export {
            format: FORMAT.into(),
            version: VERSION,
            exported_at: now,
            kitchen: KitchenRecord {
                name: kitchen.name.clone(),
                time_zone: kitchen.zone.iana_name().unwrap_or("UTC").into(),
                pantry,
            },
            cooks,
        })
    }

    /// Brings in the cooks of an export and what its kitchen kept of its own: all of them or, on any failure, none. Records already here
    /// are left as they are, so importing twice changes nothing.
    ///
    /// # Errors
    /// When a record clashes with another one here, or the database fails.
    pub async fn import(&self, kitchen: &Kitchen, export: Export) -> Result<Imported, StoreError> {
        let id = kitchen.id;
        self.with(move |c| {
            let tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
            let kept = food::merge(&tx, id, &export.kitchen.pantry, export.exported_at)?;
            let mut done = Imported { pantry_added: kept, ..Imported::default() };
            for cook in &export.cooks {
                let known = exists(&tx, "cook", cook.id)?;
                if known {
                    check_together(&tx, cook)?;
                }
                let written = insert(&tx, id, cook).map_err(|e| clash(cook, e))?;
                match (known, written) {
                    (false, _) => done.cooks_added += 1,
                    (true, 0) => done.cooks_unchanged += 1,
                    (true, _) => done.cooks_extended += 1,
                }
            }
            tx.commit()?;
            Ok(done)
        })
        .await
    }
}

/// Whether what happened here and what the file adds can have happened together, in this order.
fn check_together(c: &rusqlite::Connection, cook: &CookRecord) -> Result<(), StoreError> {
    let here = load(c, cook.id)?.ok_or(StoreError::NotFound)?;
    let new = cook.events.iter().filter(|e| here.events.iter().all(|h| h.event.id != e.event.id));
    let state = here.state();
    new.map(|e| &e.event)
        .try_fold(state, |state, event| state.apply(event))
        .map(|_| ())
        .map_err(|refusal| StoreError::Conflict(format!("cook {}: {refusal}", cook.id)))
}

fn clash(cook: &CookRecord, e: StoreError) -> StoreError {
    match e {
        StoreError::Database(e) => {
            StoreError::Conflict(format!("cook {} clashes with a record here: {e}", cook.id))
        }
        other => other,
    }
}
