//! Cooks of older files, as records of today.
//!
//! Up to version 8 a cook had bags and pieces: each piece is a cook of its own now, in a bag of its own; those of one cook were
//! begun together.
//! Up to version 3 a cook had pieces, events of the cook or of a piece, and readings; the setting of its bath stood
//! among them, as if it had been read. There was one bag, and one bath of the cook's own.

use std::collections::{BTreeMap, BTreeSet};

use serde_json::{Map, Value, json};
use uuid::Uuid;

use super::derived_id;
use crate::Unfit;

/// The first version with bags and baths.
const WITH_BAGS: u32 = 4;

/// The first version that says who it was, and not by name alone.
pub(super) const WITH_WHO: u32 = 9;

/// The first version in which a cook is a bag.
pub(super) const A_BAG_EACH: u32 = 9;

/// A cook of a file of `version`, as those of today: more than one where it had several pieces.
///
/// # Errors
/// Where it is not of the shape that version had.
pub(super) fn upgraded(cook: Value, version: u32) -> Result<Vec<Value>, Unfit> {
    if version >= A_BAG_EACH { Ok(vec![cook]) } else { parted(&with_bags(cook, version)?) }
}

/// Most pieces a cook of version 8 had.
const MOST_PIECES: usize = 24;

/// Each piece of a cook of version 8 as a cook of its own.
fn parted(cook: &Value) -> Result<Vec<Value>, Unfit> {
    let fields = cook.as_object().ok_or("it is not an object")?;
    let id: Uuid = fields
        .get("id")
        .and_then(Value::as_str)
        .and_then(|id| id.parse().ok())
        .ok_or("id is missing, or none")?;
    let pieces = list(fields, "pieces")?;
    if pieces.is_empty() {
        return Err("has no piece".into());
    }
    if pieces.len() > MOST_PIECES {
        return Err(format!("{} pieces; at most {MOST_PIECES} are taken", pieces.len()).into());
    }
    (0..pieces.len()).map(|place| one_of(fields, id, place)).collect()
}

/// One piece of a cook of version 8 as a cook of its own. The first keeps every identifier: it is the cook that was known.
fn one_of(fields: &Map<String, Value>, id: Uuid, place: usize) -> Result<Value, Unfit> {
    let (pieces, bags) = (list(fields, "pieces")?, list(fields, "bags")?);
    let piece = &pieces[place];
    let lies = |bag: &&Value| bag["pieces"].as_array().is_some_and(|all| all.contains(&piece["id"]));
    let bag = bags.iter().find(lies).ok_or_else(|| format!("piece {} lies in no bag", piece["id"]))?;
    if bags.iter().filter(lies).count() > 1 {
        return Err(format!("piece {} lies in two bags", piece["id"]).into());
    }
    // The first piece of a bag keeps the bag.
    let keeps = bag["pieces"].as_array().is_some_and(|all| all.first() == Some(&piece["id"]));
    let bag_id = if keeps { bag["id"].clone() } else { own(&bag["id"], place) };
    let mut one = fields.clone();
    for gone in ["pieces", "bags"] {
        one.remove(gone);
    }
    one.insert("id".into(), own(&json!(id), place));
    let mut letter_of = String::new();
    if pieces.len() > 1 {
        one.insert("together".into(), json!(id));
        letter_of = letter(place);
    }
    one.insert("events".into(), Value::Array(events_of(fields, place, (piece, bag), (keeps, &bag_id))?));
    one.insert("piece".into(), piece.clone());
    one.insert("bag".into(), json!({ "id": bag_id, "bath": bag["bath"], "letter": letter_of }));
    Ok(Value::Object(one))
}

/// The identifier that something has in the cook of a piece.
fn own(of: &Value, place: usize) -> Value {
    match of.as_str().and_then(|id| id.parse::<Uuid>().ok()) {
        Some(of) if place > 0 => json!(derived_id(of, &format!("of piece {place}"))),
        _ => of.clone(),
    }
}

/// What happened to one piece: what is its own, and what is of all of them.
fn events_of(
    fields: &Map<String, Value>,
    place: usize,
    (piece, bag): (&Value, &Value),
    (keeps, bag_id): (bool, &Value),
) -> Result<Vec<Value>, Unfit> {
    let all = list(fields, "events")?;
    let mut events = Vec::new();
    for event in all {
        let mut event = event.clone();
        if let Some(of) = event["subject"].get("piece") {
            if of != &piece["id"] {
                continue;
            }
        } else if let Some(of) = event["subject"].get("bag") {
            if of != &bag["id"] {
                continue;
            }
            event["subject"] = json!({ "bag": bag_id });
            event["id"] = if keeps { event["id"].clone() } else { own(&event["id"], place) };
        } else {
            event["id"] = own(&event["id"], place);
        }
        events.push(event);
    }
    if place > 0 {
        // What an undoing or a correction names stands under its own identifier in each of them.
        let kept: BTreeSet<String> =
            events.iter().filter_map(|e| Some(e["id"].as_str()?.to_owned())).collect();
        let renamed: BTreeMap<String, Value> = all
            .iter()
            .filter_map(|e| Some((e["id"].as_str()?.to_owned(), own(&e["id"], place))))
            .filter(|(id, _)| !kept.contains(id))
            .collect();
        for event in &mut events {
            if let Some(new) = event["event"].as_str().and_then(|named| renamed.get(named)) {
                event["event"] = new.clone();
            }
        }
    }
    Ok(events)
}

/// A, B, C: how bags that were begun together are told apart.
///
/// ```
/// use hold_steady_core::book::letter;
/// assert_eq!([letter(0), letter(25), letter(26)], ["A", "Z", "AA"]);
/// ```
#[must_use]
pub fn letter(place: usize) -> String {
    let own = char::from(b'A' + u8::try_from(place % 26).unwrap_or_default());
    if place < 26 { own.to_string() } else { format!("{}{own}", letter(place / 26 - 1)) }
}

/// A cook of a file from before there were bags, as one of version 8.
fn with_bags(mut cook: Value, version: u32) -> Result<Value, Unfit> {
    if version >= WITH_BAGS {
        return Ok(cook);
    }
    let fields = cook.as_object_mut().ok_or("it is not an object")?;
    let text = |fields: &Map<String, Value>, name: &str| {
        fields.get(name).and_then(Value::as_str).map(str::to_owned).ok_or(format!("{name} is missing"))
    };
    let id: Uuid = text(fields, "id")?.parse().map_err(|e| format!("id: {e}"))?;
    let began_at = text(fields, "created_at")?;
    let pieces: Vec<Value> = list(fields, "pieces")?.iter().map(|p| p["id"].clone()).collect();
    let (bag, bath) = (derived_id(id, "bag"), derived_id(id, "bath"));
    for event in fields.get_mut("events").and_then(Value::as_array_mut).into_iter().flatten() {
        if let Some(piece) = event.as_object_mut().and_then(|e| e.remove("piece")).filter(|p| !p.is_null()) {
            event["subject"] = json!({ "piece": piece });
        }
    }
    let readings = list(fields, "readings")?.clone();
    fields.remove("readings");
    let mut settings = Vec::new();
    let mut instruments: Vec<Value> = Vec::new();
    for reading in readings {
        let origin = reading["origin"].as_str().unwrap_or_default().to_owned();
        let in_water = reading["instrument"] == "bath";
        if in_water && origin == "set-point" {
            settings.push(json!({"id": reading["id"], "at": reading["at"], "celsius": reading["celsius"], "by": "kitchen"}));
            continue;
        }
        let (name, piece) =
            if in_water { ("bath", Value::Null) } else { ("probe", reading["piece"].clone()) };
        let own = derived_id(id, name).to_string();
        let read = json!({"at": reading["at"], "celsius": reading["celsius"], "quality": origin});
        match instruments.iter_mut().find(|i| i["id"] == own.as_str()) {
            Some(known) => known["readings"].as_array_mut().into_iter().for_each(|r| r.push(read.clone())),
            None => instruments.push(json!({"id": own, "name": name, "piece": piece, "readings": [read]})),
        }
    }
    fields.insert("bags".into(), json!([{"id": bag, "pieces": pieces, "bath": bath}]));
    fields.insert(
        "baths".into(),
        json!([{"id": bath, "name": "bath", "began_at": began_at, "settings": settings, "instruments": instruments}]),
    );
    Ok(cook)
}

fn list<'a>(fields: &'a Map<String, Value>, name: &str) -> Result<&'a Vec<Value>, Unfit> {
    fields.get(name).and_then(Value::as_array).ok_or_else(|| format!("{name} is not a list").into())
}
