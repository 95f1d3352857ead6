//! Signing in and out, and choosing a password with a code.

use std::collections::BTreeMap;

use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::plan::Person;
use hold_steady_core::who::{By, Deed, FREE_AT_AN_ADDRESS, FREE_TRIES};
use hold_steady_store::{InKitchen, Mark, Role, StoreError, Welcome};
use serde::Deserialize;
use uuid::Uuid;

use super::secret;
use crate::app::{self, AppState, Door, Here, PageError, address, or_why, see_other, session_cookie};
use crate::words::people as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/sign-in").route(app::get(page)).route(web::post().to(sign_in)))
        .service(app::resource("/sign-out").route(web::post().to(sign_out)))
        .service(app::resource("/welcome").route(app::get(welcome_page)).route(web::post().to(welcome)));
}

#[derive(Template)]
#[template(path = "door/sign_in.html")]
struct SignIn {
    version: &'static str,
    kitchen: String,
    plain_line: bool,
    name: String,
    to: String,
    problem: Option<String>,
}

#[derive(Deserialize, Default)]
struct To {
    #[serde(default)]
    to: String,
}

/// A way on from the door: one of our own addresses, and no other's.
pub fn way(to: &str) -> &str {
    let own = to.starts_with('/') && !to.starts_with("//") && !to.contains(['\\', '\r', '\n']);
    if own && !to.starts_with("/sign-") && to.split('?').next() != Some("/who") { to } else { "/" }
}

pub fn plain_line(state: &AppState) -> bool {
    state.door == Door::SignInPlainly
}

pub fn shown(page: &impl Template, status: StatusCode) -> Result<HttpResponse, PageError> {
    Ok(HttpResponse::build(status)
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .content_type("text/html; charset=utf-8")
        .body(page.render()?))
}

async fn page(
    state: web::Data<AppState>,
    query: web::Query<To>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    if here.who().enrolled.is_some() {
        return Ok(see_other("/who"));
    }
    let signed = here.who().session.is_some();
    if signed || !state.door.asks() {
        return Ok(see_other(way(&query.to)));
    }
    let to = way(&query.to).to_owned();
    let page = SignIn {
        version: app::asset_version(),
        kitchen: state.kitchen().name.clone(),
        plain_line: plain_line(&state),
        name: String::new(),
        to,
        problem: None,
    };
    shown(&page, StatusCode::OK)
}

#[derive(Deserialize)]
struct Typed {
    #[serde(default)]
    name: String,
    #[serde(default)]
    password: String,
    #[serde(default)]
    to: String,
}

/// What fails counts for: a person at an address (a stranger elsewhere keeps nobody out), and an address. Whoever is none here
/// is nobody, whatever was typed.
fn marks(request: &HttpRequest, person: Option<Uuid>) -> Vec<Mark> {
    let from = address(request);
    let whom = person.map_or_else(|| "nobody".to_owned(), |id| id.to_string());
    vec![
        Mark { subject: format!("password {whom} {from}"), free: FREE_TRIES },
        Mark { subject: format!("password * {from}"), free: FREE_AT_AN_ADDRESS },
    ]
}

async fn sign_in(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Typed>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Typed { name, password, to } = form.into_inner();
    let to = way(&to).to_owned();
    if !state.door.asks() {
        return Ok(see_other(&to));
    }
    let again = |status: StatusCode, problem: String| {
        let page = SignIn {
            version: app::asset_version(),
            kitchen: state.kitchen().name.clone(),
            plain_line: plain_line(&state),
            name: name.clone(),
            to: to.clone(),
            problem: Some(problem),
        };
        shown(&page, status)
    };
    let person = match proved(&state, &request, &here, (&name, password)).await? {
        Ok(person) => person,
        Err(not) => {
            let mut answer = again(not.status(), not.why)?;
            if let Some(seconds) = not.wait_s {
                answer.headers_mut().insert(header::RETRY_AFTER, header::HeaderValue::from(seconds));
            }
            return Ok(answer);
        }
    };
    begin(&state, &request, &here, (person.id, Begun::SignedIn), &to).await
}

/// Why it was not proved who somebody is.
struct NotProved {
    why: String,
    /// So long whoever tries waits, seconds.
    wait_s: Option<i64>,
}

impl NotProved {
    const fn status(&self) -> StatusCode {
        if self.wait_s.is_some() { StatusCode::TOO_MANY_REQUESTS } else { StatusCode::UNPROCESSABLE_ENTITY }
    }
}

/// Whoever a name and a password belong to; or why nobody, with how it is answered.
async fn proved(
    state: &AppState,
    request: &HttpRequest,
    here: &Here,
    (name, password): (&str, String),
) -> Result<Result<Person, NotProved>, PageError> {
    let now = state.clock.now();
    let (known, hash) = here.called(name.to_owned()).await?.unzip();
    let marks = marks(request, known.as_ref().map(|p| p.id));
    if let Some(left) = here.must_wait(marks.clone(), now).await? {
        let wait_s = left.as_secs() + 1;
        return Ok(Err(NotProved { why: says::wait(wait_s), wait_s: Some(wait_s) }));
    }
    let right = secret::is(password, hash.flatten()).await?;
    match known {
        Some(person) if right => {
            if let Some(mark) = marks.into_iter().next() {
                here.forgive(mark.subject).await?;
            }
            Ok(Ok(person))
        }
        // A name that is none here is not written down: people type passwords there.
        known => {
            let address = address(request).to_string();
            here.failed(marks, Deed::NotSignedIn { name: known.map(|p| p.name), address }, now).await?;
            Ok(Err(NotProved { why: says::NAME_OR_PASSWORD.into(), wait_s: None }))
        }
    }
}

/// Whoever is signed in proves it once more; why not, in words.
pub async fn proved_again(
    state: &AppState,
    request: &HttpRequest,
    here: &Here,
    password: String,
) -> Result<Result<(), String>, PageError> {
    let name = here.who().by.name.clone();
    let proved = proved(state, request, here, (&name, password)).await?;
    Ok(match proved {
        Ok(_) => Ok(()),
        Err(NotProved { why, wait_s: Some(_) }) => Err(why),
        Err(_) => Err(says::NOT_THE_PASSWORD.into()),
    })
}

/// The kitchen in the name of an owner who proved who they are at a screen that is not their own; or why not.
pub async fn proved_owner(
    state: &AppState,
    request: &HttpRequest,
    here: &Here,
    typed: (&str, String),
) -> Result<Result<InKitchen, (StatusCode, Option<String>)>, PageError> {
    let person = match proved(state, request, here, typed).await? {
        Ok(person) => person,
        Err(not) => return Ok(Err((not.status(), Some(not.why)))),
    };
    let owner = here.members().await?.iter().any(|m| m.person.id == person.id && m.role == Role::Owner);
    if !owner {
        return Ok(Err((StatusCode::FORBIDDEN, Some(says::NOT_AN_OWNER.into()))));
    }
    let by = By { screen: here.who().by.screen, ..By::person(person.id, &person.name) };
    Ok(Ok(here.in_the_name_of(by, Role::Owner)))
}

/// How a session began, as the trail tells it.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Begun {
    SignedIn,
    /// A password was chosen, which says it.
    Welcomed,
}

/// Begins a session of somebody who proved who they are. What came before it on this screen counts no more.
async fn begin(
    state: &AppState,
    request: &HttpRequest,
    here: &Here,
    (person, begun): (Uuid, Begun),
    to: &str,
) -> Result<HttpResponse, PageError> {
    const LONGEST: usize = 160;
    let agent = app::header_text(request, &header::USER_AGENT).unwrap_or_default();
    let agent = agent.chars().filter(|c| !c.is_control()).take(LONGEST).collect();
    let deed = (begun == Begun::SignedIn).then_some(Deed::SignedIn);
    let before = here.who().session;
    let token = here.begin_session(person, agent, (before, deed), state.clock.now()).await?;
    let mut answer = see_other(to);
    // A cookie of hexadecimal digits: it can always be written.
    let _ = answer.add_cookie(&session_cookie(request, Some(&token)));
    Ok(answer)
}

async fn sign_out(
    state: web::Data<AppState>,
    request: HttpRequest,
    here: Here,
) -> Result<HttpResponse, PageError> {
    if let Some(session) = here.who().session {
        here.end_session(session, state.clock.now()).await?;
    }
    let mut answer = see_other("/sign-in");
    let _ = answer.add_cookie(&session_cookie(&request, None));
    // What this browser kept of the pages is not for whoever comes next.
    answer.headers_mut().insert(
        header::HeaderName::from_static("clear-site-data"),
        header::HeaderValue::from_static("\"cache\""),
    );
    Ok(answer)
}

#[derive(Template)]
#[template(path = "door/welcome.html")]
struct WelcomePage {
    version: &'static str,
    kitchen: String,
    plain_line: bool,
    /// The code, once it counts.
    code: Option<String>,
    /// Whom it is for; nobody yet where it is for the first owner.
    known: Option<String>,
    typed_code: String,
    name: String,
    errors: BTreeMap<&'static str, String>,
    shortest: usize,
}

impl WelcomePage {
    fn new(state: &AppState) -> Self {
        Self {
            version: app::asset_version(),
            kitchen: state.kitchen().name.clone(),
            plain_line: plain_line(state),
            code: None,
            known: None,
            typed_code: String::new(),
            name: String::new(),
            errors: BTreeMap::new(),
            shortest: hold_steady_core::who::SHORTEST_PASSWORD,
        }
    }

    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }
}

#[derive(Deserialize, Default)]
struct Code {
    #[serde(default)]
    code: String,
}

/// Whom a code is for, as a page; or why it counts for nobody.
async fn with_code(
    state: &AppState,
    request: &HttpRequest,
    code: &str,
) -> Result<Result<WelcomePage, (StatusCode, WelcomePage)>, PageError> {
    let mut page = WelcomePage { typed_code: code.to_owned(), ..WelcomePage::new(state) };
    let (here, now) = (Here::of(request)?, state.clock.now());
    let from = address(request);
    let marks = vec![Mark { subject: format!("code {from}"), free: FREE_TRIES }];
    if let Some(left) = here.must_wait(marks.clone(), now).await? {
        page.errors.insert("code", says::wait(left.as_secs() + 1));
        return Ok(Err((StatusCode::TOO_MANY_REQUESTS, page)));
    }
    match here.invited(code.to_owned(), now).await {
        Ok(known) => Ok(Ok(WelcomePage { code: Some(code.to_owned()), known, ..page })),
        Err(StoreError::NotFound) => {
            here.failed(marks, Deed::NotSignedIn { name: None, address: from.to_string() }, now).await?;
            page.errors.insert("code", says::CODE_UNKNOWN.into());
            Ok(Err((StatusCode::UNPROCESSABLE_ENTITY, page)))
        }
        Err(failed) => Err(failed.into()),
    }
}

async fn welcome_page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Code>,
) -> Result<HttpResponse, PageError> {
    if !state.door.asks() {
        return Ok(see_other("/"));
    }
    if query.code.trim().is_empty() {
        return shown(&WelcomePage::new(&state), StatusCode::OK);
    }
    match with_code(&state, &request, &query.code).await? {
        Ok(page) => shown(&page, StatusCode::OK),
        Err((status, page)) => shown(&page, status),
    }
}

#[derive(Deserialize)]
struct Chosen {
    #[serde(default)]
    code: String,
    #[serde(default)]
    name: String,
    #[serde(default)]
    password: String,
}

async fn welcome(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Chosen>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Chosen { code, name, password } = form.into_inner();
    if !state.door.asks() {
        return Ok(see_other("/"));
    }
    let mut page = match with_code(&state, &request, &code).await? {
        Ok(page) => WelcomePage { name: name.clone(), ..page },
        Err((status, page)) => return shown(&page, status),
    };
    let owner = match &page.known {
        Some(_) => None,
        None => match Person::named(Uuid::now_v7(), &name, "") {
            Ok(person) => Some(person),
            Err((_, why)) => {
                let why = if name.trim().is_empty() { says::FIRST_OWNER.to_owned() } else { why };
                page.errors.insert("name", why);
                None
            }
        },
    };
    let called = page.known.as_deref().unwrap_or(&name);
    if let Some(why) = secret::unfit(&password, called) {
        page.errors.insert("password", why);
    }
    if !page.errors.is_empty() {
        return shown(&page, StatusCode::UNPROCESSABLE_ENTITY);
    }
    let hash = secret::hash(password).await?;
    match or_why(here.welcome(Welcome { code, owner, hash }, state.clock.now()).await)? {
        Ok(person) => begin(&state, &request, &here, (person, Begun::Welcomed), "/").await,
        Err(why) => {
            page.errors.insert("name", why);
            shown(&page, StatusCode::UNPROCESSABLE_ENTITY)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::way;

    #[test]
    fn the_way_on_stays_in_the_house() {
        assert_eq!(way("/cook?x=1"), "/cook?x=1");
        for elsewhere in
            ["//evil.example", "https://evil.example", "/\\evil.example", "", "/sign-in", "/a\r\nb"]
        {
            assert_eq!(way(elsewhere), "/", "{elsewhere:?}");
        }
    }
}
