//! What is typed about the work before the bath.

use crate::figures::preparing;
use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::{Arrangement, Hold, Prep, Salted, Salting, bag};
use crate::units::{Grams, Units, parse_grams, trimmed};

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
pub const AHEAD_H: [u32; 4] = [12, 24, 48, 72];

impl PrepForm {
    /// Understands it; what is wrong stands in `errors` by field, and nothing typed is lost.
    pub(crate) fn read(&self, units: Units, errors: &mut BTreeMap<&'static str, String>) -> Prep {
        let mut fault = |field: &'static str, text: String| {
            errors.insert(field, text);
        };
        let mut prep =
            Prep { batch: self.batch.trim().chars().take(LONGEST_WORD).collect(), ..Prep::default() };
        if !self.weight.trim().is_empty() {
            match parse_grams(&self.weight) {
                Ok(g) if (LIGHTEST_G..=HEAVIEST_G).contains(&g) => prep.weight_g = Some(g),
                Ok(g) => fault(
                    "weight",
                    format!(
                        "{} is outside {} to {}. Weigh what goes into one bag.",
                        units.weight(g),
                        units.weight(LIGHTEST_G),
                        units.weight(HEAVIEST_G)
                    ),
                ),
                Err(e) => fault("weight", e.to_string()),
            }
        }
        let most = preparing().salt_percent_most.value;
        let salt = self.salt.trim().trim_end_matches('%').trim().replace(',', ".");
        if !salt.is_empty() {
            match salt.parse::<f64>() {
                Ok(p) if (0.0..=most).contains(&p) => prep.salt_percent = Some(p),
                _ => fault(
                    "salt",
                    format!(
                        "“{}” is not a share from 0 to {} %. More than that is a cure, which is not planned here.",
                        salt.chars().take(LONGEST_WORD).collect::<String>(),
                        trimmed(most, 1)
                    ),
                ),
            }
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
        if !self.pieces.trim().is_empty() {
            match self.pieces.trim().parse::<u32>() {
                Ok(n) if (1..=MOST_PIECES).contains(&n) => prep.pieces = n,
                _ => fault(
                    "pieces",
                    format!(
                        "“{}” is not a number from 1 to {MOST_PIECES}. Fewer in a bag heat better.",
                        self.pieces.trim().chars().take(LONGEST_WORD).collect::<String>()
                    ),
                ),
            }
        }
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
        prep
    }
}
