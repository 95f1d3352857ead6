//! Screens the owner enrols, when PINs are asked there, and what inspectors may see.

use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::who::ScreenKind;
use hold_steady_store::StoreError;
use jiff::ToSpan;
use jiff::civil::Date;
use serde::Deserialize;
use uuid::Uuid;

use super::people::{Said, shown};
use crate::app::{
    self, AppState, Here, PageError, or_why, plain_name, screen_cookie, see_other, session_cookie,
};
use crate::words::people as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/screens").route(web::post().to(enrol)))
        .service(app::resource("/screens/{id}/end").route(web::post().to(end)))
        .service(app::resource("/screens/{id}/unlock").route(web::post().to(unlock_screen)))
        .service(app::resource("/people/{id}/unlock").route(web::post().to(unlock_person)))
        .service(app::resource("/people/pins").route(web::post().to(pins)))
        .service(app::resource("/people/periods").route(web::post().to(open_period)))
        .service(app::resource("/people/periods/{id}/close").route(web::post().to(close_period)));
}

#[derive(Deserialize)]
struct New {
    #[serde(default)]
    name: String,
    kind: ScreenKind,
}

/// The browser this is sent from becomes a screen of the kitchen; whoever is signed in on it is so no more.
async fn enrol(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<New>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    if !state.door.asks() {
        return Ok(see_other("/people"));
    }
    let New { name, kind } = form.into_inner();
    let enrolled = match plain_name(&name, says::SCREEN_NAME) {
        Ok(plain) => or_why(here.enrol(plain, kind, here.who().session, state.clock.now()).await)?,
        Err(why) => Err(why),
    };
    let token = match enrolled {
        Ok(token) => token,
        Err(why) => {
            let said = Said { problem: Some(why), screen_name: name, ..Said::default() };
            return shown(&state, &request, said).await;
        }
    };
    let to = match kind {
        ScreenKind::Shared => "/who",
        ScreenKind::Display => "/board/kiosk",
    };
    let mut answer = see_other(to);
    // Cookies of hexadecimal digits: they can always be written.
    for cookie in [screen_cookie(&request, Some(&token)), session_cookie(&request, None)] {
        let _ = answer.add_cookie(&cookie);
    }
    Ok(answer)
}

async fn end(state: web::Data<AppState>, id: web::Path<Uuid>, here: Here) -> Result<HttpResponse, PageError> {
    here.end_screen(*id, state.clock.now()).await?;
    Ok(see_other("/people#screens"))
}

async fn unlock_screen(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let screen = here.screens().await?.into_iter().find(|s| s.id == *id);
    let name = screen.ok_or(PageError::Store(StoreError::NotFound))?.name;
    here.unlock(*id, name, state.clock.now()).await?;
    Ok(see_other("/people#screens"))
}

async fn unlock_person(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let member = here.members().await?.into_iter().find(|m| m.person.id == *id);
    let name = member.ok_or(PageError::Store(StoreError::NotFound))?.person.name;
    here.unlock(*id, name, state.clock.now()).await?;
    Ok(see_other("/people"))
}

#[derive(Deserialize)]
struct Pins {
    #[serde(default)]
    always: String,
}

async fn pins(
    state: web::Data<AppState>,
    form: web::Form<Pins>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    here.ask_pins(form.always == "yes", state.clock.now()).await?;
    Ok(see_other("/people#screens"))
}

#[derive(Deserialize)]
struct Days {
    #[serde(default)]
    from: String,
    #[serde(default)]
    until: String,
}

/// Both days count whole, in the kitchen's zone.
async fn open_period(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Days>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let kitchen = state.kitchen();
    let days = (form.from.trim().parse::<Date>(), form.until.trim().parse::<Date>());
    let begin = |day: Date| kitchen.zone.to_timestamp(day.to_datetime(jiff::civil::Time::midnight()));
    let period = match days {
        (Ok(from), Ok(until)) => {
            until.checked_add(1.day()).and_then(|after| Ok((begin(from)?, begin(after)?))).ok()
        }
        _ => None,
    };
    let opened = match period.filter(|(from, until)| from < until) {
        Some((from, until)) => or_why(here.open_period(from, until, state.clock.now()).await)?,
        None => Err(says::NO_PERIOD.to_owned()),
    };
    match opened {
        Ok(()) => Ok(see_other("/people#inspectors")),
        Err(why) => shown(&state, &request, Said { problem: Some(why), ..Said::default() }).await,
    }
}

async fn close_period(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    here.close_period(*id, state.clock.now()).await?;
    Ok(see_other("/people#inspectors"))
}
