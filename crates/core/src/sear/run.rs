//! One piece through a sequence of cooling, heat and rest.

use super::flesh::Flesh;
use super::hearth::Heat;
use super::slab::{Bound, Face, Slab, layers_m};
use crate::bath::{Air, air_pa, boiling_c, saturation_pa, transfer_m_s, vapour_kg_m3};
use crate::figures::{bench, searing};
use crate::heat::{HeatError, Meter};
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
    /// When, seconds after it comes off for the last time (below zero: before).
    pub peak_after_s: f64,
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
        self.peak_c <= self.before_c
    }

    /// The face that browned less.
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
        if a.browning <= b.browning { a } else { b }
    }
}

/// The air of a kitchen, where nothing is said.
pub(crate) fn kitchen_air(altitude_m: f64) -> Air {
    Air { room_c: searing().room_c.value, humidity: bench().humidity.value, altitude_m }
}

/// Between which seconds one is on the heat.
struct Follow<'a> {
    sear: &'a Sear,
    slab: Slab,
    hearths: Vec<Heat>,
    /// Seconds since a piece first lay in a hearth's air.
    since: Vec<f64>,
    now: f64,
    last_heated: usize,
    next_frame: f64,
    centre: Vec<(f64, f64)>,
    frames: Vec<Frame>,
    began: Option<(f64, f64)>,
    off: f64,
    off_c: f64,
    peak: (f64, f64),
    meter: Meter,
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
        }
    }

    /// Follows it.
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
        let mut slab = Slab::new(self.flesh, &half, boils, at);
        let film_mm = if self.dried { &searing().film_dry_mm } else { &searing().film_wet_mm };
        // A millimetre of water is a kilogram on a square metre.
        slab.wet(film_mm.value);
        let (heat_before, water_before) = (slab.heat_j_m2(), slab.water_kg_m2());
        let centre = vec![(0.0, slab.centre_c())];
        let mut follow = Follow {
            sear: self,
            slab,
            hearths: self.hearths.clone(),
            since: vec![0.0; self.hearths.len()],
            now: 0.0,
            last_heated: 0,
            next_frame: 0.0,
            centre,
            frames: Vec::new(),
            began: None,
            off: 0.0,
            off_c: 0.0,
            peak: (0.0, f64::NEG_INFINITY),
            meter: Meter::new(),
        };
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

impl Follow<'_> {
    fn act(&mut self, act: &Act) -> Result<(), HeatError> {
        let grid_s = self.sear.grid.step_s;
        let figures = searing();
        match *act {
            Act::Air { s, exposed } => {
                let room = self.room();
                let under = if exposed >= 2 { room } else { self.board() };
                self.for_seconds(s, 4.0 * grid_s, None, [room, under], None)
            }
            Act::Ice { s } => {
                let ice = Bound { w_m2k: figures.ice_w_m2k.value, c: 0.5, ..Bound::default() };
                self.for_seconds(s, 4.0 * grid_s, None, [ice, ice], None)
            }
            Act::Refrigerator { s } => {
                let c = figures.refrigerator_c.value;
                let vapour_pa = self.sear.air.humidity * saturation_pa(c);
                let shelf = self.in_air(figures.air_w_m2k.value, c, vapour_pa);
                self.for_seconds(s, 8.0 * grid_s, None, [shelf, shelf], None)
            }
            Act::Heat { hearth, s, faces } => {
                self.begins();
                self.heat(hearth, s, faces, None)?;
                self.off();
                Ok(())
            }
            Act::HeatUntil { hearth, centre_c, turn_s, most_s } => {
                self.begins();
                let end = self.now + most_s;
                let mut faces = if turn_s.is_some() { Faces::First } else { Faces::Both };
                while self.now < end - 1e-6 && self.slab.centre_c() < centre_c {
                    let s = turn_s.unwrap_or(most_s).min(end - self.now);
                    self.heat(hearth, s, faces, Some(centre_c))?;
                    faces = match faces {
                        Faces::First => Faces::Second,
                        Faces::Second => Faces::First,
                        Faces::Both => Faces::Both,
                    };
                }
                self.off();
                Ok(())
            }
            Act::Rest { s, wrapped } => {
                let bounds = if wrapped {
                    let foil = Bound {
                        w_m2k: figures.wrapped_w_m2k.value,
                        c: self.sear.air.room_c,
                        ..Bound::default()
                    };
                    [foil, foil]
                } else {
                    let mut both = [self.room(); 2];
                    both[self.last_heated] = self.board();
                    both
                };
                self.for_seconds(s, 8.0 * grid_s, None, bounds, None)
            }
            Act::Bath { c, w_m2k, short_k, most_s } => {
                let water = Bound { w_m2k, c, ..Bound::default() };
                self.for_seconds(most_s, 20.0 * grid_s, None, [water, water], Some(c - short_k))
            }
        }
    }

    fn begins(&mut self) {
        let c = self.slab.centre_c();
        self.began.get_or_insert((self.now, c));
    }

    fn off(&mut self) {
        (self.off, self.off_c) = (self.now, self.slab.centre_c());
    }

    fn heat(&mut self, hearth: usize, s: f64, faces: Faces, until_c: Option<f64>) -> Result<(), HeatError> {
        self.last_heated = usize::from(faces == Faces::Second);
        let slowly = matches!(self.hearths[hearth], Heat::Air { .. });
        let grid_s = self.sear.grid.step_s;
        let longest = if slowly { 20.0 * grid_s } else { grid_s };
        let free = self.room();
        self.for_seconds(s, longest, Some((hearth, faces)), [free, free], until_c)
    }

    /// The same surroundings for so many seconds; on a hearth its faces meet that instead.
    fn for_seconds(
        &mut self,
        s: f64,
        longest: f64,
        on: Option<(usize, Faces)>,
        free: [Bound; 2],
        until_c: Option<f64>,
    ) -> Result<(), HeatError> {
        // What changes at once is followed closely first.
        const FIRST_S: f64 = 0.02;
        const LONGER: f64 = 1.3;
        const OF_WHAT_WAS: f64 = 0.01;
        let (began, end, mut dt) = (self.now, self.now + s, FIRST_S.min(longest));
        while self.now < end - 1e-9 {
            let left = end - self.now;
            let step = if left < 1.5 * dt { left } else { dt };
            // A layer of a sear costs half of what a cell of a bath does (measured: 150 and 340 ns).
            self.meter.step(self.slab.nodes().div_ceil(2))?;
            let mut bounds = free;
            if let Some((hearth, faces)) = on {
                for face in [0, 1] {
                    if faces == Faces::Both || face == usize::from(faces == Faces::Second) {
                        bounds[face] = self.on(hearth, face);
                    }
                }
            }
            let (step, by_contact) = self.slab.step(step, &bounds);
            if let Some((hearth, faces)) = on {
                let gives = match faces {
                    Faces::First => by_contact[0],
                    Faces::Second => by_contact[1],
                    // The oil's heat capacity is said for a square metre of the piece, both of whose faces it heats.
                    Faces::Both => by_contact[0] + by_contact[1],
                };
                if let Heat::Contact { body, .. } | Heat::Oil { body, .. } = &mut self.hearths[hearth] {
                    body.wait(step, gives);
                }
                self.since[hearth] += step;
            }
            self.now += step;
            let c = self.slab.centre_c();
            self.centre.push((self.now, c));
            if self.began.is_some() && c > self.peak.1 {
                self.peak = (self.now, c);
            }
            self.frame(on.is_some());
            if until_c.is_some_and(|until| c >= until) {
                break;
            }
            // Off the heat it changes ever more slowly: each step may be a little longer.
            let longest = if on.is_none() { longest.max((self.now - began) * OF_WHAT_WAS) } else { longest };
            dt = (dt * LONGER).min(longest);
        }
        Ok(())
    }

    fn frame(&mut self, on: bool) {
        let every = self.sear.frames_s;
        if every <= 0.0 || self.now < self.next_frame {
            return;
        }
        self.next_frame = self.now + if on { every } else { 10.0 * every };
        let c = self.slab.c.iter().copied().zip(self.slab.highest_c.iter().copied()).collect();
        let crust_mm = self.slab.faces_now().map(|f| f.crust_mm);
        self.frames.push(Frame { s: self.now, c, crust_mm });
    }

    /// What a face meets on a hearth.
    fn on(&self, hearth: usize, face: usize) -> Bound {
        let figures = searing();
        let dry = self.slab.is_dry(face);
        match &self.hearths[hearth] {
            Heat::Contact { w_m2k, body } => {
                let w_m2k = if dry { w_m2k * figures.dry_contact_share.value } else { *w_m2k };
                Bound { w_m2k: body.with_contact_w_m2k(w_m2k), c: body.face_c(), ..Bound::default() }
            }
            Heat::Oil { w_m2k, after_w_m2k, body } => {
                Bound { w_m2k: if dry { *after_w_m2k } else { *w_m2k }, c: body.face_c(), ..Bound::default() }
            }
            Heat::Flux { w_m2 } => {
                let room = self.sear.air.room_c;
                Bound { flux_w_m2: *w_m2, radiates_to_c: Some(room), ..Bound::default() }
            }
            Heat::Air { ramp, w_m2k, dew_c } => {
                let c = along(ramp, self.since[hearth]);
                // Whatever it is at, its dew point says what vapour is in it.
                self.in_air(*w_m2k, c, saturation_pa(dew_c.min(c)))
            }
        }
    }

    fn room(&self) -> Bound {
        let Air { room_c, humidity, .. } = self.sear.air;
        self.in_air(searing().air_w_m2k.value, room_c, humidity * saturation_pa(room_c))
    }

    fn board(&self) -> Bound {
        Bound { w_m2k: searing().board_w_m2k.value, c: self.sear.air.room_c, ..Bound::default() }
    }

    /// Convection, radiation and evaporation in air at `c` °C whose vapour has a pressure, Pa.
    fn in_air(&self, w_m2k: f64, c: f64, vapour_pa: f64) -> Bound {
        let transfer = transfer_m_s(w_m2k, c, air_pa(self.sear.air.altitude_m));
        Bound {
            w_m2k,
            c,
            radiates_to_c: Some(c),
            flux_w_m2: 0.0,
            takes_vapour: Some((transfer, vapour_kg_m3(vapour_pa, c))),
        }
    }

    /// On the plate: only what the middle still does, and how far heat still gets.
    fn plate(&mut self, s: f64, told: &mut Seared) -> Result<(), HeatError> {
        let mut both = [self.room(); 2];
        both[self.last_heated] = self.board();
        self.for_seconds(s, 16.0 * self.sear.grid.step_s, None, both, None)?;
        (told.peak_c, told.peak_after_s, told.still_rising) = self.peaked();
        for (layer, highest) in told.layers.iter_mut().zip(&self.slab.highest_c) {
            layer.max_c = *highest;
        }
        Ok(())
    }

    /// How warm the middle got, how long after the heat, and whether it is still to come.
    fn peaked(&self) -> (f64, f64, bool) {
        let began = self.began.unwrap_or((self.now, self.slab.centre_c()));
        let peak = if self.peak.1 > began.1 { self.peak } else { began };
        (peak.1, peak.0 - self.off, peak.0 >= self.now - 1e-6 && self.now > self.off)
    }

    fn told(&mut self, heat_before: f64, water_before: f64) -> Seared {
        let (slab, began) =
            (&self.slab, self.began.unwrap_or((self.now, self.centre[self.centre.len() - 1].1)));
        let lost = water_before - slab.water_kg_m2();
        let change = slab.heat_j_m2() - heat_before;
        let layers = (0..slab.nodes()).map(|i| Layer {
            depth_mm: slab.depth_m[i] * 1000.0,
            end_c: slab.c[i],
            max_c: slab.highest_c[i],
        });
        let (peak_c, peak_after_s, still_rising) = self.peaked();
        Seared {
            before_c: began.1,
            end_c: self.off_c,
            peak_c,
            peak_after_s,
            still_rising,
            off_s: self.off,
            end_s: self.now,
            layers: layers.collect(),
            faces: slab.faces_now(),
            water_lost_kg_m2: lost,
            water_lost: lost / water_before,
            mean_c: slab.mean_c(),
            unaccounted: (slab.taken_up - slab.carried_away - change) / slab.taken_up.abs().max(1.0),
            hearths: self.hearths.clone(),
            centre: std::mem::take(&mut self.centre),
            frames: std::mem::take(&mut self.frames),
        }
    }
}

/// A temperature on the way, straight between its points.
fn along(ramp: &[(f64, f64)], s: f64) -> f64 {
    let i = ramp.partition_point(|p| p.0 <= s);
    match (i.checked_sub(1).map(|i| ramp[i]), ramp.get(i)) {
        (Some(a), Some(b)) => a.1 + (b.1 - a.1) * (s - a.0) / (b.0 - a.0),
        (Some(a), None) => a.1,
        (None, Some(b)) => b.1,
        (None, None) => 0.0,
    }
}
