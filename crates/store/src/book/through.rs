//! The book looked through: what is finished, by food, verdict and time; and how a food came out last.

use std::collections::HashMap;

use hold_steady_core::book::CookRecord;
use jiff::Timestamp;
use rusqlite::{OptionalExtension, ToSql, params_from_iter};
use uuid::Uuid;

use crate::cook::phase::load_each;
use crate::rows::most;
use crate::time::At;
use crate::{CookPhase, InKitchen, StoreError, Unreadable};

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

/// A page of what was found.
#[derive(Debug, Clone, Default)]
pub struct Found {
    /// The cooks, newest first.
    pub cooks: Vec<CookRecord>,
    /// The verdict of what was done, as its word; of those where somebody worked it out.
    pub levels: HashMap<Uuid, String>,
    /// How many there are in all.
    pub all: usize,
    /// What cannot be read.
    pub unreadable: Vec<Unreadable>,
}

/// `%` and `_` mean themselves.
fn like(text: &str) -> String {
    let mut pattern = String::from("%");
    for letter in text.chars() {
        if matches!(letter, '%' | '_' | '\\') {
            pattern.push('\\');
        }
        pattern.push(letter);
    }
    pattern + "%"
}

/// The conditions of a search and what stands in them. Only those that are asked: a search for nothing is answered from
/// an index, whatever the length of the book.
fn conditions(kitchen: Uuid, search: &Search) -> (String, Vec<Box<dyn ToSql>>) {
    let mut sql = String::from("kitchen_id = ? AND standing = ?");
    let mut sought: Vec<Box<dyn ToSql>> = vec![Box::new(kitchen), Box::new(CookPhase::Finished.id())];
    let mut asked = |condition: &str, value: Option<Box<dyn ToSql>>| {
        if let Some(value) = value {
            sql += condition;
            sought.push(value);
        }
    };
    let text = Some(search.text.trim()).filter(|t| !t.is_empty());
    asked(" AND title LIKE ? ESCAPE '\\'", text.map(|t| Box::new(like(t)) as Box<dyn ToSql>));
    asked(" AND level = ?", search.level.clone().map(|l| Box::new(l) as Box<dyn ToSql>));
    asked(" AND created_at >= ?", search.since.map(|t| Box::new(At(t)) as Box<dyn ToSql>));
    asked(" AND created_at < ?", search.until.map(|t| Box::new(At(t)) as Box<dyn ToSql>));
    (sql, sought)
}

impl InKitchen {
    /// The finished cooks that answer to a search, newest first: those from `skip` on, at most `take` of them.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn finished(&self, search: Search, (skip, take): (usize, usize)) -> Result<Found, StoreError> {
        self.with(move |c, actor| {
            let (condition, mut sought) = conditions(actor.kitchen, &search);
            let mut count = c.prepare_cached(&format!("SELECT count(*) FROM cook WHERE {condition}"))?;
            let all: i64 = count.query_row(params_from_iter(&sought), |r| r.get(0))?;
            sought.extend([Box::new(most(take)) as Box<dyn ToSql>, Box::new(most(skip))]);
            let mut rows = c.prepare_cached(&format!(
                "SELECT id, level FROM cook WHERE {condition} ORDER BY created_at DESC, id DESC LIMIT ? OFFSET ?"
            ))?;
            let rows: Vec<(Uuid, Option<String>)> = rows
                .query_map(params_from_iter(&sought), |r| Ok((r.get(0)?, r.get(1)?)))?
                .collect::<Result<_, _>>()?;
            let ids: Vec<Uuid> = rows.iter().map(|row| row.0).collect();
            let (cooks, unreadable) = load_each(c, actor.kitchen, &ids)?;
            let levels = rows.into_iter().filter_map(|(id, level)| Some((id, level?))).collect();
            Ok(Found { cooks, levels, all: usize::try_from(all).unwrap_or(0), unreadable })
        })
        .await
    }

    /// Finished cooks whose verdict nobody has worked out yet, newest first, `at_most` so many.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn not_judged(&self, at_most: usize) -> Result<Vec<CookRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut rows = c.prepare_cached(
                "SELECT id FROM cook WHERE kitchen_id = ?1 AND standing = ?2 AND level IS NULL ORDER BY created_at DESC LIMIT ?3",
            )?;
            let ids: Vec<Uuid> = rows
                .query_map((actor.kitchen, CookPhase::Finished.id(), most(at_most)), |r| r.get(0))?
                .collect::<Result<_, _>>()?;
            Ok(load_each(c, actor.kitchen, &ids)?.0)
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
                keep.execute((id, most(*events), level, actor.kitchen))?;
            }
            Ok(())
        })
        .await
    }

    /// The last finished cook of a food that somebody said of how its centre came out; none where its record cannot
    /// be read.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn last_of(&self, food: String) -> Result<Option<CookRecord>, StoreError> {
        self.with(move |c, actor| {
            let mut last = c.prepare_cached(
                "SELECT id FROM cook WHERE kitchen_id = ?1 AND food = ?2 AND standing = ?3 AND centre IS NOT NULL
                 ORDER BY ended_at DESC, id DESC LIMIT 1",
            )?;
            let id: Option<Uuid> = last
                .query_row((actor.kitchen, &food, CookPhase::Finished.id()), |r| r.get(0))
                .optional()?;
            Ok(load_each(c, actor.kitchen, id.as_slice())?.0.pop())
        })
        .await
    }
}
