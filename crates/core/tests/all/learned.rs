//! What a vessel's readings teach: records made by a computation apart from the program's (the same physics, other
//! formulas and another integrator), of which some are clean and some are what a kitchen makes of them.

use hold_steady_core::bath::{Air, BathPoint, Cover, LearnError, Learned, Pool, learn_heater, learn_loss};
use hold_steady_core::units::Units;
use hold_steady_core::words;
use rand_pcg::Pcg64Mcg;
use rand_pcg::rand_core::{RngCore, SeedableRng};

const ROOM_C: f64 = 21.0;
const AIR: Air = Air { room_c: ROOM_C, humidity: 0.5, altitude_m: 0.0 };
/// How far what the shape says of a loss may be off, as the program has it.
const SHAPE_SD: f64 = 0.3;

/// Vapour pressure over water, Pa (A. L. Buck, 1996, from memory).
fn buck_pa(c: f64) -> f64 {
    611.21 * ((18.678 - c / 234.5) * (c / (257.14 + c))).exp()
}

/// What evaporates of a square metre into still air takes, W: McAdams' film for rising air, Lewis' analogy, Stefan's flow.
fn vapour_w_m2(c: f64) -> f64 {
    let (over, away, p) = (buck_pa(c), 0.5 * buck_pa(ROOM_C), 101_325.0);
    if over <= away {
        return 0.0;
    }
    let virtual_k = |c: f64, e: f64| (c + 273.15) / (1.0 - 0.378 * e / p);
    let film_k = (c + ROOM_C) / 2.0 + 273.15;
    let (density, k) = (p / 287.05 / film_k, 0.0241 + 7.2e-5 * (film_k - 273.15));
    let viscosity = 1.72e-5 * (film_k / 273.15).powf(0.76);
    let warmer = (virtual_k(c, over) - virtual_k(ROOM_C, away)).max(0.5);
    let film = 0.14 * k * (9.81 * warmer / film_k * density / viscosity * density * 1007.0 / k).cbrt();
    let transfer = film / (density * 1007.0 * 0.87_f64.powf(2.0 / 3.0));
    let stefan = p / ((over - away) / ((p - away) / (p - over)).ln());
    transfer
        * stefan
        * (over / 461.5 / (c + 273.15) - away / 461.5 / (ROOM_C + 273.15))
        * (2.501e6 - 2361.0 * c)
}

/// A vessel as it truly is.
#[derive(Clone, Copy)]
struct Truth {
    litres: f64,
    surface_m2: f64,
    cover: Cover,
    loss_w_k: f64,
    vapour: f64,
    heater_w: f64,
}

impl Truth {
    /// As the program has it: its shape loses something else.
    fn pool(&self, shape: f64) -> Pool {
        Pool {
            litres: self.litres,
            vessel_kj_k: 0.9,
            surface_m2: self.surface_m2,
            cover: self.cover,
            loss_w_k: self.loss_w_k * shape,
            heater_w: 0.0,
            vapour: 1.0,
            air: AIR,
        }
    }

    /// What its cover leaves of the evaporation.
    fn share(&self) -> f64 {
        match self.cover {
            Cover::None => 1.0,
            Cover::Lid => 0.05,
            Cover::Foil => 0.1,
            Cover::Balls => 0.2,
        }
    }

    /// Each second by Runge and Kutta's fourth order: `power` says what its heater gives at a second and a temperature.
    fn run(&self, from_c: f64, minutes: f64, power: impl Fn(f64, f64) -> f64) -> Vec<f64> {
        let share = self.share();
        let j_k = (self.litres * 4.18 + 0.9) * 1000.0;
        let rate = |s: f64, c: f64| {
            let vapour = self.vapour * share * self.surface_m2 * vapour_w_m2(c);
            (power(s, c) - self.loss_w_k * (c - ROOM_C) - vapour) / j_k
        };
        let mut c = from_c;
        let mut all = vec![c];
        for s in 0..(minutes * 60.0) as usize {
            let s = s as f64;
            let a = rate(s, c);
            let b = rate(s + 0.5, c + a / 2.0);
            let d = rate(s + 0.5, c + b / 2.0);
            let e = rate(s + 1.0, c + d);
            c += (a + 2.0 * b + 2.0 * d + e) / 6.0;
            all.push(c);
        }
        all
    }
}

/// What a thermometer that shows tenths reads of it, each so many minutes, with an error of this standard deviation.
fn read(truth: &[f64], every_min: f64, sd: f64, seed: u64) -> Vec<BathPoint> {
    let mut rng = Pcg64Mcg::seed_from_u64(seed);
    let mut normal = || {
        // The sum of twelve evenly spread numbers is near enough to normal.
        (0..12).map(|_| f64::from(rng.next_u32()) / f64::from(u32::MAX)).sum::<f64>() - 6.0
    };
    let step = (every_min * 60.0) as usize;
    let at =
        |s: usize| BathPoint { min: s as f64 / 60.0, c: ((truth[s] + sd * normal()) * 10.0).round() / 10.0 };
    (0..truth.len()).step_by(step).map(at).collect()
}

const VESSELS: [Truth; 5] = [
    Truth { litres: 11.0, surface_m2: 0.08, cover: Cover::Lid, loss_w_k: 2.4, vapour: 1.0, heater_w: 900.0 },
    Truth { litres: 18.0, surface_m2: 0.12, cover: Cover::Lid, loss_w_k: 1.1, vapour: 1.3, heater_w: 1400.0 },
    Truth {
        litres: 6.0,
        surface_m2: 0.045,
        cover: Cover::None,
        loss_w_k: 2.5,
        vapour: 1.0,
        heater_w: 1000.0,
    },
    Truth {
        litres: 26.0,
        surface_m2: 0.16,
        cover: Cover::Balls,
        loss_w_k: 4.0,
        vapour: 1.6,
        heater_w: 2000.0,
    },
    Truth {
        litres: 14.0,
        surface_m2: 0.09,
        cover: Cover::None,
        loss_w_k: 3.0,
        vapour: 1.5,
        heater_w: 1200.0,
    },
];

/// A record: what was learned of it, and what is true.
struct Record {
    name: String,
    kind: Kind,
    got: Result<Learned, LearnError>,
    truth: f64,
    of: Truth,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    Clean,
    BandedOrLate,
    NoisyOrSparse,
}

impl Record {
    /// How far off it is, as a share, and how far it says that it may be.
    fn said(&self) -> Option<(f64, f64)> {
        let l = self.got.as_ref().ok()?;
        if let Some((whole_w, spread)) = l.whole_w.zip(l.whole_spread) {
            let c = f64::midpoint(l.from_c, l.to_c);
            let vapour = self.of.vapour * self.of.share() * self.of.surface_m2 * vapour_w_m2(c);
            return Some((whole_w / (self.of.loss_w_k * (c - ROOM_C) + vapour) - 1.0, spread));
        }
        let (value, spread) = (l.heater_w.or(l.loss_w_k)?, l.heater_spread.or(l.loss_spread)?);
        Some((value / self.truth - 1.0, spread))
    }
}

fn warm_up(name: &str, kind: Kind, (n, seed): (usize, u64), truth: &[f64], how: (f64, f64)) -> Record {
    // What its shape says is off, once to one side and once to the other.
    let shape = [0.8, 1.25, 1.0][n % 3];
    let v = VESSELS[n % VESSELS.len()];
    let got = learn_heater(&v.pool(shape), SHAPE_SD, &read(truth, how.0, how.1, n as u64 + 7 + 1000 * seed));
    Record { name: format!("{name} {n}"), kind, got, truth: v.heater_w, of: v }
}

fn cool_down(name: &str, kind: Kind, (n, seed): (usize, u64), truth: &[f64], how: (f64, f64)) -> Record {
    let v = VESSELS[n % VESSELS.len()];
    let got = learn_loss(&v.pool(1.0), &read(truth, how.0, how.1, n as u64 + 31 + 1000 * seed));
    Record { name: format!("{name} {n}"), kind, got, truth: v.loss_w_k, of: v }
}

/// Full power until a band before the setting, within which it throttles in proportion.
fn banded(v: Truth, set_c: f64, band_k: f64) -> impl Fn(f64, f64) -> f64 {
    move |_, c| v.heater_w * ((set_c - c) / band_k).clamp(0.0, 1.0)
}

fn sixty(seed: u64) -> Vec<Record> {
    use Kind::{BandedOrLate, Clean, NoisyOrSparse};
    let full = |v: Truth, from: f64, min: f64| v.run(from, min, move |_, _| v.heater_w);
    let off = |v: Truth, from: f64, min: f64| v.run(from, min, |_, _| 0.0);
    let mut all = Vec::new();
    for n in 0..10 {
        let v = VESSELS[n % 5];
        let from = if n < 5 { 15.0 } else { 35.0 };
        all.push(warm_up("clean warm-up", Clean, (n, seed), &full(v, from, 22.0), (1.0, 0.03)));
        // Long enough that even what is open shows what of it is vapour.
        all.push(cool_down(
            "clean cool-down",
            Clean,
            (n, seed),
            &off(v, if n < 5 { 85.0 } else { 75.0 }, 600.0),
            (5.0, 0.03),
        ));
    }
    for n in 0..10 {
        let v = VESSELS[n % 5];
        // The first five come from far below, the others begin within the band or just under it.
        let from = if n < 5 { 25.0 } else { 50.0 };
        let band = [8.0, 5.0, 10.0, 4.0, 8.0][n % 5];
        let water = v.run(from, 60.0, banded(v, 56.0, band));
        let until = water.iter().position(|c| *c >= 55.0).unwrap_or(water.len());
        all.push(warm_up("banded", BandedOrLate, (n, seed), &water[..until], (1.0, 0.03)));
        let late = [20.0, 7.0, 33.0, 12.0, 4.0][n % 5] * 60.0;
        let water =
            v.run(if n < 5 { 18.0 } else { 40.0 }, 55.0, move |s, _| if s < late { 0.0 } else { v.heater_w });
        let until = water.iter().position(|c| *c >= 90.0).unwrap_or(water.len());
        all.push(warm_up("late", BandedOrLate, (n, seed), &water[..until], ([1.0, 5.0][n / 5], 0.03)));
    }
    for (n, v) in VESSELS.into_iter().enumerate() {
        all.push(warm_up("noisy", NoisyOrSparse, (n, seed), &full(v, 20.0, 20.0), (0.5, 0.3)));
        all.push(warm_up("sparse", NoisyOrSparse, (n, seed), &full(v, 20.0, 24.0), (6.0, 0.1)));
    }
    for n in [0, 1, 3] {
        let v = VESSELS[n];
        all.push(cool_down("noisy", NoisyOrSparse, (n, seed), &off(v, 62.0, 420.0), (2.0, 0.3)));
        all.push(cool_down("sparse", NoisyOrSparse, (n, seed), &off(v, 62.0, 360.0), (60.0, 0.05)));
    }
    // An open pot that falls by little: its walls and its vapour cannot be told apart.
    for n in [2, 4] {
        all.push(cool_down(
            "short and open",
            NoisyOrSparse,
            (n, seed),
            &off(VESSELS[n], 60.0, 40.0),
            (5.0, 0.05),
        ));
    }
    all.push(cool_down("two readings", NoisyOrSparse, (0, seed), &off(VESSELS[0], 60.0, 60.0), (60.0, 0.05)));
    all.push(cool_down(
        "two readings",
        NoisyOrSparse,
        (1, seed),
        &off(VESSELS[1], 60.0, 300.0),
        (300.0, 0.05),
    ));
    all
}

/// What the requirement asks: clean records are learned within 5 %, banded and late ones within that or refused, all
/// others within what is said of them or refused; and nothing is said no better than within 15 %.
fn good(r: &Record) -> bool {
    let Some((off, spread)) = r.said() else { return r.kind != Kind::Clean };
    let within = if r.kind == Kind::NoisyOrSparse { spread } else { 0.05 };
    off.abs() <= within && spread <= 0.15
}

#[test]
fn records_teach_what_is_true_or_nothing() {
    let all: Vec<Record> = (0..4).flat_map(sixty).collect();
    let wrong: Vec<String> = all
        .iter()
        .filter(|r| !good(r))
        .map(|r| format!("{}: {:?} where {} is true", r.name, r.got, r.truth))
        .collect();
    assert!(all.len() == 240 && wrong.is_empty(), "{}", wrong.join("\n"));
    // Not by refusing all of them; and what cannot be told apart is refused as that.
    let learned = |kind: Kind| all.iter().filter(|r| r.kind == kind && r.got.is_ok()).count();
    assert!(learned(Kind::BandedOrLate) >= 56 && learned(Kind::NoisyOrSparse) >= 56);
    // What a short fall of an open pot does not tell apart is said together.
    let open = all.iter().filter(|r| r.name.starts_with("short and open"));
    assert!(open.filter_map(|r| r.got.as_ref().ok()).all(|l| l.whole_w.is_some() && l.loss_spread.is_none()));
}

/// A cooler loses some thirty watts: half of it under its lid. What it loses in all is learned of an evening.
#[test]
fn a_cooler_s_evening_teaches_what_it_loses_in_all() {
    let cooler = Truth {
        litres: 18.0,
        surface_m2: 0.12,
        cover: Cover::Lid,
        loss_w_k: 0.5,
        vapour: 1.3,
        heater_w: 0.0,
    };
    let water = cooler.run(62.0, 240.0, |_, _| 0.0);
    let got = learn_loss(&cooler.pool(3.0), &read(&water, 20.0, 0.05, 3)).expect("it falls");
    let (whole, spread) = got.whole_w.zip(got.whole_spread).expect("the two together");
    let c = f64::midpoint(got.from_c, got.to_c);
    let truth = 0.5 * (c - ROOM_C) + 1.3 * 0.05 * 0.12 * vapour_w_m2(c);
    assert!((whole / truth - 1.0).abs() <= spread && spread <= 0.1, "{whole} {truth} {spread}");
    assert!(words::learned(&got, Units::default()).contains("evaporation and all"));
}

/// Food that nobody wrote down leaves no trace in a straight rise: so it is said with each power that is learned.
#[test]
fn what_lay_in_it_unsaid_is_not_seen_and_so_it_is_said() {
    let v = VESSELS[0];
    // Two kilograms that take the water's heat with it from the first minute on: as if it were 1.7 l more.
    let with = Truth { litres: v.litres + 2.0 * 3.5 / 4.18, ..v };
    let water = with.run(20.0, 25.0, move |_, _| v.heater_w);
    let got = learn_heater(&v.pool(1.0), SHAPE_SD, &read(&water, 1.0, 0.02, 5)).expect("straight");
    let learned = got.heater_w.expect("learned");
    assert!(learned < 0.9 * v.heater_w && got.residual_k < 0.1, "{got:?}");
    assert!(words::learned(&got, Units::default()).contains("if nothing lay in it"));
}

/// Readings that no heater makes are refused with the reason, and with what to do.
#[test]
fn scattered_readings_are_refused_and_the_way_out_is_named() {
    let v = VESSELS[0];
    let water = v.run(20.0, 25.0, move |_, _| v.heater_w);
    let got = learn_heater(&v.pool(1.0), SHAPE_SD, &read(&water, 1.0, 0.9, 11));
    let Err(why) = got else { panic!("{got:?}") };
    let said = words::not_learned(why, Units::default());
    assert!(said.contains("nothing in it") || said.contains("Read more"), "{why:?}: {said}");
}
