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

/// What still falls after so long is not heated.
pub(crate) const STILL_FALLING: Minutes = Minutes::new(STILL_MIN);
const STILL_MIN: f64 = 15.0;

/// How a bath's heat stands, by what was read in it up to now (by time) and what it was set to when.
///
/// Source: the project's own rule, held against simulated baths.
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
    if is_seldom(&all) {
        return by_hand(&all, set, dips);
    }
    let Some(fall) = falls_at(&all, set, dips) else { return Heat::On };
    // It must have been falling for a while by the same reading, not only now.
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

/// Whether it is read so seldom that what a reading says is all there is.
fn is_seldom(all: &[Point]) -> bool {
    const SELDOM_MIN: f64 = 4.0;
    const OVER: usize = 12;
    let of = &all[all.len().saturating_sub(OVER)..];
    let mut between: Vec<f64> = of.windows(2).map(|w| w[1].min - w[0].min).collect();
    between.sort_by(f64::total_cmp);
    between.get(between.len() / 2).is_none_or(|b| *b >= SELDOM_MIN)
}

/// By readings far apart: two that fall ask, three over a quarter of an hour say it.
fn by_hand(all: &[Point], set: f64, dips: &[Dip]) -> Heat {
    const LOWER_K: f64 = 0.2;
    let agrees = bench().agrees_k.value;
    let n = all.len();
    // Back along readings that are each lower than the one before.
    let mut start = n - 1;
    while start > 0 && all[start].c <= all[start - 1].c - LOWER_K {
        start -= 1;
    }
    let (first, last) = (all[start], all[n - 1]);
    let explained = dips.iter().any(|d| d.explains(last.at, Kelvin::new(set - last.c)));
    if n - start < 2 || last.c > set - agrees || explained {
        return Heat::On;
    }
    let (since, from) = (first.at, Celsius::new(first.c));
    // Those of the fall that lie under what a thermostat swings by.
    let under = all[start..].iter().filter(|p| p.c <= set - agrees).count();
    let past = last.min - first.min;
    if n - start >= 4 && under >= 3 && past >= STILL_MIN {
        Heat::Gone { since, from, per_min: Kelvin::new((first.c - last.c) / past) }
    } else {
        Heat::Falls { since, from }
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
    const LEAST_MIN: f64 = 3.0;
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
    let start = began(all, &smooth, noise);
    let (now, then) = (all[n - 1], all[start]);
    let swings: Vec<f64> = (0..start)
        .filter(|i| (then.min - SWINGS_MIN..=then.min).contains(&all[*i].min))
        .map(|i| smooth[i])
        .collect();
    let known = start > 0 && then.min - all[0].min >= KNOWN_MIN && swings.len() >= 2;
    // Where no swing is known yet, half a swing of a plain thermostat is let pass.
    let lowest = if known {
        swings.iter().copied().fold(smooth[start], f64::min)
    } else {
        set - bench().agrees_k.value
    };
    // A bath that is held above its setting, or was before it was set lower, may come down to it.
    let lowest = lowest.min(set);
    let under = UNDER_K.max(3.0 * sigma);
    let explained = dips.iter().any(|d| d.explains(now.at, Kelvin::new(set - now.c)));
    let short = now.min - then.min < LEAST_MIN || n - 1 - start < FEWEST - 1;
    if explained || short || smooth[n - 1] > lowest - under {
        return None;
    }
    let passed = (start..n).find(|i| smooth[*i] <= lowest).unwrap_or(n - 1);
    Some(Fall { start: then, under: all[passed] })
}

/// Where it began to fall: back over stretches of five minutes, as long as each was higher than the one after it, by more
/// than noise makes; and there where it was highest.
fn began(all: &[Point], smooth: &[f64], noise: f64) -> usize {
    const BLOCK_MIN: f64 = 5.0;
    const LEAST_K: f64 = 0.03;
    const SURE: f64 = 1.4;
    let n = all.len();
    let end = all[n - 1].min;
    let (mut upto, mut top) = (n, n - 1);
    let mut after: Option<(f64, f64)> = None;
    let mut block = 1.0;
    while upto > 0 {
        let from = all[..upto].partition_point(|p| p.min <= end - BLOCK_MIN * block);
        if from == upto {
            // Nobody read for two of them: what was before is another story.
            if all[from - 1].min < end - BLOCK_MIN * (block + 2.0) {
                break;
            }
            block += 1.0;
            continue;
        }
        let some = &all[from..upto];
        let mean = some.iter().map(|p| p.c).sum::<f64>() / some.len() as f64;
        let unsure = noise / (some.len() as f64).sqrt();
        if after.is_some_and(|(c, u)| mean < c + LEAST_K.max(SURE * unsure.hypot(u))) {
            break;
        }
        (top, after, upto) = (from, Some((mean, unsure)), from);
        block += 1.0;
    }
    let at = all[top].min;
    let near = (0..n).filter(|i| (at - BLOCK_MIN..=at + BLOCK_MIN).contains(&all[*i].min));
    near.max_by(|a, b| smooth[*a].total_cmp(&smooth[*b]).then(a.cmp(b))).unwrap_or(top)
}

/// How fast it falls, K a minute, where it falls on as steadily as it began, and did so five minutes ago: `None` where it
/// slows down, or it is not sure yet.
fn steady(all: &[Point], fall: &Fall) -> Option<f64> {
    const BACK_MIN: [f64; 3] = [0.0, 2.5, 5.0];
    let now = all[all.len() - 1].min;
    let mut per_min = None;
    for back in BACK_MIN {
        let until = all.partition_point(|p| p.min <= now - back);
        let rate = steady_at(&all[..until], fall)?;
        per_min = per_min.or(Some(rate));
    }
    per_min
}

fn steady_at(all: &[Point], fall: &Fall) -> Option<f64> {
    /// Over a quarter of an hour water that nothing heats slows down by less than this: an open pot of a time constant of
    /// an hour and a half by an eighth.
    const SLOWS: f64 = 0.8;
    /// How many times its own uncertainty a slope must be surer than that.
    const SURE: f64 = 1.25;
    /// And no faster than this: what falls faster and faster is cold water that was added.
    const FASTER: f64 = 1.6;
    /// By thirds it is looked at too, less sharply.
    const THIRDS: ([f64; 2], f64) = ([0.7, 0.6], 1.5);
    const LEAST_PER_MIN: f64 = 0.008;
    const LEAST: (f64, f64) = (10.0, 0.15);
    let of: Vec<Point> = all.iter().copied().filter(|p| p.min >= fall.under.min).collect();
    let (first, last) = (of.first()?, of.last()?);
    if last.min - first.min < LEAST.0 || first.c - last.c < LEAST.1 {
        return None;
    }
    let part = |from: f64, to: f64| {
        let at = |share: f64| first.min + (last.min - first.min) * share;
        let some = |p: &&Point| at(from) <= p.min && (p.min < at(to) || to >= 1.0);
        slope(&of.iter().filter(some).copied().collect::<Vec<_>>())
    };
    let (early, late) = (part(0.0, 0.5)?, part(0.5, 1.0)?);
    let (fell, falls) = (-early.0, -late.0);
    let unsure = late.1.hypot(SLOWS * early.1);
    if fell < LEAST_PER_MIN || falls < LEAST_PER_MIN {
        return None;
    }
    if falls - SURE * unsure < SLOWS * fell || falls > FASTER * fell + 2.0 * unsure {
        return None;
    }
    if let (Some(a), Some(b), Some(c)) =
        (part(0.0, 1.0 / 3.0), part(1.0 / 3.0, 2.0 / 3.0), part(2.0 / 3.0, 1.0))
    {
        let ([second, third], sure) = THIRDS;
        let slower = |x: (f64, f64), share: f64| -x.0 + sure * x.1.hypot(a.1) < share * -a.0;
        if slower(b, second) || slower(c, third) {
            return None;
        }
    }
    slope(&of).map(|s| -s.0)
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
