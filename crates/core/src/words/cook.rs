//! What to do next in a cook, in words.

use super::{minutes, why};
use crate::book::LastTime;
use crate::cook::{Next, Pull};
use crate::figures::{cooling, limits};
use crate::safety::Rule;
use crate::units::{Minutes, Units};

/// What to do next, in the imperative; and why, or what to expect, in a sentence.
///
/// ```
/// use hold_steady_core::{cook::Next, units::Units, words::next};
/// let (what, _) = next(&Next::Drop { late_min: None }, Units::default());
/// assert_eq!(what, "Drop it in");
/// ```
#[must_use]
pub fn next(next: &Next, units: Units) -> (String, String) {
    let (what, why): (&str, String) = match next {
        Next::Drop { late_min: Some(late) } => (
            "Drop it in",
            format!(
                "{} late: drop it now and everything after moves by as much. Tap when it is in and the bath is back at temperature.",
                minutes(*late)
            ),
        ),
        Next::Drop { late_min: None } => (
            "Drop it in",
            "Tap when it is in and the bath is back at temperature: the clock starts then.".into(),
        ),
        Next::LeaveIn { more_min } => (
            "Leave it in: not safe to serve yet",
            format!("It needs {} more until it is pasteurised.", minutes(more_min.ceil())),
        ),
        Next::DoNotServe => (
            "Do not serve it",
            "It has been too long where bacteria grow, and this bath cannot make it good.".into(),
        ),
        Next::Pull(pull) => return pulled(*pull),
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
        Next::KeepCold => {
            let (first, all) = (cooling().stage_1_min.value, cooling().stage_2_min.value);
            return (
                format!("Keep it sealed at {} or colder", limits().zone_low_c.degrees(units)),
                format!(
                    "Pasteurised and chilled: given that it was down to {} within {} of the pull, and to {} within {}. At home for five days; a food business follows its plan.",
                    cooling().stage_1_to_c.degrees(units),
                    minutes(Minutes::new(first)),
                    cooling().stage_2_to_c.degrees(units),
                    minutes(Minutes::new(all))
                ),
            );
        }
        Next::NotServed(verdict) => (
            if verdict.row == Rule::Growth { "Throw it away" } else { "Do not serve it as it is" },
            why(verdict, units),
        ),
        Next::Rate => ("Write down how it came out", "Two words now save the next one.".into()),
        Next::ThrownAway { cooked: true } => {
            ("Thrown away", "Write down what went wrong, if you like.".into())
        }
        Next::ThrownAway { cooked: false } => ("Thrown away", String::new()),
    };
    (what.to_owned(), why)
}

const fn afterwards(not_at_risk: bool) -> &'static str {
    if not_at_risk {
        "after that it is not for guests at risk any more"
    } else {
        "after that it is thrown away"
    }
}

fn pulled(pull: Pull) -> (String, String) {
    let (what, why): (&str, String) = match pull {
        Pull::PasteurisedIn(min) => {
            ("Pull it", format!("Pasteurised in {}; not before that.", minutes(min.ceil())))
        }
        Pull::ThroughIn(min) => ("Pull it", format!("Heated through in {}.", minutes(min.ceil()))),
        Pull::Waits => ("Pull it", "Heated through; it waits in the bath.".into()),
        Pull::Within(min) => (
            "Pull it when you are ready",
            format!(
                "Pull it within {}: after that it has been where bacteria grow for too long.",
                minutes(min.floor())
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
