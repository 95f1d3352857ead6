//! What an instrument read, hour by hour: as it goes into a file and comes out of one. No more than an hour is held.

use std::collections::BTreeSet;

use hold_steady_core::book::{HourRecord, Minute, ReadingRecord, comes_often};
use jiff::Timestamp;
use rusqlite::Connection;
use uuid::Uuid;

use super::old::insert;
use super::pack::{Row, Told, pack, pack_minutes, unpack_minutes};
use super::readings::{HOUR_US, ReadingRow, Writing, Written, in_hour, keep_minutes, packed, worse};
use crate::StoreError;

/// The hours an instrument read something in.
fn hours(c: &Connection, instrument: Uuid) -> Result<Vec<i64>, StoreError> {
    let mut hours = c.prepare_cached(
        "SELECT hour FROM reading_pack WHERE instrument_id = ?1
         UNION SELECT at / 3600000000 FROM reading WHERE instrument_id = ?1 ORDER BY 1",
    )?;
    Ok(hours.query_map([instrument], |r| r.get(0))?.collect::<Result<_, _>>()?)
}

/// What an instrument read in an hour: every reading, and where they were thinned what its minutes said and of how many.
fn of_hour(c: &Connection, instrument: Uuid, hour: i64) -> Result<Vec<HourRecord>, StoreError> {
    let Some((true, body)) = packed(c, instrument, hour)? else {
        return Ok(HourRecord::of(instrument, &in_hour(c, instrument, hour)?));
    };
    let mut count =
        c.prepare_cached("SELECT count FROM reading_pack WHERE instrument_id = ?1 AND hour = ?2")?;
    let count: i64 = count.query_row((instrument, hour), |r| r.get(0))?;
    let mut were = u64::try_from(count).unwrap_or(0);
    let told = unpack_minutes(&body)?;
    let mut all = Vec::new();
    for quality in told.iter().map(|m| m.quality.as_str()).collect::<BTreeSet<_>>() {
        let minutes = told.iter().filter(|m| m.quality == quality).map(Told::minute);
        let minutes: Vec<Minute> = minutes.collect::<Result<_, _>>()?;
        all.extend(HourRecord::of_minutes(instrument, quality, std::mem::take(&mut were), &minutes));
    }
    // What was typed meanwhile is never thinned.
    let typed = in_hour(c, instrument, hour)?;
    let typed: Vec<ReadingRecord> = typed.into_iter().filter(|r| !comes_often(&r.quality)).collect();
    all.extend(HourRecord::of(instrument, &typed));
    Ok(all)
}

/// Hands on what an instrument read, hour after hour.
pub(crate) fn each_hour(
    c: &Connection,
    instrument: Uuid,
    mut take: impl FnMut(HourRecord) -> Result<(), StoreError>,
) -> Result<(), StoreError> {
    for hour in hours(c, instrument)? {
        for record in of_hour(c, instrument, hour)? {
            take(record)?;
        }
    }
    Ok(())
}

/// Hands on what an instrument read in the hour that begins then.
pub(crate) fn each_of_hour(
    c: &Connection,
    instrument: Uuid,
    begins: Timestamp,
    take: impl FnMut(HourRecord) -> Result<(), StoreError>,
) -> Result<(), StoreError> {
    of_hour(c, instrument, begins.as_microsecond().div_euclid(HOUR_US))?.into_iter().try_for_each(take)
}

fn hour_of(record: &HourRecord) -> i64 {
    record.hour.as_microsecond().div_euclid(HOUR_US)
}

/// Writes an hour of a file down where nothing was read yet but what came with that file. Packed at once: it is past.
pub(crate) fn insert_hour(c: &Connection, record: &HourRecord) -> Result<(), StoreError> {
    let (instrument, hour) = (record.instrument, hour_of(record));
    if let Some(thinned) = &record.thinned {
        let minutes = record.minutes();
        let mut told: Vec<Told> = minutes.iter().map(|m| Told::of(m, &record.quality)).collect();
        let count = usize::try_from(thinned.readings).unwrap_or(usize::MAX);
        if let Some((true, body)) = packed(c, instrument, hour)? {
            // Minutes of another quality.
            told.extend(unpack_minutes(&body)?);
            let mut more = c.prepare_cached(
                "UPDATE reading_pack SET body = ?3, count = count + ?4 WHERE instrument_id = ?1 AND hour = ?2",
            )?;
            more.execute((instrument, hour, pack_minutes(&told)?, crate::rows::most(count)))?;
            return Ok(());
        }
        return insert(c, (instrument, hour), (count, true), &pack_minutes(&told)?);
    }
    let readings = record.told();
    let nothing_yet = packed(c, instrument, hour)?.is_none() && in_hour(c, instrument, hour)?.is_empty();
    if !comes_often(&record.quality) || !nothing_yet {
        return add_hour(c, record);
    }
    let row = |r: &ReadingRecord| Row {
        at: r.at.as_microsecond(),
        celsius: r.celsius.value(),
        quality: r.quality.clone(),
        recorded_at: None,
        recorded_by: None,
    };
    let rows: Vec<Row> = readings.iter().map(row).collect();
    insert(c, (instrument, hour), (rows.len(), false), &pack(&rows)?)?;
    let worse = worse(c, instrument)?;
    readings
        .chunk_by(|a, b| minute(a) == minute(b))
        .try_for_each(|of_one| keep_minutes(c, (instrument, worse), of_one))
}

fn minute(r: &ReadingRecord) -> i64 {
    hold_steady_core::book::minute_of(r.at)
}

/// Writes an hour of a file down beside what was read here.
fn add_hour(c: &Connection, record: &HourRecord) -> Result<(), StoreError> {
    let mut writing = Writing::default();
    for r in record.told() {
        let row =
            ReadingRow { instrument: record.instrument, at: r.at, celsius: r.celsius, quality: &r.quality };
        if writing.reading(c, &row, None)? == Written::TooLate {
            break;
        }
    }
    writing.end(c)
}

/// What of an hour of a file was not read here; nothing where that hour was thinned here.
pub(crate) fn fresh(c: &Connection, record: HourRecord) -> Result<Option<HourRecord>, StoreError> {
    let (instrument, hour) = (record.instrument, hour_of(&record));
    if matches!(packed(c, instrument, hour)?, Some((true, _))) {
        return Ok(None);
    }
    let here = in_hour(c, instrument, hour)?;
    if record.thinned.is_some() {
        return Ok(here.is_empty().then_some(record));
    }
    let known: BTreeSet<(i64, u64)> =
        here.iter().map(|r| (r.at.as_microsecond(), r.celsius.value().to_bits())).collect();
    let mut new = record.told();
    new.retain(|r| !known.contains(&(r.at.as_microsecond(), r.celsius.value().to_bits())));
    Ok(HourRecord::of(instrument, &new).pop())
}
