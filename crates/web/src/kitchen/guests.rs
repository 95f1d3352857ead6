//! Whom the kitchen cooks for.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::plan::GuestForm;
use hold_steady_store::StoreError;
use serde::Deserialize;
use uuid::Uuid;

use super::{Typed, show};
use crate::app::{AppState, Here, PageError, or_why, reader_units, resource, see_other};
use crate::words::kitchen as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/kitchen/guests").route(web::post().to(keep)))
        .service(resource("/kitchen/guests/{id}/removed").route(web::post().to(remove)));
}

#[derive(Deserialize)]
struct Kept {
    /// Chosen by the page: sent twice, they are there once.
    id: Uuid,
    #[serde(flatten)]
    form: GuestForm,
}

async fn keep(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Kept>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Kept { id, form } = form.into_inner();
    let kept = match form.read(id, 0) {
        Ok(guest) => {
            or_why(here.keep_guest(guest, state.clock.now()).await)?.map(|_| ()).map_err(|why| ("guest", why))
        }
        Err(problem) => Err(problem),
    };
    match kept {
        Ok(()) => Ok(see_other("/kitchen?done=guests#guests-title")),
        Err((field, text)) => {
            let typed =
                Typed { guest: form, guest_id: Some(id), ..Typed::as_it_is(&state, reader_units(&request)) };
            show(&state, &request, typed, BTreeMap::from([(field, text)]), None).await
        }
    }
}

async fn remove(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    match here.remove_guest(*id, state.clock.now()).await {
        Err(StoreError::NotFound) => Err(PageError::Request(says::NO_SUCH_GUEST.into())),
        other => {
            other?;
            Ok(see_other("/kitchen?done=guests#guests-title"))
        }
    }
}
