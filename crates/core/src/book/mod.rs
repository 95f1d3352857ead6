//! The book: what was planned beside what was done, and the open format it travels in.
//!
//! An export is one JSON object with `format` and `version`. Every version that was ever written is
//! read for ever: `tests/golden/` keeps one file of each.

mod cook;
mod entry;
mod file;
mod hours;
mod incoming;
mod kitchen;
mod last;
mod lists;
mod out;
mod plan;
mod records;
mod trail;
mod upgrade;

pub use crate::bath::{
    BathRecord, IMPORTED, InstrumentRecord, KeptVessel, Minute, ProbeLog, REPORTED, ReadingRecord,
    SettingRecord, Thinned, Worse, by_minute, comes_often, minute_of, minutes, usual_air,
};
pub use cook::Immersion;
pub use entry::{BookEntry, text_cell};
pub use file::{
    FILE_VERSION, PLAN_FORMAT, PRESETS_FORMAT, PlanFile, PresetsFile, check_preset, read_plan_file,
    read_presets_file,
};
pub use hours::{After, HourRecord, ThinnedHour};
pub use incoming::{Brought, Collected, Incoming, LeftOut, Remarks, Taker, read_book, read_export};
pub use kitchen::{Change, ChangeRecord, DeviceRecord, KitchenRecord};
pub use last::LastTime;
pub use out::{CsvWriter, ExportWriter};
pub use plan::{Checked, PlanRecord};
pub use records::{BagRecord, CookRecord, EventRecord, Export, PieceRecord, Subject, derived_id};

pub use trail::{Happened, LaidIn, TrailRecord};
pub use upgrade::letter;

use serde::Deserialize;

use crate::Unfit;
use crate::food::OwnFood;
use upgrade::A_BAG_EACH;

/// The `format` of an export.
pub const FORMAT: &str = "hold-steady/kitchen";
/// The `version` written; every one up to it is read.
pub const VERSION: u32 = 10;

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
    /// Something that every file has is not there.
    #[error("it has no “{0}”")]
    Missing(String),
    /// One of its lists cannot be read.
    #[error("{list}: {reason}")]
    List {
        /// Which.
        list: String,
        /// What is wrong.
        reason: String,
    },
    /// The file itself cannot be read.
    #[error("it cannot be read: {0}")]
    Io(String),
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
}

impl From<std::io::Error> for ImportError {
    fn from(e: std::io::Error) -> Self {
        Self::Io(e.to_string())
    }
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
    check_own(food).map_err(|reason| ImportError::OwnFood { id: id(), reason: reason.into() })
}

fn check_own(food: &OwnFood) -> Result<(), Unfit> {
    food.build().map(|_| ()).map_err(|errors| {
        errors
            .into_iter()
            .map(|(field, text)| format!("{field}: {text}"))
            .collect::<Vec<_>>()
            .join(" ")
            .into()
    })
}
