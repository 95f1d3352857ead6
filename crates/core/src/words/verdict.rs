//! A verdict in words.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use super::minutes;
use crate::figures::{Basis, limits};
use crate::food::{FishKind, FoodClass};
use crate::safety::{Facts, Level, Note, Reason, Remedy, Rule, Says, Verdict, Way, WayOut};
use crate::units::{Celsius, Length, Minutes, Units, capitalised};

/// The words of a row: one text for each thing it can say.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct RowWords {
    title: String,
    says: BTreeMap<Says, String>,
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

/// A part of a sentence that several texts share.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Phrase {
    says: String,
    #[allow(dead_code, reason = "for whoever reads the data")]
    source: String,
    #[allow(dead_code, reason = "for whoever reads the data")]
    basis: Basis,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Words {
    rows: BTreeMap<String, RowWords>,
    notes: BTreeMap<Note, NoteWords>,
    phrases: BTreeMap<String, Phrase>,
}

static WORDS: LazyLock<Words> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/rules.json")).expect("shipped and tested")
});

/// A verdict as it is told, and as the calculation interface answers it.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Told {
    /// How it may be served.
    pub level: Level,
    /// The row of the table that matched.
    pub row: Rule,
    /// Why.
    pub reasons: Vec<Reason>,
    /// What would make it better; `None` when nothing needs to.
    pub way_out: Option<ToldWayOut>,
}

/// A way out as it is told.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ToldWayOut {
    /// In whole sentences.
    pub text: String,
    /// Leave it in this bath until, minutes from the drop.
    pub until_min: Option<Minutes>,
    /// The coldest bath that pasteurises by then, °C.
    pub bath_c: Option<Celsius>,
    /// The thickest piece pasteurised by then in this bath, mm.
    pub thickness_mm: Option<Length>,
    /// Take it out no later than, minutes from the drop (where it may be served unpasteurised).
    pub no_later_than_min: Option<Minutes>,
}

/// A verdict with all its reasons, in the reader's units.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::words::told;
/// let told = told(&plan.verdict, Units::default());
/// assert!(told.reasons.iter().all(|r| !r.source.is_empty()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn told(verdict: &Verdict, units: Units) -> Told {
    let way_out = verdict.way_out.as_ref().map(|w| ToldWayOut {
        text: way_out(w, units),
        until_min: w.until_min,
        bath_c: w.bath_c,
        thickness_mm: w.thickness_mm,
        no_later_than_min: w.no_later_than_min,
    });
    Told { level: verdict.level, row: verdict.row, reasons: reasons(verdict, units), way_out }
}

/// The first of its reasons.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::words::{told, why};
/// assert_eq!(why(&plan.verdict, Units::default()), told(&plan.verdict, Units::default()).reasons[0].text);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn why(verdict: &Verdict, units: Units) -> String {
    reasons(verdict, units).into_iter().next().map(|r| r.text).unwrap_or_default()
}

/// In a few words, for whom.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::words::headline;
/// assert_eq!(headline(&plan.verdict, strip.class), "Guests not at risk only, at once");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub const fn headline(verdict: &Verdict, class: FoodClass) -> &'static str {
    match (verdict.level, verdict.row) {
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

fn reasons(verdict: &Verdict, units: Units) -> Vec<Reason> {
    // An older version wrote its words down, and nothing to make them from.
    let Some(grounds) = &verdict.grounds else { return verdict.written.clone() };
    let teller = Teller { facts: &grounds.facts, units };
    let row = &WORDS.rows[verdict.row.row().key];
    let text = row.says.get(&grounds.says).map(String::as_str).unwrap_or_default();
    let mut reasons = vec![Reason {
        rule: row.title.clone(),
        text: teller.told(text),
        source: row.source.clone(),
        basis: row.basis,
    }];
    reasons.extend(grounds.notes.iter().filter_map(|note| WORDS.notes.get(note)).map(|words| Reason {
        rule: words.title.clone(),
        text: teller.told(&words.says),
        source: words.source.clone(),
        basis: words.basis,
    }));
    if grounds.notes.first() == Some(&Note::NotStored) {
        reasons.swap(0, 1);
    }
    reasons
}

/// What counts as frozen against parasites, in words.
///
/// ```
/// use hold_steady_core::{units::Units, words::frozen_for_parasites};
/// assert!(frozen_for_parasites(Units::default()).contains("−20 °C"));
/// ```
#[must_use]
pub fn frozen_for_parasites(units: Units) -> String {
    phrase("frozen", units).unwrap_or_default()
}

fn phrase(name: &str, units: Units) -> Option<String> {
    WORDS.phrases.get(name).map(|p| units.sentence(&p.says))
}

/// Fills the texts' blanks: limits by their names, facts by theirs, all in the reader's units.
struct Teller<'a> {
    facts: &'a Facts,
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
        let (f, l) = (self.facts, limits());
        let degrees = |c: Celsius| self.units.temperature_exact(c);
        match name {
            "set" => degrees(f.set_c),
            "short" => self.units.temperature_difference(l.lowest_hold_c.celsius() - f.set_c),
            "bath" => minutes(f.bath_min),
            "after" => minutes(f.after_min),
            "clock" => minutes(f.raw_min),
            "warm" => minutes(f.warm_min),
            "after_kill" => minutes(f.after_kill_min),
            "come_up" => minutes(f.come_up_counted_min()),
            "warm_at_kill" => minutes(f.at_kill.map_or(f.warm_min, |k| k.warm_min)),
            "raw_at_kill" => minutes(f.at_kill.map_or(f.raw_min, |k| k.raw_min)),
            "ferment" => minutes(f.fermenting.map_or(Minutes::new(0.0), |s| s.warm_min)),
            "bath_low" => degrees(f.fermenting.map_or(f.set_c, |s| s.bath_low_c)),
            "bath_high" => degrees(f.fermenting.map_or(f.set_c, |s| s.bath_high_c)),
            "reheat_c" => f.case.reheat(l).degrees(self.units),
            "cooked_c" => f.case.cooked(l).0.degrees(self.units),
            "cooked_s" => format!("{} s", f.case.cooked(l).1.value),
            "shellfish_core_c" => f.case.shellfish(l).0.degrees(self.units),
            "shellfish_bath_c" => f.case.shellfish(l).1.degrees(self.units),
            name => phrase(name, self.units).unwrap_or_else(|| self.limit(name)),
        }
    }

    /// A limit, by the unit at the end of its name.
    fn limit(&self, name: &str) -> String {
        let found = limits().all().into_iter().find(|(n, _)| *n == name);
        let Some((_, limit)) = found else { return format!("{{{name}}}") };
        match name.rsplit('_').next() {
            Some("c") => limit.degrees(self.units),
            Some("k") => self.units.temperature_difference(limit.kelvin()),
            Some("min") => minutes(limit.minutes()),
            Some("s") if limit.value == 60.0 => "a minute".into(),
            Some("s") => format!("{} s", limit.value),
            _ => limit.value.to_string(),
        }
    }
}

/// A way out in whole sentences.
///
/// ```
/// use hold_steady_core::{safety::{Way, WayOut}, units::Units, words::way_out};
/// let boil = WayOut { ways: vec![Way::Boil], ..WayOut::default() };
/// assert!(way_out(&boil, Units::default()).to_lowercase().contains("boil"));
/// ```
#[must_use]
pub fn way_out(way_out: &WayOut, units: Units) -> String {
    if let Some(written) = &way_out.written {
        return written.clone();
    }
    way_out.ways.iter().map(|w| way(w, units)).collect::<Vec<_>>().join(" ")
}

fn way(way: &Way, units: Units) -> String {
    let l = limits();
    match way {
        Way::Boil => format!(
            "Soak the beans, boil them hard for {}, and throw the water away; then they may go into the bath.",
            minutes(l.beans_boil_min.minutes())
        ),
        Way::Chill => "Chill it in an ice bath and refrigerate it, or freeze it.".into(),
        Way::Culture => culture(units),
        Way::HeatBivalves { bath_c, min } => format!(
            "Set the bath to {} and leave them in for {}; or steam or boil them.",
            units.temperature_at_least(*bath_c),
            minutes(*min)
        ),
        Way::UnderPressure => {
            "Water does not get that hot at this altitude: cook them under pressure.".into()
        }
        Way::Steam => "Steam or boil them instead.".into(),
        Way::ThrowAway => {
            let within = minutes(limits().after_kill_every_min.minutes());
            format!("Throw it away. Next time eat it, hold it hot or chill it within {within} of the pull.")
        }
        Way::GrewAfterKill => {
            let within = minutes(limits().after_kill_every_min.minutes());
            format!(
                "What grew after it was pasteurised no heat makes good. Next time eat it, hold it hot or chill it within {within}."
            )
        }
        Way::SpoiledBefore => {
            "It was too long where bacteria grow before it went in: throw it away.".into()
        }
        Way::CookAnotherWay => {
            "No longer, hotter or thinner bath of this kind pasteurises it: cook it another way.".into()
        }
        Way::Pasteurise { by } => format!("For pasteurised, {}.", remedies(by, units)),
        Way::TakeOut { min } => format!(
            "To serve it undercooked, to guests not at risk, take it out no later than {} after the drop.",
            minutes(*min)
        ),
        Way::WarmInTime { by } => format!(
            "To serve it undercooked, to guests not at risk, it must be heated through in time: {}.",
            remedies(by, units)
        ),
        Way::FrozenFish { exempt } => format!(
            "To serve it undercooked, to guests not at risk, take fish that was frozen for parasites ({}){}.",
            frozen_for_parasites(units),
            exempt.map_or("", exempt_fish)
        ),
        Way::GiveSides => {
            "A slab is taken as endless sideways: give its width and length too, for a real block warms sooner.".into()
        }
    }
}

fn culture(units: Units) -> String {
    let l = limits();
    format!(
        "Heat the milk to {}, let it cool, stir in a live starter, and keep it between {} and {} for {} to {}; then chill it.",
        l.ferment_scald_c.degrees(units),
        l.ferment_low_c.degrees(units),
        l.ferment_high_c.degrees(units),
        minutes(l.ferment_from_min.minutes()),
        minutes(l.ferment_until_min.minutes())
    )
}

const fn exempt_fish(kind: FishKind) -> &'static str {
    match kind {
        FishKind::Tuna => ", or is one of the tunas the code exempts",
        FishKind::Farmed => ", or was farmed and fed on pellets",
    }
}

fn remedies(by: &[Remedy], units: Units) -> String {
    let degrees = |c: Celsius| units.temperature_at_least(c);
    let told = by.iter().map(|remedy| match *remedy {
        Remedy::Longer { min } => format!("leave it in this bath for {} in all", minutes(min)),
        Remedy::Bath { c } => format!("set the bath to {}", degrees(c)),
        Remedy::BathFor { c, min } => {
            format!("set the bath to {} and leave it in for {}", degrees(c), minutes(min))
        }
        Remedy::BathAsNow { c, min } => {
            format!("set the bath to {} and pull it after {} as now", degrees(c), minutes(min))
        }
        Remedy::Thinner { mm } => {
            format!("take a piece no thicker than {}", units.length_at_most(mm))
        }
    });
    told.collect::<Vec<_>>().join("; or ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::safety::{Case, NOTES, RULES, early_steak as facts, judge};

    #[test]
    fn every_row_and_note_has_its_words_and_no_blank_is_left_open() {
        let facts = facts();
        let teller = Teller { facts: &facts, units: Units::default() };
        assert_eq!(WORDS.rows.len(), RULES.len());
        for rule in RULES {
            let (row, words) = (rule.row(), &WORDS.rows[rule.row().key]);
            assert!(!words.title.is_empty() && words.source.len() > 8, "{rule:?}");
            let mut says = row.says.to_vec();
            says.sort();
            assert_eq!(words.says.keys().copied().collect::<Vec<_>>(), says, "{rule:?}");
            for text in words.says.values() {
                let told = teller.told(text);
                assert!(!told.contains(['{', '}']), "{rule:?}: {told}");
            }
        }
        assert_eq!(WORDS.notes.len(), NOTES.len());
        for (key, note) in &WORDS.notes {
            assert!(NOTES.iter().any(|(n, _)| n == key));
            assert!(!teller.told(&note.says).contains(['{', '}']) && note.source.len() > 8, "{key:?}");
        }
    }

    #[test]
    fn words_are_in_the_reader_s_units() {
        let fahrenheit = Units { temperature: crate::units::TemperatureUnit::F, ..Units::default() };
        let whole = Facts { case: Case { intact: true, ..facts().case }, ..facts() };
        let text = why(&judge(&whole, limits()), fahrenheit);
        assert!(text.contains("145") && !text.contains("°C"), "{text}");
    }

    #[test]
    fn the_words_of_an_older_version_stand_as_written() {
        let old = serde_json::json!({"level": "refused", "row": 9, "way_out": {"text": "Leave it in."},
            "reasons": [{"rule": "Not intact", "text": "As it was said.", "source": "then", "basis": "trade"}]});
        let old: Verdict = serde_json::from_value(old).expect("an older shape");
        assert_eq!(why(&old, Units::default()), "As it was said.");
        assert_eq!(told(&old, Units::default()).way_out.expect("one").text, "Leave it in.");
    }
}
