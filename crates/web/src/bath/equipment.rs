//! The vessels and thermometers of the kitchen: kept, changed, checked, taken off the lists.

use std::collections::BTreeMap;

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use hold_steady_core::bath::{
    Against, Check, Cover, Heat, Thermometer, USUAL_BATH, VesselForm, Wall, boiling_c, shapes, taken, trust,
};
use hold_steady_core::book::KeptVessel;
use hold_steady_core::units::{Celsius, Units, WallClock, parse_temperature, shortened};
use hold_steady_core::words;
use hold_steady_store::{StoreError, new_id};
use jiff::Timestamp;
use serde::Deserialize;
use uuid::Uuid;

use super::show;
use crate::app::{
    self, AppState, Here, PageError, Place, Removal, Shell, day_and_time, html_for, or_why, reader_units,
    resource, see_other,
};
use crate::words::bath as says;

pub fn configure(config: &mut web::ServiceConfig) {
    config
        .service(resource("/bath/vessels").route(web::post().to(keep)))
        .service(resource("/bath/vessels/new").route(app::get(new)))
        .service(resource("/bath/vessels/{id}/change").route(app::get(change)))
        .service(resource("/bath/vessels/{id}/remove").route(web::post().to(remove)))
        .service(resource("/bath/thermometers").route(web::post().to(keep_thermometer)))
        .service(resource("/bath/thermometers/{id}/check").route(web::post().to(check)))
        .service(resource("/bath/thermometers/{id}/remove").route(web::post().to(remove_thermometer)));
}

/// What stands in the forms of the page and could not be taken.
#[derive(Debug, Default)]
pub struct Typed {
    /// About which thermometer.
    pub about: Option<Uuid>,
    pub against: String,
    pub read: String,
    pub is: String,
    pub name: String,
    pub errors: BTreeMap<&'static str, String>,
}

/// A thermometer of the list.
pub struct ThermometerView {
    pub id: Uuid,
    pub name: String,
    /// What its checks make of a reading at a usual bath.
    pub trusted: String,
    /// Its checks, newest first: before and after.
    pub checks: Vec<String>,
    pub check_id: Uuid,
    pub boils: String,
}

impl ThermometerView {
    pub fn of(t: &Thermometer, now: Timestamp, zone: &WallClock, units: Units) -> Self {
        let shown = |c: &Check| {
            format!(
                "{}: read {} where it was {}",
                day_and_time(c.at, zone),
                units.temperature_fixed(c.read_c),
                units.temperature_fixed(c.true_c)
            )
        };
        Self {
            id: t.id,
            name: t.name.clone(),
            trusted: words::trusted(&trust(&t.checks, USUAL_BATH, now), units),
            checks: t.checks.iter().rev().map(shown).collect(),
            check_id: new_id(now),
            boils: String::new(),
        }
    }

    pub fn boiling_at(self, boils: &str) -> Self {
        Self { boils: boils.to_owned(), ..self }
    }
}

type Choice = (&'static str, &'static str, bool);

#[derive(Template)]
#[template(path = "bath/vessel.html")]
struct VesselPage {
    shell: Shell,
    id: Uuid,
    new: bool,
    form: VesselForm,
    errors: BTreeMap<&'static str, String>,
    walls: Vec<Choice>,
    covers: Vec<Choice>,
    heats: Vec<Choice>,
    learned: Option<String>,
}

impl VesselPage {
    fn error(&self, field: &str) -> &str {
        self.errors.get(field).map_or("", String::as_str)
    }
}

async fn vessel_page(
    state: &AppState,
    request: &HttpRequest,
    (id, new): (Uuid, bool),
    form: VesselForm,
    errors: BTreeMap<&'static str, String>,
) -> Result<HttpResponse, PageError> {
    let equipment = Here::of(request)?.equipment().await?;
    let units = reader_units(request);
    let learned = equipment.vessels.iter().find(|v| v.id == id).and_then(|v| v.vessel.learned);
    let refused = !errors.is_empty();
    let title = if new { "A new vessel".to_owned() } else { form.name.clone() };
    let page = VesselPage {
        shell: Shell::new(state, request, Place::Bath, title).await?,
        id,
        new,
        walls: Wall::ALL.map(|w| (w.id(), w.data().name.as_str(), w.id() == form.wall)).into(),
        covers: Cover::ALL.map(|c| (c.id(), words::cover(c), c.id() == form.cover)).into(),
        heats: [
            (Heat::Heater, "a heater that holds its setting"),
            (Heat::Burner, "a burner, moved by hand"),
            (Heat::None, "nothing: hot water is filled in"),
        ]
        .map(|(h, words)| (h.id(), words, h.id() == form.heat))
        .into(),
        form,
        errors,
        learned: learned.map(|l| words::learned(&l, units)),
    };
    html_for(&page, refused)
}

#[derive(Deserialize)]
struct Copy {
    #[serde(default)]
    copy: String,
}

async fn new(
    state: web::Data<AppState>,
    request: HttpRequest,
    copy: web::Query<Copy>,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(&request);
    let shape = shapes().iter().find(|(id, _)| *id == copy.copy).unwrap_or(&shapes()[0]);
    let form = VesselForm { name: shape.1.called(units), ..VesselForm::of(&shape.1, units) };
    vessel_page(&state, &request, (new_id(state.clock.now()), true), form, BTreeMap::new()).await
}

async fn change(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let kept = known(&here, *id).await?;
    let form = VesselForm::of(&kept.vessel, reader_units(&request));
    vessel_page(&state, &request, (*id, false), form, BTreeMap::new()).await
}

/// A vessel of the kitchen's list.
pub async fn known(here: &Here, id: Uuid) -> Result<KeptVessel, PageError> {
    let equipment = here.equipment().await?;
    equipment.vessels.into_iter().find(|v| v.id == id).ok_or(PageError::Store(StoreError::NotFound))
}

#[derive(Deserialize)]
struct Kept {
    id: Uuid,
    #[serde(default)]
    new: bool,
    #[serde(default)]
    forget: bool,
    #[serde(flatten)]
    form: VesselForm,
}

async fn keep(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Kept>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Kept { id, new, forget, form } = form.into_inner();
    let now = state.clock.now();
    let vessel = match form.read(reader_units(&request)) {
        Ok(vessel) => vessel,
        Err(errors) => return vessel_page(&state, &request, (id, new), form, errors).await,
    };
    let before = here.equipment().await?.vessels.into_iter().find(|v| v.id == id);
    let learned = before.and_then(|v| v.vessel.learned).filter(|_| !forget);
    let kept = KeptVessel { id, vessel: hold_steady_core::bath::Vessel { learned, ..vessel } };
    match or_why(here.keep_vessel(kept, now).await)? {
        Ok(()) => Ok(see_other(&format!("/bath/vessels/{id}"))),
        Err(why) => vessel_page(&state, &request, (id, new), form, BTreeMap::from([("name", why)])).await,
    }
}

async fn remove(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<Removal>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let name = if form.restore { String::new() } else { known(&here, *id).await?.vessel.name };
    here.remove_vessel(*id, form.put(), state.clock.now()).await?;
    if form.restore {
        return Ok(see_other("/bath?done=vessel"));
    }
    let query = serde_urlencoded::to_string([("removed", id.to_string()), ("name", name)]);
    Ok(see_other(&format!("/bath?{}", query.map_err(|e| PageError::Request(e.to_string()))?)))
}

#[derive(Deserialize)]
struct Named {
    id: Uuid,
    #[serde(default)]
    name: String,
}

async fn keep_thermometer(
    state: web::Data<AppState>,
    request: HttpRequest,
    form: web::Form<Named>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let Named { id, name } = form.into_inner();
    let kept = match app::plain_name(&name, "thermometer") {
        Ok(plain) => or_why(here.keep_thermometer(id, plain, state.clock.now()).await)?,
        Err(why) => Err(why),
    };
    match kept {
        Ok(()) => Ok(see_other("/bath?done=thermometer#thermometers")),
        Err(text) => {
            let typed = Typed { name, errors: BTreeMap::from([("name", text)]), ..Typed::default() };
            show(&state, &request, typed, None, None).await
        }
    }
}

async fn remove_thermometer(
    state: web::Data<AppState>,
    id: web::Path<Uuid>,
    form: web::Form<Removal>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    here.remove_thermometer(*id, form.put(), state.clock.now()).await?;
    Ok(see_other("/bath?done=thermometer#thermometers"))
}

#[derive(Deserialize)]
struct Checked {
    /// Chosen by the page: sent twice, it was made once.
    id: Uuid,
    #[serde(default)]
    against: String,
    #[serde(default)]
    read: String,
    #[serde(default)]
    is: String,
}

async fn check(
    state: web::Data<AppState>,
    request: HttpRequest,
    id: web::Path<Uuid>,
    form: web::Form<Checked>,
    here: Here,
) -> Result<HttpResponse, PageError> {
    let units = reader_units(&request);
    let now = state.clock.now();
    let altitude_m = state.kitchen().rules.altitude_m;
    match understood(&form, altitude_m, now, units) {
        Ok(check) => {
            here.check_thermometer(*id, check, now).await?;
            Ok(see_other("/bath?done=checked#thermometers"))
        }
        Err((field, text)) => {
            let Checked { against, read, is, .. } = form.into_inner();
            let errors = BTreeMap::from([(field, text)]);
            let typed = Typed { about: Some(*id), against, read, is, errors, ..Typed::default() };
            show(&state, &request, typed, None, None).await
        }
    }
}

fn understood(
    form: &Checked,
    altitude_m: f64,
    now: Timestamp,
    units: Units,
) -> Result<Check, (&'static str, String)> {
    let degrees =
        |field, text: &str| parse_temperature(text, units.temperature).map_err(|e| (field, e.to_string()));
    let against = Against::ALL.into_iter().find(|a| a.id() == form.against);
    let against = against.ok_or(("read", says::AGAINST_WHAT.to_owned()))?;
    let read_c = degrees("read", &form.read)?;
    let true_c = match against {
        Against::Ice => Celsius::new(0.0),
        Against::Boiling => Celsius::new((boiling_c(altitude_m) * 10.0).round() / 10.0),
        Against::Reference => degrees("is", &form.is)?,
    };
    if let Err((off, most)) = taken(read_c, true_c) {
        let text = says::too_far_off(
            &shortened(form.read.trim()),
            &units.temperature_difference_fine(off.abs()),
            &units.temperature_difference_fine(most),
        );
        return Err(("read", text));
    }
    Ok(Check { id: form.id, at: now, against, read_c, true_c })
}
