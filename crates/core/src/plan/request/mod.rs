//! What was understood of a sentence: what is planned, and what is stored.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::{From, KitchenRules};
use crate::bath::{self, BathPoint, BathTrace, Bench, Heat, Surroundings, Water, usual_air, usual_taps};
use crate::figures::limits;
use crate::food::Food;
use crate::prep::{Prep, salt};
use crate::safety::{EggUse, Parasites};
use crate::units::{Celsius, Kelvin, Length, Minutes, Thickness, Units, capitalised};
mod piece;
mod planned;

pub use piece::{Finishing, Pieces};
pub use planned::{InVessel, PlannedFood, ServedTo};

/// What was understood of a sentence. Fields that a food does not ask for are absent.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlanRequest {
    /// The food.
    #[serde(flatten)]
    pub planned: PlannedFood,
    /// Thickness (or diameter), mm; of an uneven piece where it is thickest.
    pub thickness_mm: Length,
    /// Where an uneven piece is thinnest, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thin_mm: Option<Length>,
    /// The thickness was given as “about”.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub unsure: bool,
    /// Across, of a piece solved as a block, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width_mm: Option<Length>,
    /// Along, of a piece solved as a block, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_mm: Option<Length>,
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
    pub glass_c: Option<Celsius>,
    /// Whether it was cooked before, where that is asked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub prepared: Option<bool>,
    /// Where it comes from.
    pub from: From,
    /// Minutes out of the refrigerator, where it was and somebody said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub out_min: Option<Minutes>,
    /// Whether the water is moved, where it differs from the kitchen's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub water: Option<Water>,
    /// Bath temperature, °C.
    pub bath_c: Celsius,
    /// Minutes in the bath, where the cook chose them; otherwise as long as it needs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub time_min: Option<Minutes>,
    /// Whole or bladed; `None` while nobody has said, which counts as bladed.
    pub intact: Option<bool>,
    /// A guest is at risk.
    pub at_risk: bool,
    /// The guest it is for, where one was named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub served_to: Option<ServedTo>,
    /// The bath is hot already.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub hot: bool,
    /// The vessel it goes into, where one was named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel: Option<InVessel>,
    /// When it should be ready; `None` for as soon as it can be.
    pub ready_at: Option<Timestamp>,
    /// It lies in its bath since then: planned anew, while it is cooked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub in_since: Option<Timestamp>,
    /// What the kitchen had settled.
    pub rules: KitchenRules,
    /// The work before the bath.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub prep: Prep,
}

/// How much wider an “about” makes the spread of a thickness, and the least share of it.
const UNSURE_FACTOR: f64 = 2.0;
const UNSURE_SHARE: f64 = 0.15;

/// Baths nearer to each other than this are the same to a cook, °C; choices side by side are further apart than
/// twice the second.
const SAME_BATH_K: Kelvin = Kelvin::new(0.05);
const SAME_CHOICE_K: Kelvin = Kelvin::new(0.26);

impl PlanRequest {
    /// Whether a temperature is that of this plan's bath.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert!(request.is_at(request.bath_c) && !request.is_at(request.bath_c + Kelvin::new(0.5)));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn is_at(&self, c: Celsius) -> bool {
        (c - self.bath_c).abs() <= SAME_BATH_K
    }

    /// Whether a temperature of a few to choose from is the one this plan has taken.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert!(request.has_chosen(request.bath_c + Kelvin::new(0.1)));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn has_chosen(&self, c: Celsius) -> bool {
        (c - self.bath_c).abs() < SAME_CHOICE_K
    }

    /// Whether another plan is for the same piece: all that cannot be wished otherwise once it is bought.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::From, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let request = usual_request(strip, From::Refrigerator);
    /// let (mut warmer, mut thinner) = (request.clone(), request.clone());
    /// warmer.bath_c = request.bath_c + Kelvin::new(2.0);
    /// thinner.thickness_mm = Length::from_mm(20.0);
    /// assert!(request.is_same_piece(&warmer) && !request.is_same_piece(&thinner));
    /// ```
    #[must_use]
    pub fn is_same_piece(&self, other: &Self) -> bool {
        self.of_piece(other) == *self
    }

    /// The same wishes for another piece.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::From, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let request = usual_request(strip, From::Refrigerator);
    /// let thinner = PlanRequest { thickness_mm: Length::from_mm(20.0), at_risk: true, ..request.clone() };
    /// # use hold_steady_core::plan::PlanRequest;
    /// let of = request.of_piece(&thinner);
    /// assert_eq!((of.thickness_mm, of.at_risk), (thinner.thickness_mm, request.at_risk));
    /// ```
    #[must_use]
    pub fn of_piece(&self, piece: &Self) -> Self {
        let wishes = self;
        Self {
            water: wishes.water,
            bath_c: wishes.bath_c,
            time_min: wishes.time_min,
            at_risk: wishes.at_risk,
            served_to: wishes.served_to.clone(),
            hot: wishes.hot,
            vessel: wishes.vessel.clone(),
            ready_at: wishes.ready_at,
            in_since: wishes.in_since,
            rules: wishes.rules.clone(),
            // What is done to it before the bath is wished; how many and how heavy they are is not.
            prep: Prep { pieces: piece.prep.pieces, weight_g: piece.prep.weight_g, ..wishes.prep.clone() },
            ..piece.clone()
        }
    }

    /// The food.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert_eq!(request.food().id, "beef-strip");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn food(&self) -> &Food {
        self.planned.get()
    }

    /// Whether the water of its bath is moved.
    #[must_use]
    pub(crate) fn water(&self) -> Water {
        let of_vessel = self.vessel.as_ref().map(|v| v.vessel.water);
        self.water.or(of_vessel).unwrap_or(self.rules.water)
    }

    /// What surrounds it in its bath.
    #[must_use]
    pub(crate) fn surface(&self) -> &'static Surroundings {
        self.food().surface_in(self.water())
    }

    /// Minutes it was out of the refrigerator, and whether they are assumed.
    #[must_use]
    pub(crate) fn out(&self) -> (f64, bool) {
        match self.out_min {
            _ if !self.from.start().out => (0.0, false),
            Some(min) => (min.value(), false),
            None => (limits().out_unsaid_min.value, true),
        }
    }

    /// What a cook of it is called, in a reader's units: `Strip steak, 32 mm, 55 °C`.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert_eq!(request.title(Units::default()), "Strip steak, 32 mm, 55 °C");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn title(&self, units: Units) -> String {
        let food = self.food();
        let bath = units.temperature(self.bath_c);
        let what = match self.prep.pieces {
            0 | 1 => capitalised(&food.name),
            pieces => format!("{pieces} {}", food.plural),
        };
        format!("{what}, {}, {bath}", self.how_big(units))
    }

    /// How big it is, in the words its food is measured in.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert_eq!(request.how_big(Units::default()), "32 mm");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn how_big(&self, units: Units) -> String {
        let length = |l: Length| units.length(l);
        if let Some(size) = self.size.as_ref().and_then(|id| self.food().size(id)) {
            return size.name.clone();
        }
        if let Some(ml) = self.fill_ml {
            return format!("{} in a jar {} across", units.volume(ml), length(self.thickness_mm));
        }
        let (thin, unsure) = (self.thin_mm.unwrap_or(self.thickness_mm), self.unsure);
        let thick = Thickness { thin, thick: self.thickness_mm, unsure }.written(&length);
        match (self.width_mm, self.length_mm) {
            (Some(w), Some(l)) => format!("{thick} × {} × {}", length(w), length(l)),
            _ => thick,
        }
    }

    /// Where it comes from, what was answered about it, and for whom, in words.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert_eq!(request.conditions(), "from the refrigerator, whole, for guests not at risk");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
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

    /// Whether, when and how much it is salted.
    #[must_use]
    pub(crate) fn salted(&self, bath_min: Minutes, through_min: Minutes) -> salt::Advice {
        let half_m = self.shape(self.thickness_mm).thickness().metres() / 2.0;
        salt::advise(&self.prep, self.food(), half_m, self.bath_c, bath_min, through_min)
    }

    /// What the guest it is for must not eat of it.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::From};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// assert!(usual_request(strip, From::Refrigerator).must_not_be_eaten().is_empty());
    /// ```
    #[must_use]
    pub fn must_not_be_eaten(&self) -> Vec<&str> {
        let allergens = &self.food().allergens.list;
        let has = |word: &&str| allergens.iter().any(|a| a.to_lowercase() == **word);
        self.served_to.iter().flat_map(|s| &s.avoids).map(String::as_str).filter(has).collect()
    }

    /// The same without for whom: what is said of the piece.
    #[must_use]
    pub(crate) fn piece_words(&self) -> String {
        let all = self.conditions();
        all.rsplit_once(", ").map_or(all.clone(), |(piece, _)| piece.to_owned())
    }

    /// Whole, for the rules: an open question counts as bladed.
    #[must_use]
    pub(crate) fn counts_as_intact(&self) -> bool {
        self.intact == Some(true)
    }

    /// Set point less what the kitchen's instrument reads too high, °C.
    #[must_use]
    pub(crate) fn set_c(&self) -> Celsius {
        self.bath_c - self.reads_high()
    }

    /// What the thermometer it is held by may read too high: the kitchen's own word, and by hand no less than what the
    /// thermometer's checks allow.
    #[must_use]
    pub(crate) fn reads_high(&self) -> Kelvin {
        let by_hand = self.vessel.as_ref().filter(|v| v.vessel.heat != Heat::Heater);
        by_hand.map_or(self.rules.bath_error_c, |v| v.reads_high_k)
    }

    /// The bench with this plan's vessel, its load and this kitchen; `None` where no vessel is named.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::From};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// assert!(usual_request(strip, From::Refrigerator).bench().is_none());
    /// ```
    #[must_use]
    pub fn bench(&self) -> Option<Bench<'_>> {
        const LIMIT: Kelvin = Kelvin::new(1.0);
        let v = self.vessel.as_ref()?;
        Some(Bench {
            vessel: &v.vessel,
            cover: v.vessel.cover,
            litres: None,
            target: self.bath_c,
            taps: usual_taps(),
            air: usual_air(self.rules.altitude_m),
            food: bath::Food { kg: v.kg, c: self.from.start().nominal_c, thickness: self.thickness_mm },
            limit: LIMIT,
            long: self.time_min.unwrap_or(Minutes::from_hours(4.0)),
        })
    }

    /// The water it goes into: as it is held; with a vessel as that takes the load, from where it stands when the food
    /// goes in. By hand it is kept at or above what it is to be: that is what the cook promises, and what readings prove.
    /// How far it is foreseen to draw its water down when it goes in, and for how long.
    #[must_use]
    pub(crate) fn dip(&self, at: Timestamp) -> bath::Dip {
        let heated = self.bench().filter(|b| b.vessel.heat == Heat::Heater);
        let Some(bench) = heated else { return bath::dip(at, None) };
        let pool = bench.vessel.at(bench.target).pool(bench.water_l(), bench.cover, bench.air);
        bath::dip(at, Some((&pool, bench.target, &bench.food.load(self.water()))))
    }

    fn water_trace(&self) -> BathTrace {
        const WITHIN_K: f64 = 0.03;
        const LONGEST_MIN: f64 = 240.0;
        let set = self.set_c().value();
        let Some((v, bench)) = self.vessel.as_ref().zip(self.bench()) else {
            return BathTrace::constant(set);
        };
        if v.vessel.heat != Heat::Heater {
            return BathTrace::constant(set);
        }
        let pool = v.vessel.at(bench.target).pool(bench.water_l(), v.vessel.cover, bench.air);
        let from = if v.warming { bench.filled().c.min(set) } else { set };
        let run = pool.run(from, Some(set), &[bench.food.load(self.water())], LONGEST_MIN);
        let mut points = run;
        let settled = points.last().is_some_and(|p| (p.c - set).abs() < 1e-6);
        let flat = points.iter().all(|p| (p.c - set).abs() < WITHIN_K);
        if flat {
            return BathTrace::constant(set);
        }
        if settled {
            // From there on it is as set, whatever thinning takes off.
            let last = points[points.len() - 1].min;
            points.push(BathPoint { min: last + 1.0, c: set });
        }
        let thin = BathTrace::new(points).map_or_else(|_| BathTrace::constant(set), |t| t.thinned(WITHIN_K));
        if settled { thin.ending_at(set) } else { thin }
    }
}
