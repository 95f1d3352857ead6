//! One way through time for every body: the step follows the body's own error, starts anew at the bath's corners, and
//! leaves curves, profiles and what watches behind it.

use super::effort::Meter;
use super::solution::{Within, hermite};
use super::watch::{SolvedStep, Watch};
use super::{BathTrace, Curve, HeatError, Snapshot, Solution};

/// A temperature and its slope, °C and K/s.
pub(super) type Moving = (f64, f64);

/// What a body's steps are held to.
pub(super) struct Control {
    /// Local error allowed per step, K: root of the mean square over the cells.
    pub tolerance_k: f64,
    /// The first step, seconds.
    pub first_s: f64,
    /// Below this something is wrong, seconds.
    pub shortest_s: f64,
    /// The error's way back to the step: it goes with its square or its cube.
    pub root: fn(f64) -> f64,
    /// A step is at most so many times as long as the one before.
    pub growth: f64,
}

impl Control {
    /// How much longer the next step may be after one that erred by so much, K.
    fn factor(&self, error_k: f64) -> f64 {
        const SAFETY: f64 = 0.9;
        const LEAST: f64 = 0.1;
        if !error_k.is_finite() {
            return LEAST;
        }
        (SAFETY * (self.root)(self.tolerance_k / error_k.max(1e-12))).clamp(LEAST, self.growth)
    }
}

/// A body in a bath, cut into cells, that can go a step further. Layers of its profile are its first cells.
pub(super) trait Body {
    /// What its steps are held to.
    const CONTROL: Control;

    /// How many cells are solved.
    fn cells(&self) -> usize;
    /// How many of them, the thermal centre first, are its profile.
    fn layers(&self) -> usize;
    /// States and rates where it is now, in a bath of so many °C.
    fn look(&mut self, bath_c: f64);
    /// Tries a step to a bath of so many °C that changes by so much, K/s; returns its error, K.
    fn attempt(&mut self, step_s: f64, bath_then: f64, slope: f64) -> f64;
    /// Takes the step that was tried.
    fn accept(&mut self, step_s: f64, bath_then: f64);
    /// Every cell's temperature, and its slope in K per step.
    fn temperatures(&self, step_s: f64, celsius: &mut [f64], slopes: &mut [f64]);
    /// The thermal centre.
    fn centre(&self) -> Moving;
    /// The (nearest) face, under this bath.
    fn face(&self, bath: Moving) -> Moving;
    /// The mean over the volume.
    fn mean(&self) -> Moving;
    /// Temperature of a cell, °C.
    fn celsius(&self, cell: usize) -> f64;
    /// Enthalpies at the end, heat that came in, and heat that is stored.
    fn end(self) -> (Vec<f64>, f64, f64);
}

/// Where bath's slope changes, the first step is so short that it moves the bath by no more than this against where it
/// went before, K. The error of a long step over such a corner does not show in the method's own estimate (it damps what
/// is fast), and a cubic over it would swing beyond the hottest water there was.
const CORNER_K: f64 = 0.02;

/// The longest first step after a corner of so many kelvin a second, seconds.
fn after_corner_s(change_k_s: f64) -> f64 {
    const SHORTEST_S: f64 = 0.02;
    (CORNER_K / change_k_s.abs().max(1e-12)).max(SHORTEST_S)
}

/// Room made for the steps of a run beforehand.
pub const EXPECTED_POINTS: usize = 512;

/// How close to a segment's end a step counts as having got there, seconds.
const THERE_S: f64 = 1e-9;

/// Follows a body for `until_s` seconds, with profiles at each of `snapshots_s` (rising order).
pub(super) fn integrate<B: Body>(
    mut body: B,
    bath: &BathTrace,
    (until_s, snapshots_s): (f64, &[f64]),
    watch: &mut dyn Watch,
) -> Result<Solution, HeatError> {
    let (control, meter, cells) = (B::CONTROL, Meter::new(), body.cells());
    body.look(bath.at(0.0));
    let mut course = Course::new(&body, bath.at(0.0), snapshots_s);
    let mut dt = control.first_s;
    let mut slope_so_far = None::<f64>;
    for (segment_end, slope) in bath.segments(until_s) {
        if let Some(before) = slope_so_far.replace(slope) {
            dt = dt.min(after_corner_s(slope - before));
        }
        // The bath's slope changes here: its point stands twice, once for each side.
        course.record(&body, slope);
        while course.t < segment_end - THERE_S {
            course.profiles(&body, THERE_S);
            let t = course.t;
            let step = if t + 1.001 * dt >= segment_end { segment_end - t } else { dt };
            let bath_then = bath.at(t + step);
            meter.step(cells)?;
            let error = body.attempt(step, bath_then, slope);
            let taken = error <= control.tolerance_k;
            if taken {
                course.advance(&mut body, step, (bath_then, slope), watch);
            } else {
                course.rejected += 1;
                if step < control.shortest_s {
                    return Err(HeatError::Diverged(t));
                }
            }
            let next = step * control.factor(error);
            // A step cut short by a segment's end says nothing against the longer one.
            dt = if taken && step < dt { dt.max(next) } else { next };
        }
    }
    course.profiles(&body, 1e-6);
    Ok(course.end(body))
}

/// Temperatures of every cell and the face after them, and their slopes in K per step.
struct Layers {
    celsius: Vec<f64>,
    slopes: Vec<f64>,
}

/// What a run leaves behind it.
struct Course<'a> {
    t: f64,
    bath_c: f64,
    steps: usize,
    rejected: usize,
    /// At the beginning and the end of a step.
    ends: [Layers; 2],
    within: Within,
    highest: Vec<f64>,
    core: Curve,
    surface: Curve,
    mean: Curve,
    profiles: Vec<Snapshot>,
    /// Profiles that are still to come, seconds.
    wanted: &'a [f64],
}

impl<'a> Course<'a> {
    fn new(body: &impl Body, bath_c: f64, wanted: &'a [f64]) -> Self {
        let layers = || vec![0.0; body.cells() + 1];
        let celsius = |cells: usize| (0..cells).map(|i| body.celsius(i));
        let curve = || Curve::with_capacity(EXPECTED_POINTS);
        Self {
            t: 0.0,
            bath_c,
            steps: 0,
            rejected: 0,
            ends: [(); 2].map(|()| Layers { celsius: layers(), slopes: layers() }),
            within: Within::of(celsius(body.cells())).and(bath_c),
            highest: celsius(body.layers()).collect(),
            core: curve(),
            surface: curve(),
            mean: curve(),
            profiles: Vec::with_capacity(wanted.len()),
            wanted,
        }
    }

    /// A point of the curves, where the bath's slope is so many K/s.
    fn record(&mut self, body: &impl Body, slope: f64) {
        let (centre, centre_slope) = body.centre();
        let (face, face_slope) = body.face((self.bath_c, slope));
        let (mean, mean_slope) = body.mean();
        // Before the first step the face is as warm as what lies under it.
        let face = if self.steps == 0 { body.celsius(body.layers() - 1) } else { face };
        self.core.push(self.t, centre, centre_slope, self.within);
        self.surface.push(self.t, face, face_slope, self.within);
        self.mean.push(self.t, mean, mean_slope, self.within);
    }

    /// The profiles that were wanted up to now, and so much after.
    fn profiles(&mut self, body: &impl Body, near_s: f64) {
        while let Some((_, rest)) = self.wanted.split_first().filter(|(s, _)| **s <= self.t + near_s) {
            self.wanted = rest;
            let celsius = (0..body.layers()).map(|i| self.within.kept(body.celsius(i))).collect();
            self.profiles.push(Snapshot { at_s: self.t, celsius, highest: self.highest.clone() });
        }
    }

    /// Takes the step that was tried, and everything that is wanted of it.
    fn advance(&mut self, body: &mut impl Body, step: f64, (bath_c, slope): Moving, watch: &mut dyn Watch) {
        let [before, after] = &mut self.ends;
        Self::fill(before, body, step, (self.bath_c, slope));
        if self.steps == 0 {
            before.celsius[body.cells()] = before.celsius[body.layers() - 1];
        }
        body.accept(step, bath_c);
        self.within = self.within.and(bath_c);
        Self::fill(after, body, step, (bath_c, slope));
        self.between(step);
        let [before, after] = &self.ends;
        for (highest, after) in self.highest.iter_mut().zip(&after.celsius) {
            *highest = highest.max(*after);
        }
        watch.step(&SolvedStep {
            from_s: self.t,
            until_s: self.t + step,
            before: &before.celsius,
            slope_before: &before.slopes,
            after: &after.celsius,
            slope_after: &after.slopes,
        });
        self.t += step;
        self.bath_c = bath_c;
        self.steps += 1;
        self.record(body, slope);
    }

    fn fill(layers: &mut Layers, body: &impl Body, step: f64, bath: Moving) {
        body.temperatures(step, &mut layers.celsius, &mut layers.slopes);
        let (face, slope) = body.face(bath);
        let n = body.cells();
        (layers.celsius[n], layers.slopes[n]) = (face, slope * step);
    }

    /// The profiles that were wanted within the step.
    fn between(&mut self, step: f64) {
        let [before, after] = &self.ends;
        let end = self.t + step;
        while let Some((s, rest)) = self.wanted.split_first().filter(|(s, _)| **s < end - THERE_S) {
            self.wanted = rest;
            let x = (s - self.t) / step;
            let at =
                |i: usize| hermite(before.celsius[i], after.celsius[i], before.slopes[i], after.slopes[i], x);
            let celsius: Vec<f64> = (0..self.highest.len()).map(|i| self.within.kept(at(i))).collect();
            let highest = celsius.iter().zip(&self.highest).map(|(c, h)| c.max(*h)).collect();
            self.profiles.push(Snapshot { at_s: *s, celsius, highest });
        }
    }

    fn end(self, body: impl Body) -> Solution {
        let (enthalpy, heat_in, heat_stored) = body.end();
        Solution {
            core: self.core,
            surface: self.surface,
            mean: self.mean,
            profiles: self.profiles,
            enthalpy,
            heat_in,
            heat_stored,
            steps: self.steps,
            rejected: self.rejected,
        }
    }
}
