//! Taps that waited in the page.

use crate::words;
use jiff::{SignedDuration, Timestamp};

/// How long a tap may have waited for its time to be taken as it is.
const LONGEST_WAIT: SignedDuration = SignedDuration::from_hours(24);

/// When a tap that waited was made; `None` for one that did not wait.
pub fn tapped_at(ago_s: &str, now: Timestamp) -> Result<Option<Timestamp>, String> {
    if ago_s.is_empty() {
        return Ok(None);
    }
    let ago = ago_s.parse::<f64>().ok().filter(|s| (0.0..=LONGEST_WAIT.as_secs_f64()).contains(s));
    match ago.and_then(|s| now.checked_sub(SignedDuration::from_secs_f64(s)).ok()) {
        Some(at) => Ok(Some(at)),
        None => Err(words::door::TAP_TOO_OLD.into()),
    }
}
