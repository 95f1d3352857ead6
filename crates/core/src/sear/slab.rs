//! The piece itself: layers between two faces, each with its temperature and its water, and one step of time.

use super::flesh::{Fixed, Flesh, WATER_J_KGK};
use crate::bath::{latent_j_kg, saturation_pa, stefan, vapour_kg_m3};
use crate::figures::searing;

/// Less water than this is none, kg/m².
const NO_WATER: f64 = 1e-9;
const STEFAN_BOLTZMANN: f64 = 5.670e-8;
const KELVIN: f64 = 273.15;

/// What a face meets in a step.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Bound {
    /// By contact or convection, W/m²K, with what at which temperature.
    pub w_m2k: f64,
    pub c: f64,
    /// What it radiates to, °C.
    pub radiates_to_c: Option<f64>,
    /// A flux into it, W/m².
    pub flux_w_m2: f64,
    /// What takes its vapour.
    pub over: Option<AirOver>,
}

/// Air that takes a face's vapour.
#[derive(Debug, Clone, Copy)]
pub(super) struct AirOver {
    /// How fast vapour passes its film, m/s.
    pub transfer_m_s: f64,
    /// Temperature, °C, and pressure of the vapour in it and of all of it, Pa.
    pub c: f64,
    pub vapour_pa: f64,
    pub pressure_pa: f64,
}

impl AirOver {
    /// Vapour that leaves water at `c` °C through a way of so many m/s, kg/m²s.
    fn takes_kg_m2s(&self, transfer_m_s: f64, c: f64) -> f64 {
        let pa = saturation_pa(c);
        let more = vapour_kg_m3(pa, c) - vapour_kg_m3(self.vapour_pa, self.c);
        transfer_m_s * more * stefan(pa, self.vapour_pa, self.pressure_pa)
    }
}

impl Bound {
    /// What a face at `c` meets: W/m²K against it, and W/m² besides.
    fn meets(&self, c: f64) -> (f64, f64) {
        let radiation = self.radiates_to_c.map_or((0.0, 0.0), |to| {
            let (a, t) = (to + KELVIN, c + KELVIN);
            (searing().emissivity.value * STEFAN_BOLTZMANN * (a * a + t * t) * (a + t), to)
        });
        (self.w_m2k + radiation.0, self.w_m2k * self.c + radiation.0 * radiation.1 + self.flux_w_m2)
    }
}

/// What a face went through.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Face {
    /// Browning index, minutes at 160 °C.
    pub browning: f64,
    /// On the heat, seconds.
    pub on_s: f64,
    /// Hottest it was, °C.
    pub peak_c: f64,
    /// Seconds beyond what most of the crust is wanted at.
    pub beyond_s: f64,
    /// Seconds dark or darker.
    pub dark_s: f64,
    /// Seconds charring.
    pub char_s: f64,
    /// Dry crust, mm.
    pub crust_mm: f64,
    /// Water lost on this side, kg/m².
    pub lost_kg_m2: f64,
}

/// A piece in slices. Node 0 and the last are its faces; between them lie the layers.
#[derive(Debug, Clone)]
pub(super) struct Slab {
    boils_c: f64,
    /// Thickness of each layer, m; none of the faces.
    pub m: Vec<f64>,
    /// Depth of each node under the first face, m.
    pub depth_m: Vec<f64>,
    pub c: Vec<f64>,
    pub highest_c: Vec<f64>,
    water: Vec<f64>,
    /// What each had at first; of the faces nothing.
    water_at_first: Vec<f64>,
    /// What of each does not change.
    fixed: Vec<Fixed>,
    pub faces: [Face; 2],
    /// Heat taken up from outside, and carried away by water, J/m².
    pub taken_up: f64,
    pub carried_away: f64,
    scratch: Scratch,
}

#[derive(Debug, Clone, Default)]
struct Scratch {
    g: Vec<f64>,
    next: Vec<f64>,
    upper: Vec<f64>,
    held: Vec<bool>,
    flow: Vec<f64>,
    capacity: Vec<f64>,
}

impl Scratch {
    /// Heat that flows inwards through each boundary between nodes, and through the faces.
    fn flows(&mut self, meets: &[(f64, f64); 2]) {
        let last = self.next.len() - 1;
        self.flow[0] = meets[0].1 - meets[0].0 * self.next[0];
        for ((flow, g), next) in self.flow[1..].iter_mut().zip(&self.g).zip(self.next.windows(2)) {
            *flow = g * (next[0] - next[1]);
        }
        self.flow[last + 1] = meets[1].0 * self.next[last] - meets[1].1;
    }
}

/// The layers of half a piece: thin ones at the face, each thicker than the one before.
pub(super) fn layers_m(half_m: f64, first_m: f64, growth: f64) -> Vec<f64> {
    let (mut all, mut sum, mut next) = (Vec::new(), 0.0, first_m);
    while sum + next < half_m {
        all.push(next);
        sum += next;
        next *= growth;
    }
    // What is left is shared out, so that no layer is much thinner than its neighbour.
    let stretch = if all.is_empty() {
        all.push(half_m);
        1.0
    } else {
        half_m / sum
    };
    all.iter().map(|m| m * stretch).collect()
}

impl Slab {
    /// Of a flesh, with so much of another under its first face.
    pub(super) fn new(
        flesh: Flesh,
        (fat_m, fat): (f64, Flesh),
        half: &[f64],
        (boils_c, at): (f64, impl Fn(f64) -> f64),
    ) -> Self {
        let m: Vec<f64> = [0.0]
            .into_iter()
            .chain(half.iter().copied())
            .chain(half.iter().rev().copied())
            .chain([0.0])
            .collect();
        let mut depth = 0.0;
        let depth_m: Vec<f64> = m
            .iter()
            .map(|m| {
                depth += m;
                depth - 0.5 * m
            })
            .collect();
        let c: Vec<f64> = depth_m.iter().map(|d| at(*d)).collect();
        let flesh: Vec<Flesh> = depth_m.iter().map(|d| if *d < fat_m { fat } else { flesh }).collect();
        let water: Vec<f64> = m.iter().zip(&flesh).map(|(m, flesh)| m * flesh.water_kg_m3).collect();
        let faces =
            [Face { peak_c: c[0], ..Face::default() }, Face { peak_c: c[c.len() - 1], ..Face::default() }];
        let n = m.len();
        let scratch = Scratch {
            g: vec![0.0; n],
            next: vec![0.0; n],
            upper: vec![0.0; n],
            held: vec![false; n],
            flow: vec![0.0; n + 1],
            capacity: vec![0.0; n],
        };
        let (water_at_first, highest_c) = (water.clone(), c.clone());
        let fixed = flesh.iter().zip(&m).zip(&water).map(|((flesh, m), water)| Fixed::of(flesh, *m, *water));
        Self {
            fixed: fixed.collect(),
            boils_c,
            m,
            depth_m,
            c,
            highest_c,
            water,
            water_at_first,
            faces,
            taken_up: 0.0,
            carried_away: 0.0,
            scratch,
        }
    }

    pub(super) fn nodes(&self) -> usize {
        self.m.len()
    }

    /// So much water clings to a face, kg/m².
    pub(super) fn wet(&mut self, kg_m2: f64) {
        let last = self.nodes() - 1;
        for i in [0, last] {
            self.water[i] = kg_m2;
        }
    }

    fn enthalpy(&self, i: usize, water: f64, c: f64) -> f64 {
        self.fixed[i].enthalpy_j_m2(water, c)
    }

    fn at_enthalpy(&self, i: usize, water: f64, j_m2: f64) -> f64 {
        self.fixed[i].at_enthalpy(water, j_m2)
    }

    /// All the heat in it over 0 °C, J/m².
    pub(super) fn heat_j_m2(&self) -> f64 {
        (0..self.nodes()).map(|i| self.enthalpy(i, self.water[i], self.c[i])).sum()
    }

    /// All the water in and on it, kg/m².
    pub(super) fn water_kg_m2(&self) -> f64 {
        self.water.iter().sum()
    }

    /// Share of its water that a layer still has.
    fn share(&self, i: usize) -> f64 {
        self.water[i] * self.fixed[i].per_water
    }

    /// The nodes from a face inwards to the middle.
    fn inwards(&self, face: usize) -> impl Iterator<Item = usize> + use<> {
        let (last, half) = (self.nodes() - 1, self.nodes() / 2);
        (0..half).map(move |k| if face == 0 { k } else { last - k })
    }

    /// Whether a face is dry: no film, and no water to speak of in its outermost layer.
    pub(super) fn is_dry(&self, face: usize) -> bool {
        self.dryness(face) >= 1.0
    }

    /// How dry a face is: none while there is a film on it, all where its outermost layer has no water to speak of.
    pub(super) fn dryness(&self, face: usize) -> f64 {
        let (outer, dry) = (searing().outer_mm.value / 1000.0, searing().dry_share.value);
        let mut nodes = self.inwards(face);
        if nodes.next().is_some_and(|i| self.water[i] > NO_WATER) {
            return 0.0;
        }
        let (mut m, mut had, mut has) = (0.0, 0.0, 0.0);
        for i in nodes {
            let part = ((outer - m) / self.m[i]).clamp(0.0, 1.0);
            had += part * self.water_at_first[i];
            has += part * self.water[i];
            m += self.m[i];
            if m >= outer {
                break;
            }
        }
        ((1.0 - has / had) / (1.0 - dry)).clamp(0.0, 1.0)
    }

    /// Dry crust on a face, mm: layers without water to speak of, and the dry part of the one behind them.
    fn crust_mm(&self, face: usize) -> f64 {
        let dry = searing().dry_share.value;
        let mut crust = 0.0;
        for i in self.inwards(face).skip(1) {
            let share = self.share(i);
            if share < dry {
                crust += self.m[i];
            } else {
                crust += self.m[i] * ((1.0 - share) / (1.0 - dry)).clamp(0.0, 1.0);
                break;
            }
        }
        crust * 1000.0
    }

    /// Where the water nearest to a face is, and how much dry crust lies over it, m.
    fn front(&self, face: usize) -> Option<(usize, f64)> {
        let (mut over, dry) = (0.0, searing().dry_share.value);
        for i in self.inwards(face) {
            if self.m[i] == 0.0 {
                if self.water[i] > NO_WATER {
                    return Some((i, 0.0));
                }
                continue;
            }
            let share = self.share(i);
            if share >= dry {
                return Some((i, over + self.m[i] * ((1.0 - share) / (1.0 - dry)).clamp(0.0, 1.0)));
            }
            over += self.m[i];
        }
        None
    }

    /// What evaporates through a face into the air: node, kg/m²s, and how that rises with the node's temperature.
    fn evaporates(&self, face: usize, bound: &Bound) -> Option<(usize, f64, f64)> {
        const APART_K: f64 = 0.25;
        let air = bound.over?;
        let (i, crust_m) = self.front(face)?;
        let figures = searing();
        // Of a wet face a part is wet. Vapour from under a dry one comes out all over it, and has its own way to go besides.
        let wet = figures.wetness.value;
        let film = air.transfer_m_s * (wet + (1.0 - wet) * self.dryness(face));
        let transfer = 1.0 / (1.0 / film + crust_m / figures.vapour_m2_s.value);
        let c = self.c[i].min(self.boils_c);
        let kg_m2s = air.takes_kg_m2s(transfer, c);
        if kg_m2s <= 0.0 {
            return None;
        }
        let (less, more) = (c - APART_K, c + APART_K);
        let rises = (air.takes_kg_m2s(transfer, more) - air.takes_kg_m2s(transfer, less)) / (more - less);
        Some((i, kg_m2s, rises.max(0.0)))
    }

    /// One step of at most `dt` seconds, implicit; layers that boil are held at the boiling point while they have
    /// water, and it ends where one has none left. Gives how long it was, and the heat that went in by contact at each
    /// face, W/m².
    pub(super) fn step(&mut self, mut dt: f64, bounds: &[Bound; 2]) -> (f64, [f64; 2]) {
        const TRIES: usize = 8;
        const SHORTEST_S: f64 = 1e-4;
        let last = self.nodes() - 1;
        let mut s = std::mem::take(&mut self.scratch);
        self.take_stock(&mut s);
        let latent = searing().latent_j_kg.value;
        let meets = [0, 1].map(|face| bounds[face].meets(self.c[face * last]));
        let evaporates = [0, 1].map(|face| self.evaporates(face, &bounds[face]));
        for _ in 0..TRIES {
            self.solve(dt, &mut s, &meets, &evaporates);
            s.flows(&meets);
            let (mut same, mut dries_s) = (true, dt);
            for (i, water) in self.water.iter().enumerate() {
                if *water <= NO_WATER {
                    continue;
                }
                if s.held[i] {
                    let takes: f64 = evaporates
                        .iter()
                        .flatten()
                        .filter(|e| e.0 == i)
                        .map(|e| e.1 * latent_j_kg(self.boils_c))
                        .sum();
                    let spare = s.capacity[i] * (self.c[i] - self.boils_c);
                    let boils = s.flow[i] - s.flow[i + 1] - takes;
                    if boils + spare / dt < 0.0 {
                        (s.held[i], same) = (false, false);
                    } else {
                        let heat = water * latent - spare;
                        dries_s = dries_s.min(heat / (boils + takes).max(1.0));
                    }
                } else if s.next[i] > self.boils_c {
                    (s.held[i], same) = (true, false);
                }
            }
            for (i, kg_m2s, rises) in evaporates.iter().flatten().filter(|e| !s.held[e.0]) {
                let rate = kg_m2s + rises * (s.next[*i] - self.c[*i]);
                dries_s = dries_s.min(self.water[*i] / rate.max(1e-9));
            }
            if dries_s < 0.95 * dt && dt > SHORTEST_S {
                dt = dries_s.max(SHORTEST_S);
            } else if same {
                break;
            }
        }
        self.settle(dt, &s, &evaporates);
        let by_contact = [0, 1].map(|face| bounds[face].w_m2k * (bounds[face].c - s.next[face * last]));
        self.scratch = s;
        self.note(dt);
        (dt, by_contact)
    }

    /// What conducts and what takes up heat, as it stands at the beginning of a step; what boils is held.
    fn take_stock(&self, s: &mut Scratch) {
        const LEFT: f64 = 0.01;
        let mut before = 0.0;
        let half = self.nodes() / 2;
        for (i, ((fixed, water), c)) in self.fixed.iter().zip(&self.water).zip(&self.c).enumerate() {
            // A layer dries from its outer edge: what is dry lies over the front, the node in what is still wet. So nothing
            // jumps when the front passes from one layer to the next.
            let share = water * fixed.per_water;
            let wet = share * fixed.half_wet;
            let outwards = (1.0 - share) * fixed.dry + wet;
            // Where all of it is dry, down to the middle, something is left between its two innermost nodes.
            let inwards = wet.max(LEFT * fixed.dry);
            let (left, right) = if i < half { (outwards, inwards) } else { (inwards, outwards) };
            if i > 0 {
                s.g[i - 1] = 1.0 / (before + left);
            }
            before = right;
            s.capacity[i] = fixed.capacity_j_m2k(*water, *c);
            s.held[i] = *water > NO_WATER && *c >= self.boils_c - 1e-9;
        }
    }

    /// The temperatures at the end of the step.
    fn solve(
        &self,
        dt: f64,
        s: &mut Scratch,
        meets: &[(f64, f64); 2],
        evaporates: &[Option<(usize, f64, f64)>; 2],
    ) {
        let (last, per_s) = (self.nodes() - 1, 1.0 / dt);
        // Of the node before: what it passes on, and what was found.
        let (mut conducts, mut upper, mut next) = (0.0, 0.0, 0.0);
        for (i, (((c, g), held), capacity)) in
            self.c.iter().zip(&s.g).zip(&s.held).zip(&s.capacity).enumerate()
        {
            let (mut left, mut middle, mut right, mut known);
            if *held {
                (left, middle, right, known) = (0.0, 1.0, 0.0, self.boils_c);
            } else {
                left = conducts;
                right = if i < last { *g } else { 0.0 };
                let stores = capacity * per_s;
                middle = stores + left + right;
                known = stores * c;
                if i == 0 || i == last {
                    let (w_m2k, w_m2) = meets[usize::from(i == last)];
                    middle += w_m2k;
                    known += w_m2;
                }
                for (node, kg_m2s, rises) in evaporates.iter().flatten() {
                    if *node == i {
                        let latent = latent_j_kg(*c);
                        middle += rises * latent;
                        known -= latent * (kg_m2s - rises * c);
                    }
                }
            }
            (left, right) = (-left, -right);
            middle -= left * upper;
            known -= left * next;
            let per_middle = 1.0 / middle;
            (conducts, upper, next) = (*g, right * per_middle, known * per_middle);
            (s.upper[i], s.next[i]) = (upper, next);
        }
        let mut after = s.next[last];
        for (next, upper) in s.next[..last].iter_mut().zip(&s.upper[..last]).rev() {
            after = *next - upper * after;
            *next = after;
        }
    }

    /// Books heat and water: what flowed is kept to the last joule, and what boils is gone.
    fn settle(&mut self, dt: f64, s: &Scratch, evaporates: &[Option<(usize, f64, f64)>; 2]) {
        let (n, half) = (self.nodes(), self.nodes() / 2);
        let latent = searing().latent_j_kg.value;
        for face in [0, 1] {
            // Heat that came while a layer had water and found none left: it goes on to the next.
            let mut onwards = 0.0;
            for k in 0..half {
                let i = if face == 0 { k } else { n - 1 - k };
                let mut heat = self.enthalpy(i, self.water[i], self.c[i]) + onwards;
                heat += dt * (s.flow[i] - s.flow[i + 1]);
                onwards = 0.0;
                let mut water = self.water[i];
                for (node, kg_m2s, rises) in evaporates.iter().flatten() {
                    if *node == i && water > 0.0 {
                        let rate = (kg_m2s + rises * (s.next[i] - self.c[i])).max(0.0);
                        let gone = (rate * dt).min(water);
                        heat -= self.leaves(i, gone, self.c[i], latent_j_kg(self.c[i]));
                        water -= gone;
                    }
                }
                let mut c = self.at_enthalpy(i, water, heat);
                if c > self.boils_c && water > 0.0 {
                    let boiled = (heat - self.enthalpy(i, water, self.boils_c)) / latent;
                    // The last nothing goes with it.
                    let gone = if water - boiled < NO_WATER { water } else { boiled };
                    heat -= self.leaves(i, gone, self.boils_c, latent);
                    water -= gone;
                    if water <= 0.0 {
                        let dry = self.enthalpy(i, 0.0, self.boils_c);
                        (water, onwards, heat) = (0.0, (heat - dry).max(0.0), heat.min(dry));
                    }
                    c = self.at_enthalpy(i, water, heat);
                }
                (self.water[i], self.c[i]) = (water, c);
            }
            let middle = if face == 0 { half - 1 } else { n - half };
            let heat = self.enthalpy(middle, self.water[middle], self.c[middle]) + onwards;
            self.c[middle] = self.at_enthalpy(middle, self.water[middle], heat);
        }
        self.taken_up += dt * (s.flow[0] - s.flow[n]);
    }

    /// Water leaves a node with the heat it holds, J/m².
    fn leaves(&mut self, i: usize, kg_m2: f64, c: f64, latent: f64) -> f64 {
        let heat = kg_m2 * (WATER_J_KGK * c + latent);
        self.carried_away += heat;
        self.faces[usize::from(i >= self.nodes() / 2)].lost_kg_m2 += kg_m2;
        heat
    }

    /// What a step leaves for the record.
    fn note(&mut self, dt: f64) {
        let (figures, last) = (searing(), self.nodes() - 1);
        for (highest, c) in self.highest_c.iter_mut().zip(&self.c) {
            *highest = highest.max(*c);
        }
        for face in [0, 1] {
            let c = self.c[face * last];
            let dry = c > self.boils_c && self.is_dry(face);
            let f = &mut self.faces[face];
            f.peak_c = f.peak_c.max(c);
            if dry {
                let rate = 10.0_f64.powf((c - figures.browning_c.value) / figures.browning_decade_k.value);
                // Beyond this it is charred, and how much longer says nothing.
                f.browning = (f.browning + dt / 60.0 * rate).min(figures.browning_most.value);
            }
            for (seconds, from) in [
                (&mut f.beyond_s, &figures.crust_wanted_c),
                (&mut f.dark_s, &figures.dark_c),
                (&mut f.char_s, &figures.char_c),
            ] {
                if c > from.value {
                    *seconds += dt;
                }
            }
        }
    }

    /// The crust as it is now.
    pub(super) fn faces_now(&self) -> [Face; 2] {
        [0, 1].map(|face| Face { crust_mm: self.crust_mm(face), ..self.faces[face] })
    }

    /// Temperature in the middle, °C.
    pub(super) fn centre_c(&self) -> f64 {
        let half = self.nodes() / 2;
        f64::midpoint(self.c[half - 1], self.c[half])
    }

    /// Mean temperature by heat, °C: of the layers, by thickness.
    pub(super) fn mean_c(&self) -> f64 {
        let sum: f64 = self.c.iter().zip(&self.m).map(|(c, m)| c * m).sum();
        sum / self.m.iter().sum::<f64>()
    }
}
