//! The same piece by other ways, each to the same centre.

use super::best::band_above_c;
use super::pattern::Pattern;
use super::run::{Act, Faces, Sear, Seared, Start};
use super::setup::Setup;
use super::{Grid, Hearth, Heat};
use crate::bath::circulated;
use crate::figures::searing;
use crate::heat::HeatError;
use crate::units::Celsius;

/// A way to cook a piece and brown it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// The bath, then the sear.
    BathThenSear,
    /// A low oven, then the sear.
    OvenThenSear,
    /// A covered grill that is raised, then the sear.
    GrillThenSear,
    /// The sear, then a low oven.
    SearThenOven,
    /// The pan from raw, turned often.
    PanTurnedOften,
    /// The pan from raw, turned once.
    PanTurnedOnce,
    /// The sear, then the bath.
    SearThenBath,
}

impl Way {
    /// All of them.
    pub const ALL: [Self; 7] = [
        Self::BathThenSear,
        Self::OvenThenSear,
        Self::GrillThenSear,
        Self::SearThenOven,
        Self::PanTurnedOften,
        Self::PanTurnedOnce,
        Self::SearThenBath,
    ];

    /// In a few words.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::sear::Way::OvenThenSear.name(), "low oven, then the sear");
    /// ```
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::BathThenSear => "bath, then the sear",
            Self::OvenThenSear => "low oven, then the sear",
            Self::GrillThenSear => "covered grill, raised, then the sear",
            Self::SearThenOven => "the sear, then a low oven",
            Self::PanTurnedOften => "from raw, turned every 30 s",
            Self::PanTurnedOnce => "from raw, turned once",
            Self::SearThenBath => "the sear, then the bath",
        }
    }
}

/// A piece cooked one way.
#[derive(Debug, Clone, PartialEq)]
pub struct Cooked {
    /// Which way.
    pub way: Way,
    /// What comes of it.
    pub done: Seared,
    /// Thicker of the bands, mm.
    pub band_mm: f64,
    /// Share of the thickness that is not band.
    pub even: f64,
    /// With hands at the stove, seconds.
    pub stove_s: f64,
    /// From raw to the end of the rest, seconds; of the bath without the time in it.
    pub all_s: f64,
    /// How far the middle ends from what is wanted, K.
    pub off_k: f64,
}

/// A covered grill over seconds, °C (common practice: it starts at 74 and is raised to 135 and 163).
const RAISED: [(f64, f64); 6] =
    [(0.0, 74.0), (1200.0, 74.0), (1500.0, 135.0), (2700.0, 135.0), (3000.0, 163.0), (5400.0, 163.0)];
/// Hands at an oven or a grill, seconds: in, out, a look.
const LOOKED_AFTER_S: f64 = 120.0;

/// The piece of `setup`, raw at `raw_c` where it does not come from the bath, cooked one way so that its middle is at
/// its warmest at `centre_c`; browned by `pattern`.
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
/// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan);
/// let pattern = Pattern { pause: Pause::Air, pause_s: 600.0, face_s: 45.0, times: 1, after: After::resting(120.0) };
/// let oven = cooked(&setup, Way::OvenThenSear, &pattern, Celsius::new(5.0), 54.0)?;
/// let pan = cooked(&setup, Way::PanTurnedOnce, &pattern, Celsius::new(5.0), 54.0)?;
/// assert!(oven.off_k.abs() < 1.0 && pan.off_k.abs() < 1.0 && oven.band_mm < pan.band_mm);
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
pub fn cooked(
    setup: &Setup,
    way: Way,
    pattern: &Pattern,
    raw_c: Celsius,
    centre_c: f64,
) -> Result<Cooked, HeatError> {
    const COARSE: Grid = Grid { first_mm: 0.06, growth: 1.16, step_s: 0.5 };
    let raw = Setup { start: Start::Uniform(raw_c), grid: COARSE, ..setup.clone() };
    let rest = Act::Rest { s: pattern.after.rest_s, wrapped: pattern.after.wrapped };
    let through = |c: f64| -> Sear {
        let (mut acts, hearths) = match way {
            Way::BathThenSear => return setup.sear(pattern, setup.hot()),
            _ => acts(setup, way, pattern, (c, centre_c)),
        };
        acts.push(rest);
        Sear { plate_s: 900.0, ..raw.through(acts, hearths) }
    };
    let done = if matches!(way, Way::BathThenSear | Way::SearThenBath) {
        through(centre_c).run()?
    } else if way == Way::PanTurnedOnce {
        turned_once(&raw, rest, centre_c)?
    } else {
        taken_out(&through, raw_c.value(), centre_c)?
    };
    let above = band_above_c(centre_c);
    let stove_s = match way {
        Way::PanTurnedOften | Way::PanTurnedOnce => done.off_s,
        Way::BathThenSear => pattern.stove_s(setup.hearth.heats),
        _ => pattern.stove_s(setup.hearth.heats) + LOOKED_AFTER_S,
    };
    Ok(Cooked {
        way,
        band_mm: done.thicker_band_mm(above),
        even: done.evenness(centre_c, searing().band_over_k.value),
        stove_s,
        all_s: done.end_s,
        off_k: done.peak_c - centre_c,
        done,
    })
}

/// Longest it is heated one way, seconds.
const LONGEST_S: f64 = 4.0 * 3600.0;

/// What is done to the piece up to its rest, and on which hearths; taken out where its middle has `out_c`, so that it
/// ends at `centre_c`.
fn acts(setup: &Setup, way: Way, pattern: &Pattern, (out_c, centre_c): (f64, f64)) -> (Vec<Act>, Vec<Heat>) {
    let until = |hearth, turn_s| vec![Act::HeatUntil { hearth, centre_c: out_c, turn_s, most_s: LONGEST_S }];
    let seared_first = || setup.heated(&Pattern { pause_s: 0.0, ..*pattern });
    // The sear on the second hearth, where something went before.
    let then_seared = || {
        let mut acts = seared_first();
        for act in &mut acts {
            if let Act::Heat { hearth, .. } = act {
                *hearth = 1;
            }
        }
        acts
    };
    let oven = || named("oven").hot(Some(searing().low_oven_c.celsius()));
    match way {
        // From the bath it comes as it lies there: nothing is done to it but its sear.
        Way::BathThenSear => (seared_first(), vec![setup.hot()]),
        Way::OvenThenSear => ([until(0, None), then_seared()].concat(), vec![oven(), setup.hot()]),
        Way::GrillThenSear => {
            let mut grill = named("covered-grill").hot(None);
            if let Heat::Air { ramp, .. } = &mut grill {
                *ramp = RAISED.to_vec();
            }
            ([until(0, None), then_seared()].concat(), vec![grill, setup.hot()])
        }
        Way::SearThenOven => ([seared_first(), until(1, None)].concat(), vec![setup.hot(), oven()]),
        Way::PanTurnedOften => (until(0, Some(30.0)), vec![setup.hot()]),
        Way::PanTurnedOnce => (until(0, Some(f64::INFINITY)), vec![setup.hot()]),
        Way::SearThenBath => {
            let (c, w_m2k) = (centre_c, circulated().w_m2k);
            let bath = Act::Bath { c, w_m2k, short_k: 0.5, most_s: LONGEST_S };
            ([seared_first(), vec![bath]].concat(), vec![setup.hot()])
        }
    }
}

/// A hearth that ways are compared on.
fn named(id: &str) -> &'static Hearth {
    Hearth::named(id).expect("shipped and tested")
}

/// Taken off the first heat at the temperature that lands it.
fn taken_out(through: &dyn Fn(f64) -> Sear, raw_c: f64, centre_c: f64) -> Result<Seared, HeatError> {
    const ROUNDS: usize = 7;
    let (mut low, mut high) = (raw_c, centre_c);
    let mut at = centre_c - 6.0;
    let mut best: Option<Seared> = None;
    for _ in 0..ROUNDS {
        let done = through(at).run()?;
        let off = done.peak_c - centre_c;
        if off > 0.0 {
            high = at
        } else {
            low = at
        }
        if best.as_ref().is_none_or(|b| off.abs() < (b.peak_c - centre_c).abs()) {
            best = Some(done);
        }
        if off.abs() < 0.2 {
            break;
        }
        // What it overshoots by hardly changes with where it is taken out.
        let next = at - off;
        at = if next > low && next < high { next } else { f64::midpoint(low, high) };
    }
    Ok(best.expect("it was run at least once"))
}

/// The pan from raw, each face once and equally long, for the time that lands it.
fn turned_once(raw: &Setup, rest: Act, centre_c: f64) -> Result<Seared, HeatError> {
    const ROUNDS: usize = 9;
    let face = |s: f64| {
        let heat = |faces| Act::Heat { hearth: 0, s, faces };
        let acts = vec![heat(Faces::First), heat(Faces::Second), rest];
        Sear { plate_s: 900.0, ..raw.through(acts, vec![raw.hot()]) }.run()
    };
    let (mut low, mut high) = (10.0, 1800.0);
    let mut best: Option<Seared> = None;
    for _ in 0..ROUNDS {
        let tried = f64::sqrt(low * high);
        let done = face(tried)?;
        let off = done.peak_c - centre_c;
        if off > 0.0 {
            high = tried
        } else {
            low = tried
        }
        if best.as_ref().is_none_or(|b| off.abs() < (b.peak_c - centre_c).abs()) {
            best = Some(done);
        }
    }
    Ok(best.expect("it was run at least once"))
}
