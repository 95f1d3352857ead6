//! Foods as data, each value with its source and basis.
//!
//! - [`catalogue()`]: what ships with the application, from `data/foods/`;
//! - [`Pantry`]: what a kitchen keeps of its own: foods copied and changed, temperatures dialled in;
//! - [`Finish`]: what is done to it after the bath; [`Flesh`]: what it looks like inside.

mod catalogue;
mod class;
mod finish;
mod flesh;
mod own;
mod pantry;
mod sourced;
mod start;

pub use catalogue::{Catalogue, Found, catalogue};
pub use class::{FishKind, FoodClass, Traits};
pub use finish::{Finish, FinishStep, PanStart, SearAs, SearedFaces, finishes};
pub use flesh::{Flesh, flesh};
pub use own::{OwnFood, OwnFoodError, OwnForm, OwnLevel, OwnWindow};
pub use pantry::{Pantry, Preset};
pub use sourced::{Sourced, SourcedComposition, SourcedStructure, Statement};
pub use start::{From, StartState, starts};

use std::sync::{Arc, OnceLock};

use serde::Deserialize;

use crate::Unfit;
use crate::bath::{Surroundings, Water, still, surroundings};
use crate::figures::{Basis, limits};
use crate::heat::{Material, Structure};
use crate::units::{Celsius, Grams, Length, Minutes};

/// What is usual and what can be planned.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Usual<T> {
    /// What a sentence starts with.
    pub usual: T,
    /// Least.
    pub low: T,
    /// Most.
    pub high: T,
    /// How far one may be off, where that is another figure than the kitchen's: a size grade's.
    #[serde(default = "no_other")]
    pub spread: Option<T>,
}

fn no_other<T>() -> Option<T> {
    None
}

/// Width and length of a piece solved as a block.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Sides {
    /// Across.
    pub width: Usual<Length>,
    /// Along.
    pub length: Usual<Length>,
}

/// A size that is graded by weight: of eggs.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Size {
    /// Short identifier.
    pub id: String,
    /// What a cook calls it.
    pub name: String,
    /// Weight, g.
    pub grams: Grams,
}

impl Size {
    /// Diameter of the ball of the same volume, mm, at an egg's 1.075 g/cm³.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let large = food("shell-egg-large").sizes.iter().find(|s| s.id == "large").expect("graded");
    /// assert!((large.diameter_mm().mm() - 46.6).abs() < 0.1);
    /// ```
    #[must_use]
    pub fn diameter_mm(&self) -> Length {
        const G_PER_CM3: f64 = 1.075;
        Length::from_mm(10.0 * (6.0 * self.grams.value() / (G_PER_CM3 * std::f64::consts::PI)).cbrt())
    }
}

/// A food that is filled into a jar.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Jar {
    /// Filling, ml.
    pub fill_ml: Usual<f64>,
}

/// A question whose answer decides whether the food counts as raw.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Prepared {
    /// It was done, in words.
    pub done: String,
    /// It was not.
    pub not_done: String,
}

/// A level of doneness and the bath temperature it usually means.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Doneness {
    /// Short identifier.
    pub id: String,
    /// What a cook calls it.
    pub name: String,
    /// Bath temperature, °C.
    pub c: Celsius,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
    /// At its usual thickness no plan at this temperature is allowed: how thin it must be, mm. Computed; a test computes it
    /// again.
    #[serde(default)]
    pub thinner_mm: Option<Length>,
}

/// A temperature that some cooks hold by, and why.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct School {
    /// Bath temperature, °C.
    pub c: Celsius,
    /// What they say for it.
    pub says: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// One temperature of a texture window.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct TextureRow {
    /// Bath, °C.
    pub c: Celsius,
    /// Best from, minutes in the bath.
    pub from_min: Minutes,
    /// Best until, minutes in the bath.
    pub until_min: Minutes,
    /// What this temperature gives, where several are set side by side.
    #[serde(default)]
    pub gives: Option<String>,
}

/// When a food is at its best in the bath, by temperature. Always common practice or the kitchen's own.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct TextureWindow {
    /// Rising temperatures.
    pub rows: Vec<TextureRow>,
    /// What goes wrong after the window: “it …”.
    pub after: String,
    /// Time is chosen for tenderness: heating through is far from enough.
    pub tough: bool,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl TextureWindow {
    /// From and until, minutes in the bath, at a bath temperature; straight between the rows and
    /// flat beyond them.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let (from, until) = food("beef-strip").texture.at(Celsius::new(55.0));
    /// assert_eq!((from, until), (Minutes::from_hours(1.0), Minutes::from_hours(4.0)));
    /// ```
    #[must_use]
    pub fn at(&self, bath_c: Celsius) -> (Minutes, Minutes) {
        let i = self.rows.partition_point(|r| r.c <= bath_c);
        match (i, self.rows.len()) {
            (0, _) => (self.rows[0].from_min, self.rows[0].until_min),
            (i, n) if i == n => (self.rows[n - 1].from_min, self.rows[n - 1].until_min),
            (i, _) => {
                let (a, b) = (&self.rows[i - 1], &self.rows[i]);
                let x = (bath_c - a.c) / (b.c - a.c);
                (a.from_min + (b.from_min - a.from_min) * x, a.until_min + (b.until_min - a.until_min) * x)
            }
        }
    }

    /// The temperatures that are set side by side for a tough cut.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert_eq!(food("beef-strip").texture.side_by_side().count(), 0);
    /// assert_eq!(food("beef-flank").texture.side_by_side().count(), 3);
    /// ```
    pub fn side_by_side(&self) -> impl Iterator<Item = &TextureRow> {
        self.rows.iter().filter(|r| self.tough && r.gives.is_some())
    }
}

/// Allergens by law.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Allergens {
    /// Their names.
    pub list: Vec<String>,
    /// Where the list comes from.
    pub source: String,
    /// How sure that is.
    pub basis: Basis,
}

/// Lowest and highest bath that can be planned, °C.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct BathRange {
    /// Lowest.
    pub low: Celsius,
    /// Highest.
    pub high: Celsius,
}

fn listed() -> bool {
    true
}

/// One food.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Food {
    /// Identifier in requests and records.
    pub id: String,
    /// What a cook calls one.
    pub name: String,
    /// And several.
    pub plural: String,
    /// Other names, in lower case without accents.
    pub synonyms: Vec<String>,
    /// Heading it stands under.
    pub group: String,
    /// Whether it is offered; others exist for the calculation interface.
    #[serde(default = "listed")]
    pub listed: bool,
    /// One sentence on it.
    pub about: String,
    /// Why no salt is put on it, where none is. Common practice.
    #[serde(default)]
    pub unsalted: Option<String>,
    /// What must be said at once when it is chosen.
    #[serde(default)]
    pub says: Option<Statement>,
    /// Which verdict rows apply.
    pub class: FoodClass,
    /// Key of its organisms and of its code tables.
    pub kill: String,
    /// What sets it apart from others of its class.
    #[serde(default)]
    pub traits: Traits,
    /// Shape it usually has: `slab`, `cylinder`, `sphere` or `block`.
    pub shape: String,
    /// Usual thickness (or diameter) and its range.
    pub thickness_mm: Usual<Length>,
    /// Width and length, where they are asked for.
    #[serde(default)]
    pub sides_mm: Option<Sides>,
    /// Sizes by weight, asked for in place of a thickness.
    #[serde(default)]
    pub sizes: Vec<Size>,
    /// Filled into a jar.
    #[serde(default)]
    pub jar: Option<Jar>,
    /// Whether it was cooked before, asked.
    #[serde(default)]
    pub prepared: Option<Prepared>,
    /// Where it may come from; empty for anywhere.
    #[serde(default)]
    pub starts: Vec<String>,
    /// Key of what surrounds it in a bath.
    surface: String,
    /// Mass fractions.
    pub composition: SourcedComposition,
    /// Initial freezing point, °C.
    pub freezing: Sourced,
    /// Layers and melting fat, where the composition alone does not say it.
    #[serde(default)]
    pub structure: Option<SourcedStructure>,
    /// Identifier of the doneness a sentence starts with.
    pub usual: String,
    /// Baths that can be planned, °C.
    pub bath_c: BathRange,
    /// Doneness levels, coldest first.
    pub doneness: Vec<Doneness>,
    /// Temperatures cooks argue for.
    #[serde(default)]
    pub schools: Vec<School>,
    /// Done when the centre is this near the bath, K.
    pub within_k: Sourced,
    /// When it is at its best.
    pub texture: TextureWindow,
    /// Key of its [`Finish`].
    finish: String,
    /// Key of its [`Flesh`].
    flesh: String,
    /// What it looks like out of the bag.
    pub looks: Statement,
    /// Allergens.
    pub allergens: Allergens,
    #[serde(skip)]
    material: Tabulated,
}

/// The thermal behaviour, tabulated once. Follows from the rest, so two foods never differ by it.
#[derive(Debug, Clone, Default)]
struct Tabulated(OnceLock<Arc<Material>>);

impl PartialEq for Tabulated {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl Food {
    /// The temperature below which no table reaches, where baths that cold are planned for this food, °C. A ferment
    /// is no pasteurisation and has its own row; plants have no animal organisms' growth to fear at these
    /// temperatures, and none of them is offered below the line.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert_eq!(food("beef-strip").no_table_below_c(), Some(Celsius::new(54.4)));
    /// assert_eq!(food("carrot").no_table_below_c(), None);
    /// ```
    #[must_use]
    pub fn no_table_below_c(&self) -> Option<Celsius> {
        let least = limits().lowest_hold_c.celsius();
        let asks = self.class.is_animal() && self.class != FoodClass::Ferment;
        (asks && self.bath_c.low < least).then_some(least)
    }

    /// The tabulated thermal behaviour; computed once for each food.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let strip = food("beef-strip");
    /// assert!(std::sync::Arc::ptr_eq(&strip.material(), &strip.material()));
    /// ```
    #[must_use]
    pub fn material(&self) -> Arc<Material> {
        let structure = self.structure.as_ref().map_or_else(Structure::default, SourcedStructure::structure);
        let fractions = self.composition.fractions();
        let make = || Arc::new(Material::structured(&fractions, self.freezing.value, &structure));
        Arc::clone(self.material.0.get_or_init(make))
    }

    /// From and until when it is at its best, minutes in the bath, at a bath temperature. In a bath that is too
    /// cold for a hold to count, an animal food has no window beyond what the growth clock allows.
    #[must_use]
    pub(crate) fn best_min(&self, bath_c: Celsius) -> (Minutes, Minutes) {
        let (from, until) = self.texture.at(bath_c);
        let l = limits();
        if l.is_hot_enough(bath_c.value()) || !self.class.is_animal() || self.class == FoodClass::Ferment {
            return (from, until);
        }
        let until = until.min(l.clock_limit_min.minutes());
        (from.min(until), until)
    }

    /// The doneness level with this identifier.
    #[must_use]
    pub(crate) fn doneness(&self, id: &str) -> Option<&Doneness> {
        self.doneness.iter().find(|d| d.id == id)
    }

    /// The doneness a sentence starts with.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert_eq!(food("beef-strip").usual_doneness().name, "medium-rare");
    /// ```
    #[must_use]
    pub fn usual_doneness(&self) -> &Doneness {
        self.doneness(&self.usual).unwrap_or(&self.doneness[0])
    }

    /// The doneness level a bath temperature is nearest to.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let strip = food("beef-strip");
    /// assert_ne!(strip.nearest_doneness(Celsius::new(50.0)).id, strip.nearest_doneness(Celsius::new(65.0)).id);
    /// ```
    #[must_use]
    pub fn nearest_doneness(&self, bath_c: Celsius) -> &Doneness {
        self.doneness
            .iter()
            .min_by(|a, b| (a.c - bath_c).abs().total_cmp(&(b.c - bath_c).abs()))
            .expect("the catalogue is checked: every food has levels")
    }

    /// What surrounds it in a bath moved by a pump.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("shell-egg-large").surface().w_m2k > food("beef-strip").surface().w_m2k);
    /// ```
    #[must_use]
    pub fn surface(&self) -> &'static Surroundings {
        &surroundings()[&self.surface]
    }

    /// What surrounds it in a bath.
    #[must_use]
    pub(crate) fn surface_in(&self, water: Water) -> &'static Surroundings {
        match water {
            Water::Circulated => self.surface(),
            Water::Still => still(),
        }
    }

    /// What is done to it after the bath.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("beef-strip").finish().dries);
    /// ```
    #[must_use]
    pub fn finish(&self) -> &'static Finish {
        &finishes()[&self.finish]
    }

    /// What it looks like inside.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("beef-strip").flesh().colour(20.0, 0.5).starts_with('#'));
    /// ```
    #[must_use]
    pub fn flesh(&self) -> &'static Flesh {
        &flesh()[&self.flesh]
    }

    /// The size with this identifier.
    #[must_use]
    pub(crate) fn size(&self, id: &str) -> Option<&Size> {
        self.sizes.iter().find(|s| s.id == id)
    }

    /// Whether it goes into a bag: an egg in its shell and what fills a jar do not.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("beef-strip").is_bagged() && !food("shell-egg-large").is_bagged());
    /// ```
    #[must_use]
    pub fn is_bagged(&self) -> bool {
        self.sizes.is_empty() && self.jar.is_none()
    }

    /// Whether it may come from there, by the identifier of a start.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("beef-strip").may_come_from("freezer"));
    /// assert!(!food("shell-egg-large").may_come_from("freezer"));
    /// ```
    #[must_use]
    pub fn may_come_from(&self, start: &str) -> bool {
        self.starts.is_empty() || self.starts.iter().any(|s| s == start)
    }

    /// Whether every part of it can be computed with; the reason where it cannot.
    ///
    /// # Errors
    /// When a list is empty or out of order, a range is upside down or a key names nothing.
    pub(crate) fn check(&self) -> Result<(), Unfit> {
        let wrong = |what: &str| Err(format!("{}: {what}", self.id).into());
        self.composition.fractions().check().map_err(|e| format!("{}: {e}", self.id))?;
        let rising = |list: &[Celsius]| !list.is_empty() && list.windows(2).all(|w| w[0] < w[1]);
        if !rising(&self.doneness.iter().map(|d| d.c).collect::<Vec<_>>()) {
            return wrong("doneness levels must rise");
        }
        if !rising(&self.texture.rows.iter().map(|r| r.c).collect::<Vec<_>>()) {
            return wrong("the texture window's temperatures must rise");
        }
        if self.texture.rows.iter().any(|r| r.from_min >= r.until_min || r.from_min < Minutes::ZERO) {
            return wrong("a texture window ends before it begins");
        }
        let within = |u: &Usual<f64>| u.low <= u.usual && u.usual <= u.high && u.low > 0.0;
        let long = |u: &Usual<Length>| u.low <= u.usual && u.usual <= u.high && u.low > Length::ZERO;
        let sides = self.sides_mm.iter().flat_map(|s| [&s.width, &s.length]);
        let fills = self.jar.iter().map(|j| &j.fill_ml);
        if ![&self.thickness_mm].into_iter().chain(sides).all(long) || !fills.into_iter().all(within) {
            return wrong("a usual size lies outside its range");
        }
        if self.doneness.iter().any(|d| !(self.bath_c.low..=self.bath_c.high).contains(&d.c)) {
            return wrong("a doneness lies outside the baths that can be planned");
        }
        if self.doneness(&self.usual).is_none() {
            return wrong("the usual doneness is none of its levels");
        }
        let keys = surroundings().contains_key(&self.surface)
            && finishes().contains_key(&self.finish)
            && flesh().contains_key(&self.flesh);
        if keys { Ok(()) } else { wrong("surface, finish or flesh names nothing") }
    }
}
