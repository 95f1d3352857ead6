//! The book looked through: what is finished, by food, verdict and time; and how a food came out last.

use hold_steady_core::book::CookRecord;
use jiff::Timestamp;
use rusqlite::{OptionalExtension, named_params};
use uuid::Uuid;

use crate::time::At;
use crate::{CookPhase, InKitchen, StoreError, Unreadable, cook};

/// What is looked for in the book.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Search {
    /// A part of a title; empty for any.
    pub text: String,
    /// The verdict of what was done, as its word; `None` for any.
    pub level: Option<String>,
    /// Planned from then on.
    pub since: Option<Timestamp>,
    /// Planned before then.
    pub until: Option<Timestamp>,
}

/// A finished cook.
#[derive(Debug, Clone)]
pub struct Finished {
    /// The cook.
    pub cook: CookRecord,
    /// The verdict of what was done, as its word; `None` while nobody worked it out.
    pub level: Option<String>,
}

/// A page of what was found.
#[derive(Debug, Clone, Default)]
pub struct Found {
    /// The cooks, newest first.
    pub cooks: Vec<Finished>,
    /// How many there are in all.
    pub all: usize,
    /// What cannot be read.
    pub unreadable: Vec<Unreadable>,
}

/// `%` and `_` mean themselves.
fn like(text: &str) -> String {
    let mut pattern = String::from("%");
    for letter in text.trim().chars() {
        if matches!(letter, '%' | '_' | '\\') {
            pattern.push('\\');
        }
        pattern.push(letter);
    }
    pattern + "%"
}

const WHERE: &str = "kitchen_id = :kitchen AND standing = :phase AND title LIKE :text ESCAPE '\\'
    AND (:level IS NULL OR level = :level)
    AND (:since IS NULL OR created_at >= :since) AND (:until IS NULL OR created_at < :until)";

impl InKitchen {
    /// The finished cooks that answer to a search, newest first: those from `skip` on, at most `take` of them.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn finished(&self, search: Search, (skip, take): (usize, usize)) -> Result<Found, StoreError> {
        let most = |n: usize| i64::try_from(n).unwrap_or(i64::MAX);
        self.with(move |c, actor| {
            let text = like(&search.text);
            let (since, until) = (search.since.map(At), search.until.map(At));
            let mut count = c.prepare_cached(&format!("SELECT count(*) FROM cook WHERE {WHERE}"))?;
            let phase = CookPhase::Finished.id();
            let all: i64 = count.query_row(
                named_params! {":kitchen": actor.kitchen, ":phase": phase, ":text": text, ":level": search.level, ":since": since, ":until": until},
                |r| r.get(0),
            )?;
            let mut rows = c.prepare_cached(&format!(
                "SELECT id, level FROM cook WHERE {WHERE} ORDER BY created_at DESC, id DESC LIMIT :take OFFSET :skip"
            ))?;
            let ids: Vec<(Uuid, Option<String>)> = rows
                .query_map(
                    named_params! {":kitchen": actor.kitchen, ":phase": phase, ":text": text, ":level": search.level, ":since": since, ":until": until,
                        ":take": most(take), ":skip": most(skip)},
                    |r| Ok((r.get(0)?, r.get(1)?)),
                )?
                .collect::<Result<_, _>>()?;
            let mut found = Found { all: usize::try_from(all).unwrap_or(0), ..Found::default() };
            for (id, level) in ids {
                match cook::load(c, actor.kitchen, id) {
                    Ok(cook) => found.cooks.extend(cook.map(|cook| Finished { cook, level })),
                    Err(StoreError::Record(reason)) => {
                        found.unreadable.push(Unreadable { id: id.to_string(), reason });
                    }
                    Err(e) => return Err(e),
                }
            }
            Ok(found)
        })
        .await
    }

    /// Finished cooks whose verdict nobody has worked out yet, newest first, at most `most`.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn not_judged(&self, most: usize) -> Result<Vec<CookRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut rows = c.prepare_cached(
                "SELECT id FROM cook WHERE kitchen_id = ?1 AND standing = ?2 AND level IS NULL ORDER BY created_at DESC LIMIT ?3",
            )?;
            let ids: Vec<Uuid> = rows
                .query_map((actor.kitchen, CookPhase::Finished.id(), i64::try_from(most).unwrap_or(i64::MAX)), |r| r.get(0))?
                .collect::<Result<_, _>>()?;
            let mut all = Vec::with_capacity(ids.len());
            for id in ids {
                match cook::load(c, actor.kitchen, id) {
                    Ok(found) => all.extend(found),
                    Err(StoreError::Record(_)) => {}
                    Err(e) => return Err(e),
                }
            }
            Ok(all)
        })
        .await
    }

    /// Keeps the verdicts of what was done, each worked out from the cook as it was with so many events: where
    /// something was written down since, it is not kept.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn keep_levels(&self, levels: Vec<(Uuid, usize, &'static str)>) -> Result<(), StoreError> {
        if levels.is_empty() {
            return Ok(());
        }
        self.writing(move |c, actor| {
            let mut keep = c.prepare_cached(
                "UPDATE cook SET level = ?3 WHERE id = ?1 AND kitchen_id = ?4
                 AND (SELECT count(*) FROM event WHERE cook_id = ?1) = ?2",
            )?;
            for (id, events, level) in &levels {
                keep.execute((id, i64::try_from(*events).unwrap_or(i64::MAX), level, actor.kitchen))?;
            }
            Ok(())
        })
        .await
    }

    /// The last finished cook of a food that somebody said of how its centre came out.
    ///
    /// # Errors
    /// When the database fails, or the record cannot be read.
    pub async fn last_of(&self, food: String) -> Result<Option<CookRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut last = c.prepare_cached(
                "SELECT id FROM cook WHERE kitchen_id = ?1 AND food = ?2 AND standing = ?3 AND centre IS NOT NULL
                 ORDER BY ended_at DESC, id DESC LIMIT 1",
            )?;
            let id: Option<Uuid> = last
                .query_row((actor.kitchen, &food, CookPhase::Finished.id()), |r| r.get(0))
                .optional()?;
            id.map_or(Ok(None), |id| cook::load(c, actor.kitchen, id))
        })
        .await
    }
}
