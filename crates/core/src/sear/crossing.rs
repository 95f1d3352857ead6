//! Where, in whole steps, something begins to be enough.

/// The last step that is not enough, and the first that is: one after the other, or only one of them where it is enough (or
/// not) all over the range. `by` says how far over what is enough a step is, and grows with the steps; `rise` is how much a
/// step is thought to change it. Each step is a simulation, so as few as will do are tried: first a guess, then where a
/// straight line through what is known says.
pub(super) fn crossing<E>(
    (least, most): (i64, i64),
    guess: i64,
    mut rise: Option<f64>,
    by: &mut dyn FnMut(i64) -> Result<f64, E>,
) -> Result<(Option<i64>, Option<i64>), E> {
    /// Of a rise nobody knows, so far from the guess.
    const BLINDLY: f64 = 2.0;
    /// After so many every other try halves what is left: a curve that bends is not followed for ever.
    const PATIENT: usize = 4;
    let (mut not, mut yes) = (None::<(i64, f64)>, None::<(i64, f64)>);
    let mut at = guess.clamp(least, most);
    for round in 0.. {
        let over = by(at)?;
        let side = if over >= 0.0 { &mut yes } else { &mut not };
        if let Some((step, was)) = *side {
            rise = Some((over - was) / (at - step) as f64).filter(|rise| *rise > 0.0).or(rise);
        }
        *side = Some((at, over));
        // As far as the rise says it is, at least one step, and no farther than what is known lets one trust it.
        let far = |over: f64, trust: i64| {
            let far = rise.map_or(BLINDLY, |rise| over.abs() / rise).ceil();
            (far.min(trust.max(8) as f64) as i64).max(1)
        };
        at = match (not, yes) {
            (Some((low, _)), Some((high, _))) if high - low <= 1 => break,
            (None, Some((high, _))) if high <= least => break,
            (Some((low, _)), None) if low >= most => break,
            (Some((low, under)), Some((high, over))) => {
                let along = if round > PATIENT && round % 2 == 1 { 0.5 } else { -under / (over - under) };
                low + (((high - low) as f64 * along).ceil() as i64).clamp(1, high - low - 1)
            }
            (None, Some((high, over))) => (high - far(over, (high - least) / 2)).max(least),
            (Some((low, under)), None) => (low + far(under, low)).min(most),
            (None, None) => break,
        };
    }
    Ok((not.map(|n| n.0), yes.map(|y| y.0)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn found(range: (i64, i64), guess: i64, by: impl Fn(i64) -> f64) -> ((Option<i64>, Option<i64>), usize) {
        let mut tried = 0;
        let mut count = |step| {
            tried += 1;
            Ok::<_, std::convert::Infallible>(by(step))
        };
        let Ok(found) = crossing(range, guess, Some(1.0), &mut count);
        (found, tried)
    }

    #[test]
    fn a_guess_that_is_right_takes_two() {
        assert_eq!(found((0, 400), 57, |s| s as f64 - 56.5), ((Some(56), Some(57)), 2));
        assert_eq!(found((0, 400), 56, |s| s as f64 - 56.5).0, (Some(56), Some(57)));
    }

    #[test]
    fn what_is_enough_or_not_all_over_has_one_end() {
        assert_eq!(found((10, 90), 40, |_| 1.0).0, (None, Some(10)));
        assert_eq!(found((10, 90), 40, |_| -1.0).0, (Some(90), None));
    }

    proptest! {
        #[test]
        fn the_two_steps_stand_beside_each_other(at in 0_i64..420, guess in 0_i64..420, power in 0.3_f64..5.0) {
            let bent = |s: i64| ((s as f64 + 1.0) / (at as f64 + 0.5)).powf(power) - 1.0;
            let ((not, yes), tried) = found((0, 420), guess, bent);
            prop_assert_eq!(yes, Some(at));
            prop_assert_eq!(not, (at > 0).then_some(at - 1));
            prop_assert!(tried <= 30, "{} tries", tried);
        }
    }
}
