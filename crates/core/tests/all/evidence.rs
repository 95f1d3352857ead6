//! The comparisons that the page "How we know" draws: each holds, or is a known miss that really misses.
//! Sources stand with the data, in `data/evidence/`.

use hold_steady_core::evidence::evidence;

#[test]
fn every_comparison_holds_or_is_a_known_miss() {
    let mut wrong = Vec::new();
    let mut count = 0;
    for set in evidence() {
        for p in &set.points {
            count += 1;
            if p.holds() == p.known_miss {
                wrong.push(format!("{}: {} {:?} for {}", set.id, p.label, p.computed, p.published));
            }
        }
    }
    assert!(wrong.is_empty(), "{wrong:#?}");
    assert!(count > 150, "{count}");
}

#[test]
fn layers_matter() {
    // An egg whose white conducts like its yolk would be a different egg: the layered reference is not
    // met by accident.
    let set = evidence().iter().find(|s| s.id == "reference").expect("there");
    let egg = |min: &str| {
        set.points.iter().find(|p| p.label.starts_with("egg") && p.label.contains(min)).expect("there")
    };
    assert!(egg("12 min").computed.is_some_and(|c| (42.0..43.5).contains(&c)));
}
