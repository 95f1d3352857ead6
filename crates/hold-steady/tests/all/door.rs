//! People at the door: who comes in, who may what, and what stays out of everybody's sight.

use std::io::{BufRead, BufReader, Write};

use assert_cmd::Command;
use hold_steady_core::who::{Right, Role};
use hold_steady_web::ROUTES;

use crate::common::{NOW, Server, token_in};

const PASSWORD: &str = "three blue kettles";
/// A name to be known by: whoever has one is asked who they are.
const NAMED: [&str; 2] = ["--host", "galley.lan"];

fn open(data: &std::path::Path) -> Server {
    Server::start_at(data, NOW, &NAMED)
}

fn get(server: &Server, path: &str, cookie: &str) -> String {
    server.get_with(path, &[("Cookie", cookie)]).body
}

/// The code that stands on the page that made it.
fn code_in(page: &str) -> String {
    let at = page.find("id=\"code\">").expect("a code") + "id=\"code\">".len();
    page[at..at + 14].to_owned()
}

/// Somebody is written down, and given a part and a code by the owner: their identifier and session.
fn another(server: &Server, owner: &str, (n, name, role): (u8, &str, &str)) -> (String, String) {
    let id = format!("019ac900-0000-7000-8000-0000000000{n:02}");
    let kept = server.post_as("/kitchen/people", &[("id", &id), ("name", name)], owner);
    assert_eq!(kept.status, 303, "{}", kept.body);
    let given = server.post_as(&format!("/people/{id}/role"), &[("role", role)], owner);
    assert_eq!(given.status, 303, "{}", given.body);
    let made = server.post_as(&format!("/people/{id}/code"), &[], owner);
    let session = server.come_in(&code_in(&made.body), "", PASSWORD);
    (id, session)
}

#[test]
fn every_route_is_open_to_whom_the_table_says_and_to_nobody_else() {
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let owner = server.come_in(&server.first_code(), "Marta", PASSWORD);
    let mut all = vec![(Role::Nobody, String::new())];
    for (n, role) in [(1, Role::Cook), (2, Role::Chef), (3, Role::Inspector)] {
        all.push((role, another(&server, &owner, (n, role.id(), role.id())).1));
    }
    all.push((Role::Owner, owner.clone()));
    // What counts for nobody: one that was ended, one of another kitchen, one that was made up.
    let (id, ended) = another(&server, &owner, (4, "Jon", "owner"));
    server.post_as(&format!("/people/{id}/sessions/end"), &[], &owner);
    let elsewhere = tempfile::tempdir().expect("a folder");
    let other = open(elsewhere.path());
    let foreign = other.come_in(&other.first_code(), "Marta", PASSWORD);
    let nobody = [ended, foreign, format!("hs-session={}", "0".repeat(64))];
    all.extend(nobody.map(|cookie| (Role::Nobody, cookie)));
    let mut asked = 0;
    for route in ROUTES {
        let path = route.path.replace("{id}", "019ac900-0000-7000-8000-00000000ffff");
        let path = path.replace("{bath}", "019ac900-0000-7000-8000-00000000ffff").replace("{kind}", "heat");
        let path = path.replace("{file:.*}", "none.css");
        for (method, needs) in [("GET", route.reads), ("POST", route.writes)] {
            let Some(needs) = needs else { continue };
            // It would end the session that asks; a device has tokens of its own, which other tests try.
            if ["/sign-out", "/you/sessions/end"].contains(&path.as_str()) || needs == Right::Report {
                continue;
            }
            for (role, cookie) in &all {
                let status = server.status(method, &path, cookie);
                let kept_out = match role {
                    Role::Nobody if method == "GET" => status == 303 || status == 401,
                    Role::Nobody => status == 401,
                    _ => status == 403,
                };
                let may = role.may(needs);
                // Some lead elsewhere by themselves: they are open.
                let leads = needs == Right::Anyone && status == 303;
                assert!(leads || kept_out != may, "{method} {path} as {}: {status}, {needs:?}", role.id());
                asked += 1;
            }
        }
    }
    assert!(asked > 700, "{asked}");
    // However an address is written, it is the same one.
    let cook = &all[1].1;
    for (path, status) in [
        ("/%70eople", 403),
        ("/people/", 403),
        ("//people", 403),
        ("/bath/vessels/%6Eew", 403),
        ("/%74rail.csv", 403),
        ("/nowhere", 404),
    ] {
        assert_eq!(server.status("GET", path, cook), status, "{path}");
        let unknown = server.status("GET", path, "");
        assert!(unknown == 303 || unknown == 401, "{path}: {unknown}");
    }
    // All of them are still who they were.
    assert_eq!(server.status("GET", "/people", &owner), 200);
}

#[test]
fn a_session_ends_by_itself_when_its_owner_leaves_or_for_good() {
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let owner = server.come_in(&server.first_code(), "Marta", PASSWORD);
    let (id, ida) = another(&server, &owner, (1, "Ida", "cook"));
    assert_eq!(server.status("GET", "/plan", &ida), 200);
    server.post_as(&format!("/kitchen/people/{id}/left"), &[], &owner);
    assert_eq!(server.status("GET", "/plan", &ida), 303, "she left");
    server.kill();
    // Over a restart it counts; unused for more than a day it does not, nor after a month of use.
    let server = Server::start_at(data.path(), "2026-11-26T15:00:00Z", &NAMED);
    assert_eq!(server.status("GET", "/plan", &owner), 200);
    server.kill();
    let server = Server::start_at(data.path(), "2026-11-27T15:30:00Z", &NAMED);
    assert_eq!(server.status("GET", "/plan", &owner), 303);
}

#[test]
fn whoever_guesses_waits_also_after_a_restart_and_keeps_nobody_else_out() {
    let data = tempfile::tempdir().expect("a folder");
    let proxy = ["--proxy", "127.0.0.1"];
    let server = Server::start_at(data.path(), NOW, &proxy);
    server.come_in(&server.first_code(), "Marta", PASSWORD);
    let tries = |server: &Server, password: &str, from: &str| {
        let form = [("name", "marta "), ("password", password)];
        let origin = server.address.clone();
        server.post_from("/sign-in", &form, &[("Origin", &origin), ("X-Forwarded-For", from)])
    };
    for n in 0..10 {
        let said = tries(&server, "wrong wrong wrong", "192.0.2.9");
        let expected = if n < 4 { 422 } else { 429 };
        assert_eq!(said.status, expected, "{n}: {}", said.body);
    }
    let right = tries(&server, PASSWORD, "192.0.2.9");
    assert!(
        right.status == 429 && !right.header("retry-after").is_empty(),
        "even the right one waits its turn"
    );
    assert_eq!(tries(&server, PASSWORD, "192.0.2.10").status, 303, "she comes in from elsewhere");
    server.kill();
    let server = Server::start_at(data.path(), NOW, &proxy);
    assert_eq!(tries(&server, PASSWORD, "192.0.2.9").status, 429, "it is remembered");
    server.kill();
    let server = Server::start_at(data.path(), "2026-11-25T16:00:20Z", &proxy);
    assert_eq!(tries(&server, PASSWORD, "192.0.2.9").status, 303, "and it passes");
}

#[test]
fn cookies_are_held_to_this_host_and_out_of_scripts() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start_at(data.path(), NOW, &["--proxy", "127.0.0.1", "--host", "galley.example"]);
    let code = server.first_code();
    let form = [("code", code.as_str()), ("name", "Marta"), ("password", PASSWORD)];
    let through = [
        ("X-Forwarded-Host", "galley.example"),
        ("X-Forwarded-Proto", "https"),
        ("Origin", "https://galley.example"),
    ];
    let reply = server.post_from("/welcome", &form, &through);
    let set =
        reply.headers.iter().find(|(k, v)| k == "set-cookie" && v.contains("hs-session")).expect("a cookie");
    for flag in ["__Host-hs-session=", "; Secure", "; HttpOnly", "; SameSite=Strict", "; Path=/"] {
        assert!(set.1.contains(flag), "{flag} in {}", set.1);
    }
    assert!(!set.1.contains("Domain"), "{}", set.1);
    // Over a plain line a browser takes no such name.
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let plain = server.come_in(&server.first_code(), "Marta", PASSWORD);
    assert!(plain.starts_with("hs-session="), "{plain}");
    assert!(get(&server, "/plan", &plain).contains("This line is not encrypted"));
}

#[test]
fn no_secret_is_in_the_log_the_export_the_database_or_on_a_page() {
    let data = tempfile::tempdir().expect("a folder");
    let log = data.path().join("log");
    let server = Server::start_within("true", data.path(), &["--host", "galley.lan", "--log", "debug"], &log);
    let code = server.first_code();
    let owner = server.come_in(&code, "Marta", PASSWORD);
    let (id, ida) = another(&server, &owner, (1, "Ida", "cook"));
    let made =
        server.post_as("/devices", &[("id", "019ac900-0000-7000-8000-00000000d001"), ("name", "p")], &owner);
    let device = token_in(&made.body);
    let mistyped = "nobody-of-this-name";
    server.post("/sign-in", &[("name", mistyped), ("password", "another secret 77")]);
    let session = |cookie: &str| cookie.split_once('=').expect("a cookie").1.to_owned();
    let secrets = [
        PASSWORD.to_owned(),
        code,
        session(&owner),
        session(&ida),
        "another secret 77".into(),
        mistyped.into(),
    ];
    let mut seen = vec![("log", std::fs::read_to_string(&log).expect("a log"))];
    for path in ["/book/export.json", "/people", "/trail", "/trail.csv", "/kitchen", "/devices"] {
        let reply = server.get_with(path, &[("Cookie", &owner)]);
        assert_eq!(reply.status, 200, "{path}");
        seen.push((path, reply.body));
    }
    let copy = server.agent_bytes("/kitchen/copy.sqlite3", &owner);
    seen.push(("copy", String::from_utf8_lossy(&copy).into_owned()));
    for (place, text) in &seen {
        for secret in secrets.iter().chain([&device]) {
            assert!(!text.contains(secret.as_str()), "{secret} in {place}");
        }
        let hash = text.contains("$argon2id$");
        assert_eq!(hash, *place == "copy", "{place}: hashed, and in the database alone");
    }
    assert!(seen.iter().any(|(p, t)| *p == "/people" && t.contains("Ida")) && !id.is_empty());
}

#[test]
fn the_stream_of_whoever_is_signed_out_ends_within_a_second() {
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let owner = server.come_in(&server.first_code(), "Marta", PASSWORD);
    let (id, ida) = another(&server, &owner, (1, "Ida", "cook"));
    let mut socket = server.socket();
    let host = server.address.trim_start_matches("http://");
    write!(socket, "GET /events HTTP/1.1\r\nHost: {host}\r\nCookie: {ida}\r\n\r\n").expect("asked");
    let mut told = BufReader::new(socket);
    let mut heard = |until: &str| {
        let mut line = String::new();
        while told.read_line(&mut line).expect("a line") > 0 {
            if line.contains(until) {
                return true;
            }
            line.clear();
        }
        false
    };
    assert!(heard("event: hello"));
    server.post_as(&format!("/people/{id}/sessions/end"), &[], &owner);
    let ended = std::time::Instant::now();
    // The last chunk of an answer that is over; the line itself may be kept.
    assert!(heard("0\r\n"), "the stream ends");
    assert!(
        ended.elapsed() < std::time::Duration::from_secs(4),
        "{:?}: long before the next beat",
        ended.elapsed()
    );
    assert_eq!(server.status("GET", "/events", &ida), 303);
}

#[test]
fn every_deed_is_one_row_with_who_it_was() {
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let owner = server.come_in(&server.first_code(), "Marta", PASSWORD);
    let (id, ida) = another(&server, &owner, (1, "Ida", "cook"));
    assert_eq!(server.status("POST", "/kitchen/habits", &ida), 403);
    let wrong = server.post("/sign-in", &[("name", "IDA"), ("password", "not at all it")]);
    assert!(
        wrong.body.contains("do not go together") && wrong.body.contains("value=\"IDA\""),
        "{}",
        wrong.body
    );
    server.post_as(&format!("/people/{id}/role"), &[("role", "chef")], &owner);
    assert_ne!(server.status("POST", "/kitchen/habits", &ida), 403, "at once, in the session she has");
    server.post_as("/sign-out", &[], &ida);
    assert_eq!(server.status("GET", "/plan", &ida), 303);
    assert_eq!(server.status("GET", "/book/export.json", &owner), 200);
    let table = get(&server, "/trail.csv", &owner);
    let rows: Vec<Vec<&str>> = table.lines().skip(1).map(|l| l.split(',').collect()).collect();
    // The copy of the night comes when it comes.
    let told = rows.iter().rev().filter(|r| !r[4].starts_with("copied"));
    let told: Vec<String> = told.map(|r| format!("{} ({}) {}", r[1], r[2], r[4..].join(","))).collect();
    let expected = [
        "command line (cook) \"named the kitchen My kitchen, in Europe/Vienna\"",
        "command line (program) made a code for the first owner",
        "kitchen (nobody) wrote Marta down as somebody who works here",
        "Marta (owner) chose a password",
        "Marta (owner) wrote Ida down as somebody who works here",
        "Marta (owner) made a code for Ida",
        "Ida (cook) chose a password",
        "Ida (cook) was refused /kitchen/habits",
        "kitchen (nobody) tried to sign in as Ida from 127.0.0.1 and could not",
        "Marta (owner) made \"Ida chef, who was cook\"",
        "Ida (chef) signed out",
        "Marta (owner) took hold-steady-book.json out",
    ];
    let expected =
        expected.map(|e| e.replace("made \"Ida chef, who was cook\"", "\"made Ida chef, who was cook\""));
    assert_eq!(told, expected);
    let one = get(&server, "/trail?kind=refused", &owner);
    assert!(one.contains("was refused /kitchen/habits") && !one.contains("signed out</td>"), "{one}");
}

#[test]
fn somebody_always_can_let_others_in() {
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let code = server.first_code();
    let short = server.post("/welcome", &[("code", &code), ("name", "Marta"), ("password", "short")]);
    assert!(short.status == 422 && short.body.contains("at least 10 characters"), "{}", short.body);
    assert!(short.body.contains("value=\"Marta\""), "nothing that was typed is lost");
    let owner = server.come_in(&code, "Marta", PASSWORD);
    let again =
        server.post("/welcome", &[("code", &code), ("name", "Eve"), ("password", "four green kettles")]);
    assert_eq!(again.status, 422, "a code counts once");
    let page = get(&server, "/people", &owner);
    let id = page.split("/people/").nth(1).and_then(|t| t.get(..36)).expect("Marta").to_owned();
    let down = server.post_as(&format!("/people/{id}/role"), &[("role", "cook")], &owner);
    assert!(down.status == 422 && down.body.contains("last owner"), "{}", down.body);
    let left = server.post_as(&format!("/kitchen/people/{id}/left"), &[], &owner);
    assert_eq!(left.status, 409, "{}", left.body);
    // She forgot her password: the machine itself makes a code, while it is served, and what was begun before ends.
    let reset = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .args(["person", "reset", "marta", "--data"])
        .arg(data.path())
        .assert()
        .success();
    let said = String::from_utf8_lossy(&reset.get_output().stdout).into_owned();
    let code = said.lines().next().expect("a code");
    // By the machine's own clock, which is not the one of this kitchen: it counts for a day from there.
    let page = server.get(&format!("/welcome?code={code}"));
    assert!(page.status == 200 && page.body.contains("Welcome, Marta"), "{}", page.body);
    let anew = server.come_in(code, "", "five yellow kettles");
    assert_eq!((server.status("GET", "/people", &owner), server.status("GET", "/people", &anew)), (303, 200));
    let unknown = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .args(["person", "reset", "Bo", "--data"])
        .arg(data.path())
        .assert()
        .failure();
    let said = String::from_utf8_lossy(&unknown.get_output().stderr).into_owned();
    assert!(said.contains("Nobody called “Bo” works here; there is Marta."), "{said}");
}

#[test]
fn a_network_is_not_served_over_a_plain_line_unasked_and_this_machine_asks_nobody() {
    let data = tempfile::tempdir().expect("a folder");
    let refused = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .args(["serve", "--bind", "0.0.0.0", "--port", "0", "--time-zone", "UTC", "--data"])
        .arg(data.path())
        .assert()
        .failure();
    let said = String::from_utf8_lossy(&refused.get_output().stderr).into_owned();
    assert!(said.contains("--proxy") && said.contains("--plain-network"), "{said}");
    // On this machine only, nothing is asked.
    let server = Server::start(data.path());
    assert_eq!(server.get("/plan").status, 200);
    assert!(!server.get("/plan").body.contains("sign out"));
    assert_eq!(server.get("/sign-in").location, "/");
    server.kill();
    let server =
        Server::start_at(data.path(), NOW, &["--bind", "0.0.0.0", "--plain-network", "--host", "galley.lan"]);
    assert_eq!(server.get_with("/plan", &[("Host", "galley.lan")]).status, 303);
}

/// A cookie of an answer, as a browser would send it.
fn kept(reply: &crate::common::Reply, name: &str) -> String {
    let set = reply.headers.iter().find(|(k, v)| k == "set-cookie" && v.starts_with(name));
    set.and_then(|(_, v)| v.split(';').next()).unwrap_or_else(|| panic!("no {name}")).to_owned()
}

/// A tablet that an owner enrolled: what its browser holds.
fn enrolled(server: &Server, name: &str, kind: &str) -> String {
    let form = [("name", "Marta"), ("password", PASSWORD)];
    let signed = server.post("/sign-in", &form);
    let session = kept(&signed, "hs-session");
    let reply = server.post_as("/screens", &[("name", name), ("kind", kind)], &session);
    assert_eq!(reply.status, 303, "{}", reply.body);
    assert_eq!(server.status("GET", "/people", &session), 303, "the owner is signed out there");
    kept(&reply, "hs-screen")
}

/// A name tapped on a screen, with a PIN where one is given: the answer, and both cookies.
fn tapped(server: &Server, screen: &str, person: &str, pin: &str) -> (u16, String, String) {
    let reply = server.post_as("/who", &[("person", person), ("pin", pin)], screen);
    let both =
        if reply.status == 303 { format!("{screen}; {}", kept(&reply, "hs-session")) } else { String::new() };
    (reply.status, both, reply.body)
}

#[test]
fn ten_wrong_pins_lock_over_a_restart_until_an_owner_unlocks_and_an_owner_only_waits() {
    let data = tempfile::tempdir().expect("a folder");
    let log = data.path().join("log");
    let server = Server::start_within("true", data.path(), &["--host", "galley.lan", "--log", "debug"], &log);
    let owner = server.come_in(&server.first_code(), "Marta", PASSWORD);
    let (id, ida) = another(&server, &owner, (1, "Ida", "chef"));
    let chosen = server.post_as("/you/pin", &[("pin", "402817"), ("password", PASSWORD)], &ida);
    assert_eq!(chosen.location, "/you?done=pin", "{}", chosen.body);
    let wrong = server.post_as("/you/pin", &[("pin", "402817"), ("password", "not at all it")], &ida);
    assert!(wrong.status == 422 && wrong.body.contains("That is not your password"), "{}", wrong.body);
    let screen = enrolled(&server, "tablet by the pass", "shared");
    assert_eq!(server.status("GET", "/board", &screen), 200, "it shows the board");
    assert_eq!(server.status("GET", "/plan", &screen), 303, "and asks who it is for more");
    // The name alone, then with its PIN.
    let (_, named, _) = tapped(&server, &screen, &id, "");
    assert_eq!(
        (server.status("GET", "/plan", &named), server.status("POST", "/kitchen/habits", &named)),
        (200, 403)
    );
    let (_, proved, _) = tapped(&server, &screen, &id, "402817");
    assert_ne!(server.status("POST", "/kitchen/habits", &proved), 403);
    assert_eq!(server.status("GET", "/plan", &named), 303, "whoever was named before is there no more");
    let session = proved.split("; ").nth(1).expect("a session");
    assert_eq!(server.status("GET", "/plan", session), 303, "it counts on its screen alone");
    for n in 0..10 {
        let (status, _, body) = tapped(&server, &screen, &id, "111222");
        assert!(status == 422 && body.contains("That is not the PIN"), "{n}: {status} {body}");
    }
    let (status, _, body) = tapped(&server, &screen, &id, "402817");
    assert!(status == 423 && body.contains("Ten wrong PINs"), "even the right one: {status} {body}");
    let logged = std::fs::read_to_string(&log).expect("a log");
    assert!(!logged.contains("402817") && !logged.contains("111222"));
    assert!(!server.get_with("/book/export.json", &[("Cookie", &owner)]).body.contains("402817"));
    server.kill();
    // Two hours and a restart later.
    let server = Server::start_at(data.path(), "2026-11-25T18:00:00Z", &NAMED);
    assert_eq!(tapped(&server, &screen, &id, "402817").0, 423, "it is remembered");
    assert_eq!(tapped(&server, &screen, &id, "").0, 303, "the name alone still cooks");
    assert!(get(&server, "/people", &owner).contains("Ten wrong PINs in a row: this name takes none"));
    server.post_as(&format!("/people/{id}/unlock"), &[], &owner);
    let page = get(&server, "/people", &owner);
    let at = page.split("/screens/").nth(1).and_then(|t| t.get(..36)).expect("the screen").to_owned();
    server.post_as(&format!("/screens/{at}/unlock"), &[], &owner);
    assert_eq!(tapped(&server, &screen, &id, "402817").0, 303);
    // An owner waits, and is never locked.
    let chosen = server.post_as("/you/pin", &[("pin", "593046"), ("password", PASSWORD)], &owner);
    assert_eq!(chosen.location, "/you?done=pin", "{}", chosen.body);
    let marta = page.split("/people/").nth(1).and_then(|t| t.get(..36)).expect("Marta").to_owned();
    let statuses: Vec<u16> = (0..6).map(|_| tapped(&server, &screen, &marta, "111222").0).collect();
    assert_eq!(statuses, [422, 422, 422, 422, 429, 429]);
    server.kill();
    let server = Server::start_at(data.path(), "2026-11-25T18:01:00Z", &NAMED);
    assert_eq!(tapped(&server, &screen, &marta, "593046").0, 303, "it passes");
    // For every name, where the kitchen says so.
    server.post_as("/people/pins", &[("always", "yes")], &owner);
    assert_eq!(tapped(&server, &screen, &id, "").0, 422);
    assert_eq!(tapped(&server, &screen, &id, "402817").0, 303);
    // A copy without its key is of no use: the same database with another key knows no PIN.
    server.kill();
    std::fs::remove_file(data.path().join("pins.key")).expect("removed");
    let server = Server::start_at(data.path(), "2026-11-25T18:02:00Z", &NAMED);
    assert_eq!(tapped(&server, &screen, &id, "402817").0, 422);
    server.post_as(&format!("/screens/{at}/end"), &[], &owner);
    assert_eq!(server.status("GET", "/board", &screen), 303, "ended");
}

#[test]
fn a_name_ends_by_itself_a_wall_shows_and_no_more_and_an_inspector_sees_what_was_opened() {
    let data = tempfile::tempdir().expect("a folder");
    let server = open(data.path());
    let owner = server.come_in(&server.first_code(), "Marta", PASSWORD);
    let (id, _) = another(&server, &owner, (1, "Ida", "cook"));
    let (_, inspector) = another(&server, &owner, (2, "Bo", "inspector"));
    let screen = enrolled(&server, "tablet by the pass", "shared");
    let wall = enrolled(&server, "the wall", "display");
    assert_eq!(server.status("GET", "/board/kiosk", &wall), 200);
    assert_eq!(server.status("GET", "/alarms", &wall), 200);
    assert_eq!(server.status("GET", "/plan", &wall), 403);
    assert_eq!(server.status("POST", "/plan/start", &wall), 403);
    let (_, named, _) = tapped(&server, &screen, &id, "");
    assert!(!get(&server, "/trail", &inspector).contains("tapped their name</td>"), "nothing is open yet");
    server.post_as("/people/periods", &[("from", "2026-11-25"), ("until", "2026-11-25")], &owner);
    assert!(get(&server, "/trail", &inspector).contains("tapped their name</td>"));
    assert_eq!(server.status("GET", "/book", &inspector), 403);
    server.post_as("/people/periods", &[("from", "2026-11-20"), ("until", "2026-11-24")], &owner);
    let page = get(&server, "/people", &owner);
    let period =
        page.split("/people/periods/").nth(1).and_then(|t| t.get(..36)).expect("a period").to_owned();
    server.post_as(&format!("/people/periods/{period}/close"), &[], &owner);
    assert!(
        !get(&server, "/trail", &inspector).contains("tapped their name</td>"),
        "the day is closed again"
    );
    server.kill();
    let server = Server::start_at(data.path(), "2026-11-25T16:04:00Z", &NAMED);
    assert_eq!(server.status("GET", "/plan", &named), 200);
    server.kill();
    let server = Server::start_at(data.path(), "2026-11-25T16:06:00Z", &NAMED);
    assert_eq!(server.status("GET", "/plan", &named), 303, "nobody touched it for five minutes");
}
