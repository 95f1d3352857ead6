//! The demonstration's data: an invented supper room on a canal, its last weeks and this evening.
//! Everything in it is made up; the plans are computed by the same engine as any other.

use bath_sim::Tub;
use hold_steady_core::bath::{Against, Check, Report, Reported, Vessel, shapes};
use hold_steady_core::book::{CookRecord, KeptVessel};
use hold_steady_core::cook::{Covered, EventKind, Rating};
use hold_steady_core::food::{Food, OwnForm, catalogue};
use hold_steady_core::plan::{PlanForm, Setting, plan};
use hold_steady_core::units::{Celsius, Units};
use hold_steady_store::{
    Actor, CookPhase, InKitchen, Kitchen, Lies, NewBath, NewCook, NewEvent, Role, Store, new_id,
};
use jiff::civil::Time;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp, ToSpan};
use serde::Deserialize;
use uuid::Uuid;

use crate::Failure;

/// One evening of the invented past.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Evening {
    days_ago: i64,
    #[serde(default = "usual_hour")]
    ready: (i8, i8),
    food: String,
    thickness: String,
    bath: String,
    #[serde(default = "from_the_refrigerator")]
    from: String,
    #[serde(default = "whole")]
    intact: String,
    #[serde(default = "well")]
    guests: String,
    /// Minutes later than planned: drop, pull, eaten.
    #[serde(default)]
    late: (i64, i64, i64),
    #[serde(default = "a_face_each")]
    faces_s: Vec<f64>,
    /// Centre, band, tenderness, crust.
    #[serde(default = "good")]
    marks: (i8, u8, u8, u8),
    #[serde(default)]
    note: String,
    #[serde(default)]
    next_time: String,
}

const fn usual_hour() -> (i8, i8) {
    (19, 30)
}

fn from_the_refrigerator() -> String {
    "refrigerator".into()
}

fn whole() -> String {
    "whole".into()
}

fn well() -> String {
    "well".into()
}

fn a_face_each() -> Vec<f64> {
    vec![45.0, 45.0]
}

const fn good() -> (i8, u8, u8, u8) {
    (0, 2, 4, 4)
}

/// The last weeks of the supper room: made up.
fn evenings() -> Vec<Evening> {
    serde_json::from_str(include_str!("../data/evenings.json")).expect("shipped and tested")
}

/// Fills an empty demonstration; leaves one that has anything in it as it is.
pub async fn seed(store: &Store, now: Timestamp, zone: TimeZone) -> Result<Kitchen, Failure> {
    let name = "Heron Lock supper room".to_owned();
    let kitchen = store.kitchen(now, Some(name), Some(zone)).await?;
    let here =
        &store.in_kitchen(Actor { kitchen: kitchen.id, by: "demonstration".into(), role: Role::Program });
    for phase in [CookPhase::UnderWay, CookPhase::Finished, CookPhase::Deleted] {
        if here.cooks_that(phase, (0, 1)).await?.1 > 0 {
            return Ok(kitchen);
        }
    }
    own(here, now).await?;
    let [lock_box, blue, weir] = equipment(here, now).await?;
    for e in evenings().iter().rev() {
        past(here, &kitchen, e, now).await?;
    }
    tonight(here, &kitchen, &lock_box, now).await?;
    cooler(here, &blue, now).await?;
    thighs(here, &kitchen, &weir, now).await?;
    reported(here, now).await?;
    Ok(kitchen)
}

/// The one food of its own this kitchen keeps.
const OWN_ID: &str = "own-lock-chicken";

/// A food copied and changed, and a temperature dialled in.
async fn own(here: &InKitchen, now: Timestamp) -> Result<(), Failure> {
    let units = Units::default();
    let base = catalogue().food("chicken-breast").expect("in the catalogue");
    let form = OwnForm {
        name: "Lock Farm chicken, brined".into(),
        about: "From the farm above the lock, a night in six per cent brine: it stays juicy longer.".into(),
        thickness: "34 mm".into(),
        water: "75.5".into(),
        protein: "21".into(),
        fat: "1.9".into(),
        ash: "1.6".into(),
        carbohydrate: "0".into(),
        fibre: "0".into(),
        levels: "tender 60 °C\nfirm 64 °C".into(),
        windows: "60 °C: 1 h to 5 h\n64 °C: 1 h to 4 h".into(),
    };
    let food = form.read(OWN_ID, base, units).map_err(|e| Failure::Other(format!("demonstration: {e:?}")))?;
    here.keep_food(food, later(now, -50 * 24 * 60)).await?;
    Ok(here.dial("beef-strip".into(), Some(Celsius::new(56.0)), later(now, -20 * 24 * 60)).await?)
}

/// A box with a circulator, a cooler without, and two thermometers, one of them checked.
async fn equipment(here: &InKitchen, now: Timestamp) -> Result<[KeptVessel; 3], Failure> {
    let at = later(now, -40 * 24 * 60);
    let kept = |n: u128, shape: &str, name: &str| {
        let vessel = shapes().iter().find(|s| s.0 == shape).map(|s| s.1.clone());
        let vessel = Vessel { name: name.into(), ..vessel.expect("shipped") };
        KeptVessel { id: Uuid::from_u128(0x019a_c900_0000_7000_8000_0000_0000_0000 + n), vessel }
    };
    let all = [
        kept(1, "box-12", "the sluice box"),
        kept(2, "cooler-20", "the blue cooler"),
        kept(3, "box-26", "the weir tank"),
    ];
    for vessel in &all {
        here.keep_vessel(vessel.clone(), at).await?;
    }
    for (id, name) in [(probe(), "thin probe"), (new_id(at), "dial by the stove")] {
        here.keep_thermometer(id, name.into(), at).await?;
    }
    let (read_c, true_c) = (Celsius::new(57.3), Celsius::new(57.0));
    let check = Check { id: new_id(at), at, against: Against::Reference, read_c, true_c };
    here.check_thermometer(probe(), check, at).await?;
    Ok(all)
}

/// The thermometer that was checked.
const fn probe() -> Uuid {
    Uuid::from_u128(0x019a_c900_0000_7000_8000_0000_0000_0009)
}

/// The cooler, filled for the carp of a later table and read twice.
async fn cooler(here: &InKitchen, blue: &KeptVessel, now: Timestamp) -> Result<(), Failure> {
    let filled = later(now, -46);
    let new = NewBath { id: new_id(filled), vessel: blue.clone(), litres: 16.0, celsius: Celsius::new(57.0) };
    let bath = here.fill(new, filled).await?;
    for (min, c) in [(-45, 60.4), (-28, 59.5), (-9, 58.4)] {
        here.read_bath(bath, Some(probe()), (Celsius::new(c), later(now, min)), (new_id(now), now)).await?;
    }
    Ok(())
}

fn later(t: Timestamp, minutes: i64) -> Timestamp {
    t.checked_add(SignedDuration::from_mins(minutes)).unwrap_or(t)
}

async fn past(here: &InKitchen, kitchen: &Kitchen, e: &Evening, now: Timestamp) -> Result<(), Failure> {
    let other = |e: &dyn std::fmt::Display| Failure::Other(format!("demonstration: {e}"));
    let day = now.to_zoned(kitchen.zone.clone()).date().checked_sub(e.days_ago.days());
    let time = Time::new(e.ready.0, e.ready.1, 0, 0).map_err(|e| other(&e))?;
    let ready = day.map_err(|e| other(&e))?.to_datetime(time);
    let serve = kitchen.zone.to_timestamp(ready).map_err(|e| other(&e))?;
    // Planned early enough for the longest of them.
    let planned_at = later(serve, -50 * 60);
    let typed = PlanForm {
        food: e.food.clone(),
        thickness: e.thickness.clone(),
        from: e.from.clone(),
        bath: e.bath.clone(),
        intact: e.intact.clone(),
        parasites: "frozen".into(),
        egg_use: "raw".into(),
        guests: e.guests.clone(),
        ready: ready.strftime("%Y-%m-%d %H:%M").to_string(),
        ..PlanForm::default()
    };
    let pantry = here.pantry().await?;
    let finish = pantry.food(&e.food).map(Food::finish).ok_or_else(|| other(&e.food))?;
    let (cook, plan) = begin(here, kitchen, typed, planned_at).await?;
    let t = plan.times;
    let sears = finish.sears;
    let (drop, pull, eaten) = e.late;
    let rating = Rating {
        centre: Some(e.marks.0),
        band: sears.then_some(e.marks.1),
        tenderness: Some(e.marks.2),
        crust: sears.then_some(e.marks.3),
        note: e.note.clone(),
        next_time: e.next_time.clone(),
    };
    let pulled = later(t.pull, pull);
    let served = later(t.serve, eaten).max(later(pulled, 8));
    let dried = finish.dries.then(|| (later(pulled, 3), EventKind::Dried));
    let seared = EventKind::Seared { faces_s: e.faces_s.to_vec(), covered: Some(Covered::All) };
    let seared = finish.sears.then(|| (later(served, -3), seared));
    let start = [(later(t.drop_by, drop), EventKind::Dropped), (pulled, EventKind::Pulled)];
    let end = [(served, EventKind::Eaten), (later(served, 50), EventKind::Rated(rating))];
    for (at, kind) in start.into_iter().chain(dried).chain(seared).chain(end) {
        tap(here, cook, at, kind).await?;
    }
    Ok(())
}

/// This evening: a thick strip steak that went in a while ago.
async fn tonight(
    here: &InKitchen,
    kitchen: &Kitchen,
    vessel: &KeptVessel,
    now: Timestamp,
) -> Result<(), Failure> {
    // Five minutes to fill the box: tap and kettle make it hot enough.
    let planned_at = later(now, -57);
    let typed = PlanForm {
        food: "beef-strip".into(),
        thickness: "38 mm".into(),
        bath: "56 °C".into(),
        intact: "whole".into(),
        vessel: vessel.id.to_string(),
        ..PlanForm::default()
    };
    let (cook, _) = begin(here, kitchen, typed, planned_at).await?;
    tap(here, cook, later(now, -52), EventKind::Dropped).await
}

/// Chicken thighs for the late table, in the tank, a while ago.
async fn thighs(
    here: &InKitchen,
    kitchen: &Kitchen,
    vessel: &KeptVessel,
    now: Timestamp,
) -> Result<(), Failure> {
    let typed = PlanForm {
        food: "chicken-thigh".into(),
        thickness: "30 mm".into(),
        bath: "66 °C".into(),
        vessel: vessel.id.to_string(),
        ..PlanForm::default()
    };
    let (cook, _) = begin(here, kitchen, typed, later(now, -46)).await?;
    tap(here, cook, later(now, -33), EventKind::Dropped).await
}

/// The circulators of box and tank, and how hot they are set.
const DEVICES: [(u128, &str, &str, f64); 2] =
    [(1, "circulator of the sluice box", "box-12", 56.0), (3, "circulator of the weir tank", "box-26", 66.0)];

const fn device_id(n: u128) -> Uuid {
    Uuid::from_u128(0x019a_c900_0000_7000_8000_0000_0000_0100 + n)
}

/// What both have reported of the last hour.
async fn reported(here: &InKitchen, now: Timestamp) -> Result<(), Failure> {
    for (n, name, shape, set) in DEVICES {
        let vessel = Uuid::from_u128(0x019a_c900_0000_7000_8000_0000_0000_0000 + n);
        let Some(bath) = here.running_in(vessel).await? else { continue };
        here.make_device(device_id(n), name.into(), None, bath.began_at).await?;
        let water = Lies::water(bath.id);
        here.place_device(device_id(n), Some(water), bath.began_at).await?;
        let mut tub = tub(shape, set, n);
        let begun = later(bath.began_at, 5);
        let minutes = now.duration_since(begun).as_mins();
        let readings = (0..=minutes).map(|min| {
            tub.pass(60.0);
            Reported { line: 0, at: Some(later(begun, min)), celsius: Celsius::new(tub.read()) }
        });
        let report = Report { readings: readings.collect(), ..Report::default() };
        here.report(device_id(n), report, now).await?;
    }
    Ok(())
}

fn tub(shape: &str, set: f64, seed: u128) -> Tub {
    Tub::new(shape, set, seed as u64).expect("a shipped shape")
}

/// The simulated circulators, each with a token made now: only its mark is kept, so that every start makes others.
pub async fn devices(
    store: &Store,
    kitchen: &Kitchen,
    now: Timestamp,
) -> Result<Vec<(String, Tub)>, Failure> {
    let actor = Actor { kitchen: kitchen.id, by: "demonstration".into(), role: Role::Program };
    let here = store.in_kitchen(actor);
    let known = here.devices().await?;
    let mut all = Vec::new();
    for (n, _, shape, set) in DEVICES {
        let lies =
            known.iter().any(|d| d.id == device_id(n) && d.revoked_at.is_none() && d.lies_in.is_some());
        if lies {
            // It is where it was: hot, and as noisy as at any start.
            let seed = n + now.as_second().unsigned_abs() as u128;
            all.push((here.renew_device(device_id(n), None, now).await?, tub(shape, set, seed)));
        }
    }
    Ok(all)
}

async fn begin(
    here: &InKitchen,
    kitchen: &Kitchen,
    typed: PlanForm,
    at: Timestamp,
) -> Result<(Uuid, hold_steady_core::plan::Plan), Failure> {
    let units = Units::default();
    let pantry = here.pantry().await?;
    let equipment = here.equipment().await?;
    let setting = Setting::new(units, at, &kitchen.zone, &kitchen.rules);
    let reading = typed.read(&setting.with_pantry(&pantry).with_equipment(&equipment));
    let request =
        reading.request.ok_or_else(|| Failure::Other(format!("demonstration: {:?}", reading.errors)))?;
    let plan = plan(&request, at).map_err(|e| Failure::Other(e.to_string()))?;
    let title = request.title(units);
    let new = NewCook {
        id: new_id(at),
        title,
        typed: reading.form,
        request,
        plan: plan.clone(),
        together: None,
        letter: String::new(),
    };
    Ok((here.start_cook(new, at).await?, plan))
}

async fn tap(here: &InKitchen, cook: Uuid, at: Timestamp, kind: EventKind) -> Result<(), Failure> {
    let event = NewEvent { id: new_id(at), happened_at: at, kind };
    let checked = here.add_event(cook, event, at, CookRecord::with).await?;
    checked.map_err(|e| Failure::Other(format!("demonstration: {e}")))
}
