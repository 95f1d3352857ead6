//! Every version of the export that was ever written is read for ever. A regression check against our
//! own earlier output: `golden/export-v1.json` was written by version 0.1.0, `golden/export-v2.json` by the
//! first that kept foods of a kitchen's own, `golden/export-v3.json` by the first that took its rules along, `golden/export-v5.json` by the first with people, `golden/export-v6.json` by the first with vessels,
//! `golden/export-v7.json` by the first that writes a chosen finish down, `golden/export-v8.json` by the first with baths beside
//! cooks and readings hour by hour; they are never changed.

use hold_steady_core::book::{
    BookEntry, Collected, CookRecord, CsvWriter, EventRecord, Export, ExportWriter, FORMAT, HourRecord,
    KitchenRecord, LeftOut, Subject, VERSION, read_book, read_export,
};
use hold_steady_core::cook::{Event, EventKind, Milestone, Stage};
use hold_steady_core::figures::Basis;
use hold_steady_core::food::FoodClass;
use hold_steady_core::limits::{MOST_EVENTS, MOST_NAMED};
use hold_steady_core::safety::Level;
use hold_steady_core::units::{Celsius, Minutes};
use hold_steady_core::who::By;
use jiff::tz::TimeZone;

const V1: &str = include_str!("../golden/export-v1.json");
const V2: &str = include_str!("../golden/export-v2.json");
const V4: &str = include_str!("../golden/export-v4.json");
const V5: &str = include_str!("../golden/export-v5.json");
const V6: &str = include_str!("../golden/export-v6.json");
const V7: &str = include_str!("../golden/export-v7.json");
const V3: &str = include_str!("../golden/export-v3.json");
const V8: &str = include_str!("../golden/export-v8.json");

/// When the files are brought in.
fn now() -> jiff::Timestamp {
    "2026-12-24T12:00:00Z".parse().expect("an instant")
}

#[test]
fn version_1_is_read_whole() {
    let export = read_export(V1, now()).map(|r| r.export).expect("written by us");
    assert_eq!((export.version, export.cooks.len()), (1, 2));
    let eaten = &export.cooks[0];
    assert_eq!(eaten.state().stage(), Stage::Eaten);
    let record = eaten.plan_record().expect("a plan");
    let plan = record.plan().expect("stored whole");
    assert_eq!(plan.engine, record.engine, "the stored answer, not a new one");
    assert_eq!(plan.verdict.level.id(), record.result["verdict"]["level"].as_str().expect("a word"));
    let entry = BookEntry::of(eaten).expect("simulates").expect("eaten");
    assert!(entry.rating.is_some() && entry.bath_min_done().is_some_and(|m| m > Minutes::new(30.0)));
    let running = &export.cooks[1];
    assert_eq!(running.state().stage(), Stage::InBath);
    // What was read with a probe stays a reading of a probe; the set point is a setting.
    let bath = &running.baths[0];
    let probe = bath.instruments.iter().find(|i| i.piece.is_some()).expect("a probe");
    assert!(probe.readings.iter().any(|r| r.celsius == Celsius::new(41.25)));
    assert_eq!(bath.settings.len(), 1);
    assert_eq!(running.bag.bath, bath.id);
    assert_eq!(BookEntry::of(running), Ok(None));
}

#[test]
fn version_2_is_read_with_what_the_kitchen_keeps_of_its_own() {
    let export = read_export(V2, now()).map(|r| r.export).expect("written by us");
    assert_eq!((export.version, export.cooks.len()), (2, 2));
    let pantry = &export.kitchen.pantry;
    assert_eq!(pantry.dialled.get("beef-strip"), Some(&Celsius::new(56.5)));
    let own = pantry.foods[0].food().expect("computes");
    assert_eq!((own.class, own.composition.basis), (FoodClass::Poultry, Basis::Kitchen));
    // The plan holds its own copy: it is planned the same when the pantry has lost the food.
    let record = export.cooks[0].plan_record().expect("a plan");
    assert_eq!(record.request.food().name, "Brined house breast");
    assert_eq!(record.plan().expect("stored whole").verdict.level, Level::Pasteurized);
    let egg = export.cooks[1].plan_record().expect("a plan");
    assert_eq!(egg.request.food().class, FoodClass::ShellEgg);
}

/// What is left out of a file after an edit, and why.
fn left_out(text: &str, pointer: &str, value: serde_json::Value) -> Vec<LeftOut> {
    let mut v: serde_json::Value = serde_json::from_str(text).expect("JSON");
    *v.pointer_mut(pointer).unwrap_or_else(|| panic!("{pointer}")) = value;
    read_export(&v.to_string(), now()).unwrap_or_else(|e| panic!("{pointer}: {e}")).left_out
}

#[test]
fn version_3_is_read_with_what_was_settled_and_what_was_removed() {
    let read = read_export(V3, now()).expect("written by us");
    assert_eq!((read.export.version, read.export.cooks.len(), read.left_out.len()), (3, 2, 0));
    let kitchen = &read.export.kitchen;
    let rules = kitchen.rules.as_ref().expect("settled");
    assert_eq!((rules.altitude_m, rules.bath_error_c.value()), (300.0, 0.3));
    assert_eq!(
        (kitchen.pantry.presets[0].name.as_str(), kitchen.removed.presets[0].name.as_str()),
        ("Tuesday strip", "Old strip")
    );
    assert_eq!(read.sha256.len(), 64);
}

#[test]
fn a_food_of_the_kitchen_s_own_is_checked_before_it_is_taken() {
    for (pointer, value) in [
        ("/foods/0/base", "nectar".into()),
        ("/foods/0/id", "chicken-breast".into()),
        ("/foods/0/name", "Chicken breast".into()),
        ("/foods/0/thickness_mm", 4000.into()),
        ("/foods/0/composition/water", 7.2.into()),
        ("/foods/0/levels", serde_json::json!([])),
        ("/foods/0/windows/0/until_min", serde_json::json!(-1)),
        ("/foods/0/composition", serde_json::json!({"water": 1, "gold": 0})),
        ("/dialled/beef-strip", serde_json::json!(1e308)),
        ("/dialled/beef-strip", serde_json::json!(101)),
    ] {
        let out = left_out(V2, &format!("/kitchen/pantry{pointer}"), value);
        assert_eq!(out.len(), 1, "{pointer}: {out:?}");
        assert!(out[0].what.starts_with("food ") || out[0].what.contains("beef-strip"), "{out:?}");
    }
    // The copy in a plan is no way round the check either.
    let base = "/cooks/0/pieces/0/plans/0/request/own/base";
    assert!(left_out(V2, base, "beef-strip".into()).is_empty(), "another base is another food, and sound");
    assert_eq!(left_out(V2, base, "nectar".into()).len(), 1);
}

#[test]
fn version_6_is_read_with_its_vessels_thermometers_and_what_was_done_to_water() {
    let now = "2026-11-26T08:00:00Z".parse().expect("an instant");
    let read = read_export(V6, now).expect("reads");
    assert_eq!(read.left_out, []);
    let kitchen = &read.export.kitchen;
    assert_eq!((kitchen.vessels.len(), kitchen.thermometers[0].checks.len()), (1, 1));
    let bath =
        read.export.cooks.iter().flat_map(|c| &c.baths).find(|b| b.vessel.is_some()).expect("it ran in one");
    assert_eq!((bath.water.len(), bath.settings.len()), (2, 0));
    // They were read before the thermometer was checked: it may have read half a degree too high.
    let least: Vec<f64> = bath.at_least().iter().map(|(_, c)| (c.value() * 10.0).round() / 10.0).collect();
    assert_eq!(least, [57.8, 57.1]);
    let text = V6.replace("\"narrower\":0.04", "\"narrower\":7");
    let wrong = read_export(&text, now).expect("reads");
    assert!(wrong.left_out.iter().any(|l| l.reason.contains("narrower")), "{:?}", wrong.left_out);
}

#[test]
fn version_7_is_read_with_the_finish_that_was_chosen() {
    let now = "2026-11-26T08:00:00Z".parse().expect("an instant");
    let read = read_export(V7, now).expect("reads");
    assert_eq!(read.left_out, []);
    let chosen = read.export.cooks.iter().find_map(|c| c.state().chosen_finish().cloned()).expect("one has");
    assert_eq!((chosen.hearth.as_str(), chosen.hearth_c), ("stone", Some(Celsius::new(330.0))));
    assert_eq!((chosen.pattern.face_s, chosen.pattern.after.edges, chosen.pieces), (60.0, 2, 2));
    assert!(chosen.pattern.after.wrapped);
    for (is, wrong) in [("\"face_s\":60.0", "\"face_s\":9999.0"), ("\"edges\":2", "\"edges\":9")] {
        assert!(V7.contains(is), "{is}");
        let read = read_export(&V7.replace(is, wrong), now).expect("reads");
        assert!(read.left_out.iter().any(|l| l.reason.contains("A finish has")), "{:?}", read.left_out);
    }
    // A hearth that is known elsewhere only is no reason to lose a cook.
    let read =
        read_export(&V7.replace("\"hearth\":\"stone\"", "\"hearth\":\"a lava field\""), now).expect("reads");
    assert_eq!(read.left_out, []);
}

/// Cooks without the answers of those that are under way.
fn typed(cooks: &serde_json::Value, export: &Export) -> serde_json::Value {
    let mut cooks = cooks.clone();
    for (cook, record) in cooks.as_array_mut().expect("a list").iter_mut().zip(&export.cooks) {
        let (state, piece) = (record.state(), &mut cook["piece"]);
        if state.ended().is_some() || state.deleted {
            continue;
        }
        for plan in piece["plans"].as_array_mut().expect("a list") {
            let plan = plan.as_object_mut().expect("an object");
            plan.retain(|k, _| !["engine", "data", "result"].contains(&k.as_str()));
        }
    }
    cooks
}

/// Cooks of version 4 to 8, each of one piece, as those of today.
fn as_today(cooks: &serde_json::Value) -> serde_json::Value {
    let mut cooks = cooks.clone();
    for cook in cooks.as_array_mut().expect("a list") {
        let fields = cook.as_object_mut().expect("an object");
        let mut piece = fields.remove("pieces").expect("pieces")[0].clone();
        piece.as_object_mut().expect("an object").remove("position");
        let mut bag = fields.remove("bags").expect("bags")[0].clone();
        bag.as_object_mut().expect("an object").remove("pieces");
        fields.insert("piece".into(), piece);
        fields.insert("bag".into(), bag);
    }
    named(cooks)
}

/// Who it was, wherever a name stood alone.
fn named(mut value: serde_json::Value) -> serde_json::Value {
    match &mut value {
        serde_json::Value::Array(all) => all.iter_mut().for_each(|v| *v = named(v.take())),
        serde_json::Value::Object(fields) => {
            for (key, v) in fields.iter_mut() {
                *v = match v.take() {
                    serde_json::Value::String(name) if key == "by" || key == "created_by" => {
                        serde_json::json!({ "name": name })
                    }
                    other => named(other),
                };
            }
        }
        _ => {}
    }
    value
}

#[test]
fn what_is_read_is_written_the_same() {
    for (text, version) in [(V1, 1), (V2, 2), (V3, 3), (V4, 4), (V5, 5), (V6, 6), (V7, 7)] {
        let export = read_export(text, now()).map(|r| r.export).expect("written by us");
        let again = serde_json::to_value(&export).expect("plain data");
        let before: serde_json::Value = serde_json::from_str(text).expect("JSON");
        // An older one is written as one of today's, and what it said of its kitchen stays as it was.
        assert_eq!(again["kitchen"], named(before["kitchen"].clone()), "version {version}");
        // Of those under way the answer is computed again: what was typed and what happened is as it was; a cook is a bag, and
        // by whom something was done is said by more than a name.
        if version >= 4 {
            assert_eq!(
                typed(&again["cooks"], &export),
                typed(&as_today(&before["cooks"]), &export),
                "version {version}"
            );
        }
        let mut today = again.clone();
        today["version"] = VERSION.into();
        let twice = read_export(&today.to_string(), now()).expect("written by us");
        assert_eq!((twice.left_out, &twice.export.cooks), (Vec::new(), &export.cooks), "version {version}");
    }
}

#[test]
fn a_cook_of_two_pieces_is_two_cooks_that_were_begun_together() {
    let mut file: serde_json::Value = serde_json::from_str(V5).expect("JSON");
    let id = |n: u128| uuid::Uuid::from_u128(0x7000 + n).to_string();
    let cook = &mut file["cooks"][1];
    let started = cook["events"][0].clone();
    let mut second = cook["pieces"][0].clone();
    (second["id"], second["position"], second["plans"][0]["id"]) = (id(1).into(), 1.into(), id(2).into());
    cook["pieces"].as_array_mut().expect("a list").push(second);
    let bag = serde_json::json!({ "id": id(3), "pieces": [id(1)], "bath": cook["bags"][0]["bath"] });
    cook["bags"].as_array_mut().expect("a list").push(bag);
    let event = |n: u128, kind: &str, of: Option<u128>| {
        let mut event = started.clone();
        (event["id"], event["kind"], event["subject"]) =
            (id(n).into(), kind.into(), serde_json::json!({ "bag": id(3) }));
        if let Some(of) = of {
            event["event"] = id(of).into();
        }
        event
    };
    let own = [event(4, "dropped", None), event(5, "undone", Some(4))];
    cook["events"].as_array_mut().expect("a list").extend(own);
    let read = read_export(&file.to_string(), now()).expect("one of ours");
    assert_eq!(read.left_out, []);
    let whole = read_export(V5, now()).expect("one of ours").export.cooks;
    let (first, second) = (&read.export.cooks[1], &read.export.cooks[2]);
    assert_eq!(
        (first.id, &first.events, first.state().stage()),
        (whole[1].id, &whole[1].events, Stage::InBath)
    );
    assert_eq!((second.together, first.together), (Some(first.id), Some(first.id)));
    assert_eq!([first, second].map(|c| c.bag.letter.as_str()), ["A", "B"]);
    assert_eq!((second.state().stage(), second.state().undone.len()), (Stage::Waiting, 1));
    assert!(second.events[0].event.id != first.events[0].event.id && second.bag.bath == first.bag.bath);
    // And it is written, and read again, as the two it is.
    let again = serde_json::json!({"format": FORMAT, "version": VERSION, "exported_at": now(), "kitchen": read.export.kitchen, "cooks": read.export.cooks});
    assert_eq!(read_export(&again.to_string(), now()).expect("one of ours").export.cooks, read.export.cooks);
}

/// Written by the first that plan anew, on 1 December 2026: two bags begun together, one planned anew and its piece corrected twice,
/// once undone, for a guest; another guest was removed; a refrigerator was read.
const V9: &str = include_str!("../golden/export-v9.json");

#[test]
fn version_9_is_read_with_the_plan_that_stands_who_it_was_and_guests() {
    let read = read_export(V9, now()).expect("written by us");
    assert_eq!(read.left_out, []);
    let [first, second] = read.export.cooks.as_slice() else { panic!("two bags") };
    assert_eq!(
        (first.piece.plans.len(), first.bag.letter.as_str(), second.bag.letter.as_str()),
        (4, "A", "B")
    );
    let stands = first.plan_record().expect("planned");
    assert_eq!(
        (stands.request.thickness_mm.mm(), first.first_plan().map(|p| p.request.thickness_mm.mm())),
        (30.0, Some(25.0))
    );
    assert_eq!(stands.request.served_to.as_ref().map(|s| s.number), Some(1));
    assert!(first.events.iter().all(|e| e.event.by.person.is_some() && e.event.by.screen.is_some()));
    let guests: Vec<String> = read.export.kitchen.guests.iter().map(|g| g.called()).collect();
    assert_eq!(guests, ["Mira", "guest 2"]);
    let storages: Vec<(&str, &str)> =
        read.export.kitchen.storages.iter().map(|s| (s.storage.name.as_str(), s.storage.kind.id())).collect();
    assert_eq!(storages, [("walk-in", "refrigerator")]);
}

#[test]
fn a_result_of_an_unknown_shape_is_computed_anew() {
    let mut export = read_export(V1, now()).map(|r| r.export).expect("written by us");
    let record = &mut export.cooks[0].piece.plans[0];
    let stored = record.plan().expect("stored whole");
    record.result = serde_json::json!({"written by": "an engine to come"});
    let anew = record.plan().expect("computed");
    assert_eq!(anew.times.serve, stored.times.serve);
    assert_ne!(anew.verdict.level, Level::Refused);
}

#[test]
fn what_cannot_be_is_left_out_by_cook_and_named() {
    let cook: serde_json::Value = serde_json::from_str(V1).expect("JSON");
    let first = cook["cooks"][0]["id"].clone();
    let huge = serde_json::json!(1e308);
    let of = |part: &str| format!("/cooks/0{part}");
    for (pointer, value, why) in [
        ("/cooks/1/id".to_owned(), first, "twice"),
        (of("/pieces"), serde_json::json!([]), "no piece"),
        (of("/pieces/0/plans/0/request/thickness_mm"), 1e6.into(), "cannot be"),
        (of("/pieces/0/plans/0/request/thickness_mm"), huge.clone(), "cannot be"),
        (of("/pieces/0/plans/0/request/rules/bath_error_c"), huge.clone(), "cannot be"),
        (of("/pieces/0/plans/0/request/rules/bath_error_c"), 900.into(), "outside"),
        (of("/pieces/0/plans/0/result/horizon_min"), huge, "cannot be"),
        (of("/pieces/0/plans/0/result/horizon_min"), 1e6.into(), "cannot be"),
        (of("/pieces/0/plans/0/result/bath_min"), serde_json::json!(-1), "cannot be"),
        (of("/pieces/0/plans/0/result/times/serve"), "2031-01-01T00:00:00Z".into(), "400 days"),
        (of("/pieces/0/plans/0/engine"), "x".repeat(500).into(), "characters"),
        (of("/events/0/kind"), "exploded".into(), "exploded"),
        (of("/events/1/happened_at"), "2031-01-01T00:00:00Z".into(), "still to come"),
        (of("/events/1/recorded_at"), "2031-01-01T00:00:00Z".into(), "still to come"),
        (of("/events/1/happened_at"), "2020-01-01T00:00:00Z".into(), "more than a day before"),
        (of("/events/1/by"), "".into(), "by whom"),
        (of("/readings/0/celsius"), 4000.into(), "cannot be"),
        (of("/readings/0/at"), "2031-01-01T00:00:00Z".into(), "still to come"),
        (of("/title"), "a\r\nb".into(), "title"),
        (of("/title"), "x".repeat(5000).into(), "text of 5000 bytes"),
        (of("/created_at"), "2031-01-01T00:00:00Z".into(), "still to come"),
    ] {
        let out = left_out(V1, &pointer, value);
        assert_eq!(out.len(), 1, "{pointer}: {out:?}");
        assert!(out[0].reason.contains(why), "{pointer}: {out:?}");
        assert!(out[0].what.starts_with("cook 0"), "{out:?}");
    }
}

#[test]
fn of_a_file_of_nothing_but_wrong_cooks_the_first_are_named_and_too_many_events_by_cook() {
    let mut v: serde_json::Value = serde_json::from_str(V1).expect("JSON");
    v["cooks"] = vec![serde_json::json!({}); MOST_NAMED + 7].into();
    let mut all = Collected::default();
    let read =
        read_book(&mut std::io::Cursor::new(v.to_string()), now(), &mut all).expect("it is one of ours");
    assert_eq!((read.said.left_out.len(), read.said.more, all.cooks.len()), (MOST_NAMED, 7, 0));
    let v: serde_json::Value = serde_json::from_str(V1).expect("JSON");
    let event = v["cooks"][0]["events"][0].clone();
    let out = left_out(V1, "/cooks/0/events", vec![event; 2 * MOST_EVENTS + 1].into());
    assert!(out[0].reason.contains("at most 1000"), "{out:?}");
}

#[test]
fn a_clock_set_again_and_again_fills_no_cook() {
    let mut cook = read_export(V5, now()).expect("written by us").export.cooks.remove(1);
    let last = cook.events.last().expect("some").clone();
    let set = |n: u128, by_s: f64| {
        let kind = EventKind::ClockSet { by_s };
        let event = Event { id: uuid::Uuid::from_u128(n), kind, ..last.event.clone() };
        EventRecord { event, subject: Subject::Cook }
    };
    // Back and forth by an hour, eight hundred times.
    for n in 0..800 {
        let by_s = if n % 2 == 0 { 3600.0 } else { -3600.0 };
        cook.with(&set(1000 + n, by_s).event).expect("never refused");
        cook.events.push(set(1000 + n, by_s));
    }
    let pulled = Event { id: uuid::Uuid::from_u128(9), kind: EventKind::Pulled, ..last.event.clone() };
    assert_eq!(cook.with(&pulled).expect("room is left").stage(), Stage::Pulled);
    // It stands where it stood: no minute came or went.
    let dropped = |cook: &CookRecord| cook.state().when(Milestone::Dropped);
    let plain = read_export(V5, now()).expect("written by us").export.cooks.remove(1);
    assert_eq!(dropped(&cook), dropped(&plain));
}

#[test]
fn the_table_has_one_row_an_entry() {
    let export = read_export(V1, now()).map(|r| r.export).expect("written by us");
    let mut book = CsvWriter::begin(Vec::new(), TimeZone::UTC).expect("in memory");
    export.cooks.iter().try_for_each(|c| book.cook(c)).expect("in memory");
    let text = String::from_utf8(book.end().expect("in memory")).expect("text");
    assert_eq!(text.lines().count(), 2);
    assert!(text.starts_with("planned_at,food,thickness_mm,"), "{text}");
}

#[test]
fn version_8_is_read_with_baths_beside_cooks_and_readings_by_the_hour_and_written_the_same() {
    let mut all = Collected::default();
    let read = read_book(&mut std::io::Cursor::new(V8), now(), &mut all).expect("written by us");
    assert_eq!((read.said.left_out.as_slice(), read.version), (&[][..], 8));
    assert_eq!((all.cooks.len(), all.baths.len(), all.kitchen.devices.len()), (3, 4, 1));
    assert_eq!(all.kitchen.left.len(), 1, "who left is said");
    assert_eq!(all.kitchen.history.len(), 12);
    let half_seconds = &all.baths[3].instruments[0].readings;
    assert_eq!((half_seconds.len(), half_seconds[1].at.subsec_millisecond()), (40, 500));
    // Held whole, each cook has the baths it lies in, with what was read there.
    let export = read_export(V8, now()).expect("written by us").export;
    let cooler = &export.cooks[2].baths[0];
    assert_eq!((cooler.name.as_str(), cooler.instruments[0].readings.len()), ("the harbour cooler", 2));
    // In another order of its lists it is the same.
    let (head, lists) = V8.split_once(",\n\"changes\"").expect("lists");
    let (changes, others) = lists.split_once("\n],\n").expect("more of them");
    let turned = format!(
        "{head},\n{}],\n\"changes\"{changes}\n]}}\n",
        others.trim_end().strip_suffix("]}").expect("an end")
    );
    assert_eq!(read_export(&turned, now()).expect("the same").export, export);
    let mut out = ExportWriter::begin(
        Vec::new(),
        &KitchenRecord { history: Vec::new(), ..all.kitchen.clone() },
        read.exported_at,
    )
    .expect("in memory");
    all.kitchen.history.iter().try_for_each(|c| out.change(c)).expect("in memory");
    all.baths.iter().try_for_each(|b| out.bath(b)).expect("in memory");
    all.cooks.iter().try_for_each(|c| out.cook(c)).expect("in memory");
    for i in all.baths.iter().flat_map(|b| &b.instruments) {
        HourRecord::of(i.id, &i.readings).iter().try_for_each(|h| out.hour(h)).expect("in memory");
    }
    let text = String::from_utf8(out.end().expect("in memory")).expect("text");
    // It is written as one of today's, and reads the same.
    let again = read_export(&text, now()).expect("written by us").export;
    assert_eq!((&again.cooks, &again.baths), (&export.cooks, &export.baths));
    // Whose name stood there is known, where it is one's alone.
    let person = &all.kitchen.people[0];
    let theirs = V8.replace("\"by\":\"kitchen\"", &format!("\"by\":\"{}\"", person.name));
    let read = read_export(&theirs, now()).expect("written by us").export;
    let mut by = read.cooks.iter().flat_map(|c| &c.events).map(|e| &e.event.by);
    assert!(by.all(|by| *by == By::person(person.id, &person.name)));
}

#[test]
fn a_thinned_hour_travels_with_all_that_its_minutes_said() {
    let hour = serde_json::json!({
        "instrument": "97c82232-580e-554b-994b-55debc352cdd", "hour": "2026-11-30T19:00:00Z", "quality": "reported",
        "thinned": {"readings": 118, "minutes": [[59, 56.8, 57.0, 57.3, 57.1, 59, 2.0], [119.5, 56.9, 57.01, 57.2, 57.0, 59, 1.5]]}
    });
    let with = |hour: &serde_json::Value| {
        let text = V8.replace("\"readings\":[\n{", &format!("\"readings\":[\n{hour},\n{{"));
        read_export(&text, now()).expect("one of ours")
    };
    let read = with(&hour);
    assert_eq!(read.left_out, []);
    let i = &read.export.baths[3].instruments[0];
    assert_eq!((i.readings.len(), i.thinned.map(|t| t.readings)), (42, Some(118)));
    assert_eq!(i.readings[40].celsius, Celsius::new(57.0), "its mean stands for the minute");
    let again: HourRecord = serde_json::from_value(hour.clone()).expect("its shape");
    let minutes = again.minutes();
    assert_eq!((minutes[0].least, minutes[1].gap_s, minutes[1].count), (Celsius::new(56.8), 1.5, 59));
    let written = HourRecord::of_minutes(again.instrument, &again.quality, 118, &minutes).expect("minutes");
    assert_eq!(written, again);
    // What no minute can say is left out and named.
    for (at, wrong) in [
        ("/thinned/minutes/0/5", 0.0),
        ("/thinned/minutes/0/6", 61.0),
        ("/thinned/minutes/1/0", 30.0),
        ("/thinned/minutes/0/2", 400.0),
    ] {
        let mut hour = hour.clone();
        *hour.pointer_mut(at).expect("there") = if at.ends_with("/5") { 0.into() } else { wrong.into() };
        let out = with(&hour).left_out;
        assert_eq!((out.len(), out[0].what.as_str()), (1, "readings 1"), "{at}: {out:?}");
    }
}
