//! What a food looks like inside, by the highest temperature it has seen.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::Deserialize;

/// Colours over temperature.
type Scale = Vec<(f64, String)>;

/// A core of another kind: a yolk in its white.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
struct Inner {
    /// Share of the radius it takes.
    share: f64,
    scale: Scale,
}

/// Colours by eye (common practice): what does not come back on cooling.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Flesh {
    /// What it describes.
    pub what: String,
    scale: Scale,
    #[serde(default)]
    inner: Option<Inner>,
}

impl Flesh {
    /// The colour, as `#rrggbb`, where it has been at `highest_c`, at `depth` from the surface (0) to the
    /// centre (1).
    ///
    /// ```
    /// let red = &hold_steady_core::food::flesh()["red-meat"];
    /// assert_ne!(red.colour(50.0, 0.5), red.colour(60.0, 0.5));
    /// ```
    #[must_use]
    pub fn colour(&self, highest_c: f64, depth: f64) -> String {
        let inner = self.inner.as_ref().filter(|i| 1.0 - depth < i.share);
        let scale = inner.map_or(&self.scale, |i| &i.scale);
        let i = scale.partition_point(|c| c.0 <= highest_c).clamp(1, scale.len() - 1);
        let ((t0, a), (t1, b)) = (&scale[i - 1], &scale[i]);
        let x = ((highest_c - t0) / (t1 - t0)).clamp(0.0, 1.0);
        let mix = |k: usize| {
            let (a, b) = (channel(a, k), channel(b, k));
            (a + (b - a) * x).round() as u8
        };
        format!("#{:02x}{:02x}{:02x}", mix(0), mix(1), mix(2))
    }
}

fn channel(colour: &str, k: usize) -> f64 {
    let pair = colour.get(2 * k..2 * k + 2).and_then(|p| u8::from_str_radix(p, 16).ok());
    f64::from(pair.expect("the colours are checked"))
}

static FLESH: LazyLock<BTreeMap<String, Flesh>> = LazyLock::new(|| {
    let all: BTreeMap<String, Flesh> =
        serde_json::from_str(include_str!("../../data/flesh.json")).expect("shipped and tested");
    for (id, f) in &all {
        let scales = [Some(&f.scale), f.inner.as_ref().map(|i| &i.scale)];
        for scale in scales.into_iter().flatten() {
            assert!(scale.len() >= 2 && scale.windows(2).all(|w| w[0].0 < w[1].0), "{id}");
            assert!(scale.iter().all(|c| c.1.len() == 6 && u32::from_str_radix(&c.1, 16).is_ok()), "{id}");
        }
    }
    all
});

/// The kinds of flesh by key.
///
/// ```
/// assert!(hold_steady_core::food::flesh().contains_key("red-meat"));
/// ```
#[must_use]
pub fn flesh() -> &'static BTreeMap<String, Flesh> {
    &FLESH
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn colours_run_between_the_rows_and_stop_at_the_ends() {
        let red = &flesh()["red-meat"];
        assert_eq!(red.colour(5.0, 0.0), "#802034");
        assert_eq!(red.colour(-90.0, 0.0), red.colour(-20.0, 0.0));
        assert_eq!(red.colour(300.0, 1.0), "#927462");
        assert_eq!(red.colour(57.5, 0.2), "#cc625e", "halfway between 55 and 60");
    }

    #[test]
    fn an_egg_has_a_yolk_inside_its_white() {
        let egg = &flesh()["egg"];
        assert_ne!(egg.colour(60.0, 0.1), egg.colour(60.0, 0.9));
        assert_eq!(egg.colour(60.0, 0.1), egg.colour(60.0, 0.3));
    }
}
