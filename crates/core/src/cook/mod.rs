//! A cook under way: an append-only list of events, and the state that follows from it.
//!
//! Nothing is ever changed or taken out. A wrong tap is undone, and a wrong time corrected, by further
//! events. State is a fold: [`CookState::apply`] takes one event after another and refuses what cannot have
//! happened: a second drop, a pull undone under an “eaten”, a time before the one it follows. Whatever writes
//! (a tap, an undo, a correction, an import) is accepted only if the fold accepts it.

mod event;
mod live;
mod state;

pub use event::{Covered, Event, EventKind, LONGEST_TEXT, Rating};
pub use live::{
    Fault, KillSoFar, Live, LiveRibbon, Mend, Next, Probed, Pull, WayBack, for_finish, live, live_here,
    ways_back,
};
pub use state::{CLOCK_SKEW, CookState, Entry, MOST_EVENTS, Meanwhile, Milestone, Question, Refusal, Stage};
