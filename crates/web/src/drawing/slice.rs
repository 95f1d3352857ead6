//! The slice.

use askama::Template;
use hold_steady_core::plan::Frame;
use hold_steady_core::units::{Celsius, Length, LengthUnit, Units, trimmed};

use super::{NARROW, px};
use crate::app::PageError;

/// What a slice shows.
#[derive(Debug, Clone)]
pub struct Slice<'a> {
    /// The pictured instants.
    pub frames: &'a [Frame],
    /// Which of them is drawn first.
    pub shown: usize,
    /// Thickness, mm.
    pub thickness_mm: f64,
    /// Seen through a diameter rather than a thickness.
    pub round: bool,
    /// Bath, °C.
    pub bath_c: f64,
    /// The reader's units.
    pub units: Units,
    /// In a sentence, for those who do not see it.
    pub summary: String,
}

struct Layer {
    x: String,
    colour: String,
}

struct Tick {
    at: String,
    label: String,
}

#[derive(Template)]
#[template(path = "drawing/slice.html")]
struct Drawing<'a> {
    size: &'static str,
    width: f64,
    food_x: f64,
    food_width: f64,
    right_x: f64,
    centre_x: f64,
    layers: Vec<Layer>,
    layer_width: String,
    points: String,
    centre: String,
    bath: String,
    bath_y: String,
    degrees: Vec<Tick>,
    depths: Vec<Tick>,
    depth_symbol: &'static str,
    through: &'static str,
    summary: &'a str,
}

/// Width of the wide drawing: half a page.
const HALF_WIDE: f64 = 576.0;
/// Room for the temperature axis, and for the bath on either side.
const AXIS: f64 = 44.0;
const BATH: f64 = 40.0;
/// Top and height of the food.
const TOP: f64 = 12.0;
const HEIGHT: f64 = 176.0;

/// The coldest and the hottest the axis shows, °C.
fn range(slice: &Slice<'_>) -> (f64, f64) {
    let coldest = slice.frames.iter().flat_map(|f| &f.celsius).fold(0.0_f64, |a, b| a.min(*b));
    ((coldest / 10.0).floor() * 10.0, (slice.bath_c / 10.0).ceil() * 10.0 + 5.0)
}

/// Draws a slice for both widths.
pub fn slices(slice: &Slice<'_>) -> Result<String, PageError> {
    Ok(drawing(slice, HALF_WIDE, "wide").render()? + &drawing(slice, NARROW, "narrow").render()?)
}

/// The profile's line in a box of one unit a layer and a hundred high, both halves.
pub fn line_points(slice: &Slice<'_>, frame: &Frame) -> String {
    let (low, high) = range(slice);
    let both = frame.celsius.iter().chain(frame.celsius.iter().rev());
    both.enumerate()
        .map(|(i, c)| format!("{:.1},{:.1}", i as f64 + 0.5, 100.0 * (high - c) / (high - low)))
        .collect::<Vec<_>>()
        .join(" ")
}

fn drawing<'a>(slice: &'a Slice<'_>, width: f64, size: &'static str) -> Drawing<'a> {
    let frame = &slice.frames[slice.shown.min(slice.frames.len() - 1)];
    let layers = frame.colours.len() * 2;
    let food_x = AXIS + BATH;
    let food_width = width - food_x - BATH;
    let layer = food_width / layers as f64;
    let colours = frame.colours.iter().chain(frame.colours.iter().rev());
    let (low, high) = range(slice);
    let y = |c: f64| TOP + HEIGHT * (high - c) / (high - low);
    let u = slice.units;
    Drawing {
        size,
        width,
        food_x,
        food_width,
        right_x: width - BATH,
        centre_x: food_x + food_width / 2.0,
        layers: colours
            .enumerate()
            .map(|(i, c)| Layer { x: px(food_x + layer * i as f64), colour: c.clone() })
            .collect(),
        // A hair wider, so that no seam shows between two layers.
        layer_width: px(layer + 0.6),
        points: line_points(slice, frame),
        centre: u.temperature_fixed(frame.centre_c),
        bath: u.temperature(Celsius::new(slice.bath_c)),
        bath_y: px(y(slice.bath_c)),
        degrees: degree_ticks(low, high, u).map(|(c, label)| Tick { at: px(y(c)), label }).collect(),
        depths: depth_ticks(slice.thickness_mm, width, u)
            .map(|(mm, label)| Tick { at: px(food_x + food_width * mm / slice.thickness_mm), label })
            .collect(),
        depth_symbol: u.length_symbol(),
        through: if slice.round { "across the diameter" } else { "through the thickness" },
        summary: &slice.summary,
    }
}

fn degree_ticks(low: f64, high: f64, units: Units) -> impl Iterator<Item = (f64, String)> {
    let (bottom, top) = (units.degrees(Celsius::new(low)), units.degrees(Celsius::new(high)));
    let step = if top - bottom > 90.0 { 40.0 } else { 20.0 };
    let first = (bottom / step).ceil() as i64;
    let last = (top / step).floor() as i64;
    (first..=last).map(move |i| {
        let degrees = i as f64 * step;
        // Back to °C for the place on the axis.
        let per_degree = (high - low) / (top - bottom);
        (low + (degrees - bottom) * per_degree, format!("{degrees:.0}°"))
    })
}

fn depth_ticks(thickness_mm: f64, width: f64, units: Units) -> impl Iterator<Item = (f64, String)> {
    let most = if width < 400.0 { 5.0 } else { 9.0 };
    let (unit_mm, steps): (f64, &[f64]) = match units.length {
        LengthUnit::Mm => (1.0, &[1.0, 2.0, 5.0, 10.0, 20.0, 50.0]),
        LengthUnit::In => (Length::from_inches(1.0).mm(), &[0.125, 0.25, 0.5, 1.0, 2.0]),
    };
    let whole = thickness_mm / unit_mm;
    let step = steps.iter().copied().find(|s| whole / s <= most).unwrap_or(whole);
    let count = (whole / step + 1e-6).floor() as usize;
    (0..=count).map(move |i| {
        let at = step * i as f64;
        (at * unit_mm, trimmed(at, 3))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use hold_steady_core::units::Minutes;
    use hold_steady_core::units::TemperatureUnit;

    fn frame() -> Frame {
        Frame {
            min: Minutes::new(30.0),
            centre_c: Celsius::new(41.0),
            celsius: vec![54.0, 50.0, 45.0, 41.0],
            colours: vec!["#aa0000".into(); 4],
        }
    }

    fn slice(frames: &[Frame], units: Units) -> Slice<'_> {
        Slice {
            frames,
            shown: 0,
            thickness_mm: 38.1,
            round: false,
            bath_c: 55.0,
            units,
            summary: "A slice".into(),
        }
    }

    #[test]
    fn the_line_is_symmetrical_and_hotter_is_higher() {
        let frames = [frame()];
        let points = line_points(&slice(&frames, Units::default()), &frames[0]);
        let ys: Vec<f64> = points
            .split(' ')
            .map(|p| p.split(',').nth(1).expect("a pair").parse().expect("a number"))
            .collect();
        assert_eq!(ys.len(), 8);
        assert!((0..4).all(|i| ys[i] == ys[7 - i]));
        assert!(ys[0] < ys[3], "54 °C stands above 41 °C");
    }

    #[test]
    fn axes_are_in_the_reader_s_units() {
        let frames = [frame()];
        let metric = slices(&slice(&frames, Units::default())).expect("renders");
        assert!(metric.contains(">60°<") && metric.contains(">30<") && metric.contains("thickness, mm"));
        let units = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let imperial = slices(&slice(&frames, units)).expect("renders");
        assert!(
            imperial.contains(">120°<") && imperial.contains(">1.5<") && imperial.contains("thickness, in")
        );
        assert!(imperial.contains("131 °F"));
    }
}
