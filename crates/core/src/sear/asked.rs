//! What is asked of a finish, understood, and its answer.

use super::group::{FACES_S, ForGuest, OneSize, SIDE_BY_SIDE_S, for_guests, side_by_side_s};
use super::pattern::{BETWEEN_S, Pattern};
use super::setup::{Browning, Setup};
use super::{Fat, Finishes, May, Proposal, Seared, TooMuch, Wanted, bath_for, best_within, too_much};
use crate::heat::HeatError;
use crate::units::{Celsius, Kelvin, Length};

/// What was understood.
#[derive(Debug, Clone, PartialEq)]
pub struct FinishAsked {
    /// The piece and the hearth.
    pub setup: Setup,
    /// What is wanted.
    pub wanted: Wanted,
    /// What may be changed to get there, where the pattern is to be proposed.
    pub may: May,
    /// How much less than the hearth's surface shows what it is measured by.
    pub gauge_low: Kelvin,
    /// How brown.
    pub brown: &'static Browning,
    /// The bath it comes from.
    pub bath: Celsius,
    /// The pattern typed; none where it is to be proposed.
    pub pattern: Option<Pattern>,
    /// The fat.
    pub fat: &'static Fat,
    /// Pieces one after the other.
    pub pieces: u32,
    /// How thick the others from the same bath are.
    pub sizes: Vec<Length>,
    /// Who is to have a piece, with its middle at what.
    pub guests: Vec<(String, Celsius)>,
}

/// Longer than this out of its bath asks for a verdict, seconds.
const LONG_OUT_S: f64 = 1800.0;

/// How many profiles of the sear are kept.
const FRAMES: f64 = 40.0;

/// What follows.
#[derive(Debug, Clone, PartialEq)]
pub struct FinishAnswer {
    /// The piece on its hearth, at the temperature typed or proposed.
    pub setup: Setup,
    /// The pattern: as typed, or as proposed.
    pub pattern: Pattern,
    /// What it makes of the piece, with profiles on the way.
    pub done: Seared,
    /// Ways that were looked for.
    pub proposals: Vec<Proposal>,
    /// Seconds a face that are shown beside each other.
    pub shown_s: [f64; 5],
    /// The same with other times a face; of each size that comes from this bath, the piece's own first.
    pub side_by_side: Vec<OneSize>,
    /// What is too much.
    pub too_much: TooMuch,
    /// The bath to have chosen, °C.
    pub bath_c: f64,
    /// How deep each edge is done, mm.
    pub edge_mm: f64,
    /// What each guest's piece needs.
    pub guests: Vec<ForGuest>,
    /// For each piece after the first: how hot the hearth is when it lands, °C, and what that makes of it.
    pub after: Vec<(Option<f64>, Seared)>,
}

impl FinishAsked {
    /// What is ever hotter than this counts as the band, °C.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let (_, asked, _) = FinishForm::default().read(strip, &Given::default(), Units::default());
    /// let asked = asked.expect("all of it is usual");
    /// assert_eq!(asked.band_above_c(), 70.0);
    /// ```
    #[must_use]
    pub fn band_above_c(&self) -> f64 {
        self.wanted.band_above_c()
    }

    /// How long the last piece is out of the bath with a pattern, and how long its verdict's clocks leave, seconds, where that
    /// is less; of a piece without a cook no clock is known, and none is said.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let typed = FinishForm { pause: "1 h".into(), face: "45 s".into(), ..FinishForm::default() };
    /// let given = Given { within_s: Some(3600.0), ..Given::default() };
    /// let asked = typed.read(strip, &given, Units::default()).1.expect("understood");
    /// let (out_s, left_s) = asked.too_long_out(&asked.pattern.expect("typed")).expect("too long");
    /// assert!(out_s > 3600.0 && left_s == Some(3600.0));
    /// ```
    #[must_use]
    pub fn too_long_out(&self, pattern: &Pattern) -> Option<(f64, Option<f64>)> {
        let heated_s = pattern.batch_s(self.setup.hearth.heats, self.pieces);
        let out_s = pattern.before_s() + heated_s + pattern.after.rest_s;
        let most_s = self.wanted.within_s.unwrap_or(LONG_OUT_S);
        (out_s > most_s).then_some((out_s, self.wanted.within_s))
    }

    /// What is proposed first.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let salmon = catalogue().food("salmon-fillet").expect("in the catalogue");
    /// let asked = FinishForm::default().read(salmon, &Given::default(), Units::default()).1.expect("usual");
    /// let best = asked.proposed()?;
    /// assert_eq!((best.pattern.after.other_s, best.pattern.after.edges), (Some(0.0), 0), "one face, no edges");
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn proposed(&self) -> Result<Proposal, HeatError> {
        best_within(&self.setup, &self.wanted, &self.may)
    }

    /// Works it out.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let (_, asked, _) = FinishForm::default().read(strip, &Given::default(), Units::default());
    /// let answer = asked.expect("all of it is usual").answer()?;
    /// assert_eq!(answer.pattern, answer.proposals[0].pattern);
    /// assert!(answer.done.frames.len() > 10 && answer.side_by_side.len() == 1);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn answer(&self) -> Result<FinishAnswer, HeatError> {
        self.answer_with(&Finishes::default())
    }

    /// The same, with what was looked for before.
    ///
    /// # Errors
    /// When it takes too much computing.
    ///
    /// ```
    /// # use hold_steady_core::{food::catalogue, sear::{Finishes, FinishForm, Given}, units::Units};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let (_, asked, _) = FinishForm::default().read(strip, &Given::default(), Units::default());
    /// # let asked = asked.expect("all of it is usual");
    /// let kept = Finishes::default();
    /// assert_eq!(asked.answer_with(&kept)?.proposals, *kept.all(&asked)?);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    pub fn answer_with(&self, kept: &Finishes) -> Result<FinishAnswer, HeatError> {
        let wanted = &self.wanted;
        let proposals = kept.all(self)?.to_vec();
        let first = &proposals[0];
        let hearth_c = if self.pattern.is_some() { self.setup.hearth_c } else { first.hearth_c };
        let setup = &Setup { hearth_c, ..self.setup.clone() };
        let pattern = self.pattern.unwrap_or(first.pattern);
        let mut sear = setup.sear(&pattern, setup.hot());
        sear.frames_s = (pattern.stove_s(setup.hearth.heats) / FRAMES).max(0.5);
        let done = sear.run()?;
        // The piece's own first; each size once, however many pieces there are of it.
        let alone = self.sizes.is_empty() && self.guests.is_empty();
        let shown_s = side_by_side_s(pattern.face_s);
        let faces_s: &[f64] = if alone || shown_s != SIDE_BY_SIDE_S { &shown_s } else { &FACES_S };
        let mut sizes: Vec<(OneSize, usize)> = Vec::new();
        let others = self.sizes.iter().map(|l| (*l, 1));
        for (thickness, n) in [(setup.thickness, self.pieces as usize)].into_iter().chain(others) {
            match sizes.iter_mut().find(|(size, _)| size.thickness == thickness) {
                Some((_, already)) => *already += n,
                None => sizes.push((OneSize::of((setup, &pattern, self.bath), thickness, faces_s)?, n)),
            }
        }
        let guests = for_guests(&self.guests, (setup, &pattern, self.bath), &sizes, wanted.browning)?;
        // The next lands on what the one before left, after a moment.
        let mut after: Vec<(Option<f64>, Seared)> = Vec::new();
        for _ in 1..self.pieces {
            let mut hearth = after.last().map_or(&done, |a| &a.1).hearths[0].clone();
            hearth.wait(BETWEEN_S);
            let lands_at = hearth.face_c();
            after.push((lands_at, setup.sear(&pattern, hearth).run()?));
        }
        Ok(FinishAnswer {
            setup: setup.clone(),
            shown_s,
            guests,
            too_much: too_much(setup, wanted, &pattern)?,
            bath_c: bath_for(setup, &pattern, wanted.centre_c)?,
            edge_mm: setup.edge_mm(pattern.after.edge_s, self.band_above_c())?,
            pattern,
            done,
            proposals,
            side_by_side: sizes.into_iter().map(|(size, _)| size).collect(),
            after,
        })
    }
}
