//! Kept and taken along: presets, the plan as a file, and files opened again.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::book::{
    FILE_VERSION, ImportError, PRESETS_FORMAT, PlanFile, PresetsFile, check_preset, read_plan_file,
    read_presets_file,
};
use hold_steady_core::food::{Food, OwnFood, Pantry, Preset};
use hold_steady_core::plan::{PlanForm, plan};
use hold_steady_core::units::Units;
use hold_steady_store::StoreError;
use serde::Deserialize;
use uuid::Uuid;

use super::sentence::{Question, asked_anew};
use super::{Remarks, encoded, read, show};
use crate::app::{self, AppState, Here, PageError, Removal, bounded, see_other};
use crate::words::plan as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/plan/file.json").route(app::get(file)))
        .service(app::resource("/plan/open").route(web::post().to(open)))
        .service(app::resource("/plan/keep").route(web::post().to(keep)))
        .service(app::resource("/plan/presets.json").route(app::get(presets_file)))
        .service(app::resource("/plan/presets/{id}").route(app::get(preset)))
        .service(app::resource("/plan/presets/{id}/remove").route(web::post().to(remove_preset)));
}

/// A plan kept under a name.
pub struct PresetView {
    pub id: Uuid,
    pub name: String,
    /// What it plans, in a line.
    pub what: String,
    /// What is asked anew: a thickness, a weight.
    pub thick: bool,
    pub thickness: String,
    pub weighed: bool,
    pub weight: String,
    /// And whatever else is about the piece or the guests.
    pub asked: Vec<Question>,
}

impl PresetView {
    pub fn new(preset: &Preset, pantry: &Pantry, units: Units) -> Self {
        let form = preset.form("", "");
        let food = pantry.food(&form.food);
        let name = food.map_or("a food that is not kept any more", |f| f.name.as_str());
        let was = preset.typed.get("weight").and_then(|w| w.as_str()).unwrap_or_default();
        Self {
            id: preset.id,
            name: preset.name.clone(),
            what: format!("{name}, {}, bath {}", form.thickness, form.bath).replace(", ,", ","),
            thick: food.is_none_or(|f| f.sizes.is_empty()),
            thickness: form.thickness.clone(),
            weighed: food.is_none_or(Food::is_bagged),
            weight: if was.is_empty() { "not weighed".into() } else { was.to_owned() },
            asked: food.map_or_else(Vec::new, |f| asked_anew(f, &form, units)),
        }
    }
}

/// The plan as a file.
async fn file(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<PlanForm>,
) -> Result<HttpResponse, PageError> {
    let (reading, _) = read(&state, &request, &typed).await?;
    let Some(understood) = reading.request else {
        return Err(PageError::Request(says::NOT_UNDERSTOOD.into()));
    };
    let plan = bounded(|| plan(&understood, state.clock.now()))?;
    let file = PlanFile::new(&reading.form, &understood, &plan);
    app::json_file(&format!("{}.plan.json", understood.food().id), &file)
}

/// Opens a file dropped on the page: a plan, or presets.
async fn open(
    state: web::Data<AppState>,
    request: HttpRequest,
    body: web::Bytes,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let refused =
        async |problem: String| unprocessable(&state, &request, &PlanForm::default(), problem).await;
    let text = match app::uploaded_text(&request, body, says::CHOOSE).await {
        Ok(text) => text,
        Err(problem) => return refused(problem).await,
    };
    // What another kitchen kept of its own comes with its plans; what is here already stays as it is.
    let take_into_pantry = async |pantry| here.add_to_pantry(pantry, state.clock.now()).await;
    let not_a_plan = match read_plan_file(&text) {
        Ok(file) => {
            take_into_pantry(Pantry { foods: file.own.into_iter().collect(), ..Pantry::default() }).await?;
            // Read as a link: another day's times are not carried over.
            let typed = PlanForm { ready: String::new(), ..file.typed };
            return Ok(see_other(&format!("/plan?{}", encoded(&typed)?)));
        }
        Err(e) => e,
    };
    let presets = match not_a_plan {
        ImportError::Format(other) if other == PRESETS_FORMAT => read_presets_file(&text),
        other => Err(other),
    };
    match presets {
        Ok(file) => {
            take_into_pantry(Pantry { foods: file.foods, ..Pantry::default() }).await?;
            let added = take_into_pantry(Pantry { presets: file.presets, ..Pantry::default() }).await?;
            let notice = Some(says::added(added));
            show(&state, &request, &PlanForm::default(), Remarks { notice, ..Remarks::default() }).await
        }
        Err(e) => refused(says::not_opened(&e)).await,
    }
}

async fn unprocessable(
    state: &AppState,
    request: &HttpRequest,
    typed: &PlanForm,
    problem: String,
) -> Result<HttpResponse, PageError> {
    let said = Remarks { problem: Some(problem), ..Remarks::default() };
    let mut response = show(state, request, typed, said).await?;
    *response.status_mut() = StatusCode::UNPROCESSABLE_ENTITY;
    Ok(response)
}

#[derive(Deserialize)]
struct Keep {
    id: Uuid,
    #[serde(default)]
    name: String,
    #[serde(flatten)]
    typed: PlanForm,
}

/// Keeps the sentence as a preset. The form carries the preset's identifier: sent twice, it is kept once.
async fn keep(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Keep>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Keep { id, name, typed } = form.into_inner();
    let preset = Preset::of(id, &name, &typed);
    if let Err(e) = check_preset(&preset) {
        return unprocessable(&state, &request, &typed, says::not_kept(&e)).await;
    }
    here.keep_preset(preset, state.clock.now()).await?;
    Ok(see_other(&format!("/plan?{}", encoded(&typed)?)))
}

#[derive(Deserialize)]
struct Anew {
    #[serde(default)]
    thickness: String,
    #[serde(default)]
    weight: String,
    #[serde(default)]
    removed: bool,
    #[serde(default)]
    from: String,
    #[serde(default)]
    guests: String,
    #[serde(default)]
    size: String,
    #[serde(default)]
    intact: String,
    #[serde(default)]
    parasites: String,
    #[serde(default)]
    prepared: String,
}

/// A preset, planned for a piece as it is today.
async fn preset(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    anew: web::Query<Anew>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    match pantry.preset(*id) {
        Some(preset) => {
            let Anew { thickness, weight, from, guests, size, intact, parasites, prepared, .. } =
                anew.into_inner();
            let piece = preset.form(&thickness, &weight);
            let form = PlanForm { from, guests, size, intact, parasites, prepared, ..piece };
            Ok(see_other(&format!("/plan?{}#answer", encoded(&form)?)))
        }
        None if anew.removed => {
            show(&state, &request, &PlanForm::default(), Remarks { removed: Some(*id), ..Remarks::default() })
                .await
        }
        None => Err(PageError::Request(says::PRESET_GONE.into())),
    }
}

async fn remove_preset(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<Removal>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let restore = form.restore;
    match here.remove_preset(*id, form.put(), state.clock.now()).await {
        Err(StoreError::NotFound) => Err(PageError::Request(says::NO_SUCH_PRESET.into())),
        Err(e) => Err(e.into()),
        Ok(()) if restore => Ok(see_other("/plan")),
        Ok(()) => Ok(see_other(&format!("/plan/presets/{id}?removed=true"))),
    }
}

/// All presets, with the foods of the kitchen's own that they are made with.
async fn presets_file(here: Here) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    let uses = |food: &OwnFood| {
        pantry.presets.iter().any(|p| p.typed.get("food").and_then(|f| f.as_str()) == Some(&food.id))
    };
    let foods = pantry.foods.iter().filter(|f| uses(f)).cloned().collect();
    let file = PresetsFile {
        format: PRESETS_FORMAT.into(),
        version: FILE_VERSION,
        presets: pantry.presets.clone(),
        foods,
    };
    app::json_file("hold-steady-presets.json", &file)
}
