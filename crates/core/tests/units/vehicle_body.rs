//! `vehicle::body` by itself.

use kurbo::Point;
use windrift_core::vehicle::body::readings::Reading;

use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::body::readings::parse_readings;
use windrift_core::vehicle::body::readings::print_readings;
use windrift_core::vehicle::body::*;

fn sentence(body: Body) -> String {
    body.check().err().map(|e| e.sentence).unwrap_or_default()
}

fn readings(points: &[(f64, f64)]) -> Body {
    let points = points
        .iter()
        .map(|(back_mm, drop_mm)| Reading {
            back_mm: (*back_mm).into(),
            drop_mm: (*drop_mm).into(),
            rounded: false,
        })
        .collect();
    Body::Readings { points }
}

#[test]
fn a_rail_that_leaves_the_side_is_refused() {
    let body = |height_mm, fall_mm| Body::Box {
        length_mm: 20_000.0.into(),
        height_mm,
        fall_mm,
    };
    assert!(sentence(body(900.0.into(), 950.0.into())).contains("leave the side"));
    assert!(sentence(body(2184.0.into(), 2100.0.into())).contains("1 in 10"));
    assert_eq!(sentence(body(900.0.into(), 100.0.into())), "");
}

#[test]
fn readings_that_cross_are_named() {
    let bow_tie = readings(&[(0.0, 0.0), (1000.0, 0.0), (0.0, 800.0), (1000.0, 800.0)]);
    assert_eq!(
        sentence(bow_tie),
        "The outline crosses itself: from reading 2 to 3 it runs over the line from 4 to 1. Check these readings and their order."
    );
    assert!(sentence(readings(&[(0.0, 0.0), (900.0, 0.0)])).contains("at least three"));
    assert!(sentence(readings(&[(0.0, 0.0), (900.0, 0.0), (1800.0, 0.0)])).contains("no room"));
    assert!(sentence(readings(&[(0.0, 0.0), (9e9, 0.0), (5.0, 5.0)])).contains("Reading 2"));
    assert_eq!(
        sentence(readings(&[(0.0, 0.0), (900.0, 10.0), (800.0, 500.0)])),
        ""
    );
}

#[test]
fn a_typed_list_is_read_line_by_line_and_printed_the_same() {
    let list = "0, 0\n6' 2, 0\n\n6' 2; 31 1/2 r\n-2 1/4,\t40";
    let told = |text: &str| {
        parse_readings(text, Unit::InchSixteenth)
            .err()
            .map(|e| e.to_string())
    };
    assert!(told(list).is_some_and(|s| s.starts_with("Line 5 is not two lengths.")));
    let list = list.replace(",\t", ", ");
    let points = parse_readings(&list, Unit::InchSixteenth).unwrap_or_default();
    assert_eq!(points.len(), 4);
    assert!(points[2].rounded && points[2].drop_mm == 800.1 && points[3].back_mm == -57.15);
    let printed = print_readings(&points, Unit::InchSixteenth);
    assert_eq!(parse_readings(&printed, Unit::InchSixteenth), Ok(points));
    assert_eq!(
        told("0, 0\n27 3/0, 5").as_deref(),
        Some("Line 2: A fraction cannot be over 0. Type it like 27 3/4.")
    );
}

#[test]
fn a_rounded_reading_is_passed_through() {
    let mut points = vec![];
    for n in 0..12 {
        let angle = f64::from(n).to_radians() * 30.0;
        points.push(Reading {
            back_mm: (1000.0 + 500.0 * angle.cos()).into(),
            drop_mm: (600.0 + 500.0 * angle.sin()).into(),
            rounded: true,
        });
    }
    let circle = Body::Readings { points };
    assert_eq!(circle.check(), Ok(()));
    for p in circle.outline() {
        let radius = p.distance(Point::new(1000.0, 600.0));
        assert!((radius - 500.0).abs() < 1.0, "{radius}");
    }
}

#[test]
fn bowed_and_rounded_panels_keep_their_corners_within_the_measures() {
    let panel = Body::Panel {
        top_mm: 1200.0.into(),
        bottom_mm: 1400.0.into(),
        height_mm: 900.0.into(),
        bottom_starts_mm: (-100.0).into(),
        corner_mm: 60.0.into(),
        top_bow_mm: 40.0.into(),
        bottom_bow_mm: (-25.0).into(),
    };
    assert_eq!(panel.check(), Ok(()));
    let bounds = windrift_core::ground::outline::bounds_of(panel.outline());
    assert!(
        (bounds.y0 + 40.0).abs() < 0.5,
        "the bow is the highest: {bounds:?}"
    );
    assert!(bounds.x0 >= -100.0 && bounds.x1 <= 1300.0 && bounds.y1 <= 900.0);
}
