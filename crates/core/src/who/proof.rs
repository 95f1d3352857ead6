//! How far it was proved who somebody is, and on what kind of screen.

use jiff::SignedDuration;
use serde::{Deserialize, Serialize};

use super::{Right, Role, SHARED_IDLE_MINUTES};

/// How far it was proved that whoever acts is who they say.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Proof {
    /// A name was tapped on a screen that several share: named, not proven.
    Named,
    /// By their PIN, on a screen that several share.
    Pin,
    /// By a password on a screen of their own; or nobody had to prove anything (on the kitchen’s own machine alone).
    #[default]
    Enough,
}

impl Proof {
    /// Whether a record need say nothing of it: it was proved, or nothing had to be.
    ///
    /// ```
    /// use hold_steady_core::who::Proof;
    /// assert!(Proof::Pin.is_enough() && !Proof::Named.is_enough());
    /// ```
    #[must_use]
    pub const fn is_enough(&self) -> bool {
        !matches!(self, Self::Named)
    }

    /// Whether so much proof is enough for a right. A name alone plans, cooks and reads; what the kitchen settles takes a PIN;
    /// people, devices, exports and sessions a password, on a screen of one’s own.
    ///
    /// ```
    /// use hold_steady_core::who::{Proof, Right};
    /// assert!(Proof::Named.reaches(Right::Cook) && !Proof::Named.reaches(Right::Settle));
    /// assert!(Proof::Pin.reaches(Right::Settle) && !Proof::Pin.reaches(Right::Own));
    /// ```
    #[must_use]
    pub const fn reaches(self, right: Right) -> bool {
        match right {
            Right::Anyone | Right::Report | Right::Watch | Right::Cook => true,
            Right::Settle | Right::Trail => !matches!(self, Self::Named),
            Right::Own => matches!(self, Self::Enough),
        }
    }
}

/// What is taken back or set right: whose it was, and how long ago it was written down.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Written {
    /// By whoever takes it back.
    ByThem {
        /// How long ago.
        ago: SignedDuration,
    },
    /// By somebody else.
    ByAnother,
    /// By nobody who said who they were: the kitchen, the clock.
    ByNobody,
}

/// Why somebody may not take something back or set it right.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum MayNot {
    /// It takes their PIN.
    WithoutPin,
    /// Another wrote it: that is for a chef.
    WhatOthersWrote,
}

/// Whether somebody may take back, set right or delete what was written down.
///
/// What others wrote is for a chef or an owner. On a screen that several share it takes a PIN; but for a slip: what was tapped there
/// under the same name in the last five minutes.
///
/// ```
/// use hold_steady_core::who::{MayNot, Proof, Role, Written, may_correct};
/// use jiff::SignedDuration;
/// let slip = Written::ByThem { ago: SignedDuration::from_secs(20) };
/// assert_eq!(may_correct(Role::Cook, Proof::Named, slip), Ok(()));
/// let old = Written::ByThem { ago: SignedDuration::from_mins(20) };
/// assert_eq!(may_correct(Role::Cook, Proof::Named, old), Err(MayNot::WithoutPin));
/// assert_eq!(may_correct(Role::Cook, Proof::Pin, Written::ByAnother), Err(MayNot::WhatOthersWrote));
/// assert_eq!(may_correct(Role::Chef, Proof::Pin, Written::ByAnother), Ok(()));
/// ```
///
/// # Errors
/// What is missing.
pub fn may_correct(role: Role, proof: Proof, written: Written) -> Result<(), MayNot> {
    let slip =
        matches!(written, Written::ByThem { ago } if ago <= SignedDuration::from_mins(SHARED_IDLE_MINUTES));
    if written == Written::ByAnother && !role.may(Right::Settle) && role != Role::Program {
        return Err(MayNot::WhatOthersWrote);
    }
    if slip || proof.is_enough() { Ok(()) } else { Err(MayNot::WithoutPin) }
}

/// What a screen is that an owner has enrolled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum ScreenKind {
    /// Several cook at it: a name by one tap.
    Shared,
    /// It hangs on the wall: it shows, and says that an alarm was heard.
    Display,
}

impl ScreenKind {
    /// All of them.
    pub const ALL: [Self; 2] = [Self::Shared, Self::Display];

    /// The word in records.
    ///
    /// ```
    /// use hold_steady_core::who::ScreenKind;
    /// assert_eq!(ScreenKind::of(ScreenKind::Display.id()), Some(ScreenKind::Display));
    /// assert_eq!(ScreenKind::of("tablet"), None);
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Shared => "shared",
            Self::Display => "display",
        }
    }

    /// The kind of a word.
    ///
    /// ```
    /// use hold_steady_core::who::ScreenKind;
    /// assert_eq!(ScreenKind::of("shared"), Some(ScreenKind::Shared));
    /// ```
    #[must_use]
    pub fn of(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|k| k.id() == word)
    }
}
