//! One line of JSON for `benches/peers/compare.py`: the slab of the performance goal, timed, with its
//! error against the exact series' centre for constant properties.

use std::time::Instant;

use hold_steady_core::bath::BathTrace;
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{DEFAULT_CELLS, Initial, Material, Mesh, Problem, Shape, Surface, simulate};
use hold_steady_core::units::Length;

fn main() {
    const ROUNDS: u32 = 300;
    let run = |meat: &Material| {
        let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
        let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
        let problem = Problem::uniform(mesh, meat, Initial::Uniform(5.0), surface);
        simulate(&problem, 4.0 * 3600.0, &[]).expect("a slab")
    };
    let meat = catalogue().food("beef-strip").expect("in the catalogue").material();
    let mut best = f64::INFINITY;
    for _ in 0..ROUNDS {
        let begun = Instant::now();
        std::hint::black_box(run(&meat));
        best = best.min(begun.elapsed().as_secs_f64());
    }
    let real = run(&meat);
    let constant = run(&Material::constant(1.4e-7, 0.48));
    let minutes = [5.0, 10.0, 20.0, 40.0, 60.0, 90.0, 150.0];
    let core: Vec<f64> = minutes.iter().map(|m| real.core.at(m * 60.0)).collect();
    let series: Vec<f64> = minutes.iter().map(|m| constant.core.at(m * 60.0)).collect();
    println!(
        "{{\"best_s\": {best}, \"steps\": {}, \"core_c\": {core:?}, \"constant_core_c\": {series:?}}}",
        real.steps
    );
}
