//! Reading a book that comes from outside: nothing in it is believed that could not have been written down here.
//!
//! The file as a whole must be one of ours. Below that each record stands for itself: one that cannot be taken is
//! left out and named, and takes no other with it. Records are handed on one after another, so that a file may be as long as
//! a kitchen's book is: first its kitchen, then its cooks, its baths, and what was read in them.

mod bath;
mod cook;
mod kitchen;
mod plan;

use std::collections::{BTreeMap, BTreeSet};
use std::io::{Cursor, Read, Seek};

use jiff::{SignedDuration, Timestamp};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use serde_json::value::RawValue;
use uuid::Uuid;

use super::lists::{Outline, outline};
use super::upgrade::{WITH_WHO, upgraded};
use super::{
    A_BAG_EACH, BathRecord, ChangeRecord, CookRecord, Export, FORMAT, HourRecord, ImportError, KitchenRecord,
    Thinned, VERSION, unreadable,
};
use crate::Unfit;
use crate::cook::{CLOCK_SKEW, LONGEST_TEXT};
#[cfg(doc)]
use crate::limits::LARGEST_RECORD;
use crate::limits::MOST_NAMED;
use crate::units::Celsius;
use crate::who::By;

/// How long before a cook was begun something in it may have happened: what the forms take.
const BEFORE: SignedDuration = SignedDuration::from_hours(24);

/// What was not taken from a file, and why.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct LeftOut {
    /// Which record.
    pub what: String,
    /// Why.
    pub reason: String,
}

/// What was said of a file's records that were not taken as they stood.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Remarks {
    /// What was not taken, the first [`MOST_NAMED`] of it.
    pub left_out: Vec<LeftOut>,
    /// How many more were not.
    pub more: usize,
    /// What was taken and is not as it stood in the file: answers of cooks under way that were computed again.
    pub noted: Vec<LeftOut>,
}

impl Remarks {
    /// Names a record that was not taken.
    ///
    /// ```
    /// use hold_steady_core::book::Remarks;
    /// let mut said = Remarks::default();
    /// said.left_out("cook 1", "it has no piece");
    /// assert_eq!((said.left_out.len(), said.count()), (1, 1));
    /// ```
    pub fn left_out(&mut self, what: impl Into<String>, reason: impl Into<String>) {
        if self.left_out.len() < MOST_NAMED {
            self.left_out.push(LeftOut { what: what.into(), reason: reason.into() });
        } else {
            self.more += 1;
        }
    }

    /// How many records were not taken.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::book::Remarks::default().count(), 0);
    /// ```
    #[must_use]
    pub fn count(&self) -> usize {
        self.left_out.len() + self.more
    }
}

/// Takes the records of a file as they are read, each looked at before. What it refuses by name takes what belongs to it
/// along: a bath its readings.
pub trait Taker {
    /// Why it cannot go on.
    type Error: From<ImportError>;

    /// What the file says of its kitchen; once, before all else.
    ///
    /// # Errors
    /// Where nothing more can be taken.
    fn kitchen(&mut self, kitchen: KitchenRecord) -> Result<(), Self::Error>;

    /// A change of that kitchen's, for whoever looks into the file.
    ///
    /// # Errors
    /// Where nothing more can be taken.
    fn change(&mut self, _change: ChangeRecord) -> Result<(), Self::Error> {
        Ok(())
    }

    /// Whether a cook may be added at all, or why not; asked before its answers are computed.
    ///
    /// # Errors
    /// Where nothing more can be taken.
    fn wants(&mut self, _cook: &CookRecord) -> Result<Result<(), Unfit>, Self::Error> {
        Ok(Ok(()))
    }

    /// A cook, without the baths its bags lie in; or why it cannot be taken.
    ///
    /// # Errors
    /// Where nothing more can be taken.
    fn cook(&mut self, cook: CookRecord) -> Result<Result<(), Unfit>, Self::Error>;

    /// A bath, with its instruments and none of their readings; or why it cannot be taken.
    ///
    /// # Errors
    /// Where nothing more can be taken.
    fn bath(&mut self, bath: BathRecord) -> Result<Result<(), Unfit>, Self::Error>;

    /// What an instrument of a bath that was taken read in an hour.
    ///
    /// # Errors
    /// Where nothing more can be taken.
    fn hour(&mut self, hour: HourRecord) -> Result<(), Self::Error>;
}

/// A file that was read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Brought {
    /// The version it was written in.
    pub version: u32,
    /// When it was written, by its own word.
    pub exported_at: Timestamp,
    /// What was not taken, or not as it stood.
    pub said: Remarks,
    /// SHA-256 of the file.
    pub sha256: String,
}

/// Reads an export of any version, at the time it is brought in, and hands its records on one after another. No more of the
/// file is held than its largest record ([`LARGEST_RECORD`] at most).
///
/// # Errors
/// When it is not one, with line and reason, cannot be read, or `taker` fails.
///
/// ```
/// use hold_steady_core::book::{Collected, read_book};
/// let file = br#"{"format": "hold-steady/kitchen", "version": 8, "exported_at": "2026-11-25T12:00:00Z",
///     "kitchen": {"name": "Galley", "time_zone": "UTC"}, "cooks": []}"#;
/// let mut all = Collected::default();
/// let brought = read_book(&mut std::io::Cursor::new(file), "2026-11-25T12:30:00Z".parse()?, &mut all)?;
/// assert_eq!((brought.version, all.kitchen.name.as_str()), (8, "Galley"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn read_book<R: Read + Seek, T: Taker>(
    file: &mut R,
    now: Timestamp,
    taker: &mut T,
) -> Result<Brought, T::Error> {
    let outline = outline(file)?;
    let (version, exported_at) = head(&outline)?;
    let mut reading =
        Reading { file, outline, version, now, taker, said: Remarks::default(), known: Known::default() };
    reading.kitchen()?;
    reading.baths_there_are()?;
    reading.cooks()?;
    reading.baths()?;
    reading.hours()?;
    let Reading { outline, said, .. } = reading;
    // A time of writing still to come is nobody's word.
    Ok(Brought { version, exported_at: exported_at.min(now), said, sha256: outline.sha256 })
}

/// Whether a file is one of ours, and of which version and when.
fn head(outline: &Outline) -> Result<(u32, Timestamp), ImportError> {
    let missing = |field: &str| ImportError::Missing(field.into());
    let format = outline.format.as_deref().ok_or_else(|| missing("format"))?;
    if format != FORMAT {
        return Err(ImportError::Format(format.chars().take(60).collect()));
    }
    let version = outline.version.ok_or_else(|| missing("version"))?;
    if !(1..=VERSION).contains(&version) {
        return Err(ImportError::Version(version));
    }
    if !outline.has("cooks") {
        return Err(missing("cooks"));
    }
    Ok((version, outline.exported_at.ok_or_else(|| missing("exported_at"))?))
}

/// What a file had so far that was taken.
#[derive(Default)]
struct Known {
    ids: BTreeSet<Uuid>,
    pieces: BTreeSet<Uuid>,
    /// Baths that stand by themselves, and from when on something may have happened in them.
    listed: BTreeMap<Uuid, Timestamp>,
    /// Baths that came with a cook, up to version 7, and the sum of what was said of each: several cooks may lie in one, each
    /// says all of it, and all say the same.
    of_cooks: BTreeMap<Uuid, [u8; 32]>,
    /// Of a file before version 9: people by their name, where it is one's alone. Events said no more.
    people: BTreeMap<String, Option<Uuid>>,
    /// Instruments of baths that were taken, and from when on one may have read something.
    instruments: BTreeMap<Uuid, Timestamp>,
}

struct Reading<'a, R, T> {
    file: &'a mut R,
    outline: Outline,
    version: u32,
    now: Timestamp,
    taker: &'a mut T,
    said: Remarks,
    known: Known,
}

impl<R: Read + Seek, T: Taker> Reading<'_, R, T> {
    fn kitchen(&mut self) -> Result<(), T::Error> {
        let raw = self.outline.kitchen.as_ref().ok_or_else(|| ImportError::Missing("kitchen".into()))?;
        // Each record of it is looked at by itself; all of it must not be more than a record may.
        crate::strict::sane(raw.get(), f64::INFINITY, usize::MAX)
            .map_err(|reason| ImportError::List { list: "kitchen".into(), reason: reason.into() })?;
        let value: Value = serde_json::from_str(raw.get()).map_err(unreadable)?;
        let kitchen = kitchen::read_kitchen(value, self.now, &mut self.said)?;
        if self.version < WITH_WHO {
            for person in &kitchen.people {
                let of_name = self.known.people.entry(person.name.clone());
                of_name.and_modify(|one| *one = None).or_insert(Some(person.id));
            }
        }
        for storage in &kitchen.storages {
            let earliest = storage.since.checked_sub(BEFORE).unwrap_or(storage.since);
            self.known.instruments.extend(storage.instruments.iter().map(|i| (i.id, earliest)));
        }
        self.taker.kitchen(kitchen)?;
        let Self { outline, file, taker, said, .. } = self;
        outline.each(*file, "changes", |_, raw| match record::<ChangeRecord>(raw) {
            Ok(change) => taker.change(change),
            Err(reason) => {
                said.left_out("a change of the kitchen’s", reason);
                Ok(())
            }
        })
    }

    /// Which baths stand by themselves: cooks name them.
    fn baths_there_are(&mut self) -> Result<(), T::Error> {
        let Self { outline, file, said, known, now, .. } = self;
        outline.each(*file, "baths", |place, raw| {
            let read = record::<BathRecord>(raw).and_then(|b| bath::check_listed(&b, *now).map(|()| b));
            match read {
                Ok(bath) if known.ids.insert(bath.id) => {
                    known.listed.insert(bath.id, bath::earliest(&bath));
                }
                Ok(bath) => {
                    said.left_out(name("bath", place, raw), format!("bath {} is there twice", bath.id))
                }
                Err(reason) => said.left_out(name("bath", place, raw), reason),
            }
            Ok(())
        })
    }

    fn cooks(&mut self) -> Result<(), T::Error> {
        let Self { outline, file, said, known, now, taker, version } = self;
        let (now, version) = (*now, *version);
        outline.each(*file, "cooks", |place, raw| {
            let read = sane(raw).and_then(|()| match version {
                A_BAG_EACH.. => parsed::<CookRecord>(raw).map(|cook| vec![cook]),
                _ => serde_json::from_str(raw.get())
                    .map_err(said_short)
                    .and_then(|v: Value| upgraded(v, version))
                    .and_then(|all| {
                        all.into_iter().map(|v| serde_json::from_value(v).map_err(said_short)).collect()
                    }),
            });
            let what = name("cook", place, raw);
            let cooks: Vec<CookRecord> = match read {
                Ok(cooks) => cooks,
                Err(reason) => {
                    said.left_out(what, reason);
                    return Ok(());
                }
            };
            for cook in cooks {
                take_cook(cook, &what, (now, &mut *known), *taker, said)?;
            }
            Ok(())
        })
    }

    fn baths(&mut self) -> Result<(), T::Error> {
        let Self { outline, file, said, known, taker, .. } = self;
        outline.each(*file, "baths", |_, raw| {
            // Those that cannot be taken were named already.
            let Ok(mut bath) = record::<BathRecord>(raw) else { return Ok(()) };
            let Some(earliest) = known.listed.remove(&bath.id) else { return Ok(()) };
            let id = bath.id;
            bath.instruments.retain(|i| {
                let there = i.piece.is_none_or(|p| known.pieces.contains(&p));
                if !there {
                    said.left_out(
                        format!("bath {id}"),
                        format!("{} is in a piece that is not there", i.name),
                    );
                }
                there
            });
            let instruments: Vec<Uuid> = bath.instruments.iter().map(|i| i.id).collect();
            if hand_on(recognised(bath, known), *taker, said)? {
                known.instruments.extend(instruments.into_iter().map(|i| (i, earliest)));
            }
            Ok(())
        })
    }

    fn hours(&mut self) -> Result<(), T::Error> {
        let Self { outline, file, said, known, taker, now, .. } = self;
        outline.each(*file, "readings", |place, raw| {
            let read = record::<HourRecord>(raw).and_then(|hour| {
                hour.check(*now)?;
                let earliest = known
                    .instruments
                    .get(&hour.instrument)
                    .ok_or_else(|| format!("its instrument {} is not there", hour.instrument))?;
                match hour.told().first() {
                    Some(first) if first.at < *earliest => {
                        Err("it was read more than a day before its bath was filled".into())
                    }
                    _ => Ok(hour),
                }
            });
            match read {
                Ok(hour) => taker.hour(hour),
                Err(reason) => {
                    said.left_out(format!("readings {place}"), reason);
                    Ok(())
                }
            }
        })
    }
}

impl Known {
    /// Says of somebody whose name alone stands there which of the people it was.
    fn recognise(&self, by: &mut By) {
        if by.person.is_none() {
            by.person = self.people.get(&by.name).copied().flatten();
        }
    }
}

/// Takes a cook that can be taken, and what it brings along.
fn take_cook<T: Taker>(
    cook: CookRecord,
    what: &str,
    (now, known): (Timestamp, &mut Known),
    taker: &mut T,
    said: &mut Remarks,
) -> Result<(), T::Error> {
    let mut cook = cook;
    let found = match cook::check(&cook, now, known) {
        Ok(found) => found,
        Err(reason) => {
            said.left_out(what, reason);
            return Ok(());
        }
    };
    // What is not wanted is not computed for.
    let wanted = taker.wants(&cook)?.and_then(|()| plan::recomputed(&mut cook, &mut said.noted));
    if let Err(reason) = wanted {
        said.left_out(what, reason);
        return Ok(());
    }
    cook.events.iter_mut().for_each(|e| known.recognise(&mut e.event.by));
    let (baths, piece) = (std::mem::take(&mut cook.baths), cook.piece.id);
    if let Err(reason) = taker.cook(cook)? {
        said.left_out(what, reason);
        return Ok(());
    }
    known.pieces.insert(piece);
    known.ids.extend(found.ids);
    for (bath, sum) in baths.into_iter().zip(found.sums) {
        if known.of_cooks.insert(bath.id, sum).is_none() {
            hand_on(recognised(bath, known), taker, said)?;
        }
    }
    Ok(())
}

/// The same bath, with the people by whom something was done to it.
fn recognised(mut bath: BathRecord, known: &Known) -> BathRecord {
    bath.settings.iter_mut().for_each(|s| known.recognise(&mut s.by));
    bath.water.iter_mut().for_each(|w| known.recognise(&mut w.by));
    bath
}

/// Hands on a bath, and then what was read in it. Whether it was taken.
fn hand_on<T: Taker>(mut bath: BathRecord, taker: &mut T, said: &mut Remarks) -> Result<bool, T::Error> {
    let read: Vec<_> = bath
        .instruments
        .iter_mut()
        .map(|i| {
            i.thinned = None;
            (i.id, std::mem::take(&mut i.readings))
        })
        .collect();
    let id = bath.id;
    if let Err(reason) = taker.bath(bath)? {
        said.left_out(format!("bath {id}"), reason);
        return Ok(false);
    }
    for (instrument, mut readings) in read {
        readings.sort_by_key(|r| r.at);
        for hour in HourRecord::of(instrument, &readings) {
            taker.hour(hour)?;
        }
    }
    Ok(true)
}

/// A record's name: its identifier, where it has one.
fn name(kind: &str, place: usize, raw: &RawValue) -> String {
    #[derive(Deserialize)]
    struct Identified {
        id: Uuid,
    }
    serde_json::from_str::<Identified>(raw.get())
        .map_or_else(|_| format!("{kind} {place}"), |found| format!("{kind} {}", found.id))
}

fn said_short(e: impl std::fmt::Display) -> Unfit {
    let text = e.to_string();
    let (what, _) = text.split_once(" at line ").unwrap_or((&text, ""));
    shortened_to(what, crate::limits::LONGEST_TITLE).into()
}

/// Numbers that nothing here can have, texts without end and doubled keys, wherever they stand.
fn sane(raw: &RawValue) -> Result<(), Unfit> {
    const LARGEST: f64 = 1e7;
    crate::strict::sane(raw.get(), LARGEST, LONGEST_TEXT)
}

fn parsed<T: DeserializeOwned>(raw: &RawValue) -> Result<T, Unfit> {
    serde_json::from_str(raw.get()).map_err(said_short)
}

fn record<T: DeserializeOwned>(raw: &RawValue) -> Result<T, Unfit> {
    sane(raw).and_then(|()| parsed(raw))
}

fn shortened_to(text: &str, chars: usize) -> String {
    text.chars().take(chars).collect()
}

/// A name: not empty, not too long, on one line.
pub(super) fn named(text: &str, longest: usize) -> bool {
    !text.trim().is_empty() && text.chars().count() <= longest && !text.chars().any(char::is_control)
}

pub(super) fn not_to_come(what: &str, at: Timestamp, now: Timestamp) -> Result<(), Unfit> {
    if at.duration_since(now) > CLOCK_SKEW {
        Err(format!("{what} at {at}, which is still to come").into())
    } else {
        Ok(())
    }
}

/// What a thermometer in a kitchen can read at all.
pub(super) fn check_celsius(c: Celsius) -> Result<(), Unfit> {
    if (-60.0..=300.0).contains(&c.value()) {
        Ok(())
    } else {
        Err(format!("{} °C read, which cannot be", c.value()).into())
    }
}

/// A file held whole: each cook with the baths it lies in.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Collected {
    /// What it says of its kitchen.
    pub kitchen: KitchenRecord,
    /// Its cooks, each with its baths.
    pub cooks: Vec<CookRecord>,
    /// Its baths.
    pub baths: Vec<BathRecord>,
}

impl Taker for Collected {
    type Error = ImportError;

    fn kitchen(&mut self, kitchen: KitchenRecord) -> Result<(), ImportError> {
        let history = std::mem::take(&mut self.kitchen.history);
        self.kitchen = kitchen;
        self.kitchen.history.extend(history);
        Ok(())
    }

    fn change(&mut self, change: ChangeRecord) -> Result<(), ImportError> {
        self.kitchen.history.push(change);
        Ok(())
    }

    fn cook(&mut self, cook: CookRecord) -> Result<Result<(), Unfit>, ImportError> {
        self.cooks.push(cook);
        Ok(Ok(()))
    }

    fn bath(&mut self, bath: BathRecord) -> Result<Result<(), Unfit>, ImportError> {
        self.baths.push(bath);
        Ok(Ok(()))
    }

    fn hour(&mut self, hour: HourRecord) -> Result<(), ImportError> {
        let instruments = self.baths.iter_mut().flat_map(|b| &mut b.instruments);
        for i in instruments.filter(|i| i.id == hour.instrument) {
            i.readings.extend(hour.told());
            if let Some(t) = &hour.thinned {
                let before = i.thinned.map_or(0, |t| t.readings);
                i.thinned = Some(Thinned { readings: before + t.readings });
            }
        }
        Ok(())
    }
}

impl Collected {
    /// Gives each cook the baths its bags lie in or were moved into.
    fn together(mut self) -> Self {
        for bath in &mut self.baths {
            bath.instruments.iter_mut().for_each(|i| i.readings.sort_by_key(|r| r.at));
        }
        for cook in &mut self.cooks {
            let named = cook.named_baths();
            cook.baths =
                named.iter().filter_map(|id| self.baths.iter().find(|b| b.id == *id)).cloned().collect();
        }
        self
    }
}

/// A book that was read from a text, held whole.
#[derive(Debug, Clone, PartialEq)]
pub struct Incoming {
    /// What can be taken.
    pub export: Export,
    /// What cannot.
    pub left_out: Vec<LeftOut>,
    /// What was taken and is not as it stood in the file: answers of cooks under way that were computed again.
    pub noted: Vec<LeftOut>,
    /// SHA-256 of the text.
    pub sha256: String,
}

/// Reads an export of any version that is held whole, as [`read_book`] reads one that is not.
///
/// # Errors
/// With line and reason when it is not one.
///
/// ```
/// use hold_steady_core::book::read_export;
/// let text = r#"{"format": "hold-steady/kitchen", "version": 3, "exported_at": "2026-11-25T12:00:00Z",
///     "kitchen": {"name": "Galley", "time_zone": "UTC"},
///     "cooks": [{"id": "not one"}]}"#;
/// let read = read_export(text, "2026-11-25T12:30:00Z".parse()?)?;
/// assert!(read.export.cooks.is_empty());
/// assert_eq!(read.left_out[0].what, "cook 1");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn read_export(text: &str, now: Timestamp) -> Result<Incoming, ImportError> {
    let mut all = Collected::default();
    let brought = read_book(&mut Cursor::new(text), now, &mut all)?;
    let Collected { kitchen, cooks, baths } = all.together();
    let Brought { version, exported_at, said, sha256 } = brought;
    let export = Export { format: FORMAT.into(), version, exported_at, kitchen, cooks, baths };
    Ok(Incoming { export, left_out: said.left_out, noted: said.noted, sha256 })
}
