//! The bath's cross-section: vessel, water line, lowest and highest line, heater, bags, cover.

use askama::Template;
use hold_steady_core::bath::{Cover, Heat, Vessel};
use hold_steady_core::units::{Length, Units};
use hold_steady_core::words;

use super::px;
use crate::app::PageError;

/// What a cross-section shows.
#[derive(Debug, Clone)]
pub struct Section<'a> {
    /// The vessel.
    pub vessel: &'a Vessel,
    /// How high the water stands with what lies in it.
    pub water: Length,
    /// What lies over it.
    pub cover: Cover,
    /// How thick each bag is, and how many there are; none where nothing lies in it.
    pub bags: Option<(Length, usize)>,
    /// What stands in the water: its temperature.
    pub label: String,
    /// The reader's units.
    pub units: Units,
}

struct Mark {
    y: String,
    text: String,
    class: &'static str,
    text_y: String,
}

struct Bag {
    x: String,
    y: String,
    width: String,
    height: String,
}

#[derive(Template)]
#[template(path = "drawing/section.html")]
struct Drawing {
    outline: String,
    water: String,
    surface: (String, String, String),
    marks: Vec<Mark>,
    bags: Vec<Bag>,
    heater: Option<(String, String)>,
    burner: Option<String>,
    cover: &'static str,
    cover_words: &'static str,
    balls: Vec<(String, String)>,
    lid: (String, String, String),
    label: String,
    middle: (String, String),
    /// Where the picture begins, and how high it is.
    top: String,
    high: String,
    insulated: bool,
    summary: String,
}

const FLOOR: f64 = 250.0;
const TALL: f64 = 196.0;
const BROAD: f64 = 250.0;
const MIDDLE: f64 = 168.0;
/// Bags drawn at most: more would be no picture.
const MOST_BAGS: usize = 6;

/// Draws it.
///
/// # Errors
/// When the template fails.
pub fn section(s: &Section<'_>) -> Result<String, PageError> {
    let v = s.vessel;
    let scale = (TALL / v.depth_mm.mm()).min(BROAD / v.across_mm.mm());
    let y = |h: Length| FLOOR - h.mm() * scale;
    let half = |h: Length| v.across_mm.mm() * scale / 2.0 * (1.0 - v.narrower * (1.0 - h / v.depth_mm));
    let (top, bottom, at) = (half(v.depth_mm), half(Length::ZERO), half(s.water));
    let point = |x: f64, y: f64| format!("{},{}", px(x), px(y));
    let brim = y(v.depth_mm);
    let sides = |half: f64, y: f64| [point(MIDDLE - half, y), point(MIDDLE + half, y)];
    let [tl, tr] = sides(top, brim);
    let [bl, br] = sides(bottom, FLOOR);
    let surface = y(s.water.min(v.depth_mm));
    let [wl, wr] = sides(at.min(top), surface);
    let line = |h: Length, what: &str, class| Mark {
        y: px(y(h)),
        text: format!("{what}, {}", s.units.length(h)),
        class,
        text_y: px(y(h) + 4.0),
    };
    let mut marks = vec![
        line(v.max_mm, "highest", "section-line"),
        line(s.water, "water", "section-level"),
        line(v.min_mm, "lowest", "section-line"),
    ];
    apart(&mut marks);
    let pieces = s.bags.map_or(0, |b| b.1.clamp(1, MOST_BAGS));
    let bags =
        s.bags.map_or_else(Vec::new, |(thick, _)| bags(thick.mm() * scale, pieces, bottom, FLOOR, surface));
    let edge = MIDDLE + at.min(top);
    let step = 15.0;
    let fit = (at * 2.0 / step).floor() as usize;
    let balls = (0..fit).map(|i| (px(MIDDLE - at + step * (i as f64 + 0.5)), px(surface - 2.0))).collect();
    Ok(Drawing {
        outline: format!("{tl} {bl} {br} {tr}"),
        water: format!("{wl} {bl} {br} {wr}"),
        surface: (px(MIDDLE - at.min(top)), px(edge), px(surface)),
        marks,
        bags,
        heater: (v.heat == Heat::Heater).then(|| (px(MIDDLE + bottom - 16.0), px(brim - 8.0))),
        burner: (v.heat == Heat::Burner).then(|| px(FLOOR + 8.0)),
        cover: s.cover.id(),
        cover_words: words::cover(s.cover),
        balls,
        lid: (px(MIDDLE - top - 6.0), px(top * 2.0 + 12.0), px(brim - 9.0)),
        label: s.label.clone(),
        // Over the bags, under the surface.
        middle: (px(MIDDLE), px(surface + (FLOOR - surface).min(110.0) * 0.32 + 9.0)),
        top: px(brim - 34.0),
        high: px(276.0 - (brim - 34.0)),
        insulated: v.wall == hold_steady_core::bath::Wall::Cooler,
        summary: summary(s),
    }
    .render()?)
}

/// The drawing for who cannot see it.
fn summary(s: &Section<'_>) -> String {
    let (v, length) = (s.vessel, |l: Length| s.units.length(l));
    format!(
        "{} in cross-section: water {} high of {} to the brim, lowest line {}, highest {}, {}, {}.{}",
        v.name,
        length(s.water),
        length(v.depth_mm),
        length(v.min_mm),
        length(v.max_mm),
        words::cover(s.cover),
        s.label,
        s.bags.map_or_else(String::new, |(thick, _)| crate::words::bath::pieces_in_it(&length(thick)))
    )
}

/// Bags upright side by side, as thick as they are, two thirds as high as the water.
fn bags(thick: f64, pieces: usize, half: f64, floor: f64, surface: f64) -> Vec<Bag> {
    let high = (floor - surface) * 0.5;
    let room = half * 2.0 - 44.0;
    let thick = thick.min(room / pieces as f64 - 4.0).max(3.0);
    let gap = ((room - thick * pieces as f64) / (pieces as f64 + 1.0)).max(4.0);
    let left = MIDDLE - half + 8.0;
    (0..pieces)
        .map(|i| Bag {
            x: px(left + gap * (i as f64 + 1.0) + thick * i as f64),
            y: px(floor - high - 14.0),
            width: px(thick),
            height: px(high),
        })
        .collect()
}

/// Words that would lie on one another are moved apart; their lines stay.
fn apart(marks: &mut [Mark]) {
    const LEAST: f64 = 17.0;
    let mut order: Vec<usize> = (0..marks.len()).collect();
    let at = |m: &Mark| m.text_y.parse::<f64>().unwrap_or(0.0);
    order.sort_by(|a, b| at(&marks[*a]).total_cmp(&at(&marks[*b])));
    for pair in 1..order.len() {
        let (above, here) = (at(&marks[order[pair - 1]]), at(&marks[order[pair]]));
        if here - above < LEAST {
            marks[order[pair]].text_y = px(above + LEAST);
        }
    }
}
