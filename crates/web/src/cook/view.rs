//! What the cook page shows.

use actix_web::HttpRequest;
use actix_web::cookie::{Cookie, SameSite, time::Duration as CookieTime};
use hold_steady_core::book::CookRecord;
use hold_steady_core::cook::{
    CookState, Entry, EventKind, Live, Milestone, Next, Question, Rating, Stage, WayBack, live_here,
    ways_back,
};
use hold_steady_core::figures::limits;
use hold_steady_core::food::{Finish, FoodClass};
use hold_steady_core::plan::{Plan, PlanRequest, Stretch};
use hold_steady_core::safety::{Level, Verdict};
use hold_steady_core::units::{Celsius, Minutes, Units, moved, trimmed};
use hold_steady_core::words;
use hold_steady_store::{Origin, new_id};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use std::collections::HashMap;
use uuid::Uuid;

use crate::app::{
    AppState, PageError, clock_time, day_and_time, duration, near_time, reader_units, unfolded,
};
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
    pub live: Live,
    /// What is over is shown as it was when it was over.
    pub over: Option<Timestamp>,
    pub now: Timestamp,
}

impl<'a> Seen<'a> {
    pub fn of(record: &'a CookRecord, (now, zone): (Timestamp, &TimeZone)) -> Result<Self, PageError> {
        let planned = record.plan_record().ok_or(PageError::NoSuchCook)?;
        let (request, plan, stands) = (&planned.request, planned.plan()?, record.state());
        let over = stands.when(Milestone::Eaten).or(stands.ended());
        // What is kept goes on: it has a last day.
        let over = over.filter(|_| stands.stage() != Stage::Chilled);
        let water = record.water(&stands);
        let live = live_here(request, &plan, &stands, &water, (over.unwrap_or(now), zone))?;
        Ok(Self { record, request, plan, stands, live, over, now })
    }

    /// Whether there is something to be mended.
    pub fn is_troubled(&self) -> bool {
        self.live.fault.is_some() || matches!(self.live.next, Next::NotHere { .. } | Next::ThrowAway(_))
    }

    /// Every way back, with what it gives; `others` are the baths that run, by name.
    fn ways_back(&self, others: &[(String, Celsius)]) -> Result<Vec<WayBack>, PageError> {
        let water = self.record.water(&self.stands);
        Ok(ways_back((self.request, &self.plan), &self.stands, &water, &self.live, others, self.now)?)
    }

    /// Its steps, told.
    pub fn steps(&self, units: Units, zone: &TimeZone) -> Vec<words::ToldStep> {
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
        let zone = &kitchen.zone;
        let &Seen { record, request, ref stands, live: ref l, over, now, .. } = seen;
        let seen_at = over.unwrap_or(now);
        let clock = |t: Timestamp| near_time(t, now, zone);
        let (next, expect) = words::next(l, units, &clock);
        let ways = if seen.is_troubled() { seen.ways_back(others)? } else { Vec::new() };
        let own = record.baths.last().filter(|b| b.vessel.is_some()).map(|b| format!("/bath/runs/{}", b.id));
        let ways = ways.iter().map(|w| {
            let (what, gives) = words::way_back(w, units, &clock);
            match w {
                WayBack::Bath { name, .. } => (format!("{what}: {name}"), gives, Some("/board".into())),
                WayBack::Heat { .. } | WayBack::Kettle { .. } | WayBack::Read { .. } => {
                    (what.to_owned(), gives, own.clone())
                }
                _ => (what.to_owned(), gives, None),
            }
        });
        let pulled = stands.when(Milestone::Pulled);
        let named =
            |name, t: Option<Timestamp>| t.map(|t| Named { name, time: clock_time(t, zone), past: t <= now });
        let times = [
            named("heated through", l.through_at),
            named("pasteurised", l.pasteurised_at),
            named("best until", l.best_until),
            named("not safe from", l.clock_out),
            named("eat, hold hot or chill by", l.eat_by),
        ];
        Ok(Self {
            id: record.id,
            now_ms: now.as_millisecond(),
            rate: state.clock.rate(),
            now: clock_time(now, zone),
            running: over.is_none(),
            fault: l.fault.map(|f| words::fault(&f, units, &clock)),
            grave: l.fault.is_some() && l.next != Next::Pull(hold_steady_core::cook::Pull::Waits),
            ways: ways.collect(),
            mending: matches!(l.next, Next::Mend | Next::NotHere { .. }),
            by: words::is_deadline(&l.next),
            next_time: l.next_at.map(|t| near_time(t, now, zone)),
            next_ms: l.next_at.map_or(0, Timestamp::as_millisecond),
            centre_title: if pulled.is_some() { "centre when pulled" } else { "estimated centre now" },
            centre_note: l.centre_c.map_or_else(String::new, |(_, middle)| {
                format!(
                    "slow end of {} ± {}; {} in the middle; {}",
                    request.how_big(units),
                    units.length(request.spread_mm()),
                    degrees(middle, units),
                    water_words(seen, units, &clock)
                )
            }),
            centre: l.centre_c.map(|(slow, _)| degrees(slow, units)),
            times: times.into_iter().flatten().collect(),
            level: l.verdict.as_ref().map_or("waiting", |v| v.level.id()),
            verdict: l.verdict.as_ref().map(|v| {
                let warming = l.through_at.is_none_or(|t| t > seen_at);
                (verdict_words(v, request.food().class, (l.stage, l.sear_owed), warming), words::why(v, units))
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
                .map(|(at, by_s)| {
                    format!(
                        "At {} this machine’s clock was set {}. The minutes in the bath are counted as they passed; earlier times are shown on the clock as it is now. Look at the clock on the wall.",
                        near_time(at, now, zone),
                        set_words(by_s)
                    )
                })
                .collect(),
            dinner: l.dinner_moved_min(&seen.plan).filter(|_| is_served(&l.next)).map(|moved| {
                let way = if moved > Minutes::ZERO { "late" } else { "early" };
                let at = near_time(l.serve_at, now, zone);
                format!("Dinner is now {at}, {} {way}.", duration(moved.abs()))
            }),
            next,
            expect,
        })
    }
}

/// Whether there is a dinner to speak of.
const fn is_served(next: &Next) -> bool {
    !matches!(
        next,
        Next::ThrowAway(_)
            | Next::NotHere { .. }
            | Next::NotServed(_)
            | Next::Discard { .. }
            | Next::ThrownAway { .. }
    )
}

/// The age of a reading is said from then on.
const OLD: Minutes = Minutes::new(5.0);

/// The water a piece lies in: as it was read last, else as it was set or planned.
fn water_words(seen: &Seen<'_>, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    let water = seen.record.water(&seen.stands);
    let last = water.last();
    let set = last.settings.last().copied();
    let read = last.readings.last().filter(|r| set.is_none_or(|(at, _)| r.at >= at));
    match (read, set) {
        (Some(read), _) => {
            let old = Minutes::between(read.at, seen.now);
            let ago = if old >= OLD { format!(", {} ago", duration(old)) } else { String::new() };
            format!("bath read {} at {}{ago}", units.temperature(read.celsius), clock(read.at))
        }
        (None, Some((_, celsius))) => format!("bath set to {}", units.temperature(celsius)),
        (None, None) => format!("bath {}", units.temperature(seen.request.bath_c)),
    }
}

fn verdict_words(
    verdict: &Verdict,
    class: FoodClass,
    (stage, sear_owed): (Stage, bool),
    warming: bool,
) -> String {
    let headline = words::headline(verdict, class);
    let lower = || {
        let mut letters = headline.chars();
        letters.next().map(|c| c.to_lowercase().chain(letters).collect::<String>()).unwrap_or_default()
    };
    match (verdict.level, stage) {
        (Level::ServeNow, Stage::InBath) if warming => {
            format!("Not heated through; if pulled now: {}", lower())
        }
        (Level::ServeNow | Level::Refused, Stage::InBath) => format!("If pulled now: {}", lower()),
        // A sear that was computed or only begun does nothing: what was seared is what somebody said.
        (Level::ServeNow, _) if sear_owed => {
            format!("Only once every face and edge is seared: {}", lower())
        }
        _ => headline.to_owned(),
    }
}

/// The ribbon by the actual drop, with the time now on it.
pub fn ribbon<'a>(live: &'a Live, stands: &CookState, now: Timestamp, zone: &'a TimeZone) -> Ribbon<'a> {
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
    pub fn of(entry: &Entry, origin: Option<&Origin>, now: Timestamp, zone: &TimeZone, units: Units) -> Self {
        let kind = &entry.event.kind;
        let may_correct = !matches!(
            kind,
            EventKind::Started
                | EventKind::Rated(_)
                | EventKind::Salted { .. }
                | EventKind::Bagged
                | EventKind::Floated { .. }
                | EventKind::HotChecked { .. }
                | EventKind::Leaked
                | EventKind::Moved { .. }
                | EventKind::FinishChosen(_)
                | EventKind::Doubted { .. }
                | EventKind::Meanwhile { .. }
                | EventKind::ClockSet { .. }
        );
        Self {
            id: entry.event.id,
            what: event_word(kind).into(),
            at: near_time(entry.at, now, zone),
            note: notes(entry, origin, now, zone, units).join("; "),
            may_correct,
            may_undo: !matches!(kind, EventKind::Started | EventKind::ClockSet { .. }),
            typed: String::new(),
        }
    }
}

/// What is to be said of an entry besides what and when.
fn notes(
    entry: &Entry,
    origin: Option<&Origin>,
    now: Timestamp,
    zone: &TimeZone,
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
        EventKind::HotChecked { celsius } => notes.push(degrees(*celsius, units)),
        EventKind::FinishChosen(chosen) => notes.push(words::chosen_finish(chosen, units)),
        EventKind::ClockSet { by_s } => notes.push(set_words(*by_s)),
        _ => {}
    }
    // Who it was, where a device says so.
    if !NOBODY.contains(&event.by.as_str()) {
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
    /// What its taps are about.
    pub bag: Option<Uuid>,
    pub piece: Option<Uuid>,
    pub id: Uuid,
    now: Timestamp,
    pub title: String,
    pub sentence: String,
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
    pub events: usize,
    pub steps_open: bool,
    pub log_open: bool,
    /// What else can be wrong, and what to do.
    pub wrong: Vec<(&'static str, String)>,
    pub trouble: [(&'static str, String); 2],
    /// Longest it can have been afloat, whole minutes.
    pub afloat_most: u32,
    pub leaked: bool,
    pub log: Vec<LogLine>,
    pub undone: Vec<LogLine>,
    pub problem: Option<String>,
    /// Out of the bath and not eaten: it may be held hot, chilled or thrown away.
    pub keeping: bool,
    pub core: String,
    pub hot: String,
    /// What an older version wrote down that cannot have happened.
    pub not_counted: Vec<String>,
    pub may_rate: bool,
    pub is_rated: bool,
    pub rating_open: bool,
    pub marks: Vec<MarkRow>,
    pub questions: Vec<AskedView>,
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

/// What has to be asked: in words, and the answers, each with the fields that send it.
pub struct AskedView {
    pub text: String,
    pub event: Uuid,
    /// What is sent, the exact instant where one is chosen, and what stands on the button.
    pub answers: Vec<(&'static str, String, String)>,
}

impl AskedView {
    fn of(question: &Question, now: Timestamp, zone: &TimeZone) -> Self {
        // The hour a clock shows twice is told apart by what the zone calls it.
        let exact = |t: Timestamp| {
            let there = t.to_zoned(zone.clone());
            format!("{} ({})", near_time(t, now, zone), there.strftime("%Z"))
        };
        match question {
            Question::Which { event, what, at, or_at } => Self {
                text: format!(
                    "When was {}? That time was shown twice; until it is said, what is worse counts.",
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

/// Whether it is out of the bath and too late for anything but throwing it away.
fn spoiled(live: &Live) -> bool {
    matches!(live.next, Next::ThrowAway(_) | Next::Discard { .. })
}

fn steps(stage: Stage, finish: &Finish, spoiled: bool) -> Vec<TapButton> {
    let step = |what, text, main| TapButton { what, text, main, sear: what == "seared" };
    match stage {
        _ if spoiled && stage == Stage::InBath => {
            vec![step("discarded", "Thrown away", true), step("pulled", "Pulled", false)]
        }
        _ if spoiled && stage <= Stage::Chilled => {
            vec![step("discarded", "Thrown away", true), step("eaten", "Eaten", false)]
        }
        Stage::Waiting => vec![step("dropped", "Dropped", true)],
        Stage::InBath => vec![step("pulled", "Pulled", true)],
        Stage::Pulled if finish.dries => {
            vec![step("dried", "Dried", true), step("seared", "Seared", false), step("eaten", "Eaten", false)]
        }
        Stage::Pulled if !finish.sears => vec![step("eaten", "Eaten", true)],
        Stage::Pulled => vec![step("seared", "Seared", true), step("eaten", "Eaten", false)],
        Stage::Dried => vec![step("seared", "Seared", true), step("eaten", "Eaten", false)],
        Stage::Seared => vec![step("eaten", "Eaten", true)],
        Stage::Chilled => vec![step("eaten", "Eaten", false), step("discarded", "Thrown away", false)],
        Stage::Eaten | Stage::Discarded => Vec::new(),
    }
}

/// How the clock was set, in words.
fn set_words(by_s: f64) -> String {
    let way = if by_s > 0.0 { "forward" } else { "back" };
    format!("{way} by {}", duration(Minutes::new(by_s.abs() / 60.0)))
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
        let zone = &kitchen.zone;
        let &Seen { record, request, ref plan, ref stands, ref live, now, .. } = seen;
        let finish = request.food().finish();
        let chosen = live.finishing.chosen.as_ref();
        let stage = stands.stage();
        let log = stands.entries.iter().map(|entry| {
            let typed = if typed.about == Some(entry.event.id) { typed.when.clone() } else { String::new() };
            LogLine { typed, ..LogLine::of(entry, origins.get(&entry.event.id), now, zone, units) }
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
        let rating = typed.rating.or_else(|| stands.rating().cloned()).unwrap_or_default();
        let may_rate = stage >= Stage::Pulled;
        let questions = live.questions.iter().map(|q| AskedView::of(q, now, zone)).collect();
        Ok(Self {
            id: record.id,
            questions,
            differs: came_otherwise(seen.record, origins)?,
            now,
            title: record.title_in(units),
            sentence: sentence(request, units),
            planned: format!(
                "Planned: drop by {}, {} in the bath, serve {}.",
                near_time(plan.times.drop_by, now, zone),
                duration(plan.bath_min),
                day_and_time(plan.times.serve, zone)
            ) + &record
                .plan_record()
                .and_then(|p| p.given_by())
                .map_or_else(String::new, |by| format!(" That plan is {by}.")),
            bag: record.only_bag(),
            piece: record.only_piece(),
            steps: steps(stage, finish, spoiled(live)),
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
            events: record.events.len(),
            steps_open: unfolded(http, "steps"),
            log_open: unfolded(http, "log") || typed.about.is_some(),
            wrong: words::wrong(plan, live, units, |t| near_time(t, now, zone)),
            trouble: words::trouble(request),
            afloat_most: stands
                .when(Milestone::Dropped)
                .map_or(0, |d| (Minutes::between(d, now) - stands.afloat_min()).value().max(0.0) as u32),
            leaked: stands.when_done("leaked").is_some(),
            log: log.collect(),
            undone: undone.collect(),
            problem: typed.problem,
            may_rate,
            is_rated: stands.rating().is_some(),
            rating_open: matches!(stage, Stage::Eaten | Stage::Discarded),
            keeping: matches!(stage, Stage::Pulled | Stage::Dried | Stage::Seared),
            core: typed.core,
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
}

/// The checklist of a cook, in the kitchen's time.
pub fn checklist(steps: &[words::ToldStep], now: Timestamp, zone: &TimeZone) -> Vec<CheckLine> {
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

/// What stands for whoever it was where nobody said.
const NOBODY: [&str; 4] = ["kitchen", "clock", "demonstration", "cook"];

pub fn event_word(kind: &EventKind) -> &'static str {
    match kind {
        EventKind::Started => "cook started",
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
        EventKind::HotChecked { .. } => "read while held hot",
        EventKind::Chilled => "chilled to 5 °C",
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
