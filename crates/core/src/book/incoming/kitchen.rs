//! What a file says of its kitchen.

use jiff::Timestamp;
use serde::de::DeserializeOwned;
use serde_json::Value;

use super::super::file::check_preset;
use super::super::{DeviceRecord, ImportError, KeptVessel, KitchenRecord, check_own_food, unreadable};
use super::bath::{check_instrument, check_thermometer};
use crate::Unfit;

use super::{Remarks, named, not_to_come, record, said_short, shortened_to};
use crate::bath::Thermometer;
use crate::food::Pantry;
use crate::keep::StorageRecord;
use crate::limits::{BATH_C, LONGEST_NAME};
use crate::plan::{Guest, Habits, KitchenRules, Person};
use crate::units::{Celsius, shortened};

/// What a file says of its kitchen. However much it kept, and whoever ever worked there: it is bounded by its length alone.
pub(super) fn read_kitchen(
    mut value: Value,
    now: Timestamp,
    left_out: &mut Remarks,
) -> Result<KitchenRecord, ImportError> {
    let mut take = |key: &str| value.as_object_mut().and_then(|fields| fields.remove(key));
    let (pantry, removed, rules, history) = (take("pantry"), take("removed"), take("rules"), take("history"));
    let (habits, people, guests) = (take("habits"), take("people"), take("guests"));
    let storages = take("storages");
    let (vessels, thermometers, devices) = (take("vessels"), take("thermometers"), take("devices"));
    let mut kitchen: KitchenRecord = serde_json::from_value(value).map_err(unreadable)?;
    kitchen.name = shortened_to(kitchen.name.trim(), LONGEST_NAME);
    kitchen.pantry = read_pantry(pantry, left_out);
    kitchen.removed = read_pantry(removed, left_out);
    kitchen.rules = said(rules, KitchenRules::check, "what the kitchen had settled", left_out);
    kitchen.habits = said(habits, Habits::check, "how the kitchen likes to work", left_out);
    if let Some(Value::Array(people)) = people {
        let check = |p: &Person| p.check().map_err(|(field, why)| format!("{field}: {why}"));
        kitchen.people = each(people, |_| "somebody of the kitchen".into(), check, left_out);
    }
    if let Some(Value::Array(guests)) = guests {
        kitchen.guests = each(guests, |_| "a guest".into(), Guest::check, left_out);
    }
    if let Some(Value::Array(vessels)) = vessels {
        kitchen.vessels =
            each(vessels, |_| "a vessel of the kitchen".into(), |v: &KeptVessel| v.vessel.check(), left_out);
    }
    if let Some(Value::Array(thermometers)) = thermometers {
        let check = |t: &Thermometer| check_thermometer(t, now);
        kitchen.thermometers = each(thermometers, |_| "a thermometer".into(), check, left_out);
    }
    if let Some(Value::Array(storages)) = storages {
        let check = |s: &StorageRecord| {
            s.storage.check()?;
            not_to_come("it was made known", s.since, now)?;
            s.instruments.iter().try_for_each(|i| check_instrument(i, now))
        };
        kitchen.storages = each(storages, |_| "a refrigerator or freezer".into(), check, left_out);
    }
    if let Some(Value::Array(devices)) = devices {
        let check = |d: &DeviceRecord| {
            if named(&d.name, LONGEST_NAME) {
                Ok(())
            } else {
                Err(format!("its name must have 1 to {LONGEST_NAME} characters"))
            }
        };
        kitchen.devices = each(devices, |_| "a device".into(), check, left_out);
    }
    // What was changed there is that kitchen's own record: read for whoever looks into the file, not brought in.
    if let Some(Value::Array(changes)) = history {
        kitchen.history =
            each(changes, |_| "a change of the kitchen’s".into(), |_| Ok::<_, String>(()), left_out);
    }
    Ok(kitchen)
}

/// What a kitchen said of itself, where it did and it can be.
fn said<T: DeserializeOwned>(
    value: Option<Value>,
    check: impl Fn(&T) -> Result<(), (&'static str, String)>,
    what: &str,
    left_out: &mut Remarks,
) -> Option<T> {
    let value = value.filter(|v| !v.is_null())?;
    let check = |t: &T| check(t).map_err(|(field, why)| format!("{field}: {why}"));
    each(vec![value], |_| what.to_owned(), check, left_out).pop()
}

fn read_pantry(value: Option<Value>, left_out: &mut Remarks) -> Pantry {
    let Some(Value::Object(mut fields)) = value else { return Pantry::default() };
    let mut list = |key: &str| match fields.remove(key) {
        Some(Value::Array(items)) => items,
        _ => Vec::new(),
    };
    let (foods, presets, salted) = (list("foods"), list("presets"), list("salted"));
    let dialled = match fields.remove("dialled") {
        Some(Value::Object(pairs)) => pairs,
        _ => serde_json::Map::new(),
    };
    let name = |value: &Value| shortened(value.as_str().unwrap_or("without a name"));
    let mut pantry = Pantry {
        foods: each(foods, |v| format!("food {}", name(&v["id"])), check_own_food, left_out),
        presets: each(presets, |v| format!("preset {}", name(&v["name"])), check_preset, left_out),
        ..Pantry::default()
    };
    let mut out = |what: String, reason: String| left_out.left_out(what, reason);
    for value in salted {
        match value.as_str().map(str::trim).filter(|n| named(n, LONGEST_NAME)) {
            Some(batch) => pantry.salted.push(batch.to_owned()),
            None => {
                out("a salted batch".into(), format!("its name must have 1 to {LONGEST_NAME} characters"))
            }
        }
    }
    for (food, value) in dialled {
        match value.as_f64().filter(|c| (BATH_C.0..=BATH_C.1).contains(c) && named(&food, LONGEST_NAME)) {
            Some(c) => drop(pantry.dialled.insert(food, Celsius::new(c))),
            None => out(
                format!("the temperature of {}", shortened(&food)),
                format!("{value} is outside {} to {} °C", BATH_C.0, BATH_C.1),
            ),
        }
    }
    pantry
}

/// The records of a list that can be taken; the others are left out under the name given them.
fn each<T: DeserializeOwned, E: std::fmt::Display>(
    values: Vec<Value>,
    name: impl Fn(&Value) -> String,
    check: impl Fn(&T) -> Result<(), E>,
    left_out: &mut Remarks,
) -> Vec<T> {
    let mut taken = Vec::with_capacity(values.len());
    for value in values {
        let what = name(&value);
        let read = serde_json::value::to_raw_value(&value).map_err(said_short).and_then(|raw| record(&raw));
        match read.and_then(|t| check(&t).map(|()| t).map_err(|e| Unfit::from(e.to_string()))) {
            Ok(record) => taken.push(record),
            Err(reason) => left_out.left_out(what, reason),
        }
    }
    taken
}
