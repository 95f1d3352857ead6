//! A cook on one page of paper, with a code that leads back to it.

use actix_web::HttpRequest;
use hold_steady_core::cook::Milestone;
use hold_steady_core::words;

use super::live_view::ribbon;
use super::logged::{CheckLine, checklist, guided};
use super::seen::{Seen, planned_words};
use super::view::sentence;
use crate::app::{AppState, PageError, authority, day_and_time, reader_units, scheme};
use crate::drawing::{qr, ribbons};

/// One page to hang up: the steps, the verdict, the address of the running cook.
pub struct PrintView {
    pub title: String,
    pub sentence: String,
    /// When it says what is so, once something has happened; what is wrong, what is next, and what was planned.
    pub now: Option<String>,
    pub fault: Option<String>,
    pub next: Option<String>,
    pub planned: Option<String>,
    pub verdict: String,
    pub reason: String,
    pub way_out: Option<String>,
    pub day: String,
    pub checklist: Vec<CheckLine>,
    pub guide: bool,
    pub trouble: [(&'static str, String); 2],
    pub address: String,
    pub reachable: bool,
    pub qr: String,
    pub ribbon: String,
    pub printed: String,
    pub allergens: String,
    pub kitchen: String,
}

impl PrintView {
    pub fn new(state: &AppState, http: &HttpRequest, seen: &Seen<'_>) -> Result<Self, PageError> {
        let units = reader_units(http);
        let kitchen = state.kitchen();
        let zone = &kitchen.wall();
        let &Seen { record, request, ref plan, ref stands, ref live, now, .. } = seen;
        let (address, reachable) = network_address(state, http);
        let address = format!("{address}/cook/{}", record.id);
        let food = request.food();
        let dropped = stands.when(Milestone::Dropped).unwrap_or(plan.times.drop_by);
        // Once something has happened the paper says what is so; what was planned stands beside it.
        let begun = stands.when(Milestone::Dropped).is_some();
        let verdict = live.verdict.as_ref().filter(|_| begun).unwrap_or(&plan.verdict);
        let clock = |t: jiff::Timestamp| crate::app::near_time(t, now, zone);
        Ok(Self {
            title: record.title_in(units),
            sentence: if stands.piece_corrected().is_some() { "Corrected: " } else { "" }.to_owned()
                + &sentence(request, units),
            now: begun.then(|| day_and_time(now, zone)),
            fault: live.fault.map(|f| words::fault(&f, units, &clock)),
            next: begun.then(|| words::next_with_time(live, units, &clock)),
            verdict: words::headline(verdict, food.class).into(),
            reason: words::why(verdict, units),
            planned: (begun || record.first_plan().map(|p| p.id) != record.plan_record().map(|p| p.id)).then(
                || {
                    let words = planned_words(seen, zone);
                    format!("{} {}", words, words::headline(&plan.verdict, food.class))
                },
            ),
            way_out: plan.caution.as_ref().filter(|_| !begun).map(|c| words::caution(c, food, units)),
            day: dropped.to_zoned(zone.zone()).strftime("%A %-d %B %Y").to_string(),
            // On paper every time stands with its day where it is not the drop's.
            checklist: checklist(&seen.steps(units, zone), dropped, zone),
            guide: guided(http),
            trouble: words::trouble(request),
            qr: qr(&address)?,
            address,
            reachable,
            ribbon: ribbons(&ribbon(live, stands, now, zone))?,
            printed: day_and_time(now, zone),
            allergens: food.allergens.list.join(", "),
            kitchen: kitchen.name.clone(),
        })
    }
}

/// Where the kitchen's network reaches this server, and whether another device can.
pub fn network_address(state: &AppState, http: &HttpRequest) -> (String, bool) {
    let info = authority(http).to_owned();
    let (host, port) = match info.rsplit_once(':') {
        Some((host, port)) if port.bytes().all(|b| b.is_ascii_digit()) => {
            (host.to_owned(), format!(":{port}"))
        }
        _ => (info, String::new()),
    };
    let here = |h: &str| matches!(h, "localhost" | "127.0.0.1" | "[::1]");
    if !here(&host) {
        return (format!("{}://{host}{port}", scheme(http)), true);
    }
    match state.hosts.iter().find(|h| !here(h)) {
        Some(name) => (format!("http://{name}{port}"), true),
        None => (format!("http://{host}{port}"), false),
    }
}
