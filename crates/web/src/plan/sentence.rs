//! The sentence: every blank and choice of it, and what is said beside it.

use hold_steady_core::bath::{Heat, Water};
use hold_steady_core::food::{Doneness, FishKind, Food, FoodClass, School, catalogue};
use hold_steady_core::plan::{DIALLED, Equipment, From, Guest, OWN_TEMPERATURE, PlanForm, Reading};
use hold_steady_core::prep::{bag, salt};
use hold_steady_core::units::{Celsius, Units};

use crate::app::{Lists, PageError};
use crate::drawing::{Scale, scales};

/// A choice of a list.
pub struct Choice {
    pub value: String,
    pub text: String,
    pub chosen: bool,
}

fn choice(value: &str, text: &str, now: &str) -> Choice {
    Choice { value: value.into(), text: text.into(), chosen: value == now }
}

/// A question of the sentence answered by choosing: open until somebody has.
fn question(open: &str, choices: &[(&str, &str)], now: &str) -> Vec<Choice> {
    let mut all: Vec<Choice> = choices.iter().map(|(v, t)| choice(v, t, now)).collect();
    if !all.iter().any(|c| c.chosen) {
        all.insert(0, Choice { value: String::new(), text: open.into(), chosen: true });
    }
    all
}

/// A question of the sentence with its field.
pub struct Question {
    pub field: &'static str,
    pub label: &'static str,
    pub choices: Vec<Choice>,
}

impl Question {
    /// The answers there are, without the open one.
    pub fn answers(&self) -> impl Iterator<Item = &Choice> {
        self.choices.iter().filter(|c| !c.value.is_empty())
    }
}

/// A typed blank of the sentence, with the words around it.
pub struct Blank {
    pub field: &'static str,
    pub label: &'static str,
    pub before: &'static str,
    pub value: String,
    pub after: &'static str,
}

/// The sentence with everything that can be chosen in it.
pub struct Sentence {
    pub form: PlanForm,
    /// How many, where it is not one.
    pub count: String,
    /// What stands in the food's blank: its name, or what was typed.
    pub food_name: String,
    pub food_href: Option<String>,
    /// Foods that what was typed could mean: name and address.
    pub could_be: Vec<(String, String)>,
    /// Sizes asked of this food.
    pub blanks: Vec<Blank>,
    /// Which of its kind it is, chosen in the sentence: its size, what an egg is for.
    pub kinds: Vec<Question>,
    /// Questions asked of this food whose answer moves the times or the verdict: buttons above the answer.
    pub asks: Vec<Question>,
    pub starts: Vec<Choice>,
    /// Asked of a piece that was out of the refrigerator: for how long.
    pub asks_out: bool,
    /// Whether the water is moved.
    pub water: Vec<Choice>,
    pub doneness: Vec<Choice>,
    pub guests: Vec<Choice>,
    /// The vessels it may go into; empty where the kitchen has entered none.
    pub vessels: Vec<Choice>,
    /// Whether the bath is hot already.
    pub heated: Vec<Choice>,
    /// What of the quiet line differs from how this kitchen does it.
    pub apart: Vec<String>,
    /// Said at once when the food is chosen.
    pub says: Option<String>,
    pub hints: Vec<String>,
    pub scale: String,
    /// Temperatures cooks argue for, and what they say for them.
    pub schools: Vec<(String, String)>,
    pub no_table_below: Option<String>,
    pub slider: Slider,
    pub prep: PrepBlanks,
    errors: std::collections::BTreeMap<&'static str, String>,
    meant: std::collections::BTreeMap<&'static str, String>,
    /// After a change: whether these must be shown anew.
    pub swap_food: bool,
    pub swap_asked: bool,
    pub swap_thickness: bool,
    pub swap_out: bool,
    pub swap_bath: bool,
    pub swap_done: bool,
    pub swap_scale: bool,
    pub swap_water: bool,
    pub swap_pieces: bool,
}

/// The blanks of the work before the bath.
pub struct PrepBlanks {
    /// Whether it is bagged and salted at all.
    pub bagged: bool,
    pub salting: Vec<Choice>,
    pub salted: Vec<Choice>,
    pub air: Vec<Choice>,
    pub seals: Vec<Choice>,
    pub lie: Vec<Choice>,
    pub hold: Vec<Choice>,
    pub usual_salt: String,
}

impl PrepBlanks {
    fn new(food: &Food, form: &PlanForm) -> Self {
        let list =
            |choices: &[(&str, &str)], now: &str| choices.iter().map(|(v, t)| choice(v, t, now)).collect();
        let p = &form.prep;
        let ahead = [
            ("12", "12 h ahead"),
            ("24", "a day ahead"),
            ("48", "two days ahead"),
            ("72", "three days ahead"),
        ];
        let salting =
            [("", "when it suits the bath"), ("before", "just before"), ("after", "after the bath")];
        let salting = [&salting[..], &ahead[..], &[("never", "not at all")]].concat();
        Self {
            bagged: food.is_bagged(),
            salting: list(&salting, &p.salting),
            salted: list(
                &[
                    ("", "not salted yet"),
                    ("piece", "this piece is salted"),
                    ("batch", "salted with its batch, before freezing"),
                ],
                &p.salted,
            ),
            air: bag::airs()
                .iter()
                .enumerate()
                .map(|(i, a)| {
                    let value = if i == 0 { "" } else { a.id.as_str() };
                    choice(value, &a.name, &p.air)
                })
                .collect(),
            seals: list(
                &[("", "seals: choose for me"), ("1", "one seal"), ("2", "two seals or bags")],
                &p.seals,
            ),
            lie: list(&[("", "apart"), ("touching", "touching"), ("stacked", "one on the other")], &p.lie),
            hold: list(
                &[("", "clipped to the wall"), ("rack", "in a rack"), ("ballast", "weighed down")],
                &p.hold,
            ),
            usual_salt: format!("{} %", hold_steady_core::units::trimmed(salt::usual(food).value, 2)),
        }
    }
}

/// The doneness slider: degrees of the reader.
pub struct Slider {
    pub low: String,
    pub high: String,
    pub step: &'static str,
    pub value: String,
    pub unit: &'static str,
}

/// What one school or another says of a temperature.
fn schools(food: &Food, units: Units) -> Vec<(String, String)> {
    let school = |s: &School| (units.temperature(units.settable(s.c)), s.says.clone());
    food.schools.iter().map(school).collect()
}

impl Sentence {
    /// `usual` is whether the kitchen's own water is moved.
    pub fn new(
        reading: Reading,
        Lists { pantry, equipment, guests }: &Lists,
        usual: Water,
        units: Units,
    ) -> Result<Self, PageError> {
        let water = Water::from_id(&reading.form.water).unwrap_or(usual);
        let form = reading.form;
        let known = pantry.food(&form.food);
        let food = known.or_else(|| pantry.food(&form.food_was)).unwrap_or(catalogue().begins_with());
        let bath = reading.request.as_ref().map_or(food.usual_doneness().c, |r| r.bath_c);
        let several = form.prep.pieces.trim().parse::<u32>().is_ok_and(|n| n > 1);
        let dialled = pantry.dialled_c(food).map(|c| units.settable(c));
        let scale = Scale { food, dialled_c: dialled, units };
        let name_of = |id: &String| pantry.food(id).map(|f| (f.name.clone(), format!("/plan?food={}", f.id)));
        let count = form.prep.pieces.trim().to_owned();
        Ok(Self {
            count: if several { count } else { String::new() },
            food_name: match known {
                Some(f) if several => f.plural.clone(),
                Some(f) => f.name.clone(),
                None => form.food.clone(),
            },
            food_href: known.map(|f| format!("/foods/{}", f.id)),
            could_be: reading.could_be.iter().filter_map(name_of).collect(),
            blanks: blanks(food, &form),
            kinds: kinds(food, &form),
            asks: asks(food, &form, units),
            starts: question("where, this time?", &starts(food), &form.from),
            asks_out: From::ALL.into_iter().any(|f| f.id() == form.from && f.start().out),
            apart: apart(equipment, usual, &form),
            water: water_choices(water),
            doneness: doneness(food, dialled, &form, units),
            guests: for_whom(guests, &form.guests),
            vessels: vessels(equipment, &form.vessel),
            heated: heated(equipment, &form),
            says: food.says.as_ref().map(|s| units.sentence(&s.text)),
            hints: hold_steady_core::words::hints(food, units),
            scale: scales(&scale)?,
            no_table_below: food.no_table_below_c().map(|c| units.temperature(c)),
            schools: schools(food, units),
            slider: slider(food, bath, units),
            prep: PrepBlanks::new(food, &form),
            errors: reading.errors,
            meant: reading.meant,
            form,
            swap_food: false,
            swap_asked: false,
            swap_thickness: false,
            swap_out: false,
            swap_bath: false,
            swap_done: false,
            swap_scale: false,
            swap_water: false,
            swap_pieces: false,
        })
    }

    /// The same, as the answer to `typed`: says what must be shown anew. The field under the cook's
    /// fingers is never among it, for what was typed there is kept.
    pub fn after(mut self, typed: &PlanForm, showed_out: bool) -> Self {
        let known = self.food_href.is_some();
        let other_use = self.form.egg_use != typed.egg_use;
        self.swap_asked = known && (self.form.food != typed.food_was || other_use);
        self.swap_out = known && !self.swap_asked && self.asks_out != showed_out;
        self.swap_food = known && typed.food != self.food_name;
        let kept = !self.swap_asked;
        self.swap_thickness = kept && self.form.thickness != typed.thickness;
        self.swap_bath = kept && self.form.bath != typed.bath;
        self.swap_done = kept && self.form.done != typed.done;
        self.swap_scale = self.swap_asked || self.swap_bath;
        self.swap_pieces = kept && self.form.prep.pieces != typed.prep.pieces;
        self.swap_water = kept && !self.form.vessel.is_empty() && self.form.water != typed.water;
        self
    }

    /// What is wrong with a field; empty when nothing is.
    pub fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }

    /// What may have been meant in a field.
    pub fn meant(&self, field: &str) -> Option<&String> {
        self.meant.get(field)
    }

    /// Whether something is wrong in the quiet line: it is open then.
    pub fn wrong_apart(&self) -> bool {
        ["pieces", "water", "time", "vessel", "heated"].into_iter().any(|field| self.wrong(field))
    }

    pub fn wrong(&self, field: &str) -> bool {
        self.errors.contains_key(field)
    }

    /// Every field with what a reader calls it, in the order of the sentence.
    pub fn fields(&self) -> [(&'static str, &'static str); 23] {
        [
            ("food", "Food"),
            ("thickness", "Size"),
            ("width", "Width"),
            ("length", "Length"),
            ("size", "Size"),
            ("use", "Use"),
            ("fill", "Filling"),
            ("glass", "Glass"),
            ("from", "From where"),
            ("out", "Out for"),
            ("water", "Water"),
            ("bath", "Bath"),
            ("time", "Time"),
            ("intact", "Whole or bladed"),
            ("parasites", "Parasites"),
            ("prepared", "Before"),
            ("guests", "Guests"),
            ("ready", "Ready at"),
            ("vessel", "Vessel"),
            ("heated", "Bath now"),
            ("weight", "Weight"),
            ("salt", "Salt"),
            ("pieces", "Pieces"),
        ]
    }
}

/// What is asked anew when a kept plan is opened for another piece and other guests.
pub fn asked_anew(food: &Food, form: &PlanForm, units: Units) -> Vec<Question> {
    let starts: Vec<(&str, &str)> = starts(food);
    let from = question("where, this time?", &starts, &form.from);
    let guests = question("whom, this time?", &GUESTS, &form.guests);
    let mut all = vec![
        Question { field: "from", label: "From where", choices: from },
        Question { field: "guests", label: "For whom", choices: guests },
    ];
    all.extend(kinds(food, form).into_iter().filter(|q| q.field != "use"));
    all.extend(asks(food, form, units));
    all
}

/// What of the quiet line was said otherwise than this kitchen does it: `usual` is whether its water is moved.
fn apart(equipment: &Equipment, usual: Water, form: &PlanForm) -> Vec<String> {
    let said = |choices: Vec<Choice>| choices.into_iter().find(|c| c.chosen && !c.value.is_empty());
    let pieces = form.prep.pieces.trim();
    let time = form.time.trim();
    let water = said(water_choices(Water::from_id(&form.water).unwrap_or(usual)));
    [
        (!pieces.is_empty() && pieces != "1").then(|| format!("{pieces} pieces in a bag")),
        water.filter(|c| c.value != usual.id()).map(|c| format!("water {}", c.text)),
        (!time.is_empty()).then(|| format!("for {time}")),
        said(vessels(equipment, &form.vessel)).map(|c| format!("in {}", c.text)),
        said(heated(equipment, form)).map(|c| format!("the bath {}", c.text)),
    ]
    .into_iter()
    .flatten()
    .collect()
}

fn vessels(equipment: &Equipment, now: &str) -> Vec<Choice> {
    if equipment.vessels.is_empty() {
        return Vec::new();
    }
    let named = equipment.vessels.iter().map(|v| choice(&v.id.to_string(), &v.vessel.name, now));
    std::iter::once(choice("", "any vessel", now)).chain(named).collect()
}

/// Going in while the water warms is a choice where the kitchen has a vessel with a heater: how fast it warms follows
/// from that.
fn heated(equipment: &Equipment, form: &PlanForm) -> Vec<Choice> {
    let warms = equipment.vessels.iter().any(|v| v.vessel.heat == Heat::Heater) || form.heated == "warming";
    let warming = warms.then_some(("warming", "still warming when it goes in"));
    [("", "to be heated first"), ("hot", "hot already")]
        .into_iter()
        .chain(warming)
        .map(|(v, t)| choice(v, t, &form.heated))
        .collect()
}

/// Whom it can be for: anybody, or one of the kitchen's guests.
fn for_whom(guests: &[Guest], now: &str) -> Vec<Choice> {
    let mut all = question("whom, this time?", &GUESTS, now);
    all.extend(guests.iter().map(|g| {
        let text = if g.at_risk { format!("{}, at risk", g.name) } else { g.name.clone() };
        choice(&g.id.to_string(), &text, now)
    }));
    all
}

const GUESTS: [(&str, &str); 2] =
    [("well", "guests not at risk"), ("at-risk", "someone pregnant, under 5, old or ill")];

/// Where a food may come from.
fn starts(food: &Food) -> Vec<(&'static str, &'static str)> {
    From::ALL
        .into_iter()
        .filter(|f| food.may_come_from(f.id()))
        .map(|f| (f.id(), f.start().label.as_str()))
        .collect()
}

fn blanks(food: &Food, form: &PlanForm) -> Vec<Blank> {
    let blank = |field, label, before, value: &String, after| Blank {
        field,
        label,
        before,
        value: value.clone(),
        after,
    };
    if !food.sizes.is_empty() {
        return Vec::new();
    }
    if food.jar.is_some() {
        return vec![
            blank("thickness", "Jar, across inside", "", &form.thickness, " across, filled with "),
            blank("fill", "Filling", "", &form.fill, ", its glass at "),
            blank("glass", "Glass when it goes in", "", &form.glass, ", "),
        ];
    }
    if food.sides_mm.is_some() {
        return vec![
            blank("thickness", "Thickness", "", &form.thickness, " thick, "),
            blank("width", "Width", "", &form.width, " wide, "),
            blank("length", "Length", "", &form.length, " long, "),
        ];
    }
    let after = if food.shape == "slab" { " thick, " } else { " across, " };
    vec![blank("thickness", "Thickness", "", &form.thickness, after)]
}

/// Which of its kind it is: its size, what an egg is for.
fn kinds(food: &Food, form: &PlanForm) -> Vec<Question> {
    let mut all = Vec::new();
    if !food.sizes.is_empty() {
        let sizes: Vec<(&str, &str)> = food.sizes.iter().map(|s| (s.id.as_str(), s.name.as_str())).collect();
        let choices = question(crate::words::plan::WHICH_SIZE, &sizes, &form.size);
        all.push(Question { field: "size", label: "Size", choices });
    }
    if food.class == FoodClass::ShellEgg {
        let choices = vec![
            choice("soft", "soft, to eat", &form.egg_use),
            choice("raw", "pasteurised, to use raw", &form.egg_use),
        ];
        all.push(Question { field: "use", label: "What for", choices });
    }
    all
}

/// What moves the answer and is asked of each piece anew.
fn asks(food: &Food, form: &PlanForm, units: Units) -> Vec<Question> {
    let mut all = Vec::new();
    if food.class.asks_if_intact() {
        let choices = [("whole", "whole, never pierced"), ("bladed", "bladed, injected, rolled")];
        let choices = question("whole or bladed?", &choices, &form.intact);
        all.push(Question { field: "intact", label: "Whole or bladed", choices });
    }
    if food.class == FoodClass::Fish {
        let mut choices = vec![("frozen", "frozen for parasites"), ("none", "not frozen for parasites")];
        // Only a kind that can be exempt is offered to be.
        if let Some(kind) = food.traits.exempt {
            choices.insert(1, ("exempt", exempt_words(kind)));
        }
        let choices = question("frozen for parasites?", &choices, &form.parasites);
        all.push(Question { field: "parasites", label: "Frozen for parasites", choices });
    }
    if let Some(p) = &food.prepared {
        let (done, not_done) = (units.sentence(&p.done), units.sentence(&p.not_done));
        let choices = [("yes", done.as_str()), ("no", not_done.as_str())];
        let choices = question("raw, or not?", &choices, &form.prepared);
        all.push(Question { field: "prepared", label: "What was done before", choices });
    }
    all
}

/// What exempts a kind of fish from freezing, in words.
pub fn exempt_words(kind: FishKind) -> &'static str {
    match kind {
        FishKind::Tuna => "a tuna the code lists, not bonito",
        FishKind::Farmed => "farmed, fed on pellets",
    }
}

fn water_choices(now: Water) -> Vec<Choice> {
    [(Water::Circulated, "moved by a pump"), (Water::Still, "standing still")]
        .into_iter()
        .map(|(water, text)| choice(water.id(), text, now.id()))
        .collect()
}

fn doneness(food: &Food, dialled: Option<Celsius>, form: &PlanForm, units: Units) -> Vec<Choice> {
    // What a level asks for stands beside it: at the food's usual thickness it would be refused.
    let named = |d: &Doneness| match d.thinner_mm {
        Some(mm) => format!("{} (no thicker than {})", d.name, units.length_at_most(mm)),
        None => d.name.clone(),
    };
    let mut all: Vec<Choice> = food.doneness.iter().map(|d| choice(&d.id, &named(d), &form.done)).collect();
    // With which temperature stands right after it.
    if dialled.is_some() {
        all.push(choice(DIALLED, "as this kitchen likes it", &form.done));
    }
    if form.done == OWN_TEMPERATURE {
        all.push(choice(OWN_TEMPERATURE, "a temperature of my own", OWN_TEMPERATURE));
    }
    all
}

fn slider(food: &Food, bath_c: Celsius, units: Units) -> Slider {
    let celsius = units.temperature_symbol() == "°C";
    let text = |v: f64| hold_steady_core::units::trimmed(v, 1);
    let step = if celsius { 0.5 } else { 1.0 };
    let (low, high) = (units.degrees(food.bath_c.low), units.degrees(food.bath_c.high));
    Slider {
        low: text((low / step).ceil() * step),
        high: text((high / step).floor() * step),
        step: if celsius { "0.5" } else { "1" },
        value: text(units.degrees(bath_c)),
        unit: units.temperature_symbol(),
    }
}
