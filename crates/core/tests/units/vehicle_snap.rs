//! `vehicle::snap` by itself.

use kurbo::Vec2;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::{Feature, SideFeature};

use uuid::Uuid;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::Repeat;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::snap::*;
use windrift_core::vehicle::surface::Surface;

fn socket(n: u128, back_mm: f64, drop_mm: f64) -> SideFeature {
    let form = Form::Round {
        back_mm: back_mm.into(),
        drop_mm: drop_mm.into(),
        across_mm: 40.0.into(),
        repeat: Repeat::ONCE,
    };
    SideFeature {
        id: Uuid::from_u128(n),
        feature: Feature::new(FeatureKind::Socket, form),
    }
}

fn moved(kind: SideKind, by: Vec2, line_up: bool) -> MovedFeature {
    let body = Body::Box {
        length_mm: 5000.0.into(),
        height_mm: 2000.0.into(),
        fall_mm: 0.0.into(),
    };
    let features = [socket(1, 1000.0, 500.0), socket(2, 1300.0, 700.0)];
    let side = measure(&Side::new(kind, body, Surface::default()), &features);
    side.map(|side| {
        move_by(
            &features[0],
            &side,
            &features,
            by,
            line_up,
            Unit::Millimetre,
        )
    })
    .unwrap_or_else(|_| unreachable!("the side stands"))
}

fn at(moved: &MovedFeature) -> (f64, f64) {
    (
        moved.back.as_ref().map_or(0.0, |l| l.mm),
        moved.drop.as_ref().map_or(0.0, |l| l.mm),
    )
}

#[test]
fn it_ends_on_whole_steps() {
    assert_eq!(
        at(&moved(SideKind::Left, Vec2::new(123.4, -10.6), true)),
        (1123.0, 489.0)
    );
    // To the picture's right is towards the front where the front is at the right.
    assert_eq!(
        at(&moved(SideKind::Right, Vec2::new(123.4, -10.6), true)),
        (877.0, 489.0)
    );
}

#[test]
fn it_takes_the_reading_of_what_stands_beside_it() {
    let onto = moved(SideKind::Left, Vec2::new(294.0, 195.0), true);
    assert_eq!(at(&onto), (1300.0, 700.0));
    assert_eq!(
        onto.lined_up,
        [
            "In line upright with the socket.",
            "In line level with the socket."
        ]
    );
    assert_eq!(
        at(&moved(SideKind::Left, Vec2::new(294.0, 195.0), false)),
        (1294.0, 695.0)
    );
    assert_eq!(
        at(&moved(SideKind::Left, Vec2::new(1497.0, 0.0), true)).0,
        2500.0,
        "the middle of the side"
    );
}

#[test]
fn a_direction_that_was_not_moved_stays_as_it_was_measured() {
    let body = Body::Box {
        length_mm: 5000.0.into(),
        height_mm: 2000.0.into(),
        fall_mm: 0.0.into(),
    };
    let features = [socket(1, 1000.3, 500.4)];
    let Ok(side) = measure(
        &Side::new(SideKind::Left, body, Surface::default()),
        &features,
    ) else {
        unreachable!("the side stands")
    };
    let after = move_by(
        &features[0],
        &side,
        &features,
        Vec2::new(0.0, 10.0),
        true,
        Unit::Millimetre,
    );
    assert!(
        matches!(after.feature.form, Form::Round { back_mm, drop_mm, .. } if back_mm == 1000.3 && drop_mm == 510.0)
    );
}
