//! A plan as it was made, and whether its answer is what is computed.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::heat::HeatError;
use crate::plan::{ENGINE_VERSION, Plan, PlanForm, PlanRequest, data_version, plan};
use crate::units::Minutes;

/// A plan as it was made.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlanRecord {
    /// Time-ordered identifier.
    pub id: Uuid,
    /// When it was made.
    pub created_at: Timestamp,
    /// Version of the computation.
    pub engine: String,
    /// Version of the data: see [`data_version`].
    pub data: String,
    /// The sentence as typed.
    pub typed: PlanForm,
    /// What was understood of it.
    pub request: PlanRequest,
    /// The answer, as it was given then.
    pub result: Value,
}

impl PlanRecord {
    /// The answer as it was given; computed anew (for the same moment) where another version gave it in a shape
    /// that is not read any more.
    ///
    /// # Errors
    /// When that computation fails.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let plan = cook.plan_record().expect("planned").plan()?;
    /// assert!(plan.bath_min > Minutes::ZERO);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn plan(&self) -> Result<Plan, HeatError> {
        self.stored().map_or_else(|| plan(&self.request, self.created_at), Ok)
    }

    /// The answer computed from what was understood, and in what the one in the record is another: of a plan that came in a
    /// file, which anybody may have written.
    ///
    /// # Errors
    /// When that computation fails.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let mut plan = cook.plan_record().expect("planned").clone();
    /// plan.result["bath_min"] = serde_json::json!(10.0);
    /// assert!(plan.checked()?.differs.contains(&"minutes in the bath"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn checked(&self) -> Result<Checked, HeatError> {
        const SAME: Minutes = Minutes::new(1.0);
        let computed = plan(&self.request, self.created_at)?;
        let mut differs = Vec::new();
        if let Some(stored) = self.stored() {
            let same = |a: Minutes, b: Minutes| (a - b).abs() <= SAME;
            let mut note = |is_same: bool, what| {
                if !is_same {
                    differs.push(what);
                }
            };
            note(same(stored.bath_min, computed.bath_min), "minutes in the bath");
            note(stored.must_pasteurise == computed.must_pasteurise, "whether it must be pasteurised");
            note(stored.verdict.level == computed.verdict.level, "how it may be served");
            note(same(stored.through.slow, computed.through.slow), "when it is heated through");
            let safe = |p: &Plan| p.pasteurised.map(|e| e.slow);
            let agree = match (safe(&stored), safe(&computed)) {
                (Some(a), Some(b)) => same(a, b),
                (a, b) => a.is_none() && b.is_none(),
            };
            note(agree, "when it is pasteurised");
            let pull = Minutes::between(stored.times.pull, computed.times.pull).abs();
            note(pull <= SAME, "when it is pulled");
        }
        Ok(Checked { computed, differs })
    }

    /// The answer as it stands in the record, where its shape is read.
    fn stored(&self) -> Option<Plan> {
        Plan::deserialize(&self.result).ok()
    }

    /// What else than today's program gave the answer, where another did: said wherever it is shown beside what
    /// is computed today.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let older = PlanRecord { engine: "engine 1".into(), ..cook.plan_record().expect("planned").clone() };
    /// assert!(older.given_by().is_some_and(|by| by.contains("engine 1")));
    /// ```
    #[must_use]
    pub fn given_by(&self) -> Option<String> {
        // Today's own answers are read as they stand.
        if self.engine == ENGINE_VERSION && self.data == data_version() {
            return None;
        }
        Some(match self.stored() {
            Some(_) => format!("as given by {}", self.engine),
            None => format!("given by {}, recomputed by {ENGINE_VERSION}", self.engine),
        })
    }
}

/// A plan computed again, and in what the one that stands in its record is another.
#[derive(Debug, Clone)]
pub struct Checked {
    /// As it is computed.
    pub computed: Plan,
    /// What is another, in words.
    pub differs: Vec<&'static str>,
}
