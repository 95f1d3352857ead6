//! What the finish page shows.

use std::collections::BTreeMap;

use hold_steady_core::food::{Food, SearedFaces};
use hold_steady_core::sear::{
    Basting, FinishAsked, FinishForm, Finishes, Hearth, How, PanStart, Pause, Way, brownings, cooked, fats,
    hearths,
};
use hold_steady_core::units::{Celsius, Units, WallClock};
use hold_steady_core::words;
use hold_steady_store::new_id;
use jiff::Timestamp;
use uuid::Uuid;

use super::Piece;
use super::answer::{AnswerView, Shown};
use crate::app::PageError;
use crate::drawing::{Cut, cut};

/// A choice of a select: its word, what it is called, whether it is chosen.
type Choice = (String, String, bool);

pub struct FinishView {
    pub title: String,
    pub form: FinishForm,
    /// A cook's piece: its measures are known.
    pub of_cook: bool,
    pub foods: Vec<Choice>,
    pub hearths: Vec<Choice>,
    /// It has a temperature.
    pub has_c: bool,
    /// A lid may be over it, with a gauge.
    pub gauged: bool,
    pub by_lid: bool,
    /// Which faces: its word, how it is said, whether it is so.
    pub faces: Vec<(&'static str, &'static str, bool)>,
    /// What else this food's finish may have on this hearth.
    pub also: Also,
    pub both: bool,
    pub in_ice: bool,
    pub wrapped: bool,
    pub fats: Vec<Choice>,
    pub browns: Vec<Choice>,
    pub errors: BTreeMap<&'static str, String>,
    pub answer: Option<AnswerView>,
    pub query: String,
    /// It may still be said how it is to be finished; with what the tap carries that says it.
    pub to_come: bool,
    pub tap: Uuid,
}

/// What few finishes have besides: a pan that is cold at first, basting, a torch after the pan.
pub struct Also {
    pub cold: bool,
    pub basted: bool,
    pub torched: bool,
}

impl Also {
    /// What the food's own finish may have, and what is asked for already.
    fn of(food: &Food, hearth: Option<&Hearth>, form: &FinishForm) -> Self {
        let how = food.finish().how.as_ref();
        let pan = hearth.is_some_and(Hearth::is_pan);
        let round = hearth.is_some_and(|h| h.heats.all_round());
        let torched = !matches!(form.torch.as_str(), "" | "0 s");
        Self {
            cold: pan && (form.pan == PanStart::Cold.id() || how.is_some_and(|h| h.pan == PanStart::Cold)),
            basted: pan && (form.baste == Basting::Basted.id() || how.is_some_and(|h| h.may_baste)),
            torched: !round && (torched || how.is_some_and(|h| h.may_torch)),
        }
    }

    pub fn any(&self) -> bool {
        self.cold || self.basted || self.torched
    }
}

fn choices<'a, T: 'a>(
    all: &'a [T],
    chosen: &str,
    of: impl Fn(&'a T) -> (&'a String, &'a String),
) -> Vec<Choice> {
    all.iter().map(of).map(|(id, name)| (id.clone(), name.clone(), id == chosen)).collect()
}

pub fn encoded(form: &FinishForm) -> Result<String, PageError> {
    serde_urlencoded::to_string(form).map_err(|e| PageError::Request(e.to_string()))
}

impl FinishView {
    pub fn new(
        piece: Piece,
        typed: &FinishForm,
        foods: Vec<(String, String)>,
        (finishes, units, now, zone): (&Finishes, Units, Timestamp, &WallClock),
    ) -> Result<Self, PageError> {
        let (mut form, asked, errors) = typed.read(&piece.food, &piece.given, units);
        if piece.cook.is_none() {
            form.food.clone_from(&piece.food.id);
        }
        let answer = asked
            .as_ref()
            .map(|asked| asked.answer_with(finishes).map(|answer| (asked, answer)))
            .transpose()?;
        if let Some((asked, answer)) = &answer {
            let hot = answer.setup.hearth_c;
            form = form.with(&answer.pattern).heated_to(hot, asked.gauge_low, units);
        }
        let query = encoded(&form)?;
        let answer = answer
            .map(|(asked, answer)| {
                AnswerView::new(&Shown {
                    piece: &piece,
                    asked,
                    answer: &answer,
                    form: &form,
                    units,
                    now,
                    zone,
                })
            })
            .transpose()?;
        let hearth = hearths().iter().find(|h| h.id == form.hearth);
        let how = |how| hearth.is_some_and(|h| h.how == how);
        Ok(Self {
            title: piece.title.clone(),
            of_cook: piece.cook.is_some(),
            foods: foods
                .into_iter()
                .map(|(id, name)| (id == form.food, id, name))
                .map(|(c, id, n)| (id, n, c))
                .collect(),
            hearths: choices(hearths(), &form.hearth, |h| (&h.id, &h.name)),
            has_c: hearth.is_some_and(|h| h.c.is_some()),
            gauged: how(How::Air) || how(How::Contact),
            by_lid: form.gauge == "lid",
            both: hearth.is_some_and(|h| h.heats.all_round()),
            faces: SearedFaces::ALL.map(|f| (f.id(), words::seared_faces(f), f.id() == form.faces)).into(),
            also: Also::of(&piece.food, hearth, &form),
            in_ice: form.pause_in == Pause::Ice.id(),
            wrapped: form.rests_wrapped(),
            fats: choices(fats(), &form.fat, |f| (&f.id, &f.name)),
            browns: choices(brownings(), &form.brown, |b| (&b.id, &b.name)),
            form,
            errors,
            answer,
            query,
            to_come: piece.to_come,
            tap: new_id(now),
        })
    }

    pub fn wrong(&self) -> Vec<(&'static str, &str)> {
        self.errors.iter().map(|(f, t)| (*f, t.as_str())).collect()
    }

    pub fn bad(&self, field: &str) -> bool {
        self.errors.contains_key(field)
    }
}

pub struct WayView {
    pub name: &'static str,
    pub says: String,
    pub cut: String,
}

/// The same piece by other ways.
pub fn ways(piece: &Piece, typed: &FinishForm, units: Units) -> Result<(String, Vec<WayView>), PageError> {
    const RAW_C: Celsius = Celsius::new(5.0);
    let (_, asked, errors) = typed.read(&piece.food, &piece.given, units);
    let Some((asked, pattern)) = asked.and_then(|a| a.pattern.map(|p| (a, p))) else {
        let said: Vec<String> = errors.into_values().collect();
        return Err(PageError::Request(said.join(" ")));
    };
    let (above, FinishAsked { setup, wanted, .. }) = (asked.band_above_c(), asked);
    let centre = wanted.centre_c;
    let all = Way::ALL
        .into_iter()
        .filter(|w| !setup.hearth.heats.all_round() || !matches!(w, Way::PanTurnedOften | Way::PanTurnedOnce))
        .map(|way| {
            let done = cooked(&setup, way, &pattern, RAW_C, centre)?;
            let summary = format!("{}: {}", way.name(), words::cooked(&done, units));
            let drawn = cut(&Cut {
                food: &piece.food,
                seared: &done.done,
                frame: None,
                band_mm: Some(done.done.band_mm(above)),
                px_mm: 2.6,
                width: 250.0,
                summary: &summary,
                id: "",
            })?;
            Ok(WayView { name: way.name(), says: words::cooked(&done, units), cut: drawn })
        })
        .collect::<Result<Vec<_>, PageError>>()?;
    Ok((units.temperature(Celsius::new(centre)), all))
}
