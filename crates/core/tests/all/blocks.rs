//! Blocks against the product solution.
//!
//! Source: for constant properties and one coefficient, the unaccomplished temperature of a block is
//! the product of those of three slabs (Carslaw and Jaeger, *Conduction of Heat in Solids*, 2nd ed.,
//! section 5.6; Newman's rule). The slabs come from the solver that `analytic_series.rs` checks.

use hold_steady_core::bath::BathTrace;
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{
    BLOCK_CELLS, BlockProblem, Detail, Initial, Material, Mesh, Problem, Shape, Solution, Surface, simulate,
    simulate_block,
};
use hold_steady_core::piece::Piece;
use hold_steady_core::plan::{KitchenRules, PlanForm, Setting};
use hold_steady_core::units::{Length, Minutes, Units};
use jiff::tz::TimeZone;

fn surface(h: f64, c: f64) -> Surface {
    Surface { coefficient: h, bath: BathTrace::constant(c) }
}

#[test]
fn blocks_follow_the_product_of_three_slabs() {
    let meat = Material::constant(1.4e-7, 0.48);
    let (start, bath) = (5.0, 60.0);
    let mut worst = (0.0, String::new());
    for size in [[0.04, 0.04, 0.04], [0.08, 0.12, 0.18], [0.02, 0.1, 0.2], [0.03, 0.05, 0.3]] {
        for h in [20.0, 95.0, 400.0] {
            let hours = 8.0 * 3600.0;
            let slabs: Vec<Solution> = size
                .iter()
                .map(|d| {
                    let mesh = Mesh::graded(Shape::Slab(Length::from_mm(d * 1000.0)), 80);
                    let p = Problem::uniform(mesh, &meat, Initial::Uniform(start), surface(h, bath));
                    simulate(&p, hours, &[]).expect("a slab")
                })
                .collect();
            let problem = BlockProblem {
                size_m: size,
                cells: BLOCK_CELLS,
                material: &meat,
                start_c: start,
                surface: surface(h, bath),
            };
            let run = simulate_block(&problem, hours, &[]).expect("a block");
            for minutes in [3.0, 6.0, 10.0, 20.0, 40.0, 60.0, 90.0, 120.0, 180.0, 300.0, 470.0] {
                let t = minutes * 60.0;
                let left = |s: &Solution, face: bool| {
                    let c = if face { s.surface.at(t) } else { s.core.at(t) };
                    (bath - c) / (bath - start)
                };
                let centre = left(&slabs[0], false) * left(&slabs[1], false) * left(&slabs[2], false);
                let face = left(&slabs[0], true) * left(&slabs[1], false) * left(&slabs[2], false);
                for (what, exact, got) in
                    [("centre", centre, run.core.at(t)), ("face", face, run.surface.at(t))]
                {
                    let error = got - (bath - (bath - start) * exact);
                    if error.abs() > worst.0 {
                        worst = (
                            error.abs(),
                            format!(
                                "{size:?} h {h} {minutes} min {what}: {error:+.3} K, {} steps",
                                run.steps
                            ),
                        );
                    }
                }
            }
            assert!(((run.heat_in - run.heat_stored) / run.heat_stored).abs() < 0.01, "{size:?} {h}");
        }
    }
    println!("worst: {}", worst.1);
    assert!(worst.0 <= 0.3, "{}", worst.1);
}

#[test]
fn a_block_with_real_properties_lies_between_its_slab_and_its_cube() {
    let food = catalogue().food("pork-shoulder").expect("in the catalogue");
    let meat = food.material();
    let time = |size: [f64; 3]| {
        let p = BlockProblem {
            size_m: size,
            cells: BLOCK_CELLS,
            material: &meat,
            start_c: 5.0,
            surface: surface(95.0, 68.0),
        };
        let run = simulate_block(&p, 24.0 * 3600.0, &[]).expect("a block");
        run.core.first(0.0, |c| c >= 67.5).expect("reached")
    };
    let (cube, block, plate) = (time([0.08; 3]), time([0.08, 0.12, 0.18]), time([0.08, 0.6, 0.6]));
    assert!(cube < block && block < plate, "{cube} {block} {plate}");
    let mesh = Mesh::graded(Shape::Slab(Length::from_mm(80.0)), 60);
    let slab = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), surface(95.0, 68.0));
    let slab =
        simulate(&slab, 24.0 * 3600.0, &[]).expect("a slab").core.first(0.0, |c| c >= 67.5).expect("reached");
    assert!((plate / slab - 1.0).abs() < 0.01, "{plate} {slab}");
}

#[test]
fn a_frozen_block_thaws() {
    let meat = catalogue().food("pork-shoulder").expect("in the catalogue").material();
    let p = BlockProblem {
        size_m: [0.05, 0.08, 0.1],
        cells: BLOCK_CELLS,
        material: &meat,
        start_c: -18.0,
        surface: surface(95.0, 60.0),
    };
    let run = simulate_block(&p, 6.0 * 3600.0, &[3600.0]).expect("a block");
    assert!(run.core.at(6.0 * 3600.0) > 59.0);
    assert_eq!(run.profiles.len(), 1);
    assert!(
        ((run.heat_in - run.heat_stored) / run.heat_stored).abs() < 0.01,
        "{} {}",
        run.heat_in,
        run.heat_stored
    );
}

#[test]
fn a_coarser_mesh_warms_a_hair_later_and_never_sooner() {
    // What the pages and the map are drawn with, beside what an answer that stands alone is solved with.
    // (No outside source: the fine mesh is checked above.)
    let now = "2026-11-25T12:00:00Z".parse().expect("an instant");
    let rules = KitchenRules::default();
    for (food, sizes) in [
        ("beef-chuck", ["60 mm", "110 mm", "180 mm"]),
        ("pork-shoulder", ["90 mm", "120 mm", "150 mm"]),
        ("turkey-breast", ["70 mm", "130 mm", "200 mm"]),
        ("beef-strip", ["32 mm", "", ""]),
        ("shell-egg-large", ["", "", ""]),
    ] {
        for from in ["refrigerator", "freezer"] {
            let food_ = catalogue().food(food).expect("in the catalogue");
            if !food_.may_come_from(from) {
                continue;
            }
            let form = PlanForm {
                food: food.into(),
                thickness: sizes[0].into(),
                width: sizes[1].into(),
                length: sizes[2].into(),
                from: from.into(),
                intact: "whole".into(),
                bath: "62 °C".into(),
                ..PlanForm::default()
            };
            let request = form.read(&Setting::new(Units::default(), now, &TimeZone::UTC, &rules)).request;
            let request = request.expect("complete");
            let of = |detail| {
                let piece = Piece { detail, ..request.pieces(Minutes::new(0.0)).expect("simulates").middle };
                let run = piece.run_until(Minutes::new(30.0 * 60.0), &[]).expect("simulates");
                (run.done_min().expect("heated through"), run.safe_from_min().expect("pasteurised"))
            };
            let fine = of(Detail::Fine);
            for (detail, share) in [(Detail::Page, 0.01), (Detail::Picture, 0.025)] {
                let coarse = of(detail);
                for (a, b) in [(fine.0, coarse.0), (fine.1, coarse.1)] {
                    assert!(
                        b >= a - Minutes::new(0.1),
                        "{food} from the {from} {detail:?}: {b:?} before {a:?}"
                    );
                    assert!(
                        b <= a * (1.0 + share) + Minutes::new(0.5),
                        "{food} from the {from} {detail:?}: {b:?} after {a:?}"
                    );
                }
            }
        }
    }
}
