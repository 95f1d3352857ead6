//! The verdict table, row by row: when each applies, what it decides, at which instants that can change, and which
//! way leads out.
//!
//! To add a row, add it to the one list below at its place in the order, and its words to `data/rules.json` (a test
//! asks for them). Ribbon, map, ways out and headlines follow from the row; where one of them must know of a new kind
//! of decision, turn or exit, the compiler says so.

use serde::{Deserialize, Deserializer, Serialize, Serializer};

use super::{EggUse, Facts, FoodState, Level, Parasites};
use crate::figures::Limits;
use crate::food::FoodClass;

/// What a row decides, and which of its texts says so.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Decision {
    /// How the piece may be served.
    pub level: Level,
    /// Which text.
    pub says: Says,
}

/// Which of its texts a row says.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Says {
    /// It must not be served.
    Refused,
    /// It had its heat and lost it.
    Cold,
    /// Milk that was not scalded.
    Unscalded,
    /// The bath strayed.
    Bath,
    /// Too long.
    Long,
    /// Not long enough.
    Short,
    /// Left standing.
    Left,
    /// No target applies.
    Exempt,
    /// Hot again.
    Back,
    /// To be eaten before its time is up.
    AtOnce,
    /// It cools, and there is time left.
    Cooling,
    /// Kinetics and table.
    Code,
    /// Kinetics alone.
    Kinetics,
    /// Too long after the kill.
    AfterKill,
    /// Too long for a fish that forms histamine.
    Histamine,
    /// Too long since it left the cold.
    Reheated,
    /// Too long on the raw clock.
    Clock,
    /// Too long at the warmth bacteria like best.
    Warm,
    /// It may be served.
    Served,
    /// Its inside was reached.
    Pierced,
    /// Shot in the wild.
    Wild,
    /// Not hot enough for its kind.
    Pork,
    /// Not of an exempt kind.
    NotExempt,
    /// To be used raw.
    Raw,
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

/// Which way leads out of what a row decides.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Exit {
    /// Chill it and keep it cold.
    Chill,
    /// Boil it hard first.
    Boil,
    /// The heat that bivalves need.
    Bivalves,
    /// A culture with all it needs.
    Culture,
    /// A kill: longer, hotter, thinner; or what else may serve it.
    Kill,
}

/// One row.
pub struct Row {
    /// Its number in the table, as records name it.
    pub number: &'static str,
    /// Key of its words.
    pub key: &'static str,
    /// What it decides; `None` where it does not apply.
    pub decides: fn(&Facts, &Limits) -> Option<Decision>,
    /// What it can say.
    pub says: &'static [Says],
    /// When that can change.
    pub turns: &'static [Turn],
    /// How to come out of it.
    pub exit: Exit,
}

const fn decided(level: Level, says: Says) -> Option<Decision> {
    Some(Decision { level, says })
}

const fn refused(says: Says) -> Option<Decision> {
    decided(Level::Refused, says)
}

const fn served(says: Says) -> Option<Decision> {
    decided(Level::ServeNow, says)
}

const fn pasteurised(says: Says) -> Option<Decision> {
    decided(Level::Pasteurized, says)
}

macro_rules! rules {
    ($(
        $(#[$doc:meta])*
        $rule:ident: $number:literal, $key:literal, $decides:ident,
        says [$($says:ident),*], turns [$($turn:ident),*], exit $exit:ident;
    )+) => {
        /// A row of the table.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
        pub enum Rule { $($(#[$doc])* $rule),+ }

        /// All rows, in the order in which they are asked.
        pub const RULES: &[Rule] = &[$(Rule::$rule),+];

        impl Rule {
            /// The row.
            #[must_use]
            pub(crate) const fn row(self) -> Row {
                match self {
                    $(Self::$rule => Row {
                        number: $number,
                        key: $key,
                        decides: $decides,
                        says: &[$(Says::$says),*],
                        turns: &[$(Turn::$turn),*],
                        exit: Exit::$exit,
                    }),+
                }
            }
        }
    };
}

rules! {
    /// Meant to stand on a shelf.
    Shelf: "1", "shelf", shelf,
        says [Refused], turns [], exit Chill;
    /// Beans of the species *Phaseolus vulgaris*, not boiled hard.
    RawBeans: "2", "raw-beans", raw_beans,
        says [Refused], turns [], exit Boil;
    /// Mussels, clams, oysters.
    Bivalve: "3", "bivalve", bivalve,
        says [Refused, Cold], turns [BivalveHeld], exit Bivalves;
    /// Live-culture ferment of milk.
    Ferment: "4", "ferment", ferment,
        says [Unscalded, Bath, Long, Short, Left, Exempt], turns [Fermented], exit Culture;
    /// Pasteurised and chilled before.
    Reheated: "5", "reheated", reheated,
        says [Back, AtOnce, Reheated, Cooling], turns [Reheating, ClocksOut], exit Kill;
    /// Pasteurised in this bath.
    Pasteurised: "6", "pasteurised", pasteurised_here,
        says [Code, Kinetics, Cooling], turns [Killed, ClocksOut], exit Kill;
    /// A guest is at risk.
    GuestAtRisk: "7", "guest-at-risk", guest_at_risk,
        says [Refused], turns [], exit Kill;
    /// Too long where bacteria grow.
    Growth: "8", "growth", growth,
        says [AfterKill, Histamine, Clock, Warm], turns [ClocksOut], exit Kill;
    /// Had its class's single cooking temperature.
    Cooked: "8a", "cooked", cooked,
        says [Served], turns [Cooked], exit Kill;
    /// Ground, bladed, injected, mixed.
    MixedThrough: "9", "mixed-through", mixed_through,
        says [Pierced], turns [], exit Kill;
    /// Whole beef, veal, lamb.
    WholeRedMeat: "10", "whole-red-meat", whole_red_meat,
        says [Served], turns [], exit Kill;
    /// Pork and game.
    Pork: "11", "pork", pork,
        says [Wild, Pork], turns [], exit Kill;
    /// Duck and goose breast.
    Duck: "12", "duck", duck,
        says [Served], turns [], exit Kill;
    /// Other poultry.
    Poultry: "13", "poultry", poultry,
        says [Refused], turns [], exit Kill;
    /// Fish.
    Fish: "14", "fish", fish,
        says [Served, NotExempt, Refused], turns [FishHeld], exit Kill;
    /// Crustaceans, scallops, squid, octopus.
    Crustacean: "15", "crustacean", crustacean,
        says [Served, Refused], turns [ShellfishDone], exit Kill;
    /// Eggs in the shell.
    SoftEgg: "16", "soft-egg", soft_egg,
        says [Raw, Served, Refused], turns [EggDone], exit Kill;
    /// Vegetables and fruit.
    Plant: "17", "plant", plant,
        says [Served], turns [], exit Kill;
}

impl Rule {
    /// What it lets be served must be seared all over: only its outside was ever exposed.
    ///
    /// ```
    /// use hold_steady_core::safety::Rule;
    /// assert!(Rule::WholeRedMeat.asks_for_a_sear() && !Rule::Pasteurised.asks_for_a_sear());
    /// ```
    #[must_use]
    pub const fn asks_for_a_sear(self) -> bool {
        matches!(self, Self::WholeRedMeat | Self::Duck)
    }

    /// Its number in the table.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::safety::Rule::Cooked.number(), "8a");
    /// ```
    #[must_use]
    pub const fn number(self) -> &'static str {
        self.row().number
    }

    /// Asks the rows in their order; the first that applies decides. Where none does, the food is of a
    /// class that only row 6 can pass: refused by the row of its kind.
    #[must_use]
    pub(crate) fn decide(facts: &Facts, limits: &Limits) -> (Self, Decision) {
        RULES
            .iter()
            .find_map(|rule| Some((*rule, (rule.row().decides)(facts, limits)?)))
            .unwrap_or((Self::MixedThrough, Decision { level: Level::Refused, says: Says::Pierced }))
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
        let found = RULES.iter().find(|r| r.number() == number);
        found.copied().ok_or_else(|| serde::de::Error::custom(format!("there is no row {number}")))
    }
}

fn shelf(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.for_shelf { refused(Says::Refused) } else { None }
}

fn raw_beans(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class == FoodClass::KidneyBean && !f.case.prepared { refused(Says::Refused) } else { None }
}

fn bivalve(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Bivalve {
        return None;
    }
    if !f.bivalve_held {
        return refused(Says::Refused);
    }
    // What had its heat is pasteurised by row 6, or has been kept too long and is refused here or there.
    if f.was_pasteurised(l) { None } else { refused(Says::Cold) }
}

fn ferment(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Ferment {
        return None;
    }
    let state = f.fermenting?;
    let says = if !f.case.prepared {
        Says::Unscalded
    } else if state.bath_low_c < l.ferment_low_c.celsius() || state.bath_high_c > l.ferment_high_c.celsius() {
        Says::Bath
    } else if f.bath_min > l.ferment_until_min.minutes() {
        Says::Long
    } else if state.warm_min < l.ferment_from_min.minutes() {
        Says::Short
    } else if f.after_min > l.after_kill_most_min.minutes() {
        Says::Left
    } else {
        return Some(Decision { level: Level::Exempt, says: Says::Exempt });
    };
    refused(says)
}

fn reheated(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.case.state != FoodState::PasteurizedChilled {
        return None;
    }
    let r = f.reheating?;
    let limit = l.reheat_limit_min.minutes();
    let back = r.kept && r.back_min.is_some_and(|m| m <= limit);
    if back && f.after_min <= l.after_kill_every_min.minutes() {
        pasteurised(Says::Back)
    } else if r.since_min <= limit {
        pasteurised(Says::AtOnce)
    } else if f.raw_min > l.clock_limit_min.minutes() {
        // What was pasteurised before and stood too long is not made good by a second kill.
        refused(Says::Reheated)
    } else if back && f.after_min <= l.after_kill_most_min.minutes() && !f.case.at_risk {
        served(Says::Cooling)
    } else {
        None
    }
}

fn pasteurised_here(f: &Facts, l: &Limits) -> Option<Decision> {
    if !f.was_pasteurised(l) {
        return None;
    }
    if f.after_kill_min <= l.after_kill_every_min.minutes() {
        pasteurised(if f.code_reached.is_some() { Says::Code } else { Says::Kinetics })
    } else if f.after_kill_min <= l.after_kill_most_min.minutes() && !f.case.at_risk {
        served(Says::Cooling)
    } else {
        None
    }
}

fn guest_at_risk(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.at_risk && f.case.class.is_animal() { refused(Says::Refused) } else { None }
}

fn growth(f: &Facts, l: &Limits) -> Option<Decision> {
    if f.after_kill_min > l.after_kill_most_min.minutes() {
        return refused(Says::AfterKill);
    }
    if f.raw_min > f.case.clock_limit(l).minutes() {
        return refused(if f.case.histamine { Says::Histamine } else { Says::Clock });
    }
    if f.warm_min > l.warm_limit_min.minutes() { refused(Says::Warm) } else { None }
}

fn cooked(f: &Facts, _: &Limits) -> Option<Decision> {
    let may = f.case.class.may_be_cooked_whole() && !f.case.poultry && !f.case.wild_game && !f.case.stuffed;
    if may && f.cooked { served(Says::Served) } else { None }
}

fn mixed_through(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class.is_animal() && f.case.is_pierced() { refused(Says::Pierced) } else { None }
}

fn whole_red_meat(f: &Facts, _: &Limits) -> Option<Decision> {
    if matches!(f.case.class, FoodClass::Beef | FoodClass::Lamb) { served(Says::Served) } else { None }
}

fn pork(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Pork {
        return None;
    }
    refused(if f.case.wild_game { Says::Wild } else { Says::Pork })
}

fn duck(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class == FoodClass::Duck { served(Says::Served) } else { None }
}

fn poultry(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class == FoodClass::Poultry { refused(Says::Refused) } else { None }
}

fn fish(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Fish {
        return None;
    }
    if f.case.parasites != Parasites::None || f.fish_held {
        served(Says::Served)
    } else {
        refused(if f.case.exempt_in_vain { Says::NotExempt } else { Says::Refused })
    }
}

fn crustacean(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::Crustacean {
        return None;
    }
    if f.shellfish_done { served(Says::Served) } else { refused(Says::Refused) }
}

fn soft_egg(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class != FoodClass::ShellEgg {
        return None;
    }
    match f.case.egg_use {
        EggUse::Raw => refused(Says::Raw),
        EggUse::Soft if f.egg_done => served(Says::Served),
        EggUse::Soft => refused(Says::Refused),
    }
}

fn plant(f: &Facts, _: &Limits) -> Option<Decision> {
    if f.case.class.is_animal() { None } else { served(Says::Served) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_are_numbered_once_in_the_order_of_the_table() {
        let numbers: Vec<&str> = RULES.iter().map(|r| r.number()).collect();
        let table = [
            "1", "2", "3", "4", "5", "6", "7", "8", "8a", "9", "10", "11", "12", "13", "14", "15", "16", "17",
        ];
        assert_eq!(numbers, table);
    }

    #[test]
    fn a_row_is_its_number_in_records() {
        for &rule in RULES {
            let json = serde_json::to_string(&rule).expect("plain");
            assert_eq!(serde_json::from_str::<Rule>(&json).expect("its own"), rule);
        }
        assert_eq!(serde_json::to_string(&Rule::Cooked).expect("plain"), "\"8a\"");
        assert_eq!(serde_json::to_string(&Rule::Growth).expect("plain"), "8");
        assert!(serde_json::from_str::<Rule>("18").is_err());
    }
}
