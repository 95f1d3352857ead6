//! Bath histories and start states that cooks meet.

use hold_steady_core::bath::{BathHistory, BathPoint, BathTrace, WaterRead, surroundings, under_air_pocket};
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{
    DEFAULT_CELLS, Initial, Material, Mesh, Problem, Shape, Solution, Surface, simulate,
};
use hold_steady_core::units::{Celsius, Length};

fn p(min: f64, c: f64) -> BathPoint {
    BathPoint { min, c }
}

fn run(start: Initial, coefficient: f64, bath: BathTrace) -> Solution {
    let meat = catalogue().food("beef-strip").expect("in the catalogue").material();
    let mesh = Mesh::graded(Shape::Slab(Length::from_mm(30.0)), DEFAULT_CELLS);
    let problem = Problem::uniform(mesh, &meat, start, Surface { coefficient, bath });
    simulate(&problem, 6.0 * 3600.0, &[]).expect("a steak")
}

fn through(s: &Solution, c: f64) -> f64 {
    s.core.first(0.0, |t| t >= c).expect("reached") / 60.0
}

#[test]
fn a_half_space_follows_the_error_function() {
    // Source: Carslaw and Jaeger, *Conduction of Heat in Solids*, 2nd ed., section 2.7: a half-space
    // warmed through a coefficient h. A slab so thick that its middle has not noticed is one.
    let (k, alpha, h, start, bath) = (0.48, 1.4e-7, 95.0, 5.0, 60.0);
    let meat = Material::constant(alpha, k);
    let faces: Vec<f64> = (0..=800).map(|i| 0.15 * f64::from(i) / 800.0).collect();
    let mesh = Mesh::from_faces(faces, 0);
    let surface = Surface { coefficient: h, bath: BathTrace::constant(bath) };
    let minutes = [2.0, 5.0, 10.0, 20.0, 30.0];
    let snapshots: Vec<f64> = minutes.iter().map(|m| m * 60.0).collect();
    let problem = Problem::uniform(mesh.clone(), &meat, Initial::Uniform(start), surface);
    let run = simulate(&problem, 1800.0, &snapshots).expect("a half-space");
    for profile in &run.profiles {
        let t = profile.at_s;
        for depth in [0.002, 0.005, 0.01, 0.02] {
            let root = (alpha * t).sqrt();
            let a = depth / (2.0 * root);
            let grown = (h * depth / k + h * h * alpha * t / (k * k)).exp() * libm::erfc(a + h * root / k);
            let exact = start + (bath - start) * (libm::erfc(a) - grown);
            let r = 0.15 - depth;
            let i = mesh.centres_m.partition_point(|c| *c < r);
            let (x0, x1) = (mesh.centres_m[i - 1], mesh.centres_m[i]);
            let got =
                profile.celsius[i - 1] + (profile.celsius[i] - profile.celsius[i - 1]) * (r - x0) / (x1 - x0);
            assert!((got - exact).abs() < 0.05, "{t} s, {depth} m: {got} for {exact}");
        }
    }
}

#[test]
fn a_bath_that_was_still_warming_costs_time_and_never_gains_any() {
    let hot = run(Initial::Uniform(5.0), 95.0, BathTrace::constant(56.0));
    let warming = BathTrace::new(vec![p(0.0, 25.0), p(40.0, 56.0)]).expect("in order");
    let slow = run(Initial::Uniform(5.0), 95.0, warming);
    assert!(through(&slow, 55.5) > through(&hot, 55.5) + 10.0);
    for min in 1..300 {
        let t = f64::from(min) * 60.0;
        assert!(slow.core.at(t) <= hot.core.at(t) + 0.01, "{min}");
    }
}

#[test]
fn two_steps_a_power_cut_and_a_cooler_with_splashes_are_followed() {
    let two = BathTrace::new(vec![p(0.0, 62.0), p(30.0, 62.0), p(32.0, 55.0)]).expect("in order");
    let two = run(Initial::Uniform(5.0), 95.0, two);
    assert!((two.core.at(5.9 * 3600.0) - 55.0).abs() < 0.05);
    // Read five times, twice an hour and a half apart and once far too cold: what nobody saw is taken the safe way.
    let at = |min: i64| jiff::Timestamp::from_second(1_800_000_000 + min * 60).expect("in range");
    let read = |(min, c): (i64, f64)| WaterRead::reported(at(min), Celsius::new(c)).checked();
    let readings = [(0, 56.0), (60, 56.0), (150, 50.0), (180, 56.0), (182, 56.0)].map(read).to_vec();
    let history = BathHistory { readings, ..BathHistory::set(at(-5), Celsius::new(56.0)) };
    let log = history.trace(at(0)).expect("known");
    let cut = run(Initial::Uniform(5.0), 95.0, log);
    let steady = run(Initial::Uniform(5.0), 95.0, BathTrace::constant(56.0));
    assert!(
        (60..180).all(|m| cut.core.at(f64::from(m) * 60.0) <= steady.core.at(f64::from(m) * 60.0) + 0.01)
    );
    let splashes: Vec<BathPoint> = (0..8)
        .flat_map(|i| {
            let t = 30.0 * f64::from(i);
            [p(t, 56.5), p(t + 29.0, 54.5)]
        })
        .collect();
    let cooler = run(Initial::Uniform(5.0), 50.0, BathTrace::new(splashes).expect("in order"));
    assert!(cooler.surface.at(3.9 * 3600.0) < 56.5 && cooler.core.at(3.9 * 3600.0) > 54.0);
    assert!(((cooler.heat_in - cooler.heat_stored) / cooler.heat_in).abs() < 1e-6);
}

#[test]
fn half_thawed_lies_between_frozen_and_thawed() {
    // Thawed outside, frozen in the middle.
    let profile = (0..DEFAULT_CELLS).map(|i| if i < DEFAULT_CELLS / 2 { -4.0 } else { 1.0 }).collect();
    let time = |s: Initial| through(&run(s, 95.0, BathTrace::constant(55.0)), 54.5);
    let (frozen, half, thawed) =
        (time(Initial::Uniform(-18.0)), time(Initial::Snapshot(profile)), time(Initial::Uniform(1.0)));
    assert!(thawed < half && half < frozen, "{thawed} {half} {frozen}");
    let short = Initial::Snapshot(vec![5.0; 3]);
    let meat = catalogue().food("beef-strip").expect("in the catalogue").material();
    let mesh = Mesh::graded(Shape::Slab(Length::from_mm(30.0)), DEFAULT_CELLS);
    let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
    assert!(simulate(&Problem::uniform(mesh, &meat, short, bath), 60.0, &[]).is_err());
}

#[test]
fn worse_surroundings_take_longer() {
    let time = |h: f64| through(&run(Initial::Uniform(5.0), h, BathTrace::constant(56.0)), 55.0);
    let of = |name: &str| time(surroundings()[name].w_m2k);
    assert!(of("bare-in-stirred-water") < of("circulated-bath") && of("circulated-bath") < of("still-bath"));
    assert!(of("still-bath") < of("touching-bags"));
    assert!(time(under_air_pocket(95.0, 2.0)) > of("touching-bags"));
}

#[test]
fn a_jar_s_glass_is_a_layer_and_costs_time() {
    // Glass: 1.05 W/mK and 4.4e-7 m²/s (common figures for soda-lime glass, from memory).
    let custard = catalogue().food("egg-custard").expect("in the catalogue").material();
    let glass = Material::constant(4.4e-7, 1.05);
    let jar = Shape::Cylinder(Length::from_mm(66.0));
    let (mesh, layer_of) = Mesh::layered(jar, &[(30.0, 40), (3.0, 8)]);
    let materials = layer_of.iter().map(|l| if *l == 0 { &*custard } else { &glass }).collect();
    let surface = || Surface { coefficient: 95.0, bath: BathTrace::constant(85.0) };
    let problem = Problem { mesh, materials, start: Initial::Uniform(20.0), surface: surface() };
    let in_glass = simulate(&problem, 4.0 * 3600.0, &[]).expect("a jar");
    let bare = Mesh::graded(Shape::Cylinder(Length::from_mm(60.0)), DEFAULT_CELLS);
    let bare = Problem::uniform(bare, &custard, Initial::Uniform(20.0), surface());
    let bare = simulate(&bare, 4.0 * 3600.0, &[]).expect("custard");
    assert!(through(&in_glass, 80.0) > through(&bare, 80.0) + 2.0);
    assert!(((in_glass.heat_in - in_glass.heat_stored) / in_glass.heat_in).abs() < 1e-6);
}
