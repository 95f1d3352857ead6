//! Which of the readings a heater is learned from: those in which it gave one power, its greatest. A head before it was
//! switched on, the band in which it throttles, food that was put in, are no heater.

use super::fit::{FLOOR_K, Summed};

/// Least time and least rise of it, minutes and K.
const LEAST_MIN: f64 = 5.0;
const LEAST_K: f64 = 4.0;
/// So many readings at least: two lie on every line.
const LEAST: usize = 3;
/// More than these are taken together, which evens their noise out too.
const MOST: usize = 60;
/// A stretch with no less than this share of the greatest power is as good as that.
const NEARLY: f64 = 0.97;

/// Whether a stretch is long enough, in minutes, kelvins and readings, to learn of it.
pub(super) fn is_enough(min: f64, rises_k: f64, readings: usize) -> bool {
    min >= LEAST_MIN && rises_k >= LEAST_K && readings >= LEAST
}

/// Readings taken together: their means, and where among the readings they lie.
struct Group {
    of: Summed,
    from: usize,
    until: usize,
}

impl Group {
    fn all(readings: &[Summed], together: usize) -> Vec<Self> {
        let of = |(n, list): (usize, &[Summed])| {
            let mean = |f: fn(&Summed) -> f64| list.iter().map(f).sum::<f64>() / list.len() as f64;
            let of = Summed {
                s: mean(|x| x.s),
                c: mean(|x| x.c),
                loss: mean(|x| x.loss),
                later_loss: mean(|x| x.later_loss),
                vapour: mean(|x| x.vapour),
            };
            Self { of, from: n * together, until: n * together + list.len() }
        };
        readings.chunks(together).enumerate().map(of).collect()
    }
}

/// A stretch of groups as a line: K/s, how far that may be off, and how far the groups lie from it.
struct Line {
    slope: f64,
    sd: f64,
}

/// Among so many stretches the steepest is steep by chance: so many standard deviations are left to it.
const BY_CHANCE: f64 = 4.0;

/// A stretch, by the first of its groups and the one past the last.
struct Stretch {
    line: Line,
    from: usize,
    until: usize,
}

/// From which reading to which (past the last) it gave its greatest power; none where no stretch is straight. What it
/// loses and how fast it evaporates are tried over what is possible: by the ones that make most of it straight.
pub(super) fn at_full_power(all: &[Summed], losses: &[f64], vapours: &[f64]) -> Option<(usize, usize)> {
    let together = all.len().div_ceil(MOST).max(1);
    let groups = Group::all(all, together);
    let straight = (2.0 * noise(all) / (together as f64).sqrt()).max(1.2 * FLOOR_K);
    let tried = losses.iter().flat_map(|loss| vapours.iter().map(move |vapour| (*loss, *vapour)));
    let found = tried.filter_map(|lost| longest(&groups, lost, straight));
    found.max_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, from, until)| (from, until))
}

/// The longest stretch at the greatest power, with so much lost: how far it rises, K, and where it lies. A stretch is straight
/// that lies no further from a line than that, K.
fn longest(groups: &[Group], (loss_w_k, vapour): (f64, f64), straight: f64) -> Option<(f64, usize, usize)> {
    // What the heater must have put in by then, over the heat capacity.
    let put_in: Vec<(f64, f64)> =
        groups.iter().map(|g| (g.of.s, g.of.c + loss_w_k * g.of.loss + vapour * g.of.vapour)).collect();
    let risen = |from: usize, until: usize| groups[until - 1].of.c - groups[from].of.c;
    let mut stretches = Vec::new();
    for from in 0..groups.len() {
        for until in from + LEAST..=groups.len() {
            let min = (groups[until - 1].of.s - groups[from].of.s) / 60.0;
            if is_enough(min, risen(from, until), until - from)
                && let Some(line) = line(&put_in[from..until], straight)
            {
                stretches.push(Stretch { line, from, until });
            }
        }
    }
    let surely = |x: &Stretch| x.line.slope - BY_CHANCE * x.line.sd;
    let greatest = stretches.iter().map(surely).max_by(f64::total_cmp)?;
    let rises = |x: &Stretch| risen(x.from, x.until);
    let best = stretches
        .iter()
        .filter(|x| x.line.slope + BY_CHANCE * x.line.sd >= greatest && x.line.slope >= NEARLY * greatest)
        .max_by(|a, b| rises(a).total_cmp(&rises(b)))?;
    Some((rises(best), groups[best.from].from, groups[best.until - 1].until))
}

/// How far each reading lies from the line between its neighbours, for the middle one of them: noise, K.
fn noise(all: &[Summed]) -> f64 {
    // Of a normal deviation the median is 0.6745, and the neighbours' own noise adds half.
    const MEDIAN: f64 = 0.6745;
    let mut off: Vec<f64> = all
        .windows(3)
        .map(|w| {
            let along = (w[1].s - w[0].s) / (w[2].s - w[0].s).max(1e-9);
            (w[1].c - w[0].c - along * (w[2].c - w[0].c)).abs()
        })
        .collect();
    off.sort_by(f64::total_cmp);
    off.get(off.len() / 2).map_or(0.0, |median| median / MEDIAN / 1.5_f64.sqrt())
}

/// Points as a line, if they lie on one.
fn line(of: &[(f64, f64)], straight: f64) -> Option<Line> {
    let n = of.len() as f64;
    let (x, y) = (of.iter().map(|p| p.0).sum::<f64>() / n, of.iter().map(|p| p.1).sum::<f64>() / n);
    let spread: f64 = of.iter().map(|p| (p.0 - x).powi(2)).sum();
    let slope = of.iter().map(|p| (p.0 - x) * (p.1 - y)).sum::<f64>() / spread;
    let squares: f64 = of.iter().map(|p| (p.1 - y - slope * (p.0 - x)).powi(2)).sum();
    let off = (squares / n).sqrt();
    (off <= straight).then(|| Line { slope, sd: off.max(FLOOR_K) / spread.sqrt() })
}
