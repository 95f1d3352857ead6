//! The records of a kitchen, as they stand in the store and travel in an export.
//!
//! A cook is a bag: a piece, or several alike, that goes into a bath; bags begun together share their plan's wishes. A bath is
//! a vessel run from filling to emptying: it has settings (what it was told to be) and instruments with readings (what it was), and neither stands for the
//! other. What happened has a subject: the cook, a piece, a bag or a bath. Where a cook stands follows from what
//! happened and is stored nowhere.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{KitchenRecord, PlanRecord};
use crate::bath::BathRecord;
use crate::cook::Event;

/// A kitchen with all its cooks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Export {
    /// [`super::FORMAT`].
    pub format: String,
    /// [`super::VERSION`] when written.
    pub version: u32,
    /// When it was written.
    pub exported_at: Timestamp,
    /// The kitchen it came from.
    pub kitchen: KitchenRecord,
    /// Its cooks, oldest first, each with the baths it lies in.
    pub cooks: Vec<CookRecord>,
    /// Its baths, those too in which no cook lay.
    #[serde(skip)]
    pub baths: Vec<BathRecord>,
}

impl Export {
    /// A small kitchen's book, for examples and tests: the first cook was salted, dropped, pulled, eaten and rated, the second
    /// lies in its bath. An export of an older version, read as every other.
    ///
    /// ```
    /// # use hold_steady_core::{book::Export, cook::Stage};
    /// let stages: Vec<Stage> = Export::example().cooks.iter().map(|cook| cook.state().stage()).collect();
    /// assert_eq!(stages, [Stage::Eaten, Stage::InBath]);
    /// ```
    ///
    /// # Panics
    /// Never: the file is part of the crate, and is read by its tests.
    #[must_use]
    pub fn example() -> Self {
        const FILE: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
        let read_at = "2026-12-01T12:00:00Z".parse().expect("an instant");
        super::read_export(FILE, read_at).expect("the crate's own file").export
    }
}

/// One cook.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CookRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was begun.
    pub created_at: Timestamp,
    /// What the cook calls it.
    pub title: String,
    /// What it shares its plan's wishes with: cooks that were begun together, bag by bag, are of one such; from version 9 on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub together: Option<Uuid>,
    /// What is cooked: one piece, or several alike in one bag.
    pub piece: PieceRecord,
    /// The bag it lies in.
    pub bag: BagRecord,
    /// The baths that goes into. In a file they stand beside the cooks that name them, from version 8 on.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub baths: Vec<BathRecord>,
    /// What happened, in the order recorded.
    pub events: Vec<EventRecord>,
}

/// The piece of a cook, or pieces alike, with the plans made for it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PieceRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was added.
    pub created_at: Timestamp,
    /// Plans, the first made first. Later engines add theirs; none is ever replaced.
    pub plans: Vec<PlanRecord>,
}

/// A bag, or a jar: what goes into the bath together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct BagRecord {
    /// Identifier.
    pub id: Uuid,
    /// The bath it goes into.
    pub bath: Uuid,
    /// What tells it from the others that were begun with it; empty for one by itself.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub letter: String,
}

/// What an event is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Subject {
    /// The whole cook.
    #[default]
    Cook,
    /// A piece of it.
    Piece(Uuid),
    /// A bag of it.
    Bag(Uuid),
    /// A bath.
    Bath(Uuid),
}

impl Subject {
    /// Its kind, as a word of records.
    ///
    /// ```
    /// use hold_steady_core::book::Subject;
    /// assert_eq!((Subject::Cook.kind(), Subject::Bag(uuid::Uuid::nil()).kind()), ("cook", "bag"));
    /// ```
    #[must_use]
    pub const fn kind(self) -> &'static str {
        match self {
            Self::Cook => "cook",
            Self::Piece(_) => "piece",
            Self::Bag(_) => "bag",
            Self::Bath(_) => "bath",
        }
    }

    /// Its identifier; the cook's own is not said again.
    ///
    /// ```
    /// use hold_steady_core::book::Subject;
    /// assert_eq!(Subject::Bath(uuid::Uuid::nil()).id(), Some(uuid::Uuid::nil()));
    /// assert_eq!(Subject::Cook.id(), None);
    /// ```
    #[must_use]
    pub const fn id(self) -> Option<Uuid> {
        match self {
            Self::Cook => None,
            Self::Piece(id) | Self::Bag(id) | Self::Bath(id) => Some(id),
        }
    }

    /// One read back from its two parts.
    ///
    /// ```
    /// use hold_steady_core::book::Subject;
    /// assert_eq!(Subject::of("cook", None), Some(Subject::Cook));
    /// assert_eq!(Subject::of("bag", None), None, "which bag?");
    /// ```
    #[must_use]
    pub fn of(kind: &str, id: Option<Uuid>) -> Option<Self> {
        match (kind, id) {
            ("cook", None) => Some(Self::Cook),
            ("piece", Some(id)) => Some(Self::Piece(id)),
            ("bag", Some(id)) => Some(Self::Bag(id)),
            ("bath", Some(id)) => Some(Self::Bath(id)),
            _ => None,
        }
    }
}

/// An event and what it is about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct EventRecord {
    /// What it is about.
    #[serde(default)]
    pub subject: Subject,
    /// The event.
    #[serde(flatten)]
    pub event: Event,
}

/// The identifier of what an older version had no record of (a cook's bag, its bath, what its readings were taken
/// with): the same wherever it is worked out, so that a file and a database of the same cook meet.
///
/// ```
/// use hold_steady_core::book::derived_id;
/// let cook = uuid::Uuid::from_u128(1);
/// assert_eq!(derived_id(cook, "bag"), derived_id(cook, "bag"));
/// assert_ne!(derived_id(cook, "bag"), derived_id(cook, "bath"));
/// ```
#[must_use]
pub fn derived_id(of: Uuid, what: &str) -> Uuid {
    Uuid::new_v5(&of, what.as_bytes())
}
