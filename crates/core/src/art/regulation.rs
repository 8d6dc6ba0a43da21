//! Marks that a public rule describes, as words of the lettering that is one.

use serde::{Deserialize, Serialize};

use crate::art::typeface::Typeface;
use crate::ground::outline::bounds_of_shapes;

/// Which rule a piece of lettering is to keep.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Regulation {
    /// A small craft's number (33 CFR 173.27).
    BoatNumber,
    /// A documented pleasure vessel's name and hailing port (46 CFR 67.123).
    VesselName,
    /// A carrier's name and number (49 CFR 390.21).
    CarrierMark,
}

impl Regulation {
    /// Film gap between groups, in font units, where the rule asks for one: as wide as the widest letter or digit of the number
    /// other than I and 1 (33 CFR 173.27(a)(4)).
    pub fn word_gap(&self, face: &Typeface, text: &str) -> Option<f64> {
        match self {
            Regulation::BoatNumber => letter_widths(face, text).into_iter().reduce(f64::max),
            Regulation::VesselName | Regulation::CarrierMark => None,
        }
    }

    /// What the mark is called.
    pub fn name(self) -> &'static str {
        match self {
            Regulation::BoatNumber => "small-craft number",
            Regulation::VesselName => "vessel name and hailing port",
            Regulation::CarrierMark => "carrier name and number",
        }
    }
}

/// Film widths of the letters and digits other than I and 1, font units.
pub(crate) fn letter_widths(face: &Typeface, text: &str) -> Vec<f64> {
    text.chars()
        .filter(|c| c.is_alphanumeric() && !matches!(c, 'I' | '1'))
        .filter_map(|c| face.glyph_of(c))
        .map(|g| bounds_of_shapes(&face.drawing(g).shapes).width())
        .filter(|w| *w > 0.0)
        .collect()
}
