//! A plan made anew while it is cooked: what is wished moves what is to come and no verdict; what the piece is counts from the
//! beginning. (The project's own rules.)

use crate::common::form;
use hold_steady_core::bath::shapes;
use hold_steady_core::book::{
    BagRecord, BathRecord, BookEntry, CookRecord, EventRecord, Export, FORMAT, KeptVessel, KitchenRecord,
    PieceRecord, PlanRecord, SettingRecord, Subject, VERSION, read_export,
};
use hold_steady_core::cook::{Event, EventKind, Live, Next, Refusal, live};
use hold_steady_core::plan::{Anew, Equipment, KitchenRules, PlanForm, Setting, plan, read_anew};
use hold_steady_core::safety::Level;
use hold_steady_core::units::{Minutes, Units};
use hold_steady_core::words;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;
use uuid::Uuid;

fn at(min: f64) -> Timestamp {
    let noon: Timestamp = "2026-11-25T12:00:00Z".parse().expect("an instant");
    noon.checked_add(SignedDuration::from_secs_f64(min * 60.0)).expect("in range")
}

fn id(n: u128) -> Uuid {
    Uuid::from_u128(n)
}

fn event(n: u128, min: f64, kind: EventKind) -> EventRecord {
    let event = Event { id: id(n), happened_at: at(min), recorded_at: at(min), by: "Ida".into(), kind };
    EventRecord { subject: Subject::Piece(id(1)), event }
}

/// Planned an hour before noon, dropped at noon.
fn cook(typed: &PlanForm) -> CookRecord {
    let rules = KitchenRules::default();
    let read = typed.read(&Setting::new(Units::default(), at(-60.0), &TimeZone::UTC, &rules));
    let request = read.request.unwrap_or_else(|| panic!("{:?}", read.errors));
    let settings =
        vec![SettingRecord { id: id(5), at: at(-60.0), celsius: request.bath_c, by: "Ida".into() }];
    CookRecord {
        id: id(2),
        created_at: at(-60.0),
        title: "A piece".into(),
        together: None,
        piece: PieceRecord {
            id: id(1),
            created_at: at(-60.0),
            plans: vec![snapshot(100, -60.0, read.form, request)],
        },
        bag: BagRecord { id: id(3), bath: id(4), letter: String::new() },
        baths: vec![BathRecord {
            id: id(4),
            name: "bath".into(),
            began_at: at(-60.0),
            settings,
            vessel: None,
            water: vec![],
            instruments: vec![],
        }],
        events: vec![
            EventRecord { subject: Subject::Cook, ..event(10, -60.0, EventKind::Started) },
            EventRecord { subject: Subject::Bag(id(3)), ..event(11, 0.0, EventKind::Dropped) },
        ],
    }
}

fn snapshot(n: u128, min: f64, typed: PlanForm, request: hold_steady_core::plan::PlanRequest) -> PlanRecord {
    let answer = plan(&request, at(min)).expect("a plain piece");
    PlanRecord {
        id: id(n),
        created_at: at(min),
        engine: answer.engine.clone(),
        data: answer.data.clone(),
        typed,
        result: serde_json::to_value(&answer).expect("plain data"),
        request,
    }
}

/// The cook with something typed anew at a minute.
fn changed(cook: &CookRecord, n: u128, min: f64, change: impl FnOnce(&mut PlanForm)) -> CookRecord {
    let standing = cook.plan_record().expect("planned");
    let rules = KitchenRules::default();
    let zone = TimeZone::UTC;
    let setting = Setting::new(Units::default(), at(min), &zone, &rules);
    let since = cook.state().when(hold_steady_core::cook::Milestone::Dropped);
    let read = read_anew((&standing.typed, &standing.request), change, &setting, since);
    let anew = read.anew.unwrap_or_else(|| panic!("{:?}", read.reading.errors));
    let corrects = matches!(anew, Anew::Piece(_));
    let request = anew.request().expect("something is changed").clone();
    let taken = snapshot(n, min, read.reading.form, request);
    let of = cook.state().piece_corrected().map(|c| c.0);
    let kind = if corrects {
        EventKind::PieceCorrected { plan: taken.id }
    } else {
        EventKind::Replanned { plan: taken.id, of }
    };
    let happened = event(n + 1, min, kind);
    cook.with_plan(&happened.event, &taken).expect("can be");
    let mut after = cook.clone();
    after.piece.plans.push(taken);
    after.events.push(happened);
    after
}

fn stands(cook: &CookRecord, min: f64) -> Live {
    let record = cook.plan_record().expect("planned");
    let state = cook.state();
    live(&record.request, &record.plan().expect("read"), &state, &cook.water(&state), at(min)).expect("runs")
}

fn strip(guests: &str) -> PlanForm {
    PlanForm { guests: guests.into(), ready: "15:30".into(), ..form("beef-strip", "25 mm", "55 °C") }
}

#[test]
fn a_plan_that_names_a_vessel_is_planned_anew_whether_or_not_that_is_still_on_the_list() {
    let vessel = shapes().iter().find(|s| s.0 == "box-12").expect("shipped").1.clone();
    let removed = Equipment::default();
    let listed = Equipment { vessels: vec![KeptVessel { id: id(99), vessel }], thermometers: Vec::new() };
    let (rules, zone) = (KitchenRules::default(), TimeZone::UTC);
    let at_noon =
        |equipment| Setting::new(Units::default(), at(0.0), &zone, &rules).with_equipment(equipment);
    for heated in ["", "hot"] {
        let typed = PlanForm { vessel: id(99).to_string(), heated: heated.into(), ..strip("well") };
        let first = typed.read(&at_noon(&listed));
        let (typed, standing) = (first.form, first.request.expect("understood"));
        for equipment in [&listed, &removed] {
            let read = |change: fn(&mut PlanForm)| {
                read_anew((&typed, &standing), change, &at_noon(equipment), Some(at(0.0)))
            };
            let later = read(|form| form.ready = "17:00".into());
            let Some(Anew::Wishes(wished)) = later.anew else { panic!("{:?}", later.reading.errors) };
            assert_eq!((wished.ready_at, &wished.vessel), (Some(at(300.0)), &standing.vessel));
            let thicker = read(|form| form.thickness = "40 mm".into());
            assert!(
                matches!(thicker.anew, Some(Anew::Piece(p)) if p.vessel == standing.vessel && p.hot == standing.hot)
            );
        }
    }
}

#[test]
fn guests_who_come_later_move_pull_and_dinner() {
    let first = cook(&strip("at-risk"));
    let later = changed(&first, 200, 30.0, |form| form.ready = "16:30".into());
    let (a, b) = (stands(&first, 31.0), stands(&later, 31.0));
    let minutes = |t: Timestamp| Minutes::between(at(0.0), t).value();
    assert!((minutes(b.serve_at) - 270.0).abs() < 1.5, "{}", minutes(b.serve_at));
    assert!(b.pull_at > a.pull_at && b.finishing == a.finishing);
    assert_eq!((&a.verdict, a.pasteurised_at, a.clock_out), (&b.verdict, b.pasteurised_at, b.clock_out));
    assert_eq!(words::not_when_wished(at(270.0), &b, &|t| t.to_string()), None);
    // Planned first, planned last, done.
    let mut over = later;
    for (n, min, kind) in [(300, 262.0, EventKind::Pulled), (301, 275.0, EventKind::Eaten)] {
        over.events.push(event(n, min, kind));
    }
    let entry = BookEntry::of(&over).expect("runs").expect("eaten");
    let served = |p: &hold_steady_core::plan::Plan| Minutes::between(at(0.0), p.times.serve).value();
    assert_eq!(entry.first.as_ref().map(served), Some(210.0));
    assert!((served(&entry.plan) - 270.0).abs() < 1.5 && !entry.piece_corrected);
    assert_eq!(entry.eaten, Some(at(275.0)));
}

#[test]
fn what_cannot_wait_says_so_and_by_when() {
    let salmon = PlanForm { parasites: "frozen".into(), ..form("salmon", "25 mm", "50 °C") };
    let first = cook(&salmon);
    let later = changed(&first, 200, 20.0, |form| form.ready = "22:00".into());
    let now = stands(&later, 21.0);
    let out = now.clock_out.expect("it runs out");
    assert!(now.pull_at <= out, "{:?} {out}", now.pull_at);
    let said = words::not_when_wished(at(600.0), &now, &|t| t.to_string()).expect("it cannot");
    assert!(said.starts_with("It cannot wait until"), "{said}");
    // Sooner than it can be.
    let sooner = changed(&first, 200, 20.0, |form| form.ready = "12:25".into());
    let said = words::not_when_wished(at(25.0), &stands(&sooner, 21.0), &|t| t.to_string());
    assert!(said.is_some_and(|s| s.contains("at the soonest")));
}

#[test]
fn an_hour_that_has_passed_is_not_tomorrow_s() {
    let first = cook(&strip("well"));
    // At 15:40 something else is changed: 15:30 stays what it was.
    let later = changed(&first, 200, 220.0, |form| form.guests = "at-risk".into());
    let (a, b) = (first.plan_record().expect("one"), later.plan_record().expect("another"));
    assert_eq!((a.request.ready_at, b.request.at_risk), (b.request.ready_at, true));
    assert_eq!(stands(&later, 221.0).verdict.map(|v| v.level), Some(Level::Pasteurized));
}

#[test]
fn a_piece_that_was_written_down_wrong_counts_from_the_beginning() {
    let first = cook(&strip("at-risk"));
    let thicker = changed(&first, 200, 100.0, |form| form.thickness = "40 mm".into());
    let from_the_start = cook(&PlanForm { thickness: "40 mm".into(), ..strip("at-risk") });
    let (a, b) = (stands(&thicker, 101.0), stands(&from_the_start, 101.0));
    assert_eq!((a.verdict, a.pasteurised_at, a.centre_c), (b.verdict, b.pasteurised_at, b.centre_c));
    assert!(thicker.state().piece_corrected().is_some());
    // Wished otherwise after it; the correction is not taken away from under that.
    let wished = changed(&thicker, 210, 110.0, |form| form.ready = "17:00".into());
    assert_eq!(wished.plan_record().expect("one").request.thickness_mm.mm(), 40.0);
    let undo = |target: u128| event(400, 120.0, EventKind::Undone { event: id(target) }).event;
    assert!(matches!(wished.with(&undo(201)), Err(Refusal::Needs { .. })));
    let mut back = thicker;
    back.events.push(event(400, 120.0, EventKind::Undone { event: id(201) }));
    assert_eq!(back.plan_record().map(|p| p.id), Some(id(100)));
}

#[test]
fn a_correction_before_the_drop_that_cannot_be_says_not_so() {
    let mut waiting = cook(&strip("well"));
    waiting.events.pop();
    let pierced = changed(&waiting, 200, -30.0, |form| {
        form.intact = "bladed".into();
        form.time = "50 min".into();
    });
    assert!(matches!(stands(&pierced, -29.0).next, Next::PlanAnew(_)));
}

#[test]
fn a_file_cannot_plan_another_piece_under_a_wish() {
    let first = cook(&strip("well"));
    let export = |cook: CookRecord| {
        let export = Export {
            format: FORMAT.into(),
            version: VERSION,
            exported_at: at(300.0),
            kitchen: KitchenRecord {
                name: "Quay".into(),
                time_zone: "UTC".into(),
                ..KitchenRecord::default()
            },
            cooks: vec![cook],
            baths: vec![],
        };
        let text = serde_json::to_string(&export).expect("plain data");
        read_export(&text, at(310.0)).expect("one of ours")
    };
    let good = changed(&first, 200, 30.0, |form| form.ready = "16:30".into());
    let read = export(good.clone());
    assert_eq!((read.left_out, read.export.cooks.len()), (vec![], 1));
    assert_eq!(read.export.cooks[0].plan_record().map(|p| p.id), Some(id(200)));
    let mut thinner = good.clone();
    let wished = &mut thinner.piece.plans[1];
    wished.request.thickness_mm = hold_steady_core::units::Length::from_mm(8.0);
    let read = export(thinner);
    assert!(
        read.export.cooks.is_empty() && read.left_out[0].reason.contains("another piece"),
        "{:?}",
        read.left_out
    );
    let mut nowhere = good;
    nowhere.piece.plans.pop();
    assert!(export(nowhere).left_out[0].reason.contains("no such plan"));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Whatever is wished otherwise, and whenever: what is so in the water as it is known stays so.
    #[test]
    fn no_wish_makes_a_verdict_milder(
        min in 5.0_f64..240.0, ready in 0_u32..10, bath in 500_u32..650, hours in 0_u32..4, at_risk: bool,
    ) {
        let guests = if at_risk { "at-risk" } else { "well" };
        let first = cook(&strip(guests));
        let wished = changed(&first, 200, min, |form| {
            form.ready = if ready == 0 { String::new() } else { format!("{}:45", 13 + ready) };
            form.bath = format!("{} °C", f64::from(bath) / 10.0);
            form.time = if hours == 0 { String::new() } else { format!("{hours} h 7 min") };
        });
        let (a, b) = (stands(&first, min), stands(&wished, min));
        prop_assert_eq!((a.verdict, a.pasteurised_at, a.clock_out), (b.verdict, b.pasteurised_at, b.clock_out));
        prop_assert_eq!(a.centre_c, b.centre_c);
        // Told to pull at a minute at which it may be served.
        if matches!(b.next, Next::Pull(_)) {
            let pulled = stands(&wished, Minutes::between(at(0.0), b.pull_at).value());
            prop_assert!(pulled.verdict.is_some_and(|v| v.level != Level::Refused), "{:?}", b.next);
        }
    }
}
