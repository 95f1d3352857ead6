//! Looking on while a piece is simulated: every cell at both ends of every accepted step.

use super::solution::hermite;

/// One accepted step of a simulation. Cells are in the solver's order, the thermal centre first.
#[derive(Debug, Clone, Copy)]
pub struct Step<'a> {
    /// When it begins, seconds.
    pub from_s: f64,
    /// When it ends, seconds.
    pub until_s: f64,
    /// Temperature of each cell at its beginning, °C.
    pub before: &'a [f64],
    /// Its slope there, K per step.
    pub slope_before: &'a [f64],
    /// Temperature of each cell at its end, °C.
    pub after: &'a [f64],
    /// Its slope there, K per step.
    pub slope_after: &'a [f64],
}

impl Step<'_> {
    /// Seconds at which cell `i` passes `c` °C within the step, given that it stands on different sides of
    /// it at the two ends; to a tenth of a second.
    #[must_use]
    pub fn passes_s(&self, i: usize, c: f64) -> f64 {
        const NEAR_S: f64 = 0.1;
        let width = self.until_s - self.from_s;
        let at =
            |x: f64| hermite(self.before[i], self.after[i], self.slope_before[i], self.slope_after[i], x);
        let rising = self.after[i] > self.before[i];
        let (mut low, mut high) = (0.0, 1.0);
        while (high - low) * width > NEAR_S {
            let middle = 0.5 * (low + high);
            if (at(middle) >= c) == rising { high = middle } else { low = middle }
        }
        self.from_s + width * 0.5 * (low + high)
    }
}

/// What looks on.
pub trait Watch {
    /// Called once for every accepted step, in order.
    fn step(&mut self, step: &Step<'_>);
}

/// Nobody looks on.
impl Watch for () {
    fn step(&mut self, _: &Step<'_>) {}
}
