//! The pictures: the ribbon (one piece over clock time), the slice (through its thickness), the map (every
//! temperature and time), the scale (doneness) and the cross-section of a bath.
//! Both are drawn from the core's numbers, as SVG, once for a wide and once for a narrow screen, so
//! that their letters keep their size.

mod cut;
mod map;
mod qr;
mod ribbon;
mod scale;
mod section;
mod slice;

pub use cut::{Cut, colours, cut, measure};
pub use map::{Map, maps};
pub use qr::qr;
pub use ribbon::{Mark, Ribbon, ribbons};
pub use scale::{Scale, scales};
pub use section::{Section, section};
pub use slice::{Slice, line_points, slices};

/// Widths drawn for, in CSS pixels: a laptop's page and a phone's.
const WIDE: f64 = 1184.0;
const NARROW: f64 = 358.0;

/// A coordinate, short.
pub fn px(x: f64) -> String {
    let text = format!("{x:.1}");
    text.strip_suffix(".0").map_or(text.clone(), str::to_owned)
}
