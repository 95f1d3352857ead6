//! Figures and statements with where they come from.

use serde::{Deserialize, Serialize};

use crate::figures::Basis;
use crate::heat::{Composition, Structure};
use crate::units::{Celsius, Kelvin};

/// A composition with where it comes from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SourcedComposition {
    pub(super) water: f64,
    pub(super) protein: f64,
    pub(super) fat: f64,
    #[serde(default)]
    pub(super) carbohydrate: f64,
    #[serde(default)]
    pub(super) fibre: f64,
    pub(super) ash: f64,
    /// Where the values come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

impl SourcedComposition {
    /// The mass fractions.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let lean = food("chicken-breast").composition.fractions();
    /// assert!(lean.water > 0.6 && lean.protein > lean.fat);
    /// ```
    #[must_use]
    pub const fn fractions(&self) -> Composition {
        Composition {
            water: self.water,
            protein: self.protein,
            fat: self.fat,
            carbohydrate: self.carbohydrate,
            fibre: self.fibre,
            ash: self.ash,
        }
    }

    /// The same composition as a kitchen entered it.
    #[must_use]
    pub(crate) const fn entered(c: &Composition, source: String) -> Self {
        Self {
            water: c.water,
            protein: c.protein,
            fat: c.fat,
            carbohydrate: c.carbohydrate,
            fibre: c.fibre,
            ash: c.ash,
            source,
            basis: Basis::Kitchen,
        }
    }
}

/// How a food is built, with where that comes from.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SourcedStructure {
    conductivity_factor: f64,
    melting_kj_per_kg: f64,
    melts_from_c: Celsius,
    melts_until_c: Celsius,
    /// Where the values come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

impl SourcedStructure {
    /// As the solver takes it.
    #[must_use]
    pub(crate) const fn structure(&self) -> Structure {
        Structure {
            conductivity_factor: self.conductivity_factor,
            melting_j_per_kg: self.melting_kj_per_kg * 1000.0,
            melts_from_c: self.melts_from_c.value(),
            melts_until_c: self.melts_until_c.value(),
        }
    }
}

/// One number with where it comes from.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Sourced {
    /// The number.
    pub value: f64,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl Sourced {
    /// The number, of one whose name ends with `_k`.
    #[must_use]
    pub(crate) const fn kelvin(&self) -> Kelvin {
        Kelvin::new(self.value)
    }
}

/// A sentence with where it comes from. Temperatures in it are in °C; see
/// [`Units::sentence`](crate::units::Units::sentence).
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Statement {
    /// The sentence.
    pub text: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}
