//! Every clause of the line passes where it is kept and fails where it is broken. Figures from memory of the published rules.

use windrift_core::ground::tape::Unit;
use windrift_core::marking::{
    Audited, Element, FaceAsk, MarkSide, Obstacle, RuleSet, Rules, Strip, TapeColour, audit,
    mark_face,
};
use windrift_core::vehicle::feature::kind::LampColour;

use super::{box_side, marking_of, runs, trailer, twelve};

fn audited(side: &MarkSide, strips: &[Strip], set: RuleSet, wanted: &str) -> Audited {
    let rules = Rules::plain(set);
    let marking = marking_of(twelve());
    let vehicle = trailer();
    let ask = FaceAsk {
        ends: windrift_core::vehicle::side::words::Ends(["front", "rear"]),
        side,
        rules: &rules,
        vehicle: &vehicle,
        marking: &marking,
        unit: Unit::Millimetre,
    };
    let best = mark_face(&ask);
    let found = audit(&ask, strips, &best);
    found
        .iter()
        .find(|f| f.asks.contains(wanted))
        .unwrap_or_else(|| panic!("{wanted}: {found:#?}"))
        .audited
}

fn strip(start_mm: f64, modules: usize) -> Strip {
    let one = twelve();
    Strip {
        start_mm: start_mm.into(),
        centre_mm: 1200.0.into(),
        width_mm: 50.8.into(),
        runs: one.pattern.repeat(modules),
        upright: false,
        split_mm: None,
        reflectors: None,
        element: Element::Line,
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
        "alternate",
        "hidden",
    ] {
        assert_eq!(
            audited(&side, &good, new, wanted),
            Audited::Pass,
            "{wanted}"
        );
    }
    let narrow = Strip {
        width_mm: 49.9.into(),
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
                width_mm: 50.0.into(),
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
                centre_mm: 1600.0.into(),
                ..strip(0.0, 2)
            }],
            new,
            "375 to 1525"
        ),
        // The best layout lies in the band: no reason makes this as close as practicable.
        Audited::Fail
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
    assert_eq!(audited(&side, &[seven], new, "alternate"), Audited::Pass);
    let pale = Strip {
        runs: runs(&[(TapeColour::Red, 150.0), (TapeColour::White, 301.0)]),
        ..strip(0.0, 1)
    };
    assert_eq!(audited(&side, &[pale], new, "alternate"), Audited::Fail);
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
        audited(&side, &[strip(300.0, 2)], new, "both ends"),
        Audited::ReasonNeeded
    );
    let lamp = |back: f64, colour| Obstacle {
        name: "lamp".into(),
        back_mm: (back, back + 60.0),
        height_mm: (1180.0, 1220.0),
        lamp: Some(colour),
        function: Default::default(),
        clear_mm: 0.0,
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
        start_mm: start.into(),
        centre_mm: 1200.0.into(),
        width_mm: 50.0.into(),
        runs: runs(&[(TapeColour::White, long)]),
        ..strip(0.0, 1)
    };
    let good = [
        white(100.0, 3000.0),
        white(3400.0, 3000.0),
        white(6700.0, 3000.0),
    ];
    for wanted in [
        "white or yellow",
        "600 mm of each end",
        "250 and 1500",
        "Gaps are at most",
    ] {
        assert_eq!(audited(&side, &good, un, wanted), Audited::Pass, "{wanted}");
    }
    // Which series has which share is only a lead: the figure is uncertain, never a plain pass.
    assert_eq!(audited(&side, &good, un, "70 %"), Audited::FigureUncertain);
    assert_eq!(
        audited(&side, &[strip(0.0, 2)], un, "white or yellow"),
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
