//! What a kitchen keeps of its own: foods copied and changed, temperatures dialled in.

use std::collections::BTreeMap;
use std::sync::OnceLock;

use serde::{Deserialize, Serialize};

use super::{Doneness, Food, SourcedComposition, TextureRow, catalogue};
use crate::figures::Basis;
use crate::heat::Composition;
use crate::units::{
    Blanks, Celsius, Length, Minutes, TemperatureUnit, Units, minutes, parse_length, parse_minutes,
    parse_temperature, shortened, trimmed,
};

/// A doneness level of a kitchen's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct OwnLevel {
    /// What the kitchen calls it.
    pub name: String,
    /// Bath, °C.
    pub c: Celsius,
}

/// One temperature of a kitchen's own texture window.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct OwnWindow {
    /// Bath, °C.
    pub c: Celsius,
    /// Best from, minutes in the bath.
    pub from_min: Minutes,
    /// Best until, minutes in the bath.
    pub until_min: Minutes,
}

/// A food of the catalogue as a kitchen changed it. It keeps the class it was copied from: its verdict
/// rows, its organisms and what is asked about it cannot be changed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct OwnFood {
    /// Identifier; begins with `own-`.
    pub id: String,
    /// The food it was copied from.
    pub base: String,
    /// What the kitchen calls it.
    pub name: String,
    /// One sentence on it.
    #[serde(default)]
    pub about: String,
    /// Usual thickness, mm.
    pub thickness_mm: Length,
    /// Mass fractions.
    pub composition: Composition,
    /// Doneness levels, coldest first.
    pub levels: Vec<OwnLevel>,
    /// Texture window, coldest first.
    pub windows: Vec<OwnWindow>,
    #[serde(skip)]
    built: Built,
}

/// The food it makes, made once.
#[derive(Debug, Clone, Default)]
struct Built(OnceLock<Option<Food>>);

impl PartialEq for Built {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

/// What every identifier of a kitchen's own food begins with.
const OWN: &str = "own-";
/// Heading they stand under.
const GROUP: &str = "This kitchen's own";
/// Longest name, characters; most levels or windows.
const LONGEST_NAME: usize = 60;
const MOST_ROWS: usize = 12;
/// Longest time of a window, minutes.
const LONGEST_WINDOW_MIN: Minutes = Minutes::from_hours(96.0);

/// Why a kitchen's own food cannot be taken: by field, in whole sentences.
pub type OwnFoodError = BTreeMap<&'static str, String>;

impl OwnFood {
    /// The food, on the base it was copied from; `None` when it cannot be computed with.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let base = food("beef-strip");
    /// let typed = OwnForm { name: "House strip".into(), ..OwnForm::of(base, Units::default()) };
    /// let own = typed.read("own-1", base, Units::default()).expect("sound");
    /// assert_eq!(own.food().map(|f| f.class), Some(FoodClass::Beef));
    /// ```
    #[must_use]
    pub fn food(&self) -> Option<&Food> {
        self.built.0.get_or_init(|| self.build().ok()).as_ref()
    }

    /// Makes the food, or says what is wrong.
    ///
    /// # Errors
    /// By field, in whole sentences.
    pub(crate) fn build(&self) -> Result<Food, OwnFoodError> {
        self.build_for(Units::default())
    }

    /// The same, saying what is wrong in a reader's units.
    fn build_for(&self, units: Units) -> Result<Food, OwnFoodError> {
        let Some(base) = catalogue().food(&self.base) else {
            let text = format!("“{}” is not in the catalogue; copy a food that is.", shortened(&self.base));
            return Err(OwnFoodError::from([("base", text)]));
        };
        let errors = self.faults(base, units);
        if errors.is_empty() { Ok(self.made(base)) } else { Err(errors) }
    }

    /// What is wrong with it as a copy of this food.
    fn faults(&self, base: &Food, units: Units) -> OwnFoodError {
        let mut errors = OwnFoodError::new();
        let name = self.name.trim();
        if name.is_empty() || name.chars().count() > LONGEST_NAME {
            errors.insert("name", format!("Give it a name of 1 to {LONGEST_NAME} letters."));
        }
        if catalogue().foods.iter().any(|f| f.name.eq_ignore_ascii_case(name)) {
            errors.insert(
                "name",
                format!("“{}” is in the catalogue already. Give yours a name of its own.", shortened(name)),
            );
        }
        if !self.id.starts_with(OWN) || self.id.len() > LONGEST_NAME {
            errors.insert("id", format!("An identifier of a kitchen's own food begins with “{OWN}”."));
        }
        let range = base.thickness_mm;
        if !(range.low..=range.high).contains(&self.thickness_mm) {
            errors.insert(
                "thickness",
                format!("It must be from {} to {}.", units.length(range.low), units.length(range.high)),
            );
        }
        if let Err(e) = self.composition.check() {
            errors.insert("composition", format!("{e}. The shares must add up to 100 %."));
        }
        if !self.levels_are_sound(base) {
            let (low, high) = (units.temperature(base.bath_c.low), units.temperature(base.bath_c.high));
            errors.insert(
                "levels",
                format!("Give 1 to {MOST_ROWS} levels, each with a name, rising, from {low} to {high}."),
            );
        }
        let sound = |w: &OwnWindow| {
            Minutes::ZERO <= w.from_min && w.from_min < w.until_min && w.until_min <= LONGEST_WINDOW_MIN
        };
        if !rising(self.windows.iter().map(|w| w.c)) || !self.windows.iter().all(sound) {
            let most = minutes(LONGEST_WINDOW_MIN);
            errors.insert(
                "windows",
                format!("Give 1 to {MOST_ROWS} temperatures, rising, each best from a time until a later one, at most {most}."),
            );
        }
        errors
    }

    fn levels_are_sound(&self, base: &Food) -> bool {
        let sound = |l: &OwnLevel| {
            !l.name.trim().is_empty()
                && l.name.chars().count() <= LONGEST_NAME
                && (base.bath_c.low..=base.bath_c.high).contains(&l.c)
        };
        rising(self.levels.iter().map(|l| l.c)) && self.levels.iter().all(sound)
    }

    /// The food, given that nothing is wrong with it.
    fn made(&self, base: &Food) -> Food {
        let source = format!("Entered by this kitchen, copied from {}", base.name);
        let level = |(i, l): (usize, &OwnLevel)| Doneness {
            thinner_mm: None,
            id: format!("own-{i}"),
            name: l.name.trim().to_owned(),
            c: l.c,
            source: source.clone(),
            basis: Basis::Kitchen,
        };
        let doneness: Vec<Doneness> = self.levels.iter().enumerate().map(level).collect();
        let wanted = base.usual_doneness().c;
        let usual = doneness.iter().min_by(|a, b| (a.c - wanted).abs().total_cmp(&(b.c - wanted).abs()));
        let about = if self.about.trim().is_empty() { &base.about } else { self.about.trim() };
        let mut food = Food {
            id: self.id.clone(),
            name: self.name.trim().to_owned(),
            plural: self.name.trim().to_owned(),
            synonyms: Vec::new(),
            group: GROUP.into(),
            listed: true,
            about: about.to_owned(),
            usual: usual.map(|d| d.id.clone()).unwrap_or_default(),
            doneness,
            schools: Vec::new(),
            composition: SourcedComposition::entered(&self.composition, source.clone()),
            material: super::Tabulated::default(),
            ..base.clone()
        };
        food.thickness_mm.usual = self.thickness_mm;
        if self.windows != windows_of(base) {
            let row = |w: &OwnWindow| TextureRow {
                c: w.c,
                from_min: w.from_min,
                until_min: w.until_min,
                gives: None,
            };
            food.texture.rows = self.windows.iter().map(row).collect();
            (food.texture.source, food.texture.basis) = (source, Basis::Kitchen);
        }
        food
    }
}

/// Whether there is one, not too many, and each hotter than the one before.
fn rising(list: impl ExactSizeIterator<Item = Celsius>) -> bool {
    (1..=MOST_ROWS).contains(&list.len()) && list.is_sorted_by(|a, b| a < b)
}

fn windows_of(food: &Food) -> Vec<OwnWindow> {
    food.texture
        .rows
        .iter()
        .map(|r| OwnWindow { c: r.c, from_min: r.from_min, until_min: r.until_min })
        .collect()
}

/// A kitchen's own food exactly as typed, so that nothing typed is lost.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct OwnForm {
    /// Name.
    pub name: String,
    /// One sentence on it.
    pub about: String,
    /// Usual thickness, with or without unit.
    pub thickness: String,
    /// Per cent by weight.
    pub water: String,
    /// Per cent by weight.
    pub protein: String,
    /// Per cent by weight.
    pub fat: String,
    /// Per cent by weight.
    pub carbohydrate: String,
    /// Per cent by weight.
    pub fibre: String,
    /// Per cent by weight.
    pub ash: String,
    /// One level a line: `medium-rare 55 °C`.
    pub levels: String,
    /// One temperature a line: `55 °C: 1 h to 4 h`.
    pub windows: String,
}

impl OwnForm {
    /// The form filled with a food as it stands, in a reader's units.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let typed = OwnForm::of(food("beef-strip"), Units::default());
    /// assert!(typed.name.is_empty() && typed.levels.contains("medium-rare 55 °C"), "{typed:?}");
    /// ```
    #[must_use]
    pub fn of(food: &Food, units: Units) -> Self {
        let c = food.composition.fractions();
        let percent = |x: f64| trimmed(x * 100.0, 2);
        let degrees = |c: Celsius| units.temperature(c);
        let levels = food.doneness.iter().map(|d| format!("{} {}", d.name, degrees(d.c)));
        let windows = food
            .texture
            .rows
            .iter()
            .map(|r| format!("{}: {} to {}", degrees(r.c), minutes(r.from_min), minutes(r.until_min)));
        Self {
            name: String::new(),
            about: food.about.clone(),
            thickness: units.length(food.thickness_mm.usual),
            water: percent(c.water),
            protein: percent(c.protein),
            fat: percent(c.fat),
            carbohydrate: percent(c.carbohydrate),
            fibre: percent(c.fibre),
            ash: percent(c.ash),
            levels: levels.collect::<Vec<_>>().join("\n"),
            windows: windows.collect::<Vec<_>>().join("\n"),
        }
    }

    /// Understands it as a change to `base`, under an identifier that begins with `own-`.
    ///
    /// # Errors
    /// By field, in whole sentences.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// let base = food("beef-strip");
    /// let typed = OwnForm { name: "House strip".into(), ..OwnForm::of(base, Units::default()) };
    /// let own = typed.read("own-1", base, Units::default()).expect("sound");
    /// assert_eq!(own.name, "House strip");
    /// let wet = OwnForm { water: "150".into(), ..typed };
    /// assert!(wet.read("own-1", base, Units::default()).is_err_and(|e| e.contains_key("water")));
    /// ```
    pub fn read(&self, id: &str, base: &Food, units: Units) -> Result<OwnFood, OwnFoodError> {
        let mut r = Blanks::new(units, units);
        let mut percent = |field: &'static str, text: &str| {
            let value = r.number(field, text, ("a share in per cent", "%"), (0.0, 100.0));
            // To a ten-thousandth of a per cent: a share is a short decimal, and reads back as one.
            (value.unwrap_or(0.0) * 1e4).round() / 1e6
        };
        let composition = Composition {
            water: percent("water", &self.water),
            protein: percent("protein", &self.protein),
            fat: percent("fat", &self.fat),
            carbohydrate: percent("carbohydrate", &self.carbohydrate),
            fibre: percent("fibre", &self.fibre),
            ash: percent("ash", &self.ash),
        };
        let thickness = parse_length(&self.thickness, units.length).unwrap_or_else(|e| {
            r.errors.insert("thickness", e.to_string());
            base.thickness_mm.usual
        });
        let levels = r.lines(
            "levels",
            &self.levels,
            |l| level(l, units.temperature),
            |l| {
                let example = units.temperature(Celsius::new(58.0));
                format!("“{l}” is not a level. Write a name and a temperature: medium {example}.")
            },
        );
        let windows = r.lines(
            "windows",
            &self.windows,
            |l| window(l, units.temperature),
            |l| {
                let example = units.temperature(Celsius::new(55.0));
                format!("“{l}” is not a window. Write a temperature and two times: {example}: 1 h to 4 h.")
            },
        );
        let own = OwnFood {
            id: id.to_owned(),
            base: base.id.clone(),
            name: self.name.trim().to_owned(),
            about: self.about.trim().chars().take(300).collect(),
            thickness_mm: thickness,
            composition,
            levels,
            windows,
            built: Built::default(),
        };
        if let Err(more) = own.build_for(units) {
            for (field, text) in more {
                r.errors.entry(field).or_insert(text);
            }
        }
        r.answered(Some(own))
    }
}

impl Blanks {
    /// Every line that is not blank, read; of the first that cannot be, `wrong` says why.
    fn lines<T>(
        &mut self,
        field: &'static str,
        text: &str,
        read: impl Fn(&str) -> Option<T>,
        wrong: impl Fn(String) -> String,
    ) -> Vec<T> {
        let lines = text.lines().map(str::trim).filter(|l| !l.is_empty());
        let all: Result<Vec<T>, &str> = lines.map(|l| read(l).ok_or(l)).collect();
        all.unwrap_or_else(|line| {
            self.errors.insert(field, wrong(shortened(line)));
            Vec::new()
        })
    }
}

fn level(line: &str, unit: TemperatureUnit) -> Option<OwnLevel> {
    let at =
        line.char_indices().rev().take_while(|(_, c)| !c.is_alphabetic() || "cCfF".contains(*c)).last()?.0;
    let (name, degrees) = line.split_at(at);
    let c = parse_temperature(degrees.trim().trim_start_matches([':', '-', ' ']), unit).ok()?.value();
    Some(OwnLevel { name: name.trim().trim_end_matches([':', ',']).to_owned(), c: Celsius::new(c) })
}

fn window(line: &str, unit: TemperatureUnit) -> Option<OwnWindow> {
    let (degrees, times) = line.split_once(": ").or_else(|| line.split_once(':'))?;
    let (from, until) = times.split_once(" to ").or_else(|| times.split_once('–'))?;
    Some(OwnWindow {
        c: parse_temperature(degrees.trim(), unit).ok()?,
        from_min: parse_minutes(from.trim()).ok()?,
        until_min: parse_minutes(until.trim()).ok()?,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::FoodClass;
    use crate::food::pantry::counted;
    use crate::food::{Found, Pantry};
    use crate::units::Kelvin;

    #[test]
    fn how_many_may_stand_before_a_food() {
        for (typed, meant) in [
            ("2 ribeyes", (Some(2), "ribeyes")),
            ("3 × cod", (Some(3), "cod")),
            ("4x duck", (Some(4), "duck")),
            ("0 duck", (None, "0 duck")),
            ("123 duck", (None, "123 duck")),
            ("63", (None, "63")),
            ("ribeye", (None, "ribeye")),
        ] {
            assert_eq!(counted(typed), meant, "{typed}");
        }
    }
    use crate::units::LengthUnit;

    fn base() -> &'static Food {
        catalogue().food("chicken-breast").expect("in the catalogue")
    }

    fn form() -> OwnForm {
        OwnForm { name: "House breast, brined".into(), ..OwnForm::of(base(), Units::default()) }
    }

    #[test]
    fn a_copy_says_kitchen_and_keeps_its_class() {
        let changed = OwnForm { water: "70".into(), protein: "19.5".into(), fat: "9.3".into(), ..form() };
        let own = changed.read("own-1", base(), Units::default()).expect("sound");
        let food = own.food().expect("computes");
        assert_eq!((food.class, food.kill.as_str()), (FoodClass::Poultry, "poultry"));
        assert_eq!(food.composition.basis, Basis::Kitchen);
        assert!(food.doneness.iter().all(|d| d.basis == Basis::Kitchen));
        assert_eq!(food.usual_doneness().c, Celsius::new(60.0));
        // The window was not changed, and keeps its source.
        assert_eq!(food.texture, base().texture);
        let slower = OwnForm { windows: "60: 1 h to 5 h\n65 °C: 45 min to 3 h".into(), ..changed };
        let own = slower.read("own-1", base(), Units::default()).expect("sound");
        assert_eq!(
            own.food().map(|f| (f.texture.basis, f.texture.at(Celsius::new(60.0)))),
            Some((Basis::Kitchen, (Minutes::from_hours(1.0), Minutes::from_hours(5.0))))
        );
    }

    #[test]
    fn it_is_read_in_the_reader_s_units_and_travels_as_json() {
        let f = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let typed = OwnForm { name: "Sunday bird".into(), ..OwnForm::of(base(), f) };
        assert!(typed.levels.contains("tender, juicy 140 °F"), "{}", typed.levels);
        let own = typed.read("own-2", base(), f).expect("sound");
        assert!((own.levels[0].c - Kelvin::new(60.0)).value().abs() < 1e-9);
        let text = serde_json::to_string(&own).expect("writes");
        assert_eq!(serde_json::from_str::<OwnFood>(&text).expect("reads"), own);
    }

    #[test]
    fn every_fault_is_named_beside_its_field() {
        let bad = OwnForm {
            name: "Chicken Breast".into(),
            water: "seventy".into(),
            thickness: "4 m".into(),
            levels: "hot".into(),
            windows: "60 °C: 4 h to 1 h".into(),
            ..form()
        };
        let errors = bad.read("own-3", base(), Units::default()).expect_err("faulty");
        assert_eq!(
            errors.keys().copied().collect::<Vec<_>>(),
            ["composition", "levels", "name", "thickness", "water", "windows"]
        );
        let cold = OwnForm { levels: "rare 40 °C".into(), ..form() };
        assert!(cold.read("own-4", base(), Units::default()).is_err(), "no bath that cold for chicken");
    }

    #[test]
    fn a_pantry_finds_its_own_first() {
        let own = form().read("own-5", base(), Units::default()).expect("sound");
        let pantry = Pantry {
            foods: vec![own],
            dialled: [("beef-strip".to_owned(), Celsius::new(56.5))].into(),
            ..Pantry::default()
        };
        assert!(matches!(pantry.find("house breast"), (Found::One(f), None) if f.id == "own-5"));
        assert!(matches!(pantry.find("6 house breast"), (Found::One(f), Some(6)) if f.id == "own-5"));
        assert_eq!(pantry.food("own-5").map(|f| f.group.as_str()), Some(GROUP));
        assert_eq!(
            pantry.dialled_c(catalogue().food("beef-strip").expect("there")),
            Some(Celsius::new(56.5))
        );
        let wild =
            Pantry { dialled: [("beef-strip".to_owned(), Celsius::new(156.5))].into(), ..Pantry::default() };
        assert_eq!(wild.dialled_c(catalogue().food("beef-strip").expect("there")), None);
    }
}
