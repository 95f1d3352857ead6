//! The scale of a food's doneness: its levels, the schools, the kitchen's own, and where no table reaches.

use askama::Template;
use hold_steady_core::food::Food;
use hold_steady_core::units::{Celsius, Units};

use super::{NARROW, WIDE, px};
use crate::app::PageError;

/// What a scale shows.
pub struct Scale<'a> {
    /// The food.
    pub food: &'a Food,
    /// The bath this kitchen has found right, °C.
    pub dialled_c: Option<Celsius>,
    /// The reader's units.
    pub units: Units,
}

struct Tick {
    x: String,
    text_x: String,
    text: String,
    kind: &'static str,
}

#[derive(Template)]
#[template(path = "drawing/scale.html")]
struct Drawing {
    size: &'static str,
    width: f64,
    /// Width of the zone no table reaches, where there is one.
    zone: Option<String>,
    levels: Vec<Tick>,
    schools: Vec<Tick>,
    summary: String,
}

/// Draws a scale for both widths.
pub fn scales(scale: &Scale<'_>) -> Result<String, PageError> {
    Ok(drawing(scale, WIDE, "wide").render()? + &drawing(scale, NARROW, "narrow").render()?)
}

/// Width of a letter of the labels, roughly.
const LETTER: f64 = 7.0;

fn drawing(scale: &Scale<'_>, width: f64, size: &'static str) -> Drawing {
    let range = scale.food.bath_c;
    let x = |c: f64| width * ((c - range.low.value()) / (range.high - range.low).value()).clamp(0.0, 1.0);
    let degrees = |c: Celsius| scale.units.temperature(c);
    let zone = scale.food.no_table_below_c().map(|c| x(c.value().min(range.high.value())));
    let mut taken = Vec::new();
    let mut levels: Vec<Tick> = Vec::new();
    if let Some(c) = scale.dialled_c {
        levels.push(tick(&mut taken, width, x(c.value()), format!("ours {}", degrees(c)), "ours"));
    }
    // The short words first: a long one finds room beside its mark.
    let mut doneness: Vec<_> = scale.food.doneness.iter().collect();
    doneness.sort_by_key(|d| d.name.len());
    levels.extend(
        doneness.into_iter().map(|d| tick(&mut taken, width, x(d.c.value()), d.name.clone(), "level")),
    );
    let schools: Vec<Tick> = scale
        .food
        .schools
        .iter()
        .map(|s| tick(&mut Vec::new(), width, x(s.c.value()), String::new(), "school"))
        .collect();
    Drawing {
        size,
        width,
        zone: zone.map(px),
        levels,
        schools,
        summary: hold_steady_core::words::scale((range.low, range.high), scale.food, scale.units),
    }
}

/// A mark with its words over it, or beside it, where they do not run into others; else the mark alone.
fn tick(taken: &mut Vec<(f64, f64)>, width: f64, at: f64, text: String, kind: &'static str) -> Tick {
    const GAP: f64 = 8.0;
    let length = text.chars().count() as f64 * LETTER;
    let room = (width - length).max(0.0);
    let spots = [at - length / 2.0, at - length + GAP, at - GAP].map(|from| from.clamp(0.0, room));
    let free = |from: &f64| taken.iter().all(|(a, b)| from + length + GAP < *a || from - GAP > *b);
    let from = spots.into_iter().find(|from| length < width && free(from));
    if let Some(from) = from {
        taken.push((from, from + length));
    }
    Tick {
        x: px(at.clamp(1.0, width - 1.0)),
        text_x: px(from.unwrap_or(0.0) + length / 2.0),
        text: if from.is_some() { text } else { String::new() },
        kind,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use hold_steady_core::food::catalogue;

    #[test]
    fn every_level_of_a_steak_finds_room_for_its_words_on_a_laptop() {
        let food = catalogue().food("beef-strip").expect("in the catalogue");
        let d = drawing(&Scale { food, dialled_c: None, units: Units::default() }, WIDE, "wide");
        assert!(d.levels.iter().all(|t| !t.text.is_empty()));
        // Their figures stand in the line under it.
        assert_eq!(d.schools.len(), 4);
    }

    #[test]
    fn labels_do_not_run_into_each_other_and_the_zone_is_marked_where_it_matters() {
        for food in catalogue().listed() {
            let scale = Scale { food, dialled_c: None, units: Units::default() };
            for width in [WIDE, NARROW] {
                let d = drawing(&scale, width, "wide");
                let spans: Vec<(f64, f64)> = d
                    .levels
                    .iter()
                    .filter(|t| !t.text.is_empty())
                    .map(|t| {
                        let half = t.text.chars().count() as f64 * LETTER / 2.0;
                        let x: f64 = t.text_x.parse().expect("a number");
                        (x - half, x + half)
                    })
                    .collect();
                for (i, a) in spans.iter().enumerate() {
                    assert!(a.0 >= -0.1 && a.1 <= width + 0.1, "{}", food.id);
                    assert!(spans[i + 1..].iter().all(|b| a.1 <= b.0 || b.1 <= a.0), "{}", food.id);
                }
            }
            let marked = drawing(&scale, WIDE, "wide").zone.is_some();
            assert_eq!(marked, food.no_table_below_c().is_some(), "{}", food.id);
        }
    }
}
