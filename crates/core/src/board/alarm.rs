//! What is to be heard: what is due, limits half an hour and ten minutes before, and what goes wrong.

use jiff::Timestamp;
use uuid::Uuid;

use super::{Board, Limit, Trouble};
use crate::units::{Minutes, moved};

/// What an alarm is about.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum AlarmKind {
    /// The next step of a bag is due.
    Due,
    /// A limit comes in so many minutes.
    Before(Limit, Minutes),
    /// Something goes wrong with a bath.
    Wrong(Trouble),
}

/// Something to be heard once, until somebody says so.
#[derive(Debug, Clone, PartialEq)]
pub struct Alarm {
    /// The same on every device, for as long as it is the same thing: what is acknowledged.
    pub id: String,
    /// When it is to be heard.
    pub at: Timestamp,
    /// What it is about.
    pub kind: AlarmKind,
    /// The bag it is about, by its place on the board.
    pub bag: Option<usize>,
    /// The bath it is about, by its lane.
    pub lane: Option<usize>,
}

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
        let mut add = |id: String, at: Timestamp, kind: AlarmKind| {
            all.push(Alarm { id, at, kind, bag: Some(i), lane: None });
        };
        if let Some(at) = bag.live.next_at {
            add(id(cook, bag.live.stage.id(), at), at, AlarmKind::Due);
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
    for (i, lane) in board.lanes.iter().enumerate() {
        for trouble in lane.troubles.iter().filter(|t| t.is_grave()) {
            let since = match *trouble {
                Trouble::Silent { since } | Trouble::Falling { since, .. } => since,
                Trouble::Jumped { at, .. } | Trouble::LowWater { at } => at,
                Trouble::Unread | Trouble::Below { .. } | Trouble::Over { .. } => {
                    lane.now.last.first().map_or(now, |l| l.at)
                }
            };
            let id = id(lane.bath, trouble.id(), since);
            all.push(Alarm { id, at: now, kind: AlarmKind::Wrong(*trouble), bag: None, lane: Some(i) });
        }
    }
    all.sort_by(|a, b| a.at.cmp(&b.at).then_with(|| a.id.cmp(&b.id)));
    all
}

/// To ten minutes: a time that is worked out anew moves a little.
fn id(of: Uuid, what: &str, at: Timestamp) -> String {
    format!("{of}:{what}:{}", (at.as_second() + 300) / 600)
}
