//! What cannot have happened: the order of a cook’s milestones, and what each asks of those before it.

use jiff::Timestamp;

use super::{CookState, Entry};
use crate::cook::refusal::out_of_order;
use crate::cook::state::AFLOAT_ROUNDING_MIN;
use crate::cook::{EventKind, Milestone, Often, Refusal};
use crate::units::Minutes;

impl CookState {
    /// Whether all that stands can have happened together. `about` is what the last event was about.
    pub(super) fn check(&self, about: &'static str) -> Result<(), Refusal> {
        let once = |e: &&Entry| {
            let traits = e.event.kind.traits();
            traits.often == Often::Once && traits.milestone.is_none()
        };
        let mut kinds: Vec<&str> = self.entries.iter().filter(once).map(|e| e.event.kind.id()).collect();
        kinds.sort_unstable();
        if kinds.windows(2).any(|pair| pair[0] == pair[1]) {
            return Err(Refusal::Already(about));
        }
        let mut before: Option<(Milestone, Timestamp)> = None;
        for milestone in Milestone::ALL {
            let mut found = self.entries.iter().filter(|s| s.event.kind.milestone() == Some(milestone));
            let Some(entry) = found.next() else { continue };
            if found.next().is_some() {
                return Err(Refusal::Already(milestone.name()));
            }
            if let Some(needs) = milestone.needs().filter(|n| self.when(*n).is_none()) {
                return Err(Refusal::Needs { what: milestone.name(), needs: needs.name() });
            }
            if let Some((earlier, at)) = before.filter(|b| entry.at < b.1) {
                return Err(out_of_order((earlier, at), (milestone, entry.at), about));
            }
            before = Some((milestone, entry.at));
        }
        let rated = self.entries.iter().any(|s| matches!(s.event.kind, EventKind::Rated(_)));
        if rated && self.when(Milestone::Dropped).is_none() {
            return Err(Refusal::Needs { what: "A rating", needs: Milestone::Dropped.name() });
        }
        self.check_in_bath()?;
        self.check_core()?;
        self.check_kept()?;
        self.check_plans()
    }

    /// A plan for a piece as it was corrected stands only with that correction; and nothing is planned once all is over.
    fn check_plans(&self) -> Result<(), Refusal> {
        for entry in &self.entries {
            let EventKind::Replanned { of, .. } = entry.event.kind else { continue };
            let what = entry.event.kind.traits().name;
            if of.is_some_and(|of| !self.entries.iter().any(|e| e.event.id == of)) {
                return Err(Refusal::Needs { what, needs: "the correction of the piece it was made for" });
            }
            let over = [Milestone::Chilled, Milestone::Eaten, Milestone::Discarded];
            for end in over {
                if let Some(ended) = self.when(end).filter(|ended| entry.at > *ended) {
                    return Err(Refusal::TooLate { what, after: end.name(), at: ended });
                }
            }
        }
        Ok(())
    }

    /// What goes wrong in the bath goes wrong between the drop and the pull, and nothing is afloat for
    /// longer than it was in.
    fn check_in_bath(&self) -> Result<(), Refusal> {
        let dropped = self.when(Milestone::Dropped);
        let mut afloat = 0.0;
        for entry in &self.entries {
            if !matches!(
                entry.event.kind,
                EventKind::Leaked | EventKind::Moved { .. } | EventKind::Floated { .. }
            ) {
                continue;
            }
            let what = entry.event.kind.traits().name;
            let dropped = dropped.ok_or(Refusal::Needs { what, needs: Milestone::Dropped.name() })?;
            self.check_between(what, entry.at, Milestone::Dropped, Milestone::Pulled)?;
            if let EventKind::Floated { afloat_min } = entry.event.kind {
                afloat += afloat_min.value();
                if afloat > (Minutes::between(dropped, entry.at) + AFLOAT_ROUNDING_MIN).value() {
                    return Err(Refusal::Value(
                        "It cannot have been afloat for longer than it was in the bath.",
                    ));
                }
            }
        }
        Ok(())
    }

    /// A core is read when there is one to read: what is held hot between the pull and the end.
    fn check_core(&self) -> Result<(), Refusal> {
        for entry in &self.entries {
            let EventKind::CoreRead { purpose, .. } = entry.event.kind else { continue };
            let (what, (from, ends)) = (entry.event.kind.traits().name, purpose.between());
            if self.when(from).is_none() {
                return Err(Refusal::Needs { what, needs: from.name() });
            }
            let end = ends.iter().copied().find(|m| self.when(*m).is_some());
            self.check_between(what, entry.at, from, end.unwrap_or(Milestone::Discarded))?;
        }
        Ok(())
    }

    /// What is put away was chilled, and is neither eaten nor thrown away; what was never frozen thaws nowhere.
    fn check_kept(&self) -> Result<(), Refusal> {
        for entry in &self.entries {
            let EventKind::Kept(_) = &entry.event.kind else { continue };
            let what = entry.event.kind.traits().name;
            if self.when(Milestone::Chilled).is_none() {
                return Err(Refusal::Needs { what, needs: Milestone::Chilled.name() });
            }
            self.check_between(what, entry.at, Milestone::Chilled, Milestone::Eaten)?;
            self.check_between(what, entry.at, Milestone::Chilled, Milestone::Discarded)?;
        }
        Ok(())
    }

    fn check_between(
        &self,
        what: &'static str,
        at: Timestamp,
        from: Milestone,
        until: Milestone,
    ) -> Result<(), Refusal> {
        if let Some(began) = self.when(from).filter(|t| at < *t) {
            return Err(Refusal::TooEarly { what, before: from.name(), at: began });
        }
        match self.when(until).filter(|t| at > *t) {
            Some(ended) => Err(Refusal::TooLate { what, after: until.name(), at: ended }),
            None => Ok(()),
        }
    }
}
