//! Who did what at the door, to rules and equipment and to files: a page with a filter, and the same as a table.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::book::TrailRecord;
use hold_steady_core::who::{Deed, Role};
use hold_steady_core::words::{self, TRAIL_KINDS};
use serde::Deserialize;

use crate::app::{self, AppState, Here, PageError, Place, Shell, attachment, day_and_time, html};

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
        TRAIL_KINDS.iter().find(|(id, _)| *id == self.kind).map(|(id, _)| (*id).to_owned())
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
pub fn letters(screen: uuid::Uuid) -> String {
    screen.simple().to_string()[24..].to_owned()
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Which>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let wall = state.kitchen().wall();
    let kind = query.kind();
    let lines = here.trail(kind.clone(), SHOWN).await?;
    let screens = here.screens().await?;
    let named =
        |s: uuid::Uuid| screens.iter().find(|k| k.screen == s).map_or_else(|| letters(s), |k| k.name.clone());
    let line = |r: TrailRecord| Line {
        at: day_and_time(r.at, &wall),
        role: r.role.map_or("", Role::id),
        screen: r.by.screen.map(named).unwrap_or_default(),
        what: words::happened(&r.what, &|t| day_and_time(t, &wall)),
        who: r.by.told(),
    };
    let chosen = kind.unwrap_or_default();
    let page = TrailPage {
        shell: Shell::new(&state, &request, Place::Kitchen, "Trail").await?,
        lines: lines.into_iter().map(line).collect(),
        kinds: TRAIL_KINDS.iter().map(|(id, name)| (*id, *name, *id == chosen)).collect(),
        kind: chosen,
        shown: SHOWN,
    };
    html(&page)
}

/// As CSV: one line each, the newest first. A name cannot become a formula of whoever opens it in a spreadsheet.
async fn table(
    state: web::Data<AppState>,
    query: web::Query<Which>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let records = here.trail(query.kind(), MOST).await?;
    let rows = words::trail_table(&records);
    let file = "hold-steady-trail.csv";
    here.done(Deed::TakenOut { file: file.into() }, state.clock.now()).await?;
    Ok(attachment(file, "text/csv; charset=utf-8", rows))
}
