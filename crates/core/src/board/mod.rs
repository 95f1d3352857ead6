//! The live board: every bath of a kitchen with what lies in it, what goes wrong there, and which limits come next.

mod alarm;
mod shared;
mod trouble;

pub use alarm::{Alarm, AlarmKind, alarms};
pub use shared::{AtShared, Shared, shared};
pub use trouble::{Trouble, troubles};

use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use crate::bath::{Air, BathNow, Dip, Taps, WaterRead, bath_now, usual_taps};
use crate::book::{BathRecord, CookRecord, usual_air};
use crate::cook::{Live, Next, Stage};
use crate::units::{Celsius, Minutes, moved};

/// A bag on the board.
#[derive(Debug, Clone)]
pub struct OnBoard {
    /// Its cook, with all that is written down of it.
    pub record: CookRecord,
    /// Where it stands.
    pub live: Live,
}

impl OnBoard {
    /// The bath it lies in now, or is to go into.
    #[must_use]
    pub(crate) fn bath(&self) -> Uuid {
        let stays = self.record.immersions(&self.record.state());
        stays.last().map_or(self.record.bag.bath, |i| i.bath)
    }

    /// How far it is foreseen to draw a bath down, each time it went into it.
    fn dips_in(&self, bath: Uuid) -> Vec<Dip> {
        let Some(plan) = self.record.plan_record() else { return Vec::new() };
        let stays = self.record.immersions(&self.record.state());
        stays.into_iter().filter(|i| i.bath == bath).map(|i| plan.request.dip(i.from)).collect()
    }

    /// What its plan wants the bath to be.
    #[must_use]
    pub(crate) fn wants(&self) -> Option<Celsius> {
        Some(self.record.plan_record()?.request.bath_c)
    }

    /// The limits that come for it, soonest first, none that are past.
    ///
    /// ```
    /// # use hold_steady_core::{bath::usual_taps, board::*, book::*, cook::*, units::*};
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let record = Export::example().cooks.remove(0);
    /// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
    /// # let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
    /// # let bag = OnBoard { record, live };
    /// assert!(bag.limits(now).is_empty(), "it was eaten");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn limits(&self, now: Timestamp) -> Vec<(Limit, Timestamp)> {
        let in_bath = self.live.stage == Stage::InBath;
        // What is to be mended first is at its best at no time that is known.
        let best = self.live.best_until.filter(|_| in_bath && matches!(self.live.next, Next::Pull(_)));
        let all = [
            (Limit::Growth, self.live.clock_out.filter(|_| in_bath)),
            (Limit::AfterPull, self.live.eat_by),
            (Limit::Texture, best),
        ];
        let mut all: Vec<_> =
            all.into_iter().filter_map(|(limit, at)| Some((limit, at?))).filter(|l| l.1 > now).collect();
        all.sort_by_key(|l| l.1);
        all
    }

    /// From when on it is not safe any more, where that is foreseen: the first limit that is not of its texture.
    pub(crate) fn unsafe_at(&self, now: Timestamp) -> Option<Timestamp> {
        self.limits(now).into_iter().find(|l| l.0 != Limit::Texture).map(|l| l.1)
    }
}

/// A limit that comes for a bag.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Limit {
    /// In this bath it is refused from then on: bacteria will have grown too long.
    Growth,
    /// Eaten, held hot or chilled by then.
    AfterPull,
    /// Past its best from then on.
    Texture,
}

impl Limit {
    /// The word in addresses and acknowledgements.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::board::Limit::Growth.id(), "growth");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Growth => "growth",
            Self::AfterPull => "after-pull",
            Self::Texture => "texture",
        }
    }
}

/// A bath with what lies in it.
#[derive(Debug, Clone)]
pub struct Lane {
    /// Which.
    pub bath: Uuid,
    /// What it is called.
    pub name: String,
    /// Whether a vessel was named for it.
    pub named: bool,
    /// Where it stands.
    pub now: BathNow,
    /// What was read of late, by time.
    pub recent: Vec<(Timestamp, Celsius)>,
    /// What goes wrong, the worst first.
    pub troubles: Vec<Trouble>,
    /// When the lowest line is reached by evaporation, if nothing is added.
    pub low_at: Option<Timestamp>,
    /// The bags in it, by their place among those of the board.
    pub bags: Vec<usize>,
}

/// How far back a lane's line of readings goes.
pub const RECENT: Minutes = Minutes::new(40.0);

impl Lane {
    fn new(bath: &BathRecord, dips: &[Dip], air: Air, taps: Taps, now: Timestamp) -> Self {
        let stands = bath_now(bath, air, taps, now);
        let readings: Vec<WaterRead> = bath.reads().into_iter().filter(|r| r.at <= now).collect();
        let mut settings: Vec<(Timestamp, Celsius)> =
            bath.settings.iter().filter(|s| s.at <= now).map(|s| (s.at, s.celsius)).collect();
        settings.sort_by_key(|s| s.0);
        let low_at = low_at(bath, &stands, air);
        let troubles = troubles(&stands, &readings, (&settings, dips), low_at, now);
        let from = moved(now, -RECENT);
        let first = readings.partition_point(|r| r.at < from);
        Self {
            bath: bath.id,
            name: bath.name.clone(),
            named: bath.vessel.is_some(),
            now: stands,
            recent: readings[first..].iter().map(|r| (r.at, r.celsius)).collect(),
            troubles,
            low_at,
            bags: Vec::new(),
        }
    }
}

/// Of baths that run, those that nothing is wrong with, by name and as warm as they are taken to be: where a piece in
/// trouble can go.
///
/// ```
/// assert!(hold_steady_core::board::running_well(&[], "2026-11-25T16:00:00Z".parse()?).is_empty());
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn running_well(baths: &[BathRecord], now: Timestamp) -> Vec<(String, Celsius)> {
    let of = |bath: &BathRecord| {
        let lane = Lane::new(bath, &[], usual_air(0.0), usual_taps(), now);
        let well = lane.troubles.iter().all(|t| !t.is_grave()) && lane.now.state.emptied.is_none();
        let read = lane.now.last.first().map(|l| l.trust.corrected(l.read));
        Some((lane.name, read.or(lane.now.wanted)?)).filter(|_| well)
    };
    baths.iter().filter_map(of).collect()
}

/// When evaporation takes a bath’s water down to the lowest line, by its cover and what it is kept at: as fast as in a
/// draught, and the food in it not counted, which both err to the early side.
fn low_at(bath: &BathRecord, stands: &BathNow, air: Air) -> Option<Timestamp> {
    let vessel = &bath.vessel.as_ref()?.vessel;
    let state = &stands.state;
    let changed = |e: &crate::bath::WaterEvent| {
        use crate::bath::WaterEventKind::{Added, Filled, TakenOff};
        matches!(e.kind, Filled { .. } | Added { .. } | TakenOff { .. }).then_some(e.happened_at)
    };
    let since = crate::bath::as_it_stands(&bath.water).iter().filter_map(changed).max()?;
    let pool = vessel.pool(state.litres, state.cover, air).in_a_draught();
    let kg_per_h = pool.kg_per_h(stands.wanted?.value());
    let spare = state.litres - vessel.litres(vessel.min_mm);
    if kg_per_h <= 0.0 {
        return None;
    }
    let hours = (spare / kg_per_h).max(0.0);
    (hours < 24.0 * 14.0).then(|| moved(since, Minutes::from_hours(hours)))
}

/// The board.
#[derive(Debug, Clone, Default)]
pub struct Board {
    /// Its bags, the one with the next step first.
    pub bags: Vec<OnBoard>,
    /// Its baths: those a vessel was named for, in the order they were filled, then the others with food in them.
    pub lanes: Vec<Lane>,
}

/// The board of a kitchen: the baths that run, and the bags under way.
///
/// ```
/// # use hold_steady_core::{bath::usual_taps, board::*, book::*, cook::*, units::*};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// # let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// # let bag = OnBoard { record, live };
/// let board = board(&[], vec![bag], usual_air(0.0), usual_taps(), now);
/// assert_eq!((board.lanes.len(), board.lanes[0].named, board.lanes[0].bags.len()), (1, false, 1));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn board(running: &[BathRecord], mut bags: Vec<OnBoard>, air: Air, taps: Taps, now: Timestamp) -> Board {
    bags.sort_by_key(|b| (b.live.next_at.is_none(), b.live.next_at, b.record.id));
    // Food that went into a bath draws it down, whichever bag it was.
    let dips = |bath: Uuid| -> Vec<Dip> { bags.iter().flat_map(|b| b.dips_in(bath)).collect() };
    let mut lanes: Vec<Lane> = running.iter().map(|b| Lane::new(b, &dips(b.id), air, taps, now)).collect();
    lanes.reverse();
    for (i, bag) in bags.iter().enumerate() {
        let bath = bag.bath();
        if !lanes.iter().any(|l| l.bath == bath) {
            let Some(record) = bag.record.baths.iter().find(|b| b.id == bath) else { continue };
            lanes.push(Lane::new(record, &dips(record.id), air, taps, now));
        }
        if let Some(lane) = lanes.iter_mut().find(|l| l.bath == bath) {
            lane.bags.push(i);
        }
    }
    Board { bags, lanes }
}

/// What the hands do next with a piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ToDo {
    /// Its next step.
    Next,
    /// What it will be seared on is heated.
    Heat,
}

/// What the hands do next with several pieces, in order: what, with which of them, and when if there is a when.
///
/// ```
/// # use hold_steady_core::{board::*, book::*, cook::*, units::*};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// let mut live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// (live.next_at, live.heat_at) = (Some(now), Some(moved(now, Minutes::new(-45.0))));
/// let order: Vec<_> = to_do([&live]).into_iter().map(|(what, ..)| what).collect();
/// assert_eq!(order, [ToDo::Heat, ToDo::Next]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn to_do<'a>(all: impl IntoIterator<Item = &'a Live>) -> Vec<(ToDo, usize, Option<Timestamp>)> {
    let lives: Vec<&Live> = all.into_iter().collect();
    let each = lives.iter().enumerate().flat_map(|(i, live)| {
        let heat = live.heat_at.map(|at| (ToDo::Heat, i, Some(at)));
        heat.into_iter().chain([(ToDo::Next, i, live.next_at)])
    });
    let mut all: Vec<_> = each.collect();
    // Trouble first. A step without a time can wait; one that is due cannot.
    all.sort_by_key(|(what, i, at)| {
        let trouble = *what == ToDo::Next && lives[*i].next == Next::Mend;
        (!trouble, at.is_none(), *at)
    });
    all
}

impl Board {
    /// What two or more bags of a lane, or a bag and its bath, want differently: the temperatures, each with the bags that
    /// want it. Empty where they agree.
    ///
    /// ```
    /// # use hold_steady_core::{bath::usual_taps, board::*, book::*, cook::*, units::*};
    /// # let now = "2026-12-01T12:00:00Z".parse()?;
    /// # let record = Export::example().cooks.remove(0);
    /// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
    /// # let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
    /// # let bag = OnBoard { record, live };
    /// let board = board(&[], vec![bag], usual_air(0.0), usual_taps(), now);
    /// assert!(board.clash(&board.lanes[0]).is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn clash(&self, lane: &Lane) -> Vec<(Celsius, Vec<usize>)> {
        let wanted = self.wanted(&lane.bags);
        let agree = match (wanted.as_slice(), lane.now.wanted) {
            ([(one, _)], Some(set)) => (*one - set).abs().value() <= SAME_K,
            ([] | [_], _) => true,
            _ => false,
        };
        if agree { Vec::new() } else { wanted }
    }

    /// The bags for which no vessel was named, where they want different temperatures: a kitchen with one bath cannot hold
    /// them together. Empty where they agree.
    ///
    /// ```
    /// assert!(hold_steady_core::board::Board::default().loose().is_empty());
    /// ```
    #[must_use]
    pub fn loose(&self) -> Vec<(Celsius, Vec<usize>)> {
        let loose: Vec<usize> =
            self.lanes.iter().filter(|l| !l.named).flat_map(|l| l.bags.iter().copied()).collect();
        let wanted = self.wanted(&loose);
        if wanted.len() > 1 { wanted } else { Vec::new() }
    }

    /// What bags that wait or are in want their bath to be, coldest first, each temperature with the bags that want it.
    fn wanted(&self, bags: &[usize]) -> Vec<(Celsius, Vec<usize>)> {
        let mut wanted: Vec<(Celsius, Vec<usize>)> = Vec::new();
        for &i in bags {
            let stays = matches!(self.bags[i].live.stage, Stage::Waiting | Stage::InBath);
            let Some(c) = self.bags[i].wants().filter(|_| stays) else { continue };
            match wanted.iter_mut().find(|(other, _)| (*other - c).abs().value() <= SAME_K) {
                Some((_, bags)) => bags.push(i),
                None => wanted.push((c, vec![i])),
            }
        }
        wanted.sort_by(|a, b| a.0.value().total_cmp(&b.0.value()));
        wanted
    }
}

/// Temperatures so near are one.
const SAME_K: f64 = 0.15;

/// How long a device may be silent before that is said.
pub(crate) const SILENT: SignedDuration = SignedDuration::from_secs(150);

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::{Cover, WaterEvent, WaterEventKind, shapes, usual_taps};
    use crate::book::{KeptVessel, SettingRecord, usual_air};

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    fn uncovered(litres: f64) -> BathRecord {
        let (_, vessel) = shapes().iter().find(|(id, _)| id == "box-12").expect("shipped");
        let event = |id: u128, min: i64, kind| WaterEvent {
            id: Uuid::from_u128(id),
            happened_at: t(min),
            recorded_at: t(min),
            by: "cook".into(),
            kind,
        };
        BathRecord {
            id: Uuid::from_u128(7),
            name: "the box".into(),
            began_at: t(0),
            settings: vec![SettingRecord {
                id: Uuid::nil(),
                at: t(0),
                celsius: Celsius::new(60.0),
                by: "cook".into(),
            }],
            vessel: Some(KeptVessel { id: Uuid::from_u128(1), vessel: vessel.clone() }),
            water: vec![
                event(1, 0, WaterEventKind::Filled { litres }),
                event(2, 0, WaterEventKind::Covered { cover: Cover::None }),
            ],
            instruments: Vec::new(),
        }
    }

    /// By hand from the same rate: litres to spare over litres an hour.
    #[test]
    fn the_lowest_line_is_foreseen_and_said_before_it_is_reached() {
        let air = usual_air(0.0);
        let bath = uncovered(10.0);
        let vessel = &bath.vessel.as_ref().expect("named").vessel;
        let rate = vessel.pool(10.0, Cover::None, air).in_a_draught().kg_per_h(60.0);
        let hours = (10.0 - vessel.litres(vessel.min_mm)) / rate;
        let at = |now| board(std::slice::from_ref(&bath), Vec::new(), air, usual_taps(), now);
        let low = at(t(1)).lanes[0].low_at.expect("it is open");
        assert!((Minutes::between(t(0), low).value() / 60.0 - hours).abs() < 0.01, "{hours}");
        assert!(at(t(1)).lanes[0].troubles.is_empty());
        let near = moved(low, Minutes::new(-20.0));
        assert_eq!(at(near).lanes[0].troubles, [Trouble::LowWater { at: low }]);
        assert!(at(t(1)).clash(&at(t(1)).lanes[0]).is_empty(), "nothing lies in it");
    }
}
