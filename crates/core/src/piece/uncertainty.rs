//! How sure a time is: bounding runs, and on request a seeded Monte Carlo.

use std::collections::BTreeMap;
use std::sync::{Arc, LazyLock};

use rand_pcg::Pcg64Mcg;
use rand_pcg::rand_core::{RngCore, SeedableRng};

use super::{Piece, Run};
use crate::heat::HeatError;
use crate::safety::Limit;

/// How far each input may be off, either way, all together. Defaults come from `data/spreads.json`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spreads {
    /// Thickness, mm.
    pub thickness_mm: f64,
    /// Bath, K.
    pub bath_k: f64,
    /// Start, K.
    pub start_k: f64,
    /// Coefficient of heat transfer, as a share.
    pub coefficient: f64,
    /// Conductivity, downward only, as a share: the mixing rule used is an upper bound.
    pub conductivity_down: f64,
    /// D-values, in decades.
    pub kinetics_log10: f64,
}

static DEFAULTS: LazyLock<BTreeMap<String, Limit>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/spreads.json")).expect("shipped and tested")
});

impl Default for Spreads {
    fn default() -> Self {
        let value = |name: &str| DEFAULTS[name].value;
        Self {
            thickness_mm: value("thickness_mm"),
            bath_k: value("bath_k"),
            start_k: value("start_k"),
            coefficient: value("coefficient"),
            conductivity_down: value("conductivity_down"),
            kinetics_log10: value("kinetics_log10"),
        }
    }
}

/// Where in its spread each input stands, from −1 (slow to warm and to kill) to 1 (fast).
type Place = [f64; 6];

fn placed<'a>(piece: &Piece<'a>, spreads: &Spreads, at: Place) -> Piece<'a> {
    let [thickness, bath, start, coefficient, conductivity, kinetics] = at;
    let mut moved = piece.spread(-thickness * spreads.thickness_mm, bath * spreads.bath_k);
    moved.start_c += start * spreads.start_k;
    moved.coefficient *= 1.0 + coefficient * spreads.coefficient;
    // From the perpendicular rule (−1) to the parallel one (1).
    let share = spreads.conductivity_down * (1.0 - conductivity) / 2.0;
    if share > 0.0 {
        moved.material = Arc::new(piece.material.with_conductivity_factor(1.0 - share));
    }
    moved.d_factor *= 10.0_f64.powf(-kinetics * spreads.kinetics_log10);
    moved
}

/// The slow end (for safety) and the fast end (for texture) of all spreads together. Gates stay where
/// they are; see [`Piece::spread`].
#[must_use]
pub fn bounds<'a>(piece: &Piece<'a>, spreads: &Spreads) -> (Piece<'a>, Piece<'a>) {
    (placed(piece, spreads, [-1.0; 6]), placed(piece, spreads, [1.0; 6]))
}

/// The 5, 50 and 95 % quantiles of a time, minutes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Quantiles {
    /// One run in twenty is earlier.
    pub p5: f64,
    /// Half are earlier.
    pub p50: f64,
    /// One in twenty is later.
    pub p95: f64,
}

/// The centre at one minute: 5, 50 and 95 % quantiles, °C.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Band {
    /// Minute.
    pub min: f64,
    /// One run in twenty is colder.
    pub p5_c: f64,
    /// The middle.
    pub p50_c: f64,
    /// One in twenty is hotter.
    pub p95_c: f64,
}

/// What a Monte Carlo found.
#[derive(Debug, Clone, PartialEq)]
pub struct Outcome {
    /// Runs made.
    pub runs: usize,
    /// Heated through; a run that never was counts as for ever.
    pub through: Quantiles,
    /// Pasteurised; likewise.
    pub pasteurised: Quantiles,
    /// Share of the runs that were pasteurised within the time.
    pub pasteurised_share: f64,
    /// The centre's band over time.
    pub centre: Vec<Band>,
}

/// Instants of the centre's band.
const BAND_POINTS: usize = 60;

/// Simulates `runs` pieces, each input drawn evenly from its spread and independently, to `until_min`.
///
/// Each run has a generator of its own, seeded from `seed` and its number, so that the outcome does not
/// depend on `threads`.
///
/// # Errors
/// When a simulation fails.
pub fn monte_carlo(
    piece: &Piece<'_>,
    spreads: &Spreads,
    until_min: f64,
    (runs, seed, threads): (usize, u64, usize),
) -> Result<Outcome, HeatError> {
    struct Sample {
        through: f64,
        pasteurised: f64,
        centre: [f64; BAND_POINTS],
    }
    let instant = |i: usize| until_min * (i + 1) as f64 / BAND_POINTS as f64;
    let sample = |number: usize| -> Result<Sample, HeatError> {
        let mut random = Pcg64Mcg::seed_from_u64(seed ^ (number as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15));
        let mut even = || (random.next_u64() >> 11) as f64 / (1_u64 << 53) as f64 * 2.0 - 1.0;
        let at: Place = std::array::from_fn(|_| even());
        let moved = placed(piece, spreads, at);
        let run: Run<'_> = moved.run_until(until_min, &[])?;
        Ok(Sample {
            through: run.heated_through_min().unwrap_or(f64::INFINITY),
            pasteurised: run.pasteurised_from_min().unwrap_or(f64::INFINITY),
            centre: std::array::from_fn(|i| run.core_c(instant(i))),
        })
    };
    let threads = threads.clamp(1, runs.max(1));
    let samples: Vec<Sample> = std::thread::scope(|scope| {
        let sample = &sample;
        let workers: Vec<_> = (0..threads)
            .map(|w| {
                scope.spawn(move || (w..runs).step_by(threads).map(sample).collect::<Result<Vec<_>, _>>())
            })
            .collect();
        let mut all = Vec::with_capacity(runs);
        for worker in workers {
            all.extend(worker.join().expect("a simulation does not panic")?);
        }
        Ok::<_, HeatError>(all)
    })?;
    let quantiles = |value: &dyn Fn(&Sample) -> f64| {
        let mut sorted: Vec<f64> = samples.iter().map(value).collect();
        sorted.sort_by(f64::total_cmp);
        let at = |q: f64| sorted[((sorted.len() - 1) as f64 * q).round() as usize];
        Quantiles { p5: at(0.05), p50: at(0.5), p95: at(0.95) }
    };
    let centre = (0..BAND_POINTS).map(|i| {
        let q = quantiles(&|s| s.centre[i]);
        Band { min: instant(i), p5_c: q.p5, p50_c: q.p50, p95_c: q.p95 }
    });
    let done = samples.iter().filter(|s| s.pasteurised.is_finite()).count();
    Ok(Outcome {
        runs,
        through: quantiles(&|s| s.through),
        pasteurised: quantiles(&|s| s.pasteurised),
        pasteurised_share: done as f64 / runs.max(1) as f64,
        centre: centre.collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::tests::piece;

    #[test]
    fn every_draw_lies_between_the_bounds() {
        let p = piece("beef-strip", 30.0, 56.0);
        let spreads = Spreads::default();
        let (slow, fast) = bounds(&p, &spreads);
        let time = |p: &Piece<'_>| p.run(&[]).expect("simulates").pasteurised_from_min().expect("reached");
        let o = monte_carlo(&p, &spreads, 480.0, (200, 7, 2)).expect("simulates");
        assert_eq!(o.pasteurised_share, 1.0);
        assert!(time(&fast) < o.pasteurised.p5 && o.pasteurised.p95 < time(&slow), "{o:?}");
        let middle = time(&p);
        assert!(o.pasteurised.p5 < middle && middle < o.pasteurised.p95);
        assert!(o.centre.iter().all(|b| b.p5_c <= b.p50_c && b.p50_c <= b.p95_c));
    }

    #[test]
    fn the_same_seed_gives_the_same_outcome_on_any_number_of_threads() {
        let p = piece("chicken-breast", 25.0, 60.0);
        let run = |seed, threads| {
            monte_carlo(&p, &Spreads::default(), 240.0, (60, seed, threads)).expect("simulates")
        };
        let (one, three, other) = (run(1, 1), run(1, 3), run(2, 1));
        assert_eq!(one.pasteurised, three.pasteurised);
        assert_eq!(one.centre, three.centre);
        assert_ne!(one.pasteurised, other.pasteurised);
    }

    #[test]
    fn wider_spreads_never_make_the_safe_time_earlier() {
        let p = piece("beef-strip", 30.0, 56.0);
        let safe = |s: &Spreads| {
            bounds(&p, s).0.run(&[]).expect("simulates").pasteurised_from_min().expect("reached")
        };
        let base = Spreads::default();
        for wider in [
            Spreads { thickness_mm: 4.0, ..base },
            Spreads { bath_k: 0.5, ..base },
            Spreads { start_k: 5.0, ..base },
            Spreads { coefficient: 0.4, ..base },
            Spreads { conductivity_down: 0.2, ..base },
            Spreads { kinetics_log10: 0.2, ..base },
        ] {
            assert!(safe(&wider) > safe(&base), "{wider:?}");
        }
    }
}
