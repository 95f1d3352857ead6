//! Bodies of requests: read whole before anything is done with them, for a bounded time, up to a bounded size.

use std::time::Duration;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::PayloadError;
use actix_web::http::StatusCode;
use actix_web::http::header::CONTENT_LENGTH;
use actix_web::middleware::Next;
use actix_web::web::{self, Bytes, BytesMut};
use actix_web::{Error, HttpMessage, HttpResponse, ResponseError};
use futures_util::StreamExt;
use tokio::sync::Semaphore;

use super::{API_LIMIT, FORM_LIMIT, LOG_LIMIT, PageError, only_reads};
use crate::words;

/// How long a form or a calculation may take to arrive, and a file.
const FORM_WITHIN: Duration = Duration::from_secs(10);
const FILE_WITHIN: Duration = Duration::from_secs(60);

/// How many bodies of those that may be large are held at once, and how long another waits for its turn.
static LARGE: Semaphore = Semaphore::const_new(2);
const PATIENCE: Duration = Duration::from_secs(2);

/// Where a book is brought in: written to the disk as it comes.
pub const TAKES_ITS_OWN: &str = "/book/import";

/// What a route takes, whatever a request says that it sends: so many bytes, within so long.
fn taken(path: &str) -> (usize, Duration) {
    let segments: Vec<&str> = path.split('/').filter(|s| !s.is_empty()).collect();
    match segments.as_slice() {
        ["bath", "runs", _, "log"] => (LOG_LIMIT, FILE_WITHIN),
        ["api", "v1", ..] | ["plan", "open"] => (API_LIMIT, FORM_WITHIN),
        _ => (FORM_LIMIT, FORM_WITHIN),
    }
}

/// Reads the body; one that does not come, is too large or breaks off is answered here.
pub async fn body(
    mut request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    if only_reads(request.method()) {
        return Ok(next.call(request).await?.map_into_boxed_body());
    }
    // A book is written to the disk as it comes, by whom it is for.
    if request.path() == TAKES_ITS_OWN {
        return Ok(next.call(request).await?.map_into_boxed_body());
    }
    let (most, within) = taken(request.path());
    // Of what may be large only a few are held at once.
    let large = most > API_LIMIT;
    let held = tokio::time::timeout(PATIENCE, LARGE.acquire_many(u32::from(large))).await;
    let Ok(Ok(_held)) = held else {
        return Ok(request.into_response(PageError::Busy.error_response()));
    };
    let announced = request.headers().get(CONTENT_LENGTH).and_then(|n| n.to_str().ok()?.parse().ok());
    let read = tokio::time::timeout(within, collect(request.take_payload(), most, announced)).await;
    let problem = match read {
        Ok(Ok(bytes)) => {
            request.set_payload(Payload::from(bytes));
            return Ok(next.call(request).await?.map_into_boxed_body());
        }
        Ok(Err(PayloadError::Overflow)) => {
            (StatusCode::PAYLOAD_TOO_LARGE, format!("The request is larger than {}", size(most)))
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

/// A body that was read whole, without a copy of it.
///
/// # Errors
/// When it is not there.
pub async fn whole(mut body: web::Payload) -> Result<Vec<u8>, PageError> {
    let broken = || PageError::Body(StatusCode::BAD_REQUEST, words::door::BROKE_OFF.into());
    let mut all = Vec::new();
    while let Some(chunk) = body.next().await {
        let chunk = chunk.map_err(|_| broken())?;
        if all.is_empty() { all = chunk.into() } else { all.extend_from_slice(&chunk) }
    }
    Ok(all)
}

fn refusal(path: &str, (status, title): (StatusCode, String)) -> HttpResponse {
    let mut answer = if path.starts_with("/api/v1") {
        super::plain_problem(status, &title)
    } else {
        PageError::Body(status, words::door::not_taken(&title)).error_response()
    };
    // What is left of the body is not waited for.
    answer.head_mut().set_connection_type(actix_web::http::ConnectionType::Close);
    answer
}

fn size(bytes: usize) -> String {
    if bytes < 1 << 20 { format!("{} KB", bytes >> 10) } else { format!("{} MB", bytes >> 20) }
}

async fn collect(mut payload: Payload, most: usize, announced: Option<usize>) -> Result<Bytes, PayloadError> {
    // Room is asked for once, and taken by what comes, not by what is announced.
    let mut all = BytesMut::with_capacity(announced.unwrap_or(0).min(most));
    while let Some(chunk) = payload.next().await {
        let chunk = chunk?;
        if all.len() + chunk.len() > most {
            return Err(PayloadError::Overflow);
        }
        all.extend_from_slice(&chunk);
    }
    Ok(all.freeze())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_what_takes_files_takes_much() {
        assert_eq!(taken("/bath/runs/019ac000-0000-7000-8000-0000000000e2/log").0, LOG_LIMIT);
        for small in
            ["/cook/1/event", "/bath/fill", "/kitchen", "/bath/runs/1/read", "/book/import/x", "/units"]
        {
            assert_eq!(taken(small).0, FORM_LIMIT, "{small}");
        }
        assert_eq!(taken("/api/v1/readings").0, API_LIMIT);
    }
}
