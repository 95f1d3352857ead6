//! `POST /api/v1/readings`: what devices report, as JSON or CSV, with a token of their own.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, HttpMessage, HttpRequest, HttpResponse, web};
use hold_steady_core::bath::{report_from_csv, report_from_json};
use hold_steady_core::units::TemperatureUnit;
use hold_steady_store::Reporter;
use serde_json::json;

use crate::app::{
    API_LIMIT, AppState, KILOBYTES_A_MINUTE, REPORTS_A_MINUTE, Wait, address, header_text, only_reads,
    plain_problem,
};

/// Where they are sent.
const PATH: &str = "/api/v1/readings";

/// Whose readings these are comes first: a stranger's are not read.
pub async fn known_first(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    if request.path() == PATH
        && !only_reads(request.method())
        && let Some(mut answer) = stranger(&request).await
    {
        answer.head_mut().set_connection_type(actix_web::http::ConnectionType::Close);
        return Ok(request.into_response(answer));
    }
    Ok(next.call(request).await?.map_into_boxed_body())
}

/// Looks whose readings these are, before they are read. The answer to whom nobody knows, or who sends too much.
async fn stranger(request: &ServiceRequest) -> Option<HttpResponse> {
    let state = request.app_data::<web::Data<AppState>>()?;
    let from = address(request.request());
    let token = header_text(request.request(), &header::AUTHORIZATION)
        .and_then(|t| t.split_once(' '))
        .filter(|(scheme, _)| scheme.eq_ignore_ascii_case("bearer"))
        .map(|(_, token)| token.trim().to_owned());
    let unknown = || {
        if let Err(wait) = state.limits.wrong_token(from) {
            return too_many(wait, "Too many tokens that no device here has came from your address");
        }
        let mut answer = plain_problem(
            StatusCode::UNAUTHORIZED,
            "Send the device's token: Authorization: Bearer hs-… ; it is made on the page /devices and shown once",
        );
        let ask = header::HeaderValue::from_static("Bearer");
        answer.headers_mut().insert(header::WWW_AUTHENTICATE, ask);
        answer
    };
    let Some(token) = token else { return Some(unknown()) };
    match state.reporter(&token).await {
        // A right token is never refused for what others of that address send.
        Ok(Some(known)) => {
            let announced =
                header_text(request.request(), &header::CONTENT_LENGTH).and_then(|n| n.parse().ok());
            if let Err(wait) = state.limits.report(known.device, announced.unwrap_or(API_LIMIT)) {
                let says = format!(
                    "This device sends more than {REPORTS_A_MINUTE} reports or {} MB a minute",
                    KILOBYTES_A_MINUTE / 1024
                );
                return Some(too_many(wait, &says));
            }
            request.extensions_mut().insert(known);
            None
        }
        Ok(None) => Some(unknown()),
        Err(e) => Some(failed(&e.to_string())),
    }
}

fn too_many(wait: Wait, title: &str) -> HttpResponse {
    let mut answer =
        plain_problem(StatusCode::TOO_MANY_REQUESTS, &format!("{title}; wait {} s", wait.seconds()));
    answer.headers_mut().insert(header::RETRY_AFTER, header::HeaderValue::from(wait.seconds()));
    answer
}

pub async fn report(request: HttpRequest, state: web::Data<AppState>, body: web::Bytes) -> HttpResponse {
    let Some(Reporter { here, device, offset, address: before }) =
        request.extensions_mut().remove::<Reporter>()
    else {
        return failed("it is not known whose readings these are");
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
        Some("application/json") => report_from_json(text, now, offset),
        Some("text/csv") => {
            report_from_csv(text, TemperatureUnit::C, &jiff::tz::TimeZone::UTC, (now, offset))
        }
        _ => {
            let says = "Send the readings as application/json or text/csv";
            return plain_problem(StatusCode::UNSUPPORTED_MEDIA_TYPE, says);
        }
    };
    let report = match report {
        Ok(report) => report,
        Err(why) => return plain_problem(StatusCode::UNPROCESSABLE_ENTITY, &why.to_string()),
    };
    let from = super::super::app::address(&request).to_string();
    if before.as_ref() != Some(&from)
        && let Err(e) = here.reported_from(device, from).await
    {
        tracing::warn!(error = %e, "from where a device reports could not be written down");
    }
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
