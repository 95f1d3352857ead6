//! The board in words: what goes wrong and what to do, limits that come, alarms.

use std::borrow::Cow;

use jiff::Timestamp;

use super::finish::heat_it;
use super::minutes;
use crate::bath::STILL_FALLING;
use crate::board::{Alarm, AlarmKind, Board, Limit, ToDo, Trouble};
use crate::cook::{Live, Probed, Stage};
use crate::figures::bench;
use crate::safety::Level;
use crate::units::{Length, Units};

/// What is asked after this machine was away, from and until.
///
/// ```
/// use hold_steady_core::words::was_it_on;
/// let at = |s| jiff::Timestamp::from_second(s).expect("near");
/// let asked = was_it_on((at(0), at(3600)), &|t| t.to_string());
/// assert!(asked.ends_with("was the bath on? Until that is said, what nobody saw counts as off."));
/// ```
#[must_use]
pub fn was_it_on((from, until): (Timestamp, Timestamp), clock: &dyn Fn(Timestamp) -> String) -> String {
    format!(
        "This machine was away from {} to {}: was the bath on? Until that is said, what nobody saw counts as off.",
        clock(from),
        clock(until)
    )
}

fn look_at_device() -> String {
    let proves = minutes(bench().gap_credit_min.minutes());
    format!(
        "Look at the device and its network. Read the water by hand meanwhile: what nobody reads proves less and less, after {proves} nothing."
    )
}

fn look_at_lid() -> String {
    let still = minutes(STILL_FALLING);
    format!("Look at lid, plug and switch. Nothing is moved yet: if it still falls in {still}, that is said.")
}

/// That a bath has gone unread for too long.
///
/// ```
/// assert!(hold_steady_core::words::unread_water().starts_with("Nobody has read this water for 30 min: "));
/// ```
#[must_use]
pub fn unread_water() -> String {
    format!(
        "Nobody has read this water for {}: from then on nothing counts as proved, whatever it was. Stir it and read it now.",
        minutes(bench().gap_credit_min.minutes())
    )
}

/// What goes wrong with a bath: in a few words with its time, and what to do.
///
/// ```
/// use hold_steady_core::{board::Trouble, units::{Kelvin, Units}, words};
/// let hot = Trouble::Over { by: Kelvin::new(1.5) };
/// let (what, act) = words::bath_trouble(&hot, Units::default(), &|_| "18:31".into());
/// assert!(what.contains("1.5 °C too hot") && act.contains("setting"));
/// ```
#[must_use]
pub fn bath_trouble(
    trouble: &Trouble,
    units: Units,
    clock: &dyn Fn(Timestamp) -> String,
) -> (String, String) {
    (wrong(trouble, units, clock), what_to_do(trouble).into_owned())
}

fn wrong(trouble: &Trouble, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    match trouble {
        Trouble::Silent { since } => format!("no readings since {}", clock(*since)),
        Trouble::Unread => format!("not read for {}", minutes(bench().gap_credit_min.minutes())),
        Trouble::Unwatched { from, until, .. } => {
            format!("this machine was away from {} to {}: was the bath on?", clock(*from), clock(*until))
        }
        Trouble::Jumped { at, from, to } => format!(
            "jumped from {} to {} at {}: is the probe in the water?",
            units.temperature_fixed(*from),
            units.temperature_fixed(*to),
            clock(*at)
        ),
        Trouble::Falling { since, from, to } => format!(
            "falling since {}, from {}: is its lid off, is it on?",
            clock(*since),
            units.temperature_fixed((*from).max(*to))
        ),
        Trouble::NoHeat { since, from, to } => format!(
            "no heat since {}, when it was {}",
            clock(*since),
            units.temperature_fixed((*from).max(*to))
        ),
        Trouble::Below { by, .. } => format!("{} too cold and not rising", units.temperature_difference(*by)),
        Trouble::Over { by } => format!("{} too hot", units.temperature_difference(*by)),
        Trouble::LowWater { at } => format!("lowest water line at about {}", clock(*at)),
    }
}

fn what_to_do(trouble: &Trouble) -> Cow<'static, str> {
    match trouble {
        Trouble::Silent { .. } => look_at_device().into(),
        Trouble::Unread => "Stir it, read it, write it down: until then nothing counts.".into(),
        Trouble::Unwatched { .. } => "Say on its page that it was on, or when it was off; and read it. Until then what nobody saw counts as off.".into(),
        Trouble::Jumped { .. } => "Put the probe back, low and behind the bags. If the reading was false, strike it out on the bath’s page; until then it counts.".into(),
        Trouble::Falling { .. } => look_at_lid().into(),
        Trouble::NoHeat { .. } => "Look at plug, switch and water level now. Lid on. Hot water, or a bath that works, within minutes keeps what was gained; if neither can be had, chill what is safe to keep and throw away what is not.".into(),
        Trouble::Below { .. } => "Cover it, take some of the food out, or top up with hot water; what lies in it takes longer.".into(),
        Trouble::Over { .. } => "Look at its setting. Cold water brings it down; what lies in it will be done further than planned.".into(),
        Trouble::LowWater { .. } => "Top it up with water as hot as the bath, and cover it.".into(),
    }
}

/// A limit that comes, in a few words.
///
/// ```
/// use hold_steady_core::{board::Limit, words};
/// assert_eq!(words::bag_limit(Limit::Texture), "best until");
/// ```
#[must_use]
pub const fn bag_limit(limit: Limit) -> &'static str {
    match limit {
        Limit::Growth => "not safe after",
        Limit::AfterPull => "eat, hold hot or chill by",
        Limit::Texture => "best until",
    }
}

/// What is to be heated for the sear of a bag, in the imperative; nothing where no finish was chosen.
///
/// ```
/// # use hold_steady_core::{book::*, cook::*, units::*, words};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// assert_eq!(words::heat(&live, Units::default()), "", "nobody chose a finish");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn heat(live: &Live, units: Units) -> String {
    let chosen = live.finishing.chosen.as_ref();
    chosen.map_or_else(String::new, |c| heat_it(c, units))
}

/// What the hands do next with a piece, in a few words.
///
/// ```
/// # use hold_steady_core::{board::ToDo, book::*, cook::*, units::*, words};
/// # let now = "2026-12-01T12:00:00Z".parse()?;
/// # let record = Export::example().cooks.remove(0);
/// # let (plan, state) = (record.plan_record().expect("planned").clone(), record.state());
/// let live = live(&plan.request, &plan.plan()?, &state, &record.water(&state), now)?;
/// let clock = |t: jiff::Timestamp| t.to_string();
/// assert_eq!(words::to_do(ToDo::Next, &live, Units::default(), &clock), words::next(&live, Units::default(), &clock).0);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn to_do(what: ToDo, live: &Live, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    match what {
        ToDo::Next => super::next(live, units, clock).0,
        ToDo::Heat => heat(live, units),
    }
}

/// What an alarm says, aloud and in large type.
///
/// ```
/// use hold_steady_core::{board::{Alarm, AlarmKind, Board, Limit}, units::{Minutes, Units}, words};
/// let at = "2026-11-25T16:00:00Z".parse()?;
/// let kind = AlarmKind::Before(Limit::Growth, Minutes::new(10.0));
/// let alarm = Alarm { id: "x".into(), at, kind, bag: None, lane: None, unsafe_at: None };
/// assert!(words::alarm(&alarm, &Board::default(), Units::default(), &|_| "18:31".into()).contains("10 min"));
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn alarm(alarm: &Alarm, board: &Board, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    let bag = alarm.bag.and_then(|i| board.bags.get(i));
    let lane = alarm.lane.and_then(|i| board.lanes.get(i)).map(|l| l.name.clone());
    let about = bag.map(|b| b.record.title_in(units)).or(lane).unwrap_or_default();
    match &alarm.kind {
        AlarmKind::Due => {
            let next = bag.map(|b| super::next(&b.live, units, clock).0);
            format!("{}: {about}", next.unwrap_or_default())
        }
        AlarmKind::Heat => format!("{}: {about}", bag.map_or_else(String::new, |b| heat(&b.live, units))),
        AlarmKind::Before(Limit::Growth, left) => {
            format!("{} left, then {about} is not safe: pull it, eat or chill it", minutes(*left))
        }
        AlarmKind::Before(Limit::AfterPull, left) => {
            format!("{} left to eat, hold hot or chill {about}", minutes(*left))
        }
        AlarmKind::Before(Limit::Texture, left) => {
            format!("{} left, then {about} is past its best", minutes(*left))
        }
        AlarmKind::Wrong(wrong) => format!("{about}: {}", bath_trouble(wrong, units, clock).0),
    }
}

/// Where it is and how warm it is there now: of the piece, or of the bath.
///
/// ```
/// use hold_steady_core::{board::*, units::Units, words};
/// let at = "2026-11-25T16:00:00Z".parse()?;
/// let alarm = Alarm { id: "a".into(), at, kind: AlarmKind::Due, bag: None, lane: None, unsafe_at: None };
/// assert_eq!(words::alarm_where(&alarm, &Board::default(), Units::default()), "");
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn alarm_where(alarm: &Alarm, board: &Board, units: Units) -> String {
    let bag = alarm.bag.and_then(|i| board.bags.get(i));
    let of_bag = bag.and_then(|b| board.lanes.iter().find(|l| l.bath == b.bath()));
    let lane = alarm.lane.and_then(|i| board.lanes.get(i)).or(of_bag);
    let name = lane.filter(|l| l.named && alarm.bag.is_some()).map(|l| format!("in {}", l.name));
    let centre = bag.filter(|b| b.live.stage == Stage::InBath).and_then(|b| b.live.centre_c);
    let centre = centre.map(|c| format!("{} at its centre now", units.temperature_fixed(c.0)));
    let read = lane.and_then(|l| l.now.last.first());
    let water = read.map(|l| format!("water {}", units.temperature_fixed(l.trust.corrected(l.read))));
    [name, centre, water].into_iter().flatten().collect::<Vec<_>>().join(", ")
}

/// How much of what must be killed of an organism is, powers of ten, of the target.
///
/// ```
/// use hold_steady_core::words::killed;
/// assert_eq!(killed("Salmonella spp.", 0.02, 6.5), "Salmonella spp.: nothing yet of what is needed");
/// assert_eq!(killed("Salmonella spp.", 3.0, 6.5), "Salmonella spp.: 46\u{a0}% of what is needed");
/// assert_eq!(killed("Salmonella spp.", 6.49, 6.5), "Salmonella spp.: 99\u{a0}% of what is needed");
/// assert_eq!(killed("Salmonella spp.", 7.0, 6.5), "Salmonella spp.: all that is needed");
/// ```
#[must_use]
pub fn killed(name: &str, log10: f64, target: f64) -> String {
    // Rounded down: it is never said to be done before it is.
    let share = (100.0 * log10 / target).floor();
    if log10 >= target {
        format!("{name}: all that is needed")
    } else if share < 1.0 {
        format!("{name}: nothing yet of what is needed")
    } else {
        format!("{name}: {share:.0}\u{a0}% of what is needed")
    }
}

/// What a probe in a piece says, and what is made of it.
///
/// ```
/// use hold_steady_core::{cook::Probed, piece::{Fit, Unknown}, units::{Celsius, Kelvin, Units}, words};
/// let read = ("2026-11-25T16:00:00Z".parse()?, Celsius::new(41.2));
/// let fit = Fit { unknown: Unknown::Thickness, value: 30.0, rms_k: Kelvin::new(0.2), at_the_end: false };
/// let probed = Probed { name: "thin probe".into(), read, estimate: Celsius::new(43.0), fit, delays_only: false, may_advance: false, slipped: false };
/// let text = words::probed(&probed, Units::default(), &|_| "18:31".into());
/// assert!(text.starts_with("thin probe read 41.2 °C at 18:31, at least 43.0 °C was estimated"), "{text}");
/// # Ok::<(), jiff::Error>(())
/// ```
#[must_use]
pub fn probed(probed: &Probed, units: Units, clock: &dyn Fn(Timestamp) -> String) -> String {
    let like = units.length(Length::from_mm(probed.fit.value));
    let made = if probed.delays_only {
        let colder = probed.read.1 < probed.estimate;
        let now = if colder {
            format!("The times are as late as of one {like} thick")
        } else {
            "The times stay as estimated".to_owned()
        };
        format!(
            "{now}: a few readings, or any in a piece simulated in three dimensions, may delay and not bring forward."
        )
    } else if probed.fits() {
        let how = if probed.may_advance {
            "The times go by it."
        } else {
            "It may delay the times, not bring them forward: for that it must be checked near the bath’s temperature, and its tip confirmed at the centre."
        };
        format!("It warms like {like}. {how}")
    } else {
        "That is no centre of this piece: the times are taken as late as it may be. Is its tip in the middle?"
            .to_owned()
    };
    let made = if probed.slipped {
        format!(
            "{made} It jumped as no centre does: what it proved before that stands. Is it still in the middle?"
        )
    } else {
        made
    };
    format!(
        "{} read {} at {}, at least {} was estimated. {made}",
        probed.name,
        units.temperature_fixed(probed.read.1),
        clock(probed.read.0),
        units.temperature_fixed(probed.estimate)
    )
}

/// How a piece may be served, in a few words.
///
/// ```
/// use hold_steady_core::{safety::Level, words};
/// assert_eq!(words::level(Level::Refused), "not safe");
/// ```
#[must_use]
pub const fn level(level: Level) -> &'static str {
    match level {
        Level::Pasteurized => "pasteurised",
        Level::Exempt => "safe as it is",
        Level::ServeNow => "to be served at once, not to guests at risk",
        Level::Refused => "not safe",
    }
}
