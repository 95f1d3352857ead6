//! What a plan says besides its times.

use super::{headline, minutes, why};
use crate::food::{Food, FoodClass};
use crate::plan::{Advice, Caution, Plan, PlanRequest, Sooner, SoonerWay, Stop, StopTexture};
use crate::safety::{Level, Rule};
use crate::units::{Celsius, Minutes, Units};
use jiff::Timestamp;

/// That a plan cannot be ready when it is wanted; nothing where it can. `clock` shows an instant with its day.
///
/// ```
/// use hold_steady_core::{plan::{KitchenRules, PlanForm, Setting, plan}, units::Units, words};
/// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let typed = PlanForm { intact: "whole".into(), ready: "18:15".into(), ..PlanForm::default() };
/// let request = typed.read(&Setting::new(Units::default(), now, &zone, &rules)).request.expect("complete");
/// let (late, clock) = (plan(&request, now)?, |t: jiff::Timestamp| t.to_string()[11..16].to_owned());
/// assert!(words::too_soon(&late, &request, &clock).is_some_and(|text| text.starts_with("18:15 is too soon: ")));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn too_soon(plan: &Plan, request: &PlanRequest, clock: &dyn Fn(Timestamp) -> String) -> Option<String> {
    let asked = request.ready_at.filter(|_| !plan.in_time)?;
    Some(format!(
        "{} is too soon: {}, {} in the bath and the finish take until {}. That is the earliest, and these are its times.",
        clock(asked),
        if request.prep.ahead_min() > Minutes::ZERO { "salting ahead" } else { "preheating" },
        minutes(plan.bath_min),
        clock(plan.earliest_ready)
    ))
}

/// A way to be ready when it is wanted, and how it may be served then. `clock` shows an instant as this kitchen does.
///
/// ```
/// use hold_steady_core::{plan::{KitchenRules, PlanForm, Setting, plan, sooner}, units::{Length, Units}, words};
/// # let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// # let typed = PlanForm { intact: "whole".into(), ready: "18:15".into(), ..PlanForm::default() };
/// # let request = typed.read(&Setting::new(Units::default(), now, &zone, &rules)).request.expect("complete");
/// let ways = sooner(&request, &plan(&request, now)?, now, Length::from_mm(1.0))?;
/// let clock = |t: jiff::Timestamp| t.to_string()[11..16].to_owned();
/// let told = words::sooner(&ways[0], &request, Units::default(), &clock);
/// assert!(told.starts_with("No thicker than "), "{told}");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn sooner(
    way: &SoonerWay,
    request: &PlanRequest,
    units: Units,
    clock: &dyn Fn(Timestamp) -> String,
) -> String {
    let plan = &way.plan;
    let what = match way.way {
        Sooner::HotBath => "In a bath that is hot already".to_owned(),
        Sooner::Thinner(most) => format!("No thicker than {}", units.length(most)),
        Sooner::PulledEarly(_) => {
            let centre = plan.centre_at_pull().map_or_else(String::new, |c| {
                format!(", its centre at least {}", units.temperature_fixed(c))
            });
            format!("Pulled at {}{centre}", clock(plan.times.pull))
        }
    };
    let hot = if way.hot && way.way != Sooner::HotBath { ", the bath hot already" } else { "" };
    format!("{what}{hot}: {}", super::uncapitalised(headline(&plan.verdict, request.food().class)))
}

/// A plan's caution in a sentence.
///
/// ```
/// use hold_steady_core::{food::catalogue, plan::Caution, units::*, words::caution};
/// let jar = catalogue().foods.iter().find(|f| f.jar.is_some()).expect("there are some");
/// let text = caution(&Caution::ColdGlass { warm_to_c: Celsius::new(50.0) }, jar, Units::default());
/// assert!(text.contains("50 °C"), "{text}");
/// ```
#[must_use]
pub fn caution(caution: &Caution, food: &Food, units: Units) -> String {
    let degrees = |c: Celsius| units.temperature_exact(c);
    let after = &food.texture.after;
    match caution {
        Caution::TooWideToChill => {
            "Too wide to be chilled in time, even in ice: fill smaller jars, or eat it warm.".into()
        }
        Caution::NotThrough { bath_min, core_c, short_k, needed_min } => format!(
            "Not heated through: after {} the centre is at {}, {} short of the bath. {}",
            minutes(*bath_min),
            units.temperature_fixed(*core_c),
            units.temperature_difference(*short_k),
            needed_min.map_or_else(
                || "So long that it is, it may not stay in: take a hotter bath, or a thinner piece."
                    .to_owned(),
                |needed| format!("Give it {}.", minutes(needed))
            )
        ),
        Caution::Early { best_from_min } => {
            let what = if food.texture.tough {
                "Tough yet: it is tender"
            } else {
                "A little early: it is at its best"
            };
            format!("{what} from {} on.", minutes(*best_from_min))
        }
        Caution::PastBest { best_until_min } => {
            format!("Past its best: after {} in this bath it {after}.", minutes(*best_until_min))
        }
        Caution::OutsideFirst { thickness_mm } => format!(
            "At {} it takes longer to heat through than its outside keeps: it {after}. Thinner pieces fare better.",
            units.length(*thickness_mm)
        ),
        Caution::SafeAfterBest { best_until_min } => {
            format!("Safe takes longer than best: after {} in the bath it {after}.", minutes(*best_until_min))
        }
        Caution::WhiteSets { bath_c, raw_c } => {
            format!("At {} the white sets: to use it raw, keep to {}.", degrees(*bath_c), degrees(*raw_c))
        }
        Caution::ColdGlass { warm_to_c } => format!(
            "Cold glass may crack in this water: warm the jars to {} first, in hot tap water, or heat them up with the bath.",
            units.temperature_at_least(*warm_to_c)
        ),
        Caution::Written(text) => text.clone(),
    }
}

/// A plan's advice in a sentence.
///
/// ```
/// use hold_steady_core::{plan::Advice, units::*, words::advice};
/// let text = advice(&Advice::DropEarlier { min: Minutes::new(20.0) }, Units::default());
/// assert!(text.contains("20 min"), "{text}");
/// ```
#[must_use]
pub fn advice(advice: &Advice, units: Units) -> String {
    match advice {
        Advice::DropEarlier { min } => format!(
            "Dropped {} earlier it is pasteurised too, for every guest, and still at its best.",
            minutes(*min)
        ),
        Advice::LeaveLonger { min } => format!(
            "Left in {} longer it is pasteurised too, for every guest, and still at its best.",
            minutes(*min)
        ),
        Advice::PasteurisedTakes { min } => {
            format!("Pasteurised for every guest takes {} in this bath.", minutes(*min))
        }
        Advice::WarmerBath { short_k, c } => format!(
            "{} more, {}, is where a longer hold begins to pasteurise.",
            units.temperature_difference(*short_k),
            units.temperature_exact(*c)
        ),
        Advice::Written(text) => text.clone(),
    }
}

/// What a pull at one minute means: in a few words, and in a sentence or two.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::words::stop;
/// let (headline, text) = stop(&plan.stops[0], strip, Units::default());
/// assert!(!headline.is_empty() && !text.is_empty());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn stop(stop: &Stop, food: &Food, units: Units) -> (&'static str, String) {
    let warming = matches!(stop.texture, StopTexture::PerhapsThrough | StopTexture::Warming);
    let safety = safety(stop, food.class, units);
    // What must not be served needs no word on how tender it is.
    let text = if stop.verdict.level == Level::Refused && !warming {
        safety
    } else {
        format!("{safety} {}", texture(stop, food, units))
    };
    (headline(&stop.verdict, food.class), text)
}

fn texture(stop: &Stop, food: &Food, units: Units) -> String {
    let core = units.temperature_fixed(stop.core_c);
    let short = units.temperature_difference(stop.short_k);
    match stop.texture {
        StopTexture::PerhapsThrough => {
            format!("Perhaps heated through: the slowest piece is at {core}, {short} short.")
        }
        StopTexture::Warming => format!("Still warming: the centre is at {core}, {short} short."),
        StopTexture::Early { best_from_min } => {
            let yet = if food.texture.tough { "tough yet: tender" } else { "firm yet: at its best" };
            format!("Heated through, and {yet} from {} on.", minutes(best_from_min))
        }
        StopTexture::Best { left_min } => format!("At its best for another {}.", minutes(left_min)),
        StopTexture::Past { by_min } => {
            format!("Past its best by {}: it {}.", minutes(by_min), food.texture.after)
        }
    }
}

fn safety(stop: &Stop, class: FoodClass, units: Units) -> String {
    let within = stop.clock_left_min.map(|m| format!("within {}.", minutes(m.max(Minutes::new(0.0)))));
    match stop.verdict.level {
        Level::Pasteurized => match within {
            Some(within) => format!("Eat it {within}"),
            None if stop.verdict.row == Rule::Reheated => "It may wait, but it goes on cooking.".into(),
            None => "It may wait in the bath.".into(),
        },
        Level::Exempt => "The culture keeps others down.".into(),
        Level::ServeNow => {
            format!("{} and eat it {}", at_once(class), within.unwrap_or_else(|| "at once.".into()))
        }
        Level::Refused => match stop.kill {
            Some(kill) => {
                let done = (kill.share * 100.0).floor();
                let done =
                    if done > 0.0 { format!(" {done:.0} % of the way to safe.") } else { String::new() };
                format!("Not pasteurised for another {}.{done}", minutes(kill.left_min.ceil()))
            }
            None => why(&stop.verdict, units),
        },
    }
}

/// How a piece that is served at once is finished, in the imperative.
const fn at_once(class: FoodClass) -> &'static str {
    match class {
        FoodClass::Beef | FoodClass::Lamb => "Sear every face",
        FoodClass::Duck => "Crisp the skin, sear the flesh",
        _ => "Finish it",
    }
}
