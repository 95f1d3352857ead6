//! The bath bench: vessels and thermometers a kitchen keeps, baths that run in them, what was read and done there.

mod device;
mod equipment;
mod heard;
mod hours;
mod old;
mod pack;
mod readings;

pub(crate) use device::all_devices;
pub use device::{Device, Lies, Received, Reporter};
pub(crate) use equipment::{checks, full, known, load as equipment, merge, toggled};
pub(crate) use hours::{each_hour, each_of_hour, fresh, insert_hour};
pub use old::WHOLE_DAYS;
pub(crate) use readings::{Much, keep_all_minutes, readings_since};
use std::collections::HashMap;

use hold_steady_core::bath::{Heat, NotTaken, Reported, WaterEvent, WaterEventKind};
use hold_steady_core::book::{BathRecord, IMPORTED, InstrumentRecord, KeptVessel, SettingRecord, derived_id};
use hold_steady_core::limits::{MOST_EVENTS, MOST_READINGS_BY_HAND, MOST_VESSELS};
use hold_steady_core::units::Celsius;
use hold_steady_core::who::By;
use jiff::{SignedDuration, Timestamp};
use readings::{ReadingRow, Writing, Written};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::rows::{most, storage_is_ours};
use crate::time::At;
use crate::who::{COLUMNS, told, who};
use crate::{Actor, InKitchen, StoreError, parse_json, to_json};

/// A bath about to be filled.
#[derive(Debug, Clone)]
pub struct NewBath {
    /// Identifier, chosen by the page: sent again, it is the same bath.
    pub id: Uuid,
    /// The vessel.
    pub vessel: KeptVessel,
    /// Water in it, l.
    pub litres: f64,
    /// What it is to be, °C: a setting of its heater, or an aim kept by hand.
    pub celsius: Celsius,
}

/// Something that was done to the water of a bath, about to be written down.
#[derive(Debug, Clone)]
pub struct NewWaterEvent {
    /// Identifier, chosen by whoever taps: sent again, it is the same event.
    pub id: Uuid,
    /// When it happened, by the cook's word.
    pub happened_at: Timestamp,
    /// What.
    pub kind: WaterEventKind,
}

impl InKitchen {
    /// The baths that run in a vessel, newest first.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn running_baths(&self) -> Result<Vec<BathRecord>, StoreError> {
        self.running_baths_among(HashMap::new()).await
    }

    /// The same, where some of them were read already.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn running_baths_among(
        &self,
        mut read: HashMap<Uuid, BathRecord>,
    ) -> Result<Vec<BathRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut rows = c.prepare_cached(
                "SELECT id FROM bath WHERE kitchen_id = ?1 AND vessel_id IS NOT NULL AND ended_at IS NULL
                 ORDER BY began_at DESC, id DESC LIMIT ?2",
            )?;
            let ids: Vec<Uuid> = rows
                .query_map((actor.kitchen, most(MOST_VESSELS)), |r| r.get(0))?
                .collect::<Result<_, _>>()?;
            let one = |id| read.remove(&id).map_or_else(|| load(c, id, Detail::Judged), Ok);
            ids.into_iter().map(one).collect()
        })
        .await
    }

    /// The bath that runs in a vessel, without its readings.
    ///
    /// # Errors
    /// When the database fails or a record cannot be read.
    pub async fn running_in(&self, vessel: Uuid) -> Result<Option<BathRecord>, StoreError> {
        self.with(move |c, actor| {
            let id = running_in(c, actor.kitchen, vessel)?;
            id.map(|id| load(c, id, Detail::Water)).transpose()
        })
        .await
    }

    /// One bath of this kitchen.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn bath(&self, id: Uuid) -> Result<BathRecord, StoreError> {
        self.with(move |c, actor| {
            ours(c, actor, id)?;
            load(c, id, Detail::Judged)
        })
        .await
    }

    /// Fills a vessel: a bath runs in it from now on. Sent twice, it is filled once; one that runs in it already is
    /// handed back instead of a second.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn fill(&self, bath: NewBath, now: Timestamp) -> Result<Uuid, StoreError> {
        self.writing(move |c, actor| fill(c, actor, &bath, now)).await
    }

    /// Sets the heater of a bath to another temperature.
    ///
    /// # Errors
    /// When it is not there, was emptied, or the database fails.
    pub async fn set_bath(&self, bath: Uuid, celsius: Celsius, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            running(c, actor, bath)?;
            let setting = SettingRecord { id: crate::new_id(now), at: now, celsius, by: actor.by.clone() };
            insert_setting(c, actor.kitchen, bath, &setting)?;
            Ok(())
        })
        .await
    }

    /// Writes down a reading of a bath's water, by what it shows itself where no thermometer is named. A tap sent twice is
    /// one reading.
    ///
    /// # Errors
    /// When the bath or the thermometer is not there, the bath was emptied, there are too many readings, or the
    /// database fails.
    pub async fn read_bath(
        &self,
        bath: Uuid,
        thermometer: Option<Uuid>,
        (celsius, at): (Celsius, Timestamp),
        (tap, now): (Uuid, Timestamp),
    ) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            read_by_hand(c, actor, (Lies::water(bath), thermometer), (celsius, at), (tap, now))
        })
        .await
    }

    /// Writes down the readings of a log, taken with a thermometer of the list. Brought in again, nothing is written twice.
    ///
    /// # Errors
    /// When the bath or the thermometer is not there, there are too many readings, or the database fails.
    pub async fn bring_log(
        &self,
        bath: Uuid,
        thermometer: Uuid,
        readings: Vec<Reported>,
        now: Timestamp,
    ) -> Result<Received, StoreError> {
        self.writing(move |c, actor| {
            let record = {
                ours(c, actor, bath)?;
                load(c, bath, Detail::Water)?
            };
            let instrument = instrument_of(c, actor, Lies::water(bath), thermometer)?;
            let until = record.state().emptied;
            let (mut received, mut writing) = (Received::default(), Writing::default());
            for r in readings {
                let at = r.at.unwrap_or(now);
                let why = if at < record.began_at {
                    Some("That was before this bath was filled.")
                } else if until.is_some_and(|end| at > end) {
                    Some("That was after this bath was emptied.")
                } else {
                    None
                };
                if let Some(why) = why {
                    received.not_taken.push(NotTaken { line: r.line, why: why.into() });
                    continue;
                }
                let row = ReadingRow { instrument, at, celsius: r.celsius, quality: IMPORTED };
                received.count(r.line, writing.reading(c, &row, Some((now, actor.who(c)?)))?);
            }
            writing.end(c)?;
            not_too_many(c, instrument, Hand::BroughtIn)?;
            Ok(received)
        })
        .await
    }

    /// Writes down what was done to the water of a bath, if it can have been done as that stands then: looked at and written
    /// in one transaction. Sent twice, it happened once.
    ///
    /// `judge` lets it pass or refuses; its refusal is handed back.
    ///
    /// # Errors
    /// When the bath is not there or was emptied, food lies in it that is under way, or the database fails.
    pub async fn add_water<E: Send + 'static>(
        &self,
        bath: Uuid,
        event: NewWaterEvent,
        now: Timestamp,
        judge: impl FnOnce(&BathRecord, &WaterEvent) -> Result<(), E> + Send + 'static,
    ) -> Result<Result<(), E>, StoreError> {
        self.writing(move |c, actor| {
            if crate::rows::exists(c, "water_event", event.id)? {
                return ours(c, actor, bath).map(Ok);
            }
            running(c, actor, bath)?;
            let count: i64 =
                c.query_row("SELECT count(*) FROM water_event WHERE bath_id = ?1", [bath], |r| r.get(0))?;
            let ends = event.kind == WaterEventKind::Emptied;
            if count >= most(MOST_EVENTS) && !ends {
                let text = format!("{MOST_EVENTS} things done to this bath are written down, the most there can be: empty it and fill it anew.");
                return Err(StoreError::Conflict(text));
            }
            if ends && crate::rows::in_use(c, actor.kitchen, bath)? {
                let text = "Food lies in this bath that is still under way. Pull it first.";
                return Err(StoreError::Conflict(text.into()));
            }
            let event = WaterEvent {
                id: event.id,
                happened_at: event.happened_at,
                recorded_at: now,
                by: actor.by.clone(),
                kind: event.kind,
            };
            if let Err(refusal) = judge(&load(c, bath, Detail::Water)?, &event) {
                return Ok(Err(refusal));
            }
            insert_water(c, actor.kitchen, bath, &event)?;
            Ok(Ok(()))
        })
        .await
    }

    /// What lies in a bath and is under way: the cooks' identifiers.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn in_bath(&self, bath: Uuid) -> Result<Vec<Uuid>, StoreError> {
        self.with(move |c, actor| {
            let mut rows = c.prepare_cached(
                "SELECT cook.id FROM cook JOIN bag ON bag.cook_id = cook.id
                 WHERE cook.kitchen_id = ?1 AND cook.standing = 'under-way' AND bag.bath_id = ?2 ORDER BY cook.created_at",
            )?;
            Ok(rows.query_map((actor.kitchen, bath), |r| r.get(0))?.collect::<Result<_, _>>()?)
        })
        .await
    }
}

/// Writes down what somebody read, by its own display where no thermometer is named. A tap sent twice is one reading.
pub(crate) fn read_by_hand(
    c: &Connection,
    actor: &Actor,
    (of, thermometer): (Lies, Option<Uuid>),
    (celsius, at): (Celsius, Timestamp),
    (tap, now): (Uuid, Timestamp),
) -> Result<(), StoreError> {
    if taken_already(c, actor, tap, now)? {
        return Ok(());
    }
    match of {
        Lies::Bath { bath, .. } => running(c, actor, bath)?,
        Lies::Storage(storage) => storage_is_ours(c, actor.kitchen, storage)?,
    }
    let instrument = match thermometer {
        Some(thermometer) => instrument_of(c, actor, of, thermometer)?,
        None => own_display(c, actor, of)?,
    };
    let row = ReadingRow { instrument, at, celsius, quality: "typed" };
    let mut writing = Writing::default();
    writing.reading(c, &row, Some((now, actor.who(c)?)))?;
    writing.end(c)?;
    not_too_many(c, instrument, Hand::Typed)
}

/// Whether a tap was taken before; from now on it was. A device keeps a tap for days at most.
fn taken_already(c: &Connection, actor: &Actor, tap: Uuid, now: Timestamp) -> Result<bool, StoreError> {
    const KEPT: SignedDuration = SignedDuration::from_hours(30 * 24);
    let old = now.checked_sub(KEPT).unwrap_or(now);
    c.prepare_cached("DELETE FROM tap WHERE at < ?1")?.execute([At(old)])?;
    let mut take = c.prepare_cached(
        "INSERT INTO tap (id, kitchen_id, at) VALUES (?1, ?2, ?3) ON CONFLICT (id) DO NOTHING",
    )?;
    Ok(take.execute((tap, actor.kitchen, At(now)))? == 0)
}

/// Whether a bath is this kitchen's.
fn ours(c: &Connection, actor: &Actor, bath: Uuid) -> Result<(), StoreError> {
    let sql = "SELECT 1 FROM bath WHERE id = ?1 AND kitchen_id = ?2";
    c.query_row(sql, (bath, actor.kitchen), |_| Ok(())).optional()?.ok_or(StoreError::NotFound)
}

/// The instrument a thermometer of the list is there.
fn instrument_of(c: &Connection, actor: &Actor, of: Lies, thermometer: Uuid) -> Result<Uuid, StoreError> {
    let sql = "SELECT name FROM thermometer WHERE id = ?1 AND kitchen_id = ?2";
    let name: Option<String> = c.query_row(sql, (thermometer, actor.kitchen), |r| r.get(0)).optional()?;
    instrument(c, actor.kitchen, &name.ok_or(StoreError::NotFound)?, of, thermometer)
}

/// What a bath or a refrigerator shows of itself: an instrument nobody checked.
fn own_display(c: &Connection, actor: &Actor, of: Lies) -> Result<Uuid, StoreError> {
    let (bath, storage) = (of.bath(), of.storage());
    let id = derived_id(bath.or(storage).unwrap_or_default(), "own display");
    insert_instrument(c, actor.kitchen, (id, "its own display", None), of)?;
    Ok(id)
}

/// The instrument a thermometer is where it lies.
pub(crate) fn instrument(
    c: &Connection,
    kitchen: Uuid,
    name: &str,
    lies: Lies,
    thermometer: Uuid,
) -> Result<Uuid, StoreError> {
    let id = match lies {
        Lies::Storage(of) | Lies::Bath { bath: of, piece: None, .. } => {
            derived_id(of, &thermometer.to_string())
        }
        Lies::Bath { bath, piece: Some(piece), centred } => {
            derived_id(bath, &format!("{thermometer} {piece} {centred}"))
        }
    };
    insert_instrument(c, kitchen, (id, name, Some(thermometer)), lies)?;
    Ok(id)
}

/// Writes down what something is read with, and where that lies; whether it was new.
pub(crate) fn insert_instrument(
    c: &Connection,
    kitchen: Uuid,
    (id, name, thermometer): (Uuid, &str, Option<Uuid>),
    lies: Lies,
) -> Result<usize, StoreError> {
    let (piece, centred) = match lies {
        Lies::Bath { piece, centred, .. } => (piece, centred),
        Lies::Storage(_) => (None, false),
    };
    let mut insert = c.prepare_cached(
        "INSERT INTO instrument (id, kitchen_id, name, bath_id, storage_id, thermometer_id, piece_id, centred)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8) ON CONFLICT (id) DO NOTHING",
    )?;
    let (bath, storage) = (lies.bath(), lies.storage());
    Ok(insert.execute((id, kitchen, name, bath, storage, thermometer, piece, centred))?)
}

/// Refuses what was just written where that are more readings than can be typed or brought in. (What a device reports is bound
/// by its time: one a second.) What is typed is counted by an index of its own, which a device's day is not walked through for.
fn not_too_many(c: &Connection, instrument: Uuid, by: Hand) -> Result<(), StoreError> {
    let sql = match by {
        Hand::Typed => {
            "SELECT count(*) FROM reading INDEXED BY reading_by_hand WHERE instrument_id = ?1 AND quality NOT IN ('reported', 'imported')"
        }
        Hand::BroughtIn => "SELECT count(*) FROM reading WHERE instrument_id = ?1 AND quality <> 'reported'",
    };
    let count: i64 = c.prepare_cached(sql)?.query_row([instrument], |r| r.get(0))?;
    if count > most(MOST_READINGS_BY_HAND) {
        let text = format!(
            "{MOST_READINGS_BY_HAND} readings of this bath are the most that can be written down by hand or brought in."
        );
        return Err(StoreError::Conflict(text));
    }
    Ok(())
}

#[derive(Clone, Copy)]
enum Hand {
    Typed,
    BroughtIn,
}

/// Whether it runs.
fn running(c: &Connection, actor: &Actor, bath: Uuid) -> Result<(), StoreError> {
    let sql = "SELECT ended_at FROM bath WHERE id = ?1 AND kitchen_id = ?2";
    let ended: Option<Option<At>> = c.query_row(sql, (bath, actor.kitchen), |r| r.get(0)).optional()?;
    match ended {
        None => Err(StoreError::NotFound),
        Some(Some(_)) => Err(StoreError::Conflict("This bath was emptied. Fill the vessel anew.".into())),
        Some(None) => Ok(()),
    }
}

/// Fills a vessel, unless a bath runs in it already.
pub(crate) fn fill(c: &Connection, actor: &Actor, new: &NewBath, now: Timestamp) -> Result<Uuid, StoreError> {
    if let Some(id) = running_in(c, actor.kitchen, new.vessel.id)? {
        return Ok(id);
    }
    let by = actor.by.clone();
    let event = |kind| WaterEvent {
        id: crate::new_id(now),
        happened_at: now,
        recorded_at: now,
        by: by.clone(),
        kind,
    };
    let heated = new.vessel.vessel.heat == Heat::Heater;
    let mut water = vec![event(WaterEventKind::Filled { litres: new.litres })];
    let mut settings = Vec::new();
    if heated {
        settings.push(SettingRecord {
            id: crate::new_id(now),
            at: now,
            celsius: new.celsius,
            by: by.clone(),
        });
    } else {
        water.push(event(WaterEventKind::Aimed { celsius: new.celsius }));
    }
    let bath = BathRecord {
        id: new.id,
        name: new.vessel.vessel.name.clone(),
        began_at: now,
        settings,
        vessel: Some(new.vessel.clone()),
        water,
        instruments: Vec::new(),
    };
    insert(c, actor.kitchen, &bath)?;
    Ok(new.id)
}

/// The bath that runs in a vessel.
pub(crate) fn running_in(c: &Connection, kitchen: Uuid, vessel: Uuid) -> Result<Option<Uuid>, StoreError> {
    let sql = "SELECT id FROM bath WHERE kitchen_id = ?1 AND vessel_id = ?2 AND ended_at IS NULL ORDER BY began_at DESC LIMIT 1";
    Ok(c.query_row(sql, (kitchen, vessel), |r| r.get(0)).optional()?)
}

/// Writes a bath with all it has; records that are there already are left as they are.
pub(crate) fn insert(c: &Connection, kitchen: Uuid, bath: &BathRecord) -> Result<usize, StoreError> {
    let vessel = bath.vessel.as_ref().map(|v| to_json(v, "vessel")).transpose()?;
    let ended = bath.state().emptied.map(At);
    let mut written = c.execute(
        "INSERT INTO bath (id, kitchen_id, name, began_at, vessel_id, vessel, ended_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
         ON CONFLICT (id) DO NOTHING",
        (bath.id, kitchen, &bath.name, At(bath.began_at), bath.vessel.as_ref().map(|v| v.id), vessel, ended),
    )?;
    // Nothing that comes with another cook is said of the water a piece lies in here.
    if written == 0 && crate::rows::in_use(c, kitchen, bath.id)? {
        return Ok(0);
    }
    for s in &bath.settings {
        written += insert_setting(c, kitchen, bath.id, s)?;
    }
    for e in &bath.water {
        written += insert_water(c, kitchen, bath.id, e)?;
    }
    for i in &bath.instruments {
        if let Some(id) = i.thermometer {
            equipment::known(c, kitchen, id, &i.name, &i.checks, bath.began_at)?;
        }
        let lies = Lies::Bath { bath: bath.id, piece: i.piece, centred: i.centred };
        written += insert_instrument(c, kitchen, (i.id, &i.name, i.thermometer), lies)?;
        let mut writing = Writing::default();
        for r in &i.readings {
            let row = ReadingRow { instrument: i.id, at: r.at, celsius: r.celsius, quality: &r.quality };
            written += usize::from(writing.reading(c, &row, None)? == Written::New);
        }
        writing.end(c)?;
    }
    Ok(written)
}

fn insert_setting(c: &Connection, kitchen: Uuid, bath: Uuid, s: &SettingRecord) -> Result<usize, StoreError> {
    Ok(c.execute(
        "INSERT INTO bath_setting (id, kitchen_id, bath_id, at, celsius, who_id) VALUES (?1, ?2, ?3, ?4, ?5, ?6) ON CONFLICT (id) DO NOTHING",
        (s.id, kitchen, bath, At(s.at), s.celsius.value(), who(c, kitchen, &s.by)?),
    )?)
}

fn insert_water(c: &Connection, kitchen: Uuid, bath: Uuid, e: &WaterEvent) -> Result<usize, StoreError> {
    let written = c.execute(
        "INSERT INTO water_event (id, kitchen_id, bath_id, happened_at, recorded_at, who_id, body)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7) ON CONFLICT (id) DO NOTHING",
        (
            e.id,
            kitchen,
            bath,
            At(e.happened_at),
            At(e.recorded_at),
            who(c, kitchen, &e.by)?,
            to_json(&e.kind, "water event")?,
        ),
    )?;
    if e.kind == WaterEventKind::Emptied {
        c.execute(
            "UPDATE bath SET ended_at = ?2 WHERE id = ?1 AND ended_at IS NULL",
            (bath, At(e.happened_at)),
        )?;
    }
    Ok(written)
}

/// How much of a bath is asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Detail {
    /// That it is there, and in which vessel.
    Outline,
    /// What it was set to and what was done to it.
    Water,
    /// What it was read with too: as it goes into a file, its readings apart.
    Read,
    /// Its readings too, as they are judged: of what comes often one for each minute, the mean, and the last as they are.
    Judged,
    /// Every reading, as it goes into a file.
    Whole,
}

/// One bath.
pub(crate) fn load(c: &Connection, id: Uuid, detail: Detail) -> Result<BathRecord, StoreError> {
    let mut bath = c.prepare_cached("SELECT name, began_at, vessel FROM bath WHERE id = ?1")?;
    let (name, began_at, vessel): (String, At, Option<String>) =
        bath.query_row([id], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?;
    let vessel = vessel.map(|v| parse_json(&v, "vessel")).transpose()?;
    let mut bath = BathRecord {
        id,
        name,
        began_at: began_at.0,
        settings: Vec::new(),
        vessel,
        water: Vec::new(),
        instruments: Vec::new(),
    };
    if detail >= Detail::Water {
        bath.settings = settings(c, id)?;
        bath.water = water(c, id)?;
    }
    if detail >= Detail::Read {
        bath.instruments = instruments(c, id, &bath.state().struck, detail)?;
    }
    Ok(bath)
}

fn settings(c: &Connection, bath: Uuid) -> Result<Vec<SettingRecord>, StoreError> {
    let mut rows =
        c.prepare_cached(&format!(
            "SELECT s.id, s.at, s.celsius, {COLUMNS} FROM bath_setting s JOIN who w ON w.id = s.who_id WHERE s.bath_id = ?1 ORDER BY s.at, s.seq"
        ))?;
    let setting = |r: &rusqlite::Row<'_>| {
        let at: At = r.get(1)?;
        Ok(SettingRecord { id: r.get(0)?, at: at.0, celsius: Celsius::new(r.get(2)?), by: told(r, 3)? })
    };
    Ok(rows.query_map([bath], setting)?.collect::<Result<_, _>>()?)
}

fn water(c: &Connection, bath: Uuid) -> Result<Vec<WaterEvent>, StoreError> {
    let mut rows = c.prepare_cached(&format!(
        "SELECT e.id, e.happened_at, e.recorded_at, e.body, {COLUMNS} FROM water_event e JOIN who w ON w.id = e.who_id
         WHERE e.bath_id = ?1 ORDER BY e.seq"
    ))?;
    type Row = (Uuid, At, At, String, By);
    let rows: Vec<Row> = rows
        .query_map([bath], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, told(r, 4)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, happened_at, recorded_at, body, by)| {
            let kind = parse_json(&body, "water event")?;
            Ok(WaterEvent { id, happened_at: happened_at.0, recorded_at: recorded_at.0, by, kind })
        })
        .collect()
}

/// What was read in a bath.
fn instruments(
    c: &Connection,
    bath: Uuid,
    struck: &[(Uuid, Timestamp)],
    detail: Detail,
) -> Result<Vec<InstrumentRecord>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT id, name, piece_id, thermometer_id, centred FROM instrument WHERE bath_id = ?1 ORDER BY id",
    )?;
    type Row = (Uuid, String, Option<Uuid>, Option<Uuid>, bool);
    let rows: Vec<Row> = rows
        .query_map([bath], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?)))?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, name, piece, thermometer, centred)| {
            let (readings, thinned) = match detail {
                Detail::Whole => readings::all(c, id)?,
                Detail::Judged => {
                    let of_it: Vec<Timestamp> = struck.iter().filter(|s| s.0 == id).map(|s| s.1).collect();
                    (readings::judged(c, id, &of_it)?, None)
                }
                _ => (Vec::new(), None),
            };
            let checks = thermometer.map_or(Ok(Vec::new()), |id| equipment::checks(c, id))?;
            Ok(InstrumentRecord { id, name, piece, centred, thermometer, checks, readings, thinned })
        })
        .collect()
}
