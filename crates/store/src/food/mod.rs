//! What a kitchen keeps of its own: foods, temperatures, batches it has salted, plans kept under a name. Every change
//! is written down with who made it.

use hold_steady_core::book::Change;
use hold_steady_core::food::{OwnFood, Pantry, Preset};
use hold_steady_core::units::Celsius;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use serde_json::Value;
use uuid::Uuid;

use crate::actor::changed;
use crate::listed::Put;
use crate::time::At;
use crate::{Actor, InKitchen, StoreError, parse_json, to_json};

impl InKitchen {
    /// Everything a kitchen keeps of its own, what was removed left out.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn pantry(&self) -> Result<Pantry, StoreError> {
        self.with(|c, actor| load(c, actor.kitchen)).await
    }

    /// Keeps a food of the kitchen's own: a new one, or a change to one it has.
    ///
    /// # Errors
    /// When the database fails, or the identifier is another kitchen's.
    pub async fn keep_food(&self, food: OwnFood, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let body = to_json(&food, "own food")?;
            let written = c.execute(
                "INSERT INTO own_food (id, kitchen_id, body, created_at, changed_at) VALUES (?1, ?2, ?3, ?4, ?4)
                 ON CONFLICT (id) DO UPDATE SET body = ?3, changed_at = ?4, removed_at = NULL WHERE kitchen_id = ?2",
                (&food.id, actor.kitchen, &body, At(now)),
            )?;
            if written == 0 {
                return Err(StoreError::Conflict(format!("food {} belongs to another kitchen", food.id)));
            }
            let food: Value = parse_json(&body, "own food")?;
            changed(c, actor, &Change::FoodKept { food }, now)
        })
        .await
    }

    /// Takes a food of the kitchen's own off its lists, or puts it back.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_food(&self, id: String, put: Put, now: Timestamp) -> Result<OwnFood, StoreError> {
        self.writing(move |c, actor| {
            let body: Option<String> = c
                .query_row(
                    "UPDATE own_food SET removed_at = ?3 WHERE id = ?1 AND kitchen_id = ?2 RETURNING body",
                    (&id, actor.kitchen, put.is_off().then_some(At(now))),
                    |r| r.get(0),
                )
                .optional()?;
            let food = parse_json(&body.ok_or(StoreError::NotFound)?, "own food")?;
            changed(c, actor, &Change::FoodRemoved { id, removed: put.is_off() }, now)?;
            Ok(food)
        })
        .await
    }

    /// Remembers the bath this kitchen has found right for a food, °C; `None` forgets it.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn dial(
        &self,
        food: String,
        celsius: Option<Celsius>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            match celsius {
                Some(t) => c.execute(
                    "INSERT INTO dialled (kitchen_id, food, celsius, set_at) VALUES (?1, ?2, ?3, ?4)
                     ON CONFLICT (kitchen_id, food) DO UPDATE SET celsius = ?3, set_at = ?4",
                    (actor.kitchen, &food, t.value(), At(now)),
                )?,
                None => c.execute(
                    "DELETE FROM dialled WHERE kitchen_id = ?1 AND food = ?2",
                    (actor.kitchen, &food),
                )?,
            };
            changed(c, actor, &Change::Dialled { food, celsius }, now)
        })
        .await
    }

    /// Remembers that a batch was salted before it was frozen.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn remember_salted(&self, batch: String, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let batch = batch.to_lowercase();
            let new = c.execute(
                "INSERT INTO salted_batch (kitchen_id, name, salted_at) VALUES (?1, ?2, ?3)
                 ON CONFLICT (kitchen_id, name) DO NOTHING",
                (actor.kitchen, &batch, At(now)),
            )?;
            if new == 1 { changed(c, actor, &Change::BatchSalted { batch }, now) } else { Ok(()) }
        })
        .await
    }

    /// Keeps a plan under a name; sent twice, it is kept once.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn keep_preset(&self, preset: Preset, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            if insert_preset(c, actor.kitchen, &preset, now)? == 0 {
                return Ok(());
            }
            changed(c, actor, &Change::PresetKept { id: preset.id, name: preset.name }, now)
        })
        .await
    }

    /// Takes a preset off the list, or puts it back.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_preset(&self, id: Uuid, put: Put, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let found = c.execute(
                "UPDATE preset SET removed_at = ?3 WHERE id = ?1 AND kitchen_id = ?2",
                (id, actor.kitchen, put.is_off().then_some(At(now))),
            )?;
            if found == 0 {
                return Err(StoreError::NotFound);
            }
            changed(c, actor, &Change::PresetRemoved { id, removed: put.is_off() }, now)
        })
        .await
    }

    /// Brings in what another kitchen kept; what is here already stays as it is. Returns how many records were
    /// new.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn add_to_pantry(&self, pantry: Pantry, now: Timestamp) -> Result<usize, StoreError> {
        self.writing(move |c, actor| merge(c, actor, &pantry, now)).await
    }
}

fn insert_preset(
    c: &Connection,
    kitchen: Uuid,
    preset: &Preset,
    now: Timestamp,
) -> Result<usize, StoreError> {
    Ok(c.execute(
        "INSERT INTO preset (id, kitchen_id, name, body, created_at) VALUES (?1, ?2, ?3, ?4, ?5)
         ON CONFLICT (id) DO NOTHING",
        (preset.id, kitchen, &preset.name, to_json(&preset.typed, "preset")?, At(now)),
    )?)
}

pub(crate) fn load(c: &Connection, kitchen: Uuid) -> Result<Pantry, StoreError> {
    let mut dialled = c.prepare_cached("SELECT food, celsius FROM dialled WHERE kitchen_id = ?1")?;
    let dialled = dialled
        .query_map([kitchen], |r| Ok((r.get(0)?, Celsius::new(r.get(1)?))))?
        .collect::<Result<_, _>>()?;
    let mut salted = c.prepare_cached("SELECT name FROM salted_batch WHERE kitchen_id = ?1 ORDER BY name")?;
    let salted = salted.query_map([kitchen], |r| r.get(0))?.collect::<Result<_, _>>()?;
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
    let bodies: Vec<String> =
        rows.query_map((kitchen, shown == Shown::Listed), |r| r.get(0))?.collect::<Result<_, _>>()?;
    bodies.iter().map(|body| parse_json(body, "own food")).collect()
}

fn presets(c: &Connection, kitchen: Uuid, shown: Shown) -> Result<Vec<Preset>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, body FROM preset WHERE kitchen_id = ?1 AND (removed_at IS NULL) = ?2 ORDER BY created_at, id",
    )?;
    let rows: Vec<(Uuid, String, String)> = rows
        .query_map((kitchen, shown == Shown::Listed), |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, name, body)| Ok(Preset { id, name, typed: parse_json(&body, "preset")? }))
        .collect()
}

/// Brings in what another kitchen kept: what is here already stays as it is. Returns how many records were
/// new.
pub(crate) fn merge(
    c: &Connection,
    actor: &Actor,
    pantry: &Pantry,
    now: Timestamp,
) -> Result<usize, StoreError> {
    let id = actor.kitchen;
    let mut added = 0;
    for food in &pantry.foods {
        added += c.execute(
            "INSERT INTO own_food (id, kitchen_id, body, created_at, changed_at) VALUES (?1, ?2, ?3, ?4, ?4)
             ON CONFLICT (id) DO NOTHING",
            (&food.id, id, to_json(food, "own food")?, At(now)),
        )?;
    }
    for (food, celsius) in &pantry.dialled {
        added += c.execute(
            "INSERT INTO dialled (kitchen_id, food, celsius, set_at) VALUES (?1, ?2, ?3, ?4)
             ON CONFLICT (kitchen_id, food) DO NOTHING",
            (id, food, celsius.value(), At(now)),
        )?;
    }
    for batch in &pantry.salted {
        added += c.execute(
            "INSERT INTO salted_batch (kitchen_id, name, salted_at) VALUES (?1, ?2, ?3)
             ON CONFLICT (kitchen_id, name) DO NOTHING",
            (id, batch.to_lowercase(), At(now)),
        )?;
    }
    for preset in &pantry.presets {
        added += insert_preset(c, id, preset, now)?;
    }
    if added > 0 {
        changed(c, actor, &Change::PantryBrought { added }, now)?;
    }
    Ok(added)
}
