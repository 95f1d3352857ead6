//! The store against a real database file.

use std::io::Cursor;

use crate::common::run;
use hold_steady_core::book::{BagRecord, Change, CookRecord};
use hold_steady_core::cook::{EventKind, Rating, Refusal};
use hold_steady_core::food::{Pantry, Preset};
use hold_steady_core::plan::{Guest, KitchenRules, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::units::{Celsius, Length, Units};
use hold_steady_store::{CookPhase, Imported, Kitchen, NewPlan, Put, Search, Store, StoreError, new_id};
use jiff::Timestamp;
use uuid::Uuid;

use crate::kitchens::*;

#[test]
fn what_is_written_is_there_after_opening_again() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let cook = a_finished_cook(&store, &kitchen).await;
        let before = store.cook(cook).await.expect("there");
        drop(store);
        let (store, kitchen) = open(&place).await;
        assert_eq!(kitchen.name, "Test kitchen");
        let after = store.cook(cook).await.expect("still there");
        assert_eq!(after, before);
        assert_eq!(after.events.len(), 6);
        // A set point is a setting, and no reading; what happened has its own subject.
        let bath = &after.baths[0];
        assert_eq!(
            (bath.settings.len(), bath.settings[0].celsius.value(), bath.instruments.len()),
            (1, 55.0, 0)
        );
        assert_eq!(after.bag, BagRecord { id: after.bag.id, bath: bath.id, letter: String::new() });
        let subjects: Vec<&str> = after.events.iter().map(|e| e.subject.kind()).collect();
        assert_eq!(subjects, ["cook", "bag", "bag", "piece", "piece", "piece"]);
        assert!(after.events.iter().all(|e| e.event.by.name == "test"), "each event carries its actor");
        let was = after.immersions(&after.state());
        assert_eq!((was.len(), was[0].from, was[0].until), (1, t(40), Some(t(170))));
        let record = after.plan_record().expect("a plan");
        assert_eq!(record.typed.thickness, "1 1/4 in");
        assert_eq!(record.request.thickness_mm, Length::from_mm(31.75));
        assert!(record.engine.contains("engine 6"));
    });
}

#[test]
fn starting_the_same_cook_twice_starts_one() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let reading =
            PlanForm::default().read(&Setting::new(Units::default(), t(0), &kitchen.zone, &kitchen.rules));
        let new = new_cook("Once", reading);
        store.start_cook(new.clone(), t(0)).await.expect("starts");
        store.start_cook(new, t(1)).await.expect("is there already");
        let (cooks, all, _) = store.cooks_that(CookPhase::UnderWay, (0, 9)).await.expect("a list");
        assert_eq!((cooks.len(), all, cooks[0].events.len()), (1, 1, 1));
    });
}

#[test]
fn events_cannot_be_changed_or_removed_even_by_hand() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        a_finished_cook(&store, &kitchen).await;
        drop(store);
        let c = rusqlite::Connection::open(&place.file).expect("a database");
        for sql in [
            "UPDATE event SET happened_at = 0",
            "DELETE FROM event",
            "DELETE FROM plan",
            "UPDATE plan SET result = '{}'",
            "UPDATE bath_setting SET celsius = 90",
            "DELETE FROM bath_setting",
            "UPDATE change SET role = 'nobody'",
            "UPDATE who SET name = 'nobody'",
            "DELETE FROM who",
            "DELETE FROM change",
        ] {
            let refused = c.execute(sql, []).expect_err(sql);
            assert!(
                refused.to_string().contains("append-only") || refused.to_string().contains("snapshots"),
                "{refused}"
            );
        }
        assert_eq!(c.query_row("PRAGMA journal_mode", [], |r| r.get::<_, String>(0)).as_deref(), Ok("wal"));
    });
}

#[test]
fn two_taps_at_once_cannot_both_pass() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let cook = a_cook(&store, &kitchen).await;
        let taps = (0..6).map(|_| tap(&store, cook, 40, EventKind::Dropped));
        let done = futures_util::future::join_all(taps).await;
        assert_eq!(done.iter().filter(|d| d.is_ok()).count(), 1, "{done:?}");
    });
}

#[test]
fn an_export_gives_the_same_book_in_an_empty_kitchen_and_twice_changes_nothing() {
    run(async {
        let (from, to) = (place(), place());
        let (store, kitchen) = open(&from).await;
        let finished = a_finished_cook(&store, &kitchen).await;
        let unfinished = a_cook(&store, &kitchen).await;
        let first = exported(&store, &kitchen, t(300)).await;
        let (other, its_kitchen) = open(&to).await;
        let done = other.import(incoming(&first), t(500)).await.expect("imports");
        assert_eq!(done, Imported { cooks_added: 2, ..Imported::default() });
        let second = exported(&other, &its_kitchen, t(400)).await;
        assert_eq!(without_time(second), without_time(first.clone()));
        let done = other.import(incoming(&first), t(501)).await.expect("imports again");
        assert_eq!(done, Imported { cooks_unchanged: 2, ..Imported::default() });
        // To what is under way, nothing is added; what ended gets what was written about it since.
        tap(&store, unfinished, 310, EventKind::Dropped).await.expect("in order");
        let rating = Rating { crust: Some(2), ..Rating::default() };
        tap(&store, finished, 311, EventKind::Rated(rating)).await.expect("in order");
        let later = exported(&store, &kitchen, t(320)).await;
        let ida = here(&Store::open(&to.file).await.expect("opens"), &its_kitchen, "Ida");
        let done = ida.import(incoming(&later), t(502)).await.expect("imports");
        assert_eq!((done.cooks_unchanged, done.cooks_extended, done.left_out.len()), (0, 1, 1), "{done:?}");
        assert_eq!(done.left_out[0].what, format!("cook {unfinished}"));
        assert!(done.left_out[0].reason.contains("under way"), "{done:?}");
        assert!(other.cook(unfinished).await.expect("there").state().entries.len() == 1);
        // And what came says where from.
        let origins = other.origins(finished).await.expect("there");
        assert_eq!(origins.len(), 7, "six with the first file, one with the second");
        assert!(origins.values().any(|o| o.by.name == "Ida" && o.at == t(502) && o.sha256.len() == 64));
        assert!(
            store.origins(finished).await.expect("there").is_empty(),
            "what was tapped here came from nowhere"
        );
    });
}

#[test]
fn a_damaged_or_foreign_file_is_named_and_left_alone() {
    run(async {
        for content in [b"this is a shopping list, not a database ...".to_vec(), vec![0; 8192]] {
            let place = place();
            std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
            std::fs::write(&place.file, &content).expect("written");
            let refused = Store::open(&place.file).await.err().expect("refused");
            assert!(matches!(refused, StoreError::Corrupt { .. }), "{refused:?}");
            assert!(refused.to_string().contains("restore a copy"));
            assert_eq!(std::fs::read(&place.file).expect("readable"), content);
        }
    });
}

#[test]
fn a_cook_that_is_not_there_is_said_to_be_so() {
    run(async {
        let place = place();
        let (store, _) = open(&place).await;
        assert!(matches!(store.cook(new_id(t(0))).await, Err(StoreError::NotFound)));
    });
}

#[test]
fn identifiers_rise_within_a_millisecond() {
    let ids: Vec<Uuid> = (0..1000).map(|_| new_id(t(0))).collect();
    assert!(ids.windows(2).all(|w| w[0] < w[1]));
    assert_eq!(ids[0].get_version_num(), 7);
}

#[test]
fn a_kitchen_keeps_changes_and_removes_foods_of_its_own() {
    let place = place();
    run(async {
        let (store, _kitchen) = open(&place).await;
        assert!(store.pantry().await.expect("reads").is_empty());
        store.keep_food(own("own-a", "House chop"), t(0)).await.expect("kept");
        store.keep_food(own("own-b", "Other chop"), t(1)).await.expect("kept");
        // Sent twice, it is one food; sent changed, it is changed and keeps its place.
        store.keep_food(own("own-a", "House chop"), t(2)).await.expect("kept");
        store.keep_food(own("own-a", "House chop, thicker"), t(3)).await.expect("kept");
        store.dial("own-a".into(), Some(Celsius::new(57.0)), t(4)).await.expect("kept");
        store.dial("own-a".into(), Some(Celsius::new(58.0)), t(5)).await.expect("kept");
        drop(store);
        let (store, _) = open(&place).await;
        let pantry = store.pantry().await.expect("reads");
        let names: Vec<&str> = pantry.foods.iter().map(|f| f.name.as_str()).collect();
        assert_eq!(names, ["House chop, thicker", "Other chop"]);
        assert_eq!(pantry.dialled.get("own-a"), Some(&Celsius::new(58.0)));
        let gone = store.remove_food("own-a".into(), Put::Off, t(6)).await.expect("there");
        assert_eq!(gone.name, "House chop, thicker");
        assert_eq!(store.pantry().await.expect("reads").foods.len(), 1);
        store.remove_food("own-a".into(), Put::Back, t(7)).await.expect("put back");
        assert_eq!(store.pantry().await.expect("reads"), pantry);
        store.dial("own-a".into(), None, t(8)).await.expect("forgotten");
        assert!(store.pantry().await.expect("reads").dialled.is_empty());
        let missing = store.remove_food("own-z".into(), Put::Off, t(9)).await;
        assert!(matches!(missing, Err(StoreError::NotFound)), "{missing:?}");
    });
}

#[test]
fn the_pantry_travels_with_the_book_and_what_is_here_stays() {
    let (here, there) = (place(), place());
    run(async {
        let (store, kitchen) = open(&here).await;
        store.keep_food(own("own-a", "House chop"), t(0)).await.expect("kept");
        store.dial("pork-chop".into(), Some(Celsius::new(60.0)), t(0)).await.expect("kept");
        let export = exported(&store, &kitchen, t(1)).await;
        let (other, _their) = open(&there).await;
        other.dial("pork-chop".into(), Some(Celsius::new(62.0)), t(0)).await.expect("kept");
        let done = other.import(incoming(&export), t(2)).await.expect("taken");
        assert_eq!(done.pantry_added, 1, "the food; their own temperature stays");
        let pantry = other.pantry().await.expect("reads");
        assert_eq!((pantry.foods.len(), pantry.dialled.get("pork-chop")), (1, Some(&Celsius::new(62.0))));
        let again = other.import(incoming(&export), t(3)).await.expect("taken");
        assert_eq!(again, Imported::default());
    });
}

#[test]
fn a_verdict_is_kept_for_what_was_done_and_worked_out_anew_for_what_was_done_since() {
    let place = place();
    run(async {
        let (store, kitchen) = open(&place).await;
        let cook = a_finished_cook(&store, &kitchen).await;
        let with = |level: Option<&str>| Search { level: level.map(str::to_owned), ..Search::default() };
        let waiting = store.not_judged(9).await.expect("reads");
        assert_eq!(waiting.iter().map(|c| c.id).collect::<Vec<_>>(), [cook]);
        let events = waiting[0].events.len();
        // Worked out from the cook as it was before its last entry: not kept.
        store.keep_levels(vec![(cook, events - 1, "refused")]).await.expect("writes");
        assert_eq!(store.not_judged(9).await.expect("reads").len(), 1);
        store.keep_levels(vec![(cook, events, "serve-now")]).await.expect("writes");
        assert_eq!(store.not_judged(9).await.expect("reads").len(), 0);
        assert_eq!(store.finished(with(Some("serve-now")), (0, 9)).await.expect("reads").all, 1);
        assert_eq!(store.finished(with(Some("refused")), (0, 9)).await.expect("reads").all, 0);
        // By time: planned before it was.
        let until = Search { until: Some(t(-1)), ..Search::default() };
        assert_eq!(store.finished(until, (0, 9)).await.expect("reads").all, 0);
        let eaten = store
            .cook(cook)
            .await
            .expect("there")
            .events
            .iter()
            .find(|e| e.event.kind == EventKind::Eaten)
            .map(|e| e.event.id);
        tap(&store, cook, 250, EventKind::Undone { event: eaten.expect("eaten") }).await.expect("undone");
        assert_eq!(store.finished(with(None), (0, 9)).await.expect("reads").levels.get(&cook), None);
    });
}

#[test]
fn what_is_settled_and_kept_is_written_down_with_who_did_it() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let rules = KitchenRules { altitude_m: 1200.0, ..KitchenRules::default() };
        store.settle(rules.clone(), t(1)).await.expect("settled");
        store.dial("beef-strip".into(), Some(Celsius::new(56.5)), t(2)).await.expect("dialled");
        store.dial("beef-strip".into(), None, t(3)).await.expect("forgotten");
        let history = exported(&store, &kitchen, t(9)).await.kitchen.history;
        let told: Vec<(&Change, &str)> = history.iter().map(|c| (&c.change, c.by.name.as_str())).collect();
        assert!(matches!(told[0], (Change::Named { .. }, "command line")), "{told:?}");
        assert_eq!(told[1], (&Change::Settled { rules }, "test"));
        assert_eq!(
            told[2].0,
            &Change::Dialled { food: "beef-strip".into(), celsius: Some(Celsius::new(56.5)) }
        );
        assert_eq!(told[3].0, &Change::Dialled { food: "beef-strip".into(), celsius: None });
    });
}

#[test]
fn another_kitchen_s_records_are_not_reached() {
    run(async {
        let place = place();
        let (store, kitchen) = open(&place).await;
        let cook = a_cook(&store, &kitchen).await;
        drop(store);
        let store = Store::open(&place.file).await.expect("opens");
        let elsewhere = Kitchen { id: new_id(t(0)), ..kitchen.clone() };
        let stranger = here(&store, &elsewhere, "stranger");
        assert!(matches!(stranger.cook(cook).await, Err(StoreError::NotFound)));
        let tapped = stranger.add_event(cook, event(1, EventKind::Dropped), t(1), CookRecord::with).await;
        assert!(matches!(tapped, Err(StoreError::NotFound)));
        assert_eq!(stranger.cooks_that(CookPhase::UnderWay, (0, 9)).await.expect("reads").1, 0);
    });
}

#[test]
fn a_cook_planned_anew_is_written_once_and_comes_back() {
    run(async {
        let (one, other) = (place(), place());
        let (store, kitchen) = open(&one).await;
        let cook = a_cook(&store, &kitchen).await;
        tap(&store, cook, 5, EventKind::Dropped).await.expect("dropped");
        let record = store.cook(cook).await.expect("there");
        let standing = record.plan_record().expect("planned").clone();
        let request = PlanRequest { at_risk: true, in_since: Some(t(5)), ..standing.request.clone() };
        let new = |request: &PlanRequest, corrects| NewPlan {
            id: new_id(t(9)),
            corrects,
            typed: standing.typed.clone(),
            plan: plan(request, t(9)).expect("a plain piece"),
            request: request.clone(),
        };
        let wished = new(&request, false);
        for _ in 0..2 {
            let taken = store.replan(cook, wished.clone(), t(9), CookRecord::with_plan).await;
            taken.expect("written").expect("can be");
        }
        let thicker = PlanRequest { thickness_mm: Length::from_mm(60.0), ..request };
        let refused = store.replan(cook, new(&thicker, false), t(9), CookRecord::with_plan).await;
        assert_eq!(refused.expect("asked"), Err(Refusal::OtherPiece));
        store
            .replan(cook, new(&thicker, true), t(9), CookRecord::with_plan)
            .await
            .expect("written")
            .expect("can be");
        let record = store.cook(cook).await.expect("there");
        assert_eq!((record.piece.plans.len(), record.events.len()), (3, 4));
        assert_eq!(record.plan_record().map(|p| p.request.thickness_mm), Some(Length::from_mm(60.0)));
        let file = export_text(&store, &kitchen, t(60)).await;
        let (there, _) = open(&other).await;
        let done = there.import(Cursor::new(file), t(61)).await.expect("taken");
        assert_eq!((done.left_out, done.cooks_added), (vec![], 1));
        let brought = there.cook(cook).await.expect("there");
        assert_eq!((brought.piece, brought.bag, brought.events), (record.piece, record.bag, record.events));
    });
}

#[test]
fn a_guest_who_is_removed_leaves_a_number_and_what_they_must_not_eat() {
    run(async {
        let (one, other) = (place(), place());
        let (store, kitchen) = open(&one).await;
        let mira = Guest {
            id: new_id(t(0)),
            name: "Mira".into(),
            avoids: vec!["fish".into()],
            at_risk: true,
            ..Guest::default()
        };
        let kept = store.keep_guest(mira.clone(), t(1)).await.expect("kept");
        assert_eq!(kept.number, 1);
        let twice = Guest { id: new_id(t(2)), ..mira.clone() };
        assert!(matches!(store.keep_guest(twice, t(2)).await, Err(StoreError::Conflict(_))));
        let file = export_text(&store, &kitchen, t(3)).await;
        store.remove_guest(mira.id, t(4)).await.expect("removed");
        assert_eq!(store.guests().await.expect("reads"), []);
        let left = store.guest(mira.id).await.expect("reads").expect("left");
        assert_eq!(
            (left.called(), left.at_risk, left.avoids),
            ("guest 1".to_owned(), true, vec!["fish".to_owned()])
        );
        assert!(!export_text(&store, &kitchen, t(5)).await.contains("Mira"), "nowhere any more");
        let (there, _) = open(&other).await;
        there.import(Cursor::new(file), t(6)).await.expect("taken");
        assert_eq!(there.guests().await.expect("reads"), [kept]);
    });
}

#[test]
fn presets_and_salted_batches_are_kept_once_and_travel() {
    let (here, there) = (place(), place());
    run(async {
        let (store, _kitchen) = open(&here).await;
        let typed = PlanForm { thickness: "40 mm".into(), intact: "whole".into(), ..PlanForm::default() };
        let preset = Preset::of(new_id(t(0)), "Friday", &typed);
        for _ in 0..2 {
            store.keep_preset(preset.clone(), t(0)).await.expect("kept");
            store.remember_salted("Chops 12 Nov".into(), t(0)).await.expect("remembered");
        }
        drop(store);
        let (store, kitchen) = open(&here).await;
        let pantry = store.pantry().await.expect("reads");
        assert_eq!(
            (pantry.presets.as_slice(), pantry.salted.as_slice()),
            (&[preset.clone()][..], &["chops 12 nov".to_owned()][..])
        );
        store.remove_preset(preset.id, Put::Off, t(1)).await.expect("there");
        assert!(store.pantry().await.expect("reads").presets.is_empty());
        store.remove_preset(preset.id, Put::Back, t(2)).await.expect("put back");
        assert!(matches!(store.remove_preset(new_id(t(3)), Put::Off, t(3)).await, Err(StoreError::NotFound)));
        let export = exported(&store, &kitchen, t(4)).await;
        let (other, _their) = open(&there).await;
        let done = other.import(incoming(&export), t(5)).await.expect("taken");
        assert_eq!(done.pantry_added, 2);
        assert_eq!(other.pantry().await.expect("reads"), pantry);
        let known = Pantry { presets: vec![preset], ..Pantry::default() };
        assert_eq!(other.add_to_pantry(known, t(5)).await.expect("known"), 0);
    });
}

#[test]
fn a_bag_goes_into_another_bath_and_its_water_with_it() {
    let (here_, there) = (place(), place());
    run(async {
        let (store, kitchen) = open(&here_).await;
        let cook = a_cook(&store, &kitchen).await;
        // A second bath of the kitchen's: another cook's, for all this one knows.
        let other = a_cook(&store, &kitchen).await;
        let tub = store.cook(other).await.expect("there").baths[0].id;
        tap(&store, cook, 0, EventKind::Dropped).await.expect("in order");
        let nowhere = EventKind::Moved { bath: new_id(t(9)) };
        let refused = store.add_event(cook, event(5, nowhere), t(5), CookRecord::with).await;
        assert!(matches!(refused, Err(StoreError::Conflict(_))), "{refused:?}");
        tap(&store, cook, 60, EventKind::Moved { bath: tub }).await.expect("it is in a bath");
        tap(&store, cook, 90, EventKind::Pulled).await.expect("in order");
        let late =
            store.add_event(cook, event(95, EventKind::Moved { bath: tub }), t(95), CookRecord::with).await;
        assert!(
            matches!(late, Ok(Err(Refusal::TooLate { .. }))),
            "out of the bath it is moved nowhere: {late:?}"
        );
        let record = store.cook(cook).await.expect("there");
        let stays: Vec<(Uuid, Timestamp, Option<Timestamp>)> =
            record.immersions(&record.state()).iter().map(|i| (i.bath, i.from, i.until)).collect();
        assert_eq!(stays, [(record.baths[0].id, t(0), Some(t(60))), (tub, t(60), Some(t(90)))]);
        assert_eq!(record.water(&record.state()).moved.len(), 1);
        // It travels with both baths.
        let (elsewhere, theirs) = open(&there).await;
        let done = elsewhere.import(incoming(&exported(&store, &kitchen, t(200)).await), t(500)).await;
        assert_eq!(done.expect("imports").cooks_added, 2);
        assert_eq!(elsewhere.cook(cook).await.expect("there"), record);
        let _ = theirs;
    });
}

#[test]
fn no_import_says_anything_of_the_water_a_piece_lies_in() {
    let (here_, there) = (place(), place());
    run(async {
        let (store, kitchen) = open(&here_).await;
        let cook = a_cook(&store, &kitchen).await;
        tap(&store, cook, 0, EventKind::Dropped).await.expect("in order");
        let mine = store.cook(cook).await.expect("there");
        // Another kitchen's cook that claims the same bath, and that it is hotter.
        let (elsewhere, theirs) = open(&there).await;
        a_finished_cook(&elsewhere, &theirs).await;
        let mut file = exported(&elsewhere, &theirs, t(200)).await;
        let bath = &mut file.cooks[0].baths[0];
        bath.id = mine.baths[0].id;
        bath.settings[0].celsius = Celsius::new(62.0);
        file.cooks[0].bag.bath = mine.baths[0].id;
        let done = store.import(incoming(&file), t(500)).await.expect("imports");
        assert_eq!(done.cooks_added, 1, "{done:?}");
        assert_eq!(
            store.cook(cook).await.expect("there"),
            mine,
            "the water of what is under way stays as it was"
        );
    });
}
