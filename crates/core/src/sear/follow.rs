//! A sear followed act by act.

use super::Basting;
use super::hearth::Heat;
use super::run::{Act, Faces, Frame, Layer, Sear, Seared, along};
use super::slab::{AirOver, Bound, Slab};
use crate::bath::{Air, air_pa, saturation_pa, transfer_m_s};
use crate::figures::searing;
use crate::heat::{HeatError, Meter};

/// How long something is followed.
#[derive(Debug, Clone, Copy)]
enum Until {
    /// For its time.
    Time,
    /// Or until the middle is so warm, °C.
    Warm(f64),
    /// Or until nothing in the piece is as hot as the middle was at its warmest: it cannot be warmer any more.
    Falls,
}

/// So far under that, K.
const FALLS_K: f64 = 0.1;

/// A sear as it is followed.
pub(super) struct Follow<'a> {
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

impl<'a> Follow<'a> {
    pub(super) fn new(sear: &'a Sear, slab: Slab) -> Self {
        Self {
            centre: vec![(0.0, slab.centre_c())],
            sear,
            slab,
            hearths: sear.hearths.clone(),
            since: vec![0.0; sear.hearths.len()],
            now: 0.0,
            last_heated: 0,
            next_frame: 0.0,
            frames: Vec::new(),
            began: None,
            off: 0.0,
            off_c: 0.0,
            peak: (0.0, f64::NEG_INFINITY),
            meter: Meter::new(),
        }
    }

    pub(super) fn act(&mut self, act: &Act) -> Result<(), HeatError> {
        let grid_s = self.sear.grid.step_s;
        let figures = searing();
        match *act {
            Act::Air { s, exposed } => {
                let room = self.room();
                let under = if exposed >= 2 { room } else { self.board() };
                self.for_seconds(s, 4.0 * grid_s, None, [room, under], Until::Time)
            }
            Act::Ice { s } => {
                let ice = Bound { w_m2k: figures.ice_w_m2k.value, c: 0.5, ..Bound::default() };
                self.for_seconds(s, 4.0 * grid_s, None, [ice, ice], Until::Time)
            }
            Act::Refrigerator { s } => {
                let c = figures.refrigerator_c.value;
                let vapour_pa = self.sear.air.humidity * saturation_pa(c);
                let shelf = self.in_air(figures.air_w_m2k.value, c, vapour_pa);
                self.for_seconds(s, 8.0 * grid_s, None, [shelf, shelf], Until::Time)
            }
            Act::Heat { hearth, s, faces } => {
                self.begins();
                self.heat(hearth, s, faces, Until::Time)?;
                self.off();
                Ok(())
            }
            Act::HeatUntil { hearth, centre_c, turn_s, most_s } => {
                self.begins();
                let end = self.now + most_s;
                let mut faces = if turn_s.is_some() { Faces::First } else { Faces::Both };
                while self.now < end - 1e-6 && self.slab.centre_c() < centre_c {
                    let s = turn_s.unwrap_or(most_s).min(end - self.now);
                    self.heat(hearth, s, faces, Until::Warm(centre_c))?;
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
                self.for_seconds(s, 8.0 * grid_s, None, self.resting(wrapped), Until::Time)
            }
            Act::Bath { c, w_m2k, short_k, most_s } => {
                let water = Bound { w_m2k, c, ..Bound::default() };
                self.for_seconds(most_s, 20.0 * grid_s, None, [water, water], Until::Warm(c - short_k))
            }
        }
    }

    /// What its faces meet while it rests.
    fn resting(&self, wrapped: bool) -> [Bound; 2] {
        if wrapped {
            let w_m2k = searing().wrapped_w_m2k.value;
            return [Bound { w_m2k, c: self.sear.air.room_c, ..Bound::default() }; 2];
        }
        let mut both = [self.room(); 2];
        both[self.last_heated] = self.board();
        both
    }

    fn begins(&mut self) {
        let c = self.slab.centre_c();
        self.began.get_or_insert((self.now, c));
    }

    fn off(&mut self) {
        (self.off, self.off_c) = (self.now, self.slab.centre_c());
    }

    fn heat(&mut self, hearth: usize, s: f64, faces: Faces, until: Until) -> Result<(), HeatError> {
        self.last_heated = usize::from(faces == Faces::Second);
        let slowly = matches!(self.hearths[hearth], Heat::Air { .. });
        let grid_s = self.sear.grid.step_s;
        let longest = if slowly { 20.0 * grid_s } else { grid_s };
        let free = if self.sear.basting == Basting::Basted { Self::basting() } else { self.room() };
        self.for_seconds(s, longest, Some((hearth, faces)), [free, free], until)
    }

    /// The same surroundings for so many seconds; on a hearth its faces meet that instead.
    fn for_seconds(
        &mut self,
        s: f64,
        longest: f64,
        on: Option<(usize, Faces)>,
        free: [Bound; 2],
        until: Until,
    ) -> Result<(), HeatError> {
        // What changes at once is followed closely first, and ever more loosely: both as finely as the grid is.
        let grid_s = self.sear.grid.step_s;
        let (first_s, longer, of_what_was) = (0.08 * grid_s, 1.0 + 1.2 * grid_s, 0.06 * grid_s);
        let (began, end, mut dt) = (self.now, self.now + s, first_s.min(longest));
        while self.now < end - 1e-9 {
            let left = end - self.now;
            let step = if left < 1.5 * dt { left } else { dt };
            // A layer of a sear costs half of what a cell of a bath does (measured: 150 and 340 ns).
            self.meter.step(self.slab.nodes().div_ceil(2))?;
            let mut bounds = free;
            if let Some((hearth, faces)) = on {
                for face in [0, 1] {
                    if faces.heats(face) {
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
                for face in [0, 1].into_iter().filter(|face| faces.heats(*face)) {
                    self.slab.faces[face].on_s += step;
                }
            }
            self.now += step;
            let c = self.slab.centre_c();
            self.centre.push((self.now, c));
            if self.began.is_some() && c > self.peak.1 {
                self.peak = (self.now, c);
            }
            self.frame(on.is_some());
            let enough = match until {
                Until::Time => false,
                Until::Warm(until_c) => c >= until_c,
                Until::Falls => self.slab.c.iter().all(|c| *c < self.peak.1 - FALLS_K),
            };
            if enough {
                break;
            }
            let longest = longest.max((self.now - began) * of_what_was);
            dt = (dt * longer).min(longest);
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
        let dry = self.slab.dryness(face);
        match &self.hearths[hearth] {
            Heat::Contact { w_m2k, body } => {
                let w_m2k = w_m2k * (1.0 - dry * (1.0 - figures.dry_contact_share.value));
                Bound { w_m2k: body.with_contact_w_m2k(w_m2k), c: body.face_c(), ..Bound::default() }
            }
            Heat::Oil { w_m2k, after_w_m2k, body } => {
                let w_m2k = w_m2k + dry * (after_w_m2k - w_m2k);
                Bound { w_m2k, c: body.face_c(), ..Bound::default() }
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

    /// Hot fat spooned over a face.
    fn basting() -> Bound {
        let figures = searing();
        Bound { w_m2k: figures.baste_w_m2k.value, c: figures.baste_c.value, ..Bound::default() }
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
        let pressure_pa = air_pa(self.sear.air.altitude_m);
        let transfer_m_s = transfer_m_s(w_m2k, c, pressure_pa);
        let over = AirOver { transfer_m_s, c, vapour_pa, pressure_pa };
        Bound { w_m2k, c, radiates_to_c: Some(c), flux_w_m2: 0.0, over: Some(over) }
    }

    /// On the plate: only what the middle still does, and how far heat still gets.
    pub(super) fn plate(&mut self, s: f64, told: &mut Seared) -> Result<(), HeatError> {
        let mut both = [self.room(); 2];
        both[self.last_heated] = self.board();
        self.for_seconds(s, 16.0 * self.sear.grid.step_s, None, both, Until::Falls)?;
        (told.peak_c, told.peak_after_s, told.still_rising) = self.peaked();
        for (layer, highest) in told.layers.iter_mut().zip(&self.slab.highest_c) {
            layer.max_c = *highest;
        }
        Ok(())
    }

    /// How warm the middle got, how long after the heat (none where it only cools), and whether it is still to come.
    fn peaked(&self) -> (f64, Option<f64>, bool) {
        let began = self.began.unwrap_or((self.now, self.slab.centre_c()));
        if self.peak.1 <= began.1 {
            return (began.1, None, false);
        }
        let (at, c) = self.peak;
        (c, Some((at - self.off).max(0.0)), at >= self.now - 1e-6 && self.now > self.off)
    }

    pub(super) fn told(&mut self, heat_before: f64, water_before: f64) -> Seared {
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
