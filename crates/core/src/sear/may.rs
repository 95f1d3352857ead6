//! What a cook would do with a food on a hearth: the ways among which a finish is looked for.

use super::hearth::Pans;
use super::setup::brownings;
use super::{Fat, Hearth};
use crate::figures::searing;
use crate::food::Food;
use crate::units::Celsius;

const SHORTEST_FACE_S: f64 = 5.0;
const MINUTE_S: f64 = 60.0;

/// What a search may change, within what a cook would do with this food on this hearth.
#[derive(Debug, Clone, PartialEq)]
pub struct May {
    /// Temperatures of the hearth, the hottest first; one where it is given.
    pub hearths_c: Vec<Option<Celsius>>,
    /// It waits in air for so long at most, seconds.
    pub pause_most_s: f64,
    /// And in ice water; 0 where it is not put into any.
    pub ice_most_s: f64,
    /// Turned so often a face, at most.
    pub turns: u32,
    /// On the first face at least, seconds.
    pub least_s: f64,
    /// Its edges are done as long as a face.
    pub edges_as_faces: bool,
    /// No darker than this index.
    pub browning_most: f64,
}

impl May {
    /// Whatever a piece on a hearth at this temperature could be put through.
    ///
    /// ```
    /// use hold_steady_core::sear::{Hearth, May};
    /// let may = May::anything(Hearth::named("iron-pan").expect("shipped"), None);
    /// assert_eq!((may.hearths_c.len(), may.turns), (1, 2));
    /// ```
    #[must_use]
    pub fn anything(hearth: &Hearth, c: Option<Celsius>) -> Self {
        Self {
            hearths_c: vec![c],
            pause_most_s: searing().hang_until_min.value * MINUTE_S,
            ice_most_s: searing().ice_most_s.value,
            turns: if hearth.heats.all_round() { 1 } else { 2 },
            least_s: SHORTEST_FACE_S,
            edges_as_faces: false,
            browning_most: f64::INFINITY,
        }
    }

    /// What a cook would do with a food on this hearth, in this fat and these pans; `c` is how hot it is, where that is given.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::Celsius};
    /// let pan = Hearth::named("iron-pan").expect("shipped");
    /// let may = |id: &str| {
    ///     let food = catalogue().food(id).expect("in the catalogue");
    ///     May::of(food, pan, (None, &fats()[0]), Pans::Unsaid)
    /// };
    /// assert_eq!(may("beef-strip").hearths_c[0], Some(Celsius::new(260.0)));
    /// assert!(may("salmon-fillet").pause_most_s <= 300.0 && may("salmon-fillet").turns == 1);
    /// assert!(may("duck-breast").hearths_c[0] <= Some(Celsius::new(180.0)));
    /// ```
    #[must_use]
    pub fn of(food: &Food, hearth: &Hearth, (c, fat): (Option<Celsius>, &Fat), pans: Pans) -> Self {
        let mut may = Self::anything(hearth, c);
        if c.is_none() {
            may.hearths_c = hearth.tried(food.finish().how.as_ref().and_then(|h| h.pan_c), fat, pans);
        }
        let Some(how) = &food.finish().how else { return may };
        may.pause_most_s = may.pause_most_s.min(how.pause_most_min.value() * MINUTE_S);
        // What is not to wait for long is not carried through ice water either.
        const ICED_FROM_S: f64 = 600.0;
        if may.pause_most_s < ICED_FROM_S {
            may.ice_most_s = 0.0;
        }
        may.turns = may.turns.min(how.turns);
        may.least_s = may.least_s.max(how.least_s);
        may.edges_as_faces = how.edges_as_faces() && how.edges > 0;
        let darkest = brownings().iter().find(|b| b.id == how.brown_most).map(|b| b.index);
        // An index names all up to the next.
        let next = |index: f64| brownings().iter().map(|b| b.index).find(|i| *i > index);
        may.browning_most = darkest.and_then(next).unwrap_or(f64::INFINITY);
        may
    }
}
