//! Who did something, named as of then, so that a record says it for ever; who may do what; and what happened at the door.

mod deed;
mod door;
mod proof;
mod role;

pub use deed::Deed;
pub use door::{
    CODE_HOURS, FREE_AT_AN_ADDRESS, FREE_TRIES, PIN_DIGITS, PIN_MINUTES, SESSION_DAYS, SESSION_IDLE_HOURS,
    SHARED_IDLE_MINUTES, SHORTEST_PASSWORD, WRONG_PINS, unfit_pin, wait_after,
};
pub use proof::{MayNot, Proof, ScreenKind, Written, may_correct};
pub use role::{Right, Role};

use serde::{Deserialize, Deserializer, Serialize};
use uuid::Uuid;

/// Whoever did something, as of then.
///
/// Nobody has to say who they are: then there is no person, and the name says what wrote it down (the kitchen, the clock, an
/// import). A person of that name is another matter.
#[derive(Debug, Clone, PartialEq, Eq, Default, Hash, PartialOrd, Ord, Serialize)]
pub struct By {
    /// Which of the kitchen's people; none where nobody said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub person: Option<Uuid>,
    /// What they were called then.
    pub name: String,
    /// The screen it was tapped on, where one is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub screen: Option<Uuid>,
    /// How far it was proved that it was them.
    #[serde(skip_serializing_if = "Proof::is_enough")]
    pub proof: Proof,
}

impl By {
    /// Nobody in particular: the kitchen, the program, the command line.
    ///
    /// ```
    /// use hold_steady_core::who::By;
    /// assert!(!By::nobody("kitchen").is_somebody());
    /// ```
    #[must_use]
    pub fn nobody(name: &str) -> Self {
        Self { name: name.to_owned(), ..Self::default() }
    }

    /// One of the kitchen's people.
    ///
    /// ```
    /// use hold_steady_core::who::By;
    /// let cook = By::person(uuid::Uuid::from_u128(1), "cook");
    /// assert!(cook.is_somebody(), "a person called cook is a person");
    /// ```
    #[must_use]
    pub fn person(id: Uuid, name: &str) -> Self {
        Self { person: Some(id), name: name.to_owned(), ..Self::default() }
    }

    /// The name, with what was not proved of it: for whoever reads who did what.
    ///
    /// ```
    /// use hold_steady_core::who::{By, Proof};
    /// let ida = By { proof: Proof::Named, ..By::person(uuid::Uuid::from_u128(1), "Ida") };
    /// assert_eq!(ida.told(), "Ida (named, not proven)");
    /// assert_eq!(By::nobody("clock").told(), "clock");
    /// ```
    #[must_use]
    pub fn told(&self) -> String {
        if self.proof.is_enough() { self.name.clone() } else { format!("{} (named, not proven)", self.name) }
    }

    /// Whether somebody said who they were.
    ///
    /// ```
    /// use hold_steady_core::who::By;
    /// assert!(By::from("Ida").is_somebody(), "written down by an older version, with a name only");
    /// assert!(!By::from("clock").is_somebody());
    /// ```
    #[must_use]
    pub fn is_somebody(&self) -> bool {
        self.person.is_some() || !NOBODY.contains(&self.name.as_str())
    }
}

/// What stands for whoever it was where nobody said, or for the program itself.
const NOBODY: [&str; 7] =
    ["kitchen", "clock", "demonstration", "cook", "import", "command line", "housekeeping"];

impl From<&str> for By {
    fn from(name: &str) -> Self {
        Self::nobody(name)
    }
}

impl std::fmt::Display for By {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.name)
    }
}

impl<'de> Deserialize<'de> for By {
    /// Up to version 8 of an export it was a name.
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        #[derive(Deserialize)]
        #[serde(deny_unknown_fields)]
        struct Told {
            #[serde(default)]
            person: Option<Uuid>,
            name: String,
            #[serde(default)]
            screen: Option<Uuid>,
            #[serde(default)]
            proof: Proof,
        }
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum Either {
            Name(String),
            Told(Told),
        }
        Ok(match Either::deserialize(deserializer)? {
            Either::Name(name) => Self::nobody(&name),
            Either::Told(Told { person, name, screen, proof }) => Self { person, name, screen, proof },
        })
    }
}
