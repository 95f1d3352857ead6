//! What only the finish asks for: seconds, other sizes, guests, one of what is shipped.

use crate::food::Food;
use crate::units::{Blanks, Celsius, Length, parse_seconds, parse_temperature, shortened};

/// Seconds as they are typed: minutes from two on.
pub(crate) fn seconds(s: f64) -> String {
    if s >= 120.0 { format!("{} min", crate::units::trimmed(s / 60.0, 1)) } else { format!("{s:.0} s") }
}

impl Blanks {
    pub(super) fn seconds(
        &mut self,
        field: &'static str,
        text: &mut String,
        usual: f64,
        (low, high): (f64, f64),
    ) -> f64 {
        if text.trim().is_empty() {
            *text = seconds(usual);
            return usual;
        }
        let Some(s) = parse_seconds(text).ok().filter(|s| (low..=high).contains(s)) else {
            self.out_of(field, text, "a time", (seconds(low), seconds(high)));
            return usual;
        };
        s
    }

    /// `25 mm, 50 mm`: how thick the others are; written again in the reader's units.
    pub(super) fn sizes(&mut self, text: &mut String) -> Vec<Length> {
        const MOST: usize = 5;
        // A comma with digits on both sides is a decimal one.
        let at = |i: Option<usize>| i.and_then(|i| text.as_bytes().get(i)).is_some_and(u8::is_ascii_digit);
        let parts = |(i, c): (usize, char)| match c {
            ',' if at(i.checked_sub(1)) && at(Some(i + 1)) => c,
            ',' | '\n' => ';',
            c => c,
        };
        let marked: String = text.char_indices().map(parts).collect::<String>().replace(" and ", ";");
        let mut all = Vec::new();
        for part in marked.split(';').map(str::trim).filter(|p| !p.is_empty()) {
            let mut one = part.to_owned();
            let range = (Length::from_mm(5.0), Length::from_mm(120.0));
            all.push(self.length("sizes", &mut one, range.0, range));
        }
        if all.len() > MOST {
            self.errors.insert(
                "sizes",
                format!("{} other pieces are more than the {MOST} that are worked out at once.", all.len()),
            );
        }
        if !self.errors.contains_key("sizes") {
            *text = all.iter().map(|l| self.units.length(*l)).collect::<Vec<_>>().join(", ");
        }
        all
    }

    /// `Ana rare, Ben 60 °C`: who, and how done by a name of this food's or a temperature.
    pub(super) fn guests(&mut self, text: &str, food: &Food) -> Vec<(String, Celsius)> {
        const MOST: usize = 8;
        let mut all = Vec::new();
        let parts = text.split([',', ';', '\n']).map(str::trim).filter(|p| !p.is_empty());
        for part in parts {
            let lower = part.to_lowercase();
            // The longest name that ends it: “medium” is the end of no “medium-rare”.
            let named = food.doneness.iter().filter(|d| lower.ends_with(&d.name.to_lowercase()));
            let named = named.max_by_key(|d| d.name.len()).map(|d| (d.name.len(), d.c));
            let typed = part.char_indices().find(|(_, c)| c.is_ascii_digit()).and_then(|(i, _)| {
                let c = parse_temperature(&part[i..], self.typed_in.temperature).ok()?;
                let fits = (Celsius::new(35.0)..=Celsius::new(95.0)).contains(&c);
                fits.then_some((part.len() - i, c))
            });
            let Some((len, c)) = named.or(typed) else {
                let names: Vec<&str> = food.doneness.iter().map(|d| d.name.as_str()).collect();
                let shown = shortened(part);
                self.errors.insert(
                    "guests",
                    format!("“{shown}” does not end with how done: {}, or a temperature.", names.join(", ")),
                );
                return Vec::new();
            };
            let name = part.get(..part.len() - len).unwrap_or_default().trim();
            all.push((if name.is_empty() { "one".into() } else { name.into() }, c));
        }
        if all.len() > MOST {
            self.errors.insert(
                "guests",
                format!("{} guests are more than the {MOST} that are worked out at once.", all.len()),
            );
        }
        all
    }

    pub(super) fn one_of<T>(
        &mut self,
        field: &'static str,
        text: &mut String,
        all: &'static [T],
        usual: &str,
        id: fn(&T) -> &String,
    ) -> &'static T {
        if text.is_empty() {
            usual.clone_into(text);
        }
        let found = all.iter().find(|t| id(t) == text);
        if found.is_none() {
            let shown = shortened(text);
            let known: Vec<&str> = all.iter().map(|t| id(t).as_str()).collect();
            self.errors.insert(field, format!("“{shown}” is none of: {}.", known.join(", ")));
        }
        found.unwrap_or(&all[0])
    }
}
