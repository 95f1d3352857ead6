//! A cook under way: an append-only list of events, and the state that follows from it.
//!
//! Nothing is ever changed or taken out. A wrong tap is undone, and a wrong time corrected, by
//! further events; [`CookState::of`] reads them all and says where the cook stands. Corrections and
//! undos name the event they mean.

mod live;

pub use live::{Live, live, trace_from_drop};

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::units::minutes_between;

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum EventKind {
    /// The plan was taken up.
    Started,
    /// Salted, per cent of its weight.
    Salted {
        /// Per cent.
        percent: f64,
    },
    /// Bagged, or filled into its jar.
    Bagged,
    /// Into the bath.
    Dropped,
    /// Found afloat, and sunk again.
    Floated {
        /// For how long at most, minutes.
        afloat_min: f64,
    },
    /// Its bag leaked.
    Leaked,
    /// Out of the bath.
    Pulled,
    /// Patted dry.
    Dried,
    /// Seared, seconds on each face in turn.
    Seared {
        /// Seconds, one for each turn.
        faces_s: Vec<f64>,
    },
    /// On the plate.
    Eaten,
    /// How it came out. The last one stands.
    Rated(Rating),
    /// An earlier event happened at another time.
    Corrected {
        /// Which.
        event: Uuid,
    },
    /// An earlier event never happened (or an earlier undoing is undone).
    Undone {
        /// Which.
        event: Uuid,
    },
    /// The cook was taken off the lists.
    Deleted,
    /// And put back.
    Restored,
}

impl EventKind {
    /// The word in records.
    #[must_use]
    pub const fn id(&self) -> &'static str {
        match self {
            Self::Started => "started",
            Self::Salted { .. } => "salted",
            Self::Bagged => "bagged",
            Self::Dropped => "dropped",
            Self::Floated { .. } => "floated",
            Self::Leaked => "leaked",
            Self::Pulled => "pulled",
            Self::Dried => "dried",
            Self::Seared { .. } => "seared",
            Self::Eaten => "eaten",
            Self::Rated(_) => "rated",
            Self::Corrected { .. } => "corrected",
            Self::Undone { .. } => "undone",
            Self::Deleted => "deleted",
            Self::Restored => "restored",
        }
    }
}

/// How a piece came out, in the cook's judgement.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Rating {
    /// Centre against what was wanted: −2 much less done, 0 as wanted, 2 much more done.
    pub centre: Option<i8>,
    /// Band under the crust: 1 none, 5 thick.
    pub band: Option<u8>,
    /// Tenderness: 1 tough, 5 tender.
    pub tenderness: Option<u8>,
    /// Crust: 1 none, 5 dark and crisp.
    pub crust: Option<u8>,
    /// A note.
    #[serde(default)]
    pub note: String,
    /// What to do differently next time.
    #[serde(default)]
    pub next_time: String,
}

impl Rating {
    /// Whether every mark is on its scale and the texts are of bearable length.
    #[must_use]
    pub fn is_sound(&self) -> bool {
        let on_five = |m: Option<u8>| m.is_none_or(|m| (1..=5).contains(&m));
        self.centre.is_none_or(|c| (-2..=2).contains(&c))
            && [self.band, self.tenderness, self.crust].into_iter().all(on_five)
            && self.note.len() <= LONGEST_TEXT
            && self.next_time.len() <= LONGEST_TEXT
    }
}

/// Longest note, bytes.
pub const LONGEST_TEXT: usize = 4000;

/// One event of a cook.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Event {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it happened, by the cook's word.
    pub happened_at: Timestamp,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// By whom, as far as is known.
    pub by: String,
    /// What.
    #[serde(flatten)]
    pub kind: EventKind,
}

/// How far a cook has come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Stage {
    /// Planned, not yet in the bath.
    Waiting,
    /// In the bath.
    InBath,
    /// Out of the bath, wet.
    Pulled,
    /// Dry.
    Dried,
    /// Seared.
    Seared,
    /// Eaten; may be rated.
    Eaten,
}

/// An event that stands, with its time as corrected.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing {
    /// The event.
    pub event: Event,
    /// When it happened, after corrections.
    pub at: Timestamp,
    /// Whether the time was corrected.
    pub corrected: bool,
}

/// Where a cook stands, after its events.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct CookState {
    /// What happened and was not undone, by time of happening.
    pub standing: Vec<Standing>,
    /// Events undone, which may be put back: the undoing event and what it undid.
    pub undone: Vec<(Uuid, Event)>,
    /// Taken off the lists.
    pub deleted: bool,
}

/// Why an event cannot be added.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum EventError {
    /// It lies in the future.
    #[error("{0} has not happened yet: the time given is still to come. Give a time up to now.")]
    Future(&'static str),
    /// It would come before what it follows.
    #[error("{what} cannot come before {before}. Correct that time first, or give a later one.")]
    TooEarly {
        /// What was to be added.
        what: &'static str,
        /// What it follows.
        before: &'static str,
        /// And when that was.
        at: Timestamp,
    },
    /// It would come after something that follows it.
    #[error("{what} cannot come after {after}. Give an earlier time.")]
    TooLate {
        /// What was to be added.
        what: &'static str,
        /// What follows it.
        after: &'static str,
        /// And when that was.
        at: Timestamp,
    },
    /// It has already happened.
    #[error("{0} is already written down. Correct its time instead, or undo it.")]
    Already(&'static str),
    /// Something has to happen first.
    #[error("{what} needs {needs} first.")]
    Needs {
        /// What was to be added.
        what: &'static str,
        /// What is missing.
        needs: &'static str,
    },
    /// The event named is not one of this cook's that stands.
    #[error("That entry is not there any more. Reload the page.")]
    NoSuchEvent,
    /// A value is off its scale.
    #[error("{0}")]
    Value(&'static str),
}

impl EventError {
    /// The instant of the event it clashes with: shown in the reader's zone.
    #[must_use]
    pub const fn clashes_with(&self) -> Option<Timestamp> {
        match self {
            Self::TooEarly { at, .. } | Self::TooLate { at, .. } => Some(*at),
            _ => None,
        }
    }
}

/// How far a clock may run ahead of ours before a time counts as future.
const CLOCK_SKEW: SignedDuration = SignedDuration::from_secs(120);

/// Longest sear turn that is taken, seconds, and the most turns.
const LONGEST_TURN_S: f64 = 1800.0;
const MOST_TURNS: usize = 60;

/// Most salt that is taken down, per cent.
const MOST_SALT_PERCENT: f64 = 10.0;

/// The events that move a cook along, in order: what it is called, and its stage.
const STEPS: [(&str, &str, Stage); 5] = [
    ("dropped", "the drop", Stage::InBath),
    ("pulled", "the pull", Stage::Pulled),
    ("dried", "drying", Stage::Dried),
    ("seared", "the sear", Stage::Seared),
    ("eaten", "eating", Stage::Eaten),
];

fn step(kind: &EventKind) -> Option<usize> {
    STEPS.iter().position(|s| s.0 == kind.id())
}

impl CookState {
    /// Reads a cook's events, in the order they were recorded.
    #[must_use]
    pub fn of(events: &[Event]) -> Self {
        // An undo may itself be undone, so the list is settled from its end: a later undo decides
        // about an earlier one.
        let mut void = vec![false; events.len()];
        for i in (0..events.len()).rev() {
            if void[i] {
                continue;
            }
            if let EventKind::Undone { event } = &events[i].kind
                && let Some(k) = events[..i].iter().position(|e| e.id == *event)
            {
                void[k] = true;
            }
        }
        let mut state = Self::default();
        for (i, event) in events.iter().enumerate() {
            match &event.kind {
                EventKind::Undone { event: target } => {
                    if !void[i]
                        && let Some(e) = events[..i].iter().find(|e| e.id == *target)
                        && !matches!(e.kind, EventKind::Undone { .. })
                    {
                        state.undone.push((event.id, e.clone()));
                    }
                }
                EventKind::Corrected { .. } => {}
                _ if void[i] => {}
                EventKind::Deleted => state.deleted = true,
                EventKind::Restored => state.deleted = false,
                _ => {
                    let correction = events[i + 1..].iter().enumerate().rev().find(|(k, e)| {
                        matches!(&e.kind, EventKind::Corrected { event: target } if *target == event.id)
                            && !void[i + 1 + k]
                    });
                    state.standing.push(Standing {
                        event: event.clone(),
                        at: correction.map_or(event.happened_at, |(_, c)| c.happened_at),
                        corrected: correction.is_some(),
                    });
                }
            }
        }
        state.standing.sort_by_key(|s| (s.at, s.event.id));
        state
    }

    /// When the step with this word happened, if it did.
    #[must_use]
    pub fn when(&self, id: &str) -> Option<Timestamp> {
        self.find(id).map(|s| s.at)
    }

    fn find(&self, id: &str) -> Option<&Standing> {
        self.standing.iter().find(|s| s.event.kind.id() == id)
    }

    /// How far it has come.
    #[must_use]
    pub fn stage(&self) -> Stage {
        STEPS.iter().rev().find(|(id, _, _)| self.find(id).is_some()).map_or(Stage::Waiting, |s| s.2)
    }

    /// The rating that stands.
    #[must_use]
    pub fn rating(&self) -> Option<&Rating> {
        self.standing
            .iter()
            .filter_map(|s| match &s.event.kind {
                EventKind::Rated(r) => Some((s.event.id, r)),
                _ => None,
            })
            .max_by_key(|(id, _)| *id)
            .map(|(_, r)| r)
    }

    /// Seconds a face, if it was seared.
    #[must_use]
    pub fn sear_s(&self) -> Option<&[f64]> {
        self.standing.iter().find_map(|s| match &s.event.kind {
            EventKind::Seared { faces_s } => Some(faces_s.as_slice()),
            _ => None,
        })
    }

    /// Minutes it was afloat, all told: they count as if it had not been in the bath.
    #[must_use]
    pub fn afloat_min(&self) -> f64 {
        self.standing
            .iter()
            .map(|s| match s.event.kind {
                EventKind::Floated { afloat_min } => afloat_min,
                _ => 0.0,
            })
            .sum()
    }

    /// What goes wrong in the bath: after the drop, before the pull.
    fn check_in_bath(&self, what: &'static str, at: Timestamp) -> Result<(), EventError> {
        let dropped = self.when("dropped").ok_or(EventError::Needs { what, needs: "the drop" })?;
        if at < dropped {
            return Err(EventError::TooEarly { what, before: "the drop", at: dropped });
        }
        match self.when("pulled") {
            Some(pulled) if at > pulled => Err(EventError::TooLate { what, after: "the pull", at: pulled }),
            _ => Ok(()),
        }
    }

    /// Whether an event may be added, seen from `now`.
    ///
    /// # Errors
    /// When it lies in the future, out of order, has happened already, or names no standing event.
    pub fn check(&self, kind: &EventKind, at: Timestamp, now: Timestamp) -> Result<(), EventError> {
        let name = |k: &EventKind| step(k).map_or("That", |i| STEPS[i].1);
        if at.duration_since(now) > CLOCK_SKEW {
            return Err(EventError::Future(match kind {
                EventKind::Corrected { event } => self.by_id(*event).map_or("That", |s| name(&s.event.kind)),
                other => name(other),
            }));
        }
        match kind {
            EventKind::Undone { event } => {
                let known = self.by_id(*event).is_some_and(|s| s.event.kind != EventKind::Started)
                    || self.undone.iter().any(|(u, _)| u == event);
                if known { Ok(()) } else { Err(EventError::NoSuchEvent) }
            }
            EventKind::Corrected { event } => {
                let target = self.by_id(*event).ok_or(EventError::NoSuchEvent)?;
                match step(&target.event.kind) {
                    Some(i) => self.check_order(i, at),
                    None => Err(EventError::NoSuchEvent),
                }
            }
            EventKind::Rated(rating) => {
                if !rating.is_sound() {
                    Err(EventError::Value(
                        "Each mark is from 1 to 5 (the centre from −2 to 2), and a text has at most 4000 bytes.",
                    ))
                } else if self.find("dropped").is_none() {
                    Err(EventError::Needs { what: "A rating", needs: "the drop" })
                } else {
                    Ok(())
                }
            }
            EventKind::Seared { faces_s }
                if faces_s.is_empty()
                    || faces_s.len() > MOST_TURNS
                    || !faces_s.iter().all(|s| (1.0..=LONGEST_TURN_S).contains(s)) =>
            {
                Err(EventError::Value(
                    "Each turn of the sear takes from 1 to 1800 seconds, and there are 1 to 60 turns.",
                ))
            }
            EventKind::Salted { percent } if !(0.0..=MOST_SALT_PERCENT).contains(percent) => {
                Err(EventError::Value("Salt is from 0 to 10 per cent of the weight."))
            }
            EventKind::Salted { .. } if self.find("salted").is_some() => Err(EventError::Already("salting")),
            EventKind::Bagged if self.find("bagged").is_some() => Err(EventError::Already("bagging")),
            EventKind::Leaked if self.find("leaked").is_some() => Err(EventError::Already("the leak")),
            EventKind::Leaked => self.check_in_bath("The leak", at),
            EventKind::Floated { afloat_min } => {
                self.check_in_bath("Floating", at)?;
                let most = self.when("dropped").map_or(0.0, |d| minutes_between(d, at));
                if *afloat_min >= 0.0 && afloat_min + self.afloat_min() <= most + 1.0 {
                    Ok(())
                } else {
                    Err(EventError::Value("It cannot have been afloat for longer than it was in the bath."))
                }
            }
            other => match step(other) {
                None => Ok(()),
                Some(i) if self.find(STEPS[i].0).is_some() => Err(EventError::Already(STEPS[i].1)),
                Some(i) => {
                    // Drying and searing may be left out; the bath may not.
                    let needs = if i == 0 { None } else { Some(if i == 1 { 0 } else { 1 }) };
                    if let Some(k) = needs.filter(|k| self.find(STEPS[*k].0).is_none()) {
                        return Err(EventError::Needs { what: STEPS[i].1, needs: STEPS[k].1 });
                    }
                    self.check_order(i, at)
                }
            },
        }
    }

    fn by_id(&self, id: Uuid) -> Option<&Standing> {
        self.standing.iter().find(|s| s.event.id == id)
    }

    fn check_order(&self, i: usize, at: Timestamp) -> Result<(), EventError> {
        for (k, (id, name, _)) in STEPS.iter().enumerate() {
            let Some(other) = self.when(id) else { continue };
            if k < i && at < other {
                return Err(EventError::TooEarly { what: STEPS[i].1, before: name, at: other });
            }
            if k > i && at > other {
                return Err(EventError::TooLate { what: STEPS[i].1, after: name, at: other });
            }
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    fn event(n: u128, min: i64, kind: EventKind) -> Event {
        Event { id: Uuid::from_u128(n), happened_at: t(min), recorded_at: t(min), by: "cook".into(), kind }
    }

    fn dropped_and_pulled() -> Vec<Event> {
        vec![
            event(1, 0, EventKind::Started),
            event(2, 5, EventKind::Dropped),
            event(3, 125, EventKind::Pulled),
        ]
    }

    #[test]
    fn state_follows_from_the_events() {
        let mut events = dropped_and_pulled();
        let s = CookState::of(&events);
        assert_eq!((s.stage(), s.when("dropped")), (Stage::Pulled, Some(t(5))));
        events.push(event(4, 0, EventKind::Undone { event: Uuid::from_u128(3) }));
        let s = CookState::of(&events);
        assert_eq!(s.stage(), Stage::InBath);
        assert_eq!(s.undone.len(), 1);
        // Undoing the undoing puts it back.
        events.push(event(5, 0, EventKind::Undone { event: Uuid::from_u128(4) }));
        let s = CookState::of(&events);
        assert_eq!((s.stage(), s.undone.len()), (Stage::Pulled, 0));
    }

    #[test]
    fn the_last_correction_that_stands_counts() {
        let mut events = dropped_and_pulled();
        events.push(event(4, 10, EventKind::Corrected { event: Uuid::from_u128(2) }));
        events.push(event(5, 12, EventKind::Corrected { event: Uuid::from_u128(2) }));
        let s = CookState::of(&events);
        assert_eq!(s.when("dropped"), Some(t(12)));
        assert!(s.standing.iter().any(|s| s.corrected));
        assert_eq!(s.stage(), Stage::Pulled);
    }

    #[test]
    fn order_and_future_are_kept() {
        let s = CookState::of(&dropped_and_pulled());
        let now = t(200);
        assert_eq!(s.check(&EventKind::Dried, t(130), now), Ok(()));
        assert!(matches!(s.check(&EventKind::Dried, t(100), now), Err(EventError::TooEarly { .. })));
        assert!(matches!(s.check(&EventKind::Dried, t(210), now), Err(EventError::Future(_))));
        assert!(matches!(s.check(&EventKind::Pulled, t(130), now), Err(EventError::Already(_))));
        let later = EventKind::Corrected { event: Uuid::from_u128(2) };
        assert!(matches!(s.check(&later, t(126), now), Err(EventError::TooLate { .. })));
        assert_eq!(s.check(&later, t(20), now), Ok(()));
        let fresh = CookState::of(&[event(1, 0, EventKind::Started)]);
        assert!(matches!(fresh.check(&EventKind::Pulled, t(1), now), Err(EventError::Needs { .. })));
        assert!(matches!(
            fresh.check(&EventKind::Undone { event: Uuid::from_u128(1) }, t(1), now),
            Err(EventError::NoSuchEvent)
        ));
        let bad = EventKind::Seared { faces_s: vec![45.0, f64::NAN] };
        assert!(matches!(s.check(&bad, t(140), now), Err(EventError::Value(_))));
    }

    #[test]
    fn the_last_rating_stands_and_a_deleted_cook_comes_back() {
        let mut events = dropped_and_pulled();
        for (n, crust) in [(4, 2), (5, 4)] {
            let rating = Rating { crust: Some(crust), ..Rating::default() };
            events.push(event(n, 150, EventKind::Rated(rating)));
        }
        assert_eq!(CookState::of(&events).rating().and_then(|r| r.crust), Some(4));
        events.push(event(6, 160, EventKind::Deleted));
        assert!(CookState::of(&events).deleted);
        events.push(event(7, 161, EventKind::Restored));
        assert!(!CookState::of(&events).deleted);
    }

    #[test]
    fn events_read_back_from_json_as_they_were() {
        let rating = Rating { centre: Some(-1), note: "a “good” one".into(), ..Rating::default() };
        for kind in [
            EventKind::Dropped,
            EventKind::Seared { faces_s: vec![45.0, 50.5] },
            EventKind::Rated(rating),
            EventKind::Corrected { event: Uuid::from_u128(9) },
        ] {
            let e = event(8, 3, kind);
            let json = serde_json::to_string(&e).expect("plain data");
            assert_eq!(serde_json::from_str::<Event>(&json).expect("its own output"), e);
        }
    }
}
