//! A cook under way: an append-only list of events, and the state that follows from it.
//!
//! Nothing is ever changed or taken out. A wrong tap is undone, and a wrong time corrected, by further
//! events. State is a fold: [`CookState::apply`] takes one event after another and refuses what cannot have
//! happened: a second drop, a pull undone under an “eaten”, a time before the one it follows. Whatever writes
//! (a tap, an undo, a correction, an import) is accepted only if the fold accepts it.

mod event;
mod live;
mod milestone;
mod refusal;
mod state;

pub use event::{
    About, Covered, Event, EventKind, Kept, KeptIn, LONGEST_TEXT, Often, Purpose, Rating, Traits,
};
pub use live::{
    Fault, KillSoFar, Live, LiveRibbon, Mend, Next, Probed, Pull, WayBack, for_finish, if_put_back, live,
    live_here, ways_back,
};
pub use milestone::{Milestone, Stage};
pub use refusal::Refusal;
pub use state::{CLOCK_SKEW, CookState, Entry, Meanwhile, Question};
