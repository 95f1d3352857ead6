//! Who did what at the door: a page with a filter, and the same as a table.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::who::DeedRecord;
use hold_steady_core::words::{self, DEEDS};
use serde::Deserialize;

use crate::app::{self, AppState, PageError, Place, Shell, attachment, day_and_time, html};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/trail").route(app::get(page)))
        .service(app::resource("/trail.csv").route(app::get(table)));
}

/// So many stand on the page; the table has all.
const SHOWN: usize = 200;
const MOST: usize = 100_000;

#[derive(Deserialize, Default)]
struct Which {
    #[serde(default)]
    kind: String,
}

impl Which {
    /// The kind that is asked for, where it is one.
    fn kind(&self) -> Option<String> {
        DEEDS.iter().find(|(id, _)| *id == self.kind).map(|(id, _)| (*id).to_owned())
    }
}

/// A line of the page.
struct Line {
    at: String,
    who: String,
    role: &'static str,
    screen: String,
    what: String,
}

#[derive(Template)]
#[template(path = "door/trail.html")]
struct TrailPage {
    shell: Shell,
    lines: Vec<Line>,
    kinds: Vec<(&'static str, &'static str, bool)>,
    kind: String,
    shown: usize,
}

/// A screen, in as many letters as tell it from others.
fn screen(record: &DeedRecord) -> String {
    record.by.screen.map(|s| s.simple().to_string()[24..].to_owned()).unwrap_or_default()
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Which>,
) -> Result<HttpResponse, PageError> {
    let wall = state.kitchen().wall();
    let kind = query.kind();
    let lines = state.here().trail(kind.clone(), SHOWN).await?;
    let line = |r: DeedRecord| Line {
        at: day_and_time(r.at, &wall),
        role: r.role.id(),
        screen: screen(&r),
        what: words::deed(&r.deed),
        who: r.by.name,
    };
    let chosen = kind.unwrap_or_default();
    let page = TrailPage {
        shell: Shell::new(&state, &request, Place::Kitchen, "Trail").await?,
        lines: lines.into_iter().map(line).collect(),
        kinds: DEEDS.iter().map(|(id, name)| (*id, *name, *id == chosen)).collect(),
        kind: chosen,
        shown: SHOWN,
    };
    html(&page)
}

/// As CSV: one line each, the newest first. A name cannot become a formula of whoever opens it in a spreadsheet.
async fn table(state: web::Data<AppState>, query: web::Query<Which>) -> Result<HttpResponse, PageError> {
    let records = state.here().trail(query.kind(), MOST).await?;
    let rows = words::trail_table(&records);
    Ok(attachment("hold-steady-trail.csv", "text/csv; charset=utf-8", rows))
}
