//! A bath that was off: from when, until when, and what it was read to be after.

use actix_web::HttpRequest;
use hold_steady_core::bath::WaterEventKind;
use hold_steady_core::book::{BathRecord, derived_id};
use hold_steady_core::units::{Celsius, Minutes, Units, WallClock, parse_temperature};
use hold_steady_core::words;
use hold_steady_store::{NewWaterEvent, new_id};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use super::run::when;
use crate::app::{AppState, Here, PageError, near_time, or_why, reader_units};
use crate::words::bath as says;

/// As it is typed; from its last word on until now where nothing is.
#[derive(Default, Deserialize)]
pub struct Off {
    #[serde(default)]
    pub from: String,
    #[serde(default)]
    pub until: String,
    #[serde(default)]
    pub degrees: String,
    /// The kitchen's thermometer it was read with; by its own display where none is named.
    #[serde(default)]
    pub thermometer: String,
    pub tap: Option<Uuid>,
    #[serde(default)]
    pub tapped_ago: String,
}

/// When something was last known of it: its last reading; where it was never read, from then on.
pub fn last_word(bath: &BathRecord, never_read: Timestamp) -> Timestamp {
    let in_water = bath.instruments.iter().filter(|i| i.piece.is_none());
    in_water.filter_map(|i| i.readings.last()).map(|r| r.at).max().unwrap_or(never_read)
}

impl Off {
    /// Until when, for how long, and what the water read then; or why it cannot be.
    fn understood(
        &self,
        since: Timestamp,
        (now, zone, units): (Timestamp, &WallClock, Units),
    ) -> Result<(Timestamp, WaterEventKind, Celsius), String> {
        let from = match self.from.trim() {
            "" => since,
            typed => when(typed, &self.tapped_ago, now, zone)?,
        };
        let until = when(&self.until, &self.tapped_ago, now, zone)?;
        if from >= until {
            let (from, until) = (near_time(from, now, zone), near_time(until, now, zone));
            return Err(says::not_off_then(&from, &until));
        }
        let kind = WaterEventKind::Off { min: Minutes::between(from, until) };
        kind.check().map_err(|e| format!("{e}."))?;
        let celsius = parse_temperature(&self.degrees, units.temperature)
            .map_err(|e| format!("What it reads now says how far it fell: {e}"))?;
        WaterEventKind::Aimed { celsius }.check().map_err(|e| format!("{e}."))?;
        Ok((until, kind, celsius))
    }

    /// Writes it down, and the reading after it.
    ///
    /// # Errors
    /// Inside, why it cannot have been so, to be shown beside what was typed.
    pub async fn write(
        &self,
        state: &AppState,
        request: &HttpRequest,
        (bath, since): (Uuid, Timestamp),
        now: Timestamp,
    ) -> Result<Result<(), String>, PageError> {
        let (zone, units) = (state.kitchen().wall(), reader_units(request));
        let (until, kind, celsius) = match self.understood(since, (now, &zone, units)) {
            Ok(understood) => understood,
            Err(problem) => return Ok(Err(problem)),
        };
        let tap = self.tap.unwrap_or_else(|| new_id(now));
        let event = NewWaterEvent { id: tap, happened_at: until, kind };
        let here = Here::of(request)?;
        let added = here.add_water(bath, event, now, BathRecord::with_water).await;
        let told = |why| words::water_refused(&why, units, &|at| near_time(at, now, &zone));
        if let Err(why) = or_why(added)?.and_then(|done| done.map_err(told)) {
            return Ok(Err(why));
        }
        let read = (derived_id(tap, "read"), now);
        or_why(here.read_bath(bath, self.thermometer.parse().ok(), (celsius, now), read).await)
    }
}
