//! What is typed at the bench, read: every fault beside its field, nothing typed lost.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::bench::usual_taps;
use super::usual_air;
use super::{Air, Bench, Cover, Food, Taps, Vessel, boiling_c};
use crate::figures::bench;
use crate::units::{
    Blanks, Celsius, Kelvin, Length, Minutes, Units, parse_grams, parse_litres, parse_minutes,
};

/// The bench exactly as typed. Empty fields take what is usual.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct BenchForm {
    /// What the water should be.
    pub target: String,
    /// Water to put in; empty for as much as the food leaves room for.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub litres: String,
    /// Identifier of the cover.
    pub cover: String,
    /// Hot tap.
    pub hot: String,
    /// Cold tap.
    pub cold: String,
    /// Kettle water there is.
    pub kettle: String,
    /// Room.
    pub room: String,
    /// All that goes in.
    pub food: String,
    /// Its temperature.
    pub food_c: String,
    /// Thickness of a piece.
    pub thickness: String,
    /// The most it should drop.
    pub limit: String,
    /// How long it runs.
    pub hours: String,
    /// [`Units::code`] of the units bare numbers were typed in.
    pub typed_in: String,
}

/// What was understood at the bench.
#[derive(Debug, Clone, PartialEq)]
pub struct BenchAsked {
    /// What the water should be.
    pub target: Celsius,
    litres: Option<f64>,
    cover: Cover,
    taps: Taps,
    air: Air,
    food: Food,
    limit: Kelvin,
    long: Minutes,
}

impl BenchAsked {
    /// The bench with a vessel.
    ///
    /// ```
    /// use hold_steady_core::{bath::{BenchForm, shapes}, units::Units};
    /// let (_, vessel) = &shapes()[2];
    /// let (_, asked, _) = BenchForm::default().read(vessel, 0.0, Units::default());
    /// assert!(asked.expect("all of it is usual").with(vessel).answer().litres > 5.0);
    /// ```
    #[must_use]
    pub fn with<'a>(&self, vessel: &'a Vessel) -> Bench<'a> {
        Bench {
            vessel,
            cover: self.cover,
            litres: self.litres,
            target: self.target,
            taps: self.taps,
            air: self.air,
            food: self.food,
            limit: self.limit,
            long: self.long,
        }
    }
}

/// A range of what may be typed, the smallest and the largest.
type Range<T> = (T, T);

impl BenchForm {
    /// Understands what was typed for a vessel in a kitchen this high: the form with what is usual in place of what was
    /// left out, what was understood, and every fault by field.
    ///
    /// ```
    /// use hold_steady_core::{bath::{BenchForm, shapes}, units::Units};
    /// let typed = BenchForm { target: "131f".into(), food: "a lot".into(), ..BenchForm::default() };
    /// let (form, asked, errors) = typed.read(&shapes()[2].1, 0.0, Units::default());
    /// assert!(asked.is_none() && errors.contains_key("food") && form.food == "a lot");
    /// ```
    #[must_use]
    pub fn read(
        &self,
        vessel: &Vessel,
        altitude_m: f64,
        units: Units,
    ) -> (Self, Option<BenchAsked>, BTreeMap<&'static str, String>) {
        let typed_in = Units::from_code(&self.typed_in).unwrap_or(units);
        let mut form = self.clone();
        form.typed_in = units.code().into();
        let mut r = Blanks::new(units, typed_in);
        let taps = usual_taps();
        let air = usual_air(altitude_m);
        let c = Celsius::new;
        let boils = c((boiling_c(altitude_m) * 10.0).floor() / 10.0);
        let target = r.degrees("target", &mut form.target, c(55.0), (c(20.0), boils));
        let hot = r.degrees("hot", &mut form.hot, c(taps.hot_c), (c(0.0), c(90.0)));
        let cold = r.degrees("cold", &mut form.cold, c(taps.cold_c), (c(0.0), c(50.0)));
        let room = r.degrees("room", &mut form.room, c(air.room_c), (c(-10.0), c(50.0)));
        let food_c = r.degrees("food_c", &mut form.food_c, c(5.0), (c(-40.0), c(60.0)));
        let kettle_l = r.water("kettle", &mut form.kettle, Some(taps.kettle_l), (0.0, 20.0));
        let litres = r.water("litres", &mut form.litres, None, (0.1, 500.0));
        let kg = r.weight(&mut form.food, 1.0);
        let thickness = r.length(
            "thickness",
            &mut form.thickness,
            bench().load_mm.length(),
            (Length::from_mm(3.0), Length::from_mm(200.0)),
        );
        let k = Kelvin::new;
        let limit = r.difference("limit", &mut form.limit, (k(1.0), "a drop"), (k(0.1), k(20.0)));
        let long = r.long(&mut form.hours);
        if form.cover.is_empty() {
            form.cover = vessel.cover.id().into();
        }
        let cover = Cover::from_id(&form.cover);
        if cover.is_none() {
            r.errors.insert("cover", "Choose what lies over the water.".into());
        }
        let asked = r.errors.is_empty().then(|| BenchAsked {
            target,
            litres,
            cover: cover.unwrap_or_default(),
            taps: Taps {
                hot_c: hot.value(),
                cold_c: cold.value().min(hot.value()),
                kettle_c: taps.kettle_c.min(boils.value()),
                kettle_l: kettle_l.unwrap_or(taps.kettle_l),
            },
            air: Air { room_c: room.value(), ..air },
            food: Food { kg, c: food_c.min(target), thickness },
            limit,
            long,
        });
        (form, asked, r.errors)
    }
}

impl Blanks {
    fn water(
        &mut self,
        field: &'static str,
        text: &mut String,
        usual: Option<f64>,
        range: Range<f64>,
    ) -> Option<f64> {
        if text.trim().is_empty() {
            if let Some(l) = usual {
                *text = self.units.litres(l);
            }
            return usual;
        }
        match parse_litres(text, self.typed_in.length).ok().filter(|l| (range.0..=range.1).contains(l)) {
            Some(l) => {
                if self.typed_in.length != self.units.length {
                    *text = self.units.litres(l);
                }
                Some(l)
            }
            None => {
                let shown = (self.units.litres(range.0), self.units.litres(range.1));
                self.out_of(field, text, "water", shown);
                usual
            }
        }
    }

    fn weight(&mut self, text: &mut String, usual: f64) -> f64 {
        const MOST_KG: f64 = 100.0;
        if text.trim().is_empty() {
            *text = self.units.kilograms(usual);
            return usual;
        }
        if matches!(text.trim(), "0" | "nothing" | "none") {
            return 0.0;
        }
        match parse_grams(text).ok().map(|g| g.value() / 1000.0).filter(|kg| (0.0..=MOST_KG).contains(kg)) {
            Some(kg) => kg,
            None => {
                let most = self.units.kilograms(MOST_KG);
                self.out_of(
                    "food",
                    text,
                    "a weight with its unit, such as 1.2 kg or 2 lb,",
                    ("nothing".into(), most),
                );
                usual
            }
        }
    }

    fn long(&mut self, text: &mut String) -> Minutes {
        let (usual, low, high) = (Minutes::from_hours(4.0), Minutes::new(10.0), Minutes::from_hours(96.0));
        if text.trim().is_empty() {
            *text = crate::units::minutes(usual);
            return usual;
        }
        match parse_minutes(text).ok().filter(|m| (low..=high).contains(m)) {
            Some(m) => m,
            None => {
                self.out_of(
                    "hours",
                    text,
                    "a time with its unit",
                    (crate::units::minutes(low), crate::units::minutes(high)),
                );
                usual
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::shapes;
    use super::*;
    use crate::units::{LengthUnit, TemperatureUnit};

    #[test]
    fn every_wrong_field_is_named_with_its_range_and_kept() {
        let typed = BenchForm {
            target: "400".into(),
            litres: "-3".into(),
            cover: "hat".into(),
            food: "some".into(),
            thickness: "1 km".into(),
            limit: "much".into(),
            hours: "7".into(),
            kettle: "99999 l".into(),
            ..BenchForm::default()
        };
        let (form, asked, errors) = typed.read(&shapes()[2].1, 1500.0, Units::default());
        assert!(asked.is_none());
        let fields: Vec<&str> = errors.keys().copied().collect();
        assert_eq!(fields, ["cover", "food", "hours", "kettle", "limit", "litres", "target", "thickness"]);
        assert!(errors["target"].contains("20 °C to 95") && form.target == "400", "{errors:?}");
    }

    #[test]
    fn what_is_typed_in_one_unit_means_the_same_in_another() {
        let american = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let typed = BenchForm {
            target: "131".into(),
            litres: "12".into(),
            typed_in: "f-in".into(),
            ..BenchForm::default()
        };
        let (form, asked, errors) = typed.read(&shapes()[2].1, 0.0, Units::default());
        let asked = asked.unwrap_or_else(|| panic!("{errors:?}"));
        assert!(
            (asked.target.value() - 55.0).abs() < 1e-9
                && (asked.litres.expect("said") - 11.356).abs() < 0.001
        );
        assert_eq!((form.target.as_str(), form.litres.as_str()), ("55 °C", "11.4 l"));
        let (shown, again, _) = BenchForm::default().read(&shapes()[2].1, 0.0, american);
        assert!(again.is_some() && shown.hot == "122 °F" && shown.food == "2.2 lb", "{shown:?}");
    }
}
