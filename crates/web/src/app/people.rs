//! Who uses this device, remembered in a cookie.

use actix_web::HttpRequest;
use actix_web::cookie::{Cookie, SameSite, time::Duration};
use uuid::Uuid;

const COOKIE: &str = "person";

/// Whom this device says it is used by.
pub fn this_device(request: &HttpRequest) -> Option<Uuid> {
    request.cookie(COOKIE)?.value().parse().ok()
}

/// The cookie that says so; without a person, the one that forgets it.
pub fn used_by(person: Option<Uuid>) -> Cookie<'static> {
    let value = person.map_or_else(String::new, |id| id.to_string());
    let kept = if person.is_some() { Duration::days(400) } else { Duration::ZERO };
    Cookie::build(COOKIE, value).path("/").http_only(true).same_site(SameSite::Strict).max_age(kept).finish()
}
