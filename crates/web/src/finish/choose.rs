//! A finish is chosen for a cook's piece: written down with it, so that the steps, the calendar and the board know it.

use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::cook::EventKind;
use hold_steady_core::sear::{ChosenFinish, FinishForm};
use hold_steady_store::{NewEvent, new_id};
use serde::Deserialize;
use uuid::Uuid;

use super::piece;
use super::view::encoded;
use crate::app::{AppState, Here, PageError, reader_units, resource, see_other};
use crate::cook::{record, refused};

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(resource("/finish/choose").route(web::post().to(choose)));
}

/// What a tap carries besides the sentence, which is in the address.
#[derive(Deserialize)]
struct Tap {
    tap: Option<Uuid>,
}

async fn choose(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<FinishForm>,
    tap: web::Form<Tap>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let typed = typed.into_inner();
    let back = format!("/finish?{}", encoded(&typed)?);
    let found = piece(&state, &request, &here.pantry().await?, &typed).await?;
    let Some(cook) = found.cook else { return Ok(see_other(&back)) };
    let (_, asked, _) = typed.read(&found.food, &found.given, reader_units(&request));
    // Nothing to write down: the page where it is said says what is missing.
    let Some(chosen) = asked.as_ref().and_then(ChosenFinish::of) else { return Ok(see_other(&back)) };
    let now = state.heed_clock().await?;
    let event = NewEvent {
        id: tap.tap.unwrap_or_else(|| new_id(now)),
        happened_at: now,
        kind: EventKind::FinishChosen(Box::new(chosen)),
    };
    match record(&request, cook, event, now).await? {
        Ok(()) => Ok(see_other(&format!("/cook/{cook}#step-heat"))),
        Err(refusal) => Err(PageError::Request(refused(&refusal, &state))),
    }
}
