//! Decisions in words, made when they are shown, in the reader's units. What is stored is rows, facts and numbers;
//! here is the one place that makes sentences of them, and so the place another language would go.
//!
//! - [`told`]: a verdict with its reasons and its way out; [`headline`], [`why`]: the short of it;
//! - [`caution`], [`advice`]: what a plan says besides; [`stop`]: what a pull at some minute means;
//! - [`next`]: what to do next in a cook that runs;
//! - [`before()`]: salt, the bag and what is in it; [`steps()`]: the checklist; [`trouble`]: when something goes wrong;
//! - [`bench`], [`care`], [`trusted`]: the water of a bath, and what its thermometer is worth;
//! - [`proposal`], [`too_much`], [`finish_cautions`]: the finish;
//! - [`explain()`]: where each number of a plan comes from.
//!
//! Texts of the rules are data (`data/rules.json`) with their sources; the rest stands here.
//!
//! ```
//! use hold_steady_core::units::Minutes;
//! assert_eq!(hold_steady_core::words::minutes(Minutes::new(185.0)), "3 h 5 min");
//! ```

use crate::units::Minutes;

mod bath;
mod before;
mod board;
mod cook;
mod explain;
mod finish;
mod plan;
mod steps;
mod verdict;

pub use bath::{
    BenchLine, Tone, bench, care, clash, clock_off, clock_trouble, cover, filling, too_hot, trusted,
};
pub use before::{BagWords, Before, SaltWords, aromatic_notes, before};
pub use board::{alarm, bag_limit, bath_trouble, heat, level, probed, to_do};
pub use cook::{CENTRES, fault, is_deadline, last_time, next, next_with_time, short_fault, way_back};
pub use explain::{Explanation, explain};
pub use finish::{
    after_sear, aim, chosen_finish, cooked, finish_cautions, for_seconds, off_wanted, pace, pattern,
    proposal, seared_at, too_long_out, too_much,
};
pub use plan::{advice, caution, stop};
pub use steps::{ToldStep, steps, trouble, wrong};
pub use verdict::{Told, ToldWayOut, frozen_for_parasites, headline, told, way_out, why};

/// Minutes in words: `45 min`, `2 h`, `3 h 5 min`.
///
/// ```
/// use hold_steady_core::{units::Minutes, words::minutes};
/// assert_eq!((minutes(Minutes::new(45.0)), minutes(Minutes::from_hours(2.0))), ("45 min".into(), "2 h".into()));
/// ```
#[must_use]
pub fn minutes(min: Minutes) -> String {
    if !min.value().is_finite() {
        return "for ever".into();
    }
    let total = min.value().round().max(0.0) as i64;
    match (total / 60, total % 60) {
        (0, m) => format!("{m} min"),
        (h, 0) => format!("{h} h"),
        (h, m) => format!("{h} h {m} min"),
    }
}
