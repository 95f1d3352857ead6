//! What the cook page shows.

use std::collections::HashMap;

use actix_web::HttpRequest;
use hold_steady_core::cook::{Milestone, Next, Rating, Stage};
use hold_steady_core::figures::limits;
use hold_steady_core::food::Finish;
use hold_steady_core::keep::Storage;
use hold_steady_core::plan::{Guest, PlanRequest};
use hold_steady_core::units::{Celsius, Minutes, Units, trimmed, unbroken};
use hold_steady_core::words;
use hold_steady_store::{Origin, new_id};
use jiff::Timestamp;
use uuid::Uuid;

use super::asked::{AskedView, JustDone, KeepView, OffView};
use super::logged::{CheckLine, Logged, checklist, guided};
use super::seen::{Seen, came_otherwise, planned_words};
use crate::app::{AppState, PageError, near_time, reader_units, unfolded};
use crate::bath::Off;

/// What was typed and could not be taken, to be shown again.
#[derive(Default)]
pub struct Typed {
    pub problem: Option<String>,
    /// The entry a correction was about.
    pub about: Option<Uuid>,
    pub when: String,
    pub faces: String,
    pub core: String,
    pub rating: Option<Rating>,
    /// Whom it is for, where somebody was named.
    pub guest: Option<Guest>,
    /// What the kitchen keeps things cold in, where it is asked for.
    pub storages: Vec<Storage>,
    /// A bath that was off, and why it cannot have been so.
    pub off: Option<(Off, String)>,
}

pub fn degrees(c: Celsius, units: Units) -> String {
    units.temperature_fixed(c)
}

/// A step that can be tapped.
pub struct TapButton {
    pub what: &'static str,
    pub text: &'static str,
    pub main: bool,
    pub sear: bool,
}

/// A mark of the rating with its choices: value, words, whether it is chosen.
pub struct MarkRow {
    pub name: &'static str,
    pub label: &'static str,
    pub choices: Vec<(i8, &'static str, bool)>,
}

/// The part of the page that stays while the clocks run.
pub struct CookView {
    pub id: Uuid,
    /// This machine was away, and nobody said since what the bath did: which, the event that says so, the question.
    pub unwatched: Option<(Uuid, Uuid, String)>,
    /// Chilled: where it is kept, and where it can be put away; none where it is not kept.
    pub keep: Option<KeepView>,
    now: Timestamp,
    pub title: String,
    pub sentence: String,
    /// The piece was written down wrong at first.
    pub corrected: bool,
    /// The guest it is for, and what they must not eat of it.
    pub guest: Option<String>,
    pub must_not: Option<String>,
    pub planned: String,
    pub steps: Vec<TapButton>,
    pub when: String,
    /// A time as it is typed on this kitchen's clock.
    pub such_as: String,
    pub sear: SearOffer,
    /// The work as a list, and what to do when something goes wrong in the bath.
    pub checklist: Vec<CheckLine>,
    pub salt_percent: String,
    pub guide: bool,
    pub in_bath: bool,
    pub waiting: bool,
    /// The plan that stands, and when it is served by it, where guests may come at another time.
    pub guests_at: Option<(Uuid, String)>,
    pub events: usize,
    pub steps_open: bool,
    /// What else can be wrong, and what to do.
    pub wrong: Vec<(&'static str, String)>,
    pub trouble: [(&'static str, String); 2],
    /// Longest it can have been afloat, whole minutes.
    pub afloat_most: u32,
    pub leaked: bool,
    pub off: Option<OffView>,
    pub logged: Logged,
    pub problem: Option<String>,
    /// Out of the bath and not eaten: it may be held hot, chilled or thrown away.
    pub keeping: bool,
    pub core: String,
    pub hot: String,
    /// What holding it hot asks.
    pub held_hot: String,
    /// What it is chilled to.
    pub cold: String,
    /// How it came out, once it may be said.
    pub rated: RatingView,
    pub questions: Vec<AskedView>,
    /// What was written down just now, to be taken back.
    pub just: Option<JustDone>,
    /// What it gives to put back what was pulled.
    pub back: Option<String>,
    /// What its answer says and is not computed so, of one that came in a file.
    pub differs: Option<String>,
}

/// How it is seared, as chosen, else as usual; and what was typed of how it was.
pub struct SearOffer {
    pub finish: String,
    pub face_s: f64,
    pub faces: String,
}

impl SearOffer {
    fn of(seen: &Seen<'_>, faces: String, units: Units) -> Self {
        let usual = seen.request.food().finish();
        let usual_s = usual.how.as_ref().map_or(0.0, |how| how.face_s);
        let (finish, face_s) = match &seen.live.finishing.chosen {
            Some(chosen) => {
                let times = f64::from(chosen.pattern.times.max(1));
                (words::chosen_finish(chosen, units), chosen.pattern.face_s / times)
            }
            None => {
                let how = words::usual_sear(usual).map_or_else(String::new, |how| format!(", {how}"));
                (format!("{}{how}", usual.name), usual_s)
            }
        };
        Self { finish, face_s, faces }
    }
}

/// How it came out, as it was said or as it is being typed.
pub struct RatingView {
    pub may: bool,
    pub is_rated: bool,
    pub open: bool,
    pub marks: Vec<MarkRow>,
    pub note: String,
    pub next_time: String,
}

impl RatingView {
    fn of(seen: &Seen<'_>, typed: Option<Rating>) -> Self {
        let (stage, said) = (seen.stands.stage(), seen.stands.rating());
        let rating = typed.or_else(|| said.cloned()).unwrap_or_default();
        Self {
            may: stage >= Stage::Pulled,
            is_rated: said.is_some(),
            open: matches!(stage, Stage::Eaten | Stage::Discarded),
            marks: marks(&rating, seen.request.food().finish().sears),
            note: rating.note,
            next_time: rating.next_time,
        }
    }
}

/// The taps there are, the one the page expects first. None is expected of what is not to be served: the next step of its
/// finish, offered in large, would be read as leave to go on.
fn steps(stage: Stage, finish: &Finish, next: &Next) -> Vec<TapButton> {
    let step = |what, text, main| TapButton { what, text, main, sear: what == "seared" };
    let spoiled = matches!(next, Next::ThrowAway(_) | Next::Discard { .. });
    let served = !matches!(next, Next::NotServed(_));
    let (dried, seared, eaten) =
        (step("dried", "Dried", served), step("seared", "Seared", false), step("eaten", "Eaten", false));
    let mut steps = match stage {
        _ if spoiled && stage == Stage::InBath => {
            vec![step("discarded", "Thrown away", true), step("pulled", "Pulled", false)]
        }
        _ if spoiled && stage <= Stage::Chilled => {
            vec![step("discarded", "Thrown away", true), step("eaten", "Eaten", false)]
        }
        Stage::Waiting => vec![step("dropped", "Dropped", true)],
        Stage::InBath => vec![step("pulled", "Pulled", true)],
        Stage::Pulled if finish.dries => vec![dried, seared, eaten],
        Stage::Pulled if !finish.sears => vec![step("eaten", "Eaten", served)],
        Stage::Pulled | Stage::Dried => vec![step("seared", "Seared", served), eaten],
        Stage::Seared => vec![step("eaten", "Eaten", served)],
        Stage::Chilled => vec![step("eaten", "Eaten", false), step("discarded", "Thrown away", false)],
        Stage::Eaten | Stage::Discarded => Vec::new(),
    };
    if !served && stage > Stage::InBath && stage < Stage::Chilled {
        steps.push(step("discarded", "Thrown away", false));
    }
    steps
}

impl CookView {
    /// An identifier for one tap: sent again, it is the same tap.
    pub fn tap(&self) -> Uuid {
        new_id(self.now)
    }

    pub fn new(
        state: &AppState,
        http: &HttpRequest,
        seen: &Seen<'_>,
        origins: &HashMap<Uuid, Origin>,
        typed: Typed,
    ) -> Result<Self, PageError> {
        let units = reader_units(http);
        let zone = &state.kitchen().wall();
        let &Seen { record, request, ref plan, ref stands, ref live, now, .. } = seen;
        let (finish, stage) = (request.food().finish(), stands.stage());
        let clock = |t: Timestamp| near_time(t, now, zone);
        let unwatched = record.unwatched(stands);
        let out = stands.when(Milestone::Pulled).map_or(Minutes::ZERO, |p| Minutes::between(p, now));
        let salt = words::before(request, plan.bath_min, plan.through.slow, units).salt;
        let afloat = |dropped| Minutes::between(dropped, now) - stands.afloat_min();
        Ok(Self {
            id: record.id,
            unwatched: unwatched
                .map(|(bath, u)| (bath, u.event, words::was_it_on((u.from, u.until), &clock))),
            keep: KeepView::of(seen, &typed.storages, zone),
            questions: live.questions.iter().map(|q| AskedView::of(q, now, zone)).collect(),
            just: JustDone::of(seen, zone),
            back: seen.if_put_back(zone)?.map(|back| words::put_back(&back, out, &clock)),
            differs: came_otherwise(seen.record, origins)?,
            now,
            title: unbroken(&record.title_in(units)),
            sentence: sentence(request, units),
            planned: planned_words(seen, zone),
            corrected: stands.piece_corrected().is_some(),
            guest: typed.guest.as_ref().map(Guest::called),
            must_not: words::must_not_eat(request, typed.guest.as_slice()),
            steps: steps(stage, finish, &live.next),
            such_as: zone.example(),
            when: if typed.about.is_none() { typed.when.clone() } else { String::new() },
            sear: SearOffer::of(seen, typed.faces, units),
            checklist: checklist(&seen.steps(units, zone), now, zone),
            salt_percent: trimmed(salt.percent, 3),
            guide: guided(http),
            in_bath: stage == Stage::InBath,
            waiting: stage == Stage::Waiting,
            guests_at: record
                .plan_record()
                .filter(|_| stage <= Stage::InBath && !matches!(live.next, Next::ThrowAway(_)))
                .map(|standing| (standing.id, clock(live.serve_at))),
            events: record.events.len(),
            steps_open: unfolded(http, "steps"),
            logged: Logged::of(seen, origins, (typed.about, &typed.when), unfolded(http, "log"), zone, units),
            wrong: words::wrong(plan, live, units, clock),
            trouble: words::trouble(request),
            afloat_most: stands.when(Milestone::Dropped).map_or(0, |d| afloat(d).value().max(0.0) as u32),
            leaked: stands.when_done("leaked").is_some(),
            off: OffView::of(seen, typed.off, zone),
            problem: typed.problem,
            rated: RatingView::of(seen, typed.rating),
            keeping: matches!(stage, Stage::Pulled | Stage::Dried | Stage::Seared),
            core: typed.core,
            cold: limits().zone_low_c.degrees(units),
            hot: degrees(Celsius::new(limits().hot_hold_c.value), units),
            held_hot: words::held_hot(units),
        })
    }
}

pub fn sentence(request: &PlanRequest, units: Units) -> String {
    format!(
        "{}, {}; bath {}",
        request.how_big(units),
        request.conditions(),
        units.temperature(request.bath_c)
    )
}

fn marks(rating: &Rating, seared: bool) -> Vec<MarkRow> {
    let row = |name, label, words: [&'static str; 5], chosen: Option<u8>| MarkRow {
        name,
        label,
        choices: words
            .into_iter()
            .zip(1_i8..)
            .map(|(w, v)| (v, w, chosen.is_some_and(|c| i16::from(c) == i16::from(v))))
            .collect(),
    };
    let centre = MarkRow {
        name: "centre",
        label: "Centre, against what was wanted",
        choices: words::CENTRES.into_iter().map(|(v, w)| (v, w, rating.centre == Some(v))).collect(),
    };
    let tender =
        row("tenderness", "Tenderness", ["tough", "chewy", "fair", "tender", "melting"], rating.tenderness);
    // What was never seared has no band and no crust to judge.
    if !seared {
        return vec![centre, tender];
    }
    vec![
        centre,
        row("band", "Grey band", ["none", "barely there", "thin", "plainly there", "thick"], rating.band),
        tender,
        row("crust", "Crust", ["none", "pale", "golden", "brown", "deep"], rating.crust),
    ]
}
