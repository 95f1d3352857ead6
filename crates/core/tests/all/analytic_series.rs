//! The solver against the exact series for slab, long cylinder and sphere with a convective surface.
//!
//! Source: the classical solution by separation of variables (Carslaw and Jaeger, *Conduction of Heat
//! in Solids*, 2nd ed., sections 3.11, 7.7 and 9.4; Gröber's charts), computed here independently:
//! roots by bisection, Bessel functions from the `libm` crate.

use hold_steady_core::bath::BathTrace;
use hold_steady_core::heat::{DEFAULT_CELLS, Initial, Material, Mesh, Problem, Shape, Surface, simulate};
use hold_steady_core::units::Length;

const DIFFUSIVITY: f64 = 1.4e-7;
const CONDUCTIVITY: f64 = 0.48;
const START: f64 = 5.0;
const BATH: f64 = 60.0;
const THICKNESS_MM: f64 = 30.0;

fn root(f: impl Fn(f64) -> f64, mut low: f64, mut high: f64) -> f64 {
    let sign = f(low).signum();
    for _ in 0..200 {
        let middle = 0.5 * (low + high);
        if f(middle).signum() == sign { low = middle } else { high = middle }
    }
    0.5 * (low + high)
}

/// Unaccomplished temperature at relative radius `x`, from 400 terms.
fn series(p: i32, biot: f64, fourier: f64, x: f64) -> f64 {
    let pi = std::f64::consts::PI;
    let mut sum = 0.0;
    // Zeros of J0 and J1 interlace at intervals near π, so the cylinder's roots are sought between
    // the zeros of J1, where ζ J1/J0 starts from nothing.
    let mut j1_zero = 0.0;
    for n in 0..400 {
        let e = 1e-12;
        let (zeta, c, shape) = match p {
            0 => {
                let z = root(|z| z * z.sin() - biot * z.cos(), n as f64 * pi + e, (n as f64 + 0.5) * pi);
                (z, 4.0 * z.sin() / (2.0 * z + (2.0 * z).sin()), (z * x).cos())
            }
            1 => {
                let next = root(libm::j1, j1_zero + 2.0, j1_zero + 4.2);
                let z = root(|z| z * libm::j1(z) - biot * libm::j0(z), j1_zero + e, next - e);
                j1_zero = next;
                let (j0, j1) = (libm::j0(z), libm::j1(z));
                (z, 2.0 / z * j1 / (j0 * j0 + j1 * j1), libm::j0(z * x))
            }
            _ => {
                let z = root(
                    |z| z * z.cos() - (1.0 - biot) * z.sin(),
                    n as f64 * pi + e,
                    (n as f64 + 1.0) * pi - e,
                );
                let c = 4.0 * (z.sin() - z * z.cos()) / (2.0 * z - (2.0 * z).sin());
                (z, c, if x == 0.0 { 1.0 } else { (z * x).sin() / (z * x) })
            }
        };
        let decay = (-zeta * zeta * fourier).exp();
        sum += c * decay * shape;
        if decay < 1e-14 {
            break;
        }
    }
    sum
}

fn shape(p: i32) -> Shape {
    let d = Length::from_mm(THICKNESS_MM);
    [Shape::Slab(d), Shape::Cylinder(d), Shape::Sphere(d)][p as usize]
}

#[test]
fn centre_and_surface_stay_within_a_twentieth_of_a_kelvin() {
    let radius = THICKNESS_MM / 2000.0;
    let meat = Material::constant(DIFFUSIVITY, CONDUCTIVITY);
    let mut worst = (0.0, String::new());
    for p in 0..3 {
        for biot in [0.1, 0.3, 1.0, 3.0, 10.0, 30.0, 100.0] {
            let h = biot * CONDUCTIVITY / radius;
            let mesh = Mesh::graded(shape(p), DEFAULT_CELLS);
            let surface = Surface { coefficient: h, bath: BathTrace::constant(BATH) };
            let seconds = |fo: f64| fo * radius * radius / DIFFUSIVITY;
            let problem = Problem::uniform(mesh, &meat, Initial::Uniform(START), surface);
            let run = simulate(&problem, seconds(8.0), &[]).expect("a plain slab");
            for fo in [0.02, 0.03, 0.05, 0.08, 0.13, 0.2, 0.35, 0.5, 0.8, 1.3, 2.0, 4.0, 7.9] {
                for (x, curve) in [(0.0, &run.core), (1.0, &run.surface)] {
                    let exact = BATH - (BATH - START) * series(p, biot, fo, x);
                    let error = curve.at(seconds(fo)) - exact;
                    if error.abs() > worst.0 {
                        worst = (error.abs(), format!("p {p} Bi {biot} Fo {fo} x {x}: {error:+.4} K"));
                    }
                }
            }
        }
    }
    println!("worst: {}", worst.1);
    assert!(worst.0 <= 0.05, "{}", worst.1);
}

#[test]
fn the_series_itself_meets_published_coefficients() {
    // One-term coefficients at Bi = 1 (Incropera and DeWitt, table 5.1, from memory): plane wall
    // ζ 0.8603, C 1.1191; cylinder 1.2558, 1.2071; sphere 1.5708, 1.2732. At Fo = 2 one term is all.
    for (p, zeta, c) in
        [(0, 0.8603_f64, 1.1191), (1, 1.2558, 1.2071), (2, std::f64::consts::FRAC_PI_2, 1.2732)]
    {
        let one_term = c * (-zeta * zeta * 2.0).exp();
        assert!((series(p, 1.0, 2.0, 0.0) - one_term).abs() < 2e-4, "p {p}");
    }
}

#[test]
fn energy_is_conserved_and_stored_where_the_temperatures_say() {
    for p in 0..3 {
        let meat = Material::constant(DIFFUSIVITY, CONDUCTIVITY);
        let mesh = Mesh::graded(shape(p), DEFAULT_CELLS);
        let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(BATH) };
        let problem = Problem::uniform(mesh.clone(), &meat, Initial::Uniform(START), surface);
        let run = simulate(&problem, 3000.0, &[3000.0]).expect("a plain slab");
        assert!(((run.heat_in - run.heat_stored) / run.heat_in).abs() < 1e-9);
        // Independently: capacity times the temperatures reported.
        let capacity = CONDUCTIVITY / DIFFUSIVITY;
        let from_profile: f64 =
            run.profiles[0].celsius.iter().zip(&mesh.volumes).map(|(t, v)| capacity * v * (t - START)).sum();
        assert!(((from_profile - run.heat_in) / run.heat_in).abs() < 1e-6);
        // And the heat that h (T_bath − T_surface) has let through, by quadrature of the curve.
        let area = mesh.areas[mesh.cells()];
        let n = 30_000;
        let through: f64 = (0..n)
            .map(|i| (f64::from(i) + 0.5) * 3000.0 / f64::from(n))
            .map(|t| 95.0 * area * (BATH - run.surface.at(t)) * 3000.0 / f64::from(n))
            .sum();
        assert!(((through - run.heat_in) / run.heat_in).abs() < 2e-3, "{through} {}", run.heat_in);
    }
}
