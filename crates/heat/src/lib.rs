//! Heat conduction through one piece, and the quantities it is written in. Nothing here knows what is cooked or why: foods,
//! rules and plans are the core's, which names this `heat`.
//!
//! ```
//! use hold_steady_heat::{BathTrace, DEFAULT_CELLS, Initial, Length, Material, Mesh, Problem, Shape, Surface, simulate};
//! // A slab of 25 mm from 5 °C in stirred water of 55 °C (95 W/(m² K)): its centre is within half a kelvin after an hour or so.
//! let meat = Material::constant(1.4e-7, 0.48);
//! let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
//! let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
//! let solution = simulate(&Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath), 7200.0, &[])?;
//! let through_s = solution.core.first(0.0, |c| c >= 54.5);
//! assert!(through_s.is_some_and(|s| (2400.0..6000.0).contains(&s)));
//! # Ok::<(), hold_steady_heat::HeatError>(())
//! ```
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
mod calm;
mod effort;
mod geometry;
mod integrate;
mod material;
mod quantity;
mod solution;
mod solver;
mod trace;
mod watch;

pub use block::{BLOCK_CELLS, BlockProblem, simulate_block, simulate_block_watched};
pub use effort::{Effort, MOST_EFFORT, Meter};
pub use geometry::{DEFAULT_CELLS, FROZEN_CELLS, Mesh, Shape};
pub use integrate::EXPECTED_POINTS;
pub use material::{Composition, CompositionError, Material, Structure};
pub use quantity::{Celsius, Ends, Grams, Kelvin, Length, Minutes};
pub use solution::{Curve, Snapshot, Solution, bisect, bisect_within, first_where, hermite};
pub use solver::{HeatError, Initial, Problem, Surface, TOLERANCE_K, simulate, simulate_watched};
pub use trace::{BathPoint, BathTrace, TraceError};
pub use watch::{SolvedStep, Watch};

/// How fine a mesh a piece is solved on. A coarser one warms a hair more slowly, never sooner: it errs to the
/// safe side (`tests/blocks.rs` holds it to that).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Detail {
    /// For an answer that stands alone.
    #[default]
    Fine,
    /// For a page that follows a cook's typing: a block within a hundredth of the fine one's time.
    Page,
    /// For one of many lines of a picture: within a fortieth.
    Picture,
    /// For how much of a difference something makes, which is a ratio of times on one mesh.
    Sketch,
}

impl Detail {
    /// Cells from the centre to a face of a block, in each direction.
    #[must_use]
    pub(crate) const fn block_cells(self) -> usize {
        match self {
            Self::Fine => BLOCK_CELLS,
            Self::Page => 8,
            Self::Picture | Self::Sketch => 6,
        }
    }

    /// Cells from the centre to the surface of a slab, cylinder or sphere.
    #[must_use]
    pub(crate) const fn cells(self, frozen: bool) -> usize {
        match self {
            Self::Sketch if frozen => FROZEN_CELLS / 2,
            _ if frozen => FROZEN_CELLS,
            Self::Fine | Self::Page => DEFAULT_CELLS,
            Self::Picture | Self::Sketch => FROZEN_CELLS,
        }
    }
}

/// Follows a piece of any shape and one material, all of it at `start_c` when it goes in, on the mesh
/// that suits it, every step shown to `watch`. Returns the solution and where the cells of its profiles are, metres from the centre.
///
/// ```
/// use hold_steady_heat::*;
/// let meat = Material::constant(1.4e-7, 0.48);
/// let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
/// let shape = Shape::Slab(Length::from_mm(25.0));
/// let (solution, places) = simulate_shape((shape, Detail::Fine), &meat, 5.0, bath, 7200.0, &[], &mut ())?;
/// assert!(solution.core.at(7200.0) > 54.0 && places.len() == DEFAULT_CELLS);
/// # Ok::<(), HeatError>(())
/// ```
///
/// # Errors
/// As [`simulate`] and [`simulate_block`].
pub fn simulate_shape(
    (shape, detail): (Shape, Detail),
    material: &Material,
    start_c: f64,
    surface: Surface,
    until_s: f64,
    snapshots_s: &[f64],
    watch: &mut dyn Watch,
) -> Result<(Solution, Vec<f64>), HeatError> {
    if let Shape::Block { thickness, width, length } = shape {
        let size_m = [thickness.metres(), width.metres(), length.metres()];
        let cells = detail.block_cells();
        let problem = BlockProblem { size_m, cells, material, start_c, surface };
        let centres = Mesh::graded(Shape::Slab(thickness), cells).centres_m;
        return Ok((simulate_block_watched(&problem, until_s, snapshots_s, watch)?, centres));
    }
    let mesh = Mesh::graded(shape, detail.cells(start_c < 0.0));
    let centres = mesh.centres_m.clone();
    let problem = Problem::uniform(mesh, material, Initial::Uniform(start_c), surface);
    Ok((simulate_watched(&problem, until_s, snapshots_s, watch)?, centres))
}
