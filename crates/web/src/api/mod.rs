//! The calculation interface over HTTP. It takes JSON only and looks at no cookie, so that it needs
//! no protection against forged forms; errors are `application/problem+json` (RFC 9457).

pub mod readings;

use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, web};
use hold_steady_core::calc;

use crate::app::{API_LIMIT, AppState, PageError, compute, get, header_text, plain_problem, problem, within};

/// Where it is.
const SCOPE: &str = "/api/v1";

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(
        web::scope(SCOPE)
            .app_data(web::PayloadConfig::new(API_LIMIT))
            .service(within(SCOPE, "/openapi.json").route(get(description)))
            .service(within(SCOPE, "/calc/{kind}").route(web::post().to(calculate)))
            .service(within(SCOPE, "/readings").route(web::post().to(readings::report)))
            .default_service(web::route().to(no_such)),
    );
}

async fn description() -> HttpResponse {
    HttpResponse::Ok().json(calc::openapi())
}

async fn no_such() -> HttpResponse {
    plain_problem(
        StatusCode::NOT_FOUND,
        "There is nothing at this address; POST to /api/v1/calc/heat or /api/v1/readings",
    )
}

async fn calculate(
    request: HttpRequest,
    kind: web::Path<String>,
    state: web::Data<AppState>,
    body: web::Bytes,
) -> HttpResponse {
    let is_json = header_text(&request, &header::CONTENT_TYPE).is_some_and(|t| {
        t.split(';').next().is_some_and(|t| t.trim().eq_ignore_ascii_case("application/json"))
    });
    if !is_json {
        return plain_problem(StatusCode::UNSUPPORTED_MEDIA_TYPE, "Send the request as application/json");
    }
    let kind = kind.into_inner();
    if !calc::KINDS.contains(&kind.as_str()) {
        return plain_problem(
            StatusCode::NOT_FOUND,
            "There is no such calculation; see /api/v1/openapi.json",
        );
    }
    let Ok(text) = std::str::from_utf8(&body) else {
        return plain_problem(StatusCode::UNPROCESSABLE_ENTITY, "The request is not UTF-8");
    };
    let text = text.to_owned();
    match compute(&state, &request, move || calc::run_text(&kind, &text)).await {
        Ok(Ok(answer)) => HttpResponse::Ok().json(answer),
        Ok(Err(error)) => problem(StatusCode::UNPROCESSABLE_ENTITY, &error),
        Err(PageError::Busy) => {
            let mut busy = plain_problem(
                StatusCode::SERVICE_UNAVAILABLE,
                "Others are being computed for; try again in a moment",
            );
            busy.headers_mut().insert(header::RETRY_AFTER, header::HeaderValue::from_static("1"));
            busy
        }
        Err(_) => plain_problem(StatusCode::INTERNAL_SERVER_ERROR, "The calculation was interrupted"),
    }
}
