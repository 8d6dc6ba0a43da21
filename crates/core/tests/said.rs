//! A rule as it is said: the figure that is spoken is the figure that is laid, and every figure in the picture can be typed over.

use proptest::prelude::*;
use uuid::Uuid;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::place::edges::{EdgePart, EdgeRef, LevelRef};
use windrift_core::place::nudge::nudge;
use windrift_core::place::rules::{AheadBehind, Along, Angle, Down, DownTo, LetterEnd, UpDown};
use windrift_core::place::said::{Said, plainly};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::plan::readings::{TapeFigure, move_to_read};
use windrift_core::vehicle::dimensions::{of_feature, of_side};
use windrift_core::vehicle::kinds::VehicleKind;
use windrift_core::vehicle::side::words::SideKind;

use super::common::{INCH, body, falling, features, piece, rules};

const UNIT: Unit = Unit::InchSixteenth;

fn planned(kind: SideKind, asked: &Piece) -> PlannedPiece {
    let other = piece("QUAY", "oswald", 100.0, 3000.0, 1500.0);
    let pieces = [
        (Uuid::from_u128(7), asked.clone()),
        (Uuid::from_u128(8), other),
    ];
    let plan = plan_side(
        &body(kind),
        &features(),
        &pieces,
        &JobAround::default(),
        &WorkSettings::default(),
        UNIT,
    )
    .unwrap();
    assert!(plan.failed.is_empty(), "{:?}", plan.failed);
    plan.pieces.into_iter().next().unwrap()
}

fn spoken(asked: &Piece) -> String {
    plainly(&planned(SideKind::Left, asked).said)
}

#[test]
fn a_rule_is_one_sentence() {
    let mut asked = piece("TIDEWAY", "archivo-black", 200.0, 18.0 * INCH, 27.75 * INCH);
    assert_eq!(
        spoken(&asked),
        "It hangs 27 3/4 below the top rail to its cap line, 18 back from the front edge to its first letter, along the top rail."
    );
    let seam = features()[0].id;
    rules(&mut asked).along = Along::FromEdge {
        edge: EdgeRef::Feature {
            feature: seam,
            number: 2,
            part: EdgePart::Middle,
        },
        distance_mm: (2.0 * INCH).into(),
        way: AheadBehind::Behind,
    };
    rules(&mut asked).down = Down::FromHeight {
        height: LevelRef::LowerEdge,
        distance_mm: (6.5 * INCH).into(),
        way: UpDown::Above,
        to: DownTo::Foot,
    };
    rules(&mut asked).angle = Angle::Level;
    assert_eq!(
        spoken(&asked),
        "It stands 6 1/2 above the bottom edge to the foot of its film, 2 clear behind the seam 2, level with the ground."
    );
    rules(&mut asked).along = Along::Centred {
        from: EdgeRef::FrontEdge,
        to: EdgeRef::RearEdge,
    };
    rules(&mut asked).down = Down::NextTo {
        piece: Uuid::from_u128(8),
        gap_mm: (3.0 * INCH).into(),
        way: UpDown::Above,
    };
    rules(&mut asked).angle = Angle::Degrees { degrees: 2.5 };
    assert_eq!(
        spoken(&asked),
        "It goes 3 above \u{201c}QUAY\u{201d}, centred between the front edge and the rear edge, turned 2.5 degrees, rear end down."
    );
}

#[test]
fn every_length_of_a_rule_is_a_field_at_its_own_place() {
    let asked = piece("TIDEWAY", "archivo-black", 200.0, 18.0 * INCH, 27.75 * INCH);
    let printed = windrift_core::ground::mm::printed(&asked, UNIT);
    let mut lengths = 0;
    for part in planned(SideKind::Left, &asked).said {
        if let Said::Length { at, text } = part {
            assert_eq!(printed.get(&at), Some(&text), "{at}");
            lengths += 1;
        }
    }
    assert_eq!(lengths, 2);
}

/// Types a figure over and gives what then stands there.
fn typed_over(
    kind: SideKind,
    asked: &Piece,
    figure: TapeFigure,
    reads: f64,
) -> Option<PlannedPiece> {
    let before = planned(kind, asked);
    let (back, down) = move_to_read(&before.readings, figure, reads)?;
    let side = body(kind);
    let mut moved = asked.clone();
    moved.place = nudge(
        &asked.place,
        &before.drawn,
        &before.placed,
        &side,
        back * side.direction(),
        down,
        UNIT,
    );
    Some(planned(kind, &moved))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    #[test]
    fn a_figure_that_is_typed_over_reads_as_typed(back in 200_u32..1200, drop in 100_u32..500, by in -60_i32..60, right in any::<bool>()) {
        let kind = if right { SideKind::Right } else { SideKind::Left };
        let mark = INCH / 16.0;
        let mut asked = piece("TIDE", "oswald", 150.0, f64::from(back) * mark, f64::from(drop) * mark);
        if right {
            rules(&mut asked).along = Along::FromFront { distance_mm: (f64::from(back) * mark).into(), to: LetterEnd::LastLetter };
        }
        let before = planned(kind, &asked);
        let by = f64::from(by) * mark;
        for (figure, now) in [(TapeFigure::FrontFlat, before.readings.flats.front.wanted.mm), (TapeFigure::RearFlat, before.readings.flats.rear.wanted.mm)] {
            let after = typed_over(kind, &asked, figure, now + by).unwrap();
            let flats = &after.readings.flats;
            let reads = if figure == TapeFigure::FrontFlat { &flats.front } else { &flats.rear };
            prop_assert_eq!(&reads.wanted.text, &print(now + by, UNIT).text);
            prop_assert_eq!(after.readings.first_letter.text.clone(), before.readings.first_letter.text.clone());
        }
        for number in 1..before.readings.chain.len() {
            let reads = before.readings.chain[number].gap.mm + by;
            if let Some(after) = typed_over(kind, &asked, TapeFigure::Gap { number }, reads) {
                prop_assert_eq!(&after.readings.chain[number].gap.text, &print(reads, UNIT).text);
            }
        }
    }
}

#[test]
fn a_gap_that_does_not_end_at_the_piece_is_not_moved_by_it() {
    let asked = piece("TIDE", "oswald", 150.0, 18.0 * INCH, 20.0 * INCH);
    let readings = planned(SideKind::Left, &asked).readings;
    let own = (1..readings.chain.len())
        .filter(|n| move_to_read(&readings, TapeFigure::Gap { number: *n }, 1.0).is_some());
    assert_eq!(
        own.count(),
        2,
        "before the first letter and behind the last"
    );
    assert_eq!(
        move_to_read(&readings, TapeFigure::Gap { number: 0 }, 1.0),
        None
    );
    assert_eq!(
        move_to_read(&readings, TapeFigure::Gap { number: 99 }, 1.0),
        None
    );
}

/// A printed figure in mm as a number.
fn figure(text: &str) -> f64 {
    let plain = text.replace('\u{2212}', "-");
    let digits: String = plain
        .chars()
        .filter(|c| c.is_ascii_digit() || matches!(c, '-' | '.'))
        .collect();
    digits.parse().unwrap()
}

#[test]
fn measures_stand_where_they_are_taken() {
    // What is level or plumb in the picture is as long there as it is typed; a rail that falls is longer along itself than across.
    for kind in VehicleKind::ALL {
        for (side, _) in kind.sides() {
            let printed = windrift_core::ground::mm::printed(&side, Unit::Millimetre);
            for d in of_side(&side) {
                let told = figure(&printed[&d.at]);
                let (dx, dy) = ((d.to[0] - d.from[0]).abs(), (d.to[1] - d.from[1]).abs());
                let drawn = if d.at.ends_with("corner_mm") {
                    dx
                } else {
                    dx.hypot(dy)
                };
                let slack = if d.at.ends_with("length_mm") {
                    0.01 * told + 0.6
                } else {
                    0.6
                };
                assert!((drawn - told.abs()).abs() <= slack, "{kind:?} {d:?} {told}");
            }
        }
    }
    let side = falling(SideKind::Right, 40.0);
    for f in features() {
        for d in of_feature(&f.feature, &side) {
            let printed = windrift_core::ground::mm::printed(&f.feature, Unit::Millimetre);
            let told = figure(&printed[&d.at]);
            let drawn = (d.to[0] - d.from[0]).hypot(d.to[1] - d.from[1]);
            assert!((drawn - told).abs() <= 0.6, "{d:?} {told}");
        }
    }
}
