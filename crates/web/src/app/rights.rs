//! Who may what: one table of all routes. An address that is not in it cannot be served (`resource` panics at the start),
//! and what is asked of an address in a way the table does not name has no handler either.

use actix_web::Resource;
use actix_web::http::Method;
use hold_steady_core::who::Right;

use super::only_reads;

/// What one address needs of whoever asks.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Route {
    /// The address, as it is registered.
    pub path: &'static str,
    /// What reading it needs; nothing is read there otherwise.
    pub reads: Option<Right>,
    /// What writing to it needs; nothing is written there otherwise.
    pub writes: Option<Right>,
}

const fn reads(path: &'static str, right: Right) -> Route {
    Route { path, reads: Some(right), writes: None }
}

const fn writes(path: &'static str, right: Right) -> Route {
    Route { path, reads: None, writes: Some(right) }
}

const fn both(path: &'static str, to_read: Right, to_write: Right) -> Route {
    Route { path, reads: Some(to_read), writes: Some(to_write) }
}

/// Every route there is.
pub const ROUTES: &[Route] = &[
    // The house itself.
    reads("/", Right::Anyone),
    reads("/healthz", Right::Anyone),
    reads("/assets/{file:.*}", Right::Anyone),
    reads("/favicon.ico", Right::Anyone),
    writes("/units", Right::Anyone),
    writes("/guide", Right::Anyone),
    reads("/events", Right::Watch),
    reads("/how-we-know", Right::Cook),
    // The door.
    both("/sign-in", Right::Anyone, Right::Anyone),
    both("/welcome", Right::Anyone, Right::Anyone),
    writes("/sign-out", Right::Anyone),
    reads("/people", Right::Own),
    writes("/people/{id}/role", Right::Own),
    writes("/people/{id}/code", Right::Own),
    writes("/people/{id}/sessions/end", Right::Own),
    writes("/people/{id}/unlock", Right::Own),
    writes("/people/pins", Right::Own),
    writes("/people/periods", Right::Own),
    writes("/people/periods/{id}/close", Right::Own),
    writes("/sessions/{id}/end", Right::Own),
    writes("/screens", Right::Own),
    writes("/screens/{id}/end", Right::Own),
    writes("/screens/{id}/unlock", Right::Own),
    // Whoever is signed in, of themselves: the pages look who it is.
    reads("/you", Right::Anyone),
    writes("/you/password", Right::Anyone),
    writes("/you/pin", Right::Anyone),
    writes("/you/sessions/end", Right::Anyone),
    writes("/you/sessions/{id}/end", Right::Anyone),
    // A screen that several share; anywhere else they lead on.
    both("/who", Right::Anyone, Right::Anyone),
    reads("/who/names", Right::Anyone),
    both("/who/pin", Right::Anyone, Right::Anyone),
    writes("/who/touched", Right::Anyone),
    writes("/who/leave", Right::Anyone),
    both("/who/end", Right::Anyone, Right::Anyone),
    // What a phone is to trust.
    reads("/trust", Right::Anyone),
    reads("/trust/authority.crt", Right::Anyone),
    reads("/trail", Right::Trail),
    reads("/trail.csv", Right::Trail),
    // The interface for programs.
    reads("/api/v1/openapi.json", Right::Anyone),
    writes("/api/v1/calc/{kind}", Right::Anyone),
    writes("/api/v1/readings", Right::Report),
    // The board.
    reads("/board", Right::Watch),
    reads("/board/live", Right::Watch),
    reads("/board/kiosk", Right::Watch),
    reads("/alarms", Right::Watch),
    writes("/board/heard", Right::Watch),
    writes("/board/move", Right::Cook),
    reads("/board/clash/{bath}", Right::Cook),
    // The plan.
    reads("/plan", Right::Cook),
    reads("/plan/answer", Right::Cook),
    reads("/plan/foods", Right::Cook),
    reads("/plan/map", Right::Cook),
    reads("/plan/way-out", Right::Cook),
    reads("/plan/seared", Right::Cook),
    writes("/plan/start", Right::Cook),
    reads("/plan/file.json", Right::Cook),
    writes("/plan/open", Right::Cook),
    writes("/plan/ours", Right::Settle),
    writes("/plan/keep", Right::Settle),
    reads("/plan/presets.json", Right::Cook),
    reads("/plan/presets/{id}", Right::Cook),
    writes("/plan/presets/{id}/remove", Right::Settle),
    // Cooks under way.
    reads("/cook", Right::Cook),
    reads("/cook/{id}", Right::Cook),
    reads("/cook/{id}/live", Right::Cook),
    reads("/cook/{id}/print", Right::Cook),
    reads("/cook/{id}/steps.ics", Right::Cook),
    both("/cook/{id}/event", Right::Cook, Right::Cook),
    both("/cook/{id}/rating", Right::Cook, Right::Cook),
    both("/cook/{id}/plan", Right::Cook, Right::Cook),
    // The finish.
    reads("/finish", Right::Cook),
    reads("/finish/answer", Right::Cook),
    reads("/finish/ways", Right::Cook),
    reads("/finish/pace", Right::Cook),
    writes("/finish/choose", Right::Cook),
    // Water.
    reads("/bath", Right::Cook),
    writes("/bath/vessels", Right::Settle),
    reads("/bath/vessels/new", Right::Settle),
    reads("/bath/vessels/{id}", Right::Cook),
    reads("/bath/vessels/{id}/answer", Right::Cook),
    reads("/bath/vessels/{id}/change", Right::Settle),
    writes("/bath/vessels/{id}/remove", Right::Settle),
    writes("/bath/thermometers", Right::Settle),
    writes("/bath/thermometers/{id}/check", Right::Cook),
    writes("/bath/thermometers/{id}/remove", Right::Settle),
    writes("/bath/fill", Right::Cook),
    reads("/bath/runs/{id}", Right::Cook),
    writes("/bath/runs/{id}/read", Right::Cook),
    writes("/bath/runs/{id}/water", Right::Cook),
    writes("/bath/runs/{id}/off", Right::Cook),
    writes("/bath/runs/{id}/set", Right::Cook),
    writes("/bath/runs/{id}/learn", Right::Settle),
    writes("/bath/runs/{id}/log", Right::Cook),
    // What is kept cold.
    both("/keep", Right::Cook, Right::Settle),
    reads("/keep/{id}", Right::Cook),
    writes("/keep/{id}/read", Right::Cook),
    writes("/keep/{id}/remove", Right::Settle),
    // Devices.
    both("/devices", Right::Cook, Right::Own),
    writes("/devices/{id}/clock", Right::Settle),
    writes("/devices/{id}/renew", Right::Own),
    writes("/devices/{id}/revoke", Right::Own),
    writes("/devices/{id}/place", Right::Cook),
    // The book.
    reads("/book", Right::Cook),
    reads("/book/entry/{id}", Right::Cook),
    reads("/book/export.json", Right::Own),
    reads("/book/export.csv", Right::Own),
    writes("/book/import", Right::Own),
    // Foods.
    reads("/foods", Right::Cook),
    reads("/foods/{id}", Right::Cook),
    both("/foods/{id}/copy", Right::Settle, Right::Settle),
    both("/foods/{id}/change", Right::Settle, Right::Settle),
    writes("/foods/{id}/remove", Right::Settle),
    // What is settled, and who is here.
    both("/kitchen", Right::Cook, Right::Settle),
    writes("/kitchen/habits", Right::Settle),
    writes("/kitchen/readings", Right::Settle),
    writes("/kitchen/name", Right::Own),
    reads("/kitchen/copy.sqlite3", Right::Own),
    writes("/kitchen/people", Right::Own),
    writes("/kitchen/people/{id}/left", Right::Own),
    writes("/kitchen/device", Right::Cook),
    writes("/kitchen/guests", Right::Cook),
    writes("/kitchen/guests/{id}/removed", Right::Cook),
];

/// The route of an address as it is registered.
pub fn route(path: &str) -> Option<&'static Route> {
    ROUTES.iter().find(|r| r.path == path)
}

impl Route {
    /// What a request of this method needs.
    pub fn needs(&self, method: &Method) -> Option<Right> {
        if only_reads(method) { self.reads } else { self.writes }
    }
}

/// The resource of an address that is in the table.
///
/// # Panics
/// When it is not: who may ask for it was not decided.
pub fn resource(path: &'static str) -> Resource {
    within("", path)
}

/// The same within a scope whose address comes before it.
///
/// # Panics
/// When it is not in the table.
pub fn within(scope: &str, path: &'static str) -> Resource {
    let whole = format!("{scope}{path}");
    assert!(route(&whole).is_some(), "app/rights.rs does not say who may ask for {whole}");
    actix_web::web::resource(path)
}
