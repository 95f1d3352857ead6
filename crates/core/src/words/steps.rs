//! The steps of a cook in words: what to do, why, and what to expect.

use jiff::Timestamp;

use super::finish::{chosen_sear, heat_it};
use super::{Before, before, minutes};
use crate::cook::{Live, Next, Pull, Stage};
use crate::figures::limits;
use crate::food::{FinishStep, FoodClass};
use crate::plan::{Plan, PlanRequest};
use crate::prep::Hold;
use crate::steps::{Step, Work};
use crate::units::{Minutes, Units};

/// One step, told.
#[derive(Debug, Clone, PartialEq)]
pub struct ToldStep {
    /// Short identifier, the same in every list of the same cook.
    pub id: String,
    /// When it is to begin, or when it was done.
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
    /// A later one is done: it is not to do any more.
    pub passed: bool,
}

/// What, why and what to expect.
type Lines = (String, String, Option<&'static str>);

/// The steps of a plan, told in the reader's units.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::{bath::BathHistory, cook::{CookState, live}, steps::steps, words};
/// # let state = CookState::default();
/// # let live = live(&request, &plan, &state, &BathHistory::default(), now)?;
/// let all = steps(&request, &plan, &state, &live);
/// let told = words::steps((&request, &plan), &live, &all, Units::default(), &|t| t.to_string());
/// assert!(told[0].what.starts_with("Heat the bath to 55"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn steps(
    (request, plan): (&PlanRequest, &Plan),
    live: &Live,
    steps: &[Step],
    units: Units,
    clock: &dyn Fn(Timestamp) -> String,
) -> Vec<ToldStep> {
    let said = before(request, plan.bath_min, plan.through.slow, units);
    let told = steps.iter().map(|step| {
        let (what, why, expect) = match step.work {
            // What the headline says, in its words.
            Work::Mend | Work::Stop => {
                let (what, why) = super::next(live, units, clock);
                (what, why, None)
            }
            // What comes after hangs on it.
            Work::Pull if live.next == Next::Mend => {
                let (what, why, expect) = lines(request, &said, &step.work, units);
                (format!("{what}, once the water is mended"), why, expect)
            }
            ref work => lines(request, &said, work, units),
        };
        let id = step.work.id().to_owned();
        ToldStep { id, at: step.at, what, why, expect, tap: step.tap, done: step.done, passed: step.passed }
    });
    told.collect()
}

fn lines(request: &PlanRequest, said: &Before, work: &Work, units: Units) -> Lines {
    let plain = |what: &str, why: &str, expect| (what.to_owned(), why.to_owned(), expect);
    match work {
        Work::Preheat => (
            format!("Heat the bath to {}", units.temperature(request.bath_c)),
            "Hot tap water saves time; fill it so that it stands between the lines when the food is in."
                .into(),
            Some("A lid or foil helps; keep it off a cold metal sink."),
        ),
        Work::Salt => (said.salt.words.clone(), said.salt.reason.clone(), None),
        Work::Bag => {
            let (what, how) = said.bag.as_ref().map_or(("Bag it", ""), |b| (b.what.as_str(), b.how.as_str()));
            plain(what, how, Some("A seal needs a clean, dry edge: that is what the cuff is for."))
        }
        Work::Fill => plain(
            "Fill the jars",
            said.jar.as_deref().unwrap_or_default(),
            Some("Air escapes past a loose lid as it warms: bubbles are right."),
        ),
        Work::Drop => plain(
            "Lower it in",
            match (&said.bag, &said.jar) {
                (Some(bag), _) => bag.sink.as_str(),
                (None, Some(_)) => "Stand them in the bath, water to just under the lids.",
                (None, None) => "Lower them in with a spoon; a cracked one stays out.",
            },
            Some(
                "Start when it is in and the bath is back at temperature; it will look unchanged for a long time.",
            ),
        ),
        Work::Mend | Work::Stop => plain("", "", None),
        Work::Float => plain(
            "See that it lies under",
            "What floats is not cooking: sink it, and say on the cook page how long it was up.",
            None,
        ),
        Work::Cover => plain(
            "Cover the bath",
            "An open bath falls below its lowest line in hours and the heater stops; look at it morning and evening.",
            None,
        ),
        Work::Pull => {
            ("Pull it".into(), units.sentence(&request.food().looks.text), looks(request.food().class))
        }
        Work::Heat(chosen) => (
            heat_it(chosen, units),
            format!(
                "It takes about {} until it is hot. Air moves, the smoke alarm stays on, and nothing wet or in plastic comes near hot fat.",
                minutes(chosen.heated().map_or(Minutes::ZERO, |h| h.ready_in(chosen.hearth_c)))
            ),
            None,
        ),
        Work::Finish(step) => finish(step, units),
        Work::Sear(step, chosen) => {
            let (_, why, expect) = finish(step, units);
            (format!("{} {}", units.sentence(&step.what), chosen_sear(chosen, units)), why, expect)
        }
    }
}

const fn looks(class: FoodClass) -> Option<&'static str> {
    use FoodClass::{Beef, Bivalve, Crustacean, Duck, Fish, Ground, Lamb, Pork, Poultry};
    match class {
        Beef | Lamb | Pork | Duck | Poultry | Ground => {
            Some("It looks grey and dull now, and nothing browns in a bag: that is right.")
        }
        Fish | Crustacean | Bivalve => Some("It looks paler than from a pan: that is right."),
        _ => None,
    }
}

fn finish(step: &FinishStep, units: Units) -> Lines {
    let expect = match step.id.as_str() {
        "dry" => Some("Pat it until the paper stays dry: water keeps the pan from browning."),
        "sear" => Some("Open a window: it smokes."),
        _ if step.chills => Some("Look with a thermometer: it is the middle that counts."),
        _ => None,
    };
    (units.sentence(&step.what), units.sentence(&step.why), expect)
}

/// What to do when something goes wrong in the bath, and what it does to the verdict.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::From, words::trouble};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// assert_eq!(trouble(&usual_request(strip, From::Refrigerator))[0].0, "It floats");
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

/// What else can be wrong with a cook before the pull, and what to do; `clock` shows an instant as this kitchen does.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::{bath::BathHistory, cook::{CookState, live}, words::wrong};
/// let live = live(&request, &plan, &CookState::default(), &BathHistory::default(), now)?;
/// let all = wrong(&plan, &live, Units::default(), |t| t.to_string());
/// assert!(all.iter().any(|(what, _)| *what == "The guests are late"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn wrong(
    plan: &Plan,
    live: &Live,
    units: Units,
    clock: impl Fn(Timestamp) -> String,
) -> Vec<(&'static str, String)> {
    let late = "Tap it as it is, with the time it really happened in “happened at”: 19:05, or 10 min ago. Everything after moves by as much, and so does the verdict.";
    let best = match live.stage {
        Stage::Waiting => Some(plan.times.best_until.from),
        _ => live.best_until,
    };
    let limit = live.clock_out.filter(|_| live.stage != Stage::Waiting);
    let holds = match (&live.next, limit, best) {
        (Next::ThrowAway(_) | Next::NotHere { .. } | Next::Mend, ..) => {
            "Do what stands at the top of this page first: it is not safe as it is.".into()
        }
        (_, Some(out), _) => format!(
            "It may not wait longer than that: take it out by {}; after that it has been where bacteria grow for too long, and neither chilling nor heating makes it good.",
            clock(out)
        ),
        (_, None, Some(best)) => {
            format!("Leave it in the bath: it is at its best until {}, and as safe after it.", clock(best))
        }
        (_, None, None) => "Leave it in the bath; it waits.".into(),
    };
    let early = match live.next {
        Next::Pull(Pull::SafeIn { .. }) => format!(
            "Put it back at once and write nothing down: it may be served from {} on, and not before. If it was out for long, tap “Pulled” and heed the verdict.",
            clock(live.pull_at)
        ),
        _ => "If it goes back at once, write nothing down. If it stays out, tap “Pulled”: the verdict says how it may be served, and to whom.".into(),
    };
    let low = limits().lowest_hold_c.degrees(units);
    let mut all = vec![(
        "The bath is off, or colder than it was set",
        format!(
            "Lid on, heat on, hot water in; stir, read the coldest place, and write the reading down: this page works out what it means for this piece, and what nobody saw counts as the worst it can have been. While the bath is below {low} nothing counts towards safe, and bacteria may grow; heating it again does not make good what grew.",
        ),
    )];
    if live.stage == Stage::Waiting {
        all.push(("It went in late", late.into()));
    } else {
        all.push((
            "It went in at another time",
            "Unfold “What happened” below and correct the time it was dropped: all that follows moves."
                .into(),
        ));
        all.push(("It was pulled too early", early));
    }
    all.push(("The guests are late", holds));
    all
}
