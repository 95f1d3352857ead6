//! Who asks, and whether they may: looked up once for each request, before its body is read.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::cookie::{Cookie, SameSite, time::Duration};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, HttpMessage, HttpRequest, HttpResponse, ResponseError, web};
use hold_steady_core::who::{By, Deed, Right, Role, SESSION_DAYS};
use uuid::Uuid;

use super::guard::close_unread;
use super::{AppState, PageError, only_reads, people, plain_problem, rights, scheme, see_other};
use crate::words;

/// How people come in, as this server was started.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Door {
    /// Whoever sits at this machine: nobody is asked.
    Open,
    /// Everybody signs in; the line is encrypted by a proxy in front.
    SignIn,
    /// Everybody signs in, over a line that everybody on the network can read.
    SignInPlainly,
}

impl Door {
    /// Whether somebody has to say who they are, and prove it.
    pub const fn asks(self) -> bool {
        !matches!(self, Self::Open)
    }
}

/// Whoever asks.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Who {
    /// By what records call them; the screen is known besides.
    pub by: By,
    /// In what role.
    pub role: Role,
    /// By which session they came.
    pub session: Option<Uuid>,
}

impl Who {
    fn nobody() -> Self {
        Self { by: By::nobody("kitchen"), role: Role::Nobody, session: None }
    }
}

const PLAIN: &str = "hs-session";
const GUARDED: &str = "__Host-hs-session";

/// Over a line that is encrypted the browser itself holds the cookie to this host; over a plain one such a name is not taken.
fn cookie_name(request: &HttpRequest) -> &'static str {
    if scheme(request) == "https" { GUARDED } else { PLAIN }
}

/// The cookie of a session; the one that forgets it where there is none.
pub fn session_cookie(request: &HttpRequest, token: Option<&str>) -> Cookie<'static> {
    let name = cookie_name(request);
    let kept = if token.is_some() { Duration::days(SESSION_DAYS) } else { Duration::ZERO };
    Cookie::build(name, token.unwrap_or_default().to_owned())
        .path("/")
        .http_only(true)
        .secure(name == GUARDED)
        .same_site(SameSite::Strict)
        .max_age(kept)
        .finish()
}

/// The identifier of a session that a request comes with.
pub fn session_token(request: &HttpRequest) -> Option<String> {
    request.cookie(cookie_name(request)).map(|c| c.value().to_owned()).filter(|t| !t.is_empty())
}

/// Looks who asks, and lets them on or not.
pub async fn who(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let Some(state) = request.app_data::<web::Data<AppState>>().cloned() else {
        return Ok(next.call(request).await?.map_into_boxed_body());
    };
    if !state.door.asks() {
        return Ok(next.call(request).await?.map_into_boxed_body());
    }
    let who = match asking(&state, request.request()).await {
        Ok(who) => who,
        Err(failed) => return Ok(request.into_response(failed.error_response())),
    };
    let Some(route) = asked_for(request.request()) else {
        // Whoever is nobody is not told what is here and what is not.
        let nobody = who.role == Role::Nobody;
        let answer = if nobody {
            refused(&state, request.request(), &who).await
        } else {
            PageError::NoSuchPage.error_response()
        };
        return Ok(request.into_response(answer));
    };
    let needs = route.needs(request.method());
    // A device is known by its token, which is looked at next.
    let may = needs.is_none_or(|right| right == Right::Report || who.role.may(right));
    if !may {
        let mut answer = refused(&state, request.request(), &who).await;
        close_unread(&request, &mut answer);
        return Ok(request.into_response(answer));
    }
    request.extensions_mut().insert(who);
    Ok(next.call(request).await?.map_into_boxed_body())
}

/// The route that will answer. The address is taken as the router takes it: “/%70eople” is “/people”.
fn asked_for(request: &HttpRequest) -> Option<&'static rights::Route> {
    let pattern = request.resource_map().match_pattern(request.match_info().as_str())?;
    rights::route(&pattern)
}

/// Who asks, by the session they come with.
async fn asking(state: &AppState, request: &HttpRequest) -> Result<Who, PageError> {
    let screen = people::this_screen(request);
    let nobody = || Who { by: By { screen, ..By::nobody("kitchen") }, ..Who::nobody() };
    let Some(token) = session_token(request) else { return Ok(nobody()) };
    let signed = state.store.signed(&token, state.clock.now()).await?;
    // A session of another kitchen is none here.
    let signed = signed.filter(|s| s.kitchen == state.kitchen().id);
    Ok(signed.map_or_else(nobody, |s| Who {
        by: By { screen, ..By::person(s.person, &s.name) },
        role: s.role,
        session: Some(s.session),
    }))
}

/// The answer to whoever may not.
async fn refused(state: &AppState, request: &HttpRequest, who: &Who) -> HttpResponse {
    let api = request.path().starts_with("/api/v1");
    if who.role == Role::Nobody {
        if api {
            return plain_problem(StatusCode::UNAUTHORIZED, words::people::SIGN_IN_FIRST);
        }
        let to = if only_reads(request.method()) { request.uri().to_string() } else { "/".into() };
        let address = format!("/sign-in?{}", serde_urlencoded::to_string([("to", to)]).unwrap_or_default());
        // htmx follows where it is led; what other scripts fetch is told, and they say it.
        let by_htmx = request.headers().contains_key("hx-request");
        let fetched = request.headers().get("sec-fetch-dest").is_some_and(|d| d.as_bytes() != b"document");
        if only_reads(request.method()) && !by_htmx && !fetched {
            return see_other(&address);
        }
        let mut answer = PageError::SignIn.error_response();
        if by_htmx {
            let to = header::HeaderValue::from_static("/sign-in");
            answer.headers_mut().insert(header::HeaderName::from_static("hx-redirect"), to);
        }
        return answer;
    }
    let here = state.as_who(who.by.clone(), who.role);
    let deed =
        Deed::Refused { path: asked_for(request).map_or_else(String::new, |route| route.path.to_owned()) };
    if let Err(e) = here.done(deed, state.clock.now()).await {
        tracing::error!(error = %e, "a refusal could not be written down");
    }
    if api {
        return plain_problem(StatusCode::FORBIDDEN, words::people::NOT_YOURS);
    }
    PageError::Forbidden(words::people::NOT_YOURS).error_response()
}

/// Who asks, where somebody has to say so.
pub fn asks(request: &HttpRequest) -> Option<Who> {
    request.extensions().get::<Who>().cloned()
}

/// In what role: whoever sits at this machine is its owner.
pub fn role(state: &AppState, request: &HttpRequest) -> Role {
    if !state.door.asks() {
        return Role::Owner;
    }
    asks(request).map_or(Role::Nobody, |who| who.role)
}

/// Whether whoever asks may.
pub fn may(state: &AppState, request: &HttpRequest, right: Right) -> bool {
    role(state, request).may(right)
}
