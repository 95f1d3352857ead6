//! What happened at the door, and what left the house: one record each, which nothing changes.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::{Role, ScreenKind};

/// What somebody did, or was refused, that no other record tells.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
    /// Somebody tapped their name on a shared screen.
    NameTapped,
    /// Somebody gave their PIN there.
    PinGiven,
    /// Somebody gave another PIN than theirs.
    PinWrong {
        /// Whose it was to be.
        name: String,
        /// Their name, or the screen, takes no PIN any more until an owner unlocks it.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        locked: bool,
    },
    /// Somebody chose a PIN.
    PinChosen,
    /// A name or a screen takes PINs again.
    Unlocked {
        /// Which.
        name: String,
    },
    /// When shared screens ask for a PIN.
    PinsAsked {
        /// For every name; else for corrections and rules.
        always: bool,
    },
    /// A screen was enrolled.
    ScreenEnrolled {
        /// What it is called.
        name: String,
        /// What it is.
        screen: ScreenKind,
    },
    /// A screen is enrolled no more.
    ScreenEnded {
        /// Which.
        name: String,
    },
    /// A period was opened to inspectors.
    PeriodOpened {
        /// From when.
        from: Timestamp,
        /// Until when.
        until: Timestamp,
    },
    /// A period is closed to inspectors.
    PeriodClosed {
        /// From when it was.
        from: Timestamp,
        /// Until when.
        until: Timestamp,
    },
    /// A device was made known.
    DeviceMade {
        /// What it is called.
        name: String,
        /// Until when its token counts; for good without.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        until: Option<Timestamp>,
    },
    /// A device has another token.
    DeviceRenewed {
        /// Which.
        name: String,
        /// Until when its token counts; for good without.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        until: Option<Timestamp>,
    },
    /// A device’s token counts no more.
    DeviceRevoked {
        /// Which.
        name: String,
    },
    /// It was said by how much a device’s clock is ahead.
    DeviceClock {
        /// Which.
        name: String,
        /// Seconds.
        ahead_s: f64,
    },
    /// The whole database was copied.
    Copied {
        /// Into which file.
        file: String,
    },
    /// A copy was put in the place of the database.
    Restored {
        /// Which.
        file: String,
    },
    /// Something was refused because of who asked.
    Refused {
        /// What was asked for: the address, without what was asked.
        path: String,
    },
    /// The book, a table of it or the trail left the house.
    TakenOut {
        /// Which file.
        file: String,
    },
}
