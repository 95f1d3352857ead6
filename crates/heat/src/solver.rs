//! The time stepping.

use super::integrate::{Body, Control, Moving, integrate};
use super::material::State;
use super::watch::Watch;
use super::{BathTrace, Material, Mesh, Solution};

/// Local error allowed per time step, in kelvin: root of the mean square over the cells.
pub const TOLERANCE_K: f64 = 2.5e-3;

/// How heat gets into the surface.
#[derive(Debug, Clone, PartialEq)]
pub struct Surface {
    /// Coefficient of heat transfer, W/m²K.
    pub coefficient: f64,
    /// Temperature of what surrounds the piece.
    pub bath: BathTrace,
}

/// The piece's temperature when it goes in.
#[derive(Debug, Clone, PartialEq)]
pub enum Initial {
    /// The same throughout, °C. Below the freezing point means frozen through.
    Uniform(f64),
    /// One per cell, thermal centre first, °C: half thawed, or taken out of an earlier simulation.
    Snapshot(Vec<f64>),
}

/// One piece in one bath.
#[derive(Debug, Clone)]
pub struct Problem<'a> {
    /// The mesh.
    pub mesh: Mesh,
    /// What each cell is made of, thermal centre first.
    pub materials: Vec<&'a Material>,
    /// Temperature when it goes in.
    pub start: Initial,
    /// The outer surface. Through the centre no heat passes.
    pub surface: Surface,
}

impl<'a> Problem<'a> {
    /// A piece of one material.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// # let meat = Material::constant(1.4e-7, 0.48);
    /// # let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
    /// # let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
    /// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath);
    /// assert_eq!(problem.materials.len(), DEFAULT_CELLS);
    /// ```
    #[must_use]
    pub fn uniform(mesh: Mesh, material: &'a Material, start: Initial, surface: Surface) -> Self {
        let materials = vec![material; mesh.cells()];
        Self { mesh, materials, start, surface }
    }
}

/// Why no answer could be given.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum HeatError {
    /// The parts of the problem do not fit together.
    #[error("{what} has {got} values where the mesh has {want} cells")]
    Mismatch {
        /// Which part.
        what: &'static str,
        /// How many it has.
        got: usize,
        /// How many there should be.
        want: usize,
    },
    /// It would have taken more cells times steps than the question was given; see [`super::Effort`].
    #[error("this takes more than {} million cell steps of computing, the most for one question: ask for a shorter time, a thinner piece, or a bath of fewer points", .0 / 1_000_000)]
    TooMuch(u64),
    /// Whoever asked is gone.
    #[error("the simulation was stopped")]
    Stopped,
    /// The step became too short to go on.
    #[error("the simulation stopped converging {0:.1} s in")]
    Diverged(f64),
}

/// Follows a piece for `until_s` seconds, with profiles at each of `snapshots_s` (rising order).
///
/// Finite volumes in enthalpy form; interface conductances are harmonic means, so that materials of
/// a layered piece meet correctly. Time integration is the four-stage Rosenbrock method RODAS3
/// (order 3, embedded order 2, L-stable and stiffly accurate), with the exact Jacobian, step size
/// from the embedded error in the worst cell, [`TOLERANCE_K`]. Linear in cells and in steps; nothing
/// is allocated per step but the recorded points.
///
/// Energy is conserved to rounding by construction: the heat through the surface is integrated by
/// the same method as one more unknown.
///
/// Source of the method: Sandu, Verwer, Blom, Spee, Carmichael and Potra, "Benchmarking stiff ODE
/// solvers for atmospheric chemistry problems II: Rosenbrock solvers", Atmos. Environ. 31 (1997)
/// 3459–3472 (coefficients written down from memory; `tests/analytic_series.rs` checks the result).
///
/// # Errors
/// When the parts do not fit the mesh, or (never seen for a real food) a step cannot be taken.
///
/// ```
/// use hold_steady_heat::BathTrace;
/// use hold_steady_heat::*;
/// let meat = Material::constant(1.4e-7, 0.48);
/// let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
/// let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
/// let run = simulate(&Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath), 7200.0, &[])?;
/// let through = run.core.first(0.0, |t| t >= 54.5).expect("it gets there");
/// assert!((through / 60.0 - 68.55).abs() < 0.05);
/// # Ok::<(), HeatError>(())
/// ```
pub fn simulate(problem: &Problem<'_>, until_s: f64, snapshots_s: &[f64]) -> Result<Solution, HeatError> {
    simulate_watched(problem, until_s, snapshots_s, &mut ())
}

/// [`simulate`], with every accepted step of every cell shown to `watch`.
///
/// # Errors
/// As [`simulate`].
///
/// ```
/// # use hold_steady_heat::*;
/// # let meat = Material::constant(1.4e-7, 0.48);
/// # let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
/// # let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
/// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath);
/// // Watched by nobody it is `simulate`.
/// assert_eq!(simulate_watched(&problem, 600.0, &[], &mut ())?, simulate(&problem, 600.0, &[])?);
/// # Ok::<(), HeatError>(())
/// ```
pub fn simulate_watched(
    problem: &Problem<'_>,
    until_s: f64,
    snapshots_s: &[f64],
    watch: &mut dyn Watch,
) -> Result<Solution, HeatError> {
    let n = problem.mesh.cells();
    let fits = |what, got| {
        if got == n { Ok(()) } else { Err(HeatError::Mismatch { what, got, want: n }) }
    };
    fits("materials", problem.materials.len())?;
    if let Initial::Snapshot(p) = &problem.start {
        fits("start profile", p.len())?;
    }
    integrate(Stepper::new(problem), &problem.surface.bath, (until_s, snapshots_s), watch)
}

/// RODAS3's γ; its other coefficients stand in [`Stepper::attempt`].
const GAMMA: f64 = 0.5;

/// Everything a step works on, allocated once.
struct Stepper<'a> {
    materials: &'a [&'a Material],
    mesh: &'a Mesh,
    coefficient: f64,
    inverse_volume: Vec<f64>,
    /// From each cell's centre to its inner and to its outer face.
    inward: Vec<f64>,
    outward: Vec<f64>,
    inverse_reference: Vec<f64>,
    start: Vec<f64>,
    h: Vec<f64>,
    state: Vec<State>,
    rate: Vec<f64>,
    stage: Vec<f64>,
    stage_state: Vec<State>,
    stage_rate: Vec<f64>,
    k: [Vec<f64>; 4],
    lower: Vec<f64>,
    diagonal: Vec<f64>,
    upper: Vec<f64>,
    multiplier: Vec<f64>,
    inverse_pivot: Vec<f64>,
    back: Vec<f64>,
    /// The whole volume.
    whole: f64,
    flow: Flow,
    /// What the step that is tried brings in, and what came in before it.
    heat_of_step: f64,
    heat_in: f64,
}

/// The heat crossing the outer surface, and how it depends on what drives it.
#[derive(Clone, Copy, Default)]
struct Flow {
    watts: f64,
    per_enthalpy: f64,
    per_kelvin: f64,
}

impl<'a> Stepper<'a> {
    fn new(problem: &'a Problem<'a>) -> Self {
        let mesh = &problem.mesh;
        let n = mesh.cells();
        let start_c = |i: usize| match &problem.start {
            Initial::Uniform(t) => *t,
            Initial::Snapshot(p) => p[i],
        };
        let h: Vec<f64> = (0..n).map(|i| problem.materials[i].enthalpy(start_c(i))).collect();
        let zeros = || vec![0.0; n];
        Self {
            materials: &problem.materials,
            mesh,
            coefficient: problem.surface.coefficient,
            inverse_volume: mesh.volumes.iter().map(|v| 1.0 / v).collect(),
            inward: (0..n).map(|i| mesh.centres_m[i] - mesh.faces_m[i]).collect(),
            outward: (0..n).map(|i| mesh.faces_m[i + 1] - mesh.centres_m[i]).collect(),
            inverse_reference: problem.materials.iter().map(|m| 1.0 / m.reference_capacity()).collect(),
            start: h.clone(),
            h,
            state: vec![State::default(); n],
            rate: zeros(),
            stage: zeros(),
            stage_state: vec![State::default(); n],
            stage_rate: zeros(),
            k: [zeros(), zeros(), zeros(), zeros()],
            lower: zeros(),
            diagonal: zeros(),
            upper: zeros(),
            multiplier: zeros(),
            inverse_pivot: zeros(),
            back: zeros(),
            whole: mesh.volumes.iter().sum(),
            flow: Flow::default(),
            heat_of_step: 0.0,
            heat_in: 0.0,
        }
    }

    /// Rates of change, states and Jacobian at the current enthalpies.
    fn rates_here(&mut self, bath: f64) -> Flow {
        let n = self.h.len();
        // Slices of one known length: the compiler then drops the bounds checks of the loops.
        let state = &mut self.state[..n];
        for ((state, h), m) in state.iter_mut().zip(&self.h).zip(self.materials) {
            *state = m.state(*h);
        }
        let (areas, volumes) = (&self.mesh.areas[..=n], &self.inverse_volume[..n]);
        let (inward, outward) = (&self.inward[..n], &self.outward[..n]);
        let (rate, lower) = (&mut self.rate[..n], &mut self.lower[..n]);
        let (diagonal, upper) = (&mut self.diagonal[..n], &mut self.upper[..n]);
        let (mut inner_flow, mut own) = (0.0, 0.0);
        let (mut a, mut per_ka) = (state[0], 1.0 / state[0].k);
        for i in 1..n {
            let b = state[i];
            let per_kb = 1.0 / b.k;
            let (ra, rb) = (outward[i - 1] * per_ka, inward[i] * per_kb);
            let per_area = 1.0 / (ra + rb);
            let g = areas[i] * per_area;
            let q = g * (b.t - a.t);
            // dq/dk, through the resistances: each falls as its conductivity rises.
            let per_r = q * per_area;
            let per_outer = g * b.dt + per_r * rb * per_kb * b.dk;
            let per_inner = per_r * ra * per_ka * a.dk - g * a.dt;
            let (va, vb) = (volumes[i - 1], volumes[i]);
            rate[i - 1] = (q - inner_flow) * va;
            diagonal[i - 1] = own + per_inner * va;
            upper[i - 1] = per_outer * va;
            lower[i] = -per_inner * vb;
            own = -per_outer * vb;
            inner_flow = q;
            (a, per_ka) = (b, per_kb);
        }
        let v = volumes[n - 1];
        let r = outward[n - 1] * per_ka;
        let per_area = 1.0 / (1.0 / self.coefficient + r);
        let u = areas[n] * per_area;
        let watts = u * (bath - a.t);
        let per_enthalpy = watts * per_area * r * per_ka * a.dk - u * a.dt;
        diagonal[n - 1] = own + per_enthalpy * v;
        rate[n - 1] = (watts - inner_flow) * v;
        Flow { watts, per_enthalpy, per_kelvin: u }
    }

    /// Rates at the enthalpies of a stage, without the Jacobian; returns the heat coming in.
    fn rates_of_stage(&mut self, bath: f64) -> f64 {
        let n = self.h.len();
        let state = &mut self.stage_state[..n];
        for ((state, h), m) in state.iter_mut().zip(&self.stage).zip(self.materials) {
            *state = m.state(*h);
        }
        let (areas, volumes) = (&self.mesh.areas[..=n], &self.inverse_volume[..n]);
        let (inward, outward) = (&self.inward[..n], &self.outward[..n]);
        let rate = &mut self.stage_rate[..n];
        let mut inner_flow = 0.0;
        for i in 1..n {
            let (a, b) = (state[i - 1], state[i]);
            // One division instead of three: A ka kb / (da kb + db ka).
            let g = areas[i] * a.k * b.k / (outward[i - 1] * b.k + inward[i] * a.k);
            let q = g * (b.t - a.t);
            rate[i - 1] = (q - inner_flow) * volumes[i - 1];
            inner_flow = q;
        }
        let last = state[n - 1];
        let u = areas[n] / (1.0 / self.coefficient + outward[n - 1] / last.k);
        let q = u * (bath - last.t);
        rate[n - 1] = (q - inner_flow) * volumes[n - 1];
        q
    }

    /// Factors `I/(γ dt) − J`, from both ends towards the middle: two chains of operations that do not wait for
    /// each other, where from one end there is one of twice the length.
    fn factor(&mut self, dt: f64) {
        let shift = 1.0 / (GAMMA * dt);
        let n = self.h.len();
        let middle = n / 2;
        let (lower, diagonal, upper) = (&self.lower[..n], &self.diagonal[..n], &self.upper[..n]);
        let (multiplier, pivot, back) =
            (&mut self.multiplier[..n], &mut self.inverse_pivot[..n], &mut self.back[..n]);
        // The matrix has −J off its diagonal. What a row takes over from the one eliminated before it:
        let (mut from_left, mut from_right) = (0.0, 0.0);
        let (mut left_pivot, mut right_pivot) = (0.0, 0.0);
        for left in 0..middle {
            multiplier[left] = lower[left] * left_pivot;
            left_pivot = 1.0 / (shift - diagonal[left] - multiplier[left] * from_left);
            (pivot[left], back[left]) = (left_pivot, upper[left] * left_pivot);
            from_left = upper[left];
            let right = n - 1 - left;
            if right > middle {
                multiplier[right] = upper[right] * right_pivot;
                right_pivot = 1.0 / (shift - diagonal[right] - multiplier[right] * from_right);
                (pivot[right], back[right]) = (right_pivot, lower[right] * right_pivot);
                from_right = lower[right];
            }
        }
        multiplier[middle] = lower[middle] * left_pivot;
        back[middle] = upper[middle] * right_pivot;
        let met = multiplier[middle] * from_left + back[middle] * from_right;
        pivot[middle] = 1.0 / (shift - diagonal[middle] - met);
    }

    /// Solves the factored system for stage `which`, in place: inwards from both ends, and out again.
    fn solve(&mut self, which: usize) {
        let n = self.h.len();
        let middle = n / 2;
        let x = &mut self.k[which][..n];
        let (multiplier, back, pivot) = (&self.multiplier[..n], &self.back[..n], &self.inverse_pivot[..n]);
        let (mut from_left, mut from_right) = (0.0, 0.0);
        for left in 0..middle {
            from_left = x[left] + multiplier[left] * from_left;
            x[left] = from_left;
            let right = n - 1 - left;
            if right > middle {
                from_right = x[right] + multiplier[right] * from_right;
                x[right] = from_right;
            }
        }
        let met = x[middle] + multiplier[middle] * from_left + back[middle] * from_right;
        let mut to_left = met * pivot[middle];
        let mut to_right = to_left;
        x[middle] = to_left;
        for left in (0..middle).rev() {
            to_left = x[left] * pivot[left] + back[left] * to_left;
            x[left] = to_left;
            let right = n - 1 - left;
            if right > middle {
                to_right = x[right] * pivot[right] + back[right] * to_right;
                x[right] = to_right;
            }
        }
    }
}

impl Body for Stepper<'_> {
    const CONTROL: Control =
        Control { tolerance_k: TOLERANCE_K, first_s: 0.05, shortest_s: 1e-7, root: f64::cbrt, growth: 5.0 };

    fn cells(&self) -> usize {
        self.h.len()
    }

    fn layers(&self) -> usize {
        self.h.len()
    }

    fn look(&mut self, bath_c: f64) {
        self.flow = self.rates_here(bath_c);
    }

    /// One step of RODAS3. Leaves `y + 2 K1 + K3` in `stage` and the error estimate in `K4`; returns
    /// the error in kelvin.
    fn attempt(&mut self, dt: f64, bath_then: f64, bath_slope: f64) -> f64 {
        self.factor(dt);
        let (n, flow) = (self.h.len(), self.flow);
        let per_dt = 1.0 / dt;
        let ramp = flow.per_kelvin * bath_slope * dt;
        let ramp_rate = ramp * self.inverse_volume[n - 1];
        // The heat through the surface is one more unknown, integrated by the same stages.
        let heat = |watts: f64, k_last: f64, history: f64| {
            GAMMA * dt * (watts + flow.per_enthalpy * k_last + history * per_dt)
        };

        self.k[0].copy_from_slice(&self.rate);
        self.k[0][n - 1] += 0.5 * ramp_rate;
        self.solve(0);
        let q1 = heat(flow.watts + 0.5 * ramp, self.k[0][n - 1], 0.0);

        for i in 0..n {
            self.k[1][i] = self.rate[i] + 4.0 * per_dt * self.k[0][i];
        }
        self.k[1][n - 1] += 1.5 * ramp_rate;
        self.solve(1);
        let q2 = heat(flow.watts + 1.5 * ramp, self.k[1][n - 1], 4.0 * q1);

        for i in 0..n {
            self.stage[i] = self.h[i] + 2.0 * self.k[0][i];
        }
        let watts3 = self.rates_of_stage(bath_then);
        for i in 0..n {
            self.k[2][i] = self.stage_rate[i] + per_dt * (self.k[0][i] - self.k[1][i]);
        }
        self.solve(2);
        let q3 = heat(watts3, self.k[2][n - 1], q1 - q2);

        for i in 0..n {
            self.stage[i] += self.k[2][i];
        }
        let watts4 = self.rates_of_stage(bath_then);
        for i in 0..n {
            self.k[3][i] =
                self.stage_rate[i] + per_dt * (self.k[0][i] - self.k[1][i] - 8.0 / 3.0 * self.k[2][i]);
        }
        self.solve(3);
        let q4 = heat(watts4, self.k[3][n - 1], q1 - q2 - 8.0 / 3.0 * q3);

        // Root of the mean square over the cells: a cell that just passes its freezing point, where no
        // polynomial fits, does not alone dictate the step.
        let squares: f64 =
            self.k[3].iter().zip(&self.inverse_reference).map(|(k, inverse)| (k * inverse).powi(2)).sum();
        self.heat_of_step = 2.0 * q1 + q3 + q4;
        (squares / n as f64).sqrt()
    }

    fn accept(&mut self, _: f64, bath_then: f64) {
        for i in 0..self.h.len() {
            self.h[i] = self.stage[i] + self.k[3][i];
        }
        self.heat_in += self.heat_of_step;
        self.look(bath_then);
    }

    fn temperatures(&self, step: f64, celsius: &mut [f64], slopes: &mut [f64]) {
        for (i, state) in self.state.iter().enumerate() {
            celsius[i] = state.t;
            slopes[i] = state.dt * self.rate[i] * step;
        }
    }

    /// At r = 0, by the parabola through the two innermost cells that is flat there.
    fn centre(&self) -> Moving {
        let slope = |i: usize| self.state[i].dt * self.rate[i];
        let (a, b) = (self.mesh.centres_m[0], self.mesh.centres_m[1]);
        let w = a * a / (b * b - a * a);
        let at_centre = |inner: f64, next: f64| inner + (inner - next) * w;
        (at_centre(self.state[0].t, self.state[1].t), at_centre(slope(0), slope(1)))
    }

    /// From the outermost cell to it the heat flow is the flow through it.
    fn face(&self, (_, bath_slope): Moving) -> Moving {
        let n = self.h.len();
        let last = self.state[n - 1];
        let share = self.outward[n - 1] / last.k / self.mesh.areas[n];
        let toward = share * self.flow.per_kelvin;
        let slope = (1.0 - toward) * last.dt * self.rate[n - 1] + toward * bath_slope;
        (last.t + share * self.flow.watts, slope)
    }

    fn mean(&self) -> Moving {
        let (mut sum, mut sum_slope) = (0.0, 0.0);
        for ((v, s), r) in self.mesh.volumes.iter().zip(&self.state).zip(&self.rate) {
            sum += v * s.t;
            sum_slope += v * s.dt * r;
        }
        (sum / self.whole, sum_slope / self.whole)
    }

    fn celsius(&self, cell: usize) -> f64 {
        self.state[cell].t
    }

    fn end(self) -> (Vec<f64>, f64, f64) {
        let stored = self.h.iter().zip(&self.start).zip(&self.mesh.volumes);
        let stored = stored.map(|((h, start), v)| (h - start) * v).sum();
        (self.h, self.heat_in, stored)
    }
}
