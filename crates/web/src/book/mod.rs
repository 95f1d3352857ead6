//! The book: planned beside done, newest first; taken out and brought in.

mod view;

use actix_multipart::Multipart;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::book::{BookEntry, LeftOut, read_export};
use hold_steady_store::{CookPhase, Unreadable};
use serde::Deserialize;

use crate::app::{self, AppState, PageError, Place, Shell, bounded, html_for, reader_units};
use view::EntryView;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(web::resource("/book").route(app::get(page)))
        .service(web::resource("/book/export.json").route(app::get(export_json)))
        .service(web::resource("/book/export.csv").route(app::get(export_csv)))
        .service(web::resource("/book/import").route(web::post().to(import)));
}

#[derive(Template)]
#[template(path = "book/page.html")]
struct BookPage {
    shell: Shell,
    entries: Vec<EntryView>,
    page: usize,
    pages: usize,
    said: Remarks,
    unreadable: Vec<Unreadable>,
}

/// What the page says besides.
#[derive(Default)]
struct Remarks {
    notice: Option<String>,
    problem: Option<String>,
    left_out: Vec<LeftOut>,
}

#[derive(Deserialize, Default)]
struct PageTurn {
    page: Option<usize>,
}

/// Entries on a page: each costs a simulation of what was done.
const PER_PAGE: usize = 24;

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    turn: web::Query<PageTurn>,
) -> Result<HttpResponse, PageError> {
    show(&state, &request, turn.page.unwrap_or(1), Remarks::default()).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    page: usize,
    said: Remarks,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(request);
    let at = |page: usize| ((page.max(1) - 1).saturating_mul(PER_PAGE), PER_PAGE);
    let finished = async |page| state.here().cooks_that(CookPhase::Finished, at(page)).await;
    let (mut cooks, all, mut unreadable) = finished(page).await?;
    let pages = all.div_ceil(PER_PAGE).max(1);
    if page > pages {
        (cooks, _, unreadable) = finished(pages).await?;
    }
    let page = page.clamp(1, pages);
    let mut entries = Vec::new();
    bounded(|| {
        for cook in &cooks {
            match BookEntry::of(cook) {
                Ok(Some(entry)) => entries.push(EntryView::new(cook, &entry, &state.kitchen().zone, units)),
                Ok(None) => {}
                Err(e) => unreadable.push(Unreadable { id: cook.id.to_string(), reason: e.to_string() }),
            }
        }
    });
    let shell = Shell::new(state, request, Place::Book, "Book").await?;
    let refused = said.problem.is_some();
    html_for(&BookPage { shell, entries, page, pages, said, unreadable }, refused)
}

async fn export_json(state: web::Data<AppState>) -> HttpResponse {
    let (here, now) = (state.here(), state.clock.now());
    app::streamed("hold-steady-book.json", "application/json", move |out| async move {
        here.export(&state.kitchen(), now, out).await
    })
}

async fn export_csv(state: web::Data<AppState>) -> Result<HttpResponse, PageError> {
    // Every line is computed: it takes one of the places there are for that.
    let place = app::place(&state).await?;
    let here = state.here();
    Ok(app::streamed("hold-steady-book.csv", "text/csv; charset=utf-8", move |out| async move {
        let _place = place;
        here.export_csv(&state.kitchen(), out).await
    }))
}

async fn import(
    state: web::Data<AppState>,
    request: HttpRequest,
    parts: Multipart,
) -> Result<HttpResponse, PageError> {
    let now = state.clock.now();
    let read =
        match app::uploaded_text(parts, "Choose a file first: one that was exported here as JSON.").await {
            Ok(text) => web::block(move || read_export(&text, now))
                .await
                .map_err(|_| PageError::Interrupted)?
                .map_err(|e| format!("Nothing was imported: {e}.")),
            Err(problem) => Err(problem),
        };
    let said = match read {
        Ok(incoming) => {
            let done = state.here_for(&request).await?.import(incoming, now).await?;
            Remarks {
                notice: Some(format!("Imported: {done}.")),
                left_out: done.left_out,
                ..Remarks::default()
            }
        }
        Err(problem) => Remarks { problem: Some(problem), ..Remarks::default() },
    };
    show(&state, &request, 1, said).await
}
