//! The catalogue: foods as data, each value with its source and basis.

use std::collections::BTreeMap;
use std::sync::{Arc, LazyLock, Mutex};

use serde::{Deserialize, Serialize};

use crate::heat::{Composition, Material};

/// How sure a value is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Basis {
    /// Written down from memory of the named source, not yet checked against it.
    #[serde(rename = "published (memory)")]
    PublishedFromMemory,
    /// Measured, from open data.
    #[serde(rename = "measured")]
    Measured,
    /// Follows from an equation.
    #[serde(rename = "computed")]
    Computed,
    /// Common practice; there is no source.
    #[serde(rename = "trade")]
    Trade,
    /// Entered by the kitchen.
    #[serde(rename = "kitchen")]
    Kitchen,
}

impl Basis {
    /// The words shown to a reader, the same as in the data files.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::PublishedFromMemory => "published (memory)",
            Self::Measured => "measured",
            Self::Computed => "computed",
            Self::Trade => "trade",
            Self::Kitchen => "kitchen",
        }
    }

    /// What those words mean, in a sentence.
    #[must_use]
    pub const fn meaning(self) -> &'static str {
        match self {
            Self::PublishedFromMemory => {
                "Written down from memory of the named source; not yet checked against it."
            }
            Self::Measured => "Measured; from open data.",
            Self::Computed => "Computed here from the equation and the inputs.",
            Self::Trade => "Common practice; no source proves it.",
            Self::Kitchen => "Entered by this kitchen.",
        }
    }
}

/// Which rows of the verdict table apply to a food.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FoodClass {
    /// Whole-muscle beef and veal.
    Beef,
    /// Whole-muscle lamb, judged like beef.
    Lamb,
    /// Ground meat, sausage, stuffed and rolled pieces.
    Ground,
    /// Pork and game.
    Pork,
    /// Duck and goose breast.
    Duck,
    /// Chicken, turkey and other poultry.
    Poultry,
    /// Fish.
    Fish,
    /// Crustaceans, scallop adductor, squid, octopus.
    Crustacean,
    /// Mussels, clams, oysters.
    Bivalve,
    /// Egg in its shell.
    ShellEgg,
    /// Pooled egg, custard.
    EggMixture,
    /// Live-culture ferment of milk.
    Ferment,
    /// Dried kidney beans.
    KidneyBean,
    /// Vegetables and fruit.
    Plant,
}

impl FoodClass {
    /// Whether rows for animal foods apply.
    #[must_use]
    pub const fn is_animal(self) -> bool {
        !matches!(self, Self::Plant | Self::KidneyBean)
    }

    /// Whether the food comes whole or pierced: then saying nothing counts as pierced.
    #[must_use]
    pub const fn asks_if_intact(self) -> bool {
        matches!(self, Self::Beef | Self::Lamb | Self::Pork | Self::Duck | Self::Poultry)
    }
}

/// A composition with where it comes from.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct SourcedComposition {
    water: f64,
    protein: f64,
    fat: f64,
    #[serde(default)]
    carbohydrate: f64,
    #[serde(default)]
    fibre: f64,
    ash: f64,
    /// Where the values come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

impl SourcedComposition {
    /// The mass fractions.
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
}

/// One number with where it comes from.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct Sourced {
    /// The number.
    pub value: f64,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// Usual thickness and what can be planned, mm.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
pub struct ThicknessRange {
    /// What a sentence starts with.
    pub usual: f64,
    /// Thinnest.
    pub low: f64,
    /// Thickest.
    pub high: f64,
}

/// A level of doneness and the bath temperature it usually means.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct Doneness {
    /// Short identifier.
    pub id: String,
    /// What a cook calls it.
    pub name: String,
    /// Bath temperature, °C.
    pub c: f64,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// One temperature of a texture window.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
struct TextureRow {
    c: f64,
    from_min: f64,
    until_min: f64,
}

/// When a food is at its best in the bath, by temperature. Always common practice.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct TextureWindow {
    rows: Vec<TextureRow>,
    /// What goes wrong after the window.
    pub after: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl TextureWindow {
    /// From and until, minutes in the bath, at a bath temperature; straight between the rows and
    /// flat beyond them.
    #[must_use]
    pub fn at(&self, bath_c: f64) -> (f64, f64) {
        let i = self.rows.partition_point(|r| r.c <= bath_c);
        match (i, self.rows.len()) {
            (0, _) => (self.rows[0].from_min, self.rows[0].until_min),
            (i, n) if i == n => (self.rows[n - 1].from_min, self.rows[n - 1].until_min),
            (i, _) => {
                let (a, b) = (self.rows[i - 1], self.rows[i]);
                let x = (bath_c - a.c) / (b.c - a.c);
                (a.from_min + (b.from_min - a.from_min) * x, a.until_min + (b.until_min - a.until_min) * x)
            }
        }
    }
}

/// One food of the catalogue.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct Food {
    /// Identifier in requests and records.
    pub id: String,
    /// What a cook calls one.
    pub name: String,
    /// And several.
    pub plural: String,
    /// One sentence on it.
    pub about: String,
    /// Which verdict rows apply.
    pub class: FoodClass,
    /// Key of its organisms and of its code tables.
    pub kill: String,
    /// Whether the plan page offers it yet.
    pub plannable: bool,
    /// Shape it usually has: `slab`, `cylinder`, `sphere` or `block`.
    pub shape: String,
    /// Usual thickness and its range.
    pub thickness_mm: ThicknessRange,
    /// Mass fractions.
    pub composition: SourcedComposition,
    /// Initial freezing point, °C.
    pub freezing: Sourced,
    /// Doneness levels, coldest first.
    pub doneness: Vec<Doneness>,
    /// When it is at its best.
    pub texture: TextureWindow,
}

impl Food {
    /// The tabulated thermal behaviour; computed once per food and process.
    #[must_use]
    pub fn material(&self) -> Arc<Material> {
        static CACHE: LazyLock<Mutex<BTreeMap<String, Arc<Material>>>> = LazyLock::new(Mutex::default);
        let mut cache = CACHE.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let made = cache.entry(self.id.clone()).or_insert_with(|| {
            let m = Material::from_composition(&self.composition.fractions(), self.freezing.value);
            Arc::new(m)
        });
        Arc::clone(made)
    }

    /// The doneness level with this identifier.
    #[must_use]
    pub fn doneness(&self, id: &str) -> Option<&Doneness> {
        self.doneness.iter().find(|d| d.id == id)
    }

    /// The doneness level a bath temperature is nearest to.
    #[must_use]
    pub fn nearest_doneness(&self, bath_c: f64) -> &Doneness {
        self.doneness
            .iter()
            .min_by(|a, b| (a.c - bath_c).abs().total_cmp(&(b.c - bath_c).abs()))
            .expect("the catalogue is checked: every food has levels")
    }
}

/// The whole catalogue.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct Catalogue {
    /// Version of the data, stored with every plan made from it.
    pub version: String,
    /// The foods.
    pub foods: Vec<Food>,
}

impl Catalogue {
    /// The foods the plan page offers.
    pub fn plannable(&self) -> impl Iterator<Item = &Food> {
        self.foods.iter().filter(|f| f.plannable)
    }

    /// The food with this identifier.
    #[must_use]
    pub fn food(&self, id: &str) -> Option<&Food> {
        self.foods.iter().find(|f| f.id == id)
    }
}

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| {
    let catalogue: Catalogue = serde_json::from_str(include_str!("../../data/foods.json"))
        .expect("data/foods.json is shipped with the code and tested");
    for food in &catalogue.foods {
        food.composition.fractions().check().expect("compositions of the catalogue add up");
        assert!(!food.doneness.is_empty() && !food.texture.rows.is_empty(), "{}", food.id);
    }
    catalogue
});

/// The catalogue shipped with the application.
///
/// ```
/// use hold_steady_core::food::catalogue;
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// assert_eq!(strip.texture.at(55.0), (60.0, 240.0));
/// ```
#[must_use]
pub fn catalogue() -> &'static Catalogue {
    &CATALOGUE
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_food_is_complete_and_in_order() {
        for food in &catalogue().foods {
            assert!(food.doneness.windows(2).all(|w| w[0].c < w[1].c), "{}", food.id);
            assert!(food.texture.rows.windows(2).all(|w| w[0].c < w[1].c), "{}", food.id);
            assert!(food.texture.rows.iter().all(|r| r.from_min < r.until_min), "{}", food.id);
            let t = food.thickness_mm;
            assert!(t.low < t.usual && t.usual < t.high, "{}", food.id);
            assert!(!food.composition.source.is_empty() && !food.texture.source.is_empty());
        }
    }

    #[test]
    fn texture_windows_run_straight_between_rows_and_flat_beyond() {
        let strip = catalogue().food("beef-strip").expect("in the catalogue");
        assert_eq!(strip.texture.at(30.0), (60.0, 150.0));
        assert_eq!(strip.texture.at(90.0), (60.0, 240.0));
        let (_, until) = strip.texture.at(56.5);
        assert!((until - 300.0).abs() < 1e-9, "{until}");
    }
}
