//! `vehicle::side` by itself.

use uuid::Uuid;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::side::words::{FrontAt, SideKind};
use windrift_core::vehicle::surface::Surface;

use windrift_core::ground::settings::SideWords;
use windrift_core::vehicle::side::*;

fn body(kind: SideKind, fall_mm: f64) -> Side {
    let body = Body::Box {
        length_mm: 7315.2.into(),
        height_mm: 2184.4.into(),
        fall_mm: fall_mm.into(),
    };
    Side::new(kind, body, Surface::default())
}

#[test]
fn back_and_down_survive_the_round_trip_on_both_sides_and_with_a_fall() {
    for kind in [SideKind::Left, SideKind::Right] {
        for fall_mm in [-60.0, 0.0, 38.1] {
            let side = body(kind, fall_mm);
            let datum = side.datum();
            let (back, down) = datum.read(datum.at(1234.5, 678.9));
            assert!((back - 1234.5).abs() < 1e-9 && (down - 678.9).abs() < 1e-9);
            let (back, drop) = datum.read_plumb(datum.drop_point(1234.5, 678.9));
            assert!((back - 1234.5).abs() < 1e-9 && (drop - 678.9).abs() < 1e-9);
            assert!(
                datum.at(100.0, 0.0).x * side.direction() > 0.0,
                "back runs away from the front"
            );
            assert!(datum.down.y > 0.0);
            assert!((datum.at(7315.2, 0.0).y - fall_mm).abs() < 1e-9);
        }
    }
}

#[test]
fn the_shop_sees_its_own_words() {
    let left = body(SideKind::Left, 0.0);
    assert_eq!(left.name(SideWords::StreetCurbKeepRight), "street side");
    assert_eq!(left.name(SideWords::NearOffKeepLeft), "near side");
    let right = body(SideKind::Right, 0.0);
    assert_eq!(right.name(SideWords::StreetCurbKeepLeft), "street side");
}

#[test]
fn across_the_vehicle_the_ends_are_its_sides() {
    let ends = |kind| {
        let names = body(kind, 0.0).edge_names(SideWords::StreetCurbKeepRight);
        (names.zero, names.far, names.upper, names.lower)
    };
    let told = |a: &str, b: &str, c: &str, d: &str| (a.into(), b.into(), c.into(), d.into());
    assert_eq!(
        ends(SideKind::Right),
        told("front edge", "rear edge", "top rail", "bottom edge")
    );
    // From behind the vehicle's left is at the left, from ahead at the right.
    assert_eq!(ends(SideKind::Rear).0, "street side edge");
    assert_eq!(ends(SideKind::Front).0, "curb side edge");
    // Standing before the hood: its rear edge is the upper one, the vehicle's right at the left hand.
    assert_eq!(
        ends(SideKind::Hood),
        told(
            "curb side edge",
            "street side edge",
            "rear edge",
            "front edge"
        )
    );
    assert_eq!(
        ends(SideKind::Tail),
        told(
            "street side edge",
            "curb side edge",
            "front edge",
            "rear edge"
        )
    );
    // The roof with its front at the left: the vehicle's right lies above.
    assert_eq!(
        ends(SideKind::Roof),
        told(
            "front edge",
            "rear edge",
            "curb side edge",
            "street side edge"
        )
    );
}

#[test]
fn a_body_line_is_told_against_level_and_rail() {
    let mut side = body(SideKind::Left, 12.7);
    side.references.push(Reference {
        id: Uuid::from_u128(7),
        name: "body line".into(),
        front_drop_mm: 900.0.into(),
        rear_drop_mm: 906.35.into(),
    });
    assert_eq!(side.check(), Ok(()));
    let told: Vec<String> = side
        .levels(Unit::InchSixteenth)
        .into_iter()
        .map(|l| l.sentence)
        .collect();
    assert_eq!(told[0], "The top rail falls 1/2 to the rear over 24' 0.");
    assert_eq!(
        told[1],
        "The body line falls 3/4 to the rear over 24' 0. It and the top rail run 1/4 apart."
    );
    side.references[0].rear_drop_mm = 5000.0.into();
    assert!(
        side.check()
            .is_err_and(|e| e.field == "references" && e.sentence.contains("leave the side"))
    );
}

#[test]
fn a_front_that_cannot_be_there_is_refused() {
    let mut side = body(SideKind::Left, 0.0);
    side.front = FrontAt::Right;
    assert!(side.check().is_err_and(|e| e.field == "front"));
}

#[test]
fn a_mirrored_side_keeps_its_measures_and_turns_round() {
    let left = body(SideKind::Left, 20.0);
    let right = left.mirrored();
    assert!(
        right
            .as_ref()
            .is_some_and(|r| r.check().is_ok() && r.kind == SideKind::Right)
    );
    let end = |side: &Side| side.datum().at(7315.2, 0.0);
    assert!(
        right.is_some_and(|r| (end(&r).x + end(&left).x).abs() < 1e-9 && end(&r).y == end(&left).y)
    );
    assert_eq!(body(SideKind::Rear, 0.0).mirrored(), None);
}
