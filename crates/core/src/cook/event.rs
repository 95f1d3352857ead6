//! What happens in a cook.

use crate::units::{Celsius, Minutes};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::Milestone;
use crate::sear::ChosenFinish;

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum EventKind {
    /// The plan was taken up.
    Started,
    /// Salted, per cent of its weight.
    Salted {
        /// Per cent.
        percent: f64,
    },
    /// Bagged, or filled into its jar.
    Bagged,
    /// Into the bath.
    Dropped,
    /// Found afloat, and sunk again.
    Floated {
        /// For how long at most, minutes.
        afloat_min: Minutes,
    },
    /// Its bag was moved into another bath.
    Moved {
        /// Which.
        bath: Uuid,
    },
    /// Its bag leaked.
    Leaked,
    /// Out of the bath.
    Pulled,
    /// Patted dry.
    Dried,
    /// Seared, seconds on each face in turn.
    Seared {
        /// Seconds, one for each turn.
        faces_s: Vec<f64>,
        /// How much of it was, where somebody said.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        covered: Option<Covered>,
    },
    /// How it is to be finished was chosen. The last one stands.
    FinishChosen(Box<ChosenFinish>),
    /// On the plate.
    Eaten,
    /// Read while it was held hot, at the core.
    HotChecked {
        /// °C.
        celsius: Celsius,
    },
    /// Cooled to 5 °C, by the two-stage rule.
    Chilled,
    /// Thrown away.
    Discarded,
    /// How it came out. The last one stands.
    Rated(Rating),
    /// An earlier event happened at another time.
    Corrected {
        /// Which.
        event: Uuid,
    },
    /// An earlier event never happened (or an earlier undoing is undone).
    Undone {
        /// Which.
        event: Uuid,
    },
    /// The time of an earlier event could be meant in two ways, as in the hour a clock shows twice: it may as well have
    /// happened then. Until it is corrected, what is worse counts.
    Doubted {
        /// Which.
        event: Uuid,
        /// When else.
        or_at: Timestamp,
    },
    /// A pull was undone long after it: where the piece was in between.
    Meanwhile {
        /// The undoing.
        event: Uuid,
        /// In the bath all the while; else out of it.
        in_bath: bool,
    },
    /// Somebody set the clock that everything is written down by. What was written down before it lies by so
    /// much elsewhere on the clock as it is now.
    ClockSet {
        /// Seconds, forward or back.
        by_s: f64,
    },
    /// The cook was taken off the lists.
    Deleted,
    /// And put back.
    Restored,
}

impl EventKind {
    /// The milestone it is, if it is one.
    ///
    /// ```
    /// use hold_steady_core::cook::{EventKind, Milestone};
    /// assert_eq!(EventKind::Pulled.milestone(), Some(Milestone::Pulled));
    /// assert_eq!(EventKind::Bagged.milestone(), None);
    /// ```
    #[must_use]
    pub const fn milestone(&self) -> Option<Milestone> {
        Some(match self {
            Self::Dropped => Milestone::Dropped,
            Self::Pulled => Milestone::Pulled,
            Self::Dried => Milestone::Dried,
            Self::Seared { .. } => Milestone::Seared,
            Self::Chilled => Milestone::Chilled,
            Self::Eaten => Milestone::Eaten,
            Self::Discarded => Milestone::Discarded,
            _ => return None,
        })
    }

    /// The word in records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::EventKind::Pulled.id(), "pulled");
    /// ```
    #[must_use]
    pub const fn id(&self) -> &'static str {
        match self {
            Self::Started => "started",
            Self::Salted { .. } => "salted",
            Self::Bagged => "bagged",
            Self::Dropped => "dropped",
            Self::Floated { .. } => "floated",
            Self::Moved { .. } => "moved",
            Self::Leaked => "leaked",
            Self::Pulled => "pulled",
            Self::Dried => "dried",
            Self::Seared { .. } => "seared",
            Self::FinishChosen(_) => "finish-chosen",
            Self::Eaten => "eaten",
            Self::HotChecked { .. } => "hot-checked",
            Self::Chilled => "chilled",
            Self::Discarded => "discarded",
            Self::Rated(_) => "rated",
            Self::Corrected { .. } => "corrected",
            Self::Undone { .. } => "undone",
            Self::Doubted { .. } => "doubted",
            Self::Meanwhile { .. } => "meanwhile",
            Self::ClockSet { .. } => "clock-set",
            Self::Deleted => "deleted",
            Self::Restored => "restored",
        }
    }
}

/// How much of a piece was seared.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Covered {
    /// Every face and every edge.
    All,
    /// The faces, not the edges.
    Faces,
    /// Less than that.
    Part,
}

impl Covered {
    /// The one with this word.
    ///
    /// ```
    /// use hold_steady_core::cook::Covered;
    /// assert_eq!((Covered::from_id("all"), Covered::from_id("most")), (Some(Covered::All), None));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        match id {
            "all" => Some(Self::All),
            "faces" => Some(Self::Faces),
            "part" => Some(Self::Part),
            _ => None,
        }
    }

    /// In a few words.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::Covered::Part.words(), "in part");
    /// ```
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::All => "every face and edge",
            Self::Faces => "the faces, not the edges",
            Self::Part => "in part",
        }
    }
}

/// How a piece came out, in the cook's judgement.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Rating {
    /// Centre against what was wanted: −2 much less done, 0 as wanted, 2 much more done.
    pub centre: Option<i8>,
    /// Band under the crust: 1 none, 5 thick.
    pub band: Option<u8>,
    /// Tenderness: 1 tough, 5 tender.
    pub tenderness: Option<u8>,
    /// Crust: 1 none, 5 dark and crisp.
    pub crust: Option<u8>,
    /// A note.
    #[serde(default)]
    pub note: String,
    /// What to do differently next time.
    #[serde(default)]
    pub next_time: String,
}

impl Rating {
    /// Whether every mark is on its scale and the texts are of bearable length.
    ///
    /// ```
    /// use hold_steady_core::cook::Rating;
    /// assert!(Rating { centre: Some(-1), ..Rating::default() }.is_sound());
    /// assert!(!Rating { crust: Some(9), ..Rating::default() }.is_sound());
    /// ```
    #[must_use]
    pub fn is_sound(&self) -> bool {
        let on_five = |m: Option<u8>| m.is_none_or(|m| (1..=5).contains(&m));
        self.centre.is_none_or(|c| (-2..=2).contains(&c))
            && [self.band, self.tenderness, self.crust].into_iter().all(on_five)
            && self.note.len() <= LONGEST_TEXT
            && self.next_time.len() <= LONGEST_TEXT
    }
}

/// Longest note, bytes.
pub const LONGEST_TEXT: usize = 4000;

/// One event of a cook.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Event {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it happened, by the cook's word.
    pub happened_at: Timestamp,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// By whom, as far as is known.
    pub by: String,
    /// What.
    #[serde(flatten)]
    pub kind: EventKind,
}
