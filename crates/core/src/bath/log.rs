//! A bath's log, with holes.

use super::{BathPoint, BathTrace, TraceError};
use crate::figures::{bench, cooling, limits};

/// A stretch without readings, and how it was taken.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Gap {
    /// Minute of the last reading before it.
    pub from_min: f64,
    /// Minute of the first reading after it.
    pub until_min: f64,
    /// The coldest the bath is taken to have been in it, °C.
    pub taken_as_c: f64,
}

/// A trace from a log of readings, every gap longer than ten minutes taken the safe way: the bath is
/// never taken to have been warmer than the colder of the two readings beside the gap, nor than water
/// left unheated in a room at `room_c` would have been.
///
/// # Errors
/// As [`BathTrace::new`].
///
/// ```
/// use hold_steady_core::bath::{BathPoint, from_log};
/// let p = |min, c| BathPoint { min, c };
/// let (trace, gaps) = from_log(&[p(0.0, 56.0), p(5.0, 56.0), p(65.0, 56.0)], 20.0)?;
/// assert_eq!(gaps.len(), 1);
/// assert!(trace.at(60.0 * 60.0) < 45.0); // after 55 minutes nobody saw, it may have been off
/// assert_eq!(trace.at(65.0 * 60.0), 56.0);
/// # Ok::<(), hold_steady_core::bath::TraceError>(())
/// ```
pub fn from_log(readings: &[BathPoint], room_c: f64) -> Result<(BathTrace, Vec<Gap>), TraceError> {
    filled(readings, &|a, b| {
        let least = a.c.min(b.c);
        // A room warmer than the bath heats nothing here.
        Box::new(move |min| unheated_c(a, room_c, min).min(least))
    })
}

/// What water of a bath nothing is known of has fallen to by a minute, °C, where nothing heats it from a reading on.
pub(super) fn unheated_c(from: BathPoint, room_c: f64, min: f64) -> f64 {
    let constant = cooling().bath_time_constant_min.value;
    room_c + (from.c - room_c) * (-(min - from.min) / constant).exp()
}

/// What of that counts when nobody has looked for so long: no kill, once it is long.
pub(super) fn unseen_c(c: f64, since_min: f64) -> f64 {
    if since_min > bench().gap_credit_min.value { c.min(no_kill_c()) } else { c }
}

/// A gap is followed for a day, minutes: by then nothing has been proved for long.
pub(super) const LONGEST_GAP_MIN: f64 = 1440.0;

/// How a bath is taken to have been in a gap between two readings: °C by minute.
pub(super) type InGap<'a> = Box<dyn Fn(f64) -> f64 + 'a>;

/// No kill is earned there: just under what is credited at all.
pub(super) fn no_kill_c() -> f64 {
    const UNDER_K: f64 = 0.1;
    limits().no_kill_below_c.value - UNDER_K
}

/// A trace from a log, its gaps taken as `fill` says between two readings, and as earning no kill once they have
/// lasted long.
pub(super) fn filled<'a>(
    readings: &[BathPoint],
    fill: &dyn Fn(BathPoint, BathPoint) -> InGap<'a>,
) -> Result<(BathTrace, Vec<Gap>), TraceError> {
    const STEP_MIN: f64 = 2.0;
    // The reading after a gap is taken to hold from this long before it.
    const JUMP_MIN: f64 = 0.01;
    let trace = BathTrace::new(readings.to_vec())?;
    let longest = cooling().log_gap_min.value;
    let (mut points, mut gaps) = (vec![readings[0]], Vec::new());
    for pair in readings.windows(2) {
        let (a, b) = (pair[0], pair[1]);
        if b.min - a.min > longest {
            let path = fill(a, b);
            let taken = |min: f64| unseen_c(path(min), min - a.min);
            let steps = ((b.min - a.min).min(LONGEST_GAP_MIN) / STEP_MIN).floor() as usize;
            for k in 0..=steps {
                let min = a.min + JUMP_MIN + STEP_MIN * k as f64;
                if min < b.min - JUMP_MIN {
                    points.push(BathPoint { min, c: taken(min) });
                }
            }
            let last = b.min - JUMP_MIN;
            points.push(BathPoint { min: last, c: taken(last) });
            gaps.push(Gap { from_min: a.min, until_min: b.min, taken_as_c: taken(last) });
        }
        points.push(b);
    }
    if gaps.is_empty() { Ok((trace, gaps)) } else { Ok((BathTrace::new(points)?, gaps)) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn p(min: f64, c: f64) -> BathPoint {
        BathPoint { min, c }
    }

    #[test]
    fn a_log_without_holes_is_its_own_trace() {
        let readings = [p(0.0, 55.0), p(8.0, 55.2), p(16.0, 54.9)];
        let (trace, gaps) = from_log(&readings, 20.0).expect("in order");
        assert_eq!((trace.points(), gaps.len()), (&readings[..], 0));
    }

    #[test]
    fn a_gap_is_never_warmer_than_its_colder_side_nor_than_unheated_water() {
        let (trace, gaps) = from_log(&[p(0.0, 56.0), p(40.0, 54.0), p(45.0, 56.0)], 20.0).expect("in order");
        assert_eq!((gaps[0].from_min, gaps[0].until_min), (0.0, 40.0));
        for min in 1..40 {
            let t = f64::from(min);
            let c = trace.at(t * 60.0);
            let unheated = 20.0 + 36.0 * (-t / 120.0_f64).exp();
            assert!(c <= 54.0 + 1e-9 && c <= unheated + 0.2, "{t} min: {c}");
        }
        assert!(gaps[0].taken_as_c < 46.0);
    }

    #[test]
    fn a_longer_gap_is_never_warmer() {
        let end = |until: f64| {
            let (trace, _) = from_log(&[p(0.0, 56.0), p(until, 56.0)], 20.0).expect("in order");
            trace.at((until - 0.1) * 60.0)
        };
        assert!(end(60.0) < end(30.0) && end(30.0) < end(11.0));
    }
}
