//! Small requests with large costs: what is packed, what is too large, who asks too often, who opens lines and never speaks,
//! who downloads and never reads. (The project's own limits; RFC 9110 and RFC 6585 for the statuses.)

use std::io::{Read, Write};
use std::net::TcpStream;
use std::time::{Duration, Instant};

use crate::common::{COOK, NOW, Reply, Server, token_in};

const DEVICE: &str = "019ac000-0000-7000-8000-0000000000e3";
const OTHER: &str = "019ac000-0000-7000-8000-0000000000e4";

/// Sends these bytes, and what came back.
fn raw(server: &Server, head: &str, body: &[u8]) -> String {
    let mut socket = server.socket();
    // Long enough for a machine that is busy: whatever answers closes the line.
    socket.set_read_timeout(Some(Duration::from_secs(120))).expect("set");
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

const BOX: &str = "019ac000-0000-7000-8000-0000000000e1";
const BATH: &str = "019ac000-0000-7000-8000-0000000000e2";

/// A bath with a thermometer of ours. Gives the address of its log, and the thermometer.
fn a_bath(server: &Server) -> (String, String) {
    assert_eq!(server.post("/bath/vessels", &crate::common::a_box(BOX, "the box")).status, 303);
    let filled = [("bath", BATH), ("vessel", BOX), ("litres", "12"), ("target", "57")];
    assert_eq!(server.post("/bath/fill", &filled).status, 303);
    assert_eq!(server.post("/bath/thermometers", &[("id", OTHER), ("name", "pen")]).status, 303);
    (format!("/bath/runs/{BATH}/log"), OTHER.to_owned())
}

#[test]
fn a_log_as_long_as_it_may_be_is_held_once_and_fifty_of_them_two_at_a_time() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let (path, thermometer) = a_bath(&server);
    // Every character of it escaped, to the last byte there may be.
    let mut log = format!("thermometer={thermometer}&unit=c&log=time%3Bcelsius%0A").into_bytes();
    let mut minute = 0;
    while log.len() < (32 << 20) - 60 {
        let (day, hour) = (1 + minute / 1440 % 28, minute / 60 % 24);
        log.extend(
            format!("2026-02-{day:02}+{hour:02}%3A{:02}%3B57%2C{}%0A", minute % 60, minute % 10).bytes(),
        );
        minute += 1;
    }
    let form = "Content-Type: application/x-www-form-urlencoded\r\n";
    let said = raw(&server, &head(&path, log.len(), form), &log);
    assert_eq!(status(&said), 200, "{}", &said[..said.len().min(400)]);
    assert!(said.contains("Only 50000 lines are read at once"), "the rest is said not to be read");
    assert!(said.len() < 12 << 20, "what was not read is not sent back: {}", said.len());
    assert!(peak_mb(&server) < 100, "{} MB", peak_mb(&server));
    // One byte more than may be.
    let too_long = vec![b'x'; (32 << 20) + 1];
    assert_eq!(status(&raw(&server, &head(&path, too_long.len(), form), &too_long)), 413);
    let told: Vec<u16> = std::thread::scope(|scope| {
        let all = (0..50).map(|_| scope.spawn(|| status(&raw(&server, &head(&path, log.len(), form), &log))));
        let all: Vec<_> = all.collect();
        all.into_iter().map(|one| one.join().expect("sent")).collect()
    });
    assert!(told.iter().all(|s| [0, 200, 503].contains(s)), "{told:?}");
    assert_eq!(server.get("/healthz").body, "ok");
    assert!(peak_mb(&server) < 400, "{} MB", peak_mb(&server));
}

/// A form that brings in a book.
fn book_form(book: &[u8]) -> (String, Vec<u8>) {
    let mut body =
        b"--x\r\nContent-Disposition: form-data; name=\"file\"; filename=\"book.json\"\r\n\r\n".to_vec();
    body.extend_from_slice(book);
    body.extend_from_slice(b"\r\n--x--\r\n");
    (head("/book/import", body.len(), "Content-Type: multipart/form-data; boundary=x\r\n"), body)
}

#[test]
fn a_long_book_is_brought_in_without_being_held_one_at_a_time_and_no_longer_one_than_may_be() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let book = |cooks: &str| {
        let kitchen = r#""kitchen": {"name": "Galley", "time_zone": "UTC"}"#;
        format!(
            r#"{{"format": "hold-steady/kitchen", "version": 8, "exported_at": "{NOW}", {kitchen}, "cooks": [{cooks}]}}"#
        )
    };
    // Forty records of a megabyte each, none of which is a cook.
    let room = vec![format!("{{{}}}", " ".repeat(1 << 20)); 40].join(",");
    let (start, body) = book_form(book(&room).as_bytes());
    // Another, while that one comes; where the other was there first, both are sent again.
    let (other, short) = book_form(b"{}");
    let end = Instant::now() + Duration::from_secs(60);
    let mut first = loop {
        let mut first = server.socket();
        first.set_read_timeout(Some(Duration::from_secs(120))).expect("set");
        first.write_all(start.as_bytes()).and_then(|()| first.write_all(&body[..1 << 20])).expect("begun");
        let said = raw(&server, &other, &short);
        if status(&said) == 429 {
            break first;
        }
        assert!(Instant::now() < end, "two are brought in at once: {}", &said[..said.len().min(300)]);
    };
    first.write_all(&body[1 << 20..]).expect("sent");
    let said = answer(&mut first);
    assert!(said.contains("Imported: 0 new") && said.contains("40 left out"), "{said}");
    assert!(peak_mb(&server) < 100, "{} MB", peak_mb(&server));
    // A byte more than may be is not waited for to its end.
    let (start, body) = book_form(&vec![b' '; (128 << 20) + 1]);
    let said = raw(&server, &start, &body);
    assert_eq!(status(&said), 413, "{said}");
    assert!(said.contains("at the command line"), "the way out is said: {said}");
    // One record that is larger than a record may be.
    let record = format!(r#""{}""#, "x".repeat(17 << 20));
    let (start, body) = book_form(book(&record).as_bytes());
    let said = raw(&server, &start, &body);
    assert!(said.contains("one record is larger than 16 MB"), "{said}");
    // One that is small and would be large in memory.
    let record = format!(
        r#"{{"id": "{DEVICE}", "pieces": [{{"plans": [{{"result": [{}0]}}]}}]}}"#,
        "0,".repeat(7 << 20)
    );
    let (start, body) = book_form(book(&record).as_bytes());
    let said = raw(&server, &start, &body);
    assert!(said.contains("more values than any record"), "{said}");
    let pantry = format!(r#""Galley", "pantry": {{"foods": [{}0]}}"#, "0,".repeat(7 << 20));
    let (start, body) = book_form(book("").replace("\"Galley\"", &pantry).as_bytes());
    let said = raw(&server, &start, &body);
    assert!(said.contains("kitchen: it holds more values than any record"), "{said}");
    assert!(peak_mb(&server) < 100, "{} MB", peak_mb(&server));
    let left = std::fs::read_dir(data.path()).expect("lists").map(|e| e.expect("one").file_name());
    assert!(left.into_iter().all(|n| !n.to_string_lossy().contains("tmp")), "nothing is left behind");
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
    let post = head("/api/v1/readings", 1_000_000, more);
    // However it is sent.
    for sent in [post.replacen("POST", "PUT", 1), post] {
        let said = raw(&server, &sent, b"0123456789");
        assert_eq!(status(&said), 401, "{said}");
    }
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
    // What is refused is looked at itself: four more are allowed each second, and a busy machine is soon a second later.
    let begun = Instant::now();
    let (taken, refused) = (0..2_000)
        .map(|n| (n, report(&server, &one)))
        .find(|(_, said)| said.status == 429)
        .expect("a refusal");
    let allowed = 240 + (begun.elapsed().as_secs_f64() * 4.0).ceil() as usize + 1;
    assert!((240..=allowed).contains(&taken), "{taken} of {allowed}");
    assert!(
        !refused.header("retry-after").is_empty() && refused.body.contains("240 reports"),
        "{}",
        refused.body
    );
    assert_eq!(report(&server, &other).status, 200);
}

#[test]
fn lines_that_never_speak_stop_nobody() {
    let data = tempfile::tempdir().expect("a folder");
    let (folder, log) = (data.path().join("kitchen"), data.path().join("log"));
    // As few descriptors as make a hundred lines.
    let server = Server::start_within("ulimit -n 300", &folder, &["--clock-at", NOW], &log).with_new_lines();
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
