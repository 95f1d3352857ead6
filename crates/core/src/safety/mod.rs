//! Whether a piece is safe to serve to these guests, why, and what would make it so.
//!
//! - [`Limits`], [`Organism`], [`Profile`]: the numbers, as data with their sources;
//! - [`Clocks`]: how long each layer has been where bacteria grow; the worst layer counts;
//! - [`Timeline`]: kill and code-table progress along the coldest layer, none while the bath is below the
//!   gate;
//! - [`Facts`]: what these and the cook's answers come to at one moment;
//! - [`Rule`]: the verdict table, first row that matches; [`judge`]: its answer in words.
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
    CodeTable, Limit, Limits, Organism, Profile, SingleTemperature, known_profile, limits, organisms,
    profile, profiles,
};
pub use facts::{Case, ClocksAt, EggUse, Facts, Fermenting, FoodState, Parasites, Reheating};
pub use rules::{Decision, Row, Rule, Turn};
pub use timeline::{Coldest, Progress, Rules, Timeline};
pub(crate) use verdict::not_to_be_stored;
pub use verdict::{FROZEN_FOR_PARASITES, Level, Reason, Verdict, WayOut, judge, minutes};
