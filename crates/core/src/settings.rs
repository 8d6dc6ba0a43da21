//! What a shop settles once: margins, tape and words. Defaults are common practice, no source.

use serde::{Deserialize, Serialize};

use crate::side::SideWords;

/// A shop's own ways of working. Lengths in mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorkSettings {
    /// What the two sides of a vehicle are called here.
    pub side_words: SideWords,
    /// Transfer tape beyond the film on every side.
    pub carrier_margin_mm: f64,
    /// Width of the masking tape for hinges.
    pub tape_width_mm: f64,
    /// Longest piece of tape that one person lays straight.
    pub tape_piece_mm: f64,
    /// Length of a corner tab.
    pub tab_length_mm: f64,
    /// Clear carrier wanted on each side of a parting cut.
    pub cut_clearance_mm: f64,
}

impl Default for WorkSettings {
    fn default() -> Self {
        WorkSettings {
            side_words: SideWords::StreetCurbKeepRight,
            carrier_margin_mm: 25.4,
            tape_width_mm: 50.8,
            tape_piece_mm: 914.4,
            tab_length_mm: 101.6,
            cut_clearance_mm: 2.0,
        }
    }
}
