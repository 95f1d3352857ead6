//! Every food of the catalogue as its sentence starts, planned: a table for reading through.

use hold_steady_core::food::catalogue;
use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, envelope, plan};
use hold_steady_core::units::Units;
use hold_steady_core::words::caution;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let (now, zone, rules) =
        ("2026-11-25T08:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
    for food in catalogue().listed() {
        let form = PlanForm { food: food.id.clone(), intact: "whole".into(), ..PlanForm::default() };
        let reading = form.read(&Setting::new(Units::default(), now, &zone, &rules));
        let Some(request) = reading.request else {
            println!("{:20} {:?}", food.id, reading.errors);
            continue;
        };
        let begun = std::time::Instant::now();
        let p = plan(&request, now)?;
        let planned = begun.elapsed();
        let begun = std::time::Instant::now();
        envelope(&request, p.horizon_min)?;
        println!(
            "{:20} {:>5.1} °C {:>5.0} min (through {:>5.0}, safe {:>5.0}, best {:>5.0} to {:>5.0}) {:?} row {} {:?} + map {:?} {}",
            food.id,
            request.bath_c.value(),
            p.bath_min.value(),
            p.through.slow.value(),
            p.pasteurised.map_or(f64::NAN, |e| e.slow.value()),
            p.best_from.value(),
            p.best_until.fast.value(),
            p.verdict.level,
            p.verdict.row.number(),
            planned,
            begun.elapsed(),
            p.caution.map_or_else(String::new, |c| caution(&c, food, Units::default()))
        );
    }
    Ok(())
}
