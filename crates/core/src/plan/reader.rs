//! The sentence understood: field by field, every fault beside its own, nothing typed lost.

use std::collections::BTreeMap;

use uuid::Uuid;

use super::form::{PlanForm, RAW, Reading};
use super::{From, PlannedFood, ServedTo, Setting};
use crate::figures::routine;
use crate::food::{Food, FoodClass, Found, Usual, catalogue};
use crate::safety::{EggUse, Parasites};
use crate::units::{
    Celsius, Length, LengthUnit, Minutes, QuantityError, Thickness, Units, meant_otherwise, minutes,
    parse_length, parse_millilitres, parse_minutes, parse_temperature, parse_thickness, shortened, trimmed,
};

/// A sentence being read.
pub(super) struct Reader<'a> {
    pub(super) setting: &'a Setting<'a>,
    pub(super) form: PlanForm,
    pub(super) errors: BTreeMap<&'static str, String>,
    /// Units of bare numbers.
    pub(super) typed_in: Units,
    /// The food in the sentence is another than the fields were filled for.
    pub(super) food_changed: bool,
    /// A link may leave fields out; a form that was on a screen never does, and an emptied field is an answer,
    /// a wrong one.
    pub(super) was_on_a_screen: bool,
}

impl PlanForm {
    /// Understands the sentence.
    ///
    /// ```
    /// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting};
    /// use hold_steady_core::units::Units;
    /// let typed = PlanForm { food: "strip".into(), thickness: "1 1/4 in".into(), bath: "131f".into(), ..Default::default() };
    /// let (now, zone, rules) = ("2026-11-25T16:00:00Z".parse()?, jiff::tz::TimeZone::UTC, KitchenRules::default());
    /// let reading = typed.read(&Setting::new(Units::default(), now, &zone, &rules));
    /// let request = reading.request.expect("all of it is understood");
    /// assert_eq!((request.food().id.as_str(), request.thickness_mm.mm(), request.bath_c.value()), ("beef-strip", 31.75, 55.0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn read(&self, setting: &Setting<'_>) -> Reading {
        let mut form = self.clone();
        let units = setting.units;
        // Bare numbers mean what they meant when they were typed; after a switch of units they are
        // shown again in the new ones.
        let typed_in = Units::from_code(&form.typed_in).unwrap_or(units);
        form.typed_in = units.code().into();
        let was_on_a_screen = !form.done_was.is_empty() || !form.food_was.is_empty();
        let (errors, food_changed) = (BTreeMap::new(), false);
        let mut r = Reader { setting, form, errors, typed_in, food_changed, was_on_a_screen };

        let (food, could_be) = r.food();
        let known = food
            .unwrap_or_else(|| setting.pantry.food(&r.form.food_was).unwrap_or(catalogue().begins_with()));
        r.food_changed = food.is_some() && !r.form.food_was.is_empty() && r.form.food_was != known.id;
        r.forget_what_is_not_asked(known);

        let understood = r.understood(known);
        r.form.food_was.clone_from(&known.id);
        let planned = food.map(|f| PlannedFood::find(&f.id, setting.pantry.own(&f.id).cloned()));
        let planned = planned.and_then(|found| r.kept("food", found));
        let request = planned.filter(|_| r.errors.is_empty()).and_then(|p| understood.request(p, setting));
        let meant = r.meant(known);
        Reading { form: r.form, request, errors: r.errors, could_be, meant }
    }
}

impl<'a> Reader<'a> {
    pub(super) fn fault(&mut self, field: &'static str, text: impl Into<String>) {
        self.errors.insert(field, text.into());
    }

    /// What may have been meant by what cannot be.
    fn meant(&self, food: &Food) -> BTreeMap<&'static str, String> {
        let range = (food.bath_c.low, food.bath_c.high);
        let wrong = self.errors.contains_key("bath");
        let bath = meant_otherwise(&self.form.bath, self.setting.units.temperature, range);
        bath.filter(|_| wrong).map(|meant| ("bath", meant)).into_iter().collect()
    }

    /// The value, or its fault written down.
    pub(super) fn kept<T>(&mut self, field: &'static str, result: Result<T, impl Into<String>>) -> Option<T> {
        result.map_err(|e| self.fault(field, e)).ok()
    }

    fn food(&mut self) -> (Option<&'a Food>, Vec<String>) {
        if self.form.food.is_empty() && !self.was_on_a_screen {
            let first = catalogue().begins_with();
            self.form.food.clone_from(&first.id);
            return (Some(first), Vec::new());
        }
        let typed = shortened(self.form.food.trim());
        let (found, count) = self.setting.pantry.find(&self.form.food);
        match found {
            Found::One(food) => {
                if let Some(count) = count.filter(|_| food.is_bagged()) {
                    self.form.prep.pieces = count.to_string();
                }
                self.form.food.clone_from(&food.id);
                (Some(food), Vec::new())
            }
            Found::Several(foods) => {
                const SHOWN: usize = 8;
                self.fault("food", format!("“{typed}” could be several foods. Choose one of them."));
                (None, foods.iter().take(SHOWN).map(|f| f.id.clone()).collect())
            }
            Found::None if typed.is_empty() => {
                self.fault("food", "Type what you cook, any part of its name, or choose it from the list.");
                (None, Vec::new())
            }
            Found::None => {
                self.fault(
                    "food",
                    format!("“{typed}” is not in the catalogue. Type another part of its name, choose the nearest food, or copy that one and change it."),
                );
                (None, Vec::new())
            }
        }
    }

    /// Answers to questions that this food does not ask say nothing and are not carried along.
    fn forget_what_is_not_asked(&mut self, food: &Food) {
        let form = &mut self.form;
        let unless = |asked: bool, field: &mut String| {
            if !asked {
                field.clear();
            }
        };
        unless(food.sizes.is_empty(), &mut form.thickness);
        unless(food.sides_mm.is_some(), &mut form.width);
        unless(food.sides_mm.is_some(), &mut form.length);
        unless(!food.sizes.is_empty(), &mut form.size);
        unless(food.class == FoodClass::ShellEgg, &mut form.egg_use);
        unless(food.class == FoodClass::Fish, &mut form.parasites);
        unless(food.jar.is_some(), &mut form.fill);
        unless(food.jar.is_some(), &mut form.glass);
        unless(food.prepared.is_some(), &mut form.prepared);
        unless(food.class.asks_if_intact(), &mut form.intact);
    }

    /// Whether a field of a size starts anew: nothing was sent yet, or the food is another and the field
    /// holds the old one's usual size, or a size the new one cannot have.
    fn starts_anew(&self, text: &str, usual_was: Option<f64>, possible: bool) -> bool {
        if text.is_empty() {
            return !self.was_on_a_screen || self.food_changed;
        }
        let untouched = usual_was.is_some_and(|mm| {
            parse_length(text, self.typed_in.length).is_ok_and(|l| (l.mm() - mm).abs() < 0.05)
        });
        self.food_changed && (untouched || !possible)
    }

    fn food_before(&self) -> Option<&'a Food> {
        self.setting.pantry.food(&self.form.food_was)
    }

    pub(super) fn thickness(&mut self, food: &Food) -> Option<Thickness> {
        let usual = food.thickness_mm.usual;
        if !food.sizes.is_empty() {
            return Some(Thickness { thin: usual, thick: usual, unsure: false });
        }
        let units = self.setting.units;
        let checked = |text: &str, unit| check_thickness(text, food, unit, units);
        let meant = |form: &PlanForm| {
            let shown = |t: Thickness| {
                [LengthUnit::Mm, LengthUnit::In]
                    .into_iter()
                    .any(|length| t.written(&|l| Units { length, ..units }.length(l)) == form.thickness)
            };
            let exact = parse_thickness(&form.thickness_exact, LengthUnit::Mm).is_ok_and(shown);
            if exact { form.thickness_exact.clone() } else { form.thickness.clone() }
        };
        let possible = checked(&meant(&self.form), self.typed_in.length).is_ok();
        let was = self.food_before().map(|f| f.thickness_mm.usual);
        if self.starts_anew(&self.form.thickness, was.map(Length::mm), possible) {
            self.form.thickness = units.length(usual);
            self.form.thickness_exact.clear();
            self.typed_in.length = units.length;
        }
        let result = checked(&meant(&self.form), self.typed_in.length).map_err(|e| e.to_string());
        let thickness = self.kept("thickness", result);
        if let Some(t) = thickness {
            if self.typed_in.length != units.length {
                self.form.thickness = t.written(&|l| units.length(l));
            }
            self.form.thickness_exact = t.written(&|l| format!("{} mm", trimmed(l.mm(), 4)));
        }
        thickness
    }

    fn side(&mut self, field: &'static str, range: Usual<Length>, was: Option<Length>) -> Option<Length> {
        let units = self.setting.units;
        let text = if field == "width" { self.form.width.clone() } else { self.form.length.clone() };
        let read = |text: &str, unit| {
            in_range_mm(parse_length(text, unit)?, range, units, "Measure the piece as it lies in the bag.")
        };
        let possible = read(&text, self.typed_in.length).is_ok();
        let mut text = text;
        let mut unit = self.typed_in.length;
        if self.starts_anew(&text, was.map(Length::mm), possible) {
            text = units.length(range.usual);
            unit = units.length;
        }
        let result = read(&text, unit).map_err(|e| e.to_string());
        let length = self.kept(field, result);
        if let Some(l) = length.filter(|_| unit != units.length) {
            text = units.length(l);
        }
        *(if field == "width" { &mut self.form.width } else { &mut self.form.length }) = text;
        length
    }

    pub(super) fn sides(&mut self, food: &Food) -> Option<(Length, Length)> {
        let sides = food.sides_mm?;
        let was = self.food_before().and_then(|f| f.sides_mm);
        let width = self.side("width", sides.width, was.map(|s| s.width.usual));
        let length = self.side("length", sides.length, was.map(|s| s.length.usual));
        Some((width?, length?))
    }

    /// Identifier and diameter of a size.
    pub(super) fn size(&mut self, food: &Food) -> Option<(String, Length)> {
        let usual = food.sizes.iter().find(|s| s.id == "large").or_else(|| food.sizes.first())?;
        let chosen = match self.form.size.as_str() {
            // A plan kept under a name asks anew.
            "" if self.was_on_a_screen && !self.food_changed => {
                self.fault("size", "Choose the size of these.");
                return None;
            }
            "" => usual,
            id => match food.size(id) {
                Some(size) => size,
                None => {
                    self.fault("size", "Choose one of the sizes.");
                    usual
                }
            },
        };
        self.form.size.clone_from(&chosen.id);
        Some((chosen.id.clone(), chosen.diameter_mm()))
    }

    /// What an egg is for, and its doneness, follow each other: whichever was changed last decides.
    pub(super) fn egg_use(&mut self, food: &Food) -> Option<EggUse> {
        if food.class != FoodClass::ShellEgg {
            return None;
        }
        let form = &mut self.form;
        let mut read = match form.egg_use.as_str() {
            "" | "soft" => EggUse::Soft,
            "raw" => EggUse::Raw,
            _ => {
                self.fault("use", "Choose soft to eat, or to use raw.");
                return Some(EggUse::Raw);
            }
        };
        let level = food.doneness(&form.done).is_some();
        let chosen = level && form.done != form.done_was;
        // A bath that came in a link without a doneness is the cook's own.
        let open = level || (form.done.is_empty() && form.bath.is_empty());
        if chosen {
            read = if form.done == RAW { EggUse::Raw } else { EggUse::Soft };
        } else if open && read == EggUse::Raw && food.doneness(RAW).is_some() {
            form.done = RAW.into();
        } else if read == EggUse::Soft && form.done == RAW {
            form.done.clone_from(&food.usual);
        }
        form.egg_use = if read == EggUse::Raw { "raw" } else { "soft" }.into();
        Some(read)
    }

    pub(super) fn parasites(&mut self, food: &Food) -> Option<Parasites> {
        if food.class != FoodClass::Fish {
            return None;
        }
        // Saying nothing counts as nothing done, and the question stays open.
        Some(match self.form.parasites.as_str() {
            "" | "none" => Parasites::None,
            "frozen" => Parasites::Frozen,
            "exempt" => Parasites::Exempt,
            _ => {
                self.fault("parasites", "Choose whether it was frozen for parasites, is exempt, or neither.");
                Parasites::None
            }
        })
    }

    /// Filling, ml, and glass, °C.
    pub(super) fn jar(&mut self, food: &Food) -> Option<(f64, Celsius)> {
        let range = food.jar?.fill_ml;
        let units = self.setting.units;
        if self.form.fill.is_empty()
            || (self.food_changed && self.food_before().is_some_and(|f| f.jar.is_some()))
        {
            self.form.fill = units.volume(range.usual);
        }
        let fill = parse_millilitres(&self.form.fill).and_then(|ml| {
            let inside = (range.low..=range.high).contains(&ml);
            if inside {
                Ok(ml)
            } else {
                Err(out_of_range(ml, range, |v| units.volume(v), "Use a smaller jar, or another."))
            }
        });
        let fill = self.kept("fill", fill.map_err(|e| e.to_string()));
        let usual = routine().jar_glass_c.celsius();
        if self.form.glass.is_empty() {
            self.form.glass = units.temperature(usual);
            self.typed_in.temperature = units.temperature;
        }
        const GLASS_C: (Celsius, Celsius) = (Celsius::new(-20.0), Celsius::new(95.0));
        let unit = self.typed_in.temperature;
        let glass = parse_temperature(&self.form.glass, unit).and_then(|t| {
            check_temperature(t, GLASS_C, units, "Glass is between frozen and nearly boiling.")
        });
        let glass = self.kept("glass", glass.map_err(|e| e.to_string()));
        if let Some(t) = glass.filter(|_| unit != units.temperature) {
            self.form.glass = units.temperature(t);
        }
        Some((fill?, glass?))
    }

    pub(super) fn prepared(&mut self, food: &Food) -> Option<bool> {
        let question = food.prepared.as_ref()?;
        match self.form.prepared.as_str() {
            "yes" => Some(true),
            // Saying nothing counts as no.
            "" | "no" => Some(false),
            _ => {
                self.fault("prepared", format!("Choose “{}” or “{}”.", question.done, question.not_done));
                Some(false)
            }
        }
    }

    pub(super) fn from(&mut self, food: &Food) -> From {
        let from = match self.form.from.as_str() {
            // A plan kept under a name asks anew.
            "" if self.was_on_a_screen && !self.food_changed => {
                self.fault("from", "Say where this piece comes from.");
                return From::default();
            }
            "" => From::default(),
            id => From::ALL.into_iter().find(|f| f.id() == id).unwrap_or_else(|| {
                self.fault("from", "Choose the refrigerator, the counter or the freezer.");
                From::default()
            }),
        };
        let from = if food.may_come_from(from.id()) {
            from
        } else if self.food_changed {
            From::default()
        } else {
            self.fault("from", format!("{} cannot go in from {}.", food.name, from.start().label));
            from
        };
        self.form.from = from.id().into();
        from
    }

    /// Minutes out of the refrigerator, where it was and somebody said.
    pub(super) fn out(&mut self, from: From) -> Option<Minutes> {
        const LONGEST_MIN: Minutes = Minutes::from_hours(24.0);
        if !from.start().out {
            self.form.out.clear();
        }
        if self.form.out.trim().is_empty() {
            return None;
        }
        let read = parse_minutes(&self.form.out).and_then(|m| {
            if (Minutes::ZERO..=LONGEST_MIN).contains(&m) {
                return Ok(m);
            }
            Err(QuantityError::OutOfRange {
                shown: minutes(m),
                low: minutes(Minutes::ZERO),
                high: minutes(LONGEST_MIN),
                hint: "Leave it empty if nobody knows: two hours are counted then.".into(),
            })
        });
        self.kept("out", read.map_err(|e| e.to_string()))
    }

    pub(super) fn intact(&mut self, food: &Food) -> Option<bool> {
        match self.form.intact.as_str() {
            _ if !food.class.asks_if_intact() => Some(true),
            "whole" => Some(true),
            "bladed" => Some(false),
            "" => None,
            _ => {
                self.fault("intact", "Choose whole or bladed.");
                None
            }
        }
    }

    /// What the kitchen usually does stands in a sentence that nobody has changed yet.
    pub(super) fn begin_with_habits(&mut self) {
        let (habits, prep) = (self.setting.habits, &mut self.form.prep);
        if self.was_on_a_screen {
            return;
        }
        for (typed, usual) in [(&mut prep.salting, &habits.salting), (&mut prep.air, &habits.air)] {
            if typed.is_empty() {
                typed.clone_from(usual);
            }
        }
    }

    /// Whether somebody is at risk, and the guest it is for where one was named.
    pub(super) fn guests(&mut self) -> (bool, Option<ServedTo>) {
        let id = self.form.guests.parse::<Uuid>().ok();
        if let Some(guest) = id.and_then(|id| self.setting.guests.iter().find(|g| g.id == id)) {
            let served = ServedTo { guest: guest.id, number: guest.number, avoids: guest.avoids.clone() };
            return (guest.at_risk, Some(served));
        }
        (self.at_risk(), None)
    }

    fn at_risk(&mut self) -> bool {
        let at_risk = match self.form.guests.as_str() {
            // A plan kept under a name asks anew.
            "" if self.was_on_a_screen => {
                self.fault("guests", "Say who eats it this time.");
                return true;
            }
            "" => self.setting.habits.guests_at_risk,
            "well" => false,
            "at-risk" => true,
            _ => {
                self.fault("guests", "Choose whether a guest is at risk, or one of the kitchen’s guests.");
                true
            }
        };
        self.form.guests = if at_risk { "at-risk" } else { "well" }.into();
        at_risk
    }
}

fn out_of_range<T: Copy>(value: T, range: Usual<T>, show: impl Fn(T) -> String, hint: &str) -> QuantityError {
    QuantityError::OutOfRange {
        shown: show(value),
        low: show(range.low),
        high: show(range.high),
        hint: hint.into(),
    }
}

fn in_range_mm(
    length: Length,
    range: Usual<Length>,
    units: Units,
    hint: &str,
) -> Result<Length, QuantityError> {
    if (range.low..=range.high).contains(&length) {
        return Ok(length);
    }
    Err(out_of_range(length, range, |l| units.length(l), hint))
}

fn check_thickness(
    text: &str,
    food: &Food,
    typed_in: LengthUnit,
    units: Units,
) -> Result<Thickness, QuantityError> {
    let t = parse_thickness(text, typed_in)?;
    let range = food.thickness_mm;
    let hint = |l: Length| match (l < range.low, food.jar.is_some()) {
        (_, true) => "Measure the jar across, inside.",
        (true, _) if food.class.is_animal() => "A piece this thin needs no bath: a hot pan does it.",
        (true, _) => "So thin it needs no bath.",
        (false, _) => "Portion it thinner: it would warm too slowly.",
    };
    in_range_mm(t.thick, range, units, hint(t.thick))?;
    in_range_mm(t.thin, range, units, hint(t.thin))?;
    Ok(t)
}

pub(super) fn check_temperature(
    t: Celsius,
    range: (Celsius, Celsius),
    units: Units,
    hint: &str,
) -> Result<Celsius, QuantityError> {
    if (range.0..=range.1).contains(&t) {
        return Ok(t);
    }
    Err(QuantityError::OutOfRange {
        shown: units.temperature_exact(t),
        low: units.temperature(range.0),
        high: units.temperature(range.1),
        hint: hint.into(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::KitchenRules;
    use crate::units::TemperatureUnit;
    use jiff::tz::TimeZone;

    fn read(form: &PlanForm) -> Reading {
        let now = "2026-11-25T16:00:00Z".parse().expect("an instant");
        form.read(&Setting::new(Units::default(), now, &TimeZone::UTC, &KitchenRules::default()))
    }

    #[test]
    fn an_empty_sentence_is_filled_and_leaves_the_question_open() {
        let r = read(&PlanForm::default());
        let request = r.request.expect("defaults are complete");
        assert_eq!(request.food().id, "beef-strip");
        assert_eq!(request.bath_c, Celsius::new(55.0));
        assert_eq!(request.intact, None);
        assert!(!request.counts_as_intact());
        assert_eq!((r.form.thickness.as_str(), r.form.bath.as_str()), ("32 mm", "55 °C"));
        // What was filled in reads back as the same.
        assert_eq!(read(&r.form).request, Some(request));
    }

    #[test]
    fn the_field_changed_last_wins() {
        let first = read(&PlanForm::default()).form;
        let done = read(&PlanForm { done: "rare".into(), ..first.clone() });
        assert_eq!(done.form.bath, "51.5 °C");
        let typed = read(&PlanForm { bath: "56.2".into(), ..done.form });
        assert_eq!(typed.form.done, "own");
        assert_eq!(typed.request.as_ref().map(|r| r.bath_c), Some(Celsius::new(56.2)));
        // Another cut keeps the cook's own temperature, and moves a named doneness to its own.
        let flank = read(&PlanForm { food: "beef-flank".into(), ..typed.form });
        assert_eq!(flank.form.bath, "56.2");
        let ribeye = read(&PlanForm { food: "beef-ribeye".into(), ..first });
        assert_eq!((ribeye.form.done.as_str(), ribeye.form.bath.as_str()), ("medium-rare", "57 °C"));
    }

    #[test]
    fn rubbish_is_named_beside_its_field_and_kept() {
        let first = read(&PlanForm::default()).form;
        let bad = PlanForm {
            thickness: "thick-ish".into(),
            bath: "131".into(),
            ready: "supper".into(),
            ..first.clone()
        };
        let r = read(&bad);
        assert_eq!(r.request, None);
        assert_eq!(r.errors.keys().copied().collect::<Vec<_>>(), ["bath", "ready", "thickness"]);
        assert!(r.errors["bath"].contains("Did you mean °F?"), "{}", r.errors["bath"]);
        assert_eq!(r.meant.get("bath").map(String::as_str), Some("131 °F"));
        assert_eq!((r.form.thickness.as_str(), r.form.ready.as_str()), ("thick-ish", "supper"));
        let empty = read(&PlanForm { thickness: String::new(), ..first.clone() });
        assert!(empty.errors["thickness"].starts_with("Type a thickness"));
        let thick = read(&PlanForm { thickness: "4 in".into(), ..first });
        assert!(thick.errors["thickness"].contains("5 mm to 80 mm"), "{:?}", thick.errors);
    }

    #[test]
    fn the_reader_s_units_decide_what_a_bare_number_means() {
        let units = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let now = "2026-11-25T16:00:00Z".parse().expect("an instant");
        let form = PlanForm { thickness: "1.5".into(), bath: "131".into(), ..PlanForm::default() };
        let r = form.read(&Setting::new(units, now, &TimeZone::UTC, &KitchenRules::default()));
        let request = r.request.expect("understood");
        assert_eq!((request.thickness_mm.mm(), request.bath_c.value()), (38.1, 55.0));
    }

    #[test]
    fn switching_units_changes_what_is_shown_and_never_what_is_meant() {
        let now = "2026-11-25T16:00:00Z".parse().expect("an instant");
        let typed = PlanForm { thickness: "38.1".into(), bath: "55".into(), ..PlanForm::default() };
        let metric = read(&typed).form;
        let inches = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let r = metric.read(&Setting::new(inches, now, &TimeZone::UTC, &KitchenRules::default()));
        assert_eq!((r.form.thickness.as_str(), r.form.bath.as_str()), ("1 1/2 in", "131 °F"));
        let request = r.request.expect("understood");
        assert_eq!((request.thickness_mm.mm(), request.bath_c.value()), (38.1, 55.0));
        // An out-of-range number is still shown as typed.
        let wrong = PlanForm { thickness: "900".into(), ..metric };
        let r = wrong.read(&Setting::new(inches, now, &TimeZone::UTC, &KitchenRules::default()));
        assert_eq!(r.form.thickness, "900");
    }
}
