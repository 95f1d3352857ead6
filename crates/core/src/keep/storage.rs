//! Refrigerators, freezers and the room: what is kept in them, and what was read there.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::Unfit;
use crate::bath::{InstrumentRecord, ReadingRecord, Worse, by_minute, trust};
use crate::figures::cooling;
use crate::limits::LONGEST_NAME;
use crate::units::{Blanks, Celsius, Kelvin, Units};

/// What something is kept in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum StorageKind {
    /// Cold.
    Refrigerator,
    /// Frozen.
    Freezer,
    /// The kitchen's own air: nothing is kept in it, and it is measured all the same.
    Room,
}

impl StorageKind {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Refrigerator, Self::Freezer, Self::Room];

    /// The word in forms and records.
    ///
    /// ```
    /// use hold_steady_core::keep::StorageKind;
    /// assert_eq!(StorageKind::from_id("freezer").map(StorageKind::id), Some("freezer"));
    /// assert_eq!(StorageKind::from_id("cellar"), None);
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Refrigerator => "refrigerator",
            Self::Freezer => "freezer",
            Self::Room => "room",
        }
    }

    /// The one with this word.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::keep::StorageKind::from_id(""), None);
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|kind| kind.id() == id)
    }

    /// The warmest it may be, °C; none of a room. What is frozen is safe: a freezer's is for its quality.
    ///
    /// Refrigerator: FDA Food Code 2022, 3-501.16, from memory (`data/cooling.json`). Freezer: common practice.
    ///
    /// ```
    /// use hold_steady_core::keep::StorageKind;
    /// assert_eq!(StorageKind::Refrigerator.warmest().map(|c| c.value()), Some(5.0));
    /// ```
    #[must_use]
    pub fn warmest(self) -> Option<Celsius> {
        match self {
            Self::Refrigerator => Some(cooling().stage_2_to_c.celsius()),
            Self::Freezer => Some(cooling().freezer_c.celsius()),
            Self::Room => None,
        }
    }

    /// Whether something cooked may be put away in it.
    ///
    /// ```
    /// assert!(!hold_steady_core::keep::StorageKind::Room.keeps());
    /// ```
    #[must_use]
    pub const fn keeps(self) -> bool {
        matches!(self, Self::Refrigerator | Self::Freezer)
    }
}

/// A refrigerator, a freezer or the room, as the kitchen knows it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Storage {
    /// Which.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// What it is.
    pub kind: StorageKind,
}

impl Storage {
    /// Whether its name is of bearable length.
    ///
    /// # Errors
    /// The range, in a sentence.
    ///
    /// ```
    /// use hold_steady_core::keep::{Storage, StorageKind};
    /// let walk_in = Storage { id: uuid::Uuid::nil(), name: " ".into(), kind: StorageKind::Refrigerator };
    /// assert_eq!(walk_in.check(), Err("The name has from 1 to 120 characters.".into()));
    /// ```
    pub fn check(&self) -> Result<(), Unfit> {
        let letters = self.name.trim().chars().count();
        if (1..=LONGEST_NAME).contains(&letters) && !self.name.chars().any(char::is_control) {
            return Ok(());
        }
        Err(format!("The name has from 1 to {LONGEST_NAME} characters.").into())
    }
}

/// The same with what it was read with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct StorageRecord {
    /// It.
    #[serde(flatten)]
    pub storage: Storage,
    /// From when on it is known.
    pub since: Timestamp,
    /// It was taken off the lists.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub removed: bool,
    /// What it was read with.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub instruments: Vec<InstrumentRecord>,
}

/// A reading of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StorageRead {
    /// When.
    pub at: Timestamp,
    /// What, its thermometer's offset taken off.
    pub celsius: Celsius,
    /// How much warmer it may have been, as its thermometer was checked (or not).
    pub reads_low: Kelvin,
}

impl StorageRead {
    /// The warmest it may have been.
    ///
    /// ```
    /// use hold_steady_core::{keep::StorageRead, units::{Celsius, Kelvin}};
    /// let read = StorageRead { at: jiff::Timestamp::UNIX_EPOCH, celsius: Celsius::new(4.0), reads_low: Kelvin::new(0.5) };
    /// assert_eq!(read.at_most().value(), 4.5);
    /// ```
    #[must_use]
    pub fn at_most(&self) -> Celsius {
        self.celsius + self.reads_low
    }
}

impl StorageRecord {
    /// What was read in it, by time, told apart by the minute; of what was read in one second, with one thermometer or several,
    /// the warmer counts.
    ///
    /// ```
    /// use hold_steady_core::{book::*, keep::*, units::Celsius};
    /// let read = |c| ReadingRecord { at: jiff::Timestamp::UNIX_EPOCH, celsius: Celsius::new(c), quality: "typed".into() };
    /// let with = |id, c| InstrumentRecord {
    ///     id: uuid::Uuid::from_u128(id), name: "probe".into(), piece: None, centred: false, thermometer: None,
    ///     checks: vec![], readings: vec![read(c)], thinned: None,
    /// };
    /// let walk_in = StorageRecord {
    ///     storage: Storage { id: uuid::Uuid::nil(), name: "walk-in".into(), kind: StorageKind::Refrigerator },
    ///     since: jiff::Timestamp::UNIX_EPOCH, removed: false, instruments: vec![with(1, 3.0), with(2, 6.0)],
    /// };
    /// assert_eq!(walk_in.reads().iter().map(|r| r.celsius.value()).collect::<Vec<_>>(), [6.0]);
    /// ```
    #[must_use]
    pub fn reads(&self) -> Vec<StorageRead> {
        let mut all: Vec<StorageRead> = self.instruments.iter().flat_map(of_one).collect();
        // The warmer one last, so that it is the one that stays.
        all.sort_by(|a, b| a.at.cmp(&b.at).then(a.at_most().value().total_cmp(&b.at_most().value())));
        all.dedup_by(|later, first| {
            let same = later.at.as_second() == first.at.as_second();
            if same {
                *first = *later;
            }
            same
        });
        all
    }
}

impl StorageRecord {
    /// The last reading of it.
    ///
    /// ```
    /// # use hold_steady_core::keep::*;
    /// # let freezer = Storage { id: uuid::Uuid::nil(), name: "chest".into(), kind: StorageKind::Freezer };
    /// let unread = StorageRecord { storage: freezer, since: jiff::Timestamp::UNIX_EPOCH, removed: false, instruments: vec![] };
    /// assert_eq!((unread.last(), unread.warm_since()), (None, None));
    /// ```
    #[must_use]
    pub fn last(&self) -> Option<StorageRead> {
        self.reads().pop()
    }

    /// Since when every reading of it is warmer than it may be; none where the last is not. (That a thermometer nobody checked
    /// may read too low is said beside it.)
    ///
    /// ```
    /// # use hold_steady_core::{book::{InstrumentRecord, ReadingRecord}, keep::*, units::Celsius};
    /// let read = |s, c| ReadingRecord { at: jiff::Timestamp::from_second(s).expect("near"), celsius: Celsius::new(c), quality: "typed".into() };
    /// let probe = InstrumentRecord {
    ///     id: uuid::Uuid::nil(), name: "probe".into(), piece: None, centred: false, thermometer: None, checks: vec![],
    ///     readings: vec![read(0, 4.0), read(600, 7.0), read(1200, 8.0)], thinned: None,
    /// };
    /// let walk_in = StorageRecord {
    ///     storage: Storage { id: uuid::Uuid::nil(), name: "walk-in".into(), kind: StorageKind::Refrigerator },
    ///     since: jiff::Timestamp::UNIX_EPOCH, removed: false, instruments: vec![probe],
    /// };
    /// assert_eq!(walk_in.warm_since().map(|t| t.as_second()), Some(600));
    /// ```
    #[must_use]
    pub fn warm_since(&self) -> Option<Timestamp> {
        let warmest = self.storage.kind.warmest()?;
        let warm = |r: &StorageRead| r.celsius > warmest;
        self.reads().iter().rev().take_while(|r| warm(r)).last().map(|r| r.at)
    }
}

/// A reading of it as typed: what a refrigerator, a freezer or a kitchen can be.
///
/// # Errors
/// What was typed, and the range, in a sentence.
///
/// ```
/// use hold_steady_core::{keep::read_storage, units::Units};
/// assert_eq!(read_storage("4.5", Units::default()).map(|c| c.value()), Ok(4.5));
/// assert!(read_storage("400", Units::default()).is_err_and(|e| e.to_string().contains("-40 °C")));
/// ```
pub fn read_storage(text: &str, units: Units) -> Result<Celsius, Unfit> {
    const FIELD: &str = "degrees";
    let (low, high) = (Celsius::new(-40.0), Celsius::new(60.0));
    if text.trim().is_empty() {
        return Err(format!(
            "Type what it reads, {} to {}.",
            units.temperature(low),
            units.temperature(high)
        )
        .into());
    }
    let mut blanks = Blanks::new(units, units);
    let c = blanks.degrees(FIELD, &mut text.to_owned(), low, (low, high));
    blanks.errors.remove(FIELD).map_or(Ok(c), |why| Err(why.into()))
}

fn of_one(instrument: &InstrumentRecord) -> Vec<StorageRead> {
    let read = |r: &ReadingRecord| {
        let trust = trust(&instrument.checks, r.celsius, r.at);
        StorageRead { at: r.at, celsius: r.celsius - trust.offset_of_cold(), reads_low: trust.error }
    };
    by_minute(&instrument.readings, Worse::Warmer).iter().map(read).collect()
}
