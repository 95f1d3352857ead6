//! Taking a request apart, field by field, collecting every fault.

use std::collections::BTreeSet;

use serde::Serialize;
use serde_json::{Map, Value};

/// One field that could not be taken.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct FieldError {
    /// Its name, with the way to it (`bath[2].c`); empty for the whole request.
    pub field: String,
    /// The value, what is allowed, the way out.
    pub message: String,
}

/// A request that could not be taken, every fault named.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize)]
#[error("{title}")]
pub struct CalcError {
    /// What is wrong, in a few words.
    pub title: String,
    /// The fields at fault.
    pub fields: Vec<FieldError>,
}

impl CalcError {
    pub(super) fn one(title: &str, field: &str, message: String) -> Self {
        Self { title: title.into(), fields: vec![FieldError { field: field.into(), message }] }
    }
}

/// Reads fields off an object; what is never asked for is unknown.
pub(super) struct Fields<'a> {
    object: &'a Map<String, Value>,
    prefix: String,
    known: BTreeSet<&'static str>,
    errors: Vec<FieldError>,
}

impl<'a> Fields<'a> {
    pub(super) fn of(request: &'a Value) -> Result<Self, CalcError> {
        let object = request.as_object().ok_or_else(|| {
            CalcError::one(
                "The request is not an object",
                "",
                "Send one JSON object with the fields of the calculation.".into(),
            )
        })?;
        Ok(Self::within(object, String::new()))
    }

    fn within(object: &'a Map<String, Value>, prefix: String) -> Self {
        Self { object, prefix, known: BTreeSet::new(), errors: Vec::new() }
    }

    pub(super) fn fault(&mut self, field: &str, message: String) {
        self.errors.push(FieldError { field: format!("{}{field}", self.prefix), message });
    }

    /// The field's value; `null` counts as absent.
    pub(super) fn value(&mut self, name: &'static str) -> Option<&'a Value> {
        self.known.insert(name);
        self.object.get(name).filter(|v| !v.is_null())
    }

    pub(super) fn has(&self, name: &str) -> bool {
        self.object.get(name).is_some_and(|v| !v.is_null())
    }

    pub(super) fn number(&mut self, name: &'static str, low: f64, high: f64) -> Option<f64> {
        let value = self.value(name)?;
        match value.as_f64() {
            Some(x) if (low..=high).contains(&x) => Some(x),
            Some(x) => {
                self.fault(name, format!("{x} is outside {low} to {high}"));
                None
            }
            None => {
                self.fault(
                    name,
                    format!("{} is not a number; from {low} to {high} is allowed", shown(value)),
                );
                None
            }
        }
    }

    pub(super) fn needed_number(&mut self, name: &'static str, low: f64, high: f64) -> Option<f64> {
        if !self.has(name) {
            self.known.insert(name);
            self.fault(name, format!("is missing; give a number from {low} to {high}"));
            return None;
        }
        self.number(name, low, high)
    }

    pub(super) fn flag(&mut self, name: &'static str) -> Option<bool> {
        let value = self.value(name)?;
        let flag = value.as_bool();
        if flag.is_none() {
            self.fault(name, format!("{} is neither true nor false", shown(value)));
        }
        flag
    }

    pub(super) fn text(&mut self, name: &'static str) -> Option<&'a str> {
        let value = self.value(name)?;
        let text = value.as_str();
        if text.is_none() {
            self.fault(name, format!("{} is not a text", shown(value)));
        }
        text
    }

    /// An inner object's fields, read by `read`; its faults join these.
    pub(super) fn object<T>(
        &mut self,
        name: &'static str,
        read: impl FnOnce(&mut Fields<'a>) -> Option<T>,
    ) -> Option<T> {
        let value = self.value(name)?;
        let path = format!("{}{name}", self.prefix);
        self.inner(value, path, read)
    }

    /// The items of an array of objects, each read by `read`; `None` when any of them is at fault.
    pub(super) fn list<T>(
        &mut self,
        name: &'static str,
        (fewest, most): (usize, usize),
        mut read: impl FnMut(&mut Fields<'a>) -> Option<T>,
    ) -> Option<Vec<T>> {
        let value = self.value(name)?;
        let Some(items) = value.as_array().filter(|a| (fewest..=most).contains(&a.len())) else {
            self.fault(name, format!("is not a list of {fewest} to {most} objects"));
            return None;
        };
        let read_items: Vec<Option<T>> = items
            .iter()
            .enumerate()
            .map(|(i, item)| {
                let path = format!("{}{name}[{i}]", self.prefix);
                self.inner(item, path, &mut read)
            })
            .collect();
        read_items.into_iter().collect()
    }

    fn inner<T>(
        &mut self,
        value: &'a Value,
        path: String,
        read: impl FnOnce(&mut Fields<'a>) -> Option<T>,
    ) -> Option<T> {
        let Some(object) = value.as_object() else {
            self.errors.push(FieldError { field: path, message: "is not an object".into() });
            return None;
        };
        let mut fields = Fields::within(object, format!("{path}."));
        let taken = read(&mut fields);
        fields.name_unknown();
        self.errors.append(&mut fields.errors);
        taken
    }

    fn name_unknown(&mut self) {
        let unknown: Vec<String> =
            self.object.keys().filter(|k| !self.known.contains(k.as_str())).cloned().collect();
        let known: Vec<&str> = self.known.iter().copied().collect();
        for field in unknown {
            let field = crate::units::shortened(&field);
            self.fault(&field, format!("is not a field of this request; there is: {}", known.join(", ")));
        }
    }

    /// All faults found, unknown fields too; `Ok` when there are none.
    pub(super) fn finish(mut self) -> Result<(), CalcError> {
        self.name_unknown();
        if self.errors.is_empty() {
            Ok(())
        } else {
            Err(CalcError { title: "Some fields cannot be taken".into(), fields: self.errors })
        }
    }
}

fn shown(value: &Value) -> String {
    let text = value.to_string();
    if text.chars().count() > 40 {
        text.chars().take(39).chain(std::iter::once('…')).collect()
    } else {
        text
    }
}
