//! No answered temperature lies outside what the water and the start allow: the maximum principle of conduction.
//!
//! Source: the maximum principle of the heat equation (e.g. Carslaw and Jaeger, *Conduction of Heat in Solids*, 2nd ed.,
//! chapter 1): a body without sources is never hotter than the hottest, nor colder than the coldest, of its start and its
//! surroundings so far. And a trace given by few points is answered as one with a point every minute is, which the solver
//! takes in short steps.
//!
//! `HOLD_STEADY_TRACES=10000 cargo test -p hold-steady-core --test all bounds::` for ten thousand.

use hold_steady_core::bath::{BathPoint, BathTrace};
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{BlockProblem, DEFAULT_CELLS, Initial, Mesh, Problem, Shape, Surface};
use hold_steady_core::heat::{simulate, simulate_block};
use hold_steady_core::units::Length;
use rand_pcg::Pcg64Mcg;
use rand_pcg::rand_core::{RngCore, SeedableRng};
use serde_json::{Value, json};

/// Even between 0 and 1.
fn even(random: &mut Pcg64Mcg) -> f64 {
    (random.next_u64() >> 11) as f64 / (1_u64 << 53) as f64
}

fn within(random: &mut Pcg64Mcg, low: f64, high: f64) -> f64 {
    low + (high - low) * even(random)
}

/// A bath as kitchens have them: turned up or down a little, at once or slowly, read with noise, warmed up, cut off.
fn trace(random: &mut Pcg64Mcg, until: f64) -> Vec<(f64, f64)> {
    let set = within(random, 48.0, 66.0);
    let mut points = vec![(0.0, set)];
    match random.next_u64() % 6 {
        // A small change, as the report had it: everything stands still, and then a fraction of a kelvin.
        0 | 1 => {
            let at = within(random, 20.0, until);
            let by = within(random, -1.0, 1.0);
            points.extend([(at, set), (at + within(random, 0.01, 3.0), set + by)]);
        }
        2 => {
            let at = within(random, 5.0, until);
            points.extend([(at, set), (at + 0.01, set - within(random, 1.0, 30.0))]);
            points.push((at + within(random, 10.0, 90.0), set));
        }
        3 => points = vec![(0.0, within(random, 10.0, 45.0)), (within(random, 5.0, 90.0), set)],
        4 => {
            let mut min = 0.0;
            while min < until {
                min += within(random, 1.0, 12.0);
                points.push((min, set + within(random, -0.5, 0.5)));
            }
        }
        _ => {
            let at = within(random, 10.0, until);
            points.extend([(at, set), (at + within(random, 60.0, 400.0), within(random, 20.0, set))]);
        }
    }
    points
}

fn bath(points: &[(f64, f64)]) -> BathTrace {
    BathTrace::new(points.iter().map(|(min, c)| BathPoint { min: *min, c: *c }).collect())
        .expect("minutes rise")
}

/// The same with a point every minute.
fn dense(points: &[(f64, f64)], until: f64) -> Vec<(f64, f64)> {
    let trace = bath(points);
    let last = points[points.len() - 1].0.min(until);
    let mut all: Vec<f64> =
        (0..=last.ceil() as u32).map(f64::from).chain(points.iter().map(|p| p.0)).collect();
    all.sort_by(f64::total_cmp);
    all.dedup_by(|a, b| *a - *b < 1e-3);
    all.into_iter().map(|min| (min, trace.at(min * 60.0))).collect()
}

fn asked(food: &str, shape: &str, (mm, start, until): (f64, f64, f64), points: &[(f64, f64)]) -> Value {
    let bath: Vec<Value> = points.iter().map(|(min, c)| json!({"min": min, "c": c})).collect();
    json!({"food": food, "shape": shape, "thickness_mm": mm, "start_c": start, "until_min": until, "bath": bath})
}

/// The coldest and the hottest of start and water up to a minute.
fn allowed(start: f64, points: &[(f64, f64)], min: f64) -> (f64, f64) {
    let trace = bath(points);
    let so_far = points.iter().filter(|p| p.0 <= min).map(|p| p.1).chain([trace.at(min * 60.0)]);
    so_far.fold((start, start), |(low, high), c| (low.min(c), high.max(c)))
}

fn count(usual: usize) -> usize {
    std::env::var("HOLD_STEADY_TRACES").ok().and_then(|n| n.parse().ok()).unwrap_or(usual)
}

#[test]
fn no_answered_temperature_is_outside_what_water_and_start_allow() {
    const ROUNDING_K: f64 = 1e-3;
    let foods = [
        ("chicken-breast", "slab"),
        ("beef-strip", "slab"),
        ("salmon-fillet", "slab"),
        ("prawn", "cylinder"),
        ("shell-egg-large", "sphere"),
    ];
    let mut random = Pcg64Mcg::seed_from_u64(22);
    for number in 0..count(600) {
        let (food, shape) = foods[number % foods.len()];
        let until = within(&mut random, 60.0, 600.0);
        let points = trace(&mut random, until);
        let mm = within(&mut random, 4.0, 50.0);
        let start = if number % 7 == 0 { -18.0 } else { within(&mut random, 1.0, 22.0) };
        let request = asked(food, shape, (mm, start, until), &points);
        let answer = hold_steady_core::calc::run("heat", &request).expect("complete");
        for point in answer["curve"].as_array().expect("a curve") {
            let min = point["min"].as_f64().expect("a minute");
            let (low, high) = allowed(start, &points, min);
            for name in ["centre_c", "surface_c", "mean_c"] {
                let c = point[name].as_f64().expect("a temperature");
                assert!(
                    (low - ROUNDING_K..=high + ROUNDING_K).contains(&c),
                    "{min} min, {name} {c}: {request}"
                );
            }
        }
        let often = asked(food, shape, (mm, start, until), &dense(&points, until));
        let often = hold_steady_core::calc::run("heat", &often).expect("complete");
        for (i, kill) in answer["kill"].as_array().expect("organisms").iter().enumerate() {
            let same = often["kill"].as_array().expect("organisms")[i..]
                .iter()
                .chain(often["kill"].as_array().expect("organisms"));
            let other =
                same.into_iter().find(|k| k["organism"] == kill["organism"]).expect("the same organisms");
            let (a, b) = (kill["log10"].as_f64().expect("log"), other["log10"].as_f64().expect("log"));
            assert!((a - b).abs() <= (0.001 * a.max(b)).max(0.05), "{a} for {b} log: {request}");
            match (kill["reached_min"].as_f64(), other["reached_min"].as_f64()) {
                (Some(a), Some(b)) => assert!((a - b).abs() <= 0.3, "{a} for {b} min: {request}"),
                (None, None) => {}
                // Reached within the last tenths of a minute by one of the two.
                (a, b) => assert!(a.or(b).is_some_and(|m| until - m <= 0.3), "{a:?} {b:?}: {request}"),
            }
        }
    }
}

/// Every layer, as the solver itself has it at the ends of its steps, not only as it is told.
#[test]
fn every_layer_keeps_within_start_and_water() {
    // A block is solved to a tolerance four times as wide; what is answered of either is kept within to a thousandth.
    const SOLVER_K: f64 = 0.02;
    let meat = catalogue().food("chicken-breast").expect("in the catalogue").material();
    let mut random = Pcg64Mcg::seed_from_u64(7);
    for number in 0..count(200) / 4 {
        let until = within(&mut random, 60.0, 400.0);
        let points = trace(&mut random, until);
        let mm = Length::from_mm(within(&mut random, 4.0, 40.0));
        let start_c = if number % 5 == 0 { -18.0 } else { 5.0 };
        let minutes: Vec<f64> = (1..=until as u32).map(|m| f64::from(m) * 60.0).collect();
        let surface = Surface { coefficient: 95.0, bath: bath(&points) };
        let (solved, what) = if number % 4 == 3 {
            let problem = BlockProblem {
                size_m: [mm.metres(), mm.metres() * 1.5, mm.metres() * 2.0],
                cells: 6,
                material: &meat,
                start_c,
                surface,
            };
            (simulate_block(&problem, until * 60.0, &minutes).expect("simulates"), "block")
        } else {
            let shape = [Shape::Slab(mm), Shape::Cylinder(mm), Shape::Sphere(mm)][number % 3];
            let problem = Problem::uniform(
                Mesh::graded(shape, DEFAULT_CELLS),
                &meat,
                Initial::Uniform(start_c),
                surface,
            );
            (simulate(&problem, until * 60.0, &minutes).expect("simulates"), "one dimension")
        };
        for profile in &solved.profiles {
            let (low, high) = allowed(start_c, &points, profile.at_s / 60.0);
            for c in profile.celsius.iter().chain(&profile.highest) {
                assert!(
                    (low - SOLVER_K..=high + SOLVER_K).contains(c),
                    "{what}: {c} at {} s of {low} to {high}: {points:?}",
                    profile.at_s
                );
            }
        }
    }
}

/// The three that were reported: a little more heat after everything stood still.
#[test]
fn a_small_change_of_the_setting_makes_no_wave() {
    let bath = [(0.0, 55.0), (90.0, 55.0), (90.01, 55.3)];
    let chicken =
        hold_steady_core::calc::run("heat", &asked("chicken-breast", "slab", (5.0, 5.0, 240.0), &bath));
    let chicken = chicken.expect("complete");
    let hottest = chicken["curve"].as_array().expect("a curve").iter().filter_map(|p| p["centre_c"].as_f64());
    assert!(hottest.fold(0.0, f64::max) <= 55.301);
    let steady = hold_steady_core::calc::run(
        "heat",
        &asked("chicken-breast", "slab", (5.0, 5.0, 240.0), &[(0.0, 55.3)]),
    );
    let log = |answer: &Value| answer["kill"][0]["log10"].as_f64().expect("log");
    assert!(log(&chicken) <= log(&steady.expect("complete")));
}
