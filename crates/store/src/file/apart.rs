//! Readings of past hours, which cannot change any more, kept once for all copies of the nights instead of once in each.
//!
//! Beside the copies lie files of readings: packed hours, each under the sum of its bytes (SHA-256). A copy says the sum where
//! the hour would stand, and how many readings it had as a number below zero. Put back, each hour is filled in again, and is
//! what its sum says or the copy is refused. A file of readings goes when no copy needs any hour of it.

use std::collections::{HashMap, HashSet};
use std::path::{Path, PathBuf};

use rusqlite::{Connection, OpenFlags, OptionalExtension, params};
use sha2::{Digest, Sha256};

use super::{prepare, remove, sync_folder, with_end};
use crate::{StoreError, read_error};

type Sum = [u8; 32];

/// What a copy whose readings lie apart says of itself in its header (`PRAGMA application_id`): "HSAP". Asked at every start,
/// which must not cost more the longer a book is.
const APART: i32 = 0x4853_4150;

/// An hour that takes fewer bytes stays in its copy.
const LEAST: i64 = 256;

const PREFIX: &str = "hold-steady-readings-";
const PART: &str = ".part";

fn sum(body: &[u8]) -> Sum {
    Sha256::digest(body).into()
}

/// The files of readings in a folder, the first made first.
fn files(folder: &Path) -> std::io::Result<Vec<PathBuf>> {
    let mut all: Vec<PathBuf> = std::fs::read_dir(folder)?
        .filter_map(|entry| entry.ok().map(|e| e.path()))
        .filter(|path| {
            let name = path.file_name().and_then(|n| n.to_str()).unwrap_or_default();
            name.strip_prefix(PREFIX).is_some_and(|rest| rest.ends_with(".db"))
        })
        .collect();
    all.sort();
    Ok(all)
}

/// The how manieth a file of readings is.
fn number(file: &Path) -> u64 {
    let stem = file.file_stem().and_then(|n| n.to_str()).unwrap_or_default();
    stem.strip_prefix(PREFIX).and_then(|n| n.parse().ok()).unwrap_or(0)
}

fn open(file: &Path) -> Result<Connection, StoreError> {
    Connection::open_with_flags(file, OpenFlags::SQLITE_OPEN_READ_ONLY).map_err(|e| read_error(file, &e))
}

fn sums(c: &Connection, sql: &str) -> rusqlite::Result<HashSet<Sum>> {
    let mut rows = c.prepare(sql)?;
    rows.query_map([], |r| r.get(0))?.collect()
}

/// The hours a copy says the sums of, and the rows it says them in.
fn said(copy: &Path) -> Result<HashMap<Sum, Vec<i64>>, StoreError> {
    let c = open(copy)?;
    let mut all: HashMap<Sum, Vec<i64>> = HashMap::new();
    // One of before there were packs has none.
    if !c.table_exists(None, "reading_pack")? {
        return Ok(all);
    }
    let mut rows = c.prepare("SELECT body, seq FROM reading_pack WHERE count < 0")?;
    let mut found = rows.query([])?;
    while let Some(row) = found.next().map_err(|e| read_error(copy, &e))? {
        all.entry(row.get(0).map_err(|e| read_error(copy, &e))?).or_default().push(row.get(1)?);
    }
    Ok(all)
}

/// Takes the hours out of a copy that is not named yet: those that are in no file of the folder go into a new one, which has
/// its name before the copy has.
pub(super) fn take_out(copy: &Path, folder: &Path) -> Result<(), StoreError> {
    let failed = |e: std::io::Error| StoreError::Unreachable { path: folder.into(), reason: e.to_string() };
    let mut c = Connection::open(copy)?;
    let hours: Vec<i64> = c
        .prepare("SELECT seq FROM reading_pack WHERE count > 0 AND length(body) >= ?1")?
        .query_map([LEAST], |r| r.get(0))?
        .collect::<Result<_, _>>()?;
    if hours.is_empty() {
        return Ok(());
    }
    let (mut kept, mut last): (HashSet<Sum>, u64) = (HashSet::new(), 0);
    for file in files(folder).map_err(failed)? {
        last = last.max(number(&file));
        kept.extend(sums(&open(&file)?, "SELECT sum FROM hour").map_err(|e| read_error(&file, &e))?);
    }
    // Never the name of one that is there: its hours are written down nowhere else.
    let to = folder.join(format!("{PREFIX}{:05}.db", last + 1));
    let part = with_end(&to, PART);
    remove(&part).map_err(failed)?;
    prepare(&part)?;
    let mut new = Connection::open(&part)?;
    new.execute_batch("CREATE TABLE hour (sum BLOB NOT NULL UNIQUE, body BLOB NOT NULL) STRICT")?;
    let (out, tx) = (new.transaction()?, c.transaction()?);
    let mut written = 0;
    {
        let mut body = tx.prepare("SELECT body FROM reading_pack WHERE seq = ?1")?;
        let mut say = tx.prepare("UPDATE reading_pack SET body = ?2, count = -count WHERE seq = ?1")?;
        for seq in hours {
            let body: Vec<u8> = body.query_row([seq], |r| r.get(0))?;
            let sum = sum(&body);
            if kept.insert(sum) {
                out.execute("INSERT INTO hour (sum, body) VALUES (?1, ?2)", params![sum, body])?;
                written += 1;
            }
            say.execute(params![seq, sum])?;
        }
    }
    out.commit()?;
    tx.commit()?;
    drop(new);
    c.pragma_update(None, "application_id", APART)?;
    c.execute_batch("VACUUM")?;
    drop(c);
    if written > 0 {
        let done = std::fs::File::open(&part)
            .and_then(|f| f.sync_all())
            .and_then(|()| std::fs::rename(&part, &to))
            .and_then(|()| sync_folder(&to));
        done.map_err(failed)?;
    } else {
        remove(&part).map_err(failed)?;
    }
    Ok(())
}

/// Fills in the hours of a copy from the files of a folder.
///
/// # Errors
/// When one of them is in none of the files, or is not what its sum says.
pub(super) fn fill_in(copy: &Path, folder: &Path) -> Result<(), StoreError> {
    let failed = |e: std::io::Error| StoreError::Unreachable { path: folder.into(), reason: e.to_string() };
    let mut wanted = said(copy)?;
    if wanted.is_empty() {
        return Ok(());
    }
    let mut c = Connection::open(copy)?;
    let tx = c.transaction()?;
    for file in files(folder).map_err(failed)? {
        let from = open(&file)?;
        let of_it = sums(&from, "SELECT sum FROM hour").map_err(|e| read_error(&file, &e))?;
        let mut body = from.prepare("SELECT body FROM hour WHERE sum = ?1")?;
        let mut fill = tx.prepare("UPDATE reading_pack SET body = ?2, count = -count WHERE seq = ?1")?;
        for own in &of_it {
            let Some(rows) = wanted.remove(own) else { continue };
            let found: Option<Vec<u8>> =
                body.query_row([own], |r| r.get(0)).optional().map_err(|e| read_error(&file, &e))?;
            let found = found.filter(|body| sum(body) == *own).ok_or_else(|| StoreError::Corrupt {
                path: file.clone(),
                reason: "an hour of readings in it is not what it was".into(),
            })?;
            for seq in rows {
                fill.execute(params![seq, found])?;
            }
        }
    }
    if !wanted.is_empty() {
        let reason = format!(
            "{} hours of its readings are in none of the files “{PREFIX}….db” in the folder {}: keep those beside it",
            wanted.len(),
            folder.display()
        );
        return Err(StoreError::Corrupt { path: copy.into(), reason });
    }
    tx.commit()?;
    Ok(c.pragma_update(None, "application_id", 0)?)
}

/// Whether a database is a copy whose readings lie apart: it is put back, not served as it is.
pub(crate) fn is_apart(c: &Connection) -> rusqlite::Result<bool> {
    Ok(c.pragma_query_value(None, "application_id", |r| r.get::<_, i32>(0))? == APART)
}

/// Takes away the files of readings that none of these copies needs, and what was left of one that was not finished.
pub(super) fn prune(folder: &Path, copies: &[PathBuf]) -> Result<(), StoreError> {
    let failed = |e: std::io::Error| StoreError::Unreachable { path: folder.into(), reason: e.to_string() };
    let mut needed: HashSet<Sum> = HashSet::new();
    for copy in copies {
        needed.extend(said(copy)?.into_keys());
    }
    for file in files(folder).map_err(failed)? {
        let of_it = sums(&open(&file)?, "SELECT sum FROM hour").map_err(|e| read_error(&file, &e))?;
        if of_it.is_disjoint(&needed) {
            remove(&file).map_err(failed)?;
        }
    }
    for entry in std::fs::read_dir(folder).map_err(failed)? {
        let path = entry.map_err(failed)?.path();
        let name = path.file_name().and_then(|n| n.to_str()).unwrap_or_default();
        if name.starts_with(PREFIX) && name.ends_with(PART) {
            remove(&path).map_err(failed)?;
        }
    }
    Ok(())
}
