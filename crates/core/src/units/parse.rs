//! Reading what a cook types: `1 1/4 in`, `32mm`, `1¼"`, `130f`, `54,5 °C`.

use super::{Celsius, Grams, Length, LengthUnit, Minutes, TemperatureUnit, shortened};
use crate::units::number::{mixed_number, split, spread_fractions};

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
    /// A number without the unit that would decide what it means.
    #[error("{number} of what? Type {number} min or {number} h.")]
    WithoutUnit {
        /// The number typed.
        number: String,
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

/// What a bare number outside a range may have been meant as: the same number in the other unit, where that lies within.
///
/// ```
/// use hold_steady_core::units::{meant_otherwise, Celsius, TemperatureUnit};
/// let range = (Celsius::new(0.0), Celsius::new(100.0));
/// assert_eq!(meant_otherwise("131", TemperatureUnit::C, range).as_deref(), Some("131 °F"));
/// assert_eq!(meant_otherwise("131 °C", TemperatureUnit::C, range), None, "a unit was typed");
/// assert_eq!(meant_otherwise("55", TemperatureUnit::C, range), None, "it is within as it stands");
/// ```
#[must_use]
pub fn meant_otherwise(
    text: &str,
    default: TemperatureUnit,
    (low, high): (Celsius, Celsius),
) -> Option<String> {
    let (number, unit) = split(text, "temperature", "").ok()?;
    let other = match default {
        TemperatureUnit::C => TemperatureUnit::F,
        TemperatureUnit::F => TemperatureUnit::C,
    };
    let within = |unit| {
        let c = match unit {
            TemperatureUnit::C => Celsius::new(number),
            TemperatureUnit::F => Celsius::from_fahrenheit(number),
        };
        (low..=high).contains(&c)
    };
    let symbol = if other == TemperatureUnit::C { "°C" } else { "°F" };
    (unit.is_empty() && !within(default) && within(other)).then(|| format!("{} {symbol}", text.trim()))
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

/// Reads a number of seconds, as typed for a sear: `45`, `45 s`, `1 min`; a rest or a pause may be in hours.
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of time.
///
/// ```
/// use hold_steady_core::units::parse_seconds;
/// assert_eq!((parse_seconds("1.5 min")?, parse_seconds("2 h")?), (90.0, 7200.0));
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_seconds(text: &str) -> Result<f64, QuantityError> {
    const WHAT: &str = "number of seconds";
    let (number, unit) = split(text, WHAT, "45")?;
    match unit.as_str() {
        "" | "s" | "sec" | "secs" | "second" | "seconds" => Ok(number),
        "m" | "min" | "mins" | "minute" | "minutes" => Ok(number * 60.0),
        "h" | "hour" | "hours" => Ok(number * 3600.0),
        other => {
            Err(QuantityError::UnknownUnit { unit: other.to_owned(), what: "time", allowed: "s, min or h" })
        }
    }
}

/// A thickness as cooks give it: one figure, two ends of an uneven piece, sure or not.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Thickness {
    /// Where it is thinnest; the same as `thick` for an even piece.
    pub thin: Length,
    /// Where it is thickest.
    pub thick: Length,
    /// Given as “about”.
    pub unsure: bool,
}

impl Thickness {
    /// As a cook gives it, its lengths as `length` writes them.
    pub(crate) fn written(self, length: &dyn Fn(Length) -> String) -> String {
        let about = if self.unsure { "about " } else { "" };
        let thin = if self.thin < self.thick { format!("{} to ", length(self.thin)) } else { String::new() };
        format!("{about}{thin}{}", length(self.thick))
    }
}

/// Reads a thickness: `32 mm`, `about 1 1/4 in`, `25 to 32 mm`, `25-32mm`.
///
/// # Errors
/// As [`parse_length`], for either end.
///
/// ```
/// use hold_steady_core::units::{parse_thickness, LengthUnit};
/// let t = parse_thickness("about 25 to 32 mm", LengthUnit::Mm)?;
/// assert_eq!((t.thin.mm(), t.thick.mm(), t.unsure), (25.0, 32.0, true));
/// // A hyphen before a fraction joins a mixed number.
/// assert_eq!(parse_thickness("1-1/4 in", LengthUnit::Mm)?.thin.mm(), 31.75);
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_thickness(text: &str, default: LengthUnit) -> Result<Thickness, QuantityError> {
    const ABOUT: [&str; 10] =
        ["about", "approximately", "approx.", "approx", "roughly", "around", "ca.", "ca", "~", "≈"];
    const OR_SO: [&str; 3] = ["or so", "ish", "?"];
    let lower = text.trim().to_lowercase();
    let mut rest = lower.as_str();
    let mut unsure = false;
    for word in ABOUT {
        if let Some(r) = rest.strip_prefix(word) {
            (rest, unsure) = (r.trim_start(), true);
            break;
        }
    }
    for word in OR_SO {
        if let Some(r) = rest.strip_suffix(word) {
            (rest, unsure) = (r.trim_end_matches([' ', '-']), true);
            break;
        }
    }
    let Some((left, right)) = two_ends(rest) else {
        let length = parse_length(if unsure { rest } else { text }, default)?;
        return Ok(Thickness { thin: length, thick: length, unsure });
    };
    let b = parse_length(right, default)?;
    // “25 to 32 mm”: the first figure is in the unit of the second.
    let unit = right.trim_start_matches(|c: char| !c.is_alphabetic() && !"\"″”“'".contains(c));
    let bare = !left.contains(|c: char| c.is_alphabetic() || "\"″”“'".contains(c));
    let a = parse_length(&if bare { format!("{left} {unit}") } else { left.to_owned() }, default)?;
    let (thin, thick) = if a <= b { (a, b) } else { (b, a) };
    Ok(Thickness { thin, thick, unsure })
}

/// The two ends of a range, where the text is one.
fn two_ends(text: &str) -> Option<(&str, &str)> {
    for separator in [" to ", "–", "—", "..", " - "] {
        if let Some((a, b)) = text.split_once(separator) {
            return Some((a.trim(), b.trim()));
        }
    }
    let (a, b) = text.split_once('-')?;
    let fraction = b.split_once('/').is_some_and(|(top, _)| top.bytes().all(|c| c.is_ascii_digit()));
    (!fraction && !a.trim().is_empty() && b.starts_with(|c: char| c.is_ascii_digit()))
        .then_some((a.trim(), b.trim()))
}

/// Reads a time in the bath, minutes: `2 h 13 min`, `2h 13`, `90 min`, `1.5 h`, `1:30`, `2 days`.
///
/// # Errors
/// When the text is empty, is no number, or leaves open whether hours or minutes are meant.
///
/// ```
/// use hold_steady_core::units::parse_minutes;
/// assert_eq!(parse_minutes("2 h 13 min")?.value(), 133.0);
/// assert_eq!(parse_minutes("1:30")?, parse_minutes("1.5 h")?);
/// assert!(parse_minutes("24").is_err(), "hours or minutes?");
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_minutes(text: &str) -> Result<Minutes, QuantityError> {
    const WHAT: &str = "time";
    const EXAMPLE: &str = "2 h, 90 min or 1 h 30 min";
    let lower = text.trim().to_lowercase();
    let wrong = || QuantityError::NotANumber { text: shortened(text.trim()), what: WHAT, example: EXAMPLE };
    if lower.is_empty() {
        return Err(QuantityError::Empty { what: WHAT, example: EXAMPLE });
    }
    if let Some((h, m)) = lower.split_once(':') {
        let digits =
            |s: &str| (!s.is_empty() && s.bytes().all(|b| b.is_ascii_digit())).then(|| s.parse().ok())?;
        let (h, m): (f64, f64) = (digits(h).ok_or_else(wrong)?, digits(m).ok_or_else(wrong)?);
        return if m < 60.0 { Ok(Minutes::new(h * 60.0 + m)) } else { Err(wrong()) };
    }
    let (mut total, mut rest) = (0.0, lower.as_str());
    let (mut parts, mut hours) = (0, false);
    while !rest.is_empty() {
        let unit_at = rest.find(char::is_alphabetic).unwrap_or(rest.len());
        let (number, after) = rest.split_at(unit_at);
        let next = after.find(|c: char| !c.is_alphabetic()).unwrap_or(after.len());
        let (unit, after) = after.split_at(next);
        let number = mixed_number(spread_fractions(number).trim()).ok_or_else(wrong)?;
        total += number
            * match unit {
                "min" | "mins" | "minute" | "minutes" | "m" => 1.0,
                "h" | "hr" | "hrs" | "hour" | "hours" => 60.0,
                "d" | "day" | "days" => 1440.0,
                // What follows hours without a unit can only be minutes.
                "" if hours && number < 60.0 => 1.0,
                "" if parts == 0 => {
                    return Err(QuantityError::WithoutUnit { number: lower.chars().take(12).collect() });
                }
                other => {
                    return Err(QuantityError::UnknownUnit {
                        unit: other.chars().take(24).collect(),
                        what: WHAT,
                        allowed: "min, h or days",
                    });
                }
            };
        parts += 1;
        hours = unit.starts_with('h');
        rest = after.trim_start_matches([' ', ',', '.']);
    }
    if total.is_finite() { Ok(Minutes::new(total)) } else { Err(wrong()) }
}

/// Reads a volume, ml: `120 ml`, `1.2 dl`, `0.5 l`, `4 fl oz`.
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of volume.
///
/// ```
/// use hold_steady_core::units::parse_millilitres;
/// assert_eq!(parse_millilitres("1.2 dl")?, 120.0);
/// assert!(parse_millilitres("a cup").is_err());
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_millilitres(text: &str) -> Result<f64, QuantityError> {
    const WHAT: &str = "volume";
    let (number, unit) = split(text, WHAT, "120 ml or 4 fl oz")?;
    match unit.as_str() {
        "" | "ml" | "g" | "millilitres" | "milliliters" => Ok(number),
        "cl" => Ok(number * 10.0),
        "dl" => Ok(number * 100.0),
        "l" | "litre" | "liter" | "litres" | "liters" => Ok(number * 1000.0),
        "oz" | "fl oz" | "floz" => Ok(number * 29.5735),
        other => Err(QuantityError::UnknownUnit {
            unit: other.to_owned(),
            what: WHAT,
            allowed: "ml, cl, dl, l or fl oz",
        }),
    }
}

/// Reads the water of a bath, l: `12 l`, `800 ml`, `12 qt`, `3 gal`. A bare number is in litres, or in quarts where
/// lengths are in inches.
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of volume.
///
/// ```
/// use hold_steady_core::units::{LengthUnit, parse_litres};
/// assert_eq!((parse_litres("12", LengthUnit::Mm)?, parse_litres("800 ml", LengthUnit::In)?), (12.0, 0.8));
/// assert!((parse_litres("3 gal", LengthUnit::Mm)? - 11.356).abs() < 0.001);
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_litres(text: &str, default: LengthUnit) -> Result<f64, QuantityError> {
    const WHAT: &str = "volume";
    const L_PER_QUART: f64 = 0.946_353;
    let (number, unit) = split(text, WHAT, "12 l or 12 qt")?;
    let of_unit = match (unit.as_str(), default) {
        ("l" | "litre" | "liter" | "litres" | "liters", _) | ("", LengthUnit::Mm) => 1.0,
        ("qt" | "quart" | "quarts", _) | ("", LengthUnit::In) => L_PER_QUART,
        ("gal" | "gallon" | "gallons", _) => 4.0 * L_PER_QUART,
        ("ml" | "millilitres" | "milliliters", _) => 0.001,
        ("oz" | "fl oz" | "floz", _) => 0.029_573_5,
        (other, _) => {
            return Err(QuantityError::UnknownUnit {
                unit: other.to_owned(),
                what: WHAT,
                allowed: "l, ml, qt, gal or fl oz",
            });
        }
    };
    Ok(number * of_unit)
}

/// Reads a weight, g: `350 g`, `1.2 kg`, `12 oz`, `1 1/2 lb`. A bare number is in grams.
///
/// # Errors
/// When the text is empty, is no number, or carries a unit that is not of weight.
///
/// ```
/// use hold_steady_core::units::parse_grams;
/// assert_eq!(parse_grams("1.2 kg")?.value(), 1200.0);
/// assert!((parse_grams("1 1/2 lb")?.value() - 680.4).abs() < 0.1);
/// assert!(parse_grams("a handful").is_err());
/// # Ok::<(), hold_steady_core::units::QuantityError>(())
/// ```
pub fn parse_grams(text: &str) -> Result<Grams, QuantityError> {
    const WHAT: &str = "weight";
    let (number, unit) = split(text, WHAT, "350 g or 12 oz")?;
    let of_unit = match unit.as_str() {
        "" | "g" | "gram" | "grams" | "gr" => 1.0,
        "kg" | "kilo" | "kilos" => 1000.0,
        "oz" | "ounce" | "ounces" => 28.349_5,
        "lb" | "lbs" | "pound" | "pounds" => 453.592,
        other => {
            return Err(QuantityError::UnknownUnit {
                unit: other.to_owned(),
                what: WHAT,
                allowed: "g, kg, oz or lb",
            });
        }
    };
    Ok(Grams::new(number * of_unit))
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
    fn thick_thin_and_unsure() {
        let t =
            |text: &str| parse_thickness(text, LengthUnit::Mm).map(|t| (t.thin.mm(), t.thick.mm(), t.unsure));
        for text in
            ["about 1 1/4 in", "~1¼\"", "ca. 31.75 mm", "1 1/4 in or so", "roughly 1.25 inches", "31.75mm?"]
        {
            assert_eq!(t(text), Ok((31.75, 31.75, true)), "{text}");
        }
        for text in ["25 to 32 mm", "25-32mm", "32 – 25 mm", "2.5 cm to 32 mm", "25..32"] {
            assert_eq!(t(text), Ok((25.0, 32.0, false)), "{text}");
        }
        assert_eq!(t("1 to 1 1/4 in"), Ok((25.4, 31.75, false)));
        assert_eq!(t("1-1 1/4 in"), Ok((25.4, 31.75, false)));
        assert_eq!(t("1-1/4 in"), Ok((31.75, 31.75, false)));
        for text in ["about", "25 to thick", "to 32", "-", "25 to 30 to 35 mm"] {
            assert!(t(text).is_err(), "{text}");
        }
    }

    #[test]
    fn times_in_the_bath_say_their_unit() {
        for (text, want) in [
            ("90 min", 90.0),
            ("1.5 h", 90.0),
            ("1½ h", 90.0),
            ("1 h 30 min", 90.0),
            ("1h30m", 90.0),
            ("1:30", 90.0),
            ("2 days", 2880.0),
            ("24 hours", 1440.0),
            ("1 h, 5 min", 65.0),
        ] {
            assert_eq!(parse_minutes(text), Ok(Minutes::new(want)), "{text}");
        }
        assert!(matches!(parse_minutes("24"), Err(QuantityError::WithoutUnit { .. })));
        assert!(matches!(parse_minutes("3 weeks"), Err(QuantityError::UnknownUnit { .. })));
        for text in ["1:75", "long", "h", ":", "1 h min", "9".repeat(400).as_str()] {
            assert!(parse_minutes(text).is_err(), "{text}");
        }
    }

    #[test]
    fn volumes() {
        assert_eq!(parse_millilitres("1.2 dl"), Ok(120.0));
        assert_eq!(parse_millilitres("120"), Ok(120.0));
        assert!(parse_millilitres("4 fl oz").is_ok_and(|ml| (ml - 118.3).abs() < 0.1));
        assert!(parse_millilitres("a cup").is_err());
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
