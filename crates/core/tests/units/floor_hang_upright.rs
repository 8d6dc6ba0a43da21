//! `floor::hang::upright` by itself.

use windrift_core::ground::tape::{Unit, print};

use windrift_core::floor::hang::upright::*;

#[test]
fn the_lean_is_told_before_the_place_and_both_before_it_is_true() {
    let unit = Unit::InchSixteenth;
    let edge = UprightEdge {
        top: print(1000.0, unit),
        foot: print(1000.0, unit),
        at: [[0.0; 2]; 2],
    };
    let (top, foot) = (edge.top.mm, edge.foot.mm);
    assert!(judge(&edge, top, foot, unit).right);
    let leans = judge(&edge, top, foot + 3.175, unit);
    assert!(
        !leans.right
            && leans
                .sentence
                .contains("1/8 too far to the rear against the top"),
        "{}",
        leans.sentence
    );
    let along = judge(&edge, top - 6.35, foot - 6.35, unit);
    assert!(
        !along.right && along.sentence.contains("1/4 too far to the front"),
        "{}",
        along.sentence
    );
}
