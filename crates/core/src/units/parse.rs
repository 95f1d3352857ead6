//! Reading what a cook types: `1 1/4 in`, `32mm`, `1¼"`, `130f`, `54,5 °C`.

use super::{Celsius, Length, LengthUnit, TemperatureUnit};

/// Why a typed quantity could not be taken, in a sentence that can stand beside the field.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum QuantityError {
    /// Nothing was typed.
    #[error("Type a {what}, for example {example}.")]
    Empty {
        /// What was asked for.
        what: &'static str,
        /// Something that would be taken.
        example: &'static str,
    },
    /// The text is not a number.
    #[error("“{text}” is not a {what}. Type a number, for example {example}.")]
    NotANumber {
        /// What was typed.
        text: String,
        /// What was asked for.
        what: &'static str,
        /// Something that would be taken.
        example: &'static str,
    },
    /// The number is followed by a unit of another kind.
    #[error("“{unit}” is not a unit of {what}. Use {allowed}.")]
    UnknownUnit {
        /// The unit typed.
        unit: String,
        /// What was asked for.
        what: &'static str,
        /// The units that would be taken.
        allowed: &'static str,
    },
    /// The number is understood and is outside what can be computed.
    #[error("{shown} is outside {low} to {high}. {hint}")]
    OutOfRange {
        /// The value as understood.
        shown: String,
        /// The lowest value taken.
        low: String,
        /// The highest value taken.
        high: String,
        /// The way out.
        hint: String,
    },
}

/// Reads a temperature. A number without a unit is in `default`; a unit typed always wins.
///
/// Range is the caller's business: see [`QuantityError::OutOfRange`].
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of temperature.
///
/// ```
/// use hold_steady_core::units::{parse_temperature, TemperatureUnit};
/// let c = TemperatureUnit::C;
/// assert_eq!(parse_temperature("54,5 °C", c)?.value(), 54.5);
/// assert_eq!(parse_temperature("131f", c)?.value(), 55.0);
/// assert!(parse_temperature("32 mm", c).is_err());
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_temperature(text: &str, default: TemperatureUnit) -> Result<Celsius, QuantityError> {
    const WHAT: &str = "temperature";
    const EXAMPLE: &str = "55 °C or 131 °F";
    let (number, unit) = split(text, WHAT, EXAMPLE)?;
    let unit = match unit.trim_start_matches(['°', 'º']).trim() {
        "" => default,
        "c" | "celsius" | "deg c" | "degrees c" => TemperatureUnit::C,
        "f" | "fahrenheit" | "deg f" | "degrees f" => TemperatureUnit::F,
        other => {
            return Err(QuantityError::UnknownUnit {
                unit: other.to_owned(),
                what: WHAT,
                allowed: "°C or °F",
            });
        }
    };
    Ok(match unit {
        TemperatureUnit::C => Celsius::new(number),
        TemperatureUnit::F => Celsius::from_fahrenheit(number),
    })
}

/// Reads a length: millimetres, centimetres or inches, with decimals or fractions.
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of length.
///
/// ```
/// use hold_steady_core::units::{parse_length, LengthUnit};
/// let mm = LengthUnit::Mm;
/// assert_eq!(parse_length("1 1/4 in", mm)?.mm(), 31.75);
/// assert_eq!(parse_length("1¼\"", mm)?.mm(), 31.75);
/// assert_eq!(parse_length("3,2 cm", mm)?.mm(), 32.0);
/// assert_eq!(parse_length("32", mm)?.mm(), 32.0);
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_length(text: &str, default: LengthUnit) -> Result<Length, QuantityError> {
    const WHAT: &str = "thickness";
    const EXAMPLE: &str = "32 mm or 1 1/4 in";
    let (number, unit) = split(text, WHAT, EXAMPLE)?;
    Ok(match unit.as_str() {
        "" => match default {
            LengthUnit::Mm => Length::from_mm(number),
            LengthUnit::In => Length::from_inches(number),
        },
        "mm" | "millimetre" | "millimetres" | "millimeter" | "millimeters" => Length::from_mm(number),
        "cm" | "centimetre" | "centimetres" | "centimeter" | "centimeters" => Length::from_mm(number * 10.0),
        "in" | "inch" | "inches" | "\"" | "″" | "”" | "“" | "''" => Length::from_inches(number),
        other => {
            return Err(QuantityError::UnknownUnit {
                unit: other.to_owned(),
                what: "length",
                allowed: "mm, cm or in",
            });
        }
    })
}

/// Reads a number of seconds, as typed for a sear: `45`, `45 s`, `1 min`.
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of time.
///
/// ```
/// use hold_steady_core::units::parse_seconds;
/// assert_eq!(parse_seconds("1.5 min")?, 90.0);
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_seconds(text: &str) -> Result<f64, QuantityError> {
    const WHAT: &str = "number of seconds";
    let (number, unit) = split(text, WHAT, "45")?;
    match unit.as_str() {
        "" | "s" | "sec" | "secs" | "second" | "seconds" => Ok(number),
        "m" | "min" | "mins" | "minute" | "minutes" => Ok(number * 60.0),
        other => {
            Err(QuantityError::UnknownUnit { unit: other.to_owned(), what: "time", allowed: "s or min" })
        }
    }
}

/// Splits text into a number and a lower-case unit.
fn split(text: &str, what: &'static str, example: &'static str) -> Result<(f64, String), QuantityError> {
    let text = text.trim();
    if text.is_empty() {
        return Err(QuantityError::Empty { what, example });
    }
    let not_a_number = || QuantityError::NotANumber { text: text.chars().take(40).collect(), what, example };
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
fn spread_fractions(text: &str) -> String {
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
fn mixed_number(text: &str) -> Option<f64> {
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

fn fraction(text: &str) -> Option<f64> {
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

#[cfg(test)]
mod tests {
    use super::*;

    fn mm(text: &str) -> Result<f64, QuantityError> {
        parse_length(text, LengthUnit::Mm).map(Length::mm)
    }

    #[test]
    fn lengths_as_cooks_write_them() {
        for (text, want) in [
            ("32mm", 32.0),
            (" 32 MM ", 32.0),
            ("1 1/4 in", 31.75),
            ("1-1/4 in.", 31.75),
            ("1¼ inch", 31.75),
            ("¾\"", 19.05),
            ("1½”", 38.1),
            ("5/4in", 31.75),
            ("1.25 in", 31.75),
            ("3.2 cm", 32.0),
            ("32,5", 32.5),
        ] {
            assert_eq!(mm(text), Ok(want), "{text}");
        }
    }

    #[test]
    fn rubbish_is_named_and_never_guessed_at() {
        assert!(matches!(mm(""), Err(QuantityError::Empty { .. })));
        for text in ["thick", "1 2 3", "1/0 in", "--3", "1,000.5", "in", "½/½", "NaN", "inf"] {
            assert!(matches!(mm(text), Err(QuantityError::NotANumber { .. })), "{text}");
        }
        assert!(matches!(mm("32 kg"), Err(QuantityError::UnknownUnit { .. })));
        assert!(matches!(mm("55 °C"), Err(QuantityError::UnknownUnit { .. })));
    }

    #[test]
    fn a_typed_unit_wins_over_the_reader_s_own() {
        assert_eq!(parse_length("25mm", LengthUnit::In).map(Length::mm), Ok(25.0));
        assert_eq!(parse_length("1", LengthUnit::In).map(Length::mm), Ok(25.4));
        let f = TemperatureUnit::F;
        assert_eq!(parse_temperature("55c", f).map(Celsius::value), Ok(55.0));
        assert_eq!(parse_temperature("131", f).map(Celsius::value), Ok(55.0));
        assert_eq!(parse_temperature("−18 °C", f).map(Celsius::value), Ok(-18.0));
    }
}
