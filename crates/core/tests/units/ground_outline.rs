//! `ground::outline` by itself.

use kurbo::Point;

use windrift_core::ground::outline::*;

fn contour(points: &[(f64, f64)]) -> Contour {
    points.iter().map(|p| Point::new(p.0, p.1)).collect()
}

#[test]
fn crossings_are_found_and_corners_are_none() {
    assert_eq!(
        first_crossing(&contour(&[(0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0)])),
        None
    );
    assert_eq!(
        first_crossing(&contour(&[(0.0, 0.0), (4.0, 0.0), (0.0, 3.0), (4.0, 3.0)])),
        Some((1, 3))
    );
    // A spike that runs back over itself, and a run that touches a corner from within.
    assert_eq!(
        first_crossing(&contour(&[(0.0, 0.0), (4.0, 0.0), (2.0, 0.0), (2.0, 3.0)])),
        Some((0, 1))
    );
    let touching = contour(&[
        (0.0, 0.0),
        (4.0, 0.0),
        (2.0, 0.0001),
        (4.0, 3.0),
        (2.0, 0.0),
        (0.0, 3.0),
    ]);
    assert!(first_crossing(&touching).is_some());
}

#[test]
fn an_upright_line_meets_the_outermost_edges() {
    let notched = Shape::new(vec![contour(&[
        (0.0, 0.0),
        (10.0, 2.0),
        (10.0, 8.0),
        (5.0, 4.0),
        (0.0, 8.0),
    ])]);
    assert_eq!(notched.span_at(5.0), Some((1.0, 4.0)));
    assert_eq!(notched.span_at(0.0), Some((0.0, 8.0)));
    assert_eq!(notched.span_at(11.0), None);
}
