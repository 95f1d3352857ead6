//! `POST /api/v1/readings`: what devices report, as JSON or CSV, with a token of their own.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::bath::{report_from_csv, report_from_json};
use hold_steady_core::units::TemperatureUnit;
use serde_json::json;

use super::plain_problem;
use crate::app::{AppState, header_text};

pub async fn report(request: HttpRequest, state: web::Data<AppState>, body: web::Bytes) -> HttpResponse {
    let token = header_text(&request, &header::AUTHORIZATION)
        .and_then(|t| t.split_once(' '))
        .filter(|(scheme, _)| scheme.eq_ignore_ascii_case("bearer"))
        .map(|(_, token)| token.trim());
    let unknown = || {
        let mut answer = plain_problem(
            StatusCode::UNAUTHORIZED,
            "Send the device's token: Authorization: Bearer hs-… ; it is made on the page /devices and shown once",
        );
        let ask = header::HeaderValue::from_static("Bearer");
        answer.headers_mut().insert(header::WWW_AUTHENTICATE, ask);
        answer
    };
    let Some(token) = token else { return unknown() };
    let (here, device) = match state.store.as_device(token).await {
        Ok(Some(found)) => found,
        Ok(None) => return unknown(),
        Err(e) => return failed(&e.to_string()),
    };
    let Ok(text) = std::str::from_utf8(&body) else {
        return plain_problem(StatusCode::UNPROCESSABLE_ENTITY, "The readings are not UTF-8");
    };
    let now = match state.heed_clock().await {
        Ok(now) => now,
        Err(e) => return failed(&e.to_string()),
    };
    let kind = header_text(&request, &header::CONTENT_TYPE).unwrap_or_default().to_ascii_lowercase();
    let report = match kind.split(';').next().map(str::trim) {
        Some("application/json") => report_from_json(text, now),
        Some("text/csv") => report_from_csv(text, TemperatureUnit::C, &jiff::tz::TimeZone::UTC, now),
        _ => {
            let says = "Send the readings as application/json or text/csv";
            return plain_problem(StatusCode::UNSUPPORTED_MEDIA_TYPE, says);
        }
    };
    let report = match report {
        Ok(report) => report,
        Err(why) => return plain_problem(StatusCode::UNPROCESSABLE_ENTITY, &why),
    };
    match here.report(device, report, now).await {
        Ok(received) => {
            let not_taken: Vec<_> =
                received.not_taken.iter().map(|n| json!({ "line": n.line, "why": n.why })).collect();
            HttpResponse::Ok().json(json!({
                "taken": received.taken,
                "known": received.known,
                "not_taken": not_taken,
                "now": now.to_string(),
            }))
        }
        Err(e) => failed(&e.to_string()),
    }
}

/// Not written down: the device keeps it and sends it again.
fn failed(why: &str) -> HttpResponse {
    tracing::error!(error = why, "readings could not be written down");
    let mut answer = plain_problem(StatusCode::SERVICE_UNAVAILABLE, why);
    answer.headers_mut().insert(header::RETRY_AFTER, header::HeaderValue::from_static("5"));
    answer
}
