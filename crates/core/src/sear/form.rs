//! What is typed at the finish, read: every fault beside its field, nothing typed lost.

use std::collections::BTreeMap;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::blanks::seconds;
use super::hearth::Pans;
use super::pattern::{After, Basting, Pattern, Pause};
use super::setup::{Setup, brownings};
use super::{Hearth, How, May, Start, Wanted, fats, hearths};
use crate::figures::searing;
use crate::food::{Food, PanStart, SearAs, SearedFaces};
use crate::sear::asked::FinishAsked;
use crate::units::{Blanks, Celsius, Kelvin, Length, Units, parse_seconds};

/// The finish exactly as typed. Empty fields take what is usual; an empty pattern takes what is proposed.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct FinishForm {
    /// The cook it finishes, where there is one.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub cook: String,
    /// Identifier of the food, where there is no cook.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub food: String,
    /// Face to face.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub thickness: String,
    /// Throughout, as it leaves the bath.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub bath: String,
    /// What the middle is wanted at.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub wanted: String,
    /// Identifier of what it is seared on or in.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub hearth: String,
    /// How hot that is.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub at: String,
    /// `lid` where that is what a gauge in a lid shows; else it is the surface itself.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub gauge: String,
    /// How much less than the surface that gauge shows.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub gauge_low: String,
    /// Identifier of the fat.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub fat: String,
    /// Identifier of how brown.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub brown: String,
    /// How long it waits first.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub pause: String,
    /// In what.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub pause_in: String,
    /// On the heat a face.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub face: String,
    /// How often a face.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub times: String,
    /// Which faces: `both`, `one` or `skin`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub faces: String,
    /// On the other face, where that is done for seconds.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub other: String,
    /// Whether the pan is `hot` or `cold` when it goes in.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub pan: String,
    /// `basted` or `plain`.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub baste: String,
    /// Under a torch after the pan, each face.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub torch: String,
    /// How many edges.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub edges: String,
    /// On each edge.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub edge: String,
    /// Rest after.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub rest: String,
    /// `wrapped`, else on a board.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub rest_in: String,
    /// How many pieces go through it one after the other.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub pieces: String,
    /// How thick the others from the same bath are: "25 mm, 50 mm".
    #[serde(skip_serializing_if = "String::is_empty")]
    pub sizes: String,
    /// Who is to have a piece how done: "Ana rare, Ben medium, Col 60 °C".
    #[serde(skip_serializing_if = "String::is_empty")]
    pub guests: String,
    /// When a planned piece leaves its bath, as an instant of RFC 3339: only the clock times said with it depend on it.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub pull: String,
    /// The food the page was made with: what was typed for another is not this one's.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub food_was: String,
    /// The hearth the page was made with: what was typed for another is not this one's.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub hearth_was: String,
    /// [`Units::code`] of the units bare numbers were typed in.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub typed_in: String,
}

/// What is known of the piece without the form.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Given {
    /// Face to face, of a cook's piece.
    pub thickness: Option<Length>,
    /// Its profile, by depth from a face to the middle, as it leaves the bath.
    pub start: Option<Start>,
    /// The bath it lies in.
    pub bath: Option<Celsius>,
    /// When it leaves its bath, where that is known.
    pub pull: Option<Timestamp>,
    /// From the pull to the plate, at most, seconds.
    pub within_s: Option<f64>,
    /// Metres.
    pub altitude_m: f64,
    /// How much less than a surface the gauge in the kitchen's lid shows.
    pub lid_low: Option<Kelvin>,
    /// What the kitchen's pans bear.
    pub pans: Pans,
}

impl FinishForm {
    /// Understands what was typed for a food: the form with what is usual in place of what was left out, what was
    /// understood, and every fault by field.
    ///
    /// ```
    /// use hold_steady_core::{food::catalogue, sear::{FinishForm, Given}, units::Units};
    /// let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// let typed = FinishForm { thickness: "1 1/2 in".into(), face: "long".into(), ..FinishForm::default() };
    /// let (form, asked, errors) = typed.read(strip, &Given::default(), Units::default());
    /// assert!(asked.is_none() && errors.contains_key("face") && form.face == "long");
    /// ```
    #[must_use]
    pub fn read(
        &self,
        food: &Food,
        given: &Given,
        units: Units,
    ) -> (Self, Option<FinishAsked>, BTreeMap<&'static str, String>) {
        let typed_in = Units::from_code(&self.typed_in).unwrap_or(units);
        let mut form = self.clone();
        form.typed_in = units.code().into();
        form.forget_another_hearth();
        form.forget_another_food(food);
        let mut r = Blanks::new(units, typed_in);
        let (thickness, bath) = form.read_piece(&mut r, food, given);
        let wanted_c = r.degrees("wanted", &mut form.wanted, bath, (Celsius::new(35.0), Celsius::new(95.0)));
        let found_hot = form.at.trim().is_empty();
        let (hearth, hearth_c, gauge_low) = form.read_hearth(&mut r, given);
        let fat = r.one_of("fat", &mut form.fat, fats(), "oil", |f| &f.id);
        let how = food.finish().how.as_ref();
        let usual_brown = how.map_or("brown", |h| h.brown.as_str());
        let brown = r.one_of("brown", &mut form.brown, brownings(), usual_brown, |b| &b.id);
        let pieces = r.count("pieces", &mut form.pieces, 1, (1, 12));
        let sizes = r.sizes(&mut form.sizes);
        let guests = r.guests(&form.guests, food);
        let (after, edges_free) = form.read_after(&mut r, hearth, how);
        let pattern = form.read_pattern(&mut r, after);
        let (pan, basting) = form.read_pan(hearth, how);
        let setup = Setup {
            start: given.start.clone().unwrap_or(Start::Uniform(bath)),
            altitude_m: given.altitude_m,
            hearth_c,
            pan,
            basting,
            fat: how.map_or(Length::ZERO, |h| h.fat_mm.min(thickness / 3.0)),
            ..Setup::new(food, thickness, bath, hearth)
        };
        // Where nobody said how hot, that is looked for too.
        let given_c = hearth_c.filter(|_| !found_hot);
        let mut may = May::of(food, hearth, (given_c, fat), given.pans);
        may.edges_as_faces &= edges_free;
        let wanted = Wanted {
            centre_c: wanted_c.value(),
            browning: brown.index,
            face_c: searing().char_c.value,
            within_s: given.within_s,
            after,
        };
        let asked =
            FinishAsked { setup, wanted, may, gauge_low, brown, bath, pattern, fat, pieces, sizes, guests };
        (form, r.errors.is_empty().then_some(asked), r.errors)
    }

    /// How thick it is and what bath it comes from: as given, else as typed.
    fn read_piece(&mut self, r: &mut Blanks, food: &Food, given: &Given) -> (Length, Celsius) {
        let (mm, c) = (Length::from_mm, Celsius::new);
        let usual_mm = food.thickness_mm.usual;
        let thickness = given
            .thickness
            .unwrap_or_else(|| r.length("thickness", &mut self.thickness, usual_mm, (mm(5.0), mm(120.0))));
        let usual_c = food.usual_doneness().c;
        let bath =
            given.bath.unwrap_or_else(|| r.degrees("bath", &mut self.bath, usual_c, (c(35.0), c(90.0))));
        (thickness, bath)
    }

    /// What was typed for another food is not this one's: what it is seared on, in what and how many stay.
    fn forget_another_food(&mut self, food: &Food) {
        let was = std::mem::replace(&mut self.food_was, food.id.clone());
        if was.is_empty() || was == food.id {
            return;
        }
        *self = Self {
            cook: std::mem::take(&mut self.cook),
            food: food.id.clone(),
            food_was: food.id.clone(),
            hearth: std::mem::take(&mut self.hearth),
            fat: std::mem::take(&mut self.fat),
            pieces: std::mem::take(&mut self.pieces),
            typed_in: std::mem::take(&mut self.typed_in),
            ..Self::default()
        };
    }

    /// What was typed for another hearth is not this one's.
    fn forget_another_hearth(&mut self) {
        let was = std::mem::take(&mut self.hearth_was);
        if !was.is_empty() && was != self.hearth {
            let Self { at, gauge, gauge_low, face, edges, edge, other, pan, .. } = self;
            [at, gauge, gauge_low, face, edges, edge, other, pan].into_iter().for_each(String::clear);
        }
    }

    /// What it is seared on, and how hot that is at its surface.
    fn read_hearth(&mut self, r: &mut Blanks, given: &Given) -> (&'static Hearth, Option<Celsius>, Kelvin) {
        let hearth = r.one_of("hearth", &mut self.hearth, hearths(), USUAL_HEARTH, |h| &h.id);
        let (low, high) = (hearth.low_c.unwrap_or_default(), hearth.high_c.unwrap_or_default());
        let by_lid = self.gauge == "lid" && matches!(hearth.how, How::Air | How::Contact);
        let usual_low = if hearth.how == How::Air {
            searing().grate_low_k.kelvin()
        } else {
            given.lid_low.unwrap_or(searing().lid_low_k.kelvin())
        };
        let low_k = if by_lid {
            let (none, most) = (Kelvin::ZERO, Kelvin::new(250.0));
            r.difference("gauge_low", &mut self.gauge_low, (usual_low, "a difference"), (none, most))
        } else {
            Kelvin::ZERO
        };
        let Some(usual) = hearth.c else {
            self.at.clear();
            return (hearth, None, low_k);
        };
        let shown = r.degrees("at", &mut self.at, usual - low_k, (low - low_k, high - low_k));
        (hearth, Some(shown + low_k), low_k)
    }

    /// Whether the pan is hot, and whether it is basted: as the food is usually done, on what has a burner under it.
    fn read_pan(&mut self, hearth: &Hearth, how: Option<&SearAs>) -> (PanStart, Basting) {
        if !hearth.is_pan() {
            self.pan.clear();
            self.baste.clear();
            return (PanStart::Hot, Basting::Plain);
        }
        let pan = PanStart::from_id(&self.pan).unwrap_or_else(|| how.map_or(PanStart::Hot, |h| h.pan));
        let basting = Basting::from_id(&self.baste).unwrap_or_default();
        (self.pan, self.baste) = (pan.id().into(), basting.id().into());
        (pan, basting)
    }

    /// What comes after the first face; and whether nobody said how long an edge takes.
    fn read_after(&mut self, r: &mut Blanks, hearth: &Hearth, how: Option<&SearAs>) -> (After, bool) {
        let usual_s = parse_seconds(&self.face).ok().or(how.map(|h| h.face_s)).unwrap_or_default();
        let (edges, edge_s) =
            how.filter(|_| !hearth.heats.all_round()).map_or((0, 0.0), |h| h.edges(usual_s));
        let usual_rest_s = how.map_or(60.0, |h| h.rest_s);
        let edges_free = self.edge.trim().is_empty();
        let wrapped = self.rests_wrapped();
        self.rest_in = rest_in(wrapped).into();
        let other_s = self.read_other(r, hearth, how);
        let after = After {
            other_s,
            torch_s: r.seconds("torch", &mut self.torch, 0.0, (0.0, 120.0)),
            edges: r.count("edges", &mut self.edges, edges, (0, 8)),
            edge_s: r.seconds("edge", &mut self.edge, edge_s, (0.0, 1800.0)),
            rest_s: r.seconds("rest", &mut self.rest, usual_rest_s, (0.0, 3600.0)),
            wrapped,
        };
        (after, edges_free)
    }

    /// Which faces are done, and how long the other one is.
    fn read_other(&mut self, r: &mut Blanks, hearth: &Hearth, how: Option<&SearAs>) -> Option<f64> {
        const SKIN_OTHER_S: f64 = 20.0;
        if hearth.heats.all_round() {
            self.faces.clear();
            self.other.clear();
            return None;
        }
        let usual = how.map_or(SearedFaces::Both, |h| h.faces);
        let faces = SearedFaces::from_id(&self.faces).unwrap_or(usual);
        self.faces = faces.id().into();
        match faces {
            SearedFaces::Both => {
                self.other.clear();
                None
            }
            SearedFaces::One => {
                self.other.clear();
                Some(0.0)
            }
            SearedFaces::Skin => {
                let usual_s = how.map(|h| h.other_s).filter(|s| *s > 0.0).unwrap_or(SKIN_OTHER_S);
                Some(r.seconds("other", &mut self.other, usual_s, (1.0, 1800.0)))
            }
        }
    }

    /// The pattern; none where the seconds a face are left out: then it is proposed.
    fn read_pattern(&mut self, r: &mut Blanks, after: After) -> Option<Pattern> {
        if self.face.trim().is_empty() {
            self.pause.clear();
            self.times.clear();
            return None;
        }
        let pause = Pause::from_id(&self.pause_in).unwrap_or_default();
        let most = if pause == Pause::Ice { searing().ice_most_s.value } else { 7200.0 };
        Some(Pattern {
            pause,
            pause_s: r.seconds("pause", &mut self.pause, 0.0, (0.0, most)),
            face_s: r.seconds("face", &mut self.face, 45.0, (3.0, 1800.0)),
            times: r.count("times", &mut self.times, 1, (1, 12)),
            after,
        })
    }

    /// Whether it is wrapped while it rests.
    ///
    /// ```
    /// assert!(!hold_steady_core::sear::FinishForm::default().rests_wrapped());
    /// ```
    #[must_use]
    pub fn rests_wrapped(&self) -> bool {
        self.rest_in == WRAPPED
    }

    /// The same with a pattern in its blanks.
    ///
    /// ```
    /// use hold_steady_core::sear::{After, FinishForm, Pattern, Pause};
    /// let p = Pattern { pause: Pause::Air, pause_s: 570.0, face_s: 45.0, times: 2, after: After { edge_s: 10.0, ..After::resting(60.0) } };
    /// let form = FinishForm::default().with(&p);
    /// assert_eq!((form.pause.as_str(), form.face.as_str(), form.times.as_str()), ("9.5 min", "45 s", "2"));
    /// ```
    #[must_use]
    pub fn with(&self, pattern: &Pattern) -> Self {
        Self {
            pause: seconds(pattern.pause_s),
            pause_in: pattern.pause.id().into(),
            face: seconds(pattern.face_s),
            times: pattern.times.to_string(),
            faces: match pattern.after.other_s {
                None => SearedFaces::Both,
                Some(s) if s <= 0.0 => SearedFaces::One,
                Some(_) => SearedFaces::Skin,
            }
            .id()
            .into(),
            other: pattern.after.other_s.filter(|s| *s > 0.0).map_or_else(String::new, seconds),
            torch: seconds(pattern.after.torch_s),
            edges: pattern.after.edges.to_string(),
            edge: seconds(pattern.after.edge_s),
            rest: seconds(pattern.after.rest_s),
            rest_in: rest_in(pattern.after.wrapped).into(),
            ..self.clone()
        }
    }
}

impl FinishForm {
    /// The same with its pattern left out, and how hot its hearth is: to be proposed.
    ///
    /// ```
    /// use hold_steady_core::sear::FinishForm;
    /// let typed = FinishForm { at: "260 °C".into(), face: "30 s".into(), fat: "tallow".into(), ..FinishForm::default() };
    /// assert_eq!(typed.to_be_proposed(), FinishForm { fat: "tallow".into(), ..FinishForm::default() });
    /// ```
    #[must_use]
    pub fn to_be_proposed(&self) -> Self {
        let mut form = self.clone();
        let Self { at, face, pause, pause_in, times, faces, other, edges, edge, .. } = &mut form;
        [at, face, pause, pause_in, times, faces, other, edges, edge].into_iter().for_each(String::clear);
        form
    }

    /// The same on a hearth this hot, as a gauge shows it that reads so much less.
    ///
    /// ```
    /// use hold_steady_core::{sear::FinishForm, units::*};
    /// let form = FinishForm::default().heated_to(Some(Celsius::new(260.0)), Kelvin::new(60.0), Units::default());
    /// assert_eq!(form.at, "200 °C");
    /// ```
    #[must_use]
    pub fn heated_to(&self, c: Option<Celsius>, gauge_low: Kelvin, units: Units) -> Self {
        let at = c.map_or_else(String::new, |c| units.temperature(units.settable(c - gauge_low)));
        Self { at, ..self.clone() }
    }
}

const WRAPPED: &str = "wrapped";

/// The word for where it rests.
const fn rest_in(wrapped: bool) -> &'static str {
    if wrapped { WRAPPED } else { "board" }
}

/// What is seared on where nothing is said.
const USUAL_HEARTH: &str = "iron-pan";

#[cfg(test)]
mod tests {
    use super::*;
    use crate::food::catalogue;

    fn strip() -> &'static Food {
        catalogue().food("beef-strip").expect("in the catalogue")
    }

    #[test]
    fn every_wrong_field_is_named_with_its_range_and_kept() {
        let typed = FinishForm {
            thickness: "1 km".into(),
            bath: "400".into(),
            wanted: "no".into(),
            hearth: "candle".into(),
            fat: "air".into(),
            brown: "blue".into(),
            face: "-5".into(),
            pause: "3 min".into(),
            pause_in: "ice".into(),
            times: "many".into(),
            edge: "a lot".into(),
            rest: "9 h".into(),
            pieces: "99".into(),
            ..FinishForm::default()
        };
        let (form, asked, errors) = typed.read(strip(), &Given::default(), Units::default());
        let fields: Vec<&str> = errors.keys().copied().collect();
        let all = [
            "bath",
            "brown",
            "edge",
            "face",
            "fat",
            "hearth",
            "pause",
            "pieces",
            "rest",
            "thickness",
            "times",
            "wanted",
        ];
        assert!(asked.is_none());
        assert_eq!(fields, all, "{errors:?}");
        assert!(errors["pause"].contains("2 min") && form.face == "-5", "{errors:?}");
    }

    #[test]
    fn guests_get_their_doneness_from_one_bath() {
        let typed = FinishForm {
            thickness: "25 mm".into(),
            bath: "50".into(),
            wanted: "54".into(),
            face: "45".into(),
            guests: "Ana rare; Ben 58, Col medium".into(),
            ..FinishForm::default()
        };
        let (_, asked, errors) = typed.read(strip(), &Given::default(), Units::default());
        let asked = asked.unwrap_or_else(|| panic!("{errors:?}"));
        let names: Vec<&str> = asked.guests.iter().map(|g| g.0.as_str()).collect();
        assert_eq!(names, ["Ana", "Ben", "Col"]);
        let got = asked.answer().expect("simulates").guests;
        assert!(
            got[0].face_s < got[1].face_s && (got[1].done.peak_c - 58.0).abs() < 1.0,
            "{}",
            got[1].face_s
        );
        let wrong = FinishForm { guests: "Ana blue".into(), ..FinishForm::default() };
        let (_, asked, errors) = wrong.read(strip(), &Given::default(), Units::default());
        assert!(asked.is_none() && errors["guests"].contains("rare"), "{errors:?}");
    }

    #[test]
    fn sizes_are_told_apart_as_they_are_typed() {
        let mm = |sizes: &str| {
            let typed = FinishForm { sizes: sizes.into(), ..FinishForm::default() };
            let (form, asked, errors) = typed.read(strip(), &Given::default(), Units::default());
            let asked = asked.unwrap_or_else(|| panic!("{errors:?}"));
            (asked.sizes.iter().map(|l| l.mm().round()).collect::<Vec<_>>(), form.sizes)
        };
        for text in ["25 mm, 50 mm", "25 mm,50 mm", "25; 50", "25 and 50", " 25 mm ,50mm,"] {
            assert_eq!(mm(text), (vec![25.0, 50.0], "25 mm, 50 mm".into()), "{text}");
        }
        assert_eq!(mm("2,5 cm").0, [25.0], "a decimal comma");
        assert_eq!(mm("1 1/2 in").0, [38.0]);
        assert_eq!(mm("").0, [0.0; 0]);
        let many = FinishForm { sizes: "20, 21, 22, 23, 24, 25".into(), ..FinishForm::default() };
        let (form, asked, errors) = many.read(strip(), &Given::default(), Units::default());
        assert!(asked.is_none() && errors["sizes"].contains("more than the 5"), "{errors:?}");
        assert_eq!(form.sizes, many.sizes, "nothing typed is lost");
    }

    #[test]
    fn what_takes_longer_than_its_clocks_leave_is_said() {
        let out = |within_s, pause: &str, pieces: &str| {
            let typed = FinishForm {
                pause: pause.into(),
                face: "45 s".into(),
                pieces: pieces.into(),
                ..FinishForm::default()
            };
            let given = Given { within_s, ..Given::default() };
            let asked = typed.read(strip(), &given, Units::default()).1.expect("understood");
            asked.too_long_out(&asked.pattern.expect("typed"))
        };
        assert_eq!(out(Some(3600.0), "10 min", "1"), None);
        assert!(out(Some(600.0), "10 min", "1").is_some());
        // The last of twelve waits for the others.
        assert!(out(Some(1500.0), "10 min", "12").is_some());
        // Without a cook nobody knows its clocks: what is long is said all the same.
        assert_eq!(out(None, "10 min", "1"), None);
        assert!(out(None, "40 min", "1").is_some_and(|(_, left)| left.is_none()));
    }

    #[test]
    fn a_lid_s_gauge_reads_lower_than_the_surface() {
        let grill = FinishForm { hearth: "covered-grill".into(), at: "100".into(), ..FinishForm::default() };
        let lid = FinishForm { gauge: "lid".into(), gauge_low: "50".into(), ..grill.clone() };
        let at = |f: &FinishForm| {
            let (_, asked, errors) = f.read(strip(), &Given::default(), Units::default());
            asked.unwrap_or_else(|| panic!("{errors:?}")).setup.hearth_c
        };
        assert_eq!((at(&grill), at(&lid)), (Some(Celsius::new(100.0)), Some(Celsius::new(150.0))));
    }

    #[test]
    fn a_pan_that_has_not_come_back_browns_the_next_piece_less() {
        let typed = FinishForm {
            hearth: "thin-pan".into(),
            face: "45 s".into(),
            pieces: "3".into(),
            ..FinishForm::default()
        };
        let (_, asked, errors) = typed.read(strip(), &Given::default(), Units::default());
        let answer = asked.unwrap_or_else(|| panic!("{errors:?}")).answer().expect("simulates");
        let (first, second) = (answer.done.paler().browning, answer.after[0].1.paler().browning);
        assert!(answer.after.len() == 2 && second < first, "{second} {first}");
        assert!(answer.after[0].0.is_some_and(|c| c < 225.0));
    }
}
