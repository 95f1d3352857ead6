//! The slow end of every food's spreads beside a seeded Monte Carlo.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::food::{Food, FoodClass};
use crate::heat::HeatError;
use crate::piece::monte_carlo;
use crate::plan::{From, KitchenRules, PlanForm, PlanRequest, Setting};
use crate::safety::FoodState;
use crate::units::{Minutes, Units};

/// A time at the middle and at the slow end, and the Monte Carlo's 95th percentile, minutes.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct EndOfTime {
    /// As stated.
    pub middle: f64,
    /// At the slow end.
    pub slow: f64,
    /// One draw in twenty is later.
    pub p95: f64,
}

impl EndOfTime {
    /// Whether the slow end stands at or beyond the 95th percentile.
    ///
    /// ```
    /// let all = hold_steady_core::evidence::slow_ends();
    /// assert!(all.iter().filter_map(|s| s.through.as_ref()).all(|end| end.holds()));
    /// ```
    #[must_use]
    pub fn holds(&self) -> bool {
        self.slow >= self.p95
    }
}

/// One food as its sentence starts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SlowEnd {
    /// Identifier of the food.
    pub food: String,
    /// Where it comes from.
    pub from: From,
    /// As near the bath as it is pulled at.
    pub through: Option<EndOfTime>,
    /// Pasteurised in this bath.
    pub pasteurised: Option<EndOfTime>,
}

static SHIPPED: LazyLock<Vec<SlowEnd>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/evidence/slow-end.json")).expect("shipped and tested")
});

/// What the last full computation found, for every food (`cargo run --release --example slow_end`);
/// `tests/slow_end.rs` holds it against a new one.
///
/// ```
/// use hold_steady_core::evidence::slow_ends;
/// assert!(slow_ends().iter().any(|s| s.food == "beef-strip"));
/// ```
#[must_use]
pub fn slow_ends() -> &'static [SlowEnd] {
    &SHIPPED
}

/// The sentence a food starts with, every question answered the good way.
///
/// # Panics
/// When the catalogue's own sentence is not understood, which the tests rule out.
///
/// ```
/// use hold_steady_core::{evidence::usual_request, food::catalogue, plan::From};
/// let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
/// assert_eq!(usual_request(salmon, From::Freezer).food().id, "salmon-fillet");
/// ```
#[must_use]
pub fn usual_request(food: &Food, from: From) -> PlanRequest {
    let form = PlanForm {
        food: food.id.clone(),
        intact: "whole".into(),
        parasites: "frozen".into(),
        prepared: "yes".into(),
        from: from.id().into(),
        ..PlanForm::default()
    };
    let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    let now = jiff::Timestamp::UNIX_EPOCH;
    form.read(&Setting::new(Units::default(), now, &zone, &rules))
        .request
        .expect("the catalogue's own sentence")
}

impl SlowEnd {
    /// Computes one, with `draws` draws.
    ///
    /// # Errors
    /// When a simulation fails.
    ///
    /// ```
    /// use hold_steady_core::{evidence::SlowEnd, food::catalogue, plan::From};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let found = SlowEnd::compute(strip, From::Refrigerator, 20, 2)?;
    /// assert!(found.through.is_some_and(|end| end.slow > end.middle));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn compute(food: &Food, from: From, draws: usize, threads: usize) -> Result<Self, HeatError> {
        const SEED: u64 = 20_261_125;
        let request = usual_request(food, from);
        let pieces = request.pieces(Minutes::ZERO)?;
        let (middle, slow) = (pieces.middle.run(&[])?, pieces.slow.run(&[])?);
        // Far enough for every draw that matters.
        let until = [slow.done_min(), slow.pasteurised_from_min()]
            .into_iter()
            .flatten()
            .fold(Minutes::from_hours(1.0), Minutes::max)
            * 1.3;
        let drawn = monte_carlo(&pieces.middle, &request.spreads(), until, (draws, SEED, threads))?;
        let end = |middle: Option<Minutes>, slow: Option<Minutes>, p95: f64| {
            Some(EndOfTime { middle: middle?.value(), slow: slow?.value(), p95 })
        };
        // What is reheated or fermented is not pasteurised in this bath.
        let kills = pieces.middle.case.state == FoodState::Raw && food.class != FoodClass::Ferment;
        Ok(Self {
            food: food.id.clone(),
            from,
            through: end(middle.done_min(), slow.done_min(), drawn.through.p95),
            pasteurised: end(
                middle.pasteurised_from_min(),
                slow.pasteurised_from_min(),
                drawn.pasteurised.p95,
            )
            .filter(|_| kills),
        })
    }
}
