//! Why something cannot have happened.

use jiff::Timestamp;

use super::Milestone;
use crate::limits::{MOST_EVENTS, MOST_PLANS};

/// Why an event cannot be added.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum Refusal {
    /// It lies in the future.
    #[error("{0} has not happened yet: the time given is still to come. Give a time up to now.")]
    Future(&'static str),
    /// It would come before what it follows.
    #[error("{what} cannot come before {before}. Correct that time first, or give a later one.")]
    TooEarly {
        /// What was to be added.
        what: &'static str,
        /// What it follows.
        before: &'static str,
        /// And when that was.
        at: Timestamp,
    },
    /// It would come after something that follows it.
    #[error("{what} cannot come after {after}. Give an earlier time.")]
    TooLate {
        /// What was to be added.
        what: &'static str,
        /// What follows it.
        after: &'static str,
        /// And when that was.
        at: Timestamp,
    },
    /// It has already happened.
    #[error("{0} is already written down. Correct its time instead, or undo it.")]
    Already(&'static str),
    /// Something has to happen first.
    #[error("{what} needs {needs} first.")]
    Needs {
        /// What was to be added.
        what: &'static str,
        /// What is missing.
        needs: &'static str,
    },
    /// The event named is not one of this cook's that stands.
    #[error("That entry is not there any more. Reload the page.")]
    NoSuchEvent,
    /// The cook was taken off the lists.
    #[error("This cook was taken off the lists. Put it back first.")]
    Deleted,
    /// There are too many already.
    #[error(
        "This cook has {MOST_EVENTS} entries, the most there can be. Begin another cook for what follows."
    )]
    TooMany,
    /// A new plan is for another piece than the one that is cooked.
    #[error(
        "That plan is for another piece than this one. If the piece is another than was written down, correct that."
    )]
    OtherPiece,
    /// It names a plan that this cook has not.
    #[error("There is no such plan of this piece. Reload the page.")]
    NoSuchPlan,
    /// There are too many plans already.
    #[error("This piece has {MOST_PLANS} plans, the most there can be. Begin another cook for what follows.")]
    TooManyPlans,
    /// A value is off its scale.
    #[error("{0}")]
    Value(&'static str),
}

impl Refusal {
    /// The instant of the event it clashes with: shown in the reader's zone.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// # let cook = &export.cooks[1];
    /// let early = Event {
    ///     id: uuid::Uuid::from_u128(9),
    ///     happened_at: "2026-11-01T12:00:00Z".parse()?,
    ///     recorded_at: now,
    ///     by: "kitchen".into(),
    ///     kind: EventKind::Pulled,
    /// };
    /// let refusal = cook.with(&early).expect_err("before it was dropped");
    /// assert_eq!(refusal.clashes_with(), cook.state().when(Milestone::Dropped));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub const fn clashes_with(&self) -> Option<Timestamp> {
        match self {
            Self::TooEarly { at, .. } | Self::TooLate { at, .. } => Some(*at),
            _ => None,
        }
    }
}

/// Two milestones the wrong way round, said from the side of the one the event was about.
pub(super) fn out_of_order(
    (earlier, earlier_at): (Milestone, Timestamp),
    (later, later_at): (Milestone, Timestamp),
    about: &'static str,
) -> Refusal {
    if about == earlier.name() {
        Refusal::TooLate { what: earlier.name(), after: later.name(), at: later_at }
    } else {
        Refusal::TooEarly { what: later.name(), before: earlier.name(), at: earlier_at }
    }
}
