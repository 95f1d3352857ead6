//! A bath that runs: its readings, what to do to its water, what lies in it, what it teaches.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::{
    BathNow, Cover, Heat, LastRead, Learned, Mix, Thermometer, WaterEvent, WaterEventKind, WaterRefusal,
    as_it_stands, bath_now, learned, usual_taps,
};
use hold_steady_core::book::{BathRecord, KeptVessel, usual_air};
use hold_steady_core::figures::bench;
use hold_steady_core::plan::{Equipment, resolve_past};
use hold_steady_core::units::{
    Celsius, Kelvin, Length, Units, WallClock, capitalised, meant_otherwise, parse_litres, parse_minutes,
    parse_temperature, shortened,
};
use hold_steady_core::words;
use hold_steady_store::{NewWaterEvent, StoreError, new_id};
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;
use uuid::Uuid;

use super::Said;
use super::off::{Off, last_word};
use crate::app::{
    self, AppState, PageError, Place, Shell, clock_time, compute, html_for, near_time, or_why, reader_units,
    see_other,
};
use crate::drawing::{Section, section};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(web::resource("/bath/runs/{id}").route(app::get(page)))
        .service(web::resource("/bath/runs/{id}/read").route(web::post().to(read)))
        .service(web::resource("/bath/runs/{id}/water").route(web::post().to(water)))
        .service(web::resource("/bath/runs/{id}/off").route(web::post().to(off)))
        .service(web::resource("/bath/runs/{id}/set").route(web::post().to(set)))
        .service(web::resource("/bath/runs/{id}/learn").route(web::post().to(learn)));
}

/// A line of what happened.
struct LogLine {
    ms: i64,
    at: String,
    what: String,
    struck: bool,
    /// What strikes this reading out: its instrument and its time.
    strike: Option<(Uuid, String)>,
    /// What was done: it may be undone, and said to have been at another time.
    done: Option<Uuid>,
    /// What undid it: it may be put back.
    undone_by: Option<Uuid>,
}

/// A thermometer to read with.
struct Probe {
    id: Uuid,
    name: String,
    chosen: bool,
}

struct RunView {
    id: Uuid,
    name: String,
    said: Said,
    care: Option<(String, String)>,
    /// What to add, typed in: hot water's litres and temperature.
    add: (String, String),
    look: Option<(String, i64)>,
    unproved: bool,
    by_hand: bool,
    emptied: bool,
    wanted: String,
    /// How long a lid is open, where nobody says.
    opened: String,
    /// When something was last known of it.
    last_word: String,
    disagree: Option<String>,
    /// This machine was away, and nobody said since what it did: the event that says so, and the question.
    unwatched: Option<(Uuid, String)>,
    trusted: Option<String>,
    sides: Vec<String>,
    drawing: String,
    probes: Vec<Probe>,
    /// Readings that are likely next, each one tap; and with which thermometer.
    likely: Vec<String>,
    likely_with: Option<(Uuid, String)>,
    covers: Vec<(&'static str, &'static str, bool)>,
    cooks: Vec<(String, String)>,
    log: Vec<LogLine>,
    /// So many lines before those.
    older: usize,
    learned: Result<String, String>,
    vessel: Uuid,
    typed: Typed,
    tap: Uuid,
}

impl RunView {
    fn error(&self, field: &str) -> &str {
        if self.typed.field == field { &self.typed.problem } else { "" }
    }
}

/// What was typed and could not be taken.
#[derive(Default)]
struct Typed {
    field: &'static str,
    problem: String,
    degrees: String,
    when: String,
    /// When it was off.
    from: String,
    until: String,
    said: Option<&'static str>,
}

#[derive(Template)]
#[template(path = "bath/run.html")]
struct RunPage {
    shell: Shell,
    run: RunView,
}

/// What was learned, in a sentence.
pub fn learned_words(l: &Learned, units: Units) -> String {
    let loss =
        l.loss_w_k.map(|w| format!("it loses {w:.1} W for each degree above the room, besides evaporation"));
    let heater = l.heater_w.map(|w| format!("its heater gives {w:.0} W"));
    let both: Vec<String> = loss.into_iter().chain(heater).collect();
    format!(
        "By its readings from {} to {}: {}. They lie within {} of that.",
        units.temperature(Celsius::new(l.from_c)),
        units.temperature(Celsius::new(l.to_c)),
        both.join(", and "),
        units.temperature_difference_fine(Kelvin::new(l.residual_k.max(0.05)))
    )
}

/// What the thermometer is likely to show next: what it showed, a step more, and steps less, in what it shows.
fn likely(read: &LastRead, units: Units) -> Vec<String> {
    let step = Kelvin::new(if units.temperature_symbol() == "°C" { 0.1 } else { 1.0 / 1.8 });
    (-1..=6).map(|n| units.temperature_fixed(read.read - step * f64::from(n))).collect()
}

fn side(read: &LastRead, now: Timestamp, zone: &WallClock, units: Units) -> String {
    format!(
        "{}: {} at {}, {} without its offset; {}",
        read.name,
        units.temperature_fixed(read.read),
        near_time(read.at, now, zone),
        units.temperature_fixed(read.trust.corrected(read.read)),
        words::trusted(&read.trust, units)
    )
}

fn happened(e: &WaterEventKind, units: Units) -> Option<String> {
    Some(match e {
        WaterEventKind::Filled { litres } => format!("filled with {}", units.litres(*litres)),
        WaterEventKind::Aimed { celsius } => format!("to be kept at {}", units.temperature(*celsius)),
        WaterEventKind::Added { litres, celsius } => {
            format!("added {} of {}", units.poured(*litres), units.temperature(*celsius))
        }
        WaterEventKind::TakenOff { litres } => format!("took off {}", units.poured(*litres)),
        WaterEventKind::Covered { cover } => format!("under {} from now on", words::cover(*cover)),
        WaterEventKind::Opened { min } => format!("open for {}", words::minutes(*min)),
        WaterEventKind::Off { min } => format!("on again, off for {}", words::minutes(*min)),
        WaterEventKind::Unwatched { min } => {
            format!("this machine was back after {}: nobody saw the water", words::minutes(*min))
        }
        WaterEventKind::Emptied => "emptied".into(),
        WaterEventKind::Struck { .. } | WaterEventKind::Corrected { .. } | WaterEventKind::Undone { .. } => {
            return None;
        }
    })
}

/// What was read and done, newest first; and how many more there were before these.
fn log(bath: &BathRecord, stands: &BathNow, zone: &WallClock, units: Units) -> (Vec<LogLine>, usize) {
    const SHOWN: usize = 200;
    let line = |at: Timestamp, what: String| LogLine {
        ms: at.as_millisecond(),
        at: clock_time(at, zone),
        what,
        struck: false,
        strike: None,
        done: None,
        undone_by: None,
    };
    let stand = as_it_stands(&bath.water);
    let changed = |e: &WaterEvent| !matches!(e.kind, WaterEventKind::Filled { .. } | WaterEventKind::Emptied);
    let told = |e: &WaterEvent| Some(line(e.happened_at, happened(&e.kind, units)?));
    let mut all: Vec<LogLine> =
        stand.iter().filter_map(|e| Some(LogLine { done: changed(e).then_some(e.id), ..told(e)? })).collect();
    for e in bath.water.iter().filter(|e| stand.iter().all(|s| s.id != e.id)) {
        let by = bath.water.iter().rev().find(|u| u.kind == WaterEventKind::Undone { event: e.id });
        all.extend(told(e).map(|l| LogLine { struck: true, undone_by: by.map(|u| u.id), ..l }));
    }
    all.extend(bath.settings.iter().map(|s| line(s.at, format!("set to {}", units.temperature(s.celsius)))));
    for i in bath.instruments.iter().filter(|i| i.piece.is_none()) {
        for r in &i.readings {
            let struck = stands.state.struck.contains(&(i.id, r.at));
            let text = format!("read {} with {}", units.temperature_fixed(r.celsius), i.name);
            let strike = (!struck).then(|| (i.id, r.at.to_string()));
            all.push(LogLine { struck, strike, ..line(r.at, text) });
        }
    }
    all.sort_by_key(|l| std::cmp::Reverse(l.ms));
    let older = all.len().saturating_sub(SHOWN);
    all.truncate(SHOWN);
    (all, older)
}

/// What a run is shown from.
struct Seen {
    bath: BathRecord,
    vessel: KeptVessel,
    equipment: Equipment,
    /// What lies in it: address and name.
    cooks: Vec<(String, String)>,
    thickest: Option<Length>,
    altitude_m: f64,
}

impl Seen {
    async fn of(state: &AppState, id: Uuid, units: Units) -> Result<Self, PageError> {
        let bath = state.here().bath(id).await?;
        let vessel = bath.vessel.clone().ok_or(PageError::Store(StoreError::NotFound))?;
        let (mut cooks, mut thickest): (Vec<(String, String)>, Option<Length>) = (Vec::new(), None);
        for cook in state.here().in_bath(id).await? {
            let record = state.here().cook(cook).await?;
            let thick = record.plan_record().map(|p| p.request.thickness_mm);
            thickest = thickest.into_iter().chain(thick).reduce(Length::max);
            cooks.push((format!("/cook/{cook}"), record.title_in(units)));
        }
        let equipment = state.here().equipment().await?;
        Ok(Self { bath, vessel, equipment, cooks, thickest, altitude_m: state.kitchen().rules.altitude_m })
    }
}

impl RunView {
    fn new(
        seen: Seen,
        typed: Typed,
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Result<Self, PageError> {
        let Seen { bath, vessel, equipment, cooks, thickest, altitude_m } = seen;
        let (air, taps, kept) = (usual_air(altitude_m), usual_taps(), &vessel.vessel);
        let stands = bath_now(&bath, air, taps, now);
        let said = Said::of(&stands, now, zone, units);
        let drawing = section(&Section {
            vessel: kept,
            water: kept.height(stands.state.litres),
            cover: stands.state.cover,
            bags: thickest.map(|t| (t, cooks.len())),
            label: said.degrees.clone(),
            units,
        })?;
        let believed = stands.last.first();
        let in_water = || bath.instruments.iter().filter(|i| i.piece.is_none());
        let last_used =
            in_water().max_by_key(|i| i.readings.last().map(|r| r.at)).and_then(|i| i.thermometer);
        let probe =
            |t: &Thermometer| Probe { id: t.id, name: t.name.clone(), chosen: last_used == Some(t.id) };
        let likely_with = believed.and_then(|read| {
            let with = in_water().find(|i| i.id == read.instrument)?;
            Some((with.thermometer?, read.name.clone()))
        });
        let hot = stands.care.and_then(|c| Some((c.hot?, taps.kettle_c)));
        let cold = stands.care.and_then(|c| Some((c.cold?, taps.cold_c)));
        let add = |(mix, c): (Mix, f64)| (units.poured(mix.add_l), units.temperature(Celsius::new(c)));
        let several = Some(&stands.last).filter(|last| last.len() > 1).into_iter().flatten();
        let (log, older) = log(&bath, &stands, zone, units);
        Ok(Self {
            id: bath.id,
            name: bath.name.clone(),
            care: stands.care.map(|c| words::care(&c, units)),
            add: hot.or(cold).map(add).unwrap_or_default(),
            look: stands.look_at.map(|t| (near_time(t, now, zone), t.as_millisecond())),
            unproved: stands.unproved,
            by_hand: kept.heat != Heat::Heater,
            emptied: stands.state.emptied.is_some(),
            wanted: stands.wanted.map_or_else(String::new, |c| units.temperature(c)),
            opened: words::minutes(bench().lid_open_min.minutes()),
            last_word: near_time(last_word(&bath, bath.began_at), now, zone),
            unwatched: stands
                .unwatched
                .map(|u| (u.event, words::was_it_on((u.from, u.until), &|t| near_time(t, now, zone)))),
            disagree: stands.disagree.map(|k| units.temperature_difference_fine(k)),
            trusted: believed.map(|l| words::trusted(&l.trust, units)),
            sides: several.map(|l| side(l, now, zone, units)).collect(),
            drawing,
            probes: equipment.thermometers.iter().map(probe).collect(),
            likely: believed.map_or_else(Vec::new, |l| likely(l, units)),
            likely_with,
            covers: Cover::ALL.map(|over| (over.id(), words::cover(over), over == stands.state.cover)).into(),
            cooks,
            log,
            older,
            learned: learned(&bath, kept, air)
                .map(|l| learned_words(&l, units))
                .map_err(|e| capitalised(&e.to_string())),
            vessel: vessel.id,
            said,
            typed,
            tap: new_id(now),
        })
    }
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    id: Uuid,
    typed: Typed,
) -> Result<HttpResponse, PageError> {
    let (now, units, zone) = (state.clock.now(), reader_units(request), state.kitchen().wall());
    let seen = Seen::of(state, id, units).await?;
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
        "read" => Some("Written down."),
        "off" => Some(
            "Written down: what lies in it is reckoned anew from when it was off. Once it reads as set again, write that down: dinner comes forward by it.",
        ),
        "set" => Some("Written down. Plans go by it; what is proved goes by readings."),
        "water" => Some("Written down. Stir, then read it again."),
        "learned" => Some("Learned. Plans and this page go by it from now on."),
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
        Some(or_at) => Err(format!(
            "“{}” can be {} or {}. Type it with its day, such as today 18:05 or yesterday 18:05, or as 10 min ago.",
            shortened(typed.trim()),
            near_time(past.at, tapped, zone),
            near_time(or_at, tapped, zone)
        )),
    }
}

async fn read(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Reading>,
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
        let text = "Say with which thermometer. Keep one on the bath page first.".to_owned();
        return show(&state, &request, *id, problem("degrees", text)).await;
    };
    let celsius = match parse_temperature(&degrees, units.temperature) {
        Ok(c) if WaterEventKind::Aimed { celsius: c }.check().is_ok() => c,
        Ok(_) => {
            let range = (Celsius::new(0.0), Celsius::new(100.0));
            let (low, high) = (units.temperature(range.0), units.temperature(range.1));
            let way_out = match meant_otherwise(&degrees, units.temperature, range) {
                Some(meant) => format!("Did you mean {meant}?"),
                None => "Read it again.".to_owned(),
            };
            let text = format!(
                "“{}” is no temperature of water, {low} to {high}. {way_out}",
                shortened(degrees.trim())
            );
            return show(&state, &request, *id, problem("degrees", text)).await;
        }
        Err(e) => return show(&state, &request, *id, problem("degrees", e.to_string())).await,
    };
    let at = match when(&typed_when, &tapped_ago, now, &state.kitchen().wall()) {
        Ok(at) => at,
        Err(e) => return show(&state, &request, *id, problem("when", e)).await,
    };
    match or_why(
        state.here_for(&request).await?.read_bath(*id, Some(probe), (celsius, at), (tap, now)).await,
    )? {
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
        "covered" => {
            WaterEventKind::Covered { cover: Cover::from_id(&form.cover).ok_or("Choose what lies over it.")? }
        }
        "opened" => WaterEventKind::Opened {
            min: if form.min.trim().is_empty() {
                bench().lid_open_min.minutes()
            } else {
                parse_minutes(&form.min).map_err(|e| e.to_string())?
            },
        },
        "aimed" => WaterEventKind::Aimed { celsius: degrees()? },
        "struck" => WaterEventKind::Struck {
            instrument: form.instrument.ok_or("Say which reading. Reload the page.")?,
            at: form.at.parse().map_err(|_| "Say which reading. Reload the page.")?,
        },
        "emptied" => WaterEventKind::Emptied,
        "undone" => WaterEventKind::Undone { event: form.event.ok_or("Say what. Reload the page.")? },
        "corrected" if form.when.trim().is_empty() => {
            return Err("Type when it really was, such as 18:40.".into());
        }
        "corrected" => WaterEventKind::Corrected { event: form.event.ok_or("Say what. Reload the page.")? },
        other => return Err(format!("“{}” cannot be done to water.", shortened(other))),
    };
    kind.check().map(|()| kind).map_err(|e| format!("{e}."))
}

async fn water(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Water>,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let problem = |problem: String| Typed { field: "water", problem, ..Typed::default() };
    let kind = match done_to_water(&form, reader_units(&request)) {
        Ok(kind) => kind,
        Err(e) => return show(&state, &request, *id, problem(e)).await,
    };
    if let WaterEventKind::Aimed { celsius } = kind
        && let Err(why) = can_be(&state, *id, celsius, reader_units(&request)).await?
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
    let event = NewWaterEvent { id: form.tap.unwrap_or_else(|| new_id(now)), happened_at: at, kind };
    let added = state.here_for(&request).await?.add_water(*id, event, now, BathRecord::with_water).await;
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
    state: &AppState,
    id: Uuid,
    celsius: Celsius,
    units: Units,
) -> Result<Result<(), String>, PageError> {
    let bath = state.here().bath(id).await?;
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
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let form = form.into_inner();
    let since = {
        let record = state.here().bath(*id).await?;
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
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let problem = |problem: String| Typed { field: "set", problem, ..Typed::default() };
    let units = reader_units(&request);
    let celsius = match parse_temperature(&form.degrees, units.temperature) {
        Ok(celsius) => celsius,
        Err(e) => return show(&state, &request, *id, problem(e.to_string())).await,
    };
    if let Err(why) = can_be(&state, *id, celsius, units).await? {
        return show(&state, &request, *id, problem(why)).await;
    }
    match or_why(state.here_for(&request).await?.set_bath(*id, celsius, now).await)? {
        Ok(()) => Ok(see_other(&format!("/bath/runs/{id}?done=set"))),
        Err(why) => show(&state, &request, *id, problem(why)).await,
    }
}

/// Keeps what the readings teach with the vessel.
async fn learn(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageError> {
    let now = state.clock.now();
    let bath = state.here().bath(*id).await?;
    let kept = bath.vessel.clone().ok_or(PageError::Store(StoreError::NotFound))?;
    let air = usual_air(state.kitchen().rules.altitude_m);
    let what =
        compute(&state, &request, move || learned(&bath, &kept.vessel, air).map(|l| (kept.id, l))).await?;
    match what {
        Ok((vessel, learned)) => {
            state.here_for(&request).await?.learn(vessel, Some(learned), now).await?;
            Ok(see_other(&format!("/bath/runs/{id}?done=learned")))
        }
        Err(e) => {
            let problem = capitalised(&e.to_string()) + ".";
            show(&state, &request, *id, Typed { field: "learn", problem, ..Typed::default() }).await
        }
    }
}
