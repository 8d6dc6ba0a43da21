//! The rear, tractors, contours, split strips, marks, cuts, readings: each published figure at its edge (from memory of the published
//! rules), and what is laid out against its own audit.

use windrift_core::marking::colours::{MARK_MM, keeps_mark};
use windrift_core::marking::cut_list::all_strips;
use windrift_core::marking::elements::elements;
use windrift_core::marking::face_marking::{FreeSpan, TractorPlace, TractorRear, UnderrideMember};
use windrift_core::marking::photometric::judge;
use windrift_core::marking::retro_reading::{Observation, RetroReading};
use windrift_core::marking::rules::Corrections;
use windrift_core::marking::strip::Marks;
use windrift_core::marking::{
    Audited, Element, Face, FaceMarking, MarkSide, MarkedKind, MarkedVehicle, Obstacle, RuleSet,
    Rules, Stock, Strip, TapeColour, WayOfLaying, cut_list, mark_face,
};
use windrift_core::vehicle::feature::kind::LampColour;

use super::{Case, box_side, marking_of, runs, trailer, twelve};

fn thing(name: &str, back: (f64, f64), height: (f64, f64), lamp: Option<LampColour>) -> Obstacle {
    Obstacle {
        name: name.into(),
        back_mm: back,
        height_mm: height,
        lamp,
        function: Default::default(),
        clear_mm: 0.0,
    }
}

/// A trailer's rear: two doors with hinges at both edges, lock rods in the middle, tail lamps low.
fn doors() -> MarkSide {
    let mut obstacles = Vec::new();
    for n in 0..4 {
        let low = 1250.0 + f64::from(n) * 700.0;
        obstacles.push(thing("left hinge", (0.0, 180.0), (low, low + 60.0), None));
        obstacles.push(thing(
            "right hinge",
            (2420.0, 2600.0),
            (low, low + 60.0),
            None,
        ));
    }
    for at in [900.0, 1200.0, 1360.0, 1660.0] {
        obstacles.push(thing("lock rod", (at, at + 40.0), (1000.0, 3900.0), None));
    }
    for at in [150.0, 2350.0] {
        obstacles.push(thing(
            "tail lamp",
            (at, at + 100.0),
            (930.0, 1030.0),
            Some(LampColour::Red),
        ));
    }
    MarkSide {
        face: Face::Rear,
        ends_mm: (0.0, 2600.0),
        height_mm: (900.0, 4000.0),
        obstacles,
        heads: Vec::new(),
    }
}

fn underride() -> UnderrideMember {
    UnderrideMember {
        from_mm: 100.0.into(),
        to_mm: 2500.0.into(),
        foot_mm: 480.0.into(),
        top_mm: 580.0.into(),
        free_of: vec![FreeSpan {
            from_mm: 2150.0.into(),
            to_mm: 2250.0.into(),
        }],
    }
}

#[test]
fn a_rear_has_a_line_corners_and_the_underride_member_and_passes_its_own_audit() {
    let marking = FaceMarking {
        underride: Some(underride()),
        ..marking_of(twelve())
    };
    let case = Case::of(doors(), RuleSet::UnitedStatesNew, marking);
    let strips = case.best();
    let of = |e: Element| strips.iter().filter(|s| s.element == e).collect::<Vec<_>>();
    assert_eq!(
        (of(Element::UpperZero).len(), of(Element::UpperFar).len()),
        (2, 2)
    );
    for s in of(Element::UpperZero).iter().chain(&of(Element::UpperFar)) {
        // 300 mm are asked; the white of this tape is 12 in long and is laid whole.
        assert!((s.length_mm() - 304.8).abs() < 1e-9);
        assert!(s.runs.iter().all(|r| r.colour == TapeColour::White));
    }
    // As close to the top and the edge as can be: the level one in the corner, the upright one below it or beside it.
    let zero = of(Element::UpperZero);
    assert!(
        zero.iter()
            .any(|s| s.rect().height_mm.1 > 3999.9 && s.start_mm < 0.1)
    );
    // The member: from end to end but for its label.
    let member: f64 = of(Element::Underride).iter().map(|s| s.length_mm()).sum();
    assert!(
        (member - (2400.0 - 100.0 - 2.0 * 3.175)).abs() < 0.01,
        "{member}"
    );
    // What is trimmed is trimmed where something is cleared: at the label, not at the member's free end.
    let last = of(Element::Underride).into_iter().last().unwrap();
    assert!((last.end_mm() - 2500.0).abs() < 1e-6 && last.runs.last().unwrap().length_mm >= 150.0);
    for finding in case.audit(&strips) {
        let wanted = Audited::Look;
        assert!(
            [wanted, Audited::Pass].contains(&finding.audited),
            "{finding:#?}"
        );
    }
    // Nothing at the upper rear of a container chassis; no member, no element.
    let open = MarkedVehicle {
        open_rear: true,
        ..trailer()
    };
    let rules = Rules::plain(RuleSet::UnitedStatesNew);
    assert_eq!(
        elements(&rules, Face::Rear, &open, &marking_of(twelve())),
        [Element::Line]
    );
}

#[test]
fn every_clause_of_the_rear_can_fail() {
    let marking = FaceMarking {
        underride: Some(underride()),
        ..marking_of(twelve())
    };
    let case = Case::of(doors(), RuleSet::UnitedStatesNew, marking);
    let best = case.best();
    let but = |element: Element, change: &dyn Fn(&mut Strip)| -> Vec<Strip> {
        best.iter()
            .cloned()
            .map(|mut s| {
                if s.element == element {
                    change(&mut s);
                }
                s
            })
            .collect()
    };
    let short = but(Element::UpperZero, &|s| {
        s.runs = runs(&[(TapeColour::White, 299.0)]);
    });
    assert_eq!(case.says(&short, "upper_zero.corner"), Audited::Fail);
    let red = but(Element::UpperFar, &|s| {
        s.runs = runs(&[(TapeColour::Red, 300.0)]);
    });
    assert_eq!(case.says(&red, "upper_far.corner"), Audited::Fail);
    let low = but(Element::UpperZero, &|s| s.centre_mm -= 200.0);
    assert_eq!(case.says(&low, "upper_zero.place"), Audited::ReasonNeeded);
    // 38 mm of C2 on the member alone; 37 is too narrow.
    let narrow = |mm: f64| but(Element::Underride, &move |s| s.width_mm = mm.into());
    assert_eq!(case.says(&narrow(38.0), "underride.width"), Audited::Pass);
    assert_eq!(case.says(&narrow(37.0), "underride.width"), Audited::Fail);
    let gone: Vec<Strip> = best
        .iter()
        .filter(|s| s.element != Element::Underride)
        .cloned()
        .collect();
    assert_eq!(case.says(&gone, "underride.full_width"), Audited::Fail);
    let mut first = true;
    let half: Vec<Strip> = best
        .iter()
        .filter(|s| s.element != Element::Line || std::mem::take(&mut first))
        .cloned()
        .collect();
    assert_eq!(case.says(&half, "line.full_width"), Audited::ReasonNeeded);
}

#[test]
fn red_is_lengthened_beside_red_lamps_and_white_kept_away() {
    let mut side = doors();
    // No height is free of the lamps.
    side.height_mm = (900.0, 1010.0);
    side.obstacles.retain(|o| o.lamp.is_some());
    let case = Case::of(side, RuleSet::UnitedStatesNew, marking_of(twelve()));
    let strips: Vec<Strip> = case
        .best()
        .into_iter()
        .filter(|s| s.element == Element::Line)
        .collect();
    // Between the lamps, right up to them: 1/8 in is left for the hardware.
    let middle = strips.iter().find(|s| s.length_mm() > 1000.0).unwrap();
    assert!((middle.start_mm - 253.175).abs() < 1e-6 && (middle.end_mm() - 2346.825).abs() < 1e-6);
    let (first, last) = (middle.runs.first().unwrap(), middle.runs.last().unwrap());
    assert_eq!(
        (first.colour, last.colour),
        (TapeColour::Red, TapeColour::Red)
    );
    assert_eq!(case.says(&strips, "line.lamps"), Audited::Pass);
    assert_eq!(case.says(&strips, "line.segments"), Audited::Pass);
    assert_eq!(case.says(&strips, "line.colours"), Audited::Pass);
}

/// A line that runs closely below red lamps is red beneath them, and white begins where it may: the share is kept.
#[test]
fn white_begins_where_red_lamps_let_it() {
    let six = Stock {
        pattern: runs(&[(TapeColour::Red, 152.4), (TapeColour::White, 152.4)]),
        ..twelve()
    };
    let lamp = |at: f64| {
        thing(
            "tail lamp",
            (at, at + 152.4),
            (1020.0, 1090.0),
            Some(LampColour::Red),
        )
    };
    let side = MarkSide {
        face: Face::Rear,
        height_mm: (920.0, 1000.0),
        obstacles: vec![
            lamp(152.4),
            lamp(2184.0),
            thing("plate", (1092.0, 1397.0), (900.0, 1100.0), None),
        ],
        ..box_side(2489.0)
    };
    let case = Case::of(side, RuleSet::UnitedStatesNew, marking_of(six));
    let strips = case.best();
    for key in ["line.lamps", "line.colours", "line.segments"] {
        assert_eq!(case.says(&strips, key), Audited::Pass, "{key} {strips:#?}");
    }
}

#[test]
fn a_strip_is_split_beside_a_rivet_row_where_that_spares_heads() {
    let mut side = box_side(6096.0);
    // Rows so near each other that no whole strip fits between them, 12 mm heads.
    side.height_mm = (1000.0, 1100.0);
    side.heads = (0..100)
        .map(|n| [f64::from(n) * 61.0, 1050.0, 6.0])
        .collect();
    let case = Case::of(side.clone(), RuleSet::UnitedStatesNew, marking_of(twelve()));
    let plans = mark_face(&case.ask());
    let strips = all_strips(&plans);
    assert_eq!(plans[0].heads_under, 0, "{plans:#?}");
    let open = strips[0].split_mm.unwrap();
    assert!((12.0..=25.0).contains(&open), "{open:?}");
    assert!(strips.iter().all(|s| (s.tape_mm() - 50.8).abs() < 1e-9));
    assert_eq!(case.says(&strips, "line.split"), Audited::Pass);
    let wide: Vec<Strip> = strips
        .iter()
        .map(|s| Strip {
            split_mm: Some(26.0.into()),
            width_mm: 76.8.into(),
            ..s.clone()
        })
        .collect();
    assert_eq!(case.says(&wide, "line.split"), Audited::Fail);
    // Heads too large for the gap: whole strips, and the heads are counted.
    side.heads.iter_mut().for_each(|h| h[2] = 14.0);
    let case = Case::of(side, RuleSet::UnitedStatesNew, marking_of(twelve()));
    let plans = mark_face(&case.ask());
    assert!(plans[0].heads_under > 0 && all_strips(&plans)[0].split_mm.is_none());
}

/// Its marks stand in the middle of each colour.
fn marked() -> Stock {
    Stock {
        marks: Some(Marks {
            first_mm: 152.4.into(),
            pitch_mm: 304.8.into(),
        }),
        ..twelve()
    }
}

#[test]
fn every_colour_keeps_its_mark_where_it_can() {
    assert!(keeps_mark(304.8, 304.8) && keeps_mark(304.8, (304.8 + MARK_MM) / 2.0));
    assert!(!keeps_mark(304.8, 150.0));
    for length in [700.0, 1000.0, 1800.0, 2599.0] {
        let case = Case::of(
            MarkSide {
                face: Face::Rear,
                ..box_side(length)
            },
            RuleSet::UnitedStatesNew,
            marking_of(marked()),
        );
        let strips = case.best();
        assert_eq!(case.says(&strips, "line.marks"), Audited::Pass, "{length}");
        assert_eq!(
            case.says(&strips, "line.segments"),
            Audited::Pass,
            "{length}"
        );
    }
    // 1234.5 mm is 15 mm more than four colours: with three whole ones the two ends share 320 mm, less than two times what keeps a
    // mark; with two, 625 mm, more than two whole ones. Whatever the cut, one end may lose its mark.
    let case = Case::of(
        MarkSide {
            face: Face::Rear,
            ..box_side(1234.5)
        },
        RuleSet::UnitedStatesNew,
        marking_of(marked()),
    );
    let strips = case.best();
    assert_eq!(case.says(&strips, "line.marks"), Audited::Fail);
    let lost = strips[0]
        .runs
        .iter()
        .filter(|r| !keeps_mark(304.8, r.length_mm.mm()));
    assert_eq!(lost.count(), 1);
    let case = Case::of(
        box_side(6096.0),
        RuleSet::UnitedStatesNew,
        marking_of(marked()),
    );
    let cut = Strip {
        runs: runs(&[(TapeColour::Red, 304.8), (TapeColour::White, 100.0)]),
        ..case.best()[0].clone()
    };
    assert_eq!(case.says(&[cut], "line.marks"), Audited::Fail);
}

#[test]
fn a_tractors_rear_has_two_strips_at_its_edges() {
    let rear = TractorRear {
        place: TractorPlace::Mudflap,
        zero: FreeSpan {
            from_mm: 0.0.into(),
            to_mm: 620.0.into(),
        },
        far: FreeSpan {
            from_mm: 1900.0.into(),
            to_mm: 2500.0.into(),
        },
        foot_mm: 300.0.into(),
        top_mm: 900.0.into(),
        bracket_mm: Some(900.0.into()),
        tyre_mm: None,
    };
    let mut case = Case::of(
        MarkSide {
            face: Face::Rear,
            ..box_side(2500.0)
        },
        RuleSet::UnitedStatesNew,
        FaceMarking {
            tractor: Some(rear.clone()),
            ..marking_of(twelve())
        },
    );
    case.vehicle.kind = MarkedKind::Tractor;
    let strips = case.best();
    let of = |e| strips.iter().find(|s| s.element == e).unwrap();
    // 12 and 12 in are 609.6 mm; at the far end only 600 fit, which is enough.
    assert!((of(Element::TractorZero).length_mm() - 609.6).abs() < 1e-9);
    assert!((of(Element::TractorFar).length_mm() - 600.0).abs() < 1e-9);
    assert_eq!(case.says(&strips, "tractor_zero.length"), Audited::Pass);
    assert_eq!(case.says(&strips, "tractor_far.length"), Audited::Pass);
    let low: Vec<Strip> = strips
        .iter()
        .cloned()
        .map(|s| Strip {
            centre_mm: if s.element == Element::TractorZero {
                620.0.into()
            } else {
                s.centre_mm
            },
            ..s
        })
        .collect();
    // 300 mm below the bracket's edge is 600: the tape's lower edge at 594.6 is too low.
    assert_eq!(
        case.says(&low, "tractor_zero.height"),
        Audited::ReasonNeeded
    );
    case.marking.tractor = Some(TractorRear {
        zero: FreeSpan {
            from_mm: 0.0.into(),
            to_mm: 599.0.into(),
        },
        ..rear
    });
    let plans = mark_face(&case.ask());
    assert!(
        plans[0]
            .refused
            .as_deref()
            .is_some_and(|r| r.contains("600 mm long"))
    );
    // Its sides ask for nothing.
    assert!(elements(&case.rules, Face::Side, &case.vehicle, &case.marking).is_empty());
}

#[test]
fn the_un_rear_is_a_contour_in_red_or_yellow_away_from_stop_lamps() {
    let red = Stock {
        grade: "C".into(),
        width_mm: 50.0.into(),
        pattern: runs(&[(TapeColour::Red, 500.0)]),
        pre_cut_mm: None,
        marks: None,
    };
    let mut case = Case::of(doors(), RuleSet::Unece, marking_of(red.clone()));
    let strips = case.best();
    for e in [
        Element::Line,
        Element::Top,
        Element::UprightZero,
        Element::UprightFar,
    ] {
        assert!(strips.iter().any(|s| s.element == e), "{e:?}");
    }
    for key in ["line.lamps", "line.face_colours", "line.ends", "top.within"] {
        assert_eq!(case.says(&strips, key), Audited::Pass, "{key}");
    }
    let lamps: Vec<Obstacle> = doors()
        .obstacles
        .into_iter()
        .filter(|o| o.lamp.is_some())
        .collect();
    for s in &strips {
        for o in &lamps {
            assert!(s.rect().apart_mm(&o.rect()) > 200.0, "{s:?}");
        }
    }
    let near = Strip {
        start_mm: 450.0.into(),
        centre_mm: 980.0.into(),
        runs: runs(&[(TapeColour::Red, 1000.0)]),
        ..strips[0].clone()
    };
    assert_eq!(
        case.says(&[near], "line.lamps"),
        Audited::Fail,
        "exactly 200 mm is not more"
    );
    // White is for the side.
    case.marking.stock.pattern = runs(&[(TapeColour::White, 500.0)]);
    assert_eq!(case.says(&case.best(), "line.face_colours"), Audited::Fail);
    // The share of the width is only a lead.
    assert_eq!(
        case.says(&strips, "line.rear_share"),
        Audited::FigureUncertain
    );
    // Where a contour is impossible, a line.
    case.vehicle.line_only = true;
    assert_eq!(
        elements(&case.rules, Face::Rear, &case.vehicle, &case.marking),
        [Element::Line]
    );
    // At the side: a line and two corners of at least 250 mm.
    let white = Stock {
        pattern: runs(&[(TapeColour::White, 500.0)]),
        ..red
    };
    let case = Case::of(box_side(12_000.0), RuleSet::Unece, marking_of(white));
    let strips = case.best();
    assert_eq!(case.says(&strips, "upper_zero.corner"), Audited::Pass);
    let short: Vec<Strip> = strips
        .iter()
        .cloned()
        .map(|s| {
            if s.element == Element::UpperZero {
                Strip {
                    runs: runs(&[(TapeColour::White, 249.0)]),
                    ..s
                }
            } else {
                s
            }
        })
        .collect();
    assert_eq!(case.says(&short, "upper_zero.corner"), Audited::Fail);
}

#[test]
fn the_rule_in_use_asks_no_segments_and_no_underride_member() {
    let marking = FaceMarking {
        underride: Some(underride()),
        ..marking_of(twelve())
    };
    let case = Case::of(doors(), RuleSet::UnitedStatesInUse, marking);
    let found = case.audit(&case.best());
    assert!(found.iter().all(|f| !f.key.contains("segments")
        && !f.key.contains("underride")
        && !f.key.contains("lamps")));
    assert!(
        found.iter().all(|f| f.clause.starts_with("49 CFR 393")),
        "{found:#?}"
    );
    // Yellow was allowed until 1 June 2009.
    let yellow = Stock {
        pattern: runs(&[(TapeColour::Yellow, 300.0)]),
        ..twelve()
    };
    let case = Case::of(
        box_side(6096.0),
        RuleSet::UnitedStatesInUse,
        marking_of(yellow),
    );
    assert_eq!(case.says(&case.best(), "line.face_colours"), Audited::Fail);
}

#[test]
fn voluntary_marking_keeps_its_limits() {
    let mut side = box_side(4000.0);
    side.obstacles.push(thing(
        "marker lamp",
        (3000.0, 3060.0),
        (1180.0, 1240.0),
        Some(LampColour::Amber),
    ));
    let yellow = Stock {
        pattern: runs(&[(TapeColour::Yellow, 300.0)]),
        ..twelve()
    };
    let mut case = Case::of(side.clone(), RuleSet::Voluntary, marking_of(yellow));
    case.vehicle.kind = MarkedKind::Equipment;
    let strips = case.best();
    assert!(!strips.is_empty());
    let found = case.audit(&strips);
    assert!(
        found.iter().all(|f| f.audited != Audited::Fail),
        "{found:#?}"
    );
    // What no figure settles wants somebody's word.
    assert_eq!(case.says(&strips, "line.not_alike"), Audited::ReasonNeeded);
    case.marking.reasons.insert(
        "line.not_alike".into(),
        "Plain yellow line, looked at from 15 m.".into(),
    );
    assert_eq!(case.says(&strips, "line.not_alike"), Audited::Reasoned);
    let near = |colour: TapeColour, away: f64| Strip {
        start_mm: 2000.0.into(),
        centre_mm: 1210.0.into(),
        runs: runs(&[(colour, 1000.0 - away)]),
        ..strips[0].clone()
    };
    assert_eq!(
        case.says(&[near(TapeColour::White, 76.0)], "line.lamps"),
        Audited::Pass
    );
    assert_eq!(
        case.says(&[near(TapeColour::White, 75.0)], "line.lamps"),
        Audited::Fail
    );
    let front = Case::of(
        MarkSide {
            face: Face::Front,
            ..side
        },
        RuleSet::Voluntary,
        marking_of(twelve()),
    );
    assert_eq!(
        front.says(&[near(TapeColour::Red, 500.0)], "line.face_colours"),
        Audited::Fail
    );
}

#[test]
fn cuts_add_up_and_follow_the_roll() {
    let case = Case::of(
        doors(),
        RuleSet::UnitedStatesNew,
        FaceMarking {
            underride: Some(underride()),
            ..marking_of(twelve())
        },
    );
    let strips = case.best();
    let lists = cut_list(&strips, &twelve());
    assert_eq!(lists.len(), 2, "the pattern, and white for the corners");
    let on_vehicle: f64 = strips.iter().map(Strip::length_mm).sum();
    let used: f64 = lists.iter().map(|l| l.used_mm).sum();
    assert!((used - on_vehicle).abs() < 1e-6);
    for list in &lists {
        let module = list.stock.module_mm();
        let mut at = 0.0;
        let mut waste = 0.0;
        for cut in &list.cuts {
            if list.stock.pattern.len() > 1 {
                at = (at + cut.skipped_mm) % module;
                let off = (at - cut.into_pattern_mm).abs();
                assert!(off < 1e-3 || (off - module).abs() < 1e-3, "{cut:?} {at}");
                at = (at + cut.length_mm) % module;
            }
            waste += cut.skipped_mm;
            let runs: f64 = cut.runs.iter().map(|r| r.length_mm).sum();
            assert!((runs - cut.length_mm).abs() < 1e-6);
        }
        assert!((waste - list.waste_mm).abs() < 1e-6);
    }
    // Whole modules from a roll waste nothing; in pre-cut strips of one module, as many as modules.
    let side = Case::of(
        box_side(6096.0),
        RuleSet::UnitedStatesNew,
        FaceMarking {
            way: WayOfLaying::Spaced,
            ..marking_of(twelve())
        },
    );
    let strips = side.best();
    assert!(cut_list(&strips, &twelve())[0].waste_mm.abs() < 1e-6);
    let pre = Stock {
        pre_cut_mm: Some(609.6.into()),
        marks: None,
        ..twelve()
    };
    let list = &cut_list(&strips, &pre)[0];
    assert_eq!(f64::from(list.pre_cut.unwrap()) * 609.6, list.used_mm);
    assert!(list.waste_mm.abs() < 1e-6);
}

/// Table XVI-c of 49 CFR 571.108 and class C of UN R104, as recalled: from memory.
#[test]
fn readings_are_judged_by_their_own_table() {
    let reading = |colour, observation, entrance, reading| RetroReading {
        place: "strip 1".into(),
        strip: None,
        colour,
        observation,
        entrance,
        reading,
    };
    let says = |set, grade: &str, r: RetroReading| judge(&[r], set, grade)[0].audited;
    let us = RuleSet::UnitedStatesNew;
    use Observation::{Fifth, Half, Third};
    use TapeColour::{Red, White, Yellow};
    assert_eq!(
        says(us, "C2", reading(White, Fifth, -4, 250.0)),
        Audited::Pass
    );
    assert_eq!(
        says(us, "C2", reading(White, Fifth, -4, 249.0)),
        Audited::Look
    );
    assert_eq!(says(us, "C2", reading(Red, Half, 30, 15.0)), Audited::Pass);
    assert_eq!(
        says(us, "C3", reading(White, Half, 30, 42.0)),
        Audited::Look
    );
    assert_eq!(says(us, "C4", reading(Red, Fifth, -4, 30.0)), Audited::Pass);
    // The cell that is only a lead; a geometry that the table does not have.
    assert_eq!(
        says(us, "C2", reading(Red, Half, 45, 100.0)),
        Audited::FigureUncertain
    );
    assert_eq!(
        says(us, "C2", reading(White, Third, 5, 900.0)),
        Audited::FigureUncertain
    );
    let un = RuleSet::Unece;
    assert_eq!(
        says(un, "C", reading(White, Third, 5, 450.0)),
        Audited::Pass
    );
    assert_eq!(
        says(un, "C", reading(Yellow, Third, 30, 129.0)),
        Audited::Look
    );
    assert_eq!(
        says(un, "C", reading(White, Fifth, -4, 900.0)),
        Audited::FigureUncertain
    );
    assert!(reading(White, Fifth, -4, f64::NAN).check().is_err());
}

#[test]
fn a_corrected_lead_is_judged_plainly_and_named() {
    let mut corrections = Corrections::new();
    corrections
        .entry(RuleSet::Unece)
        .or_default()
        .insert("side_share".into(), 0.8);
    let mut case = Case::of(
        box_side(10_000.0),
        RuleSet::Unece,
        marking_of(Stock {
            grade: "C".into(),
            width_mm: 50.0.into(),
            pattern: runs(&[(TapeColour::White, 500.0)]),
            pre_cut_mm: None,
            marks: None,
        }),
    );
    case.rules = Rules::of(RuleSet::Unece, &corrections);
    let found = case.audit(&case.best());
    let share = found.iter().find(|f| f.key == "line.side_share").unwrap();
    assert_eq!(
        (share.audited, share.corrected_from),
        (Audited::Pass, Some(0.7))
    );
}

#[test]
fn strips_that_are_none_are_refused_and_strips_that_are_wrong_are_told() {
    let mut marking = marking_of(twelve());
    assert!(marking.check().is_ok());
    let good = Case::of(box_side(6096.0), RuleSet::UnitedStatesNew, marking.clone()).best();
    let under = Strip {
        centre_mm: 10.0.into(),
        ..good[0].clone()
    };
    marking.own = Some(vec![under]);
    let told = marking.check().unwrap_err();
    let (at, sentence) = (told.field.unwrap(), told.sentence);
    assert!(at == "/own/0" && sentence.contains("below the ground"));
    let none = Strip {
        runs: Vec::new(),
        ..good[0].clone()
    };
    marking.own = Some(vec![none]);
    assert!(marking.check().is_err());
    marking.own = None;
    marking.ground_mm = (-3.0).into();
    assert!(
        marking
            .check()
            .unwrap_err()
            .sentence
            .contains("down to the ground")
    );
    marking.ground_mm = 1000.0.into();
    marking.underride = Some(UnderrideMember {
        to_mm: 50.0.into(),
        ..underride()
    });
    assert!(
        marking
            .check()
            .unwrap_err()
            .sentence
            .contains("end after it begins")
    );
    // Overlapping strips are kept as they were typed, and the audit says where.
    let case = Case::of(
        box_side(6096.0),
        RuleSet::UnitedStatesNew,
        marking_of(twelve()),
    );
    let over = [good[0].clone(), good[0].clone()];
    let found = case.audit(&over);
    let told = found.iter().find(|f| f.key == "line.obscured").unwrap();
    assert!(told.audited == Audited::Fail && told.measured.contains("overlap"));
    assert_eq!(told.strips, [1]);
}
