//! A plan made anew for a cook that is under way: what it is wanted for changes, and what the piece is only where it was
//! written down wrong.

use jiff::Timestamp;

use super::{PlanForm, PlanRequest, Reading, Setting};
use crate::prep::Prep;

/// What a sentence typed anew changes of the plan that stands.
#[derive(Debug, Clone, PartialEq)]
pub enum Anew {
    /// Nothing.
    Same,
    /// What is wished: it moves what is to come.
    Wishes(Box<PlanRequest>),
    /// What the piece is, and with it perhaps what is wished: it was so from the beginning.
    Piece(Box<PlanRequest>),
}

impl Anew {
    /// The plan asked for, where it is another.
    ///
    /// ```
    /// assert!(hold_steady_core::plan::Anew::Same.request().is_none());
    /// ```
    #[must_use]
    pub fn request(&self) -> Option<&PlanRequest> {
        match self {
            Self::Same => None,
            Self::Wishes(request) | Self::Piece(request) => Some(request),
        }
    }
}

/// A sentence typed anew, read: the form to show again, the faults, and what it changes.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadAnew {
    /// As it is shown, with its faults.
    pub reading: Reading,
    /// What it changes; none while something of it cannot be taken.
    pub anew: Option<Anew>,
}

/// Reads a sentence that stands for a plan typed earlier, with some of it typed anew. What stands as it is shown means what
/// it meant: an hour that has passed since is not tomorrow's, and a temperature shown in another unit not another one.
///
/// What the kitchen had settled, the vessel and the work before the bath stay as they were planned.
///
/// ```
/// use hold_steady_core::plan::{Anew, KitchenRules, PlanForm, Setting, read_anew};
/// use hold_steady_core::units::Units;
/// let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
/// let setting = |now| Setting::new(Units::default(), now, &zone, &rules);
/// let planned = setting("2026-11-25T16:00:00Z".parse()?);
/// let form = PlanForm { intact: "whole".into(), ready: "19:30".into(), ..PlanForm::default() }.read(&planned);
/// let (typed, standing) = (form.form, form.request.expect("complete"));
/// // At 18:00, half an hour later than planned; in its bath since 17:50.
/// let later = setting("2026-11-25T18:00:00Z".parse()?);
/// let since = Some("2026-11-25T17:50:00Z".parse()?);
/// let again = read_anew((&typed, &standing), |form| form.ready = "20:00".into(), &later, since);
/// let Some(Anew::Wishes(wished)) = again.anew else { panic!("{again:?}") };
/// assert_eq!(wished.ready_at, Some("2026-11-25T20:00:00Z".parse()?));
/// let thicker = read_anew((&typed, &standing), |form| form.thickness = "40 mm".into(), &later, since);
/// assert!(matches!(thicker.anew, Some(Anew::Piece(piece)) if piece.ready_at == standing.ready_at));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn read_anew(
    (typed, standing): (&PlanForm, &PlanRequest),
    change: impl FnOnce(&mut PlanForm),
    setting: &Setting<'_>,
    in_since: Option<Timestamp>,
) -> ReadAnew {
    // An hour that is over is no time to be ready, and was one; a vessel that is on the list no more is the one it lies in.
    let listed = setting.equipment.vessels.iter().any(|v| v.id.to_string() == typed.vessel);
    let kept = |of_vessel: &String| if listed { of_vessel.clone() } else { String::new() };
    let open = PlanForm {
        ready: String::new(),
        vessel: kept(&typed.vessel),
        heated: kept(&typed.heated),
        ..typed.clone()
    };
    let shown = PlanForm { ready: typed.ready.clone(), ..open.read(setting).form };
    let mut form = shown.clone();
    change(&mut form);
    let hour_stands = form.ready.trim() == shown.ready.trim();
    let asked =
        PlanForm { ready: if hour_stands { String::new() } else { form.ready.clone() }, ..form.clone() };
    let mut reading = asked.read(setting);
    if hour_stands {
        reading.form.ready.clone_from(&form.ready);
    }
    let anew = reading.request.as_ref().map(|read| {
        let stays = |same: bool| same && form.food == shown.food;
        let wished = PlanRequest {
            bath_c: if form.bath == shown.bath { standing.bath_c } else { read.bath_c },
            time_min: if stays(form.time == shown.time) { standing.time_min } else { read.time_min },
            at_risk: read.at_risk,
            served_to: read.served_to.clone(),
            ready_at: if hour_stands { standing.ready_at } else { read.ready_at },
            ..standing.clone()
        };
        let prep = Prep { pieces: read.prep.pieces, weight_g: read.prep.weight_g, ..standing.prep.clone() };
        let piece = PlanRequest { prep, ..read.clone() };
        let request = wished.of_piece(&piece);
        let since = PlanRequest { in_since, ..request };
        if !since.is_same_piece(standing) {
            Anew::Piece(Box::new(since))
        } else if (PlanRequest { in_since: standing.in_since, ..since.clone() }) != *standing {
            Anew::Wishes(Box::new(since))
        } else {
            Anew::Same
        }
    });
    ReadAnew { reading, anew }
}
