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

/// How long a name that was tapped on a shared screen counts while nobody touches it, minutes; then it asks who it is again.
pub const SHARED_IDLE_MINUTES: i64 = 5;

/// How long a PIN counts once it was given, minutes; then the name alone does.
pub const PIN_MINUTES: i64 = 5;

/// Digits of a PIN.
pub const PIN_DIGITS: usize = 6;

/// So many wrong PINs in a row lock the name, or the screen, until an owner unlocks it: ten of a million.
pub const WRONG_PINS: u32 = 10;

/// Tries of one name from one address that cost nothing.
pub const FREE_TRIES: u32 = 3;

/// Tries from one address under any name that cost nothing: a whole kitchen may stand behind one.
pub const FREE_AT_AN_ADDRESS: u32 = 20;

/// Why something cannot be a PIN: six digits, neither all alike nor counted up or down, which whoever guesses begins with
/// (common practice).
///
/// ```
/// use hold_steady_core::who::unfit_pin;
/// assert_eq!(unfit_pin("402817"), None);
/// assert!(unfit_pin("40281").is_some_and(|why| why.contains("6 digits")));
/// assert!(unfit_pin("123456").is_some() && unfit_pin("111111").is_some() && unfit_pin("987654").is_some());
/// assert!(unfit_pin("121212").is_some());
/// ```
#[must_use]
pub fn unfit_pin(pin: &str) -> Option<String> {
    let digits: Vec<i8> =
        pin.bytes().filter(u8::is_ascii_digit).filter_map(|b| i8::try_from(b - b'0').ok()).collect();
    if digits.len() != PIN_DIGITS || pin.len() != PIN_DIGITS {
        return Some(format!("A PIN has {PIN_DIGITS} digits and nothing else."));
    }
    let steps: Vec<i8> = digits.windows(2).map(|w| w[1] - w[0]).collect();
    let even = steps.iter().all(|s| *s == steps[0] && s.abs() <= 1);
    let in_turns = digits.iter().zip(&digits[2..]).all(|(a, b)| a == b);
    let twice = digits[..3] == digits[3..];
    (even || in_turns || twice).then(|| "Whoever guesses begins with that one. Choose another.".to_owned())
}

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
