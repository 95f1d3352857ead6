//! A bath that runs: its readings, what to do to its water, what lies in it, what it teaches.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::{Cover, WaterEventKind, WaterRefusal, taught};
use hold_steady_core::book::{BathRecord, usual_air};
use hold_steady_core::figures::bench;
use hold_steady_core::plan::resolve_past;
use hold_steady_core::units::{
    Celsius, Units, WallClock, meant_otherwise, parse_litres, parse_minutes, parse_temperature, shortened,
};
use hold_steady_core::words;
use hold_steady_store::{NewWaterEvent, StoreError, new_id};
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;
use uuid::Uuid;

use super::off::{Off, last_word};
use crate::app::{
    self, AppState, Here, PageError, Place, Shell, compute, html_for, near_time, or_why, reader_units,
    resource, see_other,
};
use crate::bath::run_view::{RunView, Seen};
use crate::words::{SAY_WHAT, WRITTEN_DOWN, bath as says};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/bath/runs/{id}").route(app::get(page)))
        .service(resource("/bath/runs/{id}/read").route(web::post().to(read)))
        .service(resource("/bath/runs/{id}/water").route(web::post().to(water)))
        .service(resource("/bath/runs/{id}/off").route(web::post().to(off)))
        .service(resource("/bath/runs/{id}/set").route(web::post().to(set)))
        .service(resource("/bath/runs/{id}/learn").route(web::post().to(learn)));
}

/// What was typed and could not be taken.
#[derive(Default)]
pub(super) struct Typed {
    pub(super) field: &'static str,
    pub(super) problem: String,
    pub(super) degrees: String,
    pub(super) when: String,
    /// When it was off.
    pub(super) from: String,
    pub(super) until: String,
    pub(super) said: Option<&'static str>,
}

#[derive(Template)]
#[template(path = "bath/run.html")]
struct RunPage {
    shell: Shell,
    run: RunView,
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    id: Uuid,
    typed: Typed,
) -> Result<HttpResponse, PageError> {
    let (now, units, zone) = (state.clock.now(), reader_units(request), state.kitchen().wall());
    let seen = Seen::of(state, &Here::of(request)?, id, units).await?;
    let refused = !typed.problem.is_empty();
    let shell = Shell::new(state, request, Place::Bath, seen.bath.name.clone()).await?;
    let run = compute(state, request, move || RunView::new(seen, typed, now, &zone, units)).await??;
    html_for(&RunPage { shell, run }, refused)
}

#[derive(Deserialize)]
struct Query {
    #[serde(default)]
    done: String,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let said = match query.done.as_str() {
        "read" => Some(WRITTEN_DOWN),
        "off" => Some(says::OFF),
        "set" => Some(says::SET),
        "water" => Some(says::WATER),
        "learned" => Some(says::LEARNED),
        _ => None,
    };
    show(&state, &request, *id, Typed { said, ..Typed::default() }).await
}

/// A reading by hand, as it is sent.
#[derive(Deserialize)]
pub struct Reading {
    #[serde(default)]
    pub thermometer: String,
    #[serde(default)]
    pub degrees: String,
    #[serde(default)]
    pub when: String,
    pub tap: Option<Uuid>,
    #[serde(default)]
    pub tapped_ago: String,
}

/// When it happened: as typed, or when it was tapped.
pub fn when(typed: &str, ago: &str, now: Timestamp, zone: &WallClock) -> Result<Timestamp, String> {
    let tapped = crate::app::tapped_at(ago, now)?.unwrap_or(now);
    let past = resolve_past(typed, tapped, zone).map_err(|e| e.to_string())?;
    // In the hour that a clock shows twice the later is taken.
    let twice = |or_at: &Timestamp| past.at.duration_since(*or_at).abs() <= SignedDuration::from_hours(2);
    match past.or_at.filter(|or_at| !twice(or_at)) {
        None => Ok(past.at),
        // What the water was is written down where it belongs, or not at all.
        Some(or_at) => Err(says::two_times(
            &shortened(typed.trim()),
            &near_time(past.at, tapped, zone),
            &near_time(or_at, tapped, zone),
        )),
    }
}

async fn read(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Reading>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let units = reader_units(&request);
    let Reading { thermometer, degrees, when: typed_when, tap, tapped_ago } = form.into_inner();
    let tap = tap.unwrap_or_else(|| new_id(now));
    let problem = |field, problem: String| Typed {
        field,
        problem,
        degrees: degrees.clone(),
        when: typed_when.clone(),
        ..Typed::default()
    };
    let Ok(probe) = thermometer.parse::<Uuid>() else {
        let text = says::WHICH_THERMOMETER.to_owned();
        return show(&state, &request, *id, problem("degrees", text)).await;
    };
    let celsius = match parse_temperature(&degrees, units.temperature) {
        Ok(c) if WaterEventKind::Aimed { celsius: c }.check().is_ok() => c,
        Ok(_) => {
            let range = (Celsius::new(0.0), Celsius::new(100.0));
            let (low, high) = (units.temperature(range.0), units.temperature(range.1));
            let way_out = match meant_otherwise(&degrees, units.temperature, range) {
                Some(meant) => says::did_you_mean(&meant),
                None => says::READ_AGAIN.to_owned(),
            };
            let text = says::not_a_water_temperature(&shortened(degrees.trim()), &low, &high, &way_out);
            return show(&state, &request, *id, problem("degrees", text)).await;
        }
        Err(e) => return show(&state, &request, *id, problem("degrees", e.to_string())).await,
    };
    let at = match when(&typed_when, &tapped_ago, now, &state.kitchen().wall()) {
        Ok(at) => at,
        Err(e) => return show(&state, &request, *id, problem("when", e)).await,
    };
    match or_why(here.read_bath(*id, Some(probe), (celsius, at), (tap, now)).await)? {
        Ok(()) => Ok(see_other(&format!("/bath/runs/{id}?done=read"))),
        Err(why) => show(&state, &request, *id, problem("degrees", why)).await,
    }
}

#[derive(Deserialize)]
struct Water {
    what: String,
    #[serde(default)]
    litres: String,
    #[serde(default)]
    degrees: String,
    #[serde(default)]
    cover: String,
    #[serde(default)]
    min: String,
    #[serde(default)]
    instrument: Option<Uuid>,
    #[serde(default)]
    at: String,
    /// What it is about, that was done before.
    #[serde(default)]
    event: Option<Uuid>,
    /// When it really was.
    #[serde(default)]
    when: String,
    /// The cook on whose page it was said.
    #[serde(default)]
    cook: Option<Uuid>,
    tap: Option<Uuid>,
    #[serde(default)]
    tapped_ago: String,
}

fn done_to_water(form: &Water, units: Units) -> Result<WaterEventKind, String> {
    let litres = || parse_litres(&form.litres, units.length).map_err(|e| e.to_string());
    let degrees = || parse_temperature(&form.degrees, units.temperature).map_err(|e| e.to_string());
    let kind = match form.what.as_str() {
        "added" => WaterEventKind::Added { litres: litres()?, celsius: degrees()? },
        "taken-off" => WaterEventKind::TakenOff { litres: litres()? },
        "covered" => WaterEventKind::Covered { cover: Cover::from_id(&form.cover).ok_or(says::WHICH_COVER)? },
        "opened" => WaterEventKind::Opened {
            min: if form.min.trim().is_empty() {
                bench().lid_open_min.minutes()
            } else {
                parse_minutes(&form.min).map_err(|e| e.to_string())?
            },
        },
        "aimed" => WaterEventKind::Aimed { celsius: degrees()? },
        "struck" => WaterEventKind::Struck {
            instrument: form.instrument.ok_or(says::WHICH_READING)?,
            at: form.at.parse().map_err(|_| says::WHICH_READING)?,
        },
        "emptied" => WaterEventKind::Emptied,
        "undone" => WaterEventKind::Undone { event: form.event.ok_or(SAY_WHAT)? },
        "corrected" if form.when.trim().is_empty() => {
            return Err(says::WHEN_REALLY.into());
        }
        "corrected" => WaterEventKind::Corrected { event: form.event.ok_or(SAY_WHAT)? },
        other => return Err(says::not_done_to_water(&shortened(other))),
    };
    kind.check().map(|()| kind).map_err(|e| format!("{e}."))
}

async fn water(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Water>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let problem = |problem: String| Typed { field: "water", problem, ..Typed::default() };
    let kind = match done_to_water(&form, reader_units(&request)) {
        Ok(kind) => kind,
        Err(e) => return show(&state, &request, *id, problem(e)).await,
    };
    if let WaterEventKind::Aimed { celsius } = kind
        && let Err(why) = can_be((&state, &here), *id, celsius, reader_units(&request)).await?
    {
        return show(&state, &request, *id, problem(why)).await;
    }
    let at = match when(&form.when, &form.tapped_ago, now, &state.kitchen().wall()) {
        Ok(at) => at,
        Err(e) => return show(&state, &request, *id, problem(e)).await,
    };
    let to = match (&kind, form.cook) {
        (_, Some(cook)) => format!("/cook/{cook}"),
        (WaterEventKind::Emptied, _) => "/bath".into(),
        _ => format!("/bath/runs/{id}?done=water"),
    };
    if let WaterEventKind::Corrected { event } | WaterEventKind::Undone { event } = kind {
        let record = here.bath(*id).await?;
        if let Some(e) = record.water.iter().find(|e| e.id == event) {
            here.may_correct(&e.by, e.recorded_at, now)?;
        }
    }
    let event = NewWaterEvent { id: form.tap.unwrap_or_else(|| new_id(now)), happened_at: at, kind };
    let added = here.add_water(*id, event, now, BathRecord::with_water).await;
    let told = |why: WaterRefusal| {
        let zone = state.kitchen().wall();
        words::water_refused(&why, reader_units(&request), &|at| near_time(at, now, &zone))
    };
    match or_why(added)?.and_then(|done| done.map_err(told)) {
        Ok(()) => Ok(see_other(&to)),
        Err(why) => show(&state, &request, *id, problem(why)).await,
    }
}

/// Whether the water of a bath can be so warm: water at all, and no hotter than its vessel may be.
async fn can_be(
    (state, here): (&AppState, &Here),
    id: Uuid,
    celsius: Celsius,
    units: Units,
) -> Result<Result<(), String>, PageError> {
    let bath = here.bath(id).await?;
    let altitude_m = state.kitchen().rules.altitude_m;
    let vessel = bath.vessel.as_ref().map(|kept| &kept.vessel);
    if let Some((vessel, most)) = vessel.and_then(|v| Some((v, v.too_hot(celsius, altitude_m)?))) {
        return Ok(Err(words::too_hot(vessel, most, units)));
    }
    Ok(WaterEventKind::Aimed { celsius }.check().map_err(|e| format!("{e}.")))
}

async fn off(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Off>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let form = form.into_inner();
    let since = {
        let record = here.bath(*id).await?;
        last_word(&record, record.began_at)
    };
    match form.write(&state, &request, (*id, since), now).await? {
        Ok(()) => Ok(see_other(&format!("/bath/runs/{id}?done=off"))),
        Err(problem) => {
            let Off { from, until, degrees, .. } = form;
            show(
                &state,
                &request,
                *id,
                Typed { field: "off", problem, degrees, from, until, ..Typed::default() },
            )
            .await
        }
    }
}

#[derive(Deserialize)]
struct Set {
    #[serde(default)]
    degrees: String,
}

async fn set(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Set>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let problem = |problem: String| Typed { field: "set", problem, ..Typed::default() };
    let units = reader_units(&request);
    let celsius = match parse_temperature(&form.degrees, units.temperature) {
        Ok(celsius) => celsius,
        Err(e) => return show(&state, &request, *id, problem(e.to_string())).await,
    };
    if let Err(why) = can_be((&state, &here), *id, celsius, units).await? {
        return show(&state, &request, *id, problem(why)).await;
    }
    match or_why(here.set_bath(*id, celsius, now).await)? {
        Ok(()) => Ok(see_other(&format!("/bath/runs/{id}?done=set"))),
        Err(why) => show(&state, &request, *id, problem(why)).await,
    }
}

/// Keeps what the readings teach with the vessel.
async fn learn(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.clock.now();
    let bath = here.bath(*id).await?;
    let kept = bath.vessel.clone().ok_or(PageError::Store(StoreError::NotFound))?;
    let air = usual_air(state.kitchen().rules.altitude_m);
    let (vessel, units) = (kept.id, reader_units(&request));
    let what = compute(&state, &request, move || taught(&bath, &kept.vessel, air)).await?;
    if let Some(learned) = what.learned {
        here.learn(vessel, Some(learned), now).await?;
        return Ok(see_other(&format!("/bath/runs/{id}?done=learned")));
    }
    let why: Vec<String> = what.refused.into_iter().map(|e| words::not_learned(e, units)).collect();
    show(&state, &request, *id, Typed { field: "learn", problem: why.join(" "), ..Typed::default() }).await
}
