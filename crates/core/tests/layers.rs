//! Layers of lettering as pieces of work of their own, against the film that they make together.

use geo::{Area, BooleanOps, Coord, LineString, MultiPolygon, Polygon};
use kurbo::{Affine, Point};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::drawn::{Drawn, LayerKind};
use windrift_core::art::lettering::{Lettering, OutlineLayer, SecondColour, ShadowLayer};
use windrift_core::ground::outline::Shape;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::flats::FlatsAt;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::{Piece, draw};
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

const INCH: f64 = 25.4;

fn side() -> Side {
    let body = Body::Box {
        length_mm: (144.0 * INCH).into(),
        height_mm: (60.0 * INCH).into(),
        fall_mm: (0.75 * INCH).into(),
    };
    Side::new(SideKind::Left, body, Surface::default())
}

fn words() -> Lettering {
    Lettering {
        shadow: Some(ShadowLayer {
            right_mm: (0.5 * INCH).into(),
            down_mm: (0.375 * INCH).into(),
            colour: "#1a1a1a".into(),
        }),
        outline: Some(OutlineLayer {
            out_mm: (0.25 * INCH).into(),
            colour: "#f4f1e6".into(),
        }),
        ..Lettering::line("FELT & HEATH", "oswald", 8.0 * INCH)
    }
}

/// The lettering with its layers on the side, the layers after it.
fn laid(words: Lettering) -> Vec<PlannedPiece> {
    let own = Uuid::from_u128(1);
    let place = PlaceRule::from_front(18.0 * INCH, LetterEnd::FirstLetter, 12.0 * INCH);
    let mut face = Piece::new(Art::Lettering(words), place);
    let layers = face.part_layers(own);
    let mut pieces = vec![(own, face)];
    pieces.extend((2..).map(Uuid::from_u128).zip(layers));
    let plan = plan_side(
        &side(),
        &[],
        &pieces,
        &Default::default(),
        &WorkSettings::default(),
        Unit::InchThirtySecond,
    )
    .unwrap();
    assert!(plan.failed.is_empty(), "{:?}", plan.failed);
    plan.pieces
}

fn film(shapes: impl Iterator<Item = Shape>) -> MultiPolygon {
    let ring = |c: &[Point]| {
        LineString::from(
            c.iter()
                .map(|p| Coord { x: p.x, y: p.y })
                .collect::<Vec<_>>(),
        )
    };
    shapes.fold(MultiPolygon::new(vec![]), |all, s| {
        let holes = s.contours[1..].iter().map(|c| ring(c)).collect();
        all.union(&Polygon::new(ring(&s.contours[0]), holes))
    })
}

#[test]
fn layers_laid_on_their_marks_make_the_film_that_was_drawn() {
    let pieces = laid(words());
    let called: Vec<_> = pieces.iter().map(|p| p.piece.called()).collect();
    assert_eq!(
        called,
        [
            "FELT & HEATH",
            "FELT & HEATH, shadow",
            "FELT & HEATH, outline"
        ]
    );
    let together = film(pieces.iter().flat_map(|p| p.film().collect::<Vec<_>>()));
    // The whole of it, drawn at once and put where the face lies by the marks.
    let measured = measure(&side(), &[]).unwrap();
    let place = PlaceRule::from_front(18.0 * INCH, LetterEnd::FirstLetter, 12.0 * INCH);
    let whole = draw(
        &Piece::new(Art::Lettering(words()), place),
        &measured,
        &Default::default(),
    )
    .unwrap();
    let face = &pieces[0];
    let by =
        face.placed.to_picture * face.drawn.marks[0] - Affine::rotate(turn(face)) * whole.marks[0];
    let at = Affine::translate(by) * Affine::rotate(turn(face));
    let drawn = film(whole.film().map(|s| s.transformed(at)));
    let apart =
        together.difference(&drawn).unsigned_area() + drawn.difference(&together).unsigned_area();
    assert!(apart < 1.0, "{apart} mm² of {}", drawn.unsigned_area());
}

fn turn(p: &PlannedPiece) -> f64 {
    p.placed.datum.back.y.asin()
}

#[test]
fn each_layer_is_read_to_its_own_flats_and_its_marks_lie_on_each_other() {
    let pieces = laid(words());
    let [face, shadow, outline] = pieces.as_slice() else {
        panic!()
    };
    let wanted = |p: &PlannedPiece| {
        assert_eq!(p.readings.flats.at, FlatsAt::Tops);
        p.readings.flats.front.wanted.mm / INCH
    };
    // Tops of the letters 12 in down; the outline stands 1/4 over them; the shadow is the outline's, 3/8 lower.
    for (piece, by_hand) in [(face, 12.0), (outline, 11.75), (shadow, 12.125)] {
        assert!((wanted(piece) - by_hand).abs() < 1e-9, "{}", wanted(piece));
    }
    let mark = |p: &PlannedPiece, n: usize| p.placed.to_picture * p.drawn.marks[n];
    for n in 0..2 {
        for other in [shadow, outline] {
            assert!(mark(face, n).distance(mark(other, n)) < 1e-6);
        }
    }
    // What lies under goes on first.
    let mut orders: Vec<_> = pieces
        .iter()
        .map(|p| (p.piece.order, p.piece.layer()))
        .collect();
    orders.sort_by_key(|o| o.0);
    let layers: Vec<_> = orders.into_iter().map(|o| o.1).collect();
    assert_eq!(
        layers,
        [Some(LayerKind::Shadow), Some(LayerKind::Outline), None]
    );
    assert!(
        pieces.iter().all(|p| p.troubles.is_empty()),
        "{:?}",
        pieces[0].troubles
    );
}

#[test]
fn a_second_colour_is_its_own_words_and_nothing_else() {
    let second = SecondColour {
        words: "HEATH".into(),
        colour: "#8c1d18".into(),
    };
    let pieces = laid(Lettering {
        second: Some(second),
        ..Lettering::line("FELT & HEATH", "oswald", 8.0 * INCH)
    });
    let letters = |d: &Drawn| d.parts.iter().map(|p| p.label.as_str()).collect::<String>();
    assert_eq!(letters(&pieces[0].drawn), "FELT&");
    assert_eq!(
        (letters(&pieces[1].drawn).as_str(), pieces[1].piece.colour()),
        ("HEATH", "#8c1d18")
    );
    assert!(pieces[1].piece.order > pieces[0].piece.order);
    // Plain again, nothing of it is left.
    let mut plain = Piece {
        art: Art::Lettering(Lettering::line("FELT", "oswald", 100.0)),
        ..pieces[0].piece.clone()
    };
    assert!(
        plain.part_layers(Uuid::from_u128(1)).is_empty()
            && plain.lettering().unwrap().only.is_none()
    );
}
