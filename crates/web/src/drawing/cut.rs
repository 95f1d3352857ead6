//! A piece cut through, face to face, to scale: the colours of its inside, crust, and how deep the band is.

use askama::Template;
use hold_steady_core::food::Food;
use hold_steady_core::sear::{Frame, Seared};

use super::px;
use crate::app::PageError;

/// What a cut shows.
#[derive(Debug, Clone, Copy)]
pub struct Cut<'a> {
    /// The food, for its colours.
    pub food: &'a Food,
    /// What came of it; its layers.
    pub seared: &'a Seared,
    /// Up to when; the end where there is none.
    pub frame: Option<&'a Frame>,
    /// How deep the band is from each face, where it is marked, mm.
    pub band_mm: Option<[f64; 2]>,
    /// Pixels for a millimetre.
    pub px_mm: f64,
    /// How wide it is drawn, pixels.
    pub width: f64,
    /// In a sentence, for those who do not see it.
    pub summary: &'a str,
    /// A name for the script that scrubs it.
    pub id: &'a str,
}

struct Strip {
    y: String,
    height: String,
    colour: String,
}

#[derive(Template)]
#[template(path = "drawing/cut.html")]
struct Drawing<'a> {
    id: &'a str,
    width: f64,
    height: String,
    strips: Vec<Strip>,
    crust: [(String, String); 2],
    bands: Vec<String>,
    summary: &'a str,
}

/// The boundaries of the layers under the first face, mm.
fn boundaries(seared: &Seared) -> Vec<f64> {
    let mut at = vec![0.0];
    for l in &seared.layers[1..seared.layers.len() - 1] {
        let top = at[at.len() - 1];
        at.push(2.0 * l.depth_mm - top);
    }
    at
}

/// The colours of the layers, by the highest they saw.
pub fn colours(food: &Food, seared: &Seared, frame: Option<&Frame>) -> Vec<String> {
    let whole = seared.layers.last().map_or(1.0, |l| l.depth_mm);
    let last = seared.layers.len() - 1;
    (1..last)
        .map(|i| {
            let depth = seared.layers[i].depth_mm;
            let highest = frame.map_or(seared.layers[i].max_c, |f| f.c[i].1);
            food.flesh().colour(highest, depth.min(whole - depth) / (whole / 2.0))
        })
        .collect()
}

/// Draws a cut.
pub fn cut(cut: &Cut<'_>) -> Result<String, PageError> {
    let at = boundaries(cut.seared);
    let whole = at[at.len() - 1];
    let colours = colours(cut.food, cut.seared, cut.frame);
    let scale = cut.px_mm;
    let strips = colours.into_iter().enumerate().map(|(i, colour)| Strip {
        y: px(at[i] * scale),
        // A hair higher, so that no seam shows.
        height: format!("{:.2}", (at[i + 1] - at[i]) * scale + 0.4),
        colour,
    });
    let crust_mm = cut.frame.map_or(cut.seared.faces.map(|f| f.crust_mm), |f| f.crust_mm);
    let thick = |mm: f64| format!("{:.2}", mm * scale);
    let bands = cut.band_mm.map_or(Vec::new(), |[a, b]| vec![px(a * scale), px((whole - b) * scale)]);
    Ok(Drawing {
        id: cut.id,
        width: cut.width,
        height: px(whole * scale),
        strips: strips.collect(),
        crust: [("0".into(), thick(crust_mm[0])), (px((whole - crust_mm[1]) * scale), thick(crust_mm[1]))],
        bands,
        summary: cut.summary,
    }
    .render()?)
}

#[derive(Template)]
#[template(path = "drawing/measure.html")]
struct Measure {
    height: String,
    bottom: String,
    marks: Vec<String>,
    labels: Vec<(String, String)>,
}

/// Measures beside a cut of the same scale: its crust and its band from one face, and its whole thickness; each mm, and as
/// it is said. For the eye: the numbers are said elsewhere too.
pub fn measure([crust, band, whole]: [(f64, String); 3], px_mm: f64) -> Result<String, PageError> {
    const LINE: f64 = 17.0;
    let bottom = whole.0 * px_mm;
    let marks = [0.0, crust.0, band.0, whole.0];
    // Thin as they are, their words keep apart.
    let middle = (bottom / 2.0 + 5.0).max(13.0 + 2.0 * LINE);
    Ok(Measure {
        height: px(bottom.max(middle + 4.0)),
        bottom: px(bottom),
        marks: marks.map(|mm| px(mm * px_mm)).to_vec(),
        labels: vec![(px(13.0), crust.1), (px(13.0 + LINE), band.1), (px(middle), whole.1)],
    }
    .render()?)
}
