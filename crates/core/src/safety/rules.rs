//! The verdict table, row by row: when each applies, what it decides, and at which instants that can change.
//!
//! To add a row, add it to [`Rule`], to [`Rule::ALL`] at its place in the order, to [`Rule::row`] (the compiler
//! asks for it) and its words to `data/rules.json` (a test asks for them). Ribbon, map, ways out and headlines
//! follow from the row.

use serde::{Deserialize, Deserializer, Serialize, Serializer};

use super::{EggUse, Facts, FoodState, Level, Limits, Parasites};
use crate::food::FoodClass;

/// A row of the table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Rule {
    /// Meant to stand on a shelf.
    Shelf,
    /// Beans of the species *Phaseolus vulgaris*, not boiled hard.
    RawBeans,
    /// Mussels, clams, oysters.
    Bivalve,
    /// Live-culture ferment of milk.
    Ferment,
    /// Pasteurised and chilled before.
    Reheated,
    /// Pasteurised in this bath.
    Pasteurised,
    /// A guest is at risk.
    GuestAtRisk,
    /// Too long where bacteria grow.
    Growth,
    /// Had its class's single cooking temperature.
    Cooked,
    /// Ground, bladed, injected, mixed.
    MixedThrough,
    /// Whole beef, veal, lamb.
    WholeRedMeat,
    /// Pork and game.
    Pork,
    /// Duck and goose breast.
    Duck,
    /// Other poultry.
    Poultry,
    /// Fish.
    Fish,
    /// Crustaceans, scallops, squid, octopus.
    Crustacean,
    /// Eggs in the shell.
    SoftEgg,
    /// Vegetables and fruit.
    Plant,
}

/// What a row decides, and which of its texts says so.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Decision {
    /// How the piece may be served.
    pub level: Level,
    /// Key of the text.
    pub says: &'static str,
}

/// An instant at which a row's decision can change.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Turn {
    /// Kinetics and table are reached.
    Killed,
    /// The raw clock, the warmest range or the clock after the kill runs out.
    ClocksOut,
    /// A bivalve has had its heat.
    BivalveHeld,
    /// A ferment begins to count, and ends counting.
    Fermented,
    /// What is reheated is back, falls below again, or its two hours are over.
    Reheating,
    /// It has had its class's single cooking temperature.
    Cooked,
    /// Fish has had the heat that kills parasites.
    FishHeld,
    /// A shellfish is done.
    ShellfishDone,
    /// An egg is done.
    EggDone,
}

/// One row.
pub struct Row {
    /// Its number in the table, as records name it.
    pub number: &'static str,
    /// Key of its words.
    pub key: &'static str,
    /// What it decides; `None` where it does not apply.
    pub decides: fn(&Facts, &Limits) -> Option<Decision>,
    /// When that can change.
    pub turns: &'static [Turn],
}

impl Row {
    const fn new(
        number: &'static str,
        key: &'static str,
        decides: fn(&Facts, &Limits) -> Option<Decision>,
        turns: &'static [Turn],
    ) -> Self {
        Self { number, key, decides, turns }
    }
}

const fn refused(says: &'static str) -> Option<Decision> {
    Some(Decision { level: Level::Refused, says })
}

const fn served(says: &'static str) -> Option<Decision> {
    Some(Decision { level: Level::ServeNow, says })
}

const fn pasteurised(says: &'static str) -> Option<Decision> {
    Some(Decision { level: Level::Pasteurized, says })
}

impl Rule {
    /// All rows, in the order in which they are asked.
    pub const ALL: [Self; 18] = [
        Self::Shelf,
        Self::RawBeans,
        Self::Bivalve,
        Self::Ferment,
        Self::Reheated,
        Self::Pasteurised,
        Self::GuestAtRisk,
        Self::Growth,
        Self::Cooked,
        Self::MixedThrough,
        Self::WholeRedMeat,
        Self::Pork,
        Self::Duck,
        Self::Poultry,
        Self::Fish,
        Self::Crustacean,
        Self::SoftEgg,
        Self::Plant,
    ];

    /// The row.
    #[must_use]
    pub const fn row(self) -> Row {
        match self {
            Self::Shelf => Row::new("1", "shelf", shelf, &[]),
            Self::RawBeans => Row::new("2", "raw-beans", raw_beans, &[]),
            Self::Bivalve => Row::new("3", "bivalve", bivalve, &[Turn::BivalveHeld]),
            Self::Ferment => Row::new("4", "ferment", ferment, &[Turn::Fermented]),
            Self::Reheated => Row::new("5", "reheated", reheated, &[Turn::Reheating]),
            Self::Pasteurised => {
                Row::new("6", "pasteurised", pasteurised_here, &[Turn::Killed, Turn::ClocksOut])
            }
            Self::GuestAtRisk => Row::new("7", "guest-at-risk", guest_at_risk, &[]),
            Self::Growth => Row::new("8", "growth", growth, &[Turn::ClocksOut]),
            Self::Cooked => Row::new("8a", "cooked", cooked, &[Turn::Cooked]),
            Self::MixedThrough => Row::new("9", "mixed-through", mixed_through, &[]),
            Self::WholeRedMeat => Row::new("10", "whole-red-meat", whole_red_meat, &[]),
            Self::Pork => Row::new("11", "pork", pork, &[]),
            Self::Duck => Row::new("12", "duck", duck, &[]),
            Self::Poultry => Row::new("13", "poultry", poultry, &[]),
            Self::Fish => Row::new("14", "fish", fish, &[Turn::FishHeld]),
            Self::Crustacean => Row::new("15", "crustacean", crustacean, &[Turn::ShellfishDone]),
            Self::SoftEgg => Row::new("16", "soft-egg", soft_egg, &[Turn::EggDone]),
            Self::Plant => Row::new("17", "plant", plant, &[]),
        }
    }

    /// Its number in the table.
    #[must_use]
    pub const fn number(self) -> &'static str {
        self.row().number
    }

    /// Asks the rows in their order; the first that applies decides. Where none does, the food is of a
    /// class that only row 6 can pass: refused by the row of its kind.
    #[must_use]
    pub fn decide(facts: &Facts, limits: &Limits) -> (Self, Decision) {
        Self::ALL
            .into_iter()
            .find_map(|rule| Some((rule, (rule.row().decides)(facts, limits)?)))
            .unwrap_or((Self::MixedThrough, Decision { level: Level::Refused, says: "pierced" }))
    }
}

/// In answers a row is its number; “8a” is a text.
impl Serialize for Rule {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        match self.number().parse::<u8>() {
            Ok(n) => s.serialize_u8(n),
            Err(_) => s.serialize_str(self.number()),
        }
    }
}

impl<'de> Deserialize<'de> for Rule {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Self, D::Error> {
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum Number {
            Number(u8),
            Text(String),
        }
        let number = match Number::deserialize(d)? {
            Number::Number(n) => n.to_string(),
            Number::Text(t) => t,
        };
        let found = Self::ALL.into_iter().find(|r| r.number() == number);
        found.ok_or_else(|| serde::de::Error::custom(format!("there is no row {number}")))
    }
}

fn shelf(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.for_shelf { refused("refused") } else { None }
}

fn raw_beans(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class == FoodClass::KidneyBean && !f.case.prepared { refused("refused") } else { None }
}

fn bivalve(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Bivalve {
        return None;
    }
    if !f.bivalve_held {
        return refused("refused");
    }
    // What had its heat is pasteurised by row 6, or has been kept too long and is refused here or there.
    if f.was_pasteurised(l) { None } else { refused("cold") }
}

fn ferment(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Ferment {
        return None;
    }
    let state = f.fermenting?;
    let says = if !f.case.prepared {
        "unscalded"
    } else if state.bath_low_c < l.ferment_low_c.value || state.bath_high_c > l.ferment_high_c.value {
        "bath"
    } else if f.bath_min > l.ferment_until_min.value {
        "long"
    } else if state.warm_min < l.ferment_from_min.value {
        "short"
    } else if f.after_min > l.after_kill_most_min.value {
        "left"
    } else {
        return Some(Decision { level: Level::Exempt, says: "exempt" });
    };
    refused(says)
}

fn reheated(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.case.state != FoodState::PasteurizedChilled {
        return None;
    }
    let r = f.reheating?;
    let limit = l.reheat_limit_min.value;
    let back = r.kept && r.back_min.is_some_and(|m| m <= limit);
    if back && f.after_min <= l.after_kill_every_min.value {
        pasteurised("back")
    } else if r.since_min <= limit {
        pasteurised("at-once")
    } else if back && f.after_min <= l.after_kill_most_min.value && !f.case.at_risk {
        served("cooling")
    } else {
        None
    }
}

fn pasteurised_here(f: &Facts, l: &Limits) -> Option<Decision> {
    if !f.was_pasteurised(l) {
        return None;
    }
    // What was pasteurised before and stood too long is not made good by a second kill.
    if f.case.state == FoodState::PasteurizedChilled && f.raw_min > l.clock_limit_min.value {
        return None;
    }
    if f.after_kill_min <= l.after_kill_every_min.value {
        pasteurised(if f.code_reached.is_some() { "code" } else { "kinetics" })
    } else if f.after_kill_min <= l.after_kill_most_min.value && !f.case.at_risk {
        served("cooling")
    } else {
        None
    }
}

fn guest_at_risk(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.at_risk && f.case.class.is_animal() { refused("refused") } else { None }
}

fn growth(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.after_kill_min > l.after_kill_most_min.value {
        return refused("after-kill");
    }
    if f.raw_min > f.case.clock_limit(l).value {
        let reheated = f.case.state == FoodState::PasteurizedChilled;
        return refused(match (f.case.histamine, reheated) {
            (true, _) => "histamine",
            (false, true) => "reheated",
            (false, false) => "clock",
        });
    }
    if f.warm_min > l.warm_limit_min.value { refused("warm") } else { None }
}

fn cooked(f: &Facts, _: &Limits) -> Option<Decision> {
    let may = f.case.class.may_be_cooked_whole() && !f.case.poultry && !f.case.wild_game && !f.case.stuffed;
    if may && f.cooked { served("served") } else { None }
}

fn mixed_through(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class.is_animal() && f.case.is_pierced() { refused("pierced") } else { None }
}

fn whole_red_meat(f: &Facts, _: &Limits) -> Option<Decision> {
    if matches!(f.case.class, FoodClass::Beef | FoodClass::Lamb) { served("served") } else { None }
}

fn pork(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Pork {
        return None;
    }
    refused(if f.case.wild_game { "wild" } else { "pork" })
}

fn duck(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class == FoodClass::Duck { served("served") } else { None }
}

fn poultry(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class == FoodClass::Poultry { refused("refused") } else { None }
}

fn fish(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Fish {
        return None;
    }
    if f.case.parasites != Parasites::None || f.fish_held {
        served("served")
    } else {
        refused(if f.case.exempt_in_vain { "not-exempt" } else { "refused" })
    }
}

fn crustacean(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Crustacean {
        return None;
    }
    if f.shellfish_done { served("served") } else { refused("refused") }
}

fn soft_egg(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::ShellEgg {
        return None;
    }
    match f.case.egg_use {
        EggUse::Raw => refused("raw"),
        EggUse::Soft if f.egg_done => served("served"),
        EggUse::Soft => refused("refused"),
    }
}

fn plant(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class.is_animal() { None } else { served("served") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_are_numbered_once_in_the_order_of_the_table() {
        let numbers: Vec<&str> = Rule::ALL.iter().map(|r| r.number()).collect();
        let table = [
            "1", "2", "3", "4", "5", "6", "7", "8", "8a", "9", "10", "11", "12", "13", "14", "15", "16", "17",
        ];
        assert_eq!(numbers, table);
    }

    #[test]
    fn a_row_is_its_number_in_records() {
        for rule in Rule::ALL {
            let json = serde_json::to_string(&rule).expect("plain");
            assert_eq!(serde_json::from_str::<Rule>(&json).expect("its own"), rule);
        }
        assert_eq!(serde_json::to_string(&Rule::Cooked).expect("plain"), "\"8a\"");
        assert_eq!(serde_json::to_string(&Rule::Growth).expect("plain"), "8");
        assert!(serde_json::from_str::<Rule>("18").is_err());
    }
}
