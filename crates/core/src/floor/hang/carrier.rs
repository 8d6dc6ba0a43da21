//! The carrier that a piece hangs by: its film and a margin round it.

use kurbo::Rect;

use crate::art::drawn::Drawn;
use crate::ground::settings::WorkSettings;

/// The carrier in the piece's frame: film and margin.
pub fn carrier(drawn: &Drawn, settings: &WorkSettings) -> Rect {
    drawn.bounds.inflate(
        settings.carrier_margin_mm.mm(),
        settings.carrier_margin_mm.mm(),
    )
}
