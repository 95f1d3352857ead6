//! Salt going into a piece.
//!
//! Sources: the cosine series of an instantaneous source at the face of a slab that nothing leaves (Crank, *The
//! Mathematics of Diffusion*, 2nd ed., section 4.3; Carslaw and Jaeger, 2nd ed., section 14.3, from memory of
//! both). The coefficient is from memory of the sources in `data/prep.json`.

use hold_steady_core::food::catalogue;
use hold_steady_core::prep::salt::{Because, When, advise, depth, diffusion_m2_s, share, usual};
use hold_steady_core::prep::{Prep, Salted, Salting};
use hold_steady_core::units::{Celsius, Grams, Length, Minutes};

/// `1 + 2 Σ (−1)ⁿ cos(nπy/h) exp(−n²π²τ/h²)`, `y` from the centre.
fn series(x_m: f64, half_m: f64, spread: f64) -> f64 {
    let pi = std::f64::consts::PI;
    let y = half_m - x_m;
    let terms = (1..=400).map(|n| {
        let n = f64::from(n);
        let sign = if n % 2.0 == 0.0 { 1.0 } else { -1.0 };
        sign * (n * pi * y / half_m).cos() * (-n * n * pi * pi * spread / (half_m * half_m)).exp()
    });
    1.0 + 2.0 * terms.sum::<f64>()
}

#[test]
fn the_images_are_the_series() {
    let half = 0.016;
    let mut worst: f64 = 0.0;
    for spread in [0.002, 0.01, 0.05, 0.2, 0.5, 1.0, 2.0, 2.99, 3.5].map(|f: f64| f * half * half) {
        for x in [0.0, 0.1, 0.25, 0.5, 0.75, 1.0].map(|f| f * half) {
            worst = worst.max((share(x, half, spread) - series(x, half, spread)).abs());
        }
    }
    println!("worst: {worst:e}");
    assert!(worst < 1e-9, "{worst:e}");
}

#[test]
fn no_salt_is_lost_and_it_only_goes_deeper() {
    let half = 0.012;
    let mut before = -1.0;
    for spread in [1e-7, 1e-6, 5e-6, 2e-5, 1e-4] {
        let n = 4000;
        let mean: f64 =
            (0..n).map(|i| share((f64::from(i) + 0.5) / f64::from(n) * half, half, spread)).sum::<f64>()
                / f64::from(n);
        assert!((mean - 1.0).abs() < 1e-5, "{spread}: {mean}");
        let d = depth(half, spread);
        assert!(
            d.half_mm > Length::from_mm(before) && d.half_mm <= Length::from_mm(half * 1000.0 + 1e-9),
            "{spread}: {d:?}"
        );
        before = if d.half_mm < Length::from_mm(half * 1000.0) { d.half_mm.mm() } else { before };
    }
    assert_eq!(depth(half, 0.0).half_mm, Length::from_mm(0.0));
}

#[test]
fn the_coefficient_is_that_of_its_source_and_grows_with_heat() {
    assert!((diffusion_m2_s(Celsius::new(5.0)) - 2.5e-10).abs() < 1e-15);
    // Salt in water from 25 to 60 °C about doubles (CRC Handbook, from memory: 1.6 to 3.1e-9).
    let ratio = diffusion_m2_s(Celsius::new(60.0)) / diffusion_m2_s(Celsius::new(25.0));
    assert!((1.7..2.8).contains(&ratio), "{ratio}");
}

#[test]
fn a_short_bath_is_salted_before_a_long_one_after_and_nothing_twice() {
    let steak = catalogue().food("beef-strip").expect("in the catalogue");
    let of = |prep: &Prep, bath_min: f64| {
        advise(prep, steak, 0.016, Celsius::new(56.0), Minutes::new(bath_min), Minutes::new(110.0))
    };
    let weighed = Prep { weight_g: Some(Grams::new(420.0)), ..Prep::default() };
    let short = of(&weighed, 120.0);
    assert_eq!((short.when, short.grams), (When::Before, Some(Grams::new(4.2))));
    let long = of(&weighed, 1440.0);
    assert_eq!((long.when, long.depth), (When::After, None));
    let ahead = of(&Prep { salting: Salting::Ahead(48), ..weighed.clone() }, 120.0);
    let (a, b) = (ahead.depth.expect("goes in"), short.depth.expect("goes in"));
    assert!(a.half_mm > b.half_mm + Length::from_mm(2.0), "{a:?} {b:?}");
    for salted in [Salted::Piece, Salted::Batch] {
        let done = of(&Prep { salted, ..weighed.clone() }, 120.0);
        assert_eq!((done.when, done.grams, done.percent), (When::Done, None, 0.0));
        assert!(matches!(done.because, Because::PieceSalted | Because::BatchSalted));
    }
    let chosen = of(&Prep { salting: Salting::Before, ..weighed }, 1440.0);
    assert!((chosen.when, chosen.because) == (When::Before, Because::Chosen { long: true }));
    let cod = catalogue().food("cod-fillet").expect("in the catalogue");
    assert!(usual(cod).value < usual(steak).value);
    let egg = catalogue().food("shell-egg-large").expect("in the catalogue");
    assert_eq!(
        advise(&Prep::default(), egg, 0.023, Celsius::new(63.0), Minutes::new(45.0), Minutes::new(34.0)).when,
        When::Never
    );
}
