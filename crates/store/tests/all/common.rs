//! What several of these tests begin with.

use hold_steady_core::bath::shapes;
use hold_steady_core::book::KeptVessel;
use uuid::Uuid;

pub(crate) fn run<T>(work: impl Future<Output = T>) -> T {
    tokio::runtime::Builder::new_current_thread().enable_all().build().expect("a runtime").block_on(work)
}

/// A vessel of those that are shipped.
pub(crate) fn a_vessel(id: u128) -> KeptVessel {
    let (_, vessel) = shapes().iter().next().expect("some");
    KeptVessel { id: Uuid::from_u128(id), vessel: vessel.clone() }
}
