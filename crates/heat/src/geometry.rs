//! The shapes a piece is solved as, and the mesh of cells laid through them.

use serde::{Deserialize, Serialize};

use crate::Length;

/// Cells from the thermal centre to the surface. Sixty of them, graded, hold the analytic series
/// within 0.05 K from Biot 0.1 to 100 (`tests/analytic_series.rs`).
pub const DEFAULT_CELLS: usize = 60;

/// Cells for a frozen start. Each cell that passes its freezing point costs steps of its own, and these
/// find the centre within 0.02 K and the time within 3 s of a mesh six times as fine.
pub const FROZEN_CELLS: usize = 24;

/// The shape a piece is solved as.
///
/// A slab is heated from both faces and is taken as endless sideways. A real steak also warms
/// through its edges, so treating it as a slab errs to the slow, safe side for heating times.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Shape {
    /// Heated from both faces; the length is the whole thickness.
    Slab(Length),
    /// Endless round bar; the length is the diameter.
    Cylinder(Length),
    /// Ball; the length is the diameter.
    Sphere(Length),
    /// A real block; the thickness is the smallest.
    Block {
        /// Smallest.
        thickness: Length,
        /// Middle.
        width: Length,
        /// Largest.
        length: Length,
    },
}

impl Shape {
    /// The exponent `p` of the area, `A ∝ r^p`; a block, seen through its thickness, counts as a slab.
    #[must_use]
    pub(crate) const fn exponent(self) -> i32 {
        match self {
            Self::Slab(_) | Self::Block { .. } => 0,
            Self::Cylinder(_) => 1,
            Self::Sphere(_) => 2,
        }
    }

    /// The thickness or diameter.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// assert_eq!(Shape::Sphere(Length::from_mm(46.6)).thickness(), Length::from_mm(46.6));
    /// ```
    #[must_use]
    pub const fn thickness(self) -> Length {
        match self {
            Self::Slab(l) | Self::Cylinder(l) | Self::Sphere(l) => l,
            Self::Block { thickness, .. } => thickness,
        }
    }

    /// From thermal centre to surface, metres.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// assert_eq!(Shape::Slab(Length::from_mm(30.0)).half_thickness_m(), 0.015);
    /// ```
    #[must_use]
    pub const fn half_thickness_m(self) -> f64 {
        self.thickness().metres() / 2.0
    }

    /// The same shape with every dimension larger by `mm`, none smaller than a millimetre.
    ///
    /// ```
    /// use hold_steady_heat::{Length, Shape};
    /// assert_eq!(Shape::Slab(Length::from_mm(25.0)).grown(2.0), Shape::Slab(Length::from_mm(27.0)));
    /// ```
    #[must_use]
    pub fn grown(self, mm: f64) -> Self {
        let grow = |l: Length| Length::from_mm((l.mm() + mm).max(1.0));
        match self {
            Self::Slab(l) => Self::Slab(grow(l)),
            Self::Cylinder(l) => Self::Cylinder(grow(l)),
            Self::Sphere(l) => Self::Sphere(grow(l)),
            Self::Block { thickness, width, length } => {
                Self::Block { thickness: grow(thickness), width: grow(width), length: grow(length) }
            }
        }
    }

    /// The same shape with another thickness (or diameter); a block keeps its other sides.
    ///
    /// ```
    /// use hold_steady_heat::{Length, Shape};
    /// let thin = Shape::Slab(Length::from_mm(25.0)).with_thickness(Length::from_mm(12.0));
    /// assert_eq!(thin.thickness(), Length::from_mm(12.0));
    /// ```
    #[must_use]
    pub const fn with_thickness(self, l: Length) -> Self {
        match self {
            Self::Slab(_) => Self::Slab(l),
            Self::Cylinder(_) => Self::Cylinder(l),
            Self::Sphere(_) => Self::Sphere(l),
            Self::Block { width, length, .. } => Self::Block { thickness: l, width, length },
        }
    }
}

/// Cells between the thermal centre (`r = 0`, no heat crosses it) and the surface (`r = R`).
///
/// Areas and volumes are per unit of the directions not solved: per m² of face for a slab, per
/// metre and radian for a cylinder, per steradian for a sphere.
#[derive(Debug, Clone, PartialEq)]
pub struct Mesh {
    /// Where the faces are, `n + 1` of them, metres from the centre.
    pub faces_m: Vec<f64>,
    /// Where the cell centres are, metres from the centre.
    pub centres_m: Vec<f64>,
    /// Area of each face.
    pub areas: Vec<f64>,
    /// Volume of each cell.
    pub volumes: Vec<f64>,
}

impl Mesh {
    /// A mesh of `cells` cells that grow smaller, smoothly, toward the surface, where the gradients
    /// are. The outermost cell is about a fifth as thick as the innermost.
    ///
    /// Source: the project's own spacing, held against finer meshes by the tests of the solver.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), 60);
    /// let width = |i: usize| mesh.faces_m[i + 1] - mesh.faces_m[i];
    /// assert!(width(59) < 0.3 * width(0));
    /// ```
    #[must_use]
    pub fn graded(shape: Shape, cells: usize) -> Self {
        const INNER_TO_OUTER: f64 = 5.0;
        let cells = cells.max(2);
        let ratio = INNER_TO_OUTER.powf(-1.0 / (cells as f64 - 1.0));
        let total = (1.0 - ratio.powi(cells as i32)) / (1.0 - ratio);
        let radius = shape.half_thickness_m();
        let mut faces_m = Vec::with_capacity(cells + 1);
        faces_m.push(0.0);
        let (mut width, mut at) = (radius / total, 0.0);
        for _ in 1..cells {
            at += width;
            width *= ratio;
            faces_m.push(at);
        }
        faces_m.push(radius);
        Self::from_faces(faces_m, shape.exponent())
    }

    /// A mesh of layers, innermost first: each with its share of the radius and its cells, so that no
    /// cell holds two materials. Cells are of equal width within a layer.
    ///
    /// Returns the mesh and, for each cell, the number of its layer.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// let egg = Shape::Sphere(Length::from_mm(46.6));
    /// let (mesh, layers) = Mesh::layered(egg, &[(0.7, 20), (0.3, 30)]);
    /// assert_eq!((mesh.cells(), layers[19], layers[20]), (50, 0, 1));
    /// ```
    #[must_use]
    pub fn layered(shape: Shape, layers: &[(f64, usize)]) -> (Self, Vec<usize>) {
        let radius = shape.half_thickness_m();
        let total: f64 = layers.iter().map(|l| l.0).sum();
        let (mut faces_m, mut layer_of, mut inner) = (vec![0.0], Vec::new(), 0.0);
        for (number, &(share, cells)) in layers.iter().enumerate() {
            let outer = inner + radius * share / total;
            for i in 1..=cells {
                faces_m.push(inner + (outer - inner) * i as f64 / cells as f64);
                layer_of.push(number);
            }
            inner = outer;
        }
        (Self::from_faces(faces_m, shape.exponent()), layer_of)
    }

    /// A mesh on the given faces, innermost first. Used where a reference solution needs exactly
    /// the same mesh.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// let mesh = Mesh::from_faces(vec![0.0, 0.01, 0.02], 0);
    /// assert_eq!((mesh.cells(), mesh.centres_m[0]), (2, 0.005));
    /// ```
    #[must_use]
    pub fn from_faces(faces_m: Vec<f64>, exponent: i32) -> Self {
        let p = exponent;
        let areas = faces_m.iter().map(|r| if p == 0 { 1.0 } else { r.powi(p) }).collect();
        let pairs = || faces_m.windows(2).map(|w| (w[0], w[1]));
        let volumes = pairs().map(|(a, b)| (b.powi(p + 1) - a.powi(p + 1)) / f64::from(p + 1)).collect();
        let centres_m = pairs().map(|(a, b)| 0.5 * (a + b)).collect();
        Self { faces_m, centres_m, areas, volumes }
    }

    /// How many cells.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// assert_eq!(Mesh::graded(Shape::Slab(Length::from_mm(25.0)), 60).cells(), 60);
    /// ```
    #[must_use]
    pub fn cells(&self) -> usize {
        self.volumes.len()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use approx::assert_relative_eq;

    #[test]
    fn cells_fill_the_shape_exactly() {
        let d = Length::from_mm(40.0);
        let r: f64 = 0.02;
        for (shape, volume) in
            [(Shape::Slab(d), r), (Shape::Cylinder(d), r.powi(2) / 2.0), (Shape::Sphere(d), r.powi(3) / 3.0)]
        {
            let mesh = Mesh::graded(shape, 60);
            assert_eq!(mesh.cells(), 60);
            assert_relative_eq!(mesh.volumes.iter().sum::<f64>(), volume, max_relative = 1e-12);
            let widths: Vec<f64> = mesh.faces_m.windows(2).map(|w| w[1] - w[0]).collect();
            assert_relative_eq!(widths[0] / widths[59], 5.0, max_relative = 1e-9);
        }
    }
}
