//! Where a running cook stands now: centre temperature, what to do next and when, the verdict. One result,
//! from one simulation of what really happened, feeds the headline, the times, the ribbon and the steps.

use crate::figures::{cooling, limits};
use jiff::{SignedDuration, Timestamp};

use super::{CookState, Covered, Event, EventKind, Milestone, Stage};
use crate::bath::{BathHistory, BathTrace, boiling_c};
use crate::book::ProbeLog;
use crate::food::FinishStep;
use crate::heat::{HeatError, Shape};
use crate::piece::{Fit, Piece, Run, Span, Unknown, fit, slower};
use crate::plan::{Finishing, Plan, PlanRequest, Stretch, bands, horizon};
use crate::safety::{Facts, Level, Rule, Verdict, judge, not_to_be_stored, organisms};
use crate::sear::{Given, Start};
use crate::units::{Celsius, Kelvin, Minutes, moved};

/// The ribbon of a cook as it really goes, minutes from the drop. It ends at the pull.
#[derive(Debug, Clone, PartialEq)]
pub struct LiveRibbon {
    /// The drop it counts from: the real one, or the planned one before it.
    pub drop: Timestamp,
    /// Its stretches.
    pub bands: Vec<Stretch>,
    /// Where it ends.
    pub horizon_min: Minutes,
}

/// What to do next, and by what numbers; told by [`crate::words::next`].
#[derive(Debug, Clone, PartialEq)]
pub enum Next {
    /// Into the bath.
    Drop {
        /// So much later than planned, where it is.
        late_min: Option<Minutes>,
    },
    /// Not safe to serve yet: leave it in.
    LeaveIn {
        /// For so many minutes more.
        more_min: Minutes,
    },
    /// No time in this bath makes it good.
    DoNotServe,
    /// Out of the bath.
    Pull(Pull),
    /// A step of its finish.
    Finish(FinishStep),
    /// It may be eaten, held hot or chilled for a while yet.
    EatHoldOrChill {
        /// For so many minutes.
        left_min: Minutes,
        /// After them it is still for guests not at risk.
        then_not_at_risk: bool,
    },
    /// It may be eaten for a while yet, and nothing else.
    Eat {
        /// For so many minutes.
        left_min: Minutes,
        /// After them it is still for guests not at risk.
        then_not_at_risk: bool,
    },
    /// Chilled: to be kept cold.
    KeepCold,
    /// It is not to be served as it is.
    NotServed(Box<Verdict>),
    /// Eaten: how did it come out?
    Rate,
    /// Thrown away; before it was cooked, or after.
    ThrownAway {
        /// It was in the bath.
        cooked: bool,
    },
}

/// Why it is pulled when it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Pull {
    /// It is pasteurised in so many minutes, and must be.
    PasteurisedIn(Minutes),
    /// It is heated through in so many minutes.
    ThroughIn(Minutes),
    /// It is heated through, and waits for its time.
    Waits,
    /// It may be pulled now, and a growth clock leaves it so many minutes.
    Within(Minutes),
    /// It may be pulled now, and is at its best for so many minutes.
    BestFor(Minutes),
    /// It may be pulled now, and is past its best.
    PastBest,
    /// It never heats through, by the simulation.
    NeverThrough,
}

/// A cook, now.
#[derive(Debug, Clone, PartialEq)]
pub struct Live {
    /// How far it has come.
    pub stage: Stage,
    /// Estimated centre, °C: the slow end and the middle of the spreads. `None` before the drop;
    /// after the pull, the values at the pull.
    pub centre_c: Option<(Celsius, Celsius)>,
    /// What to do next.
    pub next: Next,
    /// When, if there is a when.
    pub next_at: Option<Timestamp>,
    /// Heated through at (slow end), by the actual drop. After the pull there are no forecasts of the bath.
    pub through_at: Option<Timestamp>,
    /// Pasteurised at (slow end), by the actual drop.
    pub pasteurised_at: Option<Timestamp>,
    /// At its best until (fast end), by the actual drop.
    pub best_until: Option<Timestamp>,
    /// In this bath it is refused from then on, by the actual drop.
    pub clock_out: Option<Timestamp>,
    /// After the pull: to be eaten, held hot or chilled by then.
    pub eat_by: Option<Timestamp>,
    /// The pull: as it was, or as it is to be.
    pub pull_at: Timestamp,
    /// On the plate: as it was, or as it is to be by what has happened.
    pub serve_at: Timestamp,
    /// The verdict for now (in the bath) or for the pull, to the moment of eating.
    pub verdict: Option<Verdict>,
    /// Where the ribbon's needle stands, minutes from the drop.
    pub bath_min: Option<Minutes>,
    /// The ribbon.
    pub ribbon: LiveRibbon,
    /// What is done after the bath.
    pub finishing: Finishing,
    /// When what it is seared on is to be heated, where that was chosen and is still to come.
    pub heat_at: Option<Timestamp>,
    /// What a probe in the piece says of the estimate; `None` where none reads it, or too little.
    pub probed: Option<Probed>,
    /// It may be served as it is only seared all over, and nobody said that it was.
    pub sear_owed: bool,
    /// The kill so far, at the slow end; after the pull as it was then. `None` before the drop.
    pub kill: Option<KillSoFar>,
}

/// What a probe in the piece says of the estimate.
#[derive(Debug, Clone, PartialEq)]
pub struct Probed {
    /// What the probe is called.
    pub name: String,
    /// Its last reading: when, and what.
    pub read: (Timestamp, Celsius),
    /// What was estimated for then without it, at the slow end.
    pub estimate: Celsius,
    /// The thickness at which its readings fit best.
    pub fit: Fit,
    /// Only a delay was looked for: a few readings, or a block. See [`slower`].
    pub delays_only: bool,
    /// It may bring a safe time forward.
    pub may_advance: bool,
}

impl Probed {
    /// Fits the piece to what a probe read in it since it began to cook; before five readings over ten minutes it may
    /// only delay.
    fn of(log: &ProbeLog, piece: &Piece<'_>, began: Timestamp) -> Result<Option<Self>, HeatError> {
        const FEWEST: usize = 5;
        const OVER: Minutes = Minutes::new(10.0);
        const MOST: usize = 40;
        let since: Vec<(Minutes, Celsius)> = log
            .readings
            .iter()
            .filter(|(at, _)| *at >= began)
            .map(|(at, c)| (Minutes::between(began, *at), *c))
            .collect();
        let (Some(first), Some(last), Some(read)) = (since.first(), since.last(), log.readings.last()) else {
            return Ok(None);
        };
        // A few readings fit anything: they may delay, and no more.
        let few = since.len() < FEWEST || last.0 - first.0 < OVER;
        let estimate = piece.run_until(last.0, &[])?.core_c(last.0);
        // A block is simulated in three dimensions: thirty of them take longer than a page is waited for.
        let delays_only = few || matches!(piece.shape, Shape::Block { .. });
        let fit = if delays_only {
            slower(piece, *last, estimate)?
        } else {
            let some: Vec<_> = since.iter().step_by(since.len() / MOST + 1).chain([last]).copied().collect();
            fit(piece, &some, Unknown::Thickness)?
        };
        let (name, may_advance) = (log.name.clone(), log.may_advance);
        Ok(Some(Self { name, read: *read, estimate, fit, delays_only, may_advance }))
    }

    /// Whether its readings are those of one piece's centre: one that slipped out reads like none.
    ///
    /// ```
    /// use hold_steady_core::{cook::Probed, piece::{Fit, Unknown}, units::*};
    /// let fit = Fit { unknown: Unknown::Thickness, value: 30.0, rms_k: Kelvin::new(0.2), at_the_end: false };
    /// let read = ("2026-11-25T16:00:00Z".parse()?, Celsius::new(41.2));
    /// let probed = Probed { name: "p".into(), read, estimate: Celsius::new(43.0), fit, delays_only: false, may_advance: true };
    /// assert!(probed.fits());
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn fits(&self) -> bool {
        const WITHIN: Kelvin = Kelvin::new(1.0);
        !self.fit.at_the_end && self.fit.rms_k < WITHIN
    }

    /// The piece as it is judged with it: later at once, sooner only where the probe may and fits.
    fn applied<'a>(&self, piece: &Piece<'a>) -> Piece<'a> {
        let sooner = self.may_advance && self.fits();
        self.fit.applied(piece, sooner)
    }
}

/// How far the kill has come.
#[derive(Debug, Clone, PartialEq)]
pub struct KillSoFar {
    /// Of the slowest of all that is asked, the table too: 1 is enough.
    pub share: f64,
    /// Each organism by name: reduction so far and asked for, log10.
    pub each: Vec<(String, f64, f64)>,
    /// Share of the code's table, where it has one.
    pub code: Option<f64>,
}

impl KillSoFar {
    fn of(run: &Run<'_>, min: Minutes, request: &PlanRequest) -> Self {
        let progress = run.progress(min);
        let asked = organisms(&request.food().kill).iter();
        let each =
            asked.zip(&progress.log10).map(|(o, log10)| (o.name.clone(), *log10, o.target(request.at_risk)));
        Self { share: run.kill_share(min).min(1.0), each: each.collect(), code: progress.code }
    }
}

fn later(t: Timestamp, min: Minutes) -> Option<Timestamp> {
    t.checked_add(SignedDuration::from_secs(min.seconds().ceil() as i64)).ok()
}

/// Says where a cook stands at `now`, from what was planned, what happened, and what is known of the bath's
/// water. Simulates with the actual drop and bath; what was read after `now`, or after the pull, is
/// not looked at.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*};
/// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = read_export(EXPORT, now)?.export;
/// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
/// let record = cook.plan_record().expect("planned");
/// let (plan, state) = (record.plan()?, cook.state());
/// let now = live(&record.request, &plan, &state, &cook.water(&state), now)?;
/// assert_eq!(now.stage, Stage::Eaten);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn live(
    request: &PlanRequest,
    plan: &Plan,
    state: &CookState,
    water: &BathHistory,
    now: Timestamp,
) -> Result<Live, HeatError> {
    let finishing = request.finishing()?.finished_by(state.chosen_finish());
    let planned_min = planned_min(plan, &finishing);
    let Some(dropped) = state.when(Milestone::Dropped) else {
        let live = waiting(plan, (planned_min, finishing.minutes()), state, now);
        return Ok(Live { heat_at: heat_at(&finishing, live.pull_at), finishing, ..live });
    };
    let pulled = state.when(Milestone::Pulled);
    let (water, began) = known_water(request, state, water, dropped, pulled.unwrap_or(now));
    let pieces = request.pieces(finishing.warm_min)?;
    let as_it_was = |piece, coefficient| as_it_was(piece, request, state, &water, began, coefficient);
    let slowed = water.slowed_w_m2k();
    let slow_piece = as_it_was(pieces.slow, slowed.map(|s| s.0));
    let middle_piece = as_it_was(pieces.middle, slowed.map(|s| s.1));
    let probed = water.probe.as_ref().map(|log| Probed::of(log, &slow_piece, began)).transpose()?.flatten();
    let (slow_piece, middle_piece) = match &probed {
        Some(p) => (p.applied(&slow_piece), p.applied(&middle_piece)),
        None => (slow_piece, middle_piece),
    };
    let (slow, middle) = (slow_piece.run(&[])?, middle_piece.run(&[])?);
    let bath_min = Minutes::between(began, pulled.unwrap_or(now)).max(Minutes::ZERO);
    let bath = InBath { plan, planned_min, slow: &slow, bath_min, dropped, began };
    let mut live = match pulled {
        None => bath.live(),
        Some(pulled) => {
            let (slow, finishing) = (&slow, &finishing);
            OutOfBath { finishing, state, slow, bath_min, pulled, now }.live()
        }
    };
    live.serve_at = state.when(Milestone::Eaten).or(state.ended()).unwrap_or_else(|| {
        // Nothing is served in the past.
        later(live.pull_at, finishing.minutes()).unwrap_or(live.pull_at).max(now)
    });
    live.stage = state.stage();
    live.heat_at = heat_at(&finishing, live.pull_at).filter(|_| live.stage < Stage::Seared);
    live.finishing = finishing;
    live.sear_owed = live.stage > Stage::InBath
        && state.covered() != Some(Covered::All)
        && live.verdict.as_ref().is_some_and(|v| v.level == Level::ServeNow && v.row.asks_for_a_sear());
    live.centre_c = Some((slow.core_c(bath_min), middle.core_c(bath_min)));
    live.bath_min = Some(bath_min);
    live.probed = probed;
    live.kill = Some(KillSoFar::of(&slow, bath_min, request));
    live.ribbon = bath.ribbon(state.afloat_min(), pulled.is_some());
    Ok(live)
}

/// What a finish has to know of a cook's piece: its profile as it leaves the bath, and by when it must be eaten.
///
/// Simulated from what really happened to it; before the drop as planned. Of the middle of the spreads: what a sear does
/// is no question of safety, and earns none.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*};
/// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = read_export(EXPORT, now)?.export;
/// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
/// let record = cook.plan_record().expect("planned");
/// let (plan, state) = (record.plan()?, cook.state());
/// let given = for_finish(&record.request, &plan, &state, &cook.water(&state), now)?;
/// assert_eq!(given.thickness, Some(record.request.thickness_mm));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn for_finish(
    request: &PlanRequest,
    plan: &Plan,
    state: &CookState,
    water: &BathHistory,
    now: Timestamp,
) -> Result<Given, HeatError> {
    let dropped = state.when(Milestone::Dropped);
    let pulled = state.when(Milestone::Pulled);
    let stands = live(request, plan, state, water, now)?;
    // As it was, or as it is to be: not before now.
    let pull = pulled.unwrap_or(stands.pull_at.max(now));
    let pieces = request.pieces(stands.finishing.warm_min)?;
    let (piece, began) = match dropped {
        None => (pieces.middle, moved(pull, -planned_min(plan, &stands.finishing))),
        Some(dropped) => {
            let (water, began) = known_water(request, state, water, dropped, pulled.unwrap_or(now));
            let slowed = water.slowed_w_m2k().map(|s| s.1);
            (as_it_was(pieces.middle, request, state, &water, began, slowed), began)
        }
    };
    let bath_min = Minutes::between(began, pull).max(Minutes::new(1.0));
    let run = piece.run_until(bath_min, &[bath_min])?;
    let profile = run.solution.profiles.last().map(|p| run.by_depth(p));
    // By when it is to be eaten if it is pulled then and as it is then.
    let eat_by = match (dropped, pulled) {
        (Some(_), Some(_)) => stands.eat_by,
        (Some(_), None) => state
            .apply(&pulled_at(pull))
            .ok()
            .map(|then| live(request, plan, &then, water, pull))
            .transpose()?
            .and_then(|l| l.eat_by),
        _ => None,
    };
    Ok(Given {
        thickness: Some(request.thickness_mm),
        start: profile.map(Start::Profile),
        bath: Some(request.bath_c),
        pull: Some(pull),
        within_s: eat_by.map(|t| Minutes::between(pull, t).seconds().max(0.0)),
        altitude_m: request.rules.altitude_m,
        lid_low: Some(request.rules.lid_low_k),
    })
}

/// A pull that may come.
fn pulled_at(at: Timestamp) -> Event {
    let (id, by) = (uuid::Uuid::nil(), String::new());
    Event { id, happened_at: at, recorded_at: at, by, kind: EventKind::Pulled }
}

/// What is known of the water up to an instant, and from when on the piece cooked in it. What floats is not cooking: on
/// the safe side, the minutes afloat count as waiting before the drop, and on every growth clock.
fn known_water(
    request: &PlanRequest,
    state: &CookState,
    water: &BathHistory,
    dropped: Timestamp,
    until: Timestamp,
) -> (BathHistory, Timestamp) {
    let began = later(dropped, state.afloat_min()).unwrap_or(dropped);
    (water.less(request.rules.bath_error_c).until(until), began)
}

/// The piece in the bath as it was read, where there are readings, after the minutes it was afloat; in water that stood
/// still with no more than a coefficient, W/m²K: it may have been planned for one that is moved.
fn as_it_was<'a>(
    mut piece: Piece<'a>,
    request: &PlanRequest,
    state: &CookState,
    water: &BathHistory,
    began: Timestamp,
    slowed_w_m2k: Option<f64>,
) -> Piece<'a> {
    // What is read or set hotter than water boils here is not so.
    let boils = BathTrace::constant(boiling_c(request.rules.altitude_m));
    if let Some(trace) = water.trace(began).map(|trace| trace.lower_of(&boils)) {
        // What is only set drops and warms as the plan reckoned with, until somebody reads otherwise.
        let reckoned = water.only_set() && piece.takes_load;
        piece.bath = if reckoned { trace.lower_of(&piece.bath) } else { trace };
    }
    piece.around.waited_min += state.afloat_min();
    piece.coefficient = slowed_w_m2k.map_or(piece.coefficient, |most| piece.coefficient.min(most));
    piece
}

impl Live {
    /// How many minutes later (below zero: sooner) than planned it is on the plate, where that is worth saying while
    /// there is still a dinner to come.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let record = cook.plan_record().expect("planned");
    /// let (plan, state) = (record.plan()?, cook.state());
    /// let now = live(&record.request, &plan, &state, &cook.water(&state), now)?;
    /// assert_eq!(now.dinner_moved_min(&plan), None, "it was eaten");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn dinner_moved_min(&self, plan: &Plan) -> Option<Minutes> {
        const WORTH_SAYING_MIN: Minutes = Minutes::new(2.0);
        let over = matches!(self.stage, Stage::Chilled | Stage::Eaten | Stage::Discarded);
        let moved = Minutes::between(plan.times.serve, self.serve_at);
        (!over && moved.abs() >= WORTH_SAYING_MIN).then_some(moved)
    }

    /// A cook of which nothing is known yet but when it is to be pulled.
    fn blank(stage: Stage, pull_at: Timestamp, next: Next) -> Self {
        Self {
            stage,
            centre_c: None,
            next,
            next_at: None,
            through_at: None,
            pasteurised_at: None,
            best_until: None,
            clock_out: None,
            eat_by: None,
            pull_at,
            serve_at: pull_at,
            verdict: None,
            bath_min: None,
            ribbon: LiveRibbon { drop: pull_at, bands: Vec::new(), horizon_min: Minutes::ZERO },
            finishing: Finishing {
                steps: Vec::new(),
                warm_min: Minutes::ZERO,
                chilled_in_time: None,
                chosen: None,
            },
            heat_at: None,
            sear_owed: false,
            kill: None,
            probed: None,
        }
    }
}

/// Minutes in the bath as planned: a chosen finish that takes longer than the plan reckoned with is begun earlier, where
/// the piece needs no longer; one that is shorter leaves the pull where it is.
fn planned_min(plan: &Plan, finishing: &Finishing) -> Minutes {
    let longer = (finishing.minutes() - plan.finish_min).max(Minutes::ZERO);
    (plan.bath_min - longer).max(plan.needed_min.min(plan.bath_min))
}

/// When what it is seared on is to be heated.
fn heat_at(finishing: &Finishing, pull_at: Timestamp) -> Option<Timestamp> {
    let chosen = finishing.chosen.as_ref()?;
    let ready = chosen.heated()?.ready_in(chosen.hearth_c);
    Some(moved(pull_at, finishing.until_sear_min()? - ready))
}

/// Before the drop.
fn waiting(
    plan: &Plan,
    (bath_min, finish_min): (Minutes, Minutes),
    state: &CookState,
    now: Timestamp,
) -> Live {
    let ribbon =
        LiveRibbon { drop: plan.times.drop_by, bands: plan.bands.clone(), horizon_min: plan.horizon_min };
    if state.stage() == Stage::Discarded {
        let next = Next::ThrownAway { cooked: false };
        return Live { ribbon, ..Live::blank(Stage::Discarded, plan.times.pull, next) };
    }
    let late = Minutes::between(plan.times.drop_by, now).max(Minutes::ZERO);
    let late_min = Some(late).filter(|late| *late >= Minutes::new(1.0));
    let sooner = plan.bath_min - bath_min;
    let serve = moved(plan.times.serve, finish_min - plan.finish_min - sooner);
    Live {
        next_at: Some(plan.times.drop_by),
        serve_at: later(serve, late).unwrap_or(serve),
        ribbon,
        ..Live::blank(Stage::Waiting, moved(plan.times.pull, -sooner), Next::Drop { late_min })
    }
}

/// A piece in the bath.
struct InBath<'a> {
    plan: &'a Plan,
    planned_min: Minutes,
    slow: &'a Run<'a>,
    bath_min: Minutes,
    /// The real drop, and when it began to cook: later by the minutes afloat.
    dropped: Timestamp,
    began: Timestamp,
}

impl InBath<'_> {
    /// When it is to be pulled, minutes from when it began to cook: as planned, or when it is ready if that
    /// is later.
    fn pull_min(&self) -> Minutes {
        self.ready_min().map_or(self.planned_min, |r| r.ceil().max(self.planned_min))
    }

    /// Pasteurised where it must be, else heated through.
    fn ready_min(&self) -> Option<Minutes> {
        if self.plan.must_pasteurise { self.pasteurised_min() } else { self.slow.done_min() }
    }

    fn pasteurised_min(&self) -> Option<Minutes> {
        self.slow.safe_from_min()
    }

    /// From when on it is refused in this bath.
    fn refused_min(&self) -> Option<Minutes> {
        self.slow.refused_from_min().filter(|m| *m > Minutes::ZERO)
    }

    fn live(&self) -> Live {
        let verdict = self.slow.quick_verdict_at(self.bath_min);
        let at = |min: Option<Minutes>| min.and_then(|m| later(self.began, m));
        let (next, next_min) = self.next(&verdict);
        Live {
            next_at: at(next_min),
            through_at: at(self.slow.done_min()),
            pasteurised_at: at(self.pasteurised_min()),
            best_until: later(self.dropped, self.plan.best_until.fast),
            clock_out: at(self.refused_min()),
            verdict: Some(verdict),
            ..Live::blank(Stage::InBath, at(Some(self.pull_min())).unwrap_or(self.began), next)
        }
    }

    /// What to do next, and at which minute.
    fn next(&self, verdict: &Verdict) -> (Next, Option<Minutes>) {
        let (min, pasteurised) = (self.bath_min, self.pasteurised_min());
        let to_come = pasteurised.filter(|p| *p > min);
        if verdict.level == Level::Refused && verdict.row == Rule::Growth {
            return match to_come {
                Some(p) => (Next::LeaveIn { more_min: p - min }, to_come),
                None => (Next::DoNotServe, None),
            };
        }
        let pull = Some(self.pull_min());
        match self.ready_min() {
            Some(r) if min < r && self.plan.must_pasteurise => {
                (Next::Pull(Pull::PasteurisedIn(r - min)), pull)
            }
            Some(r) if min < r => (Next::Pull(Pull::ThroughIn(r - min)), pull),
            Some(_) if min < self.planned_min => (Next::Pull(Pull::Waits), pull),
            Some(_) => (Next::Pull(self.how_long_it_may_wait()), None),
            None => (Next::Pull(Pull::NeverThrough), pull),
        }
    }

    fn how_long_it_may_wait(&self) -> Pull {
        let best_left = self.plan.best_until.fast - self.bath_min;
        match self.refused_min() {
            Some(c) => Pull::Within((c - self.bath_min).max(Minutes::ZERO)),
            None if best_left > Minutes::ZERO => Pull::BestFor(best_left),
            None => Pull::PastBest,
        }
    }

    /// The ribbon from the real drop: what was afloat is still warming. It ends at the pull.
    fn ribbon(&self, afloat_min: Minutes, pulled: bool) -> LiveRibbon {
        let slow = self.slow;
        let best = self.plan.best_until.fast - afloat_min;
        let usual = horizon(self.pull_min(), best, self.pasteurised_min(), self.refused_min());
        let ends = if pulled { self.bath_min } else { usual.max(self.bath_min) };
        let through = slow.done_min().unwrap_or(Minutes::NEVER);
        let mut bands = bands(slow, through, best, ends);
        for (i, band) in bands.iter_mut().enumerate() {
            band.from_min += if i == 0 { Minutes::ZERO } else { afloat_min };
            band.until_min += afloat_min;
        }
        LiveRibbon { drop: self.dropped, bands, horizon_min: ends + afloat_min }
    }
}

/// A piece out of the bath.
struct OutOfBath<'a> {
    finishing: &'a Finishing,
    state: &'a CookState,
    slow: &'a Run<'a>,
    bath_min: Minutes,
    pulled: Timestamp,
    now: Timestamp,
}

impl OutOfBath<'_> {
    fn live(&self) -> Live {
        let at_pull = self.slow.facts_at_pull(self.bath_min);
        let ended = self.state.ended();
        let until = ended.unwrap_or(self.now).min(self.now).max(self.pulled);
        let cooled = self.minutes_cooling(until);
        let chilled = self.state.when(Milestone::Chilled);
        let verdict = self.verdict(&at_pull, cooled, chilled);
        let spans = self.slow.spans_after(self.bath_min);
        let runs_out = spans.iter().find(|s| s.from_min > cooled && s.level > verdict.level);
        let eat_by = runs_out
            .filter(|_| ended.is_none() && verdict.level != Level::Refused)
            .and_then(|s| later(self.now, s.from_min - cooled));
        let stage = self.state.stage();
        let (next, next_at) = match stage {
            Stage::Eaten => (Next::Rate, None),
            Stage::Discarded => (Next::ThrownAway { cooked: true }, None),
            _ if verdict.level == Level::Refused => (Next::NotServed(Box::new(verdict.clone())), None),
            Stage::Chilled => (Next::KeepCold, None),
            _ => self.finishing(stage, &verdict, runs_out, eat_by),
        };
        Live { next_at, eat_by, verdict: Some(verdict), ..Live::blank(stage, self.pulled, next) }
    }

    /// Minutes that count as cooling since the pull, to `until`. A hot hold counts as none from one reading
    /// of 57 °C or more to the next, if they are close enough; whoever stops reading is on the clock again.
    fn minutes_cooling(&self, until: Timestamp) -> Minutes {
        let l = limits();
        let hot = |c: Celsius| c >= l.hot_hold_c.celsius();
        let mut last = (self.pulled, hot(self.slow.core_c(self.bath_min)));
        let mut counted = Minutes::ZERO;
        for (at, c) in self.state.hot_checks().into_iter().filter(|(at, _)| *at <= until) {
            let gap = Minutes::between(last.0, at);
            if !(last.1 && hot(c) && gap <= l.hot_check_min.minutes()) {
                counted += gap;
            }
            last = (at, hot(c));
        }
        counted + Minutes::between(last.0, until).max(Minutes::ZERO)
    }

    /// The verdict for eating it now, or for how it ended. What is planned between the pull and the plate
    /// counts from the start.
    fn verdict(&self, at_pull: &Facts, cooled: Minutes, chilled: Option<Timestamp>) -> Verdict {
        let l = limits();
        if let Some(chilled) = chilled {
            let took = Minutes::between(self.pulled, chilled);
            let in_time = took <= cooling().stage_2_min.minutes();
            let cold = judge(&at_pull.eaten_after(if in_time { Minutes::ZERO } else { took }), l);
            // Only what was pasteurised is kept.
            return if cold.level == Level::ServeNow { not_to_be_stored(cold) } else { cold };
        }
        let ended = self.state.ended().is_some();
        let after = if ended { cooled } else { cooled.max(self.finishing.warm_min) };
        judge(&at_pull.eaten_after(after), l)
    }

    /// What to do between the pull and the plate, and by when.
    fn finishing(
        &self,
        stage: Stage,
        verdict: &Verdict,
        runs_out: Option<&Span>,
        eat_by: Option<Timestamp>,
    ) -> (Next, Option<Timestamp>) {
        let (step, after) = finish_step(self.finishing, stage);
        let late = Minutes::between(self.pulled, self.now) > self.finishing.minutes();
        let Some(by) = eat_by.filter(|_| late) else {
            return (Next::Finish(step), later(self.pulled, after));
        };
        let left_min = Minutes::between(self.now, by).max(Minutes::ZERO);
        let then_not_at_risk = runs_out.is_some_and(|s| s.level == Level::ServeNow);
        let next = match verdict.level {
            Level::Pasteurized | Level::Exempt => Next::EatHoldOrChill { left_min, then_not_at_risk },
            _ => Next::Eat { left_min, then_not_at_risk },
        };
        (next, Some(by))
    }
}

/// What to do after the pull, and how many minutes after it.
fn finish_step(finishing: &Finishing, stage: Stage) -> (FinishStep, Minutes) {
    let steps = &finishing.steps;
    let first = (steps[0].clone(), Minutes::ZERO);
    let sear = steps.iter().find(|s| s.id == "sear").zip(finishing.until_sear_min());
    match (stage, sear) {
        (Stage::Pulled, _) if steps.iter().any(|s| s.id == "dry") => first,
        (Stage::Pulled | Stage::Dried, Some((step, after))) => (step.clone(), after),
        (Stage::Pulled, None) => first,
        _ => (steps[steps.len() - 1].clone(), finishing.minutes()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{KitchenRules, PlanForm, Setting, plan};
    use crate::sear::{After, ChosenFinish, Pattern, Pause};
    use crate::units::Units;
    use uuid::Uuid;

    fn setup(bath: &str, guests: &str) -> (PlanRequest, Plan, Timestamp) {
        let now: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
        let form = PlanForm {
            intact: "whole".into(),
            bath: bath.into(),
            guests: guests.into(),
            ..PlanForm::default()
        };
        let rules = KitchenRules::default();
        let r = form.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules));
        let request = r.request.expect("complete");
        let p = plan(&request, now).expect("a plain piece");
        (request, p, now)
    }

    fn at(base: Timestamp, min: f64) -> Timestamp {
        later(base, Minutes::new(min)).expect("in range")
    }

    fn state(base: Timestamp, events: &[(f64, EventKind)]) -> CookState {
        let events: Vec<Event> = events
            .iter()
            .enumerate()
            .map(|(n, (min, kind))| Event {
                id: Uuid::from_u128(n as u128 + 1),
                happened_at: at(base, *min),
                recorded_at: at(base, *min),
                by: "cook".into(),
                kind: kind.clone(),
            })
            .collect();
        CookState::of(&events)
    }

    #[test]
    fn the_clock_starts_with_the_drop_and_not_with_the_plan() {
        let (request, p, now) = setup("55 °C", "well");
        let before =
            live(&request, &p, &state(now, &[]), &BathHistory::default(), at(now, 5.0)).expect("simulates");
        assert_eq!((before.stage, before.centre_c), (Stage::Waiting, None));
        // Dropped an hour after the plan said.
        let late = state(p.times.drop_by, &[(60.0, EventKind::Dropped)]);
        let reading = BathHistory::set(p.times.drop_by, Celsius::new(55.0));
        let l = live(&request, &p, &late, &reading, at(p.times.drop_by, 100.0)).expect("simulates");
        assert_eq!(l.next_at, Some(at(p.times.drop_by, 60.0 + p.bath_min.value())));
        // And dinner moves by as much.
        assert!(
            l.dinner_moved_min(&p).is_some_and(|m| (m - Minutes::new(60.0)).abs() < Minutes::new(1.5)),
            "{:?}",
            l.serve_at
        );
        assert_eq!(before.dinner_moved_min(&p), None);
        let (slow, middle) = l.centre_c.expect("in the bath");
        assert!(
            Celsius::new(5.0) < slow && slow < middle && middle < Celsius::new(50.0),
            "{slow:?} {middle:?}"
        );
    }

    #[test]
    fn a_colder_reading_delays_and_never_hastens() {
        let (request, p, now) = setup("55 °C", "at-risk");
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let steady = BathHistory::set(now, Celsius::new(55.0));
        // Read every five minutes: a little too cold for a while.
        let read = |k: u32| {
            (at(now, f64::from(k) * 5.0), Celsius::new(if (12..18).contains(&k) { 54.5 } else { 55.0 }))
        };
        let sagging = BathHistory { readings: (0..=20).map(read).collect(), ..steady.clone() };
        let a = live(&request, &p, &s, &steady, at(now, 100.0)).expect("simulates");
        let b = live(&request, &p, &s, &sagging, at(now, 100.0)).expect("simulates");
        assert!(b.pasteurised_at > a.pasteurised_at, "{:?} {:?}", a.pasteurised_at, b.pasteurised_at);
        assert_eq!(a.verdict.map(|v| v.level), Some(Level::Refused));
    }

    /// Table of boiling water by altitude, "common practice": about 87 °C at 4,000 m.
    #[test]
    fn no_water_is_hotter_than_it_boils_here() {
        let (mut request, p, now) = setup("70 °C", "at-risk");
        request.rules.altitude_m = 4000.0;
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let with = |c: f64| {
            let water = BathHistory {
                readings: vec![(now, Celsius::new(c))],
                ..BathHistory::set(now, Celsius::new(c))
            };
            live(&request, &p, &s, &water, at(now, 30.0)).expect("simulates")
        };
        let (most, boils, less) = (with(99.0), with(boiling_c(4000.0) + 0.5), with(84.0));
        assert_eq!((most.through_at, most.centre_c), (boils.through_at, boils.centre_c));
        assert!(less.centre_c < most.centre_c);
    }

    #[test]
    fn a_bag_moved_into_still_water_warms_as_slowly_as_there() {
        let (request, p, now) = setup("57 °C", "at-risk");
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let safe = |water: &BathHistory| {
            live(&request, &p, &s, water, at(now, 30.0))
                .expect("simulates")
                .pasteurised_at
                .expect("it gets there")
        };
        let set = BathHistory::set(now, Celsius::new(57.0));
        let still = BathHistory { still: true, ..set.clone() };
        let moved = |to| safe(&set.clone().then(at(now, 20.0), to));
        assert!(moved(still) > later(moved(set.clone()), Minutes::new(5.0)).expect("in range"));
    }

    /// A finish starts from what really happened to the piece: colder where it went in late, or lay in still or cold water.
    #[test]
    fn a_finish_starts_from_the_piece_as_it_really_is() {
        let (request, p, now) = setup("57 °C", "well");
        let out = 30.0;
        let s = state(now, &[(0.0, EventKind::Dropped), (out, EventKind::Pulled)]);
        let middle = |water: &BathHistory| {
            let given = for_finish(&request, &p, &s, water, at(now, out)).expect("simulates");
            let Some(Start::Profile(points)) = given.start else { panic!("no profile") };
            assert!(
                points.windows(2).all(|w| w[0].0 < w[1].0 && w[0].1 >= w[1].1),
                "warmer outside: {points:?}"
            );
            points[points.len() - 1].1
        };
        let set = BathHistory::set(now, Celsius::new(57.0));
        let plain = middle(&set);
        let live = live(&request, &p, &s, &set, at(now, out)).expect("simulates");
        let shown = live.centre_c.expect("pulled").1.value();
        assert!((plain - shown).abs() < 0.2, "{plain} in the finish, {shown} on the cook's page");
        assert!(middle(&BathHistory { still: true, ..set.clone() }) < plain - 1.0);
        assert!(middle(&BathHistory::set(now, Celsius::new(50.0))) < plain - 1.0);
        // No water is hotter than it boils.
        let boiling = middle(&BathHistory::set(now, Celsius::new(100.0)));
        assert!((middle(&BathHistory::set(now, Celsius::new(130.0))) - boiling).abs() < 0.2);
    }

    /// The probe sits in a piece that is thicker, or thinner, than it was said to be: by simulation of that piece.
    #[test]
    fn a_probe_in_the_piece_delays_at_once_and_brings_forward_only_where_it_may() {
        let (request, p, now) = setup("57 °C", "at-risk");
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let safe = |water: &BathHistory| {
            let l = live(&request, &p, &s, water, at(now, 60.0)).expect("simulates");
            (l.pasteurised_at.expect("it gets there"), l.probed)
        };
        let plain = BathHistory::set(now, Celsius::new(57.0));
        let (without, none) = safe(&plain);
        assert_eq!(none, None);
        let probe = |mm: f64, may_advance: bool| {
            let pieces = request.pieces(Minutes::ZERO).expect("simulates");
            let real = pieces.slow.cut_to(crate::units::Length::from_mm(mm));
            let run = real.run(&[]).expect("simulates");
            let read = |k: u32| {
                let min = f64::from(k) * 4.0;
                (at(now, min), run.core_c(Minutes::new(min)))
            };
            let readings = (1..=14).map(read).collect();
            let log = ProbeLog { name: "thin probe".into(), readings, may_advance };
            safe(&BathHistory { probe: Some(log), ..plain.clone() })
        };
        let stated = request.thickness_mm.mm();
        let (thicker, told) = probe(stated + 8.0, false);
        assert!(thicker > without, "{thicker} {without}");
        let told = told.expect("read for long enough");
        assert!(told.read.1 < told.estimate && (told.fit.value - stated - 8.0).abs() < 0.5);
        assert_eq!(probe(stated - 8.0, false).0, without, "nobody confirmed where it is");
        assert!(probe(stated - 8.0, true).0 < without);
        // It slips out into the water: whatever it reads then brings nothing forward.
        let slipped =
            (1..=14).map(|k| (at(now, f64::from(k) * 4.0), Celsius::new(if k < 7 { 12.0 } else { 57.0 })));
        let slipped = ProbeLog { name: "p".into(), readings: slipped.collect(), may_advance: true };
        assert!(safe(&BathHistory { probe: Some(slipped), ..plain.clone() }).0 >= without);
        // Four readings may delay, and no more.
        let few = |c: f64| {
            let readings = vec![(at(now, 20.0), Celsius::new(c)); 4];
            let log = ProbeLog { name: "p".into(), readings, may_advance: true };
            safe(&BathHistory { probe: Some(log), ..plain.clone() })
        };
        assert!(few(10.0).0 > without);
        assert_eq!(few(50.0).0, without);
    }

    /// A finish of a minute a face on a baking stone, after so many minutes in air.
    fn on_a_stone(pause_min: f64) -> EventKind {
        let pattern = Pattern {
            pause: Pause::Air,
            pause_s: pause_min * 60.0,
            face_s: 60.0,
            times: 1,
            after: After::resting(60.0),
        };
        EventKind::FinishChosen(Box::new(ChosenFinish {
            hearth: "stone".into(),
            hearth_c: Some(Celsius::new(330.0)),
            fat: "oil".into(),
            brown: "brown".into(),
            wanted_c: Celsius::new(55.0),
            pieces: 1,
            pattern,
        }))
    }

    #[test]
    fn a_chosen_finish_moves_the_pull_forward_where_it_may_and_says_when_to_heat() {
        let (mut request, _, now) = setup("55 °C", "well");
        // An hour more than it needs.
        request.time_min = Some(plan(&request, now).expect("a plain piece").needed_min + Minutes::new(60.0));
        let p = plan(&request, now).expect("a plain piece");
        let seen = |events: &[(f64, EventKind)]| {
            let s = state(p.times.drop_by, events);
            live(&request, &p, &s, &BathHistory::default(), at(p.times.drop_by, 1.0)).expect("simulates")
        };
        // 30 min in air, 2 min on the heat, a minute of rest and the food's own 2 min to the plate.
        let longer = Minutes::new(30.0 + 2.0 + 1.0 + 2.0) - p.finish_min;
        for dropped in [vec![], vec![(0.0, EventKind::Dropped)]] {
            let plain = seen(&dropped);
            assert_eq!((plain.pull_at, plain.heat_at), (p.times.pull, None));
            let chosen = seen(&[dropped.clone(), vec![(0.5, on_a_stone(30.0))]].concat());
            assert_eq!(chosen.pull_at, moved(p.times.pull, -longer));
            assert_eq!(chosen.serve_at, plain.serve_at, "the dinner stays where it is");
            let sear_at = moved(chosen.pull_at, Minutes::new(30.0));
            let ready =
                crate::sear::Hearth::named("stone").expect("shipped").ready_in(Some(Celsius::new(330.0)));
            assert_eq!(chosen.heat_at, Some(moved(sear_at, -ready)));
            assert!(ready > Minutes::new(30.0), "a stone takes its time");
            // Two hours in air would want it out before it is heated through: dinner moves instead.
            let late = seen(&[dropped.clone(), vec![(0.5, on_a_stone(115.0))]].concat());
            let earliest = moved(p.times.drop_by, p.needed_min);
            assert!(late.pull_at == earliest && late.serve_at > plain.serve_at, "{late:?}");
        }
    }

    #[test]
    fn no_verdict_gets_better_by_a_chosen_finish() {
        let (request, p, now) = setup("54 °C", "well");
        let out = 180.0;
        let base = [(0.0, EventKind::Dropped), (out, EventKind::Pulled)];
        let seen = |more: Option<EventKind>, after: f64| {
            let mut events = base.to_vec();
            events.extend(more.map(|m| (out + 0.5, m)));
            live(&request, &p, &state(now, &events), &BathHistory::default(), at(now, out + after))
                .expect("simulates")
        };
        for after in [1.0, 20.0, 60.0, 100.0, 130.0] {
            let plain = seen(None, after);
            for pause in [0.0, 10.0, 60.0, 120.0] {
                let chosen = seen(Some(on_a_stone(pause)), after);
                let level = |l: &Live| l.verdict.as_ref().map(|v| v.level);
                assert!(level(&chosen) >= level(&plain), "{pause} {after}: {chosen:?}");
                // As good, and for no longer.
                let until = |l: &Live| l.eat_by.map_or(i64::MAX, |t| t.as_second());
                assert!(level(&chosen) > level(&plain) || until(&chosen) <= until(&plain), "{pause} {after}");
            }
        }
        assert!(seen(Some(on_a_stone(0.0)), 1.0).heat_at.is_some());
        // What is seared needs no heat any more.
        let seared = EventKind::Seared { faces_s: vec![60.0, 60.0], covered: None };
        let events = [base.to_vec(), vec![(out + 0.5, on_a_stone(0.0)), (out + 3.0, seared)]].concat();
        let done = live(&request, &p, &state(now, &events), &BathHistory::default(), at(now, out + 4.0));
        assert_eq!(done.expect("simulates").heat_at, None);
    }

    #[test]
    fn a_cold_bath_runs_out_and_then_says_so() {
        let (request, p, now) = setup("51.5 °C", "well");
        let s = state(now, &[(0.0, EventKind::Dropped)]);
        let in_time = live(&request, &p, &s, &BathHistory::default(), at(now, 120.0)).expect("simulates");
        assert_eq!(in_time.verdict.as_ref().map(|v| v.level), Some(Level::ServeNow));
        assert!(in_time.clock_out.is_some());
        let late = live(&request, &p, &s, &BathHistory::default(), at(now, 300.0)).expect("simulates");
        assert_eq!(late.next, Next::DoNotServe);
    }

    #[test]
    fn minutes_afloat_count_as_waiting_and_not_as_cooking() {
        let (request, p, now) = setup("55 °C", "at-risk");
        let good = state(now, &[(0.0, EventKind::Dropped)]);
        let afloat = state(
            now,
            &[(0.0, EventKind::Dropped), (50.0, EventKind::Floated { afloat_min: Minutes::new(40.0) })],
        );
        let (a, b) = (
            live(&request, &p, &good, &BathHistory::default(), at(now, 60.0)),
            live(&request, &p, &afloat, &BathHistory::default(), at(now, 60.0)),
        );
        let (a, b) = (a.expect("simulates"), b.expect("simulates"));
        let later_by =
            Minutes::between(a.pasteurised_at.expect("reached"), b.pasteurised_at.expect("reached"));
        assert!((later_by - Minutes::new(40.0)).abs() < Minutes::new(1.0), "{later_by:?}");
        assert!(b.centre_c.expect("in").0 < a.centre_c.expect("in").0);
        // The growth clock is not set back by it.
        let (cold, plan_cold, _) = setup("51.5 °C", "well");
        let of = |s: &CookState| {
            live(&cold, &plan_cold, s, &BathHistory::default(), at(now, 60.0)).expect("simulates").clock_out
        };
        let (a, b) = (of(&good).expect("runs out"), of(&afloat).expect("runs out"));
        assert!(b < a, "it was perhaps warm all the while: {a} {b}");
    }

    #[test]
    fn eating_late_counts_on_the_growth_clock() {
        let (request, p, now) = setup("51.5 °C", "well");
        let s = state(now, &[(0.0, EventKind::Dropped), (120.0, EventKind::Pulled)]);
        let soon = live(&request, &p, &s, &BathHistory::default(), at(now, 130.0)).expect("simulates");
        let late = live(&request, &p, &s, &BathHistory::default(), at(now, 300.0)).expect("simulates");
        assert_eq!(soon.verdict.map(|v| v.level), Some(Level::ServeNow));
        assert_eq!(late.verdict.map(|v| v.level), Some(Level::Refused));
    }
}
