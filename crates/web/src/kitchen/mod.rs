//! The kitchen: its name, what it has settled for all its plans, how it likes to work, who works there, and its copies.

mod guests;
mod people;

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::boiling_c;
use hold_steady_core::plan::{Guest, GuestForm, HabitsForm, KitchenForm, Person, SALTING_SCHOOLS};
use hold_steady_core::prep::bag;
use hold_steady_core::safety::profiles;
use hold_steady_core::sear::Hearth;
use hold_steady_core::units::{Celsius, Units};
use hold_steady_core::who::Right;
use hold_steady_store::WHOLE_DAYS;
use jiff::tz::TimeZone;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{self, AppState, Here, PageError, Place, Shell, html_for, reader_units, see_other};
use crate::words::{KEPT, kitchen as says, not_a_name};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/kitchen").route(app::get(page)).route(web::post().to(settle)))
        .service(app::resource("/kitchen/name").route(web::post().to(rename)))
        .service(app::resource("/kitchen/habits").route(web::post().to(keep_habits)))
        .service(app::resource("/kitchen/readings").route(web::post().to(keep_whole)))
        .service(app::resource("/kitchen/copy.sqlite3").route(app::get(copy)));
    people::configure(config);
    guests::configure(config);
}

/// A choice of a list: value, words, whether it is chosen.
type Choice = (String, String, bool);

#[derive(Template)]
#[template(path = "kitchen/page.html")]
struct KitchenPage {
    shell: Shell,
    typed: Typed,
    errors: BTreeMap<&'static str, String>,
    profiles: Vec<Choice>,
    salting: Vec<Choice>,
    airs: Vec<Choice>,
    units: Vec<Choice>,
    zones: Vec<String>,
    /// The hottest pan that is proposed where it may be a coated one.
    pan_most: String,
    boils: String,
    people: Vec<(Person, bool)>,
    guests: Vec<Guest>,
    /// An identifier for the guest who is written down next.
    new_guest: Uuid,
    /// An identifier for whoever is written down next.
    new_person: Uuid,
    said: Option<&'static str>,
    /// Whether people have to sign in here.
    asks: bool,
    /// Whether whoever looks at it is an owner.
    owns: bool,
    /// Whether they may say how it is done here.
    settles: bool,
    /// When the copy of the night failed last, and why.
    copy_failed: Option<(String, String)>,
    /// For how many days every reading is kept, at least and at most.
    whole_days: (String, u16, u16),
}

impl KitchenPage {
    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }
}

/// What stands in the forms of the page: what is so, or what was typed and could not be taken.
#[derive(Debug, Clone, Default)]
struct Typed {
    name: String,
    zone: String,
    form: KitchenForm,
    habits: HabitsForm,
    person: String,
    initials: String,
    guest: GuestForm,
    /// The guest that could not be taken as typed.
    guest_id: Option<Uuid>,
    /// Days, where they could not be taken.
    days: Option<String>,
}

impl Typed {
    fn as_it_is(state: &AppState, units: Units) -> Self {
        let kitchen = state.kitchen();
        let habits = &kitchen.habits;
        Self {
            name: kitchen.name.clone(),
            zone: kitchen.zone.iana_name().unwrap_or("UTC").into(),
            form: KitchenForm::of(&kitchen.rules, units),
            habits: HabitsForm {
                units: habits.units.code().into(),
                hours: habits.hours.id().into(),
                guests: if habits.guests_at_risk { "at-risk" } else { "well" }.into(),
                salting: habits.salting.clone(),
                air: habits.air.clone(),
            },
            ..Self::default()
        }
    }
}

#[derive(Deserialize, Default)]
struct Done {
    #[serde(default)]
    done: String,
}

impl Done {
    /// What was just done, in a sentence; only what we say ourselves.
    fn said(&self) -> Option<&'static str> {
        Some(match self.done.as_str() {
            "settled" => says::SETTLED,
            "readings" => says::READINGS_KEPT,
            "named" => says::NAMED,
            "habits" => says::HABITS_KEPT,
            "people" | "guests" => KEPT,
            "device" => says::DEVICE,
            _ => return None,
        })
    }
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Done>,
) -> Result<HttpResponse, PageError> {
    let typed = Typed::as_it_is(&state, reader_units(&request));
    show(&state, &request, typed, BTreeMap::new(), query.said()).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    typed: Typed,
    errors: BTreeMap<&'static str, String>,
    said: Option<&'static str>,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(request);
    let boils = (boiling_c(state.kitchen().rules.altitude_m) * 10.0).round() / 10.0;
    let device = app::this_device(request);
    let people = Here::of(request)?.people().await?;
    let guests = Here::of(request)?.guests().await?;
    let choice = |id: &str, words: &str, chosen: &str| (id.to_owned(), words.to_owned(), id == chosen);
    let usual_air =
        if typed.habits.air.is_empty() { bag::airs()[0].id.clone() } else { typed.habits.air.clone() };
    let refused = !errors.is_empty();
    let days = match &typed.days {
        Some(days) => days.clone(),
        None => Here::of(request)?.whole_days().await?.to_string(),
    };
    let page = KitchenPage {
        shell: Shell::new(state, request, Place::Kitchen, "Kitchen").await?,
        profiles: profiles().iter().map(|p| choice(&p.id, &p.name, &typed.form.profile)).collect(),
        salting: SALTING_SCHOOLS.iter().map(|(id, words)| choice(id, words, &typed.habits.salting)).collect(),
        airs: bag::airs().iter().map(|a| choice(&a.id, &a.name, &usual_air)).collect(),
        units: [
            ("c-mm", "°C and millimetres"),
            ("f-in", "°F and inches"),
            ("c-in", "°C and inches"),
            ("f-mm", "°F and millimetres"),
        ]
        .map(|(id, words)| choice(id, words, &typed.habits.units))
        .into(),
        zones: jiff::tz::db().available().map(|z| z.to_string()).collect(),
        pan_most: Hearth::named("iron-pan")
            .and_then(|h| h.proposed_most_c)
            .map_or_else(String::new, |c| units.temperature(c)),
        boils: units.temperature(Celsius::new(boils)),
        people: people.into_iter().map(|p| (device == Some(p.id), p)).map(|(mine, p)| (p, mine)).collect(),
        new_person: hold_steady_store::new_id(state.clock.now()),
        guests,
        new_guest: typed.guest_id.unwrap_or_else(|| hold_steady_store::new_id(state.clock.now())),
        typed,
        errors,
        said,
        asks: state.door.asks(),
        owns: Here::of(request)?.may(Right::Own),
        settles: Here::of(request)?.may(Right::Settle),
        whole_days: (days, *WHOLE_DAYS.start(), *WHOLE_DAYS.end()),
        copy_failed: state.copies.failure().map(|(at, why)| {
            let why = why.trim_end_matches('.').to_owned();
            (app::day_and_time(at, &state.kitchen().wall()), why)
        }),
    };
    html_for(&page, refused)
}

async fn settle(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<KitchenForm>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let form = form.into_inner();
    let units = reader_units(&request);
    match form.read(units) {
        Err(errors) => {
            show(&state, &request, Typed { form, ..Typed::as_it_is(&state, units) }, errors, None).await
        }
        Ok(rules) => {
            here.settle(rules.clone(), state.clock.now()).await?;
            state.settle(|kitchen| kitchen.rules = rules);
            Ok(see_other("/kitchen?done=settled"))
        }
    }
}

#[derive(Deserialize)]
struct Named {
    #[serde(default)]
    kitchen: String,
    #[serde(default)]
    zone: String,
}

/// Longest name of a kitchen, letters.
const LONGEST_NAME: usize = 60;

async fn rename(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Named>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Named { kitchen: name, zone } = form.into_inner();
    let plain = name.split_whitespace().collect::<Vec<_>>().join(" ");
    let mut errors = BTreeMap::new();
    if plain.is_empty() || plain.chars().count() > LONGEST_NAME || plain.chars().any(char::is_control) {
        errors.insert("kitchen", not_a_name("kitchen", LONGEST_NAME));
    }
    let found = TimeZone::get(zone.trim()).ok().filter(|z| z.iana_name().is_some());
    let Some(found) = found.filter(|_| errors.is_empty()) else {
        if errors.is_empty() {
            let shown = hold_steady_core::units::shortened(zone.trim());
            errors.insert("zone", says::not_a_zone(&shown));
        }
        let typed = Typed { name, zone, ..Typed::as_it_is(&state, reader_units(&request)) };
        return show(&state, &request, typed, errors, None).await;
    };
    here.rename(plain.clone(), &found, state.clock.now()).await?;
    state.settle(|kitchen| (kitchen.name, kitchen.zone) = (plain, found));
    Ok(see_other("/kitchen?done=named"))
}

async fn keep_habits(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<HabitsForm>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let habits = form.into_inner();
    match habits.read() {
        Err(errors) => {
            let typed = Typed { habits, ..Typed::as_it_is(&state, reader_units(&request)) };
            show(&state, &request, typed, errors, None).await
        }
        Ok(habits) => {
            here.keep_habits(habits.clone(), state.clock.now()).await?;
            state.settle(|kitchen| kitchen.habits = habits);
            Ok(see_other("/kitchen?done=habits"))
        }
    }
}

#[derive(Deserialize)]
struct Whole {
    #[serde(default)]
    days: String,
}

/// For how long every reading is kept.
async fn keep_whole(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Whole>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let days = form.into_inner().days;
    let (least, most) = (WHOLE_DAYS.start(), WHOLE_DAYS.end());
    match days.trim().parse::<u16>().ok().filter(|d| WHOLE_DAYS.contains(d)) {
        Some(days) => {
            here.keep_whole(days, state.clock.now()).await?;
            Ok(see_other("/kitchen?done=readings"))
        }
        None => {
            let shown: String = days.trim().chars().take(12).collect();
            let why = says::not_a_number_of_days(&shown, *least, *most);
            let typed = Typed { days: Some(days), ..Typed::as_it_is(&state, reader_units(&request)) };
            show(&state, &request, typed, BTreeMap::from([("days", why)]), None).await
        }
    }
}

/// The whole database as a file: to be put back with the command line.
async fn copy(
    state: web::Data<AppState>,
    request: HttpRequest,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let day = state.clock.now().to_zoned(state.kitchen().zone.clone()).strftime("%Y-%m-%d").to_string();
    let name = format!("hold-steady-{day}.sqlite3");
    app::taken_out(&state, &request, &name).await?;
    app::sent(&state, &request, (&name, "application/vnd.sqlite3"), async move { here.copied().await }).await
}
