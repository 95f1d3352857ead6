//! One piece through a sequence of cooling, heat and rest.

use super::flesh::Flesh;
use super::hearth::Heat;
use super::slab::{Face, Slab, layers_m};
use crate::bath::{Air, boiling_c};
use crate::figures::{bench, searing};
use crate::heat::HeatError;
use crate::sear::follow::Follow;
use crate::units::{Celsius, Length};

/// How a piece starts.
#[derive(Debug, Clone, PartialEq)]
pub enum Start {
    /// The same throughout.
    Uniform(Celsius),
    /// Temperatures by depth under a face to the middle, mm and °C, by depth; the other half is the same.
    Profile(Vec<(f64, f64)>),
}

impl Start {
    fn at(&self, depth_mm: f64) -> f64 {
        match self {
            Self::Uniform(c) => c.value(),
            Self::Profile(points) => {
                let i = points.partition_point(|p| p.0 <= depth_mm);
                match (i.checked_sub(1).map(|i| points[i]), points.get(i)) {
                    (Some(a), Some(b)) => a.1 + (b.1 - a.1) * (depth_mm - a.0) / (b.0 - a.0),
                    (Some(a), None) => a.1,
                    (None, Some(b)) => b.1,
                    (None, None) => 0.0,
                }
            }
        }
    }
}

/// Which faces are heated.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Faces {
    /// The first.
    First,
    /// The other.
    Second,
    /// Both at once.
    Both,
}

impl Faces {
    /// Whether a face, 0 or 1, is on the heat.
    pub(super) fn heats(self, face: usize) -> bool {
        self == Self::Both || face == usize::from(self == Self::Second)
    }
}

/// What is done to it, one after the other. Seconds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Act {
    /// Out of its bag in the air of the kitchen, with one or two faces to it; the other on a board.
    Air {
        /// For so long.
        s: f64,
        /// 1 or 2.
        exposed: u8,
    },
    /// In its bag in ice water.
    Ice {
        /// For so long.
        s: f64,
    },
    /// Out of its bag in a refrigerator.
    Refrigerator {
        /// For so long.
        s: f64,
    },
    /// On the heat; the number of the hearth in [`Sear::hearths`].
    Heat {
        /// Which.
        hearth: usize,
        /// For so long.
        s: f64,
        /// Which faces.
        faces: Faces,
    },
    /// On a board, the face that was heated last under it; or wrapped.
    Rest {
        /// For so long.
        s: f64,
        /// Wrapped: nothing evaporates.
        wrapped: bool,
    },
    /// In a bag in a bath until the middle is within so much of it.
    Bath {
        /// The water, °C.
        c: f64,
        /// W/m²K.
        w_m2k: f64,
        /// K.
        short_k: f64,
        /// At most, seconds.
        most_s: f64,
    },
    /// On the heat until the middle is so hot, at most for so long.
    HeatUntil {
        /// Which hearth.
        hearth: usize,
        /// The middle, °C.
        centre_c: f64,
        /// Turned so often, seconds; both faces at once where never.
        turn_s: Option<f64>,
        /// At most.
        most_s: f64,
    },
}

/// A piece and what is done to it.
#[derive(Debug, Clone, PartialEq)]
pub struct Sear {
    /// What it is made of.
    pub flesh: Flesh,
    /// Face to face.
    pub thickness: Length,
    /// How it starts.
    pub start: Start,
    /// Its faces were patted dry.
    pub dried: bool,
    /// The kitchen.
    pub air: Air,
    /// What there is to heat it with, hot.
    pub hearths: Vec<Heat>,
    /// What is done.
    pub acts: Vec<Act>,
    /// How fine it is solved.
    pub grid: Grid,
    /// Followed so long on the plate after, for what its middle still does, seconds.
    pub plate_s: f64,
    /// Profiles are kept so often while it is on the heat, seconds (and ten times as seldom off it); none of 0.
    pub frames_s: f64,
    /// Whether hot fat is spooned over the face that is not on the heat.
    pub basting: super::Basting,
    /// Fat under its skin, on the first face; nothing of most.
    pub fat: Length,
}

/// How fine a sear is solved. What follows from it is known to about a tenth of a kelvin and a fiftieth of a
/// millimetre; `tests/sear.rs` holds it against finer ones.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Grid {
    /// The layer at a face, mm.
    pub first_mm: f64,
    /// Each is so much thicker than the one before.
    pub growth: f64,
    /// Longest step on the heat, seconds; longer off it.
    pub step_s: f64,
}

impl Grid {
    /// Where many are compared: within a few hundredths of a millimetre of the usual one.
    pub(crate) const SKETCH: Self = Self { first_mm: 0.06, growth: 1.2, step_s: 0.5 };
}

impl Default for Grid {
    fn default() -> Self {
        Self { first_mm: 0.05, growth: 1.13, step_s: 0.25 }
    }
}

/// A layer at the end.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Layer {
    /// Under the first face.
    pub depth_mm: f64,
    /// At the end, °C.
    pub end_c: f64,
    /// Hottest it ever was, °C.
    pub max_c: f64,
}

/// A profile on the way.
#[derive(Debug, Clone, PartialEq)]
pub struct Frame {
    /// Seconds from the start.
    pub s: f64,
    /// °C, and the highest so far, by layer.
    pub c: Vec<(f64, f64)>,
    /// Crust on each face, mm.
    pub crust_mm: [f64; 2],
}

/// What came of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Seared {
    /// Middle of the piece when it first goes on the heat, °C.
    pub before_c: f64,
    /// When it comes off the heat for the last time.
    pub end_c: f64,
    /// Hottest the middle is from when it first goes on the heat.
    pub peak_c: f64,
    /// When, seconds after it comes off for the last time (0: before that); none where it only cools.
    pub peak_after_s: Option<f64>,
    /// The middle is still warming at the end: the peak is to come.
    pub still_rising: bool,
    /// Seconds from the start to when it comes off for the last time.
    pub off_s: f64,
    /// Seconds from the start to the end.
    pub end_s: f64,
    /// Layers from face to face.
    pub layers: Vec<Layer>,
    /// Both faces.
    pub faces: [Face; 2],
    /// Water lost altogether, kg/m² of the piece as it lies.
    pub water_lost_kg_m2: f64,
    /// The share of all the water in and on it.
    pub water_lost: f64,
    /// Mean temperature at the end, °C.
    pub mean_c: f64,
    /// The middle over the seconds.
    pub centre: Vec<(f64, f64)>,
    /// How much heat is not accounted for, as a share of what went in: rounding.
    pub unaccounted: f64,
    /// The hearths as they are at the end.
    pub hearths: Vec<Heat>,
    /// Profiles on the way.
    pub frames: Vec<Frame>,
}

impl Seared {
    /// How deep from each face it was ever hotter than this, mm.
    ///
    /// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// let out = sear.run()?;
    /// assert!(out.band_mm(60.0)[0] > out.band_mm(70.0)[0]);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn band_mm(&self, above_c: f64) -> [f64; 2] {
        let whole = self.layers.last().map_or(0.0, |l| l.depth_mm);
        let one = |layers: &mut dyn Iterator<Item = (f64, f64)>| {
            let mut before: Option<(f64, f64)> = None;
            for (depth, c) in layers {
                if c <= above_c {
                    return before.map_or(0.0, |(d, hot)| d + (depth - d) * (hot - above_c) / (hot - c));
                }
                before = Some((depth, c));
            }
            whole
        };
        let first = one(&mut self.layers.iter().map(|l| (l.depth_mm, l.max_c)));
        let second = one(&mut self.layers.iter().rev().map(|l| (whole - l.depth_mm, l.max_c)));
        [first, second]
    }

    /// The thicker of the two bands, mm.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// assert!((3.6..5.0).contains(&sear.run()?.thicker_band_mm(70.0)));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn thicker_band_mm(&self, above_c: f64) -> f64 {
        self.band_mm(above_c).into_iter().fold(0.0, f64::max)
    }

    /// Share of the thickness that was never so far from `wanted_c` as `within_k` above it, 0 to 1: how even it is.
    ///
    /// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// assert!((0.3..0.8).contains(&sear.run()?.evenness(54.0, 10.0)));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn evenness(&self, wanted_c: f64, within_k: f64) -> f64 {
        let whole = self.layers.last().map_or(1.0, |l| l.depth_mm);
        (1.0 - self.band_mm(wanted_c + within_k).iter().sum::<f64>() / whole).max(0.0)
    }

    /// What each hearth is at, at the end, °C; of a flux nothing.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// assert_eq!(sear.run()?.hearths_c(), [Some(230.0)]);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn hearths_c(&self) -> Vec<Option<f64>> {
        self.hearths.iter().map(Heat::face_c).collect()
    }

    /// The middle never gets warmer than it was when it went on the heat.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// assert!(!sear.run()?.only_cools());
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn only_cools(&self) -> bool {
        self.peak_after_s.is_none()
    }

    /// The face that browned less, of those that were to be browned.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// let out = sear.run()?;
    /// assert!(out.paler().browning <= out.faces[0].browning);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn paler(&self) -> Face {
        let [a, b] = self.faces;
        match (a.on_s, b.on_s) {
            // What was on the heat for seconds only was not to be browned.
            (a_s, b_s) if b_s < 0.5 * a_s => a,
            (a_s, b_s) if a_s < 0.5 * b_s => b,
            _ if a.browning <= b.browning => a,
            _ => b,
        }
    }
}

/// The air of a kitchen, where nothing is said.
pub(crate) fn kitchen_air(altitude_m: f64) -> Air {
    Air { room_c: searing().room_c.value, humidity: bench().humidity.value, altitude_m }
}

impl Sear {
    /// A uniform or given piece, patted dry, seared on something that stays at `(°C, W/m²K)`, a face in turn for each
    /// of the seconds, then rested on a board.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// let out = sear.run()?;
    /// // Two computations apart from this one: the middle peaks at 59 to 63.5 °C, 2¼ to 4¼ min after the last turn.
    /// assert!((59.0..63.5).contains(&out.peak_c), "{}", out.peak_c);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn pan(
        food: &crate::food::Food,
        thickness: Length,
        start: Start,
        (c, w_m2k): (f64, f64),
        turns_s: &[f64],
        rest_s: f64,
    ) -> Self {
        let turns = turns_s.iter().enumerate().map(|(i, s)| {
            let faces = if i % 2 == 0 { Faces::First } else { Faces::Second };
            Act::Heat { hearth: 0, s: *s, faces }
        });
        let rest = Act::Rest { s: rest_s, wrapped: false };
        Self {
            flesh: Flesh::of(food),
            thickness,
            start,
            dried: true,
            air: kitchen_air(0.0),
            hearths: vec![Heat::Contact { w_m2k, body: super::Body::held(c) }],
            acts: turns.chain([rest]).collect(),
            grid: Grid::default(),
            plate_s: 0.0,
            frames_s: 0.0,
            basting: super::Basting::Plain,
            fat: Length::ZERO,
        }
    }

    /// Follows it.
    ///
    /// Source: the model of `sear`, whose constants `data/sear.json` names the sources of.
    ///
    /// # Errors
    /// When it takes more computing than the question may cost; see [`crate::heat::Effort`].
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let mut sear = Sear::pan(strip, Length::from_mm(25.0), Start::Uniform(Celsius::new(54.0)), (230.0, 275.0), &[60.0, 60.0], 480.0);
    /// let plain = sear.run()?;
    /// sear.acts.insert(0, Act::Air { s: 600.0, exposed: 2 });
    /// let cooled = sear.run()?;
    /// assert!(cooled.peak_c < plain.peak_c - 3.0 && cooled.unaccounted.abs() < 1e-9);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn run(&self) -> Result<Seared, HeatError> {
        let half_mm = self.thickness.mm() / 2.0;
        let half = layers_m(half_mm / 1000.0, self.grid.first_mm / 1000.0, self.grid.growth);
        let at = |depth_m: f64| {
            let mm = depth_m * 1000.0;
            self.start.at(mm.min(2.0 * half_mm - mm))
        };
        let boils = boiling_c(self.air.altitude_m);
        let fat = (self.fat.mm() / 1000.0, Flesh::under_skin());
        let mut slab = Slab::new(self.flesh, fat, &half, (boils, at));
        let film_mm = if self.dried { &searing().film_dry_mm } else { &searing().film_wet_mm };
        // A millimetre of water is a kilogram on a square metre.
        slab.wet(film_mm.value);
        let (heat_before, water_before) = (slab.heat_j_m2(), slab.water_kg_m2());
        let mut follow = Follow::new(self, slab);
        for act in &self.acts {
            follow.act(act)?;
        }
        let mut told = follow.told(heat_before, water_before);
        if self.plate_s > 0.0 {
            follow.plate(self.plate_s, &mut told)?;
        }
        Ok(told)
    }
}

/// A temperature on the way, straight between its points.
pub(super) fn along(ramp: &[(f64, f64)], s: f64) -> f64 {
    let i = ramp.partition_point(|p| p.0 <= s);
    match (i.checked_sub(1).map(|i| ramp[i]), ramp.get(i)) {
        (Some(a), Some(b)) => a.1 + (b.1 - a.1) * (s - a.0) / (b.0 - a.0),
        (Some(a), None) => a.1,
        (None, Some(b)) => b.1,
        (None, None) => 0.0,
    }
}
