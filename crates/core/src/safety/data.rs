//! The numbers of safety, read once from the data files.

use crate::Unfit;
use crate::figures::{Basis, Limits};
use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::Deserialize;

use crate::food::{Food, FoodClass};
use crate::units::{Celsius, shortened};

impl Limits {
    /// Whether a bath is hot enough that a hold in it counts.
    #[must_use]
    pub(crate) fn is_hot_enough(&self, bath_c: f64) -> bool {
        bath_c >= self.lowest_hold_c.value - SAME_K
    }

    /// The upper end of the growth clock in water of `bath_c` at that same instant: in a bath hot enough to pasteurise
    /// `min(54.4, bath − 0.5)`, never below 53.9, °C; in a colder one 54.4 °C.
    #[must_use]
    pub(crate) fn growth_limit_c(&self, bath_c: f64) -> f64 {
        let most = self.lowest_hold_c.value;
        if self.is_hot_enough(bath_c) {
            most.min(bath_c - self.zone_below_set_k.value).max(self.zone_high_floor_c.value)
        } else {
            most
        }
    }
}

/// Temperatures nearer than this are the same: a setting less an error is not a round number.
const SAME_K: f64 = 1e-6;

/// An organism with its log-linear kinetics and the reduction asked for.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Organism {
    /// Its name.
    #[serde(rename = "organism")]
    pub name: String,
    /// Reduction asked for, log10.
    pub target_log10: f64,
    /// Minutes for one log10 at `d_ref_c`.
    pub d_min: f64,
    /// Temperature of `d_min`, °C.
    pub d_ref_c: f64,
    /// Kelvin for a tenfold rate.
    pub z_k: f64,
    /// Reduction asked for when a guest is at risk, where it is another.
    #[serde(default)]
    target_at_risk_log10: Option<f64>,
    /// A second measured point, hotter than `d_ref_c`: log-linear between the two, and on from it with
    /// the same `z_k`.
    #[serde(default)]
    pub second_point: Option<SecondPoint>,
    /// Where the kinetics come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

impl Organism {
    /// The reduction asked for, log10.
    ///
    /// Source: `data/organisms.json`, each with where it is from.
    ///
    /// ```
    /// use hold_steady_core::safety::organisms;
    /// let egg = &organisms("shell-egg")[0];
    /// assert_eq!((egg.target(false), egg.target(true)), (5.0, 7.0));
    /// ```
    #[must_use]
    pub fn target(&self, at_risk: bool) -> f64 {
        self.target_at_risk_log10.filter(|_| at_risk).unwrap_or(self.target_log10)
    }

    /// Minutes for one log10 at `c` °C.
    #[must_use]
    pub(crate) fn d_min_at(&self, c: f64) -> f64 {
        let line = |d: f64, t: f64| d * ((t - c) * std::f64::consts::LN_10 / self.z_k).exp();
        match self.second_point {
            Some(p) if c >= p.d_ref_c => line(p.d_min, p.d_ref_c),
            Some(p) if c > self.d_ref_c => {
                let x = (c - self.d_ref_c) / (p.d_ref_c - self.d_ref_c);
                (self.d_min.ln() + (p.d_min.ln() - self.d_min.ln()) * x).exp()
            }
            _ => line(self.d_min, self.d_ref_c),
        }
    }

    /// Reduction per second at `c` °C: one over the D-value there, nothing below `no_kill_below_c`.
    #[must_use]
    pub(crate) fn rate_per_s(&self, c: f64, no_kill_below_c: f64) -> f64 {
        if c < no_kill_below_c { 0.0 } else { 1.0 / (self.d_min_at(c) * 60.0) }
    }
}

/// A second measured D-value.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SecondPoint {
    /// Minutes for one log10 at `d_ref_c`.
    pub d_min: f64,
    /// Its temperature, °C.
    pub d_ref_c: f64,
}

/// A table of times and temperatures from a code.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CodeTable {
    /// Section of the code.
    pub section: String,
    /// What this application decided in applying it.
    pub choice: String,
    /// Rows, °F and seconds, as the code prints them.
    rows_f_s: Vec<(f64, f64)>,
    /// Mass fraction of fat the rows are for, where the code has them by fat.
    #[serde(default)]
    fat: Option<f64>,
    /// The same rows for a leaner food.
    #[serde(default)]
    lean: Option<LeanRows>,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// Rows for a leaner food.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
struct LeanRows {
    fat: f64,
    rows_f_s: Vec<(f64, f64)>,
}

impl CodeTable {
    /// The table for a food of this fat: log-linear in time between the two columns, never leaner than
    /// the lean one nor fattier than the fatty one. Tables that know no fat are the same for all.
    #[must_use]
    pub(crate) fn for_fat(&self, fat: f64) -> Self {
        let (Some(high), Some(lean)) = (self.fat, &self.lean) else { return self.clone() };
        let x = ((fat - lean.fat) / (high - lean.fat)).clamp(0.0, 1.0);
        let rows = lean.rows_f_s.iter().zip(&self.rows_f_s);
        let rows_f_s = rows.map(|(&(f, a), &(_, b))| (f, (a.ln() + (b.ln() - a.ln()) * x).exp())).collect();
        Self { rows_f_s, fat: None, lean: None, ..self.clone() }
    }

    /// The table's rows: °C (the °F values converted exactly) and seconds.
    ///
    /// Source: FDA Food Code 2022, 3-401.11, from memory of it (`data/profiles.json`).
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// # use hold_steady_core::safety::profile;
    /// let table = profile("food-code-2022").and_then(|code| code.table(food("beef-strip"))).expect("roasts have one");
    /// assert_eq!(table.rows().next().map(|(_, s)| s), Some(112.0 * 60.0));
    /// ```
    pub fn rows(&self) -> impl ExactSizeIterator<Item = (f64, f64)> + '_ {
        self.rows_f_s.iter().map(|&(f, s)| (Celsius::from_fahrenheit(f).value(), s))
    }

    /// The coldest temperature the table reaches, °C.
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// # use hold_steady_core::safety::profile;
    /// let table = profile("food-code-2022").and_then(|code| code.table(food("beef-strip"))).expect("roasts have one");
    /// assert!((table.first_row_c() - 54.444).abs() < 0.001);
    /// ```
    #[must_use]
    pub fn first_row_c(&self) -> f64 {
        Celsius::from_fahrenheit(self.rows_f_s[0].0).value()
    }

    /// The coldest bath the table credits, °C: its first row, which 54.4 °C stands for where it is 130 °F.
    #[must_use]
    pub(crate) fn gate_c(&self, limits: &Limits) -> f64 {
        const ROUNDED_K: f64 = 0.05;
        let (first, lowest) = (self.first_row_c(), limits.lowest_hold_c.value);
        if (first - lowest).abs() < ROUNDED_K { lowest - SAME_K } else { first - SAME_K }
    }

    /// Seconds the table asks for at `c` °C, log-linear between rows.
    ///
    /// The first segment runs on `reach_k` below the first row; colder, there is no answer. Above
    /// the last row its time holds. A row of 0 s answers zero from its temperature up; just below
    /// it, the row before holds.
    ///
    /// Source: FDA Food Code 2022, 3-401.11, from memory of it (`data/profiles.json`).
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// # use hold_steady_core::safety::profile;
    /// let table = profile("food-code-2022").and_then(|code| code.table(food("beef-strip"))).expect("roasts have one");
    /// assert!(table.seconds_at(55.0, 0.5) < table.seconds_at(54.5, 0.5));
    /// assert_eq!(table.seconds_at(50.0, 0.5), None);
    /// ```
    #[must_use]
    pub fn seconds_at(&self, c: f64, reach_k: f64) -> Option<f64> {
        let n = self.rows_f_s.len();
        let row = |i: usize| {
            let (f, s) = self.rows_f_s[i];
            (Celsius::from_fahrenheit(f).value(), s)
        };
        if c < row(0).0 - reach_k {
            return None;
        }
        if c >= row(n - 1).0 {
            return Some(row(n - 1).1);
        }
        let above = self.rows_f_s.partition_point(|(f, _)| Celsius::from_fahrenheit(*f).value() <= c);
        let i = above.clamp(1, n - 1);
        let ((t0, s0), (t1, s1)) = (row(i - 1), row(i));
        if s1 <= 0.0 {
            return Some(s0);
        }
        Some((s0.ln() + (s1.ln() - s0.ln()) * (c - t0) / (t1 - t0)).exp())
    }
}

/// A single cooking temperature of a code; it adds a line and decides nothing.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SingleTemperature {
    /// °F, as the code prints it.
    pub f: f64,
    /// Temperature and time in words.
    pub text: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

/// The code a kitchen works by.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CodeProfile {
    /// Identifier in requests.
    pub id: String,
    /// Name shown.
    pub name: String,
    tables: BTreeMap<String, CodeTable>,
    single_temperatures: BTreeMap<String, SingleTemperature>,
}

impl CodeProfile {
    /// The table for a food, where the code has one for its class.
    ///
    /// Source: FDA Food Code 2022, 3-401.11, from memory of it (`data/profiles.json`).
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// # use hold_steady_core::safety::profile;
    /// let code = profile("food-code-2022").expect("shipped");
    /// assert!(code.table(food("beef-strip")).is_some() && code.table(food("carrot")).is_none());
    /// ```
    #[must_use]
    pub fn table(&self, food: &Food) -> Option<CodeTable> {
        self.tables.get(&food.kill).map(|t| t.for_fat(food.composition.fractions().fat))
    }

    /// Whether the code has a table for a food's class.
    #[must_use]
    pub(crate) fn has_table(&self, food: &Food) -> bool {
        self.tables.contains_key(&food.kill)
    }

    /// The single cooking temperature for a food, intact or not, where the code has one.
    ///
    /// Source: FDA Food Code 2022, 3-401.11, from memory of it (`data/profiles.json`).
    ///
    /// ```
    /// # use hold_steady_core::{food::*, units::*};
    /// # let food = |id| catalogue().food(id).expect("in the catalogue");
    /// # use hold_steady_core::safety::profile;
    /// let code = profile("food-code-2022").expect("shipped");
    /// assert_eq!(code.single_temperature(FoodClass::Poultry, true).map(|s| s.f), Some(165.0));
    /// ```
    #[must_use]
    pub fn single_temperature(&self, class: FoodClass, intact: bool) -> Option<&SingleTemperature> {
        let key = match class {
            FoodClass::Plant | FoodClass::KidneyBean | FoodClass::Ferment => return None,
            FoodClass::Poultry | FoodClass::Duck => "poultry",
            FoodClass::Ground | FoodClass::EggMixture => "not-intact",
            _ if intact => "intact",
            _ => "not-intact",
        };
        self.single_temperatures.get(key)
    }
}

static ORGANISMS: LazyLock<BTreeMap<String, Vec<Organism>>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/organisms.json")).expect("shipped and tested")
});
static PROFILES: LazyLock<Vec<CodeProfile>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/profiles.json")).expect("shipped and tested")
});

/// The organisms of a class of kill; empty for an unknown class.
///
/// Source: `data/organisms.json`, each with where it is from.
///
/// ```
/// use hold_steady_core::safety::organisms;
/// assert_eq!(organisms("red-meat").len(), 3);
/// assert!(organisms("stone").is_empty());
/// ```
#[must_use]
pub fn organisms(kill: &str) -> &'static [Organism] {
    ORGANISMS.get(kill).map_or(&[], Vec::as_slice)
}

/// All profiles, the default first.
///
/// ```
/// assert_eq!(hold_steady_core::safety::profiles()[0].id, "food-code-2022");
/// ```
#[must_use]
pub fn profiles() -> &'static [CodeProfile] {
    &PROFILES
}

/// The profile with this identifier.
///
/// ```
/// use hold_steady_core::figures::limits;
/// use hold_steady_core::safety::profile;
/// let code = profile("food-code-2022").expect("shipped");
/// let strip = hold_steady_core::food::catalogue().food("beef-strip").expect("in the catalogue");
/// let table = code.table(strip).expect("roasts have a table");
/// // 130 °F is 54.44 °C and asks for 112 minutes.
/// assert_eq!(table.seconds_at(130.0_f64.mul_add(5.0 / 9.0, -160.0 / 9.0) + 1e-9, 0.5).map(f64::round), Some(6720.0));
/// assert_eq!(table.seconds_at(53.0, limits().table_reach_k.value), None);
/// ```
#[must_use]
pub fn profile(id: &str) -> Option<&'static CodeProfile> {
    PROFILES.iter().find(|p| p.id == id)
}

/// The profile with this identifier.
///
/// # Errors
/// In words: the name, and those there are.
///
/// ```
/// use hold_steady_core::safety::known_profile;
/// assert!(known_profile("food-code-2022").is_ok());
/// assert!(known_profile("my-own").is_err_and(|e| e.to_string().contains("food-code-2022")));
/// ```
pub fn known_profile(id: &str) -> Result<&'static CodeProfile, Unfit> {
    profile(id).ok_or_else(|| {
        let known: Vec<&str> = PROFILES.iter().map(|p| p.id.as_str()).collect();
        format!("“{}” is not a profile; there is: {}", shortened(id), known.join(", ")).into()
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::figures::limits;

    #[test]
    fn tables_fall_and_answer_as_printed() {
        for p in profiles() {
            for food in ["beef-strip", "chicken-breast"] {
                let food = crate::food::catalogue().food(food).expect("in the catalogue");
                let Some(t) = p.table(food) else { continue };
                let rows: Vec<_> = t.rows().collect();
                assert!(rows.windows(2).all(|w| w[0].0 < w[1].0 && w[0].1 > w[1].1), "{}", p.id);
                for (c, s) in rows {
                    let got = t.seconds_at(c + 1e-9, 0.5).expect("on the table");
                    assert!((got - s).abs() < 1e-2, "{} at {c}: {got} for {s}", p.id);
                }
            }
        }
    }

    #[test]
    fn below_the_table_only_the_allowed_reach_answers() {
        let t = profile("food-code-2022")
            .and_then(|p| p.table(crate::food::catalogue().food("beef-strip")?))
            .expect("shipped");
        let first = t.first_row_c();
        let reach = limits().table_reach_k.value;
        // 130 °F 112 min and 131 °F 89 min: half a kelvin lower asks for 112·(112/89)^0.9 minutes.
        let want = 6720.0 * (112.0_f64 / 89.0).powf(0.9);
        let got = t.seconds_at(first - 0.5 + 1e-9, reach).expect("within reach");
        assert!((got - want).abs() < 1.0, "{got} {want}");
        assert_eq!(t.seconds_at(first - 0.501, reach), None);
        assert_eq!(t.seconds_at(69.9, reach), Some(14.0));
        assert_eq!(t.seconds_at(70.0 + 1e-9, reach), Some(0.0));
    }

    #[test]
    fn poultry_tables_go_by_fat() {
        let p = profile("fsis-poultry").expect("shipped");
        let breast = crate::food::catalogue().food("chicken-breast").expect("in the catalogue");
        let table = &p.tables["poultry"];
        let at_140 = |fat: f64| {
            let t = table.for_fat(fat);
            let c = Celsius::from_fahrenheit(140.0).value() + 1e-9;
            t.seconds_at(c, 0.5).expect("on the table") / 60.0
        };
        // 25.2 min at 1 %, 35 at 12 %, as printed.
        assert!((at_140(0.0) - 25.2).abs() < 0.01 && (at_140(0.01) - 25.2).abs() < 0.01);
        assert!((at_140(0.12) - 35.0).abs() < 0.01 && (at_140(0.3) - 35.0).abs() < 0.01);
        assert!(at_140(0.06) > 25.2 && at_140(0.06) < 35.0);
        assert!(p.table(breast).is_some());
    }

    #[test]
    fn eggs_have_two_measured_points() {
        let o = &organisms("shell-egg")[0];
        for (c, d) in [(57.0, 6.0), (58.0, 4.5), (52.7, 60.0), (62.3, 0.45)] {
            assert!((o.d_min_at(c) - d).abs() < 1e-9 * d.max(1.0), "{c}: {}", o.d_min_at(c));
        }
        assert_eq!((o.target(false), o.target(true)), (5.0, 7.0));
    }

    #[test]
    fn bigelow_by_hand() {
        let o = &organisms("red-meat")[2];
        // One z above the reference a log takes a tenth of the time.
        let rate = o.rate_per_s(55.0 + 4.87, 52.0);
        assert!((rate * 60.0 * 1.935 - 1.0).abs() < 1e-12);
        assert_eq!(o.rate_per_s(51.9, 52.0), 0.0);
    }
}
