//! What happened in a kitchen that an owner or an inspector asks after: at the door, to its rules and equipment, to its files.

use jiff::Timestamp;
use uuid::Uuid;

use super::Change;
use crate::who::{By, Deed, Role};

/// What happened.
#[derive(Debug, Clone, PartialEq)]
pub enum Happened {
    /// At the door, or to a file.
    Deed(Deed),
    /// Something the kitchen settled or keeps was changed.
    Changed(Box<Change>),
    /// A device was laid somewhere, or taken out.
    Laid {
        /// Which device.
        device: String,
        /// Where.
        place: LaidIn,
    },
    /// A book was brought in.
    BroughtIn {
        /// Of which kitchen.
        kitchen: String,
    },
}

/// Where a device was laid.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LaidIn {
    /// Into the water of a bath.
    Water,
    /// Into a piece.
    Piece,
    /// Into a refrigerator, a freezer or the room.
    Storage,
    /// Out of all.
    Nothing,
}

/// A line of the trail: one record each, which nothing changes.
#[derive(Debug, Clone, PartialEq)]
pub struct TrailRecord {
    /// Which.
    pub id: Uuid,
    /// When.
    pub at: Timestamp,
    /// By whom, from which screen.
    pub by: By,
    /// In what role, where that was written down.
    pub role: Option<Role>,
    /// What.
    pub what: Happened,
}
