//! Who asks, and whether they may: looked up once for each request, before its body is read.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::cookie::{Cookie, SameSite, time::Duration};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, HttpMessage, HttpRequest, HttpResponse, ResponseError, web};
use hold_steady_core::who::{By, Deed, Proof, Right, Role, SESSION_DAYS, ScreenKind};
use hold_steady_store::OnScreen;
use uuid::Uuid;

use super::guard::close_unread;
use super::{AppState, Here, PageError, only_reads, people, plain_problem, rights, scheme, see_other};
use crate::words;

/// How people come in, as this server was started.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Door {
    /// Whoever sits at this machine: nobody is asked.
    Open,
    /// Everybody signs in; the line is encrypted, by this program or by a proxy in front.
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
    /// By what records call them, on which screen.
    pub by: By,
    /// In what role.
    pub role: Role,
    /// How far they proved who they are.
    pub proof: Proof,
    /// By which session they came.
    pub session: Option<Uuid>,
    /// The enrolled screen they stand at.
    pub enrolled: Option<OnScreen>,
}

impl Who {
    fn nobody(screen: Option<Uuid>) -> Self {
        let by = By { screen, ..By::nobody("kitchen") };
        Self { by, role: Role::Nobody, proof: Proof::Enough, session: None, enrolled: None }
    }

    /// The shared screen they stand at.
    pub fn shared(&self) -> Option<&OnScreen> {
        self.enrolled.as_ref().filter(|s| s.kind == ScreenKind::Shared)
    }
}

/// The cookies there are: of a session, of an enrolled screen.
#[derive(Debug, Clone, Copy)]
enum Kept {
    Session,
    Screen,
}

impl Kept {
    /// Over a line that is encrypted the browser itself holds the cookie to this host; over a plain one such a name is not taken.
    fn name(self, request: &HttpRequest) -> &'static str {
        match (self, scheme(request) == "https") {
            (Self::Session, true) => "__Host-hs-session",
            (Self::Session, false) => "hs-session",
            (Self::Screen, true) => "__Host-hs-screen",
            (Self::Screen, false) => "hs-screen",
        }
    }

    const fn days(self) -> i64 {
        match self {
            Self::Session => SESSION_DAYS,
            // As long as browsers keep one.
            Self::Screen => 400,
        }
    }

    fn of(self, request: &HttpRequest) -> Option<String> {
        request.cookie(self.name(request)).map(|c| c.value().to_owned()).filter(|t| !t.is_empty())
    }

    fn cookie(self, request: &HttpRequest, token: Option<&str>) -> Cookie<'static> {
        let kept = if token.is_some() { Duration::days(self.days()) } else { Duration::ZERO };
        Cookie::build(self.name(request), token.unwrap_or_default().to_owned())
            .path("/")
            .http_only(true)
            .secure(scheme(request) == "https")
            .same_site(SameSite::Strict)
            .max_age(kept)
            .finish()
    }
}

/// The cookie of a session; the one that forgets it where there is none.
pub fn session_cookie(request: &HttpRequest, token: Option<&str>) -> Cookie<'static> {
    Kept::Session.cookie(request, token)
}

/// The cookie of an enrolled screen; the one that forgets it where there is none.
pub fn screen_cookie(request: &HttpRequest, token: Option<&str>) -> Cookie<'static> {
    Kept::Screen.cookie(request, token)
}

/// What a browser holds of a session and of a screen.
pub fn tokens(request: &HttpRequest) -> (Option<String>, Option<String>) {
    (Kept::Session.of(request), Kept::Screen.of(request))
}

/// Looks who asks, and lets them on or not. Whatever is handled after has the kitchen's records in their name alone.
pub async fn who(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let Some(state) = request.app_data::<web::Data<AppState>>().cloned() else {
        return Ok(next.call(request).await?.map_into_boxed_body());
    };
    let asks = state.door.asks();
    let asking =
        if asks { asking(&state, request.request()).await } else { said(&state, request.request()).await };
    let who = match asking {
        Ok(who) => who,
        Err(failed) => return Ok(request.into_response(failed.error_response())),
    };
    let here = Here::new(state.as_who(who.by.clone(), if asks { who.role } else { Role::Cook }), who);
    if asks {
        if let Some(mut answer) = kept_out(&state, request.request(), &here).await {
            close_unread(&request, &mut answer);
            return Ok(request.into_response(answer));
        }
        // Whoever taps is there. That it could not be marked keeps nobody from tapping.
        let named = here.who().session.filter(|_| here.who().shared().is_some());
        if let Some(session) = named.filter(|_| !only_reads(request.method()))
            && let Err(e) = here.touched(session, state.clock.now()).await
        {
            tracing::warn!(error = %e, "that a screen was touched could not be marked");
        }
    }
    request.extensions_mut().insert(here);
    Ok(next.call(request).await?.map_into_boxed_body())
}

/// The answer to whoever may not; none to whoever may.
async fn kept_out(state: &AppState, request: &HttpRequest, here: &Here) -> Option<HttpResponse> {
    let Some(route) = asked_for(request) else {
        // Whoever is nobody is not told what is here and what is not.
        let nobody = here.who().role == Role::Nobody;
        return Some(if nobody {
            refused(state, request, here, None).await
        } else {
            PageError::NoSuchPage.error_response()
        });
    };
    let needs = route.needs(request.method())?;
    // A device is known by its token, which is looked at next.
    if needs == Right::Report || here.may(needs) {
        return None;
    }
    Some(refused(state, request, here, Some((route, needs))).await)
}

/// The route that will answer. The address is taken as the router takes it: “/%70eople” is “/people”.
fn asked_for(request: &HttpRequest) -> Option<&'static rights::Route> {
    let pattern = request.resource_map().match_pattern(request.match_info().as_str())?;
    rights::route(&pattern)
}

/// How the pages look is nobody's secret, and is asked for often: nobody looks who asks.
fn is_asset(request: &HttpRequest) -> bool {
    request.path().starts_with("/assets/")
}

/// Who uses this device, as they said, where nobody has to prove it.
async fn said(state: &AppState, request: &HttpRequest) -> Result<Who, PageError> {
    let screen = people::this_screen(request);
    let who = Who { role: Role::Owner, ..Who::nobody(screen) };
    let Some(id) = people::this_device(request).filter(|_| !is_asset(request)) else { return Ok(who) };
    let person = state.ours().people().await?.into_iter().find(|p| p.id == id);
    Ok(match person {
        Some(p) => Who { by: By { screen, ..By::person(p.id, &p.name) }, ..who },
        None => who,
    })
}

/// Who asks, by the session they come with and the screen they stand at.
async fn asking(state: &AppState, request: &HttpRequest) -> Result<Who, PageError> {
    let nobody = Who::nobody(people::this_screen(request));
    let (session, screen) = tokens(request);
    if is_asset(request) || (session.is_none() && screen.is_none()) {
        return Ok(nobody);
    }
    let found = state.store.at_door(session.as_deref(), screen.as_deref(), state.clock.now()).await?;
    // What is of another kitchen is nothing here.
    let kitchen = state.kitchen().id;
    let enrolled = found.screen.filter(|s| s.kitchen == kitchen);
    let Some(signed) = found.signed.filter(|s| s.kitchen == kitchen) else {
        // An enrolled screen at which nobody is named shows what hangs on the wall, and no more.
        let Some(screen) = enrolled else { return Ok(nobody) };
        let by = By { screen: Some(screen.screen), ..nobody.by };
        return Ok(Who { by, role: Role::Display, enrolled: Some(screen), ..Who::nobody(None) });
    };
    // The screen a session was begun on: what a browser says besides is not believed.
    let by = By { screen: signed.screen, proof: signed.proof, ..By::person(signed.person, &signed.name) };
    Ok(Who { by, role: signed.role, proof: signed.proof, session: Some(signed.session), enrolled })
}

/// Whether a browser asks for a page to show, and no script for a part of one.
fn for_a_page(request: &HttpRequest) -> bool {
    let by_htmx = request.headers().contains_key("hx-request");
    let fetched = request.headers().get("sec-fetch-dest").is_some_and(|d| d.as_bytes() != b"document");
    only_reads(request.method()) && !by_htmx && !fetched
}

/// The answer to whoever may not.
async fn refused(
    state: &AppState,
    request: &HttpRequest,
    here: &Here,
    asked: Option<(&rights::Route, Right)>,
) -> HttpResponse {
    let who = here.who();
    let api = request.path().starts_with("/api/v1");
    let to = if only_reads(request.method()) { request.uri().to_string() } else { "/".into() };
    let at =
        |page: &str| format!("{page}?{}", serde_urlencoded::to_string([("to", &to)]).unwrap_or_default());
    let unnamed = who.shared().is_some() && who.session.is_none();
    if who.role == Role::Nobody || unnamed {
        if api {
            return plain_problem(StatusCode::UNAUTHORIZED, words::people::SIGN_IN_FIRST);
        }
        // htmx follows where it is led; what other scripts fetch is told, and they say it. On a shared screen the page stays as it
        // is, with what was typed: it asks who it is over it.
        let page = if unnamed { "/who" } else { "/sign-in" };
        if for_a_page(request) {
            return see_other(&at(page));
        }
        let mut answer = if unnamed { PageError::Who } else { PageError::SignIn }.error_response();
        if request.headers().contains_key("hx-request") && !unnamed {
            let to = header::HeaderValue::from_static("/sign-in");
            answer.headers_mut().insert(header::HeaderName::from_static("hx-redirect"), to);
        }
        return answer;
    }
    // A PIN is all that is missing: it is asked for, and nothing was refused yet.
    if asked.is_some_and(|(_, right)| who.role.may(right) && Proof::Pin.reaches(right)) && !api {
        return if for_a_page(request) {
            see_other(&at("/who/pin"))
        } else {
            PageError::Pin.error_response()
        };
    }
    let deed = Deed::Refused { path: asked.map_or_else(String::new, |(route, _)| route.path.to_owned()) };
    if let Err(e) = here.done(deed, state.clock.now()).await {
        tracing::error!(error = %e, "a refusal could not be written down");
    }
    let role_may = asked.is_some_and(|(_, right)| who.role.may(right));
    let why = if role_may { words::people::ON_YOUR_OWN_SCREEN } else { words::people::NOT_YOURS };
    if api { plain_problem(StatusCode::FORBIDDEN, why) } else { PageError::Forbidden(why).error_response() }
}
