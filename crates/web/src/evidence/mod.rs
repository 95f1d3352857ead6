//! How we know: the core's answers beside published and independently computed ones.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::evidence::{EndOfTime, Set, evidence, slow_ends};
use hold_steady_core::food::catalogue;
use hold_steady_core::units::trimmed;

use crate::app::{self, AppState, PageError, Place, Shell, html};

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(app::resource("/how-we-know").route(app::get(page)));
}

#[derive(Template)]
#[template(path = "evidence/page.html")]
struct EvidencePage {
    shell: Shell,
    sets: Vec<Shown>,
    held: usize,
    all: usize,
    ends: Vec<EndRow>,
}

/// A food's slow end beside the Monte Carlo.
struct EndRow {
    food: String,
    from: &'static str,
    through: [String; 3],
    pasteurised: [String; 3],
}

fn ends() -> Vec<EndRow> {
    slow_ends()
        .iter()
        .map(|e| EndRow {
            food: catalogue().food(&e.food).map_or_else(|| e.food.clone(), |f| f.name.clone()),
            from: &e.from.start().label,
            through: three(e.through),
            pasteurised: three(e.pasteurised),
        })
        .collect()
}

/// Middle, slow end and 95th percentile, whole minutes.
fn three(end: Option<EndOfTime>) -> [String; 3] {
    let whole = |m: f64| format!("{m:.0}");
    end.map_or_else(
        || ["–".into(), "–".into(), "–".into()],
        |e| [whole(e.middle), whole(e.p95), whole(e.slow)],
    )
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
        ends: ends(),
    })
}
