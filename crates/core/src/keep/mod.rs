//! How long what was chilled may be kept: days are the kitchen's own.
//!
//! Only a home's rule stands here yet; a food business follows its plan, and its dates are its own.

use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};

use crate::figures::limits;

/// The last day at home of what was pasteurised and chilled in time, pulled at an instant: the day it was cooked on is the
/// first.
///
/// ```
/// use hold_steady_core::keep::last_day_at_home;
/// let zone = jiff::tz::TimeZone::get("Europe/Vienna")?;
/// // Pulled ten minutes before midnight there: that day is the first of five.
/// let day = last_day_at_home("2026-12-07T22:50:00Z".parse()?, &zone);
/// assert_eq!(day.to_string(), "2026-12-11");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn last_day_at_home(pulled: Timestamp, zone: &TimeZone) -> Date {
    let cooked_on = zone.to_datetime(pulled).date();
    let more = limits().home_days.value as i64 - 1;
    cooked_on.checked_add(more.days()).unwrap_or(cooked_on)
}

/// Whether a last day is over: it counts to its midnight.
///
/// ```
/// use hold_steady_core::keep::is_over;
/// let (day, zone) = (jiff::civil::date(2026, 12, 11), jiff::tz::TimeZone::UTC);
/// assert!(!is_over(day, "2026-12-11T23:59:00Z".parse()?, &zone));
/// assert!(is_over(day, "2026-12-12T00:00:00Z".parse()?, &zone));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn is_over(last_day: Date, now: Timestamp, zone: &TimeZone) -> bool {
    zone.to_datetime(now).date() > last_day
}

/// The midnight that ends a day.
///
/// ```
/// use hold_steady_core::keep::end_of;
/// let end = end_of(jiff::civil::date(2026, 12, 11), &jiff::tz::TimeZone::UTC);
/// assert_eq!(end.to_string(), "2026-12-12T00:00:00Z");
/// ```
#[must_use]
pub fn end_of(day: Date, zone: &TimeZone) -> Timestamp {
    let next = day.tomorrow().unwrap_or(day);
    let midnight = zone.to_ambiguous_timestamp(next.to_datetime(jiff::civil::Time::midnight()));
    midnight.compatible().unwrap_or(Timestamp::MAX)
}
