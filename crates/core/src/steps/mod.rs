//! The plan as a checklist in the order of the work: which steps there are, when, and what ticks them. What is said of
//! each is told by [`crate::words::steps`].

use crate::figures::{preparing, routine};
use jiff::Timestamp;

use crate::cook::{CookState, Live, Milestone, Next, Stage};
use crate::food::FinishStep;
use crate::plan::{Plan, PlanRequest};
use crate::prep::salt::{self, When};
use crate::sear::ChosenFinish;
use crate::units::{Minutes, moved};

/// What is done in a step.
#[derive(Debug, Clone, PartialEq)]
pub enum Work {
    /// The bath is heated.
    Preheat,
    /// The piece is salted.
    Salt,
    /// It is bagged.
    Bag,
    /// The jars are filled.
    Fill,
    /// It is lowered in.
    Drop,
    /// It is looked at whether it floats.
    Float,
    /// The bath is covered.
    Cover,
    /// Its water is mended.
    Mend,
    /// It is pulled.
    Pull,
    /// It is not served, or thrown away: nothing comes after it.
    Stop,
    /// What it is seared on is heated.
    Heat(Box<ChosenFinish>),
    /// A step of its finish.
    Finish(FinishStep),
    /// The sear, as it was chosen.
    Sear(FinishStep, Box<ChosenFinish>),
}

impl Work {
    /// A short identifier, the same in every list of the same cook.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::steps::Work::Fill.id(), "bag");
    /// ```
    #[must_use]
    pub fn id(&self) -> &str {
        match self {
            Self::Preheat => "preheat",
            Self::Salt => "salt",
            // Lists of older versions called filling a jar so.
            Self::Bag | Self::Fill => "bag",
            Self::Drop => "drop",
            Self::Float => "float",
            Self::Cover => "cover",
            Self::Mend => "mend",
            Self::Pull => "pull",
            Self::Stop => "stop",
            Self::Heat(_) => "heat",
            Self::Finish(step) | Self::Sear(step, _) => &step.id,
        }
    }

    /// The event that says it is done, where there is one.
    fn tap(&self, last: bool) -> Option<&'static str> {
        match self {
            Self::Salt => Some("salted"),
            Self::Bag | Self::Fill => Some("bagged"),
            Self::Drop => Some("dropped"),
            Self::Pull => Some("pulled"),
            Self::Sear(..) => Some("seared"),
            Self::Finish(step) => match step.id.as_str() {
                "dry" => Some("dried"),
                "sear" => Some("seared"),
                _ if step.chills => Some("chilled"),
                _ if last => Some("eaten"),
                _ => None,
            },
            Self::Mend | Self::Stop | Self::Preheat | Self::Float | Self::Cover | Self::Heat(_) => None,
        }
    }
}

/// One step of the work.
#[derive(Debug, Clone, PartialEq)]
pub struct Step {
    /// What is done.
    pub work: Work,
    /// When it is to begin; moved by what has really happened.
    pub at: Timestamp,
    /// The event that says it is done, where there is one.
    pub tap: Option<&'static str>,
    /// When it was done.
    pub done: Option<Timestamp>,
    /// A later one is done: it is not to do any more, whether somebody ticked it or not.
    pub passed: bool,
}

/// The steps of a plan, moved and ticked by what happened: the pull as the cook goes, or was.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::{bath::BathHistory, cook::{CookState, live}, steps::steps};
/// let state = CookState::default();
/// let live = live(&request, &plan, &state, &BathHistory::default(), now)?;
/// let all = steps(&request, &plan, &state, &live);
/// assert!(all.windows(2).all(|w| w[0].at <= w[1].at) && all.iter().all(|s| s.done.is_none()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn steps(request: &PlanRequest, plan: &Plan, state: &CookState, live: &Live) -> Vec<Step> {
    let salt = request.salted(plan.bath_min, plan.through.slow);
    // What comes later moves with what has happened: first with the drop, then with the pull.
    let dropped = state.when(Milestone::Dropped);
    let late_min = dropped.map_or(Minutes::ZERO, |d| Minutes::between(plan.times.drop_by, d));
    // In the order of the work, whatever the hours: what was dropped a day early is still bagged before and pulled after.
    let parts = [
        until_the_drop(request, plan, &salt),
        in_the_bath(request, plan, late_min),
        after_the_bath(live, &salt),
    ];
    let all =
        parts.into_iter().enumerate().flat_map(|(part, dues)| dues.into_iter().map(move |due| (part, due)));
    let mut all: Vec<(usize, usize, Due)> = all.enumerate().map(|(i, (part, due))| (i, part, due)).collect();
    let last = all.len() - 1;
    all.sort_by_key(|(_, part, (_, at))| (*part, *at));
    let mut all: Vec<(usize, Step)> = all
        .into_iter()
        .map(|(i, part, (work, at))| {
            let tap = work.tap(i == last);
            let done = tap.and_then(|tap| state.when_done(tap));
            // What is done stands where it happened.
            (part, Step { work, at: done.unwrap_or(at), tap, done, passed: false })
        })
        .collect();
    // What comes before something that is done was before it, ticked or not.
    let mut next_done: Option<Timestamp> = None;
    for (_, step) in all.iter_mut().rev() {
        if let Some(done) = step.done {
            next_done = Some(next_done.map_or(done, |next| next.min(done)));
        } else if let Some(done) = next_done {
            (step.at, step.passed) = (step.at.min(done), true);
        }
    }
    all.sort_by_key(|(part, s)| (*part, s.at));
    all.into_iter().map(|(_, step)| step).collect()
}

type Due = (Work, Timestamp);

fn until_the_drop(request: &PlanRequest, plan: &Plan, salt: &salt::Advice) -> Vec<Due> {
    let drop = plan.times.drop_by;
    let bagging = preparing().bagging_min.minutes();
    let mut all = Vec::new();
    if !request.hot {
        all.push((Work::Preheat, plan.times.preheat_by));
    }
    match salt.when {
        When::Ahead => all.push((Work::Salt, moved(drop, -salt.ahead_min))),
        When::Before => {
            all.push((Work::Salt, moved(drop, -(preparing().salt_stands_min.minutes() + bagging))));
        }
        When::After | When::Done | When::Never => {}
    }
    if request.food().is_bagged() {
        all.push((Work::Bag, moved(drop, -bagging)));
    } else if request.fill_ml.is_some() {
        all.push((Work::Fill, moved(drop, -bagging)));
    }
    all.push((Work::Drop, drop));
    all
}

fn in_the_bath(request: &PlanRequest, plan: &Plan, late_min: Minutes) -> Vec<Due> {
    let look = moved(plan.times.drop_by, late_min + routine().check_min.minutes());
    let float = request.food().is_bagged().then_some((Work::Float, look));
    let long = plan.bath_min >= preparing().long_bath_min.minutes();
    float.into_iter().chain(long.then_some((Work::Cover, look))).collect()
}

/// What ends a cook before its plate, where something does: there is nothing to do after it.
fn ends_here(live: &Live) -> bool {
    matches!(live.next, Next::NotHere { .. } | Next::ThrowAway(_) | Next::NotServed(_) | Next::Discard { .. })
}

fn after_the_bath(live: &Live, salt: &salt::Advice) -> Vec<Due> {
    // The same act and minute as the headline.
    let in_bath = live.stage == Stage::InBath;
    let pull = match live.next {
        Next::Pull(_) => live.next_at.unwrap_or(live.pull_at),
        _ => live.pull_at,
    };
    if ends_here(live) {
        let stop = (Work::Stop, live.next_at.unwrap_or(pull));
        return if in_bath { vec![stop] } else { vec![(Work::Pull, pull), stop] };
    }
    let mut all = vec![(Work::Pull, pull)];
    if let Some(mend) = live.mend.as_ref().filter(|_| live.next == Next::Mend) {
        all.insert(0, (Work::Mend, live.next_at.unwrap_or(mend.now).min(pull)));
    }
    let (steps, chosen) = (&live.finishing.steps, live.finishing.chosen.as_ref());
    all.extend(live.heat_at.zip(chosen).map(|(at, c)| (Work::Heat(Box::new(c.clone())), at)));
    // Salt after the bath goes on before the pan, or at the end where there is none.
    let salted_at = steps.iter().position(|s| s.id == "sear").unwrap_or(steps.len().saturating_sub(1));
    let mut after = Minutes::ZERO;
    for (i, step) in steps.iter().enumerate() {
        let at = moved(pull, after);
        if salt.when == When::After && i == salted_at {
            all.push((Work::Salt, at));
        }
        all.push(match chosen.filter(|_| step.id == "sear") {
            Some(chosen) => (Work::Sear(step.clone(), Box::new(chosen.clone())), at),
            None => (Work::Finish(step.clone()), at),
        });
        after += step.min;
    }
    all
}
