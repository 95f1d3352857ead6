//! What a vessel's own record says of it: the heater's power from a warm-up, the loss from a cool-down, by least
//! squares over the equation of [`Pool`]. A record shows only power and loss over heat capacity; that comes from litres
//! and vessel, as well as those are known. What the readings do not say is refused with the reason.

mod fit;
mod stretch;

use serde::{Deserialize, Serialize};

use super::{BathPoint, BathTrace, Pool};
use crate::figures::bench;
use crate::units::{Kelvin, Minutes};
use fit::{Fitted, Prior, Row, Summed, fitted, summed};

/// What was learned.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Learned {
    /// What it loses besides evaporation, W/K; absent where it was not learned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loss_w_k: Option<f64>,
    /// How far that may be off to either side, as a share; absent where it was learned before this was worked out, and where
    /// only the whole is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loss_spread: Option<f64>,
    /// How many times as fast as into still air its water evaporates, learned beside the loss.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vapour: Option<f64>,
    /// How far the two together may be off to either side, where the readings do not tell them apart.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub whole_spread: Option<f64>,
    /// What they are together in the middle of the readings, W.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub whole_w: Option<f64>,
    /// Heater, W; absent where it was not learned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heater_w: Option<f64>,
    /// How far that may be off to either side, as a share.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heater_spread: Option<f64>,
    /// How far the readings lie from what was fitted (root mean square), K.
    pub residual_k: f64,
    /// The temperatures it was learned at, °C.
    pub from_c: f64,
    /// See `from_c`.
    pub to_c: f64,
}

/// What is looked for in a record.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Sought {
    /// What it loses besides evaporation, from a cool-down.
    Loss,
    /// What its heater gives, from a warm-up.
    Heater,
}

/// Why nothing can be learned of a record; [`crate::words::not_learned`] says what to do.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum LearnError {
    /// Too few readings, or all of them within minutes.
    #[error("two readings or more are needed, five minutes apart at least")]
    TooFew,
    /// A cool-down that does not fall, a warm-up that does not rise.
    #[error("the readings do not change by enough: {0:?}")]
    Flat(Sought),
    /// The best fit lies at an end of what is possible.
    #[error("no {0:?} a vessel can have fits the readings")]
    Impossible(Sought),
    /// Something else happened in it: a heater late or throttled, food, water added, a lid.
    #[error("the readings do not lie on one {0:?}")]
    Unsteady(Sought),
    /// They lie so far from what fits them best.
    #[error("the readings lie {1:?} from what fits them best: {0:?}")]
    Scattered(Sought, Kelvin),
    /// They say it within this share to either side only.
    #[error("the readings say the {0:?} within a share of {1} only")]
    Unsure(Sought, f64),
}

/// Least fall that something is learned from, K, and least time, minutes.
const LEAST_K: f64 = 0.5;
pub(crate) const LEAST_APART: Minutes = Minutes::new(5.0);
/// The least and the most a vessel can lose, W/K, and the most a heater can give, W.
const LEAST_LOSS_W_K: f64 = 0.05;
const MOST_LOSS_W_K: f64 = 60.0;
const MOST_HEATER_W: f64 = 15_000.0;
/// What is said of a fit is said within two of its standard deviations.
const SURE: f64 = 2.0;

/// Fits a vessel's loss to a cool-down with the heater off, and how fast it evaporates beside it; where the readings do not
/// tell the two apart, what they are together.
///
/// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
///
/// # Errors
/// As [`LearnError`] says.
///
/// ```
/// use hold_steady_core::bath::{Air, BathPoint, Cover, Pool, learn_loss};
/// let air = Air { room_c: 20.0, humidity: 0.5, altitude_m: 0.0 };
/// let pool = Pool {
///     litres: 20.0, vessel_kj_k: 0.0, surface_m2: 0.0, cover: Cover::Lid, loss_w_k: 2.0, heater_w: 0.0, vapour: 1.0, air,
/// };
/// // 58 → 55 °C in three hours: 83.6 kJ/K × ln(38/35) / 10,800 s = 0.64 W/K.
/// let learned = learn_loss(&pool, &[BathPoint { min: 0.0, c: 58.0 }, BathPoint { min: 180.0, c: 55.0 }])?;
/// assert!((learned.loss_w_k.expect("learned") - 0.64).abs() < 0.01);
/// assert!((0.03..=0.10).contains(&learned.loss_spread.expect("said")));
/// # Ok::<(), hold_steady_core::bath::LearnError>(())
/// ```
pub fn learn_loss(pool: &Pool, readings: &[BathPoint]) -> Result<Learned, LearnError> {
    let readings = usable(readings)?;
    let readings = falling(&readings);
    let (first, last) = (readings[0].c, readings[readings.len() - 1].c);
    if first - last < LEAST_K {
        return Err(LearnError::Flat(Sought::Loss));
    }
    let all = summed(pool, readings);
    let vapour = vapour();
    let rows: Vec<Row<3>> = all.iter().map(|x| ([1.0, -x.loss, -x.vapour], x.c)).collect();
    let fit = fitted(&rows, [Prior::NONE, Prior::NONE, vapour]).ok_or(LearnError::TooFew)?;
    scattered(Sought::Loss, fit.residual_k)?;
    // A loss that changes on the way is no loss: water added, a lid lifted, a heater that still gave something.
    let rows: Vec<Row<4>> = all.iter().map(|x| ([1.0, -x.loss, -x.vapour, -x.later_loss], x.c)).collect();
    let changes = fitted(&rows, [Prior::NONE, Prior::NONE, vapour, Prior::NONE]);
    // Against all that it loses, for the walls alone may be the smaller part.
    let middle_c = f64::midpoint(first, last);
    let whole_w_k = fit.value[1] + fit.value[2] * pool.still_w(middle_c) / (middle_c - pool.air.room_c);
    if changes.is_some_and(|f| unsteady(f.value[3], f.sd[3], 1.5 * SURE, whole_w_k)) {
        return Err(LearnError::Unsteady(Sought::Loss));
    }
    let learned = Learned { residual_k: fit.residual_k, from_c: last, to_c: first, ..Learned::default() };
    if let Ok(spread) = spread(Sought::Loss, fit.sd[1] / fit.value[1])
        && (LEAST_LOSS_W_K..=MOST_LOSS_W_K).contains(&fit.value[1])
    {
        let (loss_w_k, loss_spread) = (Some(fit.value[1]), Some(spread));
        return Ok(Learned { loss_w_k, loss_spread, vapour: Some(fit.value[2]), ..learned });
    }
    together(pool, &all, (last, first), learned)
}

/// What leaves through the walls and what evaporates, which the readings do not tell apart: the two together, in the middle of
/// the readings. Under a lid it is the rule: a cooler loses about as much by the one as by the other.
fn together(
    pool: &Pool,
    all: &[Summed],
    (from_c, to_c): (f64, f64),
    learned: Learned,
) -> Result<Learned, LearnError> {
    const LEAST_VAPOUR: f64 = 0.1;
    const MOST_VAPOUR: f64 = 5.0;
    let middle_c = f64::midpoint(from_c, to_c);
    let (warmer_k, still_w) = (middle_c - pool.air.room_c, pool.still_w(middle_c));
    // The whole, W, and the vapour beside it: what is left of the whole goes through the walls.
    let row = |x: &Summed| ([1.0, -x.loss / warmer_k, x.loss * still_w / warmer_k - x.vapour], x.c);
    let rows: Vec<Row<3>> = all.iter().map(row).collect();
    let fit = fitted(&rows, [Prior::NONE, Prior::NONE, vapour()]).ok_or(LearnError::TooFew)?;
    let (whole_w, mut vapour) = (fit.value[1], fit.value[2]);
    let mut loss_w_k = (whole_w - vapour * still_w) / warmer_k;
    if loss_w_k < LEAST_LOSS_W_K {
        // It loses so little that its water hardly evaporates.
        (loss_w_k, vapour) = (LEAST_LOSS_W_K, (whole_w - LEAST_LOSS_W_K * warmer_k) / still_w.max(1e-9));
    }
    if !(LEAST_LOSS_W_K..=MOST_LOSS_W_K).contains(&loss_w_k)
        || !(LEAST_VAPOUR..=MOST_VAPOUR).contains(&vapour)
    {
        return Err(LearnError::Impossible(Sought::Loss));
    }
    let whole_spread = Some(spread(Sought::Loss, fit.sd[1] / whole_w)?);
    let (loss_w_k, vapour, whole_w) = (Some(loss_w_k), Some(vapour), Some(whole_w));
    Ok(Learned { loss_w_k, vapour, whole_w, whole_spread, ..learned })
}

/// Fits the heater's power to the stretch of a warm-up in which it gave one power, its greatest; the pool's loss is known
/// within `loss_sd`, as a share of it.
///
/// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
///
/// # Errors
/// As [`LearnError`] says.
///
/// ```
/// use hold_steady_core::bath::{Air, BathPoint, Cover, Pool, learn_heater};
/// let air = Air { room_c: 20.0, humidity: 0.5, altitude_m: 0.0 };
/// let pool = Pool {
///     litres: 10.0, vessel_kj_k: 0.0, surface_m2: 0.0, cover: Cover::Lid, loss_w_k: 0.0, heater_w: 0.0, vapour: 1.0, air,
/// };
/// // 41.8 kJ/K × 10 K in 418 s is a kilowatt.
/// let read: Vec<BathPoint> =
///     (0..=4).map(|i| BathPoint { min: f64::from(i) * 418.0 / 240.0, c: 40.0 + f64::from(i) * 2.5 }).collect();
/// let learned = learn_heater(&pool, 0.1, &read)?;
/// assert!((learned.heater_w.expect("learned") - 1000.0).abs() < 2.0);
/// # Ok::<(), hold_steady_core::bath::LearnError>(())
/// ```
pub fn learn_heater(pool: &Pool, loss_sd: f64, readings: &[BathPoint]) -> Result<Learned, LearnError> {
    let readings = usable(readings)?;
    let highest = readings.iter().map(|p| p.c).fold(f64::MIN, f64::max);
    if highest - readings[0].c < LEAST_K {
        return Err(LearnError::Flat(Sought::Heater));
    }
    let (loss, vapour) = (Prior::about(pool.loss_w_k, (loss_sd * pool.loss_w_k).max(1e-3)), vapour());
    let straight = stretch::at_full_power(&summed(pool, &readings), &loss.across(), &vapour.across());
    let (mut from, mut until) = straight.ok_or(LearnError::Unsteady(Sought::Heater))?;
    loop {
        let part = &readings[from..until];
        if !rises_enough(part) {
            return Err(LearnError::Unsteady(Sought::Heater));
        }
        let all = summed(pool, part);
        let fit = along(pool, (loss, vapour), &all).ok_or(LearnError::TooFew)?;
        let (power, changes, sd) = (fit.value[1], fit.value[2], fit.sd[2]);
        if !unsteady(changes, sd, SURE, power) {
            // Nor is it learned where the readings could not show that it throttles.
            spread(Sought::Heater, (changes.abs() + sd) / SURE / power)?;
            return heater_learned(pool, (loss, vapour), (&all, part));
        }
        // It falls off where it throttles, and rises where it was only just switched on.
        let tenth = (part.len() / 10).max(1);
        if changes < 0.0 { until -= tenth } else { from += tenth }
    }
}

/// Where it began, its power, how that changes along the way, the loss, the vapour.
fn along(pool: &Pool, (loss, vapour): (Prior, Prior), all: &[Summed]) -> Option<Fitted<5>> {
    let j_k = pool.j_k();
    let middle = all.last().map_or(0.0, |x| x.s) / 2.0;
    let row = |x: &Summed| {
        let along = (x.s * x.s / 2.0 - middle * x.s) / middle;
        ([1.0, x.s / j_k, along / j_k, -x.loss, -x.vapour], x.c)
    };
    let rows: Vec<Row<5>> = all.iter().map(row).collect();
    fitted(&rows, [Prior::NONE, Prior::NONE, Prior::NONE, loss, vapour])
}

fn heater_learned(
    pool: &Pool,
    (loss, vapour): (Prior, Prior),
    (all, part): (&[Summed], &[BathPoint]),
) -> Result<Learned, LearnError> {
    let j_k = pool.j_k();
    let rows: Vec<Row<4>> = all.iter().map(|x| ([1.0, x.s / j_k, -x.loss, -x.vapour], x.c)).collect();
    let fit = fitted(&rows, [Prior::NONE, Prior::NONE, loss, vapour]).ok_or(LearnError::TooFew)?;
    let power = fit.value[1];
    scattered(Sought::Heater, fit.residual_k)?;
    if !(1.0..=MOST_HEATER_W).contains(&power) {
        return Err(LearnError::Impossible(Sought::Heater));
    }
    Ok(Learned {
        heater_w: Some(power),
        heater_spread: Some(spread(Sought::Heater, fit.sd[1] / power)?),
        residual_k: fit.residual_k,
        from_c: part[0].c,
        to_c: part[part.len() - 1].c,
        ..Learned::default()
    })
}

fn rises_enough(part: &[BathPoint]) -> bool {
    let ends = part.first().zip(part.last());
    ends.is_some_and(|(first, last)| stretch::is_enough(last.min - first.min, last.c - first.c, part.len()))
}

/// What is known of how fast its water evaporates.
fn vapour() -> Prior {
    Prior::about(bench().learn_vapour.value, bench().learn_vapour_sd.value)
}

fn scattered(what: Sought, residual_k: f64) -> Result<(), LearnError> {
    if residual_k > bench().learn_residual_k.value {
        return Err(LearnError::Scattered(what, Kelvin::new(residual_k)));
    }
    Ok(())
}

/// How far it may be off to either side, in whole hundredths: by the readings, and by the litres.
fn spread(what: Sought, sd: f64) -> Result<f64, LearnError> {
    let share = (SURE * sd).hypot(bench().learn_litres.value);
    let share = (share * 100.0 - 1e-9).ceil() / 100.0;
    if share > bench().learn_spread.value { Err(LearnError::Unsure(what, share)) } else { Ok(share) }
}

/// Whether a quantity changes along the way, by more than it may and more than so many standard deviations.
fn unsteady(along: f64, sd: f64, times: f64, of: f64) -> bool {
    along.abs() > times * sd && along.abs() > bench().learn_steady.value * of.abs()
}

impl Learned {
    /// This, and what another record said: the later counts.
    ///
    /// ```
    /// use hold_steady_core::bath::Learned;
    /// let loss =
    ///     Learned { loss_w_k: Some(1.2), residual_k: 0.1, from_c: 50.0, to_c: 58.0, ..Learned::default() };
    /// let heater =
    ///     Learned { heater_w: Some(990.0), residual_k: 0.05, from_c: 20.0, to_c: 55.0, ..Learned::default() };
    /// let both = loss.and(heater);
    /// assert_eq!((both.loss_w_k, both.heater_w, both.residual_k), (Some(1.2), Some(990.0), 0.1));
    /// ```
    #[must_use]
    pub fn and(self, later: Self) -> Self {
        let loss = if later.loss_w_k.is_some() { later } else { self };
        let heater = if later.heater_w.is_some() { later } else { self };
        Self {
            loss_w_k: loss.loss_w_k,
            loss_spread: loss.loss_spread,
            vapour: loss.vapour,
            whole_spread: loss.whole_spread,
            whole_w: loss.whole_w,
            heater_w: heater.heater_w,
            heater_spread: heater.heater_spread,
            residual_k: later.residual_k.max(self.residual_k),
            from_c: later.from_c.min(self.from_c),
            to_c: later.to_c.max(self.to_c),
        }
    }

    /// Whether a temperature is near enough to those it was learned at.
    ///
    /// ```
    /// use hold_steady_core::bath::Learned;
    /// let loss =
    ///     Learned { loss_w_k: Some(1.2), residual_k: 0.1, from_c: 50.0, to_c: 58.0, ..Learned::default() };
    /// assert!(loss.reaches(65.0) && !loss.reaches(85.0));
    /// ```
    #[must_use]
    pub fn reaches(&self, c: f64) -> bool {
        let far = bench().extrapolate_k.value;
        (self.from_c - far..=self.to_c + far).contains(&c)
    }

    /// The loss, W/K, and how far it may be off, as a standard deviation and a share of it; none where it is not known apart
    /// from what evaporates.
    pub(super) fn loss(&self) -> Option<(f64, f64)> {
        let loss_w_k = self.loss_w_k.filter(|_| self.whole_w.is_none())?;
        Some((loss_w_k, self.loss_spread.unwrap_or(2.0 * bench().learn_spread.value) / SURE))
    }
}

/// In order, from minute 0 on.
fn usable(readings: &[BathPoint]) -> Result<Vec<BathPoint>, LearnError> {
    let first = readings.first().ok_or(LearnError::TooFew)?.min;
    let moved: Vec<BathPoint> = readings.iter().map(|p| BathPoint { min: p.min - first, c: p.c }).collect();
    let trace = BathTrace::new(moved).map_err(|_| LearnError::TooFew)?;
    let points = trace.points().to_vec();
    if points.len() < 2 || points[points.len() - 1].min < LEAST_APART.value() {
        return Err(LearnError::TooFew);
    }
    Ok(points)
}

/// From the last reading that is as hot as the hottest: what was before was held, or still stirring up.
fn falling(readings: &[BathPoint]) -> &[BathPoint] {
    const AS_HOT_K: f64 = 0.1;
    let highest = readings.iter().map(|p| p.c).fold(f64::MIN, f64::max);
    let from = readings.iter().rposition(|p| p.c >= highest - AS_HOT_K).unwrap_or(0);
    // A fall so slow that it stays within that from one reading to the next is one from its first reading on.
    if readings.len() - from < 2 { readings } else { &readings[from..] }
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
            vapour: 1.0,
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
            let heater = learn_heater(&with, 0.05, &noisy(&warm, 1.0, 20.0, seed)).expect("rises");
            assert!((heater.heater_w.expect("learned") / 1200.0 - 1.0).abs() < 0.02, "{heater:?}");
        }
    }

    #[test]
    fn what_shows_nothing_teaches_nothing() {
        let p = |min, c| BathPoint { min, c };
        assert_eq!(learn_loss(&pool(), &[p(0.0, 58.0)]), Err(LearnError::TooFew));
        assert_eq!(learn_loss(&pool(), &[p(0.0, 58.0), p(30.0, 58.0)]), Err(LearnError::Flat(Sought::Loss)));
        assert_eq!(
            learn_heater(&pool(), 0.05, &[p(0.0, 58.0), p(30.0, 50.0)]),
            Err(LearnError::Flat(Sought::Heater))
        );
        // Evaporation alone would cool it faster: no loss fits.
        let bare = Pool { cover: Cover::None, surface_m2: 0.5, ..pool() };
        assert_eq!(
            learn_loss(&bare, &[p(0.0, 58.0), p(120.0, 57.4)]),
            Err(LearnError::Impossible(Sought::Loss))
        );
    }
}
