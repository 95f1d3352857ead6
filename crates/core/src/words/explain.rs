//! Where each number of a plan comes from: its inputs, method, source and how sure we are.

use super::minutes;
use crate::figures::{Basis, routine};
use crate::heat::Shape;
use crate::plan::{Plan, PlanRequest};
use crate::safety::organisms;
use crate::units::{Celsius, Ends, Kelvin, Minutes, Units};

/// One number opened up.
#[derive(Debug, Clone, PartialEq)]
pub struct Explanation {
    /// Identifier on the page.
    pub id: &'static str,
    /// What the number is.
    pub title: &'static str,
    /// Its inputs, named.
    pub inputs: Vec<(String, String)>,
    /// How it was got.
    pub method: String,
    /// Where the method and its figures come from.
    pub source: String,
    /// How sure that is: the least sure of what decides it.
    pub basis: Basis,
}

/// Opens every number of a plan.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::words::explain;
/// let opened = explain(&request, &plan, Units::default());
/// assert!(opened.iter().any(|e| e.id == "through" && !e.source.is_empty()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn explain(request: &PlanRequest, plan: &Plan, units: Units) -> Vec<Explanation> {
    let opened = Opened { request, plan, units };
    let rows: [fn(&Opened<'_>) -> Option<Explanation>; 8] = [
        |o| Some(o.through()),
        |o| Some(o.pasteurised()),
        |o| Some(o.best()),
        |o| Some(o.drop()),
        |o| Some(o.preheat()),
        |o| Some(o.pull()),
        |o| o.sear(),
        |o| Some(o.serve()),
    ];
    rows.iter().filter_map(|row| row(&opened)).collect()
}

fn pair(name: &str, value: String) -> (String, String) {
    (name.to_owned(), value)
}

fn ends(e: Ends<Minutes>) -> String {
    format!(
        "{} at the soonest, most likely {}, {} at the latest",
        minutes(e.fast),
        minutes(e.middle),
        minutes(e.slow)
    )
}

/// A plan whose numbers are opened.
struct Opened<'a> {
    request: &'a PlanRequest,
    plan: &'a Plan,
    units: Units,
}

impl Opened<'_> {
    fn degrees(&self, c: Celsius) -> String {
        self.units.temperature_exact(c)
    }

    /// What the piece is, and where it lies.
    fn piece(&self) -> Vec<(String, String)> {
        let (request, units) = (self.request, self.units);
        let (food, rules, start) = (request.food(), &request.rules, request.from.start());
        let (surface, c) = (request.surface(), food.composition.fractions());
        let spread = units.length(request.spread_mm());
        let percent = |x: f64| format!("{:.1} %", x * 100.0);
        vec![
            pair("Size", format!("{}, ± {spread}", request.how_big(units))),
            pair(
                "Bath",
                format!(
                    "{} ± {}, instrument error {}",
                    self.degrees(request.bath_c),
                    units.temperature_difference(rules.bath_spread_k),
                    units.temperature_difference(rules.bath_error_c)
                ),
            ),
            pair("Start", format!("from {}, {}. {}", start.label, self.degrees(start.nominal_c), start.note)),
            pair(
                "Composition",
                format!(
                    "water {}, protein {}, fat {}, carbohydrate and fibre {}, ash {} ({}; {})",
                    percent(c.water),
                    percent(c.protein),
                    percent(c.fat),
                    percent(c.carbohydrate + c.fibre),
                    percent(c.ash),
                    food.composition.source,
                    food.composition.basis.words()
                ),
            ),
            pair("Surface", format!("{} W/m²K, {} ({})", surface.w_m2k, surface.what, surface.source)),
        ]
    }

    /// The steps of its finish, up to one of them.
    fn steps(&self, until: &str) -> Vec<(String, String)> {
        let finish = self.request.food().finish();
        let steps = self.request.finishing().map_or_else(|_| finish.steps.clone(), |f| f.steps);
        let n = steps.iter().position(|s| s.id == until).map_or(steps.len(), |i| i + 1);
        steps[..n].iter().map(|s| pair(&s.what, minutes(s.min))).collect()
    }

    fn through(&self) -> Explanation {
        let (request, food) = (self.request, self.request.food());
        let bone = if food.traits.bone {
            " Its bone is counted as meat: measure across it; computed, that errs by less than an eighth, within what is allowed for."
        } else {
            ""
        };
        Explanation {
            id: "through",
            title: "Heated through",
            inputs: [self.piece(), vec![pair("From the drop", ends(self.plan.through))]].concat(),
            method: format!(
                "Heat conduction {}, simulated; heated through when the centre is within {} of the bath ({}; {}). The latest counts for safety: thicker, colder water and start (by the root of the sum of squares), a weaker surface and conductivity in full.{bone}",
                solved_as(request.shape(request.thickness_mm)),
                self.units.temperature_difference(food.within_k.kelvin()),
                food.within_k.source,
                food.within_k.basis.words()
            ),
            source: "Choi and Okos (1986), as printed in the ASHRAE Handbook—Refrigeration, for the properties; finite volumes in enthalpy form".into(),
            basis: Basis::PublishedFromMemory,
        }
    }

    fn pasteurised(&self) -> Explanation {
        let (request, food, code) = (self.request, self.request.food(), self.request.rules.profile);
        let mut inputs: Vec<_> = organisms(&food.kill)
            .iter()
            .map(|o| {
                let z = self.units.temperature_difference_fine(Kelvin::new(o.z_k));
                let (target, d, at) =
                    (o.target(request.at_risk), o.d_min, self.degrees(Celsius::new(o.d_ref_c)));
                pair(&o.name, format!("{target} log; D {d} min at {at}, z {z}"))
            })
            .collect();
        let table = code.table(food);
        if let Some(table) = &table {
            inputs.push(pair("Code", format!("{}, {}. {}", code.name, table.section, table.choice)));
            let single = code.single_temperature(food.class, request.counts_as_intact());
            inputs.extend(
                single.map(|s| pair("Your code also says", format!("{}, or an approved plan", s.text))),
            );
        }
        let when = self.plan.pasteurised.map_or_else(|| "never in this bath".to_owned(), ends);
        inputs.push(pair("From the drop", when));
        Explanation {
            id: "pasteurised",
            title: "Pasteurised",
            inputs,
            method: "Log reductions added up along the centre's curve for each organism, the slowest decides; the official table must be met too. Counted at the latest it may be. Not a substitute for your local code or licensed practice.".into(),
            source: format!(
                "{}; {}",
                organisms(&food.kill).first().map_or("", |o| o.source.as_str()),
                table.as_ref().map_or("no code table", |t| t.source.as_str())
            ),
            basis: Basis::PublishedFromMemory,
        }
    }

    fn best(&self) -> Explanation {
        let (plan, texture) = (self.plan, &self.request.food().texture);
        Explanation {
            id: "best",
            title: "At its best until",
            inputs: vec![
                pair("Bath", self.degrees(self.request.bath_c)),
                pair("Tender from", minutes(plan.best_from)),
                pair("Best until", ends(plan.best_until)),
                pair("After that it", texture.after.clone()),
            ],
            method: "The cut's texture window at this temperature. The soonest counts.".into(),
            source: texture.source.clone(),
            basis: texture.basis,
        }
    }

    fn drop(&self) -> Explanation {
        let plan = self.plan;
        let why = if self.request.time_min.is_some() {
            "as you chose"
        } else if plan.must_pasteurise {
            "until it is safe to serve, however slow it is"
        } else {
            "until it is heated through, however slow it is, and tender"
        };
        Explanation {
            id: "drop",
            title: "Drop by",
            inputs: vec![
                pair("In the bath", format!("{}, {why}", minutes(plan.bath_min))),
                pair("Pull to plate", minutes(plan.finish_min)),
            ],
            method: "Serving time less the finish less the time in the bath. The time counts from when the piece is in and the bath has recovered.".into(),
            source: "Computed from the times above".into(),
            basis: Basis::Computed,
        }
    }

    fn preheat(&self) -> Explanation {
        let preheat = &routine().preheat_min;
        Explanation {
            id: "preheat",
            title: "Preheat by",
            inputs: vec![pair(&preheat.what, minutes(preheat.minutes()))],
            method: "The drop less the usual time to heat a bath.".into(),
            source: preheat.source.clone(),
            basis: preheat.basis,
        }
    }

    fn pull(&self) -> Explanation {
        let finish = self.request.food().finish();
        Explanation {
            id: "pull",
            title: "Pull",
            inputs: self.steps(&finish.last().id),
            method: format!("Serving time less the finish: {}.", finish.name),
            source: finish.source.clone(),
            basis: finish.basis,
        }
    }

    fn sear(&self) -> Option<Explanation> {
        let finish = self.request.food().finish();
        let face = pair("On a face", format!("{:.0} s", finish.how.as_ref()?.face_s));
        Some(Explanation {
            id: "sear",
            title: "Sear",
            inputs: [self.steps("sear"), vec![face]].concat(),
            method: "So long after the pull. What the sear does to the inside stands on the finish page."
                .into(),
            source: finish.source.clone(),
            basis: finish.basis,
        })
    }

    fn serve(&self) -> Explanation {
        let asked =
            if self.request.ready_at.is_some() { "a time of your own" } else { "as soon as it can be" };
        Explanation {
            id: "serve",
            title: "Serve",
            inputs: vec![pair("Asked for", asked.into())],
            method: "The time asked for, or the earliest honest one: preheating, the bath and the finish from now.".into(),
            source: "Computed from the times above".into(),
            basis: Basis::Computed,
        }
    }
}

/// What the piece is solved as, in words.
const fn solved_as(shape: Shape) -> &'static str {
    match shape {
        Shape::Slab(_) => "through a slab, endless sideways (the slow, safe side)",
        Shape::Cylinder(_) => "into a round bar, endless lengthwise (the slow, safe side)",
        Shape::Sphere(_) => "into a ball",
        Shape::Block { .. } => "into a block, from all its six faces",
    }
}
