//! Outlines of sides against the general geometry library geo: areas, containment, crossings; and against mensuration.

use geo::{Area, Contains, LineString, Polygon, Validation};
use kurbo::Point;
use proptest::prelude::*;
use windrift_core::ground::outline::{Shape, first_crossing};
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::body::readings::Reading;
use windrift_core::vehicle::start::shapes::StartShape;

fn polygon(contour: &[Point]) -> Polygon {
    Polygon::new(
        LineString::from(contour.iter().map(|p| (p.x, p.y)).collect::<Vec<_>>()),
        vec![],
    )
}

#[test]
fn starting_shapes_are_simple_and_as_large_as_geo_says() {
    for shape in StartShape::ALL {
        let (side, _) = shape.start(shape.names().1);
        let outline = side.outline();
        let there = polygon(&outline.contours[0]);
        assert!(there.is_valid(), "{shape:?}");
        let (ours, theirs) = (outline.area(), there.unsigned_area());
        assert!(
            (ours - theirs).abs() < 1e-6 * theirs,
            "{shape:?} {ours} {theirs}"
        );
    }
}

#[test]
fn a_tank_and_a_transom_have_the_area_of_mensuration() {
    // Rectangle and an ellipse: w·h + π·a·b, flattened into 32 steps a half (0.16 % of the ellipse).
    let tank = Body::Tank {
        length_mm: 4000.0.into(),
        height_mm: 1600.0.into(),
        end_mm: 300.0.into(),
    };
    let expected = 3400.0 * 1600.0 + std::f64::consts::PI * 300.0 * 800.0;
    assert!((Shape::new(vec![tank.outline()]).area() / expected - 1.0).abs() < 5e-4);
    // Trapezoid, triangle and a parabolic segment of two thirds.
    let transom = Body::Transom {
        width_mm: 2000.0.into(),
        chine_width_mm: 1600.0.into(),
        side_height_mm: 500.0.into(),
        vee_mm: 200.0.into(),
        crown_mm: 60.0.into(),
    };
    let expected = 1800.0 * 500.0 + 1600.0 * 200.0 / 2.0 + 2.0 / 3.0 * 2000.0 * 60.0;
    assert!((Shape::new(vec![transom.outline()]).area() / expected - 1.0).abs() < 5e-4);
}

proptest! {
    #[test]
    fn crossings_are_those_that_geo_finds(
        points in proptest::collection::vec((0.0..3000.0_f64, 0.0..1500.0_f64), 3..9),
    ) {
        let contour: Vec<Point> = points.iter().map(|p| Point::new(p.0, p.1)).collect();
        let simple = polygon(&contour).is_valid();
        prop_assert_eq!(first_crossing(&contour).is_none(), simple, "{:?}", contour);
    }

    #[test]
    fn readings_hold_the_points_that_geo_says_they_hold(
        radii in proptest::collection::vec(300.0..900.0_f64, 5..12),
        x in -1000.0..1000.0_f64,
        y in -1000.0..1000.0_f64,
        rounded in any::<bool>(),
    ) {
        let n = radii.len();
        let points: Vec<Reading> = radii
            .iter()
            .enumerate()
            .map(|(k, r)| {
                let a = k as f64 / n as f64 * std::f64::consts::TAU;
                Reading { back_mm: (1000.0 + r * a.cos()).into(), drop_mm: (1000.0 + r * a.sin()).into(), rounded }
            })
            .collect();
        let outline = Body::Readings { points }.outline();
        let probe = Point::new(1000.0 + x, 1000.0 + y);
        let ours = Shape::new(vec![outline.clone()]);
        // On the very edge either answer is right.
        prop_assume!(ours.distance_to_edge(probe) > 1e-6);
        prop_assert_eq!(ours.contains(probe), polygon(&outline).contains(&geo::Point::new(probe.x, probe.y)));
    }
}
