//! A planted fault for each clause of each set: the best layout, broken in one way, is told under that clause and under no other.

use std::collections::BTreeSet;

use windrift_core::marking::colours::from_roll;
use windrift_core::marking::{
    Audited, Element, Face, MarkSide, MarkedVehicle, Obstacle, RuleSet, Stock, Strip, TapeColour,
};
use windrift_core::vehicle::feature::kind::LampColour;

use super::clauses::{rear, tractor};
use super::{Case, box_side, marking_of, runs, trailer, twelve};

use TapeColour::{Red, White, Yellow};

/// How it is broken.
type Fault = fn(&mut Vec<Strip>);

fn of(strips: &mut [Strip], element: Element) -> impl Iterator<Item = &mut Strip> {
    strips.iter_mut().filter(move |s| s.element == element)
}

fn narrower(strips: &mut [Strip], element: Element) {
    for s in of(strips, element) {
        s.width_mm = 40.0.into();
    }
}

fn all_of(strips: &mut [Strip], element: Element, colour: TapeColour) {
    for r in of(strips, element).flat_map(|s| &mut s.runs) {
        r.colour = colour;
    }
}

fn half_of_each(strips: &mut [Strip]) {
    for s in of(strips, Element::Line) {
        let half = s.length_mm() / 2.0;
        s.runs = from_roll(&s.runs, 0.0, half);
    }
}

fn higher(strips: &mut [Strip], element: Element, by: f64) {
    for s in of(strips, element) {
        s.centre_mm = (s.centre_mm.mm() + by).into();
    }
}

/// The last strip of the line is cut after two colours, and the rest of it lies 20 mm higher.
fn step_up(s: &mut Vec<Strip>) {
    let line = of(s, Element::Line).last().unwrap();
    let mut rest = line.clone();
    let whole = line.runs.clone();
    let cut = match whole.as_slice() {
        [a, b, _, ..] => a.length_mm + b.length_mm,
        _ => rest.length_mm() / 2.0,
    };
    line.runs = from_roll(&whole, 0.0, cut);
    rest.runs = from_roll(&whole, cut, rest.length_mm() - cut);
    rest.start_mm = line.end_mm().into();
    rest.centre_mm = (line.centre_mm.mm() + 20.0).into();
    s.push(rest);
}

/// What is not settled as well as it was.
fn worse(case: &Case, strips: &[Strip]) -> BTreeSet<String> {
    let rank = |audited| match audited {
        Audited::Pass | Audited::Look | Audited::Reasoned => 0,
        Audited::ReasonNeeded => 1,
        Audited::Fail => 2,
        Audited::FigureUncertain => 0,
    };
    let best = case.best();
    let before = case.audit(&best);
    (case.audit(strips).into_iter())
        .filter(|f| {
            let was = before.iter().find(|b| b.key == f.key);
            let lead = f.measured.contains("Not kept by this figure")
                && was.is_none_or(|w| !w.measured.contains("Not kept by this figure"));
            lead || rank(f.audited) > was.map_or(0, |w| rank(w.audited))
        })
        .map(|f| f.key)
        .collect()
}

/// Each fault is told under the keys given and no other: one, but for what follows from it by itself.
fn each(case: &Case, faults: &[(&str, Fault)]) {
    assert!(!case.best().is_empty());
    for (keys, fault) in faults {
        let mut strips = case.best();
        fault(&mut strips);
        let found = worse(case, &strips);
        let only: BTreeSet<String> = keys.split(' ').map(str::to_owned).collect();
        assert_eq!(found, only, "{:?} {:?}", case.rules.set, case.side.face);
    }
}

/// 49 CFR 393.13, from memory: the side of a trailer in use.
#[test]
fn each_clause_of_the_rules_in_use_is_broken_alone_along_a_side() {
    let case = Case::of(
        box_side(14_630.4),
        RuleSet::UnitedStatesInUse,
        marking_of(twelve()),
    );
    each(
        &case,
        &[
            ("line.width", |s| narrower(s, Element::Line)),
            // Less film over the same length: the spaces are wider than they need be.
            ("line.side_share line.even", |s| {
                half_of_each(s);
                let last = s.last_mut().unwrap();
                last.start_mm = (last.start_mm.mm() + last.length_mm()).into();
            }),
            ("line.height", |s| higher(s, Element::Line, 700.0)),
            ("line.level", |s| {
                s[1].centre_mm = (s[1].centre_mm.mm() + 20.0).into()
            }),
            ("line.even", |s| {
                s[2].start_mm = (s[1].end_mm() + 76.2).into()
            }),
            ("line.red_alone", |s| all_of(s, Element::Line, Red)),
            ("line.face_colours", |s| s[0].runs[1].colour = Yellow),
            ("line.ends", |s| s[0].start_mm = 40.0.into()),
            ("line.obscured", |s| {
                let last = s.last_mut().unwrap();
                last.start_mm = (last.start_mm.mm() + 5.0).into();
            }),
        ],
    );
}

/// 49 CFR 571.108 S8.2, from memory: a trailer's rear with corners and an underride member.
#[test]
fn each_clause_of_the_new_rules_is_broken_alone_across_a_rear() {
    let (side, marking) = rear();
    let case = Case::of(side, RuleSet::UnitedStatesNew, marking);
    each(
        &case,
        &[
            ("line.width", |s| narrower(s, Element::Line)),
            ("line.level", |s| step_up(s)),
            ("upper_zero.corner", |s| all_of(s, Element::UpperZero, Red)),
            ("upper_far.corner", |s| {
                let gone = s
                    .iter()
                    .position(|s| s.element == Element::UpperFar && s.upright);
                let _ = s.remove(gone.unwrap());
            }),
            ("upper_zero.place", |s| {
                higher(s, Element::UpperZero, -200.0)
            }),
            ("upper_far.place", |s| higher(s, Element::UpperFar, -200.0)),
            ("underride.width", |s| {
                for s in of(s, Element::Underride) {
                    s.width_mm = 30.0.into();
                }
            }),
            ("underride.on_member", |s| {
                higher(s, Element::Underride, 80.0)
            }),
            ("underride.full_width", |s| {
                let member = of(s, Element::Underride).last().unwrap();
                let shorter = member.length_mm() - 609.6;
                member.runs = from_roll(&member.runs, 0.0, shorter);
            }),
            ("underride.colours", |s| {
                for s in of(s, Element::Underride) {
                    let long = s.length_mm();
                    s.runs = from_roll(&runs(&[(Red, 160.0), (White, 440.0)]), 0.0, long);
                }
            }),
        ],
    );
}

/// UN R48 6.21 and R104, from memory: the line along a side.
#[test]
fn each_clause_of_the_un_rules_is_broken_alone_along_a_side() {
    let yellow = Stock {
        grade: "C".into(),
        pattern: runs(&[(Yellow, 500.0)]),
        ..twelve()
    };
    let case = Case {
        vehicle: MarkedVehicle {
            line_only: true,
            ..trailer()
        },
        ..Case::of(box_side(12_000.0), RuleSet::Unece, marking_of(yellow))
    };
    each(
        &case,
        &[
            ("line.width", |s| narrower(s, Element::Line)),
            ("line.widest", |s| {
                for s in of(s, Element::Line) {
                    s.width_mm = 80.0.into();
                    s.centre_mm = (s.centre_mm.mm() + 20.0).into();
                }
            }),
            ("line.height", |s| higher(s, Element::Line, 900.0)),
            ("line.level", |s| step_up(s)),
            ("line.face_colours", |s| s[0].runs[0].colour = Red),
        ],
    );
}

/// UN R48 6.21, from memory: red across a rear keeps off stop lamps.
#[test]
fn each_clause_of_the_un_rules_is_broken_alone_across_a_rear() {
    let (side, _) = rear();
    let red = Stock {
        grade: "C".into(),
        pattern: runs(&[(Red, 500.0)]),
        ..twelve()
    };
    let case = Case {
        vehicle: MarkedVehicle {
            line_only: true,
            ..trailer()
        },
        ..Case::of(side, RuleSet::Unece, marking_of(red))
    };
    each(
        &case,
        &[
            ("line.width", |s| narrower(s, Element::Line)),
            ("line.face_colours", |s| all_of(s, Element::Line, White)),
            // Half of it, begun where it began: it ends far from the other end.
            ("line.rear_share line.ends", |s| half_of_each(s)),
        ],
    );
}

/// 49 CFR 393.26(d), from memory: voluntary marking keeps off required lamps and shows nothing red to the front.
#[test]
fn voluntary_marking_keeps_off_lamps_and_shows_no_red_to_the_front() {
    let lamp = Obstacle {
        name: "marker lamp".into(),
        back_mm: (6000.0, 6100.0),
        height_mm: (1000.0, 1100.0),
        lamp: Some(LampColour::Amber),
        function: Default::default(),
        clear_mm: 0.0,
    };
    let side = MarkSide {
        obstacles: vec![lamp],
        ..box_side(12_192.0)
    };
    let case = Case::of(side, RuleSet::Voluntary, marking_of(twelve()));
    each(
        &case,
        &[("line.lamps", |s| {
            let near = s.iter_mut().find(|s| s.end_mm() > 5000.0).unwrap();
            near.start_mm = (5990.0 - near.length_mm()).into();
            near.centre_mm = 1050.0.into();
        })],
    );
    let front = MarkSide {
        face: Face::Front,
        ..box_side(2438.4)
    };
    let white = Stock {
        pattern: runs(&[(White, 304.8)]),
        ..twelve()
    };
    let case = Case::of(front, RuleSet::Voluntary, marking_of(white));
    each(
        &case,
        &[("line.face_colours", |s| all_of(s, Element::Line, Red))],
    );
}

/// 49 CFR 571.108 S8.2.4, from memory: two strips at a tractor's rear.
#[test]
fn each_clause_of_a_tractor_is_broken_alone() {
    let case = tractor();
    each(
        &case,
        &[
            ("tractor_zero.width", |s| narrower(s, Element::TractorZero)),
            ("tractor_far.width", |s| narrower(s, Element::TractorFar)),
            ("tractor_zero.height", |s| {
                higher(s, Element::TractorZero, -400.0)
            }),
            ("tractor_far.height", |s| {
                higher(s, Element::TractorFar, -400.0)
            }),
            ("tractor_zero.edge", |s| {
                for s in of(s, Element::TractorZero) {
                    s.start_mm = (s.start_mm.mm() + 10.0).into();
                }
            }),
            ("tractor_far.length", |s| {
                for s in of(s, Element::TractorFar) {
                    let end = s.end_mm();
                    s.runs = runs(&[(Red, 250.0), (White, 250.0)]);
                    s.start_mm = (end - 500.0).into();
                }
            }),
            ("upper_zero.corner", |s| {
                s.retain(|s| s.element != Element::UpperZero);
            }),
        ],
    );
}
