//! The bench: a vessel, water, and the food that is to go in. Everything about the water of a planned bath.

use super::{Air, Cover, Heat, Load, Pool, Split, Taps, Vessel, Water, split};
use crate::figures::{bench, cooling};
use crate::heat::bisect_within;
use crate::units::{Celsius, Kelvin, Length, Minutes};

/// Food that is to go in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Food {
    /// kg; none where nothing goes in.
    pub kg: f64,
    /// °C.
    pub c: Celsius,
    /// Thickness of a piece.
    pub thickness: Length,
}

impl Food {
    /// About how many pieces that is, for a picture: some 300 g each.
    ///
    /// ```
    /// use hold_steady_core::{bath::Food, units::{Celsius, Length}};
    /// let food = Food { kg: 1.2, c: Celsius::new(5.0), thickness: Length::from_mm(25.0) };
    /// assert_eq!(food.bags(), 4);
    /// ```
    #[must_use]
    pub fn bags(&self) -> usize {
        const PIECE_KG: f64 = 0.3;
        ((self.kg / PIECE_KG).round() as usize).max(1)
    }

    /// As a load of water that is moved or not.
    pub(crate) fn load(&self, water: Water) -> Load {
        let around = match water {
            Water::Circulated => super::circulated(),
            Water::Still => super::still(),
        };
        Load { kg: self.kg, c: self.c.value(), thickness_m: self.thickness.metres(), w_m2k: around.w_m2k }
    }
}

/// A planned bath.
#[derive(Debug, Clone, PartialEq)]
pub struct Bench<'a> {
    /// The vessel.
    pub vessel: &'a Vessel,
    /// What lies over it.
    pub cover: Cover,
    /// Water to put in, l; as much as the lines allow where nothing is said.
    pub litres: Option<f64>,
    /// What it should be, °C.
    pub target: Celsius,
    /// What there is to fill it with.
    pub taps: Taps,
    /// The kitchen.
    pub air: Air,
    /// What goes in.
    pub food: Food,
    /// The most it should drop, K.
    pub limit: Kelvin,
    /// How long it is to run.
    pub long: Minutes,
}

/// Where a water line lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Line {
    /// Under the lowest.
    TooLow,
    /// Between the two.
    Between,
    /// Over the highest.
    TooHigh,
    /// Over the brim.
    RunsOver,
}

/// A water line.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Level {
    /// Above the bottom.
    pub height: Length,
    /// Where that lies.
    pub line: Line,
}

/// Evaporation under a cover.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Dries {
    /// The cover.
    pub cover: Cover,
    /// Water that leaves into still air, kg/h.
    pub kg_per_h: f64,
    /// and in a draught or under a hood: what topping up and the heater are counted with.
    pub high_kg_per_h: f64,
    /// When the lowest line is reached; none where that is not within the time it runs.
    pub min_line: Option<Minutes>,
    /// Water to top up with each time, l, and how often; none where it is not needed.
    pub top_up: Option<(f64, Minutes)>,
    /// How many times, within the time it runs.
    pub times: u32,
    /// The hottest the heater holds under it, in a draught too, °C.
    pub holdable: Celsius,
}

/// How water without a heater is to be filled.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Unheated {
    /// Filled so hot, it stays warm enough until the first look, °C.
    pub fill: Celsius,
    /// When to look first.
    pub look: Minutes,
    /// Filled so hot, it would stay warm enough all the time without a look, °C; none where no water would.
    pub alone: Option<Celsius>,
    /// What of the taps and the kettle comes nearest to `fill`.
    pub split: Split,
}

/// What the bench answers.
#[derive(Debug, Clone, PartialEq)]
pub struct BenchAnswer {
    /// Water to put in now, l.
    pub litres: f64,
    /// The least and the most that keep between the lines with the food in, l; the most may be less than the least.
    pub allowed_l: (f64, f64),
    /// Before the food.
    pub before: Level,
    /// With it.
    pub after: Level,
    /// The vessel holds no more food than this with water up to the lowest line, kg.
    pub most_that_fits_kg: f64,
    /// What to fill it with: nearest to what it should be.
    pub split: Split,
    /// How long the heater takes from there, in still air and in a draught; none where it never does.
    pub warmup: Option<(Minutes, Minutes)>,
    /// How far water and food would drop to at once: the most, K.
    pub drop: Kelvin,
    /// The lowest it comes to, °C.
    pub lowest: Celsius,
    /// Minutes until it is back; none where it never is.
    pub recovery: Option<Minutes>,
    /// The most food before it drops by more than the limit, kg.
    pub most_kg: f64,
    /// What evaporates under the cover that was chosen, and under none.
    pub dries: Vec<Dries>,
    /// Where nothing heats it.
    pub unheated: Option<Unheated>,
    /// The vessel must not be so hot: what it may be, °C.
    pub too_hot: Option<Celsius>,
    /// It scalds.
    pub scalds: bool,
}

/// The most food that is looked for, kg.
const MOST_FOOD_KG: f64 = 200.0;

/// As near as that is looked for, kg.
const NEAR_KG: f64 = 2e-4;

impl Bench<'_> {
    fn pool(&self, litres: f64) -> Pool {
        self.vessel.pool(litres, self.cover, self.air)
    }

    /// What goes in, as loads of its water; none where nothing does.
    fn loads(&self) -> Vec<Load> {
        if self.food.kg > 0.0 { vec![self.food.load(self.vessel.water)] } else { Vec::new() }
    }

    fn displaced_l(&self) -> f64 {
        self.loads().iter().map(Load::litres).sum()
    }

    /// The least and the most water that keeps between the lines with the food in, l. The lowest line asks for water
    /// before the food goes in too: the heater runs then.
    fn allowed_l(&self) -> (f64, f64) {
        let v = self.vessel;
        (v.litres(v.min_mm), v.litres(v.max_mm) - self.displaced_l())
    }

    /// Water to put in, l: what was said, or as much as the lines allow.
    ///
    /// ```
    /// # use hold_steady_core::bath::{usual_taps, Bench, Food, shapes};
    /// # use hold_steady_core::units::{Celsius, Kelvin, Length, Minutes};
    /// # use hold_steady_core::book::usual_air;
    /// # let vessel = &shapes()[0].1;
    /// # let bench = Bench {
    /// #     vessel, cover: vessel.cover, litres: None, target: Celsius::new(55.0), taps: usual_taps(), air: usual_air(0.0),
    /// #     food: Food { kg: 1.2, c: Celsius::new(5.0), thickness: Length::from_mm(25.0) },
    /// #     limit: Kelvin::new(1.0), long: Minutes::from_hours(4.0),
    /// # };
    /// assert_eq!(bench.water_l(), bench.answer().litres);
    /// ```
    #[must_use]
    pub fn water_l(&self) -> f64 {
        let (least, most) = self.allowed_l();
        self.litres.unwrap_or_else(|| most.max(least))
    }

    /// What it is filled with: nearest to what it should be.
    pub(crate) fn filled(&self) -> Split {
        split(self.water_l(), self.target.value(), self.taps)
    }

    /// How long the heater takes from there, in still air and in a draught; none where it never gets there.
    pub(crate) fn warm_up(&self) -> Option<(Minutes, Minutes)> {
        let vessel = self.vessel.at(self.target);
        let pool = vessel.pool(self.water_l(), self.cover, self.air);
        let from = self.filled().c;
        let takes = |pool: &Pool| pool.warmup_min(from, self.target.value()).map(Minutes::new);
        Some((takes(&pool)?, takes(&pool.in_a_draught())?))
    }

    fn level(&self, litres: f64) -> Level {
        let (v, height) = (self.vessel, self.vessel.height(litres));
        let line = if litres > v.litres(v.depth_mm) {
            Line::RunsOver
        } else if height > v.max_mm + HAIR {
            Line::TooHigh
        } else if height < v.min_mm - HAIR {
            Line::TooLow
        } else {
            Line::Between
        };
        Level { height, line }
    }

    /// The answer.
    ///
    /// ```
    /// use hold_steady_core::bath::{Air, Bench, Cover, Food, Line, Taps, shapes};
    /// use hold_steady_core::units::{Celsius, Kelvin, Length, Minutes};
    /// let (_, vessel) = shapes().iter().find(|(id, _)| id == "box-12").expect("shipped");
    /// let bench = Bench {
    ///     vessel, cover: Cover::Lid, litres: None, target: Celsius::new(55.0),
    ///     taps: Taps { hot_c: 50.0, cold_c: 12.0, kettle_c: 95.0, kettle_l: 1.7 },
    ///     air: Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 },
    ///     food: Food { kg: 1.2, c: Celsius::new(5.0), thickness: Length::from_mm(25.0) },
    ///     limit: Kelvin::new(1.0), long: Minutes::from_hours(4.0),
    /// };
    /// let answer = bench.answer();
    /// assert_eq!((answer.before.line, answer.after.line), (Line::Between, Line::Between));
    /// assert!(answer.warmup.expect("within its power").1 < Minutes::new(15.0));
    /// ```
    #[must_use]
    pub fn answer(&self) -> BenchAnswer {
        let v = &self.vessel.at(self.target);
        Bench { vessel: v, ..self.clone() }.worked_out()
    }

    fn worked_out(&self) -> BenchAnswer {
        let v = self.vessel;
        let (allowed_l, litres, displaced) = (self.allowed_l(), self.water_l(), self.displaced_l());
        let pool = self.pool(litres);
        let target = self.target.value();
        let taken = pool.take(target, &self.loads());
        BenchAnswer {
            litres,
            allowed_l,
            before: self.level(litres),
            after: self.level(litres + displaced),
            most_that_fits_kg: ((v.litres(v.max_mm) - allowed_l.0) * bench().food_kg_l.value).max(0.0),
            split: self.filled(),
            warmup: self.warm_up(),
            drop: Kelvin::new(taken.drop_k),
            lowest: Celsius::new(taken.lowest_c),
            recovery: taken.recovery_min.map(Minutes::new),
            most_kg: self.most_kg(&pool),
            dries: self.dries(litres, displaced),
            unheated: (v.heat != Heat::Heater).then(|| self.unheated(litres)),
            too_hot: v.too_hot(self.target, self.air.altitude_m),
            scalds: target >= bench().scald_c.value,
        }
    }

    /// The most food of that kind before the water drops by more than the limit: by mixing where nothing heats it.
    fn most_kg(&self, pool: &Pool) -> f64 {
        let target = self.target.value();
        let drops = |kg: f64| {
            let loads = [Load { kg, ..self.food.load(self.vessel.water) }];
            if self.vessel.heat == Heat::Heater {
                target - pool.take(target, &loads).lowest_c
            } else {
                pool.mixed_drop_k(target, &loads)
            }
        };
        bisect_within(NEAR_KG, 0.0, MOST_FOOD_KG, |kg| drops(kg) > self.limit.value()).0
    }

    fn dries(&self, litres: f64, displaced: f64) -> Vec<Dries> {
        let v = self.vessel;
        let beside = if self.cover == Cover::None { Cover::Lid } else { Cover::None };
        let of = |cover: Cover| {
            let pool = v.pool(litres, cover, self.air);
            let kg_per_h = pool.kg_per_h(self.target.value());
            let draughty = pool.in_a_draught();
            let high_kg_per_h = draughty.kg_per_h(self.target.value());
            let spare = (litres + displaced - v.litres(v.min_mm)).max(0.0);
            let after = |l: f64| {
                if high_kg_per_h > 0.0 { Minutes::from_hours(l / high_kg_per_h) } else { Minutes::NEVER }
            };
            let all_gone = after(spare);
            // At half of what there is to spare: there is time to be late.
            let (each, every) = (spare / 2.0, after(spare / 2.0));
            let needed = all_gone < self.long && each > 0.0;
            let times = if needed { ((self.long / every).ceil() - 1.0).max(1.0) as u32 } else { 0 };
            Dries {
                cover,
                kg_per_h,
                high_kg_per_h,
                min_line: Some(all_gone).filter(|m| *m < self.long),
                top_up: needed.then_some((each, every)),
                times,
                holdable: Celsius::new(draughty.holdable_c()),
            }
        };
        vec![of(self.cover), of(beside)]
    }

    fn unheated(&self, litres: f64) -> Unheated {
        let burner = self.vessel.heat == Heat::Burner;
        let look = if burner { cooling().log_gap_min.minutes() } else { bench().look_after_min.minutes() };
        let pool = self.vessel.losing_pool(litres, self.cover, self.air);
        let least = self.target + bench().margin_k.kelvin();
        let fill = fill_c(&pool, &self.loads(), least, look);
        let highest = self.vessel.highest_here(self.air.altitude_m);
        let alone = fill_c(&pool, &self.loads(), least, self.long);
        Unheated {
            fill,
            look,
            alone: Some(alone).filter(|c| *c <= highest && *c - self.target <= ALONE_WITHIN),
            split: split(litres, fill.value(), self.taps),
        }
    }
}

/// Water that stands as high as a line, but for rounding.
const HAIR: Length = Length::from_mm(0.5);

/// Nobody wants a piece to begin in water that much hotter than it should be done at.
const ALONE_WITHIN: Kelvin = Kelvin::new(6.0);

/// How hot water must be filled in that nothing heats, so that with its loads it is at `least` or more until `until`.
pub(crate) fn fill_c(pool: &Pool, loads: &[Load], least: Celsius, until: Minutes) -> Celsius {
    const MOST_ABOVE_K: f64 = 60.0;
    const NEAR_K: f64 = 1e-4;
    let enough = |c: f64| {
        let run = pool.run(c, None, loads, until.value());
        run.iter().all(|p| p.c >= least.value())
    };
    Celsius::new(bisect_within(NEAR_K, least.value(), least.value() + MOST_ABOVE_K, enough).1)
}

/// When water that nothing heats is to be read next: before it can have fallen to `least`, at the latest after as long
/// as a gap between readings proves anything.
pub(crate) fn look_in(pool: &Pool, now: Celsius, least: Celsius) -> Minutes {
    let b = bench();
    let (soonest, latest) = (b.look_first_min.minutes(), b.look_after_min.minutes());
    let run = pool.run(now.value(), None, &[], latest.value());
    let below = run.iter().find(|p| p.c < least.value());
    below.map_or(latest, |p| Minutes::new(p.min).max(soonest).min(latest))
}

/// The taps of a kitchen that has said nothing of them.
///
/// ```
/// assert_eq!(hold_steady_core::bath::usual_taps().hot_c, 50.0);
/// ```
#[must_use]
pub fn usual_taps() -> Taps {
    let b = bench();
    Taps {
        hot_c: b.hot_tap_c.value,
        cold_c: cooling().tap_c.value,
        kettle_c: b.kettle_c.value,
        kettle_l: b.kettle_l.value,
    }
}

#[cfg(test)]
mod tests {
    use super::super::shapes;
    use super::*;

    fn vessel(id: &str) -> &'static Vessel {
        &shapes().iter().find(|s| s.0 == id).expect("shipped").1
    }

    fn of(id: &str) -> Bench<'static> {
        Bench {
            vessel: vessel(id),
            cover: Cover::Lid,
            litres: None,
            target: Celsius::new(55.0),
            taps: usual_taps(),
            air: Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 },
            food: Food { kg: 1.2, c: Celsius::new(5.0), thickness: Length::from_mm(25.0) },
            limit: Kelvin::new(1.0),
            long: Minutes::from_hours(4.0),
        }
    }

    #[test]
    fn as_much_water_is_put_in_as_the_food_leaves_room_for() {
        let a = of("box-12").answer();
        let v = vessel("box-12");
        assert!((a.litres + 1.2 / 1.05 - v.litres(v.max_mm)).abs() < 1e-9);
        assert_eq!(a.after.line, Line::Between);
        let heavy =
            Bench { litres: Some(a.litres), food: Food { kg: 4.0, ..of("box-12").food }, ..of("box-12") };
        assert_eq!(heavy.answer().after.line, Line::RunsOver);
        let little = Bench { litres: Some(3.0), ..of("box-12") };
        assert_eq!(little.answer().before.line, Line::TooLow);
    }

    #[test]
    fn more_food_than_the_limit_allows_drops_it_further() {
        let b = of("box-12");
        let most = b.answer().most_kg;
        let with = |kg: f64| Bench { food: Food { kg, ..b.food }, litres: Some(10.0), ..b.clone() }.answer();
        let most_of_ten = with(1.0).most_kg;
        let off = |kg: f64| b.target - with(kg).lowest;
        assert!(
            most > 2.0 && off(most_of_ten * 1.02) > b.limit && off(most_of_ten * 0.98) <= b.limit,
            "{most}"
        );
    }

    /// By hand, from the rate the answer gives: 72 h uncovered.
    #[test]
    fn a_long_cook_is_topped_up_before_the_lowest_line() {
        let long = Bench { cover: Cover::None, long: Minutes::from_hours(72.0), ..of("box-12") };
        let a = long.answer();
        let [open, covered] = a.dries.as_slice() else { panic!("two") };
        let (each, every) = open.top_up.expect("needed");
        let spare = a.litres + 1.2 / 1.05 - long.vessel.litres(long.vessel.min_mm);
        assert!(
            (each - spare / 2.0).abs() < 1e-9
                && ((every.value() / 60.0) * open.high_kg_per_h - each).abs() < 1e-6
        );
        assert!(
            f64::from(open.times) * (every.value() / 60.0) < 72.0
                && f64::from(open.times + 1) * (every.value() / 60.0) >= 72.0
        );
        assert!(covered.kg_per_h < open.kg_per_h * 0.2 && covered.times < open.times);
        assert!(open.holdable < covered.holdable);
        assert!(open.min_line.is_some_and(|m| (m - every * 2.0).abs() < Minutes::new(0.1)));
    }

    #[test]
    fn a_cooler_is_filled_hot_enough_for_the_food_and_its_fall() {
        let b = of("cooler-20");
        let a = b.answer();
        let u = a.unheated.expect("nothing heats it");
        let pool = b.vessel.losing_pool(a.litres, b.cover, b.air);
        let run = pool.run(u.fill.value(), None, &b.loads(), u.look.value());
        let end = run[run.len() - 1].c;
        assert!((end - 55.3).abs() < 0.02, "{end}");
        // The mixing alone takes more than a kelvin.
        assert!(u.fill > Celsius::new(56.0) && u.fill < Celsius::new(59.0), "{:?}", u.fill);
        let hour = Bench { long: Minutes::from_hours(1.0), ..b.clone() };
        assert!(hour.answer().unheated.expect("nothing").alone.is_some_and(|c| c > u.fill));
        let day = Bench { long: Minutes::from_hours(24.0), ..b };
        assert_eq!(day.answer().unheated.expect("nothing").alone, None);
    }

    #[test]
    fn a_vessel_has_a_highest_temperature_and_hot_water_scalds() {
        let hot = Bench { target: Celsius::new(85.0), ..of("cooler-20") }.answer();
        assert_eq!((hot.too_hot, hot.scalds), (Some(Celsius::new(75.0)), true));
        let mild = of("cooler-20").answer();
        assert_eq!((mild.too_hot, mild.scalds), (None, false));
    }

    #[test]
    fn it_is_looked_at_before_it_can_be_too_cold() {
        let pool = vessel("pot-8").losing_pool(6.0, Cover::None, of("pot-8").air);
        let soon = look_in(&pool, Celsius::new(63.2), Celsius::new(63.0));
        let later = look_in(&pool, Celsius::new(70.0), Celsius::new(63.0));
        assert!(soon == Minutes::new(5.0) && later > soon, "{soon:?} {later:?}");
        let cooler = vessel("cooler-20").losing_pool(18.0, Cover::Lid, of("pot-8").air);
        assert_eq!(look_in(&cooler, Celsius::new(60.0), Celsius::new(55.0)), Minutes::new(30.0));
    }
}
