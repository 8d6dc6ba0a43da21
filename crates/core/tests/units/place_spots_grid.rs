//! `place::spots::grid` by itself.

use kurbo::Point;

use windrift_core::place::spots::grid::*;

#[test]
fn rows_hold_spans_of_moves() {
    let mut row = Row::default();
    row.set(60..70);
    row.toggle(64..66);
    let ones: Vec<usize> = row.ones().collect();
    assert_eq!(ones, [60, 61, 62, 63, 66, 67, 68, 69]);
    let grid = Grid {
        half_columns: 48,
        half_rows: 48,
        step_mm: 1.5875,
    };
    assert_eq!((grid.columns(), grid.rows()), (97, 97));
    assert_eq!(grid.columns_within(-1.6, 1.6), 47..50);
    assert_eq!(
        grid.columns_within(1e6, 2e6).len() + grid.columns_within(-9.0, -10.0).len(),
        0
    );
}

#[test]
fn a_disc_rolled_along_a_segment_is_sliced_exactly() {
    let (a, b) = (Point::new(0.0, 0.0), Point::new(30.0, 40.0));
    for n in 0..200 {
        let y = -8.0 + f64::from(n) * 0.29;
        let span = near_segment(a, b, 5.0, y);
        for m in 0..200 {
            let x = -10.0 + f64::from(m) * 0.27;
            let distance =
                windrift_core::ground::outline::distance_to_segment(Point::new(x, y), a, b);
            let inside = span.is_some_and(|(low, high)| low < x && x < high);
            if (distance - 5.0).abs() > 1e-9 {
                assert_eq!(inside, distance < 5.0, "{x} {y}");
            }
        }
    }
}
