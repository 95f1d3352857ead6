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
    /// Source: `data/flesh.json`.
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

/// A face has a little substance of its own, J/m²K, so that it has a temperature.
const FACE_J_M2K: f64 = 20.0;

/// What of a node does not change as it heats and dries: worked out once, for a step asks for it a dozen times.
#[derive(Debug, Clone, Copy)]
pub(super) struct Fixed {
    /// One over its water at first, m²/kg; nothing of the faces.
    pub per_water: f64,
    /// Half its thickness over what it conducts wet, m²K/W.
    pub half_wet: f64,
    /// Its thickness over what it conducts dry, m²K/W.
    pub dry: f64,
    /// Heat capacity without its water, J/m²K; of a face what it has of its own.
    solids_j_m2k: f64,
    /// Heat that melts its fat, J/m², over a range, °C, and how steep that is, J/m²K.
    melting_j_m2: f64,
    melts_c: (f64, f64),
    melting_j_m2k: f64,
}

impl Fixed {
    pub(super) fn of(flesh: &Flesh, m: f64, water: f64) -> Self {
        let (low, high) = flesh.melts_c;
        let melting_j_m2 = flesh.melting_j_m3 * m;
        Self {
            per_water: if water > 0.0 { 1.0 / water } else { 0.0 },
            half_wet: 0.5 * m / flesh.wet_w_mk,
            dry: m / searing().dry_w_mk.value,
            solids_j_m2k: if m == 0.0 { FACE_J_M2K } else { flesh.solids_j_m3k * m },
            melting_j_m2,
            melts_c: flesh.melts_c,
            melting_j_m2k: melting_j_m2 / (high - low),
        }
    }

    /// Enthalpy over 0 °C with so much water, kg/m², at `c` °C, J/m².
    pub(super) fn enthalpy_j_m2(&self, water: f64, c: f64) -> f64 {
        let (low, high) = self.melts_c;
        let melted = self.melting_j_m2k * (c.clamp(low, high) - low);
        (self.solids_j_m2k + water * WATER_J_KGK) * c + melted
    }

    /// Heat capacity with so much water at `c` °C, J/m²K.
    pub(super) fn capacity_j_m2k(&self, water: f64, c: f64) -> f64 {
        let (low, high) = self.melts_c;
        let melting = if (low..high).contains(&c) { self.melting_j_m2k } else { 0.0 };
        self.solids_j_m2k + melting + water * WATER_J_KGK
    }

    /// The temperature at an enthalpy, °C.
    pub(super) fn at_enthalpy(&self, water: f64, j_m2: f64) -> f64 {
        let plain = self.solids_j_m2k + water * WATER_J_KGK;
        let (low, high) = self.melts_c;
        if self.melting_j_m2 <= 0.0 || j_m2 <= plain * low {
            j_m2 / plain
        } else if j_m2 - self.melting_j_m2 >= plain * high {
            (j_m2 - self.melting_j_m2) / plain
        } else {
            (j_m2 + self.melting_j_m2k * low) / (plain + self.melting_j_m2k)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::catalogue;

    #[test]
    fn temperature_and_enthalpy_are_one_through_melting_fat() {
        for id in ["beef-ribeye", "beef-strip", "chicken-breast", "salmon-fillet"] {
            let flesh = Flesh::of(catalogue().food(id).expect("in the catalogue"));
            let layer = Fixed::of(&flesh, 1e-3, 0.7);
            for c in [0.0, 20.0, 30.0, 38.0, 44.0, 55.0, 90.0, 200.0] {
                for water in [0.0, 0.1, 0.7] {
                    let back = layer.at_enthalpy(water, layer.enthalpy_j_m2(water, c));
                    assert!((back - c).abs() < 1e-9, "{id} {c} {back}");
                }
            }
        }
    }
}
