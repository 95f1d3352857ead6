//! What the plan's own finish does to the piece, pulled as planned, late or early.

use super::PlanRequest;
use crate::food::Finish;
use crate::heat::HeatError;
use crate::sear::{After, Hearth, Pattern, Pause, Seared, Setup, Start, bath_for};
use crate::units::{Celsius, Minutes};

/// A piece seared after a pull at some minute.
#[derive(Debug, Clone, PartialEq)]
pub struct SearedAt {
    /// Minutes in the bath.
    pub bath_min: Minutes,
    /// What the sear makes of it.
    pub done: Seared,
}

/// What the finish of a plan does.
#[derive(Debug, Clone, PartialEq)]
pub struct AfterSear {
    /// What it is seared on.
    pub hearth: &'static Hearth,
    /// How: the pause and the seconds a face of the food's usual finish.
    pub pattern: Pattern,
    /// At several pulls, earliest first.
    pub pulls: Vec<SearedAt>,
    /// At the planned one.
    pub planned: Seared,
    /// What the plan's bath alone brings the middle to.
    pub wanted_c: Celsius,
    /// The bath that would bring it there after this sear.
    pub bath_c: Celsius,
}

impl Finish {
    /// The pattern it usually has, where it is seared.
    fn pattern(&self) -> Option<Pattern> {
        let face_s = self.face_s?;
        let min = |id: &str| self.step(id).map_or(0.0, |s| s.min.value());
        Some(Pattern {
            pause: Pause::Air,
            pause_s: min("pause") * 60.0,
            face_s,
            times: 1,
            after: After::resting(min("plate") * 60.0),
        })
    }
}

/// What the plan's own finish does to its piece: pulled at the planned minute, earlier and later. `None` of food that is not
/// seared. Of the middle of the spreads: it says nothing of safety, and a sear that is computed earns none.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, after_sear, plan};
/// use hold_steady_core::units::Units;
/// let now = "2026-11-25T14:00:00Z".parse()?;
/// let typed = PlanForm { food: "beef-strip".into(), thickness: "38 mm".into(), intact: "whole".into(), ..PlanForm::default() };
/// let rules = KitchenRules::default();
/// let request = typed.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules)).request.expect("complete");
/// let seared = after_sear(&request, plan(&request, now)?.bath_min)?.expect("a steak is seared");
/// // Pulled before it is heated through, its middle stays colder.
/// assert!(seared.pulls[0].done.peak_c < seared.planned.peak_c);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn after_sear(request: &PlanRequest, planned_min: Minutes) -> Result<Option<AfterSear>, HeatError> {
    /// Shares of the planned time at which it is pulled.
    const SHARES: [f64; 9] = [0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 1.0, 1.5];
    let Some(pattern) = request.food().finish().pattern() else { return Ok(None) };
    let hearth = Hearth::named("iron-pan").expect("shipped and tested");
    let pieces = request.pieces(request.finishing()?.warm_min)?;
    let minutes: Vec<Minutes> = SHARES.iter().map(|s| planned_min * *s).collect();
    let last = minutes[minutes.len() - 1];
    let run = pieces.middle.run_until(last, &minutes)?;
    let base = Setup::new(request.food(), request.thickness_mm, request.bath_c, hearth);
    let base = Setup { altitude_m: request.rules.altitude_m, ..base };
    let mut pulls = Vec::new();
    for (bath_min, profile) in minutes.into_iter().zip(&run.solution.profiles) {
        let start = Start::Profile(run.by_depth(profile));
        let done = Setup { start, ..base.clone() }.finish(&pattern)?;
        pulls.push(SearedAt { bath_min, done });
    }
    let planned = pulls.iter().rfind(|p| p.bath_min <= planned_min);
    let planned = planned.or(pulls.last()).map(|p| p.done.clone()).expect("there are several");
    let bath_c = Celsius::new(bath_for(&base, &pattern, request.bath_c.value())?);
    Ok(Some(AfterSear { hearth, pattern, pulls, planned, wanted_c: request.bath_c, bath_c }))
}
