//! What happens to a bath’s water, and what cannot.

use std::collections::{HashMap, HashSet};

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{Cover, Vessel};
use crate::Unfit;
use crate::units::{Celsius, Minutes};
use crate::who::By;

/// What was done to the water of a bath.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case", rename_all_fields = "snake_case")]
pub enum WaterEventKind {
    /// It was filled.
    Filled {
        /// l.
        litres: f64,
    },
    /// It is to be kept so warm, by hand: where nothing heats it. No setting and no reading.
    Aimed {
        /// °C.
        celsius: Celsius,
    },
    /// Water was added.
    Added {
        /// l.
        litres: f64,
        /// °C.
        celsius: Celsius,
    },
    /// Water was taken off.
    TakenOff {
        /// l.
        litres: f64,
    },
    /// Something lies over it from now on.
    Covered {
        /// What.
        cover: Cover,
    },
    /// It was open for so long.
    Opened {
        /// Minutes.
        min: Minutes,
    },
    /// Its heater was off for so long, up to then.
    Off {
        /// Minutes.
        min: Minutes,
    },
    /// This machine was away for so long, up to then, and nobody said what the water did meanwhile. Until somebody says that it
    /// was on (this is undone then), or when it was off, it counts as off.
    Unwatched {
        /// Minutes.
        min: Minutes,
    },
    /// A reading was mistyped, and counts no more. It stays in the record.
    Struck {
        /// Of which instrument.
        instrument: Uuid,
        /// When it was read.
        at: Timestamp,
    },
    /// Something that was done was done at another time: then.
    Corrected {
        /// Which.
        event: Uuid,
    },
    /// Something that was done never was (or an earlier undoing is undone).
    Undone {
        /// Which.
        event: Uuid,
    },
    /// It was emptied: the run is over.
    Emptied,
}

/// Longest a heater is said to have been off, minutes: two days.
const MOST_OFF_MIN: f64 = 2880.0;

/// Longest a machine is away, minutes: a hundred years. Whatever it was is written down, and comes back from a file.
const MOST_UNWATCHED_MIN: f64 = 100.0 * 366.0 * 1440.0;

impl WaterEventKind {
    /// The word in records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::bath::WaterEventKind::Emptied.id(), "emptied");
    /// ```
    #[must_use]
    pub const fn id(&self) -> &'static str {
        match self {
            Self::Filled { .. } => "filled",
            Self::Aimed { .. } => "aimed",
            Self::Added { .. } => "added",
            Self::TakenOff { .. } => "taken-off",
            Self::Covered { .. } => "covered",
            Self::Opened { .. } => "opened",
            Self::Off { .. } => "off",
            Self::Unwatched { .. } => "unwatched",
            Self::Struck { .. } => "struck",
            Self::Corrected { .. } => "corrected",
            Self::Undone { .. } => "undone",
            Self::Emptied => "emptied",
        }
    }

    /// Whether it can have happened to water at all.
    ///
    /// # Errors
    /// What is allowed.
    ///
    /// ```
    /// use hold_steady_core::bath::WaterEventKind;
    /// assert!(WaterEventKind::TakenOff { litres: 0.5 }.check().is_ok());
    /// assert!(WaterEventKind::TakenOff { litres: -1.0 }.check().is_err());
    /// ```
    pub fn check(&self) -> Result<(), Unfit> {
        let litres = |l: f64| {
            if (0.01..=2000.0).contains(&l) {
                Ok(())
            } else {
                Err(format!("{l} l is not from 0.01 to 2000").into())
            }
        };
        let water = |c: Celsius| {
            let c = c.value();
            if (0.0..=100.0).contains(&c) {
                Ok(())
            } else {
                Err(format!("{c} °C is not from 0 to 100").into())
            }
        };
        match self {
            Self::Filled { litres: l } | Self::TakenOff { litres: l } => litres(*l),
            Self::Aimed { celsius } => water(*celsius),
            Self::Added { litres: l, celsius } => litres(*l).and(water(*celsius)),
            Self::Opened { min } if !(0.0..=600.0).contains(&min.value()) => {
                Err(format!("{} minutes is not from 0 to 600", min.value()).into())
            }
            Self::Off { min } if !(0.0..=MOST_OFF_MIN).contains(&min.value()) => {
                Err(format!("{} minutes is not from 0 to {MOST_OFF_MIN}", min.value()).into())
            }
            Self::Unwatched { min } if !(0.0..=MOST_UNWATCHED_MIN).contains(&min.value()) => {
                Err(format!("{} minutes is not from 0 to {MOST_UNWATCHED_MIN}", min.value()).into())
            }
            Self::Covered { .. }
            | Self::Opened { .. }
            | Self::Off { .. }
            | Self::Unwatched { .. }
            | Self::Struck { .. }
            | Self::Corrected { .. }
            | Self::Undone { .. }
            | Self::Emptied => Ok(()),
        }
    }
}

/// Something that was done to the water of a bath.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct WaterEvent {
    /// Which.
    pub id: Uuid,
    /// When, by the cook's word.
    pub happened_at: Timestamp,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// By whom.
    pub by: By,
    /// What.
    #[serde(flatten)]
    pub kind: WaterEventKind,
}

/// What was done to water, as it stands: without what was undone, at the times it was corrected to, in the order it happened.
///
/// ```
/// use hold_steady_core::bath::{WaterEvent, WaterEventKind, as_it_stands};
/// use uuid::Uuid;
/// let done = |n, minute: i64, kind| WaterEvent {
///     id: Uuid::from_u128(n),
///     happened_at: jiff::Timestamp::from_second(minute * 60).expect("near"),
///     recorded_at: jiff::Timestamp::from_second(n as i64 * 60).expect("near"),
///     by: "Ida".into(),
///     kind,
/// };
/// let id = Uuid::from_u128(2);
/// let off = [done(1, 0, WaterEventKind::Filled { litres: 12.0 }), done(2, 5, WaterEventKind::TakenOff { litres: 2.0 })];
/// let corrected = [off.to_vec(), vec![done(3, 4, WaterEventKind::Corrected { event: id })]].concat();
/// assert_eq!(as_it_stands(&corrected)[1].happened_at.as_second(), 240);
/// let undone = [off.to_vec(), vec![done(3, 6, WaterEventKind::Undone { event: id })]].concat();
/// assert_eq!(as_it_stands(&undone).len(), 1);
/// ```
#[must_use]
pub fn as_it_stands(events: &[WaterEvent]) -> Vec<WaterEvent> {
    // The last word counts: what undoes an undoing was written down after it.
    let mut void: HashSet<Uuid> = HashSet::new();
    for e in events.iter().rev() {
        if let WaterEventKind::Undone { event } = e.kind
            && !void.contains(&e.id)
        {
            void.insert(event);
        }
    }
    let mut at: HashMap<Uuid, Timestamp> = HashMap::new();
    for e in events.iter().filter(|e| !void.contains(&e.id)) {
        if let WaterEventKind::Corrected { event } = e.kind {
            at.insert(event, e.happened_at);
        }
    }
    let about_another = |e: &&WaterEvent| {
        matches!(e.kind, WaterEventKind::Corrected { .. } | WaterEventKind::Undone { .. })
            || void.contains(&e.id)
    };
    let mut all: Vec<WaterEvent> = events
        .iter()
        .filter(|e| !about_another(e))
        .map(|e| WaterEvent { happened_at: at.get(&e.id).copied().unwrap_or(e.happened_at), ..e.clone() })
        .collect();
    all.sort_by_key(|e| (e.happened_at, e.recorded_at));
    all
}

/// Why something cannot have been done to water.
#[derive(Debug, Clone, PartialEq)]
pub enum WaterRefusal {
    /// It is about something that was not done to this water, or not to be undone or corrected.
    Unknown,
    /// It was undone already.
    Undone,
    /// It lies before the water was filled in.
    BeforeFilled(Timestamp),
    /// It lies after the run ended.
    AfterEmptied(Timestamp),
    /// More was taken off than there was.
    TakesMore {
        /// l there were.
        there: f64,
        /// l taken off.
        off: f64,
    },
    /// There was more in it than the vessel holds.
    Overflows {
        /// l in it.
        there: f64,
        /// l it holds to its rim.
        holds: f64,
    },
}

/// Whether something can have been done to the water of a vessel beside what was done to it.
///
/// # Errors
/// Why not. Of a run whose record could not have happened already, only what it is about is looked at.
///
/// ```
/// use hold_steady_core::bath::{WaterEvent, WaterEventKind, WaterRefusal, can_be_done};
/// use uuid::Uuid;
/// let done = |n, kind| WaterEvent {
///     id: Uuid::from_u128(n),
///     happened_at: jiff::Timestamp::from_second(n as i64 * 60).expect("near"),
///     recorded_at: jiff::Timestamp::from_second(n as i64 * 60).expect("near"),
///     by: "Ida".into(),
///     kind,
/// };
/// let filled = [done(1, WaterEventKind::Filled { litres: 13.0 })];
/// let refused = can_be_done(None, &filled, &done(2, WaterEventKind::TakenOff { litres: 500.0 }));
/// assert_eq!(refused, Err(WaterRefusal::TakesMore { there: 13.0, off: 500.0 }));
/// ```
pub fn can_be_done(
    vessel: Option<&Vessel>,
    before: &[WaterEvent],
    new: &WaterEvent,
) -> Result<(), WaterRefusal> {
    if let WaterEventKind::Undone { event } | WaterEventKind::Corrected { event } = new.kind {
        // When it was filled or emptied is when the run was.
        let known = before.iter().find(|e| e.id == event).ok_or(WaterRefusal::Unknown)?;
        if matches!(known.kind, WaterEventKind::Filled { .. } | WaterEventKind::Emptied) {
            return Err(WaterRefusal::Unknown);
        }
        let stands = |e: &WaterEvent| as_it_stands(before).iter().any(|s| s.id == e.id);
        let undoing = matches!(known.kind, WaterEventKind::Undone { .. });
        if !undoing && !stands(known) {
            return Err(WaterRefusal::Undone);
        }
    }
    if happens(vessel, before).is_err() {
        return Ok(());
    }
    happens(vessel, &[before, std::slice::from_ref(new)].concat())
}

/// Whether all of it can have happened, in its order.
pub(super) fn happens(vessel: Option<&Vessel>, events: &[WaterEvent]) -> Result<(), WaterRefusal> {
    const NOTHING: f64 = 1e-6;
    const A_SECOND: SignedDuration = SignedDuration::from_secs(1);
    let holds = vessel.map_or(f64::INFINITY, |v| v.litres(v.depth_mm));
    let all = as_it_stands(events);
    let of = |kind: fn(&WaterEventKind) -> bool| all.iter().find(|e| kind(&e.kind)).map(|e| e.happened_at);
    let filled = of(|k| matches!(k, WaterEventKind::Filled { .. }));
    let emptied = of(|k| *k == WaterEventKind::Emptied);
    let mut there = 0.0;
    for e in &all {
        let begun = match e.kind {
            // Minutes are a number, and give an instant back to a second or so.
            WaterEventKind::Off { min } => {
                let begun = crate::units::moved(e.happened_at, -min);
                filled.filter(|from| from.duration_since(begun).abs() < A_SECOND).unwrap_or(begun)
            }
            // Away from before it was filled, it was nobody's then.
            _ => e.happened_at,
        };
        if let Some(from) = filled.filter(|from| begun < *from) {
            return Err(WaterRefusal::BeforeFilled(from));
        }
        let reading = matches!(e.kind, WaterEventKind::Struck { .. });
        if let Some(end) = emptied.filter(|end| e.happened_at > *end && !reading) {
            return Err(WaterRefusal::AfterEmptied(end));
        }
        match e.kind {
            WaterEventKind::Filled { litres } => there = litres,
            WaterEventKind::Added { litres, .. } => there += litres,
            WaterEventKind::TakenOff { litres } if litres > there + NOTHING => {
                return Err(WaterRefusal::TakesMore { there, off: litres });
            }
            WaterEventKind::TakenOff { litres } => there -= litres,
            _ => {}
        }
        if there > holds + NOTHING {
            return Err(WaterRefusal::Overflows { there, holds });
        }
    }
    Ok(())
}
