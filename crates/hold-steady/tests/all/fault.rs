//! What goes wrong around the program: slow and broken senders, a tap sent again, a second server, a disk that is
//! full, a clock that is set, a proxy. (The project's own rules; RFC 9110 for the statuses.)

use std::io::{Read, Write};
use std::time::Duration;

use crate::common::{COOK, NOW, Server};
use assert_cmd::Command;
use serde_json::Value;

fn program() -> Command {
    Command::new(env!("CARGO_BIN_EXE_hold-steady"))
}

/// A small request that would be computed for minutes: a large block in a bath of two thousand corners.
fn worst() -> String {
    let zigzag: Vec<Value> =
        (0..2000).map(|i| serde_json::json!({"min": f64::from(i) * 0.5, "c": 50 + 10 * (i % 2)})).collect();
    serde_json::json!({"food": "pork-shoulder", "shape": "block", "thickness_mm": 30, "width_mm": 600,
                       "length_mm": 600, "start_c": 5, "until_min": 1000, "bath": zigzag})
    .to_string()
}

/// The events of the one cook there is.
fn events(server: &Server) -> Vec<Value> {
    let book: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
    book["cooks"][0]["events"].as_array().expect("a list").clone()
}

/// Something has come back on it.
fn answered(socket: &std::net::TcpStream) -> bool {
    socket.set_nonblocking(true).expect("set");
    let there = socket.peek(&mut [0]).is_ok();
    socket.set_nonblocking(false).expect("set");
    there
}

#[test]
fn hundreds_of_slow_senders_stop_nobody_and_are_let_go() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let mut slow: Vec<_> = (0..300)
        .map(|i| {
            let mut socket = server.socket();
            let path = if i % 2 == 0 { "/api/v1/calc/heat" } else { "/plan/start" };
            let head = format!(
                "POST {path} HTTP/1.1\r\nHost: localhost\r\nOrigin: http://localhost\r\nContent-Type: application/json\r\nContent-Length: 500\r\n\r\n{{"
            );
            socket.write_all(head.as_bytes()).expect("sent");
            socket
        })
        .collect();
    assert_eq!(server.get("/plan").status, 200, "others are served meanwhile");
    // A byte now and then keeps nobody.
    server.until("the first is let go", |_| {
        for socket in &mut slow {
            let _ = socket.write_all(b" ");
        }
        answered(&slow[0]).then_some(())
    });
    assert_eq!(server.get("/book").status, 200);
    let mut answers = Vec::new();
    for socket in &mut slow {
        socket.set_read_timeout(Some(Duration::from_secs(30))).expect("set");
        let mut answer = String::new();
        let _ = socket.read_to_string(&mut answer);
        answers.push(answer);
    }
    assert!(
        answers.iter().all(|a| a.starts_with("HTTP/1.1 408")),
        "{:?}",
        answers.iter().find(|a| !a.contains("408"))
    );
    assert!(
        answers[0].contains("application/problem+json") && answers[1].contains("Nothing was written down")
    );
}

#[test]
fn what_does_not_arrive_whole_is_answered_for_what_it_is() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let raw = |text: &str| {
        let mut socket = server.socket();
        socket.write_all(text.as_bytes()).expect("sent");
        socket.set_read_timeout(Some(Duration::from_secs(15))).expect("set");
        let mut answer = String::new();
        let _ = socket.read_to_string(&mut answer);
        answer
    };
    let head = "POST /api/v1/calc/heat HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nConnection: close\r\n";
    let broken = raw(&format!("{head}Transfer-Encoding: chunked\r\n\r\nZZ\r\n"));
    assert!(broken.starts_with("HTTP/1.1 400") && !broken.contains("larger"), "{broken}");
    let large = server.send("/api/v1/calc/heat", "application/json", &vec![b' '; 2 << 20]);
    assert!(large.status == 413 && large.body.contains("larger than 1 MB"), "{}", large.body);
    let refused = server.send("/api/v1/calc/heat", "application/json", worst().as_bytes());
    assert!(refused.status == 422 && refused.body.contains("fewer points"), "{}", refused.body);
    let described = server.get("/api/v1/openapi.json").body;
    for limit in ["\"maxItems\":20000", "4200000 cells times steps", "\"408\"", "\"503\""] {
        assert!(described.contains(limit), "{limit}");
    }
}

#[test]
fn nobody_is_computed_for_who_has_hung_up() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let worst = worst();
    // Far more than there are places to compute at, each for more than a second.
    let callers: Vec<_> = (0..24)
        .map(|_| {
            let mut socket = server.socket();
            let head = format!(
                "POST /api/v1/calc/heat HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n",
                worst.len()
            );
            socket.write_all(head.as_bytes()).and_then(|()| socket.write_all(worst.as_bytes())).expect("sent");
            socket
        })
        .collect();
    // One is refused while others compute (503 after a second and a half); then the places are free.
    server.until("one is answered", |_| callers.iter().any(answered).then_some(()));
    drop(callers);
    let small = br#"{"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55}"#;
    let reply = server.send("/api/v1/calc/heat", "application/json", small);
    assert_eq!(reply.status, 200, "{}", reply.body);
}

#[test]
fn a_tap_sent_again_is_one_event_and_answered_as_the_first_time() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let tap = |id: &str, what: &'static str, more: &[(&str, &str)]| {
        let form: Vec<_> = [("tap", id), ("what", what)].into_iter().chain(more.iter().copied()).collect();
        let reply = server.post(&format!("{cook}/event"), &form);
        (reply.status, reply.location)
    };
    let id = |n: u32| format!("019ac000-0000-7000-8000-0000000000{n:02}");
    for (n, what, more) in [
        (11, "dropped", &[("when", "90 min ago")][..]),
        (12, "floated", &[("afloat", "5 min"), ("when", "60 min ago")]),
        (13, "pulled", &[]),
    ] {
        let first = tap(&id(n), what, more);
        assert_eq!(first, (303, cook.clone()), "{what}");
        assert_eq!(tap(&id(n), what, more), first, "{what}, its answer lost and sent again");
    }
    // The same identifier for something else is refused and never taken for done.
    let other = server.post(&format!("{cook}/event"), &[("tap", &id(13)), ("what", "dried")]);
    assert!(other.status == 409 && other.body.contains("tap again"), "{} {}", other.status, other.body);
    let rating = [("tap", id(14)), ("crust", "4".into()), ("note", "once".into())];
    let rating: Vec<_> = rating.iter().map(|(k, v)| (*k, v.as_str())).collect();
    for _ in 0..2 {
        assert_eq!(server.post(&format!("{cook}/rating"), &rating).location, "/book");
    }
    let kinds: Vec<String> =
        events(&server).iter().map(|e| e["kind"].as_str().unwrap_or("").into()).collect();
    assert_eq!(kinds, ["started", "dropped", "floated", "pulled", "rated"]);
    // The page itself gives every form one of its own.
    let page = server.get(&cook).body;
    let ids: std::collections::BTreeSet<&str> =
        page.split("name=\"tap\" value=\"").skip(1).filter_map(|rest| rest.split('"').next()).collect();
    assert_eq!(ids.len(), page.matches("data-tap").count());
}

#[test]
fn a_tap_that_waited_happened_when_it_was_tapped() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let tap = |at: &str| server.post(&format!("{cook}/event"), &[("what", "dropped"), ("tapped_ago", at)]);
    let late = tap("200000");
    assert!(late.status == 422 && late.body.contains("more than a day"), "{}", late.body);
    assert_eq!(tap("2400.5").status, 303);
    let dropped = &events(&server)[1];
    assert!(
        dropped["happened_at"]
            .as_str()
            .is_some_and(|t| t.starts_with("2026-11-25T15:19:59") || t.starts_with("2026-11-25T15:20:0")),
        "{dropped}"
    );
    assert!(server.get(&cook).body.contains("written down at 17:00"), "and says so");
}

#[test]
fn three_who_start_at_once_are_all_served() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    std::thread::scope(|scope| {
        for client in 0..3 {
            let server = &server;
            scope.spawn(move || {
                for n in 0..12 {
                    server.start_cook(&format!("019ac00{client}-0000-7000-8000-0000000000{n:02}"));
                }
            });
        }
    });
    let book: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
    assert_eq!(book["cooks"].as_array().map(Vec::len), Some(36));
}

#[test]
fn a_second_server_on_the_same_folder_is_refused_and_told_why() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let second = program()
        .args(["serve", "--port", "0", "--kitchen", "Other", "--data"])
        .arg(data.path())
        .assert()
        .failure();
    let said = String::from_utf8_lossy(&second.get_output().stderr).into_owned();
    assert!(said.contains("is being served already") && said.contains("--data"), "{said}");
    assert!(server.get("/kitchen").body.contains("<h1>My kitchen</h1>"));
    // What only reads, or writes through the database's own locks, goes on beside it.
    program().args(["export", "--data"]).arg(data.path()).assert().success();
    server.kill();
    drop(Server::start(data.path()));
}

#[cfg(unix)]
#[test]
fn the_files_are_their_owner_s_only() {
    use std::os::unix::fs::PermissionsExt;
    let data = tempfile::tempdir().expect("a folder");
    let folder = data.path().join("kitchen");
    let server = Server::start(&folder);
    server.start_cook(COOK);
    let mode = |path: &std::path::Path| std::fs::metadata(path).expect("there").permissions().mode() & 0o777;
    assert_eq!(mode(&folder), 0o700);
    let files: Vec<_> =
        std::fs::read_dir(&folder).expect("there").map(|e| e.expect("an entry").path()).collect();
    assert!(files.iter().any(|f| f.ends_with("hold-steady.db-wal")), "{files:?}");
    for file in files.iter().filter(|f| f.is_file()) {
        assert_eq!(mode(file), 0o600, "{}", file.display());
    }
    let copy = server.until("the copy of the night", |_| {
        std::fs::read_dir(folder.join("copies"))
            .ok()?
            .filter_map(Result::ok)
            .map(|e| e.path())
            .find(|p| p.extension().is_some_and(|e| e == "db"))
    });
    assert_eq!(mode(&copy), 0o600);
}

#[test]
fn a_copy_made_while_serving_is_whole_and_is_put_back_after_it_was_looked_through() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    server.post(&format!("{cook}/event"), &[("what", "dropped")]);
    let copy = data.path().join("friday.db");
    let backup = || program().args(["backup", "--data"]).arg(data.path()).arg(&copy).assert();
    backup().success();
    let again = String::from_utf8_lossy(&backup().failure().get_output().stderr).into_owned();
    assert!(again.contains("there already"), "{again}");
    let exported = |server: &Server| {
        let mut book: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
        book["exported_at"].take();
        book
    };
    let before = exported(&server);
    server.post(&format!("{cook}/event"), &[("what", "pulled")]);
    let restore =
        |from: &std::path::Path| program().args(["restore", "--data"]).arg(data.path()).arg(from).assert();
    let served = String::from_utf8_lossy(&restore(&copy).failure().get_output().stderr).into_owned();
    assert!(served.contains("served already"), "{served}");
    server.kill();
    // Half a copy, and something else, change nothing.
    let half = data.path().join("half.db");
    let whole = std::fs::read(&copy).expect("readable");
    std::fs::write(&half, &whole[..whole.len() / 2]).expect("written");
    restore(&half).failure();
    std::fs::write(&half, "supper").expect("written");
    restore(&half).failure();
    let server = Server::start(data.path());
    assert_eq!(events(&server).len(), 3, "still as it was");
    server.kill();
    let done = String::from_utf8_lossy(&restore(&copy).success().get_output().stdout).into_owned();
    assert!(done.contains("kept as"), "{done}");
    assert_eq!(exported(&Server::start(data.path())), before);
}

#[test]
fn a_disk_that_is_full_is_an_error_to_the_cook_and_no_silent_loss() {
    let data = tempfile::tempdir().expect("a folder");
    let log = data.path().join("log");
    let folder = data.path().join("kitchen");
    let server = Server::start(&folder);
    let cook = server.start_cook(COOK);
    assert_eq!(server.get("/healthz").body, "ok");
    server.kill();
    // No file may grow beyond what is there and a little: what a full disk does to the log of the database.
    let sizes = std::fs::read_dir(&folder)
        .expect("there")
        .map(|e| e.expect("an entry").metadata().expect("a file").len());
    let kilobytes = sizes.max().expect("a database") / 1024 + 16;
    let limit = format!("trap '' XFSZ; ulimit -f {kilobytes}");
    let server = Server::start_within(&limit, &folder, &["--clock-at", NOW], &log);
    let mut acknowledged = 0;
    // Written until it is refused; dropped and taken back by turns.
    let mut fill = |server: &Server| loop {
        let undo = (acknowledged % 2 == 1)
            .then(|| events(server).pop().expect("an event")["id"].as_str().expect("an id").to_owned());
        let fields = match &undo {
            None => [("what", "dropped"), ("when", "1 h ago")],
            Some(undo) => [("what", "undone"), ("event", undo.as_str())],
        };
        let reply = server.post(&format!("{cook}/event"), &fields);
        if reply.status != 303 {
            break reply;
        }
        acknowledged += 1;
        assert!(acknowledged < 480, "it never filled up");
    };
    let refused = fill(&server);
    assert!(matches!(refused.status, 500 | 503 | 507), "{} {}", refused.status, refused.body);
    assert!(
        refused.body.contains("not written down") && refused.body.contains("before is safe"),
        "{}",
        refused.body
    );
    // There may be room left for its one line, and room comes back with every turn of the log: it is used up again.
    let ill = server.until("the health page says so", |s| {
        fill(s);
        Some(s.get("/healthz")).filter(|r| r.status == 503)
    });
    assert!(ill.body.contains("could not be written down"), "{}", ill.body);
    assert_eq!(server.get(&cook).status, 200, "what is there can be read");
    server.kill();
    let written = std::fs::read_to_string(&log).expect("a log");
    assert!(written.contains("failed") && written.contains(&format!("path=\"{cook}/event\"")), "{written}");
    // With room again, everything that was acknowledged is there, and it goes on.
    let server = Server::start(&folder);
    assert_eq!(events(&server).len(), 1 + acknowledged);
    assert_eq!(server.get("/healthz").status, 200);
}

#[cfg(unix)]
#[test]
fn told_to_stop_it_ends_quietly() {
    let data = tempfile::tempdir().expect("a folder");
    let log = data.path().join("log");
    for _ in 0..5 {
        let mut server =
            Server::start_within("true", &data.path().join("kitchen"), &["--log", "error"], &log);
        server.get("/plan");
        assert!(server.stop().success());
        assert_eq!(std::fs::read_to_string(&log).expect("a log"), "");
    }
}

#[test]
fn the_log_says_who_did_what_and_nothing_of_the_guests() {
    let data = tempfile::tempdir().expect("a folder");
    let log = data.path().join("log");
    let server = Server::start_within("true", &data.path().join("kitchen"), &[], &log);
    let cook = server.start_cook(COOK);
    server.get("/plan?guests=risk");
    server.post(&format!("{cook}/event"), &[("what", "pulled")]);
    server.kill();
    let lines = std::fs::read_to_string(&log).expect("a log");
    let line = lines.lines().find(|l| l.contains("/event")).unwrap_or_else(|| panic!("{lines}"));
    for part in ["WARN", "status=422", "method=POST", COOK, "ms=", "2026-"] {
        assert!(line.contains(part), "{part} in {line}");
    }
    assert!(!lines.contains("risk"), "{lines}");
}

#[test]
fn a_clock_that_is_set_is_noticed_and_no_minute_is_credited_that_did_not_pass() {
    let data = tempfile::tempdir().expect("a folder");
    // Set three hours on, four seconds from now.
    let server = Server::start_at(data.path(), NOW, &["--clock-set", "10800@4"]);
    let cook = server.start_cook(COOK);
    server.post(&format!("{cook}/event"), &[("what", "dropped"), ("when", "30 min ago")]);
    let page = server.until("the page says so", |s| {
        let body = s.get(&cook).body;
        body.contains("clock was set forward by 3 h").then_some(body)
    });
    assert!(page.contains("dropped") && page.contains("19:30"), "on the clock as it is now: {page}");
    let (centre, _) =
        page.split_once("centre-now\">").and_then(|(_, rest)| rest.split_once('<')).expect("a centre");
    let c: f64 = centre.trim().trim_end_matches("°C").trim().parse().expect("degrees");
    // Thirty minutes warm 32 mm to some 30 °C, three and a half hours to all but 55.
    assert!((15.0..45.0).contains(&c), "{centre}");
    let set: Vec<Value> = events(&server).into_iter().filter(|e| e["kind"] == "clock-set").collect();
    assert_eq!(set.len(), 1, "{set:?}");
    assert!((set[0]["by_s"].as_f64().expect("seconds") - 10_800.0).abs() < 2.0, "{set:?}");
}

#[test]
fn a_clock_that_stands_behind_at_the_start_credits_nothing() {
    let data = tempfile::tempdir().expect("a folder");
    let mut server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    server.post(&format!("{cook}/event"), &[("what", "dropped"), ("when", "30 min ago")]);
    assert_eq!(server.get("/healthz").body, "ok", "which is a mark of the clock");
    server.stop();
    // The machine is off, its clock loses its battery, and it comes up in the summer.
    let mut server = Server::start_at(data.path(), "2026-07-01T10:00:00Z", &[]);
    let page = server.get(&cook).body;
    assert!(page.contains("clock was set back"), "{page}");
    let set: Vec<Value> = events(&server).into_iter().filter(|e| e["kind"] == "clock-set").collect();
    assert_eq!(set.len(), 1, "{set:?}");
    assert!(set[0]["by_s"].as_f64().expect("seconds") < -12_000_000.0, "{set:?}");
    // Started again by the same clock it says nothing more.
    server.stop();
    let server = Server::start_at(data.path(), "2026-07-01T10:01:00Z", &[]);
    assert_eq!(events(&server).iter().filter(|e| e["kind"] == "clock-set").count(), 1);
}

#[test]
fn a_proxy_is_believed_only_when_it_was_named() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start_at(data.path(), NOW, &["--proxy", "127.0.0.1", "--host", "galley.example"]);
    let by = |host| server.get_with("/book", &[("Host", "inside"), ("X-Forwarded-Host", host)]).status;
    assert_eq!((by("galley.example"), by("evil.example")), (303, 403), "one is led to the door");
    server.kill();
    let server = Server::start_at(data.path(), NOW, &["--proxy", "192.0.2.7", "--host", "galley.example"]);
    let by = server.get_with("/book", &[("Host", "inside"), ("X-Forwarded-Host", "galley.example")]);
    assert_eq!(by.status, 403, "it is another machine that is the proxy");
}

/// Somebody chose a port that is taken: it says so in words and ends, and nothing falls over on the way.
#[test]
fn a_port_that_is_taken_is_said() {
    let (data, other) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(data.path());
    let port = server.address.rsplit(':').next().expect("a port");
    let second = program()
        .args(["serve", "--port", port, "--time-zone", "Europe/Vienna", "--data"])
        .arg(other.path())
        .assert()
        .failure();
    let said = String::from_utf8_lossy(&second.get_output().stderr).into_owned();
    assert!(said.contains("Is it running already?") && !said.contains("panicked"), "{said}");
}
