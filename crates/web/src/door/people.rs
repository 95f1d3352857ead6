//! Who works here and in what part, how they come in, and where they are signed in: for the owner.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::who::Role;
use hold_steady_store::{Member, StoreError};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{self, AppState, PageError, Place, Shell, html, near_time, or_why, see_other};
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
}

async fn shown(
    state: &AppState,
    request: &HttpRequest,
    made: Option<(String, String)>,
    problem: Option<String>,
) -> Result<HttpResponse, PageError> {
    let (here, now) = (state.here(), state.clock.now());
    let wall = state.kitchen().wall();
    let own = app::asks(request).and_then(|who| who.session);
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
        member,
    });
    let rows = rows.collect();
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
    };
    let mut answer = html(&page)?;
    if failed {
        *answer.status_mut() = actix_web::http::StatusCode::UNPROCESSABLE_ENTITY;
    }
    Ok(answer)
}

async fn page(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    shown(&state, &request, None, None).await
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
) -> Result<HttpResponse, PageError> {
    let given = state.here_for(&request).await?.give_role(*id, form.role, state.clock.now()).await;
    match or_why(given)? {
        Ok(()) => Ok(see_other("/people")),
        Err(why) => shown(&state, &request, None, Some(why)).await,
    }
}

/// A code is shown in the answer to the tap that made it, and never again.
async fn make_code(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageError> {
    let here = state.here_for(&request).await?;
    let name = here.members().await?.into_iter().find(|m| m.person.id == *id).map(|m| m.person.name);
    let name = name.ok_or(PageError::Store(StoreError::NotFound))?;
    let code = here.invite(*id, state.clock.now()).await?;
    shown(&state, &request, Some((name, code)), None).await
}

async fn end_all(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageError> {
    state.here_for(&request).await?.end_sessions_of(*id, state.clock.now()).await?;
    Ok(see_other("/people"))
}

async fn end(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageError> {
    state.here_for(&request).await?.end_session(*id, state.clock.now()).await?;
    Ok(see_other("/people"))
}
