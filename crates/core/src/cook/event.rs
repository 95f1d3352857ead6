//! What happens in a cook.

use crate::units::{Celsius, Minutes};
use crate::who::By;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::Milestone;
use crate::limits::LONGEST_NAME;
use crate::sear::ChosenFinish;

/// What an event is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum About {
    /// The whole cook.
    Cook,
    /// A bag.
    Bag,
    /// The pieces in it.
    Piece,
    /// What the entry it names is about.
    Entry,
}

/// How often it may stand in a cook.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Often {
    /// Once.
    Once,
    /// Again and again: each counts.
    Each,
    /// Again: the last one written down stands.
    Last,
}

/// What follows from the kind of an event, whatever it holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Traits {
    /// The word in records.
    pub id: &'static str,
    /// What it is called at the beginning of a sentence that refuses it.
    pub name: &'static str,
    /// What it is about.
    pub about: About,
    /// How often it may stand.
    pub often: Often,
    /// The milestone it is: those come in an order, and their times can be corrected.
    pub milestone: Option<Milestone>,
    /// Whether it can be undone.
    pub undone: bool,
}

/// Every kind of event in one list: what it holds, its [`Traits`], and within what its values must lie.
macro_rules! events {
    ($(
        $(#[$doc:meta])*
        $kind:ident $({ $( $(#[$field_doc:meta])* $field:ident : $type:ty ),+ $(,)? })? $(( $held:ty ))?
            = $id:literal, $name:expr, $about:ident, $often:ident $(=> $milestone:ident)? $(! $stays:ident)?
            $(where $range:expr, $otherwise:literal)? ;
    )+) => {
        /// What happened.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[serde(tag = "kind", rename_all = "kebab-case")]
        pub enum EventKind {
            $(
                $(#[$doc])*
                $kind $({ $( $(#[$field_doc])* $field: $type ),+ })? $(( $held ))?
            ),+
        }

        impl EventKind {
            /// What follows from its kind.
            ///
            /// ```
            /// use hold_steady_core::cook::{About, EventKind, Often};
            /// let floated = EventKind::Floated { afloat_min: hold_steady_core::units::Minutes::new(5.0) }.traits();
            /// assert_eq!((floated.id, floated.about, floated.often), ("floated", About::Bag, Often::Each));
            /// ```
            #[must_use]
            pub const fn traits(&self) -> Traits {
                match self {
                    $( Self::$kind { .. } => Traits {
                        id: $id,
                        name: $name,
                        about: About::$about,
                        often: Often::$often,
                        milestone: events!(@milestone $($milestone)?),
                        undone: events!(@undone $($stays)?),
                    } ),+
                }
            }

            /// Whether its own values are within what there can be.
            ///
            /// # Errors
            /// The range, in a sentence.
            ///
            /// ```
            /// use hold_steady_core::cook::EventKind;
            /// assert!(EventKind::Salted { percent: 1.0 }.check().is_ok());
            /// assert_eq!(EventKind::Salted { percent: 40.0 }.check(), Err("Salt is from 0 to 10 per cent of the weight."));
            /// ```
            pub fn check(&self) -> Result<(), &'static str> {
                match self {
                    $( Self::$kind { .. } => {
                        $(
                            let within: fn(&Self) -> bool = $range;
                            if !within(self) {
                                return Err($otherwise);
                            }
                        )?
                        Ok(())
                    } ),+
                }
            }
        }
    };
    (@milestone) => { None };
    (@milestone $milestone:ident) => { Some(Milestone::$milestone) };
    (@undone) => { true };
    (@undone stays) => { false };
}

events! {
    /// The plan was taken up.
    Started = "started", "That", Cook, Once ! stays;
    /// It is planned otherwise from now on: when it is wanted, for whom, how warm. What the piece is stays.
    Replanned {
        /// The plan that stands from now on, one of the piece's.
        plan: Uuid,
        /// The correction of the piece it goes by, where there was one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        of: Option<Uuid>,
    } = "replanned", "A new plan", Piece, Last;
    /// The piece is another than was written down: it was so from the beginning.
    PieceCorrected {
        /// The plan of the piece as it is.
        plan: Uuid,
    } = "piece-corrected", "Correcting the piece", Piece, Last;
    /// Salted, per cent of its weight.
    Salted {
        /// Per cent.
        percent: f64,
    } = "salted", "Salting", Piece, Once
        where |e| matches!(e, Self::Salted { percent } if (0.0..=MOST_SALT_PERCENT).contains(percent)),
        "Salt is from 0 to 10 per cent of the weight.";
    /// Bagged, or filled into its jar.
    Bagged = "bagged", "Bagging", Bag, Once;
    /// Into the bath.
    Dropped = "dropped", Milestone::Dropped.name(), Bag, Once => Dropped;
    /// Found afloat, and sunk again.
    Floated {
        /// For how long at most, minutes.
        afloat_min: Minutes,
    } = "floated", "Floating", Bag, Each
        where |e| matches!(e, Self::Floated { afloat_min } if (0.0..=f64::MAX).contains(&afloat_min.value())),
        "It cannot have been afloat for longer than it was in the bath.";
    /// Its bag was moved into another bath.
    Moved {
        /// Which.
        bath: Uuid,
    } = "moved", "A move to another bath", Bag, Each;
    /// Its bag leaked.
    Leaked = "leaked", "The leak", Bag, Once;
    /// Out of the bath.
    Pulled = "pulled", Milestone::Pulled.name(), Bag, Once => Pulled;
    /// Patted dry.
    Dried = "dried", Milestone::Dried.name(), Piece, Once => Dried;
    /// Seared, seconds on each face in turn.
    Seared {
        /// Seconds, one for each turn.
        faces_s: Vec<f64>,
        /// How much of it was, where somebody said.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        covered: Option<Covered>,
    } = "seared", Milestone::Seared.name(), Piece, Once => Seared
        where |e| matches!(e, Self::Seared { faces_s, .. } if (1..=MOST_TURNS).contains(&faces_s.len())
            && faces_s.iter().all(|s| (1.0..=LONGEST_TURN_S).contains(s))),
        "Each turn of the sear takes from 1 to 1800 seconds, and there are 1 to 60 turns.";
    /// How it is to be finished was chosen. The last one stands.
    FinishChosen(Box<ChosenFinish>) = "finish-chosen", "Choosing a finish", Piece, Last
        where |e| matches!(e, Self::FinishChosen(chosen) if chosen.is_sound()),
        "A finish has 1 to 12 pieces, 1 to 12 turns a face, 1 to 8 edges, a pause of 2 hours, a face of 30 minutes, an edge of 2 minutes and a rest of an hour at most.";
    /// On the plate.
    Eaten = "eaten", Milestone::Eaten.name(), Piece, Once => Eaten;
    /// Read at the core, whatever for.
    #[serde(alias = "hot-checked")]
    CoreRead {
        /// °C.
        celsius: Celsius,
        /// What for.
        #[serde(default)]
        purpose: Purpose,
    } = "core-read", "A reading of its core", Piece, Each
        where |e| matches!(e, Self::CoreRead { celsius, .. } if CORE_C.contains(&celsius.value())),
        "A core reads from -40 to 120 °C.";
    /// Cooled to 5 °C, by the two-stage rule.
    Chilled = "chilled", Milestone::Chilled.name(), Piece, Once => Chilled;
    /// Put away cold, or elsewhere than before: into a refrigerator, a freezer, or out of it again.
    Kept(Kept) = "kept", "Putting it away", Piece, Each
        where |e| matches!(e, Self::Kept(kept) if kept.is_sound()),
        "The name of where it is kept has from 1 to 120 characters.";
    /// Thrown away.
    Discarded = "discarded", Milestone::Discarded.name(), Piece, Once => Discarded;
    /// How it came out. The last one stands.
    Rated(Rating) = "rated", "A rating", Piece, Last
        where |e| matches!(e, Self::Rated(rating) if rating.is_sound()),
        "Each mark is from 1 to 5 (the centre from −2 to 2), and a text has at most 4000 bytes.";
    /// An earlier event happened at another time.
    Corrected {
        /// Which.
        event: Uuid,
    } = "corrected", "That", Entry, Last ! stays;
    /// An earlier event never happened (or an earlier undoing is undone).
    Undone {
        /// Which.
        event: Uuid,
    } = "undone", "That", Entry, Each;
    /// The time of an earlier event could be meant in two ways, as in the hour a clock shows twice: it may as well have
    /// happened then. Until it is corrected, what is worse counts.
    Doubted {
        /// Which.
        event: Uuid,
        /// When else.
        or_at: Timestamp,
    } = "doubted", "That", Entry, Last ! stays;
    /// A pull was undone long after it: where the piece was in between.
    Meanwhile {
        /// The undoing.
        event: Uuid,
        /// In the bath all the while; else out of it.
        in_bath: bool,
    } = "meanwhile", "Where it was meanwhile", Entry, Last ! stays;
    /// Somebody set the clock that everything is written down by. What was written down before it lies by so
    /// much elsewhere on the clock as it is now.
    ClockSet {
        /// Seconds, forward or back.
        by_s: f64,
    } = "clock-set", "Setting the clock", Cook, Each ! stays
        where |e| matches!(e, Self::ClockSet { by_s } if by_s.abs() <= FURTHEST_SET_S),
        "A clock is set by at most a hundred years.";
    /// The cook was taken off the lists.
    Deleted = "deleted", "That", Cook, Each ! stays;
    /// And put back.
    Restored = "restored", "That", Cook, Each ! stays;
}

/// Longest sear turn that is taken, seconds, and the most turns.
const LONGEST_TURN_S: f64 = 1800.0;
const MOST_TURNS: usize = 60;

/// Most salt that is taken down, per cent.
const MOST_SALT_PERCENT: f64 = 10.0;

/// Furthest a clock is set, seconds: from 1970 to today and more.
const FURTHEST_SET_S: f64 = 100.0 * 366.0 * 86_400.0;

/// What a core can read, °C: frozen, or held hot.
const CORE_C: std::ops::RangeInclusive<f64> = -40.0..=120.0;

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
        self.traits().milestone
    }

    /// The word in records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::EventKind::Pulled.id(), "pulled");
    /// ```
    #[must_use]
    pub const fn id(&self) -> &'static str {
        self.traits().id
    }

    /// Whether its time can be corrected.
    ///
    /// ```
    /// use hold_steady_core::cook::EventKind;
    /// assert!(EventKind::Pulled.may_be_corrected() && !EventKind::Leaked.may_be_corrected());
    /// ```
    #[must_use]
    pub const fn may_be_corrected(&self) -> bool {
        self.milestone().is_some()
    }

    /// Whether it was only written down by the program, and is no act of a cook's.
    #[must_use]
    pub(crate) const fn is_noted(&self) -> bool {
        matches!(self, Self::ClockSet { .. })
    }
}

/// Where a piece is kept cold.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Kept {
    /// In which refrigerator or freezer; none where nobody said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub storage: Option<KeptIn>,
    /// It is frozen from then on; else it thaws, where it was.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub frozen: bool,
}

/// A refrigerator or a freezer, named as it was then.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct KeptIn {
    /// Which.
    pub id: Uuid,
    /// What it was called.
    pub name: String,
}

impl Kept {
    fn is_sound(&self) -> bool {
        let named = |k: &KeptIn| (1..=LONGEST_NAME).contains(&k.name.trim().chars().count());
        self.storage.as_ref().is_none_or(named)
    }
}

/// What a core was read for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Purpose {
    /// It is held hot: from one reading to the next it is taken to be so.
    #[default]
    HotHold,
    /// It is chilled.
    Chill,
    /// It is finished.
    Finish,
    /// To see how far it is.
    Check,
}

impl Purpose {
    /// After which milestone it is read, and before which ends.
    pub(super) const fn between(self) -> (Milestone, &'static [Milestone]) {
        use Milestone::{Chilled, Discarded, Dropped, Eaten, Pulled};
        match self {
            Self::HotHold => (Pulled, &[Chilled, Eaten, Discarded]),
            Self::Chill | Self::Finish => (Pulled, &[Eaten, Discarded]),
            Self::Check => (Dropped, &[Eaten, Discarded]),
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
    pub by: By,
    /// What.
    #[serde(flatten)]
    pub kind: EventKind,
}
