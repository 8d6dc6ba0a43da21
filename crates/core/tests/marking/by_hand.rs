//! Plans and audits against what the clauses say, worked out anew with a general geometry library (geo) from the strips alone. Nothing
//! of the planner or the audit is asked. Figures from memory of 49 CFR 571.108 S8.2.

use geo::{Area, BooleanOps, BoundingRect, Distance, Euclidean, MultiPolygon, Rect, unary_union};
use proptest::prelude::*;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::{
    Audited, Element, FaceAsk, MarkSide, Obstacle, RuleSet, Rules, Strip, TapeColour, WayOfLaying,
    audit, mark_face,
};
use windrift_core::vehicle::feature::kind::LampColour;

use super::{box_side, marking_of, trailer, twelve};

const CLOSE_MM: f64 = 0.1;

fn rect(back: (f64, f64), height: (f64, f64)) -> Rect {
    Rect::new((back.0, height.0), (back.1, height.1))
}

/// The colours of a level strip, laid one after the other.
fn coloured(strip: &Strip) -> Vec<(TapeColour, f64, Rect)> {
    let half = strip.width_mm.mm() / 2.0;
    let height = (strip.centre_mm.mm() - half, strip.centre_mm.mm() + half);
    let mut at = strip.start_mm.mm();
    let laid = strip.runs.iter().map(|run| {
        let from = at;
        at += run.length_mm.mm();
        (run.colour, run.length_mm.mm(), rect((from, at), height))
    });
    laid.collect()
}

/// The clauses of a line on a side that it breaks.
fn broken(side: &MarkSide, strips: &[Strip]) -> Vec<&'static str> {
    let all: Vec<(TapeColour, f64, Rect)> = strips.iter().flat_map(coloured).collect();
    let film: MultiPolygon = unary_union(
        &all.iter()
            .map(|(_, _, r)| r.to_polygon())
            .collect::<Vec<_>>(),
    );
    let mut broken = Vec::new();
    let mut ask = |holds: bool, clause| {
        if !holds {
            broken.push(clause);
        }
    };
    let long = side.ends_mm.1 - side.ends_mm.0;
    // Half of the length, counted once where strips lie above each other: everything laid down to one height, 1 mm.
    let flat: Vec<_> = all
        .iter()
        .map(|(_, _, r)| rect((r.min().x, r.max().x), (0.0, 1.0)).to_polygon())
        .collect();
    ask(
        unary_union(&flat).unsigned_area() >= long / 2.0 - CLOSE_MM,
        "share",
    );
    let laid: f64 = all.iter().map(|(_, mm, _)| mm).sum();
    ask(
        strips
            .iter()
            .all(|s| (375.0 - CLOSE_MM..=1525.0 + CLOSE_MM).contains(&s.centre_mm.mm())),
        "height",
    );
    ask(
        all.iter()
            .all(|(_, mm, _)| (150.0 - CLOSE_MM..=450.0 + CLOSE_MM).contains(mm)),
        "segment",
    );
    let of = |colour| {
        all.iter()
            .filter(|(c, ..)| *c == colour)
            .map(|(_, mm, _)| mm)
            .sum::<f64>()
    };
    ask(
        [TapeColour::Red, TapeColour::White]
            .iter()
            .all(|c| of(*c) <= laid * 2.0 / 3.0 + CLOSE_MM),
        "colours",
    );
    // Film lies on the body, on nothing else, and on no other film.
    let body = rect(side.ends_mm, side.height_mm).to_polygon();
    let box_of = film.bounding_rect().unwrap();
    ask(
        (body
            .bounding_rect()
            .unwrap()
            .to_polygon()
            .union(&box_of.to_polygon()))
        .unsigned_area()
            <= body.unsigned_area() + 1.0,
        "on the body",
    );
    let each: f64 = all.iter().map(|(_, _, r)| r.unsigned_area()).sum();
    ask((film.unsigned_area() - each).abs() < 1.0, "over each other");
    for o in &side.obstacles {
        let thing = rect(o.back_mm, o.height_mm).to_polygon();
        ask(
            MultiPolygon::new(vec![thing.clone()])
                .intersection(&film)
                .unsigned_area()
                < 1.0,
            "hidden",
        );
        if let Some(lamp) = o.lamp {
            // White stays 75 mm from red lamps and red from amber ones.
            for (colour, _, run) in &all {
                let near = Euclidean.distance(&run.to_polygon(), &thing) < 75.0 - CLOSE_MM;
                let wrong = match lamp {
                    LampColour::Red => *colour == TapeColour::White,
                    LampColour::Amber => *colour == TapeColour::Red,
                    _ => false,
                };
                ask(!(near && wrong), "lamps");
            }
        }
    }
    broken
}

fn sides() -> impl Strategy<Value = MarkSide> {
    let thing = (
        0.02..0.95_f64,
        100.0..700.0_f64,
        600.0..1500.0_f64,
        60.0..500.0_f64,
    );
    (4000.0..16_000.0_f64, proptest::collection::vec(thing, 0..7)).prop_map(|(long, things)| {
        let mut side = box_side(long);
        side.height_mm = (500.0, 3900.0);
        side.obstacles = things
            .into_iter()
            .enumerate()
            .map(|(n, (at, wide, low, high))| Obstacle {
                name: format!("thing {n}"),
                back_mm: (at * long, (at * long + wide).min(long)),
                height_mm: (low, low + high),
                lamp: None,
                function: Default::default(),
                clear_mm: 0.0,
            })
            .collect();
        side
    })
}

/// A face with all that is asked of it.
fn with<T>(side: &MarkSide, answer: impl Fn(&FaceAsk<'_>) -> T) -> T {
    let (rules, vehicle) = (Rules::plain(RuleSet::UnitedStatesNew), trailer());
    let mut marking = marking_of(twelve());
    marking.way = WayOfLaying::Spaced;
    answer(&FaceAsk {
        ends: windrift_core::vehicle::side::words::Ends(["front", "rear"]),
        side,
        rules: &rules,
        vehicle: &vehicle,
        marking: &marking,
        unit: Unit::Millimetre,
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// What is planned and called good breaks no clause; what is called not good enough says so where it breaks one.
    #[test]
    fn a_planned_line_keeps_what_the_clauses_say(side in sides()) {
        let plans = with(&side, mark_face);
        let line = plans.iter().find(|p| p.element == Element::Line).unwrap();
        prop_assume!(!line.strips.is_empty());
        let found = broken(&side, &line.strips);
        let of_the_plan: Vec<&str> = found.iter().copied().filter(|c| !["share", "height"].contains(c)).collect();
        prop_assert!(of_the_plan.is_empty(), "{found:?} {line:#?}");
        let audited = with(&side, |ask| audit(ask, &line.strips, &plans));
        for (clause, words) in [("share", "50 % of the length"), ("height", "375 to 1525")] {
            let told = audited.iter().find(|f| f.asks.contains(words)).unwrap();
            prop_assert_eq!(found.contains(&clause), told.audited != Audited::Pass, "{} {:?}", clause, told);
        }
    }

    /// Strips laid anyhow: the audit fails the clauses that are broken, and no others.
    #[test]
    fn the_audit_of_any_strips_agrees(
        long in 4000.0..16_000.0_f64,
        strips in proptest::collection::vec((0.0..1.0_f64, 200.0..1900.0_f64, 1_usize..9), 1..6),
    ) {
        let mut side = box_side(long);
        side.height_mm = (100.0, 3900.0);
        let strips: Vec<Strip> = strips
            .into_iter()
            .map(|(at, centre, modules)| Strip {
                start_mm: (at * (long - modules as f64 * 304.8).max(0.0)).into(),
                centre_mm: centre.into(),
                width_mm: 50.8.into(),
                runs: (0..modules)
                    .map(|n| twelve().pattern[n % 2])
                    .collect(),
                upright: false,
                split_mm: None,
                reflectors: None,
                element: Element::Line,
            })
            .collect();
        let found = broken(&side, &strips);
        prop_assume!(!found.contains(&"over each other") && !found.contains(&"on the body"));
        let audited = with(&side, |ask| audit(ask, &strips, &mark_face(ask)));
        for (clause, words) in [("share", "50 % of the length"), ("height", "375 to 1525"), ("segment", "150 to 450")] {
            let told = audited.iter().find(|f| f.asks.contains(words)).unwrap();
            prop_assert_eq!(found.contains(&clause), told.audited != Audited::Pass, "{} {:?}", clause, told);
        }
    }
}
