//! The plan page: the sentence, the answer, and taking it up.

mod view;

use actix_web::http::header::HeaderName;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::plan::{PlanForm, Reading, plan};
use hold_steady_store::{NewCook, new_id};
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{self, AppState, PageError, Place, Shell, html, reader_units, see_other};
use view::{Answer, Sentence};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(web::resource("/plan").route(app::get(page)))
        .service(web::resource("/plan/answer").route(app::get(answer)))
        .service(web::resource("/plan/start").route(web::post().to(start)));
}

#[derive(Template)]
#[template(path = "plan/page.html")]
struct PlanPage {
    shell: Shell,
    sentence: Sentence,
    answer: Option<Answer>,
}

/// The fragment that follows every change: the answer, and the fields the core filled in.
#[derive(Template)]
#[template(path = "plan/fragment.html")]
struct Fragment {
    sentence: Sentence,
    answer: Option<Answer>,
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
    let (sentence, answer) = understand(&state, &request, &typed)?;
    let shell = Shell::new(&state, &request, Place::Plan, "Plan").await?;
    html(&PlanPage { shell, sentence, answer })
}

async fn answer(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<PlanForm>,
) -> Result<HttpResponse, PageError> {
    let (sentence, answer) = understand(&state, &request, &typed)?;
    // Reload and the back button find the sentence as it was last answered.
    let address = format!("/plan?{}", encoded(&sentence.form)?);
    let mut response = html(&Fragment { sentence: sentence.after(&typed), answer })?;
    let value = address.parse().map_err(|_| PageError::Request("unprintable text".into()))?;
    response.headers_mut().insert(HeaderName::from_static("hx-replace-url"), value);
    Ok(response)
}

fn read(state: &AppState, request: &HttpRequest, typed: &PlanForm) -> Reading {
    let kitchen = &state.kitchen;
    typed.read(reader_units(request), state.clock.now(), &kitchen.zone, &kitchen.rules)
}

fn understand(
    state: &AppState,
    request: &HttpRequest,
    typed: &PlanForm,
) -> Result<(Sentence, Option<Answer>), PageError> {
    let reading = read(state, request, typed);
    let now = state.clock.now();
    let answer = match &reading.request {
        Some(understood) => Some(Answer::new(state, request, &reading.form, understood, now)?),
        None => None,
    };
    Ok((Sentence::new(reading), answer))
}

fn encoded(form: &PlanForm) -> Result<String, PageError> {
    serde_urlencoded::to_string(form).map_err(|e| PageError::Request(e.to_string()))
}

#[derive(Deserialize)]
struct Start {
    cook: Uuid,
    #[serde(flatten)]
    typed: PlanForm,
}

/// Takes the plan up. The form carries an identifier for the cook, so that sending it twice (a double
/// tap, a reload) starts one cook.
async fn start(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Start>,
) -> Result<HttpResponse, PageError> {
    let Start { cook, typed } = form.into_inner();
    if state.store.cook(cook).await.is_ok() {
        return Ok(see_other(&format!("/cook/{cook}")));
    }
    let reading = read(&state, &request, &typed);
    let now = state.clock.now();
    let units = reader_units(&request);
    let Some(understood) = reading.request.clone() else {
        return Ok(see_other(&format!("/plan?{}", encoded(&typed)?)));
    };
    let plan = plan(&understood, now, units)?;
    if plan.is_refused() {
        return Ok(see_other(&format!("/plan?{}", encoded(&typed)?)));
    }
    let title = understood.title(units);
    let new = NewCook { id: cook, title, typed: reading.form, request: understood, plan };
    let id = state.store.start_cook(state.kitchen.id, new, now).await?;
    Ok(see_other(&format!("/cook/{id}")))
}

/// An identifier for the cook a page may start.
fn fresh_id(state: &AppState) -> Uuid {
    new_id(state.clock.now())
}
