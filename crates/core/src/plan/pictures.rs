//! What the two pictures show: the ribbon's stretches and stops, the slice's frames. Numbers only; words are made
//! when shown, and drawing is the web's business.

use crate::units::{Celsius, Ends, Kelvin, Minutes};
use serde::{Deserialize, Serialize};

use super::PlanRequest;
use crate::food::Food;
use crate::piece::{LONGEST_MIN, Run};
use crate::safety::{Level, Rule, Verdict};

/// What a stretch of the ribbon means.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum StretchKind {
    /// The centre is still on its way.
    Warming,
    /// Heated through; may be served at once to guests not at risk.
    Through,
    /// Heated through and not yet safe for these guests.
    NotYet,
    /// For every guest, and at its best.
    Safe,
    /// Past its best; still as safe as before.
    Soft,
    /// Too long in the growth range: not to be served.
    Refused,
    /// Of a cook under way: nobody has seen its water since, and so nobody knows.
    Unknown,
}

impl StretchKind {
    /// Every kind.
    pub const ALL: [Self; 7] =
        [Self::Warming, Self::Through, Self::NotYet, Self::Safe, Self::Soft, Self::Refused, Self::Unknown];

    /// A few words for the stretch itself.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::plan::StretchKind::Refused.words(), "not safe this long");
    /// ```
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::Warming => "warming through",
            Self::Through => "heated through",
            Self::NotYet => "heated, not safe yet",
            Self::Safe => "pasteurised, at its best",
            Self::Soft => "past its best",
            Self::Refused => "not safe this long",
            Self::Unknown => "water not seen: unknown",
        }
    }

    /// The word in records and style sheets.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::plan::StretchKind::Safe.id(), "safe");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Warming => "warming",
            Self::Through => "through",
            Self::NotYet => "not-yet",
            Self::Safe => "safe",
            Self::Soft => "soft",
            Self::Refused => "refused",
            Self::Unknown => "unknown",
        }
    }
}

/// A stretch of the ribbon, minutes from the drop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Stretch {
    /// Begins.
    pub from_min: Minutes,
    /// Ends.
    pub until_min: Minutes,
    /// What it means.
    pub kind: StretchKind,
}

/// What a pull at one minute means; told by [`crate::words::stop`].
#[derive(Debug, Clone, PartialEq)]
pub struct Stop {
    /// Minute from the drop.
    pub min: Minutes,
    /// How it may be served then.
    pub verdict: Verdict,
    /// The centre at the slow end, °C.
    pub core_c: Celsius,
    /// How far that is from the bath, K.
    pub short_k: Kelvin,
    /// How it will be to eat.
    pub texture: StopTexture,
    /// Minutes until a growth clock runs out, where one does on this ribbon.
    pub clock_left_min: Option<Minutes>,
    /// The kill that is missing, where it alone is.
    pub kill: Option<KillLeft>,
}

/// How a piece pulled at one minute will be to eat.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum StopTexture {
    /// The fast end is heated through, the slow end is not.
    PerhapsThrough,
    /// Not heated through.
    Warming,
    /// Heated through, and firm or tough yet.
    Early {
        /// When it is at its best.
        best_from_min: Minutes,
    },
    /// At its best.
    Best {
        /// For how long.
        left_min: Minutes,
    },
    /// Past its best.
    Past {
        /// Since when.
        by_min: Minutes,
    },
}

/// A kill on its way.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct KillLeft {
    /// Minutes until it is done.
    pub left_min: Minutes,
    /// The share that is done.
    pub share: f64,
}

/// The slice at one minute: from one face to the other.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Frame {
    /// Minute from the drop.
    pub min: Minutes,
    /// At the centre, °C.
    pub centre_c: Celsius,
    /// °C at equal depths, from a face to the centre.
    pub celsius: Vec<f64>,
    /// What the food looks like there: colours of its own appearance.
    pub colours: Vec<String>,
}

/// Layers a slice is drawn in, from a face to the centre.
const LAYERS: usize = 16;

/// Everything the ribbon is made from.
pub(super) struct View<'a> {
    pub request: &'a PlanRequest,
    pub slow: &'a Run<'a>,
    pub through: Ends<Minutes>,
    pub pasteurised: Option<Ends<Minutes>>,
    pub best_from: Minutes,
    pub best_until: Ends<Minutes>,
    pub horizon_min: Minutes,
    pub clock_out: Option<Minutes>,
}

/// Where a ribbon ends: a little after the last thing that happens on it.
pub(crate) fn horizon(
    bath_min: Minutes,
    best_until: Minutes,
    pasteurised: Option<Minutes>,
    clock_out: Option<Minutes>,
) -> Minutes {
    const BEYOND: f64 = 1.12;
    const LONG: Minutes = Minutes::from_hours(10.0);
    let clock = clock_out.filter(|c| *c <= best_until * 2.0);
    let last = [Some(best_until), pasteurised, clock].into_iter().flatten().fold(bath_min, Minutes::max);
    let step = if last > LONG { 60.0 } else { 15.0 };
    ((last * BEYOND / step).ceil() * step).min(LONGEST_MIN)
}

/// Minutes at which the slice is pictured, of all that a run may be shown for: close together while the
/// slow end warms, then a share longer every time.
pub(super) fn frame_minutes(fast: &Run<'_>) -> Vec<Minutes> {
    const WHILE_WARMING: usize = 36;
    const FURTHER: f64 = 1.35;
    /// About as much longer as the slow end takes.
    const SLOWER: f64 = 1.3;
    let warm = fast.done_min().map_or(LONGEST_MIN, |m| (m * SLOWER).min(LONGEST_MIN));
    let mut at: Vec<Minutes> = (0..=WHILE_WARMING).map(|i| warm * i as f64 / WHILE_WARMING as f64).collect();
    let mut next = warm * FURTHER;
    while next < LONGEST_MIN {
        at.push(next);
        next = next * FURTHER;
    }
    at
}

/// The centre's curve to the end of a ribbon, minutes and °C.
pub(super) fn centre_curve(run: &Run<'_>, horizon_min: Minutes) -> Vec<(Minutes, Celsius)> {
    const POINTS: usize = 90;
    (0..=POINTS)
        .map(|i| {
            let min = horizon_min * i as f64 / POINTS as f64;
            (min, run.core_c(min))
        })
        .collect()
}

/// What a pull at one minute of a run gives, for a piece heated through at `through_min` and at its best until
/// `best_until_min`.
fn kind_at(run: &Run<'_>, min: Minutes, through_min: Minutes, best_until_min: Minutes) -> StretchKind {
    let at = run.span_at(min);
    let for_good = run.refused_from_min().is_some_and(|m| m <= min);
    match at.level {
        Level::Refused if for_good && (at.row == Rule::Growth || min >= through_min) => StretchKind::Refused,
        _ if min < through_min => StretchKind::Warming,
        Level::Refused => StretchKind::NotYet,
        _ if min >= best_until_min => StretchKind::Soft,
        Level::Pasteurized | Level::Exempt => StretchKind::Safe,
        Level::ServeNow => StretchKind::Through,
    }
}

/// The stretches of a run from the drop to a horizon, in order, without gaps.
pub(crate) fn bands(
    run: &Run<'_>,
    through_min: Minutes,
    best_until_min: Minutes,
    horizon_min: Minutes,
) -> Vec<Stretch> {
    const SLIVER_MIN: Minutes = Minutes::new(0.01);
    let mut cuts = vec![Minutes::ZERO, through_min, best_until_min, horizon_min];
    cuts.extend(run.spans().iter().map(|s| s.from_min));
    cuts.retain(|c| (Minutes::ZERO..=horizon_min).contains(c));
    cuts.sort_by(Minutes::total_cmp);
    let mut bands: Vec<Stretch> = Vec::new();
    for pair in cuts.windows(2).filter(|p| p[1] - p[0] > SLIVER_MIN) {
        let kind = kind_at(run, (pair[0] + pair[1]) * 0.5, through_min, best_until_min);
        match bands.last_mut() {
            Some(last) if last.kind == kind => last.until_min = pair[1],
            // A sliver too thin to see belongs to the stretch after it.
            last => {
                let from_min = last.map_or(Minutes::ZERO, |l| l.until_min);
                bands.push(Stretch { from_min, until_min: pair[1], kind });
            }
        }
    }
    bands
}

impl View<'_> {
    /// The stretches, in order, without gaps.
    pub(crate) fn bands(&self) -> Vec<Stretch> {
        bands(self.slow, self.through.slow, self.best_until.fast, self.horizon_min)
    }

    /// What a pull means: every few minutes, just after every change, and when it is planned.
    pub(crate) fn stops(&self, planned_min: Minutes) -> Vec<Stop> {
        const MOST: f64 = 150.0;
        let step = (self.horizon_min / MOST).ceil().max(Minutes::new(1.0));
        let regular = (0..=(self.horizon_min / step) as usize).map(|i| step * i as f64);
        let mut at: Vec<Minutes> = regular.collect();
        let changes = [
            Some(planned_min),
            Some(self.through.fast),
            Some(self.through.slow),
            Some(self.best_until.fast),
            self.pasteurised.map(|p| p.slow),
            self.clock_out.map(|c| c + Minutes::new(1.0)),
        ];
        let turns = self.slow.spans().iter().map(|s| s.from_min.ceil());
        let changes = changes.into_iter().flatten().map(Minutes::ceil).chain(turns);
        at.extend(changes.filter(|m| *m <= self.horizon_min));
        at.sort_by(Minutes::total_cmp);
        at.dedup();
        at.into_iter().map(|min| self.stop(min)).collect()
    }

    fn stop(&self, min: Minutes) -> Stop {
        let verdict = self.slow.quick_verdict_at(min);
        let core_c = self.slow.core_c(min);
        let texture = if min < self.through.slow {
            if min >= self.through.fast { StopTexture::PerhapsThrough } else { StopTexture::Warming }
        } else if min < self.best_from {
            StopTexture::Early { best_from_min: self.best_from }
        } else if min < self.best_until.fast {
            StopTexture::Best { left_min: self.best_until.fast - min }
        } else {
            StopTexture::Past { by_min: min - self.best_until.fast }
        };
        let only_kill_is_missing = verdict.level == Level::Refused
            && matches!(verdict.row, Rule::GuestAtRisk | Rule::MixedThrough | Rule::Pork | Rule::Poultry);
        let kill = self
            .pasteurised
            .filter(|p| only_kill_is_missing && p.slow > min)
            .map(|p| KillLeft { left_min: p.slow - min, share: self.slow.kill_share(min) });
        Stop {
            min,
            core_c,
            short_k: (self.request.set_c() - core_c).max(Kelvin::ZERO),
            texture,
            clock_left_min: self.clock_out.map(|c| c - min).filter(|left| *left < self.horizon_min),
            kill,
            verdict,
        }
    }
}

/// The slice at each pictured instant of a run, to a horizon.
///
/// ```
/// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
/// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
/// # use hold_steady_core::plan::frames;
/// let run = piece.run(&[Minutes::ZERO, Minutes::new(30.0)])?;
/// let frames = frames(&run, strip, Minutes::from_hours(1.0));
/// assert!(frames.len() == 2 && frames[0].centre_c < frames[1].centre_c);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[must_use]
pub fn frames(run: &Run<'_>, food: &Food, horizon_min: Minutes) -> Vec<Frame> {
    let radius = run.from_centre_m.last().copied().unwrap_or(0.0);
    run.solution
        .profiles
        .iter()
        .filter(|profile| profile.at_s <= horizon_min.seconds())
        .map(|profile| {
            let at = |list: &[f64], layer: usize| {
                // Middle of the layer, as depth from the face, turned into distance from the centre.
                let r = radius * (1.0 - (layer as f64 + 0.5) / LAYERS as f64);
                interpolate(&run.from_centre_m, list, r)
            };
            let celsius: Vec<f64> =
                (0..LAYERS).map(|l| (at(&profile.celsius, l) * 100.0).round() / 100.0).collect();
            let depth = |l: usize| (l as f64 + 0.5) / LAYERS as f64;
            let colours =
                (0..LAYERS).map(|l| food.flesh().colour(at(&profile.highest, l), depth(l))).collect();
            let min = profile.at_s / 60.0;
            Frame {
                min: Minutes::new((min * 100.0).round() / 100.0),
                centre_c: run.core_c(Minutes::new(min)),
                celsius,
                colours,
            }
        })
        .collect()
}

fn interpolate(xs: &[f64], ys: &[f64], x: f64) -> f64 {
    let i = xs.partition_point(|v| *v <= x);
    match i {
        0 => ys[0],
        i if i == xs.len() => ys[i - 1],
        i => ys[i - 1] + (ys[i] - ys[i - 1]) * (x - xs[i - 1]) / (xs[i] - xs[i - 1]),
    }
}
