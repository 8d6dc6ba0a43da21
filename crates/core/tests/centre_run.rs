//! Stripes along the centreline: what a tape across the car reads at both ends of every part.

use windrift_core::art::Art;
use windrift_core::art::stripe::{Band, Stripe};
use windrift_core::ground::settings::{SideWords, WorkSettings};
use windrift_core::ground::tape::Unit;
use windrift_core::plan::centre_run::{CentreError, along_centre};
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::shapes::StartShape;

const INCH: f64 = 25.4;

fn pair(front: f64, rear: f64, between: f64) -> Stripe {
    let band = |gap: f64| Band {
        gap_mm: (gap * INCH).into(),
        front_width_mm: (front * INCH).into(),
        rear_width_mm: (rear * INCH).into(),
    };
    Stripe {
        bands: vec![band(0.0), band(between)],
        ..Stripe::of_width("stripes", "#8c1d18", 1.0)
    }
}

fn car() -> Vec<Side> {
    [
        (StartShape::Hood, SideKind::Hood),
        (StartShape::CarRoof, SideKind::Roof),
        (StartShape::Tail, SideKind::Tail),
    ]
    .map(|(shape, kind)| shape.start(kind).0)
    .into()
}

fn laid(stripe: &Stripe, sides: &[Side], margin: f64) -> Vec<PlannedPiece> {
    let named: Vec<_> = sides
        .iter()
        .map(|s| (s, s.kind.name(SideWords::StreetCurbKeepRight)))
        .collect();
    let pieces = along_centre(stripe, &named, &[], margin).unwrap();
    let plan = |(piece, side): (_, &Side)| {
        let side = measure(side, &[]).unwrap();
        plan_piece(
            Default::default(),
            &piece,
            &side,
            &WorkSettings::default(),
            Unit::InchThirtySecond,
        )
        .unwrap()
    };
    pieces.into_iter().zip(sides).map(plan).collect()
}

/// By hand: hood 42 in and its bows of 2 in inwards above and 3 in outwards below, roof 58 straight, tail 22 with 1 in at both ends.
#[test]
fn a_pair_tapers_evenly_over_the_whole_run_and_lies_in_the_middle_of_every_part() {
    let planned = laid(&pair(10.0, 8.0, 1.0), &car(), 0.0);
    let lengths: Vec<f64> = planned
        .iter()
        .map(|p| p.drawn.nominal.width() / INCH)
        .collect();
    let total: f64 = lengths.iter().sum();
    for (length, by_hand) in lengths.iter().zip([43.0, 58.0, 24.0]) {
        assert!((length - by_hand).abs() < 1.01, "{lengths:?}");
    }
    let mut run = 0.0;
    for (piece, length) in planned.iter().zip(&lengths) {
        let Art::Stripe(stripe) = &piece.piece.art else {
            panic!()
        };
        for band in &stripe.bands {
            let at = |run: f64| 10.0 - 2.0 * run / total;
            assert!((band.front_width_mm / INCH - at(run)).abs() < 1e-9);
            assert!((band.rear_width_mm / INCH - at(run + length)).abs() < 1e-9);
        }
        run += length;
    }
    // The tape across the car: the same to both edges, at both ends.
    for piece in &planned {
        assert_eq!(piece.readings.across.len(), 2);
        for at in &piece.readings.across {
            assert!((at.left.1.mm - at.right.1.mm).abs() < 2.0, "{at:?}");
            assert!(at.left.1.mm > 0.0);
        }
        let widths: Vec<f64> = piece.readings.across.iter().map(|a| a.width.mm).collect();
        assert!(
            widths[0] > widths[1],
            "the wider end lies at the front: {widths:?}"
        );
    }
    for piece in [&planned[0], &planned[2]] {
        // Along the car, so that it is taller than wide in the picture of a hood.
        let film = piece
            .placed
            .to_picture
            .transform_rect_bbox(piece.drawn.nominal);
        assert!(film.height() > film.width());
    }
    // The front of the hood lies at the picture's foot, that of the tail at its top.
    let front_end =
        |p: &PlannedPiece| (p.placed.to_picture * kurbo::Point::new(p.drawn.nominal.x0, 0.0)).y;
    let rear_end =
        |p: &PlannedPiece| (p.placed.to_picture * kurbo::Point::new(p.drawn.nominal.x1, 0.0)).y;
    assert!(front_end(&planned[0]) > rear_end(&planned[0]));
    assert!(front_end(&planned[2]) < rear_end(&planned[2]));
}

#[test]
fn margins_are_kept_and_sides_without_a_centreline_say_so() {
    let planned = laid(&pair(4.0, 4.0, 1.0), &car()[..1], 0.5 * INCH);
    let whole = laid(&pair(4.0, 4.0, 1.0), &car()[..1], 0.0);
    let length = |p: &[PlannedPiece]| p[0].drawn.nominal.width();
    assert!((length(&whole) - length(&planned) - INCH).abs() < 1e-9);
    let side = StartShape::BoxBody.start(SideKind::Left).0;
    let refused = along_centre(&pair(4.0, 4.0, 1.0), &[(&side, "street side")], &[], 0.0);
    assert_eq!(
        refused.unwrap_err(),
        CentreError::NotAbove("street side".into())
    );
    let hood = &car()[0];
    let refused = along_centre(&pair(4.0, 4.0, 1.0), &[(hood, "hood")], &[], 30.0 * INCH);
    assert_eq!(
        refused.unwrap_err(),
        CentreError::NothingLeft("hood".into())
    );
}
