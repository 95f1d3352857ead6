//! What was cooked ahead and is kept cold: where, until when; and the refrigerators, freezers and the room with what was read
//! there.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::book::CookRecord;
use hold_steady_core::calc::MOST_EFFORT;
use hold_steady_core::cook::live_here;
use hold_steady_core::heat::Effort;
use hold_steady_core::keep::{Storage, StorageKind, StorageRecord, read_storage};
use hold_steady_core::units::{Units, WallClock, capitalised};
use hold_steady_core::words;
use hold_steady_store::{CookPhase, Put, Unreadable, new_id};
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{
    self, AppState, Here, PageError, Place, Removal, Shell, compute, day_and_time, html_for, near_time,
    or_why, reader_units, resource, see_other,
};
use crate::bath::{Reading, when};
use crate::words::kitchen as says;

/// Readings of the last day are shown.
const SHOWN: SignedDuration = SignedDuration::from_hours(24);
/// Most that is kept at once, on one page.
const MOST: usize = 100;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/keep").route(app::get(page)).route(web::post().to(make)))
        .service(resource("/keep/{id}").route(app::get(one)))
        .service(resource("/keep/{id}/read").route(web::post().to(read)))
        .service(resource("/keep/{id}/remove").route(web::post().to(remove)));
}

/// A refrigerator, a freezer or the room, as it is listed.
struct StorageView {
    id: Uuid,
    name: String,
    kind: &'static str,
    stands: String,
    warm: bool,
}

impl StorageView {
    fn of(record: &StorageRecord, (units, now, zone): (Units, Timestamp, &WallClock)) -> Self {
        let (stands, warm) = words::storage_stands(record, units, &|t| near_time(t, now, zone));
        Self {
            id: record.storage.id,
            name: record.storage.name.clone(),
            kind: words::storage_kind(record.storage.kind),
            stands,
            warm,
        }
    }
}

/// Something that is kept.
struct KeptView {
    id: Uuid,
    title: String,
    place: String,
    what: String,
    why: String,
}

impl KeptView {
    /// All of them; each is a question of its own, however many are kept, and away from the threads that serve.
    async fn all(
        state: &AppState,
        request: &HttpRequest,
        cooks: Vec<CookRecord>,
    ) -> Result<Vec<Self>, PageError> {
        let (now, zone, units) = (state.clock.now(), state.kitchen().wall(), reader_units(request));
        compute(state, request, move || {
            let one = |c: &CookRecord| Effort::of(MOST_EFFORT).within(|| Self::of(c, (units, now, &zone)));
            cooks.iter().filter_map(|c| one(c).transpose()).collect()
        })
        .await?
    }

    fn of(
        record: &CookRecord,
        (units, now, zone): (Units, Timestamp, &WallClock),
    ) -> Result<Option<Self>, PageError> {
        let Some(planned) = record.plan_record() else { return Ok(None) };
        let (plan, state) = (planned.plan()?, record.state());
        let live = live_here(&planned.request, &plan, &state, &record.water(&state), (now, zone))?;
        let (what, why) = words::next(&live, units, &|t| near_time(t, now, zone));
        Ok(Some(Self {
            id: record.id,
            title: record.title_in(units),
            place: state.kept().map_or_else(String::new, |(_, kept)| capitalised(&words::kept_in(kept))),
            what,
            why,
        }))
    }
}

#[derive(Template)]
#[template(path = "keep/page.html")]
struct KeepPage {
    shell: Shell,
    kept: Vec<KeptView>,
    more: usize,
    unreadable: Vec<Unreadable>,
    storages: Vec<StorageView>,
    kinds: Vec<(&'static str, &'static str, bool)>,
    new: Uuid,
    typed: String,
    problem: String,
    removed: Option<(Uuid, String)>,
}

#[derive(Deserialize)]
struct Seen {
    /// Just taken off the list.
    removed: Option<Uuid>,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    seen: web::Query<Seen>,
) -> Result<HttpResponse, PageError> {
    show(&state, &request, New::default(), (String::new(), seen.removed)).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    typed: New,
    (problem, removed): (String, Option<Uuid>),
) -> Result<HttpResponse, PageError> {
    let (now, zone, units) = (state.clock.now(), state.kitchen().wall(), reader_units(request));
    let (cooks, all, unreadable) = Here::of(request)?.cooks_that(CookPhase::Kept, (0, MOST)).await?;
    let kept = KeptView::all(state, request, cooks).await?;
    let since = now.checked_sub(SHOWN).unwrap_or(now);
    let storages = Here::of(request)?.storages(since).await?;
    let removed = match removed {
        Some(id) => Some((id, Here::of(request)?.storage(id, now).await?.storage.name)),
        None => None,
    };
    let chosen = StorageKind::from_id(&typed.kind).unwrap_or(StorageKind::Refrigerator);
    let refused = !problem.is_empty();
    html_for(
        &KeepPage {
            shell: Shell::new(state, request, Place::Cook, "Kept cold").await?,
            more: all.saturating_sub(kept.len()),
            kept,
            unreadable,
            storages: storages.iter().map(|s| StorageView::of(s, (units, now, &zone))).collect(),
            kinds: StorageKind::ALL.map(|k| (k.id(), words::storage_kind(k), k == chosen)).into(),
            new: new_id(now),
            typed: typed.name,
            problem,
            removed,
        },
        refused,
    )
}

#[derive(Deserialize, Default)]
struct New {
    #[serde(default)]
    id: Uuid,
    #[serde(default)]
    name: String,
    #[serde(default)]
    kind: String,
}

/// Makes one known, or gives it another name.
async fn make(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<New>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let form = form.into_inner();
    let name = match app::plain_name(&form.name, "refrigerator or freezer") {
        Ok(name) => name,
        Err(why) => return show(&state, &request, form, (why, None)).await,
    };
    let Some(kind) = StorageKind::from_id(&form.kind) else {
        let why = says::WHAT_PLACE.to_owned();
        return show(&state, &request, form, (why, None)).await;
    };
    let storage = Storage { id: form.id, name, kind };
    match or_why(here.keep_storage(storage, state.clock.now()).await)? {
        Ok(()) => Ok(see_other("/keep#storages")),
        Err(why) => show(&state, &request, form, (why, None)).await,
    }
}

/// A reading, as it is listed.
struct ReadView {
    at: String,
    degrees: String,
}

/// What stands in its forms and could not be taken.
#[derive(Default)]
struct Typed {
    degrees: String,
    when: String,
    problem: String,
}

#[derive(Template)]
#[template(path = "keep/one.html")]
struct StoragePage {
    shell: Shell,
    storage: StorageView,
    kinds: Vec<(&'static str, &'static str, bool)>,
    reads: Vec<ReadView>,
    /// How many were left out of the list.
    more: usize,
    thermometers: Vec<(Uuid, String)>,
    tap: Uuid,
    typed: Typed,
    here: Vec<KeptView>,
}

async fn one(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageError> {
    show_one(&state, &request, *id, Typed::default()).await
}

async fn show_one(
    state: &AppState,
    request: &HttpRequest,
    id: Uuid,
    typed: Typed,
) -> Result<HttpResponse, PageError> {
    const LISTED: usize = 40;
    let (now, zone, units) = (state.clock.now(), state.kitchen().wall(), reader_units(request));
    let record = Here::of(request)?.storage(id, now.checked_sub(SHOWN).unwrap_or(now)).await?;
    let all = record.reads();
    let (cooks, _, _) = Here::of(request)?.cooks_that(CookPhase::Kept, (0, MOST)).await?;
    let lies_here = |c: &CookRecord| {
        let stands = c.state();
        stands.kept().is_some_and(|(_, kept)| kept.storage.as_ref().is_some_and(|s| s.id == id))
    };
    let here = KeptView::all(state, request, cooks.into_iter().filter(lies_here).collect()).await?;
    let thermometers = Here::of(request)?.equipment().await?.thermometers;
    let refused = !typed.problem.is_empty();
    html_for(
        &StoragePage {
            shell: Shell::new(state, request, Place::Cook, record.storage.name.clone()).await?,
            storage: StorageView::of(&record, (units, now, &zone)),
            kinds: StorageKind::ALL
                .map(|k| (k.id(), words::storage_kind(k), k == record.storage.kind))
                .into(),
            reads: all
                .iter()
                .rev()
                .take(LISTED)
                .map(|r| ReadView {
                    at: day_and_time(r.at, &zone),
                    degrees: units.temperature_fixed(r.celsius),
                })
                .collect(),
            more: all.len().saturating_sub(LISTED),
            thermometers: thermometers.into_iter().map(|t| (t.id, t.name)).collect(),
            tap: new_id(now),
            typed,
            here,
        },
        refused,
    )
}

async fn read(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Reading>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let form = form.into_inner();
    let typed = |problem| Typed { degrees: form.degrees.clone(), when: form.when.clone(), problem };
    let understood = read_storage(&form.degrees, reader_units(&request))
        .and_then(|c| Ok((c, when(&form.when, &form.tapped_ago, now, &state.kitchen().wall())?)));
    let read = match understood {
        Ok(read) => read,
        Err(why) => return show_one(&state, &request, *id, typed(why.into())).await,
    };
    let tap = form.tap.unwrap_or_else(|| new_id(now));
    let thermometer = form.thermometer.parse().ok();
    match or_why(here.read_storage(*id, thermometer, read, (tap, now)).await)? {
        Ok(()) => Ok(see_other(&format!("/keep/{id}"))),
        Err(why) => show_one(&state, &request, *id, typed(why)).await,
    }
}

async fn remove(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<Removal>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    here.remove_storage(*id, form.put(), state.clock.now()).await?;
    let to = if form.put() == Put::Off { format!("/keep?removed={id}") } else { "/keep#storages".to_owned() };
    Ok(see_other(&to))
}
