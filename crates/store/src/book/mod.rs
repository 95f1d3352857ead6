//! Taking the whole kitchen out, and bringing one in.

mod through;

pub use through::{Found, Search};

use std::io::{self, Write};

use hold_steady_core::book::{
    CookRecord, CsvWriter, ExportWriter, Incoming, KitchenRecord, LeftOut, MOST_UNDER_WAY,
};
use jiff::Timestamp;
use uuid::Uuid;

use crate::actor::changes;
use crate::cook::{exists, insert, load, load_whole};
use crate::phase::count;
use crate::time::At;
use crate::{Actor, CookPhase, InKitchen, Kitchen, StoreError, food, new_id, to_json};

/// Where a record came from that was not written down here.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Origin {
    /// When it was brought in.
    pub at: Timestamp,
    /// By whom.
    pub by: String,
    /// SHA-256 of the file it was in.
    pub sha256: String,
}

/// What an import did.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Imported {
    /// Cooks that were new.
    pub cooks_added: usize,
    /// Cooks that were there and got further records.
    pub cooks_extended: usize,
    /// Cooks that were there with everything.
    pub cooks_unchanged: usize,
    /// Foods, temperatures, vessels and thermometers of the kitchen's own that were new.
    pub pantry_added: usize,
    /// What was not taken, and why.
    pub left_out: Vec<LeftOut>,
    /// What was taken, and computed again.
    pub noted: Vec<LeftOut>,
}

impl std::fmt::Display for Imported {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(
            f,
            "{} new, {} with further records, {} already here; {} foods, temperatures, vessels and thermometers of a kitchen’s own; {} left out",
            self.cooks_added,
            self.cooks_extended,
            self.cooks_unchanged,
            self.pantry_added,
            self.left_out.len()
        )
    }
}

impl InKitchen {
    /// Writes everything a kitchen has to `out`, oldest cook first, as it all stood at one moment. What cannot be
    /// read stays in the database and is not in it.
    ///
    /// # Errors
    /// When the database fails, or `out` cannot be written.
    pub async fn export(
        &self,
        kitchen: &Kitchen,
        now: Timestamp,
        out: impl Write + Send + 'static,
    ) -> Result<(), StoreError> {
        let (name, time_zone) = (kitchen.name.clone(), kitchen.zone.iana_name().unwrap_or("UTC").to_owned());
        self.aside(move |c, actor| {
            // What stands in the file stood together.
            let tx = c.transaction()?;
            let id = actor.kitchen;
            let equipment = crate::bath::equipment(&tx, id, true)?;
            let kitchen = KitchenRecord {
                name,
                time_zone,
                pantry: food::load(&tx, id)?,
                removed: food::load_removed(&tx, id)?,
                rules: Some(crate::kitchen::rules(&tx, id)?),
                habits: Some(crate::kitchen::habits(&tx, id)?),
                people: crate::kitchen::people(&tx, id, true)?,
                vessels: equipment.vessels,
                thermometers: equipment.thermometers,
                history: changes(&tx, id)?,
            };
            let mut out = ExportWriter::begin(out, &kitchen, now)?;
            let ids = all_ids(&tx, "SELECT id FROM cook WHERE kitchen_id = ?1 ORDER BY created_at, id", id)?;
            each(&tx, id, &ids, |cook| out.cook(&cook))?;
            out.end()?;
            Ok(())
        })
        .await
    }

    /// Writes the cooks that ended or were rated to `out` as comma-separated values, newest first, as they all stood
    /// at one moment.
    ///
    /// # Errors
    /// When the database fails, or `out` cannot be written.
    pub async fn export_csv(
        &self,
        kitchen: &Kitchen,
        out: impl Write + Send + 'static,
    ) -> Result<(), StoreError> {
        let zone = kitchen.zone.clone();
        self.aside(move |c, actor| {
            let tx = c.transaction()?;
            let finished = "SELECT id FROM cook WHERE kitchen_id = ?1 AND standing = 'finished' ORDER BY created_at DESC, id DESC";
            let ids = all_ids(&tx, finished, actor.kitchen)?;
            let mut book = CsvWriter::begin(out, zone)?;
            each(&tx, actor.kitchen, &ids, |cook| book.cook(&cook))?;
            book.end()?;
            Ok(())
        })
        .await
    }

    /// Brings in the cooks of a file and what its kitchen kept of its own. Records already here are left as they
    /// are, so importing twice changes nothing. What cannot be taken is left out and named; what is taken is
    /// marked with when and by whom it was brought in and the file it was in. To a cook that is under way here,
    /// nothing is ever added. What the other kitchen had settled is not taken over.
    ///
    /// # Errors
    /// When the database fails: then nothing was imported.
    pub async fn import(&self, incoming: Incoming, now: Timestamp) -> Result<Imported, StoreError> {
        self.aside(move |c, actor| {
            let mut tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
            let Incoming { export, left_out, noted, sha256 } = incoming;
            let import = new_id(now);
            // Written at the end, when it is known what was left out; what is marked with it waits till then.
            tx.execute_batch("PRAGMA defer_foreign_keys = ON")?;
            let pantry_added = food::merge(&tx, actor, &export.kitchen.pantry, now)?
                + crate::bath::merge(&tx, actor, &export.kitchen, now)?;
            let mut done = Imported { pantry_added, left_out, noted, ..Imported::default() };
            let mut under_way = count(&tx, actor.kitchen, CookPhase::UnderWay)?;
            for cook in &export.cooks {
                // One cook that cannot be taken leaves the others alone.
                let part = tx.savepoint()?;
                match merge(&part, actor, cook, import, &mut under_way)? {
                    Ok(step) => {
                        part.commit()?;
                        match step {
                            Merged::Added => done.cooks_added += 1,
                            Merged::Extended => done.cooks_extended += 1,
                            Merged::Unchanged => done.cooks_unchanged += 1,
                        }
                    }
                    Err(reason) => done.left_out.push(LeftOut { what: format!("cook {}", cook.id), reason }),
                }
            }
            if done.cooks_added + done.cooks_extended + done.pantry_added > 0 {
                tx.execute(
                    "INSERT INTO import (id, kitchen_id, at, by, sha256, exported_at, kitchen, left_out)
                     VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
                    (
                        import,
                        actor.kitchen,
                        At(now),
                        &actor.person,
                        sha256,
                        At(export.exported_at),
                        export.kitchen.name,
                        to_json(&done.left_out, "left out")?,
                    ),
                )?;
            }
            tx.commit()?;
            Ok(done)
        })
        .await
    }
}

fn all_ids(c: &rusqlite::Connection, query: &str, kitchen: Uuid) -> Result<Vec<Uuid>, StoreError> {
    let mut ids = c.prepare_cached(query)?;
    Ok(ids.query_map([kitchen], |r| r.get(0))?.collect::<Result<_, _>>()?)
}

/// Loads one cook after another; those that cannot be read are named on the lists and hold back no other.
fn each(
    c: &rusqlite::Connection,
    kitchen: Uuid,
    ids: &[Uuid],
    mut take: impl FnMut(CookRecord) -> io::Result<()>,
) -> Result<(), StoreError> {
    for id in ids {
        match load_whole(c, kitchen, *id) {
            Ok(Some(cook)) => take(cook)?,
            Ok(None) | Err(StoreError::Record(_)) => {}
            Err(e) => return Err(e),
        }
    }
    Ok(())
}

enum Merged {
    Added,
    Extended,
    Unchanged,
}

/// Brings one cook in; why not, where it cannot be.
fn merge(
    c: &rusqlite::Connection,
    actor: &Actor,
    cook: &CookRecord,
    import: Uuid,
    under_way: &mut usize,
) -> Result<Result<Merged, String>, StoreError> {
    if !exists(c, "cook", cook.id)? {
        if CookPhase::of(&cook.state()) == CookPhase::UnderWay {
            if *under_way >= MOST_UNDER_WAY {
                return Ok(Err(format!(
                    "{under_way} cooks are under way here, and more than {MOST_UNDER_WAY} cannot be: finish or remove some, then import again"
                )));
            }
            *under_way += 1;
        }
        return Ok(written(insert(c, actor, cook, Some(import)))?.map(|_| Merged::Added));
    }
    let here = load(c, actor.kitchen, cook.id)?.ok_or(StoreError::NotFound)?;
    let new: Vec<_> =
        cook.events.iter().filter(|e| here.events.iter().all(|h| h.event.id != e.event.id)).collect();
    let state = here.state();
    if CookPhase::of(&state) == CookPhase::UnderWay {
        return Ok(if new.is_empty() {
            Ok(Merged::Unchanged)
        } else {
            Err("it is under way here, and an import never adds to that: its own events are what counts"
                .into())
        });
    }
    // What happened here and what the file adds must be able to have happened together, in this order.
    let together = new.iter().map(|e| &e.event).try_fold(state, |state, event| state.apply(event));
    if let Err(refusal) = together {
        return Ok(Err(refusal.to_string()));
    }
    Ok(written(insert(c, actor, cook, Some(import)))?
        .map(|rows| if rows == 0 { Merged::Unchanged } else { Merged::Extended }))
}

/// A clash of records is the file's fault, anything else the database's.
fn written(rows: Result<usize, StoreError>) -> Result<Result<usize, String>, StoreError> {
    match rows {
        Ok(rows) => Ok(Ok(rows)),
        Err(StoreError::Database(e))
            if e.sqlite_error_code() == Some(rusqlite::ErrorCode::ConstraintViolation) =>
        {
            Ok(Err(format!("it clashes with a record here: {e}")))
        }
        Err(e) => Err(e),
    }
}
