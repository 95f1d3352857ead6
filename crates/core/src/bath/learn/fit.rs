//! Least squares: what a vessel's equation says of its readings is linear in what is looked for, once the heat it has
//! lost is summed up along the readings themselves.

use super::super::{BathPoint, Pool};

/// What is known of a quantity before anything is fitted.
#[derive(Clone, Copy)]
pub(super) struct Prior {
    mean: f64,
    /// Its standard deviation; without bound where nothing is known.
    sd: f64,
}

impl Prior {
    /// Nothing is known of it.
    pub(super) const NONE: Self = Self { mean: 0.0, sd: f64::INFINITY };

    pub(super) const fn about(mean: f64, sd: f64) -> Self {
        Self { mean, sd }
    }

    /// What it may be: as it most likely is, and on either side of that.
    pub(super) fn across(self) -> [f64; 5] {
        [-1.5, -0.75, 0.0, 0.75, 1.5].map(|n| (self.mean + n * self.sd).max(0.0))
    }

    fn weight(self) -> f64 {
        if self.sd.is_finite() { 1.0 / (self.sd * self.sd) } else { 0.0 }
    }
}

/// A reading as an equation: what stands beside each quantity, and what was read, °C.
pub(super) type Row<const N: usize> = ([f64; N], f64);

/// What was fitted: each quantity, how far it may be off (a standard deviation), and how far the readings lie from it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Fitted<const N: usize> {
    pub(super) value: [f64; N],
    pub(super) sd: [f64; N],
    /// Root mean square, K.
    pub(super) residual_k: f64,
}

/// Kitchen thermometers show tenths: no reading is better than that, K.
pub(super) const FLOOR_K: f64 = 0.05;

/// The quantities that fit the rows best, by what was known of them before; none where they cannot be told apart.
pub(super) fn fitted<const N: usize>(rows: &[Row<N>], priors: [Prior; N]) -> Option<Fitted<N>> {
    // The noise is learned of the readings too, and it says how much what was known before counts.
    const ROUNDS: usize = 3;
    let mut noise = FLOOR_K;
    let mut last = None;
    for _ in 0..ROUNDS {
        let (value, sd) = solved(rows, priors, noise)?;
        let off = |(x, y): &Row<N>| y - x.iter().zip(value).map(|(x, v)| x * v).sum::<f64>();
        let squares: f64 = rows.iter().map(|r| off(r).powi(2)).sum();
        let n = rows.len() as f64;
        // Two of what is fitted, where it began and how steep it is, take their part of the scatter away.
        noise = (squares / (n - 2.0).max(1.0)).sqrt().max(FLOOR_K);
        last = Some(Fitted { value, sd, residual_k: (squares / n).sqrt() });
    }
    last
}

/// The normal equations, by Cholesky's decomposition: the values and their standard deviations.
fn solved<const N: usize>(rows: &[Row<N>], priors: [Prior; N], noise: f64) -> Option<([f64; N], [f64; N])> {
    let weight = 1.0 / (noise * noise);
    let (mut a, mut b) = ([[0.0; N]; N], [0.0; N]);
    for (x, y) in rows {
        for i in 0..N {
            b[i] += weight * x[i] * y;
            for j in 0..N {
                a[i][j] += weight * x[i] * x[j];
            }
        }
    }
    for (i, prior) in priors.iter().enumerate() {
        a[i][i] += prior.weight();
        b[i] += prior.weight() * prior.mean;
    }
    let lower = cholesky(a)?;
    let value = substituted(&lower, b);
    let sd = std::array::from_fn(|i| {
        let unit = std::array::from_fn(|j| if i == j { 1.0 } else { 0.0 });
        substituted(&lower, unit)[i].max(0.0).sqrt()
    });
    Some((value, sd))
}

/// The lower triangle whose product with itself turned over is `a`; none where `a` is singular.
fn cholesky<const N: usize>(a: [[f64; N]; N]) -> Option<[[f64; N]; N]> {
    const SINGULAR: f64 = 1e-12;
    let mut lower = [[0.0; N]; N];
    for i in 0..N {
        for j in 0..=i {
            let sum: f64 = (0..j).map(|k| lower[i][k] * lower[j][k]).sum();
            if i == j {
                let left = a[i][i] - sum;
                if left <= SINGULAR * a[i][i] {
                    return None;
                }
                lower[i][i] = left.sqrt();
            } else {
                lower[i][j] = (a[i][j] - sum) / lower[j][j];
            }
        }
    }
    Some(lower)
}

fn substituted<const N: usize>(lower: &[[f64; N]; N], b: [f64; N]) -> [f64; N] {
    let mut x = b;
    for i in 0..N {
        let sum: f64 = (0..i).map(|k| lower[i][k] * x[k]).sum();
        x[i] = (x[i] - sum) / lower[i][i];
    }
    for i in (0..N).rev() {
        let sum: f64 = (i + 1..N).map(|k| lower[k][i] * x[k]).sum();
        x[i] = (x[i] - sum) / lower[i][i];
    }
    x
}

/// A reading with what has left the water since the first of them, over its heat capacity: what stands beside the loss
/// (K for each W/K) and beside the evaporation into still air (K).
#[derive(Debug, Clone, Copy)]
pub(super) struct Summed {
    pub(super) s: f64,
    pub(super) c: f64,
    pub(super) loss: f64,
    /// The same, weighted by how far along it is: from −1 at the first reading to 1 at the last.
    pub(super) later_loss: f64,
    pub(super) vapour: f64,
}

/// Sums up along the readings: Simpson's rule over each stretch between two, the temperature taken as straight there.
pub(super) fn summed(pool: &Pool, readings: &[BathPoint]) -> Vec<Summed> {
    let Some((first, last)) = readings.first().zip(readings.last()) else { return Vec::new() };
    let j_k = pool.j_k();
    let middle = (last.min - first.min) * 30.0;
    let mut at = Summed { s: 0.0, c: first.c, loss: 0.0, later_loss: 0.0, vapour: 0.0 };
    let mut all = vec![at];
    for pair in readings.windows(2) {
        let s = (pair[1].min - pair[0].min) * 60.0;
        let mean = |f: &dyn Fn(f64) -> f64| {
            let half = f64::midpoint(pair[0].c, pair[1].c);
            (f(pair[0].c) + 4.0 * f(half) + f(pair[1].c)) / 6.0
        };
        let lost = mean(&|c| c - pool.air.room_c) * s / j_k;
        let along = (at.s + s / 2.0 - middle) / middle;
        at = Summed {
            s: at.s + s,
            c: pair[1].c,
            loss: at.loss + lost,
            later_loss: at.later_loss + lost * along,
            vapour: at.vapour + mean(&|c| pool.still_w(c)) * s / j_k,
        };
        all.push(at);
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;

    /// By hand: a line through 1, 3, 5 is 1 + 2x; what is known of the slope draws it there, the more the surer it is.
    #[test]
    fn a_line_is_found_and_what_was_known_before_draws_it() {
        let rows: Vec<Row<2>> = (0..3).map(|i| ([1.0, f64::from(i)], 1.0 + 2.0 * f64::from(i))).collect();
        let free = fitted(&rows, [Prior::NONE, Prior::NONE]).expect("two of two");
        assert!((free.value[0] - 1.0).abs() < 1e-9 && (free.value[1] - 2.0).abs() < 1e-9);
        assert!((free.sd[1] - FLOOR_K / 2.0_f64.sqrt()).abs() < 1e-9 && free.residual_k < 1e-9);
        let drawn = fitted(&rows, [Prior::NONE, Prior::about(3.0, 1e-6)]).expect("drawn");
        assert!((drawn.value[1] - 3.0).abs() < 1e-3);
        assert!(fitted(&rows[..1], [Prior::NONE, Prior::NONE]).is_none());
    }
}
