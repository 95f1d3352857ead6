//! How we know: the core's answers beside published and independently computed ones.
//!
//! The comparisons are data (`data/evidence/`); the tests check them and the application's page draws
//! them, from the same data and by the same code. Misses are shown like everything else.

mod learned;
mod slow_end;

pub use slow_end::{EndOfTime, SlowEnd, slow_ends, usual_request};

use crate::figures::Basis;
use std::sync::LazyLock;

use serde::Deserialize;
use serde_json::Value;

use crate::bath::{BathPoint, BathTrace};
use crate::calc;
use crate::heat::{
    Composition, DEFAULT_CELLS, Initial, Material, Mesh, Problem, Shape, Solution, Surface, simulate,
};
use crate::units::Length;

/// One number beside another.
#[derive(Debug, Clone, PartialEq)]
pub struct Comparison {
    /// What it is.
    pub label: String,
    /// As published or computed elsewhere.
    pub published: f64,
    /// As computed here; `None` when it is never reached.
    pub computed: Option<f64>,
    /// The difference that is allowed.
    pub allowed: f64,
    /// Known to miss, and shown all the same.
    pub known_miss: bool,
}

impl Comparison {
    /// Computed less published.
    ///
    /// ```
    /// let one = hold_steady_core::evidence::Comparison {
    ///     label: "30 mm at 55 °C".into(),
    ///     published: 180.0,
    ///     computed: Some(176.0),
    ///     allowed: 15.0,
    ///     known_miss: false,
    /// };
    /// assert_eq!(one.error(), Some(-4.0));
    /// ```
    #[must_use]
    pub fn error(&self) -> Option<f64> {
        self.computed.map(|c| c - self.published)
    }

    /// Whether the difference is within what is allowed.
    ///
    /// ```
    /// let one = hold_steady_core::evidence::Comparison {
    ///     label: "30 mm at 55 °C".into(),
    ///     published: 180.0,
    ///     computed: Some(176.0),
    ///     allowed: 15.0,
    ///     known_miss: false,
    /// };
    /// assert!(one.holds());
    /// ```
    #[must_use]
    pub fn holds(&self) -> bool {
        self.error().is_some_and(|e| e.abs() <= self.allowed)
    }
}

/// Numbers of one source.
#[derive(Debug, Clone, PartialEq)]
pub struct Set {
    /// Identifier on the page.
    pub id: String,
    /// What is compared.
    pub title: String,
    /// With whom.
    pub source: String,
    /// How sure the other number is.
    pub basis: Basis,
    /// `min`, `s`, `mm`, `°C`, `kg`, `W` or `W/K`.
    pub unit: String,
    /// What is allowed, and why.
    pub note: String,
    /// Point by point.
    pub points: Vec<Comparison>,
}

#[derive(Deserialize)]
struct Published {
    sets: Vec<PublishedSet>,
}

#[derive(Deserialize)]
struct PublishedSet {
    id: String,
    title: String,
    source: String,
    basis: Basis,
    unit: String,
    note: String,
    points: Vec<PublishedPoint>,
}

#[derive(Deserialize)]
struct PublishedPoint {
    label: String,
    request: Value,
    value: String,
    published: f64,
    allow: f64,
    #[serde(default)]
    miss: bool,
}

#[derive(Deserialize)]
struct Reference {
    cases: Vec<ReferenceCase>,
}

#[derive(Deserialize)]
struct ReferenceCase {
    name: String,
    shape: String,
    thickness_mm: f64,
    start_c: f64,
    surface_w_m2k: f64,
    bath: Vec<BathPoint>,
    layers: Vec<Layer>,
    at_min: Vec<f64>,
    core_c: Vec<f64>,
}

#[derive(Deserialize)]
struct Layer {
    composition: [f64; 6],
    freezing_c: f64,
    share: f64,
    cells: usize,
}

#[derive(Deserialize)]
struct Analytic {
    points: Vec<AnalyticPoint>,
}

#[derive(Deserialize)]
struct AnalyticPoint {
    shape: String,
    biot: f64,
    fourier: f64,
    centre_c: f64,
    surface_c: f64,
}

fn shape(name: &str, mm: f64) -> Shape {
    let l = Length::from_mm(mm);
    match name {
        "cylinder" => Shape::Cylinder(l),
        "sphere" => Shape::Sphere(l),
        _ => Shape::Slab(l),
    }
}

/// Numbers that others give, beside the answers of one calculation.
fn published(calculation: &str, data: &str) -> Vec<Set> {
    let data: Published = serde_json::from_str(data).expect("shipped and tested");
    data.sets
        .into_iter()
        .map(|set| Set {
            points: set
                .points
                .into_iter()
                .map(|p| Comparison {
                    computed: calc::run(calculation, &p.request)
                        .ok()
                        .and_then(|a| a.pointer(&p.value).and_then(Value::as_f64)),
                    label: p.label,
                    published: p.published,
                    allowed: p.allow,
                    known_miss: p.miss,
                })
                .collect(),
            id: set.id,
            title: set.title,
            source: set.source,
            basis: set.basis,
            unit: set.unit,
            note: set.note,
        })
        .collect()
}

impl ReferenceCase {
    fn solve(&self) -> Option<Solution> {
        let shape = shape(&self.shape, self.thickness_mm);
        let materials: Vec<Material> = self
            .layers
            .iter()
            .map(|l| {
                let [water, protein, fat, carbohydrate, fibre, ash] = l.composition;
                let c = Composition { water, protein, fat, carbohydrate, fibre, ash };
                Material::from_composition(&c, l.freezing_c)
            })
            .collect();
        let (mesh, layer_of) = match self.layers.as_slice() {
            [one] => (Mesh::graded(shape, one.cells), vec![0; one.cells]),
            several => {
                let parts: Vec<(f64, usize)> = several.iter().map(|l| (l.share, l.cells)).collect();
                Mesh::layered(shape, &parts)
            }
        };
        let bath = BathTrace::new(self.bath.clone()).ok()?;
        let problem = Problem {
            mesh,
            materials: layer_of.iter().map(|l| &materials[*l]).collect(),
            start: Initial::Uniform(self.start_c),
            surface: Surface { coefficient: self.surface_w_m2k, bath },
        };
        simulate(&problem, self.at_min.last()? * 60.0, &[]).ok()
    }
}

fn reference() -> Set {
    const ALLOWED_K: f64 = 0.1;
    let data: Reference =
        serde_json::from_str(include_str!("../../data/evidence/reference.json")).expect("shipped and tested");
    let points = data.cases.iter().flat_map(|case| {
        let solution = case.solve();
        case.at_min.iter().zip(&case.core_c).map(move |(min, c)| Comparison {
            label: format!("{}, {min} min", case.name),
            published: *c,
            computed: solution.as_ref().map(|s| s.core.at(min * 60.0)),
            allowed: ALLOWED_K,
            known_miss: false,
        })
    });
    Set {
        id: "reference".into(),
        title: "Centres with real properties, frozen starts, layers and a wandering bath".into(),
        source: "SciPy's solve_ivp(BDF), rtol 1e-8, on the same mesh, written independently (crates/core/tests/reference/make.py)".into(),
        basis: Basis::Computed,
        unit: "°C".into(),
        note: "Within a tenth of a degree.".into(),
        points: points.collect(),
    }
}

fn analytic() -> Set {
    const ALLOWED_K: f64 = 0.05;
    const MM: f64 = 30.0;
    const DIFFUSIVITY: f64 = 1.4e-7;
    const CONDUCTIVITY: f64 = 0.48;
    let data: Analytic =
        serde_json::from_str(include_str!("../../data/evidence/analytic.json")).expect("shipped and tested");
    let meat = Material::constant(DIFFUSIVITY, CONDUCTIVITY);
    let radius = MM / 2000.0;
    let points = data.points.iter().flat_map(|p| {
        let mesh = Mesh::graded(shape(&p.shape, MM), DEFAULT_CELLS);
        let coefficient = p.biot * CONDUCTIVITY / radius;
        let surface = Surface { coefficient, bath: BathTrace::constant(60.0) };
        let seconds = p.fourier * radius * radius / DIFFUSIVITY;
        let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), surface);
        let run = simulate(&problem, seconds, &[]).ok();
        let point = |what: &str, exact: f64, got: Option<f64>| Comparison {
            label: format!("{}, Biot {}, Fourier {}, {what}", p.shape, p.biot, p.fourier),
            published: exact,
            computed: got,
            allowed: ALLOWED_K,
            known_miss: false,
        };
        [
            point("centre", p.centre_c, run.as_ref().map(|r| r.core.at(seconds))),
            point("surface", p.surface_c, run.as_ref().map(|r| r.surface.at(seconds))),
        ]
    });
    Set {
        id: "analytic".into(),
        title: "Exact series for slab, cylinder and sphere".into(),
        source: "Carslaw and Jaeger, Conduction of Heat in Solids, 2nd ed.; roots by SciPy".into(),
        basis: Basis::Computed,
        unit: "°C".into(),
        note: "Within a twentieth of a degree.".into(),
        points: points.collect(),
    }
}

/// All comparisons, computed once per process (about a fifth of a second).
///
/// ```
/// let sets = hold_steady_core::evidence::evidence();
/// assert!(sets.iter().flat_map(|s| &s.points).filter(|p| !p.known_miss).all(|p| p.holds()));
/// ```
#[must_use]
pub fn evidence() -> &'static [Set] {
    static ALL: LazyLock<Vec<Set>> = LazyLock::new(|| {
        let mut all = published("heat", include_str!("../../data/evidence/published.json"));
        all.extend(published("sear", include_str!("../../data/evidence/sear.json")));
        all.extend(published("evaporation", include_str!("../../data/evidence/evaporation.json")));
        all.extend(learned::learned());
        all.push(analytic());
        all.push(reference());
        all
    });
    &ALL
}
