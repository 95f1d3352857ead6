//! Whoever is signed in, on a screen of their own: their password, their PIN, where they are signed in.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::who::{PIN_DIGITS, Proof, unfit_pin};
use serde::Deserialize;
use uuid::Uuid;

use super::secret;
use super::sign_in::proved_again;
use crate::app::{self, AppState, Here, PageError, Place, Shell, html_for, near_time, see_other};
use crate::words::people as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/you").route(app::get(page)))
        .service(app::resource("/you/password").route(web::post().to(password)))
        .service(app::resource("/you/pin").route(web::post().to(pin)))
        .service(app::resource("/you/sessions/{id}/end").route(web::post().to(end)))
        .service(app::resource("/you/sessions/end").route(web::post().to(end_all)));
}

/// A session of theirs.
struct Open {
    id: Uuid,
    agent: String,
    since: String,
    seen: String,
    mine: bool,
}

#[derive(Template)]
#[template(path = "door/you.html")]
struct YouPage {
    shell: Shell,
    name: String,
    role: &'static str,
    has_pin: bool,
    sessions: Vec<Open>,
    shortest: usize,
    digits: usize,
    done: Option<&'static str>,
    errors: BTreeMap<&'static str, String>,
}

impl YouPage {
    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }
}

/// Whoever is signed in with a password; where nobody is, the way on.
fn signed(state: &AppState, here: &Here) -> Result<(Uuid, Uuid), &'static str> {
    if !state.door.asks() {
        return Err("/kitchen");
    }
    match (here.who().by.person, here.who().session) {
        (Some(person), Some(session)) if here.who().proof == Proof::Enough => Ok((person, session)),
        _ if here.who().shared().is_some() => Err("/who"),
        _ => Err("/sign-in?to=%2Fyou"),
    }
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    here: &Here,
    (done, errors): (Option<&'static str>, BTreeMap<&'static str, String>),
) -> Result<HttpResponse, PageError> {
    let (person, session) = match signed(state, here) {
        Ok(signed) => signed,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    let (now, wall) = (state.clock.now(), state.kitchen().wall());
    let sessions = here.sessions(now).await?.into_iter().filter(|s| s.person == person).map(|s| Open {
        id: s.id,
        since: near_time(s.made_at, now, &wall),
        seen: near_time(s.seen_at, now, &wall),
        mine: s.id == session,
        agent: s.agent,
    });
    let sessions = sessions.collect();
    let refused = !errors.is_empty();
    let page = YouPage {
        shell: Shell::new(state, request, Place::Kitchen, "You").await?,
        name: here.who().by.name.clone(),
        role: says::role(here.who().role),
        has_pin: here.pin_of(person).await?.is_some(),
        sessions,
        shortest: hold_steady_core::who::SHORTEST_PASSWORD,
        digits: PIN_DIGITS,
        done,
        errors,
    };
    html_for(&page, refused)
}

#[derive(Deserialize, Default)]
struct Done {
    #[serde(default)]
    done: String,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Done>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let done = match query.done.as_str() {
        "password" => Some(says::PASSWORD_CHANGED),
        "pin" => Some(says::PIN_CHANGED),
        _ => None,
    };
    show(&state, &request, &here, (done, BTreeMap::new())).await
}

#[derive(Deserialize)]
struct Changed {
    #[serde(default)]
    now: String,
    #[serde(default)]
    new: String,
}

async fn password(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Changed>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let (_, session) = match signed(&state, &here) {
        Ok(signed) => signed,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    let Changed { now, new } = form.into_inner();
    let mut errors = BTreeMap::new();
    if let Some(why) = secret::unfit(&new, &here.who().by.name) {
        errors.insert("new", why);
    } else if let Err(why) = proved_again(&state, &request, &here, now).await? {
        errors.insert("now", why);
    }
    if !errors.is_empty() {
        return show(&state, &request, &here, (None, errors)).await;
    }
    here.change_password(secret::hash(new).await?, session, state.clock.now()).await?;
    Ok(see_other("/you?done=password"))
}

#[derive(Deserialize)]
struct Pin {
    #[serde(default)]
    password: String,
    #[serde(default)]
    pin: String,
}

async fn pin(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Pin>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    if let Err(elsewhere) = signed(&state, &here) {
        return Ok(see_other(elsewhere));
    }
    let Pin { password, pin } = form.into_inner();
    let pin = pin.trim().to_owned();
    let mut errors = BTreeMap::new();
    if let Some(why) = unfit_pin(&pin) {
        errors.insert("pin", why);
    } else if let Err(why) = proved_again(&state, &request, &here, password).await? {
        errors.insert("password", why);
    }
    if !errors.is_empty() {
        return show(&state, &request, &here, (None, errors)).await;
    }
    here.choose_pin(secret::hash_pin(state.pin_key.clone(), pin).await?, state.clock.now()).await?;
    Ok(see_other("/you?done=pin"))
}

async fn end(state: web::Data<AppState>, id: web::Path<Uuid>, here: Here) -> Result<HttpResponse, PageError> {
    let (person, _) = match signed(&state, &here) {
        Ok(signed) => signed,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    let now = state.clock.now();
    // Nobody ends another's here.
    if here.sessions(now).await?.iter().any(|s| s.id == *id && s.person == person) {
        here.end_session(*id, now).await?;
    }
    Ok(see_other("/you"))
}

async fn end_all(state: web::Data<AppState>, here: Here) -> Result<HttpResponse, PageError> {
    match signed(&state, &here) {
        Ok((person, _)) => {
            here.end_sessions_of(person, state.clock.now()).await?;
            Ok(see_other("/sign-in"))
        }
        Err(elsewhere) => Ok(see_other(elsewhere)),
    }
}
