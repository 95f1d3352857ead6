//! The cook page: large clocks, the next step, and what has happened.

mod anew;
mod asked;
mod calendar;
mod live_view;
mod logged;
mod print;
mod seen;
mod view;

pub use logged::LogLine;
pub use seen::came_otherwise;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::board::running_well;
use hold_steady_core::book::{CookRecord, derived_id};
use hold_steady_core::cook::{Covered, EventKind, Kept, KeptIn, Purpose, Rating, Refusal, Stage};
use hold_steady_core::keep::StorageKind;
use hold_steady_core::plan::resolve_past;
use hold_steady_core::units::{
    Celsius, Minutes, Units, capitalised, parse_minutes, parse_seconds, parse_temperature, shortened,
};
use hold_steady_store::{NewEvent, new_id};
use jiff::Timestamp;
use live_view::LiveView;
use print::PrintView;
use seen::Seen;
use serde::Deserialize;
use uuid::Uuid;
use view::{CookView, Typed};

use crate::app::{
    self, AppState, Here, PageError, Place, Shell, bounded, clock_time, html, html_for, reader_units,
    resource, see_other, tapped_at,
};
use crate::bath::Off;
use crate::words::cook as says;

pub fn configure(config: &mut web::ServiceConfig) {
    anew::configure(config);
    config
        .service(resource("/cook/{id}").route(app::get(page)))
        .service(resource("/cook/{id}/live").route(app::get(live_fragment)))
        .service(resource("/cook/{id}/print").route(app::get(print)))
        .service(resource("/cook/{id}/steps.ics").route(app::get(steps_ics)))
        .service(resource("/guide").route(web::post().to(guide)))
        .service(resource("/cook/{id}/event").route(web::post().to(add_event)).route(app::get(back)))
        .service(resource("/cook/{id}/rating").route(web::post().to(add_rating)).route(app::get(back)));
}

#[derive(Template)]
#[template(path = "cook/page.html")]
struct CookPage {
    shell: Shell,
    cook: CookView,
    live: LiveView,
}

#[derive(Template)]
#[template(path = "cook/again.html")]
struct LiveFragment {
    live: LiveView,
}

#[derive(Template)]
#[template(path = "cook/gone.html")]
struct GonePage {
    shell: Shell,
    title: String,
    id: Uuid,
}

/// The cook an address names.
pub fn parse_id(text: &str) -> Result<Uuid, PageError> {
    text.parse().map_err(|_| PageError::NoSuchCook)
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
) -> Result<HttpResponse, PageError> {
    show(&state, &request, parse_id(&id)?, Typed::default()).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    id: Uuid,
    typed: Typed,
) -> Result<HttpResponse, PageError> {
    let record = Here::of(request)?.cook(id).await?;
    let title = record.title_in(reader_units(request));
    let shell = Shell::new(state, request, Place::Cook, title).await?;
    if record.state().deleted {
        let mut gone = html(&GonePage { shell, title: record.title, id })?;
        *gone.status_mut() = StatusCode::GONE;
        return Ok(gone);
    }
    let refused = typed.problem.is_some() || typed.off.is_some();
    let served = record.plan_record().and_then(|p| p.request.served_to.as_ref()).map(|s| s.guest);
    let guest = match served {
        Some(guest) => Here::of(request)?.guest(guest).await?,
        None => None,
    };
    let storages = match record.state().stage() {
        Stage::Chilled => Here::of(request)?.storages(state.clock.now()).await?,
        _ => Vec::new(),
    };
    let storages = storages.into_iter().map(|s| s.storage).filter(|s| s.kind.keeps()).collect();
    let typed = Typed { guest, storages, ..typed };
    let origins = Here::of(request)?.origins(id).await?;
    let zone = state.kitchen().wall();
    let seen = bounded(|| Seen::of(&record, (state.clock.now(), &zone)))?;
    let others = other_baths(state, &seen, &Here::of(request)?).await?;
    let (live, cook) = bounded(|| {
        let live = LiveView::new(state, request, &seen, &others)?;
        Ok::<_, PageError>((live, CookView::new(state, request, &seen, &origins, typed)?))
    })?;
    html_for(&CookPage { shell, cook, live }, refused)
}

/// The other baths that run, by name and as warm as they are taken to be; asked only where a piece is in trouble.
async fn other_baths(
    state: &AppState,
    seen: &Seen<'_>,
    here: &Here,
) -> Result<Vec<(String, Celsius)>, PageError> {
    if !seen.is_troubled() {
        return Ok(Vec::new());
    }
    let baths = here.running_baths().await?;
    let own: Vec<Uuid> = seen.record.baths.iter().map(|b| b.id).collect();
    let others: Vec<_> = baths.into_iter().filter(|b| !own.contains(&b.id)).collect();
    Ok(running_well(&others, state.clock.now()))
}

/// A refused tap reloaded, or its address kept: back to the cook.
async fn back(id: web::Path<String>) -> Result<HttpResponse, PageError> {
    Ok(see_other(&format!("/cook/{}", parse_id(&id)?)))
}

async fn live_fragment(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let record = here.cook(parse_id(&id)?).await?;
    let zone = state.kitchen().wall();
    let seen = bounded(|| Seen::of(&record, (state.clock.now(), &zone)))?;
    let others = other_baths(&state, &seen, &here).await?;
    let live = bounded(|| LiveView::new(&state, &request, &seen, &others))?;
    html(&LiveFragment { live: LiveView { again: true, ..live } })
}

#[derive(Template)]
#[template(path = "cook/print.html")]
struct PrintPage {
    version: &'static str,
    print: PrintView,
}

/// One page to print.
async fn print(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let record = here.cook(parse_id(&id)?).await?;
    let zone = state.kitchen().wall();
    let print =
        bounded(|| PrintView::new(&state, &request, &Seen::of(&record, (state.clock.now(), &zone))?))?;
    html(&PrintPage { version: app::asset_version(), print })
}

/// The steps as a calendar.
async fn steps_ics(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let record = here.cook(parse_id(&id)?).await?;
    let units = reader_units(&request);
    let steps = bounded(|| {
        let zone = state.kitchen().wall();
        let s = Seen::of(&record, (state.clock.now(), &zone))?;
        Ok::<_, PageError>(s.steps(units, &zone))
    })?;
    let address = format!("{}/cook/{}", print::network_address(&state, &request).0, record.id);
    let text = calendar::calendar(&record, &steps, (state.clock.now(), units), &address);
    Ok(app::attachment("hold-steady-cook.ics", "text/calendar; charset=utf-8", text))
}

#[derive(Deserialize)]
struct Guide {
    on: bool,
    cook: Uuid,
}

/// Whether to be told what to expect.
async fn guide(form: web::Form<Guide>) -> HttpResponse {
    let mut response = see_other(&format!("/cook/{}#steps-title", form.cook));
    // A cookie of letters only: it can always be written.
    let _ = response.add_cookie(&logged::guide_cookie(form.on));
    response
}

/// A tap: what happened, and when.
#[derive(Deserialize)]
struct Tap {
    #[serde(default)]
    what: String,
    #[serde(default)]
    when: String,
    #[serde(default)]
    faces: String,
    /// How much of it was seared.
    #[serde(default)]
    covered: String,
    /// Minutes it was afloat.
    #[serde(default)]
    afloat: String,
    /// Per cent of salt.
    #[serde(default)]
    percent: String,
    /// Temperature at the core, of what is held hot.
    #[serde(default)]
    core: String,
    /// Of a bath that was off: from and until when, and what it reads.
    #[serde(default)]
    from: String,
    #[serde(default)]
    until: String,
    #[serde(default)]
    degrees: String,
    /// Where it is kept: `refrigerator`, `freezer`, or one of the kitchen's.
    #[serde(default)]
    keep_in: String,
    #[serde(default)]
    event: Option<Uuid>,
    /// The tap's own identifier, chosen by the page: sent again, it is the same tap.
    tap: Option<Uuid>,
    /// An answer to what was asked: which, and an exact instant, microseconds.
    #[serde(default)]
    answer: String,
    /// How many seconds ago it was tapped, of one that waited in the page while this machine could not be reached.
    /// Not when: this machine's clock may have been set since.
    #[serde(default)]
    tapped_ago: String,
}

async fn add_event(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    tap: web::Form<Tap>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let id = parse_id(&id)?;
    let tap = tap.into_inner();
    let now = state.heed_clock().await?;
    let typed = |problem: String| Typed {
        problem: Some(problem),
        about: tap.event,
        when: tap.when.clone(),
        faces: tap.faces.clone(),
        core: tap.core.clone(),
        ..Typed::default()
    };
    let at = (&state, &request);
    let done = match tap.what.as_str() {
        "back-in" => put_back((&state, &request), id, &tap, now).await?.map_err(typed),
        "bath-off" => {
            let record = here.cook(id).await?;
            let off = tap.off();
            bath_off(at, &off, &record, now).await?.map_err(|problem| match problem {
                Some(problem) => Typed { off: Some((off, problem)), ..Typed::default() },
                None => typed(says::IN_NO_BATH.into()),
            })
        }
        _ => happened(at, id, &tap, now).await?.map_err(typed),
    };
    match (done, tap.what.as_str()) {
        (Ok(()), "deleted") => Ok(see_other("/book")),
        (Ok(()), _) => Ok(see_other(&format!("/cook/{id}"))),
        (Err(typed), _) => show(&state, &request, id, typed).await,
    }
}

/// Writes down what happened to a cook; or why it cannot have.
async fn happened(
    here: (&web::Data<AppState>, &HttpRequest),
    id: Uuid,
    tap: &Tap,
    now: Timestamp,
) -> Result<Result<(), String>, PageError> {
    let (state, request) = here;
    let kept = match tap.what.as_str() {
        "kept" => match kept_in(state, &tap.keep_in, &Here::of(request)?).await? {
            Ok(kept) => Some(kept),
            Err(problem) => return Ok(Err(problem)),
        },
        _ => None,
    };
    let (kind, at, or_at) = match understand((tap, kept), now, reader_units(request), state) {
        Ok(understood) => understood,
        Err(problem) => return Ok(Err(problem)),
    };
    let tap_id = tap.tap.unwrap_or_else(|| new_id(now));
    let doubted = match kind {
        EventKind::Corrected { event } => event,
        _ => tap_id,
    };
    let event = NewEvent { id: tap_id, happened_at: at, kind };
    if let Err(refusal) = record(request, id, event, now).await? {
        return Ok(Err(refused(&refusal, state)));
    }
    // What cannot wait is written at once; which of two times was meant is asked after it.
    if let Some(or_at) = or_at {
        let kind = EventKind::Doubted { event: doubted, or_at };
        let event = NewEvent { id: derived_id(tap_id, "doubt"), happened_at: now, kind };
        let _ = record(request, id, event, now).await?;
    }
    Ok(Ok(()))
}

/// The bath a cook lies in was off; or why that cannot be, or that it lies in none.
async fn bath_off(
    (state, request): (&web::Data<AppState>, &HttpRequest),
    off: &Off,
    record: &CookRecord,
    now: Timestamp,
) -> Result<Result<(), Option<String>>, PageError> {
    let Some(lies) = seen::lies_in(record, &record.state()) else { return Ok(Err(None)) };
    Ok(off.write(state, request, lies, now).await?.map_err(Some))
}

/// What was pulled goes back in: the pull is undone, and it was out in between.
async fn put_back(
    (state, request): (&AppState, &HttpRequest),
    cook: Uuid,
    tap: &Tap,
    now: Timestamp,
) -> Result<Result<(), String>, PageError> {
    let tap_id = tap.tap.unwrap_or_else(|| new_id(now));
    let stands = Here::of(request)?.cook(cook).await?.state();
    // Sent again, it was done before.
    if stands.undone.iter().any(|(undo, _)| *undo == tap_id) {
        return Ok(Ok(()));
    }
    let at = tapped_at(&tap.tapped_ago, now).map_err(PageError::Request)?.unwrap_or(now);
    let Some(kinds) = stands.put_back(tap_id, at) else {
        return Ok(Err(says::NOT_JUST_PULLED.into()));
    };
    for (kind, id) in kinds.into_iter().zip([tap_id, derived_id(tap_id, asked::BACK_IN)]) {
        let event = NewEvent { id, happened_at: at, kind };
        if let Err(refusal) = record(request, cook, event, now).await? {
            return Ok(Err(refused(&refusal, state)));
        }
    }
    Ok(Ok(()))
}

impl Tap {
    fn off(&self) -> Off {
        Off {
            from: self.from.clone(),
            until: self.until.clone(),
            degrees: self.degrees.clone(),
            thermometer: String::new(),
            tap: self.tap,
            tapped_ago: self.tapped_ago.clone(),
        }
    }
}

/// Where something is put away: in one of the kitchen's, or in one that is not named.
async fn kept_in(state: &AppState, text: &str, here: &Here) -> Result<Result<Kept, String>, PageError> {
    let kind = StorageKind::from_id(text).filter(|kind| kind.keeps());
    if let Some(kind) = kind {
        return Ok(Ok(Kept { storage: None, frozen: kind == StorageKind::Freezer }));
    }
    let now = state.clock.now();
    let known = here.storages(now).await?.into_iter().map(|s| s.storage);
    let found = known.filter(|s| s.kind.keeps()).find(|s| s.id.to_string() == text);
    Ok(found.map_or_else(
        || Err(says::WHICH_COLD_PLACE.into()),
        |s| {
            let frozen = s.kind == StorageKind::Freezer;
            Ok(Kept { storage: Some(KeptIn { id: s.id, name: s.name }), frozen })
        },
    ))
}

fn understand(
    (tap, kept): (&Tap, Option<Kept>),
    now: Timestamp,
    units: Units,
    state: &AppState,
) -> Result<(EventKind, Timestamp, Option<Timestamp>), String> {
    let named = || tap.event.ok_or_else(|| says::WHICH_ENTRY.to_owned());
    if let Some((what, exact)) = tap.answer.split_once(' ') {
        return answered(what, exact, named()?, now).map(|(kind, at)| (kind, at, None));
    }
    let kind = match tap.what.as_str() {
        "kept" => EventKind::Kept(kept.ok_or(says::PUT_AWAY_WHERE)?),
        "salted" => EventKind::Salted { percent: percent(&tap.percent)? },
        "bagged" => EventKind::Bagged,
        "floated" => EventKind::Floated { afloat_min: afloat(&tap.afloat)? },
        "leaked" => EventKind::Leaked,
        "dropped" => EventKind::Dropped,
        "pulled" => EventKind::Pulled,
        "dried" => EventKind::Dried,
        "seared" => EventKind::Seared { faces_s: faces(&tap.faces)?, covered: covered(&tap.covered)? },
        "eaten" => EventKind::Eaten,
        "chilled" => EventKind::Chilled,
        "discarded" => EventKind::Discarded,
        "hot-checked" => EventKind::CoreRead { celsius: core(&tap.core, units)?, purpose: Purpose::HotHold },
        "corrected" => EventKind::Corrected { event: named()? },
        "undone" => return Ok((EventKind::Undone { event: named()? }, now, None)),
        "deleted" => return Ok((EventKind::Deleted, now, None)),
        "restored" => return Ok((EventKind::Restored, now, None)),
        _ => return Err(says::NOTHING_TO_WRITE.into()),
    };
    if matches!(kind, EventKind::Corrected { .. }) && tap.when.trim().is_empty() {
        return Err(says::WHEN_REALLY.into());
    }
    if tap.when.trim().is_empty()
        && let Some(at) = tapped_at(&tap.tapped_ago, now)?
    {
        return Ok((kind, at, None));
    }
    let past = resolve_past(&tap.when, now, &state.kitchen().wall()).map_err(|e| e.to_string())?;
    let milestone = kind.milestone().is_some() || matches!(kind, EventKind::Corrected { .. });
    Ok((kind, past.at, past.or_at.filter(|_| milestone)))
}

/// An answer to what was asked.
fn answered(what: &str, exact: &str, event: Uuid, now: Timestamp) -> Result<(EventKind, Timestamp), String> {
    let exact = exact.trim().parse::<i64>().ok().and_then(|us| Timestamp::from_microsecond(us).ok());
    match (what, exact) {
        ("corrected", Some(at)) => Ok((EventKind::Corrected { event }, at)),
        ("was-in", _) => Ok((EventKind::Meanwhile { event, in_bath: true }, now)),
        ("was-out", _) => Ok((EventKind::Meanwhile { event, in_bath: false }, now)),
        _ => Err(says::NO_ANSWER.into()),
    }
}

/// `1.2`, `1,2 %`: per cent of salt.
fn percent(text: &str) -> Result<f64, String> {
    let bare = text.trim().trim_end_matches('%').trim().replace(',', ".");
    bare.parse().map_err(|_| says::not_a_share(&shortened(text.trim())))
}

/// `61`, `61 °C`, `142 f`: at the core.
fn core(text: &str, units: Units) -> Result<Celsius, String> {
    parse_temperature(text, units.temperature).map_err(|e| format!("Core temperature: {e}"))
}

/// `45 + 45`, `45, 45, 20`, `1 min + 45 s`.
fn faces(text: &str) -> Result<Vec<f64>, String> {
    let turns: Vec<&str> = text.split(['+', ',', ';', '\n']).map(str::trim).collect();
    if turns.iter().all(|t| t.is_empty()) {
        return Err(says::SECONDS_A_FACE.into());
    }
    let read = |t: &str| parse_seconds(t).map_err(|e| format!("Seconds a face: {e}"));
    turns.into_iter().filter(|t| !t.is_empty()).map(read).collect()
}

/// How much of it was seared, where somebody said.
fn covered(text: &str) -> Result<Option<Covered>, String> {
    if text.is_empty() {
        return Ok(None);
    }
    let known = Covered::from_id(text);
    known.map(Some).ok_or_else(|| says::WHAT_WAS_SEARED.to_owned())
}

/// `12`, `12 min`, `1 h`.
fn afloat(text: &str) -> Result<Minutes, String> {
    let bare = text.trim().parse::<f64>().ok().filter(|m| m.is_finite()).map(Minutes::new);
    bare.map_or_else(|| parse_minutes(text).map_err(|_| says::not_a_while(text.trim())), Ok)
}

/// Writes an event of a cook down, unless it cannot have happened.
pub async fn record(
    request: &HttpRequest,
    cook: Uuid,
    event: NewEvent,
    now: Timestamp,
) -> Result<Result<(), Refusal>, PageError> {
    let here = Here::of(request)?;
    may_take_back(&here, cook, &event.kind, now).await?;
    Ok(here.add_event(cook, event, now, CookRecord::with).await?)
}

/// Whether whoever asks may take back, set right or delete what an event is about, where it does.
pub async fn may_take_back(
    here: &Here,
    cook: Uuid,
    kind: &EventKind,
    now: Timestamp,
) -> Result<(), PageError> {
    let about = match kind {
        EventKind::Corrected { event } | EventKind::Undone { event } => Some(*event),
        EventKind::Deleted | EventKind::Restored => None,
        _ => return Ok(()),
    };
    let record = here.cook(cook).await?;
    // A cook as a whole is of whoever dropped, pulled and wrote: of each of them.
    let of_it = record.events.iter().filter(|e| about.is_none_or(|id| e.event.id == id));
    for e in of_it {
        here.may_correct(&e.event.by, e.event.recorded_at, now)?;
    }
    Ok(())
}

/// Why an event cannot be written down, with the time it clashes with.
pub fn refused(refusal: &Refusal, state: &AppState) -> String {
    let text = capitalised(&refusal.to_string());
    match refusal.clashes_with() {
        Some(at) => says::clashes(&text, &clock_time(at, &state.kitchen().wall())),
        None => text,
    }
}

#[derive(Deserialize)]
struct RatingForm {
    #[serde(default)]
    centre: String,
    #[serde(default)]
    band: String,
    #[serde(default)]
    tenderness: String,
    #[serde(default)]
    crust: String,
    #[serde(default)]
    note: String,
    #[serde(default)]
    next_time: String,
    tap: Option<Uuid>,
}

async fn add_rating(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    form: web::Form<RatingForm>,
) -> Result<HttpResponse, PageError> {
    let id = parse_id(&id)?;
    let form = form.into_inner();
    let now = state.heed_clock().await?;
    let mark = |text: &str| text.parse::<u8>().ok();
    let rating = Rating {
        centre: form.centre.parse().ok(),
        band: mark(&form.band),
        tenderness: mark(&form.tenderness),
        crust: mark(&form.crust),
        note: form.note.trim().to_owned(),
        next_time: form.next_time.trim().to_owned(),
    };
    if rating == Rating::default() {
        let typed = Typed { problem: Some(says::ONE_MARK.into()), ..Typed::default() };
        return show(&state, &request, id, typed).await;
    }
    let event = NewEvent {
        id: form.tap.unwrap_or_else(|| new_id(now)),
        happened_at: now,
        kind: EventKind::Rated(rating.clone()),
    };
    match record(&request, id, event, now).await? {
        Ok(()) => Ok(see_other("/book")),
        Err(refusal) => {
            let problem = Some(refused(&refusal, &state));
            let typed = Typed { problem, rating: Some(rating), ..Typed::default() };
            show(&state, &request, id, typed).await
        }
    }
}
