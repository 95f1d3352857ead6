//! A cook planned anew: for another hour, for other guests, warmer; or its piece corrected.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::book::{CookRecord, PlanRecord, derived_id};
use hold_steady_core::cook::{CookState, Live, Milestone, Stage, live_here};
use hold_steady_core::food::FoodClass;
use hold_steady_core::plan::{Anew, Guest, Plan, PlanForm, PlanRequest, ReadAnew, Setting, plan, read_anew};
use hold_steady_core::units::{Units, WallClock};
use hold_steady_core::who::By;
use hold_steady_core::words;
use hold_steady_store::{NewPlan, new_id};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use super::view::sentence;
use super::{parse_id, refused};
use crate::app::{
    self, AppState, Here, Lists, PageError, Place, Shell, compute, html_for, near_time, reader_units,
    resource, see_other,
};
use crate::words::cook as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(resource("/cook/{id}/plan").route(app::get(page)).route(web::post().to(take)));
}

/// What was typed of the sentence; what was not sent stands as it stood.
#[derive(Clone, Deserialize, Default)]
#[serde(default)]
struct Typed {
    ready: Option<String>,
    guests: Option<String>,
    bath: Option<String>,
    time: Option<String>,
    food: Option<String>,
    thickness: Option<String>,
    width: Option<String>,
    length: Option<String>,
    size: Option<String>,
    from: Option<String>,
    out: Option<String>,
    intact: Option<String>,
    prepared: Option<String>,
    parasites: Option<String>,
    pieces: Option<String>,
    /// Units its bare numbers were typed in.
    typed_in: Option<String>,
    /// The plan's own identifier, chosen by the page: sent again, it is the same.
    tap: Option<Uuid>,
    /// The plan that stood when the page was made: another one since is asked about, not written over.
    standing: Option<Uuid>,
    /// The bath was turned to the new temperature.
    turned: bool,
    /// What is wished is wished of all bags that were begun with it.
    all: bool,
}

impl Typed {
    fn over(&self, form: &mut PlanForm) {
        let set = |field: &mut String, typed: &Option<String>| {
            if let Some(typed) = typed {
                field.clone_from(typed);
            }
        };
        set(&mut form.ready, &self.ready);
        set(&mut form.guests, &self.guests);
        set(&mut form.bath, &self.bath);
        set(&mut form.time, &self.time);
        set(&mut form.food, &self.food);
        set(&mut form.thickness, &self.thickness);
        set(&mut form.width, &self.width);
        set(&mut form.length, &self.length);
        set(&mut form.size, &self.size);
        set(&mut form.from, &self.from);
        set(&mut form.out, &self.out);
        set(&mut form.intact, &self.intact);
        set(&mut form.prepared, &self.prepared);
        set(&mut form.parasites, &self.parasites);
        set(&mut form.prep.pieces, &self.pieces);
        set(&mut form.typed_in, &self.typed_in);
    }
}

/// A blank of the form: its name, what is asked, what stands in it.
struct Blank {
    name: &'static str,
    label: String,
    value: String,
    hint: &'static str,
    /// Value, words, whether it is chosen; none where it is typed.
    choices: Vec<(String, String, bool)>,
    error: String,
}

/// What stands beside each other: as it is planned, and as it would be.
struct Beside {
    what: &'static str,
    was: String,
    now: String,
}

/// What the plan asked for gives, from where the cook stands.
struct Gives {
    corrects: bool,
    changes: Vec<String>,
    beside: Vec<Beside>,
    next: String,
    why: String,
    level: &'static str,
    verdict: String,
    /// Where it cannot be as it was wished.
    but: Option<String>,
    refused: bool,
    /// How many other bags were begun with it and are not out yet.
    others_too: usize,
    /// The bath would have to be turned to that; how many others lie in it.
    turn: Option<(String, usize)>,
    typed: Vec<(String, String)>,
    tap: Uuid,
    standing: Uuid,
}

#[derive(Template)]
#[template(path = "cook/anew.html")]
struct AnewPage {
    shell: Shell,
    id: Uuid,
    title: String,
    sentence: String,
    wishes: Vec<Blank>,
    piece: Vec<Blank>,
    piece_open: bool,
    typed_in: &'static str,
    over: Option<&'static str>,
    gives: Option<Gives>,
    asked: bool,
    /// What is wrong with what has no blank here.
    elsewhere: Vec<String>,
    problem: Option<String>,
}

/// A cook with the plan that stands, and what was typed for it.
struct Asked<'a> {
    record: &'a CookRecord,
    standing: &'a PlanRecord,
    state: CookState,
    read: ReadAnew,
}

impl<'a> Asked<'a> {
    fn of(record: &'a CookRecord, typed: &Typed, setting: &Setting<'_>) -> Result<Self, PageError> {
        let standing = record.plan_record().ok_or(PageError::NoSuchCook)?;
        let state = record.state();
        let in_since = match state.stage() {
            Stage::InBath => state.when(Milestone::Dropped),
            _ => standing.request.in_since,
        };
        let read =
            read_anew((&standing.typed, &standing.request), |form| typed.over(form), setting, in_since);
        Ok(Self { record, standing, state, read })
    }
}

/// The plan asked for, and where the cook would stand by it.
struct Worked {
    corrects: bool,
    request: PlanRequest,
    plan: Plan,
    now: Live,
    before: Live,
}

fn work(
    asked: &Asked<'_>,
    anew: &Anew,
    (now, zone): (Timestamp, &WallClock),
) -> Result<Option<Worked>, PageError> {
    let Some(request) = anew.request() else { return Ok(None) };
    let (before, state) = (asked.standing.plan()?, &asked.state);
    let plan = plan(request, now)?;
    let water = asked.record.water(state);
    let at = state.when(Milestone::Eaten).or(state.ended()).unwrap_or(now);
    Ok(Some(Worked {
        corrects: matches!(anew, Anew::Piece(_)),
        now: live_here(request, &plan, state, &water, (at, zone))?,
        before: live_here(&asked.standing.request, &before, state, &water, (at, zone))?,
        request: request.clone(),
        plan,
    }))
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    typed: web::Query<Typed>,
) -> Result<HttpResponse, PageError> {
    show(&state, &request, parse_id(&id)?, typed.into_inner(), None).await
}

/// How many other pieces lie in the water it lies in, or lay in last.
async fn in_the_same_water(
    state: &AppState,
    record: &CookRecord,
    now: Timestamp,
) -> Result<usize, PageError> {
    let in_bath = app::running(state, now).await?;
    let Some(last) = record.immersions(&record.state()).last().map(|i| i.bath) else { return Ok(0) };
    let lies =
        |r: &CookRecord| r.immersions(&r.state()).last().is_some_and(|i| i.until.is_none() && i.bath == last);
    Ok(in_bath.0.iter().filter(|r| r.record.id != record.id && lies(&r.record)).count())
}

async fn show(
    state: &AppState,
    http: &HttpRequest,
    id: Uuid,
    typed: Typed,
    problem: Option<String>,
) -> Result<HttpResponse, PageError> {
    let record = Here::of(http)?.cook(id).await?;
    let lists = Lists::of(state).await?;
    let (kitchen, units, now) = (state.kitchen(), reader_units(http), state.clock.now());
    let title = record.title_in(units);
    let shell = Shell::new(state, http, Place::Cook, title.clone()).await?;
    let others = in_the_same_water(state, &record, now).await?;
    let with_it = others_of(&Here::of(http)?, &record).await?.len();
    let refused_before = problem.is_some();
    let page = compute(state, http, move || {
        let setting = lists.setting(units, now, &kitchen);
        let asked = Asked::of(&record, &typed, &setting)?;
        let form = &asked.read.reading.form;
        let errors = &asked.read.reading.errors;
        let worked = match &asked.read.anew {
            Some(anew) => work(&asked, anew, (now, &kitchen.wall()))?,
            None => None,
        };
        let was = asked.standing.plan()?;
        let gives =
            worked.map(|w| Gives::new(&asked, &w, &was, (others, with_it), (now, &kitchen.wall()), units));
        let stage = asked.state.stage();
        let piece = piece_blanks(
            form,
            asked.read.reading.request.as_ref().unwrap_or(&asked.standing.request),
            errors,
        );
        let wishes = if stage <= Stage::InBath { wishes(form, errors, &lists.guests) } else { Vec::new() };
        let shown = |field: &str| wishes.iter().chain(&piece).any(|b| b.name == field);
        let elsewhere = errors.iter().filter(|(field, _)| !shown(field)).map(|(_, text)| text.clone());
        Ok::<_, PageError>(AnewPage {
            shell,
            id,
            title,
            sentence: sentence(&asked.standing.request, units),
            elsewhere: elsewhere.collect(),
            wishes,
            piece_open: stage > Stage::InBath
                || gives.as_ref().is_some_and(|g| g.corrects)
                || piece.iter().any(|b| !b.error.is_empty()),
            piece,
            typed_in: units.code(),
            over: (stage > Stage::InBath).then_some(says::OUT_OF_ITS_BATH),
            asked: asked.read.anew == Some(Anew::Same),
            gives,
            problem,
        })
    })
    .await??;
    html_for(&page, refused_before)
}

impl Gives {
    fn new(
        asked: &Asked<'_>,
        w: &Worked,
        was: &Plan,
        (others, with_it): (usize, usize),
        (now, zone): (Timestamp, &WallClock),
        units: Units,
    ) -> Self {
        let clock = |t: Timestamp| near_time(t, now, zone);
        let standing = &asked.standing.request;
        let stage = asked.state.stage();
        let (next, why) = words::next(&w.now, units, &clock);
        let verdict = match stage {
            Stage::Waiting => Some(&w.plan.verdict),
            // What it would be if it were pulled now is not asked here: what is next says when it is safe.
            Stage::InBath => None,
            _ => w.now.verdict.as_ref(),
        };
        let row = |what, was: Timestamp, now: Timestamp| Beside { what, was: clock(was), now: clock(now) };
        let mut beside = Vec::new();
        if stage == Stage::Waiting {
            beside.push(row("Into the water by", was.times.drop_by, w.plan.times.drop_by));
        }
        if stage <= Stage::InBath {
            beside.push(row("Out of it", w.before.pull_at, w.now.pull_at));
            beside.push(row("On the plate", w.before.serve_at, w.now.serve_at));
        }
        let wished = w.request.ready_at.filter(|_| stage <= Stage::InBath);
        Self {
            corrects: w.corrects,
            changes: words::planned_anew(standing, &w.request, units, &clock),
            but: wished.and_then(|ready| words::not_when_wished(ready, &w.now, &clock)),
            next: w.now.next_at.map_or_else(|| next.clone(), |at| format!("{next} {}", clock(at))),
            why,
            level: verdict.map_or("waiting", |v| v.level.id()),
            verdict: verdict
                .map_or_else(String::new, |v| words::headline(v, w.request.food().class).to_owned()),
            // What is not in yet is not begun so; of what is in, what is so is written down.
            refused: stage == Stage::Waiting && w.plan.is_refused() && !w.corrects,
            turn: (!w.request.is_at(standing.bath_c) && stage <= Stage::InBath)
                .then(|| (units.temperature(w.request.bath_c), others)),
            others_too: if w.corrects { 0 } else { with_it },
            beside,
            typed: carried(&asked.read.reading.form),
            tap: new_id(now),
            standing: asked.standing.id,
        }
    }
}

/// The other bags that were begun with a cook and are not out of their bath yet.
async fn others_of(here: &Here, record: &CookRecord) -> Result<Vec<CookRecord>, PageError> {
    let Some(first) = record.together else { return Ok(Vec::new()) };
    let mut all = here.together(first).await?;
    all.retain(|other| {
        let stands = other.state();
        other.id != record.id && !stands.deleted && stands.stage() <= Stage::InBath
    });
    Ok(all)
}

/// The sentence as form fields.
fn carried(form: &PlanForm) -> Vec<(String, String)> {
    let text = |name: &str, value: &String| (name.to_owned(), value.clone());
    vec![
        text("ready", &form.ready),
        text("guests", &form.guests),
        text("bath", &form.bath),
        text("time", &form.time),
        text("food", &form.food),
        text("thickness", &form.thickness),
        text("width", &form.width),
        text("length", &form.length),
        text("size", &form.size),
        text("from", &form.from),
        text("out", &form.out),
        text("intact", &form.intact),
        text("prepared", &form.prepared),
        text("parasites", &form.parasites),
        text("pieces", &form.prep.pieces),
        text("typed_in", &form.typed_in),
    ]
}

fn wishes(form: &PlanForm, errors: &BTreeMap<&'static str, String>, named: &[Guest]) -> Vec<Blank> {
    let typed = |name, label: &str, value: &str, hint| blank(name, label, value, hint, errors);
    let at_risk = form.guests == "at-risk";
    let mut guests: Vec<(String, String, bool)> = vec![
        ("well".into(), "nobody at risk".into(), form.guests == "well"),
        ("at-risk".into(), "somebody at risk".into(), at_risk),
    ];
    guests.extend(named.iter().map(|g| {
        let id = g.id.to_string();
        let chosen = id == form.guests;
        (id, if g.at_risk { format!("{}, at risk", g.name) } else { g.name.clone() }, chosen)
    }));
    vec![
        typed("ready", "Ready at", &form.ready, "20:15, tomorrow 13:00; empty for as soon as it can be"),
        Blank { choices: guests, ..typed("guests", "For", "", "") },
        typed("bath", "The bath at", &form.bath, ""),
        typed("time", "In the bath for", &form.time, "empty for as long as it needs"),
    ]
}

/// What can be said of the piece: what its food asks.
fn piece_blanks(
    form: &PlanForm,
    request: &PlanRequest,
    errors: &BTreeMap<&'static str, String>,
) -> Vec<Blank> {
    let food = request.food();
    let typed = |name, label: &str, value: &str, hint| blank(name, label, value, hint, errors);
    let choose = |name, label: &str, value: &str, all: Vec<(String, String)>| Blank {
        choices: all.into_iter().map(|(id, words)| (id.clone(), words, id == value)).collect(),
        ..typed(name, label, "", "")
    };
    let of = |id: &str, words: &str| (id.to_owned(), words.to_owned());
    let mut all = vec![typed("food", "It is", &form.food, "any part of its name")];
    if food.sizes.is_empty() {
        all.push(typed("thickness", "Thick", &form.thickness, ""));
    } else {
        let sizes = food.sizes.iter().map(|s| of(&s.id, &s.name)).collect();
        all.push(choose("size", "Size", &form.size, sizes));
    }
    if food.sides_mm.is_some() {
        all.push(typed("width", "Across", &form.width, ""));
        all.push(typed("length", "Along", &form.length, ""));
    }
    let starts = hold_steady_core::plan::From::ALL.into_iter().filter(|f| food.may_come_from(f.id()));
    all.push(choose("from", "From", &form.from, starts.map(|f| of(f.id(), &f.start().label)).collect()));
    if request.from.start().out {
        all.push(typed("out", "Out of the refrigerator for", &form.out, "empty where nobody knows"));
    }
    if food.class.asks_if_intact() {
        let all_of =
            vec![of("", "nobody said"), of("whole", "whole"), of("bladed", "pierced, injected or rolled")];
        all.push(choose("intact", "The piece is", &form.intact, all_of));
    }
    if let Some(question) = &food.prepared {
        let all_of = vec![of("", "nobody said"), of("yes", &question.done), of("no", &question.not_done)];
        all.push(choose("prepared", "It was", &form.prepared, all_of));
    }
    if food.class == FoodClass::Fish {
        let all_of = vec![
            of("", "nobody said"),
            of("none", "not frozen for parasites"),
            of("frozen", "frozen for parasites"),
            of("exempt", "of a kind exempt from freezing"),
        ];
        all.push(choose("parasites", "It is", &form.parasites, all_of));
    }
    all.push(typed("pieces", "Pieces in the bag", &form.prep.pieces, ""));
    all
}

fn blank(
    name: &'static str,
    label: &str,
    value: &str,
    hint: &'static str,
    errors: &BTreeMap<&'static str, String>,
) -> Blank {
    let error = errors.get(name).cloned().unwrap_or_default();
    Blank { name, label: label.into(), value: value.into(), hint, choices: Vec::new(), error }
}

/// Takes the plan that was asked for.
async fn take(
    state: web::Data<AppState>,
    http: HttpRequest,
    id: web::Path<String>,
    typed: web::Form<Typed>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let id = parse_id(&id)?;
    let typed = typed.into_inner();
    let now = state.heed_clock().await?;
    let record = here.cook(id).await?;
    let to = format!("/cook/{id}");
    let tap = typed.tap.unwrap_or_else(|| new_id(now));
    if record.events.iter().any(|e| e.event.id == tap) {
        return Ok(see_other(&to));
    }
    if typed.standing.is_some_and(|made_by| record.plan_record().is_none_or(|p| p.id != made_by)) {
        return show(&state, &http, id, typed, Some(says::PLANNED_MEANWHILE.into())).await;
    }
    let with_it = if typed.all { others_of(&here, &record).await? } else { Vec::new() };
    let mut all = asked_for(&state, &http, (record.clone(), with_it), typed.clone(), now).await?.into_iter();
    // What cannot be taken stands there again with its reasons.
    let Some(own) = all.next().flatten() else { return show(&state, &http, id, typed, None).await };
    let stood = record.plan_record().map(|p| p.request.bath_c);
    let turned = typed.turned && stood.is_some_and(|c| !own.request.is_at(c));
    let (bath_c, corrects) = (own.request.bath_c, own.corrects);
    if corrects {
        here.may_correct(&By::nobody("kitchen"), now, now)?;
    }
    if let Err(refusal) = here.replan(id, NewPlan { id: tap, ..own }, now, CookRecord::with_plan).await? {
        let problem = Some(refused(&refusal, &state));
        return show(&state, &http, id, typed, problem).await;
    }
    if turned {
        let lies = record.immersions(&record.state()).last().map(|i| i.bath);
        here.set_bath(lies.unwrap_or(record.bag.bath), bath_c, now).await?;
    }
    // What is wished is wished of each, from where it stands itself; what a piece is it is alone. One that cannot is left as it
    // is, and shows so.
    for of_it in all.flatten().filter(|new| !corrects && !new.corrects) {
        let cook = of_it.id;
        let new = NewPlan { id: derived_id(tap, &cook.to_string()), ..of_it };
        let _ = here.replan(cook, new, now, CookRecord::with_plan).await?;
    }
    Ok(see_other(&to))
}

/// What was asked for of a cook, and of those that were begun with it, computed away from the threads that serve: each under
/// its cook's identifier; none where it cannot be taken.
async fn asked_for(
    state: &AppState,
    http: &HttpRequest,
    (record, with_it): (CookRecord, Vec<CookRecord>),
    typed: Typed,
    now: Timestamp,
) -> Result<Vec<Option<NewPlan>>, PageError> {
    let lists = Lists::of(state).await?;
    let (kitchen, units) = (state.kitchen(), reader_units(http));
    compute(state, http, move || {
        let setting = lists.setting(units, now, &kitchen);
        let of = |record: &CookRecord| {
            let asked = Asked::of(record, &typed, &setting)?;
            let Some(request) = asked.read.anew.as_ref().and_then(Anew::request) else { return Ok(None) };
            let plan = plan(request, now)?;
            let corrects = matches!(asked.read.anew, Some(Anew::Piece(_)));
            // What is not in yet is not begun so; of what is in, what is so is written down.
            let begun_so = corrects || asked.state.stage() > Stage::Waiting || !plan.is_refused();
            let new = NewPlan {
                id: record.id,
                corrects,
                typed: asked.read.reading.form.clone(),
                request: request.clone(),
                plan,
            };
            Ok(begun_so.then_some(new))
        };
        std::iter::once(&record).chain(&with_it).map(of).collect()
    })
    .await?
}
