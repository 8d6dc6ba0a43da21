//! Pieces and sides for the checks of this folder. All made up.
#![allow(dead_code, clippy::unwrap_used, clippy::expect_used, missing_docs)]

use uuid::Uuid;
use windrift_core::feature::{Feature, LampColour, SideFeature};
use windrift_core::lettering::{Lettering, Size};
use windrift_core::placement::{Along, Angle, Down, LetterEnd, PlaceRule};
use windrift_core::plan::Piece;
use windrift_core::side::{BoxSide, VehicleSide};

pub const INCH: f64 = 25.4;

pub fn lettering(text: &str, typeface: &str, height_mm: f64) -> Lettering {
    Lettering {
        text: text.into(),
        typeface: typeface.into(),
        size: Size::CapitalHeight { height_mm },
        kerned: true,
        colour: "#14524d".into(),
    }
}

pub fn rule(distance_mm: f64, cap_line_mm: f64) -> PlaceRule {
    PlaceRule {
        along: Along::FromFront {
            distance_mm,
            to: LetterEnd::FirstLetter,
        },
        down: Down { cap_line_mm },
        angle: Angle::AlongDatum,
    }
}

pub fn piece(
    text: &str,
    typeface: &str,
    height_mm: f64,
    distance_mm: f64,
    cap_line_mm: f64,
) -> Piece {
    Piece {
        lettering: lettering(text, typeface, height_mm),
        place: rule(distance_mm, cap_line_mm),
    }
}

/// A 24 ft box with five rivet columns, five seams, a locker door, three lamps and a wheel arch.
pub fn body(side: VehicleSide) -> BoxSide {
    BoxSide {
        side,
        length_mm: 288.0 * INCH,
        height_mm: 86.0 * INCH,
        fall_mm: 0.0,
    }
}

pub fn features() -> Vec<SideFeature> {
    [
        Feature::PanelSeams {
            first_mm: 48.0 * INCH,
            pitch_mm: 48.0 * INCH,
            count: 5,
        },
        Feature::RivetColumns {
            first_mm: 46.75 * INCH,
            pitch_mm: 48.0 * INCH,
            count: 5,
            first_rivet_mm: 4.0 * INCH,
            rivet_pitch_mm: 6.0 * INCH,
            rivets: 13,
            head_mm: 0.5 * INCH,
        },
        Feature::LockerDoor {
            back_mm: 236.0 * INCH,
            drop_mm: 36.0 * INCH,
            width_mm: 34.0 * INCH,
            height_mm: 38.0 * INCH,
            clearance_mm: 12.7,
        },
        Feature::LampRow {
            first_mm: 6.0 * INCH,
            drop_mm: 82.0 * INCH,
            pitch_mm: 138.0 * INCH,
            count: 3,
            width_mm: 4.0 * INCH,
            height_mm: 2.0 * INCH,
            colour: LampColour::Amber,
            clearance_mm: 12.7,
        },
        Feature::WheelArch {
            centre_mm: 196.0 * INCH,
            width_mm: 38.0 * INCH,
            height_mm: 16.0 * INCH,
            clearance_mm: 12.7,
        },
    ]
    .into_iter()
    .enumerate()
    .map(|(n, feature)| SideFeature {
        id: Uuid::from_u128(n as u128 + 1),
        feature,
    })
    .collect()
}
