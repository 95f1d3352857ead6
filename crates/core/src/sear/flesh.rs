//! What the sear needs to know of a food: its water apart from what is left without it.

use crate::figures::searing;
use crate::food::Food;
use crate::heat::Structure;

/// A food whose water can leave it. Properties at the temperature of a cooked piece; fat melts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flesh {
    /// Water, kg/m³.
    pub water_kg_m3: f64,
    /// Heat capacity of everything but its water, J/m³K.
    pub solids_j_m3k: f64,
    /// Conductivity with all its water, W/mK.
    pub wet_w_mk: f64,
    /// Heat that melts its fat, J/m³, spread evenly over a range, °C.
    pub melting_j_m3: f64,
    /// That range.
    pub melts_c: (f64, f64),
}

/// Specific heat of water, J/kgK.
pub(super) const WATER_J_KGK: f64 = 4180.0;

impl Flesh {
    /// Of a food of the catalogue.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::Flesh};
    /// let strip = Flesh::of(catalogue().food("beef-strip").expect("in the catalogue"));
    /// assert!((650.0..800.0).contains(&strip.water_kg_m3) && (0.4..0.6).contains(&strip.wet_w_mk));
    /// ```
    #[must_use]
    pub fn of(food: &Food) -> Self {
        const WARM_C: f64 = 60.0;
        let all = food.composition.fractions();
        let (density, conductivity, capacity) = all.bulk(WARM_C, 0.0);
        let water_kg_m3 = density * all.water;
        let structure = food.structure.as_ref().map_or_else(Structure::default, |s| s.structure());
        Self {
            water_kg_m3,
            solids_j_m3k: (density * capacity - water_kg_m3 * WATER_J_KGK).max(0.05 * density * capacity),
            wet_w_mk: conductivity * structure.conductivity_factor,
            melting_j_m3: density * all.fat * structure.melting_j_per_kg,
            melts_c: (structure.melts_from_c, structure.melts_until_c.max(structure.melts_from_c + 0.1)),
        }
    }

    /// Fat and skin of poultry: melted where it comes from a bath; that it runs out is not modelled.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::Flesh};
    /// let duck = Flesh::of(catalogue().food("duck-breast").expect("in the catalogue"));
    /// assert!(Flesh::under_skin().wet_w_mk < duck.wet_w_mk / 2.0);
    /// ```
    #[must_use]
    pub fn under_skin() -> Self {
        let f = searing();
        Self {
            water_kg_m3: f.fat_water_kg_m3.value,
            solids_j_m3k: f.fat_solids_j_m3k.value,
            wet_w_mk: f.fat_w_mk.value,
            melting_j_m3: 0.0,
            melts_c: (0.0, 0.1),
        }
    }
}
