//! Every clause of every set has a finding, also those that nothing measured settles; and what the eye sees at once is seen.

use windrift_core::marking::face_marking::{FreeSpan, TractorPlace, TractorRear, UnderrideMember};
use windrift_core::marking::rules::Confidence;
use windrift_core::marking::{
    Audited, Face, FaceMarking, MarkSide, MarkedKind, MarkedVehicle, Obstacle, RuleSet, Stock,
    Strip, TapeColour,
};
use windrift_core::vehicle::feature::kind::LampColour;

use super::{Case, box_side, marking_of, runs, trailer, twelve};

/// The rear of a tractor with flaps.
pub fn tractor() -> Case {
    Case {
        vehicle: MarkedVehicle {
            kind: MarkedKind::Tractor,
            ..trailer()
        },
        ..Case::of(
            MarkSide {
                face: Face::Rear,
                ..box_side(2438.4)
            },
            RuleSet::UnitedStatesNew,
            FaceMarking {
                tractor: Some(TractorRear {
                    place: TractorPlace::Mudflap,
                    zero: free(0.0, 650.0),
                    far: free(1790.0, 2438.4),
                    foot_mm: 400.0.into(),
                    top_mm: 900.0.into(),
                    bracket_mm: Some(950.0.into()),
                    tyre_mm: Some(5000.0.into()),
                }),
                ..marking_of(twelve())
            },
        )
    }
}

/// A surface from here to there.
fn free(from: f64, to: f64) -> FreeSpan {
    FreeSpan {
        from_mm: from.into(),
        to_mm: to.into(),
    }
}

/// The rear of a trailer with a lamp and an underride member.
pub fn rear() -> (MarkSide, FaceMarking) {
    let side = MarkSide {
        face: Face::Rear,
        obstacles: vec![Obstacle {
            name: "tail lamp".into(),
            back_mm: (300.0, 400.0),
            height_mm: (950.0, 1050.0),
            lamp: Some(LampColour::Red),
            function: Default::default(),
            clear_mm: 0.0,
        }],
        ..box_side(2590.8)
    };
    let underride = Some(UnderrideMember {
        from_mm: 100.0.into(),
        to_mm: 2490.0.into(),
        foot_mm: 500.0.into(),
        top_mm: 600.0.into(),
        free_of: Vec::new(),
    });
    (
        side,
        FaceMarking {
            underride,
            ..marking_of(twelve())
        },
    )
}

/// The clauses of 49 CFR 571.108 S8.2, 393.13, UN R48 6.21 and R104, and 393.26(d), as recalled: from memory. A clause without a finding
/// would be taken for kept.
#[test]
fn every_clause_of_every_set_has_a_finding() {
    let (rear_side, rear_marking) = rear();
    let yellow = Stock {
        grade: "C".into(),
        pattern: runs(&[(TapeColour::Yellow, 500.0)]),
        ..twelve()
    };
    let red = Stock {
        pattern: runs(&[(TapeColour::Red, 500.0)]),
        ..yellow.clone()
    };
    let with_lamp = |side: MarkSide| MarkSide {
        obstacles: rear_side.obstacles.clone(),
        ..side
    };
    let side = || with_lamp(box_side(14_630.4));
    use RuleSet::{Unece, UnitedStatesInUse, UnitedStatesNew, Voluntary};
    let table: Vec<(Case, &[&str])> = vec![
        (
            Case::of(side(), UnitedStatesNew, marking_of(twelve())),
            &[
                "line.material",
                "line.width",
                "line.mark_size",
                "line.marks",
                "line.segments",
                "line.colours",
                "line.obscured",
                "line.lamps",
                "line.ends",
                "line.height",
                "line.level",
                "line.even",
                "line.side_share",
                "line.cargo",
                "line.reflectors",
                "line.face_colours",
            ],
        ),
        (
            Case::of(rear_side.clone(), UnitedStatesNew, rear_marking.clone()),
            &[
                "line.material",
                "line.width",
                "line.full_width",
                "line.height",
                "line.level",
                "line.ends",
                "line.segments",
                "line.colours",
                "line.lamps",
                "line.marks",
                "upper_zero.corner",
                "upper_zero.place",
                "upper_far.corner",
                "upper_far.place",
                "underride.width",
                "underride.full_width",
                "underride.segments",
                "underride.colours",
                "line.device_label",
                "line.obscured",
                "line.cargo",
            ],
        ),
        (
            Case::of(side(), UnitedStatesInUse, marking_of(twelve())),
            &[
                "line.width",
                "line.side_share",
                "line.ends",
                "line.height",
                "line.level",
                "line.even",
                "line.red_alone",
                "line.face_colours",
                "line.obscured",
                "line.cargo",
                "line.reflectors",
            ],
        ),
        (
            Case::of(rear_side.clone(), UnitedStatesInUse, marking_of(twelve())),
            &[
                "line.full_width",
                "line.ends",
                "line.height",
                "line.level",
                "upper_zero.corner",
                "upper_far.corner",
            ],
        ),
        (
            Case::of(box_side(12_000.0), Unece, marking_of(yellow)),
            &[
                "line.width",
                "line.widest",
                "line.side_share",
                "line.ends",
                "line.height",
                "line.level",
                "line.gaps",
                "line.face_colours",
                "line.marks",
                "line.visible",
                "upper_zero.corner",
                "upper_far.corner",
                "line.obscured",
            ],
        ),
        (
            Case::of(rear_side.clone(), Unece, marking_of(red)),
            &[
                "line.rear_share",
                "line.lamps",
                "line.plates",
                "line.visible",
                "line.face_colours",
            ],
        ),
        (
            Case::of(side(), Voluntary, marking_of(twelve())),
            &[
                "line.lamps",
                "line.face_colours",
                "line.not_alike",
                "line.not_weakened",
                "line.obscured",
            ],
        ),
    ];
    for (asked, keys) in table {
        let found = asked.audit(&asked.best());
        for key in keys {
            let of: Vec<_> = found.iter().filter(|f| f.key == *key).collect();
            assert_eq!(
                of.len(),
                1,
                "{:?} {:?}: {key}",
                asked.rules.set,
                asked.side.face
            );
            assert!(
                !of[0].clause.is_empty() && !of[0].asks.is_empty() && !of[0].measured.is_empty()
            );
        }
        // Nothing is kept where there is no strip.
        for finding in asked.audit(&[]) {
            let judged = !matches!(
                finding.audited,
                Audited::Look | Audited::FigureUncertain | Audited::ReasonNeeded
            );
            assert!(
                !judged || finding.audited == Audited::Fail,
                "without a strip: {finding:?}"
            );
        }
    }
    // A tractor's rear.
    let tractor = tractor();
    let found = tractor.audit(&tractor.best());
    for key in [
        "tractor_zero.length",
        "tractor_far.height",
        "tractor_far.edge",
        "upper_zero.corner",
        "line.hidden_share",
    ] {
        assert!(found.iter().any(|f| f.key == key), "{key}");
    }
    // On flaps the tyres' tops do not count, however high they were typed.
    assert!(
        found
            .iter()
            .filter(|f| f.key.ends_with(".height"))
            .all(|f| f.audited == Audited::Pass),
        "{found:?}"
    );
}

/// Evenness is judged: gaps of 3 and 49 in, and a strip that is missing, are seen; the best possible stands beside.
#[test]
fn uneven_spaces_and_a_missing_strip_are_seen() {
    let asked = Case::of(
        box_side(14_630.4),
        RuleSet::UnitedStatesNew,
        marking_of(twelve()),
    );
    let best = asked.best();
    assert_eq!(asked.finding(&best, "line.even").audited, Audited::Pass);
    let mut moved = best.clone();
    moved[2].start_mm = (moved[1].end_mm() + 3.0 * 25.4).into();
    let found = asked.finding(&moved, "line.even");
    assert_eq!(found.audited, Audited::ReasonNeeded);
    assert!(
        found.measured.contains("best layout\u{2019}s") || found.measured.contains("best layout's"),
        "{}",
        found.measured
    );
    let mut missing = best.clone();
    missing.remove(3);
    assert_eq!(
        asked.finding(&missing, "line.even").audited,
        Audited::ReasonNeeded
    );
    // With what is laid to spare, half is still covered.
    assert_eq!(
        asked.finding(&missing, "line.side_share").audited,
        Audited::Pass
    );
    // One strip an inch low is not level.
    let mut low = best.clone();
    low[1].centre_mm = (low[1].centre_mm.mm() - 25.4).into();
    let found = asked.finding(&low, "line.level");
    assert_eq!(
        (found.audited, found.strips.contains(&2)),
        (Audited::ReasonNeeded, true)
    );
}

/// A strip at 3 m on a plain side: the best layout in the band stands beside it, and no reason passes.
#[test]
fn no_reason_makes_three_metres_as_close_as_practicable() {
    let mut asked = Case::of(
        box_side(12_192.0),
        RuleSet::UnitedStatesNew,
        marking_of(twelve()),
    );
    asked
        .marking
        .reasons
        .insert("line.height".into(), "it looks better there".into());
    let high: Vec<Strip> = (asked.best().into_iter())
        .map(|s| Strip {
            centre_mm: 3000.0.into(),
            ..s
        })
        .collect();
    let found = asked.finding(&high, "line.height");
    assert_eq!(found.audited, Audited::Fail);
    assert!(
        found.measured.contains("The best layout lies at"),
        "{}",
        found.measured
    );
}

/// A short colour is excused by what it was trimmed for, not by a lamp at another height.
#[test]
fn a_short_colour_is_not_excused_by_a_lamp_above_it() {
    let lamp = |height: f64| Obstacle {
        name: "lamp".into(),
        back_mm: (1396.0, 1450.0),
        height_mm: (height, height + 60.0),
        lamp: Some(LampColour::Amber),
        function: Default::default(),
        clear_mm: 0.0,
    };
    let strip = |centre: f64| Strip {
        start_mm: 1000.0.into(),
        centre_mm: centre.into(),
        width_mm: 50.8.into(),
        runs: runs(&[(TapeColour::White, 200.0), (TapeColour::Red, 120.0)]),
        upright: false,
        split_mm: None,
        reflectors: None,
        element: Default::default(),
    };
    let of = |height| {
        Case::of(
            MarkSide {
                obstacles: vec![lamp(height)],
                ..box_side(12_192.0)
            },
            RuleSet::UnitedStatesNew,
            marking_of(twelve()),
        )
    };
    // The red ends 76 mm before the lamp, as far as it must be cut back.
    assert_eq!(
        of(1000.0)
            .finding(&[strip(1030.0)], "line.segments")
            .audited,
        Audited::Pass
    );
    assert_eq!(
        of(2500.0)
            .finding(&[strip(1030.0)], "line.segments")
            .audited,
        Audited::Fail
    );
}

/// Across a rear each continuous strip keeps the colours' shares by itself; along a side all together do.
#[test]
fn across_a_rear_colours_are_counted_strip_by_strip() {
    let strip = |start: f64, red: f64, white: f64| Strip {
        start_mm: start.into(),
        centre_mm: 1000.0.into(),
        width_mm: 50.8.into(),
        runs: runs(&[(TapeColour::Red, red), (TapeColour::White, white)]),
        upright: false,
        split_mm: None,
        reflectors: None,
        element: Default::default(),
    };
    let strips = [strip(0.0, 450.0, 150.0), strip(700.0, 150.0, 450.0)];
    let says = |face| {
        let side = MarkSide {
            face,
            ..box_side(2500.0)
        };
        Case::of(side, RuleSet::UnitedStatesNew, marking_of(twelve()))
            .finding(&strips, "line.colours")
    };
    assert_eq!(says(Face::Side).audited, Audited::Pass);
    let rear = says(Face::Rear);
    assert_eq!(
        (rear.audited, rear.strips.as_slice()),
        (Audited::Fail, &[1, 2][..])
    );
}

/// Every finding says how sure what it rests on is; tape too wide by a figure that is a lead only is uncertain, neither kept nor not.
#[test]
fn how_sure_a_figure_is_stands_in_its_finding() {
    let yellow = Stock {
        grade: "C".into(),
        width_mm: 75.0.into(),
        pattern: runs(&[(TapeColour::Yellow, 500.0)]),
        ..twelve()
    };
    let asked = Case::of(box_side(12_000.0), RuleSet::Unece, marking_of(yellow));
    let best = asked.best();
    let wide = asked.finding(&best, "line.widest");
    assert_eq!(
        (wide.audited, wide.sure),
        (Audited::FigureUncertain, Confidence::Lead)
    );
    assert!(
        wide.measured.contains("Not kept by this figure"),
        "{}",
        wide.measured
    );
    assert_eq!(asked.finding(&best, "line.level").sure, Confidence::Sure);
}
