//! The part of the cook page that is fetched anew every few seconds.

use actix_web::HttpRequest;
use hold_steady_core::cook::{CookState, Live, Milestone, Next, Stage};
use hold_steady_core::plan::Stretch;
use hold_steady_core::safety::Verdict;
use hold_steady_core::units::{Celsius, Minutes, WallClock, moved};
use hold_steady_core::words;
use jiff::Timestamp;
use uuid::Uuid;

use super::seen::Seen;
use crate::app::{AppState, PageError, clock_time, near_time, reader_units};
use crate::cook::view::degrees;
use crate::drawing::{Mark, Ribbon, ribbons};

/// A clock time with a name.
pub struct Named {
    pub name: &'static str,
    pub time: String,
    pub past: bool,
}

impl Named {
    /// The times of a cook that are known.
    pub(super) fn all(l: &Live, now: Timestamp, zone: &WallClock) -> Vec<Self> {
        let times = [
            ("heated through", l.through_at),
            ("pasteurised", l.pasteurised_at),
            ("best until", l.best_until),
            ("not safe from", l.clock_out),
            ("eat, hold hot or chill by", l.eat_by),
        ];
        let named = |(name, t): (_, Option<Timestamp>)| {
            t.map(|t| Self { name, time: clock_time(t, zone), past: t <= now })
        };
        times.into_iter().filter_map(named).collect()
    }
}

/// The part of the page that is fetched anew every few seconds.
pub struct LiveView {
    pub id: Uuid,
    pub now_ms: i64,
    pub rate: f64,
    pub now: String,
    pub running: bool,
    /// What is wrong with its water, and every way back.
    pub fault: Option<String>,
    pub grave: bool,
    /// With where it is done, where that is another page.
    pub ways: Vec<(String, String, Option<String>)>,
    /// The water is to be mended: taking the piece out is not what comes next.
    pub mending: bool,
    pub next: String,
    pub next_time: Option<String>,
    pub next_ms: i64,
    /// That is when it must be done by.
    pub by: bool,
    pub expect: String,
    /// Since when it is where it is.
    pub since: Option<String>,
    /// That dinner is at another time than planned.
    pub dinner: Option<String>,
    pub centre: Option<String>,
    pub centre_title: &'static str,
    pub centre_note: String,
    pub times: Vec<Named>,
    pub level: &'static str,
    pub verdict: Option<(String, String)>,
    pub ribbon: String,
    /// How many events there are: another number than the page was made with means other buttons.
    pub events: usize,
    /// Fetched anew: the part further down is put in its place.
    pub again: bool,
    /// That the clock was set meanwhile.
    pub clock_set: Vec<String>,
    /// What a probe in the piece says.
    pub probed: Option<String>,
}

impl LiveView {
    pub fn new(
        state: &AppState,
        http: &HttpRequest,
        seen: &Seen<'_>,
        others: &[(String, Celsius)],
    ) -> Result<Self, PageError> {
        let units = reader_units(http);
        let kitchen = state.kitchen();
        let zone = &kitchen.wall();
        let &Seen { record, request, ref stands, live: ref l, over, now, .. } = seen;
        let seen_at = over.unwrap_or(now);
        let clock = |t: Timestamp| near_time(t, now, zone);
        let (next, expect) = words::next(l, units, &clock);
        let pulled = stands.when(Milestone::Pulled);
        let verdict = |v: &Verdict| {
            let warming = l.through_at.is_none_or(|t| t > seen_at);
            let told = words::stands_as(v, request.food().class, l.stage, (warming, l.sear_owed));
            (told, words::why(v, units))
        };
        let probed = l.probed.as_ref().filter(|_| l.stage == Stage::InBath);
        let clock_set = stands.clock_set().into_iter();
        let clock_set = clock_set.map(|(at, by_s)| words::clock_was_set(by_s, &clock(at)));
        Ok(Self {
            id: record.id,
            now_ms: now.as_millisecond(),
            rate: state.clock.rate(),
            now: clock_time(now, zone),
            running: over.is_none(),
            fault: l.fault.map(|f| words::fault(&f, units, &clock)),
            grave: l.fault.is_some() && l.next != Next::Pull(hold_steady_core::cook::Pull::Waits),
            ways: seen.ways_shown(others, units, &clock)?,
            since: words::since(stands, seen_at, &clock),
            mending: matches!(l.next, Next::Mend | Next::NotHere { .. }),
            by: words::is_deadline(&l.next),
            next_time: l.next_at.map(clock),
            next_ms: l.next_at.map_or(0, Timestamp::as_millisecond),
            centre_title: if pulled.is_some() { "centre when pulled" } else { "estimated centre now" },
            centre_note: l.centre_c.map_or_else(String::new, |(_, middle)| {
                let water = words::water_known(request, &seen.water, now, units, &clock);
                format!("at least; most likely {}; {water}", degrees(middle, units))
            }),
            centre: l.centre_c.map(|(slow, _)| degrees(slow, units)),
            times: Named::all(l, now, zone),
            level: l.verdict.as_ref().map_or("waiting", |v| v.level.id()),
            verdict: l.verdict.as_ref().map(verdict),
            ribbon: ribbons(&ribbon(l, stands, now, zone))?,
            events: record.events.len(),
            again: false,
            probed: probed.map(|p| words::probed(p, units, &clock)),
            clock_set: clock_set.collect(),
            dinner: words::dinner(l, &seen.plan, &clock),
            next,
            expect,
        })
    }
}

/// The ribbon by the actual drop, with the time now on it.
pub fn ribbon<'a>(live: &'a Live, stands: &CookState, now: Timestamp, zone: &'a WallClock) -> Ribbon<'a> {
    let drop = live.ribbon.drop;
    let min = |t: Timestamp| Minutes::between(drop, t);
    let mark = |id, word: &str, t: Timestamp| Mark {
        id,
        text: format!("{word} {}", clock_time(t, zone)),
        min: min(t),
    };
    let is = |m| stands.when(m).is_some();
    let mut marks = vec![
        mark("pull", if is(Milestone::Pulled) { "pulled" } else { "pull" }, live.pull_at),
        mark("drop", if is(Milestone::Dropped) { "dropped" } else { "drop" }, drop),
    ];
    let in_bath = is(Milestone::Dropped) && !is(Milestone::Pulled);
    if in_bath && min(now) <= live.ribbon.horizon_min {
        marks.push(Mark { id: "now", text: String::new(), min: min(now) });
    }
    Ribbon {
        drop,
        zone,
        bands: &live.ribbon.bands,
        curve: &[],
        marks,
        horizon_min: live.ribbon.horizon_min,
        summary: {
            let part = |b: &Stretch| {
                format!("{} until {}", b.kind.words(), clock_time(moved(drop, b.until_min), zone))
            };
            let parts: Vec<String> = live.ribbon.bands.iter().map(part).collect();
            let now = if in_bath { format!(" It is {} now.", clock_time(now, zone)) } else { String::new() };
            format!("From the drop at {}: {}.{now}", clock_time(drop, zone), parts.join("; "))
        },
    }
}
