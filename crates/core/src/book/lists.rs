//! The lists of a file, one record after another: a long file needs no more room than a short one.
//!
//! A file is looked through once from end to end, which finds where each of its lists begins and that all of it is JSON; then
//! each list is read from there, a record at a time. In which order its parts stand does not matter.

use std::cell::{Cell, RefCell};
use std::collections::BTreeMap;
use std::fmt;
use std::io::{self, BufReader, Read, Seek, SeekFrom};
use std::rc::Rc;

use jiff::Timestamp;
use serde::de::{DeserializeOwned, Deserializer, Error, IgnoredAny, MapAccess, SeqAccess, Visitor};
use serde_json::value::RawValue;
use sha2::{Digest, Sha256};

use super::{ImportError, unreadable};
use crate::limits::LARGEST_RECORD;

/// What stands beside the lists of a file, and where those begin.
#[derive(Default)]
pub(super) struct Outline {
    pub(super) format: Option<String>,
    pub(super) version: Option<u32>,
    pub(super) exported_at: Option<Timestamp>,
    pub(super) kitchen: Option<Box<RawValue>>,
    lists: BTreeMap<String, u64>,
    pub(super) sha256: String,
}

/// How far a file was read, and how much of it one record may still take.
#[derive(Clone, Default)]
struct Progress {
    at: Rc<Cell<u64>>,
    left: Rc<Cell<u64>>,
}

impl Progress {
    fn record(&self) {
        self.left.set(LARGEST_RECORD as u64);
    }

    /// What is skipped takes no room.
    fn skipped(&self) {
        self.left.set(u64::MAX);
    }
}

struct Counted<R> {
    inner: R,
    progress: Progress,
}

impl<R: Read> Read for Counted<R> {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        let n = self.inner.read(into)?;
        let left = self.progress.left.get().checked_sub(n as u64).ok_or_else(|| {
            io::Error::other(format!("one record is larger than {} MB", LARGEST_RECORD >> 20))
        })?;
        self.progress.left.set(left);
        self.progress.at.set(self.progress.at.get() + n as u64);
        Ok(n)
    }
}

/// The sum of what is read.
struct Summed<R> {
    inner: R,
    sum: Rc<RefCell<Sha256>>,
}

impl<R: Read> Read for Summed<R> {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        let n = self.inner.read(into)?;
        self.sum.borrow_mut().update(&into[..n]);
        Ok(n)
    }
}

/// Looks through a file from end to end.
///
/// # Errors
/// With line and column, where it is not JSON, not an object, or a key of it is given twice.
pub(super) fn outline<R: Read + Seek>(file: &mut R) -> Result<Outline, ImportError> {
    file.rewind().map_err(ImportError::from)?;
    let (progress, sum) = (Progress::default(), Rc::new(RefCell::new(Sha256::new())));
    progress.record();
    let summed = BufReader::new(Summed { inner: file, sum: sum.clone() });
    let read = Counted { inner: summed, progress: progress.clone() };
    let mut text = serde_json::Deserializer::from_reader(read);
    let mut outline = text.deserialize_map(Look { progress }).map_err(unreadable)?;
    text.end().map_err(unreadable)?;
    let sum = sum.borrow().clone().finalize();
    outline.sha256 = sum.iter().map(|b| format!("{b:02x}")).collect();
    Ok(outline)
}

struct Look {
    progress: Progress,
}

impl<'de> Visitor<'de> for Look {
    type Value = Outline;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("an object")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut fields: A) -> Result<Outline, A::Error> {
        fn once<'de, T: DeserializeOwned, A: MapAccess<'de>>(
            into: &mut Option<T>,
            key: &str,
            fields: &mut A,
        ) -> Result<(), A::Error> {
            if into.is_some() {
                return Err(A::Error::custom(format!("“{key}” is given twice; give it once")));
            }
            *into = Some(fields.next_value()?);
            Ok(())
        }
        let mut outline = Outline::default();
        while let Some(key) = fields.next_key::<String>()? {
            match key.as_str() {
                "format" => once(&mut outline.format, &key, &mut fields)?,
                "version" => once(&mut outline.version, &key, &mut fields)?,
                "exported_at" => once(&mut outline.exported_at, &key, &mut fields)?,
                "kitchen" => once(&mut outline.kitchen, &key, &mut fields)?,
                _ => {
                    let key = crate::units::shortened(&key);
                    if outline.lists.insert(key.clone(), self.progress.at.get()).is_some() {
                        return Err(A::Error::custom(format!("“{key}” is given twice; give it once")));
                    }
                    self.progress.skipped();
                    fields.next_value::<IgnoredAny>()?;
                }
            }
            self.progress.record();
        }
        Ok(outline)
    }
}

impl Outline {
    /// Whether it has a list.
    pub(super) fn has(&self, list: &str) -> bool {
        self.lists.contains_key(list)
    }

    /// Hands on the records of a list, one after another, with their place from 1 on; none where the file has no such list.
    ///
    /// # Errors
    /// When it is no list, has a record that is too large, cannot be read, or `take` fails.
    pub(super) fn each<R: Read + Seek, E: From<ImportError>>(
        &self,
        file: &mut R,
        list: &str,
        mut take: impl FnMut(usize, &RawValue) -> Result<(), E>,
    ) -> Result<(), E> {
        let Some(begins) = self.lists.get(list) else { return Ok(()) };
        file.seek(SeekFrom::Start(*begins)).map_err(ImportError::from)?;
        let progress = Progress::default();
        progress.skipped();
        let mut read = Counted { inner: BufReader::new(file), progress: progress.clone() };
        // What stands between a key and its value was seen to be a colon.
        let mut byte = [0];
        while byte != *b":" {
            read.read_exact(&mut byte).map_err(ImportError::from)?;
        }
        let mut stopped = None;
        let items = Items { list, progress, take: &mut take, stopped: &mut stopped };
        let read = serde_json::Deserializer::from_reader(read).deserialize_seq(items);
        match (stopped, read) {
            (Some(e), _) => Err(e),
            // Where in the file that is was said when all of it was looked through.
            (None, Err(e)) => {
                let reason = e.to_string().split(" at line ").next().unwrap_or_default().to_owned();
                Err(ImportError::List { list: list.into(), reason }.into())
            }
            (None, Ok(())) => Ok(()),
        }
    }
}

struct Items<'a, E, F> {
    list: &'a str,
    progress: Progress,
    take: &'a mut F,
    stopped: &'a mut Option<E>,
}

impl<'de, E: From<ImportError>, F: FnMut(usize, &RawValue) -> Result<(), E>> Visitor<'de>
    for Items<'_, E, F>
{
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "a list under “{}”", self.list)
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut items: A) -> Result<(), A::Error> {
        let mut place = 0;
        loop {
            self.progress.record();
            let Some(record) = items.next_element::<Box<RawValue>>()? else { return Ok(()) };
            place += 1;
            if let Err(e) = (self.take)(place, &record) {
                *self.stopped = Some(e);
                return Err(A::Error::custom("stopped"));
            }
        }
    }
}
