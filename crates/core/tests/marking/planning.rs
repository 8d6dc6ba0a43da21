//! The best layout of a line against a general integer-programming solver (HiGHS; `tools/reference/conspicuity.py`); plans against their
//! own audit.

use proptest::prelude::*;
use serde::Deserialize;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::laying::GAP_LIMIT_MM;
use windrift_core::marking::line::{
    Bound, LineProblem, NoLayout, ToBeat, first_goals, free, spaced, spaced_within,
};
use windrift_core::marking::{
    Audited, Budget, Face, FaceAsk, FaceMarking, Laying, MarkError, MarkPlan, MarkSide, Obstacle,
    RuleSet, Rules, Stock, TapeColour, WayOfLaying, audit, mark_face, plan,
};
use windrift_core::vehicle::feature::kind::LampColour;

use super::{box_side, marking_of, runs, trailer, twelve};

fn planned(side: &MarkSide, stock: &Stock, way: WayOfLaying) -> Result<MarkPlan, MarkError> {
    let rules = Rules::plain(RuleSet::UnitedStatesNew);
    let laying = Laying {
        rules: &rules,
        stock,
        way,
        gap_limit_mm: GAP_LIMIT_MM,
        split_mm: None,
        unit: Unit::Millimetre,
    };
    plan(side, &laying, &Budget::whole())
}

#[derive(Deserialize)]
struct Reference {
    cases: Vec<Case>,
}

#[derive(Debug, Deserialize)]
struct Case {
    width: f64,
    module: f64,
    blocked: Vec<(f64, f64)>,
    limit: f64,
    film: f64,
    modules: usize,
    pieces: usize,
    largest: f64,
    smallest: f64,
}

#[test]
fn the_best_line_is_the_integer_programmes_best() {
    let reference: Reference =
        serde_json::from_str(include_str!("../data/conspicuity.json")).unwrap();
    assert!(reference.cases.len() >= 200);
    for case in reference.cases {
        let problem = LineProblem {
            ends_mm: (0.0, case.width),
            blocked_mm: case.blocked.clone(),
            module_mm: case.module,
            least_film_mm: case.film,
            gap_limit_mm: Some(case.limit),
        };
        let found = spaced(&problem).unwrap();
        assert!(found.within_limit);
        assert_eq!(
            (found.modules, found.strips.len()),
            (case.modules, case.pieces),
            "{case:?} {found:?}"
        );
        assert!(
            (found.largest_gap_mm - case.largest).abs() < 0.01,
            "{case:?} {found:?}"
        );
        assert!(
            (found.smallest_gap_mm - case.smallest).abs() < 0.01,
            "{case:?} {found:?}"
        );
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn a_layout_is_what_it_says(
        width in 1500.0..17_000.0_f64,
        blocked in proptest::collection::vec((0.0..1.0_f64, 20.0..900.0_f64), 0..25),
        module in prop_oneof![Just(304.8), Just(457.2), Just(609.6)],
        share in 0.0..0.6_f64,
        limit in 300.0..2500.0_f64,
    ) {
        let problem = LineProblem {
            ends_mm: (0.0, width),
            blocked_mm: blocked.iter().map(|(at, long)| (at * width, at * width + long)).collect(),
            module_mm: module,
            least_film_mm: share * width,
            gap_limit_mm: Some(limit),
        };
        let free = free(&problem);
        match spaced(&problem) {
            Ok(found) => {
                prop_assert_eq!(found.strips.iter().map(|s| s.modules).sum::<usize>(), found.modules);
                prop_assert!(found.modules as f64 * module >= share * width - 1e-3);
                for s in &found.strips {
                    let end = s.start_mm + s.modules as f64 * module;
                    prop_assert!(free.iter().any(|(a, b)| s.start_mm >= a - 1e-3 && end <= b + 1e-3), "{s:?} {free:?}");
                }
                for w in found.strips.windows(2) {
                    let gap = w[1].start_mm - w[0].start_mm - w[0].modules as f64 * module;
                    prop_assert!(gap >= found.smallest_gap_mm - 1e-6 && gap <= found.largest_gap_mm + 1e-6);
                }
                prop_assert_eq!(found.within_limit, found.largest_gap_mm <= limit + 2e-3, "{:?}", found);
                // As near both ends as a module can be.
                prop_assert!((found.front_mm - free[0].0).abs() < 1e-6);
                prop_assert!((found.rear_mm - (width - free[free.len() - 1].1)).abs() < 1e-6);
                let goals = first_goals(&problem).unwrap();
                prop_assert_eq!(goals.modules, found.modules);
            }
            Err(NoLayout::NoRoom | NoLayout::NotBetter) => {}
            Err(NoLayout::TooLittle(fits)) => prop_assert!(fits < share * width),
        }
    }

    #[test]
    fn what_is_planned_passes_its_own_audit(
        seed in proptest::collection::vec((0.02..0.95_f64, 40.0..500.0_f64, 300.0..1500.0_f64, 30.0..300.0_f64, 0_u8..4), 0..30),
        length in 6000.0..16_200.0_f64,
        continuous in any::<bool>(),
    ) {
        let side = MarkSide {
            face: Face::Side,
            ends_mm: (0.0, length),
            height_mm: (500.0, 4000.0),
            obstacles: seed
                .iter()
                .enumerate()
                .map(|(n, (at, long, low, high, lamp))| Obstacle {
                    name: format!("thing {n}"),
                    back_mm: (at * length, at * length + long),
                    height_mm: (*low, low + high),
                    lamp: [None, None, Some(LampColour::Amber), Some(LampColour::Red)][usize::from(*lamp)],
                    clear_mm: 0.0,
                })
                .collect(),
            heads: Vec::new(),
        };
        let rules = Rules::plain(RuleSet::UnitedStatesNew);
        let way = if continuous { WayOfLaying::Continuous } else { WayOfLaying::Spaced };
        let Ok(found) = planned(&side, &twelve(), way) else { return Ok(()) };
        let marking = FaceMarking { way, ..marking_of(twelve()) };
        let ask = FaceAsk { ends: windrift_core::vehicle::side::words::Ends(["front", "rear"]), side: &side, rules: &rules, vehicle: &trailer(), marking: &marking, unit: Unit::Millimetre };
        let best = mark_face(&ask, &Budget::whole());
        for finding in audit(&ask, &found.strips, &best) {
            // Continuous laying covers whatever is free, which may be less than half, or more of one colour.
            let all_that_fits = continuous && (finding.asks.contains("50 %") || finding.key == "line.colours" || finding.key == "line.marks" || finding.asks.contains("mm long"));
            prop_assert!(finding.audited == Audited::Pass || all_that_fits, "{finding:?}\n{found:?}");
        }
    }
}

#[test]
fn a_height_without_things_in_the_way_is_taken_and_rivets_decide_between_the_rest() {
    let mut side = box_side(12_000.0);
    side.obstacles = (0..8)
        .map(|n| Obstacle {
            name: format!("hinge {n}"),
            back_mm: (f64::from(n) * 1500.0 + 200.0, f64::from(n) * 1500.0 + 420.0),
            height_mm: (900.0, 1100.0),
            lamp: None,
            clear_mm: 0.0,
        })
        .collect();
    side.heads = (0..200)
        .map(|n| [f64::from(n) * 60.0, 1210.0, 6.0])
        .collect();
    let found = planned(&side, &twelve(), WayOfLaying::Spaced).unwrap();
    assert!(
        found.centre_mm - 25.4 >= 1100.0,
        "above the hinges: {}",
        found.centre_mm
    );
    assert_eq!(
        found.heads_under, 0,
        "clear of the rivet row: {}",
        found.centre_mm
    );
    assert!(found.in_band && found.within_limit && found.proven);
    assert!(
        (found.strips[0].start_mm).abs() < 1e-6
            && (found.strips.last().unwrap().end_mm() - 12_000.0).abs() < 1e-6
    );
    // No surface in the band: as close as practicable, and said.
    let high = MarkSide {
        height_mm: (1700.0, 3900.0),
        obstacles: Vec::new(),
        heads: Vec::new(),
        ..side.clone()
    };
    let found = planned(&high, &twelve(), WayOfLaying::Spaced).unwrap();
    assert!(!found.in_band && (found.centre_mm - 1725.4).abs() < 1e-6);
    assert!(
        found
            .reasons
            .iter()
            .any(|r| r.contains("as close as practicable"))
    );
}

#[test]
fn what_cannot_be_gets_a_sentence() {
    let side = box_side(6000.0);
    let says = |side: &MarkSide, stock: &Stock, words: &str| {
        let error = planned(side, stock, WayOfLaying::Spaced).unwrap_err();
        assert!(error.to_string().contains(words), "{error}");
    };
    says(
        &side,
        &Stock {
            pattern: Vec::new(),
            ..twelve()
        },
        "at least 10 mm",
    );
    let short = runs(&[(TapeColour::Red, 50.0), (TapeColour::White, 50.0)]);
    says(
        &side,
        &Stock {
            pattern: short,
            ..twelve()
        },
        "laid continuously",
    );
    says(
        &side,
        &Stock {
            width_mm: 40.0.into(),
            ..twelve()
        },
        "at least 50 mm wide",
    );
    says(
        &side,
        &Stock {
            grade: "C4".into(),
            ..twelve()
        },
        "at least 100 mm wide",
    );
    says(
        &MarkSide {
            height_mm: (-200.0, 900.0),
            ..side.clone()
        },
        &twelve(),
        "to the ground again",
    );
    let everything = Obstacle {
        name: "rack".into(),
        back_mm: (-10.0, 6100.0),
        height_mm: (0.0, 4000.0),
        lamp: None,
        clear_mm: 0.0,
    };
    says(
        &MarkSide {
            obstacles: vec![everything],
            ..side.clone()
        },
        &twelve(),
        "Nowhere along this side",
    );
    let most = Obstacle {
        name: "rack".into(),
        back_mm: (700.0, 5300.0),
        height_mm: (0.0, 4000.0),
        lamp: None,
        clear_mm: 0.0,
    };
    let error = planned(
        &MarkSide {
            obstacles: vec![most],
            ..side
        },
        &twelve(),
        WayOfLaying::Spaced,
    )
    .unwrap_err();
    assert!(matches!(error, MarkError::TooLittle { .. }), "{error}");
}

/// Cut short, the best so far stands with what the best could be; given more, the two meet.
#[test]
fn a_proof_that_runs_out_of_work_says_how_good_the_best_could_be() {
    let line = LineProblem {
        ends_mm: (0.0, 16_154.4),
        blocked_mm: (0..40)
            .map(|n| f64::from(n) * 401.0 + 90.0)
            .map(|at| (at, at + 25.0))
            .collect(),
        module_mm: 304.8,
        least_film_mm: 8077.2,
        gap_limit_mm: Some(1219.2),
    };
    let best = spaced(&line).unwrap();
    assert!(best.bound.is_none());
    let mut bounds = 0;
    for steps in [1, 500, 5_000, 20_000, 80_000, 320_000] {
        let found = spaced_within(&line, None, &Budget::of(steps)).unwrap();
        // What comes before in the order of goals is never given up.
        assert_eq!(found.modules, best.modules);
        assert!((found.front_mm - best.front_mm).abs() < 1e-6);
        match found.bound {
            None => assert_eq!(found.strips.len(), best.strips.len()),
            Some(Bound::Pieces(least)) => assert!(least <= best.strips.len()),
            Some(Bound::LargestGap(mm)) => {
                assert!(
                    mm <= best.largest_gap_mm + 1e-3
                        && found.largest_gap_mm >= best.largest_gap_mm - 1e-3
                );
            }
            Some(Bound::SmallestGap(mm)) => assert!(mm >= best.smallest_gap_mm - 1e-3),
        }
        bounds += u32::from(found.bound.is_some());
    }
    assert!(bounds >= 2, "some of these are cut short");
}

/// A line is given up as no better only where it is: what it is compared with is held against its own best.
#[test]
fn a_line_is_given_up_only_where_it_is_worse() {
    let line = LineProblem {
        ends_mm: (0.0, 9000.0),
        blocked_mm: vec![(1200.0, 1900.0), (4000.0, 4300.0), (7000.0, 7100.0)],
        module_mm: 457.2,
        least_film_mm: 4500.0,
        gap_limit_mm: Some(1500.0),
    };
    let best = spaced(&line).unwrap();
    let against = |pieces, largest_gap_mm| {
        spaced_within(
            &line,
            Some(ToBeat {
                pieces,
                largest_gap_mm,
            }),
            &Budget::whole(),
        )
    };
    let (pieces, gap) = (best.strips.len(), best.largest_gap_mm);
    let same = against(pieces, gap + 0.5).unwrap();
    assert!((same.largest_gap_mm - gap).abs() < 0.01);
    assert!((same.smallest_gap_mm - best.smallest_gap_mm).abs() < 0.01);
    assert_eq!(against(pieces, gap - 0.5), Err(NoLayout::NotBetter));
    assert_eq!(against(pieces - 1, 1500.0), Err(NoLayout::NotBetter));
    assert!(against(pieces + 1, 1.0).is_ok(), "fewer strips come first");
}
