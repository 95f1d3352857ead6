//! Readings told apart by the minute: what many of one minute say of the water. No water changes faster, and the lowest of
//! many says more of the noise than of the water.

use jiff::Timestamp;

use super::{IMPORTED, REPORTED, ReadingRecord};
use crate::units::Celsius;

/// Which of two temperatures read in one second is the worse: it is the one that counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Worse {
    /// Of what is to be hot: a bath, a core for its kill.
    Colder,
    /// Of what is to be cold: a refrigerator, a freezer, a core that chills.
    Warmer,
}

impl Worse {
    fn of(self, readings: &[ReadingRecord]) -> f64 {
        let all = readings.iter().map(|r| r.celsius.value());
        match self {
            Self::Colder => all.fold(f64::INFINITY, f64::min),
            Self::Warmer => all.fold(f64::NEG_INFINITY, f64::max),
        }
    }
}

/// What was read in one minute, of one quality.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Minute {
    /// Minutes since 1970.
    pub minute: i64,
    /// The lowest.
    pub least: Celsius,
    /// The mean; of several in one second the [`Worse`] counts.
    pub mean: Celsius,
    /// The highest.
    pub most: Celsius,
    /// The last.
    pub last: Celsius,
    /// When that was.
    pub last_at: Timestamp,
    /// How many.
    pub count: u32,
    /// The longest time without one, seconds; from the minute's beginning, and to its end.
    pub gap_s: f64,
}

/// Which minute an instant is in.
///
/// ```
/// use hold_steady_core::book::minute_of;
/// assert_eq!(minute_of("1970-01-01T00:02:59.9Z".parse()?), 2);
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn minute_of(at: Timestamp) -> i64 {
    at.as_second().div_euclid(60)
}

/// Whether readings of a quality come so often that their minutes stand for them.
///
/// ```
/// use hold_steady_core::book::{comes_often, REPORTED};
/// assert!(comes_often(REPORTED) && !comes_often("typed"));
/// ```
#[must_use]
pub fn comes_often(quality: &str) -> bool {
    quality == REPORTED || quality == IMPORTED
}

impl Minute {
    /// Of readings of one minute and one quality, by time; none of none.
    ///
    /// ```
    /// use hold_steady_core::book::{Minute, ReadingRecord, REPORTED, Worse};
    /// use hold_steady_core::units::Celsius;
    /// let read = |s: i64, c| ReadingRecord {
    ///     at: jiff::Timestamp::from_second(600 + s).expect("near"),
    ///     celsius: Celsius::new(c),
    ///     quality: REPORTED.into(),
    /// };
    /// let minute = Minute::of(&[read(0, 57.0), read(30, 56.0)], Worse::Colder).expect("two");
    /// assert_eq!((minute.minute, minute.mean.value(), minute.least.value(), minute.count), (10, 56.5, 56.0, 2));
    /// assert_eq!(minute.gap_s, 30.0);
    /// let twice = [read(0, 4.0), read(0, 6.0)];
    /// assert_eq!(Minute::of(&twice, Worse::Warmer).map(|m| m.mean.value()), Some(6.0));
    /// ```
    #[must_use]
    pub fn of(readings: &[ReadingRecord], worse: Worse) -> Option<Self> {
        const MINUTE_S: f64 = 60.0;
        let last = readings.last()?;
        let minute = minute_of(last.at);
        let celsius = || readings.iter().map(|r| r.celsius);
        let (mut sum, mut seconds, mut gap_s, mut before) = (0.0, 0.0, 0.0_f64, 0.0);
        for same in readings.chunk_by(|a, b| a.at.as_second() == b.at.as_second()) {
            sum += worse.of(same);
            seconds += 1.0;
            let at = (same[0].at.as_second() - minute * 60) as f64;
            gap_s = gap_s.max(at - before);
            before = at;
        }
        let lower = |a: Celsius, b: Celsius| if b < a { b } else { a };
        let higher = |a: Celsius, b: Celsius| if b > a { b } else { a };
        Some(Self {
            minute,
            least: celsius().fold(last.celsius, lower),
            mean: Celsius::new(sum / seconds),
            most: celsius().fold(last.celsius, higher),
            last: last.celsius,
            last_at: last.at,
            count: u32::try_from(readings.len()).unwrap_or(u32::MAX),
            gap_s: gap_s.max(MINUTE_S - before),
        })
    }

    /// The reading that stands for the minute: its mean, when the last came.
    ///
    /// ```
    /// use hold_steady_core::book::{Minute, ReadingRecord, REPORTED, Worse};
    /// use hold_steady_core::units::Celsius;
    /// let read = ReadingRecord { at: "2026-11-25T16:00:20Z".parse()?, celsius: Celsius::new(57.0), quality: REPORTED.into() };
    /// let minute = Minute::of(std::slice::from_ref(&read), Worse::Colder).expect("one");
    /// assert_eq!(minute.record(REPORTED), read);
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn record(&self, quality: &str) -> ReadingRecord {
        ReadingRecord { at: self.last_at, celsius: self.mean, quality: quality.to_owned() }
    }
}

/// The minutes of what comes often, each of one quality, of readings by time.
///
/// ```
/// # use hold_steady_core::book::{Worse, minutes};
/// assert!(minutes(&[], Worse::Colder).is_empty());
/// ```
#[must_use]
pub fn minutes(readings: &[ReadingRecord], worse: Worse) -> Vec<(Minute, &str)> {
    let mut all = Vec::new();
    for of_minute in readings.chunk_by(|a, b| minute_of(a.at) == minute_of(b.at)) {
        for quality in [REPORTED, IMPORTED] {
            let own: Vec<ReadingRecord> =
                of_minute.iter().filter(|r| r.quality == quality).cloned().collect();
            all.extend(Minute::of(&own, worse).map(|m| (m, quality)));
        }
    }
    all
}

/// The same readings, of what comes often one for each minute; what was typed stays as it is. By time. What is so already
/// stays so.
///
/// ```
/// use hold_steady_core::book::{by_minute, ReadingRecord, REPORTED, Worse};
/// use hold_steady_core::units::Celsius;
/// let read = |s: i64, c, quality: &str| ReadingRecord {
///     at: jiff::Timestamp::from_second(600 + s).expect("near"),
///     celsius: Celsius::new(c),
///     quality: quality.into(),
/// };
/// let all = [read(0, 57.0, REPORTED), read(10, 55.0, "typed"), read(30, 56.0, REPORTED), read(70, 56.0, REPORTED)];
/// let told = by_minute(&all, Worse::Colder);
/// assert_eq!(told.iter().map(|r| r.celsius.value()).collect::<Vec<_>>(), [55.0, 56.5, 56.0]);
/// assert_eq!(by_minute(&told, Worse::Colder), told);
/// ```
#[must_use]
pub fn by_minute(readings: &[ReadingRecord], worse: Worse) -> Vec<ReadingRecord> {
    let mut all: Vec<ReadingRecord> = Vec::with_capacity(readings.len().min(8192));
    for of_minute in readings.chunk_by(|a, b| minute_of(a.at) == minute_of(b.at)) {
        if let [one] = of_minute {
            all.push(one.clone());
            continue;
        }
        let from = all.len();
        all.extend(of_minute.iter().filter(|r| !comes_often(&r.quality)).cloned());
        all.extend(minutes(of_minute, worse).into_iter().map(|(m, quality)| m.record(quality)));
        all[from..].sort_by_key(|r| r.at);
    }
    all
}
