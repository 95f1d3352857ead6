//! Who works here and in what part, how they come in, and where they are signed in: for the owner.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::who::Role;
use hold_steady_store::{Member, StoreError};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{self, AppState, Here, PageError, Place, Shell, html, near_time, or_why, see_other};
use crate::words::people as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/people").route(app::get(page)))
        .service(app::resource("/people/{id}/role").route(web::post().to(give_role)))
        .service(app::resource("/people/{id}/code").route(web::post().to(make_code)))
        .service(app::resource("/people/{id}/sessions/end").route(web::post().to(end_all)))
        .service(app::resource("/sessions/{id}/end").route(web::post().to(end)));
}

/// Somebody, as the page lists them.
struct Row {
    member: Member,
    /// Roles they can have: word, meaning, whether it is theirs.
    roles: Vec<(&'static str, &'static str, bool)>,
    sessions: Vec<Open>,
    locked: bool,
}

/// An enrolled screen, as the page lists it.
struct ScreenRow {
    id: Uuid,
    name: String,
    kind: &'static str,
    since: String,
    seen: String,
    locked: bool,
    /// By which letters the trail calls it.
    letters: String,
}

/// A session that counts.
struct Open {
    id: Uuid,
    agent: String,
    since: String,
    seen: String,
    mine: bool,
}

#[derive(Template)]
#[template(path = "door/people.html")]
struct PeoplePage {
    shell: Shell,
    rows: Vec<Row>,
    /// A code that was just made: for whom, and what it is.
    made: Option<(String, String)>,
    counts: String,
    problem: Option<String>,
    new_person: Uuid,
    /// Whether anybody has to sign in, as this server was started.
    asks: bool,
    screens: Vec<ScreenRow>,
    /// What a screen was called that could not be enrolled.
    screen_name: String,
    always: bool,
    periods: Vec<(Uuid, String)>,
}

/// What the page says besides.
#[derive(Default)]
pub(super) struct Said {
    /// A code that was just made: for whom, and what it is.
    pub made: Option<(String, String)>,
    pub problem: Option<String>,
    pub screen_name: String,
}

pub(super) async fn shown(
    state: &AppState,
    request: &HttpRequest,
    Said { made, problem, screen_name }: Said,
) -> Result<HttpResponse, PageError> {
    let now = state.clock.now();
    let (wall, wall_zone) = (state.kitchen().wall(), state.kitchen().zone.clone());
    let here = Here::of(request)?;
    let own = here.who().session;
    let locked = here.locked().await?;
    let clock = |t: Timestamp| near_time(t, now, &wall);
    let sessions = here.sessions(now).await?;
    let rows = here.members().await?.into_iter().map(|member| Row {
        roles: Role::OF_PEOPLE.map(|r| (r.id(), says::role(r), r == member.role)).to_vec(),
        sessions: sessions
            .iter()
            .filter(|s| s.person == member.person.id)
            .map(|s| Open {
                id: s.id,
                agent: s.agent.clone(),
                since: clock(s.made_at),
                seen: clock(s.seen_at),
                mine: own == Some(s.id),
            })
            .collect(),
        locked: locked.contains(&member.person.id),
        member,
    });
    let rows = rows.collect();
    let screens = here.screens().await?.into_iter().map(|s| ScreenRow {
        id: s.id,
        kind: says::screen(s.kind),
        since: clock(s.made_at),
        seen: clock(s.seen_at),
        locked: locked.contains(&s.id),
        letters: super::trail::letters(s.screen),
        name: s.name,
    });
    let screens = screens.collect();
    let day = |t: Timestamp| t.to_zoned(wall_zone.clone()).date().to_string();
    let periods = here.periods().await?.into_iter().map(|p| {
        // The last day is in it; its end is the beginning of the next.
        (p.id, says::period(&day(p.from), &day(p.until - jiff::SignedDuration::from_secs(1))))
    });
    let periods = periods.collect();
    let failed = problem.is_some();
    let shell = Shell::new(state, request, Place::Kitchen, "People").await?;
    let page = PeoplePage {
        shell,
        rows,
        made,
        counts: says::code_counts(),
        problem,
        new_person: Uuid::now_v7(),
        asks: state.door.asks(),
        screens,
        screen_name,
        always: here.pins_always().await?,
        periods,
    };
    let mut answer = html(&page)?;
    if failed {
        *answer.status_mut() = actix_web::http::StatusCode::UNPROCESSABLE_ENTITY;
    }
    Ok(answer)
}

async fn page(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    shown(&state, &request, Said::default()).await
}

#[derive(Deserialize)]
struct Given {
    role: Role,
}

async fn give_role(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Given>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let given = here.give_role(*id, form.role, state.clock.now()).await;
    match or_why(given)? {
        Ok(()) => Ok(see_other("/people")),
        Err(why) => shown(&state, &request, Said { problem: Some(why), ..Said::default() }).await,
    }
}

/// A code is shown in the answer to the tap that made it, and never again.
async fn make_code(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let name = here.members().await?.into_iter().find(|m| m.person.id == *id).map(|m| m.person.name);
    let name = name.ok_or(PageError::Store(StoreError::NotFound))?;
    let code = here.invite(*id, state.clock.now()).await?;
    shown(&state, &request, Said { made: Some((name, code)), ..Said::default() }).await
}

async fn end_all(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    here.end_sessions_of(*id, state.clock.now()).await?;
    Ok(see_other("/people"))
}

async fn end(state: web::Data<AppState>, id: web::Path<Uuid>, here: Here) -> Result<HttpResponse, PageError> {
    here.end_session(*id, state.clock.now()).await?;
    Ok(see_other("/people"))
}
