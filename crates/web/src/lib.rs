//! The pages and the calculation interface of Hold Steady.
//!
//! Routes, views and templates of each part of the cook's work stand together: [`plan`], [`cook`],
//! [`book`], [`food`] for what the answers rest on, [`kitchen`] for what is settled; [`api`] is the interface without pages; `app` is what
//! they share; `drawing` makes the pictures. Nothing here compares temperatures: the core decides, the web shows.

mod api;
mod app;
mod book;
mod cook;
mod drawing;
mod evidence;
mod food;
mod kitchen;
mod plan;

use std::net::SocketAddr;

use actix_web::dev::Server;
use actix_web::middleware::{Compress, NormalizePath, from_fn};
use actix_web::{App, HttpServer, web};

pub use app::{AppState, Clock, ClockWatch, Desk, Lately};

/// Starts the server on the addresses given and returns it with the address it really got.
///
/// # Errors
/// When an address cannot be bound.
pub fn server(state: web::Data<AppState>, address: SocketAddr) -> std::io::Result<(Server, SocketAddr)> {
    let http = HttpServer::new(move || {
        App::new()
            .app_data(state.clone())
            .wrap(Compress::default())
            .wrap(from_fn(app::body))
            .wrap(from_fn(app::guard))
            .wrap(app::headers())
            .wrap(NormalizePath::trim())
            .wrap(from_fn(app::log))
            .configure(app::configure)
            .configure(plan::configure)
            .configure(cook::configure)
            .configure(book::configure)
            .configure(food::configure)
            .configure(kitchen::configure)
            .configure(evidence::configure)
            .configure(api::configure)
            .default_service(web::route().to(app::no_such_page))
    })
    .workers(2)
    .on_connect(app::keep_line)
    // Answers leave in a few small writes: held back for one another they took 40 ms longer (`scripts/load.mjs`).
    .tcp_nodelay(true)
    .shutdown_timeout(3)
    // Who says nothing for so long is not waited for.
    .client_request_timeout(std::time::Duration::from_secs(10))
    .keep_alive(std::time::Duration::from_secs(30))
    .bind(address)?;
    let bound = http.addrs().first().copied().unwrap_or(address);
    Ok((http.run(), bound))
}
