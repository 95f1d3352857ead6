//! A plan as a file: taken along, opened again; and presets, which are plans without their piece.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{ImportError, check_own_food, read_header, unreadable};
use crate::food::{OwnFood, Preset};
use crate::limits::MOST_PRESETS;
use crate::plan::{Plan, PlanForm, PlanRequest};

/// The `format` of a plan's file.
pub const PLAN_FORMAT: &str = "hold-steady/plan";
/// The `format` of a file of presets.
pub const PRESETS_FORMAT: &str = "hold-steady/presets";
/// The `version` of both; every one up to it is read.
pub const FILE_VERSION: u32 = 1;
/// Longest text of a sentence's field, bytes; longest name.
const LONGEST_FIELD: usize = 400;
const LONGEST_NAME: usize = 60;
/// Longest sentence of a preset, bytes of JSON: unknown fields count too.
const LONGEST_PRESET: usize = 8192;

/// A plan's file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PlanFile {
    /// [`PLAN_FORMAT`].
    pub format: String,
    /// [`FILE_VERSION`] when written.
    pub version: u32,
    /// The sentence as typed: what is opened again.
    pub typed: PlanForm,
    /// The food, where it is a kitchen's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub own: Option<OwnFood>,
    /// What was answered, for other programs; it is not read back.
    #[serde(default, skip_serializing_if = "serde_json::Value::is_null")]
    pub answer: serde_json::Value,
}

impl PlanFile {
    /// A plan with its answer.
    ///
    /// ```
    /// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let request = usual_request(strip, From::Refrigerator);
    /// # let now = "2026-11-25T16:00:00Z".parse()?;
    /// # let plan = plan(&request, now)?;
    /// # use hold_steady_core::{book::PlanFile, plan::PlanForm};
    /// let typed = PlanForm { food: "beef-strip".into(), ..PlanForm::default() };
    /// let file = PlanFile::new(&typed, &request, &plan);
    /// assert_eq!(file.answer["verdict"], plan.verdict.level.id());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn new(typed: &PlanForm, request: &PlanRequest, plan: &Plan) -> Self {
        Self {
            format: PLAN_FORMAT.into(),
            version: FILE_VERSION,
            typed: typed.clone(),
            own: request.planned.own().cloned(),
            answer: serde_json::json!({
                "title": request.title(crate::units::Units::default()),
                "verdict": plan.verdict.level.id(),
                "bath_c": request.bath_c,
                "bath_min": plan.bath_min,
                "times": plan.times,
                "engine": plan.engine,
            }),
        }
    }
}

/// A file of presets.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PresetsFile {
    /// [`PRESETS_FORMAT`].
    pub format: String,
    /// [`FILE_VERSION`] when written.
    pub version: u32,
    /// The presets.
    pub presets: Vec<Preset>,
    /// Foods of the kitchen's own that they are made with.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub foods: Vec<OwnFood>,
}

/// The sentence's fields, of bearable length: what they say is judged when the sentence is read.
pub(super) fn check_form(form: &PlanForm) -> Result<(), ImportError> {
    let fields = serde_json::to_value(form).ok().and_then(|v| v.as_object().cloned()).unwrap_or_default();
    match fields.iter().find(|(_, v)| v.as_str().is_some_and(|t| t.len() > LONGEST_FIELD)) {
        Some((field, _)) => Err(ImportError::Field { field: field.clone(), longest: LONGEST_FIELD }),
        None => Ok(()),
    }
}

/// Reads a plan's file.
///
/// # Errors
/// With line and reason when it is not one; by field where its content cannot be taken.
///
/// ```
/// # use hold_steady_core::{evidence::usual_request, food::catalogue, plan::{From, plan}, units::*};
/// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
/// # let request = usual_request(strip, From::Refrigerator);
/// # let now = "2026-11-25T16:00:00Z".parse()?;
/// # let plan = plan(&request, now)?;
/// # use hold_steady_core::{book::{PlanFile, read_plan_file}, plan::PlanForm};
/// let typed = PlanForm { food: "beef-strip".into(), ..PlanForm::default() };
/// let text = serde_json::to_string(&PlanFile::new(&typed, &request, &plan))?;
/// assert_eq!(read_plan_file(&text)?.typed, typed);
/// assert!(read_plan_file("{}").is_err());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn read_plan_file(text: &str) -> Result<PlanFile, ImportError> {
    read_header(text, PLAN_FORMAT, FILE_VERSION)?;
    let file: PlanFile = serde_json::from_str(text).map_err(unreadable)?;
    check_form(&file.typed)?;
    file.own.as_ref().map_or(Ok(()), check_own_food)?;
    Ok(file)
}

/// Reads a file of presets.
///
/// # Errors
/// With line and reason when it is not one; by field where its content cannot be taken.
///
/// ```
/// use hold_steady_core::book::read_presets_file;
/// let text = r#"{"format": "hold-steady/presets", "version": 1, "presets": []}"#;
/// assert!(read_presets_file(text)?.presets.is_empty());
/// # Ok::<(), hold_steady_core::book::ImportError>(())
/// ```
pub fn read_presets_file(text: &str) -> Result<PresetsFile, ImportError> {
    read_header(text, PRESETS_FORMAT, FILE_VERSION)?;
    let file: PresetsFile = serde_json::from_str(text).map_err(unreadable)?;
    if file.presets.len() > MOST_PRESETS {
        return Err(ImportError::Field { field: "presets".into(), longest: MOST_PRESETS });
    }
    file.presets.iter().try_for_each(check_preset)?;
    file.foods.iter().try_for_each(check_own_food)?;
    Ok(file)
}

/// Whether a preset can be taken.
///
/// # Errors
/// By field.
///
/// ```
/// use hold_steady_core::{book::check_preset, food::Preset, plan::PlanForm};
/// let preset = Preset::of(uuid::Uuid::from_u128(1), "Sunday", &PlanForm::default());
/// assert!(check_preset(&preset).is_ok());
/// assert!(check_preset(&Preset { name: " ".into(), ..preset }).is_err());
/// ```
pub fn check_preset(preset: &Preset) -> Result<(), ImportError> {
    let name = preset.name.trim();
    if name.is_empty() || name.chars().count() > LONGEST_NAME {
        return Err(ImportError::Field { field: "name".into(), longest: LONGEST_NAME });
    }
    if serde_json::to_string(&preset.typed).map_or(0, |t| t.len()) > LONGEST_PRESET {
        return Err(ImportError::Field { field: "typed".into(), longest: LONGEST_PRESET });
    }
    let form: PlanForm = serde_json::from_value(preset.typed.clone().into()).map_err(unreadable)?;
    check_form(&form)
}

impl Preset {
    /// A sentence kept under a name, without what is asked anew each time: all that is about this piece or
    /// these guests.
    ///
    /// ```
    /// use hold_steady_core::{food::Preset, plan::PlanForm};
    /// let typed = PlanForm { bath: "56 °C".into(), thickness: "32 mm".into(), ..PlanForm::default() };
    /// let preset = Preset::of(uuid::Uuid::from_u128(1), "Sunday", &typed);
    /// // Another piece is measured anew.
    /// assert_eq!(preset.form("28 mm", "").thickness, "28 mm");
    /// ```
    #[must_use]
    pub fn of(id: Uuid, name: &str, form: &PlanForm) -> Self {
        let kept = form.for_another_piece();
        let typed = serde_json::to_value(kept).ok().and_then(|v| v.as_object().cloned()).unwrap_or_default();
        Self { id, name: name.trim().chars().take(LONGEST_NAME).collect(), typed }
    }

    /// The sentence, with the piece's thickness and weight as they are now; what else is about the piece or the
    /// guests is open.
    ///
    /// ```
    /// use hold_steady_core::{food::Preset, plan::PlanForm};
    /// let typed = PlanForm { bath: "56 °C".into(), ..PlanForm::default() };
    /// let preset = Preset::of(uuid::Uuid::from_u128(1), "Sunday", &typed);
    /// assert_eq!(preset.form("28 mm", "").bath, "56 °C");
    /// ```
    #[must_use]
    pub fn form(&self, thickness: &str, weight: &str) -> PlanForm {
        let kept: PlanForm = serde_json::from_value(self.typed.clone().into()).unwrap_or_default();
        // One that an older version kept holds the last piece's answers.
        let mut form = kept.for_another_piece();
        thickness.clone_into(&mut form.thickness);
        weight.clone_into(&mut form.prep.weight);
        form
    }
}
