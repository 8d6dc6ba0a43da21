//! A regulated mark laid out as its rule asks, to begin with.

use kurbo::{Rect, Size};

use crate::art::Art;
use crate::art::legibility::MUTCD_RATIO;
use crate::art::lettering::Lettering;
use crate::art::regulation::Regulation;
use crate::art::typeface::{Typeface, Typefaces};
use crate::ground::colour::luminance;
use crate::ground::outline::bounds_of_shapes;
use crate::ground::tape::Unit;
use crate::place::rules::DownTo;
use crate::plan::first::{Place, place_of, usual_place};
use crate::plan::piece::{Piece, draw};
use crate::plan::regulated::{BOAT_NUMBER_MM, CARRIER_DISTANCE_MM, VESSEL_NAME_MM};
use crate::vehicle::measured::MeasuredSide;

/// Lays a regulated mark out for a side: its words, its size and its place, beside the film that is there (`taken`, boxes in the picture
/// frame).
pub fn lay_out(
    regulation: Regulation,
    words: &str,
    side: &MeasuredSide,
    taken: &[Rect],
    unit: Unit,
) -> Piece {
    let text = match regulation {
        Regulation::BoatNumber => words.to_uppercase().replace('-', " "),
        Regulation::VesselName | Regulation::CarrierMark => words.to_owned(),
    };
    let (face, least) = match regulation {
        Regulation::BoatNumber => ("archivo-black", BOAT_NUMBER_MM),
        Regulation::VesselName => ("archivo-black", VESSEL_NAME_MM),
        Regulation::CarrierMark => ("barlow-condensed", CARRIER_DISTANCE_MM / MUTCD_RATIO),
    };
    // Up to the next eighth of an inch over what is asked, the shortest letter counted.
    let eighth = 25.4 / 8.0;
    let shortest = Typefaces::default()
        .find(face)
        .map_or(1.0, |f| shortest_share(f, &text));
    let height = (least / shortest / eighth).ceil() * eighth;
    let lettering = Lettering {
        colour: match side.side.colour.as_deref().and_then(luminance) {
            Some(body) if body < 0.18 => "#f4f1e6".to_owned(),
            _ => "#1a1a1a".to_owned(),
        },
        regulated: Some(regulation),
        ..Lettering::line(&text, face, height)
    };
    let share = match regulation {
        Regulation::BoatNumber => 0.08,
        Regulation::VesselName | Regulation::CarrierMark => 0.1,
    };
    let usual = Place {
        back_mm: side.datum.length_mm * share,
        down_mm: (side.outline.bounds.height() * 0.3).max(25.4),
        ..usual_place(side)
    };
    let at = |place: Place| {
        let art = Art::Lettering(lettering.clone());
        Piece::new(art, place.rule(DownTo::CapLine))
    };
    let drawn = draw(&at(usual), side, &Typefaces::default());
    let size = drawn.map_or(Size::new(height, height), |d| d.nominal.size());
    at(place_of(side, taken, size, usual).rounded(unit))
}

/// Height of the shortest letter or digit over that of a capital H.
fn shortest_share(face: &Typeface, text: &str) -> f64 {
    text.chars()
        .filter(|c| c.is_alphanumeric())
        .filter_map(|c| face.glyph_of(c))
        .map(|g| bounds_of_shapes(&face.drawing(g).shapes).height() / face.capital_height)
        .fold(1.0, f64::min)
}
