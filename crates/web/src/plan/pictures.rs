//! The pictures of an answer: the ribbon, what a later or earlier pull gives, the slice through time.

use hold_steady_core::food::Food;
use hold_steady_core::plan::{Plan, PlanRequest};
use hold_steady_core::units::{Minutes, Units, WallClock};
use hold_steady_core::words;
use jiff::Timestamp;
use serde::Serialize;

use crate::app::{PageError, clock_time, duration};
use crate::drawing::{Mark, Ribbon, Slice, line_points, ribbons, slices};

/// The pictures of an answer, and what their sliders say.
pub struct Pictures {
    pub ribbon: String,
    pub slice: String,
    pub stops_json: String,
    pub frames_json: String,
    /// The slider's range and place, whole minutes from the drop.
    pub horizon_min: u32,
    pub planned_min: u32,
    pub stop_headline: String,
    pub stop_text: String,
    pub stop_when: String,
    pub stop_level: &'static str,
    pub last_frame: usize,
    pub shown_frame: usize,
    pub frame_when: String,
}

/// Says a time as it is said elsewhere on the page.
type Clock<'a> = &'a dyn Fn(Timestamp) -> String;

#[derive(Serialize)]
struct StopShown {
    min: f64,
    when: String,
    level: &'static str,
    headline: &'static str,
    text: String,
}

#[derive(Serialize)]
struct FrameShown<'a> {
    when: String,
    centre: String,
    colours: &'a [String],
    points: String,
}

impl Pictures {
    pub fn of(
        plan: &Plan,
        request: &PlanRequest,
        units: Units,
        clock: Clock<'_>,
        zone: &WallClock,
    ) -> Result<Self, PageError> {
        let food = request.food();
        let (stops_json, planned_stop) = stops(plan, food, units, clock)?;
        let stop = &plan.stops[planned_stop];
        let (stop_headline, stop_text) = words::stop(stop, food, units);
        let slice = Slice {
            frames: &plan.frames,
            // At the pull.
            shown: plan.frames.iter().rposition(|f| f.min <= plan.bath_min).unwrap_or(0),
            thickness_mm: request.shape(request.thickness_mm).thickness().mm(),
            round: matches!(food.shape.as_str(), "cylinder" | "sphere"),
            bath_c: request.bath_c.value(),
            units,
            summary: words::slice(plan.through.middle),
        };
        Ok(Self {
            ribbon: ribbons(&ribbon(plan, zone))?,
            slice: slices(&slice)?,
            stops_json,
            frames_json: frames(&slice, plan, clock)?,
            horizon_min: plan.horizon_min.value() as u32,
            planned_min: plan.bath_min.value() as u32,
            stop_headline: stop_headline.into(),
            stop_text,
            stop_when: stop_when(plan, stop.min.value(), clock),
            stop_level: stop.verdict.level.id(),
            last_frame: plan.frames.len() - 1,
            shown_frame: slice.shown,
            frame_when: frame_when(plan, plan.frames[slice.shown].min.value(), clock),
        })
    }
}

/// The ribbon of a plan.
pub fn ribbon<'a>(plan: &'a Plan, zone: &'a WallClock) -> Ribbon<'a> {
    let mark =
        |id, word: &str, t: Timestamp, min| Mark { id, text: format!("{word} {}", clock_time(t, zone)), min };
    let t = &plan.times;
    let parts: Vec<String> = plan
        .bands
        .iter()
        .map(|b| format!("{} until {}", b.kind.words(), clock_time(plan.at(b.until_min), zone)))
        .collect();
    Ribbon {
        drop: t.drop_by,
        zone,
        bands: &plan.bands,
        curve: &plan.curve,
        marks: vec![
            mark("pull", "pull", t.pull, plan.bath_min),
            mark("serve", "serve", t.serve, plan.bath_min + plan.finish_min),
            mark("drop", "drop", t.drop_by, Minutes::new(0.0)),
        ]
        .into_iter()
        // A jar is served hours after the ribbon has ended.
        .filter(|m| m.min <= plan.horizon_min)
        .collect(),
        horizon_min: plan.horizon_min,
        summary: words::ribbon(&clock_time(t.drop_by, zone), &parts),
    }
}

/// How late or early a pull is, in words.
fn stop_when(plan: &Plan, min: f64, clock: Clock<'_>) -> String {
    let off = min - plan.bath_min.value();
    let how = match off.round() as i64 {
        0 => "as planned".to_owned(),
        m if m > 0 => format!("{} late", duration(Minutes::new(off))),
        _ => format!("{} early", duration(Minutes::new(-off))),
    };
    format!("{}, {how}", clock(plan.at(Minutes::new(min))))
}

/// The stops as the page's script reads them, and the one nearest the planned pull.
fn stops(plan: &Plan, food: &Food, units: Units, clock: Clock<'_>) -> Result<(String, usize), PageError> {
    let planned = plan
        .stops
        .iter()
        .position(|s| s.min >= plan.bath_min - Minutes::new(1e-6))
        .unwrap_or(plan.stops.len() - 1);
    let shown: Vec<StopShown> = plan
        .stops
        .iter()
        .map(|s| {
            let (headline, text) = words::stop(s, food, units);
            let when = stop_when(plan, s.min.value(), clock);
            StopShown { min: s.min.value(), when, level: s.verdict.level.id(), headline, text }
        })
        .collect();
    Ok((json(&shown)?, planned))
}

fn frame_when(plan: &Plan, min: f64, clock: Clock<'_>) -> String {
    format!("{} in, at {}", duration(Minutes::new(min)), clock(plan.at(Minutes::new(min))))
}

fn frames(slice: &Slice<'_>, plan: &Plan, clock: Clock<'_>) -> Result<String, PageError> {
    let shown: Vec<FrameShown<'_>> = plan
        .frames
        .iter()
        .map(|f| FrameShown {
            when: frame_when(plan, f.min.value(), clock),
            centre: slice.units.temperature_fixed(f.centre_c),
            colours: &f.colours,
            points: line_points(slice, f),
        })
        .collect();
    json(&shown)
}

/// JSON that may stand inside a script element: no `<` can end it early.
fn json(value: &impl Serialize) -> Result<String, PageError> {
    let text = serde_json::to_string(value).map_err(|e| PageError::Request(e.to_string()))?;
    Ok(text.replace('<', "\\u003c"))
}
