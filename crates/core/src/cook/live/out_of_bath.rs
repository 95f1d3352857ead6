//! A piece out of the bath.

use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::{Live, Next, later};
use crate::cook::{CookState, Milestone, Stage};
use crate::figures::{cooling, limits};
use crate::food::FinishStep;
use crate::keep::{self, Keeps};
use crate::piece::{Run, Span};
use crate::plan::Finishing;
use crate::safety::{Facts, Level, Rule, Verdict, judge, not_to_be_stored};
use crate::units::{Celsius, Minutes};

/// A piece out of the bath.
pub(super) struct OutOfBath<'a> {
    pub(super) finishing: &'a Finishing,
    pub(super) state: &'a CookState,
    pub(super) slow: &'a Run<'a>,
    pub(super) bath_min: Minutes,
    pub(super) pulled: Timestamp,
    pub(super) now: Timestamp,
    /// By whose days it is kept.
    pub(super) zone: &'a TimeZone,
}

impl OutOfBath<'_> {
    pub(super) fn live(&self) -> Live {
        let at_pull = self.slow.facts_at_pull(self.bath_min);
        let ended = self.state.ended();
        let until = ended.unwrap_or(self.now).min(self.now).max(self.pulled);
        let cooled = self.minutes_cooling(until);
        let chilled = self.state.when(Milestone::Chilled);
        let verdict = self.verdict(&at_pull, cooled, chilled);
        let spans = self.slow.spans_after(self.bath_min);
        let runs_out = spans.iter().find(|s| s.from_min > cooled && s.level > verdict.level);
        let eat_by = runs_out
            .filter(|_| ended.is_none() && verdict.level != Level::Refused)
            .and_then(|s| later(self.now, s.from_min - cooled));
        let stage = self.state.stage();
        let keeps = self.keeps(&verdict);
        let over = match keeps {
            Some(Keeps::Until(day)) if stage == Stage::Chilled && keep::is_over(day, self.now, self.zone) => {
                Some(day)
            }
            _ => None,
        };
        let verdict = if over.is_some() { discarded(verdict) } else { verdict };
        let spoiled = at_pull.eaten_after(cooled).is_past_mending(limits()) || verdict.row == Rule::Growth;
        let (next, next_at) = match stage {
            Stage::Eaten => (Next::Rate, None),
            Stage::Discarded => (Next::ThrownAway { cooked: true }, None),
            _ if let Some(last_day) = over => (Next::Discard { last_day }, None),
            _ if verdict.level == Level::Refused && spoiled => {
                (Next::ThrowAway(Box::new(verdict.clone())), None)
            }
            _ if verdict.level == Level::Refused => (Next::NotServed(Box::new(verdict.clone())), None),
            Stage::Chilled => match keeps {
                Some(Keeps::Until(last_day)) => {
                    (Next::KeepCold { last_day }, Some(keep::end_of(last_day, self.zone)))
                }
                Some(Keeps::Frozen { days_left }) => (Next::KeepFrozen { days_left }, None),
                None => (Next::NotServed(Box::new(verdict.clone())), None),
            },
            _ => self.finishing(stage, &verdict, runs_out, eat_by),
        };
        Live { next_at, eat_by, verdict: Some(verdict), ..Live::blank(stage, self.pulled, next) }
    }

    /// How long what was chilled and may be kept keeps.
    fn keeps(&self, verdict: &Verdict) -> Option<Keeps> {
        self.state.when(Milestone::Chilled)?;
        let kept = matches!(verdict.level, Level::Pasteurized | Level::Exempt);
        kept.then(|| keep::at_home(self.pulled, &self.state.frozen(), self.zone))
    }

    /// Minutes that count as cooling since the pull, to `until`. A hot hold counts as none from one reading
    /// of 57 °C or more to the next, if they are close enough; whoever stops reading is on the clock again.
    fn minutes_cooling(&self, until: Timestamp) -> Minutes {
        let l = limits();
        let hot = |c: Celsius| c >= l.hot_hold_c.celsius();
        let mut last = (self.pulled, hot(self.slow.core_c(self.bath_min)));
        let mut counted = Minutes::ZERO;
        for (at, c) in self.state.hot_checks().into_iter().filter(|(at, _)| *at <= until) {
            let gap = Minutes::between(last.0, at);
            if !(last.1 && hot(c) && gap <= l.hot_check_min.minutes()) {
                counted += gap;
            }
            last = (at, hot(c));
        }
        counted + Minutes::between(last.0, until).max(Minutes::ZERO)
    }

    /// The verdict for eating it now, or for how it ended. What is planned between the pull and the plate
    /// counts from the start.
    fn verdict(&self, at_pull: &Facts, cooled: Minutes, chilled: Option<Timestamp>) -> Verdict {
        let l = limits();
        if let Some(chilled) = chilled {
            let took = Minutes::between(self.pulled, chilled);
            let in_time = took <= cooling().stage_2_min.minutes();
            let cold = judge(&at_pull.eaten_after(if in_time { Minutes::ZERO } else { took }), l);
            // Only what was pasteurised is kept.
            return if cold.level == Level::ServeNow { not_to_be_stored(cold) } else { cold };
        }
        let ended = self.state.ended().is_some();
        let after = if ended { cooled } else { cooled.max(self.finishing.warm_min) };
        judge(&at_pull.eaten_after(after), l)
    }

    /// What to do between the pull and the plate, and by when.
    fn finishing(
        &self,
        stage: Stage,
        verdict: &Verdict,
        runs_out: Option<&Span>,
        eat_by: Option<Timestamp>,
    ) -> (Next, Option<Timestamp>) {
        let (step, after) = finish_step(self.finishing, stage);
        let late = Minutes::between(self.pulled, self.now) > self.finishing.minutes();
        let Some(by) = eat_by.filter(|_| late) else {
            return (Next::Finish(step), later(self.pulled, after));
        };
        let left_min = Minutes::between(self.now, by).max(Minutes::ZERO);
        let then_not_at_risk = runs_out.is_some_and(|s| s.level == Level::ServeNow);
        let next = match verdict.level {
            Level::Pasteurized | Level::Exempt => Next::EatHoldOrChill { left_min, then_not_at_risk },
            _ => Next::Eat { left_min, then_not_at_risk },
        };
        (next, Some(by))
    }
}

/// Past its last day nothing is served.
fn discarded(verdict: Verdict) -> Verdict {
    Verdict { level: Level::Refused, ..verdict }
}

/// What to do after the pull, and how many minutes after it.
fn finish_step(finishing: &Finishing, stage: Stage) -> (FinishStep, Minutes) {
    let steps = &finishing.steps;
    let first = (steps[0].clone(), Minutes::ZERO);
    let sear = steps.iter().find(|s| s.id == "sear").zip(finishing.until_sear_min());
    match (stage, sear) {
        (Stage::Pulled, _) if steps.iter().any(|s| s.id == "dry") => first,
        (Stage::Pulled | Stage::Dried, Some((step, after))) => (step.clone(), after),
        (Stage::Pulled, None) => first,
        _ => (steps[steps.len() - 1].clone(), finishing.minutes()),
    }
}
