//! Where cooks and baths stood a moment ago: worked out once for all who look, off the threads that serve.

use hold_steady_core::units::WallClock;
use std::collections::HashMap;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use actix_web::web;
use hold_steady_core::bath::usual_taps;
use hold_steady_core::board::{Board, OnBoard, board};
use hold_steady_core::book::{CookRecord, usual_air};
use hold_steady_core::cook::{Live, live_here};
use hold_steady_store::{CookPhase, Unreadable};
use jiff::Timestamp;
use uuid::Uuid;

use super::{AppState, PageError, bounded};

/// A running cook and where it stands.
#[derive(Debug, Clone)]
pub struct Running {
    pub record: CookRecord,
    pub live: Live,
}

/// The cooks that are under way, and those that cannot be shown.
pub type UnderWay = (Vec<Running>, Vec<Unreadable>);

/// The board, and what cannot be shown on it.
pub type OnIt = (Board, Vec<Unreadable>);

/// Where cooks and baths stood a few seconds ago, for the lists: a page on which twenty of them stand in one line each need
/// not simulate twenty. A cook's own page always does.
#[derive(Debug, Default)]
pub struct Lately {
    each: Mutex<HashMap<Uuid, Stood>>,
    /// All of them, by how often something had been written down, and when that was.
    all: Mutex<Option<(u64, Timestamp, Arc<UnderWay>)>>,
    board: Mutex<Option<Drawn>>,
    /// Whoever finds nothing to be handed out works it out, one at a time: those who come meanwhile take what comes of it.
    looking: tokio::sync::Mutex<()>,
    drawing: tokio::sync::Mutex<()>,
    /// Somebody asked since they were last looked up; and for the board.
    asked: AtomicBool,
    board_asked: AtomicBool,
    /// The board is drawn anew beside those who look.
    redrawing: AtomicBool,
}

#[derive(Debug)]
struct Stood {
    /// What it was worked out from: one more event, and it is worked out again.
    events: usize,
    at: Timestamp,
    live: Live,
}

#[derive(Debug, Clone)]
struct Drawn {
    /// How often something had been written down, and how often readings had come.
    of: (u64, u64),
    at: Timestamp,
    drawn: Instant,
    board: Arc<OnIt>,
}

/// Half as often as a cook's own page asks.
const LATELY_S: f64 = 4.0;

/// How often all is worked out again while anybody looks; what was worked out serves meanwhile, whatever readings come. (What
/// is written down by hand is seen at once.)
const AGAIN: Duration = Duration::from_secs(3);

fn within(now: Timestamp, at: Timestamp, seconds: f64) -> bool {
    now.duration_since(at).as_secs_f64().abs() < seconds
}

impl Lately {
    fn all(&self, written: u64, now: Timestamp) -> Option<Arc<UnderWay>> {
        let all = self.all.lock().unwrap_or_else(PoisonError::into_inner);
        let (then, at, all) = all.as_ref()?;
        // A little longer than it takes until they are looked up again.
        (*then == written && within(now, *at, 2.0 * LATELY_S)).then(|| all.clone())
    }

    fn keep(&self, written: u64, now: Timestamp, all: &Arc<UnderWay>) {
        *self.all.lock().unwrap_or_else(PoisonError::into_inner) = Some((written, now, all.clone()));
    }

    fn drawn(&self, of: (u64, u64), now: Timestamp) -> Option<Arc<OnIt>> {
        let drawn = self.board.lock().unwrap_or_else(PoisonError::into_inner);
        let last = drawn.as_ref().filter(|d| d.of.0 == of.0 && within(now, d.at, LATELY_S))?;
        // A little longer than it takes until it is drawn again.
        (last.of == of || last.drawn.elapsed() < AGAIN + Duration::from_millis(500))
            .then(|| last.board.clone())
    }

    /// The last board that was drawn, whatever was written down since, while it is no older than a board may be.
    fn last_drawn(&self, now: Timestamp) -> Option<Arc<OnIt>> {
        let drawn = self.board.lock().unwrap_or_else(PoisonError::into_inner);
        drawn.as_ref().filter(|d| within(now, d.at, LATELY_S)).map(|d| d.board.clone())
    }

    fn of(
        &self,
        record: &CookRecord,
        (now, look): (Timestamp, Look),
        compute: impl FnOnce() -> Result<Live, PageError>,
    ) -> Result<Live, PageError> {
        // Not its readings: one comes every second, and where a bath stands is looked up every time.
        let water = record.baths.iter().map(|b| b.water.len() + b.settings.len());
        let events = record.events.len() + water.sum::<usize>();
        let known = |s: &&Stood| s.events == events && within(now, s.at, LATELY_S);
        let lately = || self.each.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(stood) = lately().get(&record.id).filter(known).filter(|_| look == Look::Lately) {
            return Ok(stood.live.clone());
        }
        let live = compute()?;
        let mut all = lately();
        // What ended is of no use any more.
        all.retain(|_, s| within(now, s.at, LATELY_S));
        all.insert(record.id, Stood { events, at: now, live: live.clone() });
        Ok(live)
    }
}

/// Whether what was looked up a few seconds ago will do.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Look {
    Lately,
    Anew,
}

/// The cooks that are under way, the one with the next step first, and those that cannot be shown: one that
/// cannot takes no other with it.
///
/// Every page asks, and with readings coming in every second for twenty bags they would do little else than load them:
/// what was loaded a few seconds ago is handed out again, unless something besides readings was written down since.
pub async fn running(state: &AppState, now: Timestamp) -> Result<Arc<UnderWay>, PageError> {
    state.lately.asked.store(true, Ordering::Relaxed);
    if let Some(all) = state.lately.all(state.hub.written(), now) {
        return Ok(all);
    }
    let _alone = state.lately.looking.lock().await;
    match state.lately.all(state.hub.written(), now) {
        Some(all) => Ok(all),
        None => look_up_all(state, now, Look::Lately).await,
    }
}

async fn look_up_all(state: &AppState, now: Timestamp, look: Look) -> Result<Arc<UnderWay>, PageError> {
    let written = state.hub.written();
    let all = Arc::new(look_up(state, now, look).await?);
    state.lately.keep(written, now, &all);
    Ok(all)
}

/// Looks again and again where the cooks stand, beside the pages and while any is asked for: none waits for it. What
/// readings changed is told once it is known.
pub async fn keep_looking(state: web::Data<AppState>) {
    let mut known = 0;
    loop {
        actix_web::rt::time::sleep(AGAIN).await;
        let board = state.lately.board_asked.swap(false, Ordering::Relaxed);
        if !state.lately.asked.swap(false, Ordering::Relaxed) && !board {
            continue;
        }
        let readings = state.hub.readings();
        match look_again(&state, board).await {
            Ok(()) if readings != known => {
                known = readings;
                state.hub.looked_up();
            }
            Ok(()) => {}
            Err(e) => tracing::debug!(error = %e, "where the cooks stand could not be looked up"),
        }
    }
}

async fn look_again(state: &AppState, board: bool) -> Result<(), PageError> {
    {
        let _alone = state.lately.looking.lock().await;
        look_up_all(state, state.clock.now(), Look::Anew).await?;
    }
    if board {
        let _alone = state.lately.drawing.lock().await;
        draw(state, state.clock.now()).await?;
    }
    Ok(())
}

async fn look_up(state: &AppState, now: Timestamp, look: Look) -> Result<UnderWay, PageError> {
    let under_way = (0, usize::MAX);
    let (records, _, mut unreadable) = state.ours().cooks_that(CookPhase::UnderWay, under_way).await?;
    let (lately, zone) = (state.lately.clone(), state.kitchen().wall());
    // All of them together cost no more than one question may.
    let computed = web::block(move || {
        bounded(|| {
            let stood = |record: CookRecord| {
                let live = lately.of(&record, (now, look), || stands_now(&record, (now, &zone)));
                (record, live.map_err(|e| e.to_string()))
            };
            records.into_iter().map(stood).collect::<Vec<_>>()
        })
    });
    let mut all = Vec::new();
    for (record, live) in computed.await.map_err(|_| PageError::Interrupted)? {
        match live {
            Ok(live) => all.push(Running { record, live }),
            Err(reason) => unreadable.push(Unreadable { id: record.id.to_string(), reason }),
        }
    }
    // A step without a time can wait; one that is due cannot.
    all.sort_by_key(|r| (r.live.next_at.is_none(), r.live.next_at, r.record.id));
    Ok((all, unreadable))
}

fn stands_now(record: &CookRecord, here: (Timestamp, &WallClock)) -> Result<Live, PageError> {
    let plan_record = record.plan_record().ok_or(PageError::NoSuchCook)?;
    let plan = plan_record.plan()?;
    let stands = record.state();
    Ok(live_here(&plan_record.request, &plan, &stands, &record.water(&stands), (here.0, here.1))?)
}

/// The board as it stands, and what cannot be read. However many look at it, it is worked out once.
pub async fn on_board(state: &AppState) -> Result<Arc<OnIt>, PageError> {
    let now = state.clock.now();
    let of = || (state.hub.written(), state.hub.readings());
    state.lately.board_asked.store(true, Ordering::Relaxed);
    if let Some(drawn) = state.lately.drawn(of(), now) {
        return Ok(drawn);
    }
    let _alone = state.lately.drawing.lock().await;
    match state.lately.drawn(of(), now) {
        Some(drawn) => Ok(drawn),
        None => draw(state, now).await,
    }
}

/// The board for whoever looks on and is told once it changed: what was drawn last serves while it is drawn anew, so that no
/// tap elsewhere makes a wall wait.
pub async fn on_board_lately(state: &web::Data<AppState>) -> Result<Arc<OnIt>, PageError> {
    let now = state.clock.now();
    state.lately.board_asked.store(true, Ordering::Relaxed);
    let of = (state.hub.written(), state.hub.readings());
    if let Some(drawn) = state.lately.drawn(of, now) {
        return Ok(drawn);
    }
    let Some(last) = state.lately.last_drawn(now) else { return on_board(state).await };
    let state = state.clone();
    // One at a time; those who come meanwhile are told by it.
    if !state.lately.redrawing.swap(true, Ordering::AcqRel) {
        actix_web::rt::spawn(async move {
            let drawn = on_board(&state).await;
            state.lately.redrawing.store(false, Ordering::Release);
            match drawn {
                Ok(_) => state.hub.looked_up(),
                Err(e) => tracing::debug!(error = %e, "the board could not be drawn"),
            }
        });
    }
    Ok(last)
}

async fn draw(state: &AppState, now: Timestamp) -> Result<Arc<OnIt>, PageError> {
    let of = (state.hub.written(), state.hub.readings());
    let cooks = running(state, now).await?;
    let known = cooks.0.iter().flat_map(|r| &r.record.baths).map(|b| (b.id, b.clone())).collect();
    let baths = state.ours().running_baths_among(known).await?;
    let air = usual_air(state.kitchen().rules.altitude_m);
    let drawn = web::block(move || {
        let (running, unreadable) = (*cooks).clone();
        let bags = running.into_iter().map(|r| OnBoard { record: r.record, live: r.live }).collect();
        Arc::new((board(&baths, bags, air, usual_taps(), now), unreadable))
    });
    let board = drawn.await.map_err(|_| PageError::Interrupted)?;
    let drawn = Drawn { of, at: now, drawn: Instant::now(), board: board.clone() };
    *state.lately.board.lock().unwrap_or_else(PoisonError::into_inner) = Some(drawn);
    Ok(board)
}
