//! The ribbon.

use askama::Template;
use hold_steady_core::plan::{Stretch, StretchKind};
use hold_steady_core::units::{Celsius, Minutes, WallClock};
use jiff::{SignedDuration, Timestamp};

use super::{NARROW, WIDE, px};
use crate::app::PageError;

/// Something marked on a ribbon.
#[derive(Debug, Clone)]
pub struct Mark {
    /// `drop`, `pull`, `serve`, `now` …: also the style.
    pub id: &'static str,
    /// What it says.
    pub text: String,
    /// Minutes from the drop.
    pub min: Minutes,
}

/// What a ribbon shows.
#[derive(Debug, Clone)]
pub struct Ribbon<'a> {
    /// The instant of the drop.
    pub drop: Timestamp,
    /// The kitchen's zone.
    pub zone: &'a WallClock,
    /// Stretches, minutes from the drop.
    pub bands: &'a [Stretch],
    /// The centre over time, minutes and °C; empty where it is not drawn.
    pub curve: &'a [(Minutes, Celsius)],
    /// Marks on it.
    pub marks: Vec<Mark>,
    /// Where it ends, minutes.
    pub horizon_min: Minutes,
    /// In a sentence, for those who do not see it.
    pub summary: String,
}

struct DrawnBand {
    x: String,
    width: String,
    kind: &'static str,
    label: String,
    label_x: String,
}

struct DrawnMark {
    id: &'static str,
    text: String,
    x: String,
    text_x: String,
    /// Where its line ends: the serving mark stands above the stretches, it is not on them.
    y2: u32,
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
    curve: String,
    summary: &'a str,
}

/// Draws a ribbon for both widths.
pub fn ribbons(ribbon: &Ribbon<'_>) -> Result<String, PageError> {
    Ok(drawing(ribbon, WIDE, "wide").render()? + &drawing(ribbon, NARROW, "narrow").render()?)
}

/// Width of a letter of the ribbon's labels, roughly.
const LETTER: f64 = 7.4;

fn drawing<'a>(ribbon: &'a Ribbon<'_>, width: f64, size: &'static str) -> Drawing<'a> {
    let x = |min: Minutes| width * (min / ribbon.horizon_min).clamp(0.0, 1.0);
    let bands = ribbon.bands.iter().map(|b| {
        let (from, until) = (x(b.from_min), x(b.until_min));
        DrawnBand {
            x: px(from),
            width: px(until - from),
            kind: b.kind.id(),
            label: label(b.kind, until - from),
            label_x: px(0.5 * (from + until)),
        }
    });
    Drawing {
        size,
        width: px(width),
        bands: bands.collect(),
        marks: draw_marks(&ribbon.marks, width, x),
        ticks: ticks(ribbon, width),
        curve: curve(ribbon.curve, x),
        summary: &ribbon.summary,
    }
}

/// The centre's curve over the stretches, from the coldest to the hottest it is.
fn curve(points: &[(Minutes, Celsius)], x: impl Fn(Minutes) -> f64) -> String {
    const TOP: f64 = 31.0;
    const BOTTOM: f64 = 78.0;
    let low = points.iter().map(|p| p.1.value()).fold(f64::INFINITY, f64::min);
    let high = points.iter().map(|p| p.1.value()).fold(f64::NEG_INFINITY, f64::max);
    let y = |c: f64| BOTTOM - (BOTTOM - TOP) * (c - low) / (high - low).max(0.1);
    points
        .iter()
        .map(|(min, c)| format!("{},{}", px(x(*min)), px(y(c.value()))))
        .collect::<Vec<_>>()
        .join(" ")
}

/// Marks with labels that do not run into each other: shortened to their word, or left out.
fn draw_marks(marks: &[Mark], width: f64, x: impl Fn(Minutes) -> f64) -> Vec<DrawnMark> {
    const GAP: f64 = 5.0;
    // No label under the needle of the time now.
    let needle = marks.iter().find(|m| m.id == "now").map(|m| (x(m.min) - GAP, x(m.min) + GAP));
    let mut taken: Vec<(f64, f64)> = needle.into_iter().collect();
    let mut place = |m: &Mark, text: &str| -> Option<(f64, &'static str)> {
        let at = x(m.min);
        let length = text.len() as f64 * LETTER + GAP;
        // The pull's label stands before its mark, the others after; or the other way round.
        let first_before = m.id == "pull";
        for before in [first_before, !first_before] {
            let (from, until) = if before { (at - length, at) } else { (at, at + length) };
            let free = taken.iter().all(|(a, b)| until < *a || from > *b);
            if from >= 0.0 && until <= width && free {
                taken.push((from, until));
                return Some(if before { (at - GAP, "end") } else { (at + GAP, "start") });
            }
        }
        None
    };
    marks
        .iter()
        .map(|m| {
            let word = m.text.split(' ').next().unwrap_or_default();
            let placed =
                place(m, &m.text).map(|p| (p, m.text.as_str())).or_else(|| place(m, word).map(|p| (p, word)));
            let ((text_x, anchor), text) = placed.unwrap_or(((0.0, "start"), ""));
            DrawnMark {
                id: m.id,
                text: text.to_owned(),
                x: px(x(m.min).clamp(1.5, width - 1.5)),
                text_x: px(text_x),
                y2: if m.id == "serve" { 32 } else { 82 },
                anchor,
            }
        })
        .collect()
}

fn label(kind: StretchKind, room: f64) -> String {
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
    const LEAST_APART: f64 = 84.0;
    let per_min = width / ribbon.horizon_min.value();
    let long = ribbon.horizon_min > Minutes::from_hours(24.0);
    let apart = if long { LEAST_APART * 1.4 } else { LEAST_APART };
    let step = STEPS_MIN.into_iter().find(|s| *s as f64 * per_min >= apart).unwrap_or(1440 * 2);
    let local = ribbon.drop.to_zoned(ribbon.zone.zone());
    let since_midnight = i64::from(local.hour()) * 60 + i64::from(local.minute());
    let seconds = f64::from(local.second()) / 60.0;
    let mut next = (since_midnight + step) / step * step;
    let mut all = Vec::new();
    loop {
        let min = (next - since_midnight) as f64 - seconds;
        if min > ribbon.horizon_min.value() {
            return all;
        }
        let at = ribbon.drop.checked_add(SignedDuration::from_secs((min * 60.0).round() as i64));
        // Over more than a day a bare time would be any day's.
        let label = at.map(|t| if long { ribbon.zone.weekday_and_time(t) } else { ribbon.zone.time(t) });
        let label = label.unwrap_or_default();
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

#[cfg(test)]
mod tests {
    use super::*;
    use hold_steady_core::units::Hours;
    use jiff::tz::TimeZone;

    fn ribbon<'a>(
        zone: &'a WallClock,
        bands: &'a [Stretch],
        marks: Vec<Mark>,
        horizon_min: f64,
    ) -> Ribbon<'a> {
        let drop = "2026-11-25T16:10:00Z".parse().expect("an instant");
        Ribbon {
            drop,
            zone,
            bands,
            curve: &[],
            marks,
            horizon_min: Minutes::new(horizon_min),
            summary: "A <ribbon>".into(),
        }
    }

    fn mark(id: &'static str, text: &str, min: f64) -> Mark {
        Mark { id, text: text.into(), min: Minutes::new(min) }
    }

    /// Where a drawn label begins and ends.
    fn span(m: &DrawnMark) -> (f64, f64) {
        let (x, length) = (m.text_x.parse::<f64>().expect("a number"), m.text.len() as f64 * LETTER);
        if m.anchor == "end" { (x - length, x) } else { (x, x + length) }
    }

    #[test]
    fn labels_never_run_into_each_other_or_off_the_edge() {
        for width in [WIDE, NARROW] {
            for pull in [3.0, 20.0, 60.0, 110.0, 180.0, 238.0] {
                let marks = vec![
                    mark("pull", "pull 18:10", pull),
                    mark("serve", "serve 18:28", pull + 18.0),
                    mark("drop", "drop 16:10", 0.0),
                    mark("now", "", 30.0),
                ];
                let drawn = draw_marks(&marks, width, |min| width * (min.value() / 270.0).clamp(0.0, 1.0));
                let spans: Vec<(f64, f64)> = drawn.iter().filter(|m| !m.text.is_empty()).map(span).collect();
                for (i, a) in spans.iter().enumerate() {
                    assert!(a.0 >= -0.1 && a.1 <= width + 0.1, "{pull} at {width}: {a:?}");
                    assert!(
                        spans[i + 1..].iter().all(|b| a.1 <= b.0 + 0.1 || b.1 <= a.0 + 0.1),
                        "{pull} at {width}"
                    );
                }
            }
        }
    }

    #[test]
    fn ticks_stand_on_the_kitchen_s_whole_hours_in_any_zone() {
        for name in ["UTC", "Asia/Kathmandu", "America/St_Johns"] {
            let zone = WallClock::new(TimeZone::get(name).expect("bundled"), Hours::default());
            let drawn = ticks(&ribbon(&zone, &[], Vec::new(), 300.0), WIDE);
            assert!(drawn.len() >= 4, "{name}");
            assert!(drawn.iter().all(|t| t.label.ends_with(":00") || t.label.ends_with(":30")), "{name}");
        }
    }

    #[test]
    fn long_cooks_get_fewer_ticks_and_text_is_escaped() {
        let zone = WallClock::new(TimeZone::UTC, Hours::default());
        let bands = [Stretch {
            from_min: Minutes::new(0.0),
            until_min: Minutes::new(2400.0),
            kind: StretchKind::Safe,
        }];
        let r = ribbon(&zone, &bands, vec![mark("pull", "pull 10:00", 1200.0)], 2400.0);
        assert!(ticks(&r, NARROW).len() <= 6);
        let svg = ribbons(&r).expect("renders");
        assert_eq!(svg.matches("<svg").count(), 2);
        assert!(!svg.contains("<ribbon>") && !svg.contains("style="));
    }
}
