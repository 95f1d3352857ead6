//! The bench: a vessel, water and food, worked out.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::{BenchForm, Cover, Heat};
use hold_steady_core::book::KeptVessel;
use hold_steady_core::units::Units;
use hold_steady_core::words::{self, Tone};
use hold_steady_store::{NewBath, new_id};
use serde::Deserialize;
use uuid::Uuid;

use super::equipment::known;
use crate::app::{self, AppState, Here, PageError, Place, Shell, compute, html, reader_units, see_other};
use crate::drawing::{Section, section};

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(app::resource("/bath/vessels/{id}").route(app::get(page)))
        .service(app::resource("/bath/vessels/{id}/answer").route(app::get(answer)))
        .service(app::resource("/bath/fill").route(web::post().to(fill)));
}

/// A line of the answer.
struct Line {
    what: &'static str,
    figure: String,
    text: String,
    tone: &'static str,
}

/// The bench with its answer.
struct BenchView {
    id: Uuid,
    name: String,
    form: BenchForm,
    covers: Vec<(&'static str, &'static str, bool)>,
    errors: BTreeMap<&'static str, String>,
    answer: Option<AnswerView>,
}

struct AnswerView {
    lines: Vec<Line>,
    drawing: String,
    /// What is filled in when the bath is begun.
    litres: f64,
    target: f64,
    by_hand: bool,
    /// It may not be filled so.
    too_hot: bool,
    new_bath: Uuid,
}

impl BenchView {
    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }

    fn wrong(&self) -> Vec<(&'static str, &str)> {
        self.errors.iter().map(|(f, t)| (*f, t.as_str())).collect()
    }

    fn new(
        kept: &KeptVessel,
        typed: &BenchForm,
        altitude_m: f64,
        units: Units,
        new_bath: Uuid,
    ) -> Result<Self, PageError> {
        let (form, asked, errors) = typed.read(&kept.vessel, altitude_m, units);
        let answer = asked.map(|asked| {
            let bench = asked.with(&kept.vessel);
            let answer = bench.answer();
            let lines = words::bench(&bench, &answer, units)
                .into_iter()
                .map(|l| Line {
                    what: l.what,
                    figure: l.figure,
                    text: l.text,
                    tone: match l.tone {
                        Tone::Good => "good",
                        Tone::Mind => "mind",
                        Tone::Stop => "stop",
                    },
                })
                .collect();
            let has_food = bench.food.kg > 0.0;
            let drawing = section(&Section {
                vessel: &kept.vessel,
                water: answer.after.height,
                cover: bench.cover,
                bags: has_food.then_some((bench.food.thickness, bench.food.bags())),
                label: units.temperature(bench.target),
                units,
            })?;
            Ok::<_, PageError>(AnswerView {
                lines,
                drawing,
                litres: answer.litres,
                target: bench.target.value(),
                by_hand: kept.vessel.heat != Heat::Heater,
                too_hot: answer.too_hot.is_some(),
                new_bath,
            })
        });
        Ok(Self {
            id: kept.id,
            name: kept.vessel.name.clone(),
            covers: Cover::ALL.map(|c| (c.id(), words::cover(c), c.id() == form.cover)).into(),
            form,
            errors,
            answer: answer.transpose()?,
        })
    }
}

#[derive(Template)]
#[template(path = "bath/bench.html")]
struct BenchPage {
    shell: Shell,
    bench: BenchView,
}

#[derive(Template)]
#[template(path = "bath/answer.html")]
struct AnswerFragment {
    bench: BenchView,
}

async fn worked_out(
    state: &AppState,
    request: &HttpRequest,
    id: Uuid,
    typed: BenchForm,
) -> Result<BenchView, PageError> {
    let kept = known(&Here::of(request)?, id).await?;
    let (altitude_m, units) = (state.kitchen().rules.altitude_m, reader_units(request));
    let new_bath = new_id(state.clock.now());
    compute(state, request, move || BenchView::new(&kept, &typed, altitude_m, units, new_bath)).await?
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    typed: web::Query<BenchForm>,
) -> Result<HttpResponse, PageError> {
    let bench = worked_out(&state, &request, *id, typed.into_inner()).await?;
    let shell = Shell::new(&state, &request, Place::Bath, bench.name.clone()).await?;
    html(&BenchPage { shell, bench })
}

async fn answer(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    typed: web::Query<BenchForm>,
) -> Result<HttpResponse, PageError> {
    let typed = typed.into_inner();
    // Reload and the back button find it as it was typed.
    let query = serde_urlencoded::to_string(&typed).map_err(|e| PageError::Request(e.to_string()))?;
    let bench = worked_out(&state, &request, *id, typed).await?;
    let response = html(&AnswerFragment { bench })?;
    let address = format!("/bath/vessels/{id}?{query}");
    app::at_address(response, &address)
}

#[derive(Deserialize)]
struct Fill {
    bath: Uuid,
    vessel: Uuid,
    litres: f64,
    target: f64,
}

/// Begins a bath in a vessel; the one that runs there already, where one does.
async fn fill(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Fill>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Fill { bath, vessel, litres, target } = form.into_inner();
    let kept = known(&here, vessel).await?;
    let celsius = hold_steady_core::units::Celsius::new(target);
    hold_steady_core::bath::WaterEventKind::Filled { litres }
        .check()
        .and(hold_steady_core::bath::WaterEventKind::Aimed { celsius }.check())
        .map_err(|unfit| PageError::Request(unfit.into()))?;
    let (units, altitude_m) = (reader_units(&request), state.kitchen().rules.altitude_m);
    if let Some(most) = kept.vessel.too_hot(celsius, altitude_m) {
        return Err(PageError::Request(words::too_hot(&kept.vessel, most, units)));
    }
    let new = NewBath { id: bath, vessel: kept, litres, celsius };
    let id = here.fill(new, state.clock.now()).await?;
    Ok(see_other(&format!("/bath/runs/{id}")))
}
