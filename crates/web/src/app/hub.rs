//! Who has a page open is told at once that something was written down.

use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Duration;

use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header;
use actix_web::middleware::Next;
use actix_web::web::Bytes;
use actix_web::{Error, HttpRequest, HttpResponse, web};
use futures_util::stream;
use tokio::sync::broadcast;

use super::limits::{Held, STREAMS_AN_ADDRESS};
use super::lines::{InUse, in_use};
use super::{AppState, PageError, address, only_reads, tokens};
use crate::words;

/// Tells open pages that something changed.
#[derive(Debug, Clone)]
pub struct Hub {
    changed: broadcast::Sender<()>,
    /// Counts what was written down besides readings.
    written: Arc<AtomicU64>,
    /// Counts the readings that came.
    readings: Arc<AtomicU64>,
}

/// Several changes in so short a time are told as one.
const TOGETHER: Duration = Duration::from_millis(300);
/// Said so often where nothing changes: a page that hears nothing for longer knows that the line is cut.
const BEAT: Duration = Duration::from_secs(8);

impl Default for Hub {
    fn default() -> Self {
        Self { changed: broadcast::Sender::new(4), written: Arc::default(), readings: Arc::default() }
    }
}

impl Hub {
    /// How often something was written down besides readings.
    pub fn written(&self) -> u64 {
        self.written.load(Ordering::Acquire)
    }

    /// How often readings came.
    pub fn readings(&self) -> u64 {
        self.readings.load(Ordering::Acquire)
    }

    /// What readings did to the cooks is known now.
    pub fn looked_up(&self) {
        let _ = self.changed.send(());
    }

    /// Tells whoever listens.
    fn tell(&self, only_readings: bool) {
        let counter = if only_readings { &self.readings } else { &self.written };
        counter.fetch_add(1, Ordering::Release);
        // Nobody listens: nobody is told.
        let _ = self.changed.send(());
    }
}

/// Tells of everything that was posted and taken.
pub async fn announce(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    let asks = only_reads(request.method()) || request.path().starts_with("/api/v1/calc/");
    let only_readings = request.path() == "/api/v1/readings";
    let state = request.app_data::<web::Data<AppState>>().cloned();
    let answer = next.call(request).await?;
    if let Some(state) = state.filter(|_| !asks && answer.status().as_u16() < 400) {
        state.hub.tell(only_readings);
    }
    Ok(answer)
}

/// A line on which a page is told, for as long as it is open.
struct Line {
    state: web::Data<AppState>,
    /// By which session and on which screen, where one is needed.
    by: Option<(Option<String>, Option<String>)>,
    changed: broadcast::Receiver<()>,
    greeted: bool,
    /// Given back when the line ends.
    _held: (Held, Option<InUse>),
}

impl Line {
    /// Whether whoever listens may still.
    async fn counts(&self) -> bool {
        let Some((session, screen)) = &self.by else { return true };
        let now = self.state.clock.now();
        let found = self.state.store.at_door(session.as_deref(), screen.as_deref(), now).await;
        // A database that has no time for it now is asked again at the next word.
        found.map_or(true, |found| found.signed.is_some() || found.screen.is_some())
    }
}

/// Server-Sent Events: `hello` with the time and the start of this program, `changed` whenever something was written
/// down, `tick` where nothing was.
pub async fn events(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, PageError> {
    let held = state
        .limits
        .streams
        .take(address(&request))
        .ok_or_else(|| PageError::TooMany(30, words::door::too_many_streams(STREAMS_AN_ADDRESS)))?;
    let held = (held, in_use(&request));
    let changed = state.hub.changed.subscribe();
    let by = state.door.asks().then(|| tokens(&request));
    let line = Line { state, by, changed, greeted: false, _held: held };
    let told = stream::unfold(line, |mut line| async move {
        let what = if line.greeted {
            match tokio::time::timeout(BEAT, line.changed.recv()).await {
                Ok(Err(broadcast::error::RecvError::Closed)) => return None,
                Ok(_) => {
                    tokio::time::sleep(TOGETHER).await;
                    line.changed = line.changed.resubscribe();
                    "changed"
                }
                Err(_) => "tick",
            }
        } else {
            line.greeted = true;
            "hello"
        };
        // Whoever was signed out is told nothing more.
        if !line.counts().await {
            return None;
        }
        let now = line.state.clock.now().as_millisecond();
        let data =
            format!("event: {what}\ndata: {{\"now\": {now}, \"started\": {}}}\n\n", line.state.started_ms);
        Some((Ok::<_, Error>(Bytes::from(data)), line))
    });
    Ok(HttpResponse::Ok()
        .content_type("text/event-stream")
        .insert_header((header::CACHE_CONTROL, "no-store"))
        // Packed, nothing would arrive until much had gathered.
        .insert_header((header::CONTENT_ENCODING, "identity"))
        .streaming(told))
}
