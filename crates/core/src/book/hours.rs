//! Readings in a file: of each instrument hour by hour, apart from the bath they were read in, so that no record is long.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use uuid::Uuid;

use super::{Minute, ReadingRecord};
use crate::Unfit;
use crate::units::Celsius;

/// What an instrument read in an hour, of one quality; or, where that was thinned, what each minute of it said.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct HourRecord {
    /// The instrument of a bath.
    pub instrument: Uuid,
    /// When the hour begins.
    pub hour: Timestamp,
    /// How the readings came about: see [`ReadingRecord::quality`].
    pub quality: String,
    /// Seconds after that, and °C; by time.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub readings: Vec<(After, Celsius)>,
    /// What is left of readings that were thinned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thinned: Option<ThinnedHour>,
}

/// What is left of the readings of an hour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ThinnedHour {
    /// How many there were.
    pub readings: u64,
    /// What each minute said: seconds after the hour of the last of its readings; the lowest, the mean, the highest and the
    /// last, °C; how many; the longest time without one, seconds.
    pub minutes: Vec<(After, Celsius, Celsius, Celsius, Celsius, u32, f64)>,
}

/// A time after the beginning of an hour, to the microsecond; as seconds in a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct After(i64);

const SECOND_US: i64 = 1_000_000;
const HOUR_US: i64 = 3600 * SECOND_US;

impl Serialize for After {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        match self.0 % SECOND_US {
            0 => s.serialize_i64(self.0 / SECOND_US),
            _ => s.serialize_f64(self.0 as f64 / SECOND_US as f64),
        }
    }
}

impl<'de> Deserialize<'de> for After {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Self, D::Error> {
        let seconds = f64::deserialize(d)?;
        if !(0.0..3600.0).contains(&seconds) {
            return Err(serde::de::Error::custom(format!("{seconds} s is not within the hour: 0 to 3600")));
        }
        Ok(Self((seconds * SECOND_US as f64).round() as i64))
    }
}

/// The hour an instant is in, since 1970, and how far in it.
fn within(at: Timestamp) -> (i64, After) {
    let us = at.as_microsecond();
    (us.div_euclid(HOUR_US), After(us.rem_euclid(HOUR_US)))
}

impl HourRecord {
    /// Readings of an instrument, by time, as hours; those of different quality apart.
    ///
    /// ```
    /// use hold_steady_core::book::{HourRecord, REPORTED, ReadingRecord};
    /// use hold_steady_core::units::Celsius;
    /// let read = |at: &str| ReadingRecord {
    ///     at: at.parse().expect("an instant"),
    ///     celsius: Celsius::new(57.0),
    ///     quality: REPORTED.into(),
    /// };
    /// let readings = [read("2026-11-25T16:59:59Z"), read("2026-11-25T17:00:00.5Z")];
    /// let hours = HourRecord::of(uuid::Uuid::nil(), &readings);
    /// assert_eq!(hours.len(), 2);
    /// assert_eq!(serde_json::to_value(&hours[1])?["readings"], serde_json::json!([[0.5, 57.0]]));
    /// assert_eq!(hours.iter().flat_map(|h| h.told()).collect::<Vec<_>>(), readings);
    /// # Ok::<(), serde_json::Error>(())
    /// ```
    #[must_use]
    pub fn of(instrument: Uuid, readings: &[ReadingRecord]) -> Vec<Self> {
        let mut hours: Vec<Self> = Vec::new();
        for of_one in readings.chunk_by(|a, b| within(a.at).0 == within(b.at).0) {
            let first = hours.len();
            for r in of_one {
                let own = hours[first..].iter_mut().find(|h| h.quality == r.quality);
                let read = (within(r.at).1, r.celsius);
                match own {
                    Some(hour) => hour.readings.push(read),
                    None => hours.push(Self {
                        instrument,
                        hour: begins(r.at),
                        quality: r.quality.clone(),
                        readings: vec![read],
                        thinned: None,
                    }),
                }
            }
        }
        hours
    }

    /// An hour that was thinned: how many readings there were in all, and what the minutes of one quality said.
    ///
    /// ```
    /// use hold_steady_core::book::{HourRecord, Minute, REPORTED, ReadingRecord, Worse};
    /// use hold_steady_core::units::Celsius;
    /// let read = ReadingRecord { at: "2026-11-25T16:59:59Z".parse()?, celsius: Celsius::new(57.0), quality: REPORTED.into() };
    /// let minute = Minute::of(&[read.clone()], Worse::Colder).expect("one");
    /// let hour = HourRecord::of_minutes(uuid::Uuid::nil(), REPORTED, 60, &[minute]).expect("a minute");
    /// assert_eq!(hour.told(), [read]);
    /// assert_eq!(hour.minutes(), [minute]);
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn of_minutes(instrument: Uuid, quality: &str, readings: u64, minutes: &[Minute]) -> Option<Self> {
        let minute = |m: &Minute| (within(m.last_at).1, m.least, m.mean, m.most, m.last, m.count, m.gap_s);
        Some(Self {
            instrument,
            hour: begins(minutes.first()?.last_at),
            quality: quality.to_owned(),
            readings: Vec::new(),
            thinned: Some(ThinnedHour { readings, minutes: minutes.iter().map(minute).collect() }),
        })
    }

    /// The instant so long after it.
    fn at(&self, after: After) -> Timestamp {
        self.hour.checked_add(SignedDuration::from_micros(after.0)).unwrap_or(self.hour)
    }

    /// What its minutes said, where they are all that is left.
    ///
    /// ```
    /// use hold_steady_core::book::HourRecord;
    /// assert!(HourRecord::of(uuid::Uuid::nil(), &[]).is_empty());
    /// ```
    #[must_use]
    pub fn minutes(&self) -> Vec<Minute> {
        let minute = |&(last, least, mean, most, last_c, count, gap_s): &_| {
            let last_at = self.at(last);
            Minute {
                minute: super::minute_of(last_at),
                least,
                mean,
                most,
                last: last_c,
                last_at,
                count,
                gap_s,
            }
        };
        self.thinned.iter().flat_map(|t| &t.minutes).map(minute).collect()
    }

    /// Its readings; of what was thinned each minute's mean, when the last of it came.
    ///
    /// ```
    /// # use hold_steady_core::book::HourRecord;
    /// # let text = r#"{"instrument": "019ac000-0000-7000-8000-0000000000e3", "hour": "2026-11-25T16:00:00Z",
    /// #     "quality": "reported", "readings": [[0, 57.0], [1.5, 57.1]]}"#;
    /// let hour: HourRecord = serde_json::from_str(text)?;
    /// assert_eq!(hour.told()[1].at, "2026-11-25T16:00:01.5Z".parse()?);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn told(&self) -> Vec<ReadingRecord> {
        let read =
            |at: Timestamp, celsius: Celsius| ReadingRecord { at, celsius, quality: self.quality.clone() };
        let mut all: Vec<ReadingRecord> = self.minutes().iter().map(|m| read(m.last_at, m.mean)).collect();
        all.extend(self.readings.iter().map(|(after, celsius)| read(self.at(*after), *celsius)));
        all
    }

    /// Whether it begins where an hour does, and is no longer than one can be.
    pub(super) fn check(&self, now: Timestamp) -> Result<(), Unfit> {
        use crate::limits::{LONGEST_NAME, MOST_READINGS_AN_HOUR};
        let us = self.hour.as_microsecond();
        if us.rem_euclid(HOUR_US) != 0 || self.hour.as_nanosecond() % 1000 != 0 {
            return Err(format!("{} is not the beginning of an hour", self.hour).into());
        }
        if !super::incoming::named(&self.quality, LONGEST_NAME) {
            return Err(
                format!("read as “{}”, which cannot be", crate::units::shortened(&self.quality)).into()
            );
        }
        let minutes = self.minutes();
        if self.readings.len() > MOST_READINGS_AN_HOUR || minutes.len() > 60 {
            let n = self.readings.len().max(minutes.len());
            return Err(format!(
                "{n} readings in an hour; at most {MOST_READINGS_AN_HOUR} are taken, or 60 minutes"
            )
            .into());
        }
        if !self.readings.is_empty() && !minutes.is_empty() {
            return Err("it is thinned and has every reading, which cannot be".into());
        }
        let told = minutes.iter().flat_map(|m| [m.least, m.mean, m.most, m.last]);
        self.readings.iter().map(|r| r.1).chain(told).try_for_each(super::incoming::check_celsius)?;
        let last = self.told().last().map_or(self.hour, |r| r.at);
        super::incoming::not_to_come("it was read", last, now)?;
        let ordered = self.readings.windows(2).all(|w| w[0].0 < w[1].0)
            && minutes.windows(2).all(|w| w[0].minute < w[1].minute)
            && minutes.iter().all(|m| m.count > 0 && (0.0..=60.0).contains(&m.gap_s));
        if ordered {
            Ok(())
        } else {
            Err("its readings do not stand by time, or a minute of it has none".into())
        }
    }
}

fn begins(at: Timestamp) -> Timestamp {
    Timestamp::from_microsecond(within(at).0.saturating_mul(HOUR_US)).unwrap_or(at)
}
