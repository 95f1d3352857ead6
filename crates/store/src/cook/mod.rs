//! Cooks: begun from a plan, then only ever added to.

use hold_steady_core::book::{CookRecord, EventRecord, Instrument, PieceRecord, PlanRecord, ReadingRecord};
use hold_steady_core::cook::{Event, EventKind};
use hold_steady_core::plan::{Plan, PlanForm, PlanRequest};
use std::collections::HashMap;

use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::{Origin, Store, StoreError, new_id, parse_id, parse_json, parse_time, to_json};

/// A plan about to be cooked.
#[derive(Debug, Clone)]
pub struct NewCook {
    /// Identifier of the cook: chosen by the page that starts it, so that a form sent twice starts
    /// one cook.
    pub id: Uuid,
    /// What the cook calls it.
    pub title: String,
    /// The sentence as typed.
    pub typed: PlanForm,
    /// What was understood.
    pub request: PlanRequest,
    /// What was answered.
    pub plan: Plan,
}

impl Store {
    /// Begins a cook with one piece: the plan's snapshot, the `started` event, and the set point as
    /// the bath's first reading. Beginning the same one again changes nothing.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn start_cook(&self, kitchen: Uuid, cook: NewCook, now: Timestamp) -> Result<Uuid, StoreError> {
        let piece = new_id(now);
        let record = CookRecord {
            id: cook.id,
            created_at: now,
            title: cook.title,
            pieces: vec![PieceRecord {
                id: piece,
                position: 0,
                created_at: now,
                plans: vec![PlanRecord {
                    id: new_id(now),
                    created_at: now,
                    engine: cook.plan.engine.clone(),
                    data: cook.plan.data.clone(),
                    typed: cook.typed,
                    result: serde_json::to_value(&cook.plan)
                        .map_err(|e| StoreError::Record(format!("plan: {e}")))?,
                    request: cook.request.clone(),
                }],
            }],
            events: vec![EventRecord {
                piece: None,
                event: Event {
                    id: new_id(now),
                    happened_at: now,
                    recorded_at: now,
                    by: BY.into(),
                    kind: EventKind::Started,
                },
            }],
            readings: vec![ReadingRecord {
                id: new_id(now),
                piece: None,
                instrument: Instrument::Bath,
                origin: "set-point".into(),
                at: now,
                celsius: cook.request.bath_c,
            }],
        };
        self.with(move |c| {
            let tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
            if !exists(&tx, "cook", record.id)? {
                insert(&tx, kitchen, &record, None)?;
            }
            tx.commit()?;
            Ok(record.id)
        })
        .await
    }

    /// Adds an event to a cook, after `check` has looked at the cook as it stands then: both in one
    /// transaction, so that two taps at once cannot both pass. One that is there already, by its identifier, is
    /// not added again and not refused: a tap whose answer was lost is sent again.
    ///
    /// # Errors
    /// When the cook is not there, the check refuses (its error is handed back), the identifier is another
    /// cook's, or the database fails.
    pub async fn add_event<E: Send + 'static>(
        &self,
        cook: Uuid,
        event: Event,
        check: impl FnOnce(&CookRecord) -> Result<(), E> + Send + 'static,
    ) -> Result<Result<(), E>, StoreError> {
        self.with(move |c| {
            let tx = c.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
            let record = load(&tx, cook)?.ok_or(StoreError::NotFound)?;
            if record.events.iter().any(|e| e.event.id == event.id) {
                return Ok(Ok(()));
            }
            if exists(&tx, "event", event.id)? {
                return Err(StoreError::Conflict(format!("the event {} is another cook’s", event.id)));
            }
            if let Err(refusal) = check(&record) {
                return Ok(Err(refusal));
            }
            let kitchen: String =
                tx.query_row("SELECT kitchen_id FROM cook WHERE id = ?1", [cook.to_string()], |r| r.get(0))?;
            // Steps belong to the piece; taking a cook off the lists belongs to the cook.
            let piece = match event.kind {
                EventKind::Started | EventKind::Deleted | EventKind::Restored => None,
                _ => record.pieces.first().map(|p| p.id),
            };
            insert_event(&tx, &kitchen, cook, &EventRecord { piece, event }, None)?;
            tx.commit()?;
            Ok(Ok(()))
        })
        .await
    }

    /// One cook.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn cook(&self, id: Uuid) -> Result<CookRecord, StoreError> {
        self.with(move |c| load(c, id)?.ok_or(StoreError::NotFound)).await
    }

    /// Which of a cook's events came with an import, and when, by whom and from which file that was.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn origins(&self, cook: Uuid) -> Result<HashMap<Uuid, Origin>, StoreError> {
        self.with(move |c| {
            let mut rows = c.prepare_cached(
                "SELECT event.id, import.at, import.by, import.sha256 FROM event JOIN import ON import.id = event.import_id
                 WHERE event.cook_id = ?1",
            )?;
            type Row = (String, String, String, String);
            let rows: Vec<Row> = rows
                .query_map([cook.to_string()], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?)))?
                .collect::<Result<_, _>>()?;
            rows.into_iter()
                .map(|(id, at, by, sha256)| Ok((parse_id(&id)?, Origin { at: parse_time(&at)?, by, sha256 })))
                .collect()
        })
        .await
    }

    /// All cooks of a kitchen, newest first.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn cooks(&self, kitchen: Uuid) -> Result<Vec<CookRecord>, StoreError> {
        self.with(move |c| load_all(c, kitchen)).await
    }
}

/// By whom, until there are logins.
const BY: &str = "kitchen";

pub(crate) fn exists(c: &Connection, table: &str, id: Uuid) -> Result<bool, StoreError> {
    let sql = format!("SELECT 1 FROM {table} WHERE id = ?1");
    Ok(c.query_row(&sql, [id.to_string()], |_| Ok(())).optional()?.is_some())
}

/// Writes a cook with everything it owns; records that are there already are left as they are. What comes with
/// an import is marked with it.
pub(crate) fn insert(
    c: &Connection,
    kitchen: Uuid,
    cook: &CookRecord,
    import: Option<&str>,
) -> Result<usize, StoreError> {
    let (k, cook_id) = (kitchen.to_string(), cook.id.to_string());
    let mut written = c.execute(
        "INSERT INTO cook (id, kitchen_id, title, created_at, import_id) VALUES (?1, ?2, ?3, ?4, ?5) ON CONFLICT (id) DO NOTHING",
        (&cook_id, &k, &cook.title, cook.created_at.to_string(), import),
    )?;
    for piece in &cook.pieces {
        written += c.execute(
            "INSERT INTO piece (id, kitchen_id, cook_id, position, created_at) VALUES (?1, ?2, ?3, ?4, ?5) ON CONFLICT (id) DO NOTHING",
            (piece.id.to_string(), &k, &cook_id, piece.position, piece.created_at.to_string()),
        )?;
        for plan in &piece.plans {
            written += c.execute(
                "INSERT INTO plan (id, kitchen_id, piece_id, created_at, engine, data, typed, request, result) \
                 VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9) ON CONFLICT (id) DO NOTHING",
                (
                    plan.id.to_string(),
                    &k,
                    piece.id.to_string(),
                    plan.created_at.to_string(),
                    &plan.engine,
                    &plan.data,
                    to_json(&plan.typed, "typed")?,
                    to_json(&plan.request, "request")?,
                    to_json(&plan.result, "result")?,
                ),
            )?;
        }
    }
    for event in &cook.events {
        written += insert_event(c, &k, cook.id, event, import)?;
    }
    for r in &cook.readings {
        written += c.execute(
            "INSERT INTO reading (id, kitchen_id, cook_id, piece_id, instrument, origin, at, celsius) \
             VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8) ON CONFLICT (id) DO NOTHING",
            (
                r.id.to_string(),
                &k,
                &cook_id,
                r.piece.map(|p| p.to_string()),
                match r.instrument {
                    Instrument::Bath => "bath",
                    Instrument::Probe => "probe",
                },
                &r.origin,
                r.at.to_string(),
                r.celsius,
            ),
        )?;
    }
    Ok(written)
}

fn insert_event(
    c: &Connection,
    kitchen: &str,
    cook: Uuid,
    record: &EventRecord,
    import: Option<&str>,
) -> Result<usize, StoreError> {
    let e = &record.event;
    Ok(c.execute(
        "INSERT INTO event (id, kitchen_id, cook_id, piece_id, happened_at, recorded_at, recorded_by, body, import_id) \
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9) ON CONFLICT (id) DO NOTHING",
        (
            e.id.to_string(),
            kitchen,
            cook.to_string(),
            record.piece.map(|p| p.to_string()),
            e.happened_at.to_string(),
            e.recorded_at.to_string(),
            &e.by,
            to_json(&e.kind, "event")?,
            import,
        ),
    )?)
}

pub(crate) fn load(c: &Connection, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    let head: Option<(String, String)> = c
        .query_row("SELECT title, created_at FROM cook WHERE id = ?1", [id.to_string()], |r| {
            Ok((r.get(0)?, r.get(1)?))
        })
        .optional()?;
    let Some((title, created_at)) = head else { return Ok(None) };
    Ok(Some(CookRecord {
        id,
        created_at: parse_time(&created_at)?,
        title,
        pieces: load_pieces(c, id)?,
        events: load_events(c, id)?,
        readings: load_readings(c, id)?,
    }))
}

pub(crate) fn load_all(c: &Connection, kitchen: Uuid) -> Result<Vec<CookRecord>, StoreError> {
    let mut ids = c.prepare_cached("SELECT id FROM cook WHERE kitchen_id = ?1")?;
    let ids: Vec<String> = ids.query_map([kitchen.to_string()], |r| r.get(0))?.collect::<Result<_, _>>()?;
    let mut cooks = Vec::with_capacity(ids.len());
    for id in ids {
        cooks.extend(load(c, parse_id(&id)?)?);
    }
    // Instants are texts of varying length in the file: sorted here, as instants.
    cooks.sort_by_key(|cook| std::cmp::Reverse((cook.created_at, cook.id)));
    Ok(cooks)
}

fn load_pieces(c: &Connection, cook: Uuid) -> Result<Vec<PieceRecord>, StoreError> {
    let mut pieces =
        c.prepare_cached("SELECT id, position, created_at FROM piece WHERE cook_id = ?1 ORDER BY position")?;
    let rows: Vec<(String, u32, String)> = pieces
        .query_map([cook.to_string()], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?
        .collect::<Result<_, _>>()?;
    let mut plans = c.prepare_cached(
        "SELECT id, created_at, engine, data, typed, request, result FROM plan WHERE piece_id = ?1 ORDER BY seq",
    )?;
    let mut all = Vec::with_capacity(rows.len());
    for (id, position, created_at) in rows {
        let texts: Vec<[String; 7]> = plans
            .query_map([&id], |r| {
                Ok([r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?, r.get(5)?, r.get(6)?])
            })?
            .collect::<Result<_, _>>()?;
        let read = |[id, created_at, engine, data, typed, request, result]: [String; 7]| {
            Ok(PlanRecord {
                id: parse_id(&id)?,
                created_at: parse_time(&created_at)?,
                engine,
                data,
                typed: parse_json(&typed, "typed")?,
                request: parse_json(&request, "request")?,
                result: parse_json(&result, "result")?,
            })
        };
        let plans = texts.into_iter().map(read).collect::<Result<_, StoreError>>()?;
        all.push(PieceRecord { id: parse_id(&id)?, position, created_at: parse_time(&created_at)?, plans });
    }
    Ok(all)
}

pub(crate) fn load_events(c: &Connection, cook: Uuid) -> Result<Vec<EventRecord>, StoreError> {
    let mut events = c.prepare_cached(
        "SELECT id, piece_id, happened_at, recorded_at, recorded_by, body FROM event WHERE cook_id = ?1 ORDER BY seq",
    )?;
    type Row = (String, Option<String>, String, String, String, String);
    let rows: Vec<Row> = events
        .query_map([cook.to_string()], |r| {
            Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?, r.get(5)?))
        })?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, piece, happened_at, recorded_at, by, body)| {
            Ok(EventRecord {
                piece: piece.as_deref().map(parse_id).transpose()?,
                event: Event {
                    id: parse_id(&id)?,
                    happened_at: parse_time(&happened_at)?,
                    recorded_at: parse_time(&recorded_at)?,
                    by,
                    kind: parse_json(&body, "event")?,
                },
            })
        })
        .collect()
}

fn load_readings(c: &Connection, cook: Uuid) -> Result<Vec<ReadingRecord>, StoreError> {
    let mut readings = c.prepare_cached(
        "SELECT id, piece_id, instrument, origin, at, celsius FROM reading WHERE cook_id = ?1 ORDER BY seq",
    )?;
    type Row = (String, Option<String>, String, String, String, f64);
    let rows: Vec<Row> = readings
        .query_map([cook.to_string()], |r| {
            Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?, r.get(5)?))
        })?
        .collect::<Result<_, _>>()?;
    let mut readings: Vec<ReadingRecord> = rows
        .into_iter()
        .map(|(id, piece, instrument, origin, at, celsius)| {
            Ok(ReadingRecord {
                id: parse_id(&id)?,
                piece: piece.as_deref().map(parse_id).transpose()?,
                instrument: if instrument == "probe" { Instrument::Probe } else { Instrument::Bath },
                origin,
                at: parse_time(&at)?,
                celsius,
            })
        })
        .collect::<Result<_, StoreError>>()?;
    readings.sort_by_key(|r| r.at);
    Ok(readings)
}
