//! One entry of the book as it is shown.

use hold_steady_core::book::{BookEntry, CookRecord};

use hold_steady_core::safety::{Level, Verdict};
use hold_steady_core::units::Units;
use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::app::{clock_time, day_and_time, duration};
use crate::cook::CENTRE_WORDS;

/// A line of planned beside done.
pub struct Pair {
    pub what: &'static str,
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
    pub title: String,
    pub day: String,
    pub sentence: String,
    pub pairs: Vec<Pair>,
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
}

fn level_words(verdict: &Verdict) -> &'static str {
    match verdict.level {
        Level::Pasteurized | Level::Exempt => "pasteurised",
        Level::ServeNow => "served at once",
        Level::Refused => "not safe",
    }
}

impl EntryView {
    pub fn new(cook: &CookRecord, entry: &BookEntry, zone: &TimeZone, units: Units) -> Self {
        let p = &entry.plan;
        let time = |t: Option<Timestamp>| t.map_or_else(|| "not noted".to_owned(), |t| clock_time(t, zone));
        let pair = |what, planned: String, done: String| Pair { what, planned, done };
        let sear: Vec<String> = entry.sear_s.iter().map(|s| format!("{s:.0}")).collect();
        let rating = entry.rating.clone().unwrap_or_default();
        let star = |label, value: Option<u8>| {
            value.map(|value| Stars { label, value, text: format!("{value} of 5") })
        };
        let request = &entry.request;
        let face_s = request.food().finish().face_s;
        let sear_done =
            if sear.is_empty() { "not noted".to_owned() } else { format!("{} s", sear.join(" + ")) };
        let pairs = [
            Some(pair("Drop", clock_time(p.times.drop_by, zone), time(entry.dropped))),
            Some(pair("Pull", clock_time(p.times.pull, zone), time(entry.pulled))),
            Some(pair(
                "In the bath",
                duration(p.bath_min),
                entry.bath_min_done().map_or_else(|| "not noted".into(), duration),
            )),
            face_s.map(|s| pair("Sear", format!("{s} s a face"), sear_done)),
            Some(pair("Serve", clock_time(p.times.serve, zone), time(entry.eaten))),
        ];
        let pairs = pairs.into_iter().flatten().collect();
        Self {
            href: format!("/cook/{}", cook.id),
            title: cook.title.clone(),
            day: day_and_time(entry.eaten.unwrap_or(entry.planned_at), zone),
            sentence: format!(
                "{}; {} ± {}",
                request.conditions(),
                request.how_big(units),
                units.length(request.spread_mm()),
            ),
            pairs,
            level: entry.verdict_done.as_ref().map_or("waiting", |v| v.level.id()),
            verdict: entry.verdict_done.as_ref().map_or("not judged: no pull noted", level_words),
            centre: rating.centre.and_then(|c| CENTRE_WORDS.iter().find(|w| w.0 == c)).map(|w| w.1),
            marks: [
                star("Tenderness", rating.tenderness),
                star("Crust", rating.crust),
                star("Grey band", rating.band),
            ]
            .into_iter()
            .flatten()
            .collect(),
            note: rating.note,
            next_time: rating.next_time,
            rated: entry.rating.is_some(),
            colour: request
                .food()
                .flesh()
                .colour(entry.centre_at_pull_c.map_or(request.bath_c.value(), |c| c.1.value()), 1.0),
            given_by: entry.given_by.clone(),
            centre_c: entry.centre_at_pull_c.map(|(slow, _)| units.temperature(slow)),
        }
    }
}
