//! What the plan's own finish does to the piece, pulled as planned, late or early.

use super::PlanRequest;
use crate::heat::HeatError;
use crate::sear::{Fat, FinishForm, Finishes, Given, Grid, Proposal, Seared, Setup, Start, bath_for};
use crate::units::{Celsius, Minutes, Units};

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
    /// The piece on what it is seared on.
    pub setup: Setup,
    /// In what fat.
    pub fat: &'static Fat,
    /// How, pulled as planned: what the finish of this piece proposes first.
    pub proposed: Proposal,
    /// At several pulls, earliest first.
    pub pulls: Vec<SearedAt>,
    /// What the plan's bath alone brings the middle to.
    pub wanted_c: Celsius,
    /// The bath that would bring it there after this sear, where no finish from this one does.
    pub bath_c: Option<Celsius>,
}

/// What the finish of a plan's piece does to it: pulled at the planned minute, earlier and later. `None` of food that is not
/// seared. Of the middle of the spreads: it says nothing of safety, and a sear that is computed earns none.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, after_sear, plan};
/// use hold_steady_core::{sear::Finishes, units::Units};
/// let now = "2026-11-25T14:00:00Z".parse()?;
/// let typed = PlanForm { food: "beef-strip".into(), thickness: "38 mm".into(), intact: "whole".into(), ..PlanForm::default() };
/// let rules = KitchenRules::default();
/// let request = typed.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules)).request.expect("complete");
/// let seared = after_sear(&request, plan(&request, now)?.bath_min, &Finishes::default())?.expect("a steak is seared");
/// // Pulled before it is heated through, its middle stays colder.
/// assert!(seared.proposed.lands() && seared.pulls[0].done.peak_c < seared.proposed.done.peak_c);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn after_sear(
    request: &PlanRequest,
    planned_min: Minutes,
    kept: &Finishes,
) -> Result<Option<AfterSear>, HeatError> {
    /// Shares of the planned time at which it is pulled.
    const SHARES: [f64; 6] = [0.1, 0.3, 0.5, 0.75, 1.0, 1.5];
    if !request.food().finish().sears {
        return Ok(None);
    }
    let pieces = request.pieces(request.finishing()?.warm_min)?;
    let minutes: Vec<Minutes> = SHARES.iter().map(|s| planned_min * *s).collect();
    let last = minutes[minutes.len() - 1];
    let run = pieces.middle.run_until(last, &minutes)?;
    let start = |i: usize| Start::Profile(run.by_depth(&run.solution.profiles[i]));
    let planned = minutes.iter().rposition(|m| *m <= planned_min).unwrap_or(minutes.len() - 1);
    let given = Given {
        thickness: Some(request.thickness_mm),
        bath: Some(request.bath_c),
        start: Some(start(planned)),
        altitude_m: request.rules.altitude_m,
        pans: request.rules.pans,
        ..Given::default()
    };
    let (_, asked, _) = FinishForm::default().read(request.food(), &given, Units::default());
    let Some(asked) = asked else { return Ok(None) };
    let proposed = Proposal::clone(&*kept.best(&asked)?);
    let setup = Setup { hearth_c: proposed.hearth_c, ..asked.setup.clone() };
    let mut pulls = Vec::new();
    for (i, bath_min) in minutes.iter().enumerate() {
        let done = if i == planned {
            proposed.done.clone()
        } else {
            // Only compared: looked at less finely.
            Setup { start: start(i), grid: Grid::SKETCH, ..setup.clone() }.finish(&proposed.pattern)?
        };
        pulls.push(SearedAt { bath_min: *bath_min, done });
    }
    let bath_c = if proposed.lands() {
        None
    } else {
        Some(Celsius::new(bath_for(&setup, &proposed.pattern, request.bath_c.value())?))
    };
    Ok(Some(AfterSear { setup, fat: asked.fat, proposed, pulls, wanted_c: request.bath_c, bath_c }))
}
