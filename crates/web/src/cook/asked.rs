//! What the page asks of the cook, and offers to take back.

use hold_steady_core::bath::Heat;
use hold_steady_core::book::{BathRecord, derived_id};
use hold_steady_core::cook::{Entry, EventKind, Next, Question, Stage};
use hold_steady_core::keep::{Storage, StorageKind};
use hold_steady_core::units::{Minutes, WallClock, capitalised, moved};
use hold_steady_core::words;
use jiff::Timestamp;
use uuid::Uuid;

use super::logged::event_word;
use super::seen::Seen;
use crate::app::near_time;
use crate::bath::Off;
use crate::cook::seen::lies_in;

/// To say that its bath was off.
pub struct OffView {
    /// Since when nobody knows, where nothing is typed.
    pub since: String,
    pub typed: Off,
    /// Why it cannot have been so as it was typed.
    pub problem: Option<String>,
}

impl OffView {
    /// Of what lies in a bath that a heater holds.
    pub(super) fn of(seen: &Seen<'_>, typed: Option<(Off, String)>, zone: &WallClock) -> Option<Self> {
        let (bath, since) = lies_in(seen.record, &seen.stands)?;
        let by_hand = |b: &BathRecord| b.vessel.as_ref().is_some_and(|v| v.vessel.heat != Heat::Heater);
        if seen.record.baths.iter().any(|b| b.id == bath && by_hand(b)) {
            return None;
        }
        let (typed, problem) = typed.map_or_else(Default::default, |(off, problem)| (off, Some(problem)));
        Some(Self { since: near_time(since, seen.now, zone), typed, problem })
    }
}

/// What the second entry of a piece put back is named after.
pub const BACK_IN: &str = "out";

/// So long what was written down can be taken back where it was tapped.
const JUST: Minutes = Minutes::new(2.0);

/// The last thing written down, while it is fresh.
pub struct JustDone {
    pub what: String,
    /// What undoes it, and what stands on that button; nothing where one tap was two entries.
    pub undo: Option<(Uuid, &'static str)>,
    /// Until when it is offered, ms.
    pub until_ms: i64,
}

impl JustDone {
    pub(super) fn of(seen: &Seen<'_>, zone: &WallClock) -> Option<Self> {
        let &Seen { record, ref stands, now, .. } = seen;
        let last = record.events.iter().map(|e| &e.event).max_by_key(|e| e.recorded_at)?;
        let until = moved(last.recorded_at, JUST);
        if now >= until {
            return None;
        }
        let said = |e: &Entry| format!("{} {}", event_word(&e.event.kind), near_time(e.at, now, zone));
        let back_in = matches!(last.kind, EventKind::Floated { .. } | EventKind::Meanwhile { .. })
            && stands
                .undone
                .iter()
                .any(|(undo, e)| e.event.kind == EventKind::Pulled && derived_id(*undo, BACK_IN) == last.id);
        let (what, undo) = match &last.kind {
            _ if back_in => (format!("Back in the bath {}", near_time(last.happened_at, now, zone)), None),
            EventKind::Undone { .. } => {
                let (undo, entry) = stands.undone.iter().find(|(undo, _)| *undo == last.id)?;
                (format!("Undone: {}", said(entry)), Some((*undo, "Put it back")))
            }
            EventKind::Replanned { .. } => {
                let told = words::stands_by(&seen.live, &|t| near_time(t, now, zone));
                (told, Some((last.id, "Undo")))
            }
            _ => {
                let entry = stands.entries.iter().find(|e| e.event.id == last.id)?;
                entry.event.kind.traits().undone.then_some(())?;
                (capitalised(&said(entry)), Some((last.id, "Undo")))
            }
        };
        Some(Self { what, undo, until_ms: until.as_millisecond() })
    }
}

/// What has to be asked: in words, and the answers, each with the fields that send it.
pub struct AskedView {
    pub text: String,
    pub event: Uuid,
    /// What is sent, the exact instant where one is chosen, and what stands on the button.
    pub answers: Vec<(&'static str, String, String)>,
}

impl AskedView {
    pub(super) fn of(question: &Question, now: Timestamp, zone: &WallClock) -> Self {
        // The hour a clock shows twice is told apart by what the zone calls it.
        let exact = |t: Timestamp| {
            let there = t.to_zoned(zone.zone());
            format!("{} ({})", near_time(t, now, zone), there.strftime("%Z"))
        };
        match question {
            Question::Which { event, what, at, or_at } => Self {
                text: words::which_time(what),
                event: *event,
                answers: [at, or_at]
                    .into_iter()
                    .map(|t| ("corrected", t.as_microsecond().to_string(), exact(*t)))
                    .collect(),
            },
            Question::Where(m) => Self {
                text: words::where_meanwhile(
                    Minutes::between(m.from, m.until),
                    &near_time(m.from, now, zone),
                    &near_time(m.until, now, zone),
                ),
                event: m.undo,
                answers: vec![
                    ("was-in", String::new(), "In the bath".into()),
                    ("was-out", String::new(), "Out of it".into()),
                ],
            },
        }
    }
}

/// Where something is kept, and where else it can be.
pub struct KeepView {
    pub is_in: Option<String>,
    /// For the form: its word, what it is called, whether it is there.
    pub places: Vec<(String, String, bool)>,
}

impl KeepView {
    pub(super) fn of(seen: &Seen<'_>, storages: &[Storage], zone: &WallClock) -> Option<Self> {
        let stands = &seen.stands;
        let kept = matches!(seen.live.next, Next::KeepCold { .. } | Next::KeepFrozen { .. });
        if stands.stage() != Stage::Chilled || !kept {
            return None;
        }
        let now = stands.kept();
        let at = now.and_then(|(_, k)| k.storage.as_ref()).map(|s| s.id);
        let frozen = now.is_some_and(|(_, k)| k.frozen);
        let named = storages.iter().map(|s| (s.id.to_string(), s.name.clone(), at == Some(s.id)));
        let unnamed = [StorageKind::Refrigerator, StorageKind::Freezer].map(|kind| {
            let here = at.is_none() && now.is_some() && frozen == (kind == StorageKind::Freezer);
            (kind.id().to_owned(), format!("a {}", words::storage_kind(kind)), here)
        });
        Some(Self {
            is_in: now.map(|(since, kept)| {
                format!("{} since {}.", capitalised(&words::kept_in(kept)), near_time(since, seen.now, zone))
            }),
            places: named.chain(unnamed).collect(),
        })
    }
}
