//! What to do next in a cook, in words.

use jiff::Timestamp;

use super::{minutes, why};
use crate::book::LastTime;
use crate::cook::{Fault, Live, Mend, Next, Pull, WayBack};
use crate::figures::{cooling, limits};
use crate::safety::{Rule, Verdict};
use crate::units::{Celsius, Minutes, Units};

/// What to do next, in the imperative; and why, or what to expect, in a sentence. `clock` shows an instant as this kitchen
/// does.
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*, words};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// let (what, _) = words::next(&live, Units::default(), &|t| t.to_string());
/// assert_eq!(what, "Write down how it came out");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn next(live: &Live, units: Units, clock: &dyn Fn(Timestamp) -> String) -> (String, String) {
    let (what, why): (&str, String) = match &live.next {
        Next::Drop { late_min } => ("Drop it in", drop_in(*late_min)),
        Next::PlanAnew(verdict) => {
            ("Not into this bath as it is planned", format!("{} Change the plan first.", why(verdict, units)))
        }
        Next::Mend => return to_mend(live, units, clock),
        Next::NotHere { raise_to } => not_here(*raise_to, units),
        Next::ThrowAway(verdict) => ("Throw it away", spoiled(verdict, units)),
        Next::Pull(pull) => return pulled(*pull, live.verdict.as_ref(), units),
        Next::Finish(step) => (&step.what, units.sentence(&step.why)),
        Next::EatHoldOrChill { left_min, then_not_at_risk } => (
            "Eat it, keep it hot or chill it",
            format!(
                "{} left to eat it, to hold it at {} or more, or to chill it; {}.",
                minutes(left_min.floor()),
                limits().hot_hold_c.degrees(units),
                afterwards(*then_not_at_risk)
            ),
        ),
        Next::Eat { left_min, then_not_at_risk } => (
            "Eat it now",
            format!("{} left to eat it; {}.", minutes(left_min.floor()), afterwards(*then_not_at_risk)),
        ),
        Next::KeepCold { last_day } => return kept_cold(*last_day, units),
        Next::KeepFrozen { days_left } => ("Keep it frozen", kept_frozen(*days_left)),
        Next::Discard { last_day } => (
            "Throw it away",
            format!(
                "Its last day was {}: nobody can see or smell what may have grown since.",
                day(*last_day)
            ),
        ),
        Next::NotServed(verdict) => ("Do not serve it as it is", why(verdict, units)),
        Next::Rate => ("Write down how it came out", "Two words now save the next one.".into()),
        Next::ThrownAway { cooked: true } => {
            ("Thrown away", "Write down what went wrong, if you like.".into())
        }
        Next::ThrownAway { cooked: false } => ("Thrown away", String::new()),
    };
    (what.to_owned(), why)
}

fn drop_in(late_min: Option<Minutes>) -> String {
    match late_min {
        Some(late) => format!(
            "{} late: drop it now and everything after moves by as much. Tap when it is in and the bath is back at temperature.",
            minutes(late)
        ),
        None => "Tap when it is in and the bath is back at temperature: the clock starts then.".into(),
    }
}

fn to_mend(live: &Live, units: Units, clock: &dyn Fn(Timestamp) -> String) -> (String, String) {
    let sight = live.fault.is_some_and(|f| f.is_of_sight());
    let what = match live.fault {
        Some(Fault::Cools { .. }) => live.mend.as_ref().map_or_else(
            || "Bring the water back".to_owned(),
            |m| format!("Bring the water back to {}", units.temperature(m.to)),
        ),
        _ if sight => "Read the water".to_owned(),
        _ => "Bring the heat back".to_owned(),
    };
    let now = if live.next_at.is_none() { " now" } else { "" };
    (format!("{what}{now}"), live.mend.as_ref().map_or_else(String::new, |m| mended(m, sight, clock)))
}

fn not_here(raise_to: Option<Celsius>, units: Units) -> (&'static str, String) {
    match raise_to {
        Some(c) => (
            "Not safe in this bath as it is",
            format!(
                "Set it to {} and it becomes safe; or cook it through, its core read with a thermometer.",
                units.temperature(c)
            ),
        ),
        None => (
            "It will not become safe in this bath",
            "Cook it through in a pan or oven, its core read with a thermometer; or throw it away.".into(),
        ),
    }
}

fn kept_cold(last_day: jiff::civil::Date, units: Units) -> (String, String) {
    let (first, all) = (cooling().stage_1_min.value, cooling().stage_2_min.value);
    (
        format!("Keep it sealed at {} or colder", limits().zone_low_c.degrees(units)),
        format!(
            "Use it by {}, at home. Pasteurised and chilled: given that it was down to {} within {} of the pull, and to {} within {}. A food business follows its own plan.",
            day(last_day),
            cooling().stage_1_to_c.degrees(units),
            minutes(Minutes::new(first)),
            cooling().stage_2_to_c.degrees(units),
            minutes(Minutes::new(all))
        ),
    )
}

fn kept_frozen(days_left: i64) -> String {
    let thawed = match days_left {
        ..=1 => "it is for the day it is thawed on".to_owned(),
        days => format!("the day it comes out is the first of {days} it has left"),
    };
    format!(
        "It keeps as long as it is frozen; what a date says there is about quality. Thaw it in a refrigerator: {thawed}, at home. A food business follows its own plan."
    )
}

/// Whether the time of what is next is one it must be done by, rather than one to do it at.
///
/// ```
/// use hold_steady_core::{cook::{Next, Pull}, words::is_deadline};
/// assert!(is_deadline(&Next::Mend) && !is_deadline(&Next::Pull(Pull::Waits)));
/// ```
#[must_use]
pub const fn is_deadline(next: &Next) -> bool {
    matches!(
        next,
        Next::Mend
            | Next::Pull(Pull::By { .. })
            | Next::EatHoldOrChill { .. }
            | Next::Eat { .. }
            | Next::KeepCold { .. }
    )
}

/// What is next with its time, in a few words: “Pull it by 19:04”.
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*, words};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// assert_eq!(words::next_with_time(&live, Units::default(), &|t| t.to_string()), "Write down how it came out");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn next_with_time(live: &Live, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    let (what, _) = next(live, units, clock);
    match live.next_at {
        Some(at) if is_deadline(&live.next) => format!("{what} by {}", clock(at)),
        Some(at) => format!("{what} {}", clock(at)),
        None => what,
    }
}

/// `Fri 11 Dec`.
fn day(day: jiff::civil::Date) -> String {
    day.strftime("%a %-d %b").to_string()
}

/// What it gives to mend the water, and by when.
fn mended(mend: &Mend, sight: bool, clock: &dyn Fn(Timestamp) -> String) -> String {
    let dinner = clock(mend.serve_at);
    let it = if sight { "Found as it is to be" } else { "Back" };
    let mut parts = vec![match mend.keeps_dinner_by {
        Some(by) => format!("{it} by {}, dinner is at {dinner}", clock(by)),
        None => format!("{it} now, dinner is at {dinner}"),
    }];
    if let Some(by) = mend.by.filter(|by| mend.keeps_dinner_by.is_none_or(|k| *by > k)) {
        parts.push(format!("later than {} it does not become safe and warm any more", clock(by)));
    }
    if let Some(by) = mend.or_pull_by {
        parts.push(format!("or pull it by {} as it is; after that it is not safe", clock(by)));
    }
    format!("{}.", parts.join("; "))
}

/// What is wrong with the water a piece lies in, in a few words with its time.
///
/// ```
/// use hold_steady_core::{cook::Fault, units::{Celsius, Units}, words};
/// let since = "2026-11-25T16:38:00Z".parse()?;
/// let fault = Fault::NoHeat { since, from: Celsius::new(57.0) };
/// assert_eq!(words::fault(&fault, Units::default(), &|_| "16:38".into()), "No heat since 16:38, when it was 57 °C.");
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn fault(fault: &Fault, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    let degrees = |c: Celsius| units.temperature(c);
    match fault {
        Fault::NoHeat { since, from } => {
            format!("No heat since {}, when it was {}.", clock(*since), degrees(*from))
        }
        Fault::Falling { since, from } => {
            format!(
                "The bath falls since {}, from {}: is its lid off, is it on?",
                clock(*since),
                degrees(*from)
            )
        }
        Fault::Silent { since } => {
            format!("No word from the device since {}: what its bath is now nobody knows.", clock(*since))
        }
        Fault::Colder { at, read, by } => format!(
            "The bath read {} at {}, {} under what it is to be.",
            degrees(*read),
            clock(*at),
            units.temperature_difference(*by)
        ),
        Fault::Unread { since: Some(since) } => {
            format!("Not read since {}: nothing counts until it is.", clock(*since))
        }
        Fault::Unread { since: None } => "Not read yet: nothing counts until it is.".into(),
        Fault::Unwatched { since, until } => format!(
            "Nobody saw the bath from {} to {}: say whether it was on, or read it.",
            clock(*since),
            clock(*until)
        ),
        Fault::Cools { read, at } => {
            format!("{} at {}, and falling: left as it is it does not get there.", degrees(*read), clock(*at))
        }
    }
}

/// The same where there is little room: without what it was.
///
/// ```
/// use hold_steady_core::{cook::Fault, units::{Celsius, Units}, words};
/// let since = "2026-11-25T16:38:00Z".parse()?;
/// let fault = Fault::NoHeat { since, from: Celsius::new(57.0) };
/// assert_eq!(words::short_fault(&fault, Units::default(), &|_| "16:38".into()), "No heat since 16:38");
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn short_fault(fault: &Fault, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    match fault {
        Fault::NoHeat { since, .. } => format!("No heat since {}", clock(*since)),
        Fault::Falling { since, .. } => format!("Bath falls since {}", clock(*since)),
        Fault::Silent { since } => format!("No word since {}", clock(*since)),
        Fault::Unread { since: Some(since) } => format!("Not read since {}", clock(*since)),
        Fault::Unread { since: None } => "Not read yet".into(),
        Fault::Unwatched { since, .. } => format!("Not seen since {}", clock(*since)),
        Fault::Colder { read, .. } => format!("Bath read {}", units.temperature(*read)),
        Fault::Cools { read, .. } => format!("Bath cools, read {}", units.temperature(*read)),
    }
}

/// A way back out of trouble, with what it gives.
///
/// ```
/// use hold_steady_core::{cook::WayBack, units::Units, words};
/// assert_eq!(words::way_back(&WayBack::Chill, Units::default(), &|t| t.to_string()).0, "Chill it");
/// ```
#[must_use]
pub fn way_back(way: &WayBack, units: Units, clock: &dyn Fn(Timestamp) -> String) -> (&'static str, String) {
    let gives =
        |pull: Timestamp, serve: Timestamp| format!("pulled at {}, dinner at {}", clock(pull), clock(serve));
    match way {
        WayBack::Heat { pull_at, serve_at } => ("Heat back on now", gives(*pull_at, *serve_at)),
        WayBack::Read { pull_at, serve_at } => {
            ("Read the water now", format!("if it is as it is to be: {}", gives(*pull_at, *serve_at)))
        }
        WayBack::Kettle { mix, kettle, to } => (
            "Water from the kettle",
            if mix.remove_l > 0.0 {
                format!(
                    "take off {}, add as much of {}: {} at once",
                    units.litres(mix.remove_l),
                    units.temperature(*kettle),
                    units.temperature(*to)
                )
            } else {
                format!(
                    "{} of {}: {} at once",
                    units.litres(mix.add_l),
                    units.temperature(*kettle),
                    units.temperature(*to)
                )
            },
        ),
        WayBack::Bath { celsius, pull_at, serve_at, .. } => (
            "Into another bath",
            format!("at {}: {}", units.temperature(*celsius), gives(*pull_at, *serve_at)),
        ),
        WayBack::PullNow { until } => (
            "Pull it now",
            match until {
                Some(until) => format!("served at once, to guests not at risk; until {}", clock(*until)),
                None => "served at once, to guests not at risk".into(),
            },
        ),
        WayBack::CookThrough { core, seconds, by } => {
            let by = by.map_or_else(String::new, |by| format!("; begun by {}", clock(by)));
            let held = if *seconds > 1.0 { format!(" for {seconds:.0} s") } else { String::new() };
            (
                "Cook it through in a pan or oven",
                format!("its core at {}{held}, read with a thermometer{by}", units.temperature(*core)),
            )
        }
        WayBack::Chill => {
            ("Chill it", "in ice, within its two stages: it is pasteurised and may be kept".into())
        }
        WayBack::ThrowAway => ("Throw it away", "nothing that is done to it makes it safe".into()),
    }
}

/// What it gives to put back a piece that was pulled so long ago.
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*, words};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// let back = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// assert!(words::put_back(&back, Minutes::new(6.0), &|_| "19:32".into()).starts_with("It has been out for 6 min."));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn put_back(back: &Live, out: Minutes, clock: &dyn Fn(Timestamp) -> String) -> String {
    let long = if out < Minutes::new(1.0) {
        String::new()
    } else {
        format!("It has been out for {}. ", minutes(out))
    };
    format!(
        "{long}Put back now, it is pulled again at {} and on the plate at {}; what it was out counts where bacteria grow.",
        clock(back.pull_at),
        clock(back.serve_at)
    )
}

/// Why something is past mending.
fn spoiled(verdict: &Verdict, units: Units) -> String {
    if verdict.row == Rule::Growth || verdict.row == Rule::Reheated {
        return why(verdict, units);
    }
    // Another row answered first, for these guests: what grew is so for all.
    "It has been too long where bacteria grow, and no heat makes that good: not for these guests, nor for any.".into()
}

const fn afterwards(not_at_risk: bool) -> &'static str {
    if not_at_risk {
        "after that it is not for guests at risk any more"
    } else {
        "after that it is thrown away"
    }
}

/// No longer than this apart, two instants are one for a cook.
const AT_ONCE: Minutes = Minutes::new(2.0);

fn pulled(pull: Pull, verdict: Option<&Verdict>, units: Units) -> (String, String) {
    let (what, why): (&str, String) = match pull {
        // The clock that stands above says when.
        Pull::SafeIn { spare, pasteurised: true, .. } if spare < AT_ONCE => {
            ("Pull it", "It is pasteurised then, and not before.".to_owned())
        }
        Pull::SafeIn { more, pasteurised: true, .. } => {
            ("Pull it", format!("Pasteurised in {}; not before that.", minutes(more.ceil())))
        }
        Pull::SafeIn { more, spare, pasteurised: false } => {
            let facts = verdict.filter(|v| v.row == Rule::Crustacean).and_then(|v| v.grounds.as_ref());
            let core = facts.map_or_else(String::new, |g| {
                format!("Its core must have {} first. ", g.facts.case.shellfish(limits()).0.degrees(units))
            });
            let until = if spare < AT_ONCE {
                "Not safe to serve before that.".to_owned()
            } else {
                format!("Not safe to serve for another {}.", minutes(more.ceil()))
            };
            ("Pull it", format!("{core}{until}"))
        }
        Pull::ThroughIn { spare, .. } if spare < AT_ONCE => ("Pull it", "It is heated through then.".into()),
        Pull::ThroughIn { more, .. } => {
            ("Pull it", format!("Heated through in {}; then it waits.", minutes(more.ceil())))
        }
        Pull::Waits => ("Pull it", "Heated through; it waits in the bath.".into()),
        Pull::By { left, through } => (
            "Pull it",
            format!(
                "{}Within {}: after that it has been where bacteria grow for too long.",
                if through { "" } else { "It will not be heated through by then. " },
                minutes(left.floor())
            ),
        ),
        Pull::BestFor(min) => {
            ("Pull it when you are ready", format!("It may wait another {} at its best.", minutes(min)))
        }
        Pull::PastBest => {
            ("Pull it when you are ready", "It is past its best; it is as safe as before.".into())
        }
        Pull::NeverThrough => ("Pull it", "It has not heated through by the simulation.".into()),
    };
    (what.to_owned(), why)
}

/// What centres are called against what was wanted, by their mark.
pub const CENTRES: [(i8, &str); 5] =
    [(-2, "far too rare"), (-1, "a little rare"), (0, "as wanted"), (1, "a little far"), (2, "far too done")];

/// How a food came out the last time, and what follows, in a sentence.
///
/// ```
/// use hold_steady_core::{book::LastTime, units::*, words::last_time};
/// let last = LastTime {
///     centre: 1,
///     bath_c: Celsius::new(57.5),
///     try_c: Some(Celsius::new(56.5)),
///     next_time: String::new(),
/// };
/// assert_eq!(last_time(&last, Units::default()), "Last time, in a bath of 57.5 °C, its centre came out a little far.");
/// ```
#[must_use]
pub fn last_time(last: &LastTime, units: Units) -> String {
    let how = CENTRES.iter().find(|c| c.0 == last.centre).map_or("as it was", |c| c.1);
    format!("Last time, in a bath of {}, its centre came out {how}.", units.temperature(last.bath_c))
}
