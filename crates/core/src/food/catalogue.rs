//! The catalogue that ships, and finding a food by what a cook types.

use deunicode::deunicode;
use std::sync::LazyLock;

use super::Food;

/// The whole catalogue.
#[derive(Debug, Clone, PartialEq)]
pub struct Catalogue {
    /// The foods.
    pub foods: Vec<Food>,
}

/// What a typed name led to.
#[derive(Debug, Clone, PartialEq)]
pub enum Found<'a> {
    /// One food, and no doubt.
    One(&'a Food),
    /// Several it could be, the likeliest first.
    Several(Vec<&'a Food>),
    /// None.
    None,
}

macro_rules! files {
    ($($name:literal),+) => { [$(include_str!(concat!("../../data/foods/", $name, ".json"))),+] };
}

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| {
    let files = files![
        "beef",
        "tough",
        "ground",
        "pork",
        "lamb",
        "poultry",
        "fish",
        "shellfish",
        "eggs",
        "jars",
        "plants",
        "dishes"
    ];
    let read =
        |text: &&str| serde_json::from_str::<Vec<Food>>(text).expect("shipped with the code and tested");
    let foods: Vec<Food> = files.iter().flat_map(read).collect();
    for food in &foods {
        food.check().expect("shipped with the code and tested");
    }
    Catalogue { foods }
});

/// The catalogue shipped with the application.
///
/// ```
/// use hold_steady_core::food::catalogue;
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// assert_eq!(strip.usual_doneness().name, "medium-rare");
/// ```
#[must_use]
pub fn catalogue() -> &'static Catalogue {
    &CATALOGUE
}

impl Catalogue {
    /// The foods a cook is offered.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(catalogue().listed().count() > 40);
    /// ```
    pub fn listed(&self) -> impl Iterator<Item = &Food> {
        self.foods.iter().filter(|f| f.listed)
    }

    /// The food that stands in a sentence in which nobody said one, and against which the blanks of a sentence are shown whose
    /// food is not known: that one is refused by its name, and no answer is given for another in its place.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::food::catalogue().begins_with().id, "beef-strip");
    /// ```
    #[must_use]
    pub fn begins_with(&self) -> &Food {
        self.food(BEGINS_WITH).expect("it is shipped")
    }

    /// The food with this identifier.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert_eq!(catalogue().food("cod-fillet").map(|f| f.class), Some(FoodClass::Fish));
    /// assert!(catalogue().food("unicorn").is_none());
    /// ```
    #[must_use]
    pub fn food(&self, id: &str) -> Option<&Food> {
        self.foods.iter().find(|f| f.id == id)
    }
}

/// What a sentence begins with before anybody said anything.
const BEGINS_WITH: &str = "beef-strip";

/// Lower case in plain letters (accents off, other scripts spelt out), anything but letters and digits a space.
fn plain(text: &str) -> String {
    let text: String =
        deunicode(text).to_lowercase().chars().map(|c| if c.is_alphanumeric() { c } else { ' ' }).collect();
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// How well a food answers to some words; less is better, `None` is not at all.
fn rank(food: &Food, words: &str) -> Option<u8> {
    let name = plain(&food.name);
    if name == words || plain(&food.plural) == words || food.id == words {
        return Some(0);
    }
    let synonyms = || food.synonyms.iter().map(|s| plain(s));
    if synonyms().any(|s| s == words) {
        return Some(1);
    }
    if name.starts_with(words) {
        return Some(2);
    }
    let parts = || words.split(' ');
    let begins = |text: &str, part: &str| text.split(' ').any(|w| w.starts_with(part));
    if parts().all(|p| begins(&name, p)) {
        return Some(3);
    }
    if synonyms().any(|s| s.starts_with(words) || parts().all(|p| begins(&s, p))) {
        return Some(4);
    }
    let all = format!("{name} {} {}", synonyms().collect::<Vec<_>>().join(" "), plain(&food.group));
    parts().all(|p| all.contains(p)).then_some(5)
}

/// The foods that answer to some words, the likeliest first. Any part of a name or synonym will do.
pub(super) fn search<'a>(foods: impl Iterator<Item = &'a Food>, typed: &str) -> Vec<&'a Food> {
    let words = plain(typed);
    let mut ranked: Vec<(u8, &Food)> = foods.filter_map(|f| Some((rank(f, &words)?, f))).collect();
    // Of those that answer alike, whole cuts before what is made of them.
    ranked.sort_by_key(|(rank, food)| (*rank, food.class.is_mixed_through()));
    ranked.into_iter().map(|r| r.1).collect()
}

/// The one food that is meant, or those it could be.
pub(super) fn find<'a>(foods: impl Iterator<Item = &'a Food>, typed: &str) -> Found<'a> {
    let words = plain(typed);
    if words.is_empty() {
        return Found::None;
    }
    let found = search(foods, typed);
    let exact: Vec<&&Food> = found.iter().filter(|f| rank(f, &words).is_some_and(|r| r <= 1)).collect();
    match (exact.as_slice(), found.as_slice()) {
        // A name itself is meant, even where it is part of another's or another's synonym.
        ([first, ..], _) if rank(first, &words) == Some(0) || exact.len() == 1 => Found::One(first),
        (_, [only]) => Found::One(only),
        (_, []) => Found::None,
        _ => Found::Several(found),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Celsius;

    fn names(typed: &str) -> Vec<&'static str> {
        search(catalogue().listed(), typed).into_iter().map(|f| f.name.as_str()).collect()
    }

    #[test]
    fn the_catalogue_is_whole() {
        let foods = &catalogue().foods;
        assert!(foods.iter().filter(|f| f.listed).count() >= 50);
        for (i, food) in foods.iter().enumerate() {
            assert!(
                foods[..i].iter().all(|f| f.id != food.id && plain(&f.name) != plain(&food.name)),
                "{}",
                food.id
            );
            assert!(!food.composition.source.is_empty() && !food.texture.source.is_empty(), "{}", food.id);
            assert!(!crate::safety::organisms(&food.kill).is_empty(), "{}: no organisms", food.id);
            assert_eq!(food.sides_mm.is_some(), food.shape == "block", "{}", food.id);
            // A tough cut sets three temperatures side by side, each within what can be planned.
            let beside: Vec<_> = food.texture.side_by_side().map(|r| r.c).collect();
            assert_eq!(beside.len(), if food.texture.tough { 3 } else { 0 }, "{}", food.id);
            assert!(beside.iter().all(|c| (food.bath_c.low..=food.bath_c.high).contains(c)), "{}", food.id);
            for school in &food.schools {
                assert!((food.bath_c.low..=food.bath_c.high).contains(&school.c), "{}", food.id);
            }
        }
    }

    #[test]
    fn any_part_of_a_name_or_synonym_finds() {
        assert_eq!(names("strip steak")[0], "strip steak");
        assert!(names("chick").contains(&"chicken breast") && names("chick").contains(&"whole chicken leg"));
        assert_eq!(names("chick")[0], "chicken breast");
        assert!(names("shrimp").contains(&"prawns"));
        assert!(names("crème caramel").contains(&"egg custard in a jar"));
        assert!(names("rib pork").contains(&"pork ribs"));
        assert_eq!(names("zzz"), Vec::<&str>::new());
    }

    #[test]
    fn a_name_is_meant_and_a_doubt_is_asked() {
        let one = |typed: &str| match find(catalogue().listed(), typed) {
            Found::One(f) => f.id.clone(),
            other => panic!("{typed}: {other:?}"),
        };
        assert_eq!(one("Strip Steak"), "beef-strip");
        assert_eq!(one("beef-strip"), "beef-strip");
        assert_eq!(one("shrimp"), "prawn");
        assert_eq!(one("tuna"), "tuna-steak");
        // The name itself, though others hold it too.
        assert_eq!(one("apples"), "apple");
        for doubtful in ["chicken", "steak", "jar"] {
            assert!(
                matches!(find(catalogue().listed(), doubtful), Found::Several(v) if v.len() > 1),
                "{doubtful}"
            );
        }
        assert_eq!(find(catalogue().listed(), "  "), Found::None);
    }

    #[test]
    fn texture_windows_run_straight_between_rows_and_flat_beyond() {
        let strip = catalogue().food("beef-strip").expect("in the catalogue");
        let at = |c: f64| {
            let (from, until) = strip.texture.at(Celsius::new(c));
            (from.value(), until.value())
        };
        assert_eq!((at(30.0), at(90.0)), ((60.0, 150.0), (60.0, 240.0)));
        assert!((at(56.5).1 - 300.0).abs() < 1e-9, "{:?}", at(56.5));
    }

    #[test]
    fn eggs_have_the_size_of_their_weight() {
        let egg = catalogue().food("shell-egg-large").expect("in the catalogue");
        let mm = |id: &str| egg.size(id).expect("a size").diameter_mm().mm();
        // Measured eggs: 57 g is about 53 cm³, a ball of 46.6 mm; 71 g one of 50.1 mm (memory).
        assert!(
            (mm("large") - 46.6).abs() < 0.1 && (mm("jumbo") - 50.1).abs() < 0.1,
            "{} {}",
            mm("large"),
            mm("jumbo")
        );
    }
}
