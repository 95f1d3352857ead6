//! The plan as a checklist in the order of the work, and what is to be said before the bath.

mod before;

pub use before::{BagSaid, Before, SaltSaid, before};

use crate::figures::{preparing, routine};
use jiff::Timestamp;

use crate::cook::{CookState, Live, Milestone};
use crate::food::FoodClass;
use crate::plan::{Plan, PlanRequest};
use crate::prep::Hold;
use crate::units::{Minutes, Units, moved};

/// One step of the work.
#[derive(Debug, Clone, PartialEq)]
pub struct Step {
    /// Short identifier, the same in every list of the same cook.
    pub id: String,
    /// When it is to begin; moved by what has really happened.
    pub at: Timestamp,
    /// What to do, in the imperative.
    pub what: String,
    /// Why, or how, in one sentence.
    pub why: String,
    /// What to expect, for those who want to be guided.
    pub expect: Option<&'static str>,
    /// The event that says it is done, where there is one.
    pub tap: Option<&'static str>,
    /// When it was done.
    pub done: Option<Timestamp>,
}

impl Step {
    fn new(id: &str, at: Timestamp, what: impl Into<String>, why: impl Into<String>) -> Self {
        Self { id: id.into(), at, what: what.into(), why: why.into(), expect: None, tap: None, done: None }
    }

    fn expecting(self, expect: &'static str) -> Self {
        Self { expect: Some(expect), ..self }
    }

    fn tapped(self, tap: &'static str) -> Self {
        Self { tap: Some(tap), ..self }
    }
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
/// let all = steps(&request, &plan, &state, &live, Units::default());
/// assert!(all.windows(2).all(|w| w[0].at <= w[1].at) && all.iter().all(|s| s.done.is_none()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn steps(request: &PlanRequest, plan: &Plan, state: &CookState, live: &Live, units: Units) -> Vec<Step> {
    let said = before(request, plan.bath_min, plan.through.slow, units);
    // What comes later moves with what has happened: first with the drop, then with the pull.
    let dropped = state.when(Milestone::Dropped);
    let late_min = dropped.map_or(Minutes::ZERO, |d| Minutes::between(plan.times.drop_by, d));
    let mut all = until_the_drop(request, plan, &said, units);
    all.extend(in_the_bath(plan, &said, late_min));
    all.extend(after_the_bath(request, &said, live, units));
    for step in &mut all {
        step.done = step.tap.and_then(|tap| state.when_done(tap));
        // What is done stands where it happened.
        step.at = step.done.unwrap_or(step.at);
    }
    all.sort_by_key(|s| s.at);
    all
}

fn salting(said: &Before, at: Timestamp) -> Step {
    Step::new("salt", at, &said.salt.words, &said.salt.reason).tapped("salted")
}

fn until_the_drop(request: &PlanRequest, plan: &Plan, said: &Before, units: Units) -> Vec<Step> {
    let drop = plan.times.drop_by;
    let bagging = preparing().bagging_min.value;
    let heat = format!("Heat the bath to {}", units.temperature(request.bath_c));
    let mut all = vec![
        Step::new(
            "preheat",
            plan.times.preheat_by,
            heat,
            "Hot tap water saves time; fill it so that it stands between the lines when the food is in.",
        )
        .expecting("A lid or foil helps; keep it off a cold metal sink."),
    ];
    match said.salt.when.as_str() {
        "ahead" => all.push(salting(said, moved(drop, -said.salt.ahead_min))),
        "before" => {
            all.push(salting(said, moved(drop, Minutes::new(-preparing().salt_stands_min.value - bagging))))
        }
        _ => {}
    }
    let at = moved(drop, Minutes::new(-bagging));
    match (&said.bag, &said.jar) {
        (Some(bag), _) => all.push(
            Step::new("bag", at, &bag.what, &bag.how)
                .expecting("A seal needs a clean, dry edge: that is what the cuff is for.")
                .tapped("bagged"),
        ),
        (None, Some(jar)) => all.push(
            Step::new("bag", at, "Fill the jars", jar)
                .expecting("Air escapes past a loose lid as it warms: bubbles are right.")
                .tapped("bagged"),
        ),
        (None, None) => {}
    }
    let lower = match (&said.bag, &said.jar) {
        (Some(bag), _) => bag.sink.as_str(),
        (None, Some(_)) => "Stand them in the bath, water to just under the lids.",
        (None, None) => "Lower them in with a spoon; a cracked one stays out.",
    };
    all.push(
        Step::new("drop", drop, "Lower it in", lower)
            .expecting("Start when it is in and the bath is back at temperature; it will look unchanged for a long time.")
            .tapped("dropped"),
    );
    all
}

fn in_the_bath(plan: &Plan, said: &Before, late_min: Minutes) -> Vec<Step> {
    let look = moved(plan.times.drop_by, late_min + routine().check_min.minutes());
    let float = said.bag.as_ref().map(|_| {
        Step::new(
            "float",
            look,
            "See that it lies under",
            "What floats is not cooking: sink it, and say on the cook page how long it was up.",
        )
    });
    let cover = (plan.bath_min >= preparing().long_bath_min.minutes()).then(|| {
        Step::new(
            "cover",
            look,
            "Cover the bath",
            "An open bath falls below its lowest line in hours and the heater stops; look at it morning and evening.",
        )
    });
    float.into_iter().chain(cover).collect()
}

fn after_the_bath(request: &PlanRequest, said: &Before, live: &Live, units: Units) -> Vec<Step> {
    use FoodClass::{Beef, Bivalve, Crustacean, Duck, Fish, Ground, Lamb, Pork, Poultry};
    let food = request.food();
    let pull = live.pull_at;
    let out = Step::new("pull", pull, "Pull it", units.sentence(&food.looks.text)).tapped("pulled");
    let mut all = vec![match food.class {
        Beef | Lamb | Pork | Duck | Poultry | Ground => {
            out.expecting("It looks grey and dull now, and nothing browns in a bag: that is right.")
        }
        Fish | Crustacean | Bivalve => out.expecting("It looks paler than from a pan: that is right."),
        _ => out,
    }];
    let steps = &live.finishing.steps;
    // Salt after the bath goes on before the pan, or at the end where there is none.
    let salted_at = steps.iter().position(|s| s.id == "sear").unwrap_or(steps.len().saturating_sub(1));
    let mut after = 0.0;
    for (i, step) in steps.iter().enumerate() {
        let at = moved(pull, Minutes::new(after));
        if said.salt.when == "after" && i == salted_at {
            all.push(salting(said, at));
        }
        let next = Step::new(&step.id, at, units.sentence(&step.what), units.sentence(&step.why));
        all.push(match step.id.as_str() {
            "dry" => next
                .expecting("Pat it until the paper stays dry: water keeps the pan from browning.")
                .tapped("dried"),
            "sear" => next.expecting("Open a window: it smokes.").tapped("seared"),
            _ if step.chills => {
                next.expecting("Look with a thermometer: it is the middle that counts.").tapped("chilled")
            }
            _ if i + 1 == steps.len() => next.tapped("eaten"),
            _ => next,
        });
        after += step.min.value();
    }
    all
}

/// What to do when something goes wrong in the bath, and what it does to the verdict.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::steps::trouble;
/// assert_eq!(trouble(&request)[0].0, "It floats");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn trouble(request: &PlanRequest) -> [(&'static str, String); 2] {
    let hold = match request.prep.hold {
        Hold::Ballast => "more weight",
        Hold::Rack => "a weight, or a deeper place in the rack",
        Hold::Clip => "a spoon or a weight in the bag, or a clip lower down",
    };
    [
        (
            "It floats",
            format!("Sink it with {hold}. The minutes it was up count as waiting, not as cooking: pull, safe and heated-through times move back by them, and bacteria can still grow."),
        ),
        (
            "It leaks",
            "Clip its mouth above the water, or move everything into a new bag. Heat goes on as before and the verdict stands, but taste has gone into the water and raw juice with it: change the water, and let no other bag be opened over it.".into(),
        ),
    ]
}
