//! The verdict table: first row that matches. Row numbers are those of the specification the table
//! was written from, so that a record can name its row.

use serde::{Deserialize, Serialize};

use super::{Limit, Limits};
use crate::food::{Basis, FoodClass};
use crate::units::{Celsius, Units};

/// How a piece may be served.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// Every target reached: for every guest.
    Pasteurized,
    /// No pathogen target applies.
    Exempt,
    /// At once, to guests not at risk, on the conditions listed.
    ServeNow,
    /// Not to be served as it is.
    Refused,
}

impl Level {
    /// The word in records and requests.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Pasteurized => "pasteurized",
            Self::Exempt => "exempt",
            Self::ServeNow => "serve-now",
            Self::Refused => "refused",
        }
    }
}

/// The food's state before this bath.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FoodState {
    /// Not cooked before.
    #[default]
    Raw,
    /// Pasteurised, chilled fast and kept cold; being reheated.
    PasteurizedChilled,
    /// Boiled for ten minutes first: what kidney beans need.
    Boiled,
}

/// What was done about parasites in fish that is eaten below pasteurisation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Parasites {
    /// Nothing that is known of.
    #[default]
    None,
    /// Frozen: −20 °C for 7 days, −35 °C for 15 h, or frozen at −35 °C and kept at −20 °C for 24 h.
    Frozen,
    /// Exempt: listed tunas, farmed fish fed on pellets.
    Exempt,
}

/// What an egg in its shell is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum EggUse {
    /// As a pasteurised raw egg.
    #[default]
    Raw,
    /// Eaten soft, to order.
    Soft,
}

/// What the table decides by.
#[derive(Debug, Clone, PartialEq)]
pub struct Facts {
    /// The food's class.
    pub class: FoodClass,
    /// Whole muscle, its inside never pierced.
    pub intact: bool,
    /// A guest is very young, old, pregnant or ill.
    pub at_risk: bool,
    /// Raw, or pasteurised before.
    pub state: FoodState,
    /// Set point less the instrument's stated error, °C.
    pub set_c: f64,
    /// All kinetics targets reached.
    pub kinetics_reached: bool,
    /// The code's table reached; `None` where the profile has none for this class.
    pub code_reached: Option<bool>,
    /// Minutes of warming from 10 °C.
    pub come_up_min: f64,
    /// Minutes on the growth clock until eaten.
    pub clock_min: f64,
    /// Minutes in the bath.
    pub bath_min: f64,
    /// Minutes until the centre was back at reheating temperature, if it was.
    pub reheated_min: Option<f64>,
    /// A jar or bag meant to stand on a shelf.
    pub for_shelf: bool,
    /// What was done about parasites.
    pub parasites: Parasites,
    /// What an egg is for.
    pub egg_use: EggUse,
    /// The core had a bivalve's 90 °C for 90 s.
    pub bivalve_held: bool,
    /// The core had pork's 62.8 °C for 15 s.
    pub pork_held: bool,
    /// The core had fish's 60 °C for a minute.
    pub fish_held: bool,
    /// The core has come within 1 K of the bath.
    pub near_bath: bool,
}

/// Why, with the rule's source.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Reason {
    /// The rule in a few words.
    pub rule: String,
    /// What it means here, in whole sentences.
    pub text: String,
    /// Where the rule comes from.
    pub source: String,
    /// How sure that is.
    pub basis: Basis,
}

/// What would make the piece pasteurised (or safe to serve), computed.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct WayOut {
    /// In whole sentences.
    pub text: String,
    /// Leave it in this bath until, minutes from the drop.
    pub until_min: Option<f64>,
    /// The coldest bath that pasteurises by then, °C.
    pub bath_c: Option<f64>,
    /// The thickest piece pasteurised by then in this bath, mm.
    pub thickness_mm: Option<f64>,
    /// Take it out no later than, minutes from the drop (where it may be served unpasteurised).
    pub no_later_than_min: Option<f64>,
}

/// The answer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Verdict {
    /// How it may be served.
    pub level: Level,
    /// The row of the table that matched.
    pub row: u8,
    /// Why.
    pub reasons: Vec<Reason>,
    /// What would make it better; `None` when nothing needs to.
    pub way_out: Option<WayOut>,
}

impl Verdict {
    /// In a few words, for whom.
    #[must_use]
    pub const fn headline(&self, class: FoodClass) -> &'static str {
        match self.level {
            Level::Pasteurized if self.row == 5 => "Reheated, for every guest",
            Level::Pasteurized => "Pasteurised, for every guest",
            Level::Exempt => "No pathogen target applies",
            Level::ServeNow if !class.is_animal() => "To be eaten at once, not stored",
            Level::ServeNow => "Guests not at risk only, at once",
            Level::Refused => "Not safe to serve",
        }
    }
}

fn reason(rule: &str, limit: &Limit, text: String) -> Reason {
    Reason { rule: rule.into(), text, source: limit.source.clone(), basis: limit.basis }
}

/// What counts as frozen for parasites, in words: FDA Food Code 2022, 3-402.11, from memory.
pub const FROZEN_FOR_PARASITES: &str = "−20 °C for 7 days, or −35 °C for 15 h";

/// Judges by the first row that matches. The way out is not filled in here: it needs further
/// simulations ([`crate::piece::Run::verdict_at`]).
///
/// Level and row depend on the facts alone; the texts are in the reader's units.
///
/// ```
/// use hold_steady_core::food::FoodClass;
/// use hold_steady_core::safety::*;
/// use hold_steady_core::units::Units;
/// let facts = Facts {
///     class: FoodClass::Beef, intact: true, at_risk: false, state: FoodState::Raw, set_c: 54.5,
///     kinetics_reached: false, code_reached: Some(false), come_up_min: 70.0, clock_min: 90.0,
///     bath_min: 90.0, reheated_min: None, parasites: Parasites::None, egg_use: EggUse::Raw,
///     for_shelf: false, bivalve_held: false, pork_held: false, fish_held: false, near_bath: false,
/// };
/// assert_eq!(judge(&facts, limits(), Units::default()).level, Level::ServeNow);
/// let bladed = Facts { intact: false, ..facts };
/// assert_eq!(judge(&bladed, limits(), Units::default()).level, Level::Refused);
/// ```
#[must_use]
pub fn judge(facts: &Facts, limits: &Limits, units: Units) -> Verdict {
    let hot_enough = facts.set_c >= limits.lowest_hold_c.value;
    let came_up = facts.come_up_min <= limits.come_up_limit_min.value;
    let code = facts.code_reached.unwrap_or(true);
    let pasteurised = facts.kinetics_reached && code && hot_enough && came_up;
    let degrees = |l: &Limit| units.temperature(Celsius::new(l.value));

    if facts.class == FoodClass::Ferment
        && (limits.ferment_low_c.value..=limits.ferment_high_c.value).contains(&facts.set_c)
    {
        let text = format!(
            "A live culture keeps others down between {} and {}: given milk first heated to {}, a live starter, and an end at pH 4.6 or less. Chill it then.",
            degrees(&limits.ferment_low_c),
            degrees(&limits.ferment_high_c),
            units.temperature(Celsius::new(82.0))
        );
        let reasons = vec![reason("Live-culture ferment", &limits.ferment_low_c, text)];
        return Verdict { level: Level::Exempt, row: 1, reasons, way_out: None };
    }
    if facts.class == FoodClass::KidneyBean && facts.state == FoodState::Raw {
        let first = Reason {
            rule: "Poison in raw kidney beans".into(),
            text: "Raw kidney beans hold a lectin that a bath below the boil does not destroy and may make worse. Soak them and boil them for ten minutes first.".into(),
            source: "FDA, Bad Bug Book, phytohaemagglutinin".into(),
            basis: Basis::PublishedFromMemory,
        };
        return Verdict { level: Level::Refused, row: 2, reasons: vec![first], way_out: None };
    }
    if facts.class == FoodClass::Bivalve && !facts.bivalve_held {
        let text = format!(
            "Bivalves filter viruses out of the water they live in; the core must have {} for {} s. Steam or boil them instead.",
            degrees(&limits.bivalve_c),
            limits.bivalve_s.value
        );
        let first = reason("Viruses in bivalves", &limits.bivalve_c, text);
        return Verdict { level: Level::Refused, row: 3, reasons: vec![first], way_out: None };
    }
    if facts.for_shelf {
        let first = Reason {
            rule: "Not for the shelf".into(),
            text: "No bath below the boil destroys the spores of Clostridium botulinum, and a sealed jar or bag suits them. Refrigerate it or freeze it.".into(),
            source: "FDA Food Code 2022, 3-502.12".into(),
            basis: Basis::PublishedFromMemory,
        };
        return Verdict { level: Level::Refused, row: 4, reasons: vec![first], way_out: None };
    }
    if facts.state == FoodState::PasteurizedChilled {
        let limit = &limits.reheat_limit_min;
        let back = facts.reheated_min.is_some_and(|m| m <= limit.value);
        if back || facts.bath_min <= limit.value {
            let text = if back {
                format!(
                    "Pasteurised before, and back at {} within {}.",
                    degrees(&limits.reheat_core_c),
                    minutes(limit.value)
                )
            } else {
                format!("Pasteurised before; eat it at once, within {} of the drop.", minutes(limit.value))
            };
            return Verdict {
                level: Level::Pasteurized,
                row: 5,
                reasons: vec![reason("Reheating what was pasteurised and chilled", limit, text)],
                way_out: None,
            };
        }
    }
    if pasteurised {
        let mut text = "Every organism's target is reached at the centre".to_owned();
        if facts.code_reached.is_some() {
            text.push_str(", and the code's time table is met too");
        }
        text.push('.');
        return Verdict {
            level: Level::Pasteurized,
            row: 6,
            reasons: vec![Reason {
                rule: "Pasteurised at the centre".into(),
                text,
                source: "Bigelow's log-linear kinetics along the simulated centre, D and z from their published sources".into(),
                basis: Basis::PublishedFromMemory,
            }],
            way_out: None,
        };
    }

    let mut reasons = Vec::new();
    if !hot_enough {
        reasons.push(cold_bath(facts, limits, units));
    } else {
        if !facts.kinetics_reached {
            reasons.push(Reason {
                rule: "Targets not reached at the centre".into(),
                text: format!(
                    "After {} in the bath the centre has not had the kill that is asked for.",
                    minutes(facts.bath_min)
                ),
                source: "Bigelow's log-linear kinetics along the simulated centre, D and z from their published sources".into(),
                basis: Basis::PublishedFromMemory,
            });
        } else if !code {
            reasons.push(Reason {
                rule: "The code's time table is not met".into(),
                text: "The kill is reached, but the code's table, which must be met too, asks for more time or heat.".into(),
                source: "The profile's time and temperature table".into(),
                basis: Basis::PublishedFromMemory,
            });
        }
        if !came_up {
            reasons.push(reason(
                "Warmed too slowly",
                &limits.come_up_limit_min,
                format!(
                    "The centre took {} from {} upward; {} is the most. Some bacteria grow and leave toxins that heat does not take away.",
                    minutes(facts.come_up_min),
                    degrees(&limits.come_up_low_c),
                    minutes(limits.come_up_limit_min.value)
                ),
            ));
        }
    }

    let refused = |row, first: Reason, mut rest: Vec<Reason>| {
        rest.insert(0, first);
        Verdict { level: Level::Refused, row, reasons: rest, way_out: None }
    };
    let animal = facts.class.is_animal();
    if animal && facts.at_risk {
        let first = Reason {
            rule: "A guest is at risk".into(),
            text: "For guests who are very young, old, pregnant or ill, only pasteurised will do.".into(),
            source: "FDA Food Code 2022, 3-801.11(C)".into(),
            basis: Basis::PublishedFromMemory,
        };
        return refused(7, first, reasons);
    }
    if animal && facts.clock_min > limits.clock_limit_min.value {
        let first = reason(
            "Too long in the growth range",
            &limits.clock_limit_min,
            format!(
                "{} where bacteria grow, by the time it is eaten; {} is the most without a pasteurising hold. A vacuum does not change that: it suits those that need no air.",
                capitalised(&minutes(facts.clock_min)),
                minutes(limits.clock_limit_min.value)
            ),
        );
        return refused(8, first, reasons);
    }
    let pierced = facts.class.is_mixed_through();
    if animal && (pierced || !facts.intact) {
        let first = Reason {
            rule: if pierced { "Mixed through" } else { "Not intact" }.into(),
            text: "Blades, needles, a grinder or a whisk carry what was outside to the inside, so the centre must be pasteurised.".into(),
            source: "FDA Food Code 2022, 3-401.11(A)(2)".into(),
            basis: Basis::PublishedFromMemory,
        };
        return refused(9, first, reasons);
    }
    by_class(facts, limits, units, reasons)
}

/// Rows 10 to 17: what is not pasteurised, intact, in time, and for guests not at risk.
fn by_class(facts: &Facts, limits: &Limits, units: Units, mut reasons: Vec<Reason>) -> Verdict {
    const ADVISORY: &str =
        "Tell the guests it is undercooked: raw or undercooked animal food can make people ill.";
    let degrees = |l: &Limit| units.temperature(Celsius::new(l.value));
    let mut answer = |served: bool, row: u8, first: Reason| {
        reasons.insert(0, first);
        let level = if served { Level::ServeNow } else { Level::Refused };
        Verdict { level, row, reasons: std::mem::take(&mut reasons), way_out: None }
    };
    match facts.class {
        FoodClass::Beef | FoodClass::Lamb => {
            let text = format!(
                "Sear every outer face, edges too, to at least {} until it is browned all over, and eat it at once. {ADVISORY}",
                degrees(&limits.sear_outside_c)
            );
            answer(true, 10, reason("Whole muscle, undercooked on purpose", &limits.sear_outside_c, text))
        }
        FoodClass::Pork => {
            let (core, held) = (degrees(&limits.pork_core_c), limits.pork_core_s.value);
            let text = if facts.pork_held {
                format!("The core has had {core} for {held} s: serve it at once. {ADVISORY}")
            } else {
                format!(
                    "Pork that is not pasteurised must at least have had {core} for {held} s at the core."
                )
            };
            answer(facts.pork_held, 11, reason("Pork and game", &limits.pork_core_c, text))
        }
        FoodClass::Duck => answer(
            true,
            12,
            Reason {
                rule: "Whole duck or goose breast, undercooked on purpose".into(),
                text: format!(
                    "Our own policy, not a code's: sear it all over and eat it at once. {ADVISORY}"
                ),
                source: "This application's policy".into(),
                basis: Basis::Trade,
            },
        ),
        FoodClass::Poultry => answer(
            false,
            13,
            Reason {
                rule: "Poultry".into(),
                text: "Poultry is pasteurised at the centre or it is not served.".into(),
                source: "FDA Food Code 2022, 3-401.11(A)(3)".into(),
                basis: Basis::PublishedFromMemory,
            },
        ),
        FoodClass::Fish => {
            let safe = facts.parasites != Parasites::None || facts.fish_held;
            let text = if safe {
                format!("Parasites are taken care of; germs are not: serve it at once. {ADVISORY}")
            } else {
                format!(
                    "Against parasites it must have been frozen ({}), be of an exempt kind, or have {} for a minute at the core.",
                    units.sentence(FROZEN_FOR_PARASITES),
                    degrees(&limits.fish_core_c)
                )
            };
            let first = Reason {
                rule: "Parasites in fish".into(),
                text,
                source: "FDA Food Code 2022, 3-402.11".into(),
                basis: Basis::PublishedFromMemory,
            };
            answer(safe, 14, first)
        }
        FoodClass::Crustacean | FoodClass::Bivalve => {
            let served = facts.near_bath && facts.set_c >= limits.crustacean_bath_c.value;
            let text = if served {
                format!("The core has come to the bath's temperature: serve it at once. {ADVISORY}")
            } else {
                format!(
                    "The core must come within a degree of a bath of at least {}.",
                    degrees(&limits.crustacean_bath_c)
                )
            };
            answer(served, 15, reason("Crustaceans, squid and octopus", &limits.crustacean_bath_c, text))
        }
        FoodClass::ShellEgg => {
            let served =
                facts.egg_use == EggUse::Soft && facts.near_bath && facts.set_c >= limits.egg_bath_c.value;
            let text = if served {
                format!("Soft, to order: serve it at once. {ADVISORY}")
            } else {
                format!(
                    "An egg needs its yolk pasteurised; minutes do not do it, for the yolk is still cold. (The few minutes often quoted are for liquid egg in a heat exchanger.) Soft eggs to order need the yolk within a degree of a bath of at least {}.",
                    degrees(&limits.egg_bath_c)
                )
            };
            answer(served, 16, reason("Egg in its shell", &limits.egg_bath_c, text))
        }
        FoodClass::Plant | FoodClass::KidneyBean => answer(
            true,
            17,
            Reason {
                rule: "Vegetables and fruit".into(),
                text: "Not pasteurised: serve it at once, do not store it.".into(),
                source: "Project rule".into(),
                basis: Basis::Trade,
            },
        ),
        // Rows 1 and 9 have dealt with these.
        FoodClass::Ground | FoodClass::EggMixture | FoodClass::Ferment => answer(
            false,
            9,
            Reason {
                rule: "Mixed through".into(),
                text: "The centre must be pasteurised.".into(),
                source: "FDA Food Code 2022, 3-401.11(A)(2)".into(),
                basis: Basis::PublishedFromMemory,
            },
        ),
    }
}

fn cold_bath(facts: &Facts, limits: &Limits, units: Units) -> Reason {
    let l = &limits.lowest_hold_c;
    let short = l.value - facts.set_c;
    let set = units.temperature(Celsius::new(facts.set_c));
    let least = units.temperature(Celsius::new(l.value));
    let text = if facts.set_c >= limits.growth_stops_c.value {
        format!(
            "No time table reaches {set}. {} more, {least}, would be on the first row of the tables and could pasteurise it.",
            capitalised(&units.temperature_difference(short))
        )
    } else {
        format!(
            "At {set} bacteria can still grow (up to {}). A bath of at least {least} is asked for before a hold counts.",
            units.temperature(Celsius::new(limits.growth_stops_c.value))
        )
    };
    reason("The bath is too cold to pasteurise", l, text)
}

/// Minutes in words: `45 min`, `2 h`, `3 h 5 min`.
#[must_use]
pub fn minutes(min: f64) -> String {
    if !min.is_finite() {
        return "for ever".into();
    }
    let total = min.round().max(0.0) as i64;
    match (total / 60, total % 60) {
        (0, m) => format!("{m} min"),
        (h, 0) => format!("{h} h"),
        (h, m) => format!("{h} h {m} min"),
    }
}

fn capitalised(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or_else(String::new, |c| c.to_uppercase().chain(chars).collect())
}
