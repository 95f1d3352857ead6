//! A finish that was chosen for a cook's piece, as it is written down, and what it makes of the work after the bath.

use serde::{Deserialize, Serialize};

use super::pattern::{Basting, DRIED_S, Pattern, Pause};
use super::setup::brownings;
use super::{FinishAsked, FinishForm, Hearth, Heats, fats, hearths};
use crate::food::{FinishStep, PanStart};
use crate::units::{Celsius, Minutes, Units};

/// A finish that was chosen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ChosenFinish {
    /// Identifier of what it is seared on or in.
    pub hearth: String,
    /// How hot that is, at its surface; none of what has no temperature of its own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hearth_c: Option<Celsius>,
    /// Identifier of the fat.
    pub fat: String,
    /// Identifier of how brown.
    pub brown: String,
    /// What the middle is wanted at.
    pub wanted_c: Celsius,
    /// Whether the pan is hot when it goes in, and whether it is basted.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub pan: PanStart,
    /// Whether hot fat is spooned over it.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub basting: Basting,
    /// Pieces one after the other.
    pub pieces: u32,
    /// How.
    pub pattern: Pattern,
}

impl ChosenFinish {
    /// What was understood, to be written down; `None` where the pattern is still to be proposed.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{ChosenFinish, FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let typed = FinishForm { face: "50 s".into(), ..FinishForm::default() };
    /// let (_, asked, _) = typed.read(strip, &Given::default(), Units::default());
    /// let chosen = ChosenFinish::of(&asked.expect("understood")).expect("it says how long");
    /// assert!(chosen.is_sound() && chosen.pattern.face_s == 50.0);
    /// ```
    #[must_use]
    pub fn of(asked: &FinishAsked) -> Option<Self> {
        Some(Self {
            hearth: asked.setup.hearth.id.clone(),
            hearth_c: asked.setup.hearth_c,
            fat: asked.fat.id.clone(),
            brown: asked.brown.id.clone(),
            wanted_c: Celsius::new(asked.wanted.centre_c),
            pan: asked.setup.pan,
            basting: asked.setup.basting,
            pieces: asked.pieces,
            pattern: asked.pattern?,
        })
    }

    /// The same as it is typed, in the reader's units.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{ChosenFinish, FinishForm, Given}, units::Units};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let typed = FinishForm { hearth: "stone".into(), face: "2 min".into(), ..FinishForm::default() };
    /// let read = |form: &FinishForm| form.read(strip, &Given::default(), Units::default()).1.expect("understood");
    /// let chosen = ChosenFinish::of(&read(&typed)).expect("it says how long");
    /// let again = ChosenFinish::of(&read(&chosen.form(Units::default())));
    /// assert_eq!(again, Some(chosen));
    /// ```
    #[must_use]
    pub fn form(&self, units: Units) -> FinishForm {
        FinishForm {
            wanted: units.temperature_fixed(self.wanted_c),
            hearth: self.hearth.clone(),
            at: self.hearth_c.map_or_else(String::new, |c| units.temperature(c)),
            fat: self.fat.clone(),
            brown: self.brown.clone(),
            pan: self.pan.id().into(),
            baste: self.basting.id().into(),
            pieces: self.pieces.to_string(),
            typed_in: units.code().into(),
            ..FinishForm::default().with(&self.pattern)
        }
    }

    /// Whether every value is on its scale. What it is seared on may be unknown here: it is then only shown.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{ChosenFinish, FinishForm, Given}, units::Units};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let typed = FinishForm { face: "50 s".into(), ..FinishForm::default() };
    /// # let (_, asked, _) = typed.read(strip, &Given::default(), Units::default());
    /// let mut chosen = ChosenFinish::of(&asked.expect("understood")).expect("it says how long");
    /// chosen.pattern.face_s = f64::NAN;
    /// assert!(!chosen.is_sound());
    /// ```
    #[must_use]
    pub fn is_sound(&self) -> bool {
        let Pattern { pause_s, face_s, times, after, .. } = self.pattern;
        let words = [&self.hearth, &self.fat, &self.brown];
        let warm = |c: Celsius, most: f64| (0.0..=most).contains(&c.value());
        words.iter().all(|w| !w.is_empty() && w.len() <= 40)
            && self.hearth_c.is_none_or(|c| warm(c, 1500.0))
            && warm(self.wanted_c, 100.0)
            && (1..=12).contains(&self.pieces)
            && (1..=12).contains(&times)
            && after.edges <= 8
            && after.other_s.is_none_or(|s| (0.0..=1800.0).contains(&s))
            && (0.0..=120.0).contains(&after.torch_s)
            && (0.0..=7200.0).contains(&pause_s)
            && (0.0..=1800.0).contains(&face_s)
            && (0.0..=1800.0).contains(&after.edge_s)
            && (0.0..=3600.0).contains(&after.rest_s)
    }

    /// What it is seared on, where that is known here.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{ChosenFinish, FinishForm, Given}, units::Units};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let typed = FinishForm { face: "50 s".into(), ..FinishForm::default() };
    /// # let (_, asked, _) = typed.read(strip, &Given::default(), Units::default());
    /// let chosen = ChosenFinish::of(&asked.expect("understood")).expect("it says how long");
    /// assert_eq!(chosen.heated().map(|h| h.id.as_str()), Some("iron-pan"));
    /// ```
    #[must_use]
    pub fn heated(&self) -> Option<&'static Hearth> {
        hearths().iter().find(|h| h.id == self.hearth)
    }

    /// How brown, and in what fat, by their names where they are known here.
    pub(crate) fn brown_in(&self) -> (&str, &str) {
        let brown = brownings().iter().find(|b| b.id == self.brown).map_or(&self.brown, |b| &b.name);
        let fat = fats().iter().find(|f| f.id == self.fat).map_or(&self.fat, |f| &f.name);
        (brown, fat)
    }

    /// It is heated all round at once.
    pub(crate) fn heats(&self) -> Heats {
        self.heated().map(|h| h.heats).unwrap_or_default()
    }

    /// The steps after the bath with this finish: the food's own, for as long as it says.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{ChosenFinish, FinishForm, Given}, units::*};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let typed = FinishForm { face: "1 min".into(), edge: "0 s".into(), pause: "60 s".into(), pause_in: "ice".into(), ..FinishForm::default() };
    /// let (_, asked, _) = typed.read(strip, &Given::default(), Units::default());
    /// let chosen = ChosenFinish::of(&asked.expect("understood")).expect("it says how long");
    /// let steps = chosen.steps(&strip.finish().steps);
    /// let told: Vec<_> = steps.iter().map(|s| (s.id.as_str(), s.min.value())).collect();
    /// assert_eq!(told, [("ice", 1.0), ("dry", 0.5), ("sear", 2.0), ("plate", 3.0)]);
    /// ```
    #[must_use]
    pub fn steps(&self, usual: &[FinishStep]) -> Vec<FinishStep> {
        let min = |s: f64| Minutes::new(s / 60.0);
        let Pattern { pause, pause_s, after, .. } = self.pattern;
        let mut all: Vec<FinishStep> = Vec::new();
        if pause == Pause::Ice && pause_s > 0.0 {
            let (what, why) = (
                "Lay it in ice water, in its bag",
                "So that the sear cannot overcook the inside; no longer, or the inside cools too.",
            );
            all.push(FinishStep {
                id: "ice".into(),
                min: min(pause_s),
                chills: false,
                what: what.into(),
                why: why.into(),
            });
        }
        let last = usual.len().saturating_sub(1);
        for (i, step) in usual.iter().enumerate() {
            let waits = pause == Pause::Air && pause_s > DRIED_S;
            let of = |s| FinishStep { min: min(s), ..step.clone() };
            match step.id.as_str() {
                "dry" => all.push(of(DRIED_S)),
                "pause" => {}
                "sear" => {
                    if waits {
                        let named = usual.iter().find(|s| s.id == "pause").cloned();
                        let named = named.unwrap_or_else(|| FinishStep {
                            id: "pause".into(),
                            min: Minutes::ZERO,
                            chills: false,
                            what: "Let it pause in air".into(),
                            why: "So that the sear cannot overcook the inside.".into(),
                        });
                        all.push(FinishStep { min: min(pause_s - DRIED_S), ..named });
                    }
                    all.push(of(self.pattern.batch_s(self.heats(), self.pieces)));
                }
                _ if i == last => all.push(FinishStep { min: step.min + min(after.rest_s), ..step.clone() }),
                _ => all.push(step.clone()),
            }
        }
        all
    }
}
