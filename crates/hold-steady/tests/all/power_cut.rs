//! Evenings in trouble against the running server: every place that speaks of a cook says what its verdict says now.

use crate::common::Server;
use serde_json::{Value, json};

const BOX: &str = "019ac000-0000-7000-8000-0000000000e1";
const BATH: &str = "019ac000-0000-7000-8000-0000000000e2";
const DEVICE: &str = "019ac000-0000-7000-8000-0000000000e3";
const STEAK: &str = "019ac000-0000-7000-8000-0000000000e4";
const CHICKEN: &str = "019ac000-0000-7000-8000-0000000000e5";

fn minute(min: u32) -> String {
    format!("2026-11-25T{:02}:{:02}:00Z", 16 + min / 60, min % 60)
}

/// A box at 57 °C with a device in it, and a cook of each kind of guest dropped at 16:00; its power goes at 16:40, and the
/// water falls a tenth of a kelvin a minute. Seen at `until` minutes, by a server started then.
fn power_cut(data: &std::path::Path, until: u32) -> Server {
    let token = {
        let mut server = Server::start(data);
        assert_eq!(server.post("/bath/vessels", &crate::common::a_box(BOX, "the box")).status, 303);
        let filled = [("bath", BATH), ("vessel", BOX), ("litres", "12"), ("target", "57")];
        assert_eq!(server.post("/bath/fill", &filled).status, 303);
        let made = server.post("/devices", &[("id", DEVICE), ("name", "circulator")]);
        let token = crate::common::token_in(&made.body);
        assert_eq!(server.post(&format!("/devices/{DEVICE}/place"), &[("bath", BATH)]).status, 303);
        for (id, food, guests) in [(STEAK, "beef-strip", "well"), (CHICKEN, "chicken-breast", "at-risk")] {
            let form = [
                ("cook", id),
                ("food", food),
                ("thickness", "30 mm"),
                ("bath", "57 °C"),
                ("intact", "whole"),
                ("guests", guests),
                ("vessel", BOX),
            ];
            let path = server.post("/plan/start", &form).cook_path();
            assert_eq!(server.post(&format!("{path}/event"), &[("what", "dropped")]).status, 303);
        }
        server.stop();
        token
    };
    let server = Server::start_at(data, &minute(until), &[]);
    report(
        &server,
        &token,
        (0..=until).map(|m| (m, if m < 40 { 57.0 } else { 57.0 - f64::from(m - 40) * 0.1 })),
    );
    server
}

fn report(server: &Server, token: &str, readings: impl Iterator<Item = (u32, f64)>) {
    let readings: Vec<Value> =
        readings.map(|(m, c)| json!({"at": minute(m), "celsius": (c * 10.0).round() / 10.0})).collect();
    let body = json!({"readings": readings, "set_celsius": 57}).to_string();
    let reply = server.report(token, "application/json", &body);
    assert_eq!(reply.status, 200, "{}", reply.body);
}

/// What a tag with a class holds, its own tags left out.
fn inside(page: &str, class: &str) -> String {
    let from = page.find(&format!("class=\"{class}")).unwrap_or_else(|| panic!("no {class} in {page}"));
    let text = &page[from..];
    let text = &text[text.find('>').expect("a tag") + 1..];
    let end = text.find("</p>").or(text.find("</a>")).unwrap_or(text.len());
    let (mut out, mut tag) = (String::new(), false);
    for c in text[..end].chars() {
        match c {
            '<' => tag = true,
            '>' => tag = false,
            _ if !tag => out.push(c),
            _ => {}
        }
    }
    out.trim().to_owned()
}

#[test]
fn a_power_cut_is_named_in_every_place_and_no_place_says_pull_while_it_is_refused() {
    let data = tempfile::tempdir().expect("a folder");
    let server = power_cut(data.path(), 75);
    let chicken = server.get(&format!("/cook/{CHICKEN}")).body;
    assert!(
        inside(&chicken, "live-fault").starts_with("No heat since 17:4"),
        "{}",
        inside(&chicken, "live-fault")
    );
    let told = inside(&chicken, "live-what");
    assert!(told.starts_with("Bring the heat back"), "{told}");
    assert!(chicken.contains("Heat back on now") && chicken.contains("Cook it through in a pan or oven"));
    // The strip on any page, the board, the wall.
    for path in ["/plan", "/board", "/board/kiosk"] {
        let page = server.get(path);
        if page.status == 200 {
            assert!(page.body.contains("No heat since 17:4"), "{path}");
        }
    }
    let board = server.get("/board").body;
    assert!(board.contains("no heat since") && board.contains("Bring the heat back"));
    // On paper and in the calendar the same, and no plate that never comes.
    let print = server.get(&format!("/cook/{CHICKEN}/print")).body;
    assert!(print.contains("No heat since 17:4") && print.contains("Bring the heat back"), "{print}");
    assert!(!print.contains("Pasteurised, for every guest.</strong>"), "the print promises what is not so");
    let calendar = server.get(&format!("/cook/{CHICKEN}/steps.ics")).body;
    assert!(calendar.contains("Bring the heat back"), "{calendar}");
    // In °F the piece is called so too, not only its steps.
    let calendar = server.get_with(&format!("/cook/{CHICKEN}/steps.ics"), &[("Cookie", "units=f-in")]).body;
    assert!(calendar.contains("1 3/16 in") && !calendar.contains("30 mm"), "{calendar}");
    // The steak may be pulled as it is: until when stands beside it.
    let steak = server.get(&format!("/cook/{STEAK}")).body;
    assert!(inside(&steak, "live-fault").starts_with("No heat since 17:4"));
}

/// Chicken for a guest at risk goes in now. Gives the cook's address.
fn drop_chicken(server: &Server) -> String {
    let form = [
        ("cook", CHICKEN),
        ("food", "chicken-breast"),
        ("thickness", "30 mm"),
        ("bath", "60 °C"),
        ("guests", "at-risk"),
    ];
    let path = server.post("/plan/start", &form).cook_path();
    assert_eq!(server.post(&format!("{path}/event"), &[("what", "dropped")]).status, 303);
    path
}

/// The same, and the program is stopped.
fn chicken_dropped(mut server: Server) -> String {
    let path = drop_chicken(&server);
    server.stop();
    path
}

#[test]
fn the_print_says_what_is_so_and_what_was_planned_apart() {
    let data = tempfile::tempdir().expect("a folder");
    let path = chicken_dropped(Server::start(data.path()));
    let server = Server::start_at(data.path(), &minute(31), &[]);
    assert_eq!(server.post(&format!("{path}/event"), &[("what", "pulled")]).status, 303);
    let print = server.get(&format!("{path}/print")).body;
    assert!(print.contains("<strong>Not safe to serve.</strong>"), "{print}");
    assert!(print.contains("As it stands") && print.contains("Planned: drop"), "{print}");
    // No step of a finish is offered first of what is not to be served.
    let page = server.get(&path).body;
    assert!(page.contains("Do not serve it as it is"), "{page}");
    let taps = &page[page.find("name=\"what\" value=\"dried\"").expect("may be tapped still") - 200..];
    assert!(!taps.contains("btn-primary btn-lg step") && taps.contains("value=\"discarded\""), "{taps}");
    // Nothing that comes after is told any more.
    let steps = &print[print.find("sheet-steps").expect("steps")..];
    assert!(steps.contains("Do not serve it as it is") && !steps.contains("Slice and plate"), "{steps}");
}

#[test]
fn five_past_six_typed_in_the_evening_is_asked_about_and_the_worse_counts() {
    let data = tempfile::tempdir().expect("a folder");
    // 18:06 in Vienna.
    let server = Server::start_at(data.path(), "2026-11-25T17:06:00Z", &[]);
    let form = [
        ("cook", CHICKEN),
        ("food", "chicken-breast"),
        ("thickness", "30 mm"),
        ("bath", "62 °C"),
        ("guests", "at-risk"),
    ];
    let path = server.post("/plan/start", &form).cook_path();
    let dropped = server.post(&format!("{path}/event"), &[("what", "dropped"), ("when", "6:05")]);
    assert_eq!(dropped.status, 303, "what cannot wait is written down: {}", dropped.body);
    let page = server.get(&path).body;
    assert!(page.contains("That time can be meant in two ways"), "{page}");
    assert!(page.contains("06:05 (CET)") && page.contains("18:05 (CET)"), "{page}");
    assert!(!page.contains("verdict-pasteurized"), "raw chicken was put in a minute ago, perhaps");
    let at = page.find("name=\"answer\" value=\"corrected ").expect("an answer");
    let answers: Vec<&str> =
        page[at..].split("name=\"answer\" value=\"").skip(1).filter_map(|a| a.split('"').next()).collect();
    let event =
        &page[page.find("name=\"event\" value=\"").expect("which") + "name=\"event\" value=\"".len()..][..36];
    let said = server.post(&format!("{path}/event"), &[("answer", answers[1]), ("event", event)]);
    assert_eq!(said.status, 303, "{}", said.body);
    let page = server.get(&path).body;
    assert!(!page.contains("can be meant in two ways") && page.contains("corrected from 06:05"), "{page}");
}

#[test]
fn a_time_that_was_shown_twice_is_asked_about_and_answered_by_a_tap() {
    let data = tempfile::tempdir().expect("a folder");
    // In Vienna the clocks go back at 3:00 on 25 October 2026: 2:30 comes at 0:30 and at 1:30 UTC.
    let path = chicken_dropped(Server::start_at(data.path(), "2026-10-24T22:40:00Z", &[]));
    let server = Server::start_at(data.path(), "2026-10-25T01:40:00Z", &[]);
    let pulled = server.post(&format!("{path}/event"), &[("what", "pulled"), ("when", "02:30")]);
    assert_eq!(pulled.status, 303, "{}", pulled.body);
    let page = server.get(&path).body;
    assert!(
        page.contains("That time can be meant in two ways")
            && page.contains("(CEST)")
            && page.contains("(CET)"),
        "{page}"
    );
    assert!(page.contains("Not safe to serve"), "the worse of the two counts");
    let at = page.find("name=\"answer\" value=\"corrected ").expect("an answer");
    let answer = &page[at + "name=\"answer\" value=\"".len()..];
    let answer = &answer[..answer.find('"').expect("its end")];
    let event =
        &page[page.find("name=\"event\" value=\"").expect("which") + "name=\"event\" value=\"".len()..][..36];
    let said = server.post(&format!("{path}/event"), &[("answer", answer), ("event", event)]);
    assert_eq!(said.status, 303, "{}", said.body);
    assert!(!server.get(&path).body.contains("That time can be meant in two ways"));
}

#[test]
fn a_file_is_not_believed_where_it_can_be_computed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    drop_chicken(&server);
    let mut book: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("an export");
    let plan = &mut book["cooks"][0]["piece"]["plans"][0];
    plan["result"]["bath_min"] = json!(10.0);
    plan["result"]["must_pasteurise"] = json!(false);
    let there = tempfile::tempdir().expect("a folder");
    let other = Server::start(there.path());
    let said = other.upload("/book/import", &book.to_string()).body;
    assert!(said.contains("computed again") && said.contains("minutes in the bath"), "{said}");
    let cook = other.get(&format!("/cook/{CHICKEN}")).body;
    assert!(cook.contains("It is pasteurised then, and not before."), "{cook}");
    // An answer nobody could have been asked is refused by name.
    let plan = &mut book["cooks"][0]["piece"]["plans"][0];
    plan["request"]["prepared"] = json!(true);
    book["cooks"][0]["id"] = json!(STEAK);
    let third = tempfile::tempdir().expect("a folder");
    let third = Server::start(third.path());
    let said = third.upload("/book/import", &book.to_string()).body;
    assert!(said.contains("prepared: ") && said.contains("is asked no such question"), "{said}");
}

/// A steak in the box, dropped at 16:00 by its own setting; then the machine itself is gone from 16:30 to 18:00.
fn away(data: &std::path::Path) -> (Server, String) {
    let first = Server::start(data);
    assert_eq!(first.post("/bath/vessels", &crate::common::a_box(BOX, "the box")).status, 303);
    let filled = [("bath", BATH), ("vessel", BOX), ("litres", "12"), ("target", "57")];
    assert_eq!(first.post("/bath/fill", &filled).status, 303);
    let path = first.cook_in(STEAK, BOX, ("beef-strip", "30 mm", "57 °C"));
    assert_eq!(first.post(&format!("{path}/event"), &[("what", "dropped")]).status, 303);
    first.kill();
    let back = Server::start_at(data, &minute(120), &["--clock-away"]);
    (back, path)
}

#[test]
fn a_machine_that_was_away_asks_what_the_water_did_and_counts_the_worse_till_it_is_said() {
    let data = tempfile::tempdir().expect("a folder");
    let (server, path) = away(data.path());
    let asked = "This machine was away from 17:00 to 19:00: was the bath on?";
    let page = server.get(&path).body;
    assert!(page.contains(asked), "{page}");
    assert!(server.get(&format!("/bath/runs/{BATH}")).body.contains(asked));
    assert!(server.get("/board").body.contains("was the bath on?"));
    // Every page asks for its alarms.
    assert!(server.get("/alarms").body.contains("was the bath on?"));
    // Two hours on at 57 °C heat it through; unseen they do not, and nothing is thrown away for it.
    assert!(page.contains("Read the water now") && page.contains("not safe to serve"), "{page}");
    let event =
        page.split("name=\"event\" value=\"").nth(1).and_then(|s| s.split('"').next()).expect("named");
    let on = [("what", "undone"), ("event", event), ("cook", STEAK)];
    let said = server.post(&format!("/bath/runs/{BATH}/water"), &on);
    assert_eq!((said.status, said.location.as_str()), (303, path.as_str()));
    let page = server.get(&path).body;
    assert!(!page.contains(asked));
    assert!(!page.contains("Read the water now") && !page.contains("not safe to serve"), "{page}");
    // What is to be heard is drawn anew within seconds.
    let end = std::time::Instant::now() + std::time::Duration::from_secs(20);
    while server.get("/alarms").body.contains("was the bath on?") {
        assert!(std::time::Instant::now() < end, "it rings on");
    }
}

#[test]
fn a_good_reading_after_the_machine_was_back_makes_nothing_good_that_nobody_saw() {
    let data = tempfile::tempdir().expect("a folder");
    let (server, path) = away(data.path());
    let probe = "019ac000-0000-7000-8000-0000000000e6";
    assert_eq!(server.post("/bath/thermometers", &[("id", probe), ("name", "pen")]).status, 303);
    // The power may have been back for an hour: warm water now says nothing of two hours.
    let read = [("thermometer", probe), ("degrees", "57.5")];
    assert_eq!(server.post(&format!("/bath/runs/{BATH}/read"), &read).status, 303);
    let page = server.get(&path).body;
    assert!(page.contains("was the bath on?") && page.contains("not safe to serve"), "{page}");
    assert!(!page.contains("Read the water now"));
}

#[test]
fn that_it_was_off_answers_what_the_water_did_while_the_machine_was_away() {
    let data = tempfile::tempdir().expect("a folder");
    let (server, path) = away(data.path());
    let off = [("what", "bath-off"), ("degrees", "49")];
    let told = server.post(&format!("{path}/event"), &off);
    assert_eq!(told.status, 303, "{}", told.body);
    let page = server.get(&path).body;
    assert!(!page.contains("was the bath on?"));
    assert!(page.contains("once it reads 57 °C again, write that down"), "{page}");
}
