//! Decisions in words, made when they are shown, in the reader's units. What is stored is rows, facts and numbers;
//! here is the one place that makes sentences of them, and so the place another language would go.
//!
//! - [`told`]: a verdict with its reasons and its way out; [`headline`], [`why`]: the short of it;
//! - [`answer()`]: the short of a plan's answer; [`asks`], [`assumed`]: what is asked, and what counts until it is said;
//! - [`caution`], [`advice`]: what a plan says besides; [`stop`]: what a pull at some minute means;
//! - [`next`]: what to do next in a cook that runs;
//! - [`since`], [`dinner`], [`stands_as`]: what stands beside its clocks;
//! - [`before()`]: salt, the bag and what is in it; [`steps()`]: the checklist; [`trouble`]: when something goes wrong;
//! - [`bench`], [`care`], [`trusted`]: the water of a bath, and what its thermometer is worth;
//! - [`learned`], [`not_learned`]: what a vessel's readings taught;
//! - [`proposal`], [`too_much`], [`finish_cautions`]: the finish;
//! - [`explain()`]: where each number of a plan comes from.
//!
//! Texts of the rules are data (`data/rules.json`) with their sources; the rest stands here.
//!
//! ```
//! use hold_steady_core::units::Minutes;
//! assert_eq!(hold_steady_core::words::minutes(Minutes::new(185.0)), "3 h 5 min");
//! ```

pub use crate::bath::too_hot;
pub use crate::units::minutes;

mod anew;
mod answer;
mod bath;
mod before;
mod beside;
mod board;
mod cook;
mod door;
mod explain;
mod finish;
mod keep;
mod learned;
mod plan;
mod steps;
mod verdict;

pub use anew::{must_not_eat, not_when_wished, planned_anew, stands_by};
pub use answer::{
    AS_PLANNED, answer, answers_to, asks, assumed, hints, map, ribbon, scale, slice, where_meanwhile,
    which_time,
};
pub use bath::{
    BenchLine, Tone, bench, care, clash, clock_off, clock_trouble, cover, filling, trusted, water_refused,
};
pub use before::{BagWords, Before, SaltWords, aromatic_notes, before};
pub use beside::{clock_was_set, dinner, set_by, since, stands_as, water_known};
pub use board::{
    alarm, alarm_where, bag_limit, bath_trouble, heat, killed, level, probed, to_do, unread_water, was_it_on,
};
pub use cook::{
    CENTRES, fault, is_deadline, last_time, next, next_with_time, put_back, short_fault, way_back,
};
pub use door::{TRAIL_KINDS, change, deed, happened, trail_table};
pub use explain::{Explanation, explain};
pub use finish::{
    after_sear, aim, chosen_finish, cooked, finish_cautions, first_on_heat, for_seconds, off_wanted,
    on_hearth, pace, pattern, proposal, seared_at, seared_faces, too_long_out, too_much, usual_sear,
};
pub use keep::{held_hot, kept_in, storage_kind, storage_stands};
pub use learned::{learned, not_learned};
pub use plan::{advice, caution, sooner, stop, too_soon};
pub use steps::{ToldStep, steps, trouble, wrong};
pub use verdict::{Told, ToldWayOut, frozen_for_parasites, headline, told, way_out, why};

/// The same sentence after a colon.
fn uncapitalised(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|c| c.to_lowercase().chain(letters).collect()).unwrap_or_default()
}
