//! The plan page's files and presets.

use std::fmt::Display;

pub const NOT_UNDERSTOOD: &str = "A plan that is not understood cannot be taken along.";
pub const CHOOSE: &str = "Choose a file first: a plan or presets, as JSON.";
pub const PRESET_GONE: &str = "That preset is not kept any more.";
pub const NO_SUCH_PRESET: &str = "That preset is not kept here.";
pub const MAP_NEEDS: &str = "The map needs a sentence that is understood.";
pub const NEEDS: &str = "That needs a sentence that is understood.";

/// Of the sizes a food has; the one it was planned with last may be another.
pub const WHICH_SIZE: &str = "which size, this time?";

pub fn added(presets: usize) -> String {
    format!("{presets} new presets; those that were here stay as they were.")
}

pub fn not_opened(why: &dyn Display) -> String {
    format!("Nothing was opened: {why}.")
}

pub fn not_kept(why: &dyn Display) -> String {
    format!("It was not kept: {why}.")
}
