//! What is said to a request before anything else: that it cannot be read, comes from elsewhere, or is one too many.

use std::fmt::Display;

pub const BROKE_OFF: &str = "The request broke off before its end.";
pub const ADDRESS_MISTYPED: &str = "The address may have been mistyped, or the page has moved.";
pub const LINK_INCOMPLETE: &str = "The link may be incomplete, or it belongs to another kitchen.";
pub const FOOD_REMOVED: &str =
    "It may have been removed from this kitchen’s own. What was cooked with it is in the book.";
pub const OTHER_HOST: &str =
    "This kitchen does not answer to that host name. Start it with --host to allow it.";
pub const OTHER_SITE: &str = "Another site asked for that. Open the page here and try again.";
pub const NO_ORIGIN: &str =
    "That form does not say where it was sent from. Open the page here and try again.";
pub const OTHER_ORIGIN: &str = "That form was sent from another site. Open the page here and try again.";
pub const OTHER_SCHEME: &str = "That form was sent over another kind of line than it arrived by. Open the page here and try again; a proxy in front has to say X-Forwarded-Proto.";
pub const NOT_TEXT: &str = "The file is not text; choose one in JSON.";
pub const TAP_TOO_OLD: &str = "That tap has waited for more than a day. Type the time it really happened.";

/// Why a body was not taken, on a page.
pub fn not_taken(title: &str) -> String {
    format!("{title}. Nothing was written down.")
}

/// That something failed, and what that leaves as it was.
pub fn failed(what: &str) -> String {
    format!("{what} What was written down before is safe.")
}

pub fn form_unread(why: &dyn Display) -> String {
    format!("The form could not be read: {why}.")
}

pub fn address_unread(why: &dyn Display) -> String {
    format!("The address could not be read: {why}.")
}

pub fn file_unread(why: &dyn Display) -> String {
    format!("The file could not be read: {why}.")
}

pub fn too_many_downloads(most: usize) -> String {
    format!(
        "{most} files are being sent to your address already, the most there can be at once. Wait until one has arrived."
    )
}

pub fn too_many_streams(most: usize) -> String {
    format!(
        "{most} pages of your address are told of changes already, the most there can be. This one asks by itself."
    )
}
