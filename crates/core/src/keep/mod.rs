//! What was cooked ahead and is kept: in which refrigerator or freezer, what was read there, and until which day. Days are the
//! kitchen's own.
//!
//! Only a home's rule stands here yet; a food business follows its plan, and its dates are its own.

mod storage;

use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};

use crate::figures::limits;
pub use storage::{Storage, StorageKind, StorageRead, StorageRecord, read_storage};

/// Into the freezer, and out of it again where it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Frozen {
    /// When it was put into a freezer.
    pub from: Timestamp,
    /// When it was taken out again.
    pub until: Option<Timestamp>,
}

/// How long something keeps.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Keeps {
    /// To the midnight of that day.
    Until(Date),
    /// It is frozen, and no day counts: once it is thawed, so many are left, the day of thawing the first of them; of none, that
    /// day is all.
    Frozen {
        /// Days.
        days_left: i64,
    },
}

/// How long what was pasteurised, pulled at an instant and chilled in time keeps at home. The day it was cooked on is the first
/// of five; the day it goes into a freezer is used, and the day it comes out is the next one. With no day left it is for the
/// day of thawing.
///
/// Five days are the fewer of the 5 to 7 that home guidance allows, ours (trade; `data/limits.json`, `home_days`).
///
/// ```
/// use hold_steady_core::keep::{Frozen, Keeps, at_home};
/// use jiff::civil::date;
/// let zone = jiff::tz::TimeZone::get("Europe/Vienna")?;
/// // Pulled ten minutes before midnight there: that day is the first of five.
/// let pulled = "2026-12-07T22:50:00Z".parse()?;
/// assert_eq!(at_home(pulled, &[], &zone), Keeps::Until(date(2026, 12, 11)));
/// let frozen = Frozen { from: "2026-12-09T12:00:00Z".parse()?, until: None };
/// assert_eq!(at_home(pulled, &[frozen], &zone), Keeps::Frozen { days_left: 2 });
/// let thawed = Frozen { until: Some("2026-12-20T08:00:00Z".parse()?), ..frozen };
/// assert_eq!(at_home(pulled, &[thawed], &zone), Keeps::Until(date(2026, 12, 21)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn at_home(pulled: Timestamp, frozen: &[Frozen], zone: &TimeZone) -> Keeps {
    let day = |at: Timestamp| zone.to_datetime(at).date();
    let after = |from: Date, days: i64| from.checked_add(days.days()).unwrap_or(from);
    // From which day on it counts, and how many are left, that day the first of them.
    let (mut from, mut left) = (day(pulled), limits().home_days.value as i64);
    for f in frozen {
        let last = after(from, left - 1);
        let into = day(f.from);
        // Past its last day nothing is frozen any more.
        if into > last {
            return Keeps::Until(last);
        }
        left -= i64::from((into - from).get_days()) + 1;
        let Some(until) = f.until else { return Keeps::Frozen { days_left: left } };
        from = day(until);
        if left <= 0 {
            return Keeps::Until(from);
        }
    }
    Keeps::Until(after(from, left - 1))
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

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    fn at(text: &str) -> Timestamp {
        text.parse().expect("an instant")
    }

    fn frozen(from: &str, until: &str) -> Frozen {
        Frozen { from: at(from), until: Some(at(until)) }
    }

    #[test]
    fn days_stop_in_the_freezer_and_none_is_given_back() {
        let (pulled, zone) = (at("2026-12-07T12:00:00Z"), TimeZone::UTC);
        let home = |frozen: &[Frozen]| at_home(pulled, frozen, &zone);
        let still = |from: &str| home(&[Frozen { from: at(from), until: None }]);
        assert_eq!(still("2026-12-07T20:00:00Z"), Keeps::Frozen { days_left: 4 });
        // On its last day it may still be frozen; then it is for the day it is thawed on.
        assert_eq!(still("2026-12-11T20:00:00Z"), Keeps::Frozen { days_left: 0 });
        let last = frozen("2026-12-11T20:00:00Z", "2027-01-02T08:00:00Z");
        assert_eq!(home(&[last]), Keeps::Until(date(2027, 1, 2)));
        // After it, freezing mends nothing.
        assert_eq!(still("2026-12-12T00:30:00Z"), Keeps::Until(date(2026, 12, 11)));
        // In and out on one day is two days used, and twice frozen is counted on.
        let short = frozen("2026-12-08T08:00:00Z", "2026-12-08T20:00:00Z");
        assert_eq!(home(&[short]), Keeps::Until(date(2026, 12, 10)));
        let again = Frozen { from: at("2026-12-09T08:00:00Z"), until: None };
        assert_eq!(home(&[short, again]), Keeps::Frozen { days_left: 1 });
    }
}
