//! A food's numbers, in words, each with where it comes from.

use hold_steady_core::figures::{Basis, preparing};
use hold_steady_core::food::{Food, FoodClass, Pantry};
use hold_steady_core::prep::{bag, salt};
use hold_steady_core::safety::{organisms, profiles};
use hold_steady_core::units::{Celsius, Kelvin, Length, Units, capitalised, trimmed};

use crate::app::duration;

/// One number.
pub struct Row {
    pub what: String,
    pub value: String,
    pub source: String,
    pub basis: Basis,
}

/// Numbers that belong together.
pub struct Section {
    pub title: &'static str,
    pub rows: Vec<Row>,
    /// Their source, where they have but one: it is said once.
    pub common: Option<(String, Basis)>,
}

/// A food as it is shown.
pub struct FoodView {
    pub id: String,
    pub title: String,
    pub group: String,
    pub about: String,
    pub also: String,
    pub says: Option<String>,
    pub class: &'static str,
    /// For a food of the kitchen's own: the food it was copied from.
    pub copied_from: Option<(String, String)>,
    pub own: bool,
    pub sections: Vec<Section>,
}

impl FoodView {
    pub fn new(food: &Food, pantry: &Pantry, units: Units) -> Self {
        let own = pantry.own(&food.id);
        let copied_from = own.and_then(|o| pantry.food(&o.base)).map(|b| (b.id.clone(), b.name.clone()));
        Self {
            id: food.id.clone(),
            title: capitalised(&food.name),
            group: food.group.clone(),
            about: units.sentence(&food.about),
            also: food.synonyms.join(", "),
            says: food.says.as_ref().map(|s| units.sentence(&s.text)),
            class: food.class.words(),
            copied_from,
            own: own.is_some(),
            sections: [
                doneness(food, pantry.dialled_c(food), units),
                best(food, units),
                piece(food, units),
                heat(food, units),
                before(food, own.map_or(food.id.as_str(), |o| o.base.as_str()), units),
                safety(food, units),
                after(food, units),
            ]
            .into_iter()
            .map(|section| said_once(section, units))
            .collect(),
        }
    }
}

fn said_once(mut section: Section, units: Units) -> Section {
    section.rows.iter_mut().for_each(|r| r.source = units.sentence(&r.source));
    let first = section.rows.first().map(|r| (r.source.clone(), r.basis));
    let same = |r: &Row| first.as_ref().is_some_and(|(s, b)| *s == r.source && *b == r.basis);
    if section.rows.len() > 1 && section.rows.iter().all(same) {
        section.common = first;
    }
    section
}

fn row(what: impl Into<String>, value: impl Into<String>, source: &str, basis: Basis) -> Row {
    Row { what: what.into(), value: value.into(), source: source.into(), basis }
}

fn section(title: &'static str, rows: Vec<Row>) -> Section {
    Section { title, rows, common: None }
}

fn degrees(c: Celsius, units: Units) -> String {
    units.temperature(c)
}

const CHOICE: &str = "Decided here: what this application can plan";
const PRACTICE: &str = "Common practice";

fn doneness(food: &Food, dialled: Option<Celsius>, units: Units) -> Section {
    let levels = food.doneness.iter().map(|d| {
        let usual = if d.id == food.usual { ", the usual" } else { "" };
        row(format!("{}{usual}", d.name), degrees(d.c, units), &d.source, d.basis)
    });
    let schools = food
        .schools
        .iter()
        .map(|s| row(format!("school: {}", s.says), degrees(s.c, units), &s.source, s.basis));
    let ours = dialled.map(|c| {
        row("as this kitchen likes it", degrees(c, units), "Dialled in by this kitchen", Basis::Kitchen)
    });
    let range = row(
        "baths that can be planned",
        format!("{} to {}", degrees(food.bath_c.low, units), degrees(food.bath_c.high, units)),
        CHOICE,
        Basis::Trade,
    );
    section("Doneness, by bath temperature", levels.chain(schools).chain(ours).chain([range]).collect())
}

fn best(food: &Food, units: Units) -> Section {
    let t = &food.texture;
    let rows = t.rows.iter().map(|r| {
        let gives = r.gives.as_ref().map_or_else(String::new, |g| format!("; {g}"));
        let value = format!("{} to {}{gives}", duration(r.from_min), duration(r.until_min));
        row(degrees(r.c, units), value, &t.source, t.basis)
    });
    let after = row("after that", format!("it {}", t.after), &t.source, t.basis);
    section("At its best, time in the bath", rows.chain([after]).collect())
}

fn piece(food: &Food, units: Units) -> Section {
    let length = |l: Length| units.length(l);
    let range = |u: &hold_steady_core::food::Usual<Length>| {
        format!("{}, from {} to {}", length(u.usual), length(u.low), length(u.high))
    };
    let mut rows = vec![row("solved as a", food.shape.clone(), CHOICE, Basis::Trade)];
    if food.sizes.is_empty() {
        let what = if food.jar.is_some() { "jar, across inside" } else { "thickness" };
        rows.push(row(what, range(&food.thickness_mm), PRACTICE, Basis::Trade));
    }
    if let Some(sides) = &food.sides_mm {
        rows.push(row("width", range(&sides.width), PRACTICE, Basis::Trade));
        rows.push(row("length", range(&sides.length), PRACTICE, Basis::Trade));
    }
    if let Some(jar) = &food.jar {
        let fill = &jar.fill_ml;
        let text = format!(
            "{}, from {} to {}",
            units.volume(fill.usual),
            units.volume(fill.low),
            units.volume(fill.high)
        );
        rows.push(row("filling", text, PRACTICE, Basis::Trade));
    }
    rows.extend(food.sizes.iter().map(|s| {
        let value =
            format!("{} g, as a ball {} across", trimmed(s.grams.value(), 1), length(s.diameter_mm()));
        row(&s.name, value, "Weight in the middle of its grade; 1.075 g/cm³ (common practice)", Basis::Trade)
    }));
    section("The piece", rows)
}

fn heat(food: &Food, units: Units) -> Section {
    let c = food.composition.fractions();
    let shares = [
        ("water", c.water),
        ("protein", c.protein),
        ("fat", c.fat),
        ("carbohydrate", c.carbohydrate),
        ("fibre", c.fibre),
        ("ash", c.ash),
    ];
    let mut rows: Vec<Row> = shares
        .into_iter()
        .filter(|(_, x)| *x > 0.0)
        .map(|(name, x)| {
            row(
                name,
                format!("{} %", trimmed(x * 100.0, 2)),
                &food.composition.source,
                food.composition.basis,
            )
        })
        .collect();
    let source = "Choi and Okos 1986, from the composition";
    let (density, conductivity, heat) = c.bulk(40.0, 0.0);
    let at = degrees(Celsius::new(40.0), units);
    rows.push(row(
        "freezing begins at",
        degrees(Celsius::new(food.freezing.value), units),
        &food.freezing.source,
        food.freezing.basis,
    ));
    rows.push(row(format!("density at {at}"), format!("{density:.0} kg/m³"), source, Basis::Computed));
    rows.push(row(format!("specific heat at {at}"), format!("{heat:.0} J/kg K"), source, Basis::Computed));
    rows.push(row(
        format!("conductivity at {at}"),
        format!("{conductivity:.3} W/m K"),
        source,
        Basis::Computed,
    ));
    let d = c.diffusivity(40.0) * 1e6;
    rows.push(row(format!("diffusivity at {at}"), format!("{d:.3} mm²/s"), source, Basis::Computed));
    let surface = food.surface();
    rows.push(row(
        format!("heat transfer: {}", surface.what),
        format!("{:.0} W/m² K", surface.w_m2k),
        &surface.source,
        surface.basis,
    ));
    rows.push(row(
        "heated through within",
        format!("{} of the bath", units.temperature_difference(Kelvin::new(food.within_k.value))),
        &food.within_k.source,
        food.within_k.basis,
    ));
    section("How heat goes through it", rows)
}

/// Before the bath: salt, and what makes it float.
fn before(food: &Food, base: &str, units: Units) -> Section {
    let salt = match &food.unsalted {
        Some(why) => row("salt", why.clone(), PRACTICE, Basis::Trade),
        None if !food.is_bagged() => row("salt", "none through a shell or a lid", PRACTICE, Basis::Trade),
        None => {
            let share = salt::usual(food);
            row("salt", format!("{} % of its weight", trimmed(share.value, 2)), &share.source, share.basis)
        }
    };
    let diffusion = &preparing().diffusion_m2_s;
    let spreads = row(
        "salt spreads",
        format!("{:.1}·10⁻¹⁰ m²/s at {}", diffusion.value * 1e10, degrees(Celsius::new(5.0), units)),
        &diffusion.source,
        diffusion.basis,
    );
    let pores = bag::pores(food, base).map(|p| {
        row("air in it", format!("{} % of its volume", trimmed(p.value * 100.0, 1)), &p.source, p.basis)
    });
    let salted = salt::is_salted(food).then_some(spreads);
    section("Before the bath", [salt].into_iter().chain(salted).chain(pores).collect())
}

fn safety(food: &Food, units: Units) -> Section {
    let mut rows: Vec<Row> = Vec::new();
    let killed = food.class.is_animal() && food.class != FoodClass::Ferment;
    for o in organisms(&food.kill).iter().filter(|_| killed) {
        let more = if o.target(true) > o.target(false) {
            format!(" ({} for a guest at risk)", trimmed(o.target(true), 1))
        } else {
            String::new()
        };
        let second = o.second_point.map_or_else(String::new, |p| {
            format!(", {} min at {}", trimmed(p.d_min, 2), degrees(Celsius::new(p.d_ref_c), units))
        });
        let value = format!(
            "{} log₁₀{more}; one takes {} min at {}{second}; a tenth of the time {} hotter",
            trimmed(o.target(false), 1),
            trimmed(o.d_min, 2),
            degrees(Celsius::new(o.d_ref_c), units),
            units.temperature_difference_fine(Kelvin::new(o.z_k)),
        );
        rows.push(row(&o.name, value, &o.source, o.basis));
    }
    for profile in profiles() {
        if let Some(table) = profile.table(food) {
            let value = format!(
                "{} temperatures from {} up",
                table.rows().len(),
                degrees(Celsius::new(table.first_row_c()), units)
            );
            rows.push(row(format!("{}, {}", profile.name, table.section), value, &table.source, table.basis));
        }
        if let Some(one) = profile.single_temperature(food.class, !food.class.is_mixed_through()) {
            rows.push(row(
                format!("{}, single temperature", profile.name),
                units.sentence(&one.text),
                &one.source,
                one.basis,
            ));
        }
    }
    let allergens =
        if food.allergens.list.is_empty() { "none".to_owned() } else { food.allergens.list.join(", ") };
    rows.push(row("allergens", allergens, &food.allergens.source, food.allergens.basis));
    section("Safety", rows)
}

fn after(food: &Food, units: Units) -> Section {
    let finish = food.finish();
    let steps = finish.steps.iter().map(|s| {
        row(duration(s.min), units.sentence(&format!("{}. {}", s.what, s.why)), &finish.source, finish.basis)
    });
    let looks = row("out of the bag", units.sentence(&food.looks.text), &food.looks.source, food.looks.basis);
    section("After the bath", [looks].into_iter().chain(steps).collect())
}
