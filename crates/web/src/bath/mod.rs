//! The bath: what runs, the bench where one is planned, the vessels and thermometers of the kitchen.

mod bench;
mod equipment;
mod off;
mod run;
mod run_view;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use equipment::{ThermometerView, Typed};
use hold_steady_core::bath::{Air, BathNow, bath_now, boiling_c, shapes, usual_taps};
use hold_steady_core::book::{BathRecord, usual_air};
use hold_steady_core::units::{Celsius, Units, WallClock};
use hold_steady_core::words;
use hold_steady_store::new_id;
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{self, AppState, Here, PageError, Place, Shell, html_for, near_time, reader_units};
use crate::words::{KEPT, bath as says};
pub use off::{Off, last_word};
pub use run::{Reading, when};

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(app::resource("/bath").route(app::get(page)));
    // Before what takes any identifier in the place of “new”.
    equipment::configure(config);
    bench::configure(config);
    run::configure(config);
}

/// A bath that runs, in a list.
struct RunningView {
    href: String,
    name: String,
    /// What it is: read, or only set.
    degrees: String,
    how: String,
    what: String,
    /// When to look next: on the clock, and for the countdown.
    look: Option<(String, i64)>,
    alarm: bool,
}

impl RunningView {
    fn of(bath: &BathRecord, now: Timestamp, air: Air, zone: &WallClock, units: Units) -> Self {
        let stands = bath_now(bath, air, usual_taps(), now);
        let Said { degrees, how, what, alarm } = Said::of(&stands, now, zone, units);
        Self {
            href: format!("/bath/runs/{}", bath.id),
            name: bath.name.clone(),
            degrees,
            how,
            what,
            look: stands.look_at.map(|t| (near_time(t, now, zone), t.as_millisecond())),
            alarm,
        }
    }
}

/// What a bath is said to be and what to do, in short.
struct Said {
    degrees: String,
    how: String,
    what: String,
    alarm: bool,
}

impl Said {
    fn of(stands: &BathNow, now: Timestamp, zone: &WallClock, units: Units) -> Self {
        let wanted = stands.wanted.map_or_else(|| "—".to_owned(), |c| units.temperature(c));
        let (degrees, how) = match stands.last.first() {
            Some(read) => (
                units.temperature_fixed(read.trust.corrected(read.read)),
                format!("read with {} at {}; wanted {wanted}", read.name, near_time(read.at, now, zone)),
            ),
            None if stands.state.aim.is_some() => (wanted.clone(), "wanted; not read yet".to_owned()),
            None => (wanted.clone(), "set, not read".to_owned()),
        };
        let by_hand = stands.state.aim.is_some();
        let what = match &stands.care {
            Some(care) => words::care(care, units).0,
            None if by_hand => "Stir and read it".to_owned(),
            None => "The heater holds it".to_owned(),
        };
        let under = stands.care.is_some_and(|c| c.under.is_some());
        Self { degrees, how, what, alarm: stands.unproved || under }
    }
}

#[derive(Template)]
#[template(path = "bath/page.html")]
struct BathPage {
    shell: Shell,
    running: Vec<RunningView>,
    vessels: Vec<(Uuid, String, String)>,
    shapes: Vec<(String, String)>,
    thermometers: Vec<ThermometerView>,
    typed: Typed,
    new_thermometer: Uuid,
    /// A vessel just taken off: to be put back.
    removed: Option<(Uuid, String)>,
    said: Option<&'static str>,
}

impl BathPage {
    /// Whether what stands in the forms is about this thermometer.
    fn about(&self, id: &Uuid) -> bool {
        self.typed.about.as_ref() == Some(id)
    }

    fn error(&self, field: &str) -> &str {
        self.typed.errors.get(field).map_or("", String::as_str)
    }
}

#[derive(Deserialize, Default)]
struct Query {
    #[serde(default)]
    done: String,
    removed: Option<Uuid>,
    #[serde(default)]
    name: String,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let Query { done, removed, name } = query.into_inner();
    let said = match done.as_str() {
        "checked" => Some(says::CHECKED),
        "thermometer" => Some(KEPT),
        "vessel" => Some(says::VESSEL_KEPT),
        _ => None,
    };
    show(&state, &request, Typed::default(), removed.map(|id| (id, name)), said).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    typed: Typed,
    removed: Option<(Uuid, String)>,
    said: Option<&'static str>,
) -> Result<HttpResponse, PageError> {
    let (now, units, kitchen) = (state.clock.now(), reader_units(request), state.kitchen());
    let equipment = Here::of(request)?.equipment().await?;
    let air = usual_air(kitchen.rules.altitude_m);
    let boils = units.temperature(Celsius::new((boiling_c(kitchen.rules.altitude_m) * 10.0).round() / 10.0));
    let running = Here::of(request)?.running_baths().await?;
    let gone = removed.filter(|(id, _)| equipment.vessels.iter().all(|v| v.id != *id));
    let refused = !typed.errors.is_empty();
    let page = BathPage {
        shell: Shell::new(state, request, Place::Bath, "Bath").await?,
        running: running.iter().map(|b| RunningView::of(b, now, air, &kitchen.wall(), units)).collect(),
        vessels: equipment
            .vessels
            .iter()
            .map(|v| (v.id, v.vessel.name.clone(), units.litres(v.vessel.litres(v.vessel.max_mm))))
            .collect(),
        shapes: shapes().iter().map(|(id, v)| (id.clone(), v.called(units))).collect(),
        thermometers: equipment
            .thermometers
            .iter()
            .map(|t| ThermometerView::of(t, now, &kitchen.wall(), units).boiling_at(&boils))
            .collect(),
        typed,
        new_thermometer: new_id(now),
        removed: gone,
        said,
    };
    html_for(&page, refused)
}
