//! Computing for whoever asks: off the threads that serve, a few at a time, and never for long.

use std::sync::Arc;
use std::time::Duration;

use actix_web::{HttpRequest, web};
use hold_steady_core::calc::MOST_EFFORT;
use hold_steady_core::heat::Effort;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

use super::lines::is_gone;
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

/// How often it is looked whether whoever asked is still there.
const LOOK: Duration = Duration::from_millis(100);

/// A place to compute at, for as long as it is held.
///
/// # Errors
/// When all stay taken.
pub async fn place(state: &AppState) -> Result<OwnedSemaphorePermit, PageError> {
    let turn = state.desk.0.clone().acquire_owned();
    tokio::time::timeout(PATIENCE, turn).await.ok().and_then(Result::ok).ok_or(PageError::Busy)
}

/// Computes away from the threads that serve, with the most one question may cost.
///
/// # Errors
/// When all places stay taken, or the work panics.
pub async fn compute<T: Send + 'static>(
    state: &AppState,
    request: &HttpRequest,
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, PageError> {
    let place = place(state).await?;
    let effort = Effort::of(MOST_EFFORT);
    let mine = effort.clone();
    let mut computing = Box::pin(web::block(move || {
        let _place = place;
        mine.within(work)
    }));
    loop {
        if is_gone(request) {
            effort.stop();
        }
        if let Ok(done) = tokio::time::timeout(LOOK, &mut computing).await {
            return done.map_err(|_| PageError::Interrupted);
        }
    }
}

/// Computes here and now what costs little, still bounded: a stored record may be anything.
pub fn bounded<T>(work: impl FnOnce() -> T) -> T {
    Effort::of(MOST_EFFORT).within(work)
}
