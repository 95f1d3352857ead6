//! What a vessel's own record says of it: the heater's power from a warm-up, the loss from a cool-down, by least
//! squares over the equation of [`Pool`]. A record shows only power and loss over heat capacity; that comes from litres
//! and vessel.

use serde::{Deserialize, Serialize};

use super::{BathPoint, BathTrace, Pool};
use crate::figures::bench;

/// What was learned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Learned {
    /// What it loses besides evaporation, W/K; absent where it was not learned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loss_w_k: Option<f64>,
    /// Heater, W; absent where it was not learned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heater_w: Option<f64>,
    /// How far the readings lie from what was fitted (root mean square), K.
    pub residual_k: f64,
    /// The temperatures it was learned at, °C.
    pub from_c: f64,
    /// See `from_c`.
    pub to_c: f64,
}

/// Why nothing can be learned of a record.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum LearnError {
    /// Too few readings.
    #[error("two readings or more are needed, five minutes apart at least")]
    TooFew,
    /// A cool-down that does not fall, a warm-up that does not rise.
    #[error("the readings do not {0} by half a degree or more: nothing can be learned of them")]
    Flat(&'static str),
    /// The best fit lies at an end of what is possible.
    #[error("no {0} a vessel can have fits the readings: look at the litres, the cover and the room")]
    Impossible(&'static str),
}

/// Least rise or fall that something is learned from, K, and least time, minutes.
const LEAST_K: f64 = 0.5;
const LEAST_MIN: f64 = 5.0;
/// The losses and heaters looked among: W/K, W.
const MOST_LOSS_W_K: f64 = 60.0;
const MOST_HEATER_W: f64 = 15_000.0;

/// Fits a vessel's loss to a cool-down with the heater off.
///
/// # Errors
/// As [`LearnError`] says.
///
/// ```
/// use hold_steady_core::bath::{Air, BathPoint, Cover, Pool, learn_loss};
/// let air = Air { room_c: 20.0, humidity: 0.5, altitude_m: 0.0 };
/// let pool = Pool { litres: 20.0, vessel_kj_k: 0.0, surface_m2: 0.0, cover: Cover::Lid, loss_w_k: 2.0, heater_w: 0.0, air };
/// // 58 → 57 °C in an hour: 83.6 kJ/K × ln(38/37) / 3,600 s = 0.62 W/K.
/// let learned = learn_loss(&pool, &[BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 60.0, c: 57.0 }])?;
/// assert!((learned.loss_w_k.expect("learned") - 0.62).abs() < 0.01);
/// # Ok::<(), hold_steady_core::bath::LearnError>(())
/// ```
pub fn learn_loss(pool: &Pool, readings: &[BathPoint]) -> Result<Learned, LearnError> {
    let readings = usable(readings)?;
    let (first, last) = (readings[0].c, readings[readings.len() - 1].c);
    if first - last < LEAST_K {
        return Err(LearnError::Flat("fall"));
    }
    let off = |loss_w_k: f64| fit(&Pool { loss_w_k, heater_w: 0.0, ..*pool }, &readings, None);
    let loss = least(&|x| off(x), MOST_LOSS_W_K);
    if !(1e-3..=MOST_LOSS_W_K * 0.99).contains(&loss) {
        return Err(LearnError::Impossible("loss"));
    }
    Ok(Learned { loss_w_k: Some(loss), heater_w: None, residual_k: off(loss), from_c: last, to_c: first })
}

/// Fits the heater's power to a warm-up at full power, with the pool's loss as it is.
///
/// # Errors
/// As [`LearnError`] says.
///
/// ```
/// use hold_steady_core::bath::{Air, BathPoint, Cover, Pool, learn_heater};
/// let air = Air { room_c: 20.0, humidity: 0.5, altitude_m: 0.0 };
/// let pool = Pool { litres: 10.0, vessel_kj_k: 0.0, surface_m2: 0.0, cover: Cover::Lid, loss_w_k: 0.0, heater_w: 0.0, air };
/// // 41.8 kJ/K × 10 K in 418 s is a kilowatt.
/// let learned = learn_heater(&pool, &[BathPoint { min: 0.0, c: 40.0 }, BathPoint { min: 418.0 / 60.0, c: 50.0 }])?;
/// assert!((learned.heater_w.expect("learned") - 1000.0).abs() < 2.0);
/// # Ok::<(), hold_steady_core::bath::LearnError>(())
/// ```
pub fn learn_heater(pool: &Pool, readings: &[BathPoint]) -> Result<Learned, LearnError> {
    let readings = usable(readings)?;
    let (first, last) = (readings[0].c, readings[readings.len() - 1].c);
    if last - first < LEAST_K {
        return Err(LearnError::Flat("rise"));
    }
    let on = |heater_w: f64| fit(&Pool { heater_w, ..*pool }, &readings, Some(f64::INFINITY));
    let heater = least(&|x| on(x), MOST_HEATER_W);
    if !(1.0..=MOST_HEATER_W * 0.99).contains(&heater) {
        return Err(LearnError::Impossible("heater"));
    }
    Ok(Learned { loss_w_k: None, heater_w: Some(heater), residual_k: on(heater), from_c: first, to_c: last })
}

impl Learned {
    /// This, and what another record said: the later counts.
    ///
    /// ```
    /// use hold_steady_core::bath::Learned;
    /// let loss = Learned { loss_w_k: Some(1.2), heater_w: None, residual_k: 0.1, from_c: 50.0, to_c: 58.0 };
    /// let heater = Learned { loss_w_k: None, heater_w: Some(990.0), residual_k: 0.05, from_c: 20.0, to_c: 55.0 };
    /// let both = loss.and(heater);
    /// assert_eq!((both.loss_w_k, both.heater_w, both.residual_k), (Some(1.2), Some(990.0), 0.1));
    /// ```
    #[must_use]
    pub fn and(self, later: Self) -> Self {
        Self {
            loss_w_k: later.loss_w_k.or(self.loss_w_k),
            heater_w: later.heater_w.or(self.heater_w),
            residual_k: later.residual_k.max(self.residual_k),
            from_c: later.from_c.min(self.from_c),
            to_c: later.to_c.max(self.to_c),
        }
    }

    /// Whether a temperature is near enough to those it was learned at.
    ///
    /// ```
    /// use hold_steady_core::bath::Learned;
    /// let loss = Learned { loss_w_k: Some(1.2), heater_w: None, residual_k: 0.1, from_c: 50.0, to_c: 58.0 };
    /// assert!(loss.reaches(65.0) && !loss.reaches(85.0));
    /// ```
    #[must_use]
    pub fn reaches(&self, c: f64) -> bool {
        let far = bench().extrapolate_k.value;
        (self.from_c - far..=self.to_c + far).contains(&c)
    }
}

/// In order, from minute 0 on.
fn usable(readings: &[BathPoint]) -> Result<Vec<BathPoint>, LearnError> {
    let first = readings.first().ok_or(LearnError::TooFew)?.min;
    let moved: Vec<BathPoint> = readings.iter().map(|p| BathPoint { min: p.min - first, c: p.c }).collect();
    let trace = BathTrace::new(moved).map_err(|_| LearnError::TooFew)?;
    let points = trace.points().to_vec();
    if points.len() < 2 || points[points.len() - 1].min < LEAST_MIN {
        return Err(LearnError::TooFew);
    }
    Ok(points)
}

/// How far (root mean square, K) the readings lie from the water of a pool that begins where it fits them best.
fn fit(pool: &Pool, readings: &[BathPoint], set_c: Option<f64>) -> f64 {
    let until = readings[readings.len() - 1].min;
    let off = |start: f64| -> Vec<f64> {
        let run = pool.run(start, set_c, &[], until);
        let trace = BathTrace::new(run).expect("minutes rise");
        readings.iter().map(|r| r.c - trace.at(r.min * 60.0)).collect()
    };
    let mean = |list: &[f64]| list.iter().sum::<f64>() / list.len() as f64;
    let first = readings[0].c;
    // The start is a reading too, with its own error: moved until the others do not all lie on one side.
    let mut start = first;
    for _ in 0..2 {
        start += mean(&off(start));
    }
    let left = off(start);
    (left.iter().map(|k| k * k).sum::<f64>() / left.len() as f64).sqrt()
}

/// The place of the least value of a function with one valley, between 0 and `most`: golden section.
fn least(f: &dyn Fn(f64) -> f64, most: f64) -> f64 {
    let golden = (5.0_f64.sqrt() - 1.0) / 2.0;
    let (mut low, mut high) = (0.0, most);
    let (mut a, mut b) = (high - golden * (high - low), low + golden * (high - low));
    let (mut at_a, mut at_b) = (f(a), f(b));
    for _ in 0..40 {
        if at_a < at_b {
            (high, b, at_b) = (b, a, at_a);
            a = high - golden * (high - low);
            at_a = f(a);
        } else {
            (low, a, at_a) = (a, b, at_b);
            b = low + golden * (high - low);
            at_b = f(b);
        }
    }
    f64::midpoint(low, high)
}

#[cfg(test)]
mod tests {
    use super::super::{Air, Cover};
    use super::*;
    use rand_pcg::Pcg64Mcg;
    use rand_pcg::rand_core::{RngCore, SeedableRng};

    fn pool() -> Pool {
        let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
        Pool {
            litres: 18.0,
            vessel_kj_k: 1.0,
            surface_m2: 0.09,
            cover: Cover::Lid,
            loss_w_k: 1.3,
            heater_w: 1200.0,
            air,
        }
    }

    /// A thermometer of 0.1 °C with errors of ± 0.1 °C.
    fn noisy(points: &[BathPoint], every_min: f64, until_min: f64, seed: u64) -> Vec<BathPoint> {
        let trace = BathTrace::new(points.to_vec()).expect("rises");
        let mut rng = Pcg64Mcg::seed_from_u64(seed);
        let n = (until_min / every_min) as u32;
        (0..=n)
            .map(|i| {
                let min = f64::from(i) * every_min;
                let error = (f64::from(rng.next_u32()) / f64::from(u32::MAX) - 0.5) * 0.2;
                BathPoint { min, c: ((trace.at(min * 60.0) + error) * 10.0).round() / 10.0 }
            })
            .collect()
    }

    #[test]
    fn loss_and_heater_are_recovered_from_noisy_records() {
        let truth = pool();
        let cool = Pool { heater_w: 0.0, ..truth }.run(60.0, None, &[], 300.0);
        let warm = truth.run(35.0, Some(90.0), &[], 20.0);
        for seed in 1..6 {
            let loss = learn_loss(&truth, &noisy(&cool, 15.0, 300.0, seed)).expect("falls");
            let found = loss.loss_w_k.expect("learned");
            assert!((found / 1.3 - 1.0).abs() < 0.12 && loss.residual_k < 0.1, "{loss:?}");
            let with = Pool { loss_w_k: found, ..truth };
            let heater = learn_heater(&with, &noisy(&warm, 1.0, 20.0, seed)).expect("rises");
            assert!((heater.heater_w.expect("learned") / 1200.0 - 1.0).abs() < 0.02, "{heater:?}");
        }
    }

    #[test]
    fn what_shows_nothing_teaches_nothing() {
        let p = |min, c| BathPoint { min, c };
        assert_eq!(learn_loss(&pool(), &[p(0.0, 58.0)]), Err(LearnError::TooFew));
        assert_eq!(learn_loss(&pool(), &[p(0.0, 58.0), p(30.0, 58.0)]), Err(LearnError::Flat("fall")));
        assert_eq!(learn_heater(&pool(), &[p(0.0, 58.0), p(30.0, 50.0)]), Err(LearnError::Flat("rise")));
        // Evaporation alone would cool it faster: no loss fits.
        let bare = Pool { cover: Cover::None, surface_m2: 0.5, ..pool() };
        assert_eq!(learn_loss(&bare, &[p(0.0, 58.0), p(120.0, 57.4)]), Err(LearnError::Impossible("loss")));
    }
}
