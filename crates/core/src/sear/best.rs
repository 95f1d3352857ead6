//! The finish that does least to the inside: an optimiser over the model.

use super::setup::{After, Pattern, Pause, Setup};
use super::{Grid, Seared};
use crate::figures::searing;
use crate::heat::HeatError;
use crate::sear::Start;
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

/// What a proposal is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Aim {
    /// The thinnest band.
    Thin,
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
    /// No face gets hotter than wanted.
    pub unburnt: bool,
}

impl Proposal {
    fn of(setup: &Setup, wanted: &Wanted, aim: Aim, pattern: Pattern) -> Result<Self, HeatError> {
        let done = setup.finish(&pattern)?;
        Ok(Self::seen(setup, wanted, aim, pattern, done))
    }

    fn seen(setup: &Setup, wanted: &Wanted, aim: Aim, pattern: Pattern, done: Seared) -> Self {
        let band_mm = done.thicker_band_mm(wanted.centre_c + searing().band_over_k.value);
        let off_k = done.peak_c - wanted.centre_c;
        let hottest = done.faces.iter().map(|f| f.peak_c).fold(0.0, f64::max);
        let brown = done.paler().browning >= wanted.browning;
        let all_s = pattern.all_s(setup.hearth.both);
        Self { aim, pattern, done, band_mm, all_s, off_k, brown, unburnt: hottest <= wanted.face_c }
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
        self.off_k.abs() <= searing().peak_within_k.value
    }
}

/// Longest on the heat a face, seconds.
const LONGEST_FACE_S: f64 = 420.0;
const SHORTEST_FACE_S: f64 = 5.0;
const MINUTE_S: f64 = 60.0;

/// Two or three ways to finish a piece: with the thinnest band, the fastest, and hung to cool. Those that would be the
/// same are left out.
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
/// let (thin, fast) = (&all[0], &all[1]);
/// assert!(thin.band_mm <= fast.band_mm && fast.all_s <= thin.all_s);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn proposals(setup: &Setup, wanted: &Wanted) -> Result<Vec<Proposal>, HeatError> {
    let quick = Setup { grid: COARSE, ..setup.clone() };
    let search = Search { setup, quick, wanted };
    let once = search.browned(&search.plain(Pause::Air, 0.0, 1), None)?;
    let times: &[u32] = if setup.hearth.both { &[1] } else { &[1, 2] };
    let mut landed: Vec<Proposal> = Vec::new();
    for pause in [Pause::Air, Pause::Ice] {
        for n in times {
            landed.push(search.landing(Pattern { pause, times: *n, ..once }, Aim::Thin)?);
        }
    }
    // Turned once, out of ice water: what is fast where it cannot go on at once.
    let iced = landed[times.len()].clone();
    let thin = landed.into_iter().reduce(|best, found| if better(&found, &best) { found } else { best });
    let mut all: Vec<Proposal> = thin.into_iter().collect();
    all.push(search.fast(once, iced)?);
    all.extend(search.relaxed(once)?);
    let mut kept: Vec<Proposal> = Vec::new();
    for p in all {
        if !kept.iter().any(|k| k.pattern == p.pattern) {
            kept.push(p);
        }
    }
    Ok(kept)
}

/// Whether one keeps more of what is wanted, or the same with a thinner band.
fn better(one: &Proposal, than: &Proposal) -> bool {
    let kept = |p: &Proposal| u8::from(p.lands()) + u8::from(p.brown) + u8::from(p.unburnt);
    // Two hundredths of a millimetre are no reason for ice water or more turns.
    (kept(one), -(one.band_mm + 0.02)) > (kept(than), -than.band_mm)
}

/// Where many are compared: within a few hundredths of a millimetre of the usual one.
pub(super) const COARSE: Grid = Grid { first_mm: 0.06, growth: 1.2, step_s: 0.5 };

/// Something tried, and how far over what is aimed at it is.
type Tried = (f64, f64);

struct Search<'a> {
    setup: &'a Setup,
    /// The same, solved less finely.
    quick: Setup,
    wanted: &'a Wanted,
}

impl Search<'_> {
    fn plain(&self, pause: Pause, pause_s: f64, times: u32) -> Pattern {
        Pattern { pause, pause_s, face_s: 45.0, times, after: self.wanted.after }
    }

    /// The shortest time on the heat that browns it as wanted; looked for near a guess, where there is one.
    fn browned(&self, pattern: &Pattern, near_s: Option<f64>) -> Result<Pattern, HeatError> {
        // Only the heat matters to its faces.
        let reaches = |face_s: f64| -> Result<bool, HeatError> {
            let tried = Pattern { face_s, after: After::resting(0.0), ..*pattern };
            let sear = self.quick.sear(&tried, self.quick.hot());
            let out = crate::sear::Sear { plate_s: 0.0, ..sear }.run()?;
            Ok(out.paler().browning >= self.wanted.browning)
        };
        let (mut low, mut high, rounds) = match near_s {
            Some(s) => (0.6 * s, 1.3 * s, 4),
            None => (SHORTEST_FACE_S, LONGEST_FACE_S, 7),
        };
        for _ in 0..rounds {
            let tried = (low * high).sqrt();
            if reaches(tried)? { high = tried } else { low = tried }
        }
        Ok(Pattern { face_s: high.ceil(), ..*pattern })
    }

    /// The pause that brings the middle to where it is wanted.
    fn paused(&self, pattern: Pattern, near_s: Option<f64>) -> Result<Pattern, HeatError> {
        let (setup, both) = (&self.quick, self.setup.hearth.both);
        let longest = match pattern.pause {
            Pause::Air => searing().hang_until_min.value * MINUTE_S,
            Pause::Ice => searing().ice_most_s.value,
        };
        let spare = self.wanted.within_s.map(|s| s - Pattern { pause_s: 0.0, ..pattern }.all_s(both));
        let longest = spare.map_or(longest, |s| longest.min(s.max(0.0)));
        // A little under what is wanted is a thinner band, and still within what is asked.
        let aimed = self.wanted.centre_c - 0.3 * searing().peak_within_k.value;
        let over = |pause_s: f64| -> Result<f64, HeatError> {
            Ok(setup.finish(&Pattern { pause_s, ..pattern })?.peak_c - aimed)
        };
        let step = if pattern.pause == Pause::Ice { 10.0 } else { 30.0 };
        let (mut low, mut high) = self.bounds(near_s, (longest, step), &over)?;
        let pause_s = if low.1 <= 0.0 {
            0.0
        } else if high.1 > 0.0 {
            longest
        } else {
            // The peak falls nearly in a straight line.
            for _ in 0..4 {
                if high.0 - low.0 < step {
                    break;
                }
                let between = low.0 + (high.0 - low.0) * low.1 / (low.1 - high.1);
                let tried = between.clamp(low.0 + 0.1 * (high.0 - low.0), high.0 - 0.1 * (high.0 - low.0));
                let at = over(tried)?;
                if at > 0.0 { low = (tried, at) } else { high = (tried, at) }
            }
            low.0 + (high.0 - low.0) * low.1 / (low.1 - high.1)
        };
        let pause_s = ((pause_s / step).round() * step).min(longest);
        // None at all is none in ice water either.
        let pause = if pause_s > 0.0 { pattern.pause } else { Pause::Air };
        Ok(Pattern { pause, pause_s, ..pattern })
    }

    /// A pause that is too short and one that is too long, with how far the middle is over what is aimed at: around a guess,
    /// where there is one that holds.
    fn bounds(
        &self,
        near_s: Option<f64>,
        (longest, step): (f64, f64),
        over: &dyn Fn(f64) -> Result<f64, HeatError>,
    ) -> Result<(Tried, Tried), HeatError> {
        if let Some(near) = near_s.filter(|near| *near > 2.0 * step && near + 2.0 * step < longest) {
            let (low, high) = (near - 2.0 * step, near + 2.0 * step);
            let around = ((low, over(low)?), (high, over(high)?));
            if around.0.1 > 0.0 && around.1.1 <= 0.0 {
                return Ok(around);
            }
        }
        Ok(((0.0, over(0.0)?), (longest, over(longest)?)))
    }

    /// The same with as much less of a pause as the clock asks.
    fn in_time(&self, pattern: Pattern) -> Pattern {
        let over = self.wanted.within_s.map_or(0.0, |s| pattern.all_s(self.setup.hearth.both) - s);
        Pattern { pause_s: (pattern.pause_s - over.max(0.0)).max(0.0), ..pattern }
    }

    /// With a pause that brings the middle to where it is wanted, browned as wanted.
    fn landing(&self, pattern: Pattern, aim: Aim) -> Result<Proposal, HeatError> {
        // A face that hung is dry and browns sooner; one out of ice water browns later.
        let first = self.paused(pattern, None)?;
        let browned = self.browned(&first, Some(first.face_s))?;
        let mut last = self.paused(browned, Some(first.pause_s))?;
        let mut found = Proposal::of(self.setup, self.wanted, aim, last)?;
        for _ in 0..3 {
            if found.brown {
                break;
            }
            // What the search took a little too lightly.
            last = self.in_time(Pattern { face_s: (last.face_s * 1.04).ceil(), ..last });
            found = Proposal::of(self.setup, self.wanted, aim, last)?;
        }
        // Colder than wanted without any pause: a longer sear has to do it.
        if found.off_k < 0.0 && !found.lands() && found.pattern.pause_s <= 0.0 {
            let both = if self.setup.hearth.both { 1.0 } else { 2.0 };
            let spare_s = self.wanted.within_s.map_or(f64::INFINITY, |s| (s - found.all_s).max(0.0));
            let longest = found.pattern.face_s + spare_s / both;
            return self.lengthened(found, longest);
        }
        Ok(found)
    }

    /// Seared for longer, at most for `longest_s` a face, until the middle is where it is wanted: not burnt for that.
    fn lengthened(&self, from: Proposal, longest_s: f64) -> Result<Proposal, HeatError> {
        const ROUNDS: usize = 6;
        let (mut low, mut high) = (from.pattern.face_s, longest_s.min(LONGEST_FACE_S / 2.0));
        // Looked for coarsely, and worked out finely where that lands.
        let aim = from.aim;
        let mut best = Proposal::of(&self.quick, self.wanted, aim, from.pattern)?;
        let start = best.pattern;
        for _ in 0..ROUNDS {
            if best.lands() || high - low < 2.0 {
                break;
            }
            let face_s = f64::midpoint(low, high).round();
            let pattern = Pattern { face_s, ..best.pattern };
            let tried = Proposal::of(&self.quick, self.wanted, aim, pattern)?;
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
        let fine = Proposal::of(self.setup, self.wanted, aim, best.pattern)?;
        // What is burnt when looked at closely is not taken for it.
        Ok(if fine.unburnt || !from.unburnt { fine } else { from })
    }

    /// As little time as it takes: no pause, or as long in ice water as it needs.
    fn fast(&self, once: Pattern, iced: Proposal) -> Result<Proposal, HeatError> {
        let at_once = Proposal::of(self.setup, self.wanted, Aim::Fast, once)?;
        if at_once.off_k <= searing().peak_within_k.value {
            return Ok(at_once);
        }
        Ok(Proposal { aim: Aim::Fast, ..iced })
    }

    /// Hung for twenty minutes or more, then seared until the middle is back.
    fn relaxed(&self, once: Pattern) -> Result<Option<Proposal>, HeatError> {
        let pause_s = searing().hang_from_min.value * MINUTE_S;
        let hung = Pattern { pause: Pause::Air, pause_s, ..once };
        if self.wanted.within_s.is_some_and(|s| hung.all_s(self.setup.hearth.both) > s) {
            return Ok(None);
        }
        let browned = self.browned(&hung, Some(hung.face_s))?;
        let both = self.setup.hearth.both;
        if self.wanted.within_s.is_some_and(|s| browned.all_s(both) > s) {
            return Ok(None);
        }
        let spare_s = self.wanted.within_s.map_or(f64::INFINITY, |s| s - browned.all_s(both));
        let longest = browned.face_s + spare_s / if both { 1.0 } else { 2.0 };
        let best = Proposal::of(self.setup, self.wanted, Aim::Relaxed, browned)?;
        let best = self.lengthened(best, longest.floor())?;
        Ok(Some(best))
    }
}

/// What is too much.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TooMuch {
    /// Longer a face than this, and the middle passes what is wanted by more than is asked; none within what is looked at.
    pub face_s: Option<f64>,
    /// Longer than this, and a face chars.
    pub char_s: Option<f64>,
    /// A hearth hotter than this chars it in the same time, °C.
    pub hearth_c: Option<f64>,
    /// Each further 15 s a face: the middle warmer by, K, and the band thicker by, mm.
    pub each_15_s: (f64, f64),
}

/// How much later or hotter is too much for a pattern.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// # let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan);
/// # let wanted = Wanted { centre_c: 56.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(120.0) };
/// let pattern = Pattern { pause: Pause::Air, pause_s: 0.0, face_s: 45.0, times: 1, after: After::resting(120.0) };
/// let much = too_much(&setup, &wanted, &pattern)?;
/// assert!(much.face_s.is_none_or(|s| s >= 45.0) && much.each_15_s.0 > 0.0);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn too_much(setup: &Setup, wanted: &Wanted, pattern: &Pattern) -> Result<TooMuch, HeatError> {
    const ROUNDS: usize = 5;
    const LATER_S: f64 = 15.0;
    let above = wanted.centre_c + searing().band_over_k.value;
    let at = |setup: &Setup, face_s: f64| setup.finish(&Pattern { face_s, ..*pattern });
    let (now, later) = (at(setup, pattern.face_s)?, at(setup, pattern.face_s + LATER_S)?);
    let each_15_s = (later.peak_c - now.peak_c, later.thicker_band_mm(above) - now.thicker_band_mm(above));
    // Looked for coarsely, and set right by how far that is off here.
    let quick = &Setup { grid: COARSE, ..setup.clone() };
    let off_k = now.peak_c - at(quick, pattern.face_s)?.peak_c;
    // The first of rising values that is too much; none where the last is not.
    let first = |mut low: f64, mut high: f64, much: &dyn Fn(f64) -> Result<bool, HeatError>| {
        if !much(high)? {
            return Ok(None);
        }
        for _ in 0..ROUNDS {
            let tried = f64::midpoint(low, high);
            if much(tried)? { high = tried } else { low = tried }
        }
        Ok::<_, HeatError>(Some(low))
    };
    let most = wanted.centre_c + searing().peak_within_k.value;
    let over = |s: f64| Ok::<_, HeatError>(at(quick, s)?.peak_c + off_k - most);
    let hottest = |setup: &Setup, s: f64| -> Result<f64, HeatError> {
        let short = Pattern { face_s: s, after: After::resting(0.0), ..*pattern };
        let out = setup.sear(&short, setup.hot()).run()?;
        Ok(out.faces.iter().map(|f| f.peak_c).fold(0.0, f64::max))
    };
    let char_c = searing().char_c.value;
    // How hot a face gets hangs on its outermost layer: looked for finely, where it comes near that at all.
    const NEAR_K: f64 = 10.0;
    let chars = |s: f64| Ok::<_, HeatError>(hottest(setup, s)? - char_c);
    let (from, until) = (pattern.face_s, pattern.face_s + 180.0);
    let hotter = |c: f64| {
        let hot = Setup { hearth_c: Some(Celsius::new(c)), ..setup.clone() };
        Ok(hottest(&hot, pattern.face_s)? > char_c)
    };
    let hearth_now = setup.hearth_c.or(setup.hearth.c).map(Celsius::value);
    let hearth_c = match (hearth_now, setup.hearth.high_c) {
        (Some(c), Some(high)) if high.value() > c => first(c, high.value(), &hotter)?,
        _ => None,
    };
    Ok(TooMuch {
        face_s: reaches((from, now.peak_c - most), (until, over(until)?), &over)?,
        char_s: if hottest(quick, until)? + NEAR_K < char_c {
            None
        } else {
            reaches((from, chars(from)?), (until, chars(until)?), &chars)?
        },
        hearth_c,
        each_15_s,
    })
}

/// Where something that rises nearly in a straight line passes nought between two points of it: the lower end where it is over
/// already, none where it is not at the upper one.
fn reaches(
    (mut low, mut at_low): Tried,
    (mut high, mut at_high): Tried,
    over: &dyn Fn(f64) -> Result<f64, HeatError>,
) -> Result<Option<f64>, HeatError> {
    const ROUNDS: usize = 7;
    const NEAR_K: f64 = 0.03;
    if at_low > 0.0 {
        return Ok(Some(low));
    }
    if at_high <= 0.0 {
        return Ok(None);
    }
    for _ in 0..ROUNDS {
        let tried = low + (high - low) * (-at_low / (at_high - at_low)).clamp(0.02, 0.98);
        let at = over(tried)?;
        if at.abs() < NEAR_K {
            return Ok(Some(tried));
        }
        // An end that stays counts for half the next time: what is bent is straddled, not crept up to.
        if at > 0.0 {
            (high, at_high) = (tried, at);
            at_low *= 0.5;
        } else {
            (low, at_low) = (tried, at);
            at_high *= 0.5;
        }
    }
    // What is said is on the safe side of it.
    Ok(Some(low))
}

/// The bath to have chosen, so that after this finish the middle is as wanted, °C; a piece that is heated through.
///
/// # Errors
/// When it takes too much computing.
///
/// ```
/// # use hold_steady_core::{food::catalogue, sear::*, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let pan = Hearth::named("iron-pan").expect("shipped");
/// # let setup = Setup::new(strip, Length::from_mm(25.0), Celsius::new(54.0), pan);
/// let pattern = Pattern { pause: Pause::Air, pause_s: 0.0, face_s: 60.0, times: 1, after: After::resting(300.0) };
/// let bath = bath_for(&setup, &pattern, 54.0)?;
/// assert!((41.0..48.0).contains(&bath), "{bath}");
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn bath_for(setup: &Setup, pattern: &Pattern, centre_c: f64) -> Result<f64, HeatError> {
    const ROUNDS: usize = 3;
    let at = |grid: Grid, bath: f64| {
        let start = Start::Uniform(Celsius::new(bath));
        Ok::<_, HeatError>(Setup { start, grid, ..setup.clone() }.finish(pattern)?.peak_c)
    };
    // Looked for coarsely, and set right by how far that is off here.
    let off_k = at(setup.grid, centre_c)? - at(COARSE, centre_c)?;
    let mut bath = centre_c;
    for _ in 0..ROUNDS {
        let peak = at(COARSE, bath)? + off_k;
        // The middle ends about as much warmer as it began.
        bath += centre_c - peak;
        if (centre_c - peak).abs() < 0.05 {
            break;
        }
    }
    Ok(bath)
}
