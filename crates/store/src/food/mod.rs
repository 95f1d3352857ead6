//! What a kitchen keeps of its own: foods and temperatures.

use hold_steady_core::food::{OwnFood, Pantry, Preset};
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::{Store, StoreError, parse_id, parse_json, to_json};

impl Store {
    /// Everything a kitchen keeps of its own, removed foods left out.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn pantry(&self, kitchen: Uuid) -> Result<Pantry, StoreError> {
        self.with(move |c| load(c, kitchen)).await
    }

    /// Keeps a food of the kitchen's own: a new one, or a change to one it has.
    ///
    /// # Errors
    /// When the database fails, or the identifier is another kitchen's.
    pub async fn keep_food(&self, kitchen: Uuid, food: OwnFood, now: Timestamp) -> Result<(), StoreError> {
        self.with(move |c| {
            let body = to_json(&food, "own food")?;
            let written = c.execute(
                "INSERT INTO own_food (id, kitchen_id, body, created_at, changed_at) VALUES (?1, ?2, ?3, ?4, ?4)
                 ON CONFLICT (id) DO UPDATE SET body = ?3, changed_at = ?4, removed_at = NULL WHERE kitchen_id = ?2",
                (&food.id, kitchen.to_string(), body, now.to_string()),
            )?;
            if written == 0 { Err(StoreError::Conflict(format!("food {} belongs to another kitchen", food.id))) } else { Ok(()) }
        })
        .await
    }

    /// Takes a food of the kitchen's own off its lists, or puts it back.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_food(
        &self,
        kitchen: Uuid,
        id: String,
        removed: bool,
        now: Timestamp,
    ) -> Result<OwnFood, StoreError> {
        self.with(move |c| {
            let body: Option<String> = c
                .query_row(
                    "UPDATE own_food SET removed_at = ?3 WHERE id = ?1 AND kitchen_id = ?2 RETURNING body",
                    (&id, kitchen.to_string(), removed.then(|| now.to_string())),
                    |r| r.get(0),
                )
                .optional()?;
            parse_json(&body.ok_or(StoreError::NotFound)?, "own food")
        })
        .await
    }

    /// Remembers the bath this kitchen has found right for a food, °C; `None` forgets it.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn dial(
        &self,
        kitchen: Uuid,
        food: String,
        celsius: Option<f64>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.with(move |c| {
            match celsius {
                Some(t) => c.execute(
                    "INSERT INTO dialled (kitchen_id, food, celsius, set_at) VALUES (?1, ?2, ?3, ?4)
                     ON CONFLICT (kitchen_id, food) DO UPDATE SET celsius = ?3, set_at = ?4",
                    (kitchen.to_string(), food, t, now.to_string()),
                )?,
                None => c.execute(
                    "DELETE FROM dialled WHERE kitchen_id = ?1 AND food = ?2",
                    (kitchen.to_string(), food),
                )?,
            };
            Ok(())
        })
        .await
    }
}

impl Store {
    /// Remembers that a batch was salted before it was frozen.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn remember_salted(
        &self,
        kitchen: Uuid,
        batch: String,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.with(move |c| {
            c.execute(
                "INSERT INTO salted_batch (kitchen_id, name, salted_at) VALUES (?1, ?2, ?3)
                 ON CONFLICT (kitchen_id, name) DO NOTHING",
                (kitchen.to_string(), batch.to_lowercase(), now.to_string()),
            )?;
            Ok(())
        })
        .await
    }

    /// Keeps a plan under a name; sent twice, it is kept once.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn keep_preset(&self, kitchen: Uuid, preset: Preset, now: Timestamp) -> Result<(), StoreError> {
        self.with(move |c| insert_preset(c, &kitchen.to_string(), &preset, &now.to_string()).map(|_| ()))
            .await
    }

    /// Takes a preset off the list, or puts it back.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_preset(
        &self,
        kitchen: Uuid,
        id: Uuid,
        removed: bool,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.with(move |c| {
            let changed = c.execute(
                "UPDATE preset SET removed_at = ?3 WHERE id = ?1 AND kitchen_id = ?2",
                (id.to_string(), kitchen.to_string(), removed.then(|| now.to_string())),
            )?;
            if changed == 0 { Err(StoreError::NotFound) } else { Ok(()) }
        })
        .await
    }

    /// Brings in what another kitchen kept; what is here already stays as it is. Returns how many records were
    /// new.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn add_to_pantry(
        &self,
        kitchen: Uuid,
        pantry: Pantry,
        now: Timestamp,
    ) -> Result<usize, StoreError> {
        self.with(move |c| {
            let tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
            let added = merge(&tx, kitchen, &pantry, now)?;
            tx.commit()?;
            Ok(added)
        })
        .await
    }
}

fn insert_preset(c: &Connection, kitchen: &str, preset: &Preset, now: &str) -> Result<usize, StoreError> {
    Ok(c.execute(
        "INSERT INTO preset (id, kitchen_id, name, body, created_at) VALUES (?1, ?2, ?3, ?4, ?5)
         ON CONFLICT (id) DO NOTHING",
        (preset.id.to_string(), kitchen, &preset.name, to_json(&preset.typed, "preset")?, now),
    )?)
}

pub(crate) fn load(c: &Connection, kitchen: Uuid) -> Result<Pantry, StoreError> {
    let id = kitchen.to_string();
    let mut dialled = c.prepare_cached("SELECT food, celsius FROM dialled WHERE kitchen_id = ?1")?;
    let dialled = dialled.query_map([&id], |r| Ok((r.get(0)?, r.get(1)?)))?.collect::<Result<_, _>>()?;
    let mut salted = c.prepare_cached("SELECT name FROM salted_batch WHERE kitchen_id = ?1 ORDER BY name")?;
    let salted = salted.query_map([&id], |r| r.get(0))?.collect::<Result<_, _>>()?;
    let (foods, presets) = (foods(c, kitchen, Shown::Listed)?, presets(c, kitchen, Shown::Listed)?);
    Ok(Pantry { foods, dialled, salted, presets })
}

/// What was taken off the lists.
pub(crate) fn load_removed(c: &Connection, kitchen: Uuid) -> Result<Pantry, StoreError> {
    let (foods, presets) = (foods(c, kitchen, Shown::Removed)?, presets(c, kitchen, Shown::Removed)?);
    Ok(Pantry { foods, presets, ..Pantry::default() })
}

#[derive(Clone, Copy, PartialEq)]
enum Shown {
    Listed,
    Removed,
}

fn foods(c: &Connection, kitchen: Uuid, shown: Shown) -> Result<Vec<OwnFood>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT body FROM own_food WHERE kitchen_id = ?1 AND (removed_at IS NULL) = ?2 ORDER BY created_at, id",
    )?;
    let bodies: Vec<String> = rows
        .query_map((kitchen.to_string(), shown == Shown::Listed), |r| r.get(0))?
        .collect::<Result<_, _>>()?;
    bodies.iter().map(|body| parse_json(body, "own food")).collect()
}

fn presets(c: &Connection, kitchen: Uuid, shown: Shown) -> Result<Vec<Preset>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, body FROM preset WHERE kitchen_id = ?1 AND (removed_at IS NULL) = ?2 ORDER BY created_at, id",
    )?;
    let rows: Vec<(String, String, String)> = rows
        .query_map((kitchen.to_string(), shown == Shown::Listed), |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, name, body)| Ok(Preset { id: parse_id(&id)?, name, typed: parse_json(&body, "preset")? }))
        .collect()
}

/// Brings in what another kitchen kept: what is here already stays as it is. Returns how many records were
/// new.
pub(crate) fn merge(
    c: &Connection,
    kitchen: Uuid,
    pantry: &Pantry,
    now: Timestamp,
) -> Result<usize, StoreError> {
    let (id, now) = (kitchen.to_string(), now.to_string());
    let mut added = 0;
    for food in &pantry.foods {
        added += c.execute(
            "INSERT INTO own_food (id, kitchen_id, body, created_at, changed_at) VALUES (?1, ?2, ?3, ?4, ?4)
             ON CONFLICT (id) DO NOTHING",
            (&food.id, &id, to_json(food, "own food")?, &now),
        )?;
    }
    for (food, celsius) in &pantry.dialled {
        added += c.execute(
            "INSERT INTO dialled (kitchen_id, food, celsius, set_at) VALUES (?1, ?2, ?3, ?4)
             ON CONFLICT (kitchen_id, food) DO NOTHING",
            (&id, food, celsius, &now),
        )?;
    }
    for batch in &pantry.salted {
        added += c.execute(
            "INSERT INTO salted_batch (kitchen_id, name, salted_at) VALUES (?1, ?2, ?3)
             ON CONFLICT (kitchen_id, name) DO NOTHING",
            (&id, batch.to_lowercase(), &now),
        )?;
    }
    for preset in &pantry.presets {
        added += insert_preset(c, &id, preset, &now)?;
    }
    Ok(added)
}
