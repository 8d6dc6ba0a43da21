//! The best layout of a line against a general integer-programming solver (HiGHS; `tools/reference/conspicuity.py`); plans against their
//! own audit.

use proptest::prelude::*;
use serde::Deserialize;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::laying::GAP_LIMIT_MM;
use windrift_core::marking::line::{Blocked, LineHead, LineHeads, LineProblem, NoLayout, spaced};
use windrift_core::marking::{
    Audited, Face, FaceAsk, FaceMarking, Laying, MarkError, MarkPlan, MarkSide, Obstacle, RuleSet,
    Rules, Stock, TapeColour, WayOfLaying, audit, mark_face, plan,
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
        strip_mm: None,
        spare_mm: None,
        split_mm: None,
        unit: Unit::Millimetre,
    };
    plan(side, &laying)
}

#[derive(Deserialize)]
struct Reference {
    cases: Vec<Case>,
}

#[derive(Debug, Deserialize)]
struct Case {
    width: f64,
    pattern: Vec<(TapeColour, f64)>,
    blocked: Vec<(f64, f64, Option<TapeColour>)>,
    heads: Vec<Head>,
    longest: usize,
    film: f64,
    spare: f64,
    limit: f64,
    ends: (i64, i64),
    strips: usize,
    largest: i64,
    smallest: i64,
    spread: usize,
    edges: u32,
    under: u32,
    modules: u32,
    turned: u32,
}

#[derive(Debug, Deserialize)]
struct Head {
    at: f64,
    reach: f64,
    whole: Option<f64>,
}

/// Every goal, one after the other, is the integer programme's: nearest ends (turned strips beside red lamps), strips, gaps, lengths, rivets,
/// film.
#[test]
fn the_best_line_is_the_integer_programmes_best() {
    let reference: Reference =
        serde_json::from_str(include_str!("../data/conspicuity.json")).unwrap();
    assert!(reference.cases.len() >= 200);
    let mut turned = 0;
    for case in reference.cases {
        let problem = LineProblem {
            ends_mm: (0.0, case.width),
            blocked_mm: (case.blocked.iter())
                .map(|(from_mm, to_mm, but)| Blocked {
                    from_mm: *from_mm,
                    to_mm: *to_mm,
                    but: *but,
                })
                .collect(),
            pattern: runs(&case.pattern),
            least_film_mm: case.film,
            spare_mm: case.spare,
            longest: case.longest,
            gap_limit_mm: case.limit,
            step_mm: 25.4,
        };
        let heads = LineHeads(
            (case.heads.iter())
                .map(|h| LineHead {
                    at_mm: h.at,
                    reach_mm: h.reach,
                    whole_mm: h.whole,
                })
                .collect(),
        );
        let (goals, layout) = spaced(&problem, &heads).unwrap();
        assert!(
            !goals.no_spare && goals.over_limit == 0,
            "{case:?} {goals:?}"
        );
        assert_eq!(
            (
                goals.ends,
                goals.strips,
                goals.largest,
                goals.largest - goals.spread,
                goals.strip_spread
            ),
            (
                case.ends.0 + case.ends.1,
                case.strips,
                case.largest,
                case.smallest,
                case.spread
            ),
            "{case:?} {goals:?}"
        );
        let cost = layout.cost;
        assert_eq!(
            (cost.edges, cost.under, cost.modules, cost.turned),
            (case.edges, case.under, case.modules, case.turned),
            "{case:?} {layout:?}"
        );
        turned += u32::from(cost.turned > 0);
    }
    assert!(turned > 20, "{turned} lines have turned strips");
}

/// Common stocks on bare sides: no gap is longer than a strip and a quarter, all strips and all gaps are alike, half is covered and a pattern
/// more, and both ends are reached.
#[test]
fn a_bare_side_is_marked_evenly_with_every_stock() {
    let of = |a: f64, b: f64| runs(&[(TapeColour::Red, a * 25.4), (TapeColour::White, b * 25.4)]);
    for feet in [20.0, 28.0, 40.0, 45.0, 48.0, 53.0] {
        for (reds, whites) in [
            (12.0, 12.0),
            (6.0, 6.0),
            (7.0, 11.0),
            (11.0, 7.0),
            (18.0, 18.0),
            (9.0, 9.0),
        ] {
            let stock = Stock {
                pattern: of(reds, whites),
                ..twelve()
            };
            let length = feet * 304.8;
            let found = planned(&box_side(length), &stock, WayOfLaying::Spaced).unwrap();
            let lengths: Vec<f64> = found.strips.iter().map(|s| s.length_mm()).collect();
            let longest = lengths.iter().copied().fold(0.0, f64::max);
            let tell = format!(
                "{feet} ft, {reds}/{whites}: {} strips of {longest}, gaps {} to {}",
                lengths.len(),
                found.smallest_gap_mm,
                found.largest_gap_mm
            );
            assert!(found.largest_gap_mm <= 1.25 * longest + 1e-6, "{tell}");
            assert!(
                found.largest_gap_mm - found.smallest_gap_mm <= 25.4 + 1e-6,
                "{tell}"
            );
            assert!(lengths.iter().all(|l| (l - longest).abs() < 1e-6), "{tell}");
            assert!(
                found.film_mm >= length / 2.0 + stock.module_mm() - 1e-6,
                "{tell}"
            );
            assert!(
                found.strips[0].start_mm.mm() < 1e-6
                    && (found.strips.last().unwrap().end_mm() - length).abs() < 1e-3,
                "{tell}"
            );
            assert!(found.proven);
        }
    }
}

/// A red lamp right at each end: the strips beside them begin and end red, at the lamp's own clearance, not three inches off.
#[test]
fn strips_are_turned_so_that_red_stands_beside_red_lamps() {
    let lamp = |name: &str, from: f64, to: f64| Obstacle {
        name: name.into(),
        back_mm: (from, to),
        height_mm: (1300.0, 1400.0),
        lamp: Some(LampColour::Red),
        function: Default::default(),
        clear_mm: 0.0,
    };
    let side = MarkSide {
        height_mm: (1250.0, 1450.0),
        obstacles: vec![
            lamp("front lamp", -10.0, 20.0),
            lamp("rear lamp", 11_980.0, 12_010.0),
        ],
        ..box_side(12_000.0)
    };
    let found = planned(&side, &twelve(), WayOfLaying::Spaced).unwrap();
    let (first, last) = (&found.strips[0], found.strips.last().unwrap());
    assert_eq!(first.runs[0].colour, TapeColour::Red);
    assert_eq!(last.runs.last().unwrap().colour, TapeColour::Red);
    // An eighth of an inch off each.
    assert!((first.start_mm.mm() - 23.175).abs() < 0.01, "{first:?}");
    assert!((last.end_mm() - 11_976.825).abs() < 0.01, "{last:?}");
    assert!(
        found
            .reasons
            .iter()
            .any(|r| r.contains("begins at another colour")),
        "{:?}",
        found.reasons
    );
}

/// A row of heads every 4 in along the whole side: the strips' ends are laid between them, and the height off them where there is one.
#[test]
fn rivets_are_weighed_over_every_place() {
    let heads = |height: f64| {
        (0..120)
            .map(|n| [50.0 + f64::from(n) * 101.6, height, 6.0])
            .collect::<Vec<_>>()
    };
    // Only one height is possible, and the row runs down its middle.
    let side = MarkSide {
        height_mm: (1000.0, 1050.8),
        heads: heads(1025.4),
        ..box_side(12_000.0)
    };
    let rules = Rules::plain(RuleSet::UnitedStatesInUse);
    let stock = Stock {
        width_mm: 76.2.into(),
        grade: "C3".into(),
        ..twelve()
    };
    let side = MarkSide {
        height_mm: (1000.0, 1076.2),
        heads: heads(1038.1),
        ..side
    };
    let laying = Laying {
        rules: &rules,
        stock: &stock,
        way: WayOfLaying::Spaced,
        gap_limit_mm: GAP_LIMIT_MM,
        strip_mm: None,
        spare_mm: None,
        split_mm: None,
        unit: Unit::Millimetre,
    };
    let found = plan(&side, &laying).unwrap();
    assert!(
        found.heads_under > 30 && found.heads_edged == 0,
        "{} under, {} edged",
        found.heads_under,
        found.heads_edged
    );
    assert_eq!(found.heads_edged, {
        let tape: Vec<_> = found.strips.iter().flat_map(|s| s.tape_rects()).collect();
        side.heads_edged(&tape)
    });
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn a_layout_is_what_it_says(
        width in 1500.0..17_000.0_f64,
        blocked in proptest::collection::vec((0.0..1.0_f64, 20.0..900.0_f64, any::<bool>()), 0..25),
        module in prop_oneof![Just(304.8), Just(457.2), Just(609.6)],
        share in 0.0..0.6_f64,
        limit in 300.0..2500.0_f64,
        longest in 1_usize..4,
    ) {
        let pattern = runs(&[(TapeColour::Red, module / 2.0), (TapeColour::White, module / 2.0)]);
        let problem = LineProblem {
            ends_mm: (0.0, width),
            blocked_mm: blocked.iter().map(|(at, long, red)| Blocked { from_mm: at * width, to_mm: at * width + long, but: red.then_some(TapeColour::Red) }).collect(),
            pattern,
            least_film_mm: share * width,
            spare_mm: module,
            longest,
            gap_limit_mm: limit,
            step_mm: 1.5875,
        };
        match spaced(&problem, &LineHeads::default()) {
            Ok((goals, layout)) => {
                let film: f64 = layout.strips.iter().map(|s| s.modules as f64 * module).sum();
                let spare = if goals.no_spare { 0.0 } else { module };
                prop_assert!(film >= share * width + spare - 1e-2);
                prop_assert_eq!(layout.strips.len(), goals.strips);
                for s in &layout.strips {
                    prop_assert!(s.modules <= longest);
                    let mut at = s.start_mm;
                    for r in &s.runs {
                        let end = at + r.length_mm.mm();
                        prop_assert!(at > -1e-2 && end < width + 1e-2);
                        for b in &problem.blocked_mm {
                            prop_assert!(b.but == Some(r.colour) || end < b.from_mm + 2e-3 || at > b.to_mm - 2e-3, "{s:?} on {b:?}");
                        }
                        at = end;
                    }
                }
                let gaps: Vec<f64> = layout.strips.windows(2).map(|w| w[1].start_mm - w[0].start_mm - w[0].modules as f64 * module).collect();
                for gap in &gaps {
                    prop_assert!(*gap <= goals.largest as f64 * 25.4 + 1e-2 && *gap >= (goals.largest - goals.spread) as f64 * 25.4 - 1e-2);
                    prop_assert!(*gap <= limit + goals.over_limit as f64 * 25.4 + 1e-2);
                }
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
                    function: Default::default(),
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
        let best = mark_face(&ask);
        for finding in audit(&ask, &found.strips, &best) {
            // Continuous laying covers whatever is free, which may be less than half, or more of one colour.
            let all_that_fits = continuous && (finding.asks.contains("50 %") || finding.key == "line.colours" || finding.key == "line.marks" || finding.asks.contains("mm long"));
            prop_assert!(matches!(finding.audited, Audited::Pass | Audited::Look) || all_that_fits, "{finding:?}\n{found:?}");
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
            function: Default::default(),
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
    assert_eq!(found.heads_edged, 0);
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
        function: Default::default(),
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
        function: Default::default(),
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
