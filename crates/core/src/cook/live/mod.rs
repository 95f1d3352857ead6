//! Where a running cook stands now: centre temperature, what to do next and when, the verdict. One result,
//! from one simulation of what really happened, feeds the headline, the times, the ribbon and the steps.
//!
//! What the hands are told ([`Next`]) is a function of the verdict at the minute they would do it; see
//! `docs/decisions/0032-when-the-water-fails.md`.

mod clock;
mod in_bath;
mod mend;
mod next;
mod out_of_bath;
mod probed;
mod simulated;

pub(crate) use clock::PieceClock;
pub use mend::ways_back;
pub use next::{Fault, Mend, Next, Pull, WayBack};
pub use probed::Probed;

use in_bath::InBath;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use out_of_bath::OutOfBath;
use simulated::{Around, Simulated, Unseen, as_it_was};

use super::{CookState, Covered, Event, EventKind, Milestone, Question, Stage};
use crate::bath::{Ahead, BathHistory};
use crate::heat::HeatError;
use crate::piece::Run;
use crate::plan::{Finishing, Plan, PlanRequest, Stretch};
use crate::safety::{Level, Verdict, organisms};
use crate::sear::{Given, Start};
use crate::units::{Celsius, Minutes, moved};

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

/// A cook, now.
#[derive(Debug, Clone, PartialEq)]
pub struct Live {
    /// How far it has come.
    pub stage: Stage,
    /// Estimated centre, °C: the coldest it may be and the middle of the spreads. `None` before the drop;
    /// after the pull, the values at the pull.
    pub centre_c: Option<(Celsius, Celsius)>,
    /// What to do next.
    pub next: Next,
    /// What is wrong with the water it lies in.
    pub fault: Option<Fault>,
    /// What it gives to mend that.
    pub mend: Option<Mend>,
    /// What has to be asked; until it is answered, what is worse counts.
    pub questions: Vec<Question>,
    /// When, if there is a when.
    pub next_at: Option<Timestamp>,
    /// Since when that is to be done, where it is to be done now: until it is done, however late it gets.
    pub due_since: Option<Timestamp>,
    /// Heated through at (slow end), by the actual drop. After the pull there are no forecasts of the bath.
    pub through_at: Option<Timestamp>,
    /// Pasteurised at (slow end), by the actual drop.
    pub pasteurised_at: Option<Timestamp>,
    /// At its best until (fast end), by the actual drop; none while it is to be pulled later than that, as it is.
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
    pub(super) fn of(run: &Run<'_>, min: Minutes, request: &PlanRequest) -> Self {
        let progress = run.progress(min);
        let asked = organisms(&request.food().kill).iter();
        let each =
            asked.zip(&progress.log10).map(|(o, log10)| (o.name.clone(), *log10, o.target(request.at_risk)));
        Self { share: run.kill_share(min).min(1.0), each: each.collect(), code: progress.code }
    }
}

/// Says where a cook stands at `now`, from what was planned, what happened, and what is known of the bath's
/// water. Simulates with the actual drop and bath; what was read after `now`, or after the pull, is
/// not looked at. Days are those of UTC; [`live_here`] takes the kitchen's.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = Export::example();
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
    live_here(request, plan, state, water, (now, &TimeZone::UTC))
}

/// The same in a kitchen's time zone, by whose days what is kept has a last day. Where something that was written down can
/// be meant in several ways, the worst of them.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = Export::example();
/// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
/// let record = cook.plan_record().expect("planned");
/// let (plan, state, zone) = (record.plan()?, cook.state(), jiff::tz::TimeZone::get("Europe/Lisbon")?);
/// let stands = live_here(&record.request, &plan, &state, &cook.water(&state), (now, &zone))?;
/// assert_eq!(stands.stage, Stage::Eaten);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn live_here(
    request: &PlanRequest,
    plan: &Plan,
    state: &CookState,
    water: &BathHistory,
    here: (Timestamp, &TimeZone),
) -> Result<Live, HeatError> {
    let mut worst: Option<Live> = None;
    for meant in state.readings() {
        let one = one_reading(request, plan, &meant, water, here)?;
        if worst.as_ref().is_none_or(|w| one.is_worse_than(w)) {
            worst = Some(one);
        }
    }
    let worst = worst.expect("there is always one");
    Ok(Live { questions: state.questions(), ..worst })
}

/// Where it stands if what was written down is meant so.
fn one_reading(
    request: &PlanRequest,
    plan: &Plan,
    state: &CookState,
    water: &BathHistory,
    (now, zone): (Timestamp, &TimeZone),
) -> Result<Live, HeatError> {
    let finishing = request.finishing()?.finished_by(state.chosen_finish());
    let planned_min = planned_min(request, plan, &finishing, state.when(Milestone::Dropped));
    let Some(dropped) = state.when(Milestone::Dropped) else {
        let live = waiting(plan, (planned_min, finishing.minutes()), state, now);
        return Ok(Live { heat_at: heat_at(&finishing, live.pull_at), finishing, ..live });
    };
    let pulled = state.when(Milestone::Pulled);
    let around = Around::new(request, state, water, dropped, pulled.unwrap_or(now));
    let lies = around.lies();
    let pieces = lies.pieces(finishing.warm_min)?;
    let probed = around.probed(&pieces.slow)?;
    let sim = Simulated::new(&around, &pieces, probed.as_ref(), Ahead::AsItGoes, Unseen::All)?;
    let sim = sim.run()?;
    let bath_min = around.clock.minute(pulled.unwrap_or(now));
    let bath = InBath { plan, planned_min, sim: &sim, bath_min, around: &around };
    let mut live = match pulled {
        None => bath.live((&pieces, &finishing), probed.as_ref(), now)?,
        Some(pulled) => {
            let (slow, finishing) = (&sim.run, &finishing);
            OutOfBath { finishing, state, slow, bath_min, pulled, now, zone }.live()
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
    let (slow, middle) = (sim.shown_c(bath_min), sim.middle_c(bath_min)?);
    // In water that cools a thinner piece is the colder one: as far below the middle as the thicker is above it.
    live.centre_c = Some((slow.min(middle - (slow - middle)), middle));
    live.bath_min = Some(bath_min);
    live.probed = probed;
    live.kill = Some(KillSoFar::of(&sim.run, bath_min, request));
    live.ribbon = bath.ribbon(pulled.is_some(), live.fault);
    Ok(live)
}

fn later(t: Timestamp, min: Minutes) -> Option<Timestamp> {
    t.checked_add(SignedDuration::from_secs(min.seconds().ceil() as i64)).ok()
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
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = Export::example();
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
    let around = dropped.map(|dropped| Around::new(request, state, water, dropped, pulled.unwrap_or(now)));
    let lies = around.as_ref().map(Around::lies);
    let (piece, bath_min) = match around.as_ref().zip(lies.as_ref()) {
        None => (pieces.middle, planned_min(request, plan, &stands.finishing, None)),
        Some((around, lies)) => {
            let middle = lies.pieces(stands.finishing.warm_min)?.middle;
            let shown = around.shown(Ahead::AsItGoes);
            (as_it_was(&middle, around, shown, around.slowed.map(|s| s.1)), around.clock.minute(pull))
        }
    };
    let bath_min = bath_min.max(Minutes::new(1.0));
    let run = piece.run_until(bath_min, &[bath_min])?;
    // No finer than it is known: so what was worked out for it holds until something changes.
    const NEAR_K: f64 = 0.05;
    let near = |(depth, c): (f64, f64)| (depth, (c / NEAR_K).round() * NEAR_K);
    let profile = run.solution.profiles.last().map(|p| run.by_depth(p).into_iter().map(near).collect());
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
        within_s: eat_by.map(|t| Minutes::between(pull, t).floor().seconds().max(0.0)),
        altitude_m: request.rules.altitude_m,
        lid_low: Some(request.rules.lid_low_k),
        pans: request.rules.pans,
    })
}

/// Where a piece that was pulled would stand if it were put back now; nothing where it is not just pulled, or would be due
/// at once.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let export = Export::example();
/// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
/// let record = cook.plan_record().expect("planned");
/// let (plan, state) = (record.plan()?, cook.state());
/// let here = (now, &jiff::tz::TimeZone::UTC);
/// assert!(if_put_back((&record.request, &plan), &state, &cook.water(&state), here)?.is_none(), "it was eaten");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn if_put_back(
    (request, plan): (&PlanRequest, &Plan),
    state: &CookState,
    water: &BathHistory,
    (now, zone): (Timestamp, &TimeZone),
) -> Result<Option<Live>, HeatError> {
    let undo = uuid::Uuid::max();
    let Some(kinds) = state.put_back(undo, now) else { return Ok(None) };
    let mut back = state.clone();
    for (kind, id) in kinds.into_iter().zip([undo, uuid::Uuid::nil()]) {
        let by = crate::who::By::default();
        let event = Event { id, happened_at: now, recorded_at: now, by, kind };
        match back.apply(&event) {
            Ok(next) => back = next,
            Err(_) => return Ok(None),
        }
    }
    let water = BathHistory { away: back.away(), ..water.clone() };
    let stands = live_here(request, plan, &back, &water, (now, zone))?;
    let goes_on = matches!(stands.next, Next::Pull(_)) && stands.due_since.is_none();
    Ok(Some(stands).filter(|_| goes_on))
}

/// A pull that may come.
fn pulled_at(at: Timestamp) -> Event {
    let (id, by) = (uuid::Uuid::nil(), crate::who::By::default());
    Event { id, happened_at: at, recorded_at: at, by, kind: EventKind::Pulled }
}

impl Live {
    /// How many minutes later (below zero: sooner) than planned it is on the plate, where that is worth saying while
    /// there is still a dinner to come.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
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

    /// Whether it stands worse than another: by its verdict, then by what is left.
    fn is_worse_than(&self, other: &Self) -> bool {
        let level = |l: &Self| l.verdict.as_ref().map(|v| v.level);
        let until = |l: &Self| l.eat_by.or(l.clock_out).map_or(i64::MAX, Timestamp::as_second);
        let safe = |l: &Self| l.pasteurised_at.map_or(i64::MAX, Timestamp::as_second);
        let rank = |l: &Self| (level(l), -until(l), safe(l));
        rank(self) > rank(other)
    }

    /// A cook of which nothing is known yet but when it is to be pulled.
    fn blank(stage: Stage, pull_at: Timestamp, next: Next) -> Self {
        Self {
            stage,
            centre_c: None,
            next,
            fault: None,
            mend: None,
            questions: Vec::new(),
            next_at: None,
            due_since: None,
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
/// the piece needs no longer; one that is shorter leaves the pull where it is. What was dropped early waits for the hour that
/// was asked, as long as it is at its best.
fn planned_min(
    request: &PlanRequest,
    plan: &Plan,
    finishing: &Finishing,
    dropped: Option<Timestamp>,
) -> Minutes {
    let longer = (finishing.minutes() - plan.finish_min).max(Minutes::ZERO);
    // Planned anew for an hour while it was in, it is pulled for that hour, though its drop was corrected since.
    let since = request.in_since.filter(|_| request.ready_at.is_some()).zip(dropped);
    let corrected = since.map_or(Minutes::ZERO, |(since, dropped)| Minutes::between(dropped, since));
    let as_planned = (plan.bath_min + corrected - longer).max(plan.needed_min.min(plan.bath_min));
    let waits = request.ready_at.zip(dropped).map_or(Minutes::ZERO, |(asked, dropped)| {
        let late = Minutes::between(asked, plan.times.serve).max(Minutes::ZERO);
        Minutes::between(dropped, plan.times.pull) - late - longer
    });
    as_planned.max(waits.min(plan.best_until.fast))
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
    if plan.is_refused() {
        // It was corrected, or planned for others, since: as it stands now nobody drops it.
        let next = Next::PlanAnew(Box::new(plan.verdict.clone()));
        return Live { ribbon, ..Live::blank(Stage::Waiting, plan.times.pull, next) };
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

#[cfg(test)]
mod tests;
