//! Temperatures and lengths at the edges of the core, and the text cooks type for them.
//!
//! Inside the solver everything is SI and a bare `f64`; above it, quantities are the types here.

mod blanks;
mod number;
mod parse;
mod text;
mod wall;

pub(crate) use blanks::Blanks;
pub(crate) use number::{difference_k, number_and_unit};
pub use parse::{
    QuantityError, Thickness, meant_otherwise, parse_grams, parse_length, parse_litres, parse_millilitres,
    parse_minutes, parse_seconds, parse_temperature, parse_thickness,
};

pub use crate::heat::{Celsius, Ends, Grams, Kelvin, Length, Minutes};
pub use text::{capitalised, minutes, shortened, trimmed};
use text::{inches, split_number, whole_or_tenth};
pub use wall::{Hours, WallClock};

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// The scale a cook reads temperatures in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum TemperatureUnit {
    /// Degrees Celsius.
    #[default]
    C,
    /// Degrees Fahrenheit.
    F,
}

/// The scale a cook reads lengths in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum LengthUnit {
    /// Millimetres.
    #[default]
    Mm,
    /// Inches, shown to the nearest sixteenth when that is close enough.
    In,
}

/// The same text with no number parted from its unit at a line's end.
///
/// ```
/// use hold_steady_core::units::unbroken;
/// assert_eq!(unbroken("Strip steak, 30 mm, 57 °C"), "Strip steak, 30\u{a0}mm, 57\u{a0}°C");
/// assert_eq!(unbroken("2 minced"), "2 minced", "no unit");
/// ```
#[must_use]
pub fn unbroken(text: &str) -> String {
    const UNITS: [&str; 10] = ["°C", "°F", "mm", "cm", "in", "kg", "g", "l", "min", "h"];
    let words: Vec<&str> = text.split(' ').collect();
    let mut out = String::with_capacity(text.len() + 8);
    for (i, word) in words.iter().enumerate() {
        if i > 0 {
            let unit = word.trim_end_matches([',', ';', '.', ':', ')']);
            let after_number = words[i - 1].ends_with(|c: char| c.is_ascii_digit());
            out.push(if after_number && UNITS.contains(&unit) { '\u{a0}' } else { ' ' });
        }
        out.push_str(word);
    }
    out
}

/// How one reader wants quantities shown. Numbers typed without a unit are read in these, too.
///
/// ```
/// use hold_steady_core::units::{Celsius, Length, LengthUnit, TemperatureUnit, Units};
/// let metric = Units::default();
/// let kitchen = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
/// assert_eq!(metric.temperature(Celsius::new(54.5)), "54.5 °C");
/// assert_eq!(kitchen.temperature(Celsius::new(55.0)), "131 °F");
/// assert_eq!(kitchen.length(Length::from_mm(31.75)), "1 1/4 in");
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Units {
    /// Scale for temperatures.
    pub temperature: TemperatureUnit,
    /// Scale for lengths.
    pub length: LengthUnit,
}

impl Units {
    /// A short code for a cookie or a form: `c-mm`, `f-in` …
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!((metric.code(), american.code()), ("c-mm", "f-in"));
    /// ```
    #[must_use]
    pub const fn code(self) -> &'static str {
        match (self.temperature, self.length) {
            (TemperatureUnit::C, LengthUnit::Mm) => "c-mm",
            (TemperatureUnit::C, LengthUnit::In) => "c-in",
            (TemperatureUnit::F, LengthUnit::Mm) => "f-mm",
            (TemperatureUnit::F, LengthUnit::In) => "f-in",
        }
    }

    /// Reads [`Units::code`] back; `None` for anything else.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!(Units::from_code("f-in"), Some(american));
    /// assert_eq!((Units::from_code("k-ft"), Units::from_code("c-mm")), (None, Some(metric)));
    /// ```
    #[must_use]
    pub fn from_code(code: &str) -> Option<Self> {
        use {LengthUnit as L, TemperatureUnit as T};
        [(T::C, L::Mm), (T::C, L::In), (T::F, L::Mm), (T::F, L::In)]
            .map(|(temperature, length)| Self { temperature, length })
            .into_iter()
            .find(|u| u.code() == code)
    }

    /// A temperature with its unit as a cook reads it: to a tenth of a degree Celsius without a trailing zero, in whole
    /// degrees Fahrenheit.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// let c = Celsius::new(55.0);
    /// assert_eq!((metric.temperature(c), american.temperature(c)), ("55 °C".into(), "131 °F".into()));
    /// ```
    #[must_use]
    pub fn temperature(self, t: Celsius) -> String {
        match self.temperature {
            TemperatureUnit::C => format!("{} °C", trimmed(t.value(), 1)),
            TemperatureUnit::F => format!("{} °F", trimmed(t.fahrenheit(), 0)),
        }
    }

    /// The same where a tenth of a degree Fahrenheit counts too: what somebody typed, a rule's own figure.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!(american.temperature_exact(Celsius::new(56.2)), "133.2 °F");
    /// ```
    #[must_use]
    pub fn temperature_exact(self, t: Celsius) -> String {
        match self.temperature {
            TemperatureUnit::C => self.temperature(t),
            TemperatureUnit::F => format!("{} °F", whole_or_tenth(t.fahrenheit())),
        }
    }

    /// A temperature that is to be reached at least: whole degrees Fahrenheit are rounded up.
    ///
    /// ```
    /// use hold_steady_core::units::{Celsius, Units};
    /// assert_eq!(Units::default().temperature_at_least(Celsius::new(55.0)), "55 °C");
    /// ```
    #[must_use]
    pub fn temperature_at_least(self, t: Celsius) -> String {
        const DUST: f64 = 1e-6;
        match self.temperature {
            TemperatureUnit::C => self.temperature(t),
            TemperatureUnit::F => format!("{} °F", trimmed((t.fahrenheit() - DUST).ceil(), 0)),
        }
    }

    /// The nearest temperature a cook of this kitchen would set: whole degrees Fahrenheit, as they are in Celsius.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!(american.temperature(american.settable(Celsius::new(56.0))), "133 °F");
    /// assert_eq!(Units::default().settable(Celsius::new(56.2)), Celsius::new(56.2));
    /// ```
    #[must_use]
    pub fn settable(self, t: Celsius) -> Celsius {
        match self.temperature {
            TemperatureUnit::C => t,
            TemperatureUnit::F => Celsius::from_fahrenheit(t.fahrenheit().round()),
        }
    }

    /// What a thickness is measured to at a board: a millimetre, an eighth of an inch.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::units::Units::default().length_step().mm(), 1.0);
    /// ```
    #[must_use]
    pub fn length_step(self) -> Length {
        match self.length {
            LengthUnit::Mm => Length::from_mm(1.0),
            LengthUnit::In => Length::from_inches(0.125),
        }
    }

    /// A temperature with its unit, so that a running value does not jump: always with the tenth in Celsius, whole in Fahrenheit.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// let c = Celsius::new(55.0);
    /// assert_eq!((metric.temperature_fixed(c), american.temperature_fixed(c)), ("55.0 °C".into(), "131 °F".into()));
    /// ```
    #[must_use]
    pub fn temperature_fixed(self, t: Celsius) -> String {
        match self.temperature {
            TemperatureUnit::C => format!("{:.1} °C", t.value()),
            TemperatureUnit::F => format!("{:.0} °F", t.fahrenheit()),
        }
    }

    /// A difference of temperatures, in kelvin, shown in the reader's degrees.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// let k = Kelvin::new(0.5);
    /// assert_eq!((metric.temperature_difference(k), american.temperature_difference(k)), ("0.5 °C".into(), "0.9 °F".into()));
    /// ```
    #[must_use]
    pub fn temperature_difference(self, by: Kelvin) -> String {
        match self.temperature {
            TemperatureUnit::C => format!("{} °C", trimmed(by.value(), 1)),
            TemperatureUnit::F => format!("{} °F", trimmed(by.value() * 1.8, 1)),
        }
    }

    /// The same, to a hundredth: for figures that are quoted.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!(metric.temperature_difference_fine(Kelvin::new(6.45)), "6.45 °C");
    /// assert_eq!(american.temperature_difference_fine(Kelvin::new(6.45)), "11.61 °F");
    /// ```
    #[must_use]
    pub fn temperature_difference_fine(self, by: Kelvin) -> String {
        match self.temperature {
            TemperatureUnit::C => format!("{} °C", trimmed(by.value(), 2)),
            TemperatureUnit::F => format!("{} °F", trimmed(by.value() * 1.8, 2)),
        }
    }

    /// How high a place lies, in whole metres or feet.
    ///
    /// ```
    /// use hold_steady_core::units::Units;
    /// let american = Units::from_code("f-in").expect("a code");
    /// assert_eq!((Units::default().height(250.0), american.height(250.0)), ("250 m".into(), "820 ft".into()));
    /// ```
    #[must_use]
    pub fn height(self, m: f64) -> String {
        match self.length {
            LengthUnit::Mm => format!("{} m", trimmed(m, 0)),
            LengthUnit::In => format!("{} ft", trimmed(m / M_PER_FT, 0)),
        }
    }

    /// A length with its unit: whole millimetres, or inches and sixteenths; what is small to a tenth or hundredth.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// let l = Length::from_mm(31.75);
    /// assert_eq!((metric.length(l), american.length(l)), ("32 mm".into(), "1 1/4 in".into()));
    /// ```
    #[must_use]
    pub fn length(self, l: Length) -> String {
        match self.length {
            LengthUnit::Mm if l.mm().abs() >= WHOLE_FROM_MM => format!("{} mm", trimmed(l.mm(), 0)),
            LengthUnit::Mm => format!("{} mm", trimmed(l.mm(), 1)),
            LengthUnit::In => format!("{} in", inches(l.inches())),
        }
    }

    /// A length that must not be more: never rounded up.
    ///
    /// ```
    /// use hold_steady_core::units::{Length, Units};
    /// assert_eq!(Units::default().length_at_most(Length::from_mm(25.0)), "25 mm");
    /// ```
    #[must_use]
    pub fn length_at_most(self, l: Length) -> String {
        const DUST: f64 = 1e-9;
        match self.length {
            LengthUnit::Mm => format!("{} mm", trimmed((l.mm() * 10.0 + DUST).floor() / 10.0, 1)),
            LengthUnit::In => format!("{} in", inches((l.inches() * 16.0 + DUST).floor() / 16.0)),
        }
    }

    /// The number alone in the reader's degrees, for an axis or a data attribute.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!((metric.degrees(Celsius::new(55.0)), american.degrees(Celsius::new(55.0))), (55.0, 131.0));
    /// ```
    #[must_use]
    pub fn degrees(self, t: Celsius) -> f64 {
        match self.temperature {
            TemperatureUnit::C => t.value(),
            TemperatureUnit::F => t.fahrenheit(),
        }
    }

    /// A sentence of the data, its temperatures (“82 °C”, “−20 °C”, “49–52 °C”) in the reader's degrees.
    ///
    /// ```
    /// use hold_steady_core::units::{LengthUnit, TemperatureUnit, Units};
    /// let f = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!(f.sentence("They need 85 °C."), "They need 185 °F.");
    /// assert_eq!(f.sentence("(−20 °C for 7 days)"), "(−4 °F for 7 days)");
    /// assert_eq!(f.sentence("rare 50–60 °C"), "rare 122–140 °F");
    /// // A difference is one: by so much, within so much, so much hotter.
    /// assert_eq!(f.sentence("they vary by some 15 °C; 1–3 °C hotter"), "they vary by some 27 °F; 2–5 °F hotter");
    /// ```
    #[must_use]
    pub fn sentence(self, text: &str) -> String {
        const MARK: &str = " °C";
        if self.temperature == TemperatureUnit::C {
            return text.to_owned();
        }
        const BEFORE: [&str; 4] = ["by ", "by some ", "by about ", "within "];
        const AFTER: [&str; 4] = [" hotter", " colder", " warmer", " cooler"];
        let exact = |c: f64| trimmed(self.degrees(Celsius::new(c)), 0).replace('-', "−");
        let difference = |k: f64| trimmed(k * 1.8, usize::from(k < 1.0));
        let mut out = String::with_capacity(text.len());
        let mut rest = text;
        while let Some(at) = rest.find(MARK) {
            let (before, number) = split_number(&rest[..at]);
            match number {
                Some(c) => {
                    // The lower end of a range carries no unit of its own.
                    let (start, low) = before.strip_suffix('–').map_or((before, None), split_number);
                    let after = &rest[at + MARK.len()..];
                    let differs = BEFORE.iter().any(|w| start.ends_with(w))
                        || AFTER.iter().any(|w| after.starts_with(w));
                    let degrees = |c: f64| if differs { difference(c) } else { exact(c) };
                    match low {
                        Some(low) => out.push_str(&format!("{start}{}–{} °F", degrees(low), degrees(c))),
                        None => out.push_str(&format!("{before}{} °F", degrees(c))),
                    }
                }
                None => out.push_str(&rest[..at + MARK.len()]),
            }
            rest = &rest[at + MARK.len()..];
        }
        out + rest
    }

    /// A volume with its unit.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!((metric.volume(120.0), american.volume(118.294)), ("120 ml".into(), "4 fl oz".into()));
    /// ```
    #[must_use]
    pub fn volume(self, ml: f64) -> String {
        match self.length {
            LengthUnit::Mm => format!("{} ml", trimmed(ml, 0)),
            LengthUnit::In => format!("{} fl oz", trimmed(ml / 29.5735, 1)),
        }
    }

    /// Water of a bath with its unit: litres, or quarts with inches.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!((Units::default().litres(11.26), american.litres(11.356_236)), ("11.3 l".into(), "12 qt".into()));
    /// ```
    #[must_use]
    pub fn litres(self, l: f64) -> String {
        self.litres_to(l, 1)
    }

    /// The same to so many decimals.
    pub(crate) fn litres_to(self, l: f64, places: usize) -> String {
        match self.length {
            LengthUnit::Mm => format!("{} l", trimmed(l, places)),
            LengthUnit::In => format!("{} qt", trimmed(l / L_PER_QUART, places)),
        }
    }

    /// What is poured: millilitres below a litre, litres above; cups' fluid ounces and quarts with inches.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// assert_eq!((Units::default().poured(0.296), Units::default().poured(1.24)), ("300 ml".into(), "1.2 l".into()));
    /// ```
    #[must_use]
    pub fn poured(self, l: f64) -> String {
        // Nobody pours to the millilitre.
        let ml = (l * 100.0).round() * 10.0;
        if ml < 1000.0 { self.volume(ml) } else { self.litres(l) }
    }

    /// Food in kilograms, or pounds with inches.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!((Units::default().kilograms(1.25), american.kilograms(1.25)), ("1.25 kg".into(), "2.76 lb".into()));
    /// ```
    #[must_use]
    pub fn kilograms(self, kg: f64) -> String {
        const KG_PER_LB: f64 = 0.453_592;
        match self.length {
            LengthUnit::Mm => format!("{} kg", trimmed(kg, 2)),
            LengthUnit::In => format!("{} lb", trimmed(kg / KG_PER_LB, 2)),
        }
    }

    /// A weight with its unit: to a tenth of a gram below ten, to the gram above; ounces with inches.
    #[must_use]
    pub(crate) fn weight(self, g: Grams) -> String {
        match self.length {
            LengthUnit::Mm if g.abs() < Grams::new(10.0) => format!("{} g", trimmed(g.value(), 1)),
            LengthUnit::Mm => format!("{} g", trimmed(g.value(), 0)),
            LengthUnit::In => format!("{} oz", trimmed((g / 28.349_5).value(), 2)),
        }
    }

    /// `°C` or `°F`.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!((metric.temperature_symbol(), american.temperature_symbol()), ("°C", "°F"));
    /// ```
    #[must_use]
    pub const fn temperature_symbol(self) -> &'static str {
        match self.temperature {
            TemperatureUnit::C => "°C",
            TemperatureUnit::F => "°F",
        }
    }

    /// `mm` or `in`.
    ///
    /// ```
    /// use hold_steady_core::units::*;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// let metric = Units::default();
    /// assert_eq!((metric.length_symbol(), american.length_symbol()), ("mm", "in"));
    /// ```
    #[must_use]
    pub const fn length_symbol(self) -> &'static str {
        match self.length {
            LengthUnit::Mm => "mm",
            LengthUnit::In => "in",
        }
    }
}

/// The instant so much after another, to the second.
///
/// ```
/// use hold_steady_core::units::{Minutes, moved};
/// let noon: jiff::Timestamp = "2026-11-25T12:00:00Z".parse()?;
/// assert_eq!(moved(noon, Minutes::new(-90.0)).to_string(), "2026-11-25T10:30:00Z");
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn moved(t: Timestamp, by: Minutes) -> Timestamp {
    t.checked_add(SignedDuration::from_secs(by.seconds().round() as i64)).unwrap_or(t)
}

/// Lengths from here on are shown in whole millimetres.
const WHOLE_FROM_MM: f64 = 10.0;
const L_PER_QUART: f64 = 0.946_353;
pub(crate) const M_PER_FT: f64 = 0.3048;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn inches_are_shown_the_way_a_ruler_reads() {
        assert_eq!(inches(1.25), "1 1/4");
        assert_eq!(inches(0.75), "3/4");
        assert_eq!(inches(2.0), "2");
        assert_eq!(inches(25.0 / 25.4), "1");
        assert_eq!(inches(32.0 / 25.4), "1 1/4");
        assert_eq!(
            (inches(2.0 / 25.4), inches(0.2451), inches(0.24)),
            ("0.08".into(), "1/4".into(), "0.24".into())
        );
    }

    #[test]
    fn what_is_offered_for_safety_is_never_rounded_to_the_unsafe_side() {
        let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let c = |c: f64| american.temperature_at_least(Celsius::new(c));
        assert_eq!((c(56.3), c(55.0), c(54.4)), ("134 °F".into(), "131 °F".into(), "130 °F".into()));
        let thin = |units: Units, mm: f64| units.length_at_most(Length::from_mm(mm));
        assert_eq!(thin(Units::default(), 23.5), "23.5 mm");
        assert_eq!((thin(american, 23.5), thin(american, 25.4)), ("7/8 in".into(), "1 in".into()));
    }

    #[test]
    fn negative_zero_never_reaches_a_reader() {
        assert_eq!(trimmed(-0.04, 1), "0");
        assert_eq!(trimmed(-1.70, 2), "-1.7");
        assert_eq!(trimmed(100.0, 0), "100");
    }
}
