//! What happened at the door, and what left the house: one record each, which nothing changes.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{By, Role};

/// What somebody did, or was refused, that no other record tells.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Deed {
    /// Somebody proved who they are.
    SignedIn,
    /// Somebody did not: under which name they tried.
    NotSignedIn {
        /// The name that was typed, where it is one of the kitchen's; nobody's else (people type passwords there).
        #[serde(default, skip_serializing_if = "Option::is_none")]
        name: Option<String>,
        /// The address it came from.
        address: String,
    },
    /// Somebody left the door closed behind them.
    SignedOut,
    /// A session was ended by somebody else than time.
    SessionEnded {
        /// Whose.
        name: String,
    },
    /// All sessions of somebody were ended.
    SignedOutEverywhere {
        /// Whose.
        name: String,
    },
    /// A code was made by which somebody chooses a password.
    Invited {
        /// Whom it is for; nobody in particular where it is for the first owner.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        name: Option<String>,
    },
    /// Somebody chose a password.
    PasswordChosen,
    /// Somebody was given another role.
    RoleGiven {
        /// Who.
        name: String,
        /// Which it was.
        from: Role,
        /// Which it is.
        to: Role,
    },
    /// Something was refused because of who asked.
    Refused {
        /// What was asked for: the address, without what was asked.
        path: String,
    },
    /// The book or a table of it left the house.
    TakenOut {
        /// Which file.
        file: String,
    },
}

/// A deed as it is written down.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DeedRecord {
    /// Which.
    pub id: Uuid,
    /// When.
    pub at: Timestamp,
    /// By whom, from which screen.
    pub by: By,
    /// In what role.
    pub role: Role,
    /// What.
    pub deed: Deed,
}
