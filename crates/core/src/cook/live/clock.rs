//! The piece's own minutes: those it lay in the water. What floats is not cooking, and the water does not wait for it.

use jiff::Timestamp;

use crate::bath::{BathTrace, Waters};
use crate::cook::{CookState, EventKind};
use crate::units::{Minutes, moved};

/// Minutes in the water against the clock on the wall.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct PieceClock {
    dropped: Timestamp,
    /// When it floated, in its own minutes, and for how long.
    floated: Vec<(Minutes, Minutes)>,
}

impl PieceClock {
    /// From the drop on, with what floated: up to when it was found, for as long as was said.
    pub(crate) fn of(state: &CookState, dropped: Timestamp) -> Self {
        let mut floated: Vec<(Minutes, Minutes)> = Vec::new();
        let mut so_far = Minutes::ZERO;
        let mut entries: Vec<(Timestamp, Minutes)> = state
            .entries
            .iter()
            .filter_map(|e| match e.event.kind {
                EventKind::Floated { afloat_min } => Some((e.at, afloat_min)),
                _ => None,
            })
            .collect();
        entries.sort_by_key(|e| e.0);
        for (until, min) in entries {
            let last = floated.last().map_or(Minutes::ZERO, |f| f.0);
            // Found afloat again before it had been under for as long as is said: one after the other.
            let own = (Minutes::between(dropped, until) - min - so_far).max(last).max(Minutes::ZERO);
            floated.push((own, min));
            so_far += min;
        }
        Self { dropped, floated }
    }

    /// The instant of one of its minutes.
    pub(crate) fn instant(&self, min: Minutes) -> Timestamp {
        let afloat: Minutes = self.floated.iter().filter(|f| f.0 < min).map(|f| f.1).sum();
        moved(self.dropped, Minutes::from_seconds((min + afloat).seconds().ceil()))
    }

    /// Its minute at an instant.
    pub(crate) fn minute(&self, at: Timestamp) -> Minutes {
        let mut past = Minutes::between(self.dropped, at).max(Minutes::ZERO);
        for (own, min) in &self.floated {
            if past > *own {
                past = (past - *min).max(*own);
            }
        }
        past
    }

    /// Minutes afloat in all, and when the last of them were.
    pub(crate) fn afloat(&self) -> Option<(Minutes, Minutes)> {
        let last = self.floated.last()?.0;
        Some((last, self.floated.iter().map(|f| f.1).sum()))
    }

    /// The water, by its minutes.
    pub(crate) fn waters(&self, waters: Waters) -> Waters {
        let cut = |trace: BathTrace| {
            self.floated.iter().fold(trace, |t, (own, min)| t.without(own.value(), min.value()))
        };
        let path = |p: crate::bath::Path| crate::bath::Path { water: cut(p.water), gate: cut(p.gate) };
        Waters {
            shown: cut(waters.shown),
            mean: cut(waters.mean),
            as_read: path(waters.as_read),
            proved: path(waters.proved),
            worst: waters.worst.into_iter().map(path).collect(),
        }
    }
}
