//! The sear: what it does to a piece that was brought to its temperature gently, and how to make it do less.
//!
//! Full-thickness conduction with water that leaves: a wet face spends its film, a layer at the boiling point turns
//! further heat into steam until it is dry, dry crust conducts little and heats up. Rendering of fat is not modelled,
//! only the heat that melts it. Browning is an index of surface temperature and dryness, not a measurement.

mod flesh;
mod hearth;
mod run;
mod slab;

pub use flesh::Flesh;
pub use hearth::{Body, Fat, Hearth, Heat, How, fats, hearths};
pub(crate) use run::kitchen_air;
pub use run::{Act, Faces, Frame, Grid, Layer, Sear, Seared, Start};
pub use slab::Face;
