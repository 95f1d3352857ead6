//! Bags that float, by Archimedes; worked by hand beside each check.
//!
//! Source of the densities of water: the steam tables (IAPWS), from memory.

use hold_steady_core::figures::preparing;
use hold_steady_core::food::catalogue;
use hold_steady_core::prep::aromatics;
use hold_steady_core::prep::bag::{air, airs, balance, float, seals_asked, water_g_cm3};
use hold_steady_core::units::{Celsius, Grams, Minutes};
use hold_steady_core::words::aromatic_notes;

#[test]
fn water_has_the_density_of_the_steam_tables() {
    for (c, kg_m3) in
        [(4.0, 999.97), (20.0, 998.21), (40.0, 992.22), (60.0, 983.20), (80.0, 971.79), (95.0, 961.89)]
    {
        let got = water_g_cm3(Celsius::new(c)) * 1000.0;
        assert!((got - kg_m3).abs() < 0.08, "{c} °C: {got} {kg_m3}");
    }
}

#[test]
fn archimedes_worked_by_hand() {
    // 500 g at 1.05 g/cm³ are 476.19 ml; one bag of 12 g at 0.93 is 12.90 ml. Water at 60 °C: 0.98320 g/ml.
    // With 20 ml of air: 509.09 ml displace 500.54 g, the bag weighs 512 g: it sinks by 11.46 g.
    let sinks = balance(Grams::new(500.0), 1.05, 0.0, 20.0, 0.0, 1, Celsius::new(60.0));
    assert!((sinks.lift_g + Grams::new(11.46)).value().abs() < 0.05, "{sinks:?}");
    assert_eq!(sinks.ballast_g, Grams::new(0.0));
    // With 40 ml: 529.09 ml displace 520.20 g: it floats by 8.20 g. A gram of steel (7.8 g/cm³) weighs
    // 1 − 0.9832/7.8 = 0.874 g under water: 9.39 g, and a quarter more, 11.73 g.
    let floats = balance(Grams::new(500.0), 1.05, 0.0, 40.0, 0.0, 1, Celsius::new(60.0));
    assert!((floats.lift_g - Grams::new(8.20)).value().abs() < 0.05, "{floats:?}");
    assert!((floats.ballast_g - Grams::new(11.73)).value().abs() < 0.1, "{floats:?}");
    // With that ballast less its margin it hangs; with it, it sinks.
    let hung = floats.lift_g - floats.ballast_g / 1.25 * (1.0 - 0.9832 / 7.8);
    assert!(hung.value().abs() < 0.05, "{hung:?}");
    // A fifth of air in the flesh: 500/1.05/0.8 = 595.24 ml.
    let apple = balance(Grams::new(500.0), 1.05, 0.2, 20.0, 0.0, 1, Celsius::new(60.0));
    assert!((apple.food_ml - 595.24).abs() < 0.01 && apple.lift_g > Grams::new(100.0), "{apple:?}");
}

#[test]
fn vegetables_float_and_meat_sinks() {
    let of = |id: &str, way: &str, bath: f64| {
        let food = catalogue().food(id).expect("in the catalogue");
        float(food, id, Grams::new(500.0), air(way).expect("a way"), 1, Celsius::new(bath))
    };
    assert!(of("beef-strip", "vacuum", 56.0).lift_g < Grams::new(0.0));
    for id in ["apple", "mushroom", "cauliflower", "green-bean"] {
        assert!(of(id, "vacuum", 85.0).ballast_g > Grams::new(0.0), "{id}");
    }
    // More air never sinks a bag, nor does gas.
    let lifts: Vec<_> =
        ["vacuum", "pump", "displacement", "edge"].map(|w| of("carrot", w, 85.0).lift_g).into();
    assert!(lifts.windows(2).all(|w| w[0] < w[1]), "{lifts:?}");
    assert!(of("carrot", "vacuum", 79.0).gas_ml == 0.0 && of("carrot", "vacuum", 85.0).gas_ml > 0.0);
    // A copy of a food has its pores.
    let apple = catalogue().food("apple").expect("in the catalogue");
    let own = hold_steady_core::food::OwnForm {
        name: "Orchard apple".into(),
        ..hold_steady_core::food::OwnForm::of(apple, Default::default())
    };
    let own = own.read("own-1", apple, Default::default()).expect("sound");
    let copied =
        float(own.food().expect("computes"), "apple", Grams::new(500.0), &airs()[0], 1, Celsius::new(85.0));
    assert!(copied.lift_g > Grams::new(50.0));
}

#[test]
fn long_and_hot_baths_ask_for_two_seals() {
    assert_eq!(seals_asked(Celsius::new(56.0), Minutes::new(120.0)), (1, None));
    assert_eq!(seals_asked(Celsius::new(56.0), Minutes::new(36.0 * 60.0)).0, 2);
    assert_eq!(seals_asked(Celsius::new(85.0), Minutes::new(40.0)).0, 2);
}

#[test]
fn aromatics_grow_with_time_and_heat_and_warn_where_they_must() {
    for a in aromatics::aromatics().iter().filter(|a| a.strong_min.is_some()) {
        let at =
            |c: f64, min: f64| aromatics::strength(a, Celsius::new(c), Minutes::new(min)).expect("grows");
        let by_time: Vec<_> = [5.0, 60.0, 240.0, 1000.0, 5000.0].map(|m| at(55.0, m)).into();
        assert!(by_time.windows(2).all(|w| w[0] <= w[1]), "{}", a.id);
        assert!(at(85.0, 120.0) >= at(55.0, 120.0), "{}", a.id);
    }
    let say = |words: &[&str]| {
        aromatic_notes(
            &words.iter().map(|w| (*w).to_owned()).collect::<Vec<_>>(),
            Celsius::new(56.0),
            Minutes::new(180.0),
        )
        .join(" ")
    };
    assert!(say(&["garlic in oil"]).contains("botulism"));
    assert!(say(&["coarse pepper"]).contains("torch"));
    assert!(say(&["a squeeze of lemon juice"]).contains("Acid"));
    assert!(say(&["Red wine"]).contains("Alcohol"));
    assert!(say(&["rosemary"]).contains("strong"));
    assert_eq!(say(&["moonlight"]), "", "what has no note calls for none");
    assert!(preparing().all().iter().all(|(_, f)| f.source.len() > 8));
}
