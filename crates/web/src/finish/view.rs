//! What the finish page shows.

use std::collections::BTreeMap;

use hold_steady_core::sear::{
    FinishAsked, FinishForm, ForGuest, How, Pattern, Pause, Seared, Way, brownings, called, cooked, fats,
    hearths,
};
use hold_steady_core::units::{Celsius, Length, Minutes, Units, moved};
use hold_steady_core::words;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::Serialize;

use super::Piece;
use crate::app::{PageError, near_time};
use crate::drawing::{Cut, colours, cut};

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
    pub both: bool,
    pub in_ice: bool,
    pub fats: Vec<Choice>,
    pub browns: Vec<Choice>,
    pub errors: BTreeMap<&'static str, String>,
    pub answer: Option<AnswerView>,
    pub query: String,
}

pub struct AnswerView {
    pub peak: String,
    pub peak_note: String,
    pub band: String,
    pub band_note: String,
    pub crust: String,
    pub crust_note: String,
    pub heat_by: String,
    pub heat_note: String,
    pub cuts: Vec<(String, &'static str)>,
    pub frames_json: String,
    pub last_frame: usize,
    pub thickness: String,
    pub side_by_side: Vec<SideView>,
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

pub struct GuestView {
    pub name: String,
    pub wanted: String,
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
        (units, now, zone): (Units, Timestamp, &TimeZone),
    ) -> Result<Self, PageError> {
        let (mut form, asked, errors) = typed.read(&piece.food, &piece.given, units);
        if piece.cook.is_none() {
            form.food.clone_from(&piece.food.id);
        }
        let answer = asked.as_ref().map(|asked| asked.answer().map(|answer| (asked, answer))).transpose()?;
        if let Some((_, answer)) = &answer {
            form = form.with(&answer.pattern);
        }
        let query = encoded(&form)?;
        let answer = answer
            .map(|(asked, answer)| AnswerView::new(&piece, (asked, &answer), &form, (units, now, zone)))
            .transpose()?;
        let hearth = hearths().iter().find(|h| h.id == form.hearth);
        let how = |how| hearth.is_some_and(|h| h.how == how);
        Ok(Self {
            title: piece.title,
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
            both: hearth.is_some_and(|h| h.both),
            in_ice: form.pause_in == Pause::Ice.id(),
            fats: choices(fats(), &form.fat, |f| (&f.id, &f.name)),
            browns: choices(brownings(), &form.brown, |b| (&b.id, &b.name)),
            form,
            errors,
            answer,
            query,
        })
    }

    pub fn wrong(&self) -> Vec<(&'static str, &str)> {
        self.errors.iter().map(|(f, t)| (*f, t.as_str())).collect()
    }

    pub fn bad(&self, field: &str) -> bool {
        self.errors.contains_key(field)
    }
}

fn after_heat(s: f64, before: bool) -> String {
    if before {
        "already before the sear".into()
    } else if s < 45.0 {
        "as it comes off the heat".into()
    } else {
        format!("{} after the heat", words::minutes(from_seconds(s)))
    }
}

impl AnswerView {
    fn new(
        piece: &Piece,
        (asked, answer): (&FinishAsked, &hold_steady_core::sear::FinishAnswer),
        form: &FinishForm,
        (units, now, zone): (Units, Timestamp, &TimeZone),
    ) -> Result<Self, PageError> {
        let (done, pattern, hearth) = (&answer.done, &answer.pattern, asked.setup.hearth);
        let above = asked.band_above_c();
        let band_mm = done.band_mm(above);
        let length = |mm: f64| units.length(Length::from_mm(mm));
        let degrees = |c: f64| units.temperature_fixed(Celsius::new(c));
        let paler = done.paler();
        let crust_mm = f64::midpoint(done.faces[0].crust_mm, done.faces[1].crust_mm);
        let hottest = done.faces.iter().map(|f| f.peak_c).fold(0.0, f64::max);
        let edges =
            if pattern.edge_s > 0.0 { format!("; edges {}", length(answer.edge_mm)) } else { String::new() };
        let chars = answer.too_much.char_s.map_or_else(String::new, |s| format!("; char from {s:.0} s"));
        let ready = hearth.ready_in(asked.setup.hearth_c);
        let sear_at = piece.pull.map(|pull| moved(pull.max(now), from_seconds(pattern.pause_s)));
        let (heat_by, heat_note) = match sear_at {
            Some(at) => (
                near_time(moved(at, -ready), now, zone),
                format!(
                    "hot in about {}; on the heat at {}",
                    words::minutes(ready),
                    near_time(at, now, zone)
                ),
            ),
            None => (words::minutes(ready), "before the sear, until it is hot".into()),
        };
        let summary = |what: &str| {
            format!("{}, {}, cut through: {what}", piece.title, length(asked.setup.thickness.mm()))
        };
        let off = done.frames.iter().rposition(|f| f.s <= done.off_s).map(|i| &done.frames[i]);
        let first = done.frames.first();
        let large = |frame, band, what: &'static str, id| {
            Ok::<_, PageError>((
                cut(&Cut {
                    food: &piece.food,
                    seared: done,
                    frame,
                    band_mm: band,
                    px_mm: LARGE,
                    width: 190.0,
                    summary: &summary(what),
                    id,
                })?,
                what,
            ))
        };
        let frames: Vec<FrameView> = done
            .frames
            .iter()
            .map(|f| FrameView {
                when: said_when(f.s, done, pattern),
                centre: degrees(f.c[f.c.len() / 2].0),
                colours: colours(&piece.food, done, Some(f)),
                crust: f.crust_mm.map(|mm| format!("{:.2}", mm * LARGE)),
            })
            .collect();
        let side_by_side = answer
            .side_by_side
            .iter()
            .map(|(face_s, out)| side(piece, (asked, pattern), form, (*face_s, out), units))
            .collect::<Result<_, _>>()?;
        let proposals = answer
            .proposals
            .iter()
            .map(|p| {
                Ok(ProposalView {
                    name: words::aim(p.aim),
                    how: hold_steady_core::units::capitalised(&words::pattern(&p.pattern, hearth.both)),
                    gives: words::proposal(p, units),
                    query: encoded(&form.with(&p.pattern))?,
                    chosen: p.pattern == *pattern,
                })
            })
            .collect::<Result<_, PageError>>()?;
        let bath = Celsius::new((answer.bath_c * 2.0).round() / 2.0);
        let bath_query = match piece.cook {
            None => Some(encoded(&FinishForm {
                bath: units.temperature(bath),
                wanted: form.wanted.clone(),
                ..form.clone()
            })?),
            Some(_) => None,
        };
        let after = answer.after.iter().enumerate().map(|(i, (c, out))| {
            let lands = c.map_or_else(String::new, |c| format!("lands at {}, ", degrees(c)));
            let p = out.paler();
            format!(
                "Piece {}: {lands}{}, band {}",
                i + 2,
                called(p.browning, p.peak_c),
                length(out.thicker_band_mm(above))
            )
        });
        let bare = FinishForm {
            face: String::new(),
            pause: String::new(),
            pause_in: String::new(),
            times: String::new(),
            ..form.clone()
        };
        let query = encoded(form)?;
        Ok(Self {
            peak: degrees(done.peak_c),
            peak_note: format!(
                "highest, {}; on average {} at the table",
                after_heat(done.peak_after_s, done.only_cools()),
                degrees(done.mean_c)
            ),
            band: length(band_mm[0].max(band_mm[1])),
            band_note: format!("a face, ever above {}{edges}", degrees(above)),
            crust: called(paler.browning, hottest).into(),
            crust_note: format!(
                "{} dry, face at most {}{chars}; {:.0}\u{a0}% of its water lost",
                length(crust_mm),
                units.temperature(Celsius::new(hottest.round())),
                done.water_lost * 100.0
            ),
            heat_by,
            heat_note,
            cuts: vec![
                large(first, None, "before the sear", "cut-before")?,
                large(off, None, "off the heat", "cut-off")?,
                large(None, Some(band_mm), "at the table", "cut-table")?,
            ],
            last_frame: frames.len().saturating_sub(1),
            frames_json: serde_json::to_string(&frames).map_err(|e| PageError::Request(e.to_string()))?,
            thickness: length(asked.setup.thickness.mm()),
            side_by_side,
            proposals,
            too_much: words::too_much(&answer.too_much, units),
            bath: units.temperature(bath),
            bath_query,
            cautions: words::finish_cautions(hearth, asked.setup.hearth_c, asked.fat, units),
            after: after.collect(),
            guests: answer.guests.iter().map(|g| guest(g, above, units)).collect(),
            pace: query.clone(),
            anew: encoded(&bare)?,
            ways: query,
            band_above: degrees(above),
            within: piece.given.within_s.map(|s| words::minutes(from_seconds(s))),
        })
    }
}

/// When a profile on the way is, in words.
fn said_when(s: f64, done: &Seared, pattern: &Pattern) -> String {
    let on = s - (done.off_s - pattern.stove_s(false).min(done.off_s));
    if s > done.off_s {
        format!("{:.0} s off the heat", s - done.off_s)
    } else if on < 0.0 {
        format!("{:.0} s after the pull", s)
    } else {
        format!("{on:.0} s into the sear")
    }
}

/// A guest's piece in words.
fn guest(g: &ForGuest, above: f64, units: Units) -> GuestView {
    let paler = g.done.paler();
    GuestView {
        name: g.name.clone(),
        wanted: units.temperature(g.wanted),
        face: format!("{:.0} s", g.face_s),
        gives: format!(
            "middle {}, band {}, {}",
            units.temperature_fixed(Celsius::new(g.done.peak_c)),
            units.length(Length::from_mm(g.done.thicker_band_mm(above))),
            called(paler.browning, paler.peak_c)
        ),
    }
}

fn side(
    piece: &Piece,
    (asked, pattern): (&FinishAsked, &Pattern),
    form: &FinishForm,
    (face_s, out): (f64, &Seared),
    units: Units,
) -> Result<SideView, PageError> {
    let above = asked.band_above_c();
    let face = format!("{face_s:.0} s");
    let centre = units.temperature_fixed(Celsius::new(out.peak_c));
    let band = units.length(Length::from_mm(out.thicker_band_mm(above)));
    let paler = out.paler();
    let brown = called(paler.browning, paler.peak_c);
    Ok(SideView {
        cut: cut(&Cut {
            food: &piece.food,
            seared: out,
            frame: None,
            band_mm: None,
            px_mm: SMALL,
            width: 62.0,
            summary: &format!("{face} a face: middle {centre}, band {band}, {brown}"),
            id: &format!("cut-{face_s:.0}"),
        })?,
        doneness: piece.food.nearest_doneness(Celsius::new(out.peak_c)).name.clone(),
        query: encoded(&form.with(&Pattern { face_s, ..*pattern }))?,
        chosen: face_s.round() as i64 == pattern.face_s.round() as i64,
        face,
        centre,
        band,
        brown,
    })
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
        .filter(|w| !setup.hearth.both || !matches!(w, Way::PanTurnedOften | Way::PanTurnedOnce))
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

const fn from_seconds(s: f64) -> Minutes {
    Minutes::new(s / 60.0)
}
