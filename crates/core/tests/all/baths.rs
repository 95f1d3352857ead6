//! Plans in a vessel, and cooks in water that nothing heats.

use hold_steady_core::bath::{
    Against, BathHistory, Check, Thermometer, Vessel, WaterEvent, WaterEventKind, WaterRead, shapes,
};
use hold_steady_core::book::{
    BagRecord, BathRecord, CookRecord, EventRecord, InstrumentRecord, KeptVessel, PieceRecord, PlanRecord,
    ReadingRecord, Subject,
};
use hold_steady_core::cook::{CookState, Event, EventKind, Live, live};
use hold_steady_core::plan::{Equipment, KitchenRules, Plan, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::safety::Level;
use hold_steady_core::units::{Celsius, Kelvin, Minutes, Units};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

fn t(min: i64) -> Timestamp {
    let base: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    base + SignedDuration::from_mins(min)
}

fn vessel(id: &str) -> Vessel {
    shapes().iter().find(|s| s.0 == id).expect("shipped").1.clone()
}

fn checked(read: f64, is: f64) -> Thermometer {
    let check = Check {
        id: Uuid::from_u128(7),
        at: t(-600),
        against: Against::Reference,
        read_c: Celsius::new(read),
        true_c: Celsius::new(is),
    };
    Thermometer { id: Uuid::from_u128(70), name: "thin probe".into(), checks: vec![check] }
}

fn understood(
    form: PlanForm,
    vessel: Option<Vessel>,
    thermometers: Vec<Thermometer>,
) -> Result<PlanRequest, String> {
    let id = Uuid::from_u128(99);
    let named = if vessel.is_some() { id.to_string() } else { String::new() };
    let vessels = vessel.into_iter().map(|vessel| KeptVessel { id, vessel }).collect();
    let equipment = Equipment { vessels, thermometers };
    let (rules, zone) = (KitchenRules::default(), jiff::tz::TimeZone::UTC);
    let setting = Setting::new(Units::default(), t(0), &zone, &rules).with_equipment(&equipment);
    let reading = PlanForm { vessel: named, ..form }.read(&setting);
    reading.request.ok_or_else(|| format!("{:?}", reading.errors))
}

fn strip(bath: &str, more: PlanForm) -> PlanForm {
    PlanForm {
        food: "beef-strip".into(),
        thickness: "25 mm".into(),
        bath: bath.into(),
        intact: "whole".into(),
        ..more
    }
}

fn planned(form: PlanForm, vessel: Option<Vessel>, thermometers: Vec<Thermometer>) -> (PlanRequest, Plan) {
    let request = understood(form, vessel, thermometers).expect("understood");
    let plan = plan(&request, t(0)).expect("simulates");
    (request, plan)
}

#[test]
fn a_heavy_load_in_a_weak_bath_takes_longer_and_preheating_is_computed() {
    let heavy = || {
        let mut form = strip("55 °C", PlanForm::default());
        form.prep.weight = "4000 g".into();
        form
    };
    let (_, bare) = planned(heavy(), None, Vec::new());
    let weak = Vessel { heater_w: 250.0, ..vessel("box-12") };
    let (_, loaded) = planned(heavy(), Some(weak), Vec::new());
    let (_, strong) = planned(heavy(), Some(Vessel { heater_w: 3000.0, ..vessel("box-12") }), Vec::new());
    assert!(
        loaded.through.slow > bare.through.slow + Minutes::new(3.0),
        "{:?} {:?}",
        loaded.through,
        bare.through
    );
    assert!(strong.through.slow < loaded.through.slow);
    let preheat = |p: &Plan| Minutes::between(p.times.preheat_by, p.times.drop_by);
    // Tap and kettle come to 58 °C: filled, it is hot; for 65 °C the heater has the rest to do.
    assert_eq!(preheat(&strong), Minutes::new(5.0));
    let hot = |heater_w| {
        planned(
            strip("65 °C", PlanForm::default()),
            Some(Vessel { heater_w, ..vessel("box-12") }),
            Vec::new(),
        )
        .1
    };
    assert!(preheat(&hot(3000.0)) < preheat(&hot(700.0)) && preheat(&hot(3000.0)) > Minutes::new(5.0));
    assert_eq!(preheat(&bare), Minutes::new(30.0));
}

#[test]
fn going_in_while_the_water_warms_has_its_own_times_and_needs_a_heater() {
    let warming = || strip("60 °C", PlanForm { heated: "warming".into(), ..PlanForm::default() });
    let (_, hot) = planned(strip("60 °C", PlanForm::default()), Some(vessel("box-12")), Vec::new());
    let (request, cold) = planned(warming(), Some(vessel("box-12")), Vec::new());
    assert!(cold.through.slow > hot.through.slow && cold.times.preheat_by == cold.times.drop_by);
    // Ready sooner all the same: nobody waits for the water.
    assert!(cold.earliest_ready < hot.earliest_ready, "{} {}", cold.earliest_ready, hot.earliest_ready);
    assert!(request.vessel.is_some_and(|v| v.warming));
    for none in [None, Some(vessel("cooler-20"))] {
        let refused = understood(warming(), none, Vec::new()).expect_err("nothing heats it");
        assert!(refused.contains("vessel with a heater"), "{refused}");
    }
}

#[test]
fn a_heater_that_cannot_hold_it_gives_no_credit() {
    let weak = Vessel { heater_w: 60.0, cover: hold_steady_core::bath::Cover::None, ..vessel("box-12") };
    let chicken = PlanForm { food: "chicken-breast".into(), bath: "62 °C".into(), ..PlanForm::default() };
    let (_, plan) = planned(chicken, Some(weak), Vec::new());
    assert!(plan.is_refused() && plan.pasteurised.is_none());
}

/// An unchecked thermometer may read half a degree too high: 54.6 °C by hand is not 54.4.
#[test]
fn by_hand_the_thermometer_moves_the_gates() {
    let form = || strip("54.6 °C", PlanForm { guests: "at-risk".into(), ..PlanForm::default() });
    let (_, unchecked) = planned(form(), Some(vessel("cooler-20")), Vec::new());
    let (_, far) = planned(form(), Some(vessel("cooler-20")), vec![checked(0.0, 0.0)]);
    let (_, near) = planned(form(), Some(vessel("cooler-20")), vec![checked(57.1, 57.0)]);
    assert!(unchecked.is_refused() && far.is_refused());
    assert_eq!(near.verdict.level, Level::Pasteurized);
}

/// A cook in a cooler: chicken at 62 °C, read every so many minutes, by a thermometer that is right.
fn cooler_cook(readings: &[(i64, f64)], added: &[i64], until: i64) -> Live {
    let form = PlanForm {
        food: "chicken-breast".into(),
        thickness: "30 mm".into(),
        bath: "61 °C".into(),
        ..PlanForm::default()
    };
    let (request, planned) = planned(form.clone(), Some(vessel("cooler-20")), vec![checked(57.0, 57.0)]);
    let [cook, piece, bag, bath, instrument] = [1, 2, 3, 4, 5].map(Uuid::from_u128);
    let water = |min: i64, kind| WaterEvent {
        id: Uuid::from_u128(1000 + min.unsigned_abs() as u128),
        happened_at: t(min),
        recorded_at: t(min),
        by: "cook".into(),
        kind,
    };
    let mut done = vec![
        water(-9, WaterEventKind::Filled { litres: 17.0 }),
        water(-8, WaterEventKind::Aimed { celsius: Celsius::new(61.0) }),
    ];
    done.extend(
        added
            .iter()
            .map(|min| water(*min, WaterEventKind::Added { litres: 0.8, celsius: Celsius::new(95.0) })),
    );
    let event = |n: u128, kind| EventRecord {
        subject: Subject::Cook,
        event: Event {
            id: Uuid::from_u128(n),
            happened_at: t(0),
            recorded_at: t(0),
            by: "cook".into(),
            kind,
        },
    };
    let record = CookRecord {
        id: cook,
        created_at: t(-10),
        title: "Chicken".into(),
        together: None,
        piece: PieceRecord {
            id: piece,
            created_at: t(-10),
            plans: vec![PlanRecord {
                id: Uuid::from_u128(6),
                created_at: t(-10),
                engine: planned.engine.clone(),
                data: planned.data.clone(),
                typed: form,
                request: request.clone(),
                result: serde_json::to_value(&planned).expect("plain"),
            }],
        },
        bag: BagRecord { id: bag, bath, letter: String::new() },
        baths: vec![BathRecord {
            id: bath,
            name: "cooler".into(),
            began_at: t(-9),
            settings: Vec::new(),
            vessel: Some(KeptVessel { id: Uuid::from_u128(99), vessel: vessel("cooler-20") }),
            water: done,
            instruments: vec![InstrumentRecord {
                id: instrument,
                name: "thin probe".into(),
                piece: None,
                centred: false,
                thermometer: Some(Uuid::from_u128(70)),
                checks: checked(57.0, 57.0).checks,
                readings: readings
                    .iter()
                    .map(|(min, c)| ReadingRecord {
                        at: t(*min),
                        celsius: Celsius::new(*c),
                        quality: "typed".into(),
                    })
                    .collect(),
                thinned: None,
            }],
        }],
        events: vec![event(20, EventKind::Started), event(21, EventKind::Dropped)],
    };
    let state = record.state();
    live(&request, &planned, &state, &record.water(&state), t(until)).expect("simulates")
}

#[test]
fn a_cooler_that_is_read_pasteurises_and_one_that_is_not_does_not() {
    let watched: Vec<(i64, f64)> = (0..=10).map(|i| (-2 + 20 * i, 63.0 - 0.15 * i as f64)).collect();
    let read = cooler_cook(&watched, &[], 199);
    assert_eq!(read.verdict.as_ref().map(|v| v.level), Some(Level::Pasteurized), "{:?}", read.verdict);
    // The same water, looked at twice.
    let seldom = cooler_cook(&[(-2, 63.0), (198, 61.5)], &[], 199);
    assert_eq!(seldom.verdict.as_ref().map(|v| v.level), Some(Level::Refused));
    // Never looked at.
    assert_eq!(cooler_cook(&[], &[], 199).verdict.map(|v| v.level), Some(Level::Refused));
    // Read well, and not for the last two hours.
    let stopped = cooler_cook(&watched[..5], &[], 199);
    assert_eq!(stopped.verdict.map(|v| v.level), Some(Level::Refused));
}

#[test]
fn a_missing_reading_never_gives_more_and_neither_does_unseen_kettle_water() {
    let watched: Vec<(i64, f64)> = (0..=10).map(|i| (-2 + 20 * i, 62.0)).collect();
    let centre = |l: &Live| l.centre_c.expect("in the bath").0;
    let whole = cooler_cook(&watched, &[], 199);
    for missing in 1..watched.len() {
        let mut fewer = watched.clone();
        fewer.remove(missing);
        let with = cooler_cook(&fewer, &[], 199);
        assert!(centre(&with) <= centre(&whole) + Kelvin::new(0.01), "{missing}");
        assert!(
            with.pasteurised_at.is_none_or(|p| whole.pasteurised_at.is_some_and(|w| w <= p)),
            "{missing}"
        );
    }
    let topped = cooler_cook(&watched, &[30, 90], 199);
    assert!(centre(&topped) <= centre(&whole));
}

/// A cook in a box with a weak heater that nobody reads: what the plan reckoned with counts, not the bare setting.
#[test]
fn a_bath_that_is_only_set_earns_no_more_than_the_plan_reckoned_with() {
    let into = |heated: &str| {
        let weak = Vessel { heater_w: 300.0, ..vessel("box-12") };
        let more = PlanForm { heated: heated.into(), ..PlanForm::default() };
        planned(strip("57 °C", more), Some(weak), Vec::new())
    };
    let dropped = Event {
        id: Uuid::from_u128(21),
        happened_at: t(0),
        recorded_at: t(0),
        by: "cook".into(),
        kind: EventKind::Dropped,
    };
    let state = CookState::of(&[dropped]);
    let water = BathHistory::set(t(-5), Celsius::new(57.0));
    let at = |(request, plan): &(PlanRequest, Plan), water: &BathHistory| {
        live(request, plan, &state, water, t(40)).expect("simulates")
    };
    let (warming, hot) = (into("warming"), into("hot"));
    assert!(at(&warming, &water).centre_c < at(&hot, &water).centre_c);
    assert!(at(&warming, &water).pasteurised_at > at(&hot, &water).pasteurised_at);
    // Once it is read, the readings count.
    let readings = (0..=8).map(|i| WaterRead::typed(t(i * 5), Celsius::new(57.0))).collect();
    let read = BathHistory { readings, ..water.clone() };
    assert!(at(&warming, &read).centre_c > at(&warming, &water).centre_c);
}
