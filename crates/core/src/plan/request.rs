//! What was understood of a sentence: what is planned, and what is stored.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::{From, KitchenRules, routine};
use crate::bath::BathTrace;
use crate::food::{Food, FoodClass, OwnFood, catalogue};
use crate::heat::{Detail, Shape};
use crate::piece::Piece;
use crate::prep::{Lie, Prep};
use crate::safety::{EggUse, FoodState, Parasites, profile, profiles};
use crate::units::{Celsius, Length, Units};

/// What was understood of a sentence. Fields that a food does not ask for are absent.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlanRequest {
    /// Food identifier.
    pub food: String,
    /// The food itself, where it is the kitchen's own: a plan stays what it was when the kitchen changes
    /// it later.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub own: Option<OwnFood>,
    /// Thickness (or diameter), mm; of an uneven piece where it is thickest.
    pub thickness_mm: f64,
    /// Where an uneven piece is thinnest, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thin_mm: Option<f64>,
    /// The thickness was given as “about”.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub unsure: bool,
    /// Across, of a piece solved as a block, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width_mm: Option<f64>,
    /// Along, of a piece solved as a block, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_mm: Option<f64>,
    /// Identifier of a size that is graded by weight.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub size: Option<String>,
    /// What an egg is for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub egg_use: Option<EggUse>,
    /// What was done about parasites in fish.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub parasites: Option<Parasites>,
    /// Filling of a jar, ml.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fill_ml: Option<f64>,
    /// Temperature of a jar's glass when it goes in, °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub glass_c: Option<f64>,
    /// Whether it was cooked before, where that is asked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub prepared: Option<bool>,
    /// Where it comes from.
    pub from: From,
    /// Bath temperature, °C.
    pub bath_c: f64,
    /// Minutes in the bath, where the cook chose them; otherwise as long as it needs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub time_min: Option<f64>,
    /// Whole or bladed; `None` while nobody has said, which counts as bladed.
    pub intact: Option<bool>,
    /// A guest is at risk.
    pub at_risk: bool,
    /// When it should be ready; `None` for as soon as it can be.
    pub ready_at: Option<Timestamp>,
    /// What the kitchen had settled.
    pub rules: KitchenRules,
    /// The work before the bath.
    #[serde(default, skip_serializing_if = "Prep::is_default")]
    pub prep: Prep,
}

/// How much wider an “about” makes the spread of a thickness, and the least share of it.
const UNSURE_FACTOR: f64 = 2.0;
const UNSURE_SHARE: f64 = 0.15;

impl PlanRequest {
    /// The food.
    ///
    /// Falls back to the first of the catalogue for a record whose food is gone; none has gone yet.
    #[must_use]
    pub fn food(&self) -> &Food {
        self.own
            .as_ref()
            .and_then(OwnFood::food)
            .or_else(|| catalogue().food(&self.food))
            .unwrap_or(&catalogue().foods[0])
    }

    /// What a cook of it is called, in a reader's units: `Strip steak, 32 mm, 55 °C`.
    #[must_use]
    pub fn title(&self, units: Units) -> String {
        let food = self.food();
        let mut letters = food.name.chars();
        let name: String =
            letters.next().map(|c| c.to_uppercase().chain(letters).collect()).unwrap_or_default();
        format!("{name}, {}, {}", self.how_big(units), units.temperature(Celsius::new(self.bath_c)))
    }

    /// How big it is, in the words its food is measured in.
    #[must_use]
    pub fn how_big(&self, units: Units) -> String {
        let length = |mm: f64| units.length(Length::from_mm(mm));
        if let Some(size) = self.size.as_ref().and_then(|id| self.food().size(id)) {
            return size.name.clone();
        }
        if let Some(ml) = self.fill_ml {
            return format!("{} in a jar {} across", units.volume(ml), length(self.thickness_mm));
        }
        let about = if self.unsure { "about " } else { "" };
        let thick = match self.thin_mm {
            Some(thin) => format!("{about}{} to {}", length(thin), length(self.thickness_mm)),
            None => format!("{about}{}", length(self.thickness_mm)),
        };
        match (self.width_mm, self.length_mm) {
            (Some(w), Some(l)) => format!("{thick} × {} × {}", length(w), length(l)),
            _ => thick,
        }
    }

    /// Where it comes from, what was answered about it, and for whom, in words.
    #[must_use]
    pub fn conditions(&self) -> String {
        let food = self.food();
        let mut parts = vec![format!("from {}", self.from.start().label)];
        if food.class.asks_if_intact() {
            parts.push(if self.counts_as_intact() { "whole" } else { "taken as bladed" }.into());
        }
        match self.egg_use {
            Some(EggUse::Raw) => parts.push("to use raw".into()),
            Some(EggUse::Soft) => parts.push("soft, to eat".into()),
            None => {}
        }
        match self.parasites {
            Some(Parasites::Frozen) => parts.push("frozen for parasites".into()),
            Some(Parasites::Exempt) => parts.push("a kind exempt from freezing".into()),
            Some(Parasites::None) => parts.push("not frozen for parasites".into()),
            None => {}
        }
        if let (Some(done), Some(question)) = (self.prepared, &food.prepared) {
            parts.push(if done { question.done.clone() } else { question.not_done.clone() });
        }
        parts.push(if self.at_risk { "for a guest at risk" } else { "for guests not at risk" }.into());
        parts.join(", ")
    }

    /// Whole, for the rules: an open question counts as bladed.
    #[must_use]
    pub fn counts_as_intact(&self) -> bool {
        self.intact == Some(true)
    }

    /// Set point less what the kitchen's instrument reads too high, °C.
    #[must_use]
    pub fn set_c(&self) -> f64 {
        self.bath_c - self.rules.bath_error_c
    }

    /// How far the thickness may be off, mm.
    #[must_use]
    pub fn spread_mm(&self) -> f64 {
        let sure = self.food().thickness_mm.spread.unwrap_or(self.rules.thickness_spread_mm);
        if self.unsure { (sure * UNSURE_FACTOR).max(self.thickness_mm * UNSURE_SHARE) } else { sure }
    }

    /// The shape it is solved as, at a thickness.
    #[must_use]
    pub fn shape(&self, thickness_mm: f64) -> Shape {
        let mm = Length::from_mm;
        if let Some(fill) = self.fill_ml {
            return jar_shape(thickness_mm, fill);
        }
        match self.prep.lying() {
            _ if !self.food().sizes.is_empty() => {}
            Lie::Apart => {}
            // No water between them: heat comes in from above and below only.
            Lie::Touching => return Shape::Slab(mm(thickness_mm)),
            Lie::Stacked => return Shape::Slab(mm(2.0 * thickness_mm)),
        }
        match (self.food().shape.as_str(), self.width_mm, self.length_mm) {
            ("block", Some(w), Some(l)) => {
                let mut sides = [thickness_mm, w, l];
                sides.sort_by(f64::total_cmp);
                Shape::Block { thickness: mm(sides[0]), width: mm(sides[1]), length: mm(sides[2]) }
            }
            ("cylinder", ..) => Shape::Cylinder(mm(thickness_mm)),
            ("sphere", ..) => Shape::Sphere(mm(thickness_mm)),
            // Also a block whose sides nobody gave: the slab is the slow, safe side.
            _ => Shape::Slab(mm(thickness_mm)),
        }
    }

    fn state(&self) -> FoodState {
        match (self.prepared, self.food().class) {
            (Some(true), FoodClass::KidneyBean) => FoodState::Boiled,
            (Some(true), _) => FoodState::PasteurizedChilled,
            _ => FoodState::Raw,
        }
    }

    /// The piece at the middle of its spreads in a bath of `bath_c`, `thickness_mm` thick, starting at
    /// `start_c`.
    fn piece(&self, thickness_mm: f64, start_c: f64, clock_after_min: f64) -> Piece<'_> {
        let food = self.food();
        // Glass colder than its filling draws heat from it first.
        let start_c = self.glass_c.map_or(start_c, |g| g.min(start_c));
        let bath = BathTrace::constant(self.set_c());
        Piece {
            detail: Detail::Page,
            intact: self.counts_as_intact(),
            at_risk: self.at_risk,
            state: self.state(),
            parasites: self.parasites.unwrap_or_default(),
            egg_use: self.egg_use.unwrap_or_default(),
            profile: profile(&self.rules.profile).unwrap_or(&profiles()[0]),
            clock_before_min: self.from.start().clock_min,
            clock_after_min,
            ..Piece::new(food, self.shape(thickness_mm), start_c, bath)
        }
    }

    /// The slow end of the spreads: thicker, colder. An uneven piece at its thick end.
    #[must_use]
    pub fn slow_piece(&self, clock_after_min: f64) -> Piece<'_> {
        self.piece(self.thickness_mm, self.from.start().slow_c, clock_after_min)
            .spread(self.spread_mm(), -self.rules.bath_spread_k)
    }

    /// The middle.
    #[must_use]
    pub fn nominal_piece(&self, clock_after_min: f64) -> Piece<'_> {
        self.piece(self.thickness_mm, self.from.start().nominal_c, clock_after_min)
    }

    /// The fast end of the spreads: thinner, warmer. An uneven piece at its thin end.
    #[must_use]
    pub fn fast_piece(&self, clock_after_min: f64) -> Piece<'_> {
        self.piece(self.thin_mm.unwrap_or(self.thickness_mm), self.from.start().fast_c, clock_after_min)
            .spread(-self.spread_mm(), self.rules.bath_spread_k)
    }
}

/// A filled jar: an endless bar as wide as the jar, or, for a shallow filling, a slab heated from below
/// only; whichever warms sooner, for both leave out the other's way in. The glass counts as filling, which
/// conducts worse and holds more heat than it.
fn jar_shape(inside_mm: f64, fill_ml: f64) -> Shape {
    // First roots of the cylinder and the slab held at a temperature: R²/5.78 against L²/2.47.
    const CYLINDER: f64 = 5.78;
    const SLAB: f64 = 2.47;
    let wall = routine("jar_wall_mm").value;
    let across = inside_mm + 2.0 * wall;
    let deep = fill_ml * 1000.0 / (std::f64::consts::FRAC_PI_4 * inside_mm * inside_mm) + wall;
    let (round, flat) = ((across / 2.0).powi(2) / CYLINDER, deep * deep / SLAB);
    if flat < round {
        Shape::Slab(Length::from_mm(2.0 * deep))
    } else {
        Shape::Cylinder(Length::from_mm(across))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_shallow_jar_warms_from_below_and_a_tall_one_from_its_side() {
        // 100 ml in a jar 100 mm across stand 12.7 mm high.
        let Shape::Slab(flat) = jar_shape(100.0, 100.0) else { panic!("shallow") };
        assert!((flat.mm() - 2.0 * (12.732 + 3.0)).abs() < 0.01, "{}", flat.mm());
        let Shape::Cylinder(tall) = jar_shape(60.0, 200.0) else { panic!("tall") };
        assert_eq!(tall.mm(), 66.0);
    }
}
