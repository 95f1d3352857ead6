//! Looking on while a piece is simulated: every cell at both ends of every accepted step.

use super::solution::Cubic;

/// One accepted step of a simulation. Layers are the cells in the solver's order, the thermal centre first, and after them
/// the face itself: germs sit on it, and it is warmer (or colder) than any cell.
#[derive(Debug, Clone, Copy)]
pub struct SolvedStep<'a> {
    /// When it begins, seconds.
    pub from_s: f64,
    /// When it ends, seconds.
    pub until_s: f64,
    /// Temperature of each layer at its beginning, °C.
    pub before: &'a [f64],
    /// Its slope there, K per step.
    pub slope_before: &'a [f64],
    /// Temperature of each layer at its end, °C.
    pub after: &'a [f64],
    /// Its slope there, K per step.
    pub slope_after: &'a [f64],
}

impl SolvedStep<'_> {
    /// Seconds at which layer `i` passes `c` °C within the step, given that it stands on different sides of
    /// it at the two ends; to a tenth of a second.
    ///
    /// ```
    /// use hold_steady_heat::*;
    /// struct Passed(Option<f64>);
    /// impl Watch for Passed {
    ///     fn step(&mut self, step: &SolvedStep<'_>) {
    ///         let (before, after) = (step.before[0], step.after[0]);
    ///         if before < 50.0 && after >= 50.0 {
    ///             self.0 = Some(step.passes_s(0, 50.0));
    ///         }
    ///     }
    /// }
    /// let meat = Material::constant(1.4e-7, 0.48);
    /// let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
    /// let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
    /// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath);
    /// let mut innermost = Passed(None);
    /// simulate_watched(&problem, 7200.0, &[], &mut innermost)?;
    /// assert!(innermost.0.is_some_and(|s| (1200.0..4800.0).contains(&s)));
    /// # Ok::<(), HeatError>(())
    /// ```
    #[must_use]
    pub fn passes_s(&self, i: usize, c: f64) -> f64 {
        const NEAR_S: f64 = 0.1;
        let (a, b) = (self.before[i], self.after[i]);
        let width = self.until_s - self.from_s;
        let cubic = Cubic::new(a, b, self.slope_before[i], self.slope_after[i]);
        let near = NEAR_S / width;
        // Newton from the straight line, kept between the ends known: halved where it would leave them.
        let (mut low, mut high) = (0.0, 1.0);
        let mut x = (c - a) / (b - a);
        while high - low > near {
            let off = cubic.at(x) - c;
            if (off >= 0.0) == (b > a) {
                high = x
            } else {
                low = x
            }
            let next = x - off / cubic.slope(x);
            if (next - x).abs() < 0.5 * near && low <= next && next <= high {
                x = next;
                break;
            }
            x = if low < next && next < high { next } else { 0.5 * (low + high) };
        }
        self.from_s + width * x
    }
}

/// What looks on.
pub trait Watch {
    /// Called once for every accepted step, in order.
    fn step(&mut self, step: &SolvedStep<'_>);
}

/// Nobody looks on.
impl Watch for () {
    fn step(&mut self, _: &SolvedStep<'_>) {}
}
