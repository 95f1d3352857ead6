//! What is done to a piece after the bath.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::figures::Basis;
use crate::units::{Celsius, Length, Minutes};

/// One step after the pull.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FinishStep {
    /// Short identifier.
    pub id: String,
    /// How long it usually takes, minutes; of a step that chills, where nothing is known of the piece.
    pub min: Minutes,
    /// It is chilled in this step, for as long as the piece needs.
    #[serde(default)]
    pub chills: bool,
    /// What to do, in the imperative.
    #[serde(rename = "do")]
    pub what: String,
    /// Why, or what to expect.
    pub why: String,
}

/// Which faces of a piece are seared.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum SearedFaces {
    /// Both, alike.
    Both,
    /// One only.
    One,
    /// The skin, until it is crisp; the other for seconds.
    Skin,
}

impl SearedFaces {
    /// All of them, as they are chosen.
    pub const ALL: [Self; 3] = [Self::Both, Self::One, Self::Skin];

    /// The word in requests and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::food::SearedFaces::One.id(), "one");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Both => "both",
            Self::One => "one",
            Self::Skin => "skin",
        }
    }

    /// The faces with this word.
    ///
    /// ```
    /// use hold_steady_core::food::SearedFaces;
    /// assert_eq!((SearedFaces::from_id("skin"), SearedFaces::from_id("all")), (Some(SearedFaces::Skin), None));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|f| f.id() == id)
    }
}

/// How a food is seared: what is usual, and what a search may change. Seconds.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SearAs {
    /// Which faces.
    pub faces: SearedFaces,
    /// On a face, usually.
    pub face_s: f64,
    /// On the first face at least: until its fat has run.
    #[serde(default)]
    pub least_s: f64,
    /// On the other face, where that is done for seconds.
    #[serde(default)]
    pub other_s: f64,
    /// Edges, and how long each; as long as a face where that is not said.
    pub edges: u32,
    #[serde(default)]
    edge_s: Option<f64>,
    /// How hot a pan is of use, °C; any where it is not said.
    #[serde(default)]
    pub pan_c: Option<(Celsius, Celsius)>,
    /// Whether it goes into a cold pan.
    #[serde(default)]
    pub pan: PanStart,
    /// Fat under its skin, mm.
    #[serde(default)]
    pub fat_mm: Length,
    /// It rests after.
    pub rest_s: f64,
    /// It hangs in air for no longer than this.
    pub pause_most_min: Minutes,
    /// Turned so often a face at most.
    pub turns: u32,
    /// How brown it is wanted, and what it is no paler and no darker than: identifiers.
    pub brown: String,
    /// The palest.
    pub brown_least: String,
    /// The darkest.
    pub brown_most: String,
    /// Hot fat may be spooned over it.
    #[serde(default)]
    pub may_baste: bool,
    /// A torch may follow the pan.
    #[serde(default)]
    pub may_torch: bool,
}

/// Whether the pan is hot when the piece goes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PanStart {
    /// Hot.
    #[default]
    Hot,
    /// Cold, with the burner lit under it: fat under a skin has time to run.
    Cold,
}

impl PanStart {
    /// The word in requests and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::food::PanStart::Cold.id(), "cold");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Hot => "hot",
            Self::Cold => "cold",
        }
    }

    /// The start with this word.
    ///
    /// ```
    /// use hold_steady_core::food::PanStart;
    /// assert_eq!((PanStart::from_id("hot"), PanStart::from_id("warm")), (Some(PanStart::Hot), None));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        [Self::Hot, Self::Cold].into_iter().find(|p| p.id() == id)
    }
}

impl SearAs {
    /// On the other face, seconds; nothing where both are done alike.
    ///
    /// ```
    /// # use hold_steady_core::food::catalogue;
    /// let other = |id| catalogue().food(id).and_then(|f| f.finish().how.as_ref()).expect("it is seared").other_s();
    /// assert_eq!((other("beef-strip"), other("salmon-fillet"), other("duck-breast")), (None, Some(0.0), Some(20.0)));
    /// ```
    #[must_use]
    pub fn other_s(&self) -> Option<f64> {
        match self.faces {
            SearedFaces::Both => None,
            SearedFaces::One => Some(0.0),
            SearedFaces::Skin => Some(self.other_s),
        }
    }

    /// Its edges, and how long each where it is so long on a face.
    ///
    /// ```
    /// # use hold_steady_core::food::catalogue;
    /// let edges = |id| catalogue().food(id).and_then(|f| f.finish().how.as_ref()).expect("it is seared").edges(40.0);
    /// assert_eq!((edges("beef-strip"), edges("beef-roast"), edges("burger")), ((4, 15.0), (4, 40.0), (0, 0.0)));
    /// ```
    #[must_use]
    pub fn edges(&self, face_s: f64) -> (u32, f64) {
        if self.edges == 0 { (0, 0.0) } else { (self.edges, self.edge_s.unwrap_or(face_s)) }
    }

    /// Its edges are done as long as a face.
    pub(crate) fn edges_as_faces(&self) -> bool {
        self.edge_s.is_none()
    }
}

/// How a food is finished.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Finish {
    /// In a few words.
    pub name: String,
    /// Whether it is seared.
    pub sears: bool,
    /// Whether it is dried first.
    pub dries: bool,
    /// How it is seared, where it is.
    #[serde(default)]
    pub how: Option<SearAs>,
    /// Its steps from the pull to the plate, in order.
    pub steps: Vec<FinishStep>,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl Finish {
    /// From the pull to the plate, minutes.
    #[must_use]
    pub(crate) fn minutes(&self) -> Minutes {
        self.steps.iter().map(|s| s.min).sum()
    }

    /// The step that chills, and the minutes before it; `None` where it is eaten warm.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// assert!(food("beef-strip").finish().chill().is_none(), "it is seared and eaten");
    /// ```
    #[must_use]
    pub fn chill(&self) -> Option<(&FinishStep, Minutes)> {
        let i = self.steps.iter().position(|s| s.chills)?;
        Some((&self.steps[i], self.steps[..i].iter().map(|s| s.min).sum()))
    }

    /// The step with this identifier.
    #[must_use]
    pub(crate) fn step(&self, id: &str) -> Option<&FinishStep> {
        self.steps.iter().find(|s| s.id == id)
    }

    /// The last step: onto the plate.
    #[must_use]
    pub(crate) fn last(&self) -> &FinishStep {
        self.steps.last().expect("the finishes are checked: each has steps")
    }
}

static FINISHES: LazyLock<BTreeMap<String, Finish>> = LazyLock::new(|| {
    let all: BTreeMap<String, Finish> =
        serde_json::from_str(include_str!("../../data/finishes.json")).expect("shipped and tested");
    for (id, f) in &all {
        let dried = f.step("dry").is_some();
        assert!(!f.steps.is_empty() && f.sears == f.step("sear").is_some() && f.dries == dried, "{id}");
        assert_eq!(f.sears, f.how.is_some(), "{id}");
    }
    all
});

/// The finishes by key.
///
/// ```
/// assert!(hold_steady_core::food::finishes().values().all(|f| !f.steps.is_empty()));
/// ```
#[must_use]
pub fn finishes() -> &'static BTreeMap<String, Finish> {
    &FINISHES
}
