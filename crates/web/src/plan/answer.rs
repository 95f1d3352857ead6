//! The answer: times, verdict, pictures and reasons, in words.

use hold_steady_core::bath::Heat;
use hold_steady_core::book::{BathRecord, LastTime};
use hold_steady_core::food::Pantry;
use hold_steady_core::plan::{
    Assumed, Guest, OWN_TEMPERATURE, OpenQuestion, Plan, PlanForm, PlanRequest, Sooner, SoonerWay,
    perhaps_today, plan, sooner,
};
use hold_steady_core::prep::PrepForm;
use hold_steady_core::safety::{Level, Reason, Rule};
use hold_steady_core::sear::FinishForm;
use hold_steady_core::units::{Celsius, Minutes, Units, WallClock, capitalised};
use hold_steady_core::words::{self, Before, Explanation, before, explain};
use jiff::Timestamp;
use uuid::Uuid;

use super::pictures::Pictures;
use crate::app::{PageError, clock_time, duration, near_time};

/// One clock time of the answer.
pub struct When {
    /// Identifier of its explanation.
    pub id: &'static str,
    pub label: String,
    pub time: String,
    /// The other end, or what belongs to it.
    pub note: String,
}

/// The answer as it is shown.
pub struct Answer {
    pub form: PlanForm,
    pub cook_id: Uuid,
    /// Chosen by the cook rather than as long as it needs.
    pub time_chosen: bool,
    pub bath_c: f64,
    /// The stretch of the ribbon it is pulled in, in words.
    pub gives: &'static str,
    pub needed: String,
    /// What the map hangs on: it is kept on the page while this stays the same.
    pub map_key: String,
    pub map_query: String,
    /// Temperatures side by side for a tough cut.
    pub tender: Vec<Tender>,
    /// How this food came out last.
    pub last: Option<CameOut>,
    /// What the temperature is called, where it is a level of the food.
    pub done: Option<String>,
    /// A line on how it looks and how it is finished.
    pub looks: String,
    pub finish: String,
    /// Where what a sear does to it stands.
    pub finish_href: Option<String>,
    pub allergens: String,
    /// The temperature is not the one this kitchen has dialled in, and could be kept as such.
    pub may_dial: Option<String>,
    pub dialled: Option<String>,
    pub refused: bool,
    pub level: &'static str,
    pub headline: String,
    pub lead: String,
    pub too_soon: Option<String>,
    /// Ways to be ready when it is wanted: where each leads, and what it is.
    pub sooner: Vec<(String, String)>,
    pub day: String,
    /// This evening, where a bare time was typed that is over for today and so tomorrow's was taken: where it leads, and when.
    pub perhaps: Option<(String, String)>,
    /// The water of its vessel, where one was named.
    pub water: Option<WaterView>,
    /// Drop, pull, serve.
    pub main: Vec<When>,
    /// The rest, in order of time.
    pub others: Vec<When>,
    pub caution: Option<String>,
    /// What the guest it is for must not eat of it.
    pub must_not: Option<String>,
    pub advice: Option<String>,
    /// What is assumed while a question is open.
    pub open_question: Option<&'static str>,
    /// A refusal that hangs on a question: its answers, each a way to the plan with it.
    pub ask: Vec<AskedAnswer>,
    pub reasons: Vec<Reason>,
    pub way_out: Option<String>,
    /// What would make it pasteurised can be asked for.
    pub may_be_more: bool,
    pub about: String,
    /// The ribbon, what a later pull gives, and the slice.
    pub drawn: Pictures,
    pub explanations: Vec<Explanation>,
    /// What is said before the bath.
    pub before: Before,
    /// Query of this sentence, for the plan as a file.
    pub query: String,
}

/// The water a plan goes into, in short.
pub struct WaterView {
    /// Its bench, with this plan's temperature and food.
    pub href: String,
    pub name: String,
    /// What stands in the way.
    pub says: Vec<String>,
    /// The figures, and whether to mind them.
    pub figures: Vec<(&'static str, String, bool)>,
    pub by_hand: bool,
}

impl WaterView {
    fn of(request: &PlanRequest, running: Option<&BathRecord>, units: Units) -> Option<Self> {
        let (named, bench) = request.vessel.as_ref().zip(request.bench())?;
        let answer = bench.answer();
        let lines = words::bench(&bench, &answer, units);
        let stops = lines.iter().filter(|l| l.tone == words::Tone::Stop).map(|l| l.text.clone());
        let says =
            running.and_then(|bath| words::clash(bath, request, units)).into_iter().chain(stops).collect();
        let figures = lines.iter().map(|l| (l.what, l.figure.clone(), l.tone != words::Tone::Good)).collect();
        let query = serde_urlencoded::to_string([
            ("target", units.temperature_exact(request.bath_c)),
            ("food", units.kilograms(named.kg)),
            ("thickness", units.length(request.thickness_mm)),
        ]);
        Some(Self {
            href: format!("/bath/vessels/{}?{}", named.id, query.unwrap_or_default()),
            name: named.vessel.name.clone(),
            by_hand: named.vessel.heat != Heat::Heater,
            says,
            figures,
        })
    }
}

/// An answer to a question that a refusal hangs on.
pub struct AskedAnswer {
    pub text: String,
    pub href: String,
}

/// How a food came out last, and what would be nearer.
pub struct CameOut {
    pub text: String,
    /// Bath and address of the same plan with it.
    pub nearer: Option<(String, String)>,
    pub next_time: String,
}

/// One of the temperatures set side by side.
pub struct Tender {
    pub bath: String,
    pub window: String,
    pub gives: String,
    pub href: String,
    pub chosen: bool,
}

impl Answer {
    pub fn new(
        (units, zone): (Units, &WallClock),
        form: &PlanForm,
        request: &PlanRequest,
        (pantry, running): (&Pantry, Option<&BathRecord>),
        last: Option<&LastTime>,
        now: Timestamp,
    ) -> Result<Self, PageError> {
        let plan = plan(request, now)?;
        let (food, refused) = (request.food(), plan.is_refused());
        let told = words::told(&plan.verdict, units);
        let reason = told.reasons.first().map_or("", |r| &r.text);
        let (headline, lead) = words::answer((&plan, request), form, reason, &|t| near_time(t, now, zone));
        let dialled = pantry.dialled_c(food);
        let degrees = |c: Celsius| units.temperature(c);
        let differs = dialled.is_none_or(|c| !request.is_at(c));
        let (map_key, map_query) = map_address(form, request, &plan)?;
        Ok(Self {
            form: form.clone(),
            cook_id: super::fresh_id(now),
            time_chosen: request.time_min.is_some(),
            bath_c: request.bath_c.value(),
            gives: gives(&plan),
            needed: duration(plan.needed_min),
            map_key,
            map_query,
            tender: tender(request, form, units)?,
            last: last.map(|last| came_out(last, request, form, units)).transpose()?,
            done: food.doneness.iter().find(|d| d.id == form.done).map(|d| d.name.clone()),
            looks: units.sentence(&food.looks.text),
            finish: food.finish().name.clone(),
            finish_href: food.finish().sears.then(|| finish_href(request, plan.times.pull, units)),
            allergens: food.allergens.list.join(", "),
            may_dial: (differs && !refused).then(|| degrees(request.bath_c)),
            dialled: dialled.map(degrees),
            refused,
            level: plan.verdict.level.id(),
            headline,
            lead,
            too_soon: words::too_soon(&plan, request, &|t| near_time(t, now, zone)),
            sooner: ways_sooner(form, request, &plan, (units, zone), now)?,
            water: WaterView::of(request, running, units),
            day: day_of(plan.times.serve, now, zone),
            perhaps: perhaps(form, now, zone)?,
            main: main_times(&plan, request, now, zone),
            others: other_times(&plan, now, zone),
            caution: plan.caution.as_ref().map(|c| words::caution(c, food, units)),
            must_not: None,
            advice: plan.advice.as_ref().map(|a| words::advice(a, units)),
            open_question: Assumed::of(&plan, request, form).map(words::assumed),
            ask: ask(&plan, request, form)?,
            may_be_more: plan.verdict.level == Level::ServeNow,
            reasons: told.reasons,
            way_out: told.way_out.map(|w| w.text),
            about: units.sentence(&food.about),
            drawn: Pictures::of(&plan, request, units, &|t| near_time(t, now, zone), zone)?,
            explanations: explain(request, &plan, units),
            before: before(request, plan.bath_min, plan.through.slow, units),
            query: super::encoded(form)?,
        })
    }
}

/// The words of the stretch it is pulled in: the map beside the answer says the same of the same point.
fn gives(plan: &Plan) -> &'static str {
    let at = plan.bands.iter().rfind(|b| b.from_min <= plan.bath_min + Minutes::new(1e-6));
    at.map_or("", |b| b.kind.words())
}

impl Answer {
    /// The same, with what stands against it for the guest it is for.
    pub fn for_guest(self, guests: &[Guest], request: &PlanRequest) -> Self {
        Self { must_not: words::must_not_eat(request, guests), ..self }
    }

    /// The sentence as form fields, to be carried by what is posted from the answer.
    pub fn carried(&self) -> Vec<(String, String)> {
        let text = serde_urlencoded::to_string(&self.form).unwrap_or_default();
        serde_urlencoded::from_str(&text).unwrap_or_default()
    }
}

/// The answers to that question, as ways to the plan with each.
fn ask(plan: &Plan, request: &PlanRequest, form: &PlanForm) -> Result<Vec<AskedAnswer>, PageError> {
    let Some(open) = OpenQuestion::of(plan, form) else { return Ok(Vec::new()) };
    let exempt = request.food().traits.exempt.filter(|_| plan.verdict.row == Rule::Fish);
    let exempt = exempt.map(|kind| ("exempt", super::sentence::exempt_words(kind)));
    words::answers_to(open)
        .iter()
        .copied()
        .chain(exempt)
        .map(|(value, text)| {
            let mut with = form.clone();
            open.answer(&mut with, value);
            Ok(AskedAnswer { text: capitalised(text), href: format!("/plan?{}", super::encoded(&with)?) })
        })
        .collect()
}

/// Key and query of the map: everything it hangs on.
fn map_address(form: &PlanForm, request: &PlanRequest, plan: &Plan) -> Result<(String, String), PageError> {
    let horizon = plan.map_horizon_min(request).value() as u32;
    // The map is the same for every bath, time and clock.
    let of_the_map = PlanForm {
        bath: String::new(),
        done: String::new(),
        done_was: String::new(),
        time: String::new(),
        ready: String::new(),
        prep: PrepForm {
            pieces: form.prep.pieces.clone(),
            lie: form.prep.lie.clone(),
            ..PrepForm::default()
        },
        ..form.clone()
    };
    let query = format!("{}&horizon={horizon}", super::encoded(&of_the_map)?);
    // FNV-1a: a short name for the query, the same in every process.
    let hash = query
        .bytes()
        .fold(0xcbf2_9ce4_8422_2325_u64, |h, b| (h ^ u64::from(b)).wrapping_mul(0x100_0000_01b3));
    Ok((format!("{hash:016x}"), query))
}

/// The same sentence with a bath of its own.
fn with_bath(form: &PlanForm, bath: &str) -> Result<String, PageError> {
    let with = PlanForm {
        bath: bath.to_owned(),
        done: OWN_TEMPERATURE.into(),
        done_was: OWN_TEMPERATURE.into(),
        time: String::new(),
        ..form.clone()
    };
    Ok(format!("/plan?{}", super::encoded(&with)?))
}

fn came_out(
    last: &LastTime,
    request: &PlanRequest,
    form: &PlanForm,
    units: Units,
) -> Result<CameOut, PageError> {
    let nearer = last.try_c.map(|c| units.settable(c)).filter(|c| !request.has_chosen(*c));
    let nearer = nearer.map(|c| units.temperature(c));
    Ok(CameOut {
        text: words::last_time(last, units),
        nearer: nearer.map(|bath| Ok::<_, PageError>((bath.clone(), with_bath(form, &bath)?))).transpose()?,
        next_time: last.next_time.clone(),
    })
}

fn tender(request: &PlanRequest, form: &PlanForm, units: Units) -> Result<Vec<Tender>, PageError> {
    let food = request.food();
    food.texture
        .side_by_side()
        .map(|r| {
            let bath = units.temperature(units.settable(r.c));
            Ok(Tender {
                window: format!("{} to {}", duration(r.from_min), duration(r.until_min)),
                gives: r.gives.clone().unwrap_or_default(),
                href: with_bath(form, &bath)?,
                chosen: request.has_chosen(r.c),
                bath,
            })
        })
        .collect()
}

/// Ways to be ready when it is wanted: where each leads, and what it is.
fn ways_sooner(
    form: &PlanForm,
    request: &PlanRequest,
    plan: &Plan,
    (units, zone): (Units, &WallClock),
    now: Timestamp,
) -> Result<Vec<(String, String)>, PageError> {
    let ways = sooner(request, plan, now, units.length_step())?;
    let clock = |t: Timestamp| near_time(t, now, zone);
    let shown = |w: &SoonerWay| {
        let mut with = form.clone();
        match w.way {
            Sooner::HotBath => {}
            Sooner::Thinner(most) => {
                (with.thickness, with.thickness_exact) = (units.length(most), String::new());
            }
            Sooner::PulledEarly(min) => with.time = duration(min),
        }
        if w.hot {
            with.heated = "hot".into();
        }
        Ok((format!("/plan?{}", super::encoded(&with)?), words::sooner(w, request, units, &clock)))
    };
    ways.iter().map(shown).collect()
}

/// The day of serving, where it is not today.
fn perhaps(form: &PlanForm, now: Timestamp, zone: &WallClock) -> Result<Option<(String, String)>, PageError> {
    let Some(evening) = perhaps_today(&form.ready, now, &zone.zone()) else { return Ok(None) };
    let ready = near_time(evening, now, zone);
    let query = super::encoded(&PlanForm { ready: ready.clone(), ..form.clone() })?;
    Ok(Some((format!("/plan?{query}"), ready)))
}

fn day_of(t: Timestamp, now: Timestamp, zone: &WallClock) -> String {
    let (then, today) = (t.to_zoned(zone.zone()).date(), now.to_zoned(zone.zone()).date());
    if then == today { String::new() } else { t.to_zoned(zone.zone()).strftime("%A %-d %B").to_string() }
}

fn main_times(plan: &Plan, request: &PlanRequest, now: Timestamp, zone: &WallClock) -> Vec<When> {
    let t = &plan.times;
    // Nobody is helped by a minute.
    const WORTH_SAYING_MIN: f64 = 5.0;
    let earlier = Minutes::between(t.drop_from, t.drop_by) >= Minutes::new(WORTH_SAYING_MIN);
    let drop_note = if earlier {
        format!("or as early as {}", near_time(t.drop_from, now, zone))
    } else {
        format!("{} in the bath", duration(plan.bath_min))
    };
    let best = t.best_until.from;
    let pull_note = if request.time_min.is_some() {
        format!("{} in the bath", duration(plan.bath_min))
    } else if best > t.pull {
        format!("it may wait until {}", near_time(best, now, zone))
    } else {
        "do not let it wait".into()
    };
    let serve_note =
        if request.ready_at.is_some() && plan.in_time { "as asked" } else { "the earliest it can be" };
    // The day of a large time stands in its label.
    let large = |id, word: &str, t: Timestamp, note| {
        let label = zone.other_day(t, now).map_or_else(|| word.to_owned(), |day| format!("{word}, {day}"));
        When { id, label, time: clock_time(t, zone), note }
    };
    vec![
        large("drop", "Drop by", t.drop_by, drop_note),
        large("pull", "Pull", t.pull, pull_note),
        large("serve", "Serve", t.serve, serve_note.into()),
    ]
}

fn other_times(plan: &Plan, now: Timestamp, zone: &WallClock) -> Vec<When> {
    let t = &plan.times;
    let pasteurised = t.pasteurised.map_or_else(
        || When {
            id: "pasteurised",
            label: "Pasteurised".into(),
            time: "never".into(),
            note: "in this bath".into(),
        },
        |r| When {
            id: "pasteurised",
            label: "Pasteurised at".into(),
            time: near_time(r.until, now, zone),
            note: format!("as early as {}", near_time(r.from, now, zone)),
        },
    );
    vec![
        When {
            id: "preheat",
            label: "Preheat by".into(),
            time: near_time(t.preheat_by, now, zone),
            note: String::new(),
        },
        When {
            id: "through",
            label: "Heated through".into(),
            time: near_time(t.through.until, now, zone),
            note: format!("as early as {}", near_time(t.through.from, now, zone)),
        },
        pasteurised,
        When {
            id: "best",
            label: "Best until".into(),
            time: near_time(t.best_until.from, now, zone),
            note: if t.best_until.from == t.best_until.until {
                "if dropped on time".into()
            } else {
                format!("or as late as {}", near_time(t.best_until.until, now, zone))
            },
        },
    ]
    .into_iter()
    .chain(t.sear.map(|sear| When {
        id: "sear",
        label: "Sear".into(),
        time: near_time(sear, now, zone),
        note: "after drying and a pause".into(),
    }))
    .collect()
}

/// The finish of a piece that is planned.
fn finish_href(request: &PlanRequest, pull: Timestamp, units: Units) -> String {
    let form = FinishForm {
        food: request.food().id.clone(),
        thickness: units.length(request.thickness_mm),
        bath: units.temperature(request.bath_c),
        pull: pull.to_string(),
        typed_in: units.code().into(),
        ..FinishForm::default()
    };
    format!("/finish?{}", serde_urlencoded::to_string(&form).unwrap_or_default())
}
