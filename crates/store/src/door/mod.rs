//! People at the door: roles, passwords, codes, sessions, and what happened there.

mod people;
mod period;
mod pin;
mod screen;
mod session;
mod trail;

pub(crate) use people::{merge_people, people};
pub use period::Period;
pub use pin::PinTry;
pub use screen::{OnScreen, Screen, WithPin};
pub use session::{AtDoor, Session, Signed};

use hold_steady_core::plan::Person;
use hold_steady_core::who::{By, CODE_HOURS, Deed, Role, wait_after};
use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use crate::listed::Which;
use crate::time::At;
use crate::{Actor, InKitchen, StoreError, secret};
pub(crate) use trail::done;

/// Somebody of a kitchen, as they stand at its door.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Member {
    /// Who.
    pub person: Person,
    /// In what role.
    pub role: Role,
    /// Whether they chose a password.
    pub has_password: bool,
}

impl Member {
    /// Whether they can come in and let others in.
    fn lets_in(&self) -> bool {
        self.role == Role::Owner && self.has_password
    }
}

/// What somebody chooses who comes with a code.
#[derive(Debug, Clone)]
pub struct Welcome {
    /// The code, as typed.
    pub code: String,
    /// Who they are, where the code is for the first owner.
    pub owner: Option<Person>,
    /// The password, hashed.
    pub hash: String,
}

/// What failures count for: a name at an address, an address.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mark {
    /// Which: nothing that was typed, since people type passwords where names belong.
    pub subject: String,
    /// So many cost nothing.
    pub free: u32,
}

/// A code as it is compared: letters of one case, without what was put between them.
fn plain(code: &str) -> String {
    code.chars().filter(char::is_ascii_alphanumeric).map(|c| c.to_ascii_uppercase()).collect()
}

/// Twelve letters and digits that are not taken for one another (60 bits), in threes of four.
fn new_code() -> String {
    const LETTERS: &[u8; 32] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    let random = Uuid::new_v4().into_bytes();
    // Six and eight are not wholly random in an identifier of this kind.
    let bytes = random.iter().enumerate().filter(|(i, _)| !matches!(i, 6 | 8)).map(|(_, b)| *b);
    let letters: Vec<char> = bytes.take(12).map(|b| char::from(LETTERS[usize::from(b % 32)])).collect();
    letters.chunks(4).map(String::from_iter).collect::<Vec<_>>().join("-")
}

fn role_of(word: &str) -> Result<Role, StoreError> {
    Role::of(word).ok_or_else(|| StoreError::Record(format!("there is no role “{word}”")))
}

/// The people of a kitchen who work there now.
fn members(c: &Connection, kitchen: Uuid) -> Result<Vec<Member>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT p.id, p.name, p.initials, p.role, s.person_id IS NOT NULL FROM person p
         LEFT JOIN secret s ON s.person_id = p.id AND s.kind = 'password'
         WHERE p.kitchen_id = ?1 AND p.left_at IS NULL ORDER BY p.created_at, p.id",
    )?;
    let row = |r: &rusqlite::Row<'_>| {
        let person = Person { id: r.get(0)?, name: r.get(1)?, initials: r.get(2)? };
        Ok((person, r.get::<_, String>(3)?, r.get(4)?))
    };
    let rows: Vec<_> = rows.query_map([kitchen], row)?.collect::<Result<_, _>>()?;
    rows.into_iter()
        .map(|(person, role, has_password)| Ok(Member { person, role: role_of(&role)?, has_password }))
        .collect()
}

fn member(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<Member, StoreError> {
    members(c, kitchen)?.into_iter().find(|m| m.person.id == id).ok_or(StoreError::NotFound)
}

/// Makes a code for a person, or for the first owner; those made before for them count no more.
fn make_code(
    c: &Connection,
    kitchen: Uuid,
    person: Option<Uuid>,
    now: Timestamp,
) -> Result<String, StoreError> {
    let code = new_code();
    c.execute(
        "UPDATE code SET used_at = ?3 WHERE kitchen_id = ?1 AND person_id IS ?2 AND used_at IS NULL",
        (kitchen, person, At(now)),
    )?;
    let until = now + SignedDuration::from_hours(CODE_HOURS);
    c.execute(
        "INSERT INTO code (hash, kitchen_id, person_id, until) VALUES (?1, ?2, ?3, ?4)",
        (secret::hashed(&plain(&code)), kitchen, person, At(until)),
    )?;
    Ok(code)
}

/// For whom a code is that still counts: `Some(None)` for the first owner.
fn code_for(
    c: &Connection,
    kitchen: Uuid,
    code: &str,
    now: Timestamp,
) -> Result<Option<Option<Uuid>>, StoreError> {
    let found = c
        .query_row(
            "SELECT person_id FROM code WHERE hash = ?1 AND kitchen_id = ?2 AND used_at IS NULL AND until > ?3",
            (secret::hashed(&plain(code)), kitchen, At(now)),
            |r| r.get::<_, Option<Uuid>>(0),
        )
        .optional()?;
    // The first owner comes once.
    Ok(found.filter(|person| person.is_some() || has_owner(c, kitchen).is_ok_and(|there| !there)))
}

/// Whether somebody can come in who may let others in.
fn has_owner(c: &Connection, kitchen: Uuid) -> Result<bool, StoreError> {
    Ok(members(c, kitchen)?.iter().any(Member::lets_in))
}

/// Whether nobody would be left who may let others in, without this one.
fn last_owner(c: &Connection, kitchen: Uuid, id: Uuid) -> Result<bool, StoreError> {
    let mut able = members(c, kitchen)?.into_iter().filter(Member::lets_in);
    Ok(able.next().is_some_and(|first| first.person.id == id) && able.next().is_none())
}

/// Puts somebody's password in the place of the one before, and ends what was begun with that.
fn choose(c: &Connection, person: Uuid, hash: &str, now: Timestamp) -> Result<(), StoreError> {
    c.execute(
        "INSERT INTO secret (person_id, kind, hash, set_at) VALUES (?1, 'password', ?2, ?3)
         ON CONFLICT (person_id, kind) DO UPDATE SET hash = excluded.hash, set_at = excluded.set_at",
        (person, hash, At(now)),
    )?;
    session::end_all(c, person, now)
}

impl InKitchen {
    /// The people of this kitchen, as they stand at its door.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn members(&self) -> Result<Vec<Member>, StoreError> {
        self.with(|c, actor| members(c, actor.kitchen)).await
    }

    /// Whether somebody can come in who may let others in.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn has_owner(&self) -> Result<bool, StoreError> {
        self.with(|c, actor| has_owner(c, actor.kitchen)).await
    }

    /// Gives somebody another role. Their sessions go on, in the new one.
    ///
    /// # Errors
    /// When nobody would be left who may, the role is none of a person's, they are not here, or the database fails.
    pub async fn give_role(&self, id: Uuid, role: Role, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let member = member(c, actor.kitchen, id)?;
            if member.role == role {
                return Ok(());
            }
            if !Role::OF_PEOPLE.contains(&role) {
                return Err(StoreError::Conflict(format!("“{}” is no role of a person", role.id())));
            }
            if last_owner(c, actor.kitchen, id)? {
                return Err(StoreError::Conflict(format!(
                    "{} is the last owner who can sign in. Make somebody else an owner first.",
                    member.person.name
                )));
            }
            c.execute("UPDATE person SET role = ?2 WHERE id = ?1", (id, role.id()))?;
            done(c, actor, &Deed::RoleGiven { name: member.person.name, from: member.role, to: role }, now)
        })
        .await
    }

    /// Makes a code by which somebody chooses a password: shown this once, good for a day.
    ///
    /// # Errors
    /// When they are not here or the database fails.
    pub async fn invite(&self, id: Uuid, now: Timestamp) -> Result<String, StoreError> {
        self.writing(move |c, actor| {
            let member = member(c, actor.kitchen, id)?;
            let code = make_code(c, actor.kitchen, Some(id), now)?;
            done(c, actor, &Deed::Invited { name: Some(member.person.name) }, now)?;
            Ok(code)
        })
        .await
    }

    /// Makes a code for somebody by their name: on the machine itself, for whoever forgot their password.
    ///
    /// # Errors
    /// When nobody of that name works there, or the database fails.
    pub async fn invite_by_name(&self, name: &str, now: Timestamp) -> Result<String, StoreError> {
        let all = self.members().await?;
        let Some(found) = all.iter().find(|m| same(&m.person.name, name)) else {
            let known: Vec<&str> = all.iter().map(|m| m.person.name.as_str()).collect();
            let known = if known.is_empty() { "nobody".into() } else { known.join(", ") };
            return Err(StoreError::Conflict(format!(
                "Nobody called “{name}” works here; there is {known}."
            )));
        };
        self.invite(found.person.id, now).await
    }

    /// Makes the code by which the first owner comes in; `None` where there is one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn first_code(&self, now: Timestamp) -> Result<Option<String>, StoreError> {
        self.writing(move |c, actor| {
            if has_owner(c, actor.kitchen)? {
                return Ok(None);
            }
            let code = make_code(c, actor.kitchen, None, now)?;
            done(c, actor, &Deed::Invited { name: None }, now)?;
            Ok(Some(code))
        })
        .await
    }

    /// Whom a code is for: their name, or nothing where it is for the first owner. An error where it counts no more.
    ///
    /// # Errors
    /// When the code does not count or the database fails.
    pub async fn invited(&self, code: String, now: Timestamp) -> Result<Option<String>, StoreError> {
        self.with(move |c, actor| match code_for(c, actor.kitchen, &code, now)? {
            None => Err(StoreError::NotFound),
            Some(None) => Ok(None),
            Some(Some(id)) => Ok(Some(member(c, actor.kitchen, id)?.person.name)),
        })
        .await
    }

    /// Takes a code and the password that was chosen with it; who that is. The code counts no more, nor what was begun with an
    /// earlier password.
    ///
    /// # Errors
    /// When the code does not count, the name is taken, there are too many, or the database fails.
    pub async fn welcome(&self, welcome: Welcome, now: Timestamp) -> Result<Uuid, StoreError> {
        self.writing(move |c, actor| {
            let Welcome { code, owner, hash } = welcome;
            let whom = code_for(c, actor.kitchen, &code, now)?.ok_or(StoreError::NotFound)?;
            let person = match (whom, owner) {
                (Some(id), _) => member(c, actor.kitchen, id)?.person,
                (None, Some(owner)) => owner_by(c, actor, owner, now)?,
                (None, None) => return Err(StoreError::Conflict("Give the owner’s name.".into())),
            };
            c.execute(
                "UPDATE code SET used_at = ?2 WHERE hash = ?1",
                (secret::hashed(&plain(&code)), At(now)),
            )?;
            choose(c, person.id, &hash, now)?;
            let by = By { screen: actor.by.screen, ..By::person(person.id, &person.name) };
            let role = member(c, actor.kitchen, person.id)?.role;
            done(c, &Actor { by, role, ..actor.clone() }, &Deed::PasswordChosen, now)?;
            Ok(person.id)
        })
        .await
    }

    /// Whoever acts chose another password: what was begun with the one before counts no more, but for the session it is done in.
    ///
    /// # Errors
    /// When nobody is signed in, or the database fails.
    pub async fn change_password(&self, hash: String, kept: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let person = actor.by.person.ok_or(StoreError::NotFound)?;
            choose(c, person, &hash, now)?;
            c.execute("UPDATE session SET ended_at = NULL WHERE id = ?1 AND person_id = ?2", (kept, person))?;
            done(c, actor, &Deed::PasswordChosen, now)
        })
        .await
    }

    /// Who is called so here, and what their password is compared with, where they chose one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn called(&self, name: String) -> Result<Option<(Person, Option<String>)>, StoreError> {
        self.with(move |c, actor| {
            let named = members(c, actor.kitchen)?.into_iter().find(|m| same(&m.person.name, &name));
            let Some(member) = named else { return Ok(None) };
            let hash = "SELECT hash FROM secret WHERE person_id = ?1 AND kind = 'password'";
            let hash = c.query_row(hash, [member.person.id], |r| r.get(0)).optional()?;
            Ok(Some((member.person, hash)))
        })
        .await
    }

    /// How long whoever is known by one of these marks (a name at an address, an address) still waits before another try.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn must_wait(
        &self,
        marks: Vec<Mark>,
        now: Timestamp,
    ) -> Result<Option<SignedDuration>, StoreError> {
        self.with(move |c, actor| {
            let mut longest = SignedDuration::ZERO;
            for mark in &marks {
                let (times, last) = failures(c, actor.kitchen, &mark.subject)?;
                let left = left_of(wait_after(times, mark.free), last, now);
                longest = longest.max(left);
            }
            Ok(longest.is_positive().then_some(longest))
        })
        .await
    }

    /// Writes down that a try failed: it counts for each of the marks, and stands in the trail.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn failed(&self, marks: Vec<Mark>, deed: Deed, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            for mark in &marks {
                let (times, last) = failures(c, actor.kitchen, &mark.subject)?;
                // After a quiet hour it counts from the beginning.
                let quiet = last.is_none_or(|last| now.duration_since(last) > SignedDuration::from_hours(1));
                let times = if quiet { 1 } else { times.saturating_add(1) };
                c.execute(
                    "INSERT INTO failed (kitchen_id, subject, times, last_at) VALUES (?1, ?2, ?3, ?4)
                     ON CONFLICT (kitchen_id, subject) DO UPDATE SET times = excluded.times, last_at = excluded.last_at",
                    (actor.kitchen, &mark.subject, times, At(now)),
                )?;
            }
            // What was long ago counts for nobody.
            let old = At(now - SignedDuration::from_hours(48));
            c.execute("DELETE FROM failed WHERE kitchen_id = ?1 AND last_at < ?2 AND subject NOT LIKE 'pin %'", (actor.kitchen, old))?;
            done(c, actor, &deed, now)
        })
        .await
    }
}

impl InKitchen {
    /// Whoever proved who they are begins anew: what failed before under that mark counts no more.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn forgive(&self, subject: String) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            c.execute("DELETE FROM failed WHERE kitchen_id = ?1 AND subject = ?2", (actor.kitchen, subject))?;
            Ok(())
        })
        .await
    }
}

/// What is left of a wait. Where the clock was set back since by more than the longest there is, nothing: it would be days.
fn left_of(wait: SignedDuration, last: Option<Timestamp>, now: Timestamp) -> SignedDuration {
    let elapsed = last.map(|last| now.duration_since(last));
    let elapsed = elapsed.filter(|e| *e > -wait_after(u32::MAX, 0));
    elapsed.map_or(SignedDuration::ZERO, |e| wait - e.max(SignedDuration::ZERO))
}

/// How often in a row, and when last.
fn failures(c: &Connection, kitchen: Uuid, mark: &str) -> Result<(u32, Option<Timestamp>), StoreError> {
    let found = c
        .query_row(
            "SELECT times, last_at FROM failed WHERE kitchen_id = ?1 AND subject = ?2",
            (kitchen, mark),
            |r| Ok((r.get(0)?, Some(r.get::<_, At>(1)?.0))),
        )
        .optional()?;
    Ok(found.unwrap_or((0, None)))
}

/// Whether two names are the same to whoever types one of them.
fn same(a: &str, b: &str) -> bool {
    let plain = |s: &str| s.split_whitespace().collect::<Vec<_>>().join(" ").to_lowercase();
    plain(a) == plain(b)
}

/// The first owner: one of those who work here already, of that name, or somebody new.
fn owner_by(c: &Connection, actor: &Actor, owner: Person, now: Timestamp) -> Result<Person, StoreError> {
    let here = people(c, actor.kitchen, Which::Listed)?;
    let known = here.iter().find(|p| same(&p.name, &owner.name)).cloned();
    let person = match known {
        Some(person) => person,
        None => {
            people::add_person(c, actor, owner.clone(), now)?;
            owner
        }
    };
    c.execute("UPDATE person SET role = 'owner' WHERE id = ?1", [person.id])?;
    Ok(person)
}
