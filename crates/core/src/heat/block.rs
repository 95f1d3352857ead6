//! A real block: length, width and thickness, all three solved.

use super::effort::Meter;
use super::material::State;
use super::solution::hermite;
use super::solver::{HeatError, Surface};
use super::watch::{Step, Watch};
use super::{Curve, Material, Mesh, Profile, Shape, Solution};
use crate::units::Length;

/// Cells from the centre to the surface in each direction. With these a block of constant properties
/// is within 0.3 K of the exact product solution (`tests/blocks.rs`).
pub const BLOCK_CELLS: usize = 12;

/// Local error allowed per time step, in kelvin of the worst cell, by a first-order estimate: the step
/// itself is of second order and errs less.
const BLOCK_TOLERANCE_K: f64 = 0.05;

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
/// use hold_steady_core::bath::BathTrace;
/// use hold_steady_core::heat::{BLOCK_CELLS, BlockProblem, Material, Surface, simulate_block};
/// let meat = Material::constant(1.4e-7, 0.48);
/// let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(60.0) };
/// let cube = BlockProblem { size_m: [0.05; 3], cells: BLOCK_CELLS, material: &meat, start_c: 5.0, surface };
/// let run = simulate_block(&cube, 7200.0, &[])?;
/// assert!(run.core.at(3600.0) > 50.0); // a slab of 50 mm would be at 41 °C
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
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
pub fn simulate_block_watched(
    problem: &BlockProblem<'_>,
    until_s: f64,
    snapshots_s: &[f64],
    watch: &mut impl Watch,
) -> Result<Solution, HeatError> {
    Stepper::new(problem).run(until_s, snapshots_s, watch)
}

/// One direction of the mesh.
struct Axis {
    /// Cells.
    n: usize,
    /// Distance in memory between neighbours.
    stride: usize,
    /// Which cell of this direction each cell of the mesh is: looked up, for dividing costs more.
    place: Vec<u32>,
    /// From a cell's centre to its inner and outer face, m.
    inward: Vec<f64>,
    outward: Vec<f64>,
    /// One over a cell's width.
    per_width: Vec<f64>,
    centres: Vec<f64>,
    /// Conductance per area at the outer face of each cell of the whole mesh.
    g: Vec<f64>,
    multiplier: Vec<f64>,
    pivot: Vec<f64>,
}

struct Stepper<'a> {
    problem: &'a BlockProblem<'a>,
    axes: [Axis; 3],
    volumes: Vec<f64>,
    h: Vec<f64>,
    start: Vec<f64>,
    state: Vec<State>,
    rate: Vec<f64>,
    stage: Vec<f64>,
    stage_rate: Vec<f64>,
    k1: Vec<f64>,
    k2: Vec<f64>,
    scratch: Vec<State>,
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
                place: (0..cells).map(|c| (c / stride % n) as u32).collect(),
                inward: (0..n).map(|i| mesh.centres_m[i] - mesh.faces_m[i]).collect(),
                outward: (0..n).map(|i| mesh.faces_m[i + 1] - mesh.centres_m[i]).collect(),
                per_width: mesh.volumes.iter().map(|v| 1.0 / v).collect(),
                centres: mesh.centres_m,
                g: vec![0.0; cells],
                multiplier: vec![0.0; cells],
                pivot: vec![0.0; cells],
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
        let zeros = || vec![0.0; cells];
        Self {
            problem,
            axes,
            volumes,
            start: h.clone(),
            h,
            state: vec![State::default(); cells],
            rate: zeros(),
            stage: zeros(),
            stage_rate: zeros(),
            k1: zeros(),
            k2: zeros(),
            scratch: vec![State::default(); cells],
        }
    }

    fn run(
        mut self,
        until_s: f64,
        snapshots_s: &[f64],
        watch: &mut impl Watch,
    ) -> Result<Solution, HeatError> {
        const SHORTEST_S: f64 = 1e-6;
        const POINTS: usize = 1024;
        let bath = &self.problem.surface.bath;
        let n = self.axes[0].n;
        let (mut core, mut surface, mut mean) =
            (Curve::with_capacity(POINTS), Curve::with_capacity(POINTS), Curve::with_capacity(POINTS));
        let mut profiles = Vec::with_capacity(snapshots_s.len());
        let mut snapshots = snapshots_s.iter().copied().peekable();
        let mut highest = vec![self.problem.start_c; n];
        let (mut t, mut dt, mut steps, mut rejected, mut heat_in) = (0.0, 0.2_f64, 0, 0, 0.0);
        let reference = 1.0 / self.problem.material.reference_capacity();
        let mut watts = self.rates_here(bath.at(0.0));
        let cells = self.h.len();
        let meter = Meter::new();
        let (mut before, mut slope_before) = (vec![0.0; cells], vec![0.0; cells]);
        let (mut after, mut slope_after) = (vec![0.0; cells], vec![0.0; cells]);
        for (segment_end, slope) in bath.segments(until_s) {
            self.record(t, slope, bath.at(t), (&mut core, &mut surface, &mut mean));
            while t < segment_end - 1e-9 {
                let step = if t + 1.001 * dt >= segment_end { segment_end - t } else { dt };
                let then = bath.at(t + step);
                meter.step(cells)?;
                self.factor(step);
                self.k1.copy_from_slice(&self.rate);
                sweep(&self.axes, &self.state, GAMMA * step, &mut self.k1);
                for c in 0..self.h.len() {
                    self.stage[c] = self.h[c] + step * self.k1[c];
                }
                self.rates_of_stage(then);
                for c in 0..self.h.len() {
                    self.k2[c] = self.stage_rate[c] - 2.0 * self.k1[c];
                }
                sweep(&self.axes, &self.state, GAMMA * step, &mut self.k2);
                let mut error = 0.0_f64;
                for (a, b) in self.k1.iter().zip(&self.k2) {
                    let e = (0.5 * step * (a + b)).abs() * reference;
                    error = if e <= error { error } else { e };
                }
                let accepted = error <= BLOCK_TOLERANCE_K;
                if accepted {
                    self.temperatures(step, &mut before, &mut slope_before);
                    for c in 0..self.h.len() {
                        self.h[c] += step * (1.5 * self.k1[c] + 0.5 * self.k2[c]);
                    }
                    let watts_before = watts;
                    watts = self.rates_here(then);
                    heat_in += 0.5 * step * (watts_before + watts);
                    self.temperatures(step, &mut after, &mut slope_after);
                    watch.step(&Step {
                        from_s: t,
                        until_s: t + step,
                        before: &before,
                        slope_before: &slope_before,
                        after: &after,
                        slope_after: &slope_after,
                    });
                    while let Some(s) = snapshots.next_if(|s| *s <= t + step + 1e-9) {
                        let x = ((s - t) / step).clamp(0.0, 1.0);
                        let celsius: Vec<f64> = (0..n)
                            .map(|i| hermite(before[i], after[i], slope_before[i], slope_after[i], x))
                            .collect();
                        let seen = celsius.iter().zip(&highest).map(|(c, h)| c.max(*h)).collect();
                        profiles.push(Profile { at_s: s, celsius, highest: seen });
                    }
                    for (h, s) in highest.iter_mut().zip(&self.state) {
                        *h = h.max(s.t);
                    }
                    t += step;
                    steps += 1;
                    self.record(t, slope, then, (&mut core, &mut surface, &mut mean));
                } else {
                    rejected += 1;
                    if step < SHORTEST_S {
                        return Err(HeatError::Diverged(t));
                    }
                }
                let growth = if error.is_finite() {
                    (0.9 * (BLOCK_TOLERANCE_K / error.max(1e-12)).sqrt()).clamp(0.1, 3.0)
                } else {
                    0.1
                };
                dt = if accepted && step < dt { dt.max(step * growth) } else { step * growth };
            }
        }
        let stored = self.h.iter().zip(&self.start).zip(&self.volumes);
        Ok(Solution {
            core,
            surface,
            mean,
            profiles,
            heat_stored: stored.map(|((h, s), v)| (h - s) * v).sum(),
            enthalpy: self.h,
            heat_in,
            steps,
            rejected,
        })
    }

    /// Every cell's temperature, and its slope in K per step.
    fn temperatures(&self, step: f64, celsius: &mut [f64], slopes: &mut [f64]) {
        for (i, state) in self.state.iter().enumerate() {
            celsius[i] = state.t;
            slopes[i] = state.dt * self.rate[i] * step;
        }
    }

    /// Rates and conductances at the current enthalpies; returns the heat coming in, W.
    fn rates_here(&mut self, bath: f64) -> f64 {
        for (s, h) in self.state.iter_mut().zip(&self.h) {
            *s = self.problem.material.state(*h);
        }
        let coefficient = self.problem.surface.coefficient;
        for axis in &mut self.axes {
            conductances(axis, &self.state, coefficient);
        }
        flows(&self.axes, &self.state, bath, &mut self.rate);
        self.rate.iter().zip(&self.volumes).map(|(r, v)| r * v).sum()
    }

    /// Rates at the enthalpies of the second stage, with the conductances of the step's beginning: the
    /// conductivity changes by thousandths within a step, and the method does not need it exactly.
    fn rates_of_stage(&mut self, bath: f64) {
        for (s, h) in self.scratch.iter_mut().zip(&self.stage) {
            *s = self.problem.material.state(*h);
        }
        flows(&self.axes, &self.scratch, bath, &mut self.stage_rate);
    }

    /// Factors `I − γ dt J` direction by direction.
    fn factor(&mut self, dt: f64) {
        let a = GAMMA * dt;
        for axis in &mut self.axes {
            let stride = axis.stride;
            for c in 0..self.state.len() {
                let i = axis.place[c] as usize;
                let w = a * axis.per_width[i];
                let inner = if i > 0 { axis.g[c - stride] } else { 0.0 };
                let diagonal = 1.0 + w * (inner + axis.g[c]) * self.state[c].dt;
                if i == 0 {
                    axis.pivot[c] = 1.0 / diagonal;
                } else {
                    let below = c - stride;
                    // Lower entry −w g T'(below); upper entry of the row below −w_b g T'(c).
                    let lower = w * inner * self.state[below].dt;
                    let upper = a * axis.per_width[i - 1] * inner * self.state[c].dt;
                    axis.multiplier[c] = lower * axis.pivot[below];
                    axis.pivot[c] = 1.0 / (diagonal - axis.multiplier[c] * upper);
                }
            }
        }
    }

    fn record(
        &self,
        t: f64,
        bath_slope: f64,
        bath: f64,
        (core, surface, mean): (&mut Curve, &mut Curve, &mut Curve),
    ) {
        let slope = |c: usize| self.state[c].dt * self.rate[c];
        let at_centre = |f: &dyn Fn(usize) -> f64| {
            let inner = f(0);
            let correction: f64 = self
                .axes
                .iter()
                .map(|axis| {
                    let (a, b) = (axis.centres[0], axis.centres[1]);
                    (inner - f(axis.stride)) * a * a / (b * b - a * a)
                })
                .sum();
            inner + correction
        };
        core.push(t, at_centre(&|c| self.state[c].t), at_centre(&slope));
        let axis = &self.axes[0];
        let last = axis.n - 1;
        let state = self.state[last];
        let share = axis.g[last] * axis.outward[last] / state.k;
        let face = state.t + share * (bath - state.t);
        let begun = t > 0.0;
        surface.push(t, if begun { face } else { state.t }, (1.0 - share) * slope(last) + share * bath_slope);
        let whole: f64 = self.volumes.iter().sum();
        let mean_of = |f: &dyn Fn(usize) -> f64| {
            self.volumes.iter().enumerate().map(|(c, v)| v * f(c)).sum::<f64>() / whole
        };
        mean.push(t, mean_of(&|c| self.state[c].t), mean_of(&slope));
    }
}

/// Conductance per area between each cell and its outer neighbour, or the bath.
fn conductances(axis: &mut Axis, state: &[State], coefficient: f64) {
    let (n, stride) = (axis.n, axis.stride);
    for (c, s) in state.iter().enumerate() {
        let i = axis.place[c] as usize;
        let (k, out) = (s.k, axis.outward[i]);
        axis.g[c] = if i + 1 == n {
            1.0 / (1.0 / coefficient + out / k)
        } else {
            let outer = state[c + stride].k;
            k * outer / (out * outer + axis.inward[i + 1] * k)
        };
    }
}

/// Rates of change of enthalpy from the flows in all three directions.
fn flows(axes: &[Axis; 3], state: &[State], bath: f64, rate: &mut [f64]) {
    rate.fill(0.0);
    for axis in axes {
        let (n, stride) = (axis.n, axis.stride);
        for c in 0..state.len() {
            let i = axis.place[c] as usize;
            if i + 1 == n {
                rate[c] += axis.g[c] * (bath - state[c].t) * axis.per_width[i];
            } else {
                let q = axis.g[c] * (state[c + stride].t - state[c].t);
                rate[c] += q * axis.per_width[i];
                rate[c + stride] -= q * axis.per_width[i + 1];
            }
        }
    }
}

/// Solves the three systems factored for `a = γ dt` one after another, in place.
fn sweep(axes: &[Axis; 3], state: &[State], a: f64, x: &mut [f64]) {
    for axis in axes {
        let (n, stride) = (axis.n, axis.stride);
        for c in 0..x.len() {
            if axis.place[c] > 0 {
                x[c] += axis.multiplier[c] * x[c - stride];
            }
        }
        for c in (0..x.len()).rev() {
            let i = axis.place[c] as usize;
            let from_outer = if i + 1 < n {
                a * axis.per_width[i] * axis.g[c] * state[c + stride].dt * x[c + stride]
            } else {
                0.0
            };
            x[c] = (x[c] + from_outer) * axis.pivot[c];
        }
    }
}
