//! Plans that a file says were made.

use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;

use super::super::file::check_form;
use super::super::{CookRecord, PlanRecord, check_own_food};
use super::{LeftOut, named, not_to_come};
use crate::Unfit;
use crate::cook::LONGEST_TEXT;
use crate::food::FoodClass;
use crate::limits::{LARGEST_ANSWER, LONGEST_NAME};
use crate::piece::LONGEST_MIN;
use crate::plan::{ENGINE_VERSION, Plan, PlanRequest, Range, data_version};
use crate::units::{Celsius, Ends, Grams, Length, Minutes};

/// How far from its making a plan's times may lie.
const PLANNED_AHEAD: SignedDuration = SignedDuration::from_hours(24 * 400);

/// An answer that a food's questions cannot have: nobody was asked it, and it could make a verdict milder.
fn check_questions(r: &PlanRequest) -> Result<(), Unfit> {
    let food = r.food();
    let asked = [
        ("prepared", r.prepared.is_some(), food.prepared.is_some()),
        ("egg_use", r.egg_use.is_some(), food.class == FoodClass::ShellEgg),
        ("parasites", r.parasites.is_some(), food.class == FoodClass::Fish),
        ("fill_ml", r.fill_ml.is_some(), food.jar.is_some()),
        ("glass_c", r.glass_c.is_some(), food.jar.is_some()),
    ];
    match asked.into_iter().find(|(_, said, may)| *said && !may) {
        Some((field, ..)) => Err(format!("{field}: {} is asked no such question", food.name).into()),
        None => Ok(()),
    }
}

/// Of cooks under way the computed answer rules: a file is not believed where it can be computed. What was another is named.
pub(super) fn recomputed(cook: &mut CookRecord, noted: &mut Vec<LeftOut>) -> Result<(), Unfit> {
    let state = cook.state();
    if state.ended().is_some() || state.deleted {
        return Ok(());
    }
    for record in &mut cook.piece.plans {
        let checked = record.checked().map_err(|e| format!("plan {}: {e}", record.id))?;
        if !checked.differs.is_empty() {
            let reason =
                format!("its answer was not what is computed from it ({})", checked.differs.join(", "));
            noted.push(LeftOut { what: format!("plan {}", record.id), reason });
        }
        if !checked.differs.is_empty() || record.engine != ENGINE_VERSION || record.data != data_version() {
            record.engine = checked.computed.engine.clone();
            record.data = checked.computed.data.clone();
            record.result = serde_json::to_value(&checked.computed).map_err(|e| e.to_string())?;
        }
    }
    Ok(())
}

/// Sizes and times of a request that could not be planned.
fn check_request(r: &PlanRequest) -> Result<(), Unfit> {
    check_questions(r)?;
    let size = 1.0..=1000.0;
    let within =
        |value: Option<f64>, range: &std::ops::RangeInclusive<f64>| value.is_none_or(|v| range.contains(&v));
    if !(1.0..=300.0).contains(&r.thickness_mm.mm()) || !(0.0..=100.0).contains(&r.bath_c.value()) {
        return Err(format!("{} mm at {} °C cannot be", r.thickness_mm.mm(), r.bath_c.value()).into());
    }
    if !(within(r.thin_mm.map(Length::mm), &size)
        && within(r.width_mm.map(Length::mm), &size)
        && within(r.length_mm.map(Length::mm), &size)
        && within(r.fill_ml, &(1.0..=10_000.0)))
    {
        return Err("a size that cannot be".into());
    }
    if !within(r.time_min.map(Minutes::value), &(0.0..=LONGEST_MIN.value()))
        || !within(r.glass_c.map(Celsius::value), &(-60.0..=150.0))
    {
        return Err("a time or temperature that cannot be".into());
    }
    let prep = &r.prep;
    let text = prep.in_bag.iter().chain([&prep.batch, &prep.air]).all(|t| t.len() <= LONGEST_TEXT);
    if !within(prep.weight_g.map(Grams::value), &(0.0..=100_000.0))
        || !within(prep.salt_percent, &(0.0..=100.0))
        || !text
    {
        return Err("a weight, salt or text that cannot be".into());
    }
    if !within(r.out_min.map(Minutes::value), &(0.0..=LONGEST_MIN.value())) {
        return Err("a time out of the refrigerator that cannot be".into());
    }
    if let Some(own) = r.planned.own() {
        check_own_food(own).map_err(|e| e.to_string())?;
    }
    if let Some(v) = &r.vessel {
        v.vessel.check().map_err(|e| format!("its vessel: {e}"))?;
        if !(0.0..=500.0).contains(&v.kg) || !(0.0..=5.0).contains(&v.reads_high_k.value()) {
            return Err("a load or a thermometer that cannot be".into());
        }
    }
    r.rules.check().map_err(|(field, why)| format!("{field}: {why}").into())
}

pub(super) fn check_plan(plan: &PlanRecord, now: Timestamp) -> Result<(), Unfit> {
    check_request(&plan.request)?;
    check_form(&plan.typed).map_err(|e| e.to_string())?;
    if !named(&plan.engine, LONGEST_NAME) || !named(&plan.data, LONGEST_NAME) {
        return Err(format!("engine and data must have 1 to {LONGEST_NAME} characters").into());
    }
    not_to_come("it was made", plan.created_at, now)?;
    let near = |t: Timestamp| plan.created_at.duration_since(t).abs() <= PLANNED_AHEAD;
    if plan.request.ready_at.is_some_and(|t| !near(t)) {
        return Err("it is to be ready more than 400 days away".into());
    }
    if plan.result.to_string().len() > LARGEST_ANSWER {
        return Err(format!("its answer is larger than {} kB", LARGEST_ANSWER >> 10).into());
    }
    // One that an older engine wrote is computed anew when it is shown.
    match Plan::deserialize(&plan.result) {
        Ok(answer) => check_answer(&answer, near),
        Err(_) => Ok(()),
    }
}

/// The answer as another program wrote it down: every minute one that a plan can have.
fn check_answer(plan: &Plan, near: impl Fn(Timestamp) -> bool) -> Result<(), Unfit> {
    const MOST_BANDS: usize = 64;
    let minutes = Minutes::ZERO..=LONGEST_MIN * 2.0;
    let can_be = |m: Minutes| minutes.contains(&m);
    let ends = |e: Ends<Minutes>| [e.fast, e.middle, e.slow].into_iter().all(can_be);
    let sound = [plan.bath_min, plan.needed_min, plan.finish_min, plan.best_from, plan.horizon_min]
        .into_iter()
        .all(can_be)
        && plan.horizon_min > Minutes::ZERO
        && ends(plan.through)
        && ends(plan.best_until)
        && plan.pasteurised.is_none_or(ends);
    if !sound || plan.bands.len() > MOST_BANDS {
        return Err("its answer has a time that cannot be".into());
    }
    if !plan.bands.iter().all(|b| can_be(b.from_min) && can_be(b.until_min) && b.from_min <= b.until_min) {
        return Err("its answer has a stretch that cannot be".into());
    }
    let t = &plan.times;
    let range = |r: Range| near(r.from) && near(r.until);
    let all = [t.preheat_by, t.drop_from, t.drop_by, t.pull, t.serve, plan.earliest_ready, plan.computed_at];
    let all_near = all.into_iter().chain(t.sear).all(&near)
        && range(t.through)
        && range(t.best_until)
        && t.pasteurised.is_none_or(range);
    if all_near { Ok(()) } else { Err("its answer has times more than 400 days away".into()) }
}
