//! What happened, line by line, and the work as a list.

use std::collections::HashMap;

use actix_web::HttpRequest;
use actix_web::cookie::{Cookie, SameSite, time::Duration as CookieTime};
use hold_steady_core::book::CookRecord;
use hold_steady_core::cook::{Entry, EventKind, Kept, Purpose};
use hold_steady_core::units::{Units, WallClock, trimmed};
use hold_steady_core::words;
use hold_steady_store::Origin;
use jiff::Timestamp;
use uuid::Uuid;

use super::seen::Seen;
use crate::app::{day_and_time, duration, near_time};
use crate::cook::view::degrees;

/// A line of what happened.
pub struct LogLine {
    pub id: Uuid,
    pub what: String,
    pub at: String,
    pub note: String,
    pub may_correct: bool,
    pub may_undo: bool,
    /// The time typed for a correction that could not be taken.
    pub typed: String,
}

impl LogLine {
    /// An entry, with where it came from if it was not written down here.
    pub fn of(
        (record, entry): (&CookRecord, &Entry),
        origin: Option<&Origin>,
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Self {
        let kind = &entry.event.kind;
        Self {
            id: entry.event.id,
            what: event_word(kind).into(),
            at: near_time(entry.at, now, zone),
            note: notes((record, entry), origin, now, zone, units).join("; "),
            may_correct: kind.may_be_corrected(),
            may_undo: kind.traits().undone,
            typed: String::new(),
        }
    }
}

/// What an entry of its kind says besides.
fn kind_notes(
    (record, entry): (&CookRecord, &Entry),
    now: Timestamp,
    zone: &WallClock,
    units: Units,
) -> Vec<String> {
    let event = &entry.event;
    let one = |text: String| vec![text];
    match &event.kind {
        EventKind::Seared { faces_s, covered } => {
            let turns: Vec<String> = faces_s.iter().map(|f| format!("{f:.0}")).collect();
            let turns = format!("{} s", turns.join(" + "));
            std::iter::once(turns).chain(covered.map(|c| c.words().to_owned())).collect()
        }
        EventKind::Salted { percent } => one(format!("{} %", trimmed(*percent, 2))),
        EventKind::Floated { afloat_min } => {
            one(format!("up to {} not counted as cooking", duration(*afloat_min)))
        }
        EventKind::CoreRead { celsius, .. } => one(degrees(*celsius, units)),
        EventKind::FinishChosen(chosen) => one(words::chosen_finish(chosen, units)),
        EventKind::ClockSet { by_s } => one(words::set_by(*by_s)),
        EventKind::Replanned { .. } | EventKind::PieceCorrected { .. } => {
            let plans = record.replanned_by(event.id).into_iter();
            let clock = |t| near_time(t, now, zone);
            plans
                .flat_map(|(before, after)| {
                    words::planned_anew(&before.request, &after.request, units, &clock)
                })
                .collect()
        }
        EventKind::Kept(kept) => one(words::kept_in(kept)),
        EventKind::Started
        | EventKind::Bagged
        | EventKind::Dropped
        | EventKind::Moved { .. }
        | EventKind::Leaked
        | EventKind::Pulled
        | EventKind::Dried
        | EventKind::Eaten
        | EventKind::Chilled
        | EventKind::Discarded
        | EventKind::Rated(_)
        | EventKind::Corrected { .. }
        | EventKind::Undone { .. }
        | EventKind::Doubted { .. }
        | EventKind::Meanwhile { .. }
        | EventKind::Deleted
        | EventKind::Restored => Vec::new(),
    }
}

/// What is to be said of an entry besides what and when.
fn notes(
    (record, entry): (&CookRecord, &Entry),
    origin: Option<&Origin>,
    now: Timestamp,
    zone: &WallClock,
    units: Units,
) -> Vec<String> {
    let (event, written) = (&entry.event, entry.event.recorded_at);
    let mut notes = Vec::new();
    if entry.corrected {
        notes.push(format!("corrected from {}", near_time(event.happened_at, now, zone)));
    } else if written.duration_since(event.happened_at).as_secs() > 90 {
        notes.push(format!("written down at {}", near_time(written, now, zone)));
    }
    notes.extend(kind_notes((record, entry), now, zone, units));
    // Who it was, where a device says so.
    if event.by.is_somebody() {
        notes.push(format!("by {}", event.by.told()));
    }
    if let Some(origin) = origin {
        notes.push(format!(
            "not written down here: imported {} by {} from the file {}…",
            day_and_time(origin.at, zone),
            origin.by,
            &origin.sha256[..12.min(origin.sha256.len())]
        ));
    }
    notes
}

/// A line of the checklist.
pub struct CheckLine {
    pub id: String,
    pub at: String,
    pub what: String,
    pub why: String,
    pub expect: Option<&'static str>,
    /// The event that can be tapped here.
    pub tap: Option<&'static str>,
    pub done: Option<String>,
    /// Something after it is done.
    pub passed: bool,
}

/// The checklist of a cook, in the kitchen's time.
pub fn checklist(steps: &[words::ToldStep], now: Timestamp, zone: &WallClock) -> Vec<CheckLine> {
    steps
        .iter()
        .map(|s| CheckLine {
            id: s.id.clone(),
            at: near_time(s.at, now, zone),
            what: s.what.clone(),
            why: s.why.clone(),
            expect: s.expect,
            // The others have their large button above.
            tap: s.tap.filter(|t| matches!(*t, "salted" | "bagged") && s.done.is_none()),
            done: s.done.map(|t| near_time(t, now, zone)),
            passed: s.passed,
        })
        .collect()
}

const GUIDE: &str = "guide";

/// Whether this reader wants to be told what to expect: until it is dismissed.
pub fn guided(http: &HttpRequest) -> bool {
    http.cookie(GUIDE).is_none_or(|c| c.value() != "off")
}

/// The cookie that remembers it.
pub fn guide_cookie(on: bool) -> Cookie<'static> {
    Cookie::build(GUIDE, if on { "on" } else { "off" })
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(CookieTime::days(400))
        .finish()
}

pub fn event_word(kind: &EventKind) -> &'static str {
    match kind {
        EventKind::Started => "cook started",
        EventKind::Replanned { .. } => "planned anew",
        EventKind::PieceCorrected { .. } => "the piece corrected",
        EventKind::Salted { .. } => "salted",
        EventKind::Bagged => "bagged",
        EventKind::Dropped => "dropped",
        EventKind::Floated { .. } => "floated",
        EventKind::Moved { .. } => "moved to another bath",
        EventKind::Leaked => "leaked",
        EventKind::Pulled => "pulled",
        EventKind::Dried => "dried",
        EventKind::Seared { .. } => "seared",
        EventKind::FinishChosen(_) => "finish chosen",
        EventKind::Eaten => "eaten",
        EventKind::CoreRead { purpose: Purpose::HotHold, .. } => "read while held hot",
        EventKind::CoreRead { purpose: Purpose::Chill, .. } => "read while it chilled",
        EventKind::CoreRead { purpose: Purpose::Finish, .. } => "read while it was finished",
        EventKind::CoreRead { purpose: Purpose::Check, .. } => "its core read",
        EventKind::Chilled => "chilled",
        EventKind::Kept(Kept { frozen: true, .. }) => "put into a freezer",
        EventKind::Kept(Kept { frozen: false, .. }) => "put away cold",
        EventKind::Discarded => "thrown away",
        EventKind::Rated(_) => "rated",
        EventKind::Corrected { .. } => "corrected",
        EventKind::Undone { .. } => "undone",
        EventKind::Doubted { .. } => "its time is in doubt",
        EventKind::Meanwhile { in_bath: true, .. } => "it was in the bath meanwhile",
        EventKind::Meanwhile { in_bath: false, .. } => "it was out of the bath meanwhile",
        EventKind::ClockSet { .. } => "the clock was set",
        EventKind::Deleted => "taken off the lists",
        EventKind::Restored => "put back",
    }
}

/// All that happened, what was taken back, and what does not count.
pub struct Logged {
    pub open: bool,
    pub lines: Vec<LogLine>,
    pub undone: Vec<LogLine>,
    /// What an older version wrote down that cannot have happened.
    pub not_counted: Vec<String>,
}

impl Logged {
    /// `about` is the entry a correction was typed for that could not be taken, with what was typed.
    pub fn of(
        seen: &Seen<'_>,
        origins: &HashMap<Uuid, Origin>,
        about: (Option<Uuid>, &str),
        open: bool,
        zone: &WallClock,
        units: Units,
    ) -> Self {
        let (stands, now) = (&seen.stands, seen.now);
        let line = |entry: &Entry| {
            let id = entry.event.id;
            let typed = if about.0 == Some(id) { about.1.to_owned() } else { String::new() };
            LogLine { typed, ..LogLine::of((seen.record, entry), origins.get(&id), now, zone, units) }
        };
        let undone = |(undo, e): &(Uuid, Entry)| LogLine {
            id: *undo,
            what: event_word(&e.event.kind).into(),
            at: near_time(e.at, now, zone),
            note: String::new(),
            may_correct: false,
            may_undo: true,
            typed: String::new(),
        };
        let not_counted = stands.not_counted.iter().map(|(e, why)| {
            format!("{} at {}: {why}", event_word(&e.kind), near_time(e.happened_at, now, zone))
        });
        Self {
            open: open || about.0.is_some(),
            lines: stands.entries.iter().map(line).collect(),
            undone: stands.undone.iter().map(undone).collect(),
            not_counted: not_counted.collect(),
        }
    }
}
