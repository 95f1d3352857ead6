//! How much one address or one device may ask for, said with when it may again.

use std::collections::HashMap;
use std::net::IpAddr;
use std::num::NonZeroU32;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use governor::clock::{Clock, MonotonicClock};
use governor::middleware::NoOpMiddleware;
use governor::state::keyed::HashMapStateStore;
use governor::{Quota, RateLimiter};
use uuid::Uuid;

/// Reports of one device a minute. One a second is usual; what was kept while the line was down comes besides.
pub const REPORTS_A_MINUTE: u32 = 240;
/// Kilobytes of one device a minute.
pub const KILOBYTES_A_MINUTE: u32 = 8 * 1024;
/// Requests with a token nobody has, of one address a minute.
pub const WRONG_TOKENS_A_MINUTE: u32 = 30;
/// Pages of one address that are told of changes at once; more ask by themselves every few seconds.
pub const STREAMS_AN_ADDRESS: usize = 60;
/// Files being sent to one address at once.
pub const DOWNLOADS_AN_ADDRESS: usize = 3;
/// And to all.
const DOWNLOADS: usize = 30;
const STREAMS: usize = 300;

type Limiter<K> =
    RateLimiter<K, HashMapStateStore<K>, MonotonicClock, NoOpMiddleware<<MonotonicClock as Clock>::Instant>>;

/// All limits of a server.
#[derive(Debug)]
pub struct Limits {
    reports: Limiter<Uuid>,
    kilobytes: Limiter<Uuid>,
    wrong_tokens: Limiter<IpAddr>,
    /// Pages that are told of changes.
    pub streams: Share,
    /// Files being sent.
    pub downloads: Share,
    /// Books being brought in: one at a time.
    pub imports: Share,
    clock: MonotonicClock,
}

fn a_minute<K: std::hash::Hash + Eq + Clone>(most: u32, clock: &MonotonicClock) -> Limiter<K> {
    let most = NonZeroU32::new(most).unwrap_or(NonZeroU32::MIN);
    RateLimiter::new(Quota::per_minute(most), HashMapStateStore::default(), clock.clone())
}

impl Default for Limits {
    fn default() -> Self {
        let clock = MonotonicClock;
        Self {
            reports: a_minute(REPORTS_A_MINUTE, &clock),
            kilobytes: a_minute(KILOBYTES_A_MINUTE, &clock),
            wrong_tokens: a_minute(WRONG_TOKENS_A_MINUTE, &clock),
            streams: Share::of(STREAMS_AN_ADDRESS, STREAMS),
            downloads: Share::of(DOWNLOADS_AN_ADDRESS, DOWNLOADS),
            imports: Share::of(1, 1),
            clock,
        }
    }
}

/// So long must be waited.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Wait(pub Duration);

impl Wait {
    /// Whole seconds, one at least.
    pub fn seconds(self) -> u64 {
        self.0.as_secs() + 1
    }
}

impl Limits {
    /// One more report of a device, with so many bytes.
    pub fn report(&self, device: Uuid, bytes: usize) -> Result<(), Wait> {
        let kilobytes = u32::try_from(bytes.div_ceil(1024)).unwrap_or(u32::MAX);
        let kilobytes = NonZeroU32::new(kilobytes.clamp(1, KILOBYTES_A_MINUTE)).unwrap_or(NonZeroU32::MIN);
        let now = self.clock.now();
        self.reports.check_key(&device).map_err(|until| Wait(until.wait_time_from(now)))?;
        match self.kilobytes.check_key_n(&device, kilobytes) {
            Ok(Err(until)) => Err(Wait(until.wait_time_from(now))),
            _ => Ok(()),
        }
    }

    /// One more token that nobody has, of an address.
    pub fn wrong_token(&self, from: IpAddr) -> Result<(), Wait> {
        let now = self.clock.now();
        self.wrong_tokens.check_key(&from).map_err(|until| Wait(until.wait_time_from(now)))
    }

    /// Forgets whom nothing was heard of.
    pub fn forget(&self) {
        self.reports.retain_recent();
        self.kilobytes.retain_recent();
        self.wrong_tokens.retain_recent();
    }
}

/// What only so many may have at once, of one address and of all.
#[derive(Debug, Clone)]
pub struct Share {
    held: Arc<Mutex<HashMap<IpAddr, usize>>>,
    each: usize,
    all: usize,
}

/// One of them, for as long as it is held.
#[derive(Debug)]
pub struct Held {
    share: Share,
    from: IpAddr,
}

impl Share {
    fn of(each: usize, all: usize) -> Self {
        Self { held: Arc::default(), each, all }
    }

    /// One more for an address, where there is one left.
    pub fn take(&self, from: IpAddr) -> Option<Held> {
        let mut held = self.held.lock().unwrap_or_else(PoisonError::into_inner);
        if held.values().sum::<usize>() >= self.all || held.get(&from).is_some_and(|n| *n >= self.each) {
            return None;
        }
        *held.entry(from).or_default() += 1;
        Some(Held { share: self.clone(), from })
    }
}

impl Drop for Held {
    fn drop(&mut self) {
        let mut held = self.share.held.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(n) = held.get_mut(&self.from) {
            *n -= 1;
            if *n == 0 {
                held.remove(&self.from);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::net::Ipv4Addr;

    fn address(n: u8) -> IpAddr {
        Ipv4Addr::new(192, 0, 2, n).into()
    }

    #[test]
    fn one_address_takes_nothing_from_another() {
        let share = Share::of(2, 3);
        let held: Vec<_> = (0..2).map(|_| share.take(address(1)).expect("left")).collect();
        assert!(share.take(address(1)).is_none());
        let other = share.take(address(2)).expect("another's");
        assert!(share.take(address(3)).is_none(), "three in all");
        drop(held);
        assert!(share.take(address(1)).is_some() && share.take(address(3)).is_some());
        drop(other);
        assert!(share.held.lock().expect("whole").is_empty());
    }

    #[test]
    fn too_many_reports_wait_and_another_device_does_not() {
        let (limits, one, other) = (Limits::default(), Uuid::from_u128(1), Uuid::from_u128(2));
        for _ in 0..REPORTS_A_MINUTE {
            limits.report(one, 100).expect("within the limit");
        }
        let wait = limits.report(one, 100).expect_err("one too many");
        assert!((1..=60).contains(&wait.seconds()), "{wait:?}");
        limits.report(other, 100).expect("its own limit");
        // A megabyte at a time, eight of them are a minute's.
        let third = Uuid::from_u128(3);
        let taken = (0..20).take_while(|_| limits.report(third, 1 << 20).is_ok()).count();
        assert_eq!(taken, 8);
    }
}
