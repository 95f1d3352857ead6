//! The piece of a plan as it is simulated.

use super::PlanRequest;
use crate::bath::boiling_c;
use crate::chill;
use crate::figures::routine;
use crate::food::{FinishStep, FoodClass};
use crate::heat::{Detail, HeatError, Shape};
use crate::piece::{Around, Piece, Spreads, fastest, slow_and_fast, slowest};
use crate::plan::request::{UNSURE_FACTOR, UNSURE_SHARE};
use crate::prep::Arrangement;
use crate::safety::{Case, FoodState};
use crate::sear::ChosenFinish;
use crate::units::{Celsius, Kelvin, Length, Minutes};

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
pub(super) fn jar_shape(inside_mm: Length, fill_ml: f64) -> Shape {
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

impl PlanRequest {
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
    pub(super) fn case(&self) -> Case {
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
    pub(super) fn piece(&self, thickness_mm: Length, after_min: Minutes) -> Piece<'_> {
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
