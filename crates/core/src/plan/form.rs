//! The sentence a cook fills in, and what is understood of it.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

use super::{Ready, resolve_ready, routine};
use crate::bath::BathTrace;
use crate::food::{Basis, Food, catalogue};
use crate::heat::Shape;
use crate::piece::Piece;
use crate::safety::{profile, profiles};
use crate::units::{Celsius, Length, QuantityError, Units, parse_length, parse_temperature};

/// Where the piece comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum From {
    /// Kept cold.
    #[default]
    Refrigerator,
    /// Out for a while.
    Counter,
    /// Frozen through.
    Freezer,
}

impl From {
    /// All of them, in the order they are offered.
    pub const ALL: [Self; 3] = [Self::Refrigerator, Self::Counter, Self::Freezer];

    /// The word in records and forms.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Refrigerator => "refrigerator",
            Self::Counter => "counter",
            Self::Freezer => "freezer",
        }
    }

    /// What is assumed of a piece from there.
    #[must_use]
    pub fn start(self) -> &'static Start {
        &starts()[self.id()]
    }
}

/// What is assumed of a piece's temperature when it goes in.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Start {
    /// Most likely, °C.
    pub nominal_c: f64,
    /// Coldest, for safe times, °C.
    pub slow_c: f64,
    /// Warmest, for texture times, °C.
    pub fast_c: f64,
    /// Minutes on the growth clock before the drop.
    pub clock_min: f64,
    /// As in “from the …”.
    pub label: String,
    /// Why these.
    pub note: String,
    /// Where they come from.
    pub source: String,
    /// How sure they are.
    pub basis: Basis,
}

static STARTS: LazyLock<BTreeMap<String, Start>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../data/starts.json")).expect("shipped and tested")
});

/// The start states by identifier.
#[must_use]
pub fn starts() -> &'static BTreeMap<String, Start> {
    &STARTS
}

/// What a kitchen has settled for all its plans.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct KitchenRules {
    /// Identifier of the code it works by.
    pub profile: String,
    /// What its instrument reads too high, °C; taken off the set point everywhere.
    pub bath_error_c: f64,
    /// How far its bath may be off, K.
    pub bath_spread_k: f64,
    /// How far a measured thickness may be off, mm.
    pub thickness_spread_mm: f64,
}

impl Default for KitchenRules {
    fn default() -> Self {
        Self {
            profile: profiles()[0].id.clone(),
            bath_error_c: 0.0,
            bath_spread_k: routine("bath_spread_k").value,
            thickness_spread_mm: routine("thickness_spread_mm").value,
        }
    }
}

/// The sentence exactly as typed. Every field is text, so that nothing typed is ever lost.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct PlanForm {
    /// Food identifier.
    pub food: String,
    /// Thickness with or without unit.
    pub thickness: String,
    /// `refrigerator`, `counter` or `freezer`.
    pub from: String,
    /// Doneness identifier, or `own` for a temperature of the cook's own.
    pub done: String,
    /// The doneness the temperature field was last filled from: tells which of the two was changed.
    pub done_was: String,
    /// Food the temperature field was last filled for.
    pub food_was: String,
    /// Bath temperature with or without unit.
    pub bath: String,
    /// `whole`, `bladed`, or empty while the question is open.
    pub intact: String,
    /// `well` or `at-risk`.
    pub guests: String,
    /// When it should be ready.
    pub ready: String,
    /// [`Units::code`] of the units bare numbers were typed in; empty for the reader's own.
    pub typed_in: String,
}

/// What was understood of a sentence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlanRequest {
    /// Food identifier.
    pub food: String,
    /// Thickness, mm.
    pub thickness_mm: f64,
    /// Where it comes from.
    pub from: From,
    /// Bath temperature, °C.
    pub bath_c: f64,
    /// Whole or bladed; `None` while nobody has said, which counts as bladed.
    pub intact: Option<bool>,
    /// A guest is at risk.
    pub at_risk: bool,
    /// When it should be ready; `None` for as soon as it can be.
    pub ready_at: Option<Timestamp>,
    /// What the kitchen had settled.
    pub rules: KitchenRules,
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
}

/// Coldest and hottest bath that can be planned for beef, °C.
const BATH_RANGE_C: (f64, f64) = (40.0, 85.0);

impl PlanForm {
    /// Understands the sentence, as typed at `now` in the kitchen's `zone`.
    ///
    /// ```
    /// use hold_steady_core::plan::{KitchenRules, PlanForm};
    /// use hold_steady_core::units::Units;
    /// let typed = PlanForm { food: "beef-strip".into(), thickness: "1 1/4 in".into(), bath: "131f".into(), ..Default::default() };
    /// let now = "2026-11-25T16:00:00Z".parse()?;
    /// let reading = typed.read(Units::default(), now, &jiff::tz::TimeZone::UTC, &KitchenRules::default());
    /// let request = reading.request.expect("all of it is understood");
    /// assert_eq!((request.thickness_mm, request.bath_c), (31.75, 55.0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn read(&self, units: Units, now: Timestamp, zone: &TimeZone, rules: &KitchenRules) -> Reading {
        let mut form = self.clone();
        let mut errors = BTreeMap::new();
        let fault = |errors: &mut BTreeMap<_, _>, field: &'static str, text: String| {
            errors.insert(field, text);
        };
        let foods = &catalogue().foods;
        let food = if form.food.is_empty() {
            form.food.clone_from(&foods[0].id);
            Some(&foods[0])
        } else {
            let found = catalogue().food(&form.food).filter(|f| f.plannable);
            if found.is_none() {
                fault(
                    &mut errors,
                    "food",
                    "This cut is not in the catalogue. Choose one of the list.".into(),
                );
            }
            found
        };
        let known = food.unwrap_or(&foods[0]);

        let default_thickness = Length::from_mm(known.thickness_mm.usual);
        // Nothing sent at all is the first visit; an emptied field is an answer, and a wrong one.
        let first_visit = *self == Self::default();
        if form.thickness.is_empty() && (first_visit || self.thickness_never_sent()) {
            form.thickness = units.length(default_thickness);
        }
        // Bare numbers mean what they meant when they were typed; after a switch of units they are
        // shown again in the new ones.
        let typed_in = Units::from_code(&form.typed_in).unwrap_or(units);
        form.typed_in = units.code().into();
        let thickness = check_thickness(&form.thickness, known, typed_in, units)
            .map_err(|e| fault(&mut errors, "thickness", e.to_string()))
            .ok();
        if let Some(length) = thickness.filter(|_| typed_in.length != units.length) {
            form.thickness = units.length(length);
        }

        let from = match form.from.as_str() {
            "" => From::default(),
            id => From::ALL.into_iter().find(|f| f.id() == id).unwrap_or_else(|| {
                fault(&mut errors, "from", "Choose the refrigerator, the counter or the freezer.".into());
                From::default()
            }),
        };
        form.from = from.id().into();

        let bath =
            read_doneness(&mut form, known, typed_in, units).map_err(|e| fault(&mut errors, "bath", e)).ok();
        if let Some(t) = bath.filter(|_| typed_in.temperature != units.temperature) {
            form.bath = units.temperature(t);
        }

        let intact = match form.intact.as_str() {
            "whole" => Some(true),
            "bladed" => Some(false),
            "" => None,
            _ => {
                fault(&mut errors, "intact", "Choose whole or bladed.".into());
                None
            }
        };
        let at_risk = match form.guests.as_str() {
            "" | "well" => false,
            "at-risk" => true,
            _ => {
                fault(&mut errors, "guests", "Choose whether a guest is at risk.".into());
                true
            }
        };
        form.guests = if at_risk { "at-risk" } else { "well" }.into();

        let ready = resolve_ready(&form.ready, now, zone)
            .map_err(|e| fault(&mut errors, "ready", e.to_string()))
            .ok();
        let request = match (food, thickness, bath, ready, errors.is_empty()) {
            (Some(food), Some(thickness), Some(bath), Some(ready), true) => Some(PlanRequest {
                food: food.id.clone(),
                thickness_mm: thickness.mm(),
                from,
                bath_c: bath.value(),
                intact,
                at_risk,
                ready_at: match ready {
                    Ready::Soonest => None,
                    Ready::At(t) => Some(t),
                },
                rules: rules.clone(),
            }),
            _ => None,
        };
        Reading { form, request, errors }
    }

    /// A link may leave the thickness out; a form that was on a screen never does.
    fn thickness_never_sent(&self) -> bool {
        self.done_was.is_empty() && self.food_was.is_empty()
    }
}

/// Fills the temperature from the doneness or the doneness from the temperature, whichever of the
/// two was changed last, and reads the temperature.
fn read_doneness(form: &mut PlanForm, food: &Food, typed_in: Units, units: Units) -> Result<Celsius, String> {
    const USUAL: &str = "medium-rare";
    let doneness_changed = !form.done.is_empty() && form.done != form.done_was;
    let food_changed = !form.food_was.is_empty() && form.food_was != form.food;
    form.food_was.clone_from(&form.food);
    let first_time = form.done_was.is_empty();
    let fill = if first_time { form.bath.is_empty() } else { doneness_changed || food_changed };
    let level = food.doneness(if form.done.is_empty() { USUAL } else { &form.done });
    if let Some(level) = level.filter(|_| fill) {
        form.bath = units.temperature(Celsius::new(level.c));
    }
    let bath = parse_temperature(&form.bath, typed_in.temperature)
        .and_then(|t| check_bath(t, units))
        .map_err(|e| e.to_string());
    // A temperature typed to a tenth of a degree Fahrenheit is within this of the level's own.
    const SAME_K: f64 = 0.06;
    if let Ok(t) = &bath {
        let nearest = food.nearest_doneness(t.value());
        let same = (nearest.c - t.value()).abs() <= SAME_K;
        form.done = if same { nearest.id.clone() } else { "own".into() };
    } else if form.done.is_empty() {
        form.done = "own".into();
    }
    form.done_was.clone_from(&form.done);
    bath
}

fn check_thickness(text: &str, food: &Food, typed_in: Units, units: Units) -> Result<Length, QuantityError> {
    let length = parse_length(text, typed_in.length)?;
    let range = food.thickness_mm;
    if (range.low..=range.high).contains(&length.mm()) {
        return Ok(length);
    }
    let hint = if length.mm() < range.low {
        "A piece this thin needs no bath: sear it."
    } else {
        "Portion it thinner: it would warm too slowly to be safe."
    };
    Err(QuantityError::OutOfRange {
        shown: units.length(length),
        low: units.length(Length::from_mm(range.low)),
        high: units.length(Length::from_mm(range.high)),
        hint: hint.into(),
    })
}

fn check_bath(t: Celsius, units: Units) -> Result<Celsius, QuantityError> {
    let (low, high) = BATH_RANGE_C;
    if (low..=high).contains(&t.value()) {
        return Ok(t);
    }
    let hint = if t.value() < low {
        "No beef is cooked this cold."
    } else if units.temperature == crate::units::TemperatureUnit::C && t.value() <= 185.0 {
        "If you meant degrees Fahrenheit, type an F after the number."
    } else {
        "That is hotter than any bath for beef."
    };
    Err(QuantityError::OutOfRange {
        shown: units.temperature(t),
        low: units.temperature(Celsius::new(low)),
        high: units.temperature(Celsius::new(high)),
        hint: hint.into(),
    })
}

impl PlanRequest {
    /// The food.
    ///
    /// Falls back to the first of the catalogue for a record whose food is gone; none has gone yet.
    #[must_use]
    pub fn food(&self) -> &'static Food {
        catalogue().food(&self.food).unwrap_or(&catalogue().foods[0])
    }

    /// What a cook of it is called, in a reader's units: `Strip steak, 32 mm, 55 °C`.
    #[must_use]
    pub fn title(&self, units: Units) -> String {
        let name = &self.food().name;
        let mut letters = name.chars();
        let name: String =
            letters.next().map(|c| c.to_uppercase().chain(letters).collect()).unwrap_or_default();
        format!(
            "{name}, {}, {}",
            units.length(Length::from_mm(self.thickness_mm)),
            units.temperature(Celsius::new(self.bath_c))
        )
    }

    /// Whole, for the rules: an open question counts as bladed.
    #[must_use]
    pub fn counts_as_intact(&self) -> bool {
        self.intact == Some(true)
    }

    /// The piece at the middle of its spreads, starting at `start_c`.
    pub(super) fn piece(&self, start_c: f64, clock_after_min: f64) -> Piece<'static> {
        let food = self.food();
        let set_c = self.bath_c - self.rules.bath_error_c;
        let shape = Shape::Slab(Length::from_mm(self.thickness_mm));
        Piece {
            intact: self.counts_as_intact(),
            at_risk: self.at_risk,
            profile: profile(&self.rules.profile).unwrap_or(&profiles()[0]),
            clock_before_min: self.from.start().clock_min,
            clock_after_min,
            ..Piece::new(food, shape, start_c, BathTrace::constant(set_c))
        }
    }

    /// The slow end of the spreads: thicker, colder.
    #[must_use]
    pub fn slow_piece(&self, clock_after_min: f64) -> Piece<'static> {
        self.piece(self.from.start().slow_c, clock_after_min)
            .spread(self.rules.thickness_spread_mm, -self.rules.bath_spread_k)
    }

    /// The middle.
    #[must_use]
    pub fn nominal_piece(&self, clock_after_min: f64) -> Piece<'static> {
        self.piece(self.from.start().nominal_c, clock_after_min)
    }

    /// The fast end of the spreads: thinner, warmer.
    #[must_use]
    pub fn fast_piece(&self, clock_after_min: f64) -> Piece<'static> {
        self.piece(self.from.start().fast_c, clock_after_min)
            .spread(-self.rules.thickness_spread_mm, self.rules.bath_spread_k)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{LengthUnit, TemperatureUnit};

    fn read(form: &PlanForm) -> Reading {
        let now = "2026-11-25T16:00:00Z".parse().expect("an instant");
        form.read(Units::default(), now, &TimeZone::UTC, &KitchenRules::default())
    }

    #[test]
    fn an_empty_sentence_is_filled_and_leaves_the_question_open() {
        let r = read(&PlanForm::default());
        let request = r.request.expect("defaults are complete");
        assert_eq!(request.food, "beef-strip");
        assert_eq!(request.bath_c, 55.0);
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
        assert_eq!(typed.request.as_ref().map(|r| r.bath_c), Some(56.2));
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
        let r = form.read(units, now, &TimeZone::UTC, &KitchenRules::default());
        let request = r.request.expect("understood");
        assert_eq!((request.thickness_mm, request.bath_c), (38.1, 55.0));
    }

    #[test]
    fn switching_units_changes_what_is_shown_and_never_what_is_meant() {
        let now = "2026-11-25T16:00:00Z".parse().expect("an instant");
        let typed = PlanForm { thickness: "38.1".into(), bath: "55".into(), ..PlanForm::default() };
        let metric = read(&typed).form;
        let inches = Units { temperature: TemperatureUnit::F, length: LengthUnit::In };
        let r = metric.read(inches, now, &TimeZone::UTC, &KitchenRules::default());
        assert_eq!((r.form.thickness.as_str(), r.form.bath.as_str()), ("1 1/2 in", "131 °F"));
        let request = r.request.expect("understood");
        assert_eq!((request.thickness_mm, request.bath_c), (38.1, 55.0));
        // An out-of-range number is still shown as typed.
        let wrong = PlanForm { thickness: "900".into(), ..metric };
        let r = wrong.read(inches, now, &TimeZone::UTC, &KitchenRules::default());
        assert_eq!(r.form.thickness, "900");
    }
}
