//! Water poured together. Litres count alike at all temperatures, which is off by up to 2 %.

use serde::Serialize;

/// What brings a bath to a temperature.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Mix {
    /// Water to add, l.
    pub add_l: f64,
    /// Water to take off first, so that it fits, l.
    pub remove_l: f64,
}

/// Why no water of that temperature does it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum MixError {
    /// It is on the same side as the bath, or just what is wanted.
    #[error("water of that temperature does not bring it there: it must be {0} than what is wanted")]
    WrongSide(&'static str),
}

/// What of water at `add_c` brings `litres` at `now_c` to `want_c`, in a vessel that holds `capacity_l`: where it would
/// run over, as much is taken off first.
///
/// Source: the heat balance of water of one heat capacity.
///
/// # Errors
/// When water at `add_c` cannot bring it there.
///
/// ```
/// use hold_steady_core::bath::mix;
/// // 12 l × 1 K / (95 − 54.5) K.
/// let m = mix(12.0, 14.0, (53.5, 54.5, 95.0))?;
/// assert!((m.add_l - 0.296).abs() < 0.0005 && m.remove_l == 0.0);
/// assert!(mix(12.0, 14.0, (53.5, 54.5, 40.0)).is_err());
/// # Ok::<(), hold_steady_core::bath::MixError>(())
/// ```
pub fn mix(litres: f64, capacity_l: f64, (now_c, want_c, add_c): (f64, f64, f64)) -> Result<Mix, MixError> {
    let rise = want_c - now_c;
    if rise == 0.0 {
        return Ok(Mix { add_l: 0.0, remove_l: 0.0 });
    }
    if rise > 0.0 && add_c <= want_c {
        return Err(MixError::WrongSide("warmer"));
    }
    if rise < 0.0 && add_c >= want_c {
        return Err(MixError::WrongSide("colder"));
    }
    let share = rise / (add_c - want_c);
    let left = litres.min(capacity_l / (1.0 + share));
    Ok(Mix { add_l: left * share, remove_l: litres - left })
}

/// Water to fill a vessel with.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Split {
    /// From the hot tap, l.
    pub hot_l: f64,
    /// From the cold tap, l.
    pub cold_l: f64,
    /// From the kettle, l.
    pub kettle_l: f64,
    /// What they come to, °C.
    pub c: f64,
}

/// What there is to fill a vessel with, °C and l.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Taps {
    /// Hot tap, °C.
    pub hot_c: f64,
    /// Cold tap, °C.
    pub cold_c: f64,
    /// Kettle, °C.
    pub kettle_c: f64,
    /// What of the kettle's water there is, l.
    pub kettle_l: f64,
}

/// The split of `litres` that comes nearest to `want_c`: taps first, the kettle for what they lack.
///
/// Source: the heat balance of water of one heat capacity.
///
/// ```
/// use hold_steady_core::bath::{Taps, split};
/// let taps = Taps { hot_c: 50.0, cold_c: 10.0, kettle_c: 95.0, kettle_l: 1.7 };
/// let s = split(12.0, 55.0, taps);
/// assert!((s.kettle_l - 12.0 * 5.0 / 45.0).abs() < 1e-9 && (s.c - 55.0).abs() < 1e-9);
/// assert_eq!(split(12.0, 30.0, taps).cold_l, 6.0);
/// assert!(split(12.0, 80.0, taps).c < 60.0); // one kettle is not enough
/// ```
#[must_use]
pub fn split(litres: f64, want_c: f64, taps: Taps) -> Split {
    let share =
        |low: f64, high: f64| if high > low { ((want_c - low) / (high - low)).clamp(0.0, 1.0) } else { 1.0 };
    if want_c <= taps.hot_c {
        let hot_l = litres * share(taps.cold_c, taps.hot_c);
        let cold_l = litres - hot_l;
        return Split {
            hot_l,
            cold_l,
            kettle_l: 0.0,
            c: (hot_l * taps.hot_c + cold_l * taps.cold_c) / litres,
        };
    }
    let kettle_l = (litres * share(taps.hot_c, taps.kettle_c)).min(taps.kettle_l).min(litres);
    let hot_l = litres - kettle_l;
    Split { hot_l, cold_l: 0.0, kettle_l, c: (hot_l * taps.hot_c + kettle_l * taps.kettle_c) / litres }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_full_vessel_is_bailed_out_first_and_comes_to_the_temperature_all_the_same() {
        for (litres, capacity, now, want, add) in
            [(12.0, 12.0, 53.5, 54.5, 95.0), (14.0, 14.5, 60.0, 54.5, 12.0), (12.0, 14.0, 50.0, 57.0, 95.0)]
        {
            let m = mix(litres, capacity, (now, want, add)).expect("the right side");
            let left = litres - m.remove_l;
            assert!(left + m.add_l <= capacity + 1e-9, "{m:?}");
            assert!(((left * now + m.add_l * add) / (left + m.add_l) - want).abs() < 1e-9, "{m:?}");
        }
        assert!(mix(12.0, 12.0, (53.5, 54.5, 95.0)).is_ok_and(|m| m.remove_l > 0.28));
        assert_eq!(mix(12.0, 14.0, (55.0, 55.0, 20.0)), Ok(Mix { add_l: 0.0, remove_l: 0.0 }));
        assert_eq!(mix(12.0, 14.0, (57.0, 55.0, 60.0)), Err(MixError::WrongSide("colder")));
    }
}
