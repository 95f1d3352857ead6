//! °C or °F, millimetres or inches: switched anywhere, remembered in a cookie.

use actix_web::cookie::{Cookie, SameSite, time::Duration};
use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::units::Units;
use serde::Deserialize;

use super::{AppState, header_text};

const COOKIE: &str = "units";

/// The units this reader last chose; the kitchen's own until then.
pub fn reader_units(request: &HttpRequest) -> Units {
    let chosen = request.cookie(COOKIE).and_then(|c| Units::from_code(c.value()));
    let usual = || request.app_data::<web::Data<AppState>>().map(|s| s.kitchen().habits.units);
    chosen.or_else(usual).unwrap_or_default()
}

#[derive(Deserialize)]
pub struct Switch {
    units: String,
}

/// Remembers a choice and goes back to the page it was made on.
pub async fn switch(request: HttpRequest, form: web::Form<Switch>) -> HttpResponse {
    let units = Units::from_code(&form.units).unwrap_or_else(|| reader_units(&request));
    let cookie = Cookie::build(COOKIE, units.code())
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(Duration::days(400))
        .finish();
    // The guard has seen to it that a referer is one of our own pages.
    let back = header_text(&request, &header::REFERER)
        .and_then(|r| r.split_once("://"))
        .and_then(|(_, rest)| rest.find('/').map(|i| rest[i..].to_owned()))
        .filter(|path| !path.starts_with("//") && !path.contains('\\'))
        .unwrap_or_else(|| "/plan".into());
    HttpResponse::SeeOther().cookie(cookie).insert_header((header::LOCATION, back)).finish()
}
