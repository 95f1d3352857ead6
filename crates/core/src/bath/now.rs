//! Where a running bath stands: what was last read with what, what that is worth, what to do next, and what its readings
//! teach of its vessel.

use jiff::{SignedDuration, Timestamp};
use uuid::Uuid;

use super::run::care;
use super::{
    Air, BathPoint, BathRecord, Care, Heat, InstrumentRecord, LearnError, Learned, Pool, ReadingRecord, Taps,
    Trust, Unwatched, Vessel, WaterEventKind, WaterState, learn_heater, learn_loss, trust,
};
use crate::figures::{bench, cooling};
use crate::units::{Celsius, Kelvin, Minutes, moved};

/// The last reading of a thermometer.
#[derive(Debug, Clone, PartialEq)]
pub struct LastRead {
    /// Of which instrument.
    pub instrument: Uuid,
    /// What it is called.
    pub name: String,
    /// When.
    pub at: Timestamp,
    /// As read.
    pub read: Celsius,
    /// What its checks make of that.
    pub trust: Trust,
}

impl LastRead {
    /// The least the water was by it.
    ///
    /// ```
    /// # use hold_steady_core::{bath::{LastRead, trust}, units::Celsius};
    /// # let at = "2026-11-25T16:00:00Z".parse()?;
    /// let (read, name) = (Celsius::new(55.0), "probe".to_owned());
    /// let last = LastRead { instrument: uuid::Uuid::nil(), name, at, read, trust: trust(&[], read, at) };
    /// assert_eq!(last.at_least(), Celsius::new(54.5));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn at_least(&self) -> Celsius {
        self.trust.at_least(self.read)
    }
}

/// Where a running bath stands.
#[derive(Debug, Clone, PartialEq)]
pub struct BathNow {
    /// By what was done to it.
    pub state: WaterState,
    /// What it is to be: set, or kept by hand.
    pub wanted: Option<Celsius>,
    /// The last readings, one a thermometer, those read together: the lowest first, which is believed.
    pub last: Vec<LastRead>,
    /// They differ by more than their checks allow.
    pub disagree: Option<Kelvin>,
    /// What to do to water no heater holds; none before it was read.
    pub care: Option<Care>,
    /// When to look next.
    pub look_at: Option<Timestamp>,
    /// When this machine was away, and nobody said since what it did.
    pub unwatched: Option<Unwatched>,
    /// The reading is so old that nothing is proved any more.
    pub unproved: bool,
}

/// Where a bath stands.
///
/// ```
/// # use hold_steady_core::{bath::{bath_now, usual_taps, Air}, book::BathRecord};
/// # let at = "2026-11-25T16:00:00Z".parse()?;
/// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: at,
/// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
/// let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
/// let now = bath_now(&bath, air, usual_taps(), at);
/// assert!(now.last.is_empty() && now.care.is_none());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn bath_now(bath: &BathRecord, air: Air, taps: Taps, now: Timestamp) -> BathNow {
    let state = bath.state();
    let set = bath.settings.iter().filter(|s| s.at <= now).max_by_key(|s| s.at).map(|s| s.celsius);
    let wanted = state.aim.or(set);
    let last = last_read(bath, &state, now);
    let disagree = match (last.first(), last.last()) {
        (Some(low), Some(high)) if last.len() > 1 => {
            let apart = high.trust.corrected(high.read) - low.trust.corrected(low.read);
            Some(apart).filter(|k| *k > AGREE + low.trust.error.max(high.trust.error))
        }
        _ => None,
    };
    let vessel = bath.vessel.as_ref().map(|v| &v.vessel).filter(|v| v.heat != Heat::Heater);
    let by_hand = vessel.zip(wanted).zip(last.first());
    let care = by_hand.map(|((vessel, aim), read)| {
        care(vessel, state.litres, state.cover, air, taps, (read.at_least(), aim))
    });
    let look_at = care.zip(last.first()).map(|(care, read)| moved(read.at, care.look));
    let credit = bench().gap_credit_min.minutes();
    let unproved = vessel.is_some() && last.first().is_none_or(|r| Minutes::between(r.at, now) > credit);
    BathNow { unwatched: bath.unwatched(), state, wanted, last, disagree, care, look_at, unproved }
}

/// Two thermometers that differ by no more agree, K: the resolution of one and the other.
const AGREE: Kelvin = Kelvin::new(0.3);

/// The last reading of each thermometer, of those read within the time of a gap of the last of all; lowest first.
fn last_read(bath: &BathRecord, state: &WaterState, now: Timestamp) -> Vec<LastRead> {
    let of = |i: &InstrumentRecord| {
        let counts = |r: &&ReadingRecord| r.at <= now && !state.struck.contains(&(i.id, r.at));
        let read = i.readings.iter().rev().find(counts)?;
        Some(LastRead {
            instrument: i.id,
            name: i.name.clone(),
            at: read.at,
            read: read.celsius,
            trust: trust(&i.checks, read.celsius, read.at),
        })
    };
    let mut all: Vec<LastRead> =
        bath.instruments.iter().filter(|i| i.piece.is_none()).filter_map(of).collect();
    let latest = all.iter().map(|r| r.at).max();
    let together = SignedDuration::from_secs((cooling().log_gap_min.value * 60.0) as i64);
    all.retain(|r| latest.is_some_and(|l| l.duration_since(r.at) <= together));
    all.sort_by(|a, b| a.at_least().value().total_cmp(&b.at_least().value()));
    all
}

/// What the readings of a run teach of its vessel, and what they were refused for.
#[derive(Debug, Clone, PartialEq)]
pub struct Taught {
    /// What they teach; none where nothing.
    pub learned: Option<Learned>,
    /// Why they do not teach the rest.
    pub refused: Vec<LearnError>,
}

/// What the readings of a run teach of its vessel: its heater from the rise to the setting, its loss from the longest
/// stretch in which nothing warmed it.
///
/// Source: the energy balance of one well stirred body; the loss by `data/bench.json`, an engineering estimate.
///
/// ```
/// # use hold_steady_core::{bath::{taught, Air, LearnError, shapes}, book::BathRecord};
/// # let at = "2026-11-25T16:00:00Z".parse()?;
/// # let bath = BathRecord { id: uuid::Uuid::nil(), name: "bath".into(), began_at: at,
/// #     settings: vec![], vessel: None, water: vec![], instruments: vec![] };
/// let air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
/// let taught = taught(&bath, &shapes()[4].1, air);
/// assert_eq!((taught.learned, taught.refused), (None, vec![LearnError::TooFew]));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn taught(bath: &BathRecord, vessel: &Vessel, air: Air) -> Taught {
    let readings = corrected(bath, &bath.state());
    let warm = vessel.heat == Heat::Heater;
    let plain = Vessel { learned: None, ..vessel.clone() };
    // The litres and the cover of then, not of now.
    let pool_at = |of: &[(Timestamp, Celsius)]| {
        let first = of.first().map(|r| r.0);
        let by_then: Vec<_> =
            bath.water.iter().filter(|e| first.is_none_or(|at| e.happened_at <= at)).cloned().collect();
        let then = WaterState::of(vessel.cover, &by_then);
        // What was read before anybody said that it was filled.
        let state = if then.litres > 0.0 { then } else { bath.state() };
        plain.pool(state.litres.max(0.1), state.cover, air)
    };
    let fall = falling(&readings, bath, warm);
    let loss = learn_loss(&pool_at(fall), &points(fall));
    if !warm {
        let refused = loss.as_ref().err().copied().into_iter().collect();
        return Taught { learned: loss.ok(), refused };
    }
    let rise = rising(&readings, bath);
    let pool = pool_at(rise);
    let known = loss.as_ref().ok().or(vessel.learned.as_ref()).and_then(Learned::loss);
    let (loss_w_k, sd) = known.unwrap_or((pool.loss_w_k, bench().learn_shape_sd.value));
    let heater = learn_heater(&Pool { loss_w_k, ..pool }, sd, &points(rise));
    let learned = match (loss, heater) {
        (Ok(loss), Ok(heater)) => Some(loss.and(heater)),
        (Ok(one), Err(_)) | (Err(_), Ok(one)) => Some(one),
        (Err(_), Err(_)) => None,
    };
    // A run that was never let cool is not at fault for it.
    let nothing = |e: &LearnError| matches!(e, LearnError::TooFew | LearnError::Flat(_));
    let mut refused: Vec<LearnError> =
        heater.err().into_iter().chain(loss.err().filter(|e| !nothing(e))).collect();
    if learned.is_some() {
        refused.retain(|e| !nothing(e));
    }
    Taught { learned, refused }
}

/// What was read without each thermometer's offset, of the one read most; by time.
fn corrected(bath: &BathRecord, state: &WaterState) -> Vec<(Timestamp, Celsius)> {
    let in_water = bath.instruments.iter().filter(|i| i.piece.is_none());
    let Some(most) = in_water.max_by_key(|i| i.readings.len()) else { return Vec::new() };
    let counts = |r: &&ReadingRecord| !state.struck.contains(&(most.id, r.at));
    let read = |r: &ReadingRecord| (r.at, trust(&most.checks, r.celsius, r.at).corrected(r.celsius));
    most.readings.iter().filter(counts).map(read).collect()
}

/// A day of them and a few hundred at most: more teach nothing more, and a page is not to wait for them.
fn points(readings: &[(Timestamp, Celsius)]) -> Vec<BathPoint> {
    const LONGEST: Minutes = Minutes::new(1440.0);
    const MOST: usize = 500;
    let Some((first, _)) = readings.first() else { return Vec::new() };
    let within = readings.partition_point(|(at, _)| Minutes::between(*first, *at) <= LONGEST);
    readings[..within]
        .iter()
        .step_by(within / MOST + 1)
        .map(|(at, c)| BathPoint { min: Minutes::between(*first, *at).value(), c: c.value() })
        .collect()
}

/// The rise from filling to a degree below the setting.
fn rising<'a>(readings: &'a [(Timestamp, Celsius)], bath: &BathRecord) -> &'a [(Timestamp, Celsius)] {
    const SHORT: Kelvin = Kelvin::new(1.0);
    let Some(set) = bath.settings.iter().map(|s| s.celsius).max_by(|a, b| a.value().total_cmp(&b.value()))
    else {
        return &[];
    };
    let mut until = 0;
    for (i, (_, c)) in readings.iter().enumerate() {
        if *c >= set - SHORT {
            break;
        }
        until = i + 1;
    }
    &readings[..until]
}

/// The longest stretch in which water was neither added nor the lid open, nor a heater on: set below what was read.
fn falling<'a>(
    readings: &'a [(Timestamp, Celsius)],
    bath: &BathRecord,
    heater: bool,
) -> &'a [(Timestamp, Celsius)] {
    let disturbed: Vec<Timestamp> = super::as_it_stands(&bath.water)
        .iter()
        .filter(|e| {
            matches!(
                e.kind,
                WaterEventKind::Added { .. }
                    | WaterEventKind::TakenOff { .. }
                    | WaterEventKind::Opened { .. }
                    | WaterEventKind::Off { .. }
                    | WaterEventKind::Unwatched { .. }
                    | WaterEventKind::Covered { .. }
            )
        })
        .map(|e| e.happened_at)
        .collect();
    let set_at =
        |at: Timestamp| bath.settings.iter().filter(|s| s.at <= at).max_by_key(|s| s.at).map(|s| s.celsius);
    let still = |a: &(Timestamp, Celsius), b: &(Timestamp, Celsius)| {
        let off = !heater || set_at(a.0).is_some_and(|set| set < b.1);
        off && !disturbed.iter().any(|d| *d > a.0 && *d <= b.0)
    };
    let (mut best, mut from): (&[(Timestamp, Celsius)], usize) = (&[], 0);
    for i in 0..readings.len() {
        if i > from && !still(&readings[i - 1], &readings[i]) {
            from = i;
        }
        if i + 1 - from > best.len() {
            best = &readings[from..=i];
        }
    }
    best
}

#[cfg(test)]
mod tests {
    use super::super::{Against, Check, Cover, WaterEvent, shapes, usual_taps};
    use super::*;
    use crate::book::{KeptVessel, ReadingRecord, SettingRecord};

    fn t(min: i64) -> Timestamp {
        Timestamp::from_second(1_800_000_000 + min * 60).expect("in range")
    }

    const AIR: Air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };

    fn vessel(id: &str) -> Vessel {
        shapes().iter().find(|s| s.0 == id).expect("shipped").1.clone()
    }

    fn instrument(n: u128, readings: &[(i64, f64)], checks: Vec<Check>) -> InstrumentRecord {
        let read = |(min, c): &(i64, f64)| ReadingRecord {
            at: t(*min),
            celsius: Celsius::new(*c),
            quality: "typed".into(),
        };
        InstrumentRecord {
            id: Uuid::from_u128(n),
            name: format!("probe {n}"),
            piece: None,
            centred: false,
            thermometer: Some(Uuid::from_u128(100 + n)),
            checks,
            readings: readings.iter().map(read).collect(),
            thinned: None,
        }
    }

    fn checked(read: f64, is: f64) -> Vec<Check> {
        vec![Check {
            id: Uuid::nil(),
            at: t(-60),
            against: Against::Reference,
            read_c: Celsius::new(read),
            true_c: Celsius::new(is),
        }]
    }

    fn bath(
        vessel: Vessel,
        kinds: Vec<(i64, WaterEventKind)>,
        instruments: Vec<InstrumentRecord>,
    ) -> BathRecord {
        let event = |(min, kind): (i64, WaterEventKind)| WaterEvent {
            id: Uuid::from_u128(min.unsigned_abs() as u128),
            happened_at: t(min),
            recorded_at: t(min),
            by: "cook".into(),
            kind,
        };
        BathRecord {
            id: Uuid::nil(),
            name: vessel.name.clone(),
            began_at: t(-5),
            settings: Vec::new(),
            vessel: Some(KeptVessel { id: Uuid::from_u128(1), vessel }),
            water: kinds.into_iter().map(event).collect(),
            instruments,
        }
    }

    fn filled() -> Vec<(i64, WaterEventKind)> {
        vec![
            (-5, WaterEventKind::Filled { litres: 17.0 }),
            (-4, WaterEventKind::Aimed { celsius: Celsius::new(57.0) }),
        ]
    }

    #[test]
    fn of_two_that_disagree_the_lower_is_believed_and_it_is_said() {
        let two = vec![
            instrument(1, &[(0, 58.0)], checked(57.0, 57.0)),
            instrument(2, &[(3, 57.1)], checked(57.0, 57.0)),
        ];
        let now = bath_now(&bath(vessel("cooler-20"), filled(), two), AIR, usual_taps(), t(5));
        assert_eq!(now.last.iter().map(|l| l.name.as_str()).collect::<Vec<_>>(), ["probe 2", "probe 1"]);
        assert!(now.disagree.is_some_and(|k| (k - Kelvin::new(0.9)).abs() < Kelvin::new(1e-9)));
        // An unchecked one may be off by half a degree: eight tenths apart they do not contradict each other.
        let near =
            vec![instrument(1, &[(0, 57.8)], Vec::new()), instrument(2, &[(3, 57.1)], checked(57.0, 57.0))];
        let now = bath_now(&bath(vessel("cooler-20"), filled(), near), AIR, usual_taps(), t(5));
        assert_eq!(now.disagree, None);
        // The lower of what they prove counts.
        assert_eq!(now.last[0].at_least(), Celsius::new(57.1));
    }

    #[test]
    fn it_says_what_to_do_and_when_to_look_and_when_nothing_is_proved_any_more() {
        let read = vec![instrument(1, &[(0, 56.5)], checked(57.0, 57.0))];
        let cooler = bath(vessel("cooler-20"), filled(), read);
        let now = bath_now(&cooler, AIR, usual_taps(), t(5));
        assert!(now.care.is_some_and(|c| c.hot.is_some()) && !now.unproved);
        assert_eq!(now.look_at, Some(t(5)));
        assert!(bath_now(&cooler, AIR, usual_taps(), t(40)).unproved);
        // A heater's water needs no hand.
        let mut held =
            bath(vessel("box-12"), vec![(-5, WaterEventKind::Filled { litres: 12.0 })], Vec::new());
        held.settings = vec![SettingRecord {
            id: Uuid::nil(),
            at: t(-5),
            celsius: Celsius::new(57.0),
            by: "cook".into(),
        }];
        let now = bath_now(&held, AIR, usual_taps(), t(40));
        assert!(now.care.is_none() && !now.unproved && now.wanted == Some(Celsius::new(57.0)));
    }

    #[test]
    fn a_cooler_s_readings_teach_its_loss_and_a_machine_s_rise_its_heater() {
        let v = vessel("cooler-20");
        let truth = super::super::Pool { loss_w_k: 1.6, ..v.pool(17.0, Cover::Lid, AIR) };
        let trace = super::super::BathTrace::new(truth.run(60.0, None, &[], 240.0)).expect("rises");
        let read: Vec<(i64, f64)> =
            (0..=8).map(|i| (i * 30, (trace.at(i as f64 * 1800.0) * 10.0).round() / 10.0)).collect();
        let got =
            taught(&bath(v.clone(), filled(), vec![instrument(1, &read, checked(57.0, 57.0))]), &v, AIR);
        let loss = got.learned.and_then(|l| l.loss_w_k).expect("it falls");
        assert!((loss / 1.6 - 1.0).abs() < 0.1, "{loss}");
        // After water was added only the longer stretch counts.
        let topped =
            [filled(), vec![(65, WaterEventKind::Added { litres: 0.5, celsius: Celsius::new(95.0) })]]
                .concat();
        let mut jumped = read.clone();
        for r in jumped.iter_mut().filter(|r| r.0 > 65) {
            r.1 += 1.0;
        }
        assert!(
            taught(&bath(v.clone(), topped, vec![instrument(1, &jumped, checked(57.0, 57.0))]), &v, AIR)
                .learned
                .is_some()
        );

        let m = vessel("box-12");
        let pool = super::super::Pool { heater_w: 820.0, ..m.pool(11.0, Cover::Lid, AIR) };
        let warm = super::super::BathTrace::new(pool.run(30.0, Some(90.0), &[], 20.0)).expect("rises");
        let rise: Vec<(i64, f64)> = (0..=10).map(|i| (i * 2, warm.at(i as f64 * 120.0))).collect();
        let mut record = bath(
            m.clone(),
            vec![(-5, WaterEventKind::Filled { litres: 11.0 })],
            vec![instrument(1, &rise, checked(57.0, 57.0))],
        );
        record.settings = vec![SettingRecord {
            id: Uuid::nil(),
            at: t(-5),
            celsius: Celsius::new(70.0),
            by: "cook".into(),
        }];
        let heater = taught(&record, &m, AIR).learned.and_then(|l| l.heater_w).expect("it rises");
        assert!((heater / 820.0 - 1.0).abs() < 0.03, "{heater}");
    }
}
