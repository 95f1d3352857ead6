//! Frozen starts against Neumann's exact solution of the two-phase Stefan problem.
//!
//! Source: Carslaw and Jaeger, *Conduction of Heat in Solids*, 2nd ed., section 11.2. A half-space
//! frozen at `T_i` below the melting point, its surface held at `T_s` above it; the front stands at
//! `X = 2 λ √(α_l t)`. The root and the error function are computed here, independently.

use hold_steady_core::bath::BathTrace;
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{Initial, Material, Mesh, Problem, Shape, Surface, simulate};
use hold_steady_core::units::Length;

const LATENT: f64 = 306e6;
const SOLID: (f64, f64) = (1.9e6, 2.2);
const LIQUID: (f64, f64) = (4.2e6, 0.58);

/// Neumann's λ for a surface at `ts` and a far temperature `ti`, melting at 0 °C.
fn neumann(ts: f64, ti: f64) -> f64 {
    let (a_l, a_s) = (LIQUID.1 / LIQUID.0, SOLID.1 / SOLID.0);
    let root_pi = std::f64::consts::PI.sqrt();
    let f = |l: f64| {
        let ratio = (a_l / a_s).sqrt();
        let liquid = LIQUID.1 * ts * (-l * l).exp() / (a_l.sqrt() * libm::erf(l));
        let solid = SOLID.1 * ti * (-l * l * ratio * ratio).exp() / (a_s.sqrt() * libm::erfc(l * ratio));
        liquid + solid - l * LATENT * a_l.sqrt() * root_pi
    };
    let (mut low, mut high) = (1e-6, 5.0);
    for _ in 0..200 {
        let m = 0.5 * (low + high);
        if f(m) > 0.0 { low = m } else { high = m }
    }
    0.5 * (low + high)
}

#[test]
fn the_thawing_front_stands_where_neumann_says() {
    let ice = Material::melting(0.0, LATENT, SOLID, LIQUID);
    let (ts, ti) = (30.0, -18.0);
    // Deep enough to count as endless, evenly meshed; a coefficient so large that the surface is the
    // bath's.
    let cells = 600;
    let depth = 0.12;
    let faces: Vec<f64> = (0..=cells).map(|i| depth * f64::from(i) / f64::from(cells)).collect();
    let mesh = Mesh::from_faces(faces, 0);
    let surface = Surface { coefficient: 1e6, bath: BathTrace::constant(ts) };
    let lambda = neumann(ts, ti);
    for minutes in [10.0, 20.0, 40.0, 60.0] {
        let problem = Problem::uniform(mesh.clone(), &ice, Initial::Uniform(ti), surface.clone());
        let seconds = minutes * 60.0;
        let run = simulate(&problem, seconds, &[]).expect("ice melts");
        // The depth melted, from the latent heat each cell has taken up.
        let front: f64 = run
            .enthalpy
            .iter()
            .zip(&mesh.volumes)
            .map(|(h, v)| v * ((h + LATENT) / LATENT).clamp(0.0, 1.0))
            .sum();
        let exact = 2.0 * lambda * (LIQUID.1 / LIQUID.0 * seconds).sqrt();
        assert!((front - exact).abs() / exact < 0.01, "{minutes} min: {front} for {exact}");
    }
}

#[test]
fn a_frozen_steak_conserves_energy_and_takes_longer() {
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    let meat = strip.material();
    let mesh = Mesh::graded(Shape::Slab(Length::from_mm(30.0)), 60);
    let run = |start: f64| {
        let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
        let p = Problem::uniform(mesh.clone(), &meat, Initial::Uniform(start), surface);
        simulate(&p, 4.0 * 3600.0, &[4.0 * 3600.0]).expect("a steak")
    };
    let (cold, frozen) = (run(5.0), run(-18.0));
    assert!(((frozen.heat_in - frozen.heat_stored) / frozen.heat_in).abs() < 1e-6);
    let through = |r: &hold_steady_core::heat::Solution| r.core.first(0.0, |c| c >= 54.5).expect("reached");
    let longer = through(&frozen) / through(&cold);
    // Common practice: half as long again from frozen.
    assert!((1.2..1.7).contains(&longer), "{longer}");
    // The heat taken up is the composition's enthalpy, integrated here by the midpoint rule.
    let composition = strip.composition.fractions();
    let steps = 100_000;
    let width = (55.0 - 5.0) / f64::from(steps);
    let sensible: f64 = (0..steps)
        .map(|i| composition.bulk(5.0 + (f64::from(i) + 0.5) * width, 0.0))
        .map(|(rho, _, c)| rho * c * width)
        .sum();
    let half = 0.015;
    assert!((cold.heat_in / (sensible * half) - 1.0).abs() < 2e-3, "{}", cold.heat_in / (sensible * half));
}

#[test]
fn layers_and_melting_lard_slow_a_pork_belly_by_about_a_third() {
    // Source: the project's own estimate, "about 30 % longer" than the mixing rule alone (from memory): fat and
    // lean in series, and lard melting in the enthalpy.
    use hold_steady_core::bath::BathTrace;
    use hold_steady_core::heat::{DEFAULT_CELLS, Initial, Material, Mesh, Problem, Shape, Surface, simulate};
    use hold_steady_core::units::Length;
    let food = hold_steady_core::food::catalogue().food("pork-belly").expect("in the catalogue");
    let plain = Material::from_composition(&food.composition.fractions(), food.freezing.value);
    let through = |material: &Material| {
        let mesh = Mesh::graded(Shape::Slab(Length::from_mm(40.0)), DEFAULT_CELLS);
        let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(70.0) };
        let problem = Problem::uniform(mesh, material, Initial::Uniform(5.0), surface);
        let run = simulate(&problem, 8.0 * 3600.0, &[]).expect("a belly");
        run.core.first(0.0, |c| c >= 69.5).expect("reached")
    };
    let ratio = through(&food.material()) / through(&plain);
    assert!((1.2..1.4).contains(&ratio), "{ratio}");
}
