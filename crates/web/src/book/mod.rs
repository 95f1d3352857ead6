//! The book: planned beside done, newest first; taken out and brought in.

mod view;

use actix_multipart::Multipart;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::book::{BookEntry, csv, read_export};
use hold_steady_core::units::Units;
use serde::Deserialize;

use crate::app::{self, AppState, PageError, Place, Shell, html, reader_units};
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
    notice: Option<String>,
    problem: Option<String>,
}

#[derive(Deserialize, Default)]
struct Turn {
    page: Option<usize>,
}

/// Entries on a page: each costs a simulation of what was done.
const PER_PAGE: usize = 24;

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    turn: web::Query<Turn>,
) -> Result<HttpResponse, PageError> {
    show(&state, &request, turn.page.unwrap_or(1), None, None).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    page: usize,
    notice: Option<String>,
    problem: Option<String>,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(request);
    let cooks = state.store.cooks(state.kitchen.id).await?;
    let finished: Vec<_> = cooks
        .iter()
        .filter(|c| {
            let s = c.state();
            !s.deleted && (s.ended().is_some() || s.rating().is_some())
        })
        .collect();
    let pages = finished.len().div_ceil(PER_PAGE).max(1);
    let page = page.clamp(1, pages);
    let mut entries = Vec::new();
    for cook in finished.iter().skip((page - 1) * PER_PAGE).take(PER_PAGE) {
        if let Some(entry) = BookEntry::of(cook, units)? {
            entries.push(EntryView::new(cook, &entry, &state.kitchen.zone, units));
        }
    }
    let shell = Shell::new(state, request, Place::Book, "Book").await?;
    html(&BookPage { shell, entries, page, pages, notice, problem })
}

async fn export_json(state: web::Data<AppState>) -> Result<HttpResponse, PageError> {
    let export = state.store.export(&state.kitchen, state.clock.now()).await?;
    app::json_file("hold-steady-book.json", &export)
}

async fn export_csv(state: web::Data<AppState>) -> Result<HttpResponse, PageError> {
    let mut entries = Vec::new();
    for cook in state.store.cooks(state.kitchen.id).await? {
        entries.extend(BookEntry::of(&cook, Units::default())?);
    }
    let text = csv(&entries, &state.kitchen.zone)
        .map_err(|e| PageError::Request(format!("the book cannot be written: {e}")))?;
    Ok(app::attachment("hold-steady-book.csv", "text/csv; charset=utf-8", text))
}

async fn import(
    state: web::Data<AppState>,
    request: HttpRequest,
    parts: Multipart,
) -> Result<HttpResponse, PageError> {
    let outcome =
        match app::uploaded_text(parts, "Choose a file first: one that was exported here as JSON.").await {
            Ok(text) => match read_export(&text) {
                Ok(export) => {
                    let done = state.store.import(&state.kitchen, export).await;
                    done.map_err(|e| format!("Nothing was imported: {e}."))
                }
                Err(e) => Err(format!("Nothing was imported: {e}.")),
            },
            Err(problem) => Err(problem),
        };
    match outcome {
        Ok(done) => {
            let notice = format!(
                "Imported: {} new, {} with further records, {} already here; {} foods and temperatures of a kitchen's own.",
                done.cooks_added, done.cooks_extended, done.cooks_unchanged, done.pantry_added
            );
            show(&state, &request, 1, Some(notice), None).await
        }
        Err(problem) => {
            let mut refused = show(&state, &request, 1, None, Some(problem)).await?;
            *refused.status_mut() = actix_web::http::StatusCode::UNPROCESSABLE_ENTITY;
            Ok(refused)
        }
    }
}
