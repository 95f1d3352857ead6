//! One line of the book.

use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::CookRecord;
use crate::cook::{Milestone, Rating, live};
use crate::heat::HeatError;
use crate::plan::{Plan, PlanRequest};
use crate::safety::Verdict;
use crate::units::{Celsius, Minutes, trimmed};

/// One cook of the book: planned beside done.
#[derive(Debug, Clone, PartialEq)]
pub struct BookEntry {
    /// When it was planned.
    pub planned_at: Timestamp,
    /// What was understood of the sentence.
    pub request: PlanRequest,
    /// The plan that stood at the end, as it was made.
    pub plan: Plan,
    /// The plan it was begun by, where another stood at the end.
    pub first: Option<Plan>,
    /// The piece was another than was written down, and was corrected.
    pub piece_corrected: bool,
    /// What else than today's program made it, where another did.
    pub given_by: Option<String>,
    /// Into the bath.
    pub dropped: Option<Timestamp>,
    /// Out of the bath.
    pub pulled: Option<Timestamp>,
    /// On the plate.
    pub eaten: Option<Timestamp>,
    /// Seconds on each turn of the sear.
    pub sear_s: Vec<f64>,
    /// The rating.
    pub rating: Option<Rating>,
    /// The verdict for what was really done.
    pub verdict_done: Option<Verdict>,
    /// Estimated centre at the pull, °C: slow end and middle.
    pub centre_at_pull_c: Option<(Celsius, Celsius)>,
}

impl BookEntry {
    /// The entry of a cook: `None` while it has neither been eaten nor rated, or is deleted.
    ///
    /// # Errors
    /// When the simulation of what was done fails.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let entry = BookEntry::of(cook)?.expect("it was eaten");
    /// assert!(entry.rating.is_some() && entry.verdict_done.is_some());
    /// assert!(BookEntry::of(&export.cooks[1])?.is_none(), "still in its bath");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn of(cook: &CookRecord) -> Result<Option<Self>, HeatError> {
        let state = cook.state();
        let finished = state.ended().is_some() || state.rating().is_some();
        let Some(record) = cook.plan_record().filter(|_| finished && !state.deleted) else {
            return Ok(None);
        };
        let plan = record.plan()?;
        let first = cook.first_plan().filter(|first| first.id != record.id).map(|first| first.plan());
        let [dropped, pulled, eaten] =
            [Milestone::Dropped, Milestone::Pulled, Milestone::Eaten].map(|m| state.when(m));
        // Judged for the moment it was eaten (or pulled): later looks at the book change nothing.
        let judged_at = eaten.or(state.ended()).or(pulled);
        let done = match judged_at {
            Some(at) => Some(live(&record.request, &plan, &state, &cook.water(&state), at)?),
            None => None,
        };
        Ok(Some(Self {
            planned_at: record.created_at,
            given_by: record.given_by(),
            request: record.request.clone(),
            dropped,
            pulled,
            eaten,
            sear_s: state.sear_s().unwrap_or_default().to_vec(),
            rating: state.rating().cloned(),
            centre_at_pull_c: done.as_ref().filter(|_| pulled.is_some()).and_then(|l| l.centre_c),
            verdict_done: done.and_then(|l| l.verdict),
            first: first.transpose()?,
            piece_corrected: state.piece_corrected().is_some(),
            plan,
        }))
    }

    /// Minutes it was in the bath.
    ///
    /// ```
    /// # use hold_steady_core::{book::*, cook::*, units::*};
    /// # let export = Export::example();
    /// # let cook = &export.cooks[0]; // salted, dropped, pulled, eaten and rated
    /// let entry = BookEntry::of(cook)?.expect("it was eaten");
    /// assert!(entry.bath_min_done() > Some(Minutes::ZERO));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn bath_min_done(&self) -> Option<Minutes> {
        Some(Minutes::between(self.dropped?, self.pulled?))
    }
}

/// The columns of the book.
pub(super) const HEADER: [&str; 32] = [
    "planned_at",
    "food",
    "thickness_mm",
    "from",
    "bath_c",
    "intact",
    "guest_at_risk",
    "profile",
    "planned_drop",
    "planned_pull",
    "planned_serve",
    "planned_bath_min",
    "planned_verdict",
    "dropped",
    "pulled",
    "eaten",
    "bath_min",
    "centre_at_pull_c_slow",
    "centre_at_pull_c",
    "sear_s",
    "verdict",
    "centre",
    "band",
    "tenderness",
    "crust",
    "note",
    "next_time",
    "engine",
    "first_planned_drop",
    "first_planned_pull",
    "first_planned_serve",
    "piece_corrected",
];

/// The cells of an entry, times in the kitchen's zone.
pub(super) fn row(e: &BookEntry, zone: &TimeZone) -> [String; 32] {
    let time = |t: Timestamp| t.to_zoned(zone.clone()).strftime("%Y-%m-%dT%H:%M:%S%:z").to_string();
    let maybe = |t: Option<Timestamp>| t.map(time).unwrap_or_default();
    let r = e.rating.clone().unwrap_or_default();
    let mark = |m: Option<u8>| m.map(|m| m.to_string()).unwrap_or_default();
    let sear: Vec<String> = e.sear_s.iter().map(|s| format!("{s:.0}")).collect();
    let number = |x: Option<f64>| x.map(|x| format!("{x:.1}")).unwrap_or_default();
    [
        time(e.planned_at),
        e.request.food().id.clone(),
        trimmed(e.request.thickness_mm.mm(), 2),
        e.request.from.id().into(),
        format!("{:.2}", e.request.bath_c.value()),
        match e.request.intact {
            Some(true) => "whole",
            Some(false) => "bladed",
            None => "not said",
        }
        .into(),
        if e.request.at_risk { "yes" } else { "no" }.into(),
        e.request.rules.profile.id.clone(),
        time(e.plan.times.drop_by),
        time(e.plan.times.pull),
        time(e.plan.times.serve),
        format!("{:.0}", e.plan.bath_min.value()),
        e.plan.verdict.level.id().into(),
        maybe(e.dropped),
        maybe(e.pulled),
        maybe(e.eaten),
        number(e.bath_min_done().map(Minutes::value)),
        number(e.centre_at_pull_c.map(|c| c.0).map(Celsius::value)),
        number(e.centre_at_pull_c.map(|c| c.1).map(Celsius::value)),
        sear.join("+"),
        e.verdict_done.as_ref().map_or("", |v| v.level.id()).into(),
        r.centre.map(|c| c.to_string()).unwrap_or_default(),
        mark(r.band),
        mark(r.tenderness),
        mark(r.crust),
        r.note,
        r.next_time,
        e.plan.engine.clone(),
        maybe(e.first.as_ref().map(|p| p.times.drop_by)),
        maybe(e.first.as_ref().map(|p| p.times.pull)),
        maybe(e.first.as_ref().map(|p| p.times.serve)),
        if e.piece_corrected { "yes" } else { "" }.into(),
    ]
    .map(|cell: String| text_cell(&cell))
}

/// A cell that a spreadsheet would take for a formula gets an apostrophe in front, also where spaces or line ends
/// stand before it, which some leave out. A plain number is none.
///
/// ```
/// assert_eq!(hold_steady_core::book::text_cell("=1+1"), "'=1+1");
/// assert_eq!(hold_steady_core::book::text_cell("-1.5"), "-1.5");
/// ```
#[must_use]
pub fn text_cell(cell: &str) -> String {
    let bare = cell.trim_start_matches(|c: char| c.is_whitespace() || c.is_control() || c == '\u{feff}');
    let a_formula = bare.starts_with(['=', '+', '-', '@', '＝', '＋', '－', '＠', '|', '%']);
    if a_formula && cell.parse::<f64>().is_err() { format!("'{cell}") } else { cell.into() }
}

#[cfg(test)]
mod tests {
    use super::text_cell;

    #[test]
    fn no_cell_is_a_formula() {
        for bad in [
            "=1+1",
            "+1+1",
            "-1+1",
            "@SUM(A1)",
            " =1",
            "\t=1",
            "\r\n=1",
            "\n\n @x",
            "\u{feff}=1",
            "\u{a0}=1",
            "＝1",
        ] {
            assert!(text_cell(bad).starts_with('\''), "{bad:?}");
        }
        for good in ["", "55.00", "-2", "+1", "2026-11-25T19:30:00+01:00", "a = b", "45+45"] {
            assert_eq!(text_cell(good), good);
        }
    }
}
