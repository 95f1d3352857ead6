//! The clock on a kitchen's wall: its time zone, and in how many hours a day is told.

use std::ops::Deref;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

/// In how many hours a day is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub enum Hours {
    /// `19:30`.
    #[default]
    #[serde(rename = "24")]
    TwentyFour,
    /// `7:30 pm`.
    #[serde(rename = "12")]
    Twelve,
}

impl Hours {
    /// The word in forms and records.
    ///
    /// ```
    /// use hold_steady_core::units::Hours;
    /// assert_eq!((Hours::Twelve.id(), Hours::from_id("24")), ("12", Some(Hours::TwentyFour)));
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::TwentyFour => "24",
            Self::Twelve => "12",
        }
    }

    /// The one with this word.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::units::Hours::from_id("13"), None);
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        [Self::TwentyFour, Self::Twelve].into_iter().find(|h| h.id() == id)
    }

    /// How a time of day is written, for `strftime`.
    const fn format(self) -> &'static str {
        match self {
            Self::TwentyFour => "%H:%M",
            Self::Twelve => "%-I:%M %P",
        }
    }
}

/// A kitchen's clock. It stands for its time zone wherever only that is asked.
#[derive(Debug, Clone)]
pub struct WallClock {
    zone: TimeZone,
    hours: Hours,
}

impl Deref for WallClock {
    type Target = TimeZone;

    fn deref(&self) -> &TimeZone {
        &self.zone
    }
}

impl WallClock {
    /// One in a time zone.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// let wall = WallClock::new(jiff::tz::TimeZone::UTC, Hours::Twelve);
    /// assert_eq!(wall.time("2026-11-25T19:05:00Z".parse()?), "7:05 pm");
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub const fn new(zone: TimeZone, hours: Hours) -> Self {
        Self { zone, hours }
    }

    /// In how many hours it tells a day.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// assert_eq!(WallClock::new(jiff::tz::TimeZone::UTC, Hours::Twelve).hours(), Hours::Twelve);
    /// ```
    #[must_use]
    pub const fn hours(&self) -> Hours {
        self.hours
    }

    /// Its time zone.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// assert_eq!(WallClock::new(jiff::tz::TimeZone::UTC, Hours::default()).zone().iana_name(), Some("UTC"));
    /// ```
    #[must_use]
    pub fn zone(&self) -> TimeZone {
        self.zone.clone()
    }

    fn shown(&self, t: Timestamp, before: &str) -> String {
        t.to_zoned(self.zone.clone()).strftime(&format!("{before}{}", self.hours.format())).to_string()
    }

    /// `19:30`.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// let wall = WallClock::new(jiff::tz::TimeZone::UTC, Hours::default());
    /// assert_eq!(wall.time("2026-11-25T19:05:00Z".parse()?), "19:05");
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn time(&self, t: Timestamp) -> String {
        self.shown(t, "")
    }

    /// A time as it is typed here, where an example helps.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// assert_eq!(WallClock::new(jiff::tz::TimeZone::UTC, Hours::Twelve).example(), "7:05 pm");
    /// ```
    #[must_use]
    pub fn example(&self) -> String {
        jiff::civil::time(19, 5, 0, 0).strftime(self.hours.format()).to_string()
    }

    /// `19:30` for today, `Thu 19:30` for another day near it: a bare time of another day would mislead.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// let (wall, now) = (WallClock::new(jiff::tz::TimeZone::UTC, Hours::default()), "2026-11-25T23:00:00Z".parse()?);
    /// assert_eq!(wall.near("2026-11-26T00:30:00Z".parse()?, now), "Thu 00:30");
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn near(&self, t: Timestamp, now: Timestamp) -> String {
        self.other_day(t, now).map_or_else(|| self.time(t), |day| format!("{day} {}", self.time(t)))
    }

    /// `Thu`, where it is not today.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// let (wall, now) = (WallClock::new(jiff::tz::TimeZone::UTC, Hours::Twelve), "2026-11-25T23:00:00Z".parse()?);
    /// assert_eq!(wall.other_day("2026-11-26T00:30:00Z".parse()?, now).as_deref(), Some("Thu"));
    /// assert_eq!(wall.other_day(now, now), None);
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn other_day(&self, t: Timestamp, now: Timestamp) -> Option<String> {
        let then = self.zone.to_datetime(t).date();
        (then != self.zone.to_datetime(now).date()).then(|| then.strftime("%a").to_string())
    }

    /// `Thu 19:30`, whichever day it is.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// let wall = WallClock::new(jiff::tz::TimeZone::UTC, Hours::Twelve);
    /// assert_eq!(wall.weekday_and_time("2026-11-26T00:30:00Z".parse()?), "Thu 12:30 am");
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn weekday_and_time(&self, t: Timestamp) -> String {
        self.shown(t, "%a ")
    }

    /// `Wed 25 Nov, 19:30`.
    ///
    /// ```
    /// use hold_steady_core::units::{Hours, WallClock};
    /// let wall = WallClock::new(jiff::tz::TimeZone::UTC, Hours::default());
    /// assert_eq!(wall.day_and_time("2026-11-25T19:30:00Z".parse()?), "Wed 25 Nov, 19:30");
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn day_and_time(&self, t: Timestamp) -> String {
        self.shown(t, "%a %-d %b, ")
    }
}
