//! `cargo bench -p hold-steady-core`: what a page waits for. Times vary with the machine; what is worth
//! keeping are the ratios within one run. docs/performance.md quotes one.

use divan::{Bencher, black_box};
use hold_steady_core::bath::BathTrace;
use hold_steady_core::board::shared;
use hold_steady_core::calc;
use hold_steady_core::evidence::usual_request;
use hold_steady_core::figures::limits;
use hold_steady_core::food::catalogue;
use hold_steady_core::heat::{
    BLOCK_CELLS, BlockProblem, DEFAULT_CELLS, FROZEN_CELLS, Initial, Mesh, Problem, Shape, Surface, simulate,
    simulate_block, simulate_watched,
};
use hold_steady_core::piece::{Piece, Spreads, monte_carlo};
use hold_steady_core::plan::{From, KitchenRules, PlanForm, PlanRequest, Setting, Window, Windows, plan};
use hold_steady_core::safety::GrowthWatch;
use hold_steady_core::units::{Celsius, Length, Minutes, Units};

fn main() {
    divan::main();
}

const FOUR_HOURS: f64 = 4.0 * 3600.0;

fn slab(bencher: Bencher, start: f64, cells: usize, hours: f64) {
    let meat = catalogue().food("beef-tenderloin").expect("in the catalogue").material();
    bencher.bench(|| {
        let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), cells);
        let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
        let problem = Problem::uniform(mesh, &meat, Initial::Uniform(start), surface);
        simulate(black_box(&problem), hours * 3600.0, &[]).expect("a slab")
    });
}

#[divan::bench]
fn slab_25_mm_4_h(bencher: Bencher) {
    slab(bencher, 5.0, DEFAULT_CELLS, 4.0);
}

/// With and without the growth clocks of every layer: what they cost is the ratio of the two. (Not to the line
/// above: that one is compiled with the solver.)
#[divan::bench(args = [false, true])]
fn slab_25_mm_4_h_clocks(bencher: Bencher, clocks: bool) {
    let meat = catalogue().food("beef-tenderloin").expect("in the catalogue").material();
    let bath = BathTrace::constant(55.0);
    bencher.bench(|| {
        let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
        let surface = Surface { coefficient: 95.0, bath: bath.clone() };
        let problem = black_box(Problem::uniform(mesh, &meat, Initial::Uniform(5.0), surface));
        if clocks {
            let mut watch = GrowthWatch::new(limits(), &bath);
            let run = simulate_watched(&problem, FOUR_HOURS, &[], &mut watch).expect("a slab");
            (run, watch.finish())
        } else {
            let run = simulate_watched(&problem, FOUR_HOURS, &[], &mut ()).expect("a slab");
            (run, GrowthWatch::new(limits(), &bath).finish())
        }
    });
}

#[divan::bench]
fn slab_25_mm_4_h_frozen(bencher: Bencher) {
    slab(bencher, -18.0, FROZEN_CELLS, 4.0);
}

/// Linear in cells: each line twice the one before.
#[divan::bench(args = [30, 60, 120, 240])]
fn cells(bencher: Bencher, cells: usize) {
    slab(bencher, 5.0, cells, 4.0);
}

/// Sub-linear in hours: steps grow as the piece settles.
#[divan::bench(args = [1, 4, 16, 64])]
fn hours(bencher: Bencher, hours: u32) {
    slab(bencher, 5.0, DEFAULT_CELLS, f64::from(hours));
}

#[divan::bench]
fn block_80_120_180_mm_4_h(bencher: Bencher) {
    let meat = catalogue().food("pork-shoulder").expect("in the catalogue").material();
    bencher.bench(|| {
        let surface = Surface { coefficient: 95.0, bath: BathTrace::constant(68.0) };
        let problem = BlockProblem {
            size_m: [0.08, 0.12, 0.18],
            cells: BLOCK_CELLS,
            material: &meat,
            start_c: 5.0,
            surface,
        };
        simulate_block(black_box(&problem), FOUR_HOURS, &[]).expect("a block")
    });
}

#[divan::bench(sample_count = 5)]
fn monte_carlo_2000_slabs(bencher: Bencher) {
    let food = catalogue().food("beef-strip").expect("in the catalogue");
    let shape = Shape::Slab(Length::from_mm(25.0));
    let piece = Piece::new(food, shape, Celsius::new(5.0), BathTrace::constant(55.0));
    bencher.bench(|| {
        monte_carlo(black_box(&piece), &Spreads::default(), Minutes::new(240.0), (2000, 1, 2))
            .expect("simulates")
    });
}

fn request(from: &str) -> (PlanRequest, jiff::Timestamp) {
    let now = "2026-11-25T16:00:00Z".parse().expect("an instant");
    let form = PlanForm { intact: "whole".into(), from: from.into(), ..PlanForm::default() };
    let reading =
        form.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &KitchenRules::default()));
    (reading.request.expect("complete"), now)
}

/// A whole answer of the plan page, ways out, stops and slices included.
#[divan::bench(args = ["refrigerator", "freezer"])]
fn plan_page(bencher: Bencher, from: &str) {
    let (request, now) = request(from);
    bencher.bench(|| plan(black_box(&request), now).expect("simulates"));
}

/// The costly part of a plan, without its pictures.
#[divan::bench(args = ["refrigerator", "freezer"])]
fn window(bencher: Bencher, from: &str) {
    let (request, _) = request(from);
    bencher.bench(|| Window::of(black_box(&request)).expect("simulates"));
}

/// One bath for forty cooks of three kinds: nine windows, the first time; kept, none.
#[divan::bench(args = [true, false], sample_count = 10)]
fn one_bath_for_forty(bencher: Bencher, anew: bool) {
    let of = |id: &str| usual_request(catalogue().food(id).expect("in the catalogue"), From::Refrigerator);
    let kinds = [of("beef-strip"), of("chicken-breast"), of("salmon-fillet")];
    let forty: Vec<PlanRequest> = kinds.iter().cycle().take(40).cloned().collect();
    let kept = Windows::default();
    bencher.bench(|| {
        let fresh = Windows::default();
        shared(black_box(&forty), if anew { &fresh } else { &kept }).expect("simulates")
    });
}

/// The water of a bath, as it is asked over the calculation interface.
#[divan::bench(args = ["mix", "load", "evaporation", "warmup"])]
fn bath(bencher: Bencher, kind: &str) {
    let request = match kind {
        "mix" => r#"{"litres":12,"now_c":53.5,"want_c":54.5,"add_c":95,"capacity_l":14}"#,
        "load" => {
            r#"{"litres":12,"bath_c":54.5,"food_kg":4,"food_c":5,"heater_w":1000,"loss_w_k":2,"surface_m2":0.12}"#
        }
        "evaporation" => r#"{"water_c":54,"room_c":22,"humidity":0.5,"surface_m2":0.12,"cover":"none"}"#,
        _ => {
            r#"{"litres":12,"now_c":15,"target_c":85,"heater_w":2000,"room_c":22,"cover":"none","surface_m2":0.12}"#
        }
    };
    let request = serde_json::from_str(request).expect("JSON");
    bencher.bench(|| calc::run(kind, black_box(&request)).expect("complete"));
}

fn steak_38() -> hold_steady_core::sear::Setup {
    use hold_steady_core::sear::{Hearth, Setup};
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), Hearth::named("iron-pan").expect("shipped"))
}

/// A minute a face, and eight minutes of rest.
#[divan::bench]
fn sear_with_rest() -> f64 {
    let request = r#"{"food":"beef-strip","thickness_mm":25,"centre_c":54,"surface_c":230,"turns_s":[60,60],"rest_min":8}"#;
    let answer = hold_steady_core::calc::run_text("sear", request).expect("complete");
    answer["centre_peak_c"].as_f64().expect("a number")
}

/// The optimiser: three proposals.
#[divan::bench]
fn sear_proposals() -> usize {
    use hold_steady_core::sear::{After, Wanted, proposals};
    let wanted = Wanted {
        centre_c: 54.0,
        browning: 0.008,
        face_c: 240.0,
        within_s: None,
        after: After { edge_s: 15.0, ..After::resting(60.0) },
    };
    proposals(&steak_38(), &wanted).expect("simulates").len()
}

/// A cook whose bath a device reads each minute, so many hours in: what its page waits for. Calm, and switched (half a kelvin
/// about the setting every twelve minutes).
#[divan::bench(args = [(1, 0.1), (24, 0.1), (72, 0.1), (72, 0.5)], sample_count = 10)]
fn followed(bencher: Bencher, (hours, swing): (i64, f64)) {
    use hold_steady_core::bath::{BathHistory, WaterRead};
    use hold_steady_core::cook::{CookState, Event, EventKind, live};
    use hold_steady_core::units::moved;
    let chuck = catalogue().food("beef-chuck").expect("in the catalogue");
    let request = PlanRequest { bath_c: Celsius::new(60.0), ..usual_request(chuck, From::Refrigerator) };
    let dropped: jiff::Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    let now = moved(dropped, Minutes::new(hours as f64 * 60.0));
    let plan = plan(&request, dropped).expect("simulates");
    let (id, by) = (uuid::Uuid::nil(), hold_steady_core::who::By::default());
    let event = Event { id, happened_at: dropped, recorded_at: dropped, by, kind: EventKind::Dropped };
    let state = CookState::default().apply(&event).expect("dropped");
    let read = |m: i64| {
        let off = swing * (m as f64 * std::f64::consts::TAU / 12.0).sin();
        WaterRead::reported(moved(dropped, Minutes::new(m as f64)), Celsius::new(60.0 + off))
    };
    let water = BathHistory {
        readings: (0..hours * 60).map(read).collect(),
        ..BathHistory::set(dropped, Celsius::new(60.0))
    };
    bencher.bench(|| live(black_box(&request), &plan, &state, &water, now).expect("simulates").stage);
}
