//! The calculation interface on the command line and over HTTP: the same answers.

use crate::common::Server;
use assert_cmd::Command;
use serde_json::{Value, json};

fn calc(args: &[&str], input: &str) -> (i32, String) {
    let run = Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .arg("calc")
        .args(args)
        .write_stdin(input)
        .output()
        .expect("runs");
    (run.status.code().unwrap_or(-1), String::from_utf8_lossy(&run.stdout).into_owned())
}

const REQUEST: &str = r#"{"food":"beef-strip","shape":"slab","thickness_mm":25,"start_c":5,"bath_c":55,"until_min":240,"intact":true,"at_risk":false,"profile":"food-code-2022","state":"raw","properties":{"diffusivity_m2_s":1.4e-7,"conductivity_w_mk":0.48},"surface_w_m2k":95}"#;

#[test]
fn the_example_of_the_interface_is_answered() {
    let (status, out) = calc(&["heat"], REQUEST);
    assert_eq!(status, 0);
    let answer: Value = serde_json::from_str(&out).expect("one object");
    assert_eq!(answer["verdict"]["level"], "pasteurized");
    assert_eq!(answer["verdict"]["row"], 6);
    assert_eq!(answer["verdict"]["way_out"], Value::Null);
    assert_eq!(answer["texture"], json!({"best_from_min": 60.0, "best_until_min": 240.0, "basis": "trade"}));
    assert_eq!(answer["curve"].as_array().map(Vec::len), Some(241));
}

#[test]
fn bad_input_is_an_object_with_every_field_and_status_2() {
    let (status, out) = calc(&["heat"], r#"{"food":"beef-strip","thickness_mm":0}"#);
    assert_eq!(status, 2);
    let error: Value = serde_json::from_str(&out).expect("one object");
    let fields: Vec<&str> = error["error"]["fields"]
        .as_array()
        .expect("a list")
        .iter()
        .map(|f| f["field"].as_str().expect("a name"))
        .collect();
    assert_eq!(fields, ["thickness_mm", "start_c", "bath_c"]);
    for input in ["", "{", "[1]", "\u{0}", "{\"food\": \u{1F969}}"] {
        let (status, out) = calc(&["heat"], input);
        assert_eq!(status, 2, "{input:?}");
        assert!(serde_json::from_str::<Value>(&out).expect("an object")["error"]["title"].is_string());
    }
    assert_eq!(calc(&["broth"], "{}").0, 2);
}

#[test]
fn lines_are_answered_in_order_and_a_bad_one_does_not_stop_the_rest() {
    let short = REQUEST.replace("\"until_min\":240", "\"until_min\":30");
    let (status, out) = calc(&["heat", "--lines"], &format!("{REQUEST}\nnonsense\n\n{short}\n"));
    assert_eq!(status, 2);
    let answers: Vec<Value> = out.lines().map(|l| serde_json::from_str(l).expect("an object")).collect();
    assert_eq!(answers.len(), 3);
    assert_eq!(answers[0]["until_min"], 240.0);
    assert!(answers[1]["error"].is_object());
    assert_eq!(answers[2]["until_min"], 30.0);
}

#[test]
fn http_gives_the_same_answer_and_problems_of_its_kind() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let reply = server.send("/api/v1/calc/heat", "application/json; charset=utf-8", REQUEST.as_bytes());
    assert_eq!(reply.status, 200);
    let over_http: Value = serde_json::from_str(&reply.body).expect("an object");
    let on_the_line: Value = serde_json::from_str(&calc(&["heat"], REQUEST).1).expect("an object");
    assert_eq!(over_http, on_the_line);
    let bad = server.send("/api/v1/calc/heat", "application/json", b"{\"food\":7}");
    assert_eq!((bad.status, bad.kind.as_str()), (422, "application/problem+json"));
    let problem: Value = serde_json::from_str(&bad.body).expect("an object");
    assert_eq!(problem["fields"][0]["field"], "food");
    assert_eq!(server.send("/api/v1/calc/heat", "text/plain", REQUEST.as_bytes()).status, 415);
    assert_eq!(server.send("/api/v1/calc/broth", "application/json", b"{}").status, 404);
    assert_eq!(server.send("/api/v1/calc/heat", "application/json", &[0xff, 0xfe, 0x00]).status, 422);
    // No cookie and no origin is looked at.
    let foreign = server.send("/api/v1/calc/heat", "application/json", REQUEST.as_bytes());
    assert_eq!(foreign.cookie, "");
}

#[test]
fn the_description_is_served_and_names_both_calculations() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let reply = server.get("/api/v1/openapi.json");
    let api: Value = serde_json::from_str(&reply.body).expect("an object");
    assert_eq!(reply.status, 200);
    assert!(api["paths"]["/api/v1/calc/heat"].is_object() && api["paths"]["/api/v1/calc/chill"].is_object());
    let request =
        r#"{"food":"chicken-breast","thickness_mm":30,"start_c":60,"method":"ice-bath","mass_kg":2}"#;
    let chilled = server.send("/api/v1/calc/chill", "application/json", request.as_bytes());
    let answer: Value = serde_json::from_str(&chilled.body).expect("an object");
    assert_eq!((chilled.status, &answer["in_time"]), (200, &json!(true)));
    assert_eq!(calc(&["chill"], request).0, 0);
    assert_eq!(calc(&["chill"], "{}").0, 2);
}
