//! How sure a time is: a slow and a fast end of all that is uncertain in a kitchen, and on request a seeded
//! Monte Carlo that the slow end is held against (`tests/slow_end.rs`, for every food).

use std::sync::Arc;

use rand_pcg::Pcg64Mcg;
use rand_pcg::rand_core::{RngCore, SeedableRng};

use super::{Piece, Run};
use crate::bath::circulated;
use crate::figures::spreads;
use crate::heat::{Detail, Effort, HeatError, Shape};
use crate::units::{Celsius, Kelvin, Length, Minutes};

/// How far each input may be off. Thickness and bath are off either way; the others have two ends of their
/// own, the slow one first. The figures are in `data/spreads.json`, `starts.json` and `surfaces.json`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spreads {
    /// Thickness, mm.
    pub thickness_mm: Length,
    /// Bath, K.
    pub bath_k: Kelvin,
    /// Start, °C: coldest and warmest.
    pub start_c: (Celsius, Celsius),
    /// Coefficient of heat transfer, W/m²K: least and most.
    pub coefficient: (f64, f64),
    /// Conductivity, downward only, as a share: the mixing rule used is an upper bound.
    pub conductivity_down: f64,
}

/// A piece from the refrigerator in a circulated bath.
impl Default for Spreads {
    fn default() -> Self {
        let figures = spreads();
        let start = crate::food::From::Refrigerator.start();
        Self {
            thickness_mm: figures.thickness_mm.length(),
            bath_k: figures.bath_k.kelvin(),
            start_c: (start.slow_c, start.fast_c),
            coefficient: circulated().ends_w_m2k(),
            conductivity_down: figures.conductivity_down.value,
        }
    }
}

/// Where in its spread each input stands, from −1 (slow to warm and to kill) over 0 (as stated) to 1 (fast).
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Place {
    /// Thickness.
    pub thickness: f64,
    /// Bath.
    pub bath: f64,
    /// Start.
    pub start: f64,
    /// Coefficient of heat transfer.
    pub coefficient: f64,
    /// Conductivity: as stated from 0 on.
    pub conductivity: f64,
}

impl Place {
    /// The symmetric ones some of the way to their slow (−) or fast end, the one-sided ones all of it.
    fn toward(end: f64, shares: Shares) -> Self {
        Self {
            thickness: end * shares.thickness,
            bath: end * shares.bath,
            start: end * shares.start,
            coefficient: end,
            conductivity: end,
        }
    }
}

/// How far each symmetric input goes toward its end, from 0 to 1.
#[derive(Debug, Clone, Copy)]
struct Shares {
    thickness: f64,
    bath: f64,
    start: f64,
}

/// From the middle toward the end the sign names.
fn between(middle: f64, (slow, fast): (f64, f64), at: f64) -> f64 {
    if at < 0.0 { middle + at * (middle - slow) } else { middle + at * (fast - middle) }
}

impl Spreads {
    /// The piece with its inputs moved.
    #[must_use]
    pub(crate) fn placed<'a>(&self, piece: &Piece<'a>, at: Place) -> Piece<'a> {
        let mut moved = piece.spread(self.thickness_mm * -at.thickness, self.bath_k * at.bath);
        let (cold, warm) = self.start_c;
        moved.start_c = Celsius::new(between(piece.start_c.value(), (cold.value(), warm.value()), at.start));
        moved.coefficient = between(piece.coefficient, self.coefficient, at.coefficient);
        if at.conductivity < 0.0 && self.conductivity_down > 0.0 {
            let factor = 1.0 + at.conductivity * self.conductivity_down;
            moved.material = Arc::new(piece.material.with_conductivity_factor(factor));
        }
        moved
    }
}

/// The slow end (for safety) and the fast end (for texture) of all spreads together.
///
/// What is off either way (thickness, bath, start) is unlikely to be all off the same way: their effects on a
/// time combine by the root of the sum of their squares. So each goes toward its end by its effect's share of
/// that root, which is where that sum is reached in one run. What is off one way only (conductivity, surface)
/// is added to that in full. There are two times that matter, heated through and pasteurised: the larger share
/// of each input counts.
///
/// Gates stay where they are; see [`Piece::spread`].
///
/// Source: `data/spreads.json`: common practice.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let (slow, fast) = slow_and_fast(&piece, &Spreads::default())?;
/// assert!(slow.run(&[])?.done_min() > fast.run(&[])?.done_min());
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn slow_and_fast<'a>(piece: &Piece<'a>, spreads: &Spreads) -> Result<(Piece<'a>, Piece<'a>), HeatError> {
    let shares = shares(piece, spreads)?;
    Ok((
        spreads.placed(piece, Place::toward(-1.0, shares)),
        spreads.placed(piece, Place::toward(1.0, shares)),
    ))
}

/// All inputs at their slow ends at once: slower than any [`slow_and_fast`] finds, whatever bath or thickness
/// the piece is given. What it allows, they allow.
///
/// Source: `data/spreads.json`: common practice.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let all = slowest(&piece, &Spreads::default());
/// let (slow, _) = slow_and_fast(&piece, &Spreads::default())?;
/// assert!(all.run(&[])?.done_min() >= slow.run(&[])?.done_min());
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[must_use]
pub fn slowest<'a>(piece: &Piece<'a>, spreads: &Spreads) -> Piece<'a> {
    spreads.placed(piece, Place::toward(-1.0, ALL))
}

/// All inputs at their fast ends at once: faster than any [`slow_and_fast`] finds.
///
/// Source: `data/spreads.json`: common practice.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let all = fastest(&piece, &Spreads::default());
/// let (_, fast) = slow_and_fast(&piece, &Spreads::default())?;
/// assert!(all.run(&[])?.done_min() <= fast.run(&[])?.done_min());
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[must_use]
pub fn fastest<'a>(piece: &Piece<'a>, spreads: &Spreads) -> Piece<'a> {
    spreads.placed(piece, Place::toward(1.0, ALL))
}

const ALL: Shares = Shares { thickness: 1.0, bath: 1.0, start: 1.0 };

/// How far the symmetric inputs go: each effect over the root of the sum of the squares of the three.
fn shares(piece: &Piece<'_>, spreads: &Spreads) -> Result<Shares, HeatError> {
    let light = surrogate(piece);
    // All slow one-sided, but for what a place says otherwise.
    let times = |at: Place| -> Result<[Option<f64>; 2], HeatError> {
        let moved = spreads.placed(&light, Place { coefficient: -1.0, conductivity: -1.0, ..at });
        let run = moved.run(&[])?;
        Ok([run.done_min().map(Minutes::value), run.kinetics_min().map(Minutes::value)])
    };
    // Four runs that do not depend on each other, two beside two.
    let pair = |a: Place, b: Place| -> Result<_, HeatError> { Ok((times(a)?, times(b)?)) };
    let (one, two) = Effort::beside(
        || pair(Place::default(), Place { thickness: -1.0, ..Place::default() }),
        || pair(Place { bath: -1.0, ..Place::default() }, Place { start: -1.0, ..Place::default() }),
    );
    let ((none, thickness), (bath, start)) = (one?, two?);
    let each = [thickness, bath, start];
    let mut most = [0.0_f64; 3];
    for which in 0..none.len() {
        let effects = each.iter().map(|t| Some((t[which]? - none[which]?).max(0.0)));
        let Some(effects) = effects.collect::<Option<Vec<f64>>>() else {
            // A time that is reached at one end only cannot be compared: all of each is taken then.
            if none[which].is_some() {
                return Ok(ALL);
            }
            continue;
        };
        let root = effects.iter().map(|e| e * e).sum::<f64>().sqrt();
        for (share, effect) in most.iter_mut().zip(effects) {
            *share = share.max(if root > 0.0 { effect / root } else { 1.0 });
        }
    }
    let [thickness, bath, start] = most;
    if none.iter().all(Option::is_none) { Ok(ALL) } else { Ok(Shares { thickness, bath, start }) }
}

/// A slab that warms about as long, on a coarse mesh: enough to weigh effects against each other.
fn surrogate<'a>(piece: &Piece<'a>) -> Piece<'a> {
    let shape = match piece.shape {
        Shape::Block { thickness, width, length } => {
            let inverse: f64 = [thickness, width, length].map(|l| l.mm().powi(-2)).iter().sum();
            Shape::Slab(Length::from_mm(inverse.powf(-0.5)))
        }
        other => other,
    };
    Piece { shape, detail: Detail::Sketch, ..piece.clone() }
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
pub struct Percentiles {
    /// Minute.
    pub min: Minutes,
    /// One run in twenty is colder.
    pub p5_c: Celsius,
    /// The middle.
    pub p50_c: Celsius,
    /// One in twenty is hotter.
    pub p95_c: Celsius,
}

/// What a Monte Carlo found.
#[derive(Debug, Clone, PartialEq)]
pub struct Outcome {
    /// Runs made.
    pub runs: usize,
    /// Heated through (as near the bath as the food is pulled at); a run that never was counts as for ever.
    pub through: Quantiles,
    /// Pasteurised; likewise.
    pub pasteurised: Quantiles,
    /// Share of the runs that were pasteurised within the time.
    pub pasteurised_share: f64,
    /// The centre's band over time.
    pub centre: Vec<Percentiles>,
}

/// Instants of the centre's band.
const BAND_POINTS: usize = 60;

/// Simulates `runs` pieces, each input drawn evenly from its spread and independently, to `until_min`.
///
/// Each run has a generator of its own, seeded from `seed` and its number, so that the outcome does not
/// depend on `threads`.
///
/// Source: `data/spreads.json`: common practice.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// let drawn = monte_carlo(&piece, &Spreads::default(), Minutes::from_hours(4.0), (20, 7, 2))?;
/// assert!(drawn.through.p5 < drawn.through.p95);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn monte_carlo(
    piece: &Piece<'_>,
    spreads: &Spreads,
    until_min: Minutes,
    (runs, seed, threads): (usize, u64, usize),
) -> Result<Outcome, HeatError> {
    let instant = |i: usize| until_min * (i + 1) as f64 / BAND_POINTS as f64;
    let sample = |number: usize| -> Result<Sample, HeatError> {
        let mut random = Pcg64Mcg::seed_from_u64(seed ^ (number as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15));
        let mut even = || (random.next_u64() >> 11) as f64 / (1_u64 << 53) as f64;
        let moved = drawn(piece, spreads, &mut even);
        let run: Run<'_> = moved.run_until(until_min, &[])?;
        Ok(Sample {
            through: run.done_min().unwrap_or(Minutes::NEVER).value(),
            pasteurised: run.pasteurised_from_min().unwrap_or(Minutes::NEVER).value(),
            centre: std::array::from_fn(|i| run.core_c(instant(i)).value()),
        })
    };
    let samples = side_by_side(runs, threads.clamp(1, runs.max(1)), &sample)?;
    let quantiles = |value: &dyn Fn(&Sample) -> f64| {
        let mut sorted: Vec<f64> = samples.iter().map(value).collect();
        sorted.sort_by(f64::total_cmp);
        let at = |q: f64| sorted[((sorted.len() - 1) as f64 * q).round() as usize];
        Quantiles { p5: at(0.05), p50: at(0.5), p95: at(0.95) }
    };
    let centre = (0..BAND_POINTS).map(|i| {
        let q = quantiles(&|s| s.centre[i]);
        Percentiles {
            min: instant(i),
            p5_c: Celsius::new(q.p5),
            p50_c: Celsius::new(q.p50),
            p95_c: Celsius::new(q.p95),
        }
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

/// What one drawn piece did, minutes and °C.
struct Sample {
    through: f64,
    pasteurised: f64,
    centre: [f64; BAND_POINTS],
}

/// So many of them, on so many threads.
fn side_by_side(
    runs: usize,
    threads: usize,
    sample: &(impl Fn(usize) -> Result<Sample, HeatError> + Sync),
) -> Result<Vec<Sample>, HeatError> {
    std::thread::scope(|scope| {
        let work = |w| move || (w..runs).step_by(threads).map(sample).collect::<Result<Vec<_>, _>>();
        let workers: Vec<_> = (0..threads).map(|w| scope.spawn(Effort::helping(work(w)))).collect();
        let mut all = Vec::with_capacity(runs);
        for worker in workers {
            all.extend(worker.join().expect("a simulation does not panic")?);
        }
        Ok(all)
    })
}

/// The piece with every input drawn evenly between its two ends.
fn drawn<'a>(piece: &Piece<'a>, spreads: &Spreads, even: &mut impl FnMut() -> f64) -> Piece<'a> {
    let mut either = || 2.0 * even() - 1.0;
    let (thickness, bath) = (either(), either());
    let mut within = |(slow, fast): (f64, f64)| slow + (fast - slow) * even();
    let (cold, warm) = spreads.start_c;
    let start_c = Celsius::new(within((cold.value(), warm.value())));
    let coefficient = within(spreads.coefficient);
    let conductivity = -even();
    let moved = spreads.placed(piece, Place { thickness, bath, conductivity, ..Place::default() });
    Piece { start_c, coefficient, ..moved }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::tests::piece;

    #[test]
    fn the_ends_lie_outside_nearly_every_draw_and_the_middle_between_them() {
        let p = piece("beef-strip", 30.0, 56.0);
        let spreads = Spreads::default();
        let (slow, fast) = slow_and_fast(&p, &spreads).expect("simulates");
        let time = |p: &Piece<'_>| p.run(&[]).expect("simulates").pasteurised_from_min().expect("reached");
        let o = monte_carlo(&p, &spreads, Minutes::new(480.0), (400, 7, 2)).expect("simulates");
        assert_eq!(o.pasteurised_share, 1.0);
        assert!(
            time(&fast) < Minutes::new(o.pasteurised.p5) && o.pasteurised.p95 < time(&slow).value(),
            "{o:?}"
        );
        assert!(time(&fast) < time(&p) && time(&p) < time(&slow));
        assert!(o.centre.iter().all(|b| b.p5_c <= b.p50_c && b.p50_c <= b.p95_c));
        // Less than all the ends at once.
        let corner = slowest(&p, &spreads);
        assert!(time(&slow) < time(&corner));
    }

    #[test]
    fn symmetric_effects_combine_by_the_root_of_their_squares_and_the_rest_in_full() {
        let p = piece("beef-strip", 30.0, 56.0);
        let spreads = Spreads::default();
        let time = |at: Place| {
            let moved = spreads.placed(&p, at);
            moved.run(&[]).expect("simulates").pasteurised_from_min().expect("reached")
        };
        let middle = time(Place::default());
        let alone = |at: Place| time(at) - middle;
        let none = Place::default();
        let symmetric = [
            alone(Place { thickness: -1.0, ..none }),
            alone(Place { bath: -1.0, ..none }),
            alone(Place { start: -1.0, ..none }),
        ];
        let root = Minutes::new(symmetric.iter().map(|e| e.value().powi(2)).sum::<f64>().sqrt());
        let one_sided =
            alone(Place { coefficient: -1.0, ..none }) + alone(Place { conductivity: -1.0, ..none });
        let slow = slow_and_fast(&p, &spreads).expect("simulates").0;
        let got = slow.run(&[]).expect("simulates").pasteurised_from_min().expect("reached") - middle;
        // At least that; a little more, because effects grow when they meet and another time matters too.
        assert!(got > root + one_sided && got < (root + one_sided) * 1.2, "{got:?} {root:?} {one_sided:?}");
    }

    #[test]
    fn the_same_seed_gives_the_same_outcome_on_any_number_of_threads() {
        let p = piece("chicken-breast", 25.0, 60.0);
        let run = |seed, threads| {
            monte_carlo(&p, &Spreads::default(), Minutes::new(240.0), (60, seed, threads)).expect("simulates")
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
            let slow = slow_and_fast(&p, s).expect("simulates").0;
            slow.run(&[]).expect("simulates").pasteurised_from_min().expect("reached")
        };
        let base = Spreads::default();
        for wider in [
            Spreads { thickness_mm: Length::from_mm(4.0), ..base },
            Spreads { bath_k: Kelvin::new(0.5), ..base },
            Spreads { start_c: (Celsius::new(-1.0), Celsius::new(7.0)), ..base },
            Spreads { coefficient: (50.0, 95.0), ..base },
            Spreads { conductivity_down: 0.2, ..base },
        ] {
            assert!(safe(&wider) > safe(&base), "{wider:?}");
        }
    }
}
