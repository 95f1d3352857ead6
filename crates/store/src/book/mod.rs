//! Taking the whole kitchen out, and bringing one in.

mod bring;
mod out;
mod through;

pub use through::{Found, Search};

use hold_steady_core::book::LeftOut;
use hold_steady_core::who::By;
use jiff::Timestamp;

/// Where a record came from that was not written down here.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Origin {
    /// When it was brought in.
    pub at: Timestamp,
    /// By whom.
    pub by: By,
    /// SHA-256 of the file it was in.
    pub sha256: String,
}

/// What an import did.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Imported {
    /// Cooks that were new.
    pub cooks_added: usize,
    /// Cooks that were there and got further records.
    pub cooks_extended: usize,
    /// Cooks that were there with everything.
    pub cooks_unchanged: usize,
    /// Baths that were new and in which no cook of the file lay.
    pub baths_added: usize,
    /// Foods, temperatures, vessels, thermometers and people of the kitchen's own that were new.
    pub pantry_added: usize,
    /// What was not taken, and why: the first of it.
    pub left_out: Vec<LeftOut>,
    /// How much more was not taken.
    pub more_left_out: usize,
    /// What was taken, and computed again.
    pub noted: Vec<LeftOut>,
}

impl std::fmt::Display for Imported {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(
            f,
            "{} new, {} with further records, {} already here; {} foods, temperatures, vessels, thermometers and people of a kitchen’s own; {} left out",
            self.cooks_added,
            self.cooks_extended,
            self.cooks_unchanged,
            self.pantry_added,
            self.left_out.len() + self.more_left_out
        )
    }
}
