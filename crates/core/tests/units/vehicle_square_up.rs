//! `vehicle::square_up` by itself.

use kurbo::Point;
use windrift_core::ground::homography::Homography;
use windrift_core::vehicle::underlay::Underlay;

use uuid::Uuid;

use windrift_core::vehicle::underlay::KnownPoint;

fn underlay(seen: [(f64, f64); 4], known: [(f64, f64); 4]) -> Underlay {
    Underlay {
        photo: Uuid::nil(),
        points: seen
            .into_iter()
            .zip(known)
            .map(|((across, down), (back_mm, drop_mm))| KnownPoint {
                across,
                down,
                back_mm: back_mm.into(),
                drop_mm: drop_mm.into(),
            })
            .collect(),
    }
}

const SEEN: [(f64, f64); 4] = [(0.1, 0.2), (0.9, 0.1), (0.85, 0.8), (0.15, 0.9)];
const KNOWN: [(f64, f64); 4] = [(0.0, 0.0), (4000.0, 0.0), (4000.0, 2000.0), (0.0, 2000.0)];

#[test]
fn four_good_points_are_taken_and_bad_ones_named() {
    assert_eq!(underlay(SEEN, KNOWN).check(), Ok(()));
    let mut line = SEEN;
    line[1] = (0.5, 0.5);
    line[2] = (0.9, 0.8);
    let told = underlay(line, KNOWN).check().err().map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.starts_with("Points 1, 2 and 3 lie on one line in the photo")));
    let mut line = KNOWN;
    line[3] = (8000.0, 0.0);
    let told = underlay(SEEN, line).check().err().map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.contains("as measured")));
    let mut swapped = KNOWN;
    swapped.swap(1, 2);
    let told = underlay(SEEN, swapped).check().err().map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.contains("same order")));
    let mut three = underlay(SEEN, KNOWN);
    three.points.pop();
    assert!(
        three
            .check()
            .is_err_and(|e| e.sentence.contains("there are 3"))
    );
}

#[test]
fn the_four_points_go_where_they_were_shown() {
    let pairs = [0, 1, 2, 3].map(|n| {
        (
            Point::new(KNOWN[n].0, KNOWN[n].1),
            Point::new(SEEN[n].0 * 1600.0, SEEN[n].1 * 900.0),
        )
    });
    let map = Homography::through(&pairs);
    assert!(map.is_some_and(|m| {
        pairs
            .iter()
            .all(|(a, b)| m.map(*a).is_some_and(|p| p.distance(*b) < 1e-6))
    }));
}
