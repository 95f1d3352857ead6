//! One line of the log for each request that writes, is refused or fails.

use std::time::Instant;

use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::Method;
use actix_web::middleware::Next;
use actix_web::{Error, HttpRequest};

/// Writes it down: path, status, time taken, and the cook it is about. Never the query or the body: what guests
/// suffer from is nobody's business but the kitchen's.
pub async fn log<B: MessageBody + 'static>(
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<B>, Error> {
    let begun = Instant::now();
    let (method, path) = (request.method().clone(), untold(request.request()));
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

/// The address without what is secret in it: a token stands in it as `…`.
fn untold(request: &HttpRequest) -> String {
    let path = request.path();
    let pattern = request.resource_map().match_pattern(request.match_info().as_str());
    pattern.map_or_else(|| path.to_owned(), |pattern| without_tokens(&pattern, path))
}

/// A path whose parts that a pattern calls tokens are left out.
fn without_tokens(pattern: &str, path: &str) -> String {
    if !pattern.contains("{token") {
        return path.to_owned();
    }
    let parts = pattern.split('/').zip(path.split('/'));
    parts.map(|(of, part)| if of.starts_with("{token") { "…" } else { part }).collect::<Vec<_>>().join("/")
}

/// The cook an address is about.
fn cook(path: &str) -> Option<&str> {
    path.strip_prefix("/cook/")?.split('/').next().filter(|id| !id.is_empty())
}

#[cfg(test)]
mod tests {
    use super::{cook, without_tokens};

    #[test]
    fn a_token_in_an_address_is_not_told() {
        assert_eq!(
            without_tokens("/calendar/{token}/steps.ics", "/calendar/hs-12/steps.ics"),
            "/calendar/…/steps.ics"
        );
        assert_eq!(without_tokens("/cook/{id}/print", "/cook/019a/print"), "/cook/019a/print");
    }

    #[test]
    fn the_cook_is_read_off_its_address() {
        assert_eq!(cook("/cook/019ac/event"), Some("019ac"));
        assert_eq!(cook("/cook/"), None);
        assert_eq!(cook("/plan/start"), None);
    }
}
