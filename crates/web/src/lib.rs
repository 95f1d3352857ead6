//! The pages and the calculation interface of Hold Steady.
//!
//! Route, view, template, script and style of each part of the cook's work stand together. Nothing here compares
//! temperatures or works out a time: the core decides, the web shows (`tests/decides_nothing.rs` looks for it).
//!
//! # From the simplest page to the rarest
//!
//! - `plan`: the sentence and its answer. Every change asks `GET /plan/answer` and swaps what came; the address is that
//!   of the sentence, so that reload and back find it. The map and what more would give are fetched after.
//! - `cook`: a cook under way. `Seen` works out once where it stands; its page, its fragment that is fetched anew, the
//!   print and the calendar show parts of that. A tap is a form with an identifier of its own.
//! - `finish`: what a sear does to a piece, proposals, other ways; paced turn by turn.
//! - `keep`: what was chilled and is kept, in which refrigerator or freezer, and what was read there.
//! - `book`: planned beside done; taken out record by record, brought in.
//! - `food`: what the answers rest on, copied and changed. `kitchen`: what is settled, who works there, its copies.
//!   `evidence`: how we know.
//! - `door`: who comes in, by what they prove; people and their roles, sessions, and what happened there. Which right each
//!   address needs stands in `app/rights.rs`, one table; `app/who.rs` looks who asks before anything is read.
//! - `api`: the calculation interface without pages; JSON, no cookies.
//! - `words`: what the pages say of themselves; what concerns food, times and safety is said by the core's.
//! - `drawing`: ribbon, slice, map and scale as SVG from numbers the core gave.
//! - `app`: what all share. [`AppState`] is what a request can reach; every request passes the log line, the guard (whose
//!   host, whose page), the body read within bounds; what costs is computed at one of the desk's places and given up when
//!   whoever asked has hung up ([`Desk`]); files are streamed.
//!
//! Started by [`server`], which the binary calls with an [`AppState`] and an address.

// The words of the scripts are one JSON.
#![recursion_limit = "256"]

mod api;
mod app;
mod bath;
mod board;
mod book;
mod cook;
mod door;
mod drawing;
mod evidence;
mod finish;
mod food;
mod keep;
mod kitchen;
mod plan;
mod words;

use std::net::SocketAddr;
use std::sync::Arc;

use actix_web::dev::Server;
use actix_web::middleware::{Compress, NormalizePath, from_fn};
use actix_web::{App, HttpServer, web};

pub use app::{AppState, Certificate, Clock, Door, PinKey, ROUTES, Route, Started, days_left, keep_looking};

/// Threads that serve. What costs is computed elsewhere.
const WORKERS: usize = 2;

/// Starts the server on the addresses given and returns it with the address it really got.
///
/// # Errors
/// When an address cannot be bound.
pub fn server(state: web::Data<AppState>, address: SocketAddr) -> std::io::Result<(Server, SocketAddr)> {
    let tls = state.certificate.as_ref().map(|c| c.config().map_err(std::io::Error::other)).transpose()?;
    let lines = Arc::new(app::Lines::default());
    let http = HttpServer::new(move || {
        App::new()
            .app_data(state.clone())
            .wrap(from_fn(app::announce))
            .wrap(Compress::default())
            .wrap(from_fn(app::body))
            .wrap(from_fn(api::readings::known_first))
            .wrap(from_fn(app::who))
            .wrap(from_fn(app::guard))
            .wrap(app::headers())
            .wrap(NormalizePath::trim())
            .wrap(from_fn(app::mark))
            .wrap(from_fn(app::log))
            .configure(app::configure)
            .configure(plan::configure)
            .configure(bath::configure)
            .configure(board::configure)
            .configure(cook::configure)
            .configure(keep::configure)
            .configure(finish::configure)
            .configure(book::configure)
            .configure(food::configure)
            .configure(kitchen::configure)
            .configure(door::configure)
            .configure(evidence::configure)
            .configure(api::configure)
            .default_service(web::route().to(app::no_such_page))
    })
    .workers(WORKERS)
    // The idle are closed before there are so many.
    .max_connections(app::most_lines() / WORKERS)
    .on_connect(move |connection, data| app::keep_line(&lines, connection, data))
    // Answers leave in a few small writes: held back for one another they took 40 ms longer (`scripts/load.mjs`).
    .tcp_nodelay(true)
    .shutdown_timeout(3)
    // Who says nothing for so long is not waited for.
    .client_request_timeout(std::time::Duration::from_secs(10))
    .keep_alive(std::time::Duration::from_secs(30));
    let http = match tls {
        Some(tls) => http.bind_rustls_0_23(address, tls)?,
        None => http.bind(address)?,
    };
    let bound = http.addrs().first().copied().unwrap_or(address);
    Ok((http.run(), bound))
}
