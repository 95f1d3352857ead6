//! Who uses this device, and which it is, remembered in cookies.

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

const SCREEN: &str = "screen";

/// Which screen this is: a name nobody gave it, that tells its taps from those of others.
pub fn this_screen(request: &HttpRequest) -> Option<Uuid> {
    request.cookie(SCREEN)?.value().parse().ok()
}

/// The cookie that remembers a screen; none for one that is remembered already.
pub fn named_screen(request: &HttpRequest, fresh: Uuid) -> Option<Cookie<'static>> {
    this_screen(request).is_none().then(|| {
        Cookie::build(SCREEN, fresh.to_string())
            .path("/")
            .http_only(true)
            .same_site(SameSite::Strict)
            .max_age(Duration::days(400))
            .finish()
    })
}
