//! Refrigerators, freezers and the room: what a kitchen has of them, and what was read there.

use hold_steady_core::book::{Change, InstrumentRecord, KitchenRecord};
use hold_steady_core::keep::{Storage, StorageKind, StorageRecord};
use hold_steady_core::units::Celsius;
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use crate::actor::changed;
use crate::bath::{
    Lies, Much, checks, full, insert_instrument, known, read_by_hand, readings_since, toggled,
};
use crate::listed::Put;
use crate::time::At;
use crate::{Actor, InKitchen, StoreError};

impl InKitchen {
    /// What a kitchen keeps things in, in the order it came, with what was read there since; what was taken off the lists left
    /// out.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn storages(&self, since: Timestamp) -> Result<Vec<StorageRecord>, StoreError> {
        self.with(move |c, actor| {
            let all = load(c, actor.kitchen, Much::Since(since))?;
            Ok(all.into_iter().filter(|s| !s.removed).collect())
        })
        .await
    }

    /// One of them, with what was read there since.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn storage(&self, id: Uuid, since: Timestamp) -> Result<StorageRecord, StoreError> {
        self.with(move |c, actor| {
            let found = load(c, actor.kitchen, Much::Nothing)?.into_iter().find(|s| s.storage.id == id);
            let mut found = found.ok_or(StoreError::NotFound)?;
            found.instruments = instruments(c, id, Much::Since(since))?;
            Ok(found)
        })
        .await
    }

    /// Keeps one: a new one, or a change to one there is. Sent twice, it is there once.
    ///
    /// # Errors
    /// When its name cannot be or is taken, there are too many, it is another kitchen's, or the database fails.
    pub async fn keep_storage(&self, storage: Storage, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| keep(c, actor, storage, now)).await
    }

    /// Takes one off the list, or puts it back. What was read in it stays.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_storage(&self, id: Uuid, put: Put, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            if toggled(c, actor, "storage", id, put, now)? {
                changed(c, actor, &Change::StorageRemoved { id, removed: put.is_off() }, now)?;
            }
            Ok(())
        })
        .await
    }

    /// Writes down a reading of it, by its own display where no thermometer is named. A tap sent twice is one reading.
    ///
    /// # Errors
    /// When it or the thermometer is not there, there are too many readings, or the database fails.
    pub async fn read_storage(
        &self,
        id: Uuid,
        thermometer: Option<Uuid>,
        (celsius, at): (Celsius, Timestamp),
        (tap, now): (Uuid, Timestamp),
    ) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            read_by_hand(c, actor, (Lies::Storage(id), thermometer), (celsius, at), (tap, now))
        })
        .await
    }
}

fn keep(c: &Connection, actor: &Actor, storage: Storage, now: Timestamp) -> Result<(), StoreError> {
    storage.check().map_err(|unfit| StoreError::Conflict(unfit.into()))?;
    let mut here = load(c, actor.kitchen, Much::Nothing)?;
    here.retain(|s| !s.removed);
    if here.iter().any(|s| s.storage == storage) {
        return Ok(());
    }
    if here.iter().any(|s| s.storage.id != storage.id && s.storage.name == storage.name) {
        let text = format!("“{}” is here already. Give a name that tells the two apart.", storage.name);
        return Err(StoreError::Conflict(text));
    }
    if here.iter().all(|s| s.storage.id != storage.id) {
        full(here.len(), "refrigerators and freezers")?;
    }
    let written = c.execute(
        "INSERT INTO storage (id, kitchen_id, name, kind, created_at) VALUES (?1, ?2, ?3, ?4, ?5)
         ON CONFLICT (id) DO UPDATE SET name = excluded.name, kind = excluded.kind, removed_at = NULL WHERE kitchen_id = excluded.kitchen_id",
        (storage.id, actor.kitchen, &storage.name, storage.kind.id(), At(now)),
    )?;
    if written == 0 {
        return Err(StoreError::Conflict(format!("the storage {} is another kitchen’s", storage.id)));
    }
    changed(c, actor, &Change::StorageKept { storage }, now)
}

/// What a kitchen keeps things in, in the order it came, what was taken off the lists too.
pub(crate) fn load(c: &Connection, kitchen: Uuid, much: Much) -> Result<Vec<StorageRecord>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, kind, created_at, removed_at IS NOT NULL FROM storage WHERE kitchen_id = ?1 ORDER BY created_at, id",
    )?;
    type Row = (Uuid, String, String, At, bool);
    let rows: Vec<Row> = rows
        .query_map([kitchen], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, name, kind, since, removed)| {
            let kind = StorageKind::from_id(&kind)
                .ok_or_else(|| StoreError::Record(format!("storage {id}: “{kind}” is not known")))?;
            let instruments = instruments(c, id, much)?;
            Ok(StorageRecord { storage: Storage { id, name, kind }, since: since.0, removed, instruments })
        })
        .collect()
}

fn instruments(c: &Connection, storage: Uuid, much: Much) -> Result<Vec<InstrumentRecord>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, thermometer_id FROM instrument WHERE storage_id = ?1 ORDER BY id",
    )?;
    let rows: Vec<(Uuid, String, Option<Uuid>)> =
        rows.query_map([storage], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?.collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, name, thermometer)| {
            let readings = match much {
                Much::Since(at) => readings_since(c, id, at)?,
                Much::Nothing => Vec::new(),
            };
            Ok(InstrumentRecord {
                id,
                name,
                piece: None,
                centred: false,
                thermometer,
                checks: thermometer.map_or(Ok(Vec::new()), |id| checks(c, id))?,
                readings,
                thinned: None,
            })
        })
        .collect()
}

/// Writes one of a file with what it was read with; records that are there already are left as they are.
pub(crate) fn insert(c: &Connection, kitchen: Uuid, record: &StorageRecord) -> Result<usize, StoreError> {
    let removed = record.removed.then_some(At(record.since));
    let mut written = c.execute(
        "INSERT INTO storage (id, kitchen_id, name, kind, created_at, removed_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6)
         ON CONFLICT (id) DO NOTHING",
        (
            record.storage.id,
            kitchen,
            &record.storage.name,
            record.storage.kind.id(),
            At(record.since),
            removed,
        ),
    )?;
    for i in &record.instruments {
        if let Some(id) = i.thermometer {
            known(c, kitchen, id, &i.name, &i.checks, record.since)?;
        }
        written +=
            insert_instrument(c, kitchen, (i.id, &i.name, i.thermometer), Lies::Storage(record.storage.id))?;
    }
    Ok(written)
}

/// Writes down what of a file's is new here; how many.
pub(crate) fn note_new(
    c: &Connection,
    actor: &Actor,
    from: &KitchenRecord,
    now: Timestamp,
) -> Result<usize, StoreError> {
    let mut new = 0;
    for record in &from.storages {
        if !crate::rows::exists(c, "storage", record.storage.id)? {
            changed(c, actor, &Change::StorageKept { storage: record.storage.clone() }, now)?;
            new += 1;
        }
    }
    Ok(new)
}
