//! What happened at the door and to what a kitchen keeps, in words.

use jiff::Timestamp;

use crate::book::{Change, Happened, LaidIn, TrailRecord, text_cell};
use crate::who::{Deed, ScreenKind};

/// Every kind of line of the trail: its word in records, and what it is called.
pub const TRAIL_KINDS: [(&str, &str); 51] = [
    ("signed-in", "signed in"),
    ("not-signed-in", "could not sign in"),
    ("signed-out", "signed out"),
    ("session-ended", "a session ended by somebody else"),
    ("signed-out-everywhere", "signed out everywhere"),
    ("invited", "code made"),
    ("password-chosen", "password chosen"),
    ("role-given", "role given"),
    ("name-tapped", "name tapped"),
    ("pin-given", "PIN given"),
    ("pin-wrong", "wrong PIN"),
    ("pin-chosen", "PIN chosen"),
    ("unlocked", "unlocked"),
    ("pins-asked", "when PINs are asked"),
    ("screen-enrolled", "screen enrolled"),
    ("screen-ended", "screen ended"),
    ("period-opened", "period opened to inspectors"),
    ("period-closed", "period closed"),
    ("device-made", "device made known"),
    ("device-renewed", "device’s token made anew"),
    ("device-revoked", "device revoked"),
    ("device-clock", "device’s clock"),
    ("copied", "copied"),
    ("restored", "restored"),
    ("refused", "refused"),
    ("taken-out", "taken out"),
    ("laid", "device laid"),
    ("brought-in", "brought in"),
    ("named", "name or time zone"),
    ("settled", "rules"),
    ("habits", "habits"),
    ("person-kept", "person"),
    ("person-left", "person left"),
    ("guest-kept", "guest"),
    ("guest-removed", "guest removed"),
    ("food-kept", "food"),
    ("food-removed", "food removed"),
    ("dialled", "temperature of a food"),
    ("readings-thinned", "readings thinned"),
    ("readings-kept", "how long readings are kept"),
    ("batch-salted", "batch salted"),
    ("preset-kept", "preset"),
    ("preset-removed", "preset removed"),
    ("vessel-kept", "vessel"),
    ("vessel-removed", "vessel removed"),
    ("thermometer-kept", "thermometer"),
    ("thermometer-removed", "thermometer removed"),
    ("storage-kept", "cold place"),
    ("storage-removed", "cold place removed"),
    ("thermometer-checked", "thermometer checked"),
    ("pantry-brought", "another kitchen’s lists"),
];

/// What was done, as a sentence about whoever did it; `when` tells an instant as its reader does.
///
/// ```
/// use hold_steady_core::who::{Deed, Role};
/// let given = Deed::RoleGiven { name: "Ida".into(), from: Role::Cook, to: Role::Chef };
/// assert_eq!(hold_steady_core::words::deed(&given, &|t| t.to_string()), "made Ida chef, who was cook");
/// ```
#[must_use]
pub fn deed(deed: &Deed, when: &dyn Fn(Timestamp) -> String) -> String {
    let until =
        |until: &Option<Timestamp>| until.map_or_else(String::new, |t| format!(", until {}", when(t)));
    match deed {
        Deed::SignedIn => "signed in".into(),
        Deed::NotSignedIn { name: Some(name), address } => {
            format!("tried to sign in as {name} from {address} and could not")
        }
        Deed::NotSignedIn { name: None, address } => {
            format!("tried to come in from {address} under a name or with a code that is none here")
        }
        Deed::SignedOut => "signed out".into(),
        Deed::SessionEnded { name } => format!("ended a session of {name}"),
        Deed::SignedOutEverywhere { name } => format!("signed {name} out on every screen"),
        Deed::Invited { name: Some(name) } => format!("made a code for {name}"),
        Deed::Invited { name: None } => "made a code for the first owner".into(),
        Deed::PasswordChosen => "chose a password".into(),
        Deed::RoleGiven { name, from, to } => format!("made {name} {}, who was {}", to.id(), from.id()),
        Deed::NameTapped => "tapped their name".into(),
        Deed::PinGiven => "gave their PIN".into(),
        Deed::PinWrong { name, locked: false } => format!("a wrong PIN was given for {name}"),
        Deed::PinWrong { name, locked: true } => format!("a wrong PIN was given for {name}, which locked it"),
        Deed::PinChosen => "chose a PIN".into(),
        Deed::Unlocked { name } => format!("unlocked {name}"),
        Deed::PinsAsked { always: true } => "settled that shared screens ask for every PIN".into(),
        Deed::PinsAsked { always: false } => {
            "settled that shared screens ask for a PIN where something is corrected or settled".into()
        }
        Deed::ScreenEnrolled { name, screen: ScreenKind::Shared } => {
            format!("enrolled “{name}”, which several share")
        }
        Deed::ScreenEnrolled { name, screen: ScreenKind::Display } => {
            format!("enrolled “{name}”, on the wall")
        }
        Deed::ScreenEnded { name } => format!("ended the screen “{name}”"),
        Deed::PeriodOpened { from, until } => {
            format!("opened {} to {} to inspectors", when(*from), when(*until))
        }
        Deed::PeriodClosed { from, until } => {
            format!("closed {} to {} to inspectors", when(*from), when(*until))
        }
        Deed::DeviceMade { name, until: end } => format!("made the device {name} known{}", until(end)),
        Deed::DeviceRenewed { name, until: end } => {
            format!("made another token for the device {name}{}", until(end))
        }
        Deed::DeviceRevoked { name } => format!("revoked the device {name}"),
        Deed::DeviceClock { name, ahead_s } => {
            format!("said that the clock of {name} is {ahead_s:.0} s ahead")
        }
        Deed::Copied { file } => format!("copied the database into {file}"),
        Deed::Restored { file } => format!("put {file} in the place of the database"),
        Deed::Refused { path } => format!("was refused {path}"),
        Deed::TakenOut { file } => format!("took {file} out"),
    }
}

/// What was changed, as a sentence about whoever changed it. Of guests a number is said and nothing else.
///
/// ```
/// use hold_steady_core::book::Change;
/// let change = Change::GuestRemoved { id: uuid::Uuid::nil(), number: 3 };
/// assert_eq!(hold_steady_core::words::change(&change), "removed guest 3");
/// ```
#[must_use]
pub fn change(change: &Change) -> String {
    let off = |removed: &bool, what: &str| {
        if *removed { format!("took {what} off the list") } else { format!("put {what} back on the list") }
    };
    match change {
        Change::Named { name, time_zone } => format!("named the kitchen {name}, in {time_zone}"),
        Change::Settled { .. } => "changed the kitchen’s rules".into(),
        Change::Habits { .. } => "changed how the kitchen likes to work".into(),
        Change::PersonKept { person } => format!("wrote {} down as somebody who works here", person.name),
        Change::PersonLeft { left: true, .. } => "wrote down that somebody left".into(),
        Change::PersonLeft { left: false, .. } => "wrote down that somebody came back".into(),
        Change::GuestKept { number, .. } => format!("wrote guest {number} down"),
        Change::GuestRemoved { number, .. } => format!("removed guest {number}"),
        Change::FoodKept { food } => {
            format!(
                "kept the food {}",
                food["name"].as_str().or_else(|| food["id"].as_str()).unwrap_or_default()
            )
        }
        Change::FoodRemoved { id, removed } => off(removed, &format!("the food {id}")),
        Change::Dialled { food, celsius: Some(c) } => format!("found {:.1} °C right for {food}", c.value()),
        Change::Dialled { food, celsius: None } => format!("forgot the temperature found right for {food}"),
        Change::ReadingsThinned { readings, minutes, .. } => {
            format!("thinned {readings} readings to {minutes} minutes")
        }
        Change::ReadingsKept { days } => format!("settled that every reading is kept for {days} days"),
        Change::BatchSalted { batch } => format!("salted the batch {batch}"),
        Change::PresetKept { name, .. } => format!("kept the preset {name}"),
        Change::PresetRemoved { removed, .. } => off(removed, "a preset"),
        Change::VesselKept { vessel } => format!("kept the vessel {}", vessel.vessel.name),
        Change::VesselRemoved { removed, .. } => off(removed, "a vessel"),
        Change::ThermometerKept { name, .. } => format!("kept the thermometer {name}"),
        Change::ThermometerRemoved { removed, .. } => off(removed, "a thermometer"),
        Change::StorageKept { storage } => format!("kept the cold place {}", storage.name),
        Change::StorageRemoved { removed, .. } => off(removed, "a cold place"),
        Change::ThermometerChecked { .. } => "checked a thermometer".into(),
        Change::PantryBrought { added } => format!("brought {added} records of another kitchen’s lists in"),
    }
}

/// A line of the trail as a sentence about whoever it was.
///
/// ```
/// use hold_steady_core::book::{Happened, LaidIn};
/// let laid = Happened::Laid { device: "tank probe".into(), place: LaidIn::Water };
/// assert_eq!(hold_steady_core::words::happened(&laid, &|t| t.to_string()), "laid tank probe into a bath");
/// ```
#[must_use]
pub fn happened(what: &Happened, when: &dyn Fn(Timestamp) -> String) -> String {
    match what {
        Happened::Deed(done) => deed(done, when),
        Happened::Changed(changed) => change(changed),
        Happened::Laid { device, place: LaidIn::Water } => format!("laid {device} into a bath"),
        Happened::Laid { device, place: LaidIn::Piece } => format!("stuck {device} into a piece"),
        Happened::Laid { device, place: LaidIn::Storage } => format!("laid {device} into a cold place"),
        Happened::Laid { device, place: LaidIn::Nothing } => format!("took {device} out"),
        Happened::BroughtIn { kitchen } => format!("brought a book of {kitchen} in"),
    }
}

/// What happened as a table (CSV, RFC 4180), one line each.
///
/// ```
/// assert_eq!(hold_steady_core::words::trail_table(&[]), "at,who,role,screen,what\r\n");
/// ```
#[must_use]
pub fn trail_table(records: &[TrailRecord]) -> String {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    let mut written = out.write_record(["at", "who", "role", "screen", "what"]);
    for r in records {
        let screen = r.by.screen.map(|s| s.to_string()).unwrap_or_default();
        let what = happened(&r.what, &|t| t.to_string());
        let cells =
            [r.at.to_string(), r.by.told(), r.role.map_or("", crate::who::Role::id).into(), screen, what];
        written = written.and_then(|()| out.write_record(cells.iter().map(|c| text_cell(c))));
    }
    // A table in memory is always written.
    debug_assert!(written.is_ok());
    out.into_inner().map(|bytes| String::from_utf8_lossy(&bytes).into_owned()).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::who::{By, Proof, Role};

    #[test]
    fn every_kind_of_deed_has_a_name_and_no_cell_is_a_formula() {
        let at = Timestamp::UNIX_EPOCH;
        let name = || "Ida".to_owned();
        let all = [
            Deed::SignedIn,
            Deed::NotSignedIn { name: None, address: "192.0.2.7".into() },
            Deed::SignedOut,
            Deed::SessionEnded { name: name() },
            Deed::SignedOutEverywhere { name: name() },
            Deed::Invited { name: None },
            Deed::PasswordChosen,
            Deed::RoleGiven { name: name(), from: Role::Cook, to: Role::Owner },
            Deed::NameTapped,
            Deed::PinGiven,
            Deed::PinWrong { name: name(), locked: true },
            Deed::PinChosen,
            Deed::Unlocked { name: name() },
            Deed::PinsAsked { always: true },
            Deed::ScreenEnrolled { name: name(), screen: ScreenKind::Shared },
            Deed::ScreenEnded { name: name() },
            Deed::PeriodOpened { from: at, until: at },
            Deed::PeriodClosed { from: at, until: at },
            Deed::DeviceMade { name: name(), until: Some(at) },
            Deed::DeviceRenewed { name: name(), until: None },
            Deed::DeviceRevoked { name: name() },
            Deed::DeviceClock { name: name(), ahead_s: 2.0 },
            Deed::Copied { file: name() },
            Deed::Restored { file: name() },
            Deed::Refused { path: "/people".into() },
            Deed::TakenOut { file: "export.json".into() },
        ];
        let of = |deed: &Deed| serde_json::to_value(deed).expect("JSON")["kind"].as_str().map(str::to_owned);
        let kinds: Vec<String> = all.iter().filter_map(of).collect();
        assert_eq!(kinds, TRAIL_KINDS[..kinds.len()].iter().map(|k| k.0.to_owned()).collect::<Vec<_>>());
        let by = By { proof: Proof::Named, screen: Some(uuid::Uuid::nil()), ..By::nobody("=HYPERLINK(1)") };
        let what = Happened::Deed(Deed::SignedIn);
        let record = TrailRecord { id: uuid::Uuid::nil(), at, by, role: Some(Role::Nobody), what };
        let table = trail_table(&[record]);
        assert!(
            table.contains("1970-01-01T00:00:00Z,\"'=HYPERLINK(1) (named, not proven)\",nobody,0000"),
            "{table}"
        );
    }
}
