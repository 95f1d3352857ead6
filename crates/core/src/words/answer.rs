//! The short of a plan's answer: its headline, the line under it, and what is asked or taken for granted.

use super::{headline, minutes};
use crate::food::Food;
use crate::plan::{Assumed, OpenQuestion, Plan, PlanForm, PlanRequest};
use crate::safety::{Level, Rule};
use crate::units::{Celsius, Minutes, Units};
use jiff::Timestamp;

/// A question that a refusal hangs on.
///
/// ```
/// use hold_steady_core::{plan::OpenQuestion, words};
/// assert_eq!(words::asks(OpenQuestion::Whole), "First: is it whole?");
/// ```
#[must_use]
pub fn asks(question: OpenQuestion) -> &'static str {
    match question {
        OpenQuestion::Parasites => "First: was it frozen for parasites?",
        OpenQuestion::Whole => "First: is it whole?",
        OpenQuestion::Boiled => "First: were they soaked, and boiled hard for long enough?",
        OpenQuestion::Starter => "First: was the milk heated and cooled, and a live starter stirred in?",
    }
}

/// Its answers, each as the sentence's field holds it and in words.
///
/// ```
/// use hold_steady_core::{plan::OpenQuestion, words};
/// assert_eq!(words::answers_to(OpenQuestion::Boiled)[1], ("no", "No, or not sure"));
/// ```
#[must_use]
pub const fn answers_to(question: OpenQuestion) -> &'static [(&'static str, &'static str)] {
    match question {
        OpenQuestion::Parasites => &[("frozen", "Yes, frozen for parasites"), ("none", "No, or not sure")],
        OpenQuestion::Whole => &[("whole", "Whole, never pierced"), ("bladed", "Bladed, injected or rolled")],
        OpenQuestion::Boiled | OpenQuestion::Starter => {
            &[("yes", "Yes, that was done"), ("no", "No, or not sure")]
        }
    }
}

/// What counts while nobody has said otherwise.
///
/// ```
/// use hold_steady_core::{plan::Assumed, words};
/// assert!(words::assumed(Assumed::Raw).starts_with("Treated as raw."));
/// ```
#[must_use]
pub const fn assumed(what: Assumed) -> &'static str {
    match what {
        Assumed::Pierced => {
            "Treated as pierced, so the centre must be pasteurised too. Never pierced? Choose whole."
        }
        Assumed::NotFrozen => "Treated as not frozen against parasites. Was it? Say so in the sentence.",
        Assumed::Raw => "Treated as raw. Was it prepared? Say so in the sentence.",
    }
}

/// Headline of an answer, and the line under it. `reason` is the first of its verdict's; `clock` shows an instant as this
/// kitchen does.
///
/// ```
/// use hold_steady_core::{plan::{KitchenRules, PlanForm, Setting, plan}, units::Units, words};
/// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let reading = PlanForm::default().read(&Setting::new(Units::default(), now, &zone, &rules));
/// let request = reading.request.expect("a steak");
/// let clock = |t: jiff::Timestamp| t.to_string()[11..16].to_owned();
/// let (headline, lead) = words::answer((&plan(&request, now)?, &request), &reading.form, "", &clock);
/// assert!(headline.starts_with("Pasteurised at ") && headline.ends_with(", for every guest"), "{headline}");
/// assert!(lead.ends_with(" in the bath, allowing for the slowest piece."), "{lead}");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn answer(
    (plan, request): (&Plan, &PlanRequest),
    form: &PlanForm,
    reason: &str,
    clock: &dyn Fn(Timestamp) -> String,
) -> (String, String) {
    let in_bath = format!("{} in the bath", minutes(plan.bath_min));
    let class = request.food().class;
    let whose = if request.time_min.is_some() { "as you chose" } else { "allowing for the slowest piece" };
    let told = || headline(&plan.verdict, class).to_owned();
    let row = plan.verdict.row;
    match plan.verdict.level {
        Level::Pasteurized => {
            let at = plan.times.pasteurised.map_or(plan.times.pull, |r| r.until);
            let what = if row == Rule::Reheated { "Reheated" } else { "Pasteurised" };
            (format!("{what} at {}, for every guest", clock(at)), format!("{in_bath}, {whose}."))
        }
        Level::Exempt => (told(), format!("{in_bath}, {whose}. {reason}")),
        Level::ServeNow if !class.is_animal() => {
            (told(), format!("{in_bath}, {whose}; not pasteurised, so not for keeping."))
        }
        Level::ServeNow if matches!(row, Rule::Cooked | Rule::Pasteurised | Rule::Reheated) => {
            (told(), format!("{in_bath}, {whose}."))
        }
        Level::ServeNow => (
            "Serve at once, to guests not at risk".to_owned(),
            if plan.bath_min < plan.through.slow {
                format!("{in_bath}, as you chose; not pasteurised.")
            } else {
                format!("Heated through after {}; not pasteurised.", minutes(plan.through.slow.ceil()))
            },
        ),
        Level::Refused => match OpenQuestion::of(plan, form) {
            Some(open) => (asks(open).to_owned(), reason.to_owned()),
            None if request.at_risk && row == Rule::GuestAtRisk => {
                ("Not for a guest at risk".to_owned(), format!("{in_bath} does not make it safe for them."))
            }
            None => ("Not like this".to_owned(), reason.to_owned()),
        },
    }
}

/// What the slice shows, for who cannot see it.
///
/// ```
/// use hold_steady_core::{units::Minutes, words};
/// assert!(words::slice(Minutes::new(58.0)).ends_with("Heated through after 58 min."));
/// ```
#[must_use]
pub fn slice(through: Minutes) -> String {
    format!("Cross-section through the middle, computed. Heated through after {}.", minutes(through))
}

/// What the ribbon shows: since when, and what comes when.
///
/// ```
/// assert_eq!(
///     hold_steady_core::words::ribbon("18:02", &["pull 19:05".into(), "serve 19:15".into()]),
///     "From the drop at 18:02: pull 19:05; serve 19:15."
/// );
/// ```
#[must_use]
pub fn ribbon(dropped: &str, parts: &[String]) -> String {
    format!("From the drop at {dropped}: {}.", parts.join("; "))
}

/// What the map shows, a line for each bath: its temperature, and from when it is safe for every guest.
///
/// ```
/// use hold_steady_core::{units::{Celsius, Minutes, Units}, words};
/// let rows = [(Celsius::new(50.0), None), (Celsius::new(56.0), Some(Minutes::new(130.0)))];
/// assert_eq!(
///     words::map(rows, Units::default()),
///     "Bath temperature against time. 50 °C: never safe for every guest; 56 °C: safe for every guest after 2 h 10 min."
/// );
/// ```
#[must_use]
pub fn map(rows: impl IntoIterator<Item = (Celsius, Option<Minutes>)>, units: Units) -> String {
    let row = |(bath_c, safe): (Celsius, Option<Minutes>)| {
        let safe = safe.map_or_else(
            || "never safe for every guest".to_owned(),
            |after| format!("safe for every guest after {}", minutes(after.ceil())),
        );
        format!("{}: {safe}", units.temperature(bath_c))
    };
    let rows: Vec<String> = rows.into_iter().map(row).collect();
    format!("Bath temperature against time. {}.", rows.join("; "))
}

/// What the scale of a food's doneness shows.
///
/// ```
/// use hold_steady_core::{food::catalogue, units::{Celsius, Units}, words};
/// let steak = catalogue().food("beef-strip").expect("in the catalogue");
/// let said = words::scale((Celsius::new(45.0), Celsius::new(75.0)), steak, Units::default());
/// assert!(said.starts_with("Doneness from 45 °C to 75 °C: "), "{said}");
/// ```
#[must_use]
pub fn scale((low, high): (Celsius, Celsius), food: &Food, units: Units) -> String {
    let level = |(name, c): (&str, Celsius)| format!("{name} {}", units.temperature(units.settable(c)));
    let all: Vec<String> = food.doneness.iter().map(|d| level((&d.name, d.c))).collect();
    format!("Doneness from {} to {}: {}.", units.temperature(low), units.temperature(high), all.join(", "))
}

/// How a thickness may be typed, and who is at risk: beside the sentence's blanks.
///
/// ```
/// use hold_steady_core::{food::catalogue, units::Units, words};
/// let fish = words::hints(catalogue().food("salmon-fillet").expect("in the catalogue"), Units::default());
/// assert_eq!(fish.len(), 3);
/// ```
#[must_use]
pub fn hints(food: &Food, units: Units) -> Vec<String> {
    let mut all = Vec::new();
    if food.is_bagged() {
        let (about, range) = if units.length_symbol() == "mm" {
            ("about 32 mm", "25 to 32 mm")
        } else {
            ("about 1 1/4 in", "1 to 1 1/4 in")
        };
        all.push(format!("Thickest place: “{about}” if unsure, “{range}” if uneven."));
    }
    if food.class.is_animal() {
        all.push("At risk: very young, old, pregnant, ill.".to_owned());
    }
    if food.class == crate::food::FoodClass::Fish {
        all.push(format!("For parasites: {}.", super::frozen_for_parasites(units)));
    }
    all
}

/// A question of an entry's time that can be meant in two ways; `what` is what happened.
///
/// ```
/// assert!(hold_steady_core::words::which_time("the pull").starts_with("When was the pull?"));
/// ```
#[must_use]
pub fn which_time(what: &str) -> String {
    format!("When was {what}? That time can be meant in two ways; until it is said, what is worse counts.")
}

/// A question of where a piece was between a pull and its undoing.
///
/// ```
/// use hold_steady_core::{units::Minutes, words};
/// let asked = words::where_meanwhile(Minutes::new(12.0), "19:05", "19:17");
/// assert!(asked.starts_with("The pull was undone 12 min after it: where was it from 19:05 to 19:17?"));
/// ```
#[must_use]
pub fn where_meanwhile(after: Minutes, from: &str, until: &str) -> String {
    format!(
        "The pull was undone {} after it: where was it from {from} to {until}? Until it is said, it counts as out, and as the worst.",
        minutes(after)
    )
}

/// That more time is not needed: the plan holds already.
pub const AS_PLANNED: &str = "It is pasteurised as planned.";
