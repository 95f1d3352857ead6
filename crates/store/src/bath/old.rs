//! What becomes of readings: those of past hours are packed; those of a bath that ended long ago are thinned to what their
//! minutes said, where that changes no answer.

use hold_steady_core::book::{
    BathRecord, Change, InstrumentRecord, MOST_VESSELS, ReadingRecord, by_minute, minutes,
};
use jiff::{SignedDuration, Timestamp};
use rusqlite::Connection;
use uuid::Uuid;

use super::pack::{Row, Told, pack, pack_minutes, unpack};
use super::readings::HOUR_US;
use super::{Detail, load};
use crate::actor::changed;
use crate::time::At;
use crate::{InKitchen, StoreError};

/// An hour is packed once it is past for so long: devices send what they kept.
const PAST: SignedDuration = SignedDuration::from_hours(2);

/// Fewest and most days a bath may keep every reading after its end.
pub const WHOLE_DAYS: std::ops::RangeInclusive<u16> = 14..=3650;

impl InKitchen {
    /// For how many days after its end a bath keeps every reading.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn whole_days(&self) -> Result<u16, StoreError> {
        self.with(|c, actor| {
            Ok(c.query_row("SELECT whole_days FROM kitchen WHERE id = ?1", [actor.kitchen], |r| r.get(0))?)
        })
        .await
    }

    /// Says for how many days that is.
    ///
    /// # Errors
    /// When it is outside of [`WHOLE_DAYS`], or the database fails.
    pub async fn keep_whole(&self, days: u16, now: Timestamp) -> Result<(), StoreError> {
        if !WHOLE_DAYS.contains(&days) {
            let (least, most) = (WHOLE_DAYS.start(), WHOLE_DAYS.end());
            return Err(StoreError::Conflict(format!("{days} days: {least} to {most} can be kept")));
        }
        self.writing(move |c, actor| {
            let written = c.execute(
                "UPDATE kitchen SET whole_days = ?2 WHERE id = ?1 AND whole_days <> ?2",
                (actor.kitchen, days),
            )?;
            if written > 0 {
                changed(c, actor, &Change::ReadingsKept { days }, now)?;
            }
            Ok(())
        })
        .await
    }

    /// Every reading of a bath there is, packed or not; of what was thinned its minutes. By instrument and time.
    ///
    /// # Errors
    /// When the bath is not there, a record cannot be read, or the database fails.
    pub async fn every_reading(&self, bath: Uuid) -> Result<Vec<(Timestamp, f64)>, StoreError> {
        self.aside(move |c, actor| {
            super::ours(c, actor, bath)?;
            let record = load(c, bath, Detail::Whole)?;
            let readings = record.instruments.into_iter().flat_map(|i| i.readings);
            Ok(readings.map(|r| (r.at, r.celsius.value())).collect())
        })
        .await
    }

    /// Packs the oldest hour of readings there is that is past, of one instrument. Whether there was one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn pack_an_hour(&self, now: Timestamp) -> Result<bool, StoreError> {
        self.reporting(move |c, actor| {
            let before = now.checked_sub(PAST).unwrap_or(now).as_microsecond().div_euclid(HOUR_US) * HOUR_US;
            // Of each instrument the first, by its key; not of what was typed.
            let mut oldest = c.prepare_cached(
                "SELECT i.id, (SELECT r.at FROM reading r WHERE r.instrument_id = i.id AND r.quality IN ('reported', 'imported') ORDER BY r.at LIMIT 1) AS first
                 FROM instrument i WHERE i.kitchen_id = ?1 AND first < ?2 LIMIT 1",
            )?;
            let mut found = oldest.query((actor.kitchen, before))?;
            let Some(row) = found.next()? else { return Ok(false) };
            let (id, first): (Uuid, i64) = (row.get(0)?, row.get(1)?);
            drop(found);
            pack_hour(c, id, first.div_euclid(HOUR_US))?;
            Ok(true)
        })
        .await
    }

    /// Thins the readings of one bath that ended longer ago than the kitchen keeps every reading. Nothing that is worked out
    /// of them changes by it, or it is left whole. Whether there was one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn thin_a_bath(&self, now: Timestamp) -> Result<bool, StoreError> {
        self.reporting(move |c, actor| {
            let days: i64 =
                c.query_row("SELECT whole_days FROM kitchen WHERE id = ?1", [actor.kitchen], |r| r.get(0))?;
            let before = now.checked_sub(SignedDuration::from_hours(24 * days)).unwrap_or(now);
            let mut old = c.prepare_cached(
                "SELECT id FROM bath WHERE kitchen_id = ?1 AND ended_at < ?2 AND thinned_at IS NULL AND stays_whole = 0 LIMIT ?3",
            )?;
            let ids: Vec<Uuid> = old
                .query_map((actor.kitchen, At(before), crate::phase::most(MOST_VESSELS)), |r| r.get(0))?
                .collect::<Result<_, _>>()?;
            for id in ids {
                if !crate::cook::in_use(c, actor.kitchen, id)? {
                    thin(c, id, now)?.map_or(Ok(()), |(readings, minutes)| {
                        changed(c, actor, &Change::ReadingsThinned { bath: id, readings, minutes }, now)
                    })?;
                    return Ok(true);
                }
            }
            Ok(false)
        })
        .await
    }
}

fn rows(c: &Connection, instrument: Uuid, hour: i64) -> Result<Vec<Row>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT at, celsius, quality, recorded_at, recorded_by FROM reading
         WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 AND quality IN ('reported', 'imported') ORDER BY at",
    )?;
    let row = |r: &rusqlite::Row<'_>| {
        Ok(Row {
            at: r.get(0)?,
            celsius: r.get(1)?,
            quality: r.get(2)?,
            recorded_at: r.get(3)?,
            recorded_by: r.get(4)?,
        })
    };
    let within = (instrument, hour * HOUR_US, (hour + 1) * HOUR_US);
    Ok(rows.query_map(within, row)?.collect::<Result<_, _>>()?)
}

fn insert(
    c: &Connection,
    (instrument, hour): (Uuid, i64),
    (count, thinned): (usize, bool),
    body: &[u8],
) -> Result<(), StoreError> {
    let mut insert = c.prepare_cached(
        "INSERT INTO reading_pack (instrument_id, hour, count, thinned, body) VALUES (?1, ?2, ?3, ?4, ?5)",
    )?;
    insert.execute((instrument, hour, crate::phase::most(count), thinned, body))?;
    Ok(())
}

/// Packs an hour. What does not come back from its pack as it was stays as it is.
fn pack_hour(c: &Connection, instrument: Uuid, hour: i64) -> Result<(), StoreError> {
    let rows = rows(c, instrument, hour)?;
    let body = pack(&rows)?;
    let same = |a: &Row, b: &Row| a == b && a.celsius.to_bits() == b.celsius.to_bits();
    let back = unpack(&body)?;
    if back.len() != rows.len() || !back.iter().zip(&rows).all(|(a, b)| same(a, b)) {
        return Err(StoreError::Record(format!(
            "the readings of hour {hour} of {instrument} do not come back whole"
        )));
    }
    insert(c, (instrument, hour), (rows.len(), false), &body)?;
    c.prepare_cached(
        "DELETE FROM reading WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 AND quality IN ('reported', 'imported')",
    )?
    .execute((instrument, hour * HOUR_US, (hour + 1) * HOUR_US))?;
    Ok(())
}

/// Thins a bath's readings: how many there were, and of how many minutes; nothing where it stays whole.
fn thin(c: &Connection, bath: Uuid, now: Timestamp) -> Result<Option<(u64, u64)>, StoreError> {
    let before = load(c, bath, Detail::Judged)?;
    let struck = before.state().struck;
    c.execute_batch("SAVEPOINT thinning")?;
    let (mut readings, mut told) = (0, 0);
    for instrument in &before.instruments {
        let of_it = |at: &Timestamp| struck.contains(&(instrument.id, *at));
        let (r, m) = thin_instrument(c, instrument.id, &of_it)?;
        (readings, told) = (readings + r, told + m);
    }
    let after = load(c, bath, Detail::Judged)?;
    // What is worked out of a bath is worked out of what stands here: the same of it is the same of all.
    let counted = |b: &BathRecord| {
        let of = |i: &InstrumentRecord| {
            let counts = |r: &&ReadingRecord| !struck.contains(&(i.id, r.at));
            by_minute(&i.readings.iter().filter(counts).cloned().collect::<Vec<_>>())
        };
        b.instruments.iter().map(of).collect::<Vec<_>>()
    };
    let same = before.reads_by_minute() == after.reads_by_minute() && counted(&before) == counted(&after);
    if same {
        c.execute("UPDATE bath SET thinned_at = ?2 WHERE id = ?1", (bath, At(now)))?;
    } else {
        c.execute_batch("ROLLBACK TO thinning")?;
        c.execute("UPDATE bath SET stays_whole = 1 WHERE id = ?1", [bath])?;
    }
    c.execute_batch("RELEASE thinning")?;
    Ok((same && readings > 0).then_some((readings, told)))
}

fn thin_instrument(
    c: &Connection,
    instrument: Uuid,
    struck: &dyn Fn(&Timestamp) -> bool,
) -> Result<(u64, u64), StoreError> {
    let hours = "SELECT DISTINCT at / 3600000000 FROM reading WHERE instrument_id = ?1 AND quality IN ('reported', 'imported')
                 UNION SELECT hour FROM reading_pack WHERE instrument_id = ?1 AND thinned = 0";
    let hours: Vec<i64> =
        c.prepare(hours)?.query_map([instrument], |r| r.get(0))?.collect::<Result<_, _>>()?;
    let (mut readings, mut told) = (0, 0);
    for hour in hours {
        if !rows(c, instrument, hour)?.is_empty() {
            pack_hour(c, instrument, hour)?;
        }
        let body: Vec<u8> = c.query_row(
            "SELECT body FROM reading_pack WHERE instrument_id = ?1 AND hour = ?2",
            (instrument, hour),
            |r| r.get(0),
        )?;
        let all = super::readings::opened(false, &body)?;
        // What was struck out counts in no minute; a minute of nothing else is none.
        let counted: Vec<_> = all.iter().filter(|r| !struck(&r.at)).cloned().collect();
        let minutes: Vec<Told> = minutes(&counted).iter().map(|(m, quality)| Told::of(m, quality)).collect();
        c.execute("DELETE FROM reading_pack WHERE instrument_id = ?1 AND hour = ?2", (instrument, hour))?;
        insert(c, (instrument, hour), (all.len(), true), &pack_minutes(&minutes)?)?;
        c.execute(
            "DELETE FROM reading_minute WHERE instrument_id = ?1 AND minute >= ?2 AND minute < ?3",
            (instrument, hour * 60, (hour + 1) * 60),
        )?;
        readings += all.len() as u64;
        told += minutes.len() as u64;
    }
    Ok((readings, told))
}
