//! The case that the search for a better spot is measured on.

use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::Lettering;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

/// A 53 ft side with so many features under and near the lettering: one in forty a piece of hardware, one in forty a seam, the rest
/// rivet heads.
pub fn side(features: u32) -> MeasuredSide {
    let body = Body::Box {
        length_mm: 16_154.4.into(),
        height_mm: 2743.2.into(),
        fall_mm: 19.05.into(),
    };
    let few = (features / 40).max(1);
    let heads = features - 2 * few;
    let columns = heads / 6;
    let rows = Form::Heads {
        first_mm: 450.0.into(),
        pitch_mm: (4400.0 / f64::from(columns)).into(),
        columns,
        first_head_mm: 470.0.into(),
        head_pitch_mm: 80.0.into(),
        heads: 6,
        head_mm: 12.0.into(),
    };
    let seams = Form::Upright {
        first_mm: 560.0.into(),
        pitch_mm: (4200.0 / f64::from(few)).into(),
        count: few,
    };
    let handles = Form::Rectangle {
        back_mm: 520.0.into(),
        drop_mm: 930.0.into(),
        to: MeasuredTo::Middle,
        width_mm: 80.0.into(),
        height_mm: 40.0.into(),
        repeat: Repeat {
            count: few,
            pitch_mm: (4200.0 / f64::from(few)).into(),
            ..Repeat::ONCE
        },
    };
    let all: Vec<SideFeature> = [
        (FeatureKind::Rivets, rows),
        (FeatureKind::PanelSeam, seams),
        (FeatureKind::Handle, handles),
    ]
    .map(|(kind, form)| SideFeature {
        id: Uuid::now_v7(),
        feature: Feature {
            clearance_mm: 6.0.into(),
            ..Feature::new(kind, form)
        },
    })
    .to_vec();
    measure(&Side::new(SideKind::Left, body, Surface::default()), &all).unwrap()
}

/// Twenty letters of 12 in.
pub fn lettering(side: &MeasuredSide) -> PlannedPiece {
    let words = Lettering::line("HARBOURBAYFREIGHTWAY", "archivo-black", 304.8);
    let place = PlaceRule::from_front(480.0, LetterEnd::FirstLetter, 540.0);
    let piece = Piece::new(Art::Lettering(words), place);
    plan_piece(
        Uuid::nil(),
        &piece,
        side,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap()
}
