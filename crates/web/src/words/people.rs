//! What is said at the door, and to whoever keeps it.

use hold_steady_core::who::{CODE_HOURS, Role, SHORTEST_PASSWORD, ScreenKind};

pub const SIGN_IN_FIRST: &str = "Sign in first.";
pub const NOT_YOURS: &str = "Your part in this kitchen does not reach so far. Ask its chef, or its owner, to do it or to give you another part.";
pub const ON_YOUR_OWN_SCREEN: &str =
    "That takes a password, on a screen of your own: this one is shared, and a name or a PIN is not enough.";
pub const WHAT_OTHERS_WROTE: &str = "Somebody else wrote that down. A chef or an owner takes it back or sets it right; say what really happened in another entry.";
pub const PIN_WRONG: &str =
    "That is not the PIN. After ten in a row it counts no more until an owner unlocks it.";
pub const PIN_OF_OWNER_WRONG: &str = "That is not the PIN.";
pub const NAME_LOCKED: &str =
    "Ten wrong PINs were given for this name: it takes none until an owner unlocks it, on the page People.";
pub const SCREEN_LOCKED: &str =
    "Ten wrong PINs were given on this screen: it takes none until an owner unlocks it, on the page People.";
pub const NO_PIN: &str = "There is no PIN for this name yet. It is chosen on a screen of one’s own: signed in there, tap the name at the top.";
pub const NOT_THE_PASSWORD: &str = "That is not your password.";
pub const NOT_AN_OWNER: &str = "Name and password are not those of an owner here.";
pub const NO_PERIOD: &str = "Give both days as 2026-11-25, the first not after the last.";
pub const SCREEN_NAME: &str = "the screen";
pub const PASSWORD_CHANGED: &str =
    "Your password is changed; every other screen you were signed in on asks for it.";
pub const PIN_CHANGED: &str = "Your PIN is chosen. It counts on the screens the kitchen shares.";
pub const NAME_OR_PASSWORD: &str =
    "Name and password do not go together. Try again; the owner can make a code for a new password.";
pub const CODE_UNKNOWN: &str = "That code does not count: it was mistyped, used already, or is older than a day. Ask the owner for another.";
pub const FIRST_OWNER: &str = "Give your name: you become this kitchen’s owner.";
pub const COMMON: &str =
    "Many people chose that password, and whoever guesses begins with it. Choose another.";
pub const IS_THE_NAME: &str = "That is the name. Choose something that nobody knows who knows it.";
pub const HASHING: &str = "Others are signing in at this moment. Try again in a second.";

/// How long whoever failed several times waits.
pub fn wait(seconds: i64) -> String {
    format!("That was tried several times. The next try counts in {seconds} s.")
}

/// That a password is too short.
pub fn too_short(given: usize) -> String {
    format!(
        "A password has at least {SHORTEST_PASSWORD} characters; this one has {given}. Several words are easy to keep in mind."
    )
}

/// That a password is too long.
pub fn too_long(longest: usize) -> String {
    format!("A password has at most {longest} bytes.")
}

/// For how long a code counts.
pub fn code_counts() -> String {
    format!("It counts once, for {CODE_HOURS} hours, and is not shown again.")
}

/// What a screen is, for whoever lists them.
pub const fn screen(kind: ScreenKind) -> &'static str {
    match kind {
        ScreenKind::Shared => "several share it",
        ScreenKind::Display => "on the wall",
    }
}

/// A period that inspectors see, by its first and its last day.
pub fn period(from: &str, until: &str) -> String {
    if from == until { from.to_owned() } else { format!("{from} to {until}") }
}

/// A role, for whoever chooses one.
pub const fn role(role: Role) -> &'static str {
    match role {
        Role::Nobody => "nobody",
        Role::Device => "device",
        Role::Display => "screen on the wall",
        Role::Inspector => "inspector: sees who did what",
        Role::Cook => "cook: plans, cooks, reads",
        Role::Chef => "chef: settles how it is done too",
        Role::Owner => "owner: people and devices too",
        Role::Program => "program",
    }
}
