//! What a kitchen has settled, and what is assumed of a piece before it goes in.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

use super::{Guest, Habits};
use crate::bath::{KeptVessel, Thermometer, Water};
use crate::figures::searing;
use crate::food::Pantry;
use crate::piece::Spreads;
use crate::safety::{CodeProfile, known_profile, profile, profiles};
use crate::sear::Pans;
use crate::units::{Blanks, Kelvin, Length, LengthUnit, M_PER_FT, Units, number_and_unit};

/// What a kitchen has settled for all its plans.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct KitchenRules {
    /// The code it works by; its identifier in records, where an unknown one is refused.
    #[serde(with = "profile_by_id")]
    pub profile: &'static CodeProfile,
    /// What its instrument reads too high, °C; taken off the set point everywhere.
    pub bath_error_c: Kelvin,
    /// How far its bath may be off, K.
    pub bath_spread_k: Kelvin,
    /// How far a measured thickness may be off, mm.
    pub thickness_spread_mm: Length,
    /// Whether its bath's water is moved by a pump.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub water: Water,
    /// How high it lies, m: water boils colder there.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub altitude_m: f64,
    /// How much less than a hot surface under it the gauge in its lid shows, K.
    #[serde(default = "usual_lid", skip_serializing_if = "is_usual_lid")]
    pub lid_low_k: Kelvin,
    /// What its pans bear.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub pans: Pans,
}

fn usual_lid() -> Kelvin {
    searing().lid_low_k.kelvin()
}

// As serde asks for it.
#[allow(clippy::trivially_copy_pass_by_ref)]
fn is_usual_lid(k: &Kelvin) -> bool {
    *k == usual_lid()
}

/// A figure of a kitchen: its field, its range in K, mm or m, and what to do beyond it.
struct Bound {
    field: &'static str,
    low: f64,
    high: f64,
    /// What it is, with its article.
    what: &'static str,
    hint: &'static str,
}

const ERROR: Bound = Bound {
    field: "bath_error_c",
    low: 0.0,
    high: 5.0,
    what: "a difference",
    hint: "An instrument that is off by more is not one to cook by.",
};
const BATH: Bound = Bound {
    field: "bath_spread_k",
    low: 0.0,
    high: 5.0,
    what: "a difference",
    hint: "A bath that wanders more is not held.",
};
const LID: Bound = Bound {
    field: "lid_low_k",
    low: 0.0,
    high: 250.0,
    what: "a difference",
    hint: "Read both at once: the gauge, and the surface with an infrared thermometer.",
};
const THICKNESS: Bound = Bound {
    field: "thickness_spread_mm",
    low: 0.0,
    high: 20.0,
    what: "a difference",
    hint: "Say “about” of a piece that is hard to measure.",
};
const ALTITUDE: Bound = Bound {
    field: "altitude_m",
    low: 0.0,
    high: 6000.0,
    what: "a height",
    hint: "Take 0 at or below the sea.",
};

impl Bound {
    fn allows(&self, value: f64) -> bool {
        (self.low..=self.high).contains(&value)
    }
}

impl KitchenRules {
    /// Whether every figure can be.
    ///
    /// # Errors
    /// The field, its value and the range.
    pub(crate) fn check(&self) -> Result<(), (&'static str, String)> {
        let all = [
            (ERROR, self.bath_error_c.value()),
            (BATH, self.bath_spread_k.value()),
            (THICKNESS, self.thickness_spread_mm.mm()),
            (ALTITUDE, self.altitude_m),
            (LID, self.lid_low_k.value()),
        ];
        match all.into_iter().find(|(figure, value)| !figure.allows(*value)) {
            Some((f, value)) => Err((f.field, format!("{value} is outside {} to {}", f.low, f.high))),
            None => Ok(()),
        }
    }
}

/// What a kitchen settles, as typed: nothing typed is lost.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct KitchenForm {
    /// Identifier of the code it works by.
    pub profile: String,
    /// `circulated` or `still`.
    pub water: String,
    /// How high it lies, with or without unit.
    pub altitude_m: String,
    /// What its instrument reads too high.
    pub bath_error_c: String,
    /// How far its bath may be off.
    pub bath_spread_k: String,
    /// How far a measured thickness may be off.
    pub thickness_spread_mm: String,
    /// How much less than the surface a lid's gauge shows; empty for what is usual.
    #[serde(default)]
    pub lid_low_k: String,
    /// What its pans bear: `bare`, or anything else for nobody said.
    #[serde(default)]
    pub pans: String,
}

impl KitchenForm {
    /// The form filled with what is settled, in a reader's units.
    ///
    /// ```
    /// use hold_steady_core::{plan::{KitchenForm, KitchenRules}, units::Units};
    /// assert_eq!(KitchenForm::of(&KitchenRules::default(), Units::default()).thickness_spread_mm, "2 mm");
    /// ```
    #[must_use]
    pub fn of(rules: &KitchenRules, units: Units) -> Self {
        Self {
            profile: rules.profile.id.clone(),
            water: rules.water.id().into(),
            altitude_m: units.height(rules.altitude_m),
            bath_error_c: units.temperature_difference_fine(rules.bath_error_c),
            bath_spread_k: units.temperature_difference_fine(rules.bath_spread_k),
            thickness_spread_mm: units.length(rules.thickness_spread_mm),
            lid_low_k: units.temperature_difference_fine(rules.lid_low_k),
            pans: rules.pans.id().into(),
        }
    }

    /// Understands it.
    ///
    /// # Errors
    /// By field, in whole sentences.
    ///
    /// ```
    /// use hold_steady_core::{plan::{KitchenForm, KitchenRules}, units::Units};
    /// let typed = KitchenForm::of(&KitchenRules::default(), Units::default());
    /// assert!(typed.read(Units::default()).is_ok_and(|r| r == KitchenRules::default()));
    /// let wild = KitchenForm { bath_spread_k: "12 °C".into(), ..typed };
    /// assert!(wild.read(Units::default()).is_err_and(|e| e["bath_spread_k"].contains("from 0 °C to 5 °C")));
    /// ```
    pub fn read(&self, units: Units) -> Result<KitchenRules, BTreeMap<&'static str, String>> {
        let mut r = Blanks::new(units, units);
        let profile = r.chosen("profile", profile(&self.profile), "the code this kitchen works by");
        let water = r.chosen(
            "water",
            Water::from_id(&self.water),
            "whether a pump moves the water or it stands still",
        );
        let range = |of: &Bound| (Kelvin::new(of.low), Kelvin::new(of.high));
        let bath_error_c = r.a_difference(ERROR.field, &self.bath_error_c, ERROR.what, range(&ERROR));
        let bath_spread_k = r.a_difference(BATH.field, &self.bath_spread_k, BATH.what, range(&BATH));
        let usual = (usual_lid(), LID.what);
        let lid_low_k = r.difference(LID.field, &mut self.lid_low_k.clone(), usual, range(&LID));
        // No other blank takes a thickness of nothing.
        let zero = number_and_unit(&self.thickness_spread_mm);
        let zero =
            zero.is_some_and(|(value, unit)| value == 0.0 && ["", "mm", "in"].contains(&unit.as_str()));
        let thickness_spread_mm = if zero {
            Some(Length::ZERO)
        } else {
            let range = (Length::from_mm(THICKNESS.low), Length::from_mm(THICKNESS.high));
            r.side(THICKNESS.field, &self.thickness_spread_mm, THICKNESS.what, range)
        };
        let altitude_m = r.within(
            ALTITUDE.field,
            (&self.altitude_m, ALTITUDE.what),
            altitude_m(&self.altitude_m, units),
            (ALTITUDE.low, ALTITUDE.high),
            |m| units.height(m),
        );
        for of in [ERROR, BATH, LID, THICKNESS, ALTITUDE] {
            r.way_out(of.field, of.hint);
        }
        let all = || {
            Some(KitchenRules {
                profile: profile?,
                bath_error_c: bath_error_c?,
                bath_spread_k: bath_spread_k?,
                thickness_spread_mm: thickness_spread_mm?,
                water: water?,
                altitude_m: altitude_m?,
                lid_low_k,
                pans: Pans::from_id(&self.pans),
            })
        };
        r.answered(all())
    }
}

/// An altitude, in whole metres: `250`, `250 m`, `820 ft`.
fn altitude_m(text: &str, units: Units) -> Option<f64> {
    let (value, unit) = number_and_unit(text)?;
    match unit.as_str() {
        "" if units.length == LengthUnit::In => Some((value * M_PER_FT).round()),
        "" | "m" => Some(value),
        "ft" | "feet" => Some((value * M_PER_FT).round()),
        _ => None,
    }
}

/// A profile as its identifier.
mod profile_by_id {
    use super::{CodeProfile, known_profile};
    use serde::{Deserialize, Deserializer, Serializer};

    pub(crate) fn serialize<S: Serializer>(p: &&'static CodeProfile, s: S) -> Result<S::Ok, S::Error> {
        s.serialize_str(&p.id)
    }

    pub(crate) fn deserialize<'de, D: Deserializer<'de>>(d: D) -> Result<&'static CodeProfile, D::Error> {
        known_profile(&String::deserialize(d)?).map_err(serde::de::Error::custom)
    }
}

impl Default for KitchenRules {
    fn default() -> Self {
        let spreads = Spreads::default();
        Self {
            profile: &profiles()[0],
            bath_error_c: Kelvin::ZERO,
            bath_spread_k: spreads.bath_k,
            thickness_spread_mm: spreads.thickness_mm,
            water: Water::default(),
            altitude_m: 0.0,
            lid_low_k: usual_lid(),
            pans: Pans::Unsaid,
        }
    }
}

/// What a kitchen has to cook in and to measure with.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Equipment {
    /// Its vessels, in the order they came.
    pub vessels: Vec<KeptVessel>,
    /// Its thermometers.
    pub thermometers: Vec<Thermometer>,
}

/// Everything a sentence is read by, besides what was typed.
#[derive(Debug, Clone, Copy)]
pub struct Setting<'a> {
    /// The reader's units.
    pub units: Units,
    /// The time now.
    pub now: Timestamp,
    /// The kitchen's time zone.
    pub zone: &'a TimeZone,
    /// What the kitchen has settled.
    pub rules: &'a KitchenRules,
    /// How it likes to work.
    pub habits: &'a Habits,
    /// What the kitchen keeps of its own.
    pub pantry: &'a Pantry,
    /// Its vessels and thermometers.
    pub equipment: &'a Equipment,
    /// Whom it cooks for.
    pub guests: &'a [Guest],
}

static NOTHING: LazyLock<Pantry> = LazyLock::new(Pantry::default);
static BARE: Equipment = Equipment { vessels: Vec::new(), thermometers: Vec::new() };
static USUAL: LazyLock<Habits> = LazyLock::new(Habits::default);

impl<'a> Setting<'a> {
    /// A kitchen without anything of its own.
    ///
    /// ```
    /// use hold_steady_core::{food::Pantry, plan::{Habits, KitchenRules, Setting}, units::Units};
    /// let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let now = jiff::Timestamp::UNIX_EPOCH;
    /// assert!(Setting::new(Units::default(), now, &zone, &rules).pantry.is_empty());
    /// ```
    #[must_use]
    pub fn new(units: Units, now: Timestamp, zone: &'a TimeZone, rules: &'a KitchenRules) -> Self {
        Self { units, now, zone, rules, habits: &USUAL, pantry: &NOTHING, equipment: &BARE, guests: &[] }
    }

    /// The same with how it likes to work.
    ///
    /// ```
    /// use hold_steady_core::{food::Pantry, plan::{Habits, KitchenRules, Setting}, units::Units};
    /// let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let now = jiff::Timestamp::UNIX_EPOCH;
    /// let careful = Habits { guests_at_risk: true, ..Habits::default() };
    /// assert!(Setting::new(Units::default(), now, &zone, &rules).with_habits(&careful).habits.guests_at_risk);
    /// ```
    #[must_use]
    pub const fn with_habits(self, habits: &'a Habits) -> Self {
        Self { habits, ..self }
    }

    /// The same with what it keeps of its own.
    ///
    /// ```
    /// use hold_steady_core::{food::Pantry, plan::{Habits, KitchenRules, Setting}, units::Units};
    /// let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let now = jiff::Timestamp::UNIX_EPOCH;
    /// let pantry = Pantry { salted: ["Tuesday".to_owned()].into(), ..Pantry::default() };
    /// assert!(!Setting::new(Units::default(), now, &zone, &rules).with_pantry(&pantry).pantry.is_empty());
    /// ```
    #[must_use]
    pub const fn with_pantry(self, pantry: &'a Pantry) -> Self {
        Self { pantry, ..self }
    }

    /// The same with whom it cooks for.
    ///
    /// ```
    /// use hold_steady_core::{plan::{Guest, KitchenRules, Setting}, units::Units};
    /// let (now, zone, rules) = (jiff::Timestamp::UNIX_EPOCH, jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let guests = [Guest { number: 1, name: "Mira".into(), ..Guest::default() }];
    /// assert_eq!(Setting::new(Units::default(), now, &zone, &rules).with_guests(&guests).guests.len(), 1);
    /// ```
    #[must_use]
    pub const fn with_guests(self, guests: &'a [Guest]) -> Self {
        Self { guests, ..self }
    }

    /// With what the kitchen has to cook in and to measure with.
    ///
    /// ```
    /// use hold_steady_core::{plan::{Equipment, KitchenRules, Setting}, units::Units};
    /// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let equipment = Equipment::default();
    /// let setting = Setting::new(Units::default(), now, &zone, &rules).with_equipment(&equipment);
    /// assert!(setting.equipment.vessels.is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub const fn with_equipment(self, equipment: &'a Equipment) -> Self {
        Self { equipment, ..self }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::LengthUnit;
    use crate::units::TemperatureUnit;

    #[test]
    fn what_is_settled_reads_back_in_any_units() {
        let rules = KitchenRules {
            bath_error_c: Kelvin::new(0.5),
            water: Water::Still,
            altitude_m: 1600.0,
            ..KitchenRules::default()
        };
        let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        for units in [Units::default(), american] {
            let form = KitchenForm::of(&rules, units);
            let back = form.read(units).unwrap_or_else(|e| panic!("{form:?}: {e:?}"));
            assert_eq!((back.profile, back.water, back.altitude_m), (rules.profile, rules.water, 1600.0));
            assert!(
                (back.bath_error_c - Kelvin::new(0.5)).abs() < Kelvin::new(0.03)
                    && (back.thickness_spread_mm - Length::from_mm(2.0)).abs() < Length::from_mm(0.5)
            );
        }
        // A kitchen that measures exactly, too.
        let exact = KitchenRules { thickness_spread_mm: Length::ZERO, ..rules.clone() };
        for units in [Units::default(), american] {
            let back = KitchenForm::of(&exact, units).read(units);
            assert_eq!(back.map(|r| r.thickness_spread_mm), Ok(Length::ZERO));
        }
        let feet =
            KitchenForm { altitude_m: "5,280 ft".replace(',', ""), ..KitchenForm::of(&rules, american) };
        assert!(feet.read(american).is_ok_and(|r| r.altitude_m == 1609.0));
    }

    #[test]
    fn what_cannot_be_is_named_by_field_with_its_range() {
        let form = KitchenForm {
            profile: "someone's".into(),
            water: "boiling".into(),
            altitude_m: "-5 m".into(),
            bath_error_c: "1e308".into(),
            bath_spread_k: "12 °C".into(),
            lid_low_k: "a lot".into(),
            pans: String::new(),
            thickness_spread_mm: "thick".into(),
        };
        let errors = form.read(Units::default()).expect_err("all of it is wrong");
        assert_eq!(errors.len(), 7, "{errors:?}");
        assert!(errors["bath_spread_k"].contains("from 0 °C to 5 °C"), "{errors:?}");
        assert!(errors["bath_error_c"].contains("“1e308”"), "{errors:?}");
        let off = KitchenRules { bath_error_c: Kelvin::new(1e308), ..KitchenRules::default() };
        assert!(off.check().is_err_and(|e| e.0 == "bath_error_c"));
        assert!(KitchenRules { altitude_m: f64::NAN, ..KitchenRules::default() }.check().is_err());
    }
}
