//! Readings: each as it came, and beside them, in the same transaction, what their minutes say.

use std::collections::BTreeSet;

use hold_steady_core::book::{ReadingRecord, Thinned, Worse, comes_often, minute_of, minutes};
use hold_steady_core::units::Celsius;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::pack::{Row, Told, unpack, unpack_minutes};
use crate::StoreError;
use crate::time::At;
use crate::who::who;
use hold_steady_core::who::By;

/// A reading about to be written down.
pub(crate) struct ReadingRow<'a> {
    pub(crate) instrument: Uuid,
    pub(crate) at: Timestamp,
    pub(crate) celsius: Celsius,
    pub(crate) quality: &'a str,
}

/// Writes readings down. What their minutes say follows with [`Self::end`], in the same transaction.
#[derive(Default)]
pub(crate) struct Writing {
    touched: BTreeSet<(Uuid, i64)>,
    /// Hours of instruments that are no packs.
    rows: BTreeSet<(Uuid, i64)>,
}

/// What became of a reading.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Written {
    /// It was written down.
    New,
    /// It was there already.
    Known,
    /// What was read in that hour was thinned: it comes too late.
    TooLate,
}

const MINUTE_US: i64 = 60_000_000;
pub(super) const HOUR_US: i64 = 60 * MINUTE_US;

/// What is packed of an hour: whether it was thinned, and its body.
pub(super) fn packed(
    c: &Connection,
    instrument: Uuid,
    hour: i64,
) -> Result<Option<(bool, Vec<u8>)>, StoreError> {
    let mut q =
        c.prepare_cached("SELECT thinned, body FROM reading_pack WHERE instrument_id = ?1 AND hour = ?2")?;
    Ok(q.query_row((instrument, hour), |r| Ok((r.get(0)?, r.get(1)?))).optional()?)
}

impl Writing {
    /// Writes down a reading, and when and by whom it was written down. One that is there already, the same at the same
    /// instant, is known; another of that instant stands beside it, a millionth of a second later.
    pub(crate) fn reading(
        &mut self,
        c: &Connection,
        row: &ReadingRow<'_>,
        written: Option<(Timestamp, Uuid)>,
    ) -> Result<Written, StoreError> {
        const MOST_AT_ONCE: i64 = 1000;
        let (first, celsius) = (row.at.as_microsecond(), row.celsius.value());
        let hour = (row.instrument, first.div_euclid(HOUR_US));
        if comes_often(row.quality) && !self.rows.contains(&hour) {
            match packed(c, hour.0, hour.1)? {
                Some((true, _)) => return Ok(Written::TooLate),
                // It is packed again when nothing more comes.
                Some((false, body)) => spread(c, hour, &body)?,
                None => {}
            }
            self.rows.insert(hour);
        }
        let mut here = c.prepare_cached(
            "SELECT at, celsius FROM reading WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 ORDER BY at",
        )?;
        let mut free = first;
        let mut rows = here.query((row.instrument, first, first + MOST_AT_ONCE))?;
        while let Some(found) = rows.next()? {
            let (at, there): (i64, f64) = (found.get(0)?, found.get(1)?);
            if at != free {
                break;
            }
            if there.total_cmp(&celsius).is_eq() {
                return Ok(Written::Known);
            }
            free += 1;
        }
        let mut insert = c.prepare_cached(
            "INSERT INTO reading (instrument_id, at, celsius, quality, recorded_at, who_id) VALUES (?1, ?2, ?3, ?4, ?5, ?6)
             ON CONFLICT DO NOTHING",
        )?;
        let (recorded, by) = (written.map(|w| At(w.0)), written.map(|w| w.1));
        let new = insert.execute((row.instrument, free, celsius, row.quality, recorded, by))?;
        if new > 0 && comes_often(row.quality) {
            self.touched.insert((row.instrument, free.div_euclid(MINUTE_US)));
        }
        Ok(if new > 0 { Written::New } else { Written::Known })
    }

    /// Says again what each minute says that something was written into.
    pub(crate) fn end(self, c: &Connection) -> Result<(), StoreError> {
        for (instrument, minute) in self.touched {
            let of_it = between(c, instrument, minute, minute + 1)?;
            keep_minutes(c, (instrument, worse(c, instrument)?), &of_it)?;
        }
        Ok(())
    }
}

/// Which of two readings of one second counts: of what is to be cold the warmer.
pub(super) fn worse(c: &Connection, instrument: Uuid) -> Result<Worse, StoreError> {
    let mut q = c.prepare_cached("SELECT storage_id IS NOT NULL FROM instrument WHERE id = ?1")?;
    let cold: bool = q.query_row([instrument], |r| r.get(0))?;
    Ok(if cold { Worse::Warmer } else { Worse::Colder })
}

/// Keeps what the minutes of these readings say: whole minutes, by time.
pub(crate) fn keep_minutes(
    c: &Connection,
    (instrument, worse): (Uuid, Worse),
    readings: &[ReadingRecord],
) -> Result<(), StoreError> {
    let mut keep = c.prepare_cached(
        "INSERT INTO reading_minute (instrument_id, minute, quality, least_c, mean_c, most_c, last_c, last_at, count, gap_s)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)
         ON CONFLICT (instrument_id, minute, quality) DO UPDATE SET
            least_c = ?4, mean_c = ?5, most_c = ?6, last_c = ?7, last_at = ?8, count = ?9, gap_s = ?10",
    )?;
    for (m, quality) in minutes(readings, worse) {
        keep.execute((
            instrument,
            m.minute,
            quality,
            m.least.value(),
            m.mean.value(),
            m.most.value(),
            m.last.value(),
            At(m.last_at),
            m.count,
            m.gap_s,
        ))?;
    }
    Ok(())
}

fn record(r: &rusqlite::Row<'_>) -> rusqlite::Result<ReadingRecord> {
    let at: At = r.get(0)?;
    Ok(ReadingRecord { at: at.0, celsius: Celsius::new(r.get(1)?), quality: r.get(2)? })
}

/// Writes the readings of a pack back as rows, and takes the pack away.
fn spread(c: &Connection, (instrument, hour): (Uuid, i64), body: &[u8]) -> Result<(), StoreError> {
    let mut insert = c.prepare_cached(
        "INSERT INTO reading (instrument_id, at, celsius, quality, recorded_at, who_id) VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
    )?;
    let kitchen: Uuid =
        c.query_row("SELECT kitchen_id FROM instrument WHERE id = ?1", [instrument], |r| r.get(0))?;
    for r in unpack(body)? {
        let by = r.recorded_by.map(|text| match text.parse::<Uuid>() {
            Ok(who) => Ok(who),
            // Packed by an older version, with a name.
            Err(_) => who(c, kitchen, &By::nobody(&text)),
        });
        insert.execute((instrument, r.at, r.celsius, r.quality, r.recorded_at, by.transpose()?))?;
    }
    c.prepare_cached("DELETE FROM reading_pack WHERE instrument_id = ?1 AND hour = ?2")?
        .execute((instrument, hour))?;
    Ok(())
}

pub(super) fn told(m: &Told) -> Result<ReadingRecord, StoreError> {
    let minute = m.minute()?;
    Ok(ReadingRecord { at: minute.last_at, celsius: minute.mean, quality: m.quality.clone() })
}

/// What is in a pack: its readings, or of one that was thinned what stands for each of its minutes.
fn opened(thinned: bool, body: &[u8]) -> Result<Vec<ReadingRecord>, StoreError> {
    if thinned { told_by_minute(body) } else { whole(body) }
}

/// What stands for each minute of a pack that was thinned.
fn told_by_minute(body: &[u8]) -> Result<Vec<ReadingRecord>, StoreError> {
    unpack_minutes(body)?.iter().map(told).collect()
}

/// The readings of a pack.
fn whole(body: &[u8]) -> Result<Vec<ReadingRecord>, StoreError> {
    let reading = |r: Row| {
        let at =
            Timestamp::from_microsecond(r.at).map_err(|e| StoreError::Record(format!("readings: {e}")))?;
        Ok(ReadingRecord { at, celsius: Celsius::new(r.celsius), quality: r.quality })
    };
    unpack(body)?.into_iter().map(reading).collect()
}

/// Every reading of an instrument, by time; and how many there were of what was thinned.
pub(crate) fn all(
    c: &Connection,
    instrument: Uuid,
) -> Result<(Vec<ReadingRecord>, Option<Thinned>), StoreError> {
    let mut all: Vec<ReadingRecord> = Vec::new();
    let mut were = 0;
    let mut packs = c.prepare_cached(
        "SELECT thinned, body, count FROM reading_pack WHERE instrument_id = ?1 ORDER BY hour",
    )?;
    let mut found = packs.query([instrument])?;
    while let Some(row) = found.next()? {
        let (thinned, body, count): (bool, Vec<u8>, i64) = (row.get(0)?, row.get(1)?, row.get(2)?);
        all.extend(opened(thinned, &body)?);
        if thinned {
            were += u64::try_from(count).unwrap_or(0);
        }
    }
    let mut rows =
        c.prepare_cached("SELECT at, celsius, quality FROM reading WHERE instrument_id = ?1 ORDER BY at")?;
    for row in rows.query_map([instrument], record)? {
        all.push(row?);
    }
    all.sort_by_key(|r| r.at);
    Ok((all, (were > 0).then_some(Thinned { readings: were })))
}

/// Every reading of an instrument from one minute to before another, by time.
fn between(
    c: &Connection,
    instrument: Uuid,
    from: i64,
    until: i64,
) -> Result<Vec<ReadingRecord>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT at, celsius, quality FROM reading WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 ORDER BY at",
    )?;
    let (first, end) = (from.saturating_mul(MINUTE_US), until.saturating_mul(MINUTE_US));
    let mut all: Vec<ReadingRecord> =
        rows.query_map((instrument, first, end), record)?.collect::<Result<_, _>>()?;
    let mut packs = c.prepare_cached(
        "SELECT thinned, body FROM reading_pack WHERE instrument_id = ?1 AND hour >= ?2 AND hour <= ?3 ORDER BY hour",
    )?;
    let hours = (instrument, first.div_euclid(HOUR_US), (end - 1).div_euclid(HOUR_US));
    let mut found = packs.query(hours)?;
    while let Some(row) = found.next()? {
        let body: Vec<u8> = row.get(1)?;
        let within = |r: &ReadingRecord| (first..end).contains(&r.at.as_microsecond());
        all.extend(opened(row.get(0)?, &body)?.into_iter().filter(within));
    }
    all.sort_by_key(|r| r.at);
    Ok(all)
}

/// Every reading of an instrument in an hour, by time.
pub(super) fn in_hour(c: &Connection, instrument: Uuid, hour: i64) -> Result<Vec<ReadingRecord>, StoreError> {
    const MINUTES: i64 = 60;
    between(c, instrument, hour * MINUTES, (hour + 1) * MINUTES)
}

/// The readings of an instrument as they are judged, by time: of each minute of what comes often the one that stands for it;
/// each of what was typed; each of the last two minutes, between which a probe leaves the water; and each of a minute in
/// which something was struck out, so that it takes no other reading with it.
pub(crate) fn judged(
    c: &Connection,
    instrument: Uuid,
    struck: &[Timestamp],
) -> Result<Vec<ReadingRecord>, StoreError> {
    const LAST: i64 = 2;
    let mut last = c.prepare_cached("SELECT max(minute) FROM reading_minute WHERE instrument_id = ?1")?;
    let last: Option<i64> = last.query_row([instrument], |r| r.get(0))?;
    let mut all: Vec<ReadingRecord> = Vec::new();
    // Of a bath that ended long ago only its minutes are left.
    let mut packs = c.prepare_cached(
        "SELECT body FROM reading_pack WHERE instrument_id = ?1 AND thinned = 1 ORDER BY hour",
    )?;
    let mut found = packs.query([instrument])?;
    while let Some(row) = found.next()? {
        let body: Vec<u8> = row.get(0)?;
        all.extend(told_by_minute(&body)?);
    }
    let open = last.map_or(i64::MIN, |m| m.saturating_sub(LAST - 1));
    let apart: BTreeSet<i64> = struck.iter().map(|at| minute_of(*at)).filter(|m| *m < open).collect();
    let mut rows = c.prepare_cached(
        "SELECT last_at, mean_c, quality, minute FROM reading_minute WHERE instrument_id = ?1 AND minute < ?2 ORDER BY minute, quality",
    )?;
    let mut found = rows.query((instrument, open))?;
    while let Some(row) = found.next()? {
        if !apart.contains(&row.get(3)?) {
            all.push(record(row)?);
        }
    }
    for minute in apart {
        let often = between(c, instrument, minute, minute + 1)?;
        all.extend(often.into_iter().filter(|r| comes_often(&r.quality)));
    }
    if last.is_some() {
        let often = between(c, instrument, open, i64::MAX / MINUTE_US)?;
        all.extend(often.into_iter().filter(|r| comes_often(&r.quality)));
    }
    let mut typed = c.prepare_cached(
        "SELECT at, celsius, quality FROM reading INDEXED BY reading_by_hand
         WHERE instrument_id = ?1 AND quality NOT IN ('reported', 'imported') ORDER BY at",
    )?;
    for one in typed.query_map([instrument], record)? {
        all.push(one?);
    }
    all.sort_by_key(|r| r.at);
    Ok(all)
}

/// How much of what was read is asked for.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Much {
    /// Nothing of it.
    Nothing,
    /// What was read from then on, of what comes often each minute.
    Since(Timestamp),
}

/// What an instrument read from an instant on, by time: of what comes often the one that stands for each minute.
pub(crate) fn readings_since(
    c: &Connection,
    instrument: Uuid,
    since: Timestamp,
) -> Result<Vec<ReadingRecord>, StoreError> {
    let from = since.as_microsecond();
    let mut rows = c.prepare_cached(
        "SELECT last_at, mean_c, quality FROM reading_minute WHERE instrument_id = ?1 AND minute >= ?2 ORDER BY minute, quality",
    )?;
    let mut all: Vec<ReadingRecord> =
        rows.query_map((instrument, from.div_euclid(MINUTE_US)), record)?.collect::<Result<_, _>>()?;
    let mut typed = c.prepare_cached(
        "SELECT at, celsius, quality FROM reading INDEXED BY reading_by_hand
         WHERE instrument_id = ?1 AND at >= ?2 AND quality NOT IN ('reported', 'imported') ORDER BY at",
    )?;
    for one in typed.query_map((instrument, from), record)? {
        all.push(one?);
    }
    all.sort_by_key(|r| r.at);
    Ok(all)
}

/// What every minute says, of a database that had none; for the migration.
pub(crate) fn keep_all_minutes(c: &Connection) -> Result<(), StoreError> {
    let mut ids = c.prepare("SELECT id FROM instrument")?;
    let ids: Vec<Uuid> = ids.query_map([], |r| r.get(0))?.collect::<Result<_, _>>()?;
    for id in ids {
        // An hour or so at a time: a week of seconds would be a great many at once.
        const AT_ONCE: i64 = 120;
        let mut ends = c.prepare_cached("SELECT min(at), max(at) FROM reading WHERE instrument_id = ?1")?;
        let (first, last): (Option<i64>, Option<i64>) =
            ends.query_row([id], |r| Ok((r.get(0)?, r.get(1)?)))?;
        let (Some(first), Some(last)) = (first, last) else { continue };
        let (mut from, last) = (first.div_euclid(MINUTE_US), last.div_euclid(MINUTE_US));
        while from <= last {
            keep_minutes(c, (id, Worse::Colder), &between(c, id, from, from + AT_ONCE)?)?;
            // On to the next there is: a book may have a gap of years.
            let mut next =
                c.prepare_cached("SELECT min(at) FROM reading WHERE instrument_id = ?1 AND at >= ?2")?;
            let next: Option<i64> =
                next.query_row((id, (from + AT_ONCE).saturating_mul(MINUTE_US)), |r| r.get(0))?;
            let Some(next) = next else { break };
            from = next.div_euclid(MINUTE_US);
        }
    }
    Ok(())
}
