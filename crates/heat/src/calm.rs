//! Water that stays where it is, followed in longer strides: a bath read each minute for three days is 4,320 corners, and
//! the solver begins its steps anew at each of them.

use super::{BathPoint, BathTrace};

/// Water is calm while all of it, since it began to be, lies within so much, K: the swing of a switched heater.
const CALM_WITHIN_K: f64 = 1.2;

/// And keeps away from what is asked of a temperature by so much, K.
const FROM_EDGE_K: f64 = 0.05;

/// How much less heat than really went by has gone by in the means, kelvin minutes, for each minute it has been calm: they
/// are so much colder, K. Within a stride they may lag twice as much or not at all, and are never ahead.
const LAG_K: f64 = 0.02;

/// The longest stride as a share of the minutes it has been calm.
const LONGEST_SHARE: f64 = 1.0 / 6.0;

impl BathTrace {
    /// The same with its calm stretches between two minutes as their means, in strides that grow with the time it has been
    /// calm; where it moves, and where `edges` (temperatures that are asked about) are near, as it was.
    ///
    /// Never more heat has gone by than really did. For what has settled: where the coldest layer of a piece decides, a mean
    /// is milder by the swings it leaves out, and whoever asks what was killed follows the water itself.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let points = (0..600).map(|m| BathPoint { min: f64::from(m), c: 55.0 + 0.05 * f64::from(m % 2) });
    /// let watched = BathTrace::new(points.collect())?;
    /// assert!(watched.calmed((0.0, 500.0), &[60.0]).points().len() < 200);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn calmed(&self, (from_min, until_min): (f64, f64), edges: &[f64]) -> Self {
        let points = self.points();
        let known = points.partition_point(|p| p.min <= until_min);
        let mut at = points.partition_point(|p| p.min < from_min);
        if at >= known {
            return self.clone();
        }
        let mut strides = Strides { points, edges, kept: points[..at].to_vec(), lag: 0.0 };
        while at < known {
            at = strides.calm_from(at, known);
        }
        strides.kept.extend(&points[known..]);
        Self::new(strides.kept).expect("no stride ends where the next begins")
    }
}

struct Strides<'a> {
    points: &'a [BathPoint],
    edges: &'a [f64],
    kept: Vec<BathPoint>,
    /// How much more heat has gone by than in what is kept since it has been calm, kelvin minutes.
    lag: f64,
}

impl Strides<'_> {
    /// Takes what is calm from a point on, stride by stride, or the point alone; gives the next point.
    fn calm_from(&mut self, first: usize, known: usize) -> usize {
        let begun = self.points[first].min;
        // What was left out of other water is not made up for in this: here it might earn more than it did there.
        self.lag = 0.0;
        let mut low = f64::INFINITY;
        let mut high = f64::NEG_INFINITY;
        let mut end = first;
        while end < known {
            let c = self.points[end].c;
            let (l, h) = (low.min(c), high.max(c));
            let near = self.edges.iter().any(|e| (l - FROM_EDGE_K..=h + FROM_EDGE_K).contains(e));
            if near || h - l > CALM_WITHIN_K {
                break;
            }
            (low, high) = (l, h);
            end += 1;
        }
        // What is not calm is a stride of one point.
        let end = end.max(first + 1);
        let mut at = first;
        while at < end {
            let last = self.stride(at, end, begun);
            self.keep(at, last, begun);
            at = last + 1;
        }
        end
    }

    /// The last point of a stride from a point on, looked for in growing lengths.
    fn stride(&self, first: usize, end: usize, begun: f64) -> usize {
        const LONGER: f64 = 1.25;
        let (from, mut best, mut length) = (self.points[first].min, first, 1.0_f64);
        loop {
            let last = first + length.ceil() as usize;
            if last >= end {
                return best;
            }
            let (width, calm) = (self.points[last].min - from, self.points[last].min - begun);
            if width > (calm * LONGEST_SHARE).max(1.0) || !self.lags_a_little(first, last, calm * LAG_K) {
                return best;
            }
            best = last;
            length *= LONGER;
        }
    }

    /// Whether a stride is never ahead of what went by, and never lags more than twice as much as at its end.
    fn lags_a_little(&self, first: usize, last: usize, lag: f64) -> bool {
        let part = &self.points[first..=last];
        let mean = self.mean(part, lag);
        let mut off = self.lag;
        part.windows(2).all(|w| {
            off += area(w) - mean * (w[1].min - w[0].min);
            (0.0..=2.0 * lag).contains(&off)
        })
    }

    /// The mean that leaves so much of a lag at the end.
    fn mean(&self, part: &[BathPoint], lag: f64) -> f64 {
        let (low, high) = part.iter().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p.c), h.max(p.c)));
        let width = part[part.len() - 1].min - part[0].min;
        ((area(part) + self.lag - lag) / width).clamp(low, high)
    }

    /// A stride as its mean; a point as it is.
    fn keep(&mut self, first: usize, last: usize, begun: f64) {
        let part = &self.points[first..=last];
        let (a, b) = (part[0], part[part.len() - 1]);
        let mean = if last > first { self.mean(part, (b.min - begun) * LAG_K) } else { a.c };
        // Between one stride and the next both go straight.
        if let Some(before) = self.kept.last().copied().filter(|_| a.min > begun) {
            let real = self.points[first - 1];
            self.lag += (a.min - real.min) * (f64::midpoint(real.c, a.c) - f64::midpoint(before.c, mean));
        }
        self.lag += area(part) - mean * (b.min - a.min);
        self.kept.push(BathPoint { min: a.min, c: mean });
        if last > first {
            self.kept.push(BathPoint { min: b.min, c: mean });
        }
    }
}

/// Kelvin minutes over some points.
fn area(points: &[BathPoint]) -> f64 {
    points.windows(2).map(|w| (w[1].min - w[0].min) * f64::midpoint(w[0].c, w[1].c)).sum()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn trace(c: impl Fn(f64) -> f64, minutes: u32) -> BathTrace {
        let points = (0..=minutes).map(|m| BathPoint { min: f64::from(m), c: c(f64::from(m)) });
        BathTrace::new(points.collect()).expect("in order")
    }

    fn gone_by(trace: &BathTrace, until: f64) -> f64 {
        (0..(until * 10.0) as u32).map(|k| trace.at((f64::from(k) + 0.5) * 6.0) / 10.0).sum()
    }

    #[test]
    fn three_days_of_noise_are_few_strides_and_the_heat_that_went_by_is_the_same() {
        let noise = |m: f64| 60.0 + 0.2 * (m * 7919.0).sin();
        let swings = |m: f64| 60.0 + 0.5 * (m * std::f64::consts::TAU / 12.0).sin();
        for of in [&noise as &dyn Fn(f64) -> f64, &swings] {
            let whole = trace(of, 4320);
            let calm = whole.calmed((0.0, 4300.0), &[54.4]);
            assert!(calm.points().len() < 250, "{}", calm.points().len());
            for until in [60.0, 240.0, 1000.0, 4300.0] {
                let lag = gone_by(&whole, until) - gone_by(&calm, until);
                assert!((-0.05..=2.0 * LAG_K * until + 0.05).contains(&lag), "{until}: {lag}");
            }
        }
    }

    #[test]
    fn what_moves_and_what_is_near_an_edge_stays_as_it_is() {
        let most_off = |a: &BathTrace, b: &BathTrace| {
            let off = |k: u32| (a.at(f64::from(k) * 6.0) - b.at(f64::from(k) * 6.0)).abs();
            (0..3000).map(off).fold(0.0, f64::max)
        };
        let falling = trace(|m| 60.0 - 0.05 * m, 300);
        assert!(most_off(&falling, &falling.calmed((0.0, 300.0), &[54.4])) < 0.25);
        let near = trace(|m| 54.5 + 0.15 * (m * 7919.0).sin(), 300);
        let (kept, far) = (near.calmed((0.0, 300.0), &[54.5]), near.calmed((0.0, 300.0), &[50.0]));
        assert!(most_off(&near, &kept) < 0.05 && most_off(&near, &far) > 0.1);
        // What came before is as it was, too.
        let noise = trace(|m| 60.0 + 0.1 * (m * 7919.0).sin(), 300);
        let late = noise.calmed((200.0, 300.0), &[]);
        assert!(late.points().len() < 260 && late.points()[..200] == noise.points()[..200]);
        // What is not known yet is not put together with what is.
        let late = trace(|m| 60.0 + 0.1 * (m * 7919.0).sin(), 300).calmed((0.0, 100.0), &[]);
        assert_eq!(late.points().iter().filter(|p| p.min > 100.0).count(), 200);
        assert_eq!(BathTrace::constant(55.0).calmed((0.0, 1e9), &[]), BathTrace::constant(55.0));
    }
}
