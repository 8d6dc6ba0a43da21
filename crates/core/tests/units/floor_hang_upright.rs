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
        ends: ["front", "rear"].map(str::to_owned),
        wide: print(2400.0, unit),
        high: print(1200.0, unit),
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

/// What each choice does, by turning the corners of the panel as a general geometry library turns them (kurbo's affine maps).
#[test]
fn each_way_to_settle_top_and_edge_says_what_it_does_at_the_far_corners() {
    let unit = Unit::Millimetre;
    for (wide, high, lean) in [
        (2400.0, 1200.0, 6.0),
        (900.0, 1800.0, -9.0),
        (1500.0, 1500.0, 4.0),
    ] {
        let edge = UprightEdge {
            top: print(1000.0, unit),
            foot: print(1000.0, unit),
            at: [[0.0; 2]; 2],
            ends: ["front", "rear"].map(str::to_owned),
            wide: print(wide, unit),
            high: print(high, unit),
        };
        let told = judge(&edge, 1000.0, 1000.0 + lean, unit);
        assert!(!told.right && told.choices.len() == 3);
        for choice in &told.choices {
            let share = match choice.to {
                TrueTo::Top => 0.0,
                TrueTo::Edge => 1.0,
                TrueTo::Share => 0.5,
            };
            // The foot hangs at (lean, high); the panel is turned about its upper front corner until the share of it is taken out.
            let turn = kurbo::Affine::rotate((lean * share / high).asin());
            let foot = turn * kurbo::Point::new(lean, (high * high - lean * lean).sqrt());
            let far = turn * kurbo::Point::new(wide, 0.0);
            assert!(
                (choice.foot_out_by.mm - foot.x).abs() < 0.6,
                "{choice:?} {foot:?}"
            );
            assert!(
                (choice.far_corner_low_by.mm - far.y).abs() < 0.6,
                "{choice:?} {far:?}"
            );
        }
    }
    let edge = UprightEdge {
        top: print(1000.0, unit),
        foot: print(1000.0, unit),
        at: [[0.0; 2]; 2],
        ends: ["front", "rear"].map(str::to_owned),
        wide: print(1000.0, unit),
        high: print(1000.0, unit),
    };
    assert!(judge(&edge, 1000.0, 1000.0, unit).choices.is_empty());
}
