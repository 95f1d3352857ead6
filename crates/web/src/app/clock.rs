//! The one clock everything reads.

use std::time::Instant;

use jiff::{SignedDuration, Timestamp};

/// The time, as the application takes it: the system's, or one that was set off elsewhere or runs
/// faster, for tests and demonstrations.
#[derive(Debug, Clone, Copy)]
pub struct Clock {
    begun: Instant,
    at: Timestamp,
    rate: f64,
    system: bool,
}

impl Clock {
    /// The system's clock.
    #[must_use]
    pub fn system() -> Self {
        Self { begun: Instant::now(), at: Timestamp::now(), rate: 1.0, system: true }
    }

    /// A clock that shows `at` now and runs `rate` times as fast as the system's.
    #[must_use]
    pub fn set(at: Timestamp, rate: f64) -> Self {
        Self { begun: Instant::now(), at, rate, system: false }
    }

    /// The time now.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        if self.system {
            return Timestamp::now();
        }
        let run = SignedDuration::from_secs_f64(self.begun.elapsed().as_secs_f64() * self.rate);
        self.at.checked_add(run).unwrap_or(self.at)
    }

    /// How many seconds pass on it in one second.
    #[must_use]
    pub const fn rate(&self) -> f64 {
        self.rate
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
    }
}
