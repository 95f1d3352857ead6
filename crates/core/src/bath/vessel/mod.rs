//! Vessels: the kitchen's own list, and common shapes to copy.

use std::collections::BTreeMap;
use std::f64::consts::FRAC_PI_4;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use super::{Air, Cover, Learned, Pool, Water, boiling_c};
use crate::Unfit;
use crate::figures::{Basis, bench};
use crate::heat::bisect_within;
use crate::units::{Celsius, Kelvin, Length, LengthUnit, Units, capitalised};

mod form;

pub use form::VesselForm;

/// What warms a vessel.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Heat {
    /// A heater that holds a setting by itself.
    Heater,
    /// A burner under it, moved by hand.
    Burner,
    /// Nothing: hot water is filled in.
    None,
}

impl Heat {
    /// All of them, as they are chosen.
    pub const ALL: [Self; 3] = [Self::Heater, Self::Burner, Self::None];

    /// The word in forms and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::bath::Heat::Burner.id(), "burner");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Heater => "heater",
            Self::Burner => "burner",
            Self::None => "none",
        }
    }
}

/// A vessel of a kitchen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Vessel {
    /// What the kitchen calls it.
    pub name: String,
    /// Round, or else with four sides.
    pub round: bool,
    /// Across the top: diameter, or the long side, mm.
    pub across_mm: Length,
    /// The short side at the top, mm; of a round one its diameter.
    pub width_mm: Length,
    /// How much narrower it is at the bottom, as a share.
    pub narrower: f64,
    /// From the bottom to the brim, mm.
    pub depth_mm: Length,
    /// Lowest water line, mm.
    pub min_mm: Length,
    /// Highest water line, mm.
    pub max_mm: Length,
    /// Identifier of its wall.
    pub wall: Wall,
    /// What lies over it, usually.
    pub cover: Cover,
    /// What warms it.
    pub heat: Heat,
    /// Its heater, W.
    pub heater_w: f64,
    /// Whether the water is moved.
    pub water: Water,
    /// The hottest it may be filled, °C.
    pub highest_c: Celsius,
    /// What its own records say of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub learned: Option<Learned>,
}

/// What a vessel is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Wall {
    /// Bare metal.
    Pot,
    /// Clear plastic.
    Polycarbonate,
    /// Foam between two shells.
    Cooler,
    /// A machine with a tank of its own.
    BuiltIn,
}

/// What a wall lets through.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct WallData {
    /// In words.
    pub name: String,
    /// Heat through it, W/m²K.
    pub u_w_m2k: f64,
    /// Heat it takes itself, kJ/m²K.
    pub kj_m2k: f64,
    /// Where that comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl Wall {
    /// All of them, as they are chosen.
    pub const ALL: [Self; 4] = [Self::Pot, Self::Polycarbonate, Self::Cooler, Self::BuiltIn];

    /// The word in forms and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::bath::Wall::BuiltIn.id(), "built-in");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Pot => "pot",
            Self::Polycarbonate => "polycarbonate",
            Self::Cooler => "cooler",
            Self::BuiltIn => "built-in",
        }
    }

    /// What it lets through.
    ///
    /// ```
    /// use hold_steady_core::bath::Wall;
    /// assert!(Wall::Cooler.data().u_w_m2k < Wall::Pot.data().u_w_m2k / 4.0);
    /// ```
    #[must_use]
    pub fn data(self) -> &'static WallData {
        &SHIPPED.walls[&self]
    }
}

/// A common shape to copy.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
struct ShapeData {
    id: String,
    name: String,
    round: bool,
    across_mm: Length,
    width_mm: Length,
    narrower: f64,
    depth_mm: Length,
    min_mm: Length,
    max_mm: Length,
    wall: Wall,
    cover: Cover,
    heat: Heat,
    heater_w: f64,
    circulated: bool,
    highest_c: Celsius,
    #[allow(dead_code)]
    source: String,
    #[allow(dead_code)]
    basis: Basis,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Shipped {
    walls: BTreeMap<Wall, WallData>,
    shapes: Vec<ShapeData>,
}

static SHIPPED: LazyLock<Shipped> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../../data/vessels.json")).expect("shipped and tested")
});

static SHAPES: LazyLock<Vec<(String, Vessel)>> = LazyLock::new(|| {
    let vessel = |s: &ShapeData| Vessel {
        name: s.name.clone(),
        round: s.round,
        across_mm: s.across_mm,
        width_mm: s.width_mm,
        narrower: s.narrower,
        depth_mm: s.depth_mm,
        min_mm: s.min_mm,
        max_mm: s.max_mm,
        wall: s.wall,
        cover: s.cover,
        heat: s.heat,
        heater_w: s.heater_w,
        water: if s.circulated { Water::Circulated } else { Water::Still },
        highest_c: s.highest_c,
        learned: None,
    };
    SHIPPED.shapes.iter().map(|s| (s.id.clone(), vessel(s))).collect()
});

/// Common shapes to copy, with their identifiers.
///
/// ```
/// let shapes = hold_steady_core::bath::shapes();
/// assert!(shapes.iter().any(|(id, v)| id == "cooler-20" && v.heater_w == 0.0));
/// ```
#[must_use]
pub fn shapes() -> &'static [(String, Vessel)] {
    &SHAPES
}

impl Vessel {
    /// What a shipped shape is called, its litres in the reader's units.
    ///
    /// ```
    /// use hold_steady_core::{bath::shapes, units::Units};
    /// let (_, pot) = shapes().iter().find(|(id, _)| id == "pot-8").expect("shipped");
    /// let inches = Units::from_code("f-in").expect("a code");
    /// assert_eq!((pot.called(Units::default()), pot.called(inches)), (pot.name.clone(), "8 qt pot on the stove".into()));
    /// ```
    #[must_use]
    pub fn called(&self, units: Units) -> String {
        const METRIC: &str = " l ";
        let litres = self.name.split_once(METRIC).and_then(|(n, rest)| Some((n.parse().ok()?, rest)));
        match litres {
            Some((litres, rest)) if units.length != LengthUnit::Mm => {
                format!("{} {rest}", units.litres_to(litres, 0))
            }
            _ => self.name.clone(),
        }
    }

    /// How wide it is at a height, as a share of its top.
    fn share(&self, height: Length) -> f64 {
        1.0 - self.narrower * (1.0 - height / self.depth_mm)
    }

    /// Its cross-section at the top, m².
    fn top_m2(&self) -> f64 {
        let round = if self.round { FRAC_PI_4 } else { 1.0 };
        round * self.across_mm.mm() * self.width_mm.mm() / 1e6
    }

    /// Open surface of water that stands this high, m².
    pub(crate) fn surface_m2(&self, height: Length) -> f64 {
        self.top_m2() * self.share(height).powi(2)
    }

    /// Water that stands this high, l.
    ///
    /// Source: geometry.
    ///
    /// ```
    /// use hold_steady_core::{bath::shapes, units::Length};
    /// let (_, pot) = shapes().iter().find(|(id, _)| id == "pot-8").expect("shipped");
    /// // A cylinder 240 mm across: 45.2 cm² of litres for each 100 mm.
    /// assert!((pot.litres(Length::from_mm(100.0)) - 4.524).abs() < 0.001);
    /// ```
    #[must_use]
    pub fn litres(&self, height: Length) -> f64 {
        // The integral of the square of a share that rises evenly.
        let (low, high) = (self.share(Length::ZERO), self.share(height));
        self.top_m2() * height.mm() * (low * low + low * high + high * high) / 3.0
    }

    /// How high so much stands, mm; no more than the brim.
    ///
    /// Source: geometry.
    ///
    /// ```
    /// use hold_steady_core::{bath::shapes, units::Length};
    /// for (_, vessel) in shapes() {
    ///     let half = vessel.depth_mm / 2.0;
    ///     assert!((vessel.height(vessel.litres(half)) - half).abs() < Length::from_mm(0.01));
    /// }
    /// ```
    #[must_use]
    pub fn height(&self, litres: f64) -> Length {
        const WITHIN_MM: f64 = 1e-6;
        let full = |mm: f64| self.litres(Length::from_mm(mm)) >= litres;
        let (_, high) = bisect_within(WITHIN_MM, 0.0, self.depth_mm.mm(), full);
        Length::from_mm(high)
    }

    /// Wall and bottom wetted up to a height, m².
    fn wetted_m2(&self, height: Length) -> f64 {
        let middle = self.share(height / 2.0);
        let round_mm = if self.round {
            std::f64::consts::PI * self.across_mm.mm()
        } else {
            2.0 * (self.across_mm.mm() + self.width_mm.mm())
        };
        round_mm * middle * height.mm() / 1e6 + self.surface_m2(Length::ZERO)
    }

    /// What its shape and wall make it lose besides evaporation, W/K.
    fn shape_loss_w_k(&self, height: Length, cover: Cover) -> f64 {
        self.wall.data().u_w_m2k * self.wetted_m2(height) + cover.surface_w_m2k() * self.surface_m2(height)
    }

    /// It as a pool, filled with so much and covered so: as its records say, where they do, else as its shape does.
    ///
    /// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
    ///
    /// ```
    /// use hold_steady_core::bath::{Air, Cover, shapes};
    /// let air = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
    /// let (_, cooler) = shapes().iter().find(|(id, _)| id == "cooler-20").expect("shipped");
    /// let pool = cooler.pool(15.0, Cover::Lid, air);
    /// assert!(pool.loss_w_k < 2.0 && pool.heater_w == 0.0);
    /// ```
    #[must_use]
    pub fn pool(&self, litres: f64, cover: Cover, air: Air) -> Pool {
        let height = self.height(litres);
        let learned = self.learned.as_ref();
        let heater_w = learned.and_then(|l| l.heater_w).filter(|_| self.heat == Heat::Heater);
        Pool {
            litres,
            vessel_kj_k: self.wall.data().kj_m2k * self.wetted_m2(height),
            surface_m2: self.surface_m2(height),
            cover,
            loss_w_k: learned.and_then(|l| l.loss_w_k).unwrap_or_else(|| self.shape_loss_w_k(height, cover)),
            heater_w: heater_w.unwrap_or(if self.heat == Heat::Heater { self.heater_w } else { 0.0 }),
            vapour: learned.and_then(|l| l.vapour).unwrap_or(1.0),
            air,
        }
    }

    /// The same, for water at `c`: what was learned is used no further than ten degrees beyond where it was.
    pub(crate) fn at(&self, c: Celsius) -> Self {
        let learned = self.learned.filter(|l| l.reaches(c.value()));
        Self { learned, ..self.clone() }
    }

    /// The same, taken to lose more than it is likely to: for what must be proved.
    pub(crate) fn losing_pool(&self, litres: f64, cover: Cover, air: Air) -> Pool {
        let b = bench();
        let learned = self.learned.is_some_and(|l| l.loss_w_k.is_some());
        let factor = if learned { b.loss_learned_unsure.value } else { b.loss_unsure.value };
        let pool = self.pool(litres, cover, air);
        let vapour = pool.in_a_draught().vapour.max(pool.vapour * factor);
        Pool { loss_w_k: pool.loss_w_k * factor, vapour, heater_w: 0.0, ..pool }
    }

    /// Whether there can be such a vessel: one that comes from outside may say anything.
    ///
    /// # Errors
    /// What cannot be.
    ///
    /// ```
    /// use hold_steady_core::{bath::shapes, units::Length};
    /// let mut vessel = shapes()[0].1.clone();
    /// assert!(vessel.check().is_ok());
    /// vessel.depth_mm = Length::from_mm(-1.0);
    /// assert!(vessel.check().is_err());
    /// ```
    pub fn check(&self) -> Result<(), Unfit> {
        let read = VesselForm::of(self, Units::default()).read(Units::default());
        read.map(|_| ()).map_err(|errors| {
            errors.into_iter().map(|(f, e)| format!("{f}: {e}")).collect::<Vec<_>>().join(" ")
        })?;
        let learned = self.learned.as_ref().is_none_or(|l| {
            l.loss_w_k.is_none_or(|x| (0.05..=100.0).contains(&x))
                && l.heater_w.is_none_or(|x| (1.0..=20_000.0).contains(&x))
                && l.whole_w.is_none_or(|x| (0.0..=20_000.0).contains(&x))
                && l.vapour.is_none_or(|x| (0.1..=5.0).contains(&x))
                && [l.loss_spread, l.heater_spread, l.whole_spread]
                    .into_iter()
                    .flatten()
                    .all(|x| (0.0..=1.0).contains(&x))
                && [l.residual_k, l.from_c, l.to_c].into_iter().all(|x| (0.0..=100.0).contains(&x))
        });
        if learned { Ok(()) } else { Err("what it was learned to lose or to heat cannot be".into()) }
    }

    /// The hottest it may be in a kitchen at this altitude, °C: by what it is made of, and no hotter than water boils.
    ///
    /// ```
    /// use hold_steady_core::{bath::shapes, units::Celsius};
    /// let pot = &shapes().iter().find(|(_, v)| v.highest_c == Celsius::new(100.0)).expect("one may boil").1;
    /// assert!(pot.highest_here(3000.0) < Celsius::new(91.0)); // water boils there
    /// ```
    #[must_use]
    pub fn highest_here(&self, altitude_m: f64) -> Celsius {
        self.highest_c.min(Celsius::new(boiling_c(altitude_m)))
    }

    /// The hottest it may be, where `c` is hotter than that.
    ///
    /// ```
    /// use hold_steady_core::{bath::shapes, units::Celsius};
    /// let (_, vessel) = &shapes()[0];
    /// assert_eq!(vessel.too_hot(vessel.highest_c, 0.0), None);
    /// assert_eq!(vessel.too_hot(Celsius::new(101.0), 0.0), Some(vessel.highest_here(0.0)));
    /// ```
    #[must_use]
    pub fn too_hot(&self, c: Celsius, altitude_m: f64) -> Option<Celsius> {
        const ROUNDING: Kelvin = Kelvin::new(0.05);
        Some(self.highest_here(altitude_m)).filter(|most| c > *most + ROUNDING)
    }
}

/// Why a vessel may not be that hot, and what to do.
///
/// ```
/// use hold_steady_core::{bath::{self, shapes}, units::{Celsius, Units}};
/// let (_, vessel) = &shapes()[0];
/// let most = vessel.too_hot(Celsius::new(101.0), 2000.0).expect("hotter than water gets");
/// assert!(bath::too_hot(vessel, most, Units::default()).contains("93 °C"));
/// ```
#[must_use]
pub fn too_hot(vessel: &Vessel, most: Celsius, units: Units) -> String {
    let shown = units.temperature(most.floor(Kelvin::new(1.0)));
    if most < vessel.highest_c {
        return format!("Water boils at about {shown} here: no bath gets hotter. Choose a colder one.");
    }
    format!(
        "{} is used up to {shown} only: take another vessel, or a colder bath.",
        capitalised(&vessel.name)
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    fn shape(id: &str) -> Vessel {
        shapes().iter().find(|s| s.0 == id).expect("shipped").1.clone()
    }

    /// By hand: a box 325 × 265 mm that is 6 % narrower at the bottom, 200 mm deep, is a frustum:
    /// h/3 (A + a + √(Aa)) with A = 861.25 cm², a = 0.8836 A: 16.21 l.
    #[test]
    fn a_tapered_box_holds_a_frustum() {
        let v = shape("box-12");
        assert!((v.litres(v.depth_mm) - 16.21).abs() < 0.01, "{}", v.litres(v.depth_mm));
        assert!((v.surface_m2(v.depth_mm) - 0.086_125).abs() < 1e-9);
        assert_eq!(v.height(1e9), v.depth_mm);
    }

    #[test]
    fn shipped_shapes_hold_what_their_names_say_and_read_back() {
        for (id, v) in shapes() {
            let litres: f64 = id.rsplit('-').next().and_then(|n| n.parse().ok()).expect("litres in the name");
            let full = v.litres(v.depth_mm);
            assert!(full > litres * 0.95 && full < litres * 1.4, "{id}: {full}");
            assert!(v.min_mm < v.max_mm && v.max_mm < v.depth_mm, "{id}");
            assert_eq!(v.heat == Heat::Heater, v.heater_w > 0.0, "{id}");
            let inches = Units::from_code("f-in").expect("a code");
            assert!(VesselForm::of(v, inches).read(inches).is_ok(), "{id}");
        }
    }

    #[test]
    fn what_was_learned_replaces_what_the_shape_says_and_proof_takes_more() {
        let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
        let mut v = shape("cooler-20");
        let by_shape = v.pool(18.0, Cover::Lid, air);
        assert!((v.losing_pool(18.0, Cover::Lid, air).loss_w_k / by_shape.loss_w_k - 1.5).abs() < 1e-9);
        v.learned = Some(Learned {
            loss_w_k: Some(0.7),
            residual_k: 0.05,
            from_c: 52.0,
            to_c: 60.0,
            ..Learned::default()
        });
        assert_eq!(v.pool(18.0, Cover::Lid, air).loss_w_k, 0.7);
        assert!((v.losing_pool(18.0, Cover::Lid, air).loss_w_k - 0.84).abs() < 1e-9);
    }

    #[test]
    fn faults_are_named_with_what_is_allowed() {
        let typed = VesselForm {
            min: "300 mm".into(),
            heater: "lots".into(),
            narrower: "90 %".into(),
            ..VesselForm::of(&shape("box-12"), Units::default())
        };
        let errors = typed.read(Units::default()).expect_err("wrong");
        assert!(
            errors["min"].contains("170 mm")
                && errors["heater"].contains("15000 W")
                && errors["narrower"].contains("60 %"),
            "{errors:?}"
        );
    }
}
