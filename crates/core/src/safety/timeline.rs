//! Kill and code-table progress, accumulated along the coldest layer's temperature.

use super::{CodeTable, Organism};
use crate::bath::BathTrace;
use crate::figures::Limits;
use crate::heat::{Curve, bisect, first_where, hermite};

/// What to accumulate, and by which numbers.
#[derive(Debug, Clone, Copy)]
pub struct Rules<'a> {
    /// The limits.
    pub limits: &'a Limits,
    /// The organisms of the food's class.
    pub organisms: &'a [Organism],
    /// The profile's table for the food's class.
    pub table: Option<&'a CodeTable>,
    /// The bath as the gates are tested on it: as set or read, less the instrument's stated error.
    pub gate: &'a BathTrace,
    /// A guest is at risk: some targets are higher.
    pub at_risk: bool,
}

impl Rules<'_> {
    /// Share of the code table done per second at `c` °C in a bath at or above its gate. No credit below the table's
    /// first row; half a kelvin under the row counts for a centre on its way to such a bath.
    fn code_rate_per_s(&self, c: f64) -> f64 {
        let Some(table) = self.table else { return 0.0 };
        match table.seconds_at(c, self.limits.table_reach_k.value) {
            None => 0.0,
            Some(s) if s <= 0.0 => f64::INFINITY,
            Some(s) => 1.0 / s,
        }
    }
}

/// The coldest layer of a piece at every instant: the thermal centre while it warms, its surface while a bath
/// sags, one between them when a bath has sagged and risen again.
#[derive(Debug, Clone, PartialEq)]
pub struct Coldest<'a> {
    core: &'a Curve,
    surface: Option<&'a Curve>,
    /// How much colder than both some layer between them is, K, at these seconds; empty where none ever is.
    dips: Vec<(f64, f64)>,
}

impl<'a> Coldest<'a> {
    /// Of a curve alone.
    ///
    /// ```
    /// use hold_steady_core::{heat::Curve, safety::Coldest};
    /// let probe = Curve::from_readings(&[(0.0, 5.0), (600.0, 15.0)]);
    /// assert_eq!(Coldest::of(&probe), Coldest::of(&probe.clone()));
    /// ```
    #[must_use]
    pub const fn of(core: &'a Curve) -> Self {
        Self { core, surface: None, dips: Vec::new() }
    }

    /// Of a piece: its centre, its surface, and the coldest of its cells at some instants, `(seconds, °C)`.
    #[must_use]
    pub(crate) fn layers(core: &'a Curve, surface: &'a Curve, cells: &[(f64, f64)]) -> Self {
        const NOTHING_K: f64 = 1e-3;
        let mut coldest = Self { core, surface: Some(surface), dips: Vec::new() };
        let dips: Vec<(f64, f64)> = cells.iter().map(|(t, c)| (*t, (coldest.at(*t) - c).max(0.0))).collect();
        if dips.iter().any(|d| d.1 > NOTHING_K) {
            coldest.dips = dips;
        }
        coldest
    }

    /// Its temperature at `t` seconds, °C.
    #[must_use]
    pub(crate) fn at(&self, t: f64) -> f64 {
        let c = self.core.at(t);
        let c = self.surface.map_or(c, |s| c.min(s.at(t)));
        if self.dips.is_empty() { c } else { c - self.dip(t) }
    }

    fn dip(&self, t: f64) -> f64 {
        let i = self.dips.partition_point(|d| d.0 <= t);
        match (i.checked_sub(1).map(|k| self.dips[k]), self.dips.get(i)) {
            (Some(a), Some(b)) => a.1 + (b.1 - a.1) * (t - a.0) / (b.0 - a.0),
            (Some(a), None) => a.1,
            (None, Some(b)) => b.1,
            (None, None) => 0.0,
        }
    }

    /// The first instant from `from` on, no later than `until`, at which `reached` holds; to a tenth of a
    /// second.
    #[must_use]
    pub(crate) fn first_until(&self, from: f64, until: f64, reached: impl Fn(f64) -> bool) -> Option<f64> {
        first_where(self.core.times(), |t| self.at(t), (from, until), reached)
    }

    /// From when on it has had `c` °C for `seconds` on end.
    #[must_use]
    pub(crate) fn held_from(&self, c: f64, seconds: f64) -> Option<f64> {
        let mut from = 0.0;
        while let Some(begun) = self.first_until(from, self.core.end() - seconds, |t| t >= c) {
            match self.first_until(begun, begun + seconds, |t| t < c - 1e-6) {
                Some(ended) => from = ended,
                None => return Some(begun + seconds),
            }
        }
        None
    }
}

/// What has accumulated by one instant.
#[derive(Debug, Clone, PartialEq)]
pub struct Progress {
    /// Seconds from the drop.
    pub at_s: f64,
    /// Reduction of each organism, log10, in the order of the rules.
    pub log10: Vec<f64>,
    /// Share of the code table done, where there is a table; 1 is enough.
    pub code: Option<f64>,
}

/// The running sums along the coldest layer.
///
/// ```
/// use hold_steady_core::bath::BathTrace;
/// use hold_steady_core::heat::Curve;
/// use hold_steady_core::figures::limits;
/// use hold_steady_core::safety::*;
/// let held = Curve::from_readings(&[(0.0, 60.0), (7200.0, 60.0)]);
/// let bath = BathTrace::constant(60.0);
/// let rules =
///     Rules { limits: limits(), organisms: organisms("red-meat"), table: None, gate: &bath, at_risk: false };
/// let line = Timeline::new(&Coldest::of(&held), &rules);
/// // D(60 °C) of Salmonella: 13.18 · 10^(−5/6.45) = 2.21 min, so 6.5 log takes 14.4 min.
/// let reached = line.organism_reached_s(0).expect("within two hours");
/// assert!((reached / 60.0 - 14.4).abs() < 0.1);
/// ```
#[derive(Debug, Clone)]
pub struct Timeline {
    t: Vec<f64>,
    log10: Vec<Sum>,
    code: Option<Sum>,
    targets: Vec<f64>,
}

/// A sum that runs along, and how fast it grew at each instant: from the stretch before, and into the one after.
#[derive(Debug, Clone, Default)]
struct Sum {
    sums: Vec<f64>,
    rates: Vec<(f64, f64)>,
}

impl Sum {
    fn begin() -> Self {
        Self { sums: vec![0.0], rates: Vec::new() }
    }

    /// One more stretch: what it adds, and the rates at its two ends.
    fn push(&mut self, amount: f64, rates: (f64, f64)) {
        let last = self.sums[self.sums.len() - 1];
        self.sums.push(last + amount);
        self.rates.push(rates);
    }

    /// The sum at a share of a stretch: a cubic through both ends with the rates there, never falling.
    fn within(&self, stretch: usize, width: f64, x: f64) -> f64 {
        let (a, b) = (self.sums[stretch], self.sums[stretch + 1]);
        let (ra, rb) = self.rates[stretch];
        hermite(a, b, ra * width, rb * width, x)
    }
}

/// Longest stretch over which rates are taken as cubic (Simpson's rule), seconds, while a rate begins or ends in it:
/// there the smaller one counts, and a long stretch would lose too much.
const LONGEST_STRETCH_S: f64 = 30.0;

/// Change of temperature over which they may be, K: a rate changes by an eighth, and Simpson's rule errs by less
/// than a millionth of it.
const STRETCH_K: f64 = 0.25;

/// A rise and fall within a step of the solver that is more than its own unrest, K.
const TURNS_K: f64 = 0.05;

/// Changes of temperature too small to matter, K: such stretches are not cut up.
const STEADY_K: f64 = 1e-3;

/// The rates of one instant: of each organism, and of the code's table.
#[derive(Clone)]
struct Rates {
    organisms: Vec<f64>,
    code: f64,
}

/// What the rates are made from, looked up once.
struct Rated<'a> {
    rules: &'a Rules<'a>,
    /// The coldest bath the table credits, °C.
    gate_c: f64,
    /// Temperatures at which a rate begins or ends.
    edges: Vec<f64>,
}

impl<'a> Rated<'a> {
    fn new(rules: &'a Rules<'a>) -> Self {
        let mut edges = vec![rules.limits.no_kill_below_c.value];
        let gate_c = rules.table.map_or(f64::INFINITY, |t| t.gate_c(rules.limits));
        if let Some(table) = rules.table {
            edges.push(table.first_row_c() - rules.limits.table_reach_k.value);
            edges.extend(table.rows().last().filter(|row| row.1 <= 0.0).map(|row| row.0));
        }
        Self { rules, gate_c, edges }
    }

    /// Whether a rate begins or ends between two temperatures.
    fn has_edge(&self, low: f64, high: f64) -> bool {
        self.edges.iter().any(|e| (low - STEADY_K..=high + STEADY_K).contains(e))
    }

    /// The rates at `c` °C in a bath of `bath_c`.
    fn at(&self, c: f64, bath_c: f64, into: &mut Rates) {
        let cold = self.rules.limits.no_kill_below_c.value;
        let credited = c >= cold && self.rules.limits.is_hot_enough(bath_c);
        for (rate, organism) in into.organisms.iter_mut().zip(self.rules.organisms) {
            *rate = if credited { organism.rate_per_s(c, cold) } else { 0.0 };
        }
        into.code = if bath_c >= self.gate_c { self.rules.code_rate_per_s(c) } else { 0.0 };
    }
}

impl Timeline {
    /// Accumulates along the coldest layer. Where the bath is below the gate, nothing is credited at that
    /// instant: the gate is looked at in the middle of every stretch, and stretches end where the bath
    /// passes it ([`BathTrace::with_passings`]).
    ///
    /// ```
    /// use hold_steady_core::{bath::BathTrace, figures::limits, heat::Curve, safety::*};
    /// let held = Curve::from_readings(&[(0.0, 60.0), (7200.0, 60.0)]);
    /// let (hot, cold) = (BathTrace::constant(60.0), BathTrace::constant(54.0));
    /// let line = |gate| {
    ///     let organisms = organisms("poultry");
    ///     Timeline::new(&Coldest::of(&held), &Rules { limits: limits(), organisms, table: None, gate, at_risk: false })
    /// };
    /// // A bath below 54.4 °C earns nothing, whatever the core.
    /// assert!(line(&hot).organism_reached_s(0).is_some() && line(&cold).organism_reached_s(0).is_none());
    /// ```
    #[must_use]
    pub fn new(coldest: &Coldest<'_>, rules: &Rules<'_>) -> Self {
        let mut line = Self {
            t: vec![0.0],
            log10: vec![Sum::begin(); rules.organisms.len()],
            code: rules.table.map(|_| Sum::begin()),
            targets: rules.organisms.iter().map(|o| o.target(rules.at_risk)).collect(),
        };
        let rated = Rated::new(rules);
        let none = Rates { organisms: vec![0.0; rules.organisms.len()], code: 0.0 };
        let mut rates = [none.clone(), none.clone(), none];
        let mut last = 0.0;
        for &end in coldest.core.times() {
            if end <= last {
                continue;
            }
            let middle = 0.5 * (end + last);
            let (a, m, b) = (coldest.at(last), coldest.at(middle), coldest.at(end));
            let (low, high) = (a.min(m).min(b), a.max(m).max(b));
            let steady = high - low < STEADY_K;
            let by_time = ((end - last) / LONGEST_STRETCH_S).ceil();
            let pieces = if steady {
                1.0
            } else if rated.has_edge(low, high) {
                by_time
            } else {
                // What goes up and down in one step of the solver is looked at closely.
                let turns = (m - a) * (b - m) < 0.0 && high - low > TURNS_K;
                let by_change = ((high - low) / STRETCH_K).ceil();
                if turns { by_time } else { by_change.min(by_time) }
            };
            let pieces = pieces.max(1.0) as usize;
            let step = (end - last) / pieces as f64;
            for k in 0..pieces {
                let a = last + step * k as f64;
                let b = if k + 1 == pieces { end } else { a + step };
                line.push(coldest, (a, b), &rated, &mut rates);
            }
            last = end;
        }
        line
    }

    fn push(&mut self, coldest: &Coldest<'_>, (a, b): (f64, f64), rated: &Rated<'_>, rates: &mut [Rates; 3]) {
        let bath_c = rated.rules.gate.at(0.5 * (a + b));
        let width = b - a;
        for (rates, t) in rates.iter_mut().zip([a, 0.5 * (a + b), b]) {
            rated.at(coldest.at(t), bath_c, rates);
        }
        let [ra, rm, rb] = rates;
        for (i, sum) in self.log10.iter_mut().enumerate() {
            let (a, m, b) = (ra.organisms[i], rm.organisms[i], rb.organisms[i]);
            sum.push(simpson(width, a, m, b), (a, b));
        }
        if let Some(sum) = &mut self.code {
            // Where the table begins (no rate) and where it ends (at once), Simpson's rule would
            // credit a stretch that only ends warm enough; the smallest rate is the safe side.
            let (a, m, b) = (ra.code, rm.code, rb.code);
            if [a, m, b].iter().any(|r| *r == 0.0 || r.is_infinite()) {
                let least = a.min(m).min(b);
                let amount = (width * least).min(1e9);
                sum.push(amount, (amount / width, amount / width));
            } else {
                sum.push(simpson(width, a, m, b).min(1e9), (a, b));
            }
        }
        self.t.push(b);
    }

    /// What has accumulated by `t_s` seconds (by the end, for later instants).
    #[must_use]
    pub(crate) fn at(&self, t_s: f64) -> Progress {
        let t_s = t_s.clamp(0.0, self.end_s());
        let i = self.t.partition_point(|t| *t < t_s).clamp(1, (self.t.len() - 1).max(1));
        let value = |sum: &Sum| {
            if sum.sums.len() == 1 {
                return sum.sums[0];
            }
            let width = self.t[i] - self.t[i - 1];
            sum.within(i - 1, width, (t_s - self.t[i - 1]) / width)
        };
        Progress {
            at_s: t_s,
            log10: self.log10.iter().map(value).collect(),
            code: self.code.as_ref().map(value),
        }
    }

    /// The last instant, seconds.
    #[must_use]
    pub(crate) fn end_s(&self) -> f64 {
        self.t[self.t.len() - 1]
    }

    /// When organism number `index` of the rules reaches its target, seconds.
    ///
    /// Source: `data/organisms.json`, each with where it is from.
    ///
    /// ```
    /// use hold_steady_core::{bath::BathTrace, figures::limits, heat::Curve, safety::*};
    /// let held = Curve::from_readings(&[(0.0, 60.0), (7200.0, 60.0)]);
    /// let (hot, cold) = (BathTrace::constant(60.0), BathTrace::constant(54.0));
    /// let line = |gate| {
    ///     let organisms = organisms("poultry");
    ///     Timeline::new(&Coldest::of(&held), &Rules { limits: limits(), organisms, table: None, gate, at_risk: false })
    /// };
    /// // Salmonella in poultry: D 4.68 min at 60 °C, 7 log.
    /// assert!(line(&hot).organism_reached_s(0).is_some_and(|s| (s / 60.0 - 7.0 * 4.68).abs() < 0.1));
    /// ```
    #[must_use]
    pub fn organism_reached_s(&self, index: usize) -> Option<f64> {
        self.crossing(&self.log10[index], self.targets[index])
    }

    /// When the last of the organisms reaches its target. `None` when one never does, or when there
    /// are no organisms.
    #[must_use]
    pub(crate) fn kinetics_reached_s(&self) -> Option<f64> {
        (0..self.log10.len())
            .map(|i| self.organism_reached_s(i))
            .try_fold(None, |latest: Option<f64>, r| r.map(|r| Some(latest.map_or(r, |l| l.max(r)))))
            .flatten()
    }

    /// When the code table is met.
    #[must_use]
    pub(crate) fn code_reached_s(&self) -> Option<f64> {
        self.crossing(self.code.as_ref()?, 1.0)
    }

    fn crossing(&self, sum: &Sum, target: f64) -> Option<f64> {
        let i = sum.sums.partition_point(|s| *s < target);
        if i == 0 {
            return Some(self.t[0]);
        }
        if i == sum.sums.len() {
            return None;
        }
        let (from, width) = (self.t[i - 1], self.t[i] - self.t[i - 1]);
        Some(bisect(from, self.t[i], |t| sum.within(i - 1, width, (t - from) / width) >= target))
    }
}

fn simpson(width: f64, a: f64, m: f64, b: f64) -> f64 {
    width * (a + 4.0 * m + b) / 6.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::BathPoint;
    use crate::figures::limits;
    use crate::safety::{organisms, profile};

    fn table() -> CodeTable {
        profile("food-code-2022")
            .and_then(|p| p.table(crate::food::catalogue().food("beef-strip")?))
            .expect("shipped")
    }

    fn along(readings: &[(f64, f64)], gate: &BathTrace) -> Timeline {
        let curve = Curve::from_readings(readings);
        let table = table();
        let rules = Rules {
            limits: limits(),
            organisms: organisms("red-meat"),
            table: Some(&table),
            gate,
            at_risk: false,
        };
        Timeline::new(&Coldest::of(&curve), &rules)
    }

    fn held(c: f64, hours: f64, bath_c: f64) -> Timeline {
        along(&[(0.0, c), (hours * 3600.0, c)], &BathTrace::constant(bath_c))
    }

    #[test]
    fn a_core_held_at_a_row_takes_that_row_s_time() {
        for (c, s) in table().rows() {
            let got = held(c + 1e-9, 3.0, c).code_reached_s().expect("held long enough");
            assert!((got - s).abs() < 0.5, "{c}: {got} for {s}");
        }
    }

    #[test]
    fn a_bath_below_the_gate_earns_nothing_from_the_table_or_the_kinetics() {
        // 54.4 °C stands for 130 °F: the gate and the first row are one.
        assert!(held(54.4, 90.0, 54.4).code_reached_s().is_some());
        assert!(held(54.2, 90.0, 54.5).code_reached_s().is_some());
        for (c, bath) in [(54.3, 54.3), (53.0, 53.0), (54.39, 54.39)] {
            let line = held(c, 90.0, bath);
            assert_eq!((line.code_reached_s(), line.kinetics_reached_s()), (None, None), "{bath}");
            assert!(line.at(9e9).log10.iter().all(|l| *l == 0.0));
        }
    }

    #[test]
    fn what_was_earned_above_the_gate_stays_and_no_more_is_added_below_it() {
        let p = |min, c| BathPoint { min, c };
        let gate = BathTrace::new(vec![p(0.0, 55.0), p(60.0, 55.0), p(60.1, 54.0), p(600.0, 54.0)]);
        let gate = gate.expect("in order").with_passings(&[54.4]);
        let line = along(&[(0.0, 55.0), (3600.0, 55.0), (3606.0, 54.9), (36_000.0, 54.9)], &gate);
        let (hour, end) = (line.at(3600.0), line.at(36_000.0));
        assert!(hour.log10[0] > 4.0 && end.log10[0] - hour.log10[0] < 0.01, "{hour:?} {end:?}");
    }

    #[test]
    fn the_coldest_layer_may_lie_between_centre_and_surface() {
        let core = Curve::from_readings(&[(0.0, 55.0), (600.0, 55.0)]);
        let surface = Curve::from_readings(&[(0.0, 56.0), (600.0, 54.0)]);
        let c = Coldest::layers(&core, &surface, &[(0.0, 55.0), (300.0, 53.0), (600.0, 54.0)]);
        assert_eq!((c.at(0.0), c.at(300.0), c.at(600.0)), (55.0, 53.0, 54.0));
        assert_eq!(c.at(150.0), 54.0);
        let plain = Coldest::layers(&core, &surface, &[(0.0, 55.5), (600.0, 54.0)]);
        assert_eq!(plain.at(300.0), 55.0);
    }

    #[test]
    fn a_hold_counts_from_when_it_was_on_end() {
        let c =
            Curve::from_readings(&[(0.0, 59.0), (60.0, 61.0), (80.0, 59.5), (120.0, 60.5), (900.0, 60.5)]);
        let coldest = Coldest::of(&c);
        let from = coldest.held_from(60.0, 60.0).expect("held in the end");
        assert!((from - 160.0).abs() < 0.5, "{from}");
        assert_eq!(coldest.held_from(60.4, 3600.0), None);
    }
}
