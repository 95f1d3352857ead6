//! The bath bench against the running server: hostile and mistyped input, taps sent twice, water that was emptied.

use crate::common::{COOK, NOW, Server};
use serde_json::Value;

const COOLER: &str = "019ac000-0000-7000-8000-0000000000c1";
const PROBE: &str = "019ac000-0000-7000-8000-0000000000c2";
const BATH: &str = "019ac000-0000-7000-8000-0000000000c3";
const TAP: &str = "019ac000-0000-7000-8000-0000000000c4";

/// A cooler of about 19 l that may be 80 °C, named so, and a thermometer that reads right at 57 °C.
fn kitchen(server: &Server, name: &str) {
    let form = [
        ("id", COOLER),
        ("new", "true"),
        ("name", name),
        ("shape", "sides"),
        ("across", "370 mm"),
        ("width", "240 mm"),
        ("depth", "260 mm"),
        ("min", "80 mm"),
        ("max", "220 mm"),
        ("wall", "cooler"),
        ("cover", "lid"),
        ("heat", "none"),
        ("water", "still"),
        ("highest", "80 °C"),
    ];
    let kept = server.post("/bath/vessels", &form);
    assert_eq!(kept.status, 303, "{}", kept.body);
    assert_eq!(server.post("/bath/thermometers", &[("id", PROBE), ("name", "thin probe")]).status, 303);
    let check = [("id", TAP), ("against", "reference"), ("read", "57.0"), ("is", "57.0")];
    assert_eq!(server.post(&format!("/bath/thermometers/{PROBE}/check"), &check).status, 303);
}

fn fill(server: &Server, bath: &str, target: &str) -> crate::common::Reply {
    server.post("/bath/fill", &[("bath", bath), ("vessel", COOLER), ("litres", "15"), ("target", target)])
}

/// The page of the run, and where it is.
fn run(server: &Server) -> (String, String) {
    let filled = fill(server, BATH, "61");
    assert_eq!(filled.status, 303, "{}", filled.body);
    let page = server.get(&filled.location);
    assert_eq!(page.status, 200, "{}", page.body);
    (filled.location, page.body)
}

fn lines(page: &str) -> usize {
    let log = page.split("class=\"run-log\"").nth(1).expect("a log");
    log.split("</ol>").next().map_or(0, |log| log.matches("<li>").count())
}

#[test]
fn what_cannot_be_a_reading_is_refused_beside_its_field_and_kept_as_typed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    kitchen(&server, "the blue box");
    let (path, before) = run(&server);
    for typed in
        ["", "hot", "NaN", "inf", "-40", "400", "1e9", "55 °C'; DROP TABLE reading", "<b>55</b>", "๕๕"]
    {
        let form = [("thermometer", PROBE), ("degrees", typed)];
        let refused = server.post(&format!("{path}/read"), &form);
        assert_eq!(refused.status, 422, "{typed}: {}", refused.body);
        assert!(
            refused.body.contains("aria-invalid=\"true\"") && !refused.body.contains("<b>55</b>"),
            "{typed}"
        );
        assert!(typed != "400" || refused.body.contains("value=\"400\""), "{}", refused.body);
    }
    let nobody = [("thermometer", COOK), ("degrees", "61")];
    assert_eq!(server.post(&format!("{path}/read"), &nobody).status, 404);
    let tomorrow = [("thermometer", PROBE), ("degrees", "61"), ("when", "in an hour")];
    assert_eq!(server.post(&format!("{path}/read"), &tomorrow).status, 422);
    for (what, more) in
        [("added", ("litres", "-1")), ("added", ("litres", "9e9")), ("opened", ("min", "never"))]
    {
        let form = [("what", what), more, ("degrees", "95 °C")];
        assert_eq!(server.post(&format!("{path}/water"), &form).status, 422, "{what} {more:?}");
    }
    assert_eq!(server.post(&format!("{path}/water"), &[("what", "boiled away")]).status, 422);
    assert_eq!(lines(&server.get(&path).body), lines(&before), "nothing of that was written down");
    for lost in [format!("/bath/runs/{COOK}"), "/bath/runs/1".into(), format!("/bath/vessels/{COOK}")] {
        assert_eq!(server.get(&lost).status, 404, "{lost}");
    }
}

#[test]
fn a_tap_sent_twice_happened_once_and_nothing_happens_to_water_that_was_emptied() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    kitchen(&server, "the blue box");
    let (path, before) = run(&server);
    let added = [("what", "added"), ("litres", "0.5 l"), ("degrees", "95 °C"), ("tap", TAP)];
    for _ in 0..3 {
        assert_eq!(server.post(&format!("{path}/water"), &added).status, 303);
        let read = [("thermometer", PROBE), ("degrees", "61.2"), ("when", "16:00")];
        let read_at = server.post(&format!("{path}/read"), &read);
        assert_eq!(read_at.status, 303, "{}", read_at.body);
    }
    assert_eq!(lines(&server.get(&path).body), lines(&before) + 2);
    // A second tab fills the same vessel: it is the bath that runs.
    assert_eq!(fill(&server, COOK, "58").location, path);
    // Food lies in it: it stays full until that is out.
    let cook = server.cook_in(COOK, COOLER, ("beef-strip", "32 mm", "57 °C"));
    let emptied = [("what", "emptied")];
    let refused = server.post(&format!("{path}/water"), &emptied);
    assert!(refused.status == 422 && refused.body.contains("Pull it first"), "{}", refused.body);
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "discarded")]).status, 303);
    assert_eq!(server.post(&format!("{path}/water"), &emptied).status, 303);
    let after = server.post(&format!("{path}/read"), &[("thermometer", PROBE), ("degrees", "60")]);
    assert!(after.status == 422 && after.body.contains("was emptied"), "{}", after.body);
}

#[test]
fn what_was_done_to_water_is_undone_put_back_and_corrected_and_what_cannot_have_been_is_refused() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    kitchen(&server, "the blue box");
    let (path, _) = run(&server);
    let done = |what: &str, more: &[(&str, &str)]| {
        let form: Vec<(&str, &str)> = [("what", what)].into_iter().chain(more.iter().copied()).collect();
        server.post(&format!("{path}/water"), &form)
    };
    // More than there is, more than it holds, and before it was filled.
    let refused = done("taken-off", &[("litres", "500 l")]);
    assert!(
        refused.status == 422 && refused.body.contains("500 l taken off: there were"),
        "{}",
        refused.body
    );
    let refused = done("added", &[("litres", "400 l"), ("degrees", "60 °C")]);
    assert!(refused.status == 422 && refused.body.contains("to its rim"), "{}", refused.body);
    assert_eq!(done("taken-off", &[("litres", "2 l")]).status, 303);
    let page = server.get(&path).body;
    let event = |page: &str, near: &str| {
        let from = page.find(near).unwrap_or_else(|| panic!("no {near} in {page}"));
        let at = page[from..].find("name=\"event\" value=\"").expect("an event")
            + from
            + "name=\"event\" value=\"".len();
        page[at..at + 36].to_owned()
    };
    let took = event(&page, "took off 2 l");
    let early = done("corrected", &[("event", &took), ("when", "60 min ago")]);
    assert!(early.status == 422 && early.body.contains("It was filled at"), "{}", early.body);
    assert_eq!(done("corrected", &[("event", &took)]).status, 422, "when?");
    // Undone it never was; undone again is refused; put back it stands.
    assert_eq!(done("undone", &[("event", &took)]).status, 303);
    let page = server.get(&path).body;
    assert!(page.contains("<s>took off 2 l</s>") && page.contains("put back"), "{page}");
    let again = done("undone", &[("event", &took)]);
    assert!(again.status == 422 && again.body.contains("undone already"), "{}", again.body);
    let undoing = event(&page, "<s>took off 2 l</s>");
    assert_eq!(done("undone", &[("event", &undoing)]).status, 303);
    let page = server.get(&path).body;
    assert!(!page.contains("<s>took off 2 l</s>") && page.contains("took off 2 l"), "{page}");
    // When it was filled is when the run began, and what another bath's water underwent is nobody's here.
    assert_eq!(done("undone", &[("event", COOK)]).status, 422);
    // All of it travels with the book.
    let book: serde_json::Value = serde_json::from_str(&server.get("/book/export.json").body).expect("JSON");
    let kinds: Vec<&str> = book["baths"][0]["water"]
        .as_array()
        .expect("a list")
        .iter()
        .filter_map(|e| e["kind"].as_str())
        .collect();
    assert_eq!(kinds.iter().filter(|k| **k == "undone").count(), 2, "{kinds:?}");
}

#[test]
fn nothing_is_filled_set_aimed_or_planned_hotter_than_its_vessel_may_be() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    kitchen(&server, "the blue box");
    let bench = server.get(&format!("/bath/vessels/{COOLER}?target=85+%C2%B0C")).body;
    assert!(bench.contains("is used up to 80 °C only") && !bench.contains("action=\"/bath/fill\""));
    let refused = fill(&server, BATH, "85");
    assert!(refused.status == 400 && refused.body.contains("is used up to 80 °C only"), "{}", refused.body);
    let (path, _) = run(&server);
    let aimed = server.post(&format!("{path}/water"), &[("what", "aimed"), ("degrees", "85")]);
    assert!(aimed.status == 422 && aimed.body.contains("is used up to 80 °C only"), "{}", aimed.body);
    assert_eq!(server.post(&format!("{path}/set"), &[("degrees", "85")]).status, 422);
    assert_eq!(server.post(&format!("{path}/set"), &[("degrees", "warm")]).status, 422);
    let query = format!("food=carrot&bath=85+%C2%B0C&vessel={COOLER}&typed_in=c-mm");
    let plan = server.get(&format!("/plan?{query}")).body;
    assert!(plan.contains("is used up to 80 °C only") && !plan.contains("Start this cook"));
}

#[test]
fn names_are_text_and_a_long_log_is_shown_in_part() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    kitchen(&server, "<script>alert(1)</script>");
    let (path, _) = run(&server);
    for min in 0..210 {
        let when = format!("{:02}:{:02}", 12 + min / 60, min % 60);
        let form = [("thermometer", PROBE), ("degrees", "61"), ("when", when.as_str())];
        assert_eq!(server.post(&format!("{path}/read"), &form).status, 303, "{when}");
    }
    let page = server.get(&path).body;
    let named = page.contains("&lt;script&gt;alert") || page.contains("&#60;script&#62;alert");
    assert!(named && !page.contains("<script>alert"));
    assert_eq!(lines(&page), 200);
    assert!(page.contains("And 12 before those"), "filled, aimed, and 210 readings");
    assert!(!server.get("/bath").body.contains("<script>alert"));
}

/// Read on the record: what the bath of a cook was, in another kitchen.
#[test]
fn a_cook_s_water_goes_along_with_the_book_and_comes_back_the_same() {
    let (here, there) = (tempfile::tempdir().expect("a folder"), tempfile::tempdir().expect("a folder"));
    let server = Server::start(here.path());
    kitchen(&server, "the blue box");
    let (path, _) = run(&server);
    let cook = server.cook_in(COOK, COOLER, ("beef-strip", "32 mm", "57 °C"));
    let read = [("thermometer", PROBE), ("degrees", "58.4"), ("when", "16:00")];
    assert_eq!(server.post(&format!("{path}/read"), &read).status, 303);
    let export = server.get("/book/export.json");
    assert_eq!(export.status, 200);
    let other = Server::start(there.path());
    let brought = other.upload("/book/import", &export.body);
    assert!(brought.status < 400, "{}", brought.body);
    let readings = |text: &str| {
        let json: Value = serde_json::from_str(text).expect("JSON");
        json["cooks"][0]["baths"].clone()
    };
    let again = other.get("/book/export.json").body;
    assert_eq!(readings(&export.body), readings(&again));
    assert!(again.contains("58.4") && again.contains("the blue box") && export.body.contains(&NOW[..10]));
    assert_eq!(other.get(&cook).status, 200);
}
