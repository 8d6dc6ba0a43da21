//! A regulated mark against its rule, clause by clause.

use crate::art::drawn::Drawn;
use crate::art::lettering::Lettering;
use crate::art::regulation::Regulation;
use crate::art::typeface::Typeface;
use crate::ground::tape::Unit;
use crate::place::placed::Placed;
use crate::plan::regulated::boat_number::boat_number;
use crate::plan::regulated::carrier_mark::carrier_mark;
use crate::plan::regulated::vessel_name::vessel_name;
use crate::plan::regulated::{Elsewhere, Finding};
use crate::vehicle::measured::MeasuredSide;

/// Checks a regulated mark clause by clause. `face` is the typeface that it is cut in.
#[allow(clippy::too_many_arguments)]
pub fn check(
    regulation: Regulation,
    lettering: &Lettering,
    face: Option<&Typeface>,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    match regulation {
        Regulation::BoatNumber => {
            boat_number(lettering, face, drawn, placed, side, elsewhere, unit)
        }
        Regulation::VesselName => vessel_name(lettering, drawn, side, unit),
        Regulation::CarrierMark => carrier_mark(lettering, drawn, side, elsewhere, unit),
    }
}
