//! The board as it is shown.

use std::collections::HashMap;

use askama::Template;
use hold_steady_core::board::{Alarm, AlarmKind, Board, Lane, OnBoard, RECENT, ToDo, alarms, shared, to_do};
use hold_steady_core::cook::{Live, Next, Stage};
use hold_steady_core::plan::Windows;
use hold_steady_core::units::{Celsius, Minutes, Units, WallClock, moved, unbroken};
use hold_steady_core::words;
use hold_steady_store::{Device, new_id};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use super::device::clock_of;
use crate::app::{AppState, PageError, bounded, clock_time, near_time};
use crate::drawing::px;
use crate::words::bath as says;

/// Drawings are as wide as their column: places across it are per cent.
const WIDTH: f64 = 100.0;

fn percent(x: f64) -> String {
    format!("{x:.2}%")
}

/// The clock times a board shows at least and at most, from now.
const BACK: SignedDuration = SignedDuration::from_mins(60);
const MOST_BACK: SignedDuration = SignedDuration::from_hours(5);
const AHEAD: SignedDuration = SignedDuration::from_mins(120);
const MOST_AHEAD: SignedDuration = SignedDuration::from_hours(8);

/// The board.
pub struct BoardView {
    pub now_ms: i64,
    pub rate: f64,
    /// What is to be done now, and after it.
    pub first: Option<DoView>,
    pub then: Vec<DoView>,
    /// Bags without a vessel that want different temperatures: which.
    pub loose: Option<String>,
    pub lanes: Vec<LaneView>,
    pub ticks: Vec<(String, String)>,
    pub now_x: String,
    pub now: String,
    /// Baths a bag can be moved into.
    pub baths: Vec<(Uuid, String)>,
    pub tap: Uuid,
}

/// Something to do.
pub struct DoView {
    pub what: String,
    pub title: String,
    pub href: String,
    pub at: Option<(String, i64)>,
    /// That is when it must be done by.
    pub by: bool,
    /// What is wrong with its water, and what mends it.
    pub fault: String,
    pub why: String,
}

/// A bath.
pub struct LaneView {
    pub bath: Uuid,
    pub name: String,
    pub href: Option<String>,
    pub degrees: String,
    /// Whether that was read; else it is only assumed, and marked so.
    pub read: bool,
    pub says: String,
    pub troubles: Vec<(String, String, bool)>,
    /// Its readings of late as a line.
    pub line: String,
    pub low: Option<String>,
    pub clash: bool,
    pub bags: Vec<BagView>,
    /// Its devices: which lie in it, which could.
    pub devices: Vec<(Uuid, String, bool)>,
}

/// A bag.
pub struct BagView {
    pub id: Uuid,
    pub href: String,
    pub title: String,
    pub drawing: String,
    pub centre: Option<String>,
    pub percent: Option<String>,
    /// Centre at the slow end and in the middle of the spreads.
    pub band: Option<(String, String)>,
    pub organisms: Vec<String>,
    pub level: &'static str,
    pub verdict: String,
    pub next: String,
    /// The next limit, in words, on the clock, and for the countdown.
    pub limit: Option<(&'static str, String, i64)>,
    pub movable: bool,
    /// Planned for another time than it is to be pulled now.
    pub was: Option<String>,
    pub piece: Option<Uuid>,
    /// What a probe in it says.
    pub probed: Option<String>,
}

/// Something to be heard.
pub struct AlarmView {
    pub id: String,
    pub ms: i64,
    pub tone: &'static str,
    pub text: String,
    pub act: String,
    /// Where it is, and how warm it is there.
    pub place: String,
    /// Where it is done.
    pub href: String,
    /// From when on it is not safe any more: on the clock, and for the countdown.
    pub until: Option<(String, i64)>,
}

impl AlarmView {
    /// All that rings on a screen, now or later, with what was silenced there.
    pub fn all(
        (board, heard): (&Board, &HashMap<String, Timestamp>),
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Vec<Self> {
        let clock = |t: Timestamp| near_time(t, now, zone);
        let ringing = alarms(board, now).into_iter().filter(|a| a.rings(heard.get(&a.id).copied(), now));
        let view = |a: Alarm| Self {
            ms: a.at.as_millisecond(),
            tone: match a.kind {
                AlarmKind::Due | AlarmKind::Heat => "due",
                AlarmKind::Before(..) => "limit",
                AlarmKind::Wrong(_) => "wrong",
            },
            text: words::alarm(&a, board, units, &clock),
            act: match &a.kind {
                AlarmKind::Wrong(trouble) => words::bath_trouble(trouble, units, &clock).1,
                _ => String::new(),
            },
            place: words::alarm_where(&a, board, units),
            href: match (a.bag.and_then(|i| board.bags.get(i)), a.lane.and_then(|i| board.lanes.get(i))) {
                (Some(bag), _) => format!("/cook/{}", bag.record.id),
                (None, Some(lane)) if lane.named => format!("/bath/runs/{}", lane.bath),
                _ => "/board".into(),
            },
            until: a.unsafe_at.map(|t| (clock(t), t.as_millisecond())),
            id: a.id,
        };
        ringing.map(view).collect()
    }
}

/// Where instants lie across the board.
struct Axis {
    from: Timestamp,
    until: Timestamp,
}

impl Axis {
    fn of(board: &Board, now: Timestamp) -> Self {
        let drops = board.bags.iter().map(|b| b.live.ribbon.drop);
        let ends = board.bags.iter().map(|b| b.live.serve_at);
        let back = now.checked_sub(BACK).unwrap_or(now);
        let earliest = drops.chain([back]).min().unwrap_or(back);
        let from = earliest.max(now.checked_sub(MOST_BACK).unwrap_or(now));
        let ahead = now.checked_add(AHEAD).unwrap_or(now);
        let quarter = SignedDuration::from_mins(30);
        let latest = ends.map(|t| t.checked_add(quarter).unwrap_or(t)).chain([ahead]).max();
        let until = latest.unwrap_or(ahead).min(now.checked_add(MOST_AHEAD).unwrap_or(now));
        Self { from, until }
    }

    fn x(&self, at: Timestamp) -> f64 {
        let all = self.until.duration_since(self.from).as_secs_f64().max(1.0);
        WIDTH * at.duration_since(self.from).as_secs_f64() / all
    }

    /// Within the board.
    fn clipped(&self, at: Timestamp) -> f64 {
        self.x(at).clamp(0.0, WIDTH)
    }

    /// Whole hours, or every second or third where they stand too close.
    fn ticks(&self, zone: &WallClock) -> Vec<(String, String)> {
        /// No two labels nearer, per cent.
        const NEAREST: f64 = 9.0;
        let hour = WIDTH * 3600.0 / self.until.duration_since(self.from).as_secs_f64().max(1.0);
        let every = [1, 2, 3, 6].into_iter().find(|n| hour * f64::from(*n) >= NEAREST).unwrap_or(6);
        let first = self.from.to_zoned(zone.zone());
        let start =
            first.round(jiff::ZonedRound::new().smallest(jiff::Unit::Hour).mode(jiff::RoundMode::Ceil));
        let mut at = start.unwrap_or(first).timestamp();
        let mut all = Vec::new();
        while at < self.until && all.len() < 30 {
            if i32::from(at.to_zoned(zone.zone()).hour()) % every == 0 {
                all.push((percent(self.x(at)), clock_time(at, zone)));
            }
            at = at.checked_add(SignedDuration::from_hours(1)).unwrap_or(self.until);
        }
        all
    }
}

#[derive(Template)]
#[template(path = "board/row.html")]
struct Row {
    bands: Vec<(&'static str, String, String)>,
    marks: Vec<(&'static str, String)>,
    now_x: String,
    summary: String,
}

impl DoView {
    fn of(
        what: ToDo,
        bag: &OnBoard,
        at: Option<Timestamp>,
        units: Units,
        clock: &dyn Fn(Timestamp) -> String,
    ) -> Self {
        let fault = bag.live.fault.filter(|_| what == ToDo::Next);
        Self {
            what: words::to_do(what, &bag.live, units, clock),
            by: what == ToDo::Next && words::is_deadline(&bag.live.next),
            fault: fault.map(|f| words::fault(&f, units, clock)).unwrap_or_default(),
            why: words::next(&bag.live, units, clock).1,
            title: unbroken(&bag.record.title_in(units)),
            href: format!("/cook/{}", bag.record.id),
            at: at.map(|t| (clock(t), t.as_millisecond())),
        }
    }
}

impl BoardView {
    pub fn new(state: &AppState, board: &Board, devices: &[Device], units: Units) -> Result<Self, PageError> {
        let (now, zone) = (state.clock.now(), state.kitchen().wall());
        let axis = Axis::of(board, now);
        let clock = |t: Timestamp| near_time(t, now, &zone);
        let mut all = to_do(board.bags.iter().map(|b| &b.live))
            .into_iter()
            .map(|(what, i, at)| DoView::of(what, &board.bags[i], at, units, &clock));
        let first = all.next();
        let then = all.take(3).collect();
        let loose: Vec<String> = board.loose().iter().map(|(c, _)| units.temperature(*c)).collect();
        let lanes = board
            .lanes
            .iter()
            .map(|lane| LaneView::new(board, lane, devices, &axis, now, &zone, units))
            .collect::<Result<_, _>>()?;
        Ok(Self {
            now_ms: now.as_millisecond(),
            rate: state.clock.rate(),
            first,
            then,
            loose: (!loose.is_empty()).then(|| loose.join(", ")),
            lanes,
            ticks: axis.ticks(&zone),
            now_x: percent(axis.x(now)),
            now: clock_time(now, &zone),
            baths: board.lanes.iter().filter(|l| l.named).map(|l| (l.bath, l.name.clone())).collect(),
            tap: new_id(now),
        })
    }
}

impl LaneView {
    fn new(
        board: &Board,
        lane: &Lane,
        devices: &[Device],
        axis: &Axis,
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Result<Self, PageError> {
        let clock = |t: Timestamp| near_time(t, now, zone);
        let believed = lane.now.last.first();
        let wanted = lane.now.wanted.map(|c| units.temperature(c));
        let degrees = believed.map_or_else(
            || wanted.clone().unwrap_or_else(|| "—".into()),
            |l| units.temperature_fixed(l.trust.corrected(l.read)),
        );
        let by_hand = lane.now.state.aim.is_some();
        let set = wanted.map(|c| if by_hand { format!("to be kept at {c}") } else { format!("set to {c}") });
        let read = believed.map(|l| format!("read at {}", clock(l.at)));
        let assumed = believed.is_none().then(|| "assumed, not read".to_owned());
        let care = lane.now.care.map(|c| words::care(&c, units).0);
        let says: Vec<String> = set.into_iter().chain(assumed).chain(read).chain(care).collect();
        let told = lane.troubles.iter().map(|t| {
            let (what, act) = words::bath_trouble(t, units, &clock);
            (what, act, t.is_grave())
        });
        // A device that lies here and whose clock is off says less than it seems.
        let lies_here = |d: &&Device| d.lies_in.is_some_and(|l| l.bath() == Some(lane.bath));
        let clocks = devices.iter().filter(lies_here).filter_map(|d| {
            Some((format!("{}: {}", d.name, clock_of(d)?), says::SET_ITS_CLOCK.to_owned(), false))
        });
        let bags = lane.bags.iter().map(|i| BagView::new(&board.bags[*i], axis, now, zone, units));
        let lying = |d: &&Device| d.revoked_at.is_none();
        Ok(Self {
            bath: lane.bath,
            name: if lane.named { lane.name.clone() } else { "no vessel named".into() },
            href: lane.named.then(|| format!("/bath/runs/{}", lane.bath)),
            degrees,
            read: believed.is_some(),
            says: says.join(" · "),
            troubles: told.chain(clocks).collect(),
            line: line(lane, now),
            low: lane.low_at.map(|t| format!("lowest line at {}", clock(t))),
            clash: !board.clash(lane).is_empty(),
            bags: bags.collect::<Result<_, _>>()?,
            devices: devices
                .iter()
                .filter(lying)
                .map(|d| (d.id, d.name.clone(), d.lies_in.is_some_and(|l| l.in_water_of(lane.bath))))
                .collect(),
        })
    }
}

/// The readings of late: as high as two degrees at least, so that noise looks like noise.
fn line(lane: &Lane, now: Timestamp) -> String {
    const HIGH: f64 = 30.0;
    const WIDE: f64 = 160.0;
    let c: Vec<f64> = lane.recent.iter().map(|r| r.1.value()).collect();
    if c.len() < 2 {
        return String::new();
    }
    let (low, high) = c.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), c| (l.min(*c), h.max(*c)));
    let middle = f64::midpoint(low, high);
    let span = (high - low).max(2.0);
    let x = |at: Timestamp| WIDE * (1.0 - Minutes::between(at, now).value() / RECENT.value());
    let y = |c: f64| HIGH / 2.0 - (c - middle) / span * (HIGH - 4.0);
    let point = |(at, c): &(Timestamp, Celsius)| format!("{},{}", px(x(*at)), px(y(c.value())));
    lane.recent.iter().map(point).collect::<Vec<_>>().join(" ")
}

/// What it is still on the way to, said with its time; only what is so now is said as a verdict.
fn on_the_way(live: &Live, now: Timestamp, clock: &dyn Fn(Timestamp) -> String) -> Option<String> {
    let goes_on = matches!(live.next, Next::Pull(_));
    let to_come = |t: &Timestamp| *t > now && goes_on && live.stage == Stage::InBath;
    match (live.through_at.filter(to_come), live.pasteurised_at.filter(to_come)) {
        (Some(through), _) => Some(format!("warming through until {}", clock(through))),
        (None, Some(safe)) => Some(format!("heated through, pasteurised at {}", clock(safe))),
        (None, None) => None,
    }
}

/// When its pull was planned, where something went wrong, or late, and has moved it.
fn planned_otherwise(bag: &OnBoard) -> Option<Timestamp> {
    const MOVED: Minutes = Minutes::new(2.0);
    let live = &bag.live;
    let planned = bag.record.plan_record().and_then(|p| p.plan().ok()).map(|p| p.times.pull);
    planned.filter(|was| live.stage == Stage::InBath && Minutes::between(*was, live.pull_at).abs() >= MOVED)
}

impl Row {
    /// Its bands and marks on the board's axis.
    fn of(live: &Live, axis: &Axis, now: Timestamp, summary: String) -> Self {
        let at = |min: Minutes| moved(live.ribbon.drop, min);
        let bands = live.ribbon.bands.iter().filter_map(|b| {
            let (from, until) = (axis.clipped(at(b.from_min)), axis.clipped(at(b.until_min)));
            (until > from).then(|| (b.kind.id(), percent(from), percent(until - from)))
        });
        let within = |t: &Timestamp| (axis.from..=axis.until).contains(t);
        let served = matches!(live.next, Next::Pull(_) | Next::Finish(_) | Next::Mend | Next::Drop { .. });
        let marks = [("pull", Some(live.pull_at)), ("serve", Some(live.serve_at).filter(|_| served))];
        let marks = marks.into_iter().filter_map(|(id, t)| Some((id, percent(axis.x(t.filter(within)?)))));
        Self { bands: bands.collect(), marks: marks.collect(), now_x: percent(axis.x(now)), summary }
    }
}

impl BagView {
    fn new(
        bag: &OnBoard,
        axis: &Axis,
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Result<Self, PageError> {
        let live = &bag.live;
        let clock = |t: Timestamp| near_time(t, now, zone);
        let next = words::next_with_time(live, units, &clock);
        let title = unbroken(&bag.record.title_in(units));
        let class = bag.record.plan_record().map(|p| p.request.food().class);
        let stands = live.verdict.as_ref().zip(class).map(|(v, class)| words::headline(v, class).to_owned());
        let on_the_way = on_the_way(live, now, &clock);
        let level = live.verdict.as_ref().filter(|_| on_the_way.is_none()).map_or("", |v| v.level.id());
        let row = Row::of(live, axis, now, format!("{title}: {next}"));
        let in_bath = live.stage == Stage::InBath;
        // Only of what gets there: “not safe, 99 % of the way” helps nobody.
        let kill = live.kill.as_ref().filter(|_| in_bath && live.pasteurised_at.is_some_and(|t| t > now));
        let each = live
            .kill
            .iter()
            .flat_map(|k| &k.each)
            .map(|(name, log10, target)| words::killed(name, *log10, *target));
        let limit = bag
            .limits(now)
            .first()
            .map(|(limit, t)| (words::bag_limit(*limit), clock(*t), t.as_millisecond()));
        Ok(Self {
            id: bag.record.id,
            href: format!("/cook/{}", bag.record.id),
            drawing: row.render()?,
            title,
            centre: live.centre_c.filter(|_| in_bath).map(|(slow, _)| units.temperature_fixed(slow)),
            percent: kill
                .map(|k| (k.share * 100.0).floor())
                .filter(|p| *p > 0.0)
                .map(|p| format!("{p:.0}\u{a0}%")),
            band: live
                .centre_c
                .filter(|_| in_bath)
                .map(|(slow, middle)| (units.temperature_fixed(slow), units.temperature_fixed(middle))),
            organisms: each.collect(),
            level,
            verdict: on_the_way.or(stands).unwrap_or_default(),
            next,
            limit,
            movable: in_bath,
            was: planned_otherwise(bag).map(|was| format!("(planned {})", clock(was))),
            piece: Some(bag.record.piece.id),
            probed: live.probed.as_ref().filter(|_| in_bath).map(|p| words::probed(p, units, &clock)),
        })
    }
}

/// One bath, and what each of the pieces for it would make of each temperature.
pub struct ClashView {
    pub name: String,
    pub wants: Vec<(String, String)>,
    pub offers: Vec<OfferView>,
}

/// A shared temperature.
pub struct OfferView {
    pub degrees: String,
    pub best: bool,
    pub each: Vec<(String, String, &'static str)>,
}

impl ClashView {
    pub fn new(board: &Board, of: Option<Uuid>, windows: &Windows, units: Units) -> Result<Self, PageError> {
        let (name, bags): (String, Vec<&OnBoard>) = match of {
            Some(bath) => {
                let lane = board.lanes.iter().find(|l| l.bath == bath);
                let lane = lane.ok_or(PageError::Store(hold_steady_store::StoreError::NotFound))?;
                (lane.name.clone(), lane.bags.iter().map(|i| &board.bags[*i]).collect())
            }
            None => {
                let loose = board.loose();
                let bags = loose.iter().flat_map(|(_, bags)| bags.iter().map(|i| &board.bags[*i]));
                ("no vessel named".into(), bags.collect())
            }
        };
        let plans: Vec<_> =
            bags.iter().filter_map(|b| Some((*b, b.record.plan_record()?.request.clone()))).collect();
        let requests: Vec<_> = plans.iter().map(|p| p.1.clone()).collect();
        let title = |i: usize| plans.get(i).map_or_else(String::new, |p| p.0.record.title_in(units));
        let all = bounded(|| shared(&requests, windows))?;
        // The best comes first.
        let offers = all.iter().enumerate().map(|(place, s)| OfferView {
            degrees: units.temperature(s.c),
            best: place == 0,
            each: s
                .each
                .iter()
                .enumerate()
                .map(|(i, e)| {
                    let how = match e.level {
                        None => "is not cooked at that temperature".to_owned(),
                        Some(level) => format!(
                            "{}; {} in the bath, {}",
                            e.done,
                            words::minutes(e.bath_min),
                            words::level(level)
                        ),
                    };
                    (title(i), how, if e.as_wanted { "as wanted" } else { "" })
                })
                .collect(),
        });
        Ok(Self {
            name,
            wants: plans
                .iter()
                .map(|(b, r)| (b.record.title_in(units), units.temperature(r.bath_c)))
                .collect(),
            offers: offers.collect(),
        })
    }
}
