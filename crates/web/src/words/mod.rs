//! What the pages say of themselves: a form that was not understood, something written down, an address that leads nowhere.
//! Here, and nowhere else in the pages' code; what concerns food, its times and its safety is said by the core's `words`.

pub mod bath;
pub mod book;
pub mod cook;
pub mod door;
pub mod kitchen;
pub mod people;
pub mod plan;
mod scripts;

pub use scripts::words as of_scripts;

/// A form that does not say what it must: only a page that is out of date sends one.
pub const SAY_WHAT: &str = "Say what. Reload the page.";
/// Done: what a form asked for is kept.
pub const KEPT: &str = "Kept.";
/// Done: what a form said is written down.
pub const WRITTEN_DOWN: &str = "Written down.";

/// That a name is too long, or none.
pub fn not_a_name(of: &str, longest: usize) -> String {
    format!("A {of}’s name has 1 to {longest} letters.")
}
