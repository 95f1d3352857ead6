//! A finish: a piece, a hearth, and the pattern in which it is paused, turned and rested.

use std::sync::LazyLock;

use serde::Deserialize;

use super::run::kitchen_air;
use super::{Act, Faces, Flesh, Grid, Hearth, Heat, Sear, Seared, Start};
use crate::figures::{Basis, searing};
use crate::food::{Food, PanStart};
use crate::heat::HeatError;
use crate::sear::pattern::{Basting, DRIED_S, Pattern, Pause};
use crate::units::{Celsius, Length};

/// The torch among the hearths of a sear: the one after what it is seared on.
const TORCH: usize = 1;

fn named_torch() -> &'static Hearth {
    Hearth::named("torch").expect("shipped and tested")
}

/// A piece and what it is finished on.
#[derive(Debug, Clone, PartialEq)]
pub struct Setup {
    /// What it is made of.
    pub flesh: Flesh,
    /// Face to face.
    pub thickness: Length,
    /// As it leaves the bath.
    pub start: Start,
    /// Patted dry.
    pub dried: bool,
    /// Metres.
    pub altitude_m: f64,
    /// What it is seared on or in.
    pub hearth: &'static Hearth,
    /// Its temperature, where it is not the usual one.
    pub hearth_c: Option<Celsius>,
    /// Whether that is hot when the piece goes in.
    pub pan: PanStart,
    /// Whether hot fat is spooned over the upper face.
    pub basting: Basting,
    /// Fat under its skin, on the first face; nothing of most.
    pub fat: Length,
    /// How fine it is solved.
    pub grid: Grid,
}

impl Setup {
    /// A piece throughout at a temperature.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{Hearth, Setup}, units::*};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let pan = Hearth::named("iron-pan").expect("shipped");
    /// assert!(Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan).dried);
    /// ```
    #[must_use]
    pub fn new(food: &Food, thickness: Length, c: Celsius, hearth: &'static Hearth) -> Self {
        let (flesh, start) = (Flesh::of(food), Start::Uniform(c));
        Self {
            flesh,
            thickness,
            start,
            dried: true,
            altitude_m: 0.0,
            hearth,
            hearth_c: None,
            pan: PanStart::Hot,
            basting: Basting::Plain,
            fat: Length::ZERO,
            grid: Grid::default(),
        }
    }

    /// How hot its hearth gets; none of what has no temperature.
    pub(super) fn heated_c(&self) -> Option<Celsius> {
        self.hearth_c.or(self.hearth.c)
    }

    /// The hearth, as it is when the piece goes on.
    pub(super) fn hot(&self) -> Heat {
        let hot = self.hearth.hot(self.hearth_c);
        if self.pan == PanStart::Cold { hot.lit_cold(searing().room_c.value) } else { hot }
    }

    /// The acts on the heat: faces in turn, or both at once.
    pub(super) fn heated(&self, pattern: &Pattern) -> Vec<Act> {
        if self.hearth.heats.all_round() {
            return vec![Act::Heat { hearth: 0, s: pattern.face_s, faces: Faces::Both }];
        }
        let turn = |hearth, s, faces| Act::Heat { hearth, s, faces };
        let mut acts = if let Some(other_s) = pattern.after.other_s {
            vec![turn(0, pattern.face_s, Faces::First), turn(0, other_s, Faces::Second)]
        } else {
            let s = pattern.face_s / f64::from(pattern.times.max(1));
            let both = [turn(0, s, Faces::First), turn(0, s, Faces::Second)];
            (0..pattern.times.max(1)).flat_map(|_| both).collect()
        };
        acts.retain(|act| !matches!(act, Act::Heat { s, .. } if *s <= 0.0));
        if pattern.after.torch_s > 0.0 {
            let torched = |faces| turn(TORCH, pattern.after.torch_s, faces);
            acts.push(torched(Faces::First));
            if pattern.after.other_s != Some(0.0) {
                acts.push(torched(Faces::Second));
            }
        }
        acts
    }

    /// The acts before it goes on the heat.
    fn paused(pattern: &Pattern) -> Vec<Act> {
        let s = pattern.pause_s;
        match pattern.pause {
            Pause::Air => vec![Act::Air { s, exposed: 2 }],
            Pause::Ice => vec![Act::Ice { s }, Act::Air { s: DRIED_S, exposed: 2 }],
        }
    }

    /// The whole of it, to be run.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let pan = Hearth::named("iron-pan").expect("shipped");
    /// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan);
    /// let pattern = Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 45.0, times: 1, after: After::resting(300.0) };
    /// let out = setup.sear(&pattern, setup.hearth.hot(None)).run()?;
    /// assert!(out.peak_c > out.before_c && out.hearths_c()[0] < Some(230.0));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn sear(&self, pattern: &Pattern, hearth: Heat) -> Sear {
        let mut acts = Self::paused(pattern);
        acts.extend(self.heated(pattern));
        let after = pattern.after;
        if after.edges_s() > 0.0 {
            acts.push(Act::Air { s: after.edges_s(), exposed: 2 });
        }
        acts.push(Act::Rest { s: after.rest_s, wrapped: after.wrapped });
        let torch = (after.torch_s > 0.0).then(|| named_torch().hot(None));
        Sear { plate_s: PLATE_S, ..self.through(acts, [hearth].into_iter().chain(torch).collect()) }
    }

    /// The same piece through other acts.
    pub(super) fn through(&self, acts: Vec<Act>, hearths: Vec<Heat>) -> Sear {
        Sear {
            flesh: self.flesh,
            thickness: self.thickness,
            start: self.start.clone(),
            dried: self.dried,
            air: kitchen_air(self.altitude_m),
            hearths,
            acts,
            grid: self.grid,
            plate_s: 0.0,
            frames_s: 0.0,
            basting: self.basting,
            fat: self.fat,
        }
    }

    /// What a pattern makes of it. Its middle is followed on after the rest until it is warmest; what it is at the table
    /// is said for the end of the rest.
    ///
    /// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let pan = Hearth::named("iron-pan").expect("shipped");
    /// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan);
    /// let pattern = Pattern { pause: Pause::Air, pause_s: 0.0, face_s: 60.0, times: 1, after: After::resting(60.0) };
    /// let done = setup.finish(&pattern)?;
    /// assert!(done.peak_after_s.is_some_and(|s| s > 60.0), "the middle goes on warming on the plate");
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn finish(&self, pattern: &Pattern) -> Result<Seared, HeatError> {
        self.sear(pattern, self.hot()).run()
    }

    /// How deep an edge is done, mm: a run of its own from the edge inwards.
    ///
    /// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let pan = Hearth::named("iron-pan").expect("shipped");
    /// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan);
    /// assert!(setup.edge_mm(30.0, 59.0)? > setup.edge_mm(10.0, 59.0)?);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn edge_mm(&self, edge_s: f64, above_c: f64) -> Result<f64, HeatError> {
        const ACROSS: Length = Length::from_mm(80.0);
        const AFTER_S: f64 = 240.0;
        if edge_s <= 0.0 {
            return Ok(0.0);
        }
        let acts = vec![
            Act::Heat { hearth: 0, s: edge_s, faces: Faces::First },
            Act::Air { s: AFTER_S, exposed: 2 },
        ];
        let across = Self { thickness: ACROSS, fat: Length::ZERO, ..self.clone() };
        Ok(across.through(acts, vec![self.hot()]).run()?.band_mm(above_c)[0])
    }
}

/// A thing for the hands to do in a finish.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Hand {
    /// Open the bag and dry the piece.
    Dry,
    /// It waits in air.
    Air,
    /// It lies in ice water, in its bag.
    Ice,
    /// Into a pan that is still cold, the first face down.
    Cold,
    /// Onto the heat, or turned: the first face down.
    First,
    /// The other face down.
    Second,
    /// Into what heats it all round.
    Round,
    /// Under the torch.
    Torch,
    /// One of its edges.
    Edge,
    /// Off the heat.
    Rest,
}

impl Hand {
    /// The tone that calls what comes after it.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::sear::Hand::Edge.tone(), "edge");
    /// ```
    #[must_use]
    pub const fn tone(self) -> &'static str {
        match self {
            Self::Dry | Self::Air | Self::Ice => "wait",
            Self::Cold | Self::First | Self::Second | Self::Torch => "turn",
            Self::Edge => "edge",
            Self::Round | Self::Rest => "off",
        }
    }

    /// Its seconds are those of a face on the heat.
    ///
    /// ```
    /// use hold_steady_core::sear::Hand;
    /// assert!(Hand::First.is_face() && !Hand::Edge.is_face());
    /// ```
    #[must_use]
    pub const fn is_face(self) -> bool {
        matches!(self, Self::Cold | Self::First | Self::Second | Self::Round)
    }
}

/// A step of a finish.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PacedStep {
    /// What the hands do.
    pub what: Hand,
    /// For so long, seconds.
    pub s: f64,
}

/// A finish, step by step.
///
/// ```
/// use hold_steady_core::{food::catalogue, sear::*, units::*};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), Hearth::named("iron-pan").expect("shipped"));
/// let p = Pattern { pause: Pause::Ice, pause_s: 60.0, face_s: 90.0, times: 2, after: After { edge_s: 10.0, ..After::resting(60.0) } };
/// let steps = paced(&setup, &p);
/// assert_eq!(steps.iter().filter(|s| s.what.is_face()).map(|s| s.s).sum::<f64>(), 180.0);
/// assert_eq!(steps.len(), 2 + 4 + 4 + 1);
/// ```
#[must_use]
pub fn paced(setup: &Setup, pattern: &Pattern) -> Vec<PacedStep> {
    let step = |what, s| PacedStep { what, s };
    let mut all = match pattern.pause {
        Pause::Ice => vec![step(Hand::Ice, pattern.pause_s), step(Hand::Dry, DRIED_S)],
        Pause::Air => vec![step(Hand::Dry, DRIED_S.min(pattern.pause_s.max(1.0)))],
    };
    if pattern.pause == Pause::Air && pattern.pause_s > DRIED_S {
        all.push(step(Hand::Air, pattern.pause_s - DRIED_S));
    }
    for act in setup.heated(pattern) {
        if let Act::Heat { hearth, s, faces } = act {
            let cold = setup.pan == PanStart::Cold && all.iter().all(|step| !step.what.is_face());
            let what = match faces {
                _ if hearth == TORCH => Hand::Torch,
                Faces::First if cold => Hand::Cold,
                Faces::First => Hand::First,
                Faces::Second => Hand::Second,
                Faces::Both => Hand::Round,
            };
            all.push(step(what, s));
        }
    }
    let after = pattern.after;
    if after.edge_s > 0.0 {
        all.extend((0..after.edges).map(|_| step(Hand::Edge, after.edge_s)));
    }
    if after.rest_s > 0.0 {
        all.push(step(Hand::Rest, after.rest_s));
    }
    all
}

/// Followed so long on the plate, seconds.
const PLATE_S: f64 = 900.0;

/// How brown, as data: a least browning index.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Browning {
    /// Short identifier.
    pub id: String,
    /// In a word or two.
    pub name: String,
    /// From this index on.
    pub index: f64,
    /// Where that comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// How brown a face can be, palest first.
///
/// Source: set by eye (`data/browning.json`): an index, not a measurement.
///
/// ```
/// assert!(hold_steady_core::sear::brownings().windows(2).all(|w| w[0].index < w[1].index));
/// ```
#[must_use]
pub fn brownings() -> &'static [Browning] {
    static ALL: LazyLock<Vec<Browning>> = LazyLock::new(|| {
        serde_json::from_str(include_str!("../../data/browning.json")).expect("shipped and tested")
    });
    &ALL
}

/// How a face of such an index and such a peak is called: charred by its peak, else by its index; pale below all.
///
/// Source: set by eye (`data/browning.json`): an index, not a measurement.
///
/// ```
/// use hold_steady_core::sear::called;
/// assert_eq!((called(0.0, 120.0), called(0.01, 140.0), called(0.01, 250.0)), ("pale", "brown", "charred"));
/// ```
#[must_use]
pub fn called(index: f64, peak_c: f64) -> &'static str {
    if peak_c >= searing().char_c.value {
        return "charred";
    }
    brownings().iter().rev().find(|b| index >= b.index).map_or("pale", |b| b.name.as_str())
}
