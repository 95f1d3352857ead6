//! A cook's page: taps and what is typed beside them.

pub const OUT_OF_ITS_BATH: &str =
    "It is out of its bath: what it is can still be corrected, what is wished no more.";
pub const PLANNED_MEANWHILE: &str =
    "It was planned anew meanwhile, on another screen. Look at what stands now, and at this beside it.";
pub const IN_NO_BATH: &str = "It lies in no bath yet. Tap “Dropped” first, with the time it went in.";
pub const NOT_JUST_PULLED: &str =
    "Only what was just pulled can be put back. Look at what stands in the record.";
pub const WHICH_COLD_PLACE: &str =
    "Say where it is put away: choose a refrigerator or a freezer. Reload the page.";
pub const WHICH_ENTRY: &str = "Say which entry is meant. Reload the page.";
pub const PUT_AWAY_WHERE: &str = "Say where it is put away. Reload the page.";
pub const NOTHING_TO_WRITE: &str = "That is nothing that can be written down here. Reload the page.";
pub const WHEN_REALLY: &str = "Type the time it really happened, for example 19:05 or 7:05 pm.";
pub const NO_ANSWER: &str = "That is no answer to what was asked. Reload the page.";
pub const SECONDS_A_FACE: &str = "Type the seconds on each face, for example 45 + 45.";
pub const WHAT_WAS_SEARED: &str = "Say what was seared: every face and edge, the faces, or less.";
pub const ONE_MARK: &str = "Give at least one mark or a word.";

pub fn not_a_share(shown: &str) -> String {
    format!("“{shown}” is not a share of salt. Type per cent of its weight, from 0 to 10, for example 1.2.")
}

pub fn not_a_while(shown: &str) -> String {
    format!("“{shown}” is not a time. For how long was it up, at most? Type for example 12 min.")
}

/// Why it cannot be written down, with the time of what stands against it.
pub fn clashes(text: &str, at: &str) -> String {
    format!("{text} That was at {at}.")
}

/// That a cook's file and what is computed from it differ.
pub fn came_otherwise(differs: &[&str]) -> String {
    format!(
        "This cook came in a file whose answer is not what is computed from it: {}. What was said then stands below.",
        differs.join(", ")
    )
}

/// Who gave a plan that was not computed here, after what it says.
pub fn given_by(by: &str) -> String {
    format!(" That plan is {by}.")
}
