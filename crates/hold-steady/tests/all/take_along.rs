//! Steps, calendar, print, files and presets against the running server.

use crate::common::{COOK, Server};
use serde_json::Value;

const PRESET: &str = "01a20000-0000-7000-8000-0000000000aa";

#[test]
fn the_work_before_the_bath_is_answered_and_its_faults_named() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let page = server
        .get("/plan?food=apple&typed_in=c-mm&weight=500+g&in_bag=cinnamon,+brandy&air=edge&hold=ballast")
        .body;
    for text in
        ["No salt now", "It floats", "of steel", "Alcohol cannot leave", "second bag", "counter&#39;s edge"]
    {
        assert!(
            page.contains(text)
                || page.contains(&text.replace("&#39;", "’"))
                || page.contains(&text.replace("&#39;", "'")),
            "{text}"
        );
    }
    let bad = server.get("/plan/answer?food=apple&typed_in=c-mm&weight=heavy&salt=50&pieces=many").body;
    for text in ["is not a weight", "is not a share from 0 to 3 %", "is not a whole number from 1 to 60"] {
        assert!(bad.contains(text), "{text}: {bad}");
    }
    let egg = server.get("/plan?food=shell-egg-large&use=soft").body;
    assert!(!egg.contains("name=\"weight\"") && !egg.contains("Salt it"));
}

#[test]
fn a_plan_taken_along_opens_again() {
    let (here, there) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(here.path());
    let file = server.get("/plan/file.json?food=salmon-fillet&parasites=frozen&thickness=30+mm&bath=50+%C2%B0C&weight=300+g&typed_in=c-mm");
    assert!(
        file.kind.starts_with("application/json")
            && file.header("content-disposition").contains("salmon-fillet.plan.json")
    );
    let json: Value = serde_json::from_str(&file.body).expect("JSON");
    assert_eq!(
        (json["format"].as_str(), json["answer"]["verdict"].as_str()),
        (Some("hold-steady/plan"), Some("serve-now"))
    );
    let other = Server::start(there.path());
    let opened = other.upload("/plan/open", &file.body);
    assert_eq!(opened.status, 303, "{}", opened.body);
    let again = other.get(&opened.location).body;
    assert!(
        again.contains("value=\"30 mm\"")
            && again.contains("value=\"300 g\"")
            && again.contains("frozen for parasites")
    );
    // With a food of the kitchen's own, the food comes along.
    let own = "own-01a20000-0000-7000-8000-00000000000b";
    let fields = [
        ("id", own),
        ("name", "Lock salmon"),
        ("thickness", "28 mm"),
        ("water", "68"),
        ("protein", "20"),
        ("fat", "11"),
        ("carbohydrate", "0"),
        ("fibre", "0"),
        ("ash", "1"),
        ("levels", "silky 46 °C"),
        ("windows", "46 °C: 20 min to 60 min"),
    ];
    assert_eq!(server.post("/foods/salmon-fillet/copy", &fields).status, 303);
    let file = server.get(&format!("/plan/file.json?food={own}&parasites=frozen&typed_in=c-mm"));
    let opened = other.upload("/plan/open", &file.body);
    assert!(other.get(&opened.location).body.contains("value=\"Lock salmon\""));
    // A food that is here already stays as it is, whatever a file says of it.
    assert_eq!(
        other.upload("/plan/open", &file.body.replace("Lock salmon", "Somebody's salmon")).status,
        303
    );
    let kept = other.get(&format!("/foods/{own}")).body;
    assert!(kept.contains("Lock salmon") && !kept.contains("Somebody"));
}

#[test]
fn hostile_files_are_refused_with_line_and_reason_and_change_nothing() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for (json, says) in [
        ("", "Choose a file first"),
        ("{\n\"format\": \"hold-steady/plan\",\n\"version\": }", "line 3"),
        ("{\"format\":\"someone/else\",\"version\":1}", "someone/else"),
        ("{\"format\":\"hold-steady/plan\",\"version\":99,\"typed\":{}}", "version 99"),
        ("{\"format\":\"hold-steady/presets\",\"version\":1,\"presets\":[{\"id\":7}]}", "line 1"),
        ("[[[[[[[[", "line 1"),
    ] {
        let reply = server.upload("/plan/open", json);
        assert_eq!(reply.status, 422, "{json}");
        assert!(reply.body.contains(says), "{json}: {says}");
    }
    let script = "{\"format\":\"<script>alert(1)</script>\",\"version\":1}";
    assert!(!server.upload("/plan/open", script).body.contains("<script>alert"));
    assert!(!server.get("/plan").body.contains("preset-"));
}

#[test]
fn presets_are_kept_planned_removed_put_back_and_carried_over() {
    let (here, there) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(here.path());
    let sentence = [
        ("id", PRESET),
        ("name", "Friday steak"),
        ("food", "beef-ribeye"),
        ("thickness", "40 mm"),
        ("bath", "57 °C"),
        ("intact", "whole"),
        ("guests", "at-risk"),
        ("typed_in", "c-mm"),
    ];
    for _ in 0..2 {
        assert_eq!(server.post("/plan/keep", &sentence).status, 303);
    }
    assert_eq!(server.get("/plan").body.matches(&format!("popovertarget=\"preset-{PRESET}\"")).count(), 1);
    let planned = server.get(&format!("/plan/presets/{PRESET}?thickness=35+mm&weight=450+g"));
    assert_eq!(planned.status, 303);
    let page = server.get(&planned.location).body;
    assert!(
        page.contains("value=\"35 mm\"") && page.contains("57 °C") && page.contains("Salt it with 4.5 g")
    );
    let nameless = [&[("id", PRESET), ("name", " ")], &sentence[2..]].concat();
    assert_eq!(server.post("/plan/keep", &nameless).status, 422);
    let file = server.get("/plan/presets.json").body;
    let other = Server::start(there.path());
    assert!(other.upload("/plan/open", &file).body.contains("1 new presets"));
    assert!(other.upload("/plan/open", &file).body.contains("0 new presets"));
    assert!(other.get("/plan").body.contains("Friday steak"));
    // They are in the book's export too.
    let export: Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
    assert_eq!(export["kitchen"]["pantry"]["presets"][0]["name"], "Friday steak");
    let gone = server.post(&format!("/plan/presets/{PRESET}/remove"), &[]);
    assert!(server.get(&gone.location).body.contains("The preset is removed"));
    let mark = format!("preset-{PRESET}");
    assert!(!server.get("/plan").body.contains(&mark));
    assert_eq!(server.post(&format!("/plan/presets/{PRESET}/remove"), &[("restore", "true")]).status, 303);
    assert!(server.get("/plan").body.contains(&mark));
}

#[test]
fn a_salted_batch_is_remembered_by_the_next_plan() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let plan = "/plan?food=pork-chop&intact=whole&weight=300+g&batch=Chops+12+Nov&typed_in=c-mm";
    assert!(server.get(plan).body.contains("Salt it with 3 g"));
    let form = [
        ("cook", COOK),
        ("food", "pork-chop"),
        ("intact", "whole"),
        ("salted", "batch"),
        ("batch", "chops 12 nov"),
        ("typed_in", "c-mm"),
    ];
    assert_eq!(server.post("/plan/start", &form).status, 303);
    let again = server.get(plan).body;
    assert!(
        again.contains("No more salt")
            && again.contains("before it was frozen")
            && !again.contains("Salt it with")
    );
    // And the cook's own list has no salting.
    assert!(!server.get(&format!("/cook/{COOK}")).body.contains("step-salt"));
}

#[test]
fn the_list_is_ticked_and_a_bag_that_floated_is_counted_later() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let post = |fields: &[(&str, &str)]| server.post(&format!("{cook}/event"), fields);
    assert_eq!(post(&[("what", "salted"), ("percent", "1")]).status, 303);
    assert_eq!(post(&[("what", "salted"), ("percent", "1")]).status, 422, "not twice");
    assert_eq!(post(&[("what", "bagged")]).status, 303);
    assert_eq!(post(&[("what", "floated"), ("afloat", "5 min")]).status, 422, "not in the bath yet");
    assert_eq!(post(&[("what", "dropped"), ("when", "50 min ago")]).status, 303);
    let through = |body: &str| {
        let at = body.split("heated through <span class=\"tnum\">").nth(1).expect("a time");
        let (h, m) = at[..5].split_once(':').expect("a time");
        h.parse::<i64>().expect("hours") * 60 + m.parse::<i64>().expect("minutes")
    };
    let before = through(&server.get(&cook).body);
    assert_eq!(post(&[("what", "floated"), ("afloat", "an age")]).status, 422);
    assert_eq!(post(&[("what", "floated"), ("afloat", "20 min")]).status, 303);
    let page = server.get(&cook).body;
    assert!((through(&page) - before - 20).abs() <= 1, "{} {before}", through(&page));
    assert!(page.contains("not counted as cooking") && page.contains("done 1"));
    assert_eq!(post(&[("what", "leaked")]).status, 303);
    assert!(server.get(&cook).body.contains("Written down."));
    assert_eq!(post(&[("what", "floated"), ("afloat", "20 min")]).status, 303);
    assert_eq!(post(&[("what", "floated"), ("afloat", "20 min")]).status, 422, "longer than it was in");
}

#[test]
fn guidance_is_on_until_it_is_dismissed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    assert!(server.get(&cook).body.contains("It looks grey and dull now"));
    let off = server.post("/guide", &[("on", "false"), ("cook", COOK)]);
    assert!(
        off.status == 303 && off.cookie.contains("guide=off") && off.cookie.contains("HttpOnly"),
        "{}",
        off.cookie
    );
    let quiet = server.get_with(&cook, &[("Cookie", "guide=off")]).body;
    assert!(!quiet.contains("It looks grey and dull now") && quiet.contains("Guide me"));
    assert!(
        !server.get_with(&format!("{cook}/print"), &[("Cookie", "guide=off")]).body.contains("It looks grey")
    );
}

#[test]
fn the_print_leads_back_to_the_cook_and_says_when_only_this_machine_can() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let page = server.get(&format!("{cook}/print")).body;
    assert!(
        page.contains("<svg")
            && page.contains(&format!("/cook/{COOK}"))
            && page.contains("on this machine only")
    );
    drop(server);
    let named = Server::start_at(data.path(), crate::common::NOW, &["--host", "kitchen.lan"]);
    let marta = named.come_in(&named.first_code(), "Marta", "three blue kettles");
    let page = named.get_with(&format!("{cook}/print"), &[("Cookie", &marta)]).body;
    assert!(page.contains("http://kitchen.lan:") && !page.contains("on this machine only"));
}
