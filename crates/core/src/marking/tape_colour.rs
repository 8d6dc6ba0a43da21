//! Colours of tape and of reflectors, and lengths of them.

use serde::{Deserialize, Serialize};

use crate::ground::mm::Mm;

/// Colour of tape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TapeColour {
    /// Red.
    Red,
    /// White.
    White,
    /// Yellow.
    Yellow,
}

impl TapeColour {
    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            TapeColour::Red => "red",
            TapeColour::White => "white",
            TapeColour::Yellow => "yellow",
        }
    }
}

/// A length of one colour.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColourRun {
    /// The colour.
    pub colour: TapeColour,
    /// Length, mm.
    pub length_mm: Mm,
}
