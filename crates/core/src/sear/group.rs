//! Several pieces from one bath: thin or thick, more or less sear, and who gets which.

use super::best::{COARSE, band_above_c};
use super::pattern::Pattern;
use super::setup::Setup;
use super::{Seared, Start};
use crate::heat::HeatError;
use crate::units::{Celsius, Length};

/// Pieces of one thickness, seared for longer and longer.
#[derive(Debug, Clone, PartialEq)]
pub struct OneSize {
    /// Face to face.
    pub thickness: Length,
    /// Seconds a face, and what comes of it; the shortest first.
    pub by_face: Vec<(f64, Seared)>,
}

/// A guest's piece: from the same bath, seared for as long as brings it to what the guest wants.
#[derive(Debug, Clone, PartialEq)]
pub struct ForGuest {
    /// Who.
    pub name: String,
    /// What the middle is wanted at.
    pub wanted: Celsius,
    /// Which piece.
    pub thickness: Length,
    /// Seconds a face.
    pub face_s: f64,
    /// What comes of it.
    pub done: Seared,
}

/// Seconds a face that are shown side by side.
pub(super) const SIDE_BY_SIDE_S: [f64; 5] = [15.0, 30.0, 45.0, 60.0, 90.0];

/// Those beside a finish of so many seconds a face: what crisps for minutes is compared by minutes.
pub(super) fn side_by_side_s(face_s: f64) -> [f64; 5] {
    const TEN_S: f64 = 10.0;
    if face_s <= 1.5 * SIDE_BY_SIDE_S[4] {
        return SIDE_BY_SIDE_S;
    }
    [0.5, 0.75, 1.0, 1.25, 1.5].map(|share| (share * face_s / TEN_S).round() * TEN_S)
}

/// Seconds a face between which those for a guest are looked for: those, and some beyond.
pub(super) const FACES_S: [f64; 8] = [10.0, 15.0, 30.0, 45.0, 60.0, 90.0, 150.0, 240.0];

impl OneSize {
    /// Pieces of one size through the same pattern, for longer and longer. What is not as thick as the piece that was
    /// simulated in the bath is taken as heated through.
    pub(super) fn of(
        (setup, pattern, bath): (&Setup, &Pattern, Celsius),
        thickness: Length,
        faces_s: &[f64],
    ) -> Result<Self, HeatError> {
        let own = thickness == setup.thickness;
        let setup = sized(setup, thickness, bath);
        // The others are only compared.
        let setup = if own { setup } else { Setup { grid: COARSE, ..setup } };
        let each = |face_s: &f64| Ok((*face_s, setup.finish(&Pattern { face_s: *face_s, ..*pattern })?));
        let by_face = faces_s.iter().map(each).collect::<Result<_, HeatError>>()?;
        Ok(Self { thickness, by_face })
    }

    /// Between what was simulated, where something of it passes a value for the first time: how far along, after which.
    fn passes(&self, of: impl Fn(&Seared) -> f64, value: f64) -> Option<(usize, f64)> {
        let at = |i: usize| of(&self.by_face[i].1);
        let i = (0..self.by_face.len() - 1).find(|i| (at(*i)..=at(i + 1)).contains(&value))?;
        Some((i, ((value - at(i)) / (at(i + 1) - at(i)).max(1e-9)).clamp(0.0, 1.0)))
    }

    /// The seconds a face that suit a guest best, and what is amiss then; between what was simulated.
    fn best(&self, for_guest: &Suits) -> (f64, f64) {
        // Exactly as done as wanted, exactly as brown, or one of those that were simulated.
        let exact = self.passes(|d| d.peak_c, for_guest.wanted_c);
        let brown = self.passes(|d| d.paler().browning, for_guest.browning);
        let each = (0..self.by_face.len()).map(|i| (i, 0.0));
        let all = each.chain(exact).chain(brown).map(|(i, along)| {
            let between = |of: &dyn Fn(&Seared) -> f64| {
                let (a, b) =
                    (&self.by_face[i].1, self.by_face.get(i + 1).map_or(&self.by_face[i].1, |b| &b.1));
                of(a) + along * (of(b) - of(a))
            };
            let next_s = self.by_face.get(i + 1).map_or(self.by_face[i].0, |b| b.0);
            let face_s = (self.by_face[i].0 + along * (next_s - self.by_face[i].0)).round();
            let peak_c = between(&|d| d.peak_c);
            let browning = between(&|d| d.paler().browning);
            (face_s, for_guest.amiss(peak_c, browning, between(&|d| d.thicker_band_mm(for_guest.above_c))))
        });
        all.min_by(|a, b| a.1.total_cmp(&b.1)).expect("some were simulated")
    }
}

/// What a guest wants of a piece.
struct Suits {
    /// The middle.
    wanted_c: f64,
    /// What is ever hotter counts as the band.
    above_c: f64,
    /// Browning index, at least.
    browning: f64,
}

impl Suits {
    /// What is amiss, in millimetres of band: a kelvin off the middle weighs as ten, no crust at all as sixty.
    fn amiss(&self, peak_c: f64, browning: f64, band_mm: f64) -> f64 {
        const FOR_KELVIN: f64 = 10.0;
        const FOR_NO_CRUST: f64 = 60.0;
        let pale = (1.0 - browning / self.browning.max(1e-9)).max(0.0);
        FOR_KELVIN * (peak_c - self.wanted_c).abs() + FOR_NO_CRUST * pale + band_mm
    }
}

/// The setup with a piece of another thickness.
fn sized(setup: &Setup, thickness: Length, bath: Celsius) -> Setup {
    if thickness == setup.thickness {
        return setup.clone();
    }
    Setup { thickness, start: Start::Uniform(bath), ..setup.clone() }
}

/// Which piece each guest is given, of `pieces` by size, so that the middles are nearest to what is wanted and, as near,
/// the bands are thinnest. Where there are fewer pieces than guests each gets the size that suits best.
///
/// ```
/// use hold_steady_core::sear::assigned;
/// // Two guests, two pieces: what the second gets cheaply the first needs more.
/// assert_eq!(assigned(&[vec![1.0, 5.0], vec![0.0, 1.0]]), [0, 1]);
/// assert_eq!(assigned(&[vec![3.0, 1.0], vec![3.0, 2.0], vec![0.0, 4.0]]), [1, 1, 0], "too few pieces");
/// ```
#[must_use]
pub fn assigned(costs: &[Vec<f64>]) -> Vec<usize> {
    let pieces = costs.first().map_or(0, Vec::len);
    if pieces < costs.len() || pieces > MOST_PIECES {
        let cheapest = |row: &Vec<f64>| (0..row.len()).min_by(|a, b| row[*a].total_cmp(&row[*b]));
        return costs.iter().map(|row| cheapest(row).unwrap_or(0)).collect();
    }
    // Over the sets of pieces given away: least cost, and the piece given last.
    let mut best: Vec<Option<(f64, usize)>> = vec![None; 1 << pieces];
    best[0] = Some((0.0, 0));
    for set in 0..best.len() {
        let Some((so_far, _)) = best[set] else { continue };
        let guest = set.count_ones() as usize;
        let Some(row) = costs.get(guest) else { continue };
        for (piece, cost) in row.iter().enumerate().filter(|(p, _)| set & (1 << p) == 0) {
            let with = set | (1 << piece);
            if best[with].is_none_or(|b| so_far + cost < b.0) {
                best[with] = Some((so_far + cost, piece));
            }
        }
    }
    let full = (0..best.len()).filter(|s| s.count_ones() as usize == costs.len());
    let cost = |s: &usize| best[*s].map_or(f64::INFINITY, |b| b.0);
    let mut set = full.min_by(|a, b| cost(a).total_cmp(&cost(b))).unwrap_or(0);
    let mut given = Vec::with_capacity(costs.len());
    while let Some((_, piece)) = best[set].filter(|_| set != 0) {
        given.push(piece);
        set &= !(1 << piece);
    }
    given.reverse();
    given
}

/// More pieces than these are not told apart: two to the power of it are looked through.
const MOST_PIECES: usize = 16;

/// What each guest gets, of so many pieces of each size.
pub(super) fn for_guests(
    guests: &[(String, Celsius)],
    (setup, pattern, bath): (&Setup, &Pattern, Celsius),
    sizes: &[(OneSize, usize)],
    browning: f64,
) -> Result<Vec<ForGuest>, HeatError> {
    // More alike than there are guests tell nothing apart.
    let pieces: Vec<&OneSize> =
        sizes.iter().flat_map(|(size, n)| std::iter::repeat_n(size, (*n).min(guests.len()))).collect();
    // Fewer than guests: each size is there as often as it is wanted.
    let pieces = if pieces.len() < guests.len() { sizes.iter().map(|s| &s.0).collect() } else { pieces };
    let suits = |wanted: Celsius| {
        let wanted_c = wanted.value();
        Suits { wanted_c, above_c: band_above_c(wanted_c), browning }
    };
    let costs: Vec<Vec<f64>> =
        guests.iter().map(|(_, c)| pieces.iter().map(|size| size.best(&suits(*c)).1).collect()).collect();
    let each = guests.iter().zip(assigned(&costs)).map(|((name, wanted), piece)| {
        let size = pieces[piece];
        let (face_s, done) = near(&sized(setup, size.thickness, bath), pattern, size, &suits(*wanted))?;
        Ok(ForGuest { name: name.clone(), wanted: *wanted, thickness: size.thickness, face_s, done })
    });
    each.collect()
}

/// The seconds a face that suit a guest best, simulated. Where the middle could be just right and is not quite, they are
/// put right once.
fn near(setup: &Setup, pattern: &Pattern, size: &OneSize, suits: &Suits) -> Result<(f64, Seared), HeatError> {
    const NEAR_K: std::ops::Range<f64> = 0.2..2.0;
    let at = |face_s: f64| setup.finish(&Pattern { face_s, ..*pattern });
    let amiss = |d: &Seared| suits.amiss(d.peak_c, d.paler().browning, d.thicker_band_mm(suits.above_c));
    let (first_s, _) = size.best(suits);
    let first = at(first_s)?;
    let missed = first.peak_c - suits.wanted_c;
    if !NEAR_K.contains(&missed.abs()) {
        return Ok((first_s, first));
    }
    // Towards what was simulated on the other side of it.
    let other = |(s, d): &&(f64, Seared)| *s != first_s && (d.peak_c - suits.wanted_c) * missed < 0.0;
    let found = if missed > 0.0 { size.by_face.iter().rfind(other) } else { size.by_face.iter().find(other) };
    let Some((s, done)) = found else { return Ok((first_s, first)) };
    let second_s = (first_s + (s - first_s) * missed / (first.peak_c - done.peak_c)).round();
    let second = at(second_s)?;
    Ok(if amiss(&second) < amiss(&first) { (second_s, second) } else { (first_s, first) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// The least that any way of giving them costs.
    fn least(costs: &[Vec<f64>], taken: &mut Vec<usize>) -> f64 {
        let Some(row) = costs.get(taken.len()) else { return 0.0 };
        let mut best = f64::INFINITY;
        for (piece, cost) in row.iter().enumerate() {
            if !taken.contains(&piece) {
                taken.push(piece);
                best = best.min(cost + least(costs, taken));
                taken.pop();
            }
        }
        best
    }

    proptest! {
        #[test]
        fn nobody_can_be_given_a_better_set_of_pieces(
            costs in (1..5_usize).prop_flat_map(|guests| {
                (guests..6).prop_flat_map(move |pieces| {
                    prop::collection::vec(prop::collection::vec(0.0..20.0_f64, pieces), guests)
                })
            })
        ) {
            let given = assigned(&costs);
            let mut once = given.clone();
            once.sort_unstable();
            once.dedup();
            prop_assert_eq!(once.len(), costs.len(), "each piece is given once");
            let cost: f64 = given.iter().enumerate().map(|(guest, piece)| costs[guest][*piece]).sum();
            prop_assert!((cost - least(&costs, &mut Vec::new())).abs() < 1e-9);
        }
    }
}
