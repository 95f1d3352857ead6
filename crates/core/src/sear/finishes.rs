//! Finishes that were looked for, kept by what they hang on.

use std::sync::Arc;

use super::best::beside;
use super::{FinishAsked, Proposal, best_within};
use crate::heat::HeatError;
use crate::kept::Kept;

/// Most of each that are kept: some 10 kB each.
const MOST: usize = 200;

/// What is proposed for a piece, worked out once: whoever changes the seconds or the guests asks for no other search, and the plan,
/// the finish and its other ways are one answer.
///
/// ```
/// use hold_steady_core::{food::catalogue, sear::{Finishes, FinishForm, Given}, units::Units};
/// let kept = Finishes::default();
/// let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
/// let of = |form: &FinishForm| form.read(salmon, &Given::default(), Units::default()).1.expect("understood");
/// let usual = of(&FinishForm::default());
/// assert_eq!(*kept.best(&usual)?, usual.proposed()?);
/// let longer = of(&FinishForm { pieces: "3".into(), ..FinishForm::default() });
/// assert!(std::sync::Arc::ptr_eq(&kept.best(&usual)?, &kept.best(&longer)?), "the same piece on the same pan");
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[derive(Debug)]
pub struct Finishes {
    best: Kept<Proposal>,
    all: Kept<Vec<Proposal>>,
}

impl Default for Finishes {
    fn default() -> Self {
        Self { best: Kept::most(MOST), all: Kept::most(MOST) }
    }
}

impl Finishes {
    /// What is proposed first: kept, or worked out now.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{Finishes, FinishForm, Given}, units::Units};
    /// # let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
    /// let asked = FinishForm::default().read(salmon, &Given::default(), Units::default()).1.expect("usual");
    /// assert!(Finishes::default().best(&asked)?.lands());
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn best(&self, asked: &FinishAsked) -> Result<Arc<Proposal>, HeatError> {
        self.best.of(key(asked), || best_within(&asked.setup, &asked.wanted, &asked.may))
    }

    /// All that is proposed, the best first: kept, or worked out now.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{Finishes, FinishForm, Given}, units::Units};
    /// # let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
    /// # let asked = FinishForm::default().read(salmon, &Given::default(), Units::default()).1.expect("usual");
    /// let kept = Finishes::default();
    /// assert_eq!(kept.all(&asked)?[0], *kept.best(&asked)?);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn all(&self, asked: &FinishAsked) -> Result<Arc<Vec<Proposal>>, HeatError> {
        self.all.of(key(asked), || beside(&*self.best(asked)?, &asked.setup, &asked.wanted, &asked.may))
    }
}

/// All that a search hangs on, to the last digit.
fn key(asked: &FinishAsked) -> String {
    format!("{:?} {:?} {:?}", asked.setup, asked.wanted, asked.may)
}
