//! The answer of the verdict table: which row decided, by what facts. Words for it are made where it is shown
//! ([`crate::words`]).

use crate::figures::{Basis, Limits};
use crate::units::{Celsius, Length, Minutes};
use serde::{Deserialize, Serialize};

use super::{Facts, Rule, Says};
use crate::food::FishKind;

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
    ///
    /// ```
    /// assert_eq!(hold_steady_core::safety::Level::ServeNow.id(), "serve-now");
    /// ```
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

/// Why, in words, with the rule's source.
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

/// What a verdict rests on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Grounds {
    /// Which of its texts the row says.
    pub says: Says,
    /// What else is to be said.
    pub notes: Vec<Note>,
    /// The piece at that moment.
    pub facts: Facts,
}

/// The answer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Verdict {
    /// How it may be served.
    pub level: Level,
    /// The row of the table that matched.
    pub row: Rule,
    /// What that rests on. Missing in what an older version wrote down.
    #[serde(default)]
    pub grounds: Option<Grounds>,
    /// What would make it better; `None` when nothing needs to.
    pub way_out: Option<WayOut>,
    /// The words of an older version, which wrote those down and not the grounds.
    #[serde(default, rename = "reasons", skip_serializing_if = "Vec::is_empty")]
    pub written: Vec<Reason>,
}

/// What would make the piece pasteurised (or safe to serve), computed.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct WayOut {
    /// What to do, in the order to be said.
    #[serde(default)]
    pub ways: Vec<Way>,
    /// Leave it in this bath until, minutes from the drop.
    pub until_min: Option<Minutes>,
    /// The coldest bath that pasteurises by then, °C.
    pub bath_c: Option<Celsius>,
    /// The thickest piece pasteurised by then in this bath, mm.
    pub thickness_mm: Option<Length>,
    /// Take it out no later than, minutes from the drop (where it may be served unpasteurised).
    pub no_later_than_min: Option<Minutes>,
    /// The words of an older version.
    #[serde(default, rename = "text", skip_serializing_if = "Option::is_none")]
    pub written: Option<String>,
}

/// One thing to do, or why nothing helps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "way", rename_all = "kebab-case")]
pub enum Way {
    /// Boil the beans hard first.
    Boil,
    /// Chill it and keep it cold.
    Chill,
    /// Give the culture what it needs.
    Culture,
    /// Heat the bivalves through in a bath hot enough.
    HeatBivalves {
        /// °C.
        bath_c: Celsius,
        /// Minutes in it.
        min: Minutes,
    },
    /// Water does not get hot enough at this altitude.
    UnderPressure,
    /// Steam or boil the bivalves.
    Steam,
    /// It stood too long after its kill.
    ThrowAway,
    /// The same, for guests at risk.
    GrewAfterKill,
    /// It stood too long before the bath.
    SpoiledBefore,
    /// No bath pasteurises it.
    CookAnotherWay,
    /// One of these pasteurises it.
    Pasteurise {
        /// Which.
        by: Vec<Remedy>,
    },
    /// Out of the bath in time, served undercooked.
    TakeOut {
        /// Minutes from the drop.
        min: Minutes,
    },
    /// One of these heats it through in time, to be served undercooked.
    WarmInTime {
        /// Which.
        by: Vec<Remedy>,
    },
    /// Fish that was frozen, or of an exempt kind.
    FrozenFish {
        /// Why this food's kind may be exempt.
        exempt: Option<FishKind>,
    },
    /// A block warms sooner than a slab.
    GiveSides,
}

/// What to change.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "remedy", rename_all = "kebab-case")]
pub enum Remedy {
    /// Leave it in.
    Longer {
        /// Minutes in all.
        min: Minutes,
    },
    /// Another bath.
    Bath {
        /// °C.
        c: Celsius,
    },
    /// Another bath, for longer.
    BathFor {
        /// °C.
        c: Celsius,
        /// Minutes.
        min: Minutes,
    },
    /// Another bath, for as long as planned.
    BathAsNow {
        /// °C.
        c: Celsius,
        /// Minutes.
        min: Minutes,
    },
    /// A thinner piece.
    Thinner {
        /// mm.
        mm: Length,
    },
}

/// What is said beside the row: why row 6 is not met, and what is assumed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Note {
    /// It is to be kept, and was never pasteurised.
    NotStored,
    /// The bath is under the tables.
    NoTableReaches,
    /// The bath is under the growth limit.
    BacteriaStillGrow,
    /// The kinetics are not met.
    KineticsShort,
    /// The code's table is not met.
    CodeShort,
    /// It warmed too slowly.
    SlowWarming,
    /// Too long at the warmth bacteria like best before its kill.
    WarmBeforeKill,
    /// Too long on the clock before its kill, for a fish that forms histamine.
    HistamineBeforeKill,
    /// Too long cooled for guests at risk.
    CooledAfterKill,
    /// The fish forms histamine.
    Histamine,
    /// Minutes out were not said.
    OutUnsaid,
}

type Applies = fn(&Facts, &Limits, &Verdict) -> bool;

/// Every note, in the order said, with when it is.
pub(crate) const NOTES: &[(Note, Applies)] = &[
    (Note::NotStored, |_, _, _| false),
    (Note::NoTableReaches, |f, l, v| is_cold(f, l, v) && f.set_c >= l.growth_stops_c.celsius()),
    (Note::BacteriaStillGrow, |f, l, v| is_cold(f, l, v) && f.set_c < l.growth_stops_c.celsius()),
    (Note::KineticsShort, |f, l, v| {
        short_of_six(v) && !f.kinetics_reached && l.is_hot_enough(f.set_c.value())
    }),
    (Note::CodeShort, |f, _, v| short_of_six(v) && f.kinetics_reached && f.code_reached == Some(false)),
    (Note::SlowWarming, |f, l, v| {
        short_of_six(v)
            && l.is_hot_enough(f.set_c.value())
            && f.come_up_counted_min() > l.come_up_limit_min.minutes()
    }),
    (Note::WarmBeforeKill, |f, l, v| {
        short_of_six(v) && f.at_kill.is_some_and(|k| k.warm_min > l.warm_hold_limit_min.minutes())
    }),
    (Note::HistamineBeforeKill, |f, l, v| {
        let late = f.at_kill.is_some_and(|k| k.raw_min > l.histamine_limit_min.minutes());
        short_of_six(v) && f.case.histamine && late
    }),
    (Note::CooledAfterKill, |f, l, v| {
        short_of_six(v) && f.case.at_risk && f.after_kill_min > l.after_kill_every_min.minutes()
    }),
    (Note::Histamine, |f, _, _| f.case.histamine),
    (Note::OutUnsaid, |f, _, _| f.case.out_unsaid),
];

fn short_of_six(v: &Verdict) -> bool {
    v.row > Rule::Pasteurised && v.level != Level::Pasteurized
}

fn is_cold(f: &Facts, l: &Limits, v: &Verdict) -> bool {
    short_of_six(v) && !f.kinetics_reached && !l.is_hot_enough(f.set_c.value())
}

/// Judges by the first row that matches. The way out is not filled in here: it needs further
/// simulations ([`crate::piece::Run::verdict_at`]).
///
/// Source: `data/rules.json`, a table of this application after the FDA Food Code 2022; each row names its own.
///
/// ```
/// use hold_steady_core::calc::judged;
/// use hold_steady_core::safety::{Level, Rule};
/// let steak = serde_json::json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55,
///                                "until_min": 90, "intact": true, "at_risk": true});
/// assert_eq!(judged(&steak)?, (Level::Refused, Rule::GuestAtRisk));
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
#[must_use]
pub fn judge(facts: &Facts, limits: &Limits) -> Verdict {
    let (row, decision) = Rule::decide(facts, limits);
    let mut verdict =
        Verdict { level: decision.level, row, grounds: None, way_out: None, written: Vec::new() };
    let notes = NOTES.iter().filter(|(_, applies)| applies(facts, limits, &verdict)).map(|(note, _)| *note);
    let grounds = Grounds { says: decision.says, notes: notes.collect(), facts: facts.clone() };
    verdict.grounds = Some(grounds);
    verdict
}

/// The verdict on a piece that may be eaten at once, when it was chilled to be kept instead.
#[must_use]
pub(crate) fn not_to_be_stored(mut verdict: Verdict) -> Verdict {
    if let Some(grounds) = &mut verdict.grounds {
        grounds.notes.insert(0, Note::NotStored);
    }
    Verdict { level: Level::Refused, ..verdict }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::figures::limits;
    use crate::safety::Case;
    use crate::safety::facts::early_steak as facts;

    #[test]
    fn the_first_row_that_matches_decides() {
        let judged = |facts: &Facts| {
            let v = judge(facts, limits());
            (v.level, v.row)
        };
        let pierced = facts();
        assert_eq!(judged(&pierced), (Level::Refused, Rule::MixedThrough));
        let whole = Facts { case: Case { intact: true, ..pierced.case }, ..pierced };
        assert_eq!(judged(&whole), (Level::ServeNow, Rule::WholeRedMeat));
        let at_risk = Facts { case: Case { at_risk: true, ..whole.case }, ..whole.clone() };
        assert_eq!(judged(&at_risk), (Level::Refused, Rule::GuestAtRisk));
        let warm = Facts { warm_min: Minutes::new(120.5), ..whole.clone() };
        assert_eq!(judged(&warm), (Level::Refused, Rule::Growth));
        let shelf = Facts { case: Case { for_shelf: true, ..whole.case }, ..warm };
        assert_eq!(judged(&shelf), (Level::Refused, Rule::Shelf));
    }

    #[test]
    fn what_is_stored_is_facts_and_numbers_and_reads_back() {
        let v = not_to_be_stored(judge(&facts(), limits()));
        let json = serde_json::to_value(&v).expect("plain");
        assert!(json.get("reasons").is_none() && json["grounds"]["says"] == "pierced", "{json}");
        assert_eq!(serde_json::from_value::<Verdict>(json).expect("its own"), v);
    }
}
