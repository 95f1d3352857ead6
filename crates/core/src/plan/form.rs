//! The sentence a cook fills in, read: every fault beside its field, nothing typed lost.

use crate::figures::{bench, routine};
use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::{From, InVessel, PlanRequest, PlannedFood, Ready, Setting, resolve_ready};
use crate::bath::{Heat, Water, above_boil_c, trust};
use crate::book::KeptVessel;
use crate::food::{Food, FoodClass, Found, Usual, catalogue};
use crate::piece::LONGEST_MIN;
use crate::prep::{Prep, PrepForm};
use crate::safety::{EggUse, Parasites};
use crate::units::{
    Celsius, Kelvin, Length, LengthUnit, Minutes, QuantityError, TemperatureUnit, Thickness, Units,
    parse_length, parse_millilitres, parse_minutes, parse_temperature, parse_thickness, shortened, trimmed,
};
use crate::words::minutes;

/// The sentence exactly as typed. Every field is text, so that nothing typed is ever lost. Fields that a
/// food does not ask for are empty.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct PlanForm {
    /// Food identifier, or any part of a name that leaves no doubt.
    pub food: String,
    /// Thickness with or without unit; `about` and two ends are understood.
    pub thickness: String,
    /// Across, of a block.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub width: String,
    /// Along, of a block.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub length: String,
    /// Identifier of a size.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub size: String,
    /// What an egg is for: `raw` or `soft`.
    #[serde(rename = "use", skip_serializing_if = "String::is_empty")]
    pub egg_use: String,
    /// About fish: `none`, `frozen` or `exempt`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub parasites: String,
    /// Filling of a jar.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub fill: String,
    /// Temperature of a jar's glass.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub glass: String,
    /// Whether it was cooked before: `yes` or `no`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub prepared: String,
    /// `refrigerator`, `counter` or `freezer`.
    pub from: String,
    /// For how long it was out of the refrigerator; empty while nobody has said.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub out: String,
    /// `circulated` or `still`, where the bath is not the kitchen's usual one.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub water: String,
    /// Doneness identifier, `ours` for the kitchen's own, or `own` for another temperature.
    pub done: String,
    /// The doneness the temperature field was last filled from: tells which of the two was changed.
    pub done_was: String,
    /// Food the fields were last filled for.
    pub food_was: String,
    /// Bath temperature with or without unit.
    pub bath: String,
    /// Time in the bath; empty for as long as it needs.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub time: String,
    /// `whole`, `bladed`, or empty while the question is open.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub intact: String,
    /// `well` or `at-risk`.
    pub guests: String,
    /// When it should be ready.
    pub ready: String,
    /// Identifier of the vessel it goes into; empty where none is named.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub vessel: String,
    /// `hot` where the bath is hot already, `warming` where it goes in while the water still warms.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub heated: String,
    /// The thickness exactly, in millimetres: shown in other units it is rounded, and means the same until somebody
    /// types another. Counts only where it is written as what stands in `thickness`, so that no link can show one
    /// thickness and plan another.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub thickness_exact: String,
    /// [`Units::code`] of the units bare numbers were typed in; empty for the reader's own.
    pub typed_in: String,
    /// The work before the bath.
    #[serde(flatten)]
    pub prep: PrepForm,
}

/// A sentence read: the form with its fields filled in, and the request or the faults.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// The form with defaults in place of what was left out, and everything typed kept.
    pub form: PlanForm,
    /// What was understood, when all of it was.
    pub request: Option<PlanRequest>,
    /// By field name, what is wrong with it.
    pub errors: BTreeMap<&'static str, String>,
    /// Foods the name could mean, by identifier, when it leaves a doubt.
    pub could_be: Vec<String>,
}

/// The value of [`PlanForm::done`] for a temperature of no level.
pub const OWN_TEMPERATURE: &str = "own";
/// The value of [`PlanForm::done`] for the temperature the kitchen has dialled in.
pub const DIALLED: &str = "ours";
/// Baths nearer than this are the same: a level typed to a tenth of a degree Fahrenheit.
const SAME_K: Kelvin = Kelvin::new(0.06);

/// The doneness of an egg that is pasteurised and stays raw.
pub(super) const RAW: &str = "raw";

impl PlanForm {
    /// The same plan for another piece and other guests: what was said of this one is left open, and is asked
    /// anew.
    ///
    /// ```
    /// use hold_steady_core::plan::PlanForm;
    /// let typed = PlanForm { bath: "56 °C".into(), intact: "whole".into(), ..PlanForm::default() };
    /// let again = typed.for_another_piece();
    /// assert_eq!((again.bath.as_str(), again.intact.as_str()), ("56 °C", ""));
    /// ```
    #[must_use]
    pub fn for_another_piece(&self) -> Self {
        let open = String::new;
        Self {
            thickness: open(),
            thickness_exact: open(),
            width: open(),
            length: open(),
            size: open(),
            parasites: open(),
            prepared: open(),
            from: open(),
            out: open(),
            intact: open(),
            guests: open(),
            ready: open(),
            prep: PrepForm { batch: open(), salted: open(), weight: open(), ..self.prep.clone() },
            ..self.clone()
        }
    }
}

/// A piece where nobody weighed it, kg for each 25 mm of thickness: on the heavy side, for a heavier load cools more.
const UNWEIGHED_KG: f64 = 0.4;

fn in_vessel(
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

/// A sentence being read.
struct Reader<'a> {
    setting: &'a Setting<'a>,
    form: PlanForm,
    errors: BTreeMap<&'static str, String>,
    /// Units of bare numbers.
    typed_in: Units,
    /// The food in the sentence is another than the fields were filled for.
    food_changed: bool,
    /// A link may leave fields out; a form that was on a screen never does, and an emptied field is an answer,
    /// a wrong one.
    was_on_a_screen: bool,
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
        let known =
            food.unwrap_or_else(|| setting.pantry.food(&r.form.food_was).unwrap_or(&catalogue().foods[0]));
        r.food_changed = food.is_some() && !r.form.food_was.is_empty() && r.form.food_was != known.id;
        r.forget_what_is_not_asked(known);

        let thickness = r.thickness(known);
        let sides = r.sides(known);
        let size = r.size(known);
        let egg_use = r.egg_use(known);
        let parasites = r.parasites(known);
        let jar = r.jar(known);
        let prepared = r.prepared(known);
        let from = r.from(known);
        let out_min = r.out(from);
        let vessel = r.vessel();
        let water = r.water(vessel);
        let bath = r.bath(known);
        r.within_vessel(vessel, bath);
        let time = r.time();
        let intact = r.intact(known);
        let at_risk = r.at_risk();
        r.begin_with_habits();
        let prep = r.form.prep.read(units, &mut r.errors);
        let (hot, warming) = r.heated(vessel);
        let ready = resolve_ready(&r.form.ready, setting.now, setting.zone);
        let ready = r.kept("ready", ready.map_err(|e| e.to_string()));
        r.form.food_was.clone_from(&known.id);

        let planned = food.map(|f| PlannedFood::find(&f.id, setting.pantry.own(&f.id).cloned()));
        let planned = planned.and_then(|found| r.kept("food", found));
        let request = match (planned, thickness, bath, ready, r.errors.is_empty()) {
            (Some(planned), Some(thickness), Some(bath), Some(ready), true) => Some(PlanRequest {
                planned,
                thickness_mm: size.as_ref().map_or(thickness.thick, |s| s.1),
                thin_mm: (thickness.thin < thickness.thick).then_some(thickness.thin),
                unsure: thickness.unsure,
                width_mm: sides.map(|s| s.0),
                length_mm: sides.map(|s| s.1),
                size: size.map(|s| s.0),
                egg_use,
                parasites,
                fill_ml: jar.map(|j| j.0),
                glass_c: jar.map(|j| j.1),
                prepared,
                from,
                out_min,
                water,
                bath_c: bath,
                time_min: time,
                intact,
                at_risk,
                hot,
                vessel: vessel.map(|kept| in_vessel(kept, setting, bath, &prep, thickness.thick, warming)),
                ready_at: match ready {
                    Ready::Soonest => None,
                    Ready::At(t) => Some(t),
                },
                rules: setting.rules.clone(),
                prep: setting.pantry.remembered(prep),
            }),
            _ => None,
        };
        Reading { form: r.form, request, errors: r.errors, could_be }
    }
}

impl<'a> Reader<'a> {
    fn fault(&mut self, field: &'static str, text: impl Into<String>) {
        self.errors.insert(field, text.into());
    }

    /// The value, or its fault written down.
    fn kept<T>(&mut self, field: &'static str, result: Result<T, String>) -> Option<T> {
        result.map_err(|e| self.fault(field, e)).ok()
    }

    fn food(&mut self) -> (Option<&'a Food>, Vec<String>) {
        if self.form.food.is_empty() && !self.was_on_a_screen {
            let first = &catalogue().foods[0];
            self.form.food.clone_from(&first.id);
            return (Some(first), Vec::new());
        }
        let typed = shortened(self.form.food.trim());
        match self.setting.pantry.find(&self.form.food) {
            Found::One(food) => {
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

    fn thickness(&mut self, food: &Food) -> Option<Thickness> {
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

    fn sides(&mut self, food: &Food) -> Option<(Length, Length)> {
        let sides = food.sides_mm?;
        let was = self.food_before().and_then(|f| f.sides_mm);
        let width = self.side("width", sides.width, was.map(|s| s.width.usual));
        let length = self.side("length", sides.length, was.map(|s| s.length.usual));
        Some((width?, length?))
    }

    /// Identifier and diameter of a size.
    fn size(&mut self, food: &Food) -> Option<(String, Length)> {
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
    fn egg_use(&mut self, food: &Food) -> Option<EggUse> {
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

    fn parasites(&mut self, food: &Food) -> Option<Parasites> {
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
    fn jar(&mut self, food: &Food) -> Option<(f64, Celsius)> {
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

    fn prepared(&mut self, food: &Food) -> Option<bool> {
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

    fn from(&mut self, food: &Food) -> From {
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
    fn out(&mut self, from: From) -> Option<Minutes> {
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

    /// Whether the water is moved, where it differs from the kitchen's. A vessel that is named says so itself.
    fn water(&mut self, vessel: Option<&KeptVessel>) -> Option<Water> {
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

    /// Fills the temperature from the doneness or the doneness from the temperature, whichever of the two
    /// was changed last, and reads the temperature.
    fn bath(&mut self, food: &Food) -> Option<Celsius> {
        let units = self.setting.units;
        let dialled = self.setting.pantry.dialled_c(food).map(|c| units.settable(c));
        let usual = dialled.unwrap_or_else(|| units.settable(food.usual_doneness().c));
        let level = |id: &str| match id {
            DIALLED => dialled,
            id => food.doneness(id).map(|d| units.settable(d.c)),
        };
        let form = &mut self.form;
        let first_time = form.done_was.is_empty();
        let doneness_changed = !form.done.is_empty() && form.done != form.done_was;
        let parsed = parse_temperature(&form.bath, self.typed_in.temperature);
        let fill = if first_time {
            form.bath.is_empty().then(|| level(&form.done).unwrap_or(usual))
        } else if self.food_changed {
            // Another cut of the same kind keeps a temperature of the cook's own; another kind of food
            // starts from its own usual one.
            let before = self.setting.pantry.food(&form.food_was);
            let same_kind = before.is_some_and(|f| f.class == food.class);
            let possible = parsed.as_ref().is_ok_and(|t| (food.bath_c.low..=food.bath_c.high).contains(t));
            let keep = form.done == OWN_TEMPERATURE && same_kind && possible;
            let named = if same_kind && form.done != DIALLED { level(&form.done) } else { None };
            (!keep).then(|| named.unwrap_or(usual))
        } else if doneness_changed {
            level(&form.done)
        } else if self.typed_in.temperature != units.temperature && form.done != DIALLED {
            // A named doneness is what this reader would set: whole degrees Fahrenheit.
            level(&form.done)
        } else {
            None
        };
        let mut unit = self.typed_in.temperature;
        if let Some(c) = fill {
            form.bath = units.temperature_exact(c);
            unit = units.temperature;
        }
        // Typed in the other unit it becomes what a cook of this one would set.
        let would_set = |t: Celsius| if unit == units.temperature { t } else { units.settable(t) };
        let result = parse_temperature(&form.bath, unit)
            .map(would_set)
            .and_then(|t| check_bath(t, food, units))
            .and_then(|t| check_boiling(t, self.setting.rules.altitude_m, units))
            .map_err(|e| e.to_string());
        if let Ok(t) = &result {
            let nearest = food.nearest_doneness(*t);
            let near = |c: Celsius| (c - *t).abs() <= SAME_K;
            form.done = if near(nearest.c) || near(units.settable(nearest.c)) {
                nearest.id.clone()
            } else if dialled.is_some_and(near) {
                DIALLED.into()
            } else {
                OWN_TEMPERATURE.into()
            };
        } else if form.done.is_empty() {
            form.done = OWN_TEMPERATURE.into();
        }
        form.done_was.clone_from(&form.done);
        let bath = self.kept("bath", result);
        if let Some(t) = bath.filter(|_| unit != units.temperature) {
            self.form.bath = units.temperature_exact(t);
        }
        bath
    }

    fn time(&mut self) -> Option<Minutes> {
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

    fn intact(&mut self, food: &Food) -> Option<bool> {
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
    fn begin_with_habits(&mut self) {
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

    /// Whether the bath is hot already, and whether the piece goes in while it still warms.
    fn heated(&mut self, vessel: Option<&KeptVessel>) -> (bool, bool) {
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
    fn vessel(&mut self) -> Option<&'a KeptVessel> {
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
    fn within_vessel(&mut self, vessel: Option<&KeptVessel>, bath: Option<Celsius>) {
        let Some((kept, bath)) = vessel.zip(bath) else { return };
        if let Some(most) = kept.vessel.too_hot(bath, self.setting.rules.altitude_m) {
            self.fault("vessel", crate::words::too_hot(&kept.vessel, most, self.setting.units));
        }
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
                self.fault("guests", "Choose whether a guest is at risk.");
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

fn check_temperature(
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
        "If you meant degrees Fahrenheit, type an F after the number.".to_owned()
    } else if t < range.0 {
        format!("No {} is cooked this cold.", food.name)
    } else {
        format!("That is hotter than any bath for {}.", food.name)
    };
    check_temperature(t, range, units, &hint)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::KitchenRules;
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
        assert!(r.errors["bath"].contains("Fahrenheit"), "{}", r.errors["bath"]);
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
