//! The event log takes only what can have happened. (The project's own rules.)
//!
//! Random lists of events, in any order of writing, are given to the fold one by one; what it accepts is then
//! read a second time by a reading of its own below, which settles the list as a careful clerk would: an undo
//! strikes out, an undo of an undo restores, the last correction counts, and of two claims the one that gives
//! the least kill and the most growth.

use hold_steady_core::cook::{CookState, Event, EventKind, Milestone, Purpose, live};
use hold_steady_core::plan::{KitchenRules, Plan, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::safety::Level;
use hold_steady_core::sear::{After, ChosenFinish, Pattern, Pause};
use hold_steady_core::units::{Celsius, Minutes, Units};
use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;
use uuid::Uuid;

fn base() -> Timestamp {
    "2026-11-25T12:00:00Z".parse().expect("an instant")
}

fn t(min: i64) -> Timestamp {
    base().checked_add(SignedDuration::from_mins(min)).expect("in range")
}

/// What a hand may write: what, and which earlier line it means.
#[derive(Debug, Clone)]
struct Written {
    what: u8,
    happened: i64,
    target: usize,
    minutes: f64,
}

fn written() -> impl Strategy<Value = Vec<Written>> {
    let one = (0_u8..13, 0_i64..600, 0_usize..12, 0.0_f64..90.0)
        .prop_map(|(what, happened, target, minutes)| Written { what, happened, target, minutes });
    prop::collection::vec(one, 1..14)
}

/// A finish that was chosen, with so many minutes in air before it.
fn finish_after(minutes: f64) -> EventKind {
    let after = After { edge_s: 15.0, ..After::resting(60.0) };
    let pattern = Pattern { pause: Pause::Air, pause_s: minutes * 60.0, face_s: 45.0, times: 1, after };
    EventKind::FinishChosen(Box::new(ChosenFinish {
        pan: hold_steady_core::sear::PanStart::Hot,
        basting: hold_steady_core::sear::Basting::Plain,
        hearth: "iron-pan".into(),
        hearth_c: Some(Celsius::new(230.0)),
        fat: "oil".into(),
        brown: "brown".into(),
        wanted_c: Celsius::new(55.0),
        pieces: 1,
        pattern,
    }))
}

fn events(list: &[Written]) -> Vec<Event> {
    let id = |i: usize| Uuid::from_u128(i as u128 + 1);
    list.iter()
        .enumerate()
        .map(|(i, w)| {
            let target = id(w.target.min(i.saturating_sub(1)));
            let kind = match w.what {
                0 | 1 => EventKind::Dropped,
                2 | 3 => EventKind::Pulled,
                4 => EventKind::Eaten,
                5 => EventKind::Floated { afloat_min: Minutes::new(w.minutes) },
                6 | 7 => EventKind::Undone { event: target },
                8 | 9 => EventKind::Corrected { event: target },
                10 => EventKind::CoreRead { celsius: Celsius::new(w.minutes), purpose: Purpose::HotHold },
                11 => finish_after(w.minutes),
                _ => EventKind::Dried,
            };
            Event { id: id(i), happened_at: t(w.happened), recorded_at: t(700), by: "test".into(), kind }
        })
        .collect()
}

/// The list the fold accepts, line by line.
fn accepted(all: &[Event]) -> (Vec<Event>, CookState) {
    let mut kept = Vec::new();
    let mut state = CookState::default();
    for event in all {
        if let Ok(next) = state.apply(event) {
            state = next;
            kept.push(event.clone());
        }
    }
    (kept, state)
}

/// The clerk's reading of an accepted list: every standing claim of a kind, with its time.
fn claims(list: &[Event], wanted: impl Fn(&EventKind) -> bool) -> Vec<(Timestamp, EventKind)> {
    let mut struck = vec![false; list.len()];
    // From the last line up: a later strike decides about an earlier one.
    for i in (0..list.len()).rev() {
        if let (EventKind::Undone { event }, false) = (&list[i].kind, struck[i]) {
            struck[list.iter().position(|e| e.id == *event).expect("accepted")] = true;
        }
    }
    list.iter()
        .enumerate()
        .filter(|(i, e)| !struck[*i] && wanted(&e.kind))
        .map(|(_, e)| {
            let corrected = list
                .iter()
                .rev()
                .find(|c| matches!(&c.kind, EventKind::Corrected { event } if *event == e.id));
            (corrected.map_or(e.happened_at, |c| c.happened_at), e.kind.clone())
        })
        .collect()
}

fn planned(bath: &str) -> (PlanRequest, Plan) {
    let form = PlanForm { intact: "whole".into(), bath: bath.into(), ..PlanForm::default() };
    let (zone, rules) = (jiff::tz::TimeZone::UTC, KitchenRules::default());
    let request =
        form.read(&Setting::new(Units::default(), base(), &zone, &rules)).request.expect("complete");
    let p = plan(&request, base()).expect("simulates");
    (request, p)
}

fn badness(level: Level) -> u8 {
    match level {
        Level::Pasteurized | Level::Exempt => 0,
        Level::ServeNow => 1,
        Level::Refused => 2,
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2000))]

    #[test]
    fn what_is_accepted_can_have_happened(list in written()) {
        let (kept, state) = accepted(&events(&list));
        for milestone in Milestone::ALL {
            let found = claims(&kept, |k| k.milestone() == Some(milestone));
            prop_assert!(found.len() <= 1, "{milestone:?} twice: {found:?}");
            prop_assert_eq!(state.when(milestone), found.first().map(|c| c.0), "{:?}", milestone);
        }
        let at = |m| state.when(m);
        // Nothing follows what did not happen, and nothing comes before what it follows.
        for later in [Milestone::Pulled, Milestone::Dried, Milestone::Eaten] {
            if let Some(then) = at(later) {
                let dropped = at(Milestone::Dropped);
                prop_assert!(dropped.is_some_and(|d| d <= then), "{later:?} without a drop before it");
            }
        }
        let afloat = claims(&kept, |k| matches!(k, EventKind::Floated { .. }));
        let all_afloat: Minutes = afloat.iter().map(|c| match c.1 { EventKind::Floated { afloat_min } => afloat_min, _ => Minutes::ZERO }).sum();
        prop_assert!((state.afloat_min() - all_afloat).value().abs() < 1e-9);
        // The list read whole is the list read line by line.
        prop_assert_eq!(CookState::fold(&kept).expect("accepted"), state.clone());
        prop_assert_eq!(CookState::of(&kept), state);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn no_accepted_list_is_milder_than_its_most_cautious_reading(
        list in written(),
        seen in 600_i64..1600,
        bath in prop::sample::select(vec!["52 °C", "55 °C", "60 °C"]),
    ) {
        let (kept, state) = accepted(&events(&list));
        let Some(dropped) = claims(&kept, |k| *k == EventKind::Dropped).iter().map(|c| c.0).max() else {
            return Ok(());
        };
        let (request, p) = planned(bath);
        let l = live(&request, &p, &state, &hold_steady_core::bath::BathHistory::default(), t(seen)).expect("simulates");
        let Some(verdict) = l.verdict else { return Ok(()) };
        // The clerk: as little bath as the claims allow, all of the rest on the clocks.
        let minutes = |a: Timestamp, b: Timestamp| b.duration_since(a).as_secs_f64() / 60.0;
        let pulled = claims(&kept, |k| *k == EventKind::Pulled).iter().map(|c| c.0).min();
        let eaten = claims(&kept, |k| *k == EventKind::Eaten).iter().map(|c| c.0).max();
        let afloat: Minutes = claims(&kept, |k| matches!(k, EventKind::Floated { .. }))
            .iter()
            .map(|c| match c.1 { EventKind::Floated { afloat_min } => afloat_min, _ => Minutes::ZERO })
            .sum();
        let in_bath = (minutes(dropped, pulled.unwrap_or(t(seen))) - afloat.value()).max(1.0);
        let hot = claims(&kept, |k| matches!(k, EventKind::CoreRead { celsius, .. } if *celsius >= Celsius::new(57.0)));
        // A reading of a hot hold may stop the clock; the clerk leaves such lists to the tests that count them.
        prop_assume!(hot.is_empty());
        let after = pulled.map_or(0.0, |p| minutes(p, eaten.unwrap_or(t(seen))));
        let asked = serde_json::json!({
            "food": "beef-strip", "thickness_mm": request.thickness_mm, "start_c": 5, "bath_c": request.bath_c,
            "until_min": in_bath, "intact": true, "waited_min": afloat, "after_min": after.max(0.0),
        });
        let clerk = hold_steady_core::calc::run("heat", &asked).expect("complete");
        let clerk = match clerk["verdict"]["level"].as_str() {
            Some("pasteurized" | "exempt") => 0,
            Some("serve-now") => 1,
            _ => 2,
        };
        prop_assert!(badness(verdict.level) >= clerk, "{verdict:?} but the clerk says {clerk}: {kept:?}");
    }

    #[test]
    fn the_order_of_writing_changes_nothing(a in 0_i64..60, b in 61_i64..300, afloat in 0.0_f64..30.0) {
        let id = Uuid::from_u128;
        let e = |n: u128, min: i64, kind| Event { id: id(n), happened_at: t(min), recorded_at: t(700), by: "test".into(), kind };
        let drop = e(1, a, EventKind::Dropped);
        let float = e(2, a + 40, EventKind::Floated { afloat_min: Minutes::new(afloat.min(39.0)) });
        let pull = e(3, a + b, EventKind::Pulled);
        let one = CookState::fold([&drop, &float, &pull]);
        let other = CookState::fold([&drop, &pull, &float]);
        prop_assert_eq!(one.is_ok(), other.is_ok());
        if let (Ok(one), Ok(other)) = (one, other) {
            prop_assert_eq!(one, other);
        }
    }

    #[test]
    fn an_unknown_food_or_profile_is_refused_by_name(id in "[a-z-]{1,20}") {
        prop_assume!(hold_steady_core::food::catalogue().food(&id).is_none());
        let (request, _) = planned("55 °C");
        let mut json = serde_json::to_value(&request).expect("plain");
        json["food"] = serde_json::json!(id);
        let e = serde_json::from_value::<PlanRequest>(json.clone()).expect_err("unknown").to_string();
        prop_assert!(e.contains(&id), "{e}");
        json["food"] = serde_json::json!("beef-strip");
        json["rules"]["profile"] = serde_json::json!(id);
        let e = serde_json::from_value::<PlanRequest>(json.clone()).expect_err("unknown").to_string();
        prop_assert!(e.contains(&id), "{e}");
        let asked = serde_json::json!({"food": id, "thickness_mm": 25, "start_c": 5, "bath_c": 55});
        prop_assert!(hold_steady_core::calc::run("heat", &asked).is_err());
        let book = include_str!("../golden/export-v2.json").replace("\"food\": \"shell-egg-large\"", &format!("\"food\": \"{id}\""));
        let read = hold_steady_core::book::read_export(&book, t(700)).expect("a book");
        prop_assert!(read.left_out.iter().any(|l| l.reason.contains(&id)), "an imported plan of an unknown food");
    }
}
