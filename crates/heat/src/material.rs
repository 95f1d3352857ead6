//! What a food conducts and stores: Choi and Okos's equations, with ice, tabulated over enthalpy.

use serde::{Deserialize, Serialize};

/// Mass fractions of a food. They must add up to one.
///
/// ```
/// use hold_steady_heat::Composition;
/// let lean_beef = Composition { water: 0.72, protein: 0.21, fat: 0.06, ash: 0.01, ..Composition::default() };
/// // Between 1.31e-7 m²/s at 5 °C and 1.49e-7 at 60 °C: the figure cooks' guides use is 1.4e-7.
/// assert!((lean_beef.diffusivity(5.0) - 1.31e-7).abs() < 0.01e-7);
/// assert!((lean_beef.diffusivity(60.0) - 1.49e-7).abs() < 0.01e-7);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Composition {
    /// Water, all of it, frozen or not.
    pub water: f64,
    /// Protein.
    pub protein: f64,
    /// Fat.
    pub fat: f64,
    /// Digestible carbohydrate.
    #[serde(default)]
    pub carbohydrate: f64,
    /// Dietary fibre.
    #[serde(default)]
    pub fibre: f64,
    /// Ash.
    pub ash: f64,
}

/// Why a composition cannot be used.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum CompositionError {
    /// A fraction is negative, above one, or not a number.
    #[error("{part} is {value}; a mass fraction is from 0 to 1")]
    Fraction {
        /// Which part.
        part: &'static str,
        /// Its value.
        value: f64,
    },
    /// The fractions do not add up.
    #[error("the fractions add up to {0:.3}; they must come to 1 within 0.02")]
    Sum(f64),
}

/// Latent heat of fusion of water, J/kg (ASHRAE Handbook—Refrigeration, from memory).
const LATENT_HEAT: f64 = 333.6e3;

/// Water bound so tightly to protein that it does not freeze, kg per kg of protein (same source).
const BOUND_WATER: f64 = 0.4;

impl Composition {
    /// Checks the fractions.
    ///
    /// # Errors
    /// When one is outside 0 to 1 or they do not add up to one within 0.02: tables of measured
    /// compositions close to about a hundredth.
    ///
    /// ```
    /// use hold_steady_heat::Composition;
    /// let water = Composition { water: 1.0, ..Composition::default() };
    /// assert!(water.check().is_ok());
    /// assert!(Composition { water: 0.5, ..water }.check().is_err());
    /// ```
    pub fn check(&self) -> Result<(), CompositionError> {
        for (part, value) in [
            ("water", self.water),
            ("protein", self.protein),
            ("fat", self.fat),
            ("carbohydrate", self.carbohydrate),
            ("fibre", self.fibre),
            ("ash", self.ash),
        ] {
            if !(0.0..=1.0).contains(&value) {
                return Err(CompositionError::Fraction { part, value });
            }
        }
        let sum = self.sum();
        if (sum - 1.0).abs() > 0.02 { Err(CompositionError::Sum(sum)) } else { Ok(()) }
    }

    fn sum(&self) -> f64 {
        self.water + self.protein + self.fat + self.carbohydrate + self.fibre + self.ash
    }

    /// Mass fraction of ice at `t` °C, for an initial freezing point `t_freeze`:
    /// `(x_w − 0.4 x_protein)(1 − T_f/T)` below it, nothing above.
    ///
    /// ```
    /// use hold_steady_heat::Composition;
    /// let lean = Composition { water: 0.74, protein: 0.22, fat: 0.03, ash: 0.01, ..Composition::default() };
    /// assert_eq!(lean.ice(4.0, -1.0), 0.0);
    /// assert!((lean.ice(-18.0, -1.0) - (0.74 - 0.4 * 0.22) * (1.0 - 1.0 / 18.0)).abs() < 1e-12);
    /// ```
    #[must_use]
    pub fn ice(&self, t: f64, t_freeze: f64) -> f64 {
        if t >= t_freeze { 0.0 } else { self.freezable() * (1.0 - t_freeze / t) }
    }

    fn freezable(&self) -> f64 {
        (self.water - BOUND_WATER * self.protein).max(0.0)
    }

    /// Density (kg/m³), conductivity (W/mK, parallel model) and sensible specific heat (J/kgK) at
    /// `t` °C with `ice` of the water frozen.
    ///
    /// `1/ρ = Σ x_i/ρ_i`, `k = Σ k_i φ_i` over volume fractions, `c = Σ x_i c_i`. Valid −40 to
    /// 150 °C. The parallel model is an upper bound of the conductivity; the perpendicular one gives
    /// about 0.86 of it for meat.
    ///
    /// Source: Choi and Okos (1986) as printed in the ASHRAE Handbook—Refrigeration, "Thermal
    /// Properties of Foods", written down from memory. The handbook prints 4128.9 for liquid water's
    /// specific heat where the original has 4176.2; the handbook's figure is used.
    ///
    /// ```
    /// use hold_steady_heat::Composition;
    /// let beef = Composition { water: 0.72, protein: 0.21, fat: 0.06, carbohydrate: 0.0, fibre: 0.0, ash: 0.01 };
    /// let (density, conductivity, capacity) = beef.bulk(20.0, 0.0);
    /// assert!((1040.0..1090.0).contains(&density) && (0.4..0.55).contains(&conductivity));
    /// assert!((3300.0..3700.0).contains(&capacity), "{capacity}");
    /// ```
    #[must_use]
    pub fn bulk(&self, t: f64, ice: f64) -> (f64, f64, f64) {
        let t2 = t * t;
        let water_c = if t >= 0.0 {
            4128.9 - 9.0864e-2 * t + 5.4731e-3 * t2
        } else {
            4128.9 - 5.3062 * t + 0.99516 * t2
        };
        let parts = [
            (
                self.protein,
                1329.9 - 0.5184 * t,
                0.17881 + 1.1958e-3 * t - 2.7178e-6 * t2,
                2008.2 + 1.2089 * t - 1.3129e-3 * t2,
            ),
            (
                self.fat,
                925.59 - 0.41757 * t,
                0.18071 - 2.7604e-4 * t - 1.7749e-7 * t2,
                1984.2 + 1.4733 * t - 4.8008e-3 * t2,
            ),
            (
                self.carbohydrate,
                1599.1 - 0.31046 * t,
                0.20141 + 1.3874e-3 * t - 4.3312e-6 * t2,
                1548.8 + 1.9625 * t - 5.9399e-3 * t2,
            ),
            (
                self.fibre,
                1311.5 - 0.36589 * t,
                0.18331 + 1.2497e-3 * t - 3.1683e-6 * t2,
                1845.9 + 1.8306 * t - 4.6509e-3 * t2,
            ),
            (
                self.ash,
                2423.8 - 0.28063 * t,
                0.32962 + 1.4011e-3 * t - 2.9069e-6 * t2,
                1092.6 + 1.8896 * t - 3.6817e-3 * t2,
            ),
            (
                (self.water - ice).max(0.0),
                997.18 + 3.1439e-3 * t - 3.7574e-3 * t2,
                0.57109 + 1.7625e-3 * t - 6.7036e-6 * t2,
                water_c,
            ),
            (ice, 916.89 - 0.13071 * t, 2.2196 - 6.2489e-3 * t + 1.0154e-4 * t2, 2062.3 + 6.0769 * t),
        ];
        let sum: f64 = parts.iter().map(|p| p.0).sum();
        let volume: f64 = parts.iter().map(|p| p.0 / p.1).sum();
        let k = parts.iter().map(|p| p.2 * p.0 / p.1).sum::<f64>() / volume;
        let c = parts.iter().map(|p| p.3 * p.0).sum::<f64>() / sum;
        (sum / volume, k, c)
    }

    /// Thermal diffusivity `k/(ρ c)` of the thawed food at `t` °C, m²/s.
    ///
    /// Source: Choi and Okos (1986), as `heat::material` says, from memory of it.
    ///
    /// ```
    /// use hold_steady_heat::Composition;
    /// let beef = Composition { water: 0.72, protein: 0.21, fat: 0.06, carbohydrate: 0.0, fibre: 0.0, ash: 0.01 };
    /// assert!((beef.diffusivity(5.0) - 1.31e-7).abs() < 0.01e-7);
    /// assert!((beef.diffusivity(60.0) - 1.49e-7).abs() < 0.01e-7);
    /// ```
    #[must_use]
    pub fn diffusivity(&self, t: f64) -> f64 {
        let (rho, k, c) = self.bulk(t, 0.0);
        k / (rho * c)
    }

    /// Volumetric heat capacity `dH/dT` at `t` °C, J/m³K, latent heat of the freezing water and of the
    /// melting fat included.
    fn heat_capacity(&self, t: f64, t_freeze: f64, structure: &Structure) -> f64 {
        let (rho, _, c) = self.bulk(t, self.ice(t, t_freeze));
        let c = c + structure.melting_j_per_kgk(self.fat, t);
        let latent = if t < t_freeze {
            // −dx_ice/dT: the ice that melts per kelvin.
            -LATENT_HEAT * self.freezable() * t_freeze / (t * t)
        } else {
            0.0
        };
        rho * (c + latent)
    }
}

/// How a food is built where its composition alone does not say it: layers, fat that melts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Structure {
    /// Conductivity over that of the parallel mixing rule.
    pub conductivity_factor: f64,
    /// Heat that melts its fat, J for a kilogram of the fat.
    pub melting_j_per_kg: f64,
    /// From where it melts, °C,
    pub melts_from_c: f64,
    /// and until where.
    pub melts_until_c: f64,
}

/// Side by side, nothing melting: the mixing rules as they stand.
impl Default for Structure {
    fn default() -> Self {
        Self { conductivity_factor: 1.0, melting_j_per_kg: 0.0, melts_from_c: 0.0, melts_until_c: 1.0 }
    }
}

impl Structure {
    /// What the melting of a share of fat adds to the specific heat at `t` °C, J/kgK: spread evenly over its
    /// range.
    fn melting_j_per_kgk(&self, fat: f64, t: f64) -> f64 {
        let (low, high) = (self.melts_from_c, self.melts_until_c);
        if (low..high).contains(&t) { fat * self.melting_j_per_kg / (high - low) } else { 0.0 }
    }
}

/// The state of a cell as the solver needs it, at one enthalpy.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct State {
    /// Temperature, °C.
    pub t: f64,
    /// `dT/dH`, K m³/J.
    pub dt: f64,
    /// Conductivity, W/mK.
    pub k: f64,
    /// `dk/dH`.
    pub dk: f64,
}

/// One straight piece of the tabulated material.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Piece {
    t: f64,
    dt: f64,
    k: f64,
    dk: f64,
}

/// Pieces of equal width in enthalpy, from `h0` up.
#[derive(Debug, Clone, PartialEq)]
struct Zone {
    h0: f64,
    width: f64,
    per_width: f64,
    pieces: Vec<Piece>,
}

/// A food's thermal behaviour: temperature and conductivity as functions of volumetric enthalpy,
/// tabulated once so that a time step costs no polynomial.
///
/// Enthalpy is zero at the initial freezing point (thawed side), or at 0 °C for constant
/// properties. Tables reach from −60 to 160 °C and run on straight beyond.
#[derive(Debug, Clone, PartialEq)]
pub struct Material {
    frozen: Zone,
    thawed: Zone,
    reference_capacity: f64,
}

/// Coldest tabulated temperature, °C.
const COLDEST: f64 = -60.0;
/// Hottest tabulated temperature, °C.
const HOTTEST: f64 = 160.0;

impl Material {
    /// Tabulates a composition with its initial freezing point (°C, below zero).
    ///
    /// Source: Choi and Okos (1986), as `heat::material` says, from memory of it.
    ///
    /// ```
    /// use hold_steady_heat::Composition;
    /// let beef = Composition { water: 0.72, protein: 0.21, fat: 0.06, carbohydrate: 0.0, fibre: 0.0, ash: 0.01 };
    /// # use hold_steady_heat::Material;
    /// let meat = Material::from_composition(&beef, -1.7);
    /// // Thawing takes far more heat than warming.
    /// assert!(meat.enthalpy(0.0) - meat.enthalpy(-20.0) > 3.0 * (meat.enthalpy(20.0) - meat.enthalpy(0.0)));
    /// ```
    #[must_use]
    pub fn from_composition(composition: &Composition, t_freeze: f64) -> Self {
        Self::structured(composition, t_freeze, &Structure::default())
    }

    /// The same for a food that is built in layers or whose fat melts.
    ///
    /// ```
    /// use hold_steady_heat::{Composition, Material, Structure};
    /// let lean = Composition { water: 0.74, protein: 0.22, fat: 0.03, ash: 0.01, ..Composition::default() };
    /// let plain = Material::structured(&lean, -1.0, &Structure::default());
    /// assert_eq!(plain.enthalpy(20.0), Material::from_composition(&lean, -1.0).enthalpy(20.0));
    /// ```
    #[must_use]
    pub fn structured(composition: &Composition, t_freeze: f64, structure: &Structure) -> Self {
        let k = structure.conductivity_factor;
        let t_freeze = t_freeze.min(-0.01);
        // Just above the freezing point the heat capacity jumps a hundredfold, so the frozen side is
        // sampled quadratically closer toward it.
        const SAMPLES: usize = 2000;
        let frozen = Zone::tabulate(
            (0..=SAMPLES)
                .rev()
                .map(|i| t_freeze + (COLDEST - t_freeze) * (i as f64 / SAMPLES as f64).powi(2)),
            t_freeze,
            768,
            |t| composition.heat_capacity(t, t_freeze, structure),
            |t| k * composition.bulk(t, composition.ice(t, t_freeze)).1,
        );
        let thawed = Zone::tabulate(
            (0..=SAMPLES).map(|i| t_freeze + (HOTTEST - t_freeze) * i as f64 / SAMPLES as f64),
            t_freeze,
            512,
            |t| composition.heat_capacity(t.max(t_freeze), t_freeze, structure),
            |t| k * composition.bulk(t, 0.0).1,
        );
        Self {
            frozen,
            thawed,
            reference_capacity: composition.heat_capacity(4.0, t_freeze, &Structure::default()),
        }
    }

    /// Constant properties, for comparison with published figures: diffusivity (m²/s) and
    /// conductivity (W/mK). Nothing freezes.
    ///
    /// ```
    /// use hold_steady_heat::Material;
    /// let meat = Material::constant(1.4e-7, 0.48);
    /// assert!((meat.enthalpy(10.0) - meat.enthalpy(0.0) - 10.0 * 0.48 / 1.4e-7).abs() < 1.0);
    /// ```
    #[must_use]
    pub fn constant(diffusivity: f64, conductivity: f64) -> Self {
        let capacity = conductivity / diffusivity;
        let piece = Piece { t: 0.0, dt: 1.0 / capacity, k: conductivity, dk: 0.0 };
        let zone = Zone { h0: 0.0, width: capacity, per_width: 1.0 / capacity, pieces: vec![piece] };
        Self { frozen: zone.clone(), thawed: zone, reference_capacity: capacity }
    }

    /// A substance that melts at one temperature, over a span of 0.02 K, with constant properties on
    /// each side: what the Stefan problem needs. Capacities in J/m³K, conductivities in W/mK,
    /// latent heat in J/m³.
    ///
    /// ```
    /// use hold_steady_heat::Material;
    /// let ice = Material::melting(0.0, 306e6, (1.9e6, 2.2), (4.2e6, 0.58));
    /// assert!(ice.enthalpy(1.0) - ice.enthalpy(-1.0) > 306e6);
    /// ```
    #[must_use]
    pub fn melting(
        t_melt: f64,
        latent: f64,
        (capacity_solid, k_solid): (f64, f64),
        (capacity_liquid, k_liquid): (f64, f64),
    ) -> Self {
        const SPAN: f64 = 0.02;
        const BELOW: f64 = 100.0;
        // Below: solid pieces as wide as the mushy one, so that the zone stays uniform.
        let solid_pieces = (capacity_solid * BELOW / latent).ceil().max(1.0) as usize;
        let width = latent;
        let mut pieces: Vec<Piece> = (0..solid_pieces)
            .map(|i| {
                let h = -(width * (solid_pieces + 1 - i) as f64) + width;
                Piece { t: t_melt - SPAN + h / capacity_solid, dt: 1.0 / capacity_solid, k: k_solid, dk: 0.0 }
            })
            .collect();
        pieces.push(Piece {
            t: t_melt - SPAN,
            dt: SPAN / latent,
            k: k_solid,
            dk: (k_liquid - k_solid) / latent,
        });
        let frozen = Zone { h0: -(width * (solid_pieces + 1) as f64), width, per_width: 1.0 / width, pieces };
        let thawed = Zone {
            h0: 0.0,
            width: capacity_liquid,
            per_width: 1.0 / capacity_liquid,
            pieces: vec![Piece { t: t_melt, dt: 1.0 / capacity_liquid, k: k_liquid, dk: 0.0 }],
        };
        Self { frozen, thawed, reference_capacity: capacity_liquid }
    }

    /// The same food conducting `factor` times as well: the uncertainty of the mixing rule.
    ///
    /// ```
    /// use hold_steady_heat::*;
    /// let lean = Composition { water: 0.74, protein: 0.22, fat: 0.03, ash: 0.01, ..Composition::default() };
    /// let middle = Material::from_composition(&lean, -1.0);
    /// let slow = middle.with_conductivity_factor(0.95);
    /// let through = |meat: &Material| {
    ///     let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
    ///     let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
    ///     let run = simulate(&Problem::uniform(mesh, meat, Initial::Uniform(5.0), bath), 9000.0, &[])?;
    ///     Ok::<_, HeatError>(run.core.first(0.0, |c| c >= 54.0))
    /// };
    /// assert!(through(&slow)? > through(&middle)?);
    /// # Ok::<(), HeatError>(())
    /// ```
    #[must_use]
    pub fn with_conductivity_factor(&self, factor: f64) -> Self {
        let mut scaled = self.clone();
        for piece in scaled.frozen.pieces.iter_mut().chain(&mut scaled.thawed.pieces) {
            piece.k *= factor;
            piece.dk *= factor;
        }
        scaled
    }

    /// Volumetric enthalpy (J/m³) at `t` °C.
    ///
    /// Source: Choi and Okos (1986), as `heat::material` says, from memory of it.
    ///
    /// ```
    /// let meat = hold_steady_heat::Material::constant(1.4e-7, 0.48);
    /// assert!(meat.enthalpy(60.0) > meat.enthalpy(5.0));
    /// ```
    #[must_use]
    pub fn enthalpy(&self, t: f64) -> f64 {
        let zone = if t < self.thawed.pieces[0].t { &self.frozen } else { &self.thawed };
        let i = zone.pieces.partition_point(|p| p.t <= t).saturating_sub(1);
        let piece = zone.pieces[i];
        zone.h0 + zone.width * i as f64 + (t - piece.t) / piece.dt
    }

    /// A heat capacity of the thawed food, J/m³K, to weigh errors of enthalpy with.
    pub(super) const fn reference_capacity(&self) -> f64 {
        self.reference_capacity
    }

    #[inline]
    pub(super) fn state(&self, h: f64) -> State {
        let zone = if h < 0.0 { &self.frozen } else { &self.thawed };
        let i = (((h - zone.h0) * zone.per_width) as usize).min(zone.pieces.len() - 1);
        let piece = zone.pieces[i];
        let over = h - (zone.h0 + zone.width * i as f64);
        State { t: piece.t + piece.dt * over, dt: piece.dt, k: piece.k + piece.dk * over, dk: piece.dk }
    }
}

impl Zone {
    /// Integrates the heat capacity over rising temperatures and lays the result on `count` equal
    /// steps of enthalpy, which is zero at `t_zero` (the first or the last of the temperatures).
    fn tabulate(
        temperatures: impl Iterator<Item = f64>,
        t_zero: f64,
        count: usize,
        capacity: impl Fn(f64) -> f64,
        conductivity: impl Fn(f64) -> f64,
    ) -> Self {
        let t: Vec<f64> = temperatures.collect();
        let mut h = Vec::with_capacity(t.len());
        h.push(0.0);
        for pair in t.windows(2) {
            let (a, b) = (pair[0], pair[1]);
            // Two-point Gauss: never evaluates the capacity at the jump itself.
            let (middle, half) = (0.5 * (a + b), 0.5 * (b - a));
            let x = half / 3.0_f64.sqrt();
            let last = h[h.len() - 1];
            h.push(last + half * (capacity(middle - x) + capacity(middle + x)));
        }
        let total = h[h.len() - 1];
        let h0 = if t_zero == t[0] { 0.0 } else { -total };
        let width = total / count as f64;
        let at = |h_wanted: f64| {
            let i = h.partition_point(|x| *x < h_wanted).clamp(1, h.len() - 1);
            t[i - 1] + (t[i] - t[i - 1]) * (h_wanted - h[i - 1]) / (h[i] - h[i - 1])
        };
        let nodes: Vec<(f64, f64)> = (0..=count)
            .map(|i| {
                let node = if i == 0 {
                    t[0]
                } else if i == count {
                    t[t.len() - 1]
                } else {
                    at(width * i as f64)
                };
                (node, conductivity(node))
            })
            .collect();
        let pieces = nodes
            .windows(2)
            .map(|w| Piece {
                t: w[0].0,
                dt: (w[1].0 - w[0].0) / width,
                k: w[0].1,
                dk: (w[1].1 - w[0].1) / width,
            })
            .collect();
        Self { h0, width, per_width: 1.0 / width, pieces }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use approx::assert_relative_eq;

    const BEEF: Composition =
        Composition { water: 0.72, protein: 0.21, fat: 0.06, carbohydrate: 0.0, fibre: 0.0, ash: 0.01 };

    #[test]
    fn table_and_equations_agree_above_and_below_freezing() {
        let m = Material::from_composition(&BEEF, -1.7);
        for t in [-35.0, -18.0, -5.0, -2.0, -1.71, -1.69, 0.0, 5.0, 40.0, 60.0, 95.0] {
            assert_relative_eq!(m.state(m.enthalpy(t)).t, t, epsilon = 1e-9);
            let ice = BEEF.ice(t, -1.7);
            assert_relative_eq!(m.state(m.enthalpy(t)).k, BEEF.bulk(t, ice).1, max_relative = 2e-3);
        }
        // The enthalpy between two temperatures, integrated here in another way (midpoint rule).
        let n = 200_000;
        let direct: f64 = (0..n)
            .map(|i| -18.0 + 78.0 * (i as f64 + 0.5) / n as f64)
            .map(|t| BEEF.heat_capacity(t, -1.7, &Structure::default()) * 78.0 / n as f64)
            .sum();
        assert_relative_eq!(m.enthalpy(60.0) - m.enthalpy(-18.0), direct, max_relative = 1e-4);
    }

    #[test]
    fn melting_substance_holds_its_latent_heat_at_one_temperature() {
        let m = Material::melting(0.0, 306e6, (1.9e6, 2.2), (4.2e6, 0.58));
        assert_relative_eq!(m.enthalpy(-10.0), -306e6 - 9.98 * 1.9e6, max_relative = 1e-9);
        assert_relative_eq!(m.state(-153e6).t, -0.01, epsilon = 1e-9);
        assert_relative_eq!(m.state(4.2e7).t, 10.0, epsilon = 1e-9);
        assert_relative_eq!(m.state(m.enthalpy(-150.0)).t, -150.0, epsilon = 1e-6);
    }

    #[test]
    fn compositions_that_do_not_add_up_are_refused() {
        assert_eq!(BEEF.check(), Ok(()));
        let short = Composition { water: 0.5, ..BEEF };
        assert!(matches!(short.check(), Err(CompositionError::Sum(_))));
        let odd = Composition { fat: f64::NAN, ..BEEF };
        assert!(matches!(odd.check(), Err(CompositionError::Fraction { part: "fat", .. })));
    }
}
