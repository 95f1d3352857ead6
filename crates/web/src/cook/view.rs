//! What the cook page shows.

use actix_web::HttpRequest;
use actix_web::cookie::{Cookie, SameSite, time::Duration as CookieTime};
use hold_steady_core::bath::{BathHistory, Heat};
use hold_steady_core::book::{BathRecord, CookRecord, derived_id};
use hold_steady_core::cook::{
    CookState, Entry, EventKind, Kept, Live, Milestone, Next, Purpose, Question, Rating, Stage, WayBack,
    if_put_back, live_here, ways_back,
};
use hold_steady_core::figures::limits;
use hold_steady_core::food::Finish;
use hold_steady_core::keep::{Storage, StorageKind};
use hold_steady_core::plan::{Guest, Plan, PlanRequest, Stretch};
use hold_steady_core::units::{Celsius, Minutes, Units, WallClock, capitalised, moved, trimmed, unbroken};
use hold_steady_core::words;
use hold_steady_store::{Origin, new_id};
use jiff::Timestamp;
use std::collections::HashMap;
use uuid::Uuid;

use crate::app::{
    AppState, PageError, clock_time, day_and_time, duration, near_time, reader_units, unfolded,
};
use crate::bath::{Off, last_word};
use crate::drawing::{Mark, Ribbon, ribbons};

/// What was typed and could not be taken, to be shown again.
#[derive(Default)]
pub struct Typed {
    pub problem: Option<String>,
    /// The entry a correction was about.
    pub about: Option<Uuid>,
    pub when: String,
    pub faces: String,
    pub core: String,
    pub rating: Option<Rating>,
    /// Whom it is for, where somebody was named.
    pub guest: Option<Guest>,
    /// What the kitchen keeps things cold in, where it is asked for.
    pub storages: Vec<Storage>,
    /// A bath that was off, and why it cannot have been so.
    pub off: Option<(Off, String)>,
}

/// The bath it lies in, and when something was last known of that or of it; none where it was never dropped.
pub fn lies_in(record: &CookRecord, state: &CookState) -> Option<(Uuid, Timestamp)> {
    let stay = record.immersions(state).pop()?;
    let bath = record.baths.iter().find(|b| b.id == stay.bath)?;
    // A drop written down in the second the bath was filled lies before it.
    Some((bath.id, last_word(bath, stay.from).max(stay.from).max(bath.began_at)))
}

/// To say that its bath was off.
pub struct OffView {
    /// Since when nobody knows, where nothing is typed.
    pub since: String,
    pub typed: Off,
    /// Why it cannot have been so as it was typed.
    pub problem: Option<String>,
}

impl OffView {
    /// Of what lies in a bath that a heater holds.
    fn of(seen: &Seen<'_>, typed: Option<(Off, String)>, zone: &WallClock) -> Option<Self> {
        let (bath, since) = lies_in(seen.record, &seen.stands)?;
        let by_hand = |b: &BathRecord| b.vessel.as_ref().is_some_and(|v| v.vessel.heat != Heat::Heater);
        if seen.record.baths.iter().any(|b| b.id == bath && by_hand(b)) {
            return None;
        }
        let (typed, problem) = typed.map_or_else(Default::default, |(off, problem)| (off, Some(problem)));
        Some(Self { since: near_time(since, seen.now, zone), typed, problem })
    }
}

pub fn degrees(c: Celsius, units: Units) -> String {
    units.temperature_fixed(c)
}

/// A clock time with a name.
pub struct Named {
    pub name: &'static str,
    pub time: String,
    pub past: bool,
}

impl Named {
    /// The times of a cook that are known.
    fn all(l: &Live, now: Timestamp, zone: &WallClock) -> Vec<Self> {
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
    fn ways_shown(
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
    fn if_put_back(&self, zone: &WallClock) -> Result<Option<Live>, PageError> {
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
            next_time: l.next_at.map(|t| near_time(t, now, zone)),
            next_ms: l.next_at.map_or(0, Timestamp::as_millisecond),
            centre_title: if pulled.is_some() { "centre when pulled" } else { "estimated centre now" },
            centre_note: l.centre_c.map_or_else(String::new, |(_, middle)| {
                format!(
                    "at least; most likely {}; {}",
                    degrees(middle, units),
                    words::water_known(request, &seen.water, now, units, &clock)
                )
            }),
            centre: l.centre_c.map(|(slow, _)| degrees(slow, units)),
            times: Named::all(l, now, zone),
            level: l.verdict.as_ref().map_or("waiting", |v| v.level.id()),
            verdict: l.verdict.as_ref().map(|v| {
                let warming = l.through_at.is_none_or(|t| t > seen_at);
                let told = words::stands_as(v, request.food().class, l.stage, (warming, l.sear_owed));
                (told, words::why(v, units))
            }),
            ribbon: ribbons(&ribbon(l, stands, now, zone))?,
            events: record.events.len(),
            again: false,
            probed: l
                .probed
                .as_ref()
                .filter(|_| l.stage == Stage::InBath)
                .map(|p| words::probed(p, units, &|t| near_time(t, now, zone))),
            clock_set: stands
                .clock_set()
                .into_iter()
                .map(|(at, by_s)| words::clock_was_set(by_s, &near_time(at, now, zone)))
                .collect(),
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

/// A step that can be tapped.
pub struct TapButton {
    pub what: &'static str,
    pub text: &'static str,
    pub main: bool,
    pub sear: bool,
}

/// A line of what happened.
pub struct LogLine {
    pub id: Uuid,
    pub what: String,
    pub at: String,
    pub note: String,
    pub may_correct: bool,
    pub may_undo: bool,
    /// The time typed for a correction that could not be taken.
    pub typed: String,
}

impl LogLine {
    /// An entry, with where it came from if it was not written down here.
    pub fn of(
        (record, entry): (&CookRecord, &Entry),
        origin: Option<&Origin>,
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Self {
        let kind = &entry.event.kind;
        Self {
            id: entry.event.id,
            what: event_word(kind).into(),
            at: near_time(entry.at, now, zone),
            note: notes((record, entry), origin, now, zone, units).join("; "),
            may_correct: kind.may_be_corrected(),
            may_undo: kind.traits().undone,
            typed: String::new(),
        }
    }
}

/// What is to be said of an entry besides what and when.
fn notes(
    (record, entry): (&CookRecord, &Entry),
    origin: Option<&Origin>,
    now: Timestamp,
    zone: &WallClock,
    units: Units,
) -> Vec<String> {
    let (event, written) = (&entry.event, entry.event.recorded_at);
    let mut notes = Vec::new();
    if entry.corrected {
        notes.push(format!("corrected from {}", near_time(event.happened_at, now, zone)));
    } else if written.duration_since(event.happened_at).as_secs() > 90 {
        notes.push(format!("written down at {}", near_time(written, now, zone)));
    }
    match &event.kind {
        EventKind::Seared { faces_s, covered } => {
            let turns: Vec<String> = faces_s.iter().map(|f| format!("{f:.0}")).collect();
            notes.push(format!("{} s", turns.join(" + ")));
            notes.extend(covered.map(|c| c.words().to_owned()));
        }
        EventKind::Salted { percent } => notes.push(format!("{} %", trimmed(*percent, 2))),
        EventKind::Floated { afloat_min } => {
            notes.push(format!("up to {} not counted as cooking", duration(*afloat_min)));
        }
        EventKind::CoreRead { celsius, .. } => notes.push(degrees(*celsius, units)),
        EventKind::FinishChosen(chosen) => notes.push(words::chosen_finish(chosen, units)),
        EventKind::ClockSet { by_s } => notes.push(words::set_by(*by_s)),
        EventKind::Replanned { .. } | EventKind::PieceCorrected { .. } => {
            let plans = record.replanned_by(event.id);
            notes.extend(plans.into_iter().flat_map(|(before, after)| {
                words::planned_anew(&before.request, &after.request, units, &|t| near_time(t, now, zone))
            }));
        }
        EventKind::Kept(kept) => notes.push(words::kept_in(kept)),
        EventKind::Started
        | EventKind::Bagged
        | EventKind::Dropped
        | EventKind::Moved { .. }
        | EventKind::Leaked
        | EventKind::Pulled
        | EventKind::Dried
        | EventKind::Eaten
        | EventKind::Chilled
        | EventKind::Discarded
        | EventKind::Rated(_)
        | EventKind::Corrected { .. }
        | EventKind::Undone { .. }
        | EventKind::Doubted { .. }
        | EventKind::Meanwhile { .. }
        | EventKind::Deleted
        | EventKind::Restored => {}
    }
    // Who it was, where a device says so.
    if event.by.is_somebody() {
        notes.push(format!("by {}", event.by));
    }
    if let Some(origin) = origin {
        notes.push(format!(
            "not written down here: imported {} by {} from the file {}…",
            day_and_time(origin.at, zone),
            origin.by,
            &origin.sha256[..12.min(origin.sha256.len())]
        ));
    }
    notes
}

/// A mark of the rating with its choices: value, words, whether it is chosen.
pub struct MarkRow {
    pub name: &'static str,
    pub label: &'static str,
    pub choices: Vec<(i8, &'static str, bool)>,
}

/// The part of the page that stays while the clocks run.
pub struct CookView {
    pub id: Uuid,
    /// This machine was away, and nobody said since what the bath did: which, the event that says so, the question.
    pub unwatched: Option<(Uuid, Uuid, String)>,
    /// Chilled: where it is kept, and where it can be put away; none where it is not kept.
    pub keep: Option<KeepView>,
    now: Timestamp,
    pub title: String,
    pub sentence: String,
    /// The piece was written down wrong at first.
    pub corrected: bool,
    /// The guest it is for, and what they must not eat of it.
    pub guest: Option<String>,
    pub must_not: Option<String>,
    pub planned: String,
    pub steps: Vec<TapButton>,
    pub when: String,
    pub faces: String,
    pub face_s: f64,
    /// How it is finished: as chosen, else as usual.
    pub finish: String,
    /// The work as a list, and what to do when something goes wrong in the bath.
    pub checklist: Vec<CheckLine>,
    pub salt_percent: String,
    pub guide: bool,
    pub in_bath: bool,
    pub waiting: bool,
    /// The plan that stands, and when it is served by it, where guests may come at another time.
    pub guests_at: Option<(Uuid, String)>,
    pub events: usize,
    pub steps_open: bool,
    pub log_open: bool,
    /// What else can be wrong, and what to do.
    pub wrong: Vec<(&'static str, String)>,
    pub trouble: [(&'static str, String); 2],
    /// Longest it can have been afloat, whole minutes.
    pub afloat_most: u32,
    pub leaked: bool,
    pub off: Option<OffView>,
    pub log: Vec<LogLine>,
    pub undone: Vec<LogLine>,
    pub problem: Option<String>,
    /// Out of the bath and not eaten: it may be held hot, chilled or thrown away.
    pub keeping: bool,
    pub core: String,
    pub hot: String,
    /// What it is chilled to.
    pub cold: String,
    /// What an older version wrote down that cannot have happened.
    pub not_counted: Vec<String>,
    pub may_rate: bool,
    pub is_rated: bool,
    pub rating_open: bool,
    pub marks: Vec<MarkRow>,
    pub questions: Vec<AskedView>,
    /// What was written down just now, to be taken back.
    pub just: Option<JustDone>,
    /// What it gives to put back what was pulled.
    pub back: Option<String>,
    /// What its answer says and is not computed so, of one that came in a file.
    pub differs: Option<String>,
    pub note: String,
    pub next_time: String,
}

/// Of a cook that came in a file: what its answer says and is not computed so from what was typed.
pub fn came_otherwise(
    record: &CookRecord,
    origins: &HashMap<Uuid, Origin>,
) -> Result<Option<String>, PageError> {
    let plan = record.plan_record().filter(|p| p.given_by().is_none());
    let Some(plan) = plan.filter(|_| !origins.is_empty()) else { return Ok(None) };
    let differs = plan.checked()?.differs;
    Ok((!differs.is_empty()).then(|| {
        format!("This cook came in a file whose answer is not what is computed from it: {}. What was said then stands below.", differs.join(", "))
    }))
}

/// What the second entry of a piece put back is named after.
pub const BACK_IN: &str = "out";

/// So long what was written down can be taken back where it was tapped.
const JUST: Minutes = Minutes::new(2.0);

/// The last thing written down, while it is fresh.
pub struct JustDone {
    pub what: String,
    /// What undoes it, and what stands on that button; nothing where one tap was two entries.
    pub undo: Option<(Uuid, &'static str)>,
    /// Until when it is offered, ms.
    pub until_ms: i64,
}

impl JustDone {
    fn of(seen: &Seen<'_>, zone: &WallClock) -> Option<Self> {
        let &Seen { record, ref stands, now, .. } = seen;
        let last = record.events.iter().map(|e| &e.event).max_by_key(|e| e.recorded_at)?;
        let until = moved(last.recorded_at, JUST);
        if now >= until {
            return None;
        }
        let said = |e: &Entry| format!("{} {}", event_word(&e.event.kind), near_time(e.at, now, zone));
        let back_in = matches!(last.kind, EventKind::Floated { .. } | EventKind::Meanwhile { .. })
            && stands
                .undone
                .iter()
                .any(|(undo, e)| e.event.kind == EventKind::Pulled && derived_id(*undo, BACK_IN) == last.id);
        let (what, undo) = match &last.kind {
            _ if back_in => (format!("Back in the bath {}", near_time(last.happened_at, now, zone)), None),
            EventKind::Undone { .. } => {
                let (undo, entry) = stands.undone.iter().find(|(undo, _)| *undo == last.id)?;
                (format!("Undone: {}", said(entry)), Some((*undo, "Put it back")))
            }
            EventKind::Replanned { .. } => {
                let told = words::stands_by(&seen.live, &|t| near_time(t, now, zone));
                (told, Some((last.id, "Undo")))
            }
            _ => {
                let entry = stands.entries.iter().find(|e| e.event.id == last.id)?;
                entry.event.kind.traits().undone.then_some(())?;
                (capitalised(&said(entry)), Some((last.id, "Undo")))
            }
        };
        Some(Self { what, undo, until_ms: until.as_millisecond() })
    }
}

/// What has to be asked: in words, and the answers, each with the fields that send it.
pub struct AskedView {
    pub text: String,
    pub event: Uuid,
    /// What is sent, the exact instant where one is chosen, and what stands on the button.
    pub answers: Vec<(&'static str, String, String)>,
}

impl AskedView {
    fn of(question: &Question, now: Timestamp, zone: &WallClock) -> Self {
        // The hour a clock shows twice is told apart by what the zone calls it.
        let exact = |t: Timestamp| {
            let there = t.to_zoned(zone.zone());
            format!("{} ({})", near_time(t, now, zone), there.strftime("%Z"))
        };
        match question {
            Question::Which { event, what, at, or_at } => Self {
                text: format!(
                    "When was {}? That time can be meant in two ways; until it is said, what is worse counts.",
                    what
                ),
                event: *event,
                answers: [at, or_at]
                    .into_iter()
                    .map(|t| ("corrected", t.as_microsecond().to_string(), exact(*t)))
                    .collect(),
            },
            Question::Where(m) => Self {
                text: format!(
                    "The pull was undone {} after it: where was it from {} to {}? Until it is said, it counts as out, and as the worst.",
                    duration(Minutes::between(m.from, m.until)),
                    near_time(m.from, now, zone),
                    near_time(m.until, now, zone)
                ),
                event: m.undo,
                answers: vec![
                    ("was-in", String::new(), "In the bath".into()),
                    ("was-out", String::new(), "Out of it".into()),
                ],
            },
        }
    }
}

/// The taps there are, the one the page expects first. None is expected of what is not to be served: the next step of its
/// finish, offered in large, would be read as leave to go on.
fn steps(stage: Stage, finish: &Finish, next: &Next) -> Vec<TapButton> {
    let step = |what, text, main| TapButton { what, text, main, sear: what == "seared" };
    let spoiled = matches!(next, Next::ThrowAway(_) | Next::Discard { .. });
    let served = !matches!(next, Next::NotServed(_));
    let (dried, seared, eaten) =
        (step("dried", "Dried", served), step("seared", "Seared", false), step("eaten", "Eaten", false));
    let mut steps = match stage {
        _ if spoiled && stage == Stage::InBath => {
            vec![step("discarded", "Thrown away", true), step("pulled", "Pulled", false)]
        }
        _ if spoiled && stage <= Stage::Chilled => {
            vec![step("discarded", "Thrown away", true), step("eaten", "Eaten", false)]
        }
        Stage::Waiting => vec![step("dropped", "Dropped", true)],
        Stage::InBath => vec![step("pulled", "Pulled", true)],
        Stage::Pulled if finish.dries => vec![dried, seared, eaten],
        Stage::Pulled if !finish.sears => vec![step("eaten", "Eaten", served)],
        Stage::Pulled | Stage::Dried => vec![step("seared", "Seared", served), eaten],
        Stage::Seared => vec![step("eaten", "Eaten", served)],
        Stage::Chilled => vec![step("eaten", "Eaten", false), step("discarded", "Thrown away", false)],
        Stage::Eaten | Stage::Discarded => Vec::new(),
    };
    if !served && stage > Stage::InBath && stage < Stage::Chilled {
        steps.push(step("discarded", "Thrown away", false));
    }
    steps
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
        .map_or_else(String::new, |by| format!(" That plan is {by}."));
    let first =
        first.filter(|first| stands.is_some_and(|s| s.id != first.id)).and_then(|first| first.plan().ok());
    match first {
        None => format!("Planned: {}.{given_by}", said(plan)),
        Some(first) => format!("Planned first: {}. Planned last: {}.{given_by}", said(&first), said(plan)),
    }
}

/// Where something is kept, and where else it can be.
pub struct KeepView {
    pub is_in: Option<String>,
    /// For the form: its word, what it is called, whether it is there.
    pub places: Vec<(String, String, bool)>,
}

impl KeepView {
    fn of(seen: &Seen<'_>, storages: &[Storage], zone: &WallClock) -> Option<Self> {
        let stands = &seen.stands;
        let kept = matches!(seen.live.next, Next::KeepCold { .. } | Next::KeepFrozen { .. });
        if stands.stage() != Stage::Chilled || !kept {
            return None;
        }
        let now = stands.kept();
        let at = now.and_then(|(_, k)| k.storage.as_ref()).map(|s| s.id);
        let frozen = now.is_some_and(|(_, k)| k.frozen);
        let named = storages.iter().map(|s| (s.id.to_string(), s.name.clone(), at == Some(s.id)));
        let unnamed = [StorageKind::Refrigerator, StorageKind::Freezer].map(|kind| {
            let here = at.is_none() && now.is_some() && frozen == (kind == StorageKind::Freezer);
            (kind.id().to_owned(), format!("a {}", words::storage_kind(kind)), here)
        });
        Some(Self {
            is_in: now.map(|(since, kept)| {
                format!("{} since {}.", capitalised(&words::kept_in(kept)), near_time(since, seen.now, zone))
            }),
            places: named.chain(unnamed).collect(),
        })
    }
}

impl CookView {
    /// An identifier for one tap: sent again, it is the same tap.
    pub fn tap(&self) -> Uuid {
        new_id(self.now)
    }

    pub fn new(
        state: &AppState,
        http: &HttpRequest,
        seen: &Seen<'_>,
        origins: &HashMap<Uuid, Origin>,
        typed: Typed,
    ) -> Result<Self, PageError> {
        let units = reader_units(http);
        let kitchen = state.kitchen();
        let zone = &kitchen.wall();
        let &Seen { record, request, ref plan, ref stands, ref live, now, .. } = seen;
        let finish = request.food().finish();
        let chosen = live.finishing.chosen.as_ref();
        let stage = stands.stage();
        let log = stands.entries.iter().map(|entry| {
            let typed = if typed.about == Some(entry.event.id) { typed.when.clone() } else { String::new() };
            LogLine { typed, ..LogLine::of((record, entry), origins.get(&entry.event.id), now, zone, units) }
        });
        let undone = stands.undone.iter().map(|(undo, e)| LogLine {
            id: *undo,
            what: event_word(&e.event.kind).into(),
            at: near_time(e.at, now, zone),
            note: String::new(),
            may_correct: false,
            may_undo: true,
            typed: String::new(),
        });
        let rating = typed.rating.clone().or_else(|| stands.rating().cloned()).unwrap_or_default();
        let may_rate = stage >= Stage::Pulled;
        let questions = live.questions.iter().map(|q| AskedView::of(q, now, zone)).collect();
        Ok(Self {
            id: record.id,
            unwatched: record.unwatched(stands).map(|(bath, u)| {
                (bath, u.event, words::was_it_on((u.from, u.until), &|t| near_time(t, now, zone)))
            }),
            keep: KeepView::of(seen, &typed.storages, zone),
            questions,
            just: JustDone::of(seen, zone),
            back: seen.if_put_back(zone)?.map(|back| {
                let out = stands.when(Milestone::Pulled).map_or(Minutes::ZERO, |p| Minutes::between(p, now));
                words::put_back(&back, out, &|t| near_time(t, now, zone))
            }),
            differs: came_otherwise(seen.record, origins)?,
            now,
            title: unbroken(&record.title_in(units)),
            sentence: sentence(request, units),
            planned: planned_words(seen, zone),
            corrected: stands.piece_corrected().is_some(),
            guest: typed.guest.as_ref().map(Guest::called),
            must_not: words::must_not_eat(request, typed.guest.as_slice()),
            steps: steps(stage, finish, &live.next),
            when: if typed.about.is_none() { typed.when.clone() } else { String::new() },
            faces: typed.faces,
            face_s: chosen.map_or(finish.face_s.unwrap_or_default(), |c| {
                c.pattern.face_s / f64::from(c.pattern.times.max(1))
            }),
            finish: match chosen {
                Some(chosen) => words::chosen_finish(chosen, units),
                None => {
                    format!("{}, about {:.0} s on a face", finish.name, finish.face_s.unwrap_or_default())
                }
            },

            checklist: checklist(&seen.steps(units, zone), now, zone),
            salt_percent: trimmed(
                words::before(request, plan.bath_min, plan.through.slow, units).salt.percent,
                3,
            ),
            guide: guided(http),
            in_bath: stage == Stage::InBath,
            waiting: stage == Stage::Waiting,
            guests_at: record
                .plan_record()
                .filter(|_| stage <= Stage::InBath && !matches!(live.next, Next::ThrowAway(_)))
                .map(|standing| (standing.id, near_time(live.serve_at, now, zone))),
            events: record.events.len(),
            steps_open: unfolded(http, "steps"),
            log_open: unfolded(http, "log") || typed.about.is_some(),
            wrong: words::wrong(plan, live, units, |t| near_time(t, now, zone)),
            trouble: words::trouble(request),
            afloat_most: stands
                .when(Milestone::Dropped)
                .map_or(0, |d| (Minutes::between(d, now) - stands.afloat_min()).value().max(0.0) as u32),
            leaked: stands.when_done("leaked").is_some(),
            off: OffView::of(seen, typed.off, zone),
            log: log.collect(),
            undone: undone.collect(),
            problem: typed.problem,
            may_rate,
            is_rated: stands.rating().is_some(),
            rating_open: matches!(stage, Stage::Eaten | Stage::Discarded),
            keeping: matches!(stage, Stage::Pulled | Stage::Dried | Stage::Seared),
            core: typed.core,
            cold: limits().zone_low_c.degrees(units),
            hot: degrees(Celsius::new(limits().hot_hold_c.value), units),
            not_counted: stands
                .not_counted
                .iter()
                .map(|(e, why)| {
                    format!("{} at {}: {why}", event_word(&e.kind), near_time(e.happened_at, now, zone))
                })
                .collect(),
            marks: marks(&rating, finish.sears),
            note: rating.note,
            next_time: rating.next_time,
        })
    }
}

/// A line of the checklist.
pub struct CheckLine {
    pub id: String,
    pub at: String,
    pub what: String,
    pub why: String,
    pub expect: Option<&'static str>,
    /// The event that can be tapped here.
    pub tap: Option<&'static str>,
    pub done: Option<String>,
    /// Something after it is done.
    pub passed: bool,
}

/// The checklist of a cook, in the kitchen's time.
pub fn checklist(steps: &[words::ToldStep], now: Timestamp, zone: &WallClock) -> Vec<CheckLine> {
    steps
        .iter()
        .map(|s| CheckLine {
            id: s.id.clone(),
            at: near_time(s.at, now, zone),
            what: s.what.clone(),
            why: s.why.clone(),
            expect: s.expect,
            // The others have their large button above.
            tap: s.tap.filter(|t| matches!(*t, "salted" | "bagged") && s.done.is_none()),
            done: s.done.map(|t| near_time(t, now, zone)),
            passed: s.passed,
        })
        .collect()
}

const GUIDE: &str = "guide";

/// Whether this reader wants to be told what to expect: until it is dismissed.
pub fn guided(http: &HttpRequest) -> bool {
    http.cookie(GUIDE).is_none_or(|c| c.value() != "off")
}

/// The cookie that remembers it.
pub fn guide_cookie(on: bool) -> Cookie<'static> {
    Cookie::build(GUIDE, if on { "on" } else { "off" })
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(CookieTime::days(400))
        .finish()
}

pub fn event_word(kind: &EventKind) -> &'static str {
    match kind {
        EventKind::Started => "cook started",
        EventKind::Replanned { .. } => "planned anew",
        EventKind::PieceCorrected { .. } => "the piece corrected",
        EventKind::Salted { .. } => "salted",
        EventKind::Bagged => "bagged",
        EventKind::Dropped => "dropped",
        EventKind::Floated { .. } => "floated",
        EventKind::Moved { .. } => "moved to another bath",
        EventKind::Leaked => "leaked",
        EventKind::Pulled => "pulled",
        EventKind::Dried => "dried",
        EventKind::Seared { .. } => "seared",
        EventKind::FinishChosen(_) => "finish chosen",
        EventKind::Eaten => "eaten",
        EventKind::CoreRead { purpose: Purpose::HotHold, .. } => "read while held hot",
        EventKind::CoreRead { purpose: Purpose::Chill, .. } => "read while it chilled",
        EventKind::CoreRead { purpose: Purpose::Finish, .. } => "read while it was finished",
        EventKind::CoreRead { purpose: Purpose::Check, .. } => "its core read",
        EventKind::Chilled => "chilled",
        EventKind::Kept(Kept { frozen: true, .. }) => "put into a freezer",
        EventKind::Kept(Kept { frozen: false, .. }) => "put away cold",
        EventKind::Discarded => "thrown away",
        EventKind::Rated(_) => "rated",
        EventKind::Corrected { .. } => "corrected",
        EventKind::Undone { .. } => "undone",
        EventKind::Doubted { .. } => "its time is in doubt",
        EventKind::Meanwhile { in_bath: true, .. } => "it was in the bath meanwhile",
        EventKind::Meanwhile { in_bath: false, .. } => "it was out of the bath meanwhile",
        EventKind::ClockSet { .. } => "the clock was set",
        EventKind::Deleted => "taken off the lists",
        EventKind::Restored => "put back",
    }
}

pub fn sentence(request: &PlanRequest, units: Units) -> String {
    format!(
        "{}, {}; bath {}",
        request.how_big(units),
        request.conditions(),
        units.temperature(request.bath_c)
    )
}

fn marks(rating: &Rating, seared: bool) -> Vec<MarkRow> {
    let row = |name, label, words: [&'static str; 5], chosen: Option<u8>| MarkRow {
        name,
        label,
        choices: words
            .into_iter()
            .zip(1_i8..)
            .map(|(w, v)| (v, w, chosen.is_some_and(|c| i16::from(c) == i16::from(v))))
            .collect(),
    };
    let centre = MarkRow {
        name: "centre",
        label: "Centre, against what was wanted",
        choices: words::CENTRES.into_iter().map(|(v, w)| (v, w, rating.centre == Some(v))).collect(),
    };
    let tender =
        row("tenderness", "Tenderness", ["tough", "chewy", "fair", "tender", "melting"], rating.tenderness);
    // What was never seared has no band and no crust to judge.
    if !seared {
        return vec![centre, tender];
    }
    vec![
        centre,
        row("band", "Grey band", ["none", "barely there", "thin", "plainly there", "thick"], rating.band),
        tender,
        row("crust", "Crust", ["none", "pale", "golden", "brown", "deep"], rating.crust),
    ]
}
