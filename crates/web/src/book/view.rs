//! One entry of the book as it is shown.

use std::collections::HashMap;

use hold_steady_core::book::{BookEntry, CookRecord};
use hold_steady_core::calc::MOST_EFFORT;
use hold_steady_core::cook::Rating;
use hold_steady_core::heat::Effort;
use hold_steady_core::units::{Units, WallClock};
use hold_steady_core::words;
use hold_steady_store::Origin;
use jiff::Timestamp;
use uuid::Uuid;

use crate::app::{PageError, clock_time, day_and_time, duration};
use crate::cook::{LogLine, came_otherwise};
use crate::plan;

/// A line of planned beside done.
pub struct Pair {
    pub what: &'static str,
    /// As it was planned first, where it was planned anew.
    pub first: Option<String>,
    pub planned: String,
    pub done: String,
}

/// A mark out of five.
pub struct Stars {
    pub label: &'static str,
    pub value: u8,
    pub text: String,
}

pub struct EntryView {
    pub href: String,
    /// The same planned for another piece.
    pub again: String,
    /// All that happened.
    pub log: Vec<LogLine>,
    pub sentence: String,
    pub pairs: Vec<Pair>,
    /// Another plan stood at the end than at the beginning.
    pub planned_anew: bool,
    pub level: &'static str,
    pub verdict: &'static str,
    pub centre: Option<&'static str>,
    pub marks: Vec<Stars>,
    pub note: String,
    pub next_time: String,
    pub rated: bool,
    /// What the inside looked like, by the simulation.
    pub colour: String,
    pub centre_c: Option<String>,
    /// What else than today's program gave the plan, where another did.
    pub given_by: Option<String>,
    /// What its answer says and is not computed so, of one that came in a file.
    pub differs: Option<String>,
}

/// The word of what nothing says how it was.
pub const NOT_JUDGED: &str = "none";

/// The verdicts of what was done, by their words, as the book calls them.
pub const LEVELS: [(&str, &str); 5] = [
    ("pasteurized", "pasteurised"),
    ("serve-now", "served at once"),
    ("refused", "not safe"),
    ("exempt", "no target applies"),
    (NOT_JUDGED, "not judged: no pull noted"),
];

/// The word of what was done; [`NOT_JUDGED`] where nothing says so, or it cannot be worked out any more.
pub fn level_of(cook: &CookRecord) -> &'static str {
    let entry = Effort::of(MOST_EFFORT).within(|| BookEntry::of(cook));
    entry.ok().flatten().and_then(|e| e.verdict_done).map_or(NOT_JUDGED, |v| v.level.id())
}

/// A line whose verdict is still to be worked out: what a file says of it is not believed meanwhile.
pub const NOT_CHECKED: &str = "not-checked";

fn level_words(id: &str) -> &'static str {
    LEVELS.iter().find(|level| level.0 == id).map_or("not yet checked", |level| level.1)
}

/// A finished cook in one line.
pub struct Row {
    pub id: Uuid,
    pub title: String,
    pub day: String,
    pub level: String,
    pub verdict: &'static str,
    pub centre: Option<&'static str>,
    pub next_time: String,
}

impl Row {
    pub fn new(cook: &CookRecord, level: &str, zone: &WallClock, units: Units) -> Self {
        let state = cook.state();
        let rating = state.rating();
        Self {
            id: cook.id,
            title: cook.title_in(units),
            day: day_and_time(state.ended().unwrap_or(cook.created_at), zone),
            verdict: level_words(level),
            level: level.to_owned(),
            centre: rating.and_then(|r| r.centre).and_then(centre_words),
            next_time: rating.map_or_else(String::new, |r| r.next_time.clone()),
        }
    }
}

fn centre_words(mark: i8) -> Option<&'static str> {
    words::CENTRES.iter().find(|c| c.0 == mark).map(|c| c.1)
}

impl EntryView {
    pub fn new(
        cook: &CookRecord,
        entry: &BookEntry,
        origins: &HashMap<Uuid, Origin>,
        (now, zone): (Timestamp, &WallClock),
        units: Units,
    ) -> Result<Self, PageError> {
        let rating = entry.rating.clone().unwrap_or_default();
        let (request, state) = (&entry.request, cook.state());
        let usual = words::usual_sear(request.food().finish());
        let sear_planned = state.chosen_finish().map(|c| words::chosen_finish(c, units)).or(usual);
        let level = entry.verdict_done.as_ref().map_or(NOT_JUDGED, |v| v.level.id());
        let again = cook.plan_record().map(|p| p.typed.for_another_piece()).unwrap_or_default();
        let line = |e| LogLine::of((cook, e), origins.get(&e.event.id), now, zone, units);
        Ok(Self {
            href: format!("/cook/{}", cook.id),
            again: format!("/plan?{}", plan::encoded(&again)?),
            log: state.entries.iter().map(line).collect(),
            sentence: format!(
                "{}; {} ± {}{}",
                request.conditions(),
                request.how_big(units),
                units.length(request.spread_mm()),
                if entry.piece_corrected { " (corrected)" } else { "" },
            ),
            planned_anew: entry.first.is_some(),
            pairs: pairs(entry, sear_planned, zone),
            level,
            verdict: level_words(level),
            centre: rating.centre.and_then(centre_words),
            marks: stars(&rating),
            note: rating.note,
            next_time: rating.next_time,
            rated: entry.rating.is_some(),
            colour: request
                .food()
                .flesh()
                .colour(entry.centre_at_pull_c.map_or(request.bath_c.value(), |c| c.1.value()), 1.0),
            given_by: entry.given_by.clone(),
            differs: came_otherwise(cook, origins)?,
            centre_c: entry.centre_at_pull_c.map(|(slow, _)| units.temperature(slow)),
        })
    }
}

/// What was planned beside what was done.
fn pairs(entry: &BookEntry, sear_planned: Option<String>, zone: &WallClock) -> Vec<Pair> {
    let p = &entry.plan;
    let time = |t: Option<Timestamp>| t.map_or_else(|| "not noted".to_owned(), |t| clock_time(t, zone));
    let first = |of: &dyn Fn(&hold_steady_core::plan::Plan) -> String| entry.first.as_ref().map(of);
    let pair = |what, first: Option<String>, planned: String, done: String| {
        let first = entry.first.is_some().then(|| first.unwrap_or_default());
        Pair { what, first, planned, done }
    };
    let sear: Vec<String> = entry.sear_s.iter().map(|s| format!("{s:.0}")).collect();
    let sear_done = if sear.is_empty() { "not noted".to_owned() } else { format!("{} s", sear.join(" + ")) };
    let pairs = [
        Some(pair(
            "Drop",
            first(&|p| clock_time(p.times.drop_by, zone)),
            clock_time(p.times.drop_by, zone),
            time(entry.dropped),
        )),
        Some(pair(
            "Pull",
            first(&|p| clock_time(p.times.pull, zone)),
            clock_time(p.times.pull, zone),
            time(entry.pulled),
        )),
        Some(pair(
            "In the bath",
            first(&|p| duration(p.bath_min)),
            duration(p.bath_min),
            entry.bath_min_done().map_or_else(|| "not noted".into(), duration),
        )),
        sear_planned.map(|planned| pair("Sear", None, planned, sear_done)),
        Some(pair(
            "Serve",
            first(&|p| clock_time(p.times.serve, zone)),
            clock_time(p.times.serve, zone),
            time(entry.eaten),
        )),
    ];
    pairs.into_iter().flatten().collect()
}

/// What somebody gave it, of five.
fn stars(rating: &Rating) -> Vec<Stars> {
    let star =
        |label, value: Option<u8>| value.map(|value| Stars { label, value, text: format!("{value} of 5") });
    let all =
        [star("Tenderness", rating.tenderness), star("Crust", rating.crust), star("Grey band", rating.band)];
    all.into_iter().flatten().collect()
}
