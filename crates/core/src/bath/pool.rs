//! A vessel full of water: its heat, what it loses, how it warms, cools and takes a load.

use super::{Air, BathPoint, Cover, Programme, Stay, evaporation};
use crate::figures::{bench, cooling};
use crate::heat::bisect_within;

/// A vessel with water in it, as far as heat is concerned.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pool {
    /// Water, l.
    pub litres: f64,
    /// Heat the vessel itself takes, kJ/K.
    pub vessel_kj_k: f64,
    /// Open surface, m².
    pub surface_m2: f64,
    /// What lies over it.
    pub cover: Cover,
    /// What it loses besides evaporation, W/K.
    pub loss_w_k: f64,
    /// Heater, W.
    pub heater_w: f64,
    /// How many times as fast as into still air its water evaporates: 1, up to 1.7 in a draught.
    pub vapour: f64,
    /// The kitchen around it.
    pub air: Air,
}

/// Food that goes in: a slab heated from both sides, its mean temperature as a sum of first-order lags. Exact for
/// constant properties.
#[derive(Debug, Clone, PartialEq)]
pub struct Load {
    /// kg.
    pub kg: f64,
    /// °C.
    pub c: f64,
    /// Thickness of a piece, m.
    pub thickness_m: f64,
    /// Heat passing from the water into it, W/m²K.
    pub w_m2k: f64,
}

/// A lag of a load: heat capacity, J/K, and time constant, s.
type Lag = (f64, f64);

/// Diffusivity and conductivity that the speed of a load is counted with: m²/s, W/mK.
const DIFFUSIVITY: f64 = 1.4e-7;
const CONDUCTIVITY: f64 = 0.48;
const LAGS: usize = 10;
/// As near as a root or a temperature is looked for.
const EXACT: f64 = 1e-9;

impl Load {
    /// The heat it takes from `from` to `to` °C, kJ/kg: thawing too.
    pub(crate) fn kj_kg(from: f64, to: f64) -> f64 {
        const THAWS_C: f64 = -1.0;
        let b = bench();
        let warm = |low: f64, high: f64| (high - low).max(0.0) * b.food_kj_kgk.value;
        if from >= THAWS_C || to <= THAWS_C {
            return warm(from, to);
        }
        (THAWS_C - from) * b.frozen_kj_kgk.value + b.thaw_kj_kg.value + warm(THAWS_C, to)
    }

    /// The water it displaces, l.
    pub(crate) fn litres(&self) -> f64 {
        self.kg / bench().food_kg_l.value
    }

    /// Its heat capacity towards water at `to` °C, J/K: what thaws counts as if it were spread over the way.
    fn j_k(&self, to: f64) -> f64 {
        let way = (to - self.c).abs().max(1.0);
        self.kg * 1000.0 * Self::kj_kg(self.c.min(to), self.c.max(to)).abs() / way
    }

    /// Weights and time constants of the mean temperature of a slab after a step (H. S. Carslaw and J. C. Jaeger,
    /// Conduction of Heat in Solids, from memory): the roots of ζ tan ζ = Bi.
    fn lags(&self, to: f64) -> [Lag; LAGS] {
        use std::f64::consts::{FRAC_PI_2, PI};
        let half = self.thickness_m / 2.0;
        let biot = self.w_m2k * half / CONDUCTIVITY;
        let all = self.j_k(to);
        let mut left = 1.0;
        let mut lags = [(0.0, 1.0); LAGS];
        for (n, lag) in lags.iter_mut().enumerate() {
            // ζ tan ζ rises from nothing to no bound within each of these stretches.
            let from = n as f64 * PI;
            let (root, _) = bisect_within(EXACT, from, from + FRAC_PI_2, |x| x * x.tan() >= biot);
            let root2 = root * root;
            let weight = 2.0 * biot * biot / (root2 * (root2 + biot * biot + biot));
            // What the further ones would hold goes with the last.
            let weight = if n + 1 == LAGS { left } else { weight };
            left -= weight;
            *lag = (weight * all, half * half / (DIFFUSIVITY * root2));
        }
        lags
    }
}

const WATER_J_KGK: f64 = 1000.0;

impl Pool {
    /// Heat capacity of water and vessel, J/K. A litre counts as a kilogram, which is up to 2 % too much.
    ///
    /// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
    ///
    /// ```
    /// use hold_steady_core::bath::{Air, Cover, Pool};
    /// let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
    /// let pool = Pool { litres: 12.0, vessel_kj_k: 0.0, surface_m2: 0.12, cover: Cover::None, loss_w_k: 2.0, heater_w: 1000.0, vapour: 1.0, air };
    /// assert!((pool.j_k() / 12.0 - 4180.0).abs() < 10.0);
    /// assert!(pool.loss_w(55.0) > 2.0 * 33.0); // evaporation comes on top
    /// assert!((0.2..0.3).contains(&pool.kg_per_h(55.0)));
    /// ```
    #[must_use]
    pub fn j_k(&self) -> f64 {
        (self.litres * cooling().water_kj_kgk.value + self.vessel_kj_k) * WATER_J_KGK
    }

    /// What it loses at `c` °C, W.
    ///
    /// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
    ///
    /// ```
    /// # use hold_steady_core::bath::{Air, Cover, Pool};
    /// # let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
    /// # let pool = Pool { litres: 12.0, vessel_kj_k: 0.0, surface_m2: 0.12, cover: Cover::None, loss_w_k: 2.0, heater_w: 1000.0, vapour: 1.0, air };
    /// assert!(pool.loss_w(55.0) > 2.0 * 33.0); // evaporation comes on top
    /// ```
    #[must_use]
    pub fn loss_w(&self, c: f64) -> f64 {
        self.loss_w_k * (c - self.air.room_c) + self.evaporates_w(c)
    }

    /// Heat that evaporation takes at `c` °C, W.
    fn evaporates_w(&self, c: f64) -> f64 {
        self.vapour * self.still_w(c)
    }

    /// The same, if the air were still.
    pub(super) fn still_w(&self, c: f64) -> f64 {
        self.surface_m2 * evaporation(c, self.air, self.cover).1
    }

    /// The same pool in a draught, or under a hood: the most that evaporates.
    pub(crate) fn in_a_draught(&self) -> Self {
        Self { vapour: self.vapour.max(bench().draught.value), ..*self }
    }

    /// What evaporates at `c` °C, kg/h.
    ///
    /// Source: the convective film with the analogy of heat and mass (Lewis); `data/bench.json` names each figure's.
    ///
    /// ```
    /// # use hold_steady_core::bath::{Air, Cover, Pool};
    /// # let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
    /// # let pool = Pool { litres: 12.0, vessel_kj_k: 0.0, surface_m2: 0.12, cover: Cover::None, loss_w_k: 2.0, heater_w: 1000.0, vapour: 1.0, air };
    /// assert!((0.2..0.3).contains(&pool.kg_per_h(55.0)));
    /// ```
    #[must_use]
    pub fn kg_per_h(&self, c: f64) -> f64 {
        self.vapour * self.surface_m2 * evaporation(c, self.air, self.cover).0 * 3600.0
    }

    /// The hottest it can be held, °C; no more than boiling.
    pub(crate) fn holdable_c(&self) -> f64 {
        let boils = super::boiling_c(self.air.altitude_m);
        if self.loss_w(boils) <= self.heater_w {
            return boils;
        }
        bisect_within(EXACT, self.air.room_c, boils, |c| self.loss_w(c) >= self.heater_w).0
    }

    /// Minutes it takes the heater from `from` to `to` °C; `None` where it cannot.
    ///
    /// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
    ///
    /// ```
    /// use hold_steady_core::bath::{Air, Cover, Pool};
    /// let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
    /// let pool = Pool { litres: 12.0, vessel_kj_k: 0.0, surface_m2: 0.12, cover: Cover::None, loss_w_k: 2.0, heater_w: 1000.0, vapour: 1.0, air };
    /// let min = pool.warmup_min(45.0, 54.5).expect("within its power");
    /// assert!((9.5..9.9).contains(&min));
    /// assert_eq!(Pool { heater_w: 100.0, ..pool }.warmup_min(45.0, 54.5), None);
    /// ```
    #[must_use]
    pub fn warmup_min(&self, from: f64, to: f64) -> Option<f64> {
        // Time is the integral of heat capacity over net power: Simpson's rule.
        const PARTS: u32 = 64;
        if to <= from {
            return Some(0.0);
        }
        // It loses most where it is hottest.
        if self.heater_w <= self.loss_w(to) {
            return None;
        }
        let step = (to - from) / f64::from(PARTS);
        let at = |i: u32| 1.0 / (self.heater_w - self.loss_w(from + step * f64::from(i)));
        let weight = |i: u32| if i % 2 == 1 { 4.0 } else { 2.0 };
        let sum = at(0) + (1..PARTS).map(|i| weight(i) * at(i)).sum::<f64>() + at(PARTS);
        Some(self.j_k() * sum * step / 3.0 / 60.0)
    }

    /// The water over time from `from_c`, with its loads: minutes and °C, until `until_min`. With a setting the heater
    /// gives what it can to reach and hold it; without, nothing heats.
    pub(crate) fn run(
        &self,
        from_c: f64,
        set_c: Option<f64>,
        loads: &[Load],
        until_min: f64,
    ) -> Vec<BathPoint> {
        let stays = loads.iter().map(|l| Stay { load: l.clone(), from_min: 0.0, until_min: None });
        Programme { from_c, settings: vec![(0.0, set_c)], loads: stays.collect() }.points(self, until_min)
    }

    /// How it takes a load at `set_c`.
    pub(crate) fn take(&self, set_c: f64, loads: &[Load]) -> Taken {
        const LONGEST_MIN: f64 = 600.0;
        let recovered = bench().recovered_k.value;
        let mut going = Going::new(self, set_c);
        going.set(Some(set_c));
        loads.iter().enumerate().for_each(|(n, load)| going.put_in(n, load));
        let (mut lowest, mut back) = (set_c, None);
        while going.s < LONGEST_MIN * 60.0 {
            going.step(LONGEST_MIN * 60.0);
            if going.c < lowest {
                lowest = going.c;
            }
            if going.c < set_c - recovered {
                back = None;
            } else if back.is_none() {
                back = Some(going.s / 60.0);
            }
            if going.settled() {
                break;
            }
        }
        let never_left = set_c - lowest < recovered;
        let back = back.filter(|_| going.c >= set_c - recovered);
        Taken {
            drop_k: self.mixed_drop_k(set_c, loads),
            lowest_c: lowest,
            recovery_min: if never_left { Some(0.0) } else { back },
        }
    }

    /// How far the water would fall if it and the food came to one temperature at once, K: an upper bound.
    pub(crate) fn mixed_drop_k(&self, set_c: f64, loads: &[Load]) -> f64 {
        // Heat that the water gives, and the food takes, down to a common temperature.
        let short = |c: f64| {
            let taken: f64 = loads.iter().map(|l| l.kg * 1000.0 * signed_kj_kg(l.c, c)).sum();
            self.j_k() * (set_c - c) - taken
        };
        let coldest = loads.iter().map(|l| l.c).fold(set_c, f64::min);
        let (low, high) = bisect_within(EXACT, coldest, set_c, |c| short(c) <= 0.0);
        set_c - f64::midpoint(low, high)
    }
}

/// Heat from one temperature to another, kJ/kg: negative downward.
fn signed_kj_kg(from: f64, to: f64) -> f64 {
    if to >= from { Load::kj_kg(from, to) } else { -Load::kj_kg(to, from) }
}

/// How a bath took a load.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Taken {
    /// By mixing at once: an upper bound, K.
    pub(crate) drop_k: f64,
    /// The lowest it comes to, °C.
    pub(crate) lowest_c: f64,
    /// Minutes until it is back; `None` where it never is.
    pub(crate) recovery_min: Option<f64>,
}

/// A pool going on, step by step: implicit in the food, for its lags may be shorter than a step.
pub(super) struct Going<'a> {
    pool: &'a Pool,
    /// What its heater is set to; none where nothing is heated.
    set_c: Option<f64>,
    /// Of each load that lies in it, by its place among those of the programme: its lags, and what each holds, °C.
    lying: Vec<(usize, [Lag; LAGS], [f64; LAGS])>,
    c: f64,
    s: f64,
    /// When something was done last: what happens at that happens in its first minutes.
    since_s: f64,
}

impl<'a> Going<'a> {
    pub(super) const fn new(pool: &'a Pool, from_c: f64) -> Self {
        Self { pool, set_c: None, lying: Vec::new(), c: from_c, s: 0.0, since_s: 0.0 }
    }

    pub(super) const fn set(&mut self, set_c: Option<f64>) {
        self.set_c = set_c;
        self.since_s = self.s;
    }

    /// A load goes into the water as it is.
    pub(super) fn put_in(&mut self, place: usize, load: &Load) {
        self.lying.push((place, load.lags(self.set_c.unwrap_or(self.c)), [load.c; LAGS]));
        self.since_s = self.s;
    }

    pub(super) fn take_out(&mut self, place: usize) {
        self.lying.retain(|(p, ..)| *p != place);
        self.since_s = self.s;
    }

    pub(super) const fn c(&self) -> f64 {
        self.c
    }

    pub(super) const fn min(&self) -> f64 {
        self.s / 60.0
    }

    /// It is settled, and stays as it is.
    pub(super) const fn stands_until(&mut self, until_s: f64) {
        self.s = until_s;
    }

    pub(super) fn step(&mut self, until_s: f64) {
        // As long as what has passed allows.
        let dt = ((self.s - self.since_s) / 20.0).clamp(2.0, 60.0).min(until_s - self.s);
        let j_k = self.pool.j_k();
        let (mut pull, mut weight) = (0.0, 0.0);
        for (_, lags, held) in &self.lying {
            for ((j, tau), held) in lags.iter().zip(held) {
                // Flow j (T − q')/τ with q' = (q + T dt/τ)/(1 + dt/τ).
                let g = j / (tau + dt);
                weight += g;
                pull += g * held;
            }
        }
        let pool = self.pool;
        let evaporates = pool.evaporates_w(self.c);
        let fixed = pool.loss_w_k * pool.air.room_c - evaporates + pull;
        let divide = j_k / dt + pool.loss_w_k + weight;
        let with = |heat_w: f64| (j_k / dt * self.c + fixed + heat_w) / divide;
        let next = match self.set_c {
            None => with(0.0),
            Some(set) => {
                let (cold, hot) = (with(0.0), with(pool.heater_w));
                if hot < set { hot } else { cold.max(set) }
            }
        };
        for (_, lags, held) in &mut self.lying {
            for ((_, tau), held) in lags.iter().zip(held) {
                *held = (*held + next * dt / tau) / (1.0 + dt / tau);
            }
        }
        self.c = next;
        self.s += dt;
    }

    /// Whether it stands at what it is set to, and nothing that lies in it takes much more.
    pub(super) fn settled(&self) -> bool {
        const NEAR_K: f64 = 0.05;
        let there = self.set_c.is_some_and(|set| (self.c - set).abs() < 1e-9);
        let wants: f64 = self
            .lying
            .iter()
            .flat_map(|(_, lags, held)| lags.iter().zip(held))
            .map(|((j, _), q)| j * (self.c - q).abs())
            .sum();
        there && wants < self.pool.j_k() * NEAR_K
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pool() -> Pool {
        let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
        Pool {
            litres: 12.0,
            vessel_kj_k: 0.0,
            surface_m2: 0.12,
            cover: Cover::None,
            loss_w_k: 2.0,
            heater_w: 1000.0,
            vapour: 1.0,
            air,
        }
    }

    fn meat(kg: f64) -> Load {
        Load { kg, c: 5.0, thickness_m: 0.025, w_m2k: 95.0 }
    }

    /// By hand: 12 l × 4.18 kJ/kgK × 9.5 K / 1 kW = 477 s without any loss; with losses by a sum over half
    /// degrees beside this program (in Python).
    #[test]
    fn warming_up_takes_what_the_energy_says() {
        let bare = Pool { surface_m2: 0.0, loss_w_k: 0.0, ..pool() };
        assert!((bare.warmup_min(45.0, 54.5).expect("reached") - 7.942).abs() < 0.01);
        let at =
            |cover, loss_w_k| Pool { cover, loss_w_k, ..pool() }.warmup_min(45.0, 54.5).expect("reached");
        assert!((at(Cover::None, 0.0) - 9.03).abs() < 0.05, "{}", at(Cover::None, 0.0));
        assert!((at(Cover::None, 3.0) - 9.98).abs() < 0.05, "{}", at(Cover::None, 3.0));
        assert!((at(Cover::Lid, 0.0) - 7.99).abs() < 0.05 && (at(Cover::Lid, 5.0) - 9.29).abs() < 0.05);
        // The equation run forward in time reaches the same temperature in the same time.
        let min = pool().warmup_min(45.0, 54.5).expect("reached");
        let run = pool().run(45.0, Some(90.0), &[], min);
        assert!((run[run.len() - 1].c - 54.5).abs() < 0.1, "{:?}", run.last());
    }

    #[test]
    fn what_a_weak_heater_holds_is_where_its_power_is_lost() {
        let weak = Pool { heater_w: 300.0, ..pool() };
        let c = weak.holdable_c();
        assert!((weak.loss_w(c) - 300.0).abs() < 0.01 && (c - 59.5).abs() < 0.5, "{c}");
        assert_eq!(weak.warmup_min(20.0, c + 1.0), None);
        assert!((Pool { heater_w: 9000.0, ..pool() }.holdable_c() - 100.0).abs() < 0.1);
    }

    /// By hand: 1.2 kg × 3.5 kJ/kgK against 12 l × 4.18: (54.5 − 5) × 4.2 / (50.16 + 4.2) = 3.82 K.
    #[test]
    fn mixing_bounds_the_drop_and_the_slab_takes_its_time() {
        let taken = pool().take(54.5, &[meat(1.2)]);
        assert!((taken.drop_k - 3.82).abs() < 0.01, "{taken:?}");
        // By hand: 0.091 m² of meat × 95 W/m²K × 49.5 K = 430 W, and 335 W lost: a heater of 1 kW holds that.
        assert_eq!((taken.lowest_c, taken.recovery_min), (54.5, Some(0.0)));
        let more = pool().take(54.5, &[meat(4.0)]);
        assert!(more.lowest_c > 54.5 - more.drop_k && more.lowest_c < 54.3, "{more:?}");
        let strong = Pool { heater_w: 1500.0, ..pool() }.take(54.5, &[meat(4.0)]);
        assert!(strong.lowest_c > more.lowest_c && strong.recovery_min < more.recovery_min, "{strong:?}");
        let weak = Pool { heater_w: 200.0, ..pool() }.take(54.5, &[meat(1.2)]);
        assert_eq!(weak.recovery_min, None);
        assert!(pool().take(54.5, &[meat(6.0)]).lowest_c < more.lowest_c);
    }

    /// By hand: 50.16 × (54.5 − T) = 1.2 × (17 × 1.9 + 235 + 3.5 × (T + 1)), so T = 44.31.
    #[test]
    fn frozen_food_takes_its_ice_s_heat_too() {
        let taken = pool().take(54.5, &[Load { c: -18.0, ..meat(1.2) }]);
        assert!((taken.drop_k - 10.19).abs() < 0.02, "{taken:?}");
    }

    /// Without heater, cover and surface it is Newton's cooling: exact exponential.
    #[test]
    fn water_left_alone_cools_exponentially() {
        let still = Pool { surface_m2: 0.0, heater_w: 0.0, ..pool() };
        let run = still.run(58.0, None, &[], 300.0);
        let tau_min = still.j_k() / still.loss_w_k / 60.0;
        for p in &run {
            let exact = 22.0 + 36.0 * (-p.min / tau_min).exp();
            assert!((p.c - exact).abs() < 0.02, "{} min: {} {exact}", p.min, p.c);
        }
    }

    /// The slab's series against a computation of the mean temperature by finite differences.
    #[test]
    fn a_load_s_lags_are_those_of_a_slab() {
        let load = meat(1.0);
        let lags = load.lags(55.0);
        let total: f64 = lags.iter().map(|l| l.0).sum();
        assert!((total - load.j_k(55.0)).abs() < 1e-6);
        for s in [120.0, 600.0, 1800.0] {
            let series: f64 = lags.iter().map(|(j, tau)| j / total * (-s / tau).exp()).sum();
            let mean = slab_mean_left(s);
            assert!((series - mean).abs() < 0.004, "{s} s: {series} {mean}");
        }
    }

    /// Explicit finite differences: the share of the step that a slab's mean has still before it.
    fn slab_mean_left(until_s: f64) -> f64 {
        const CELLS: usize = 100;
        let (dx, dt) = (0.0125 / CELLS as f64, 0.02);
        let mut u = [1.0_f64; CELLS];
        let (rho_c, h) = (CONDUCTIVITY / DIFFUSIVITY, 95.0);
        let mut t = 0.0;
        while t < until_s {
            let old = u;
            for i in 0..CELLS {
                let inward = if i == 0 { 0.0 } else { CONDUCTIVITY * (old[i - 1] - old[i]) / dx };
                let outward = if i + 1 == CELLS {
                    -old[i] / (dx / 2.0 / CONDUCTIVITY + 1.0 / h)
                } else {
                    CONDUCTIVITY * (old[i + 1] - old[i]) / dx
                };
                u[i] = old[i] + dt / (rho_c * dx) * (inward + outward);
            }
            t += dt;
        }
        u.iter().sum::<f64>() / CELLS as f64
    }
}
