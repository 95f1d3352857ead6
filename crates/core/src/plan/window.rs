//! What a piece does in its bath, whenever that is: the costly part of a plan, worked out once for each distinct piece and bath.

use std::sync::Arc;

use super::answer::{drawn, for_every_guest, texture_window};
use super::pictures;
use super::{Pieces, PlanRequest};
use crate::heat::{Effort, HeatError};
use crate::kept::Kept;
use crate::piece::{LONGEST_MIN, Run, Span};
use crate::safety::Level;
use crate::units::{Celsius, Ends, Minutes};

/// A piece at the ends of what is uncertain of it, simulated.
pub(super) struct Runs<'a> {
    /// The slow end, with every clock at the earliest of all three.
    pub(super) slow: Run<'a>,
    pub(super) middle: Run<'a>,
    pub(super) fast: Run<'a>,
}

/// The pieces that are simulated: the slow end as it is, the others as they are drawn.
pub(super) struct Ends3<'a> {
    pub(super) pieces: Pieces<'a>,
    middle: crate::piece::Piece<'a>,
    fast: crate::piece::Piece<'a>,
}

/// What the middle one is run for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Middle {
    /// Its times alone.
    Judged,
    /// With the frames of its picture.
    Drawn,
}

impl<'a> Ends3<'a> {
    pub(super) fn of(pieces: Pieces<'a>) -> Self {
        // Beside the slow end, which safety is counted by, what texture and pictures are drawn from: blocks on a coarser
        // mesh, and their own frames.
        let (fast, middle) = (drawn(&pieces.fast), drawn(&pieces.middle));
        Self { pieces, middle, fast }
    }

    /// Runs them.
    pub(super) fn run(&self, middle: Middle) -> Result<Runs<'_>, HeatError> {
        let beside = || -> Result<_, HeatError> {
            let fast = self.fast.run(&[])?;
            let at = if middle == Middle::Drawn { pictures::frame_minutes(&fast) } else { Vec::new() };
            Ok((self.middle.run(&at)?, fast))
        };
        let (slow, beside) = Effort::beside(|| self.pieces.slow.run(&[]), beside);
        let (slow, (middle, fast)) = (slow?, beside?);
        // Without a kill a fast piece meets the clocks' limits sooner: they run out at the earliest of all three.
        let slow = slow.with_clocks_of([&middle, &fast]);
        Ok(Runs { slow, middle, fast })
    }
}

/// What a piece does in a bath, minutes from the drop: everything about it that hangs on no clock on the wall.
///
/// ```
/// use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, Window, plan}, safety::Level};
/// let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
/// let window = Window::of(&request)?;
/// let plan = plan(&request, "2026-11-25T16:00:00Z".parse()?)?;
/// assert_eq!((window.through, window.needed_min), (plan.through, plan.needed_min));
/// assert_eq!(window.level_at(plan.bath_min), plan.verdict.level);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq)]
pub struct Window {
    /// Heated through.
    pub through: Ends<Minutes>,
    /// For every guest; none where it never is.
    pub safe: Option<Ends<Minutes>>,
    /// At its best from.
    pub best_from: Minutes,
    /// At its best until.
    pub best_until: Ends<Minutes>,
    /// Refused from then on, in this bath, for good.
    pub refused_from: Option<Minutes>,
    /// Whether it must be pasteurised (or reheated) before it may be served at all.
    pub must_pasteurise: bool,
    /// Minutes in the bath that it needs, from the slow end: whole ones.
    pub needed_min: Minutes,
    /// The centre at the slow end, minutes and °C.
    pub slow_curve: Vec<(Minutes, Celsius)>,
    /// The centre at the fast end.
    pub fast_curve: Vec<(Minutes, Celsius)>,
    /// How it may be served, from each minute at which that changes on.
    spans: Vec<Span>,
}

impl Window {
    /// Simulates it.
    ///
    /// # Errors
    /// When a simulation fails; see [`HeatError`].
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, Window, Windows}};
    /// # let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
    /// let window = Window::of(&request)?;
    /// assert!(window.through.fast < window.through.slow && window.needed_min >= window.through.slow);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn of(request: &PlanRequest) -> Result<Self, HeatError> {
        let ends = Ends3::of(request.pieces(request.finishing()?.warm_min)?);
        Ok(Self::read(request, &ends.run(Middle::Judged)?))
    }

    /// Reads it off its runs.
    pub(super) fn read(request: &PlanRequest, runs: &Runs<'_>) -> Self {
        let Runs { slow, middle, fast } = runs;
        let never = LONGEST_MIN;
        let ends = |f: &dyn Fn(&Run<'_>) -> Option<Minutes>| Ends {
            fast: f(fast).unwrap_or(never),
            middle: f(middle).unwrap_or(never),
            slow: f(slow).unwrap_or(never),
        };
        let through = ends(&|run| run.done_min());
        let (best_from, best_until) = texture_window(request, request.set_c());
        let served = |level: Level| level != Level::Refused;
        let for_texture = through.slow.max(best_from);
        let needed = slow.first_min(for_texture, served).unwrap_or(for_texture);
        let until = through.slow.max(best_until.slow).min(LONGEST_MIN);
        Self {
            through,
            safe: for_every_guest(slow).map(|_| ends(&for_every_guest)),
            best_from,
            best_until,
            refused_from: slow.refused_from_min().filter(|m| *m > Minutes::ZERO),
            must_pasteurise: !served(slow.quick_verdict_at(through.slow).level),
            // Whole minutes, upward: nobody sets a timer to seconds.
            needed_min: needed.ceil().min(LONGEST_MIN),
            slow_curve: pictures::centre_curve(slow, until),
            fast_curve: pictures::centre_curve(fast, until),
            spans: slow.spans().to_vec(),
        }
    }

    /// How it may be served after so long.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, Window}, safety::Level, units::Minutes};
    /// # let request = usual_request(catalogue().food("chicken-breast").expect("in the catalogue"), From::Refrigerator);
    /// assert_eq!(Window::of(&request)?.level_at(Minutes::new(5.0)), Level::Refused);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn level_at(&self, min: Minutes) -> Level {
        let i = self.spans.partition_point(|s| s.from_min <= min);
        self.spans.get(i.saturating_sub(1)).map_or(Level::Refused, |s| s.level)
    }
}

/// Windows that were worked out, kept by what they hang on: the piece, its bath, the guests and the kitchen's rules. Neither an
/// hour nor a name is in that.
///
/// ```
/// use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, PlanRequest, Windows}, units::Minutes};
/// let kept = Windows::default();
/// let strip = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
/// let later = PlanRequest { ready_at: Some("2026-11-25T20:00:00Z".parse()?), ..strip.clone() };
/// assert!(std::sync::Arc::ptr_eq(&kept.of(&strip)?, &kept.of(&later)?), "the same piece in the same bath");
/// assert_eq!(kept.len(), 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug)]
pub struct Windows(Kept<Window>);

impl Default for Windows {
    fn default() -> Self {
        // Some 3 kB each.
        Self(Kept::most(400))
    }
}

impl Windows {
    /// The window of a request: kept, or worked out now.
    ///
    /// # Errors
    /// When a simulation fails; see [`HeatError`].
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, Window, Windows}};
    /// # let request = usual_request(catalogue().food("beef-strip").expect("in the catalogue"), From::Refrigerator);
    /// assert_eq!(*Windows::default().of(&request)?, Window::of(&request)?);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn of(&self, request: &PlanRequest) -> Result<Arc<Window>, HeatError> {
        self.0.of(key(request), || Window::of(request))
    }

    /// How many are kept.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::plan::Windows::default().len(), 0);
    /// ```
    #[must_use]
    pub fn len(&self) -> usize {
        self.0.len()
    }

    /// Whether none is.
    ///
    /// ```
    /// assert!(hold_steady_core::plan::Windows::default().is_empty());
    /// ```
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }
}

/// All that a window hangs on.
fn key(request: &PlanRequest) -> String {
    let bare = PlanRequest {
        ready_at: None,
        in_since: None,
        time_min: None,
        served_to: None,
        hot: false,
        ..request.clone()
    };
    // It came from JSON, and is written as JSON wherever it is kept.
    serde_json::to_string(&bare).unwrap_or_default()
}
