//! What keeps other sites out: host names, origins, and what pages may load.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::{DefaultHeaders, Next};
use actix_web::{Error, HttpRequest, HttpResponse, ResponseError, web};
use std::net::IpAddr;

use super::{AppState, PageError, header_text, named_screen};
use crate::words::door as says;

/// Headers of every answer. Pages load nothing from elsewhere, run no inline script or style, and
/// cannot be framed.
pub fn headers() -> DefaultHeaders {
    DefaultHeaders::new()
        .add((
            header::CONTENT_SECURITY_POLICY,
            "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; \
             font-src 'self'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; \
             base-uri 'none'",
        ))
        .add((header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .add((header::REFERRER_POLICY, "same-origin"))
        .add(("Cross-Origin-Opener-Policy", "same-origin"))
        .add(("Cross-Origin-Resource-Policy", "same-origin"))
        .add(("Permissions-Policy", "camera=(), microphone=(), geolocation=(), payment=(), usb=()"))
}

/// Refuses requests for host names that are not ours (a page elsewhere whose name was pointed at this
/// address), and posts to pages that do not come from our own pages.
pub async fn guard(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    if let Some(answer) = packed(&request) {
        return Ok(request.into_response(answer));
    }
    match refusal(&request) {
        Some(reason) => {
            let mut answer = PageError::Forbidden(reason).error_response();
            close_unread(&request, &mut answer);
            Ok(request.into_response(answer))
        }
        None => {
            let mut answer = next.call(request).await?.map_into_boxed_body();
            // Once it came over an encrypted line of our own it is asked for over no other. (Behind a proxy that is the proxy's to say.)
            if answer.request().app_data::<web::Data<AppState>>().is_some_and(|s| s.certificate.is_some()) {
                let a_year = header::HeaderValue::from_static("max-age=31536000");
                answer.headers_mut().insert(header::STRICT_TRANSPORT_SECURITY, a_year);
            }
            // A page that is shown says which screen it is shown on, once.
            let is_page = answer
                .headers()
                .get(header::CONTENT_TYPE)
                .is_some_and(|t| t.as_bytes().starts_with(b"text/html"));
            let cookie = is_page.then(|| named_screen(answer.request(), uuid::Uuid::new_v4())).flatten();
            if let Some(cookie) = cookie {
                // A cookie of hexadecimal digits: it can always be written.
                let _ = answer.response_mut().add_cookie(&cookie);
            }
            Ok(answer)
        }
    }
}

/// A body that was not read is not waited for.
pub fn close_unread(request: &ServiceRequest, answer: &mut HttpResponse) {
    if !only_reads(request.method()) {
        answer.head_mut().set_connection_type(actix_web::http::ConnectionType::Close);
    }
}

/// Refuses what is packed, before anything is unpacked: a small request would become a large one.
fn packed(request: &ServiceRequest) -> Option<HttpResponse> {
    let encodings = request.headers().get_all(header::CONTENT_ENCODING);
    let plain = |v: &header::HeaderValue| v.to_str().is_ok_and(|t| t.trim().eq_ignore_ascii_case("identity"));
    if encodings.into_iter().all(plain) {
        return None;
    }
    let title = "Send it as it is, without Content-Encoding: nothing that is packed is taken here";
    let mut answer = if request.path().starts_with("/api/v1") {
        super::plain_problem(StatusCode::UNSUPPORTED_MEDIA_TYPE, title)
    } else {
        PageError::Body(StatusCode::UNSUPPORTED_MEDIA_TYPE, format!("{title}.")).error_response()
    };
    close_unread(request, &mut answer);
    Some(answer)
}

/// Whether a request of this method changes nothing, and has no body of use.
pub fn only_reads(method: &Method) -> bool {
    matches!(*method, Method::GET | Method::HEAD | Method::OPTIONS)
}

fn refusal(request: &ServiceRequest) -> Option<&'static str> {
    let host = authority(request.request()).to_lowercase();
    let known = request
        .app_data::<web::Data<AppState>>()
        .is_some_and(|state| state.hosts.contains(without_port(&host)));
    if !known {
        return Some(says::OTHER_HOST);
    }
    let text = |name: &str| request.headers().get(name).and_then(|v| v.to_str().ok());
    // Where a browser says that another site asks: it may lead here, and may read nothing.
    let foreign = matches!(text("sec-fetch-site"), Some("cross-site" | "same-site"));
    let leads_here = text("sec-fetch-mode") == Some("navigate") && text("sec-fetch-dest") == Some("document");
    if foreign && !leads_here {
        return Some(says::OTHER_SITE);
    }
    let reads = only_reads(request.method());
    if reads || request.path().starts_with("/api/v1/") {
        return None;
    }
    let Some(origin) = text(header::ORIGIN.as_str()).or_else(|| text(header::REFERER.as_str())) else {
        return Some(says::NO_ORIGIN);
    };
    let (by, from) = origin.split_once("://").unwrap_or_default();
    let from = from.split('/').next().unwrap_or_default().to_lowercase();
    if from != host {
        return Some(says::OTHER_ORIGIN);
    }
    (by != scheme(request.request())).then_some(says::OTHER_SCHEME)
}

/// The host and port the request itself was sent to. What other headers say of it is not believed (a page of
/// another site can set those too), but for those of the one proxy that was named at the start.
pub fn authority(request: &HttpRequest) -> &str {
    let in_address = request.uri().authority().map(|a| a.as_str());
    let own = in_address.or_else(|| header_text(request, &header::HOST)).unwrap_or_default();
    let said = proxied(request).then(|| first_of(request, "x-forwarded-host")).flatten();
    said.unwrap_or(own)
}

/// Whose request it is: where a named proxy says so, the address it had it from; else the other end of the line.
pub fn address(request: &HttpRequest) -> IpAddr {
    let own = request.peer_addr().map_or(IpAddr::from([0, 0, 0, 0]), |a| a.ip());
    // The last is what the proxy itself saw; those before it are what it was told.
    let said = proxied(request)
        .then(|| header_text(request, &header::HeaderName::from_static("x-forwarded-for")))
        .flatten()
        .and_then(|text| text.rsplit(',').next()?.trim().parse().ok());
    said.unwrap_or(own)
}

/// `https` where the line is encrypted here, or the proxy in front says so.
pub fn scheme(request: &HttpRequest) -> &'static str {
    if request.app_data::<web::Data<AppState>>().is_some_and(|state| state.certificate.is_some()) {
        return "https";
    }
    match proxied(request).then(|| first_of(request, "x-forwarded-proto")).flatten() {
        Some("https") => "https",
        _ => "http",
    }
}

/// Whether the request comes from the proxy that was named at the start.
fn proxied(request: &HttpRequest) -> bool {
    let named = request.app_data::<web::Data<AppState>>().and_then(|state| state.proxy);
    named.is_some() && named == request.peer_addr().map(|a| a.ip())
}

fn first_of<'a>(request: &'a HttpRequest, name: &'static str) -> Option<&'a str> {
    let text = header_text(request, &header::HeaderName::from_static(name))?;
    text.split(',').next().map(str::trim).filter(|t| !t.is_empty())
}

fn without_port(host: &str) -> &str {
    // An IPv6 address stands in brackets and has colons of its own.
    match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|b| b.is_ascii_digit()) => name,
        _ => host,
    }
}

#[cfg(test)]
mod tests {
    use super::without_port;

    #[test]
    fn ports_are_taken_off_and_addresses_kept() {
        assert_eq!(without_port("localhost:8080"), "localhost");
        assert_eq!(without_port("[::1]:8080"), "[::1]");
        assert_eq!(without_port("[::1]"), "[::1]");
        assert_eq!(without_port("kitchen.local"), "kitchen.local");
    }
}
