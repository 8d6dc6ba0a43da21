//! A section of stripe between film that stays: its corners are those that were measured, whichever way the side faces.

use geo::{Area, LineString, Polygon};
use proptest::prelude::*;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::stripe::{Band, Stripe};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::PlaceRule;
use windrift_core::plan::first::{FirstKind, first_piece};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

/// Back and down of an edge's upper and lower corner.
type Edge = [(f64, f64); 2];

fn side(kind: SideKind, edges: &[Edge]) -> MeasuredSide {
    let body = Body::Box {
        length_mm: 6000.0.into(),
        height_mm: 2000.0.into(),
        fall_mm: 0.0.into(),
    };
    let features: Vec<SideFeature> = (1..)
        .zip(edges)
        .map(|(n, [top, foot])| SideFeature {
            id: Uuid::from_u128(n),
            feature: Feature::new(
                FeatureKind::FilmEdge,
                Form::Straight {
                    back_mm: top.0.into(),
                    drop_mm: top.1.into(),
                    to_back_mm: foot.0.into(),
                    to_drop_mm: foot.1.into(),
                },
            ),
        })
        .collect();
    measure(&Side::new(kind, body, Surface::default()), &features).unwrap()
}

fn planned(side: &MeasuredSide, piece: &Piece) -> PlannedPiece {
    let settings = WorkSettings::default();
    plan_piece(Uuid::nil(), piece, side, &settings, Unit::Millimetre).unwrap()
}

fn with_lap(piece: Piece, lap: f64) -> Piece {
    Piece {
        place: PlaceRule::Between {
            front: Uuid::from_u128(1),
            rear: Uuid::from_u128(2),
            lap_mm: lap.into(),
        },
        ..piece
    }
}

/// Corners of the film as back and down, those of the front end first.
fn corners(planned: &PlannedPiece) -> Vec<(f64, f64)> {
    let film: Vec<_> = planned.film().collect();
    assert_eq!(film.len(), 1);
    film[0].contours[0]
        .iter()
        .map(|p| planned.placed.datum.read(*p))
        .collect()
}

const FRONT: Edge = [(1000.0, 700.0), (1012.0, 800.0)];
const REAR: Edge = [(1787.4, 712.0), (1801.0, 806.0)];

#[test]
fn a_section_ends_where_the_film_that_stays_ends() {
    for kind in [SideKind::Left, SideKind::Right] {
        let side = side(kind, &[FRONT, REAR]);
        let begun = first_piece(FirstKind::Section, &side, &[], Unit::Millimetre).unwrap();
        let planned = planned(&side, &begun);
        let mut found = corners(&planned);
        found.sort_by(|a, b| a.0.total_cmp(&b.0));
        let wanted = [FRONT[0], FRONT[1], REAR[0], REAR[1]];
        for (found, wanted) in found.iter().zip(wanted) {
            assert!(
                (found.0 - wanted.0).abs() < 1e-6 && (found.1 - wanted.1).abs() < 1e-6,
                "{kind:?} {found:?} {wanted:?}"
            );
        }
        let said = windrift_core::ground::said::plainly(&planned.said);
        assert_eq!(
            said,
            "It is fitted between the film edge 1 and the film edge 2, lapping over each by 0 mm, edge to edge."
        );
        // Lengths and widths by hand: √(787.4² + 12²) above, √(789² + 6²) below; √(12² + 100²) and √(13.6² + 94²) wide.
        let fit = planned.placed.fit.as_ref().unwrap();
        for figure in [
            "101 mm wide at the front",
            "95 mm at the rear",
            "787 mm long above",
            "789 mm below",
            "upper edge falls 12 mm",
            "lower edge falls 6 mm",
            "sloped",
        ] {
            assert!(fit.sentence.contains(figure), "{figure}: {}", fit.sentence);
        }
        // The tape is read to its own corners, where the film that stays was read.
        let flats = &planned.readings.flats;
        assert!(
            (flats.front.down_mm - 700.0).abs() < 1e-6 && (flats.rear.down_mm - 712.0).abs() < 1e-6
        );
        assert!(
            (flats.front.back_mm - 1000.0).abs() < 1e-6
                && (flats.rear.back_mm - 1787.4).abs() < 1e-6
        );
        assert_eq!(flats.front.to, "its upper corner");
        assert!(planned.troubles.is_empty(), "{:?}", planned.troubles);
    }
}

#[test]
fn without_two_edges_there_is_nothing_to_meet() {
    let one = side(SideKind::Left, &[FRONT]);
    let told = first_piece(FirstKind::Section, &one, &[], Unit::Millimetre).unwrap_err();
    assert!(told.to_string().contains("only one is measured"));
    let both = side(SideKind::Left, &[FRONT, REAR]);
    let section = first_piece(FirstKind::Section, &both, &[], Unit::Millimetre).unwrap();
    // One of them is taken away again: the section says so, and is not laid anywhere else.
    let settings = WorkSettings::default();
    let told = plan_piece(Uuid::nil(), &section, &one, &settings, Unit::Millimetre);
    assert!(
        told.err()
            .unwrap()
            .to_string()
            .contains("film edge that this section meets")
    );
}

#[test]
fn edges_that_meet_or_cross_leave_no_room() {
    // Their upper corners meet, and their lower ones cross.
    for rear in [
        [(1000.0, 700.0), (1801.0, 806.0)],
        [(1787.4, 712.0), (950.0, 806.0)],
    ] {
        let side = side(SideKind::Left, &[FRONT, rear]);
        let section = first_piece(FirstKind::Section, &side, &[], Unit::Millimetre).unwrap();
        let settings = WorkSettings::default();
        let told = plan_piece(Uuid::nil(), &section, &side, &settings, Unit::Millimetre);
        assert!(
            told.err()
                .unwrap()
                .to_string()
                .contains("no room for a section")
        );
    }
}

proptest! {
    /// Whatever was measured: the section's area is that of the four corners (geo), a lap adds its own strip at each end and a gap takes
    /// it, and bands share the width as the stripe has them.
    #[test]
    fn areas_and_laps_are_those_of_the_corners(
        back in 100.0..1500.0_f64, long in 200.0..3000.0_f64, down in 100.0..1200.0_f64,
        wide in 20.0..300.0_f64, other in 20.0..300.0_f64, fall in -80.0..80.0_f64,
        lean in -15.0..15.0_f64, lap in -20.0..20.0_f64, right in any::<bool>(),
    ) {
        let front = [(back, down), (back + lean, down + wide)];
        let rear = [(back + long, down + fall + 90.0), (back + long - lean, down + fall + 90.0 + other)];
        let kind = if right { SideKind::Right } else { SideKind::Left };
        let side = side(kind, &[front, rear]);
        let begun = first_piece(FirstKind::Section, &side, &[], Unit::Millimetre).unwrap();
        let area = |points: &[(f64, f64)]| {
            Polygon::new(LineString::from(points.to_vec()), vec![]).unsigned_area()
        };
        let plain = planned(&side, &begun);
        let whole = area(&[front[0], rear[0], rear[1], front[1]]);
        prop_assert!((area(&corners(&plain)) - whole).abs() < 1e-3);
        let lapped = planned(&side, &with_lap(begun.clone(), lap));
        // Each corner lies by the lap farther out on the line between the two upper, or the two lower, corners.
        for (a, b) in [(front[0], rear[0]), (front[1], rear[1])] {
            let (dx, dy) = (b.0 - a.0, b.1 - a.1);
            let far = dx.hypot(dy);
            for (end, out) in [(a, -lap), (b, lap)] {
                let wanted = (end.0 + dx / far * out, end.1 + dy / far * out);
                prop_assert!(corners(&lapped).iter().any(|c| (c.0 - wanted.0).hypot(c.1 - wanted.1) < 1e-6));
            }
        }
        // Two bands of a quarter and a half of the width, a quarter between them.
        let Art::Stripe(stripe) = &begun.art else { panic!() };
        let band = |gap: f64, wide: f64| Band { gap_mm: gap.into(), front_width_mm: wide.into(), rear_width_mm: wide.into() };
        let two = Piece { art: Art::Stripe(Stripe { bands: vec![band(0.0, 10.0), band(10.0, 20.0)], ..stripe.clone() }), ..begun.clone() };
        let two = planned(&side, &two);
        let bands: f64 = two.film().map(|s| s.area()).sum();
        let on = |edge: Edge, share: f64| (edge[0].0 + (edge[1].0 - edge[0].0) * share, edge[0].1 + (edge[1].1 - edge[0].1) * share);
        let wanted: f64 = [(0.0, 0.25), (0.5, 1.0)]
            .iter()
            .map(|(a, b)| area(&[on(front, *a), on(rear, *a), on(rear, *b), on(front, *b)]))
            .sum();
        prop_assert!((bands - wanted).abs() < 1e-3, "{bands} {wanted}");
    }
}
