//! Blanks of a sentence being read: what is usual stands in place of what is empty, in the reader's units; what cannot be
//! read stays as typed, and its fault is named beside it.

use std::collections::BTreeMap;

use super::{Celsius, Kelvin, Length, Units, meant_otherwise, parse_length, parse_temperature, shortened};

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
        let read = parse_temperature(text, self.typed_in.temperature).ok();
        let Some(c) = read.filter(|c| (low..=high).contains(c)) else {
            let shown = (self.units.temperature(low), self.units.temperature(high));
            self.out_of(field, text, "a temperature", shown);
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
        (low, high): (Length, Length),
    ) -> Length {
        if text.trim().is_empty() {
            *text = self.units.length(usual);
            return usual;
        }
        let read = parse_length(text, self.typed_in.length).ok();
        let Some(l) = read.filter(|l| (low..=high).contains(l)) else {
            let shown = (self.units.length(low), self.units.length(high));
            self.out_of(field, text, "a thickness", shown);
            return usual;
        };
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
        let read = super::parse::difference_k(text, self.typed_in.temperature);
        let Some(k) = read.filter(|k| (low..=high).contains(k)) else {
            let shown =
                (self.units.temperature_difference_fine(low), self.units.temperature_difference_fine(high));
            self.out_of(field, text, what, shown);
            return usual;
        };
        if self.typed_in.temperature != self.units.temperature {
            *text = self.units.temperature_difference_fine(k);
        }
        k
    }
}
