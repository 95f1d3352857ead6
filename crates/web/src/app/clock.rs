//! The one clock everything reads, and whether somebody has set it.

use std::sync::{Mutex, PoisonError};
use std::time::Instant;

use hold_steady_core::bath::{Heat, WaterEventKind};
use hold_steady_core::book::{BathRecord, CookRecord};
use hold_steady_core::cook::EventKind;
use hold_steady_core::units::Minutes;
use hold_steady_store::{Beat, CookPhase, NewEvent, NewWaterEvent, Role, StoreError, new_id};
use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use super::AppState;

/// The time, as the application takes it: the system's, or one that was set off elsewhere or runs
/// faster, for tests and demonstrations.
#[derive(Debug, Clone, Copy)]
pub struct Clock {
    begun: Instant,
    at: Timestamp,
    rate: f64,
    system: bool,
    /// That the program did not run counts as the machine away: so it is by the system's clock.
    heeds_away: bool,
    /// For tests: after so many seconds it is set by so many.
    set_later: Option<(f64, f64)>,
}

impl Clock {
    /// The system's clock.
    #[must_use]
    pub fn system() -> Self {
        Self {
            begun: Instant::now(),
            at: Timestamp::now(),
            rate: 1.0,
            system: true,
            heeds_away: true,
            set_later: None,
        }
    }

    /// A clock that shows `at` now and runs `rate` times as fast as the system's.
    #[must_use]
    pub fn set(at: Timestamp, rate: f64) -> Self {
        Self { begun: Instant::now(), at, rate, system: false, heeds_away: false, set_later: None }
    }

    /// The same, as if somebody set it `by_s` further `after_s` seconds from now.
    #[must_use]
    pub const fn set_later(self, after_s: f64, by_s: f64) -> Self {
        Self { set_later: Some((after_s, by_s)), ..self }
    }

    /// For tests: the same, where the time since the program last ran counts as away.
    #[must_use]
    pub const fn heeding_away(self) -> Self {
        Self { heeds_away: true, ..self }
    }

    /// Seconds the machine slept, since some instant; of a clock that is not the system's none.
    fn slept_s(&self) -> f64 {
        if self.system { steady_s(self.begun) - self.begun.elapsed().as_secs_f64() } else { 0.0 }
    }

    /// The time now.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        if self.system {
            return Timestamp::now();
        }
        let elapsed = self.begun.elapsed().as_secs_f64();
        let set = self.set_later.filter(|(after, _)| elapsed >= *after).map_or(0.0, |(_, by)| by);
        let run = SignedDuration::from_secs_f64(elapsed * self.rate + set);
        self.at.checked_add(run).unwrap_or(self.at)
    }

    /// Seconds on a clock that nobody sets, counted also while the machine sleeps.
    #[must_use]
    pub fn steady_s(&self) -> f64 {
        if self.system { steady_s(self.begun) } else { self.begun.elapsed().as_secs_f64() * self.rate }
    }

    /// How many seconds pass on it in one second.
    #[must_use]
    pub const fn rate(&self) -> f64 {
        self.rate
    }

    /// The start of the machine that [`Self::steady_s`] counts from, where it is known.
    fn boot(&self) -> Option<String> {
        let id =
            self.system.then(|| std::fs::read_to_string("/proc/sys/kernel/random/boot_id").ok()).flatten();
        id.map(|id| id.trim().to_owned())
    }
}

#[cfg(target_os = "linux")]
fn steady_s(_: Instant) -> f64 {
    let t = rustix::time::clock_gettime(rustix::time::ClockId::Boottime);
    t.tv_sec as f64 + t.tv_nsec as f64 / 1e9
}

#[cfg(not(target_os = "linux"))]
fn steady_s(begun: Instant) -> f64 {
    begun.elapsed().as_secs_f64()
}

/// A clock off by less is being set right little by little, as machines on a network do all the time.
const STEP_S: f64 = 5.0;

/// Away for less is a program started anew.
const AWAY: SignedDuration = SignedDuration::from_mins(10);

/// Notices when the clock is set: wall time and steady time no longer go together.
#[derive(Debug, Default)]
pub struct ClockWatch {
    last: Mutex<Option<(Timestamp, f64)>>,
    /// How long the machine had slept when it was last looked, and when that was.
    slept: Mutex<Option<(f64, Timestamp)>>,
    /// Held while the cooks are told: whoever writes meanwhile waits, so that what they write comes after it.
    telling: tokio::sync::Mutex<()>,
}

impl ClockWatch {
    /// By how many seconds the clock was set since this was last asked.
    fn step_s(&self, now: Timestamp, steady_s: f64) -> Option<f64> {
        let mut last = self.last.lock().unwrap_or_else(PoisonError::into_inner);
        let step = last.map(|(at, steady)| now.duration_since(at).as_secs_f64() - (steady_s - steady));
        *last = Some((now, steady_s));
        step.filter(|s| s.abs() > STEP_S)
    }

    /// From when on the machine slept, where it did for so long that it was away.
    fn slept_since(&self, now: Timestamp, slept_s: f64) -> Option<Timestamp> {
        let mut last = self.slept.lock().unwrap_or_else(PoisonError::into_inner);
        let since = last.filter(|(before, _)| slept_s - before >= AWAY.as_secs_f64()).map(|(_, at)| at);
        *last = Some((slept_s, now));
        since
    }

    /// Goes on from a mark of before the program was started.
    fn go_on_from(&self, beat: &Beat) {
        *self.last.lock().unwrap_or_else(PoisonError::into_inner) = Some((beat.at, beat.steady_s));
    }
}

impl AppState {
    /// The time, before anything is written by it: was the clock set? Then every cook under way is told, so that no
    /// minute in its bath is counted that did not pass.
    ///
    /// # Errors
    /// When it cannot be written down.
    pub async fn heed_clock(&self) -> Result<Timestamp, StoreError> {
        let _telling = self.watch.telling.lock().await;
        let now = self.clock.now();
        if let Some(by_s) = self.watch.step_s(now, self.clock.steady_s()) {
            tracing::warn!(by_s, "the clock of this machine was set");
            self.tell_cooks(by_s, now).await?;
            // Marked at once: what is written from now on is by it.
            self.mark(now).await?;
        }
        if let Some(since) = self.watch.slept_since(now, self.clock.slept_s()) {
            self.tell_baths(since, now).await?;
        }
        Ok(now)
    }

    /// Nobody was here from then until now: of every bath a heater holds and in which something lies it is written down that
    /// nobody saw what it did, until somebody says.
    async fn tell_baths(&self, since: Timestamp, now: Timestamp) -> Result<(), StoreError> {
        tracing::warn!(%since, "this machine was away");
        let (cooks, _, _) = self.ours().cooks_that(CookPhase::UnderWay, (0, usize::MAX)).await?;
        let mut told: Vec<Uuid> = Vec::new();
        for cook in &cooks {
            let stay = cook.immersions(&cook.state()).pop().filter(|stay| stay.until.is_none());
            let bath = stay.and_then(|stay| cook.baths.iter().find(|b| b.id == stay.bath));
            let heated = |b: &&BathRecord| b.vessel.as_ref().is_none_or(|v| v.vessel.heat == Heat::Heater);
            let Some(bath) = bath.filter(heated).filter(|b| !told.contains(&b.id)) else { continue };
            told.push(bath.id);
            let min = Minutes::between(since.max(bath.began_at), now);
            let kind = WaterEventKind::Unwatched { min };
            let event = NewWaterEvent { id: new_id(now), happened_at: now, kind };
            let clock = self.as_who("clock".into(), Role::Program);
            // One bath that takes no more keeps the program from nothing: what is not said of it is logged.
            match clock.add_water(bath.id, event, now, BathRecord::with_water).await {
                Ok(Ok(())) => {}
                Ok(Err(refusal)) => {
                    tracing::error!(bath = %bath.id, ?refusal, "that nobody saw it could not be written down");
                }
                Err(StoreError::Conflict(why)) => {
                    tracing::error!(bath = %bath.id, why, "that nobody saw it could not be written down");
                }
                Err(e) => return Err(e),
            }
        }
        Ok(())
    }

    /// Tells every cook under way that the clock was set.
    async fn tell_cooks(&self, by_s: f64, now: Timestamp) -> Result<(), StoreError> {
        let (cooks, _, _) = self.ours().cooks_that(CookPhase::UnderWay, (0, usize::MAX)).await?;
        for cook in cooks {
            let kind = EventKind::ClockSet { by_s };
            let event = NewEvent { id: new_id(now), happened_at: now, kind };
            let clock = self.as_who("clock".into(), Role::Program);
            let told = clock.add_event(cook.id, event, now, CookRecord::with).await?;
            if let Err(refusal) = told {
                tracing::error!(cook = %cook.id, %refusal, "the cook could not be told that the clock was set");
            }
        }
        Ok(())
    }

    /// Looks at the clock and leaves a mark, so that a clock set while the program is off is noticed too.
    ///
    /// # Errors
    /// When it cannot be written down.
    pub async fn mark_clock(&self) -> Result<(), StoreError> {
        let at = self.heed_clock().await?;
        self.mark(at).await
    }

    async fn mark(&self, at: Timestamp) -> Result<(), StoreError> {
        // Where the machine does not say which start of it this is, none has this name again.
        let boot = self.clock.boot().unwrap_or_default();
        self.store.mark(Beat { at, steady_s: self.clock.steady_s(), boot }).await
    }

    /// At the start: goes on from the last mark, if the machine was not started anew since. If it was, and something is
    /// written down that was written later than it is now, the clock stands behind: nobody knows how long the machine was off,
    /// and no minute of that is credited.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn resume_clock(&self) -> Result<(), StoreError> {
        const BEHIND_S: f64 = 120.0;
        let same = self.clock.boot();
        let mark = self.store.last_mark().await?;
        // When it was last here; by the clock that nobody sets, where the machine was not started anew since.
        let last_here = mark.as_ref().map(|b| {
            let away_s = self.clock.steady_s() - b.steady_s;
            let here = same.as_ref() == Some(&b.boot) && away_s >= 0.0;
            let span = SignedDuration::try_from_secs_f64(away_s).unwrap_or_default();
            if here { self.clock.now().checked_sub(span).unwrap_or(b.at) } else { b.at }
        });
        let beat = mark.filter(|b| same.as_ref() == Some(&b.boot));
        if let Some(beat) = beat {
            self.watch.go_on_from(&beat);
        } else if let Some(last) = self.store.last_written().await? {
            let now = self.clock.now();
            let behind_s = last.duration_since(now).as_secs_f64();
            if behind_s > BEHIND_S {
                tracing::warn!(behind_s, "the clock stands behind what was written down last");
                self.tell_cooks(-behind_s, now).await?;
            }
        }
        let now = self.clock.now();
        if let Some(since) = last_here.filter(|t| self.clock.heeds_away && now.duration_since(*t) >= AWAY) {
            self.tell_baths(since, now).await?;
        }
        self.mark_clock().await
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_set_clock_starts_where_it_was_set() {
        let at: Timestamp = "2026-03-28T23:00:00Z".parse().expect("an instant");
        let standing = Clock::set(at, 0.0);
        assert_eq!(standing.now(), at);
        assert!(Clock::set(at, 3600.0).now() >= at);
        assert_eq!(
            standing.set_later(0.0, 60.0).now(),
            at.checked_add(SignedDuration::from_mins(1)).expect("near")
        );
    }

    #[test]
    fn a_clock_that_is_set_is_noticed_once_and_a_sleeping_machine_is_not_taken_for_it() {
        let at = |s: i64| Timestamp::from_second(1_800_000_000 + s).expect("in range");
        let watch = ClockWatch::default();
        assert_eq!(watch.step_s(at(0), 100.0), None);
        assert_eq!(watch.step_s(at(10), 110.0), None);
        // An hour asleep: both went on.
        assert_eq!(watch.step_s(at(3610), 3710.0), None);
        assert_eq!(watch.step_s(at(7220), 3720.0), Some(3600.0));
        assert_eq!(watch.step_s(at(7230), 3730.0), None);
        assert_eq!(watch.step_s(at(3640), 3740.0), Some(-3600.0));
        // A second or two is no step.
        assert_eq!(watch.step_s(at(3652), 3750.0), None);
    }
}
