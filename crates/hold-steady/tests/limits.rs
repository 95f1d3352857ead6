//! Small requests with large costs: what is packed, what is too large, who asks too often, who opens lines and never speaks,
//! who downloads and never reads. (The project's own limits; RFC 9110 and RFC 6585 for the statuses.)

mod common;

use std::io::{Read, Write};
use std::net::TcpStream;
use std::time::{Duration, Instant};

use common::{COOK, NOW, Reply, Server, token_in};

const DEVICE: &str = "019ac000-0000-7000-8000-0000000000e3";
const OTHER: &str = "019ac000-0000-7000-8000-0000000000e4";

/// Sends these bytes, and what came back within some seconds.
fn raw(server: &Server, head: &str, body: &[u8]) -> String {
    let mut socket = server.socket();
    socket.set_read_timeout(Some(Duration::from_secs(8))).expect("set");
    socket.write_all(head.as_bytes()).expect("sent");
    // What answers before the end closes the line.
    let _ = socket.write_all(body);
    answer(&mut socket)
}

fn answer(socket: &mut TcpStream) -> String {
    let mut bytes = Vec::new();
    let _ = socket.read_to_end(&mut bytes);
    String::from_utf8_lossy(&bytes).into_owned()
}

fn status(answer: &str) -> u16 {
    answer.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0)
}

fn head(path: &str, length: usize, more: &str) -> String {
    format!(
        "POST {path} HTTP/1.1\r\nHost: localhost\r\nOrigin: http://localhost\r\nContent-Length: {length}\r\nConnection: close\r\n{more}\r\n"
    )
}

/// The most memory the program has ever had, MB.
fn peak_mb(server: &Server) -> u64 {
    let text = std::fs::read_to_string(format!("/proc/{}/status", server.pid())).expect("readable");
    let line = text.lines().find(|l| l.starts_with("VmHWM")).expect("a peak");
    line.split_whitespace().nth(1).and_then(|kb| kb.parse::<u64>().ok()).expect("a number") / 1024
}

#[test]
fn what_is_packed_is_refused_before_it_is_unpacked() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    // A megabyte that is a gigabyte of zeros when it is unpacked, as its sender says.
    let bomb = vec![0x1f; 1 << 20];
    for path in
        ["/plan/start", "/api/v1/calc/heat", "/api/v1/readings", "/book/import", "/plan/open", "/bath/fill"]
    {
        for encoding in ["gzip", "deflate", "br", "zstd", "identity, gzip", "x"] {
            let begun = Instant::now();
            let said =
                raw(&server, &head(path, bomb.len(), &format!("Content-Encoding: {encoding}\r\n")), &bomb);
            assert_eq!(status(&said), 415, "{path} {encoding}: {said}");
            assert!(said.contains("without Content-Encoding"), "{said}");
            assert!(begun.elapsed() < Duration::from_secs(5), "{path} {encoding}");
        }
    }
    let plain = raw(
        &server,
        &head("/api/v1/calc/heat", 2, "Content-Encoding: identity\r\nContent-Type: application/json\r\n"),
        b"{}",
    );
    assert_eq!(status(&plain), 422, "{plain}");
    assert!(peak_mb(&server) < 100, "{} MB", peak_mb(&server));
}

#[test]
fn much_is_taken_only_where_files_are_whatever_the_request_calls_it() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let five_mb = vec![b'x'; 5 << 20];
    let kinds = [
        "multipart/form-data; boundary=x",
        "application/x-www-form-urlencoded",
        "text/csv",
        "application/octet-stream",
    ];
    for kind in kinds {
        for path in
            [&format!("{cook}/event"), "/plan/start", "/kitchen", "/devices", "/api/v1/calc/heat", "/units"]
        {
            let said =
                raw(&server, &head(path, five_mb.len(), &format!("Content-Type: {kind}\r\n")), &five_mb);
            assert_eq!(status(&said), 413, "{path} {kind}: {}", &said[..said.len().min(300)]);
        }
    }
    // Fifty of them at once.
    std::thread::scope(|scope| {
        for i in 0..50 {
            let (server, five_mb) = (&server, &five_mb);
            scope.spawn(move || {
                let kind = kinds[i % kinds.len()];
                let path = if i % 2 == 0 { "/book/import" } else { "/plan/start" };
                raw(server, &head(path, five_mb.len(), &format!("Content-Type: {kind}\r\n")), five_mb)
            });
        }
    });
    assert_eq!(server.get("/healthz").body, "ok");
    assert!(peak_mb(&server) < 400, "{} MB", peak_mb(&server));
}

fn device(server: &Server, id: &str, name: &str) -> String {
    token_in(&server.post("/devices", &[("id", id), ("name", name)]).body)
}

const NOTHING: &str = r#"{"readings": []}"#;

fn report(server: &Server, token: &str) -> Reply {
    server.report(token, "application/json", NOTHING)
}

#[test]
fn a_stranger_s_readings_are_not_read_and_a_right_token_is_not_refused_for_his() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let token = device(&server, DEVICE, "circulator");
    // A megabyte is announced, ten bytes come: answered at once, the rest not waited for.
    let begun = Instant::now();
    let more = "Authorization: Bearer hs-nobody\r\nContent-Type: application/json\r\n";
    let said = raw(&server, &head("/api/v1/readings", 1_000_000, more), b"0123456789");
    assert_eq!(status(&said), 401, "{said}");
    assert!(begun.elapsed() < Duration::from_secs(2), "{:?}", begun.elapsed());
    let statuses: Vec<u16> = (0..40).map(|_| report(&server, "hs-nobody").status).collect();
    let refused = statuses.iter().filter(|s| **s == 429).count();
    assert!((5..=15).contains(&refused) && statuses[..25].iter().all(|s| *s == 401), "{statuses:?}");
    let last = report(&server, "hs-nobody");
    assert!(last.status == 429 && !last.header("retry-after").is_empty(), "{}", last.body);
    assert_eq!(report(&server, &token).status, 200, "the same address, a right token");
}

#[test]
fn behind_the_named_proxy_each_address_has_its_own_failures() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start_at(data.path(), NOW, &["--proxy", "127.0.0.1"]);
    let from = |address: &str| {
        let more = format!(
            "Authorization: Bearer hs-nobody\r\nContent-Type: application/json\r\nX-Forwarded-For: {address}\r\n"
        );
        status(&raw(&server, &head("/api/v1/readings", NOTHING.len(), &more), NOTHING.as_bytes()))
    };
    for _ in 0..40 {
        // What whoever sends it says of himself is not what the proxy saw.
        from("198.51.100.7, 192.0.2.1");
    }
    assert_eq!(from("192.0.2.1"), 429);
    assert_eq!(from("192.0.2.2"), 401);
    assert_eq!(from("198.51.100.7"), 401);
}

#[test]
fn a_device_that_reports_without_end_is_told_to_wait_and_another_is_not() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let (one, other) = (device(&server, DEVICE, "one"), device(&server, OTHER, "other"));
    let first_refused = (0..400).position(|_| report(&server, &one).status == 429);
    assert!(first_refused.is_some_and(|n| (240..330).contains(&n)), "{first_refused:?}");
    let said = report(&server, &one);
    assert!(!said.header("retry-after").is_empty() && said.body.contains("240 reports"), "{}", said.body);
    assert_eq!(report(&server, &other).status, 200);
}

#[test]
fn lines_that_never_speak_stop_nobody() {
    let data = tempfile::tempdir().expect("a folder");
    let (folder, log) = (data.path().join("kitchen"), data.path().join("log"));
    // As few descriptors as make a hundred lines.
    let server = Server::start_within("ulimit -n 300", &folder, &["--clock-at", NOW], &log);
    let mut idle = Vec::new();
    for n in 0..700 {
        idle.push(server.socket());
        if n % 50 == 0 {
            assert_eq!(server.get("/healthz").body, "ok", "{n} lines");
        }
    }
    assert_eq!(server.get("/plan").status, 200);
    let cook = server.start_cook(COOK);
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "dropped")]).status, 303);
    drop(idle);
}

#[test]
fn who_downloads_and_never_reads_holds_nothing_anybody_waits_for() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let ask = |path: &str| {
        let mut socket = server.socket();
        write!(socket, "GET {path} HTTP/1.1\r\nHost: localhost\r\n\r\n").expect("sent");
        // The head is enough: then it is being sent.
        let mut begun = [0; 15];
        socket.read_exact(&mut begun).expect("an answer");
        (socket, String::from_utf8_lossy(&begun).into_owned())
    };
    let slow: Vec<_> = [
        "/book/export.json",
        "/kitchen/copy.sqlite3",
        "/book/export.csv",
        "/book/export.json",
        "/book/export.json",
    ]
    .into_iter()
    .map(ask)
    .collect();
    let begun = Instant::now();
    assert_eq!(server.get("/healthz").body, "ok");
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "dropped")]).status, 303);
    assert_eq!(server.get("/board").status, 200);
    assert!(begun.elapsed() < Duration::from_secs(3), "{:?}", begun.elapsed());
    assert!(slow.iter().take(1).all(|s| s.1.contains("200")), "{slow:?}");
    drop(slow);
    // Streams are counted by address too, and said so.
    let streams: Vec<_> = (0..70).map(|_| ask("/events")).collect();
    let refused = streams.iter().filter(|s| s.1.contains("429")).count();
    assert!((5..=15).contains(&refused), "{refused}");
    assert_eq!(server.get("/plan").status, 200);
    drop(streams);
    // Given back once they hang up.
    server.until("a stream again", |_| ask("/events").1.contains("200").then_some(()));
}

#[test]
fn what_is_refused_is_kept_by_nobody() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for path in
        ["/nowhere", "/cook/x", "/cook/019ac000-0000-7000-8000-0000000000ff", "/foods/none", "/plan?food=%00"]
    {
        let reply = server.get(path);
        if reply.status >= 400 {
            assert_eq!(reply.header("cache-control"), "no-store", "{path} {}", reply.status);
        }
    }
}

#[test]
fn an_export_is_its_owner_s_and_an_import_that_left_something_out_says_so() {
    let data = tempfile::tempdir().expect("a folder");
    let (folder, out) = (data.path().join("kitchen"), data.path().join("book.json"));
    let mut server = Server::start(&folder);
    server.start_cook(COOK);
    server.stop();
    let program = || assert_cmd::Command::new(env!("CARGO_BIN_EXE_hold-steady"));
    program().args(["export", "--data"]).arg(&folder).arg("--out").arg(&out).assert().success();
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        assert_eq!(std::fs::metadata(&out).expect("there").permissions().mode() & 0o777, 0o600);
    }
    let text = std::fs::read_to_string(&out).expect("text");
    let import = |text: &str| {
        let file = data.path().join("in.json");
        std::fs::write(&file, text).expect("written");
        let elsewhere = tempfile::tempdir().expect("a folder");
        program().args(["import", "--data"]).arg(elsewhere.path()).arg(file).assert()
    };
    import(&text).success();
    // One cook of two cannot be read: the other is taken, and the shell is told.
    let mut book: serde_json::Value = serde_json::from_str(&text).expect("JSON");
    let cooks = book["cooks"].as_array_mut().expect("a list");
    let mut broken = cooks[0].clone();
    broken["id"] = "019ac000-0000-7000-8000-0000000000aa".into();
    broken["plans"] = "none".into();
    cooks.push(broken);
    let left = import(&book.to_string()).failure();
    let output = left.get_output();
    let said =
        String::from_utf8_lossy(&output.stdout).into_owned() + &String::from_utf8_lossy(&output.stderr);
    assert!(said.contains("1 new") && said.contains("1 left out"), "{said}");
}
