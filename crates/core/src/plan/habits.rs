//! How a kitchen likes to work: what stands in a sentence before anybody says otherwise. No verdict hangs on it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::prep::bag;
use crate::units::{Hours, Units, shortened};

/// What a kitchen usually does.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Habits {
    /// The units its people read in, until one of them chooses others.
    pub units: Units,
    /// In how many hours it tells a day.
    #[serde(skip_serializing_if = "crate::strict::is_usual")]
    pub hours: Hours,
    /// Its guests are at risk unless a plan says that none is: a hospital, a nursery, a home with a child.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub guests_at_risk: bool,
    /// When it salts: a value of [`PrepForm::salting`](crate::prep::PrepForm::salting); empty for by the length of
    /// the bath.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub salting: String,
    /// How it takes the air out of a bag: identifier of a [`bag::Air`]; empty for the simplest way.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub air: String,
}

/// When a kitchen may say that it salts.
pub const SALTING_SCHOOLS: [(&str, &str); 5] = [
    ("", "before a short bath, after a long one"),
    ("before", "always just before"),
    ("24", "a day ahead"),
    ("after", "always after"),
    ("never", "not at all"),
];

impl Habits {
    /// Whether every choice is one that is offered.
    ///
    /// # Errors
    /// The field, its value and what is offered.
    pub(crate) fn check(&self) -> Result<(), (&'static str, String)> {
        if !SALTING_SCHOOLS.iter().any(|(id, _)| *id == self.salting) {
            let offered: Vec<&str> = SALTING_SCHOOLS.iter().map(|s| s.0).collect();
            let text = format!("“{}” is none of: {}", shortened(&self.salting), offered.join(", "));
            return Err(("salting", text));
        }
        if !self.air.is_empty() && bag::air(&self.air).is_none() {
            let offered: Vec<&str> = bag::airs().iter().map(|a| a.id.as_str()).collect();
            return Err(("air", format!("“{}” is none of: {}", shortened(&self.air), offered.join(", "))));
        }
        Ok(())
    }
}

/// How a kitchen likes to work, as sent by its form.
#[derive(Debug, Clone, PartialEq, Eq, Default, Deserialize)]
#[serde(default)]
pub struct HabitsForm {
    /// [`Units::code`].
    pub units: String,
    /// [`Hours::id`]; empty for the usual one.
    pub hours: String,
    /// `well` or `at-risk`.
    pub guests: String,
    /// See [`Habits::salting`].
    pub salting: String,
    /// See [`Habits::air`].
    pub air: String,
}

impl HabitsForm {
    /// Understands it.
    ///
    /// # Errors
    /// By field, in whole sentences.
    ///
    /// ```
    /// use hold_steady_core::plan::HabitsForm;
    /// let wrong = HabitsForm { units: "stones".into(), ..HabitsForm::default() };
    /// assert!(wrong.read().is_err_and(|e| e.contains_key("units")));
    /// ```
    pub fn read(&self) -> Result<Habits, BTreeMap<&'static str, String>> {
        let mut errors = BTreeMap::new();
        let units = Units::from_code(&self.units);
        if units.is_none() {
            errors.insert("units", "Choose °C or °F, millimetres or inches.".to_owned());
        }
        if !matches!(self.guests.as_str(), "well" | "at-risk") {
            errors.insert("guests", "Choose whether its guests are usually at risk.".to_owned());
        }
        let hours = if self.hours.is_empty() { Some(Hours::default()) } else { Hours::from_id(&self.hours) };
        if hours.is_none() {
            errors.insert("hours", "Choose a clock of 24 or of 12 hours.".to_owned());
        }
        let habits = Habits {
            units: units.unwrap_or_default(),
            hours: hours.unwrap_or_default(),
            guests_at_risk: self.guests == "at-risk",
            salting: self.salting.clone(),
            air: self.air.clone(),
        };
        if let Err((field, _)) = habits.check() {
            errors.insert(field, "Choose one of the list.".to_owned());
        }
        if errors.is_empty() { Ok(habits) } else { Err(errors) }
    }
}

/// Somebody who works in a kitchen.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Person {
    /// Identifier.
    pub id: Uuid,
    /// As the kitchen calls them.
    pub name: String,
    /// For labels and records.
    pub initials: String,
}

impl Person {
    /// Longest name and initials, characters.
    pub const LONGEST: (usize, usize) = (40, 4);

    /// A person of a name, with the initials given, or made from the name.
    ///
    /// ```
    /// use hold_steady_core::plan::Person;
    /// let ida = Person::named(uuid::Uuid::nil(), " Ida  Lund ", "")?;
    /// assert_eq!((ida.name.as_str(), ida.initials.as_str()), ("Ida Lund", "IL"));
    /// assert!(Person::named(uuid::Uuid::nil(), "", "").is_err());
    /// # Ok::<(), (&'static str, String)>(())
    /// ```
    ///
    /// # Errors
    /// The field, and what is wrong, in whole sentences.
    pub fn named(id: Uuid, name: &str, initials: &str) -> Result<Self, (&'static str, String)> {
        let name = name.split_whitespace().collect::<Vec<_>>().join(" ");
        let made =
            || name.split(' ').filter_map(|w| w.chars().next()).take(Self::LONGEST.1).collect::<String>();
        let initials = match initials.trim() {
            "" => made().to_uppercase(),
            given => given.to_owned(),
        };
        let person = Self { id, name, initials };
        person.check().map(|()| person)
    }

    /// Whether name and initials can stand in records.
    ///
    /// # Errors
    /// The field, and what is wrong, in whole sentences.
    pub(crate) fn check(&self) -> Result<(), (&'static str, String)> {
        let (longest, most) = Self::LONGEST;
        let plain = |text: &str| !text.chars().any(char::is_control);
        if self.name.is_empty() || self.name.chars().count() > longest || !plain(&self.name) {
            let text = format!("“{}” is not a name of 1 to {longest} letters.", shortened(&self.name));
            return Err(("name", text));
        }
        if self.initials.is_empty() || self.initials.chars().count() > most || !plain(&self.initials) {
            let shown = shortened(&self.initials);
            return Err(("initials", format!("“{shown}” is not 1 to {most} letters, such as IL.")));
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_not_offered_is_named() {
        let form = HabitsForm { salting: "weekly".into(), air: "lungs".into(), ..HabitsForm::default() };
        let errors = form.read().expect_err("nothing of it is offered");
        assert_eq!(errors.keys().copied().collect::<Vec<_>>(), ["guests", "salting", "units"]);
        let air = Habits { air: "lungs".into(), ..Habits::default() }.check().expect_err("not offered");
        assert!(air.0 == "air" && air.1.contains("displacement"), "{air:?}");
        let good = HabitsForm { units: "f-in".into(), guests: "at-risk".into(), ..HabitsForm::default() };
        assert!(good.read().is_ok_and(|h| h.guests_at_risk && h.units.code() == "f-in"));
    }

    #[test]
    fn people_have_names_that_records_can_hold() {
        let named = |name: &str, initials: &str| Person::named(Uuid::nil(), name, initials);
        assert_eq!(named("Ida", "").expect("a name").initials, "I");
        assert_eq!(named("Ida", "Id").expect("a name").initials, "Id");
        assert_eq!(named(&"x".repeat(41), "").expect_err("too long").0, "name");
        assert_eq!(named("Ida", "abcde").expect_err("too long").0, "initials");
        assert_eq!(named("I\u{7}da", "").expect_err("a bell").0, "name");
    }
}
