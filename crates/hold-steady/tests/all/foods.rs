//! The foods' pages, the food picker and the map against the running server.

use crate::common::Server;

const FIELDS: [(&str, &str); 11] = [
    ("name", "Saddle chop"),
    ("about", "Bone in."),
    ("thickness", "35 mm"),
    ("water", "68"),
    ("protein", "21"),
    ("fat", "10"),
    ("carbohydrate", "0"),
    ("fibre", "0"),
    ("ash", "1"),
    ("levels", "rosy 58 °C\nfirm 63 °C"),
    ("windows", "58 °C: 1 h to 5 h\n63 °C: 1 h to 4 h"),
];
const OWN: &str = "own-01a20000-0000-7000-8000-00000000000a";

fn with<'a>(changes: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let mut all: Vec<(&str, &str)> = FIELDS.to_vec();
    for (field, value) in changes {
        match all.iter_mut().find(|(f, _)| f == field) {
            Some(old) => old.1 = value,
            None => all.push((field, value)),
        }
    }
    all
}

#[test]
fn every_food_has_a_page_with_its_sources() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let list = server.get("/foods").body;
    let ids: Vec<&str> = list.split("href=\"/foods/").skip(1).filter_map(|s| s.split('"').next()).collect();
    assert!(ids.len() >= 50, "{}", ids.len());
    for id in ids {
        let page = server.get(&format!("/foods/{id}"));
        assert_eq!(page.status, 200, "{id}");
        for text in ["Doneness, by bath temperature", "At its best", "conductivity", "allergens", "; trade"] {
            assert!(page.body.contains(text), "{id}: {text}");
        }
    }
    // Water conducts 0.6 W/m K, fat 0.2; water takes 4.2 kJ to warm a kilogram by a kelvin, fat 2 (common
    // physics): beef lies between.
    let chuck = server.get("/foods/beef-chuck").body;
    let number = |unit: &str| -> f64 {
        let before = chuck.split(unit).next().expect("text").rsplit('>').next().expect("a cell");
        before.trim().parse().unwrap_or_else(|_| panic!("{before} {unit}"))
    };
    assert!((0.3..0.6).contains(&number(" W/m K")) && (2000.0..4200.0).contains(&number(" J/kg K")));
    assert_eq!(server.get("/foods/nectar").status, 404);
    assert!(server.get("/foods?food=drum").body.contains("chicken-leg"));
    assert!(server.get("/foods?food=%3Cunobtainium%3E").body.contains("Nothing answers to"));
}

#[test]
fn the_picker_answers_to_any_part_of_a_name_and_escapes_the_rest() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let all = server.get("/plan/foods").body;
    assert!(all.matches("role=\"option\"").count() >= 50 && all.contains("food-group"));
    let some = server.get("/plan/foods?food=drumst").body;
    assert!(some.contains("chicken-leg") && !some.contains("beef-strip"));
    let none = server.get("/plan/foods?food=%3Cscript%3E").body;
    assert!(none.contains("Nothing answers") && !none.contains("<script>"));
    // A word that could mean several: each is offered.
    let page = server.get("/plan?food=chicken&food_was=beef-strip&typed_in=c-mm").body;
    assert!(page.contains("could-be") && page.contains("/plan?food=chicken-thigh"), "{page}");
}

#[test]
fn a_food_of_the_kitchen_s_own_is_copied_checked_changed_and_planned() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    assert!(server.get("/foods/pork-chop/copy").body.contains("keeps the safety class"));
    let bad = server.post("/foods/pork-chop/copy", &with(&[("id", OWN), ("fat", "<b>"), ("levels", "rosy")]));
    assert_eq!(bad.status, 422);
    assert!(
        bad.body.contains("is not a share")
            && bad.body.contains("is not a level")
            && bad.body.contains("Saddle chop")
    );
    assert!(!bad.body.contains("<b>") && bad.body.contains(OWN), "kept, escaped, and the same copy");
    let forged = server.post("/foods/pork-chop/copy", &with(&[("id", "pork-chop")]));
    assert_eq!(forged.status, 422, "no copy takes the place of a food of the catalogue");
    for _ in 0..2 {
        let kept = server.post("/foods/pork-chop/copy", &with(&[("id", OWN)]));
        assert_eq!((kept.status, kept.location), (303, format!("/foods/{OWN}")));
    }
    assert_eq!(server.get("/foods").body.matches(OWN).count(), 1, "sent twice, it is one food");
    let page = server.get(&format!("/foods/{OWN}")).body;
    assert!(page.contains("Copied from") && page.contains("; kitchen") && page.contains("pork and game"));
    let changed = server.post(&format!("/foods/{OWN}/change"), &with(&[("name", "Saddle chop, aged")]));
    assert_eq!(changed.status, 303);
    let plan = server.get(&format!("/plan?food={OWN}&intact=whole&typed_in=c-mm")).body;
    assert!(plan.contains("value=\"Saddle chop, aged\"") && plan.contains("35 mm") && plan.contains("rosy"));
    // The catalogue's cannot be changed or removed.
    assert_eq!(server.get("/foods/pork-chop/change").status, 404);
    assert_eq!(server.post("/foods/pork-chop/change", &with(&[])).status, 404);
    assert_eq!(server.post("/foods/pork-chop/remove", &[]).status, 404);
    let gone = server.post(&format!("/foods/{OWN}/remove"), &[]);
    assert!(server.get(&gone.location).body.contains("is off the lists"));
    assert_eq!(server.get(&format!("/foods/{OWN}")).status, 404);
    assert_eq!(server.post(&format!("/foods/{OWN}/remove"), &[("restore", "true")]).status, 303);
    assert_eq!(server.get(&format!("/foods/{OWN}")).status, 200);
}

#[test]
fn the_map_is_drawn_for_a_sentence_and_refuses_what_is_none() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let map = server.get("/plan/map?food=shell-egg-large&use=soft&typed_in=c-mm&horizon=120");
    assert_eq!(map.status, 200);
    assert!(map.body.contains("region-safe") && map.body.contains("role=\"slider\""));
    assert!(map.header("cache-control").contains("private"));
    let whole = server.get("/plan?food=shell-egg-large&use=soft&typed_in=c-mm").body;
    let address =
        whole.split("hx-get=\"/plan/map?").nth(1).and_then(|s| s.split('"').next()).expect("its own map");
    let own = server.get(&format!("/plan/map?{}", address.replace("&#38;", "&").replace("&amp;", "&")));
    assert_eq!(own.status, 200, "{address}");
    assert_eq!(server.get("/plan/map?food=unobtainium&horizon=120").status, 400);
    assert_eq!(server.get("/plan/map?food=beef-strip&horizon=-5").status, 400);
}

#[test]
fn a_temperature_is_remembered_and_forgotten() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let sentence = [("food", "beef-strip"), ("intact", "whole"), ("bath", "56.5 °C"), ("typed_in", "c-mm")];
    let reply = server.post("/plan/ours", &sentence);
    assert!(reply.status == 303 && reply.location.starts_with("/plan?"), "{}", reply.location);
    let page = server.get("/plan?intact=whole").body;
    assert!(
        page.contains("as this kitchen likes it</option>") && page.contains("value=\"56.5 °C\""),
        "{page}"
    );
    let forget = [&sentence[..], &[("forget", "true")]].concat();
    assert_eq!(server.post("/plan/ours", &forget).status, 303);
    assert!(!server.get("/plan?intact=whole").body.contains("as this kitchen likes it"));
    // What is refused is not remembered as good.
    let cold = [("food", "burger"), ("bath", "52 °C"), ("typed_in", "c-mm")];
    assert_eq!(server.post("/plan/ours", &cold).status, 303);
    assert!(!server.get("/plan?food=burger&typed_in=c-mm").body.contains("as this kitchen likes it"));
}

/// What stands between the tags of a page, without scripts, opened numbers and sources.
fn visible(page: &str) -> String {
    let mut text = page.to_owned();
    for (from, until) in
        [("<script", "</script>"), ("<div popover", "Close</button>"), ("class=\"source\"", "</span>")]
    {
        while let Some(start) = text.find(from) {
            let end = text[start..].find(until).map_or(text.len(), |e| start + e + until.len());
            text.replace_range(start..end, "");
        }
    }
    let mut inside = false;
    let keep = |c: char| {
        inside = if c == '<' { true } else { inside && c != '>' };
        !inside && c != '>'
    };
    text.chars()
        .filter({
            let mut keep = keep;
            move |c| keep(*c)
        })
        .collect()
}

#[test]
fn for_every_food_a_reader_of_fahrenheit_and_inches_meets_no_other_units() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let cookie = [("Cookie", "units=f-in")];
    let list = server.get("/foods").body;
    for id in list.split("href=\"/foods/").skip(1).filter_map(|s| s.split('"').next()) {
        let path = format!("/plan?food={id}&intact=whole&parasites=none&prepared=yes&weight=12+oz");
        let page = server.get_with(&path, &cookie).body;
        let from = page.find("id=\"words\"").expect("the sentence");
        let text = visible(&page[from..]);
        assert!(text.contains("°F"), "{id}");
        for other in ["°C", " mm", " ml", " kg"] {
            let at = text.find(other);
            assert_eq!(
                at.map(|i| text[..i]
                    .chars()
                    .rev()
                    .take(50)
                    .collect::<String>()
                    .chars()
                    .rev()
                    .collect::<String>()),
                None,
                "{id} {other}"
            );
        }
    }
}
