//! Records of vessels whose power and loss are known, beside what is learned of them.

use serde::Deserialize;

use super::{Comparison, Set};
use crate::bath::{Air, BathPoint, Cover, Pool, Sought, learn_heater, learn_loss};
use crate::figures::{Basis, bench};

#[derive(Deserialize)]
struct Records {
    records: Vec<Record>,
}

#[derive(Deserialize)]
struct Record {
    label: String,
    what: Sought,
    litres: f64,
    vessel_kj_k: f64,
    surface_m2: f64,
    cover: Cover,
    /// What its shape would be taken to lose, which is not what it loses.
    shape_loss_w_k: f64,
    truth: f64,
    readings: Vec<(f64, f64)>,
}

impl Record {
    fn learned(&self) -> Option<f64> {
        const ROOM: Air = Air { room_c: 21.0, humidity: 0.5, altitude_m: 0.0 };
        let pool = Pool {
            litres: self.litres,
            vessel_kj_k: self.vessel_kj_k,
            surface_m2: self.surface_m2,
            cover: self.cover,
            loss_w_k: self.shape_loss_w_k,
            heater_w: 0.0,
            vapour: 1.0,
            air: ROOM,
        };
        let read: Vec<BathPoint> =
            self.readings.iter().map(|(min, c)| BathPoint { min: *min, c: *c }).collect();
        match self.what {
            Sought::Heater => learn_heater(&pool, bench().learn_shape_sd.value, &read).ok()?.heater_w,
            Sought::Loss => learn_loss(&pool, &read).ok()?.loss_w_k,
        }
    }
}

/// Two sets: powers, and losses.
pub(super) fn learned() -> [Set; 2] {
    const ALLOWED: f64 = 0.05;
    const SOURCE: &str = "Invented vessels, their water computed apart from this program (crates/core/tests/reference/make_learned.py)";
    const NOTE: &str = "Within a twentieth. The thermometer shows tenths; what the shape says of the loss is off by a fifth or more.";
    let data: Records =
        serde_json::from_str(include_str!("../../data/evidence/learned.json")).expect("shipped and tested");
    let of = |what: Sought, id: &str, title: &str, unit: &str| {
        let points = data.records.iter().filter(|r| r.what == what).map(|r| Comparison {
            label: r.label.clone(),
            published: r.truth,
            computed: r.learned(),
            allowed: ALLOWED * r.truth,
            known_miss: false,
        });
        Set {
            points: points.collect(),
            id: id.into(),
            title: title.into(),
            source: SOURCE.into(),
            basis: Basis::Computed,
            unit: unit.into(),
            note: NOTE.into(),
        }
    };
    [
        of(Sought::Heater, "learned-heater", "A heater's power, learned from a warm-up", "W"),
        of(Sought::Loss, "learned-loss", "What a vessel loses, learned from a cool-down", "W/K"),
    ]
}
