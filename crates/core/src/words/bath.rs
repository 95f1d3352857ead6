//! The water of a bath in words.

use jiff::Timestamp;

use super::minutes;
use crate::bath::{
    Bench, BenchAnswer, Care, ClockTrouble, Cover, Dries, Heat, Line, Split, Trust, Unheated, WaterRefusal,
    too_hot,
};
use crate::book::BathRecord;
use crate::figures::{bench as figures, limits, offers};
use crate::plan::PlanRequest;
use crate::units::{Kelvin, Minutes, Units};

/// How much a line of the bench weighs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Tone {
    /// As it should be.
    Good,
    /// Something to do or to mind.
    Mind,
    /// It does not work so.
    Stop,
}

/// A line of the bench: what, the figure, and the sentence to it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BenchLine {
    /// What it is about.
    pub what: &'static str,
    /// The figure, in large type.
    pub figure: String,
    /// In a sentence.
    pub text: String,
    /// How much it weighs.
    pub tone: Tone,
}

/// What a cover is called.
///
/// ```
/// assert_eq!(hold_steady_core::words::cover(hold_steady_core::bath::Cover::Balls), "floating balls");
/// ```
#[must_use]
pub const fn cover(cover: Cover) -> &'static str {
    match cover {
        Cover::None => "no cover",
        Cover::Lid => "a lid",
        Cover::Foil => "foil",
        Cover::Balls => "floating balls",
    }
}

/// What to fill a vessel with.
///
/// ```
/// use hold_steady_core::{bath::Split, units::Units, words::filling};
/// let split = Split { hot_l: 9.0, cold_l: 1.0, kettle_l: 0.0, c: 46.2 };
/// assert_eq!(filling(&split, Units::default()), "9 l from the hot tap and 1 l cold");
/// ```
#[must_use]
pub fn filling(split: &Split, units: Units) -> String {
    const A_SIP: f64 = 0.05;
    let parts: Vec<String> =
        [(split.hot_l, "from the hot tap"), (split.cold_l, "cold"), (split.kettle_l, "from the kettle")]
            .into_iter()
            .filter(|(l, _)| *l >= A_SIP)
            .map(|(l, what)| format!("{} {what}", units.litres(l)))
            .collect();
    parts.join(" and ")
}

/// The bench's answer, line by line, the most pressing of each kind in its place.
///
/// ```
/// use hold_steady_core::{bath::{BenchForm, shapes}, units::Units, words::{Tone, bench}};
/// let (_, vessel) = shapes().iter().find(|(id, _)| id == "box-12").expect("shipped");
/// let (_, asked, _) = BenchForm::default().read(vessel, 0.0, Units::default());
/// let asked = asked.expect("all usual");
/// let lines = bench(&asked.with(vessel), &asked.with(vessel).answer(), Units::default());
/// assert_eq!(lines[0].what, "Water in");
/// assert!(lines.iter().all(|l| l.tone == Tone::Good), "{lines:?}");
/// ```
#[must_use]
pub fn bench(asked: &Bench<'_>, answer: &BenchAnswer, units: Units) -> Vec<BenchLine> {
    let mut lines = vec![water_in(asked, answer, units)];
    if let Some(unheated) = &answer.unheated {
        lines.push(fill_at(asked, unheated, units));
        lines.push(alone(asked, unheated, units));
    } else {
        lines.push(warm_up(asked, answer, units));
    }
    lines.push(load(asked, answer, units));
    lines.extend(dries(asked, answer, units));
    if let Some(most) = answer.too_hot {
        lines.push(BenchLine {
            what: "Too hot for it",
            figure: units.temperature(most),
            text: too_hot(asked.vessel, most, units),
            tone: Tone::Stop,
        });
    }
    if answer.scalds {
        lines.push(BenchLine {
            what: "Scalds",
            figure: units.temperature(asked.target),
            text: "Water this hot scalds in seconds. Carry none of it, use tongs, keep children away.".into(),
            tone: Tone::Mind,
        });
    }
    lines
}

fn water_in(asked: &Bench<'_>, answer: &BenchAnswer, units: Units) -> BenchLine {
    let (low, high) = answer.allowed_l;
    let with = if asked.food.kg > 0.0 { " once the food is in" } else { "" };
    let (text, tone) = match (answer.before.line, answer.after.line) {
        _ if low > high => (
            format!(
                "So much food leaves no room between the lines: at most {} fits.",
                units.kilograms(answer.most_that_fits_kg)
            ),
            Tone::Stop,
        ),
        (_, Line::RunsOver) => {
            (format!("It runs over{with}. Put in {} at most.", units.litres(high)), Tone::Stop)
        }
        (_, Line::TooHigh) => (
            format!("It stands over the highest line{with}. Put in {} at most.", units.litres(high)),
            Tone::Mind,
        ),
        (Line::TooLow, _) => (
            format!(
                "It stands under the lowest line: the heater stops. Put in {} at least.",
                units.litres(low)
            ),
            Tone::Stop,
        ),
        _ => (
            format!(
                "It stands {} high, {} with the food in: between the lines.",
                units.length(answer.before.height),
                units.length(answer.after.height)
            ),
            Tone::Good,
        ),
    };
    BenchLine { what: "Water in", figure: units.litres(answer.litres), text, tone }
}

fn warm_up(asked: &Bench<'_>, answer: &BenchAnswer, units: Units) -> BenchLine {
    let from = format!(
        "Fill it with {}: that is {}",
        filling(&answer.split, units),
        units.temperature(crate::units::Celsius::new(answer.split.c))
    );
    match answer.warmup {
        None => {
            let holds = answer.dries.first().map_or_else(String::new, |d| units.temperature(d.holdable));
            let better = answer.dries.iter().skip(1).find(|d| d.holdable > asked.target);
            let cover = better.map_or_else(String::new, |d| format!(" Under {} it would.", cover(d.cover)));
            BenchLine {
                what: "Warm-up",
                figure: "never".into(),
                text: format!("The heater holds no more than {holds} so.{cover}"),
                tone: Tone::Stop,
            }
        }
        Some((_, longest)) if longest.ceil().value() < 1.0 => BenchLine {
            what: "Warm-up",
            figure: "at once".into(),
            text: format!("{from}."),
            tone: Tone::Good,
        },
        Some((still, longest)) => {
            let (still, longest) = (minutes(still.ceil()), minutes(longest.ceil()));
            let draught =
                if still == longest { String::new() } else { format!(" {still} where the air is still.") };
            BenchLine {
                what: "Warm-up",
                figure: longest,
                text: format!("{from}; the heater does the rest.{draught}"),
                tone: Tone::Good,
            }
        }
    }
}

fn fill_at(asked: &Bench<'_>, u: &Unheated, units: Units) -> BenchLine {
    const NEAR: Kelvin = Kelvin::new(0.5);
    let got = crate::units::Celsius::new(u.split.c);
    let short = u.fill - got > NEAR;
    let hand =
        if asked.vessel.heat == Heat::Burner { "Warm it to this on the burner" } else { "Fill it this hot" };
    let with = filling(&u.split, units);
    let reaches = if short {
        format!(" {with} comes to {} only: boil another kettle.", units.temperature(got))
    } else {
        format!(" {with} does it.")
    };
    BenchLine {
        what: "Fill at",
        figure: units.temperature_at_least(u.fill),
        text: format!(
            "{hand}: the cold food and {} of cooling still leave {}.{}",
            minutes(u.look),
            units.temperature(asked.target),
            if asked.vessel.heat == Heat::Burner { String::new() } else { reaches }
        ),
        tone: if short && asked.vessel.heat == Heat::None { Tone::Mind } else { Tone::Good },
    }
}

fn alone(asked: &Bench<'_>, u: &Unheated, units: Units) -> BenchLine {
    let every = minutes(u.look);
    let text = match u.alone {
        Some(c) => format!(
            "Filled at {} it would still be warm enough after {}. Read it every {every} all the same: only readings prove it.",
            units.temperature(c),
            minutes(asked.long)
        ),
        None => format!(
            "It does not stay warm enough for {} by itself. Read it every {every}, and add from the kettle what this page then says.",
            minutes(asked.long)
        ),
    };
    BenchLine {
        what: "Look every",
        figure: every,
        text,
        tone: if u.alone.is_some() { Tone::Good } else { Tone::Mind },
    }
}

fn load(asked: &Bench<'_>, answer: &BenchAnswer, units: Units) -> BenchLine {
    let food = units.kilograms(asked.food.kg);
    let limit = units.temperature_difference_fine(asked.limit);
    let most = format!(
        "Up to {} of such food it falls by no more than {limit}.",
        units.kilograms((answer.most_kg * 10.0).floor() / 10.0)
    );
    if asked.food.kg <= 0.0 {
        return BenchLine {
            what: "Drop",
            figure: "none".into(),
            text: format!("Nothing goes in. {most}"),
            tone: Tone::Good,
        };
    }
    let fell = asked.target - answer.lowest;
    let tone = if fell > asked.limit { Tone::Mind } else { Tone::Good };
    if asked.vessel.heat != Heat::Heater {
        return BenchLine {
            what: "Drop",
            figure: units.temperature_difference(answer.drop),
            text: format!("{food} and the water come to one temperature. {most}"),
            tone,
        };
    }
    let back = match answer.recovery {
        None => "it does not come back by itself".to_owned(),
        Some(min) if min.value() < 1.0 => "the heater keeps up".to_owned(),
        Some(min) => format!("back after {}", minutes(min.ceil())),
    };
    let bound = units.temperature_difference(answer.drop);
    BenchLine {
        what: "Drop",
        figure: units.temperature_difference(fell.max(Kelvin::ZERO)),
        text: format!(
            "{food} goes in: {back}. Mixed at once it would be {bound}. {}{most}",
            under_gate(asked, answer, units)
        ),
        tone: if answer.recovery.is_none() { Tone::Stop } else { tone },
    }
}

fn dries(asked: &Bench<'_>, answer: &BenchAnswer, units: Units) -> Vec<BenchLine> {
    let [here, beside] = answer.dries.as_slice() else { return Vec::new() };
    let per_hour = |d: &Dries| {
        let (still, draught) = (units.poured(d.kg_per_h), units.poured(d.high_kg_per_h));
        if still == draught { format!("{still} an hour") } else { format!("{still} to {draught} an hour") }
    };
    let (text, tone) = match (here.min_line, here.top_up) {
        (Some(at), Some((each, every))) => (
            format!(
                "The lowest line is reached after {}. Top up {} every {}, {} times in {}.",
                minutes(at.floor()),
                units.poured(each),
                minutes(every.floor()),
                here.times,
                minutes(asked.long)
            ),
            Tone::Mind,
        ),
        _ => (format!("In {} it stays over the lowest line.", minutes(asked.long)), Tone::Good),
    };
    let other = match beside.top_up {
        Some((each, every)) => format!(
            "{} with {}: top up {} every {}.",
            per_hour(beside),
            cover(beside.cover),
            units.poured(each),
            minutes(every.floor())
        ),
        None => format!(
            "{} with {}: no topping up in {}.",
            per_hour(beside),
            cover(beside.cover),
            minutes(asked.long)
        ),
    };
    vec![BenchLine { what: "Evaporates", figure: per_hour(here), text: format!("{text} {other}"), tone }]
}

/// What to do to water that nothing heats: the short of it and a sentence.
///
/// ```
/// use hold_steady_core::bath::{Air, Cover, care, shapes, usual_taps};
/// use hold_steady_core::{units::*, words::care as in_words};
/// let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
/// let (_, cooler) = shapes().iter().find(|(id, _)| id == "cooler-20").expect("shipped");
/// let low = care(cooler, 18.0, Cover::Lid, air, usual_taps(), (Celsius::new(54.0), Celsius::new(55.0)));
/// let (what, _) = in_words(&low, Units::default());
/// assert!(what.starts_with("Add ") && what.ends_with("from the kettle"), "{what}");
/// ```
#[must_use]
pub fn care(care: &Care, units: Units) -> (String, String) {
    let b = figures();
    // By the low end of what was read: it need not be, and less than a tenth is not worth a word.
    let under = care.under.filter(|k| k.value() >= 0.1).map_or_else(String::new, |k| {
        format!("It may be {} under what it is kept at. ", units.temperature_difference(k))
    });
    let bring = units.temperature(care.bring_to);
    if let Some(m) = care.hot.filter(|_| care.burner) {
        let first = if m.remove_l > 0.0 {
            format!(", with {} taken off first", units.poured(m.remove_l))
        } else {
            String::new()
        };
        return (
            format!("Warm it to {bring}"),
            format!(
                "{under}On the burner, stirring; or with {} from the kettle{first}. Then read it again.",
                units.poured(m.add_l)
            ),
        );
    }
    if let Some(m) = care.hot {
        let first = if m.remove_l > 0.0 {
            format!("Take {} off first. ", units.poured(m.remove_l))
        } else {
            String::new()
        };
        return (
            format!("Add {} from the kettle", units.poured(m.add_l)),
            format!(
                "{under}{first}Water of {} brings it to {bring}; stir, then read it again.",
                units.temperature(b.kettle_c.celsius())
            ),
        );
    }
    if let Some(m) = care.cold {
        let first = if m.remove_l > 0.0 {
            format!("Take {} off first. ", units.poured(m.remove_l))
        } else {
            String::new()
        };
        return (
            format!("Add {} cold", units.poured(m.add_l)),
            format!(
                "It is warmer than it needs to be: the piece would be done further. {first}That brings it to {bring}; stir, then read it again."
            ),
        );
    }
    (
        "Look again".into(),
        format!(
            "{under}It stays warm enough for {} after that reading, if the lid stays on.",
            minutes(care.look.floor())
        ),
    )
}

/// What a thermometer's checks make of a reading, in a sentence.
///
/// ```
/// use hold_steady_core::{bath::trust, units::*, words::trusted};
/// let now = "2026-11-25T16:00:00Z".parse()?;
/// let t = trust(&[], Celsius::new(55.0), now);
/// assert!(trusted(&t, Units::default()).contains("never checked"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn trusted(trust: &Trust, units: Units) -> String {
    let fine = |k: Kelvin| units.temperature_difference_fine(k.abs());
    let Some(check) = trust.by else {
        return format!(
            "never checked, or not lately: it may read {} too high, and the rules count it so",
            fine(trust.error)
        );
    };
    let offset = check.offset();
    let reads = if offset.abs() < Kelvin::new(0.05) {
        "read right".to_owned()
    } else if offset > Kelvin::ZERO {
        format!("read {} too high", fine(offset))
    } else {
        format!("read {} too low", fine(offset))
    };
    let at = units.temperature(check.true_c);
    if trust.error > Kelvin::ZERO {
        format!(
            "{reads} at {at}, far from the bath: it may still read {} too high, and the rules count it so",
            fine(trust.error)
        )
    } else {
        format!("{reads} at {at}: taken off its readings")
    }
}

/// What is said where a bath that runs in the vessel of a plan is not what the plan wants; `None` where it is.
///
/// ```
/// # use hold_steady_core::{book::{BathRecord, SettingRecord}, evidence::usual_request, food::catalogue, plan::From, units::*, words::clash};
/// # let at = "2026-11-25T16:00:00Z".parse()?;
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// let set = |c| BathRecord { id: uuid::Uuid::nil(), name: "box".into(), began_at: at, vessel: None, water: vec![], instruments: vec![],
///     settings: vec![SettingRecord { id: uuid::Uuid::nil(), at, celsius: c, by: "cook".into() }] };
/// assert_eq!(clash(&set(request.bath_c), &request, Units::default()), None);
/// assert!(clash(&set(Celsius::new(68.0)), &request, Units::default()).expect("warmer").contains("68 °C"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn clash(bath: &BathRecord, request: &PlanRequest, units: Units) -> Option<String> {
    let set = bath.settings.iter().max_by_key(|s| s.at).map(|s| s.celsius);
    let wanted = bath.state().aim.or(set)?;
    (!request.is_at(wanted)).then(|| {
        format!(
            "{} runs at {}, and this plan wants {}: bring it there first, or choose another vessel.",
            bath.name,
            units.temperature(wanted),
            units.temperature(request.bath_c)
        )
    })
}

/// A load that takes the bath under the temperature where safe begins: which setting keeps it above.
fn under_gate(asked: &Bench<'_>, answer: &BenchAnswer, units: Units) -> String {
    let gate = limits().lowest_hold_c.celsius();
    if asked.target < gate || answer.lowest >= gate {
        return String::new();
    }
    let step = offers().undercooked_step_k.kelvin();
    let set = (asked.target + (gate - answer.lowest)).ceil(step);
    format!(
        "It goes under {}, where minutes count towards safe: set to {} it stays above. ",
        limits().lowest_hold_c.degrees(units),
        units.temperature_at_least(set)
    )
}

/// What is wrong with a device's clock, in a sentence.
///
/// ```
/// use hold_steady_core::{bath::ClockTrouble, words::clock_trouble};
/// assert_eq!(clock_trouble(ClockTrouble::Fast(300.0)), "Its clock is 5 min fast: its readings are refused.");
/// ```
#[must_use]
pub fn clock_trouble(trouble: ClockTrouble) -> String {
    match trouble {
        ClockTrouble::Fast(s) => format!("Its clock is {} fast: its readings are refused.", off(s)),
        ClockTrouble::Slow(s) => format!(
            "What it sends is {} old when it comes: its clock is slow, or it sends late. Its readings count for when it says.",
            off(s)
        ),
    }
}

/// How far a clock is off, in words.
///
/// ```
/// assert_eq!(hold_steady_core::words::clock_off(-90.0), "90 s slow");
/// ```
#[must_use]
pub fn clock_off(ahead_s: f64) -> String {
    format!("{} {}", off(ahead_s.abs()), if ahead_s > 0.0 { "fast" } else { "slow" })
}

fn off(seconds: f64) -> String {
    const IN_SECONDS: f64 = 120.0;
    if seconds < IN_SECONDS { format!("{seconds:.0} s") } else { minutes(Minutes::from_seconds(seconds)) }
}

/// Why something cannot have been done to water, and the way out.
///
/// ```
/// use hold_steady_core::{bath::WaterRefusal, units::Units, words::water_refused};
/// let told = water_refused(&WaterRefusal::TakesMore { there: 13.0, off: 500.0 }, Units::default(), &|t| t.to_string());
/// assert_eq!(told, "500 l taken off: there were 13 l in it then. Type how much less it is.");
/// ```
#[must_use]
pub fn water_refused(why: &WaterRefusal, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    match why {
        WaterRefusal::Unknown => {
            "That was not done to this water, or cannot be changed. Reload the page.".to_owned()
        }
        WaterRefusal::Undone => "That was undone already. Reload the page.".to_owned(),
        WaterRefusal::BeforeFilled(at) => {
            format!(
                "It was filled at {}: nothing was done to its water before that. Type a later time.",
                clock(*at)
            )
        }
        WaterRefusal::AfterEmptied(at) => {
            format!("It was emptied at {}: nothing was done to its water after that.", clock(*at))
        }
        WaterRefusal::TakesMore { there, off } => format!(
            "{} taken off: there were {} in it then. Type how much less it is.",
            units.litres(*off),
            units.litres(*there)
        ),
        WaterRefusal::Overflows { there, holds } => format!(
            "That makes {}: it holds {} to its rim. Take some off first, or type less.",
            units.litres(*there),
            units.litres(*holds)
        ),
    }
}
