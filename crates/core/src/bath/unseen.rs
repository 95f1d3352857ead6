//! Water nobody looks at.

use super::BathPoint;
use crate::figures::{cooling, limits};

/// What water of a bath nothing is known of has fallen to by a minute, °C, where nothing heats it from a reading on.
pub(super) fn unheated_c(from: BathPoint, room_c: f64, min: f64) -> f64 {
    let constant = cooling().bath_time_constant_min.value;
    room_c + (from.c - room_c) * (-(min - from.min) / constant).exp()
}

/// A gap is followed for a day, minutes: by then nothing has been proved for long.
pub(super) const LONGEST_GAP_MIN: f64 = 1440.0;

/// No kill is earned there: just under what is credited at all.
pub(super) fn no_kill_c() -> f64 {
    const UNDER_K: f64 = 0.1;
    limits().no_kill_below_c.value - UNDER_K
}
