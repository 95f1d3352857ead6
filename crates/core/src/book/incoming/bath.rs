//! Baths of a file, and what they were read with.

use jiff::Timestamp;

use super::super::{BathRecord, CookRecord, InstrumentRecord, Subject};
use super::{BEFORE, check_celsius, named, not_to_come};
use crate::Unfit;
use crate::bath::{self, Check, Thermometer, WaterEvent};
use crate::limits::{BATH_C, LONGEST_NAME, MOST_CHECKS, MOST_EVENTS};
use crate::units::shortened;

/// From when on something may have happened in a bath that stands by itself.
pub(super) fn earliest(bath: &BathRecord) -> Timestamp {
    bath.began_at.checked_sub(BEFORE).unwrap_or(bath.began_at)
}

/// Whether a bath that stands by itself can be taken; whether the pieces its probes are in are there is seen later.
pub(super) fn check_listed(bath: &BathRecord, now: Timestamp) -> Result<(), Unfit> {
    not_to_come("it was filled", bath.began_at, now)?;
    check_bath(bath, None, earliest(bath), now)
}

/// Whether a bath can be taken: of a cook, or by itself.
pub(super) fn check_bath(
    bath: &BathRecord,
    cook: Option<&CookRecord>,
    from: Timestamp,
    now: Timestamp,
) -> Result<(), Unfit> {
    if !named(&bath.name, LONGEST_NAME) {
        return Err(format!("its name must have 1 to {LONGEST_NAME} characters").into());
    }
    if bath.settings.is_empty() && bath.vessel.is_none() {
        return Err("it was never set".into());
    }
    if let Some(kept) = &bath.vessel {
        kept.vessel.check().map_err(|e| format!("its vessel: {e}"))?;
    }
    // One that a vessel is named of may have run for days before this cook.
    let earliest = match &bath.vessel {
        Some(_) => from.min(earliest(bath)),
        None => from,
    };
    check_water(&bath.water, earliest, now)?;
    for s in &bath.settings {
        if !(BATH_C.0..=BATH_C.1).contains(&s.celsius.value()) || !named(&s.by.name, LONGEST_NAME) {
            return Err(format!(
                "set to {} °C by “{}”, which cannot be",
                s.celsius.value(),
                shortened(&s.by.name)
            )
            .into());
        }
        not_to_come("it was set", s.at, now)?;
        if s.at < earliest {
            return Err("it was set more than a day before the cook was begun".into());
        }
    }
    for instrument in &bath.instruments {
        if !named(&instrument.name, LONGEST_NAME)
            || instrument.piece.zip(cook).is_some_and(|(p, cook)| !cook.has(Subject::Piece(p)))
        {
            return Err(format!(
                "its instrument {} has no name, or a piece that is not there",
                instrument.id
            )
            .into());
        }
        check_checks(&instrument.checks, now)?;
        for r in &instrument.readings {
            check_celsius(r.celsius)?;
            if !named(&r.quality, LONGEST_NAME) {
                return Err(format!("read as “{}”, which cannot be", shortened(&r.quality)).into());
            }
            not_to_come("it was read", r.at, now)?;
            if r.at < earliest {
                return Err("it was read more than a day before the cook was begun".into());
            }
        }
    }
    Ok(())
}

/// What was done to the water of a bath.
fn check_water(events: &[WaterEvent], earliest: Timestamp, now: Timestamp) -> Result<(), Unfit> {
    // What empties it is written down beyond the most there can be.
    if events.len() > 2 * MOST_EVENTS {
        return Err(format!(
            "{} things done to its water; at most {} are taken",
            events.len(),
            2 * MOST_EVENTS
        )
        .into());
    }
    for e in events {
        e.kind.check()?;
        not_to_come("it was written down", e.recorded_at, now)?;
        if !named(&e.by.name, LONGEST_NAME) {
            return Err(format!("by whom must have 1 to {LONGEST_NAME} characters").into());
        }
        if e.happened_at < earliest || e.recorded_at < earliest {
            return Err("something was done to its water more than a day before the cook was begun".into());
        }
    }
    Ok(())
}

/// Whether what something was read with can be taken: in no piece, and its readings elsewhere.
pub(super) fn check_instrument(i: &InstrumentRecord, now: Timestamp) -> Result<(), Unfit> {
    if !named(&i.name, LONGEST_NAME) || i.piece.is_some() || !i.readings.is_empty() {
        return Err(format!("its instrument {} has no name, a piece, or readings beside it", i.id).into());
    }
    check_checks(&i.checks, now)
}

/// How a thermometer was checked.
fn check_checks(checks: &[Check], now: Timestamp) -> Result<(), Unfit> {
    if checks.len() > MOST_CHECKS {
        return Err(
            format!("{} checks of a thermometer; at most {MOST_CHECKS} are taken", checks.len()).into()
        );
    }
    for c in checks {
        not_to_come("a thermometer was checked", c.at, now)?;
        if !(0.0..=100.0).contains(&c.true_c.value()) || bath::taken(c.read_c, c.true_c).is_err() {
            return Err(
                format!("a check of {} at {} °C cannot be", c.read_c.value(), c.true_c.value()).into()
            );
        }
    }
    Ok(())
}

pub(super) fn check_thermometer(t: &Thermometer, now: Timestamp) -> Result<(), Unfit> {
    if !named(&t.name, LONGEST_NAME) {
        return Err(format!("its name must have 1 to {LONGEST_NAME} characters").into());
    }
    check_checks(&t.checks, now)
}
