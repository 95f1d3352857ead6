//! One bath for pieces that want different temperatures: what each of them would make of each.

use crate::heat::HeatError;
use crate::plan::{PlanRequest, Windows};
use crate::safety::Level;
use crate::units::{Celsius, Minutes};

/// What a shared temperature does to one piece.
#[derive(Debug, Clone, PartialEq)]
pub struct AtShared {
    /// How it may be served after its time there; none where it is not cooked so warm or so cold at all.
    pub level: Option<Level>,
    /// Its time in the bath.
    pub bath_min: Minutes,
    /// How done it will be: the nearest word of its food.
    pub done: String,
    /// Whether that is what its cook wanted.
    pub as_wanted: bool,
}

/// A temperature for all, and what it does to each, in the order they were given.
#[derive(Debug, Clone, PartialEq)]
pub struct Shared {
    /// °C.
    pub c: Celsius,
    /// What it does to each.
    pub each: Vec<AtShared>,
}

impl Shared {
    /// How many it serves: safe as their plans are, and as done as was wanted.
    #[must_use]
    pub(crate) fn serves(&self) -> usize {
        self.each.iter().filter(|e| e.as_wanted).count()
    }

    /// How many could not be served from it at all.
    #[must_use]
    pub(crate) fn spoils(&self) -> usize {
        self.each.iter().filter(|e| e.level.is_none_or(|l| l == Level::Refused)).count()
    }
}

/// Every temperature one of them wants, as a bath for all; the one that serves most and spoils least first, then the
/// nearest to what they want.
///
/// # Errors
/// When a simulation fails.
///
/// ```
/// # use hold_steady_core::{board::shared, evidence::usual_request, food::catalogue, plan::{From, Windows}, units::Celsius};
/// let of = |id| usual_request(catalogue().food(id).expect("in the catalogue"), From::Refrigerator);
/// let (steak, carrots) = (of("beef-strip"), of("carrot"));
/// let both = shared(&[steak, carrots], &Windows::default())?;
/// assert_eq!(both.len(), 2);
/// assert!(both[0].each.iter().filter(|e| e.as_wanted).count() == 1, "no bath does both as they want it");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn shared(requests: &[PlanRequest], windows: &Windows) -> Result<Vec<Shared>, HeatError> {
    const SAME_K: f64 = 0.15;
    let mut temperatures: Vec<Celsius> = Vec::new();
    for r in requests {
        if !temperatures.iter().any(|c| (*c - r.bath_c).abs().value() <= SAME_K) {
            temperatures.push(r.bath_c);
        }
    }
    let of = |c: Celsius| {
        let each = requests.iter().map(|r| at(r, c, windows)).collect::<Result<Vec<_>, _>>()?;
        Ok::<_, HeatError>(Shared { c, each })
    };
    let mut all = temperatures.into_iter().map(of).collect::<Result<Vec<_>, _>>()?;
    let away = |s: &Shared| requests.iter().map(|r| (s.c - r.bath_c).abs().value()).sum::<f64>();
    all.sort_by(|a, b| {
        a.spoils().cmp(&b.spoils()).then(b.serves().cmp(&a.serves())).then(away(a).total_cmp(&away(b)))
    });
    Ok(all)
}

/// What one piece would make of a bath.
fn at(request: &PlanRequest, c: Celsius, windows: &Windows) -> Result<AtShared, HeatError> {
    let food = request.food();
    let done = food.nearest_doneness(c).name.clone();
    let wanted = food.nearest_doneness(request.bath_c);
    if !(food.bath_c.low..=food.bath_c.high).contains(&c) {
        return Ok(AtShared { level: None, bath_min: Minutes::ZERO, done, as_wanted: false });
    }
    let (there, own) = (windows.of(&PlanRequest { bath_c: c, ..request.clone() })?, windows.of(request)?);
    let level = there.level_at(there.needed_min);
    let as_wanted = done == wanted.name && level <= own.level_at(request.time_min.unwrap_or(own.needed_min));
    Ok(AtShared { level: Some(level), bath_min: there.needed_min, done, as_wanted })
}
