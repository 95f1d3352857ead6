//! A screen that several share: a name by one tap, a PIN where one is needed.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::plan::Person;
use hold_steady_core::who::{Role, SHARED_IDLE_MINUTES};
use hold_steady_store::{OnScreen, PinTry, StoreError, WithPin};
use serde::Deserialize;
use uuid::Uuid;

use super::secret;
use super::sign_in::{plain_line, proved_owner, shown, way};
use crate::app::{self, AppState, Here, PageError, screen_cookie, see_other, session_cookie};
use crate::words::people as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/who").route(app::get(page)).route(web::post().to(named)))
        .service(app::resource("/who/names").route(app::get(names)))
        .service(app::resource("/who/pin").route(app::get(pin_page)).route(web::post().to(pin)))
        .service(app::resource("/who/touched").route(web::post().to(touched)))
        .service(app::resource("/who/leave").route(web::post().to(leave)))
        .service(app::resource("/who/end").route(app::get(end_page)).route(web::post().to(end)));
}

/// A name to be tapped.
struct Name {
    person: Person,
    /// Whether this one is to give a PIN now.
    asked: bool,
}

#[derive(Template)]
#[template(path = "door/who.html")]
struct WhoPage {
    version: &'static str,
    kitchen: String,
    plain_line: bool,
    names: Names,
}

/// The names, and the PIN of one of them where it is asked for.
#[derive(Template)]
#[template(path = "door/names.html")]
struct Names {
    screen: String,
    people: Vec<Name>,
    to: String,
    /// Every name takes a PIN here.
    always: bool,
    problem: Option<String>,
    minutes: i64,
}

#[derive(Deserialize, Default)]
struct To {
    #[serde(default)]
    to: String,
}

async fn names_of(
    here: &Here,
    screen: &OnScreen,
    to: &str,
    asked: Option<Uuid>,
    problem: Option<String>,
) -> Result<Names, PageError> {
    let people = here.members().await?.into_iter();
    // An inspector looks on a screen of their own.
    let people = people.filter(|m| m.role != Role::Inspector).map(|m| m.person);
    let people = people.map(|person| Name { asked: asked == Some(person.id), person }).collect();
    Ok(Names {
        screen: screen.name.clone(),
        people,
        to: way(to).to_owned(),
        always: here.pins_always().await?,
        problem,
        minutes: SHARED_IDLE_MINUTES,
    })
}

fn whole(state: &AppState, names: Names, status: StatusCode) -> Result<HttpResponse, PageError> {
    let kitchen = state.kitchen().name.clone();
    let page = WhoPage { version: app::asset_version(), kitchen, plain_line: plain_line(state), names };
    shown(&page, status)
}

/// The shared screen this is asked at; where it is none, the way on.
fn at(here: &Here) -> Result<OnScreen, &'static str> {
    here.who().shared().cloned().ok_or("/")
}

async fn page(
    state: web::Data<AppState>,
    query: web::Query<To>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let screen = match at(&here) {
        Ok(screen) => screen,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    whole(&state, names_of(&here, &screen, &query.to, None, None).await?, StatusCode::OK)
}

/// The names alone, for a page that is open and asks over itself.
async fn names(query: web::Query<To>, here: Here) -> Result<HttpResponse, PageError> {
    let screen = match at(&here) {
        Ok(screen) => screen,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    shown(&names_of(&here, &screen, &query.to, None, None).await?, StatusCode::OK)
}

#[derive(Deserialize)]
struct Tapped {
    person: Uuid,
    #[serde(default)]
    pin: String,
    #[serde(default)]
    to: String,
}

/// Whether a PIN is somebody's, tried on a screen; why not, in words, with how it is answered.
async fn tried(
    state: &AppState,
    here: &Here,
    (person, screen): (Uuid, Uuid),
    typed: String,
) -> Result<Result<(), (StatusCode, String)>, PageError> {
    let now = state.clock.now();
    let refused = match here.pin_try(person, screen, now).await? {
        PinTry::Open => None,
        PinTry::Wait(left) => Some((StatusCode::TOO_MANY_REQUESTS, says::wait(left.as_secs() + 1))),
        PinTry::NameLocked => Some((StatusCode::LOCKED, says::NAME_LOCKED.to_owned())),
        PinTry::ScreenLocked => Some((StatusCode::LOCKED, says::SCREEN_LOCKED.to_owned())),
    };
    if let Some(refused) = refused {
        return Ok(Err(refused));
    }
    let Some(kept) = here.pin_of(person).await? else {
        return Ok(Err((StatusCode::UNPROCESSABLE_ENTITY, says::NO_PIN.into())));
    };
    if secret::is_pin(state.pin_key.clone(), typed.trim().to_owned(), Some(kept)).await? {
        return Ok(Ok(()));
    }
    here.pin_wrong(person, screen, now).await?;
    let owner = here.members().await?.iter().any(|m| m.person.id == person && m.role == Role::Owner);
    let why = if owner { says::PIN_OF_OWNER_WRONG } else { says::PIN_WRONG };
    Ok(Err((StatusCode::UNPROCESSABLE_ENTITY, why.into())))
}

/// Somebody tapped their name.
async fn named(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Tapped>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let screen = match at(&here) {
        Ok(screen) => screen,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    let Tapped { person, pin, to } = form.into_inner();
    let known = here.members().await?.into_iter().any(|m| m.person.id == person && m.role != Role::Inspector);
    if !known {
        return Err(PageError::Store(StoreError::NotFound));
    }
    let mut with = WithPin::NotAsked;
    if !pin.trim().is_empty() {
        if let Err((status, why)) = tried(&state, &here, (person, screen.id), pin).await? {
            return whole(&state, names_of(&here, &screen, &to, Some(person), Some(why)).await?, status);
        }
        here.pin_right(person, screen.id, None, state.clock.now()).await?;
        with = WithPin::Given;
    } else if here.pins_always().await? {
        let names = names_of(&here, &screen, &to, Some(person), None).await?;
        return whole(&state, names, StatusCode::UNPROCESSABLE_ENTITY);
    }
    let token = here.begin_named(person, screen.id, with, state.clock.now()).await?;
    let mut answer = see_other(way(&to));
    // A cookie of hexadecimal digits: it can always be written.
    let _ = answer.add_cookie(&session_cookie(&request, Some(&token)));
    Ok(answer)
}

#[derive(Template)]
#[template(path = "door/pin.html")]
struct PinPage {
    version: &'static str,
    kitchen: String,
    plain_line: bool,
    name: String,
    to: String,
    problem: Option<String>,
}

fn asked_pin(
    state: &AppState,
    here: &Here,
    to: &str,
    (status, problem): (StatusCode, Option<String>),
) -> Result<HttpResponse, PageError> {
    let page = PinPage {
        version: app::asset_version(),
        kitchen: state.kitchen().name.clone(),
        plain_line: plain_line(state),
        name: here.who().by.name.clone(),
        to: way(to).to_owned(),
        problem,
    };
    shown(&page, status)
}

async fn pin_page(
    state: web::Data<AppState>,
    query: web::Query<To>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    match (at(&here), here.who().session) {
        (Err(elsewhere), _) => Ok(see_other(elsewhere)),
        (Ok(_), None) => Ok(see_other("/who")),
        (Ok(_), Some(_)) => asked_pin(&state, &here, &query.to, (StatusCode::OK, None)),
    }
}

#[derive(Deserialize)]
struct Given {
    #[serde(default)]
    pin: String,
    #[serde(default)]
    to: String,
}

/// Whoever is named gives their PIN.
async fn pin(
    state: web::Data<AppState>,
    form: web::Form<Given>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let screen = match at(&here) {
        Ok(screen) => screen,
        Err(elsewhere) => return Ok(see_other(elsewhere)),
    };
    let (Some(person), Some(session)) = (here.who().by.person, here.who().session) else {
        return Err(PageError::Who);
    };
    let Given { pin, to } = form.into_inner();
    match tried(&state, &here, (person, screen.id), pin).await? {
        Ok(()) => {
            here.pin_right(person, screen.id, Some(session), state.clock.now()).await?;
            Ok(see_other(way(&to)))
        }
        Err((status, why)) => asked_pin(&state, &here, &to, (status, Some(why))),
    }
}

/// Somebody touched the screen: whoever is named there goes on being so. (That it was posted says it.)
async fn touched(here: Here) -> HttpResponse {
    let named = here.who().session.is_some();
    HttpResponse::build(if named { StatusCode::NO_CONTENT } else { StatusCode::GONE }).finish()
}

/// Whoever is named there is there no more.
async fn leave(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<To>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Ok(_) = at(&here) else { return Ok(see_other("/")) };
    if let Some(session) = here.who().session {
        here.left_screen(session, state.clock.now()).await?;
    }
    let to = serde_urlencoded::to_string([("to", way(&form.to))]).unwrap_or_default();
    let mut answer = see_other(&format!("/who?{to}"));
    let _ = answer.add_cookie(&session_cookie(&request, None));
    Ok(answer)
}

#[derive(Template)]
#[template(path = "door/end.html")]
struct EndPage {
    version: &'static str,
    kitchen: String,
    plain_line: bool,
    screen: String,
    name: String,
    problem: Option<String>,
}

fn end_shown(
    state: &AppState,
    screen: &OnScreen,
    name: String,
    (status, problem): (StatusCode, Option<String>),
) -> Result<HttpResponse, PageError> {
    let page = EndPage {
        version: app::asset_version(),
        kitchen: state.kitchen().name.clone(),
        plain_line: plain_line(state),
        screen: screen.name.clone(),
        name,
        problem,
    };
    shown(&page, status)
}

async fn end_page(state: web::Data<AppState>, here: Here) -> Result<HttpResponse, PageError> {
    match &here.who().enrolled {
        Some(screen) => end_shown(&state, screen, String::new(), (StatusCode::OK, None)),
        None => Ok(see_other("/")),
    }
}

#[derive(Deserialize)]
struct Ending {
    #[serde(default)]
    name: String,
    #[serde(default)]
    password: String,
}

/// An owner ends the enrolment at the screen itself.
async fn end(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Ending>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Some(screen) = here.who().enrolled.clone() else { return Ok(see_other("/")) };
    let Ending { name, password } = form.into_inner();
    match proved_owner(&state, &request, &here, (&name, password)).await? {
        Ok(owner) => owner.end_screen(screen.id, state.clock.now()).await?,
        Err(refused) => return end_shown(&state, &screen, name, refused),
    }
    let mut answer = see_other("/sign-in");
    for cookie in [session_cookie(&request, None), screen_cookie(&request, None)] {
        let _ = answer.add_cookie(&cookie);
    }
    answer.headers_mut().insert(header::CACHE_CONTROL, header::HeaderValue::from_static("no-store"));
    Ok(answer)
}
