//! What all pages share: state, clock, shell, errors, guards, shipped files.

mod assets;
mod body;
mod clock;
mod depth;
mod error;
mod files;
mod guard;
mod here;
mod hub;
mod lately;
mod limits;
mod lines;
mod lists;
mod log;
mod page;
mod people;
mod problem;
mod rights;
mod tapped;
mod tls;
mod units;
mod who;
mod work;

pub use assets::version as asset_version;
pub use body::{TAKES_ITS_OWN, body, whole};
pub use clock::{Clock, ClockWatch};
pub use depth::unfolded;
pub use error::{PageError, no_such_page, or_why};
pub use files::{attachment, json_file, made, sent, taken_out, uploaded, uploaded_text};
pub use guard::{address, authority, guard, headers, only_reads, scheme};
pub use here::Here;
pub use hub::{Hub, announce};
pub use lately::{Lately, Running, keep_looking, on_board, on_board_lately, running};
pub use limits::{KILOBYTES_A_MINUTE, Limits, REPORTS_A_MINUTE, Wait};
pub use lines::{Lines, keep_line, mark, most_lines};
pub use lists::Lists;
pub use log::log;
pub use page::{Place, Shell, at_address, clock_time, day_and_time, html, html_for, near_time, see_other};
pub use people::{named_screen, this_device, used_by};
pub use problem::{plain_problem, problem};
pub use rights::{ROUTES, Route, resource, within};
pub use tapped::tapped_at;
pub use tls::{Certificate, days_left};
pub use units::reader_units;
pub use who::{Door, Who, screen_cookie, session_cookie, tokens, who};
pub use work::{Desk, bounded, compute, place};

use std::collections::BTreeSet;
use std::net::IpAddr;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex, PoisonError, RwLock};

use crate::words;
use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::plan::Windows;
use hold_steady_core::sear::Finishes;
use hold_steady_core::who::By;
use hold_steady_store::{Actor, InKitchen, Kitchen, Put, Reporter, Role, Store, StoreError};
use jiff::Timestamp;

/// Largest form taken, bytes.
pub const FORM_LIMIT: usize = 64 * 1024;
/// Largest calculation request taken, bytes.
pub const API_LIMIT: usize = 1024 * 1024;
/// Largest log brought in, bytes.
pub const LOG_LIMIT: usize = 32 * 1024 * 1024;
/// Largest book brought in by the page, bytes: it goes to the disk as it comes. The command line takes one of any length.
pub const IMPORT_LIMIT: u64 = 128 * 1024 * 1024;

/// How a server is started.
pub struct Started {
    /// What is remembered.
    pub store: Store,
    /// The kitchen, as it is now.
    pub kitchen: Kitchen,
    /// The time.
    pub clock: Clock,
    /// Host names this server answers to, in lower case, without port.
    pub hosts: BTreeSet<String>,
    /// The proxy in front, if there is one: what it says of the host name is believed.
    pub proxy: Option<IpAddr>,
    /// How people come in.
    pub door: Door,
    /// What an encrypted line is made with; none where the line is plain here.
    pub certificate: Option<Arc<Certificate>>,
    /// What PINs are kept with, which stands in no copy.
    pub pin_key: PinKey,
    /// Whether this is the demonstration, which says so on every page.
    pub demo: bool,
}

/// What PINs are hashed with besides: without it a copied hash of six digits would be guessed in a day.
#[derive(Clone)]
pub struct PinKey(pub [u8; 32]);

/// What every request can reach. Its records are reached by [`Here`].
pub struct AppState {
    store: Store,
    kitchen: RwLock<Arc<Kitchen>>,
    /// The time.
    pub clock: Clock,
    /// Whether it was set by somebody.
    pub watch: ClockWatch,
    /// Host names this server answers to, in lower case, without port.
    pub hosts: BTreeSet<String>,
    /// The proxy in front, if there is one: what it says of the host name is believed.
    pub proxy: Option<IpAddr>,
    /// Where computing is done.
    pub desk: Desk,
    /// Where cooks stood a few seconds ago.
    pub lately: Arc<Lately>,
    /// What pieces do in their baths, worked out once for each that is distinct.
    pub windows: Arc<Windows>,
    /// What is proposed for pieces, worked out once for each that is distinct.
    pub finishes: Arc<Finishes>,
    /// Who is told that something changed.
    pub hub: Hub,
    /// How people come in.
    pub door: Door,
    /// What an encrypted line is made with.
    pub certificate: Option<Arc<Certificate>>,
    /// What PINs are kept with.
    pub pin_key: PinKey,
    /// How much one address or device may ask for.
    pub limits: Limits,
    /// How the last copy of the night went.
    pub copies: Copies,
    /// When this program was started, milliseconds: another one is another start.
    pub started_ms: i64,
    /// Whether verdicts of the book are being worked out beside the pages.
    pub judging: AtomicBool,
    /// Whether this is the demonstration, which says so on every page.
    pub demo: bool,
}

/// How the copy of the night went: what failed is shown until one is made.
#[derive(Debug, Default)]
pub struct Copies(Mutex<Option<(Timestamp, String)>>);

impl Copies {
    /// It was made, or was not, and why.
    pub fn went(&self, at: Timestamp, failed: Option<String>) {
        *self.0.lock().unwrap_or_else(PoisonError::into_inner) = failed.map(|why| (at, why));
    }

    /// When it failed, and why.
    pub fn failure(&self) -> Option<(Timestamp, String)> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }
}

impl AppState {
    /// A server that nobody asked yet.
    #[must_use]
    pub fn new(started: Started) -> Self {
        let Started { store, kitchen, clock, hosts, proxy, door, certificate, pin_key, demo } = started;
        Self {
            store,
            kitchen: RwLock::new(Arc::new(kitchen)),
            clock,
            watch: ClockWatch::default(),
            hosts,
            proxy,
            desk: Desk::default(),
            lately: Lately::default().into(),
            windows: Windows::default().into(),
            finishes: Finishes::default().into(),
            hub: Hub::default(),
            door,
            certificate,
            pin_key,
            limits: Limits::default(),
            copies: Copies::default(),
            started_ms: clock.now().as_millisecond(),
            judging: AtomicBool::new(false),
            demo,
        }
    }

    /// The kitchen's records, as the program itself reads them for all who look.
    fn ours(&self) -> InKitchen {
        self.as_who("kitchen".into(), Role::Program)
    }

    /// The same, for somebody.
    fn as_who(&self, by: By, role: Role) -> InKitchen {
        self.store.in_kitchen(Actor { kitchen: self.kitchen().id, by, role })
    }

    /// Whose a device's token is, where it counts.
    pub async fn reporter(&self, token: &str) -> Result<Option<Reporter>, StoreError> {
        self.store.as_device(token, self.clock.now()).await
    }

    /// The kitchen, as it is now.
    pub fn kitchen(&self) -> Arc<Kitchen> {
        self.kitchen.read().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// The kitchen from now on.
    pub fn settle(&self, change: impl FnOnce(&mut Kitchen)) {
        let mut kitchen = self.kitchen.write().unwrap_or_else(PoisonError::into_inner);
        change(Arc::make_mut(&mut kitchen));
    }
}

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .app_data(
            web::FormConfig::default()
                .limit(FORM_LIMIT)
                .error_handler(|e, _| PageError::Request(words::door::form_unread(&e)).into()),
        )
        .app_data(
            web::QueryConfig::default()
                .error_handler(|e, _| PageError::Request(words::door::address_unread(&e)).into()),
        )
        .app_data(web::PathConfig::default().error_handler(|_, _| PageError::NoSuchPage.into()))
        .app_data(web::PayloadConfig::new(LOG_LIMIT))
        .service(resource("/").route(get(to_plan)))
        .service(resource("/units").route(web::post().to(units::switch)))
        .service(resource("/healthz").route(get(healthy)))
        .service(resource("/events").route(web::get().to(hub::events)))
        .service(resource("/assets/{file:.*}").route(get(assets::file)))
        .service(resource("/favicon.ico").route(get(assets::favicon)));
}

/// A route for GET that answers HEAD as well.
pub fn get<F, Args>(handler: F) -> actix_web::Route
where
    F: actix_web::Handler<Args>,
    Args: actix_web::FromRequest + 'static,
    F::Output: actix_web::Responder + 'static,
{
    web::route()
        .guard(actix_web::guard::Any(actix_web::guard::Get()).or(actix_web::guard::Head()))
        .to(handler)
}

/// A screen on the wall has nothing to plan.
async fn to_plan(request: HttpRequest) -> HttpResponse {
    let who = Here::of(&request).map(|here| (here.who().role, here.who().shared().is_some()));
    see_other(match who {
        Ok((hold_steady_core::who::Role::Display, true)) => "/who",
        Ok((hold_steady_core::who::Role::Display, false)) => "/board/kiosk",
        Ok((hold_steady_core::who::Role::Inspector, _)) => "/trail",
        _ => "/plan",
    })
}

/// Whether what is tapped can be written down: a line is, and the answer says why it could not.
async fn healthy(state: web::Data<AppState>) -> HttpResponse {
    let (mut answer, text) = match state.store.pulse(state.clock.now()).await {
        Ok(()) => match state.copies.failure() {
            None => (HttpResponse::Ok(), "ok".to_owned()),
            Some((_, why)) => (HttpResponse::Ok(), format!("ok\nthe copy of the night failed: {why}")),
        },
        Err(e) => (HttpResponse::ServiceUnavailable(), e.to_string()),
    };
    answer
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .content_type("text/plain; charset=utf-8")
        .body(text)
}

/// A header's text, where it is there and is text.
pub fn header_text<'a>(request: &'a HttpRequest, name: &header::HeaderName) -> Option<&'a str> {
    request.headers().get(name)?.to_str().ok()
}

/// A name as it is kept: without needless spaces, of letters that can be shown.
pub fn plain_name(typed: &str, of: &str) -> Result<String, String> {
    const LONGEST: usize = 60;
    let plain = typed.split_whitespace().collect::<Vec<_>>().join(" ");
    let shown = !plain.is_empty() && plain.chars().count() <= LONGEST && !plain.chars().any(char::is_control);
    if shown { Ok(plain) } else { Err(words::not_a_name(of, LONGEST)) }
}

/// Something of the kitchen's own is taken off its lists, or put back: undone rather than asked about.
#[derive(serde::Deserialize)]
pub struct Removal {
    /// Put back.
    #[serde(default)]
    pub restore: bool,
}

impl Removal {
    /// What becomes of it.
    pub const fn put(&self) -> Put {
        if self.restore { Put::Back } else { Put::Off }
    }
}

pub use crate::words::of_scripts as script_words;
/// A duration for a reader.
pub use hold_steady_core::words::minutes as duration;
