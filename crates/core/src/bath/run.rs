//! A bath that runs: what was done to its water, where it stands, and what to do next.

use jiff::Timestamp;
use uuid::Uuid;

use super::bench::{fill_c, look_in};
use super::{Air, Cover, Heat, Mix, Pool, Taps, Vessel, mix};
use crate::bath::event::{WaterEvent, WaterEventKind, as_it_stands};
use crate::figures::{bench, cooling};
use crate::units::{Celsius, Kelvin, Minutes};

/// A time in which this machine was away.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Unwatched {
    /// The event that says so.
    pub event: Uuid,
    /// From when.
    pub from: Timestamp,
    /// Until when.
    pub until: Timestamp,
}

/// Where a bath's water stands, by what was done to it.
#[derive(Debug, Clone, PartialEq)]
pub struct WaterState {
    /// Water in it, l.
    pub litres: f64,
    /// The least there was in it, l.
    pub least_litres: f64,
    /// What lies over it.
    pub cover: Cover,
    /// It lay open for longer than a look, at some time.
    pub was_bare: bool,
    /// What it is to be kept at by hand, °C.
    pub aim: Option<Celsius>,
    /// When water was added, or the heat was changed by hand.
    pub added: Vec<Timestamp>,
    /// When it lay open: from and until.
    pub open: Vec<(Timestamp, Timestamp)>,
    /// When its heater was off, by somebody's word or because nobody knows: from and until.
    pub off: Vec<(Timestamp, Timestamp)>,
    /// When nobody was there to say what it did, and nobody did since: it stands under [`Self::off`] too.
    pub unwatched: Vec<Unwatched>,
    /// Readings that count no more.
    pub struck: Vec<(Uuid, Timestamp)>,
    /// When the run ended.
    pub emptied: Option<Timestamp>,
}

impl WaterState {
    /// What the events say, in the order they happened, of a vessel usually covered so.
    ///
    /// ```
    /// use hold_steady_core::bath::{Cover, WaterState};
    /// let state = WaterState::of(Cover::Lid, &[]);
    /// assert_eq!((state.litres, state.cover, state.emptied), (0.0, Cover::Lid, None));
    /// ```
    #[must_use]
    pub fn of(cover: Cover, events: &[WaterEvent]) -> Self {
        let mut state = Self {
            litres: 0.0,
            least_litres: f64::INFINITY,
            cover,
            was_bare: cover == Cover::None,
            aim: None,
            added: Vec::new(),
            open: Vec::new(),
            off: Vec::new(),
            unwatched: Vec::new(),
            struck: Vec::new(),
            emptied: None,
        };
        for event in &as_it_stands(events) {
            let at = event.happened_at;
            match &event.kind {
                WaterEventKind::Filled { litres } => state.litres = *litres,
                WaterEventKind::Aimed { celsius } => state.aim = Some(*celsius),
                WaterEventKind::Added { litres, .. } => {
                    state.litres += litres;
                    state.added.push(at);
                }
                WaterEventKind::TakenOff { litres } => state.litres = (state.litres - litres).max(0.0),
                WaterEventKind::Covered { cover } => state.cover = *cover,
                WaterEventKind::Opened { min } => {
                    let from = crate::units::moved(at, -*min);
                    state.open.push((from, at));
                }
                WaterEventKind::Off { min } => state.off.push((crate::units::moved(at, -*min), at)),
                WaterEventKind::Unwatched { min } => {
                    let from = crate::units::moved(at, -*min);
                    state.unwatched.push(Unwatched { event: event.id, from, until: at });
                }
                WaterEventKind::Struck { instrument, at } => state.struck.push((*instrument, *at)),
                WaterEventKind::Emptied => state.emptied = Some(at),
                // What they are about stands as they say.
                WaterEventKind::Corrected { .. } | WaterEventKind::Undone { .. } => {}
            }
            if state.litres > 0.0 {
                state.least_litres = state.least_litres.min(state.litres);
            }
            state.was_bare |= state.cover == Cover::None;
        }
        // Who says when it was off says what it did.
        let told = std::mem::take(&mut state.off);
        state.unwatched.retain(|u| !told.iter().any(|(from, until)| *from < u.until && u.from < *until));
        state.off = told.into_iter().chain(state.unwatched.iter().map(|u| (u.from, u.until))).collect();
        state
    }
}

/// How water falls that nobody looks at.
#[derive(Debug, Clone, PartialEq)]
pub struct Falls {
    /// What warms it.
    pub heat: Heat,
    /// The vessel with its water, taken to lose more than is likely.
    pub pool: Pool,
    /// The same, uncovered.
    pub uncovered: Pool,
    /// The vessel as it is likely to lose.
    pub usual: Pool,
    /// Water that it holds up to its highest line, l.
    pub brim_l: f64,
    /// When water was added.
    pub added: Vec<Timestamp>,
    /// When it lay open.
    pub open: Vec<(Timestamp, Timestamp)>,
    /// What it is kept at by hand, °C: what is to come is reckoned so, and nothing that was.
    pub aim: Option<Celsius>,
}

impl Falls {
    /// Of a vessel as its run stands.
    #[must_use]
    pub(crate) fn of(vessel: &Vessel, state: &WaterState, air: Air) -> Self {
        // The least water there was, and the barest it lay: whenever nobody looked. No more than the vessel holds.
        let known = state.least_litres.is_finite();
        let litres = if known { state.least_litres } else { vessel.litres(vessel.min_mm) };
        let litres = litres.min(vessel.litres(vessel.depth_mm));
        let cover = if state.was_bare { Cover::None } else { state.cover };
        Self {
            heat: vessel.heat,
            pool: vessel.losing_pool(litres, cover, air),
            uncovered: vessel.losing_pool(litres, Cover::None, air),
            usual: vessel.pool(litres, cover, air),
            brim_l: vessel.litres(vessel.max_mm).max(litres),
            added: state.added.clone(),
            open: state.open.clone(),
            aim: state.aim,
        }
    }

    /// How it is taken to lose between two instants: uncovered where it was open in any of it.
    pub(crate) fn between(&self, from: Timestamp, to: Timestamp) -> &Pool {
        if self.open.iter().any(|(a, b)| *a < to && *b > from) { &self.uncovered } else { &self.pool }
    }

    /// Whether nothing can have warmed it between two instants: it can only have fallen.
    pub(crate) fn only_falls(&self, from: Timestamp, to: Timestamp) -> bool {
        self.heat == Heat::None && !self.added.iter().any(|at| *at >= from && *at <= to)
    }
}

/// What to do to water that nothing heats.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Care {
    /// What it should be brought to now so that it stays warm enough until the next look, °C.
    pub bring_to: Celsius,
    /// It stands on a burner, which can do it too.
    pub burner: bool,
    /// Hot water that does so, with what must come off first; none where it is warm enough, or the kettle too cold.
    pub hot: Option<Mix>,
    /// Cold water that brings it down, where it is so warm that the piece would be done further than wanted.
    pub cold: Option<Mix>,
    /// When to look again, from now, if nothing is done.
    pub look: Minutes,
    /// It is under what it is to be kept at.
    pub under: Option<Kelvin>,
}

/// How much warmer than it is kept at water may be before it is brought down, K.
const TOO_WARM: Kelvin = Kelvin::new(1.5);

/// What to do to water that was `now`, in a vessel with so much in it.
///
/// ```
/// use hold_steady_core::bath::{Air, Cover, care, shapes, usual_taps};
/// use hold_steady_core::units::Celsius;
/// let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
/// let (_, cooler) = shapes().iter().find(|(id, _)| id == "cooler-20").expect("shipped");
/// let low = care(cooler, 18.0, Cover::Lid, air, usual_taps(), (Celsius::new(54.2), Celsius::new(55.0)));
/// assert!(low.under.is_some() && low.hot.is_some_and(|m| m.add_l > 0.3));
/// let fine = care(cooler, 18.0, Cover::Lid, air, usual_taps(), (Celsius::new(56.4), Celsius::new(55.0)));
/// assert!(fine.under.is_none() && fine.hot.is_none() && fine.cold.is_none());
/// ```
#[must_use]
pub fn care(
    vessel: &Vessel,
    litres: f64,
    cover: Cover,
    air: Air,
    taps: Taps,
    (now, aim): (Celsius, Celsius),
) -> Care {
    let b = bench();
    let vessel = &vessel.at(aim);
    let litres = litres.min(vessel.litres(vessel.depth_mm));
    let pool = vessel.losing_pool(litres, cover, air);
    let margin = b.margin_k.kelvin();
    let least = aim + margin;
    // On a burner it is warmed a little and looked at often; without one it must last until the next look.
    let burner = vessel.heat == Heat::Burner;
    let (bring_to, look) = if burner {
        (least + margin, cooling().log_gap_min.minutes())
    } else {
        (fill_c(&pool, &[], least, b.look_after_min.minutes()), look_in(&pool, now, least))
    };
    let brim = vessel.litres(vessel.max_mm).max(litres);
    let with = |c: f64, to: Celsius| mix(litres, brim, (now.value(), to.value(), c)).ok();
    // Warm enough for a while needs nothing done: half the time between two looks is time enough.
    let low = if burner { now < least } else { look < b.look_after_min.minutes() / 2.0 };
    Care {
        bring_to,
        burner,
        hot: low.then(|| with(taps.kettle_c, bring_to)).flatten().filter(|m| m.add_l > 0.0),
        cold: (now > bring_to + TOO_WARM).then(|| with(taps.cold_c, bring_to)).flatten(),
        look,
        under: (now < aim).then(|| aim - now),
    }
}

#[cfg(test)]
mod tests {
    use super::super::{shapes, usual_taps};
    use super::*;
    use crate::bath::{WaterRefusal, can_be_done};

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    fn event(min: i64, kind: WaterEventKind) -> WaterEvent {
        WaterEvent {
            id: Uuid::from_u128(min as u128 + 1),
            happened_at: t(min),
            recorded_at: t(min),
            by: "cook".into(),
            kind,
        }
    }

    #[test]
    fn what_was_undone_never_was_and_what_undoes_that_puts_it_back() {
        let id = |min: i64| Uuid::from_u128(min as u128 + 1);
        let mut events = vec![
            event(0, WaterEventKind::Filled { litres: 15.0 }),
            event(10, WaterEventKind::Added { litres: 2.0, celsius: Celsius::new(95.0) }),
            event(20, WaterEventKind::TakenOff { litres: 16.0 }),
        ];
        let litres = |events: &[WaterEvent]| WaterState::of(Cover::Lid, events).litres;
        assert_eq!(litres(&events), 1.0);
        // Without what was added, more was taken off than there was.
        let undo = event(30, WaterEventKind::Undone { event: id(10) });
        let refused = can_be_done(None, &events, &undo);
        assert_eq!(refused, Err(WaterRefusal::TakesMore { there: 15.0, off: 16.0 }));
        let undo = event(30, WaterEventKind::Undone { event: id(20) });
        assert_eq!(can_be_done(None, &events, &undo), Ok(()));
        events.push(undo);
        assert_eq!(litres(&events), 17.0);
        let twice = event(31, WaterEventKind::Undone { event: id(20) });
        assert_eq!(can_be_done(None, &events, &twice), Err(WaterRefusal::Undone));
        // Meanwhile what was added is undone too: what was taken off cannot be put back then.
        let added = event(32, WaterEventKind::Undone { event: id(10) });
        assert_eq!(can_be_done(None, &events, &added), Ok(()));
        events.push(added);
        let back = event(33, WaterEventKind::Undone { event: id(30) });
        assert_eq!(
            can_be_done(None, &events, &back),
            Err(WaterRefusal::TakesMore { there: 15.0, off: 16.0 })
        );
        // A correction counts from then on; undone, the first time stands again.
        let earlier = event(-5, WaterEventKind::Corrected { event: id(10) });
        assert_eq!(can_be_done(None, &events[..3], &earlier), Err(WaterRefusal::BeforeFilled(t(0))));
        let later = WaterEvent { id: id(40), ..event(25, WaterEventKind::Corrected { event: id(10) }) };
        let refused = can_be_done(None, &events[..3], &later);
        assert_eq!(refused, Err(WaterRefusal::TakesMore { there: 15.0, off: 16.0 }), "it was added after");
        let sooner = WaterEvent { id: id(41), ..event(5, WaterEventKind::Corrected { event: id(10) }) };
        let mut corrected = [&events[..3], &[sooner]].concat();
        assert_eq!(as_it_stands(&corrected)[1].happened_at, t(5));
        corrected.push(event(50, WaterEventKind::Undone { event: id(41) }));
        assert_eq!(as_it_stands(&corrected)[1].happened_at, t(10));
        for what in [id(0), id(99)] {
            let undo = event(60, WaterEventKind::Undone { event: what });
            assert_eq!(can_be_done(None, &events, &undo), Err(WaterRefusal::Unknown));
        }
    }

    #[test]
    fn what_was_done_adds_up_in_the_order_it_happened() {
        let events = [
            event(20, WaterEventKind::TakenOff { litres: 1.0 }),
            event(0, WaterEventKind::Filled { litres: 15.0 }),
            event(10, WaterEventKind::Added { litres: 0.5, celsius: Celsius::new(95.0) }),
            event(12, WaterEventKind::Opened { min: Minutes::new(3.0) }),
            event(30, WaterEventKind::Emptied),
        ];
        let s = WaterState::of(Cover::Lid, &events);
        assert_eq!(
            (s.litres, s.added.clone(), s.open.clone(), s.emptied),
            (14.5, vec![t(10)], vec![(t(9), t(12))], Some(t(30)))
        );
        let (_, cooler) = shapes().iter().find(|(id, _)| id == "cooler-20").expect("shipped");
        let falls = Falls::of(cooler, &s, Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 });
        assert!(falls.only_falls(t(11), t(20)) && !falls.only_falls(t(5), t(20)));
        assert!(falls.between(t(0), t(8)) == &falls.pool && falls.between(t(8), t(10)) == &falls.uncovered);
    }

    #[test]
    fn what_is_added_brings_it_where_it_lasts_until_the_next_look() {
        let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
        let (_, cooler) = shapes().iter().find(|(id, _)| id == "cooler-20").expect("shipped");
        let c = care(cooler, 18.0, Cover::Lid, air, usual_taps(), (Celsius::new(54.0), Celsius::new(55.0)));
        let hot = c.hot.expect("it is too cold");
        let left = 18.0 - hot.remove_l;
        let got = (left * 54.0 + hot.add_l * 95.0) / (left + hot.add_l);
        assert!((got - c.bring_to.value()).abs() < 1e-6 && c.under == Some(Kelvin::new(1.0)));
        let pool = cooler.losing_pool(18.0, Cover::Lid, air);
        let end = pool.run(got, None, &[], 30.0);
        assert!((end[end.len() - 1].c - 55.3).abs() < 0.02);
        let warm =
            care(cooler, 18.0, Cover::Lid, air, usual_taps(), (Celsius::new(62.0), Celsius::new(55.0)));
        assert!(warm.hot.is_none() && warm.cold.is_some_and(|m| m.add_l > 1.0));
    }

    #[test]
    fn amounts_that_cannot_be_are_refused() {
        assert!(WaterEventKind::Filled { litres: f64::NAN }.check().is_err());
        assert!(WaterEventKind::Added { litres: 1.0, celsius: Celsius::new(140.0) }.check().is_err());
        assert!(WaterEventKind::Opened { min: Minutes::new(-1.0) }.check().is_err());
    }

    #[test]
    fn what_nobody_saw_counts_as_off_until_somebody_says_what_it_did() {
        let away = event(120, WaterEventKind::Unwatched { min: Minutes::new(90.0) });
        let filled = event(0, WaterEventKind::Filled { litres: 12.0 });
        let of = |more: &[WaterEvent]| {
            WaterState::of(Cover::Lid, &[&[filled.clone(), away.clone()], more].concat())
        };
        let unsaid = of(&[]);
        assert_eq!((unsaid.unwatched.len(), unsaid.off.len()), (1, 1));
        assert_eq!(unsaid.off[0], (unsaid.unwatched[0].from, away.happened_at));
        // It was on.
        let on = of(&[event(125, WaterEventKind::Undone { event: away.id })]);
        assert_eq!((on.unwatched.len(), on.off.len()), (0, 0));
        // It was off for twenty of those minutes: then for no more.
        let off = of(&[event(100, WaterEventKind::Off { min: Minutes::new(20.0) })]);
        assert_eq!((off.unwatched.len(), off.off.len()), (0, 1));
        assert!(off.off[0].0 > unsaid.off[0].0);
    }
}
