//! The book's pages: looking for a cook, and bringing another book in.

use std::fmt::Display;

pub const IMPORT_UNDER_WAY: &str =
    "Another book is being brought in just now. Wait until it is done, then send this one again.";
pub const CHOOSE: &str = "Choose a file first: one that was exported here as JSON.";

pub fn too_large(most_bytes: u64) -> String {
    format!(
        "The book is larger than {} MB. Nothing was written down: import it at the command line, which takes one of any length.",
        most_bytes >> 20
    )
}

pub fn too_late(minutes: u64) -> String {
    format!("The book did not arrive within {minutes} minutes. Nothing was written down.")
}

pub fn unread(why: &dyn Display) -> String {
    format!("The file could not be read: {why}. Nothing was written down.")
}

pub fn imported(done: &dyn Display) -> String {
    format!("Imported: {done}.")
}

pub fn not_imported(why: &dyn Display) -> String {
    format!("Nothing was imported: {why}.")
}

pub fn not_a_day(field: &str, shown: &str) -> String {
    format!("{field}: “{shown}” is not a day. Type one such as 2026-11-25.")
}
