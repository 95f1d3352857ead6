//! A vessel as it is typed, read: every fault beside its field, nothing typed lost.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::{Cover, Heat, Vessel, Wall, Water};
use crate::units::{Blanks, Celsius, Length, Units};

/// A vessel as it is typed.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct VesselForm {
    /// Name.
    pub name: String,
    /// `round` or `sides`.
    pub shape: String,
    /// Diameter or long side.
    pub across: String,
    /// Short side.
    pub width: String,
    /// Per cent.
    pub narrower: String,
    /// To the brim.
    pub depth: String,
    /// Lowest line.
    pub min: String,
    /// Highest line.
    pub max: String,
    /// Identifier.
    pub wall: String,
    /// Identifier.
    pub cover: String,
    /// Identifier.
    pub heat: String,
    /// Watts.
    pub heater: String,
    /// Identifier.
    pub water: String,
    /// Highest temperature.
    pub highest: String,
}

impl VesselForm {
    /// A vessel as it would be typed.
    ///
    /// ```
    /// use hold_steady_core::{bath::{VesselForm, shapes}, units::Units};
    /// let (_, shape) = &shapes()[0];
    /// let back = VesselForm::of(shape, Units::default()).read(Units::default()).expect("reads back");
    /// assert_eq!(&back, shape);
    /// ```
    #[must_use]
    pub fn of(v: &Vessel, units: Units) -> Self {
        let length = |l: Length| units.length(l);
        Self {
            name: v.name.clone(),
            shape: if v.round { "round" } else { "sides" }.into(),
            across: length(v.across_mm),
            width: if v.round { String::new() } else { length(v.width_mm) },
            narrower: format!("{} %", crate::units::trimmed(v.narrower * 100.0, 1)),
            depth: length(v.depth_mm),
            min: length(v.min_mm),
            max: length(v.max_mm),
            wall: v.wall.id().into(),
            cover: v.cover.id().into(),
            heat: v.heat.id().into(),
            heater: if v.heat == Heat::Heater {
                format!("{} W", crate::units::trimmed(v.heater_w, 0))
            } else {
                String::new()
            },
            water: v.water.id().into(),
            highest: units.temperature(v.highest_c),
        }
    }

    /// What was typed as a vessel, or every fault by field.
    ///
    /// # Errors
    /// Every field that cannot be taken, with what is allowed.
    ///
    /// ```
    /// use hold_steady_core::{bath::VesselForm, units::Units};
    /// let errors = VesselForm::default().read(Units::default()).expect_err("nothing is typed");
    /// assert!(errors.contains_key("name") && errors.contains_key("depth"));
    /// ```
    pub fn read(&self, units: Units) -> Result<Vessel, BTreeMap<&'static str, String>> {
        const LONGEST_NAME: usize = 60;
        let mut r = Blanks::new(units, units);
        let name = r.name(&self.name, "A vessel’s", LONGEST_NAME);
        let round = r.chosen("shape", self.is_round(), "its shape");
        let size = self.size(&mut r, (round != Some(true)).then_some(&self.width));
        let wall =
            r.chosen("wall", Wall::ALL.into_iter().find(|w| w.id() == self.wall), "what it is made of");
        let cover = r.chosen("cover", Cover::from_id(&self.cover), "what lies over it");
        let heat = r.chosen("heat", Heat::ALL.into_iter().find(|h| h.id() == self.heat), "what warms it");
        let water = r.chosen("water", Water::from_id(&self.water), "whether the water is moved");
        let heater_w = match heat {
            Some(Heat::Heater) => self.watts(&mut r),
            _ => Some(0.0),
        };
        let highest_c = r.at("highest", &self.highest, (Celsius::new(40.0), Celsius::new(100.0)));
        let vessel = || {
            let [across_mm, width_mm, depth_mm, min_mm, max_mm] = size.lengths?;
            Some(Vessel {
                name,
                round: round?,
                across_mm,
                width_mm,
                narrower: size.narrower?,
                depth_mm,
                min_mm,
                max_mm,
                wall: wall?,
                cover: cover?,
                heat: heat?,
                heater_w: heater_w?,
                water: water?,
                highest_c: highest_c?,
                learned: None,
            })
        };
        let vessel = vessel();
        r.answered(vessel)
    }

    /// Whether it is round; nothing where that was not chosen.
    fn is_round(&self) -> Option<bool> {
        match self.shape.as_str() {
            "round" => Some(true),
            "sides" => Some(false),
            _ => None,
        }
    }

    /// Its sides across, of which a round one has no second; its depth and its lines.
    fn size(&self, r: &mut Blanks, width: Option<&String>) -> Size {
        let mm = Length::from_mm;
        let (side, line) = ((mm(80.0), mm(1500.0)), (mm(1.0), mm(1500.0)));
        let across = r.side("across", &self.across, "a length", side);
        let width = width.map_or(across, |width| r.side("width", width, "a length", side));
        let depth = r.side("depth", &self.depth, "a length", (mm(50.0), mm(1500.0)));
        let (min, max) =
            (r.side("min", &self.min, "a length", line), r.side("max", &self.max, "a length", line));
        if let (Some(depth), Some(min), Some(max)) = (depth, min, max) {
            if max > depth {
                let brim = r.units.length(depth);
                r.errors.insert(
                    "max",
                    format!("The highest line lies above the brim, {brim}. Give one below it."),
                );
            }
            if min >= max {
                let highest = r.units.length(max);
                r.errors.insert(
                    "min",
                    format!("The lowest line lies above the highest, {highest}. Give one below it."),
                );
            }
        }
        let narrower = if self.narrower.trim().is_empty() {
            Some(0.0)
        } else {
            r.number("narrower", &self.narrower, ("a share", "%"), (0.0, 60.0)).map(|p| p / 100.0)
        };
        let all = || Some([across?, width?, depth?, min?, max?]);
        Size { lengths: all(), narrower }
    }

    fn watts(&self, r: &mut Blanks) -> Option<f64> {
        let watts = r.number("heater", &self.heater, ("a power", "W"), (50.0, 15_000.0));
        r.way_out("heater", "It stands on the machine’s plate.");
        watts
    }
}

/// How large a vessel is, as far as it was understood.
struct Size {
    /// Across, the short side, to the brim, lowest line, highest line.
    lengths: Option<[Length; 5]>,
    narrower: Option<f64>,
}
