//! Planning one piece: from a sentence a cook fills in to clock times with a verdict.
//!
//! - [`PlanForm`]: the sentence as typed; [`PlanForm::read`] understands it or says why not;
//! - [`PlanRequest`]: what was understood, and what is stored;
//! - [`plan`]: the answer, [`Plan`];
//! - [`envelope`]: what every temperature and time would give for this piece;
//! - [`explain`]: where each number of the answer comes from.

mod answer;
mod envelope;
mod explain;
mod form;
mod kitchen;
mod pictures;
mod ready;
mod request;

pub use answer::{Ends, Plan, Range, Times, plan};
pub use envelope::{Envelope, EnvelopeRow, envelope};
pub use explain::{Explanation, explain};
pub use form::{DIALLED, OWN_TEMPERATURE, PlanForm, Reading};
pub use kitchen::{From, KitchenForm, KitchenRules, Setting, Start, starts};
pub use pictures::{Band, BandKind, Frame, Stop, frames};
pub(crate) use pictures::{bands, horizon};
pub use ready::{PastError, Ready, ReadyError, resolve_past, resolve_ready};
pub use request::{Finishing, Pieces, PlanRequest, PlannedFood};

use std::collections::BTreeMap;
use std::sync::LazyLock;

use crate::safety::Limit;

/// Version of the computation, stored with every plan. Raised when answers change.
pub const ENGINE_VERSION: &str = concat!("hold-steady ", env!("CARGO_PKG_VERSION"), " engine 3");

/// Version of the data the computation goes by: a hash over all of it, made when the program is built.
#[must_use]
pub const fn data_version() -> &'static str {
    env!("HOLD_STEADY_DATA")
}

static ROUTINE: LazyLock<BTreeMap<String, Limit>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/routine.json")).expect("shipped and tested")
});

/// A figure of the kitchen routine (drying, pausing, searing …), with its source.
pub(crate) fn routine(name: &str) -> &'static Limit {
    &ROUTINE[name]
}
