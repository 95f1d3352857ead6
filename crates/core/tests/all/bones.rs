//! A bone in the middle of a chop or a leg is counted as meat. How wrong that is, computed.
//!
//! Source of the bone's properties: cortical bone about 0.54 W/mK, 1,900 kg/m³, 1,300 J/kgK; marrow bone about
//! 0.30 W/mK, 1,200 kg/m³, 2,400 J/kgK (common figures of biomechanics, from memory).

use hold_steady_core::bath::BathTrace;
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{Initial, Material, Mesh, Problem, Shape, Surface, simulate};
use hold_steady_core::units::Length;

/// Minutes until the slowest point is within half a degree of a 57 °C bath.
fn through(shape: Shape, bone: Option<(&Material, f64)>) -> f64 {
    let meat = catalogue().food("lamb-rack").expect("in the catalogue").material();
    let half = shape.half_thickness_m() * 1000.0;
    let bone_mm = bone.map_or(half / 4.0, |b| b.1);
    let (mesh, layer) = Mesh::layered(shape, &[(bone_mm, 24), (half - bone_mm, 48)]);
    let materials =
        layer.iter().map(|l| if *l == 0 { bone.map_or(&*meat, |b| b.0) } else { &*meat }).collect();
    let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(57.0) };
    let problem = Problem { mesh, materials, start: Initial::Uniform(5.0), surface };
    let run = simulate(&problem, 12.0 * 3600.0, &[]).expect("a chop");
    run.core.first(0.0, |c| c >= 56.5).expect("reached") / 60.0
}

#[test]
fn a_bone_counted_as_meat_errs_by_less_than_the_slow_end_allows() {
    let cortical = Material::constant(0.54 / (1900.0 * 1300.0), 0.54);
    let marrow = Material::constant(0.30 / (1200.0 * 2400.0), 0.30);
    for (shape, bone_mm) in [
        (Shape::Slab(Length::from_mm(45.0)), 6.0),
        (Shape::Slab(Length::from_mm(30.0)), 5.0),
        (Shape::Cylinder(Length::from_mm(75.0)), 12.0),
    ] {
        let meat = through(shape, None);
        for bone in [&cortical, &marrow] {
            let with = through(shape, Some((bone, bone_mm)));
            // The slow end stands some 20 to 30 % after the middle (`slow_end`).
            assert!(with < 1.12 * meat, "{shape:?}: {with} with its bone, {meat} as meat");
        }
    }
}
