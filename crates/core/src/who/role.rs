//! In what role somebody acts, and what each may.

use serde::{Deserialize, Serialize};

/// In what role somebody acts. What each may is said by [`Role::may`]; which right an address needs, by the pages.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Role {
    /// Whoever is at the door.
    Nobody,
    /// A thermometer or a heater that reports.
    Device,
    /// A screen on the wall.
    Display,
    /// Whoever looks whether all was done as it should be.
    Inspector,
    /// Whoever plans and cooks.
    Cook,
    /// Whoever says how it is done here.
    Chef,
    /// Whose kitchen it is.
    Owner,
    /// The program itself: the clock, a demonstration.
    Program,
}

/// What somebody must be allowed to, for one thing or another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Right {
    /// What is nobody's secret: how the pages look, the calculation, the door itself.
    Anyone,
    /// Sending readings.
    Report,
    /// Seeing where the kitchen stands, and saying that an alarm was heard.
    Watch,
    /// Planning, cooking, reading, finishing, the book.
    Cook,
    /// What the kitchen has settled: rules, vessels, thermometers, foods, presets; correcting what others wrote.
    Settle,
    /// People, devices, what is taken out and brought in, sessions, the name.
    Own,
    /// Who did what.
    Trail,
}

impl Right {
    /// All of them.
    pub const ALL: [Self; 7] =
        [Self::Anyone, Self::Report, Self::Watch, Self::Cook, Self::Settle, Self::Own, Self::Trail];
}

impl Role {
    /// All of them.
    pub const ALL: [Self; 8] = [
        Self::Nobody,
        Self::Device,
        Self::Display,
        Self::Inspector,
        Self::Cook,
        Self::Chef,
        Self::Owner,
        Self::Program,
    ];

    /// Those a person can have.
    pub const OF_PEOPLE: [Self; 4] = [Self::Cook, Self::Chef, Self::Owner, Self::Inspector];

    /// The word in records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::who::Role::Chef.id(), "chef");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Nobody => "nobody",
            Self::Device => "device",
            Self::Display => "display",
            Self::Inspector => "inspector",
            Self::Cook => "cook",
            Self::Chef => "chef",
            Self::Owner => "owner",
            Self::Program => "program",
        }
    }

    /// The role of a word.
    ///
    /// ```
    /// use hold_steady_core::who::Role;
    /// assert_eq!(Role::of("owner"), Some(Role::Owner));
    /// assert_eq!(Role::of("king"), None);
    /// ```
    #[must_use]
    pub fn of(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|r| r.id() == word)
    }

    /// Whether somebody in this role may.
    ///
    /// A chef may what a cook may, an owner what a chef may, a cook what a screen on the wall may. An inspector sees who did
    /// what and nothing else: no guest, no remark. A device sends readings and reads nothing.
    ///
    /// ```
    /// use hold_steady_core::who::{Right, Role};
    /// assert!(Role::Owner.may(Right::Cook) && !Role::Cook.may(Right::Settle));
    /// assert!(!Role::Inspector.may(Right::Watch) && !Role::Device.may(Right::Watch));
    /// ```
    #[must_use]
    pub const fn may(self, right: Right) -> bool {
        match right {
            Right::Anyone => true,
            Right::Report => matches!(self, Self::Device),
            Right::Watch => matches!(self, Self::Display | Self::Cook | Self::Chef | Self::Owner),
            Right::Cook => matches!(self, Self::Cook | Self::Chef | Self::Owner),
            Right::Settle => matches!(self, Self::Chef | Self::Owner),
            Right::Own => matches!(self, Self::Owner),
            Right::Trail => matches!(self, Self::Inspector | Self::Owner),
        }
    }
}
