//! The book: what was planned beside what was done, and the open format it travels in.
//!
//! An export is one JSON object with `format` and `version`. Every version that was ever written is
//! read for ever: `tests/golden/` keeps one file of each.

mod entry;
mod file;
mod incoming;

pub use entry::{BookEntry, csv};
pub use file::{
    FILE_VERSION, PLAN_FORMAT, PRESETS_FORMAT, PlanFile, PresetsFile, check_preset, read_plan_file,
    read_presets_file,
};
pub use incoming::{Incoming, LeftOut, MOST_COOKS, MOST_UNDER_WAY, read_export};

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::cook::{CookState, Event, EventKind, MOST_EVENTS, Refusal};
use crate::food::{OwnFood, Pantry};
use crate::heat::HeatError;
use crate::plan::{KitchenRules, Plan, PlanForm, PlanRequest, plan};
use crate::units::Units;

/// The `format` of an export.
pub const FORMAT: &str = "hold-steady/kitchen";
/// The `version` written; every one up to it is read.
pub const VERSION: u32 = 3;

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
    /// What it took off its lists; from version 3 on.
    #[serde(default, skip_serializing_if = "Pantry::is_empty")]
    pub removed: Pantry,
    /// What it had settled; from version 3 on. An import does not take it over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rules: Option<KitchenRules>,
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

    /// Where it stands after one more event.
    ///
    /// # Errors
    /// When that cannot have happened, or there are too many already.
    pub fn with(&self, event: &Event) -> Result<CookState, Refusal> {
        let ends = matches!(event.kind, EventKind::Deleted | EventKind::Discarded | EventKind::Eaten);
        if self.events.len() >= MOST_EVENTS && !ends {
            return Err(Refusal::TooMany);
        }
        self.state().apply(event)
    }

    /// The plan that is being cooked: the first one of the first piece.
    #[must_use]
    pub fn plan_record(&self) -> Option<&PlanRecord> {
        self.pieces.first()?.plans.first()
    }

    /// The bath's readings, `(instant, °C)`, on the clock as it is now.
    #[must_use]
    pub fn bath_readings(&self) -> Vec<(Timestamp, f64)> {
        let set: Vec<(Timestamp, SignedDuration)> = self
            .events
            .iter()
            .filter_map(|e| match e.event.kind {
                EventKind::ClockSet { by_s } => {
                    Some((e.event.happened_at, SignedDuration::try_from_secs_f64(by_s).ok()?))
                }
                _ => None,
            })
            .collect();
        let on_this_clock = |at: Timestamp| {
            set.iter().fold(at, |at, (then, by)| {
                // Read before the clock was set, by the clock as it was.
                let before = then.checked_sub(*by).is_ok_and(|old| at <= old);
                if before { at.checked_add(*by).unwrap_or(at) } else { at }
            })
        };
        let bath = self.readings.iter().filter(|r| r.instrument == Instrument::Bath);
        bath.map(|r| (on_this_clock(r.at), r.celsius)).collect()
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
    /// More of something than is taken.
    #[error("{field}: {got}; at most {most} are taken from one file: split it")]
    TooMany {
        /// Of what.
        field: String,
        /// How many are taken.
        most: usize,
        /// How many there are.
        got: usize,
    },
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

fn check_own(food: &OwnFood) -> Result<(), String> {
    food.build().map(|_| ()).map_err(|errors| {
        errors.into_iter().map(|(field, text)| format!("{field}: {text}")).collect::<Vec<_>>().join(" ")
    })
}
