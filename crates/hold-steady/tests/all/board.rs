//! The board against the running server: devices and their tokens, readings over HTTP, what is told to open pages, alarms.

use std::io::{BufRead, BufReader, Write};
use std::time::{Duration, Instant};

use crate::common::{COOK, Reply, Server};
use serde_json::{Value, json};

const BOX: &str = "019ac000-0000-7000-8000-0000000000d1";
const BATH: &str = "019ac000-0000-7000-8000-0000000000d2";
const DEVICE: &str = "019ac000-0000-7000-8000-0000000000d3";

fn vessel(server: &Server, id: &str, name: &str) {
    let kept = server.post("/bath/vessels", &crate::common::a_box(id, name));
    assert_eq!(kept.status, 303, "{}", kept.body);
}

fn fill(server: &Server, vessel: &str, bath: &str, target: &str) {
    let form = [("bath", bath), ("vessel", vessel), ("litres", "13"), ("target", target)];
    assert_eq!(server.post("/bath/fill", &form).status, 303);
}

/// A device that lies in the box's bath: its token.
fn device(server: &Server, id: &str, name: &str, bath: &str) -> String {
    let made = server.post("/devices", &[("id", id), ("name", name)]);
    assert_eq!(made.status, 200, "{}", made.body);
    let token = crate::common::token_in(&made.body);
    if !bath.is_empty() {
        assert_eq!(server.post(&format!("/devices/{id}/place"), &[("bath", bath)]).status, 303);
    }
    token
}

fn told(reply: &Reply) -> Value {
    assert_eq!(reply.status, 200, "{}", reply.body);
    serde_json::from_str(&reply.body).expect("JSON")
}

const JSON: &str = "application/json";

#[test]
fn a_token_is_shown_once_and_kept_hashed_and_counts_until_it_is_revoked() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    vessel(&server, BOX, "the box");
    fill(&server, BOX, BATH, "56");
    let token = device(&server, DEVICE, "circulator", BATH);
    assert!(token.starts_with("hs-") && token.len() == 67, "{token}");
    assert!(!server.get("/devices").body.contains(&token));
    assert_eq!(
        server.post("/devices", &[("id", DEVICE), ("name", "circulator")]).status,
        422,
        "known already"
    );
    assert_eq!(server.post("/devices", &[("id", COOK), ("name", " ")]).status, 422);
    let one = r#"{"readings": [{"at": "2026-11-25T16:00:00Z", "celsius": 55.9}], "set_celsius": 56}"#;
    assert_eq!(told(&server.report(&token, JSON, one))["taken"], 1);
    for wrong in ["", "hs-1", &token[..66], &format!("{token}0")] {
        assert_eq!(server.report(wrong, JSON, one).status, 401, "{wrong}");
    }
    assert_eq!(server.send("/api/v1/readings", JSON, one.as_bytes()).status, 401, "no token at all");
    let bytes = std::fs::read(data.path().join("hold-steady.db")).expect("the database");
    let wal = std::fs::read(data.path().join("hold-steady.db-wal")).unwrap_or_default();
    let there = |all: &[u8]| all.windows(token.len()).any(|w| w == token.as_bytes());
    assert!(!there(&bytes) && !there(&wal), "only its hash is kept");
    assert_eq!(server.post(&format!("/devices/{DEVICE}/revoke"), &[]).status, 303);
    assert_eq!(server.report(&token, JSON, one).status, 401);
    assert!(server.get(&format!("/bath/runs/{BATH}")).body.contains("55.9"), "what it read stays");
}

#[test]
fn readings_are_taken_once_and_what_is_not_taken_is_said_by_its_place() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    vessel(&server, BOX, "the box");
    fill(&server, BOX, BATH, "56");
    let token = device(&server, DEVICE, "circulator", "");
    let some = json!({ "readings": [
        { "at": "2026-11-25T16:00:01Z", "celsius": 55.9 },
        { "at": "2026-11-25T16:00:02Z", "celsius": 56.0 },
        { "at": "2026-11-25T18:00:02Z", "celsius": 56.0 },
        { "celsius": 900 },
    ] })
    .to_string();
    // Nowhere yet.
    let nowhere = told(&server.report(&token, JSON, &some));
    assert_eq!((&nowhere["taken"], nowhere["not_taken"].as_array().map(Vec::len)), (&json!(0), Some(4)));
    assert!(nowhere["not_taken"][0]["why"].as_str().is_some_and(|w| w.contains("in no bath")), "{nowhere}");
    server.post(&format!("/devices/{DEVICE}/place"), &[("bath", BATH)]);
    let first = told(&server.report(&token, JSON, &some));
    let again = told(&server.report(&token, JSON, &some));
    assert_eq!((&first["taken"], &first["known"]), (&json!(2), &json!(0)), "{first}");
    assert_eq!((&again["taken"], &again["known"]), (&json!(0), &json!(2)), "{again}");
    let lines: Vec<_> =
        first["not_taken"].as_array().expect("a list").iter().map(|n| n["line"].clone()).collect();
    assert_eq!(lines, [json!(3), json!(4)]);
    let csv = "time,celsius\n2026-11-25T16:00:03Z,55.8\n2026-11-25T16:00:03Z,55.8\nnever,55\n";
    let by_csv = told(&server.report(&token, "text/csv", csv));
    assert_eq!((&by_csv["taken"], by_csv["not_taken"].as_array().map(Vec::len)), (&json!(1), Some(2)));
    assert_eq!(server.report(&token, "text/plain", csv).status, 415);
    assert_eq!(server.report(&token, JSON, "55.8").status, 422);
    assert_eq!(server.report(&token, JSON, "{\"readings\": 1}").status, 422);
    // Of another kitchen's or no bath it is not laid into.
    assert_eq!(server.post(&format!("/devices/{DEVICE}/place"), &[("bath", COOK)]).status, 404);
    assert_eq!(server.post(&format!("/devices/{DEVICE}/place"), &[("bath", "x")]).status, 400);
    server.until("the last reading is shown", |s| {
        let board = s.get("/board").body;
        (board.contains("55.8 °C") && board.contains("the box")).then_some(())
    });
}

#[test]
fn open_pages_are_told_at_once_of_what_is_written_down() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    vessel(&server, BOX, "the box");
    fill(&server, BOX, BATH, "56");
    let mut line = server.socket();
    let host = server.address.trim_start_matches("http://").to_owned();
    write!(line, "GET /events HTTP/1.1\r\nHost: {host}\r\n\r\n").expect("asked");
    line.set_read_timeout(Some(Duration::from_secs(20))).expect("bounded");
    let mut lines = BufReader::new(line).lines();
    let mut next = |what: &str| {
        let end = Instant::now() + Duration::from_secs(20);
        loop {
            let line = lines.next().expect("open").expect("told");
            if line == format!("event: {what}") {
                return;
            }
            assert!(Instant::now() < end, "never told: {what}");
        }
    };
    next("hello");
    assert_eq!(server.post(&format!("/bath/runs/{BATH}/set"), &[("degrees", "58")]).status, 303);
    next("changed");
    // What is refused changes nothing; a reading does.
    assert_eq!(server.post(&format!("/bath/runs/{BATH}/set"), &[("degrees", "warm")]).status, 422);
    let token = device(&server, DEVICE, "circulator", BATH);
    next("changed");
    told(&server.report(&token, JSON, r#"{"readings": [{"celsius": 57.9}]}"#));
    next("changed");
    next("tick");
}

#[test]
fn two_bags_that_want_different_temperatures_are_named_with_what_one_bath_would_do() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    vessel(&server, BOX, "the box");
    fill(&server, BOX, BATH, "56");
    server.cook_in(COOK, BOX, ("beef-strip", "30 mm", "56 °C"));
    assert!(!server.get("/board").body.contains("want different temperatures"));
    server.cook_in("019ac000-0000-7000-8000-0000000000d9", BOX, ("chicken-breast", "30 mm", "62 °C"));
    let board = server.get("/board").body;
    assert!(board.contains("want different temperatures"), "{board}");
    let offers = server.get(&format!("/board/clash/{BATH}"));
    assert_eq!(offers.status, 200, "{}", offers.body);
    for text in ["All at 56 °C", "All at 62 °C", "serves most", "in the bath"] {
        assert!(offers.body.contains(text), "{text}: {}", offers.body);
    }
    assert_eq!(server.get(&format!("/board/clash/{COOK}")).status, 404);
    assert_eq!(server.get("/board/clash/1").status, 404);
    // Four for which nobody named a vessel.
    assert!(!board.contains("Without a vessel"));
    for (n, (food, bath)) in [("chicken-breast", "60 °C"), ("beef-cheek", "68 °C"), ("beef-strip", "57 °C")]
        .into_iter()
        .enumerate()
    {
        let id = format!("019ac000-0000-7000-8000-0000000000a{n}");
        let form = [("cook", id.as_str()), ("food", food), ("bath", bath), ("intact", "whole")];
        server.post("/plan/start", &form).cook_path();
    }
    let board = server.get("/board").body;
    assert!(board.contains("each for another bath: 57 °C, 60 °C, 68 °C"), "{board}");
    assert_eq!(server.get("/board/clash/any").body.matches("All at ").count(), 3);
}

#[test]
fn a_bag_is_moved_and_what_is_heard_on_one_screen_rings_on_others() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let (other, second) = ("019ac000-0000-7000-8000-0000000000e1", "019ac000-0000-7000-8000-0000000000e2");
    vessel(&server, BOX, "the box");
    vessel(&server, other, "the other");
    fill(&server, BOX, BATH, "56");
    fill(&server, other, second, "56");
    let cook = server.cook_in(COOK, BOX, ("beef-strip", "30 mm", "56 °C"));
    let moved = [("cook", COOK), ("bath", second)];
    assert_eq!(server.post("/board/move", &moved).status, 400, "it is not in yet");
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "dropped")]).status, 303);
    assert_eq!(server.post("/board/move", &[("cook", COOK), ("bath", COOK)]).status, 404);
    assert_eq!(server.post("/board/move", &moved).status, 303);
    assert!(server.get(&cook).body.contains("moved to another bath"));
    let lane = |name: &str| {
        let board = server.get("/board").body;
        board.split("<section class=\"lane\"").find(|l| l.contains(name)).map(str::to_owned).expect("a lane")
    };
    assert!(lane("the other").contains(COOK) && lane("the box").contains("Nothing lies in it"));
    // A device that fell silent long ago.
    let token = device(&server, DEVICE, "circulator", second);
    let old = json!({ "readings": [{ "at": "2026-11-25T15:50:00Z", "celsius": 56.0 }] }).to_string();
    told(&server.report(&token, JSON, &old));
    let board = server.get("/board").body;
    assert!(!board.contains("no readings since"), "it lay in no bath then: nothing was taken");
    // It was planned for now, and is late: every screen is told, until that one hears it.
    let late = "019ac000-0000-7000-8000-0000000000c9";
    server.cook_in(late, BOX, ("beef-strip", "30 mm", "56 °C"));
    let mut server = server;
    server.stop();
    let server = Server::start_at(data.path(), "2026-11-25T16:30:00Z", &[]);
    let screen = |n: u8| format!("screen=019ac000-0000-7000-8000-00000000000{n}");
    let rings = |n: u8| server.get_with("/alarms", &[("cookie", &screen(n))]).body;
    let told = rings(1);
    let alarm =
        told.split("data-alarm=\"").nth(1).and_then(|a| a.split('"').next()).expect("late").to_owned();
    assert!(alarm.contains(late) && told.contains("Drop it in"), "{told}");
    for _ in 0..2 {
        assert_eq!(server.post_as("/board/heard", &[("alarm", &alarm)], &screen(1)).status, 303);
    }
    assert!(!rings(1).contains(&alarm) && rings(2).contains(&alarm));
    assert_eq!(server.get("/board/kiosk").status, 200);
    assert_eq!(server.get("/board/live").status, 200);
}

#[test]
fn a_probe_in_the_piece_is_shown_beside_the_estimate_and_may_only_delay_until_it_is_confirmed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    vessel(&server, BOX, "the box");
    fill(&server, BOX, BATH, "56");
    let form = [
        ("cook", COOK),
        ("food", "beef-strip"),
        ("thickness", "30 mm"),
        ("bath", "56 °C"),
        ("intact", "whole"),
        ("guests", "at-risk"),
        ("vessel", BOX),
    ];
    let cook = server.post("/plan/start", &form).cook_path();
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "dropped")]).status, 303);
    let token = device(&server, DEVICE, "thin probe", BATH);
    let board = server.get("/board").body;
    let piece =
        board.split("name=\"piece\" value=\"").nth(1).and_then(|t| t.split('"').next()).expect("a piece");
    let place = format!("/devices/{DEVICE}/place");
    let stuck = [("bath", BATH), ("piece", piece)];
    assert_eq!(
        server.post(&place, &[("bath", BATH), ("piece", COOK)]).status,
        404,
        "no piece of this kitchen"
    );
    assert_eq!(server.post(&place, &stuck).status, 303);
    drop(server);
    let server = Server::start_at(data.path(), "2026-11-25T16:40:00Z", &[]);
    let before = server.get(&cook).body;
    // Colder than a piece of 30 mm is: a slab of some 45 mm, by the first term of its series.
    let readings: Vec<_> = (1..=38)
        .map(|min| json!({ "at": format!("2026-11-25T16:{min:02}:30Z"), "celsius": 56.0 - 51.0 * (1.25 * (-f64::from(min) / 32.0).exp()).min(1.0) }))
        .collect();
    let sent =
        told(&server.report(&token, JSON, &json!({ "readings": readings, "set_celsius": 70 }).to_string()));
    assert_eq!(sent["taken"], 38, "{sent}");
    let after = server.until("it is shown", |s| {
        let page = s.get(&cook).body;
        page.contains("thin probe read").then_some(page)
    });
    assert!(after.contains("It may delay the times") && after.contains(" was estimated."));
    let pull = |page: &str| {
        page.split("data-until=\"").nth(2).and_then(|t| t.split('"').next()?.parse::<i64>().ok())
    };
    assert!(pull(&after) > pull(&before), "{:?} {:?}", pull(&after), pull(&before));
    // What a probe in a piece says of a heater is nothing: it lies in no water.
    assert!(!server.get(&format!("/bath/runs/{BATH}")).body.contains("set to 70"));
}

#[test]
fn a_clock_that_is_fast_is_said_with_by_how_much_and_can_be_told() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    assert_eq!(server.post("/bath/vessels", &crate::common::a_box(BOX, "the box")).status, 303);
    fill(&server, BOX, BATH, "57");
    let token = device(&server, DEVICE, "circulator", BATH);
    // The server's clock shows 16:00; the device's is five minutes fast.
    let fast = r#"{"readings": [{"at": "2026-11-25T16:05:00Z", "celsius": 57}]}"#;
    let refused = told(&server.report(&token, JSON, fast));
    assert!(
        refused["taken"] == 0 && refused["not_taken"][0]["why"].to_string().contains("ahead"),
        "{refused}"
    );
    for page in ["/devices", "/board"] {
        let body = server.get(page).body;
        assert!(body.contains("Its clock is 5 min fast: its readings are refused"), "{page}: {body}");
    }
    let page = server.get("/devices").body;
    let ahead =
        page.split("name=\"ahead_s\" value=\"").nth(1).and_then(|t| t.split('"').next()).expect("offered");
    assert_eq!(server.post(&format!("/devices/{DEVICE}/clock"), &[("ahead_s", ahead)]).status, 303);
    let taken = told(&server.report(&token, JSON, fast));
    assert_eq!(taken["taken"], 1, "{taken}");
    let page = server.get("/devices").body;
    assert!(page.contains("taken to be 5 min fast") && !page.contains("its readings are refused"), "{page}");
    assert!(!server.get("/board").body.contains("Its clock is"));
    // What cannot be a number of seconds is refused by the form's own reading.
    assert_eq!(server.post(&format!("/devices/{DEVICE}/clock"), &[("ahead_s", "x")]).status, 400);
}
