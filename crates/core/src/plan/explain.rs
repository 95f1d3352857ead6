//! Where each number of a plan comes from: its inputs, method, source and how sure we are.

use super::{Ends, Plan, PlanRequest, routine};
use crate::food::Basis;
use crate::heat::Shape;
use crate::safety::{minutes, organisms};
use crate::units::{Celsius, Length, Units};

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
#[must_use]
pub fn explain(request: &PlanRequest, plan: &Plan, units: Units) -> Vec<Explanation> {
    let food = request.food();
    let length = |mm: f64| units.length(Length::from_mm(mm));
    let degrees = |c: f64| units.temperature(Celsius::new(c));
    let pair = |name: &str, value: String| (name.to_owned(), value);
    let start = request.from.start();
    let rules = &request.rules;
    let spread_mm = request.spread_mm();
    let surface = request.surface();
    let piece_inputs = || {
        let c = food.composition.fractions();
        let percent = |x: f64| format!("{:.1} %", x * 100.0);
        vec![
            pair("Size", format!("{}, ± {}", request.how_big(units), length(spread_mm))),
            pair(
                "Bath",
                format!(
                    "{} ± {}, instrument error {}",
                    degrees(request.bath_c),
                    units.temperature_difference(rules.bath_spread_k),
                    units.temperature_difference(rules.bath_error_c)
                ),
            ),
            pair("Start", format!("from {}, {}. {}", start.label, degrees(start.nominal_c), start.note)),
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
    };
    let ends = |e: Ends| {
        format!(
            "{} at the fast end, {} in the middle, {} at the slow end",
            minutes(e.fast),
            minutes(e.nominal),
            minutes(e.slow)
        )
    };
    let finish = food.finish();
    let steps = |until: &str| -> Vec<(String, String)> {
        let steps = request.finishing().map_or_else(|_| finish.steps.clone(), |f| f.steps);
        let n = steps.iter().position(|s| s.id == until).map_or(steps.len(), |i| i + 1);
        steps[..n].iter().map(|s| pair(&s.what, minutes(s.min))).collect()
    };

    let bone = if food.traits.bone {
        " Its bone is counted as meat: measure across it; computed, that errs by less than an eighth, within the slow end."
    } else {
        ""
    };
    let mut all = vec![Explanation {
        id: "through",
        title: "Heated through",
        inputs: [piece_inputs(), vec![pair("From the drop", ends(plan.through))]].concat(),
        method: format!(
            "Heat conduction {}, simulated; heated through when the centre is within {} of the bath ({}; {}). The slow end counts for safety: thicker, colder water and start (by the root of the sum of squares), a weaker surface and conductivity in full.{bone}",
            solved_as(request.shape(request.thickness_mm)),
            units.temperature_difference(food.within_k.value),
            food.within_k.source,
            food.within_k.basis.words()
        ),
        source: "Choi and Okos (1986), as printed in the ASHRAE Handbook—Refrigeration, for the properties; finite volumes in enthalpy form".into(),
        basis: Basis::PublishedFromMemory,
    }];

    let kinetics = organisms(&food.kill).iter().map(|o| {
        pair(
            &o.name,
            format!(
                "{} log; D {} min at {}, z {}",
                o.target(request.at_risk),
                o.d_min,
                degrees(o.d_ref_c),
                units.temperature_difference_fine(o.z_k)
            ),
        )
    });
    let code = rules.profile;
    let table = code.table(food);
    let mut inputs: Vec<_> = kinetics.collect();
    if let Some(table) = &table {
        inputs.push(pair("Code", format!("{}, {}. {}", code.name, table.section, table.choice)));
        if let Some(single) = code.single_temperature(food.class, request.counts_as_intact()) {
            inputs.push(pair("Your code also says", format!("{}, or an approved plan", single.text)));
        }
    }
    inputs
        .push(pair("From the drop", plan.pasteurised.map_or_else(|| "never in this bath".to_owned(), ends)));
    all.push(Explanation {
        id: "pasteurised",
        title: "Pasteurised",
        inputs,
        method: "Log reductions added up along the centre's curve for each organism, the slowest decides; the code's time table must be met too. Counted at the slow end. Not a substitute for your local code or licensed practice.".into(),
        source: format!(
            "{}; {}",
            organisms(&food.kill).first().map_or("", |o| o.source.as_str()),
            table.as_ref().map_or("no code table", |t| t.source.as_str())
        ),
        basis: Basis::PublishedFromMemory,
    });
    all.push(Explanation {
        id: "best",
        title: "At its best until",
        inputs: vec![
            pair("Bath", degrees(request.bath_c)),
            pair("Tender from", minutes(plan.best_from)),
            pair("Best until", ends(plan.best_until)),
            pair("After that it", food.texture.after.clone()),
        ],
        method: "The cut's texture window at this temperature. The fast end counts.".into(),
        source: food.texture.source.clone(),
        basis: food.texture.basis,
    });
    let why = if request.time_min.is_some() {
        "as you chose"
    } else if plan.must_pasteurise {
        "until it is safe to serve at the slow end"
    } else {
        "until it is heated through at the slow end, and tender"
    };
    all.push(Explanation {
        id: "drop",
        title: "Drop by",
        inputs: vec![
            pair("In the bath", format!("{}, {why}", minutes(plan.bath_min))),
            pair("Pull to plate", minutes(plan.finish_min)),
        ],
        method: "Serving time less the finish less the time in the bath. The time counts from when the piece is in and the bath has recovered.".into(),
        source: "Computed from the times above".into(),
        basis: Basis::Computed,
    });
    all.push(Explanation {
        id: "preheat",
        title: "Preheat by",
        inputs: vec![pair(&routine("preheat_min").what, minutes(routine("preheat_min").value))],
        method: "The drop less the usual time to heat a bath.".into(),
        source: routine("preheat_min").source.clone(),
        basis: Basis::Trade,
    });
    all.push(Explanation {
        id: "pull",
        title: "Pull",
        inputs: steps(&finish.last().id),
        method: format!("Serving time less the finish: {}.", finish.name),
        source: finish.source.clone(),
        basis: finish.basis,
    });
    if let Some(face_s) = finish.face_s {
        all.push(Explanation {
            id: "sear",
            title: "Sear",
            inputs: steps("sear").into_iter().chain([pair("On a face", format!("{face_s} s"))]).collect(),
            method: "So long after the pull. What the sear does to the inside is not predicted yet.".into(),
            source: finish.source.clone(),
            basis: finish.basis,
        });
    }
    all.push(Explanation {
        id: "serve",
        title: "Serve",
        inputs: vec![pair(
            "Asked for",
            if request.ready_at.is_some() { "a time of your own" } else { "as soon as it can be" }.into(),
        )],
        method:
            "The time asked for, or the earliest honest one: preheating, the bath and the finish from now."
                .into(),
        source: "Computed from the times above".into(),
        basis: Basis::Computed,
    });
    all
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
