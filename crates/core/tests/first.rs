//! What is added begins on the side and beside what is there, judged by a general geometry library.

use geo::{Contains, Coord, LineString, Polygon, Rect as GeoRect};
use kurbo::{Rect, Size};
use proptest::prelude::*;
use windrift_core::art::Art;
use windrift_core::art::lettering::Lettering;
use windrift_core::film::classes::FilmClass;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::first::{FirstKind, first_piece, in_film_for, place_of, usual_place};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::plan::sketch_side;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::shapes::StartShape;
use windrift_core::vehicle::surface::{Material, Surface};

const UNITS: [Unit; 3] = [
    Unit::InchSixteenth,
    Unit::InchThirtySecond,
    Unit::Millimetre,
];

fn planned(kind: FirstKind, side: &MeasuredSide, taken: &[Rect], unit: Unit) -> PlannedPiece {
    let piece = first_piece(kind, side, taken, unit).unwrap();
    plan_piece(
        Default::default(),
        &piece,
        side,
        &WorkSettings::default(),
        unit,
    )
    .unwrap_or_else(|e| panic!("{kind:?}: {e}"))
}

fn film(p: &PlannedPiece) -> Rect {
    p.placed.to_picture.transform_rect_bbox(p.drawn.nominal)
}

/// Whether a box lies on the side, says the general library.
fn on(side: &MeasuredSide, r: Rect) -> bool {
    let ring = |points: &[kurbo::Point]| {
        LineString::from(
            points
                .iter()
                .map(|p| Coord { x: p.x, y: p.y })
                .collect::<Vec<_>>(),
        )
    };
    let body = Polygon::new(ring(&side.outline.contours[0]), Vec::new());
    let r = GeoRect::new(Coord { x: r.x0, y: r.y0 }, Coord { x: r.x1, y: r.y1 });
    body.contains(&r.to_polygon())
}

proptest! {
    #[test]
    fn adding_never_fails_on_sides_of_any_size_and_lies_on_them(
        long in 300.0..20_000.0f64, share in 0.06..1.2f64, fall in -20.0..20.0f64, left in any::<bool>(), unit in 0usize..3,
    ) {
        let high = (long * share).clamp(150.0, 3000.0);
        let body = Body::Box { length_mm: long.into(), height_mm: high.into(), fall_mm: fall.into() };
        let kind = if left { SideKind::Left } else { SideKind::Right };
        let side = measure(&Side::new(kind, body, Surface::default()), &[]).unwrap();
        let mut taken = Vec::new();
        for kind in [FirstKind::Lettering, FirstKind::Panel, FirstKind::Lettering] {
            let piece = planned(kind, &side, &taken, UNITS[unit]);
            let box_ = film(&piece);
            prop_assert!(on(&side, box_), "{kind:?} at {box_:?} on {long} x {high}");
            // On a strip of a side the first one may take all the room there is.
            for there in taken.iter().filter(|_| high > 500.0) {
                prop_assert!(!there.overlaps(box_), "{kind:?} at {box_:?} over {there:?}");
            }
            taken.push(box_);
        }
        planned(FirstKind::Stripe, &side, &taken, UNITS[unit]);
    }
}

#[test]
fn on_every_starting_shape_what_is_added_lies_on_it() {
    for shape in StartShape::ALL {
        let kind = shape.names().1;
        let side = measure(&shape.start(kind).0, &[]).unwrap();
        for new in [FirstKind::Lettering, FirstKind::Panel] {
            for unit in UNITS {
                let piece = planned(new, &side, &[], unit);
                assert!(on(&side, film(&piece)), "{shape:?} {new:?}");
                let over = piece.troubles.iter().find(|t| t.contains("stands over"));
                assert_eq!(over, None, "{shape:?} {new:?}");
            }
        }
        planned(FirstKind::Stripe, &side, &[], Unit::InchSixteenth);
    }
}

fn door(back_mm: f64, width_mm: f64) -> SideFeature {
    let form = Form::Rectangle {
        back_mm: back_mm.into(),
        drop_mm: 50.0.into(),
        to: MeasuredTo::Corner,
        width_mm: width_mm.into(),
        height_mm: 900.0.into(),
        repeat: Repeat::ONCE,
    };
    SideFeature {
        id: uuid::Uuid::now_v7(),
        feature: Feature::new(FeatureKind::Glass, form),
    }
}

#[test]
fn what_stands_there_is_kept_off_and_what_is_too_large_is_seen_all_the_same() {
    let body = Body::Box {
        length_mm: 3000.0.into(),
        height_mm: 1000.0.into(),
        fall_mm: 0.0.into(),
    };
    // Glass over the usual place: the line goes behind it, at its usual size.
    let side = measure(
        &Side::new(SideKind::Left, body, Surface::default()),
        &[door(50.0, 1300.0)],
    )
    .unwrap();
    let piece = planned(FirstKind::Panel, &side, &[], Unit::Millimetre);
    assert!(film(&piece).x0 > 1350.0, "{:?}", film(&piece));
    // What does not fit between is begun over what is there; what is larger than the side at its front upper corner.
    let usual = usual_place(&side);
    let fits = place_of(&side, &[], Size::new(2500.0, 500.0), usual);
    assert!(fits.back_mm > 0.0 && fits.back_mm < 500.0);
    let large = place_of(&side, &[], Size::new(4000.0, 1200.0), usual);
    assert_eq!((large.back_mm, large.down_mm), (0.0, 0.0));
}

/// A job's stage knows what its screen shows: a line that runs over the end of the board is counted, one with room is not.
#[test]
fn what_stands_over_an_edge_is_counted() {
    let body = Body::Box {
        length_mm: 1000.0.into(),
        height_mm: 500.0.into(),
        fall_mm: 0.0.into(),
    };
    let board = Side::new(SideKind::Other, body, Surface::default());
    let line = |back: f64| {
        Piece::new(
            Art::Lettering(Lettering::line("HAVEN", "oswald", 150.0)),
            PlaceRule::from_front(back, LetterEnd::FirstLetter, 100.0),
        )
    };
    let over = |back: f64| {
        let pieces = [(uuid::Uuid::nil(), line(back))];
        let job = JobAround::default();
        let settings = WorkSettings::default();
        sketch_side(
            &board,
            &[],
            &pieces,
            &job,
            &settings,
            Unit::Millimetre,
            |_| false,
        )
        .unwrap()
        .not_on_it
    };
    assert_eq!((over(100.0), over(900.0), over(5000.0)), (0, 1, 1));
}

/// The film follows the surface where only one holds, and the crew's own choice stands (common practice, no source).
#[test]
fn what_is_added_is_in_the_film_that_its_surface_asks_for() {
    let on = |kind, material| {
        let body = Body::Box {
            length_mm: 3000.0.into(),
            height_mm: 900.0.into(),
            fall_mm: 0.0.into(),
        };
        measure(&Side::new(kind, body, Surface::of(material)), &[]).unwrap()
    };
    let film = |kind, side: &MeasuredSide| {
        let piece = first_piece(kind, side, &[], Unit::Millimetre).unwrap();
        piece.film()
    };
    let plastic = on(SideKind::Left, Material::TexturedPlastic);
    let hull = on(SideKind::Port, Material::Gelcoat);
    let steel = on(SideKind::Left, Material::PaintedSteel);
    assert_eq!(film(FirstKind::Lettering, &plastic), FilmClass::ThickKit);
    assert_eq!(film(FirstKind::Panel, &hull), FilmClass::HullPrint);
    assert_eq!(film(FirstKind::Lettering, &hull), FilmClass::CutLettering);
    assert_eq!(film(FirstKind::Panel, &steel), FilmClass::CastPrint);
    let mut own = first_piece(FirstKind::Panel, &steel, &[], Unit::Millimetre).unwrap();
    own.work.film = Some(FilmClass::ColourChange);
    assert_eq!(in_film_for(own, &plastic).film(), FilmClass::ColourChange);
}

#[test]
fn a_second_print_has_a_number_and_lettering_its_words() {
    let (side, _) = StartShape::BoxBody.start(SideKind::Left);
    let side = measure(&side, &[]).unwrap();
    let first = |kind| first_piece(kind, &side, &[], Unit::Millimetre).unwrap();
    let mut names = Vec::new();
    for wanted in ["printed panel", "printed panel 2", "printed panel 3"] {
        let piece = first(FirstKind::Panel).told_apart_from(&names);
        assert_eq!(piece.called(), wanted);
        names.push(piece.called());
    }
    // One that was taken away leaves its number to the next.
    names.remove(1);
    let next = first(FirstKind::Panel).told_apart_from(&names);
    assert_eq!(next.called(), "printed panel 2");
    names.push("NEW LETTERING".into());
    let words = first(FirstKind::Lettering).told_apart_from(&names);
    assert_eq!(words.called(), "NEW LETTERING");
}
