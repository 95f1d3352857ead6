//! What went wrong, for programs: `application/problem+json` (RFC 9457).

use actix_web::HttpResponse;
use actix_web::http::StatusCode;
use hold_steady_core::calc::CalcError;
use serde_json::json;

/// With the fields it is about.
pub fn problem(status: StatusCode, error: &CalcError) -> HttpResponse {
    HttpResponse::build(status).content_type("application/problem+json").json(json!({
        "type": "about:blank",
        "title": error.title,
        "status": status.as_u16(),
        "fields": error.fields,
    }))
}

/// About no field.
pub fn plain_problem(status: StatusCode, title: &str) -> HttpResponse {
    problem(status, &CalcError { title: title.into(), fields: Vec::new() })
}
