//! When the water fails: what the hands are told is what the verdict knows, minute by minute.
//!
//! The cases are the project's own; what is safe is asked of the verdict table, which `verdicts.rs` and the independent
//! reading (`scripts/reference`) hold.

use crate::common::form;
use hold_steady_core::bath::{Dip, WaterRead};
use hold_steady_core::cook::{EventKind, Fault, Kept, Live, Next, Pull, Question, live_here, ways_back};
use hold_steady_core::plan::{Plan, PlanForm, StretchKind};
use hold_steady_core::safety::Level;
use hold_steady_core::units::{Celsius, Kelvin, Minutes, Units};
use hold_steady_core::words;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use crate::evening::*;

#[test]
fn a_bath_set_colder_than_planned_moves_the_pull_to_when_it_is_safe() {
    for guests in ["at-risk", "well"] {
        let planned = PlanForm { guests: guests.into(), ..form("chicken-breast", "30 mm", "65 °C") };
        let e = evening(&planned).set(20.0, 57.0).reported((0..400).map(|m| {
            let m = f64::from(m);
            (m, if m < 20.0 { 65.0 } else { (65.0 - (m - 20.0) * 0.4).max(57.0) })
        }));
        keeps_the_law(&e, (5..300).step_by(5));
        // As planned it would have come out long before it is safe now.
        let planned_min = Minutes::between(at(0.0), at(0.0)).value() + e.plan.bath_min.value();
        let l = e.stands(planned_min.ceil());
        assert_eq!(level(&l), Level::Refused);
        assert!(matches!(l.next, Next::Pull(Pull::SafeIn { pasteurised: true, .. })), "{:?}", l.next);
    }
}

#[test]
fn a_bath_read_colder_than_planned_is_never_told_to_be_pulled_while_it_is_refused() {
    let cases = [
        ("burger", "25 mm", "62 °C", 55.0, ""),
        ("chicken-breast", "30 mm", "65 °C", 58.0, ""),
        ("prawn", "18 mm", "55.5 °C", 54.8, ""),
        ("scallop", "25 mm", "51 °C", 49.6, ""),
        ("cod-fillet", "25 mm", "63 °C", 59.9, "none"),
    ];
    for (food, thickness, bath, read, parasites) in cases {
        let planned = PlanForm { parasites: parasites.into(), ..form(food, thickness, bath) };
        for device in [false, true] {
            let readings = (0..36).map(|i| (f64::from(i) * 5.0, read));
            let e = evening(&planned);
            let e = if device { e.reported(readings) } else { e.read(readings) };
            keeps_the_law(&e, (2..178).step_by(8));
        }
    }
}

#[test]
fn what_is_past_mending_is_thrown_away_whoever_the_guests_are() {
    for guests in ["at-risk", "well"] {
        let chicken = PlanForm { guests: guests.into(), ..form("chicken-breast", "30 mm", "60 °C") };
        // Killed by three hours, and then five and a half hours at 40 °C.
        let fell = |m: f64| if m <= 240.0 { 60.0 } else { (60.0 - (m - 240.0) * 2.0).max(40.0) };
        let e = evening(&chicken).reported((0..620).map(|m| (f64::from(m), fell(f64::from(m)))));
        let l = e.stands(580.0);
        assert!(
            matches!(l.next, Next::ThrowAway(_)),
            "{guests}: {:?} {:?}",
            l.next,
            l.verdict.map(|v| v.row)
        );
        // Never killed: hours in water that only warms.
        let cold = evening(&chicken).reported((0..900).map(|m| (f64::from(m), 40.0)));
        let l = cold.stands(700.0);
        assert!(
            matches!(l.next, Next::ThrowAway(_)),
            "{guests}: {:?} {:?}",
            l.next,
            l.verdict.map(|v| v.row)
        );
        let (what, why) = words::next(&l, Units::default(), &|t| t.to_string());
        assert_eq!(what, "Throw it away");
        assert!(why.contains("bacteria grow"), "{why}");
    }
}

#[test]
fn no_pull_stands_beyond_a_limit() {
    // Six hours at 55 °C as planned, and the water reads 54.0: the clock under the growth limit runs out before that.
    let planned = PlanForm { time: "6 h".into(), ..form("beef-strip", "25 mm", "55 °C") };
    let e = evening(&planned).read((0..40).map(|i| (f64::from(i) * 10.0, 54.0)));
    keeps_the_law(&e, (10..390).step_by(10));
    let l = e.stands(60.0);
    let out = l.clock_out.expect("it runs out");
    // The fault is named, and until when it may be pulled as it is.
    assert!(matches!(l.fault, Some(Fault::Colder { .. })), "{:?}", l.fault);
    let by = l.mend.and_then(|m| m.or_pull_by).expect("it may be pulled for a while");
    assert!(by < out && by < at(360.0), "{by} {out}");
    // Set so from the beginning it is no fault, and what is said is by when.
    let low = evening(&PlanForm { time: "3 h 40 min".into(), ..form("beef-strip", "25 mm", "54 °C") });
    keeps_the_law(&low, (10..390).step_by(10));
    let l = low.stands(225.0);
    assert!(!says_pull_now(&l, 225.0) || level(&l) != Level::Refused);
}

#[test]
fn a_bath_ends_when_the_piece_leaves_it_and_not_at_four_days() {
    // 97 hours at 60 °C, then more than a day at 35.
    let chuck = PlanForm { time: "72 h".into(), ..form("beef-chuck", "60 mm", "60 °C") };
    let hours = |h: f64| if h <= 97.0 { 60.0 } else { (60.0 - (h - 97.0) * 12.0).max(35.0) };
    let e = evening(&chuck).read((0..=127 * 6).map(|i| {
        let h = f64::from(i) / 6.0;
        (h * 60.0, hours(h))
    }));
    let good = e.stands(96.5 * 60.0);
    assert_eq!(level(&good), Level::Pasteurized);
    let spoiled = e.stands(126.0 * 60.0);
    assert_eq!(level(&spoiled), Level::Refused);
    assert!(spoiled.centre_c.expect("in").0 < Celsius::new(40.0));
    assert!(matches!(spoiled.next, Next::ThrowAway(_)), "{:?}", spoiled.next);
}

#[test]
fn what_floats_is_out_of_the_water_and_the_water_goes_on() {
    let thin = PlanForm { guests: "at-risk".into(), ..form("chicken-breast", "15 mm", "60 °C") };
    let warming = |m: f64| (20.0 + m * 40.0 / 60.0).min(60.0);
    let all = || (0..300).map(|m| (f64::from(m), warming(f64::from(m))));
    // Up for the whole first hour, while the bath came up: it meets water at 60 °C, not at 20.
    let floated = EventKind::Floated { afloat_min: Minutes::new(60.0) };
    let e = evening(&thin).reported(all()).then(60.0, floated);
    let under = e.stands(90.0).centre_c.expect("in").0;
    assert!(under > Celsius::new(50.0), "{under:?}");
    // And its hour counts: no milder than the same piece that waited an hour before it went in.
    assert!(e.stands(290.0).verdict.expect("in").grounds.expect("now").facts.raw_min > Minutes::new(60.0));
    // Afloat after its kill, the minutes count since the kill.
    let late = evening(&thin)
        .reported((0..600).map(|m| (f64::from(m), 60.0)))
        .then(300.0, EventKind::Floated { afloat_min: Minutes::new(150.0) });
    let since = late.stands(310.0).verdict.expect("in").grounds.expect("now").facts.after_kill_min;
    assert!(since >= Minutes::new(150.0), "{since:?}");
}

#[test]
fn two_good_readings_or_a_device_that_says_what_was_planned_harm_nothing() {
    let flank = PlanForm { time: "24 h".into(), ..form("beef-flank", "25 mm", "54.5 °C") };
    let unread = evening(&flank).stands(1435.0);
    assert_eq!(level(&unread), Level::Pasteurized);
    let twice = evening(&flank).read([(60.0, 54.5), (780.0, 54.6)]).stands(1435.0);
    assert_eq!((level(&twice), twice.pasteurised_at.is_some()), (Level::Pasteurized, true));
    // A device nobody checked that says just what was planned, and one that swings about it.
    let steady = evening(&flank).reported((0..1435).map(|m| (f64::from(m), 54.5)));
    assert_eq!(level(&steady.stands(1434.0)), Level::Pasteurized);
    let swings = |m: i32| (f64::from(m), 54.5 + 0.5 * (f64::from(m) * std::f64::consts::PI / 8.0).sin());
    assert_eq!(level(&evening(&flank).reported((0..1435).map(swings)).stands(1434.0)), Level::Pasteurized);
    // One that reads 54.3 all day does not hold 54.5.
    let low = evening(&flank).reported((0..1435).map(|m| (f64::from(m), 54.3)));
    assert_eq!(level(&low.stands(1434.0)), Level::Refused);
}

#[test]
fn a_setting_that_is_a_gate_itself_holds_where_the_mean_is_nearer_to_it_than_a_thermometer_tells() {
    // Prawns are served at once from a bath of 55 °C on.
    let prawns = form("prawn", "16 mm", "55 °C");
    let stands = |c: f64, noise: f64| {
        let read = |m: i32| (f64::from(m), c + if m % 2 == 0 { noise } else { -noise });
        level(&evening(&prawns).reported((0..70).map(read)).stands(69.0))
    };
    assert_eq!(level(&evening(&prawns).stands(69.0)), Level::ServeNow);
    for noise in [0.0, 0.1, 0.3] {
        assert_eq!(stands(54.97, noise), Level::ServeNow, "{noise}");
        assert_eq!(stands(54.9, noise), Level::Refused, "{noise}");
    }
}

#[test]
fn a_raised_bath_makes_no_hour_before_it_count_again() {
    let flank = PlanForm { time: "30 h".into(), ..form("beef-flank", "25 mm", "54.4 °C") };
    let readings = (0..100).map(|i| {
        let m = f64::from(i) * 15.0;
        (m, if m <= 1440.0 { 54.4 } else { 55.0 })
    });
    let e = evening(&flank).set(1441.0, 55.0).read(readings);
    let l = e.stands(1480.0);
    let facts = l.verdict.expect("in").grounds.expect("now").facts;
    assert_eq!(l.fault, None);
    // Only the minutes in which its centre followed the water up.
    assert!(facts.after_kill_min < Minutes::new(45.0), "{:?}", facts.after_kill_min);
    assert!(l.pasteurised_at.is_some());
}

/// A strip in 57 °C whose power goes at 40 minutes: its water falls a tenth of a kelvin a minute.
fn cut_off(guests: &str, until: i32) -> Evening {
    let strip = PlanForm { guests: guests.into(), ..form("beef-strip", "30 mm", "57 °C") };
    let water = |m: f64| if m < 40.0 { 57.0 } else { 57.0 - (m - 40.0) * 0.1 };
    evening(&strip).reported((0..=until).map(|m| (f64::from(m), water(f64::from(m)))))
}

#[test]
fn a_power_cut_is_named_first_with_what_mends_it() {
    let e = cut_off("well", 300);
    keeps_the_law(&e, (20..300).step_by(10));
    let l = e.stands(75.0);
    assert!(
        matches!(l.fault, Some(Fault::NoHeat { since, .. }) if (at(36.0)..=at(46.0)).contains(&since)),
        "{:?}",
        l.fault
    );
    assert!(l.through_at.is_none_or(|t| t < at(240.0)), "a piece that meets its water at 21 °C is not warm");
    let mend = l.mend.clone().expect("the heat can come back");
    assert!(mend.serve_at >= l.plan_serves(&e.plan), "{mend:?}");
    assert!(mend.or_pull_by.is_some(), "it may be pulled as it is");
    let (what, why) = words::next(&l, Units::default(), &|t| t.strftime("%H:%M").to_string());
    assert!(!what.is_empty() && why.contains("dinner"), "{what}: {why}");
    // To a guest at risk it is never to be pulled: it does not get there.
    let e = cut_off("at-risk", 400);
    keeps_the_law(&e, (20..400).step_by(10));
    let l = e.stands(75.0);
    assert_eq!((l.next.clone(), l.pasteurised_at), (Next::Mend, None));
    let mend = l.mend.expect("it can still be mended");
    let by = mend.by.expect("not for ever");
    // Mended then it still becomes safe, and an hour later it does not.
    let mended = |when: f64| {
        let mut e = cut_off("at-risk", when as i32);
        e.water
            .readings
            .extend((0..600).map(|m| WaterRead::reported(at(when + 1.0 + f64::from(m)), Celsius::new(57.0))));
        (0..10).any(|h| level(&e.stands(when + 60.0 * f64::from(h) + 30.0)) == Level::Pasteurized)
    };
    let by = Minutes::between(at(0.0), by).value();
    assert!(mended(by - 2.0), "mended by {by}");
    assert!(!mended(by + 60.0), "an hour after {by}");
    // Every way back is computed.
    let l = e.stands(75.0);
    let ways = ways_back(
        (&e.request, &e.plan),
        &e.state(75.0),
        &e.known(75.0),
        &l,
        &[("the pot".into(), Celsius::new(58.0))],
        at(75.0),
    );
    let told: Vec<_> = ways
        .expect("simulates")
        .iter()
        .map(|w| words::way_back(w, Units::default(), &|t| t.to_string()).0)
        .collect();
    assert!(
        told.contains(&"Heat back on now")
            && told.contains(&"Into another bath")
            && told.contains(&"Cook it through in a pan or oven"),
        "{told:?}"
    );
}

/// What the plan promised.
trait Promised {
    fn plan_serves(&self, plan: &Plan) -> Timestamp;
}

impl Promised for Live {
    fn plan_serves(&self, plan: &Plan) -> Timestamp {
        let late = Minutes::between(plan.times.drop_by, at(0.0));
        plan.times
            .serve
            .checked_add(SignedDuration::from_secs_f64((late.value() - 2.0) * 60.0))
            .expect("in range")
    }
}

#[test]
fn a_load_is_no_power_cut() {
    let strip = form("beef-strip", "30 mm", "57 °C");
    for (depth, down, back) in
        [(0.5, 3.0, 20.0), (1.0, 3.0, 20.0), (2.0, 3.0, 20.0), (3.0, 5.0, 20.0), (4.0, 3.0, 20.0)]
    {
        let water = |m: f64| {
            if m < 0.0 {
                57.0
            } else if m < down {
                57.0 - depth * m / down
            } else {
                57.0 - depth * (1.0 - (m - down) / back).max(0.0)
            }
        };
        let mut e = evening(&strip).reported((-20..200).map(|m| (f64::from(m), water(f64::from(m)))));
        e.water.dips = vec![Dip { at: at(0.0), depth: Kelvin::new(4.5), back: Minutes::new(25.0) }];
        let before = e.stands(1.0).serve_at;
        for min in 1..60 {
            let l = e.stands(f64::from(min));
            assert_eq!(l.fault, None, "{depth} K, {min} min");
            let moved = Minutes::between(before, l.serve_at).abs();
            assert!(moved < Minutes::new(12.0), "{depth} K, {min} min: dinner moves by {moved:?}");
        }
    }
}

#[test]
fn a_device_that_falls_silent_leaves_its_bath_unknown() {
    let chicken = PlanForm { guests: "at-risk".into(), ..form("chicken-breast", "30 mm", "60 °C") };
    let e = evening(&chicken).reported((0..=40).map(|m| (f64::from(m), 60.0)));
    keeps_the_law(&e, (5..300).step_by(5));
    let l = e.stands(60.0);
    assert_eq!(l.fault, Some(Fault::Silent { since: at(40.0) }));
    assert_eq!(l.next, Next::Mend);
    let (what, _) = words::next(&l, Units::default(), &|t| t.to_string());
    assert!(what.starts_with("Read the water"), "{what}");
    // What it is drawn as from its last word on.
    let after = l.ribbon.bands.iter().filter(|b| b.until_min > Minutes::new(41.0));
    let kinds: Vec<StretchKind> = after.map(|b| b.kind).collect();
    assert!(kinds.starts_with(&[StretchKind::Unknown]), "{kinds:?}");
    assert!(kinds.iter().all(|k| matches!(k, StretchKind::Unknown | StretchKind::Refused)), "{kinds:?}");
    // Read again soon, and as it was: what was missed is a gap, and it still gets there.
    let read = e.read([(61.0, 60.0)]).stands(61.0);
    assert!(read.pasteurised_at.is_some());
}

#[test]
fn a_probe_that_slips_out_takes_back_no_delay_it_proved() {
    use hold_steady_core::book::ProbeLog;
    let chicken = PlanForm { guests: "at-risk".into(), ..form("chicken-breast", "30 mm", "60 °C") };
    let thicker = PlanForm { thickness: "42 mm".into(), ..chicken.clone() };
    let real = evening(&thicker);
    let mut e = evening(&chicken);
    let read = |m: f64| (at(m), real.stands(m).centre_c.expect("in").0);
    let good: Vec<_> = (1..=12).map(|i| read(f64::from(i) * 3.0)).collect();
    let with = |e: &mut Evening, readings: Vec<(Timestamp, Celsius)>, min: f64| {
        e.water.probe = Some(ProbeLog { name: "thin".into(), readings, may_advance: true });
        e.stands(min)
    };
    let plain = evening(&chicken).stands(60.0).pasteurised_at.expect("it gets there");
    let proved = with(&mut e, good.clone(), 40.0).pasteurised_at.expect("later");
    assert!(Minutes::between(plain, proved) > Minutes::new(15.0), "{plain} {proved}");
    // It slips out into the water, and reads 60 from then on.
    let slipped = good.into_iter().chain((37..60).map(|m| (at(f64::from(m)), Celsius::new(60.0)))).collect();
    let l = with(&mut e, slipped, 60.0);
    assert!(l.probed.as_ref().is_some_and(|p| p.slipped), "{:?}", l.probed);
    let kept = l.pasteurised_at.expect("later");
    assert!(Minutes::between(plain, kept) > Minutes::new(15.0), "{plain} {kept}");
}

#[test]
fn a_pull_undone_long_after_it_asks_where_the_piece_was_and_counts_the_worse_meanwhile() {
    let chicken = form("chicken-breast", "30 mm", "60 °C");
    let undone = |answer: Option<bool>| {
        let e = evening(&chicken)
            .then(200.0, EventKind::Pulled)
            .then(380.0, EventKind::Undone { event: Uuid::from_u128(2) });
        match answer {
            Some(in_bath) => e.then(385.0, EventKind::Meanwhile { event: Uuid::from_u128(3), in_bath }),
            None => e,
        }
    };
    let open = undone(None).stands(400.0);
    assert!(matches!(open.questions[..], [Question::Where(_)]), "{:?}", open.questions);
    assert_ne!(level(&open), Level::Pasteurized);
    assert_eq!(level(&undone(Some(true)).stands(400.0)), Level::Pasteurized);
    let out = undone(Some(false)).stands(400.0);
    assert!(level(&out) >= level(&open).min(Level::ServeNow) && out.questions.is_empty());
    // A wrong tap, taken back at once, asks nothing.
    let slip = evening(&chicken)
        .then(200.0, EventKind::Pulled)
        .then(203.0, EventKind::Undone { event: Uuid::from_u128(2) });
    assert!(slip.stands(210.0).questions.is_empty());
}

#[test]
fn a_time_shown_twice_counts_as_the_worse_until_it_is_said_which() {
    let chicken = PlanForm { guests: "at-risk".into(), ..form("chicken-breast", "30 mm", "60 °C") };
    // Safe after two hours and a quarter or so; pulled at 170 min, or an hour before that.
    let doubted = evening(&chicken)
        .then(170.0, EventKind::Pulled)
        .then(171.0, EventKind::Doubted { event: Uuid::from_u128(2), or_at: at(110.0) });
    let l = doubted.stands(175.0);
    assert_eq!(level(&l), Level::Refused);
    assert!(matches!(l.questions[..], [Question::Which { .. }]), "{:?}", l.questions);
    let said = doubted.then(172.0, EventKind::Corrected { event: Uuid::from_u128(2) });
    assert!(said.stands(175.0).questions.is_empty());
}

#[test]
fn what_was_chilled_has_a_last_day_and_is_discarded_after_it() {
    let zone = TimeZone::get("Europe/Vienna").expect("known");
    let chicken = form("chicken-breast", "30 mm", "60 °C");
    let e = evening(&chicken).then(240.0, EventKind::Pulled).then(300.0, EventKind::Chilled);
    let on = |day: f64| {
        let now = at(day * 1440.0);
        live_here(&e.request, &e.plan, &e.state(day * 1440.0), &e.water, (now, &zone)).expect("simulates")
    };
    // Pulled on the 25th: the fifth day is the 29th.
    let kept = on(4.4);
    assert!(
        matches!(kept.next, Next::KeepCold { last_day } if last_day.to_string() == "2026-11-29"),
        "{:?}",
        kept.next
    );
    let over = on(4.6);
    assert!(matches!(over.next, Next::Discard { .. }) && level(&over) == Level::Refused, "{:?}", over.next);
}

#[test]
fn what_is_frozen_keeps_and_counts_its_days_again_once_it_is_thawed() {
    let zone = TimeZone::get("Europe/Vienna").expect("known");
    let chicken = form("chicken-breast", "30 mm", "60 °C");
    let put = |frozen| EventKind::Kept(Kept { storage: None, frozen });
    let chilled = || evening(&chicken).then(240.0, EventKind::Pulled).then(300.0, EventKind::Chilled);
    let on = |e: &Evening, day: f64| {
        let now = at(day * 1440.0);
        live_here(&e.request, &e.plan, &e.state(day * 1440.0), &e.water, (now, &zone))
            .expect("simulates")
            .next
    };
    // Frozen on its third day: weeks later it keeps, with two days left.
    let frozen = chilled().then(2.0 * 1440.0, put(true));
    assert!(matches!(on(&frozen, 30.0), Next::KeepFrozen { days_left: 2 }), "{:?}", on(&frozen, 30.0));
    // Thawed on the 30th day: that day and the next.
    let thawed = frozen.then(30.0 * 1440.0, put(false));
    let last = match on(&thawed, 30.1) {
        Next::KeepCold { last_day } => last_day.to_string(),
        other => panic!("{other:?}"),
    };
    assert_eq!(last, "2026-12-26");
    assert!(matches!(on(&thawed, 33.0), Next::Discard { .. }));
    // What was never chilled in time is not mended by cold.
    let late = evening(&chicken)
        .then(240.0, EventKind::Pulled)
        .then(240.0 + 7.0 * 60.0, EventKind::Chilled)
        .then(800.0, put(true));
    assert!(!matches!(on(&late, 3.0), Next::KeepFrozen { .. }), "{:?}", on(&late, 3.0));
}

#[test]
fn advice_is_never_a_plan_that_is_refused() {
    // Allowed after 95 minutes; heated through only when it is refused.
    let thick = PlanForm { time: "95 min".into(), ..form("beef-strip", "38 mm", "49.5 °C") };
    let e = evening(&thick);
    if let Some(caution) = &e.plan.caution {
        let text = words::caution(caution, e.request.food(), Units::default());
        assert!(!text.contains("Give it"), "{text}");
    }
}

/// A bath nobody read, whose cook says when it was off and what it reads now: it is reckoned from then on, no milder than
/// water that falls so can have been, and no harder than if only the reading were known.
#[test]
fn a_bath_that_was_off_is_reckoned_from_when_it_was() {
    let chicken = PlanForm { guests: "at-risk".into(), ..form("chicken-breast", "30 mm", "60 °C") };
    let safe = |e: &Evening, min: f64| e.stands(min).pasteurised_at;
    let unread = evening(&chicken);
    let told = evening(&chicken).off(70.0, 100.0, 57.5);
    let only_read = evening(&chicken).read([(100.0, 57.5)]);
    keeps_the_law(&told, (5..300).step_by(7));
    let (plain, off, read) = (safe(&unread, 101.0), safe(&told, 101.0), safe(&only_read, 101.0));
    assert!(plain < off && off.is_some(), "{plain:?} {off:?}");
    assert!(read.is_none_or(|r| Some(r) > off), "{off:?} {read:?}");
    // Water that fell as the cooling model allows at most, read each minute: what is told is no milder than that.
    let fell = |m: f64| {
        if m < 70.0 {
            60.0
        } else if m <= 100.0 {
            60.0 - (m - 70.0) * 2.5 / 30.0
        } else {
            57.5
        }
    };
    let seen = evening(&chicken).reported((0..=130).map(|m| (f64::from(m), fell(f64::from(m)))));
    let as_seen = safe(&seen, 130.0);
    assert!(as_seen.is_some() && safe(&told, 130.0) >= as_seen, "{:?} {as_seen:?}", safe(&told, 130.0));
    // Two minutes cannot have cooled it by so much: it was off for longer, and no time is too good.
    let short = evening(&chicken).off(98.0, 100.0, 52.0);
    let long = evening(&chicken).off(20.0, 100.0, 52.0);
    let (early, late) = (safe(&short, 101.0), safe(&long, 101.0));
    assert!(early.is_none_or(|t| Some(t) > off), "{early:?} {off:?}");
    assert!(late.is_none_or(|t| early.is_some_and(|e| t >= e)), "{early:?} {late:?}");
    let water = |e: &Evening| e.known(101.0).trace(at(0.0)).expect("known");
    assert!(water(&short).at(97.0 * 60.0) < 60.0 - 1.0, "it had begun to fall before");
    // Nobody read it since: it is falling yet, for all anybody knows.
    let mut unknown = evening(&chicken).off(70.0, 100.0, 57.5);
    unknown.water.readings.clear();
    assert!(safe(&unknown, 160.0).is_none_or(|t| Some(t) > off));
    assert!(water(&unknown).at(100.0 * 60.0) < 58.0, "{:?}", water(&unknown));
    // Off since before anybody put anything in, it was unseen from the drop on; read in between, until that.
    let ever = evening(&chicken).off(-600.0, 100.0, 57.5);
    assert!(safe(&ever, 101.0).is_none_or(|t| Some(t) >= off), "{:?} {off:?}", safe(&ever, 101.0));
    let mut twice = evening(&chicken).off(10.0, 100.0, 57.5).read([(50.0, 57.5)]);
    twice.water.readings.sort_by_key(|r| r.at);
    let until_then = evening(&chicken).off(10.0, 50.0, 57.5).read([(100.0, 57.5)]);
    assert_eq!(safe(&twice, 101.0), safe(&until_then, 101.0));
    let at_50 = evening(&chicken).read([(50.0, 57.5), (100.0, 57.5)]);
    assert!(safe(&at_50, 101.0).is_none_or(|t| safe(&twice, 101.0).is_none_or(|s| s < t)));
    assert!(water(&twice).at(49.0 * 60.0) < 58.0, "{:?}", water(&twice));
    // What a device read in between says more than any word.
    let mut watched = seen;
    watched.water.off.push((at(10.0), at(90.0)));
    assert_eq!(safe(&watched, 130.0), as_seen);
}
