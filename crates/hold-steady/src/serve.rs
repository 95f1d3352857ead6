//! Serving the pages.

use std::io::{IsTerminal, Write};
use std::net::SocketAddr;
use std::path::PathBuf;
use std::time::Duration;

use actix_web::web;
use bath_sim::{Device, Tub};
use hold_steady_core::who::Deed;
use hold_steady_store::{Actor, FolderLock, InKitchen, Role, Store, StoreError};
use hold_steady_web::{AppState, Clock, PinKey, Started, days_left, keep_looking, server};
use jiff::tz::TimeZone;

use crate::cli::{Demo, Network, Serve};
use crate::{Failure, demo, in_runtime};

/// Serves a kitchen.
pub fn serve(args: Serve) -> Result<(), Failure> {
    let zone = args.time_zone.as_deref().map(named_zone).transpose()?;
    in_runtime(async move {
        let clock = clock(&args.network)?;
        let file = args.data.file()?;
        let _folder = FolderLock::take(&file)?;
        let first = !file.exists();
        let store = Store::open(&file).await?;
        let zone = zone.or_else(|| first.then(system_zone));
        let kitchen = store.kitchen(clock.now(), args.kitchen, zone).await?;
        let copies = file.with_file_name("copies");
        run(store, kitchen, clock, &args.network, Some(copies), Vec::new()).await
    })
}

/// Serves the demonstration.
pub fn demo(args: Demo) -> Result<(), Failure> {
    in_runtime(async move {
        let clock = clock(&args.network)?;
        let folder = args.data.folder("demo")?;
        let file = folder.join("hold-steady-demo.db");
        let _folder = FolderLock::take(&file)?;
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
        let devices =
            if args.still { Vec::new() } else { demo::devices(&store, &kitchen, clock.now()).await? };
        run(store, kitchen, clock, &args.network, None, devices).await
    })
}

/// Reports every second for as long as the program runs.
fn report_on(mut device: Device) {
    const EVERY: Duration = Duration::from_secs(1);
    loop {
        if let Err(why) = device.turn() {
            tracing::debug!(why, "a simulated device could not report");
        }
        std::thread::sleep(EVERY);
    }
}

fn clock(network: &Network) -> Result<Clock, Failure> {
    let clock = match (network.clock_at, network.clock_rate) {
        (Some(at), rate) => Clock::set(at, rate),
        (None, rate) if rate != 1.0 || network.clock_set.is_some() => Clock::set(Clock::system().now(), rate),
        _ => Clock::system(),
    };
    let clock = if network.clock_away { clock.heeding_away() } else { clock };
    let Some(text) = &network.clock_set else { return Ok(clock) };
    let read = text.split_once('@').and_then(|(by, after)| Some((after.parse().ok()?, by.parse().ok()?)));
    let (after_s, by_s) = read.ok_or_else(|| {
        Failure::Other(format!("“{text}” is no setting of the clock; give one such as 3600@5"))
    })?;
    Ok(clock.set_later(after_s, by_s))
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

/// Looks at the clock every few seconds and leaves a mark of it every minute.
async fn look_after(state: web::Data<AppState>) {
    const LOOK: Duration = Duration::from_secs(2);
    const LOOKS_A_MINUTE: u64 = 30;
    for look in 0_u64.. {
        let a_minute = look % LOOKS_A_MINUTE == 0;
        let looked = if a_minute { state.mark_clock().await } else { state.heed_clock().await.map(|_| ()) };
        if let Err(e) = looked {
            tracing::error!(error = %e, "the clock could not be looked after");
        }
        if a_minute {
            state.limits.forget();
        }
        actix_web::rt::time::sleep(LOOK).await;
    }
}

/// Takes what was written ahead over into the file: whoever taps does not wait for it.
async fn check_in(store: Store) {
    const AGAIN: Duration = Duration::from_secs(4);
    loop {
        match store.check_in().await {
            Ok(()) | Err(StoreError::Crowded) => {}
            Err(e) => {
                tracing::error!(error = %e, "what was written ahead could not be taken over into the file")
            }
        }
        actix_web::rt::time::sleep(AGAIN).await;
    }
}

/// Copies the database once a day. What fails is logged, shown on the kitchen's page, and tried again.
async fn copy_nightly(state: web::Data<AppState>, own: Own, folder: PathBuf) {
    const LOOK: Duration = Duration::from_secs(60);
    loop {
        let now = state.clock.now();
        let today = now.to_zoned(state.kitchen().zone.clone()).date();
        match own.store.nightly(&folder, today).await {
            Ok(made) => {
                if let Some(copy) = made {
                    tracing::info!(copy = %copy.display(), "copied");
                    let deed = Deed::Copied { file: copy.display().to_string() };
                    if let Err(e) = own.by("housekeeping").done(deed, now).await {
                        tracing::error!(error = %e, "that it was copied could not be written down");
                    }
                }
                state.copies.went(now, None);
            }
            Err(e) => {
                tracing::error!(error = %e, "the copy of the night could not be made");
                state.copies.went(now, Some(e.to_string()));
            }
        }
        actix_web::rt::time::sleep(LOOK).await;
    }
}

/// Packs readings of past hours and thins those of long ago, a little at a time: what is reported waits for none of it.
async fn keep_readings(state: web::Data<AppState>, own: Own) {
    const AGAIN: Duration = Duration::from_secs(20);
    // An hour is small and there are few of them; after a night of a device's backlog there are many, and none is urgent.
    const LEAST: Duration = Duration::from_millis(40);
    const TIMES: u32 = 4;
    loop {
        let (here, now) = (own.by("housekeeping"), state.clock.now());
        loop {
            let begun = std::time::Instant::now();
            let packed = here.pack_an_hour(now).await;
            // Of what packing took: thinning has pauses of its own.
            let pause = (begun.elapsed() * TIMES).max(LEAST);
            let more = match packed {
                Ok(false) => here.thin_a_bath(now).await,
                packed => packed,
            };
            match more {
                Ok(true) => actix_web::rt::time::sleep(pause).await,
                // A book that is brought in has those connections: another time.
                Ok(false) | Err(StoreError::Crowded) => break,
                Err(e) => {
                    tracing::error!(error = %e, "readings could not be packed or thinned");
                    break;
                }
            }
        }
        actix_web::rt::time::sleep(AGAIN).await;
    }
}

fn log_to_stderr(level: tracing::Level) {
    let ansi = std::io::stderr().is_terminal();
    tracing_subscriber::fmt().with_max_level(level).with_ansi(ansi).with_writer(std::io::stderr).init();
}

/// What goes on beside the pages.
fn beside(
    state: &web::Data<AppState>,
    own: &Own,
    copies: Option<PathBuf>,
) -> Vec<actix_web::rt::task::JoinHandle<()>> {
    let mut all = vec![
        actix_web::rt::spawn(look_after(state.clone())),
        actix_web::rt::spawn(keep_looking(state.clone())),
        actix_web::rt::spawn(keep_readings(state.clone(), own.clone())),
        actix_web::rt::spawn(check_in(own.store.clone())),
        actix_web::rt::spawn(look_at_certificate(state.clone())),
    ];
    all.extend(copies.map(|folder| actix_web::rt::spawn(copy_nightly(state.clone(), own.clone(), folder))));
    all
}

/// The kitchen's records, for what goes on beside the pages.
#[derive(Clone)]
struct Own {
    store: Store,
    kitchen: uuid::Uuid,
}

impl Own {
    fn by(&self, name: &str) -> InKitchen {
        self.store.in_kitchen(Actor { kitchen: self.kitchen, by: name.into(), role: Role::Program })
    }
}

/// Takes a certificate up that was put in the place of the one before, and says in time that it ends.
async fn look_at_certificate(state: web::Data<AppState>) {
    const LOOK: Duration = Duration::from_secs(5);
    const LOOKS_A_DAY: u64 = 24 * 60 * 60 / 5;
    let Some(certificate) = state.certificate.clone() else { return };
    for look in 0_u64.. {
        match certificate.look_again() {
            Ok(true) => tracing::info!(until = %certificate.until(), "another certificate is shown"),
            Ok(false) => {}
            Err(why) => tracing::error!(
                why,
                "the certificate’s files changed and cannot be read; the one before is shown"
            ),
        }
        let now = state.clock.now();
        if look % LOOKS_A_DAY == 0
            && let Some(until) = certificate.ends_soon(now)
        {
            tracing::warn!(%until, days = days_left(until, now), "the certificate ends soon: make another with hold-steady certificate --again");
        }
        actix_web::rt::time::sleep(LOOK).await;
    }
}

/// What PINs are hashed with, in a file beside the database that no copy and no export holds; made where there is none.
fn pin_key(database: &std::path::Path) -> Result<PinKey, Failure> {
    let path = database.with_file_name("pins.key");
    match std::fs::read(&path) {
        Ok(bytes) => bytes.try_into().map(PinKey).map_err(|_| {
            Failure::Other(format!("{} is not what this program wrote. Put the right one back, or move it away: then everybody chooses a PIN anew.", path.display()))
        }),
        Err(e) if e.kind() == std::io::ErrorKind::NotFound => {
            let key: [u8; 32] = new_key();
            crate::private(&path)?.write_all(&key)?;
            Ok(PinKey(key))
        }
        Err(e) => Err(Failure::Other(format!("{}: {e}", path.display()))),
    }
}

/// Thirty-two bytes nobody guesses, of three random identifiers (their few fixed bits fall away).
fn new_key() -> [u8; 32] {
    let random = std::iter::repeat_with(uuid::Uuid::new_v4).flat_map(|id| {
        id.into_bytes()
            .into_iter()
            .enumerate()
            .filter(|(i, _)| !matches!(i, 6 | 8))
            .map(|(_, b)| b)
            .collect::<Vec<_>>()
    });
    let mut key = [0; 32];
    for (to, from) in key.iter_mut().zip(random) {
        *to = from;
    }
    key
}

/// Where nobody can come in yet who may let others in: the code for whoever will. It is made anew at each start until it is used.
async fn print_first_code(own: &Own, now: jiff::Timestamp, address: &str) -> Result<(), Failure> {
    if let Some(code) = own.by("command line").first_code(now).await? {
        // Nobody may be reading: then it is made anew at the next start.
        let _ = writeln!(
            std::io::stdout(),
            "Nobody can sign in yet. Whoever becomes this kitchen’s owner opens {address}/welcome and types this code, which counts once, for a day:\n\n    {code}\n"
        );
    }
    Ok(())
}

async fn run(
    store: Store,
    kitchen: hold_steady_store::Kitchen,
    clock: Clock,
    network: &Network,
    copies: Option<PathBuf>,
    devices: Vec<(String, Tub)>,
) -> Result<(), Failure> {
    log_to_stderr(network.log);
    let door = network.door()?;
    let zone = kitchen.zone.iana_name().unwrap_or("UTC").to_owned();
    let (name, own) = (kitchen.name.clone(), Own { store: store.clone(), kitchen: kitchen.id });
    let certificate = network.certificate()?;
    let by = if certificate.is_some() { "https" } else { "http" };
    let state = web::Data::new(AppState::new(Started {
        pin_key: pin_key(store.path())?,
        store,
        kitchen,
        clock,
        hosts: network.names(),
        proxy: network.proxy,
        door,
        certificate,
        demo: copies.is_none(),
    }));
    state.resume_clock().await?;
    let address = SocketAddr::new(network.bind, network.port);
    let (running, bound) = server(state.clone(), address).map_err(|e| {
        Failure::Other(format!(
            "cannot listen on {address}: {e}. Is it running already? Choose another port with --port."
        ))
    })?;
    // Not before it listens: what goes on beside the pages is ended below, in the runtime it holds connections of.
    let beside = beside(&state, &own, copies);
    println!("{name} ({zone}) is served at {by}://{bound}/ until you press Ctrl-C");
    if door.asks() {
        print_first_code(&own, clock.now(), &format!("{by}://{bound}")).await?;
    }
    // The stand-ins know the public interface and nothing else of this program.
    for (token, tub) in devices {
        let device = Device::new(&format!("http://{bound}"), &token, tub);
        std::thread::spawn(move || report_on(device));
    }
    let ended = running.await;
    // What goes on beside the pages holds connections: they are given back while there is somebody to take them.
    for going_on in beside {
        going_on.abort();
        let _ = going_on.await;
    }
    // So that what the clock does until the next start is noticed.
    if let Err(e) = state.mark_clock().await {
        tracing::error!(error = %e, "the clock could not be marked");
    }
    Ok(ended?)
}
