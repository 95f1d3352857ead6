//! What a kitchen has settled for foods: its own, the temperatures it dialled in, its presets.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::catalogue::{find, search};
use super::{Food, Found, catalogue};
use crate::food::own::OwnFood;
use crate::units::Celsius;

/// What a kitchen keeps of its own.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Pantry {
    /// Its foods.
    pub foods: Vec<OwnFood>,
    /// By food, the bath it has found right, °C.
    pub dialled: BTreeMap<String, Celsius>,
    /// Batches that were salted before they were frozen, by name in lower case.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub salted: Vec<String>,
    /// Plans kept under a name.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub presets: Vec<Preset>,
}

/// A plan kept under the cook's own name. The piece itself is asked anew each time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Preset {
    /// Identifier.
    pub id: Uuid,
    /// What the kitchen calls it.
    pub name: String,
    /// The sentence, as JSON of a plan's form.
    pub typed: serde_json::Map<String, serde_json::Value>,
}

impl Pantry {
    /// Whether the kitchen keeps nothing of its own.
    ///
    /// ```
    /// assert!(hold_steady_core::food::Pantry::default().is_empty());
    /// ```
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.foods.is_empty() && self.dialled.is_empty() && self.salted.is_empty() && self.presets.is_empty()
    }

    /// The preset with this identifier.
    ///
    /// ```
    /// use hold_steady_core::{food::{Pantry, Preset}, plan::PlanForm};
    /// let id = uuid::Uuid::from_u128(1);
    /// let pantry = Pantry { presets: vec![Preset::of(id, "Sunday", &PlanForm::default())], ..Pantry::default() };
    /// assert_eq!(pantry.preset(id).map(|p| p.name.as_str()), Some("Sunday"));
    /// ```
    #[must_use]
    pub fn preset(&self, id: Uuid) -> Option<&Preset> {
        self.presets.iter().find(|p| p.id == id)
    }

    /// Its own foods, then the catalogue's.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let base = food("beef-strip");
    /// let typed = OwnForm { name: "House strip".into(), ..OwnForm::of(base, Units::default()) };
    /// let own = typed.read("own-1", base, Units::default()).expect("sound");
    /// let pantry = Pantry { foods: vec![own], ..Pantry::default() };
    /// assert_eq!(pantry.listed().next().map(|f| f.name.as_str()), Some("House strip"));
    /// ```
    pub fn listed(&self) -> impl Iterator<Item = &Food> {
        self.foods.iter().filter_map(OwnFood::food).chain(catalogue().listed())
    }

    /// The food with this identifier, its own or the catalogue's.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let base = food("beef-strip");
    /// let typed = OwnForm { name: "House strip".into(), ..OwnForm::of(base, Units::default()) };
    /// let own = typed.read("own-1", base, Units::default()).expect("sound");
    /// let pantry = Pantry { foods: vec![own], ..Pantry::default() };
    /// assert!(pantry.food("own-1").is_some() && pantry.food("cod-fillet").is_some());
    /// ```
    #[must_use]
    pub fn food(&self, id: &str) -> Option<&Food> {
        self.own(id).and_then(OwnFood::food).or_else(|| catalogue().food(id))
    }

    /// Its own food with this identifier.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let base = food("beef-strip");
    /// let typed = OwnForm { name: "House strip".into(), ..OwnForm::of(base, Units::default()) };
    /// let own = typed.read("own-1", base, Units::default()).expect("sound");
    /// let pantry = Pantry { foods: vec![own], ..Pantry::default() };
    /// assert!(pantry.own("own-1").is_some() && pantry.own("cod-fillet").is_none());
    /// ```
    #[must_use]
    pub fn own(&self, id: &str) -> Option<&OwnFood> {
        self.foods.iter().find(|f| f.id == id)
    }

    /// The foods that answer to some words, the likeliest first. Any part of a name will do, and how many before it.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let pantry = Pantry::default();
    /// let found = pantry.search("chick");
    /// assert!(found.iter().any(|f| f.id == "chicken-breast"));
    /// assert_eq!(pantry.search("4 chick"), found);
    /// ```
    #[must_use]
    pub fn search(&self, typed: &str) -> Vec<&Food> {
        let as_typed = search(self.listed(), typed);
        if as_typed.is_empty() { search(self.listed(), counted(typed).1) } else { as_typed }
    }

    /// The one food that is meant, or those it could be; and how many, where that was typed before it.
    #[must_use]
    pub(crate) fn find(&self, typed: &str) -> (Found<'_>, Option<u32>) {
        if let Some(food) = self.food(typed.trim()) {
            return (Found::One(food), None);
        }
        match find(self.listed(), typed) {
            Found::None => {
                let (count, words) = counted(typed);
                (find(self.listed(), words), count)
            }
            found => (found, None),
        }
    }

    /// The bath this kitchen has found right for a food, °C, where it lies within the food's range.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let strip = food("beef-strip");
    /// let pantry = Pantry { dialled: [(strip.id.clone(), Celsius::new(56.5))].into(), ..Pantry::default() };
    /// assert_eq!(pantry.dialled_c(strip), Some(Celsius::new(56.5)));
    /// ```
    #[must_use]
    pub fn dialled_c(&self, food: &Food) -> Option<Celsius> {
        self.dialled.get(&food.id).copied().filter(|c| (food.bath_c.low..=food.bath_c.high).contains(c))
    }
}

/// How many pieces, where a number stands before the words ("2 ribeyes", "3 × cod"), and the words.
pub(super) fn counted(typed: &str) -> (Option<u32>, &str) {
    let typed = typed.trim();
    let digits = typed.bytes().take_while(u8::is_ascii_digit).count();
    let words = typed[digits..].trim_start_matches([' ', '×', 'x']);
    let apart = typed[digits..].starts_with([' ', '×']) || typed[digits..].starts_with("x ");
    match typed[..digits].parse() {
        Ok(count) if apart && digits <= 2 && count > 0 && !words.is_empty() => (Some(count), words),
        _ => (None, typed),
    }
}
