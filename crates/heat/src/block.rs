//! A real block: length, width and thickness, all three solved.

use super::integrate::{Body, Control, Moving, integrate};
use super::solver::{HeatError, Surface};
use super::watch::Watch;
use super::{Material, Mesh, Shape, Solution};
use crate::Length;

/// Cells from the centre to the surface in each direction. With these a block of constant properties
/// is within 0.3 K of the exact product solution (`tests/blocks.rs`).
pub const BLOCK_CELLS: usize = 12;

/// Local error allowed per time step, in kelvin, by a first-order estimate: the step itself is of second order and
/// errs less. Root of the mean square over the cells: a cell that just passes its freezing point, where no polynomial
/// fits, does not alone dictate the step.
const BLOCK_TOLERANCE_K: f64 = 0.015;

/// A block in a bath.
#[derive(Debug, Clone)]
pub struct BlockProblem<'a> {
    /// Thickness, width and length, metres.
    pub size_m: [f64; 3],
    /// Cells from the centre to the surface, in each direction.
    pub cells: usize,
    /// What it is made of.
    pub material: &'a Material,
    /// Temperature throughout when it goes in, °C.
    pub start_c: f64,
    /// All six faces.
    pub surface: Surface,
}

/// γ of the W-method: with it the method is L-stable for an exact Jacobian.
const GAMMA: f64 = 1.0 - std::f64::consts::FRAC_1_SQRT_2;

/// Follows a block for `until_s` seconds, with profiles through the thickness at the centre.
///
/// One eighth of the block is solved, by finite volumes in enthalpy form on a mesh graded toward the
/// faces. Time integration is the second-order two-stage W-method of Verwer, Spee, Blom and Hundsdorfer
/// ("A second-order Rosenbrock method applied to photochemical dispersion problems", SIAM J. Sci.
/// Comput. 20 (1999) 1456–1480, from memory) with the Jacobian factored approximately, direction by
/// direction, so that each step costs six sweeps of tridiagonal solves. The step follows the embedded
/// first-order error.
///
/// `surface` in the answer is the middle of the two largest faces; `heat_in` is integrated by the
/// trapezoidal rule and agrees with `heat_stored` to the accuracy of the steps (the eighth only).
///
/// # Errors
/// When a step cannot be taken; never seen for a real food.
///
/// ```
/// use hold_steady_heat::BathTrace;
/// use hold_steady_heat::{BLOCK_CELLS, BlockProblem, Material, Surface, simulate_block};
/// let meat = Material::constant(1.4e-7, 0.48);
/// let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(60.0) };
/// let cube = BlockProblem { size_m: [0.05; 3], cells: BLOCK_CELLS, material: &meat, start_c: 5.0, surface };
/// let run = simulate_block(&cube, 7200.0, &[])?;
/// assert!(run.core.at(3600.0) > 50.0); // a slab of 50 mm would be at 41 °C
/// # Ok::<(), hold_steady_heat::HeatError>(())
/// ```
pub fn simulate_block(
    problem: &BlockProblem<'_>,
    until_s: f64,
    snapshots_s: &[f64],
) -> Result<Solution, HeatError> {
    simulate_block_watched(problem, until_s, snapshots_s, &mut ())
}

/// [`simulate_block`], with every accepted step of every cell shown to `watch`.
///
/// # Errors
/// As [`simulate_block`].
///
/// ```
/// # use hold_steady_heat::*;
/// let meat = Material::constant(1.4e-7, 0.48);
/// let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(60.0) };
/// let cube = BlockProblem { size_m: [0.05; 3], cells: BLOCK_CELLS, material: &meat, start_c: 5.0, surface };
/// // Watched by nobody it is `simulate_block`.
/// assert_eq!(simulate_block_watched(&cube, 60.0, &[], &mut ())?, simulate_block(&cube, 60.0, &[])?);
/// # Ok::<(), HeatError>(())
/// ```
pub fn simulate_block_watched(
    problem: &BlockProblem<'_>,
    until_s: f64,
    snapshots_s: &[f64],
    watch: &mut dyn Watch,
) -> Result<Solution, HeatError> {
    integrate(Stepper::new(problem), &problem.surface.bath, (until_s, snapshots_s), watch)
}

/// One direction of the mesh.
struct Axis {
    /// Cells.
    n: usize,
    /// Distance in memory between neighbours.
    stride: usize,
    /// From a cell's centre to its inner and outer face, m.
    inward: Vec<f64>,
    outward: Vec<f64>,
    /// One over a cell's width.
    per_width: Vec<f64>,
    centres: Vec<f64>,
    /// Conductance per area at the outer face of each cell of the whole mesh.
    g: Vec<f64>,
    /// The factored system of each line of cells: what a row takes over from the one before it, one over its pivot,
    /// and what it takes back from the one after it.
    multiplier: Vec<f64>,
    pivot: Vec<f64>,
    back: Vec<f64>,
}

impl Axis {
    /// The rows of cells that lie side by side at one place along this direction: that place, and where the row begins.
    /// A row has [`Self::wide`] cells, [`Self::apart`] from each other.
    fn rows(&self, cells: usize) -> impl DoubleEndedIterator<Item = (usize, usize)> + use<> {
        let (n, stride) = (self.n, self.stride);
        // Of the first direction, whose neighbours lie side by side in memory, all lines are taken at once: they do
        // not wait for each other.
        let blocks = if stride == 1 { 1 } else { cells / (n * stride) };
        (0..blocks).flat_map(move |b| (0..n).map(move |i| (i, b * n * stride + i * stride)))
    }

    /// Cells of a row.
    const fn wide(&self, cells: usize) -> usize {
        if self.stride == 1 { cells / self.n } else { self.stride }
    }

    /// How far they are from each other.
    const fn apart(&self) -> usize {
        if self.stride == 1 { self.n } else { 1 }
    }
}

/// What the solver needs of every cell: temperature, its change with enthalpy, conductivity.
struct Cells {
    t: Vec<f64>,
    dt: Vec<f64>,
    k: Vec<f64>,
}

impl Cells {
    fn new(cells: usize) -> Self {
        Self { t: vec![0.0; cells], dt: vec![0.0; cells], k: vec![0.0; cells] }
    }

    fn at(&mut self, material: &Material, enthalpies: &[f64]) {
        let cells = self.t.iter_mut().zip(&mut self.dt).zip(&mut self.k);
        for (((t, dt), k), h) in cells.zip(enthalpies) {
            let state = material.state(*h);
            (*t, *dt, *k) = (state.t, state.dt, state.k);
        }
    }
}

struct Stepper<'a> {
    problem: &'a BlockProblem<'a>,
    axes: [Axis; 3],
    volumes: Vec<f64>,
    h: Vec<f64>,
    start: Vec<f64>,
    now: Cells,
    rate: Vec<f64>,
    stage: Vec<f64>,
    stage_rate: Vec<f64>,
    k1: Vec<f64>,
    k2: Vec<f64>,
    scratch: Cells,
    /// One over what a cell stores per kelvin, and the whole volume.
    reference: f64,
    whole: f64,
    /// What comes in now, W, and what came in, J.
    watts: f64,
    heat_in: f64,
}

impl<'a> Stepper<'a> {
    fn new(problem: &'a BlockProblem<'a>) -> Self {
        let n = problem.cells.max(2);
        let cells = n * n * n;
        let mut stride = 1;
        let axes = problem.size_m.map(|size| {
            let mesh = Mesh::graded(Shape::Slab(Length::from_mm(size * 1000.0)), n);
            let axis = Axis {
                n,
                stride,
                inward: (0..n).map(|i| mesh.centres_m[i] - mesh.faces_m[i]).collect(),
                outward: (0..n).map(|i| mesh.faces_m[i + 1] - mesh.centres_m[i]).collect(),
                per_width: mesh.volumes.iter().map(|v| 1.0 / v).collect(),
                centres: mesh.centres_m,
                g: vec![0.0; cells],
                multiplier: vec![0.0; cells],
                pivot: vec![0.0; cells],
                back: vec![0.0; cells],
            };
            stride *= n;
            axis
        });
        let mut volumes = vec![1.0; cells];
        for (c, v) in volumes.iter_mut().enumerate() {
            for axis in &axes {
                *v /= axis.per_width[c / axis.stride % n];
            }
        }
        let h = vec![problem.material.enthalpy(problem.start_c); cells];
        let whole = volumes.iter().sum();
        let zeros = || vec![0.0; cells];
        Self {
            problem,
            axes,
            volumes,
            start: h.clone(),
            h,
            now: Cells::new(cells),
            rate: zeros(),
            stage: zeros(),
            stage_rate: zeros(),
            k1: zeros(),
            k2: zeros(),
            scratch: Cells::new(cells),
            reference: 1.0 / problem.material.reference_capacity(),
            whole,
            watts: 0.0,
            heat_in: 0.0,
        }
    }

    /// Rates and conductances at the current enthalpies; returns the heat coming in, W.
    fn rates_here(&mut self, bath: f64) -> f64 {
        self.now.at(self.problem.material, &self.h);
        let coefficient = self.problem.surface.coefficient;
        for axis in &mut self.axes {
            conductances(axis, &self.now.k, coefficient);
        }
        flows(&self.axes, &self.now.t, bath, &mut self.rate);
        self.rate.iter().zip(&self.volumes).map(|(r, v)| r * v).sum()
    }

    /// Rates at the enthalpies of the second stage, with the conductances of the step's beginning: the
    /// conductivity changes by thousandths within a step, and the method does not need it exactly.
    fn rates_of_stage(&mut self, bath: f64) {
        self.scratch.at(self.problem.material, &self.stage);
        flows(&self.axes, &self.scratch.t, bath, &mut self.stage_rate);
    }

    /// Factors `I − γ dt J` direction by direction.
    fn factor(&mut self, dt: f64) {
        let (a, cells) = (GAMMA * dt, self.h.len());
        let slope = &self.now.dt;
        for axis in &mut self.axes {
            let (n, stride, wide, apart) = (axis.n, axis.stride, axis.wide(cells), axis.apart());
            for (i, row) in axis.rows(cells) {
                let w = a * axis.per_width[i];
                let w_before = if i > 0 { a * axis.per_width[i - 1] } else { 0.0 };
                if apart == 1 && i > 0 && i + 1 < n {
                    let (before, after) = (row - stride, row + stride);
                    let (g, g_inner) = (&axis.g[row..row + wide], &axis.g[before..before + wide]);
                    let (dt, dt_inner) = (&slope[row..row + wide], &slope[before..before + wide]);
                    let dt_outer = &slope[after..after + wide];
                    let (done, rest) = axis.pivot.split_at_mut(row);
                    let (pivot_inner, pivot) = (&done[before..before + wide], &mut rest[..wide]);
                    let multiplier = &mut axis.multiplier[row..row + wide];
                    let back = &mut axis.back[row..row + wide];
                    for j in 0..wide {
                        let inner = g_inner[j];
                        let m = w * inner * dt_inner[j] * pivot_inner[j];
                        let diagonal = 1.0 + w * (inner + g[j]) * dt[j];
                        multiplier[j] = m;
                        back[j] = w * g[j] * dt_outer[j];
                        pivot[j] = 1.0 / (diagonal - m * w_before * inner * dt[j]);
                    }
                    continue;
                }
                for c in (0..wide).map(|j| row + j * apart) {
                    // No heat passes the middle of the block.
                    let inner = if i > 0 { axis.g[c - stride] } else { 0.0 };
                    let diagonal = 1.0 + w * (inner + axis.g[c]) * slope[c];
                    axis.back[c] = if i + 1 < n { w * axis.g[c] * slope[c + stride] } else { 0.0 };
                    if i == 0 {
                        axis.pivot[c] = 1.0 / diagonal;
                    } else {
                        let below = c - stride;
                        // Lower entry −w g T'(below); upper entry of the row below −w_b g T'(c).
                        let multiplier = w * inner * slope[below] * axis.pivot[below];
                        let upper = w_before * inner * slope[c];
                        axis.multiplier[c] = multiplier;
                        axis.pivot[c] = 1.0 / (diagonal - multiplier * upper);
                    }
                }
            }
        }
    }

    /// At the corner where the three middles meet, by the parabolas that are flat there.
    fn at_centre(&self, of: impl Fn(usize) -> f64) -> f64 {
        let inner = of(0);
        let correction = self.axes.iter().map(|axis| {
            let (a, b) = (axis.centres[0], axis.centres[1]);
            (inner - of(axis.stride)) * a * a / (b * b - a * a)
        });
        inner + correction.sum::<f64>()
    }

    fn mean_of(&self, of: impl Fn(usize) -> f64) -> f64 {
        self.volumes.iter().enumerate().map(|(c, v)| v * of(c)).sum::<f64>() / self.whole
    }

    /// How fast a cell warms, K/s.
    fn slope(&self, cell: usize) -> f64 {
        self.now.dt[cell] * self.rate[cell]
    }
}

impl Body for Stepper<'_> {
    const CONTROL: Control = Control {
        tolerance_k: BLOCK_TOLERANCE_K,
        first_s: 0.2,
        shortest_s: 1e-6,
        root: f64::sqrt,
        growth: 3.0,
    };

    fn cells(&self) -> usize {
        self.h.len()
    }

    fn layers(&self) -> usize {
        self.axes[0].n
    }

    fn look(&mut self, bath_c: f64) {
        self.watts = self.rates_here(bath_c);
    }

    fn attempt(&mut self, step: f64, bath_then: f64, _: f64) -> f64 {
        self.factor(step);
        let cells = self.h.len();
        self.k1.copy_from_slice(&self.rate);
        sweep(&self.axes, &mut self.k1);
        for c in 0..cells {
            self.stage[c] = self.h[c] + step * self.k1[c];
        }
        self.rates_of_stage(bath_then);
        for c in 0..cells {
            self.k2[c] = self.stage_rate[c] - 2.0 * self.k1[c];
        }
        sweep(&self.axes, &mut self.k2);
        let errors = self.k1.iter().zip(&self.k2).map(|(a, b)| 0.5 * step * (a + b) * self.reference);
        (errors.map(|e| e * e).sum::<f64>() / cells as f64).sqrt()
    }

    fn accept(&mut self, step: f64, bath_then: f64) {
        for c in 0..self.h.len() {
            self.h[c] += step * (1.5 * self.k1[c] + 0.5 * self.k2[c]);
        }
        let before = self.watts;
        self.look(bath_then);
        self.heat_in += 0.5 * step * (before + self.watts);
    }

    fn temperatures(&self, step: f64, celsius: &mut [f64], slopes: &mut [f64]) {
        celsius[..self.h.len()].copy_from_slice(&self.now.t);
        for ((slope, dt), rate) in slopes.iter_mut().zip(&self.now.dt).zip(&self.rate) {
            *slope = dt * rate * step;
        }
    }

    fn centre(&self) -> Moving {
        (self.at_centre(|c| self.now.t[c]), self.at_centre(|c| self.slope(c)))
    }

    /// The middle of the face nearest to the centre.
    fn face(&self, (bath, bath_slope): Moving) -> Moving {
        let axis = &self.axes[0];
        let last = axis.n - 1;
        let inside = self.now.t[last];
        let share = axis.g[last] * axis.outward[last] / self.now.k[last];
        (inside + share * (bath - inside), (1.0 - share) * self.slope(last) + share * bath_slope)
    }

    fn mean(&self) -> Moving {
        (self.mean_of(|c| self.now.t[c]), self.mean_of(|c| self.slope(c)))
    }

    fn celsius(&self, cell: usize) -> f64 {
        self.now.t[cell]
    }

    fn end(self) -> (Vec<f64>, f64, f64) {
        let stored = self.h.iter().zip(&self.start).zip(&self.volumes);
        let stored = stored.map(|((h, start), v)| (h - start) * v).sum();
        (self.h, self.heat_in, stored)
    }
}

/// Conductance per area between each cell and its outer neighbour, or the bath.
fn conductances(axis: &mut Axis, k: &[f64], coefficient: f64) {
    let (cells, n, stride) = (k.len(), axis.n, axis.stride);
    let (wide, apart) = (axis.wide(cells), axis.apart());
    for (i, row) in axis.rows(cells) {
        let out = axis.outward[i];
        let line = (0..wide).map(|j| row + j * apart);
        if i + 1 == n {
            line.for_each(|c| axis.g[c] = 1.0 / (1.0 / coefficient + out / k[c]));
        } else if apart == 1 {
            let (inward, next) = (axis.inward[i + 1], row + stride);
            let (here, outer) = (&k[row..row + wide], &k[next..next + wide]);
            for ((g, a), b) in axis.g[row..row + wide].iter_mut().zip(here).zip(outer) {
                *g = a * b / (out * b + inward * a);
            }
        } else {
            let inward = axis.inward[i + 1];
            line.for_each(|c| axis.g[c] = k[c] * k[c + stride] / (out * k[c + stride] + inward * k[c]));
        }
    }
}

/// Rates of change of enthalpy from the flows in all three directions.
fn flows(axes: &[Axis; 3], t: &[f64], bath: f64, rate: &mut [f64]) {
    rate.fill(0.0);
    let cells = t.len();
    for axis in axes {
        let (n, stride, wide, apart) = (axis.n, axis.stride, axis.wide(cells), axis.apart());
        for (i, row) in axis.rows(cells) {
            let line = (0..wide).map(|j| row + j * apart);
            let per_width = axis.per_width[i];
            if i + 1 == n {
                line.for_each(|c| rate[c] += axis.g[c] * (bath - t[c]) * per_width);
            } else {
                let per_next = axis.per_width[i + 1];
                if apart == 1 {
                    let (before, after) = rate[row..].split_at_mut(stride);
                    let (here, outer) = (&t[row..row + wide], &t[row + stride..row + stride + wide]);
                    let rates = before[..wide].iter_mut().zip(&mut after[..wide]);
                    let cells = axis.g[row..row + wide].iter().zip(here).zip(outer);
                    for ((a, b), ((g, inner), outer)) in rates.zip(cells) {
                        let q = g * (outer - inner);
                        *a += q * per_width;
                        *b -= q * per_next;
                    }
                    continue;
                }
                line.for_each(|c| {
                    let q = axis.g[c] * (t[c + stride] - t[c]);
                    rate[c] += q * per_width;
                    rate[c + stride] -= q * per_next;
                });
            }
        }
    }
}

/// Solves the three factored systems one after another, in place.
fn sweep(axes: &[Axis; 3], x: &mut [f64]) {
    let cells = x.len();
    for axis in axes {
        let (n, stride, wide, apart) = (axis.n, axis.stride, axis.wide(cells), axis.apart());
        // A row is finished before the next along this direction begins: within a row nothing waits.
        for (_, row) in axis.rows(cells).filter(|(i, _)| *i > 0) {
            if apart == 1 {
                let (before, after) = x[row - stride..].split_at_mut(stride);
                let line =
                    after[..wide].iter_mut().zip(&before[..wide]).zip(&axis.multiplier[row..row + wide]);
                line.for_each(|((x, inner), m)| *x += m * inner);
                continue;
            }
            for c in (0..wide).map(|j| row + j * apart) {
                x[c] += axis.multiplier[c] * x[c - stride];
            }
        }
        for (i, row) in axis.rows(cells).rev() {
            if apart == 1 {
                let (here, outer) = x[row..].split_at_mut(stride);
                let line = here[..wide].iter_mut().zip(&axis.pivot[row..row + wide]);
                if i + 1 < n {
                    let outer = outer[..wide].iter().zip(&axis.back[row..row + wide]);
                    line.zip(outer).for_each(|((x, p), (o, back))| *x = (*x + back * o) * p);
                } else {
                    line.for_each(|(x, p)| *x *= p);
                }
                continue;
            }
            for c in (0..wide).map(|j| row + j * apart) {
                let outer = if i + 1 < n { axis.back[c] * x[c + stride] } else { 0.0 };
                x[c] = (x[c] + outer) * axis.pivot[c];
            }
        }
    }
}
