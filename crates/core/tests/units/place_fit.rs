//! `place::fit` by itself.

use kurbo::Point;

use windrift_core::place::fit::*;

#[test]
fn two_points_leave_only_the_difference_of_their_lengths() {
    let from = [Point::new(0.0, 0.0), Point::new(1000.0, 0.0)];
    let to = [Point::new(5.0, 7.0), Point::new(5.0, 1010.0)];
    let fit = rigid(&from, &to, None);
    let misses: Vec<f64> = from
        .iter()
        .zip(to)
        .map(|(p, q)| (fit * *p).distance(q))
        .collect();
    assert!(misses.iter().all(|m| (m - 1.5).abs() < 1e-9), "{misses:?}");
    let pinned = rigid(&from, &to, Some(0));
    assert!((pinned * from[0]).distance(to[0]) < 1e-9);
    assert!(((pinned * from[1]).distance(to[1]) - 3.0).abs() < 1e-9);
}
