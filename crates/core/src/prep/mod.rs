//! Before the bath: salting, what goes into the bag, closing it, keeping it under.
//!
//! - [`PrepForm`]: what is typed about it; [`Prep`]: what was understood, and what is stored;
//! - [`salt`]: how much, when, and how deep it will have gone;
//! - [`bag`]: the air that is left, and whether it floats;
//! - [`aromatics`]: what grows strong, sours or burns.

pub mod aromatics;
pub mod bag;
mod form;
pub mod salt;

pub use form::PrepForm;

use crate::food::Pantry;
use crate::units::{Grams, Minutes};
use serde::{Deserialize, Serialize};

/// What was salted before this plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Salted {
    /// Nothing.
    #[default]
    No,
    /// This piece.
    Piece,
    /// Its batch, before it was frozen.
    Batch,
}

/// When the cook wants to salt.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Salting {
    /// By the length of the bath.
    #[default]
    Auto,
    /// Just before the bath.
    Before,
    /// After it.
    After,
    /// Hours before.
    Ahead(u32),
    /// Not at all.
    Never,
}

/// How several pieces lie in one bag.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Arrangement {
    /// In one layer, with water between them.
    #[default]
    Apart,
    /// In one layer, side by side: heat comes in from above and below only.
    Touching,
    /// One on the other: twice as thick.
    Stacked,
}

/// How the bag is kept under.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Hold {
    /// Clipped to the wall.
    #[default]
    Clip,
    /// Upright in a rack.
    Rack,
    /// With weights in the bag or on it.
    Ballast,
}

/// What was understood of the work before the bath.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Prep {
    /// Weight of what is in one bag, g.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub weight_g: Option<Grams>,
    /// Salt by weight of the food, per cent; the usual for its class where nobody said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub salt_percent: Option<f64>,
    /// What was salted already.
    pub salted: Salted,
    /// Name of the batch it comes from.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub batch: String,
    /// When it is salted.
    pub salting: Salting,
    /// What else is in the bag, as typed, in order.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub in_bag: Vec<String>,
    /// How the air is taken out: identifier of a [`bag::Air`].
    pub air: String,
    /// Seals, or bags one in the other; as many as it needs where nobody said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub seals: Option<u8>,
    /// Pieces in one bag.
    pub pieces: u32,
    /// How they lie.
    #[serde(rename = "lie")]
    pub arrangement: Arrangement,
    /// How it is kept under.
    pub hold: Hold,
}

impl Default for Prep {
    fn default() -> Self {
        Self {
            weight_g: None,
            salt_percent: None,
            salted: Salted::No,
            batch: String::new(),
            salting: Salting::Auto,
            in_bag: Vec::new(),
            air: bag::airs()[0].id.clone(),
            seals: None,
            pieces: 1,
            arrangement: Arrangement::Apart,
            hold: Hold::Clip,
        }
    }
}

impl Prep {
    /// The same with what a kitchen remembers of its batch: one that was salted is not salted again.
    #[must_use]
    pub(crate) fn remembered(self, pantry: &Pantry) -> Self {
        let salted = !self.batch.is_empty() && pantry.salted.contains(&self.batch.to_lowercase());
        if salted && self.salted == Salted::No { Self { salted: Salted::Batch, ..self } } else { self }
    }

    /// How long before the drop the work begins when it is salted hours ahead, minutes.
    ///
    /// ```
    /// use hold_steady_core::{prep::{Prep, Salting}, units::Minutes};
    /// assert_eq!(Prep { salting: Salting::Ahead(24), ..Prep::default() }.ahead_min(), Minutes::from_hours(24.0));
    /// ```
    #[must_use]
    pub fn ahead_min(&self) -> Minutes {
        match (self.salted, self.salting) {
            (Salted::No, Salting::Ahead(hours)) => Minutes::from_hours(f64::from(hours)),
            _ => Minutes::new(0.0),
        }
    }

    /// How several pieces lie: one piece lies apart.
    #[must_use]
    pub(crate) fn arranged(&self) -> Arrangement {
        if self.pieces > 1 { self.arrangement } else { Arrangement::Apart }
    }
}
