//! Cooks: begun from a plan, then only ever added to.

use std::collections::HashMap;

use hold_steady_core::book::{
    BagRecord, BathRecord, CookRecord, EventRecord, KeptVessel, PieceRecord, PlanRecord, SettingRecord,
    Subject,
};
use hold_steady_core::cook::{CookState, Event, EventKind};
use hold_steady_core::plan::{Plan, PlanForm, PlanRequest};
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::bath::Detail;
use crate::time::At;
use crate::{Actor, InKitchen, Origin, StoreError, bath, new_id, parse_json, phase, to_json};

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

/// The bag and the piece that were at hand when something happened.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct AtHand {
    /// The bag; the only one there is where it is left out.
    pub bag: Option<Uuid>,
    /// The piece; the only one there is where it is left out.
    pub piece: Option<Uuid>,
}

/// Something that happened, about to be written down.
#[derive(Debug, Clone)]
pub struct NewEvent {
    /// Identifier, chosen by whoever taps: sent again, it is the same event.
    pub id: Uuid,
    /// What was at hand: by its kind, it is about the bag, the piece or the whole cook.
    pub about: AtHand,
    /// When it happened, by the cook's word.
    pub happened_at: Timestamp,
    /// What.
    pub kind: EventKind,
}

impl InKitchen {
    /// Begins a cook with one piece in one bag, in the bath that runs in its vessel or else in one of its own that is
    /// set as planned: the plan's snapshot, and the `started` event. Beginning the same one again changes nothing.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn start_cook(&self, cook: NewCook, now: Timestamp) -> Result<Uuid, StoreError> {
        self.writing(move |c, actor| {
            if !exists(c, "cook", cook.id)? {
                let bath = vessel_s_bath(c, actor, &cook, now)?;
                insert(c, actor, &begun(cook.clone(), bath, actor, now)?, None)?;
            }
            Ok(cook.id)
        })
        .await
    }

    /// Adds an event to a cook, if it can have happened as the cook stands then: looked at and written in one
    /// transaction, so that two taps at once cannot both pass. One that is there already, by its identifier, is
    /// not added again and not refused: a tap whose answer was lost is sent again.
    ///
    /// `judge` says where the cook stands after it, or refuses; its refusal is handed back.
    ///
    /// # Errors
    /// When the cook is not there, it is not said what the event is about, the identifier is another cook's, or
    /// the database fails.
    pub async fn add_event<E: Send + 'static>(
        &self,
        cook: Uuid,
        event: NewEvent,
        now: Timestamp,
        judge: impl FnOnce(&CookRecord, &Event) -> Result<CookState, E> + Send + 'static,
    ) -> Result<Result<(), E>, StoreError> {
        self.writing(move |c, actor| {
            let record = outline(c, actor.kitchen, cook)?.ok_or(StoreError::NotFound)?;
            if let Some(known) = record.events.iter().find(|e| e.event.id == event.id) {
                if known.event.kind == event.kind {
                    return Ok(Ok(()));
                }
                // Never taken for the same: it would be lost without a word.
                return Err(StoreError::Conflict(
                    "something else was written down by that tap; reload the page and tap again".into(),
                ));
            }
            if exists(c, "event", event.id)? {
                return Err(StoreError::Conflict(format!("the event {} is another cook’s", event.id)));
            }
            let AtHand { bag, piece } = event.about;
            let (bag, piece) = (bag.or_else(|| record.only_bag()), piece.or_else(|| record.only_piece()));
            let subject = record.subject(&event.kind, bag, piece);
            let subject = subject.filter(|s| record.has(*s)).ok_or_else(|| {
                StoreError::Conflict(format!(
                    "say which piece or bag of the cook {cook} was {}",
                    event.kind.id()
                ))
            })?;
            if let EventKind::Moved { bath } = event.kind {
                let ours = "SELECT count(*) FROM bath WHERE id = ?1 AND kitchen_id = ?2";
                let ours: i64 = c.query_row(ours, (bath, actor.kitchen), |r| r.get(0))?;
                if ours == 0 {
                    return Err(StoreError::Conflict(format!("there is no bath {bath} in this kitchen")));
                }
            }
            let event = Event {
                id: event.id,
                happened_at: event.happened_at,
                recorded_at: now,
                by: actor.person.clone(),
                kind: event.kind,
            };
            let state = match judge(&record, &event) {
                Ok(state) => state,
                Err(refusal) => return Ok(Err(refusal)),
            };
            insert_event(c, actor.kitchen, cook, &EventRecord { subject, event }, None)?;
            phase::keep(c, cook, &state)?;
            Ok(Ok(()))
        })
        .await
    }

    /// One cook.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn cook(&self, id: Uuid) -> Result<CookRecord, StoreError> {
        self.with(move |c, actor| load(c, actor.kitchen, id)?.ok_or(StoreError::NotFound)).await
    }

    /// Which of a cook's events came with an import, and when, by whom and from which file that was.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn origins(&self, cook: Uuid) -> Result<HashMap<Uuid, Origin>, StoreError> {
        self.with(move |c, actor| {
            let mut rows = c.prepare_cached(
                "SELECT event.id, import.at, import.by, import.sha256 FROM event JOIN import ON import.id = event.import_id
                 WHERE event.cook_id = ?1 AND event.kitchen_id = ?2",
            )?;
            let rows = rows.query_map((cook, actor.kitchen), |r| {
                let at: At = r.get(1)?;
                Ok((r.get(0)?, Origin { at: at.0, by: r.get(2)?, sha256: r.get(3)? }))
            })?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
        .await
    }
}

/// The bath that runs in the vessel of a cook's plan, filled now where none does; `None` where no vessel is named.
fn vessel_s_bath(
    c: &Connection,
    actor: &Actor,
    cook: &NewCook,
    now: Timestamp,
) -> Result<Option<Uuid>, StoreError> {
    let Some((named, bench)) = cook.request.vessel.as_ref().zip(cook.request.bench()) else {
        return Ok(None);
    };
    let new = bath::NewBath {
        id: new_id(now),
        vessel: KeptVessel { id: named.id, vessel: named.vessel.clone() },
        litres: bench.water_l(),
        celsius: cook.request.bath_c,
    };
    bath::fill(c, actor, &new, now).map(Some)
}

/// A cook as it begins, in a bath that runs already or in one of its own.
fn begun(cook: NewCook, bath: Option<Uuid>, actor: &Actor, now: Timestamp) -> Result<CookRecord, StoreError> {
    let (piece, bag) = (new_id(now), new_id(now));
    let plan = PlanRecord {
        id: new_id(now),
        created_at: now,
        engine: cook.plan.engine.clone(),
        data: cook.plan.data.clone(),
        typed: cook.typed,
        result: serde_json::to_value(&cook.plan).map_err(|e| StoreError::Record(format!("plan: {e}")))?,
        request: cook.request.clone(),
    };
    let by = actor.person.clone();
    let started = Event {
        id: new_id(now),
        happened_at: now,
        recorded_at: now,
        by: by.clone(),
        kind: EventKind::Started,
    };
    let own = || {
        let setting = SettingRecord { id: new_id(now), at: now, celsius: cook.request.bath_c, by };
        BathRecord {
            id: new_id(now),
            name: "bath".into(),
            began_at: now,
            settings: vec![setting],
            vessel: None,
            water: Vec::new(),
            instruments: Vec::new(),
        }
    };
    let (bath, baths) = match bath {
        Some(running) => (running, Vec::new()),
        None => {
            let own = own();
            (own.id, vec![own])
        }
    };
    Ok(CookRecord {
        id: cook.id,
        created_at: now,
        title: cook.title,
        pieces: vec![PieceRecord { id: piece, position: 0, created_at: now, plans: vec![plan] }],
        bags: vec![BagRecord { id: bag, pieces: vec![piece], bath }],
        baths,
        events: vec![EventRecord { subject: Subject::Cook, event: started }],
    })
}

pub(crate) fn exists(c: &Connection, table: &str, id: Uuid) -> Result<bool, StoreError> {
    let sql = format!("SELECT 1 FROM {table} WHERE id = ?1");
    Ok(c.query_row(&sql, [id], |_| Ok(())).optional()?.is_some())
}

/// Writes a cook with everything it owns; records that are there already are left as they are. What comes with
/// an import is marked with it.
pub(crate) fn insert(
    c: &Connection,
    actor: &Actor,
    cook: &CookRecord,
    import: Option<Uuid>,
) -> Result<usize, StoreError> {
    let k = actor.kitchen;
    let food = cook.plan_record().map_or("", |plan| plan.request.food().id.as_str());
    let mut written = c.execute(
        "INSERT INTO cook (id, kitchen_id, title, created_at, created_by, import_id, standing, food)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, 'under-way', ?7) ON CONFLICT (id) DO NOTHING",
        (cook.id, k, &cook.title, At(cook.created_at), &actor.person, import, food),
    )?;
    for piece in &cook.pieces {
        written += c.execute(
            "INSERT INTO piece (id, kitchen_id, cook_id, position, created_at) VALUES (?1, ?2, ?3, ?4, ?5) ON CONFLICT (id) DO NOTHING",
            (piece.id, k, cook.id, piece.position, At(piece.created_at)),
        )?;
        for plan in &piece.plans {
            written += insert_plan(c, k, piece.id, plan)?;
        }
    }
    for record in &cook.baths {
        written += bath::insert(c, k, record)?;
    }
    for (position, bag) in cook.bags.iter().enumerate() {
        written += c.execute(
            "INSERT INTO bag (id, kitchen_id, cook_id, position, bath_id) VALUES (?1, ?2, ?3, ?4, ?5) ON CONFLICT (id) DO NOTHING",
            (bag.id, k, cook.id, i64::try_from(position).unwrap_or(i64::MAX), bag.bath),
        )?;
        for piece in &bag.pieces {
            written += c.execute(
                "INSERT INTO bag_piece (bag_id, piece_id) VALUES (?1, ?2) ON CONFLICT DO NOTHING",
                (bag.id, piece),
            )?;
        }
    }
    for event in &cook.events {
        written += insert_event(c, k, cook.id, event, import)?;
    }
    let events: Vec<Event> = load_events(c, cook.id)?.into_iter().map(|e| e.event).collect();
    phase::keep(c, cook.id, &CookState::of(&events))?;
    Ok(written)
}

fn insert_plan(c: &Connection, kitchen: Uuid, piece: Uuid, plan: &PlanRecord) -> Result<usize, StoreError> {
    Ok(c.execute(
        "INSERT INTO plan (id, kitchen_id, piece_id, created_at, engine, data, typed, request, result)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9) ON CONFLICT (id) DO NOTHING",
        (
            plan.id,
            kitchen,
            piece,
            At(plan.created_at),
            &plan.engine,
            &plan.data,
            to_json(&plan.typed, "typed")?,
            to_json(&plan.request, "request")?,
            to_json(&plan.result, "result")?,
        ),
    )?)
}

/// Whether a piece of a cook that is under way here lies in a bath, or was moved into it.
pub(crate) fn in_use(c: &Connection, kitchen: Uuid, bath: Uuid) -> Result<bool, StoreError> {
    // From the few cooks under way: a long book costs no more than a short one.
    let lies = "WITH under_way AS MATERIALIZED
                    (SELECT id FROM cook WHERE kitchen_id = ?1 AND standing = 'under-way')
                SELECT EXISTS (SELECT 1 FROM under_way CROSS JOIN bag ON cook_id = under_way.id WHERE bath_id = ?2)
                    OR EXISTS (SELECT 1 FROM under_way CROSS JOIN event ON cook_id = under_way.id
                               WHERE body ->> 'kind' = 'moved' AND body ->> 'bath' = ?3)";
    Ok(c.query_row(lies, (kitchen, bath, bath.to_string()), |r| r.get(0))?)
}

fn insert_event(
    c: &Connection,
    kitchen: Uuid,
    cook: Uuid,
    record: &EventRecord,
    import: Option<Uuid>,
) -> Result<usize, StoreError> {
    let e = &record.event;
    Ok(c.execute(
        "INSERT INTO event (id, kitchen_id, cook_id, subject, subject_id, happened_at, recorded_at, recorded_by, body, import_id)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10) ON CONFLICT (id) DO NOTHING",
        (
            e.id,
            kitchen,
            cook,
            record.subject.kind(),
            record.subject.id(),
            At(e.happened_at),
            At(e.recorded_at),
            &e.by,
            to_json(&e.kind, "event")?,
            import,
        ),
    )?)
}

pub(crate) fn load(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    load_so_far(c, kitchen, id, Detail::Judged)
}

/// A cook with every reading of its baths: as it goes into a file.
pub(crate) fn load_whole(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    load_so_far(c, kitchen, id, Detail::Whole)
}

/// A cook without its plans and readings: what is in it, and what happened. Enough to judge an event by, and the same
/// small work while others wait to write, whatever was read meanwhile.
fn outline(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    load_so_far(c, kitchen, id, Detail::Outline)
}

fn load_so_far(
    c: &Connection,
    kitchen: Uuid,
    id: Uuid,
    detail: Detail,
) -> Result<Option<CookRecord>, StoreError> {
    let mut head =
        c.prepare_cached("SELECT title, created_at FROM cook WHERE id = ?1 AND kitchen_id = ?2")?;
    let head: Option<(String, At)> =
        head.query_row((id, kitchen), |r| Ok((r.get(0)?, r.get(1)?))).optional()?;
    let Some((title, created_at)) = head else { return Ok(None) };
    let (bags, events) = (load_bags(c, id)?, load_events(c, id)?);
    Ok(Some(CookRecord {
        id,
        created_at: created_at.0,
        title,
        pieces: load_pieces(c, id, detail)?,
        baths: load_baths(c, &bags, &events, detail)?,
        bags,
        events,
    }))
}

fn load_pieces(c: &Connection, cook: Uuid, detail: Detail) -> Result<Vec<PieceRecord>, StoreError> {
    let mut pieces =
        c.prepare_cached("SELECT id, position, created_at FROM piece WHERE cook_id = ?1 ORDER BY position")?;
    let rows: Vec<(Uuid, u32, At)> =
        pieces.query_map([cook], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?.collect::<Result<_, _>>()?;
    let mut plans = c.prepare_cached(
        "SELECT id, created_at, engine, data, typed, request, result FROM plan WHERE piece_id = ?1 ORDER BY seq",
    )?;
    let mut all = Vec::with_capacity(rows.len());
    for (id, position, created_at) in rows {
        if detail == Detail::Outline {
            all.push(PieceRecord { id, position, created_at: created_at.0, plans: Vec::new() });
            continue;
        }
        type Row = (Uuid, At, [String; 5]);
        let rows: Vec<Row> = plans
            .query_map([id], |r| {
                Ok((r.get(0)?, r.get(1)?, [r.get(2)?, r.get(3)?, r.get(4)?, r.get(5)?, r.get(6)?]))
            })?
            .collect::<Result<_, _>>()?;
        let read = |(id, created_at, [engine, data, typed, request, result]): Row| {
            Ok(PlanRecord {
                id,
                created_at: created_at.0,
                engine,
                data,
                typed: parse_json(&typed, "typed")?,
                request: parse_json(&request, "request")?,
                result: parse_json(&result, "result")?,
            })
        };
        let plans = rows.into_iter().map(read).collect::<Result<_, StoreError>>()?;
        all.push(PieceRecord { id, position, created_at: created_at.0, plans });
    }
    Ok(all)
}

fn load_bags(c: &Connection, cook: Uuid) -> Result<Vec<BagRecord>, StoreError> {
    let mut bags = c.prepare_cached("SELECT id, bath_id FROM bag WHERE cook_id = ?1 ORDER BY position")?;
    let rows: Vec<(Uuid, Uuid)> =
        bags.query_map([cook], |r| Ok((r.get(0)?, r.get(1)?)))?.collect::<Result<_, _>>()?;
    let mut pieces = c.prepare_cached(
        "SELECT piece_id FROM bag_piece JOIN piece ON piece.id = piece_id WHERE bag_id = ?1 ORDER BY position",
    )?;
    rows.into_iter()
        .map(|(id, bath)| {
            let pieces = pieces.query_map([id], |r| r.get(0))?.collect::<Result<_, _>>()?;
            Ok(BagRecord { id, pieces, bath })
        })
        .collect()
}

/// The baths a cook's bags went into, at the drop or later.
fn load_baths(
    c: &Connection,
    bags: &[BagRecord],
    events: &[EventRecord],
    detail: Detail,
) -> Result<Vec<BathRecord>, StoreError> {
    let moved = events.iter().filter_map(|e| match e.event.kind {
        EventKind::Moved { bath } => Some(bath),
        _ => None,
    });
    let mut ids: Vec<Uuid> = Vec::new();
    for id in bags.iter().map(|b| b.bath).chain(moved) {
        if !ids.contains(&id) {
            ids.push(id);
        }
    }
    ids.into_iter().map(|id| bath::load(c, id, detail)).collect()
}

pub(crate) fn load_events(c: &Connection, cook: Uuid) -> Result<Vec<EventRecord>, StoreError> {
    let mut events = c.prepare_cached(
        "SELECT id, subject, subject_id, happened_at, recorded_at, recorded_by, body FROM event WHERE cook_id = ?1 ORDER BY seq",
    )?;
    type Row = (Uuid, String, Option<Uuid>, At, At, String, String);
    let rows: Vec<Row> = events
        .query_map([cook], |r| {
            Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?, r.get(5)?, r.get(6)?))
        })?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, subject, subject_id, happened_at, recorded_at, by, body)| {
            let subject = Subject::of(&subject, subject_id).ok_or_else(|| {
                StoreError::Record(format!("event {id}: “{subject}” without an identifier"))
            })?;
            let event = Event {
                id,
                happened_at: happened_at.0,
                recorded_at: recorded_at.0,
                by,
                kind: parse_json(&body, "event")?,
            };
            Ok(EventRecord { subject, event })
        })
        .collect()
}
