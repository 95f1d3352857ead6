//! A bath as it is written down: what it was told to be (its settings), what was done to its water, and what it was (its
//! readings); none stands for another.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{
    Air, Check, Unwatched, Vessel, WaterEvent, WaterRead, WaterRefusal, WaterState, Worse, by_minute,
    can_be_done, trust,
};
use crate::figures::{bench, cooling};
use crate::units::{Celsius, Kelvin};
use crate::who::By;

/// A vessel under its identifier.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct KeptVessel {
    /// Which.
    pub id: Uuid,
    /// It.
    pub vessel: Vessel,
}

/// A vessel run from filling to emptying.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct BathRecord {
    /// Identifier.
    pub id: Uuid,
    /// What the kitchen calls it.
    pub name: String,
    /// From when on.
    pub began_at: Timestamp,
    /// What it was told to be.
    pub settings: Vec<SettingRecord>,
    /// The vessel it runs in, as it was when it was filled; none where nobody named one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub vessel: Option<KeptVessel>,
    /// What was done to its water, in the order it was written down.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub water: Vec<WaterEvent>,
    /// What it was read with.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub instruments: Vec<InstrumentRecord>,
}

/// What a bath was told to be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SettingRecord {
    /// Identifier.
    pub id: Uuid,
    /// From when on.
    pub at: Timestamp,
    /// °C.
    pub celsius: Celsius,
    /// By whom.
    pub by: By,
}

/// What a reading is taken with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct InstrumentRecord {
    /// Identifier.
    pub id: Uuid,
    /// What the kitchen calls it.
    pub name: String,
    /// The piece it is stuck into; the water's where there is none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<Uuid>,
    /// Somebody confirmed that its tip is at that piece's thermal centre.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub centred: bool,
    /// The kitchen's thermometer it is; none where nobody named one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thermometer: Option<Uuid>,
    /// How that was checked.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub checks: Vec<Check>,
    /// Its readings, by time. In a file they stand apart, from version 8 on: see [`crate::book::HourRecord`].
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub readings: Vec<ReadingRecord>,
    /// Its readings were thinned: what comes often stands for its minutes, each with its mean when the last of it came.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thinned: Option<Thinned>,
}

/// What was thinned of an instrument's readings.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Thinned {
    /// How many readings the minutes stand for.
    pub readings: u64,
}

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ReadingRecord {
    /// When.
    pub at: Timestamp,
    /// °C, as read.
    pub celsius: Celsius,
    /// How it came about: `typed`, [`IMPORTED`], or [`REPORTED`].
    pub quality: String,
}

/// What a probe in a piece read.
#[derive(Debug, Clone, PartialEq)]
pub struct ProbeLog {
    /// What the probe is called.
    pub name: String,
    /// When and what, its offset taken off, by time.
    pub readings: Vec<(Timestamp, Celsius)>,
    /// It was checked near there, and somebody confirmed that its tip is at the centre: it may bring a safe time forward.
    /// Without, it may only delay one.
    pub may_advance: bool,
}

/// The quality of a reading that a device reported.
pub const REPORTED: &str = "reported";

/// The quality of a reading that came with a log.
pub const IMPORTED: &str = "imported";

/// The air of a kitchen that has said nothing of it.
///
/// ```
/// assert_eq!(hold_steady_core::bath::usual_air(300.0).altitude_m, 300.0);
/// ```
#[must_use]
pub fn usual_air(altitude_m: f64) -> Air {
    Air { room_c: cooling().room_c.value, humidity: bench().humidity.value, altitude_m }
}

impl BathRecord {
    /// Where its water stands, by what was done to it.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert_eq!(bath.state().litres, 0.0);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn state(&self) -> WaterState {
        WaterState::of(self.vessel.as_ref().map_or_else(Default::default, |v| v.vessel.cover), &self.water)
    }

    /// When this machine was away last and nobody said since what the water did; none where it was read all along, as by a
    /// device that keeps what it could not send.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert_eq!(bath.unwatched(), None);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn unwatched(&self) -> Option<Unwatched> {
        let last = *self.state().unwatched.last()?;
        let within = self.reads_by_minute().into_iter().map(|r| r.at);
        let within = within.filter(|at| (last.from..last.until).contains(at));
        let times: Vec<Timestamp> = [last.from].into_iter().chain(within).chain([last.until]).collect();
        let longest = SignedDuration::from_secs((cooling().log_gap_min.value * 60.0) as i64);
        times.windows(2).any(|w| w[1].duration_since(w[0]) > longest).then_some(last)
    }

    /// Whether something can have been done to its water.
    ///
    /// # Errors
    /// Why not.
    ///
    /// ```
    /// # use hold_steady_core::{bath::*, book::BathRecord};
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// let event = WaterEvent {
    ///     id: uuid::Uuid::nil(),
    ///     happened_at: bath.began_at,
    ///     recorded_at: bath.began_at,
    ///     by: "Ida".into(),
    ///     kind: WaterEventKind::TakenOff { litres: 1.0 },
    /// };
    /// assert_eq!(bath.with_water(&event), Err(WaterRefusal::TakesMore { there: 0.0, off: 1.0 }));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn with_water(&self, event: &WaterEvent) -> Result<(), WaterRefusal> {
        can_be_done(self.vessel.as_ref().map(|kept| &kept.vessel), &self.water, event)
    }

    /// Whether a device reports its water.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert!(!bath.reports());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn reports(&self) -> bool {
        let mut in_water = self.instruments.iter().filter(|i| i.piece.is_none());
        in_water.any(|i| i.readings.last().is_some_and(|r| r.quality == REPORTED))
    }

    /// What its water was at least, reading by reading, by time: less what each thermometer may read too high, the
    /// lowest of several that were read together, what was struck out left out.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert!(bath.at_least().is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn at_least(&self) -> Vec<(Timestamp, Celsius)> {
        self.reads().iter().map(|r| (r.at, r.at_least())).collect()
    }

    /// What was read in its water, by time, without each thermometer's offset and no less: the lowest of several that were
    /// read together, what was struck out left out. To be shown, and to be compared with what it was set to.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert!(bath.as_read().is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn as_read(&self) -> Vec<(Timestamp, Celsius)> {
        self.reads().iter().map(|r| (r.at, r.celsius)).collect()
    }

    /// What was read in its water, by time, as each thermometer is worth: the lowest of several that were read together, what
    /// was struck out left out.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert!(bath.reads().is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn reads(&self) -> Vec<WaterRead> {
        self.reads_of(|readings| readings)
    }

    /// The same by the minute, as water is judged: of what comes often each minute once, with its mean. A file and the
    /// database say the same of it.
    ///
    /// ```
    /// # use hold_steady_core::book::BathRecord;
    /// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: "2026-11-25T16:00:00Z".parse()?,
    /// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
    /// assert!(bath.reads_by_minute().is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn reads_by_minute(&self) -> Vec<WaterRead> {
        self.reads_of(|readings| by_minute(&readings, Worse::Colder))
    }

    fn reads_of(&self, told: impl Fn(Vec<ReadingRecord>) -> Vec<ReadingRecord>) -> Vec<WaterRead> {
        let struck = self.state().struck;
        let together = SignedDuration::from_secs((cooling().log_gap_min.value * 60.0) as i64);
        let of = |i: &InstrumentRecord| -> Vec<WaterRead> {
            let counted: Vec<ReadingRecord> =
                i.readings.iter().filter(|r| !struck.contains(&(i.id, r.at))).cloned().collect();
            let read = |r: ReadingRecord| {
                let trust = trust(&i.checks, r.celsius, r.at);
                WaterRead::of(r.at, r.celsius, &trust, r.quality == REPORTED)
            };
            let mut all: Vec<WaterRead> = told(counted).into_iter().map(read).collect();
            all.sort_by_key(|r| r.at);
            all
        };
        let each: Vec<(Uuid, Vec<WaterRead>)> =
            self.instruments.iter().filter(|i| i.piece.is_none()).map(|i| (i.id, of(i))).collect();
        let mut all: Vec<(WaterRead, Uuid)> = Vec::with_capacity(each.iter().map(|e| e.1.len()).sum());
        for (id, own) in &each {
            let others: Vec<&[WaterRead]> =
                each.iter().filter(|(other, _)| other != id).map(|(_, reads)| reads.as_slice()).collect();
            all.extend(own.iter().map(|r| (lowest(r, &others, together), *id)));
        }
        all.sort_by_key(|r| (r.0.at, r.1));
        all.into_iter().map(|r| r.0).collect()
    }
}

/// A reading with the lowest of what other thermometers say so near to it in time: each by its nearest.
fn lowest(own: &WaterRead, others: &[&[WaterRead]], together: SignedDuration) -> WaterRead {
    let nearest = others.iter().flat_map(|reads| nearest(reads, own.at, together));
    let low = nearest.fold((own.celsius, own.at_least()), |(c, least), other| {
        (c.min(other.celsius), least.min(other.at_least()))
    });
    WaterRead { celsius: low.0, reads_high: (low.0 - low.1).max(Kelvin::ZERO), ..*own }
}

/// Of readings by time those nearest to an instant, no further from it than that: of two instants as near the earlier one's.
fn nearest(reads: &[WaterRead], at: Timestamp, within: SignedDuration) -> &[WaterRead] {
    let after = reads.partition_point(|r| r.at <= at);
    let away = |r: &&WaterRead| r.at.duration_since(at).abs();
    let near = [after.checked_sub(1).and_then(|i| reads.get(i)), reads.get(after)];
    let Some(found) = near.into_iter().flatten().filter(|r| away(r) <= within).min_by_key(away) else {
        return &[];
    };
    let (from, until) =
        (reads.partition_point(|r| r.at < found.at), reads.partition_point(|r| r.at <= found.at));
    &reads[from..until]
}
