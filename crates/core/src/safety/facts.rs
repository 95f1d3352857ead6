//! What the verdict table decides by: a piece at one moment, as numbers and answers, no words.

use crate::units::{Celsius, Minutes};
use serde::{Deserialize, Serialize};

use crate::figures::{Figure, Limits};
use crate::food::{FishKind, Food, FoodClass};

/// The food's state before this bath.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FoodState {
    /// Not cooked before.
    #[default]
    Raw,
    /// Pasteurised, chilled fast and kept cold; being reheated.
    PasteurizedChilled,
}

/// What was done about parasites in fish that is eaten below pasteurisation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Parasites {
    /// Nothing that is known of.
    #[default]
    None,
    /// Frozen: −20 °C for 7 days, −35 °C for 15 h, or frozen at −35 °C and kept at −20 °C for 24 h.
    Frozen,
    /// Exempt by its kind: listed tunas, farmed fish fed on pellets.
    Exempt,
}

/// What an egg in its shell is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum EggUse {
    /// As a pasteurised raw egg.
    #[default]
    Raw,
    /// Eaten soft, to order.
    Soft,
}

/// What was said of the piece and the guests, and what its food is. It does not change while it cooks.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Case {
    /// The food's class.
    pub class: FoodClass,
    /// Game shot in the wild.
    pub wild_game: bool,
    /// Judged by the organisms of poultry.
    pub poultry: bool,
    /// Stuffed.
    pub stuffed: bool,
    /// Forms histamine.
    pub histamine: bool,
    /// A scallop's adductor.
    pub scallop: bool,
    /// A whole roast.
    pub whole_roast: bool,
    /// Whole muscle, its inside never pierced.
    pub intact: bool,
    /// A guest is very young, old, pregnant or ill.
    pub at_risk: bool,
    /// Raw, or pasteurised before.
    pub state: FoodState,
    /// Beans boiled hard, milk scalded.
    pub prepared: bool,
    /// A jar or bag meant to stand on a shelf.
    pub for_shelf: bool,
    /// What was done about parasites.
    pub parasites: Parasites,
    /// It was called exempt from freezing, and its kind is not.
    pub exempt_in_vain: bool,
    /// What an egg is for.
    pub egg_use: EggUse,
    /// Minutes out were not said and are assumed.
    pub out_unsaid: bool,
}

impl Case {
    /// Of a food, with nothing said: raw, pierced where that can be, nobody at risk.
    #[must_use]
    pub(crate) fn of(food: &Food) -> Self {
        Self {
            class: food.class,
            wild_game: food.traits.wild_game,
            poultry: food.kill == "poultry",
            stuffed: food.traits.stuffed,
            histamine: food.traits.histamine,
            scallop: food.traits.scallop,
            whole_roast: food.traits.whole_roast,
            intact: !food.class.can_be_pierced(),
            at_risk: false,
            state: FoodState::Raw,
            prepared: false,
            for_shelf: false,
            parasites: Parasites::None,
            exempt_in_vain: false,
            egg_use: EggUse::Raw,
            out_unsaid: false,
        }
    }

    /// With an answer about parasites; a kind that is not exempt stays so whatever is said.
    #[must_use]
    pub(crate) fn with_parasites(self, said: Parasites, kind: Option<FishKind>) -> Self {
        let in_vain = said == Parasites::Exempt && kind.is_none();
        let parasites = if in_vain { Parasites::None } else { said };
        Self { parasites, exempt_in_vain: in_vain, ..self }
    }

    /// The single temperature of its class at which it counts as cooked, and for how long.
    #[must_use]
    pub(crate) fn cooked<'a>(&self, l: &'a Limits) -> (&'a Figure, &'a Figure) {
        if self.is_pierced() {
            (&l.cooked_pierced_c, &l.cooked_pierced_s)
        } else {
            (&l.cooked_whole_c, &l.cooked_whole_s)
        }
    }

    /// What a shellfish's core must reach, and in how hot a bath.
    #[must_use]
    pub(crate) const fn shellfish<'a>(&self, l: &'a Limits) -> (&'a Figure, &'a Figure) {
        if self.scallop {
            (&l.scallop_core_c, &l.scallop_bath_c)
        } else {
            (&l.crustacean_core_c, &l.crustacean_bath_c)
        }
    }

    /// What reheated food must be back at.
    #[must_use]
    pub(crate) const fn reheat<'a>(&self, l: &'a Limits) -> &'a Figure {
        if self.whole_roast { &l.reheat_roast_c } else { &l.reheat_core_c }
    }

    /// The raw clock's limit without a pasteurising hold.
    #[must_use]
    pub(crate) const fn clock_limit<'a>(&self, l: &'a Limits) -> &'a Figure {
        if self.histamine { &l.histamine_limit_min } else { &l.clock_limit_min }
    }

    /// What grows in it is counted: a live culture keeps others down.
    #[must_use]
    pub(crate) fn grows(&self) -> bool {
        self.class != FoodClass::Ferment
    }

    /// The code's single temperature of its class and how long, s, where cooking it through is a way to serve it.
    #[must_use]
    pub(crate) fn cooked_through(&self, l: &Limits) -> Option<(Celsius, f64)> {
        if self.poultry || self.stuffed {
            return Some((l.poultry_c.celsius(), 1.0));
        }
        let may = self.class.may_be_cooked_whole() && !self.wild_game;
        let (c, s) = self.cooked(l);
        may.then(|| (c.celsius(), s.value))
    }

    /// Mixed through, or pierced.
    #[must_use]
    pub(crate) const fn is_pierced(&self) -> bool {
        self.class.is_mixed_through() || !self.intact
    }
}

/// What the growth clocks have counted at one moment, the minutes before the bath with it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct ClocksAt {
    /// Minutes on the raw clock.
    pub raw_min: Minutes,
    /// Minutes of warming from 10 °C.
    pub come_up_min: Minutes,
    /// Minutes between 30 and 50 °C.
    pub warm_min: Minutes,
}

/// How a reheating stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Reheating {
    /// Minutes since the first layer left the cold, to the plate.
    pub since_min: Minutes,
    /// Minutes from there until every layer was back, if it was.
    pub back_min: Option<Minutes>,
    /// No layer fell below again in the bath.
    pub kept: bool,
}

/// How a ferment stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Fermenting {
    /// The coldest the bath has been, °C.
    pub bath_low_c: Celsius,
    /// The hottest.
    pub bath_high_c: Celsius,
    /// Minutes its core has been warm enough.
    pub warm_min: Minutes,
}

/// What the table decides by: the piece pulled at one moment and eaten some minutes later.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Facts {
    /// What was said, and what the food is.
    pub case: Case,
    /// The bath at that moment, its instrument's stated error taken off, °C.
    pub set_c: Celsius,
    /// Minutes in the bath.
    pub bath_min: Minutes,
    /// Minutes from the pull until it is eaten.
    pub after_min: Minutes,
    /// All kinetics targets reached.
    pub kinetics_reached: bool,
    /// The code's table reached; `None` where the profile has none for this class.
    pub code_reached: Option<bool>,
    /// The clocks at that instant, where both were reached.
    pub at_kill: Option<ClocksAt>,
    /// Minutes from 10 °C upward, so far.
    pub come_up_min: Minutes,
    /// Minutes on the raw clock until eaten.
    pub raw_min: Minutes,
    /// Minutes between 30 and 50 °C until eaten.
    pub warm_min: Minutes,
    /// Minutes under the growth limit since the kill, until eaten.
    pub after_kill_min: Minutes,
    /// Of what was pasteurised before.
    pub reheating: Option<Reheating>,
    /// Of a ferment.
    pub fermenting: Option<Fermenting>,
    /// Every layer had its class's single cooking temperature.
    pub cooked: bool,
    /// Every layer had a bivalve's heat.
    pub bivalve_held: bool,
    /// Every layer had the heat that kills parasites in fish.
    pub fish_held: bool,
    /// A shellfish came to its core temperature in a bath hot enough.
    pub shellfish_done: bool,
    /// An egg came to its core temperature in a bath hot enough, or had more.
    pub egg_done: bool,
}

impl Facts {
    /// Kinetics and table reached in time for a pasteurising hold to count: warmed fast enough, no toxin
    /// grown on the way. What happened since is another question.
    #[must_use]
    pub(crate) fn was_pasteurised(&self, l: &Limits) -> bool {
        self.at_kill.is_some_and(|k| {
            k.come_up_min <= l.come_up_limit_min.minutes()
                && k.warm_min <= l.warm_hold_limit_min.minutes()
                && (!self.case.histamine || k.raw_min <= l.histamine_limit_min.minutes())
        })
    }

    /// Whether nothing that is done from here on makes it safe: what has grown stays, heat-stable toxin too. For every guest
    /// alike, whatever row answers.
    #[must_use]
    pub(crate) fn is_past_mending(&self, l: &Limits) -> bool {
        if !self.case.grows() {
            return false;
        }
        if self.after_kill_min > l.after_kill_most_min.minutes() {
            return true;
        }
        let reheated = self.case.state == FoodState::PasteurizedChilled;
        if reheated && self.raw_min > l.clock_limit_min.minutes() {
            return true;
        }
        if self.was_pasteurised(l) {
            return false;
        }
        let too_long =
            self.raw_min > self.case.clock_limit(l).minutes() || self.warm_min > l.warm_limit_min.minutes();
        let no_kill_counts = self.at_kill.is_some()
            || self.come_up_min > l.come_up_limit_min.minutes()
            || self.warm_min > l.warm_hold_limit_min.minutes()
            || (self.case.histamine && self.raw_min > l.histamine_limit_min.minutes());
        too_long && no_kill_counts
    }

    /// Minutes from 10 °C upward that count: up to the kill, where there was one.
    #[must_use]
    pub(crate) fn come_up_counted_min(&self) -> Minutes {
        self.at_kill.map_or(self.come_up_min, |k| k.come_up_min)
    }

    /// The same piece eaten some minutes later than these facts have it.
    #[must_use]
    pub(crate) fn eaten_after(&self, min: Minutes) -> Self {
        Self {
            after_min: self.after_min + min,
            raw_min: self.raw_min + min,
            warm_min: self.warm_min + min,
            after_kill_min: self.after_kill_min
                + if self.kinetics_reached || self.after_kill_min > Minutes::ZERO {
                    min
                } else {
                    Minutes::ZERO
                },
            reheating: self.reheating.map(|r| Reheating { since_min: r.since_min + min, ..r }),
            ..self.clone()
        }
    }

    /// How many more minutes until each limit that runs on after the pull is passed; those passed already are
    /// left out.
    #[must_use]
    pub(crate) fn minutes_left(&self, l: &Limits) -> Vec<Minutes> {
        let (every, most) = (l.after_kill_every_min.minutes(), l.after_kill_most_min.minutes());
        let since = self.reheating.map(|r| l.reheat_limit_min.minutes() - r.since_min);
        let left = [
            self.case.clock_limit(l).minutes() - self.raw_min,
            l.clock_limit_min.minutes() - self.raw_min,
            l.warm_limit_min.minutes() - self.warm_min,
            every - self.after_kill_min,
            most - self.after_kill_min,
            every - self.after_min,
            most - self.after_min,
        ];
        left.into_iter().chain(since).filter(|m| *m >= Minutes::ZERO).collect()
    }
}

/// A strip steak, pierced, after an hour and a half at 54.5 °C: what tests of rules and words begin with.
#[cfg(test)]
pub(crate) fn early_steak() -> Facts {
    Facts {
        case: Case::of(crate::food::catalogue().food("beef-strip").expect("in the catalogue")),
        set_c: Celsius::new(54.5),
        bath_min: Minutes::new(90.0),
        after_min: Minutes::new(0.0),
        kinetics_reached: false,
        code_reached: Some(false),
        at_kill: None,
        come_up_min: Minutes::new(60.0),
        raw_min: Minutes::new(66.0),
        warm_min: Minutes::new(26.0),
        after_kill_min: Minutes::new(0.0),
        reheating: None,
        fermenting: None,
        cooked: false,
        bivalve_held: false,
        fish_held: false,
        shellfish_done: false,
        egg_done: false,
    }
}
