//! What becomes of readings: those of past hours are packed; those of a bath that ended long ago are thinned to what their
//! minutes said, where that changes no answer.

use hold_steady_core::book::{Change, ReadingRecord, Worse, by_minute, comes_often, minutes};
use hold_steady_core::limits::MOST_VESSELS;
use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::pack::{Row, Told, pack, pack_minutes, unpack, unpack_minutes};
use super::readings::{HOUR_US, worse};
use super::{Detail, load};
use crate::actor::changed;
use crate::time::At;
use crate::{InKitchen, StoreError};

/// An hour is packed once it is past for so long: devices send what they kept.
const PAST: SignedDuration = SignedDuration::from_hours(2);

/// Between two hours that are thinned.
const LEAST_PAUSE: std::time::Duration = std::time::Duration::from_millis(5);

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
    /// It is read and packed while others write; only that it takes the place of its readings waits for them.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn pack_an_hour(&self, now: Timestamp) -> Result<bool, StoreError> {
        let before = now.checked_sub(PAST).unwrap_or(now).as_microsecond().div_euclid(HOUR_US) * HOUR_US;
        let packed = self.aside(move |c, actor| {
            // Of each instrument the first, by its key; not of what was typed.
            let mut oldest = c.prepare_cached(
                "SELECT i.id, (SELECT r.at FROM reading r WHERE r.instrument_id = i.id AND r.quality IN ('reported', 'imported') ORDER BY r.at LIMIT 1) AS first
                 FROM instrument i WHERE i.kitchen_id = ?1 AND first < ?2 LIMIT 1",
            )?;
            let found: Option<(Uuid, i64)> =
                oldest.query_row((actor.kitchen, before), |r| Ok((r.get(0)?, r.get(1)?))).optional()?;
            found.map(|(id, first)| Packed::of(c, id, first.div_euclid(HOUR_US))).transpose()
        });
        let Some(packed) = packed.await? else { return Ok(false) };
        self.reporting(move |c, _| packed.put_away(c)).await?;
        Ok(true)
    }

    /// Thins the readings of one bath that ended longer ago than the kitchen keeps every reading. Nothing that is worked out
    /// of them changes by it, or it is left whole: that is looked at first, hour by hour, while all else goes on; then an
    /// hour at a time is written. Whether there was one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn thin_a_bath(&self, now: Timestamp) -> Result<bool, StoreError> {
        let Some((bath, hours, same)) =
            self.aside(move |c, actor| to_be_thinned(c, actor.kitchen, now)).await?
        else {
            return self.thin_storages(now).await;
        };
        if !same {
            let whole = "UPDATE bath SET stays_whole = 1 WHERE id = ?1";
            self.reporting(move |c, _| Ok(c.execute(whole, [bath])?)).await?;
            return Ok(true);
        }
        for hour in hours {
            let begun = std::time::Instant::now();
            self.reporting(move |c, _| {
                let struck = load(c, bath, Detail::Water)?.state().struck;
                thin_hour(c, hour, &struck)
            })
            .await?;
            // Between two hours whoever waits comes first.
            tokio::time::sleep(begun.elapsed().max(LEAST_PAUSE)).await;
        }
        let (readings, minutes) = self.aside(move |c, _| thinned(c, bath)).await?;
        self.reporting(move |c, actor| {
            c.execute("UPDATE bath SET thinned_at = ?2 WHERE id = ?1", (bath, At(now)))?;
            if readings > 0 {
                changed(c, actor, &Change::ReadingsThinned { bath, readings, minutes }, now)?;
            }
            Ok(())
        })
        .await?;
        Ok(true)
    }

    /// Thins what was read in refrigerators, freezers and the room longer ago than every reading is kept. Whether there was any.
    async fn thin_storages(&self, now: Timestamp) -> Result<bool, StoreError> {
        let hours = self.aside(move |c, actor| of_storages(c, actor.kitchen, now)).await?;
        let any = !hours.is_empty();
        for hour in hours {
            let begun = std::time::Instant::now();
            self.reporting(move |c, _| thin_hour(c, hour, &[])).await?;
            tokio::time::sleep(begun.elapsed().max(LEAST_PAUSE)).await;
        }
        Ok(any)
    }
}

/// An hour of an instrument.
type Hour = (Uuid, i64);

/// A bath whose readings are to be thinned, the hours that are whole yet, and whether all stays the same by it.
fn to_be_thinned(
    c: &Connection,
    kitchen: Uuid,
    now: Timestamp,
) -> Result<Option<(Uuid, Vec<Hour>, bool)>, StoreError> {
    let days: i64 = c.query_row("SELECT whole_days FROM kitchen WHERE id = ?1", [kitchen], |r| r.get(0))?;
    let before = now.checked_sub(SignedDuration::from_hours(24 * days)).unwrap_or(now);
    let mut old = c.prepare_cached(
        "SELECT id FROM bath WHERE kitchen_id = ?1 AND ended_at < ?2 AND thinned_at IS NULL AND stays_whole = 0 LIMIT ?3",
    )?;
    let ids: Vec<Uuid> = old
        .query_map((kitchen, At(before), crate::rows::most(MOST_VESSELS)), |r| r.get(0))?
        .collect::<Result<_, _>>()?;
    for bath in ids {
        if crate::rows::in_use(c, kitchen, bath)? {
            continue;
        }
        let struck = load(c, bath, Detail::Water)?.state().struck;
        let mut hours = c.prepare_cached(
            "SELECT i.id, r.at / 3600000000 FROM instrument i JOIN reading r ON r.instrument_id = i.id
             WHERE i.bath_id = ?1 AND r.quality IN ('reported', 'imported')
             UNION SELECT i.id, p.hour FROM instrument i JOIN reading_pack p ON p.instrument_id = i.id
             WHERE i.bath_id = ?1 AND p.thinned = 0 ORDER BY 1, 2",
        )?;
        let hours: Vec<Hour> =
            hours.query_map([bath], |r| Ok((r.get(0)?, r.get(1)?)))?.collect::<Result<_, _>>()?;
        for hour in &hours {
            let often = often(c, *hour, &struck)?;
            if !stays_so(&often, Worse::Colder)? {
                return Ok(Some((bath, hours, false)));
            }
        }
        return Ok(Some((bath, hours, true)));
    }
    Ok(None)
}

/// Whether what is worked out of readings stays the same once they are thinned: it is worked out of what their minutes say.
fn stays_so(often: &[ReadingRecord], worse: Worse) -> Result<bool, StoreError> {
    let told = told_of(often, worse);
    let told = told.iter().map(super::readings::told).collect::<Result<Vec<_>, _>>()?;
    Ok(by_minute(often, worse) == by_minute(&told, worse))
}

/// Hours of a refrigerator, a freezer or the room that are older than every reading is kept, and are whole yet; those that would
/// not stay the same are left so.
fn of_storages(c: &Connection, kitchen: Uuid, now: Timestamp) -> Result<Vec<Hour>, StoreError> {
    const AT_ONCE: usize = 500;
    let days: i64 = c.query_row("SELECT whole_days FROM kitchen WHERE id = ?1", [kitchen], |r| r.get(0))?;
    let before = now.checked_sub(SignedDuration::from_hours(24 * days)).unwrap_or(now);
    let before = before.as_microsecond().div_euclid(HOUR_US);
    let mut hours = c.prepare_cached(
        "SELECT i.id, p.hour FROM instrument i JOIN reading_pack p ON p.instrument_id = i.id
         WHERE i.kitchen_id = ?1 AND i.storage_id IS NOT NULL AND p.thinned = 0 AND p.hour < ?2 ORDER BY 1, 2",
    )?;
    let hours: Vec<Hour> =
        hours.query_map((kitchen, before), |r| Ok((r.get(0)?, r.get(1)?)))?.collect::<Result<_, _>>()?;
    let mut same = Vec::new();
    for hour in hours {
        if same.len() < AT_ONCE && stays_so(&often(c, hour, &[])?, Worse::Warmer)? {
            same.push(hour);
        }
    }
    Ok(same)
}

/// What was read often in an hour, without what was struck out: that counts in no minute; a minute of nothing else is none.
fn often(
    c: &Connection,
    (instrument, hour): Hour,
    struck: &[(Uuid, Timestamp)],
) -> Result<Vec<ReadingRecord>, StoreError> {
    let mut all = super::readings::in_hour(c, instrument, hour)?;
    all.retain(|r| comes_often(&r.quality) && !struck.contains(&(instrument, r.at)));
    Ok(all)
}

fn told_of(often: &[ReadingRecord], worse: Worse) -> Vec<Told> {
    minutes(often, worse).iter().map(|(m, quality)| Told::of(m, quality)).collect()
}

/// Thins an hour to what its minutes said.
fn thin_hour(c: &Connection, own: Hour, struck: &[(Uuid, Timestamp)]) -> Result<(), StoreError> {
    let (instrument, hour) = own;
    let told = told_of(&often(c, own, struck)?, worse(c, instrument)?);
    if !rows(c, instrument, hour)?.is_empty() {
        Packed::of(c, instrument, hour)?.put_away(c)?;
    }
    let mut thin = c.prepare_cached(
        "UPDATE reading_pack SET thinned = 1, body = ?3 WHERE instrument_id = ?1 AND hour = ?2 AND thinned = 0",
    )?;
    thin.execute((instrument, hour, pack_minutes(&told)?))?;
    c.prepare_cached("DELETE FROM reading_minute WHERE instrument_id = ?1 AND minute >= ?2 AND minute < ?3")?
        .execute((instrument, hour * 60, (hour + 1) * 60))?;
    Ok(())
}

/// How many readings there were of what was thinned of a bath, and of how many minutes something is kept.
fn thinned(c: &Connection, bath: Uuid) -> Result<(u64, u64), StoreError> {
    let mut packs = c.prepare_cached(
        "SELECT p.count, p.body FROM instrument i JOIN reading_pack p ON p.instrument_id = i.id
         WHERE i.bath_id = ?1 AND p.thinned = 1",
    )?;
    let mut found = packs.query([bath])?;
    let (mut readings, mut told) = (0, 0);
    while let Some(row) = found.next()? {
        let (count, body): (i64, Vec<u8>) = (row.get(0)?, row.get(1)?);
        readings += u64::try_from(count).unwrap_or(0);
        told += unpack_minutes(&body)?.len() as u64;
    }
    Ok((readings, told))
}

fn rows(c: &Connection, instrument: Uuid, hour: i64) -> Result<Vec<Row>, StoreError> {
    let mut rows = c.prepare_cached(
        "SELECT at, celsius, quality, recorded_at, who_id FROM reading
         WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 AND quality IN ('reported', 'imported') ORDER BY at",
    )?;
    let row = |r: &rusqlite::Row<'_>| {
        Ok(Row {
            at: r.get(0)?,
            celsius: r.get(1)?,
            quality: r.get(2)?,
            recorded_at: r.get(3)?,
            recorded_by: r.get::<_, Option<Uuid>>(4)?.map(|who| who.to_string()),
        })
    };
    let within = (instrument, hour * HOUR_US, (hour + 1) * HOUR_US);
    Ok(rows.query_map(within, row)?.collect::<Result<_, _>>()?)
}

pub(super) fn insert(
    c: &Connection,
    (instrument, hour): (Uuid, i64),
    (count, thinned): (usize, bool),
    body: &[u8],
) -> Result<(), StoreError> {
    let mut insert = c.prepare_cached(
        "INSERT INTO reading_pack (instrument_id, hour, count, thinned, body) VALUES (?1, ?2, ?3, ?4, ?5)",
    )?;
    insert.execute((instrument, hour, crate::rows::most(count), thinned, body))?;
    Ok(())
}

/// An hour of readings, packed.
struct Packed {
    instrument: Uuid,
    hour: i64,
    count: usize,
    body: Vec<u8>,
}

impl Packed {
    /// What does not come back from its pack as it was stays as it is.
    fn of(c: &Connection, instrument: Uuid, hour: i64) -> Result<Self, StoreError> {
        let rows = rows(c, instrument, hour)?;
        let body = pack(&rows)?;
        let same = |a: &Row, b: &Row| a == b && a.celsius.to_bits() == b.celsius.to_bits();
        let back = unpack(&body)?;
        if back.len() != rows.len() || !back.iter().zip(&rows).all(|(a, b)| same(a, b)) {
            return Err(StoreError::Record(format!(
                "the readings of hour {hour} of {instrument} do not come back whole"
            )));
        }
        Ok(Self { instrument, hour, count: rows.len(), body })
    }

    /// In the place of its readings, unless one came since: then it is packed another time.
    fn put_away(&self, c: &Connection) -> Result<(), StoreError> {
        let within = (self.instrument, self.hour * HOUR_US, (self.hour + 1) * HOUR_US);
        let sql = "SELECT count(*) FROM reading WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 AND quality IN ('reported', 'imported')";
        let there: i64 = c.prepare_cached(sql)?.query_row(within, |r| r.get(0))?;
        if there != crate::rows::most(self.count) {
            return Ok(());
        }
        insert(c, (self.instrument, self.hour), (self.count, false), &self.body)?;
        c.prepare_cached(
            "DELETE FROM reading WHERE instrument_id = ?1 AND at >= ?2 AND at < ?3 AND quality IN ('reported', 'imported')",
        )?
        .execute(within)?;
        Ok(())
    }
}
