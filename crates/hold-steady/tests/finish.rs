//! The finish against the running server: hostile and mistyped input, what it may cost, and a verdict that hangs on a sear.

mod common;

use common::{COOK, Server};

fn server() -> (tempfile::TempDir, Server) {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    (data, server)
}

#[test]
fn what_cannot_be_is_named_and_kept_and_nothing_typed_becomes_markup() {
    let (_data, server) = server();
    let page = server
        .get("/finish?food=beef-strip&face=NaN&wanted=1e999&guests=%3Cimg+src%3Dx%3E+rare&thickness=2+m");
    assert_eq!(page.status, 200);
    for said in [
        "“NaN” is not a time from 3 s to 30 min.",
        "“1e999” is not a temperature",
        "“2 m” is not a thickness",
    ] {
        assert!(page.body.contains(said), "{said}");
    }
    assert!(page.body.contains("value=\"NaN\"") && !page.body.contains("<img src=x"));
    // Understood, a name is still only a name.
    let page = server.get("/finish?food=beef-strip&face=45+s&guests=%3Cimg+src%3Dx%3E+rare");
    assert!(page.body.contains("Who gets which") && !page.body.contains("<img src=x"));
}

#[test]
fn what_costs_too_much_is_refused_with_what_to_ask_instead() {
    let (_data, server) = server();
    let most = "thickness=120+mm&face=1800&times=12&pieces=12&pause=7200&rest=3600";
    let page = server.get(&format!("/finish?food=beef-strip&{most}"));
    assert_eq!(page.status, 422, "{}", page.body);
    assert!(page.body.contains("ask for a shorter time"));
    // And the next is answered.
    assert_eq!(server.get("/finish?food=beef-strip").status, 200);
}

#[test]
fn what_is_not_seared_and_what_is_not_there_is_said() {
    let (_data, server) = server();
    let egg = server.get("/finish?food=shell-egg-large");
    assert!(egg.status == 400 && egg.body.contains("is not seared"), "{}", egg.body);
    assert_eq!(server.get("/finish?cook=nonsense").status, 404);
    assert_eq!(server.get("/finish/ways?food=beef-strip").status, 400, "no pattern yet");
    // Nothing to pace: back to where it is said.
    let pace = server.get("/finish/pace?food=beef-strip");
    assert_eq!((pace.status, pace.location.as_str()), (303, "/finish?food=beef-strip"));
}

#[test]
fn a_link_means_the_same_in_other_units_and_is_found_again_after_an_answer() {
    let (_data, server) = server();
    let typed = "food=beef-strip&thickness=1.5&bath=129&wanted=129&at=450&face=45&rest=60&typed_in=f-in";
    let page = server.get(&format!("/finish/answer?{typed}"));
    assert_eq!(page.status, 200);
    let address = page.header("hx-replace-url").to_owned();
    assert!(address.starts_with("/finish?") && address.contains("thickness=38+mm"), "{address}");
    assert!(
        page.body.contains("value=\"53.9 °C\"") && page.body.contains("value=\"232.2 °C\""),
        "{}",
        page.body
    );
    let again = server.get(&address);
    let figure = |body: &str| body.split("finish-figures").nth(1).map(|s| s[..400].to_owned());
    assert_eq!(figure(&page.body), figure(&again.body));
}

#[test]
fn a_steak_served_at_once_waits_for_somebody_to_say_what_was_seared() {
    let (_data, server) = server();
    let steak = [
        ("cook", COOK),
        ("food", "beef-strip"),
        ("thickness", "38 mm"),
        ("bath", "54 °C"),
        ("intact", "whole"),
        ("typed_in", "c-mm"),
    ];
    let cook = server.post("/plan/start", &steak).cook_path();
    let event = format!("{cook}/event");
    for tap in [
        [("what", "dropped"), ("when", "175 min ago"), ("covered", "")],
        [("what", "pulled"), ("when", "1 min ago"), ("covered", "")],
    ] {
        assert_eq!(server.post(&event, &tap).status, 303);
    }
    let owed = "Only once every face and edge is seared";
    assert!(server.get(&cook).body.contains(owed));
    // Looking at what a sear would do is no sear.
    let finish = server.get(&format!("/finish{}", cook.replace("/cook/", "?cook=")));
    assert!(finish.status == 200 && finish.body.contains("its clocks leave"), "{}", finish.body);
    assert!(server.get(&cook).body.contains(owed));
    let odd = server.post(&event, &[("what", "seared"), ("faces", "45 + 45"), ("covered", "mostly")]);
    assert!(odd.body.contains("Say what was seared"), "{}", odd.status);
    assert_eq!(
        server.post(&event, &[("what", "seared"), ("faces", "45 + 45"), ("covered", "faces")]).status,
        303
    );
    assert!(server.get(&cook).body.contains(owed), "the edges are raw");
}
