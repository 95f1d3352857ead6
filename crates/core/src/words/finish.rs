//! The finish in words.

use crate::figures::searing;
use crate::food::{Finish, PanStart, SearedFaces};
use crate::sear::{
    Aim, ChosenFinish, Cooked, Fat, Hand, Hearth, Heats, How, Pattern, Pause, Proposal, Setup, TooMuch,
    called, seconds,
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
        Aim::Best => "Best",
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
        Hand::Cold => "Skin down into the cold pan, then light it",
        Hand::First => "First face down",
        Hand::Second => "The other face",
        Hand::Round => "In, all round",
        Hand::Torch => "The torch, sweeping",
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
/// use hold_steady_core::{sear::{After, Heats, Pattern, Pause}, words::pattern};
/// let p = Pattern { pause: Pause::Ice, pause_s: 60.0, face_s: 90.0, times: 2, after: After { edge_s: 10.0, ..After::resting(60.0) } };
/// assert_eq!(pattern(&p, Heats::AFace), "60 s in ice water in its bag, open and dry it, 90 s a face in 4 turns of 45 s, 10 s on each of 4 edges, rest 60 s");
/// ```
#[must_use]
pub fn pattern(p: &Pattern, heats: Heats) -> String {
    let mut parts = vec![match p.pause {
        _ if p.pause_s <= 0.0 => "open and dry it".into(),
        Pause::Air => format!("open and dry it, {} in air", seconds(p.pause_s)),
        Pause::Ice => format!("{} in ice water in its bag, open and dry it", seconds(p.pause_s)),
    }];
    parts.push(on_the_heat(p, heats));
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
/// use hold_steady_core::{food::catalogue, units::*};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let hot = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), Hearth::named("iron-pan").expect("shipped"));
/// assert_eq!(first_on_heat(&p, &hot, Some("19:41")), "On the heat at 19:41: 46 s a face");
/// assert_eq!(first_on_heat(&p, &hot, None), "On the heat 5 min after the pull: 46 s a face");
/// let cold = Setup { pan: PanStart::Cold, ..hot };
/// assert_eq!(first_on_heat(&p, &cold, None), "Into the cold pan 5 min after the pull: 46 s a face");
/// ```
#[must_use]
pub fn first_on_heat(p: &Pattern, setup: &Setup, at: Option<&str>) -> String {
    let when = match at {
        Some(at) => format!("at {at}"),
        None if p.before_s() < 60.0 => "at once".to_owned(),
        None => format!("{} after the pull", super::minutes(Minutes::from_seconds(p.before_s()))),
    };
    let onto = if setup.pan == PanStart::Cold { "Into the cold pan" } else { "On the heat" };
    format!("{onto} {when}: {}", on_the_heat(p, setup.hearth.heats))
}

/// What is done on the heat: its faces, then its edges.
fn on_the_heat(p: &Pattern, heats: Heats) -> String {
    let faces = if heats.all_round() {
        format!("{} all round", seconds(p.face_s))
    } else if let Some(other_s) = p.after.other_s {
        if other_s > 0.0 {
            format!("{} skin side down, {} on the other face", seconds(p.face_s), seconds(other_s))
        } else {
            format!("{} on one face", seconds(p.face_s))
        }
    } else if p.times > 1 {
        let turn = p.face_s / f64::from(p.times);
        format!("{} a face in {} turns of {}", seconds(p.face_s), 2 * p.times, seconds(turn))
    } else {
        format!("{} a face", seconds(p.face_s))
    };
    let after = &p.after;
    let mut said = faces;
    if after.torch_s > 0.0 {
        let each = if after.other_s == Some(0.0) { "" } else { " a face" };
        said += &format!(", then {}{each} under a torch", seconds(after.torch_s));
    }
    if after.edge_s > 0.0 && after.edges > 0 {
        let edges =
            if after.edges == 1 { "one edge".into() } else { format!("each of {} edges", after.edges) };
        said += &format!(", {} on {edges}", seconds(after.edge_s));
    }
    said
}

/// What a chosen finish is seared on, and how hot that is: "a cast iron pan at 230 °C".
fn seared_on(chosen: &ChosenFinish, to_or_at: &str, units: Units) -> String {
    let name = chosen.heated().map_or(chosen.hearth.as_str(), |h| h.name.as_str());
    match chosen.hearth_c {
        Some(c) if chosen.pan == PanStart::Cold => {
            format!("{name}, cold at first, {to_or_at} {}", units.temperature(c))
        }
        Some(c) => format!("{name} {to_or_at} {}", units.temperature(c)),
        None => name.into(),
    }
}

/// What is to be heated for it, in the imperative.
pub(super) fn heat_it(chosen: &ChosenFinish, units: Units) -> String {
    if chosen.pan == PanStart::Cold {
        return format!(
            "Have {} ready, cold",
            chosen.heated().map_or(chosen.hearth.as_str(), |h| h.name.as_str())
        );
    }
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
        on_the_heat(&chosen.pattern, chosen.heats()),
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
        pattern(&chosen.pattern, chosen.heats()),
        pieces(chosen, ";", "")
    )
}

/// What the finish of a plan's piece is, and what it does to it, in two sentences; where no finish brings the middle to where
/// it is wanted, a bath that would.
///
/// ```
/// use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, after_sear, plan};
/// use hold_steady_core::{units::Units, words};
/// let now = "2026-11-25T14:00:00Z".parse()?;
/// let typed = PlanForm { food: "beef-strip".into(), thickness: "38 mm".into(), intact: "whole".into(), ..PlanForm::default() };
/// let rules = KitchenRules::default();
/// let request = typed.read(&Setting::new(Units::default(), now, &jiff::tz::TimeZone::UTC, &rules)).request.expect("complete");
/// let seared = after_sear(&request, plan(&request, now)?.bath_min, &hold_steady_core::sear::Finishes::default())?.expect("a steak is seared");
/// let (does, minds) = words::after_sear(&seared, Units::default());
/// assert!(does.starts_with("Finish it so: open and dry it") && does.contains("in a cast iron pan at 2"), "{does}");
/// assert!(!minds.contains("a bath at"), "{minds}");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn after_sear(seared: &crate::plan::AfterSear, units: Units) -> (String, String) {
    let (p, setup) = (&seared.proposed, &seared.setup);
    let does = format!(
        "Finish it so: {}, in {}. The middle is at its warmest at {}, {}.",
        pattern(&p.pattern, setup.hearth.heats),
        on_hearth(setup, setup.hearth_c, units),
        units.temperature_fixed(Celsius::new(p.done.peak_c)),
        called(p.done.paler().browning, p.done.paler().peak_c),
    );
    let minds = match seared.bath_c {
        None => minds(setup.hearth, setup.hearth_c, seared.fat, units),
        Some(bath) => {
            let bath = Celsius::new((bath.value() * 2.0).round() / 2.0);
            format!(
                "No finish brings the middle to {} from this bath. One at {} would; the verdict is then of that bath.",
                units.temperature(seared.wanted_c),
                units.temperature(bath)
            )
        }
    };
    (does, minds)
}

/// What a piece is seared on, and how hot that is: "a cast iron pan at 260 °C".
///
/// ```
/// use hold_steady_core::{food::{PanStart, catalogue}, sear::{Hearth, Setup}, units::*, words::on_hearth};
/// let duck = catalogue().food("duck-breast").expect("in the catalogue");
/// let pan = Hearth::named("iron-pan").expect("shipped");
/// let setup = Setup { pan: PanStart::Cold, ..Setup::new(duck, Length::from_mm(22.0), Celsius::new(57.0), pan) };
/// let said = on_hearth(&setup, Some(Celsius::new(150.0)), Units::default());
/// assert_eq!(said, "a cast iron pan that is cold at first and gets to 150 °C");
/// ```
#[must_use]
pub fn on_hearth(setup: &Setup, c: Option<Celsius>, units: Units) -> String {
    let name = &setup.hearth.name;
    match c.map(|c| units.temperature(c)) {
        None => name.clone(),
        Some(c) if setup.pan == PanStart::Cold => format!("{name} that is cold at first and gets to {c}"),
        Some(c) => format!("{name} at {c}"),
    }
}

/// What a hearth this hot asks of the cook in this fat: smoke, spatter, a cover at hand.
fn minds(hearth: &Hearth, c: Option<Celsius>, fat: &Fat, units: Units) -> String {
    let Some(c) = c.filter(|_| hearth.how == How::Contact) else { return String::new() };
    let none = searing().oil_none_c.celsius();
    if c > none {
        return format!(
            "Over {} no oil at all, in the pan or on the meat; the hood on, a cover that fits at hand.",
            units.temperature(none)
        );
    }
    if fat.smokes_c.is_some_and(|smokes| c > smokes) {
        return "It smokes: the hood on, oil the meat thinly and not the pan, a cover that fits at hand."
            .into();
    }
    String::new()
}

/// Which faces are seared, as they are chosen.
///
/// ```
/// use hold_steady_core::{food::SearedFaces, words::seared_faces};
/// assert_eq!(seared_faces(SearedFaces::One), "one face only");
/// ```
#[must_use]
pub const fn seared_faces(faces: SearedFaces) -> &'static str {
    match faces {
        SearedFaces::Both => "both faces alike",
        SearedFaces::One => "one face only",
        SearedFaces::Skin => "skin side down, and the other for",
    }
}

/// How a food is usually seared, in a few words; nothing of what is not.
///
/// ```
/// use hold_steady_core::{food::catalogue, words::usual_sear};
/// let usual = |id| usual_sear(catalogue().food(id).expect("in the catalogue").finish());
/// assert_eq!(usual("beef-strip").as_deref(), Some("about 45 s a face"));
/// assert_eq!(usual("salmon-fillet").as_deref(), Some("about 30 s on one face"));
/// assert_eq!(usual("duck-breast").as_deref(), Some("about 5 min skin side down, 20 s on the other face"));
/// assert_eq!(usual("carrot"), None);
/// ```
#[must_use]
pub fn usual_sear(finish: &Finish) -> Option<String> {
    let how = finish.how.as_ref()?;
    let face = seconds(how.face_s);
    Some(match how.other_s() {
        None => format!("about {face} a face"),
        Some(s) if s > 0.0 => format!("about {face} skin side down, {} on the other face", seconds(s)),
        Some(_) => format!("about {face} on one face"),
    })
}

/// What a pull at some minute comes to after the sear.
///
/// ```
/// use hold_steady_core::{units::{Celsius, Units}, words};
/// assert_eq!(words::seared_at(Celsius::new(52.34), Units::default()), "Finished so, the middle gets to 52.3 °C.");
/// ```
#[must_use]
pub fn seared_at(peak: Celsius, units: Units) -> String {
    format!("Finished so, the middle gets to {}.", units.temperature_fixed(peak))
}

/// What a proposal gives, and what it costs.
///
/// ```
/// use hold_steady_core::{food::catalogue, sear::*, units::*, words};
/// let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), Hearth::named("iron-pan").expect("shipped"));
/// let wanted = Wanted { centre_c: 54.0, browning: 0.008, face_c: 240.0, within_s: None, after: After::resting(60.0) };
/// let said = words::proposal(&proposals(&setup, &wanted)?[0], (setup.hearth, &fats()[0]), Units::default());
/// assert!(said.starts_with("Brown, a grey rim of ") && said.contains(" min from the pull"), "{said}");
/// # Ok::<(), hold_steady_core::heat::HeatError>(())
/// ```
#[must_use]
pub fn proposal(p: &Proposal, (hearth, fat): (&Hearth, &Fat), units: Units) -> String {
    let paler = p.done.paler();
    let at_the_stove = p.pattern.stove_s(hearth.heats);
    let mut said = format!(
        "{}, a grey rim of {}, middle {}; {} from the pull, {} of it at the stove.",
        crate::units::capitalised(called(paler.browning, paler.peak_c)),
        units.length(Length::from_mm(p.band_mm)),
        units.temperature_fixed(Celsius::new(p.done.peak_c)),
        super::minutes(Minutes::from_seconds(p.all_s)),
        seconds(at_the_stove),
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
        said += " A face gets darker than wanted.";
    }
    let minds = minds(hearth, p.hearth_c, fat, units);
    if !minds.is_empty() {
        said += &format!(" {minds}");
    }
    said
}

/// How much later or hotter is too much.
///
/// ```
/// use hold_steady_core::{sear::TooMuch, units::Units, words};
/// let much = TooMuch { face_s: Some(58.0), char_s: None, hearth_c: None, each_later: (1.7, 0.9) };
/// let said = words::too_much(&much, Units::default());
/// assert_eq!(said[0], "Each 15 s more a face: the middle 1.7 °C warmer, the band 0.9 mm thicker.");
/// assert_eq!(said[1], "Longer than 58 s a face, and the middle passes what is wanted by more than 1 °C.");
/// ```
#[must_use]
pub fn too_much(much: &TooMuch, units: Units) -> Vec<String> {
    let (warmer, thicker) = much.each_later;
    let mut said = vec![format!(
        "Each {} s more a face: the middle {} warmer, the band {} thicker.",
        TooMuch::LATER_S,
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
