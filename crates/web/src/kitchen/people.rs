//! Who works in the kitchen, and who uses this device.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::plan::Person;
use hold_steady_store::{Put, StoreError};
use serde::Deserialize;
use uuid::Uuid;

use super::{Typed, show};
use crate::app::{AppState, Here, PageError, or_why, reader_units, resource, see_other, used_by};
use crate::words::kitchen as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/kitchen/people").route(web::post().to(keep)))
        .service(resource("/kitchen/people/{id}/left").route(web::post().to(let_go)))
        .service(resource("/kitchen/device").route(web::post().to(device)));
}

#[derive(Deserialize)]
struct New {
    /// Chosen by the page: sent twice, they are there once.
    id: Uuid,
    #[serde(default)]
    name: String,
    #[serde(default)]
    initials: String,
    #[serde(default)]
    then: Then,
}

/// Where it leads when it is done: back to the page it was sent from.
#[derive(Deserialize, Default, Clone, Copy)]
#[serde(rename_all = "lowercase")]
enum Then {
    #[default]
    Kitchen,
    People,
}

impl Then {
    const fn address(self) -> &'static str {
        match self {
            Self::Kitchen => "/kitchen?done=people#people",
            Self::People => "/people",
        }
    }
}

async fn keep(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<New>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let New { id, name, initials, then } = form.into_inner();
    let kept = match Person::named(id, &name, &initials) {
        Ok(person) => or_why(here.keep_person(person, state.clock.now()).await)?.map_err(|why| ("name", why)),
        Err(problem) => Err(problem),
    };
    match kept {
        Ok(()) => Ok(see_other(then.address())),
        Err((field, text)) => {
            let field = if field == "name" { "person" } else { field };
            let typed = Typed { person: name, initials, ..Typed::as_it_is(&state, reader_units(&request)) };
            show(&state, &request, typed, BTreeMap::from([(field, text)]), None).await
        }
    }
}

#[derive(Deserialize)]
struct Left {
    #[serde(default)]
    back: bool,
    #[serde(default)]
    then: Then,
}

async fn let_go(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<Left>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let put = if form.back { Put::Back } else { Put::Off };
    match here.let_go(*id, put, state.clock.now()).await {
        Err(StoreError::NotFound) => Err(PageError::Request(says::NOBODY_WORKS_HERE.into())),
        other => {
            other?;
            Ok(see_other(form.then.address()))
        }
    }
}

#[derive(Deserialize)]
struct Device {
    #[serde(default)]
    person: String,
}

/// Says who uses this device; empty for nobody in particular.
async fn device(form: web::Form<Device>) -> Result<HttpResponse, PageError> {
    let person = match form.person.as_str() {
        "" => None,
        id => Some(id.parse().map_err(|_| PageError::Request(says::NOBODY.into()))?),
    };
    let mut response = see_other("/kitchen?done=device#people");
    // A cookie of hexadecimal digits: it can always be written.
    let _ = response.add_cookie(&used_by(person));
    Ok(response)
}
