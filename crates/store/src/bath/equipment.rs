//! What a kitchen has to cook in and to measure with. Every change is written down with who made it.

use hold_steady_core::bath::{Against, Check, Learned, Thermometer};
use hold_steady_core::book::{Change, KeptVessel, KitchenRecord};
use hold_steady_core::limits::MOST_VESSELS;
use hold_steady_core::plan::Equipment;
use hold_steady_core::units::Celsius;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::actor::changed;
use crate::listed::{Put, Which};
use crate::time::At;
use crate::{Actor, InKitchen, StoreError, parse_json, to_json};

impl InKitchen {
    /// The vessels and thermometers of a kitchen, what was taken off the lists left out.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn equipment(&self) -> Result<Equipment, StoreError> {
        self.with(|c, actor| load(c, actor.kitchen, Which::Listed)).await
    }

    /// Keeps a vessel: a new one, or a change to one there is. Sent twice, it is there once.
    ///
    /// # Errors
    /// When there are too many, it is another kitchen's, or the database fails.
    pub async fn keep_vessel(&self, kept: KeptVessel, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| keep(c, actor, kept, now)).await
    }

    /// Writes down what was learned of a vessel from a record of it.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn learn(
        &self,
        vessel: Uuid,
        learned: Option<Learned>,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let here = load(c, actor.kitchen, Which::Ever)?.vessels;
            let mut kept = here.into_iter().find(|v| v.id == vessel).ok_or(StoreError::NotFound)?;
            let before = kept.vessel.learned;
            kept.vessel.learned = learned.map(|new| before.map_or(new, |b| b.and(new)));
            keep(c, actor, kept, now)
        })
        .await
    }

    /// Takes a vessel off the list, or puts it back. Baths that ran in it keep what it was.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_vessel(&self, id: Uuid, put: Put, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            if toggled(c, actor, "vessel", id, put, now)? {
                changed(c, actor, &Change::VesselRemoved { id, removed: put.is_off() }, now)?;
            }
            Ok(())
        })
        .await
    }

    /// Keeps a thermometer under a name. Sent twice, it is there once.
    ///
    /// # Errors
    /// When there are too many, the name is taken, or the database fails.
    pub async fn keep_thermometer(&self, id: Uuid, name: String, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| keep_probe(c, actor, id, &name, now)).await
    }

    /// Takes a thermometer off the list, or puts it back. What it read stays.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn remove_thermometer(&self, id: Uuid, put: Put, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            if toggled(c, actor, "thermometer", id, put, now)? {
                changed(c, actor, &Change::ThermometerRemoved { id, removed: put.is_off() }, now)?;
            }
            Ok(())
        })
        .await
    }

    /// Writes down a check of a thermometer. Sent twice, it was made once.
    ///
    /// # Errors
    /// When the thermometer is not there or the database fails.
    pub async fn check_thermometer(
        &self,
        thermometer: Uuid,
        check: Check,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let known = "SELECT 1 FROM thermometer WHERE id = ?1 AND kitchen_id = ?2";
            c.query_row(known, (thermometer, actor.kitchen), |_| Ok(()))
                .optional()?
                .ok_or(StoreError::NotFound)?;
            if insert_check(c, actor, thermometer, &check)? == 0 {
                return Ok(());
            }
            changed(c, actor, &Change::ThermometerChecked { thermometer, check }, now)
        })
        .await
    }
}

pub(crate) fn full(here: usize, what: &str) -> Result<(), StoreError> {
    if here < MOST_VESSELS {
        return Ok(());
    }
    Err(StoreError::Conflict(format!(
        "There are {MOST_VESSELS} {what} here, the most there can be. Take one off first."
    )))
}

fn keep(c: &Connection, actor: &Actor, kept: KeptVessel, now: Timestamp) -> Result<(), StoreError> {
    let here = load(c, actor.kitchen, Which::Listed)?.vessels;
    if here.contains(&kept) {
        return Ok(());
    }
    if here.iter().all(|v| v.id != kept.id) {
        full(here.len(), "vessels")?;
    }
    let written = c.execute(
        "INSERT INTO vessel (id, kitchen_id, body, created_at) VALUES (?1, ?2, ?3, ?4)
         ON CONFLICT (id) DO UPDATE SET body = excluded.body, removed_at = NULL WHERE kitchen_id = excluded.kitchen_id",
        (kept.id, actor.kitchen, to_json(&kept.vessel, "vessel")?, At(now)),
    )?;
    if written == 0 {
        return Err(StoreError::Conflict(format!("the vessel {} is another kitchen’s", kept.id)));
    }
    changed(c, actor, &Change::VesselKept { vessel: Box::new(kept) }, now)
}

/// Takes a row off its list or puts it back; whether that changed anything.
pub(crate) fn toggled(
    c: &Connection,
    actor: &Actor,
    table: &str,
    id: Uuid,
    put: Put,
    now: Timestamp,
) -> Result<bool, StoreError> {
    let sql = format!(
        "UPDATE {table} SET removed_at = ?3 WHERE id = ?1 AND kitchen_id = ?2 AND (removed_at IS NULL) = ?4"
    );
    let written = c.execute(&sql, (id, actor.kitchen, put.is_off().then_some(At(now)), put.is_off()))?;
    let known = format!("SELECT 1 FROM {table} WHERE id = ?1 AND kitchen_id = ?2");
    c.query_row(&known, (id, actor.kitchen), |_| Ok(())).optional()?.ok_or(StoreError::NotFound)?;
    Ok(written > 0)
}

/// The equipment of a kitchen, in the order it came; what was taken off the lists too, where asked.
pub(crate) fn load(c: &Connection, kitchen: Uuid, which: Which) -> Result<Equipment, StoreError> {
    let mut vessels = c.prepare_cached(
        "SELECT id, body FROM vessel WHERE kitchen_id = ?1 AND (removed_at IS NULL OR ?2) ORDER BY created_at, id",
    )?;
    let vessels: Vec<(Uuid, String)> =
        vessels.query_map((kitchen, which), |r| Ok((r.get(0)?, r.get(1)?)))?.collect::<Result<_, _>>()?;
    let mut thermometers = c.prepare_cached(
        "SELECT id, name FROM thermometer WHERE kitchen_id = ?1 AND (removed_at IS NULL OR ?2) ORDER BY created_at, id",
    )?;
    let thermometers: Vec<(Uuid, String)> = thermometers
        .query_map((kitchen, which), |r| Ok((r.get(0)?, r.get(1)?)))?
        .collect::<Result<_, _>>()?;
    let vessel = |(id, body): (Uuid, String)| Ok(KeptVessel { id, vessel: parse_json(&body, "vessel")? });
    let thermometer = |(id, name)| Ok(Thermometer { id, name, checks: checks(c, id)? });
    Ok(Equipment {
        vessels: vessels.into_iter().map(vessel).collect::<Result<_, StoreError>>()?,
        thermometers: thermometers.into_iter().map(thermometer).collect::<Result<_, StoreError>>()?,
    })
}

/// The checks of a thermometer, by time.
pub(crate) fn checks(c: &Connection, thermometer: Uuid) -> Result<Vec<Check>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, at, against, read_c, true_c FROM thermometer_check WHERE thermometer_id = ?1 ORDER BY at, seq",
    )?;
    type Row = (Uuid, At, String, f64, f64);
    let rows: Vec<Row> = rows
        .query_map([thermometer], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, at, against, read, is)| {
            let against = Against::ALL.into_iter().find(|a| a.id() == against);
            let against = against
                .ok_or_else(|| StoreError::Record(format!("check {id}: against what is not known")))?;
            Ok(Check { id, at: at.0, against, read_c: Celsius::new(read), true_c: Celsius::new(is) })
        })
        .collect()
}

fn insert_check(
    c: &Connection,
    actor: &Actor,
    thermometer: Uuid,
    check: &Check,
) -> Result<usize, StoreError> {
    Ok(c.execute(
        "INSERT INTO thermometer_check (id, kitchen_id, thermometer_id, at, against, read_c, true_c, who_id)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8) ON CONFLICT (id) DO NOTHING",
        (
            check.id,
            actor.kitchen,
            thermometer,
            At(check.at),
            check.against.id(),
            check.read_c.value(),
            check.true_c.value(),
            actor.who(c)?,
        ),
    )?)
}

/// A thermometer that came with a bath: kept off the lists, with its checks, where it is not known here. Of one that is
/// known here nothing is believed that came from elsewhere.
pub(crate) fn known(
    c: &Connection,
    kitchen: Uuid,
    id: Uuid,
    name: &str,
    checks: &[Check],
    at: Timestamp,
) -> Result<(), StoreError> {
    let new = c.execute(
        "INSERT INTO thermometer (id, kitchen_id, name, created_at, removed_at) VALUES (?1, ?2, ?3, ?4, ?4) ON CONFLICT (id) DO NOTHING",
        (id, kitchen, name, At(at)),
    )?;
    if new == 1 {
        let actor = Actor { kitchen, by: "import".into(), role: crate::Role::Cook };
        for check in checks {
            insert_check(c, &actor, id, check)?;
        }
    }
    Ok(())
}

/// Brings in the vessels and thermometers of a file that are new here; how many.
pub(crate) fn merge(
    c: &Connection,
    actor: &Actor,
    from: &KitchenRecord,
    now: Timestamp,
) -> Result<usize, StoreError> {
    let here = load(c, actor.kitchen, Which::Ever)?;
    let mut added = 0;
    for kept in &from.vessels {
        let new = here.vessels.iter().all(|v| v.id != kept.id) && !crate::rows::exists(c, "vessel", kept.id)?;
        if new && here.vessels.len() + added < MOST_VESSELS {
            keep(c, actor, kept.clone(), now)?;
            added += 1;
        }
    }
    for t in &from.thermometers {
        let new =
            here.thermometers.iter().all(|h| h.id != t.id) && !crate::rows::exists(c, "thermometer", t.id)?;
        if new && here.thermometers.len() + added < 2 * MOST_VESSELS {
            known(c, actor.kitchen, t.id, &t.name, &t.checks, now)?;
            c.execute("UPDATE thermometer SET removed_at = NULL WHERE id = ?1", [t.id])?;
            changed(c, actor, &Change::ThermometerKept { id: t.id, name: t.name.clone() }, now)?;
            added += 1;
        }
    }
    Ok(added)
}

/// Keeps a thermometer under a name.
pub(super) fn keep_probe(
    c: &Connection,
    actor: &Actor,
    id: Uuid,
    name: &str,
    now: Timestamp,
) -> Result<(), StoreError> {
    let here = load(c, actor.kitchen, Which::Listed)?.thermometers;
    if here.iter().any(|t| t.id == id && t.name == name) {
        return Ok(());
    }
    if here.iter().any(|t| t.id != id && t.name == name) {
        let text = format!("“{name}” is here already. Give a name that tells the two apart.");
        return Err(StoreError::Conflict(text));
    }
    full(here.len(), "thermometers")?;
    c.execute(
        "INSERT INTO thermometer (id, kitchen_id, name, created_at) VALUES (?1, ?2, ?3, ?4)
         ON CONFLICT (id) DO UPDATE SET name = excluded.name, removed_at = NULL WHERE kitchen_id = excluded.kitchen_id",
        (id, actor.kitchen, name, At(now)),
    )?;
    changed(c, actor, &Change::ThermometerKept { id, name: name.to_owned() }, now)
}
