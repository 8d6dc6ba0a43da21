//! `vehicle::plan_view` by itself.

use uuid::Uuid;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;

use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::plan_view::*;
use windrift_core::vehicle::surface::Surface;

fn flat(kind: SideKind, length_mm: f64, height_mm: f64) -> Side {
    let body = Body::Box {
        length_mm: length_mm.into(),
        height_mm: height_mm.into(),
        fall_mm: 0.0.into(),
    };
    Side::new(kind, body, Surface::default())
}

#[test]
fn length_comes_from_the_sides_and_width_from_the_ends() {
    let (left, rear) = (
        flat(SideKind::Left, 7000.0, 2200.0),
        flat(SideKind::Rear, 2400.0, 2200.0),
    );
    let plan = plan_view(&[(Uuid::from_u128(1), &left), (Uuid::from_u128(2), &rear)]);
    assert_eq!(
        (plan.length_mm, plan.width_mm, plan.measured),
        (7000.0, 2400.0, true)
    );
    let y = |n: usize| plan.sides[n].corners[0][1];
    assert!(
        y(0) > 1200.0,
        "the vehicle's left lies below the middle line"
    );
    assert!(plan.sides[1].corners[0][0] > 7000.0, "the rear lies behind");
    let alone = plan_view(&[(Uuid::from_u128(1), &left)]);
    assert!(!alone.measured && (alone.width_mm - 7000.0 / 2.9).abs() < 1e-9);
}

#[test]
fn a_hood_lies_ahead_of_the_roof_and_nothing_at_all_still_draws() {
    let (hood, roof) = (
        flat(SideKind::Hood, 1300.0, 1000.0),
        flat(SideKind::Roof, 1400.0, 1200.0),
    );
    let plan = plan_view(&[(Uuid::from_u128(1), &hood), (Uuid::from_u128(2), &roof)]);
    assert!(plan.sides[0].corners[1][0] < plan.sides[1].corners[1][0]);
    assert!((plan.length_mm - (1000.0 + 1400.0) * 1.45).abs() < 1e-9);
    assert!(plan_view(&[]).length_mm > 0.0);
}
