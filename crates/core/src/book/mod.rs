//! The book: what was planned beside what was done, and the open format it travels in.
//!
//! An export is one JSON object with `format` and `version`. Every version that was ever written is
//! read for ever: `tests/golden/` keeps one file of each.

mod entry;
mod file;
mod incoming;
mod last;
mod minutes;
mod out;
mod records;
mod upgrade;

pub use entry::BookEntry;
pub use file::{
    FILE_VERSION, PLAN_FORMAT, PRESETS_FORMAT, PlanFile, PresetsFile, check_preset, read_plan_file,
    read_presets_file,
};
pub use incoming::{Incoming, LeftOut, MOST_COOKS, MOST_UNDER_WAY, MOST_VESSELS, read_export};
pub use last::LastTime;
pub use minutes::{Minute, by_minute, comes_often, minute_of, minutes};
pub use out::{CsvWriter, ExportWriter};
pub use records::{
    BagRecord, BathRecord, Change, ChangeRecord, Checked, CookRecord, EventRecord, Export, IMPORTED,
    Immersion, InstrumentRecord, KeptVessel, KitchenRecord, PieceRecord, PlanRecord, ProbeLog, REPORTED,
    ReadingRecord, SettingRecord, Subject, Thinned, derived_id, usual_air,
};

use serde::Deserialize;

use crate::food::OwnFood;

/// The `format` of an export.
pub const FORMAT: &str = "hold-steady/kitchen";
/// The `version` written; every one up to it is read.
pub const VERSION: u32 = 7;

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
