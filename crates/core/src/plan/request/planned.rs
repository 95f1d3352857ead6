//! The food of a plan as it was when it was planned, its vessel, and whom it is for.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::Unfit;
use crate::bath::Vessel;
use crate::food::{Food, OwnFood, catalogue};
use crate::units::{Kelvin, shortened};

/// The food of a plan, found once: a value of this type always has one. An unknown identifier is refused
/// where a record or a sentence is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "FoodRecord", into = "FoodRecord")]
pub struct PlannedFood(Origin);

#[derive(Debug, Clone, PartialEq)]
enum Origin {
    Shipped(&'static Food),
    /// A plan stays what it was when the kitchen changes its food later.
    Own(Box<OwnFood>),
}

/// As it is stored.
#[derive(Clone, Serialize, Deserialize)]
struct FoodRecord {
    pub(super) food: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub(super) own: Option<OwnFood>,
}

impl PlannedFood {
    /// A food of the catalogue, or one of the kitchen's own that can be computed with.
    ///
    /// # Errors
    /// In words, with the name that is not known or the fields that cannot be taken.
    pub(crate) fn find(id: &str, own: Option<OwnFood>) -> Result<Self, Unfit> {
        let Some(own) = own else {
            let food = catalogue().food(id);
            return food
                .map(|f| Self(Origin::Shipped(f)))
                .ok_or_else(|| format!("the food “{}” is not in the catalogue", shortened(id)).into());
        };
        if own.id != id {
            return Err(format!(
                "the food “{}” comes with the copy of another, “{}”",
                shortened(id),
                shortened(&own.id)
            )
            .into());
        }
        own.build().map_err(|errors| {
            let all: Vec<String> =
                errors.into_iter().map(|(field, text)| format!("{field}: {text}")).collect();
            format!("the food “{}”: {}", shortened(id), all.join(" "))
        })?;
        Ok(Self(Origin::Own(Box::new(own))))
    }

    /// The food.
    #[must_use]
    pub(crate) fn get(&self) -> &Food {
        match &self.0 {
            Origin::Shipped(food) => food,
            Origin::Own(own) => own.food().expect("built when it was found"),
        }
    }

    /// The kitchen's own, where it is one.
    #[must_use]
    pub(crate) fn own(&self) -> Option<&OwnFood> {
        match &self.0 {
            Origin::Shipped(_) => None,
            Origin::Own(own) => Some(own),
        }
    }
}

impl TryFrom<FoodRecord> for PlannedFood {
    type Error = Unfit;
    fn try_from(record: FoodRecord) -> Result<Self, Unfit> {
        Self::find(&record.food, record.own)
    }
}

impl std::convert::From<PlannedFood> for FoodRecord {
    fn from(food: PlannedFood) -> Self {
        Self { food: food.get().id.clone(), own: food.own().cloned() }
    }
}

/// The vessel of a plan, as it was when the plan was made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct InVessel {
    /// Which.
    pub id: Uuid,
    /// It.
    pub vessel: Vessel,
    /// All that goes in, kg.
    pub kg: f64,
    /// It goes in while the water still warms.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub warming: bool,
    /// How much too high the thermometer may read that it is read with, K.
    pub reads_high_k: Kelvin,
}

/// The guest a plan is for, as it must be known when nobody remembers them: by number. What they are called stands with the
/// kitchen's guests.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ServedTo {
    /// Which.
    pub guest: Uuid,
    /// By number.
    pub number: u32,
    /// What they must not eat.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub avoids: Vec<String>,
}
