//! Computing for whoever asks: off the threads that serve, a few at a time, and never for long.

use std::sync::Arc;
use std::time::Duration;

use actix_web::web;
use hold_steady_core::calc::MOST_EFFORT;
use hold_steady_core::heat::Effort;
use tokio::sync::Semaphore;

use super::{AppState, PageError};

/// How long a question waits for its turn.
const PATIENCE: Duration = Duration::from_millis(1500);

/// The places there are to compute at: one a core.
#[derive(Debug, Clone)]
pub struct Desk(Arc<Semaphore>);

impl Default for Desk {
    fn default() -> Self {
        let places = std::thread::available_parallelism().map_or(2, usize::from);
        Self(Arc::new(Semaphore::new(places)))
    }
}

/// Stops the computing when nobody waits for it any more.
struct Asked(Effort);

impl Drop for Asked {
    fn drop(&mut self) {
        self.0.stop();
    }
}

/// Computes away from the threads that serve, with the most one question may cost.
///
/// # Errors
/// When all places stay taken, or the work panics.
pub async fn compute<T: Send + 'static>(
    state: &AppState,
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, PageError> {
    let turn = state.desk.0.clone().acquire_owned();
    let place =
        tokio::time::timeout(PATIENCE, turn).await.ok().and_then(Result::ok).ok_or(PageError::Busy)?;
    let asked = Asked(Effort::of(MOST_EFFORT));
    let effort = asked.0.clone();
    web::block(move || {
        let _place = place;
        effort.within(work)
    })
    .await
    .map_err(|_| PageError::Interrupted)
}

/// Computes here and now what costs little, still bounded: a stored record may be anything.
pub fn bounded<T>(work: impl FnOnce() -> T) -> T {
    Effort::of(MOST_EFFORT).within(work)
}
