//! The foods: every number with where it comes from, and the kitchen's own, copied and changed.

mod view;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::food::{Food, OwnFoodError, OwnForm, Pantry};
use hold_steady_core::units::{Celsius, unbroken};
use hold_steady_store::{StoreError, new_id};
use serde::Deserialize;
use view::FoodView;

use crate::app::{self, AppState, Here, PageError, Place, Removal, Shell, html, reader_units, see_other};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/foods").route(app::get(list)))
        .service(app::resource("/foods/{id}").route(app::get(page)))
        .service(app::resource("/foods/{id}/copy").route(app::get(copy)).route(web::post().to(keep_copy)))
        .service(
            app::resource("/foods/{id}/change").route(app::get(change)).route(web::post().to(keep_change)),
        )
        .service(app::resource("/foods/{id}/remove").route(web::post().to(remove)));
}

/// A food in a list.
pub struct Line {
    pub id: String,
    pub name: String,
    /// Its other names.
    pub also: String,
}

impl Line {
    pub fn of(food: &Food) -> Self {
        Self { id: food.id.clone(), name: food.name.clone(), also: food.synonyms.join(", ") }
    }
}

/// Foods under a heading.
pub struct Group {
    pub heading: String,
    pub lines: Vec<Line>,
}

/// Foods under their headings, both in the order in which they come.
pub fn grouped<'a>(foods: impl Iterator<Item = &'a Food>) -> Vec<Group> {
    let mut groups: Vec<Group> = Vec::new();
    for food in foods {
        match groups.iter_mut().find(|g| g.heading == food.group) {
            Some(group) => group.lines.push(Line::of(food)),
            None => groups.push(Group { heading: food.group.clone(), lines: vec![Line::of(food)] }),
        }
    }
    groups
}

#[derive(Template)]
#[template(path = "food/list.html")]
struct ListPage {
    shell: Shell,
    groups: Vec<Group>,
    searched: String,
    /// A food just removed, to be put back: identifier and name.
    removed: Option<(String, String)>,
}

#[derive(Deserialize)]
struct Search {
    #[serde(default)]
    food: String,
    #[serde(default)]
    removed: String,
    #[serde(default)]
    name: String,
}

async fn list(
    state: web::Data<AppState>,
    request: HttpRequest,
    search: web::Query<Search>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    let searched: String = search.food.trim().chars().take(60).collect();
    let found: Vec<&Food> =
        if searched.is_empty() { pantry.listed().collect() } else { pantry.search(&searched) };
    let groups = grouped(found.into_iter());
    let Search { removed, name, .. } = search.into_inner();
    let gone = !removed.is_empty() && pantry.own(&removed).is_none();
    let shell = Shell::new(&state, &request, Place::Foods, "Foods").await?;
    html(&ListPage { shell, groups, searched, removed: gone.then_some((removed, name)) })
}

#[derive(Template)]
#[template(path = "food/page.html")]
struct FoodPage {
    shell: Shell,
    food: FoodView,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    let food = FoodView::new(known(&pantry, &id)?, &pantry, reader_units(&request));
    let shell = Shell::new(&state, &request, Place::Foods, &food.title).await?;
    html(&FoodPage { shell, food })
}

fn known<'a>(pantry: &'a Pantry, id: &str) -> Result<&'a Food, PageError> {
    pantry.food(id).ok_or(PageError::NoSuchFood)
}

/// The food it is a copy of: the catalogue's, for a food of the kitchen's own too.
fn base<'a>(pantry: &'a Pantry, food: &'a Food) -> Result<&'a Food, PageError> {
    match pantry.own(&food.id) {
        Some(own) => known(pantry, &own.base),
        None => Ok(food),
    }
}

/// The form for a copy or a change.
#[derive(Template)]
#[template(path = "food/change.html")]
struct ChangePage {
    shell: Shell,
    heading: String,
    /// What cannot be changed, and of what it is a copy.
    base: String,
    class: &'static str,
    action: String,
    back: String,
    id: String,
    form: OwnForm,
    errors: OwnFoodError,
    /// What a line of its levels and of its windows looks like.
    lines: (String, String),
}

impl ChangePage {
    /// What is wrong with a field; empty when nothing is.
    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }

    /// Composition, in the order of the form.
    fn shares(&self) -> [(&'static str, &'static str, &str); 6] {
        let f = &self.form;
        [
            ("water", "Water", &f.water),
            ("protein", "Protein", &f.protein),
            ("fat", "Fat", &f.fat),
            ("carbohydrate", "Carbohydrate", &f.carbohydrate),
            ("fibre", "Fibre", &f.fibre),
            ("ash", "Ash", &f.ash),
        ]
    }
}

async fn change_page(
    state: &AppState,
    request: &HttpRequest,
    pantry: &Pantry,
    food: &Food,
    id: Option<String>,
    form: OwnForm,
    errors: OwnFoodError,
) -> Result<HttpResponse, PageError> {
    let copy = id.is_some();
    let what = if copy { "copy" } else { "change" };
    let heading =
        if copy { format!("Copy {}, and change it", food.name) } else { format!("Change {}", food.name) };
    let (shell, units) = (Shell::new(state, request, Place::Foods, &heading).await?, reader_units(request));
    let line = |c| unbroken(&units.temperature(Celsius::new(c)));
    let status = if errors.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    let mut response = html(&ChangePage {
        shell,
        heading,
        base: base(pantry, food)?.name.clone(),
        class: food.class.words(),
        action: format!("/foods/{}/{what}", food.id),
        back: format!("/foods/{}", food.id),
        id: id.unwrap_or_default(),
        form,
        errors,
        lines: (line(58.0), line(55.0)),
    })?;
    *response.status_mut() = status;
    Ok(response)
}

async fn copy(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    let food = known(&pantry, &id)?;
    let form = OwnForm::of(food, reader_units(&request));
    let fresh = format!("own-{}", new_id(state.clock.now()));
    change_page(&state, &request, &pantry, food, Some(fresh), form, OwnFoodError::new()).await
}

async fn change(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let pantry = here.pantry().await?;
    let own = pantry.own(&id).and_then(|o| o.food()).ok_or(PageError::NoSuchFood)?;
    let form = OwnForm { name: own.name.clone(), ..OwnForm::of(own, reader_units(&request)) };
    change_page(&state, &request, &pantry, own, None, form, OwnFoodError::new()).await
}

#[derive(Deserialize)]
struct Copied {
    /// The form carries the identifier of the copy: sending it twice makes one food.
    id: String,
    #[serde(flatten)]
    form: OwnForm,
}

async fn keep_copy(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    typed: web::Form<Copied>,
) -> Result<HttpResponse, PageError> {
    let Copied { id: fresh, form } = typed.into_inner();
    keep(&state, &request, &id, Some(fresh), form).await
}

async fn keep_change(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<String>,
    form: web::Form<OwnForm>,
) -> Result<HttpResponse, PageError> {
    keep(&state, &request, &id, None, form.into_inner()).await
}

async fn keep(
    state: &AppState,
    request: &HttpRequest,
    id: &str,
    fresh: Option<String>,
    form: OwnForm,
) -> Result<HttpResponse, PageError> {
    let pantry = Here::of(request)?.pantry().await?;
    let food = known(&pantry, id)?;
    if fresh.is_none() && pantry.own(id).is_none() {
        return Err(PageError::NoSuchFood);
    }
    let kept = fresh.clone().unwrap_or_else(|| id.to_owned());
    match form.read(&kept, base(&pantry, food)?, reader_units(request)) {
        Ok(own) => {
            Here::of(request)?.keep_food(own, state.clock.now()).await?;
            Ok(see_other(&format!("/foods/{kept}")))
        }
        Err(errors) => change_page(state, request, &pantry, food, fresh, form, errors).await,
    }
}

/// Takes a food of the kitchen's own off its lists, or puts it back: undone rather than asked about.
async fn remove(
    state: web::Data<AppState>,
    id: web::Path<String>,
    form: web::Form<Removal>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    let restore = form.restore;
    let now = state.clock.now();
    let food = match here.remove_food(id.clone(), form.put(), now).await {
        Err(StoreError::NotFound) => return Err(PageError::NoSuchFood),
        other => other?,
    };
    if restore {
        return Ok(see_other(&format!("/foods/{id}")));
    }
    let said = serde_urlencoded::to_string([("removed", &id), ("name", &food.name)])
        .map_err(|e| PageError::Request(e.to_string()))?;
    Ok(see_other(&format!("/foods?{said}")))
}
