//! What follows from a cook's records: where it stands, by which plan, in which water.

use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use super::{CookRecord, EventRecord, PlanRecord, Subject};
use crate::bath::{
    BathHistory, Cover, Falls, ProbeLog, ReadingRecord, Unwatched, Water, WaterEvent, WaterRead, WaterState,
    Worse, by_minute, trust, usual_air,
};
use crate::cook::{About, CookState, Event, EventKind, Milestone, Refusal};
use crate::limits::{MOST_EVENTS, MOST_PLANS};
use crate::units::{Kelvin, Units};

/// A cook's bag in a bath, from when to when.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Immersion {
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
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.state().stage(), Stage::Eaten);
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
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
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
        let noted = event.kind.is_noted();
        if self.counted_events() >= MOST_EVENTS && !ends && !noted {
            return Err(Refusal::TooMany);
        }
        self.state().apply(event)
    }

    /// How many events it has, of the most there can be: the clock set again and again with nothing between counts once.
    pub(crate) fn counted_events(&self) -> usize {
        let set = |e: &EventRecord| e.event.kind.is_noted();
        self.events.chunk_by(|a, b| set(a) && set(b)).count()
    }

    /// The baths its bags lie in or were moved into.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// # let export = Export::example();
    /// let cook = &export.cooks[0];
    /// assert_eq!(cook.named_baths(), [cook.baths[0].id]);
    /// ```
    #[must_use]
    pub fn named_baths(&self) -> Vec<Uuid> {
        let moved = self.events.iter().filter_map(|e| match e.event.kind {
            EventKind::Moved { bath } => Some(bath),
            _ => None,
        });
        let mut all: Vec<Uuid> = Vec::new();
        for bath in std::iter::once(self.bag.bath).chain(moved) {
            if !all.contains(&bath) {
                all.push(bath);
            }
        }
        all
    }

    /// Whether a subject is one of this cook's own.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert!(cook.has(Subject::Cook) && !cook.has(Subject::Bag(uuid::Uuid::nil())));
    /// ```
    #[must_use]
    pub fn has(&self, subject: Subject) -> bool {
        match subject {
            Subject::Cook => true,
            Subject::Piece(id) => self.piece.id == id,
            Subject::Bag(id) => self.bag.id == id,
            Subject::Bath(id) => self.baths.iter().any(|b| b.id == id),
        }
    }

    /// What an event of a kind is about: the bag for what happens to a bag, the piece for what happens to a piece, and for
    /// what concerns an entry what that is about.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.subject(&EventKind::Dropped), Subject::Bag(cook.bag.id));
    /// assert_eq!(cook.subject(&EventKind::Eaten), Subject::Piece(cook.piece.id));
    /// ```
    #[must_use]
    pub fn subject(&self, kind: &EventKind) -> Subject {
        match kind.traits().about {
            About::Cook => Subject::Cook,
            About::Bag => Subject::Bag(self.bag.id),
            About::Piece => Subject::Piece(self.piece.id),
            About::Entry => {
                let (EventKind::Corrected { event }
                | EventKind::Undone { event }
                | EventKind::Doubted { event, .. }
                | EventKind::Meanwhile { event, .. }) = kind
                else {
                    return Subject::Cook;
                };
                let named = self.events.iter().find(|e| e.event.id == *event);
                named.map_or(Subject::Cook, |e| e.subject)
            }
        }
    }

    /// What it is called, in a reader's units; as it was written down where it has no plan.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
    /// assert_eq!(export.cooks[0].title_in(american), "Strip steak, 1 1/4 in, 131 °F");
    /// ```
    #[must_use]
    pub fn title_in(&self, units: Units) -> String {
        let title = self.plan_record().map_or_else(|| self.title.clone(), |plan| plan.request.title(units));
        if self.bag.letter.is_empty() { title } else { format!("{title}, bag {}", self.bag.letter) }
    }

    /// The plan that stands: the one that was named last ([`EventKind::Replanned`], [`EventKind::PieceCorrected`]), else the
    /// first.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// assert_eq!(cook.plan_record().expect("planned").request.food().id, "beef-strip");
    /// ```
    #[must_use]
    pub fn plan_record(&self) -> Option<&PlanRecord> {
        let names = |e: &EventRecord| {
            matches!(e.event.kind, EventKind::Replanned { .. } | EventKind::PieceCorrected { .. })
        };
        // Most cooks keep their first plan, and need not be followed through all that happened to know it.
        let named = if self.events.iter().any(names) { self.state().plan_named() } else { None };
        named.and_then(|id| self.plan(id)).or_else(|| self.first_plan())
    }

    /// The plan it was begun by.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// let cook = &export.cooks[0];
    /// assert_eq!(cook.first_plan(), cook.plan_record(), "nobody planned it otherwise");
    /// ```
    #[must_use]
    pub fn first_plan(&self) -> Option<&PlanRecord> {
        self.piece.plans.first()
    }

    /// One of its plans.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// assert_eq!(export.cooks[0].plan(uuid::Uuid::nil()), None);
    /// ```
    #[must_use]
    pub fn plan(&self, id: Uuid) -> Option<&PlanRecord> {
        self.piece.plans.iter().find(|plan| plan.id == id)
    }

    /// Where it stands once it is planned anew, or its piece was corrected, by a plan that is not among its own yet.
    ///
    /// # Errors
    /// When that cannot be: a new plan is for the piece as it is, and only a correction says that it is another.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
    /// let cook = &export.cooks[1]; // in its bath
    /// let mut plan = cook.plan_record().expect("planned").clone();
    /// plan.id = uuid::Uuid::from_u128(7);
    /// let event = |kind| Event { id: uuid::Uuid::from_u128(8), happened_at: now, recorded_at: now, by: "Ida".into(), kind };
    /// let replanned = event(EventKind::Replanned { plan: plan.id, of: None });
    /// assert!(cook.with_plan(&replanned, &plan).is_ok());
    /// plan.request.thickness_mm = Length::from_mm(12.0);
    /// assert_eq!(cook.with_plan(&replanned, &plan), Err(Refusal::OtherPiece));
    /// assert!(cook.with_plan(&event(EventKind::PieceCorrected { plan: plan.id }), &plan).is_ok());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn with_plan(&self, event: &Event, plan: &PlanRecord) -> Result<CookState, Refusal> {
        if self.plan(plan.id).is_none() && self.piece.plans.len() >= MOST_PLANS {
            return Err(Refusal::TooManyPlans);
        }
        let state = self.with(event)?;
        match event.kind {
            EventKind::Replanned { plan: named, of } if named == plan.id => {
                let goes_by = match of {
                    None => self.first_plan(),
                    Some(of) => self.piece_as_corrected(of),
                };
                let goes_by = goes_by.ok_or(Refusal::NoSuchPlan)?;
                if plan.request.is_same_piece(&goes_by.request) {
                    Ok(state)
                } else {
                    Err(Refusal::OtherPiece)
                }
            }
            EventKind::PieceCorrected { plan: named } if named == plan.id => Ok(state),
            _ => Err(Refusal::NoSuchPlan),
        }
    }

    /// Of an event by which it was planned anew or its piece corrected: the plan that stood before it, and the one it names.
    ///
    /// ```
    /// # use hold_steady_core::book::*;
    /// # let export = Export::example();
    /// let cook = &export.cooks[0];
    /// assert!(cook.replanned_by(cook.events[0].event.id).is_none(), "it was begun by it");
    /// ```
    #[must_use]
    pub fn replanned_by(&self, event: Uuid) -> Option<(&PlanRecord, &PlanRecord)> {
        let place = self.events.iter().position(|e| e.event.id == event)?;
        let (EventKind::Replanned { plan, .. } | EventKind::PieceCorrected { plan }) =
            self.events[place].event.kind
        else {
            return None;
        };
        let before: Vec<Event> = self.events[..place].iter().map(|e| e.event.clone()).collect();
        let before = CookState::of(&before).plan_named().and_then(|id| self.plan(id));
        Some((before.or_else(|| self.first_plan())?, self.plan(plan)?))
    }

    /// The plan of a correction of its piece.
    fn piece_as_corrected(&self, correction: Uuid) -> Option<&PlanRecord> {
        let found = self.events.iter().find(|e| e.event.id == correction)?;
        match found.event.kind {
            EventKind::PieceCorrected { plan } => self.plan(plan),
            _ => None,
        }
    }

    /// Whether every plan its events name is one of its own, and each new plan is for the piece as it was then.
    ///
    /// # Errors
    /// The first event that names another, and why it cannot.
    pub(crate) fn check_plans(&self) -> Result<(), (Uuid, Refusal)> {
        for (i, e) in self.events.iter().enumerate() {
            let (EventKind::Replanned { plan, .. } | EventKind::PieceCorrected { plan }) = e.event.kind
            else {
                continue;
            };
            let no = |refusal| (e.event.id, refusal);
            let plan = self.plan(plan).ok_or_else(|| no(Refusal::NoSuchPlan))?;
            let before = Self { events: self.events[..i].to_vec(), ..self.clone() };
            before.with_plan(&e.event, plan).map_err(no)?;
        }
        Ok(())
    }

    /// Its bag in its baths as the cook stands ([`Self::state`]), one after another: into the first at the drop, into the next
    /// at each move, out at the pull.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let stays = cook.immersions(&cook.state());
    /// assert_eq!((stays.len(), stays[0].bath), (1, cook.bag.bath));
    /// assert!(stays[0].until > Some(stays[0].from));
    /// ```
    #[must_use]
    pub fn immersions(&self, state: &CookState) -> Vec<Immersion> {
        let Some(dropped) = state.when(Milestone::Dropped) else { return Vec::new() };
        let (mut bath, mut from, mut all) = (self.bag.bath, dropped, Vec::new());
        for entry in &state.entries {
            if let EventKind::Moved { bath: to } = entry.event.kind {
                all.push(Immersion { bath, from, until: Some(entry.at) });
                (bath, from) = (to, entry.at);
            }
        }
        all.push(Immersion { bath, from, until: state.when(Milestone::Pulled) });
        all
    }

    /// The bath it lies in, and when this machine was away and nobody said since what that did. None where it lies in none, or
    /// nothing was missed.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*};
    /// # let export = Export::example();
    /// let cook = &export.cooks[0];
    /// assert_eq!(cook.unwatched(&cook.state()), None);
    /// ```
    #[must_use]
    pub fn unwatched(&self, state: &CookState) -> Option<(Uuid, Unwatched)> {
        let stay = self.immersions(state).pop().filter(|stay| stay.until.is_none())?;
        let bath = self.baths.iter().find(|b| b.id == stay.bath)?;
        Some((bath.id, bath.unwatched()?))
    }

    /// What is known of the water around it, on the clock as it is now: of one bath after another, if it
    /// was moved.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let water = cook.water(&cook.state());
    /// assert_eq!((water.settings.len(), water.readings.len()), (1, 0));
    /// ```
    #[must_use]
    pub fn water(&self, state: &CookState) -> BathHistory {
        let stays = self.immersions(state);
        let taking = |bath: Uuid, at: Option<Timestamp>| {
            let dips = at.and_then(|at| Some(self.plan_record()?.request.dip(at)));
            BathHistory { dips: dips.into_iter().collect(), ..self.water_of(bath) }
        };
        let first = taking(self.bag.bath, stays.first().map(|s| s.from));
        // Where it was never dropped it was never moved.
        let all = stays
            .iter()
            .skip(1)
            .fold(first, |around, stay| around.then(stay.from, taking(stay.bath, Some(stay.from))));
        let away = state.away();
        BathHistory { probe: self.probe(), away, ..all }
    }

    /// What a probe in its piece read at the centre, by time, on the clock as it is now; the one read last, where
    /// there were several. `None` where none was.
    #[must_use]
    pub(crate) fn probe(&self) -> Option<ProbeLog> {
        let piece = self.piece.id;
        let struck: Vec<_> = self.baths.iter().flat_map(|b| b.state().struck).collect();
        let all = self.baths.iter().flat_map(|b| &b.instruments).filter(|i| i.piece == Some(piece));
        let with = all.max_by_key(|i| i.readings.last().map(|r| r.at))?;
        let counts = |r: &&ReadingRecord| !struck.contains(&(with.id, r.at));
        let trusted = |r: &ReadingRecord| trust(&with.checks, r.celsius, r.at);
        let counted: Vec<ReadingRecord> = with.readings.iter().filter(counts).cloned().collect();
        let readings: Vec<_> = by_minute(&counted, Worse::Colder)
            .iter()
            .map(|r| (r.at, trusted(r).corrected(r.celsius)))
            .collect();
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
        // That it was off is told of any bath, whether its vessel is known or not.
        let cover = bath.vessel.as_ref().map_or(Cover::Lid, |v| v.vessel.cover);
        let state = WaterState::of(cover, &water);
        let mut history = BathHistory {
            settings: bath.settings.iter().map(|s| (on_this_clock(s.at), s.celsius)).collect(),
            readings: bath
                .reads_by_minute()
                .into_iter()
                .map(|r| WaterRead { at: on_this_clock(r.at), ..r })
                .collect(),
            still: bath.vessel.as_ref().is_some_and(|v| v.vessel.water == Water::Still),
            falls: bath.vessel.as_ref().map(|v| Falls::of(&v.vessel, &state, usual_air(altitude_m))),
            off: state.off,
            unwatched: state.unwatched.iter().map(|u| (u.from, u.until)).collect(),
            ..BathHistory::default()
        };
        history.settings.sort_by_key(|s| s.0);
        history.off.sort_by_key(|o| o.0);
        history.unwatched.sort_by_key(|o| o.0);
        history.readings.sort_by_key(|r| r.at);
        history
    }
}
