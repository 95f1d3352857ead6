//! What a piece is seared on or in: the data, and its own temperature while cold meat lies on it.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::figures::Basis;
use crate::units::{Celsius, Kelvin, Minutes};

/// What a kitchen's pans bear.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Pans {
    /// Nobody said: nothing is proposed that a coating or an enamel would not bear.
    #[default]
    Unsaid,
    /// Bare steel or iron.
    Bare,
}

impl Pans {
    /// The word in requests and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::sear::Pans::Bare.id(), "bare");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Unsaid => "unsaid",
            Self::Bare => "bare",
        }
    }

    /// What is said with this word; nothing with any other.
    ///
    /// ```
    /// use hold_steady_core::sear::Pans;
    /// assert_eq!((Pans::from_id("bare"), Pans::from_id("")), (Pans::Bare, Pans::Unsaid));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Self {
        if id == Self::Bare.id() { Self::Bare } else { Self::Unsaid }
    }
}

/// How a hearth gives its heat.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum How {
    /// A hot body under a face.
    Contact,
    /// Oil around it.
    Oil,
    /// Radiation or flame: a flux, whatever the surface is at.
    Flux,
    /// Hot air and walls around it.
    Air,
}

/// What of a piece a hearth heats at a time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Heats {
    /// One face: it is turned.
    #[default]
    AFace,
    /// All of it.
    AllRound,
}

impl Heats {
    /// Both faces at once: nothing is turned, and no edge needs its own time.
    ///
    /// ```
    /// use hold_steady_core::sear::{Hearth, Heats};
    /// assert!(Hearth::named("deep-oil").is_some_and(|h| h.heats.all_round()));
    /// assert!(!Heats::AFace.all_round());
    /// ```
    #[must_use]
    pub const fn all_round(self) -> bool {
        matches!(self, Self::AllRound)
    }
}

/// Something to sear on or in, as data.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Hearth {
    /// Short identifier.
    pub id: String,
    /// In a sentence: "a cast iron pan".
    pub name: String,
    /// How it gives heat.
    pub how: How,
    /// Usual temperature; none of a flux.
    #[serde(default)]
    pub c: Option<Celsius>,
    /// Coldest that is of use.
    #[serde(default)]
    pub low_c: Option<Celsius>,
    /// Hottest.
    #[serde(default)]
    pub high_c: Option<Celsius>,
    /// No hotter is proposed where nobody said that the pans are bare steel or iron.
    #[serde(default)]
    pub proposed_most_c: Option<Celsius>,
    /// Coefficient to a wet face, W/m²K.
    #[serde(default)]
    pub w_m2k: f64,
    /// Of oil: once the face is dry.
    #[serde(default)]
    pub after_w_m2k: f64,
    /// Its heat capacity for a square metre of meat, J/m²K; none of what is not a lump.
    #[serde(default)]
    pub areal_j_m2k: Option<f64>,
    /// Of a thick body: effusivity, W√s/m²K.
    #[serde(default)]
    pub effusivity: Option<f64>,
    /// What its burner brings, net, W/m².
    #[serde(default)]
    pub burner_w_m2: f64,
    /// Of a flux, W/m².
    #[serde(default)]
    pub flux_w_m2: Option<f64>,
    /// The share of the time it points at a place.
    #[serde(default)]
    pub duty: Option<f64>,
    /// Of air: its dew point.
    #[serde(default)]
    pub dew_c: Option<Celsius>,
    /// How long it takes to be hot; none where it follows from its burner.
    #[serde(default)]
    pub ready_min: Option<Minutes>,
    /// What of a piece it heats at a time.
    #[serde(default)]
    pub heats: Heats,
    /// What to know of it.
    pub about: String,
    /// Where its numbers come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

impl Hearth {
    /// The hearth with this identifier.
    ///
    /// ```
    /// use hold_steady_core::sear::Hearth;
    /// assert!(Hearth::named("iron-pan").is_some() && Hearth::named("candle").is_none());
    /// ```
    #[must_use]
    pub fn named(id: &str) -> Option<&'static Self> {
        hearths().iter().find(|h| h.id == id)
    }

    /// It is a pan or a plate with a burner under it: it can be lit cold, and fat spooned from it.
    ///
    /// ```
    /// use hold_steady_core::sear::Hearth;
    /// let is_pan = |id| Hearth::named(id).expect("shipped").is_pan();
    /// assert!(is_pan("iron-pan") && !is_pan("torch") && !is_pan("stone"));
    /// ```
    #[must_use]
    pub fn is_pan(&self) -> bool {
        self.how == How::Contact && self.areal_j_m2k.is_some() && self.burner_w_m2 > 0.0
    }

    /// Temperatures at which a finish is looked for, the hottest first: within what the food asks, what the fat and what the
    /// kitchen's pans bear. None of what has no temperature.
    ///
    /// ```
    /// use hold_steady_core::{sear::{Hearth, Pans, fats}, units::Celsius};
    /// let (iron, coated) = (Hearth::named("iron-pan").expect("shipped"), Hearth::named("coated-pan").expect("shipped"));
    /// let (oil, none) = (&fats()[0], fats().last().expect("none"));
    /// let hottest = |h: &Hearth, fat, pans| h.tried(None, fat, pans)[0].map(Celsius::value);
    /// assert_eq!(hottest(iron, oil, Pans::Unsaid), Some(260.0));
    /// assert_eq!((hottest(iron, oil, Pans::Bare), hottest(iron, none, Pans::Bare)), (Some(290.0), Some(350.0)));
    /// assert_eq!(hottest(coated, none, Pans::Bare), Some(230.0));
    /// ```
    #[must_use]
    pub fn tried(&self, of_food: Option<(Celsius, Celsius)>, fat: &Fat, pans: Pans) -> Vec<Option<Celsius>> {
        const APART: Kelvin = Kelvin::new(30.0);
        const AT_MOST: usize = 3;
        let (Some(usual), Some(low), Some(high)) = (self.c, self.low_c, self.high_c) else {
            return vec![None];
        };
        let most = self.proposed_most_c.filter(|_| pans == Pans::Unsaid).unwrap_or(high);
        let fat = fat.bears_c.filter(|_| self.how == How::Contact).unwrap_or(high);
        let (food_low, food_high) = of_food.filter(|_| self.how == How::Contact).unwrap_or((low, high));
        let high = high.min(most).min(fat).min(food_high).max(low);
        // Nothing colder than is usual is of use to what only has to brown.
        let low = low.max(food_low).max(if of_food.is_some() { low } else { usual - APART }).min(high);
        let each = |i: usize| high - APART * i as f64;
        (0..AT_MOST).map(each).filter(|c| *c >= low).map(Some).collect()
    }

    /// As it stands hot, at a temperature of its own or its usual one.
    ///
    /// ```
    /// use hold_steady_core::{sear::{Heat, Hearth}, units::Celsius};
    /// let pan = Hearth::named("iron-pan").expect("shipped");
    /// assert!(matches!(pan.hot(Some(Celsius::new(200.0))), Heat::Contact { .. }));
    /// ```
    #[must_use]
    pub fn hot(&self, c: Option<Celsius>) -> Heat {
        let c = c.or(self.c).map_or(0.0, Celsius::value);
        let body = || match (self.effusivity, self.areal_j_m2k) {
            (Some(e), _) => Body::thick(c, e),
            (None, Some(areal)) => Body::lump(c, areal, self.burner_w_m2),
            (None, None) => Body::held(c),
        };
        match self.how {
            How::Contact => Heat::Contact { w_m2k: self.w_m2k, body: body() },
            How::Oil => Heat::Oil { w_m2k: self.w_m2k, after_w_m2k: self.after_w_m2k, body: body() },
            How::Flux => Heat::Flux { w_m2: self.flux_w_m2.unwrap_or_default() * self.duty.unwrap_or(1.0) },
            How::Air => Heat::Air {
                ramp: vec![(0.0, c)],
                w_m2k: self.w_m2k,
                dew_c: self.dew_c.map_or(0.0, Celsius::value),
            },
        }
    }

    /// Minutes until it is hot, from a cold kitchen.
    ///
    /// Source: `data/hearths.json`, common practice.
    ///
    /// ```
    /// use hold_steady_core::{sear::Hearth, units::*};
    /// let thin = Hearth::named("thin-pan").expect("shipped").ready_in(None);
    /// let plate = Hearth::named("thick-plate").expect("shipped").ready_in(None);
    /// assert!(thin < Minutes::new(5.0) && plate > thin);
    /// ```
    #[must_use]
    pub fn ready_in(&self, c: Option<Celsius>) -> Minutes {
        const COLD_C: f64 = 20.0;
        let by_burner = || {
            let up = c.or(self.c).map_or(0.0, Celsius::value) - COLD_C;
            let areal = self.areal_j_m2k.filter(|_| self.burner_w_m2 > 0.0).unwrap_or_default();
            Minutes::from_seconds(areal * up / self.burner_w_m2.max(1.0))
        };
        self.ready_min.unwrap_or_else(by_burner)
    }
}

/// Everything there is to sear on or in.
///
/// ```
/// assert!(hold_steady_core::sear::hearths().iter().all(|h| !h.source.is_empty()));
/// ```
#[must_use]
pub fn hearths() -> &'static [Hearth] {
    static ALL: LazyLock<Vec<Hearth>> = LazyLock::new(|| {
        let all: Vec<Hearth> =
            serde_json::from_str(include_str!("../../data/hearths.json")).expect("shipped and tested");
        assert!(
            all.iter()
                .all(|h| (h.how == How::Flux) == h.c.is_none() && h.flux_w_m2.is_some() == h.c.is_none())
        );
        all
    });
    &ALL
}

/// A fat, as data.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Fat {
    /// Short identifier.
    pub id: String,
    /// In a sentence.
    pub name: String,
    /// About where it begins to smoke.
    pub smokes_c: Option<Celsius>,
    /// Hottest a film of it is used at; any where it is not said.
    #[serde(default)]
    pub bears_c: Option<Celsius>,
    /// Where that comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// The fats there are.
///
/// ```
/// assert!(hold_steady_core::sear::fats().iter().any(|f| f.id == "tallow"));
/// ```
#[must_use]
pub fn fats() -> &'static [Fat] {
    static ALL: LazyLock<Vec<Fat>> = LazyLock::new(|| {
        serde_json::from_str(include_str!("../../data/fats.json")).expect("shipped and tested")
    });
    &ALL
}

/// Heat, as a piece meets it.
#[derive(Debug, Clone, PartialEq)]
pub enum Heat {
    /// A hot body under a face.
    Contact {
        /// To a wet face, W/m²K.
        w_m2k: f64,
        /// The body.
        body: Body,
    },
    /// Oil.
    Oil {
        /// While it boils at the face, W/m²K.
        w_m2k: f64,
        /// After.
        after_w_m2k: f64,
        /// The oil itself.
        body: Body,
    },
    /// A flux, W/m².
    Flux {
        /// W/m².
        w_m2: f64,
    },
    /// Air and walls.
    Air {
        /// Its temperature over seconds since the piece went in, straight between.
        ramp: Vec<(f64, f64)>,
        /// W/m²K, without radiation.
        w_m2k: f64,
        /// Its dew point, °C.
        dew_c: f64,
    },
}

impl Heat {
    /// The same with its burner only just lit, at `c` °C: what has a burner.
    pub(super) fn lit_cold(self, c: f64) -> Self {
        match self {
            Self::Contact { w_m2k, body } => Self::Contact { w_m2k, body: body.at(c) },
            other => other,
        }
    }

    /// Nothing lies on it for so long.
    pub(super) fn wait(&mut self, s: f64) {
        if let Self::Contact { body, .. } | Self::Oil { body, .. } = self {
            body.wait(s, 0.0);
        }
    }

    /// How hot it is where food meets it, °C; of a flux nothing.
    pub(super) fn face_c(&self) -> Option<f64> {
        match self {
            Self::Contact { body, .. } | Self::Oil { body, .. } => Some(body.face_c()),
            Self::Flux { .. } => None,
            Self::Air { ramp, .. } => ramp.last().map(|p| p.1),
        }
    }
}

/// The body of a pan, a plate, a stone: layers from its hot face down.
#[derive(Debug, Clone, PartialEq)]
pub struct Body {
    layers_c: Vec<f64>,
    /// J/m²K of each, and W/m²K from each to the next.
    j_m2k: Vec<f64>,
    w_m2k: f64,
    /// From its face to the middle of the first layer, m²K/W.
    first_m2k_w: f64,
    burner_w_m2: f64,
    /// The cook keeps it no hotter than this.
    set_c: f64,
}

impl Body {
    /// One that stays at its temperature whatever lies on it.
    ///
    /// ```
    /// let mut held = hold_steady_core::sear::Body::held(230.0);
    /// held.wait(60.0, 30_000.0);
    /// assert_eq!(held.face_c(), 230.0);
    /// ```
    #[must_use]
    pub fn held(c: f64) -> Self {
        Self::of(vec![c], vec![f64::INFINITY], (0.0, 0.0), 0.0)
    }

    /// A pan: of one temperature throughout, with a burner under it.
    ///
    /// Source: a lumped heat capacity; its figures by `data/hearths.json`.
    ///
    /// ```
    /// use hold_steady_core::sear::Body;
    /// let mut pan = Body::lump(230.0, 9400.0, 13_000.0);
    /// pan.wait(10.0, 30_000.0);
    /// assert!(pan.face_c() < 220.0);
    /// pan.wait(60.0, 0.0);
    /// assert_eq!(pan.face_c(), 230.0, "and no hotter than it was");
    /// ```
    #[must_use]
    pub fn lump(c: f64, j_m2k: f64, burner_w_m2: f64) -> Self {
        Self::of(vec![c], vec![j_m2k], (0.0, 0.0), burner_w_m2)
    }

    /// A thick one, as deep as heat gets in a sear, of an effusivity (W√s/m²K).
    ///
    /// Source: a half-space of that effusivity, after Carslaw and Jaeger, Conduction of Heat in Solids (2nd ed. 1959), from memory of it.
    ///
    /// ```
    /// use hold_steady_core::sear::Body;
    /// let mut stone = Body::thick(330.0, 1300.0);
    /// stone.wait(60.0, 30_000.0);
    /// // A semi-infinite body under a constant flux q: its face falls by 2 q √(t/π) / e; half a millimetre down, where
    /// // the first layer is, by q x / k less (k = e² / ρc, 0.845 W/mK).
    /// let face = 2.0 * 30_000.0 * (60.0_f64 / std::f64::consts::PI).sqrt() / 1300.0;
    /// let analytic = face - 30_000.0 * 0.0005 / 0.845;
    /// assert!(((330.0 - stone.face_c()) / analytic - 1.0).abs() < 0.03);
    /// ```
    #[must_use]
    pub fn thick(c: f64, effusivity: f64) -> Self {
        // Heat capacity of stone, J/m³K; only the effusivity matters to what lies on it.
        const J_M3K: f64 = 2.0e6;
        const LAYER_M: f64 = 0.001;
        const LAYERS: usize = 40;
        let conducts = effusivity.powi(2) / J_M3K;
        let (between, first) = (conducts / LAYER_M, 0.5 * LAYER_M / conducts);
        Self::of(vec![c; LAYERS], vec![J_M3K * LAYER_M; LAYERS], (between, first), 0.0)
    }

    fn of(layers_c: Vec<f64>, j_m2k: Vec<f64>, (w_m2k, first_m2k_w): (f64, f64), burner_w_m2: f64) -> Self {
        let set_c = layers_c[0];
        Self { layers_c, j_m2k, w_m2k, first_m2k_w, burner_w_m2, set_c }
    }

    /// The same, not hot yet: at `c` °C throughout.
    pub(crate) fn at(self, c: f64) -> Self {
        Self { layers_c: vec![c; self.layers_c.len()], ..self }
    }

    /// Temperature of its face where nothing lies on it, and of its first layer where something does, °C.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::sear::Body::held(200.0).face_c(), 200.0);
    /// ```
    #[must_use]
    pub fn face_c(&self) -> f64 {
        self.layers_c[0]
    }

    /// The coefficient of contact and of the way from its first layer together.
    pub(super) fn with_contact_w_m2k(&self, w_m2k: f64) -> f64 {
        1.0 / (1.0 / w_m2k + self.first_m2k_w)
    }

    /// It gives so much for so long, and is heated by its burner.
    ///
    /// ```
    /// // From 230 °C with 13 kW/m², after 60 s under cold meat, worked out apart: 188, 200 and 214 °C (2.5 mm of
    /// // steel, 5 mm of cast iron, 10 mm of steel). Here the same with the contact alone, meat at 100 °C.
    /// use hold_steady_core::sear::Body;
    /// let after = |j_m2k: f64| {
    ///     let mut pan = Body::lump(230.0, j_m2k, 13_000.0);
    ///     for _ in 0..600 { pan.wait(0.1, 275.0 * (pan.face_c() - 100.0)); }
    ///     pan.face_c()
    /// };
    /// assert!(after(9400.0) < after(16_500.0) && after(16_500.0) < after(37_700.0));
    /// ```
    pub fn wait(&mut self, s: f64, gives_w_m2: f64) {
        let last = self.layers_c.len() - 1;
        let fastest = self.j_m2k[0] / (2.0 * self.w_m2k).max(1e-9);
        let steps = (s / (0.5 * fastest).min(1.0)).ceil().max(1.0);
        let dt = s / steps;
        for _ in 0..steps as usize {
            let mut from_above = -gives_w_m2;
            for i in 0..=last {
                let below = if i < last {
                    self.w_m2k * (self.layers_c[i] - self.layers_c[i + 1])
                } else {
                    -self.burner_w_m2
                };
                self.layers_c[i] =
                    (self.layers_c[i] + dt * (from_above - below) / self.j_m2k[i]).min(self.set_c);
                from_above = below;
            }
        }
    }
}
