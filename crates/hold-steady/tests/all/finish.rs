//! The finish against the running server: hostile and mistyped input, what it may cost, and a verdict that hangs on a sear.

use crate::common::{COOK, Server};

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
    assert!(egg.status == 400 && egg.body.contains("This is not seared"), "{}", egg.body);
    assert!(
        egg.body.contains("Egg in the shell: cracked at the table") && egg.body.contains(r#"href="/finish""#)
    );
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

/// A strip steak of 38 mm that was started: where its cook stands.
fn started(server: &Server) -> String {
    let steak = [
        ("cook", COOK),
        ("food", "beef-strip"),
        ("thickness", "38 mm"),
        ("bath", "54 °C"),
        ("intact", "whole"),
        ("typed_in", "c-mm"),
    ];
    server.post("/plan/start", &steak).cook_path()
}

#[test]
fn a_steak_served_at_once_waits_for_somebody_to_say_what_was_seared() {
    let (_data, server) = server();
    let cook = started(&server);
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

#[test]
fn a_finish_that_is_chosen_is_written_down_with_the_cook_and_its_work_goes_by_it() {
    let (_data, server) = server();
    let cook = started(&server);
    let of = |more: &str| format!("/finish{}{more}", cook.replace("/cook/", "?cook="));
    let sentence = "&hearth=stone&face=1+min&pause=20+min&edges=2&edge=10+s&rest=2+min&rest_in=wrapped";
    let page = server.get(&of(sentence)).body;
    assert!(page.contains("Choose it for this cook") && page.contains("20 min"), "{page}");
    // Choosing is a tap: sent twice with one name, it is one event; by reading a page nothing is written.
    let choose = of(sentence).replace("/finish?", "/finish/choose?");
    let tap = [("tap", "01a1b6e1-8a00-7000-8000-000000000001")];
    assert_eq!(server.get(&choose).status, 405);
    for _ in 0..2 {
        let chosen = server.post(&choose, &tap);
        assert_eq!((chosen.status, chosen.header("location")), (303, format!("{cook}#step-heat").as_str()));
    }
    let page = server.get(&cook).body;
    assert_eq!(page.matches("log-what\">finish chosen").count(), 1);
    assert!(
        page.contains("Heat a baking stone to 330 °C") && page.contains("10 s on each of 2 edges"),
        "{page}"
    );
    let calendar = server.get(&format!("{cook}/steps.ics")).body.replace("\r\n ", "");
    assert!(calendar.contains("Heat a baking stone to 330 °C"), "{calendar}");
    assert!(server.get("/board/live").body.contains("Heat a baking stone"), "it is to do");
    let strip = server.get("/bath").body;
    let strip =
        strip.split("id=\"next-strip\"").nth(1).and_then(|s| s.split("</section>").next()).expect("a strip");
    assert!(strip.contains("Drop it in") || strip.contains("Heat a baking stone"), "{strip}");
    // Named by its cook alone it stands there as chosen; another word asks something else.
    let again = server.get(&of("")).body;
    assert!(again.contains("This is the finish chosen for it"), "{again}");
    assert!(again.contains("value=\"wrapped\" selected"), "{again}");
    let other = server.get(&of(&sentence.replace("edges=2", "edges=4"))).body;
    assert!(other.contains("chosen so far: a baking stone at 330 °C"), "{other}");
    // What is not understood is said where it is typed, and not chosen.
    let wrong = server.post(&choose.replace("edges=2", "edges=40"), &[]);
    assert_eq!((wrong.status, wrong.header("location").starts_with("/finish?")), (303, true));
    assert!(server.get(wrong.header("location")).body.contains("edges"));
    // Undone, it is nobody's.
    let id = page.split("Undo finish chosen").next().and_then(|s| s.rsplit("name=\"event\" value=\"").next());
    let id = &id.expect("may be undone")[..36];
    assert_eq!(server.post(&format!("{cook}/event"), &[("what", "undone"), ("event", id)]).status, 303);
    assert!(!server.get(&cook).body.contains("Heat a baking stone"));
}

#[test]
fn thin_and_thick_from_one_bath_are_given_to_whom_they_suit() {
    let (_data, server) = server();
    let page = server
        .get("/finish?food=beef-strip&thickness=38+mm&bath=52+%C2%B0C&wanted=53&sizes=25+mm%2C+50+mm&guests=Ana+rare%2C+Ben+60&face=45+s&typed_in=c-mm")
        .body;
    let table = page.split("finish-sizes").nth(1).and_then(|s| s.split("</table>").next()).expect("a table");
    let rows: Vec<&str> = table.split("<tr>").skip(2).collect();
    assert_eq!(rows.len(), 3, "{table}");
    assert!(rows[0].contains("38 mm") && rows[1].contains("25 mm") && rows[2].contains("50 mm"));
    let piece = |size: &str| format!("which\">{size}<");
    // Nobody who wants it rare is given the thin one, which the sear heats through.
    let who = page.split("Who gets which").nth(1).and_then(|s| s.split("</table>").next()).expect("guests");
    let (ana, ben) = who.split_once("Ben").expect("both");
    assert!(ana.contains(&piece("50 mm")) || ana.contains(&piece("38 mm")), "{who}");
    assert!(ben.contains(&piece("25 mm")), "{who}");
    // Nobody is given what another has, however many there are of one size.
    let many = server
        .get("/finish?food=beef-strip&thickness=38+mm&bath=52+%C2%B0C&face=45+s&pieces=12&sizes=20+mm%2C+25+mm%2C+30+mm%2C+45+mm%2C+50+mm&guests=A+60%2C+B+60%2C+C+60%2C+D+60%2C+E+60%2C+F+60%2C+G+60%2C+H+60&typed_in=c-mm")
        .body;
    for (size, most) in [("20 mm", 1), ("25 mm", 1), ("30 mm", 1), ("38 mm", 8), ("45 mm", 1), ("50 mm", 1)] {
        let given = many.matches(&piece(size)).count();
        assert!(given <= most, "{size}: {given}");
    }
    assert_eq!(many.matches("tnum which").count(), 8);
    // The other sizes are said again in the reader's units, and what cannot be a thickness is named.
    let wrong = server.get("/finish?food=beef-strip&face=45+s&sizes=25+mm%3B+9+m").body;
    assert!(wrong.contains("data-field=\"sizes\"") && wrong.contains("9 m"), "{wrong}");
}

#[test]
fn a_planned_piece_has_its_clock_and_any_other_says_how_long_before() {
    let (_data, server) = server();
    let ask =
        "/finish?food=beef-strip&thickness=38+mm&bath=54&hearth=stone&face=45+s&pause=10+min&typed_in=c-mm";
    let bare = server.get(ask).body;
    assert!(bare.contains("before the sear, until it is hot") && !bare.contains("on the heat at"));
    // The plan's own link carries when the piece leaves the bath.
    let plan = server.get("/plan?food=beef-strip&thickness=38+mm&bath=54&intact=whole&typed_in=c-mm").body;
    let link = plan.split("href=\"/finish?").nth(1).and_then(|s| s.split('"').next()).expect("a link");
    let link = format!("/finish?{}", link.replace("&#38;", "&").replace("&amp;", "&"));
    assert!(link.contains("pull=2026"), "{link}");
    assert!(server.get(&link).body.contains("on the heat at"), "{link}");
    // An instant nobody lives to see is no reason to fail, and what is no instant is none.
    for (pull, said) in [("9999-12-30T22:00:00Z", true), ("-000400-01-01T00:00:00Z", true), ("soon", false)] {
        let page = server.get(&format!("{ask}&pull={pull}"));
        assert_eq!((page.status, page.body.contains("on the heat at")), (200, said), "{pull}");
    }
}
