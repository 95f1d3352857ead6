//! How long a door stays open, and how long whoever fails at it waits.

use jiff::SignedDuration;

/// The fewest characters of a password (as issued guidance of this kind has it: NIST SP 800-63B-4 asks for 8 with something
/// beside it and 15 alone; ten is the kitchen's own choice, with a list of common ones, delays and a hash that is slow).
pub const SHORTEST_PASSWORD: usize = 10;

/// How long a code counts that was made for somebody, hours.
pub const CODE_HOURS: i64 = 24;

/// How long a session lasts at most, days; after that whoever it is signs in again.
pub const SESSION_DAYS: i64 = 30;

/// How long a session lasts that nobody uses, hours: longer than a night between two services.
pub const SESSION_IDLE_HOURS: i64 = 24;

/// Tries of one name from one address that cost nothing.
pub const FREE_TRIES: u32 = 3;

/// Tries from one address under any name that cost nothing: a whole kitchen may stand behind one.
pub const FREE_AT_AN_ADDRESS: u32 = 20;

/// How long whoever failed so often in a row waits before the next try: the first few (`free`) cost nothing, since fingers
/// slip; then it doubles from two seconds to a quarter of an hour.
///
/// ```
/// use hold_steady_core::who::{FREE_AT_AN_ADDRESS, FREE_TRIES, wait_after};
/// assert_eq!(wait_after(3, FREE_TRIES).as_secs(), 0);
/// assert_eq!(wait_after(4, FREE_TRIES).as_secs(), 2);
/// assert_eq!(wait_after(6, FREE_TRIES).as_secs(), 8);
/// assert_eq!(wait_after(200, FREE_TRIES).as_secs(), 900);
/// assert_eq!(wait_after(20, FREE_AT_AN_ADDRESS).as_secs(), 0);
/// ```
#[must_use]
pub fn wait_after(failed: u32, free: u32) -> SignedDuration {
    const LONGEST_S: i64 = 15 * 60;
    let Some(beyond) = failed.checked_sub(free + 1) else { return SignedDuration::ZERO };
    let doubled = 2_i64.checked_shl(beyond.min(30)).unwrap_or(LONGEST_S);
    SignedDuration::from_secs(doubled.min(LONGEST_S))
}
