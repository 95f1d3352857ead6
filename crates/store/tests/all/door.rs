//! The door's records: roles, codes, sessions, and a trail that nothing changes.

use hold_steady_core::plan::Person;
use hold_steady_core::who::{By, Deed, Role};
use hold_steady_store::{Mark, Put, Store, StoreError, Welcome};
use jiff::SignedDuration;
use uuid::Uuid;

use crate::common::run;
use crate::kitchens::{here, place, t};

/// A regression check against our own file: `golden/schema-13.db` was written by the last program without a door.
#[test]
fn whoever_worked_here_before_there_was_a_door_is_a_cook_and_no_one_can_come_in_unasked() {
    let place = place();
    std::fs::create_dir_all(place.file.parent().expect("a folder")).expect("made");
    std::fs::write(&place.file, include_bytes!("../golden/schema-13.db")).expect("written");
    run(async {
        let store = Store::open(&place.file).await.expect("opens");
        let kitchen = store.kitchen(t(0), None, None).await.expect("there");
        let here = here(&store, &kitchen, "test");
        let members = here.members().await.expect("reads");
        assert_eq!(members.len(), 1);
        assert_eq!((members[0].person.name.as_str(), members[0].role), ("Marta", Role::Cook));
        assert!(!members[0].has_password && !here.has_owner().await.expect("reads"));
        assert_eq!(here.devices().await.expect("reads").len(), 1);
        // The first owner is one of those who work here already, where the name is theirs.
        let now = t(60);
        let code = here.first_code(now).await.expect("made").expect("nobody is an owner");
        let owner = Person::named(Uuid::now_v7(), " marta ", "").ok();
        let welcome = Welcome { code, owner, hash: "$argon2id$".into() };
        assert_eq!(here.welcome(welcome, now).await.expect("taken"), members[0].person.id);
        let members = here.members().await.expect("reads");
        assert_eq!((members.len(), members[0].role, members[0].has_password), (1, Role::Owner, true));
        assert_eq!(here.first_code(now).await.expect("asked"), None, "there is one");
    });
}

#[test]
fn a_code_counts_once_for_a_day_and_the_last_one_made() {
    let place = place();
    run(async {
        let store = Store::open(&place.file).await.expect("opens");
        let kitchen = store.kitchen(t(0), None, None).await.expect("there");
        let here = here(&store, &kitchen, "test");
        let ida = Person::named(Uuid::now_v7(), "Ida", "").expect("a person");
        here.keep_person(ida.clone(), t(0)).await.expect("kept");
        let before = here.invite(ida.id, t(0)).await.expect("made");
        let code = here.invite(ida.id, t(1)).await.expect("made");
        let asked = |code: &str, at| here.invited(code.to_owned(), at);
        assert!(matches!(asked(&before, t(2)).await, Err(StoreError::NotFound)), "another was made");
        assert_eq!(
            asked(&code.to_lowercase().replace('-', " "), t(2)).await.expect("counts"),
            Some("Ida".into())
        );
        let a_day_later = t(1) + SignedDuration::from_hours(24);
        assert!(matches!(asked(&code, a_day_later).await, Err(StoreError::NotFound)));
        here.let_go(ida.id, Put::Off, t(3)).await.expect("left");
        assert!(matches!(asked(&code, t(4)).await, Err(StoreError::NotFound)), "she left");
    });
}

#[test]
fn failures_are_counted_for_each_mark_and_forgiven_to_whoever_proves_who_they_are() {
    let place = place();
    run(async {
        let store = Store::open(&place.file).await.expect("opens");
        let kitchen = store.kitchen(t(0), None, None).await.expect("there");
        let here = here(&store, &kitchen, "test");
        let marks =
            |who: &str| vec![Mark { subject: who.into(), free: 3 }, Mark { subject: "*".into(), free: 20 }];
        let at = |s: i64| t(0) + SignedDuration::from_secs(s);
        let deed = || Deed::NotSignedIn { name: None, address: "192.0.2.7".into() };
        for n in 0..5 {
            here.failed(marks("ida"), deed(), at(n)).await.expect("counted");
        }
        let left = |who: &'static str, s: i64| here.must_wait(marks(who), at(s));
        assert_eq!(left("ida", 4).await.expect("reads").map(|d| d.as_secs()), Some(4));
        assert_eq!(left("ida", 8).await.expect("reads"), None, "it passes");
        assert_eq!(left("jon", 4).await.expect("reads"), None, "others are not kept out");
        here.forgive("ida".into()).await.expect("forgiven");
        assert_eq!(left("ida", 4).await.expect("reads"), None);
        for n in 0..17 {
            here.failed(marks("jon"), deed(), at(10 + n)).await.expect("counted");
        }
        assert!(left("ida", 26).await.expect("reads").is_some(), "whoever tries all names waits for all");
        assert_eq!(here.trail(Some("not-signed-in".into()), 100).await.expect("reads").len(), 22);
    });
}

#[test]
fn the_trail_is_never_changed() {
    let place = place();
    run(async {
        let store = Store::open(&place.file).await.expect("opens");
        let kitchen = store.kitchen(t(0), None, None).await.expect("there");
        let here = here(&store, &kitchen, "test");
        here.done(Deed::TakenOut { file: "book.json".into() }, t(1)).await.expect("written");
        // Beside it, that the kitchen was named.
        let kept = here.trail(None, 10).await.expect("reads");
        assert_eq!((kept.len(), &kept[0].by, kept[0].role), (2, &By::nobody("test"), Some(Role::Cook)));
        let c = rusqlite::Connection::open(&place.file).expect("opens");
        for sql in ["UPDATE trail SET role = 'owner'", "DELETE FROM trail"] {
            let refused = c.execute(sql, []).expect_err("refused").to_string();
            assert!(refused.contains("what happened at the door is never"), "{refused}");
        }
    });
}
