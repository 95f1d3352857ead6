//! Devices that report: made known with a token that is shown once, laid into a bath, revoked.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::clock_trouble;
use hold_steady_core::units::WallClock;
use hold_steady_core::words;
use hold_steady_store::{Device, Lies, new_id};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{
    self, AppState, Here, PageError, Place, Shell, day_and_time, html_for, near_time, or_why, resource,
    see_other,
};
use crate::words::bath as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/devices").route(app::get(page)).route(web::post().to(make)))
        .service(resource("/devices/{id}/clock").route(web::post().to(clock)))
        .service(resource("/devices/{id}/renew").route(web::post().to(renew)))
        .service(resource("/devices/{id}/revoke").route(web::post().to(revoke)))
        .service(resource("/devices/{id}/place").route(web::post().to(place)));
}

struct DeviceView {
    id: Uuid,
    name: String,
    since: String,
    heard: Option<String>,
    /// In which bath, refrigerator or freezer.
    lies_in: Option<Uuid>,
    revoked: Option<String>,
    /// From where it last reported.
    address: Option<String>,
    /// Until when its token counts, and whether that is past.
    until: Option<(String, bool)>,
    /// What is wrong with its clock, and what to take off its times, seconds.
    clock: Option<(String, String)>,
    /// What is taken off.
    told: Option<String>,
}

impl DeviceView {
    /// It lies in this one.
    fn lies(&self, here: &Uuid) -> bool {
        self.lies_in.as_ref() == Some(here)
    }

    fn of(d: &Device, now: Timestamp, zone: &WallClock) -> Self {
        let lies_in = d.lies_in.map(|lies| match lies {
            Lies::Bath { bath, .. } => bath,
            Lies::Storage(storage) => storage,
        });
        Self {
            id: d.id,
            name: d.name.clone(),
            since: format!("{}, by {}", day_and_time(d.created_at, zone), d.created_by),
            heard: d.heard_at.map(|t| near_time(t, now, zone)),
            lies_in,
            revoked: d.revoked_at.map(|t| day_and_time(t, zone)),
            address: d.address.clone(),
            until: d.until.map(|t| (day_and_time(t, zone), t <= now)),
            clock: clock_of(d).map(|words| (words, format!("{:.0}", d.ahead_s.unwrap_or(0.0)))),
            told: (d.offset_s != 0.0).then(|| words::clock_off(d.offset_s)),
        }
    }
}

/// What is wrong with a device's clock, in words.
pub fn clock_of(d: &Device) -> Option<String> {
    let lies = d.revoked_at.is_none();
    clock_trouble(d.ahead_s.filter(|_| lies)?, d.offset_s).map(words::clock_trouble)
}

#[derive(Template)]
#[template(path = "board/devices.html")]
struct DevicesPage {
    shell: Shell,
    devices: Vec<DeviceView>,
    baths: Vec<(Uuid, String)>,
    storages: Vec<(Uuid, String)>,
    new_device: Uuid,
    typed: String,
    problem: String,
    /// A token just made, and the address it is used at: shown this once.
    token: Option<(String, String)>,
    /// Whether whoever looks at it is an owner.
    owns: bool,
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    (typed, problem): (String, String),
    token: Option<String>,
) -> Result<HttpResponse, PageError> {
    let (now, zone) = (state.clock.now(), state.kitchen().wall());
    let baths: Vec<(Uuid, String)> =
        Here::of(request)?.running_baths().await?.into_iter().map(|b| (b.id, b.name)).collect();
    let storages = Here::of(request)?.storages(now).await?;
    let devices = Here::of(request)?.devices().await?;
    let refused = !problem.is_empty();
    let at = format!("{}://{}/api/v1/readings", app::scheme(request), app::authority(request));
    let page = DevicesPage {
        shell: Shell::new(state, request, Place::Kitchen, "Devices").await?,
        devices: devices.iter().map(|d| DeviceView::of(d, now, &zone)).collect(),
        baths,
        storages: storages.into_iter().map(|s| (s.storage.id, s.storage.name)).collect(),
        new_device: new_id(now),
        typed,
        problem,
        token: token.map(|t| (t, at)),
        owns: Here::of(request)?.may(hold_steady_core::who::Right::Own),
    };
    html_for(&page, refused)
}

async fn page(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    show(&state, &request, Default::default(), None).await
}

#[derive(Deserialize)]
struct New {
    id: Uuid,
    #[serde(default)]
    name: String,
    #[serde(default)]
    days: String,
}

/// For how many days a token counts, as the page offers it.
const DAYS: [u16; 3] = [30, 365, 1];

/// Until when a token counts that is made now; for good where nothing is chosen.
fn until(days: &str, now: Timestamp) -> Option<Timestamp> {
    let days = days.parse().ok().filter(|d| DAYS.contains(d))?;
    now.checked_add(jiff::SignedDuration::from_hours(24 * i64::from(days))).ok()
}

async fn make(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<New>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let New { id, name, days } = form.into_inner();
    let now = state.clock.now();
    let plain = match app::plain_name(&name, "device") {
        Ok(plain) => plain,
        Err(why) => return show(&state, &request, (name, why), None).await,
    };
    match or_why(here.make_device(id, plain, until(&days, now), now).await)? {
        Ok(token) => show(&state, &request, Default::default(), Some(token)).await,
        Err(why) => show(&state, &request, (name, why), None).await,
    }
}

#[derive(Deserialize)]
struct Renewed {
    #[serde(default)]
    days: String,
}

/// Another token: the one before counts no more.
async fn renew(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Renewed>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.clock.now();
    let token = here.renew_device(*id, until(&form.days, now), now).await?;
    show(&state, &request, Default::default(), Some(token)).await
}

#[derive(Deserialize)]
struct ClockForm {
    /// Seconds to take off its times; none where nothing is.
    #[serde(default)]
    ahead_s: f64,
}

/// A device's clock is said to be so far ahead.
async fn clock(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<ClockForm>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    const MOST_S: f64 = 400.0 * 86_400.0;
    let ahead_s = form.ahead_s.clamp(-MOST_S, MOST_S).round();
    if !ahead_s.is_finite() {
        return Err(PageError::Request(says::HOW_FAR_AHEAD.into()));
    }
    here.set_device_clock(*id, ahead_s, state.clock.now()).await?;
    Ok(see_other("/devices"))
}

async fn revoke(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    here.revoke_device(*id, state.clock.now()).await?;
    Ok(see_other("/devices"))
}

#[derive(Deserialize)]
struct Lay {
    /// A bath, or `storage` and a refrigerator or freezer; none where it lies in none.
    #[serde(default)]
    bath: String,
    /// Stuck into this piece.
    piece: Option<Uuid>,
    /// Its tip is at the centre.
    #[serde(default)]
    centred: bool,
    #[serde(default)]
    back: String,
}

async fn place(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<Lay>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let which = |text: &str| text.parse().map_err(|_| PageError::Request(says::WHERE_IT_LIES.into()));
    let lies = match form.bath.as_str() {
        "" => None,
        text => Some(match text.strip_prefix("storage ") {
            Some(storage) => Lies::Storage(which(storage)?),
            None => Lies::Bath { bath: which(text)?, piece: form.piece, centred: form.centred },
        }),
    };
    here.place_device(*id, lies, state.clock.now()).await?;
    Ok(see_other(if form.back == "devices" { "/devices" } else { "/board" }))
}
