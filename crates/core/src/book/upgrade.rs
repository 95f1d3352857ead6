//! Cooks of older files, as records of today.
//!
//! Up to version 3 a cook had pieces, events of the cook or of a piece, and readings; the setting of its bath stood
//! among them, as if it had been read. There was one bag, and one bath of the cook's own.

use serde_json::{Map, Value, json};
use uuid::Uuid;

use super::derived_id;

/// The first version with bags and baths.
const WITH_BAGS: u32 = 4;

/// A cook of a file of `version`, as one of today's.
///
/// # Errors
/// Where it is not of the shape that version had.
pub(super) fn upgraded(mut cook: Value, version: u32) -> Result<Value, String> {
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

fn list<'a>(fields: &'a Map<String, Value>, name: &str) -> Result<&'a Vec<Value>, String> {
    fields.get(name).and_then(Value::as_array).ok_or(format!("{name} is not a list"))
}
