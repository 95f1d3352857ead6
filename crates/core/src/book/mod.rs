//! The book: what was planned beside what was done, and the open format it travels in.
//!
//! An export is one JSON object with `format` and `version`. Every version that was ever written is
//! read for ever: `tests/golden/` keeps one file of each.

mod entry;
mod file;

pub use entry::{BookEntry, csv};
pub use file::{
    FILE_VERSION, PLAN_FORMAT, PRESETS_FORMAT, PlanFile, PresetsFile, check_preset, read_plan_file,
    read_presets_file,
};

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::cook::{CookState, Event, LONGEST_TEXT};
use crate::food::{OwnFood, Pantry};
use crate::heat::HeatError;
use crate::piece::LONGEST_MIN;
use crate::plan::{Plan, PlanForm, PlanRequest, plan};
use crate::units::Units;

/// The `format` of an export.
pub const FORMAT: &str = "hold-steady/kitchen";
/// The `version` written; every one up to it is read.
pub const VERSION: u32 = 2;

/// A kitchen with all its cooks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Export {
    /// [`FORMAT`].
    pub format: String,
    /// [`VERSION`] when written.
    pub version: u32,
    /// When it was written.
    pub exported_at: Timestamp,
    /// The kitchen it came from.
    pub kitchen: KitchenRecord,
    /// Its cooks, oldest first.
    pub cooks: Vec<CookRecord>,
}

/// What an export says of the kitchen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct KitchenRecord {
    /// Its name.
    pub name: String,
    /// IANA time zone.
    pub time_zone: String,
    /// What it keeps of its own; from version 2 on.
    #[serde(default, skip_serializing_if = "Pantry::is_empty")]
    pub pantry: Pantry,
}

/// One cook: pieces, events in the order recorded, readings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CookRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was begun.
    pub created_at: Timestamp,
    /// What the cook calls it.
    pub title: String,
    /// Its pieces.
    pub pieces: Vec<PieceRecord>,
    /// What happened, in the order recorded.
    pub events: Vec<EventRecord>,
    /// Bath and probe readings, by time.
    pub readings: Vec<ReadingRecord>,
}

/// One piece with the plans made for it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PieceRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// Place among the cook's pieces, from 0.
    pub position: u32,
    /// When it was added.
    pub created_at: Timestamp,
    /// Plans, the first made first. Later engines add theirs; none is ever replaced.
    pub plans: Vec<PlanRecord>,
}

/// A plan as it was made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlanRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was made.
    pub created_at: Timestamp,
    /// Version of the computation.
    pub engine: String,
    /// Version of the catalogue.
    pub data: String,
    /// The sentence as typed.
    pub typed: PlanForm,
    /// What was understood of it.
    pub request: PlanRequest,
    /// The answer, as it was given then.
    pub result: Value,
}

impl PlanRecord {
    /// The answer as it was given; computed anew (for the same moment) only when an older engine
    /// wrote it in a shape this one does not read.
    ///
    /// # Errors
    /// When that computation fails.
    pub fn plan(&self) -> Result<Plan, HeatError> {
        match serde_json::from_value(self.result.clone()) {
            Ok(stored) => Ok(stored),
            Err(_) => plan(&self.request, self.created_at, Units::default()),
        }
    }
}

/// An event and the piece it belongs to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct EventRecord {
    /// The piece; absent for the whole cook.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<Uuid>,
    /// The event.
    #[serde(flatten)]
    pub event: Event,
}

/// What a reading was taken with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Instrument {
    /// The bath's water.
    Bath,
    /// A probe in the piece.
    Probe,
}

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ReadingRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// The piece, for a probe.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<Uuid>,
    /// Bath or probe.
    pub instrument: Instrument,
    /// How it came about: `set-point` for a temperature assumed from the setting.
    pub origin: String,
    /// When.
    pub at: Timestamp,
    /// °C.
    pub celsius: f64,
}

impl CookRecord {
    /// Where the cook stands.
    #[must_use]
    pub fn state(&self) -> CookState {
        let events: Vec<Event> = self.events.iter().map(|e| e.event.clone()).collect();
        CookState::of(&events)
    }

    /// The plan that is being cooked: the first one of the first piece.
    #[must_use]
    pub fn plan_record(&self) -> Option<&PlanRecord> {
        self.pieces.first()?.plans.first()
    }

    /// The bath's readings, `(instant, °C)`.
    #[must_use]
    pub fn bath_readings(&self) -> Vec<(Timestamp, f64)> {
        self.readings.iter().filter(|r| r.instrument == Instrument::Bath).map(|r| (r.at, r.celsius)).collect()
    }
}

/// Why a file cannot be imported.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum ImportError {
    /// Not JSON, or not of this shape.
    #[error("line {line}, column {column}: {reason}")]
    Unreadable {
        /// Line, from 1.
        line: usize,
        /// Column, from 1.
        column: usize,
        /// What is wrong there.
        reason: String,
    },
    /// Something else altogether.
    #[error("the file's format is “{0}”; only “{FORMAT}” can be imported")]
    Format(String),
    /// Written by a later version of this application.
    #[error("the file is of version {0}, which this application does not read: update it")]
    Version(u32),
    /// A field is too long, or empty where it may not be.
    #[error("{field}: it must not be empty, nor longer than {longest}")]
    Field {
        /// Which.
        field: String,
        /// How long it may be.
        longest: usize,
    },
    /// A food of the kitchen's own cannot be taken.
    #[error("food {id}: {reason}")]
    OwnFood {
        /// Which.
        id: String,
        /// What is wrong.
        reason: String,
    },
    /// The records contradict each other.
    #[error("cook {cook}: {reason}")]
    Inconsistent {
        /// Which cook.
        cook: Uuid,
        /// What is wrong.
        reason: String,
    },
}

#[derive(Deserialize)]
struct Header {
    format: String,
    version: u32,
}

fn unreadable(e: serde_json::Error) -> ImportError {
    ImportError::Unreadable {
        line: e.line(),
        column: e.column(),
        reason: e.to_string().split(" at line ").next().unwrap_or_default().to_owned(),
    }
}

/// Whether a file is of a format, in a version up to the newest.
fn read_header(text: &str, format: &str, newest: u32) -> Result<(), ImportError> {
    crate::strict::check(text).map_err(unreadable)?;
    let header: Header = serde_json::from_str(text).map_err(unreadable)?;
    if header.format != format {
        return Err(ImportError::Format(header.format.chars().take(60).collect()));
    }
    if (1..=newest).contains(&header.version) { Ok(()) } else { Err(ImportError::Version(header.version)) }
}

fn check_own_food(food: &OwnFood) -> Result<(), ImportError> {
    let id = || food.id.chars().take(60).collect();
    check_own(food).map_err(|reason| ImportError::OwnFood { id: id(), reason })
}

/// Reads an export of any version.
///
/// # Errors
/// With line and reason when it is not one, and by cook where records contradict each other.
pub fn read_export(text: &str) -> Result<Export, ImportError> {
    read_header(text, FORMAT, VERSION)?;
    let export: Export = serde_json::from_str(text).map_err(unreadable)?;
    export.kitchen.pantry.foods.iter().try_for_each(check_own_food)?;
    export.kitchen.pantry.presets.iter().try_for_each(check_preset)?;
    let mut seen = BTreeSet::new();
    for cook in &export.cooks {
        check(cook, &mut seen).map_err(|reason| ImportError::Inconsistent { cook: cook.id, reason })?;
    }
    Ok(export)
}

fn check_own(food: &OwnFood) -> Result<(), String> {
    food.build().map(|_| ()).map_err(|errors| {
        errors.into_iter().map(|(field, text)| format!("{field}: {text}")).collect::<Vec<_>>().join(" ")
    })
}

/// Sizes and times of a request that could not be planned.
fn check_request(r: &PlanRequest) -> Result<(), String> {
    let size = 1.0..=1000.0;
    let within =
        |value: Option<f64>, range: &std::ops::RangeInclusive<f64>| value.is_none_or(|v| range.contains(&v));
    if !(1.0..=300.0).contains(&r.thickness_mm) || !(0.0..=100.0).contains(&r.bath_c) {
        return Err(format!("{} mm at {} °C cannot be", r.thickness_mm, r.bath_c));
    }
    if !(within(r.thin_mm, &size)
        && within(r.width_mm, &size)
        && within(r.length_mm, &size)
        && within(r.fill_ml, &(1.0..=10_000.0)))
    {
        return Err("a size that cannot be".into());
    }
    if !within(r.time_min, &(0.0..=LONGEST_MIN)) || !within(r.glass_c, &(-60.0..=150.0)) {
        return Err("a time or temperature that cannot be".into());
    }
    let prep = &r.prep;
    let text = prep.in_bag.iter().chain([&prep.batch, &prep.air]).all(|t| t.len() <= LONGEST_TEXT);
    if !within(prep.weight_g, &(0.0..=100_000.0)) || !within(prep.salt_percent, &(0.0..=100.0)) || !text {
        return Err("a weight, salt or text that cannot be".into());
    }
    if !within(r.out_min, &(0.0..=LONGEST_MIN)) {
        return Err("a time out of the refrigerator that cannot be".into());
    }
    r.rules.check().map_err(|(field, why)| format!("{field}: {why}"))
}

fn check(cook: &CookRecord, seen: &mut BTreeSet<Uuid>) -> Result<(), String> {
    let mut once = |id: Uuid, what: &str| {
        if seen.insert(id) { Ok(()) } else { Err(format!("{what} {id} is there twice")) }
    };
    once(cook.id, "cook")?;
    if cook.pieces.is_empty() {
        return Err("has no piece".into());
    }
    for piece in &cook.pieces {
        once(piece.id, "piece")?;
        if piece.plans.is_empty() {
            return Err(format!("piece {} has no plan", piece.id));
        }
        for plan in &piece.plans {
            once(plan.id, "plan")?;
            check_request(&plan.request).map_err(|e| format!("plan {}: {e}", plan.id))?;
        }
    }
    let has_piece = |id: Option<Uuid>| id.is_none_or(|id| cook.pieces.iter().any(|p| p.id == id));
    for e in &cook.events {
        once(e.event.id, "event")?;
        if !has_piece(e.piece) {
            return Err(format!("event {} names a piece that is not there", e.event.id));
        }
    }
    CookState::fold(cook.events.iter().map(|e| &e.event))
        .map_err(|(i, refusal)| format!("event {}: {refusal}", cook.events[i].event.id))?;
    for r in &cook.readings {
        once(r.id, "reading")?;
        if !has_piece(r.piece) {
            return Err(format!("reading {} names a piece that is not there", r.id));
        }
        if !(-60.0..=300.0).contains(&r.celsius) {
            return Err(format!("reading {}: {} °C cannot be", r.id, r.celsius));
        }
    }
    Ok(())
}
