//! Where a cook stands: the fold over its events.

use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use super::{Event, EventKind, Refusal, Stage};
use crate::units::Minutes;
mod checks;
mod milestones;

/// An event that stands, with its time as corrected.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// The event.
    pub event: Event,
    /// When it happened, after corrections.
    pub at: Timestamp,
    /// Whether the time was corrected.
    pub corrected: bool,
}

impl Entry {
    fn of(event: &Event) -> Self {
        Self { event: event.clone(), at: event.happened_at, corrected: false }
    }
}

/// How far a clock may run ahead of ours before a time counts as future.
pub const CLOCK_SKEW: SignedDuration = SignedDuration::from_secs(120);

/// Minutes afloat are rounded up by the cook: this much more than the bath's own minutes is let pass.
const AFLOAT_ROUNDING_MIN: Minutes = Minutes::new(1.0);

/// Where a cook stands, after its events.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct CookState {
    /// What happened and was not undone, by time of happening.
    pub entries: Vec<Entry>,
    /// What was undone and may be put back: the undoing event, and the entry as it stood.
    pub undone: Vec<(Uuid, Entry)>,
    /// Events of an older list that cannot have happened: shown, not counted.
    pub not_counted: Vec<(Event, Refusal)>,
    /// Pulls that were undone long after: from when until when nobody knows where the piece was, or it was out.
    pub meanwhile: Vec<Meanwhile>,
    /// Entries that may have happened at another time too, and when.
    pub doubts: Vec<(Uuid, Timestamp)>,
    /// Taken off the lists.
    pub deleted: bool,
}

/// Where a piece was between a pull and its undoing.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Meanwhile {
    /// The undoing.
    pub undo: Uuid,
    /// From the pull.
    pub from: Timestamp,
    /// To its undoing.
    pub until: Timestamp,
    /// Whether it was in the bath, where somebody said.
    pub in_bath: Option<bool>,
}

/// What has to be asked of whoever wrote something down; until it is answered, what is worse counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Question {
    /// At which of two times an entry happened.
    Which {
        /// Which entry.
        event: Uuid,
        /// What it is.
        what: &'static str,
        /// As it stands.
        at: Timestamp,
        /// When else.
        or_at: Timestamp,
    },
    /// Where the piece was meanwhile.
    Where(Meanwhile),
}

/// A pull undone within so long was a wrong tap, minutes.
const WRONG_TAP: Minutes = Minutes::new(10.0);

impl CookState {
    /// The state after all events, in the order they were recorded.
    ///
    /// # Errors
    /// At the first that cannot have happened: its place in the list, and why.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let events: Vec<Event> = cook.events.iter().map(|e| e.event.clone()).collect();
    /// assert_eq!(CookState::fold(&events).expect("all of it happened"), cook.state());
    /// ```
    pub fn fold<'a>(events: impl IntoIterator<Item = &'a Event>) -> Result<Self, (usize, Refusal)> {
        let mut state = Self::default();
        for (i, event) in events.into_iter().enumerate() {
            state.take(event).map_err(|refusal| (i, refusal))?;
        }
        Ok(state)
    }

    /// The state after all events that can have happened. What an older version wrote down that cannot have
    /// is kept in [`Self::not_counted`].
    ///
    /// ```
    /// use hold_steady_core::cook::{CookState, Stage};
    /// assert_eq!(CookState::of(&[]).stage(), Stage::Waiting);
    /// ```
    #[must_use]
    pub fn of(events: &[Event]) -> Self {
        // Nearly always all can have happened, and nothing need be kept to go back to.
        if let Ok(state) = Self::fold(events) {
            return state;
        }
        events.iter().fold(Self::default(), |state, event| match state.apply(event) {
            Ok(next) => next,
            Err(refusal) => {
                let mut same = state;
                same.not_counted.push((event.clone(), refusal));
                same
            }
        })
    }

    /// The state after one more event.
    ///
    /// # Errors
    /// When it cannot have happened as the list stands; see [`Refusal`].
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let event = |kind| Event {
    ///     id: uuid::Uuid::from_u128(9),
    ///     happened_at: now,
    ///     recorded_at: now,
    ///     by: "kitchen".into(),
    ///     kind,
    /// };
    /// let dropped = CookState::default().apply(&event(EventKind::Dropped)).expect("the first");
    /// assert_eq!(dropped.stage(), Stage::InBath);
    /// assert!(CookState::default().apply(&event(EventKind::Pulled)).is_err(), "never dropped");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn apply(&self, event: &Event) -> Result<Self, Refusal> {
        let mut next = self.clone();
        next.take(event)?;
        Ok(next)
    }

    /// What is written down of a piece that was pulled and is put back: that the pull is undone, under the identifier given,
    /// and that it was out of the water in between. Nothing where it is not just pulled.
    ///
    /// ```
    /// use hold_steady_core::{cook::*, who::By};
    /// let at = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
    /// let event = |id: u128, min, kind| Event { id: uuid::Uuid::from_u128(id), happened_at: at(min), recorded_at: at(min), by: By::default(), kind };
    /// let out = CookState::of(&[event(1, 0, EventKind::Dropped), event(2, 40, EventKind::Pulled)]);
    /// let undo = uuid::Uuid::from_u128(3);
    /// let [undone, meanwhile] = out.put_back(undo, at(46)).expect("just pulled");
    /// assert_eq!(undone, EventKind::Undone { event: uuid::Uuid::from_u128(2) });
    /// let afloat_min = hold_steady_core::units::Minutes::new(6.0);
    /// assert_eq!(meanwhile, EventKind::Floated { afloat_min });
    /// assert!(matches!(out.put_back(undo, at(90)), Some([_, EventKind::Meanwhile { in_bath: false, .. }])));
    /// ```
    #[must_use]
    pub fn put_back(&self, undo: Uuid, now: Timestamp) -> Option<[EventKind; 2]> {
        let pull = self.entries.iter().find(|e| e.event.kind == EventKind::Pulled)?;
        if self.stage() != Stage::Pulled {
            return None;
        }
        let out = Minutes::between(pull.at, now).max(Minutes::ZERO).ceil();
        let meanwhile = if Minutes::between(pull.at, now) > WRONG_TAP {
            EventKind::Meanwhile { event: undo, in_bath: false }
        } else {
            EventKind::Floated { afloat_min: out }
        };
        Some([EventKind::Undone { event: pull.event.id }, meanwhile])
    }

    /// The same in place; after a refusal the state is of no use.
    fn take(&mut self, event: &Event) -> Result<(), Refusal> {
        if self.deleted && event.kind != EventKind::Restored {
            return Err(Refusal::Deleted);
        }
        let about = self.take_in(event)?;
        event.kind.check().map_err(Refusal::Value)?;
        if event.happened_at.duration_since(event.recorded_at) > CLOCK_SKEW {
            return Err(Refusal::Future(about));
        }
        self.entries.sort_by_key(|s| (s.at, s.event.id));
        self.check(about)
    }

    /// Takes an event in without asking whether the whole can have happened; returns what it is about.
    fn take_in(&mut self, event: &Event) -> Result<&'static str, Refusal> {
        let about = event.kind.traits().name;
        match &event.kind {
            EventKind::Undone { event: target } => return self.undo(event, *target),
            EventKind::Doubted { event: target, or_at } => return self.doubt(event, *target, *or_at),
            EventKind::Corrected { event: target } => return self.correct(event, *target),
            EventKind::Meanwhile { event: target, in_bath } => {
                let asked = self.meanwhile.iter_mut().find(|m| m.undo == *target);
                asked.ok_or(Refusal::NoSuchEvent)?.in_bath = Some(*in_bath);
            }
            EventKind::ClockSet { by_s } => {
                self.put_on_this_clock(*by_s);
                self.entries.push(Entry::of(event));
            }
            EventKind::Deleted => self.deleted = true,
            EventKind::Restored if self.deleted => self.deleted = false,
            EventKind::Restored => return Err(Refusal::NoSuchEvent),
            EventKind::Started
            | EventKind::Replanned { .. }
            | EventKind::PieceCorrected { .. }
            | EventKind::Salted { .. }
            | EventKind::Bagged
            | EventKind::Dropped
            | EventKind::Floated { .. }
            | EventKind::Moved { .. }
            | EventKind::Leaked
            | EventKind::Pulled
            | EventKind::Dried
            | EventKind::Seared { .. }
            | EventKind::FinishChosen(_)
            | EventKind::Eaten
            | EventKind::CoreRead { .. }
            | EventKind::Chilled
            | EventKind::Kept(_)
            | EventKind::Discarded
            | EventKind::Rated(_) => self.entries.push(Entry::of(event)),
        }
        Ok(about)
    }

    /// An entry never happened, or an undoing is undone.
    fn undo(&mut self, event: &Event, target: Uuid) -> Result<&'static str, Refusal> {
        if let Some(i) = self.undone.iter().position(|(undo, _)| *undo == target) {
            let (undo, entry) = self.undone.remove(i);
            // It was pulled after all.
            self.meanwhile.retain(|m| m.undo != undo);
            let about = entry.event.kind.traits().name;
            self.entries.push(entry);
            return Ok(about);
        }
        let found = self.entries.iter().position(|s| s.event.id == target);
        let i = found.filter(|i| self.entries[*i].event.kind.traits().undone);
        let entry = self.entries.remove(i.ok_or(Refusal::NoSuchEvent)?);
        let about = entry.event.kind.traits().name;
        let long = Minutes::between(entry.at, event.happened_at) > WRONG_TAP;
        if entry.event.kind == EventKind::Pulled && long {
            let (from, until) = (entry.at, event.happened_at);
            self.meanwhile.push(Meanwhile { undo: event.id, from, until, in_bath: None });
        }
        self.undone.push((event.id, entry));
        Ok(about)
    }

    /// The time of an entry could be meant in two ways.
    fn doubt(&mut self, event: &Event, target: Uuid, or_at: Timestamp) -> Result<&'static str, Refusal> {
        let entry = self.entries.iter().find(|s| s.event.id == target);
        let entry = entry.filter(|e| e.event.kind.may_be_corrected());
        let about = entry.ok_or(Refusal::NoSuchEvent)?.event.kind.traits().name;
        if or_at.duration_since(event.recorded_at) > CLOCK_SKEW {
            return Err(Refusal::Future(about));
        }
        self.doubts.retain(|d| d.0 != target);
        self.doubts.push((target, or_at));
        Ok(about)
    }

    /// An entry happened at another time.
    fn correct(&mut self, event: &Event, target: Uuid) -> Result<&'static str, Refusal> {
        let entry = self.entries.iter_mut().find(|s| s.event.id == target);
        let entry = entry.filter(|e| e.event.kind.may_be_corrected());
        let entry = entry.ok_or(Refusal::NoSuchEvent)?;
        (entry.at, entry.corrected) = (event.happened_at, true);
        let about = entry.event.kind.traits().name;
        self.doubts.retain(|d| d.0 != target);
        Ok(about)
    }

    /// Everything so far, put on the clock as it is now: the minutes between are those that passed.
    fn put_on_this_clock(&mut self, by_s: f64) {
        let by = SignedDuration::try_from_secs_f64(by_s).unwrap_or_default();
        let moved = |t: &mut Timestamp| *t = t.checked_add(by).unwrap_or(*t);
        let undone = self.undone.iter_mut().map(|(_, entry)| entry);
        self.entries.iter_mut().chain(undone).for_each(|entry| moved(&mut entry.at));
        self.doubts.iter_mut().for_each(|d| moved(&mut d.1));
        for m in &mut self.meanwhile {
            moved(&mut m.from);
            moved(&mut m.until);
        }
    }

    /// What has to be asked; until it is answered, what is worse counts.
    ///
    /// ```
    /// assert!(hold_steady_core::cook::CookState::default().questions().is_empty());
    /// ```
    #[must_use]
    pub fn questions(&self) -> Vec<Question> {
        let which = self.doubts.iter().filter_map(|(event, or_at)| {
            let entry = self.entries.iter().find(|e| e.event.id == *event)?;
            // What cannot have been is no question.
            self.meant(*event, *or_at)?;
            Some(Question::Which {
                event: *event,
                what: entry.event.kind.traits().name,
                at: entry.at,
                or_at: *or_at,
            })
        });
        let meanwhile = self.meanwhile.iter().filter(|m| m.in_bath.is_none()).map(|m| Question::Where(*m));
        which.chain(meanwhile).collect()
    }

    /// The same with an entry at another time; none where that cannot have been.
    fn meant(&self, event: Uuid, at: Timestamp) -> Option<Self> {
        let mut other = self.clone();
        other.entries.iter_mut().find(|e| e.event.id == event)?.at = at;
        other.entries.sort_by_key(|s| (s.at, s.event.id));
        other.check("that").ok().map(|()| other)
    }

    /// Every way in which what was written down can be meant: one where nothing is in doubt.
    #[must_use]
    pub(crate) fn readings(&self) -> Vec<Self> {
        const MOST: usize = 8;
        let mut all = vec![self.clone()];
        for (event, or_at) in &self.doubts {
            let others: Vec<Self> = all.iter().filter_map(|state| state.meant(*event, *or_at)).collect();
            all.extend(others);
            all.truncate(MOST);
        }
        all
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cook::{Milestone, Purpose, Rating};
    use crate::units::Celsius;

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    fn event(n: u128, min: i64, kind: EventKind) -> Event {
        Event { id: Uuid::from_u128(n), happened_at: t(min), recorded_at: t(min), by: "cook".into(), kind }
    }

    fn dropped_and_pulled() -> Vec<Event> {
        vec![
            event(1, 0, EventKind::Started),
            event(2, 5, EventKind::Dropped),
            event(3, 125, EventKind::Pulled),
        ]
    }

    #[test]
    fn state_follows_from_the_events() {
        let mut events = dropped_and_pulled();
        let s = CookState::of(&events);
        assert_eq!((s.stage(), s.when(Milestone::Dropped)), (Stage::Pulled, Some(t(5))));
        events.push(event(4, 0, EventKind::Undone { event: Uuid::from_u128(3) }));
        let s = CookState::of(&events);
        assert_eq!(s.stage(), Stage::InBath);
        assert_eq!(s.undone.len(), 1);
        // Undoing the undoing puts it back.
        events.push(event(5, 0, EventKind::Undone { event: Uuid::from_u128(4) }));
        let s = CookState::of(&events);
        assert_eq!((s.stage(), s.undone.len()), (Stage::Pulled, 0));
    }

    #[test]
    fn the_last_correction_that_stands_counts() {
        let mut events = dropped_and_pulled();
        events.push(event(4, 10, EventKind::Corrected { event: Uuid::from_u128(2) }));
        events.push(event(5, 12, EventKind::Corrected { event: Uuid::from_u128(2) }));
        let s = CookState::of(&events);
        assert_eq!(s.when(Milestone::Dropped), Some(t(12)));
        assert!(s.entries.iter().any(|s| s.corrected));
        assert_eq!(s.stage(), Stage::Pulled);
    }

    /// The state with one more event, written down at `now`.
    fn tried(s: &CookState, kind: EventKind, at: Timestamp, now: Timestamp) -> Result<CookState, Refusal> {
        let id = Uuid::from_u128(9_000 + u128::from(s.entries.len() as u64 + s.undone.len() as u64));
        s.apply(&Event { id, happened_at: at, recorded_at: now, by: "cook".into(), kind })
    }

    fn undone(n: u128) -> EventKind {
        EventKind::Undone { event: Uuid::from_u128(n) }
    }

    fn corrected(n: u128) -> EventKind {
        EventKind::Corrected { event: Uuid::from_u128(n) }
    }

    #[test]
    fn order_and_future_are_kept() {
        let s = CookState::of(&dropped_and_pulled());
        let now = t(200);
        assert!(tried(&s, EventKind::Dried, t(130), now).is_ok());
        assert!(matches!(tried(&s, EventKind::Dried, t(100), now), Err(Refusal::TooEarly { .. })));
        assert!(matches!(tried(&s, EventKind::Dried, t(210), now), Err(Refusal::Future(_))));
        assert!(matches!(tried(&s, EventKind::Pulled, t(130), now), Err(Refusal::Already(_))));
        assert!(matches!(tried(&s, corrected(2), t(126), now), Err(Refusal::TooLate { .. })));
        assert!(tried(&s, corrected(2), t(20), now).is_ok());
        let fresh = CookState::of(&[event(1, 0, EventKind::Started)]);
        assert!(matches!(tried(&fresh, EventKind::Pulled, t(1), now), Err(Refusal::Needs { .. })));
        assert_eq!(tried(&fresh, undone(1), t(1), now).err(), Some(Refusal::NoSuchEvent));
        let bad = EventKind::Seared { faces_s: vec![45.0, f64::NAN], covered: None };
        assert!(matches!(tried(&s, bad, t(140), now), Err(Refusal::Value(_))));
        let twice = tried(&s, EventKind::Started, t(140), now);
        assert!(matches!(twice, Err(Refusal::Already(_))), "{twice:?}");
    }

    #[test]
    fn minutes_that_did_not_pass_are_not_counted_when_the_clock_is_set() {
        // In at 5, set an hour on at 30 (it shows 90 then), out at 185 by the new clock: 120 minutes.
        let set = |n, min, by: f64| event(n, min, EventKind::ClockSet { by_s: by * 60.0 });
        let in_bath = [event(1, 0, EventKind::Started), event(2, 5, EventKind::Dropped)];
        let s = CookState::of(&in_bath).apply(&set(3, 90, 60.0)).expect("noticed");
        let s = s.apply(&event(4, 185, EventKind::Pulled)).expect("pulled");
        let minutes = |s: &CookState| {
            let at = |m| s.when(m).expect("happened");
            Minutes::between(at(Milestone::Dropped), at(Milestone::Pulled)).value()
        };
        assert_eq!((minutes(&s), s.clock_set()), (120.0, vec![(t(90), 3600.0)]));
        // Set back an hour at 70 (it shows 10 then): out at 25 by the new clock is 80 minutes, not 20.
        let s = CookState::of(&in_bath).apply(&set(3, 10, -60.0)).expect("noticed");
        assert_eq!(minutes(&s.apply(&event(4, 25, EventKind::Pulled)).expect("pulled")), 80.0);
        // Nobody undoes it, and what was undone before comes back where it belongs.
        assert_eq!(s.apply(&event(5, 30, undone(3))).err(), Some(Refusal::NoSuchEvent));
        let s = CookState::of(&in_bath).apply(&event(3, 6, undone(2))).expect("undone");
        let s =
            s.apply(&set(4, 90, 60.0)).expect("noticed").apply(&event(5, 91, undone(3))).expect("put back");
        assert_eq!(s.when(Milestone::Dropped), Some(t(65)));
        assert!(matches!(s.apply(&set(6, 90, f64::NAN)), Err(Refusal::Value(_))));
    }

    #[test]
    fn putting_a_drop_back_beside_another_is_refused() {
        let now = t(400);
        let s = CookState::of(&[event(1, 0, EventKind::Started), event(2, 5, EventKind::Dropped)]);
        let s = s.apply(&event(3, 6, undone(2))).expect("the drop is undone");
        let s = s.apply(&event(4, 60, EventKind::Dropped)).expect("and it is dropped again");
        let refused = tried(&s, undone(3), t(61), now);
        assert_eq!(refused.err(), Some(Refusal::Already("the drop")));
        assert_eq!(s.when(Milestone::Dropped), Some(t(60)));
        // An older version took it: what it wrote is shown, and not counted.
        let old = [
            event(1, 0, EventKind::Started),
            event(2, 5, EventKind::Dropped),
            event(3, 6, undone(2)),
            event(4, 60, EventKind::Dropped),
            event(5, 61, undone(3)),
        ];
        let s = CookState::of(&old);
        assert_eq!((s.when(Milestone::Dropped), s.not_counted.len()), (Some(t(60)), 1));
        assert_eq!(CookState::fold(&old).err(), Some((4, Refusal::Already("the drop"))));
    }

    #[test]
    fn nothing_is_undone_from_under_what_followed_it() {
        let mut events = dropped_and_pulled();
        let pulled = CookState::of(&events);
        let needs = |s: &CookState, n| tried(s, undone(n), t(300), t(300)).err();
        assert!(matches!(needs(&pulled, 2), Some(Refusal::Needs { needs: "the drop", .. })));
        events.push(event(4, 140, EventKind::Eaten));
        let eaten = CookState::of(&events);
        assert!(matches!(needs(&eaten, 3), Some(Refusal::Needs { needs: "the pull", .. })));
        // From the top down it goes.
        let s = eaten.apply(&event(5, 300, undone(4))).expect("eating is undone");
        let s = s.apply(&event(6, 300, undone(3))).expect("then the pull");
        assert_eq!(s.stage(), Stage::InBath);
    }

    #[test]
    fn an_entry_put_back_keeps_its_corrected_time() {
        let s = CookState::of(&dropped_and_pulled());
        let s = s.apply(&event(4, 130, corrected(3))).expect("the pull was at 130");
        let s = s.apply(&event(5, 200, undone(4)));
        assert_eq!(s.err(), Some(Refusal::NoSuchEvent), "a correction is corrected, not undone");
        let s = CookState::of(&dropped_and_pulled());
        let s = s.apply(&event(4, 120, corrected(3))).expect("the pull was at 120");
        let s = s.apply(&event(5, 200, undone(3))).expect("undone");
        let s = s.apply(&event(6, 201, undone(5))).expect("and put back");
        assert_eq!(s.when(Milestone::Pulled), Some(t(120)));
    }

    #[test]
    fn what_floats_floats_in_the_bath_and_no_longer_than_it_was_in() {
        let floated = |min| EventKind::Floated { afloat_min: min };
        let s = CookState::of(&dropped_and_pulled());
        assert!(tried(&s, floated(Minutes::new(30.0)), t(60), t(300)).is_ok());
        assert!(matches!(
            tried(&s, floated(Minutes::new(10.0)), t(4), t(300)),
            Err(Refusal::TooEarly { .. })
        ));
        assert!(matches!(
            tried(&s, floated(Minutes::new(10.0)), t(126), t(300)),
            Err(Refusal::TooLate { .. })
        ));
        assert!(matches!(tried(&s, floated(Minutes::new(60.0)), t(60), t(300)), Err(Refusal::Value(_))));
        assert!(matches!(tried(&s, floated(Minutes::new(f64::NAN)), t(60), t(300)), Err(Refusal::Value(_))));
        let s = s.apply(&event(7, 60, floated(Minutes::new(50.0)))).expect("fits");
        assert!(matches!(tried(&s, floated(Minutes::new(20.0)), t(70), t(300)), Err(Refusal::Value(_))));
        // Nor may the drop be corrected so that it no longer fits.
        assert!(matches!(tried(&s, corrected(2), t(20), t(300)), Err(Refusal::Value(_))));
    }

    #[test]
    fn a_deleted_cook_takes_nothing_but_being_put_back() {
        let mut events = dropped_and_pulled();
        events.push(event(4, 130, EventKind::Deleted));
        let s = CookState::of(&events);
        assert_eq!(tried(&s, EventKind::Eaten, t(140), t(140)).err(), Some(Refusal::Deleted));
        assert!(tried(&s, EventKind::Restored, t(140), t(140)).is_ok());
    }

    #[test]
    fn the_last_rating_stands_and_a_deleted_cook_comes_back() {
        let mut events = dropped_and_pulled();
        for (n, crust) in [(4, 2), (5, 4)] {
            let rating = Rating { crust: Some(crust), ..Rating::default() };
            events.push(event(n, 150, EventKind::Rated(rating)));
        }
        assert_eq!(CookState::of(&events).rating().and_then(|r| r.crust), Some(4));
        events.push(event(6, 160, EventKind::Deleted));
        assert!(CookState::of(&events).deleted);
        events.push(event(7, 161, EventKind::Restored));
        assert!(!CookState::of(&events).deleted);
    }

    #[test]
    fn events_read_back_from_json_as_they_were() {
        let rating = Rating { centre: Some(-1), note: "a “good” one".into(), ..Rating::default() };
        for kind in [
            EventKind::Dropped,
            EventKind::CoreRead { celsius: Celsius::new(61.5), purpose: Purpose::Chill },
            EventKind::Seared { faces_s: vec![45.0, 50.5], covered: None },
            EventKind::Rated(rating),
            EventKind::Corrected { event: Uuid::from_u128(9) },
        ] {
            let e = event(8, 3, kind);
            let json = serde_json::to_string(&e).expect("plain data");
            assert_eq!(serde_json::from_str::<Event>(&json).expect("its own output"), e);
        }
    }
}
