//! What a finish comes to, as it is shown.

use hold_steady_core::sear::{
    ChosenFinish, FinishAnswer, FinishAsked, FinishForm, ForGuest, Frame, Heats, OneSize, PanStart, Pattern,
    Proposal, Seared, Wanted, called,
};
use hold_steady_core::units::{Celsius, Length, Minutes, Units, WallClock, capitalised, moved, unbroken};
use hold_steady_core::words;
use jiff::Timestamp;
use serde::Serialize;

use super::Piece;
use super::view::encoded;
use crate::app::{PageError, near_time};
use crate::drawing::{Cut, colours, cut, measure};

pub struct AnswerView {
    /// When it goes on the heat, and for how long: first of all.
    pub first: String,
    /// What is large: what it is, how much, and what to know of it.
    pub figures: Vec<(&'static str, String, String)>,
    pub cuts: Vec<(String, &'static str)>,
    /// Crust, band and thickness beside the last of them.
    pub measure: String,
    pub frames_json: String,
    pub last_frame: usize,
    pub thickness: String,
    pub side_by_side: Vec<SideView>,
    /// Seconds a face, and what each size gets to in them; none where there is one size.
    pub sizes: Option<(Vec<String>, Vec<SizeView>)>,
    pub proposals: Vec<ProposalView>,
    pub too_much: Vec<String>,
    pub bath: String,
    pub bath_query: Option<String>,
    pub cautions: Vec<String>,
    pub after: Vec<String>,
    pub guests: Vec<GuestView>,
    pub pace: String,
    pub anew: String,
    pub ways: String,
    pub band_above: String,
    pub within: Option<String>,
    /// It is out of the bath for longer than it may be, or for long.
    pub too_long: Option<String>,
    /// For a cook's piece: whether this is what was chosen for it, another was, or none.
    pub chosen: Option<ChosenView>,
    /// What the figures of the hearth, the fat and the browning are taken from.
    pub sources: Vec<(String, String, String)>,
}

pub enum ChosenView {
    /// It is the one.
    This,
    /// Another one.
    Other(String),
    /// None yet.
    None,
}

pub struct SideView {
    pub cut: String,
    pub face: String,
    pub centre: String,
    pub doneness: String,
    pub band: String,
    pub brown: &'static str,
    pub query: String,
    pub chosen: bool,
}

/// Pieces of one thickness: in each of the seconds a face, the middle and what that is called.
pub struct SizeView {
    pub thickness: String,
    pub cells: Vec<(String, String)>,
}

pub struct GuestView {
    pub name: String,
    pub wanted: String,
    /// Which piece, where they are not all alike.
    pub which: Option<String>,
    pub face: String,
    pub gives: String,
}

pub struct ProposalView {
    pub name: &'static str,
    pub how: String,
    pub gives: String,
    pub query: String,
    pub chosen: bool,
}

#[derive(Serialize)]
struct FrameView {
    when: String,
    centre: String,
    colours: Vec<String>,
    crust: [String; 2],
}

/// Pixels for a millimetre of the large cuts and of the small ones.
const LARGE: f64 = 4.0;
const SMALL: f64 = 2.2;

/// All a view of the answer is made from.
pub struct Shown<'a> {
    pub piece: &'a Piece,
    pub asked: &'a FinishAsked,
    pub answer: &'a FinishAnswer,
    pub form: &'a FinishForm,
    pub units: Units,
    pub now: Timestamp,
    pub zone: &'a WallClock,
}

impl Shown<'_> {
    fn length(&self, mm: f64) -> String {
        self.units.length(Length::from_mm(mm))
    }

    fn degrees(&self, c: f64) -> String {
        self.units.temperature_fixed(Celsius::new(c))
    }

    fn above_c(&self) -> f64 {
        self.asked.band_above_c()
    }

    fn middle(&self) -> (&'static str, String, String) {
        let done = &self.answer.done;
        let note = format!(
            "highest, {}; on average {} at the table",
            after_heat(done.peak_after_s),
            self.degrees(done.mean_c)
        );
        ("In the middle", self.degrees(done.peak_c), note)
    }

    fn band(&self) -> (&'static str, String, String) {
        let band_mm = self.answer.done.thicker_band_mm(self.above_c());
        let after = self.answer.pattern.after;
        let edges = if after.edge_s > 0.0 && after.edges > 0 {
            format!("; edges {}", self.length(self.answer.edge_mm))
        } else {
            String::new()
        };
        let note = format!("a face, ever above {}{edges}", self.degrees(self.above_c()));
        ("Band", self.length(band_mm), note)
    }

    fn crust(&self) -> (&'static str, String, String) {
        let (done, paler) = (&self.answer.done, self.answer.done.paler());
        let crust_mm = paler.crust_mm;
        let hottest = done.faces.iter().map(|f| f.peak_c).fold(0.0, f64::max);
        let chars = self.answer.too_much.char_s.map_or_else(String::new, |s| format!("; char from {s:.0} s"));
        let note = format!(
            "{} dry{chars}; {:.0}\u{a0}% of its water lost",
            self.length(crust_mm),
            done.water_lost * 100.0
        );
        ("Crust", called(paler.browning, hottest).into(), note)
    }

    /// When what it is seared on is to be heated; where nobody knows when, how long before.
    fn heat(&self) -> (&'static str, String, String) {
        let setup = &self.answer.setup;
        if setup.pan == PanStart::Cold {
            return ("Light it", "with it in".into(), format!("from cold: {}", setup.hearth.name));
        }
        let ready = setup.hearth.ready_in(setup.hearth_c);
        let pattern = &self.answer.pattern;
        let Some(pull) = self.piece.given.pull else {
            return ("Heat it", words::minutes(ready), "before the sear, until it is hot".into());
        };
        let on = moved(pull.max(self.now), from_seconds(pattern.before_s()));
        let note = format!(
            "hot in about {}; on the heat at {}",
            words::minutes(ready),
            near_time(on, self.now, self.zone)
        );
        ("Heat it", near_time(moved(on, -ready), self.now, self.zone), note)
    }

    fn first(&self) -> String {
        let pattern = &self.answer.pattern;
        let on = self.piece.given.pull.map(|pull| {
            near_time(moved(pull.max(self.now), from_seconds(pattern.before_s())), self.now, self.zone)
        });
        unbroken(&words::first_on_heat(pattern, &self.answer.setup, on.as_deref()))
    }

    fn large(
        &self,
        frame: Option<&Frame>,
        band: Option<[f64; 2]>,
        what: &'static str,
        id: &'static str,
    ) -> Result<(String, &'static str), PageError> {
        let size = self.length(self.answer.setup.thickness.mm());
        let drawn = cut(&Cut {
            food: &self.piece.food,
            seared: &self.answer.done,
            frame,
            band_mm: band,
            px_mm: LARGE,
            width: 140.0,
            summary: &format!("{}, {size}, cut through: {what}", self.piece.title),
            id,
        })?;
        Ok((drawn, what))
    }

    fn cuts(&self) -> Result<Vec<(String, &'static str)>, PageError> {
        let done = &self.answer.done;
        let off = done.frames.iter().rposition(|f| f.s <= done.off_s).map(|i| &done.frames[i]);
        Ok(vec![
            self.large(done.frames.first(), None, "before the sear", "cut-before")?,
            self.large(off, None, "off the heat", "cut-off")?,
            self.large(None, Some(done.band_mm(self.above_c())), "at the table", "cut-table")?,
        ])
    }

    fn measure(&self) -> Result<String, PageError> {
        let done = &self.answer.done;
        let (crust, band) = (done.paler().crust_mm, done.thicker_band_mm(self.above_c()));
        let whole = self.answer.setup.thickness.mm();
        let said = |mm: f64, what: &str| (mm, format!("{} {what}", self.length(mm)));
        measure([said(crust, "crust"), said(band, "band"), said(whole, "")], LARGE)
    }

    fn frames(&self) -> Vec<FrameView> {
        let done = &self.answer.done;
        let each = done.frames.iter().map(|f| FrameView {
            when: said_when(f.s, done, &self.answer.pattern, self.answer.setup.hearth.heats),
            centre: self.degrees(f.c[f.c.len() / 2].0),
            colours: colours(&self.piece.food, done, Some(f)),
            crust: f.crust_mm.map(|mm| format!("{:.2}", mm * LARGE)),
        });
        each.collect()
    }

    fn side(&self, face_s: f64, out: &Seared) -> Result<SideView, PageError> {
        let face = words::for_seconds(face_s);
        let centre = self.degrees(out.peak_c);
        let band = self.length(out.thicker_band_mm(self.above_c()));
        let paler = out.paler();
        let brown = called(paler.browning, paler.peak_c);
        let pattern = self.answer.pattern;
        Ok(SideView {
            cut: cut(&Cut {
                food: &self.piece.food,
                seared: out,
                frame: None,
                band_mm: None,
                px_mm: SMALL,
                width: 62.0,
                summary: &format!("{face}: middle {centre}, band {band}, {brown}"),
                id: &format!("cut-{face_s:.0}"),
            })?,
            doneness: self.doneness(out),
            query: encoded(&self.form.with(&Pattern { face_s, ..pattern }))?,
            chosen: face_s.round() as i64 == pattern.face_s.round() as i64,
            face,
            centre,
            band,
            brown,
        })
    }

    fn doneness(&self, out: &Seared) -> String {
        self.piece.food.nearest_doneness(Celsius::new(out.peak_c)).name.clone()
    }

    fn sides(&self) -> Result<Vec<SideView>, PageError> {
        let own = &self.answer.side_by_side[0].by_face;
        let shown = own.iter().filter(|(s, _)| self.answer.shown_s.contains(s));
        shown.map(|(face_s, out)| self.side(*face_s, out)).collect()
    }

    fn sizes(&self) -> Option<(Vec<String>, Vec<SizeView>)> {
        let all = &self.answer.side_by_side;
        let row = |size: &OneSize| SizeView {
            thickness: self.units.length(size.thickness),
            cells: size
                .by_face
                .iter()
                .map(|(_, out)| (self.degrees(out.peak_c), self.doneness(out)))
                .collect(),
        };
        let faces = all[0].by_face.iter().map(|(s, _)| format!("{s:.0} s")).collect();
        (all.len() > 1).then(|| (faces, all.iter().map(row).collect()))
    }

    fn guest(&self, g: &ForGuest) -> GuestView {
        let paler = g.done.paler();
        let band_c = Wanted { centre_c: g.wanted.value(), ..self.asked.wanted }.band_above_c();
        GuestView {
            name: g.name.clone(),
            wanted: self.units.temperature(g.wanted),
            which: (self.answer.side_by_side.len() > 1).then(|| self.units.length(g.thickness)),
            face: format!("{:.0} s", g.face_s),
            gives: format!(
                "middle {}, band {}, {}{}",
                self.degrees(g.done.peak_c),
                self.length(g.done.thicker_band_mm(band_c)),
                called(paler.browning, paler.peak_c),
                words::off_wanted(Celsius::new(g.done.peak_c), g.wanted, self.units)
            ),
        }
    }

    /// A proposal in one line, with how hot its hearth is.
    fn how(&self, p: &Proposal) -> String {
        let setup = &self.answer.setup;
        let how = words::pattern(&p.pattern, setup.hearth.heats);
        format!("{}: {how}", words::on_hearth(setup, p.hearth_c, self.units))
    }

    fn proposals(&self) -> Result<Vec<ProposalView>, PageError> {
        let setup = &self.answer.setup;
        let each = self.answer.proposals.iter().map(|p| {
            Ok(ProposalView {
                name: words::aim(p.aim),
                how: capitalised(&self.how(p)),
                gives: words::proposal(p, (setup.hearth, self.asked.fat), self.units),
                query: encoded(&self.form.with(&p.pattern).heated_to(
                    p.hearth_c,
                    self.asked.gauge_low,
                    self.units,
                ))?,
                chosen: p.is(&self.answer.pattern, setup),
            })
        });
        each.collect()
    }

    /// The pieces after the first: what they land on, and what that makes of them.
    fn after(&self) -> Vec<String> {
        let each = self.answer.after.iter().enumerate().map(|(i, (c, out))| {
            let lands = c.map_or_else(String::new, |c| format!("lands at {}, ", self.degrees(c)));
            let p = out.paler();
            format!(
                "Piece {}: {lands}{}, band {}",
                i + 2,
                called(p.browning, p.peak_c),
                self.length(out.thicker_band_mm(self.above_c()))
            )
        });
        each.collect()
    }

    fn chosen(&self) -> Option<ChosenView> {
        self.piece.cook?;
        let this = ChosenFinish::of(&FinishAsked {
            pattern: Some(self.answer.pattern),
            setup: self.answer.setup.clone(),
            ..self.asked.clone()
        });
        Some(match &self.piece.chosen {
            None => ChosenView::None,
            Some(chosen) if this.as_ref() == Some(chosen) => ChosenView::This,
            Some(chosen) => ChosenView::Other(words::chosen_finish(chosen, self.units)),
        })
    }

    fn sources(&self) -> Vec<(String, String, String)> {
        let (hearth, fat, brown) = (self.answer.setup.hearth, self.asked.fat, self.asked.brown);
        let smokes = fat.smokes_c.map_or_else(
            || "nothing that smokes".to_owned(),
            |c| format!("smokes from about {}", self.units.temperature(c)),
        );
        let source = |text: &str, basis: &str| format!("{}; {basis}.", self.units.sentence(text));
        vec![
            (
                capitalised(&hearth.name),
                self.units.sentence(&hearth.about),
                source(&hearth.source, hearth.basis.words()),
            ),
            (capitalised(&fat.name), smokes, source(&fat.source, fat.basis.words())),
            (
                capitalised(&brown.name),
                format!("index {} of the paler face", brown.index),
                source(&brown.source, brown.basis.words()),
            ),
        ]
    }
}

impl AnswerView {
    pub fn new(shown: &Shown<'_>) -> Result<Self, PageError> {
        let Shown { piece, asked, answer, form, units, .. } = *shown;
        let bath = Celsius::new((answer.bath_c * 2.0).round() / 2.0);
        let bath_query = match piece.cook {
            // It is the one it comes from.
            None if bath == asked.bath => None,
            None => Some(encoded(&FinishForm {
                bath: units.temperature(bath),
                wanted: form.wanted.clone(),
                ..form.clone()
            })?),
            Some(_) => None,
        };
        let bare = form.to_be_proposed();
        let frames = shown.frames();
        let query = encoded(form)?;
        Ok(Self {
            first: shown.first(),
            figures: vec![shown.middle(), shown.band(), shown.crust(), shown.heat()],
            cuts: shown.cuts()?,
            measure: shown.measure()?,
            last_frame: frames.len().saturating_sub(1),
            frames_json: serde_json::to_string(&frames).map_err(|e| PageError::Request(e.to_string()))?,
            thickness: units.length(answer.setup.thickness),
            side_by_side: shown.sides()?,
            sizes: shown.sizes(),
            proposals: shown.proposals()?,
            too_much: words::too_much(&answer.too_much, units),
            bath: units.temperature(bath),
            bath_query,
            cautions: words::finish_cautions(answer.setup.hearth, answer.setup.hearth_c, asked.fat, units),
            after: shown.after(),
            guests: answer.guests.iter().map(|g| shown.guest(g)).collect(),
            pace: query.clone(),
            anew: encoded(&bare)?,
            ways: query,
            band_above: shown.degrees(shown.above_c()),
            within: piece.given.within_s.map(|s| words::minutes(from_seconds(s))),
            too_long: asked.too_long_out(&answer.pattern).map(words::too_long_out),
            chosen: shown.chosen(),
            sources: shown.sources(),
        })
    }
}

fn after_heat(s: Option<f64>) -> String {
    match s {
        None => "already before the sear".into(),
        Some(s) if s < 45.0 => "as it comes off the heat".into(),
        Some(s) => format!("{} after the heat", words::minutes(from_seconds(s))),
    }
}

/// When a profile on the way is, in words.
fn said_when(s: f64, done: &Seared, pattern: &Pattern, heats: Heats) -> String {
    let heated_s = pattern.on_heat_s(heats);
    let on = s - (done.off_s - heated_s.min(done.off_s));
    if s > done.off_s {
        format!("{:.0} s off the heat", s - done.off_s)
    } else if on < 0.0 {
        format!("{s:.0} s after the pull")
    } else {
        format!("{on:.0} s into the sear")
    }
}

const fn from_seconds(s: f64) -> Minutes {
    Minutes::new(s / 60.0)
}
