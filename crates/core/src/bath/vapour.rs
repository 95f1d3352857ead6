//! Water and the air over it: saturation, evaporation, and where water boils.

use serde::{Deserialize, Serialize};

use crate::figures::bench;

/// Antoine's equation for water from 1 to 100 °C (Dortmund's constants, from memory), in torr and °C.
const ANTOINE: (f64, f64, f64) = (8.071_31, 1730.63, 233.426);
const PASCAL_PER_TORR: f64 = 133.322;
const SEA_LEVEL_PA: f64 = 101_325.0;
const KELVIN: f64 = 273.15;
/// Gas constants of water vapour and of dry air, J/kgK.
const VAPOUR_J_KGK: f64 = 461.5;
const AIR_J_KGK: f64 = 287.05;
const AIR_CP_J_KGK: f64 = 1007.0;

/// Pressure of the air at an altitude, Pa: the standard atmosphere (ISO 2533, from memory).
pub(crate) fn air_pa(altitude_m: f64) -> f64 {
    const PER_M: f64 = 2.255_77e-5;
    const EXPONENT: f64 = 5.255_88;
    SEA_LEVEL_PA * (1.0 - PER_M * altitude_m).powf(EXPONENT)
}

/// Saturation pressure of water at `c` °C, Pa.
///
/// ```
/// use hold_steady_core::bath::saturation_pa;
/// // Steam tables, from memory: 12.35 kPa at 50 °C, 47.4 kPa at 80 °C.
/// assert!((saturation_pa(50.0) / 12_350.0 - 1.0).abs() < 0.005);
/// assert!((saturation_pa(80.0) / 47_400.0 - 1.0).abs() < 0.005);
/// ```
#[must_use]
pub fn saturation_pa(c: f64) -> f64 {
    let (a, b, d) = ANTOINE;
    10.0_f64.powf(a - b / (d + c)) * PASCAL_PER_TORR
}

/// Where water boils at an altitude, °C: the pressure of the standard atmosphere (ISO 2533) in Antoine's
/// equation for water from 1 to 100 °C (Dortmund's constants; both from memory).
///
/// ```
/// use hold_steady_core::bath::boiling_c;
/// assert!((boiling_c(0.0) - 100.0).abs() < 0.1);
/// // Published, from memory: about 95 °C at 1,500 m and 87 °C at 4,000 m.
/// assert!((boiling_c(1500.0) - 95.0).abs() < 0.4 && (boiling_c(4000.0) - 86.8).abs() < 0.4);
/// ```
#[must_use]
pub fn boiling_c(altitude_m: f64) -> f64 {
    let (a, b, d) = ANTOINE;
    b / (a - (air_pa(altitude_m) / PASCAL_PER_TORR).log10()) - d
}

/// Heat that evaporates a kilogram of water at `c` °C, J (from memory: 2,501 kJ at 0 °C, less 2.361 for each degree).
pub(crate) fn latent_j_kg(c: f64) -> f64 {
    (2501.0 - 2.361 * c) * 1000.0
}

/// Density of vapour of a pressure, Pa, in air at `c` °C, kg/m³.
pub(crate) fn vapour_kg_m3(pa: f64, c: f64) -> f64 {
    pa / (VAPOUR_J_KGK * (c + KELVIN))
}

/// How fast vapour passes where heat passes with so much, m/s: the analogy of Lewis, in air of a film at `c` °C and a
/// pressure, Pa.
pub(crate) fn transfer_m_s(w_m2k: f64, film_c: f64, pressure_pa: f64) -> f64 {
    let density = pressure_pa / (AIR_J_KGK * (film_c + KELVIN));
    w_m2k / (density * AIR_CP_J_KGK * bench().lewis.value.powf(2.0 / 3.0))
}

/// How much more vapour passes than diffusion alone would carry, by the flow that the vapour itself makes (Stefan): the
/// pressure of the air over the mean of what is not vapour in it (logarithmic), at the water and away from it.
pub(crate) fn stefan(over_pa: f64, away_pa: f64, pressure_pa: f64) -> f64 {
    // Just under boiling the vapour's own flow has no bound: there it boils, which is not this equation's.
    const NEARLY: f64 = 0.98;
    const SAME: f64 = 1e-6;
    let over = over_pa.min(NEARLY * pressure_pa);
    let (dry_away, dry_over) = (pressure_pa - away_pa, pressure_pa - over);
    let apart = dry_away - dry_over;
    if apart.abs() < SAME * pressure_pa {
        return pressure_pa / dry_away;
    }
    pressure_pa * (dry_away / dry_over).ln() / apart
}

/// What lies over the water.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Cover {
    /// Nothing.
    #[default]
    None,
    /// A lid.
    Lid,
    /// Foil or film.
    Foil,
    /// Floating balls.
    Balls,
}

impl Cover {
    /// All of them, as they are chosen.
    pub const ALL: [Self; 4] = [Self::None, Self::Lid, Self::Foil, Self::Balls];

    /// The word in requests and records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::bath::Cover::Balls.id(), "balls");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::None => "none",
            Self::Lid => "lid",
            Self::Foil => "foil",
            Self::Balls => "balls",
        }
    }

    /// The cover with this word.
    ///
    /// ```
    /// use hold_steady_core::bath::Cover;
    /// assert_eq!((Cover::from_id("lid"), Cover::from_id("hat")), (Some(Cover::Lid), None));
    /// ```
    #[must_use]
    pub fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|c| c.id() == id)
    }

    /// The share of the evaporation it leaves.
    pub(crate) fn share(self) -> f64 {
        match self {
            Self::None => 1.0,
            Self::Lid => bench().lid_share.value,
            Self::Foil => bench().foil_share.value,
            Self::Balls => bench().balls_share.value,
        }
    }

    /// Heat passing from the water's surface to the air besides evaporation, W/m²K.
    pub(crate) fn surface_w_m2k(self) -> f64 {
        match self {
            Self::None => bench().film_w_m2k.value,
            Self::Lid | Self::Foil | Self::Balls => bench().cover_w_m2k.value,
        }
    }
}

/// The air of a kitchen.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Air {
    /// °C.
    pub room_c: f64,
    /// Relative humidity, 0 to 1.
    pub humidity: f64,
    /// Metres.
    pub altitude_m: f64,
}

/// The film of air that rises by itself over a warm level surface of water, W/m²K: convection alone, for what is
/// radiated carries no vapour. 0.14 k (Ra/L³)^⅓ with virtual temperatures, for damp air is lighter (W. H. McAdams,
/// Heat Transmission, 1954, from memory); the air's properties are those of dry air (Sutherland's viscosity, and a
/// conductivity through the tables' 0.0263 W/mK at 300 K and 0.0300 at 350 K, from memory).
fn rising_w_m2k(water_c: f64, air: Air, (over_pa, away_pa): (f64, f64), pressure_pa: f64) -> f64 {
    const GRAVITY: f64 = 9.806_65;
    const WATER_OVER_AIR: f64 = 0.622;
    // Over water no warmer than the room air hardly moves: as if it were half a degree warmer.
    const LEAST_K: f64 = 0.5;
    let virtual_k =
        |c: f64, vapour_pa: f64| (c + KELVIN) / (1.0 - vapour_pa / pressure_pa * (1.0 - WATER_OVER_AIR));
    let (over_k, away_k) = (virtual_k(water_c, over_pa), virtual_k(air.room_c, away_pa));
    let film_c = f64::midpoint(water_c, air.room_c);
    let film_k = film_c + KELVIN;
    let conducts = 0.0243 + 7.5e-5 * film_c;
    let density = pressure_pa / (AIR_J_KGK * film_k);
    let viscosity = 1.458e-6 * film_k.powf(1.5) / (film_k + 110.4);
    let diffuses = conducts / (density * AIR_CP_J_KGK);
    let drives = GRAVITY * (over_k - away_k).max(LEAST_K) / f64::midpoint(over_k, away_k);
    bench().rising.value * conducts * (drives / (viscosity / density * diffuses)).cbrt()
}

/// What evaporates from a surface of water into still air: kg/m²s, and the heat it takes, W/m². The analogy of Lewis
/// between heat and vapour, with the flow the vapour itself makes (Stefan); never less than nothing. A draught or a
/// hood makes it up to [`draught`](crate::figures::bench) times as much.
///
/// ```
/// use hold_steady_core::bath::{Air, Cover, evaporation};
/// let kitchen = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
/// let (kg_m2s, _) = evaporation(54.0, kitchen, Cover::None);
/// assert!((kg_m2s * 3600.0 - 2.0).abs() < 0.05); // kg/m²h
/// assert!(evaporation(54.0, kitchen, Cover::Lid).0 < kg_m2s * 0.2);
/// ```
#[must_use]
pub fn evaporation(water_c: f64, air: Air, cover: Cover) -> (f64, f64) {
    // Just under boiling the vapour's own flow has no bound: there it boils, which is not this equation's.
    const NEARLY: f64 = 0.98;
    let pressure = air_pa(air.altitude_m);
    let over = saturation_pa(water_c).min(NEARLY * pressure);
    let away = air.humidity * saturation_pa(air.room_c);
    if over <= away {
        return (0.0, 0.0);
    }
    let film_c = f64::midpoint(water_c, air.room_c);
    let film = rising_w_m2k(water_c, air, (over, away), pressure);
    let transfer = transfer_m_s(film, film_c, pressure);
    let stefan = stefan(over, away, pressure);
    let kg_m2s = transfer
        * (vapour_kg_m3(over, water_c) - vapour_kg_m3(away, air.room_c)).max(0.0)
        * stefan
        * cover.share();
    (kg_m2s, kg_m2s * latent_j_kg(water_c))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Steam tables (IAPWS), from memory: kPa.
    #[test]
    fn saturation_agrees_with_the_steam_tables() {
        for (c, kpa) in
            [(10.0, 1.228), (20.0, 2.339), (40.0, 7.385), (60.0, 19.95), (70.0, 31.20), (90.0, 70.18)]
        {
            let off = saturation_pa(c) / (kpa * 1000.0) - 1.0;
            assert!(off.abs() < 0.006, "{c} °C: {off}");
        }
    }

    /// From memory of tables of boiling point against altitude (feet turned into metres): 98.3 °C at 500 m, 96.7 at
    /// 1,000 m, 93.4 at 2,000 m, 90.0 at 3,000 m.
    #[test]
    fn boiling_agrees_with_published_tables() {
        for (m, c) in [(0.0, 100.0), (500.0, 98.3), (1000.0, 96.7), (2000.0, 93.4), (3000.0, 90.0)] {
            assert!((boiling_c(m) - c).abs() < 0.25, "{m} m: {}", boiling_c(m));
        }
    }

    /// Worked beside this program with the same equations and another formula for saturation (Buck, 1996): 22 °C and
    /// 50 %, in still air.
    #[test]
    fn evaporation_agrees_with_a_computation_by_another_formula() {
        let kitchen = Air { room_c: 22.0, humidity: 0.5, altitude_m: 0.0 };
        for (c, kg_m2h) in [(54.0, 2.0), (60.0, 3.0), (74.0, 7.3), (85.0, 15.0)] {
            let got = evaporation(c, kitchen, Cover::None).0 * 3600.0;
            assert!((got / kg_m2h - 1.0).abs() < 0.025, "{c} °C: {got}");
        }
    }

    #[test]
    fn colder_than_the_dew_point_nothing_evaporates_and_near_boiling_it_stays_finite() {
        let damp = Air { room_c: 30.0, humidity: 1.0, altitude_m: 0.0 };
        assert_eq!(evaporation(20.0, damp, Cover::None), (0.0, 0.0));
        let high = Air { room_c: 20.0, humidity: 0.5, altitude_m: 4000.0 };
        assert!(evaporation(99.0, high, Cover::None).0.is_finite());
    }
}
