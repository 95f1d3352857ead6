//! The two pictures: the ribbon (one piece over clock time) and the slice (through its thickness).
//! Both are drawn from the core's numbers, as SVG, once for a wide and once for a narrow screen, so
//! that their letters keep their size.

mod ribbon;
mod slice;

pub use ribbon::{Mark, Ribbon, ribbons};
pub use slice::{Slice, line_points, slices};

/// Widths drawn for, in CSS pixels: a laptop's page and a phone's.
const WIDE: f64 = 1184.0;
const NARROW: f64 = 358.0;

/// A coordinate, short.
fn px(x: f64) -> String {
    let text = format!("{x:.1}");
    text.strip_suffix(".0").map_or(text.clone(), str::to_owned)
}
