//! Every rule for a place, on its own figures: distances measured back on the placed film. Rows with equal gaps against brute force;
//! mirrored places by property; cycles and contradictions by name; the story tape and both sides.

use crate::common::{INCH, along, body, falling, features, piece, rules};
use kurbo::Point;
use proptest::prelude::*;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::kit::{Drawing, ErrorTo};
use windrift_core::art::typeface::Typefaces;
use windrift_core::ground::outline::{Shape, bounds_of_shapes};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::edges::{EdgePart, EdgeRef, LevelPart, LevelRef};
use windrift_core::place::row::{equal_gaps, spread};
use windrift_core::place::rules::{
    AheadBehind, Along, Angle, Down, DownTo, PlaceRule, PointReading, UpDown,
};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::other_sides::SideParts;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};
use windrift_core::plan::story::{both_sides, stories};
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;

const UNIT: Unit = Unit::InchSixteenth;

fn id(n: u128) -> Uuid {
    Uuid::from_u128(1000 + n)
}

fn plan(side: &Side, pieces: &[Piece]) -> SidePlan {
    plan_among(side, pieces, &JobAround::default())
}

fn plan_among(side: &Side, pieces: &[Piece], around: &JobAround) -> SidePlan {
    let rows: Vec<(Uuid, Piece)> = (0..).map(id).zip(pieces.iter().cloned()).collect();
    plan_side(
        side,
        &features(),
        &rows,
        around,
        &WorkSettings::default(),
        UNIT,
    )
    .unwrap()
}

fn one(side: &Side, piece: &Piece) -> PlannedPiece {
    let mut plan = plan(side, std::slice::from_ref(piece));
    assert!(plan.failed.is_empty(), "{:?}", plan.failed[0].1.to_string());
    plan.pieces.remove(0)
}

fn failure(side: &Side, pieces: &[Piece], n: u128) -> String {
    let plan = plan(side, pieces);
    plan.failed
        .iter()
        .find(|(f, _)| *f == id(n))
        .unwrap_or_else(|| panic!("piece {n} is placed"))
        .1
        .to_string()
}

fn left() -> Side {
    body(SideKind::Left)
}

fn books() -> Piece {
    piece("BOOKS", "oswald", 250.0, 900.0, 700.0)
}

fn film(planned: &PlannedPiece) -> kurbo::Rect {
    let film: Vec<Shape> = planned.film().collect();
    bounds_of_shapes(&film)
}

fn seam(number: u32) -> EdgeRef {
    EdgeRef::Feature {
        feature: Uuid::from_u128(1),
        number,
        part: EdgePart::Middle,
    }
}

#[test]
fn from_an_edge_runs_to_the_nearer_end_on_both_sides() {
    for kind in [SideKind::Left, SideKind::Right] {
        let side = body(kind);
        for (way, expected) in [
            (AheadBehind::Behind, 96.0 * INCH + 50.0),
            (AheadBehind::Ahead, 96.0 * INCH - 50.0),
        ] {
            let placed = one(
                &side,
                &along(
                    books(),
                    Along::FromEdge {
                        edge: seam(2),
                        distance_mm: 50.0.into(),
                        way,
                    },
                ),
            )
            .placed;
            let near = if way == AheadBehind::Behind {
                placed.back_mm.0
            } else {
                placed.back_mm.1
            };
            assert!((near - expected).abs() < 1e-6, "{kind:?} {way:?}");
        }
    }
}

#[test]
fn a_distance_down_runs_to_what_it_says() {
    let down = |to| {
        let mut asked = piece("Qxg", "bitter", 200.0, 900.0, 0.0);
        rules(&mut asked).down = Down::FromDatum {
            distance_mm: 800.0.into(),
            to,
        };
        film(&one(&left(), &asked))
    };
    let cap = down(DownTo::CapLine);
    assert!((down(DownTo::Top).y0 - 800.0).abs() < 1e-6);
    assert!((down(DownTo::Foot).y1 - 800.0).abs() < 1e-6);
    assert!(
        (cap.y0 - down(DownTo::Baseline).y0 - 200.0).abs() < 1e-6,
        "cap line and baseline are a capital apart"
    );
    assert!((cap.y0 - down(DownTo::Middle).y0 - 100.0).abs() < 1e-6);
}

#[test]
fn heights_of_the_side_are_kept_as_it_changes() {
    let mut asked = books();
    rules(&mut asked).down = Down::FromHeight {
        height: LevelRef::LowerEdge,
        distance_mm: 150.0.into(),
        way: UpDown::Above,
        to: DownTo::Foot,
    };
    for height_mm in [2184.4, 1800.0] {
        let side = Side {
            body: Body::Box {
                length_mm: (288.0 * INCH).into(),
                height_mm: height_mm.into(),
                fall_mm: 0.0.into(),
            },
            ..left()
        };
        let rows = [(id(0), asked.clone())];
        let plan = plan_side(
            &side,
            &[],
            &rows,
            &JobAround::default(),
            &WorkSettings::default(),
            UNIT,
        )
        .unwrap();
        assert!((film(&plan.pieces[0]).y1 - (height_mm - 150.0)).abs() < 1e-6);
    }
    // Half way between the locker door's top and the upper edge, whatever stands there.
    let door = LevelRef::Feature {
        feature: Uuid::from_u128(3),
        number: 1,
        part: LevelPart::Top,
    };
    rules(&mut asked).down = Down::Centred {
        from: LevelRef::UpperEdge,
        to: door,
    };
    let placed = one(&left(), &asked);
    let cap = placed.placed.to_picture * Point::new(0.0, 0.0);
    let foot = placed.placed.to_picture * Point::new(0.0, placed.drawn.baseline_mm);
    assert!(((cap.y + foot.y) / 2.0 - 18.0 * INCH).abs() < 1e-6);
    rules(&mut asked).down = Down::Centred {
        from: LevelRef::UpperEdge,
        to: LevelRef::Feature {
            feature: Uuid::from_u128(77),
            number: 1,
            part: LevelPart::Top,
        },
    };
    assert!(failure(&left(), &[asked], 0).contains("is not there"));
}

#[test]
fn rules_stay_attached_when_the_side_grows() {
    let asked = along(
        books(),
        Along::Centred {
            from: EdgeRef::FrontEdge,
            to: EdgeRef::RearEdge,
        },
    );
    for length_mm in [7315.2, 6000.0] {
        let side = Side {
            body: Body::Box {
                length_mm: length_mm.into(),
                height_mm: 2184.4.into(),
                fall_mm: 0.0.into(),
            },
            ..left()
        };
        let rows = [(id(0), asked.clone())];
        let plan = plan_side(
            &side,
            &[],
            &rows,
            &JobAround::default(),
            &WorkSettings::default(),
            UNIT,
        )
        .unwrap();
        let (near, far) = plan.pieces[0].placed.back_mm;
        assert!((near - (length_mm - far)).abs() < 1e-6);
    }
}

#[test]
fn pieces_beside_and_under_others_keep_their_gap() {
    for kind in [SideKind::Left, SideKind::Right] {
        let first = piece("TERN", "oswald", 250.0, 2000.0, 700.0);
        let behind = along(
            books(),
            Along::Beside {
                piece: id(0),
                gap_mm: 120.0.into(),
                way: AheadBehind::Behind,
            },
        );
        let ahead = along(
            books(),
            Along::Beside {
                piece: id(0),
                gap_mm: 80.0.into(),
                way: AheadBehind::Ahead,
            },
        );
        let mut under = piece("x", "bitter", 90.0, 2100.0, 0.0);
        rules(&mut under).down = Down::NextTo {
            piece: id(0),
            gap_mm: 30.0.into(),
            way: UpDown::Below,
        };
        let mut over = piece("x", "bitter", 90.0, 2100.0, 0.0);
        rules(&mut over).down = Down::NextTo {
            piece: id(0),
            gap_mm: 30.0.into(),
            way: UpDown::Above,
        };
        let plan = plan(&body(kind), &[first, behind, ahead, under, over]);
        assert!(plan.failed.is_empty(), "{:?}", plan.failed);
        let back = |n: usize| plan.pieces[n].placed.back_mm;
        assert!((back(1).0 - back(0).1 - 120.0).abs() < 1e-6);
        assert!((back(0).0 - back(2).1 - 80.0).abs() < 1e-6);
        assert!((film(&plan.pieces[3]).y0 - film(&plan.pieces[0]).y1 - 30.0).abs() < 1e-6);
        assert!((film(&plan.pieces[0]).y0 - film(&plan.pieces[4]).y1 - 30.0).abs() < 1e-6);
    }
}

#[test]
fn rules_that_lead_back_are_named_with_both() {
    let beside = |n, way| {
        along(
            piece(["ONE", "TWO", "THREE"][n], "oswald", 100.0, 500.0, 500.0),
            Along::Beside {
                piece: id((n as u128 + 1) % 3),
                gap_mm: 10.0.into(),
                way,
            },
        )
    };
    let three = [0, 1, 2].map(|n| beside(n, AheadBehind::Behind));
    let told = failure(&left(), &three, 0);
    assert!(
        told.contains("“ONE” stands behind “TWO”, and “TWO” stands behind “THREE”"),
        "{told}"
    );
    // Of itself.
    let own = along(
        books(),
        Along::Beside {
            piece: id(0),
            gap_mm: 1.0.into(),
            way: AheadBehind::Ahead,
        },
    );
    assert!(failure(&left(), &[own], 0).contains("stands ahead of “BOOKS”"));
    // Along by one, down by the other: still a ring.
    let mut a = along(
        piece("A", "oswald", 100.0, 500.0, 500.0),
        Along::Beside {
            piece: id(1),
            gap_mm: 10.0.into(),
            way: AheadBehind::Behind,
        },
    );
    let mut b = piece("B", "oswald", 100.0, 500.0, 500.0);
    rules(&mut b).down = Down::NextTo {
        piece: id(0),
        gap_mm: 10.0.into(),
        way: UpDown::Below,
    };
    let told = failure(&left(), &[a.clone(), b.clone()], 1);
    assert!(
        told.contains("“A” stands behind “B”") && told.contains("“B” stands below “A”"),
        "{told}"
    );
    // A piece that hangs on a ring cannot be placed either, but the ring is not its fault.
    rules(&mut a).along = Along::Beside {
        piece: id(9),
        gap_mm: 10.0.into(),
        way: AheadBehind::Behind,
    };
    assert!(failure(&left(), &[a, b], 0).contains("no longer there"));
}

fn in_row(text: &str, number: u32, to: EdgeRef) -> Piece {
    along(
        piece(text, "archivo-black", 200.0, 0.0, 700.0),
        Along::EqualGaps {
            from: EdgeRef::FrontEdge,
            to,
            row: "names".into(),
            number,
        },
    )
}

#[test]
fn a_row_has_equal_gaps_and_says_what_does_not_agree() {
    let row = [
        in_row("TERN", 2, seam(3)),
        in_row("SKUA", 1, seam(3)),
        in_row("AUK", 3, seam(3)),
    ];
    let planned = plan(&left(), &row);
    assert!(planned.failed.is_empty());
    let back = |n: usize| planned.pieces[n].placed.back_mm;
    let gaps = [
        back(1).0,
        back(0).0 - back(1).1,
        back(2).0 - back(0).1,
        144.0 * INCH - back(2).1,
    ];
    assert!(gaps.iter().all(|g| (g - gaps[0]).abs() < 1e-6), "{gaps:?}");
    let told = failure(
        &left(),
        &[in_row("TERN", 1, seam(3)), in_row("SKUA", 2, seam(4))],
        0,
    );
    assert!(
        told.contains("“TERN” stands in a row between the front edge and the seam 3")
            && told.contains("the seam 4"),
        "{told}"
    );
    let told = failure(
        &left(),
        &[in_row("TERN", 1, seam(3)), in_row("SKUA", 1, seam(3))],
        1,
    );
    assert!(told.contains("both number 1"), "{told}");
    let told = failure(
        &left(),
        &[
            in_row("TERNHAVEN", 1, seam(1)),
            in_row("SALTMARSH", 2, seam(1)),
        ],
        0,
    );
    assert!(told.contains("wide together"), "{told}");
}

#[test]
fn a_row_keeps_off_what_stands_between() {
    // Low enough to meet the arch at 14' 9 to 17' 11 and the door from 19' 8.
    let low = |text: &str, number| {
        let mut piece = in_row(text, number, EdgeRef::RearEdge);
        rules(&mut piece).down = Down::FromDatum {
            distance_mm: 1850.0.into(),
            to: DownTo::CapLine,
        };
        piece
    };
    let planned = plan(&left(), &[low("TERN", 1), low("SKUA", 2), low("AUK", 3)]);
    assert!(planned.failed.is_empty(), "{:?}", planned.failed);
    for piece in &planned.pieces {
        assert!(
            piece.landing.hardware.is_empty(),
            "{}: {:?}",
            piece.piece.called(),
            piece.landing.hardware
        );
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn equal_gaps_are_no_worse_than_brute_force(
        widths in proptest::collection::vec(4_u32..30, 1..4),
        keep_outs in proptest::collection::vec((0_u32..100, 2_u32..20), 0..3),
    ) {
        let length = 100.0;
        let own: Vec<f64> = widths.iter().map(|w| f64::from(*w)).collect();
        let blocked: Vec<(f64, f64)> = keep_outs.iter().map(|(a, w)| (f64::from(*a), f64::from(a + w))).collect();
        let free = |at: f64, width: f64| blocked.iter().all(|(a, b)| at + width <= *a || at >= *b);
        // Every whole place of every piece.
        let mut least: Option<f64> = None;
        let mut stack = vec![Vec::<f64>::new()];
        while let Some(places) = stack.pop() {
            if places.len() == own.len() {
                let found = spread(&own, length, &places);
                least = Some(least.map_or(found, |l: f64| l.min(found)));
                continue;
            }
            let width = own[places.len()];
            let from = places.last().map_or(0.0, |p| p + own[places.len() - 1]);
            let mut at = from.ceil();
            while at + width <= length {
                if free(at, width) {
                    let mut next = places.clone();
                    next.push(at);
                    stack.push(next);
                }
                at += 1.0;
            }
        }
        let ours = equal_gaps(&own, length, &blocked, 0.25);
        match (ours, least) {
            (Some(places), Some(least)) => {
                for (at, width) in places.iter().zip(&own) {
                    prop_assert!(blocked.iter().all(|(a, b)| at + width <= a + 1e-6 || *at >= b - 1e-6));
                }
                let found = spread(&own, length, &places);
                prop_assert!(found <= least + 0.5, "{found} against {least}: {places:?}");
            }
            (None, Some(least)) => prop_assert!(false, "brute force found {least}"),
            // Places between whole figures may do where whole ones do not.
            (_, None) => {}
        }
    }

    #[test]
    fn a_mirrored_piece_lies_as_far_from_the_front_and_reads_from_left_to_right(
        text in "[A-Z]{2,6}",
        back in 300.0..3500.0_f64,
        down in 500.0..1200.0_f64,
        fall in 0.0..60.0_f64,
        degrees in prop_oneof![Just(0.0), -6.0..6.0_f64],
    ) {
        let (here, there) = (falling(SideKind::Left, fall), falling(SideKind::Right, fall));
        let mut asked = piece(&text, "oswald", 200.0, back, down);
        rules(&mut asked).angle = if degrees == 0.0 { Angle::AlongDatum } else { Angle::Degrees { degrees } };
        let own = [(id(0), asked.clone())];
        let parts = [SideParts { side: &here, features: &features(), pieces: &own }];
        let around = JobAround::of(&there, &parts, &Typefaces::default(), UNIT);
        let twin = Piece::new(asked.art.clone(), PlaceRule::Mirrored { of: id(0) });
        let (a, b) = (plan(&here, &[asked]), plan_among(&there, &[twin], &around));
        prop_assert!(b.failed.is_empty(), "{:?}", b.failed);
        let (a, b) = (&a.pieces[0], &b.pieces[0]);
        if degrees == 0.0 {
            prop_assert!((a.placed.back_mm.0 - b.placed.back_mm.0).abs() < 1e-6);
            prop_assert!((a.placed.back_mm.1 - b.placed.back_mm.1).abs() < 1e-6);
        }
        prop_assert!((a.placed.degrees(1.0) - b.placed.degrees(-1.0)).abs() < 1e-6);
        // The middle of the cap line is the mirror image of the other's.
        let middle = |p: &PlannedPiece| p.placed.to_picture * Point::new(p.drawn.nominal.center().x, 0.0);
        prop_assert!((middle(a).x + middle(b).x).abs() < 1e-6 && (middle(a).y - middle(b).y).abs() < 1e-6);
        // And it is a turn, never a mirror: letters read.
        prop_assert!((b.placed.to_picture.determinant() - 1.0).abs() < 1e-9);
    }
}

#[test]
fn two_pieces_that_mirror_each_other_are_told() {
    let (here, there) = (body(SideKind::Left), body(SideKind::Right));
    let twin = |n| Piece::new(books().art, PlaceRule::Mirrored { of: id(n) });
    let own = [(id(1), twin(0))];
    let around = JobAround::of(
        &here,
        &[SideParts {
            side: &there,
            features: &features(),
            pieces: &own,
        }],
        &Typefaces::default(),
        UNIT,
    );
    let rows = [(id(0), twin(1))];
    let plan = plan_side(
        &here,
        &features(),
        &rows,
        &around,
        &WorkSettings::default(),
        UNIT,
    )
    .unwrap();
    let told = plan.failed[0].1.to_string();
    assert!(
        told.contains("“BOOKS” mirrors “BOOKS” on the other side"),
        "{told}"
    );
    let lost = plan_among(&here, &[twin(5)], &JobAround::default());
    assert!(
        lost.failed[0]
            .1
            .to_string()
            .contains("is not on the other side")
    );
}

#[test]
fn angles_follow_a_line_a_height_or_degrees() {
    let side = falling(SideKind::Right, 50.8);
    let mut asked = along(
        books(),
        Along::Centred {
            from: EdgeRef::FrontEdge,
            to: EdgeRef::RearEdge,
        },
    );
    rules(&mut asked).angle = Angle::Degrees { degrees: 3.0 };
    let turned = one(&side, &asked);
    assert!((turned.placed.degrees(-1.0) - 3.0).abs() < 1e-9);
    // On the right side the front is at the picture's right: the rear end, at the left, is lower.
    let ends = |p: &PlannedPiece| {
        [0.0, p.drawn.nominal.x1].map(|x| p.placed.to_picture * Point::new(x, 0.0))
    };
    let [first, last] = ends(&turned);
    assert!(first.y > last.y);
    rules(&mut asked).angle = Angle::ToDrop {
        rear_drop_mm: 740.0.into(),
    };
    let to_drop = one(&side, &asked);
    let [first, last] = ends(&to_drop);
    let drop = |p: Point| to_drop.placed.datum.read(p).1;
    assert!((drop(last) - 700.0).abs() < 1e-6 && (drop(first) - 740.0).abs() < 1e-6);
    rules(&mut asked).angle = Angle::ToDrop {
        rear_drop_mm: 9000.0.into(),
    };
    assert!(failure(&side, &[asked.clone()], 0).contains("more than the piece is long"));
    rules(&mut asked).angle = Angle::Degrees { degrees: 999.0 };
    assert!(failure(&side, &[asked], 0).contains("between -180 and 180"));
}

#[test]
fn the_same_gap_rules_a_length_and_not_lettering() {
    let asked = along(
        books(),
        Along::SameGap {
            from: EdgeRef::FrontEdge,
            to: EdgeRef::RearEdge,
            gap_mm: 50.0.into(),
        },
    );
    let told = failure(&left(), &[asked], 0);
    assert!(
        told.contains("ruled twice: by the size of its letters, and by the same gap at both ends"),
        "{told}"
    );
}

fn fin(marks: Vec<[f64; 2]>) -> Drawing {
    let outline = vec![[0.0, 0.0], [900.0, 0.0], [900.0, 80.0], [0.0, 240.0]];
    Drawing {
        outlines: vec![outline],
        marks,
        line: [[0.0, 0.0], [900.0, 0.0]],
        ..Drawing::new("fin", &[], "#23405c")
    }
}

#[test]
fn measured_points_place_a_kit_piece_and_tell_what_is_left_over() {
    let reading = |at: [f64; 2], back_mm, drop_mm| PointReading {
        at,
        back_mm,
        drop_mm,
        pinned: false,
    };
    let by = |points: Vec<PointReading>, drawing: Drawing| {
        Piece::new(
            Art::Drawing(drawing),
            PlaceRule::Points {
                reference: None,
                points,
            },
        )
    };
    // Two points 900 apart on the piece, 903 on the body: 1.5 is left over at each, and that is all that it tells.
    let two = vec![
        reading([0.0, 0.0], 500.0.into(), 600.0.into()),
        reading([900.0, 0.0], 1403.0.into(), 600.0.into()),
    ];
    let fitted = one(&left(), &by(two.clone(), fin(vec![])));
    let fit = fitted.placed.fit.clone().unwrap();
    assert_eq!(
        fit.misses
            .iter()
            .map(|m| m.off.text.as_str())
            .collect::<Vec<_>>(),
        ["1/16", "1/16"]
    );
    assert!(fit.sentence.contains("A third point"));
    assert!((fitted.placed.to_picture * Point::ORIGIN).distance(Point::new(501.5, 600.0)) < 1e-6);
    // The error runs away from its own point.
    let kept = Drawing {
        error_to: ErrorTo::AwayFromPoint,
        ..fin(vec![])
    };
    let fitted = one(&left(), &by(two.clone(), kept));
    assert!((fitted.placed.to_picture * Point::ORIGIN).distance(Point::new(500.0, 600.0)) < 1e-6);
    assert!(
        fitted
            .placed
            .fit
            .unwrap()
            .sentence
            .contains("Point 1 fits exactly")
    );
    let far = one(
        &left(),
        &by(
            vec![
                PointReading {
                    pinned: true,
                    ..two[1]
                },
                two[0],
            ],
            fin(vec![]),
        ),
    );
    assert!(
        (far.placed.to_picture * Point::new(900.0, 0.0)).distance(Point::new(1403.0, 600.0)) < 1e-6
    );
    let error = failure(&left(), &[by(vec![two[0]], fin(vec![]))], 0);
    assert!(error.contains("there is one"), "{error}");
    let error = failure(&left(), &[by(vec![two[0], two[0]], fin(vec![]))], 0);
    assert!(error.contains("all at one place"), "{error}");
}

#[test]
fn a_second_layer_lies_on_the_marks_of_the_first() {
    let marks = vec![[100.0, 30.0], [800.0, 30.0]];
    let base = Piece::new(
        Art::Drawing(fin(marks.clone())),
        crate::common::rule(700.0, 800.0),
    );
    let shifted = Drawing {
        outlines: vec![vec![
            [-50.0, -20.0],
            [950.0, -20.0],
            [950.0, 100.0],
            [-50.0, 260.0],
        ]],
        ..fin(marks)
    };
    let second = Piece {
        order: 1,
        ..Piece::new(Art::Drawing(shifted), PlaceRule::Marks { of: id(0) })
    };
    let planned = plan(&left(), &[base.clone(), second]);
    assert!(planned.failed.is_empty());
    let at = |p: &PlannedPiece, n: usize| p.placed.to_picture * p.drawn.marks[n];
    for n in 0..2 {
        assert!(at(&planned.pieces[0], n).distance(at(&planned.pieces[1], n)) < 1e-6);
    }
    assert!(planned.pieces[1].placed.fit.is_some());
    assert_eq!(planned.pieces[1].overlaps[0].over, Some(true));
    assert!(
        planned.pieces[0].overlaps[0]
            .sentence
            .contains("Lies under")
    );
    let bare = Piece::new(Art::Drawing(fin(vec![])), PlaceRule::Marks { of: id(0) });
    assert!(failure(&left(), &[base, bare], 1).contains("has 0 registration marks"));
}

#[test]
fn pieces_that_overlap_without_an_order_are_a_trouble() {
    let planned = plan(
        &left(),
        &[
            books(),
            along(
                books(),
                Along::Beside {
                    piece: id(0),
                    gap_mm: (-60.0).into(),
                    way: AheadBehind::Behind,
                },
            ),
        ],
    );
    assert!(
        planned.pieces[0].troubles[0].contains("nothing says which goes on first"),
        "{:?}",
        planned.pieces[0].troubles
    );
    let mut over = books();
    over.order = 2;
    let planned = plan(&left(), &[books(), over]);
    assert!(
        planned
            .pieces
            .iter()
            .all(|p| p.troubles.iter().all(|t| !t.contains("goes on first")))
    );
    assert_eq!(planned.pieces[1].overlaps[0].over, Some(true));
}

#[test]
fn the_story_tape_closes_and_gaps_are_differences_of_printed_figures() {
    let pieces = [
        piece("TERN", "oswald", 251.3, 903.7, 700.0),
        along(
            piece("BAY", "oswald", 251.3, 0.0, 700.0),
            Along::Beside {
                piece: id(0),
                gap_mm: 77.7.into(),
                way: AheadBehind::Behind,
            },
        ),
    ];
    let plan = plan(&left(), &pieces);
    let story = &stories(&plan, &WorkSettings::default(), UNIT)[0];
    assert_eq!(story.datum, "top rail");
    let sum: f64 = story.marks.iter().map(|m| m.gap.mm).sum();
    assert!((sum - story.length.mm).abs() < 1e-9);
    assert!(
        story
            .marks
            .windows(2)
            .all(|m| m[0].running.mm <= m[1].running.mm)
    );
    assert_eq!(
        story.marks.iter().filter(|m| m.down.is_some()).count(),
        4,
        "two flats of each piece"
    );
    let widths: f64 = plan
        .pieces
        .iter()
        .map(|p| {
            let printed = |mm: f64| windrift_core::ground::tape::print(mm, UNIT).mm;
            printed(p.placed.back_mm.1) - printed(p.placed.back_mm.0)
        })
        .sum();
    let gaps: f64 = story.gaps.iter().map(|g| g.gap.mm).sum();
    assert!(
        (gaps + widths - story.length.mm).abs() < 1e-6,
        "gaps and pieces fill the tape"
    );
}

#[test]
fn both_sides_are_compared_and_more_than_the_tolerance_is_told() {
    let (here, there) = (body(SideKind::Left), body(SideKind::Right));
    let a = plan(&here, &[books()]);
    let far = a.pieces[0].placed.back_mm.0;
    let on_the_other = |off: f64| {
        let mut twin = books();
        rules(&mut twin).along = Along::FromFront {
            distance_mm: (far + off).into(),
            to: windrift_core::place::rules::LetterEnd::LastLetter,
        };
        plan(&there, &[twin])
    };
    let compare =
        |off: f64| both_sides(&a, &on_the_other(off), &WorkSettings::default(), UNIT).remove(0);
    assert_eq!(compare(1.5).trouble, None);
    let out = compare(6.35);
    assert!(out.trouble.unwrap().contains("differs by 1/4"));
    assert_eq!(out.figures.iter().filter(|f| f.too_much).count(), 2);
    let alone = both_sides(&a, &plan(&there, &[]), &WorkSettings::default(), UNIT).remove(0);
    assert!(alone.trouble.unwrap().contains("is not on the other side"));
}
