//! What a sentence says of the water: how warm, for how long, in which vessel.

use super::form::{DIALLED, OWN_TEMPERATURE};
use super::reader::{Reader, check_temperature};
use super::{InVessel, Setting};
use crate::bath::{Heat, KeptVessel, Water, above_boil_c, trust};
use crate::figures::bench;
use crate::food::Food;
use crate::piece::LONGEST_MIN;
use crate::prep::Prep;
use crate::units::{
    Celsius, Kelvin, Length, Minutes, QuantityError, TemperatureUnit, Units, minutes, parse_minutes,
    parse_temperature,
};

/// Baths nearer than this are the same: a level typed to a tenth of a degree Fahrenheit.
const SAME_K: Kelvin = Kelvin::new(0.06);

/// A piece where nobody weighed it, kg for each 25 mm of thickness: on the heavy side, for a heavier load cools more.
const UNWEIGHED_KG: f64 = 0.4;

pub(super) fn in_vessel(
    kept: &KeptVessel,
    setting: &Setting<'_>,
    bath: Celsius,
    prep: &Prep,
    thick: Length,
    warming: bool,
) -> InVessel {
    let unweighed = f64::from(prep.pieces.max(1)) * UNWEIGHED_KG * (thick.mm() / 25.0).max(0.5);
    let trusted = setting.equipment.thermometers.iter().map(|t| trust(&t.checks, bath, setting.now).error);
    InVessel {
        id: kept.id,
        vessel: kept.vessel.clone(),
        kg: prep.weight_g.map_or(unweighed, |g| g.value() / 1000.0),
        warming,
        // The best there is: that is the one to read.
        reads_high_k: trusted.min_by(Kelvin::total_cmp).unwrap_or(bench().unchecked_k.kelvin()),
    }
}

impl<'a> Reader<'a> {
    /// Whether the water is moved, where it differs from the kitchen's. A vessel that is named says so itself.
    pub(super) fn water(&mut self, vessel: Option<&KeptVessel>) -> Option<Water> {
        if let Some(kept) = vessel {
            self.form.water = kept.vessel.water.id().into();
            return None;
        }
        if self.form.water.is_empty() {
            return None;
        }
        let water = Water::from_id(&self.form.water);
        if water.is_none() {
            self.fault("water", "Choose whether a pump moves the water or it stands still.");
        }
        water.filter(|w| *w != self.setting.rules.water)
    }

    /// The water's temperature a doneness of the sentence's list stands for, as this reader would set it.
    fn level(&self, food: &Food, id: &str) -> Option<Celsius> {
        let c =
            if id == DIALLED { self.setting.pantry.dialled_c(food) } else { food.doneness(id).map(|d| d.c) };
        c.map(|c| self.setting.units.settable(c))
    }

    /// The temperature that the doneness fills in, where it was the doneness that changed last.
    fn filled(&self, food: &Food) -> Option<Celsius> {
        let (form, units) = (&self.form, self.setting.units);
        let level = |id: &str| self.level(food, id);
        let usual = || level(DIALLED).unwrap_or_else(|| units.settable(food.usual_doneness().c));
        if form.done_was.is_empty() {
            return form.bath.is_empty().then(|| level(&form.done).unwrap_or_else(usual));
        }
        if self.food_changed {
            // Another cut of the same kind keeps a temperature of the cook's own; another kind of food
            // starts from its own usual one.
            let before = self.setting.pantry.food(&form.food_was);
            let same_kind = before.is_some_and(|f| f.class == food.class);
            let parsed = parse_temperature(&form.bath, self.typed_in.temperature);
            let possible = parsed.is_ok_and(|t| (food.bath_c.low..=food.bath_c.high).contains(&t));
            let keep = form.done == OWN_TEMPERATURE && same_kind && possible;
            let named = if same_kind && form.done != DIALLED { level(&form.done) } else { None };
            return (!keep).then(|| named.unwrap_or_else(usual));
        }
        let doneness_changed = !form.done.is_empty() && form.done != form.done_was;
        // A named doneness is what this reader would set: whole degrees Fahrenheit.
        let shown_anew = self.typed_in.temperature != units.temperature && form.done != DIALLED;
        if doneness_changed || shown_anew { level(&form.done) } else { None }
    }

    /// The name of what this temperature gives.
    fn named(&self, food: &Food, c: Celsius) -> String {
        let nearest = food.nearest_doneness(c);
        let near = |other: Celsius| (other - c).abs() <= SAME_K;
        if near(nearest.c) || near(self.setting.units.settable(nearest.c)) {
            nearest.id.clone()
        } else if self.level(food, DIALLED).is_some_and(near) {
            DIALLED.into()
        } else {
            OWN_TEMPERATURE.into()
        }
    }

    /// Fills the temperature from the doneness or the doneness from the temperature, whichever of the two
    /// was changed last, and reads the temperature.
    pub(super) fn bath(&mut self, food: &Food) -> Option<Celsius> {
        let units = self.setting.units;
        let mut unit = self.typed_in.temperature;
        if let Some(c) = self.filled(food) {
            self.form.bath = units.temperature_exact(c);
            unit = units.temperature;
        }
        // Typed in the other unit it becomes what a cook of this one would set.
        let would_set = |t: Celsius| if unit == units.temperature { t } else { units.settable(t) };
        let result = parse_temperature(&self.form.bath, unit)
            .map(would_set)
            .and_then(|t| check_bath(t, food, units))
            .and_then(|t| check_boiling(t, self.setting.rules.altitude_m, units))
            .map_err(|e| e.to_string());
        if let Ok(t) = &result {
            self.form.done = self.named(food, *t);
        } else if self.form.done.is_empty() {
            self.form.done = OWN_TEMPERATURE.into();
        }
        self.form.done_was.clone_from(&self.form.done);
        let bath = self.kept("bath", result);
        if let Some(t) = bath.filter(|_| unit != units.temperature) {
            self.form.bath = units.temperature_exact(t);
        }
        bath
    }

    pub(super) fn time(&mut self) -> Option<Minutes> {
        const ALONE: [&str; 3] = ["", "as long as it needs", "as it needs"];
        // A time chosen for one food says nothing about another.
        if self.food_changed || ALONE.contains(&self.form.time.trim()) {
            self.form.time.clear();
            return None;
        }
        let (low, high) = (Minutes::new(1.0), LONGEST_MIN);
        let read = parse_minutes(&self.form.time).and_then(|m| {
            if (low..=high).contains(&m) {
                Ok(m)
            } else {
                Err(QuantityError::OutOfRange {
                    shown: minutes(m),
                    low: minutes(low),
                    high: minutes(high),
                    hint: "Leave it empty for as long as it needs.".into(),
                })
            }
        });
        self.kept("time", read.map_err(|e| e.to_string()))
    }

    /// Whether the bath is hot already, and whether the piece goes in while it still warms.
    pub(super) fn heated(&mut self, vessel: Option<&KeptVessel>) -> (bool, bool) {
        if self.form.heated == "warming" && vessel.is_none_or(|v| v.vessel.heat != Heat::Heater) {
            self.fault(
                "heated",
                "Name a vessel with a heater first: how fast its water warms follows from it.",
            );
        }
        match self.form.heated.as_str() {
            "" | "cold" => self.form.heated.clear(),
            "hot" => return (true, false),
            "warming" => return (false, true),
            _ => self.fault("heated", "Say whether the bath is hot already, or still warms when it goes in."),
        }
        (false, false)
    }

    /// The vessel it goes into.
    pub(super) fn vessel(&mut self) -> Option<&'a KeptVessel> {
        let kept = self.setting.equipment.vessels.iter().find(|v| v.id.to_string() == self.form.vessel);
        if kept.is_none() && !self.form.vessel.is_empty() {
            self.fault(
                "vessel",
                "That vessel is not on this kitchen’s list any more. Choose another, or none.",
            );
        }
        kept
    }

    /// No hotter than the vessel may be.
    pub(super) fn within_vessel(&mut self, vessel: Option<&KeptVessel>, bath: Option<Celsius>) {
        let Some((kept, bath)) = vessel.zip(bath) else { return };
        if let Some(most) = kept.vessel.too_hot(bath, self.setting.rules.altitude_m) {
            self.fault("vessel", crate::bath::too_hot(&kept.vessel, most, self.setting.units));
        }
    }
}

/// No water is hotter than where it boils in this kitchen.
fn check_boiling(t: Celsius, altitude_m: f64, units: Units) -> Result<Celsius, QuantityError> {
    let Some(boils) = above_boil_c(t.value(), altitude_m) else { return Ok(t) };
    let boils = units.temperature(Celsius::new((boils * 10.0).round() / 10.0));
    Err(QuantityError::OutOfRange {
        shown: units.temperature(t),
        low: units.temperature(Celsius::new(0.0)),
        high: boils,
        hint: format!("At {altitude_m:.0} m, where this kitchen lies, water boils there."),
    })
}

fn check_bath(t: Celsius, food: &Food, units: Units) -> Result<Celsius, QuantityError> {
    let range = (food.bath_c.low, food.bath_c.high);
    // What a cook who thinks in Fahrenheit types.
    let fahrenheit = (range.0..=range.1).contains(&Celsius::from_fahrenheit(t.value()));
    let hint = if units.temperature == TemperatureUnit::C && t > range.1 && fahrenheit {
        "Did you mean °F?".to_owned()
    } else if t < range.0 {
        format!("No {} is cooked this cold.", food.name)
    } else {
        format!("That is hotter than any bath for {}.", food.name)
    };
    check_temperature(t, range, units, &hint)
}
