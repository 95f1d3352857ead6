//! What else is in the bag: what grows strong, sours or burns.

use crate::figures::{Basis, preparing};
use crate::units::{Celsius, Minutes};
use std::sync::LazyLock;

use serde::Deserialize;

/// Something that goes into a bag.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Aromatic {
    /// Identifier.
    pub id: String,
    /// What cooks call it, in lower case.
    pub names: Vec<String>,
    /// Minutes at 55 °C after which it is strong.
    #[serde(default)]
    pub strong_min: Option<Minutes>,
    /// Minutes at 55 °C after which it is harsh.
    #[serde(default)]
    pub harsh_min: Option<Minutes>,
    /// What is to be said of it whatever the time.
    #[serde(default)]
    pub says: Option<String>,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

static ALL: LazyLock<Vec<Aromatic>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/aromatics.json")).expect("shipped and tested")
});

/// Everything that has a note.
///
/// ```
/// assert!(hold_steady_core::prep::aromatics::aromatics().iter().any(|a| a.names.contains(&"garlic".into())));
/// ```
#[must_use]
pub fn aromatics() -> &'static [Aromatic] {
    &ALL
}

/// What is meant by a word; the longest name that is in it decides.
#[must_use]
pub(crate) fn find(word: &str) -> Option<&'static Aromatic> {
    let word = word.trim().to_lowercase();
    let named = |a: &'static Aromatic| {
        a.names
            .iter()
            .filter(|n| word == **n || word.split(' ').any(|w| w == **n) || word.contains(&format!("{n} ")))
            .map(String::len)
            .max()
            .map(|length| (length, a))
    };
    ALL.iter().filter_map(named).max_by_key(|(length, _)| *length).map(|(_, a)| a)
}

/// How strong it will be after `bath_min` at `bath_c`, in a word.
///
/// Common practice: twice as fast for every 15 K above 55 °C, half as fast for every 15 K below.
///
/// ```
/// use hold_steady_core::{prep::aromatics::{aromatics, strength}, units::{Celsius, Minutes}};
/// let thyme = aromatics().iter().find(|a| a.strong_min.is_some()).expect("some grow strong");
/// let after = |hours| strength(thyme, Celsius::new(55.0), Minutes::from_hours(hours));
/// assert_eq!((after(0.1), after(96.0)), (Some("faint"), Some("harsh")));
/// ```
#[must_use]
pub fn strength(aromatic: &Aromatic, bath_c: Celsius, bath_min: Minutes) -> Option<&'static str> {
    let (doubles_k, given_c) =
        (preparing().aromatics_double_k.kelvin(), preparing().aromatics_given_c.celsius());
    let (strong, harsh) = aromatic.strong_min.zip(aromatic.harsh_min)?;
    let felt = bath_min * ((bath_c - given_c) / doubles_k).exp2();
    Some(match felt {
        m if m < strong / 3.0 => "faint",
        m if m < strong => "clear",
        m if m < harsh => "strong",
        _ => "harsh",
    })
}

/// One line for every word that calls for one.
///
/// ```
/// use hold_steady_core::{prep::aromatics::notes, units::{Celsius, Minutes}};
/// let lines = notes(&["garlic".to_owned()], Celsius::new(55.0), Minutes::from_hours(2.0));
/// assert!(lines.len() == 1 && lines[0].starts_with("garlic"));
/// ```
#[must_use]
pub fn notes(in_bag: &[String], bath_c: Celsius, bath_min: Minutes) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    for word in in_bag {
        let Some(a) = find(word) else { continue };
        let strength = strength(a, bath_c, bath_min).map(|s| match s {
            "harsh" => format!("{word}: harsh after this long; leave it out, or put it in at the end."),
            "strong" => format!("{word}: strong after this long; half of what a pan would take."),
            other => format!("{word}: {other} after this long."),
        });
        let mut line = strength.unwrap_or_else(|| format!("{word}:"));
        if let Some(says) = &a.says {
            line = format!("{line} {says}");
        }
        if !all.contains(&line) {
            all.push(line);
        }
    }
    all
}
