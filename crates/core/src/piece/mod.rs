//! One piece of food in one bath: heat and safety put together.
//!
//! A [`Piece`] says what goes in; [`Piece::run`] simulates it to the end of the longest cook; the
//! [`Run`] then answers for any instant, so that "what if I am late?" costs no new simulation.

mod inverse;
mod run;
mod uncertainty;

pub use inverse::{Fit, Unknown, fit, greatest_thickness_mm, lowest_bath_c, slower};
pub use run::{Run, Span};
pub use uncertainty::{
    Outcome, Percentiles, Place, Quantiles, Spreads, fastest, monte_carlo, slow_and_fast, slowest,
};

use crate::figures::limits;
use std::sync::Arc;

use crate::bath::{BathTrace, boiling_c};
use crate::food::{Food, FoodClass};
use crate::heat::{Detail, HeatError, Material, Shape, Surface, simulate_shape};
use crate::safety::{
    Case, CodeProfile, Coldest, FoodState, GrowthWatch, Rules, Timeline, organisms, profiles,
};
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

    /// The same piece with its water between two minutes in longer strides where it is calm; gates are asked of it as it was.
    #[must_use]
    pub(crate) fn calmed(self, between: (Minutes, Minutes)) -> Self {
        let (from, until) = (between.0.value(), between.1.value());
        let bath = self.bath.calmed((from, until), &self.edges_c());
        if bath == self.bath {
            return self;
        }
        Self { gate: self.gate.or(Some(self.bath)), bath, ..self }
    }

    /// The temperatures at which something begins or ends for it, °C.
    fn edges_c(&self) -> Vec<f64> {
        let (l, table) = (limits(), self.profile.table(self.food));
        let (core, bath) = self.case.shellfish(l);
        let mut edges = vec![
            l.zone_low_c.value,
            l.come_up_low_c.value,
            l.warm_low_c.value - l.warm_margin_k.value,
            l.warm_high_c.value + l.warm_margin_k.value,
            l.lowest_hold_c.value,
            l.no_kill_below_c.value,
        ];
        edges.extend(self.case.class.may_be_cooked_whole().then(|| self.case.cooked(l).0.value));
        edges.extend((self.case.state == FoodState::PasteurizedChilled).then(|| self.case.reheat(l).value));
        match self.case.class {
            FoodClass::Fish => edges.push(l.fish_core_c.value),
            FoodClass::Bivalve => edges.push(l.bivalve_c.value),
            FoodClass::Crustacean => edges.extend([core.value, bath.value]),
            FoodClass::ShellEgg => edges.extend([l.egg_core_c.value, l.egg_bath_c.value, l.egg_held_c.value]),
            FoodClass::Ferment => edges.extend([l.ferment_low_c.value, l.ferment_high_c.value]),
            FoodClass::Beef
            | FoodClass::Lamb
            | FoodClass::Ground
            | FoodClass::Pork
            | FoodClass::Duck
            | FoodClass::Poultry
            | FoodClass::EggMixture
            | FoodClass::KidneyBean
            | FoodClass::Plant => {}
        }
        edges.extend(table.as_ref().map(|t| t.gate_c(l)));
        edges.extend(table.as_ref().map(|t| t.first_row_c() - l.table_reach_k.value));
        edges
    }

    /// From when on nothing more is earned in its water as far as that is known, so that longer strides change no answer;
    /// `known` where something still is.
    ///
    /// Found in strides themselves, which are a little mild, with so much to spare that it does not matter.
    ///
    /// # Errors
    /// When the simulation fails; see [`HeatError`].
    pub(crate) fn settled_min(&self, known: Minutes) -> Result<Minutes, HeatError> {
        /// It is worth a simulation from so many points on.
        const WORTH: usize = 240;
        const SPARE: f64 = 1.15;
        const AND: Minutes = Minutes::new(60.0);
        if self.bath.points().len() < WORTH || known <= AND {
            return Ok(known);
        }
        let strides = self.clone().calmed((Minutes::ZERO, known));
        if strides.bath.points().len() * 2 > self.bath.points().len() {
            return Ok(known);
        }
        let run = strides.run_until(known, &[])?;
        // What is nearly killed at the end may or may not be.
        let nearly = (1.0 / SPARE..1.0).contains(&run.kill_share(known));
        let last = run.last_mark_min();
        Ok(if nearly { known } else { (last * SPARE + AND).min(known) })
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

    /// Water as devices read it each minute: noise, a thermostat's swing, a drift, turned up or cut off and back.
    fn read_each_minute(random: &mut rand_pcg::Pcg64Mcg, minutes: u32) -> BathTrace {
        use crate::bath::BathPoint;
        use rand_pcg::rand_core::RngCore;
        let mut even = |low: f64, high: f64| {
            low + (high - low) * (random.next_u64() >> 11) as f64 / (1_u64 << 53) as f64
        };
        let (set, noise, swing) = (even(53.5, 66.0), even(0.0, 0.15), even(-0.4, 0.55).max(0.0));
        let (period, drift) = (even(6.0, 25.0), even(-0.001, 0.001));
        let (at, by, back) = (even(30.0, f64::from(minutes)), even(-12.0, 3.0), even(20.0, 300.0));
        let moves = even(0.0, 1.0) < 0.6;
        let points = (0..=minutes).map(|m| {
            let min = f64::from(m);
            let moved = if moves && min > at { by * (1.0 - (min - at) / back).max(0.0) } else { 0.0 };
            let swings = swing * (min * std::f64::consts::TAU / period).sin();
            BathPoint { min, c: set + moved + swings + drift * min + even(-noise, noise) }
        });
        BathTrace::new(points.collect()).expect("minutes rise")
    }

    fn tenth_colder(piece: &Piece<'static>) -> Piece<'static> {
        let points = piece.bath.points().iter().map(|p| crate::bath::BathPoint { c: p.c - 0.1, ..*p });
        Piece { bath: BathTrace::new(points.collect()).expect("minutes rise"), ..piece.clone() }
    }

    /// Followed in strides once it has earned what it earns, it is what it is minute by minute: killed at the same moment,
    /// the same verdict at every look, its clocks and its centre alike.
    #[test]
    fn calm_water_in_strides_gives_what_it_gives_minute_by_minute() {
        use rand_pcg::rand_core::SeedableRng;
        let mut random = rand_pcg::Pcg64Mcg::seed_from_u64(23);
        let kinds =
            [("beef-strip", 20.0), ("chicken-breast", 35.0), ("salmon-fillet", 25.0), ("beef-chuck", 60.0)];
        let (mut points, mut verdicts) = ((0, 0), 0);
        let (known, until) = (Minutes::new(1440.0), Minutes::new(1500.0));
        for number in 0..120 {
            let (food, mm) = kinds[number % kinds.len()];
            let mut whole = Piece { bath: read_each_minute(&mut random, 1440), ..piece(food, mm, 60.0) };
            whole.case.at_risk = number % 3 == 0;
            let settled = whole.settled_min(known).expect("runs");
            let strides = whole.clone().calmed((settled, known));
            points = (points.0 + strides.bath.points().len(), points.1 + whole.bath.points().len());
            let (a, b) =
                (whole.run_until(until, &[]).expect("runs"), strides.run_until(until, &[]).expect("runs"));
            let near = |x: Option<Minutes>, y: Option<Minutes>| match (x, y) {
                (Some(x), Some(y)) => (x - y).abs() < Minutes::new(0.05),
                (x, y) => x.or(y).is_none_or(|m| m > known),
            };
            let named = format!("{number} {food}, settled {settled:?}");
            let cold = tenth_colder(&whole);
            let least = std::cell::LazyCell::new(|| cold.run_until(until, &[]).expect("runs"));
            assert!(
                near(a.kinetics_min(), b.kinetics_min()),
                "{named}: {:?} {:?}",
                a.kinetics_min(),
                b.kinetics_min()
            );
            assert!(near(a.code_min(), b.code_min()), "{named}: {:?} {:?}", a.code_min(), b.code_min());
            for min in (1..=144).map(|k| Minutes::new(10.0 * f64::from(k))) {
                verdicts += 1;
                let (x, y) = (a.quick_verdict_at(min), b.quick_verdict_at(min));
                // Decided by a hair, it is decided a moment sooner or later; where its centre crosses an edge slowly, as
                // it is in water a tenth colder.
                let alike = |min: Minutes| a.quick_verdict_at(min).level == y.level;
                let hair = [0.0, -1.0, 1.0].map(|m| alike(min + Minutes::new(m)));
                let held = hair.contains(&true) || least.quick_verdict_at(min).level == y.level;
                assert!(held, "{named}, {min:?}: {x:?} {y:?}");
                let off = (a.core_c(min) - b.core_c(min)).abs().value();
                assert!(off < 0.4, "{named}, {min:?}: core off by {off}");
                let clocks = |run: &Run| {
                    let until = |c: &crate::safety::Spells| c.between_s(0.0, min.seconds());
                    [until(&run.clocks.raw), until(&run.clocks.warm)]
                };
                let off: Vec<f64> = clocks(&b).into_iter().zip(clocks(&a)).map(|(y, x)| y - x).collect();
                assert!(off.iter().all(|off| *off > -60.0), "{named}, {min:?}: clocks {off:?} s");
                if off.iter().any(|off| *off > 60.0) {
                    let most = clocks(&least);
                    let within = clocks(&b).into_iter().zip(most).all(|(y, most)| y < most + 60.0);
                    assert!(within, "{named}, {min:?}: clocks {off:?} s, {most:?}");
                }
            }
        }
        assert!(points.0 * 2 < points.1 && verdicts > 10_000, "{points:?}");
    }
}
