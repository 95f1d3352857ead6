//! What is to be heard: what is due, limits half an hour and ten minutes before, and what goes wrong.

use jiff::Timestamp;
use uuid::Uuid;

use super::{Board, Limit, Trouble};
use crate::cook::{Next, Stage};
use crate::units::{Minutes, moved};

/// What an alarm is about.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum AlarmKind {
    /// The next step of a bag is due.
    Due,
    /// What it will be seared on is to be heated.
    Heat,
    /// A limit comes in so many minutes.
    Before(Limit, Minutes),
    /// Something goes wrong with a bath.
    Wrong(Trouble),
}

/// Something to be heard on every screen, until it is done; a screen on which somebody said so is silent.
#[derive(Debug, Clone, PartialEq)]
pub struct Alarm {
    /// The same on every screen, for as long as it is the same thing: what is silenced.
    pub id: String,
    /// When it is to be heard.
    pub at: Timestamp,
    /// What it is about.
    pub kind: AlarmKind,
    /// The bag it is about, by its place on the board.
    pub bag: Option<usize>,
    /// The bath it is about, by its lane.
    pub lane: Option<usize>,
    /// From when on the piece is not safe any more, where that is foreseen.
    pub unsafe_at: Option<Timestamp>,
}

impl Alarm {
    /// Whether it rings on a screen where it was silenced then, or never: what becomes unsafe within a quarter of an hour
    /// rings again after two minutes.
    ///
    /// ```
    /// use hold_steady_core::board::{Alarm, AlarmKind};
    /// let t = |min: i64| jiff::Timestamp::from_second(min * 60).expect("in range");
    /// let alarm = Alarm { id: "a".into(), at: t(0), kind: AlarmKind::Due, bag: None, lane: None, unsafe_at: Some(t(30)) };
    /// assert!(alarm.rings(None, t(1)) && !alarm.rings(Some(t(1)), t(5)));
    /// assert!(!alarm.rings(Some(t(15)), t(16)) && alarm.rings(Some(t(15)), t(17)));
    /// ```
    #[must_use]
    pub fn rings(&self, silenced: Option<Timestamp>, now: Timestamp) -> bool {
        const SOON: Minutes = Minutes::new(15.0);
        const AGAIN: Minutes = Minutes::new(2.0);
        let Some(silenced) = silenced else { return true };
        let soon = self.unsafe_at.is_some_and(|at| Minutes::between(now, at) <= SOON);
        soon && Minutes::between(silenced, now) >= AGAIN
    }
}

/// What is planned to go in as soon as may be is not called late before this.
const GRACE: Minutes = Minutes::new(1.0);

/// Limits are told so long before.
const BEFORE: [Minutes; 2] = [Minutes::new(30.0), Minutes::new(10.0)];

/// All that is to be heard on a board, from now on or due already; by time. A time that moved by less than a minute is
/// the same alarm.
///
/// ```
/// use hold_steady_core::board::{Board, alarms};
/// assert!(alarms(&Board::default(), "2026-11-25T16:00:00Z".parse()?).is_empty());
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn alarms(board: &Board, now: Timestamp) -> Vec<Alarm> {
    let mut all = Vec::new();
    for (i, bag) in board.bags.iter().enumerate() {
        let cook = bag.record.id;
        let unsafe_at = bag.unsafe_at(now);
        let mut add = |id: String, at: Timestamp, kind: AlarmKind| {
            all.push(Alarm { id, at, kind, bag: Some(i), lane: None, unsafe_at });
        };
        // What is to be mended is told by what goes wrong; a last day rings no bell.
        let told_elsewhere =
            matches!(bag.live.next, Next::Mend | Next::KeepCold { .. } | Next::KeepFrozen { .. });
        if let Some(at) = bag.live.due_since.or(bag.live.next_at).filter(|_| !told_elsewhere) {
            let when = if bag.live.stage == Stage::Waiting { moved(at, GRACE) } else { at };
            add(id(cook, bag.live.stage.id(), at), when, AlarmKind::Due);
        }
        if let Some(at) = bag.live.heat_at {
            add(id(cook, "heat", at), at, AlarmKind::Heat);
        }
        for (limit, at) in bag.limits(now) {
            let left = Minutes::between(now, at);
            for before in BEFORE {
                // One that begins nearer than that was told when it began.
                if left > before || before == BEFORE[BEFORE.len() - 1] {
                    let when = moved(at, -before);
                    let what = format!("{}-{}", limit.id(), before.value());
                    add(id(cook, &what, at), when, AlarmKind::Before(limit, before));
                }
            }
        }
    }
    // Water in which nothing lies and nothing is planned calls nobody.
    for (i, lane) in board.lanes.iter().enumerate().filter(|(_, lane)| !lane.bags.is_empty()) {
        let bags = lane.bags.iter().filter_map(|i| board.bags.get(*i));
        let unsafe_at = bags.filter_map(|b| b.unsafe_at(now)).min();
        for trouble in lane.troubles.iter().filter(|t| t.is_grave()) {
            let since = match *trouble {
                Trouble::Silent { since }
                | Trouble::Falling { since, .. }
                | Trouble::NoHeat { since, .. }
                | Trouble::Below { since, .. } => since,
                Trouble::Unwatched { until, .. } => until,
                Trouble::Jumped { at, .. } | Trouble::LowWater { at } => at,
                Trouble::Unread | Trouble::Over { .. } => lane.now.last.first().map_or(now, |l| l.at),
            };
            let id = id(lane.bath, trouble.id(), since);
            let kind = AlarmKind::Wrong(*trouble);
            all.push(Alarm { id, at: now, kind, bag: None, lane: Some(i), unsafe_at });
        }
    }
    all.sort_by(|a, b| a.at.cmp(&b.at).then_with(|| a.id.cmp(&b.id)));
    all
}

/// To ten minutes: a time that is worked out anew moves a little.
fn id(of: Uuid, what: &str, at: Timestamp) -> String {
    format!("{of}:{what}:{}", (at.as_second() + 300) / 600)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bath::usual_taps;
    use crate::board::{OnBoard, board};
    use crate::book::{
        BathRecord, InstrumentRecord, REPORTED, ReadingRecord, SettingRecord, read_export, usual_air,
    };
    use crate::cook::{Pull, Stage, live};
    use crate::units::Celsius;

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    /// A bath set to 60 °C that a device reads as 58 every minute, up to then.
    fn weak(until: i64) -> BathRecord {
        let read = |min| ReadingRecord { at: t(min), celsius: Celsius::new(58.0), quality: REPORTED.into() };
        let celsius = Celsius::new(60.0);
        BathRecord {
            id: Uuid::from_u128(7),
            name: "the box".into(),
            began_at: t(0),
            settings: vec![SettingRecord { id: Uuid::nil(), at: t(0), celsius, by: "cook".into() }],
            vessel: None,
            water: Vec::new(),
            instruments: vec![InstrumentRecord {
                id: Uuid::from_u128(8),
                name: "circulator".into(),
                piece: None,
                centred: false,
                thermometer: None,
                checks: Vec::new(),
                readings: (0..=until).map(read).collect(),
                thinned: None,
            }],
        }
    }

    /// A cook of an old export, as it stands, in another bath.
    fn lying_in(bath: Uuid) -> OnBoard {
        let export = include_str!("../../tests/golden/export-v5.json");
        let now: Timestamp = "2026-12-01T12:00:00Z".parse().expect("an instant");
        let mut record = read_export(export, now).expect("an export").export.cooks.remove(0);
        let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
        let stands = live(&plan.request, &plan.plan().expect("whole"), &state, &record.water(&state), now);
        record.bag.bath = bath;
        OnBoard { record, live: stands.expect("simulates") }
    }

    #[test]
    fn what_goes_on_is_one_alarm_and_water_in_which_nothing_lies_calls_nobody() {
        let ids = |min, bags: &dyn Fn(Uuid) -> Vec<OnBoard>| {
            let bath = weak(min);
            let bags = bags(bath.id);
            let board = board(&[bath], bags, usual_air(0.0), usual_taps(), t(min));
            let wrong = |a: &Alarm| matches!(a.kind, AlarmKind::Wrong(_));
            alarms(&board, t(min)).into_iter().filter(wrong).map(|a| a.id).collect::<Vec<_>>()
        };
        let one = |bath| vec![lying_in(bath)];
        assert_eq!(ids(15, &one), Vec::<String>::new(), "it may be coming back");
        let (soon, late) = (ids(30, &one), ids(180, &one));
        assert!(soon.len() == 1 && soon == late, "{soon:?} {late:?}");
        assert_eq!(ids(180, &|_| Vec::new()), Vec::<String>::new());
    }

    #[test]
    fn what_is_due_stays_due_however_late_it_gets() {
        let mut bag = lying_in(Uuid::from_u128(9));
        (bag.live.stage, bag.live.next) = (Stage::InBath, Next::Pull(Pull::BestFor(Minutes::new(30.0))));
        (bag.live.next_at, bag.live.due_since, bag.live.eat_by) = (None, Some(t(5)), None);
        (bag.live.clock_out, bag.live.best_until, bag.live.heat_at) = (Some(t(400)), None, None);
        let due = |now: i64| {
            let board = Board { bags: vec![bag.clone()], lanes: Vec::new() };
            alarms(&board, t(now)).into_iter().find(|a| a.kind == AlarmKind::Due).expect("due")
        };
        let (soon, late) = (due(6), due(300));
        assert_eq!((soon.at, &soon.id), (t(5), &late.id));
        assert_eq!(late.unsafe_at, Some(t(400)));
        // Silenced, it is silent until it is nearly too late; then for no longer than two minutes.
        assert!(!late.rings(Some(t(7)), t(300)) && late.rings(Some(t(7)), t(386)));
        assert!(!late.rings(Some(t(386)), t(387)) && late.rings(Some(t(386)), t(388)));
    }

    #[test]
    fn limits_are_told_half_an_hour_and_ten_minutes_before_and_a_step_when_it_is_due() {
        let export = include_str!("../../tests/golden/export-v5.json");
        let now: Timestamp = "2026-12-01T12:00:00Z".parse().expect("an instant");
        let record = read_export(export, now).expect("an export").export.cooks.remove(0);
        let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
        let stands = live(&plan.request, &plan.plan().expect("whole"), &state, &record.water(&state), now);
        let mut stands = stands.expect("simulates");
        (stands.stage, stands.next_at, stands.eat_by) = (Stage::InBath, Some(t(5)), None);
        (stands.clock_out, stands.best_until) = (Some(t(100)), Some(t(25)));
        stands.next = Next::Pull(Pull::Waits);
        let told = |now: i64| {
            let board = Board {
                bags: vec![OnBoard { record: record.clone(), live: stands.clone() }],
                lanes: Vec::new(),
            };
            alarms(&board, t(now)).into_iter().map(|a| (a.at, a.kind)).collect::<Vec<_>>()
        };
        let before = |limit, min: f64| AlarmKind::Before(limit, Minutes::new(min));
        let all = [
            (t(5), AlarmKind::Due),
            (t(15), before(Limit::Texture, 10.0)),
            (t(70), before(Limit::Growth, 30.0)),
            (t(90), before(Limit::Growth, 10.0)),
        ];
        assert_eq!(told(0), all);
        // Nearer than half an hour only the last of the two is still to come; what is past is no limit.
        assert_eq!(told(80), [(t(5), AlarmKind::Due), (t(90), before(Limit::Growth, 10.0))]);
    }
}
