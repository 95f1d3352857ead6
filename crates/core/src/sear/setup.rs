//! A finish: a piece, a hearth, and the pattern in which it is paused, turned and rested.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use super::run::kitchen_air;
use super::{Act, Faces, Flesh, Grid, Hearth, Heat, Sear, Seared, Start};
use crate::figures::{Basis, searing};
use crate::food::Food;
use crate::heat::HeatError;
use crate::units::{Celsius, Length};

/// Where a piece waits before the sear.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Pause {
    /// Opened, in the air of the kitchen.
    #[default]
    Air,
    /// In its bag, in ice water.
    Ice,
}

impl Pause {
    /// The word in requests.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::sear::Pause::Ice.id(), "ice");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Air => "air",
            Self::Ice => "ice",
        }
    }

    /// The pause with this word.
    ///
    /// ```
    /// use hold_steady_core::sear::Pause;
    /// assert_eq!((Pause::from_id("ice"), Pause::from_id("snow")), (Some(Pause::Ice), None));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        [Self::Air, Self::Ice].into_iter().find(|p| p.id() == id)
    }
}

/// The pattern of a finish. Seconds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Pattern {
    /// Where it waits first.
    pub pause: Pause,
    /// For how long; after ice water always a moment in air to open and dry it.
    pub pause_s: f64,
    /// On the heat a face, all told.
    pub face_s: f64,
    /// Turned so often a face: 1 is each face once.
    pub times: u32,
    /// Its edges, and its rest.
    pub after: After,
}

/// What comes after the faces.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct After {
    /// Edges that are seared one after the other.
    pub edges: u32,
    /// On each of them, seconds.
    pub edge_s: f64,
    /// Rest after, seconds.
    pub rest_s: f64,
    /// Wrapped while it rests: warmer at the table, and its crust softens.
    pub wrapped: bool,
}

impl After {
    /// A rest on a board, and nothing for the edges.
    ///
    /// ```
    /// use hold_steady_core::sear::After;
    /// assert_eq!((After::resting(60.0).edges, After::resting(60.0).edge_s), (4, 0.0));
    /// ```
    #[must_use]
    pub const fn resting(rest_s: f64) -> Self {
        Self { edges: 4, edge_s: 0.0, rest_s, wrapped: false }
    }

    /// On all the edges together, seconds.
    #[must_use]
    pub(crate) fn edges_s(&self) -> f64 {
        f64::from(self.edges) * self.edge_s
    }
}

impl Pattern {
    /// On the heat and around it, seconds, without pause and rest; both faces of what is heated all round go together.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 45.0, times: 1, after: After { edge_s: 10.0, ..After::resting(60.0) } };
    /// assert_eq!((p.stove_s(false), p.stove_s(true), p.all_s(false)), (130.0, 85.0, 490.0));
    /// ```
    #[must_use]
    pub fn stove_s(&self, both: bool) -> f64 {
        self.face_s * if both { 1.0 } else { 2.0 } + self.after.edges_s()
    }

    /// From the pull to the end of the rest, seconds.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Ice, pause_s: 60.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
    /// assert_eq!(p.all_s(false), 240.0, "half a minute to dry it after the ice");
    /// ```
    #[must_use]
    pub fn all_s(&self, both: bool) -> f64 {
        self.before_s() + self.stove_s(both) + self.after.rest_s
    }

    /// So many pieces on the heat and around it, one after the other, seconds.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Air, pause_s: 0.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
    /// assert_eq!((p.batch_s(false, 1), p.batch_s(false, 3)), (90.0, 290.0), "ten seconds between two");
    /// ```
    #[must_use]
    pub fn batch_s(&self, both: bool, pieces: u32) -> f64 {
        let n = f64::from(pieces.max(1));
        n * self.stove_s(both) + (n - 1.0) * BETWEEN_S
    }

    /// From the pull until it is on the heat, seconds.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Ice, pause_s: 60.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
    /// assert_eq!(p.before_s(), 90.0, "half a minute to dry it after the ice");
    /// ```
    #[must_use]
    pub fn before_s(&self) -> f64 {
        self.pause_s + if self.pause == Pause::Ice { DRIED_S } else { 0.0 }
    }
}

/// Between two pieces in one pan, seconds.
pub(super) const BETWEEN_S: f64 = 10.0;

/// Opening and drying after ice water, in air.
pub(super) const DRIED_S: f64 = 30.0;

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
            grid: Grid::default(),
        }
    }

    /// The hearth, hot.
    pub(super) fn hot(&self) -> Heat {
        self.hearth.hot(self.hearth_c)
    }

    /// The acts on the heat: faces in turn, or both at once.
    pub(super) fn heated(&self, pattern: &Pattern) -> Vec<Act> {
        if self.hearth.both {
            return vec![Act::Heat { hearth: 0, s: pattern.face_s, faces: Faces::Both }];
        }
        let s = pattern.face_s / f64::from(pattern.times.max(1));
        let turn = |faces| Act::Heat { hearth: 0, s, faces };
        (0..pattern.times.max(1)).flat_map(|_| [turn(Faces::First), turn(Faces::Second)]).collect()
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
        Sear { plate_s: PLATE_S, ..self.through(acts, vec![hearth]) }
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
        }
    }

    /// What a pattern makes of it. Its middle is followed on after the rest until it is warmest; what it is at the table
    /// is said for the end of the rest.
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
    /// assert!(done.peak_after_s > 60.0, "the middle goes on warming on the plate");
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn finish(&self, pattern: &Pattern) -> Result<Seared, HeatError> {
        self.sear(pattern, self.hot()).run()
    }

    /// How deep an edge is done, mm: a run of its own from the edge inwards.
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
        let across = Self { thickness: ACROSS, ..self.clone() };
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
    /// Onto the heat, or turned: the first face down.
    First,
    /// The other face down.
    Second,
    /// Into what heats it all round.
    Round,
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
            Self::First | Self::Second => "turn",
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
        matches!(self, Self::First | Self::Second | Self::Round)
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
        if let Act::Heat { s, faces, .. } = act {
            let what = match faces {
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
