//! Bodies of requests: read whole before anything is done with them, for a bounded time, up to a bounded size.

use std::time::Duration;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::PayloadError;
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::Next;
use actix_web::web::{Bytes, BytesMut};
use actix_web::{Error, HttpMessage, HttpResponse, ResponseError};
use futures_util::StreamExt;

use super::{API_LIMIT, IMPORT_LIMIT, PageError};

/// How long a form or a calculation may take to arrive, and a file.
const FORM_WITHIN: Duration = Duration::from_secs(10);
const FILE_WITHIN: Duration = Duration::from_secs(60);

/// Reads the body; one that does not come, is too large or breaks off is answered here.
pub async fn body(
    mut request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    if matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS) {
        return Ok(next.call(request).await?.map_into_boxed_body());
    }
    let kind = request.headers().get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default();
    let a_file = kind.to_ascii_lowercase().starts_with("multipart/");
    let (most, within) = if a_file { (IMPORT_LIMIT, FILE_WITHIN) } else { (API_LIMIT, FORM_WITHIN) };
    let read = tokio::time::timeout(within, collect(request.take_payload(), most)).await;
    let problem = match read {
        Ok(Ok(bytes)) => {
            request.set_payload(Payload::from(bytes));
            return Ok(next.call(request).await?.map_into_boxed_body());
        }
        Ok(Err(PayloadError::Overflow)) => {
            (StatusCode::PAYLOAD_TOO_LARGE, format!("The request is larger than {} MB", most >> 20))
        }
        Ok(Err(_)) => (StatusCode::BAD_REQUEST, "The request broke off before its end".into()),
        Err(_) => (
            StatusCode::REQUEST_TIMEOUT,
            format!("The request did not arrive within {} seconds", within.as_secs()),
        ),
    };
    let answer = refusal(request.path(), problem);
    Ok(request.into_response(answer))
}

fn refusal(path: &str, (status, title): (StatusCode, String)) -> HttpResponse {
    let mut answer = if path.starts_with("/api/v1") {
        crate::api::plain_problem(status, &title)
    } else {
        PageError::Body(status, format!("{title}. Nothing was written down.")).error_response()
    };
    // What is left of the body is not waited for.
    answer.head_mut().set_connection_type(actix_web::http::ConnectionType::Close);
    answer
}

async fn collect(mut payload: Payload, most: usize) -> Result<Bytes, PayloadError> {
    let mut all = BytesMut::new();
    while let Some(chunk) = payload.next().await {
        let chunk = chunk?;
        if all.len() + chunk.len() > most {
            return Err(PayloadError::Overflow);
        }
        all.extend_from_slice(&chunk);
    }
    Ok(all.freeze())
}
