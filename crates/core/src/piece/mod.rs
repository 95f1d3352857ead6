//! One piece of food in one bath: heat and safety put together.
//!
//! A [`Piece`] says what goes in; [`Piece::run`] simulates it to the end of the longest cook; the
//! [`Run`] then answers for any instant, so that "what if I am late?" costs no new simulation.

mod inverse;
mod uncertainty;

pub use inverse::{Fit, Unknown, fit, greatest_thickness_mm, lowest_bath_c};
pub use uncertainty::{Band, Outcome, Quantiles, Spreads, bounds, monte_carlo};

use std::sync::Arc;

use crate::bath::BathTrace;
use crate::food::{Food, FoodClass};
use crate::heat::{Detail, HeatError, Material, Shape, Solution, Surface, simulate_shape};
use crate::safety::{
    EggUse, Facts, FoodState, Level, Limit, Parasites, Profile, Progress, Rules, Timeline, Verdict, judge,
    limits, organisms, profiles,
};
use crate::units::{Length, Units};

/// Longest cook that is simulated, minutes: 96 h.
pub const LONGEST_MIN: f64 = 96.0 * 60.0;

/// One piece of food and the bath it goes into.
#[derive(Debug, Clone)]
pub struct Piece<'a> {
    /// The food.
    pub food: &'a Food,
    /// What it conducts and stores.
    pub material: Arc<Material>,
    /// Shape and thickness.
    pub shape: Shape,
    /// How fine a mesh it is solved on.
    pub detail: Detail,
    /// Temperature throughout when it goes in, °C.
    pub start_c: f64,
    /// The bath as it is taken to be, its instrument's error already taken off.
    pub bath: BathTrace,
    /// The set point the gates of the rules are tested on, °C. Spreads move [`Self::bath`], never
    /// this.
    pub set_c: f64,
    /// Coefficient of heat transfer at the surface, W/m²K.
    pub coefficient: f64,
    /// Whole muscle, never pierced.
    pub intact: bool,
    /// A guest is at risk.
    pub at_risk: bool,
    /// Raw, or pasteurised and chilled before.
    pub state: FoodState,
    /// Meant to stand on a shelf.
    pub for_shelf: bool,
    /// What was done about parasites in fish.
    pub parasites: Parasites,
    /// What an egg is for.
    pub egg_use: EggUse,
    /// The code the kitchen works by.
    pub profile: &'a Profile,
    /// Factor on every D-value: the uncertainty of the kinetics. One is as published.
    pub d_factor: f64,
    /// Minutes on the growth clock before the drop.
    pub clock_before_min: f64,
    /// Minutes on the growth clock from the pull until it is eaten.
    pub clock_after_min: f64,
}

impl<'a> Piece<'a> {
    /// A raw piece in a circulated bath (an egg bare, the rest in their bags), judged by the default code, nobody at risk. It counts as pierced
    /// until [`Self::intact`] says otherwise.
    ///
    /// ```
    /// use hold_steady_core::bath::BathTrace;
    /// use hold_steady_core::food::catalogue;
    /// use hold_steady_core::heat::Shape;
    /// use hold_steady_core::piece::Piece;
    /// use hold_steady_core::units::Length;
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let piece = Piece::new(strip, Shape::Slab(Length::from_mm(25.0)), 5.0, BathTrace::constant(55.0));
    /// let run = piece.run(&[])?;
    /// assert!(run.pasteurised_from_min() > run.heated_through_min());
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn new(food: &'a Food, shape: Shape, start_c: f64, bath: BathTrace) -> Self {
        Self {
            food,
            material: food.material(),
            shape,
            detail: Detail::Fine,
            start_c,
            set_c: bath.set_point(),
            bath,
            coefficient: food.surface().w_m2k,
            intact: false,
            at_risk: false,
            state: FoodState::Raw,
            for_shelf: false,
            parasites: Parasites::None,
            egg_use: EggUse::Raw,
            profile: &profiles()[0],
            d_factor: 1.0,
            clock_before_min: 0.0,
            clock_after_min: 0.0,
        }
    }

    /// The same piece thicker by `mm` (never thinner than a millimetre) in a bath warmer by `kelvin`:
    /// one end of the stated spreads. The gates of the rules stay where they are.
    #[must_use]
    pub fn spread(&self, mm: f64, kelvin: f64) -> Self {
        Self { shape: self.shape.grown(mm), bath: self.bath.shifted(kelvin), ..self.clone() }
    }

    /// The same piece cut to another thickness.
    #[must_use]
    pub fn cut_to(&self, mm: f64) -> Self {
        Self { shape: self.shape.with_thickness(Length::from_mm(mm)), ..self.clone() }
    }

    /// The same piece in a bath set `kelvin` higher, gates and all.
    #[must_use]
    pub fn hotter(&self, kelvin: f64) -> Self {
        Self { bath: self.bath.shifted(kelvin), set_c: self.set_c + kelvin, ..self.clone() }
    }

    /// Simulates to [`LONGEST_MIN`], with temperature profiles at the given minutes.
    ///
    /// # Errors
    /// When the simulation fails; see [`HeatError`].
    pub fn run(&self, snapshots_min: &[f64]) -> Result<Run<'_>, HeatError> {
        self.run_until(LONGEST_MIN, snapshots_min)
    }

    /// Simulates to `until_min` only: what comes later is not known to the [`Run`].
    ///
    /// # Errors
    /// When the simulation fails; see [`HeatError`].
    pub fn run_until(&self, until_min: f64, snapshots_min: &[f64]) -> Result<Run<'_>, HeatError> {
        let surface = Surface { coefficient: self.coefficient, bath: self.bath.clone() };
        let snapshots: Vec<f64> = snapshots_min.iter().map(|m| m * 60.0).collect();
        let (solution, from_centre_m) = simulate_shape(
            (self.shape, self.detail),
            &self.material,
            self.start_c,
            surface,
            until_min * 60.0,
            &snapshots,
        )?;
        let table = self.profile.table(self.food);
        let rules = Rules {
            limits: limits(),
            organisms: organisms(&self.food.kill),
            table: table.as_ref(),
            set_c: self.set_c,
            at_risk: self.at_risk,
            d_factor: self.d_factor,
        };
        let timeline = Timeline::coldest(&solution.core, &solution.surface, &rules);
        Ok(Run { piece: self, solution, timeline, from_centre_m })
    }
}

/// A simulated piece.
#[derive(Debug, Clone)]
pub struct Run<'a> {
    piece: &'a Piece<'a>,
    /// Temperatures.
    pub solution: Solution,
    /// Kill, code and clock.
    pub timeline: Timeline,
    /// Where the cells of the profiles are, metres from the thermal centre.
    pub from_centre_m: Vec<f64>,
}

impl Run<'_> {
    /// When the centre is within 0.5 °C of the bath's last temperature, minutes.
    #[must_use]
    pub fn heated_through_min(&self) -> Option<f64> {
        self.within_min(limits().through_within_k.value)
    }

    /// When the centre is as near the bath's last temperature as this food is pulled at, minutes.
    #[must_use]
    pub fn done_min(&self) -> Option<f64> {
        self.within_min(self.piece.food.within_k.value)
    }

    fn within_min(&self, kelvin: f64) -> Option<f64> {
        let last = self.piece.bath.set_point();
        self.solution.core.first(0.0, |c| (c - last).abs() <= kelvin).map(|s| s / 60.0)
    }

    /// From when on the verdict is for every guest, minutes: pasteurised, or reheated in time, or exempt.
    #[must_use]
    pub fn safe_from_min(&self) -> Option<f64> {
        self.first_min(0.0, |level| matches!(level, Level::Pasteurized | Level::Exempt))
    }

    /// The first minute, from `from` on, at which the verdict's level is one of those wanted. Looked for
    /// at the instants at which a verdict can turn for the better.
    #[must_use]
    pub fn first_min(&self, from: f64, wanted: impl Fn(Level) -> bool) -> Option<f64> {
        // Just after the turn, so that rounding cannot put it back.
        const AFTER_MIN: f64 = 0.01;
        let l = limits();
        let core = &self.solution.core;
        let reached = |c: f64, seconds: f64| core.first(0.0, |t| t >= c).map(|s| (s + seconds) / 60.0);
        let held = |c: &Limit, s: &Limit| reached(c.value, s.value);
        let by_class = match self.piece.food.class {
            FoodClass::Pork => held(&l.pork_core_c, &l.pork_core_s),
            FoodClass::Fish => held(&l.fish_core_c, &l.fish_core_s),
            FoodClass::Bivalve => held(&l.bivalve_c, &l.bivalve_s),
            FoodClass::Crustacean | FoodClass::ShellEgg => self.within_min(l.near_bath_k.value),
            _ => None,
        };
        let turns = [by_class, self.pasteurised_from_min()];
        let mut at: Vec<f64> =
            turns.into_iter().flatten().map(|m| m + AFTER_MIN).filter(|m| *m > from).collect();
        at.push(from);
        at.sort_by(f64::total_cmp);
        at.into_iter().find(|m| wanted(self.quick_verdict_at(*m, Units::default()).level))
    }

    /// How far the kill (and the code's table) has come by a minute: the share of the slowest target,
    /// from 0 to 1.
    #[must_use]
    pub fn kill_share(&self, min: f64) -> f64 {
        let progress = self.progress(min);
        let organisms = organisms(&self.piece.food.kill);
        let shares = organisms.iter().zip(&progress.log10).map(|(o, log)| log / o.target(self.piece.at_risk));
        shares.chain(progress.code).fold(1.0, f64::min)
    }

    /// When every organism's target is reached, minutes.
    #[must_use]
    pub fn kinetics_min(&self) -> Option<f64> {
        self.timeline.kinetics_reached_s().map(|s| s / 60.0)
    }

    /// When the code's table is met, minutes.
    #[must_use]
    pub fn code_min(&self) -> Option<f64> {
        self.timeline.code_reached_s().map(|s| s / 60.0)
    }

    /// From when on the verdict is `pasteurized`, minutes: kinetics and table reached, bath hot
    /// enough, warmed in time.
    #[must_use]
    pub fn pasteurised_from_min(&self) -> Option<f64> {
        if self.piece.set_c < limits().lowest_hold_c.value {
            return None;
        }
        let kinetics = self.kinetics_min()?;
        let from = if self.has_table() { kinetics.max(self.code_min()?) } else { kinetics };
        let come_up = self.timeline.at(from * 60.0).come_up_min;
        (come_up <= limits().come_up_limit_min.value).then_some(from)
    }

    /// Temperature of the centre at a minute, °C.
    #[must_use]
    pub fn core_c(&self, min: f64) -> f64 {
        self.solution.core.at(min * 60.0)
    }

    /// What has accumulated by a minute.
    #[must_use]
    pub fn progress(&self, min: f64) -> Progress {
        self.timeline.at(min * 60.0)
    }

    /// Minutes on the growth clock until eaten, for a pull at a minute.
    #[must_use]
    pub fn clock_until_eaten_min(&self, min: f64) -> f64 {
        self.piece.clock_before_min + self.progress(min).clock_min + self.piece.clock_after_min
    }

    /// The latest pull that keeps the growth clock within its limit, minutes; `None` when it never
    /// runs out.
    #[must_use]
    pub fn clock_runs_out_min(&self) -> Option<f64> {
        let already = self.piece.clock_before_min + self.piece.clock_after_min;
        self.timeline.clock_passes_s(already, limits().clock_limit_min.value).map(|s| s / 60.0)
    }

    /// Whether the kitchen's code has a time table for this food.
    #[must_use]
    pub fn has_table(&self) -> bool {
        self.piece.profile.has_table(self.piece.food)
    }

    /// Whether the centre has been at `c` °C or more for `seconds` on end by a minute.
    #[must_use]
    pub fn held(&self, c: f64, seconds: f64, by_min: f64) -> bool {
        let core = &self.solution.core;
        let (mut from, until) = (0.0, by_min * 60.0);
        while let Some(begun) = core.first_until(from, until - seconds, |t| t >= c) {
            match core.first_until(begun, begun + seconds, |t| t < c - 1e-6) {
                Some(ended) => from = ended,
                None => return true,
            }
        }
        false
    }

    fn facts(&self, min: f64) -> Facts {
        let progress = self.progress(min);
        let l = limits();
        let class = self.piece.food.class;
        // Looked for only where a row asks.
        let held = |asked: bool, c: &Limit, s: &Limit| asked && self.held(c.value, s.value, min);
        let reheated_min = (self.piece.state == FoodState::PasteurizedChilled)
            .then(|| self.solution.core.first_until(0.0, min * 60.0, |c| c >= l.reheat_core_c.value))
            .flatten()
            .map(|s| s / 60.0);
        Facts {
            class,
            intact: self.piece.intact,
            at_risk: self.piece.at_risk,
            state: self.piece.state,
            set_c: self.piece.set_c,
            kinetics_reached: progress.kinetics_reached,
            code_reached: self.has_table().then(|| self.code_min().is_some_and(|c| c <= min)),
            come_up_min: progress.come_up_min,
            clock_min: self.clock_until_eaten_min(min),
            bath_min: min,
            reheated_min,
            for_shelf: self.piece.for_shelf,
            parasites: self.piece.parasites,
            egg_use: self.piece.egg_use,
            bivalve_held: held(class == FoodClass::Bivalve, &l.bivalve_c, &l.bivalve_s),
            pork_held: held(class == FoodClass::Pork, &l.pork_core_c, &l.pork_core_s),
            fish_held: held(class == FoodClass::Fish, &l.fish_core_c, &l.fish_core_s),
            near_bath: self.core_c(min) >= self.piece.bath.set_point() - l.near_bath_k.value,
        }
    }

    /// The verdict for a pull at a minute, without the way out: cheap, for every point of a ribbon.
    #[must_use]
    pub fn quick_verdict_at(&self, min: f64, units: Units) -> Verdict {
        judge(&self.facts(min), limits(), units)
    }

    /// The verdict for a pull at a minute, with the way out computed by further simulations.
    ///
    /// # Errors
    /// When one of those fails.
    pub fn verdict_at(&self, min: f64, units: Units) -> Result<Verdict, HeatError> {
        let mut verdict = self.quick_verdict_at(min, units);
        verdict.way_out = inverse::find(self.piece, self, &verdict, min, units)?;
        Ok(verdict)
    }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::food::catalogue;
    use crate::safety::Level;

    /// An intact piece from the refrigerator, no guest at risk, Food Code.
    pub(crate) fn piece(food: &str, mm: f64, bath_c: f64) -> Piece<'static> {
        let food = catalogue().food(food).expect("in the catalogue");
        let shape = Shape::Slab(Length::from_mm(mm));
        Piece { intact: true, ..Piece::new(food, shape, 5.0, BathTrace::constant(bath_c)) }
    }

    fn way_out(p: &Piece<'_>, min: f64) -> crate::safety::WayOut {
        let run = p.run(&[]).expect("a plain piece");
        let v = run.verdict_at(min, Units::default()).expect("a plain piece");
        assert_ne!(v.level, Level::Pasteurized);
        v.way_out.expect("not pasteurised")
    }

    #[test]
    fn every_way_out_offered_leads_out_and_only_just() {
        let p = Piece { intact: false, ..piece("beef-strip", 25.0, 55.0) };
        let w = way_out(&p, 130.0);
        let until = w.until_min.expect("the bath is hot enough");
        let level = |p: &Piece<'_>, min| {
            p.run(&[]).expect("a plain piece").quick_verdict_at(min, Units::default()).level
        };
        assert_eq!(level(&p, until), Level::Pasteurized);
        assert_eq!(level(&p, until - 1.0), Level::Refused);
        let bath = w.bath_c.expect("a hotter bath does it in time");
        assert_eq!(level(&p.hotter(bath - 55.0), 130.0), Level::Pasteurized);
        assert_eq!(level(&p.hotter(bath - 55.0 - 0.15), 130.0), Level::Refused);
        let thin = piece("beef-strip", w.thickness_mm.expect("a thinner one too"), 55.0);
        assert!(thin.shape.half_thickness_m() * 2000.0 < 25.0);
        assert_eq!(level(&Piece { intact: false, ..thin }, 130.0), Level::Pasteurized);
    }

    #[test]
    fn a_cold_bath_is_sent_to_the_first_row_of_the_tables_and_to_the_clock() {
        let w = way_out(&piece("beef-strip", 30.0, 51.5), 360.0);
        assert_eq!(w.until_min, None);
        let latest = w.no_later_than_min.expect("intact, nobody at risk");
        assert!((230.0..=240.0).contains(&latest), "{latest}");
        assert!(w.bath_c.is_some_and(|c| (54.4..55.5).contains(&c)), "{:?}", w.bath_c);
        assert!(w.text.contains("54."), "{}", w.text);
    }
}
