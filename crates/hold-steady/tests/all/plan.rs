//! The plan page against the running server.

use crate::common::{COOK, Server};

#[test]
fn the_first_visit_answers_and_asks_what_it_must_know() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let home = server.get("/");
    assert_eq!((home.status, home.location.as_str()), (303, "/plan"));
    let page = server.get("/plan");
    assert_eq!(page.status, 200);
    for text in
        ["whole, never pierced", "Treated as pierced", "Drop by", "Pasteurised at", "published (memory)"]
    {
        assert!(page.body.contains(text), "{text}");
    }
    assert_eq!(server.get("/plan/").status, 200, "a trailing slash is no other page");
}

#[test]
fn a_change_answers_with_a_fragment_and_the_address_to_come_back_to() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let reply = server.get("/plan/answer?food=beef-strip&thickness=1+1%2F4+in&intact=whole&done=rare&done_was=medium-rare&food_was=beef-strip&bath=55&ready=21:00");
    assert_eq!(reply.status, 200);
    assert!(!reply.body.contains("<html"), "a fragment");
    assert!(reply.body.contains("value=\"51.5 °C\""), "the temperature follows the doneness");
    let back = reply.header("hx-replace-url");
    assert!(back.starts_with("/plan?food=beef-strip&thickness=1+1%2F4+in"), "{back}");
    let again = server.get(back);
    assert!(again.body.contains("value=\"1 1/4 in\"") && again.body.contains("51.5 °C"));
    // The kitchen is an hour ahead of UTC.
    assert!(again.body.contains("21:00"));
}

#[test]
fn a_time_that_cannot_be_kept_answers_with_the_earliest_honest_one() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let page = server.get("/plan?intact=whole&ready=18:00");
    assert!(page.body.contains("18:00 is too soon"), "{}", page.body);
    assert!(page.body.contains("That is the earliest"));
    // With ways to keep it: each leads to a plan that is ready then.
    let page =
        server.get("/plan?food=beef-strip&thickness=38+mm&intact=whole&ready=19:30&typed_in=c-mm").body;
    let ways =
        page.split("class=\"sooner\"").nth(1).expect("there are some").split("</p>").next().expect("ends");
    let links: Vec<_> = ways.split("href=\"").skip(1).map(|l| l.split('"').next().expect("a link")).collect();
    assert!((1..=3).contains(&links.len()), "{ways}");
    for link in links {
        let there = server.get(&link.replace("&#38;", "&").replace("&amp;", "&"));
        assert!(there.status == 200 && !there.body.contains("is too soon"), "{link}");
        assert!(there.body.contains("Start this cook"), "{link}");
    }
}

#[test]
fn how_many_is_typed_before_what_and_the_other_unit_is_asked_about() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let page = server.get("/plan?food=2+ribeye&intact=whole&typed_in=c-mm").body;
    assert!(page.contains(">2</strong>") && page.contains("2 pieces in a bag"), "{page}");
    let page =
        server.get("/plan?bath=131&done_was=own&food_was=beef-strip&food=beef-strip&typed_in=c-mm").body;
    assert!(page.contains("Did you mean °F?") && page.contains(">131 °F</button>"), "{page}");
}

#[test]
fn rubbish_is_said_beside_the_field_and_kept() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let page = server.get(
        "/plan?thickness=%3Cb%3Ethick&bath=999&ready=later&done_was=own&food_was=beef-strip&typed_in=c-mm",
    );
    assert_eq!(page.status, 200);
    assert!(
        page.body.contains("&#60;b&#62;thick") || page.body.contains("&lt;b&gt;thick"),
        "escaped and kept"
    );
    assert!(page.body.contains("is not a thickness") && page.body.contains("is outside 40 °C to 85 °C"));
    assert!(!page.body.contains("Start this cook"));
}

#[test]
fn a_refused_plan_cannot_be_started_and_sends_back_to_its_sentence() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let page = server.get("/plan?intact=whole&guests=at-risk&bath=52&typed_in=c-mm");
    assert!(page.body.contains("Not for a guest at risk") && !page.body.contains("Start this cook"));
    assert!(page.body.contains("54.5 °C"), "the way out");
    let form = [("cook", COOK), ("intact", "whole"), ("guests", "at-risk"), ("bath", "52")];
    let reply = server.post("/plan/start", &form);
    assert_eq!(reply.status, 303);
    assert!(reply.location.starts_with("/plan?") && reply.location.contains("bath=52"), "{}", reply.location);
    assert_eq!(server.get(&format!("/cook/{COOK}")).status, 404);
}

#[test]
fn units_are_switched_anywhere_and_remembered() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let from = format!("{}/plan?intact=whole&thickness=38.1+mm", server.address);
    let headers = [("Origin", server.address.as_str()), ("Referer", from.as_str())];
    let reply = server.post_from("/units", &[("units", "f-in")], &headers);
    assert_eq!((reply.status, reply.location.as_str()), (303, "/plan?intact=whole&thickness=38.1+mm"));
    assert!(
        reply.cookie.contains("SameSite=Strict") && reply.cookie.contains("HttpOnly"),
        "{}",
        reply.cookie
    );
    let cookie = reply.cookie.split(';').next().expect("a pair").to_owned();
    let page = server.get_with("/plan?intact=whole", &[("Cookie", &cookie)]);
    assert!(page.body.contains("1 1/4 in") && page.body.contains("131 °F"));
    // An address without units is first given those of its reader, so that it keeps its meaning.
    let bare = server.get("/plan?thickness=38.1&intact=whole");
    assert_eq!(bare.status, 303);
    assert!(bare.location.contains("thickness=38.1") && bare.location.contains("typed_in=c-mm"));
    let inches = server.get_with(&bare.location, &[("Cookie", &cookie)]);
    assert!(inches.body.contains("value=\"1 1/2 in\""));
    let odd = server.get_with("/plan", &[("Cookie", "units=%00")]);
    assert_eq!(odd.status, 200);
}

#[test]
fn a_time_on_another_day_never_stands_without_its_day() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    // Wednesday, 17:00 in the kitchen; a flank steak for Thursday evening goes in in the small hours.
    let page = server.get("/plan?intact=whole&food=beef-flank&ready=tomorrow+20:00").body;
    for text in
        ["Drop by, Thu", "Pull, Thu", "Serve, Thu", "Serving on Thursday 26 November", "Pasteurised at Thu "]
    {
        assert!(page.contains(text), "{text}");
    }
    assert!(page.contains("it may wait until Fri "), "the window ends a day later");
    let today = server.get("/plan?intact=whole&ready=21:00").body;
    assert!(today.contains("<dt>Drop by</dt>") && !today.contains("Thu "));
}
