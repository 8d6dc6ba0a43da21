//! Reflective marking: every published figure as recalled (from memory; check against the text in force); the best layout of a line
//! against a general integer-programming solver (HiGHS; `tools/reference/conspicuity.py`); plans against their own audit.
#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use proptest::prelude::*;
use serde::Deserialize;
use time::macros::date;
use windrift_core::conspicuity::audit::Against;
use windrift_core::conspicuity::line::{LineProblem, NoLayout, first_goals, free, spaced};
use windrift_core::conspicuity::rules::{Corrections, Measure, PHOTOMETRIC};
use windrift_core::conspicuity::side::{ColourRun, GAP_LIMIT_MM, MarkError, Obstacle};
use windrift_core::conspicuity::{
    Audited, MarkSide, MarkedKind, MarkedVehicle, Required, RuleSet, Rules, Stock, Strip,
    TapeColour, UneceCategory, WayOfLaying, applies, audit, plan,
};
use windrift_core::feature::LampColour;
use windrift_core::tape::Unit;

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
    let reference: Reference = serde_json::from_str(include_str!("data/conspicuity.json")).unwrap();
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
            Err(NoLayout::NoRoom) => {}
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
                })
                .collect(),
            heads: Vec::new(),
        };
        let rules = Rules::plain(RuleSet::UnitedStatesNew);
        let way = if continuous { WayOfLaying::Continuous } else { WayOfLaying::Spaced };
        let Ok(found) = plan(&side, &rules, &twelve(), way, GAP_LIMIT_MM, Unit::Millimetre) else { return Ok(()) };
        let goals = found.strips.first().unwrap().start_mm;
        let against = Against {
            rules: &rules,
            grade: "C2",
            best_ends_mm: Some((goals, length - found.strips.last().unwrap().end_mm())),
            unit: Unit::Millimetre,
        };
        for finding in audit(&side, &found.strips, &against) {
            // Continuous laying covers whatever is free, which may be less than half, or more of one colour.
            let all_that_fits = continuous && (finding.asks.contains("50 %") || finding.asks.contains("two thirds") || finding.asks.contains("mm long"));
            prop_assert!(finding.audited == Audited::Pass || all_that_fits, "{finding:?}\n{found:?}");
        }
    }
}

fn runs(lengths: &[(TapeColour, f64)]) -> Vec<ColourRun> {
    lengths
        .iter()
        .map(|(colour, length_mm)| ColourRun {
            colour: *colour,
            length_mm: *length_mm,
        })
        .collect()
}

/// Twelve inches red, twelve white, 2 in wide.
fn twelve() -> Stock {
    Stock {
        grade: "C2".into(),
        width_mm: 50.8,
        pattern: runs(&[(TapeColour::Red, 304.8), (TapeColour::White, 304.8)]),
    }
}

/// 49 CFR 571.108 S8.2, 393.13, UN R48 6.21 and R104, as recalled: from memory.
#[test]
fn the_published_figures_are_there() {
    let check = |set: RuleSet, expected: &[(&str, f64)]| {
        let rules = Rules::plain(set);
        for (key, value) in expected {
            assert!(
                (rules.get(key).unwrap() - value).abs() < 1e-9,
                "{set:?} {key}"
            );
        }
        assert_eq!(
            set.figures().len(),
            expected.len(),
            "every figure of {set:?} is checked here"
        );
    };
    check(
        RuleSet::UnitedStatesNew,
        &[
            ("width", 2032.0),
            ("gvwr", 4536.0),
            ("tape_width_c2", 50.0),
            ("tape_width_c3", 75.0),
            ("tape_width_c4", 100.0),
            ("mark_every", 300.0),
            ("segment_least", 150.0),
            ("segment_most", 450.0),
            ("colour_share", 2.0 / 3.0),
            ("lamp_distance", 75.0),
            ("side_share", 0.5),
            ("centre_low", 375.0),
            ("centre_high", 1525.0),
            ("corner_strip", 300.0),
            ("underride_tape", 38.0),
            ("split_width", 25.0),
            ("split_gap", 25.0),
        ],
    );
    check(
        RuleSet::UnitedStatesInUse,
        &[
            ("width", 2032.0),
            ("gvwr", 4536.0),
            ("tape_width_c2", 50.0),
            ("side_share", 0.5),
            ("centre_low", 375.0),
            ("centre_high", 1525.0),
            ("corner_strip", 300.0),
            ("split_width", 25.0),
            ("split_gap", 25.0),
        ],
    );
    check(
        RuleSet::Unece,
        &[
            ("width", 2100.0),
            ("length", 6000.0),
            ("mass_n2", 7500.0),
            ("side_share", 0.7),
            ("reduced_share", 0.4),
            ("rear_share", 0.7),
            ("ends", 600.0),
            ("lower_low", 250.0),
            ("lower_high", 1500.0),
            ("lower_highest", 2500.0),
            ("upper_within", 400.0),
            ("gap_share", 0.5),
            ("gap_most", 1000.0),
            ("corner_strip", 250.0),
            ("stop_lamp", 200.0),
            ("tape_width_c2", 50.0),
        ],
    );
    // Nothing of one set is in another: segments and colour shares are the new rule's alone.
    for key in ["segment_least", "colour_share", "lamp_distance"] {
        assert!(
            Rules::plain(RuleSet::UnitedStatesInUse).get(key).is_none()
                && Rules::plain(RuleSet::Unece).get(key).is_none()
        );
    }
    for set in RuleSet::ALL {
        for f in set.figures() {
            assert!(!f.clause.is_empty() && !f.says.is_empty() && f.value > 0.0);
            assert!(f.measure != Measure::Share || f.value <= 1.0);
        }
    }
    // Table XVI-c as recalled: C3 about two thirds, C4 about half of C2.
    assert_eq!(PHOTOMETRIC[0].white, [250.0, 65.0]);
    assert_eq!(PHOTOMETRIC[0].red, [60.0, 15.0]);
    for (n, scale) in [(3, 2.0 / 3.0), (6, 0.5)] {
        for row in 0..2 {
            let (c2, other) = (PHOTOMETRIC[row], PHOTOMETRIC[n + row]);
            assert!(
                (other.white[0] / c2.white[0] - scale).abs() < 0.02
                    && (other.red[0] / c2.red[0] - scale).abs() < 0.02
            );
        }
    }
}

#[test]
fn a_shops_correction_stands_beside_the_default() {
    let mut corrections = Corrections::new();
    corrections
        .entry(RuleSet::Unece)
        .or_default()
        .insert("side_share".into(), 0.8);
    let rules = Rules::of(RuleSet::Unece, &corrections);
    assert_eq!(rules.get("side_share"), Some(0.8));
    assert_eq!(rules.corrections().len(), 1);
    assert_eq!(rules.corrections()[0].0.value, 0.7);
    assert_eq!(
        Rules::of(RuleSet::UnitedStatesNew, &corrections).get("side_share"),
        Some(0.5)
    );
}

fn trailer() -> MarkedVehicle {
    MarkedVehicle {
        kind: MarkedKind::Trailer,
        width_mm: Some(2590.8),
        length_mm: Some(16_154.0),
        mass_kg: Some(30_000.0),
        built: Some(date!(2015 - 03 - 01)),
        category: Some(UneceCategory::O4),
        living_or_office: false,
        pole_trailer: false,
        driveaway: false,
        incomplete_or_tractor: false,
    }
}

#[test]
fn whether_it_applies_and_what_is_not_known_is_never_no() {
    let ask = |set, v: MarkedVehicle| applies(&Rules::plain(set), &v).required;
    let new = RuleSet::UnitedStatesNew;
    let used = RuleSet::UnitedStatesInUse;
    assert_eq!(ask(new, trailer()), Required::Yes);
    assert_eq!(ask(used, trailer()), Required::No);
    let old = MarkedVehicle {
        built: Some(date!(1990 - 01 - 01)),
        ..trailer()
    };
    assert_eq!(
        (ask(new, old.clone()), ask(used, old)),
        (Required::No, Required::Yes)
    );
    // The edges: 80 in and over 10,000 lb; at least 4536 kg in use.
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                width_mm: Some(2032.0),
                ..trailer()
            }
        ),
        Required::Yes
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                width_mm: Some(2031.0),
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                mass_kg: Some(4536.0),
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            used,
            MarkedVehicle {
                mass_kg: Some(4536.0),
                built: Some(date!(1993 - 11 - 30)),
                ..trailer()
            }
        ),
        Required::Yes
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: Some(date!(1993 - 12 - 01)),
                ..trailer()
            }
        ),
        Required::Yes
    );
    // Unknown weight or date gives "cannot tell", unless something else settles it.
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                mass_kg: None,
                ..trailer()
            }
        ),
        Required::CannotTell
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: None,
                ..trailer()
            }
        ),
        Required::CannotTell
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                mass_kg: None,
                width_mm: Some(1900.0),
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                living_or_office: true,
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            used,
            MarkedVehicle {
                pole_trailer: true,
                built: Some(date!(1990 - 01 - 01)),
                ..trailer()
            }
        ),
        Required::No
    );
    // Tractors by date alone; trucks have no federal duty.
    let tractor = MarkedVehicle {
        kind: MarkedKind::Tractor,
        width_mm: None,
        mass_kg: None,
        ..trailer()
    };
    assert_eq!(ask(new, tractor.clone()), Required::Yes);
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: Some(date!(1997 - 06 - 30)),
                ..tractor.clone()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: None,
                ..tractor
            }
        ),
        Required::CannotTell
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                kind: MarkedKind::Truck,
                ..trailer()
            }
        ),
        Required::No
    );
    // UN categories.
    let un = |category, mass| {
        ask(
            RuleSet::Unece,
            MarkedVehicle {
                category,
                mass_kg: mass,
                ..trailer()
            },
        )
    };
    assert_eq!(un(Some(UneceCategory::O4), None), Required::Yes);
    assert_eq!(un(Some(UneceCategory::N2), Some(7500.0)), Required::No);
    assert_eq!(un(Some(UneceCategory::N2), Some(7501.0)), Required::Yes);
    assert_eq!(un(Some(UneceCategory::N2), None), Required::CannotTell);
    assert_eq!(un(Some(UneceCategory::M1), None), Required::Prohibited);
    assert_eq!(un(Some(UneceCategory::N1), None), Required::No);
    assert_eq!(un(None, Some(9000.0)), Required::CannotTell);
}

fn box_side(length_mm: f64) -> MarkSide {
    MarkSide {
        ends_mm: (0.0, length_mm),
        height_mm: (900.0, 3900.0),
        obstacles: Vec::new(),
        heads: Vec::new(),
    }
}

fn audited(side: &MarkSide, strips: &[Strip], set: RuleSet, wanted: &str) -> Audited {
    let rules = Rules::plain(set);
    let against = Against {
        rules: &rules,
        grade: "C2",
        best_ends_mm: Some((0.0, 0.0)),
        unit: Unit::Millimetre,
    };
    let found = audit(side, strips, &against);
    found
        .iter()
        .find(|f| f.asks.contains(wanted))
        .unwrap_or_else(|| panic!("{wanted}: {found:#?}"))
        .audited
}

fn strip(start_mm: f64, modules: usize) -> Strip {
    let one = twelve();
    Strip {
        start_mm,
        centre_mm: 1200.0,
        width_mm: 50.8,
        runs: one.pattern.repeat(modules),
    }
}

/// Each clause fails when it is broken, and only then.
#[test]
fn every_clause_of_the_new_rule_can_fail() {
    let new = RuleSet::UnitedStatesNew;
    let side = box_side(6096.0);
    let good = [strip(0.0, 2), strip(2438.4, 2), strip(4876.8, 2)];
    for wanted in [
        "at least 50 mm wide",
        "50 % of the length",
        "375 to 1525",
        "150 to 450",
        "two thirds",
        "hidden",
    ] {
        assert_eq!(
            audited(&side, &good, new, wanted),
            Audited::Pass,
            "{wanted}"
        );
    }
    let narrow = Strip {
        width_mm: 49.9,
        ..strip(0.0, 2)
    };
    assert_eq!(
        audited(&side, &[narrow], new, "at least 50 mm wide"),
        Audited::Fail
    );
    // A nominal 2 in passes 50 mm.
    assert_eq!(
        audited(
            &side,
            &[Strip {
                width_mm: 50.0,
                ..strip(0.0, 2)
            }],
            new,
            "at least 50 mm wide"
        ),
        Audited::Pass
    );
    assert_eq!(
        audited(&side, &good[..2], new, "50 % of the length"),
        Audited::Fail
    );
    assert_eq!(
        audited(
            &side,
            &[Strip {
                centre_mm: 1600.0,
                ..strip(0.0, 2)
            }],
            new,
            "375 to 1525"
        ),
        Audited::ReasonNeeded
    );
    let long = Strip {
        runs: runs(&[(TapeColour::Red, 460.0), (TapeColour::White, 300.0)]),
        ..strip(0.0, 1)
    };
    assert_eq!(audited(&side, &[long], new, "150 to 450"), Audited::Fail);
    let short = Strip {
        runs: runs(&[(TapeColour::Red, 140.0), (TapeColour::White, 300.0)]),
        ..strip(0.0, 1)
    };
    assert_eq!(audited(&side, &[short], new, "150 to 450"), Audited::Fail);
    // The trade's 7 and 11 in lay-up keeps the share; three parts white to one red does not.
    let seven = Strip {
        runs: runs(&[(TapeColour::Red, 177.8), (TapeColour::White, 279.4)]),
        ..strip(0.0, 1)
    };
    assert_eq!(audited(&side, &[seven], new, "two thirds"), Audited::Pass);
    let pale = Strip {
        runs: runs(&[(TapeColour::Red, 150.0), (TapeColour::White, 301.0)]),
        ..strip(0.0, 1)
    };
    assert_eq!(audited(&side, &[pale], new, "two thirds"), Audited::Fail);
    assert_eq!(
        audited(&side, &[strip(0.0, 2), strip(600.0, 2)], new, "hidden"),
        Audited::Fail,
        "overlapping"
    );
    assert_eq!(
        audited(&side, &[strip(5500.0, 2)], new, "hidden"),
        Audited::Fail,
        "past the end"
    );
    assert_eq!(
        audited(&side, &[strip(300.0, 2)], new, "front and rear"),
        Audited::ReasonNeeded
    );
    let lamp = |back: f64, colour| Obstacle {
        name: "lamp".into(),
        back_mm: (back, back + 60.0),
        height_mm: (1180.0, 1220.0),
        lamp: Some(colour),
    };
    let with = |o: Obstacle| MarkSide {
        obstacles: vec![o],
        ..box_side(6096.0)
    };
    // The strip ends white at 1219.2: 75 mm beyond is kept, 74 is not; red before red needs none.
    assert_eq!(
        audited(
            &with(lamp(1219.2 + 75.0, LampColour::Red)),
            &[strip(0.0, 2)],
            new,
            "keeps 75 mm"
        ),
        Audited::Pass
    );
    assert_eq!(
        audited(
            &with(lamp(1219.2 + 74.0, LampColour::Red)),
            &[strip(0.0, 2)],
            new,
            "keeps 75 mm"
        ),
        Audited::Fail
    );
    let ends_red = Strip {
        runs: runs(&[(TapeColour::White, 304.8), (TapeColour::Red, 304.8)]),
        ..strip(0.0, 1)
    };
    assert_eq!(
        audited(
            &with(lamp(619.6, LampColour::Red)),
            std::slice::from_ref(&ends_red),
            new,
            "keeps 75 mm"
        ),
        Audited::Pass
    );
    assert_eq!(
        audited(
            &with(lamp(619.6, LampColour::Amber)),
            &[ends_red],
            new,
            "keeps 75 mm"
        ),
        Audited::Fail
    );
}

#[test]
fn the_un_rules_ask_their_own_clauses() {
    let un = RuleSet::Unece;
    let side = box_side(10_000.0);
    let white = |start: f64, long: f64| Strip {
        start_mm: start,
        centre_mm: 1200.0,
        width_mm: 50.0,
        runs: runs(&[(TapeColour::White, long)]),
    };
    let good = [
        white(100.0, 3000.0),
        white(3400.0, 3000.0),
        white(6700.0, 3000.0),
    ];
    for wanted in [
        "White or yellow",
        "600 mm of each end",
        "250 and 1500",
        "Gaps are at most",
    ] {
        assert_eq!(audited(&side, &good, un, wanted), Audited::Pass, "{wanted}");
    }
    // Which series has which share is only a lead: the figure is uncertain, never a plain pass.
    assert_eq!(audited(&side, &good, un, "70 %"), Audited::FigureUncertain);
    assert_eq!(
        audited(&side, &[strip(0.0, 2)], un, "White or yellow"),
        Audited::Fail
    );
    assert_eq!(
        audited(&side, &[white(700.0, 3000.0)], un, "600 mm of each end"),
        Audited::ReasonNeeded
    );
    let apart = [white(0.0, 1000.0), white(1600.0, 1000.0)];
    assert_eq!(
        audited(&side, &apart, un, "Gaps are at most"),
        Audited::ReasonNeeded
    );
    let far = [white(0.0, 1000.0), white(2100.0, 1000.0)];
    assert_eq!(audited(&side, &far, un, "Gaps are at most"), Audited::Fail);
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
        })
        .collect();
    side.heads = (0..200)
        .map(|n| [f64::from(n) * 60.0, 1210.0, 6.0])
        .collect();
    let found = plan(
        &side,
        &Rules::plain(RuleSet::UnitedStatesNew),
        &twelve(),
        WayOfLaying::Spaced,
        GAP_LIMIT_MM,
        Unit::Millimetre,
    )
    .unwrap();
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
    let found = plan(
        &high,
        &Rules::plain(RuleSet::UnitedStatesNew),
        &twelve(),
        WayOfLaying::Spaced,
        GAP_LIMIT_MM,
        Unit::Millimetre,
    )
    .unwrap();
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
    let rules = Rules::plain(RuleSet::UnitedStatesNew);
    let side = box_side(6000.0);
    let says = |side: &MarkSide, stock: &Stock, words: &str| {
        let error = plan(
            side,
            &rules,
            stock,
            WayOfLaying::Spaced,
            GAP_LIMIT_MM,
            Unit::Millimetre,
        )
        .unwrap_err();
        assert!(error.to_string().contains(words), "{error}");
    };
    says(
        &side,
        &Stock {
            pattern: Vec::new(),
            ..twelve()
        },
        "at least 10 mm long",
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
            width_mm: 40.0,
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
    };
    let error = plan(
        &MarkSide {
            obstacles: vec![most],
            ..side
        },
        &rules,
        &twelve(),
        WayOfLaying::Spaced,
        GAP_LIMIT_MM,
        Unit::Millimetre,
    )
    .unwrap_err();
    assert!(matches!(error, MarkError::TooLittle { .. }), "{error}");
}
