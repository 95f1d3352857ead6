//! What a kitchen says of itself in a file, and what was changed of it.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::bath::{Check, KeptVessel, Thermometer};
use crate::food::Pantry;
use crate::keep::{Storage, StorageRecord};
use crate::plan::{Guest, Habits, KitchenRules, Person};
use crate::units::Celsius;
use crate::who::By;

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
    /// Who of its people left; from version 8 on.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub left: Vec<Uuid>,
    /// Its devices, without their tokens; from version 8 on. An import does not take them over: one without its token cannot
    /// report.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub devices: Vec<DeviceRecord>,
    /// Whom it cooks for; from version 9 on. Those that are new here are brought in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub guests: Vec<Guest>,
    /// Its refrigerators, freezers and the room, with what they were read with; from version 9 on. Those that are new here are
    /// brought in. Their readings stand with those of baths.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub storages: Vec<StorageRecord>,
    /// Who changed what of it, and when; from version 4 on, in a list of its own from version 8 on. An import does not take
    /// it over.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub history: Vec<ChangeRecord>,
}

/// A device that reports readings, as an export says it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DeviceRecord {
    /// Which.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// The thermometer it is.
    pub thermometer: Uuid,
    /// When it was made known.
    pub created_at: Timestamp,
    /// By whom.
    pub created_by: By,
    /// From when on its token counts no more.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub revoked_at: Option<Timestamp>,
}

/// One change of what a kitchen has settled or keeps of its own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ChangeRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When.
    pub at: Timestamp,
    /// By whom.
    pub by: By,
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
    /// A guest is kept, or is known otherwise. What is said of them stands with the guests alone, where it can be removed.
    GuestKept {
        /// Who.
        id: Uuid,
        /// By number.
        number: u32,
    },
    /// A guest was removed for good.
    GuestRemoved {
        /// Who.
        id: Uuid,
        /// By number.
        number: u32,
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
    /// A refrigerator, a freezer or the room is known, or has another name.
    StorageKept {
        /// It.
        storage: Storage,
    },
    /// One was taken off the list, or put back.
    StorageRemoved {
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
