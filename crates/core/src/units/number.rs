//! A number as cooks type it, before its unit: comma, point or fraction.

use super::parse::QuantityError;
use super::{Kelvin, TemperatureUnit, shortened};

/// Splits text into a number and a lower-case unit.
pub(super) fn split(
    text: &str,
    what: &'static str,
    example: &'static str,
) -> Result<(f64, String), QuantityError> {
    let text = text.trim();
    if text.is_empty() {
        return Err(QuantityError::Empty { what, example });
    }
    let not_a_number = || QuantityError::NotANumber { text: shortened(text), what, example };
    let spread = spread_fractions(text);
    let end = spread.find(|c: char| !(c.is_ascii_digit() || " .,/-+".contains(c))).unwrap_or(spread.len());
    let (number, unit) = spread.split_at(end);
    let number = mixed_number(number.trim()).ok_or_else(not_a_number)?;
    if !number.is_finite() {
        return Err(not_a_number());
    }
    let unit: String = unit.trim().trim_end_matches('.').chars().take(24).collect();
    Ok((number, unit.to_lowercase()))
}

/// Writes vulgar fraction signs out, so that `1¼` reads `1 1/4`, and the minus sign as a hyphen.
pub(super) fn spread_fractions(text: &str) -> String {
    let mut out = String::with_capacity(text.len() + 8);
    for c in text.chars() {
        let fraction = match c {
            '¼' => "1/4",
            '½' => "1/2",
            '¾' => "3/4",
            '⅛' => "1/8",
            '⅜' => "3/8",
            '⅝' => "5/8",
            '⅞' => "7/8",
            '⅓' => "1/3",
            '⅔' => "2/3",
            '⁄' => "/",
            '−' => "-",
            '\u{a0}' | '\u{202f}' | '\t' => " ",
            other => {
                out.push(other);
                continue;
            }
        };
        if fraction.len() == 3 && !out.is_empty() {
            out.push(' ');
        }
        out.push_str(fraction);
    }
    out
}

/// `32`, `1.25`, `1,25`, `5/4`, `1 1/4`, `1-1/4`, `-18`.
pub(super) fn mixed_number(text: &str) -> Option<f64> {
    let (sign, text) = match text.strip_prefix('-') {
        Some(rest) => (-1.0, rest.trim_start()),
        None => (1.0, text.strip_prefix('+').unwrap_or(text)),
    };
    if text.starts_with(['-', '+']) {
        return None;
    }
    let parts: Vec<&str> = text.split([' ', '-']).filter(|p| !p.is_empty()).collect();
    let value = match parts.as_slice() {
        [one] if one.contains('/') => fraction(one)?,
        [one] => decimal(one)?,
        [whole, part] if part.contains('/') && whole.bytes().all(|b| b.is_ascii_digit()) => {
            decimal(whole)? + fraction(part)?
        }
        _ => return None,
    };
    Some(sign * value)
}

pub(super) fn fraction(text: &str) -> Option<f64> {
    let (top, bottom) = text.split_once('/')?;
    let (top, bottom) = (decimal(top.trim())?, decimal(bottom.trim())?);
    (bottom != 0.0).then(|| top / bottom)
}

fn decimal(text: &str) -> Option<f64> {
    // Digits and at most one separator: a second one (1,000.5) would be ambiguous.
    let separators = text.bytes().filter(|b| matches!(b, b'.' | b',')).count();
    if separators > 1
        || text.is_empty()
        || !text.bytes().all(|b| b.is_ascii_digit() || matches!(b, b'.' | b','))
    {
        return None;
    }
    text.replace(',', ".").parse().ok()
}

/// A number of this unit, with comma or fraction; the unit may be left off.
pub(crate) fn parse_number(text: &str, unit: &str) -> Option<f64> {
    let (number, typed) = split(text, "", "").ok()?;
    let ours = typed.is_empty() || typed == unit.to_lowercase();
    ours.then_some(number)
}

/// A number before a unit, and the unit in lower case.
pub(crate) fn number_and_unit(text: &str) -> Option<(f64, String)> {
    let text = text.trim().replace(',', ".").to_lowercase();
    let end = text.find(|c: char| !(c.is_ascii_digit() || c == '.')).unwrap_or(text.len());
    let unit = text[end..].trim().trim_start_matches('°').trim().to_owned();
    Some((text[..end].parse().ok()?, unit))
}

/// A difference of temperatures, K: `0.2`, `0.2 °C`, `0.4 f`.
pub(crate) fn difference_k(text: &str, bare: TemperatureUnit) -> Option<Kelvin> {
    const F_PER_K: f64 = 1.8;
    let (value, unit) = number_and_unit(text)?;
    match (unit.as_str(), bare) {
        ("c" | "k", _) | ("", TemperatureUnit::C) => Some(Kelvin::new(value)),
        ("f", _) | ("", TemperatureUnit::F) => Some(Kelvin::new(value / F_PER_K)),
        _ => None,
    }
}
