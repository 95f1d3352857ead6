//! The pages of baths, thermometers, logs and devices.

use std::fmt::Display;

pub const CHECKED: &str = "Written down. Its readings go by it from now on.";
pub const VESSEL_KEPT: &str = "Kept. Plans can go into it.";
pub const OFF: &str = "Written down: what lies in it is reckoned anew from when it was off. Once it reads as set again, write that down: dinner comes forward by it.";
pub const SET: &str = "Written down. Plans go by it; what is proved goes by readings.";
pub const WATER: &str = "Written down. Stir, then read it again.";
pub const LEARNED: &str = "Learned. Plans and this page go by it from now on.";
pub const AGAINST_WHAT: &str = "Choose what it was held in.";
pub const WHICH_THERMOMETER: &str = "Say with which thermometer. Keep one on the bath page first.";
pub const WHOSE_LOG: &str = "Say with which thermometer the log was taken. Keep one on the bath page first.";
pub const READ_AGAIN: &str = "Read it again.";
pub const WHICH_COVER: &str = "Choose what lies over it.";
pub const WHICH_READING: &str = "Say which reading. Reload the page.";
pub const WHEN_REALLY: &str = "Type when it really was, such as 18:40.";
pub const HOW_FAR_AHEAD: &str = "Say by how many seconds its clock is ahead.";
pub const WHERE_IT_LIES: &str = "Say where it lies. Reload the page.";
pub const EMPTIED: &str = "That bath was emptied. Choose one that runs.";
pub const SET_ITS_CLOCK: &str =
    "Set its clock, or say on the page of devices that its times are to be set right by that.";

pub fn too_far_off(shown: &str, off: &str, most: &str) -> String {
    format!("“{shown}” is {off} off; at most {most} is taken. Look again, or use another thermometer.")
}

pub fn not_off_then(from: &str, until: &str) -> String {
    format!("It cannot have been off from {from} until {until}: type since when, such as 20 min ago.")
}

pub fn not_a_water_temperature(shown: &str, low: &str, high: &str, way_out: &str) -> String {
    format!("“{shown}” is no temperature of water, {low} to {high}. {way_out}")
}

/// What lies in a vessel that is drawn, after the rest.
pub fn pieces_in_it(thick: &str) -> String {
    format!(" In it: pieces {thick} thick.")
}

pub fn did_you_mean(meant: &str) -> String {
    format!("Did you mean {meant}?")
}

pub fn two_times(typed: &str, one: &str, other: &str) -> String {
    format!(
        "“{typed}” can be {one} or {other}. Type it with its day, such as today 18:05 or yesterday 18:05, or as 10 min ago."
    )
}

pub fn not_done_to_water(shown: &str) -> String {
    format!("“{shown}” cannot be done to water.")
}

pub fn log_unread(why: &dyn Display) -> String {
    format!("The log could not be read: {why}.")
}
