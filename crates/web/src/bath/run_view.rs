//! What the page of a running bath shows.

use hold_steady_core::bath::{
    BathNow, Cover, Heat, LastRead, Mix, Taps, Thermometer, WaterEvent, WaterEventKind, as_it_stands,
    bath_now, taught, usual_taps,
};
use hold_steady_core::book::{BathRecord, InstrumentRecord, KeptVessel, usual_air};
use hold_steady_core::figures::bench;
use hold_steady_core::plan::Equipment;
use hold_steady_core::units::{Celsius, Kelvin, Length, Units, WallClock};
use hold_steady_core::words;
use hold_steady_store::{StoreError, new_id};
use jiff::Timestamp;
use uuid::Uuid;

use super::Said;
use super::off::last_word;
use super::run::Typed;
use crate::app::{AppState, Here, PageError, clock_time, near_time};
use crate::drawing::{Section, section};

/// A line of what happened.
pub(super) struct LogLine {
    pub(super) ms: i64,
    pub(super) at: String,
    pub(super) what: String,
    pub(super) struck: bool,
    /// What strikes this reading out: its instrument and its time.
    pub(super) strike: Option<(Uuid, String)>,
    /// What was done: it may be undone, and said to have been at another time.
    pub(super) done: Option<Uuid>,
    /// What undid it: it may be put back.
    pub(super) undone_by: Option<Uuid>,
}

/// A thermometer to read with.
pub(super) struct Probe {
    pub(super) id: Uuid,
    pub(super) name: String,
    pub(super) chosen: bool,
}

pub(super) struct RunView {
    pub(super) id: Uuid,
    pub(super) name: String,
    pub(super) said: Said,
    pub(super) care: Option<(String, String)>,
    /// What to add, typed in: hot water's litres and temperature.
    pub(super) add: (String, String),
    pub(super) look: Option<(String, i64)>,
    pub(super) unread: Option<String>,
    pub(super) by_hand: bool,
    pub(super) emptied: bool,
    pub(super) wanted: String,
    /// How long a lid is open, where nobody says.
    pub(super) opened: String,
    /// When something was last known of it.
    pub(super) last_word: String,
    pub(super) disagree: Option<String>,
    /// This machine was away, and nobody said since what it did: the event that says so, and the question.
    pub(super) unwatched: Option<(Uuid, String)>,
    pub(super) trusted: Option<String>,
    pub(super) sides: Vec<String>,
    pub(super) drawing: String,
    pub(super) probes: Vec<Probe>,
    /// Readings that are likely next, each one tap; and with which thermometer.
    pub(super) likely: Vec<String>,
    pub(super) likely_with: Option<(Uuid, String)>,
    pub(super) covers: Vec<(&'static str, &'static str, bool)>,
    pub(super) cooks: Vec<(String, String)>,
    pub(super) log: Vec<LogLine>,
    /// So many lines before those.
    pub(super) older: usize,
    /// What its readings teach, and why they do not teach the rest.
    pub(super) learned: Option<String>,
    pub(super) not_learned: Vec<String>,
    pub(super) vessel: Uuid,
    pub(super) typed: Typed,
    pub(super) tap: Uuid,
}

impl RunView {
    pub(super) fn error(&self, field: &str) -> &str {
        if self.typed.field == field { &self.typed.problem } else { "" }
    }
}

/// What the thermometer is likely to show next: what it showed, a step more, and steps less, in what it shows.
pub(super) fn likely(read: &LastRead, units: Units) -> Vec<String> {
    let step = Kelvin::new(if units.temperature_symbol() == "°C" { 0.1 } else { 1.0 / 1.8 });
    (-1..=6).map(|n| units.temperature_fixed(read.read - step * f64::from(n))).collect()
}

pub(super) fn side(read: &LastRead, now: Timestamp, zone: &WallClock, units: Units) -> String {
    format!(
        "{}: {} at {}, {} without its offset; {}",
        read.name,
        units.temperature_fixed(read.read),
        near_time(read.at, now, zone),
        units.temperature_fixed(read.trust.corrected(read.read)),
        words::trusted(&read.trust, units)
    )
}

pub(super) fn happened(e: &WaterEventKind, units: Units) -> Option<String> {
    Some(match e {
        WaterEventKind::Filled { litres } => format!("filled with {}", units.litres(*litres)),
        WaterEventKind::Aimed { celsius } => format!("to be kept at {}", units.temperature(*celsius)),
        WaterEventKind::Added { litres, celsius } => {
            format!("added {} of {}", units.poured(*litres), units.temperature(*celsius))
        }
        WaterEventKind::TakenOff { litres } => format!("took off {}", units.poured(*litres)),
        WaterEventKind::Covered { cover } => format!("under {} from now on", words::cover(*cover)),
        WaterEventKind::Opened { min } => format!("open for {}", words::minutes(*min)),
        WaterEventKind::Off { min } => format!("on again, off for {}", words::minutes(*min)),
        WaterEventKind::Unwatched { min } => {
            format!("this machine was back after {}: nobody saw the water", words::minutes(*min))
        }
        WaterEventKind::Emptied => "emptied".into(),
        WaterEventKind::Struck { .. } | WaterEventKind::Corrected { .. } | WaterEventKind::Undone { .. } => {
            return None;
        }
    })
}

/// What was read and done, newest first; and how many more there were before these.
pub(super) fn log(
    bath: &BathRecord,
    stands: &BathNow,
    zone: &WallClock,
    units: Units,
) -> (Vec<LogLine>, usize) {
    const SHOWN: usize = 200;
    let line = |at: Timestamp, what: String| LogLine {
        ms: at.as_millisecond(),
        at: clock_time(at, zone),
        what,
        struck: false,
        strike: None,
        done: None,
        undone_by: None,
    };
    let stand = as_it_stands(&bath.water);
    let changed = |e: &WaterEvent| !matches!(e.kind, WaterEventKind::Filled { .. } | WaterEventKind::Emptied);
    let told = |e: &WaterEvent| Some(line(e.happened_at, happened(&e.kind, units)?));
    let mut all: Vec<LogLine> =
        stand.iter().filter_map(|e| Some(LogLine { done: changed(e).then_some(e.id), ..told(e)? })).collect();
    for e in bath.water.iter().filter(|e| stand.iter().all(|s| s.id != e.id)) {
        let by = bath.water.iter().rev().find(|u| u.kind == WaterEventKind::Undone { event: e.id });
        all.extend(told(e).map(|l| LogLine { struck: true, undone_by: by.map(|u| u.id), ..l }));
    }
    all.extend(bath.settings.iter().map(|s| line(s.at, format!("set to {}", units.temperature(s.celsius)))));
    for i in bath.instruments.iter().filter(|i| i.piece.is_none()) {
        for r in &i.readings {
            let struck = stands.state.struck.contains(&(i.id, r.at));
            let text = format!("read {} with {}", units.temperature_fixed(r.celsius), i.name);
            let strike = (!struck).then(|| (i.id, r.at.to_string()));
            all.push(LogLine { struck, strike, ..line(r.at, text) });
        }
    }
    all.sort_by_key(|l| std::cmp::Reverse(l.ms));
    let older = all.len().saturating_sub(SHOWN);
    all.truncate(SHOWN);
    (all, older)
}

/// What a run is shown from.
pub(super) struct Seen {
    pub(super) bath: BathRecord,
    pub(super) vessel: KeptVessel,
    pub(super) equipment: Equipment,
    /// What lies in it: address and name.
    pub(super) cooks: Vec<(String, String)>,
    thickest: Option<Length>,
    pub(super) altitude_m: f64,
}

impl Seen {
    pub(super) async fn of(state: &AppState, here: &Here, id: Uuid, units: Units) -> Result<Self, PageError> {
        let bath = here.bath(id).await?;
        let vessel = bath.vessel.clone().ok_or(PageError::Store(StoreError::NotFound))?;
        let (mut cooks, mut thickest): (Vec<(String, String)>, Option<Length>) = (Vec::new(), None);
        for cook in here.in_bath(id).await? {
            let record = here.cook(cook).await?;
            let thick = record.plan_record().map(|p| p.request.thickness_mm);
            thickest = thickest.into_iter().chain(thick).reduce(Length::max);
            cooks.push((format!("/cook/{cook}"), record.title_in(units)));
        }
        let equipment = here.equipment().await?;
        Ok(Self { bath, vessel, equipment, cooks, thickest, altitude_m: state.kitchen().rules.altitude_m })
    }
}

/// What is in the water, not in a piece.
fn in_water(bath: &BathRecord) -> impl Iterator<Item = &InstrumentRecord> {
    bath.instruments.iter().filter(|i| i.piece.is_none())
}

/// The kitchen's thermometers, the one that was used last chosen.
fn probes(bath: &BathRecord, all: &[Thermometer]) -> Vec<Probe> {
    let last = in_water(bath).max_by_key(|i| i.readings.last().map(|r| r.at)).and_then(|i| i.thermometer);
    all.iter().map(|t| Probe { id: t.id, name: t.name.clone(), chosen: last == Some(t.id) }).collect()
}

/// The thermometer the next reading is likely to be of.
fn likely_with(bath: &BathRecord, read: &LastRead) -> Option<(Uuid, String)> {
    let with = in_water(bath).find(|i| i.id == read.instrument)?;
    Some((with.thermometer?, read.name.clone()))
}

/// What to add, as it is filled into the form: how much, and how warm.
fn to_add(stands: &BathNow, taps: Taps, units: Units) -> (String, String) {
    let Some(care) = stands.care else { return Default::default() };
    let mixed = care.hot.map(|mix| (mix, taps.kettle_c)).or(care.cold.map(|mix| (mix, taps.cold_c)));
    let shown = |(mix, c): (Mix, f64)| (units.poured(mix.add_l), units.temperature(Celsius::new(c)));
    mixed.map(shown).unwrap_or_default()
}

impl RunView {
    pub(super) fn new(
        seen: Seen,
        typed: Typed,
        now: Timestamp,
        zone: &WallClock,
        units: Units,
    ) -> Result<Self, PageError> {
        let Seen { bath, vessel, equipment, cooks, thickest, altitude_m } = seen;
        let (air, taps, kept) = (usual_air(altitude_m), usual_taps(), &vessel.vessel);
        let stands = bath_now(&bath, air, taps, now);
        let said = Said::of(&stands, now, zone, units);
        let drawing = section(&Section {
            vessel: kept,
            water: kept.height(stands.state.litres),
            cover: stands.state.cover,
            bags: thickest.map(|t| (t, cooks.len())),
            label: said.degrees.clone(),
            units,
        })?;
        let believed = stands.last.first();
        let taught = taught(&bath, kept, air);
        let several = Some(&stands.last).filter(|last| last.len() > 1).into_iter().flatten();
        let (log, older) = log(&bath, &stands, zone, units);
        Ok(Self {
            id: bath.id,
            name: bath.name.clone(),
            care: stands.care.map(|c| words::care(&c, units)),
            add: to_add(&stands, taps, units),
            look: stands.look_at.map(|t| (near_time(t, now, zone), t.as_millisecond())),
            unread: (stands.unproved && stands.state.emptied.is_none()).then(words::unread_water),
            by_hand: kept.heat != Heat::Heater,
            emptied: stands.state.emptied.is_some(),
            wanted: stands.wanted.map_or_else(String::new, |c| units.temperature(c)),
            opened: words::minutes(bench().lid_open_min.minutes()),
            last_word: near_time(last_word(&bath, bath.began_at), now, zone),
            unwatched: stands
                .unwatched
                .map(|u| (u.event, words::was_it_on((u.from, u.until), &|t| near_time(t, now, zone)))),
            disagree: stands.disagree.map(|k| units.temperature_difference_fine(k)),
            trusted: believed.map(|l| words::trusted(&l.trust, units)),
            sides: several.map(|l| side(l, now, zone, units)).collect(),
            drawing,
            probes: probes(&bath, &equipment.thermometers),
            likely: believed.map_or_else(Vec::new, |l| likely(l, units)),
            likely_with: believed.and_then(|read| likely_with(&bath, read)),
            covers: Cover::ALL.map(|over| (over.id(), words::cover(over), over == stands.state.cover)).into(),
            cooks,
            log,
            older,
            learned: taught.learned.map(|l| words::learned(&l, units)),
            not_learned: taught.refused.into_iter().map(|e| words::not_learned(e, units)).collect(),
            vessel: vessel.id,
            said,
            typed,
            tap: new_id(now),
        })
    }
}
