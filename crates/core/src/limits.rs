//! How much of something a kitchen, a file, a device or a log may hold: one table, so that what one part writes another reads.
//!
//! They count what is there. Whatever a kitchen can come to hold its export holds, and its import takes back; a file is
//! bounded by its length, not by a number that a long book reaches.

/// Most events of a cook: a cook of three days with a reading of the hot hold every quarter of an hour has some
/// three hundred. The clock set again and again with nothing between counts once.
pub const MOST_EVENTS: usize = 500;
/// Most settings of the clock of a cook, for each event there may be.
pub const MOST_SETTINGS_AN_EVENT: usize = 100;
/// Most baths that a cook lies in, one after another; most bags that are begun together.
pub const MOST_BATHS: usize = 24;
/// Most plans of a piece.
pub const MOST_PLANS: usize = 20;
/// Most cooks that may be under way in a kitchen for an import to add another.
pub const MOST_UNDER_WAY: usize = 40;

/// Most people who work in a kitchen; who left does not count.
pub const MOST_PEOPLE: usize = 100;
/// Most guests on a kitchen's list; who was removed does not count.
pub const MOST_GUESTS: usize = 500;
/// Most vessels, and most thermometers, on a kitchen's lists.
pub const MOST_VESSELS: usize = 100;
/// Most devices of a kitchen whose tokens count.
pub const MOST_DEVICES: usize = 100;
/// Most checks of a thermometer.
pub const MOST_CHECKS: usize = 1_000;
/// Most presets of a file of them.
pub const MOST_PRESETS: usize = 500;

/// Most readings of an instrument that are written down by hand or brought in as logs. (What a device reports is bound by
/// its time.)
pub const MOST_READINGS_BY_HAND: usize = 100_000;
/// Most readings of one report, or of one log: thirteen hours of one a second, several times a kettle's memory.
pub const MOST_REPORTED: usize = 50_000;
/// Most readings of an instrument in an hour: ten a second.
pub const MOST_READINGS_AN_HOUR: usize = 36_000;
/// Most bytes of one record of a file. Up to version 7 a cook held every reading of its baths: two and a half days of one a
/// second.
pub const LARGEST_RECORD: usize = 16 << 20;
/// Most records that are named of those that could not be taken; of the others it is said how many.
pub const MOST_NAMED: usize = 1_000;

/// Longest letter of a bag, characters.
pub const LONGEST_LETTER: usize = 4;
/// Longest title of a cook, characters.
pub const LONGEST_TITLE: usize = 200;
/// Longest name of a person, a kitchen, a bath, an engine or an origin in a file, characters.
pub const LONGEST_NAME: usize = 120;
/// Largest stored answer of a plan, bytes of JSON.
pub const LARGEST_ANSWER: usize = 64 * 1024;

/// Coldest and hottest bath that is asked about or brought in, °C: water neither frozen nor boiling at sea level.
pub const BATH_C: (f64, f64) = (0.0, 100.0);
