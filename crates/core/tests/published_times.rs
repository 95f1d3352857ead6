//! Heating and pasteurisation times against published tables.
//!
//! Source: D. Baldwin, *Sous vide cooking: a review*, Int. J. Gastronomy and Food Science 1 (2012)
//! 15–30, and the same author's earlier web guide; the figures are written down from memory. They are
//! rounded there, so heating times may differ by 10 % or 5 minutes, pasteurisation by a quarter hour.

use hold_steady_core::calc;
use serde_json::{Value, json};

fn heat(request: Value) -> Value {
    calc::run("heat", &request).unwrap_or_else(|e| panic!("{e:?}"))
}

fn slab(mm: f64, bath_c: f64, diffusivity: f64) -> Value {
    json!({"food": "beef-strip", "shape": "slab", "thickness_mm": mm, "start_c": 5, "bath_c": bath_c,
           "until_min": 900, "intact": true, "surface_w_m2k": 95,
           "properties": {"diffusivity_m2_s": diffusivity, "conductivity_w_mk": 0.48}})
}

#[test]
fn heating_times_meet_the_published_table() {
    for (mm, published) in
        [(10.0, 19.0), (15.0, 35.0), (20.0, 50.0), (30.0, 90.0), (35.0, 120.0), (45.0, 180.0), (50.0, 210.0)]
    {
        let answer = heat(slab(mm, 55.0, 1.4e-7));
        let got = answer["heated_through_min"].as_f64().expect("reached");
        let allowed = (0.1_f64 * published).max(5.0);
        assert!((got - published).abs() <= allowed, "{mm} mm: {got} for {published}");
    }
}

#[test]
fn pasteurisation_times_meet_the_published_table() {
    for (mm, hours) in [
        (10.0, 2.0),
        (15.0, 2.25),
        (20.0, 2.5),
        (30.0, 3.0),
        (35.0, 3.25),
        (45.0, 4.0),
        (50.0, 4.5),
        (55.0, 5.0),
    ] {
        let answer = heat(slab(mm, 55.0, 1.35e-7));
        let got = answer["pasteurized_min"].as_f64().expect("reached") / 60.0;
        assert!((got - hours).abs() <= 0.25, "{mm} mm: {got} h for {hours} h");
    }
}

#[test]
fn two_remembered_rows_differ_from_a_correct_computation_and_stay_different() {
    // The remembered rows say 2 h for 5 mm and 6 1/2 h for 70 mm. A correct computation gives 1 h 44
    // and 6 h 50: reported, not tuned.
    for (mm, computed) in [(5.0, 104.0), (70.0, 410.0)] {
        let got = heat(slab(mm, 55.0, 1.35e-7))["pasteurized_min"].as_f64().expect("reached");
        assert!((got - computed).abs() <= 3.0, "{mm} mm: {got} for {computed}");
    }
}

#[test]
fn a_25_mm_strip_meets_the_code_and_the_kinetics() {
    // Independent hand computation of the same case with these constants: code 152.6 min, kinetics
    // 154.6; at 54.5 °C the code asks for 180.
    let at_55 = heat(slab(25.0, 55.0, 1.4e-7));
    assert!((at_55["code_min"].as_f64().expect("reached") - 152.6).abs() < 0.5, "{}", at_55["code_min"]);
    assert!((at_55["pasteurized_min"].as_f64().expect("reached") - 154.6).abs() < 0.5);
    assert!((at_55["danger_zone_min"].as_f64().expect("a number") - 66.0).abs() < 0.5);
    let at_54_5 = heat(slab(25.0, 54.5, 1.4e-7));
    assert!((at_54_5["code_min"].as_f64().expect("reached") - 180.0).abs() < 1.0, "{}", at_54_5["code_min"]);
}

#[test]
fn the_slowest_organism_comes_first_and_all_are_reported() {
    let answer = heat(slab(25.0, 55.0, 1.4e-7));
    let kill = answer["kill"].as_array().expect("a list");
    assert_eq!(kill.len(), 3);
    assert_eq!(kill[0]["organism"], "E. coli O157");
    let reached = |i: usize| kill[i]["reached_min"].as_f64().expect("reached");
    assert!((reached(1) - 140.7).abs() < 0.5 && (reached(2) - 127.9).abs() < 0.5);
}
