//! “Ready at”: a wall-clock time typed by a cook, turned into an instant.

use jiff::civil::{Date, DateTime, Time, Weekday};
use jiff::tz::{AmbiguousOffset, TimeZone};
use jiff::{Timestamp, ToSpan};

use crate::units::{parse_minutes, shortened};

/// What “ready at” was understood as.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ready {
    /// As soon as it can honestly be.
    Soonest,
    /// At this instant.
    At(Timestamp),
}

/// Why a typed time could not be taken.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum ReadyError {
    /// Not a time.
    #[error(
        "“{0}” is not a time. Type one such as 19:30, 7:30 pm, half past seven, in 90 min, tomorrow 13:00 or 2026-03-29 19:30, or leave it empty for as soon as it can be."
    )]
    NotATime(String),
    /// The clocks jump over it.
    #[error("{asked} does not exist on {date}: the clocks go forward. Type {instead} or later.")]
    Skipped {
        /// What was typed.
        asked: String,
        /// The day.
        date: String,
        /// The first time after the gap.
        instead: String,
    },
    /// The day named is over.
    #[error("{0} is past. Type a time to come.")]
    Past(String),
    /// Too far ahead to plan.
    #[error("{0} is more than 30 days ahead. Plan it nearer the day.")]
    TooFar(String),
}

/// How far ahead a plan may reach, days.
const FURTHEST_DAYS: i64 = 30;

/// Reads a time in the kitchen's zone, seen from `now`.
///
/// Without a day it is the next time the clock shows it: today, or tomorrow once it is past. Said in words (`half past
/// seven`) it is the next of its two halves of the day; a while (`in 90 min`, `90 min`, `1h30`) is counted from now, to
/// whole minutes. A time the clock shows twice (when the clocks go back) is the first of the two: food that is ready early
/// waits.
///
/// # Errors
/// When the text is no time, is past, or falls into the hour that is skipped.
///
/// ```
/// use hold_steady_core::plan::{Ready, resolve_ready};
/// let zone = jiff::tz::TimeZone::get("Europe/Lisbon")?;
/// let now = "2026-11-25T20:00:00Z".parse()?;
/// let Ready::At(t) = resolve_ready("0:30", now, &zone)? else { panic!() };
/// assert_eq!(t.to_string(), "2026-11-26T00:30:00Z");
/// let Ready::At(t) = resolve_ready("in 90 min", now, &zone)? else { panic!() };
/// assert_eq!(t.to_string(), "2026-11-25T21:30:00Z");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn resolve_ready(text: &str, now: Timestamp, zone: &TimeZone) -> Result<Ready, ReadyError> {
    const MOST_MIN: f64 = 1e6;
    let typed = text.trim();
    let wrong = || ReadyError::NotATime(shortened(typed));
    let lower = typed.to_lowercase();
    if matches!(lower.as_str(), "" | "soon" | "soonest" | "asap" | "now" | "as soon as it can be") {
        return Ok(Ready::Soonest);
    }
    let at = match a_while(&lower) {
        // Neither a second early nor a time with seconds; what is much too far is that, however far.
        Some(min) => {
            let s = (min.min(MOST_MIN) * 60.0).round() as i64;
            Timestamp::from_second((now.as_second() + s + 59).div_euclid(60) * 60).map_err(|_| wrong())?
        }
        None => shown_next(&lower, typed, now, zone)?,
    };
    if at <= now {
        return Err(ReadyError::Past(typed.to_owned()));
    }
    if at.duration_since(now).as_hours() > FURTHEST_DAYS * 24 {
        return Err(ReadyError::TooFar(typed.to_owned()));
    }
    Ok(Ready::At(at))
}

/// When the clock shows a time next, or on the day that is named with it.
fn shown_next(lower: &str, typed: &str, now: Timestamp, zone: &TimeZone) -> Result<Timestamp, ReadyError> {
    let wrong = || ReadyError::NotATime(shortened(typed));
    let here = zone.to_datetime(now);
    let (day, time) = split_day(lower, here.date(), Way::Ahead).ok_or_else(wrong)?;
    let instant = |date: Date, time: Time| to_instant(date.to_datetime(time), zone, typed);
    let next = |time: Time| match instant(here.date(), time) {
        Ok(t) if t > now => Ok(t),
        Ok(_) | Err(ReadyError::Skipped { .. }) if time <= here.time() => {
            instant(here.date().tomorrow().map_err(|_| wrong())?, time)
        }
        other => other,
    };
    if let Some(time) = parse_time(&time) {
        return day.map_or_else(|| next(time), |date| instant(date, time));
    }
    // In words it is either half of the day: the next, and of a day that is named the evening.
    let morning = spoken(&time).ok_or_else(wrong)?;
    let evening = half_a_day_later(morning).ok_or_else(wrong)?;
    match day {
        Some(date) => instant(date, evening),
        None => Ok(next(morning)?.min(next(evening)?)),
    }
}

/// The same time of the other half of the day, from one of the first.
fn half_a_day_later(time: Time) -> Option<Time> {
    Time::new(time.hour() + 12, time.minute(), 0, 0).ok()
}

/// The evening of today, where a bare time of the first half of the day was typed that is over, and so tomorrow's was
/// taken: `7:30` typed at half past five.
///
/// ```
/// use hold_steady_core::plan::perhaps_today;
/// let (now, utc) = ("2026-11-25T17:30:00Z".parse()?, jiff::tz::TimeZone::UTC);
/// assert_eq!(perhaps_today("7:30", now, &utc).map(|t| t.to_string()), Some("2026-11-25T19:30:00Z".into()));
/// assert_eq!(perhaps_today("7:30 am", now, &utc), None, "said");
/// assert_eq!(perhaps_today("19:30", now, &utc), None);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn perhaps_today(text: &str, now: Timestamp, zone: &TimeZone) -> Option<Timestamp> {
    let lower = text.trim().to_lowercase();
    // "am" and "pm" say which half; a while and a day are no bare time.
    let time = parse_time(&lower)
        .filter(|t| (1..12).contains(&t.hour()) && !lower.contains('m') && a_while(&lower).is_none())?;
    let here = zone.to_datetime(now);
    let evening = here.date().to_datetime(half_a_day_later(time)?);
    let evening = zone.to_timestamp(evening).ok()?;
    (time <= here.time() && evening > now).then_some(evening)
}

/// When something happened: one instant, or one of two where the time can be meant in two ways.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Past {
    /// As it was typed.
    pub at: Timestamp,
    /// When else: the clock showed that time twice; half a day later, where nobody said which half; or just now, where the
    /// time of today is still to come and that of yesterday is long ago.
    pub or_at: Option<Timestamp>,
}

impl Past {
    const fn once(at: Timestamp) -> Self {
        Self { at, or_at: None }
    }
}

/// Reads when something happened, seen from `now`: empty for now, `19:05` for the last time the clock
/// showed that, `10 min ago`. A bare time further back than three hours that can be meant otherwise says so: whoever writes it
/// down asks, and until it is answered what is worse counts.
///
/// # Errors
/// When the text is no such time.
///
/// ```
/// use hold_steady_core::plan::resolve_past;
/// let (now, utc) = ("2026-11-26T00:10:00Z".parse()?, jiff::tz::TimeZone::UTC);
/// assert_eq!(resolve_past("23:50", now, &utc)?.at.to_string(), "2026-11-25T23:50:00Z");
/// assert_eq!(resolve_past("15 min ago", now, &utc)?.at.to_string(), "2026-11-25T23:55:00Z");
/// // 6:05 in the evening, typed for 18:05: it may be either.
/// let evening = "2026-11-25T18:06:00Z".parse()?;
/// let past = resolve_past("6:05", evening, &utc)?;
/// assert_eq!(past.at.to_string(), "2026-11-25T06:05:00Z");
/// assert_eq!(past.or_at.map(|t| t.to_string()), Some("2026-11-25T18:05:00Z".into()));
/// assert_eq!(resolve_past("today 6:05", evening, &utc)?.or_at, None, "said");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn resolve_past(text: &str, now: Timestamp, zone: &TimeZone) -> Result<Past, PastError> {
    let typed = text.trim().to_lowercase();
    let wrong = || PastError(shortened(text.trim()));
    if matches!(typed.as_str(), "" | "now" | "just now") {
        return Ok(Past::once(now));
    }
    if let Some(ago) = typed.strip_suffix("ago") {
        let (number, unit) = ago.trim().split_once(' ').unwrap_or((ago.trim(), "min"));
        let number: i64 = number.parse().map_err(|_| wrong())?;
        let seconds = match unit.trim() {
            "s" | "sec" | "seconds" => 1,
            "m" | "min" | "minute" | "minutes" => 60,
            "h" | "hour" | "hours" => 3600,
            _ => return Err(wrong()),
        };
        let back = number.checked_mul(seconds).filter(|s| (0..=7 * 86_400).contains(s));
        let span = back.ok_or_else(wrong)?.seconds();
        return now.checked_sub(span).map(Past::once).map_err(|_| wrong());
    }
    let here = zone.to_datetime(now);
    let (day, time) = split_day(&typed, here.date(), Way::Back).ok_or_else(wrong)?;
    // Half past twelve is after noon, or was after midnight.
    let in_words = || spoken(&time).and_then(|t| if t.hour() == 0 { half_a_day_later(t) } else { Some(t) });
    let time = parse_time(&time).or_else(in_words).ok_or_else(wrong)?;
    // A time shown twice, when the clocks go back, is the later one if that is past already; or it was the earlier.
    let last = |date: Date| -> Option<Past> {
        let ambiguous = zone.to_ambiguous_timestamp(date.to_datetime(time));
        let twice = matches!(ambiguous.offset(), AmbiguousOffset::Fold { .. });
        let later = ambiguous.later().ok()?;
        let earlier = ambiguous.earlier().ok()?;
        Some(if later <= now {
            Past { at: later, or_at: twice.then_some(earlier) }
        } else {
            Past::once(earlier)
        })
    };
    if let Some(date) = day {
        return last(date).ok_or_else(wrong);
    }
    // Typed a moment ahead of our clock is today's, and is refused later as not yet happened.
    const A_MOMENT_S: i64 = 600;
    let soon = |t: &Past| t.at.as_second() <= now.as_second() + A_MOMENT_S;
    let halves = typed.ends_with("am") || typed.ends_with("pm") || typed.ends_with("m.");
    match last(here.date()).filter(soon) {
        Some(found) => Ok(meant_otherwise(found, (time, halves), now, zone)),
        None => {
            let found = here.date().yesterday().ok().and_then(last).ok_or_else(wrong)?;
            let otherwise = meant_otherwise(found, (time, halves), now, zone);
            // A time of today that is still to come: more likely a wrong key than yesterday.
            Ok(Past {
                or_at: otherwise.or_at.or_else(|| is_long_ago(found.at, now).then_some(now)),
                ..otherwise
            })
        }
    }
}

/// Whether something is further back than what is written down late.
fn is_long_ago(at: Timestamp, now: Timestamp) -> bool {
    const LATE: jiff::SignedDuration = jiff::SignedDuration::from_hours(3);
    now.duration_since(at) > LATE
}

/// A bare time of the first half of a day, long ago, may be of the other half: `6:05` typed in the evening.
fn meant_otherwise(found: Past, (time, halves): (Time, bool), now: Timestamp, zone: &TimeZone) -> Past {
    let first_half = (1..=12).contains(&time.hour()) && !halves;
    if found.or_at.is_some() || !first_half || !is_long_ago(found.at, now) {
        return found;
    }
    let later = zone.to_datetime(found.at).checked_add(12.hours()).ok();
    let later = later.and_then(|wall| zone.to_timestamp(wall).ok());
    Past { or_at: later.filter(|t| *t <= now), ..found }
}

/// A text that says no time in the past.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("“{0}” is not a time. Type one such as 19:05, 7:05 pm or 10 min ago, or leave it empty for now.")]
pub struct PastError(String);

fn to_instant(wall: DateTime, zone: &TimeZone, typed: &str) -> Result<Timestamp, ReadyError> {
    let ambiguous = zone.to_ambiguous_timestamp(wall);
    let wrong = |_| ReadyError::NotATime(typed.to_owned());
    if let AmbiguousOffset::Gap { before, .. } = ambiguous.offset() {
        // Read with the offset before the jump, the instant lies past it; the transition just before
        // is the jump, and the wall clock after it shows the first time that exists.
        let past = before.to_timestamp(wall).map_err(wrong)?;
        let end = zone.preceding(past).next().map_or(wall, |jump| zone.to_datetime(jump.timestamp()));
        return Err(ReadyError::Skipped {
            asked: wall.strftime("%H:%M").to_string(),
            date: wall.strftime("%-d %B").to_string(),
            instead: end.strftime("%H:%M").to_string(),
        });
    }
    ambiguous.earlier().map_err(wrong)
}

/// Whether a day that is named lies ahead, or has been.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Way {
    Ahead,
    Back,
}

/// Takes a day off the front or the back: the day, where there is one, and the rest.
fn split_day(text: &str, today: Date, way: Way) -> Option<(Option<Date>, String)> {
    let words: Vec<&str> = text.split_whitespace().filter(|w| *w != "at" && *w != "on").collect();
    let day_of = |word: &str| -> Option<Date> {
        let word = word.trim_end_matches(',');
        match word {
            "today" | "tonight" => Some(today),
            "tomorrow" if way == Way::Ahead => today.tomorrow().ok(),
            "yesterday" if way == Way::Back => today.yesterday().ok(),
            _ => weekday(word).map_or_else(
                || word.parse::<Date>().ok().filter(|_| word.len() == 10),
                |w| {
                    let step = if way == Way::Ahead { 1 } else { -1 };
                    let days = (0..7_i64).map(|d| today.checked_add((d * step).days()));
                    days.flatten().find(|d| d.weekday() == w)
                },
            ),
        }
    };
    if let Some((date, time)) = text.split_once('t').filter(|(d, _)| d.len() == 10) {
        return Some((Some(date.parse().ok()?), time.to_owned()));
    }
    let (first, last) = (words.first()?, words.last()?);
    if words.len() > 1 {
        if let Some(d) = day_of(first) {
            return Some((Some(d), words[1..].join(" ")));
        }
        if let Some(d) = day_of(last) {
            return Some((Some(d), words[..words.len() - 1].join(" ")));
        }
    }
    Some((None, words.join(" ")))
}

fn weekday(word: &str) -> Option<Weekday> {
    let days = [
        ("monday", Weekday::Monday),
        ("tuesday", Weekday::Tuesday),
        ("wednesday", Weekday::Wednesday),
        ("thursday", Weekday::Thursday),
        ("friday", Weekday::Friday),
        ("saturday", Weekday::Saturday),
        ("sunday", Weekday::Sunday),
    ];
    days.iter().find(|(name, _)| word.len() >= 3 && name.starts_with(word)).map(|d| d.1)
}

/// A while from now, minutes: `in 90 min`, `90 min`, `2 h`, `1h30`. No dish is ready in so many hours and minutes as
/// `19h30` has: that is a time.
fn a_while(text: &str) -> Option<f64> {
    const LONGEST_H: f64 = 6.0;
    let said = text.strip_prefix("in ");
    let min = parse_minutes(said.unwrap_or(text)).ok()?.value();
    let bare_time = text.contains([':', '.']) && said.is_none();
    let hours = text.split('h').next().and_then(|h| h.trim().parse().ok()).filter(|_| text.contains('h'));
    let is_time = said.is_none() && hours.is_some_and(|h: f64| h > LONGEST_H && !text.contains(' '));
    (min > 0.0 && !bare_time && !is_time).then_some(min)
}

/// A time in words, in the first half of the day: `seven`, `half past seven`, `quarter to eight`, `ten past 7`.
fn spoken(text: &str) -> Option<Time> {
    const HOURS: [&str; 12] =
        ["one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];
    const MINUTES: [(&str, i8); 7] = [
        ("five", 5),
        ("ten", 10),
        ("quarter", 15),
        ("a quarter", 15),
        ("twenty", 20),
        ("twenty-five", 25),
        ("half", 30),
    ];
    let text = text.trim_end_matches("o'clock").trim_end_matches("o’clock").trim();
    let hour_of = |word: &str| -> Option<i8> {
        let named = HOURS.iter().position(|h| *h == word).map(|h| h as i8 + 1);
        named.or_else(|| word.parse().ok().filter(|h| (1..=12).contains(h)))
    };
    let minutes_of = |words: &str| {
        let words = words.trim_end_matches("minutes").trim();
        let named = MINUTES.iter().find(|m| m.0 == words).map(|m| m.1);
        named.or_else(|| words.parse().ok().filter(|m| (1..30).contains(m)))
    };
    let (hour, minute) = if let Some((minutes, hour)) = text.split_once(" past ") {
        (hour_of(hour.trim())?, minutes_of(minutes)?)
    } else if let Some((minutes, hour)) = text.split_once(" to ") {
        let minutes = minutes_of(minutes).filter(|m| *m < 30)?;
        (hour_of(hour.trim())? - 1, 60 - minutes)
    } else {
        (HOURS.iter().position(|h| *h == text)? as i8 + 1, 0)
    };
    Time::new(hour % 12, minute, 0, 0).ok()
}

/// `19:30`, `19.30`, `1930`, `19`, `7:30 pm`, `7pm`, `noon`, `midnight`.
fn parse_time(text: &str) -> Option<Time> {
    match text {
        "noon" => return Time::new(12, 0, 0, 0).ok(),
        "midnight" => return Time::new(0, 0, 0, 0).ok(),
        _ => {}
    }
    let (digits, half) = if let Some(t) = text.strip_suffix("pm").or(text.strip_suffix("p.m.")) {
        (t.trim_end(), Some(12))
    } else if let Some(t) = text.strip_suffix("am").or(text.strip_suffix("a.m.")) {
        (t.trim_end(), Some(0))
    } else {
        (text, None)
    };
    let number = |s: &str| -> Option<i8> {
        (!s.is_empty() && s.len() <= 2 && s.bytes().all(|b| b.is_ascii_digit())).then(|| s.parse().ok())?
    };
    let parts: Vec<&str> = digits.split([':', '.', 'h']).collect();
    let (hour, minute) = match parts.as_slice() {
        [h, m] if m.len() == 2 => (number(h)?, number(m)?),
        // A form control may send seconds.
        [h, m, s] if m.len() == 2 && s.len() == 2 => {
            number(s)?;
            (number(h)?, number(m)?)
        }
        [hm] if hm.len() == 4 && hm.is_ascii() => (number(&hm[..2])?, number(&hm[2..])?),
        [h] => (number(h)?, 0),
        _ => return None,
    };
    let hour = match half {
        None => hour,
        Some(_) if !(1..=12).contains(&hour) => return None,
        Some(add) => hour % 12 + add,
    };
    Time::new(hour, minute, 0, 0).ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(text: &str, now: &str, zone: &str) -> Result<String, ReadyError> {
        let zone = TimeZone::get(zone).expect("bundled");
        let now = now.parse().expect("an instant");
        match resolve_ready(text, now, &zone)? {
            Ready::Soonest => Ok("soonest".into()),
            Ready::At(t) => Ok(t.to_string()),
        }
    }

    #[test]
    fn times_as_cooks_type_them() {
        let now = "2026-11-25T12:00:00Z";
        for text in [
            "19:30",
            "19.30",
            "1930",
            "7:30 pm",
            "7:30pm",
            "7.30 p.m.",
            "today 19:30",
            "19:30 today",
            "Wed 19:30",
            "2026-11-25 19:30",
            "2026-11-25T19:30",
            "19:30:00",
        ] {
            assert_eq!(at(text, now, "UTC").as_deref(), Ok("2026-11-25T19:30:00Z"), "{text}");
        }
        assert_eq!(at("noon", now, "UTC").as_deref(), Ok("2026-11-26T12:00:00Z"));
        assert_eq!(at("", now, "UTC").as_deref(), Ok("soonest"));
        assert_eq!(at("tomorrow at 13", now, "UTC").as_deref(), Ok("2026-11-26T13:00:00Z"));
        assert_eq!(at("sat 12:30", now, "UTC").as_deref(), Ok("2026-11-28T12:30:00Z"));
        for text in [
            "soonish",
            "25:00",
            "19:61",
            "13 pm",
            "7",
            "half past",
            "१९:३०",
            "19:3",
            ":30",
            "2026-13-01 12:00",
        ] {
            let got = at(text, now, "UTC");
            if text == "7" {
                assert_eq!(got.as_deref(), Ok("2026-11-26T07:00:00Z"));
            } else {
                assert!(matches!(got, Err(ReadyError::NotATime(_))), "{text}: {got:?}");
            }
        }
        assert!(matches!(at("today 11:00", now, "UTC"), Err(ReadyError::Past(_))));
        assert!(matches!(at("2027-11-25 11:00", now, "UTC"), Err(ReadyError::TooFar(_))));
    }

    #[test]
    fn times_in_words_and_whiles_from_now() {
        let now = "2026-11-25T17:30:20Z";
        for (text, then) in [
            ("in 90 min", "2026-11-25T19:01:00Z"),
            ("90 min", "2026-11-25T19:01:00Z"),
            ("1h30", "2026-11-25T19:01:00Z"),
            ("1 h 30 min", "2026-11-25T19:01:00Z"),
            ("in 2 hours", "2026-11-25T19:31:00Z"),
            ("19h30", "2026-11-25T19:30:00Z"),
            ("half past seven", "2026-11-25T19:30:00Z"),
            ("at half past 7", "2026-11-25T19:30:00Z"),
            ("quarter to eight", "2026-11-25T19:45:00Z"),
            ("ten past five", "2026-11-26T05:10:00Z"),
            ("seven o'clock", "2026-11-25T19:00:00Z"),
            ("twelve", "2026-11-26T00:00:00Z"),
            ("tomorrow at half past seven", "2026-11-26T19:30:00Z"),
            ("noon", "2026-11-26T12:00:00Z"),
        ] {
            assert_eq!(at(text, now, "UTC").as_deref(), Ok(then), "{text}");
        }
        for text in ["in 1000 h", "in 99999999999999999999999 h", "99999999999999999999999 days"] {
            assert!(
                matches!(at(text, now, "UTC"), Err(ReadyError::TooFar(_))),
                "{text}: {:?}",
                at(text, now, "UTC")
            );
        }
        for text in ["half past", "half past thirteen", "in a while", "in -5 min", "0 min", "half to seven"] {
            assert!(
                matches!(at(text, now, "UTC"), Err(ReadyError::NotATime(_))),
                "{text}: {:?}",
                at(text, now, "UTC")
            );
        }
        // What has been is of the other half of the day as well, until somebody says.
        let past =
            resolve_past("half past five", now.parse().expect("an instant"), &TimeZone::UTC).expect("a time");
        assert_eq!(past.at.to_string(), "2026-11-25T05:30:00Z");
        assert_eq!(past.or_at.map(|t| t.to_string()), Some("2026-11-25T17:30:00Z".into()));
    }

    #[test]
    fn the_past_is_the_last_time_the_clock_showed_it() {
        let zone = TimeZone::get("Europe/Vienna").expect("bundled");
        let past = |text: &str, now: &str| {
            let now = now.parse().expect("an instant");
            resolve_past(text, now, &zone).map(|t| t.at.to_string())
        };
        let now = "2026-11-25T18:00:30Z";
        assert_eq!(past("", now).as_deref(), Ok("2026-11-25T18:00:30Z"));
        assert_eq!(past("18:59", now).as_deref(), Ok("2026-11-25T17:59:00Z"));
        assert_eq!(past("22:00", now).as_deref(), Ok("2026-11-24T21:00:00Z"));
        assert_eq!(past("yesterday-ish", now), Err(PastError("yesterday-ish".into())));
        assert!(past("999999999999999999 h ago", now).is_err());
        // 02:30 was shown twice; the second has passed.
        assert_eq!(past("2:30", "2026-10-25T02:00:00Z").as_deref(), Ok("2026-10-25T01:30:00Z"));
        assert_eq!(past("2:30", "2026-10-25T01:00:00Z").as_deref(), Ok("2026-10-25T00:30:00Z"));
    }

    #[test]
    fn midnight_is_crossed_in_the_kitchen_s_own_zone() {
        // 23:00 in New York is already tomorrow in UTC.
        let now = "2026-11-26T04:00:00Z";
        assert_eq!(at("0:15", now, "America/New_York").as_deref(), Ok("2026-11-26T05:15:00Z"));
        assert_eq!(at("23:30", now, "America/New_York").as_deref(), Ok("2026-11-26T04:30:00Z"));
        assert_eq!(at("22:59", now, "America/New_York").as_deref(), Ok("2026-11-27T03:59:00Z"));
    }

    #[test]
    fn clocks_going_forward_skip_an_hour_and_it_is_said() {
        // Central Europe, 29 March 2026: 02:00 becomes 03:00.
        let now = "2026-03-28T23:00:00Z";
        assert_eq!(at("1:59", now, "Europe/Vienna").as_deref(), Ok("2026-03-29T00:59:00Z"));
        assert_eq!(at("3:00", now, "Europe/Vienna").as_deref(), Ok("2026-03-29T01:00:00Z"));
        let skipped = at("2:30", now, "Europe/Vienna");
        let Err(ReadyError::Skipped { instead, .. }) = skipped else { panic!("{skipped:?}") };
        assert_eq!(instead, "03:00");
    }

    #[test]
    fn clocks_going_back_show_an_hour_twice_and_the_first_is_meant() {
        // 25 October 2026: 03:00 summer time becomes 02:00.
        let now = "2026-10-24T22:00:00Z";
        assert_eq!(at("2:30", now, "Europe/Vienna").as_deref(), Ok("2026-10-25T00:30:00Z"));
        assert_eq!(at("3:30", now, "Europe/Vienna").as_deref(), Ok("2026-10-25T02:30:00Z"));
    }

    #[test]
    fn a_bare_time_that_can_be_meant_otherwise_says_so() {
        let read = |text: &str, now: &str| {
            let zone = TimeZone::get("Europe/Vienna").expect("bundled");
            let past = resolve_past(text, now.parse().expect("an instant"), &zone).expect("a time");
            let wall = |t: Timestamp| t.to_zoned(zone.clone()).strftime("%d %H:%M").to_string();
            (wall(past.at), past.or_at.map(wall))
        };
        let evening = "2026-11-25T17:06:00Z"; // 18:06 there
        let one = |t: &str| (t.to_owned(), None);
        let two = |t: &str, o: &str| (t.to_owned(), Some(o.to_owned()));
        assert_eq!(read("6:05", evening), two("25 06:05", "25 18:05"));
        assert_eq!(read("6:05 am", evening), one("25 06:05"));
        assert_eq!(read("6:05 pm", evening), one("25 18:05"));
        assert_eq!(read("18:05", evening), one("25 18:05"));
        // Late, and not doubtful.
        assert_eq!(read("15:30", evening), one("25 15:30"));
        assert_eq!(read("7:30", "2026-11-25T09:00:00Z"), one("25 07:30"));
        // 18:05 at 17:30: yesterday, or a wrong key.
        assert_eq!(read("18:05", "2026-11-25T16:30:00Z"), two("24 18:05", "25 17:30"));
        assert_eq!(read("yesterday 18:05", "2026-11-25T16:30:00Z"), one("24 18:05"));
        assert_eq!(read("Tue 18:05", "2026-11-25T16:30:00Z"), one("24 18:05"));
        // Over midnight it is not long ago.
        assert_eq!(read("23:50", "2026-11-25T23:10:00Z"), one("25 23:50"));
    }
}
