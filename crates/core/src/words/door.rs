//! What happened at the door, in words.

use crate::book::text_cell;
use crate::who::{Deed, DeedRecord};

/// Every kind of deed: its word in records, and what it is called.
pub const DEEDS: [(&str, &str); 10] = [
    ("signed-in", "signed in"),
    ("not-signed-in", "could not sign in"),
    ("signed-out", "signed out"),
    ("session-ended", "a session ended by somebody else"),
    ("signed-out-everywhere", "signed out everywhere"),
    ("invited", "code made"),
    ("password-chosen", "password chosen"),
    ("role-given", "role given"),
    ("refused", "refused"),
    ("taken-out", "taken out"),
];

/// What was done, as a sentence about whoever did it.
///
/// ```
/// use hold_steady_core::who::{Deed, Role};
/// let given = Deed::RoleGiven { name: "Ida".into(), from: Role::Cook, to: Role::Chef };
/// assert_eq!(hold_steady_core::words::deed(&given), "made Ida chef, who was cook");
/// ```
#[must_use]
pub fn deed(deed: &Deed) -> String {
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
        Deed::Refused { path } => format!("was refused {path}"),
        Deed::TakenOut { file } => format!("took {file} out"),
    }
}

/// What happened as a table (CSV, RFC 4180), one line each.
///
/// ```
/// assert_eq!(hold_steady_core::words::trail_table(&[]), "at,who,role,screen,what\r\n");
/// ```
#[must_use]
pub fn trail_table(records: &[DeedRecord]) -> String {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    let mut written = out.write_record(["at", "who", "role", "screen", "what"]);
    for r in records {
        let screen = r.by.screen.map(|s| s.to_string()).unwrap_or_default();
        let cells = [r.at.to_string(), r.by.name.clone(), r.role.id().into(), screen, deed(&r.deed)];
        written = written.and_then(|()| out.write_record(cells.iter().map(|c| text_cell(c))));
    }
    // A table in memory is always written.
    debug_assert!(written.is_ok());
    out.into_inner().map(|bytes| String::from_utf8_lossy(&bytes).into_owned()).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::who::{By, Role};

    #[test]
    fn every_kind_has_a_name_and_no_cell_is_a_formula() {
        let of = |deed: &Deed| serde_json::to_value(deed).expect("JSON")["kind"].as_str().map(str::to_owned);
        let all = [
            Deed::SignedIn,
            Deed::NotSignedIn { name: None, address: "192.0.2.7".into() },
            Deed::SignedOut,
            Deed::SessionEnded { name: "Ida".into() },
            Deed::SignedOutEverywhere { name: "Ida".into() },
            Deed::Invited { name: None },
            Deed::PasswordChosen,
            Deed::RoleGiven { name: "Ida".into(), from: Role::Cook, to: Role::Owner },
            Deed::Refused { path: "/people".into() },
            Deed::TakenOut { file: "export.json".into() },
        ];
        let kinds: Vec<String> = all.iter().filter_map(of).collect();
        assert_eq!(kinds, DEEDS.map(|(id, _)| id.to_owned()));
        let by = By { screen: Some(uuid::Uuid::nil()), ..By::nobody("=HYPERLINK(1)") };
        let at = jiff::Timestamp::UNIX_EPOCH;
        let record = DeedRecord { id: uuid::Uuid::nil(), at, by, role: Role::Nobody, deed: Deed::SignedIn };
        let table = trail_table(&[record]);
        assert!(table.contains("1970-01-01T00:00:00Z,'=HYPERLINK(1),nobody,0000"), "{table}");
    }
}
