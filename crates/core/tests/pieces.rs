//! Placing, flats, chains and hinges: facts that hold for every piece, and parting cuts against the general library geo.

use crate::common::{INCH, body, falling, features, piece, rules};
use geo::{Distance, Euclidean, Line, LineString, Polygon};
use proptest::prelude::*;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::Size;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::place::edges::{EdgePart, EdgeRef};
use windrift_core::place::error::PlaceError;
use windrift_core::place::flats::FlatsAt;
use windrift_core::place::nudge::nudge;
use windrift_core::place::rules::{Along, Angle, LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::{PieceError, PlannedPiece};
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;

fn plan_on(body: Side, piece: &Piece) -> Result<PlannedPiece, PieceError> {
    plan_piece(
        Uuid::nil(),
        piece,
        &measure(&body, &features())?,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
}

fn tideway() -> Piece {
    piece(
        "TIDEWAY BOOKS",
        "archivo-black",
        14.0 * INCH,
        18.0 * INCH,
        27.75 * INCH,
    )
}

#[test]
fn flat_tops_of_t_and_k_read_the_cap_line() {
    let plan = plan_on(body(SideKind::Left), &tideway()).unwrap();
    let flats = &plan.readings.flats;
    assert_eq!(flats.at, FlatsAt::Tops);
    // S is round and overshoots: the last flat is on the K before it.
    assert_eq!(
        (flats.front.letter.as_deref(), flats.rear.letter.as_deref()),
        (Some("T"), Some("K"))
    );
    assert_eq!(
        (
            flats.front.wanted.text.as_str(),
            flats.rear.wanted.text.as_str()
        ),
        ("27 3/4", "27 3/4")
    );
    assert_eq!(plan.readings.first_letter.text, "18");
    // The T's bar begins the film, so its middle is half a bar back.
    assert!((flats.front.back_mm - 18.0 * INCH - flats.front.length_mm / 2.0).abs() < 0.5);
}

/// A tape is read to the cap line or to the baseline: not to the underside of a serif, the arm of an L or the bar of a 4. Every typeface,
/// every capital and figure that stands on the baseline and reaches the cap line.
#[test]
fn flats_lie_at_the_cap_line_or_the_baseline_in_every_typeface() {
    let high = 10.0 * INCH;
    let mut read = 0;
    for face in windrift_core::art::typeface::shipped() {
        for text in [
            "ITHLE", "EFHIT", "L4L", "4T1", "FLEET", "KIX7Z", "TLT", "MINT",
        ] {
            let plan = plan_on(
                body(SideKind::Left),
                &piece(text, &face.info.id, high, 18.0 * INCH, 20.0 * INCH),
            )
            .unwrap();
            let flats = &plan.readings.flats;
            for flat in [&flats.front, &flats.rear] {
                let from_cap = flat.down_mm - 20.0 * INCH;
                let end = match flats.at {
                    FlatsAt::Tops => 0.0,
                    FlatsAt::Feet => high,
                    _ => continue,
                };
                read += 1;
                assert!(
                    (from_cap - end).abs() <= 0.03 * high,
                    "{} {text}: {:?} {} is {from_cap} below the cap line",
                    face.info.id,
                    flats.at,
                    flat.to
                );
            }
        }
    }
    assert!(read > 80, "{read} flats were read");
}

#[test]
fn on_the_other_side_the_first_letter_is_farthest_from_the_front() {
    let mut mirrored = tideway();
    let plan = plan_on(body(SideKind::Left), &tideway()).unwrap();
    let (near, far) = plan.placed.back_mm;
    rules(&mut mirrored).along = Along::FromFront {
        distance_mm: near.into(),
        to: LetterEnd::LastLetter,
    };
    let right = plan_on(body(SideKind::Right), &mirrored).unwrap();
    assert!(
        (right.placed.back_mm.0 - near).abs() < 1e-6 && (right.placed.back_mm.1 - far).abs() < 1e-6
    );
    assert!(right.readings.first_letter.mm > right.readings.last_letter.mm);
    assert_eq!(right.readings.flats.front.letter.as_deref(), Some("K"));
    // Position mirrored, lettering not: the film's first letter still lies to the left as seen.
    let first = right.placed.to_picture * right.drawn.parts[0].bounds.center();
    let last = right.placed.to_picture * right.drawn.parts.last().unwrap().bounds.center();
    assert!(first.x < last.x && first.x < 0.0);
}

#[test]
fn script_has_no_flats_and_is_read_to_marks_that_are_cut_with_it() {
    let plan = plan_on(
        body(SideKind::Left),
        &piece("coves", "pacifico", 300.0, 500.0, 700.0),
    )
    .unwrap();
    let flats = &plan.readings.flats;
    assert_eq!(flats.at, FlatsAt::Marks);
    assert!(plan.drawn.cuts_marks());
    // Level along the rail, off the film on both sides of it, each where its mark lies.
    assert_eq!(flats.front.wanted.text, flats.rear.wanted.text);
    let read: Vec<f64> = plan
        .drawn
        .marks
        .iter()
        .map(|m| plan.placed.datum.read(plan.placed.to_picture * *m).0)
        .collect();
    assert_eq!([flats.front.back_mm, flats.rear.back_mm], read[..]);
    let film = plan.placed.back_mm;
    assert!(flats.front.back_mm < film.0 && flats.rear.back_mm > film.1);
    // Turned, the two read differently, and say so.
    let mut turned = piece("coves", "pacifico", 300.0, 500.0, 700.0);
    rules(&mut turned).angle = Angle::Degrees { degrees: 3.0 };
    let flats = plan_on(body(SideKind::Left), &turned)
        .unwrap()
        .readings
        .flats;
    assert_eq!(flats.at, FlatsAt::Marks);
    let fall = flats.rear.down_mm - flats.front.down_mm;
    let apart = flats.rear.back_mm - flats.front.back_mm;
    assert!(
        (fall - apart * 3.0_f64.to_radians().tan()).abs() < 0.01,
        "{fall} over {apart}"
    );
}

#[test]
fn centred_between_seams_leaves_the_same_on_both_sides() {
    let mut centred = piece("BOOKS", "oswald", 250.0, 0.0, 700.0);
    let seam = |number| EdgeRef::Feature {
        part: EdgePart::Middle,
        feature: Uuid::from_u128(1),
        number,
    };
    rules(&mut centred).along = Along::Centred {
        from: seam(2),
        to: seam(3),
    };
    let plan = plan_on(body(SideKind::Left), &centred).unwrap();
    let (near, far) = plan.placed.back_mm;
    assert!((near - 96.0 * INCH - (144.0 * INCH - far)).abs() < 1e-6);
    rules(&mut centred).along = Along::Centred {
        from: seam(2),
        to: seam(9),
    };
    assert_eq!(
        plan_on(body(SideKind::Left), &centred).unwrap_err(),
        PieceError::Place(PlaceError::EdgeGone)
    );
    rules(&mut centred).along = Along::Centred {
        from: seam(2),
        to: seam(2),
    };
    assert_eq!(
        plan_on(body(SideKind::Left), &centred).unwrap_err(),
        PieceError::Place(PlaceError::SameEdge)
    );
}

#[test]
fn a_piece_wider_than_the_side_is_laid_over_its_edge_and_it_says_by_how_much() {
    let mut wide = tideway();
    let Art::Lettering(lettering) = &mut wide.art else {
        unreachable!()
    };
    lettering.size = Size::OverallWidth {
        width_mm: (300.0 * INCH).into(),
    };
    let plan = plan_on(body(SideKind::Left), &wide).unwrap();
    let back = plan.readings.first_letter.mm;
    let over = print(back + 300.0 * INCH - 288.0 * INCH, Unit::InchSixteenth).text;
    assert!(
        plan.troubles.contains(&format!(
            "It stands over the rear edge by {over}. It is 25' 0 wide and the side 24' 0. Make the letters smaller, or choose a narrower typeface; or correct the side, if it is larger."
        )),
        "{:?}",
        plan.troubles
    );
}

#[test]
fn a_falling_rail_is_followed_and_the_difference_to_level_is_told() {
    let falling = falling(SideKind::Left, 50.8);
    let along = plan_on(falling.clone(), &tideway()).unwrap();
    assert_eq!(
        along.readings.flats.front.wanted.text,
        along.readings.flats.rear.wanted.text
    );
    let expected = 50.8 / (288.0 * INCH) * along.readings.width.mm;
    assert!(
        (along.readings.level_difference.mm - expected).abs() < 0.8 + 1e-6,
        "{:?}",
        along.readings.level_difference
    );
    let mut level = tideway();
    rules(&mut level).angle = Angle::Level;
    let level = plan_on(falling, &level).unwrap();
    assert!(
        (level.placed.back_mm.0 - 18.0 * INCH).abs() < 1e-6,
        "the ruled end stays where the rule says"
    );
    let (first, last) = (
        level.placed.to_picture * kurbo::Point::new(0.0, 0.0),
        level.placed.to_picture * kurbo::Point::new(1000.0, 0.0),
    );
    assert!((first.y - last.y).abs() < 1e-9, "level is level");
}

#[test]
fn half_of_the_tape_is_on_the_carrier() {
    let plan = plan_on(body(SideKind::Left), &tideway()).unwrap();
    let hinge = &plan.hinge;
    // Common practice, no source: 2 in tape along the whole top edge, half on the vehicle and half on the piece.
    assert_eq!(hinge.tape_width.text, "2");
    let [top, foot, carrier] = [hinge.tape[0][1], hinge.tape[3][1], hinge.carrier[0][1]];
    assert!((carrier - top - INCH).abs() < 1e-6 && (foot - carrier - INCH).abs() < 1e-6);
    assert!(
        (hinge.tape[1][0] - hinge.tape[0][0] - (plan.drawn.bounds.width() + 2.0 * INCH)).abs()
            < 1e-6
    );
    assert!(hinge.piece.mm * f64::from(hinge.pieces) >= hinge.tape[1][0] - hinge.tape[0][0] - 1e-6);
    assert!(hinge.piece.mm <= 36.0 * INCH + 1e-6);
}

fn film_of(plan: &PlannedPiece) -> Vec<Polygon> {
    let ring =
        |c: &Vec<kurbo::Point>| LineString::from(c.iter().map(|p| (p.x, p.y)).collect::<Vec<_>>());
    plan.film()
        .map(|s| {
            Polygon::new(
                ring(&s.contours[0]),
                s.contours[1..].iter().map(ring).collect(),
            )
        })
        .collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn no_parting_cut_touches_film(text in "[A-Z][A-Za-z ]{1,14}[a-zA-Z]", face in 0_usize..8, height in 40.0..200.0_f64) {
        let face = &windrift_core::art::typeface::shipped()[face].info.id;
        let plan = plan_on(body(SideKind::Left), &piece(&text, face, height, 300.0, 500.0));
        let Ok(plan) = plan else { return Ok(()) };
        let film = film_of(&plan);
        prop_assert_eq!(plan.hinge.cuts.len() + 1, plan.drawn.parts.len());
        for cut in &plan.hinge.cuts {
            match cut.line {
                Some([a, b]) => {
                    let line = Line::new((a[0], a[1]), (b[0], b[1]));
                    let clear = film.iter().map(|p| Euclidean.distance(p, &line)).fold(f64::INFINITY, f64::min);
                    prop_assert!(clear >= 2.0 - 1e-6, "{} | {}: {clear} mm", cut.left, cut.right);
                    // From the carrier's top edge to its foot: nothing is left hanging together.
                    prop_assert!((a[1] - plan.hinge.carrier[0][1]).abs() < 1e-6 && (b[1] - plan.hinge.carrier[2][1]).abs() < 1e-6);
                }
                None => prop_assert!(cut.clear_mm < 2.0),
            }
        }
    }

    #[test]
    fn printed_chains_close_and_moving_by_steps_moves_the_readings(back in 0.0..2000.0_f64, steps in 1_i32..40, right in any::<bool>()) {
        let side = body(if right { SideKind::Right } else { SideKind::Left });
        let mut asked = piece("HAVEN 12", "barlow-condensed", 200.0, back, 600.0);
        if right {
            rules(&mut asked).along = Along::FromFront { distance_mm: back.into(), to: LetterEnd::LastLetter };
        }
        let plan = plan_on(side.clone(), &asked).unwrap();
        let gaps: f64 = plan.readings.chain.iter().map(|m| m.gap.mm).sum();
        prop_assert!((gaps - 288.0 * INCH).abs() < 1e-6);
        // A step to the picture's right is away from the front on the left side, towards it on the right side.
        let unit = Unit::InchSixteenth;
        let moved = nudge(&asked.place, &plan.drawn, &plan.placed, &side, f64::from(steps) * unit.step_mm(), 0.0, unit);
        let PlaceRule::Rules(moved) = moved else { panic!() };
        let Along::FromFront { distance_mm, .. } = moved.along else { panic!() };
        let expected = back + f64::from(steps) * unit.step_mm() * side.direction();
        prop_assert!((distance_mm - expected).abs() <= unit.step_mm() / 2.0 + 1e-9);
        prop_assert!((distance_mm / unit.step_mm()).fract().abs().min(1.0 - (distance_mm / unit.step_mm()).fract().abs()) < 1e-6);
    }
}

#[test]
fn a_centred_piece_that_is_moved_gets_a_distance() {
    let mut centred = tideway();
    rules(&mut centred).along = Along::Centred {
        from: EdgeRef::FrontEdge,
        to: EdgeRef::RearEdge,
    };
    let plan = plan_on(body(SideKind::Left), &centred).unwrap();
    let moved = nudge(
        &centred.place,
        &plan.drawn,
        &plan.placed,
        &body(SideKind::Left),
        INCH,
        0.0,
        Unit::InchSixteenth,
    );
    let PlaceRule::Rules(moved) = moved else {
        panic!()
    };
    assert!(
        matches!(moved.along, Along::FromFront { distance_mm, .. } if (distance_mm - plan.placed.back_mm.0 - INCH).abs() < 1.0)
    );
    let down = nudge(
        &centred.place,
        &plan.drawn,
        &plan.placed,
        &body(SideKind::Left),
        0.0,
        INCH,
        Unit::InchSixteenth,
    );
    let PlaceRule::Rules(down) = down else {
        panic!()
    };
    assert_eq!(down.along, rules(&mut centred).along);
}
