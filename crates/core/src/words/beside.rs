//! What stands beside a cook's clocks, in words.

use jiff::Timestamp;

use super::{headline, minutes, uncapitalised};
use crate::bath::BathHistory;
use crate::cook::{CookState, Live, Milestone, Next, Stage};
use crate::figures::bench;
use crate::food::FoodClass;
use crate::plan::{Plan, PlanRequest};
use crate::safety::{Level, Verdict};
use crate::units::{Minutes, Units};

/// Since when a piece is where it is, and how long that is; nothing before the drop, and once it is over. `clock` shows an
/// instant as this kitchen does.
///
/// ```
/// use hold_steady_core::{cook::*, who::By, words::since};
/// let at = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
/// let event = |id: u128, min, kind| Event { id: uuid::Uuid::from_u128(id), happened_at: at(min), recorded_at: at(min), by: By::default(), kind };
/// let clock = |t: jiff::Timestamp| t.to_string()[11..16].to_owned();
/// let mut all = vec![event(1, 10, EventKind::Dropped)];
/// assert_eq!(since(&CookState::of(&all), at(135), &clock).as_deref(), Some("In since 00:10, 2 h 5 min"));
/// all.push(event(2, 140, EventKind::Pulled));
/// assert_eq!(since(&CookState::of(&all), at(140), &clock).as_deref(), Some("Out since 02:20"));
/// assert_eq!(since(&CookState::default(), at(0), &clock), None);
/// ```
#[must_use]
pub fn since(state: &CookState, now: Timestamp, clock: &dyn Fn(Timestamp) -> String) -> Option<String> {
    let (word, from) = match state.stage() {
        Stage::InBath => ("In", Milestone::Dropped),
        Stage::Pulled | Stage::Dried | Stage::Seared => ("Out", Milestone::Pulled),
        Stage::Chilled => ("Cold", Milestone::Chilled),
        Stage::Waiting | Stage::Eaten | Stage::Discarded => return None,
    };
    let at = state.when(from)?;
    let long = Minutes::between(at, now);
    let long = if long < Minutes::new(1.0) { String::new() } else { format!(", {}", minutes(long)) };
    Some(format!("{word} since {}{long}", clock(at)))
}

/// That dinner is at another time than planned; nothing where it is not, or where there is none.
///
/// ```
/// # use hold_steady_core::{bath::BathHistory, cook::{CookState, live}, evidence::usual_request, food::catalogue, plan::*, words::dinner};
/// # let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
/// let (now, later) = ("2026-11-25T16:00:00Z".parse()?, "2026-11-25T18:00:00Z".parse()?);
/// let plan = plan(&request, now)?;
/// let live = live(&request, &plan, &CookState::default(), &BathHistory::default(), later)?;
/// assert!(dinner(&live, &plan, &|t| t.to_string()[11..16].to_owned()).is_some_and(|d| d.ends_with(" late.")), "not dropped");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn dinner(live: &Live, plan: &Plan, clock: &dyn Fn(Timestamp) -> String) -> Option<String> {
    let served = !matches!(
        live.next,
        Next::ThrowAway(_)
            | Next::NotHere { .. }
            | Next::NotServed(_)
            | Next::Discard { .. }
            | Next::ThrownAway { .. }
    );
    let moved = live.dinner_moved_min(plan).filter(|_| served)?;
    let way = if moved > Minutes::ZERO { "late" } else { "early" };
    Some(format!("Dinner is now {}, {} {way}.", clock(live.serve_at), minutes(moved.abs())))
}

/// By how much a clock was set.
///
/// ```
/// assert_eq!(hold_steady_core::words::set_by(-3600.0), "back by 1 h");
/// ```
#[must_use]
pub fn set_by(by_s: f64) -> String {
    let way = if by_s > 0.0 { "forward" } else { "back" };
    format!("{way} by {}", minutes(Minutes::new(by_s.abs() / 60.0)))
}

/// That the clock everything is written down by was set meanwhile.
///
/// ```
/// let told = hold_steady_core::words::clock_was_set(3600.0, "18:10");
/// assert!(told.starts_with("At 18:10 this machine’s clock was set forward by 1 h."));
/// ```
#[must_use]
pub fn clock_was_set(by_s: f64, at: &str) -> String {
    format!(
        "At {at} this machine’s clock was set {}. The minutes in the bath are counted as they passed; earlier times are shown on the clock as it is now. Look at the clock on the wall.",
        set_by(by_s)
    )
}

/// The water a piece lies in: as it was read last, else as it was set or planned.
///
/// ```
/// # use hold_steady_core::{bath::BathHistory, evidence::usual_request, food::catalogue, plan::*, units::Units, words::water_known};
/// # let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// let told = water_known(&request, &BathHistory::default(), now, Units::default(), &|t| t.to_string());
/// assert_eq!(told, "bath 55 °C", "as planned: nothing is known of it");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn water_known(
    request: &PlanRequest,
    water: &BathHistory,
    now: Timestamp,
    units: Units,
    clock: &dyn Fn(Timestamp) -> String,
) -> String {
    /// The age of a reading is said from then on.
    const OLD: Minutes = Minutes::new(5.0);
    let last = water.last();
    let set = last.settings.last().copied();
    let read = last.readings.last().filter(|r| set.is_none_or(|(at, _)| r.at >= at));
    match (read, set) {
        (Some(read), _) => {
            let old = Minutes::between(read.at, now);
            let ago = if old >= OLD { format!(", {} ago", minutes(old)) } else { String::new() };
            let back =
                set.filter(|(_, set)| !read.reported && *set - read.celsius > bench().agrees_k.kelvin());
            let back = back.map_or_else(String::new, |(_, set)| {
                format!(
                    "; once it reads {} again, write that down: times come forward by it",
                    units.temperature(set)
                )
            });
            format!("bath read {} at {}{ago}{back}", units.temperature(read.celsius), clock(read.at))
        }
        (None, Some((_, celsius))) => format!("bath set to {}", units.temperature(celsius)),
        (None, None) => format!("bath {}", units.temperature(request.bath_c)),
    }
}

/// A verdict's headline where a cook stands: in the bath it is that of a pull now. `warming`: it is not heated through yet.
///
/// ```
/// # use hold_steady_core::{cook::Stage, evidence::usual_request, food::catalogue, plan::*, words::stands_as};
/// # let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// let mut verdict = plan(&request, now)?.verdict;
/// verdict.level = hold_steady_core::safety::Level::ServeNow;
/// let told = stands_as(&verdict, request.food().class, Stage::InBath, (true, false));
/// assert!(told.starts_with("Not heated through; if pulled now: "), "{told}");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn stands_as(
    verdict: &Verdict,
    class: FoodClass,
    stage: Stage,
    (warming, sear_owed): (bool, bool),
) -> String {
    let headline = headline(verdict, class);
    let lower = || uncapitalised(headline);
    match (verdict.level, stage) {
        (Level::ServeNow, Stage::InBath) if warming => {
            format!("Not heated through; if pulled now: {}", lower())
        }
        (Level::ServeNow | Level::Refused, Stage::InBath) => format!("If pulled now: {}", lower()),
        // A sear that was computed or only begun does nothing: what was seared is what somebody said.
        (Level::ServeNow, _) if sear_owed => {
            format!("Only once every face and edge is seared: {}", lower())
        }
        _ => headline.to_owned(),
    }
}
