//! What is said at the door, and to whoever keeps it.

use hold_steady_core::who::{CODE_HOURS, Role, SHORTEST_PASSWORD};

pub const SIGN_IN_FIRST: &str = "Sign in first.";
pub const NOT_YOURS: &str = "Your part in this kitchen does not reach so far. Ask its chef, or its owner, to do it or to give you another part.";
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
