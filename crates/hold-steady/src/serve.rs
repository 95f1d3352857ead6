//! Serving the pages.

use std::collections::BTreeSet;
use std::net::SocketAddr;

use hold_steady_store::Store;
use hold_steady_web::{AppState, Clock, server};
use jiff::tz::TimeZone;

use crate::cli::{Demo, Network, Serve};
use crate::{Failure, demo, in_runtime};

/// Serves a kitchen.
pub fn serve(args: Serve) -> Result<(), Failure> {
    let zone = args.time_zone.as_deref().map(named_zone).transpose()?;
    in_runtime(async move {
        let clock = clock(&args.network);
        let file = args.data.file()?;
        let first = !file.exists();
        let store = Store::open(&file).await?;
        let zone = zone.or_else(|| first.then(system_zone));
        let kitchen = store.kitchen(clock.now(), args.kitchen, zone).await?;
        run(store, kitchen, clock, &args.network, false).await
    })
}

/// Serves the demonstration.
pub fn demo(args: Demo) -> Result<(), Failure> {
    in_runtime(async move {
        let clock = clock(&args.network);
        let folder = args.data.folder("demo")?;
        let file = folder.join("hold-steady-demo.db");
        if args.fresh {
            for end in ["", "-wal", "-shm"] {
                let path = folder.join(format!("hold-steady-demo.db{end}"));
                match std::fs::remove_file(&path) {
                    Err(e) if e.kind() != std::io::ErrorKind::NotFound => return Err(e.into()),
                    _ => {}
                }
            }
        }
        let store = Store::open(&file).await?;
        let kitchen = demo::seed(&store, clock.now(), system_zone()).await?;
        run(store, kitchen, clock, &args.network, true).await
    })
}

fn clock(network: &Network) -> Clock {
    match (network.clock_at, network.clock_rate) {
        (Some(at), rate) => Clock::set(at, rate),
        (None, rate) if rate != 1.0 => Clock::set(Clock::system().now(), rate),
        _ => Clock::system(),
    }
}

fn named_zone(name: &str) -> Result<TimeZone, Failure> {
    TimeZone::get(name).map_err(|_| {
        Failure::Other(format!("“{name}” is not an IANA time zone; give one such as Europe/Lisbon"))
    })
}

/// The system's zone where it has a name, else UTC.
fn system_zone() -> TimeZone {
    let named = TimeZone::try_system().ok().filter(|z| z.iana_name().is_some());
    named.unwrap_or(TimeZone::UTC)
}

async fn run(
    store: Store,
    kitchen: hold_steady_store::Kitchen,
    clock: Clock,
    network: &Network,
    demo: bool,
) -> Result<(), Failure> {
    tracing_subscriber::fmt().with_max_level(tracing::Level::WARN).with_writer(std::io::stderr).init();
    let mut hosts: BTreeSet<String> =
        ["localhost", "127.0.0.1", "[::1]"].into_iter().map(str::to_owned).collect();
    if !network.bind.is_unspecified() {
        hosts.insert(match network.bind {
            std::net::IpAddr::V6(a) => format!("[{a}]"),
            std::net::IpAddr::V4(a) => a.to_string(),
        });
    }
    hosts.extend(network.hosts.iter().map(|h| h.to_lowercase()));
    let zone = kitchen.zone.iana_name().unwrap_or("UTC").to_owned();
    let name = kitchen.name.clone();
    let rules = std::sync::RwLock::new(kitchen.rules.clone());
    let state = AppState { store, kitchen, rules, clock, hosts, demo };
    let address = SocketAddr::new(network.bind, network.port);
    let (running, bound) = server(state, address).map_err(|e| {
        Failure::Other(format!(
            "cannot listen on {address}: {e}. Is it running already? Choose another port with --port."
        ))
    })?;
    println!("{name} ({zone}) is served at http://{bound}/ until you press Ctrl-C");
    if !bound.ip().is_loopback() {
        println!("Everyone who reaches that address can read and write here: there are no logins yet.");
    }
    Ok(running.await?)
}
