//! Finishes that were looked for, kept by what they hang on.

use std::sync::Arc;

use super::best::beside;
use super::setup::Setup;
use super::{FinishAsked, May, Proposal, best_within};
use crate::heat::HeatError;
use crate::kept::Kept;
use crate::units::Celsius;

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
        let best = self.best.of(key(asked), || best_within(&asked.setup, &asked.wanted, &asked.may))?;
        // Of the piece at the temperature that was found it is the best too: who only changes the seconds is offered the same.
        if asked.may.hearths_c.len() > 1 {
            self.best.put(key_at(asked, best.hearth_c), &best);
        }
        Ok(best)
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
        let all = self
            .all
            .of(key(asked), || beside(&*self.best(asked)?, &asked.setup, &asked.wanted, &asked.may))?;
        if asked.may.hearths_c.len() > 1 {
            self.all.put(key_at(asked, all[0].hearth_c), &all);
        }
        Ok(all)
    }
}

/// All that a search hangs on, to the last digit.
fn key(asked: &FinishAsked) -> String {
    key_of(&asked.setup, asked, &asked.may)
}

/// The same where the hearth is this hot, and stays so.
fn key_at(asked: &FinishAsked, hearth_c: Option<Celsius>) -> String {
    let setup = Setup { hearth_c, ..asked.setup.clone() };
    key_of(&setup, asked, &May { hearths_c: vec![hearth_c], ..asked.may.clone() })
}

fn key_of(setup: &Setup, asked: &FinishAsked, may: &May) -> String {
    format!("{setup:?} {:?} {may:?}", asked.wanted)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::catalogue;
    use crate::sear::{FinishForm, Given};
    use crate::units::Units;

    /// Otherwise the page would offer another finish, and look for it anew, because somebody typed other seconds.
    #[test]
    fn other_seconds_are_offered_the_same() {
        let strip = catalogue().food("beef-strip").expect("in the catalogue");
        let of = |form: FinishForm| form.read(strip, &Given::default(), Units::default());
        let (kept, usual) = (Finishes::default(), of(FinishForm::default()).1.expect("usual"));
        let best = kept.best(&usual).expect("computes");
        let all = kept.all(&usual).expect("computes");
        let seconds = FinishForm { face: "33 s".into(), ..FinishForm::default() };
        let at = best.hearth_c.map_or_else(String::new, |c| format!("{} °C", c.value()));
        for form in [seconds.clone(), FinishForm { at, ..seconds }] {
            let longer = of(form).1.expect("understood");
            assert!(longer.pattern.is_some(), "said");
            assert!(Arc::ptr_eq(&kept.best(&longer).expect("kept"), &best));
            assert!(Arc::ptr_eq(&kept.all(&longer).expect("kept"), &all));
        }
    }
}
