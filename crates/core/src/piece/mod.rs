//! One piece of food in one bath: heat and safety put together.
//!
//! A [`Piece`] says what goes in; [`Piece::run`] simulates it to the end of the longest cook; the
//! [`Run`] then answers for any instant, so that "what if I am late?" costs no new simulation.

mod inverse;
mod run;
mod uncertainty;

pub use inverse::{Fit, Unknown, fit, greatest_thickness_mm, lowest_bath_c, slower};
pub use run::{Run, Span};
pub use uncertainty::{Outcome, Percentiles, Place, Quantiles, Spreads, monte_carlo, slow_and_fast, slowest};

use crate::figures::limits;
use std::sync::Arc;

use crate::bath::{BathTrace, boiling_c};
use crate::food::Food;
use crate::heat::{Detail, HeatError, Material, Shape, Surface, simulate_shape};
use crate::safety::{Case, CodeProfile, Coldest, GrowthWatch, Rules, Timeline, organisms, profiles};
use crate::units::{Celsius, Kelvin, Length, Minutes};

/// Longest cook that is simulated, minutes: 96 h.
pub const LONGEST_MIN: Minutes = Minutes::from_hours(96.0);

/// Where a piece was before the bath and will be after it: minutes that count where bacteria grow.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Around {
    /// Minutes it stood out of the refrigerator.
    pub out_min: Minutes,
    /// How warm it was then, °C.
    pub out_c: Celsius,
    /// Minutes between the cold and the bath after that, such as afloat. How warm it was then nobody knows,
    /// so they count on every clock.
    pub waited_min: Minutes,
    /// Minutes from the pull until it is eaten.
    pub after_min: Minutes,
    /// When it last floated, minutes in the water, and for how long in all: those minutes are among the waited ones, and
    /// count since the kill too where it had come before.
    pub afloat: Option<(Minutes, Minutes)>,
}

/// One piece of food and the bath it goes into.
#[derive(Debug, Clone)]
pub struct Piece<'a> {
    /// The food.
    pub food: &'a Food,
    /// What it conducts and stores.
    pub material: Arc<Material>,
    /// Shape and thickness, as stated.
    pub shape: Shape,
    /// How much thicker than that it is taken to be, mm: an end of the spreads.
    pub thicker_mm: Length,
    /// How fine a mesh it is solved on.
    pub detail: Detail,
    /// Temperature throughout when it goes in, °C.
    pub start_c: Celsius,
    /// The bath as set or as read, its instrument's error already taken off: the gates of the rules are
    /// tested on it. Its last temperature is the set point.
    pub bath: BathTrace,
    /// What the gates are asked of, where that is not the water at each instant: the mean of the last hour of a bath whose
    /// readings agree with its setting.
    pub gate: Option<BathTrace>,
    /// The bath is a setting that drops when the piece goes in and recovers; set otherwise it does the same.
    pub takes_load: bool,
    /// That error, K: what the bath's instrument reads too high.
    pub reads_high_k: Kelvin,
    /// How far the water that heats it is off from that, K: an end of the spreads. It moves times, never gates.
    pub bath_off_k: Kelvin,
    /// Coefficient of heat transfer at the surface, W/m²K.
    pub coefficient: f64,
    /// What was said of it and of the guests, and what its food is.
    pub case: Case,
    /// Before and after the bath.
    pub around: Around,
    /// The code the kitchen works by.
    pub profile: &'a CodeProfile,
    /// Where water boils in this kitchen, °C: no hotter bath is proposed.
    pub boils_c: Celsius,
}

impl<'a> Piece<'a> {
    /// A raw piece in a circulated bath (an egg bare, the rest in their bags), judged by the default code,
    /// nobody at risk. It counts as pierced until [`Case::intact`] says otherwise.
    ///
    /// ```
    /// use hold_steady_core::bath::BathTrace;
    /// use hold_steady_core::food::catalogue;
    /// use hold_steady_core::heat::Shape;
    /// use hold_steady_core::piece::Piece;
    /// use hold_steady_core::units::{Celsius, Length};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let piece = Piece::new(strip, Shape::Slab(Length::from_mm(25.0)), Celsius::new(5.0), BathTrace::constant(55.0));
    /// let run = piece.run(&[])?;
    /// assert!(run.pasteurised_from_min() > run.heated_through_min());
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn new(food: &'a Food, shape: Shape, start_c: Celsius, bath: BathTrace) -> Self {
        Self {
            food,
            material: food.material(),
            shape,
            thicker_mm: Length::ZERO,
            detail: Detail::Fine,
            start_c,
            bath,
            gate: None,
            takes_load: false,
            reads_high_k: Kelvin::ZERO,
            bath_off_k: Kelvin::ZERO,
            coefficient: food.surface().w_m2k,
            case: Case::of(food),
            around: Around::default(),
            profile: &profiles()[0],
            boils_c: Celsius::new(boiling_c(0.0)),
        }
    }

    /// The set point less the instrument's stated error, °C.
    #[must_use]
    pub(crate) fn set_c(&self) -> Celsius {
        Celsius::new(self.bath.set_point())
    }

    /// The same piece thicker by `mm` (never thinner than a millimetre) in water warmer by `kelvin` than it
    /// is taken to be. The gates of the rules stay where they are.
    #[must_use]
    pub(crate) fn spread(&self, mm: Length, kelvin: Kelvin) -> Self {
        Self { thicker_mm: self.thicker_mm + mm, bath_off_k: self.bath_off_k + kelvin, ..self.clone() }
    }

    /// The shape it is solved as.
    #[must_use]
    pub(crate) fn solved_shape(&self) -> Shape {
        self.shape.grown(self.thicker_mm.mm())
    }

    /// The same piece cut to another thickness.
    #[must_use]
    pub(crate) fn cut_to(&self, mm: Length) -> Self {
        Self { shape: self.shape.with_thickness(mm), ..self.clone() }
    }

    /// The same piece in a bath set to `set_c` on its own instrument, and held there: one that takes the load as this
    /// one does, where that is known.
    #[must_use]
    pub(crate) fn set_to(&self, set_c: Celsius) -> Self {
        let c = (set_c - self.reads_high_k).value();
        let bath = if self.takes_load {
            self.bath.shifted(c - self.bath.set_point())
        } else {
            BathTrace::constant(c)
        };
        Self { bath, gate: None, ..self.clone() }
    }

    /// What the instrument of its bath shows at the end, °C.
    #[must_use]
    pub(crate) fn shown_c(&self) -> Celsius {
        self.set_c() + self.reads_high_k
    }

    /// Minutes before the bath on the raw clock, on the warming limit's clock and in the warmest range: a
    /// piece that stood where it does not count (in ice, in the refrigerator) adds none.
    pub(crate) fn before_min(&self) -> (Minutes, Minutes, Minutes) {
        let (l, around) = (limits(), self.around);
        let stood = |counts: bool| if counts { around.out_min } else { Minutes::ZERO };
        let margin = l.warm_margin_k.kelvin();
        let warm =
            (l.warm_low_c.celsius() - margin..=l.warm_high_c.celsius() + margin).contains(&around.out_c);
        (
            around.waited_min + stood(around.out_c >= l.zone_low_c.celsius()),
            around.waited_min + stood(around.out_c >= l.come_up_low_c.celsius()),
            around.waited_min + stood(warm),
        )
    }

    /// Simulates to [`LONGEST_MIN`], with temperature profiles at the given minutes.
    ///
    /// # Errors
    /// When the simulation fails; see [`HeatError`].
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// assert!(piece.run(&[])?.done_min() < Some(Minutes::new(75.0)));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn run(&self, snapshots_min: &[Minutes]) -> Result<Run<'_>, HeatError> {
        self.run_until(LONGEST_MIN, snapshots_min)
    }

    /// Simulates to `until_min` only: what comes later is not known to the [`Run`].
    ///
    /// # Errors
    /// When the simulation fails; see [`HeatError`].
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// assert_eq!(piece.run_until(Minutes::new(30.0), &[])?.done_min(), None, "not so soon");
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn run_until(&self, until_min: Minutes, snapshots_min: &[Minutes]) -> Result<Run<'_>, HeatError> {
        let table = self.profile.table(self.food);
        let mut gates = vec![limits().lowest_hold_c.value];
        gates.extend(table.as_ref().map(|t| t.gate_c(limits())));
        let gate = self.gate.as_ref().unwrap_or(&self.bath).with_passings(&gates);
        // No step of the solver goes over a passing of a gate: there a rate begins or ends.
        let passed = gate.points().iter().filter(|p| gates.contains(&p.c)).map(|p| p.min);
        let water = self.bath.with_passings(&gates).with_minutes(passed);
        let surface = Surface { coefficient: self.coefficient, bath: water.shifted(self.bath_off_k.value()) };
        let snapshots: Vec<f64> = snapshots_min.iter().map(|m| m.seconds()).collect();
        let mut watch = GrowthWatch::new(limits(), &gate);
        let (solution, from_centre_m) = simulate_shape(
            (self.solved_shape(), self.detail),
            &self.material,
            self.start_c.value(),
            surface,
            until_min.seconds(),
            &snapshots,
            &mut watch,
        )?;
        let rules = Rules {
            limits: limits(),
            organisms: organisms(&self.food.kill),
            table: table.as_ref(),
            gate: &gate,
            at_risk: self.case.at_risk,
        };
        let (clocks, cells) = watch.finish_with_coldest();
        let coldest = Coldest::layers(&solution.core, &solution.surface, &cells);
        let timeline = Timeline::new(&coldest, &rules);
        let marks = run::Marks::new(self, &gate, &coldest, &clocks, &timeline);
        Ok(Run::new(self, gate, solution, (timeline, clocks, marks), from_centre_m))
    }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::food::catalogue;
    use crate::safety::Level;

    fn pierced(piece: Piece<'static>) -> Piece<'static> {
        Piece { case: Case { intact: false, ..piece.case }, ..piece }
    }

    /// An intact piece from the refrigerator, no guest at risk, Food Code.
    pub(crate) fn piece(food: &str, mm: f64, bath_c: f64) -> Piece<'static> {
        let food = catalogue().food(food).expect("in the catalogue");
        let shape = Shape::Slab(Length::from_mm(mm));
        let piece = Piece::new(food, shape, Celsius::new(5.0), BathTrace::constant(bath_c));
        Piece { case: Case { intact: true, ..piece.case }, ..piece }
    }

    fn way_out(p: &Piece<'_>, min: f64) -> crate::safety::WayOut {
        let run = p.run(&[]).expect("a plain piece");
        let v = run.verdict_at(Minutes::new(min)).expect("a plain piece");
        assert_ne!(v.level, Level::Pasteurized);
        v.way_out.expect("not pasteurised")
    }

    #[test]
    fn every_way_out_offered_leads_out_and_only_just() {
        let p = pierced(piece("beef-strip", 25.0, 55.0));
        let w = way_out(&p, 130.0);
        let until = w.until_min.expect("the bath is hot enough");
        let level = |p: &Piece<'_>, min| p.run(&[]).expect("a plain piece").quick_verdict_at(min).level;
        assert_eq!(level(&p, until), Level::Pasteurized);
        assert_eq!(level(&p, until - Minutes::new(1.0)), Level::Refused);
        let bath = w.bath_c.expect("a hotter bath does it in time");
        assert_eq!(level(&p.set_to(bath), Minutes::new(130.0)), Level::Pasteurized);
        assert_eq!(level(&p.set_to(bath - Kelvin::new(0.15)), Minutes::new(130.0)), Level::Refused);
        let thin = piece("beef-strip", w.thickness_mm.expect("a thinner one too").mm(), 55.0);
        assert!(thin.shape.half_thickness_m() * 2000.0 < 25.0);
        assert_eq!(level(&pierced(thin), Minutes::new(130.0)), Level::Pasteurized);
    }

    #[test]
    fn a_cold_bath_is_sent_to_the_first_row_of_the_tables_and_to_the_clock() {
        let w = way_out(&piece("beef-strip", 30.0, 51.5), 360.0);
        assert_eq!(w.until_min, None);
        let latest = w.no_later_than_min.expect("intact, nobody at risk");
        assert!((230.0..=240.0).contains(&latest.value()), "{latest:?}");
        assert!(w.bath_c.is_some_and(|c| (54.4..55.5).contains(&c.value())), "{:?}", w.bath_c);
        let text = crate::words::way_out(&w, crate::units::Units::default());
        assert!(text.contains("54."), "{text}");
    }
}
