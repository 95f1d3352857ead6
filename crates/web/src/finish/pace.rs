//! The finish, paced: what the hands do now, for how long yet, and what comes then.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::sear::{FinishAsked, FinishForm, paced};
use hold_steady_core::words;
use hold_steady_store::new_id;
use serde::Serialize;
use uuid::Uuid;

use super::piece;
use super::view::encoded;
use crate::app::{self, AppState, Here, PageError, Place, Shell, html, reader_units, see_other};

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(app::resource("/finish/pace").route(app::get(page)));
}

#[derive(Serialize)]
struct Step {
    what: String,
    s: f64,
    tone: &'static str,
    /// Its seconds are those of a face on the heat.
    face: bool,
}

#[derive(Template)]
#[template(path = "finish/pace.html")]
struct PacePage {
    shell: Shell,
    title: String,
    back: String,
    steps: Vec<(String, String)>,
    steps_json: String,
    cook: Option<Uuid>,
    may_record: bool,
    tap: Uuid,
    cautions: Vec<String>,
    pieces: u32,
}

async fn page(
    state: web::Data<AppState>,
    request: HttpRequest,
    typed: web::Query<FinishForm>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let (typed, units) = (typed.into_inner(), reader_units(&request));
    let piece = piece(&state, &request, &here.pantry().await?, &typed).await?;
    let back = encoded(&typed)?;
    let (_, asked, _) = typed.read(&piece.food, &piece.given, units);
    // Nothing to pace: the page where it is said says what is missing.
    let Some(FinishAsked { setup, pattern: Some(pattern), fat, pieces, .. }) = asked else {
        return Ok(see_other(&format!("/finish?{back}")));
    };
    let steps: Vec<Step> = paced(&setup, &pattern)
        .into_iter()
        .map(|s| Step {
            what: words::pace(s.what).into(),
            s: s.s,
            tone: s.what.tone(),
            face: s.what.is_face(),
        })
        .collect();
    let shell = Shell::new(&state, &request, Place::Finish, "Pace").await?;
    html(&PacePage {
        shell,
        title: piece.title,
        back,
        steps: steps.iter().map(|s| (s.what.clone(), words::for_seconds(s.s))).collect(),
        steps_json: serde_json::to_string(&steps).map_err(|e| PageError::Request(e.to_string()))?,
        cook: piece.cook,
        may_record: piece.pulled,
        tap: new_id(state.clock.now()),
        cautions: words::finish_cautions(setup.hearth, setup.hearth_c, fat, units),
        pieces,
    })
}
