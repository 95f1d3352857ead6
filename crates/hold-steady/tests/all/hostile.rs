//! Books that mean harm, made from a sound one. After any of them every page answers, none with a failure, and
//! what was here is what it was. Each was taken by an earlier version, or killed it.
//! (The project's own; how long the pages take after each stands in docs/reliability.md.)

use crate::common::{COOK, NOW, Server};
use serde_json::{Value, json};

const SOUND: &str = include_str!("../../../core/tests/golden/export-v1.json");
const PANTRY: &str = include_str!("../../../core/tests/golden/export-v2.json");
/// When the book is brought in: the golden one was written before.
const LATER: &str = "2026-12-24T12:00:00Z";

fn sound() -> Value {
    let mut book: Value = serde_json::from_str(SOUND).expect("JSON");
    let other: Value = serde_json::from_str(PANTRY).expect("JSON");
    (book["kitchen"], book["version"]) = (other["kitchen"].clone(), other["version"].clone());
    book
}

/// The sound book with one value put elsewhere.
fn with(pointer: &str, value: Value) -> Value {
    let mut book = sound();
    *book.pointer_mut(pointer).unwrap_or_else(|| panic!("{pointer}")) = value;
    book
}

/// A cook of the sound book, as another one.
fn copy_of(cook: &Value, n: usize) -> Value {
    let mut text = cook.to_string();
    let mut ids: Vec<String> = Vec::new();
    collect_ids(cook, &mut ids);
    for (i, id) in ids.iter().enumerate() {
        text = text.replace(id, &format!("019ac111-{i:04x}-7000-8000-{n:012x}"));
    }
    serde_json::from_str(&text).expect("JSON")
}

fn collect_ids(value: &Value, ids: &mut Vec<String>) {
    match value {
        Value::String(s) if s.len() == 36 && s.split('-').count() == 5 && !ids.contains(s) => {
            ids.push(s.clone())
        }
        Value::Array(items) => items.iter().for_each(|v| collect_ids(v, ids)),
        Value::Object(fields) => fields.values().for_each(|v| collect_ids(v, ids)),
        _ => {}
    }
}

/// The events of the cook under way, and then somebody set the clock.
fn clock_set(by_s: f64) -> Value {
    let mut events = sound()["cooks"][1]["events"].clone();
    let last = events[1].clone();
    let set = json!({"id": "019ac444-0000-7000-8000-000000000001", "kind": "clock-set", "by_s": by_s, "by": "clock",
                     "happened_at": last["recorded_at"], "recorded_at": last["recorded_at"]});
    events.as_array_mut().expect("a list").push(set);
    events
}

fn books() -> Vec<(&'static str, Value)> {
    let plan = "/cooks/0/pieces/0/plans/0";
    let event = sound()["cooks"][0]["events"][0].clone();
    let many_events: Vec<Value> = (0..60_000)
        .map(|i| json!({"id": format!("019ac222-0000-7000-8000-{i:012x}"), "happened_at": event["happened_at"], "recorded_at": event["recorded_at"], "by": "x", "kind": "hot-checked", "celsius": 60}))
        .collect();
    let under_way = {
        let mut cook = sound()["cooks"][0].clone();
        let keep = cook["events"].as_array().expect("a list").iter().take(2).cloned().collect::<Vec<_>>();
        cook["events"] = keep.into();
        cook
    };
    let mut crowd = sound();
    crowd["cooks"] = (0..300).map(|n| copy_of(&under_way, n)).collect();
    let mut library = sound();
    let finished = sound()["cooks"][0].clone();
    library["cooks"] = (0..800).map(|n| copy_of(&finished, n)).collect();
    vec![
        ("a ribbon without end", with(&format!("{plan}/result/horizon_min"), json!(1e308))),
        ("a ribbon of a million minutes", with(&format!("{plan}/result/horizon_min"), json!(1_000_000))),
        (
            "an instrument off by all the world",
            with(&format!("{plan}/request/rules/bath_error_c"), json!(1e308)),
        ),
        (
            "an instrument off by a little less",
            with(&format!("{plan}/request/rules/bath_error_c"), json!(9e6)),
        ),
        (
            "a serving in ten thousand years",
            with(&format!("{plan}/result/times/serve"), json!("9999-12-31T00:00:00Z")),
        ),
        ("a pull in 2031", with("/cooks/0/events/1/happened_at", json!("2031-01-01T00:00:00Z"))),
        ("written down in 2031", with("/cooks/0/events/1/recorded_at", json!("2031-01-01T00:00:00Z"))),
        ("begun in 1970", with("/cooks/0/created_at", json!("1970-01-01T00:00:00Z"))),
        ("a piece as thick as a house", with(&format!("{plan}/request/thickness_mm"), json!(8000))),
        ("sixty thousand events", with("/cooks/0/events", many_events.into())),
        ("no events", with("/cooks/0/events", json!([]))),
        ("a title of control codes", with("/cooks/0/title", json!("=cmd|' /C calc'!A0\r\nATTACH:x\u{0}"))),
        ("a title like a formula", with("/cooks/0/title", json!(" =HYPERLINK(\"http://x\")"))),
        ("a name without end", with("/kitchen/name", json!("x".repeat(100_000)))),
        ("a dialled temperature of the sun", with("/kitchen/pantry/dialled", json!({"beef-strip": 5500}))),
        ("an own food of no food", with("/kitchen/pantry/foods", json!([{"id": "own-x"}]))),
        ("a clock set a hundred days on", with("/cooks/1/events", clock_set(8.64e6))),
        ("a clock set a hundred days back", with("/cooks/1/events", clock_set(-8.64e6))),
        ("a version to come", with("/version", json!(4_000_000))),
        ("cooks that are none", with("/cooks", json!([null, 7, "x", [], {}, {"id": COOK}]))),
        ("three hundred under way", crowd),
        ("eight hundred in the book", library),
    ]
}

#[test]
fn after_any_hostile_book_every_page_answers_and_what_was_here_is_untouched() {
    let mut slowest = (std::time::Duration::ZERO, String::new());
    for (name, book) in books() {
        let data = tempfile::tempdir().expect("a folder");
        let server = Server::start_at(data.path(), LATER, &[]);
        let mine = server.start_cook(COOK);
        server.post(&format!("{mine}/event"), &[("what", "dropped"), ("when", "30 min ago")]);
        let events = |server: &Server| {
            let out: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
            let cooks = out["cooks"].as_array().expect("a list").clone();
            cooks.into_iter().find(|c| c["id"] == COOK).expect("mine")
        };
        let before = events(&server);
        let reply = server.upload("/book/import", &book.to_string());
        assert!(matches!(reply.status, 200 | 422), "{name}: {} {}", reply.status, reply.body);
        let out: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
        let mut pages: Vec<String> =
            ["/plan", "/cook", "/book", "/book?page=999", "/foods", "/kitchen", "/book/export.csv"]
                .map(str::to_owned)
                .into();
        pages.push(mine.clone());
        for cook in out["cooks"].as_array().expect("a list").iter().take(3) {
            let id = cook["id"].as_str().expect("an id");
            pages.extend(["", "/live", "/print", "/steps.ics"].map(|end| format!("/cook/{id}{end}")));
        }
        for page in pages {
            let begun = std::time::Instant::now();
            let reply = server.get(&page);
            // The table takes as long as the book is; the pages do not.
            if !page.ends_with(".csv") {
                slowest = slowest.max((begun.elapsed(), format!("{page} after {name}")));
            }
            assert!(reply.status < 500, "{name}: {page}: {} {}", reply.status, reply.body);
        }
        assert_eq!(events(&server), before, "{name}");
    }
    println!("the slowest page: {slowest:?}");
}

#[test]
fn a_book_turns_no_verdict_of_a_cook_under_way() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let form = [
        ("cook", COOK),
        ("food", "chicken-breast"),
        ("thickness", "40 mm"),
        ("bath", "61 °C"),
        ("guests", "at-risk"),
    ];
    let mine = server.post("/plan/start", &form).cook_path();
    server.post(&format!("{mine}/event"), &[("what", "dropped"), ("when", "40 min ago")]);
    server.post(&format!("{mine}/event"), &[("what", "pulled")]);
    let unsafe_now = server.get(&mine).body;
    assert!(unsafe_now.contains("Not safe to serve"), "{unsafe_now}");
    // The same cook as a file says it: dropped five hours before.
    let mut book: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
    let dropped = book["cooks"][0]["events"][1]["id"].clone();
    let corrected = json!({"id": "019ac333-0000-7000-8000-000000000001", "kind": "corrected", "event": dropped, "by": "chef",
                           "happened_at": "2026-11-25T11:00:00Z", "recorded_at": "2026-11-25T15:59:00Z"});
    book["cooks"][0]["events"].as_array_mut().expect("a list").push(corrected);
    let reply = server.upload("/book/import", &book.to_string());
    assert!(reply.body.contains("under way here"), "{}", reply.body);
    assert!(server.get(&mine).body.contains("Not safe to serve"));
    // In another kitchen it is a new record, and says where it came from on every line.
    let elsewhere = tempfile::tempdir().expect("a folder");
    let other = Server::start_at(elsewhere.path(), NOW, &[]);
    other.upload("/book/import", &book.to_string());
    let page = other.get(&mine).body;
    assert!(page.matches("not written down here: imported").count() >= 3, "{page}");
}

#[test]
fn a_record_that_cannot_be_read_is_named_and_takes_no_page_down() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    server.start_cook(COOK);
    let other = "019ac000-0000-7000-8000-000000000002";
    server.start_cook(other);
    server.kill();
    let file = rusqlite::Connection::open(data.path().join("hold-steady.db")).expect("a database");
    file.execute_batch("DROP TRIGGER plan_is_never_changed").expect("dropped");
    let id = COOK.replace('-', "");
    let pieces = format!("SELECT id FROM piece WHERE cook_id = X'{id}'");
    let spoiled = format!("UPDATE plan SET request = '{{\"food\": 7}}' WHERE piece_id IN ({pieces})");
    assert_eq!(file.execute(&spoiled, []).expect("spoiled"), 1);
    drop(file);
    let server = Server::start(data.path());
    for page in ["/plan", "/cook", "/book", "/foods", &format!("/cook/{other}")] {
        assert_eq!(server.get(page).status, 200, "{page}");
    }
    let list = server.get("/cook").body;
    assert!(list.contains(&format!("The cook {COOK} cannot be shown")) && list.contains(other), "{list}");
}
