//! The records of a kitchen, as they stand in the store and travel in an export.
//!
//! A cook has pieces; pieces lie in bags; a bag goes into a bath. A bath is a vessel run from filling to emptying: it
//! has settings (what it was told to be) and instruments with readings (what it was), and neither stands for the
//! other. What happened has a subject: the cook, a piece, a bag or a bath. Where a cook stands follows from what
//! happened and is stored nowhere.

use crate::units::{Celsius, Kelvin, Minutes, Units};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::HashMap;
use uuid::Uuid;

use super::by_minute;
use crate::bath::{
    Air, BathHistory, Check, Falls, Thermometer, Vessel, Water, WaterEvent, WaterRead, WaterState, trust,
};
use crate::cook::{CookState, Event, EventKind, MOST_EVENTS, Milestone, Refusal};
use crate::figures::{bench, cooling};
use crate::food::Pantry;
use crate::heat::HeatError;
use crate::plan::{
    ENGINE_VERSION, Habits, KitchenRules, Person, Plan, PlanForm, PlanRequest, data_version, plan,
};

/// A kitchen with all its cooks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Export {
    /// [`super::FORMAT`].
    pub format: String,
    /// [`super::VERSION`] when written.
    pub version: u32,
    /// When it was written.
    pub exported_at: Timestamp,
    /// The kitchen it came from.
    pub kitchen: KitchenRecord,
    /// Its cooks, oldest first.
    pub cooks: Vec<CookRecord>,
}

/// What an export says of the kitchen.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct KitchenRecord {
    /// Its name.
    pub name: String,
    /// IANA time zone.
    pub time_zone: String,
    /// What it keeps of its own; from version 2 on.
    #[serde(default, skip_serializing_if = "Pantry::is_empty")]
    pub pantry: Pantry,
    /// What it took off its lists; from version 3 on.
    #[serde(default, skip_serializing_if = "Pantry::is_empty")]
    pub removed: Pantry,
    /// What it had settled; from version 3 on. An import does not take it over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rules: Option<KitchenRules>,
    /// How it likes to work; from version 5 on. An import does not take it over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub habits: Option<Habits>,
    /// Who works there, those who left too; from version 5 on. An import does not take them over.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub people: Vec<Person>,
    /// Its vessels; from version 6 on. Those that are new here are brought in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub vessels: Vec<KeptVessel>,
    /// Its thermometers; from version 6 on. Those that are new here are brought in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub thermometers: Vec<Thermometer>,
    /// Who changed what of it, and when; from version 4 on. An import does not take it over.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub history: Vec<ChangeRecord>,
}

/// One change of what a kitchen has settled or keeps of its own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ChangeRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When.
    pub at: Timestamp,
    /// By whom.
    pub by: String,
    /// What.
    pub change: Change,
}

/// What was changed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Change {
    /// The kitchen was made, or got another name or time zone.
    Named {
        /// Its name.
        name: String,
        /// IANA time zone.
        time_zone: String,
    },
    /// What it goes by.
    Settled {
        /// All of it.
        rules: KitchenRules,
    },
    /// How it likes to work.
    Habits {
        /// All of it.
        habits: Habits,
    },
    /// Somebody began to work there, or got another name.
    PersonKept {
        /// Who.
        person: Person,
    },
    /// Somebody left, or came back.
    PersonLeft {
        /// Who.
        id: Uuid,
        /// Left.
        left: bool,
    },
    /// A food of its own was made or changed.
    FoodKept {
        /// As it was then: the food as JSON.
        food: Value,
    },
    /// A food of its own was taken off the lists, or put back.
    FoodRemoved {
        /// Which.
        id: String,
        /// Taken off.
        removed: bool,
    },
    /// A temperature was found right for a food, or forgotten.
    Dialled {
        /// Which.
        food: String,
        /// °C.
        celsius: Option<Celsius>,
    },
    /// The readings of a bath that ended long ago were thinned to what their minutes said.
    ReadingsThinned {
        /// Which bath.
        bath: Uuid,
        /// How many readings there were.
        readings: u64,
        /// Of how many minutes what was said is kept.
        minutes: u64,
    },
    /// For how many days after its end a bath keeps every reading.
    ReadingsKept {
        /// Days.
        days: u16,
    },
    /// A batch was salted before it was frozen.
    BatchSalted {
        /// Its name.
        batch: String,
    },
    /// A plan was kept under a name.
    PresetKept {
        /// Which.
        id: Uuid,
        /// Its name.
        name: String,
    },
    /// A preset was taken off the list, or put back.
    PresetRemoved {
        /// Which.
        id: Uuid,
        /// Taken off.
        removed: bool,
    },
    /// A vessel is kept, or was changed.
    VesselKept {
        /// It.
        vessel: Box<KeptVessel>,
    },
    /// A vessel was taken off the list, or put back.
    VesselRemoved {
        /// Which.
        id: Uuid,
        /// Taken off.
        removed: bool,
    },
    /// A thermometer is kept, or has another name.
    ThermometerKept {
        /// Which.
        id: Uuid,
        /// Its name.
        name: String,
    },
    /// A thermometer was taken off the list, or put back.
    ThermometerRemoved {
        /// Which.
        id: Uuid,
        /// Taken off.
        removed: bool,
    },
    /// A thermometer was checked.
    ThermometerChecked {
        /// Which.
        thermometer: Uuid,
        /// How.
        check: Check,
    },
    /// What another kitchen kept was brought in.
    PantryBrought {
        /// How many records were new.
        added: usize,
    },
}

/// One cook.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CookRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was begun.
    pub created_at: Timestamp,
    /// What the cook calls it.
    pub title: String,
    /// Its pieces.
    pub pieces: Vec<PieceRecord>,
    /// The bags they lie in.
    pub bags: Vec<BagRecord>,
    /// The baths those go into.
    pub baths: Vec<BathRecord>,
    /// What happened, in the order recorded.
    pub events: Vec<EventRecord>,
}

/// One piece with the plans made for it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PieceRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// Place among the cook's pieces, from 0.
    pub position: u32,
    /// When it was added.
    pub created_at: Timestamp,
    /// Plans, the first made first. Later engines add theirs; none is ever replaced.
    pub plans: Vec<PlanRecord>,
}

/// A bag, or a jar: what goes into the bath together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct BagRecord {
    /// Identifier.
    pub id: Uuid,
    /// The pieces in it.
    pub pieces: Vec<Uuid>,
    /// The bath it goes into.
    pub bath: Uuid,
}

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
    pub by: String,
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
    /// Its readings, by time.
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

/// A plan as it was made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlanRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was made.
    pub created_at: Timestamp,
    /// Version of the computation.
    pub engine: String,
    /// Version of the data: see [`data_version`].
    pub data: String,
    /// The sentence as typed.
    pub typed: PlanForm,
    /// What was understood of it.
    pub request: PlanRequest,
    /// The answer, as it was given then.
    pub result: Value,
}

impl PlanRecord {
    /// The answer as it was given; computed anew (for the same moment) where another version gave it in a shape
    /// that is not read any more.
    ///
    /// # Errors
    /// When that computation fails.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let plan = cook.plan_record().expect("planned").plan()?;
    /// assert!(plan.bath_min > Minutes::ZERO);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn plan(&self) -> Result<Plan, HeatError> {
        self.stored().map_or_else(|| plan(&self.request, self.created_at), Ok)
    }

    /// The answer computed from what was understood, and in what the one in the record is another: of a plan that came in a
    /// file, which anybody may have written.
    ///
    /// # Errors
    /// When that computation fails.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let mut plan = cook.plan_record().expect("planned").clone();
    /// plan.result["bath_min"] = serde_json::json!(10.0);
    /// assert!(plan.checked()?.differs.contains(&"minutes in the bath"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn checked(&self) -> Result<Checked, HeatError> {
        const SAME: Minutes = Minutes::new(1.0);
        let computed = plan(&self.request, self.created_at)?;
        let mut differs = Vec::new();
        if let Some(stored) = self.stored() {
            let same = |a: Minutes, b: Minutes| (a - b).abs() <= SAME;
            let mut note = |is_same: bool, what| {
                if !is_same {
                    differs.push(what);
                }
            };
            note(same(stored.bath_min, computed.bath_min), "minutes in the bath");
            note(stored.must_pasteurise == computed.must_pasteurise, "whether it must be pasteurised");
            note(stored.verdict.level == computed.verdict.level, "how it may be served");
            note(same(stored.through.slow, computed.through.slow), "when it is heated through");
            let safe = |p: &Plan| p.pasteurised.map(|e| e.slow);
            let agree = match (safe(&stored), safe(&computed)) {
                (Some(a), Some(b)) => same(a, b),
                (a, b) => a.is_none() && b.is_none(),
            };
            note(agree, "when it is pasteurised");
            let pull = Minutes::between(stored.times.pull, computed.times.pull).abs();
            note(pull <= SAME, "when it is pulled");
        }
        Ok(Checked { computed, differs })
    }

    /// The answer as it stands in the record, where its shape is read.
    fn stored(&self) -> Option<Plan> {
        Plan::deserialize(&self.result).ok()
    }

    /// What else than today's program gave the answer, where another did: said wherever it is shown beside what
    /// is computed today.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let older = PlanRecord { engine: "engine 1".into(), ..cook.plan_record().expect("planned").clone() };
    /// assert!(older.given_by().is_some_and(|by| by.contains("engine 1")));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn given_by(&self) -> Option<String> {
        // Today's own answers are read as they stand.
        if self.engine == ENGINE_VERSION && self.data == data_version() {
            return None;
        }
        Some(match self.stored() {
            Some(_) => format!("as given by {}", self.engine),
            None => format!("given by {}, recomputed by {ENGINE_VERSION}", self.engine),
        })
    }
}

/// A plan computed again, and in what the one that stands in its record is another.
#[derive(Debug, Clone)]
pub struct Checked {
    /// As it is computed.
    pub computed: Plan,
    /// What is another, in words.
    pub differs: Vec<&'static str>,
}

/// What an event is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Subject {
    /// The whole cook.
    #[default]
    Cook,
    /// A piece of it.
    Piece(Uuid),
    /// A bag of it.
    Bag(Uuid),
    /// A bath.
    Bath(Uuid),
}

impl Subject {
    /// Its kind, as a word of records.
    ///
    /// ```
    /// use hold_steady_core::book::Subject;
    /// assert_eq!((Subject::Cook.kind(), Subject::Bag(uuid::Uuid::nil()).kind()), ("cook", "bag"));
    /// ```
    #[must_use]
    pub const fn kind(self) -> &'static str {
        match self {
            Self::Cook => "cook",
            Self::Piece(_) => "piece",
            Self::Bag(_) => "bag",
            Self::Bath(_) => "bath",
        }
    }

    /// Its identifier; the cook's own is not said again.
    ///
    /// ```
    /// use hold_steady_core::book::Subject;
    /// assert_eq!(Subject::Bath(uuid::Uuid::nil()).id(), Some(uuid::Uuid::nil()));
    /// assert_eq!(Subject::Cook.id(), None);
    /// ```
    #[must_use]
    pub const fn id(self) -> Option<Uuid> {
        match self {
            Self::Cook => None,
            Self::Piece(id) | Self::Bag(id) | Self::Bath(id) => Some(id),
        }
    }

    /// One read back from its two parts.
    ///
    /// ```
    /// use hold_steady_core::book::Subject;
    /// assert_eq!(Subject::of("cook", None), Some(Subject::Cook));
    /// assert_eq!(Subject::of("bag", None), None, "which bag?");
    /// ```
    #[must_use]
    pub fn of(kind: &str, id: Option<Uuid>) -> Option<Self> {
        match (kind, id) {
            ("cook", None) => Some(Self::Cook),
            ("piece", Some(id)) => Some(Self::Piece(id)),
            ("bag", Some(id)) => Some(Self::Bag(id)),
            ("bath", Some(id)) => Some(Self::Bath(id)),
            _ => None,
        }
    }
}

/// An event and what it is about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct EventRecord {
    /// What it is about.
    #[serde(default)]
    pub subject: Subject,
    /// The event.
    #[serde(flatten)]
    pub event: Event,
}

/// The air of a kitchen that has said nothing of it.
///
/// ```
/// assert_eq!(hold_steady_core::book::usual_air(300.0).altitude_m, 300.0);
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
        self.reads_of(|readings| by_minute(&readings))
    }

    fn reads_of(&self, told: impl Fn(Vec<ReadingRecord>) -> Vec<ReadingRecord>) -> Vec<WaterRead> {
        let struck = self.state().struck;
        let together = SignedDuration::from_secs((cooling().log_gap_min.value * 60.0) as i64);
        let mut all: Vec<(WaterRead, Uuid)> = Vec::new();
        let in_water = self.instruments.iter().filter(|i| i.piece.is_none());
        for i in in_water.clone() {
            let counted: Vec<ReadingRecord> =
                i.readings.iter().filter(|r| !struck.contains(&(i.id, r.at))).cloned().collect();
            for r in told(counted) {
                let trust = trust(&i.checks, r.celsius, r.at);
                all.push((WaterRead::of(r.at, r.celsius, &trust, r.quality == REPORTED), i.id));
            }
        }
        all.sort_by_key(|r| (r.0.at, r.1));
        if in_water.count() < 2 {
            return all.into_iter().map(|r| r.0).collect();
        }
        let lowest = |(own, of): &(WaterRead, Uuid)| {
            // The reading of each other thermometer that is nearest in time.
            let mut others: HashMap<Uuid, (SignedDuration, WaterRead)> = HashMap::new();
            let first = all.partition_point(|r| own.at.duration_since(r.0.at) > together);
            let near = all[first..].iter().take_while(|r| r.0.at.duration_since(own.at) <= together);
            for r in near.filter(|r| r.1 != *of) {
                let away = r.0.at.duration_since(own.at).abs();
                let known = others.entry(r.1).or_insert((away, r.0));
                if away < known.0 {
                    *known = (away, r.0);
                }
            }
            let low = others.values().fold((own.celsius, own.at_least()), |(c, least), (_, other)| {
                (c.min(other.celsius), least.min(other.at_least()))
            });
            WaterRead { celsius: low.0, reads_high: (low.0 - low.1).max(Kelvin::ZERO), ..*own }
        };
        all.iter().map(lowest).collect()
    }
}

/// A bag in a bath, from when to when.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Immersion {
    /// The bag.
    pub bag: Uuid,
    /// The bath.
    pub bath: Uuid,
    /// In.
    pub from: Timestamp,
    /// Out; still in where it is missing.
    pub until: Option<Timestamp>,
}

impl CookRecord {
    /// Where the cook stands.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.state().stage(), Stage::Eaten);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn state(&self) -> CookState {
        let events: Vec<Event> = self.events.iter().map(|e| e.event.clone()).collect();
        CookState::of(&events)
    }

    /// Where it stands after one more event.
    ///
    /// # Errors
    /// When that cannot have happened, or there are too many already.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let pulled = Event {
    ///     id: uuid::Uuid::from_u128(9),
    ///     happened_at: now,
    ///     recorded_at: now,
    ///     by: "kitchen".into(),
    ///     kind: EventKind::Pulled,
    /// };
    /// assert_eq!(export.cooks[1].with(&pulled).expect("it was dropped").stage(), Stage::Pulled);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn with(&self, event: &Event) -> Result<CookState, Refusal> {
        let ends = matches!(event.kind, EventKind::Deleted | EventKind::Discarded | EventKind::Eaten);
        // What the program notes itself is never refused: a cook that is not told of its clock counts wrong.
        let noted = matches!(event.kind, EventKind::ClockSet { .. });
        if self.counted_events() >= MOST_EVENTS && !ends && !noted {
            return Err(Refusal::TooMany);
        }
        self.state().apply(event)
    }

    /// How many events it has, of the most there can be: the clock set again and again with nothing between counts once.
    pub(crate) fn counted_events(&self) -> usize {
        let set = |e: &EventRecord| matches!(e.event.kind, EventKind::ClockSet { .. });
        self.events.chunk_by(|a, b| set(a) && set(b)).count()
    }

    /// Whether a subject is one of this cook's own.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert!(cook.has(Subject::Cook) && !cook.has(Subject::Bag(uuid::Uuid::nil())));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn has(&self, subject: Subject) -> bool {
        match subject {
            Subject::Cook => true,
            Subject::Piece(id) => self.pieces.iter().any(|p| p.id == id),
            Subject::Bag(id) => self.bags.iter().any(|b| b.id == id),
            Subject::Bath(id) => self.baths.iter().any(|b| b.id == id),
        }
    }

    /// Its bag, where it has just one.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.only_bag(), Some(cook.bags[0].id));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn only_bag(&self) -> Option<Uuid> {
        if let [only] = self.bags.as_slice() { Some(only.id) } else { None }
    }

    /// Its piece, where it has just one.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.only_piece(), Some(cook.pieces[0].id));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn only_piece(&self) -> Option<Uuid> {
        if let [only] = self.pieces.as_slice() { Some(only.id) } else { None }
    }

    /// What an event of a kind is about, of the bag and the piece that were at hand: the bag for what happens to a
    /// bag, the piece for what happens to a piece, and for what concerns an entry what that is about.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let (bag, piece) = (cook.only_bag(), cook.only_piece());
    /// assert_eq!(cook.subject(&EventKind::Dropped, bag, piece), bag.map(Subject::Bag));
    /// assert_eq!(cook.subject(&EventKind::Eaten, bag, piece), piece.map(Subject::Piece));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn subject(&self, kind: &EventKind, bag: Option<Uuid>, piece: Option<Uuid>) -> Option<Subject> {
        match kind {
            EventKind::Started | EventKind::Deleted | EventKind::Restored | EventKind::ClockSet { .. } => {
                Some(Subject::Cook)
            }
            EventKind::Bagged
            | EventKind::Dropped
            | EventKind::Pulled
            | EventKind::Leaked
            | EventKind::Moved { .. }
            | EventKind::Floated { .. } => bag.map(Subject::Bag),
            EventKind::Corrected { event } | EventKind::Undone { event } => self
                .events
                .iter()
                .find(|e| e.event.id == *event)
                .map_or(Some(Subject::Cook), |e| Some(e.subject)),
            _ => piece.map(Subject::Piece),
        }
    }

    /// What it is called, in a reader's units; as it was written down where it has no plan.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let export = read_export(EXPORT, "2026-12-01T12:00:00Z".parse()?)?.export;
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!(export.cooks[0].title_in(american), "Strip steak, 1 1/4 in, 131 °F");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn title_in(&self, units: Units) -> String {
        self.plan_record().map_or_else(|| self.title.clone(), |plan| plan.request.title(units))
    }

    /// The plan that is being cooked: the first one of the first piece.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.plan_record().expect("planned").request.food().id, "beef-strip");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn plan_record(&self) -> Option<&PlanRecord> {
        self.pieces.first()?.plans.first()
    }

    /// Its bags in their baths as the cook stands ([`Self::state`]), one after another: into the first at the drop, into the next at each move, out at the
    /// pull.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let stays = cook.immersions(&cook.state());
    /// assert_eq!((stays.len(), stays[0].bath), (1, cook.bags[0].bath));
    /// assert!(stays[0].until > Some(stays[0].from));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn immersions(&self, state: &CookState) -> Vec<Immersion> {
        let Some(dropped) = state.when(Milestone::Dropped) else { return Vec::new() };
        let pulled = state.when(Milestone::Pulled);
        let mut all = Vec::with_capacity(self.bags.len());
        for bag in &self.bags {
            let (mut bath, mut from) = (bag.bath, dropped);
            for (to, at) in self.moves(state, bag.id) {
                all.push(Immersion { bag: bag.id, bath, from, until: Some(at) });
                (bath, from) = (to, at);
            }
            all.push(Immersion { bag: bag.id, bath, from, until: pulled });
        }
        all
    }

    /// Where a bag was moved to, and when, in order.
    fn moves(&self, state: &CookState, bag: Uuid) -> Vec<(Uuid, Timestamp)> {
        let of_bag =
            |id: Uuid| self.events.iter().any(|e| e.event.id == id && e.subject == Subject::Bag(bag));
        let moved = state.entries.iter().filter_map(|entry| match entry.event.kind {
            EventKind::Moved { bath } if of_bag(entry.event.id) => Some((bath, entry.at)),
            _ => None,
        });
        moved.collect()
    }

    /// What is known of the water around its first bag, on the clock as it is now: of one bath after another, if it
    /// was moved.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # const EXPORT: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/export-v5.json"));
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = read_export(EXPORT, now)?.export;
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let water = cook.water(&cook.state());
    /// assert_eq!((water.settings.len(), water.readings.len()), (1, 0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn water(&self, state: &CookState) -> BathHistory {
        let Some(bag) = self.bags.first() else { return BathHistory::default() };
        let stays: Vec<Immersion> = self.immersions(state).into_iter().filter(|i| i.bag == bag.id).collect();
        let taking = |bath: Uuid, at: Option<Timestamp>| {
            let dips = at.and_then(|at| Some(self.plan_record()?.request.dip(at)));
            BathHistory { dips: dips.into_iter().collect(), ..self.water_of(bath) }
        };
        let first = taking(bag.bath, stays.first().map(|s| s.from));
        // Where it was never dropped it was never moved.
        let all = stays
            .iter()
            .skip(1)
            .fold(first, |around, stay| around.then(stay.from, taking(stay.bath, Some(stay.from))));
        let away = state.away();
        BathHistory { probe: self.probe(), away, ..all }
    }

    /// What a probe in its first piece read at the centre, by time, on the clock as it is now; the one read last, where
    /// there were several. `None` where none was.
    #[must_use]
    pub(crate) fn probe(&self) -> Option<ProbeLog> {
        let piece = self.pieces.first()?.id;
        let struck: Vec<_> = self.baths.iter().flat_map(|b| b.state().struck).collect();
        let all = self.baths.iter().flat_map(|b| &b.instruments).filter(|i| i.piece == Some(piece));
        let with = all.max_by_key(|i| i.readings.last().map(|r| r.at))?;
        let counts = |r: &&ReadingRecord| !struck.contains(&(with.id, r.at));
        let trusted = |r: &ReadingRecord| trust(&with.checks, r.celsius, r.at);
        let counted: Vec<ReadingRecord> = with.readings.iter().filter(counts).cloned().collect();
        let readings: Vec<_> =
            by_minute(&counted).iter().map(|r| (r.at, trusted(r).corrected(r.celsius))).collect();
        let last = with.readings.iter().rev().find(counts)?;
        let checked = trusted(last).error <= Kelvin::ZERO;
        Some(ProbeLog { name: with.name.clone(), readings, may_advance: with.centred && checked })
    }

    /// What is known of the water of one of its baths, on the clock as it is now.
    fn water_of(&self, bath: Uuid) -> BathHistory {
        let Some(bath) = self.baths.iter().find(|b| b.id == bath) else { return BathHistory::default() };
        let set: Vec<(Timestamp, SignedDuration)> = self
            .events
            .iter()
            .filter_map(|e| match e.event.kind {
                EventKind::ClockSet { by_s } => {
                    Some((e.event.happened_at, SignedDuration::try_from_secs_f64(by_s).ok()?))
                }
                _ => None,
            })
            .collect();
        let on_this_clock = |at: Timestamp| {
            set.iter().fold(at, |at, (then, by)| {
                // Written down before the clock was set, by the clock as it was.
                let before = then.checked_sub(*by).is_ok_and(|old| at <= old);
                if before { at.checked_add(*by).unwrap_or(at) } else { at }
            })
        };
        let water: Vec<WaterEvent> = bath
            .water
            .iter()
            .map(|e| WaterEvent { happened_at: on_this_clock(e.happened_at), ..e.clone() })
            .collect();
        let altitude_m = self.plan_record().map_or(0.0, |p| p.request.rules.altitude_m);
        let state = bath.vessel.as_ref().map(|v| WaterState::of(v.vessel.cover, &water));
        let falls = bath.vessel.as_ref().zip(state.as_ref());
        let mut history = BathHistory {
            settings: bath.settings.iter().map(|s| (on_this_clock(s.at), s.celsius)).collect(),
            readings: bath
                .reads_by_minute()
                .into_iter()
                .map(|r| WaterRead { at: on_this_clock(r.at), ..r })
                .collect(),
            still: bath.vessel.as_ref().is_some_and(|v| v.vessel.water == Water::Still),
            falls: falls.map(|(v, state)| Falls::of(&v.vessel, state, usual_air(altitude_m))),
            ..BathHistory::default()
        };
        history.settings.sort_by_key(|s| s.0);
        history.readings.sort_by_key(|r| r.at);
        history
    }
}

/// The identifier of what an older version had no record of (a cook's bag, its bath, what its readings were taken
/// with): the same wherever it is worked out, so that a file and a database of the same cook meet.
///
/// ```
/// use hold_steady_core::book::derived_id;
/// let cook = uuid::Uuid::from_u128(1);
/// assert_eq!(derived_id(cook, "bag"), derived_id(cook, "bag"));
/// assert_ne!(derived_id(cook, "bag"), derived_id(cook, "bath"));
/// ```
#[must_use]
pub fn derived_id(of: Uuid, what: &str) -> Uuid {
    Uuid::new_v5(&of, what.as_bytes())
}
