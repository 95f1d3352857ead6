//! `sear`: what a sear does to a piece that comes out of its bath.

use serde::Serialize;
use serde_json::Value;

use super::fields::{CalcError, Fields};
use super::heat::{range as of_heat, read_food, rounded};
use crate::figures::searing;
use crate::sear::{Act, Basting, Body, Faces, Hearth, Heat, Sear, Start, kitchen_air};
use crate::units::{Celsius, Length};

/// Allowed ranges of the request.
pub(super) mod range {
    pub const THICKNESS_MM: (f64, f64) = (3.0, 150.0);
    pub(crate) const CENTRE_C: (f64, f64) = (0.0, 95.0);
    pub(crate) const COOL_MIN: (f64, f64) = (0.0, 240.0);
    pub(crate) const FACES: (f64, f64) = (1.0, 2.0);
    pub(crate) const SURFACE_C: (f64, f64) = (60.0, 600.0);
    pub(crate) const SURFACE_W_M2K: (f64, f64) = (1.0, 2000.0);
    pub(crate) const TURN_S: (f64, f64) = (1.0, 1800.0);
    pub(crate) const TURNS: usize = 60;
    pub(crate) const AREAL_J_M2K: (f64, f64) = (1000.0, 500_000.0);
    pub(crate) const BURNER_W_M2: (f64, f64) = (0.0, 100_000.0);
    pub(crate) const PAN_START_C: (f64, f64) = (0.0, 600.0);
    pub(crate) const FAT_MM: (f64, f64) = (0.0, 30.0);
    pub(crate) const TORCH_S: (f64, f64) = (0.0, 120.0);
    pub(crate) const REST_MIN: (f64, f64) = (0.0, 120.0);
    pub(crate) const ABOVE_C: (f64, f64) = (30.0, 200.0);
    pub(crate) const POINTS: (usize, usize) = (1, 200);
}

/// Usual coefficient of contact, W/m²K, and minutes of rest that are followed.
const CONTACT_W_M2K: f64 = 275.0;
const REST_MIN: f64 = 15.0;

/// Where a piece may cool before.
pub(super) const COOLED_IN: [&str; 3] = ["air", "ice-water", "refrigerator"];

/// Which face each of `turns_s` is of: each in turn, or all of them the same.
pub(super) const FACES: [&str; 2] = ["alternate", "one"];
/// The faces of `turns`.
pub(super) const TURNED: [&str; 2] = ["first", "other"];

/// A layer of the answer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct SearLayer {
    /// Under the face seared first.
    pub depth_mm: f64,
    /// At the end of the rest, °C.
    pub end_c: f64,
    /// Hottest it ever was, °C.
    pub max_c: f64,
}

/// The answer of `sear`.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct SearAnswer {
    /// Middle when it goes on the heat, °C.
    pub centre_before_c: f64,
    /// When it comes off.
    pub centre_end_c: f64,
    /// Hottest it gets.
    pub centre_peak_c: f64,
    /// How long after the last turn, seconds; none where the centre only cools.
    pub peak_after_s: Option<f64>,
    /// How deep from a face it was ever hotter than `overcooked_above_c`, mm: the deeper of the two faces.
    pub overcooked_mm: f64,
    /// That temperature.
    pub overcooked_above_c: f64,
    /// Dry crust, mm: mean of the two faces.
    pub crust_mm: f64,
    /// Water lost, kg/m².
    pub water_lost_kg_m2: f64,
    /// Browning index of each face, minutes at 160 °C.
    pub browning_index: [f64; 2],
    /// Hottest each face was, °C.
    pub surface_peak_c: [f64; 2],
    /// Layers from face to face.
    pub profile: Vec<SearLayer>,
}

/// Sears one piece.
///
/// # Errors
/// Every field that cannot be taken is named with its allowed range.
///
/// ```
/// let request = serde_json::json!({"food": "beef-strip", "thickness_mm": 25, "centre_c": 54, "surface_c": 230,
///     "surface_w_m2k": 275, "turns_s": [60, 60], "rest_min": 8});
/// let answer = hold_steady_core::calc::run("sear", &request)?;
/// assert!(answer["centre_peak_c"].as_f64().is_some_and(|c| (59.0..63.5).contains(&c)));
/// # Ok::<(), hold_steady_core::calc::CalcError>(())
/// ```
pub fn sear(request: &Value) -> Result<SearAnswer, CalcError> {
    let (sear, above_c) = asked(request)?;
    let out = sear.run().map_err(|e| CalcError::one("No answer", "", e.to_string()))?;
    let above_c = above_c.unwrap_or(searing().overcooked_c.value);
    let [a, b] = out.faces;
    Ok(SearAnswer {
        centre_before_c: rounded(out.before_c, 2),
        centre_end_c: rounded(out.end_c, 2),
        centre_peak_c: rounded(out.peak_c, 2),
        peak_after_s: out.peak_after_s.map(|s| rounded(s, 0)),
        overcooked_mm: rounded(out.thicker_band_mm(above_c), 2),
        overcooked_above_c: above_c,
        crust_mm: rounded(f64::midpoint(a.crust_mm, b.crust_mm), 3),
        water_lost_kg_m2: rounded(out.water_lost_kg_m2, 3),
        browning_index: [a, b].map(|f| rounded(f.browning, 4)),
        surface_peak_c: [a, b].map(|f| rounded(f.peak_c, 1)),
        profile: out
            .layers
            .iter()
            .map(|l| SearLayer {
                depth_mm: rounded(l.depth_mm, 3),
                end_c: rounded(l.end_c, 2),
                max_c: rounded(l.max_c, 2),
            })
            .collect(),
    })
}

/// How it cools first, and where.
fn cooled(f: &mut Fields<'_>) -> Act {
    let s = f.number("cool_min", range::COOL_MIN.0, range::COOL_MIN.1).unwrap_or(0.0) * 60.0;
    let cool_in = COOLED_IN[one_of(f, "cool_in", &COOLED_IN).unwrap_or(0)];
    let exposed = f.number("cool_exposed_faces", range::FACES.0, range::FACES.1).unwrap_or(2.0);
    if exposed.fract() != 0.0 {
        f.fault("cool_exposed_faces", format!("{exposed} is neither 1 nor 2"));
    }
    match cool_in {
        "ice-water" => Act::Ice { s },
        "refrigerator" => Act::Refrigerator { s },
        _ => Act::Air { s, exposed: exposed as u8 },
    }
}

/// What is to be followed, and above what is overcooked.
fn asked(request: &Value) -> Result<(Sear, Option<f64>), CalcError> {
    let mut f = Fields::of(request)?;
    let food = read_food(&mut f);
    let thickness = f.needed_number("thickness_mm", range::THICKNESS_MM.0, range::THICKNESS_MM.1);
    let centre = f.number("centre_c", range::CENTRE_C.0, range::CENTRE_C.1);
    let profile = profile(&mut f, thickness);
    match (f.has("centre_c"), f.has("start_profile")) {
        (true, true) => f.fault("centre_c", "and “start_profile” are both given; send one of them".into()),
        (false, false) => f.fault(
            "centre_c",
            format!(
                "is missing, and so is “start_profile”; allowed from {} to {}",
                range::CENTRE_C.0,
                range::CENTRE_C.1
            ),
        ),
        _ => {}
    }
    let cool = cooled(&mut f);
    let surface_c = f.needed_number("surface_c", range::SURFACE_C.0, range::SURFACE_C.1);
    let w_m2k = f.number("surface_w_m2k", range::SURFACE_W_M2K.0, range::SURFACE_W_M2K.1);
    let own = pattern(&mut f);
    let turns = if f.has("turns") { own } else { turns(&mut f) };
    let both = f.flag("both_faces").unwrap_or(false);
    let more = More::read(&mut f, surface_c);
    let dried = f.flag("dried").unwrap_or(true);
    let rest_min = f.number("rest_min", range::REST_MIN.0, range::REST_MIN.1).unwrap_or(REST_MIN);
    let altitude_m = f.number("altitude_m", of_heat::ALTITUDE_M.0, of_heat::ALTITUDE_M.1).unwrap_or(0.0);
    let above_c = f.number("overcooked_above_c", range::ABOVE_C.0, range::ABOVE_C.1);
    f.finish()?;
    let missing = || CalcError::one("Some fields cannot be taken", "", "the request is incomplete".into());
    let start = match (centre, profile) {
        (Some(c), _) => Start::Uniform(Celsius::new(c)),
        (None, Some(points)) => Start::Profile(points),
        (None, None) => return Err(missing()),
    };
    let surface = (surface_c.ok_or_else(missing)?, w_m2k.unwrap_or(CONTACT_W_M2K));
    let thickness = Length::from_mm(thickness.ok_or_else(missing)?);
    let turns = turns.ok_or_else(missing)?;
    let mut sear = Sear::pan(food.ok_or_else(missing)?, thickness, start, surface, &[], rest_min * 60.0);
    let heated = turns.iter().map(|(faces, s)| Act::Heat { hearth: 0, s: *s, faces: *faces });
    let torched = more.torched(&turns);
    sear.acts = heated.chain(torched).chain(sear.acts).collect();
    more.put(&mut sear, surface);
    sear.dried = dried;
    sear.air = kitchen_air(altitude_m);
    if both {
        for act in &mut sear.acts {
            if let Act::Heat { faces, .. } = act {
                *faces = Faces::Both;
            }
        }
    }
    sear.acts.insert(0, cool);
    Ok((sear, above_c))
}

/// The turns of a pattern: which face, and for how long.
fn pattern(f: &mut Fields<'_>) -> Option<Vec<(Faces, f64)>> {
    if f.has("turns") && f.has("turns_s") {
        f.fault("turns", "and “turns_s” are both given; send one of them".into());
    }
    f.list("turns", (1, range::TURNS), |turn| {
        let s = turn.needed_number("s", range::TURN_S.0, range::TURN_S.1);
        let faces = one_of(turn, "face", &TURNED).map(|i| if i == 0 { Faces::First } else { Faces::Second });
        faces.zip(s)
    })
}

/// Which of the words a field has; the first where it is absent.
fn one_of(f: &mut Fields<'_>, name: &'static str, words: &[&str]) -> Option<usize> {
    let Some(word) = f.text(name) else { return (!f.has(name)).then_some(0) };
    let found = words.iter().position(|w| *w == word);
    if found.is_none() {
        let shown = crate::units::shortened(word);
        f.fault(name, format!("“{shown}” is none of: {}", words.join(", ")));
    }
    found
}

/// What else a finish may have: a pan of a mass of its own, fat under a skin, basting, a torch.
struct More {
    pan: Option<(f64, f64, f64)>,
    fat_mm: f64,
    basting: Basting,
    torch_s: f64,
}

impl More {
    fn read(f: &mut Fields<'_>, surface_c: Option<f64>) -> Self {
        let pan = f.object("pan", |p| {
            let areal = p.needed_number("areal_j_m2k", range::AREAL_J_M2K.0, range::AREAL_J_M2K.1);
            let burner = p.number("burner_w_m2", range::BURNER_W_M2.0, range::BURNER_W_M2.1).unwrap_or(0.0);
            let start = p.number("start_c", range::PAN_START_C.0, range::PAN_START_C.1).or(surface_c);
            Some((areal?, burner, start?))
        });
        let basted = f.flag("basted").unwrap_or(false);
        Self {
            pan,
            fat_mm: f.number("fat_mm", range::FAT_MM.0, range::FAT_MM.1).unwrap_or(0.0),
            basting: if basted { Basting::Basted } else { Basting::Plain },
            torch_s: f.number("torch_s", range::TORCH_S.0, range::TORCH_S.1).unwrap_or(0.0),
        }
    }

    /// A torch after the pan, over each face that was on it.
    fn torched(&self, turns: &[(Faces, f64)]) -> Vec<Act> {
        let was = |face: Faces| turns.iter().any(|(faces, _)| *faces == face || *faces == Faces::Both);
        let faces = [Faces::First, Faces::Second].into_iter().filter(|f| self.torch_s > 0.0 && was(*f));
        faces.map(|faces| Act::Heat { hearth: 1, s: self.torch_s, faces }).collect()
    }

    fn put(&self, sear: &mut Sear, (surface_c, w_m2k): (f64, f64)) {
        if let Some((areal, burner, start_c)) = self.pan {
            let body = Body::lump(surface_c, areal, burner).at(start_c);
            sear.hearths = vec![Heat::Contact { w_m2k, body }];
        }
        if self.torch_s > 0.0 {
            sear.hearths.push(Hearth::named("torch").expect("shipped and tested").hot(None));
        }
        sear.fat = Length::from_mm(self.fat_mm);
        sear.basting = self.basting;
    }
}

/// Temperatures by depth from the first face to the middle.
fn profile(f: &mut Fields<'_>, thickness: Option<f64>) -> Option<Vec<(f64, f64)>> {
    let half = thickness.unwrap_or(range::THICKNESS_MM.1) / 2.0;
    let points = f.list("start_profile", range::POINTS, |p| {
        let depth = p.needed_number("depth_mm", 0.0, half);
        let c = p.needed_number("c", range::CENTRE_C.0, range::CENTRE_C.1);
        depth.zip(c)
    })?;
    if !points.windows(2).all(|w| w[0].0 < w[1].0) {
        f.fault("start_profile", "its depths do not rise from the face to the middle".into());
        return None;
    }
    Some(points)
}

/// Seconds on the heat, one for each turn.
fn turns(f: &mut Fields<'_>) -> Option<Vec<(Faces, f64)>> {
    let one = one_of(f, "faces", &FACES)? == 1;
    let (low, high) = range::TURN_S;
    let wanted = format!("allowed is a list of 1 to {} numbers from {low} to {high}", range::TURNS);
    let Some(value) = f.value("turns_s") else {
        if !f.has("turns_s") {
            f.fault("turns_s", format!("is missing; {wanted}"));
        }
        return None;
    };
    let items = value.as_array().filter(|a| (1..=range::TURNS).contains(&a.len()));
    let seconds: Option<Vec<f64>> =
        items.and_then(|a| a.iter().map(|v| v.as_f64().filter(|s| (low..=high).contains(s))).collect());
    if seconds.is_none() {
        let shown = crate::units::shortened(&value.to_string()).to_string();
        f.fault("turns_s", format!("{shown} cannot be taken; {wanted}"));
    }
    let face = |i: usize| if one || i.is_multiple_of(2) { Faces::First } else { Faces::Second };
    Some(seconds?.into_iter().enumerate().map(|(i, s)| (face(i), s)).collect())
}
