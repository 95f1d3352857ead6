//! The pattern of a finish: its pause, its faces, its edges, its rest.

use serde::{Deserialize, Serialize};

use super::Heats;

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

/// Whether hot fat is spooned over the face that is not on the heat.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Basting {
    /// It is left alone.
    #[default]
    Plain,
    /// It is.
    Basted,
}

impl Basting {
    /// The word in requests and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::sear::Basting::Basted.id(), "basted");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Plain => "plain",
            Self::Basted => "basted",
        }
    }

    /// The one with this word.
    ///
    /// ```
    /// use hold_steady_core::sear::Basting;
    /// assert_eq!(Basting::from_id("basted"), Some(Basting::Basted));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        [Self::Plain, Self::Basted].into_iter().find(|b| b.id() == id)
    }
}

/// What comes after the first face.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct After {
    /// On the other face, seconds, once the first is done; none at all where it is 0. Where it is not said both faces are
    /// done alike, in turn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub other_s: Option<f64>,
    /// Under a torch that sweeps, after the pan, each face that was on the heat, seconds.
    #[serde(default, skip_serializing_if = "crate::strict::is_usual")]
    pub torch_s: f64,
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
        Self { other_s: None, torch_s: 0.0, edges: 4, edge_s: 0.0, rest_s, wrapped: false }
    }

    /// On all the edges together, seconds.
    #[must_use]
    pub(crate) fn edges_s(&self) -> f64 {
        f64::from(self.edges) * self.edge_s
    }

    /// Under the torch altogether, seconds.
    pub(super) fn torched_s(&self) -> f64 {
        if self.other_s == Some(0.0) { self.torch_s } else { 2.0 * self.torch_s }
    }
}

impl Pattern {
    /// On the heat and around it, seconds, without pause and rest; both faces of what is heated all round go together.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Heats, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 45.0, times: 1, after: After { edge_s: 10.0, ..After::resting(60.0) } };
    /// assert_eq!((p.stove_s(Heats::AFace), p.stove_s(Heats::AllRound), p.all_s(Heats::AFace)), (130.0, 85.0, 490.0));
    /// ```
    #[must_use]
    pub fn stove_s(&self, heats: Heats) -> f64 {
        self.on_heat_s(heats) + self.after.torched_s() + self.after.edges_s()
    }

    /// Its faces on the heat, seconds.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Heats, Pattern, Pause};
    /// let skin = After { other_s: Some(20.0), ..After::resting(60.0) };
    /// let p = Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 240.0, times: 1, after: skin };
    /// assert_eq!((p.on_heat_s(Heats::AFace), p.on_heat_s(Heats::AllRound)), (260.0, 240.0));
    /// ```
    #[must_use]
    pub fn on_heat_s(&self, heats: Heats) -> f64 {
        if heats.all_round() { self.face_s } else { self.face_s + self.after.other_s.unwrap_or(self.face_s) }
    }

    /// From the pull to the end of the rest, seconds.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Heats, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Ice, pause_s: 60.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
    /// assert_eq!(p.all_s(Heats::AFace), 240.0, "half a minute to dry it after the ice");
    /// ```
    #[must_use]
    pub fn all_s(&self, heats: Heats) -> f64 {
        self.before_s() + self.stove_s(heats) + self.after.rest_s
    }

    /// So many pieces on the heat and around it, one after the other, seconds.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, Heats, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Air, pause_s: 0.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
    /// assert_eq!((p.batch_s(Heats::AFace, 1), p.batch_s(Heats::AFace, 3)), (90.0, 290.0), "ten seconds between two");
    /// ```
    #[must_use]
    pub fn batch_s(&self, heats: Heats, pieces: u32) -> f64 {
        let n = f64::from(pieces.max(1));
        n * self.stove_s(heats) + (n - 1.0) * BETWEEN_S
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
