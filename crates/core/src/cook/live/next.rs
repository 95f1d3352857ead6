//! What the hands are told: a function of the verdict at the minute they would do it.

use jiff::Timestamp;

use crate::bath::Mix;
use crate::food::FinishStep;
use crate::safety::Verdict;
use crate::units::{Celsius, Kelvin, Minutes};

/// What to do next, and by what numbers; told by [`crate::words::next`]. Made from the same run, facts and rules as the
/// verdict; whatever speaks to the hands shows this and nothing else.
#[derive(Debug, Clone, PartialEq)]
pub enum Next {
    /// Into the bath.
    Drop {
        /// So much later than planned, where it is.
        late_min: Option<Minutes>,
    },
    /// As it is planned it is refused: not into the bath before it is planned otherwise.
    PlanAnew(Box<Verdict>),
    /// Out of the bath: at a minute at which the verdict allows it.
    Pull(Pull),
    /// The water must be mended first, by then.
    Mend,
    /// It will not become safe in this bath as it is.
    NotHere {
        /// What the bath would have to be set to.
        raise_to: Option<Celsius>,
    },
    /// It is past mending: for every guest alike.
    ThrowAway(Box<Verdict>),
    /// A step of its finish.
    Finish(FinishStep),
    /// It may be eaten, held hot or chilled for a while yet.
    EatHoldOrChill {
        /// For so many minutes.
        left_min: Minutes,
        /// After them it is still for guests not at risk.
        then_not_at_risk: bool,
    },
    /// It may be eaten for a while yet, and nothing else.
    Eat {
        /// For so many minutes.
        left_min: Minutes,
        /// After them it is still for guests not at risk.
        then_not_at_risk: bool,
    },
    /// Chilled: to be kept cold, and used by the end of that day.
    KeepCold {
        /// The last day.
        last_day: jiff::civil::Date,
    },
    /// Frozen: it keeps. Once thawed it has so many days, the day of thawing the first of them; with none, that day is all.
    KeepFrozen {
        /// Days left.
        days_left: i64,
    },
    /// Its last day is over.
    Discard {
        /// That day.
        last_day: jiff::civil::Date,
    },
    /// It is not to be served as it is.
    NotServed(Box<Verdict>),
    /// Eaten: how did it come out?
    Rate,
    /// Thrown away; before it was cooked, or after.
    ThrownAway {
        /// It was in the bath.
        cooked: bool,
    },
}

/// Why it is pulled when it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Pull {
    /// It may be served from then on, and not before.
    SafeIn {
        /// In so many minutes.
        more: Minutes,
        /// So long before the pull.
        spare: Minutes,
        /// It is pasteurised then.
        pasteurised: bool,
    },
    /// It is heated through in so many minutes.
    ThroughIn {
        /// From now.
        more: Minutes,
        /// So long before the pull.
        spare: Minutes,
    },
    /// It is heated through, and waits for its time.
    Waits,
    /// It must be out by then: after that it is not safe.
    By {
        /// So long from now.
        left: Minutes,
        /// It is heated through by then.
        through: bool,
    },
    /// It may be pulled now, and is at its best for so many minutes.
    BestFor(Minutes),
    /// It may be pulled now, and is past its best.
    PastBest,
    /// It may be pulled as planned, and does not heat through, by the simulation.
    NeverThrough,
}

/// What is wrong with the water a piece lies in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Fault {
    /// Nothing heats it any more.
    NoHeat {
        /// Since it began to fall.
        since: Timestamp,
        /// What it was then.
        from: Celsius,
    },
    /// It falls under its last swings: is its lid off, is it on? Moves no time.
    Falling {
        /// Since it began to.
        since: Timestamp,
        /// What it was then.
        from: Celsius,
    },
    /// The device that reports it is silent.
    Silent {
        /// Since its last word.
        since: Timestamp,
    },
    /// It was read colder than it is to be.
    Colder {
        /// When.
        at: Timestamp,
        /// What it read.
        read: Celsius,
        /// By so much.
        by: Kelvin,
    },
    /// Nobody has read water that no heater holds for as long as a reading proves anything.
    Unread {
        /// Since then, where it was ever read.
        since: Option<Timestamp>,
    },
    /// This machine was away, and nobody said or read since what the water did.
    Unwatched {
        /// From when.
        since: Timestamp,
        /// Until when.
        until: Timestamp,
    },
    /// Water that no heater holds falls under what the piece needs before it is done.
    Cools {
        /// What it was last.
        read: Celsius,
        /// When that was.
        at: Timestamp,
    },
}

impl Fault {
    /// The word in records and acknowledgements.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::Fault::Unread { since: None }.id(), "unread");
    /// ```
    #[must_use]
    pub const fn id(&self) -> &'static str {
        match self {
            Self::NoHeat { .. } => "no-heat",
            Self::Falling { .. } => "falling",
            Self::Silent { .. } => "silent",
            Self::Colder { .. } => "colder",
            Self::Unread { .. } => "unread",
            Self::Cools { .. } => "cools",
            Self::Unwatched { .. } => "unwatched",
        }
    }

    /// Whether a look at the water mends it, rather than heat.
    ///
    /// ```
    /// use hold_steady_core::cook::Fault;
    /// assert!(Fault::Unread { since: None }.is_of_sight());
    /// ```
    #[must_use]
    pub const fn is_of_sight(&self) -> bool {
        matches!(self, Self::Silent { .. } | Self::Unread { .. } | Self::Unwatched { .. })
    }
}

/// What it gives to mend the water: to bring it back to what it is to be, or, where nobody saw it, to find it so.
#[derive(Debug, Clone, PartialEq)]
pub struct Mend {
    /// When this was worked out.
    pub now: Timestamp,
    /// To what.
    pub to: Celsius,
    /// Mended now it is pulled then.
    pub pull_at: Timestamp,
    /// And is on the plate then.
    pub serve_at: Timestamp,
    /// Mended by then, dinner is no later than that.
    pub keeps_dinner_by: Option<Timestamp>,
    /// Mended no later than that it still becomes safe, or as it was wanted.
    pub by: Option<Timestamp>,
    /// Not mended, it may be pulled until then, and not after.
    pub or_pull_by: Option<Timestamp>,
    /// Hot water that does it at once, where the vessel is known.
    pub kettle: Option<(Mix, Celsius)>,
}

/// A way out of trouble, with what it gives.
#[derive(Debug, Clone, PartialEq)]
pub enum WayBack {
    /// The heat back on, now.
    Heat {
        /// Pulled then.
        pull_at: Timestamp,
        /// On the plate then.
        serve_at: Timestamp,
    },
    /// Somebody reads the water, and it is as it was.
    Read {
        /// Pulled then.
        pull_at: Timestamp,
        /// On the plate then.
        serve_at: Timestamp,
    },
    /// Hot water from the kettle.
    Kettle {
        /// How much, and what comes off first.
        mix: Mix,
        /// How hot it is.
        kettle: Celsius,
        /// To what it brings the bath.
        to: Celsius,
    },
    /// Another bath that runs.
    Bath {
        /// What it is called.
        name: String,
        /// What it is at.
        celsius: Celsius,
        /// Pulled then.
        pull_at: Timestamp,
        /// On the plate then.
        serve_at: Timestamp,
    },
    /// Out of the bath now, and served at once to guests not at risk.
    PullNow {
        /// Until then.
        until: Option<Timestamp>,
    },
    /// Finished in a pan or oven, its core read with a thermometer.
    CookThrough {
        /// At the core.
        core: Celsius,
        /// For so many seconds.
        seconds: f64,
        /// Begun by then: bacteria will have grown too long after it.
        by: Option<Timestamp>,
    },
    /// Chilled in ice, to be kept: it is pasteurised.
    Chill,
    /// Thrown away.
    ThrowAway,
}

/// When a piece may be pulled, and when it is best to: in its own minutes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Choice {
    /// At a minute of a stretch in which it is allowed.
    Pull {
        /// Then.
        at: Minutes,
        /// Until when it is allowed, where that ends.
        until: Option<Minutes>,
        /// Whether the end of that stretch, and not the plan, says when.
        by_limit: bool,
    },
    /// Never.
    Never,
}

/// The minute to pull at, of those the verdict allows from `now` on: as planned and heated through where that is allowed;
/// else before a limit, if it is heated through by then; else when it is next allowed; else before the limit all the same.
pub(crate) fn choose(
    allowed: &[(Minutes, Minutes)],
    through: Option<Minutes>,
    planned: Minutes,
    now: Minutes,
) -> Choice {
    let wanted = through.map_or(planned, |t| t.max(planned)).max(now);
    let pull = |at: Minutes, until: Minutes, by_limit| Choice::Pull {
        at,
        until: Some(until).filter(|u| *u < Minutes::NEVER),
        by_limit,
    };
    // Whole minutes, where that is still allowed: nobody sets a timer to seconds.
    let whole = |at: Minutes, until: Minutes| if at.ceil() < until { at.ceil().max(now) } else { at };
    if let Some((from, until)) = allowed.iter().find(|(a, b)| *a <= wanted && wanted < *b) {
        let at = wanted.max(*from);
        return pull(if at > now { whole(at, *until) } else { at }, *until, false);
    }
    let later = allowed.iter().find(|(a, _)| *a > wanted);
    let sooner = allowed.iter().rev().find(|(_, b)| *b <= wanted && *b > now);
    let ready = through.map_or(wanted, |t| t.max(now));
    // A hair before the limit, and a whole minute where there is one.
    let last = |until: Minutes| {
        let whole = until.whole_before();
        if whole >= now { whole } else { now }
    };
    match (sooner, later) {
        (Some((a, b)), _) if last(*b) >= ready.max(*a) => pull(last(*b), *b, true),
        (_, Some((a, b))) => pull(whole(*a, *b), *b, false),
        (Some((a, b)), None) => pull(last(*b).max(*a), *b, true),
        (None, None) => Choice::Never,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn m(min: f64) -> Minutes {
        Minutes::new(min)
    }

    fn chosen(allowed: &[(f64, f64)], through: Option<f64>, planned: f64, now: f64) -> Option<(f64, bool)> {
        let allowed: Vec<_> = allowed.iter().map(|(a, b)| (m(*a), m(*b))).collect();
        match choose(&allowed, through.map(m), m(planned), m(now)) {
            Choice::Pull { at, by_limit, .. } => Some((at.value(), by_limit)),
            Choice::Never => None,
        }
    }

    const EVER: f64 = f64::INFINITY;

    #[test]
    fn as_planned_where_that_is_allowed_and_no_later_than_a_limit() {
        assert_eq!(chosen(&[(0.0, EVER)], Some(60.0), 90.0, 10.0), Some((90.0, false)));
        assert_eq!(chosen(&[(0.0, EVER)], Some(100.3), 90.0, 10.0), Some((101.0, false)));
        assert_eq!(chosen(&[(0.0, EVER)], Some(60.0), 90.0, 120.4), Some((120.4, false)));
        // Allowed for two hours, planned for three.
        assert_eq!(chosen(&[(0.0, 120.0)], Some(60.0), 180.0, 10.0), Some((119.0, true)));
        // Not heated through by then, and never again: out all the same.
        assert_eq!(chosen(&[(0.0, 120.0)], Some(150.0), 180.0, 10.0), Some((119.0, true)));
        assert_eq!(chosen(&[(0.0, 120.0)], Some(60.0), 180.0, 119.9), Some((119.9, true)));
    }

    #[test]
    fn what_is_not_safe_yet_waits_until_it_is() {
        assert_eq!(chosen(&[(155.2, EVER)], Some(60.0), 90.0, 10.0), Some((156.0, false)));
        // Allowed at first, refused, and allowed again once it is pasteurised.
        let twice = [(0.0, 120.0), (200.0, EVER)];
        assert_eq!(chosen(&twice, Some(60.0), 90.0, 10.0), Some((90.0, false)));
        assert_eq!(chosen(&twice, Some(60.0), 150.0, 10.0), Some((119.0, true)));
        assert_eq!(chosen(&twice, Some(130.0), 150.0, 10.0), Some((200.0, false)));
        assert_eq!(chosen(&twice, Some(60.0), 90.0, 130.0), Some((200.0, false)));
        assert_eq!(chosen(&[], Some(60.0), 90.0, 10.0), None);
    }
}
