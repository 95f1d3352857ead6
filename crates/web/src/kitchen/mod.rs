//! The kitchen: what it has settled for all its plans.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::boiling_c;
use hold_steady_core::plan::KitchenForm;
use hold_steady_core::safety::profiles;
use hold_steady_core::units::Celsius;

use crate::app::{self, AppState, PageError, Place, Shell, html_for, reader_units, see_other};

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(web::resource("/kitchen").route(app::get(page)).route(web::post().to(settle)));
}

#[derive(Template)]
#[template(path = "kitchen/page.html")]
struct KitchenPage {
    shell: Shell,
    form: KitchenForm,
    errors: BTreeMap<&'static str, String>,
    /// Identifier, name, whether it is chosen.
    profiles: Vec<(String, String, bool)>,
    zone: String,
    boils: String,
    settled: bool,
}

impl KitchenPage {
    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }
}

#[derive(serde::Deserialize)]
struct Settled {
    #[serde(default)]
    settled: bool,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    query: web::Query<Settled>,
) -> Result<HttpResponse, PageError> {
    let form = KitchenForm::of(&state.rules(), reader_units(&request));
    show(&state, &request, form, BTreeMap::new(), query.settled).await
}

async fn show(
    state: &AppState,
    request: &HttpRequest,
    form: KitchenForm,
    errors: BTreeMap<&'static str, String>,
    settled: bool,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(request);
    let boils = (boiling_c(state.rules().altitude_m) * 10.0).round() / 10.0;
    let refused = !errors.is_empty();
    let page = KitchenPage {
        shell: Shell::new(state, request, Place::Kitchen, "Kitchen").await?,
        profiles: profiles().iter().map(|p| (p.id.clone(), p.name.clone(), p.id == form.profile)).collect(),
        zone: state.kitchen.zone.iana_name().unwrap_or("UTC").into(),
        boils: units.temperature(Celsius::new(boils)),
        form,
        errors,
        settled,
    };
    html_for(&page, refused)
}

async fn settle(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<KitchenForm>,
) -> Result<HttpResponse, PageError> {
    let form = form.into_inner();
    match form.read(reader_units(&request)) {
        Err(errors) => show(&state, &request, form, errors, false).await,
        Ok(rules) => {
            state.here().settle(rules.clone(), state.clock.now()).await?;
            state.settle(rules);
            Ok(see_other("/kitchen?settled=true"))
        }
    }
}
