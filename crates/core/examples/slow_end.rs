//! Writes `data/evidence/slow-end.json`: the slow end of every food beside a Monte Carlo of 2,000 draws.

use hold_steady_core::evidence::SlowEnd;
use hold_steady_core::food::catalogue;
use hold_steady_core::plan::From;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let draws = std::env::args().nth(1).map_or(Ok(2000), |n| n.parse())?;
    let rounded = |x: f64| (x * 100.0).round() / 100.0;
    let mut lines = Vec::new();
    for food in catalogue().listed() {
        for from in From::ALL.into_iter().filter(|f| food.may_come_from(f.id()) && *f != From::Counter) {
            let mut found = SlowEnd::compute(food, from, draws, 2)?;
            for end in [&mut found.through, &mut found.pasteurised].into_iter().flatten() {
                (end.middle, end.slow, end.p95) = (rounded(end.middle), rounded(end.slow), rounded(end.p95));
            }
            for (what, end) in [("through", found.through), ("pasteurised", found.pasteurised)] {
                if end.is_some_and(|e| !e.holds()) {
                    eprintln!("{} from the {}: {what} {end:?}", food.id, from.id());
                }
            }
            lines.push(format!(" {}", serde_json::to_string(&found)?));
        }
    }
    println!("[\n{}\n]", lines.join(",\n"));
    Ok(())
}
