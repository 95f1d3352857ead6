//! The sear: what it does to a piece that was brought to its temperature gently, and how to make it do less.
//!
//! Full-thickness conduction with water that leaves: a wet face spends its film, a layer at the boiling point turns
//! further heat into steam until it is dry, dry crust conducts little and heats up. Rendering of fat is not modelled,
//! only the heat that melts it. Browning is an index of surface temperature and dryness, not a measurement.

mod asked;
mod best;
mod blanks;
mod chosen;
mod crossing;
mod finishes;
mod flesh;
mod follow;
mod form;
mod group;
mod hearth;
mod may;
mod methods;
mod much;
mod pattern;
mod run;
mod setup;
mod slab;
mod ways;

pub use crate::food::PanStart;
pub use asked::{FinishAnswer, FinishAsked};
pub use best::{Aim, Proposal, Wanted, best_within, proposals, proposals_within};
pub(crate) use blanks::seconds;
pub use chosen::ChosenFinish;
pub use finishes::Finishes;
pub use flesh::Flesh;
pub use form::{FinishForm, Given};
pub use group::{ForGuest, OneSize, assigned};
pub use hearth::{Body, Fat, Hearth, Heat, Heats, How, Pans, fats, hearths};
pub use may::May;
pub use methods::{Cooked, Way, cooked};
pub use much::{TooMuch, bath_for, too_much};
pub use pattern::{After, Basting, Pattern, Pause};
pub(crate) use run::kitchen_air;
pub use run::{Act, Faces, Frame, Grid, Layer, Sear, Seared, Start};
pub use setup::{Browning, Hand, PacedStep, Setup, brownings, called, paced};
pub use slab::Face;
