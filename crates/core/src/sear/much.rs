//! How much of a finish is too much, and the bath that would have suited it.

use super::Grid;
use super::best::{COARSE, Wanted};
use super::pattern::{After, Pattern};
use super::setup::Setup;
use crate::figures::searing;
use crate::heat::HeatError;
use crate::sear::Start;
use crate::units::Celsius;

/// What is too much.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TooMuch {
    /// Longer a face than this, and the middle passes what is wanted by more than is asked; none within what is looked at.
    pub face_s: Option<f64>,
    /// Longer than this, and a face chars.
    pub char_s: Option<f64>,
    /// A hearth hotter than this chars it in the same time, °C.
    pub hearth_c: Option<f64>,
    /// Each further [`TooMuch::LATER_S`] a face: the middle warmer by, K, and the band thicker by, mm.
    pub each_later: (f64, f64),
}

impl TooMuch {
    /// So many seconds more a face are looked at.
    pub const LATER_S: f64 = 15.0;
}

/// How much later or hotter is too much for a pattern.
///
/// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
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
/// assert!(much.face_s.is_none_or(|s| s >= 45.0) && much.each_later.0 > 0.0);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn too_much(setup: &Setup, wanted: &Wanted, pattern: &Pattern) -> Result<TooMuch, HeatError> {
    const ROUNDS: usize = 5;
    let above = wanted.band_above_c();
    let at = |setup: &Setup, face_s: f64| setup.finish(&Pattern { face_s, ..*pattern });
    let (now, later) = (at(setup, pattern.face_s)?, at(setup, pattern.face_s + TooMuch::LATER_S)?);
    let each_later = (later.peak_c - now.peak_c, later.thicker_band_mm(above) - now.thicker_band_mm(above));
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
    let hearth_now = setup.heated_c().map(Celsius::value);
    let hearth_c = match (hearth_now, setup.hearth.high_c) {
        (Some(c), Some(high)) if high.value() > c => first(c, high.value(), &hotter)?,
        _ => None,
    };
    // Where it was found coarsely it is looked at once more, and set right by what it is off there.
    let face_s = match reaches((from, now.peak_c - most), (until, over(until)?), &over)? {
        Some(s) if s > from => {
            let off = at(setup, s)?.peak_c - most;
            let rises = (off - (now.peak_c - most)) / (s - from);
            Some((s - off / rises.max(1e-3)).clamp(from, until))
        }
        found => found,
    };
    Ok(TooMuch {
        face_s,
        char_s: if hottest(quick, until)? + NEAR_K < char_c {
            None
        } else {
            reaches((from, chars(from)?), (until, chars(until)?), &chars)?
        },
        hearth_c,
        each_later,
    })
}

/// Something tried, and how far over what is aimed at it is.
type Tried = (f64, f64);

/// Where something that rises nearly in a straight line passes nought between two points of it: the lower end where it is over
/// already, none where it is not at the upper one.
pub(super) fn reaches(
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
/// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
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
