//! Heat conduction through one piece of food.
//!
//! The equation is the nonlinear transient conduction equation in one space coordinate `r`, from the
//! thermal centre to the surface,
//!
//! ```text
//! dH/dt = (1/r^p) d/dr ( r^p k(T) dT/dr )        p = 0 slab, 1 long cylinder, 2 sphere
//! ```
//!
//! with `H(T)` the volumetric enthalpy (J/m³). It is solved by finite volumes in enthalpy form with
//! an implicit, L-stable, adaptive method: see [`simulate`]. The parts are (a block of three
//! dimensions has a solver of its own, [`simulate_block`], on the same materials)
//!
//! - [`Material`]: what the food conducts and stores, from its composition, ice included;
//! - [`Shape`] and [`Mesh`]: the geometry, a concept of its own;
//! - [`Surface`]: how heat enters, and the bath's trace behind it;
//! - [`Solution`]: the answer, continuous in time.

mod block;
mod geometry;
mod material;
mod solution;
mod solver;

pub use block::{BLOCK_CELLS, BlockProblem, simulate_block};
pub use geometry::{DEFAULT_CELLS, FROZEN_CELLS, Mesh, Shape};
pub use material::{Composition, CompositionError, Material};
pub use solution::{Curve, Profile, Solution};
pub use solver::{HeatError, Problem, Start, Surface, TOLERANCE_K, simulate};
