//! Every blank of the sentence, read in the order in which one depends on another, and the request they make.

use super::reader::Reader;
use super::reader_water::in_vessel;
use super::{From, PlanRequest, PlannedFood, Ready, ServedTo, Setting, resolve_ready};
use crate::bath::{KeptVessel, Water};
use crate::food::Food;
use crate::prep::Prep;
use crate::safety::{EggUse, Parasites};
use crate::units::{Celsius, Length, Minutes, Thickness};

/// What was understood of a sentence besides its food; what is at fault is not there.
pub(super) struct Understood<'a> {
    thickness: Option<Thickness>,
    sides: Option<(Length, Length)>,
    size: Option<(String, Length)>,
    egg_use: Option<EggUse>,
    parasites: Option<Parasites>,
    jar: Option<(f64, Celsius)>,
    prepared: Option<bool>,
    from: From,
    out_min: Option<Minutes>,
    vessel: Option<&'a KeptVessel>,
    water: Option<Water>,
    bath: Option<Celsius>,
    time: Option<Minutes>,
    intact: Option<bool>,
    at_risk: bool,
    served_to: Option<ServedTo>,
    prep: Prep,
    hot: bool,
    warming: bool,
    ready: Option<Ready>,
}

impl Understood<'_> {
    /// The request, where nothing is at fault.
    pub(super) fn request(self, planned: PlannedFood, setting: &Setting<'_>) -> Option<PlanRequest> {
        let (thickness, bath) = (self.thickness?, self.bath?);
        let prep = &self.prep;
        let vessel = self.vessel.map(|v| in_vessel(v, setting, bath, prep, thickness.thick, self.warming));
        Some(PlanRequest {
            planned,
            thickness_mm: self.size.as_ref().map_or(thickness.thick, |s| s.1),
            thin_mm: (thickness.thin < thickness.thick).then_some(thickness.thin),
            unsure: thickness.unsure,
            width_mm: self.sides.map(|s| s.0),
            length_mm: self.sides.map(|s| s.1),
            size: self.size.map(|s| s.0),
            egg_use: self.egg_use,
            parasites: self.parasites,
            fill_ml: self.jar.map(|j| j.0),
            glass_c: self.jar.map(|j| j.1),
            prepared: self.prepared,
            from: self.from,
            out_min: self.out_min,
            water: self.water,
            bath_c: bath,
            time_min: self.time,
            intact: self.intact,
            at_risk: self.at_risk,
            served_to: self.served_to,
            hot: self.hot,
            vessel,
            ready_at: match self.ready? {
                Ready::Soonest => None,
                Ready::At(t) => Some(t),
            },
            in_since: None,
            rules: setting.rules.clone(),
            prep: self.prep.remembered(setting.pantry),
        })
    }
}

impl<'a> Reader<'a> {
    /// Every blank but the food's, in the order in which one depends on another.
    pub(super) fn understood(&mut self, food: &Food) -> Understood<'a> {
        let setting = self.setting;
        let thickness = self.thickness(food);
        let sides = self.sides(food);
        let size = self.size(food);
        let egg_use = self.egg_use(food);
        let parasites = self.parasites(food);
        let jar = self.jar(food);
        let prepared = self.prepared(food);
        let from = self.from(food);
        let out_min = self.out(from);
        let vessel = self.vessel();
        let water = self.water(vessel);
        let bath = self.bath(food);
        self.within_vessel(vessel, bath);
        let time = self.time();
        let intact = self.intact(food);
        let (at_risk, served_to) = self.guests();
        self.begin_with_habits();
        let prep = self.form.prep.clone().read(setting.units, &mut self.errors);
        let (hot, warming) = self.heated(vessel);
        let ready = resolve_ready(&self.form.ready, setting.now, setting.zone);
        let ready = self.kept("ready", ready.map_err(|e| e.to_string()));
        Understood {
            thickness,
            sides,
            size,
            egg_use,
            parasites,
            jar,
            prepared,
            from,
            out_min,
            vessel,
            water,
            bath,
            time,
            intact,
            at_risk,
            served_to,
            prep,
            hot,
            warming,
            ready,
        }
    }
}
