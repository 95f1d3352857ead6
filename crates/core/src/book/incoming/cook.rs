//! Cooks of a file: each in itself, and beside those that were taken before it.

use std::collections::BTreeSet;

use jiff::Timestamp;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use super::super::{BathRecord, CookRecord, Subject};
use super::bath::check_bath;
use super::plan::check_plan;
use super::{BEFORE, Known, named, not_to_come};
use crate::Unfit;
use crate::cook::{CookState, EventKind};
use crate::limits::{
    LONGEST_LETTER, LONGEST_NAME, LONGEST_TITLE, MOST_BATHS, MOST_EVENTS, MOST_PLANS, MOST_SETTINGS_AN_EVENT,
};

/// What a cook that can be taken takes along.
pub(super) struct Found {
    /// Identifiers that are nobody else's.
    pub(super) ids: BTreeSet<Uuid>,
    /// The sum of each of its baths.
    pub(super) sums: Vec<[u8; 32]>,
}

/// Whether a cook can be taken beside what was taken so far.
pub(super) fn check(cook: &CookRecord, now: Timestamp, known: &Known) -> Result<Found, Unfit> {
    // Only of a cook that is taken are the identifiers taken.
    let mut own = BTreeSet::new();
    let mut once = |id: Uuid, what: &str| -> Result<(), Unfit> {
        if !known.ids.contains(&id) && own.insert(id) {
            Ok(())
        } else {
            Err(format!("{what} {id} is there twice").into())
        }
    };
    let most = |what: &str, most: usize, got: usize| -> Result<(), Unfit> {
        if got > most { Err(format!("{got} {what}; at most {most} are taken").into()) } else { Ok(()) }
    };
    once(cook.id, "cook")?;
    if !named(&cook.title, LONGEST_TITLE) {
        return Err(format!("its title must have 1 to {LONGEST_TITLE} characters, on one line").into());
    }
    not_to_come("it was begun", cook.created_at, now)?;
    // What ends a cook and what the program itself notes is written down beyond the most there can be.
    most("events", 2 * MOST_EVENTS, cook.counted_events())?;
    most("events with every setting of the clock", MOST_SETTINGS_AN_EVENT * MOST_EVENTS, cook.events.len())?;
    most("baths", MOST_BATHS, cook.baths.len())?;
    let there = |bath: Uuid| cook.has(Subject::Bath(bath)) || known.listed.contains_key(&bath);
    once(cook.piece.id, "piece")?;
    most("plans of a piece", MOST_PLANS, cook.piece.plans.len())?;
    if cook.piece.plans.is_empty() {
        return Err(format!("piece {} has no plan", cook.piece.id).into());
    }
    for plan in &cook.piece.plans {
        once(plan.id, "plan")?;
        check_plan(plan, now).map_err(|e| format!("plan {}: {e}", plan.id))?;
    }
    once(cook.bag.id, "bag")?;
    check_bag(cook, &there)?;
    let earliest = cook.created_at.checked_sub(BEFORE).unwrap_or(cook.created_at);
    for e in &cook.events {
        once(e.event.id, "event")?;
    }
    check_events(cook, earliest, now, &there)?;
    let mut sums = Vec::with_capacity(cook.baths.len());
    for bath in &cook.baths {
        let sum = sum(bath);
        match known.of_cooks.get(&bath.id) {
            None => {
                once(bath.id, "bath")?;
                check_bath(bath, Some(cook), earliest, now).map_err(|e| format!("bath {}: {e}", bath.id))?;
            }
            Some(other) if *other == sum => {}
            Some(_) => return Err(format!("bath {}: another cook says otherwise of it", bath.id).into()),
        }
        sums.push(sum);
    }
    Ok(Found { ids: own, sums })
}

fn check_bag(cook: &CookRecord, there: &dyn Fn(Uuid) -> bool) -> Result<(), Unfit> {
    let bag = &cook.bag;
    if !bag.letter.is_empty() && !named(&bag.letter, LONGEST_LETTER) {
        return Err(
            format!("the letter of bag {} must have at most {LONGEST_LETTER} characters", bag.id).into()
        );
    }
    if !there(bag.bath) {
        return Err(format!("bag {} names a bath that is not there", bag.id).into());
    }
    Ok(())
}

/// Whether what is said to have happened in a cook can have.
fn check_events(
    cook: &CookRecord,
    earliest: Timestamp,
    now: Timestamp,
    there: &dyn Fn(Uuid) -> bool,
) -> Result<(), Unfit> {
    for e in &cook.events {
        let of = |why: Unfit| Unfit::from(format!("event {}: {why}", e.event.id));
        let subject = match e.subject {
            Subject::Bath(bath) => there(bath),
            other => cook.has(other),
        };
        if !subject {
            return Err(of(format!("it names a {} that is not there", e.subject.kind()).into()));
        }
        not_to_come("it was written down", e.event.recorded_at, now).map_err(of)?;
        if e.event.happened_at < earliest || e.event.recorded_at < earliest {
            return Err(of(format!(
                "it lies more than a day before the cook was begun ({})",
                cook.created_at
            )
            .into()));
        }
        if !named(&e.event.by.name, LONGEST_NAME) {
            return Err(of(format!("by whom must have 1 to {LONGEST_NAME} characters").into()));
        }
    }
    CookState::fold(cook.events.iter().map(|e| &e.event))
        .map_err(|(i, refusal)| format!("event {}: {refusal}", cook.events[i].event.id))?;
    cook.check_plans().map_err(|(id, refusal)| format!("event {id}: {refusal}"))?;
    for event in &cook.events {
        if let EventKind::Moved { bath } = event.event.kind
            && !there(bath)
        {
            return Err(format!("event {}: moved into a bath that is not there", event.event.id).into());
        }
    }
    Ok(())
}

/// The sum of what is said of a bath.
fn sum(bath: &BathRecord) -> [u8; 32] {
    struct Sum(Sha256);
    impl std::io::Write for Sum {
        fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
            self.0.update(bytes);
            Ok(bytes.len())
        }

        fn flush(&mut self) -> std::io::Result<()> {
            Ok(())
        }
    }
    let mut sum = Sum(Sha256::new());
    // It came as JSON: it can be written as JSON.
    drop(serde_json::to_writer(&mut sum, bath));
    sum.0.finalize().into()
}
