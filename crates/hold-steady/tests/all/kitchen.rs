//! The kitchen's own page: its name, how it works, who works there, its copies. (The project's own rules.)

use crate::common::{COOK, Server};
use serde_json::Value;

const IDA: &str = "019ac500-0000-7000-8000-0000000000a1";

fn export(server: &Server) -> Value {
    serde_json::from_str(&server.get("/book/export.json").body).expect("JSON")
}

#[test]
fn habits_stand_in_new_sentences_and_nothing_else() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let chosen = [("units", "f-in"), ("guests", "at-risk"), ("salting", "after"), ("air", "vacuum")];
    assert_eq!(server.post("/kitchen/habits", &chosen).status, 303);
    let fresh = server.get("/plan").body;
    assert!(
        fresh.contains("°F") && fresh.contains(r#"<option value="at-risk" selected>"#),
        "the habits stand"
    );
    assert!(fresh.contains(r#"<option value="after" selected>"#));
    // Who says otherwise is heard, and a reader's own units stay the reader's.
    let said = server.get_with("/plan?guests=well&intact=whole", &[("cookie", "units=c-mm")]).body;
    assert!(
        said.contains("°C") && said.contains(r#"<option value="well" selected>"#),
        "a plan says otherwise"
    );
    // What cannot be is named beside its field, and nothing is kept of it.
    let wrong =
        server.post("/kitchen/habits", &[("units", "k-ly"), ("guests", "well"), ("salting", "weekly")]);
    assert_eq!(wrong.status, 422);
    assert!(wrong.body.contains("Choose °C or °F") && wrong.body.contains("Choose one of the list"));
    assert_eq!(export(&server)["kitchen"]["habits"]["air"], "vacuum");
    // It outlives the server.
    drop(server);
    let server = Server::start(data.path());
    assert!(server.get("/plan").body.contains(r#"<option value="at-risk" selected>"#));
}

#[test]
fn people_stand_beside_what_they_did_and_leave_without_taking_it_along() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for _ in 0..2 {
        let kept = server.post("/kitchen/people", &[("id", IDA), ("name", " Ida  Lund"), ("initials", "")]);
        assert_eq!(kept.status, 303, "{}", kept.body);
    }
    let twin = [("id", "019ac500-0000-7000-8000-0000000000a2"), ("name", "Ida Lund")];
    let refused = server.post("/kitchen/people", &twin);
    assert!(refused.status == 422 && refused.body.contains("tells the two apart"), "{}", refused.status);
    assert!(refused.body.contains(r#"value="Ida Lund""#), "nothing typed is lost");
    let nobody = server.post("/kitchen/people", &[("id", IDA), ("name", "")]);
    assert!(nobody.status == 422 && nobody.body.contains("is not a name"));
    // What is tapped on her device is hers.
    let device = server.post("/kitchen/device", &[("person", IDA)]);
    assert!(
        device.header("set-cookie").starts_with(&format!("person={IDA}")),
        "{}",
        device.header("set-cookie")
    );
    let cook = server.start_cook(COOK);
    let cookie = format!("person={IDA}");
    let tap = [("what", "dropped"), ("when", "")];
    assert_eq!(server.post_as(&format!("{cook}/event"), &tap, &cookie).status, 303);
    let by = |e: &Value| e["by"]["name"].as_str().unwrap_or_default().to_owned();
    let told: Vec<String> =
        export(&server)["cooks"][0]["events"].as_array().expect("a list").iter().map(by).collect();
    assert_eq!(told, ["kitchen", "Ida Lund"]);
    // She leaves: off the list, her name stays where it stood, and her device is nobody's in particular.
    assert_eq!(server.post(&format!("/kitchen/people/{IDA}/left"), &[]).status, 303);
    assert!(!server.get("/kitchen").body.contains("Ida Lund"));
    assert_eq!(server.post_as(&format!("{cook}/event"), &[("what", "leaked")], &cookie).status, 303);
    let book = export(&server);
    let told: Vec<String> = book["cooks"][0]["events"].as_array().expect("a list").iter().map(by).collect();
    assert_eq!(told, ["kitchen", "Ida Lund", "kitchen"]);
    assert_eq!(book["kitchen"]["people"][0]["initials"], "IL");
    let changes: Vec<&str> = book["changes"]
        .as_array()
        .expect("a list")
        .iter()
        .filter_map(|c| c["change"]["kind"].as_str())
        .collect();
    assert_eq!(changes, ["named", "person-kept", "person-left"]);
    let unknown = server.post("/kitchen/people/019ac500-0000-7000-8000-0000000000ff/left", &[]);
    assert_eq!(unknown.status, 400);
}

#[test]
fn it_is_named_in_its_own_time_zone_and_a_wrong_one_is_named() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let named = [("kitchen", "Harbour  galley"), ("zone", "Asia/Kathmandu")];
    assert_eq!(server.post("/kitchen/name", &named).status, 303);
    let page = server.get("/kitchen").body;
    assert!(page.contains("Harbour galley") && page.contains(r#"data-zone="Asia/Kathmandu""#));
    for (name, zone, text) in
        [("", "UTC", "1 to 60 letters"), ("Galley", "Mars/Olympus", "is not a time zone")]
    {
        let wrong = server.post("/kitchen/name", &[("kitchen", name), ("zone", zone)]);
        assert!(wrong.status == 422 && wrong.body.contains(text), "{name} {zone}: {}", wrong.status);
        assert!(wrong.body.contains(&format!(r#"value="{zone}""#)), "nothing typed is lost");
    }
    assert!(server.get("/plan").body.contains("Harbour galley"));
}

#[test]
fn a_copy_of_everything_is_a_database_that_can_be_put_back() {
    let (data, elsewhere) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let copy = server.get_bytes("/kitchen/copy.sqlite3");
    assert!(copy.starts_with(b"SQLite format 3\0"), "{} bytes", copy.len());
    let file = elsewhere.path().join("copy.sqlite3");
    std::fs::write(&file, &copy).expect("written");
    let there = elsewhere.path().join("there");
    assert_cmd::Command::new(env!("CARGO_BIN_EXE_hold-steady"))
        .args(["restore", "--data"])
        .arg(&there)
        .arg(&file)
        .assert()
        .success();
    let other = Server::start(&there);
    assert_eq!(other.get(&cook).status, 200);
    // No copy of the copy is left beside the book.
    let left = std::fs::read_dir(data.path()).expect("a folder").filter_map(Result::ok);
    let left: Vec<_> =
        left.map(|f| f.file_name()).filter(|n| n.to_string_lossy().contains("copy-")).collect();
    assert!(left.is_empty(), "{left:?}");
}
