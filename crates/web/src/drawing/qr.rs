//! A square code that a phone's camera reads.

use qrcode::render::svg;
use qrcode::{EcLevel, QrCode};

use crate::app::PageError;

/// A square code of an address, as SVG.
pub fn qr(text: &str) -> Result<String, PageError> {
    let code = QrCode::with_error_correction_level(text, EcLevel::M)
        .map_err(|e| PageError::Request(format!("the address cannot be drawn: {e}")))?;
    let svg = code.render::<svg::Color<'_>>().min_dimensions(180, 180).quiet_zone(true).build();
    // The drawing alone: the page is XML enough.
    Ok(svg.split_once("?>").map_or(svg.clone(), |(_, rest)| rest.to_owned()))
}
