//! The answer of the verdict table, in words.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use super::{Facts, Limits, Rule};
use crate::food::{Basis, FoodClass};
use crate::units::{Celsius, Units, capitalised};

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
    pub row: Rule,
    /// Why.
    pub reasons: Vec<Reason>,
    /// What would make it better; `None` when nothing needs to.
    pub way_out: Option<WayOut>,
}

impl Verdict {
    /// In a few words, for whom.
    #[must_use]
    pub const fn headline(&self, class: FoodClass) -> &'static str {
        match (self.level, self.row) {
            (Level::Pasteurized, Rule::Reheated) => "Reheated, for every guest",
            (Level::Pasteurized, _) => "Pasteurised, for every guest",
            (Level::Exempt, _) => "No pathogen target applies",
            (Level::ServeNow, Rule::Cooked) => "Cooked: at once, not stored",
            (Level::ServeNow, Rule::Pasteurised | Rule::Reheated) => "At once, not to guests at risk",
            (Level::ServeNow, _) if !class.is_animal() => "To be eaten at once, not stored",
            (Level::ServeNow, _) => "Guests not at risk only, at once",
            (Level::Refused, _) => "Not safe to serve",
        }
    }
}

/// What counts as frozen for parasites, in words: FDA Food Code 2022, 3-402.11, from memory.
pub const FROZEN_FOR_PARASITES: &str = "−20 °C for 7 days, or −35 °C for 15 h";

/// What guests are told of undercooked food: FDA Food Code 2022, 3-603.11, from memory.
const ADVISORY: &str =
    "Tell the guests it is undercooked: raw or undercooked animal food can make people ill.";

/// The words of a row: one text for each thing it can say.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct RowWords {
    title: String,
    says: BTreeMap<String, String>,
    source: String,
    basis: Basis,
}

/// The words of a note: why row 6 is not met, and what is assumed.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct NoteWords {
    title: String,
    says: String,
    source: String,
    basis: Basis,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Words {
    rows: BTreeMap<String, RowWords>,
    notes: BTreeMap<String, NoteWords>,
}

static WORDS: LazyLock<Words> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/rules.json")).expect("shipped and tested")
});

/// Judges by the first row that matches. The way out is not filled in here: it needs further
/// simulations ([`crate::piece::Run::verdict_at`]).
///
/// Level and row depend on the facts alone; the texts are in the reader's units.
#[must_use]
pub fn judge(facts: &Facts, limits: &Limits, units: Units) -> Verdict {
    let (row, decision) = Rule::decide(facts, limits);
    let teller = Teller { facts, limits, units };
    let words = &WORDS.rows[row.row().key];
    let mut reasons = vec![Reason {
        rule: words.title.clone(),
        text: teller.told(&words.says[decision.says]),
        source: words.source.clone(),
        basis: words.basis,
    }];
    for note in notes(facts, limits, row, decision.level) {
        let words = &WORDS.notes[note];
        reasons.push(Reason {
            rule: words.title.clone(),
            text: teller.told(&words.says),
            source: words.source.clone(),
            basis: words.basis,
        });
    }
    Verdict { level: decision.level, row, reasons, way_out: None }
}

/// The verdict on a piece that may be eaten at once, when it was chilled to be kept instead.
#[must_use]
pub(crate) fn not_to_be_stored(verdict: Verdict) -> Verdict {
    let words = &WORDS.notes["not-stored"];
    let mut reasons = vec![Reason {
        rule: words.title.clone(),
        text: words.says.clone(),
        source: words.source.clone(),
        basis: words.basis,
    }];
    reasons.extend(verdict.reasons);
    Verdict { level: Level::Refused, reasons, ..verdict }
}

/// What else is to be said: why it is not pasteurised, and what was assumed.
fn notes(facts: &Facts, l: &Limits, row: Rule, level: Level) -> Vec<&'static str> {
    let mut notes = Vec::new();
    if row > Rule::Pasteurised && level != Level::Pasteurized {
        if !l.is_hot_enough(facts.set_c) && !facts.kinetics_reached {
            let grows = facts.set_c < l.growth_stops_c.value;
            notes.push(if grows { "bacteria-still-grow" } else { "no-table-reaches" });
        } else if !facts.kinetics_reached {
            notes.push("kinetics-short");
        } else if facts.code_reached == Some(false) {
            notes.push("code-short");
        }
        let at = facts.at_kill;
        let come_up = at.map_or(facts.come_up_min, |k| k.come_up_min);
        if l.is_hot_enough(facts.set_c) && come_up > l.come_up_limit_min.value {
            notes.push("slow-warming");
        }
        if at.is_some_and(|k| k.warm_min > l.warm_hold_limit_min.value) {
            notes.push("warm-before-kill");
        }
        if facts.case.histamine && at.is_some_and(|k| k.raw_min > l.histamine_limit_min.value) {
            notes.push("histamine-before-kill");
        }
        if facts.case.at_risk && facts.after_kill_min > l.after_kill_every_min.value {
            notes.push("cooled-after-kill");
        }
    }
    if facts.case.histamine {
        notes.push("histamine");
    }
    if facts.case.out_unsaid {
        notes.push("out-unsaid");
    }
    notes
}

/// Fills the texts' blanks: limits by their names, facts by theirs, all in the reader's units.
struct Teller<'a> {
    facts: &'a Facts,
    limits: &'a Limits,
    units: Units,
}

impl Teller<'_> {
    fn told(&self, text: &str) -> String {
        let mut told = String::with_capacity(text.len() + 40);
        let mut rest = text;
        while let Some((before, after)) = rest.split_once('{') {
            told.push_str(before);
            let (name, tail) = after.split_once('}').unwrap_or((after, ""));
            told.push_str(&self.value(name));
            rest = tail;
        }
        told.push_str(rest);
        capitalised(&told)
    }

    fn value(&self, name: &str) -> String {
        let (f, l) = (self.facts, self.limits);
        let degrees = |c: f64| self.units.temperature(Celsius::new(c));
        match name {
            "advisory" => ADVISORY.into(),
            "frozen" => self.units.sentence(FROZEN_FOR_PARASITES),
            "set" => degrees(f.set_c),
            "short" => self.units.temperature_difference(l.lowest_hold_c.value - f.set_c),
            "bath" => minutes(f.bath_min),
            "after" => minutes(f.after_min),
            "clock" => minutes(f.raw_min),
            "warm" => minutes(f.warm_min),
            "after_kill" => minutes(f.after_kill_min),
            "come_up" => minutes(f.at_kill.map_or(f.come_up_min, |k| k.come_up_min)),
            "warm_at_kill" => minutes(f.at_kill.map_or(f.warm_min, |k| k.warm_min)),
            "raw_at_kill" => minutes(f.at_kill.map_or(f.raw_min, |k| k.raw_min)),
            "ferment" => minutes(f.fermenting.map_or(0.0, |s| s.warm_min)),
            "bath_low" => degrees(f.fermenting.map_or(f.set_c, |s| s.bath_low_c)),
            "bath_high" => degrees(f.fermenting.map_or(f.set_c, |s| s.bath_high_c)),
            "reheat_c" => degrees(f.case.reheat(l).value),
            "cooked_c" => degrees(f.case.cooked(l).0.value),
            "cooked_s" => format!("{} s", f.case.cooked(l).1.value),
            "shellfish_core_c" => degrees(f.case.shellfish(l).0.value),
            "shellfish_bath_c" => degrees(f.case.shellfish(l).1.value),
            name => self.limit(name),
        }
    }

    /// A limit, by the unit at the end of its name.
    fn limit(&self, name: &str) -> String {
        let found = self.limits.all().into_iter().find(|(n, _)| *n == name);
        let Some((_, limit)) = found else { return format!("{{{name}}}") };
        match name.rsplit('_').next() {
            Some("c") => self.units.temperature(Celsius::new(limit.value)),
            Some("k") => self.units.temperature_difference(limit.value),
            Some("min") => minutes(limit.value),
            Some("s") if limit.value == 60.0 => "a minute".into(),
            Some("s") => format!("{} s", limit.value),
            _ => limit.value.to_string(),
        }
    }
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::catalogue;
    use crate::safety::{Case, limits};

    fn facts() -> Facts {
        Facts {
            case: Case::of(catalogue().food("beef-strip").expect("in the catalogue")),
            set_c: 54.5,
            bath_min: 90.0,
            after_min: 0.0,
            kinetics_reached: false,
            code_reached: Some(false),
            at_kill: None,
            come_up_min: 60.0,
            raw_min: 66.0,
            warm_min: 26.0,
            after_kill_min: 0.0,
            reheating: None,
            fermenting: None,
            cooked: false,
            bivalve_held: false,
            fish_held: false,
            shellfish_done: false,
            egg_done: false,
        }
    }

    #[test]
    fn every_row_has_words_and_no_blank_is_left_open() {
        assert_eq!(WORDS.rows.len(), Rule::ALL.len());
        let facts = facts();
        let teller = Teller { facts: &facts, limits: limits(), units: Units::default() };
        for rule in Rule::ALL {
            let words = &WORDS.rows[rule.row().key];
            assert!(!words.title.is_empty() && words.source.len() > 8, "{rule:?}");
            for text in words.says.values() {
                let told = teller.told(text);
                assert!(!told.contains(['{', '}']), "{rule:?}: {told}");
            }
        }
        for (key, note) in &WORDS.notes {
            assert!(!teller.told(&note.says).contains(['{', '}']) && note.source.len() > 8, "{key}");
        }
    }

    #[test]
    fn the_first_row_that_matches_decides() {
        let l = limits();
        let judged = |facts: &Facts| {
            let v = judge(facts, l, Units::default());
            (v.level, v.row)
        };
        let pierced = facts();
        assert_eq!(judged(&pierced), (Level::Refused, Rule::MixedThrough));
        let whole = Facts { case: Case { intact: true, ..pierced.case }, ..pierced };
        assert_eq!(judged(&whole), (Level::ServeNow, Rule::WholeRedMeat));
        let at_risk = Facts { case: Case { at_risk: true, ..whole.case }, ..whole.clone() };
        assert_eq!(judged(&at_risk), (Level::Refused, Rule::GuestAtRisk));
        let warm = Facts { warm_min: 120.5, ..whole.clone() };
        assert_eq!(judged(&warm), (Level::Refused, Rule::Growth));
        let shelf = Facts { case: Case { for_shelf: true, ..whole.case }, ..warm };
        assert_eq!(judged(&shelf), (Level::Refused, Rule::Shelf));
    }

    #[test]
    fn words_are_in_the_reader_s_units() {
        let fahrenheit = Units { temperature: crate::units::TemperatureUnit::F, ..Units::default() };
        let whole = Facts { case: Case { intact: true, ..facts().case }, ..facts() };
        let v = judge(&whole, limits(), fahrenheit);
        assert!(
            v.reasons[0].text.contains("145") && !v.reasons[0].text.contains("°C"),
            "{}",
            v.reasons[0].text
        );
    }
}
