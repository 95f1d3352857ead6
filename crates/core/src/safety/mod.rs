//! Whether a piece is safe to serve to these guests, why, and what would make it so.
//!
//! - [`Limits`](crate::figures::Limits), [`Organism`], [`CodeProfile`]: the numbers, as data with their sources;
//! - [`Clocks`]: how long each layer has been where bacteria grow; the worst layer counts;
//! - [`Timeline`]: kill and code-table progress along the coldest layer, none while the bath is below the
//!   gate;
//! - [`Facts`]: what these and the cook's answers come to at one moment;
//! - [`Rule`]: the verdict table, first row that matches; [`judge`]: its answer, told in words by [`crate::words`].
//!
//! Every answer errs to the safe side. Nothing here replaces a local code or licensed practice.

mod clocks;
mod data;
mod facts;
mod rules;
mod timeline;
mod verdict;

pub use clocks::{Clocks, GrowthWatch, Spells};
pub use data::{
    CodeProfile, CodeTable, Organism, SingleTemperature, known_profile, organisms, profile, profiles,
};
#[cfg(test)]
pub(crate) use facts::early_steak;
pub use facts::{Case, ClocksAt, EggUse, Facts, Fermenting, FoodState, Parasites, Reheating};
pub use rules::{Decision, Exit, RULES, Row, Rule, Says, Turn};
pub use timeline::{Coldest, Progress, Rules, Timeline};
#[cfg(test)]
pub(crate) use verdict::NOTES;
pub(crate) use verdict::not_to_be_stored;
pub use verdict::{Grounds, Level, Note, Reason, Remedy, Verdict, Way, WayOut, judge};
