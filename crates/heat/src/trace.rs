//! The water around a piece over time: any history, straight between its points.

use serde::{Deserialize, Serialize};

/// One point of a bath's temperature over time.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct BathPoint {
    /// Minutes from the drop.
    pub min: f64,
    /// °C.
    pub c: f64,
}

/// The bath's temperature over time, straight between its points and flat after the last (and
/// before the first). A constant bath is a trace of one point.
///
/// ```
/// use hold_steady_heat::{BathPoint, BathTrace};
/// let cooler = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 30.0, c: 56.5 }])?;
/// assert_eq!(cooler.at(15.0 * 60.0), 57.25);
/// assert_eq!(cooler.set_point(), 56.5);
/// # Ok::<(), hold_steady_heat::TraceError>(())
/// ```
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "Vec<BathPoint>", into = "Vec<BathPoint>")]
pub struct BathTrace(Vec<BathPoint>);

/// Why a series of points is no trace.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TraceError {
    /// There are no points.
    #[error("a bath needs at least one point")]
    Empty,
    /// Time stands still or runs backward.
    #[error("point {index}: minute {min} does not come after minute {before}")]
    Order {
        /// Which point, from 0.
        index: usize,
        /// Its minute.
        min: f64,
        /// The minute of the point before.
        before: f64,
    },
    /// A value is not a finite number.
    #[error("point {index} is not a finite number")]
    NotFinite {
        /// Which point, from 0.
        index: usize,
    },
}

impl BathTrace {
    /// A trace through the given points.
    ///
    /// # Errors
    /// When there is none, one is not finite, or their minutes do not rise.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace, TraceError};
    /// let twice = vec![BathPoint { min: 5.0, c: 55.0 }, BathPoint { min: 5.0, c: 60.0 }];
    /// assert!(matches!(BathTrace::new(twice), Err(TraceError::Order { index: 1, .. })));
    /// ```
    pub fn new(points: Vec<BathPoint>) -> Result<Self, TraceError> {
        if points.is_empty() {
            return Err(TraceError::Empty);
        }
        for (index, p) in points.iter().enumerate() {
            if !(p.min.is_finite() && p.c.is_finite()) {
                return Err(TraceError::NotFinite { index });
            }
            if index > 0 && p.min <= points[index - 1].min {
                return Err(TraceError::Order { index, min: p.min, before: points[index - 1].min });
            }
        }
        Ok(Self(points))
    }

    /// A bath that keeps its temperature.
    ///
    /// ```
    /// use hold_steady_heat::BathTrace;
    /// assert_eq!(BathTrace::constant(55.0).at(3600.0), 55.0);
    /// ```
    #[must_use]
    pub fn constant(celsius: f64) -> Self {
        Self(vec![BathPoint { min: 0.0, c: celsius }])
    }

    /// The points.
    ///
    /// ```
    /// use hold_steady_heat::BathTrace;
    /// assert_eq!(BathTrace::constant(55.0).points().len(), 1);
    /// ```
    #[must_use]
    pub fn points(&self) -> &[BathPoint] {
        &self.0
    }

    /// The set point: the trace's last temperature.
    ///
    /// ```
    /// use hold_steady_heat::BathTrace;
    /// assert_eq!(BathTrace::constant(55.0).set_point(), 55.0);
    /// ```
    #[must_use]
    pub fn set_point(&self) -> f64 {
        self.0[self.0.len() - 1].c
    }

    /// The same trace, all of it warmer by `kelvin`.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.shifted(-1.0).at(3600.0), 51.0);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn shifted(&self, kelvin: f64) -> Self {
        Self(self.0.iter().map(|p| BathPoint { min: p.min, c: p.c + kelvin }).collect())
    }

    /// The same trace as far as `until_min` and no further: what comes later is not known yet, and it keeps
    /// the temperature it had then.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.until(30.0).at(3600.0), 55.0);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn until(&self, until_min: f64) -> Self {
        if self.0.len() == 1 {
            return self.clone();
        }
        let mut points: Vec<BathPoint> = self.0.iter().copied().filter(|p| p.min < until_min).collect();
        points.push(BathPoint { min: until_min, c: self.at(until_min * 60.0) });
        Self(points)
    }

    /// This trace up to a minute, and from then on another whose minutes count from there.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// let mended = falling.then(30.0, &BathTrace::constant(58.0));
    /// assert_eq!((mended.at(900.0), mended.at(3600.0)), (56.5, 58.0));
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn then(&self, min: f64, next: &Self) -> Self {
        const JUMP_MIN: f64 = 0.01;
        let mut points: Vec<BathPoint> = self.0.iter().copied().filter(|p| p.min < min - JUMP_MIN).collect();
        if min > JUMP_MIN {
            points.push(BathPoint { min: min - JUMP_MIN, c: self.at(min * 60.0 - JUMP_MIN * 60.0) });
        }
        points.push(BathPoint { min, c: next.at(0.0) });
        let after = next.0.iter().filter(|p| p.min > 0.0);
        points.extend(after.map(|p| BathPoint { min: p.min + min, c: p.c }));
        Self(points)
    }

    /// The same trace with a point wherever it passes one of these temperatures, so that every stretch lies
    /// on one side of each.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 55.0 }, BathPoint { min: 10.0, c: 53.0 }])?;
    /// let points = falling.with_passings(&[54.4]).points().to_vec();
    /// assert!((points[1].min - 3.0).abs() < 1e-9 && points.len() == 3);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn with_passings(&self, celsius: &[f64]) -> Self {
        let mut points = vec![self.0[0]];
        for pair in self.0.windows(2) {
            let (a, b) = (pair[0], pair[1]);
            let mut passed: Vec<f64> = celsius.iter().copied().filter(|c| (a.c < *c) != (b.c < *c)).collect();
            passed.sort_by(f64::total_cmp);
            if b.c < a.c {
                passed.reverse();
            }
            for c in passed {
                let min = a.min + (b.min - a.min) * (c - a.c) / (b.c - a.c);
                if min > points[points.len() - 1].min && min < b.min {
                    points.push(BathPoint { min, c });
                }
            }
            points.push(b);
        }
        Self(points)
    }

    /// The same trace with a point at each of these minutes too.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.with_minutes([30.0].into_iter()).points().len(), 3);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn with_minutes(&self, minutes: impl Iterator<Item = f64>) -> Self {
        const SAME_MIN: f64 = 1e-6;
        let (first, last) = (self.0[0].min, self.0[self.0.len() - 1].min);
        let more = minutes
            .filter(|m| (first..last).contains(m))
            .map(|min| BathPoint { min, c: self.at(min * 60.0) });
        let mut points: Vec<BathPoint> = self.0.iter().copied().chain(more).collect();
        points.sort_by(|a, b| a.min.total_cmp(&b.min));
        points.dedup_by(|b, a| b.min - a.min < SAME_MIN);
        Self(points)
    }

    /// The same trace with a stretch taken out of it: what was from then on comes so much sooner.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let warming = BathTrace::new(vec![BathPoint { min: 0.0, c: 20.0 }, BathPoint { min: 60.0, c: 60.0 }])?;
    /// let floated = warming.without(15.0, 30.0);
    /// assert_eq!((floated.at(14.0 * 60.0).round(), floated.at(16.0 * 60.0).round()), (29.0, 51.0));
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn without(&self, from_min: f64, minutes: f64) -> Self {
        if minutes <= 0.0 {
            return self.clone();
        }
        let until = from_min + minutes;
        let after = self.0.iter().filter(|p| p.min > until);
        let mut points = vec![BathPoint { min: 0.0, c: self.at(until * 60.0) }];
        points.extend(after.map(|p| BathPoint { min: p.min - until, c: p.c }));
        self.then(from_min, &Self(points))
    }

    /// The colder of this and another at every instant.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// let lower = falling.lower_of(&BathTrace::constant(55.0));
    /// assert_eq!((lower.at(0.0), lower.at(3600.0)), (55.0, 52.0));
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn lower_of(&self, other: &Self) -> Self {
        let mut minutes: Vec<f64> = self.0.iter().chain(&other.0).map(|p| p.min).collect();
        minutes.sort_by(f64::total_cmp);
        minutes.dedup();
        let mut points: Vec<BathPoint> = Vec::with_capacity(minutes.len());
        let both = |min: f64| (self.at(min * 60.0), other.at(min * 60.0));
        for pair in minutes.windows(2) {
            let ((a, b), (c, d)) = (both(pair[0]), both(pair[1]));
            points.push(BathPoint { min: pair[0], c: a.min(b) });
            // Where one passes the other in between, both are straight.
            if (a < b) != (c < d) && a != b && c != d {
                let share = (a - b) / ((a - b) - (c - d));
                let min = pair[0] + share * (pair[1] - pair[0]);
                if min > pair[0] && min < pair[1] {
                    points.push(BathPoint { min, c: a + share * (c - a) });
                }
            }
        }
        let last = minutes[minutes.len() - 1];
        let (a, b) = both(last);
        points.push(BathPoint { min: last, c: a.min(b) });
        Self(points)
    }

    /// The same with as few points as keep it within `within` K, and by so much colder: never warmer than it was, and
    /// each point less spares a solver steps.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.with_minutes([30.0].into_iter()).thinned(0.1).points().len(), 2);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn thinned(&self, within: f64) -> Self {
        fn keep(points: &[BathPoint], within: f64, kept: &mut Vec<BathPoint>) {
            let (Some(a), Some(b)) = (points.first(), points.last()) else { return };
            let off = |p: &BathPoint| (p.c - (a.c + (b.c - a.c) * (p.min - a.min) / (b.min - a.min))).abs();
            let farthest = (1..points.len().saturating_sub(1))
                .max_by(|i, j| off(&points[*i]).total_cmp(&off(&points[*j])));
            match farthest.filter(|i| off(&points[*i]) > within) {
                Some(i) => {
                    keep(&points[..=i], within, kept);
                    keep(&points[i..], within, kept);
                }
                None => kept.push(*b),
            }
        }
        let mut kept = vec![self.0[0]];
        keep(&self.0, within, &mut kept);
        Self(kept).shifted(-within)
    }

    /// The same with another last temperature.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.ending_at(50.0).at(3600.0), 50.0);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn ending_at(mut self, c: f64) -> Self {
        if let Some(last) = self.0.last_mut() {
            last.c = c;
        }
        self
    }

    /// Lowest and highest temperature from 0 to `until_min`.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.range(30.0), (55.0, 58.0));
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn range(&self, until_min: f64) -> (f64, f64) {
        let ends = [self.at(0.0), self.at(until_min * 60.0)];
        let within = self.0.iter().filter(|p| (0.0..=until_min).contains(&p.min)).map(|p| p.c);
        let all = || ends.into_iter().chain(within.clone());
        (all().fold(f64::INFINITY, f64::min), all().fold(f64::NEG_INFINITY, f64::max))
    }

    /// Temperature at `t_s` seconds.
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let rising = BathTrace::new(vec![BathPoint { min: 0.0, c: 40.0 }, BathPoint { min: 10.0, c: 60.0 }])?;
    /// assert_eq!((rising.at(300.0), rising.at(6000.0)), (50.0, 60.0));
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    #[must_use]
    pub fn at(&self, t_s: f64) -> f64 {
        let min = t_s / 60.0;
        let i = self.0.partition_point(|p| p.min <= min);
        match (i, self.0.len()) {
            (0, _) => self.0[0].c,
            (i, n) if i == n => self.0[n - 1].c,
            (i, _) => {
                let (a, b) = (self.0[i - 1], self.0[i]);
                a.c + (b.c - a.c) * (min - a.min) / (b.min - a.min)
            }
        }
    }

    /// The straight stretches from 0 to `until_s`: each with its end (s) and its slope (K/s).
    ///
    /// ```
    /// use hold_steady_heat::{BathPoint, BathTrace};
    /// let falling = BathTrace::new(vec![BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 52.0 }])?;
    /// assert_eq!(falling.segments(3600.0).collect::<Vec<_>>(), [(3600.0, -6.0 / 3600.0)]);
    /// # Ok::<(), hold_steady_heat::TraceError>(())
    /// ```
    pub fn segments(&self, until_s: f64) -> impl Iterator<Item = (f64, f64)> + '_ {
        let ends = self
            .0
            .iter()
            .map(|p| p.min * 60.0)
            .filter(move |t| *t > 0.0 && *t < until_s)
            .chain(std::iter::once(until_s));
        ends.scan(0.0, move |start, end| {
            let (a, b) = (*start, end);
            *start = end;
            let slope = if b > a { (self.at(b) - self.at(a)) / (b - a) } else { 0.0 };
            Some((end, slope))
        })
    }
}

impl TryFrom<Vec<BathPoint>> for BathTrace {
    type Error = TraceError;
    fn try_from(points: Vec<BathPoint>) -> Result<Self, TraceError> {
        Self::new(points)
    }
}

impl From<BathTrace> for Vec<BathPoint> {
    fn from(trace: BathTrace) -> Self {
        trace.0
    }
}
