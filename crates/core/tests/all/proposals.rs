//! What is proposed for a finish: for every food that is finished what a cook would be told, and against every way of a grid.

use std::fmt::Write;

use hold_steady_core::food::{Food, SearedFaces, catalogue};
use hold_steady_core::sear::{FinishAsked, FinishForm, Given, Pattern, Proposal, Setup};
use hold_steady_core::units::{Celsius, Length, Units};
use hold_steady_core::words;

/// A food at a thickness, from its usual bath, in a cast iron pan.
fn asked(food: &Food, thickness: Length) -> FinishAsked {
    let given = Given { thickness: Some(thickness), ..Given::default() };
    let (_, asked, errors) = FinishForm::default().read(food, &given, Units::default());
    asked.unwrap_or_else(|| panic!("{}: {errors:?}", food.id))
}

/// Every food that is finished on the heat, at its usual thickness, at half and at twice of it, as far as it comes so.
fn all() -> impl Iterator<Item = (&'static Food, Length)> {
    let seared = catalogue().foods.iter().filter(|f| f.finish().sears);
    seared.flat_map(|f| {
        let t = f.thickness_mm;
        let each = [t.usual, t.usual / 2.0, t.usual * 2.0].into_iter();
        each.filter(move |mm| (t.low..=t.high).contains(mm)).map(move |mm| (f, mm))
    })
}

/// What a cook is told, food by food: `tests/golden/proposals.txt`, written anew with `WRITE_GOLDEN=1`. None names faces,
/// edges or minutes that its own finish denies.
#[test]
fn every_food_s_finish_is_one_a_cook_would_do() {
    let mut told = String::new();
    for (food, thickness) in all() {
        let (asked, how) = (asked(food, thickness), food.finish().how.as_ref().expect("it is seared"));
        let best = asked.proposed().expect("simulates");
        let p = best.pattern;
        let hearth = asked.setup.hearth;
        let at = best.hearth_c.map_or_else(String::new, |c| Units::default().temperature(c));
        writeln!(
            told,
            "{}, {}: {at}, {}. {}",
            food.id,
            Units::default().length(thickness),
            words::pattern(&p, hearth.heats),
            words::proposal(&best, (hearth, asked.fat), Units::default())
        )
        .expect("a text");
        let named = format!("{} {thickness:?}: {p:?}", food.id);
        let other = match how.faces {
            SearedFaces::Both => None,
            SearedFaces::One => Some(0.0),
            SearedFaces::Skin => Some(how.other_s),
        };
        assert_eq!(p.after.other_s, other, "{named}");
        let (edges, _) = how.edges(p.face_s);
        assert!(p.after.edges == edges && (edges > 0 || p.after.edge_s == 0.0), "{named}");
        assert!(p.pause_s <= how.pause_most_min.value() * 60.0 && p.times <= how.turns, "{named}");
        assert!(p.face_s >= how.least_s, "{named}");
        let hot = best.hearth_c.expect("a pan has a temperature");
        assert!(hot <= Celsius::new(260.0), "{named}: nobody said that the pan is bare");
        assert!(how.pan_c.is_none_or(|(low, high)| (low..=high).contains(&hot)), "{named}");
        // Where it does not land, nothing that is allowed would have brought it nearer.
        if !best.lands() {
            assert!(
                best.off_k < 0.0 || p.pause_s >= how.pause_most_min.value() * 60.0 - 30.0,
                "{named}: {}",
                best.off_k
            );
        }
    }
    let golden = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/proposals.txt");
    if std::env::var_os("WRITE_GOLDEN").is_some() {
        std::fs::write(golden, &told).expect("written");
    }
    let kept = std::fs::read_to_string(golden).expect("there");
    for (now, then) in told.lines().zip(kept.lines()) {
        assert_eq!(now, then);
    }
    assert_eq!(told.lines().count(), kept.lines().count());
}

/// One way of a grid, and what comes of it.
struct Tried {
    how: (usize, Pattern),
    off_k: f64,
    band_mm: f64,
    all_s: f64,
}

/// What comes of one way, and whether it browns as wanted and burns nothing.
fn tried(asked: &FinishAsked, (c, pattern): (usize, Pattern)) -> (Tried, bool, bool) {
    let wanted = &asked.wanted;
    let setup = Setup { hearth_c: Some(Celsius::new(c as f64)), ..asked.setup.clone() };
    let out = setup.finish(&pattern).expect("simulates");
    let hottest = out.faces.iter().map(|f| f.peak_c).fold(0.0, f64::max);
    let brown = out.paler().browning >= wanted.browning;
    let tried = Tried {
        how: (c, pattern),
        off_k: out.peak_c - wanted.centre_c,
        band_mm: out.thicker_band_mm(wanted.band_above_c()),
        all_s: pattern.all_s(setup.hearth.heats),
    };
    (tried, brown, hottest <= wanted.face_c)
}

/// Every way of a grid over temperature, turns, seconds and pause that ends within half a kelvin and browns as wanted; and
/// about the one with the thinnest band of them, closer.
fn exhaustive(asked: &FinishAsked, step_s: f64) -> Vec<Tried> {
    const APART_K: usize = 20;
    const LONGER: f64 = 1.6;
    let (wanted, may) = (&asked.wanted, &asked.may);
    let ends: Vec<f64> = may.hearths_c.iter().flatten().map(|c| c.value()).collect();
    let (low, high) = (ends[ends.len() - 1] as usize, ends[0] as usize);
    let pattern = |(times, face_s, pause_s): (u32, f64, f64)| {
        let edge_s = if may.edges_as_faces { face_s } else { wanted.after.edge_s };
        let after = hold_steady_core::sear::After { edge_s, ..wanted.after };
        Pattern { pause: hold_steady_core::sear::Pause::Air, pause_s, face_s, times, after }
    };
    let mut found = Vec::new();
    for c in (low..=high).rev().step_by(APART_K) {
        for times in 1..=may.turns {
            let (mut shortest, mut face_s) = (None, may.least_s.max(8.0));
            while shortest.is_none_or(|s| face_s <= LONGER * s) && face_s < 420.0 {
                for pause_s in (0..).map(|i| f64::from(i) * 60.0).take_while(|s| *s <= may.pause_most_s) {
                    let (one, brown, unburnt) = tried(asked, (c, pattern((times, face_s, pause_s))));
                    if brown {
                        shortest.get_or_insert(face_s);
                    }
                    let too_cold = one.off_k < -0.5;
                    if one.off_k.abs() <= 0.5 && brown && unburnt {
                        found.push(one);
                    }
                    if too_cold {
                        break;
                    }
                }
                face_s += (0.03 * step_s * face_s).max(step_s).round();
            }
        }
    }
    if let Some(of) = found.iter().min_by(|a, b| a.band_mm.total_cmp(&b.band_mm)) {
        let (c, p) = of.how;
        let pauses = [-45.0, -30.0, -15.0, 0.0, 15.0, 30.0, 45.0].map(|s| p.pause_s + s);
        let closer =
            pauses.into_iter().filter(|s| (0.0..=may.pause_most_s).contains(s)).flat_map(|pause_s| {
                [-2.0, -1.0, 0.0].map(|s| pattern((p.times, (p.face_s + s).max(may.least_s), pause_s)))
            });
        let closer: Vec<_> = closer.map(|p| tried(asked, (c, p))).collect();
        found.extend(closer.into_iter().filter(|(t, b, u)| t.off_k.abs() <= 0.5 && *b && *u).map(|t| t.0));
    }
    found
}

/// By the order that is said: half a kelvin, then browned, then the thinnest band to 0.3 mm, then the fewest minutes to a tenth.
///
/// `step_s`: by so many seconds a face apart.
fn as_good_as_any(id: &str, mm: f64, step_s: f64) {
    let food = catalogue().food(id).expect("in the catalogue");
    let asked = asked(food, Length::from_mm(mm));
    let best: Proposal = asked.proposed().expect("simulates");
    let all = exhaustive(&asked, step_s);
    let nearest = all.iter().map(|t| t.off_k.abs()).fold(f64::INFINITY, f64::min);
    assert!(best.lands() || all.is_empty(), "{id} {mm} mm: {} off, and {nearest} can be had", best.off_k);
    if all.is_empty() {
        return;
    }
    let thinnest = all.iter().min_by(|a, b| a.band_mm.total_cmp(&b.band_mm)).expect("some");
    assert!(best.brown && best.unburnt, "{id} {mm} mm: {:?}", best.pattern);
    let worth = thinnest.band_mm + 0.3;
    let told = || {
        format!(
            "{id} {mm} mm: band {} in {} s by {:?} at {:?}",
            best.band_mm, best.all_s, best.pattern, best.hearth_c
        )
    };
    assert!(best.band_mm <= worth + 0.02, "{}, against {} by {:?}", told(), thinnest.band_mm, thinnest.how);
    let thin = all.iter().filter(|t| t.band_mm <= worth);
    let soonest = thin.min_by(|a, b| a.all_s.total_cmp(&b.all_s)).expect("some");
    assert!(
        best.all_s <= 1.1 * soonest.all_s,
        "{}, against {} s by {:?}",
        told(),
        soonest.all_s,
        soonest.how
    );
}

macro_rules! as_good {
    ($($name:ident: $id:literal $mm:literal),+ $(,)?) => { $(#[test] fn $name() { as_good_as_any($id, $mm, 2.0); })+ };
}

as_good! {
    no_way_of_a_grid_beats_a_thin_steak_s: "beef-strip" 12.0,
    no_way_of_a_grid_beats_a_steak_s: "beef-strip" 32.0,
    no_way_of_a_grid_beats_a_thick_steak_s: "beef-strip" 64.0,
    no_way_of_a_grid_beats_a_burger_s: "burger" 25.0,
    no_way_of_a_grid_beats_a_salmon_s: "salmon-fillet" 25.0,
    no_way_of_a_grid_beats_a_scallop_s: "scallop" 22.0,
}

/// The same of every food at every thickness: a quarter of an hour on two cores. `cargo test -p hold-steady-core --test all -- --ignored grid`,
/// with `FOODS=beef-strip,burger:50` of these.
#[test]
#[ignore = "takes a quarter of an hour"]
fn no_way_of_a_grid_beats_any() {
    let beaten = |id: &str, mm: f64| std::panic::catch_unwind(|| as_good_as_any(id, mm, 1.0)).is_err();
    let only = std::env::var("FOODS").unwrap_or_default();
    let asked =
        |id: &str, mm: f64| only.is_empty() || only.split(',').any(|f| f == id || f == format!("{id}:{mm}"));
    let all: Vec<_> = all().filter(|(food, t)| asked(&food.id, t.mm())).collect();
    // Two at a time.
    let beaten: Vec<_> = std::thread::scope(|scope| {
        let halves = all.chunks(all.len().div_ceil(2).max(1));
        let each = halves.map(|half| {
            scope.spawn(move || {
                half.iter()
                    .filter(|(f, t)| beaten(&f.id, t.mm()))
                    .map(|(f, t)| (&f.id, t.mm()))
                    .collect::<Vec<_>>()
            })
        });
        each.collect::<Vec<_>>().into_iter().flat_map(|one| one.join().expect("ends")).collect()
    });
    assert!(beaten.is_empty(), "of {} beaten: {beaten:?}", all.len());
}
