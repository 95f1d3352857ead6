//! Whether a database has the tables, indexes and triggers of ours, no more and no less.

use std::collections::BTreeMap;

use rusqlite::Connection;

use crate::migrate::{MIGRATIONS, functions};

/// Kind and text of everything in a schema, by name.
type Schema = BTreeMap<String, (String, String)>;

fn schema(c: &Connection) -> rusqlite::Result<Schema> {
    let mut rows =
        c.prepare("SELECT name, type, coalesce(sql, '') FROM sqlite_master WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\'")?;
    rows.query_map([], |r| Ok((r.get(0)?, (r.get(1)?, r.get(2)?))))?.collect()
}

/// The schema as the migrations make it, up to a version.
fn ours(version: i64) -> rusqlite::Result<Schema> {
    let mut c = Connection::open_in_memory()?;
    functions(&c)?;
    let version = usize::try_from(version).unwrap_or(0);
    MIGRATIONS.to_version(&mut c, version).map_err(|e| match e {
        rusqlite_migration::Error::RusqliteError { err, .. } => err,
        other => rusqlite::Error::UserFunctionError(other.to_string().into()),
    })?;
    schema(&c)
}

/// What is missing, foreign or other than ours, by name; nothing where all is as it should be.
pub(super) fn differs(c: &Connection) -> rusqlite::Result<Option<String>> {
    let version: i64 = c.pragma_query_value(None, "user_version", |r| r.get(0))?;
    let (here, ours) = (schema(c)?, ours(version)?);
    for (name, (kind, sql)) in &ours {
        match here.get(name) {
            None => return Ok(Some(format!("its {kind} “{name}” is missing"))),
            Some(found) if found != &(kind.clone(), sql.clone()) => {
                return Ok(Some(format!("its {kind} “{name}” is not as ours is")));
            }
            Some(_) => {}
        }
    }
    let foreign = here.iter().find(|(name, _)| !ours.contains_key(*name));
    Ok(foreign.map(|(name, (kind, _))| format!("it has a {kind} “{name}” that is not ours")))
}
