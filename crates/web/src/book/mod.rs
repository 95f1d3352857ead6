//! The book: planned beside done, newest first; taken out and brought in.

mod view;

use std::sync::atomic::Ordering;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::book::{BookEntry, CookRecord, LeftOut};
use hold_steady_core::units::{WallClock, shortened};
use hold_steady_store::{Search, StoreError, Unreadable};
use jiff::ToSpan;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::app::{
    self, AppState, Here, PageError, Place, Shell, bounded, compute, html, html_for, reader_units,
};
use crate::cook::parse_id;
use crate::words::book as says;
use view::{EntryView, LEVELS, NOT_CHECKED, Row, level_of};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/book").route(app::get(page)))
        .service(app::resource("/book/entry/{id}").route(app::get(entry)))
        .service(app::resource("/book/export.json").route(app::get(export_json)))
        .service(app::resource("/book/export.csv").route(app::get(export_csv)))
        .service(app::resource(app::TAKES_ITS_OWN).route(web::post().to(import)));
}

#[derive(Template)]
#[template(path = "book/page.html")]
struct BookPage {
    shell: Shell,
    rows: Vec<Row>,
    sought: Sought,
    levels: [(&'static str, &'static str, bool); LEVELS.len()],
    page: usize,
    pages: usize,
    all: usize,
    /// Verdicts are still being worked out.
    judging: bool,
    said: Remarks,
    unreadable: Vec<Unreadable>,
}

#[derive(Template)]
#[template(path = "book/entry.html")]
struct EntryFragment {
    entry: EntryView,
}

/// What the page says besides.
#[derive(Default)]
struct Remarks {
    notice: Option<String>,
    problem: Option<String>,
    left_out: Vec<LeftOut>,
    noted: Vec<LeftOut>,
}

impl Remarks {
    fn problem(problem: String) -> Self {
        Self { problem: Some(problem), ..Self::default() }
    }
}

/// What is looked for, as typed, and the page of it.
#[derive(Deserialize, Serialize, Default)]
#[serde(default)]
struct Sought {
    #[serde(skip_serializing_if = "String::is_empty")]
    food: String,
    #[serde(skip_serializing_if = "String::is_empty")]
    verdict: String,
    #[serde(skip_serializing_if = "String::is_empty")]
    from: String,
    #[serde(skip_serializing_if = "String::is_empty")]
    until: String,
    #[serde(skip_serializing)]
    page: Option<usize>,
}

impl Sought {
    fn any(&self) -> bool {
        [&self.food, &self.verdict, &self.from, &self.until].into_iter().any(|t| !t.is_empty())
    }

    /// The address of a page of the same.
    fn address(&self, page: usize) -> String {
        let sought = serde_urlencoded::to_string(self).unwrap_or_default();
        let and = if sought.is_empty() { "" } else { "&" };
        format!("/book?{sought}{and}page={page}")
    }

    /// What the store is asked; a date that is none is said and left out.
    fn search(&self, zone: &WallClock) -> (Search, Option<String>) {
        let mut wrong = None;
        let mut day = |name: &str, text: &str, after: i64| {
            if text.trim().is_empty() {
                return None;
            }
            let date = text.trim().parse::<Date>().and_then(|d| d.checked_add(after.days()));
            let at = date.and_then(|d| d.to_zoned(zone.zone())).map(|z| z.timestamp());
            if at.is_err() {
                wrong = Some(says::not_a_day(name, &shortened(text.trim())));
            }
            at.ok()
        };
        let search = Search {
            text: self.food.clone(),
            level: Some(self.verdict.clone()).filter(|v| !v.is_empty()),
            since: day("From", &self.from, 0),
            // To the end of that day.
            until: day("Until", &self.until, 1),
        };
        (search, wrong)
    }
}

/// Rows on a page.
const PER_PAGE: usize = 40;

/// Verdicts worked out before a page of the book answers, at most: each costs a simulation. What a kitchen finished
/// since it was last looked at is seldom more; a book brought in is, and is worked through beside the pages.
const JUDGED_AT_ONCE: usize = 8;

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    sought: web::Query<Sought>,
) -> Result<HttpResponse, PageError> {
    show(&state, &request, sought.into_inner(), Remarks::default()).await
}

/// Works out the verdicts of what was done that nobody has yet: the newest now, the others beside the pages. Whether
/// there are such others.
async fn judge(state: &web::Data<AppState>, request: &HttpRequest) -> Result<bool, PageError> {
    let mut waiting = Here::of(request)?.not_judged(JUDGED_AT_ONCE + 1).await?;
    let more = waiting.len() > JUDGED_AT_ONCE;
    waiting.truncate(JUDGED_AT_ONCE);
    if !waiting.is_empty() {
        let judged = move || judged(&waiting);
        Here::of(request)?.keep_levels(compute(state, request, judged).await?).await?;
    }
    if more && !state.judging.swap(true, Ordering::AcqRel) {
        let (state, here) = (state.clone(), Here::of(request)?);
        actix_web::rt::spawn(async move {
            if let Err(e) = judge_the_rest(&state, &here).await {
                tracing::warn!(error = %e, "verdicts of the book are still to be worked out");
            }
            state.judging.store(false, Ordering::Release);
        });
    }
    Ok(more)
}

/// One at a time, so that no page waits long for a place to compute at.
async fn judge_the_rest(state: &AppState, here: &Here) -> Result<(), PageError> {
    loop {
        let waiting = here.not_judged(JUDGED_AT_ONCE).await?;
        if waiting.is_empty() {
            return Ok(());
        }
        for cook in waiting {
            let place = match app::place(state).await {
                Err(PageError::Busy) => continue,
                place => place?,
            };
            let levels = web::block(move || {
                let _place = place;
                judged(&[cook])
            });
            here.keep_levels(levels.await.map_err(|_| PageError::Interrupted)?).await?;
        }
    }
}

/// The verdicts of what was done, and with how many events.
fn judged(cooks: &[CookRecord]) -> Vec<(Uuid, usize, &'static str)> {
    cooks.iter().map(|c| (c.id, c.events.len(), level_of(c))).collect()
}

async fn show(
    state: &web::Data<AppState>,
    request: &HttpRequest,
    sought: Sought,
    mut said: Remarks,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(request);
    let judging = judge(state, request).await?;
    let (search, wrong) = sought.search(&state.kitchen().wall());
    said.problem = said.problem.or(wrong);
    let at = |page: usize| ((page.max(1) - 1).saturating_mul(PER_PAGE), PER_PAGE);
    let page = sought.page.unwrap_or(1);
    let mut found = Here::of(request)?.finished(search.clone(), at(page)).await?;
    let pages = found.all.div_ceil(PER_PAGE).max(1);
    if page > pages {
        found = Here::of(request)?.finished(search, at(pages)).await?;
    }
    let zone = &state.kitchen().wall();
    let level = |cook: &CookRecord| found.levels.get(&cook.id).map_or(NOT_CHECKED, String::as_str);
    let rows = found.cooks.iter().map(|cook| Row::new(cook, level(cook), zone, units)).collect();
    let shell = Shell::new(state, request, Place::Book, "Book").await?;
    let refused = said.problem.is_some();
    let levels = LEVELS.map(|(id, words)| (id, words, sought.verdict == id));
    let (page, all, unreadable) = (page.clamp(1, pages), found.all, found.unreadable);
    html_for(&BookPage { shell, rows, sought, levels, page, pages, all, judging, said, unreadable }, refused)
}

/// A row, opened: planned beside done, and all that happened.
async fn entry(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let id = parse_id(&id)?;
    let cook = here.cook(id).await?;
    let origins = here.origins(id).await?;
    let units = reader_units(&request);
    let (now, kitchen) = (state.clock.now(), state.kitchen());
    let entry = bounded(|| BookEntry::of(&cook))?.ok_or(PageError::NoSuchCook)?;
    let entry = bounded(|| EntryView::new(&cook, &entry, &origins, (now, &kitchen.wall()), units))?;
    html(&EntryFragment { entry })
}

async fn export_json(
    state: web::Data<AppState>,
    request: HttpRequest,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let (here, kitchen, now) = (here, state.kitchen(), state.clock.now());
    let file = ("hold-steady-book.json", "application/json");
    app::taken_out(&state, &request, file.0).await?;
    app::made(&state, &request, file, move |out| async move { here.export(&kitchen, now, out).await }).await
}

async fn export_csv(
    state: web::Data<AppState>,
    request: HttpRequest,
    here: Here,
) -> Result<HttpResponse, PageError> {
    // Every line is computed: it takes one of the places there are for that.
    let place = app::place(&state).await?;
    let (here, kitchen) = (here, state.kitchen());
    let file = ("hold-steady-book.csv", "text/csv; charset=utf-8");
    app::taken_out(&state, &request, file.0).await?;
    app::made(&state, &request, file, move |out| async move {
        let _place = place;
        here.export_csv(&kitchen, out).await
    })
    .await
}

async fn import(
    state: web::Data<AppState>,
    request: HttpRequest,
    body: web::Payload,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let _one = state
        .limits
        .imports
        .take(app::address(&request))
        .ok_or_else(|| PageError::TooMany(10, says::IMPORT_UNDER_WAY.into()))?;
    let said = match app::uploaded(&state, &request, body, app::IMPORT_LIMIT, says::CHOOSE).await? {
        Ok(file) => match here.import(file, state.clock.now()).await {
            Ok(done) => Remarks {
                notice: Some(says::imported(&done)),
                left_out: done.left_out,
                noted: done.noted,
                ..Remarks::default()
            },
            Err(StoreError::Import(e)) => Remarks::problem(says::not_imported(&e)),
            Err(e) => return Err(e.into()),
        },
        Err(problem) => Remarks::problem(problem),
    };
    show(&state, &request, Sought::default(), said).await
}
