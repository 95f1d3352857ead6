//! Salting: how much, when, and how deep it will have gone.

use crate::figures::{Figure, preparing};
use crate::units::{Celsius, Grams, Length, Minutes};
use serde::{Deserialize, Serialize};

use super::{Prep, Salted, Salting};
use crate::food::{Food, FoodClass};

/// Gas constant, kJ/mol K.
const GAS: f64 = 8.314_46e-3;

/// Diffusion of salt at `c` °C, m²/s.
///
/// Meaning: Arrhenius from the coefficient of raw meat at 5 °C. Range: 0 to 90 °C. Source: `data/prep.json`,
/// from memory of the sources named there. It is the same along and across the fibres here; the real ratio is
/// near one and a half.
///
/// ```
/// use hold_steady_core::{prep::salt::diffusion_m2_s, units::Celsius};
/// assert!((diffusion_m2_s(Celsius::new(5.0)) - 2.5e-10).abs() < 1e-15);
/// ```
#[must_use]
pub fn diffusion_m2_s(c: Celsius) -> f64 {
    let (d, activation) = (preparing().diffusion_m2_s.value, preparing().diffusion_kj_mol.value);
    d * (activation / GAS
        * (1.0 / (preparing().diffusion_given_c.value + 273.15) - 1.0 / (c.value() + 273.15)))
        .exp()
}

/// Salt at `x_m` under the surface, against what it will be when it is even, for salt put on both faces of a
/// slab of half-thickness `half_m` and none leaving it.
///
/// `spread_m2` is the integral of the diffusion coefficient over the time. Method: images of an instantaneous
/// plane source, `h/√(πτ) Σ exp(−(x − 2kh)²/4τ)` (Crank, *The Mathematics of Diffusion*, 2nd ed., 2.2.4);
/// `tests/salt.rs` checks it against the cosine series.
///
/// ```
/// use hold_steady_core::prep::salt::share;
/// // Long after, it is even.
/// assert!((share(0.0, 0.01, 1e-3) - 1.0).abs() < 1e-9 && (share(0.01, 0.01, 1e-3) - 1.0).abs() < 1e-9);
/// // Soon after, it is at the surface.
/// assert!(share(0.0, 0.01, 1e-6) > 5.0 && share(0.01, 0.01, 1e-6) < 1e-6);
/// ```
#[must_use]
pub fn share(x_m: f64, half_m: f64, spread_m2: f64) -> f64 {
    // Beyond this the images sum to one within rounding.
    const EVEN: f64 = 3.0;
    const IMAGES: i32 = 12;
    if spread_m2 >= EVEN * half_m * half_m {
        return 1.0;
    }
    let sum: f64 = (-IMAGES..=IMAGES)
        .map(|k| (-(x_m - 2.0 * f64::from(k) * half_m).powi(2) / (4.0 * spread_m2)).exp())
        .sum();
    half_m / (std::f64::consts::PI * spread_m2).sqrt() * sum
}

/// How deep salt has gone.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Depth {
    /// Where there is half of what will be there when it is even, mm; the half-thickness when that is
    /// everywhere.
    pub half_mm: Length,
    /// What is at the centre, against what will be there when it is even.
    pub centre: f64,
}

/// How deep salt has gone into a slab of half-thickness `half_m` with the diffusion coefficient integrated to
/// `spread_m2`.
///
/// Source: Crank, The Mathematics of Diffusion (2nd ed. 1975), from memory of it; the coefficient by `data/prep.json`.
///
/// ```
/// use hold_steady_core::{prep::salt::depth, units::Length};
/// // A day at 5 °C: 2.5e-10 m²/s · 86,400 s.
/// let day = depth(0.016, 2.5e-10 * 86_400.0);
/// assert!(day.half_mm > Length::from_mm(3.0) && day.centre < 0.5);
/// ```
#[must_use]
pub fn depth(half_m: f64, spread_m2: f64) -> Depth {
    const HALF: f64 = 0.5;
    if spread_m2 <= 0.0 || half_m <= 0.0 {
        return Depth { half_mm: Length::from_mm(0.0), centre: 0.0 };
    }
    let centre = share(half_m, half_m, spread_m2);
    if centre >= HALF {
        return Depth { half_mm: Length::from_mm(half_m * 1000.0), centre };
    }
    // Falls from the surface inward.
    let (mut low, mut high) = (0.0, half_m);
    while high - low > 1e-6 {
        let middle = 0.5 * (low + high);
        if share(middle, half_m, spread_m2) >= HALF { low = middle } else { high = middle }
    }
    Depth { half_mm: Length::from_mm(low * 1000.0), centre }
}

/// When a piece is salted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// Hours before the bath.
    Ahead,
    /// Just before it.
    Before,
    /// After it.
    After,
    /// It is salted already.
    Done,
    /// Not at all.
    Never,
}

impl When {
    /// Whether there is salt to take.
    #[must_use]
    pub(crate) const fn salts(self) -> bool {
        matches!(self, Self::Ahead | Self::Before | Self::After)
    }
}

/// Why then; told by [`crate::words::before`].
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Because {
    /// Nothing goes through a shell or a lid.
    Shelled,
    /// The piece is salted.
    PieceSalted,
    /// Its batch was, before it was frozen.
    BatchSalted,
    /// The cook wants none.
    Unsalted,
    /// The cook wants it, for a bath as short or as long as this.
    Chosen {
        /// Longer than salt should be in it.
        long: bool,
    },
    /// By the length of the bath.
    BathLength {
        /// Longer than salt should be in it.
        long: bool,
    },
}

/// What is to be done about salt.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Advice {
    /// When.
    pub when: When,
    /// Why then.
    pub because: Because,
    /// How long ahead.
    pub ahead_min: Minutes,
    /// Per cent by weight.
    pub percent: f64,
    /// Grams, where the weight is known.
    pub grams: Option<Grams>,
    /// How deep it will have gone by the pull.
    pub depth: Option<Depth>,
}

/// The usual share of salt for a food, per cent, with its source.
///
/// ```
/// # use hold_steady_core::{food::*, units::*};
/// # let food = |id| catalogue().food(id).expect("in the catalogue");
/// # use hold_steady_core::prep::salt::usual;
/// assert!(usual(food("cod-fillet")).value < usual(food("beef-strip")).value);
/// ```
#[must_use]
pub fn usual(food: &Food) -> &'static Figure {
    use FoodClass::{Bivalve, Crustacean, Fish, KidneyBean, Plant};
    let light = matches!(food.class, Fish | Crustacean | Bivalve | Plant | KidneyBean);
    if light { &preparing().salt_percent_light } else { &preparing().salt_percent }
}

/// Whether a food is salted at all: an egg in its shell, a filled jar and what was seasoned before are not.
///
/// ```
/// # use hold_steady_core::{food::*, units::*};
/// # let food = |id| catalogue().food(id).expect("in the catalogue");
/// # use hold_steady_core::prep::salt::is_salted;
/// assert!(is_salted(food("beef-strip")) && !is_salted(food("shell-egg-large")));
/// ```
#[must_use]
pub fn is_salted(food: &Food) -> bool {
    food.is_bagged() && food.unsalted.is_none()
}

/// What to do about salt for a piece of half-thickness `half_m` that is `bath_min` in a bath of `bath_c` and
/// is heated through after `through_min`.
///
/// Source: `data/prep.json`, common practice.
///
/// ```
/// # use hold_steady_core::{food::*, units::*};
/// # let food = |id| catalogue().food(id).expect("in the catalogue");
/// # use hold_steady_core::prep::{Prep, salt::{When, advise}};
/// let (bath, through) = (Celsius::new(56.0), Minutes::new(110.0));
/// let of = |hours| advise(&Prep::default(), food("beef-strip"), 0.016, bath, Minutes::from_hours(hours), through);
/// assert_eq!((of(2.0).when, of(24.0).when), (When::Before, When::After));
/// ```
#[must_use]
pub fn advise(
    prep: &Prep,
    food: &Food,
    half_m: f64,
    bath_c: Celsius,
    bath_min: Minutes,
    through_min: Minutes,
) -> Advice {
    let percent = prep.salt_percent.unwrap_or_else(|| usual(food).value);
    let long = bath_min > preparing().salt_before_until_min.minutes();
    let ahead = match prep.salting {
        Salting::Ahead(hours) => Minutes::from_hours(f64::from(hours)),
        _ => Minutes::ZERO,
    };
    let (when, because) = match (prep.salted, prep.salting) {
        _ if !is_salted(food) => (When::Never, Because::Shelled),
        (Salted::Piece, _) => (When::Done, Because::PieceSalted),
        (Salted::Batch, _) => (When::Done, Because::BatchSalted),
        (_, Salting::Never) => (When::Never, Because::Unsalted),
        (_, Salting::Ahead(_)) => (When::Ahead, Because::Chosen { long }),
        (_, Salting::Before) => (When::Before, Because::Chosen { long }),
        (_, Salting::After) => (When::After, Because::Chosen { long }),
        (_, Salting::Auto) if long => (When::After, Because::BathLength { long }),
        (_, Salting::Auto) => (When::Before, Because::BathLength { long }),
    };
    let cold = diffusion_m2_s(preparing().diffusion_given_c.celsius()) * ahead.seconds();
    // While it warms, the middle between cold and hot; then the bath.
    let warming = through_min.min(bath_min);
    let warm = diffusion_m2_s(Celsius::new(0.5 * (preparing().diffusion_given_c.value + bath_c.value())))
        * warming.seconds()
        + diffusion_m2_s(bath_c) * (bath_min - warming).seconds();
    let spread = match when {
        When::Ahead => Some(cold + warm),
        When::Before => Some(warm),
        _ => None,
    };
    let salts = when.salts();
    Advice {
        when,
        because,
        ahead_min: ahead,
        percent: if salts { percent } else { 0.0 },
        grams: prep.weight_g.filter(|_| salts).map(|g| g * percent / 100.0),
        depth: spread.map(|s| depth(half_m, s)),
    }
}
