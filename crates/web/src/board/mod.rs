//! The live board: every bath with what lies in it, what to do next, what goes wrong, what is to be heard.

mod device;
mod log;
mod view;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::board::Board;
use hold_steady_core::cook::EventKind;
use hold_steady_store::{NewEvent, Unreadable, new_id};
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{
    self, AppState, Here, PageError, Place, Shell, asset_version, compute, html, on_board, on_board_lately,
    reader_units, resource, running, see_other,
};
use crate::words::bath as says;
use view::{AlarmView, BoardView, ClashView};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/cook").route(app::get(list)))
        .service(resource("/board").route(app::get(page)))
        .service(resource("/board/live").route(app::get(live)))
        .service(resource("/board/kiosk").route(app::get(kiosk)))
        .service(resource("/alarms").route(app::get(to_hear)))
        .service(resource("/board/heard").route(web::post().to(heard)))
        .service(resource("/board/move").route(web::post().to(moved)))
        .service(resource("/board/clash/{bath}").route(app::get(clash)));
    device::configure(config);
    log::configure(config);
}

#[derive(Template)]
#[template(path = "board/page.html")]
struct BoardPage {
    shell: Shell,
    board: BoardView,
    unreadable: Vec<Unreadable>,
}

#[derive(Template)]
#[template(path = "board/live.html")]
struct LiveFragment {
    board: BoardView,
}

#[derive(Template)]
#[template(path = "board/alarms.html")]
struct Alarms {
    alarms: Vec<AlarmView>,
}

#[derive(Template)]
#[template(path = "board/kiosk.html")]
struct KioskPage {
    version: &'static str,
    words: &'static str,
    kitchen: String,
    zone: String,
    hours: &'static str,
    now_ms: i64,
    rate: f64,
    board: BoardView,
}

async fn viewed(state: &AppState, request: &HttpRequest, board: &Board) -> Result<BoardView, PageError> {
    let devices = Here::of(request)?.devices().await?;
    BoardView::new(state, board, &devices, reader_units(request))
}

/// The board. (The address of cooks leads to the only one there is; this one never does.)
async fn page(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    show(&state, &request).await
}

/// For the list of cooks, which is the board.
pub async fn show(state: &AppState, request: &HttpRequest) -> Result<HttpResponse, PageError> {
    let shell = Shell::new(state, request, Place::Cook, "Board").await?;
    let stands = on_board(state).await?;
    let board = viewed(state, request, &stands.0).await?;
    html(&BoardPage { shell, board, unreadable: stands.1.clone() })
}

async fn live(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    let stands = on_board_lately(&state).await?;
    html(&LiveFragment { board: viewed(&state, &request, &stands.0).await? })
}

async fn kiosk(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    let stands = on_board(&state).await?;
    html(&KioskPage {
        version: asset_version(),
        words: app::script_words(),
        kitchen: state.kitchen().name.clone(),
        hours: state.kitchen().habits.hours.id(),
        zone: state.kitchen().zone.iana_name().unwrap_or_default().to_owned(),
        now_ms: state.clock.now().as_millisecond(),
        rate: state.clock.rate(),
        board: viewed(&state, &request, &stands.0).await?,
    })
}

/// What is to be heard on this screen: every page asks.
async fn to_hear(
    state: web::Data<AppState>,
    request: HttpRequest,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let (stands, heard) = (on_board_lately(&state).await?, here.heard().await?);
    let (now, zone) = (state.clock.now(), state.kitchen().wall());
    let alarms = AlarmView::all((&stands.0, &heard), now, &zone, reader_units(&request));
    html(&Alarms { alarms })
}

#[derive(Deserialize)]
struct Heard {
    alarm: String,
    /// Where it was heard: back there.
    #[serde(default)]
    at: String,
}

/// The board; straight to the cook when there is just one, and no other bath runs.
async fn list(
    state: web::Data<AppState>,
    request: HttpRequest,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let all = running(&state, state.clock.now()).await?;
    let (under_way, unreadable) = (&all.0, &all.1);
    let baths = here.running_baths().await?.len();
    let named = |r: &app::Running| r.record.baths.iter().any(|b| b.vessel.is_some());
    if let ([only], []) = (under_way.as_slice(), unreadable.as_slice())
        && baths <= usize::from(named(only))
    {
        return Ok(see_other(&format!("/cook/{}", only.record.id)));
    }
    show(&state, &request).await
}

/// Alarms were heard on this screen; on others they go on.
async fn heard(
    state: web::Data<AppState>,
    form: web::Form<Heard>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    const LONGEST: usize = 100;
    const MOST: usize = 50;
    let alarms: Vec<String> =
        form.alarm.split(' ').filter(|a| a.len() <= LONGEST).take(MOST).map(str::to_owned).collect();
    here.hear(alarms, state.clock.now()).await?;
    Ok(see_other(if form.at == "kiosk" { "/board/kiosk" } else { "/board" }))
}

#[derive(Deserialize)]
struct Move {
    cook: Uuid,
    bath: Uuid,
    tap: Option<Uuid>,
    #[serde(default)]
    tapped_ago: String,
}

/// A bag goes into another bath.
async fn moved(
    state: web::Data<AppState>,
    form: web::Form<Move>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let at = crate::app::tapped_at(&form.tapped_ago, now).map_err(PageError::Request)?.unwrap_or(now);
    // One of this kitchen's that runs.
    if here.bath(form.bath).await?.state().emptied.is_some() {
        return Err(PageError::Request(says::EMPTIED.into()));
    }
    let kind = EventKind::Moved { bath: form.bath };
    let event = NewEvent { id: form.tap.unwrap_or_else(|| new_id(now)), happened_at: at, kind };
    let told = here.add_event(form.cook, event, now, hold_steady_core::book::CookRecord::with).await?;
    told.map_err(|refusal| PageError::Request(format!("It was not moved: {refusal}")))?;
    Ok(see_other("/board"))
}

#[derive(Template)]
#[template(path = "board/clash.html")]
struct ClashPage {
    shell: Shell,
    clash: ClashView,
}

/// What can be done for bags that want one bath to be different things.
async fn clash(
    state: web::Data<AppState>,
    request: HttpRequest,
    bath: web::Path<String>,
) -> Result<HttpResponse, PageError> {
    let shell = Shell::new(&state, &request, Place::Cook, "One bath for all").await?;
    let stands = on_board(&state).await?;
    let (units, windows) = (reader_units(&request), state.windows.clone());
    // Of those no vessel was named for, or of a bath.
    let of = match bath.as_str() {
        "any" => None,
        id => Some(id.parse().map_err(|_| PageError::NoSuchPage)?),
    };
    let clash = compute(&state, &request, move || ClashView::new(&stands.0, of, &windows, units)).await??;
    html(&ClashPage { shell, clash })
}
