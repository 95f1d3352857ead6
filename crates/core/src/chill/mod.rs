//! Cooling a cooked piece, safely and in time; and bringing it back.
//!
//! The same conduction as warming, with the hottest point deciding: while a piece cools that is its
//! thermal centre.

use crate::figures::{Basis, Figure, cooling, offers};
use crate::units::{Celsius, Minutes};
use std::collections::BTreeMap;
use std::sync::{Arc, LazyLock};

use serde::Serialize;

use crate::bath::{BathTrace, surroundings};
use crate::food::Food;
use crate::heat::{Detail, HeatError, Material, Shape, Solution, Surface, simulate_shape};
use crate::safety::Reason;
use crate::units::minutes;

/// The ways to cool and the temperature of each, °C.
static METHODS: LazyLock<BTreeMap<String, Figure>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/chill-methods.json")).expect("shipped and tested")
});

/// Names of the ways to cool.
pub(crate) fn methods() -> impl Iterator<Item = &'static str> {
    METHODS.keys().map(String::as_str)
}

/// The temperature of a way to cool.
#[must_use]
pub(crate) fn around(method: &str) -> Option<&'static Figure> {
    METHODS.get(method)
}

/// A piece to be cooled.
#[derive(Debug, Clone)]
pub struct Cooling<'a> {
    /// The food.
    pub food: &'a Food,
    /// What it conducts and stores.
    pub material: Arc<Material>,
    /// Shape and thickness.
    pub shape: Shape,
    /// Temperature throughout when it goes in, °C.
    pub start_c: Celsius,
    /// Temperature of what cools it, °C.
    pub around_c: Celsius,
    /// Coefficient of heat transfer, W/m²K.
    pub coefficient: f64,
    /// All there is of it, kg, for the ice.
    pub mass_kg: Option<f64>,
}

/// A piece on its way down in one of the surroundings of `data/surfaces.json` and `data/chill-methods.json`.
///
/// # Panics
/// When there is none of that name: they are shipped and named in code only.
#[must_use]
pub(crate) fn cooled_in<'a>(method: &str, food: &'a Food, shape: Shape, start_c: Celsius) -> Cooling<'a> {
    Cooling {
        food,
        material: food.material(),
        shape,
        start_c,
        around_c: Celsius::new(around(method).expect("shipped and tested").value),
        coefficient: surroundings()[method].w_m2k,
        mass_kg: None,
    }
}

/// How the cooling went.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Chilled {
    /// Centre down to 21 °C, minutes from when it goes in.
    pub to_21_min: Option<Minutes>,
    /// Centre down to 5 °C.
    pub to_5_min: Option<Minutes>,
    /// Whether both stages keep their times.
    pub in_time: bool,
    /// Ice to take, kg, where the mass is known and ice does the cooling.
    pub ice_kg: Option<f64>,
    /// Why, with the rule's source.
    pub reasons: Vec<Reason>,
}

/// Longest cooling that is followed, minutes.
pub const LONGEST_COOLING_MIN: Minutes = Minutes::from_hours(24.0);

fn reason(limit: &Figure, rule: &str, text: String) -> Reason {
    Reason { rule: rule.into(), text, source: limit.source.clone(), basis: limit.basis }
}

impl Cooling<'_> {
    /// Follows the piece for `until_min` minutes.
    ///
    /// Source: the model of `heat`; how each way cools by `data/chill-methods.json`.
    ///
    /// # Errors
    /// When the simulation fails.
    ///
    /// ```
    /// # use hold_steady_core::{chill::*, food::catalogue, heat::Shape, units::*};
    /// # let breast = catalogue().food("chicken-breast").expect("in the catalogue");
    /// # let cooling = Cooling {
    /// #     food: breast,
    /// #     material: breast.material(),
    /// #     shape: Shape::Slab(Length::from_mm(30.0)),
    /// #     start_c: Celsius::new(60.0),
    /// #     around_c: Celsius::new(0.5),
    /// #     coefficient: 100.0,
    /// #     mass_kg: Some(1.0),
    /// # };
    /// let down = cooling.run(Minutes::from_hours(2.0))?;
    /// assert!(down.core.at(7200.0) < 5.0);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn run(&self, until_min: Minutes) -> Result<Solution, HeatError> {
        let bath = BathTrace::constant(self.around_c.value());
        let surface = Surface { coefficient: self.coefficient, bath };
        let until_s = until_min.seconds();
        let shape = (self.shape, Detail::Fine);
        Ok(simulate_shape(shape, &self.material, self.start_c.value(), surface, until_s, &[], &mut ())?.0)
    }

    /// Judges a cooling by the two-stage rule: from 57 °C to 21 °C within two hours, to 5 °C within six
    /// in all (FDA Food Code 2022, 3-501.14, from memory).
    ///
    /// ```
    /// # use hold_steady_core::{chill::*, food::catalogue, heat::Shape, units::*};
    /// # let breast = catalogue().food("chicken-breast").expect("in the catalogue");
    /// # let cooling = Cooling {
    /// #     food: breast,
    /// #     material: breast.material(),
    /// #     shape: Shape::Slab(Length::from_mm(30.0)),
    /// #     start_c: Celsius::new(60.0),
    /// #     around_c: Celsius::new(0.5),
    /// #     coefficient: 100.0,
    /// #     mass_kg: Some(1.0),
    /// # };
    /// let how = cooling.judge(&cooling.run(LONGEST_COOLING_MIN)?);
    /// assert!(how.in_time && how.to_21_min < how.to_5_min);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn judge(&self, solution: &Solution) -> Chilled {
        let below = |c: Celsius| solution.core.first(0.0, |t| t <= c.value()).map(Minutes::from_seconds);
        // The clock starts when the centre passes 57 °C; a piece that starts colder starts at once.
        let begun = below(cooling().stage_1_from_c.celsius()).unwrap_or(Minutes::ZERO);
        let (to_21, to_5) =
            (below(cooling().stage_1_to_c.celsius()), below(cooling().stage_2_to_c.celsius()));
        let stage = |reached: Option<Minutes>, limit: &'static Figure| {
            let took = reached.map(|m| m - begun);
            let met = took.is_some_and(|m| m <= limit.minutes());
            let text = match took {
                Some(m) => format!("It takes {}; {} is the most.", minutes(m), minutes(limit.minutes())),
                None => format!("It does not get there; {} is the most.", minutes(limit.minutes())),
            };
            (met, text)
        };
        let (first, second) = (&cooling().stage_1_min, &cooling().stage_2_min);
        let (met_1, text_1) = stage(to_21, first);
        let (met_2, text_2) = stage(to_5, second);
        let mut reasons =
            vec![reason(first, "From 57 °C to 21 °C", text_1), reason(second, "To 5 °C in all", text_2)];
        if self.around_c >= cooling().stage_2_to_c.celsius() {
            reasons.push(Reason {
                rule: "Too warm to chill".into(),
                text: "What cools it is itself not colder than 5 °C.".into(),
                source: "Computed from the temperatures given".into(),
                basis: Basis::Computed,
            });
        }
        Chilled { to_21_min: to_21, to_5_min: to_5, in_time: met_1 && met_2, ice_kg: self.ice_kg(), reasons }
    }

    /// Ice to take to cool the piece to the ice's own temperature: the heat to remove, from the piece and from
    /// as much tap water as covers it, over the latent heat of ice, and a margin for the room's. `None` without
    /// a mass, or where no ice does the cooling.
    #[must_use]
    pub(crate) fn ice_kg(&self) -> Option<f64> {
        let mass = self
            .mass_kg
            .filter(|_| self.around_c <= offers().ice_c.celsius() && self.around_c >= Celsius::new(0.0))?;
        let (density, _, _) = self.food.composition.fractions().bulk(self.start_c.value(), 0.0);
        let per_m3 =
            self.material.enthalpy(self.start_c.value()) - self.material.enthalpy(self.around_c.value());
        let heat_kj = (per_m3 / density * mass / 1000.0).max(0.0);
        // Water from the tap brings heat of its own: about 0.19 kg of ice a litre from 15 °C.
        let litres = mass * cooling().ice_water_l_per_kg.value;
        let tap_kj =
            litres * cooling().water_kj_kgk.value * (cooling().tap_c.value - self.around_c.value()).max(0.0);
        let melts = (heat_kj + tap_kj) / cooling().ice_latent_kj_kg.value;
        Some(melts * (1.0 + cooling().ice_margin.value))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::catalogue;
    use crate::units::Length;

    fn breast(mm: f64, around_c: f64, coefficient: f64) -> Cooling<'static> {
        let food = catalogue().food("chicken-breast").expect("in the catalogue");
        Cooling {
            food,
            material: food.material(),
            shape: Shape::Slab(Length::from_mm(mm)),
            start_c: Celsius::new(60.0),
            around_c: Celsius::new(around_c),
            coefficient,
            mass_kg: Some(2.0),
        }
    }

    fn judged(c: &Cooling<'_>) -> Chilled {
        c.judge(&c.run(LONGEST_COOLING_MIN).expect("simulates"))
    }

    #[test]
    fn ice_keeps_both_stages_and_a_refrigerator_does_not() {
        let ice = judged(&breast(30.0, 0.5, 100.0));
        assert!(ice.in_time, "{ice:?}");
        assert!(ice.to_21_min < ice.to_5_min);
        let thick = judged(&breast(60.0, 3.0, 8.0));
        assert!(!thick.in_time);
        let warm = judged(&breast(30.0, 8.0, 100.0));
        assert!(!warm.in_time && warm.to_5_min.is_none() && warm.reasons.len() == 3);
    }

    #[test]
    fn ice_to_melt_by_hand() {
        // 2 kg at about 3.5 kJ/kgK from 60 to 0.5 °C: 416 kJ; 2 l of tap water from 15 °C: 121 kJ; 1.61 kg of
        // ice, and a fifth more.
        let ice = judged(&breast(30.0, 0.5, 100.0)).ice_kg.expect("a mass and ice");
        assert!((ice - 1.93).abs() < 0.07, "{ice}");
        assert_eq!(judged(&breast(30.0, 3.0, 8.0)).ice_kg, None);
    }
}
