//! Whether a piece is safe to serve to these guests, why, and what would make it so.
//!
//! - [`Limits`], [`Organism`], [`Profile`]: the numbers, as data with their sources;
//! - [`Timeline`]: kill, code-table progress and the growth clock, accumulated along the curve of
//!   the slowest-heating point;
//! - [`judge`]: the verdict table, first row that matches.
//!
//! Every answer errs to the safe side. Nothing here replaces a local code or licensed practice.

mod data;
mod timeline;
mod verdict;

pub use data::{
    CodeTable, Limit, Limits, Organism, Profile, SingleTemperature, limits, organisms, profile, profiles,
};
pub use timeline::{Progress, Rules, Timeline};
pub use verdict::{
    EggUse, FROZEN_FOR_PARASITES, Facts, FoodState, Level, Parasites, Reason, Verdict, WayOut, judge, minutes,
};
