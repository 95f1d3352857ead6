//! A cook's steps as a calendar (RFC 5545): times in UTC, an alarm on each, and identifiers that stay, so that
//! a second download updates the first.

use hold_steady_core::book::CookRecord;
use hold_steady_core::units::Units;
use hold_steady_core::words::ToldStep;
use icalendar::{Alarm, Calendar, Component, Event, EventLike, Property, Trigger};
use jiff::Timestamp;

/// How long a step's entry is shown, minutes: a calendar shows no instants.
const SHOWN_MIN: i64 = 5;

/// `20261125T193000Z`.
fn utc(t: Timestamp) -> String {
    t.strftime("%Y%m%dT%H%M%SZ").to_string()
}

/// Without what would end a line: a bare CR is one to some readers, and what follows it a property of its own.
fn plain(text: &str) -> String {
    text.chars().map(|letter| if letter.is_control() && letter != '\n' { ' ' } else { letter }).collect()
}

/// The calendar of a cook seen at `now`, in the units its steps are told in; `address` is the cook's page.
pub fn calendar(
    record: &CookRecord,
    steps: &[ToldStep],
    (now, units): (Timestamp, Units),
    address: &str,
) -> String {
    let title = record.title_in(units);
    let mut all = Calendar::empty();
    all.append_property(Property::new("VERSION", "2.0"))
        .append_property(Property::new("PRODID", "-//Hold Steady//cook//EN"))
        .append_property(Property::new("CALSCALE", "GREGORIAN"))
        .append_property(Property::new("X-WR-CALNAME", plain(&title)));
    for step in steps.iter().filter(|s| s.done.is_none() && !s.passed) {
        let end = step.at.checked_add(jiff::SignedDuration::from_mins(SHOWN_MIN)).unwrap_or(step.at);
        let mut event = Event::new();
        event
            // The cook and the step name an entry for ever; what was written down since makes it newer.
            .uid(&format!("{}.{}@hold-steady", step.id, record.id))
            .sequence(u32::try_from(record.events.len()).unwrap_or(u32::MAX))
            .append_property(Property::new("DTSTAMP", utc(now)))
            .append_property(Property::new("DTSTART", utc(step.at)))
            .append_property(Property::new("DTEND", utc(end)))
            .append_property(Property::new("TRANSP", "TRANSPARENT"))
            .summary(&plain(&format!("{}: {title}", step.what)))
            .description(&plain(&step.why))
            .url(address)
            .alarm(
                Alarm::display(&plain(&step.what), Trigger::before_start(chrono::Duration::zero()))
                    .uid(&format!("alarm.{}.{}@hold-steady", step.id, record.id))
                    .append_property(Property::new("DTSTAMP", utc(now)))
                    .done(),
            );
        all.push(event.done());
    }
    all.done().to_string()
}

#[cfg(test)]
mod tests {
    use super::plain;

    #[test]
    fn no_text_ends_a_line_of_the_calendar() {
        assert_eq!(plain("a\rATTACH:x\r\nb\u{7}\u{85}c"), "a ATTACH:x \nb  c");
    }
}
