//! The finish in words.

use crate::figures::searing;
use crate::sear::{
    Aim, ChosenFinish, Cooked, Fat, Hand, Hearth, How, Pattern, Pause, Proposal, TooMuch, called, seconds,
};
use crate::units::{Celsius, Kelvin, Length, Minutes, Units};

/// What a proposal is called.
///
/// ```
/// use hold_steady_core::{sear::Aim, words::aim};
/// assert_eq!(aim(Aim::Relaxed), "Cool and hang");
/// ```
#[must_use]
pub const fn aim(aim: Aim) -> &'static str {
    match aim {
        Aim::Thin => "Thinnest band",
        Aim::Fast => "Fastest",
        Aim::Relaxed => "Cool and hang",
    }
}

/// What the hands do, called out.
///
/// ```
/// use hold_steady_core::{sear::Hand, words};
/// assert_eq!(words::pace(Hand::Second), "The other face");
/// ```
#[must_use]
pub const fn pace(hand: Hand) -> &'static str {
    match hand {
        Hand::Dry => "Open it and dry it",
        Hand::Air => "It waits in air",
        Hand::Ice => "In ice water, in its bag",
        Hand::First => "First face down",
        Hand::Second => "The other face",
        Hand::Round => "In, all round",
        Hand::Edge => "An edge",
        Hand::Rest => "Off: it rests",
    }
}

/// A number of seconds in words.
///
/// ```
/// use hold_steady_core::words::for_seconds;
/// assert_eq!((for_seconds(45.0), for_seconds(150.0)), ("45 s".into(), "2.5 min".into()));
/// ```
#[must_use]
pub fn for_seconds(s: f64) -> String {
    seconds(s)
}

/// A pattern in one line.
///
/// ```
/// use hold_steady_core::{sear::{After, Pattern, Pause}, words::pattern};
/// let p = Pattern { pause: Pause::Ice, pause_s: 60.0, face_s: 90.0, times: 2, after: After { edge_s: 10.0, ..After::resting(60.0) } };
/// assert_eq!(pattern(&p, false), "60 s in ice water in its bag, open and dry it, 90 s a face in 4 turns of 45 s, 10 s on each of 4 edges, rest 60 s");
/// ```
#[must_use]
pub fn pattern(p: &Pattern, both: bool) -> String {
    let mut parts = vec![match p.pause {
        _ if p.pause_s <= 0.0 => "open and dry it".into(),
        Pause::Air => format!("open and dry it, {} in air", seconds(p.pause_s)),
        Pause::Ice => format!("{} in ice water in its bag, open and dry it", seconds(p.pause_s)),
    }];
    parts.push(on_the_heat(p, both));
    let after = &p.after;
    if after.rest_s > 0.0 {
        parts.push(format!("rest {}{}", seconds(after.rest_s), if after.wrapped { " wrapped" } else { "" }));
    }
    parts.join(", ")
}

/// A finish in one line: when it goes on the heat, where that is known, and for how long.
///
/// ```
/// use hold_steady_core::{sear::*, words::first_on_heat};
/// let p = Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 46.0, times: 1, after: After::resting(60.0) };
/// assert_eq!(first_on_heat(&p, false, Some("19:41")), "On the heat at 19:41: 46 s a face");
/// assert_eq!(first_on_heat(&p, false, None), "On the heat 5 min after the pull: 46 s a face");
/// ```
#[must_use]
pub fn first_on_heat(p: &Pattern, both: bool, at: Option<&str>) -> String {
    let when = match at {
        Some(at) => format!("at {at}"),
        None if p.before_s() < 60.0 => "at once".to_owned(),
        None => format!("{} after the pull", super::minutes(Minutes::from_seconds(p.before_s()))),
    };
    format!("On the heat {when}: {}", on_the_heat(p, both))
}

/// What is done on the heat: its faces, then its edges.
fn on_the_heat(p: &Pattern, both: bool) -> String {
    let faces = if both {
        format!("{} all round", seconds(p.face_s))
    } else if p.times > 1 {
        let turn = p.face_s / f64::from(p.times);
        format!("{} a face in {} turns of {}", seconds(p.face_s), 2 * p.times, seconds(turn))
    } else {
        format!("{} a face", seconds(p.face_s))
    };
    let after = &p.after;
    if after.edge_s <= 0.0 || after.edges == 0 {
        return faces;
    }
    let edges = if after.edges == 1 { "one edge".into() } else { format!("each of {} edges", after.edges) };
    format!("{faces}, {} on {edges}", seconds(after.edge_s))
}

/// What a chosen finish is seared on, and how hot that is: "a cast iron pan at 230 °C".
fn seared_on(chosen: &ChosenFinish, to_or_at: &str, units: Units) -> String {
    let name = chosen.heated().map_or(chosen.hearth.as_str(), |h| h.name.as_str());
    match chosen.hearth_c {
        Some(c) => format!("{name} {to_or_at} {}", units.temperature(c)),
        None => name.into(),
    }
}

/// What is to be heated for it, in the imperative.
pub(super) fn heat_it(chosen: &ChosenFinish, units: Units) -> String {
    format!("Heat {}", seared_on(chosen, "to", units))
}

/// So many pieces, after a mark; nothing of one.
fn pieces(chosen: &ChosenFinish, mark: &str, how: &str) -> String {
    if chosen.pieces > 1 { format!("{mark} {} pieces{how}", chosen.pieces) } else { String::new() }
}

/// How it is seared by a chosen finish, after "Sear it".
pub(super) fn chosen_sear(chosen: &ChosenFinish, units: Units) -> String {
    format!(
        "({}: {}{})",
        seared_on(chosen, "at", units),
        on_the_heat(&chosen.pattern, chosen.both()),
        pieces(chosen, ",", " one after the other")
    )
}

/// A chosen finish in one line, as it is written down.
///
/// ```
/// use hold_steady_core::{food::catalogue, sear::{ChosenFinish, FinishForm, Given}, units::Units, words};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let typed = FinishForm { pause: "5 min".into(), face: "45 s".into(), ..FinishForm::default() };
/// let (_, asked, _) = typed.read(strip, &Given::default(), Units::default());
/// let chosen = ChosenFinish::of(&asked.expect("understood")).expect("it says how long");
/// let said = words::chosen_finish(&chosen, Units::default());
/// assert_eq!(said, "a cast iron pan at 230 °C, refined oil, to brown; open and dry it, 5 min in air, 45 s a face, 15 s on each of 4 edges, rest 60 s");
/// ```
#[must_use]
pub fn chosen_finish(chosen: &ChosenFinish, units: Units) -> String {
    let (brown, fat) = chosen.brown_in();
    format!(
        "{}, {fat}, to {brown}; {}{}",
        seared_on(chosen, "at", units),
        pattern(&chosen.pattern, chosen.both()),
        pieces(chosen, ";", "")
    )
}

/// What the finish of a plan does to its piece, in two sentences.
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, after_sear, plan};
/// use hold_steady_core::{units::Units, words};
/// let now = "2026-11-25T14:00:00Z".parse()?;
/// let typed = PlanForm { food: "beef-strip".into(), thickness: "38 mm".into(), intact: "whole".into(), ..PlanForm::default() };
/// let rules = KitchenRules::default();
/// let request = typed.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules)).request.expect("complete");
/// let seared = after_sear(&request, plan(&request, now)?.bath_min)?.expect("a steak is seared");
/// let (does, bath) = words::after_sear(&seared, Units::default());
/// assert!(does.starts_with("Seared as usual (10 min in air, 45 s a face in a cast iron pan)"), "{does}");
/// assert!(bath.contains("a bath at"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn after_sear(seared: &crate::plan::AfterSear, units: Units) -> (String, String) {
    let p = &seared.pattern;
    let pause = if p.pause_s > 0.0 { format!("{} in air, ", seconds(p.pause_s)) } else { String::new() };
    let done = &seared.planned;
    let does = format!(
        "Seared as usual ({pause}{} a face in {}), the middle is at its warmest at {}, {}.",
        seconds(p.face_s),
        seared.hearth.name,
        units.temperature_fixed(Celsius::new(done.peak_c)),
        called(done.paler().browning, done.paler().peak_c),
    );
    let bath = Celsius::new((seared.bath_c.value() * 2.0).round() / 2.0);
    (
        does,
        format!(
            "For {} in the middle after it, choose a bath at {}; the verdict is then of that bath.",
            units.temperature(seared.wanted_c),
            units.temperature(bath)
        ),
    )
}

/// What a pull at some minute comes to after the sear.
///
/// ```
/// use hold_steady_core::{units::{Celsius, Units}, words};
/// assert_eq!(words::seared_at(Celsius::new(52.34), Units::default()), "Seared as usual, the middle gets to 52.3 °C.");
/// ```
#[must_use]
pub fn seared_at(peak: Celsius, units: Units) -> String {
    format!("Seared as usual, the middle gets to {}.", units.temperature_fixed(peak))
}

/// What a proposal gives, and what it costs.
///
/// ```
/// use hold_steady_core::{food::catalogue, sear::*, units::*, words};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), Hearth::named("iron-pan").expect("shipped"));
/// let wanted = Wanted { centre_c: 54.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
/// let said = words::proposal(&proposals(&setup, &wanted)?[0], Units::default());
/// assert!(said.starts_with("Band ") && said.contains(" min from the pull"), "{said}");
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[must_use]
pub fn proposal(p: &Proposal, units: Units) -> String {
    let paler = p.done.paler();
    let mut said = format!(
        "Band {} a face, middle {}, {}; {} from the pull.",
        units.length(Length::from_mm(p.band_mm)),
        units.temperature_fixed(Celsius::new(p.done.peak_c)),
        called(paler.browning, paler.peak_c),
        super::minutes(Minutes::from_seconds(p.all_s)),
    );
    if !p.lands() {
        let by = units.temperature_difference(Kelvin::new(p.off_k.abs()));
        said += &if p.off_k > 0.0 {
            format!(" It passes what is wanted by {by}.")
        } else {
            format!(" It stays {by} under what is wanted.")
        };
    }
    if !p.brown {
        said += " It does not get as brown as wanted.";
    }
    if !p.unburnt {
        said += " A face chars.";
    }
    said
}

/// How much later or hotter is too much.
///
/// ```
/// use hold_steady_core::{sear::TooMuch, units::Units, words};
/// let much = TooMuch { face_s: Some(58.0), char_s: None, hearth_c: None, each_15_s: (1.7, 0.9) };
/// let said = words::too_much(&much, Units::default());
/// assert_eq!(said[0], "Each 15 s more a face: the middle 1.7 °C warmer, the band 0.9 mm thicker.");
/// assert_eq!(said[1], "Longer than 58 s a face, and the middle passes what is wanted by more than 1 °C.");
/// ```
#[must_use]
pub fn too_much(much: &TooMuch, units: Units) -> Vec<String> {
    let (warmer, thicker) = much.each_15_s;
    let mut said = vec![format!(
        "Each 15 s more a face: the middle {} warmer, the band {} thicker.",
        units.temperature_difference(Kelvin::new(warmer.max(0.0))),
        units.length(Length::from_mm(thicker.max(0.0)))
    )];
    if let Some(s) = much.face_s {
        let within = units.temperature_difference(searing().peak_within_k.kelvin());
        said.push(format!(
            "Longer than {} a face, and the middle passes what is wanted by more than {within}.",
            seconds(s)
        ));
    }
    if let Some(s) = much.char_s {
        said.push(format!("Longer than {} a face, and it begins to char.", seconds(s)));
    }
    if let Some(c) = much.hearth_c {
        said.push(format!(
            "Hotter than {}, and it chars in the same time.",
            units.temperature(Celsius::new(c))
        ));
    }
    said
}

/// What is to be said of a finish that keeps a piece out of its bath for longer than its clocks leave, or for long.
///
/// ```
/// use hold_steady_core::words::too_long_out;
/// assert!(too_long_out((3900.0, Some(1800.0))).contains("its clocks leave 30 min"));
/// assert!(too_long_out((3900.0, None)).contains("65 min") || too_long_out((3900.0, None)).contains("1 h 5 min"));
/// ```
#[must_use]
pub fn too_long_out((out_s, left_s): (f64, Option<f64>)) -> String {
    let out = super::minutes(Minutes::from_seconds(out_s).ceil());
    match left_s {
        Some(left) => format!(
            "This has it out of the bath for {out}, and its clocks leave {}. Wait less, or sear fewer at a time; after that it is not to be served as it was judged.",
            super::minutes(Minutes::from_seconds(left).floor())
        ),
        None => format!(
            "This has it out of the bath for {out}. Whether it may be out so long only its cook’s verdict says: start the plan, and finish it from there."
        ),
    }
}

/// How far a piece ends from what was wanted of it, where that is worth saying; to go on a sentence with.
///
/// ```
/// use hold_steady_core::{units::{Celsius, Units}, words::off_wanted};
/// let off = |done, wanted| off_wanted(Celsius::new(done), Celsius::new(wanted), Units::default());
/// assert_eq!((off(54.2, 51.5).as_str(), off(51.6, 51.5).as_str()), ("; 2.7 °C more than wanted", ""));
/// ```
#[must_use]
pub fn off_wanted(done: Celsius, wanted: Celsius, units: Units) -> String {
    const WORTH_SAYING: Kelvin = Kelvin::new(1.0);
    let off = done - wanted;
    if off.abs() < WORTH_SAYING {
        return String::new();
    }
    let more = if off > Kelvin::ZERO { "more" } else { "less" };
    format!("; {} {more} than wanted", units.temperature_difference(off.abs()))
}

/// The usual cautions of a finish, at what is chosen.
///
/// ```
/// use hold_steady_core::{sear::{Hearth, fats}, units::{Celsius, Units}, words};
/// let oil = Hearth::named("deep-oil").expect("shipped");
/// let said = words::finish_cautions(oil, Some(Celsius::new(200.0)), &fats()[0], Units::default());
/// assert!(said.iter().any(|s| s.contains("205 °C") || s.contains("204 °C")), "{said:?}");
/// ```
#[must_use]
pub fn finish_cautions(hearth: &Hearth, c: Option<Celsius>, fat: &Fat, units: Units) -> Vec<String> {
    let mut said = Vec::new();
    if hearth.how != How::Oil {
        if let (Some(c), Some(smokes)) = (c.filter(|_| hearth.how == How::Contact), fat.smokes_c)
            && c > smokes
        {
            said.push(format!(
                "{} smokes from about {}: a film of it, the hood on, and another fat where that is too much.",
                crate::units::capitalised(&fat.name),
                units.temperature(smokes)
            ));
        }
        said.push("Dry it well: water in hot fat spits. Lay it away from you.".into());
    }
    match hearth.how {
        How::Oil => {
            let most = units.temperature(searing().oil_most_c.celsius());
            said.push(format!(
                "Never above {most}. Fill the pot a third at most: wet meat makes oil rise. Dry it well, lower it slowly, and never leave it. A lid and no water for burning fat."
            ));
        }
        How::Flux if hearth.ready_min.is_some_and(|m| m > Minutes::ZERO) => said.push(
            "Charcoal in the open only, never indoors: carbon monoxide. Long tongs, nothing loose over it, and ash that is cold before it is thrown away.".into(),
        ),
        How::Flux => said.push(
            "Torch on metal or stone, nothing that burns within a metre, the flame moving and a hand’s breadth away; shut the gas off and let it cool. A yellow flame leaves fuel on the meat.".into(),
        ),
        How::Contact | How::Air => {}
    }
    said.push("Hood on or a window open; leave the smoke alarm as it is.".into());
    said.push(
        "Keep bags and film away from the hot pan. No glass jar from the bath onto heat or into ice.".into(),
    );
    said
}

/// What a way to cook a piece gives, in a line.
///
/// ```
/// use hold_steady_core::{food::catalogue, sear::*, units::*, words};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let setup = Setup::new(strip, Length::from_mm(25.0), Celsius::new(54.0), Hearth::named("iron-pan").expect("shipped"));
/// let p = Pattern { pause: Pause::Air, pause_s: 600.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
/// let oven = cooked(&setup, Way::OvenThenSear, &p, Celsius::new(5.0), 54.0)?;
/// assert!(words::cooked(&oven, Units::default()).starts_with("band "));
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[must_use]
pub fn cooked(c: &Cooked, units: Units) -> String {
    let paler = c.done.paler();
    format!(
        "band {}, {}\u{a0}% even, {}, {:.0}\u{a0}% of its water lost; middle {}. Hands {}, {}.",
        units.length(Length::from_mm(c.band_mm)),
        (c.even * 100.0).round(),
        called(paler.browning, paler.peak_c),
        c.done.water_lost * 100.0,
        units.temperature_fixed(Celsius::new(c.done.peak_c)),
        super::minutes(Minutes::from_seconds(c.stove_s)),
        if c.way == crate::sear::Way::BathThenSear {
            format!("{} after the bath", super::minutes(Minutes::from_seconds(c.all_s)))
        } else {
            format!("{} in all", super::minutes(Minutes::from_seconds(c.all_s)))
        }
    )
}
