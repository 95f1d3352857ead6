//! Minutes and gates of the water of several baths after each other.

use super::Mark;
use crate::bath::waters::{Run, at};
use crate::bath::{BathPoint, BathTrace, WaterRead};
use crate::figures::bench;
use crate::units::{Celsius, Kelvin};

/// A steady stretch of five minutes is one point in its middle: a simulation takes as many steps as there are corners.
pub(super) fn steady_together(minutes: Vec<WaterRead>) -> Vec<WaterRead> {
    const BLOCK_S: i64 = 300;
    const STEADY_K: f64 = 0.3;
    const FEWEST: usize = 3;
    let block = |r: &WaterRead| (r.reported, r.at.as_second().div_euclid(BLOCK_S));
    let last = minutes.last().map(|r| block(r).1);
    let mut all = Vec::with_capacity(minutes.len());
    for some in minutes.chunk_by(|a, b| block(a) == block(b)) {
        let c = || some.iter().map(|r| r.celsius.value());
        let (low, high) = c().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), c| (l.min(c), h.max(c)));
        let open = Some(block(&some[0]).1) == last;
        if open || !some[0].reported || some.len() < FEWEST || high - low > STEADY_K {
            all.extend_from_slice(some);
            continue;
        }
        let reads_high = some.iter().map(|r| r.reads_high).fold(Kelvin::ZERO, Kelvin::max);
        let celsius = Celsius::new(c().sum::<f64>() / some.len() as f64);
        all.push(WaterRead { celsius, reads_high, ..some[some.len() / 2] });
    }
    all
}

pub(super) fn minutes_of(readings: &[WaterRead]) -> Vec<WaterRead> {
    let mut all: Vec<WaterRead> = Vec::with_capacity(readings.len().min(8192));
    let mut bin: Option<(i64, f64, f64)> = None;
    for r in readings {
        let minute = r.at.as_second().div_euclid(60);
        if let (Some((m, sum, n)), Some(last)) = (bin, all.last_mut())
            && r.reported
            && last.reported
            && m == minute
        {
            let (sum, n) = (sum + r.celsius.value(), n + 1.0);
            bin = Some((m, sum, n));
            *last = WaterRead {
                celsius: Celsius::new(sum / n),
                reads_high: last.reads_high.max(r.reads_high),
                ..*r
            };
            continue;
        }
        bin = r.reported.then_some((minute, r.celsius.value(), 1.0));
        match all.last_mut() {
            // Two at one instant: the lower counts.
            Some(last) if last.at >= r.at => {
                if r.at_least() < last.at_least() {
                    *last = WaterRead { at: last.at, ..*r };
                }
            }
            _ => all.push(*r),
        }
    }
    all
}

/// From the drop on: what came before is what it was then.
pub(super) fn from_drop(all: Vec<Mark>) -> Vec<Mark> {
    let begun = at(&all, 0.0);
    let mut marks: Vec<Mark> = begun.into_iter().map(|m| Mark { min: 0.0, ..m }).collect();
    for m in all.into_iter().filter(|m| m.min > 0.0) {
        if marks.last().is_none_or(|last| m.min > last.min) {
            marks.push(m);
        }
    }
    marks
}

pub(super) fn trace(marks: &[Mark], of: impl Fn(&Mark) -> f64) -> BathTrace {
    let points = marks.iter().map(|m| BathPoint { min: m.min, c: of(m) }).collect();
    BathTrace::new(points).expect("made in order of time")
}

/// What the gates are asked of in water that was read so in a bath with a heater set to `set_c`, both less the
/// instrument's error.
#[must_use]
pub(crate) fn gate_of(water: &BathTrace, set_c: f64) -> BathTrace {
    let agrees = bench().agrees_k.value;
    let mut runs = 0;
    let mut good = false;
    let marks = water.points().iter().map(|p| {
        let agreed = std::mem::replace(&mut good, set_c - p.c <= agrees);
        runs += usize::from(good && !agreed);
        Mark { min: p.min, c: p.c, off: 0.0, run: good.then_some(Run { number: runs, set_c: None }) }
    });
    gate(&marks.collect::<Vec<_>>(), |m| m.c)
}

/// What the gates are asked of: in a run of readings that agree the mean of the last hour, else the water at that instant.
pub(super) fn gate(marks: &[Mark], of: impl Fn(&Mark) -> f64) -> BathTrace {
    let mut points: Vec<BathPoint> = Vec::with_capacity(marks.len());
    let mut i = 0;
    while i < marks.len() {
        let of_run = |m: &Mark| m.run.map(|r| r.number);
        let run = of_run(&marks[i]);
        let end = marks[i..].iter().position(|m| of_run(m) != run).map_or(marks.len(), |n| i + n);
        if run.is_some() {
            means(&marks[i..end], end == marks.len(), &of, &mut points);
        } else {
            points.extend(marks[i..end].iter().map(|m| BathPoint { min: m.min, c: of(m) }));
        }
        i = end;
    }
    points.dedup_by(|b, a| b.min <= a.min);
    BathTrace::new(points).expect("made in order of time")
}

/// A mean that lies no further under its setting is the setting: thermometers say tenths.
const SAME_K: f64 = 0.05;

/// The mean of the last hour over one run, at its own points and some between.
pub(super) fn means(run: &[Mark], goes_on: bool, of: &impl Fn(&Mark) -> f64, into: &mut Vec<BathPoint>) {
    const OVER_MIN: f64 = 60.0;
    const BETWEEN_MIN: [f64; 6] = [5.0, 15.0, 30.0, 45.0, OVER_MIN, OVER_MIN + 5.0];
    let (first, last) = (run[0].min, run[run.len() - 1].min);
    // What it was set to, with as much taken off as of the readings.
    let taken = run[0].c + run[0].off - of(&run[0]);
    let set = run[0].run.and_then(|r| r.set_c).map(|set| set - taken);
    // Nearer to it than a thermometer tells, they are one.
    let told = |c: f64| set.filter(|set| (*set - SAME_K..*set).contains(&c)).unwrap_or(c);
    let steady = run.iter().all(|m| of(m).total_cmp(&of(&run[0])).is_eq());
    if steady {
        let c = told(of(&run[0]));
        into.extend([BathPoint { min: first, c }, BathPoint { min: last, c }]);
        return;
    }
    // The integral so far, at each point; flat after the last.
    let mut area = vec![0.0];
    for w in run.windows(2) {
        let so_far = area[area.len() - 1];
        area.push(so_far + (w[1].min - w[0].min) * f64::midpoint(of(&w[0]), of(&w[1])));
    }
    let integral = |min: f64| {
        let i = run.partition_point(|m| m.min <= min).max(1) - 1;
        let (a, past) = (&run[i], min - run[i].min);
        let here = match run.get(i + 1) {
            Some(b) => of(a) + (of(b) - of(a)) * past / (b.min - a.min),
            None => of(a),
        };
        area[i] + past * f64::midpoint(of(a), here)
    };
    let mean = |min: f64| {
        let from = (min - OVER_MIN).max(first);
        if min - from < 1e-6 { of(&run[0]) } else { (integral(min) - integral(from)) / (min - from) }
    };
    // At the very end it goes on changing for an hour; on the way to a reading that does not agree the water counts.
    let until = if goes_on { last + OVER_MIN + 5.0 } else { last };
    let mut minutes: Vec<f64> = Vec::with_capacity(run.len() * 2);
    for (i, m) in run.iter().enumerate() {
        let next = run.get(i + 1).map_or(until, |n| n.min);
        minutes.push(m.min);
        minutes.extend(BETWEEN_MIN.iter().map(|b| m.min + b).filter(|t| *t < next));
    }
    minutes.push(until.max(last));
    minutes.sort_by(f64::total_cmp);
    minutes.dedup_by(|b, a| *b - *a < 1e-6);
    into.extend(minutes.into_iter().map(|min| BathPoint { min, c: told(mean(min)) }));
}
