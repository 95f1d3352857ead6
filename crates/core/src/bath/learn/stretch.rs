//! Which of the readings a heater is learned from: those in which it gave one power, its greatest. A head before it was
//! switched on, the band in which it throttles, food that was put in, are no heater.

use super::fit::{FLOOR_K, Summed};

/// Least time and least rise of it, minutes and K.
pub(super) const LEAST_MIN: f64 = 5.0;
pub(super) const LEAST_K: f64 = 4.0;
/// So many readings at least: two lie on every line.
pub(super) const LEAST: usize = 3;
/// More than these are taken together, which evens their noise out too.
const MOST: usize = 60;
/// A stretch with no less than this share of the greatest power is as good as that.
const NEARLY: f64 = 0.97;

/// Readings taken together: the mean of their times and of what the heater must have put in by then, and where among
/// the readings they lie.
struct Group {
    s: f64,
    k: f64,
    c: f64,
    from: usize,
    until: usize,
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
    let tried = losses.iter().flat_map(|loss| vapours.iter().map(move |vapour| (*loss, *vapour)));
    let found = tried.filter_map(|(loss, vapour)| longest(all, loss, vapour));
    found.max_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, from, until)| (from, until))
}

/// The longest stretch at the greatest power, with so much lost: how far it rises, K, and where it lies.
fn longest(all: &[Summed], loss_w_k: f64, vapour: f64) -> Option<(f64, usize, usize)> {
    let together = all.len().div_ceil(MOST).max(1);
    let mean =
        |list: &[Summed], f: &dyn Fn(&Summed) -> f64| list.iter().map(f).sum::<f64>() / list.len() as f64;
    let groups: Vec<Group> = all
        .chunks(together)
        .enumerate()
        .map(|(n, list)| Group {
            s: mean(list, &|x| x.s),
            k: mean(list, &|x| x.c + loss_w_k * x.loss + vapour * x.vapour),
            c: mean(list, &|x| x.c),
            from: n * together,
            until: n * together + list.len(),
        })
        .collect();
    let straight = (2.0 * noise(all) / (together as f64).sqrt()).max(1.2 * FLOOR_K);
    let mut stretches = Vec::new();
    for from in 0..groups.len() {
        for until in from + LEAST..=groups.len() {
            let of = &groups[from..until];
            let (first, last) = (&of[0], &of[of.len() - 1]);
            if last.s - first.s >= LEAST_MIN * 60.0
                && last.c - first.c >= LEAST_K
                && let Some(line) = line(of, straight)
            {
                stretches.push(Stretch { line, from, until });
            }
        }
    }
    let surely = |x: &Stretch| x.line.slope - BY_CHANCE * x.line.sd;
    let greatest = stretches.iter().map(surely).max_by(f64::total_cmp)?;
    let risen = |x: &Stretch| groups[x.until - 1].c - groups[x.from].c;
    let best = stretches
        .iter()
        .filter(|x| x.line.slope + BY_CHANCE * x.line.sd >= greatest && x.line.slope >= NEARLY * greatest)
        .max_by(|a, b| risen(a).total_cmp(&risen(b)))?;
    Some((risen(best), groups[best.from].from, groups[best.until - 1].until))
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

/// The groups as a line, if they lie on one.
fn line(of: &[Group], straight: f64) -> Option<Line> {
    let n = of.len() as f64;
    let (s, k) = (of.iter().map(|g| g.s).sum::<f64>() / n, of.iter().map(|g| g.k).sum::<f64>() / n);
    let spread: f64 = of.iter().map(|g| (g.s - s).powi(2)).sum();
    let slope = of.iter().map(|g| (g.s - s) * (g.k - k)).sum::<f64>() / spread;
    let squares: f64 = of.iter().map(|g| (g.k - k - slope * (g.s - s)).powi(2)).sum();
    let off = (squares / n).sqrt();
    (off <= straight).then(|| Line { slope, sd: off.max(FLOOR_K) / spread.sqrt() })
}
