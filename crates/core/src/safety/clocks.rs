//! The growth clocks: how long each layer of a piece has been where bacteria grow. The worst layer counts.
//!
//! In a frozen piece the surface warms for hours while the centre is still ice, and in a bath that falls the
//! surface cools first: no single point is the worst one. So every cell of the mesh has clocks of its own,
//! kept as the spells it has spent in each range, and a question is answered by the layer that had most.

use crate::bath::BathTrace;
use crate::figures::Limits;
use crate::heat::{EXPECTED_POINTS, SolvedStep, Watch};

/// The ranges that are kept apart: raw, come-up, warm.
const RANGES: usize = 3;

/// The layers' spells in one range, seconds.
///
/// Layers that were in it once, within the only spell of another, can never be the worst and are left out.
#[derive(Debug, Clone, Default)]
pub struct Spells {
    /// Of the layers that were in it once.
    once: Vec<(f64, f64)>,
    /// Of each of the others.
    often: Vec<Vec<(f64, f64)>>,
}

impl Spells {
    /// The layers of several simulations together: each clock is then that of the worst of all of them.
    fn pooled(all: &[&Self]) -> Self {
        let layers = all.iter().flat_map(|s| s.layers()).enumerate();
        Self::new(layers.flat_map(|(i, layer)| layer.iter().map(move |(a, b)| (i, *a, *b))).collect())
    }

    fn new(mut spells: Vec<(usize, f64, f64)>) -> Self {
        // Each layer's own were written down as they ended: they stay in order.
        spells.sort_by_key(|s| s.0);
        let mut once: Vec<(f64, f64)> = Vec::with_capacity(spells.len());
        let mut often: Vec<Vec<(f64, f64)>> = Vec::new();
        for layer in spells.chunk_by(|a, b| a.0 == b.0) {
            match layer {
                [(_, from, until)] => once.push((*from, *until)),
                more => often.push(more.iter().map(|s| (s.1, s.2)).collect()),
            }
        }
        // By beginning, the longest of those that begin together first: what ends no later than one before
        // lies within it.
        once.sort_unstable_by(|a, b| a.0.total_cmp(&b.0).then(b.1.total_cmp(&a.1)));
        let mut latest = f64::NEG_INFINITY;
        once.retain(|s| {
            let stays = s.1 > latest;
            latest = latest.max(s.1);
            stays
        });
        Self { once, often }
    }

    /// Layer by layer.
    fn layers(&self) -> impl Iterator<Item = &[(f64, f64)]> {
        self.once.chunks(1).chain(self.often.iter().map(Vec::as_slice))
    }

    /// The most any layer has spent in the range from `from_s` to `until_s`.
    ///
    /// Source: the range and its limits stand in `data/limits.json` (FDA Food Code 2022, 3-501.16 and 3-501.19).
    ///
    /// ```
    /// use hold_steady_core::safety::Spells;
    /// assert_eq!(Spells::default().between_s(0.0, 3600.0), 0.0);
    /// ```
    #[must_use]
    pub fn between_s(&self, from_s: f64, until_s: f64) -> f64 {
        let of = |layer: &[(f64, f64)]| -> f64 {
            layer.iter().map(|(a, b)| (b.min(until_s) - a.max(from_s)).max(0.0)).sum()
        };
        self.layers().map(of).fold(0.0, f64::max)
    }

    /// When the first layer has spent `limit_s` in the range, counted from `from_s`; `None` when none does.
    #[must_use]
    pub(crate) fn passes_s(&self, from_s: f64, limit_s: f64) -> Option<f64> {
        let of = |layer: &[(f64, f64)]| -> Option<f64> {
            let mut left = limit_s;
            for (a, b) in layer {
                let a = a.max(from_s);
                if b - a > left {
                    return Some(a + left);
                }
                left -= (b - a).max(0.0);
            }
            None
        };
        self.layers().filter_map(of).min_by(f64::total_cmp)
    }

    /// When the first layer enters the range.
    #[must_use]
    pub(crate) fn begins_s(&self) -> Option<f64> {
        self.layers().filter_map(<[_]>::first).map(|s| s.0).min_by(f64::total_cmp)
    }
}

/// Every growth clock of a simulated piece.
///
/// ```
/// use hold_steady_core::bath::BathTrace;
/// use hold_steady_core::heat::*;
/// use hold_steady_core::figures::limits;
/// use hold_steady_core::safety::GrowthWatch;
/// use hold_steady_core::units::Length;
/// let meat = Material::constant(1.4e-7, 0.48);
/// let mesh = Mesh::graded(Shape::Slab(Length::from_mm(100.0)), DEFAULT_CELLS);
/// let bath = BathTrace::constant(60.0);
/// let surface = Surface { coefficient: 95.0, bath: bath.clone() };
/// let mut watch = GrowthWatch::new(limits(), &bath);
/// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), surface);
/// simulate_watched(&problem, 9.0 * 3600.0, &[], &mut watch)?;
/// let clocks = watch.finish();
/// // A slab of 100 mm spends two hours and forty minutes between 30 and 50 °C, and more in all.
/// let warm = clocks.warm.between_s(0.0, 9.0 * 3600.0) / 60.0;
/// assert!((150.0..175.0).contains(&warm) && clocks.raw.between_s(0.0, 9.0 * 3600.0) / 60.0 > warm);
/// # Ok::<(), HeatError>(())
/// ```
#[derive(Debug, Clone, Default)]
pub struct Clocks {
    /// From 5 °C to the growth limit: the raw clock.
    pub raw: Spells,
    /// From 10 °C to the growth limit: the warming limit's clock.
    pub come_up: Spells,
    /// From 30 to 50 °C, where growth is fastest.
    pub warm: Spells,
}

impl Clocks {
    /// Each clock by itself at the worst of several simulations: of what is uncertain in a kitchen, or of what nobody
    /// saw, one thing makes one clock run out first and another another.
    #[must_use]
    pub(crate) fn worst_of(all: &[&Self]) -> Self {
        let pooled =
            |of: fn(&Self) -> &Spells| Spells::pooled(&all.iter().map(|c| of(c)).collect::<Vec<_>>());
        Self { raw: pooled(|c| &c.raw), come_up: pooled(|c| &c.come_up), warm: pooled(|c| &c.warm) }
    }
}

/// Follows every layer of a simulation through the ranges where bacteria grow.
#[derive(Debug)]
pub struct GrowthWatch<'a> {
    limits: &'a Limits,
    /// The bath the gates are tested on, at each instant.
    gate: &'a BathTrace,
    /// The growth limit as it is now.
    upper_c: f64,
    /// Lower and upper end of each range, the upper one outside it.
    ranges: [(f64, f64); RANGES],
    /// The ends of all ranges, rising.
    edges: [f64; 2 * RANGES],
    /// While a layer stays between these, nothing changes.
    low: Vec<f64>,
    high: Vec<f64>,
    /// When each layer entered the ranges it is in.
    since: Vec<[Option<f64>; RANGES]>,
    spells: [Vec<(usize, f64, f64)>; RANGES],
    /// The coldest layer at the end of each step.
    coldest: Vec<(f64, f64)>,
    end_s: f64,
}

impl<'a> GrowthWatch<'a> {
    /// `gate` is the bath as its gates are tested, at each instant.
    ///
    /// Source: the ranges and their limits stand in `data/limits.json` (FDA Food Code 2022, 3-501.16 and 3-501.19).
    ///
    /// ```
    /// use hold_steady_core::{bath::BathTrace, figures::limits, safety::GrowthWatch};
    /// let bath = BathTrace::constant(55.0);
    /// let clocks = GrowthWatch::new(limits(), &bath).finish();
    /// assert_eq!(clocks.raw.between_s(0.0, 60.0), 0.0, "it saw nothing");
    /// ```
    #[must_use]
    pub fn new(limits: &'a Limits, gate: &'a BathTrace) -> Self {
        Self {
            limits,
            gate,
            upper_c: f64::NAN,
            ranges: [(f64::NAN, f64::NAN); RANGES],
            edges: [f64::NAN; 2 * RANGES],
            low: Vec::new(),
            high: Vec::new(),
            since: Vec::new(),
            spells: Default::default(),
            coldest: Vec::with_capacity(EXPECTED_POINTS),
            end_s: 0.0,
        }
    }

    /// The clocks, at the end.
    ///
    /// ```
    /// use hold_steady_core::{bath::BathTrace, figures::limits, safety::GrowthWatch};
    /// let bath = BathTrace::constant(55.0);
    /// assert_eq!(GrowthWatch::new(limits(), &bath).finish().warm.between_s(0.0, 60.0), 0.0);
    /// ```
    #[must_use]
    pub fn finish(self) -> Clocks {
        self.finish_with_coldest().0
    }

    /// The clocks, and the coldest layer at the end of each step, `(seconds, °C)`.
    pub(crate) fn finish_with_coldest(mut self) -> (Clocks, Vec<(f64, f64)>) {
        for (i, since) in self.since.iter().enumerate() {
            for (range, since) in since.iter().enumerate() {
                if let Some(from) = since {
                    self.spells[range].push((i, *from, self.end_s));
                }
            }
        }
        let [raw, come_up, warm] = self.spells.map(Spells::new);
        (Clocks { raw, come_up, warm }, self.coldest)
    }

    /// The growth limit changes with the bath: every layer is looked at anew.
    fn place_all(&mut self, at_s: f64, celsius: &[f64]) {
        let l = self.limits;
        self.ranges = [
            (l.zone_low_c.value, self.upper_c),
            (l.come_up_low_c.value, self.upper_c),
            // A hair beyond its ends counts too: no rounding decides.
            (l.warm_low_c.value - l.warm_margin_k.value, l.warm_high_c.value + l.warm_margin_k.value),
        ];
        for (ends, range) in self.edges.chunks_exact_mut(2).zip(self.ranges) {
            ends.copy_from_slice(&[range.0, range.1]);
        }
        self.edges.sort_by(f64::total_cmp);
        self.low.resize(celsius.len(), 0.0);
        self.high.resize(celsius.len(), 0.0);
        self.since.resize(celsius.len(), [None; RANGES]);
        for spells in &mut self.spells {
            spells.reserve(celsius.len());
        }
        for (i, c) in celsius.iter().enumerate() {
            self.place(i, *c, at_s);
        }
    }

    /// Puts layer `i`, at `c` from `at_s` on, into its ranges.
    fn place(&mut self, i: usize, c: f64, at_s: f64) {
        let below = self.edges.iter().take_while(|edge| c >= **edge).count();
        self.low[i] = if below == 0 { f64::NEG_INFINITY } else { self.edges[below - 1] };
        self.high[i] = self.edges.get(below).copied().unwrap_or(f64::INFINITY);
        for (range, &(low, high)) in self.ranges.iter().enumerate() {
            let since = &mut self.since[i][range];
            match (*since, (low..high).contains(&c)) {
                (None, true) => *since = Some(at_s),
                (Some(from), false) => {
                    *since = None;
                    self.spells[range].push((i, from, at_s));
                }
                _ => {}
            }
        }
    }

    /// A layer that left its place within a step: through the edges in the order it passed them.
    fn moved(&mut self, i: usize, step: &SolvedStep<'_>) {
        let (a, b) = (step.before[i], step.after[i]);
        // Two ranges that end together are passed together.
        let mut last = f64::NAN;
        for k in 0..self.edges.len() {
            let edge = self.edges[if b > a { k } else { self.edges.len() - 1 - k }];
            if (a < edge) != (b < edge) && edge != last {
                last = edge;
                let at_s = step.passes_s(i, edge);
                let c = if b > a { edge } else { edge.next_down() };
                self.place(i, c, at_s);
            }
        }
        self.place(i, b, step.until_s);
    }
}

impl Watch for GrowthWatch<'_> {
    fn step(&mut self, step: &SolvedStep<'_>) {
        let middle = 0.5 * (step.from_s + step.until_s);
        let upper = self.limits.growth_limit_c(self.gate.at(middle));
        if upper != self.upper_c {
            self.upper_c = upper;
            self.place_all(step.from_s, step.before);
        }
        let mut coldest = f64::INFINITY;
        for i in 0..step.after.len() {
            let c = step.after[i];
            coldest = if c < coldest { c } else { coldest };
            if !(self.low[i] <= c && c < self.high[i]) {
                self.moved(i, step);
            }
        }
        self.coldest.push((step.until_s, coldest));
        self.end_s = step.until_s;
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::BathPoint;
    use crate::figures::limits;

    /// Shows a watch layers that go straight from point to point, `(minute, °C of each layer)`.
    fn followed(gate: &BathTrace, points: &[(f64, &[f64])]) -> Clocks {
        let mut watch = GrowthWatch::new(limits(), gate);
        for pair in points.windows(2) {
            let ((a, before), (b, after)) = (pair[0], pair[1]);
            let slope: Vec<f64> = before.iter().zip(after).map(|(x, y)| y - x).collect();
            watch.step(&SolvedStep {
                from_s: a * 60.0,
                until_s: b * 60.0,
                before,
                slope_before: &slope,
                after,
                slope_after: &slope,
            });
        }
        watch.finish()
    }

    fn minutes(spells: &Spells, until: f64) -> f64 {
        spells.between_s(0.0, until * 60.0) / 60.0
    }

    #[test]
    fn a_layer_is_timed_through_every_range() {
        let gate = BathTrace::constant(60.0);
        let c = followed(&gate, &[(0.0, &[0.0]), (60.0, &[60.0])]);
        assert!((minutes(&c.raw, 60.0) - 49.4).abs() < 0.01);
        assert!((minutes(&c.come_up, 60.0) - 44.4).abs() < 0.01);
        // A twentieth of a kelvin more at each end.
        assert!((minutes(&c.warm, 60.0) - 20.1).abs() < 0.01);
        // Part of the way, and when a limit is passed.
        assert!((minutes(&c.raw, 25.0) - 20.0).abs() < 0.01);
        assert!((c.raw.passes_s(0.0, 600.0).expect("passed") - 900.0).abs() < 0.3);
        assert_eq!(c.raw.passes_s(0.0, 50.0 * 60.0), None);
    }

    #[test]
    fn the_worst_layer_counts_whichever_it_is() {
        // The surface warms for two hours while the centre is ice; then the centre takes one.
        let gate = BathTrace::constant(50.0);
        let points: [(f64, &[f64]); 4] =
            [(0.0, &[-18.0, -18.0]), (1.0, &[-1.0, 30.0]), (121.0, &[-1.0, 45.0]), (181.0, &[48.0, 49.0])];
        let c = followed(&gate, &points);
        assert!((minutes(&c.warm, 181.0) - 180.0).abs() < 0.1, "{}", minutes(&c.warm, 181.0));
        assert!(minutes(&c.raw, 181.0) > 179.0);
    }

    #[test]
    fn in_a_colder_bath_the_clock_runs_up_to_the_gate() {
        // At 54.2 °C in a bath of 54.5 a layer is out of the range; with the bath at 54.3 it is in it.
        let p = |min, c| BathPoint { min, c };
        let warm = BathTrace::constant(54.5);
        let c = followed(&warm, &[(0.0, &[54.2]), (60.0, &[54.2])]);
        assert_eq!(minutes(&c.raw, 60.0), 0.0);
        let sagging = BathTrace::new(vec![p(0.0, 54.5), p(29.9, 54.5), p(30.0, 54.3), p(60.0, 54.3)]);
        let sagging = sagging.expect("in order");
        let c = followed(&sagging, &[(0.0, &[54.2]), (30.0, &[54.2]), (60.0, &[54.2])]);
        assert!((minutes(&c.raw, 60.0) - 30.0).abs() < 0.01);
    }

    #[test]
    fn spells_of_one_layer_add_up_and_only_from_an_instant_on() {
        let gate = BathTrace::constant(60.0);
        let points: [(f64, &[f64]); 4] = [(0.0, &[60.0]), (10.0, &[40.0]), (20.0, &[60.0]), (40.0, &[40.0])];
        let c = followed(&gate, &points);
        // Below 54.4: from 2.8 to 17.2 min, and from 25.6 min on.
        assert!((minutes(&c.raw, 40.0) - 14.4 - 14.4).abs() < 0.01);
        assert!((c.raw.between_s(1200.0, 2400.0) / 60.0 - 14.4).abs() < 0.01);
        assert!((c.raw.passes_s(1200.0, 600.0).expect("passed") / 60.0 - 35.6).abs() < 0.01);
        assert!((c.raw.begins_s().expect("begins") / 60.0 - 2.8).abs() < 0.01);
    }
}
