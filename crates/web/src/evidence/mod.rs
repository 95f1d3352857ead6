//! How we know: the core's answers beside published and independently computed ones.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::evidence::{Set, evidence};
use hold_steady_core::units::trimmed;

use crate::app::{self, AppState, PageError, Place, Shell, html};

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(web::resource("/how-we-know").route(app::get(page)));
}

#[derive(Template)]
#[template(path = "evidence/page.html")]
struct EvidencePage {
    shell: Shell,
    sets: Vec<Shown>,
    held: usize,
    all: usize,
}

struct Shown {
    set: &'static Set,
    rows: Vec<Row>,
    long: bool,
    worst: String,
}

struct Row {
    label: &'static str,
    published: String,
    computed: String,
    error: String,
    /// Where the dot stands on a line from −1 (allowed too low) to 1 (allowed too high), drawn 0–200.
    x: String,
    holds: bool,
}

/// Rows from which on a set is folded up.
const LONG: usize = 24;

fn row(point: &'static hold_steady_core::evidence::Comparison) -> Row {
    let places = if point.allowed < 0.5 { 3 } else { 1 };
    let error = point.error();
    let share = error.map_or(1.0, |e| (e / point.allowed).clamp(-1.9, 1.9));
    Row {
        label: &point.label,
        published: trimmed(point.published, places),
        computed: point.computed.map_or_else(|| "never".into(), |c| trimmed(c, places)),
        error: error.map_or_else(String::new, |e| format!("{e:+.places$}")),
        x: format!("{:.1}", 100.0 + 50.0 * share),
        holds: point.holds(),
    }
}

async fn page(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    let all = web::block(evidence).await.map_err(|e| PageError::Request(e.to_string()))?;
    let shell = Shell::new(&state, &request, Place::Know, "How we know").await?;
    let points = || all.iter().flat_map(|s| &s.points);
    let sets = all.iter().map(|set| Shown {
        set,
        rows: set.points.iter().map(row).collect(),
        long: set.points.len() > LONG,
        worst: set
            .points
            .iter()
            .filter_map(|p| p.error().map(|e| (e.abs() / p.allowed, e)))
            .max_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(_, e)| format!("{e:+.3} {}", set.unit))
            .unwrap_or_default(),
    });
    html(&EvidencePage {
        shell,
        sets: sets.collect(),
        held: points().filter(|p| p.holds()).count(),
        all: points().count(),
    })
}
