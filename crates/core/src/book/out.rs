//! The book taken out, one record after another: a long book needs no more room than a short one.

use std::io::{self, Write};

use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::calc::MOST_EFFORT;
use crate::heat::Effort;

use super::entry::{HEADER, row};
use super::{BookEntry, CookRecord, FORMAT, KitchenRecord, VERSION};

/// Writes an export: the kitchen first, then cook after cook, each on a line of its own.
///
/// ```
/// use hold_steady_core::book::{ExportWriter, KitchenRecord, read_export};
/// let now = "2026-11-25T12:00:00Z".parse()?;
/// let kitchen = KitchenRecord { name: "Galley".into(), time_zone: "UTC".into(), ..KitchenRecord::default() };
/// let text = ExportWriter::begin(Vec::new(), &kitchen, now)?.end()?;
/// assert!(read_export(&String::from_utf8(text)?, now)?.export.cooks.is_empty());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug)]
pub struct ExportWriter<W> {
    out: W,
    any: bool,
}

impl<W: Write> ExportWriter<W> {
    /// Writes what stands before the cooks.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let text = ExportWriter::begin(Vec::new(), &export.kitchen, now)?.end()?;
    /// assert!(String::from_utf8(text)?.contains(r#""cooks":["#));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn begin(mut out: W, kitchen: &KitchenRecord, now: Timestamp) -> io::Result<Self> {
        let [format, at] = [serde_json::to_string(FORMAT)?, serde_json::to_string(&now)?];
        let kitchen = serde_json::to_string(kitchen)?;
        write!(
            out,
            "{{\"format\":{format},\"version\":{VERSION},\"exported_at\":{at},\n\"kitchen\":{kitchen},\n\"cooks\":["
        )?;
        Ok(Self { out, any: false })
    }

    /// Writes a cook.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let mut out = ExportWriter::begin(Vec::new(), &export.kitchen, now)?;
    /// out.cook(cook)?;
    /// let text = String::from_utf8(out.end()?)?;
    /// assert_eq!(read_export(&text, now)?.export.cooks[0].id, cook.id);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn cook(&mut self, cook: &CookRecord) -> io::Result<()> {
        self.out.write_all(if self.any { b",\n" } else { b"\n" })?;
        self.any = true;
        serde_json::to_writer(&mut self.out, cook)?;
        Ok(())
    }

    /// Writes the end, and gives back what was written to.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let text = ExportWriter::begin(Vec::new(), &export.kitchen, now)?.end()?;
    /// assert!(text.ends_with(b"]}\n"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn end(mut self) -> io::Result<W> {
        self.out.write_all(b"\n]}\n")?;
        self.out.flush()?;
        Ok(self.out)
    }
}

/// Writes the book as comma-separated values with a header row; times in the kitchen's zone with their offset,
/// temperatures in °C, lengths in mm.
pub struct CsvWriter<W: Write> {
    out: ::csv::Writer<W>,
    zone: TimeZone,
}

impl<W: Write> CsvWriter<W> {
    /// Writes the header row.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let text = CsvWriter::begin(Vec::new(), jiff::tz::TimeZone::UTC)?.end()?;
    /// assert!(text.starts_with(b"planned_at,food,thickness_mm"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn begin(out: W, zone: TimeZone) -> io::Result<Self> {
        let mut out = ::csv::Writer::from_writer(out);
        out.write_record(HEADER)?;
        Ok(Self { out, zone })
    }

    /// Writes the row of a cook. What cannot be computed any more has none; the export has all of it. Each row is a
    /// question of its own: a long book is no reason to leave one out.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let mut out = CsvWriter::begin(Vec::new(), jiff::tz::TimeZone::UTC)?;
    /// out.cook(cook)?;
    /// assert!(String::from_utf8(out.end()?)?.lines().nth(1).is_some_and(|row| row.contains("beef-strip")));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn cook(&mut self, cook: &CookRecord) -> io::Result<()> {
        match Effort::of(MOST_EFFORT).within(|| BookEntry::of(cook)) {
            Ok(Some(entry)) => Ok(self.out.write_record(row(&entry, &self.zone))?),
            Ok(None) | Err(_) => Ok(()),
        }
    }

    /// Writes what is left, and gives back what was written to.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let out = CsvWriter::begin(Vec::new(), jiff::tz::TimeZone::UTC)?;
    /// assert_eq!(String::from_utf8(out.end()?)?.lines().count(), 1);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn end(mut self) -> io::Result<W> {
        self.out.flush()?;
        self.out.into_inner().map_err(::csv::IntoInnerError::into_error)
    }
}
