use uuid::Uuid;

use super::*;
use crate::bath::{WaterRead, boiling_c};
use crate::book::ProbeLog;
use crate::plan::{KitchenRules, PlanForm, Setting, plan};
use crate::sear::{After, ChosenFinish, Pattern, Pause};
use crate::units::Units;

fn setup(bath: &str, guests: &str) -> (PlanRequest, Plan, Timestamp) {
    setup_for(bath, guests, "")
}

fn setup_for(bath: &str, guests: &str, ready: &str) -> (PlanRequest, Plan, Timestamp) {
    let now: Timestamp = "2026-11-25T16:00:00Z".parse().expect("an instant");
    let form = PlanForm {
        intact: "whole".into(),
        bath: bath.into(),
        guests: guests.into(),
        ready: ready.into(),
        ..PlanForm::default()
    };
    let rules = KitchenRules::default();
    let r = form.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules));
    let request = r.request.expect("complete");
    let p = plan(&request, now).expect("a plain piece");
    (request, p, now)
}

fn at(base: Timestamp, min: f64) -> Timestamp {
    later(base, Minutes::new(min)).expect("in range")
}

fn state(base: Timestamp, events: &[(f64, EventKind)]) -> CookState {
    let events: Vec<Event> = events
        .iter()
        .enumerate()
        .map(|(n, (min, kind))| Event {
            id: Uuid::from_u128(n as u128 + 1),
            happened_at: at(base, *min),
            recorded_at: at(base, *min),
            by: "cook".into(),
            kind: kind.clone(),
        })
        .collect();
    CookState::of(&events)
}

#[test]
fn the_clock_starts_with_the_drop_and_not_with_the_plan() {
    let (request, p, now) = setup("55 °C", "well");
    let before =
        live(&request, &p, &state(now, &[]), &BathHistory::default(), at(now, 5.0)).expect("simulates");
    assert_eq!((before.stage, before.centre_c), (Stage::Waiting, None));
    // Dropped an hour after the plan said.
    let late = state(p.times.drop_by, &[(60.0, EventKind::Dropped)]);
    let reading = BathHistory::set(p.times.drop_by, Celsius::new(55.0));
    let l = live(&request, &p, &late, &reading, at(p.times.drop_by, 100.0)).expect("simulates");
    assert_eq!(l.next_at, Some(at(p.times.drop_by, 60.0 + p.bath_min.value())));
    // And dinner moves by as much.
    assert!(
        l.dinner_moved_min(&p).is_some_and(|m| (m - Minutes::new(60.0)).abs() < Minutes::new(1.5)),
        "{:?}",
        l.serve_at
    );
    assert_eq!(before.dinner_moved_min(&p), None);
    let (slow, middle) = l.centre_c.expect("in the bath");
    assert!(Celsius::new(5.0) < slow && slow < middle && middle < Celsius::new(50.0), "{slow:?} {middle:?}");
}

#[test]
fn what_is_in_early_waits_for_the_hour_that_was_asked_as_long_as_it_is_at_its_best() {
    let (request, p, _) = setup_for("56 °C", "well", "22:00");
    let stands = |early: f64| {
        let dropped = at(p.times.drop_by, -early);
        let s = state(dropped, &[(0.0, EventKind::Dropped)]);
        let set = BathHistory::set(dropped, Celsius::new(56.0));
        (dropped, live(&request, &p, &s, &set, at(dropped, 10.0)).expect("simulates"))
    };
    let near = |a: Timestamp, b: Timestamp| a.duration_since(b).as_secs().abs() <= 60;
    let (_, two_hours) = stands(120.0);
    assert!(near(two_hours.pull_at, p.times.pull), "{} for {}", two_hours.pull_at, p.times.pull);
    assert_eq!(two_hours.dinner_moved_min(&p), None);
    // So early that it would be past its best: then, and no later.
    let (dropped, long) = stands(24.0 * 60.0);
    assert!(near(long.pull_at, at(dropped, p.best_until.fast.value())), "{}", long.pull_at);
    // Nobody asked for an hour: after its minutes.
    let (request, p, now) = setup("56 °C", "well");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let set = BathHistory::set(now, Celsius::new(56.0));
    let soon = live(&request, &p, &s, &set, at(now, 5.0)).expect("simulates");
    assert!(near(soon.pull_at, at(now, p.bath_min.value())), "{}", soon.pull_at);
}

#[test]
fn the_coldest_a_centre_may_be_is_never_warmer_than_what_is_likely() {
    let (request, p, now) = setup("56 °C", "well");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let mut water = BathHistory::set(now, Celsius::new(56.0));
    water.readings.extend(
        [(150.0, 56.0), (170.0, 50.0), (200.0, 46.0)]
            .map(|(min, c)| WaterRead::typed(at(now, min), Celsius::new(c))),
    );
    for min in [30.0, 140.0, 175.0, 199.0] {
        let l = live(&request, &p, &s, &water, at(now, min)).expect("simulates");
        let (coldest, likely) = l.centre_c.expect("in the bath");
        assert!(coldest <= likely, "{min}: {coldest:?} {likely:?}");
    }
}

#[test]
fn a_pull_is_due_since_the_minute_it_was_due_however_late_it_gets() {
    let (request, p, now) = setup("56 °C", "well");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let stands = |min: f64| {
        let set = BathHistory::set(now, Celsius::new(56.0));
        live(&request, &p, &s, &set, at(now, min)).expect("simulates")
    };
    let pull = stands(10.0).next_at.expect("to come");
    assert_eq!(stands(10.0).due_since, None);
    for late in [0.5, 4.0, 25.0, 60.0] {
        let since = stands(Minutes::between(now, pull).value() + late).due_since.expect("due");
        assert!(since.duration_since(pull).as_secs().abs() <= 60, "{late}: {since} for {pull}");
    }
}

#[test]
fn what_was_pulled_too_early_goes_back_in_and_what_it_was_out_counts() {
    let (request, p, now) = setup("56 °C", "well");
    let water = BathHistory::set(now, Celsius::new(56.0));
    let zone = jiff::tz::TimeZone::UTC;
    let here = |min: f64| (at(now, min), &zone);
    let dropped = state(now, &[(0.0, EventKind::Dropped)]);
    let never_out = live(&request, &p, &dropped, &water, at(now, 46.0)).expect("simulates");
    let early = state(now, &[(0.0, EventKind::Dropped), (40.0, EventKind::Pulled)]);
    let back = if_put_back((&request, &p), &early, &water, here(46.0)).expect("simulates");
    let back = back.expect("it goes on");
    assert!(
        back.stage == Stage::InBath && back.through_at > never_out.through_at,
        "{:?} {:?}",
        back.through_at,
        never_out.through_at
    );
    let runs_out = |l: &Live| l.clock_out.map_or(i64::MAX, jiff::Timestamp::as_second);
    assert!(runs_out(&back) <= runs_out(&never_out));
    // Long out it counts the worst; what was seared, or is done, goes back nowhere.
    let long = if_put_back((&request, &p), &early, &water, here(75.0)).expect("simulates");
    assert!(
        long.as_ref().is_none_or(|l| l.through_at.is_none_or(|t| Some(t) > back.through_at)),
        "{:?} {:?}",
        long.map(|l| l.through_at),
        back.through_at
    );
    let seared = EventKind::Seared { faces_s: vec![45.0], covered: None };
    let seared = state(now, &[(0.0, EventKind::Dropped), (40.0, EventKind::Pulled), (44.0, seared)]);
    assert!(if_put_back((&request, &p), &seared, &water, here(46.0)).expect("simulates").is_none());
}

#[test]
fn a_colder_reading_delays_and_never_hastens() {
    let (request, p, now) = setup("55 °C", "at-risk");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let steady = BathHistory::set(now, Celsius::new(55.0));
    // Read every five minutes: a little too cold for a while.
    let read = |k: u32| {
        let c = Celsius::new(if (12..18).contains(&k) { 54.5 } else { 55.0 });
        WaterRead::typed(at(now, f64::from(k) * 5.0), c)
    };
    let sagging = BathHistory { readings: (0..=20).map(read).collect(), ..steady.clone() };
    let a = live(&request, &p, &s, &steady, at(now, 100.0)).expect("simulates");
    let b = live(&request, &p, &s, &sagging, at(now, 100.0)).expect("simulates");
    assert!(b.pasteurised_at > a.pasteurised_at, "{:?} {:?}", a.pasteurised_at, b.pasteurised_at);
    assert_eq!(a.verdict.map(|v| v.level), Some(Level::Refused));
}

/// Table of boiling water by altitude, "common practice": about 87 °C at 4,000 m.
#[test]
fn no_water_is_hotter_than_it_boils_here() {
    let (mut request, p, now) = setup("70 °C", "at-risk");
    request.rules.altitude_m = 4000.0;
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let with = |c: f64| {
        let water = BathHistory {
            readings: vec![WaterRead::typed(now, Celsius::new(c)).checked()],
            ..BathHistory::set(now, Celsius::new(c))
        };
        live(&request, &p, &s, &water, at(now, 30.0)).expect("simulates")
    };
    let (most, boils, less) = (with(99.0), with(boiling_c(4000.0) + 0.5), with(84.0));
    assert_eq!((most.through_at, most.centre_c), (boils.through_at, boils.centre_c));
    assert!(less.centre_c < most.centre_c);
}

#[test]
fn a_bag_moved_into_still_water_warms_as_slowly_as_there() {
    let (request, p, now) = setup("57 °C", "at-risk");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let safe = |water: &BathHistory| {
        live(&request, &p, &s, water, at(now, 30.0))
            .expect("simulates")
            .pasteurised_at
            .expect("it gets there")
    };
    let set = BathHistory::set(now, Celsius::new(57.0));
    let still = BathHistory { still: true, ..set.clone() };
    let moved = |to| safe(&set.clone().then(at(now, 20.0), to));
    assert!(moved(still) > later(moved(set.clone()), Minutes::new(5.0)).expect("in range"));
}

/// A finish starts from what really happened to the piece: colder where it went in late, or lay in still or cold water.
#[test]
fn a_finish_starts_from_the_piece_as_it_really_is() {
    let (request, p, now) = setup("57 °C", "well");
    let out = 30.0;
    let s = state(now, &[(0.0, EventKind::Dropped), (out, EventKind::Pulled)]);
    let middle = |water: &BathHistory| {
        let given = for_finish(&request, &p, &s, water, at(now, out)).expect("simulates");
        let Some(Start::Profile(points)) = given.start else { panic!("no profile") };
        assert!(points.windows(2).all(|w| w[0].0 < w[1].0 && w[0].1 >= w[1].1), "warmer outside: {points:?}");
        points[points.len() - 1].1
    };
    let set = BathHistory::set(now, Celsius::new(57.0));
    let plain = middle(&set);
    let live = live(&request, &p, &s, &set, at(now, out)).expect("simulates");
    let shown = live.centre_c.expect("pulled").1.value();
    assert!((plain - shown).abs() < 0.2, "{plain} in the finish, {shown} on the cook's page");
    assert!(middle(&BathHistory { still: true, ..set.clone() }) < plain - 1.0);
    assert!(middle(&BathHistory::set(now, Celsius::new(50.0))) < plain - 1.0);
    // No water is hotter than it boils.
    let boiling = middle(&BathHistory::set(now, Celsius::new(100.0)));
    assert!((middle(&BathHistory::set(now, Celsius::new(130.0))) - boiling).abs() < 0.2);
}

/// The probe sits in a piece that is thicker, or thinner, than it was said to be: by simulation of that piece.
#[test]
fn a_probe_in_the_piece_delays_at_once_and_brings_forward_only_where_it_may() {
    let (request, p, now) = setup("57 °C", "at-risk");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let safe = |water: &BathHistory| {
        let l = live(&request, &p, &s, water, at(now, 60.0)).expect("simulates");
        (l.pasteurised_at.expect("it gets there"), l.probed)
    };
    let plain = BathHistory::set(now, Celsius::new(57.0));
    let (without, none) = safe(&plain);
    assert_eq!(none, None);
    let probe = |mm: f64, may_advance: bool| {
        let pieces = request.pieces(Minutes::ZERO).expect("simulates");
        let real = pieces.slow.cut_to(crate::units::Length::from_mm(mm));
        let run = real.run(&[]).expect("simulates");
        let read = |k: u32| {
            let min = f64::from(k) * 4.0;
            (at(now, min), run.core_c(Minutes::new(min)))
        };
        let readings = (1..=14).map(read).collect();
        let log = ProbeLog { name: "thin probe".into(), readings, may_advance };
        safe(&BathHistory { probe: Some(log), ..plain.clone() })
    };
    let stated = request.thickness_mm.mm();
    let (thicker, told) = probe(stated + 8.0, false);
    assert!(thicker > without, "{thicker} {without}");
    let told = told.expect("read for long enough");
    assert!(told.read.1 < told.estimate && (told.fit.value - stated - 8.0).abs() < 0.5);
    assert_eq!(probe(stated - 8.0, false).0, without, "nobody confirmed where it is");
    assert!(probe(stated - 8.0, true).0 < without);
    // It slips out into the water: whatever it reads then brings nothing forward.
    let slipped =
        (1..=14).map(|k| (at(now, f64::from(k) * 4.0), Celsius::new(if k < 7 { 12.0 } else { 57.0 })));
    let slipped = ProbeLog { name: "p".into(), readings: slipped.collect(), may_advance: true };
    assert!(safe(&BathHistory { probe: Some(slipped), ..plain.clone() }).0 >= without);
    // Four readings may delay, and no more.
    let few = |c: f64| {
        let readings = vec![(at(now, 20.0), Celsius::new(c)); 4];
        let log = ProbeLog { name: "p".into(), readings, may_advance: true };
        safe(&BathHistory { probe: Some(log), ..plain.clone() })
    };
    assert!(few(10.0).0 > without);
    assert_eq!(few(50.0).0, without);
}

/// A finish of a minute a face on a baking stone, after so many minutes in air.
fn on_a_stone(pause_min: f64) -> EventKind {
    let pattern = Pattern {
        pause: Pause::Air,
        pause_s: pause_min * 60.0,
        face_s: 60.0,
        times: 1,
        after: After::resting(60.0),
    };
    EventKind::FinishChosen(Box::new(ChosenFinish {
        pan: crate::sear::PanStart::Hot,
        basting: crate::sear::Basting::Plain,
        hearth: "stone".into(),
        hearth_c: Some(Celsius::new(330.0)),
        fat: "oil".into(),
        brown: "brown".into(),
        wanted_c: Celsius::new(55.0),
        pieces: 1,
        pattern,
    }))
}

#[test]
fn a_chosen_finish_moves_the_pull_forward_where_it_may_and_says_when_to_heat() {
    let (mut request, _, now) = setup("55 °C", "well");
    // Half an hour more than it needs.
    request.time_min = Some(plan(&request, now).expect("a plain piece").needed_min + Minutes::new(30.0));
    let p = plan(&request, now).expect("a plain piece");
    let seen = |events: &[(f64, EventKind)]| {
        let s = state(p.times.drop_by, events);
        live(&request, &p, &s, &BathHistory::default(), at(p.times.drop_by, 1.0)).expect("simulates")
    };
    // 30 min in air, 2 min on the heat, a minute of rest and the food's own 2 min to the plate.
    let longer = Minutes::new(30.0 + 2.0 + 1.0 + 2.0) - p.finish_min;
    for dropped in [vec![], vec![(0.0, EventKind::Dropped)]] {
        let plain = seen(&dropped);
        assert_eq!((plain.pull_at, plain.heat_at), (p.times.pull, None));
        let chosen = seen(&[dropped.clone(), vec![(0.5, on_a_stone(30.0))]].concat());
        assert_eq!(chosen.pull_at, moved(p.times.pull, -longer));
        assert_eq!(chosen.serve_at, plain.serve_at, "the dinner stays where it is");
        let sear_at = moved(chosen.pull_at, Minutes::new(30.0));
        let ready = crate::sear::Hearth::named("stone").expect("shipped").ready_in(Some(Celsius::new(330.0)));
        assert_eq!(chosen.heat_at, Some(moved(sear_at, -ready)));
        assert!(ready > Minutes::new(30.0), "a stone takes its time");
        // So long in air would want it out before it is heated through: dinner moves instead.
        let late = seen(&[dropped.clone(), vec![(0.5, on_a_stone(60.0))]].concat());
        let earliest = moved(p.times.drop_by, p.needed_min);
        assert!(late.pull_at == earliest && late.serve_at > plain.serve_at, "{late:?}");
    }
}

#[test]
fn no_verdict_gets_better_by_a_chosen_finish() {
    let (request, p, now) = setup("54 °C", "well");
    let out = 180.0;
    let base = [(0.0, EventKind::Dropped), (out, EventKind::Pulled)];
    let seen = |more: Option<EventKind>, after: f64| {
        let mut events = base.to_vec();
        events.extend(more.map(|m| (out + 0.5, m)));
        live(&request, &p, &state(now, &events), &BathHistory::default(), at(now, out + after))
            .expect("simulates")
    };
    for after in [1.0, 20.0, 60.0, 100.0, 130.0] {
        let plain = seen(None, after);
        for pause in [0.0, 10.0, 60.0, 120.0] {
            let chosen = seen(Some(on_a_stone(pause)), after);
            let level = |l: &Live| l.verdict.as_ref().map(|v| v.level);
            assert!(level(&chosen) >= level(&plain), "{pause} {after}: {chosen:?}");
            // As good, and for no longer.
            let until = |l: &Live| l.eat_by.map_or(i64::MAX, |t| t.as_second());
            assert!(level(&chosen) > level(&plain) || until(&chosen) <= until(&plain), "{pause} {after}");
        }
    }
    assert!(seen(Some(on_a_stone(0.0)), 1.0).heat_at.is_some());
    // What is seared needs no heat any more.
    let seared = EventKind::Seared { faces_s: vec![60.0, 60.0], covered: None };
    let events = [base.to_vec(), vec![(out + 0.5, on_a_stone(0.0)), (out + 3.0, seared)]].concat();
    let done = live(&request, &p, &state(now, &events), &BathHistory::default(), at(now, out + 4.0));
    assert_eq!(done.expect("simulates").heat_at, None);
}

#[test]
fn a_cold_bath_runs_out_and_then_says_so() {
    let (request, p, now) = setup("51.5 °C", "well");
    let s = state(now, &[(0.0, EventKind::Dropped)]);
    let in_time = live(&request, &p, &s, &BathHistory::default(), at(now, 120.0)).expect("simulates");
    assert_eq!(in_time.verdict.as_ref().map(|v| v.level), Some(Level::ServeNow));
    assert!(in_time.clock_out.is_some());
    let late = live(&request, &p, &s, &BathHistory::default(), at(now, 300.0)).expect("simulates");
    assert!(!matches!(late.next, Next::Pull(_)) && late.verdict.is_some_and(|v| v.level == Level::Refused));
}

#[test]
fn minutes_afloat_count_as_waiting_and_not_as_cooking() {
    let (request, p, now) = setup("55 °C", "at-risk");
    let good = state(now, &[(0.0, EventKind::Dropped)]);
    let afloat = state(
        now,
        &[(0.0, EventKind::Dropped), (50.0, EventKind::Floated { afloat_min: Minutes::new(40.0) })],
    );
    let (a, b) = (
        live(&request, &p, &good, &BathHistory::default(), at(now, 60.0)),
        live(&request, &p, &afloat, &BathHistory::default(), at(now, 60.0)),
    );
    let (a, b) = (a.expect("simulates"), b.expect("simulates"));
    let later_by = Minutes::between(a.pasteurised_at.expect("reached"), b.pasteurised_at.expect("reached"));
    assert!((later_by - Minutes::new(40.0)).abs() < Minutes::new(1.0), "{later_by:?}");
    assert!(b.centre_c.expect("in").0 < a.centre_c.expect("in").0);
    // The growth clock is not set back by it.
    let (cold, plan_cold, _) = setup("51.5 °C", "well");
    let of = |s: &CookState| {
        live(&cold, &plan_cold, s, &BathHistory::default(), at(now, 60.0)).expect("simulates").clock_out
    };
    let (a, b) = (of(&good).expect("runs out"), of(&afloat).expect("runs out"));
    assert!(b < a, "it was perhaps warm all the while: {a} {b}");
}

#[test]
fn eating_late_counts_on_the_growth_clock() {
    let (request, p, now) = setup("51.5 °C", "well");
    let s = state(now, &[(0.0, EventKind::Dropped), (120.0, EventKind::Pulled)]);
    let soon = live(&request, &p, &s, &BathHistory::default(), at(now, 130.0)).expect("simulates");
    let late = live(&request, &p, &s, &BathHistory::default(), at(now, 300.0)).expect("simulates");
    assert_eq!(soon.verdict.map(|v| v.level), Some(Level::ServeNow));
    assert_eq!(late.verdict.map(|v| v.level), Some(Level::Refused));
}
