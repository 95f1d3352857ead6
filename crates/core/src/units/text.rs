//! Numbers and spans of time as they are read.

use super::Minutes;

/// The number a text ends with, and what stands before it. A minus sign belongs to it; a hyphen may join.
pub(super) fn split_number(text: &str) -> (&str, Option<f64>) {
    let other = |c: char| !c.is_ascii_digit() && c != '.';
    let digits = text.rfind(other).map_or(0, |i| i + text[i..].chars().next().map_or(0, char::len_utf8));
    let Ok(number) = text[digits..].parse::<f64>() else { return (text, None) };
    match text[..digits].strip_suffix('−') {
        Some(before) => (before, Some(-number)),
        None => (&text[..digits], Some(number)),
    }
}

/// A number rounded to `places` decimals with trailing zeros taken off, and never `-0`.
///
/// ```
/// use hold_steady_core::units::trimmed;
/// assert_eq!((trimmed(55.0, 1), trimmed(-0.04, 1), trimmed(1.25, 2)), ("55".into(), "0".into(), "1.25".into()));
/// ```
#[must_use]
pub fn trimmed(value: f64, places: usize) -> String {
    let text = format!("{value:.places$}");
    let text = if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.') } else { &text };
    if text == "-0" { "0".into() } else { text.into() }
}

/// A tenth of a degree is said only where it is one: 129.9 is 130.
pub(super) fn whole_or_tenth(degrees: f64) -> String {
    const WHOLE: f64 = 0.101;
    let tenth = (degrees * 10.0).round() / 10.0;
    if (tenth - tenth.round()).abs() < WHOLE { trimmed(tenth, 0) } else { trimmed(tenth, 1) }
}

/// Inches as a kitchen's ruler has them, to the sixteenth; less than a quarter to a hundredth.
pub(super) fn inches(value: f64) -> String {
    const QUARTER: f64 = 0.25;
    let sixteenths = (value * 16.0).round();
    // What a hundredth makes a quarter of is one.
    let small = (value * 100.0).round().abs() / 100.0 < QUARTER;
    if small && (value * 16.0 - sixteenths).abs() > 0.01 {
        return trimmed(value, 2);
    }
    let whole = (sixteenths / 16.0).floor();
    let (mut top, mut bottom) = ((sixteenths - whole * 16.0) as u32, 16_u32);
    while top != 0 && top % 2 == 0 {
        top /= 2;
        bottom /= 2;
    }
    match (whole as u32, top) {
        (w, 0) => format!("{w}"),
        (0, t) => format!("{t}/{bottom}"),
        (w, t) => format!("{w} {t}/{bottom}"),
    }
}

/// With a capital first letter.
///
/// ```
/// assert_eq!(hold_steady_core::units::capitalised("strip steak"), "Strip steak");
/// ```
#[must_use]
pub fn capitalised(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|c| c.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

/// As much of what was typed as an error repeats.
///
/// ```
/// assert_eq!(hold_steady_core::units::shortened(&"beef ".repeat(20)).chars().count(), 40);
/// ```
#[must_use]
pub fn shortened(text: &str) -> String {
    text.chars().take(40).collect()
}

/// Minutes in words: `45 min`, `2 h`, `3 h 5 min`.
///
/// ```
/// use hold_steady_core::units::{Minutes, minutes};
/// assert_eq!((minutes(Minutes::new(45.0)), minutes(Minutes::from_hours(2.0))), ("45 min".into(), "2 h".into()));
/// ```
#[must_use]
pub fn minutes(min: Minutes) -> String {
    if !min.value().is_finite() {
        return "for ever".into();
    }
    let total = min.value().round().max(0.0) as i64;
    match (total / 60, total % 60) {
        (0, m) => format!("{m} min"),
        (h, 0) => format!("{h} h"),
        (h, m) => format!("{h} h {m} min"),
    }
}
