//! Taking the whole kitchen out: record after record, as it all stood at one moment.

use std::io::{self, Write};

use hold_steady_core::book::{CookRecord, CsvWriter, ExportWriter, KitchenRecord};
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use crate::actor::each_change;
use crate::bath::{Detail, Much, each_hour};
use crate::cook::{load_filed, load_whole};
use crate::listed::Which;
use crate::{InKitchen, Kitchen, StoreError, bath, door, food, keep, kitchen};

impl InKitchen {
    /// Writes everything a kitchen has to `out`, oldest first, as it all stood at one moment. What cannot be read stays in the
    /// database and is not in it.
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
            let mut out = ExportWriter::begin(out, &record(&tx, id, (name, time_zone))?, now)?;
            each_change(&tx, id, |change| Ok(out.change(&change)?))?;
            let mut instruments: Vec<Uuid> = Vec::new();
            for bath in all_ids(&tx, "SELECT id FROM bath WHERE kitchen_id = ?1 ORDER BY began_at, id", id)? {
                if let Some(bath) = readable(bath::load(&tx, bath, Detail::Read))? {
                    out.bath(&bath)?;
                    instruments.extend(bath.instruments.iter().map(|i| i.id));
                }
            }
            for cook in all_ids(&tx, "SELECT id FROM cook WHERE kitchen_id = ?1 ORDER BY created_at, id", id)?
            {
                if let Some(cook) = readable(load_filed(&tx, id, cook))?.flatten() {
                    out.cook(&cook)?;
                }
            }
            let storages = keep::load(&tx, id, Much::Nothing)?;
            instruments.extend(storages.iter().flat_map(|s| &s.instruments).map(|i| i.id));
            for instrument in instruments {
                each_hour(&tx, instrument, |hour| Ok(out.hour(&hour)?))?;
            }
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
            let finished = "SELECT id FROM cook WHERE kitchen_id = ?1 AND standing IN ('finished', 'kept') ORDER BY created_at DESC, id DESC";
            let ids = all_ids(&tx, finished, actor.kitchen)?;
            let mut book = CsvWriter::begin(out, zone)?;
            each(&tx, actor.kitchen, &ids, |cook| book.cook(&cook))?;
            book.end()?;
            Ok(())
        })
        .await
    }
}

/// What an export says of the kitchen.
fn record(
    c: &Connection,
    id: Uuid,
    (name, time_zone): (String, String),
) -> Result<KitchenRecord, StoreError> {
    let equipment = bath::equipment(c, id, Which::Ever)?;
    let (here, ever) = (door::people(c, id, Which::Listed)?, door::people(c, id, Which::Ever)?);
    let left = ever.iter().map(|p| p.id).filter(|id| here.iter().all(|p| p.id != *id)).collect();
    Ok(KitchenRecord {
        name,
        time_zone,
        pantry: food::load(c, id)?,
        removed: food::load_removed(c, id)?,
        rules: Some(kitchen::rules(c, id)?),
        habits: Some(kitchen::habits(c, id)?),
        people: ever,
        left,
        vessels: equipment.vessels,
        thermometers: equipment.thermometers,
        devices: bath::all_devices(c, id)?,
        guests: kitchen::guests(c, id, Which::Ever)?,
        storages: keep::load(c, id, Much::Nothing)?,
        history: Vec::new(),
    })
}

fn all_ids(c: &Connection, query: &str, kitchen: Uuid) -> Result<Vec<Uuid>, StoreError> {
    let mut ids = c.prepare_cached(query)?;
    Ok(ids.query_map([kitchen], |r| r.get(0))?.collect::<Result<_, _>>()?)
}

/// A record that cannot be read is named on the lists and holds back no other.
fn readable<T>(read: Result<T, StoreError>) -> Result<Option<T>, StoreError> {
    match read {
        Ok(record) => Ok(Some(record)),
        Err(StoreError::Record(_)) => Ok(None),
        Err(e) => Err(e),
    }
}

/// Loads one cook after another.
fn each(
    c: &Connection,
    kitchen: Uuid,
    ids: &[Uuid],
    mut take: impl FnMut(CookRecord) -> io::Result<()>,
) -> Result<(), StoreError> {
    for id in ids {
        if let Some(cook) = readable(load_whole(c, kitchen, *id))?.flatten() {
            take(cook)?;
        }
    }
    Ok(())
}
