//! Random evenings in trouble, driven through the core, beside an independent reading of the verdict table on what the water
//! really was.
//!
//! Source: `scripts/reference/evenings.py`, which simulates the vessels and reads the table (`verdicts.py`) on the truth,
//! for a piece as fast as it can be. `HOLD_STEADY_EVENINGS=10000 cargo test -p hold-steady --test all evenings::` for ten
//! thousand; `scripts/evenings.sh` does that and prints what kinds they were. `HOLD_STEADY_ONLY=1631,2595` looks at some again.

use std::collections::BTreeMap;

use crate::common::{badness, reference_instant as t, reference_lines};
use hold_steady_core::bath::{Against, Check, WaterEvent, WaterEventKind, shapes};
use hold_steady_core::board::{OnBoard, board, to_do};
use hold_steady_core::book::{
    BagRecord, BathRecord, CookRecord, EventRecord, InstrumentRecord, KeptVessel, PieceRecord, PlanRecord,
    REPORTED, ReadingRecord, SettingRecord, Subject, usual_air,
};
use hold_steady_core::cook::{Event, EventKind, Live, Next, Pull, live};
use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, plan};
use hold_steady_core::steps::steps;
use hold_steady_core::units::{Celsius, Minutes, Units};
use hold_steady_core::words;
use jiff::Timestamp;
use serde_json::Value;
use uuid::Uuid;

const BATH: Uuid = Uuid::from_u128(1);
const BAG: Uuid = Uuid::from_u128(2);
const PIECE: Uuid = Uuid::from_u128(3);

fn text(v: &Value) -> String {
    v.as_str().expect("text").to_owned()
}

fn number(v: &Value) -> f64 {
    v.as_f64().expect("a number")
}

/// The cook as the store would hand it out at a minute.
fn record(line: &Value, plan: &PlanRecord, until: f64, readings: bool) -> CookRecord {
    let kind = |e: &Value| match e[1].as_str().expect("a word") {
        "dropped" => EventKind::Dropped,
        "pulled" => EventKind::Pulled,
        "floated" => EventKind::Floated { afloat_min: Minutes::new(number(&e[2])) },
        other => panic!("{other}"),
    };
    let events = line["events"].as_array().expect("events").iter().enumerate();
    let events = events.filter(|(_, e)| number(&e[0]) <= until).map(|(n, e)| EventRecord {
        subject: Subject::Bag(BAG),
        event: Event {
            id: Uuid::from_u128(100 + n as u128),
            happened_at: t(number(&e[0])),
            recorded_at: t(number(&e[0])),
            by: "reference".into(),
            kind: kind(e),
        },
    });
    CookRecord {
        id: Uuid::from_u128(9),
        created_at: t(-60.0),
        title: "an evening".into(),
        together: None,
        piece: PieceRecord { id: PIECE, created_at: t(-60.0), plans: vec![plan.clone()] },
        bag: BagRecord { id: BAG, bath: BATH, letter: String::new() },
        baths: vec![bath(line, until, readings)],
        events: events.collect(),
    }
}

fn bath(line: &Value, until: f64, readings: bool) -> BathRecord {
    let settings = line["settings"].as_array().expect("settings").iter().map(|s| SettingRecord {
        id: Uuid::nil(),
        at: t(number(&s[0])),
        celsius: Celsius::new(number(&s[1])),
        by: "reference".into(),
    });
    let vessel = line["vessel"].as_str().map(|name| {
        let (_, vessel) = shapes().iter().find(|(id, _)| id == name).expect("shipped");
        KeptVessel { id: Uuid::from_u128(7), vessel: vessel.clone() }
    });
    let aim = Celsius::new(number(&line["settings"][0][1]));
    let done = |n: u128, min: f64, kind| WaterEvent {
        id: Uuid::from_u128(n),
        happened_at: t(min),
        recorded_at: t(min),
        by: "reference".into(),
        kind,
    };
    let mut water = Vec::new();
    if let Some(v) = &vessel {
        let litres = v.vessel.litres(v.vessel.max_mm) * 0.8;
        water.push(done(50, -60.0, WaterEventKind::Filled { litres }));
        water.push(done(51, -59.0, WaterEventKind::Aimed { celsius: aim }));
        let added = line["added"].as_array().expect("added").iter().map(number).filter(|m| *m <= until);
        let splash = |m: f64| WaterEventKind::Added {
            litres: if m < 0.0 { 0.1 } else { 0.4 },
            celsius: Celsius::new(95.0),
        };
        water.extend(added.enumerate().map(|(i, m)| done(60 + i as u128, m, splash(m))));
    }
    // Told once it was back: from when, until when, and when that was said.
    let off = line["off"].as_array().into_iter().flatten();
    water.extend(off.filter(|o| number(&o[2]) <= until).map(|o| {
        let min = hold_steady_core::units::Minutes::new(number(&o[1]) - number(&o[0]));
        done(80, number(&o[1]), WaterEventKind::Off { min })
    }));
    let read = |by_device: bool| {
        let all = line["readings"].as_array().expect("readings").iter();
        let some = all.filter(move |r| readings && r[2] == by_device && number(&r[0]) <= until);
        let records = some.map(move |r| ReadingRecord {
            at: t(number(&r[0])),
            celsius: Celsius::new(number(&r[1])),
            quality: if by_device { REPORTED.into() } else { "typed".into() },
        });
        records.collect::<Vec<_>>()
    };
    let checked = line["readings"].as_array().expect("readings").first().is_some_and(|r| r[3] == true);
    let check =
        Check { id: Uuid::nil(), at: t(-600.0), against: Against::Reference, read_c: aim, true_c: aim };
    let instruments = [true, false].into_iter().map(|device| InstrumentRecord {
        id: Uuid::from_u128(20 + u128::from(device)),
        name: if device { "circulator".into() } else { "probe".into() },
        piece: None,
        centred: false,
        thermometer: checked.then(|| Uuid::from_u128(30)),
        checks: if checked { vec![check] } else { Vec::new() },
        readings: read(device),
        thinned: None,
    });
    BathRecord {
        id: BATH,
        name: "the bath".into(),
        began_at: t(-60.0),
        settings: if vessel.is_some() { Vec::new() } else { settings.collect() },
        vessel,
        water,
        instruments: instruments.filter(|i| !i.readings.is_empty()).collect(),
    }
}

fn planned(line: &Value) -> PlanRecord {
    let f = &line["form"];
    let typed = PlanForm {
        food: text(&f["food"]),
        thickness: text(&f["thickness"]),
        bath: text(&f["bath"]),
        intact: text(&f["intact"]),
        guests: text(&f["guests"]),
        parasites: text(&f["parasites"]),
        ..PlanForm::default()
    };
    let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    let reading = typed.read(&Setting::new(Units::default(), t(-60.0), &zone, &rules));
    let request = reading.request.unwrap_or_else(|| panic!("{:?}: {line}", reading.errors));
    let result = plan(&request, t(-60.0)).expect("simulates");
    PlanRecord {
        id: Uuid::from_u128(4),
        created_at: t(-60.0),
        engine: result.engine.clone(),
        data: result.data.clone(),
        typed,
        request,
        result: serde_json::to_value(&result).expect("plain"),
    }
}

/// Whether the hands are told to pull it at this very minute.
fn says_pull_now(l: &Live, min: f64) -> bool {
    matches!(l.next, Next::Pull(_)) && l.next_at.is_none_or(|at| at <= t(min))
}

/// Everything that speaks of the cook names one act and one minute.
fn speaks_with_one_voice(record: &CookRecord, plan: &PlanRecord, l: &Live, min: f64, line: &Value) {
    let clock = |at: Timestamp| at.to_string();
    let (what, _) = words::next(l, Units::default(), &clock);
    let told = steps(&plan.request, &plan.plan().expect("stored"), &record.state(), l);
    let told =
        words::steps((&plan.request, &plan.plan().expect("stored")), l, &told, Units::default(), &clock);
    let step = |id: &str| told.iter().find(|s| s.id == id);
    match &l.next {
        Next::Pull(_) => {
            let pull = step("pull").expect("a pull");
            assert_eq!(pull.at, l.next_at.unwrap_or(l.pull_at), "{min} min: {line}");
            assert!(step("stop").is_none() && step("mend").is_none(), "{line}");
        }
        Next::Mend => assert_eq!(step("mend").expect("the steps say so").what, what, "{line}"),
        Next::NotHere { .. } | Next::ThrowAway(_) | Next::NotServed(_) => {
            assert_eq!(step("stop").expect("the steps say so").what, what, "{line}");
            assert!(told.iter().all(|s| s.id != "plate" && s.id != "sear"), "{line}");
        }
        _ => {}
    }
    let on = OnBoard { record: record.clone(), live: l.clone() };
    let b = board(&[], vec![on], usual_air(0.0), hold_steady_core::bath::usual_taps(), t(min));
    let (first, at) = to_do(b.bags.iter().map(|b| &b.live))
        .into_iter()
        .find(|(to, ..)| *to == hold_steady_core::board::ToDo::Next)
        .map(|(to, i, at)| (words::to_do(to, &b.bags[i].live, Units::default(), &clock), at))
        .expect("one bag");
    assert_eq!((first, at), (what, l.next_at), "{line}");
}

#[test]
fn no_evening_shows_what_the_verdict_denies() {
    let count = std::env::var("HOLD_STEADY_EVENINGS").ok().and_then(|n| n.parse().ok()).unwrap_or(240);
    let seed = std::env::var("HOLD_STEADY_SEED").unwrap_or_else(|_| "1".into());
    let which = match std::env::var("HOLD_STEADY_ONLY") {
        Ok(only) => ["--seed".into(), seed, "--only".into(), only],
        Err(_) => ["--seed".into(), seed, "--count".into(), count.to_string()],
    };
    let all = reference_lines("evenings.py", &which);
    let mut kinds: BTreeMap<String, (usize, usize, usize)> = BTreeMap::new();
    let mut failed = Vec::new();
    for line in &all {
        let plan = planned(line);
        let known = kinds.entry(text(&line["kind"])).or_default();
        known.0 += 1;
        for look in line["looks"].as_array().expect("looks") {
            let min = number(&look["min"]);
            let record = record(line, &plan, min, true);
            let state = record.state();
            let stored = plan.plan().expect("stored");
            let l = live(&plan.request, &stored, &state, &record.water(&state), t(min)).expect("simulates");
            let level = l.verdict.as_ref().expect("it was dropped").level.id();
            let mildest = look["mildest"].as_str().expect("a word");
            let told = || {
                format!(
                    "{} #{} at {min} min: {level}, truth {mildest}, {:?} {:?}",
                    line["kind"], line["number"], l.next, line["form"]
                )
            };
            known.1 += 1;
            if badness(level) < badness(mildest) {
                failed.push(format!("milder: {}", told()));
            }
            if says_pull_now(&l, min) {
                known.2 += 1;
                if level == "refused" || mildest == "refused" {
                    failed.push(format!("pull: {}", told()));
                }
            }
            if matches!(l.next, Next::Pull(_))
                && l.next_at.is_some_and(|at| l.clock_out.is_some_and(|out| at > out))
            {
                failed.push(format!("beyond a limit: {}", told()));
            }
            // No best time before the time it is pulled at.
            if l.best_until.is_some_and(|best| l.pull_at > t(min) && best <= l.pull_at) {
                failed.push(format!("best before the pull: {}", told()));
            }
            speaks_with_one_voice(&record, &plan, &l, min, line);
            if line["sound"] == true {
                let unread = self::record(line, &plan, min, false);
                let state = unread.state();
                let u =
                    live(&plan.request, &stored, &state, &unread.water(&state), t(min)).expect("simulates");
                let plain = u.verdict.as_ref().expect("it was dropped").level.id();
                // A load and a swing delay by the minutes in which the water was colder, whoever reads it; readings at the
                // setting by less than the minute that is shown.
                let delays = matches!(line["kind"].as_str(), Some("load" | "swing"));
                let within = Minutes::new(if delays { 5.0 } else { 0.5 });
                let soon = t(min + within.value());
                let delayed = matches!(l.next, Next::Pull(Pull::SafeIn { more, .. }) if more <= within)
                    || l.pasteurised_at.is_some_and(|at| at > t(min) && at <= soon);
                if badness(level) > badness(plain) && !delayed {
                    failed.push(format!("harder than unread ({plain}): {}", told()));
                }
                if let Some(fault) =
                    l.fault.filter(|f| !matches!(f, hold_steady_core::cook::Fault::Falling { .. }))
                {
                    failed.push(format!("frightened ({fault:?}): {}", told()));
                }
            }
        }
    }
    for (kind, (evenings, looks, pulls)) in &kinds {
        println!("{kind}: {evenings} evenings, {looks} looks, {pulls} of them said to pull it now");
    }
    failed.iter().skip(30).for_each(|told| println!("{told}"));
    assert!(failed.is_empty(), "{} of {count}:\n{}", failed.len(), failed[..failed.len().min(30)].join("\n"));
}
