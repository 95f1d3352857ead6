//! A running cook against the running server.

use crate::common::{COOK, Server};

#[test]
fn a_cook_outlives_the_server_and_its_clocks_go_on() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let dropped = server.post(&format!("{cook}/event"), &[("what", "dropped"), ("when", "16:40")]);
    assert_eq!(dropped.status, 303, "{}", dropped.body);
    server.kill();
    let server = Server::start_at(data.path(), "2026-11-25T17:00:00Z", &[]);
    let page = server.get(&cook);
    assert_eq!(page.status, 200);
    assert!(page.body.contains("dropped") && page.body.contains("16:40"));
    assert!(page.body.contains("estimated centre now"));
    // 80 minutes in, the centre of 34 mm is past 50 °C and not yet at 54.3.
    let centre = page.body.split("centre-now\">").nth(1).and_then(|s| s.split(' ').next()).expect("shown");
    let centre: f64 = centre.parse().expect("a number");
    assert!((48.0..54.5).contains(&centre), "{centre}");
    let list = server.get("/cook");
    assert_eq!((list.status, list.location), (303, cook));
}

#[test]
fn what_is_chilled_is_put_away_and_its_refrigerator_is_read() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let kept = ("id", "019ac000-0000-7000-8000-00000000c01d");
    let nameless = server.post("/keep", &[kept, ("name", " "), ("kind", "freezer")]);
    assert_eq!(nameless.status, 422);
    let made = server.post("/keep", &[kept, ("name", "chest by the door"), ("kind", "freezer")]);
    assert_eq!(made.status, 303, "{}", made.body);
    let address = format!("/keep/{}", kept.1);
    let wrong = server.post(&format!("{address}/read"), &[("degrees", "180")]);
    assert_eq!(wrong.status, 422);
    assert!(wrong.body.contains("from -40 °C to 60 °C") && wrong.body.contains("value=\"180\""));
    assert_eq!(server.post(&format!("{address}/read"), &[("degrees", "-12")]).status, 303);
    let page = server.get(&address).body;
    assert!(page.contains("warmer than -18 °C since") && page.contains("stays safe while it is frozen"));

    let chicken = [("cook", COOK), ("food", "chicken-breast"), ("thickness", "30 mm"), ("bath", "62 °C")];
    let cook = server.post("/plan/start", &chicken).cook_path();
    let tap = |what: &str, when: &str, keep_in: &str| {
        server.post(&format!("{cook}/event"), &[("what", what), ("when", when), ("keep_in", keep_in)])
    };
    assert_eq!(tap("kept", "", kept.1).status, 422, "it was not chilled");
    for (what, when) in [("dropped", "6 h ago"), ("pulled", "3 h ago"), ("chilled", "1 h ago")] {
        assert_eq!(tap(what, when, "").status, 303);
    }
    let page = server.get(&cook).body;
    assert!(page.contains("Use it by") && page.contains("chest by the door"));
    let nowhere = tap("kept", "", "the cellar");
    assert_eq!(nowhere.status, 422);
    assert!(nowhere.body.contains("choose a refrigerator or a freezer"));
    assert_eq!(tap("kept", "", kept.1).status, 303);
    let page = server.get(&cook).body;
    assert!(page.contains("Keep it frozen") && page.contains("Frozen, in chest by the door since"), "{page}");
    // It is kept, no longer under way, and not yet in the book.
    assert!(
        server.get("/keep").body.contains("Chicken breast")
            && server.get(&address).body.contains("Chicken breast")
    );
    assert!(!server.get("/book").body.contains("/book/entry/"));
    assert_eq!(tap("kept", "", "refrigerator").status, 303);
    assert_eq!(tap("eaten", "", "").status, 303);
    assert!(!server.get("/keep").body.contains("Chicken breast"));
    assert!(server.get("/book").body.contains("Chicken breast"));
}

#[test]
fn every_step_is_taken_and_wrong_ones_are_refused_with_what_was_typed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let tap = |what: &str, when: &str, faces: &str| {
        server.post(&format!("{cook}/event"), &[("what", what), ("when", when), ("faces", faces)])
    };
    let early = tap("pulled", "", "");
    assert_eq!(early.status, 422);
    assert!(early.body.contains("needs the drop first"));
    assert_eq!(tap("dropped", "3 h ago", "").status, 303);
    assert_eq!(tap("dropped", "", "").status, 422);
    let before = tap("pulled", "4 h ago", "");
    assert!(
        before.body.contains("cannot come before the drop") && before.body.contains("14:00"),
        "local time"
    );
    assert!(before.body.contains("value=\"4 h ago\""), "what was typed is kept");
    assert_eq!(tap("pulled", "45 min ago", "").status, 303);
    let seared = tap("seared", "30 min ago", "45 + lots");
    assert_eq!(seared.status, 422);
    assert!(seared.body.contains("value=\"45 + lots\""));
    assert_eq!(tap("seared", "30 min ago", "45 + 1 min").status, 303);
    assert_eq!(tap("eaten", "25 min ago", "").status, 303);
    let page = server.get(&cook).body;
    assert!(page.contains("45 + 60 s") && page.contains("How did it come out?"));
    let nothing = server.post(&format!("{cook}/rating"), &[("note", "  ")]);
    assert_eq!(nothing.status, 422);
    let rated =
        server.post(&format!("{cook}/rating"), &[("centre", "-1"), ("crust", "4"), ("note", "<i>good</i>")]);
    assert_eq!((rated.status, rated.location.as_str()), (303, "/book"));
    let id = cook.trim_start_matches("/cook/");
    assert!(server.get("/book").body.contains("a little rare"));
    let book = server.get(&format!("/book/entry/{id}")).body;
    assert!(
        book.contains("a little rare") && book.contains("&#60;i&#62;good") || book.contains("&lt;i&gt;good")
    );
}

fn event_id(page: &str, what: &str) -> String {
    // The correction form of the line that says `what`.
    let line = page.split("<li>").find(|l| l.contains(&format!("log-what\">{what}<"))).expect("the line");
    let at = line.find("name=\"event\" value=\"").expect("its form") + "name=\"event\" value=\"".len();
    line[at..at + 36].to_owned()
}

#[test]
fn a_tap_is_corrected_undone_and_put_back() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cook = server.start_cook(COOK);
    let path = format!("{cook}/event");
    server.post(&path, &[("what", "dropped"), ("when", "1 h ago")]);
    let id = event_id(&server.get(&cook).body, "dropped");
    let corrected = server.post(&path, &[("what", "corrected"), ("event", &id), ("when", "16:10")]);
    assert_eq!(corrected.status, 303, "{}", corrected.body);
    let page = server.get(&cook).body;
    assert!(page.contains("corrected from 16:00") && page.contains(">16:10<"));
    let empty = server.post(&path, &[("what", "corrected"), ("event", &id), ("when", "")]);
    assert!(empty.status == 422 && empty.body.contains("Type the time it really happened"));
    assert_eq!(server.post(&path, &[("what", "undone"), ("event", &id)]).status, 303);
    let page = server.get(&cook).body;
    assert!(page.contains("Put dropped back") && page.contains("Dropped</button>"));
    let undo = page
        .split("log-undone")
        .nth(1)
        .and_then(|s| s.split("name=\"event\" value=\"").nth(1))
        .expect("its form")[..36]
        .to_owned();
    assert_eq!(server.post(&path, &[("what", "undone"), ("event", &undo)]).status, 303);
    assert!(server.get(&cook).body.contains(">16:10<"), "put back as it was corrected");
}

#[test]
fn bad_ids_and_deleted_cooks_have_a_page_with_the_way_back() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for path in [
        "/cook/nonsense",
        "/cook/019ac000-0000-7000-8000-00000000dead",
        "/cook/nonsense/live",
        "/nowhere",
        "/assets/../Cargo.toml",
    ] {
        let page = server.get(path);
        assert_eq!(page.status, 404, "{path}");
        assert!(page.body.contains("href=\"/book\"") || page.body.contains("href=\"/plan\""), "{path}");
    }
    let cook = server.start_cook(COOK);
    let deleted = server.post(&format!("{cook}/event"), &[("what", "deleted")]);
    assert_eq!((deleted.status, deleted.location.as_str()), (303, "/book"));
    let gone = server.get(&cook);
    assert_eq!(gone.status, 410);
    assert!(gone.body.contains("Put it back"));
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "restored")]).location, cook);
    assert_eq!(server.get(&cook).status, 200);
}

#[test]
fn the_strip_says_what_is_next_and_counts_only_what_has_a_time() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let strip = || {
        let page = server.get("/book").body;
        page.split("id=\"next-strip\"")
            .nth(1)
            .and_then(|s| s.split("<main").next())
            .expect("a strip")
            .to_owned()
    };
    assert!(strip().contains("Nothing is in the bath"));
    let cook = server.start_cook(COOK);
    assert!(strip().contains("Drop it in") && strip().contains("data-until"));
    server.post(&format!("{cook}/event"), &[("what", "dropped"), ("when", "150 min ago")]);
    assert!(strip().contains("Pull it when you are ready") && !strip().contains("data-until"));
}

#[test]
fn a_form_sent_twice_starts_one_cook() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    assert_eq!(server.start_cook(COOK), server.start_cook(COOK));
    assert_eq!(server.get("/cook").status, 303, "just one is under way");
}

#[test]
fn what_was_just_tapped_can_be_taken_back_and_what_was_pulled_goes_back_in() {
    let data = tempfile::tempdir().expect("a folder");
    let id = "019ac000-0000-7000-8000-0000000000b7";
    let mut server = Server::start(data.path());
    let path = server.start_cook(id);
    assert_eq!(server.post(&format!("{path}/event"), &[("what", "dropped")]).status, 303);
    let just = |server: &Server| {
        let page = server.get(&path).body;
        let bar = page.split("id=\"just\"").nth(1).and_then(|b| b.split("</form>").next());
        (bar.unwrap_or_default().to_owned(), page)
    };
    let (bar, _) = just(&server);
    assert!(
        bar.contains("Dropped 17:00") && bar.contains(">Undo<") && !bar.contains("Put it back in"),
        "{bar}"
    );
    server.stop();
    // Half an hour later it is pulled by mistake; six minutes later it goes back.
    let server = Server::start_at(data.path(), "2026-11-25T16:30:00Z", &[]);
    assert_eq!(just(&server).0, "", "it is no news any more");
    assert_eq!(
        server.post(&format!("{path}/event"), &[("what", "pulled"), ("when", "6 min ago")]).status,
        303
    );
    let (bar, page) = just(&server);
    assert!(bar.contains("Pulled 17:24") && bar.contains("Put it back in"), "{bar}");
    assert!(page.contains("It has been out for 6 min. Put back now, it is pulled again at"), "{page}");
    let tap = "019ac000-0000-7000-8000-0000000000b8";
    for _ in 0..2 {
        assert_eq!(server.post(&format!("{path}/event"), &[("what", "back-in"), ("tap", tap)]).status, 303);
    }
    let (bar, page) = just(&server);
    assert!(bar.contains("Back in the bath 17:30") && !bar.contains("Undo"), "{bar}");
    assert!(page.contains("up to 7 min not counted as cooking"), "{page}");
    assert_eq!(page.matches("Put pulled back").count(), 1);
    // It is in: there is nothing to put back.
    let again = server.post(&format!("{path}/event"), &[("what", "back-in")]);
    assert!(again.status == 422 && again.body.contains("Only what was just pulled"), "{}", again.status);
}

/// Three presses and a value, from the cook's own page, whatever its bath is: what lies in it is reckoned anew.
#[test]
fn a_bath_that_was_off_is_told_on_the_page_of_what_lies_in_it() {
    let data = tempfile::tempdir().expect("a folder");
    let mut server = Server::start(data.path());
    let path = server.start_cook("019ac000-0000-7000-8000-0000000000c7");
    let early = server.post(&format!("{path}/event"), &[("what", "bath-off"), ("degrees", "50")]);
    assert!(early.status == 422 && early.body.contains("It lies in no bath yet"), "{}", early.status);
    assert_eq!(server.post(&format!("{path}/event"), &[("what", "dropped")]).status, 303);
    server.stop();
    let server = Server::start_at(data.path(), "2026-11-25T16:40:00Z", &[]);
    let through =
        |server: &Server| server.get(&format!("{path}/live")).body.contains("It is heated through then.");
    assert!(through(&server));
    assert!(server.get(&path).body.contains("since it was last heard of, 17:00"));
    let told = |fields: &[(&str, &str)]| {
        let all: Vec<(&str, &str)> = [("what", "bath-off")].iter().chain(fields).copied().collect();
        server.post(&format!("{path}/event"), &all)
    };
    // What cannot be is refused beside what was typed.
    for (fields, why) in [
        (&[("from", "20 min ago"), ("degrees", "")][..], "What it reads now says how far it fell"),
        (
            &[("from", "10 min ago"), ("until", "20 min ago"), ("degrees", "50")],
            "It cannot have been off from",
        ),
        (&[("from", "soon"), ("degrees", "50")], "soon"),
        (&[("from", "20 min ago"), ("degrees", "500")], "500"),
    ] {
        let answer = told(fields);
        assert!(answer.status == 422 && answer.body.contains(why), "{fields:?}: {}", answer.status);
        assert!(answer.body.contains(&format!("name=\"from\" value=\"{}\"", fields[0].1)), "{fields:?}");
    }
    assert!(through(&server), "nothing was written");
    let tap = ("tap", "019ac000-0000-7000-8000-0000000000c8");
    for _ in 0..2 {
        assert_eq!(told(&[("from", "20 min ago"), ("degrees", "51.5"), tap]).status, 303);
    }
    let stands = server.get(&format!("{path}/live")).body;
    assert!(!through(&server) && stands.contains("bath read 51.5 °C"), "{stands}");
    let export: serde_json::Value =
        serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
    let book = export.to_string();
    assert_eq!(book.matches("\"off\"").count(), 1, "{book}");
    assert!(book.contains("its own display"));
}
