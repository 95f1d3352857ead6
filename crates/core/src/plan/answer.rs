//! From a request to clock times.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::form::RAW;
use super::pictures::{self, Frame, Stop, Stretch};
use super::window::{Ends3, Middle, Runs, Window};
use super::{ENGINE_VERSION, Finishing, PlanRequest};
use crate::bath::Heat;
use crate::figures::{limits, offers, routine};
use crate::heat::{Detail, HeatError, Shape};
use crate::piece::{LONGEST_MIN, Piece, Run};
use crate::plan::data_version;
use crate::safety::{EggUse, FoodState, Level, Verdict, WayOut};
use crate::units::{Celsius, Ends, Kelvin, Length, Minutes, moved};

/// From one instant to another, for a time with both its ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Range {
    /// The earlier end.
    pub from: Timestamp,
    /// The later end.
    pub until: Timestamp,
}

/// The clock times of a plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Times {
    /// Bath on the heat by.
    pub preheat_by: Timestamp,
    /// Earliest drop for which it is still at its best at the pull.
    pub drop_from: Timestamp,
    /// Into the bath by.
    pub drop_by: Timestamp,
    /// Heated through.
    pub through: Range,
    /// Pasteurised, where it ever is.
    pub pasteurised: Option<Range>,
    /// At its best until.
    pub best_until: Range,
    /// Out of the bath.
    pub pull: Timestamp,
    /// Into the pan, where it is seared.
    #[serde(default)]
    pub sear: Option<Timestamp>,
    /// On the plate.
    pub serve: Timestamp,
}

/// What a plan warns of; told by [`crate::words::caution`].
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "caution", rename_all = "kebab-case")]
pub enum Caution {
    /// A jar that no ice chills in time.
    TooWideToChill,
    /// Pulled before it is heated through.
    NotThrough {
        /// Minutes in the bath.
        bath_min: Minutes,
        /// The centre then, °C.
        core_c: Celsius,
        /// How far that is from the bath, K.
        short_k: Kelvin,
        /// Minutes it needs; none where a plan of so long is refused.
        needed_min: Option<Minutes>,
    },
    /// Pulled before it is at its best.
    Early {
        /// From then on it is.
        best_from_min: Minutes,
    },
    /// Longer than it is at its best, as chosen.
    PastBest {
        /// Until then it was.
        best_until_min: Minutes,
    },
    /// Too thick: its outside is past its best before the centre is warm.
    OutsideFirst {
        /// mm.
        thickness_mm: Length,
    },
    /// It is safe only after it was at its best.
    SafeAfterBest {
        /// Until then it was.
        best_until_min: Minutes,
    },
    /// An egg for raw use whose white sets.
    WhiteSets {
        /// °C.
        bath_c: Celsius,
        /// What it should be, °C.
        raw_c: Celsius,
    },
    /// Cold glass in hot water.
    ColdGlass {
        /// What the jars should be warmed to, °C.
        warm_to_c: Celsius,
    },
    /// The words of an older version.
    #[serde(untagged)]
    Written(String),
}

/// What a little more would give; told by [`crate::words::advice`].
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "advice", rename_all = "kebab-case")]
pub enum Advice {
    /// Pasteurised and still at its best, dropped so much earlier.
    DropEarlier {
        /// Minutes.
        min: Minutes,
    },
    /// The same, left in so much longer.
    LeaveLonger {
        /// Minutes.
        min: Minutes,
    },
    /// Pasteurised only past its best.
    PasteurisedTakes {
        /// Minutes.
        min: Minutes,
    },
    /// A warmer bath would begin to pasteurise.
    WarmerBath {
        /// By so much, K.
        short_k: Kelvin,
        /// That is, °C.
        c: Celsius,
    },
    /// The words of an older version.
    #[serde(untagged)]
    Written(String),
}

/// The answer to a [`PlanRequest`]. Minutes count from the drop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Plan {
    /// Version of the computation.
    pub engine: String,
    /// Version of the catalogue.
    pub data: String,
    /// When this was computed.
    pub computed_at: Timestamp,
    /// Minutes in the bath that the plan counts with: chosen by the cook, or from the slow end.
    pub bath_min: Minutes,
    /// Minutes in the bath that it needs, from the slow end.
    #[serde(default)]
    pub needed_min: Minutes,
    /// Minutes from the pull to the plate.
    pub finish_min: Minutes,
    /// Heated through.
    pub through: Ends<Minutes>,
    /// Pasteurised; an end is missing where it is never reached.
    pub pasteurised: Option<Ends<Minutes>>,
    /// At its best from, minutes.
    pub best_from: Minutes,
    /// At its best until: fast end, middle, slow end.
    pub best_until: Ends<Minutes>,
    /// Whether it must be pasteurised (or reheated) before it may be served at all.
    pub must_pasteurise: bool,
    /// The clock times.
    pub times: Times,
    /// The earliest it can honestly be ready.
    pub earliest_ready: Timestamp,
    /// Whether the time asked for could be kept; the times are the earliest where it could not.
    pub in_time: bool,
    /// The verdict for the planned pull.
    pub verdict: Verdict,
    /// At most one line of caution.
    pub caution: Option<Caution>,
    /// What a little more would give.
    pub advice: Option<Advice>,
    /// The ribbon's stretches.
    pub bands: Vec<Stretch>,
    /// What a pull at each of these minutes means. Not stored with a plan: computed when shown.
    #[serde(skip)]
    pub stops: Vec<Stop>,
    /// The slice at these minutes. Not stored either.
    #[serde(skip)]
    pub frames: Vec<Frame>,
    /// The centre at the slow end, minutes and °C. Not stored either.
    #[serde(skip)]
    pub curve: Vec<(Minutes, Celsius)>,
    /// Where the ribbon ends, minutes.
    pub horizon_min: Minutes,
}

impl Plan {
    /// The centre at the pull, at the slow end, where it is drawn.
    pub(crate) fn centre_at_pull(&self) -> Option<Celsius> {
        self.curve.iter().take_while(|(at, _)| *at <= self.bath_min).last().map(|(_, c)| *c)
    }

    /// The instant of a minute after the planned drop.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert_eq!(plan.at(plan.bath_min), plan.times.pull);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn at(&self, min: Minutes) -> Timestamp {
        moved(self.times.drop_by, min)
    }

    /// How far a map around this plan reaches, minutes: it does not move with every step of the temperature.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert!(plan.map_horizon_min(&request) > plan.needed_min);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn map_horizon_min(&self, request: &PlanRequest) -> Minutes {
        const ROOM: f64 = 1.08;
        const MORE_ROOM: f64 = 1.2;
        const LONG_MIN: Minutes = Minutes::new(900.0);
        let windows =
            request.food().texture.rows.iter().map(|r| r.until_min).fold(Minutes::ZERO, Minutes::max);
        let whole = |least: Minutes| {
            let step = if least > LONG_MIN { 240.0 } else { 60.0 };
            (least / step).ceil() * step
        };
        let usual = whole((windows * ROOM).max(self.needed_min * MORE_ROOM));
        // A time chosen within the map leaves it as it is.
        if self.bath_min > usual { whole(self.bath_min * MORE_ROOM) } else { usual }
    }

    /// Whether the plan is one to follow.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// assert!(!plan.is_refused());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn is_refused(&self) -> bool {
        self.verdict.level == Level::Refused
    }
}

/// Plans one piece, seen from `now`.
///
/// Safe times come from the slow end of the stated spreads (thicker piece, colder bath), texture
/// times from the fast end. The gates of the rules (54.4 °C, a table's first row) are tested on the
/// set point less the instrument's stated error: spreads move times, never the gates.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, plan};
/// use hold_steady_core::units::Units;
/// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let typed = PlanForm { intact: "whole".into(), ready: "20:00".into(), ..PlanForm::default() };
/// let reading = typed.read(&Setting::new(Units::default(), now, &zone, &rules));
/// let plan = plan(&reading.request.expect("complete"), now)?;
/// assert!(plan.in_time);
/// assert_eq!(plan.times.serve.to_string(), "2026-11-25T20:00:00Z");
/// assert!(plan.through.fast < plan.through.slow);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn plan(request: &PlanRequest, now: Timestamp) -> Result<Plan, HeatError> {
    let food = request.food();
    let finishing = request.finishing()?;
    let finish_min = finishing.minutes();
    // What costs: the piece in its bath, at both ends.
    let ends = Ends3::of(request.pieces(finishing.warm_min)?);
    let runs = ends.run(Middle::Drawn)?;
    let Runs { slow, middle, .. } = &runs;
    let Window {
        through,
        safe: pasteurised,
        best_from,
        best_until,
        refused_from: clock_out,
        must_pasteurise,
        needed_min,
        ..
    } = Window::read(request, &runs);
    // Then the clock on the wall, which is arithmetic.
    let least_min = request.time_min.unwrap_or(needed_min);
    let bath_min = in_bath_min(request, finish_min, least_min);
    // The way out of a refusal is part of the answer; what more would give is asked for by itself ([`way_out`]).
    let verdict = match slow.quick_verdict_at(bath_min) {
        refused if refused.level == Level::Refused => slow.verdict_with(bath_min, &ends.pieces.slowest)?,
        other => other,
    };

    let clock_on = OnTheWall { request, finishing: &finishing, bath_min, least_min, now };
    let held = best_until.fast.min(clock_out.unwrap_or(Minutes::NEVER));
    let Wall { times, earliest_ready, in_time } = clock_on.times((through, pasteurised, best_until), held);

    let horizon_min = pictures::horizon(bath_min, best_until.fast, pasteurised.map(|p| p.slow), clock_out);
    // Then pictures.
    let view =
        pictures::View { request, slow, through, pasteurised, best_from, best_until, horizon_min, clock_out };
    Ok(Plan {
        engine: ENGINE_VERSION.into(),
        data: data_version().into(),
        computed_at: now,
        bath_min,
        needed_min,
        finish_min,
        through,
        pasteurised,
        best_from,
        best_until,
        must_pasteurise,
        caution: caution(&view, &verdict, &finishing, bath_min, needed_min),
        advice: advice(&verdict, bath_min, best_until, pasteurised, request, in_time),
        bands: view.bands(),
        stops: view.stops(bath_min),
        frames: pictures::frames(middle, food, horizon_min),
        curve: pictures::centre_curve(slow, horizon_min),
        times,
        earliest_ready,
        in_time,
        verdict,
        horizon_min,
    })
}

/// How long it lies in its bath, of what needs at least so long.
fn in_bath_min(request: &PlanRequest, finish_min: Minutes, least_min: Minutes) -> Minutes {
    match (request.in_since, request.ready_at) {
        // What lies in its bath already lies there until it is wanted.
        (Some(since), Some(ready)) => {
            // To the next whole minute: what was asked for at 21:30 is not told as 21:29.
            (Minutes::between(since, ready) - finish_min).ceil().max(least_min).min(LONGEST_MIN)
        }
        _ => least_min,
    }
}

/// What the clock on the wall follows from.
struct OnTheWall<'a> {
    request: &'a PlanRequest,
    finishing: &'a Finishing,
    bath_min: Minutes,
    least_min: Minutes,
    now: Timestamp,
}

/// Times by the clock on the wall.
struct Wall {
    times: Times,
    earliest_ready: Timestamp,
    in_time: bool,
}

impl OnTheWall<'_> {
    /// When what is done: heated through, safe and at its best by how long each takes; held at most for so long.
    fn times(
        &self,
        (through, pasteurised, best_until): (Ends<Minutes>, Option<Ends<Minutes>>, Ends<Minutes>),
        longest_hold: Minutes,
    ) -> Wall {
        let Self { request, finishing, bath_min, least_min, now } = *self;
        let finish_min = finishing.minutes();
        let preheat = if request.in_since.is_some() { Minutes::ZERO } else { preheat(request) };
        let to_serve = bath_min + finish_min;
        // Salted a day ahead, it goes in a day later.
        let lead = preheat.max(request.prep.ahead_min());
        let earliest_ready = match request.in_since {
            Some(since) => moved(since, least_min + finish_min),
            None => whole_minute_up(moved(now, lead + to_serve)),
        };
        let asked = request.ready_at;
        let in_time = asked.is_none_or(|t| t >= earliest_ready);
        let serve = match request.in_since {
            Some(since) => moved(since, to_serve),
            None => asked.filter(|_| in_time).unwrap_or(earliest_ready),
        };
        let pull = moved(serve, -finish_min);
        let drop_by = moved(pull, -bath_min);
        let range = |e: Ends<Minutes>| Range { from: moved(drop_by, e.fast), until: moved(drop_by, e.slow) };
        let times = Times {
            preheat_by: moved(drop_by, -preheat),
            // Nobody drops it before the bath can be hot; what is in is in.
            drop_from: match request.in_since {
                Some(_) => drop_by,
                None => moved(pull, -longest_hold.max(bath_min)).max(moved(now, lead)).min(drop_by),
            },
            drop_by,
            through: range(through),
            pasteurised: pasteurised.map(range),
            best_until: range(best_until),
            pull,
            sear: finishing.until_sear_min().map(|m| moved(pull, m)),
            serve,
        };
        Wall { times, earliest_ready, in_time }
    }
}

/// What would have made a piece that is pulled after `bath_min` pasteurised; `None` where it is, or needs not be. It
/// costs some twenty simulations.
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, way_out};
/// use hold_steady_core::units::{Celsius, Minutes, Units};
/// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let typed = PlanForm { intact: "whole".into(), ..PlanForm::default() };
/// let reading = typed.read(&Setting::new(Units::default(), now, &zone, &rules));
/// let way = way_out(&reading.request.expect("complete"), Minutes::new(90.0))?.expect("not pasteurised after so long");
/// assert!(way.until_min > Some(Minutes::new(90.0)) && way.bath_c > Some(Celsius::new(56.0)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
pub fn way_out(request: &PlanRequest, bath_min: Minutes) -> Result<Option<WayOut>, HeatError> {
    let ends = Ends3::of(request.pieces(request.finishing()?.warm_min)?);
    let slow = ends.run(Middle::Judged)?.slow;
    Ok(slow.verdict_with(bath_min, &ends.pieces.slowest)?.way_out)
}

/// How long before the drop the bath is begun: as its vessel warms, where one is named; none where it is hot already,
/// or the piece goes in while it warms.
fn preheat(request: &PlanRequest) -> Minutes {
    let usual = routine().preheat_min.minutes();
    if request.hot || request.vessel.as_ref().is_some_and(|v| v.warming) {
        return Minutes::ZERO;
    }
    let Some(bench) = request.bench() else { return usual };
    let filling = routine().filling_min.minutes();
    match bench.vessel.heat {
        // One that never gets there is said to; its time is nobody's.
        Heat::Heater => bench.warm_up().map_or(usual, |(_, longest)| (longest + filling).ceil()),
        Heat::Burner => usual,
        Heat::None => filling,
    }
}

/// A piece as it is solved for texture and pictures.
pub(super) fn drawn<'a>(piece: &Piece<'a>) -> Piece<'a> {
    match piece.shape {
        Shape::Block { .. } => Piece { detail: Detail::Picture, ..piece.clone() },
        _ => piece.clone(),
    }
}

/// From when and until when it is at its best in a bath of `set_c`, minutes; the end at the fast end of the
/// bath's spread, in the middle, at the slow end.
pub(super) fn texture_window(request: &PlanRequest, set_c: Celsius) -> (Minutes, Ends<Minutes>) {
    let spread = request.rules.bath_spread_k;
    let window = |c: Celsius| request.food().best_min(c);
    let (from, until) = window(set_c);
    let (warm, cold) = (window(set_c + spread).1, window(set_c - spread).1);
    (from, Ends { fast: until.min(warm).min(cold), middle: until, slow: until.max(warm).max(cold) })
}

/// From when on it is good for every guest, minutes. What is reheated is not called so before it is warm.
pub(super) fn for_every_guest(run: &Run<'_>) -> Option<Minutes> {
    let reheated = run.piece().case.state == FoodState::PasteurizedChilled;
    let from = if reheated { run.done_min()? } else { Minutes::ZERO };
    run.first_min(from, |level| matches!(level, Level::Pasteurized | Level::Exempt))
        .map(Minutes::value)
        .map(Minutes::new)
}

fn whole_minute_up(t: Timestamp) -> Timestamp {
    let second = t.as_second();
    let up = (second + 59).div_euclid(60) * 60;
    Timestamp::from_second(up).unwrap_or(t)
}

/// The one caution a plan that is not refused may carry: the first that applies.
fn caution(
    view: &pictures::View<'_>,
    verdict: &Verdict,
    finishing: &Finishing,
    bath_min: Minutes,
    needed_min: Minutes,
) -> Option<Caution> {
    let (request, through, best_until_min) = (view.request, view.through, view.best_until.fast);
    if verdict.level == Level::Refused {
        return None;
    }
    if finishing.chilled_in_time == Some(false) {
        return Some(Caution::TooWideToChill);
    }
    if bath_min < through.slow.floor() {
        let core_c = view.slow.core_c(bath_min);
        let short_k = (request.set_c() - core_c).max(Kelvin::ZERO);
        // What is advised is planned: so long, it may be refused.
        let allowed = view.slow.quick_verdict_at(needed_min).level != Level::Refused;
        let needed_min = Some(needed_min).filter(|_| allowed);
        return Some(Caution::NotThrough { bath_min, core_c, short_k, needed_min });
    }
    if bath_min < view.best_from.floor() {
        return Some(Caution::Early { best_from_min: view.best_from });
    }
    if bath_min > best_until_min {
        return Some(if request.time_min.is_some() || bath_min > needed_min {
            Caution::PastBest { best_until_min }
        } else if through.slow > best_until_min {
            Caution::OutsideFirst { thickness_mm: request.thickness_mm }
        } else {
            Caution::SafeAfterBest { best_until_min }
        });
    }
    let raw = request.food().doneness(RAW).filter(|_| request.egg_use == Some(EggUse::Raw));
    if let Some(raw) = raw.filter(|l| request.set_c() > l.c + offers().raw_egg_above_k.kelvin()) {
        return Some(Caution::WhiteSets { bath_c: request.bath_c, raw_c: raw.c });
    }
    request.glass_to_warm_to_c().map(|warm_to_c| Caution::ColdGlass { warm_to_c })
}

/// What a little more time or heat would give to a piece that may be served unpasteurised.
fn advice(
    verdict: &Verdict,
    bath_min: Minutes,
    best_until: Ends<Minutes>,
    pasteurised: Option<Ends<Minutes>>,
    request: &PlanRequest,
    in_time: bool,
) -> Option<Advice> {
    const LEAST_SHORT_K: Kelvin = Kelvin::new(0.1);
    if verdict.level != Level::ServeNow {
        return None;
    }
    match pasteurised {
        Some(p) if p.slow <= best_until.fast => {
            let min = (p.slow - bath_min).max(Minutes::new(1.0)).ceil();
            let earlier = request.ready_at.is_some() && in_time;
            Some(if earlier { Advice::DropEarlier { min } } else { Advice::LeaveLonger { min } })
        }
        Some(p) => Some(Advice::PasteurisedTakes { min: p.slow.ceil() }),
        None => {
            let (set_c, c) = (request.set_c(), limits().lowest_hold_c.celsius());
            let may = set_c < c && request.food().class.is_animal();
            may.then(|| Advice::WarmerBath { short_k: (c - set_c).max(LEAST_SHORT_K), c })
        }
    }
}
