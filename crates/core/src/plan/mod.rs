//! Planning one piece: from a sentence a cook fills in to clock times with a verdict.
//!
//! - [`PlanForm`]: the sentence as typed; [`PlanForm::read`] understands it or says why not;
//! - [`PlanRequest`]: what was understood, and what is stored;
//! - [`plan`]: the answer, [`Plan`]; [`read_anew`]: the same for a cook that is under way;
//! - [`sooner()`]: ways to be ready when it is wanted;
//! - [`envelope()`]: what every temperature and time would give for this piece;

mod anew;
mod answer;
mod envelope;
mod form;
mod guest;
mod habits;
mod kitchen;
mod open;
mod pictures;
mod reader;
mod reader_water;
mod ready;
mod request;
mod seared;
mod sooner;
mod understood;
mod window;

pub use crate::food::{From, StartState, starts};
pub use anew::{Anew, ReadAnew, read_anew};
pub use answer::{Advice, Caution, Plan, Range, Times, plan, way_out};
pub use envelope::{Envelope, EnvelopeRow, envelope};
pub use form::{DIALLED, OWN_TEMPERATURE, PlanForm, Reading};
pub use guest::{Guest, GuestForm};
pub use habits::{Habits, HabitsForm, Person, SALTING_SCHOOLS};
pub use kitchen::{Equipment, KitchenForm, KitchenRules, Setting};
pub use open::{Assumed, OpenQuestion};
pub use pictures::{Frame, KillLeft, Stop, StopTexture, Stretch, StretchKind, frames};
pub(crate) use pictures::{bands, horizon};
pub use ready::{Past, PastError, Ready, ReadyError, perhaps_today, resolve_past, resolve_ready};
pub use request::{Finishing, InVessel, Pieces, PlanRequest, PlannedFood, ServedTo};
pub use seared::{AfterSear, SearedAt, after_sear};
pub use sooner::{Sooner, SoonerWay, sooner};
pub use window::{Window, Windows};

/// Version of the computation, stored with every plan. Raised when answers change.
pub(crate) const ENGINE_VERSION: &str = concat!("hold-steady ", env!("CARGO_PKG_VERSION"), " engine 6");

/// Version of the data the computation goes by: a hash over all of it, made when the program is built.
#[must_use]
pub(crate) const fn data_version() -> &'static str {
    env!("HOLD_STEADY_DATA")
}
