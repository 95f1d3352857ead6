//! The plan page: the sentence, the answer, the map around it, and taking it up.

mod answer;
mod keep;
mod pictures;
mod sentence;

use actix_web::http::header::CACHE_CONTROL;
use actix_web::{HttpRequest, HttpResponse, web};
use answer::Answer;
use askama::Template;
use hold_steady_core::book::{LastTime, derived_id, letter};
use hold_steady_core::food::Pantry;
use hold_steady_core::limits::MOST_BATHS;
use hold_steady_core::piece::LONGEST_MIN;
use hold_steady_core::plan::{PlanForm, PlanRequest, Reading, after_sear, envelope, plan, way_out};
use hold_steady_core::prep::Salted;
use hold_steady_core::units::{Celsius, Minutes};
use hold_steady_store::{NewCook, new_id};
use jiff::Timestamp;
use keep::PresetView;
use sentence::Sentence;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{
    self, AppState, Here, Lists, PageError, Place, Shell, bounded, compute, html, reader_units, resource,
    see_other, unfolded,
};
use crate::drawing::{Map, maps};
use crate::food::{Group, Line, grouped};
use crate::words::plan as says;

pub fn configure(config: &mut web::ServiceConfig) {
    keep::configure(config);
    config
        .service(resource("/plan").route(app::get(page)))
        .service(resource("/plan/answer").route(app::get(answer)))
        .service(resource("/plan/foods").route(app::get(foods)))
        .service(resource("/plan/map").route(app::get(map)))
        .service(resource("/plan/way-out").route(app::get(what_more_would_give)))
        .service(resource("/plan/seared").route(app::get(seared)))
        .service(resource("/plan/ours").route(web::post().to(ours)))
        .service(resource("/plan/start").route(web::post().to(start)));
}

#[derive(Template)]
#[template(path = "plan/page.html")]
struct PlanPage {
    shell: Shell,
    sentence: Sentence,
    answer: Option<Answer>,
    presets: Vec<PresetView>,
    /// A preset just removed, to be put back.
    removed: Option<Uuid>,
    notice: Option<String>,
    problem: Option<String>,
    depths: Depths,
}

/// What of the second depth is unfolded: the page's script remembers it.
struct Depths {
    how: bool,
    explore: bool,
    prepare: bool,
    why: bool,
}

impl Depths {
    fn of(request: &HttpRequest) -> Self {
        let open = |name| unfolded(request, name);
        Self { how: open("how"), explore: open("explore"), prepare: open("prepare"), why: open("why") }
    }
}

/// The fragment that follows every change: the answer, and the fields the core filled in.
#[derive(Template)]
#[template(path = "plan/fragment.html")]
struct Fragment {
    sentence: Sentence,
    answer: Option<Answer>,
    depths: Depths,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<PlanForm>,
) -> Result<HttpResponse, PageError> {
    // A bare number in an address must not change its meaning when the reader's units do: the address
    // first gets the units it was read in.
    let bare = typed.typed_in.is_empty() && !(typed.thickness.is_empty() && typed.bath.is_empty());
    if bare {
        let typed_in = reader_units(&request).code().into();
        let said = PlanForm { typed_in, ..typed.into_inner() };
        return Ok(see_other(&format!("/plan?{}", encoded(&said)?)));
    }
    show(&state, &request, &typed, Remarks::default()).await
}

/// Which blanks the page showed that are not always there.
#[derive(Deserialize)]
struct OnPage {
    out: Option<String>,
}

/// What the page says besides.
#[derive(Default)]
struct Remarks {
    removed: Option<Uuid>,
    notice: Option<String>,
    problem: Option<String>,
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    typed: &PlanForm,
    said: Remarks,
) -> Result<HttpResponse, PageError> {
    let (pantry, sentence, answer) = understand(state, request, typed).await?;
    let shell = Shell::new(state, request, Place::Plan, "Plan").await?;
    let units = reader_units(request);
    let presets = pantry.presets.iter().map(|p| PresetView::new(p, &pantry, units)).collect();
    let Remarks { removed, notice, problem } = said;
    let depths = Depths::of(request);
    html(&PlanPage { shell, sentence, answer, presets, removed, notice, problem, depths })
}

async fn answer(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<PlanForm>,
    on_page: web::Query<OnPage>,
) -> Result<HttpResponse, PageError> {
    let (_, sentence, answer) = understand(&state, &request, &typed).await?;
    // Reload and the back button find the sentence as it was last answered.
    let address = format!("/plan?{}", encoded(&sentence.form)?);
    let response = html(&Fragment {
        sentence: sentence.after(&typed, on_page.out.is_some()),
        answer,
        depths: Depths::of(&request),
    })?;
    app::at_address(response, &address)
}

/// What is understood of a sentence, and what it was read with.
async fn read(
    state: &AppState,
    request: &HttpRequest,
    typed: &PlanForm,
) -> Result<(Reading, Lists), PageError> {
    let (kitchen, lists) = (state.kitchen(), Lists::of(state).await?);
    let setting = lists.setting(reader_units(request), state.clock.now(), &kitchen);
    let reading = typed.read(&setting.with_habits(&kitchen.habits));
    Ok((reading, lists))
}

/// What was understood of a sentence, all of it; else what needs that.
async fn understood(
    state: &AppState,
    request: &HttpRequest,
    typed: &PlanForm,
    else_says: &str,
) -> Result<PlanRequest, PageError> {
    let (reading, _) = read(state, request, typed).await?;
    reading.request.ok_or_else(|| PageError::Request(else_says.into()))
}

/// The sentence and its answer, and the pantry they were read with.
async fn understand(
    state: &AppState,
    request: &HttpRequest,
    typed: &PlanForm,
) -> Result<(Pantry, Sentence, Option<Answer>), PageError> {
    let (reading, lists) = read(state, request, typed).await?;
    let (now, units, zone) = (state.clock.now(), reader_units(request), state.kitchen().wall());
    let water = state.kitchen().rules.water;
    let last = match &reading.request {
        Some(understood) => Here::of(request)?.last_of(understood.food().id.clone()).await?,
        None => None,
    };
    let last = last.as_ref().and_then(LastTime::of);
    let running = match reading.request.as_ref().and_then(|r| r.vessel.as_ref()) {
        Some(v) => Here::of(request)?
            .running_baths()
            .await?
            .into_iter()
            .find(|b| b.vessel.as_ref().is_some_and(|k| k.id == v.id)),
        None => None,
    };
    compute(state, request, move || {
        let answer = match &reading.request {
            Some(understood) => Some(
                Answer::new(
                    (units, &zone),
                    &reading.form,
                    understood,
                    (&lists.pantry, running.as_ref()),
                    last.as_ref(),
                    now,
                )?
                .for_guest(&lists.guests, understood),
            ),
            None => None,
        };
        let sentence = Sentence::new(reading, &lists, water, units)?;
        Ok((lists.pantry, sentence, answer))
    })
    .await?
}

#[derive(Deserialize)]
struct Search {
    #[serde(default)]
    food: String,
}

/// Foods under their headings, those that answer to what was typed.
#[derive(Template)]
#[template(path = "plan/foods.html")]
struct Foods {
    groups: Vec<Group>,
    searched: String,
}

async fn foods(typed: web::Query<Search>, here: Here) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    let searched = typed.food.trim();
    let groups = if searched.is_empty() {
        grouped(pantry.listed())
    } else {
        // The likeliest first, whatever their heading.
        vec![Group {
            heading: String::new(),
            lines: pantry.search(searched).into_iter().map(Line::of).collect(),
        }]
    };
    html(&Foods { groups, searched: hold_steady_core::units::shortened(searched) })
}

#[derive(Deserialize)]
struct MapQuery {
    horizon: u32,
    #[serde(flatten)]
    typed: PlanForm,
}

/// The map for a sentence, whatever its temperature and time.
async fn map(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<MapQuery>,
) -> Result<HttpResponse, PageError> {
    let MapQuery { horizon, typed } = query.into_inner();
    let understood = understood(&state, &request, &typed, says::MAP_NEEDS).await?;
    let horizon = f64::from(horizon).clamp(15.0, LONGEST_MIN.value());
    let units = reader_units(&request);
    let svg = compute(&state, &request, move || {
        let envelope = envelope(&understood, Minutes::new(horizon))?;
        maps(&Map { envelope: &envelope, units })
    })
    .await??;
    Ok(HttpResponse::Ok()
        .content_type("text/html; charset=utf-8")
        .insert_header((CACHE_CONTROL, "private, max-age=600"))
        .body(svg))
}

#[derive(Deserialize)]
struct MoreQuery {
    bath_min: u32,
    #[serde(flatten)]
    typed: PlanForm,
}

impl MoreQuery {
    /// What was understood of it, and the minutes in the bath, as many as there may be.
    async fn understood(
        self,
        state: &AppState,
        request: &HttpRequest,
    ) -> Result<(PlanRequest, Minutes), PageError> {
        let understood = understood(state, request, &self.typed, says::NEEDS).await?;
        Ok((understood, Minutes::new(f64::from(self.bath_min)).min(LONGEST_MIN)))
    }
}

#[derive(Template)]
#[template(source = "<p class=\"way-out\">{{ text }}</p>", ext = "html")]
struct MoreFragment {
    text: String,
}

#[derive(Template)]
#[template(path = "plan/way_out.html")]
struct WayOutPage {
    shell: Shell,
    text: String,
    back: String,
}

/// What would make a plan pasteurised that is sound without: fetched when somebody looks, for it costs twenty
/// simulations.
async fn what_more_would_give(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<MoreQuery>,
) -> Result<HttpResponse, PageError> {
    let query = query.into_inner();
    let back = format!("/plan?{}", encoded(&query.typed)?);
    let (understood, bath_min) = query.understood(&state, &request).await?;
    let way = compute(&state, &request, move || way_out(&understood, bath_min)).await??;
    let text = way.map_or_else(
        || hold_steady_core::words::AS_PLANNED.to_owned(),
        |way| hold_steady_core::words::way_out(&way, reader_units(&request)),
    );
    if request.headers().contains_key("hx-request") {
        return html(&MoreFragment { text });
    }
    html(&WayOutPage { shell: Shell::new(&state, &request, Place::Plan, "Plan").await?, text, back })
}

#[derive(Template)]
#[template(path = "plan/seared.html")]
struct SearedFragment {
    does: String,
    bath: String,
    pulls_json: String,
}

/// What the plan's own finish does to the piece; fetched after the answer.
async fn seared(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<MoreQuery>,
) -> Result<HttpResponse, PageError> {
    #[derive(serde::Serialize)]
    struct Pull {
        min: f64,
        text: String,
    }
    let units = reader_units(&request);
    let (understood, bath_min) = query.into_inner().understood(&state, &request).await?;
    let finishes = state.finishes.clone();
    let found = compute(&state, &request, move || after_sear(&understood, bath_min, &finishes)).await??;
    let Some(found) = found else { return Ok(HttpResponse::NoContent().finish()) };
    let (does, bath) = hold_steady_core::words::after_sear(&found, units);
    let pulls: Vec<Pull> = found
        .pulls
        .iter()
        .map(|p| Pull {
            min: p.bath_min.value(),
            text: hold_steady_core::words::seared_at(Celsius::new(p.done.peak_c), units),
        })
        .collect();
    let pulls_json = serde_json::to_string(&pulls).map_err(|e| PageError::Request(e.to_string()))?;
    html(&SearedFragment { does, bath, pulls_json })
}

#[derive(Deserialize)]
struct Ours {
    /// Forget what was remembered instead.
    #[serde(default)]
    forget: bool,
    #[serde(flatten)]
    typed: PlanForm,
}

/// Remembers the temperature of the sentence as this kitchen's own for its food, or forgets it.
async fn ours(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Ours>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Ours { forget, typed } = form.into_inner();
    let (reading, _) = read(&state, &request, &typed).await?;
    let now = state.clock.now();
    if let Some(understood) = &reading.request {
        let celsius = (!forget).then_some(understood.bath_c);
        // What is refused is nobody's own way.
        if forget || !bounded(|| plan(understood, now))?.is_refused() {
            here.dial(understood.food().id.clone(), celsius, now).await?;
        }
    }
    Ok(see_other(&format!("/plan?{}", encoded(&reading.form)?)))
}

pub fn encoded(form: &PlanForm) -> Result<String, PageError> {
    serde_urlencoded::to_string(form).map_err(|e| PageError::Request(e.to_string()))
}

#[derive(Deserialize)]
struct StartForm {
    cook: Uuid,
    /// Into how many bags alike, each a cook of its own.
    #[serde(default)]
    bags: String,
    #[serde(flatten)]
    typed: PlanForm,
}

/// Takes the plan up. The form carries an identifier for the cook, so that sending it twice (a double
/// tap, a reload) starts one cook.
async fn start(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<StartForm>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let StartForm { cook, bags, typed } = form.into_inner();
    if here.cook(cook).await.is_ok() {
        return Ok(see_other(&format!("/cook/{cook}")));
    }
    let (reading, _) = read(&state, &request, &typed).await?;
    let now = state.heed_clock().await?;
    let units = reader_units(&request);
    let Some(understood) = reading.request.clone() else {
        return Ok(see_other(&format!("/plan?{}", encoded(&typed)?)));
    };
    let plan = bounded(|| plan(&understood, now))?;
    if plan.is_refused() {
        return Ok(see_other(&format!("/plan?{}", encoded(&typed)?)));
    }
    let bags = bags.trim().parse::<usize>().unwrap_or(1).clamp(1, MOST_BATHS);
    let prep = &understood.prep;
    if prep.salted == Salted::Batch && !prep.batch.is_empty() {
        here.remember_salted(prep.batch.clone(), now).await?;
    }
    let (title, here) = (understood.title(units), here);
    for place in 0..bags {
        let new = NewCook {
            // Sent again, it is the same bags.
            id: if place == 0 { cook } else { derived_id(cook, &format!("bag {place}")) },
            title: title.clone(),
            typed: reading.form.clone(),
            request: understood.clone(),
            plan: plan.clone(),
            together: (bags > 1).then_some(cook),
            letter: if bags > 1 { letter(place) } else { String::new() },
        };
        here.start_cook(new, now).await?;
    }
    Ok(see_other(&if bags > 1 { "/board".to_owned() } else { format!("/cook/{cook}") }))
}

/// An identifier for the cook a page may start.
fn fresh_id(now: Timestamp) -> Uuid {
    new_id(now)
}
