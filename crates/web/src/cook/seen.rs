//! A cook as it stands: worked out once, shown in parts.

use std::collections::HashMap;

use hold_steady_core::bath::BathHistory;
use hold_steady_core::book::CookRecord;
use hold_steady_core::cook::{
    CookState, Live, Milestone, Next, Stage, WayBack, if_put_back, live_here, ways_back,
};
use hold_steady_core::plan::{Plan, PlanRequest};
use hold_steady_core::units::{Celsius, Units, WallClock};
use hold_steady_core::words;
use hold_steady_store::Origin;
use jiff::Timestamp;
use uuid::Uuid;

use crate::app::{PageError, day_and_time, duration, near_time};
use crate::bath::last_word;
use crate::words::cook as says;

/// The bath it lies in, and when something was last known of that or of it; none where it was never dropped.
pub fn lies_in(record: &CookRecord, state: &CookState) -> Option<(Uuid, Timestamp)> {
    let stay = record.immersions(state).pop()?;
    let bath = record.baths.iter().find(|b| b.id == stay.bath)?;
    // A drop written down in the second the bath was filled lies before it.
    Some((bath.id, last_word(bath, stay.from).max(stay.from).max(bath.began_at)))
}

/// A cook as it stands: worked out once, shown in parts.
pub struct Seen<'a> {
    pub record: &'a CookRecord,
    pub request: &'a PlanRequest,
    pub plan: Plan,
    pub stands: CookState,
    /// What is known of the water around it.
    pub water: BathHistory,
    pub live: Live,
    /// What is over is shown as it was when it was over.
    pub over: Option<Timestamp>,
    pub now: Timestamp,
}

impl<'a> Seen<'a> {
    pub fn of(record: &'a CookRecord, (now, zone): (Timestamp, &WallClock)) -> Result<Self, PageError> {
        let planned = record.plan_record().ok_or(PageError::NoSuchCook)?;
        let (request, plan, stands) = (&planned.request, planned.plan()?, record.state());
        let over = stands.when(Milestone::Eaten).or(stands.ended());
        // What is kept goes on: it has a last day.
        let over = over.filter(|_| stands.stage() != Stage::Chilled);
        let water = record.water(&stands);
        let live = live_here(request, &plan, &stands, &water, (over.unwrap_or(now), zone))?;
        Ok(Self { record, request, plan, stands, water, live, over, now })
    }

    /// Whether there is something to be mended.
    pub fn is_troubled(&self) -> bool {
        self.live.fault.is_some() || matches!(self.live.next, Next::NotHere { .. } | Next::ThrowAway(_))
    }

    /// Every way back, with what it gives; `others` are the baths that run, by name.
    fn ways_back(&self, others: &[(String, Celsius)]) -> Result<Vec<WayBack>, PageError> {
        Ok(ways_back((self.request, &self.plan), &self.stands, &self.water, &self.live, others, self.now)?)
    }

    /// The same in words, and where each is done, where that is another page.
    pub(super) fn ways_shown(
        &self,
        others: &[(String, Celsius)],
        units: Units,
        clock: &dyn Fn(Timestamp) -> String,
    ) -> Result<Vec<(String, String, Option<String>)>, PageError> {
        let ways = if self.is_troubled() { self.ways_back(others)? } else { Vec::new() };
        let bath = self.record.baths.last().filter(|b| b.vessel.is_some());
        let own = bath.map(|b| format!("/bath/runs/{}", b.id));
        let shown = |w: &WayBack| {
            let (what, gives) = words::way_back(w, units, clock);
            match w {
                WayBack::Bath { name, .. } => (format!("{what}: {name}"), gives, Some("/board".into())),
                WayBack::Heat { .. } | WayBack::Kettle { .. } | WayBack::Read { .. } => {
                    (what.to_owned(), gives, own.clone())
                }
                _ => (what.to_owned(), gives, None),
            }
        };
        Ok(ways.iter().map(shown).collect())
    }

    /// Where it would stand if what was pulled were put back.
    pub(super) fn if_put_back(&self, zone: &WallClock) -> Result<Option<Live>, PageError> {
        Ok(if_put_back((self.request, &self.plan), &self.stands, &self.water, (self.now, zone))?)
    }

    /// Its steps, told.
    pub fn steps(&self, units: Units, zone: &WallClock) -> Vec<words::ToldStep> {
        words::steps(
            (self.request, &self.plan),
            &self.live,
            &hold_steady_core::steps::steps(self.request, &self.plan, &self.stands, &self.live),
            units,
            &|t| near_time(t, self.now, zone),
        )
    }
}

/// Of a cook that came in a file: what its answer says and is not computed so from what was typed.
pub fn came_otherwise(
    record: &CookRecord,
    origins: &HashMap<Uuid, Origin>,
) -> Result<Option<String>, PageError> {
    let plan = record.plan_record().filter(|p| p.given_by().is_none());
    let Some(plan) = plan.filter(|_| !origins.is_empty()) else { return Ok(None) };
    let differs = plan.checked()?.differs;
    Ok((!differs.is_empty()).then(|| says::came_otherwise(&differs)))
}

/// What is planned; beside what was at first, where that was otherwise.
pub fn planned_words(seen: &Seen<'_>, zone: &WallClock) -> String {
    let (plan, now) = (&seen.plan, seen.now);
    let said = |p: &Plan| {
        format!(
            "drop by {}, {} in the bath, serve {}",
            near_time(p.times.drop_by, now, zone),
            duration(p.bath_min),
            day_and_time(p.times.serve, zone)
        )
    };
    let (stands, first) = (seen.record.plan_record(), seen.record.first_plan());
    let given_by = stands
        .and_then(hold_steady_core::book::PlanRecord::given_by)
        .map_or_else(String::new, |by| says::given_by(&by));
    let first =
        first.filter(|first| stands.is_some_and(|s| s.id != first.id)).and_then(|first| first.plan().ok());
    match first {
        None => format!("Planned: {}.{given_by}", said(plan)),
        Some(first) => format!("Planned first: {}. Planned last: {}.{given_by}", said(&first), said(plan)),
    }
}
