//! The answer of a simulation: curves that are continuous in time, and profiles at chosen instants.

/// A temperature that varies over time, known at the solver's own steps with its slope, and
/// interpolated between them by cubics that never overshoot a monotone stretch.
///
/// ```
/// use hold_steady_heat::Curve;
/// let probe = Curve::from_readings(&[(0.0, 5.0), (600.0, 30.0), (1200.0, 50.0)]);
/// assert_eq!(probe.at(300.0), 17.5);
/// assert_eq!(probe.at(9000.0), 50.0); // held flat after the last reading
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Curve {
    times: Vec<f64>,
    values: Vec<f64>,
    slopes: Vec<f64>,
    /// What it can have been at all by each instant; empty where nothing is known of that.
    within: Vec<Within>,
    straight: bool,
}

/// The coldest and the hottest that a piece and its water have been so far: nothing in the piece is ever outside of it
/// (the maximum principle of conduction).
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Within {
    low: f64,
    high: f64,
}

impl Within {
    /// Of temperatures.
    pub(super) fn of(celsius: impl Iterator<Item = f64>) -> Self {
        let nothing = Self { low: f64::INFINITY, high: f64::NEG_INFINITY };
        celsius.fold(nothing, Self::and)
    }

    /// And of one more.
    pub(super) fn and(self, c: f64) -> Self {
        Self { low: self.low.min(c), high: self.high.max(c) }
    }

    /// What rounding and interpolation make of a temperature, put back to where it can be.
    pub(super) fn kept(self, c: f64) -> f64 {
        c.max(self.low).min(self.high)
    }
}

impl Curve {
    pub(super) fn with_capacity(n: usize) -> Self {
        Self {
            times: Vec::with_capacity(n),
            values: Vec::with_capacity(n),
            slopes: Vec::with_capacity(n),
            within: Vec::with_capacity(n),
            straight: false,
        }
    }

    pub(super) fn push(&mut self, t: f64, value: f64, slope: f64, within: Within) {
        self.times.push(t);
        self.values.push(within.kept(value));
        self.slopes.push(slope);
        self.within.push(within);
    }

    /// A curve through readings `(seconds, °C)` in rising order of time, straight between them.
    ///
    /// ```
    /// use hold_steady_heat::Curve;
    /// assert_eq!(Curve::from_readings(&[(0.0, 5.0), (600.0, 15.0)]).at(300.0), 10.0);
    /// ```
    #[must_use]
    pub fn from_readings(readings: &[(f64, f64)]) -> Self {
        Self {
            times: readings.iter().map(|r| r.0).collect(),
            values: readings.iter().map(|r| r.1).collect(),
            slopes: vec![0.0; readings.len()],
            within: Vec::new(),
            straight: true,
        }
    }

    /// The instants at which the curve is known exactly, seconds.
    ///
    /// ```
    /// use hold_steady_heat::Curve;
    /// assert_eq!(Curve::from_readings(&[(0.0, 5.0), (60.0, 55.0)]).times(), [0.0, 60.0]);
    /// ```
    #[must_use]
    pub fn times(&self) -> &[f64] {
        &self.times
    }

    /// The last instant, seconds; zero for an empty curve.
    ///
    /// ```
    /// use hold_steady_heat::Curve;
    /// assert_eq!(Curve::from_readings(&[(0.0, 5.0), (60.0, 55.0)]).end(), 60.0);
    /// ```
    #[must_use]
    pub fn end(&self) -> f64 {
        self.times.last().copied().unwrap_or(0.0)
    }

    /// The temperature at `t` seconds; held flat before the first and after the last instant.
    ///
    /// ```
    /// use hold_steady_heat::Curve;
    /// let probe = Curve::from_readings(&[(0.0, 5.0), (600.0, 15.0)]);
    /// assert_eq!((probe.at(-60.0), probe.at(60.0), probe.at(9000.0)), (5.0, 6.0, 15.0));
    /// ```
    #[must_use]
    pub fn at(&self, t: f64) -> f64 {
        let i = self.times.partition_point(|x| *x <= t);
        match (i, self.times.len()) {
            (_, 0) => f64::NAN,
            (0, _) => self.values[0],
            (i, n) if i == n => self.values[n - 1],
            (i, _) => self.within(i - 1, t),
        }
    }

    fn within(&self, i: usize, t: f64) -> f64 {
        let h = self.times[i + 1] - self.times[i];
        let x = (t - self.times[i]) / h;
        let (a, b) = (self.values[i], self.values[i + 1]);
        if self.straight {
            a + (b - a) * x
        } else {
            self.within[i + 1].kept(hermite(a, b, self.slopes[i] * h, self.slopes[i + 1] * h, x))
        }
    }

    /// The first instant from `from` on at which `reached` holds of the temperature, to a tenth of a
    /// second; `None` when it never does.
    ///
    /// ```
    /// use hold_steady_heat::Curve;
    /// let probe = Curve::from_readings(&[(0.0, 5.0), (600.0, 15.0)]);
    /// assert!(probe.first(0.0, |c| c >= 10.0).is_some_and(|s| (s - 300.0).abs() < 0.2));
    /// assert_eq!(probe.first(0.0, |c| c >= 20.0), None);
    /// ```
    #[must_use]
    pub fn first(&self, from: f64, reached: impl Fn(f64) -> bool) -> Option<f64> {
        self.first_until(from, f64::INFINITY, reached)
    }

    /// The same, looking no further than `until`.
    ///
    /// ```
    /// use hold_steady_heat::Curve;
    /// let warming = Curve::from_readings(&[(0.0, 5.0), (60.0, 55.0)]);
    /// assert!(warming.first_until(0.0, 60.0, |c| c >= 30.0).is_some_and(|t| (t - 30.0).abs() < 0.2));
    /// assert_eq!(warming.first_until(0.0, 10.0, |c| c >= 30.0), None);
    /// ```
    #[must_use]
    pub fn first_until(&self, from: f64, until: f64, reached: impl Fn(f64) -> bool) -> Option<f64> {
        first_where(&self.times, |t| self.at(t), (from, until), reached)
    }
}

/// The first instant from `from` on, no later than `until`, at which `reached` holds of a temperature known
/// by `at` and smooth between `times`; to a tenth of a second.
///
/// ```
/// use hold_steady_heat::first_where;
/// let at = |t: f64| t * t;
/// let found = first_where(&[0.0, 5.0, 10.0], at, (0.0, 10.0), |value| value >= 49.0);
/// assert!(found.is_some_and(|t| (t - 7.0).abs() < 0.2));
/// ```
pub fn first_where(
    times: &[f64],
    at: impl Fn(f64) -> f64,
    (from, until): (f64, f64),
    reached: impl Fn(f64) -> bool,
) -> Option<f64> {
    const LONGEST_LOOK_S: f64 = 30.0;
    const STEADY_K: f64 = 0.05;
    /// Less than the solver itself is sure of.
    const STILL_K: f64 = 1e-3;
    if until < from {
        return None;
    }
    if reached(at(from)) {
        return Some(from);
    }
    let mut before = from;
    for end in times.iter().copied().filter(|t| *t > from) {
        if before >= until {
            return None;
        }
        let end = end.min(until);
        // What stands still, or hardly moves and only one way, is looked at where it ends.
        let (a, m, b) = (at(before), at(0.5 * (before + end)), at(end));
        let still = (m - a).abs().max((b - a).abs()) < STILL_K;
        let steady = still || ((b - a).abs() < STEADY_K && (m - a) * (b - m) >= 0.0);
        let looks = if steady { 1 } else { ((end - before) / LONGEST_LOOK_S).ceil().max(1.0) as usize };
        let (start, step) = (before, (end - before) / looks as f64);
        for k in 1..=looks {
            let t = if k == looks { end } else { start + step * k as f64 };
            if reached(at(t)) {
                return Some(bisect(before, t, |t| reached(at(t))));
            }
            before = t;
        }
    }
    None
}

/// Narrows a change from false (at `low`) to true (at `high`) down to a tenth of a second.
///
/// ```
/// assert!((hold_steady_heat::bisect(0.0, 100.0, |x| x >= 42.0) - 42.0).abs() < 0.2);
/// ```
pub fn bisect(low: f64, high: f64, reached: impl Fn(f64) -> bool) -> f64 {
    bisect_within(0.1, low, high, reached).1
}

/// Where between two values something is first reached, given that all beyond it reach it too: the two values around
/// it, no further than `within` apart. Values as near as numbers can be are near enough.
///
/// ```
/// let (before, from) = hold_steady_heat::bisect_within(0.5, 0.0, 100.0, |x| x >= 42.0);
/// assert!(before < 42.0 && 42.0 <= from && from - before <= 0.5);
/// ```
pub fn bisect_within(within: f64, mut low: f64, mut high: f64, reached: impl Fn(f64) -> bool) -> (f64, f64) {
    while high - low > within {
        let middle = f64::midpoint(low, high);
        if middle <= low || middle >= high {
            break;
        }
        if reached(middle) { high = middle } else { low = middle }
    }
    (low, high)
}

/// Cubic through two values with their slopes (per step), the slopes limited so that a monotone
/// stretch stays monotone (Fritsch and Carlson's sufficient condition). A true peak is kept.
///
/// ```
/// assert_eq!(hold_steady_heat::hermite(5.0, 55.0, 50.0, 50.0, 0.5), 30.0);
/// ```
pub fn hermite(a: f64, b: f64, da: f64, db: f64, x: f64) -> f64 {
    Cubic::new(a, b, da, db).at(x)
}

/// That cubic, `a + x (b + x (c + x d))`.
#[derive(Debug, Clone, Copy)]
pub(super) struct Cubic([f64; 4]);

impl Cubic {
    pub(super) fn new(a: f64, b: f64, da: f64, db: f64) -> Self {
        let rise = b - a;
        let (mut da, mut db) = (da, db);
        if da * rise > 0.0 && db * rise > 0.0 {
            let most = 3.0 * rise.abs();
            da = da.clamp(-most, most);
            db = db.clamp(-most, most);
        }
        Self([a, da, 3.0 * rise - 2.0 * da - db, da + db - 2.0 * rise])
    }

    pub(super) fn at(&self, x: f64) -> f64 {
        let [a, b, c, d] = self.0;
        a + x * (b + x * (c + x * d))
    }

    /// Its slope.
    pub(super) fn slope(&self, x: f64) -> f64 {
        let [_, b, c, d] = self.0;
        b + x * (2.0 * c + x * 3.0 * d)
    }
}

/// Temperatures through the piece at one instant, thermal centre first.
#[derive(Debug, Clone, PartialEq)]
pub struct Snapshot {
    /// Seconds from the start.
    pub at_s: f64,
    /// °C in each cell.
    pub celsius: Vec<f64>,
    /// The highest °C each cell has seen by then, at the steps' ends.
    pub highest: Vec<f64>,
}

/// What a simulation found.
#[derive(Debug, Clone, PartialEq)]
pub struct Solution {
    /// Temperature at the thermal centre.
    pub core: Curve,
    /// Temperature of the surface itself.
    pub surface: Curve,
    /// Mean over the volume.
    pub mean: Curve,
    /// Profiles at the instants asked for.
    pub profiles: Vec<Snapshot>,
    /// Volumetric enthalpy of each cell at the end, J/m³.
    pub enthalpy: Vec<f64>,
    /// Heat that has come through the surface, J per unit of the mesh (see [`super::Mesh`]).
    pub heat_in: f64,
    /// Heat the cells hold more than at the start, same unit. Equal to `heat_in` but for rounding.
    pub heat_stored: f64,
    /// Time steps taken.
    pub steps: usize,
    /// Time steps tried and thrown away.
    pub rejected: usize,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn cubic_keeps_monotone_stretches_monotone_and_true_peaks() {
        let mut last = 0.0;
        for i in 0..=100 {
            let y = hermite(0.0, 1.0, 50.0, 0.1, f64::from(i) / 100.0);
            assert!((-1e-12..=1.0 + 1e-12).contains(&y) && y >= last - 1e-12);
            last = y;
        }
        assert!(hermite(0.0, 0.0, 1.0, -1.0, 0.5) > 0.2);
    }

    #[test]
    fn first_finds_a_crossing_inside_a_long_step() {
        let c = Curve::from_readings(&[(0.0, 0.0), (3600.0, 36.0)]);
        let t = c.first(0.0, |y| y >= 10.0).unwrap_or(f64::NAN);
        assert!((t - 1000.0).abs() < 0.1, "{t}");
        assert_eq!(c.first(0.0, |y| y > 36.0), None);
        assert_eq!(c.first(1800.0, |y| y >= 10.0), Some(1800.0));
        assert_eq!(c.first_until(0.0, 999.0, |y| y >= 10.0), None);
        assert!(c.first_until(0.0, 1001.0, |y| y >= 10.0).is_some());
        assert_eq!(c.first_until(1800.0, 1700.0, |y| y >= 10.0), None);
    }
}
