//! The ribbon.

use askama::Template;
use hold_steady_core::plan::{Band, BandKind};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use super::{NARROW, WIDE, px};
use crate::app::{PageError, clock_time};

/// Something marked on a ribbon.
#[derive(Debug, Clone)]
pub struct Mark {
    /// `drop`, `pull`, `serve`, `now` …: also the style.
    pub id: &'static str,
    /// What it says.
    pub text: String,
    /// Minutes from the drop.
    pub min: f64,
}

/// What a ribbon shows.
#[derive(Debug, Clone)]
pub struct Ribbon<'a> {
    /// The instant of the drop.
    pub drop: Timestamp,
    /// The kitchen's zone.
    pub zone: &'a TimeZone,
    /// Stretches, minutes from the drop.
    pub bands: &'a [Band],
    /// Marks on it.
    pub marks: Vec<Mark>,
    /// Where it ends, minutes.
    pub horizon_min: f64,
    /// In a sentence, for those who do not see it.
    pub summary: String,
}

struct DrawnBand {
    x: String,
    width: String,
    kind: &'static str,
    label: String,
}

struct DrawnMark {
    id: &'static str,
    text: String,
    x: String,
    text_x: String,
    anchor: &'static str,
}

struct Tick {
    x: String,
    label: String,
    anchor: &'static str,
}

#[derive(Template)]
#[template(path = "drawing/ribbon.html")]
struct Drawing<'a> {
    size: &'static str,
    width: String,
    bands: Vec<DrawnBand>,
    marks: Vec<DrawnMark>,
    ticks: Vec<Tick>,
    summary: &'a str,
}

/// Draws a ribbon for both widths.
pub fn ribbons(ribbon: &Ribbon<'_>) -> Result<String, PageError> {
    Ok(drawing(ribbon, WIDE, "wide").render()? + &drawing(ribbon, NARROW, "narrow").render()?)
}

/// Width of a letter of the ribbon's labels, roughly.
const LETTER: f64 = 7.4;

fn drawing<'a>(ribbon: &'a Ribbon<'_>, width: f64, size: &'static str) -> Drawing<'a> {
    let x = |min: f64| width * (min / ribbon.horizon_min).clamp(0.0, 1.0);
    let bands = ribbon.bands.iter().map(|b| {
        let (from, until) = (x(b.from_min), x(b.until_min));
        DrawnBand {
            x: px(from),
            width: px(until - from),
            kind: b.kind.id(),
            label: label(b.kind, until - from),
        }
    });
    let marks = ribbon.marks.iter().map(|m| {
        let at = x(m.min);
        let length = m.text.len() as f64 * LETTER;
        // The pull's label stands before its mark, the others after, unless there is no room.
        let before = (m.id == "pull" && at > length) || at + length > width;
        DrawnMark {
            id: m.id,
            text: m.text.clone(),
            x: px(at.clamp(1.5, width - 1.5)),
            text_x: px(if before { at - 5.0 } else { at + 5.0 }.clamp(0.0, width)),
            anchor: if before { "end" } else { "start" },
        }
    });
    Drawing {
        size,
        width: px(width),
        bands: bands.collect(),
        marks: marks.collect(),
        ticks: ticks(ribbon, width),
        summary: &ribbon.summary,
    }
}

fn label(kind: BandKind, room: f64) -> String {
    let words = kind.words();
    let fits = |w: &str| w.len() as f64 * LETTER + 12.0 < room;
    if fits(words) {
        return words.to_owned();
    }
    let first = words.split([',', ' ']).next().unwrap_or_default();
    if fits(first) { first.to_owned() } else { String::new() }
}

/// Whole hours (or halves, or quarters) of the kitchen's clock.
fn ticks(ribbon: &Ribbon<'_>, width: f64) -> Vec<Tick> {
    const STEPS_MIN: [i64; 9] = [5, 15, 30, 60, 120, 180, 360, 720, 1440];
    const LEAST_APART: f64 = 62.0;
    let per_min = width / ribbon.horizon_min;
    let step = STEPS_MIN
        .into_iter()
        .find(|s| *s as f64 * per_min >= LEAST_APART)
        .unwrap_or(1440 * 2);
    let local = ribbon.drop.to_zoned(ribbon.zone.clone());
    let since_midnight =
        i64::from(local.hour()) * 60 + i64::from(local.minute());
    let seconds = f64::from(local.second()) / 60.0;
    let mut next = (since_midnight + step) / step * step;
    let mut all = Vec::new();
    loop {
        let min = (next - since_midnight) as f64 - seconds;
        if min > ribbon.horizon_min {
            return all;
        }
        let at = ribbon.drop.checked_add(SignedDuration::from_secs((min * 60.0).round() as i64));
        let label = at.map(|t| clock_time(t, ribbon.zone)).unwrap_or_default();
        let x = min * per_min;
        // A label half outside the picture is pulled in.
        let anchor = if x > width - 20.0 {
            "end"
        } else if x < 20.0 {
            "start"
        } else {
            "middle"
        };
        all.push(Tick { x: px(x), label, anchor });
        next += step;
    }
}
