//! The program killed again and again while cooks tap: nothing that was acknowledged is lost, nothing that was
//! sent twice is doubled, and nothing that had been saved is refused when it is sent again. `KILL_ROUNDS` says how often;
//! figures stand in docs/reliability.md.

use std::collections::BTreeSet;
use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::Mutex;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::time::Duration;

use hold_steady_store::{Actor, Role, Store};
use serde_json::Value;
use ureq::Agent;

fn start(data: &Path, port: u16) -> (Child, u16) {
    start_at(data, port, "2026-11-25T16:00:00Z")
}

fn start_at(data: &Path, port: u16, clock: &str) -> (Child, u16) {
    let mut child = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .args(["serve", "--log", "error", "--port", &port.to_string(), "--clock-at", clock, "--data"])
        .arg(data)
        .stdout(Stdio::piped())
        .spawn()
        .expect("the program starts");
    let mut line = String::new();
    BufReader::new(child.stdout.take().expect("piped")).read_line(&mut line).expect("a line");
    let at = line.split("127.0.0.1:").nth(1).unwrap_or_else(|| panic!("no address in {line:?}"));
    (child, at.split('/').next().and_then(|p| p.parse().ok()).expect("a port"))
}

/// A client that waits three seconds and follows nothing.
fn agent() -> Agent {
    let asks = Agent::config_builder().http_status_as_error(false).max_redirects(0);
    asks.timeout_global(Some(Duration::from_secs(3))).build().into()
}

fn id(client: u64, n: u64) -> String {
    format!("019ac{client:03x}-0000-7000-8000-{n:012x}")
}

/// What the clients did.
#[derive(Default)]
struct Tally {
    acknowledged: Mutex<Vec<String>>,
    refused: Mutex<Vec<String>>,
    sent_again: AtomicU64,
}

/// One cook at work: a new piece, in, out, and read while it is held hot, each sent until it is answered.
fn client(number: u64, port: u16, over: &AtomicBool, tally: &Tally) {
    let agent = agent();
    let address = format!("http://127.0.0.1:{port}");
    let mut next = 0;
    // Answered, or the run is over before that.
    let send = |path: &str, form: &[(&str, &str)]| -> bool {
        let mut tries = 0;
        while !over.load(Ordering::Relaxed) || tries == 0 {
            tries += 1;
            let reply = agent
                .post(format!("{address}{path}"))
                .header("Origin", &address)
                .send_form(form.iter().copied());
            match reply.map(|r| r.status().as_u16()) {
                Ok(303) => return true,
                Ok(status @ (400..=499)) => {
                    tally.refused.lock().expect("whole").push(format!("{status} {path} {form:?}"));
                    return false;
                }
                _ => {
                    tally.sent_again.fetch_add(1, Ordering::Relaxed);
                    std::thread::sleep(Duration::from_millis(10));
                }
            }
        }
        false
    };
    while !over.load(Ordering::Relaxed) {
        let mut fresh = || {
            next += 1;
            id(number, next)
        };
        let cook = fresh();
        let plan =
            [("cook", cook.as_str()), ("food", "beef-strip"), ("thickness", "25 mm"), ("intact", "whole")];
        if !send("/plan/start", &plan) {
            continue;
        }
        tally.acknowledged.lock().expect("whole").push(cook.clone());
        let readings = std::iter::repeat_n(("hot-checked", "5 min ago"), 60);
        for (what, when) in [("dropped", "3 h ago"), ("pulled", "10 min ago")].into_iter().chain(readings) {
            let tap = fresh();
            let form = [("tap", tap.as_str()), ("what", what), ("when", when), ("core", "60")];
            if !send(&format!("/cook/{cook}/event"), &form) {
                break;
            }
            tally.acknowledged.lock().expect("whole").push(tap);
        }
        // The run ended before one of them was answered: what follows would be refused with reason.
        if over.load(Ordering::Relaxed) {
            return;
        }
        let tap = fresh();
        if send(&format!("/cook/{cook}/event"), &[("tap", &tap), ("what", "eaten")]) {
            tally.acknowledged.lock().expect("whole").push(tap);
        }
    }
}

#[test]
fn nothing_acknowledged_is_lost_and_nothing_sent_again_is_doubled() {
    let rounds: u64 = std::env::var("KILL_ROUNDS").ok().and_then(|r| r.parse().ok()).unwrap_or(300);
    let data = tempfile::tempdir().expect("a folder");
    let (mut child, port) = start(data.path(), 0);
    let (over, tally) = (AtomicBool::new(false), Tally::default());
    std::thread::scope(|scope| {
        for number in 1..=3 {
            let (over, tally) = (&over, &tally);
            scope.spawn(move || client(number, port, over, tally));
        }
        for round in 0..rounds {
            // Now early, now late in what it is doing.
            std::thread::sleep(Duration::from_millis(30 + (round * 37) % 170));
            child.kill().expect("killed");
            child.wait().expect("gone");
            (child, _) = start(data.path(), port);
        }
        over.store(true, Ordering::Relaxed);
    });
    let address = format!("http://127.0.0.1:{port}");
    let text = ureq::get(format!("{address}/book/export.json")).call().expect("an answer").into_body();
    let book: Value = serde_json::from_reader(text.into_reader()).expect("JSON");
    child.kill().expect("killed");
    child.wait().expect("gone");
    let mut there = Vec::new();
    for cook in book["cooks"].as_array().expect("a list") {
        there.push(cook["id"].as_str().expect("an id").to_owned());
        let events = cook["events"].as_array().expect("a list");
        there.extend(events.iter().map(|e| e["id"].as_str().expect("an id").to_owned()));
        let once = |kind: &str| events.iter().filter(|e| e["kind"] == kind).count();
        assert_eq!(once("started"), 1, "{cook}");
        assert!(once("dropped") <= 1 && once("pulled") <= 1 && once("eaten") <= 1, "{cook}");
        assert!(once("core-read") <= 60, "{cook}");
    }
    let set: BTreeSet<&String> = there.iter().collect();
    assert_eq!(set.len(), there.len(), "nothing is there twice");
    let acknowledged = tally.acknowledged.into_inner().expect("whole");
    let lost: Vec<&String> = acknowledged.iter().filter(|id| !set.contains(id)).collect();
    assert!(lost.is_empty(), "lost: {lost:?}");
    assert_eq!(tally.refused.into_inner().expect("whole"), Vec::<String>::new());
    assert!(acknowledged.len() as u64 > rounds, "it did work: {}", acknowledged.len());
    let again = tally.sent_again.into_inner();
    println!(
        "{rounds} kills, {} acknowledged, {again} sent again, none lost, none doubled, none refused",
        acknowledged.len()
    );
}

#[test]
fn no_reading_that_was_answered_with_success_is_lost() {
    const ROUNDS: u64 = 40;
    let data = tempfile::tempdir().expect("a folder");
    let (mut child, port) = start(data.path(), 0);
    let agent = agent();
    let address = format!("http://127.0.0.1:{port}");
    let form = |path: &str, form: &[(&str, &str)]| {
        let sent = agent.post(format!("{address}{path}")).header("Origin", &address);
        let mut reply = sent.send_form(form.iter().copied()).expect("answered");
        (reply.status().as_u16(), reply.body_mut().read_to_string().expect("text"))
    };
    let (vessel, bath, device) = (id(1, 1), id(1, 2), id(1, 3));
    assert_eq!(form("/bath/vessels", &crate::common::a_box(&vessel, "the box")).0, 303);
    let filled = [("bath", bath.as_str()), ("vessel", &vessel), ("litres", "13"), ("target", "56")];
    assert_eq!(form("/bath/fill", &filled).0, 303);
    let page = form("/devices", &[("id", &device), ("name", "circulator")]).1;
    let token =
        page.split("class=\"token-text\">").nth(1).and_then(|t| t.split('<').next()).expect("a token");
    assert_eq!(form(&format!("/devices/{device}/place"), &[("bath", &bath)]).0, 303);
    let later = "2026-11-25T20:00:00Z";
    child.kill().expect("killed");
    child.wait().expect("gone");
    (child, _) = start_at(data.path(), port, later);
    let over = AtomicBool::new(false);
    let taken = Mutex::new(Vec::new());
    std::thread::scope(|scope| {
        scope.spawn(|| {
            let began: jiff::Timestamp = "2026-11-25T16:00:01Z".parse().expect("an instant");
            let mut n = 0;
            while !over.load(Ordering::Relaxed) && n < 14_000 {
                let at = began.checked_add(jiff::SignedDuration::from_secs(n)).expect("in range");
                let body = format!(
                    r#"{{"readings": [{{"at": "{at}", "celsius": {}}}]}}"#,
                    50.0 + (n % 100) as f64 / 10.0
                );
                let sent = agent
                    .post(format!("{address}/api/v1/readings"))
                    .header("Authorization", format!("Bearer {token}"))
                    .header("Content-Type", "application/json")
                    .send(body.as_str());
                let answered = sent.ok().filter(|r| r.status() == 200);
                let Some(text) = answered.and_then(|mut r| r.body_mut().read_to_string().ok()) else {
                    std::thread::sleep(Duration::from_millis(5));
                    continue;
                };
                let told: Value = serde_json::from_str(&text).expect("JSON");
                // Sent again after a kill it may be there already: that is success too.
                assert_eq!(
                    told["taken"].as_u64().zip(told["known"].as_u64()).map(|(t, k)| t + k),
                    Some(1),
                    "{told}"
                );
                taken.lock().expect("whole").push(at);
                n += 1;
            }
        });
        for round in 0..ROUNDS {
            std::thread::sleep(Duration::from_millis(30 + (round * 53) % 190));
            child.kill().expect("killed");
            child.wait().expect("gone");
            (child, _) = start_at(data.path(), port, later);
        }
        over.store(true, Ordering::Relaxed);
    });
    child.kill().expect("killed");
    child.wait().expect("gone");
    // Past hours are packed and spread again all the while: all of it is read, whichever way it lies.
    let file = data.path().join("hold-steady.db");
    let all = actix_web::rt::System::new().block_on(async {
        let store = Store::open(&file).await.expect("opens");
        let kitchen = store.kitchen(later.parse().expect("an instant"), None, None).await.expect("there").id;
        let here = store.in_kitchen(Actor { kitchen, by: "test".into(), role: Role::Program });
        here.every_reading(bath.parse().expect("an identifier")).await.expect("reads")
    });
    let there: BTreeSet<i64> = all.iter().map(|(at, _)| at.as_microsecond()).collect();
    assert_eq!(there.len(), all.len(), "none is there twice");
    let taken = taken.into_inner().expect("whole");
    let lost: Vec<_> = taken.iter().filter(|at| !there.contains(&at.as_microsecond())).collect();
    assert!(lost.is_empty(), "lost: {lost:?}");
    assert!(taken.len() as u64 > ROUNDS && there.len() - taken.len() <= 1, "{} {}", taken.len(), there.len());
    println!("{ROUNDS} kills, {} readings answered with success, none lost", taken.len());
}
