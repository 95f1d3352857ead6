//! An evening of one cook: as it was planned, what happened, and what is known of its water.

use hold_steady_core::bath::{BathHistory, WaterRead};
use hold_steady_core::cook::{CookState, Event, EventKind, Live, Next, live};
use hold_steady_core::plan::{KitchenRules, Plan, PlanForm, PlanRequest, Setting, plan};
use hold_steady_core::safety::Level;
use hold_steady_core::steps::steps;
use hold_steady_core::units::{Celsius, Units};
use hold_steady_core::words;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

pub(crate) fn at(min: f64) -> Timestamp {
    let noon: Timestamp = "2026-11-25T12:00:00Z".parse().expect("an instant");
    noon.checked_add(SignedDuration::from_secs_f64(min * 60.0)).expect("in range")
}

/// A cook as it was planned, what happened, and what is known of its water.
pub(crate) struct Evening {
    pub(crate) request: PlanRequest,
    pub(crate) plan: Plan,
    pub(crate) events: Vec<(f64, EventKind)>,
    pub(crate) water: BathHistory,
}

pub(crate) fn evening(form: &PlanForm) -> Evening {
    let rules = KitchenRules::default();
    let reading = form.read(&Setting::new(Units::default(), at(-60.0), &TimeZone::UTC, &rules));
    let request = reading.request.unwrap_or_else(|| panic!("{:?}", reading.errors));
    let plan = plan(&request, at(-60.0)).expect("a plain piece");
    let water = BathHistory::set(at(-30.0), request.bath_c);
    Evening { request, plan, events: vec![(0.0, EventKind::Dropped)], water }
}

impl Evening {
    /// Read by hand, by a thermometer that was checked.
    pub(crate) fn read(mut self, readings: impl IntoIterator<Item = (f64, f64)>) -> Self {
        let read = |(min, c)| WaterRead::typed(at(min), Celsius::new(c)).checked();
        self.water.readings.extend(readings.into_iter().map(read));
        self
    }

    /// Reported by a device.
    pub(crate) fn reported(mut self, readings: impl IntoIterator<Item = (f64, f64)>) -> Self {
        let read = |(min, c)| WaterRead::reported(at(min), Celsius::new(c));
        self.water.readings.extend(readings.into_iter().map(read));
        self
    }

    pub(crate) fn set(mut self, min: f64, c: f64) -> Self {
        self.water.settings.push((at(min), Celsius::new(c)));
        self
    }

    /// Its heater was off, told when it was back, with what it was read to be then.
    pub(crate) fn off(mut self, from: f64, until: f64, c: f64) -> Self {
        self.water.off.push((at(from), at(until)));
        self.read([(until, c)])
    }

    pub(crate) fn then(mut self, min: f64, kind: EventKind) -> Self {
        self.events.push((min, kind));
        self
    }

    pub(crate) fn state(&self, until: f64) -> CookState {
        let events = self.events.iter().enumerate().filter(|(_, e)| e.0 <= until);
        let events: Vec<Event> = events
            .map(|(n, (min, kind))| Event {
                id: Uuid::from_u128(n as u128 + 1),
                happened_at: at(*min),
                recorded_at: at(until),
                by: "cook".into(),
                kind: kind.clone(),
            })
            .collect();
        CookState::fold(&events).expect("it can have happened")
    }

    pub(crate) fn stands(&self, min: f64) -> Live {
        let water = self.known(min);
        live(&self.request, &self.plan, &self.state(min), &water, at(min)).expect("simulates")
    }

    pub(crate) fn known(&self, min: f64) -> BathHistory {
        let mut water = self.water.clone();
        water.readings.retain(|r| r.at <= at(min));
        water.settings.retain(|s| s.0 <= at(min));
        water.off.retain(|o| o.1 <= at(min));
        BathHistory { away: self.state(min).meanwhile_out(), ..water }
    }
}

/// What [`CookRecord::water`] takes from the state, here without a record.
pub(crate) trait Out {
    fn meanwhile_out(&self) -> Vec<(Timestamp, Timestamp)>;
}

impl Out for CookState {
    fn meanwhile_out(&self) -> Vec<(Timestamp, Timestamp)> {
        self.meanwhile.iter().filter(|m| m.in_bath != Some(true)).map(|m| (m.from, m.until)).collect()
    }
}

pub(crate) fn level(l: &Live) -> Level {
    l.verdict.as_ref().expect("it was dropped").level
}

/// Whether the hands are told to pull it at this very minute.
pub(crate) fn says_pull_now(l: &Live, min: f64) -> bool {
    matches!(l.next, Next::Pull(_)) && l.next_at.is_none_or(|t| t <= at(min))
}

/// The law, over an evening: no pull while it is refused; at the minute it is to be pulled the verdict allows it, if
/// nothing else happens; steps name the same minute.
pub(crate) fn keeps_the_law(e: &Evening, minutes: impl IntoIterator<Item = u32>) {
    for min in minutes {
        let min = f64::from(min);
        let l = e.stands(min);
        assert!(
            !says_pull_now(&l, min) || level(&l) != Level::Refused,
            "{min} min: {:?} while refused",
            l.next
        );
        if matches!(l.next, Next::Pull(_)) {
            let told = steps(&e.request, &e.plan, &e.state(min), &l);
            let pull = told.iter().find(|s| s.work.id() == "pull").expect("a pull");
            assert_eq!(pull.at, l.next_at.unwrap_or(l.pull_at), "{min} min: the steps say another minute");
            let words = words::next_with_time(&l, Units::default(), &|t| t.to_string());
            assert!(l.next_at.is_none_or(|t| words.contains(&t.to_string())), "{words}");
        }
    }
}
