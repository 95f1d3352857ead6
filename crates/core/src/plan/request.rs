//! What was understood of a sentence: what is planned, and what is stored.

use crate::figures::{limits, routine};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{From, KitchenRules};
use crate::bath::usual_air;
use crate::bath::{
    self, BathPoint, BathTrace, Bench, Heat, Surroundings, Vessel, Water, boiling_c, usual_taps,
};
use crate::chill;
use crate::food::{FinishStep, Food, FoodClass, OwnFood, catalogue};
use crate::heat::{Detail, HeatError, Shape};
use crate::piece::{Around, Piece, Spreads, fastest, slow_and_fast, slowest};
use crate::prep::{Arrangement, Prep, salt};
use crate::safety::{Case, EggUse, FoodState, Parasites};
use crate::sear::ChosenFinish;
use crate::units::{Celsius, Kelvin, Length, Minutes, Thickness, Units, capitalised, shortened};

/// The food of a plan, found once: a value of this type always has one. An unknown identifier is refused
/// where a record or a sentence is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "FoodRecord", into = "FoodRecord")]
pub struct PlannedFood(Origin);

#[derive(Debug, Clone, PartialEq)]
enum Origin {
    Shipped(&'static Food),
    /// A plan stays what it was when the kitchen changes its food later.
    Own(Box<OwnFood>),
}

/// As it is stored.
#[derive(Clone, Serialize, Deserialize)]
struct FoodRecord {
    food: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    own: Option<OwnFood>,
}

impl PlannedFood {
    /// A food of the catalogue, or one of the kitchen's own that can be computed with.
    ///
    /// # Errors
    /// In words, with the name that is not known or the fields that cannot be taken.
    pub(crate) fn find(id: &str, own: Option<OwnFood>) -> Result<Self, String> {
        let Some(own) = own else {
            let food = catalogue().food(id);
            return food
                .map(|f| Self(Origin::Shipped(f)))
                .ok_or_else(|| format!("the food “{}” is not in the catalogue", shortened(id)));
        };
        if own.id != id {
            return Err(format!(
                "the food “{}” comes with the copy of another, “{}”",
                shortened(id),
                shortened(&own.id)
            ));
        }
        own.build().map_err(|errors| {
            let all: Vec<String> =
                errors.into_iter().map(|(field, text)| format!("{field}: {text}")).collect();
            format!("the food “{}”: {}", shortened(id), all.join(" "))
        })?;
        Ok(Self(Origin::Own(Box::new(own))))
    }

    /// The food.
    #[must_use]
    pub(crate) fn get(&self) -> &Food {
        match &self.0 {
            Origin::Shipped(food) => food,
            Origin::Own(own) => own.food().expect("built when it was found"),
        }
    }

    /// The kitchen's own, where it is one.
    #[must_use]
    pub(crate) fn own(&self) -> Option<&OwnFood> {
        match &self.0 {
            Origin::Shipped(_) => None,
            Origin::Own(own) => Some(own),
        }
    }
}

impl TryFrom<FoodRecord> for PlannedFood {
    type Error = String;
    fn try_from(record: FoodRecord) -> Result<Self, String> {
        Self::find(&record.food, record.own)
    }
}

impl std::convert::From<PlannedFood> for FoodRecord {
    fn from(food: PlannedFood) -> Self {
        Self { food: food.get().id.clone(), own: food.own().cloned() }
    }
}

/// The vessel of a plan, as it was when the plan was made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct InVessel {
    /// Which.
    pub id: Uuid,
    /// It.
    pub vessel: Vessel,
    /// All that goes in, kg.
    pub kg: f64,
    /// It goes in while the water still warms.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub warming: bool,
    /// How much too high the thermometer may read that it is read with, K.
    pub reads_high_k: Kelvin,
}

/// The guest a plan is for, as it must be known when nobody remembers them: by number. What they are called stands with the
/// kitchen's guests.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ServedTo {
    /// Which.
    pub guest: Uuid,
    /// By number.
    pub number: u32,
    /// What they must not eat.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub avoids: Vec<String>,
}

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
    #[serde(default, skip_serializing_if = "Prep::is_default")]
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

    /// What glass should be warmed to that is too cold for this bath, °C; `None` where none is.
    #[must_use]
    pub(crate) fn glass_to_warm_to_c(&self) -> Option<Celsius> {
        let shock = routine().jar_shock_k.kelvin();
        let cold = self.glass_c.filter(|glass| self.bath_c - *glass > shock);
        cold.map(|_| (self.bath_c - shock).ceil(Kelvin::new(1.0)))
    }

    /// How far the thickness may be off, mm.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert_eq!(request.spread_mm(), Length::from_mm(2.0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn spread_mm(&self) -> Length {
        let sure = self.food().thickness_mm.spread.unwrap_or(self.rules.thickness_spread_mm);
        if self.unsure { (sure * UNSURE_FACTOR).max(self.thickness_mm * UNSURE_SHARE) } else { sure }
    }

    /// The shape it is solved as, at a thickness.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// # use hold_steady_core::heat::Shape;
    /// assert_eq!(request.shape(Length::from_mm(30.0)), Shape::Slab(Length::from_mm(30.0)));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn shape(&self, thickness_mm: Length) -> Shape {
        if let Some(fill) = self.fill_ml {
            return jar_shape(thickness_mm, fill);
        }
        match self.prep.arranged() {
            _ if !self.food().sizes.is_empty() => {}
            Arrangement::Apart => {}
            // No water between them: heat comes in from above and below only.
            Arrangement::Touching => return Shape::Slab(thickness_mm),
            Arrangement::Stacked => return Shape::Slab(thickness_mm * 2.0),
        }
        match (self.food().shape.as_str(), self.width_mm, self.length_mm) {
            ("block", Some(w), Some(l)) => {
                let mut sides = [thickness_mm, w, l];
                sides.sort_by(Length::total_cmp);
                Shape::Block { thickness: sides[0], width: sides[1], length: sides[2] }
            }
            ("cylinder", ..) => Shape::Cylinder(thickness_mm),
            ("sphere", ..) => Shape::Sphere(thickness_mm),
            // Also a block whose sides nobody gave: the slab is the slow, safe side.
            _ => Shape::Slab(thickness_mm),
        }
    }

    /// What is done to it after the bath, for this piece: the minutes in ice are computed.
    ///
    /// # Errors
    /// When that simulation fails.
    pub(crate) fn finishing(&self) -> Result<Finishing, HeatError> {
        let finish = self.food().finish();
        let mut steps = finish.steps.clone();
        let Some((_, before)) = finish.chill() else {
            let minutes = finish.minutes();
            return Ok(Finishing { steps, warm_min: minutes, chilled_in_time: None, chosen: None });
        };
        let how = chill::cooled_in("ice-bath", self.food(), self.shape(self.thickness_mm), self.bath_c);
        let done = how.judge(&how.run(chill::LONGEST_COOLING_MIN)?);
        let ice = steps.iter_mut().find(|s| s.chills);
        if let (Some(ice), Some(min)) = (ice, done.to_5_min) {
            ice.min = min.ceil();
        }
        Ok(Finishing { steps, warm_min: before, chilled_in_time: Some(done.in_time), chosen: None })
    }

    /// What was said of it and of the guests.
    fn case(&self) -> Case {
        let food = self.food();
        let prepared = self.prepared == Some(true);
        // What is boiled or scalded first is still raw; the others were pasteurised and chilled.
        let first_step = matches!(food.class, FoodClass::KidneyBean | FoodClass::Ferment);
        let state = if prepared && !first_step { FoodState::PasteurizedChilled } else { FoodState::Raw };
        Case {
            intact: self.counts_as_intact(),
            at_risk: self.at_risk,
            state,
            prepared: prepared && first_step,
            egg_use: self.egg_use.unwrap_or_default(),
            out_unsaid: self.out().1,
            ..Case::of(food).with_parasites(self.parasites.unwrap_or_default(), food.traits.exempt)
        }
    }

    /// How far each input may be off.
    #[must_use]
    pub(crate) fn spreads(&self) -> Spreads {
        let start = self.from.start();
        let stacked = self.fill_ml.is_none() && self.prep.arranged() == Arrangement::Stacked;
        Spreads {
            // Two pieces, each off by as much.
            thickness_mm: self.spread_mm() * if stacked { 2.0 } else { 1.0 },
            bath_k: self.rules.bath_spread_k,
            start_c: (
                Celsius::new(self.as_glass_lets(start.slow_c)),
                Celsius::new(self.as_glass_lets(start.fast_c)),
            ),
            coefficient: self.surface().ends_w_m2k(),
            ..Spreads::default()
        }
    }

    /// Glass colder than its filling draws heat from it first.
    fn as_glass_lets(&self, start_c: Celsius) -> f64 {
        self.glass_c.map_or(start_c.value(), |g| g.min(start_c).value())
    }

    /// The piece at the middle of its spreads, `thickness_mm` thick, eaten `after_min` after the pull.
    fn piece(&self, thickness_mm: Length, after_min: Minutes) -> Piece<'_> {
        let food = self.food();
        let start = self.from.start();
        let bath = self.water_trace();
        Piece {
            detail: Detail::Page,
            coefficient: self.surface().w_m2k,
            case: self.case(),
            around: Around {
                out_min: Minutes::new(self.out().0),
                out_c: start.fast_c,
                waited_min: Minutes::new(0.0),
                after_min,
                afloat: None,
            },
            profile: self.rules.profile,
            takes_load: self.vessel.is_some(),
            reads_high_k: self.reads_high(),
            boils_c: Celsius::new(boiling_c(self.rules.altitude_m)),
            ..Piece::new(
                food,
                self.shape(thickness_mm),
                Celsius::new(self.as_glass_lets(start.nominal_c)),
                bath,
            )
        }
    }

    /// The piece at the slow end of its spreads, in the middle and at the fast end, eaten `after_min` after the
    /// pull. An uneven piece is slow at its thick end and fast at its thin one.
    ///
    /// # Errors
    /// When a simulation fails.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// let pieces = request.pieces(Minutes::new(10.0))?;
    /// assert!(pieces.slow.run(&[])?.done_min() > pieces.fast.run(&[])?.done_min());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn pieces(&self, after_min: Minutes) -> Result<Pieces<'_>, HeatError> {
        let middle = self.piece(self.thickness_mm, after_min);
        let spreads = self.spreads();
        let (slow, fast) = slow_and_fast(&middle, &spreads)?;
        let thin = self.thin_mm.map(|thin| self.piece(thin, after_min));
        let fast = match &thin {
            Some(thin) => slow_and_fast(thin, &spreads)?.1,
            None => fast,
        };
        let fastest = fastest(thin.as_ref().unwrap_or(&middle), &spreads);
        let slowest = slowest(&middle, &spreads);
        Ok(Pieces { slow, middle, fast, slowest, fastest })
    }
}

/// What is done to a piece after the bath.
#[derive(Debug, Clone, PartialEq)]
pub struct Finishing {
    /// Its steps, in order.
    pub steps: Vec<FinishStep>,
    /// Minutes it stays warm after the pull: until it is eaten, or goes into the ice.
    pub warm_min: Minutes,
    /// Where it is chilled: whether that keeps the two-stage rule.
    pub chilled_in_time: Option<bool>,
    /// How it is seared, where that was chosen.
    pub chosen: Option<ChosenFinish>,
}

impl Finishing {
    /// The same with the finish that was chosen. No verdict gets better by a shorter one.
    #[must_use]
    pub(crate) fn finished_by(self, chosen: Option<&ChosenFinish>) -> Self {
        let Some(chosen) = chosen.filter(|_| self.steps.iter().any(|s| s.id == "sear")) else { return self };
        let steps = chosen.steps(&self.steps);
        let minutes: Minutes = steps.iter().map(|s| s.min).sum();
        Self { warm_min: self.warm_min.max(minutes), steps, chosen: Some(chosen.clone()), ..self }
    }

    /// From the pull until it is on the heat; `None` where nothing is seared.
    #[must_use]
    pub(crate) fn until_sear_min(&self) -> Option<Minutes> {
        let sear = self.steps.iter().position(|s| s.id == "sear")?;
        Some(self.steps[..sear].iter().map(|s| s.min).sum())
    }

    /// From the pull to the plate, minutes.
    #[must_use]
    pub(crate) fn minutes(&self) -> Minutes {
        self.steps.iter().map(|s| s.min).sum()
    }
}

/// A piece at the ends of its spreads.
#[derive(Debug, Clone)]
pub struct Pieces<'a> {
    /// Thicker, colder, in weaker water: for safety.
    pub slow: Piece<'a>,
    /// As stated.
    pub middle: Piece<'a>,
    /// Thinner, warmer: for texture.
    pub fast: Piece<'a>,
    /// Everything at its slow end at once: for what is offered instead.
    pub slowest: Piece<'a>,
    /// Everything at its fast end at once: for when its kill may have been reached first, where the water fell after it.
    pub fastest: Piece<'a>,
}

/// A filled jar: an endless bar as wide as the jar, or, for a shallow filling, a slab heated from below
/// only; whichever warms sooner, for both leave out the other's way in. The glass counts as filling, which
/// conducts worse and holds more heat than it.
fn jar_shape(inside_mm: Length, fill_ml: f64) -> Shape {
    // First roots of the cylinder and the slab held at a temperature: R²/5.78 against L²/2.47.
    const CYLINDER: f64 = 5.78;
    const SLAB: f64 = 2.47;
    let wall = routine().jar_wall_mm.length();
    let across = inside_mm + wall * 2.0;
    let area_mm2 = std::f64::consts::FRAC_PI_4 * inside_mm.mm().powi(2);
    let deep = Length::from_mm(fill_ml * 1000.0 / area_mm2) + wall;
    let (round, flat) = ((across / 2.0).mm().powi(2) / CYLINDER, deep.mm().powi(2) / SLAB);
    if flat < round { Shape::Slab(deep * 2.0) } else { Shape::Cylinder(across) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_shallow_jar_warms_from_below_and_a_tall_one_from_its_side() {
        // 100 ml in a jar 100 mm across stand 12.7 mm high.
        let Shape::Slab(flat) = jar_shape(Length::from_mm(100.0), 100.0) else { panic!("shallow") };
        assert!((flat.mm() - 2.0 * (12.732 + 3.0)).abs() < 0.01, "{}", flat.mm());
        let Shape::Cylinder(tall) = jar_shape(Length::from_mm(60.0), 200.0) else { panic!("tall") };
        assert_eq!(tall.mm(), 66.0);
    }
}
