//! The pages of the kitchen, its people, guests and cold places.

pub const SETTLED: &str = "Settled. Plans made from now on go by it.";
pub const READINGS_KEPT: &str =
    "Kept. Readings of baths that ended before are thinned already where they were.";
pub const NAMED: &str = "The kitchen has its new name and time zone.";
pub const HABITS_KEPT: &str = "Kept. New sentences begin with it.";
pub const DEVICE: &str = "From now on this device writes down who it was.";
pub const NO_SUCH_GUEST: &str = "There is no such guest here.";
pub const NOBODY_WORKS_HERE: &str = "Nobody of that kind works here.";
pub const NOBODY: &str = "That is nobody of this kitchen.";
pub const WHAT_PLACE: &str = "Say what it is: a refrigerator, a freezer or the room.";

pub fn not_a_zone(shown: &str) -> String {
    format!("“{shown}” is not a time zone. Choose one of the list, such as Europe/Lisbon.")
}

pub fn not_a_number_of_days(shown: &str, least: u16, most: u16) -> String {
    format!("“{shown}” is no number of days from {least} to {most}. Type one such as 30.")
}
