//! The finish: cool, sear, rest, cut. What a sear does to this piece, and the one that does least.

mod answer;
mod choose;
mod pace;
mod view;

use actix_web::{HttpRequest, HttpResponse, web};
use answer::ChosenView;
use askama::Template;
use hold_steady_core::cook::{Milestone, Stage, for_finish};
use hold_steady_core::food::{Food, From, Pantry, catalogue};
use hold_steady_core::sear::{ChosenFinish, FinishForm, Given};
use hold_steady_core::units::{capitalised, unbroken};
use uuid::Uuid;
use view::{FinishView, WayView, ways};

use crate::app::{self, AppState, Here, PageError, Place, Shell, compute, html, reader_units, running};
use crate::cook::parse_id;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/finish").route(app::get(page)))
        .service(app::resource("/finish/answer").route(app::get(answer)))
        .service(app::resource("/finish/ways").route(app::get(other_ways)));
    pace::configure(config);
    choose::configure(config);
}

/// The piece that is finished: a cook's, or one as typed.
pub struct Piece {
    pub food: Food,
    /// In words.
    pub title: String,
    pub cook: Option<Uuid>,
    /// The cook's bag and piece, where there is one of each.
    pub given: Given,
    pub pulled: bool,
    /// It may still be said how it is to be finished.
    pub to_come: bool,
    /// How it is to be finished, where that was chosen.
    pub chosen: Option<ChosenFinish>,
}

/// An egg or a jar has nothing to sear.
fn is_seared(food: &Food) -> Result<(), PageError> {
    if food.finish().sears {
        return Ok(());
    }
    Err(PageError::NotSeared(capitalised(&food.name), food.finish().name.clone()))
}

/// The piece a form names.
pub async fn piece(
    state: &AppState,
    request: &HttpRequest,
    pantry: &Pantry,
    form: &FinishForm,
) -> Result<Piece, PageError> {
    let (rules, units) = (state.kitchen().rules.clone(), reader_units(request));
    if form.cook.is_empty() {
        // Nothing named is the usual piece; a name that is nobody's is never taken for another.
        let named =
            if form.food.is_empty() { catalogue().food("beef-strip") } else { pantry.food(&form.food) };
        let food = named.cloned().ok_or(PageError::NoSuchFood)?;
        is_seared(&food)?;
        let given = Given {
            pull: form.pull.parse().ok(),
            altitude_m: rules.altitude_m,
            lid_low: Some(rules.lid_low_k),
            pans: rules.pans,
            ..Given::default()
        };
        return Ok(Piece {
            title: food.name.clone(),
            food,
            cook: None,
            given,
            pulled: false,
            to_come: false,
            chosen: None,
        });
    }
    let record = Here::of(request)?.cook(parse_id(&form.cook)?).await?;
    let now = state.clock.now();
    compute(state, request, move || {
        let planned = record.plan_record().ok_or(PageError::NoSuchCook)?;
        let (plan, stands) = (planned.plan()?, record.state());
        is_seared(planned.request.food())?;
        let given = for_finish(&planned.request, &plan, &stands, &record.water(&stands), now)?;
        // What is measured with is the kitchen's as it is today.
        let given = Given { lid_low: Some(rules.lid_low_k), pans: rules.pans, ..given };
        Ok(Piece {
            food: planned.request.food().clone(),
            title: unbroken(&record.title_in(units)),
            cook: Some(record.id),
            given,
            pulled: stands.when(Milestone::Pulled).is_some(),
            to_come: stands.stage() < Stage::Seared,
            chosen: stands.chosen_finish().cloned(),
        })
    })
    .await?
}

#[derive(Template)]
#[template(path = "finish/page.html")]
struct FinishPage {
    shell: Shell,
    finish: FinishView,
}

#[derive(Template)]
#[template(path = "finish/finish.html")]
struct FinishFragment {
    finish: FinishView,
}

async fn worked_out(
    state: &web::Data<AppState>,
    request: &HttpRequest,
    mut typed: FinishForm,
) -> Result<FinishView, PageError> {
    let units = reader_units(request);
    let now = state.clock.now();
    // Without a word, what is under way is what is finished next.
    if typed == FinishForm::default() {
        let all = running(state, now).await?;
        let next =
            all.0.iter().find(|r| r.record.plan_record().is_some_and(|p| p.request.food().finish().sears));
        if let Some(next) = next {
            typed.cook = next.record.id.to_string();
        }
    }
    let pantry = Here::of(request)?.pantry().await?;
    let piece = piece(state, request, &pantry, &typed).await?;
    // A cook's piece and not a word more: as it was chosen.
    let bare = FinishForm { cook: typed.cook.clone(), ..FinishForm::default() };
    if let Some(chosen) = piece.chosen.as_ref().filter(|_| typed == bare) {
        typed = FinishForm { cook: typed.cook, ..chosen.form(units) };
    }
    let foods: Vec<(String, String)> =
        pantry.listed().filter(|f| f.finish().sears).map(|f| (f.id.clone(), f.name.clone())).collect();
    let zone = state.kitchen().wall();
    let finishes = state.finishes.clone();
    compute(state, request, move || FinishView::new(piece, &typed, foods, (&finishes, units, now, &zone)))
        .await?
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<FinishForm>,
) -> Result<HttpResponse, PageError> {
    let finish = worked_out(&state, &request, typed.into_inner()).await?;
    let shell = Shell::new(&state, &request, Place::Finish, "Finish").await?;
    html(&FinishPage { shell, finish })
}

async fn answer(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<FinishForm>,
) -> Result<HttpResponse, PageError> {
    let finish = worked_out(&state, &request, typed.into_inner()).await?;
    // Reload and the back button find it as it was typed.
    let address = format!("/finish?{}", finish.query);
    let response = html(&FinishFragment { finish })?;
    app::at_address(response, &address)
}

#[derive(Template)]
#[template(path = "finish/ways.html")]
struct WaysFragment {
    ways: Vec<WayView>,
    centre: String,
    /// How cold it is taken to be where it begins raw.
    raw_from: String,
}

/// The same piece by other ways; fetched when it comes into view.
async fn other_ways(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<FinishForm>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let (typed, units) = (typed.into_inner(), reader_units(&request));
    let piece = piece(&state, &request, &here.pantry().await?, &typed).await?;
    let (centre, ways) = compute(&state, &request, move || ways(&piece, &typed, units)).await??;
    let raw_from = units.temperature(From::Refrigerator.start().nominal_c);
    html(&WaysFragment { ways, centre, raw_from })
}
