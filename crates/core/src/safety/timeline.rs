//! Kill and code-table progress, accumulated along the coldest layer's temperature.

use super::{CodeTable, Limits, Organism};
use crate::bath::BathTrace;
use crate::heat::{Curve, first_where};

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
    /// Share of the code table done per second at `c` °C in a bath of `bath_c`. No credit below the table's
    /// first row, nor in a bath that is below it; half a kelvin under the row counts for a centre on its way
    /// to a bath at or above it.
    fn code_rate_per_s(&self, c: f64, bath_c: f64) -> f64 {
        let Some(table) = self.table else { return 0.0 };
        if bath_c < table.gate_c(self.limits) {
            return 0.0;
        }
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
    #[must_use]
    pub const fn of(core: &'a Curve) -> Self {
        Self { core, surface: None, dips: Vec::new() }
    }

    /// Of a piece: its centre, its surface, and the coldest of its cells at some instants, `(seconds, °C)`.
    #[must_use]
    pub fn layers(core: &'a Curve, surface: &'a Curve, cells: &[(f64, f64)]) -> Self {
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
    pub fn at(&self, t: f64) -> f64 {
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
    pub fn first_until(&self, from: f64, until: f64, reached: impl Fn(f64) -> bool) -> Option<f64> {
        first_where(self.core.times(), |t| self.at(t), (from, until), reached)
    }

    /// From when on it has had `c` °C for `seconds` on end.
    #[must_use]
    pub fn held_from(&self, c: f64, seconds: f64) -> Option<f64> {
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
    log10: Vec<Vec<f64>>,
    code: Option<Vec<f64>>,
    targets: Vec<f64>,
}

/// Longest stretch over which rates are taken as cubic (Simpson's rule), seconds.
const LONGEST_STRETCH_S: f64 = 30.0;

/// Changes of temperature too small to matter, K: such stretches are not cut up.
const STEADY_K: f64 = 1e-4;

impl Timeline {
    /// Accumulates along the coldest layer. Where the bath is below the gate, nothing is credited at that
    /// instant: the gate is looked at in the middle of every stretch, and stretches end where the bath
    /// passes it ([`BathTrace::with_passings`]).
    #[must_use]
    pub fn new(coldest: &Coldest<'_>, rules: &Rules<'_>) -> Self {
        let mut line = Self {
            t: vec![0.0],
            log10: vec![vec![0.0]; rules.organisms.len()],
            code: rules.table.map(|_| vec![0.0]),
            targets: rules.organisms.iter().map(|o| o.target(rules.at_risk)).collect(),
        };
        let mut last = 0.0;
        for &end in coldest.core.times() {
            if end <= last {
                continue;
            }
            let (a, b) = (coldest.at(last), coldest.at(end));
            let steady = (b - a).abs() < STEADY_K && (coldest.at(0.5 * (end + last)) - a).abs() < STEADY_K;
            let pieces = if steady { 1 } else { ((end - last) / LONGEST_STRETCH_S).ceil().max(1.0) as usize };
            let step = (end - last) / pieces as f64;
            for k in 0..pieces {
                let a = last + step * k as f64;
                let b = if k + 1 == pieces { end } else { a + step };
                line.push(coldest, a, b, rules);
            }
            last = end;
        }
        line
    }

    fn push(&mut self, coldest: &Coldest<'_>, a: f64, b: f64, rules: &Rules<'_>) {
        let (ca, cm, cb) = (coldest.at(a), coldest.at(0.5 * (a + b)), coldest.at(b));
        let bath_c = rules.gate.at(0.5 * (a + b));
        let width = b - a;
        let add = |sums: &mut Vec<f64>, amount: f64| {
            let last = sums[sums.len() - 1];
            sums.push(last + amount);
        };
        let cold = rules.limits.no_kill_below_c.value;
        let credited = rules.limits.is_hot_enough(bath_c);
        for (organism, sums) in rules.organisms.iter().zip(&mut self.log10) {
            let rate = |c: f64| organism.rate_per_s(c, cold);
            add(sums, if credited { simpson(width, rate(ca), rate(cm), rate(cb)) } else { 0.0 });
        }
        if let Some(sums) = &mut self.code {
            let rate = |c: f64| rules.code_rate_per_s(c, bath_c);
            // Where the table begins (no rate) and where it ends (at once), Simpson's rule would
            // credit a stretch that only ends warm enough; the smallest rate is the safe side.
            let (ra, rm, rb) = (rate(ca), rate(cm), rate(cb));
            let amount = if [ra, rm, rb].iter().any(|r| *r == 0.0 || r.is_infinite()) {
                width * ra.min(rm).min(rb)
            } else {
                simpson(width, ra, rm, rb)
            };
            add(sums, amount.min(1e9));
        }
        self.t.push(b);
    }

    /// What has accumulated by `t_s` seconds (by the end, for later instants).
    #[must_use]
    pub fn at(&self, t_s: f64) -> Progress {
        let t_s = t_s.clamp(0.0, self.end_s());
        let i = self.t.partition_point(|t| *t < t_s).clamp(1, (self.t.len() - 1).max(1));
        let value = |sums: &[f64]| {
            if sums.len() == 1 {
                return sums[0];
            }
            let x = (t_s - self.t[i - 1]) / (self.t[i] - self.t[i - 1]);
            sums[i - 1] + (sums[i] - sums[i - 1]) * x
        };
        Progress {
            at_s: t_s,
            log10: self.log10.iter().map(|s| value(s)).collect(),
            code: self.code.as_deref().map(value),
        }
    }

    /// The last instant, seconds.
    #[must_use]
    pub fn end_s(&self) -> f64 {
        self.t[self.t.len() - 1]
    }

    /// When organism number `index` of the rules reaches its target, seconds.
    #[must_use]
    pub fn organism_reached_s(&self, index: usize) -> Option<f64> {
        self.crossing(&self.log10[index], self.targets[index])
    }

    /// When the last of the organisms reaches its target. `None` when one never does, or when there
    /// are no organisms.
    #[must_use]
    pub fn kinetics_reached_s(&self) -> Option<f64> {
        (0..self.log10.len())
            .map(|i| self.organism_reached_s(i))
            .try_fold(None, |latest: Option<f64>, r| r.map(|r| Some(latest.map_or(r, |l| l.max(r)))))
            .flatten()
    }

    /// When the code table is met.
    #[must_use]
    pub fn code_reached_s(&self) -> Option<f64> {
        self.crossing(self.code.as_deref()?, 1.0)
    }

    fn crossing(&self, sums: &[f64], target: f64) -> Option<f64> {
        let i = sums.partition_point(|s| *s < target);
        if i == 0 {
            return Some(self.t[0]);
        }
        if i == sums.len() {
            return None;
        }
        let x = (target - sums[i - 1]) / (sums[i] - sums[i - 1]);
        Some(self.t[i - 1] + (self.t[i] - self.t[i - 1]) * x)
    }
}

fn simpson(width: f64, a: f64, m: f64, b: f64) -> f64 {
    width * (a + 4.0 * m + b) / 6.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::BathPoint;
    use crate::safety::{limits, organisms, profile};

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
