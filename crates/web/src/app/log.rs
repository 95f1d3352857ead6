//! One line of the log for each request that writes, is refused or fails.

use std::time::Instant;

use actix_web::Error;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::Method;
use actix_web::middleware::Next;

/// Writes it down: path, status, time taken, and the cook it is about. Never the query or the body: what guests
/// suffer from is nobody's business but the kitchen's.
pub async fn log<B: MessageBody + 'static>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<B>, Error> {
    let begun = Instant::now();
    let (method, path) = (request.method().clone(), request.path().to_owned());
    let answer = next.call(request).await;
    let status = match &answer {
        Ok(answer) => answer.status().as_u16(),
        Err(e) => e.as_response_error().status_code().as_u16(),
    };
    let ms = begun.elapsed().as_millis();
    let cook = cook(&path);
    match status {
        503 => tracing::warn!(%method, path, status, ms, cook, "not now"),
        500.. => tracing::error!(%method, path, status, ms, cook, "failed"),
        400.. => tracing::warn!(%method, path, status, ms, cook, "refused"),
        // A device reports every second: that it does stands in the records.
        _ if method == Method::POST && path != "/api/v1/readings" => {
            tracing::info!(%method, path, status, ms, cook, "done")
        }
        _ => tracing::debug!(%method, path, status, ms, cook, "read"),
    }
    answer
}

/// The cook an address is about.
fn cook(path: &str) -> Option<&str> {
    path.strip_prefix("/cook/")?.split('/').next().filter(|id| !id.is_empty())
}

#[cfg(test)]
mod tests {
    use super::cook;

    #[test]
    fn the_cook_is_read_off_its_address() {
        assert_eq!(cook("/cook/019ac/event"), Some("019ac"));
        assert_eq!(cook("/cook/"), None);
        assert_eq!(cook("/plan/start"), None);
    }
}
