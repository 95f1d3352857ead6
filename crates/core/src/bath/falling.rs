//! Whether heated water falls, by its readings alone: in two steps, because the off phase of a thermostat *is* no heat.
//!
//! - [`Heat::Falls`]: it has fallen under the lowest of its last swings, and goes on. That asks whether the lid is off or
//!   the heater on; it moves no time.
//! - [`Heat::Gone`]: a quarter of an hour later it still falls, and no slower than it began. What still has heat falls to
//!   where heat and loss meet, ever more slowly: food that went in, a lid that is off, a wide proportional band. What has
//!   none falls on as it began, for hours.
//!
//! `docs/decisions/0032-when-the-water-fails.md` has the table it was held against.

use jiff::Timestamp;

use super::{Load, WaterRead};
use crate::figures::bench;
use crate::units::{Celsius, Kelvin, Minutes};

/// How the heat of a bath stands, by its readings.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Heat {
    /// Nothing speaks against it.
    On,
    /// It falls under the lowest of its last swings.
    Falls {
        /// Since it began to.
        since: Timestamp,
        /// What it was then.
        from: Celsius,
    },
    /// It has fallen for so long, as steadily as only water falls that nothing heats.
    Gone {
        /// Since it began to.
        since: Timestamp,
        /// What it was then.
        from: Celsius,
        /// By how much it falls in a minute, K.
        per_min: Kelvin,
    },
}

/// A dip that food makes when it goes in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Dip {
    /// When it went in.
    pub at: Timestamp,
    /// How much lower the water is foreseen to go, K.
    pub depth: Kelvin,
    /// How long until it is back.
    pub back: Minutes,
}

impl Dip {
    /// Whether a reading so much under what the bath is held at is foreseen at `at`.
    #[must_use]
    pub(crate) fn explains(&self, at: Timestamp, under: Kelvin) -> bool {
        let b = bench();
        let since = Minutes::between(self.at, at);
        // It is only foreseen: twice as long, and a little deeper, is still it.
        let late = self.back * 2.0 + Minutes::new(5.0);
        (Minutes::ZERO..=late).contains(&since) && under <= self.depth + b.agrees_k.kelvin()
    }
}

/// A point of readings told apart by the minute: minutes before the last, °C.
#[derive(Debug, Clone, Copy)]
struct Point {
    at: Timestamp,
    min: f64,
    c: f64,
}

/// What is looked at, minutes back.
const LOOK_BACK_MIN: f64 = 180.0;
/// Swings are looked for over so long before it began to fall, minutes.
const SWINGS_MIN: f64 = 60.0;
/// Of its swings something must be known, minutes.
const KNOWN_MIN: f64 = 15.0;

/// How a bath's heat stands, by what was read in it up to now (by time) and what it was set to when.
///
/// ```
/// use hold_steady_core::bath::{WaterHeat, WaterRead, heat_by_readings};
/// use hold_steady_core::units::{Celsius, Kelvin};
/// let at = |min: f64| jiff::Timestamp::from_second(1_800_000_000 + (min * 60.0) as i64).expect("in range");
/// let read = |min: f64| WaterRead::reported(at(min), Celsius::new(60.0 - (min - 60.0).max(0.0) * 0.1));
/// let settings = [(at(0.0), Celsius::new(60.0))];
/// let until = |min: u32| (0..=min).map(|m| read(f64::from(m))).collect::<Vec<_>>();
/// assert_eq!(heat_by_readings(&until(60), &settings, &[]), WaterHeat::On);
/// assert!(matches!(heat_by_readings(&until(72), &settings, &[]), WaterHeat::Falls { .. }));
/// assert!(matches!(heat_by_readings(&until(90), &settings, &[]), WaterHeat::Gone { .. }));
/// ```
#[must_use]
pub fn heat_by_readings(readings: &[WaterRead], settings: &[(Timestamp, Celsius)], dips: &[Dip]) -> Heat {
    let Some(last) = readings.last() else { return Heat::On };
    let Some((set_at, set)) = settings.iter().rev().find(|(at, _)| *at <= last.at).copied() else {
        return Heat::On;
    };
    let all = points(readings, last.at, set_at);
    let set = set.value();
    let Some(fall) = falls_at(&all, set, dips) else { return Heat::On };
    // It must have been falling for a while by the same reading, not only now.
    const STILL_MIN: f64 = 15.0;
    const LOOKS: [f64; 2] = [STILL_MIN, STILL_MIN / 2.0];
    let now = all[all.len() - 1].min;
    let told = |back: f64| {
        let until = all.partition_point(|p| p.min <= now - back);
        falls_at(&all[..until], set, dips).is_some_and(|f| f.start.min <= fall.under.min)
    };
    let gone = LOOKS.into_iter().all(told).then(|| steady(&all, &fall)).flatten();
    let (since, from) = (fall.start.at, Celsius::new(fall.start.c));
    match gone {
        Some(per_min) => Heat::Gone { since, from, per_min: Kelvin::new(per_min) },
        None => Heat::Falls { since, from },
    }
}

/// The readings of the last hours since it was set so: of a device that reports often, the mean of each minute.
fn points(readings: &[WaterRead], now: Timestamp, set_at: Timestamp) -> Vec<Point> {
    let first =
        readings.partition_point(|r| Minutes::between(r.at, now).value() > LOOK_BACK_MIN || r.at < set_at);
    let mut all: Vec<Point> = Vec::new();
    let mut bin: (i64, f64, u32) = (i64::MIN, 0.0, 0);
    for r in &readings[first..] {
        let minute = r.at.as_second().div_euclid(60);
        let c = r.celsius.value();
        if bin.0 == minute {
            bin = (minute, bin.1 + c, bin.2 + 1);
            let last = all.len() - 1;
            let at = r.at;
            all[last] = Point { at, min: -Minutes::between(at, now).value(), c: bin.1 / f64::from(bin.2) };
        } else {
            bin = (minute, c, 1);
            all.push(Point { at: r.at, min: -Minutes::between(r.at, now).value(), c });
        }
    }
    all
}

/// A fall: where it began, where it passed the lowest of the swings before it.
struct Fall {
    start: Point,
    under: Point,
}

/// How much two neighbouring points differ by noise alone, K: the middle of the second differences, which neither a
/// steady fall nor a slow swing makes.
fn noise_k(all: &[Point]) -> f64 {
    const OVER: usize = 40;
    let of = &all[all.len().saturating_sub(OVER)..];
    let mut second: Vec<f64> = of.windows(3).map(|w| (w[0].c - 2.0 * w[1].c + w[2].c).abs()).collect();
    if second.is_empty() {
        return 0.0;
    }
    second.sort_by(f64::total_cmp);
    // Of noise of one kelvin the second differences have √6, and the middle of their sizes is 0.67 of that.
    second[second.len() / 2] / (6.0_f64.sqrt() * 0.6745)
}

/// Whether it falls at the last of these points.
fn falls_at(all: &[Point], set: f64, dips: &[Dip]) -> Option<Fall> {
    /// Least that it must be under the lowest swing, K: less is the resolution of thermometers.
    const UNDER_K: f64 = 0.1;
    const FEWEST: usize = 3;
    let n = all.len();
    if n < FEWEST {
        return None;
    }
    // Smoothed over as much as the noise asks for.
    let noise = noise_k(all);
    let half = if noise < 0.02 {
        0
    } else if noise < 0.06 {
        1
    } else {
        2
    };
    let smooth: Vec<f64> = (0..n)
        .map(|i| {
            let around = &all[i.saturating_sub(2 * half)..=i];
            around.iter().map(|p| p.c).sum::<f64>() / around.len() as f64
        })
        .collect();
    let sigma = noise / ((2 * half + 1) as f64).sqrt();
    // Back to where it began to fall: up to the last point that none before it, of this fall, is lower than.
    let slack = 0.05 + 2.5 * sigma;
    let mut start = n - 1;
    let mut highest = smooth[n - 1];
    for i in (0..n - 1).rev() {
        if smooth[i] < highest - slack {
            break;
        }
        if smooth[i] > highest {
            (start, highest) = (i, smooth[i]);
        }
    }
    let (now, then) = (all[n - 1], all[start]);
    let swings: Vec<f64> = (0..start)
        .filter(|i| (then.min - SWINGS_MIN..=then.min).contains(&all[*i].min))
        .map(|i| smooth[i])
        .collect();
    let known = start > 0 && then.min - all[0].min >= KNOWN_MIN && swings.len() >= 2;
    let agrees = bench().agrees_k.value;
    // Where no swing is known yet, half a swing of a plain thermostat is let pass.
    let lowest = if known { swings.iter().copied().fold(highest, f64::min) } else { set - agrees };
    // A bath that is held above its setting, or was before it was set lower, may come down to it.
    let lowest = lowest.min(set);
    let under = UNDER_K.max(3.0 * sigma);
    let explained = dips.iter().any(|d| d.explains(now.at, Kelvin::new(set - now.c)));
    if explained || smooth[n - 1] > lowest - under || now.min - then.min < 3.0 {
        return None;
    }
    let passed = (start..n).find(|i| smooth[*i] <= lowest).unwrap_or(n - 1);
    // Somebody who reads by hand sees it twice lower before it is called a fall.
    (n - 1 - start >= FEWEST - 1).then_some(Fall { start: then, under: all[passed] })
}

/// How fast it falls, K a minute, where it falls on as steadily as it began: `None` where it slows down, or it is not
/// sure yet.
fn steady(all: &[Point], fall: &Fall) -> Option<f64> {
    /// Over a quarter of an hour water that nothing heats slows down by less than this: an open pot of a time constant of
    /// an hour and a half by an eighth.
    const SLOWS: f64 = 0.75;
    const LEAST_PER_MIN: f64 = 0.005;
    let of: Vec<Point> = all.iter().copied().filter(|p| p.min >= fall.under.min).collect();
    let whole = slope(&of)?;
    let middle = f64::midpoint(of[0].min, of[of.len() - 1].min);
    let (early, late): (Vec<Point>, Vec<Point>) = of.iter().partition(|p| p.min < middle);
    let (Some(early), Some(late)) = (slope(&early), slope(&late)) else {
        // Too few to say more than that it fell all the time.
        return (-whole.0 > LEAST_PER_MIN).then_some(-whole.0);
    };
    // As steady as is asked, by more than noise can make of it.
    let sure = late.0 + 1.5 * (late.1 + SLOWS * early.1);
    (-sure >= SLOWS * -early.0 && -late.0 > LEAST_PER_MIN).then_some(-whole.0)
}

/// Slope of a straight line through points, K a minute, and how unsure it is.
fn slope(of: &[Point]) -> Option<(f64, f64)> {
    let n = of.len() as f64;
    if of.len() < 3 {
        return None;
    }
    let (tm, cm) = (of.iter().map(|p| p.min).sum::<f64>() / n, of.iter().map(|p| p.c).sum::<f64>() / n);
    let tt: f64 = of.iter().map(|p| (p.min - tm).powi(2)).sum();
    let b = of.iter().map(|p| (p.min - tm) * (p.c - cm)).sum::<f64>() / tt;
    let left: f64 = of.iter().map(|p| (p.c - cm - b * (p.min - tm)).powi(2)).sum::<f64>();
    Some((b, (left / (n - 2.0) / tt).sqrt()))
}

/// The dip that a load makes in a vessel, as the bench foresees it; one as deep as a kitchen sees, where nothing is known of
/// the vessel.
#[must_use]
pub(crate) fn dip(at: Timestamp, of: Option<(&super::Pool, Celsius, &Load)>) -> Dip {
    let b = bench();
    let usual = Dip { at, depth: b.usual_dip_k.kelvin(), back: b.usual_dip_min.minutes() };
    let Some((pool, set, load)) = of else { return usual };
    let taken = pool.take(set.value(), std::slice::from_ref(load));
    Dip {
        at,
        depth: set - Celsius::new(taken.lowest_c),
        back: taken.recovery_min.map_or(usual.back, Minutes::new).max(Minutes::new(5.0)),
    }
}
