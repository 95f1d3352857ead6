//! What a vessel's readings taught, and what they did not, in words.

use super::minutes;
use crate::bath::{LEAST_APART, LearnError, Learned, Sought};
use crate::figures::bench;
use crate::units::{Celsius, Kelvin, TemperatureUnit, Units};

/// A share in whole percent, to either side.
fn either_side(share: f64) -> String {
    format!("± {:.0} %", share * 100.0)
}

/// A loss, for each degree of the reader's.
fn loss(w_k: f64, units: Units) -> String {
    let each = if units.temperature == TemperatureUnit::F { w_k / 1.8 } else { w_k };
    format!("{each:.1} W for each {} above the room", units.temperature_symbol())
}

/// What was learned, in a sentence.
///
/// ```
/// use hold_steady_core::{bath::Learned, units::Units, words::learned};
/// let heater = Learned {
///     heater_w: Some(912.0), heater_spread: Some(0.04), residual_k: 0.05, from_c: 20.0, to_c: 53.0, ..Learned::default()
/// };
/// assert_eq!(
///     learned(&heater, Units::default()),
///     "By its readings from 20 °C to 53 °C: its heater gives 910 W, ± 4 %, if nothing lay in it. They lie within 0.1 °C of that."
/// );
/// ```
#[must_use]
pub fn learned(l: &Learned, units: Units) -> String {
    let within = |spread: Option<f64>| spread.map_or_else(String::new, |s| format!(", {}", either_side(s)));
    let middle = units.temperature(Celsius::new(f64::midpoint(l.from_c, l.to_c)));
    let lost = match (l.whole_w, l.loss_w_k) {
        (Some(w), _) => {
            Some(format!("it loses {w:.0} W at {middle}, evaporation and all{}", within(l.whole_spread)))
        }
        (None, Some(w)) => {
            Some(format!("it loses {} besides evaporation{}", loss(w, units), within(l.loss_spread)))
        }
        (None, None) => None,
    };
    let heater = l.heater_w.map(|w| {
        // No better than its readings: two figures.
        format!(
            "its heater gives {:.0} W{}, if nothing lay in it",
            (w / 10.0).round() * 10.0,
            within(l.heater_spread)
        )
    });
    let all: Vec<String> = lost.into_iter().chain(heater).collect();
    format!(
        "By its readings from {} to {}: {}. They lie within {} of that.",
        units.temperature(Celsius::new(l.from_c)),
        units.temperature(Celsius::new(l.to_c)),
        all.join("; "),
        units.temperature_difference_fine(Kelvin::new((l.residual_k * 10.0).ceil() / 10.0))
    )
}

/// Why nothing was learned, and what to do.
///
/// ```
/// use hold_steady_core::{bath::{LearnError, Sought}, units::{Kelvin, Units}, words::not_learned};
/// let late = not_learned(LearnError::Scattered(Sought::Heater, Kelvin::new(0.8)), Units::default());
/// assert!(late.contains("0.8 °C") && late.contains("nothing in it"), "{late}");
/// ```
#[must_use]
pub fn not_learned(why: LearnError, units: Units) -> String {
    const RISE: &str =
        "Start the log when the heater is on, far below its setting, with the lid on and nothing in it.";
    const FALL: &str =
        "Read it as it cools with the heater off, the lid on, nothing put in and no water added.";
    let what_to_do = |of: Sought| if of == Sought::Heater { RISE } else { FALL };
    let what = |of: Sought| if of == Sought::Heater { "its heater’s power" } else { "what it loses" };
    match why {
        LearnError::TooFew => {
            let apart = minutes(LEAST_APART);
            format!("More than one reading is needed, {apart} apart at least: nothing can be learned yet.")
        }
        LearnError::Flat(Sought::Heater) => {
            format!("These readings do not rise: its heater’s power is not learned of them. {RISE}")
        }
        LearnError::Flat(Sought::Loss) => {
            format!("These readings do not fall: what it loses is not learned of them. {FALL}")
        }
        LearnError::Impossible(of) => format!(
            "No vessel fits these readings: {} is not learned of them. Look at the litres, the cover and the room. {}",
            what(of),
            what_to_do(of)
        ),
        LearnError::Unsteady(Sought::Heater) => format!(
            "The heater did not give one power all along: it was switched on late, it throttles near its setting, or something was put in. Its power is not learned of that. {RISE}"
        ),
        LearnError::Unsteady(Sought::Loss) => format!(
            "What it loses changed on the way: a lid lifted, water or food put in, a heater that still gave something. It is not learned of that. {FALL}"
        ),
        LearnError::Scattered(of, k) => format!(
            "These readings lie {} from what fits them best, more than {}: {} is not learned of them. {}",
            units.temperature_difference_fine(k),
            units.temperature_difference_fine(bench().learn_residual_k.kelvin()),
            what(of),
            what_to_do(of)
        ),
        LearnError::Unsure(of, share) => format!(
            "These readings tell {} within {} only: it is not learned of them. Read more of it, over more degrees, with the lid on.",
            what(of),
            either_side(share.min(9.99))
        ),
    }
}
