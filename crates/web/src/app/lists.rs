//! What a sentence is read with: the kitchen's foods, its vessels and thermometers, its guests.

use hold_steady_core::food::Pantry;
use hold_steady_core::plan::{Equipment, Guest, Setting};
use hold_steady_core::units::Units;
use hold_steady_store::{Kitchen, StoreError};
use jiff::Timestamp;

use super::AppState;

/// The kitchen's lists, as they are now. Whoever reads a sentence reads it with all of them: one that is left out is a food, a
/// vessel or a guest that is not known.
pub struct Lists {
    pub pantry: Pantry,
    pub equipment: Equipment,
    pub guests: Vec<Guest>,
}

impl Lists {
    pub async fn of(state: &AppState) -> Result<Self, StoreError> {
        let here = state.ours();
        Ok(Self {
            pantry: here.pantry().await?,
            equipment: here.equipment().await?,
            guests: here.guests().await?,
        })
    }

    /// What a sentence is read in, with all of them.
    pub fn setting<'a>(&'a self, units: Units, now: Timestamp, kitchen: &'a Kitchen) -> Setting<'a> {
        Setting::new(units, now, &kitchen.zone, &kitchen.rules)
            .with_pantry(&self.pantry)
            .with_equipment(&self.equipment)
            .with_guests(&self.guests)
    }
}
