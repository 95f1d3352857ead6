//! What a probe in the piece says of the estimate.

use jiff::Timestamp;

use super::PieceClock;
use crate::bath::ProbeLog;
use crate::heat::{HeatError, Shape};
use crate::piece::{Fit, Piece, Unknown, fit, slower};
use crate::units::{Celsius, Kelvin, Minutes};

/// What a probe in the piece says of the estimate.
#[derive(Debug, Clone, PartialEq)]
pub struct Probed {
    /// What the probe is called.
    pub name: String,
    /// Its last reading: when, and what.
    pub read: (Timestamp, Celsius),
    /// What was estimated for then without it, at the slow end.
    pub estimate: Celsius,
    /// The thickness at which its readings fit best.
    pub fit: Fit,
    /// Only a delay was looked for: a few readings, or a block. See [`slower`].
    pub delays_only: bool,
    /// It may bring a safe time forward.
    pub may_advance: bool,
    /// It jumped, as none at the centre does: what it proved before stands until somebody says what happened.
    pub slipped: bool,
}

impl Probed {
    /// Fits the piece to what a probe read in it since it was dropped; before five readings over ten minutes it may only
    /// delay. Each stretch between two jumps is fitted by itself: a probe that slips out of the piece takes back no delay
    /// it has proved.
    pub(super) fn of(
        log: &ProbeLog,
        piece: &Piece<'_>,
        clock: &PieceClock,
        dropped: Timestamp,
    ) -> Result<Option<Self>, HeatError> {
        let since: Vec<(Minutes, Celsius)> = log
            .readings
            .iter()
            .filter(|(at, _)| *at >= dropped)
            .map(|(at, c)| (clock.minute(*at), *c))
            .collect();
        let (Some(last), Some(read)) = (since.last(), log.readings.last()) else { return Ok(None) };
        let estimate = piece.run_until(last.0.max(Minutes::new(1.0)), &[])?.core_c(last.0);
        let mut fits: Vec<(Fit, bool)> = Vec::new();
        let stretches = stretches(piece, &since)?;
        for stretch in &stretches {
            fits.push(fit_of(piece, stretch)?);
        }
        let sound = |f: &&(Fit, bool)| f.1 || is_sound(&f.0);
        // Of the stretches that are this piece's centre the latest; of none, as late as it may be.
        let slowest = |all: &mut dyn Iterator<Item = &(Fit, bool)>| {
            all.max_by(|a, b| a.0.value.total_cmp(&b.0.value)).copied()
        };
        let found = slowest(&mut fits.iter().filter(sound)).or_else(|| slowest(&mut fits.iter()));
        let Some((fit, delays_only)) = found else { return Ok(None) };
        let whole = stretches.len() == 1;
        let (name, may_advance) = (log.name.clone(), log.may_advance && whole);
        Ok(Some(Self { name, read: *read, estimate, fit, delays_only, may_advance, slipped: !whole }))
    }

    /// Whether its readings are those of one piece's centre: one that slipped out reads like none.
    ///
    /// ```
    /// use hold_steady_core::{cook::Probed, piece::{Fit, Unknown}, units::*};
    /// let fit = Fit { unknown: Unknown::Thickness, value: 30.0, rms_k: Kelvin::new(0.2), at_the_end: false };
    /// let read = ("2026-11-25T16:00:00Z".parse()?, Celsius::new(41.2));
    /// let probed = Probed { name: "p".into(), read, estimate: Celsius::new(43.0), fit, delays_only: false, may_advance: true, slipped: false };
    /// assert!(probed.fits());
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn fits(&self) -> bool {
        is_sound(&self.fit)
    }

    /// The piece as it is judged with it: later at once, sooner only where the probe may and fits.
    pub(super) fn applied<'a>(&self, piece: &Piece<'a>) -> Piece<'a> {
        if self.may_advance && self.fits() { self.fit.applied(piece) } else { self.fit.delaying(piece) }
    }
}

/// Whether readings fit one piece's centre.
fn is_sound(fit: &Fit) -> bool {
    const WITHIN: Kelvin = Kelvin::new(1.0);
    !fit.at_the_end && fit.rms_k < WITHIN
}

/// The thickness one stretch of readings tells of, and whether it may only delay.
fn fit_of(piece: &Piece<'_>, stretch: &[(Minutes, Celsius)]) -> Result<(Fit, bool), HeatError> {
    const FEWEST: usize = 5;
    const OVER: Minutes = Minutes::new(10.0);
    const MOST: usize = 40;
    let (first, last) = (stretch[0], stretch[stretch.len() - 1]);
    // A few readings fit anything: they may delay, and no more. A block is simulated in three dimensions: thirty of them
    // take longer than a page is waited for.
    if stretch.len() < FEWEST || last.0 - first.0 < OVER || matches!(piece.shape, Shape::Block { .. }) {
        let mut latest: Option<Fit> = None;
        for read in [first, last] {
            let estimate = piece.run_until(read.0.max(Minutes::new(1.0)), &[])?.core_c(read.0);
            let told = slower(piece, read, estimate)?;
            if latest.is_none_or(|l| told.value > l.value) {
                latest = Some(told);
            }
        }
        return Ok((latest.expect("of two"), true));
    }
    let some: Vec<_> = stretch.iter().step_by(stretch.len() / MOST + 1).chain([&last]).copied().collect();
    Ok((fit(piece, &some, Unknown::Thickness)?, false))
}

/// Readings parted where they jump further than a centre can: the probe slipped out, or was put back.
fn stretches(
    piece: &Piece<'_>,
    read: &[(Minutes, Celsius)],
) -> Result<Vec<Vec<(Minutes, Celsius)>>, HeatError> {
    /// How much faster than the centre of a piece half as thick, in the hottest water so far, a reading may still be.
    const FASTER: f64 = 1.5;
    const NOISE: Kelvin = Kelvin::new(1.0);
    const LOOKS: usize = 60;
    let last = read[read.len() - 1].0.max(Minutes::new(1.0));
    let thin = piece.cut_to(piece.shape.thickness() / 2.0);
    let run = thin.run_until(last, &[])?;
    let look = last / LOOKS as f64;
    let steepest = (0..LOOKS)
        .map(|i| (run.core_c(look * (i + 1) as f64) - run.core_c(look * i as f64)).value() / look.value())
        .fold(0.0, f64::max);
    let mut all: Vec<Vec<(Minutes, Celsius)>> = Vec::new();
    for (at, c) in read.iter().copied() {
        let before = all.last().and_then(|s| s.last()).copied();
        let jumps = before.is_some_and(|(then, was)| {
            let passed = (at - then).value();
            let rose = c - was;
            rose > NOISE + Kelvin::new(steepest * FASTER * passed)
                || rose < -NOISE - Kelvin::new(0.5 * passed)
        });
        match all.last_mut() {
            Some(stretch) if !jumps => stretch.push((at, c)),
            _ => all.push(vec![(at, c)]),
        }
    }
    Ok(all)
}
