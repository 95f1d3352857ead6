//! The book taken out, one record after another: a long book needs no more room than a short one.

use std::io::{self, Write};

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::Serialize;
use uuid::Uuid;

use crate::bath::WaterEvent;
use crate::heat::{Effort, MOST_EFFORT};

use super::entry::{HEADER, row};
use super::{
    BagRecord, BathRecord, BookEntry, ChangeRecord, CookRecord, EventRecord, FORMAT, HourRecord,
    InstrumentRecord, KeptVessel, KitchenRecord, PieceRecord, SettingRecord, VERSION,
};

/// Writes an export: the kitchen first, then list after list, each record on a line of its own. Whatever order the lists are
/// written in, they are read alike; each is written in one go.
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
    /// The list that is being written.
    list: Option<&'static str>,
    cooks: bool,
}

/// A cook as it stands in a file: its baths stand beside it.
#[derive(Serialize)]
struct Filed<'a> {
    id: Uuid,
    created_at: Timestamp,
    title: &'a str,
    #[serde(skip_serializing_if = "Option::is_none")]
    together: Option<Uuid>,
    piece: &'a PieceRecord,
    bag: &'a BagRecord,
    events: &'a [EventRecord],
}

/// A bath as it stands in a file: its readings stand apart.
#[derive(Serialize)]
struct FiledBath<'a> {
    id: Uuid,
    name: &'a str,
    began_at: Timestamp,
    settings: &'a [SettingRecord],
    #[serde(skip_serializing_if = "Option::is_none")]
    vessel: &'a Option<KeptVessel>,
    #[serde(skip_serializing_if = "<[_]>::is_empty")]
    water: &'a [WaterEvent],
    #[serde(skip_serializing_if = "Vec::is_empty")]
    instruments: Vec<InstrumentRecord>,
}

impl<W: Write> ExportWriter<W> {
    /// Writes what stands before the lists.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::book::{ExportWriter, KitchenRecord};
    /// let now = "2026-11-25T12:00:00Z".parse()?;
    /// let text = ExportWriter::begin(Vec::new(), &KitchenRecord::default(), now)?.end()?;
    /// assert!(String::from_utf8(text)?.contains(r#""cooks":["#));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn begin(mut out: W, kitchen: &KitchenRecord, now: Timestamp) -> io::Result<Self> {
        let [format, at] = [serde_json::to_string(FORMAT)?, serde_json::to_string(&now)?];
        let kitchen = serde_json::to_string(kitchen)?;
        write!(
            out,
            "{{\"format\":{format},\"version\":{VERSION},\"exported_at\":{at},\n\"kitchen\":{kitchen}"
        )?;
        Ok(Self { out, list: None, cooks: false })
    }

    /// Writes a record of a list.
    fn record(&mut self, list: &'static str, record: &impl Serialize) -> io::Result<()> {
        if self.list == Some(list) {
            self.out.write_all(b",\n")?;
        } else {
            self.close()?;
            write!(self.out, ",\n\"{list}\":[\n")?;
            self.list = Some(list);
            self.cooks |= list == "cooks";
        }
        serde_json::to_writer(&mut self.out, record)?;
        Ok(())
    }

    fn close(&mut self) -> io::Result<()> {
        match self.list.take() {
            Some(_) => self.out.write_all(b"\n]"),
            None => Ok(()),
        }
    }

    /// Writes a change of the kitchen.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// let now = "2026-11-25T12:00:00Z".parse()?;
    /// let kitchen = KitchenRecord { name: "Galley".into(), time_zone: "UTC".into(), ..KitchenRecord::default() };
    /// let change = ChangeRecord { id: uuid::Uuid::nil(), at: now, by: "Ida".into(), change: Change::ReadingsKept { days: 30 } };
    /// let mut out = ExportWriter::begin(Vec::new(), &kitchen, now)?;
    /// out.change(&change)?;
    /// let read = read_export(&String::from_utf8(out.end()?)?, now)?.export;
    /// assert_eq!(read.kitchen.history, [change]);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn change(&mut self, change: &ChangeRecord) -> io::Result<()> {
        self.record("changes", change)
    }

    /// Writes a bath with what it was set to, what was done to its water, and its instruments; not their readings.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
    /// # let bath = &export.cooks[0].baths[0];
    /// let mut out = ExportWriter::begin(Vec::new(), &export.kitchen, now)?;
    /// out.bath(bath)?;
    /// assert_eq!(read_export(&String::from_utf8(out.end()?)?, now)?.export.baths[0].id, bath.id);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn bath(&mut self, bath: &BathRecord) -> io::Result<()> {
        let empty = |i: &InstrumentRecord| InstrumentRecord {
            id: i.id,
            name: i.name.clone(),
            piece: i.piece,
            centred: i.centred,
            thermometer: i.thermometer,
            checks: i.checks.clone(),
            readings: Vec::new(),
            thinned: None,
        };
        let filed = FiledBath {
            id: bath.id,
            name: &bath.name,
            began_at: bath.began_at,
            settings: &bath.settings,
            vessel: &bath.vessel,
            water: &bath.water,
            instruments: bath.instruments.iter().map(empty).collect(),
        };
        self.record("baths", &filed)
    }

    /// Writes a cook; the baths it lies in stand beside it ([`Self::bath`]).
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let mut out = ExportWriter::begin(Vec::new(), &export.kitchen, now)?;
    /// cook.baths.iter().try_for_each(|bath| out.bath(bath))?;
    /// out.cook(cook)?;
    /// let text = String::from_utf8(out.end()?)?;
    /// assert_eq!(read_export(&text, now)?.export.cooks[0].events, cook.events);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn cook(&mut self, cook: &CookRecord) -> io::Result<()> {
        let CookRecord { id, created_at, title, together, piece, bag, baths: _, events } = cook;
        let (id, created_at, together) = (*id, *created_at, *together);
        self.record("cooks", &Filed { id, created_at, title, together, piece, bag, events })
    }

    /// Writes what an instrument read in an hour.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v6.json"));
    /// # let now = "2026-12-24T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let bath = export.cooks.iter().flat_map(|c| &c.baths).find(|b| !b.instruments.is_empty()).expect("was read");
    /// # let instrument = &bath.instruments[0];
    /// let mut out = ExportWriter::begin(Vec::new(), &export.kitchen, now)?;
    /// out.bath(bath)?;
    /// for hour in HourRecord::of(instrument.id, &instrument.readings) {
    ///     out.hour(&hour)?;
    /// }
    /// let read = read_export(&String::from_utf8(out.end()?)?, now)?.export;
    /// assert_eq!(read.baths[0].instruments[0].readings, instrument.readings);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn hour(&mut self, hour: &HourRecord) -> io::Result<()> {
        self.record("readings", hour)
    }

    /// Writes the end, and gives back what was written to.
    ///
    /// # Errors
    /// When `out` cannot be written.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// let now = "2026-11-25T12:00:00Z".parse()?;
    /// let text = ExportWriter::begin(Vec::new(), &KitchenRecord::default(), now)?.end()?;
    /// assert!(text.ends_with(b"]}\n"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn end(mut self) -> io::Result<W> {
        self.close()?;
        self.out.write_all(if self.cooks { b"}\n" } else { b",\n\"cooks\":[\n]}\n" })?;
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
    /// # let export = Export::example();
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
    /// # let export = Export::example();
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
    /// # let export = Export::example();
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
