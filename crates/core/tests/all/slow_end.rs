//! The slow end stands at or beyond the 95th percentile of a seeded Monte Carlo, for every food.
//!
//! Source of the criterion: the project's own rule for its spreads: symmetric effects by the root of the sum
//! of their squares, one-sided ones in full. The Monte Carlo draws every input evenly from its spread.

use hold_steady_core::evidence::{EndOfTime, SlowEnd, slow_ends};
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::Shape;
use hold_steady_core::plan::From;
use hold_steady_core::units::Minutes;

fn checked(found: &SlowEnd) {
    for (what, end) in [("through", found.through), ("pasteurised", found.pasteurised)] {
        let Some(end) = end else { continue };
        let named = format!("{} from the {}: {what} {end:?}", found.food, found.from.id());
        assert!(end.holds() && end.slow > end.middle, "{named}");
        // And it is no more than half as long again as the middle: an end, not a scare.
        assert!(end.slow < 1.9 * end.middle + 5.0, "{named}");
    }
}

#[test]
fn every_food_from_the_refrigerator_drawn_anew() {
    const DRAWS: usize = 60;
    for food in catalogue().listed() {
        checked(&SlowEnd::compute(food, From::Refrigerator, DRAWS, 2).expect("simulates"));
    }
}

#[test]
fn frozen_pieces_drawn_anew() {
    const DRAWS: usize = 60;
    for id in ["beef-strip", "chicken-breast", "salmon-fillet", "prawn", "carrot"] {
        let food = catalogue().food(id).expect("in the catalogue");
        checked(&SlowEnd::compute(food, From::Freezer, DRAWS, 2).expect("simulates"));
    }
}

#[test]
fn the_shipped_figures_are_those_of_this_engine() {
    let near = |a: Option<f64>, b: Option<f64>| match (a, b) {
        (Some(a), Some(b)) => (a - b).abs() < 0.01 * b + 0.1,
        (a, b) => a.is_none() && b.is_none(),
    };
    for food in catalogue().listed() {
        let shipped = slow_ends().iter().filter(|s| s.food == food.id);
        assert!(shipped.clone().any(|s| s.from == From::Refrigerator), "{}: no figures", food.id);
        for s in shipped {
            checked(s);
            let request = hold_steady_core::evidence::usual_request(food, s.from);
            // Blocks take long; their figures are drawn anew above.
            if matches!(request.shape(request.thickness_mm), Shape::Block { .. }) {
                continue;
            }
            let pieces = request.pieces(Minutes::new(0.0)).expect("simulates");
            let slow = pieces.slow.run(&[]).expect("simulates");
            let of = |e: Option<EndOfTime>| e.map(|e| e.slow);
            assert!(near(of(s.through), slow.done_min().map(Minutes::value)), "{s:?}: {:?}", slow.done_min());
            if s.pasteurised.is_some() {
                assert!(near(of(s.pasteurised), slow.pasteurised_from_min().map(Minutes::value)), "{s:?}");
            }
        }
    }
}
