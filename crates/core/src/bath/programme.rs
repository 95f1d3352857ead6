//! What is done to a bath over time: what it is set to, what goes in and what comes out. Each load drops the water it meets.

use super::pool::{Going, Load, Pool};
use crate::heat::{BathPoint, BathTrace};

/// A load, and how long it lies in the water.
#[derive(Debug, Clone, PartialEq)]
pub struct Stay {
    /// It.
    pub load: Load,
    /// In, minutes.
    pub from_min: f64,
    /// Out; it stays where it is missing.
    pub until_min: Option<f64>,
}

/// A bath's programme, minutes from its beginning.
///
/// ```
/// use hold_steady_core::bath::{Air, Cover, Load, Pool, Programme, Stay};
/// let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
/// let pool = Pool { litres: 12.0, vessel_kj_k: 0.0, surface_m2: 0.12, cover: Cover::Lid, loss_w_k: 2.0, heater_w: 400.0, vapour: 1.0, air };
/// let meat = Load { kg: 2.0, c: 5.0, thickness_m: 0.025, w_m2k: 95.0 };
/// let at = |min| Stay { load: meat.clone(), from_min: min, until_min: None };
/// // Set to 57 °C, turned down to 54 after three hours; a load at the beginning, another after an hour.
/// let programme = Programme { from_c: 57.0, settings: vec![(0.0, Some(57.0)), (180.0, Some(54.0))], loads: vec![at(0.0), at(60.0)] };
/// let trace = programme.trace(&pool, 300.0);
/// assert!(trace.at(65.0 * 60.0) < 56.6 && trace.at(179.0 * 60.0) > 56.9);
/// assert!((trace.at(299.0 * 60.0) - 54.0).abs() < 0.05);
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Programme {
    /// The water at its beginning, °C.
    pub from_c: f64,
    /// What its heater is set to from a minute on, by time; nothing is heated where it is missing, or before the first.
    pub settings: Vec<(f64, Option<f64>)>,
    /// What goes in and comes out.
    pub loads: Vec<Stay>,
}

impl Programme {
    /// The water over time.
    ///
    /// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
    ///
    /// ```
    /// # use hold_steady_core::bath::{Air, Cover, Pool, Programme};
    /// # let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
    /// let pool = Pool { litres: 12.0, vessel_kj_k: 0.0, surface_m2: 0.12, cover: Cover::Lid, loss_w_k: 2.0, heater_w: 900.0, vapour: 1.0, air };
    /// let held = Programme { from_c: 57.0, settings: vec![(0.0, Some(57.0))], loads: vec![] };
    /// assert_eq!(held.trace(&pool, 60.0).at(3000.0), 57.0);
    /// ```
    #[must_use]
    pub fn trace(&self, pool: &Pool, until_min: f64) -> BathTrace {
        BathTrace::new(self.points(pool, until_min)).unwrap_or_else(|_| BathTrace::constant(self.from_c))
    }

    /// The same as points; it ends early where nothing more changes.
    pub(super) fn points(&self, pool: &Pool, until_min: f64) -> Vec<BathPoint> {
        let set_at = |min: f64| self.settings.iter().rev().find(|s| s.0 <= min).and_then(|s| s.1);
        // Every minute at which something is done.
        let mut turns: Vec<f64> = self.settings.iter().map(|s| s.0).collect();
        turns.extend(self.loads.iter().flat_map(|s| [Some(s.from_min), s.until_min]).flatten());
        turns.retain(|min| (0.0..until_min).contains(min));
        turns.push(0.0);
        turns.sort_by(f64::total_cmp);
        turns.dedup();
        let mut going = Going::new(pool, self.from_c);
        let mut points = vec![BathPoint { min: 0.0, c: self.from_c }];
        for (i, from) in turns.iter().enumerate() {
            let until = turns.get(i + 1).copied().unwrap_or(until_min);
            going.set(set_at(*from));
            for (n, stay) in self.loads.iter().enumerate() {
                if stay.from_min == *from {
                    going.put_in(n, &stay.load);
                }
                if stay.until_min == Some(*from) {
                    going.take_out(n);
                }
            }
            while going.min() < until - 1e-8 {
                going.step(until * 60.0);
                points.push(BathPoint { min: going.min(), c: going.c() });
                if going.settled() {
                    break;
                }
            }
            if going.min() < until - 1e-8 {
                going.stands_until(until * 60.0);
                if i + 1 < turns.len() {
                    points.push(BathPoint { min: until, c: going.c() });
                }
            }
        }
        points
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::{Air, Cover};

    fn pool(heater_w: f64) -> Pool {
        let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
        Pool {
            litres: 12.0,
            vessel_kj_k: 2.0,
            surface_m2: 0.12,
            cover: Cover::Lid,
            loss_w_k: 2.0,
            heater_w,
            vapour: 1.0,
            air,
        }
    }

    fn meat(kg: f64) -> Load {
        Load { kg, c: 5.0, thickness_m: 0.025, w_m2k: 95.0 }
    }

    fn lowest(points: &[BathPoint], from: f64, until: f64) -> f64 {
        points.iter().filter(|p| (from..until).contains(&p.min)).map(|p| p.c).fold(f64::INFINITY, f64::min)
    }

    #[test]
    fn each_load_drops_the_water_it_meets() {
        let pool = pool(350.0);
        let stays = |min: &[f64]| {
            min.iter().map(|m| Stay { load: meat(3.0), from_min: *m, until_min: None }).collect::<Vec<_>>()
        };
        let set = vec![(0.0, Some(57.0))];
        let of = |loads| Programme { from_c: 57.0, settings: set.clone(), loads }.points(&pool, 400.0);
        let (one, two, both) = (of(stays(&[0.0])), of(stays(&[0.0, 150.0])), of(stays(&[0.0, 0.0])));
        let first = 57.0 - lowest(&one, 0.0, 150.0);
        let second = 57.0 - lowest(&two, 150.0, 400.0);
        assert!(
            first > 0.3 && (first - second).abs() < 0.1 * first,
            "the water has come back: {first} {second}"
        );
        assert!(57.0 - lowest(&both, 0.0, 150.0) > 1.6 * first, "together they drop it further");
        // The second too early meets water that is still low.
        let hurried = 57.0 - lowest(&of(stays(&[0.0, 5.0])), 0.0, 400.0);
        assert!(hurried > second + 0.2, "{hurried} {second}");
    }

    /// By the balance of energy, put together by itself: what the water holds less is what was lost and what the food took.
    #[test]
    fn nothing_is_made_of_nothing() {
        let pool = Pool { surface_m2: 0.0, ..pool(0.0) };
        let loads = vec![
            Stay { load: meat(1.0), from_min: 10.0, until_min: None },
            Stay { load: meat(0.5), from_min: 40.0, until_min: None },
        ];
        let points = Programme { from_c: 60.0, settings: vec![], loads }.points(&pool, 300.0);
        let last = points[points.len() - 1].c;
        let lost: f64 = points
            .windows(2)
            .map(|w| {
                pool.loss_w_k
                    * (f64::midpoint(w[0].c, w[1].c) - pool.air.room_c)
                    * (w[1].min - w[0].min)
                    * 60.0
            })
            .sum();
        // Five hours on the food is as warm as the water.
        let taken = 1.5 * 1000.0 * Load::kj_kg(5.0, last);
        let gone = pool.j_k() * (60.0 - last);
        assert!((gone - lost - taken).abs() < 0.01 * gone, "{gone} {lost} {taken}");
    }

    #[test]
    fn turned_down_it_falls_as_it_loses_and_what_is_taken_out_takes_no_more() {
        let pool = pool(1000.0);
        let settings = vec![(0.0, Some(60.0)), (30.0, Some(54.4))];
        let down = Programme { from_c: 60.0, settings: settings.clone(), loads: vec![] }.points(&pool, 900.0);
        let at = |points: &[BathPoint], min: f64| {
            BathTrace::new(points.to_vec()).expect("in order").at(min * 60.0)
        };
        assert_eq!(at(&down, 30.0), 60.0);
        // A minute after it is turned down it has lost what a minute's loss is.
        let fell = 60.0 - at(&down, 31.0);
        assert!((fell - pool.loss_w(60.0) * 60.0 / pool.j_k()).abs() < 0.02 * fell, "{fell}");
        assert!(at(&down, 899.0) == 54.4 && down.iter().all(|p| p.c >= 54.4 - 1e-9));
        let load = |until_min| vec![Stay { load: meat(4.0), from_min: 60.0, until_min }];
        let of = |loads| Programme { from_c: 60.0, settings: vec![(0.0, None)], loads }.points(&pool, 300.0);
        let (stays, out) = (of(load(None)), of(load(Some(65.0))));
        assert!(at(&out, 120.0) > at(&stays, 120.0) + 1.0);
    }
}
