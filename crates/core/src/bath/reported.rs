//! Readings that come from outside: what a device reports, and a log kept as a file. What cannot be taken is said by its
//! line; nothing is dropped silently.

use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;

use crate::Unfit;
use crate::limits::MOST_REPORTED;
use crate::units::{Celsius, TemperatureUnit, shortened};

/// A reading as it was reported.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reported {
    /// Its line, or its place among those reported, from 1.
    pub line: usize,
    /// When it was read; `None` where the device has no clock: now.
    pub at: Option<Timestamp>,
    /// As read.
    pub celsius: Celsius,
}

/// What could not be taken, and why.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NotTaken {
    /// Its line, or its place among those reported, from 1.
    pub line: usize,
    /// Why, in a sentence.
    pub why: String,
}

/// The columns of a log.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Columns {
    /// The names in its first line.
    pub names: Vec<String>,
    /// Where the time stands: one column, or the date and the time of day.
    pub time: Vec<usize>,
    /// Where the temperature stands.
    pub temperature: usize,
    /// What bare numbers are.
    pub unit: TemperatureUnit,
}

/// Readings from outside.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Report {
    /// Its columns, of a file.
    pub columns: Option<Columns>,
    /// What can be taken, by time where times are given.
    pub readings: Vec<Reported>,
    /// What cannot.
    pub not_taken: Vec<NotTaken>,
    /// Of a file that is longer than is read at once, how many bytes of it were read.
    pub read_bytes: Option<usize>,
    /// What the device says its heater is set to.
    pub set: Option<Celsius>,
    /// How far the newest of its times was ahead of this machine's clock, as they were sent; below zero, behind.
    pub ahead: Option<SignedDuration>,
}

/// The coldest and the hottest a probe in a kitchen's water can be, °C: outside of that it is broken.
const SENSIBLE_C: std::ops::RangeInclusive<f64> = -30.0..=110.0;

/// A reading may be dated so far ahead of this machine's clock: no two clocks agree.
const AHEAD: SignedDuration = SignedDuration::from_secs(60);

/// What is wrong with a device's clock.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum ClockTrouble {
    /// So many seconds fast: what it sends is of times to come, and refused.
    Fast(f64),
    /// What it sends is so many seconds old when it comes: it is slow, or sends late.
    Slow(f64),
}

/// What is wrong with the clock of a device whose newest time was so many seconds ahead, of whom it is known that so many
/// are to be taken off. `None` where nothing is.
///
/// ```
/// use hold_steady_core::bath::{clock_trouble, ClockTrouble};
/// assert_eq!(clock_trouble(300.0, 0.0), Some(ClockTrouble::Fast(300.0)));
/// assert_eq!(clock_trouble(300.0, 300.0), None);
/// assert_eq!(clock_trouble(-20.0, 0.0), None, "on its way");
/// ```
#[must_use]
pub fn clock_trouble(ahead_s: f64, told_s: f64) -> Option<ClockTrouble> {
    const LATE_S: f64 = 180.0;
    let off = ahead_s - told_s;
    if off > AHEAD.as_secs_f64() {
        Some(ClockTrouble::Fast(off))
    } else if off < -LATE_S {
        Some(ClockTrouble::Slow(-off))
    } else {
        None
    }
}

impl Report {
    /// The same of a clock that is so far ahead: taken off its times.
    fn less(mut self, offset: SignedDuration) -> Self {
        for reading in &mut self.readings {
            reading.at = reading.at.map(|at| at.checked_sub(offset).unwrap_or(at));
        }
        self.ahead = self.ahead.map(|a| a.saturating_add(offset));
        self
    }

    fn refuse(&mut self, line: usize, why: impl Into<String>) {
        self.not_taken.push(NotTaken { line, why: why.into() });
    }

    /// Takes a reading that can have been, or says why it cannot. `now` is by the clock the times are of.
    fn take(&mut self, line: usize, at: Option<Timestamp>, celsius: f64, now: Timestamp) {
        if let Some(ahead) = at.map(|at| at.duration_since(now)) {
            self.ahead = Some(self.ahead.map_or(ahead, |a| a.max(ahead)));
        }
        if !SENSIBLE_C.contains(&celsius) {
            let (low, high) = (SENSIBLE_C.start(), SENSIBLE_C.end());
            return self
                .refuse(line, format!("{celsius} °C is no temperature of water: {low} to {high} °C."));
        }
        if let Some(at) = at.filter(|at| at.duration_since(now) > AHEAD) {
            let ahead = at.duration_since(now).as_secs() / 60;
            return self.refuse(
                line,
                format!("{at} is {ahead} min ahead of this machine’s clock ({now}): set the device’s clock, or leave the time out."),
            );
        }
        self.readings.push(Reported { line, at, celsius: Celsius::new(celsius) });
    }
}

/// One reading as a device sends it.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Sent {
    at: Option<String>,
    celsius: Option<f64>,
    fahrenheit: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct SentAll {
    readings: Vec<serde_json::Value>,
    #[serde(default)]
    set_celsius: Option<f64>,
}

/// Reads what a device sends as JSON: `{"readings": [{"at": "2026-11-25T16:00:00Z", "celsius": 55.1}]}`, the time left
/// out by one without a clock, `fahrenheit` in place of `celsius`, `set_celsius` beside `readings` where it has a heater.
/// `ahead` is what its clock is said to be ahead: taken off its times.
///
/// # Errors
/// When it is no such JSON at all; a single reading that cannot be taken is said by its place.
///
/// ```
/// use hold_steady_core::bath::report_from_json;
/// let now = "2026-11-25T16:00:30Z".parse()?;
/// let sent = r#"{"readings": [{"at": "2026-11-25T16:00:00Z", "celsius": 55.1}, {"celsius": 900}], "set_celsius": 56}"#;
/// let none = jiff::SignedDuration::ZERO;
/// let report = report_from_json(sent, now, none)?;
/// assert_eq!((report.readings.len(), report.not_taken[0].line), (1, 2));
/// assert!(report_from_json("55.1", now, none).is_err());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn report_from_json(text: &str, now: Timestamp, ahead: SignedDuration) -> Result<Report, Unfit> {
    // What that clock shows now.
    let now = now.checked_add(ahead).unwrap_or(now);
    const EXAMPLE: &str = r#"{"readings": [{"at": "2026-11-25T16:00:00Z", "celsius": 55.1}]}"#;
    let sent: SentAll = serde_json::from_str(text).map_err(|e| format!("Send {EXAMPLE}: {e}."))?;
    if sent.readings.len() > MOST_REPORTED {
        return Err(format!("{} readings at once; send at most {MOST_REPORTED}.", sent.readings.len()).into());
    }
    let mut report = Report::default();
    match sent.set_celsius {
        Some(set) if !(0.0..=100.0).contains(&set) => {
            report.refuse(0, format!("set_celsius {set} is no setting of a bath: 0 to 100 °C."));
        }
        set => report.set = set.map(Celsius::new),
    }
    for (line, value) in (1..).zip(sent.readings) {
        match serde_json::from_value::<Sent>(value) {
            Err(e) => report.refuse(line, format!("{e}.")),
            Ok(sent) => {
                let at = match sent.at.as_deref().map(str::parse::<Timestamp>).transpose() {
                    Ok(at) => at,
                    Err(_) => {
                        let typed = shortened(sent.at.as_deref().unwrap_or_default());
                        report.refuse(line, format!("“{typed}” is no instant; write 2026-11-25T16:00:00Z."));
                        continue;
                    }
                };
                match (sent.celsius, sent.fahrenheit) {
                    (Some(c), None) => report.take(line, at, c, now),
                    (None, Some(f)) => report.take(line, at, Celsius::from_fahrenheit(f).value(), now),
                    _ => report.refuse(line, "Give celsius or fahrenheit, one of them."),
                }
            }
        }
    }
    Ok(report.less(ahead))
}

/// Names of columns that hold a time, a date, a time of day, a temperature: beginnings, in lower case.
const TIMES: [&str; 6] = ["timestamp", "datetime", "date time", "date_time", "at", "time"];
const DATES: [&str; 3] = ["date", "day", "datum"];
const TEMPERATURES: [&str; 8] = ["temp", "celsius", "fahrenheit", "°c", "°f", "c", "f", "probe"];

/// Finds the columns of a log by their names; the unit by the temperature's.
fn columns(names: &[String], usual: TemperatureUnit) -> Result<Columns, Unfit> {
    let lower: Vec<String> = names.iter().map(|n| n.trim().to_lowercase()).collect();
    let find = |wanted: &[&str]| {
        let exact = lower.iter().position(|n| wanted.contains(&n.as_str()));
        exact.or_else(|| {
            lower.iter().position(|n| wanted.iter().any(|w| w.chars().count() > 2 && n.starts_with(w)))
        })
    };
    let listed = || names.iter().map(|n| shortened(n.trim())).collect::<Vec<_>>().join(", ");
    let date = find(&DATES).filter(|i| !TIMES.contains(&lower[*i].as_str()));
    let time = find(&TIMES).filter(|i| Some(*i) != date);
    let time: Vec<usize> = date.into_iter().chain(time).collect();
    if time.is_empty() {
        return Err(format!("No column of times was found among {}. Name one “time”.", listed()).into());
    }
    let taken = |i: &usize| !time.contains(i);
    let Some(temperature) = find(&TEMPERATURES).filter(taken) else {
        return Err(format!(
            "No column of temperatures was found among {}. Name one “temperature”.",
            listed()
        )
        .into());
    };
    let name = &lower[temperature];
    let unit = if name.contains("°f") || name.contains("fahrenheit") || name == "f" || name.ends_with("(f)")
    {
        TemperatureUnit::F
    } else if name.contains("°c") || name.contains("celsius") || name == "c" || name.ends_with("(c)") {
        TemperatureUnit::C
    } else {
        usual
    };
    Ok(Columns { names: names.to_vec(), time, temperature, unit })
}

/// An instant as logs write it: with its offset, or in the kitchen's zone.
fn instant(text: &str, zone: &TimeZone) -> Option<Timestamp> {
    let text = text.trim();
    if let Ok(at) = text.parse::<Timestamp>() {
        return Some(at);
    }
    // Seconds or milliseconds since 1970.
    if text.len() >= 9 && text.bytes().all(|b| b.is_ascii_digit()) {
        let n: i64 = text.parse().ok()?;
        return if n > 100_000_000_000 { Timestamp::from_millisecond(n) } else { Timestamp::from_second(n) }
            .ok();
    }
    const FORMATS: [&str; 8] = [
        "%Y-%m-%d %H:%M:%S",
        "%Y-%m-%d %H:%M",
        "%Y/%m/%d %H:%M:%S",
        "%Y/%m/%d %H:%M",
        "%d.%m.%Y %H:%M:%S",
        "%d.%m.%Y %H:%M",
        "%m/%d/%Y %H:%M:%S",
        "%m/%d/%Y %H:%M",
    ];
    let plain = text.replace('T', " ");
    // Fractions of seconds are more than a kitchen's log says.
    let plain = plain
        .split_once('.')
        .filter(|(_, after)| after.len() <= 3 && !after.contains(' '))
        .map_or(plain.as_str(), |(before, _)| before);
    let at = FORMATS.iter().find_map(|f| DateTime::strptime(f, plain).ok())?;
    // A time shown twice when the clocks go back is taken as the later: the order of the lines says more, and is checked.
    zone.to_ambiguous_timestamp(at).later().ok()
}

/// Which line a row stands in. (The reader of tables counts an empty line before a row as the row's own.)
struct Lines<'a> {
    text: &'a str,
    byte: usize,
    line: usize,
}

impl Lines<'_> {
    fn at(&mut self, byte: u64) -> usize {
        let bytes = self.text.as_bytes();
        let from = usize::try_from(byte).unwrap_or(usize::MAX).min(bytes.len());
        let empty = bytes[from..].iter().take_while(|b| matches!(b, b'\r' | b'\n')).count();
        let start = from + empty;
        self.line += bytes[self.byte.min(start)..start].iter().filter(|b| **b == b'\n').count();
        self.byte = start;
        self.line
    }
}

/// Reads a log: comma, semicolon or tab between its columns; times with an offset, or in this zone; numbers with a
/// point or a comma. Columns are found by their names in the first line.
///
/// # Errors
/// When there are no such columns, or it is no table at all. A line that cannot be taken is said by its number.
///
/// ```
/// use hold_steady_core::{bath::report_from_csv, units::TemperatureUnit};
/// let log = "Time;Temperature (°C);Battery\n2026-11-25 17:00;55,1;80 %\n2026-11-25 17:01;warm;80 %\n";
/// let (now, zone) = ("2026-11-25T18:00:00Z".parse()?, jiff::tz::TimeZone::get("Europe/Vienna")?);
/// let report = report_from_csv(log, TemperatureUnit::C, &zone, (now, jiff::SignedDuration::ZERO))?;
/// assert_eq!(report.readings[0].at, Some("2026-11-25T16:00:00Z".parse()?));
/// assert_eq!((report.not_taken[0].line, report.readings.len()), (3, 1));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn report_from_csv(
    text: &str,
    usual: TemperatureUnit,
    zone: &TimeZone,
    (now, ahead): (Timestamp, SignedDuration),
) -> Result<Report, Unfit> {
    let now = now.checked_add(ahead).unwrap_or(now);
    let all = text;
    let text = text.trim_start_matches('\u{feff}');
    let first = text.lines().find(|l| !l.trim().is_empty()).ok_or("There is nothing in it.")?;
    let between = [b'\t', b';', b','].into_iter().max_by_key(|b| first.bytes().filter(|x| x == b).count());
    let between = between.unwrap_or(b',');
    let mut table = csv::ReaderBuilder::new()
        .delimiter(between)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let names = table.headers().map_err(|e| format!("Its first line cannot be read: {e}."))?;
    let names: Vec<String> = names.iter().map(str::to_owned).collect();
    let columns = columns(&names, usual)?;
    let mut report = Report::default();
    let mut rows = Rows { columns: &columns, zone, now, before: None };
    let mut counted = Lines { text, byte: 0, line: 1 };
    for row in table.records() {
        let row = match row {
            Ok(row) => row,
            Err(e) => {
                let line = e.position().map_or(0, |p| counted.at(p.byte()));
                report.refuse(line, "It is not written as text (UTF-8).");
                continue;
            }
        };
        let line = row.position().map_or(0, |p| counted.at(p.byte()));
        if report.readings.len() + report.not_taken.len() >= MOST_REPORTED {
            report.refuse(
                line,
                format!("Only {MOST_REPORTED} lines are read at once: bring the rest in by itself."),
            );
            report.read_bytes = Some(all.len() - text.len() + counted.byte);
            break;
        }
        if row.iter().any(|field| !field.is_empty())
            && let Err(why) = rows.take(&row, line, &mut report)
        {
            report.refuse(line, why);
        }
    }
    report.columns = Some(columns);
    Ok(report.less(ahead))
}

/// The rows of a log, one after another.
struct Rows<'a> {
    columns: &'a Columns,
    zone: &'a TimeZone,
    now: Timestamp,
    /// When the last one that was taken was read.
    before: Option<Timestamp>,
}

impl Rows<'_> {
    /// Takes a row, or says why it cannot.
    fn take(&mut self, row: &csv::StringRecord, line: usize, report: &mut Report) -> Result<(), Unfit> {
        let columns = self.columns;
        // `55,5` between commas is two fields, and half of it is another temperature.
        if row.len() > columns.names.len() && row.iter().skip(columns.names.len()).any(|f| !f.is_empty()) {
            return Err(format!(
                "{} fields under {} names: is 55,5 written between commas? Write 55.5, or put semicolons between the fields.",
                row.len(),
                columns.names.len()
            ).into());
        }
        let typed = columns.time.iter().filter_map(|i| row.get(*i)).collect::<Vec<_>>().join(" ");
        let at = instant(&typed, self.zone)
            .ok_or_else(|| format!("“{}” is no date with a time of day.", shortened(&typed)))?;
        let typed = row.get(columns.temperature).unwrap_or_default();
        let number = typed.trim_end_matches(|c: char| "°CFcf ".contains(c)).replace(',', ".");
        let number = number.parse::<f64>().ok().filter(|n| n.is_finite());
        let number = number.ok_or_else(|| format!("“{}” is no temperature.", shortened(typed)))?;
        let own =
            typed.trim().chars().last().filter(char::is_ascii_alphabetic).map(|c| c.to_ascii_lowercase());
        let fahrenheit = own.map_or(columns.unit == TemperatureUnit::F, |c| c == 'f');
        let celsius = if fahrenheit { Celsius::from_fahrenheit(number).value() } else { number };
        if self.before == Some(at) {
            return Err(format!("{at} was read in an earlier line already.").into());
        }
        if self.before.is_some_and(|b| b > at) {
            return Err(format!("{at} comes before the line above it: the log is out of order there.").into());
        }
        let taken = report.readings.len();
        report.take(line, Some(at), celsius, self.now);
        if report.readings.len() > taken {
            self.before = Some(at);
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn now() -> Timestamp {
        "2026-11-25T20:00:00Z".parse().expect("an instant")
    }

    fn read(log: &str) -> Report {
        report_from_csv(log, TemperatureUnit::C, &TimeZone::UTC, (now(), SignedDuration::ZERO))
            .expect("a log")
    }

    #[test]
    fn columns_units_and_times_are_found_as_loggers_write_them() {
        for (log, c) in [
            ("time,temp\n2026-11-25T16:00:00Z,55.5\n", 55.5),
            ("Timestamp,Probe 1 (°F)\n2026-11-25 16:00:00,131.9\n", 55.5),
            ("Date\tTime\tBattery\tTemperature\n25.11.2026\t16:00\t80\t55,5\n", 55.5),
            ("Date;Time;Celsius\n11/25/2026;16:00:00;55.5 °C\n", 55.5),
            ("at,fahrenheit,note\n1795622400,131.9,\"a, b\"\n", 55.5),
            ("\u{feff}Datum;Temp\n2026/11/25 16:00;55,5\n", 55.5),
            ("time,temperature\n2026-11-25T16:00:00.250,131.9 F\n", 55.5),
        ] {
            let report = read(log);
            assert!(report.not_taken.is_empty(), "{log}: {:?}", report.not_taken);
            let got = report.readings[0];
            assert!((got.celsius.value() - c).abs() < 1e-9, "{log}: {got:?}");
            assert_eq!(got.at, Some("2026-11-25T16:00:00Z".parse().expect("an instant")), "{log}");
        }
    }

    #[test]
    fn every_line_that_is_not_taken_is_named_with_its_reason() {
        let log = "time,temp\n\
            2026-11-25 16:00,55\n\
            2026-11-25 16:00,55.1\n\
            2026-11-25 15:00,55\n\
            yesterday,55\n\
            2026-11-25 16:02,\n\
            2026-11-25 16:03,850\n\
            2026-11-25 23:03,55\n\
            \n\
            2026-11-25 16:04,55.2\n";
        let report = read(log);
        assert_eq!(report.readings.iter().map(|r| r.line).collect::<Vec<_>>(), [2, 10]);
        let refused: Vec<(usize, &str)> = report.not_taken.iter().map(|n| (n.line, n.why.as_str())).collect();
        for ((line, why), (at, part)) in refused.iter().zip([
            (3, "already"),
            (4, "out of order"),
            (5, "no date"),
            (6, "no temperature"),
            (7, "no temperature of water"),
            (8, "ahead of"),
        ]) {
            assert!(*line == at && why.contains(part), "{line} {why}");
        }
        assert_eq!(refused.len(), 6);
        for bad in ["", "a,b\n1,2\n", "time,note\n1,2\n"] {
            assert!(
                report_from_csv(bad, TemperatureUnit::C, &TimeZone::UTC, (now(), SignedDuration::ZERO))
                    .is_err(),
                "{bad:?}"
            );
        }
    }

    #[test]
    fn a_device_s_reading_without_unit_with_two_or_with_a_wrong_clock_is_refused_by_its_place() {
        let sent = r#"{"readings": [{"celsius": 55}, {"fahrenheit": 131}, {"at": "16:00", "celsius": 55},
            {"celsius": 55, "fahrenheit": 131}, {"at": "2027-01-01T00:00:00Z", "celsius": 55}, 7, {"celsius": 55, "x": 1}]}"#;
        let report = report_from_json(sent, now(), SignedDuration::ZERO).expect("a report");
        assert_eq!(report.readings.iter().map(|r| r.line).collect::<Vec<_>>(), [1, 2]);
        assert_eq!(report.not_taken.iter().map(|n| n.line).collect::<Vec<_>>(), [3, 4, 5, 6, 7]);
        assert_eq!(report.readings[1].celsius, Celsius::from_fahrenheit(131.0));
        let set = report_from_json(r#"{"readings": [], "set_celsius": 400}"#, now(), SignedDuration::ZERO)
            .expect("a report");
        assert_eq!((set.set, set.not_taken.len()), (None, 1));
    }

    #[test]
    fn a_decimal_comma_between_commas_is_refused_and_never_cut() {
        let read = |log: &str| {
            let report = read(log);
            let taken: Vec<f64> = report.readings.iter().map(|r| r.celsius.value()).collect();
            (taken, report.not_taken.iter().map(|n| n.line).collect::<Vec<_>>())
        };
        assert_eq!(read("time,temp\n2026-11-25 16:00,55,5\n2026-11-25 16:01,55.5\n"), (vec![55.5], vec![2]));
        // Between other signs, or in quotes, it is what it says.
        assert_eq!(read("time;temp\n2026-11-25 16:00;55,5\n"), (vec![55.5], vec![]));
        assert_eq!(read("time,temp\n2026-11-25 16:00,\"55,5\"\n"), (vec![55.5], vec![]));
        // An empty field too many is none.
        assert_eq!(read("time,temp\n2026-11-25 16:00,55.5,\n"), (vec![55.5], vec![]));
    }

    #[test]
    fn a_clock_that_is_said_to_be_ahead_is_set_right_and_one_that_is_not_said_to_be_is_measured() {
        let sent = r#"{"readings": [{"at": "2026-11-25T20:05:00Z", "celsius": 55}, {"at": "2026-11-25T20:04:00Z", "celsius": 55}]}"#;
        let unsaid = report_from_json(sent, now(), SignedDuration::ZERO).expect("a report");
        assert_eq!((unsaid.readings.len(), unsaid.ahead), (0, Some(SignedDuration::from_mins(5))));
        let said = report_from_json(sent, now(), SignedDuration::from_mins(5)).expect("a report");
        let at: Vec<String> = said.readings.iter().filter_map(|r| r.at).map(|t| t.to_string()).collect();
        assert_eq!(at, ["2026-11-25T20:00:00Z", "2026-11-25T19:59:00Z"]);
        assert_eq!(said.ahead, Some(SignedDuration::from_mins(5)), "as it was sent");
        let none = report_from_json(r#"{"readings": [{"celsius": 55}]}"#, now(), SignedDuration::ZERO);
        assert_eq!(none.expect("a report").ahead, None);
    }
}
