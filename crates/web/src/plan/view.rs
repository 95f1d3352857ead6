//! What the plan page shows, in words and pictures.

use actix_web::HttpRequest;
use hold_steady_core::food::catalogue;
use hold_steady_core::plan::{Explanation, From, Plan, PlanForm, PlanRequest, Reading, explain, plan};
use hold_steady_core::safety::{Level, Reason};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::Serialize;
use uuid::Uuid;

use crate::app::{AppState, PageError, clock_time, day_and_time, duration, near_time, reader_units};
use crate::drawing::{Mark, Ribbon, Slice, line_points, ribbons, slices};

/// A choice of a list.
pub struct Choice {
    pub value: String,
    pub text: String,
    pub chosen: bool,
}

/// The sentence with everything that can be chosen in it.
pub struct Sentence {
    pub form: PlanForm,
    pub foods: Vec<Choice>,
    pub starts: Vec<Choice>,
    pub doneness: Vec<Choice>,
    pub intact: Vec<Choice>,
    pub guests: Vec<Choice>,
    errors: std::collections::BTreeMap<&'static str, String>,
    /// After a change: whether the core filled these fields with something else than was typed.
    pub swap_thickness: bool,
    pub swap_bath: bool,
    pub swap_done: bool,
}

impl Sentence {
    pub fn new(reading: Reading) -> Self {
        let form = reading.form;
        let choice = |value: &str, text: &str, now: &str| Choice {
            value: value.into(),
            text: text.into(),
            chosen: value == now,
        };
        let food = catalogue().food(&form.food).unwrap_or(&catalogue().foods[0]);
        let mut doneness: Vec<Choice> =
            food.doneness.iter().map(|d| choice(&d.id, &d.name, &form.done)).collect();
        if form.done == "own" {
            doneness.push(choice("own", "a temperature of my own", "own"));
        }
        let mut intact = vec![
            choice("whole", "whole, never pierced", &form.intact),
            choice("bladed", "bladed, injected or rolled", &form.intact),
        ];
        if form.intact != "whole" && form.intact != "bladed" {
            intact.insert(0, Choice { value: String::new(), text: "whole or bladed?".into(), chosen: true });
        }
        Self {
            foods: catalogue().plannable().map(|f| choice(&f.id, &f.name, &form.food)).collect(),
            starts: From::ALL.into_iter().map(|f| choice(f.id(), &f.start().label, &form.from)).collect(),
            doneness,
            intact,
            guests: vec![
                choice("well", "guests not at risk", &form.guests),
                choice("at-risk", "a guest at risk", &form.guests),
            ],
            errors: reading.errors,
            form,
            swap_thickness: false,
            swap_bath: false,
            swap_done: false,
        }
    }

    /// The same, as the answer to `typed`: says which fields must be shown anew. The field under the
    /// cook's fingers is never among them, for what was typed there is kept.
    pub fn after(mut self, typed: &PlanForm) -> Self {
        self.swap_thickness = self.form.thickness != typed.thickness;
        self.swap_bath = self.form.bath != typed.bath;
        self.swap_done = self.form.done != typed.done || self.form.food != typed.food_was;
        self
    }

    /// What is wrong with a field; empty when nothing is.
    pub fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }

    pub fn wrong(&self, field: &str) -> bool {
        self.errors.contains_key(field)
    }
}

/// One clock time of the answer.
pub struct When {
    /// Identifier of its explanation.
    pub id: &'static str,
    pub label: String,
    pub time: String,
    /// The other end, or what belongs to it.
    pub note: String,
}

/// The answer as it is shown.
pub struct Answer {
    pub form: PlanForm,
    pub cook_id: Uuid,
    pub refused: bool,
    pub level: &'static str,
    pub headline: String,
    pub lead: String,
    pub too_soon: Option<String>,
    pub day: String,
    /// Drop, pull, serve.
    pub main: Vec<When>,
    /// The rest, in order of time.
    pub others: Vec<When>,
    pub caution: Option<String>,
    pub advice: Option<String>,
    pub open_question: bool,
    pub reasons: Vec<Reason>,
    pub way_out: Option<String>,
    pub about: String,
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
    pub explanations: Vec<Explanation>,
}

#[derive(Serialize)]
struct StopShown<'a> {
    min: f64,
    when: String,
    level: &'static str,
    headline: &'a str,
    text: &'a str,
}

#[derive(Serialize)]
struct FrameShown<'a> {
    when: String,
    centre: &'a str,
    colours: &'a [String],
    points: String,
}

impl Answer {
    pub fn new(
        state: &AppState,
        http: &HttpRequest,
        form: &PlanForm,
        request: &PlanRequest,
        now: Timestamp,
    ) -> Result<Self, PageError> {
        let units = reader_units(http);
        let zone = &state.kitchen.zone;
        let plan = plan(request, now, units)?;
        let refused = plan.is_refused();
        let (headline, lead) = verdict_words(&plan, request, now, zone);
        let (stops_json, planned_stop) = stops(&plan, now, zone)?;
        let shown = &plan.stops[planned_stop];
        let slice = Slice {
            frames: &plan.frames,
            shown: plan.frames.len() * 2 / 7,
            thickness_mm: request.thickness_mm,
            bath_c: request.bath_c,
            units,
            summary: format!(
                "Cross-section through the thickness, computed. Heated through after {}.",
                duration(plan.through.nominal)
            ),
        };
        Ok(Self {
            form: form.clone(),
            cook_id: super::fresh_id(state),
            refused,
            level: plan.verdict.level.id(),
            headline,
            lead,
            too_soon: too_soon(&plan, request, zone),
            day: day_of(plan.times.serve, now, zone),
            main: main_times(&plan, request, now, zone),
            others: other_times(&plan, now, zone),
            caution: plan.caution.clone(),
            advice: plan.advice.clone(),
            open_question: request.intact.is_none(),
            reasons: plan.verdict.reasons.clone(),
            way_out: plan.verdict.way_out.as_ref().map(|w| w.text.clone()),
            about: request.food().about.clone(),
            ribbon: ribbons(&ribbon(&plan, zone))?,
            frames_json: frames(&slice, &plan, now, zone)?,
            stop_when: stop_when(&plan, shown.min, now, zone),
            stop_headline: shown.headline.clone(),
            stop_text: shown.text.clone(),
            stop_level: shown.level.id(),
            horizon_min: plan.horizon_min as u32,
            planned_min: plan.bath_min as u32,
            stops_json,
            last_frame: plan.frames.len() - 1,
            shown_frame: slice.shown,
            frame_when: frame_when(&plan, plan.frames[slice.shown].min, now, zone),
            slice: slices(&slice)?,
            explanations: explain(request, &plan, units),
        })
    }
}

fn verdict_words(plan: &Plan, request: &PlanRequest, now: Timestamp, zone: &TimeZone) -> (String, String) {
    let in_bath = duration(plan.bath_min);
    match plan.verdict.level {
        Level::Pasteurized | Level::Exempt => {
            let at = plan.times.pasteurised.map_or(plan.times.pull, |r| r.until);
            (
                format!("Pasteurised at {}, for every guest", near_time(at, now, zone)),
                format!("{in_bath} in the bath, counted at the slow end."),
            )
        }
        Level::ServeNow => (
            "Serve at once, to guests not at risk".into(),
            format!("Heated through after {in_bath}; not pasteurised."),
        ),
        Level::Refused if request.at_risk => {
            ("Not for a guest at risk".into(), "This bath does not make it safe for them.".into())
        }
        Level::Refused => ("Not like this".into(), "This plan would not be safe to serve.".into()),
    }
}

fn too_soon(plan: &Plan, request: &PlanRequest, zone: &TimeZone) -> Option<String> {
    let asked = request.ready_at.filter(|_| !plan.in_time)?;
    Some(format!(
        "{} is too soon: preheating, {} in the bath and the finish take until {}. That is the earliest, and these are its times.",
        day_and_time(asked, zone),
        duration(plan.bath_min),
        day_and_time(plan.earliest_ready, zone)
    ))
}

/// The day of serving, where it is not today.
fn day_of(t: Timestamp, now: Timestamp, zone: &TimeZone) -> String {
    let (then, today) = (t.to_zoned(zone.clone()).date(), now.to_zoned(zone.clone()).date());
    if then == today { String::new() } else { t.to_zoned(zone.clone()).strftime("%A %-d %B").to_string() }
}

fn main_times(plan: &Plan, request: &PlanRequest, now: Timestamp, zone: &TimeZone) -> Vec<When> {
    let t = &plan.times;
    let earlier = plan.times.drop_from < plan.times.drop_by;
    let drop_note = if earlier {
        format!("or as early as {}", near_time(t.drop_from, now, zone))
    } else {
        format!("{} in the bath", duration(plan.bath_min))
    };
    let best = t.best_until.from;
    let pull_note = if best > t.pull {
        format!("it may wait until {}", near_time(best, now, zone))
    } else {
        "do not let it wait".into()
    };
    let serve_note =
        if request.ready_at.is_some() && plan.in_time { "as asked" } else { "the earliest it can be" };
    // The day of a large time stands in its label.
    let large = |id, word: &str, t: Timestamp, note| {
        let label = match near_time(t, now, zone).split_once(' ') {
            Some((day, _)) => format!("{word}, {day}"),
            None => word.to_owned(),
        };
        When { id, label, time: clock_time(t, zone), note }
    };
    vec![
        large("drop", "Drop by", t.drop_by, drop_note),
        large("pull", "Pull", t.pull, pull_note),
        large("serve", "Serve", t.serve, serve_note.into()),
    ]
}

fn other_times(plan: &Plan, now: Timestamp, zone: &TimeZone) -> Vec<When> {
    let t = &plan.times;
    let pasteurised = t.pasteurised.map_or_else(
        || When {
            id: "pasteurised",
            label: "Pasteurised".into(),
            time: "never".into(),
            note: "in this bath".into(),
        },
        |r| When {
            id: "pasteurised",
            label: "Pasteurised at".into(),
            time: near_time(r.until, now, zone),
            note: format!("from {} at the fast end", near_time(r.from, now, zone)),
        },
    );
    vec![
        When {
            id: "preheat",
            label: "Preheat by".into(),
            time: near_time(t.preheat_by, now, zone),
            note: "bath on".into(),
        },
        When {
            id: "through",
            label: "Heated through".into(),
            time: near_time(t.through.until, now, zone),
            note: format!("from {} at the fast end", near_time(t.through.from, now, zone)),
        },
        pasteurised,
        When {
            id: "best",
            label: "Best until".into(),
            time: near_time(t.best_until.from, now, zone),
            note: if t.best_until.from == t.best_until.until {
                "if dropped on time".into()
            } else {
                format!("to {} at the slow end", near_time(t.best_until.until, now, zone))
            },
        },
        When {
            id: "sear",
            label: "Sear".into(),
            time: near_time(t.sear, now, zone),
            note: "after drying and a pause".into(),
        },
    ]
}

/// The ribbon of a plan.
pub fn ribbon<'a>(plan: &'a Plan, zone: &'a TimeZone) -> Ribbon<'a> {
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
        marks: vec![
            mark("pull", "pull", t.pull, plan.bath_min),
            mark("serve", "serve", t.serve, plan.bath_min + plan.finish_min),
            mark("drop", "drop", t.drop_by, 0.0),
        ],
        horizon_min: plan.horizon_min,
        summary: format!("From the drop at {}: {}.", clock_time(t.drop_by, zone), parts.join("; ")),
    }
}

/// How late or early a pull is, in words.
fn stop_when(plan: &Plan, min: f64, now: Timestamp, zone: &TimeZone) -> String {
    let off = min - plan.bath_min;
    let how = match off.round() as i64 {
        0 => "as planned".to_owned(),
        m if m > 0 => format!("{} late", duration(off)),
        _ => format!("{} early", duration(-off)),
    };
    format!("{}, {how}", near_time(plan.at(min), now, zone))
}

/// The stops as the page's script reads them, and the one nearest the planned pull.
fn stops(plan: &Plan, now: Timestamp, zone: &TimeZone) -> Result<(String, usize), PageError> {
    let planned =
        plan.stops.iter().position(|s| s.min >= plan.bath_min - 1e-6).unwrap_or(plan.stops.len() - 1);
    let shown: Vec<StopShown<'_>> = plan
        .stops
        .iter()
        .map(|s| StopShown {
            min: s.min,
            when: stop_when(plan, s.min, now, zone),
            level: s.level.id(),
            headline: &s.headline,
            text: &s.text,
        })
        .collect();
    Ok((json(&shown)?, planned))
}

fn frame_when(plan: &Plan, min: f64, now: Timestamp, zone: &TimeZone) -> String {
    format!("{} in, at {}", duration(min), near_time(plan.at(min), now, zone))
}

fn frames(slice: &Slice<'_>, plan: &Plan, now: Timestamp, zone: &TimeZone) -> Result<String, PageError> {
    let shown: Vec<FrameShown<'_>> = plan
        .frames
        .iter()
        .map(|f| FrameShown {
            when: frame_when(plan, f.min, now, zone),
            centre: &f.centre,
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
