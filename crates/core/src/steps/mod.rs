//! The plan as a checklist in the order of the work, and what is to be said before the bath.

mod before;

pub use before::{BagSaid, Before, SaltSaid, before};

use jiff::{SignedDuration, Timestamp};

use crate::cook::CookState;
use crate::food::FoodClass;
use crate::plan::{Plan, PlanRequest, routine};
use crate::prep::{Hold, figure};
use crate::units::{Celsius, Units};

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

fn moved(t: Timestamp, min: f64) -> Timestamp {
    t.checked_add(SignedDuration::from_secs((min * 60.0).round() as i64)).unwrap_or(t)
}

/// The steps of a plan, moved and ticked by what happened.
#[must_use]
pub fn steps(request: &PlanRequest, plan: &Plan, state: &CookState, units: Units) -> Vec<Step> {
    let food = request.food();
    let said = before(request, plan.bath_min, plan.through.slow, units);
    let t = &plan.times;
    let mut all: Vec<Step> = Vec::new();
    let mut add = |id: &str,
                   at: Timestamp,
                   what: String,
                   why: String,
                   expect: Option<&'static str>,
                   tap: Option<&'static str>| {
        let done = tap.and_then(|tap| state.when(tap));
        all.push(Step { id: id.into(), at, what, why, expect, tap, done });
    };
    // What comes later moves with what has happened: first with the drop, then with the pull.
    let late_drop = state.when("dropped").map_or(0.0, |d| minutes_between(t.drop_by, d));
    let pull = moved(t.pull, late_drop + state.afloat_min());
    let pulled = state.when("pulled").unwrap_or(pull);
    let bagging = figure("bagging_min").value;

    if said.salt.when == "ahead" {
        let at = moved(t.drop_by, -said.salt.ahead_min);
        add("salt", at, said.salt.words.clone(), said.salt.reason.clone(), None, Some("salted"));
    }
    add(
        "preheat",
        t.preheat_by,
        format!("Heat the bath to {}", units.temperature(Celsius::new(request.bath_c))),
        "Hot tap water saves time; fill it so that it stands between the lines when the food is in.".into(),
        Some("A lid or foil helps; keep it off a cold metal sink."),
        None,
    );
    if said.salt.when == "before" {
        let at = moved(t.drop_by, -figure("salt_stands_min").value - bagging);
        add("salt", at, said.salt.words.clone(), said.salt.reason.clone(), None, Some("salted"));
    }
    if let Some(bag) = &said.bag {
        let at = moved(t.drop_by, -bagging);
        add(
            "bag",
            at,
            bag.what.clone(),
            bag.how.clone(),
            Some("A seal needs a clean, dry edge: that is what the cuff is for."),
            Some("bagged"),
        );
    } else if let Some(jar) = &said.jar {
        let at = moved(t.drop_by, -bagging);
        add(
            "bag",
            at,
            "Fill the jars".into(),
            jar.clone(),
            Some("Air escapes past a loose lid as it warms: bubbles are right."),
            Some("bagged"),
        );
    }
    let long = plan.bath_min >= figure("long_bath_min").value;
    let lower = match &said.bag {
        Some(bag) => bag.sink.clone(),
        None if request.fill_ml.is_some() => "Stand them in the bath, water to just under the lids.".into(),
        None => "Lower them in with a spoon; a cracked one stays out.".into(),
    };
    add(
        "drop",
        t.drop_by,
        "Lower it in".into(),
        lower,
        Some(
            "Start when it is in and the bath is back at temperature; it will look unchanged for a long time.",
        ),
        Some("dropped"),
    );
    if said.bag.is_some() {
        add(
            "float",
            moved(t.drop_by, late_drop + routine("check_min").value),
            "See that it lies under".into(),
            "What floats is not cooking: sink it, and say on the cook page how long it was up.".into(),
            None,
            None,
        );
    }
    if long {
        add(
            "cover",
            moved(t.drop_by, late_drop + routine("check_min").value),
            "Cover the bath".into(),
            "An open bath falls below its lowest line in hours and the heater stops; look at it morning and evening.".into(),
            None,
            None,
        );
    }
    use FoodClass::{Beef, Bivalve, Crustacean, Duck, Fish, Ground, Lamb, Pork, Poultry};
    let expect = match food.class {
        Beef | Lamb | Pork | Duck | Poultry | Ground => {
            Some("It looks grey and dull now, and nothing browns in a bag: that is right.")
        }
        Fish | Crustacean | Bivalve => Some("It looks paler than from a pan: that is right."),
        _ => None,
    };
    add("pull", pull, "Pull it".into(), food.looks.text.clone(), expect, Some("pulled"));
    let finish = food.finish();
    let mut after = 0.0;
    for (i, step) in finish.steps.iter().enumerate() {
        let expect = match step.id.as_str() {
            "dry" => Some("Pat it until the paper stays dry: water keeps the pan from browning."),
            "sear" => Some("Open a window: it smokes."),
            _ => None,
        };
        let tap = match step.id.as_str() {
            "dry" => Some("dried"),
            "sear" => Some("seared"),
            _ if i + 1 == finish.steps.len() => Some("eaten"),
            _ => None,
        };
        if said.salt.when == "after" && (step.id == "sear" || (!finish.sears && i + 1 == finish.steps.len()))
        {
            add(
                "salt",
                moved(pulled, after),
                said.salt.words.clone(),
                said.salt.reason.clone(),
                None,
                Some("salted"),
            );
        }
        add(&step.id, moved(pulled, after), step.what.clone(), step.why.clone(), expect, tap);
        after += step.min;
    }
    all.sort_by_key(|s| s.at);
    all
}

fn minutes_between(a: Timestamp, b: Timestamp) -> f64 {
    b.duration_since(a).as_secs_f64() / 60.0
}

/// What to do when something goes wrong in the bath, and what it does to the verdict.
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
            format!("Sink it with {hold}. The minutes it was up count as waiting, not as cooking: pull, safe and heated-through times move back by them, and the growth clock does not stop."),
        ),
        (
            "It leaks",
            "Clip its mouth above the water, or move everything into a new bag. Heat goes on as before and the verdict stands, but taste has gone into the water and raw juice with it: change the water, and let no other bag be opened over it.".into(),
        ),
    ]
}
