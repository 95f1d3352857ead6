//! Every food that is offered, as a cook meets it: picked, its questions answered, planned. (The project's
//! own rules; published values are checked elsewhere.)

use hold_steady_core::figures::{Basis, limits};
use hold_steady_core::food::{Food, FoodClass, catalogue};
use hold_steady_core::plan::{
    Caution, Envelope, KitchenRules, Plan, PlanForm, PlanRequest, Setting, StretchKind, envelope, plan,
};
use hold_steady_core::safety::Level;
use hold_steady_core::units::{Celsius, Kelvin, Minutes, Units};
use hold_steady_core::words;
use jiff::Timestamp;
use jiff::tz::TimeZone;

fn now() -> Timestamp {
    "2026-11-25T12:00:00Z".parse().expect("an instant")
}

/// The sentence with every question answered the good way.
fn sentence(food: &Food) -> PlanForm {
    PlanForm {
        food: food.id.clone(),
        intact: "whole".into(),
        parasites: "frozen".into(),
        prepared: "yes".into(),
        ..PlanForm::default()
    }
}

fn understood(form: &PlanForm) -> PlanRequest {
    let rules = KitchenRules::default();
    let reading = form.read(&Setting::new(Units::default(), now(), &TimeZone::UTC, &rules));
    reading.request.unwrap_or_else(|| panic!("{}: {:?}", form.food, reading.errors))
}

fn planned(form: &PlanForm) -> Plan {
    plan(&understood(form), now()).expect("simulates")
}

#[test]
fn about_fifty_foods_and_more_are_offered_in_every_group() {
    let listed: Vec<&Food> = catalogue().listed().collect();
    assert!(listed.len() >= 50, "{}", listed.len());
    // What a cook would look for, by any word for it.
    for words in [
        "flank",
        "skirt",
        "chuck",
        "brisket",
        "short rib",
        "cheek",
        "burger",
        "pork chop",
        "pork loin",
        "pork tenderloin",
        "pork belly",
        "pork shoulder",
        "ribs",
        "rack of lamb",
        "leg of lamb",
        "lamb shoulder",
        "veal",
        "sausage",
        "chicken breast",
        "chicken thigh",
        "drumstick",
        "duck breast",
        "duck leg",
        "turkey",
        "salmon",
        "cod",
        "tuna",
        "mackerel",
        "shrimp",
        "lobster",
        "scallop",
        "squid",
        "octopus",
        "mussel",
        "egg",
        "custard",
        "yoghurt",
        "carrot",
        "beetroot",
        "asparagus",
        "potato",
        "bean",
        "pear",
        "curry",
        "leftover",
    ] {
        let found = hold_steady_core::food::Pantry::default();
        assert!(!found.search(words).is_empty(), "{words}");
    }
}

#[test]
fn every_value_has_its_source_and_basis() {
    for food in &catalogue().foods {
        let of = [
            (&food.composition.source, food.composition.basis),
            (&food.freezing.source, food.freezing.basis),
            (&food.within_k.source, food.within_k.basis),
            (&food.texture.source, food.texture.basis),
            (&food.looks.source, food.looks.basis),
            (&food.allergens.source, food.allergens.basis),
            (&food.finish().source, food.finish().basis),
            (&food.surface().source, food.surface().basis),
        ];
        let levels = food.doneness.iter().map(|d| (&d.source, d.basis));
        let schools = food.schools.iter().map(|s| (&s.source, s.basis));
        for (source, basis) in of.into_iter().chain(levels).chain(schools) {
            assert!(source.len() > 8, "{}: “{source}”", food.id);
            assert_ne!(basis, Basis::Kitchen, "{}", food.id);
        }
        assert_eq!(food.texture.basis, Basis::Trade, "{}: no source proves a texture window", food.id);
        assert!(!food.looks.text.is_empty() && !food.texture.after.is_empty(), "{}", food.id);
        assert!(food.texture.side_by_side().count() == if food.texture.tough { 3 } else { 0 }, "{}", food.id);
    }
}

#[test]
fn each_is_planned_as_it_stands_and_a_sound_plan_is_not_nagged() {
    for food in catalogue().listed() {
        let p = planned(&sentence(food));
        assert!(!p.is_refused(), "{}: {:?}", food.id, p.verdict);
        // Cold glass into hot water is the one thing to say about a jar as it usually stands.
        let glass = matches!(p.caution, Some(Caution::ColdGlass { .. }));
        assert!(p.caution.is_none() || (food.jar.is_some() && glass), "{}: {:?}", food.id, p.caution);
        let t = &p.times;
        let order = [t.preheat_by, t.drop_by, t.through.from, t.through.until, t.pull, t.serve];
        assert!(order.windows(2).all(|w| w[0] <= w[1]), "{}: {order:?}", food.id);
        assert!(t.best_until.from >= t.pull, "{}: pulled past its best", food.id);
        // Nothing that must be pasteurised is offered short of it.
        if matches!(food.class, FoodClass::Ground | FoodClass::Poultry | FoodClass::EggMixture) {
            assert_eq!(p.verdict.level, Level::Pasteurized, "{}", food.id);
        }
    }
}

#[test]
fn only_what_matters_is_asked() {
    for food in catalogue().listed() {
        understood(&sentence(food));
        let egg = food.class == FoodClass::ShellEgg;
        assert_eq!(!food.sizes.is_empty(), egg, "{}: eggs come in sizes", food.id);
        assert!(food.jar.is_none() || food.sides_mm.is_none(), "{}", food.id);
        if food.group.to_lowercase().contains("roast") || food.id.ends_with("roast") {
            assert!(food.sides_mm.is_some(), "{}: a roast asks for its length and width", food.id);
        }
        assert!(
            food.class != FoodClass::Ground || food.says.is_some(),
            "{}: says that its centre counts",
            food.id
        );
    }
}

#[test]
fn late_or_early_changes_the_words_for_every_food() {
    for food in catalogue().listed() {
        let p = planned(&sentence(food));
        let told: Vec<(&str, String)> =
            p.stops.iter().map(|s| words::stop(s, food, Units::default())).collect();
        let (first, last) = (&told[0], &told[told.len() - 1]);
        assert!(first.1.contains("warming"), "{}: {}", food.id, first.1);
        assert_ne!(first, last, "{}", food.id);
        assert!(told.iter().all(|(head, text)| !head.is_empty() && !text.is_empty()), "{}", food.id);
        assert!(
            p.stops.iter().any(|s| (s.min - p.bath_min).value().abs() < 1e-9),
            "{}: none at the pull",
            food.id
        );
        assert!(
            last.1.contains("Past its best") || p.stops[told.len() - 1].verdict.level == Level::Refused,
            "{}: {}",
            food.id,
            last.1
        );
    }
}

fn kind_at(map: &Envelope, bath_c: f64, min: f64) -> StretchKind {
    let row = map.rows.iter().min_by(|a, b| {
        (a.bath_c - Kelvin::new(bath_c))
            .value()
            .abs()
            .total_cmp(&(b.bath_c - Kelvin::new(bath_c)).value().abs())
    });
    row.and_then(|r| r.bands.iter().rfind(|b| b.from_min <= Minutes::new(min)))
        .map(|b| b.kind)
        .expect("covered")
}

#[test]
fn the_map_says_what_the_plan_says() {
    let gate = limits().lowest_hold_c.value;
    for id in [
        "beef-strip",
        "chicken-breast",
        "salmon-fillet",
        "shell-egg-large",
        "pork-shoulder",
        "carrot",
        "egg-custard",
    ] {
        let food = catalogue().food(id).expect("in the catalogue");
        let form = sentence(food);
        let horizon = 2.0 * planned(&form).bath_min.value();
        let map = envelope(&understood(&form), Minutes::new(horizon)).expect("simulates");
        assert!(map.rows.windows(2).all(|w| w[0].bath_c < w[1].bath_c), "{id}");
        for row in &map.rows {
            assert_eq!(row.bands[0].from_min, Minutes::new(0.0), "{id}");
            assert_eq!(row.bands[row.bands.len() - 1].until_min, Minutes::new(horizon), "{id}");
            assert!(row.bands.windows(2).all(|w| w[0].until_min == w[1].from_min), "{id}");
        }
        // At its own rows a plan for that bath draws the same stretches; the map is never ahead of it.
        for row in map.rows.iter().step_by(5) {
            let p = planned(&PlanForm { bath: format!("{} °C", row.bath_c.value()), ..form.clone() });
            if let (Some(drawn), Some(exact)) = (row.safe_min, p.pasteurised.map(|r| r.slow)) {
                assert!(
                    (exact - Minutes::new(0.6)..exact * 1.03 + Minutes::new(1.0)).contains(&drawn),
                    "{id} {}: {drawn:?} {exact:?}",
                    row.bath_c.value()
                );
            }
            if food.class.is_animal() && row.bath_c < Celsius::new(gate) {
                assert_eq!(row.safe_min, None, "{id} {}", row.bath_c.value());
            }
        }
        // Everything that begins, begins sooner in a hotter bath.
        let safe: Vec<_> = map.rows.iter().filter_map(|r| r.safe_min).collect();
        assert!(safe.windows(2).all(|w| w[1] <= w[0] + Minutes::new(0.5)), "{id}: {safe:?}");
        assert_eq!(kind_at(&map, map.rows[0].bath_c.value(), 0.0), StretchKind::Warming, "{id}");
    }
}

#[test]
fn no_level_on_the_scale_is_always_refused() {
    // At some thickness a cook could have on the board, each level can be served to guests not at risk.
    for food in catalogue().listed() {
        for level in &food.doneness {
            let usual = planned(&PlanForm {
                done: level.id.clone(),
                bath: format!("{} °C", level.c.value()),
                ..sentence(food)
            });
            if !usual.is_refused() {
                continue;
            }
            let thin = PlanForm {
                thickness: format!("{} mm", food.thickness_mm.low.mm().max(20.0)),
                done: level.id.clone(),
                bath: format!("{} °C", level.c.value()),
                ..sentence(food)
            };
            let p = planned(&thin);
            assert!(!p.is_refused(), "{} {} at {}: {:?}", food.id, level.id, level.c.value(), p.verdict);
            // And at its usual thickness the way out is given at once.
            let way = words::way_out(&usual.verdict.way_out.expect("a way out"), Units::default());
            assert!(
                way.contains("heated through in time") || way.contains("no later than"),
                "{}: {way}",
                food.id
            );
        }
    }
}

/// Every doneness that is offered has an allowed plan at the food's usual thickness, or says beside it how thin it must be.
#[test]
fn every_doneness_offered_is_allowed_or_says_what_it_asks() {
    use hold_steady_core::evidence::usual_request;
    use hold_steady_core::plan::From;
    use hold_steady_core::units::Length;
    let refused = |food: &Food, c: Celsius, mm: Option<Length>| {
        let usual = usual_request(food, From::Refrigerator);
        let thickness_mm = mm.unwrap_or(usual.thickness_mm);
        let asked = PlanRequest { bath_c: c, thickness_mm, thin_mm: None, ..usual };
        plan(&asked, Timestamp::UNIX_EPOCH).expect("simulates").is_refused()
    };
    let mut wrong = Vec::new();
    for food in &catalogue().foods {
        for level in &food.doneness {
            let found = if !refused(food, level.c, None) {
                None
            } else {
                let usual = usual_request(food, From::Refrigerator).thickness_mm.mm().floor();
                let thin = (5..usual as u32)
                    .rev()
                    .map(f64::from)
                    .find(|mm| !refused(food, level.c, Some(Length::from_mm(*mm))));
                // Nothing thinner helps: it must be another level.
                Some(thin.unwrap_or(0.0))
            };
            if found != level.thinner_mm.map(Length::mm) {
                wrong.push(format!(
                    "{} {}: {found:?}, and {:?} stands there",
                    food.id, level.id, level.thinner_mm
                ));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
