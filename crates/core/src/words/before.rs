//! What is to be said before the bath: about salt, the bag and what is in it.

use super::minutes;
use crate::figures::{preparing, routine};
use crate::food::OwnFood;
use crate::plan::PlanRequest;
use crate::prep::aromatics::{self, Strength};
use crate::prep::bag::{self, Float, Seams};
use crate::prep::salt::{self, Because, Depth, When};
use crate::prep::{Arrangement, Hold, Prep};
use crate::units::{Celsius, Grams, Length, Minutes, Units, trimmed};

/// What is said about salt.
#[derive(Debug, Clone, PartialEq)]
pub struct SaltWords {
    /// When.
    pub when: When,
    /// How long ahead, minutes.
    pub ahead_min: Minutes,
    /// What to do, in the imperative.
    pub words: String,
    /// Why then.
    pub reason: String,
    /// What others hold.
    pub school: String,
    /// How deep it will have gone by the pull, in words.
    pub depth_words: Option<String>,
    /// How it is known.
    pub depth_source: String,
    /// The same in numbers.
    pub depth: Option<Depth>,
    /// Per cent of the weight.
    pub percent: f64,
    /// Grams, where the weight is known.
    pub grams: Option<Grams>,
}

/// What is said about a bag.
#[derive(Debug, Clone, PartialEq)]
pub struct BagWords {
    /// What to do, in the imperative.
    pub what: String,
    /// How.
    pub how: String,
    /// How it is lowered in and kept under.
    pub sink: String,
    /// Bags one in the other.
    pub seals: u8,
    /// A remark on the seals.
    pub seals_words: Option<String>,
    /// A remark on how pieces lie.
    pub arrangement_words: Option<String>,
    /// The balance, where the weight is known.
    pub float: Option<Float>,
    /// Whether it floats, in words.
    pub float_words: String,
}

/// What is said before the bath.
#[derive(Debug, Clone, PartialEq)]
pub struct Before {
    /// About salt.
    pub salt: SaltWords,
    /// One line for each thing in the bag that calls for one.
    pub notes: Vec<String>,
    /// About the bag; none for what goes in without.
    pub bag: Option<BagWords>,
    /// About jars.
    pub jar: Option<String>,
}

/// What is to be said before a piece goes in for `bath_min`, heated through after `through_min`.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::words::before;
/// let said = before(&request, plan.bath_min, plan.through.slow, Units::default());
/// assert!(said.bag.is_some() && said.jar.is_none());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn before(request: &PlanRequest, bath_min: Minutes, through_min: Minutes, units: Units) -> Before {
    let food = request.food();
    Before {
        salt: salt_said(request, bath_min, through_min, units),
        notes: if food.is_bagged() {
            aromatic_notes(&request.prep.in_bag, request.bath_c, bath_min)
        } else {
            Vec::new()
        },
        bag: food.is_bagged().then(|| bag_said(request, bath_min, units)),
        jar: request.fill_ml.map(|_| jar_said(request, units)),
    }
}

/// What a reader weighs by, and how much that is, g.
fn by_weight(units: Units) -> (&'static str, f64) {
    if units.length_symbol() == "mm" { ("kilogram", 1000.0) } else { ("pound", 453.592) }
}

fn why_then(advice: &salt::Advice, prep: &Prep, bath_min: Minutes) -> String {
    let bath = minutes(bath_min);
    match (&advice.because, advice.when) {
        (Because::Shelled, _) => {
            "Nothing is salted through a shell or a lid; season it when it is opened.".into()
        }
        (Because::PieceSalted, _) => "This piece is salted already: no more, or it is salted twice.".into(),
        (Because::BatchSalted, _) => {
            let batch = if prep.batch.is_empty() {
                "Its batch".into()
            } else {
                format!("The batch “{}”", prep.batch)
            };
            format!("{batch} was salted before it was frozen: no more, or it is salted twice.")
        }
        (Because::Unsalted, _) => "Without salt, as you chose.".into(),
        (Because::Chosen { .. }, When::Ahead) => format!(
            "Salted {} ahead, uncovered in the refrigerator, it goes deeper and the outside dries.",
            minutes(advice.ahead_min)
        ),
        (Because::Chosen { long: true }, When::Before) => {
            format!("As you chose. In a bath of {bath} salt draws juice and firms the outside like ham.")
        }
        (Because::Chosen { .. }, When::Before) => {
            "As you chose; in a bath this short it only seasons.".into()
        }
        (Because::Chosen { .. }, _) => "As you chose: it stays on the outside.".into(),
        (Because::BathLength { long: true }, _) => format!(
            "After a bath as long as {bath}: before it, salt would draw juice and firm the outside like ham."
        ),
        (Because::BathLength { .. }, _) => {
            format!("Before a bath as short as {bath}: it seasons and draws little juice.")
        }
    }
}

const fn other_schools(when: When) -> &'static str {
    match when {
        When::Before => "Others salt a day ahead, or only after the sear.",
        When::After => "Others salt before in spite of the juice, or a little both times.",
        When::Ahead => "Others salt just before or only after: quicker, and all of it outside.",
        When::Done | When::Never => "",
    }
}

/// One line for every word that calls for one.
///
/// ```
/// use hold_steady_core::{units::{Celsius, Minutes}, words::aromatic_notes};
/// let lines = aromatic_notes(&["garlic".to_owned()], Celsius::new(55.0), Minutes::from_hours(2.0));
/// assert!(lines.len() == 1 && lines[0].starts_with("garlic"));
/// ```
#[must_use]
pub fn aromatic_notes(in_bag: &[String], bath_c: Celsius, bath_min: Minutes) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    for word in in_bag {
        let Some(a) = aromatics::find(word) else { continue };
        let strength = aromatics::strength(a, bath_c, bath_min).map(|s| match s {
            Strength::Harsh => {
                format!("{word}: harsh after this long; leave it out, or put it in at the end.")
            }
            Strength::Strong => format!("{word}: strong after this long; half of what a pan would take."),
            Strength::Clear => format!("{word}: clear after this long."),
            Strength::Faint => format!("{word}: faint after this long."),
        });
        let mut line = strength.unwrap_or_else(|| format!("{word}:"));
        if let Some(says) = &a.says {
            line = format!("{line} {says}");
        }
        if !all.contains(&line) {
            all.push(line);
        }
    }
    all
}

fn salt_said(request: &PlanRequest, bath_min: Minutes, through_min: Minutes, units: Units) -> SaltWords {
    let a = request.salted(bath_min, through_min);
    let share = trimmed(a.percent, 2);
    let (by, g) = by_weight(units);
    let words = match (a.when, a.grams) {
        (When::Done, _) => "No more salt".to_owned(),
        (When::Never, _) => "No salt now".to_owned(),
        (_, Some(grams)) => format!("Salt it with {}, {share} % of its weight", units.weight(grams)),
        (_, None) => {
            format!(
                "Salt it with {share} % of its weight, {} for every {by}",
                units.weight(Grams::new(a.percent * g / 100.0))
            )
        }
    };
    let depth_words = a.depth.map(|d| {
        let deep = units.length(Length::from_mm((d.half_mm * 2.0).mm().round() / 2.0));
        if d.centre >= 0.9 {
            "By the pull it is nearly even, to the centre.".to_owned()
        } else if d.centre >= 0.5 {
            format!("By the pull the centre has {:.0} % of its share.", d.centre * 100.0)
        } else {
            format!(
                "By the pull it has gone about {deep} deep; the centre has {} of its share.",
                if d.centre < 0.01 { "none".to_owned() } else { format!("{:.0} %", d.centre * 100.0) }
            )
        }
    });
    SaltWords {
        when: a.when,
        ahead_min: a.ahead_min,
        words,
        reason: why_then(&a, &request.prep, bath_min),
        school: other_schools(a.when).into(),
        depth_words,
        depth_source: {
            let d = &preparing().diffusion_m2_s;
            format!(
                "Computed: diffusion of {:.1}·10⁻¹⁰ m²/s at {}, faster in the heat. {}; {}.",
                d.value * 1e10,
                units.temperature(Celsius::new(5.0)),
                d.source,
                d.basis.words()
            )
        },
        depth: a.depth,
        percent: a.percent,
        grams: a.grams,
    }
}

fn bag_said(request: &PlanRequest, bath_min: Minutes, units: Units) -> BagWords {
    let prep = &request.prep;
    let food = request.food();
    let air = bag::air(&prep.air).unwrap_or(&bag::airs()[0]);
    let (asked, why) = bag::seals_asked(request.bath_c, bath_min);
    let seals = prep.seals.unwrap_or(asked);
    let why = why.map(|seams| match seams {
        Seams::LongBath => "A day or more in the bath opens seams.",
        Seams::HotWater => "Water this hot softens seams.",
    });
    let seals_words = match (seals < asked, why) {
        (true, Some(why)) => Some(format!("{why} Take a second bag, or seal it twice.")),
        (false, Some(why)) => Some(format!("{why} Hence the second bag.")),
        _ => None,
    };
    let pieces = if prep.pieces > 1 { format!("{} pieces", prep.pieces) } else { "it".into() };
    let base = request.planned.own().map_or(food.id.as_str(), |o: &OwnFood| o.base.as_str());
    let float = prep.weight_g.map(|g| bag::float(food, base, g, air, seals, request.bath_c));
    let float_words = match &float {
        Some(f) => float_said(f, units),
        None => {
            // By the kilogram: whether it floats hardly hangs on the size.
            let one = bag::float(food, base, Grams::new(1000.0), air, seals, request.bath_c);
            unweighed_said(&one, units)
        }
    };
    let doubled = if seals > 1 { ", a second bag or seal round it" } else { "" };
    BagWords {
        what: format!("Bag {pieces}: air out {}{doubled}", how_named(air)),
        how: format!("Cuff the rim while you fill it, freezer-grade bags, one layer. {}", air.how),
        sink: sunk_said(prep.hold, float.as_ref(), units),
        seals,
        seals_words,
        arrangement_words: arranged_said(request, units),
        float,
        float_words,
    }
}

/// How pieces lie in their bag, and what that does.
fn arranged_said(request: &PlanRequest, units: Units) -> Option<String> {
    let thick = request.thickness_mm;
    match request.prep.arranged() {
        Arrangement::Apart => (request.prep.pieces > 1)
            .then(|| "In one layer, with water between them: each heats like one alone.".to_owned()),
        Arrangement::Touching => Some(format!(
            "Side by side they heat from above and below only: planned as a slab {} thick.",
            units.length(thick)
        )),
        Arrangement::Stacked => Some(format!(
            "One on the other they heat as one piece {} thick, and that is how they are planned. Better: one layer, or two bags.",
            units.length(thick * 2.0)
        )),
    }
}

/// Whether a bag of a known weight floats.
fn float_said(f: &Float, units: Units) -> String {
    let gas = if f.gas_ml > 0.0 {
        " At this heat vegetables give off gas: look again once it has been in for a while."
    } else {
        ""
    };
    if f.lift_g > Grams::new(0.0) {
        return format!(
            "It floats: with its air it displaces {} of water, {} more than it weighs. {} of steel sink it.{gas}",
            units.volume(f.food_ml + f.air_ml + f.gas_ml),
            units.weight(f.lift_g),
            units.weight(f.ballast_g.ceil()),
        );
    }
    format!("It will sink by itself, {} heavier than the water.{gas}", units.weight(-f.lift_g))
}

/// Whether a bag floats that nobody weighed: by what a kilogram of it does.
fn unweighed_said(one: &Float, units: Units) -> String {
    let (by, g) = by_weight(units);
    if one.lift_g > Grams::new(0.0) {
        return format!(
            "A bag of it floats: about {} of steel for every {by}. Give its weight for the right ballast.",
            units.weight((one.ballast_g * g / 1000.0).ceil())
        );
    }
    "It will sink by itself. Give its weight to be sure of a small bag.".into()
}

/// How it is held under.
fn sunk_said(hold: Hold, float: Option<&Float>, units: Units) -> String {
    match (hold, float) {
        (Hold::Ballast, Some(f)) if f.ballast_g > Grams::new(0.0) => format!(
            "With {} of steel in a second bag or a clip, all of it under water.",
            units.weight(f.ballast_g.ceil())
        ),
        (Hold::Ballast, _) => "With a weight in or on the bag, all of it under water.".into(),
        (Hold::Rack, _) => "Upright in a rack, water all round, its mouth above the water.".into(),
        (Hold::Clip, _) => {
            "Clip it to the wall, its mouth above the water and all of the food under it.".into()
        }
    }
}

fn how_named(air: &bag::Air) -> String {
    match air.id.as_str() {
        "vacuum" | "pump" => format!("by {}", air.name),
        "displacement" => "under water".into(),
        _ => air.name.clone(),
    }
}

fn jar_said(request: &PlanRequest, units: Units) -> String {
    let temper = request.glass_to_warm_to_c().map_or_else(String::new, |warm| {
        let warm = units.temperature(warm);
        format!(
            " Warm the glass to {warm} first, or heat jars and bath together: cold glass cracks in hot water."
        )
    });
    format!(
        "Fill to {} under the rim, lid fingertip-tight so that air can leave.{temper}",
        units.length(routine().jar_head_mm.length())
    )
}
