//! The book: exported, imported, and the command line that does the same.

use crate::common::{COOK, Server};
use assert_cmd::Command;
use serde_json::Value;

fn a_finished_cook(server: &Server) {
    let cook = server.start_cook(COOK);
    for (what, when, faces) in [
        ("dropped", "3 h ago", ""),
        ("pulled", "40 min ago", ""),
        ("seared", "20 min ago", "45+45"),
        ("eaten", "15 min ago", ""),
    ] {
        let reply =
            server.post(&format!("{cook}/event"), &[("what", what), ("when", when), ("faces", faces)]);
        assert_eq!(reply.status, 303, "{}", reply.body);
    }
    server
        .post(&format!("{cook}/rating"), &[("centre", "0"), ("tenderness", "5"), ("note", "=1+1, “quoted”")]);
}

fn cooks(json: &str) -> Value {
    serde_json::from_str::<Value>(json).expect("JSON")["cooks"].clone()
}

#[test]
fn the_same_book_comes_out_of_another_kitchen() {
    let (here, there) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(here.path());
    assert!(server.get("/book").body.contains("Nothing is written down yet"));
    a_finished_cook(&server);
    let json = server.get("/book/export.json");
    assert!(json.kind.starts_with("application/json"));
    let other = Server::start(there.path());
    let done = other.upload("/book/import", &json.body);
    assert!(done.status == 200 && done.body.contains("Imported: 1 new"), "{}", done.body);
    assert_eq!(cooks(&other.get("/book/export.json").body), cooks(&json.body));
    assert!(
        other
            .upload("/book/import", &json.body)
            .body
            .contains("0 new, 0 with further records, 1 already here")
    );
    assert_eq!(cooks(&other.get("/book/export.json").body), cooks(&json.body));
    assert_eq!(other.get("/book/export.csv").body, server.get("/book/export.csv").body);
}

#[test]
fn the_table_has_planned_beside_done_and_no_formulas() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    a_finished_cook(&server);
    let csv = server.get("/book/export.csv");
    assert!(csv.kind.starts_with("text/csv"));
    let mut lines = csv.body.lines();
    let header: Vec<&str> = lines.next().expect("a header").split(',').collect();
    assert!(header.contains(&"planned_pull") && header.contains(&"pulled") && header.contains(&"next_time"));
    let row = lines.next().expect("a row");
    assert!(row.contains("beef-strip,32,refrigerator,55.00,whole,no,food-code-2022"), "{row}");
    assert!(row.contains("2026-11-25T16:20:00+01:00"), "local time with its offset: {row}");
    assert!(row.contains("45+45") && row.contains("'=1+1"), "{row}");
}

#[test]
fn what_cannot_be_imported_is_refused_with_line_and_reason() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for (text, reason) in [
        ("{\"format\": \"hold-steady/kitchen\",\n \"version\": }", "line 2"),
        ("{\"format\": \"something/else\", \"version\": 1}", "only “hold-steady/kitchen” can be imported"),
        ("{\"format\": \"hold-steady/kitchen\", \"version\": 99}", "version 99"),
        ("", "Choose a file first"),
        ("[]", "line 1"),
    ] {
        let reply = server.upload("/book/import", text);
        assert_eq!(reply.status, 422, "{text}");
        assert!(reply.body.contains(reason), "{reason} in {}", reply.body);
    }
}

#[test]
fn the_command_line_exports_and_imports_the_same() {
    let (here, there) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(here.path());
    a_finished_cook(&server);
    server.kill();
    let program = || Command::new(env!("CARGO_BIN_EXE_hold-steady"));
    let file = here.path().join("book.json");
    program().args(["export", "--data"]).arg(here.path()).arg("--out").arg(&file).assert().success();
    let import = || {
        let run = program().args(["import", "--data"]).arg(there.path()).arg(&file).assert().success();
        String::from_utf8_lossy(&run.get_output().stdout).into_owned()
    };
    assert!(import().starts_with("1 new"));
    assert!(import().starts_with("0 new, 0 with further records, 1 already here"));
    let out = program().args(["export", "--data"]).arg(there.path()).assert().success();
    let text = String::from_utf8_lossy(&out.get_output().stdout).into_owned();
    assert_eq!(cooks(&text), cooks(&std::fs::read_to_string(&file).expect("written")));
    let bad = program().args(["import", "--data"]).arg(there.path()).arg("/no/such/file").assert().failure();
    assert!(String::from_utf8_lossy(&bad.get_output().stderr).contains("/no/such/file"));
}

#[test]
fn a_file_that_cannot_be_opened_ends_with_what_to_do() {
    let data = tempfile::tempdir().expect("a folder");
    let file = data.path().join("hold-steady.db");
    std::fs::write(&file, "no database at all, only some words about supper").expect("written");
    let before = std::fs::read(&file).expect("readable");
    let run = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .args(["serve", "--port", "0", "--data"])
        .arg(data.path())
        .assert()
        .failure();
    let said = String::from_utf8_lossy(&run.get_output().stderr).into_owned();
    assert!(said.contains("damaged or is not a database") && said.contains("--data"), "{said}");
    assert_eq!(std::fs::read(&file).expect("readable"), before);
}
