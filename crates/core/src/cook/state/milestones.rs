//! What happened when, and what was said of it: read off the events that stand.

use jiff::Timestamp;
use uuid::Uuid;

use super::CookState;
use crate::cook::{Covered, EventKind, Kept, Milestone, Purpose, Rating, Stage};
use crate::keep::Frozen;
use crate::sear::ChosenFinish;
use crate::units::{Celsius, Minutes};

impl CookState {
    /// When a milestone was reached, if it was.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let state = cook.state();
    /// assert!(state.when(Milestone::Dropped) < state.when(Milestone::Pulled));
    /// ```
    #[must_use]
    pub fn when(&self, milestone: Milestone) -> Option<Timestamp> {
        self.entries.iter().find(|s| s.event.kind.milestone() == Some(milestone)).map(|s| s.at)
    }

    /// When something of a kind, by the word of records, happened.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let state = cook.state();
    /// assert_eq!(state.when_done("pulled"), state.when(Milestone::Pulled));
    /// assert_eq!(state.when_done("salted"), None);
    /// ```
    #[must_use]
    pub fn when_done(&self, id: &str) -> Option<Timestamp> {
        self.entries.iter().find(|s| s.event.kind.id() == id).map(|s| s.at)
    }

    /// How far it has come.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(export.cooks[1].state().stage(), Stage::InBath);
    /// ```
    #[must_use]
    pub fn stage(&self) -> Stage {
        let last = Milestone::ALL.into_iter().rev().find(|m| self.when(*m).is_some());
        last.map_or(Stage::Waiting, Milestone::stage)
    }

    /// When it ended: eaten, chilled or thrown away, whichever was first.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.state().ended(), cook.state().when(Milestone::Eaten));
    /// assert_eq!(export.cooks[1].state().ended(), None);
    /// ```
    #[must_use]
    pub fn ended(&self) -> Option<Timestamp> {
        [Milestone::Chilled, Milestone::Eaten, Milestone::Discarded]
            .into_iter()
            .filter_map(|m| self.when(m))
            .min()
    }

    /// The rating that stands.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert!(cook.state().rating().is_some_and(Rating::is_sound));
    /// ```
    #[must_use]
    pub fn rating(&self) -> Option<&Rating> {
        self.said_last(|kind| match kind {
            EventKind::Rated(rating) => Some(rating),
            _ => None,
        })
    }

    /// What was said last of something that may be said again.
    fn said_last<T>(&self, of: impl Fn(&EventKind) -> Option<&T>) -> Option<&T> {
        let said = self.entries.iter().filter_map(|s| Some((s, of(&s.event.kind)?)));
        said.max_by_key(|(s, _)| (s.event.recorded_at, s.event.id)).map(|(_, what)| what)
    }

    /// Seconds a face, if it was seared.
    #[must_use]
    pub(crate) fn sear_s(&self) -> Option<&[f64]> {
        self.entries.iter().find_map(|s| match &s.event.kind {
            EventKind::Seared { faces_s, .. } => Some(faces_s.as_slice()),
            _ => None,
        })
    }

    /// How much of it was seared, where somebody said.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::CookState::default().covered(), None);
    /// ```
    #[must_use]
    pub fn covered(&self) -> Option<Covered> {
        self.entries.iter().find_map(|s| match s.event.kind {
            EventKind::Seared { covered, .. } => covered,
            _ => None,
        })
    }

    /// How it is to be finished, where that was chosen.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::CookState::default().chosen_finish(), None);
    /// ```
    #[must_use]
    pub fn chosen_finish(&self) -> Option<&ChosenFinish> {
        self.said_last(|kind| match kind {
            EventKind::FinishChosen(chosen) => Some(chosen.as_ref()),
            _ => None,
        })
    }

    /// Which plan was named last, of all that were made; none where the first one stands.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::CookState::default().plan_named(), None);
    /// ```
    #[must_use]
    pub fn plan_named(&self) -> Option<Uuid> {
        self.said_last(|kind| match kind {
            EventKind::Replanned { plan, .. } | EventKind::PieceCorrected { plan } => Some(plan),
            _ => None,
        })
        .copied()
    }

    /// The correction of the piece that stands, and its plan.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::CookState::default().piece_corrected(), None);
    /// ```
    #[must_use]
    pub fn piece_corrected(&self) -> Option<(Uuid, Uuid)> {
        let corrections = self.entries.iter().filter_map(|s| match s.event.kind {
            EventKind::PieceCorrected { plan } => Some((s, plan)),
            _ => None,
        });
        corrections.max_by_key(|(s, _)| (s.event.recorded_at, s.event.id)).map(|(s, plan)| (s.event.id, plan))
    }

    /// Minutes it was afloat, all told: they count as if it had not been in the bath.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert!(cook.state().afloat_min() > Minutes::ZERO);
    /// ```
    #[must_use]
    pub fn afloat_min(&self) -> Minutes {
        self.entries
            .iter()
            .map(|s| match s.event.kind {
                EventKind::Floated { afloat_min } => afloat_min,
                _ => Minutes::ZERO,
            })
            .sum()
    }

    /// Times the clock was set, `(when on the clock as it was then set, by how many seconds)`.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert!(cook.state().clock_set().is_empty());
    /// ```
    #[must_use]
    pub fn clock_set(&self) -> Vec<(Timestamp, f64)> {
        self.entries
            .iter()
            .filter_map(|s| match s.event.kind {
                EventKind::ClockSet { by_s } => Some((s.at, by_s)),
                _ => None,
            })
            .collect()
    }

    /// From when until when it was out of the water, or nobody has said where it was.
    #[must_use]
    pub(crate) fn away(&self) -> Vec<(Timestamp, Timestamp)> {
        let out = self.meanwhile.iter().filter(|m| m.in_bath != Some(true));
        out.map(|m| (m.from, m.until)).collect()
    }

    /// Readings of a hot hold, and when, by time; of several at one instant the coldest counts.
    #[must_use]
    pub(crate) fn hot_checks(&self) -> Vec<(Timestamp, Celsius)> {
        let mut all: Vec<(Timestamp, Celsius)> = self
            .entries
            .iter()
            .filter_map(|s| match s.event.kind {
                EventKind::CoreRead { celsius, purpose: Purpose::HotHold } => Some((s.at, celsius)),
                _ => None,
            })
            .collect();
        all.dedup_by(|later, first| {
            let same = later.0 == first.0;
            if same && later.1 < first.1 {
                first.1 = later.1;
            }
            same
        });
        all
    }

    /// Where it is kept cold, and since when; none where it is not, or nobody said.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::CookState::default().kept(), None);
    /// ```
    #[must_use]
    pub fn kept(&self) -> Option<(Timestamp, &Kept)> {
        if self.stage() != Stage::Chilled {
            return None;
        }
        self.kept_all().last()
    }

    /// When it was put away where, by time.
    fn kept_all(&self) -> impl Iterator<Item = (Timestamp, &Kept)> {
        self.entries.iter().filter_map(|s| match &s.event.kind {
            EventKind::Kept(kept) => Some((s.at, kept)),
            _ => None,
        })
    }

    /// When it was frozen, and thawed.
    #[must_use]
    pub(crate) fn frozen(&self) -> Vec<Frozen> {
        let mut all: Vec<Frozen> = Vec::new();
        for (at, kept) in self.kept_all() {
            match all.last_mut().filter(|f| f.until.is_none()) {
                Some(frozen) if !kept.frozen => frozen.until = Some(at),
                None if kept.frozen => all.push(Frozen { from: at, until: None }),
                _ => {}
            }
        }
        all
    }
}
