//! Whom a kitchen cooks for.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::Unfit;
use crate::food::Food;
use crate::units::shortened;

/// A guest of a kitchen.
///
/// One who is removed leaves a number, whether at risk, and what they must not eat, for the records that name them; what they
/// are called and like is gone.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Guest {
    /// Which.
    pub id: Uuid,
    /// By which records name them.
    pub number: u32,
    /// What they are called; empty once they were removed.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// Young, old, pregnant, or with weak defences.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub at_risk: bool,
    /// What they must not eat: allergens in the catalogue's words where it has one.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub avoids: Vec<String>,
    /// How they like it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub likes: String,
    /// A note.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

/// Longest name, and longest text of a guest, characters; most that one must not eat.
const LONGEST_NAME: usize = 60;
const LONGEST_TEXT: usize = 300;
const MOST_AVOIDED: usize = 12;

/// A guest as typed.
#[derive(Debug, Clone, PartialEq, Eq, Default, Deserialize)]
#[serde(default)]
pub struct GuestForm {
    /// What they are called.
    pub guest: String,
    /// `at-risk`, or anything else for who is not.
    pub risk: String,
    /// What they must not eat, with commas between.
    pub avoids: String,
    /// How they like it.
    pub likes: String,
    /// A note.
    pub note: String,
}

impl GuestForm {
    /// Understands it.
    ///
    /// # Errors
    /// The field, and what it takes.
    ///
    /// ```
    /// use hold_steady_core::plan::GuestForm;
    /// let form = GuestForm { guest: "  Mira ".into(), avoids: "Fish, sesame ,".into(), ..GuestForm::default() };
    /// let guest = form.read(uuid::Uuid::nil(), 3)?;
    /// assert_eq!((guest.name.as_str(), guest.avoids.as_slice()), ("Mira", ["fish".to_owned(), "sesame".to_owned()].as_slice()));
    /// assert!(GuestForm::default().read(uuid::Uuid::nil(), 4).is_err());
    /// # Ok::<(), (&'static str, String)>(())
    /// ```
    pub fn read(&self, id: Uuid, number: u32) -> Result<Guest, (&'static str, String)> {
        let plain = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
        let (name, likes, note) = (plain(&self.guest), plain(&self.likes), plain(&self.note));
        let within =
            |text: &str, most: usize| text.chars().count() <= most && !text.chars().any(char::is_control);
        if name.is_empty() || !within(&name, LONGEST_NAME) {
            let shown = shortened(&name);
            return Err((
                "guest",
                format!("“{shown}” is no name: a guest’s has 1 to {LONGEST_NAME} letters."),
            ));
        }
        for (field, text) in [("likes", &likes), ("note", &note)] {
            if !within(text, LONGEST_TEXT) {
                return Err((field, format!("That is longer than {LONGEST_TEXT} letters: say it shorter.")));
            }
        }
        let words = self.avoids.split([',', ';', '\n']).map(|w| plain(w).to_lowercase());
        let mut avoids: Vec<String> = words.filter(|w| !w.is_empty()).collect();
        avoids.dedup();
        if avoids.len() > MOST_AVOIDED || !avoids.iter().all(|w| within(w, LONGEST_NAME)) {
            let text = format!(
                "Up to {MOST_AVOIDED} words of up to {LONGEST_NAME} letters, with commas between: fish, sesame."
            );
            return Err(("avoids", text));
        }
        Ok(Guest { id, number, name, at_risk: self.risk == "at-risk", avoids, likes, note })
    }
}

impl Guest {
    /// What is left of one who is removed.
    ///
    /// ```
    /// use hold_steady_core::plan::Guest;
    /// let mira = Guest { number: 3, name: "Mira".into(), at_risk: true, likes: "pink".into(), ..Guest::default() };
    /// let left = mira.removed();
    /// assert_eq!((left.number, left.at_risk, left.name.as_str(), left.likes.as_str()), (3, true, "", ""));
    /// ```
    #[must_use]
    pub fn removed(&self) -> Self {
        let Self { id, number, at_risk, ref avoids, .. } = *self;
        Self { id, number, at_risk, avoids: avoids.clone(), ..Self::default() }
    }

    /// What they are called in a sentence; by number once they were removed.
    ///
    /// ```
    /// use hold_steady_core::plan::Guest;
    /// assert_eq!(Guest { number: 3, ..Guest::default() }.called(), "guest 3");
    /// ```
    #[must_use]
    pub fn called(&self) -> String {
        if self.name.is_empty() { format!("guest {}", self.number) } else { self.name.clone() }
    }

    /// What they must not eat of a food: the words of it that are among its allergens.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, plan::Guest};
    /// let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
    /// let guest = Guest { avoids: vec!["fish".into(), "sesame".into()], ..Guest::default() };
    /// assert_eq!(guest.must_not_eat(salmon), ["fish"]);
    /// ```
    #[must_use]
    pub fn must_not_eat<'a>(&'a self, food: &Food) -> Vec<&'a str> {
        let has = |word: &str| food.allergens.list.iter().any(|a| a.to_lowercase() == word);
        self.avoids.iter().map(String::as_str).filter(|word| has(word)).collect()
    }

    /// Whether it is as one that can be typed: of a file, which anybody may have written.
    ///
    /// # Errors
    /// What cannot be.
    pub(crate) fn check(&self) -> Result<(), Unfit> {
        if self.name.is_empty() {
            return if *self == self.removed() { Ok(()) } else { Err("a guest without a name".into()) };
        }
        let typed = GuestForm {
            guest: self.name.clone(),
            risk: if self.at_risk { "at-risk" } else { "" }.into(),
            avoids: self.avoids.join(", "),
            likes: self.likes.clone(),
            note: self.note.clone(),
        };
        match typed.read(self.id, self.number) {
            Ok(read) if read == *self => Ok(()),
            Ok(_) => Err("a guest that is not written as one".into()),
            Err((field, why)) => Err(format!("{field}: {why}").into()),
        }
    }
}
