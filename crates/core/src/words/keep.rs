//! What is kept cold, and where, in words.

use jiff::Timestamp;

use super::minutes;
use crate::cook::Kept;
use crate::figures::limits;
use crate::keep::{StorageKind, StorageRecord};
use crate::units::{Kelvin, Units};

/// What something is kept in, by its kind.
///
/// ```
/// use hold_steady_core::{keep::StorageKind, words::storage_kind};
/// assert_eq!(storage_kind(StorageKind::Room), "the room");
/// ```
#[must_use]
pub const fn storage_kind(kind: StorageKind) -> &'static str {
    match kind {
        StorageKind::Refrigerator => "refrigerator",
        StorageKind::Freezer => "freezer",
        StorageKind::Room => "the room",
    }
}

/// How a refrigerator, a freezer or the room stands by its last reading, and whether that is as it should be.
///
/// ```
/// use hold_steady_core::{keep::*, units::Units, words::storage_stands};
/// let storage = Storage { id: uuid::Uuid::nil(), name: "walk-in".into(), kind: StorageKind::Refrigerator };
/// let record = StorageRecord { storage, since: jiff::Timestamp::UNIX_EPOCH, removed: false, instruments: vec![] };
/// let stands = storage_stands(&record, Units::default(), &|t| t.to_string());
/// assert_eq!(stands, ("Not read yet: nobody knows how cold it is.".into(), false));
/// ```
#[must_use]
pub fn storage_stands(
    record: &StorageRecord,
    units: Units,
    clock: &dyn Fn(Timestamp) -> String,
) -> (String, bool) {
    let Some(last) = record.last() else {
        return ("Not read yet: nobody knows how cold it is.".into(), false);
    };
    let read = format!("{} at {}", units.temperature_fixed(last.celsius), clock(last.at));
    let Some(warmest) = record.storage.kind.warmest() else { return (format!("{read}."), false) };
    if let Some(since) = record.warm_since() {
        let what = match record.storage.kind {
            StorageKind::Freezer => {
                "What is in it stays safe while it is frozen; what thaws counts its days again.".to_owned()
            }
            _ => format!(
                "See to it, and move what is in it. What was above that for {} in all is thrown away.",
                minutes(limits().clock_limit_min.minutes())
            ),
        };
        return (
            format!("{read}: warmer than {} since {}. {what}", units.temperature(warmest), clock(since)),
            true,
        );
    }
    if last.at_most() > warmest && last.reads_low > Kelvin::ZERO {
        return (
            format!(
                "{read}, by a thermometer nobody checked near there: it may be {}, and {} is the most. Check it.",
                units.temperature_fixed(last.at_most()),
                units.temperature(warmest)
            ),
            false,
        );
    }
    (format!("{read}; {} is the most.", units.temperature(warmest)), false)
}

/// Where a piece is kept: “frozen, in the chest freezer”.
///
/// ```
/// use hold_steady_core::{cook::Kept, words::kept_in};
/// assert_eq!(kept_in(&Kept { storage: None, frozen: true }), "frozen");
/// ```
#[must_use]
pub fn kept_in(kept: &Kept) -> String {
    let how = if kept.frozen { "frozen" } else { "cold" };
    match &kept.storage {
        Some(storage) => format!("{how}, in {}", storage.name),
        None => how.to_owned(),
    }
}

/// What is held hot, and how often it is read.
///
/// ```
/// let said = hold_steady_core::words::held_hot(hold_steady_core::units::Units::default());
/// assert_eq!(said, "At 57 °C or more it may wait. Read it at least every 2 h: from the last reading on, the clock runs.");
/// ```
#[must_use]
pub fn held_hot(units: Units) -> String {
    format!(
        "At {} or more it may wait. Read it at least every {}: from the last reading on, the clock runs.",
        limits().hot_hold_c.degrees(units),
        minutes(limits().hot_check_min.minutes())
    )
}
