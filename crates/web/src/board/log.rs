//! Logs of thermometers that cannot report, brought in as a text: first shown as they were understood, then taken.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::{Columns, NotTaken, Report, Reported, report_from_csv};
use hold_steady_core::units::TemperatureUnit;
use hold_steady_store::Received;
use jiff::SignedDuration;
use serde::Deserialize;
use uuid::Uuid;

use crate::app::{
    self, AppState, Here, PageError, Place, Shell, day_and_time, html_for, or_why, reader_units,
};
use crate::words::bath as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config.service(app::resource("/bath/runs/{id}/log").route(web::post().to(log)));
}

#[derive(Deserialize)]
struct Log {
    /// Read apart: it is long.
    #[serde(skip)]
    log: String,
    thermometer: Option<Uuid>,
    #[serde(default)]
    unit: String,
    /// Seen, and to be taken.
    #[serde(default)]
    take: bool,
}

impl Log {
    /// Reads the form. The log is decoded where it lies, so that a long one is held once.
    fn read(form: Vec<u8>) -> Result<Self, PageError> {
        const LOG: &[u8] = b"log=";
        let unread = |why: &dyn std::fmt::Display| PageError::Request(says::log_unread(why));
        let (mut log, mut others, mut from) = (None, Vec::new(), 0);
        for field in form.split(|b| *b == b'&') {
            if field.starts_with(LOG) {
                log = Some(from + LOG.len()..from + field.len());
            } else {
                others.extend_from_slice(field);
                others.push(b'&');
            }
            from += field.len() + 1;
        }
        let mut read: Self = serde_urlencoded::from_bytes(&others).map_err(|e| unread(&e))?;
        if let Some(log) = log {
            read.log = String::from_utf8(decoded(form, log))
                .map_err(|_| unread(&"it is not written as text (UTF-8)"))?;
        }
        Ok(read)
    }
}

/// A part of a form, decoded in its own place: `+` is a space, `%41` an A.
fn decoded(mut form: Vec<u8>, part: std::ops::Range<usize>) -> Vec<u8> {
    let hex = |b: Option<&u8>| b.and_then(|b| char::from(*b).to_digit(16)).and_then(|d| u8::try_from(d).ok());
    let (mut to, mut at) = (0, part.start);
    while at < part.end {
        let pair = (hex(form.get(at + 1)), hex(form.get(at + 2)));
        let (byte, long) = match (form[at], pair) {
            (b'+', _) => (b' ', 1),
            (b'%', (Some(high), Some(low))) if at + 2 < part.end => (high * 16 + low, 3),
            (other, _) => (other, 1),
        };
        form[to] = byte;
        (to, at) = (to + 1, at + long);
    }
    form.truncate(to);
    form
}

#[derive(Template)]
#[template(path = "board/log.html")]
struct LogPage {
    shell: Shell,
    bath: Uuid,
    name: String,
    zone: String,
    log: String,
    thermometer: Uuid,
    probe: String,
    problem: String,
    /// Which columns are the time, which the temperature, in which unit.
    columns: Option<(String, String, &'static str)>,
    found: usize,
    from: String,
    until: String,
    not_taken: Vec<NotTaken>,
    received: Option<Received>,
}

/// The unit chosen for what the log does not say itself.
fn unit_of(code: &str) -> Option<TemperatureUnit> {
    match code {
        "c" => Some(TemperatureUnit::C),
        "f" => Some(TemperatureUnit::F),
        _ => None,
    }
}

/// Which columns were taken: those of the time, that of the temperature, and its unit.
fn named(columns: Columns) -> (String, String, &'static str) {
    let name = |i: &usize| columns.names.get(*i).cloned().unwrap_or_default();
    let unit = if columns.unit == TemperatureUnit::F { "°F" } else { "°C" };
    (columns.time.iter().map(name).collect::<Vec<_>>().join(" and "), name(&columns.temperature), unit)
}

/// A log, first shown as it was understood, then taken.
async fn log(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    body: web::Payload,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let now = state.heed_clock().await?;
    let (zone, units) = (state.kitchen().wall(), reader_units(&request));
    let Log { mut log, thermometer, unit, take } = Log::read(app::whole(body).await?)?;
    let bath = here.bath(*id).await?;
    let probes = here.equipment().await?.thermometers;
    let probe = thermometer.and_then(|t| probes.into_iter().find(|p| p.id == t));
    let Some(probe) = probe else {
        return Err(PageError::Request(says::WHOSE_LOG.into()));
    };
    let usual = unit_of(&unit).unwrap_or(units.temperature);
    let (report, problem) = match report_from_csv(&log, usual, &zone, (now, SignedDuration::ZERO)) {
        Ok(report) => (report, String::new()),
        Err(why) => (Report::default(), why.into()),
    };
    let Report { columns, readings, mut not_taken, read_bytes, .. } = report;
    // What was not read is not sent back either.
    if let Some(read) = read_bytes {
        log.truncate(log.floor_char_boundary(read));
    }
    let ends = |r: Option<&Reported>| {
        let at = r.and_then(|r| r.at);
        at.map_or_else(String::new, |t| day_and_time(t, &zone))
    };
    let (found, from, until) = (readings.len(), ends(readings.first()), ends(readings.last()));
    let received = if take && problem.is_empty() {
        let done = or_why(here.bring_log(*id, probe.id, readings, now).await)?;
        Some(done.map_err(PageError::Request)?)
    } else {
        None
    };
    if let Some(received) = &received {
        not_taken.extend(received.not_taken.iter().cloned());
        not_taken.sort_by_key(|n| n.line);
    }
    let page = LogPage {
        shell: Shell::new(&state, &request, Place::Bath, "A log").await?,
        bath: *id,
        name: bath.name,
        zone: zone.iana_name().unwrap_or("UTC").to_owned(),
        log,
        thermometer: probe.id,
        probe: probe.name,
        columns: columns.map(named),
        found,
        from,
        until,
        not_taken,
        received,
        problem,
    };
    html_for(&page, !page.problem.is_empty())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_form_is_decoded_where_it_lies_as_any_other_is() {
        let sent = "take=true&log=Time%3BTemperature+%28%C2%B0C%29%0A2026-11-25+17%3A00%3B55%2C1%25&unit=c";
        let read = Log::read(sent.into()).expect("a form");
        let usual: std::collections::HashMap<String, String> =
            serde_urlencoded::from_str(sent).expect("a form");
        assert_eq!(read.log, usual["log"]);
        assert!(read.take && read.unit == "c" && read.thermometer.is_none());
        // What is no escape stands for itself, at the end too.
        for (sent, log) in
            [("log=%", "%"), ("log=%4", "%4"), ("log=%zz&unit=%41", "%zz"), ("log=", ""), ("unit=c", "")]
        {
            assert_eq!(Log::read(sent.into()).expect("a form").log, log, "{sent}");
        }
        assert!(Log::read("log=%ff".into()).is_err(), "no text");
    }
}
