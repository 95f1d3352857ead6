//! A piece simulated as it really was: the slow end of what is uncertain for what is safe, every clock at the worst of all
//! ends and of all that the water may have been, and what is shown.

use std::borrow::Cow;
use std::cell::OnceCell;

use jiff::Timestamp;

use super::{PieceClock, Probed};
use crate::bath::{Ahead, BathHistory, BathTrace, Path, Waters, boiling_c};
use crate::cook::CookState;
use crate::figures::limits;
use crate::heat::HeatError;
use crate::piece::{LONGEST_MIN, Piece, Run};
use crate::plan::{Pieces, PlanRequest};
use crate::units::{Celsius, Kelvin, Minutes};

/// What is known of a piece and its water, up to an instant.
pub(super) struct Around<'a> {
    pub(super) request: &'a PlanRequest,
    pub(super) water: BathHistory,
    pub(super) dropped: Timestamp,
    pub(super) until: Timestamp,
    pub(super) clock: PieceClock,
    /// The least and the usual coefficient where the water stood still.
    pub(super) slowed: Option<(f64, f64)>,
    /// When all is earned, once that was looked for.
    settled: OnceCell<Minutes>,
}

impl<'a> Around<'a> {
    pub(super) fn new(
        request: &'a PlanRequest,
        state: &CookState,
        water: &BathHistory,
        dropped: Timestamp,
        until: Timestamp,
    ) -> Self {
        let water = water.less(request.rules.bath_error_c).until(until);
        let slowed = water.slowed_w_m2k();
        Self {
            request,
            water,
            dropped,
            until,
            clock: PieceClock::of(state, dropped),
            slowed,
            settled: OnceCell::new(),
        }
    }

    /// What its water is taken to be, by the piece's own minutes. Where nothing is known, as it was planned.
    pub(super) fn waters(&self, ahead: Ahead) -> Option<Waters> {
        self.water.waters(self.dropped, ahead).map(|w| self.clock.waters(w))
    }

    /// As it is shown.
    pub(super) fn shown(&self, ahead: Ahead) -> Option<Path> {
        self.waters(ahead).map(|w| Path { gate: w.shown.clone(), water: w.shown })
    }

    /// What a probe in the piece says.
    pub(super) fn probed(&self, slow: &Piece<'_>) -> Result<Option<Probed>, HeatError> {
        let Some(log) = &self.water.probe else { return Ok(None) };
        let piece = as_it_was(slow, self, self.shown(Ahead::AsItGoes), self.slowed.map(|s| s.0));
        let settled = piece.settled_min(self.clock.minute(self.until))?;
        let piece = self.in_strides(piece, settled);
        Probed::of(log, &piece, &self.clock, self.dropped)
    }

    /// What the water is to be: what it was last told to hold, or is kept at by hand; as planned where nobody said.
    pub(super) fn wanted(&self) -> Celsius {
        let last = self.water.last();
        let by_hand = last.falls.as_ref().filter(|f| f.heat != crate::bath::Heat::Heater).and_then(|f| f.aim);
        by_hand.or(last.setting_at(self.until)).unwrap_or(self.request.bath_c)
    }

    /// The request as the water is, where that is another than planned: what is slow and fast is weighed at the temperature it
    /// lies in, not at one that is wished.
    pub(super) fn lies(&self) -> Cow<'a, PlanRequest> {
        // What is read or set hotter than water boils here is not so.
        let wanted = self.wanted().min(Celsius::new(boiling_c(self.request.rules.altitude_m)));
        if self.request.is_at(wanted) {
            Cow::Borrowed(self.request)
        } else {
            Cow::Owned(PlanRequest { bath_c: wanted, ..self.request.clone() })
        }
    }

    /// From when on its calm water may be followed in longer strides: after the slow end has earned all it does. Looked for
    /// once, however many ways the water may go on.
    fn settled(&self, slow: &Piece<'_>) -> Result<Minutes, HeatError> {
        if let Some(found) = self.settled.get() {
            return Ok(*found);
        }
        let found = slow.settled_min(self.clock.minute(self.until))?;
        Ok(*self.settled.get_or_init(|| found))
    }

    /// A piece in its water, from then on in strides. What moved a little while ago stays as it was read.
    fn in_strides<'b>(&self, piece: Piece<'b>, settled: Minutes) -> Piece<'b> {
        const RECENT: Minutes = Minutes::new(20.0);
        piece.calmed((settled, self.clock.minute(self.until) - RECENT))
    }

    /// How far it is simulated: as long as it has been in, and a day.
    fn end(&self) -> Minutes {
        const ON: Minutes = Minutes::from_hours(24.0);
        (self.clock.minute(self.until) + ON).max(LONGEST_MIN)
    }
}

/// The piece in water as it was, where anything is known of it, after the minutes it was afloat; in water that stood
/// still with no more than a coefficient, W/m²K: it may have been planned for one that is moved.
pub(super) fn as_it_was<'a>(
    piece: &Piece<'a>,
    around: &Around<'_>,
    path: Option<Path>,
    slowed_w_m2k: Option<f64>,
) -> Piece<'a> {
    let mut piece = piece.clone();
    // What is read or set hotter than water boils here is not so.
    let boils = BathTrace::constant(boiling_c(around.request.rules.altitude_m));
    if let Some(Path { water, gate }) = path {
        // Nobody saw what the food does to it: it drops and warms as the plan reckoned with.
        let reckoned = piece.takes_load && around.water.takes_food_unseen(around.dropped);
        let same = gate == water;
        let water = water.lower_of(&boils);
        let planned = piece.bath.clone();
        let lower = |t: BathTrace| if reckoned { t.lower_of(&planned) } else { t };
        piece.gate = (!same).then(|| lower(gate.lower_of(&boils)));
        piece.bath = lower(water);
    }
    let afloat = around.clock.afloat();
    piece.around.waited_min += afloat.map_or(Minutes::ZERO, |a| a.1);
    piece.around.afloat = afloat;
    piece.coefficient = slowed_w_m2k.map_or(piece.coefficient, |most| piece.coefficient.min(most));
    piece
}

/// Which of the ways the water may have been while nobody saw it are followed.
#[derive(Clone, Copy)]
pub(super) enum Unseen<'a> {
    /// All of them.
    All,
    /// Those that had the most on a clock, by their place.
    Only(&'a [usize]),
}

/// The pieces to be run, each in its water.
pub(super) struct Simulated<'a> {
    /// The slow end in what is proved: the kill.
    slow: Piece<'a>,
    /// Whatever else a clock may run out first in.
    others: Vec<Piece<'a>>,
    /// How many of them are in water as it was seen: the middle and the fast end, and where it fell the fastest there is.
    seen: usize,
    /// The slow end in the water as shown, where that is another.
    shown: Option<Piece<'a>>,
    middle: Piece<'a>,
    /// The mean of the water, and that as read.
    warm_by: Option<(BathTrace, BathTrace)>,
    wanted: Celsius,
    end: Minutes,
}

impl<'a> Simulated<'a> {
    pub(super) fn new(
        around: &Around<'_>,
        pieces: &Pieces<'a>,
        probed: Option<&Probed>,
        ahead: Ahead,
        unseen: Unseen<'_>,
    ) -> Result<Self, HeatError> {
        let waters = around.waters(ahead);
        let proved = waters.as_ref().map(|w| w.proved.clone());
        let shown = waters.as_ref().map(|w| Path { gate: w.shown.clone(), water: w.shown.clone() });
        let slowed = around.slowed;
        let (least, usual) = (slowed.map(|s| s.0), slowed.map(|s| s.1));
        let told = |piece: Piece<'a>| probed.map_or_else(|| piece.clone(), |p| p.applied(&piece));
        let (slow_end, fast_end) = (&pieces.slow, &pieces.fast);
        let slow = told(as_it_was(slow_end, around, proved.clone(), least));
        let middle = told(as_it_was(&pieces.middle, around, shown.clone(), usual));
        let mut others = vec![
            told(as_it_was(&pieces.middle, around, proved.clone(), usual)),
            as_it_was(fast_end, around, proved.clone(), usual),
        ];
        // The clock after a kill runs from the first minute at which it may have been reached: in a piece that is fast in
        // every way, in the water as it was read, nothing taken off. It runs where the water fell after that.
        let as_read = waters.as_ref().map(|w| &w.as_read);
        if let Some(read) = as_read.filter(|path| fell(&path.water, around.clock.minute(around.until))) {
            others.push(as_it_was(&pieces.fastest, around, Some(read.clone()), usual));
        }
        let seen = others.len();
        let wanted = |i: usize| match unseen {
            Unseen::All => true,
            Unseen::Only(some) => some.contains(&i),
        };
        for (i, worst) in waters.iter().flat_map(|w| &w.worst).enumerate() {
            for (k, end) in [(slow_end, least), (fast_end, usual)].into_iter().enumerate() {
                if wanted(2 * i + k) {
                    let piece = as_it_was(end.0, around, Some(worst.clone()), end.1);
                    others.push(if k == 0 { told(piece) } else { piece });
                }
            }
        }
        let differs = waters.as_ref().is_some_and(|w| w.shown != w.proved.water);
        let shown = differs.then(|| told(as_it_was(slow_end, around, shown, least)));
        let settled = around.settled(&slow)?;
        let strides = |piece| around.in_strides(piece, settled);
        Ok(Self {
            slow: strides(slow),
            others: others.into_iter().map(strides).collect(),
            seen,
            shown: shown.map(strides),
            middle: strides(middle),
            warm_by: waters.map(|w| (w.mean, w.as_read.gate)),
            wanted: around.wanted(),
            end: around.end(),
        })
    }

    /// Runs all of it.
    pub(super) fn run(&self) -> Result<Ran<'_>, HeatError> {
        let slow = self.slow.run_until(self.end, &[])?;
        let others = self.others.iter().map(|p| p.run_until(self.end, &[])).collect::<Result<Vec<_>, _>>()?;
        let worst = worst_of(others.get(self.seen..).unwrap_or_default());
        let run = slow.with_clocks_of(&others);
        let shown = self.shown.as_ref().map(|p| p.run_until(self.end, &[])).transpose()?;
        Ok(Ran { run, shown, worst, sim: self })
    }
}

/// Whether water that was warm enough for a kill was colder than that later, up to a minute.
fn fell(water: &BathTrace, until: Minutes) -> bool {
    let least = limits().lowest_hold_c.value;
    let known = water.points().iter().filter(|p| p.min <= until.value());
    known.skip_while(|p| p.c < least).any(|p| p.c < least)
}

/// Of the ways the water may have been unseen, by their place, those that had the most raw, come-up and warm minutes: what
/// is looked for by halves follows only these.
fn worst_of(unseen: &[Run<'_>]) -> Vec<usize> {
    let most = |of: fn(&crate::safety::Clocks) -> &crate::safety::Spells| {
        let minutes = |i: &usize| of(&unseen[*i].clocks).between_s(0.0, f64::INFINITY);
        (0..unseen.len()).max_by(|a, b| minutes(a).total_cmp(&minutes(b)))
    };
    let mut all: Vec<usize> = [most(|c| &c.raw), most(|c| &c.warm)].into_iter().flatten().collect();
    all.sort_unstable();
    all.dedup();
    all
}

/// What came of it.
pub(super) struct Ran<'a> {
    /// The kill of the slow end, and every clock at its worst.
    pub(super) run: Run<'a>,
    shown: Option<Run<'a>>,
    /// Which of the unseen ways had the most on a clock.
    pub(super) worst: Vec<usize>,
    sim: &'a Simulated<'a>,
}

impl Ran<'_> {
    fn seen(&self) -> &Run<'_> {
        self.shown.as_ref().unwrap_or(&self.run)
    }

    /// The centre at the slow end, as it is shown.
    pub(super) fn shown_c(&self, min: Minutes) -> Celsius {
        self.seen().core_c(min)
    }

    /// The centre at the middle of the spreads. Simulated when it is asked for: nothing is decided by it.
    pub(super) fn middle_c(&self, min: Minutes) -> Result<Celsius, HeatError> {
        Ok(self.sim.middle.run_until(min.max(Minutes::new(1.0)), &[])?.core_c(min))
    }

    /// From when on it is heated through: its centre stays near its water, and the water as read is what it is to be. A
    /// piece that meets its water at 21 °C is not warm.
    pub(super) fn through_min(&self) -> Option<Minutes> {
        const UNDER: Kelvin = Kelvin::new(0.5);
        let within = self.sim.slow.food.within_k.kelvin();
        let Some((mean, as_read)) = &self.sim.warm_by else { return self.seen().done_min() };
        let least = self.sim.wanted - UNDER;
        self.seen().near_min((mean, as_read), within, least)
    }

    /// The stretches in which the verdict allows a pull, from a minute on.
    pub(super) fn allowed(&self, from: Minutes) -> Vec<(Minutes, Minutes)> {
        self.run.allowed(from)
    }

    /// From when on it is good for every guest.
    pub(super) fn pasteurised_min(&self) -> Option<Minutes> {
        self.run.safe_from_min()
    }

    /// From when on it is refused in this bath for good.
    pub(super) fn refused_min(&self) -> Option<Minutes> {
        self.run.refused_from_min().filter(|m| *m > Minutes::ZERO)
    }

    /// Whether nothing that is done to it from a minute on makes it safe.
    pub(super) fn is_past_mending(&self, min: Minutes) -> bool {
        self.run.facts(min).is_past_mending(limits())
    }
}
