//! Cooling against warming: for constant properties they are mirror images, and warming is checked
//! against the exact series (`analytic_series.rs`). The two-stage rule: FDA Food Code 2022, 3-501.14,
//! from memory.

use std::sync::Arc;

use hold_steady_core::bath::BathTrace;
use hold_steady_core::calc;
use hold_steady_core::chill::Cooling;
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{DEFAULT_CELLS, Initial, Material, Mesh, Problem, Shape, Surface, simulate};
use hold_steady_core::units::{Celsius, Length, Minutes};
use serde_json::json;

#[test]
fn cooling_mirrors_warming_for_constant_properties() {
    let meat = Arc::new(Material::constant(1.4e-7, 0.48));
    let shape = Shape::Slab(Length::from_mm(30.0));
    let food = catalogue().food("chicken-breast").expect("in the catalogue");
    let cooling = Cooling {
        food,
        material: Arc::clone(&meat),
        shape,
        start_c: Celsius::new(60.0),
        around_c: Celsius::new(2.0),
        coefficient: 60.0,
        mass_kg: None,
    };
    let down = cooling.run(Minutes::new(180.0)).expect("simulates");
    let surface = Surface { coefficient: 60.0, bath: BathTrace::constant(60.0) };
    let mesh = Mesh::graded(shape, DEFAULT_CELLS);
    let up = simulate(&Problem::uniform(mesh, &meat, Initial::Uniform(2.0), surface), 180.0 * 60.0, &[])
        .expect("simulates");
    for min in (1..180).step_by(7) {
        let t = f64::from(min) * 60.0;
        assert!((down.core.at(t) + up.core.at(t) - 62.0).abs() < 0.02, "{min}");
    }
}

#[test]
fn thicker_and_warmer_around_cool_later() {
    let time = |mm: f64, method: &str| {
        let request = json!({"food": "chicken-breast", "thickness_mm": mm, "start_c": 60, "method": method});
        calc::run("chill", &request).expect("complete")["to_21_min"].as_f64().expect("reached")
    };
    assert!(time(20.0, "ice-bath-stirred") < time(30.0, "ice-bath-stirred"));
    assert!(time(30.0, "ice-bath-stirred") < time(30.0, "ice-bath"));
    assert!(time(30.0, "ice-bath") < time(30.0, "blast") && time(30.0, "blast") < time(30.0, "refrigerator"));
}

#[test]
fn a_thick_piece_in_the_refrigerator_breaks_the_rule_and_ice_keeps_it() {
    let ask = |method: &str| {
        let request = json!({"food": "beef-roast", "shape": "block", "thickness_mm": 60, "width_mm": 90, "length_mm": 150, "start_c": 58, "method": method});
        calc::run("chill", &request).expect("complete")
    };
    let cold = ask("refrigerator");
    assert_eq!(cold["in_time"], false);
    assert!(cold["reasons"][0]["source"].as_str().is_some_and(|s| s.contains("3-501.14")));
    assert_eq!(ask("ice-bath-stirred")["in_time"], true);
}

#[test]
fn what_was_chilled_is_reheated_from_cold_or_frozen() {
    let ask = |start: f64, until: f64| {
        let request = json!({"food": "chicken-breast", "thickness_mm": 25, "start_c": start, "bath_c": 60, "until_min": until, "intact": true, "state": "pasteurized-chilled", "at_risk": true});
        let v = calc::run("heat", &request).expect("complete")["verdict"].clone();
        (v["level"].as_str().expect("a word").to_owned(), v["row"].as_u64().expect("a number"))
    };
    assert_eq!(ask(3.0, 60.0), ("pasteurized".into(), 5));
    assert_eq!(ask(-18.0, 100.0), ("pasteurized".into(), 5));
}
