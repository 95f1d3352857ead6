//! The bag: the air that is left in it, and whether it floats.

use crate::figures::{Basis, Figure, preparing};
use crate::units::{Celsius, Grams, Minutes};
use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::food::{Food, FoodClass};

/// A way to take the air out.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Air {
    /// Identifier.
    pub id: String,
    /// In a few words.
    pub name: String,
    /// What it leaves in a bag, ml.
    pub ml: f64,
    /// How it is done.
    pub how: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

static AIRS: LazyLock<Vec<Air>> =
    LazyLock::new(|| serde_json::from_str(include_str!("../../data/air.json")).expect("shipped and tested"));
static PORES: LazyLock<BTreeMap<String, Figure>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/pores.json")).expect("shipped and tested")
});

/// The ways to take the air out, the simplest first.
///
/// ```
/// assert!(hold_steady_core::prep::bag::airs().iter().any(|a| a.id == "vacuum"));
/// ```
#[must_use]
pub fn airs() -> &'static [Air] {
    &AIRS
}

/// The way with this identifier.
///
/// ```
/// use hold_steady_core::prep::bag::air;
/// assert!(air("vacuum").is_some() && air("straw").is_none());
/// ```
#[must_use]
pub fn air(id: &str) -> Option<&'static Air> {
    AIRS.iter().find(|a| a.id == id)
}

/// Density of water at `c` °C, g/cm³, 0 to 100 °C.
///
/// Source: Kell, J. Chem. Eng. Data 20 (1975) 97–105, from memory; `tests/floating.rs` checks it against the
/// steam tables.
///
/// ```
/// use hold_steady_core::units::Celsius;
/// assert!((hold_steady_core::prep::bag::water_g_cm3(Celsius::new(60.0)) - 0.98320).abs() < 1e-4);
/// ```
#[must_use]
pub fn water_g_cm3(c: Celsius) -> f64 {
    let c = c.value();
    let over = 999.839_52
        + c * (16.945_176
            + c * (-7.987_040_1e-3 + c * (-46.170_461e-6 + c * (105.563_02e-9 - c * 280.542_53e-12))));
    over / (1.0 + 16.879_850e-3 * c) / 1000.0
}

/// Share of a food's volume that is air, with its source; none where it has no pores to speak of.
///
/// ```
/// # use hold_steady_core::{food::*, units::*};
/// # let food = |id| catalogue().food(id).expect("in the catalogue");
/// # use hold_steady_core::prep::bag::pores;
/// assert!(pores(food("apple"), "").is_some() && pores(food("beef-strip"), "").is_none());
/// ```
#[must_use]
pub fn pores(food: &Food, base: &str) -> Option<&'static Figure> {
    PORES.get(&food.id).or_else(|| PORES.get(base))
}

/// What presses a bag up and down, g.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Float {
    /// Weight of the food, g.
    pub food_g: Grams,
    /// Its volume, ml.
    pub food_ml: f64,
    /// Air left when it is closed, ml.
    pub air_ml: f64,
    /// Gas given off in the bath, ml.
    pub gas_ml: f64,
    /// What lifts it, less what it weighs, g: it floats when this is above zero.
    pub lift_g: Grams,
    /// Ballast that sinks it with the margin, g; none when it sinks by itself.
    pub ballast_g: Grams,
}

/// The balance of a bag, by Archimedes: it floats when the water it displaces weighs more than it does.
///
/// `food_g` in grams, `density` of the food without pores in g/cm³, `pores` a share of its volume, `air_ml` and
/// `gas_ml` in the bag, `bags` films of it, in water of `bath_c` °C. The gas is counted at the bath's
/// temperature.
///
/// Source: Archimedes.
///
/// ```
/// use hold_steady_core::{prep::bag::balance, units::{Celsius, Grams}};
/// // 300 g of lean meat and no air sink by themselves; a bag with a glass of air does not.
/// let of = |air_ml| balance(Grams::new(300.0), 1.06, 0.0, air_ml, 0.0, 1, Celsius::new(55.0));
/// assert!(of(0.0).lift_g < Grams::ZERO && of(100.0).ballast_g > Grams::ZERO);
/// ```
#[must_use]
pub fn balance(
    food_g: Grams,
    density: f64,
    pores: f64,
    air_ml: f64,
    gas_ml: f64,
    bags: u8,
    bath_c: Celsius,
) -> Float {
    let water = water_g_cm3(bath_c);
    let food_ml = food_g.value() / density / (1.0 - pores);
    let film_g = preparing().bag_g.value * f64::from(bags);
    let film_ml = film_g / preparing().bag_g_cm3.value;
    let lift_g = Grams::new((food_ml + air_ml + gas_ml + film_ml) * water - film_g) - food_g;
    let steel = preparing().ballast_g_cm3.value;
    // A gram of ballast displaces water too.
    let ballast_g = lift_g.max(Grams::ZERO) / (1.0 - water / steel) * preparing().ballast_margin.value;
    Float { food_g, food_ml, air_ml, gas_ml, lift_g, ballast_g }
}

/// The balance of a food in a bag, `base` the food it was copied from.
///
/// ```
/// # use hold_steady_core::{food::*, units::*};
/// # let food = |id| catalogue().food(id).expect("in the catalogue");
/// # use hold_steady_core::prep::bag::{air, float};
/// let of = |id| float(food(id), "", Grams::new(300.0), air("vacuum").expect("shipped"), 1, Celsius::new(85.0));
/// assert!(of("apple").lift_g > of("carrot").lift_g);
/// ```
#[must_use]
pub fn float(food: &Food, base: &str, food_g: Grams, air: &Air, bags: u8, bath_c: Celsius) -> Float {
    // The raw density: what has not changed by cooking.
    let (kg_m3, _, _) = food.composition.fractions().bulk(20.0, 0.0);
    let gassy = matches!(food.class, FoodClass::Plant | FoodClass::KidneyBean)
        && bath_c >= preparing().gas_from_c.celsius();
    let gas_ml = if gassy { preparing().gas_ml_kg.value * food_g.kilograms() } else { 0.0 };
    balance(food_g, kg_m3 / 1000.0, pores(food, base).map_or(0.0, |p| p.value), air.ml, gas_ml, bags, bath_c)
}

/// Why a bath asks for a second bag.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Seams {
    /// A day or more in the bath opens them.
    LongBath,
    /// Hot water softens them.
    HotWater,
}

/// Bags one in the other that a bath asks for, and why.
///
/// Source: `data/prep.json`, common practice.
///
/// ```
/// use hold_steady_core::{prep::bag::seals_asked, units::{Celsius, Minutes}};
/// assert_eq!(seals_asked(Celsius::new(55.0), Minutes::from_hours(2.0)).0, 1);
/// assert_eq!(seals_asked(Celsius::new(55.0), Minutes::from_hours(48.0)).0, 2);
/// ```
#[must_use]
pub fn seals_asked(bath_c: Celsius, bath_min: Minutes) -> (u8, Option<Seams>) {
    if bath_min >= preparing().double_from_min.minutes() {
        (2, Some(Seams::LongBath))
    } else if bath_c >= preparing().double_from_c.celsius() {
        (2, Some(Seams::HotWater))
    } else {
        (1, None)
    }
}
