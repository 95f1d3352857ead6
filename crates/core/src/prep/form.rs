//! What is typed about the work before the bath.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::{Arrangement, Hold, Prep, Salted, Salting, bag};
use crate::figures::preparing;
use crate::units::{Blanks, Grams, Units, parse_grams};

/// Exactly as typed; every field may be empty.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct PrepForm {
    /// Weight in one bag.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub weight: String,
    /// Per cent of salt.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub salt: String,
    /// `piece`, `batch`, or empty.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub salted: String,
    /// Name of the batch.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub batch: String,
    /// `before`, `after`, `never`, hours ahead (`24`), or empty for by the length of the bath.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub salting: String,
    /// What else is in the bag, separated by commas.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub in_bag: String,
    /// Identifier of a way to take the air out.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub air: String,
    /// `1` or `2`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub seals: String,
    /// Pieces in one bag.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub pieces: String,
    /// `touching`, `stacked`, or empty.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub lie: String,
    /// `rack`, `ballast`, or empty.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub hold: String,
}

/// Lightest and heaviest bag, g; most pieces; most things in it; longest word; hours ahead that are offered.
const LIGHTEST_G: Grams = Grams::new(5.0);
const HEAVIEST_G: Grams = Grams::new(15_000.0);
const MOST_PIECES: u32 = 60;
const MOST_WORDS: usize = 12;
const LONGEST_WORD: usize = 40;
/// Hours ahead that can be chosen.
pub(crate) const AHEAD_H: [u32; 4] = [12, 24, 48, 72];

impl PrepForm {
    /// Understands it; what is wrong stands in `errors` by field, and nothing typed is lost.
    pub(crate) fn read(&self, units: Units, errors: &mut BTreeMap<&'static str, String>) -> Prep {
        let mut r = Blanks::new(units, units);
        let mut prep =
            Prep { batch: self.batch.trim().chars().take(LONGEST_WORD).collect(), ..Prep::default() };
        prep.weight_g = r.bag_weight(&self.weight);
        let most = preparing().salt_percent_most.value;
        if !self.salt.trim().is_empty() {
            prep.salt_percent = r.number("salt", &self.salt, ("a share", "%"), (0.0, most));
            r.way_out("salt", "More than that is a cure, which is not planned here.");
        }
        prep.salted = match self.salted.as_str() {
            "piece" => Salted::Piece,
            "batch" => Salted::Batch,
            _ => Salted::No,
        };
        prep.salting = match self.salting.as_str() {
            "before" => Salting::Before,
            "after" => Salting::After,
            "never" => Salting::Never,
            hours => hours.parse().ok().filter(|h| AHEAD_H.contains(h)).map_or(Salting::Auto, Salting::Ahead),
        };
        let words = self.in_bag.split([',', ';', '\n']).map(str::trim).filter(|w| !w.is_empty());
        prep.in_bag = words.map(|w| w.chars().take(LONGEST_WORD).collect()).take(MOST_WORDS).collect();
        if let Some(air) = bag::air(&self.air) {
            prep.air.clone_from(&air.id);
        }
        prep.seals = self.seals.parse().ok().filter(|n| (1..=2).contains(n));
        prep.pieces = r.count("pieces", &mut self.pieces.clone(), prep.pieces, (1, MOST_PIECES));
        r.way_out("pieces", "Fewer in a bag heat better.");
        prep.arrangement = match self.lie.as_str() {
            "touching" => Arrangement::Touching,
            "stacked" => Arrangement::Stacked,
            _ => Arrangement::Apart,
        };
        prep.hold = match self.hold.as_str() {
            "rack" => Hold::Rack,
            "ballast" => Hold::Ballast,
            _ => Hold::Clip,
        };
        errors.append(&mut r.errors);
        prep
    }
}

impl Blanks {
    /// What is in one bag, where that is said.
    fn bag_weight(&mut self, text: &str) -> Option<Grams> {
        if text.trim().is_empty() {
            return None;
        }
        let said = match parse_grams(text) {
            Ok(g) if (LIGHTEST_G..=HEAVIEST_G).contains(&g) => return Some(g),
            Ok(g) => {
                let [g, low, high] = [g, LIGHTEST_G, HEAVIEST_G].map(|g| self.units.weight(g));
                format!("{g} is outside {low} to {high}. Weigh what goes into one bag.")
            }
            Err(e) => e.to_string(),
        };
        self.errors.insert("weight", said);
        None
    }
}
