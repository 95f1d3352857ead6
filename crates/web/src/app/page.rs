//! The frame around every page: navigation, units, the next thing the hands must do.

use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderName};
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use hold_steady_core::board::{ToDo, to_do};
use hold_steady_core::units::{Units, WallClock};
use hold_steady_core::who::{Right, Role};
use hold_steady_core::words;
use jiff::Timestamp;

use super::lately::{Running, running};
use super::{AppState, Door, Here, PageError, assets, reader_units};

/// Where in the cook's work a page stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Place {
    /// Choosing temperature and time.
    Plan,
    /// The water: vessels, filling, readings.
    Bath,
    /// While it is in the bath.
    Cook,
    /// The sear.
    Finish,
    /// Afterwards.
    Book,
    /// Beside the work: how the numbers are known.
    Know,
    /// Beside the work: the foods.
    Foods,
    /// Beside the work: what the kitchen has settled.
    Kitchen,
}

/// The next thing the hands must do in this kitchen.
#[derive(Debug, Clone)]
pub struct NextStep {
    /// What.
    pub what: String,
    /// Which cook.
    pub title: String,
    /// Its page.
    pub href: String,
    /// When, on the clock and in milliseconds for the countdown; without, it waits for the cook.
    pub at: Option<(String, i64)>,
    /// That is when it must be done by, not when it is due.
    pub by: bool,
    /// What is wrong with its water.
    pub fault: Option<String>,
}

/// What the layout shows.
#[derive(Debug, Clone)]
pub struct Shell {
    /// Title of the page.
    pub title: String,
    /// Place in the navigation.
    pub place: Place,
    /// Name of the kitchen.
    pub kitchen: String,
    /// The reader's units.
    pub units: Units,
    /// Mark of the shipped files.
    pub version: &'static str,
    /// What the scripts say.
    pub words: &'static str,
    /// The next step, when something is under way.
    pub next: Option<NextStep>,
    /// The time now, milliseconds.
    pub now_ms: i64,
    /// How fast it runs.
    pub rate: f64,
    /// The kitchen's time zone.
    pub zone: String,
    /// In how many hours its clock tells a day.
    pub hours: &'static str,
    /// Whether this is the demonstration.
    pub demo: bool,
    /// Who is signed in, where somebody has to: which person, and their name.
    pub who: Option<(String, String)>,
    /// Whether several share this screen: it asks who it is.
    pub shared: bool,
    /// Whether it shows the board and no more.
    pub wall: bool,
    /// Whether whoever is on the network can read along.
    pub plain_line: bool,
    /// Until when the certificate counts, where that is soon, and for whoever sees to it.
    pub certificate_ends: Option<String>,
}

impl Shell {
    pub async fn new(
        state: &AppState,
        request: &HttpRequest,
        place: Place,
        title: impl Into<String>,
    ) -> Result<Self, PageError> {
        let under_way = running(state, state.clock.now()).await?;
        Ok(Self::over(state, request, (place, title.into()), &under_way.0))
    }

    /// The same, where the cooks under way were looked at already.
    pub fn over(
        state: &AppState,
        request: &HttpRequest,
        (place, title): (Place, String),
        running: &[Running],
    ) -> Self {
        let now = state.clock.now();
        let here = Here::of(request).ok();
        let who = here.as_ref().map(Here::who);
        let asks = state.door.asks();
        let settles = here.as_ref().is_some_and(|here| here.may(Right::Settle));
        let ends = state.certificate.as_ref().filter(|_| settles).and_then(|c| c.ends_soon(now));
        Self {
            title,
            place,
            kitchen: state.kitchen().name.clone(),
            units: reader_units(request),
            version: assets::version(),
            words: crate::words::of_scripts(),
            next: NextStep::of(running, reader_units(request), now, &state.kitchen().wall()),
            now_ms: now.as_millisecond(),
            rate: state.clock.rate(),
            hours: state.kitchen().habits.hours.id(),
            zone: state.kitchen().zone.iana_name().unwrap_or_default().to_owned(),
            demo: state.demo,
            who: who.filter(|_| asks).and_then(|w| w.by.person.map(|id| (id.to_string(), w.by.name.clone()))),
            shared: who.is_some_and(|w| w.shared().is_some()),
            wall: who.is_some_and(|w| w.role == Role::Display && w.shared().is_none()),
            plain_line: state.door == Door::SignInPlainly,
            certificate_ends: ends.map(|t| state.kitchen().wall().day_and_time(t)),
        }
    }

    /// Code of the other units: °F and inches go together, °C and millimetres too. From a kitchen that mixes them the
    /// switch leads to the metric ones first.
    pub fn other_units(&self) -> &'static str {
        if self.units.code() == "c-mm" { "f-in" } else { "c-mm" }
    }

    pub fn celsius(&self) -> bool {
        self.units.temperature_symbol() == "°C"
    }

    pub fn millimetres(&self) -> bool {
        self.units.length_symbol() == "mm"
    }
}

impl NextStep {
    /// The first thing the hands must do.
    fn of(running: &[Running], units: Units, now: Timestamp, zone: &WallClock) -> Option<Self> {
        let (what, i, at) = to_do(running.iter().map(|r| &r.live)).into_iter().next()?;
        let Running { record, live } = &running[i];
        let clock = |t: Timestamp| near_time(t, now, zone);
        let next = what == ToDo::Next;
        Some(Self {
            what: words::to_do(what, live, units, &clock),
            by: next && words::is_deadline(&live.next),
            fault: live.fault.filter(|_| next).map(|f| words::short_fault(&f, units, &clock)),
            title: record.title_in(units),
            href: format!("/cook/{}", record.id),
            at: at.map(|t| (near_time(t, now, zone), t.as_millisecond())),
        })
    }
}

/// `19:30` in the kitchen's zone.
pub fn clock_time(t: Timestamp, wall: &WallClock) -> String {
    wall.time(t)
}

/// `19:30` for today, `Thu 19:30` for another day near it: a bare time of another day would mislead.
pub fn near_time(t: Timestamp, now: Timestamp, wall: &WallClock) -> String {
    wall.near(t, now)
}

/// `Wed 25 Nov, 19:30` in the kitchen's zone.
pub fn day_and_time(t: Timestamp, wall: &WallClock) -> String {
    wall.day_and_time(t)
}

/// Renders a page that is never kept by the browser: it would be out of date.
pub fn html(page: &impl Template) -> Result<HttpResponse, PageError> {
    Ok(HttpResponse::Ok()
        .content_type("text/html; charset=utf-8")
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .body(page.render()?))
}

/// The same, with the status of a form that was refused where it was.
pub fn html_for(page: &impl Template, refused: bool) -> Result<HttpResponse, PageError> {
    let mut answer = html(page)?;
    if refused {
        *answer.status_mut() = StatusCode::UNPROCESSABLE_ENTITY;
    }
    Ok(answer)
}

/// A fragment, at the address under which reload and the back button find it again.
pub fn at_address(mut fragment: HttpResponse, address: &str) -> Result<HttpResponse, PageError> {
    let value = address.parse().map_err(|_| PageError::Request("unprintable text".into()))?;
    fragment.headers_mut().insert(HeaderName::from_static("hx-replace-url"), value);
    Ok(fragment)
}

/// Sends the browser to another page, with GET.
pub fn see_other(to: &str) -> HttpResponse {
    HttpResponse::SeeOther().insert_header((header::LOCATION, to)).finish()
}
