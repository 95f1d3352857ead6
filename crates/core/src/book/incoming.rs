//! Reading a book that comes from outside: nothing in it is believed that could not have been written down here.
//!
//! The file as a whole must be one of ours. Below that each record stands for itself: one that cannot be taken is
//! left out and named, and takes no other with it.

use std::collections::{BTreeMap, BTreeSet};

use jiff::{SignedDuration, Timestamp};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use super::file::{MOST_PRESETS, check_form};
use super::upgrade::upgraded;
use super::{
    BathRecord, CookRecord, Export, FORMAT, ImportError, KeptVessel, KitchenRecord, PlanRecord, Subject,
    VERSION, check_own_food, check_preset, read_header, unreadable,
};
use crate::bath::{self, Check, Thermometer, WaterEvent};
use crate::calc::range::BATH_C;
use crate::cook::{CLOCK_SKEW, CookState, EventKind, LONGEST_TEXT, MOST_EVENTS};
use crate::food::{FoodClass, Pantry};
use crate::piece::LONGEST_MIN;
use crate::plan::{
    ENGINE_VERSION, Habits, KitchenRules, MOST_PEOPLE, Person, Plan, PlanRequest, Range, data_version,
};
use crate::units::{Celsius, Ends, Grams, Length, Minutes, shortened};

/// Most cooks in a file.
pub const MOST_COOKS: usize = 5_000;
/// Most cooks that may be under way in a kitchen for an import to add another.
pub const MOST_UNDER_WAY: usize = 40;
/// Most pieces of a cook, plans of a piece, readings of a cook.
const MOST_PIECES: usize = 24;
const MOST_PLANS: usize = 20;
const MOST_READINGS: usize = 10_000;
/// Most checks of a thermometer.
const MOST_CHECKS: usize = 1_000;
/// Most vessels, and most thermometers, of a kitchen.
pub const MOST_VESSELS: usize = 100;
/// Most foods, temperatures and batches of a kitchen's own.
const MOST_FOODS: usize = 500;
const MOST_DIALLED: usize = 1_000;
const MOST_SALTED: usize = 2_000;
/// Most changes of a kitchen.
const MOST_CHANGES: usize = 50_000;
/// Longest title, and name of a person, a kitchen, an engine or an origin, characters.
const LONGEST_TITLE: usize = 200;
const LONGEST_NAME: usize = 120;
/// Largest stored answer, bytes of JSON.
const LARGEST_ANSWER: usize = 64 * 1024;
/// How long before a cook was begun something in it may have happened: what the forms take.
const BEFORE: SignedDuration = SignedDuration::from_hours(24);
/// How far from its making a plan's times may lie.
const PLANNED_AHEAD: SignedDuration = SignedDuration::from_hours(24 * 400);

/// What was not taken from a file, and why.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct LeftOut {
    /// Which record.
    pub what: String,
    /// Why.
    pub reason: String,
}

/// A book that was read from a file.
#[derive(Debug, Clone, PartialEq)]
pub struct Incoming {
    /// What can be taken.
    pub export: Export,
    /// What cannot.
    pub left_out: Vec<LeftOut>,
    /// What was taken and is not as it stood in the file: answers of cooks under way that were computed again.
    pub noted: Vec<LeftOut>,
    /// SHA-256 of the file.
    pub sha256: String,
}

#[derive(Deserialize)]
struct Outline {
    format: String,
    version: u32,
    exported_at: Timestamp,
    kitchen: Value,
    cooks: Vec<Value>,
}

/// Reads an export of any version, at the time it is brought in.
///
/// # Errors
/// With line and reason when it is not one, or holds more than is taken.
///
/// ```
/// use hold_steady_core::book::read_export;
/// let text = r#"{"format": "hold-steady/kitchen", "version": 3, "exported_at": "2026-11-25T12:00:00Z",
///     "kitchen": {"name": "Galley", "time_zone": "UTC"},
///     "cooks": [{"id": "not one"}]}"#;
/// let read = read_export(text, "2026-11-25T12:30:00Z".parse()?)?;
/// assert!(read.export.cooks.is_empty());
/// assert_eq!(read.left_out[0].what, "cook 1");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn read_export(text: &str, now: Timestamp) -> Result<Incoming, ImportError> {
    read_header(text, FORMAT, VERSION)?;
    let outline: Outline = serde_json::from_str(text).map_err(unreadable)?;
    let most = |field: &str, most, got: usize| {
        if got > most { Err(ImportError::TooMany { field: field.into(), most, got }) } else { Ok(()) }
    };
    most("cooks", MOST_COOKS, outline.cooks.len())?;
    let mut left_out = Vec::new();
    let kitchen = read_kitchen(outline.kitchen, now, &most, &mut left_out)?;
    let (mut seen, mut noted) = (Seen::default(), Vec::new());
    let mut cooks = Vec::with_capacity(outline.cooks.len());
    for (i, value) in outline.cooks.into_iter().enumerate() {
        let what = match value.get("id").and_then(Value::as_str).and_then(|id| id.parse::<Uuid>().ok()) {
            Some(id) => format!("cook {id}"),
            None => format!("cook {}", i + 1),
        };
        let read =
            sane("", &value).and_then(|()| upgraded(value, outline.version)).and_then(parsed::<CookRecord>);
        let taken = read.and_then(|mut cook| {
            check(&cook, now, &mut seen)?;
            recomputed(&mut cook, &mut noted)?;
            Ok(cook)
        });
        match taken {
            Ok(cook) => cooks.push(cook),
            Err(reason) => left_out.push(LeftOut { what, reason }),
        }
    }
    // A time of writing still to come is nobody's word.
    let exported_at = outline.exported_at.min(now);
    let export = Export { format: outline.format, version: outline.version, exported_at, kitchen, cooks };
    let sha256 = Sha256::digest(text.as_bytes()).iter().map(|b| format!("{b:02x}")).collect();
    Ok(Incoming { export, left_out, noted, sha256 })
}

fn parsed<T: DeserializeOwned>(value: Value) -> Result<T, String> {
    serde_json::from_value(value).map_err(|e| shortened_to(&e.to_string(), LONGEST_TITLE))
}

fn shortened_to(text: &str, chars: usize) -> String {
    text.chars().take(chars).collect()
}

/// Numbers that nothing here can have, and texts without end, wherever they stand; `field` is where that is.
fn sane(field: &str, value: &Value) -> Result<(), String> {
    const LARGEST: f64 = 1e7;
    match value {
        Value::Number(n) if n.as_f64().is_none_or(|x| x.abs() > LARGEST) => {
            Err(format!("{field}: {n} cannot be"))
        }
        Value::String(s) if s.len() > LONGEST_TEXT => {
            Err(format!("{field}: a text of {} bytes; at most {LONGEST_TEXT} are taken", s.len()))
        }
        Value::Array(items) => items.iter().try_for_each(|item| sane(field, item)),
        Value::Object(fields) => {
            fields.iter().try_for_each(|(name, value)| sane(&format!("{field}/{}", shortened(name)), value))
        }
        _ => Ok(()),
    }
}

fn read_kitchen(
    mut value: Value,
    now: Timestamp,
    most: &impl Fn(&str, usize, usize) -> Result<(), ImportError>,
    left_out: &mut Vec<LeftOut>,
) -> Result<KitchenRecord, ImportError> {
    let mut take = |key: &str| value.as_object_mut().and_then(|fields| fields.remove(key));
    let (pantry, removed, rules, history) = (take("pantry"), take("removed"), take("rules"), take("history"));
    let (habits, people) = (take("habits"), take("people"));
    let (vessels, thermometers) = (take("vessels"), take("thermometers"));
    let mut kitchen: KitchenRecord = serde_json::from_value(value).map_err(unreadable)?;
    kitchen.name = shortened_to(kitchen.name.trim(), LONGEST_NAME);
    kitchen.pantry = read_pantry(pantry, most, left_out)?;
    kitchen.removed = read_pantry(removed, most, left_out)?;
    kitchen.rules = said(rules, KitchenRules::check, "what the kitchen had settled", left_out);
    kitchen.habits = said(habits, Habits::check, "how the kitchen likes to work", left_out);
    if let Some(Value::Array(people)) = people {
        most("people", MOST_PEOPLE, people.len())?;
        let check = |p: &Person| p.check().map_err(|(field, why)| format!("{field}: {why}"));
        kitchen.people = each(people, |_| "somebody of the kitchen".into(), check, left_out);
    }
    if let Some(Value::Array(vessels)) = vessels {
        most("vessels", MOST_VESSELS, vessels.len())?;
        kitchen.vessels =
            each(vessels, |_| "a vessel of the kitchen".into(), |v: &KeptVessel| v.vessel.check(), left_out);
    }
    if let Some(Value::Array(thermometers)) = thermometers {
        most("thermometers", MOST_VESSELS, thermometers.len())?;
        let check = |t: &Thermometer| check_thermometer(t, now);
        kitchen.thermometers = each(thermometers, |_| "a thermometer".into(), check, left_out);
    }
    // What was changed there is that kitchen's own record: read for whoever looks into the file, not brought in.
    if let Some(Value::Array(changes)) = history {
        most("changes", MOST_CHANGES, changes.len())?;
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
    left_out: &mut Vec<LeftOut>,
) -> Option<T> {
    let value = value.filter(|v| !v.is_null())?;
    let check = |t: &T| check(t).map_err(|(field, why)| format!("{field}: {why}"));
    each(vec![value], |_| what.to_owned(), check, left_out).pop()
}

fn read_pantry(
    value: Option<Value>,
    most: &impl Fn(&str, usize, usize) -> Result<(), ImportError>,
    left_out: &mut Vec<LeftOut>,
) -> Result<Pantry, ImportError> {
    let Some(Value::Object(mut fields)) = value else { return Ok(Pantry::default()) };
    let mut list = |key: &str| match fields.remove(key) {
        Some(Value::Array(items)) => items,
        _ => Vec::new(),
    };
    let (foods, presets, salted) = (list("foods"), list("presets"), list("salted"));
    let dialled = match fields.remove("dialled") {
        Some(Value::Object(pairs)) => pairs,
        _ => serde_json::Map::new(),
    };
    most("foods", MOST_FOODS, foods.len())?;
    most("presets", MOST_PRESETS, presets.len())?;
    most("salted", MOST_SALTED, salted.len())?;
    most("dialled", MOST_DIALLED, dialled.len())?;
    let name = |value: &Value| shortened(value.as_str().unwrap_or("without a name"));
    let mut pantry = Pantry {
        foods: each(foods, |v| format!("food {}", name(&v["id"])), check_own_food, left_out),
        presets: each(presets, |v| format!("preset {}", name(&v["name"])), check_preset, left_out),
        ..Pantry::default()
    };
    let mut out = |what: String, reason: String| left_out.push(LeftOut { what, reason });
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
    Ok(pantry)
}

/// The records of a list that can be taken; the others are left out under the name given them.
fn each<T: DeserializeOwned, E: std::fmt::Display>(
    values: Vec<Value>,
    name: impl Fn(&Value) -> String,
    check: impl Fn(&T) -> Result<(), E>,
    left_out: &mut Vec<LeftOut>,
) -> Vec<T> {
    let mut taken = Vec::with_capacity(values.len());
    for value in values {
        let what = name(&value);
        let read = sane("", &value).and_then(|()| parsed(value));
        match read.and_then(|t| check(&t).map(|()| t).map_err(|e| e.to_string())) {
            Ok(record) => taken.push(record),
            Err(reason) => left_out.push(LeftOut { what, reason }),
        }
    }
    taken
}

/// A name: not empty, not too long, on one line.
fn named(text: &str, longest: usize) -> bool {
    !text.trim().is_empty() && text.chars().count() <= longest && !text.chars().any(char::is_control)
}

/// Sizes and times of a request that could not be planned.
/// An answer that a food's questions cannot have: nobody was asked it, and it could make a verdict milder.
fn check_questions(r: &PlanRequest) -> Result<(), String> {
    let food = r.food();
    let asked = [
        ("prepared", r.prepared.is_some(), food.prepared.is_some()),
        ("egg_use", r.egg_use.is_some(), food.class == FoodClass::ShellEgg),
        ("parasites", r.parasites.is_some(), food.class == FoodClass::Fish),
        ("fill_ml", r.fill_ml.is_some(), food.jar.is_some()),
        ("glass_c", r.glass_c.is_some(), food.jar.is_some()),
    ];
    match asked.into_iter().find(|(_, said, may)| *said && !may) {
        Some((field, ..)) => Err(format!("{field}: {} is asked no such question", food.name)),
        None => Ok(()),
    }
}

/// Of cooks under way the computed answer rules: a file is not believed where it can be computed. What was another is named.
fn recomputed(cook: &mut CookRecord, noted: &mut Vec<LeftOut>) -> Result<(), String> {
    let state = cook.state();
    if state.ended().is_some() || state.deleted {
        return Ok(());
    }
    for record in cook.pieces.iter_mut().flat_map(|p| &mut p.plans) {
        let checked = record.checked().map_err(|e| format!("plan {}: {e}", record.id))?;
        if !checked.differs.is_empty() {
            let reason =
                format!("its answer was not what is computed from it ({})", checked.differs.join(", "));
            noted.push(LeftOut { what: format!("plan {}", record.id), reason });
        }
        if !checked.differs.is_empty() || record.engine != ENGINE_VERSION || record.data != data_version() {
            record.engine = checked.computed.engine.clone();
            record.data = checked.computed.data.clone();
            record.result = serde_json::to_value(&checked.computed).map_err(|e| e.to_string())?;
        }
    }
    Ok(())
}

fn check_request(r: &PlanRequest) -> Result<(), String> {
    check_questions(r)?;
    let size = 1.0..=1000.0;
    let within =
        |value: Option<f64>, range: &std::ops::RangeInclusive<f64>| value.is_none_or(|v| range.contains(&v));
    if !(1.0..=300.0).contains(&r.thickness_mm.mm()) || !(0.0..=100.0).contains(&r.bath_c.value()) {
        return Err(format!("{} mm at {} °C cannot be", r.thickness_mm.mm(), r.bath_c.value()));
    }
    if !(within(r.thin_mm.map(Length::mm), &size)
        && within(r.width_mm.map(Length::mm), &size)
        && within(r.length_mm.map(Length::mm), &size)
        && within(r.fill_ml, &(1.0..=10_000.0)))
    {
        return Err("a size that cannot be".into());
    }
    if !within(r.time_min.map(Minutes::value), &(0.0..=LONGEST_MIN.value()))
        || !within(r.glass_c.map(Celsius::value), &(-60.0..=150.0))
    {
        return Err("a time or temperature that cannot be".into());
    }
    let prep = &r.prep;
    let text = prep.in_bag.iter().chain([&prep.batch, &prep.air]).all(|t| t.len() <= LONGEST_TEXT);
    if !within(prep.weight_g.map(Grams::value), &(0.0..=100_000.0))
        || !within(prep.salt_percent, &(0.0..=100.0))
        || !text
    {
        return Err("a weight, salt or text that cannot be".into());
    }
    if !within(r.out_min.map(Minutes::value), &(0.0..=LONGEST_MIN.value())) {
        return Err("a time out of the refrigerator that cannot be".into());
    }
    if let Some(own) = r.planned.own() {
        check_own_food(own).map_err(|e| e.to_string())?;
    }
    if let Some(v) = &r.vessel {
        v.vessel.check().map_err(|e| format!("its vessel: {e}"))?;
        if !(0.0..=500.0).contains(&v.kg) || !(0.0..=5.0).contains(&v.reads_high_k.value()) {
            return Err("a load or a thermometer that cannot be".into());
        }
    }
    r.rules.check().map_err(|(field, why)| format!("{field}: {why}"))
}

fn check_plan(plan: &PlanRecord, now: Timestamp) -> Result<(), String> {
    check_request(&plan.request)?;
    check_form(&plan.typed).map_err(|e| e.to_string())?;
    if !named(&plan.engine, LONGEST_NAME) || !named(&plan.data, LONGEST_NAME) {
        return Err(format!("engine and data must have 1 to {LONGEST_NAME} characters"));
    }
    not_to_come("it was made", plan.created_at, now)?;
    let near = |t: Timestamp| plan.created_at.duration_since(t).abs() <= PLANNED_AHEAD;
    if plan.request.ready_at.is_some_and(|t| !near(t)) {
        return Err("it is to be ready more than 400 days away".into());
    }
    if plan.result.to_string().len() > LARGEST_ANSWER {
        return Err(format!("its answer is larger than {} kB", LARGEST_ANSWER >> 10));
    }
    // One that an older engine wrote is computed anew when it is shown.
    match Plan::deserialize(&plan.result) {
        Ok(answer) => check_answer(&answer, near),
        Err(_) => Ok(()),
    }
}

/// The answer as another program wrote it down: every minute one that a plan can have.
fn check_answer(plan: &Plan, near: impl Fn(Timestamp) -> bool) -> Result<(), String> {
    const MOST_BANDS: usize = 64;
    let minutes = Minutes::ZERO..=LONGEST_MIN * 2.0;
    let can_be = |m: Minutes| minutes.contains(&m);
    let ends = |e: Ends<Minutes>| [e.fast, e.middle, e.slow].into_iter().all(can_be);
    let sound = [plan.bath_min, plan.needed_min, plan.finish_min, plan.best_from, plan.horizon_min]
        .into_iter()
        .all(can_be)
        && plan.horizon_min > Minutes::ZERO
        && ends(plan.through)
        && ends(plan.best_until)
        && plan.pasteurised.is_none_or(ends);
    if !sound || plan.bands.len() > MOST_BANDS {
        return Err("its answer has a time that cannot be".into());
    }
    if !plan.bands.iter().all(|b| can_be(b.from_min) && can_be(b.until_min) && b.from_min <= b.until_min) {
        return Err("its answer has a stretch that cannot be".into());
    }
    let t = &plan.times;
    let range = |r: Range| near(r.from) && near(r.until);
    let all = [t.preheat_by, t.drop_from, t.drop_by, t.pull, t.serve, plan.earliest_ready, plan.computed_at];
    let all_near = all.into_iter().chain(t.sear).all(&near)
        && range(t.through)
        && range(t.best_until)
        && t.pasteurised.is_none_or(range);
    if all_near { Ok(()) } else { Err("its answer has times more than 400 days away".into()) }
}

fn not_to_come(what: &str, at: Timestamp, now: Timestamp) -> Result<(), String> {
    if at.duration_since(now) > CLOCK_SKEW {
        Err(format!("{what} at {at}, which is still to come"))
    } else {
        Ok(())
    }
}

/// What a file had so far.
#[derive(Default)]
struct Seen {
    ids: BTreeSet<Uuid>,
    /// Several cooks may lie in one bath: each says all of it, and all say the same.
    baths: BTreeMap<Uuid, BathRecord>,
}

fn check(cook: &CookRecord, now: Timestamp, seen: &mut Seen) -> Result<(), String> {
    // Only of a cook that is taken are the identifiers taken.
    let mut own = BTreeSet::new();
    let mut once = |id: Uuid, what: &str| {
        if !seen.ids.contains(&id) && own.insert(id) {
            Ok(())
        } else {
            Err(format!("{what} {id} is there twice"))
        }
    };
    let most = |what: &str, most: usize, got: usize| {
        if got > most { Err(format!("{got} {what}; at most {most} are taken")) } else { Ok(()) }
    };
    once(cook.id, "cook")?;
    if !named(&cook.title, LONGEST_TITLE) {
        return Err(format!("its title must have 1 to {LONGEST_TITLE} characters, on one line"));
    }
    not_to_come("it was begun", cook.created_at, now)?;
    most("pieces", MOST_PIECES, cook.pieces.len())?;
    most("events", MOST_EVENTS, cook.counted_events())?;
    most("events with every setting of the clock", 100 * MOST_EVENTS, cook.events.len())?;
    most("bags", MOST_PIECES, cook.bags.len())?;
    most("baths", MOST_PIECES, cook.baths.len())?;
    let readings = cook.baths.iter().flat_map(|b| &b.instruments).map(|i| i.readings.len()).sum();
    most("readings", MOST_READINGS, readings)?;
    if cook.pieces.is_empty() {
        return Err("has no piece".into());
    }
    for piece in &cook.pieces {
        once(piece.id, "piece")?;
        most("plans of a piece", MOST_PLANS, piece.plans.len())?;
        if piece.plans.is_empty() {
            return Err(format!("piece {} has no plan", piece.id));
        }
        for plan in &piece.plans {
            once(plan.id, "plan")?;
            check_plan(plan, now).map_err(|e| format!("plan {}: {e}", plan.id))?;
        }
    }
    if cook.bags.is_empty() {
        return Err("has no bag".into());
    }
    for bag in &cook.bags {
        once(bag.id, "bag")?;
        let known = !bag.pieces.is_empty() && bag.pieces.iter().all(|p| cook.has(Subject::Piece(*p)));
        if !known || !cook.has(Subject::Bath(bag.bath)) {
            return Err(format!("bag {} names a piece or a bath that is not there", bag.id));
        }
    }
    let earliest = cook.created_at.checked_sub(BEFORE).unwrap_or(cook.created_at);
    for e in &cook.events {
        once(e.event.id, "event")?;
        let of = |why: String| format!("event {}: {why}", e.event.id);
        if !cook.has(e.subject) {
            return Err(of(format!("it names a {} that is not there", e.subject.kind())));
        }
        not_to_come("it was written down", e.event.recorded_at, now).map_err(of)?;
        if e.event.happened_at < earliest || e.event.recorded_at < earliest {
            return Err(of(format!(
                "it lies more than a day before the cook was begun ({})",
                cook.created_at
            )));
        }
        if !named(&e.event.by, LONGEST_NAME) {
            return Err(of(format!("by whom must have 1 to {LONGEST_NAME} characters")));
        }
    }
    CookState::fold(cook.events.iter().map(|e| &e.event))
        .map_err(|(i, refusal)| format!("event {}: {refusal}", cook.events[i].event.id))?;
    for event in &cook.events {
        if let EventKind::Moved { bath } = event.event.kind
            && !cook.has(Subject::Bath(bath))
        {
            return Err(format!("event {}: moved into a bath that is not there", event.event.id));
        }
    }
    for bath in &cook.baths {
        match seen.baths.get(&bath.id) {
            None => once(bath.id, "bath")?,
            Some(other) if other == bath => continue,
            Some(_) => return Err(format!("bath {}: another cook says otherwise of it", bath.id)),
        }
        check_bath(cook, bath, earliest, now).map_err(|e| format!("bath {}: {e}", bath.id))?;
    }
    seen.ids.append(&mut own);
    seen.baths.extend(cook.baths.iter().map(|b| (b.id, b.clone())));
    Ok(())
}

fn check_bath(
    cook: &CookRecord,
    bath: &BathRecord,
    earliest: Timestamp,
    now: Timestamp,
) -> Result<(), String> {
    if !named(&bath.name, LONGEST_NAME) {
        return Err(format!("its name must have 1 to {LONGEST_NAME} characters"));
    }
    if bath.settings.is_empty() && bath.vessel.is_none() {
        return Err("it was never set".into());
    }
    if let Some(kept) = &bath.vessel {
        kept.vessel.check().map_err(|e| format!("its vessel: {e}"))?;
    }
    // One that a vessel is named of may have run for days before this cook.
    let earliest = match &bath.vessel {
        Some(_) => earliest.min(bath.began_at.checked_sub(BEFORE).unwrap_or(bath.began_at)),
        None => earliest,
    };
    check_water(&bath.water, earliest, now)?;
    for s in &bath.settings {
        if !(BATH_C.0..=BATH_C.1).contains(&s.celsius.value()) || !named(&s.by, LONGEST_NAME) {
            return Err(format!(
                "set to {} °C by “{}”, which cannot be",
                s.celsius.value(),
                shortened(&s.by)
            ));
        }
        not_to_come("it was set", s.at, now)?;
        if s.at < earliest {
            return Err("it was set more than a day before the cook was begun".into());
        }
    }
    for instrument in &bath.instruments {
        if !named(&instrument.name, LONGEST_NAME)
            || instrument.piece.is_some_and(|p| !cook.has(Subject::Piece(p)))
        {
            return Err(format!(
                "its instrument {} has no name, or a piece that is not there",
                instrument.id
            ));
        }
        check_checks(&instrument.checks, now)?;
        for r in &instrument.readings {
            if !(-60.0..=300.0).contains(&r.celsius.value()) || !named(&r.quality, LONGEST_NAME) {
                return Err(format!(
                    "{} °C read as “{}” cannot be",
                    r.celsius.value(),
                    shortened(&r.quality)
                ));
            }
            not_to_come("it was read", r.at, now)?;
            if r.at < earliest {
                return Err("it was read more than a day before the cook was begun".into());
            }
        }
    }
    Ok(())
}

/// What was done to the water of a bath.
fn check_water(events: &[WaterEvent], earliest: Timestamp, now: Timestamp) -> Result<(), String> {
    if events.len() > MOST_EVENTS {
        return Err(format!("{} things done to its water; at most {MOST_EVENTS} are taken", events.len()));
    }
    for e in events {
        e.kind.check()?;
        not_to_come("it was written down", e.recorded_at, now)?;
        if !named(&e.by, LONGEST_NAME) {
            return Err(format!("by whom must have 1 to {LONGEST_NAME} characters"));
        }
        if e.happened_at < earliest || e.recorded_at < earliest {
            return Err("something was done to its water more than a day before the cook was begun".into());
        }
    }
    Ok(())
}

/// How a thermometer was checked.
fn check_checks(checks: &[Check], now: Timestamp) -> Result<(), String> {
    if checks.len() > MOST_CHECKS {
        return Err(format!("{} checks of a thermometer; at most {MOST_CHECKS} are taken", checks.len()));
    }
    for c in checks {
        not_to_come("a thermometer was checked", c.at, now)?;
        if !(0.0..=100.0).contains(&c.true_c.value()) || bath::taken(c.read_c, c.true_c).is_err() {
            return Err(format!("a check of {} at {} °C cannot be", c.read_c.value(), c.true_c.value()));
        }
    }
    Ok(())
}

fn check_thermometer(t: &Thermometer, now: Timestamp) -> Result<(), String> {
    if !named(&t.name, LONGEST_NAME) {
        return Err(format!("its name must have 1 to {LONGEST_NAME} characters"));
    }
    check_checks(&t.checks, now)
}
