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

/// How strong an aromatic will be.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Strength {
    /// Hardly there.
    Faint,
    /// There.
    Clear,
    /// More than from a pan.
    Strong,
    /// Too much.
    Harsh,
}

/// How strong it will be after `bath_min` at `bath_c`.
///
/// Common practice: twice as fast for every 15 K above 55 °C, half as fast for every 15 K below.
///
/// ```
/// use hold_steady_core::{prep::aromatics::{Strength, aromatics, strength}, units::{Celsius, Minutes}};
/// let thyme = aromatics().iter().find(|a| a.strong_min.is_some()).expect("some grow strong");
/// let after = |hours| strength(thyme, Celsius::new(55.0), Minutes::from_hours(hours));
/// assert_eq!((after(0.1), after(96.0)), (Some(Strength::Faint), Some(Strength::Harsh)));
/// ```
#[must_use]
pub fn strength(aromatic: &Aromatic, bath_c: Celsius, bath_min: Minutes) -> Option<Strength> {
    let (doubles_k, given_c) =
        (preparing().aromatics_double_k.kelvin(), preparing().aromatics_given_c.celsius());
    let (strong, harsh) = aromatic.strong_min.zip(aromatic.harsh_min)?;
    let felt = bath_min * ((bath_c - given_c) / doubles_k).exp2();
    Some(match felt {
        m if m < strong / 3.0 => Strength::Faint,
        m if m < strong => Strength::Clear,
        m if m < harsh => Strength::Strong,
        _ => Strength::Harsh,
    })
}
