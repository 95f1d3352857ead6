//! The map: what every bath temperature and time gives for one piece, with the chosen point on it.

use askama::Template;
use hold_steady_core::plan::{Envelope, EnvelopeRow, StretchKind};
use hold_steady_core::units::{Celsius, Minutes, Units};

use super::px;
use crate::app::{PageError, duration};

/// What a map shows.
pub struct Map<'a> {
    /// The regions.
    pub envelope: &'a Envelope,
    /// The reader's units.
    pub units: Units,
}

struct Region {
    kind: &'static str,
    points: String,
}

struct Label {
    kind: &'static str,
    text: &'static str,
    x: String,
    y: String,
}

struct Tick {
    at: String,
    label: String,
}

#[derive(Template)]
#[template(path = "drawing/map.html")]
struct Drawing {
    size: &'static str,
    width: f64,
    left: f64,
    right: f64,
    top: f64,
    bottom: f64,
    regions: Vec<Region>,
    labels: Vec<Label>,
    degrees: Vec<Tick>,
    hours: Vec<Tick>,
    /// What the script needs to turn places into temperatures and times.
    low: f64,
    high: f64,
    horizon_min: f64,
    step: f64,
    unit: &'static str,
    per_degree: f64,
    zero: f64,
    /// JSON: the words of every kind of region.
    words: String,
    summary: String,
}

/// Widths drawn for: half a laptop's page, a phone's page.
const HALF_WIDE: f64 = 576.0;
const PHONE: f64 = 358.0;
const LEFT: f64 = 44.0;
const RIGHT: f64 = 12.0;
const TOP: f64 = 12.0;
const HEIGHT: f64 = 176.0;

/// Draws a map for both widths.
pub fn maps(map: &Map<'_>) -> Result<String, PageError> {
    Ok(drawing(map, HALF_WIDE, "wide").render()? + &drawing(map, PHONE, "narrow").render()?)
}

fn drawing(map: &Map<'_>, width: f64, size: &'static str) -> Drawing {
    let rows = &map.envelope.rows;
    let (low, high) = (rows[0].bath_c, rows[rows.len() - 1].bath_c);
    let horizon = map.envelope.horizon_min;
    let x = |min: Minutes| LEFT + (width - LEFT - RIGHT) * (min / horizon).clamp(0.0, 1.0);
    let y = |c: Celsius| TOP + HEIGHT * ((high - c) / (high - low));
    let celsius = map.units.temperature_symbol() == "°C";
    Drawing {
        size,
        width,
        left: LEFT,
        right: width - RIGHT,
        top: TOP,
        bottom: TOP + HEIGHT,
        regions: regions(map.envelope, x, y),
        labels: labels(map.envelope, x, y),
        degrees: degree_ticks(low, high, map.units).map(|(c, label)| Tick { at: px(y(c)), label }).collect(),
        hours: hour_ticks(horizon, width).map(|(min, label)| Tick { at: px(x(min)), label }).collect(),
        low: low.value(),
        high: high.value(),
        horizon_min: horizon.value(),
        step: if celsius { 0.5 } else { 1.0 },
        unit: map.units.temperature_symbol(),
        per_degree: if celsius { 1.0 } else { 1.8 },
        zero: if celsius { 0.0 } else { 32.0 },
        words: words(),
        summary: summary(map),
    }
}

/// Four-sided pieces between neighbouring rows. Where both run through the same kinds, but for stretches
/// that come to nothing in one of them, their ends are joined; where a rule parts them (one is safe or
/// refused and the other is not), each row is drawn to the middle.
fn regions(envelope: &Envelope, x: impl Fn(Minutes) -> f64, y: impl Fn(Celsius) -> f64) -> Vec<Region> {
    let mut all = Vec::new();
    let corner = |min: Minutes, c: Celsius| format!("{},{}", px(x(min)), px(y(c)));
    let mut piece = |kind: StretchKind, a: (Celsius, Minutes, Minutes), b: (Celsius, Minutes, Minutes)| {
        let points = [corner(a.1, a.0), corner(a.2, a.0), corner(b.2, b.0), corner(b.1, b.0)];
        all.push(Region { kind: kind.id(), points: points.join(" ") });
    };
    for pair in envelope.rows.windows(2) {
        let (a, b) = (&pair[0], &pair[1]);
        if let Some((p, q)) = ends(a).zip(ends(b)).filter(|_| alike(a, b)) {
            for (i, kind) in ORDER.into_iter().enumerate() {
                if p[i] != p[i + 1] || q[i] != q[i + 1] {
                    piece(kind, (a.bath_c, p[i], p[i + 1]), (b.bath_c, q[i], q[i + 1]));
                }
            }
            continue;
        }
        let middle = a.bath_c + (b.bath_c - a.bath_c) * 0.5;
        for (row, from, until) in [(a, a.bath_c, middle), (b, middle, b.bath_c)] {
            for p in &row.bands {
                piece(p.kind, (from, p.from_min, p.until_min), (until, p.from_min, p.until_min));
            }
        }
    }
    all
}

/// The order in which a piece goes through the kinds.
const ORDER: [StretchKind; 6] = [
    StretchKind::Warming,
    StretchKind::NotYet,
    StretchKind::Through,
    StretchKind::Safe,
    StretchKind::Soft,
    StretchKind::Refused,
];

/// Where the kinds of [`ORDER`] begin in a row, and where the last ends; a kind it lacks takes no time.
/// `None` when the row does not go through them in that order.
fn ends(row: &EnvelopeRow) -> Option<[Minutes; 7]> {
    let mut all = [Minutes::ZERO; 7];
    let mut next = 0;
    for band in &row.bands {
        let i = ORDER.iter().position(|k| *k == band.kind)?;
        if i < next {
            return None;
        }
        all[next..=i].fill(band.from_min);
        all[i + 1..].fill(band.until_min);
        next = i + 1;
    }
    Some(all)
}

/// Whether no rule parts two rows.
fn alike(a: &EnvelopeRow, b: &EnvelopeRow) -> bool {
    let has = |row: &EnvelopeRow, kind| row.bands.iter().any(|band| band.kind == kind);
    [StretchKind::Safe, StretchKind::Refused].into_iter().all(|kind| has(a, kind) == has(b, kind))
}

/// The name of every region where it has most room, where it fits.
fn labels(envelope: &Envelope, x: impl Fn(Minutes) -> f64, y: impl Fn(Celsius) -> f64) -> Vec<Label> {
    const LETTER: f64 = 6.9;
    const LINE: f64 = 17.0;
    const LEAST_HIGH: f64 = 14.0;
    const KINDS: [StretchKind; 6] = [
        StretchKind::Safe,
        StretchKind::Warming,
        StretchKind::Through,
        StretchKind::NotYet,
        StretchKind::Refused,
        StretchKind::Soft,
    ];
    let rows = &envelope.rows;
    let mut placed: Vec<(f64, f64, f64)> = Vec::new();
    let mut all = Vec::new();
    for kind in KINDS {
        let words = kind.words();
        // In full, or its first word where that is all there is room for.
        let texts = [words, words.split([',', ' ']).next().unwrap_or(words)];
        for text in texts {
            let length = text.len() as f64 * LETTER + 10.0;
            // Whether a row is of this kind all along the words.
            let covers = |row: &EnvelopeRow, middle: f64| {
                row.bands.iter().filter(|b| b.kind == kind).any(|b| {
                    x(b.from_min) <= middle - length / 2.0 && x(b.until_min) >= middle + length / 2.0
                })
            };
            // For every stretch, how far up and down the words would stay inside: height, then width decide.
            let spot = (0..rows.len())
                .flat_map(|i| rows[i].bands.iter().filter(|b| b.kind == kind).map(move |b| (i, b)))
                .map(|(i, b)| {
                    let middle = 0.5 * (x(b.from_min) + x(b.until_min));
                    let below = rows[..=i].iter().rev().take_while(|r| covers(r, middle)).last();
                    let above = rows[i..].iter().take_while(|r| covers(r, middle)).last();
                    let (bottom, top) =
                        (below.map_or(0.0, |r| y(r.bath_c)), above.map_or(0.0, |r| y(r.bath_c)));
                    (middle, 0.5 * (bottom + top), bottom - top, x(b.until_min) - x(b.from_min))
                })
                .filter(|(middle, at, high, _)| {
                    let (from, until) = (middle - length / 2.0, middle + length / 2.0);
                    *high >= LEAST_HIGH
                        && placed.iter().all(|(py, a, b)| (py - at).abs() > LINE || until < *a || from > *b)
                })
                .max_by(|a, b| (a.2.min(60.0) + 0.2 * a.3).total_cmp(&(b.2.min(60.0) + 0.2 * b.3)));
            if let Some((middle, at, _, _)) = spot {
                placed.push((at, middle - length / 2.0, middle + length / 2.0));
                all.push(Label { kind: kind.id(), text, x: px(middle), y: px(at + 5.0) });
                break;
            }
        }
    }
    all
}

fn words() -> String {
    let all: std::collections::BTreeMap<&str, &str> =
        StretchKind::ALL.iter().map(|k| (k.id(), k.words())).collect();
    serde_json::to_string(&all).unwrap_or_default()
}

fn degree_ticks(low: Celsius, high: Celsius, units: Units) -> impl Iterator<Item = (Celsius, String)> {
    let (bottom, top) = (units.degrees(low), units.degrees(high));
    let step = [2.0, 5.0, 10.0, 20.0].into_iter().find(|s| (top - bottom) / s <= 6.0).unwrap_or(40.0);
    let (first, last) = ((bottom / step).ceil() as i64, (top / step).floor() as i64);
    (first..=last).map(move |i| {
        let degrees = i as f64 * step;
        (low + (high - low) * ((degrees - bottom) / (top - bottom)), format!("{degrees:.0}°"))
    })
}

fn hour_ticks(horizon: Minutes, width: f64) -> impl Iterator<Item = (Minutes, String)> {
    let most = if width < 400.0 { 5.0 } else { 9.0 };
    let step = [15.0, 30.0, 60.0, 120.0, 240.0, 360.0, 720.0, 1440.0]
        .map(Minutes::new)
        .into_iter()
        .find(|step| horizon / *step <= most)
        .unwrap_or(Minutes::from_hours(48.0));
    (0..=(horizon / step) as usize).map(move |i| {
        let min = step * i as f64;
        (min, if i == 0 { "0".into() } else { duration(min) })
    })
}

fn summary(map: &Map<'_>) -> String {
    let rows = map.envelope.rows.iter().step_by(4).map(|row| (row.bath_c, row.safe_min));
    hold_steady_core::words::map(rows, map.units)
}

#[cfg(test)]
mod tests {
    use super::*;
    use hold_steady_core::plan::Stretch;

    fn row(bath_c: f64, bands: &[(f64, f64, StretchKind)]) -> EnvelopeRow {
        let bands = bands
            .iter()
            .map(|&(from_min, until_min, kind)| Stretch {
                from_min: Minutes::new(from_min),
                until_min: Minutes::new(until_min),
                kind,
            })
            .collect();
        EnvelopeRow {
            bath_c: Celsius::new(bath_c),
            through_min: Some(Minutes::new(60.0)),
            safe_min: None,
            bands,
        }
    }

    #[test]
    fn rows_alike_are_joined_and_others_meet_in_the_middle() {
        use StretchKind::{NotYet, Refused, Safe, Soft, Through, Warming};
        let rows = vec![
            row(50.0, &[(0.0, 60.0, Warming), (60.0, 200.0, Through), (200.0, 240.0, Refused)]),
            row(52.0, &[(0.0, 50.0, Warming), (50.0, 200.0, Through), (200.0, 240.0, Refused)]),
            row(60.0, &[(0.0, 40.0, Warming), (40.0, 80.0, NotYet), (80.0, 240.0, Safe)]),
            row(62.0, &[(0.0, 40.0, Warming), (40.0, 200.0, Safe), (200.0, 240.0, Soft)]),
        ];
        let envelope = Envelope { rows, horizon_min: Minutes::new(240.0) };
        let all = regions(&envelope, |m| m.value(), |c| c.value());
        let kinds: Vec<&str> = all.iter().map(|r| r.kind).collect();
        let rule = ["warming", "through", "refused", "warming", "not-yet", "safe"];
        assert_eq!(
            kinds,
            [&["warming", "through", "refused"], &rule[..], &["warming", "not-yet", "safe", "soft"]].concat()
        );
        assert_eq!(all[1].points, "60,50 200,50 200,52 50,52");
        assert!(all[3].points.contains("56"), "the middle of 52 and 60: {}", all[3].points);
        // What comes to nothing ends in a point.
        assert_eq!(all[10].points, "40,60 80,60 40,62 40,62");
        assert_eq!(all[12].points, "240,60 240,60 240,62 200,62");
    }

    #[test]
    fn a_map_has_axes_in_the_reader_s_units_and_names_its_regions() {
        let bands = [(0.0, 100.0, StretchKind::Warming), (100.0, 400.0, StretchKind::Safe)];
        let rows = (0..6).map(|i| row(50.0 + 4.0 * f64::from(i), &bands)).collect();
        let envelope = Envelope { rows, horizon_min: Minutes::new(400.0) };
        let svg = maps(&Map { envelope: &envelope, units: Units::default() }).expect("renders");
        assert!(svg.contains(">60°<") && svg.contains(">2 h<") && svg.contains("at its best"));
        assert!(!svg.contains("style="));
        assert_eq!(svg.matches("<svg").count(), 2);
    }
}
