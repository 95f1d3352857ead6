//! What a kitchen said of a food the last time comes back when it is planned again.

use crate::figures::offers;
use crate::units::{Celsius, Kelvin};

use super::CookRecord;

/// How a food came out last, and what follows for the bath.
#[derive(Debug, Clone, PartialEq)]
pub struct LastTime {
    /// Centre against what was wanted: −2 much less done, 0 as wanted, 2 much more done.
    pub centre: i8,
    /// The bath it was cooked in.
    pub bath_c: Celsius,
    /// What would be nearer; `None` where it was as wanted, or nothing nearer can be planned.
    pub try_c: Option<Celsius>,
    /// What was to be done differently.
    pub next_time: String,
}

impl LastTime {
    /// Of the last cook of a food; `None` where nobody said how its centre came out.
    ///
    /// Common practice: a degree for each mark it was off, against the way it was off.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // dropped, pulled, eaten and rated
    /// let last = LastTime::of(cook).expect("rated");
    /// assert_eq!(last.try_c.is_some(), last.centre != 0);
    /// ```
    #[must_use]
    pub fn of(cook: &CookRecord) -> Option<Self> {
        let state = cook.state();
        let rating = state.rating()?;
        let (centre, request) = (rating.centre?, &cook.plan_record()?.request);
        let step: Kelvin = offers().last_time_step_k.kelvin();
        let nearer = request.bath_c - step * f64::from(centre);
        let range = request.food().bath_c;
        Some(Self {
            centre,
            bath_c: request.bath_c,
            try_c: Some(nearer).filter(|c| centre != 0 && (range.low..=range.high).contains(c)),
            next_time: rating.next_time.clone(),
        })
    }
}
