//! What it gives to mend the water, and what else there is to do.

use jiff::Timestamp;

use super::in_bath::InBath;
use super::next::{Choice, choose};
use super::simulated::{Around, Ran, Simulated, Unseen};
use super::{Mend, Probed, WayBack};
use crate::bath::{Ahead, BathHistory, Mix, mix, usual_taps};
use crate::cook::{CookState, Live, Milestone, Next, Stage};
use crate::figures::{limits, offers};
use crate::heat::HeatError;
use crate::plan::{Finishing, Pieces, Plan, PlanRequest};
use crate::safety::{Facts, Level};
use crate::units::{Celsius, Minutes, moved};

/// A piece whose water is to be mended.
pub(super) struct Mending<'a, 'b> {
    pub(super) bath: &'a InBath<'a>,
    pub(super) pieces: &'a Pieces<'b>,
    pub(super) finishing: &'a Finishing,
    pub(super) probed: Option<&'a Probed>,
    pub(super) now: Timestamp,
}

/// No further than so long from now is a moment looked for by which it must be mended.
const FURTHEST: Minutes = Minutes::from_hours(8.0);

/// Dinner is as late as it was within so much.
const SAME_DINNER: Minutes = Minutes::new(2.0);

/// What must be done within so much is done at once: every minute it waits, dinner waits too.
const AT_ONCE: Minutes = Minutes::new(5.0);

impl Mending<'_, '_> {
    /// What the water is to be, as counted: its instrument's error taken off.
    fn to(&self) -> Celsius {
        self.bath.around.wanted() - self.bath.around.request.reads_high()
    }

    /// When it is pulled, in its own minutes, where the water is so warm from an instant on; nothing where it then never
    /// becomes safe and warm.
    fn pulled_if(&self, at: Timestamp, celsius: Celsius) -> Result<Option<Minutes>, HeatError> {
        let sim = self.simulated(at, celsius)?;
        let ran = sim.run()?;
        Ok(self.chosen(&ran))
    }

    fn simulated(&self, at: Timestamp, celsius: Celsius) -> Result<Simulated<'_>, HeatError> {
        let unseen = Unseen::Only(&self.bath.sim.worst);
        let ahead = Ahead::Mended { at, celsius };
        Simulated::new(self.bath.around, self.pieces, self.probed, ahead, unseen)
    }

    fn chosen(&self, ran: &Ran<'_>) -> Option<Minutes> {
        let through = ran.through_min()?;
        let allowed = ran.allowed(self.bath.bath_min);
        match choose(&allowed, Some(through), self.bath.planned_min, self.bath.bath_min) {
            Choice::Pull { at, .. } if at >= through => Some(at),
            _ => None,
        }
    }

    /// What mending it gives; nothing where it gives nothing.
    pub(super) fn mend(&self, going: Choice) -> Result<Option<Mend>, HeatError> {
        let to = self.to();
        let Some(now) = self.pulled_if(self.now, to)? else { return Ok(None) };
        let within = |min: Minutes| moved(self.now, min);
        // What was tried is not tried again.
        let mut tried: Vec<(Minutes, Option<Minutes>)> = vec![(Minutes::ZERO, Some(now))];
        let mut pulled_after = |min: Minutes| -> Result<Option<Minutes>, HeatError> {
            if let Some((_, pull)) = tried.iter().find(|t| t.0 == min) {
                return Ok(*pull);
            }
            let pull = self.pulled_if(within(min), to)?;
            tried.push((min, pull));
            Ok(pull)
        };
        let by = latest((Minutes::ZERO, FURTHEST), |min| Ok(pulled_after(min)?.is_some()))?;
        // Mostly every minute costs dinner another, and then no moment has to be looked for.
        let keeps = latest((AT_ONCE, FURTHEST), |min| {
            Ok(pulled_after(min)?.is_some_and(|pull| pull <= now + SAME_DINNER))
        })?;
        let clock = |min: Minutes| {
            // A whole minute, and never later than was found.
            let at = within(min);
            Timestamp::from_second(at.as_second().div_euclid(60) * 60).unwrap_or(at).max(self.now)
        };
        let pull_at = self.bath.around.clock.instant(now);
        let or_pull_by = match going {
            Choice::Pull { until: Some(until), .. } => {
                let whole = until.whole_before().max(self.bath.bath_min);
                Some(self.bath.around.clock.instant(whole))
            }
            _ => None,
        };
        Ok(Some(Mend {
            now: self.now,
            to: self.bath.around.wanted(),
            pull_at,
            serve_at: moved(pull_at, self.finishing.minutes()).max(self.now),
            keeps_dinner_by: keeps.map(clock),
            by: by.map(clock),
            or_pull_by,
            kettle: self.kettle(),
        }))
    }

    /// Hot water that brings it there at once, where the vessel is known.
    fn kettle(&self) -> Option<(Mix, Celsius)> {
        let water = self.bath.around.water.last();
        let falls = water.falls.as_ref()?;
        let read = water.readings.last()?;
        let kettle = usual_taps().kettle_c;
        let (now, to) = (read.celsius.value(), self.bath.around.wanted().value());
        let found = mix(falls.usual.litres, falls.brim_l, (now, to, kettle)).ok()?;
        (found.add_l > 0.0).then_some((found, Celsius::new(kettle)))
    }

    /// The coldest setting at which it becomes safe and warm all the same, where there is one.
    pub(super) fn raise_to(&self) -> Result<Option<Celsius>, HeatError> {
        let around = self.bath.around;
        let error = around.request.reads_high();
        let step = offers().undercooked_step_k.kelvin();
        let from = (around.wanted() + step).ceil(step);
        let food = around.request.food();
        let hottest = food.bath_c.high.min(self.pieces.slow.boils_c).min(offers().hottest_c.celsius());
        let steps = ((hottest - from) / step).floor();
        if steps < 0.0 {
            return Ok(None);
        }
        let serves = |n: f64| -> Result<bool, HeatError> {
            let c = from + step * n;
            let sim = self.simulated(self.now, c - error)?;
            let ran = sim.run()?;
            Ok(!ran.allowed(self.bath.bath_min).is_empty())
        };
        if !serves(steps)? {
            return Ok(None);
        }
        let (mut cold, mut hot) = (-1.0, steps);
        while hot - cold > 1.0 {
            let middle = ((cold + hot) / 2.0_f64).floor();
            if serves(middle)? { hot = middle } else { cold = middle }
        }
        Ok(Some(from + step * hot))
    }
}

/// The latest minute between two for which it is still so, looked for by halves; nothing where it is not so for the first,
/// or still so for the last.
fn latest(
    (first, last): (Minutes, Minutes),
    mut is_so: impl FnMut(Minutes) -> Result<bool, HeatError>,
) -> Result<Option<Minutes>, HeatError> {
    const NEAR: Minutes = Minutes::new(2.0);
    if !is_so(first)? || is_so(last)? {
        return Ok(None);
    }
    let (mut so, mut not) = (first, last);
    while not - so > NEAR {
        let middle = (so + not) / 2.0;
        if is_so(middle)? { so = middle } else { not = middle }
    }
    Ok(Some(so))
}

/// Every way back of a piece in trouble, each computed: heat, kettle, another bath that runs (by name, as counted), the pan,
/// ice, the bin. Empty where nothing is wrong.
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
/// let stands = live(&record.request, &plan, &state, &cook.water(&state), now)?;
/// let ways = ways_back((&record.request, &plan), &state, &cook.water(&state), &stands, &[], now)?;
/// assert!(ways.is_empty(), "it was eaten");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn ways_back(
    (request, plan): (&PlanRequest, &Plan),
    state: &CookState,
    water: &BathHistory,
    stands: &Live,
    others: &[(String, Celsius)],
    now: Timestamp,
) -> Result<Vec<WayBack>, HeatError> {
    let Some(dropped) = state.when(Milestone::Dropped).filter(|_| stands.stage == Stage::InBath) else {
        return Ok(Vec::new());
    };
    let troubled = stands.fault.is_some() || matches!(stands.next, Next::NotHere { .. } | Next::ThrowAway(_));
    if !troubled {
        return Ok(Vec::new());
    }
    let finishing = request.finishing()?.finished_by(state.chosen_finish());
    let around = Around::new(request, state, water, dropped, now);
    let lies = around.lies();
    let pieces = lies.pieces(finishing.warm_min)?;
    let probed = around.probed(&pieces.slow)?;
    let sim = Simulated::new(&around, &pieces, probed.as_ref(), Ahead::AsItGoes, Unseen::All)?;
    let ran = sim.run()?;
    let bath_min = around.clock.minute(now);
    let planned_min = super::planned_min(request, plan, &finishing, Some(dropped));
    let bath = InBath { plan, planned_min, sim: &ran, bath_min, around: &around };
    let mending =
        Mending { bath: &bath, pieces: &pieces, finishing: &finishing, probed: probed.as_ref(), now };
    let mut all = in_its_own_bath(stands);
    for (name, celsius) in others {
        if let Some(pull) = mending.pulled_if(now, *celsius - request.rules.bath_error_c)? {
            let pull_at = around.clock.instant(pull);
            let serve_at = moved(pull_at, finishing.minutes()).max(now);
            all.push(WayBack::Bath { name: name.clone(), celsius: *celsius, pull_at, serve_at });
        }
    }
    let (verdict, spoiled) = (ran.run.quick_verdict_at(bath_min), ran.is_past_mending(bath_min));
    match verdict.level {
        Level::Pasteurized => all.push(WayBack::Chill),
        Level::ServeNow => {
            let until = ran.refused_min().map(|m| around.clock.instant(m));
            all.push(WayBack::PullNow { until });
        }
        Level::Exempt | Level::Refused => {}
    }
    if !spoiled {
        all.extend(cooked_through(&ran.run.facts(bath_min), now));
    }
    if spoiled || (verdict.level == Level::Refused && all.is_empty()) {
        all.push(WayBack::ThrowAway);
    }
    Ok(all)
}

/// Heat again in the bath it lies in, or a reading of it where nobody knows; and water from the kettle.
fn in_its_own_bath(stands: &Live) -> Vec<WayBack> {
    let Some(m) = &stands.mend else { return Vec::new() };
    let (pull_at, serve_at) = (m.pull_at, m.serve_at);
    let unseen = stands.fault.is_some_and(|f| f.is_of_sight());
    let first =
        if unseen { WayBack::Read { pull_at, serve_at } } else { WayBack::Heat { pull_at, serve_at } };
    let kettle = m.kettle.map(|(mix, kettle)| WayBack::Kettle { mix, kettle, to: m.to });
    std::iter::once(first).chain(kettle).collect()
}

/// In a pan or an oven, to the code's temperature, while its clocks leave the time.
fn cooked_through(facts: &Facts, now: Timestamp) -> Option<WayBack> {
    let l = limits();
    let (core, seconds) = facts.case.cooked_through(l)?;
    let raw = facts.case.clock_limit(l).minutes() - facts.raw_min;
    let left = raw.min(l.warm_limit_min.minutes() - facts.warm_min);
    (left > Minutes::ZERO).then(|| WayBack::CookThrough { core, seconds, by: Some(moved(now, left)) })
}
