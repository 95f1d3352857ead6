//! Kill, code-table progress and the growth clock, accumulated along one temperature curve.

use super::{CodeTable, Limits, Organism};
use crate::heat::Curve;

/// What to accumulate, and by which numbers.
#[derive(Debug, Clone, Copy)]
pub struct Rules<'a> {
    /// The limits.
    pub limits: &'a Limits,
    /// The organisms of the food's class.
    pub organisms: &'a [Organism],
    /// The profile's table for the food's class.
    pub table: Option<&'a CodeTable>,
    /// The bath's set point less the instrument's stated error, °C.
    pub set_c: f64,
    /// A guest is at risk: some targets are higher.
    pub at_risk: bool,
    /// Factor on every D-value; one is as published.
    pub d_factor: f64,
}

impl Rules<'_> {
    /// The upper end of the growth clock, °C: `min(54.4, set point − 0.5)`, never below 53.9.
    #[must_use]
    pub fn zone_high_c(&self) -> f64 {
        let l = self.limits;
        l.lowest_hold_c.value.min(self.set_c - l.zone_below_set_k.value).max(l.zone_high_floor_c.value)
    }

    /// The upper end that verdicts count by. A bath under 54.4 °C is on no table, so however near its
    /// set point the centre comes, the clock goes on: stricter than [`Self::zone_high_c`] between
    /// 53.9 and 54.4 °C (docs/decisions/0007).
    fn verdict_zone_high_c(&self) -> f64 {
        if self.set_c < self.limits.lowest_hold_c.value { f64::INFINITY } else { self.zone_high_c() }
    }

    /// Share of the code table done per second at `c` °C. The run-on below the first row counts only
    /// for a bath at or above that row.
    fn code_rate_per_s(&self, c: f64) -> f64 {
        let Some(table) = self.table else { return 0.0 };
        // A set point typed as the rounded value of the first row (54.4) is below it (54.444).
        let reach = if self.set_c >= table.first_row_c() { self.limits.table_reach_k.value } else { 0.0 };
        match table.seconds_at(c, reach) {
            None => 0.0,
            Some(s) if s <= 0.0 => f64::INFINITY,
            Some(s) => 1.0 / s,
        }
    }
}

/// What has accumulated by one instant.
#[derive(Debug, Clone, PartialEq)]
pub struct Progress {
    /// Seconds from the drop.
    pub at_s: f64,
    /// Temperature of the slowest point, °C.
    pub core_c: f64,
    /// Reduction of each organism, log10, in the order of the rules.
    pub log10: Vec<f64>,
    /// Whether every organism's target is met.
    pub kinetics_reached: bool,
    /// Share of the code table done, where there is a table; 1 is enough.
    pub code: Option<f64>,
    /// Minutes in the growth range.
    pub danger_zone_min: f64,
    /// Minutes on the growth clock that verdicts count by: the same, but for a bath under 54.4 °C it
    /// goes on to the end.
    pub clock_min: f64,
    /// Minutes of warming between 10 °C and the clock's upper end.
    pub come_up_min: f64,
}

/// The running sums along a curve.
///
/// ```
/// use hold_steady_core::heat::Curve;
/// use hold_steady_core::safety::*;
/// let held = Curve::from_readings(&[(0.0, 60.0), (7200.0, 60.0)]);
/// let rules = Rules { limits: limits(), organisms: organisms("red-meat"), table: None, set_c: 60.0, at_risk: false, d_factor: 1.0 };
/// let line = Timeline::new(&held, &rules);
/// // D(60 °C) of Salmonella: 13.18 · 10^(−5/6.45) = 2.21 min, so 6.5 log takes 14.4 min.
/// let reached = line.organism_reached_s(0).expect("within two hours");
/// assert!((reached / 60.0 - 14.4).abs() < 0.1);
/// ```
#[derive(Debug, Clone)]
pub struct Timeline {
    t: Vec<f64>,
    core: Vec<f64>,
    log10: Vec<Vec<f64>>,
    code: Option<Vec<f64>>,
    zone_s: Vec<f64>,
    clock_s: Vec<f64>,
    come_up_s: Vec<f64>,
    targets: Vec<f64>,
}

/// Longest stretch over which rates are taken as cubic (Simpson's rule), seconds.
const LONGEST_STRETCH_S: f64 = 30.0;

/// Changes of temperature too small to matter, K: such stretches are not cut up.
const STEADY_K: f64 = 1e-4;

impl Timeline {
    /// Accumulates along `core`, the curve of the slowest-heating point.
    #[must_use]
    pub fn new(core: &Curve, rules: &Rules<'_>) -> Self {
        Self::along(core.times(), &|t| core.at(t), rules)
    }

    /// Accumulates along the colder of two curves at every instant: the thermal centre while a piece
    /// warms, its surface while a bath sags. Never more than either point has had.
    #[must_use]
    pub fn coldest(core: &Curve, surface: &Curve, rules: &Rules<'_>) -> Self {
        Self::along(core.times(), &|t| core.at(t).min(surface.at(t)), rules)
    }

    fn along(times: &[f64], core: &dyn Fn(f64) -> f64, rules: &Rules<'_>) -> Self {
        let n_org = rules.organisms.len();
        let mut line = Self {
            t: vec![0.0],
            core: vec![core(0.0)],
            log10: vec![vec![0.0]; n_org],
            code: rules.table.map(|_| vec![0.0]),
            zone_s: vec![0.0],
            clock_s: vec![0.0],
            come_up_s: vec![0.0],
            targets: rules.organisms.iter().map(|o| o.target(rules.at_risk)).collect(),
        };
        let mut last = 0.0;
        for &end in times {
            if end <= last {
                continue;
            }
            let steady = (core(end) - core(last)).abs() < STEADY_K
                && (core(0.5 * (end + last)) - core(last)).abs() < STEADY_K;
            let pieces = if steady { 1 } else { ((end - last) / LONGEST_STRETCH_S).ceil().max(1.0) as usize };
            let step = (end - last) / pieces as f64;
            for k in 0..pieces {
                let a = last + step * k as f64;
                let b = if k + 1 == pieces { end } else { a + step };
                line.push(core, a, b, rules);
            }
            last = end;
        }
        line
    }

    fn push(&mut self, core: &dyn Fn(f64) -> f64, a: f64, b: f64, rules: &Rules<'_>) {
        let (ca, cm, cb) = (core(a), core(0.5 * (a + b)), core(b));
        let width = b - a;
        let add = |sums: &mut Vec<f64>, amount: f64| {
            let last = sums[sums.len() - 1];
            sums.push(last + amount);
        };
        let cold = rules.limits.no_kill_below_c.value;
        for (organism, sums) in rules.organisms.iter().zip(&mut self.log10) {
            let rate = |c: f64| organism.rate_per_s(c, cold) / rules.d_factor;
            add(sums, simpson(width, rate(ca), rate(cm), rate(cb)));
        }
        if let Some(sums) = &mut self.code {
            let rate = |c: f64| rules.code_rate_per_s(c);
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
        let zone = |low: f64, high: f64| width * share_between(ca, cb, low, high);
        let (low, high) = (rules.limits.zone_low_c.value, rules.zone_high_c());
        add(&mut self.zone_s, zone(low, high));
        add(&mut self.clock_s, zone(low, rules.verdict_zone_high_c()));
        add(&mut self.come_up_s, zone(rules.limits.come_up_low_c.value, high));
        self.t.push(b);
        self.core.push(cb);
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
        let log10: Vec<f64> = self.log10.iter().map(|s| value(s)).collect();
        Progress {
            at_s: t_s,
            core_c: value(&self.core),
            kinetics_reached: self.kinetics_reached_s().is_some_and(|r| t_s >= r),
            log10,
            code: self.code.as_deref().map(value),
            danger_zone_min: value(&self.zone_s) / 60.0,
            clock_min: value(&self.clock_s) / 60.0,
            come_up_min: value(&self.come_up_s) / 60.0,
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

    /// When the growth clock, `already_min` on it at the drop, passes `limit_min`.
    #[must_use]
    pub fn clock_passes_s(&self, already_min: f64, limit_min: f64) -> Option<f64> {
        self.crossing(&self.clock_s, (limit_min - already_min).max(0.0) * 60.0 + 1e-6)
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

/// Share of a straight stretch from `a` to `b` that lies between `low` and `high`.
fn share_between(a: f64, b: f64, low: f64, high: f64) -> f64 {
    let (bottom, top) = (a.min(b), a.max(b));
    if top - bottom < 1e-12 {
        return f64::from((low..=high).contains(&a));
    }
    (top.min(high) - bottom.max(low)).max(0.0) / (top - bottom)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::safety::{limits, organisms, profile};

    fn held(c: f64, hours: f64, set_c: f64) -> Timeline {
        let curve = Curve::from_readings(&[(0.0, c), (hours * 3600.0, c)]);
        let table =
            profile("food-code-2022").and_then(|p| p.table(crate::food::catalogue().food("beef-strip")?));
        Timeline::new(
            &curve,
            &Rules {
                limits: limits(),
                organisms: organisms("red-meat"),
                table: table.as_ref(),
                set_c,
                at_risk: false,
                d_factor: 1.0,
            },
        )
    }

    #[test]
    fn a_core_held_at_a_row_takes_that_row_s_time() {
        let table = profile("food-code-2022")
            .and_then(|p| p.table(crate::food::catalogue().food("beef-strip")?))
            .expect("shipped");
        for (c, s) in table.rows() {
            let got = held(c + 1e-9, 3.0, c).code_reached_s().expect("held long enough");
            assert!((got - s).abs() < 0.5, "{c}: {got} for {s}");
        }
    }

    #[test]
    fn a_bath_below_the_first_row_gets_no_credit_from_the_table() {
        assert_eq!(held(54.4, 90.0, 54.4).code_reached_s(), None);
        assert!(held(54.2, 90.0, 54.5).code_reached_s().is_some());
    }

    #[test]
    fn the_clock_runs_through_the_zone_only() {
        let warm = Curve::from_readings(&[(0.0, 0.0), (3600.0, 60.0)]);
        let rules = Rules {
            limits: limits(),
            organisms: &[],
            table: None,
            set_c: 60.0,
            at_risk: false,
            d_factor: 1.0,
        };
        let line = Timeline::new(&warm, &rules);
        let p = line.at(3600.0);
        assert!((p.clock_min - 49.4).abs() < 1e-6, "{}", p.clock_min);
        assert!((p.come_up_min - 44.4).abs() < 1e-6, "{}", p.come_up_min);
        // A cold bath never leaves the zone.
        let rules = Rules { set_c: 51.5, ..rules };
        assert_eq!(rules.zone_high_c(), 53.9);
    }

    #[test]
    fn under_54_4_the_clock_of_the_verdict_never_stops() {
        let at_54_2 = held(54.2, 10.0, 54.2).at(36_000.0);
        assert_eq!((at_54_2.danger_zone_min, at_54_2.clock_min), (0.0, 600.0));
        let at_54_5 = held(54.2, 10.0, 54.5).at(36_000.0);
        assert_eq!((at_54_5.danger_zone_min, at_54_5.clock_min), (0.0, 0.0));
    }
}
