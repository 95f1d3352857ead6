//! How a phone comes to trust the kitchen's own certificate: steps, a code to bring it there, a fingerprint to compare.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;

use super::sign_in::{plain_line, shown};
use crate::app::{self, AppState, PageError, authority, scheme};
use crate::drawing::qr;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/trust").route(app::get(page)))
        .service(app::resource("/trust/authority.crt").route(app::get(certificate)));
}

/// The kitchen's own.
struct Own {
    address: String,
    qr: String,
    fingerprint: String,
    until: String,
}

#[derive(Template)]
#[template(path = "door/trust.html")]
struct TrustPage {
    version: &'static str,
    kitchen: String,
    plain_line: bool,
    own: Option<Own>,
}

async fn page(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    let address = format!("{}://{}/trust", scheme(&request), authority(&request));
    let of = state.certificate.as_ref().and_then(|c| Some((c.authority()?, c.until())));
    let own = match of {
        Some((authority, until)) => Some(Own {
            qr: qr(&address)?,
            address,
            fingerprint: authority.fingerprint.clone(),
            until: until.to_zoned(state.kitchen().zone.clone()).strftime("%-d %B %Y").to_string(),
        }),
        None => None,
    };
    let kitchen = state.kitchen().name.clone();
    let page = TrustPage { version: app::asset_version(), kitchen, plain_line: plain_line(&state), own };
    shown(&page, StatusCode::OK)
}

async fn certificate(state: web::Data<AppState>) -> Result<HttpResponse, PageError> {
    let authority = state.certificate.as_ref().and_then(|c| c.authority()).ok_or(PageError::NoSuchPage)?;
    Ok(HttpResponse::Ok()
        .content_type("application/x-x509-ca-cert")
        .insert_header(("Content-Disposition", "attachment; filename=\"kitchen-authority.crt\""))
        .insert_header(("Cache-Control", "no-store"))
        .body(authority.der.clone()))
}
