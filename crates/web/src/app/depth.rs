//! What of a page is unfolded, remembered by `depth.js` in a cookie.

use actix_web::HttpRequest;

/// Whether a fold was left open on this device.
pub fn unfolded(http: &HttpRequest, name: &str) -> bool {
    http.cookie("depths").is_some_and(|c| c.value().split('.').any(|open| open == name))
}
