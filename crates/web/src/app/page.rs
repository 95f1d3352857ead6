//! The frame around every page: navigation, units, the next thing the hands must do.

use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderName};
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use hold_steady_core::board::{ToDo, to_do};
use hold_steady_core::book::CookRecord;
use hold_steady_core::cook::{Live, live_here};
use hold_steady_core::units::Units;
use hold_steady_core::words;
use hold_steady_store::{CookPhase, Unreadable};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use std::collections::HashMap;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;
use uuid::Uuid;

use super::{AppState, PageError, assets, bounded, reader_units};

/// Where in the cook's work a page stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Place {
    /// Choosing temperature and time.
    Plan,
    /// The water: vessels, filling, readings.
    Bath,
    /// While it is in the bath.
    Cook,
    /// The sear.
    Finish,
    /// Afterwards.
    Book,
    /// Beside the work: how the numbers are known.
    Know,
    /// Beside the work: the foods.
    Foods,
    /// Beside the work: what the kitchen has settled.
    Kitchen,
}

/// The next thing the hands must do in this kitchen.
#[derive(Debug, Clone)]
pub struct NextStep {
    /// What.
    pub what: String,
    /// Which cook.
    pub title: String,
    /// Its page.
    pub href: String,
    /// When, on the clock and in milliseconds for the countdown; without, it waits for the cook.
    pub at: Option<(String, i64)>,
    /// That is when it must be done by, not when it is due.
    pub by: bool,
    /// What is wrong with its water.
    pub fault: Option<String>,
}

/// What the layout shows.
#[derive(Debug, Clone)]
pub struct Shell {
    /// Title of the page.
    pub title: String,
    /// Place in the navigation.
    pub place: Place,
    /// Name of the kitchen.
    pub kitchen: String,
    /// The reader's units.
    pub units: Units,
    /// Mark of the shipped files.
    pub version: &'static str,
    /// What the scripts say.
    pub words: &'static str,
    /// The next step, when something is under way.
    pub next: Option<NextStep>,
    /// The time now, milliseconds.
    pub now_ms: i64,
    /// How fast it runs.
    pub rate: f64,
    /// The kitchen's time zone.
    pub zone: String,
    /// Whether this is the demonstration.
    pub demo: bool,
}

impl Shell {
    pub async fn new(
        state: &AppState,
        request: &HttpRequest,
        place: Place,
        title: impl Into<String>,
    ) -> Result<Self, PageError> {
        let under_way = running(state, state.clock.now()).await?;
        Ok(Self::over(state, request, (place, title.into()), &under_way.0))
    }

    /// The same, where the cooks under way were looked at already.
    pub fn over(
        state: &AppState,
        request: &HttpRequest,
        (place, title): (Place, String),
        running: &[Running],
    ) -> Self {
        let now = state.clock.now();
        Self {
            title,
            place,
            kitchen: state.kitchen().name.clone(),
            units: reader_units(request),
            version: assets::version(),
            words: super::words::words(),
            next: NextStep::of(running, reader_units(request), now, &state.kitchen().zone),
            now_ms: now.as_millisecond(),
            rate: state.clock.rate(),
            zone: state.kitchen().zone.iana_name().unwrap_or_default().to_owned(),
            demo: state.demo,
        }
    }

    /// Code of the other units: °F and inches go together, °C and millimetres too. From a kitchen that mixes them the
    /// switch leads to the metric ones first.
    pub fn other_units(&self) -> &'static str {
        if self.units.code() == "c-mm" { "f-in" } else { "c-mm" }
    }

    pub fn celsius(&self) -> bool {
        self.units.temperature_symbol() == "°C"
    }

    pub fn millimetres(&self) -> bool {
        self.units.length_symbol() == "mm"
    }
}

/// A running cook and where it stands.
#[derive(Debug, Clone)]
pub struct Running {
    pub record: CookRecord,
    pub live: Live,
}

/// The cooks that are under way, the one with the next step first, and those that cannot be shown: one that
/// cannot takes no other with it.
///
/// Every page asks, and with readings coming in every second for twenty bags they would do little else than load them:
/// what was loaded a few seconds ago is handed out again, unless something besides readings was written down since.
pub async fn running(state: &AppState, now: Timestamp) -> Result<Arc<UnderWay>, PageError> {
    state.lately.asked.store(true, Ordering::Relaxed);
    match state.lately.all(state.hub.written(), now) {
        Some(all) => Ok(all),
        None => look_up_all(state, now, false).await,
    }
}

async fn look_up_all(state: &AppState, now: Timestamp, anew: bool) -> Result<Arc<UnderWay>, PageError> {
    let written = state.hub.written();
    let all = Arc::new(look_up(state, now, anew).await?);
    state.lately.keep(written, now, &all);
    Ok(all)
}

/// Looks again and again where the cooks stand, beside the pages and while any is asked for: none waits for it. What
/// readings changed is told once it is known.
pub async fn keep_looking(state: actix_web::web::Data<AppState>) {
    const AGAIN: Duration = Duration::from_secs(3);
    let mut known = 0;
    loop {
        actix_web::rt::time::sleep(AGAIN).await;
        if !state.lately.asked.swap(false, Ordering::Relaxed) {
            continue;
        }
        let readings = state.hub.readings();
        match look_up_all(&state, state.clock.now(), true).await {
            Ok(_) if readings != known => {
                known = readings;
                state.hub.looked_up();
            }
            Ok(_) => {}
            Err(e) => tracing::debug!(error = %e, "where the cooks stand could not be looked up"),
        }
    }
}

/// The cooks that are under way, and those that cannot be shown.
pub type UnderWay = (Vec<Running>, Vec<Unreadable>);

async fn look_up(state: &AppState, now: Timestamp, anew: bool) -> Result<UnderWay, PageError> {
    let under_way = (0, usize::MAX);
    let (records, _, mut unreadable) = state.here().cooks_that(CookPhase::UnderWay, under_way).await?;
    let mut all = Vec::new();
    // All of them together cost no more than one question may.
    let computed = bounded(|| {
        records
            .into_iter()
            .map(|record| {
                let zone = &state.kitchen().zone;
                let live = state.lately.of(&record, (now, anew), || stands_now(&record, (now, zone)));
                (record, live)
            })
            .collect::<Vec<_>>()
    });
    for (record, live) in computed {
        match live {
            Ok(live) => all.push(Running { record, live }),
            Err(e) => unreadable.push(Unreadable { id: record.id.to_string(), reason: e.to_string() }),
        }
    }
    // A step without a time can wait; one that is due cannot.
    all.sort_by_key(|r| (r.live.next_at.is_none(), r.live.next_at, r.record.id));
    Ok((all, unreadable))
}

/// Where cooks stood a few seconds ago, for the lists: a page on which twenty of them stand in one line each need not
/// simulate twenty. A cook's own page always does.
#[derive(Debug, Default)]
pub struct Lately {
    each: Mutex<HashMap<Uuid, Stood>>,
    /// All of them, by how often something had been written down, and when that was.
    all: Mutex<Option<(u64, Timestamp, Arc<UnderWay>)>>,
    /// Somebody asked since they were last looked up.
    asked: AtomicBool,
}

#[derive(Debug)]
struct Stood {
    /// What it was worked out from: one more event, and it is worked out again.
    events: usize,
    at: Timestamp,
    live: Live,
}

/// Half as often as a cook's own page asks.
const LATELY_S: f64 = 4.0;

impl Lately {
    fn all(&self, written: u64, now: Timestamp) -> Option<Arc<UnderWay>> {
        let all = self.all.lock().unwrap_or_else(PoisonError::into_inner);
        let (then, at, all) = all.as_ref()?;
        // A little longer than it takes until they are looked up again.
        let lately = now.duration_since(*at).as_secs_f64().abs() < 2.0 * LATELY_S;
        (*then == written && lately).then(|| all.clone())
    }

    fn keep(&self, written: u64, now: Timestamp, all: &Arc<UnderWay>) {
        *self.all.lock().unwrap_or_else(PoisonError::into_inner) = Some((written, now, all.clone()));
    }

    fn of(
        &self,
        record: &CookRecord,
        (now, anew): (Timestamp, bool),
        compute: impl FnOnce() -> Result<Live, PageError>,
    ) -> Result<Live, PageError> {
        // Not its readings: one comes every second, and where a bath stands is looked up every time.
        let water = record.baths.iter().map(|b| b.water.len() + b.settings.len());
        let events = record.events.len() + water.sum::<usize>();
        let known =
            |s: &&Stood| s.events == events && now.duration_since(s.at).as_secs_f64().abs() < LATELY_S;
        let lately = || self.each.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(stood) = lately().get(&record.id).filter(known).filter(|_| !anew) {
            return Ok(stood.live.clone());
        }
        let live = compute()?;
        let mut all = lately();
        // What ended is of no use any more.
        all.retain(|_, s| now.duration_since(s.at).as_secs_f64().abs() < LATELY_S);
        all.insert(record.id, Stood { events, at: now, live: live.clone() });
        Ok(live)
    }
}

fn stands_now(record: &CookRecord, here: (Timestamp, &TimeZone)) -> Result<Live, PageError> {
    let plan_record = record.plan_record().ok_or(PageError::NoSuchCook)?;
    let plan = plan_record.plan()?;
    let stands = record.state();
    Ok(live_here(&plan_record.request, &plan, &stands, &record.water(&stands), here)?)
}

impl NextStep {
    /// The first thing the hands must do.
    fn of(running: &[Running], units: Units, now: Timestamp, zone: &TimeZone) -> Option<Self> {
        let (what, i, at) = to_do(running.iter().map(|r| &r.live)).into_iter().next()?;
        let Running { record, live } = &running[i];
        let clock = |t: Timestamp| near_time(t, now, zone);
        let next = what == ToDo::Next;
        Some(Self {
            what: words::to_do(what, live, units, &clock),
            by: next && words::is_deadline(&live.next),
            fault: live.fault.filter(|_| next).map(|f| words::short_fault(&f, units, &clock)),
            title: record.title_in(units),
            href: format!("/cook/{}", record.id),
            at: at.map(|t| (near_time(t, now, zone), t.as_millisecond())),
        })
    }
}

/// `19:30` in the kitchen's zone.
pub fn clock_time(t: Timestamp, zone: &TimeZone) -> String {
    t.to_zoned(zone.clone()).strftime("%H:%M").to_string()
}

/// `19:30` for today, `Thu 19:30` for another day near it: a bare time of another day would mislead.
pub fn near_time(t: Timestamp, now: Timestamp, zone: &TimeZone) -> String {
    let (then, today) = (t.to_zoned(zone.clone()), now.to_zoned(zone.clone()).date());
    let format = if then.date() == today { "%H:%M" } else { "%a %H:%M" };
    then.strftime(format).to_string()
}

/// `Wed 25 Nov, 19:30` in the kitchen's zone.
pub fn day_and_time(t: Timestamp, zone: &TimeZone) -> String {
    t.to_zoned(zone.clone()).strftime("%a %-d %b, %H:%M").to_string()
}

/// Renders a page that is never kept by the browser: it would be out of date.
pub fn html(page: &impl Template) -> Result<HttpResponse, PageError> {
    Ok(HttpResponse::Ok()
        .content_type("text/html; charset=utf-8")
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .body(page.render()?))
}

/// The same, with the status of a form that was refused where it was.
pub fn html_for(page: &impl Template, refused: bool) -> Result<HttpResponse, PageError> {
    let mut answer = html(page)?;
    if refused {
        *answer.status_mut() = StatusCode::UNPROCESSABLE_ENTITY;
    }
    Ok(answer)
}

/// A fragment, at the address under which reload and the back button find it again.
pub fn at_address(mut fragment: HttpResponse, address: &str) -> Result<HttpResponse, PageError> {
    let value = address.parse().map_err(|_| PageError::Request("unprintable text".into()))?;
    fragment.headers_mut().insert(HeaderName::from_static("hx-replace-url"), value);
    Ok(fragment)
}

/// Sends the browser to another page, with GET.
pub fn see_other(to: &str) -> HttpResponse {
    HttpResponse::SeeOther().insert_header((header::LOCATION, to)).finish()
}
