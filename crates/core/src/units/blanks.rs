//! Blanks of a sentence being read: what is usual stands in place of what is empty, in the reader's units; what cannot be
//! read stays as typed, and its fault is named beside it.

use std::collections::BTreeMap;

use super::number::parse_number;
use super::{
    Celsius, Kelvin, Length, Units, meant_otherwise, parse_length, parse_temperature, shortened, trimmed,
};

/// Fields being read.
pub(crate) struct Blanks {
    /// The reader's units.
    pub units: Units,
    /// What bare numbers were typed in.
    pub typed_in: Units,
    /// Faults by field.
    pub errors: BTreeMap<&'static str, String>,
}

impl Blanks {
    pub(crate) const fn new(units: Units, typed_in: Units) -> Self {
        Self { units, typed_in, errors: BTreeMap::new() }
    }

    /// A field is out of its range.
    pub(crate) fn out_of(
        &mut self,
        field: &'static str,
        text: &str,
        what: &str,
        (low, high): (String, String),
    ) {
        let shown = shortened(text.trim());
        self.errors.insert(field, format!("“{shown}” is not {what} from {low} to {high}."));
    }

    /// What was read, where it lies in its range; `shown` says the range in the reader's units.
    pub(crate) fn within<T: PartialOrd + Copy>(
        &mut self,
        field: &'static str,
        (text, what): (&str, &str),
        read: Option<T>,
        (low, high): (T, T),
        shown: impl Fn(T) -> String,
    ) -> Option<T> {
        let read = read.filter(|x| (low..=high).contains(x));
        if read.is_none() {
            self.out_of(field, text, what, (shown(low), shown(high)));
        }
        read
    }

    /// What to do about a field's fault, where it has one.
    pub(crate) fn way_out(&mut self, field: &str, text: &str) {
        if let Some(fault) = self.errors.get_mut(field) {
            *fault = format!("{fault} {text}");
        }
    }

    /// A temperature. Typed in the other unit it becomes one that can be set.
    pub(crate) fn degrees(
        &mut self,
        field: &'static str,
        text: &mut String,
        usual: Celsius,
        (low, high): (Celsius, Celsius),
    ) -> Celsius {
        if text.trim().is_empty() {
            *text = self.units.temperature(self.units.settable(usual));
            return usual;
        }
        let Some(c) = self.at(field, text, (low, high)) else {
            if let Some(meant) = meant_otherwise(text, self.typed_in.temperature, (low, high)) {
                self.errors.entry(field).and_modify(|e| *e += &format!(" Did you mean {meant}?"));
            }
            return usual;
        };
        if self.typed_in.temperature == self.units.temperature {
            return c;
        }
        let c = self.units.settable(c);
        *text = self.units.temperature(c);
        c
    }

    /// A thickness.
    pub(crate) fn length(
        &mut self,
        field: &'static str,
        text: &mut String,
        usual: Length,
        range: (Length, Length),
    ) -> Length {
        if text.trim().is_empty() {
            *text = self.units.length(usual);
            return usual;
        }
        let Some(l) = self.side(field, text, "a thickness", range) else { return usual };
        if self.typed_in.length != self.units.length {
            *text = self.units.length(l);
        }
        l
    }

    /// A difference of temperatures.
    pub(crate) fn difference(
        &mut self,
        field: &'static str,
        text: &mut String,
        (usual, what): (Kelvin, &str),
        (low, high): (Kelvin, Kelvin),
    ) -> Kelvin {
        if text.trim().is_empty() {
            *text = self.units.temperature_difference_fine(usual);
            return usual;
        }
        let Some(k) = self.a_difference(field, text, what, (low, high)) else { return usual };
        if self.typed_in.temperature != self.units.temperature {
            *text = self.units.temperature_difference_fine(k);
        }
        k
    }

    /// A difference of temperatures that must be there.
    pub(crate) fn a_difference(
        &mut self,
        field: &'static str,
        text: &str,
        what: &str,
        range: (Kelvin, Kelvin),
    ) -> Option<Kelvin> {
        let (units, read) = (self.units, super::difference_k(text, self.typed_in.temperature));
        self.within(field, (text, what), read, range, |k| units.temperature_difference_fine(k))
    }

    /// What must be chosen from a list; `what` says what of.
    pub(crate) fn chosen<T>(&mut self, field: &'static str, found: Option<T>, what: &str) -> Option<T> {
        if found.is_none() {
            self.errors.insert(field, format!("Choose {what}."));
        }
        found
    }

    /// A name of one line, its spaces single.
    pub(crate) fn name(&mut self, text: &str, whose: &str, most: usize) -> String {
        let name = text.split_whitespace().collect::<Vec<_>>().join(" ");
        if name.is_empty() || name.chars().count() > most || name.chars().any(char::is_control) {
            self.errors.insert("name", format!("{whose} name has 1 to {most} letters."));
        }
        name
    }

    /// A length that must be there.
    pub(crate) fn side(
        &mut self,
        field: &'static str,
        text: &str,
        what: &str,
        range: (Length, Length),
    ) -> Option<Length> {
        let (units, read) = (self.units, parse_length(text, self.typed_in.length).ok());
        self.within(field, (text, what), read, range, |l| units.length(l))
    }

    /// A temperature that must be there.
    pub(crate) fn at(
        &mut self,
        field: &'static str,
        text: &str,
        range: (Celsius, Celsius),
    ) -> Option<Celsius> {
        let (units, read) = (self.units, parse_temperature(text, self.typed_in.temperature).ok());
        self.within(field, (text, "a temperature"), read, range, |c| units.temperature(c))
    }

    /// A number of this unit, which may be left off.
    pub(crate) fn number(
        &mut self,
        field: &'static str,
        text: &str,
        (what, unit): (&str, &str),
        (low, high): (f64, f64),
    ) -> Option<f64> {
        let read = parse_number(text, unit).filter(|x| (low..=high).contains(x));
        if read.is_none() {
            let high = format!("{} {unit}", trimmed(high, 1)).trim_end().to_owned();
            self.out_of(field, text, what, (trimmed(low, 1), high));
        }
        read
    }

    /// A whole number.
    pub(crate) fn count(
        &mut self,
        field: &'static str,
        text: &mut String,
        usual: u32,
        (least, most): (u32, u32),
    ) -> u32 {
        if text.trim().is_empty() {
            *text = usual.to_string();
            return usual;
        }
        let Some(n) = text.trim().parse().ok().filter(|n| (least..=most).contains(n)) else {
            self.out_of(field, text, "a whole number", (least.to_string(), most.to_string()));
            return usual;
        };
        n
    }

    /// What was understood, where nothing is at fault.
    ///
    /// # Errors
    /// Every fault by its field.
    pub(crate) fn answered<T>(self, all: Option<T>) -> Result<T, BTreeMap<&'static str, String>> {
        all.filter(|_| self.errors.is_empty()).ok_or(self.errors)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_number_is_read_with_comma_fraction_and_unit_and_a_wrong_one_says_its_range_in_the_reader_s_units() {
        let inches = Units::from_code("f-in").expect("a code");
        let mut r = Blanks::new(inches, inches);
        let share = ("a share", "%");
        let read = ["12,5", "12 1/2 %", "12½", " 12.5% "].map(|t| r.number("share", t, share, (0.0, 60.0)));
        assert_eq!((read, r.errors.is_empty()), ([Some(12.5); 4], true));
        assert_eq!(r.number("share", "61 %", share, (0.0, 60.0)), None);
        assert_eq!(r.number("watts", "lots", ("a number", "W"), (50.0, 1e3)), None);
        assert_eq!(r.side("deep", "12 m", "a length", (Length::from_mm(25.4), Length::from_mm(254.0))), None);
        assert_eq!(r.at("hot", "60", (Celsius::new(40.0), Celsius::new(100.0))), None);
        let said = ["share", "watts", "deep", "hot"].map(|f| r.errors[f].as_str());
        assert_eq!(
            said,
            [
                "“61 %” is not a share from 0 to 60 %.",
                "“lots” is not a number from 50 to 1000 W.",
                "“12 m” is not a length from 1 in to 10 in.",
                "“60” is not a temperature from 104 °F to 212 °F.",
            ]
        );
        assert!(r.answered(Some(())).is_err_and(|errors| errors.len() == 4));
    }
}
