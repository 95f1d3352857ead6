//! What every bath temperature and time would give for one piece: the whole map around a plan.

use super::PlanRequest;
use super::answer::{for_every_guest, texture_window};
use super::pictures::{self, Stretch};
use crate::figures::limits;
use crate::heat::{Detail, Effort, HeatError};
use crate::piece::Piece;
use crate::units::{Celsius, Kelvin, Minutes};

/// What one bath temperature gives over time.
#[derive(Debug, Clone, PartialEq)]
pub struct EnvelopeRow {
    /// Bath, °C.
    pub bath_c: Celsius,
    /// Heated through at the slow end, minutes.
    pub through_min: Option<Minutes>,
    /// Fit for every guest from, at the slow end, minutes.
    pub safe_min: Option<Minutes>,
    /// The stretches, in order, from 0 to the horizon.
    pub bands: Vec<Stretch>,
}

/// The map: rows of rising temperature, all to the same horizon. It does not depend on the temperature
/// and time chosen, nor on the clock.
#[derive(Debug, Clone, PartialEq)]
pub struct Envelope {
    /// Rows, coldest first. Where a rule changes at one temperature, two rows stand close together.
    pub rows: Vec<EnvelopeRow>,
    /// Where every row ends, minutes.
    pub horizon_min: Minutes,
}

/// Steps between the coldest and the hottest bath.
const STEPS: usize = 14;
/// No even step stands nearer than the first to a rule's temperature; the two rows on either side of it stand as
/// close as the second.
const TOO_NEAR_K: Kelvin = Kelvin::new(0.2);
const HAIR_K: Kelvin = Kelvin::new(0.001);

/// Baths that are looked at: even steps, and both sides of 54.4 °C.
fn baths(request: &PlanRequest) -> Vec<Celsius> {
    let range = request.food().bath_c;
    let gate = limits().lowest_hold_c.celsius() + request.rules.bath_error_c;
    let mut all: Vec<Celsius> =
        (0..=STEPS).map(|i| range.low + (range.high - range.low) * i as f64 / STEPS as f64).collect();
    all.retain(|c| (*c - gate).abs() > TOO_NEAR_K);
    all.extend([gate - HAIR_K, gate + HAIR_K].into_iter().filter(|c| (range.low..=range.high).contains(c)));
    all.sort_by(|a, b| a.value().total_cmp(&b.value()));
    all
}

/// Works out the map to `horizon_min`, by the slow end of the spreads for what is safe and the fast end
/// for texture, as [`plan`](super::plan) does.
///
/// # Errors
/// When a simulation fails; see [`HeatError`].
///
/// ```
/// use hold_steady_core::plan::*;
/// use hold_steady_core::units::{Minutes, Units};
/// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let typed = PlanForm { intact: "whole".into(), ..PlanForm::default() };
/// let request = typed.read(&Setting::new(Units::default(), now, &zone, &rules)).request.expect("complete");
/// let map = envelope(&request, Minutes::new(360.0))?;
/// // Nothing is pasteurised below 54.4 °C, and something is above.
/// let safe = |c: f64| map.rows.iter().filter(|r| r.bath_c.value() < c).any(|r| r.safe_min.is_some());
/// assert!(!safe(54.4) && safe(86.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn envelope(request: &PlanRequest, horizon_min: Minutes) -> Result<Envelope, HeatError> {
    let baths = baths(request);
    let warm_min = request.finishing()?.warm_min;
    let row = |bath_c: Celsius| row(request, bath_c, warm_min, horizon_min);
    // Half of them on another thread: they do not depend on each other.
    let (colder, hotter) = baths.split_at(baths.len() / 2);
    let rows = |baths: &[Celsius]| baths.iter().map(|c| row(*c)).collect::<Result<Vec<_>, _>>();
    let (first, second) = Effort::beside(|| rows(colder), || rows(hotter));
    let mut rows = first?;
    rows.extend(second?);
    Ok(Envelope { rows, horizon_min })
}

fn row(
    request: &PlanRequest,
    bath_c: Celsius,
    warm_min: Minutes,
    horizon_min: Minutes,
) -> Result<EnvelopeRow, HeatError> {
    let at = PlanRequest { bath_c, time_min: None, ..request.clone() };
    let piece = Piece { detail: Detail::Picture, ..at.pieces(warm_min)?.slow };
    let slow = piece.run_until(horizon_min, &[])?;
    let through_min = slow.done_min();
    let safe_min = for_every_guest(&slow);
    let (_, best_until) = texture_window(&at, at.set_c());
    let through = through_min.unwrap_or(Minutes::NEVER);
    let bands = pictures::bands(&slow, through, best_until.fast, horizon_min);
    Ok(EnvelopeRow { bath_c, through_min, safe_min, bands })
}
