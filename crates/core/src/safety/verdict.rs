//! The verdict table: first row that matches. Row numbers are those of the specification the table
//! was written from, so that a record can name its row; this file holds the rows for beef.

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

fn reason(rule: &str, limit: &Limit, text: String) -> Reason {
    Reason { rule: rule.into(), text, source: limit.source.clone(), basis: limit.basis }
}

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
///     bath_min: 90.0, reheated_min: None,
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
                source: "Bigelow's log-linear kinetics along the simulated centre".into(),
                basis: Basis::Computed,
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
                source: "Bigelow's log-linear kinetics along the simulated centre".into(),
                basis: Basis::Computed,
            });
        } else if !code {
            reasons.push(Reason {
                rule: "The code's time table is not met".into(),
                text: "The kill is reached, but the code's table, which must be met too, asks for more time or heat.".into(),
                source: "The profile's time and temperature table".into(),
                basis: Basis::Computed,
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
    if facts.at_risk {
        let first = Reason {
            rule: "A guest is at risk".into(),
            text: "For guests who are very young, old, pregnant or ill, only pasteurised will do.".into(),
            source: "FDA Food Code 2022, 3-801.11(C)".into(),
            basis: Basis::PublishedFromMemory,
        };
        return refused(7, first, reasons);
    }
    if facts.clock_min > limits.clock_limit_min.value {
        let first = reason(
            "Too long in the growth range",
            &limits.clock_limit_min,
            format!(
                "{} where bacteria grow, by the time it is eaten; {} is the most without a pasteurising hold.",
                capitalised(&minutes(facts.clock_min)),
                minutes(limits.clock_limit_min.value)
            ),
        );
        return refused(8, first, reasons);
    }
    if !facts.intact {
        let first = Reason {
            rule: "Not intact".into(),
            text: "Blades, needles or a grinder carry what was outside to the inside, so the centre must be pasteurised.".into(),
            source: "FDA Food Code 2022, 3-401.11(A)(2)".into(),
            basis: Basis::PublishedFromMemory,
        };
        return refused(9, first, reasons);
    }
    match facts.class {
        FoodClass::Beef => {
            reasons.insert(
                0,
                reason(
                    "Whole-muscle beef, undercooked on purpose",
                    &limits.sear_outside_c,
                    format!(
                        "Sear every outer face, edges too, to at least {} until it is browned all over, and eat it at once. Tell the guests it is undercooked: raw or undercooked meat can make people ill.",
                        degrees(&limits.sear_outside_c)
                    ),
                ),
            );
            Verdict { level: Level::ServeNow, row: 10, reasons, way_out: None }
        }
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
