//! A simulated piece, which answers for any instant.

use super::Piece;
use crate::bath::BathTrace;
use crate::figures::{Figure, Limits, limits};
use crate::heat::{HeatError, Snapshot, Solution, bisect};
use crate::safety::{
    Clocks, ClocksAt, Coldest, Facts, Fermenting, FoodState, Level, Progress, RULES, Reheating, Rule, Spells,
    Timeline, Turn, Verdict, judge, organisms,
};
use crate::units::{Celsius, Kelvin, Minutes};

/// Instants that are found once and then only compared with, minutes from the drop.
#[derive(Debug, Clone, Default)]
pub(super) struct Marks {
    kinetics: Option<Minutes>,
    code: Option<Minutes>,
    cooked: Option<Minutes>,
    fish: Option<Minutes>,
    bivalve: Option<Minutes>,
    shellfish: Option<Minutes>,
    egg: Option<Minutes>,
    /// The first layer leaves the cold.
    left_cold: Option<Minutes>,
    /// Every layer is back at reheating temperature, and the first falls below it again.
    back: Option<Minutes>,
    fell: Option<Minutes>,
    /// A ferment's core is warm enough.
    ferment_warm: Option<Minutes>,
}

impl Marks {
    pub(super) fn new(
        piece: &Piece<'_>,
        gate: &BathTrace,
        coldest: &Coldest<'_>,
        clocks: &Clocks,
        line: &Timeline,
    ) -> Self {
        use crate::food::FoodClass::{Bivalve, Crustacean, Ferment, Fish, ShellEgg};
        let (l, case, class) = (limits(), &piece.case, piece.case.class);
        let end = line.end_s();
        let reaches = |c: Celsius| coldest.first_until(0.0, end, |t| t >= c.value());
        // Looked for only where a row asks.
        let asked = |asked: bool, at_s: &dyn Fn() -> Option<f64>| {
            if asked { at_s().map(Minutes::from_seconds) } else { None }
        };
        let held = |c: &Figure, s: &Figure| coldest.held_from(c.value, s.value);
        // In a bath hot enough at that instant: the first at which both are true.
        const ROUNDING_K: f64 = 1e-6;
        let in_bath = |core: &Figure, bath: &Figure| {
            let mut from = 0.0;
            loop {
                let at = coldest.first_until(from, end, |t| t >= core.value)?;
                if gate.at(at) >= bath.value - ROUNDING_K {
                    return Some(at);
                }
                // Where the bath next comes up to it; a trace is straight between its points.
                let next = gate.with_passings(&[bath.value]);
                let next = next.points().iter().map(|p| p.min * 60.0).find(|s| *s > at)?;
                from = next + 1e-6;
            }
        };
        let chilled = case.state == FoodState::PasteurizedChilled;
        let back_c = case.reheat(l).celsius();
        let back_s = if chilled { reaches(back_c) } else { None };
        let (cooked_c, cooked_s) = case.cooked(l);
        let (core, bath) = case.shellfish(l);
        Self {
            kinetics: line.kinetics_reached_s().map(Minutes::from_seconds),
            code: line.code_reached_s().map(Minutes::from_seconds),
            cooked: asked(class.may_be_cooked_whole(), &|| held(cooked_c, cooked_s)),
            fish: asked(class == Fish, &|| held(&l.fish_core_c, &l.fish_core_s)),
            bivalve: asked(class == Bivalve, &|| held(&l.bivalve_c, &l.bivalve_s)),
            shellfish: asked(class == Crustacean, &|| in_bath(core, bath)),
            egg: asked(class == ShellEgg, &|| {
                let by_bath = in_bath(&l.egg_core_c, &l.egg_bath_c);
                let by_heat = held(&l.egg_held_c, &l.egg_held_s);
                [by_bath, by_heat].into_iter().flatten().min_by(f64::total_cmp)
            }),
            left_cold: asked(chilled, &|| clocks.raw.begins_s()),
            back: back_s.map(Minutes::from_seconds),
            fell: back_s
                .and_then(|s| coldest.first_until(s, end, |t| t < back_c.value() - 1e-6))
                .map(Minutes::from_seconds),
            ferment_warm: asked(class == Ferment, &|| reaches(l.ferment_low_c.celsius())),
        }
    }

    /// The last of them that came.
    fn last(&self) -> Minutes {
        let earned =
            [self.kinetics, self.code, self.cooked, self.fish, self.bivalve, self.shellfish, self.egg];
        let passed = [self.left_cold, self.back, self.fell, self.ferment_warm];
        earned.into_iter().chain(passed).flatten().fold(Minutes::ZERO, Minutes::max)
    }
}

/// A stretch over which the verdict is the same.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span {
    /// From this minute on.
    pub from_min: Minutes,
    /// How the piece may be served.
    pub level: Level,
    /// By which row.
    pub row: Rule,
}

/// A simulated piece.
#[derive(Debug, Clone)]
pub struct Run<'a> {
    piece: &'a Piece<'a>,
    /// Temperatures.
    pub solution: Solution,
    /// Kill and code.
    pub timeline: Timeline,
    /// Growth.
    pub clocks: Clocks,
    /// Where the cells of the profiles are, metres from the thermal centre.
    pub from_centre_m: Vec<f64>,
    /// What the gates were asked of.
    gate: BathTrace,
    /// When the kinetics were reached, s, and the raw clock's spells, of this run and of others of the same piece: which of
    /// them it is nobody knows, and what was killed first has been under the growth limit for longest.
    since_kill: Vec<(f64, Spells)>,
    marks: Marks,
    spans: Vec<Span>,
}

impl<'a> Run<'a> {
    pub(super) fn new(
        piece: &'a Piece<'a>,
        gate: BathTrace,
        solution: Solution,
        (timeline, clocks, marks): (Timeline, Clocks, Marks),
        from_centre_m: Vec<f64>,
    ) -> Self {
        let kill = timeline.kinetics_reached_s().map(|s| (s, clocks.raw.clone()));
        let since_kill = kill.into_iter().collect();
        let spans = Vec::new();
        let mut run =
            Self { piece, solution, timeline, clocks, from_centre_m, gate, since_kill, marks, spans };
        run.spans = run.find_spans();
        run
    }

    /// The same kill, with each growth clock at the worst of this run and others of the same piece: of the other ends of
    /// what is uncertain, and of what the water may have been while nobody saw it.
    #[must_use]
    pub(crate) fn with_clocks_of<'b>(mut self, others: impl IntoIterator<Item = &'b Run<'b>>) -> Self {
        let others: Vec<&Run<'_>> = others.into_iter().collect();
        let all: Vec<&Clocks> =
            std::iter::once(&self.clocks).chain(others.iter().map(|r| &r.clocks)).collect();
        self.clocks = Clocks::worst_of(&all);
        self.since_kill.extend(others.iter().flat_map(|r| r.since_kill.iter().cloned()));
        if self.marks.left_cold.is_some() || others.iter().any(|r| r.marks.left_cold.is_some()) {
            self.marks.left_cold = self.clocks.raw.begins_s().map(Minutes::from_seconds);
        }
        self.spans = self.find_spans();
        self
    }

    /// Minutes under the growth limit since the kill, at a minute: the most of all that it may be.
    fn since_kill_min(&self, min: Minutes) -> Minutes {
        let at_s = min.seconds();
        let of = |(kill, raw): &(f64, Spells)| {
            let floated = self.piece.around.afloat.filter(|(at, _)| *kill <= at.seconds() && *at <= min);
            Minutes::from_seconds(raw.between_s(*kill, at_s)) + floated.map_or(Minutes::ZERO, |f| f.1)
        };
        self.since_kill.iter().filter(|k| k.0 <= at_s).map(of).fold(Minutes::ZERO, Minutes::max)
    }

    /// The piece that was simulated.
    #[must_use]
    pub(crate) const fn piece(&self) -> &'a Piece<'a> {
        self.piece
    }

    /// A profile from a face to the middle, mm under the face and °C, by depth.
    #[must_use]
    pub(crate) fn by_depth(&self, profile: &Snapshot) -> Vec<(f64, f64)> {
        let radius = self.from_centre_m.last().copied().unwrap_or(0.0);
        let depths = self.from_centre_m.iter().map(|r| (radius - r) * 1000.0);
        let mut points: Vec<(f64, f64)> = depths.zip(profile.celsius.iter().copied()).collect();
        points.reverse();
        points
    }

    /// The last minute simulated.
    #[must_use]
    pub(crate) fn end_min(&self) -> Minutes {
        Minutes::from_seconds(self.timeline.end_s())
    }

    /// From when on the centre stays within 0.5 °C of the bath's own temperature, minutes.
    ///
    /// Source: `data/limits.json`, `through_within_k`: common practice.
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// // 68.7 min with the constants of the published table; a strip steak's own are a little slower.
    /// let through = piece.run(&[])?.heated_through_min().expect("it gets there");
    /// assert!((60.0..80.0).contains(&through.value()));
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn heated_through_min(&self) -> Option<Minutes> {
        self.within_min(limits().through_within_k.kelvin())
    }

    /// From when on the centre stays as near the bath as this food is pulled at, minutes.
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// let run = piece.run(&[])?;
    /// assert!(run.done_min() <= run.heated_through_min());
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn done_min(&self) -> Option<Minutes> {
        self.within_min(self.piece.food.within_k.kelvin())
    }

    /// From when on the centre stays within some kelvin of its water (of its mean, where it swings about its setting), and
    /// that water as read is no colder than `least`; to the end of the run.
    #[must_use]
    pub(crate) fn near_min(
        &self,
        (mean, as_read): (&BathTrace, &BathTrace),
        within: Kelvin,
        least: Celsius,
    ) -> Option<Minutes> {
        const ROUNDING_K: f64 = 1e-6;
        let off = self.piece.bath_off_k.value();
        self.stays_from(|core, t| {
            let warm = as_read.at(t) >= least.value() - ROUNDING_K;
            warm && (core - mean.at(t) - off).abs() <= within.value()
        })
    }

    /// From when on the centre stays within some kelvin of the water that heats it, to the end of the run. A
    /// bath that falls past it is not the same.
    fn within_min(&self, kelvin: Kelvin) -> Option<Minutes> {
        self.stays_from(|core, t| {
            (core - self.piece.bath.at(t) - self.piece.bath_off_k.value()).abs() <= kelvin.value()
        })
    }

    /// From when on something stays true of the centre, to the end of the run.
    fn stays_from(&self, holds: impl Fn(f64, f64) -> bool) -> Option<Minutes> {
        let core = &self.solution.core;
        let off = |t: f64| !holds(core.at(t), t);
        let end = self.timeline.end_s();
        if off(end) {
            return None;
        }
        // Between two looks the temperature is smooth; they are as close as the solver's steps.
        let times = core.times();
        let Some(last) = times.iter().rposition(|t| *t < end && off(*t)) else { return Some(Minutes::ZERO) };
        let next = times.get(last + 1).map_or(end, |t| t.min(end));
        Some(Minutes::from_seconds(bisect(times[last], next, |t| !off(t))))
    }

    /// The stretches over which the verdict is the same, from the drop to the end of the run.
    #[must_use]
    pub(crate) fn spans(&self) -> &[Span] {
        &self.spans
    }

    /// The stretch a minute lies in.
    #[must_use]
    pub(crate) fn span_at(&self, min: Minutes) -> Span {
        let i = self.spans.partition_point(|s| s.from_min <= min);
        self.spans[i.saturating_sub(1)]
    }

    /// The stretches, from a minute on, in which a pull is not refused: from when, until when.
    #[must_use]
    pub(crate) fn allowed(&self, from: Minutes) -> Vec<(Minutes, Minutes)> {
        let ends = self.spans.iter().skip(1).map(|s| s.from_min).chain([Minutes::NEVER]);
        let mut all: Vec<(Minutes, Minutes)> = Vec::new();
        for (span, end) in self.spans.iter().zip(ends).filter(|(s, e)| *e > from && s.level != Level::Refused)
        {
            match all.last_mut() {
                Some(last) if last.1 >= span.from_min => last.1 = end,
                _ => all.push((span.from_min.max(from), end)),
            }
        }
        // What is decided now is decided by now itself, not by a hair's breadth of it.
        let refused = Rule::decide(&self.facts(from), limits()).1.level == Level::Refused;
        if let Some(first) = all.first_mut().filter(|w| refused && w.0 <= from) {
            first.0 = from + Minutes::new(0.02);
        }
        all.retain(|w| w.1 > w.0);
        all
    }

    /// When something a row depends on happens, minutes.
    fn turn_min(&self, turn: Turn) -> Vec<Minutes> {
        let (l, m) = (limits(), &self.marks);
        match turn {
            Turn::Killed => vec![m.kinetics, m.code, self.targets_min()].into_iter().flatten().collect(),
            Turn::ClocksOut => self.clocks_out(l),
            Turn::BivalveHeld => m.bivalve.into_iter().collect(),
            Turn::Fermented => {
                let begun = m.ferment_warm.map(|b| b + l.ferment_from_min.minutes());
                let off = self.gate.with_passings(&[l.ferment_low_c.value, l.ferment_high_c.value]);
                let off = off.points().iter().map(|p| Minutes::new(p.min)).collect::<Vec<_>>();
                begun.into_iter().chain([l.ferment_until_min.minutes()]).chain(off).collect()
            }
            Turn::Reheating => {
                let (before, ..) = self.piece.before_min();
                let late = m
                    .left_cold
                    .map(|c| c + l.reheat_limit_min.minutes() - before - self.piece.around.after_min);
                [m.back, m.fell, late].into_iter().flatten().collect()
            }
            Turn::Cooked => m.cooked.into_iter().collect(),
            Turn::FishHeld => m.fish.into_iter().collect(),
            Turn::ShellfishDone => m.shellfish.into_iter().collect(),
            Turn::EggDone => m.egg.into_iter().collect(),
        }
    }

    /// When each growth clock passes each of its limits, minutes.
    fn clocks_out(&self, l: &Limits) -> Vec<Minutes> {
        let ((raw, _, warm), after) = (self.piece.before_min(), self.piece.around.after_min);
        let left = |limit: &Figure, before: Minutes| (limit.minutes() - before - after).seconds().max(0.0);
        let mut out = vec![
            self.clocks.raw.passes_s(0.0, left(self.piece.case.clock_limit(l), raw)),
            self.clocks.raw.passes_s(0.0, left(&l.clock_limit_min, raw)),
            self.clocks.warm.passes_s(0.0, left(&l.warm_limit_min, warm)),
        ];
        for (kill, raw) in &self.since_kill {
            let floated = self.piece.around.afloat.filter(|(at, _)| Minutes::from_seconds(*kill) <= *at);
            let afloat = floated.map_or(Minutes::ZERO, |f| f.1);
            for limit in [&l.after_kill_every_min, &l.after_kill_most_min] {
                out.push(raw.passes_s(*kill, left(limit, Minutes::ZERO)));
                out.push(raw.passes_s(*kill, left(limit, afloat)));
            }
            out.extend(floated.map(|f| Some(f.0.seconds())));
        }
        out.into_iter().flatten().map(Minutes::from_seconds).collect()
    }

    fn find_spans(&self) -> Vec<Span> {
        // Just after the turn, so that rounding cannot put it back.
        const AFTER_MIN: Minutes = Minutes::new(0.01);
        let end = self.end_min();
        let turns = RULES.iter().flat_map(|r| r.row().turns).flat_map(|t| self.turn_min(*t));
        let mut at: Vec<Minutes> =
            turns.map(|m| m + AFTER_MIN).filter(|m| *m > Minutes::ZERO && *m < end).collect();
        at.push(Minutes::ZERO);
        at.sort_by(Minutes::total_cmp);
        at.dedup();
        let mut spans: Vec<Span> = Vec::new();
        for from_min in at {
            let (row, decision) = Rule::decide(&self.facts(from_min), limits());
            let span = Span { from_min, level: decision.level, row };
            if spans.last().is_none_or(|s| (s.level, s.row) != (span.level, span.row)) {
                spans.push(span);
            }
        }
        spans
    }

    /// The first minute, from `from` on, at which the verdict's level is one of those wanted.
    #[must_use]
    pub(crate) fn first_min(&self, from: Minutes, wanted: impl Fn(Level) -> bool) -> Option<Minutes> {
        let ends = self.spans.iter().skip(1).map(|s| s.from_min).chain([Minutes::NEVER]);
        self.spans
            .iter()
            .zip(ends)
            .find(|(s, end)| *end > from && wanted(s.level))
            .map(|(s, _)| s.from_min.max(from))
    }

    /// From when on the verdict is for every guest, minutes: pasteurised, or reheated in time, or exempt.
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// let run = piece.run(&[])?;
    /// assert!(run.safe_from_min() >= run.pasteurised_from_min());
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn safe_from_min(&self) -> Option<Minutes> {
        self.first_min(Minutes::ZERO, |level| matches!(level, Level::Pasteurized | Level::Exempt))
    }

    /// From when on it is refused for good because it was too long where bacteria grow, minutes; `None` when
    /// that never comes. It is the latest pull of what is not pasteurised.
    #[must_use]
    pub(crate) fn clock_runs_out_min(&self) -> Option<Minutes> {
        let last_served = self.spans.iter().rposition(|s| s.level != Level::Refused);
        let after = last_served.map_or(0, |i| i + 1);
        self.spans[after..].iter().find(|s| s.row == Rule::Growth).map(|s| s.from_min)
    }

    /// From when on it is refused for good, for whatever reason, minutes; `None` when it may be served at the
    /// end of the run.
    #[must_use]
    pub(crate) fn refused_from_min(&self) -> Option<Minutes> {
        match self.spans.iter().rposition(|s| s.level != Level::Refused) {
            None => Some(Minutes::ZERO),
            Some(i) => self.spans.get(i + 1).map(|s| s.from_min),
        }
    }

    /// How far the kill (and the code's table) has come by a minute: the share of the slowest target,
    /// from 0 to 1.
    #[must_use]
    pub(crate) fn kill_share(&self, min: Minutes) -> f64 {
        let progress = self.progress(min);
        let organisms = organisms(&self.piece.food.kill);
        let shares =
            organisms.iter().zip(&progress.log10).map(|(o, log)| log / o.target(self.piece.case.at_risk));
        shares.chain(progress.code).fold(1.0, f64::min)
    }

    /// When the last of what a row asks for came, minutes.
    #[must_use]
    pub(super) fn last_mark_min(&self) -> Minutes {
        self.marks.last()
    }

    /// When every organism's target is reached, minutes.
    #[must_use]
    pub(crate) const fn kinetics_min(&self) -> Option<Minutes> {
        self.marks.kinetics
    }

    /// When the code's table is met, minutes.
    #[must_use]
    pub(crate) const fn code_min(&self) -> Option<Minutes> {
        self.marks.code
    }

    /// When kinetics and table are both reached.
    fn targets_min(&self) -> Option<Minutes> {
        let kinetics = self.marks.kinetics?;
        if self.has_table() { Some(kinetics.max(self.marks.code?)) } else { Some(kinetics) }
    }

    /// From when on it counts as pasteurised in this bath, minutes: kinetics and table reached, warmed in
    /// time.
    ///
    /// Source: `data/organisms.json`, each with where it is from.
    ///
    /// ```
    /// # use hold_steady_core::{bath::BathTrace, food::catalogue, heat::Shape, piece::*, units::*};
    /// # let strip = catalogue().food("beef-strip").expect("in the catalogue");
    /// # let slab = |mm| Shape::Slab(Length::from_mm(mm));
    /// # let piece = Piece::new(strip, slab(25.0), Celsius::new(5.0), BathTrace::constant(55.0));
    /// let at = piece.run(&[])?.pasteurised_from_min().expect("the bath is hot enough");
    /// assert!((150.0..165.0).contains(&at.value()), "{at:?}");
    /// let cold = Piece { bath: BathTrace::constant(54.0), ..piece };
    /// assert_eq!(cold.run(&[])?.pasteurised_from_min(), None);
    /// # Ok::<(), hold_steady_core::heat::HeatError>(())
    /// ```
    #[must_use]
    pub fn pasteurised_from_min(&self) -> Option<Minutes> {
        let at = self.targets_min()?;
        self.facts(at).was_pasteurised(limits()).then_some(at)
    }

    /// Temperature of the centre at a minute, °C.
    #[must_use]
    pub(crate) fn core_c(&self, min: Minutes) -> Celsius {
        Celsius::new(self.solution.core.at(min.seconds()))
    }

    /// What has accumulated by a minute.
    #[must_use]
    pub(crate) fn progress(&self, min: Minutes) -> Progress {
        self.timeline.at(min.seconds())
    }

    /// Whether the kitchen's code has a time table for this food.
    #[must_use]
    pub(crate) fn has_table(&self) -> bool {
        self.piece.profile.has_table(self.piece.food)
    }

    fn clocks_at(&self, at_s: f64) -> ClocksAt {
        let (raw, come_up, warm) = self.piece.before_min();
        ClocksAt {
            raw_min: raw + Minutes::from_seconds(self.clocks.raw.between_s(0.0, at_s)),
            come_up_min: come_up + Minutes::from_seconds(self.clocks.come_up.between_s(0.0, at_s)),
            warm_min: warm + Minutes::from_seconds(self.clocks.warm.between_s(0.0, at_s)),
        }
    }

    /// What the verdict table decides by, for a pull at a minute, eaten as long after it as the piece says.
    #[must_use]
    pub(crate) fn facts(&self, min: Minutes) -> Facts {
        self.facts_at_pull(min).eaten_after(self.piece.around.after_min)
    }

    /// How the verdict goes on after a pull at a minute: the stretches by minutes from the pull, while it is
    /// neither eaten, held hot nor chilled.
    #[must_use]
    pub(crate) fn spans_after(&self, pull_min: Minutes) -> Vec<Span> {
        const AFTER_MIN: Minutes = Minutes::new(0.001);
        let facts = self.facts_at_pull(pull_min);
        let mut at = facts.minutes_left(limits());
        at.iter_mut().for_each(|m| *m += AFTER_MIN);
        at.push(Minutes::ZERO);
        at.sort_by(Minutes::total_cmp);
        let mut spans: Vec<Span> = Vec::new();
        for from_min in at {
            let (row, decision) = Rule::decide(&facts.eaten_after(from_min), limits());
            if spans.last().is_none_or(|s| s.level != decision.level) {
                spans.push(Span { from_min, level: decision.level, row });
            }
        }
        spans
    }

    /// The same for a piece eaten at the pull itself.
    #[must_use]
    pub(crate) fn facts_at_pull(&self, min: Minutes) -> Facts {
        let (piece, m, at_s) = (self.piece, &self.marks, min.seconds());
        let (raw, ..) = piece.before_min();
        let clocks = self.clocks_at(at_s);
        let by = |mark: Option<Minutes>| mark.is_some_and(|t| t <= min);
        let left_cold = m.left_cold.filter(|t| *t <= min);
        Facts {
            case: piece.case,
            set_c: Celsius::new(self.gate.at(at_s)),
            bath_min: min,
            after_min: Minutes::ZERO,
            kinetics_reached: by(m.kinetics),
            code_reached: self.has_table().then(|| by(m.code)),
            at_kill: self.targets_min().filter(|m| *m <= min).map(|m| self.clocks_at(m.seconds())),
            come_up_min: clocks.come_up_min,
            raw_min: clocks.raw_min,
            warm_min: clocks.warm_min,
            after_kill_min: self.since_kill_min(min),
            reheating: (piece.case.state == FoodState::PasteurizedChilled).then(|| Reheating {
                since_min: left_cold.map_or(Minutes::ZERO, |t| min - t) + raw,
                back_min: m.back.filter(|t| *t <= min).map(|t| raw + t - left_cold.unwrap_or(Minutes::ZERO)),
                kept: !by(m.fell),
            }),
            fermenting: (piece.case.class == crate::food::FoodClass::Ferment).then(|| {
                let (bath_low_c, bath_high_c) = self.gate.range(min.value());
                Fermenting {
                    bath_low_c: Celsius::new(bath_low_c),
                    bath_high_c: Celsius::new(bath_high_c),
                    warm_min: m.ferment_warm.map_or(Minutes::ZERO, |t| (min - t).max(Minutes::ZERO)),
                }
            }),
            cooked: by(m.cooked),
            bivalve_held: by(m.bivalve),
            fish_held: by(m.fish),
            shellfish_done: by(m.shellfish),
            egg_done: by(m.egg),
        }
    }

    /// The verdict for a pull at a minute, without the way out: cheap, for every point of a ribbon.
    #[must_use]
    pub(crate) fn quick_verdict_at(&self, min: Minutes) -> Verdict {
        judge(&self.facts(min), limits())
    }

    /// The verdict for a pull at a minute, with the way out computed by further simulations.
    ///
    /// # Errors
    /// When one of those fails.
    pub(crate) fn verdict_at(&self, min: Minutes) -> Result<Verdict, HeatError> {
        self.verdict_with(min, self.piece)
    }

    /// The same, with hotter baths and thinner pieces tried on another piece: one at the slow ends of its
    /// spreads, so that what is offered is sound when it is planned.
    ///
    /// # Errors
    /// When one of those simulations fails.
    pub(crate) fn verdict_with(&self, min: Minutes, tried: &Piece<'_>) -> Result<Verdict, HeatError> {
        let mut verdict = self.quick_verdict_at(min);
        verdict.way_out = super::inverse::find(tried, self, &verdict, min)?;
        Ok(verdict)
    }
}
