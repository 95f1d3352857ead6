//! Cooks: begun from a plan, then only ever added to.

pub(crate) mod phase;

use std::collections::HashMap;
use std::collections::hash_map::Entry;

use hold_steady_core::book::{
    BagRecord, BathRecord, CookRecord, EventRecord, KeptVessel, PieceRecord, PlanRecord, SettingRecord,
    Subject,
};
use hold_steady_core::cook::{CookState, Event, EventKind};
use hold_steady_core::plan::{Plan, PlanForm, PlanRequest};
use hold_steady_core::who::By;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::bath::Detail;
use crate::rows::exists;
use crate::time::At;
use crate::who::{COLUMNS, told, who};
use crate::{Actor, InKitchen, Origin, StoreError, bath, new_id, parse_json, to_json};

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
    /// What it is begun together with, and what tells its bag from those: empty for one by itself.
    pub together: Option<Uuid>,
    /// The letter of its bag.
    pub letter: String,
}

/// A plan about to be taken for a cook that is under way.
#[derive(Debug, Clone)]
pub struct NewPlan {
    /// Identifier of the event, chosen by the page: sent again, it is the same.
    pub id: Uuid,
    /// The piece is another than was written down; else only what is wished.
    pub corrects: bool,
    /// The sentence as typed.
    pub typed: PlanForm,
    /// What was understood.
    pub request: PlanRequest,
    /// What was answered.
    pub plan: Plan,
}

/// Something that happened, about to be written down.
#[derive(Debug, Clone)]
pub struct NewEvent {
    /// Identifier, chosen by whoever taps: sent again, it is the same event.
    pub id: Uuid,
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
                // Bags that are begun together lie together.
                let first = cook.together.filter(|first| *first != cook.id);
                let shared = first.map(|first| load_filed(c, actor.kitchen, first)).transpose()?.flatten();
                let bath = match shared {
                    Some(first) => Some(first.bag.bath),
                    None => vessel_s_bath(c, actor, &cook, now)?,
                };
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
            let subject = record.subject(&event.kind);
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
                by: actor.by.clone(),
                kind: event.kind,
            };
            let state = match judge(&record, &event) {
                Ok(state) => state,
                Err(refusal) => return Ok(Err(refusal)),
            };
            let may_be_another = matches!(event.kind, EventKind::Undone { .. });
            insert_event(c, actor.kitchen, cook, &EventRecord { subject, event }, None)?;
            phase::keep(c, cook, &state)?;
            if may_be_another {
                keep_food(c, actor.kitchen, cook)?;
            }
            Ok(Ok(()))
        })
        .await
    }

    /// The cooks that were begun together with one, itself too; none for one by itself.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn together(&self, first: Uuid) -> Result<Vec<CookRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut ids = c.prepare_cached(
                "SELECT id FROM cook WHERE kitchen_id = ?1 AND together = ?2 ORDER BY created_at, id",
            )?;
            let ids: Vec<Uuid> =
                ids.query_map((actor.kitchen, first), |r| r.get(0))?.collect::<Result<_, _>>()?;
            ids.into_iter().filter_map(|id| load(c, actor.kitchen, id).transpose()).collect()
        })
        .await
    }

    /// Plans a cook anew, or corrects what its piece is: the plan's snapshot and the event that names it, in one
    /// transaction. The same one again changes nothing.
    ///
    /// `judge` says where the cook stands after it, or refuses; its refusal is handed back.
    ///
    /// # Errors
    /// When the cook is not there, the identifier is another event's, or the database fails.
    pub async fn replan<E: Send + 'static>(
        &self,
        cook: Uuid,
        new: NewPlan,
        now: Timestamp,
        judge: impl FnOnce(&CookRecord, &Event, &PlanRecord) -> Result<CookState, E> + Send + 'static,
    ) -> Result<Result<(), E>, StoreError> {
        self.writing(move |c, actor| {
            let record = load_filed(c, actor.kitchen, cook)?.ok_or(StoreError::NotFound)?;
            if record.events.iter().any(|e| e.event.id == new.id) {
                return Ok(Ok(()));
            }
            if exists(c, "event", new.id)? {
                return Err(StoreError::Conflict(format!("the event {} is another cook’s", new.id)));
            }
            let piece = record.piece.id;
            let plan = snapshot(new.typed, new.request, &new.plan, now)?;
            let kind = if new.corrects {
                EventKind::PieceCorrected { plan: plan.id }
            } else {
                EventKind::Replanned { plan: plan.id, of: record.state().piece_corrected().map(|c| c.0) }
            };
            let event = Event { id: new.id, happened_at: now, recorded_at: now, by: actor.by.clone(), kind };
            let state = match judge(&record, &event, &plan) {
                Ok(state) => state,
                Err(refusal) => return Ok(Err(refusal)),
            };
            insert_plan(c, actor.kitchen, piece, &plan)?;
            let subject = Subject::Piece(piece);
            insert_event(c, actor.kitchen, cook, &EventRecord { subject, event }, None)?;
            phase::keep(c, cook, &state)?;
            keep_food(c, actor.kitchen, cook)?;
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
            let mut rows = c.prepare_cached(&format!(
                "SELECT event.id, import.at, import.sha256, {COLUMNS} FROM event JOIN import ON import.id = event.import_id
                 JOIN who w ON w.id = import.who_id WHERE event.cook_id = ?1 AND event.kitchen_id = ?2"
            ))?;
            let rows = rows.query_map((cook, actor.kitchen), |r| {
                let at: At = r.get(1)?;
                Ok((r.get(0)?, Origin { at: at.0, by: told(r, 3)?, sha256: r.get(2)? }))
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
    let plan = snapshot(cook.typed, cook.request.clone(), &cook.plan, now)?;
    let by = actor.by.clone();
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
        together: cook.together,
        piece: PieceRecord { id: piece, created_at: now, plans: vec![plan] },
        bag: BagRecord { id: bag, bath, letter: cook.letter },
        baths,
        events: vec![EventRecord { subject: Subject::Cook, event: started }],
    })
}

/// A plan as it is kept.
fn snapshot(
    typed: PlanForm,
    request: PlanRequest,
    plan: &Plan,
    now: Timestamp,
) -> Result<PlanRecord, StoreError> {
    Ok(PlanRecord {
        id: new_id(now),
        created_at: now,
        engine: plan.engine.clone(),
        data: plan.data.clone(),
        typed,
        result: serde_json::to_value(plan).map_err(|e| StoreError::Record(format!("plan: {e}")))?,
        request,
    })
}

/// Keeps beside a cook of which food it is: a correction, or its undoing, may have made it another.
fn keep_food(c: &Connection, kitchen: Uuid, cook: Uuid) -> Result<(), StoreError> {
    let record = load_filed(c, kitchen, cook)?;
    if let Some(plan) = record.as_ref().and_then(CookRecord::plan_record) {
        c.execute("UPDATE cook SET food = ?2 WHERE id = ?1", (cook, &plan.request.food().id))?;
    }
    Ok(())
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
        "INSERT INTO cook (id, kitchen_id, title, created_at, who_id, import_id, standing, food, together)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, 'under-way', ?7, ?8) ON CONFLICT (id) DO NOTHING",
        (cook.id, k, &cook.title, At(cook.created_at), actor.who(c)?, import, food, cook.together),
    )?;
    let piece = &cook.piece;
    written += c.execute(
        "INSERT INTO piece (id, kitchen_id, cook_id, position, created_at) VALUES (?1, ?2, ?3, 0, ?4) ON CONFLICT (id) DO NOTHING",
        (piece.id, k, cook.id, At(piece.created_at)),
    )?;
    for plan in &piece.plans {
        written += insert_plan(c, k, piece.id, plan)?;
    }
    for record in &cook.baths {
        written += bath::insert(c, k, record)?;
    }
    written += c.execute(
        "INSERT INTO bag (id, kitchen_id, cook_id, position, bath_id, letter) VALUES (?1, ?2, ?3, 0, ?4, ?5) ON CONFLICT (id) DO NOTHING",
        (cook.bag.id, k, cook.id, cook.bag.bath, &cook.bag.letter),
    )?;
    written += c.execute(
        "INSERT INTO bag_piece (bag_id, piece_id) VALUES (?1, ?2) ON CONFLICT DO NOTHING",
        (cook.bag.id, piece.id),
    )?;
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

fn insert_event(
    c: &Connection,
    kitchen: Uuid,
    cook: Uuid,
    record: &EventRecord,
    import: Option<Uuid>,
) -> Result<usize, StoreError> {
    let e = &record.event;
    Ok(c.execute(
        "INSERT INTO event (id, kitchen_id, cook_id, subject, subject_id, happened_at, recorded_at, who_id, body, import_id)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10) ON CONFLICT (id) DO NOTHING",
        (
            e.id,
            kitchen,
            cook,
            record.subject.kind(),
            record.subject.id(),
            At(e.happened_at),
            At(e.recorded_at),
            who(c, kitchen, &e.by)?,
            to_json(&e.kind, "event")?,
            import,
        ),
    )?)
}

pub(crate) fn load(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    load_so_far(c, kitchen, id, Detail::Judged)
}

/// A cook of a list: a bath that several of them lie in is read once.
pub(crate) fn load_among(
    c: &Connection,
    kitchen: Uuid,
    id: Uuid,
    read: &mut HashMap<Uuid, BathRecord>,
) -> Result<Option<CookRecord>, StoreError> {
    let Some(mut cook) = load_alone(c, kitchen, id, Detail::Judged)? else { return Ok(None) };
    for bath in cook.named_baths() {
        let record = match read.entry(bath) {
            Entry::Occupied(known) => known.into_mut(),
            Entry::Vacant(new) => new.insert(bath::load(c, bath, Detail::Judged)?),
        };
        cook.baths.push(record.clone());
    }
    Ok(Some(cook))
}

/// A cook with every reading of its baths.
pub(crate) fn load_whole(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    load_so_far(c, kitchen, id, Detail::Whole)
}

/// A cook with its plans and without its baths: as it goes into a file.
pub(crate) fn load_filed(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Option<CookRecord>, StoreError> {
    load_alone(c, kitchen, id, Detail::Water)
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
    let Some(mut cook) = load_alone(c, kitchen, id, detail)? else { return Ok(None) };
    let baths = cook.named_baths().into_iter().map(|bath| bath::load(c, bath, detail));
    cook.baths = baths.collect::<Result<_, _>>()?;
    Ok(Some(cook))
}

fn load_alone(
    c: &Connection,
    kitchen: Uuid,
    id: Uuid,
    detail: Detail,
) -> Result<Option<CookRecord>, StoreError> {
    let mut head =
        c.prepare_cached("SELECT title, created_at, together FROM cook WHERE id = ?1 AND kitchen_id = ?2")?;
    let head: Option<(String, At, Option<Uuid>)> =
        head.query_row((id, kitchen), |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?))).optional()?;
    let Some((title, created_at, together)) = head else { return Ok(None) };
    Ok(Some(CookRecord {
        id,
        created_at: created_at.0,
        title,
        together,
        piece: load_piece(c, id, detail)?,
        bag: load_bag(c, id)?,
        baths: Vec::new(),
        events: load_events(c, id)?,
    }))
}

fn load_piece(c: &Connection, cook: Uuid, detail: Detail) -> Result<PieceRecord, StoreError> {
    let mut piece = c.prepare_cached("SELECT id, created_at FROM piece WHERE cook_id = ?1")?;
    let (id, created_at): (Uuid, At) = piece.query_row([cook], |r| Ok((r.get(0)?, r.get(1)?)))?;
    let mut piece = PieceRecord { id, created_at: created_at.0, plans: Vec::new() };
    if detail == Detail::Outline {
        return Ok(piece);
    }
    let mut plans = c.prepare_cached(
        "SELECT id, created_at, engine, data, typed, request, result FROM plan WHERE piece_id = ?1 ORDER BY seq",
    )?;
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
    piece.plans = rows.into_iter().map(read).collect::<Result<_, StoreError>>()?;
    Ok(piece)
}

fn load_bag(c: &Connection, cook: Uuid) -> Result<BagRecord, StoreError> {
    let mut bag = c.prepare_cached("SELECT id, bath_id, letter FROM bag WHERE cook_id = ?1")?;
    Ok(bag.query_row([cook], |r| Ok(BagRecord { id: r.get(0)?, bath: r.get(1)?, letter: r.get(2)? }))?)
}

pub(crate) fn load_events(c: &Connection, cook: Uuid) -> Result<Vec<EventRecord>, StoreError> {
    let mut events = c.prepare_cached(&format!(
        "SELECT e.id, e.subject, e.subject_id, e.happened_at, e.recorded_at, e.body, {COLUMNS}
         FROM event e JOIN who w ON w.id = e.who_id WHERE e.cook_id = ?1 ORDER BY e.seq"
    ))?;
    type Row = (Uuid, String, Option<Uuid>, At, At, String, By);
    let rows: Vec<Row> = events
        .query_map([cook], |r| {
            Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?, r.get(5)?, told(r, 6)?))
        })?
        .collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(id, subject, subject_id, happened_at, recorded_at, body, by)| {
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
