//! `vehicle::square_up` by itself.

use kurbo::Point;
use windrift_core::ground::homography::Homography;
use windrift_core::ground::tape::Unit;
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
        fifth: None,
    }
}

const SEEN: [(f64, f64); 4] = [(0.1, 0.2), (0.9, 0.1), (0.85, 0.8), (0.15, 0.9)];
const KNOWN: [(f64, f64); 4] = [(0.0, 0.0), (4000.0, 0.0), (4000.0, 2000.0), (0.0, 2000.0)];

#[test]
fn four_good_points_are_taken_and_bad_ones_named() {
    assert_eq!(underlay(SEEN, KNOWN).check(1.0), Ok(()));
    let mut line = SEEN;
    line[1] = (0.5, 0.5);
    line[2] = (0.9, 0.8);
    let told = underlay(line, KNOWN).check(1.0).err().map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.starts_with("Points 1, 2 and 3 lie on one line in the photo")));
    let mut line = KNOWN;
    line[3] = (8000.0, 0.0);
    let told = underlay(SEEN, line).check(1.0).err().map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.contains("as measured")));
    let mut swapped = KNOWN;
    swapped.swap(1, 2);
    let told = underlay(SEEN, swapped).check(1.0).err().map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.contains("same order")));
    // A mirrored photo fits no side: everything in it stands where it is not. Where the tape runs to the left, it is the other way round.
    let mirrored = SEEN.map(|(across, down)| (1.0 - across, down));
    let told = underlay(mirrored, KNOWN)
        .check(1.0)
        .err()
        .map(|e| e.sentence);
    assert!(told.is_some_and(|s| s.contains("the photo is mirrored")));
    assert_eq!(underlay(mirrored, KNOWN).check(-1.0), Ok(()));
    assert!(underlay(SEEN, KNOWN).check(-1.0).is_err());
    let mut three = underlay(SEEN, KNOWN);
    three.points.pop();
    assert!(
        three
            .check(1.0)
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

#[test]
fn a_fifth_point_says_how_far_off_the_photo_is() {
    // Seen through a camera that stands aslant: where any point of the side is seen is known from the same map.
    let pairs = [0, 1, 2, 3].map(|n| {
        (
            Point::new(KNOWN[n].0, KNOWN[n].1),
            Point::new(SEEN[n].0, SEEN[n].1),
        )
    });
    let seen = Homography::through(&pairs).unwrap();
    let fifth = |back: f64, drop: f64, measured: (f64, f64)| {
        let at = seen.map(Point::new(back, drop)).unwrap();
        let mut photo = underlay(SEEN, KNOWN);
        photo.fifth = Some(KnownPoint {
            across: at.x,
            down: at.y,
            back_mm: measured.0.into(),
            drop_mm: measured.1.into(),
        });
        photo.off(1.0, 4000.0, Unit::Millimetre).unwrap()
    };
    let exact = fifth(1300.0, 700.0, (1300.0, 700.0));
    assert!(exact.good && exact.off_mm < 1e-6);
    let near = fifth(1300.0, 700.0, (1305.4, 707.2));
    assert!(near.good && (near.off_mm - 9.0).abs() < 1e-6, "{near:?}");
    let far = fifth(1300.0, 700.0, (1330.0, 740.0));
    assert!(
        !far.good && (far.off_mm - 50.0).abs() < 1e-6 && far.sentence.contains("do not measure")
    );
}
