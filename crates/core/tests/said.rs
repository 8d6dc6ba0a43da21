//! A rule as it is said: the figure that is spoken is the figure that is laid, and every figure in the picture can be typed over.

use kurbo::Point;
use proptest::prelude::*;
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::kit::{Drawing, Seam};
use windrift_core::art::printed_panel::{Bleeds, KeyFeature, PrintedPanel};
use windrift_core::art::stripe::Stripe;
use windrift_core::ground::mm::printed;
use windrift_core::ground::outline::Shape;
use windrift_core::ground::said::{Said, plainly};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::marking::face_marking::{FreeSpan, TractorPlace, TractorRear, UnderrideMember};
use windrift_core::marking::said::{FaceWords, said as marking_said};
use windrift_core::marking::{Face, FaceMarking, WayOfLaying};
use windrift_core::place::edges::{EdgePart, EdgeRef, LevelRef};
use windrift_core::place::nudge::nudge;
use windrift_core::place::rules::{AheadBehind, Along, Angle, Down, DownTo, LetterEnd, UpDown};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::plan::readings::{TapeFigure, move_to_read};
use windrift_core::vehicle::dimensions::{of_feature, of_side};
use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::kind::{FeatureClass, FeatureKind};
use windrift_core::vehicle::feature::said::said as feature_said;
use windrift_core::vehicle::kinds::VehicleKind;
use windrift_core::vehicle::side::Reference;
use windrift_core::vehicle::side::words::Ends;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::features::{feature, forms_of};

use super::common::{INCH, body, falling, features, piece, rules};
use super::marking::twelve;

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
        if let Said::Length { at, text, .. } = part {
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

/// Holds sentences against what they are said of: every length stands at its own path as the tape shows it, every word that opens can be
/// kept as each of its options and is then said by that option's words, and no field is without a name. Gives the paths.
fn held_against<T>(spec: &T, sentences: impl Fn(&T) -> Vec<Vec<Said>>) -> Vec<String>
where
    T: Serialize + DeserializeOwned,
{
    let printed = printed(spec, UNIT);
    let now = serde_json::to_value(spec).unwrap();
    let mut paths = Vec::new();
    for part in sentences(spec).iter().flatten() {
        match part {
            Said::Words { .. } => {}
            Said::Length {
                at,
                text,
                label,
                without,
            } => {
                assert!(!label.is_empty(), "{at}");
                let stands = printed.get(at).map(String::as_str);
                assert_eq!(stands.unwrap_or_default(), text, "{at}");
                assert!(!text.is_empty() || !without.is_empty(), "{at}");
                paths.push(at.clone());
            }
            Said::Number {
                at, text, label, ..
            } => {
                assert!(!label.is_empty(), "{at}");
                let kept = now.pointer(at).and_then(Value::as_f64);
                assert_eq!(kept, text.parse().ok(), "{at}");
                paths.push(at.clone());
            }
            Said::Choice {
                at, text, options, ..
            } => {
                assert!(!text.is_empty(), "{at}");
                paths.push(at.clone());
                for option in options {
                    let mut next = now.clone();
                    let (parent, key) = at.rsplit_once('/').unwrap();
                    let place = next.pointer_mut(parent).unwrap().as_object_mut().unwrap();
                    place.insert(key.to_owned(), option.value.clone());
                    // An overlap is asked for with its measure.
                    if option.value == "overlap" {
                        place.insert("overlap_mm".into(), 12.7.into());
                    }
                    let next: T = serde_json::from_value(next).unwrap();
                    let now_said = sentences(&next)
                        .into_iter()
                        .flatten()
                        .find_map(|p| match p {
                            Said::Choice {
                                at: there, text, ..
                            } if there == *at => Some(text),
                            _ => None,
                        });
                    assert_eq!(now_said.as_ref(), Some(&option.text), "{at}");
                }
            }
        }
    }
    paths
}

#[test]
fn every_figure_of_a_feature_stands_in_its_sentence() {
    let mut side = body(SideKind::Left);
    side.references = vec![Reference {
        id: Uuid::from_u128(3),
        name: "body line".into(),
        front_drop_mm: 600.0.into(),
        rear_drop_mm: 600.0.into(),
    }];
    let edges = side.edge_names(WorkSettings::default().side_words);
    let tell = |f: &Feature| vec![feature_said(f, &side, &edges, UNIT)];
    for kind in FeatureKind::ALL {
        for form in forms_of(kind) {
            let mut feature = feature(kind, *form, &side, None, UNIT);
            match &mut feature.form {
                Form::Rectangle { repeat, .. } | Form::Round { repeat, .. } => {
                    repeat.count = 3;
                    repeat.rows = 2;
                }
                Form::Heads { columns, heads, .. } => (*columns, *heads) = (4, 7),
                Form::Upright { count, .. } => *count = 2,
                _ => {}
            }
            let paths = held_against(&feature, tell);
            for path in printed(&feature, UNIT).keys() {
                // Readings have a list of their own, zones keep nothing off.
                if path.contains("/points/")
                    || path == "/clearance_mm"
                        && matches!(kind.class(), FeatureClass::Heads | FeatureClass::Zone)
                {
                    continue;
                }
                assert!(paths.contains(path), "{kind:?} {form:?}: {path}");
            }
            assert!(
                paths.contains(&"/reference".to_owned()),
                "{kind:?} {form:?}"
            );
            let plain = plainly(&tell(&feature)[0]);
            assert!(!plain.contains("  ") && !plain.contains(" ,"), "{plain}");
        }
    }
}

#[test]
fn every_figure_of_a_stripe_a_kit_piece_and_a_print_stands_in_its_sentences() {
    let stripe = Stripe {
        parted: true,
        ..Stripe::of_width("beltline", "#14524d", 100.0)
    };
    let square = Shape::new(vec![
        [(0.0, 0.0), (400.0, 0.0), (400.0, 300.0)]
            .map(Point::from)
            .into(),
    ]);
    let drawing = Drawing {
        width_mm: Some(500.0.into()),
        seam: Seam::Overlap {
            overlap_mm: 12.7.into(),
        },
        ..Drawing::new("fin", &[square], "#b3261e")
    };
    let bleeds = Bleeds {
        front_mm: 76.2.into(),
        rear_mm: 50.8.into(),
        top_mm: 0.0.into(),
        foot_mm: 25.4.into(),
    };
    let key = KeyFeature {
        name: "phone number".into(),
        right_mm: 100.0.into(),
        down_mm: 50.0.into(),
        width_mm: 300.0.into(),
        height_mm: 76.2.into(),
    };
    let panel = PrintedPanel {
        name: "side".into(),
        width_mm: 2438.4.into(),
        height_mm: 1219.2.into(),
        bleed_mm: 25.4.into(),
        bleeds: Some(bleeds),
        colour: "#14524d".into(),
        picture: None,
        keys: vec![key],
    };
    for art in [
        Art::Stripe(stripe),
        Art::Drawing(drawing),
        Art::Panel(panel.clone()),
        Art::Panel(PrintedPanel {
            bleeds: None,
            ..panel
        }),
    ] {
        let asked = Piece {
            art,
            ..piece("X", "oswald", 100.0, 0.0, 0.0)
        };
        let paths = held_against(&asked, |p| p.art_said(UNIT));
        for path in printed(&asked, UNIT)
            .keys()
            .filter(|p| p.starts_with("/art/"))
        {
            // One bleed for all edges is not asked for where each has its own.
            let hidden = path == "/art/bleed_mm" && !paths.contains(path);
            assert!(paths.contains(path) || hidden, "{path}");
        }
    }
}

#[test]
fn what_is_settled_about_the_marking_of_a_face_stands_in_its_sentences() {
    let span = |from: f64, to: f64| FreeSpan {
        from_mm: from.into(),
        to_mm: to.into(),
    };
    let marking = FaceMarking {
        ground_mm: 2743.2.into(),
        stock: twelve(),
        way: WayOfLaying::Spaced,
        gap_limit_mm: Some(600.0.into()),
        strip_mm: Some(1219.2.into()),
        spare_mm: Some(304.8.into()),
        underride: Some(UnderrideMember {
            from_mm: 50.8.into(),
            to_mm: 2400.0.into(),
            foot_mm: 500.0.into(),
            top_mm: 610.0.into(),
            free_of: vec![span(300.0, 500.0)],
        }),
        tractor: Some(TractorRear {
            place: TractorPlace::Mudflap,
            zero: span(0.0, 600.0),
            far: span(1800.0, 2400.0),
            foot_mm: 300.0.into(),
            top_mm: 900.0.into(),
            bracket_mm: Some(950.0.into()),
            tyre_mm: None,
        }),
        own: None,
        read_back: None,
        reasons: Default::default(),
        readings: Vec::new(),
    };
    let words = |face| FaceWords {
        face,
        ways: true,
        rail: "top rail",
        ends: Ends(["street", "curb"]),
        unit: UNIT,
    };
    let mut paths = held_against(&marking, |m| marking_said(Some(m), &words(Face::Side)));
    paths.extend(held_against(&marking, |m| {
        marking_said(Some(m), &words(Face::Rear))
    }));
    for path in printed(&marking, UNIT).keys() {
        if !path.starts_with("/stock") {
            assert!(paths.contains(path), "{path}");
        }
    }
}
