//! The demonstration: invented once, left alone after, invented again when asked.

use std::io::{BufRead, BufReader, Read};
use std::path::Path;
use std::process::{Child, Command, Stdio};

struct Demo(Child, String);

impl Demo {
    fn start(folder: &Path, more: &[&str]) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
            .args(["demo", "--port", "0", "--clock-at", "2026-11-25T16:00:00Z", "--data"])
            .arg(folder)
            .args(more)
            .stdout(Stdio::piped())
            .spawn()
            .expect("the program starts");
        let mut line = String::new();
        BufReader::new(child.stdout.take().expect("piped")).read_line(&mut line).expect("a line");
        let at = line.find("http://").unwrap_or_else(|| panic!("no address in {line:?}"));
        let address = line[at..].split_whitespace().next().expect("an address").trim_end_matches('/');
        Self(child, address.to_owned())
    }

    fn get(&self, path: &str) -> String {
        let mut body = String::new();
        let answer = ureq::get(format!("{}{path}", self.1)).call().expect("an answer");
        answer.into_body().into_reader().read_to_string(&mut body).expect("text");
        body
    }
}

impl Drop for Demo {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

#[test]
fn it_has_a_plan_a_running_cook_and_a_book_and_is_seeded_once() {
    let folder = tempfile::tempdir().expect("a folder");
    let demo = Demo::start(folder.path(), &["--still"]);
    let book = demo.get("/book");
    assert_eq!(book.matches("class=\"entry\"").count(), 16);
    assert!(book.contains("Demonstration, invented data") && book.contains("next time"));
    let board = demo.get("/cook");
    assert!(board.contains("the weir tank") && board.contains("warming through until"), "{board}");
    let export = |d: &Demo| -> serde_json::Value {
        serde_json::from_str::<serde_json::Value>(&d.get("/book/export.json")).expect("JSON")["cooks"].clone()
    };
    let first = export(&demo);
    assert_eq!(first.as_array().map(Vec::len), Some(18));
    drop(demo);
    let again = Demo::start(folder.path(), &["--still"]);
    assert_eq!(export(&again), first, "left as it was");
    drop(again);
    let fresh = Demo::start(folder.path(), &["--fresh", "--still"]);
    assert_ne!(export(&fresh), first, "invented again");
    // Its data stays in a file of its own: a kitchen in the same folder knows nothing of it.
    assert!(
        folder.path().join("hold-steady-demo.db").exists() && !folder.path().join("hold-steady.db").exists()
    );
}

#[test]
fn verdicts_of_the_invented_evenings_are_computed_and_of_several_kinds() {
    let folder = tempfile::tempdir().expect("a folder");
    let demo = Demo::start(folder.path(), &[]);
    let csv = demo.get("/book/export.csv");
    let rows: Vec<&str> = csv.lines().skip(1).filter(|l| l.contains("hold-steady ")).collect();
    assert_eq!(rows.len(), 16);
    assert!(
        rows.iter().any(|r| r.contains(",pasteurized,")) && rows.iter().any(|r| r.contains(",serve-now,"))
    );
    assert!(
        rows.iter().all(|r| !r.contains(",refused,")),
        "nobody in the demonstration serves what is refused"
    );
}

#[test]
fn its_circulators_report_by_themselves_also_after_another_start() {
    let folder = tempfile::tempdir().expect("a folder");
    for _ in 0..2 {
        let demo = Demo::start(folder.path(), &[]);
        let readings = |d: &Demo| d.get("/bath").matches("read with circulator").count();
        assert_eq!(readings(&demo), 2);
        let reported = |d: &Demo| {
            let json: serde_json::Value = serde_json::from_str(&d.get("/book/export.json")).expect("JSON");
            let hours = json["readings"].as_array().expect("hours");
            hours.iter().map(|h| h["readings"].as_array().map_or(0, Vec::len)).sum::<usize>()
        };
        let before = reported(&demo);
        let end = std::time::Instant::now() + std::time::Duration::from_secs(30);
        while reported(&demo) < before + 4 {
            assert!(std::time::Instant::now() < end, "they do not report");
            std::thread::sleep(std::time::Duration::from_millis(300));
        }
    }
}
