//! The finish that does least to the inside: an optimiser over the model.

use std::cell::RefCell;

use super::crossing::crossing;
use super::pattern::{After, Pattern, Pause};
use super::setup::Setup;
use super::{Face, Grid, May, Seared};
use crate::figures::searing;
use crate::heat::HeatError;
use crate::units::Celsius;

/// What a finish is to reach.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Wanted {
    /// The middle at its warmest, °C.
    pub centre_c: f64,
    /// Browning index of the paler face, at least.
    pub browning: f64,
    /// Hottest a face may be, °C.
    pub face_c: f64,
    /// From the pull to the plate, at most, seconds; none where no clock runs.
    pub within_s: Option<f64>,
    /// Its edges, and its rest.
    pub after: After,
}

impl Wanted {
    /// What is ever hotter than this is the band, °C: what is grey, and of what is wanted as hot as that, somewhat more.
    ///
    /// Source: `data/sear.json`, common practice: what is grey.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Wanted};
    /// let wanted = |centre_c| Wanted { centre_c, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
    /// assert_eq!((wanted(54.0).band_above_c(), wanted(70.0).band_above_c()), (70.0, 75.0));
    /// ```
    #[must_use]
    pub fn band_above_c(&self) -> f64 {
        band_above_c(self.centre_c)
    }
}

/// What is ever hotter than this is the band of a piece whose middle is wanted at so much.
pub(super) fn band_above_c(centre_c: f64) -> f64 {
    searing().overcooked_c.value.max(centre_c + searing().band_over_k.value)
}

/// What a proposal is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Aim {
    /// The middle where it is wanted, then browned as wanted, then the thinnest band, then the fewest minutes.
    Best,
    /// The least time.
    Fast,
    /// Hung to cool, and no hurry.
    Relaxed,
}

/// A finish that was looked for.
#[derive(Debug, Clone, PartialEq)]
pub struct Proposal {
    /// What for.
    pub aim: Aim,
    /// How.
    pub pattern: Pattern,
    /// How hot the hearth is; none of what has no temperature.
    pub hearth_c: Option<Celsius>,
    /// What comes of it.
    pub done: Seared,
    /// Thicker of the bands, mm.
    pub band_mm: f64,
    /// From the pull to the plate, seconds.
    pub all_s: f64,
    /// How far the middle ends from what is wanted, K.
    pub off_k: f64,
    /// It browns as much as is wanted.
    pub brown: bool,
    /// No face gets hotter than wanted, nor darker.
    pub unburnt: bool,
}

impl Proposal {
    fn of(setup: &Setup, search: &Search<'_>, aim: Aim, pattern: Pattern) -> Result<Self, HeatError> {
        let (done, wanted) = (setup.finish(&pattern)?, search.wanted);
        let band_mm = done.thicker_band_mm(wanted.band_above_c());
        let off_k = done.peak_c - wanted.centre_c;
        let most = |of: fn(&Face) -> f64| done.faces.iter().map(of).fold(0.0, f64::max);
        let brown = done.paler().browning >= wanted.browning;
        let unburnt = most(|f| f.peak_c) <= wanted.face_c && most(|f| f.browning) <= search.may.browning_most;
        let all_s = pattern.all_s(setup.hearth.heats);
        let hearth_c = setup.heated_c();
        Ok(Self { aim, pattern, hearth_c, done, band_mm, all_s, off_k, brown, unburnt })
    }

    /// How much farther than it should the middle ends from what is wanted, K.
    fn astray_k(&self) -> f64 {
        (self.off_k.abs() - searing().lands_within_k.value).max(0.0)
    }

    /// That in tenths of a kelvin, as it is compared.
    pub(super) fn tenths_astray(&self) -> f64 {
        (self.astray_k() * 10.0).round()
    }

    /// How many of what is asked of its faces it keeps: browned, and not burnt.
    pub(super) fn kept(&self) -> u8 {
        u8::from(self.brown) + u8::from(self.unburnt)
    }

    /// The middle lands where it is wanted.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let pan = Hearth::named("iron-pan").expect("shipped");
    /// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(55.0), pan);
    /// let wanted = Wanted { centre_c: 55.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(120.0) };
    /// assert!(proposals(&setup, &wanted)?.iter().any(Proposal::lands));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn lands(&self) -> bool {
        self.astray_k() <= 0.0
    }

    /// It is this pattern on this hearth.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let answer = FinishForm::default().read(strip, &Given::default(), Units::default()).1.expect("usual").answer()?;
    /// assert!(answer.proposals[0].is(&answer.pattern, &answer.setup));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn is(&self, pattern: &Pattern, setup: &Setup) -> bool {
        self.pattern == *pattern && self.hearth_c == setup.heated_c()
    }
}

/// Longest on the heat a face, seconds.
const LONGEST_FACE_S: f64 = 420.0;
const MINUTE_S: f64 = 60.0;
/// To this a pause in air is said.
pub(super) const AIR_STEP_S: f64 = 15.0;
/// What was taken a little too lightly is done for so much longer.
const LIGHTLY: f64 = 1.04;

/// Where many are compared.
pub(super) const COARSE: Grid = Grid::SKETCH;

/// Two or three ways to finish a piece at its hearth's temperature: the best, the fastest, and hung to cool. Those that would
/// be the same are left out.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(55.0), pan);
/// let wanted = Wanted { centre_c: 55.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(120.0) };
/// let all = proposals(&setup, &wanted)?;
/// let best = &all[0];
/// assert!(best.lands() && best.brown);
/// assert!(all.iter().all(|p| p.aim != Aim::Fast || p.all_s + 30.0 <= best.all_s));
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn proposals(setup: &Setup, wanted: &Wanted) -> Result<Vec<Proposal>, HeatError> {
    proposals_within(setup, wanted, &May::anything(setup.hearth, setup.hearth_c))
}

/// The same over all that may be changed: how hot, how long, how often turned, how long a pause. First of all the middle
/// ends within half a kelvin of what is wanted; then it browns as wanted; then its band is the thinnest, to a third of a
/// millimetre; then it takes the fewest minutes (`tests/proposals.rs` holds it against every one of a grid).
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// let setup = Setup::new(strip, Length::from_mm(12.0), Celsius::new(54.0), pan);
/// let wanted = Wanted { centre_c: 54.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
/// let may = May::of(strip, pan, (None, &fats()[0]), Pans::Unsaid);
/// let best = &proposals_within(&setup, &wanted, &may)?[0];
/// // A thin steak: a hotter pan, and for less long.
/// assert!(best.lands() && best.hearth_c > pan.c && best.pattern.face_s < 45.0);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn proposals_within(setup: &Setup, wanted: &Wanted, may: &May) -> Result<Vec<Proposal>, HeatError> {
    beside(&best_within(setup, wanted, may)?, setup, wanted, may)
}

/// The best, and what else is offered beside it.
pub(super) fn beside(
    found: &Proposal,
    setup: &Setup,
    wanted: &Wanted,
    may: &May,
) -> Result<Vec<Proposal>, HeatError> {
    let search = Search::new(setup, wanted, may);
    let mut all = vec![found.clone()];
    // What saves no half a minute is no other offer.
    const WORTH_S: f64 = 30.0;
    all.extend(search.fast(found)?.filter(|fast| fast.all_s + WORTH_S <= found.all_s));
    all.extend(search.relaxed(found)?);
    let mut kept: Vec<Proposal> = Vec::new();
    for p in all {
        if !kept.iter().any(|k| k.pattern == p.pattern && k.hearth_c == p.hearth_c) {
            kept.push(p);
        }
    }
    Ok(kept)
}

/// The first of [`proposals_within`] alone.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// # let setup = Setup::new(strip, Length::from_mm(25.0), Celsius::new(54.0), pan);
/// # let wanted = Wanted { centre_c: 54.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
/// let may = May::anything(pan, None);
/// assert_eq!(best_within(&setup, &wanted, &may)?, proposals_within(&setup, &wanted, &may)?[0]);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn best_within(setup: &Setup, wanted: &Wanted, may: &May) -> Result<Proposal, HeatError> {
    Search::new(setup, wanted, may).best()
}

/// Which end of the half kelvin the pause brings the middle to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum End {
    /// The warm one: the pause is as short as will do.
    Soon,
    /// The cold one: it is as long as will do, and a drier face browns in less time.
    Late,
}

impl End {
    /// How far the middle is to end from what is wanted, K.
    fn aim_k(self) -> f64 {
        searing().lands_within_k.value * if self == Self::Soon { 0.95 } else { -0.98 }
    }
}

pub(super) struct Search<'a> {
    setup: &'a Setup,
    wanted: &'a Wanted,
    pub(super) may: &'a May,
    /// What was looked at finely: nothing is simulated twice.
    looked: RefCell<Vec<Proposal>>,
}

impl<'a> Search<'a> {
    const fn new(setup: &'a Setup, wanted: &'a Wanted, may: &'a May) -> Self {
        Self { setup, wanted, may, looked: RefCell::new(Vec::new()) }
    }

    /// A pattern on its hearth, looked at finely.
    pub(super) fn fine(&self, fine: &Setup, (aim, pattern): (Aim, Pattern)) -> Result<Proposal, HeatError> {
        let there = self.looked.borrow().iter().find(|p| p.is(&pattern, fine)).cloned();
        if let Some(there) = there {
            return Ok(Proposal { aim, ..there });
        }
        let found = Proposal::of(fine, self, aim, pattern)?;
        self.looked.borrow_mut().push(found.clone());
        Ok(found)
    }

    /// The piece on its hearth at a temperature.
    pub(super) fn at(&self, hearth_c: Option<Celsius>) -> Setup {
        Setup { hearth_c, ..self.setup.clone() }
    }

    /// The same, solved less finely.
    pub(super) fn quick(&self, hearth_c: Option<Celsius>) -> Setup {
        Setup { grid: COARSE, ..self.at(hearth_c) }
    }

    /// A pattern looked at finely, seared for as long as it takes to brown and no longer.
    pub(super) fn finely(&self, fine: &Setup, (aim, pattern): (Aim, Pattern)) -> Result<Proposal, HeatError> {
        let of = |pattern| self.fine(fine, (aim, pattern));
        let mut now = of(pattern)?;
        for _ in 0..3 {
            if now.brown {
                break;
            }
            // What the search took a little too lightly.
            now = of(self.in_time(self.facing(now.pattern, now.pattern.face_s * LIGHTLY)))?;
        }
        // What it took a little too heavily.
        for _ in 0..3 {
            let shorter = self.facing(now.pattern, now.pattern.face_s / LIGHTLY - 0.5);
            if shorter.face_s >= now.pattern.face_s {
                break;
            }
            let tried = of(shorter)?;
            if !tried.brown || (now.lands() && !tried.lands()) {
                break;
            }
            now = tried;
        }
        Ok(now)
    }

    /// Each face once, at once, for as long as is near.
    pub(super) fn plain(&self, near: Option<Pattern>) -> Pattern {
        let face_s = near.map_or(45.0_f64, |p| p.face_s).max(self.may.least_s);
        self.facing(
            Pattern { pause: Pause::Air, pause_s: 0.0, face_s, times: 1, after: self.wanted.after },
            face_s,
        )
    }

    /// So long on a face; its edges with it, where they are done as long.
    pub(super) fn facing(&self, pattern: Pattern, face_s: f64) -> Pattern {
        let face_s = face_s.max(self.may.least_s).ceil();
        let edge_s = if self.may.edges_as_faces { face_s } else { pattern.after.edge_s };
        Pattern { face_s, after: After { edge_s, ..pattern.after }, ..pattern }
    }

    /// The browning index of a pattern: only the heat matters to its faces.
    fn index(&self, setup: &Setup, pattern: &Pattern, face_s: f64) -> Result<f64, HeatError> {
        let after = After { rest_s: 0.0, edge_s: 0.0, ..pattern.after };
        let tried = Pattern { face_s, after, ..*pattern };
        let sear = setup.sear(&tried, setup.hot());
        Ok(crate::sear::Sear { plate_s: 0.0, ..sear }.run()?.paler().browning)
    }

    /// The shortest time on the heat that browns it as wanted, to a second; looked for near a guess, where there is one.
    pub(super) fn browned(
        &self,
        quick: &Setup,
        pattern: &Pattern,
        near_s: Option<f64>,
    ) -> Result<Pattern, HeatError> {
        const NEXT_TO_NONE: f64 = 1e-6;
        // With a tenth of the seconds more it browns about half as much again.
        const POWER: f64 = 4.0;
        // How far over what is wanted it is, in powers: nearly a straight line of the seconds.
        let mut over = |s: i64| -> Result<f64, HeatError> {
            let index = self.index(quick, pattern, s as f64)?;
            Ok(((index + NEXT_TO_NONE) / (self.wanted.browning + NEXT_TO_NONE)).ln())
        };
        let least = self.may.least_s.ceil();
        let guess = near_s.unwrap_or_else(|| (least * LONGEST_FACE_S).sqrt()).round().max(1.0);
        let range = (least as i64, LONGEST_FACE_S as i64);
        let (_, brown) = crossing(range, guess as i64, Some(POWER / guess), &mut over)?;
        Ok(self.facing(*pattern, brown.map_or(LONGEST_FACE_S, |s| s as f64)))
    }

    /// The pause that brings the middle to an end of what is near enough; `off_k` is what is added to what the coarse search
    /// finds.
    pub(super) fn paused(
        &self,
        quick: &Setup,
        pattern: Pattern,
        near_s: Option<f64>,
        (off_k, end): (f64, End),
    ) -> Result<Pattern, HeatError> {
        let longest = match pattern.pause {
            Pause::Air => self.may.pause_most_s,
            Pause::Ice => self.may.ice_most_s,
        };
        let heats = self.setup.hearth.heats;
        let spare = self.wanted.within_s.map(|s| s - Pattern { pause_s: 0.0, ..pattern }.all_s(heats));
        let longest = spare.map_or(longest, |s| longest.min(s.max(0.0)));
        let aimed = self.wanted.centre_c + end.aim_k();
        let step = if pattern.pause == Pause::Ice { 10.0 } else { AIR_STEP_S };
        let paused = |steps: i64| (steps as f64 * step).min(longest);
        // How much colder than what is aimed at: nearly a straight line, but where it begins to fall.
        let mut under = |steps: i64| -> Result<f64, HeatError> {
            let pause_s = paused(steps);
            Ok(aimed - off_k - quick.finish(&Pattern { pause_s, ..pattern })?.peak_c)
        };
        let range = (0, (longest / step).ceil() as i64);
        let guess = (near_s.unwrap_or_default() / step).round() as i64;
        let pause_s = match (crossing(range, guess, None, &mut under)?, end) {
            ((None, _), _) => 0.0,
            ((Some(_), Some(cold)), End::Soon) => paused(cold),
            ((Some(warm), _), _) => paused(warm),
        };
        // None at all is none in ice water either.
        let pause = if pause_s > 0.0 { pattern.pause } else { Pause::Air };
        Ok(Pattern { pause, pause_s, ..pattern })
    }

    /// With a pause that brings the middle to where it is wanted, browned as wanted; looked at coarsely.
    pub(super) fn landing(
        &self,
        hearth_c: Option<Celsius>,
        pattern: Pattern,
        near: Option<Pattern>,
        end: End,
    ) -> Result<Proposal, HeatError> {
        let quick = self.quick(hearth_c);
        let near_pause = near.filter(|n| n.pause == pattern.pause).map(|n| n.pause_s);
        // A face that hung is dry and browns sooner; one out of ice water browns later.
        let hung = Pattern { pause_s: near_pause.unwrap_or_default(), ..pattern };
        let once = self.browned(&quick, &hung, near.map(|n| n.face_s))?;
        let first = self.paused(&quick, once, near_pause, (0.0, end))?;
        let mut pattern = self.browned(&quick, &first, Some(first.face_s))?;
        let mut found = None;
        for _ in 0..6 {
            pattern = self.paused(&quick, pattern, Some(pattern.pause_s), (0.0, end))?;
            let tried = Proposal::of(&quick, self, Aim::Best, pattern)?;
            let brown = tried.brown;
            found = Some(tried);
            if brown {
                break;
            }
            pattern = self.facing(pattern, pattern.face_s * LIGHTLY);
        }
        let found = found.expect("tried at least once");
        self.warmed(&quick, found)
    }

    /// Colder than wanted without any pause: a longer sear has to do it.
    fn warmed(&self, setup: &Setup, found: Proposal) -> Result<Proposal, HeatError> {
        if found.off_k >= 0.0 || found.lands() || found.pattern.pause_s > 0.0 {
            return Ok(found);
        }
        let each = if self.setup.hearth.heats.all_round() || self.wanted.after.other_s.is_some() {
            1.0
        } else {
            2.0
        };
        let spare_s = self.wanted.within_s.map_or(f64::INFINITY, |s| (s - found.all_s).max(0.0));
        let longest = found.pattern.face_s + spare_s / each;
        self.lengthened(setup, found, longest)
    }

    /// The same worked out finely, with its pause and its seconds set right by that.
    pub(super) fn refined(&self, found: &Proposal) -> Result<Proposal, HeatError> {
        let fine = self.at(found.hearth_c);
        let of = |pattern| self.fine(&fine, (found.aim, pattern));
        let mut now = self.finely(&fine, (found.aim, found.pattern))?;
        let waits = now.pattern.pause_s;
        if !now.lands() && (now.off_k > 0.0 || waits > 0.0) {
            let quick = self.quick(found.hearth_c);
            let off_k = now.done.peak_c - quick.finish(&now.pattern)?.peak_c;
            let end = if now.off_k > 0.0 { End::Soon } else { End::Late };
            let set = self.paused(&quick, now.pattern, Some(waits), (off_k, end))?;
            let set = of(set)?;
            if set.off_k.abs() < now.off_k.abs() {
                now = set;
            }
        }
        self.warmed(&fine, now)
    }

    /// The same with as much less of a pause as the clock asks.
    pub(super) fn in_time(&self, pattern: Pattern) -> Pattern {
        let over = self.wanted.within_s.map_or(0.0, |s| pattern.all_s(self.setup.hearth.heats) - s);
        Pattern { pause_s: (pattern.pause_s - over.max(0.0)).max(0.0), ..pattern }
    }

    /// Seared for longer, at most for `longest_s` a face, until the middle is where it is wanted: not burnt for that.
    fn lengthened(&self, setup: &Setup, from: Proposal, longest_s: f64) -> Result<Proposal, HeatError> {
        const ROUNDS: usize = 6;
        let (mut low, mut high) = (from.pattern.face_s, longest_s.min(LONGEST_FACE_S / 2.0));
        // Looked for coarsely, and worked out as finely as it came where that lands.
        let (aim, quick) = (from.aim, self.quick(from.hearth_c));
        let mut best = Proposal::of(&quick, self, aim, from.pattern)?;
        let start = best.pattern;
        for _ in 0..ROUNDS {
            if best.lands() || high - low < 2.0 {
                break;
            }
            let face_s = f64::midpoint(low, high).round();
            let tried = Proposal::of(&quick, self, aim, self.facing(best.pattern, face_s))?;
            if tried.off_k > 0.0 || (best.unburnt && !tried.unburnt) {
                high = face_s;
            } else {
                low = face_s;
            }
            if (tried.unburnt || !best.unburnt) && tried.off_k.abs() < best.off_k.abs() {
                best = tried;
            }
        }
        if best.pattern == start {
            return Ok(from);
        }
        let fine = Proposal::of(setup, self, aim, best.pattern)?;
        // What is burnt when looked at closely is not taken for it.
        Ok(if fine.unburnt || !from.unburnt { fine } else { from })
    }

    /// As little time as it takes: no pause, or as long in ice water as it needs.
    fn fast(&self, found: &Proposal) -> Result<Option<Proposal>, HeatError> {
        let (quick, near) = (self.quick(found.hearth_c), found.pattern);
        let once = self.browned(&quick, &Pattern { pause_s: 0.0, ..near }, Some(near.face_s))?;
        let at_once =
            Proposal { aim: Aim::Fast, ..Proposal::of(&self.at(found.hearth_c), self, Aim::Fast, once)? };
        if at_once.off_k <= searing().lands_within_k.value {
            return Ok(Some(at_once));
        }
        if self.may.ice_most_s <= 0.0 {
            return Ok(None);
        }
        let iced =
            self.landing(found.hearth_c, Pattern { pause: Pause::Ice, ..once }, Some(once), End::Soon)?;
        Ok(Some(Proposal { aim: Aim::Fast, ..self.refined(&iced)? }))
    }

    /// Hung for twenty minutes or more, then seared until the middle is back.
    fn relaxed(&self, found: &Proposal) -> Result<Option<Proposal>, HeatError> {
        let pause_s = searing().hang_from_min.value * MINUTE_S;
        let (fine, quick, heats) =
            (self.at(found.hearth_c), self.quick(found.hearth_c), self.setup.hearth.heats);
        let hung = Pattern { pause: Pause::Air, pause_s, ..found.pattern };
        let late = |p: &Pattern| self.wanted.within_s.is_some_and(|s| p.all_s(heats) > s);
        if self.may.pause_most_s < pause_s || late(&hung) {
            return Ok(None);
        }
        let browned = self.browned(&quick, &hung, Some(hung.face_s))?;
        if late(&browned) {
            return Ok(None);
        }
        let spare_s = self.wanted.within_s.map_or(f64::INFINITY, |s| s - browned.all_s(heats));
        let longest = browned.face_s + spare_s / if heats.all_round() { 1.0 } else { 2.0 };
        let hung = Proposal::of(&fine, self, Aim::Relaxed, browned)?;
        Ok(Some(self.lengthened(&fine, hung, longest.floor())?))
    }
}
