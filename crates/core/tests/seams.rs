//! Seams of a kit as laid out, against the general geometry library geo: how far edges that should meet are apart or over.

use geo::{Area, BooleanOps, Coord, Distance, Euclidean, LineString, Point as GeoPoint, Polygon};
use kurbo::Point;
use proptest::prelude::*;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::kit::{Drawing, Seam};
use windrift_core::ground::outline::Shape;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Length, Unit};
use windrift_core::place::rules::Angle;
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::side::words::SideKind;

use crate::common::{body, piece, rules};

/// 600 wide and 400 high, its right edge leaning: the seam.
const FIRST: [(f64, f64); 4] = [(0.0, 0.0), (600.0, 0.0), (560.0, 400.0), (0.0, 400.0)];
/// What goes on from that edge.
const SECOND: [(f64, f64); 4] = [(40.0, 0.0), (640.0, 0.0), (640.0, 400.0), (0.0, 400.0)];

fn drawn(
    name: &str,
    outline: [(f64, f64); 4],
    seam: Seam,
    order: i32,
    back: f64,
    down: f64,
) -> Piece {
    let shape = Shape::new(vec![outline.map(Point::from).into()]);
    Piece {
        art: Art::Drawing(Drawing {
            seam,
            ..Drawing::new(name, &[shape], "#b3261e")
        }),
        order,
        ..piece("X", "oswald", 100.0, back, down)
    }
}

fn laid(seam: Seam, right: f64, down: f64, degrees: f64) -> Vec<PlannedPiece> {
    let first = drawn("mane 1", FIRST, Seam::None, 1, 900.0, 500.0);
    let mut second = drawn(
        "mane 2",
        SECOND,
        seam,
        2,
        900.0 + 560.0 + right,
        500.0 + down,
    );
    rules(&mut second).angle = Angle::Degrees { degrees };
    planned(&[(Uuid::from_u128(1), first), (Uuid::from_u128(2), second)])
}

fn planned(pieces: &[(Uuid, Piece)]) -> Vec<PlannedPiece> {
    let plan = plan_side(
        &body(SideKind::Left),
        &[],
        pieces,
        &JobAround::default(),
        &WorkSettings::default(),
        Unit::Millimetre,
    )
    .unwrap();
    assert!(plan.failed.is_empty(), "{:?}", plan.failed);
    plan.pieces
}

fn polygon(planned: &PlannedPiece) -> Polygon {
    let shape = planned.film().next().unwrap();
    Polygon::new(
        LineString::from(
            shape.contours[0]
                .iter()
                .map(|p| (p.x, p.y))
                .collect::<Vec<_>>(),
        ),
        vec![],
    )
}

/// What was printed in whole marks, to the last bit, mm.
fn exact(length: &Length) -> f64 {
    length.mm + length.remainder_mm
}

#[test]
fn what_is_as_drawn_is_told_to_be_right() {
    let pieces = laid(Seam::Butt, 0.0, 0.0, 0.0);
    let seam = pieces[1].seam.as_ref().unwrap();
    assert!(
        seam.right && seam.sentence.contains("edge to edge"),
        "{seam:?}"
    );
    assert!(
        (exact(&seam.run) - 400.0_f64.hypot(40.0)).abs() < 0.5,
        "{seam:?}"
    );
    assert!(pieces[0].seam.is_none());
}

/// 1.5 mm apart or over is told, less is not (common practice, no source).
#[test]
fn more_than_a_millimetre_and_a_half_is_told() {
    // Square to the seam a move along is a little less.
    let lean = 400.0 / 400.0_f64.hypot(40.0);
    for (right, how) in [
        (1.4, None),
        (1.6 / lean, Some("open")),
        (-1.4, None),
        (-1.6 / lean, Some("over")),
    ] {
        let pieces = laid(Seam::Butt, right, 0.0, 0.0);
        let seam = pieces[1].seam.as_ref().unwrap();
        assert_eq!(seam.right, how.is_none(), "{right}: {seam:?}");
        if let Some(how) = how {
            let told = format!("1.6 mm {how}");
            assert!(
                pieces[1].troubles.iter().any(|t| t.contains(&told)),
                "{:?}",
                pieces[1].troubles
            );
        }
    }
    let overlap_mm = 12.0.into();
    let by = |mm: f64| laid(Seam::Overlap { overlap_mm }, -mm / lean, 0.0, 0.0);
    assert!(by(12.0)[1].seam.as_ref().unwrap().right);
    let less = by(9.0);
    assert!(
        less[1].troubles.iter().any(|t| t.contains("3.0 mm open")),
        "{:?}",
        less[1].troubles
    );
    // Nothing beside it.
    let far = laid(Seam::Butt, 300.0, 0.0, 0.0);
    assert!(
        far[1].troubles.iter().any(|t| t.contains("meets nothing")),
        "{:?}",
        far[1].troubles
    );
}

/// What touches at one end and gapes at the other is not right, however far it gapes: 5 degrees over 402 mm is 35 mm.
#[test]
fn what_gapes_farther_than_edges_face_each_other_is_told_as_well() {
    for degrees in [-5.0, -2.0, 2.0, 5.0] {
        let pieces = laid(Seam::Butt, 2.0, 0.0, degrees);
        let seam = pieces[1].seam.as_ref().unwrap();
        assert!(!seam.right, "{degrees}: {seam:?}");
    }
    let pieces = laid(Seam::Butt, 0.0, 0.0, -5.0);
    let seam = pieces[1].seam.as_ref().unwrap();
    let either = ["12.7 mm or more open", "12.7 mm or more over"];
    assert!(either.iter().any(|t| seam.sentence.contains(t)), "{seam:?}");
}

/// The far edges of two thin pieces that butt are no seam that is over by both their widths.
#[test]
fn far_edges_of_thin_pieces_are_no_seam() {
    let strip = [(0.0, 0.0), (6.0, 0.0), (6.0, 300.0), (0.0, 300.0)];
    let pieces = [
        (
            Uuid::from_u128(1),
            drawn("pin 1", strip, Seam::None, 1, 900.0, 500.0),
        ),
        (
            Uuid::from_u128(2),
            drawn("pin 2", strip, Seam::Butt, 2, 906.0, 500.0),
        ),
    ];
    let seam = planned(&pieces)[1].seam.clone().unwrap();
    assert!(seam.right, "{seam:?}");
    assert!((exact(&seam.run) - 300.0).abs() < 0.5, "{seam:?}");
}

proptest! {
    #[test]
    fn open_and_over_are_what_geo_measures(right in -4.0..4.0_f64, down in -3.0..3.0_f64, degrees in -0.6..0.6_f64) {
        let pieces = laid(Seam::Butt, right, down, degrees);
        let Some(seam) = pieces[1].seam.as_ref() else { return Ok(()) };
        let (first, second) = (polygon(&pieces[0]), polygon(&pieces[1]));
        // Open nowhere by more than the farthest of the seam's corners from the other piece; over nowhere by more than its deepest corner.
        let outside = |p: &Coord, of: &Polygon| Euclidean.distance(&GeoPoint::from(*p), of);
        let seam_corners = |of: &Polygon, other: &Polygon| -> Vec<f64> {
            of.exterior().coords().map(|p| outside(p, other)).filter(|d| *d < 30.0).collect()
        };
        let open = seam_corners(&second, &first).into_iter().chain(seam_corners(&first, &second)).fold(0.0, f64::max);
        prop_assert!(exact(&seam.apart).max(0.0) <= open + 0.05, "{seam:?} {open}");
        // The farthest open corner is told, but for what a corner reaches past the end of the other edge.
        let past = down.abs() + 640.0 * degrees.to_radians().sin().abs();
        prop_assert!(exact(&seam.apart).max(0.0) >= open - past - 0.05, "{seam:?} {open}");
        // What lies over is a strip along the seam: its area over its length is at most the deepest that is told, and at least half of that.
        let area = first.intersection(&second).unsigned_area();
        let mean = area / 402.0;
        let over = exact(&seam.over).max(0.0);
        prop_assert!(mean <= over + 0.05, "{mean} {seam:?}");
        if exact(&seam.apart) < 0.0 {
            prop_assert!(mean >= over / 2.0 - past / 10.0 - 0.1, "{mean} {seam:?}");
        }
    }
}
