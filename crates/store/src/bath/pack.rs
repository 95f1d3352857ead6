//! Readings of an hour in a few bytes each, every one as it was: columns of differences, as JSON, deflated.

use std::io::{Read, Write};

use flate2::Compression;
use flate2::read::DeflateDecoder;
use flate2::write::DeflateEncoder;
use hold_steady_core::book::{Minute, minute_of};
use hold_steady_core::units::Celsius;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::StoreError;

/// A reading as it lies in the database: microseconds since 1970, °C as read.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Row {
    pub(super) at: i64,
    pub(super) celsius: f64,
    pub(super) quality: String,
    pub(super) recorded_at: Option<i64>,
    /// Under which identifier it is written down who it was; a name, where an older version packed it.
    pub(super) recorded_by: Option<String>,
}

/// Temperatures as whole numbers of a decimal part of a degree, where each of them is one to the last digit; else as they are.
#[derive(Debug, Serialize, Deserialize)]
enum Degrees {
    #[serde(rename = "d")]
    Decimal(u8, Vec<i64>),
    #[serde(rename = "f")]
    Float(Vec<f64>),
}

/// The columns of an hour: each number less the one before it.
#[derive(Debug, Serialize, Deserialize)]
struct Columns {
    /// Microseconds the times are whole numbers of.
    unit: i64,
    at: Vec<i64>,
    c: Degrees,
    /// Which of the words, run by run: how many in a row.
    words: Vec<(String, Option<String>)>,
    runs: Vec<(usize, usize)>,
    /// When it was written down after it was read, microseconds; none where nobody noted it.
    late: Vec<Option<i64>>,
}

/// Most bytes an hour unpacks to: ten readings a second are a tenth of that.
const MOST: u64 = 64 * 1024 * 1024;

fn differences(numbers: impl IntoIterator<Item = i64>) -> Vec<i64> {
    let mut before = 0;
    numbers.into_iter().map(|n| n.wrapping_sub(std::mem::replace(&mut before, n))).collect()
}

fn sums(differences: &[i64]) -> impl Iterator<Item = i64> + '_ {
    differences.iter().scan(0_i64, |sum, d| {
        *sum = sum.wrapping_add(*d);
        Some(*sum)
    })
}

fn degrees(rows: &[Row]) -> Degrees {
    const FINEST: u8 = 6;
    for digits in 0..=FINEST {
        let scale = 10_f64.powi(i32::from(digits));
        let whole = |c: f64| {
            let n = (c * scale).round();
            (n.abs() < 1e9 && (n / scale).to_bits() == c.to_bits()).then_some(n as i64)
        };
        if let Some(all) = rows.iter().map(|r| whole(r.celsius)).collect::<Option<Vec<_>>>() {
            return Degrees::Decimal(digits, differences(all));
        }
    }
    Degrees::Float(rows.iter().map(|r| r.celsius).collect())
}

fn deflated(value: &impl Serialize) -> Result<Vec<u8>, StoreError> {
    let mut out = DeflateEncoder::new(Vec::new(), Compression::default());
    serde_json::to_writer(&mut out, value).map_err(|e| StoreError::Record(format!("readings: {e}")))?;
    out.flush()?;
    Ok(out.finish()?)
}

fn inflated<T: serde::de::DeserializeOwned>(body: &[u8]) -> Result<T, StoreError> {
    let mut text = Vec::new();
    let unreadable = |e: &dyn std::fmt::Display| StoreError::Record(format!("packed readings: {e}"));
    DeflateDecoder::new(body).take(MOST).read_to_end(&mut text).map_err(|e| unreadable(&e))?;
    serde_json::from_slice(&text).map_err(|e| unreadable(&e))
}

/// Packs the readings of an hour, by time.
pub(super) fn pack(rows: &[Row]) -> Result<Vec<u8>, StoreError> {
    const UNITS: [i64; 3] = [1_000_000, 1_000, 1];
    let unit = UNITS.into_iter().find(|u| rows.iter().all(|r| r.at % u == 0)).unwrap_or(1);
    let mut words: Vec<(String, Option<String>)> = Vec::new();
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for row in rows {
        let own = (row.quality.clone(), row.recorded_by.clone());
        let which = words.iter().position(|w| *w == own).unwrap_or_else(|| {
            words.push(own);
            words.len() - 1
        });
        match runs.last_mut().filter(|(last, _)| *last == which) {
            Some((_, n)) => *n += 1,
            None => runs.push((which, 1)),
        }
    }
    deflated(&Columns {
        unit,
        at: differences(rows.iter().map(|r| r.at / unit)),
        c: degrees(rows),
        words,
        runs,
        late: rows.iter().map(|r| r.recorded_at.map(|t| t.wrapping_sub(r.at))).collect(),
    })
}

/// Unpacks them.
pub(super) fn unpack(body: &[u8]) -> Result<Vec<Row>, StoreError> {
    let Columns { unit, at, c, words, runs, late } = inflated(body)?;
    let broken = || StoreError::Record("packed readings: its columns are of different lengths".into());
    let celsius: Vec<f64> = match c {
        Degrees::Decimal(digits, all) => {
            let scale = 10_f64.powi(i32::from(digits));
            sums(&all).map(|n| n as f64 / scale).collect()
        }
        Degrees::Float(all) => all,
    };
    let said: Vec<usize> =
        runs.iter().flat_map(|(which, n)| std::iter::repeat_n(*which, (*n).min(at.len()))).collect();
    if celsius.len() != at.len() || late.len() != at.len() || said.len() != at.len() {
        return Err(broken());
    }
    sums(&at)
        .zip(celsius)
        .zip(said.iter().zip(late))
        .map(|((at, celsius), (which, late))| {
            let (quality, recorded_by) = words.get(*which).cloned().ok_or_else(broken)?;
            let at = at.wrapping_mul(unit);
            Ok(Row { at, celsius, quality, recorded_at: late.map(|l| at.wrapping_add(l)), recorded_by })
        })
        .collect()
}

/// What a minute said, of an hour that was thinned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub(super) struct Told {
    pub(super) quality: String,
    pub(super) last_at: i64,
    pub(super) least: f64,
    pub(super) mean: f64,
    pub(super) most: f64,
    pub(super) last: f64,
    pub(super) count: u32,
    pub(super) gap_s: f64,
}

impl Told {
    pub(super) fn of(minute: &Minute, quality: &str) -> Self {
        // A mean to the last digit: what is computed of it stays the same.
        Self {
            quality: quality.into(),
            last_at: minute.last_at.as_microsecond(),
            least: minute.least.value(),
            mean: minute.mean.value(),
            most: minute.most.value(),
            last: minute.last.value(),
            count: minute.count,
            gap_s: minute.gap_s,
        }
    }

    pub(super) fn minute(&self) -> Result<Minute, StoreError> {
        let last_at = Timestamp::from_microsecond(self.last_at)
            .map_err(|e| StoreError::Record(format!("minutes: {e}")))?;
        Ok(Minute {
            minute: minute_of(last_at),
            least: Celsius::new(self.least),
            mean: Celsius::new(self.mean),
            most: Celsius::new(self.most),
            last: Celsius::new(self.last),
            last_at,
            count: self.count,
            gap_s: self.gap_s,
        })
    }
}

/// Packs what the minutes of an hour said.
pub(super) fn pack_minutes(minutes: &[Told]) -> Result<Vec<u8>, StoreError> {
    deflated(&minutes)
}

/// Unpacks that.
pub(super) fn unpack_minutes(body: &[u8]) -> Result<Vec<Told>, StoreError> {
    inflated(body)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand_pcg::Pcg64Mcg;
    use rand_pcg::rand_core::{RngCore, SeedableRng};

    /// An hour of a device that reports each second, with a tenth of a kelvin of noise, written down a little later.
    fn hour(rng: &mut Pcg64Mcg, digits: i32) -> Vec<Row> {
        let mut unit = || f64::from(rng.next_u32()) / f64::from(u32::MAX);
        let scale = 10_f64.powi(digits);
        (0..3600)
            .map(|s| {
                let at = 1_795_622_400_000_000 + s * 1_000_000;
                let noise = (0..6).map(|_| unit() - 0.5).sum::<f64>() * 0.14;
                Row {
                    at,
                    celsius: ((57.0 + noise) * scale).round() / scale,
                    quality: "reported".into(),
                    recorded_at: Some(at + (unit() * 40.0) as i64 * 1000),
                    recorded_by: Some("circulator".into()),
                }
            })
            .collect()
    }

    #[test]
    fn every_reading_comes_back_as_it_was_and_takes_fewer_than_five_bytes() {
        let mut rng = Pcg64Mcg::seed_from_u64(1);
        for digits in [1, 2, 3] {
            let rows = hour(&mut rng, digits);
            let packed = pack(&rows).expect("packed");
            assert_eq!(unpack(&packed).expect("unpacked"), rows);
            let each = packed.len() as f64 / rows.len() as f64;
            assert!(each < 5.0, "{each} bytes with {digits} digits");
        }
    }

    #[test]
    fn what_is_odd_comes_back_to_the_last_digit() {
        let row = |at: i64, celsius: f64, quality: &str, recorded_at| Row {
            at,
            celsius,
            quality: quality.into(),
            recorded_at,
            recorded_by: recorded_at.map(|_| "ida".into()),
        };
        let thirds = [
            row(7, 1.0 / 3.0, "reported", None),
            row(8, -0.0, "imported", Some(-5)),
            row(9, 55.05, "reported", Some(9)),
        ];
        let fine = [row(1_000_003, 57.123_456_7, "x", None), row(1_000_003, 0.1 + 0.2, "x", None)];
        for rows in [&thirds[..], &fine, &[]] {
            let back = unpack(&pack(rows).expect("packed")).expect("unpacked");
            assert_eq!(back.len(), rows.len());
            for (a, b) in back.iter().zip(rows) {
                assert_eq!((a, a.celsius.to_bits()), (b, b.celsius.to_bits()));
            }
        }
        // What is no pack is said to be none.
        for bad in [&b""[..], b"supper", &deflated(&"text").expect("text")] {
            assert!(matches!(unpack(bad), Err(StoreError::Record(_))));
        }
    }
}
